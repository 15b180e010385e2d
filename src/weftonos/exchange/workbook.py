"""Workbooks as spreadsheet programs write them (XLSX): one sheet of them as text, and what a person does in them.

The sheets that are shown stand before the hidden ones. Cells merged over rows say in each row what they say once.
Days and durations come as text that reads as such. A formula that was never worked out has no value; where it stands
is said.
"""

from __future__ import annotations

import io
import re
import zipfile
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any

from weftonos.core.kernel.errors import CraftError
from weftonos.exchange.bounds import MOST_COLUMNS, MOST_ROWS, bounded_row, check_packed, check_rows

#: Cells of the first row of a spreadsheet that are looked at, empty ones that only have a color included.
WIDEST_SHEET = 2000
#: What a workbook may unpack to, in all and for its list of texts.
LARGEST_UNPACKED, LARGEST_TEXTS = 120 * 1024 * 1024, 30 * 1024 * 1024
#: Formulas without a value that are named, and cells that merged ones are filled into at most.
_FORMULAS_NAMED, _MOST_FILLED = 20, MOST_ROWS


@dataclass(frozen=True)
class SheetName:
    """A sheet of a workbook; ``hidden`` where its program does not show it."""

    name: str
    hidden: bool


@dataclass(frozen=True, kw_only=True)
class Worksheet:
    """One sheet as text. ``filled`` counts the cells that merged ones were filled into."""

    rows: list[list[str]]
    name: str
    sheets: tuple[SheetName, ...]
    filled: int
    uncalculated: tuple[str, ...]


def read_workbook(content: bytes, name: str | None) -> Worksheet:
    """Read the sheet of a name, or the first that is shown; raises :class:`CraftError` with a sentence."""
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
                return _read(packed, book, name)
            finally:
                book.close()
    except CraftError:
        raise
    # A broken spreadsheet ends its reader in whatever way; which one says nothing to whoever chose it.
    except Exception as error:
        raise CraftError(
            "That spreadsheet can't be read. It's damaged, or it isn't a spreadsheet. Save it again as XLSX or CSV.",
            "file",
        ) from error


def _read(packed: zipfile.ZipFile, book: Any, name: str | None) -> Worksheet:
    named = {sheet.title: sheet for sheet in sorted(book.worksheets, key=lambda sheet: sheet.sheet_state != "visible")}
    if name is not None and name not in named:
        raise CraftError(f"There is no sheet called {name[:40]}.", "sheet")
    sheet = named[name] if name is not None else next(iter(named.values()))
    rows = []
    for row in sheet.iter_rows(max_col=MOST_COLUMNS + 1, max_row=MOST_ROWS + 2, values_only=True):
        # Rows that were skipped come as empty ones, all the way to the last that was used.
        rows.append(bounded_row([as_text(cell) for cell in row]) if any(cell is not None for cell in row) else [])
        check_rows(len(rows))
    written = packed.read(sheet._worksheet_path)
    filled = _fill_down(rows, written)
    while rows and not any(rows[-1]):
        rows.pop()
    last = max((n for row in rows for n, cell in enumerate(row) if cell), default=-1)
    return Worksheet(
        rows=[row[: last + 1] for row in rows],
        name=sheet.title,
        sheets=tuple(SheetName(title, one.sheet_state != "visible") for title, one in named.items()),
        filled=filled,
        uncalculated=tuple(cell.decode() for cell in _UNCALCULATED.findall(written)[:_FORMULAS_NAMED]),
    )


#: Cells merged into one, and cells with a formula and no value: what a reader that goes row by row passes over.
_MERGED = re.compile(rb'<mergeCell [^>]*?ref="([A-Z]{1,3})(\d{1,7}):[A-Z]{1,3}(\d{1,7})"')
_UNCALCULATED = re.compile(
    rb'<c r="([A-Z]{1,3}\d{1,7})"[^>]{0,80}>\s*'
    rb"<f(?:[^>]{0,200}/>|[^>]{0,200}>[^<]{0,2000}</f>)\s*(?:<v\s*/>|<v></v>)?\s*</c>"
)


def _fill_down(rows: list[list[str]], written: bytes) -> int:
    """Write what merged cells say into each row that they cover; return how many cells that were.

    Only down: a title merged over the columns above a table is no heading of each.
    """
    from openpyxl.utils import column_index_from_string

    filled = 0
    for letters, first, last in _MERGED.findall(written[written.rfind(b"</sheetData>") :]):
        column = column_index_from_string(letters.decode()) - 1
        top = int(first) - 1
        if top >= len(rows) or column >= len(rows[top]) or not (says := rows[top][column]):
            continue
        for row in rows[top + 1 : int(last)]:
            # A row with nothing in it stays one.
            if any(row) and filled < _MOST_FILLED:
                row.extend([""] * (column + 1 - len(row)))
                row[column] = says
                filled += 1
    return filled


def _check_width(packed: zipfile.ZipFile) -> None:
    """Refuse sheets whose first row has more cells than any table, before the reader looks at each of them."""
    for part in packed.infolist():
        if part.filename.startswith("xl/worksheets/"):
            with packed.open(part) as file:
                first = file.read(2**21).partition(b"<row")[2].partition(b"<row")[0]
            if first.count(b"<c ") > WIDEST_SHEET:
                raise CraftError(f"That spreadsheet has over {WIDEST_SHEET} columns.", "file")


def as_text(cell: object) -> str:
    """Return a cell's value as a person would write it; a duration in hours and minutes.

    >>> as_text(timedelta(hours=26, minutes=5)), as_text(45717.0)
    ('26:05', '45717')
    """
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, timedelta):
        minutes, seconds = divmod(round(cell.total_seconds()), 60)
        return f"{minutes // 60}:{minutes % 60:02d}" + (f":{seconds:02d}" if seconds else "")
    if isinstance(cell, datetime):
        return cell.isoformat(sep=" ", timespec="seconds").removesuffix(" 00:00:00")
    if isinstance(cell, date | time):
        return cell.isoformat()
    if isinstance(cell, float):
        return f"{cell:.12g}"
    return str(cell)
