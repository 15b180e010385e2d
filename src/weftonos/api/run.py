"""The Run station: the clock, what is stitched, how far the bobbin still goes, and what to see to first."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query

from weftonos.api.context import Done, Id, Now, WorkshopNow
from weftonos.api.strict import StrictRoute
from weftonos.core.log.run import ClockStarted
from weftonos.learned.entries import Noted
from weftonos.stations import breaks
from weftonos.stations import run as station

router = APIRouter(prefix="/api/machines/{machine_id}", tags=["run"], route_class=StrictRoute)


@router.get("/run")
def run_station(
    machine_id: Id, workshop: WorkshopNow, next_line_m: Annotated[float | None, Query(ge=0, le=1000)] = None
) -> station.RunStation:
    """Say what is being quilted and how far bobbin and needle still go; whether it lasts for the next line."""
    return station.run_station(workshop, machine_id, next_line_m)


@router.post("/runs", status_code=201)
def note_run(machine_id: Id, sewn: station.StitchedTime, workshop: WorkshopNow, now: Done) -> Noted:
    """Note stitching time by hand."""
    return station.note_run(workshop, machine_id, sewn, now)


@router.post("/clock/start", status_code=201)
def start_clock(machine_id: Id, start: ClockStarted, workshop: WorkshopNow, now: Done) -> Noted:
    """Start the stitching clock."""
    return station.start_clock(workshop, machine_id, start, now)


@router.get("/walks")
def walks_done(machine_id: Id, workshop: WorkshopNow) -> Mapping[str, datetime]:
    """Return when each procedure was last walked on this machine."""
    return station.walks_done(workshop, machine_id)


@dataclass(frozen=True, kw_only=True)
class Walked:
    """A procedure that was walked to its end, by its name on the page of procedures."""

    walk: str


@router.post("/walks", status_code=201)
def note_walk(machine_id: Id, walked: Walked, workshop: WorkshopNow, now: Done) -> Noted:
    """Note that a procedure was walked to its end."""
    return station.note_walk(workshop, machine_id, walked.walk, now)


@dataclass(frozen=True, kw_only=True)
class Stopped:
    """The meters stitched while the clock ran, where they are known."""

    meters: float | None = None


@router.post("/clock/stop", status_code=201)
def stop_clock(machine_id: Id, workshop: WorkshopNow, now: Done, stopped: Stopped | None = None) -> Noted:
    """Stop the stitching clock; what it counted becomes a run."""
    return station.stop_clock(workshop, machine_id, stopped.meters if stopped else None, now)


@dataclass(frozen=True, kw_only=True)
class BreakTapped:
    """How the thread broke, by the name on the page of troubles."""

    symptom: str = "clean_snap_of_the_top_thread"


@router.get("/breaks")
def breaks_station(machine_id: Id, workshop: WorkshopNow, now: Now) -> breaks.BreaksStation:
    """Say how often thread breaks with what is on, and what to do first about each kind of break."""
    return breaks.breaks_station(workshop, machine_id, now)


@router.post("/breaks", status_code=201)
def note_break(machine_id: Id, broke: BreakTapped, workshop: WorkshopNow, now: Done) -> breaks.BreakNoted:
    """Note that thread broke, was rethreaded and sewn on: one break, counted once, without looking for its cause."""
    return breaks.note_break(workshop, machine_id, broke.symptom, now)


@router.post("/breaks/{incident_id}/cause", status_code=201)
def look_into(machine_id: Id, incident_id: Id, workshop: WorkshopNow, now: Done) -> Noted:
    """Look for the cause of a break that was noted in one tap: the same record is open at Mend, counted once."""
    return breaks.look_into(workshop, machine_id, incident_id, now)


@dataclass(frozen=True, kw_only=True)
class Fresh:
    """Whether the bobbin before was sewn until it was empty."""

    emptied: bool = False


@router.post("/bobbin/again", status_code=201)
def fresh_bobbin(machine_id: Id, workshop: WorkshopNow, now: Done, fresh: Fresh | None = None) -> Noted:
    """Load a fresh, full bobbin of the same thread in the same case; its tension wants reading again."""
    return station.fresh_bobbin(workshop, machine_id, now, emptied=fresh is not None and fresh.emptied)
