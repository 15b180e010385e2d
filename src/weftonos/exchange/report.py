"""Pages with a head, numbers and lines: what was checked, for the telephone, or everything of one quilt."""

from __future__ import annotations

from collections.abc import Sequence

from weftonos.exchange.lettering import fitted, wrapped
from weftonos.exchange.marks import Sheet, Stroke, Text
from weftonos.exchange.strip import PAPERS, Paper

_LEFT, _ROOM = 18.0, 262.0
_SIZE, _STEP = 3.6, 5.0


def report(
    title: str,
    date: str,
    numbers: Sequence[tuple[str, str]],
    sections: Sequence[tuple[str, Sequence[str]]],
    foot: str,
) -> list[Sheet]:
    """Lay out a head and numbers, then sections of lines, over as many pages as they need."""
    width, height = PAPERS[Paper.A4]
    wide = width - 2 * _LEFT
    pages: list[list[Text]] = []
    y = _ROOM

    def room_for(step: float) -> None:
        nonlocal y
        if y + step > _ROOM:
            page = fitted(Text(x=_LEFT, y=24, text=title, size_mm=7 if not pages else 4.6, bold=True), wide)
            page += fitted(Text(x=_LEFT, y=31, text=date, size_mm=_SIZE), wide)
            pages.append(page)
            y = 43.0 if len(pages) == 1 else 41.0

    room_for(_STEP)
    for label, says in numbers:
        lines = fitted(Text(x=_LEFT + 40, y=y, text=says, size_mm=3.8, bold=True), wide - 40, tall=5)
        pages[-1] += [Text(x=_LEFT, y=y, text=label, size_mm=_SIZE), *lines]
        y = max(y, *(line.y for line in lines)) + 6
    for head, lines_of in sections:
        room_for(16)
        y += 5
        pages[-1].append(Text(x=_LEFT, y=y, text=head, size_mm=4.6, bold=True))
        y += 6
        for said in lines_of or ["nothing"]:
            for n, part in enumerate(wrapped(said, wide - 3, _SIZE)):
                room_for(_STEP)
                pages[-1].append(Text(x=_LEFT + (0 if n == 0 else 3), y=y, text=part, size_mm=_SIZE))
                y += _STEP
    sheets = []
    rule = (Stroke(x1=_LEFT, y1=35, x2=width - _LEFT, y2=35, width=0.4),)
    for number, page in enumerate(pages, 1):
        page += fitted(Text(x=_LEFT, y=276, text=foot, size_mm=3.2), wide, tall=9)
        if len(pages) > 1:
            page.append(Text(x=width - _LEFT - 20, y=290, text=f"page {number} of {len(pages)}", size_mm=3))
        sheets.append(Sheet(width=width, height=height, strokes=rule, words=tuple(page)))
    return sheets
