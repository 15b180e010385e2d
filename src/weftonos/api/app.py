"""The application: routers, guard, and the built front end, in one process on one port."""

from __future__ import annotations

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from datetime import UTC, datetime
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import Response
from starlette.middleware.gzip import GZipMiddleware
from starlette.routing import Route

import weftonos
from weftonos.api import examples, keeping, problems
from weftonos.api.context import TimeSource
from weftonos.api.stations import Stations
from weftonos.http.changes import Changes
from weftonos.http.front import page
from weftonos.http.guard import Guard
from weftonos.http.once import Once
from weftonos.http.passcode import Doorkeeper
from weftonos.http.turnstile import Turnstile
from weftonos.http.units import Units
from weftonos.learned.answer_cache import AnswerCache
from weftonos.learned.evidence import EvidenceCache
from weftonos.runtime.example import Example
from weftonos.runtime.given_files import GivenFiles
from weftonos.runtime.jobs import Jobs
from weftonos.runtime.pages import STATIC
from weftonos.runtime.settings import Settings
from weftonos.store.opening import open_workshop

#: Answers from this size on are packed, and how hard: more would take longer than it saves on one machine.
SMALLEST_PACKED = 1000
PACKED_HOW_HARD = 4


def _wall_clock() -> datetime:
    return datetime.now(UTC)


def create_app(
    settings: Settings, clock: TimeSource = _wall_clock, static: Path = STATIC, doorkeeper: Doorkeeper | None = None
) -> FastAPI:
    """Return the application on the workshop that ``settings`` names."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        app.state.engine = open_workshop(app.state.data_dir)
        app.state.writing, app.state.copy_trouble = threading.Lock(), ""
        app.state.file_number = getattr(app.state, "file_number", 0) + 1
        app.state.changes, app.state.example = Changes(), Example(app.state.data_dir)
        app.state.evidence, app.state.plans = EvidenceCache(), AnswerCache()
        app.state.jobs, app.state.given = Jobs(), GivenFiles(app.state.data_dir)
        async with keeping.in_the_background(app):
            yield
        app.state.jobs.end()
        app.state.changes.end()
        app.state.example.end()
        app.state.engine.dispose()

    app = FastAPI(
        title="Weftonos",
        version=weftonos.__version__,
        description="Thread, needle, bobbin and balance for free-motion and longarm quilters.",
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.data_dir, app.state.clock, app.state.settings = settings.data_dir, clock, settings
    app.add_middleware(GZipMiddleware, minimum_size=SMALLEST_PACKED, compresslevel=PACKED_HOW_HARD)
    app.add_middleware(Units)
    app.add_middleware(Turnstile)
    app.add_middleware(Once)
    doorkeeper = doorkeeper or Doorkeeper(settings.passcode or "", settings.data_dir)
    app.state.doorkeeper = doorkeeper
    app.add_middleware(Guard, settings=settings, doorkeeper=doorkeeper)
    problems.install(app)
    examples.describe(app)
    stations = app.state.stations = Stations(app)

    def _page(request: Request) -> Response:
        return page(static, request.path_params["path"], app.state.changes.stand)

    stations.end_with(Route("/{path:path}", _page, methods=["GET"]))
    return app
