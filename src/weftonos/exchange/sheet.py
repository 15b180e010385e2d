"""Every thread of the drawer on paper, to hang by the machine: a block a thread, finest first, in two columns.

The blocks are spread evenly over as few sheets as they need: no sheet holds the last two alone.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from weftonos.exchange.lettering import fitted
from weftonos.exchange.marks import Sheet, Stroke, Text
from weftonos.exchange.strip import PAPERS, Paper

_TALL, _CLOSEST, _TOP, _MARGIN, _BESIDE = 25.0, 22.5, 28.0, 12.0, 36.0
#: What a start rests on.
FROM_RECORDS, USUAL = "from your records", "a usual start, not tried here"


@dataclass(frozen=True, kw_only=True)
class SheetRow:
    """A thread of the drawer: needle, what goes below, where the top starts and by what, guide holes, handling."""

    name: str
    words: str
    color: str
    needle: str
    below: str
    start: str
    start_from: str
    holes: str
    handling: str


def thread_sheets(head: str, rows: Sequence[SheetRow], paper: Paper) -> list[Sheet]:
    """Lay out the threads, as many to a sheet as go; at least one sheet."""
    width, height = PAPERS[paper]
    room = height - _TOP - _MARGIN
    count = max(1, ceil(len(rows) / (2 * int(room // _CLOSEST))))
    down = max(1, ceil(len(rows) / (2 * count)))
    tall = min(_TALL, room / down)
    wide = (width - 3 * _MARGIN) / 2
    sheets = []
    for number in range(count):
        strokes: list[Stroke] = []
        words = [
            Text(x=_MARGIN, y=16, text="Threads on this machine", size_mm=6.5, bold=True),
            *fitted(Text(x=_MARGIN, y=22, text=head, size_mm=3.4), width - 2 * _MARGIN),
        ]
        if count > 1:
            words.append(Text(x=width - _MARGIN - 20, y=height - 5, text=f"page {number + 1} of {count}", size_mm=3))
        for place, row in enumerate(rows[number * 2 * down : (number + 1) * 2 * down]):
            x = _MARGIN + (place // down) * (wide + _MARGIN)
            y = _TOP + (place % down) * tall
            strokes.append(Stroke(x1=x, y1=y, x2=x + wide, y2=y, width=0.4))
            words += _block(row, x, y, wide)
        sheets.append(Sheet(width=width, height=height, strokes=tuple(strokes), words=tuple(words)))
    return sheets


def _block(row: SheetRow, x: float, y: float, wide: float) -> list[Text]:
    """Set a thread: its name at the left, where the top starts at the right, and what it wants below."""
    beside = x + wide - _BESIDE
    goes = [f"Needle: {row.needle}", f"Bobbin: {row.below}"] if row.start != "–" else [row.needle]
    holes = [f"Guide holes: {row.holes}"] if row.holes != "–" else []
    words = [
        *fitted(Text(x=x, y=y + 5.5, text=row.name, size_mm=4.2, bold=True), wide - _BESIDE - 2),
        *fitted(Text(x=x, y=y + 10, text=row.words, size_mm=3), wide - _BESIDE - 2),
        *fitted(Text(x=x, y=y + 14.6, text=" · ".join([*goes, *holes]), size_mm=3.3), wide),
        *fitted(Text(x=x, y=y + 18.2, text=row.handling, size_mm=2.7), wide, tall=3.4),
    ]
    if row.start != "–":
        words += fitted(Text(x=beside, y=y + 5.5, text=f"Start at {row.start}", size_mm=4.4, bold=True), _BESIDE)
        words += fitted(Text(x=beside, y=y + 10, text=row.start_from, size_mm=2.7), _BESIDE)
    return words
