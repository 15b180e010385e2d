"""Whatever goes wrong inside is written down and answered with a sentence; nothing passes unseen.

Stands outside everything else: what fails in the pages, at the guard or on the way out is heard of here, too.
"""

from __future__ import annotations

from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from weftonos.runtime.logs import log

MISHAP_SAYS = "Something went wrong inside Weftonos. Nothing was left half-written. What happened is in its log file."


class Mishaps:
    """Answer an error that nobody foresaw with 500, and write where it happened to the log."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass everything on, and listen."""
        if scope["type"] != "http":
            try:
                await self._app(scope, receive, send)
            except Exception as error:
                log.error("a connection failed", exc_info=error)
                raise
            return
        begun = False

        async def sending(message: Message) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                if message["status"] >= 500 and message["status"] not in (503, 507):
                    # The route itself only: what it was asked may hold what somebody typed.
                    route = getattr(scope.get("route"), "path", "another address")
                    log.error("answered %s to %s %s", message["status"], scope["method"], route)
            await send(message)

        try:
            await self._app(scope, receive, sending)
        except Exception as error:
            log.error("a request failed", exc_info=error)
            if not begun:
                await JSONResponse({"detail": MISHAP_SAYS}, 500)(scope, receive, send)
