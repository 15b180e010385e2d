"""``weftonos export`` and ``weftonos import``: the same as on the page, by command."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import typer
from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.stations.exchange import BroughtIn, Given, HowToKeep, check_table, keep, look_into
from weftonos.stations.export import Wanted, write_everything
from weftonos.stations.table_kinds import Choices, TableKind, guess, mapping
from weftonos.store.archive import in_words
from weftonos.store.bringing import Differing
from weftonos.store.database import open_workshop, reading
from weftonos.store.file_errors import ExitCode, WorkshopFileError
from weftonos.store.workshop import Workshop

#: Rows with a problem that are shown.
SHOWN = 10


def export_to(data_dir: Path, target: Path, *, pictures: bool, zone: str) -> Mapping[str, int]:
    """Write everything into a zip; raises :class:`WorkshopFileError` for a name that is taken."""
    if target.exists():
        raise WorkshopFileError(f"{target} exists already. Choose another name.", ExitCode.CANNOT_MAKE)
    if not target.parent.is_dir():
        raise WorkshopFileError(f"There is no folder {target.parent}. Make it first.", ExitCode.MISSING)
    engine = open_workshop(data_dir)
    try:
        with Session(reading(engine)) as session, session.begin():
            wanted = Wanted(pictures=pictures, zone=zone)
            return write_everything(session, target, wanted, datetime.now(UTC), _untold)
    finally:
        engine.dispose()


def import_from(data_dir: Path, source: Path, choose: Mapping[str, Any], *, yes: bool) -> BroughtIn | None:
    """Bring a file in: shows what would be kept, asks, and keeps it whole or not at all.

    ``choose`` holds ``kind``, ``machine``, ``leave_out`` and ``take`` as they were given.
    """
    if not source.is_file():
        raise WorkshopFileError(f"There is no file {source}.", ExitCode.MISSING)
    engine = open_workshop(data_dir)
    now = datetime.now(UTC)
    try:
        given = look_into(source, source.name)
        with Session(reading(engine)) as session, session.begin():
            _show(session, given, choose, now)
        if not yes and not typer.confirm("Bring it in?"):
            return None
        how = HowToKeep(
            leave_out=bool(choose["leave_out"]), differing=Differing.TAKE if choose["take"] else Differing.KEEP
        )
        with Session(engine) as session, session.begin():
            return keep(session, given, how, now, _untold)
    except CraftError as error:
        raise WorkshopFileError(str(error), ExitCode.CANNOT_MAKE) from error
    finally:
        engine.dispose()


def _show(session: Session, given: Given, choose: Mapping[str, Any], now: datetime) -> None:
    if given.sheet is None:
        counts = given.archive.counts if given.archive else {}
        typer.echo(f"A whole workshop: {in_words(counts)}.")
        return
    workshop = Workshop(session)
    kind = TableKind(choose["kind"]) if choose["kind"] else guess(given.sheet).kind
    named = {m.spec.nickname.casefold(): m.id for m in workshop.machines()}
    if (wanted := choose["machine"]) and str(wanted).casefold() not in named:
        known = ", ".join(m.spec.nickname for m in workshop.machines()) or "none yet"
        raise WorkshopFileError(f"There is no machine “{wanted}” here. There are: {known}.", ExitCode.MISSING)
    machine = named[str(wanted).casefold()] if wanted else next(iter(named.values()), None)
    choices = Choices(
        kind=kind,
        columns=mapping(given.sheet, kind),
        machine=machine,
        decimal_comma=given.sheet.decimal_comma,
        day_first=given.sheet.day_first is not False,
    )
    found = check_table(workshop, given, choices, now, _untold)
    typer.echo(
        f"{found.rows} rows of {kind}: {found.good} new, {found.doubles} here already, {found.problems} with a problem."
    )
    for row in [row for row in given.rows if row.problem][:SHOWN]:
        typer.echo(f"  row {row.number}: {row.problem}")


def _untold(_done: int, _total: int) -> None:
    """Nobody watches."""
