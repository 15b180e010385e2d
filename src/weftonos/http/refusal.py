"""A header that cannot be used, refused before any route: in the form in which routes refuse a field."""

from __future__ import annotations

from starlette.responses import JSONResponse


def refused_header(header: str, says: str) -> JSONResponse:
    """Answer 422 with a sentence about a header."""
    return JSONResponse({"detail": [{"loc": ["header", header], "msg": says, "type": "craft"}]}, 422)
