"""What a file that is given may hold: looked at before it is read, so that none can fill the machine."""

from __future__ import annotations

import zipfile
from collections.abc import Sequence

from weftonos.core.kernel.errors import CraftError

#: What a table may hold: bytes, rows, columns, letters of a cell.
LARGEST_TABLE = 40 * 1024 * 1024
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 100_000, 100, 2000
#: How many parts a packed file may have, and how hard it may be packed.
MOST_PARTS, HARDEST_PACKED = 500, 200


def bounded_row(row: Sequence[str]) -> list[str]:
    """Return a row; raises :class:`CraftError` for one with too many cells or too long a cell."""
    if any(row[MOST_COLUMNS:]):
        raise CraftError(f"That table has {len(row)} columns. At most {MOST_COLUMNS} can be read.", "file")
    if any(len(cell) > LONGEST_CELL for cell in row):
        raise CraftError(f"A cell of that table has over {LONGEST_CELL} letters.", "file")
    return list(row[:MOST_COLUMNS])


def check_rows(count: int) -> None:
    """Refuse a table with more rows than can be read; its head is not counted."""
    if count > MOST_ROWS + 1:
        raise CraftError(f"That table has over {MOST_ROWS} rows. Split it into several.", "file")


def check_packed(packed: zipfile.ZipFile, most: int, parts: int = MOST_PARTS) -> None:
    """Refuse a packed file that would unpack to too much, before anything of it is read.

    Raises :class:`CraftError`; names that lead out of it are refused as well, though none is ever followed.
    """
    found = packed.infolist()
    if len(found) > parts:
        raise CraftError(f"That file has {len(found)} parts. At most {parts} can be read.", "file")
    for part in found:
        steps = part.filename.replace("\\", "/").split("/")
        if ".." in steps or part.filename.startswith(("/", "\\")) or ":" in steps[0]:
            raise CraftError("That file has parts that point outside it. Nothing was read.", "file")
        if part.flag_bits & 1:
            raise CraftError("That file is locked with a password.", "file")
        if part.file_size > 2**20 and part.file_size > HARDEST_PACKED * max(1, part.compress_size):
            raise CraftError("That file is packed tighter than any table. Nothing was read.", "file")
    if (unpacked := sum(part.file_size for part in found)) > most:
        raise CraftError(
            f"That file unpacks to {unpacked / 2**20:.0f} MB. At most {most // 2**20} MB can be read.", "file"
        )
