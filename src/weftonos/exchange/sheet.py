"""Every thread of the drawer on paper, to hang by the machine: a block a thread, finest first, in two columns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from weftonos.exchange.lettering import fitted
from weftonos.exchange.marks import Sheet, Stroke, Text
from weftonos.exchange.strip import PAPERS, Paper

_TALL, _TOP, _MARGIN = 25.0, 28.0, 12.0


@dataclass(frozen=True, kw_only=True)
class SheetRow:
    """A thread of the drawer on one line: needle, what goes below, start of the top, guide holes, handling."""

    name: str
    words: str
    color: str
    needle: str
    below: str
    start: str
    holes: str
    handling: str


def thread_sheets(head: str, rows: Sequence[SheetRow], paper: Paper) -> list[Sheet]:
    """Lay out the threads, as many to a sheet as go; at least one sheet."""
    width, height = PAPERS[paper]
    down = int((height - _TOP - _MARGIN) // _TALL)
    wide = (width - 3 * _MARGIN) / 2
    sheets = []
    for first in range(0, max(1, len(rows)), 2 * down):
        strokes: list[Stroke] = []
        words = [
            Text(x=_MARGIN, y=16, text="Threads on this machine", size_mm=6.5, bold=True),
            *fitted(Text(x=_MARGIN, y=22, text=head, size_mm=3.4), width - 2 * _MARGIN),
        ]
        for place, row in enumerate(rows[first : first + 2 * down]):
            x = _MARGIN + (place // down) * (wide + _MARGIN)
            y = _TOP + (place % down) * _TALL
            strokes.append(Stroke(x1=x, y1=y, x2=x + wide, y2=y, width=0.4))
            holes = f", {row.holes} guide hole{'s' if row.holes != '1' else ''}" if row.holes != "–" else ""
            words += [
                *fitted(Text(x=x, y=y + 5.5, text=row.name, size_mm=4.2, bold=True), wide - 32),
                *fitted(Text(x=x, y=y + 10, text=row.words, size_mm=3), wide - 32),
                *fitted(Text(x=x + wide - 30, y=y + 6.5, text=row.start, size_mm=5.2, bold=True), 30),
                *fitted(Text(x=x, y=y + 14.8, text=f"{row.needle}, below {row.below}{holes}", size_mm=3.3), wide),
                *fitted(Text(x=x, y=y + 18.4, text=row.handling, size_mm=2.7), wide, tall=5),
            ]
        sheets.append(Sheet(width=width, height=height, strokes=tuple(strokes), words=tuple(words)))
    return sheets
