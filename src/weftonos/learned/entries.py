"""Records as they are read: each with its sentence, its set-up and what it said before."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TypedDict

from weftonos.core.kernel.scale import TopScale
from weftonos.core.log.logbook import KIND_NAMES, SAID_BY_SET_UP, Unreadable, describe
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.models import AnyPayload, MachineRow, RecordRow
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class Revision:
    """What happened to a record, and what it said before."""

    at: datetime
    action: str
    said: str
    was_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class LogEntry:
    """A record as it reads, with the set-up it was made under and its revisions.

    Without ``payload`` it could not be read: ``unreadable`` says why, ``written`` is its text.
    """

    id: int
    uid: str
    version: int
    machine_id: int
    machine: str
    kind: str
    kind_name: str
    at: datetime
    noted_at: datetime
    text: str
    payload: AnyPayload | None
    setup: Setup
    struck_at: datetime | None
    revisions: Sequence[Revision]
    unreadable: str = ""
    written: str = ""


def log_entries(workshop: Workshop, rows: Sequence[RecordRow]) -> list[LogEntry]:
    """Return records as the interface shows them; a handful of queries, however many there are."""
    setups = workshop.setups_at(rows)
    said = [row.payload for row in rows] + [r.was for row in rows for r in row.revisions if r.was]
    names = _names_in(workshop, said)
    entries = []
    for row in rows:
        setup, scale = setups[row.id], scale_of(row.machine)
        revisions = [
            Revision(
                at=r.at,
                action=r.action,
                said=describe(r.was, setup, scale, **names) if r.was else "",
                was_at=r.was_at,
            )
            for r in row.revisions
        ]
        lost = row.payload if isinstance(row.payload, Unreadable) else None
        entries.append(
            LogEntry(
                id=row.id,
                uid=row.uid,
                version=row.version,
                machine_id=row.machine_id,
                machine=nickname(row.machine),
                kind=row.kind,
                kind_name=KIND_NAMES.get(row.kind, "Unknown kind"),
                at=row.at,
                noted_at=row.noted_at,
                text=describe(row.payload, setup, scale, **names),
                payload=None if lost else row.payload,
                setup=setup,
                struck_at=row.struck_at,
                revisions=revisions,
                unreadable=lost.why if lost else "",
                written=lost.text if lost else "",
            )
        )
    return entries


def log_entry(workshop: Workshop, row: RecordRow) -> LogEntry:
    """Return one record as the interface shows it."""
    return log_entries(workshop, [row])[0]


@dataclass(frozen=True, kw_only=True)
class Noted:
    """What a write answers: the record's number, name and version, what it says in one line, whether it is struck."""

    id: int
    uid: str
    version: int
    text: str
    struck: bool


def all_noted(workshop: Workshop, rows: Sequence[RecordRow]) -> list[Noted]:
    """Return what is answered to a write of several records; the page asks anew for the rest."""
    said = lines(workshop, rows)
    return [
        Noted(id=row.id, uid=row.uid, version=row.version, text=said[row.id], struck=row.struck_at is not None)
        for row in rows
    ]


def noted(workshop: Workshop, row: RecordRow) -> Noted:
    """Return what is answered to a write."""
    return all_noted(workshop, [row])[0]


def lines(workshop: Workshop, rows: Iterable[RecordRow]) -> dict[int, str]:
    """Return what each record says in one line, by the record."""
    rows = list(rows)
    said = [row.payload for row in rows]
    setups = workshop.setups_at([row for row in rows if isinstance(row.payload, SAID_BY_SET_UP)])
    names = _names_in(workshop, said)
    return {row.id: describe(row.payload, setups.get(row.id, Setup()), scale_of(row.machine), **names) for row in rows}


class _Names(TypedDict):
    """What the things are called that records name."""

    threads: Mapping[int, DrawerThread]
    recipes: Mapping[int, str]
    passes: Mapping[tuple[int, int], str]
    labels: Mapping[str, str]


def _names_in(workshop: Workshop, said: Sequence[AnyPayload]) -> _Names:
    return _Names(
        threads=workshop.threads_named(said),
        recipes=workshop.recipe_names(said),
        passes=workshop.pass_names(said),
        labels=workshop.part_labels(said),
    )


def scale_of(machine: MachineRow) -> TopScale | None:
    """Return the scale a machine is set on; ``None`` where its description can't be read."""
    return machine.spec.scale if isinstance(machine.spec, Machine) else None


def nickname(machine: MachineRow) -> str:
    """Return a machine's name, or its number where its description can't be read."""
    return machine.spec.nickname if isinstance(machine.spec, Machine) else f"machine {machine.id}"
