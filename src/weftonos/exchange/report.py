"""A page with a head, numbers and lines: what was checked, for the telephone, or everything of one quilt."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence

from weftonos.exchange.strip import PAPERS, Paper, Sheet, Stroke, Text

#: Letters in a line of the small type, and lines that fit under the head.
_LINE, _ROOM = 92, 255


def report(
    title: str,
    date: str,
    numbers: Sequence[tuple[str, str]],
    sections: Sequence[tuple[str, Sequence[str]]],
    foot: str,
) -> Sheet:
    """Lay out a page: a head, numbers, then sections of lines; what is too much for one page is left out."""
    width, height = PAPERS[Paper.A4]
    left, y = 18.0, 24.0
    words = [
        Text(x=left, y=y, text=title[:48], size_mm=7, bold=True),
        Text(x=left, y=y + 7, text=date, size_mm=3.6),
    ]
    strokes = [Stroke(x1=left, y1=y + 11, x2=width - left, y2=y + 11, width=0.4)]
    y += 19
    for label, says in numbers:
        words += [
            Text(x=left, y=y, text=label, size_mm=3.6),
            Text(x=left + 40, y=y, text=says[:70], size_mm=3.8, bold=True),
        ]
        y += 6
    for head, lines in sections:
        y += 5
        words.append(Text(x=left, y=y, text=head, size_mm=4.6, bold=True))
        y += 6
        for line in lines or ["nothing"]:
            for n, part in enumerate(textwrap.wrap(line, _LINE) or [""]):
                if y > _ROOM:
                    break
                words.append(Text(x=left + (0 if n == 0 else 3), y=y, text=part, size_mm=3.6))
                y += 5
    words += [Text(x=left, y=276 + 5 * n, text=part, size_mm=3.2) for n, part in enumerate(textwrap.wrap(foot, 105))]
    return Sheet(width=width, height=height, strokes=tuple(strokes), words=tuple(words))
