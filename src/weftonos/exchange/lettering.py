"""The letters on paper: the fonts that ship with the program, how wide a text is in them, and making it fit.

Atkinson Hyperlegible Next in Latin and extended Latin (``fonts/OFL.txt``), and for what it lacks Noto Sans in
Vietnamese, Greek and Cyrillic (``fonts/OFL-wider.txt``), both under the SIL Open Font License.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import cache
from itertools import groupby
from pathlib import Path

from weftonos.exchange.marks import Text

FAMILY, WIDER = "Atkinson Hyperlegible Next", "Noto Sans"
_FOLDER = Path(__file__).parent / "fonts"
#: The font files by their family and whether they are bold, in the order in which a letter is looked for.
FONTS = {
    (FAMILY, False): _FOLDER / "regular.ttf",
    (FAMILY, True): _FOLDER / "bold.ttf",
    (WIDER, False): _FOLDER / "wider-regular.ttf",
    (WIDER, True): _FOLDER / "wider-bold.ttf",
}
#: What stands for a letter that no font here has; the form in which a name is typed says so before.
NO_LETTER = "·"
#: Lines stand so far apart, in sizes of the type; and no text is set smaller than this share of its size.
LEADING, SMALLEST = 1.2, 0.5


@cache
def _widths(family: str, bold: bool) -> Mapping[str, float]:
    """Return how far each letter of a font goes on, in sizes of the type."""
    from fontTools.ttLib import TTFont

    font = TTFont(FONTS[family, bold])
    per_size, advances = font["head"].unitsPerEm, font["hmtx"].metrics
    return {chr(code): advances[glyph][0] / per_size for code, glyph in font.getBestCmap().items()}


@cache
def _family_of(letter: str) -> str | None:
    # The second font is read where the first lacks a letter, which is seldom.
    return next((family for family in (FAMILY, WIDER) if letter in _widths(family, False)), None)


def printable(text: str) -> str:
    """Return text on one line in the letters that the fonts have, with ``NO_LETTER`` for any other."""
    letters = unicodedata.normalize("NFC", " ".join(text.split()))
    return "".join(letter if _family_of(letter) else NO_LETTER for letter in letters)


def by_font(text: str) -> Sequence[tuple[str, str]]:
    """Return printable text in pieces of one font each, as ``(family, piece)``."""
    return [(family or FAMILY, "".join(letters)) for family, letters in groupby(text, _family_of)]


def width_mm(text: str, size_mm: float, *, bold: bool = False) -> float:
    """Return how wide a line of printable text is."""
    pieces = ((_widths(family, bold), piece) for family, piece in by_font(text))
    return size_mm * sum(widths.get(letter, widths[" "]) for widths, piece in pieces for letter in piece)


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
