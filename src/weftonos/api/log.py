"""The Log station: every record, newest first; corrected, struck out and restored in sight."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.core.logbook import KIND_NAMES, Payload, describe
from weftonos.core.setup import Setup
from weftonos.store.drawer import LARGEST_ID
from weftonos.store.models import AnyPayload, RecordRow

router = APIRouter(prefix="/api/log", tags=["log"])


@dataclass(frozen=True)
class Revision:
    """What happened to a record, and what it said before."""

    at: datetime
    action: str
    said: str
    was_at: datetime | None


@dataclass(frozen=True)
class LogEntry:
    """A record as it reads, with the set-up it was made under and its revisions."""

    id: int
    machine_id: int
    machine: str
    kind: str
    kind_name: str
    at: datetime
    noted_at: datetime
    text: str
    payload: AnyPayload
    setup: Setup
    struck_at: datetime | None
    revisions: Sequence[Revision]


@dataclass(frozen=True)
class LogPage:
    """A page of the log; ``more`` is the id to continue before, or none at the end."""

    entries: Sequence[LogEntry]
    more: int | None


def log_entry(row: RecordRow) -> LogEntry:
    """Return a record as the interface shows it."""
    scale = row.machine.spec.scale
    revisions = [
        Revision(r.at, r.action, describe(r.was, row.setup, scale) if r.was else "", r.was_at) for r in row.revisions
    ]
    return LogEntry(
        row.id,
        row.machine_id,
        row.machine.spec.nickname,
        row.kind,
        KIND_NAMES[row.kind],
        row.at,
        row.noted_at,
        describe(row.payload, row.setup, scale),
        row.payload,
        row.setup,
        row.struck_at,
        revisions,
    )


@router.get("")
def log(
    workshop: WorkshopNow,
    machine: Annotated[int | None, Query(ge=1, le=LARGEST_ID)] = None,
    kind: Annotated[str | None, Query(max_length=30)] = None,
    before: Annotated[int | None, Query(ge=1, le=LARGEST_ID)] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> LogPage:
    """Page through the log, newest first."""
    start = workshop.record(before) if before else None
    rows = workshop.log(machine_id=machine, kind=kind, before=start, limit=limit)
    return LogPage([log_entry(r) for r in rows], rows[-1].id if len(rows) == limit else None)


@dataclass(frozen=True)
class Correction:
    """What a record should say."""

    payload: AnyPayload
    at: datetime


@router.put("/{record_id}")
def correct(record_id: Id, correction: Correction, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Correct a record; what it said before stays with it."""
    payload: Payload = correction.payload
    return log_entry(workshop.correct(record_id, payload, correction.at, now))


@router.post("/{record_id}/strike")
def strike(record_id: Id, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Strike a record out; it stays in the log and counts no longer."""
    return log_entry(workshop.strike(record_id, now))


@router.post("/{record_id}/restore")
def restore(record_id: Id, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Restore a struck record."""
    return log_entry(workshop.restore(record_id, now))
