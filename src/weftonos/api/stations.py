"""The routers of the application: those of the first screen at the start, the others when they are asked or soon after.

Building a router takes the processor longer than answering it: all of them at once would keep the first page waiting.
"""

from __future__ import annotations

import threading
from importlib import import_module

from fastapi import FastAPI
from fastapi.responses import JSONResponse
from starlette.concurrency import run_in_threadpool
from starlette.routing import BaseRoute, Route, WebSocketRoute
from starlette.types import Receive, Scope, Send
from starlette.websockets import WebSocketClose

#: What the first screen asks.
FIRST = ("words", "machines", "thread", "plans", "keeping", "changes")
#: Everything else, under ``weftonos.api``.
LATER = (
    *("compute", "needle", "bobbin", "rack", "live", "balance", "cloths", "run", "quilts", "mend", "upkeep"),
    *("evidence", "log", "access", "exchange", "practice"),
)
#: A request that was answered by nobody before the later ones were there.
_ASKED_AGAIN = "weftonos.asked_again"


class Stations:
    """The routers of one application, and the endpoint of addresses under ``/api`` that none has, or not yet."""

    #: What is loaded soon after the start: the modules of all routers, which are quick to build then, and what the
    #: first pull, estimate and paper take.
    loaded_later = (
        *(f"weftonos.api.{name}" for name in (*FIRST, *LATER)),
        *("scipy.ndimage", "scipy.signal", "scipy.optimize", "scipy.special", "fpdf"),
    )

    def __init__(self, app: FastAPI) -> None:
        self._app = app
        self._one = threading.Lock()
        self._all = False
        self._last: list[BaseRoute] = []
        self._include(FIRST)

    def end_with(self, *routes: BaseRoute) -> None:
        """Take what no router takes by these, after an address under ``/api`` that nobody has."""
        anywhere = "/api/{path:path}"
        asked = Route(anywhere, self, methods=["GET", "POST", "PUT", "DELETE"])
        self._last = [asked, WebSocketRoute(anywhere, self), *routes]
        self._app.router.routes.extend(self._last)

    def build(self) -> None:
        """Build the later ones, unless they are there."""
        with self._one:
            if not self._all:
                self._include(LATER)
                self._all = True

    def _include(self, names: tuple[str, ...]) -> None:
        for name in names:
            self._app.include_router(import_module(f"weftonos.api.{name}").router)
        routes = self._app.router.routes
        # In one step: a request that is being answered goes through this list.
        routes[:] = [*(route for route in routes if route not in self._last), *self._last]

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request that no router has taken: by the later ones, or with a sentence."""
        if _ASKED_AGAIN in scope:
            if scope["type"] == "websocket":
                await WebSocketClose()(scope, receive, send)
                return
            await JSONResponse({"detail": "There is no such address."}, 404)(scope, receive, send)
            return
        await run_in_threadpool(self.build)
        await self._app.router({**scope, _ASKED_AGAIN: True}, receive, send)
