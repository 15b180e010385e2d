"""The units in which an answer is given: each request may say them, and each answer is made in its own."""

from __future__ import annotations

from urllib.parse import parse_qs

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Receive, Scope, Send

from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.spoken import LengthUnits, speaking
from weftonos.http.refusal import refused_header

#: What a request may say, as a header or, where a link cannot carry one, in the query: ``gf,inch``.
HEADER, QUERY = "x-units", "units"


class Units:
    """Give pulls and lengths in the units that a request asks for."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer in the units asked for, or say which there are."""
        said = _said(scope) if scope["type"] == "http" else None
        if said is None:
            await self._app(scope, receive, send)
            return
        force, _, lengths = said.partition(",")
        try:
            units = ForceUnit(force.strip()), LengthUnits(lengths.strip() or LengthUnits.METRIC)
        except ValueError:
            forces, both = ", ".join(ForceUnit), " or ".join(LengthUnits)
            says = f"“{said[:40]}” are no units I know: {forces}, then a comma and {both}."
            await refused_header(HEADER, says)(scope, receive, send)
            return
        with speaking(*units):
            await self._app(scope, receive, send)


def _said(scope: Scope) -> str | None:
    query = parse_qs(scope.get("query_string", b"").decode("latin-1"))
    in_query = query[QUERY][0] if QUERY in query else None
    return Headers(scope=scope).get(HEADER, in_query)
