"""Machines, and the thread line of what is on each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.events import BobbinReading
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.schools import School
from weftonos.core.line.thread_line import Knot, OpenTrouble, Untested, knots
from weftonos.core.mend.incident import Outcome
from weftonos.core.setup.fold import Event
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.setup.turned import Tension, as_then
from weftonos.core.thread.path import check_new_path
from weftonos.learned.balance import knob_stands, turned_since, unstitched
from weftonos.learned.bobbin_left import work_of
from weftonos.learned.bobbins import bobbin_waits, felt_off, lacking, turn_known
from weftonos.learned.open_trouble import open_incident
from weftonos.learned.own_records import life_of
from weftonos.learned.recipe_in_use import InUse, recipe_in_use
from weftonos.learned.time_on import time_on
from weftonos.store.models import MachineRow
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class MachineItem:
    """A machine with what follows from its description; ``features`` is what it has, or may have."""

    id: int
    uid: str
    version: int
    spec: Machine
    size_school: School
    bobbin_target: BobbinTarget | None
    features: Sequence[Feature]


@dataclass(frozen=True, kw_only=True)
class ThreadLine:
    """The thread line: the machine, its set-up now, a knot for each station, and the recipe that is being put back."""

    machine: MachineItem
    setup: Setup
    knots: Sequence[Knot]
    missing: Sequence[str]
    recipe: InUse | None


def machine_item(row: MachineRow) -> MachineItem:
    """Return a machine as the interface shows it."""
    return MachineItem(
        id=row.id,
        uid=row.uid,
        version=row.version,
        spec=row.spec,
        size_school=row.spec.size_school,
        bobbin_target=row.spec.bobbin_target(),
        features=sorted(row.spec.features),
    )


def machine_items(workshop: Workshop) -> list[MachineItem]:
    """List the workshop's machines."""
    return [machine_item(row) for row in workshop.machines()]


def add_machine(workshop: Workshop, spec: Machine) -> MachineItem:
    """Add a machine."""
    return machine_item(workshop.add_machine(spec))


def change_machine(workshop: Workshop, machine_id: int, spec: Machine, seen: int | None = None) -> MachineItem:
    """Describe a machine anew."""
    if spec.path is not None and spec.path != workshop.machine(machine_id).spec.path:
        check_new_path(spec.path)
    return machine_item(workshop.change_machine(machine_id, spec, seen))


def _open_trouble(workshop: Workshop, machine_id: int) -> OpenTrouble | None:
    if (opened := open_incident(workshop, machine_id)) is None:
        return None
    incident, state = opened
    return OpenTrouble(incident.words, len(state.answers), state.outcome is Outcome.TECHNICIAN)


def _found(setup: Setup, kept: Event | None) -> Recipe | None:
    """Return the combination that was kept since the last look, at the setting that was found from several."""
    if kept is None or setup.look is None or kept.at < setup.look.stitched_at:
        return None
    recipe = kept.payload
    return recipe if isinstance(recipe, Recipe) and recipe.last_look == setup.look.setting else None


def _look_counts(workshop: Workshop, machine_id: int) -> bool:
    """Say whether the last test line was stitched at the bobbin tension of now."""
    present = workshop.present(machine_id)
    if (look := present.in_force.look) is None:
        return True

    def says(event: Event | None) -> Tension:
        mn = event.payload.mean_mn if event and isinstance(event.payload, BobbinReading) else None
        return Tension(event.id if event else None, mn)

    then, now = says(present.look_reading), says(present.in_force.reading)
    return as_then(then, now, lambda: turned_since(workshop, machine_id, look.at))


def line(workshop: Workshop, machine_id: int) -> ThreadLine:
    """Say what is on a machine now, station by station."""
    row = workshop.machine(machine_id)
    setup, present = workshop.setup(machine_id), workshop.present(machine_id)
    on, stands = time_on(workshop, machine_id, setup), knob_stands(workshop, machine_id, setup)
    before = unstitched(workshop, machine_id, setup)
    waits = bobbin_waits(workshop, machine_id, setup)
    return ThreadLine(
        machine=machine_item(row),
        setup=setup,
        knots=knots(
            machine=row.spec,
            setup=setup,
            kept_at=present.recipe.at if present.recipe else None,
            life=life_of(workshop, machine_id, setup, on),
            target=workshop.bobbin_target(machine_id, setup.case.id if setup.case else None),
            trouble=_open_trouble(workshop, machine_id),
            due=on.upkeep,
            work=work_of(workshop, machine_id, setup),
            found=_found(setup, present.recipe),
            waits=waits,
            off=felt_off(workshop, machine_id, setup),
            turn=turn_known(workshop, machine_id, setup),
            look_counts=_look_counts(workshop, machine_id),
            knob=stands.advice if stands else None,
            untested=Untested(before.start.words(row.spec.scale), before.skip) if before and before.skip else None,
        ),
        missing=lacking(workshop, machine_id, setup, waits),
        recipe=recipe_in_use(workshop, machine_id),
    )
