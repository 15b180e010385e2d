"""The Log station: every record, newest first; corrected, struck out and restored in sight."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query

from weftonos.api.context import Id, Now, Seen, WorkshopNow
from weftonos.api.queries import LogQuery
from weftonos.api.strict import StrictRoute
from weftonos.learned.entries import LogEntry, Noted, log_entry, noted
from weftonos.stations import log as station
from weftonos.store.models import AnyPayload

router = APIRouter(prefix="/api/log", tags=["log"], route_class=StrictRoute)


@router.get("")
def log(workshop: WorkshopNow, query: Annotated[LogQuery, Query()]) -> station.LogPage:
    """Search the log and page through it, newest first."""
    return station.log_page(workshop, query.search())


@router.get("/unreadable")
def unreadable(workshop: WorkshopNow) -> list[station.ShownAsWritten]:
    """List every document that can't be read, as it was written; it takes no part in anything."""
    return station.unreadable(workshop)


@router.get("/{record_id}")
def record(record_id: Id, workshop: WorkshopNow) -> LogEntry:
    """Return one record with its set-up, and what it said before."""
    return log_entry(workshop, workshop.record(record_id))


@dataclass(frozen=True, kw_only=True)
class Correction:
    """What a record should say."""

    payload: AnyPayload
    at: datetime


@router.put("/{record_id}")
def correct(record_id: Id, correction: Correction, workshop: WorkshopNow, now: Now, seen: Seen) -> Noted:
    """Correct a record; what it said before stays with it."""
    row = workshop.correct(record_id, correction.payload, correction.at, now, seen)
    return noted(workshop, row)


@router.post("/{record_id}/strike")
def strike(record_id: Id, workshop: WorkshopNow, now: Now) -> Noted:
    """Strike a record out; it stays in the log and counts no longer."""
    return noted(workshop, workshop.strike(record_id, now))


@router.post("/{record_id}/restore")
def restore(record_id: Id, workshop: WorkshopNow, now: Now) -> Noted:
    """Restore a struck record."""
    return noted(workshop, workshop.restore(record_id, now))
