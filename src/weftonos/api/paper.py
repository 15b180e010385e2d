"""What goes on paper, as PDF or SVG."""

from __future__ import annotations

from typing import Literal

from fastapi.responses import Response

from weftonos.exchange.marks import Sheet
from weftonos.exchange.strip import to_pdf, to_svg

Format = Literal["pdf", "svg"]


def on_paper(form: Format, *sheets: Sheet) -> Response:
    """Answer with sheets in the wished format."""
    if form == "svg":
        return Response(to_svg(*sheets), media_type="image/svg+xml")
    return Response(to_pdf(*sheets), media_type="application/pdf")
