"""The case label and the bobbin card, true to size, as SVG and PDF.

Both are drawn from one list of marks, so that the two formats cannot differ.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from fpdf import FPDF

#: A check bar proves the printer's scale.
CHECK_BAR_MM = 30.0


@dataclass(frozen=True)
class Line:
    """A line of text: position of its left baseline in mm, height of its letters in mm."""

    x: float
    y: float
    text: str
    size_mm: float
    bold: bool = False


@dataclass(frozen=True)
class Card:
    """A card of ``width`` × ``height`` mm with its lines of text."""

    width: float
    height: float
    lines: Sequence[Line]


def case_label(label: str, kept_for: str, target: str, number: str) -> Card:
    """Return the label of a case, 50 × 22 mm: what it is called, kept for, and its number."""
    return Card(
        50,
        26,
        (
            Line(3, 8, label[:18], 5.5, bold=True),
            Line(3, 13.5, kept_for[:30], 3.2),
            Line(3, 18.5, target[:34], 3.2, bold=True),
            Line(27, 8, number[:14], 4.2),
        ),
    )


def bobbin_card(label: str, thread: str, facts: Sequence[str]) -> Card:
    """Return the card of a bobbin, 55 × 34 mm."""
    lines = [Line(3, 8, label[:20], 5.5, bold=True), Line(3, 13.5, thread[:34], 3.4)]
    lines += [Line(3, 18.5 + 4.2 * i, fact[:40], 3.0) for i, fact in enumerate(facts[:3])]
    return Card(60, 38, lines)


def to_svg(card: Card) -> str:
    """Return a card as SVG whose width and height are in mm."""
    texts = "".join(
        f'<text x="{line.x}" y="{line.y}" font-size="{line.size_mm}" font-family="sans-serif" '
        f'font-weight="{700 if line.bold else 400}">{escape(line.text)}</text>'
        for line in card.lines
    )
    bar = card.height - 2.5
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{card.width}mm" height="{card.height}mm" '
        f'viewBox="0 0 {card.width} {card.height}">'
        f'<rect x="0.15" y="0.15" width="{card.width - 0.3}" height="{card.height - 0.3}" fill="none" '
        f'stroke="#000" stroke-width="0.3" stroke-dasharray="1.5 1"/>{texts}'
        f'<path d="M3 {bar}h{CHECK_BAR_MM}M3 {bar - 1}v2M{3 + CHECK_BAR_MM} {bar - 1}v2" stroke="#000" '
        f'stroke-width="0.2" fill="none"/>'
        f'<text x="{4 + CHECK_BAR_MM}" y="{bar + 0.8}" font-size="2.2" font-family="sans-serif">30 mm</text></svg>'
    )


def to_pdf(card: Card) -> bytes:
    """Return a card as a PDF page of its own size."""
    pdf = FPDF(unit="mm", format=(card.width, card.height))
    pdf.set_auto_page_break(False)
    pdf.set_margin(0)
    pdf.add_page()
    pdf.set_draw_color(0)
    pdf.set_line_width(0.3)
    pdf.set_dash_pattern(1.5, 1)
    pdf.rect(0.15, 0.15, card.width - 0.3, card.height - 0.3)
    pdf.set_dash_pattern()
    for line in card.lines:
        pdf.set_font("helvetica", "B" if line.bold else "", line.size_mm * 72 / 25.4)
        pdf.text(line.x, line.y, line.text.encode("latin-1", "replace").decode("latin-1"))
    bar = card.height - 2.5
    pdf.set_line_width(0.2)
    pdf.line(3, bar, 3 + CHECK_BAR_MM, bar)
    for x in (3, 3 + CHECK_BAR_MM):
        pdf.line(x, bar - 1, x, bar + 1)
    pdf.set_font("helvetica", "", 2.2 * 72 / 25.4)
    pdf.text(4 + CHECK_BAR_MM, bar + 0.8, "30 mm")
    return bytes(pdf.output())
