"""``weftonos export`` and ``weftonos import``: the same as on the page, by command.

A server that has the workshop open is left its file: an export reads beside it, an import goes through it, so that its
pages show at once what came in.
"""

from __future__ import annotations

import json
import time
import urllib.error
import urllib.request
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import quote

import typer
from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import so_many
from weftonos.inout.exchange import HowToKeep, check_table, keep, look_into, seen
from weftonos.inout.export import ExportChoice, write_everything
from weftonos.inout.table_kinds import Choices, TableKind
from weftonos.runtime import running
from weftonos.store.archive import in_words
from weftonos.store.bringing import Differing
from weftonos.store.database import FILE_NAME, engine_beside, reading
from weftonos.store.file_errors import ExitCode, WorkshopFileError
from weftonos.store.opening import open_workshop
from weftonos.store.safekeeping import form_of, newest_revision
from weftonos.store.workshop import Workshop

if TYPE_CHECKING:
    from sqlalchemy import Engine

#: Rows with a problem that are shown.
SHOWN = 10
#: Seconds between two looks at work that a server does, and until an answer is given up.
_LOOKED_AFTER_S, _PATIENCE_S = 0.1, 120.0
_OPENING = "Weftonos is just opening this workshop. Try again in a moment."


@contextmanager
def to_read(data_dir: Path) -> Iterator[Engine]:
    """Yield an engine that only reads, beside a server or without one; the file is in its newest form by then."""
    path = data_dir / FILE_NAME
    form_of(path)
    try:
        with running.alone(data_dir):
            open_workshop(data_dir).dispose()
    except running.AlreadyRunning as already:
        if form_of(path) != newest_revision():
            raise WorkshopFileError(_OPENING, ExitCode.IN_USE) from already
    engine = engine_beside(path)
    try:
        yield engine
    finally:
        engine.dispose()


def export_to(data_dir: Path, target: Path, *, pictures: bool, zone: str) -> Mapping[str, int]:
    """Write everything into a zip; raises :class:`WorkshopFileError` for a name that is taken."""
    if target.exists():
        raise WorkshopFileError(f"{target} exists already. Choose another name.", ExitCode.CANNOT_MAKE)
    if not target.parent.is_dir():
        raise WorkshopFileError(f"There is no folder {target.parent}. Make it first.", ExitCode.MISSING)
    with to_read(data_dir) as engine, Session(engine) as session, session.begin():
        return write_everything(session, target, ExportChoice(pictures=pictures, zone=zone), datetime.now(UTC), _untold)


def import_from(data_dir: Path, source: Path, choose: Mapping[str, Any], *, yes: bool) -> Mapping[str, Any] | None:
    """Bring a file in: shows what would be kept, asks, and keeps it whole or not at all.

    ``choose`` holds ``kind``, ``machine``, ``leave_out`` and ``take`` as they were given. Returns what was brought, in
    the form of the API; ``None`` where the answer was no.
    """
    if not source.is_file():
        raise WorkshopFileError(f"There is no file {source}.", ExitCode.MISSING)
    try:
        with running.alone(data_dir):
            return _bring_in(_Here(data_dir), source, choose, yes=yes)
    except running.AlreadyRunning as already:
        if not already.url:
            raise WorkshopFileError(_OPENING, ExitCode.IN_USE) from already
        return _bring_in(_Server(already.url), source, choose, yes=yes)
    except CraftError as error:
        raise WorkshopFileError(str(error), ExitCode.CANNOT_MAKE) from error


def _bring_in(
    workshop: _Here | _Server, source: Path, choose: Mapping[str, Any], *, yes: bool
) -> Mapping[str, Any] | None:
    found = workshop.give(source)
    if (table := found["table"]) is None:
        typer.echo(f"A whole workshop: {in_words(found['counts'])}.")
    else:
        kind = TableKind(choose["kind"]) if choose["kind"] else TableKind(table["likely"])
        columns = next(each["columns"] for each in table["kinds"] if each["kind"] == kind)
        choices = Choices(
            kind=kind,
            columns={each["field"]: each["column"] for each in columns if each["column"] is not None},
            machine=_named(workshop.machines(), choose["machine"]),
            decimal_comma=table["decimal_comma"],
            day_first=table["day_first"] is not False,
        )
        checked, problems = workshop.check(choices)
        typer.echo(
            f"{so_many(checked['rows'], 'row')} of {kind}: {checked['good']} new, {checked['doubles']} here already, "
            f"{checked['problems']} with a problem."
        )
        for row in problems:
            typer.echo(f"  row {row['number']}: {row['problem']}")
    if not yes and not typer.confirm("Bring it in?"):
        return None
    differing = Differing.TAKE if choose["take"] else Differing.KEEP
    return workshop.keep(HowToKeep(leave_out=bool(choose["leave_out"]), differing=differing))


def _named(machines: Mapping[str, int], wanted: str | None) -> int | None:
    """Return the machine of that name, the first where none is named; raises for one that there is not."""
    if wanted is None:
        return next(iter(machines.values()), None)
    by_name = {name.casefold(): number for name, number in machines.items()}
    if wanted.casefold() not in by_name:
        known = ", ".join(machines) or "none yet"
        raise WorkshopFileError(f"There is no machine “{wanted}” here. There are: {known}.", ExitCode.MISSING)
    return by_name[wanted.casefold()]


class _Here:
    """A workshop that nobody else has open."""

    def __init__(self, data_dir: Path) -> None:
        self._data_dir = data_dir
        self._now = datetime.now(UTC)

    @contextmanager
    def _session(self, *, writes: bool = False) -> Iterator[Session]:
        engine = open_workshop(self._data_dir)
        try:
            with Session(engine if writes else reading(engine)) as session, session.begin():
                yield session
        finally:
            engine.dispose()

    def give(self, source: Path) -> Mapping[str, Any]:
        self._given = look_into(source, source.name)
        return asdict(seen(self._given, ""))

    def machines(self) -> Mapping[str, int]:
        with self._session() as session:
            return {each.spec.nickname: each.id for each in Workshop(session).machines()}

    def check(self, choices: Choices) -> tuple[Mapping[str, Any], list[Mapping[str, Any]]]:
        with self._session() as session:
            checked = check_table(Workshop(session), self._given, choices, self._now, _untold)
        wrong = [row for row in self._given.rows if row.problem][:SHOWN]
        return asdict(checked), [{"number": row.number, "problem": row.problem} for row in wrong]

    def keep(self, how: HowToKeep) -> Mapping[str, Any]:
        with self._session(writes=True) as session:
            return asdict(keep(session, self._given, how, self._now, _untold))


class _Server:
    """The server that has the workshop open: it does the work, as it does for its pages."""

    def __init__(self, url: str) -> None:
        self._url = url.rstrip("/")

    def _ask(self, method: str, path: str, body: bytes | None = None) -> Any:
        headers = {"content-type": "application/json"} if body else {}
        request = urllib.request.Request(f"{self._url}/api{path}", body, headers, method=method)
        try:
            with urllib.request.urlopen(request, timeout=_PATIENCE_S) as answer:
                return json.load(answer)
        except urllib.error.HTTPError as error:
            raise WorkshopFileError(_said(error.read()), ExitCode.CANNOT_MAKE) from error
        except OSError as error:
            raise WorkshopFileError(
                f"Weftonos at {self._url} does not answer. Stop it, then try again.", ExitCode.IN_USE
            ) from error

    def _done(self, job: Mapping[str, Any]) -> Mapping[str, Any]:
        while job["state"] == "running":
            time.sleep(_LOOKED_AFTER_S)
            job = self._ask("GET", f"/exchange/jobs/{job['id']}")
        if job["state"] != "done":
            raise WorkshopFileError(job["problem"] or "It was stopped on the page.", ExitCode.CANNOT_MAKE)
        return job

    def give(self, source: Path) -> Mapping[str, Any]:
        found: Mapping[str, Any] = self._ask(
            "POST", f"/exchange/files?name={quote(source.name[:200])}", source.read_bytes()
        )
        self._file = f"/exchange/files/{found['token']}"
        return found

    def machines(self) -> Mapping[str, int]:
        return {each["spec"]["nickname"]: each["id"] for each in self._ask("GET", "/machines")}

    def check(self, choices: Choices) -> tuple[Mapping[str, Any], list[Mapping[str, Any]]]:
        job = self._done(self._ask("POST", f"{self._file}/check", json.dumps(asdict(choices)).encode()))
        return job["checked"], self._ask("GET", f"{self._file}/rows?only=problems&limit={SHOWN}")

    def keep(self, how: HowToKeep) -> Mapping[str, Any]:
        brought: Mapping[str, Any] = self._done(
            self._ask("POST", f"{self._file}/keep", json.dumps(asdict(how)).encode())
        )["brought"]
        return brought


def _said(answer: bytes) -> str:
    """Return the sentence of a refusal."""
    try:
        detail = json.loads(answer)["detail"]
        return str(detail if isinstance(detail, str) else detail[0]["msg"])
    except (ValueError, KeyError, IndexError, TypeError):
        return "Weftonos refused it."


def _untold(_done: int, _total: int) -> None:
    """Nobody watches."""
