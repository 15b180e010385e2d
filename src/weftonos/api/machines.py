"""Machines, and the thread line of what is on each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter

from weftonos.api.context import Id, WorkshopNow
from weftonos.api.run import work_of
from weftonos.core.bobbin_target import BobbinTarget
from weftonos.core.incident import Outcome
from weftonos.core.machine import Machine
from weftonos.core.school import School
from weftonos.core.setup import Setup
from weftonos.core.thread_line import Knot, OpenTrouble, knots
from weftonos.store.models import MachineRow
from weftonos.store.workshop import Workshop

router = APIRouter(prefix="/api/machines", tags=["machines"])


@dataclass(frozen=True)
class MachineItem:
    """A machine with what follows from its description."""

    id: int
    spec: Machine
    size_school: School
    bobbin_target: BobbinTarget | None


@dataclass(frozen=True)
class Line:
    """The thread line: the machine, its set-up now, a knot for each station."""

    machine: MachineItem
    setup: Setup
    knots: Sequence[Knot]
    missing: Sequence[str]


def machine_item(row: MachineRow) -> MachineItem:
    """Return a machine as the interface shows it."""
    return MachineItem(row.id, row.spec, row.spec.size_school, row.spec.bobbin_target())


@router.get("")
def machines(workshop: WorkshopNow) -> list[MachineItem]:
    """List the workshop's machines."""
    return [machine_item(row) for row in workshop.machines()]


@router.post("", status_code=201)
def add_machine(spec: Machine, workshop: WorkshopNow) -> MachineItem:
    """Add a machine."""
    return machine_item(workshop.add_machine(spec))


@router.put("/{machine_id}")
def change_machine(machine_id: Id, spec: Machine, workshop: WorkshopNow) -> MachineItem:
    """Describe a machine anew."""
    return machine_item(workshop.change_machine(machine_id, spec))


def _open_trouble(workshop: Workshop, machine_id: int) -> OpenTrouble | None:
    opened = workshop.mending.open_trouble(machine_id)
    if opened is None:
        return None
    incident, state = opened
    return OpenTrouble(incident.words, len(state.answers), state.outcome is Outcome.TECHNICIAN)


@router.get("/{machine_id}/line")
def line(machine_id: Id, workshop: WorkshopNow) -> Line:
    """Say what is on a machine now, station by station."""
    row = workshop.machine(machine_id)
    setup = workshop.setup(machine_id)
    bundle = setup.top_bundle
    thickness = bundle.diameter_mm if bundle else None
    return Line(
        machine_item(row),
        setup,
        knots(
            row.spec,
            setup,
            workshop.kept_at(machine_id),
            thickness,
            workshop.needle_life(machine_id, setup),
            workshop.bobbin_target(machine_id, setup.case.id if setup.case else None),
            _open_trouble(workshop, machine_id),
            workshop.mending.upkeep(machine_id, setup),
            work_of(workshop, machine_id, setup),
        ),
        setup.missing,
    )
