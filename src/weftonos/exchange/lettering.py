"""The letters on paper: the font that ships with the program, how wide a text is in it, and making it fit.

Atkinson Hyperlegible Next, under the SIL Open Font License (``fonts/OFL.txt``), in Latin and extended Latin.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from pathlib import Path

from weftonos.exchange.marks import Text

FONTS = {False: Path(__file__).parent / "fonts" / "regular.ttf", True: Path(__file__).parent / "fonts" / "bold.ttf"}
FAMILY = "Atkinson Hyperlegible Next"
#: Lines stand so far apart, in sizes of the type; and no text is set smaller than this share of its size.
LEADING, SMALLEST = 1.2, 0.5


@cache
def _widths(bold: bool) -> Mapping[str, float]:
    """Return how far each letter goes on, in sizes of the type."""
    from fontTools.ttLib import TTFont

    font = TTFont(FONTS[bold])
    per_size, advances = font["head"].unitsPerEm, font["hmtx"].metrics
    return {chr(code): advances[glyph][0] / per_size for code, glyph in font.getBestCmap().items()}


def printable(text: str) -> str:
    """Return text in the letters the font has; one it does not have is a question mark."""
    known = _widths(False)
    return "".join(letter if letter in known else "?" for letter in " ".join(text.split()))


def width_mm(text: str, size_mm: float, *, bold: bool = False) -> float:
    """Return how wide a line of text is."""
    widths = _widths(bold)
    return size_mm * sum(widths.get(letter, widths["?"]) for letter in text)


def wrapped(text: str, wide: float, size_mm: float, *, bold: bool = False) -> list[str]:
    """Return a text in lines that are no wider; a word that is too wide for a line of its own is broken."""
    lines: list[str] = []
    line = ""
    for word in printable(text).split():
        longer = f"{line} {word}".strip()
        if width_mm(longer, size_mm, bold=bold) <= wide:
            line = longer
            continue
        if line:
            lines.append(line)
        line = word
        while width_mm(line, size_mm, bold=bold) > wide and len(line) > 1:
            shorter = range(len(line) - 1, 1, -1)
            fits = next((n for n in shorter if width_mm(line[:n], size_mm, bold=bold) <= wide), 1)
            lines.append(line[:fits])
            line = line[fits:]
    return [*lines, line] if line or not lines else lines


def fitted(text: Text, wide: float, *, tall: float | None = None) -> list[Text]:
    """Return a text within a box whose first baseline is its own: smaller, or in more lines, and never cut.

    ``tall`` is the room from its first baseline to the last; left out, it is one line, however small.
    """
    size = text.size_mm
    while True:
        lines = wrapped(text.text, wide, size, bold=text.bold)
        needs = (len(lines) - 1) * LEADING * size
        if needs <= (tall or 0) or (tall is not None and size <= SMALLEST * text.size_mm) or size < 0.8:
            down = LEADING * size
            return [replace(text, y=text.y + n * down, text=line, size_mm=size) for n, line in enumerate(lines)]
        size *= 0.96
