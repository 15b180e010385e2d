"""The ladder strip and the recipe card on paper, true to scale, as PDF and SVG from one list of marks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from html import escape
from itertools import pairwise

from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.spoken import MM_PER_INCH
from weftonos.exchange.lettering import FAMILY, FONTS, by_font, fitted, printable, width_mm
from weftonos.exchange.marks import Sheet, Stroke, Text
from weftonos.exchange.qr import qr_strokes

INCH = MM_PER_INCH.value


class Paper(StrEnum):
    """Paper to print on."""

    A4 = "a4"
    LETTER = "letter"


#: Width and height in mm.
PAPERS = {Paper.A4: (210.0, 297.0), Paper.LETTER: (215.9, 279.4)}
#: Check bars that prove the printer's scale.
CHECK_BARS = ((100.0, "100 mm"), (4 * INCH, "4 in"))


#: Three lanes down the sheet, one a motion; a hand's breadth of stitches a step, so that eleven go on either paper.
LANE_LEFT, LANE_TOP, LANE_WIDE, STEP_TALL = 28.0, 17.0, 17.0, 23.0
#: Where the words stand beside the lanes.
BESIDE = 92.0


def box(x: float, y: float, wide: float, tall: float, width: float = 0.3) -> list[Stroke]:
    """Return the four sides of a box."""
    corners = [(x, y), (x + wide, y), (x + wide, y + tall), (x, y + tall), (x, y)]
    return [Stroke(x1=ax, y1=ay, x2=bx, y2=by, width=width) for (ax, ay), (bx, by) in pairwise(corners)]


@dataclass(frozen=True, kw_only=True)
class StripWords:
    """What a strip says: the settings of its steps, what is on, which half of the cloth to sew on, and the pictures.

    ``number`` is that of its cloth, ``address`` where a tablet opens that cloth; ``pictures`` are grades with names.
    """

    settings: Sequence[str]
    combination: Sequence[str]
    cloth: str
    number: int | None = None
    address: str = ""
    pictures: Sequence[tuple[int, str]] = ()


def ladder_strip(says: StripWords, motion: Motion, paper: Paper) -> Sheet:
    """Lay out a ladder on paper: three lanes, one a motion, each step 23 mm long, with boxes to fill in.

    Lay the sheet beside the cloth and sew each lane from step to step. ``motion`` is the lane that was planned, drawn
    heavier; the combination belongs on the cloth as well.
    """
    settings, combination = says.settings, says.combination
    width, height = PAPERS[paper]
    lanes = [motion, *(m for m in Motion if m is not motion)]
    strokes: list[Stroke] = []
    words = [
        Text(x=LANE_LEFT + 1.5 + lane * LANE_WIDE, y=LANE_TOP - 3, text=m.words, size_mm=2.9)
        for lane, m in enumerate(lanes)
    ]
    for lane in range(len(lanes)):
        x = LANE_LEFT + lane * LANE_WIDE
        for number in range(len(settings)):
            top = LANE_TOP + number * STEP_TALL
            strokes += box(x, top, LANE_WIDE - 2, STEP_TALL - 1.4, 0.6 if lane == 0 else 0.25)
    for number, setting in enumerate(settings):
        y = LANE_TOP + number * STEP_TALL
        words.append(Text(x=8, y=y + 6, text=setting, size_mm=4.6, bold=True))
    words += [
        Text(x=BESIDE, y=24, text=f"Cloth {says.number}" if says.number else "A test cloth", size_mm=9, bold=True),
        Text(x=BESIDE, y=31, text=f"Sew on {says.cloth}.", size_mm=3.5),
        Text(x=BESIDE, y=41, text="One lane a motion, a box a step. Put in the picture's number:", size_mm=3.5),
    ]
    if says.number:
        words.append(Text(x=BESIDE, y=36, text=f"Write {says.number} on the cloth as well.", size_mm=3.5))
    if says.address:
        strokes += qr_strokes(says.address, width - 32, 14, 24)
    down = 47.0
    # From loose to tight, as the cloth is sewn.
    for n, (grade, name) in enumerate(sorted(says.pictures, reverse=True)):
        y = down + 13 * n
        strokes += stitch_strokes(grade, BESIDE, y)
        words.append(Text(x=BESIDE + 27, y=y + 6, text=f"{n + 1}  {name}", size_mm=3.5))
    below = down + 13 * len(says.pictures) + 5
    for n, line in enumerate(combination):
        words += fitted(Text(x=BESIDE, y=below + 7 * n, text=line, size_mm=3.8), width - BESIDE - 8, tall=3)
    for n, name in enumerate(("Used before", "Found now", "Good from … to")):
        y = below + 7 * len(combination) + 2 + 16 * n
        strokes += box(BESIDE + 34, y, 60, 13, 0.5 if n == 1 else 0.25)
        words.append(Text(x=BESIDE, y=y + 8, text=name, size_mm=4, bold=n == 1))
    for n, (length, name) in enumerate(CHECK_BARS):
        x, y = BESIDE, height - 40 + 14 * n
        strokes += [
            Stroke(x1=x, y1=y, x2=x + length, y2=y),
            Stroke(x1=x, y1=y - 2, x2=x, y2=y + 2),
            Stroke(x1=x + length, y1=y - 2, x2=x + length, y2=y + 2),
        ]
        words.append(Text(x=x, y=y + 5, text=f"Check bar: {name}. Measure it, and print at 100%.", size_mm=3))
    return Sheet(width=width, height=height, strokes=tuple(strokes), words=tuple(words))


def stitch_strokes(grade: int, x: float, y: float) -> list[Stroke]:
    """Draw a stitched line of a grade from -2 to 2, front above back, 22 mm wide and 11 mm tall."""
    pitch, drawn = 4.4, list[Stroke]()
    for row, through in ((0, max(0, -grade)), (1, max(0, grade))):
        middle = y + 2.5 + 6 * row
        holes = [x + pitch * n for n in range(6)]
        if through == 2:
            # Pulled flat: this side's thread lies as one line, and the other's comes up around it at every hole.
            drawn.append(Stroke(x1=holes[0], y1=middle, x2=holes[-1], y2=middle, width=0.5))
            for hole in holes:
                peak = middle - 1.8
                drawn += [
                    Stroke(x1=hole - 0.8, y1=middle + 1, x2=hole, y2=peak, width=0.3),
                    Stroke(x1=hole, y1=peak, x2=hole + 0.8, y2=middle + 1, width=0.3),
                ]
            continue
        drawn += [Stroke(x1=a + 0.7, y1=middle, x2=b - 0.7, y2=middle, width=0.7) for a, b in pairwise(holes)]
        if through == 1:
            drawn += [Stroke(x1=hole - 0.5, y1=middle, x2=hole + 0.5, y2=middle, width=1.5) for hole in holes]
    return drawn


def recipe_card(
    name: str, lines: Sequence[tuple[str, str]], foot: str, address: str = "", grade: int | None = None
) -> Sheet:
    """Lay out a recipe card of 5 × 3 inches: each line a label and what it says; ``address`` as a QR code.

    With a ``grade`` its stitch is drawn beside the lines, front above back.
    """
    width, height = 5 * INCH, 3 * INCH
    code = qr_strokes(address, width - 27, 18, 22) if address else ()
    drawn = stitch_strokes(grade, width - 27, 43) if grade is not None else ()
    strokes = (Stroke(x1=5, y1=15, x2=width - 5, y2=15, width=0.4), *code, *drawn)
    beside = 24 if address or drawn else 0
    said = [(label, says) for label, says in lines if says]
    row = (height - 29) / max(1, len(said))
    words = fitted(Text(x=5, y=11.5, text=name, size_mm=6, bold=True), width - 10)
    for n, (label, says) in enumerate(said):
        y = 21 + row * n
        words.append(Text(x=5, y=y, text=label, size_mm=3.2))
        words += fitted(Text(x=28, y=y, text=says, size_mm=3.9, bold=True), width - 33 - beside, tall=row * 0.6)
    if drawn:
        words += [
            Text(x=width - 27, y=43.5, text="front", size_mm=2.2),
            Text(x=width - 27, y=56.5, text="back", size_mm=2.2),
        ]
    words += fitted(Text(x=5, y=height - 6, text=foot, size_mm=2.6), width - 10, tall=3.4)
    return Sheet(width=width, height=height, strokes=strokes, words=tuple(words))


def to_svg(*sheets: Sheet) -> str:
    """Return sheets as SVG with their size in mm, one below the other."""
    width, height = max(sheet.width for sheet in sheets), sum(sheet.height for sheet in sheets)
    pages, down = [], 0.0
    for sheet in sheets:
        pages.append(f'<g transform="translate(0 {down:g})">{_marks(sheet)}</g>' if down else _marks(sheet))
        down += sheet.height
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}">{"".join(pages)}</svg>'
    )


def _marks(sheet: Sheet) -> str:
    strokes = "".join(
        f'<line x1="{s.x1:.3f}" y1="{s.y1:.3f}" x2="{s.x2:.3f}" y2="{s.y2:.3f}" '
        f'stroke="#000" stroke-width="{s.width}"/>'
        for s in sheet.strokes
    )
    words = "".join(
        f'<text x="{w.x}" y="{w.y:.3f}" font-size="{w.size_mm}" font-family="{FAMILY}, sans-serif" '
        f'font-weight="{700 if w.bold else 400}">{escape(w.text)}</text>'
        for w in sheet.words
    )
    return strokes + words


def to_pdf(*sheets: Sheet) -> bytes:
    """Return sheets as PDF pages, each of its own size."""
    # Loaded when something is printed: it takes longer than the first answer.
    from fpdf import FPDF

    pdf = FPDF(unit="mm", format=(sheets[0].width, sheets[0].height))
    pdf.set_auto_page_break(False)
    pdf.set_margin(0)
    laid = [[(line, by_font(printable(line.text))) for line in sheet.words] for sheet in sheets]
    needed = {(family, line.bold) for lines in laid for line, pieces in lines for family, _ in pieces}
    for family, bold in sorted(needed):
        pdf.add_font(family, "B" if bold else "", FONTS[family, bold])
    for sheet, lines in zip(sheets, laid, strict=True):
        pdf.add_page(format=(sheet.width, sheet.height))
        for stroke in sheet.strokes:
            pdf.set_line_width(stroke.width)
            pdf.line(stroke.x1, stroke.y1, stroke.x2, stroke.y2)
        for line, pieces in lines:
            x = line.x
            for family, piece in pieces:
                pdf.set_font(family, "B" if line.bold else "", line.size_mm / INCH * 72)
                pdf.text(x, line.y, piece)
                x += width_mm(piece, line.size_mm, bold=line.bold)
    return bytes(pdf.output())
