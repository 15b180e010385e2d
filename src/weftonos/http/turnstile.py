"""As many requests at once as there are connections to the file, and for a moment none but one."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from starlette.types import ASGIApp, Receive, Scope, Send

from weftonos.store.database import MOST_AT_ONCE

#: Whoever listens for changes stays inside and asks for nothing.
CHANGES = "/api/changes"


class Turnstile:
    """Let so many requests through at a time; the others wait in order.

    A request needs a thread and a connection of the file more than once. Without a limit below both, many requests
    each hold what another waits for.
    """

    def __init__(self, app: ASGIApp, most: int = MOST_AT_ONCE) -> None:
        self._app = app
        self._most = most
        self._places = asyncio.Semaphore(most)
        self._closing = asyncio.Lock()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through when there is a place."""
        if scope["type"] != "http" or scope["path"] == CHANGES:
            await self._app(scope, receive, send)
            return
        scope["turnstile"] = self
        async with self._places:
            await self._app(scope, receive, send)

    @asynccontextmanager
    async def alone(self) -> AsyncIterator[None]:
        """Wait until no other request is inside, and let none in meanwhile; called from within one."""
        # Two that want to be alone would wait for each other's place.
        self._places.release()
        held = 0
        try:
            async with self._closing:
                while held < self._most:
                    await self._places.acquire()
                    held += 1
                yield
        finally:
            while held > 1:
                self._places.release()
                held -= 1
            if held == 0:
                await self._places.acquire()
