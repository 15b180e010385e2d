"""The door of the program: it answers at once, while the workshop behind it is still being opened.

Building the routes, opening the file and filling the demo for the first time take a second or more. The pages are
served meanwhile, ``/api/ready`` says what is being done, and every other question waits its turn.
"""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from contextlib import AsyncExitStack, suppress
from dataclasses import asdict, dataclass
from pathlib import Path

from starlette.responses import FileResponse, HTMLResponse, JSONResponse, PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from weftonos.http.changes import Changes
from weftonos.runtime.logs import log
from weftonos.runtime.pages import MANIFEST, STATIC, page_for

_NOT_BUILT = "<!doctype html><title>Weftonos</title><p>The pages are not built yet. Run <code>make install</code>."
#: Files of the page that have a fixed name; all others carry a hash of what is in them.
_NAMED = (
    MANIFEST,
    "favicon.svg",
    "robots.txt",
    "third-party.txt",
    *(f"reference/{name}" for name in ("index.html", "start.js", "swagger-ui-bundle.js", "swagger-ui.css")),
)
_A_YEAR = "public, max-age=31536000, immutable"
_ASK_AGAIN = "no-cache"


@dataclass
class OpeningProgress:
    """What is being done before the workshop is open, and how far it is, 0 to 1."""

    ready: bool = False
    doing: str = "Opening the workshop"
    share: float = 0.0

    def tell(self, doing: str, share: float) -> None:
        """Say what is being done; called from the thread that does it."""
        self.doing, self.share = doing, share


#: Builds the application behind the door; runs in a thread of its own.
Build = Callable[[OpeningProgress], ASGIApp]


class Front:
    """Serve the pages at once, and pass everything else on once the application is built."""

    def __init__(
        self, build: Build, static: Path = STATIC, failed: Callable[[BaseException], None] | None = None
    ) -> None:
        self.progress = OpeningProgress()
        self._tell_failed = failed
        self._build = build
        self._static = static
        self._app: ASGIApp | None = None
        self._open = asyncio.Event()
        self._failed: BaseException | None = None
        self._stack = AsyncExitStack()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request, or the server's own start and stop."""
        if scope["type"] == "lifespan":
            await self._live(receive, send)
            return
        path = scope.get("path", "")
        if scope["type"] == "http" and path == "/api/ready":
            await JSONResponse(asdict(self.progress), headers={"cache-control": "no-store"})(scope, receive, send)
        elif scope["type"] == "http" and not path.startswith("/api/"):
            await page(self._static, path, self._stand())(scope, receive, send)
        else:
            await self._open.wait()
            if self._app is None:
                refusal = PlainTextResponse(f"The workshop could not be opened: {self._failed}", 503)
                await refusal(scope, receive, send)
                return
            await self._app(scope, receive, send)

    def _stand(self) -> str:
        """Return how the workshop stands; empty while it is being opened."""
        told = getattr(getattr(self._app, "state", None), "changes", None)
        return told.stand if isinstance(told, Changes) else ""

    async def _live(self, receive: Receive, send: Send) -> None:
        opening: asyncio.Task[None] | None = None
        while True:
            message: Message = await receive()
            if message["type"] == "lifespan.startup":
                opening = asyncio.create_task(self._prepare())
                await send({"type": "lifespan.startup.complete"})
            else:
                if opening:
                    await opening
                await self._stack.aclose()
                await send({"type": "lifespan.shutdown.complete"})
                return

    async def _prepare(self) -> None:
        try:
            app = await asyncio.to_thread(self._build, self.progress)
            inner = getattr(app, "router", None)
            if inner is not None:
                await self._stack.enter_async_context(inner.lifespan_context(app))
            self._app = app
            self.progress.ready = True
        except BaseException as error:
            self._failed = error
            self.progress.tell(f"The workshop could not be opened: {error}", 0.0)
            log.error("the workshop could not be opened", exc_info=error)
            if self._tell_failed is None:
                raise
            self._tell_failed(error)
        finally:
            self._open.set()


def page(static: Path, path: str, stand: str = "") -> Response:
    """Return a file of the pages, or the page itself for every address that is a station.

    ``stand`` is how the workshop stands (:attr:`weftonos.http.changes.Changes.stand`): what the page asks from now on
    is at least as new.
    """
    name = path.strip("/")
    if name.startswith("assets/"):
        # The system refuses to look for some names: there is no such file either.
        with suppress(OSError, ValueError):
            file = (static / name).resolve()
            if file.is_relative_to(static.resolve()) and file.is_file():
                return FileResponse(file, headers={"cache-control": _A_YEAR})
        return PlainTextResponse("There is no such file.", 404)
    if name == "reference":
        name = "reference/index.html"
    if name in _NAMED and (static / name).is_file():
        return FileResponse(static / name, headers={"cache-control": _ASK_AGAIN})
    try:
        return HTMLResponse(page_for(static, path, stand), headers={"cache-control": _ASK_AGAIN})
    except OSError:
        return HTMLResponse(_NOT_BUILT, 503)
