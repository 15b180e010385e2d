"""The Balance station: stitched looks, and the combination worth keeping."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

from fastapi import APIRouter

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.core.errors import CraftError, in_words
from weftonos.core.logbook import Recipe, StitchedLook
from weftonos.core.sandwich import Motion, Sandwich
from weftonos.core.setup import Setup
from weftonos.core.starting_tension import StartTension, start_tension
from weftonos.core.top_scale import TopScale

router = APIRouter(prefix="/api/machines/{machine_id}", tags=["balance"])


@dataclass(frozen=True)
class BalanceStation:
    """The scale, where to start, the looks of this combination, newest first."""

    setup: Setup
    scale: TopScale
    start: StartTension | None
    recent: Sequence[LogEntry]
    missing: Sequence[str]


@dataclass(frozen=True)
class Look:
    """A stitched step: its setting, the grade picked, how it was sewn, and when if not now."""

    setting: float
    grade: int
    motion: Motion = Motion.FREE_MOTION
    sandwich: Sandwich = field(default_factory=Sandwich)
    note: str = ""
    at: datetime | None = None


@dataclass(frozen=True)
class Keep:
    """A name for the combination that is on the machine."""

    name: str
    note: str = ""


@router.get("/balance")
def balance_station(machine_id: Id, workshop: WorkshopNow) -> BalanceStation:
    """Say where to start and what was seen so far."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    top = workshop.bundle(setup)
    bobbin = workshop.bobbin_thread(setup)
    start = start_tension(machine.kind, top, bobbin) if top else None
    recent = [log_entry(r) for r in workshop.log(machine_id=machine_id, kind="look", limit=12)]
    return BalanceStation(setup, machine.scale, start, recent, setup.missing)


@router.post("/looks", status_code=201)
def keep_look(machine_id: Id, look: Look, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Keep a stitched look with the set-up it was made under."""
    stitched = StitchedLook(look.setting, look.grade, look.motion, look.sandwich, look.note)
    return log_entry(workshop.note(machine_id, stitched, look.at or now, now))


@router.post("/recipes", status_code=201)
def keep_combination(machine_id: Id, keep: Keep, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Keep what is on the machine as one recipe: threads, needle, bobbin number, setting, grade."""
    setup = workshop.setup(machine_id)
    if setup.missing or not setup.look or not setup.reading:
        raise CraftError(
            f"Before this can be kept it needs {in_words(setup.missing).replace(' or ', ' and ')}.", "name"
        )
    recipe = Recipe(
        keep.name,
        setup.look.setting,
        setup.look.grade,
        setup.reading.mean_mn,
        setup.look.motion,
        keep.note,
    )
    return log_entry(workshop.note(machine_id, recipe, now, now))
