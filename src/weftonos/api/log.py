"""The Log station: every record, newest first; corrected, struck out and restored in sight."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import AwareDatetime, BaseModel, Field, StringConstraints

from weftonos.api.context import Id, Now, Seen, WorkshopNow
from weftonos.core.log.logbook import KIND_NAMES
from weftonos.stations import log as station
from weftonos.store.drawer import LARGEST_ID
from weftonos.store.models import AnyPayload

KindName = Annotated[str, StringConstraints(max_length=30)]
router = APIRouter(prefix="/api/log", tags=["log"])


class LogQuery(BaseModel):
    """What of the log to show."""

    machine: int | None = Field(None, ge=1, le=LARGEST_ID)
    kind: list[KindName] = Field([], max_length=len(KIND_NAMES))
    quilt: str | None = Field(None, max_length=80)
    since: AwareDatetime | None = Field(None, description="From this moment on.")
    until: AwareDatetime | None = Field(None, description="Before this moment.")
    words: str = Field("", max_length=200, description="Each of them must be there.")
    before: int | None = Field(None, ge=1, le=LARGEST_ID)
    limit: int = Field(50, ge=1, le=200)


def search_of(query: LogQuery) -> station.LogSearch:
    """Return a question as the log's station takes it."""
    return station.LogSearch(kinds=query.kind, **query.model_dump(exclude={"kind"}))


@router.get("")
def log(workshop: WorkshopNow, query: Annotated[LogQuery, Query()]) -> station.LogPage:
    """Search the log and page through it, newest first."""
    return station.log_page(workshop, search_of(query))


@router.get("/unreadable")
def unreadable(workshop: WorkshopNow) -> list[station.ShownAsWritten]:
    """List every document that cannot be read, as it was written; it takes no part in anything."""
    return station.unreadable(workshop)


@dataclass(frozen=True)
class Correction:
    """What a record should say."""

    payload: AnyPayload
    at: datetime


@router.put("/{record_id}")
def correct(record_id: Id, correction: Correction, workshop: WorkshopNow, now: Now, seen: Seen) -> station.LogEntry:
    """Correct a record; what it said before stays with it."""
    row = workshop.correct(record_id, correction.payload, correction.at, now, seen)
    return station.log_entry(workshop, row)


@router.post("/{record_id}/strike")
def strike(record_id: Id, workshop: WorkshopNow, now: Now) -> station.LogEntry:
    """Strike a record out; it stays in the log and counts no longer."""
    return station.log_entry(workshop, workshop.strike(record_id, now))


@router.post("/{record_id}/restore")
def restore(record_id: Id, workshop: WorkshopNow, now: Now) -> station.LogEntry:
    """Restore a struck record."""
    return station.log_entry(workshop, workshop.restore(record_id, now))
