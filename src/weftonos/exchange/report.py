"""What was checked, with the numbers, on one sheet for the telephone."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence

from weftonos.exchange.strip import PAPERS, Paper, Sheet, Stroke, Words

#: Letters in a line of the small type, and lines that fit under the head.
_LINE, _ROOM = 92, 255


def technician_report(
    title: str,
    date: str,
    numbers: Sequence[tuple[str, str]],
    sections: Sequence[tuple[str, Sequence[str]]],
    foot: str,
) -> Sheet:
    """Lay out the report: the numbers a technician asks for, then what was seen, checked and could not be told."""
    width, height = PAPERS[Paper.A4]
    left, y = 18.0, 24.0
    words = [Words(left, y, title[:48], 7, bold=True), Words(left, y + 7, date, 3.6)]
    strokes = [Stroke(left, y + 11, width - left, y + 11, 0.4)]
    y += 19
    for label, says in numbers:
        words += [Words(left, y, label, 3.6), Words(left + 40, y, says[:70], 3.8, bold=True)]
        y += 6
    for head, lines in sections:
        y += 5
        words.append(Words(left, y, head, 4.6, bold=True))
        y += 6
        for line in lines or ["nothing"]:
            for n, part in enumerate(textwrap.wrap(line, _LINE) or [""]):
                if y > _ROOM:
                    break
                words.append(Words(left + (0 if n == 0 else 3), y, part, 3.6))
                y += 5
    words += [Words(left, 276 + 5 * n, part, 3.2) for n, part in enumerate(textwrap.wrap(foot, 105))]
    return Sheet(width, height, tuple(strokes), tuple(words))
