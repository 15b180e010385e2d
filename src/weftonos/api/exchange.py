"""In and out: everything as a file, lists as tables, and bringing in what people already have."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any, Literal
from uuid import uuid4

from fastapi import APIRouter, Query, Request
from fastapi import Path as PathParameter
from fastapi.responses import FileResponse, Response
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool

from weftonos.api.context import AnyId, Id, Now, WorkshopNow
from weftonos.api.queries import DrawerQuery, LogQuery
from weftonos.api.strict import StrictRoute
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Motion
from weftonos.exchange import LARGEST_GIVEN
from weftonos.exchange.spreadsheet import MARK, write_rows
from weftonos.inout import exchange as station
from weftonos.inout import lists
from weftonos.inout.export import ExportChoice, line_schema, write_everything
from weftonos.inout.table_kinds import Choices
from weftonos.runtime.given_files import GivenFiles
from weftonos.runtime.jobs import Job, State
from weftonos.stations.recipes import RecipeSearch
from weftonos.store.database import reading
from weftonos.store.workshop import Workshop

router = APIRouter(prefix="/api", tags=["exchange"], route_class=StrictRoute)

Token = Annotated[str, PathParameter(pattern=r"^[0-9a-f]{32}$")]


@dataclass(frozen=True, kw_only=True)
class JobState:
    """How long work stands: ``done`` of ``total``, and what came of it."""

    id: str
    doing: str
    state: State
    done: int
    total: int
    problem: str
    checked: station.CheckedTable | None = None
    brought: station.BroughtIn | None = None
    counts: dict[str, int] | None = None
    file: str | None = None


@dataclass(frozen=True)
class Written:
    """A zip that was written: its token, and how many things of each sort it holds."""

    token: str
    counts: dict[str, int]


def _state(job: Job) -> JobState:
    result = job.result if job.state is State.DONE else None
    return JobState(
        id=job.id,
        doing=job.doing,
        state=job.state,
        done=job.done,
        total=job.total,
        problem=job.problem,
        checked=result if isinstance(result, station.CheckedTable) else None,
        brought=result if isinstance(result, station.BroughtIn) else None,
        counts=result.counts if isinstance(result, Written) else None,
        file=result.token if isinstance(result, Written) else None,
    )


_ANY_FILE = {
    "requestBody": {
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        "required": True,
    }
}


@router.post("/exchange/files", status_code=201, openapi_extra=_ANY_FILE)
async def give_file(
    request: Request, name: Annotated[str, Query(max_length=200, description="The file's name.")] = "pasted"
) -> station.SeenFile:
    """Give a file to be brought in: a table (CSV, TSV, XLSX, pasted) or a whole workshop. Nothing is written yet."""
    given: GivenFiles = request.app.state.given
    token = uuid4().hex
    path = given.place(token)
    size = 0
    with path.open("wb") as out:
        async for part in request.stream():
            size += len(part)
            if size > LARGEST_GIVEN:
                break
            out.write(part)
    try:
        if size > LARGEST_GIVEN:
            raise CraftError(f"That file is over {LARGEST_GIVEN // 2**20} MB.", "file")
        seen = await run_in_threadpool(station.look_into, path, name)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    given.add(token, seen)
    return station.seen(seen, token)


@router.post("/exchange/files/{token}/look")
def look_again(token: Token, where: station.WhereItStands, request: Request) -> station.SeenFile:
    """Read a table that was given at another place of its file: another sheet, another row of headings."""
    files: GivenFiles = request.app.state.given
    seen = station.look_again(files.place(token), files.get(token), where)
    files.add(token, seen)
    return station.seen(seen, token)


@router.post("/exchange/files/{token}/check", status_code=202)
def check_file(token: Token, choices: Choices, request: Request, now: Now) -> JobState:
    """Judge every row of a table as it would be kept; the work's state says how many are good."""
    app, given = request.app, request.app.state.given.get(token)

    def work(told: Any) -> station.CheckedTable:
        with Session(reading(app.state.engine)) as session, session.begin():
            return station.check_table(Workshop(session), given, choices, now, told)

    return _state(app.state.jobs.start(f"Looking through {given.name}", work))


Only = Literal["all", "good", "doubles", "problems", "asides"]


@router.get("/exchange/files/{token}/rows")
def file_rows(
    token: Token,
    request: Request,
    only: Only = "all",
    after: Annotated[int, Query(ge=0, le=10**7)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> Sequence[station.ShownRow]:
    """Page through the rows that were judged: how each would be kept, or what is wrong with it."""
    return station.shown_rows(request.app.state.given.get(token), only, after, limit)


@router.get("/exchange/files/{token}/left.csv", response_class=Response)
def rows_left(token: Token, request: Request) -> Response:
    """Return the rows that have a problem, each with its reason, as CSV: to be mended and given again."""
    return _csv("rows-to-mend", station.rows_left(request.app.state.given.get(token)))


@router.post("/exchange/files/{token}/keep", status_code=202)
def keep_file(token: Token, how: station.HowToKeep, request: Request, now: Now) -> JobState:
    """Bring a file in, in one transaction: all of it or nothing."""
    app, given = request.app, request.app.state.given.get(token)

    def work(told: Any) -> station.BroughtIn:
        with app.state.writing, Session(app.state.engine) as session, session.begin():
            brought = station.keep(session, given, how, now, told)
        app.state.changes.tell()
        return brought

    return _state(app.state.jobs.start(f"Bringing in {given.name}", work))


@router.get("/exchange/imports")
def imports(workshop: WorkshopNow) -> list[station.BroughtIn]:
    """List the last imports, newest first."""
    return station.last_imports(workshop.session)


@router.get("/exchange/imports/{import_id}/changed")
def import_changed(import_id: Id, workshop: WorkshopNow) -> station.ChangedSince:
    """Say what of an import was corrected since, before it is taken back."""
    return station.import_changed(workshop, import_id)


@router.post("/exchange/imports/{import_id}/undo")
def undo_import(
    import_id: Id,
    workshop: WorkshopNow,
    now: Now,
    anyway: Annotated[bool, Query(description="Even where some of it was corrected since.")] = False,
) -> list[station.BroughtIn]:
    """Take an import back whole; what it wrote over stands again."""
    return station.take_back(workshop.session, import_id, now, anyway=anyway)


@router.post("/exchange/exports", status_code=202)
def export_everything(wanted: ExportChoice, request: Request, now: Now) -> JobState:
    """Write everything into one zip: tables, all there is as lines, and cards where they are asked for."""
    app = request.app

    given: GivenFiles = app.state.given
    token = uuid4().hex

    def work(told: Any) -> Written:
        with Session(reading(app.state.engine)) as session, session.begin():
            counts = write_everything(session, given.place(f"{token}.zip"), wanted, now, told)
        given.wrote(token)
        return Written(token, dict(counts))

    return replace(_state(app.state.jobs.start("Writing everything into one file", work)), file=token)


@router.get("/exchange/exports/everything.zip", response_class=FileResponse)
def exported(request: Request, now: Now) -> Response:
    """Return the zip that was written last."""
    return _zip(request.app.state.given.written(), now)


@router.get("/exchange/exports/{token}/everything.zip", response_class=FileResponse)
def exported_by(token: Token, request: Request, now: Now) -> Response:
    """Return the zip that one piece of work has written, by the ``file`` of its state."""
    return _zip(request.app.state.given.written(token), now)


def _zip(path: Path, now: datetime) -> Response:
    return FileResponse(path, media_type="application/zip", filename=f"weftonos-{now:%Y-%m-%d}.zip")


@router.get("/exchange/schema.json")
def schema() -> dict[str, Any]:
    """Return the JSON Schema of a line of ``workshop.jsonl``."""
    return line_schema()


@router.get("/exchange/jobs/{job_id}")
def job(job_id: Token, request: Request) -> JobState:
    """Say how far long work is."""
    return _state(request.app.state.jobs.get(job_id))


@router.delete("/exchange/jobs/{job_id}")
def break_off(job_id: Token, request: Request) -> JobState:
    """Break long work off; it leaves nothing half done."""
    return _state(request.app.state.jobs.break_off(job_id))


def _csv(name: str, rows: Any) -> Response:
    out = io.StringIO()
    write_rows(out, rows)
    headers = {"content-disposition": f'attachment; filename="{name}.csv"'}
    return Response(MARK + out.getvalue().encode(), media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/log.csv", response_class=Response)
def log_csv(workshop: WorkshopNow, query: Annotated[LogQuery, Query()]) -> Response:
    """Return the log as it is filtered, as CSV, to its end."""
    return _csv("log", lists.log_rows(workshop, query.search()))


@router.get("/threads.csv", response_class=Response)
def threads_csv(workshop: WorkshopNow, query: Annotated[DrawerQuery, Query()]) -> Response:
    """Return the drawer as it is filtered, as CSV."""
    return _csv("threads", lists.thread_rows(workshop, query.search()))


@router.get("/recipes.csv", response_class=Response)
def recipes_csv(
    workshop: WorkshopNow,
    machine: AnyId = None,
    text: Annotated[str, Query(max_length=200)] = "",
    motion: Motion | None = None,
) -> Response:
    """Return the recipe book as it is filtered, as CSV."""
    return _csv("recipes", lists.recipe_rows(workshop, RecipeSearch(text=text, machine=machine, motion=motion)))


@router.get("/quilt.csv", response_class=Response)
def quilt_csv(workshop: WorkshopNow, name: Annotated[str, Query(min_length=1, max_length=80)]) -> Response:
    """Return every record of one quilt, as CSV."""
    return _csv("quilt", lists.quilt_rows(workshop, name))
