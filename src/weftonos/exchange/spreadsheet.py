"""Tables out and in: CSV as spreadsheets read it, and CSV, TSV or XLSX as people write them.

On the way out a cell that a spreadsheet would run begins with an apostrophe, which is taken off again on the way in.
On the way in separator, encoding, decimal comma, the order of day and month, and the row of headings are recognized;
everything is bounded before it is read. Workbooks: :mod:`weftonos.exchange.workbook`.
"""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from statistics import median
from typing import IO, Any

from weftonos.core.kernel.errors import CraftError
from weftonos.exchange.bounds import LARGEST_TABLE, LONGEST_CELL, bounded_row, check_rows
from weftonos.exchange.workbook import SheetName, Worksheet, read_workbook

#: Rows by which separator, decimal mark and head are told; rows within which a head is looked for.
_LOOKED_AT, _HEAD_WITHIN = 60, 20
#: Letters of such a row that are shown.
_TOP_LETTERS = 80
_RUNS = ("=", "+", "-", "@", "\t", "\r", "'")
_NUMBER = re.compile(r"[+-]?\d+(\.\d+)?([eE][+-]?\d+)?")


def guarded(value: Any) -> str:
    """Return a cell that no spreadsheet runs: a number as it is, a text that begins like a formula with an apostrophe.

    >>> guarded("=1+1"), guarded(-2.5), guarded("-2.5")
    ("'=1+1", '-2.5', '-2.5')
    """
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return repr(value)
    cell = str(value)
    return f"'{cell}" if cell.startswith(_RUNS) and not _NUMBER.fullmatch(cell) else cell


def unguarded(cell: str) -> str:
    """Return what a cell said before it was guarded.

    >>> unguarded("'=1+1"), unguarded("'tis")
    ('=1+1', "'tis")
    """
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_RUNS) else cell


def write_rows(out: IO[str], rows: Iterable[Sequence[Any]]) -> int:
    """Write rows as CSV (RFC 4180) and return how many."""
    writer, count = csv.writer(out, lineterminator="\r\n"), 0
    for row in rows:
        writer.writerow([guarded(cell) for cell in row])
        count += 1
    return count


#: Spreadsheets take a file for UTF-8 only with this mark.
MARK = codecs.BOM_UTF8


@dataclass(frozen=True)
class TopRow:
    """A row at the top of a file: its number there, and what its cells say."""

    number: int
    text: str


@dataclass(frozen=True, kw_only=True)
class Table:
    """A table as it was read: the names of its columns, its rows as text, and what was recognized.

    ``head`` is the row of the headings as the file counts them, 0 for none: the columns are called A, B, C then.
    ``top`` are the first rows of the file, one of which that is. ``numbers`` are the rows' numbers in the file.
    ``both_marks`` says that some numbers have a decimal point and some a comma. ``sheet`` is the workbook's sheet that
    was read, where it is one.
    """

    columns: tuple[str, ...]
    rows: Sequence[Sequence[str]]
    numbers: Sequence[int]
    head: int
    top: tuple[TopRow, ...]
    separator: str
    encoding: str
    decimal_comma: bool
    both_marks: bool
    day_first: bool | None
    sheet: Worksheet | None = None

    @property
    def headed(self) -> bool:
        """Whether its columns have headings."""
        return self.head > 0

    @property
    def sheets(self) -> tuple[SheetName, ...]:
        """The sheets that can be chosen."""
        return self.sheet.sheets if self.sheet else ()


def read_sheet(content: bytes, sheet: str | None = None, head: int | None = None) -> Table:
    """Read a table from a CSV, TSV, XLSX or pasted text; raises :class:`CraftError` with a sentence for anything else.

    ``sheet`` is the name of a workbook's sheet, ``head`` the row of the headings, 0 for none; both are found where
    none is given. ``day_first`` is ``None`` where no date says whether the day or the month comes first.
    """
    if len(content) > LARGEST_TABLE:
        raise CraftError(f"That file is over {LARGEST_TABLE // 2**20} MB. Split it into several.", "file")
    worksheet = None
    if content.startswith(b"PK"):
        worksheet, separator, encoding = read_workbook(content, sheet), "", "xlsx"
        found = worksheet.rows
    else:
        text, encoding = _decoded(content)
        separator = _separator(text)
        found = _from_text(text, separator)
    numbered = [(n, row) for n, row in enumerate(found, 1) if any(cell.strip() for cell in row)]
    if not numbered:
        raise CraftError("That sheet is empty." if worksheet else "That file has no rows.", "file")
    wide = max(n for _, row in numbered for n, cell in enumerate(row, 1) if cell.strip())
    numbers = [number for number, _ in numbered]
    rows = [[unguarded(cell.strip()) for cell in row[:wide]] + [""] * (wide - len(row)) for _, row in numbered]
    if head and head not in numbers:
        raise CraftError(f"There is no row {head} that could hold the headings.", "head")
    first, headed = _head(rows) if head is None else (numbers.index(head) if head else 0, bool(head))
    names = tuple(
        (rows[first][n] if headed and rows[first][n] else f"Column {chr(65 + n % 26)}{n // 26 or ''}")
        for n in range(wide)
    )
    start = first + headed
    body = rows[start:]
    if not body:
        raise CraftError("There is no row below those headings.", "head")
    comma, point = _decimal_marks(body)
    return Table(
        columns=names,
        rows=body,
        numbers=numbers[start:],
        head=numbers[first] if headed else 0,
        top=tuple(
            TopRow(number, " · ".join(filter(None, row))[:_TOP_LETTERS])
            for number, row in zip(numbers[:_HEAD_WITHIN], rows, strict=False)
        ),
        separator=separator,
        encoding=encoding,
        decimal_comma=comma > point or (comma == point == 0 and separator == ";"),
        both_marks=bool(comma and point),
        day_first=_day_first(body),
        sheet=worksheet,
    )


def _head(rows: Sequence[Sequence[str]]) -> tuple[int, bool]:
    """Return where a table begins, and whether it begins with headings.

    Titles and notes above a table fill fewer cells than half of what its rows usually do.
    """
    filled = [sum(bool(cell) for cell in row) for row in rows[:_LOOKED_AT]]
    usual = median(filled)
    wide = [n for n, cells in enumerate(filled[:_HEAD_WITHIN]) if cells >= max(min(2, usual), usual / 2)]
    for n in wide:
        # Headings hold no value, and nothing above them fills as many cells.
        named = not any(_looks_like_a_value(cell) for cell in rows[n])
        if named and n + 1 < len(rows) and all(above < filled[n] for above in filled[:n]):
            return n, True
    return (wide or [0])[0], False


def _decoded(content: bytes) -> tuple[str, str]:
    for mark, encoding in (
        (codecs.BOM_UTF8, "utf-8"),
        (codecs.BOM_UTF16_LE, "utf-16"),
        (codecs.BOM_UTF16_BE, "utf-16"),
    ):
        if content.startswith(mark):
            try:
                return content.decode("utf-8-sig" if encoding == "utf-8" else encoding), encoding
            except UnicodeDecodeError as error:
                raise CraftError("That file starts as text and then turns into something else.", "file") from error
    if b"\x00" in content[:100_000]:
        raise CraftError("That file isn't a table: it holds bytes that aren't text.", "file")
    try:
        return content.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        # What Windows programs of Western Europe write; every byte means something in it.
        text = content.decode("cp1252", "replace")
        if text.count("\ufffd") + sum(letter < " " and letter not in "\t\r\n" for letter in text[:100_000]) > 5:
            raise CraftError("That file isn't a table: it holds bytes that aren't text.", "file") from None
        return text, "windows-1252"


def _separator(text: str) -> str:
    """Return what stands between the cells: what the lines have most evenly."""
    lines = [line for line in text[:200_000].splitlines()[:_LOOKED_AT] if line.strip()]
    best, most = ",", 0.0
    for separator in ("\t", ";", ",", "|"):
        try:
            counts = Counter(len(row) for row in csv.reader(lines, delimiter=separator) if row)
        except csv.Error:
            continue
        columns, times = max(counts.items(), key=lambda item: (item[1] * (item[0] > 1), item[0]), default=(1, 0))
        even = times / max(1, len(lines)) if columns > 1 else 0.0
        if even > most:
            best, most = separator, even
    return best


def _from_text(text: str, separator: str) -> list[list[str]]:
    rows = []
    csv.field_size_limit(LONGEST_CELL * 2)
    try:
        for row in csv.reader(io.StringIO(text), delimiter=separator):
            rows.append(bounded_row(row))
            check_rows(len(rows))
    except csv.Error as error:
        raise CraftError(f"That file isn't a table: {error}.", "file") from error
    return rows


_VALUE = re.compile(r"[+-]?[\d.,\s]*\d[\d.,\s]*(\s*(mn|cn|gf|g|m|mm|yd|in|%))?|\d{1,4}[-./]\d{1,2}[-./]\d{1,4}.*")


def _looks_like_a_value(cell: str) -> bool:
    return bool(_VALUE.fullmatch(cell.strip().lower()))


def _cells(rows: Sequence[Sequence[str]]) -> Iterator[str]:
    for row in rows[: _LOOKED_AT * 20]:
        yield from row


#: What may stand behind a number: its unit.
_UNIT_BEHIND = re.compile(r"\s*[A-Za-z%]+\.?$")


def _decimal_marks(rows: Sequence[Sequence[str]]) -> tuple[int, int]:
    """Return how many numbers are written with a decimal comma and with a point, of those that can only be that."""
    comma = point = 0
    for cell in _cells(rows):
        number = _UNIT_BEHIND.sub("", cell)
        comma += bool(re.fullmatch(r"[+-]?\d*,(\d{1,2}|\d{4,})|[+-]?\d{1,3}(\.\d{3})+,\d+|0,\d+", number))
        point += bool(re.fullmatch(r"[+-]?\d*\.(\d{1,2}|\d{4,})|[+-]?\d{1,3}(,\d{3})+\.\d+|0\.\d+", number))
    return comma, point


_DAY = re.compile(r"(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})\b.*")


def _day_first(rows: Sequence[Sequence[str]]) -> bool | None:
    """Say whether dates have the day before the month, by one that says so; points always mean the day first."""
    for cell in _cells(rows):
        found = _DAY.match(cell)
        if not found:
            continue
        if found[2] == "." or int(found[1]) > 12:
            return True
        if int(found[3]) > 12:
            return False
    return None


def number_in(cell: str, *, decimal_comma: bool) -> float | None:
    """Return the number that a cell holds; ``None`` for none. A mark between thousands is passed over.

    >>> number_in("1.204,5", decimal_comma=True), number_in("1,204.5", decimal_comma=False)
    (1204.5, 1204.5)
    """
    plain = re.sub(r"[\s\u00a0\u202f']", "", cell).replace("−", "-")
    thousands, mark = (".", ",") if decimal_comma else (",", ".")
    if thousands in plain and not re.fullmatch(rf"[+-]?\d{{1,3}}(\{thousands}\d{{3}})+(\{mark}\d+)?", plain):
        # A single mark of the other sort is a decimal mark after all: 12,5 among points.
        if plain.count(thousands) > 1 or mark in plain:
            return None
        plain, thousands = plain.replace(thousands, "."), ""
    plain = plain.replace(thousands, "") if thousands else plain
    plain = plain.replace(mark, ".")
    return float(plain) if re.fullmatch(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,3})?", plain) else None


#: The days of this century as spreadsheets count them (from the last but one day of 1899), with a part of a day.
_SERIAL, FIRST_SERIAL_DAY = re.compile(r"(3[6-9]|[4-6]\d)\d{3}(\.\d+)?"), datetime(1899, 12, 30)
_CLOCK = re.compile(r"(\d{1,2})[:.h](\d{2})(?:[:.](\d{2}))?(?:\.\d+)?\s*([ap])?\.?m?\.?", re.IGNORECASE)


def moment_in(cell: str, *, day_first: bool) -> datetime | None:
    """Return the day and time that a cell holds, with its zone where one is written; ``None`` for none.

    Noon stands for a day without a time. A number is the day as spreadsheets count them.

    >>> moment_in("45717", day_first=True)
    datetime.datetime(2025, 3, 1, 12, 0)
    >>> moment_in("3.5.2026 14:30", day_first=True)
    datetime.datetime(2026, 5, 3, 14, 30)
    """
    if _SERIAL.fullmatch(cell.strip()):
        return FIRST_SERIAL_DAY + timedelta(minutes=round(float(cell) * 24 * 60) or 0, hours=12 * ("." not in cell))
    # An hour of one figure, as a hand or a spreadsheet writes it: 2026-05-03 9:30.
    cell = re.sub(r"^(\d{4}-\d{2}-\d{2})[ T](\d):", r"\1T0\2:", cell.strip())
    try:
        found = datetime.fromisoformat(cell)
    except ValueError:
        found = None
    if found is not None:
        return found.replace(hour=12) if re.fullmatch(r"\d{4}-?\d{2}-?\d{2}", cell) else found
    parts = _DAY.match(cell)
    if not parts:
        return None
    first, second, year = int(parts[1]), int(parts[3]), int(parts[4])
    day, month = (first, second) if day_first or parts[2] == "." else (second, first)
    rest = cell[parts.end(4) :].strip(" ,T")
    if (clock := time_in(rest) if rest else time(12)) is None:
        return None
    try:
        return datetime.combine(datetime(year + (2000 if year < 100 else 0), month, day), clock)
    except ValueError:
        return None


def time_in(cell: str) -> time | None:
    """Return the time of day that a cell holds; ``None`` for none.

    >>> time_in("2:30 pm")
    datetime.time(14, 30)
    """
    clock = _CLOCK.fullmatch(cell.strip())
    if not clock:
        return None
    hour = int(clock[1])
    if clock[4]:
        hour = hour % 12 + (12 if clock[4].lower() == "p" else 0)
    return time(hour, int(clock[2])) if hour < 24 and int(clock[2]) < 60 else None
