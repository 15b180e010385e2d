"""Machines, and the thread line of what is on each."""

from __future__ import annotations

from fastapi import APIRouter

from weftonos.api.context import Id, Seen, WorkshopNow
from weftonos.api.strict import StrictRoute
from weftonos.core.setup.machine import Machine
from weftonos.stations import line as station

router = APIRouter(prefix="/api/machines", tags=["machines"], route_class=StrictRoute)


@router.get("")
def machines(workshop: WorkshopNow) -> list[station.MachineItem]:
    """List the workshop's machines."""
    return station.machine_items(workshop)


@router.post("", status_code=201)
def add_machine(spec: Machine, workshop: WorkshopNow) -> station.MachineItem:
    """Add a machine."""
    return station.add_machine(workshop, spec)


@router.put("/{machine_id}")
def change_machine(machine_id: Id, spec: Machine, workshop: WorkshopNow, seen: Seen) -> station.MachineItem:
    """Describe a machine anew."""
    return station.change_machine(workshop, machine_id, spec, seen)


@router.get("/{machine_id}/line")
def line(machine_id: Id, workshop: WorkshopNow) -> station.ThreadLine:
    """Say what is on a machine now, station by station."""
    return station.line(workshop, machine_id)
