"""Tables out and in: CSV as spreadsheets read it, and CSV, TSV or XLSX as people write them.

On the way out a cell that a spreadsheet would run begins with an apostrophe, which is taken off again on the way in.
On the way in separator, encoding, decimal comma, the order of day and month, and a head are recognized; everything is
bounded before it is read.
"""

from __future__ import annotations

import codecs
import csv
import io
import re
import zipfile
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import IO, Any

from weftonos.core.kernel.errors import CraftError

#: What a table may hold: bytes, rows, columns, letters of a cell.
LARGEST_TABLE = 40 * 1024 * 1024
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 100_000, 100, 2000
#: Cells of the first row of a spreadsheet that are looked at, empty ones that only have a color included.
WIDEST_SHEET = 2000
#: What an XLSX may unpack to, in all and for its list of texts; how many parts it has; how hard it is packed.
LARGEST_UNPACKED, LARGEST_TEXTS, MOST_PARTS, HARDEST_PACKED = 120 * 1024 * 1024, 30 * 1024 * 1024, 500, 200
#: Cells by which separator, decimal mark and head are told.
_LOOKED_AT = 60
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


@dataclass(frozen=True, kw_only=True)
class Table:
    """A table as it was read: the names of its columns, its rows as text, and what was recognized.

    ``headed`` says whether the first row was a head; else the columns are called A, B, C.
    """

    columns: tuple[str, ...]
    rows: Sequence[Sequence[str]]
    headed: bool
    separator: str
    encoding: str
    decimal_comma: bool
    day_first: bool | None


def read_sheet(content: bytes) -> Table:
    """Read a table from a CSV, TSV, XLSX or pasted text; raises :class:`CraftError` with a sentence for anything else.

    ``day_first`` is ``None`` where no date says whether the day or the month comes first.
    """
    if len(content) > LARGEST_TABLE:
        raise CraftError(f"That file is over {LARGEST_TABLE // 2**20} MB. Split it into several.", "file")
    if content.startswith(b"PK"):
        rows, separator, encoding = _from_xlsx(content), "", "xlsx"
    else:
        text, encoding = _decoded(content)
        separator = _separator(text)
        rows = _from_text(text, separator)
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if not rows:
        raise CraftError("That file has no rows.", "file")
    wide = max(len(row) for row in rows)
    rows = [[unguarded(cell.strip()) for cell in row] + [""] * (wide - len(row)) for row in rows]
    headed = len(rows) > 1 and not any(_looks_like_a_value(cell) for cell in rows[0])
    names = tuple(
        (rows[0][n] if headed and rows[0][n] else f"Column {chr(65 + n % 26)}{n // 26 or ''}") for n in range(wide)
    )
    body = rows[1:] if headed else rows
    return Table(
        columns=names,
        rows=body,
        headed=headed,
        separator=separator,
        encoding=encoding,
        decimal_comma=_decimal_comma(body, separator),
        day_first=_day_first(body),
    )


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
                raise CraftError("That file begins as a text and does not go on as one.", "file") from error
    if b"\x00" in content[:100_000]:
        raise CraftError("That file is no table: it holds bytes that are no text.", "file")
    try:
        return content.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        # What Windows programs of Western Europe write; every byte means something in it.
        text = content.decode("cp1252", "replace")
        if text.count("\ufffd") + sum(letter < " " and letter not in "\t\r\n" for letter in text[:100_000]) > 5:
            raise CraftError("That file is no table: it holds bytes that are no text.", "file") from None
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
            rows.append(_bounded(row))
            if len(rows) > MOST_ROWS + 1:
                raise CraftError(f"That table has over {MOST_ROWS} rows. Split it into several.", "file")
    except csv.Error as error:
        raise CraftError(f"That file is no table: {error}.", "file") from error
    return rows


def _bounded(row: Sequence[str]) -> list[str]:
    if any(row[MOST_COLUMNS:]):
        raise CraftError(f"That table has {len(row)} columns; {MOST_COLUMNS} at most can be read.", "file")
    if any(len(cell) > LONGEST_CELL for cell in row):
        raise CraftError(f"A cell of that table has over {LONGEST_CELL} letters.", "file")
    return list(row[:MOST_COLUMNS])


def check_packed(packed: zipfile.ZipFile, most: int, parts: int = MOST_PARTS) -> None:
    """Refuse a packed file that would unpack to too much, before anything of it is read.

    Raises :class:`CraftError`; names that lead out of it are refused as well, though none is ever followed.
    """
    found = packed.infolist()
    if len(found) > parts:
        raise CraftError(f"That file has {len(found)} parts; {parts} at most can be read.", "file")
    for part in found:
        steps = part.filename.replace("\\", "/").split("/")
        if ".." in steps or part.filename.startswith(("/", "\\")) or ":" in steps[0]:
            raise CraftError("That file has parts that lead out of it. Nothing of it was read.", "file")
        if part.flag_bits & 1:
            raise CraftError("That file is locked with a password.", "file")
        if part.file_size > 2**20 and part.file_size > HARDEST_PACKED * max(1, part.compress_size):
            raise CraftError("That file is packed harder than any table is. Nothing of it was read.", "file")
    if (unpacked := sum(part.file_size for part in found)) > most:
        raise CraftError(f"That file unpacks to {unpacked / 2**20:.0f} MB; {most // 2**20} at most.", "file")


def _from_xlsx(content: bytes) -> list[list[str]]:
    # Loaded when somebody brings one.
    from openpyxl import load_workbook

    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            check_packed(packed, LARGEST_UNPACKED)
            if any("sharedStrings" in p.filename and p.file_size > LARGEST_TEXTS for p in packed.infolist()):
                raise CraftError("That spreadsheet holds more text than can be read here.", "file")
            _check_width(packed)
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True, keep_links=False)
        try:
            sheet = book.worksheets[0]
            rows = []
            for row in sheet.iter_rows(max_col=MOST_COLUMNS + 1, max_row=MOST_ROWS + 2, values_only=True):
                # Rows that were skipped come as empty ones, all the way to the last that was used.
                rows.append(_bounded([_as_text(cell) for cell in row]) if any(row) else [])
                if len(rows) > MOST_ROWS + 1:
                    raise CraftError(f"That table has over {MOST_ROWS} rows. Split it into several.", "file")
        finally:
            book.close()
    except CraftError:
        raise
    # A broken spreadsheet ends its reader in whatever way; which one says nothing to whoever chose it.
    except Exception as error:
        raise CraftError(
            ("That spreadsheet can't be read. It's damaged, or it isn't a spreadsheet. Save it again as XLSX or CSV."),
            "file",
        ) from error
    while rows and not any(rows[-1]):
        rows.pop()
    last = max((n for row in rows for n, cell in enumerate(row) if cell), default=-1)
    return [row[: last + 1] for row in rows]


def _check_width(packed: zipfile.ZipFile) -> None:
    """Refuse sheets whose first row has more cells than any table, before the reader looks at each of them."""
    for part in packed.infolist():
        if part.filename.startswith("xl/worksheets/"):
            with packed.open(part) as file:
                first = file.read(2**21).partition(b"<row")[2].partition(b"<row")[0]
            if first.count(b"<c ") > WIDEST_SHEET:
                raise CraftError(f"That spreadsheet has over {WIDEST_SHEET} columns.", "file")


def _as_text(cell: object) -> str:
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, datetime):
        return cell.isoformat(sep=" ", timespec="seconds").removesuffix(" 00:00:00")
    if isinstance(cell, date | time):
        return cell.isoformat()
    if isinstance(cell, float):
        return f"{cell:.12g}"
    return str(cell)


_VALUE = re.compile(r"[+-]?[\d.,\s]*\d[\d.,\s]*(\s*(mn|cn|gf|g|m|mm|yd|in|%))?|\d{1,4}[-./]\d{1,2}[-./]\d{1,4}.*")


def _looks_like_a_value(cell: str) -> bool:
    return bool(_VALUE.fullmatch(cell.strip().lower()))


def _cells(rows: Sequence[Sequence[str]]) -> Iterator[str]:
    for row in rows[: _LOOKED_AT * 20]:
        yield from row


def _decimal_comma(rows: Sequence[Sequence[str]], separator: str) -> bool:
    """Say whether numbers are written with a comma: by those that can be read in one way only."""
    comma = point = 0
    for cell in _cells(rows):
        comma += bool(re.fullmatch(r"[+-]?\d*,(\d{1,2}|\d{4,})|[+-]?\d{1,3}(\.\d{3})+,\d+|0,\d+", cell))
        point += bool(re.fullmatch(r"[+-]?\d*\.(\d{1,2}|\d{4,})|[+-]?\d{1,3}(,\d{3})+\.\d+|0\.\d+", cell))
    return comma > point or (comma == point == 0 and separator == ";")


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


_CLOCK = re.compile(r"(\d{1,2})[:.h](\d{2})(?:[:.](\d{2}))?(?:\.\d+)?\s*([ap])?\.?m?\.?", re.IGNORECASE)


def moment_in(cell: str, *, day_first: bool) -> datetime | None:
    """Return the day and time that a cell holds, with its zone where one is written; ``None`` for none.

    Noon stands for a day without a time.

    >>> moment_in("3.5.2026 14:30", day_first=True)
    datetime.datetime(2026, 5, 3, 14, 30)
    """
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
    hour, minute = 12, 0
    if rest:
        clock = _CLOCK.fullmatch(rest)
        if not clock:
            return None
        hour, minute = int(clock[1]), int(clock[2])
        if clock[4]:
            hour = hour % 12 + (12 if clock[4].lower() == "p" else 0)
    try:
        return datetime(year + (2000 if year < 100 else 0), month, day, hour, minute)
    except ValueError:
        return None
