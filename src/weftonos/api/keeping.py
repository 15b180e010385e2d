"""The workshop's file: where it is, its copies, going back to one, and what wants seeing to."""

from __future__ import annotations

import asyncio
import shutil
from collections.abc import AsyncIterator, Sequence
from contextlib import asynccontextmanager, suppress
from dataclasses import dataclass
from datetime import datetime
from importlib import import_module
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, FastAPI, Request
from fastapi import Path as PathParameter
from fastapi.responses import FileResponse, PlainTextResponse, Response

import weftonos
from weftonos.api.context import Now, WorkshopNow, addresses
from weftonos.api.strict import StrictRoute
from weftonos.core.kernel.errors import CraftError
from weftonos.exchange.marks import Sheet, Text
from weftonos.exchange.qr import qr_svg
from weftonos.exchange.strip import to_pdf
from weftonos.runtime import logs
from weftonos.runtime.licenses import as_text
from weftonos.store import safekeeping
from weftonos.store.database import FILE_NAME
from weftonos.store.drawer import NotFoundError
from weftonos.store.elsewhere import Elsewhere, copy_elsewhere, name_second_place, second_place
from weftonos.store.file_errors import WorkshopFileError
from weftonos.store.opening import open_workshop

router = APIRouter(prefix="/api/workshop", tags=["workshop"], route_class=StrictRoute)

#: The first copy of a day waits so long after the start, and is looked after again so often, in seconds.
FIRST_COPY_AFTER_S, LOOKED_AFTER_S = 20.0, 600.0
#: So long after the start, in seconds, the rest is loaded: the first pages have been answered, and nobody waits for it.
LOADED_AFTER_S = 3.0
#: Below so much room on the disk people are told, in bytes.
LITTLE_ROOM = 200 * 1024 * 1024

CopyName = Annotated[str, PathParameter(max_length=60, pattern=r"^workshop-[0-9A-Za-z-]+\.db$")]


@dataclass(frozen=True)
class Copy:
    """A copy of the workshop's file: its name, when it was made, and its size in bytes."""

    name: str
    at: datetime
    size: int


@dataclass(frozen=True, kw_only=True)
class Keeping:
    """Where the workshop is kept, the room on its disk, its copies and what going back has set aside."""

    version: str
    file: str
    size: int
    free: int
    folder: str
    copies: Sequence[Copy]
    replaced: Sequence[Copy]
    log_file: str
    addresses: Sequence[str]
    open_to_network: bool
    elsewhere: Elsewhere | None


@dataclass(frozen=True)
class Warnings:
    """What wants seeing to, in sentences; ``future`` is how many records lie in the future."""

    warnings: Sequence[str]
    future: int


def _folder(app: FastAPI) -> Path:
    return safekeeping.copy_folder(app.state.data_dir, app.state.settings.copy_dir)


def _copy(path: Path) -> Copy:
    at = safekeeping.copy_time(path)
    assert at is not None
    return Copy(path.name, at, path.stat().st_size)


@router.get("")
def keeping(request: Request) -> Keeping:
    """Say where the workshop is kept and which copies there are."""
    app = request.app
    file: Path = app.state.data_dir / FILE_NAME
    return Keeping(
        version=weftonos.__version__,
        file=str(file),
        size=file.stat().st_size,
        free=shutil.disk_usage(file.parent).free,
        folder=str(_folder(app)),
        copies=[_copy(path) for path in safekeeping.copies(_folder(app))],
        replaced=[_copy(path) for path in safekeeping.replaced_files(app.state.data_dir)],
        log_file=str(app.state.data_dir / logs.LOG_NAME),
        addresses=addresses(request),
        open_to_network=not app.state.settings.only_this_machine,
        elsewhere=second_place(app.state.data_dir),
    )


@router.get("/warnings")
def warnings(request: Request, workshop: WorkshopNow, now: Now) -> Warnings:
    """Say what wants seeing to before it costs something: records in the future, little room, no copy."""
    said = []
    if future := workshop.in_the_future(now):
        records = "One record lies" if future == 1 else f"{future} records lie"
        said.append(
            f"{records} in the future: this computer's clock ran ahead when they were saved. They come first in the "
            "Log. Correct their time or delete them."
        )
    free = shutil.disk_usage(request.app.state.data_dir).free
    if free < LITTLE_ROOM:
        said.append(f"The disk has {free / 1e6:.0f} MB left. Make room before saving fails.")
    if trouble := request.app.state.copy_trouble:
        said.append(f"Today's copy could not be made. {trouble}")
    if (place := second_place(request.app.state.data_dir)) and place.trouble:
        said.append(f"The second copy could not be made. {place.trouble}")
    return Warnings(said, future)


@router.post("/copies", status_code=201)
def copy_now(request: Request, now: Now) -> Copy:
    """Make a copy now, here and in the second place where one is named."""
    return _copy(_back_up(request.app, now))


def _back_up(app: FastAPI, now: datetime) -> Path:
    made = safekeeping.back_up(app.state.data_dir / FILE_NAME, _folder(app), now)
    copy_elsewhere(app.state.data_dir, made, now)
    return made


@dataclass(frozen=True, kw_only=True)
class SecondPlace:
    """A folder for second copies, named in full; empty for none."""

    folder: str


@router.put("/second-place")
def second_copies(place: SecondPlace, request: Request) -> Elsewhere | None:
    """Name a folder that gets a copy too: on a stick, on another disk, or one that syncs."""
    return name_second_place(request.app.state.data_dir, place.folder)


def _find(request: Request, name: str) -> Path:
    known = [*safekeeping.copies(_folder(request.app)), *safekeeping.replaced_files(request.app.state.data_dir)]
    found = next((path for path in known if path.name == name), None)
    if found is None:
        raise NotFoundError("There is no such copy.")
    return found


@router.get("/copies/{name}")
def look_into(name: CopyName, request: Request) -> safekeeping.Contents:
    """Say what is in a copy, before it is put back."""
    return safekeeping.look_at(_find(request, name))


@router.get("/copies/{name}/file", response_class=FileResponse)
def take_away(name: CopyName, request: Request) -> Response:
    """Return a copy as a file."""
    return FileResponse(_find(request, name), media_type="application/vnd.sqlite3", filename=name)


@dataclass(frozen=True)
class CopyPutBack:
    """The name under which the workshop that was replaced is kept."""

    replaced: str


@router.post("/copies/{name}/restore")
async def restore(name: CopyName, request: Request, now: Now) -> CopyPutBack:
    """Put a copy in the place of the workshop; the replaced one is kept and can be put back the same way."""
    app = request.app
    async with request.scope["turnstile"].alone():
        copy = _find(request, name)
        replaced = await asyncio.to_thread(_swap, app, copy, now)
    app.state.changes.tell()
    return CopyPutBack(replaced.name if replaced else "")


def _swap(app: FastAPI, copy: Path, now: datetime) -> Path | None:
    path: Path = app.state.data_dir / FILE_NAME
    # Long work may be writing besides the requests.
    app.state.jobs.end()
    app.state.engine.dispose()
    replaced = safekeeping.restore(copy, path, now)
    # What was written into the file before is not in this one: its repeat is a write of its own.
    app.state.file_number += 1
    try:
        app.state.engine = open_workshop(app.state.data_dir)
    except WorkshopFileError:
        # A copy that cannot be opened does not stay: what was there before comes back.
        if replaced:
            safekeeping.restore(replaced, path, now)
        app.state.engine = open_workshop(app.state.data_dir)
        raise
    return replaced


@dataclass(frozen=True)
class ExampleAt:
    """Where the example is."""

    url: str


@router.post("/example")
def example(request: Request) -> ExampleAt:
    """Open the example workshop, in a folder and a process of its own: nothing of this one is touched."""
    if not request.app.state.settings.only_this_machine:
        raise CraftError(
            "The example opens only on the computer that runs Weftonos, and only while it's closed to others."
        )
    return ExampleAt(request.app.state.example.open())


@router.get("/licenses.txt", response_class=PlainTextResponse)
def licenses() -> PlainTextResponse:
    """Return the licenses of the libraries that the program runs with."""
    return PlainTextResponse(as_text())


@router.get("/qr.svg", response_class=Response)
def qr(request: Request) -> Response:
    """Draw the address for a tablet as a QR code."""
    return Response(qr_svg(addresses(request)[0]), media_type="image/svg+xml")


@asynccontextmanager
async def in_the_background(app: FastAPI) -> AsyncIterator[None]:
    """Load what the first pull and paper will take, and make a copy each day, while the program runs."""
    tasks = [asyncio.create_task(_load(app)), asyncio.create_task(_copy_daily(app))]
    try:
        yield
    finally:
        for task in tasks:
            task.cancel()
        for task in tasks:
            with suppress(asyncio.CancelledError):
                await task


async def _load(app: FastAPI) -> None:
    await asyncio.sleep(LOADED_AFTER_S)
    # One at a time: the program ends between two, and what is asked meanwhile gets its turn.
    for module in app.state.stations.loaded_later:
        try:
            await asyncio.to_thread(import_module, module)
        except Exception as error:
            # Two threads that load at once can fail each other. Whoever needs it loads it then.
            logs.log.warning("%s could not be loaded ahead of time", module, exc_info=error)
    await asyncio.to_thread(app.state.stations.build)
    # The fonts are read with the first letters that are set from them.
    letters = [Text(x=1, y=5, text="Weftonos", size_mm=3, bold=bold) for bold in (False, True)]
    await asyncio.to_thread(to_pdf, Sheet(width=40, height=10, strokes=(), words=tuple(letters)))


async def _copy_daily(app: FastAPI) -> None:
    wait = FIRST_COPY_AFTER_S
    while True:
        await asyncio.sleep(wait)
        wait = LOOKED_AFTER_S
        app.state.copy_trouble = await asyncio.to_thread(copy_if_due, app)


def copy_if_due(app: Any) -> str:
    """Make today's copy where there is none yet; return what stood in its way, or nothing."""
    now = app.state.clock()
    try:
        if safekeeping.is_due(_folder(app), now):
            _back_up(app, now)
    except (WorkshopFileError, OSError) as error:
        logs.log.warning("today's copy could not be made", exc_info=error)
        return str(error) if isinstance(error, WorkshopFileError) else "We can't write to the folder of copies."
    return ""
