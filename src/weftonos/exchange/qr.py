"""An address as a QR code: for the tablet's camera, on the page and in the terminal."""

from __future__ import annotations

import io

import segno


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
