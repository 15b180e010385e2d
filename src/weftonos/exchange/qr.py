"""An address as a QR code: for the tablet's camera, on the page, in the terminal and on paper, drawn in strokes."""

from __future__ import annotations

import io

import segno

from weftonos.exchange.marks import Stroke


def qr_svg(address: str) -> bytes:
    """Return an address as a QR code in SVG."""
    out = io.BytesIO()
    segno.make(address, micro=False).save(out, kind="svg", scale=6, xmldecl=False, title=address)
    return out.getvalue()


def qr_text(address: str) -> str:
    """Return an address as a QR code of block letters."""
    out = io.StringIO()
    segno.make(address, micro=False).terminal(out=out, compact=True)
    return out.getvalue()


def qr_strokes(address: str, x: float, y: float, wide: float) -> list[Stroke]:
    """Return an address as a QR code of strokes, ``wide`` mm across from its upper left corner, quiet zone within."""
    rows = [list(row) for row in segno.make(address, micro=False).matrix_iter(border=2)]
    module = wide / len(rows)
    strokes = []
    for down, row in enumerate(rows):
        at = y + (down + 0.5) * module
        start: int | None = None
        for across, dark in enumerate([*row, 0]):
            if dark and start is None:
                start = across
            elif not dark and start is not None:
                strokes.append(
                    Stroke(x1=x + start * module, y1=at, x2=x + across * module, y2=at, width=round(module, 3))
                )
                start = None
    return strokes
