"""The ladder strip and the recipe card on paper, true to scale, as PDF and SVG from one list of marks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from html import escape

INCH = 25.4


class Paper(StrEnum):
    """Paper to print on."""

    A4 = "a4"
    LETTER = "letter"


#: Width and height in mm.
PAPERS = {Paper.A4: (210.0, 297.0), Paper.LETTER: (215.9, 279.4)}
#: Check bars that prove the printer's scale.
CHECK_BARS = ((100.0, "100 mm"), (4 * INCH, "4 in"))


@dataclass(frozen=True, kw_only=True)
class Stroke:
    """A straight line, in mm from the top left."""

    x1: float
    y1: float
    x2: float
    y2: float
    width: float = 0.3


@dataclass(frozen=True, kw_only=True)
class Text:
    """A line of text by its left baseline, in mm."""

    x: float
    y: float
    text: str
    size_mm: float
    bold: bool = False


@dataclass(frozen=True, kw_only=True)
class Sheet:
    """A sheet of paper with its strokes and words."""

    width: float
    height: float
    strokes: tuple[Stroke, ...]
    words: tuple[Text, ...]


def ladder_strip(settings: Sequence[str], combination: Sequence[str], cloth: str, paper: Paper) -> Sheet:
    """Lay out a ladder strip: a line down the sheet with a mark at every inch and the setting beside it.

    ``combination`` is written on the sheet and belongs on the cloth as well; ``cloth`` says which half to sew on.
    """
    width, height = PAPERS[paper]
    # Ten inches on an eleven-inch sheet leave half an inch above and below.
    left, top = 34.0, 13.0
    strokes = [
        Stroke(x1=left, y1=top, x2=left, y2=top + 10 * INCH * min(1.0, max(1, len(settings) - 1) / 10), width=0.5)
    ]
    words = [
        Text(x=95, y=22, text="Ladder test", size_mm=7, bold=True),
        Text(x=95, y=30, text=f"Sew on {cloth}.", size_mm=3.6),
        Text(x=95, y=36, text="Change the setting at each mark; read front and back.", size_mm=3.6),
    ]
    for number, setting in enumerate(settings):
        y = top + number * INCH
        strokes.append(Stroke(x1=left - 6, y1=y, x2=left + 6, y2=y, width=0.5))
        words += [
            Text(x=left + 9, y=y + 1.8, text=setting, size_mm=5, bold=True),
            Text(x=left - 16, y=y + 1.5, text=str(number), size_mm=3.4),
        ]
    words += [Text(x=95, y=50 + 7 * n, text=line[:60], size_mm=3.8) for n, line in enumerate(combination)]
    for n, (length, name) in enumerate(CHECK_BARS):
        x, y = 95.0, height - 40 + 14 * n
        strokes += [
            Stroke(x1=x, y1=y, x2=x + length, y2=y),
            Stroke(x1=x, y1=y - 2, x2=x, y2=y + 2),
            Stroke(x1=x + length, y1=y - 2, x2=x + length, y2=y + 2),
        ]
        words.append(Text(x=x, y=y + 5, text=f"Check bar: {name}. Measure it; print at 100 %.", size_mm=3))
    return Sheet(width=width, height=height, strokes=tuple(strokes), words=tuple(words))


def recipe_card(name: str, lines: Sequence[tuple[str, str]], foot: str) -> Sheet:
    """Lay out a recipe card of 5 × 3 inches: each line a label and what it says."""
    width, height = 5 * INCH, 3 * INCH
    strokes = (Stroke(x1=5, y1=15, x2=width - 5, y2=15, width=0.4),)
    words = [Text(x=5, y=11.5, text=name[:34], size_mm=6, bold=True)]
    for n, (label, says) in enumerate(lines[:8]):
        y = 21.5 + 6.2 * n
        words += [
            Text(x=5, y=y, text=label[:16], size_mm=3.2),
            Text(x=30, y=y, text=says[:56], size_mm=3.9, bold=True),
        ]
    words.append(Text(x=5, y=height - 3, text=foot[:90], size_mm=2.6))
    return Sheet(width=width, height=height, strokes=strokes, words=tuple(words))


def to_svg(sheet: Sheet) -> str:
    """Return a sheet as SVG with its size in mm."""
    strokes = "".join(
        f'<line x1="{s.x1:.3f}" y1="{s.y1:.3f}" x2="{s.x2:.3f}" y2="{s.y2:.3f}" '
        f'stroke="#000" stroke-width="{s.width}"/>'
        for s in sheet.strokes
    )
    words = "".join(
        f'<text x="{w.x}" y="{w.y:.3f}" font-size="{w.size_mm}" font-family="sans-serif" '
        f'font-weight="{700 if w.bold else 400}">{escape(w.text)}</text>'
        for w in sheet.words
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{sheet.width}mm" height="{sheet.height}mm" '
        f'viewBox="0 0 {sheet.width} {sheet.height}">{strokes}{words}</svg>'
    )


def to_pdf(sheet: Sheet) -> bytes:
    """Return a sheet as a PDF page of its own size."""
    # Loaded when something is printed: it takes longer than the first answer.
    from fpdf import FPDF

    pdf = FPDF(unit="mm", format=(sheet.width, sheet.height))
    pdf.set_auto_page_break(False)
    pdf.set_margin(0)
    pdf.add_page()
    for stroke in sheet.strokes:
        pdf.set_line_width(stroke.width)
        pdf.line(stroke.x1, stroke.y1, stroke.x2, stroke.y2)
    for line in sheet.words:
        pdf.set_font("helvetica", "B" if line.bold else "", line.size_mm / INCH * 72)
        pdf.text(line.x, line.y, printable(line.text))
    return bytes(pdf.output())


def printable(text: str) -> str:
    """Return text in the letters that every PDF reader has (Latin-1)."""
    plain = text.replace("–", "-").replace("−", "-").replace("…", "...").replace("’", "'")
    return plain.encode("latin-1", "replace").decode("latin-1")
