"""Past troubles, the list before a quilt, and upkeep."""

from __future__ import annotations

from collections.abc import Sequence

from fastapi import APIRouter

from weftonos.api.context import Done, Id, WorkshopNow
from weftonos.api.strict import StrictRoute
from weftonos.core.mend.preflight import PreflightList
from weftonos.core.mend.upkeep import UpkeepState
from weftonos.learned.entries import Noted
from weftonos.stations import upkeep as station

router = APIRouter(prefix="/api/machines/{machine_id}", tags=["mend"], route_class=StrictRoute)


@router.get("/troubles")
def past_troubles(machine_id: Id, workshop: WorkshopNow) -> station.Troubles:
    """List past troubles with their paths, and what they have taught."""
    return station.past_troubles(workshop, machine_id)


@router.get("/preflight")
def preflight_list(machine_id: Id, workshop: WorkshopNow) -> PreflightList:
    """Return the short list before a new quilt, made for what is on the machine."""
    return station.preflight_list(workshop, machine_id)


@router.post("/preflight", status_code=201)
def note_preflight(machine_id: Id, flown: station.Flown, workshop: WorkshopNow, now: Done) -> Noted:
    """Note that the list was gone through."""
    return station.note_preflight(workshop, machine_id, flown, now)


@router.get("/upkeep")
def upkeep(machine_id: Id, workshop: WorkshopNow) -> Sequence[UpkeepState]:
    """Say how upkeep stands, in stitching hours."""
    return station.upkeep(workshop, machine_id)


@router.post("/upkeep", status_code=201)
def note_upkeep(machine_id: Id, kept: station.UpkeepDone, workshop: WorkshopNow, now: Done) -> Noted:
    """Note upkeep."""
    return station.note_upkeep(workshop, machine_id, kept, now)
