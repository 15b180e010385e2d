"""Recorded pulls as CSV: our own form out, and anybody's in, with a choice of columns.

Decimal points and commas, and commas, semicolons, tabs and spaces between columns are understood.
"""

from __future__ import annotations

import codecs
import csv
import io
import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit, to_mn

LARGEST_FILE = 20 * 1024 * 1024
MOST_COLUMNS = 40
#: Rows of a file, and characters of a row, that are looked into at all.
MOST_ROWS = 250_000
LONGEST_ROW = 4000
TRACE_HEADER = ("length_mm", "tension_mn")
#: The column that a recording of the stand-in carries: nothing of it was measured.
STAND_IN = "stand_in"


class Along(StrEnum):
    """What the tension was recorded against."""

    LENGTH_MM = "length_mm"
    TIME_S = "time_s"


#: Pull speed taken for a recording against time, in mm a second, where nothing better is known.
SPEED_MM_S = 100.0


#: What the columns of a recording are commonly called.
_TIME_WORDS = {"time", "s", "sec", "secs", "seconds"}
_ALONG_WORDS = {"length", "mm", "distance", "dist", "position", "pos", *_TIME_WORDS}
_TENSION_WORDS = {"tension", "force", "pull", "mn", "cn", "gf", "g"}


@dataclass(frozen=True, kw_only=True)
class CsvTable:
    """What a file holds: column names, the first rows as text, how many rows, the likely columns, and
    what the likely first one is a column of."""

    columns: tuple[str, ...]
    sample: tuple[tuple[str, ...], ...]
    rows: int
    along: int | None
    tension: int | None
    kind: Along


@dataclass(frozen=True)
class Trace:
    """Pulled length in mm and tension in mN, sample by sample."""

    length_mm: tuple[float, ...]
    tension_mn: tuple[float, ...]


def write_trace(trace: Trace) -> str:
    """Return a trace as CSV; numbers only, so nothing a spreadsheet could run."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(TRACE_HEADER)
    writer.writerows((f"{x:.2f}", f"{y:.2f}") for x, y in zip(trace.length_mm, trace.tension_mn, strict=True))
    return out.getvalue()


def look_into(content: bytes) -> CsvTable:
    """Return what a file holds, for its owner to choose columns; raises :class:`CraftError` when it is no table."""
    names, rows = _table(content)
    words = [set(re.findall(r"[a-z]+", name.lower())) for name in names]

    def find(wanted: set[str], besides: int | None = None) -> int | None:
        return next((i for i, has in enumerate(words) if i != besides and has & wanted), None)

    along = find(_ALONG_WORDS)
    tension = find(_TENSION_WORDS, along)
    if along is None and tension is None:
        along, tension = 0, 1
    timed = along is not None and along < len(words) and bool(words[along] & _TIME_WORDS)
    return CsvTable(
        columns=names,
        sample=tuple(tuple(r) for r in rows[:5]),
        rows=len(rows),
        along=along,
        tension=tension,
        kind=Along.TIME_S if timed else Along.LENGTH_MM,
    )


def read_columns(content: bytes, along: int, tension: int, kind: Along, unit: ForceUnit) -> Trace:
    """Return the trace in two columns of a file.

    ``kind`` says whether the first is pulled length in mm or time in seconds; time is taken as an even pull.
    Raises :class:`CraftError` for a column that is not there or holds something else than numbers.
    """
    names, rows = _table(content)
    for column, field in ((along, "along"), (tension, "tension")):
        if not 0 <= column < len(names):
            raise CraftError(f"The file has {len(names)} columns. There is no column {column + 1}.", field)
    if along == tension:
        raise CraftError("Length (or time) and tension are two different columns.", "tension")
    points = [(_number(r, along, n), _number(r, tension, n)) for n, r in enumerate(rows, start=1)]
    start = points[0][0]
    factor = SPEED_MM_S if kind is Along.TIME_S else 1.0
    return Trace(
        tuple((x - start) * factor for x, _ in points),
        tuple(to_mn(y, unit) for _, y in points),
    )


def _table(content: bytes) -> tuple[tuple[str, ...], list[list[str]]]:
    if len(content) > LARGEST_FILE:
        raise CraftError("That file is over 20 MB. A recorded pull is a few kB.", "file")
    if not content.strip():
        raise CraftError("That file is empty.", "file")
    if content.count(b"\n") + content.count(b"\r") > 2 * MOST_ROWS:
        raise CraftError(f"That file has more than {MOST_ROWS} rows. Cut out the pulls that matter.", "file")
    text = _text(content)
    lines = [line for line in text.splitlines() if line.strip() and not line.lstrip().startswith("#")]
    if not lines:
        raise CraftError("That file is empty.", "file")
    if len(lines) > MOST_ROWS:
        raise CraftError(f"That file has more than {MOST_ROWS} rows. Cut out the pulls that matter.", "file")
    if max(map(len, lines)) > LONGEST_ROW:
        raise CraftError("No columns of numbers were found: its rows are too long for a table of two.", "file")
    separator = _separator(lines)
    try:
        rows = [_cells(line, separator) for line in lines]
    except csv.Error:
        raise CraftError("That file is not a table of numbers.", "file") from None
    width = max(len(r) for r in rows[:50])
    if width < 2 or width > MOST_COLUMNS:
        raise CraftError("No columns of numbers were found. Wanted: length or time, and tension.", "file")
    named = not any(_is_number(cell) for cell in rows[0])
    names = tuple(c.strip()[:40] or f"column {i + 1}" for i, c in enumerate(rows[0])) if named else ()
    body = rows[1:] if named else rows
    if not body or not any(sum(_is_number(c) for c in r) >= 2 for r in body[:50]):
        raise CraftError("That file holds no numbers. Wanted: length or time, and tension.", "file")
    names = names or tuple(f"column {i + 1}" for i in range(width))
    return names, body


def _text(content: bytes) -> str:
    """Return a file's text: UTF-8, what spreadsheets call Unicode text (UTF-16 with its mark), else Latin-1."""
    if content.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return content.decode("utf-16", "replace")
    if b"\x00" in content[:4096]:
        raise CraftError("That file is a picture or a program, not a table of numbers.", "file")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("latin-1")


def _separator(lines: Sequence[str]) -> str:
    sample = lines[: min(20, len(lines))]
    for candidate in (";", "\t"):
        if all(candidate in line for line in sample[-5:]):
            return candidate
    cells = [line.split() for line in sample[-5:]]
    if all(len(row) > 1 and all(_PLAIN_NUMBER.fullmatch(cell) for cell in row) for row in cells):
        # Numbers with blanks between; a comma among them is a decimal mark.
        return " "
    if all("," in line for line in sample[-5:]):
        return ","
    return " "


def _cells(line: str, separator: str) -> list[str]:
    if separator == " ":
        return line.split()
    return next(csv.reader([line], delimiter=separator))


_PLAIN_NUMBER = re.compile(r"[+-]?\d+([.,]\d+)?")
_NUMBER = re.compile(r"\s*[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?\s*")


def _is_number(cell: str) -> bool:
    return _NUMBER.fullmatch(cell) is not None


def _number(row: Sequence[str], column: int, line: int) -> float:
    cell = row[column] if column < len(row) else ""
    value = float(cell.strip().replace(",", ".")) if _is_number(cell) else math.nan
    if not math.isfinite(value):
        raise CraftError(f"Row {line} holds “{cell.strip()[:30]}”, which is not a number.", "file")
    return value
