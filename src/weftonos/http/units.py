"""Units, decimal mark and region of an answer: each request may say them, and each answer is made in its own."""

from __future__ import annotations

from urllib.parse import parse_qs

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Receive, Scope, Send

from weftonos.core.kernel.decimals import decimal_comma
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.spoken import LengthUnits, speaking, speaking_in
from weftonos.http.refusal import refused_header

#: What a request may say, as a header or, where a link cannot carry one, in the query: ``gf,inch,comma``.
HEADER, QUERY = "x-units", "units"
#: What may follow them: the mark before decimals. A point is meant where none is named.
_MARKS = ("", "point", "comma")


class Units:
    """Give pulls and lengths in the units that a request asks for, decimals and days as its reader writes them."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer in the units asked for, or say which there are."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        with speaking_in(_region(scope)):
            await self._in_units(scope, receive, send)

    async def _in_units(self, scope: Scope, receive: Receive, send: Send) -> None:
        said = _said(scope)
        if said is None:
            await self._app(scope, receive, send)
            return
        force, lengths, mark, *more = [*map(str.strip, said.split(",")), "", ""]
        try:
            units = ForceUnit(force), LengthUnits(lengths or LengthUnits.METRIC)
            known = mark in _MARKS and not any(more)
        except ValueError:
            known = False
        if not known:
            forces, both = ", ".join(ForceUnit), " or ".join(LengthUnits)
            says = f"“{said[:40]}” aren't units we know: {forces}, then a comma and {both}."
            await refused_header(HEADER, says)(scope, receive, send)
            return
        with speaking(*units), decimal_comma(mark == "comma"):
            await self._app(scope, receive, send)


def _region(scope: Scope) -> str:
    """Return the region of the language that the browser asks for first; the United States where it names none."""
    first = Headers(scope=scope).get("accept-language", "").split(",")[0].split(";")[0].strip()
    language, *others = first.split("-")
    named = next((part.upper() for part in others if len(part) == 2 and part.isalpha()), "")
    # A language without its region is the one it is named after; English is American here.
    return named or ("US" if language.lower() in ("", "en", "*") else language.upper()[:2])


def _said(scope: Scope) -> str | None:
    query = parse_qs(scope.get("query_string", b"").decode("latin-1"))
    in_query = query[QUERY][0] if QUERY in query else None
    return Headers(scope=scope).get(HEADER, in_query)
