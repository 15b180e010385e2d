"""The Bobbin station: readings judged and kept, the screw, the hang test, the swap, the winding plan."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

from fastapi import APIRouter

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.api.run import still_on_the_bobbin
from weftonos.core.bobbin_target import BobbinTarget
from weftonos.core.cross_swap import SwapAnswer, cross_swap
from weftonos.core.errors import CraftError
from weftonos.core.force import ForceUnit, hanging_tension_mn
from weftonos.core.gauge import GaugeAnswer, Pull, read_gauge
from weftonos.core.logbook import (
    BobbinLook,
    BobbinReading,
    Feel,
    HandLook,
    Method,
    Part,
    PartMarked,
    ReadingConditions,
    ScrewTurned,
)
from weftonos.core.own_number import OwnNumber
from weftonos.core.screw import ScrewTurn
from weftonos.core.setup import Setup
from weftonos.core.thread_use import BobbinClass
from weftonos.core.winding import BobbinLeft, WindingPlan, winding_plan
from weftonos.store.workshop import Workshop

router = APIRouter(prefix="/api/machines/{machine_id}", tags=["bobbin"])


@dataclass(frozen=True)
class BobbinStation:
    """What is loaded, the range to be in, the machine's own number, the last reading judged, and those before."""

    setup: Setup
    unit: ForceUnit
    target: BobbinTarget | None
    usual: BobbinTarget | None
    own: OwnNumber | None
    last: GaugeAnswer | None
    recent: Sequence[LogEntry]


@dataclass(frozen=True)
class Pulls:
    """Pulls in the gauge's unit, of which case, by which method, under what, and when if not now."""

    unit: ForceUnit
    pulls: list[Pull]
    note: str = ""
    case: int | None = None
    method: Method = Method.GAUGE
    conditions: ReadingConditions = field(default_factory=ReadingConditions)
    at: datetime | None = None


def _turns(workshop: Workshop, case_id: int | None) -> Sequence[ScrewTurn]:
    return workshop.rack.history(case_id).turns if case_id is not None else ()


@router.get("/readings")
def bobbin_station(machine_id: Id, workshop: WorkshopNow) -> BobbinStation:
    """Say what the bobbin should read and what it read lately."""
    machine = workshop.machine(machine_id).spec
    recent = [log_entry(r) for r in workshop.log(machine_id=machine_id, kind="bobbin_reading", limit=8)]
    setup = workshop.setup(machine_id)
    case = setup.case.id if setup.case else None
    target = workshop.bobbin_target(machine_id, case)
    last = None
    if setup.reading and isinstance(kept := workshop.record(setup.reading.record_id).payload, BobbinReading):
        last = read_gauge(kept.unit, kept.pulls, target, _turns(workshop, kept.case))
    return BobbinStation(
        setup,
        machine.gauge_unit,
        target,
        machine.bobbin_target(),
        workshop.own_number(machine_id),
        last,
        recent,
    )


@router.post("/readings/judge")
def judge(machine_id: Id, pulls: Pulls, workshop: WorkshopNow) -> GaugeAnswer:
    """Judge pulls for this machine, with what is known of the case's screw, without keeping them."""
    target = workshop.bobbin_target(machine_id, pulls.case)
    return read_gauge(pulls.unit, pulls.pulls, target, _turns(workshop, pulls.case))


@router.post("/readings", status_code=201)
def keep_reading(machine_id: Id, pulls: Pulls, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Judge pulls and keep them in the log; a reading in the wrong unit is asked about, not kept."""
    reading = BobbinReading.of(
        pulls.unit,
        tuple(pulls.pulls),
        workshop.bobbin_target(machine_id, pulls.case),
        pulls.note,
        pulls.case,
        pulls.method,
        pulls.conditions,
    )
    return log_entry(workshop.note(machine_id, reading, pulls.at or now, now))


@dataclass(frozen=True)
class Hanging:
    """The hang test on a kitchen scale: what hangs when the case just creeps, in grams."""

    grams: float
    case: int | None = None


@router.post("/hang-test", status_code=201)
def keep_hang_test(machine_id: Id, hanging: Hanging, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Keep a weighed hang test as a reading."""
    hanging_tension_mn(hanging.grams)
    pulls = Pulls(ForceUnit.GF, [Pull(value=hanging.grams)], case=hanging.case, method=Method.HANG)
    return keep_reading(machine_id, pulls, workshop, now)


@dataclass(frozen=True)
class ByHand:
    """A plain hang or palm test: right, loose or tight."""

    test: HandLook
    feel: Feel
    case: int | None = None


@router.post("/hand-looks", status_code=201)
def keep_hand_look(machine_id: Id, look: ByHand, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Keep a plain hang or palm test as a look."""
    return log_entry(workshop.note(machine_id, BobbinLook(look.test, look.feel, look.case), now, now))


@dataclass(frozen=True)
class Turned:
    """A turn of a case's screw, in minutes; above 0 tightens."""

    case: int
    minutes: float


@router.post("/screw", status_code=201)
def turn_screw(machine_id: Id, turned: Turned, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Record a turn of the screw; the next reading teaches how this case answers."""
    return log_entry(workshop.note(machine_id, ScrewTurned(turned.case, turned.minutes), now, now))


@dataclass(frozen=True)
class Swap:
    """Whether each swap still flutters, as far as it was read, and the parts that were swapped."""

    same_bobbin_other_case: bool | None = None
    other_bobbin_same_case: bool | None = None


@router.post("/cross-swap")
def swap(machine_id: Id, question: Swap, workshop: WorkshopNow) -> SwapAnswer:
    """Say which part flutters, or what to read next."""
    workshop.machine(machine_id)
    return cross_swap(question.same_bobbin_other_case, question.other_bobbin_same_case)


@dataclass(frozen=True)
class Mark:
    """A fault found on a part of the rack; an empty one says it is sound again."""

    part: Part
    id: int
    fault: str


@router.post("/marks", status_code=201)
def mark(machine_id: Id, found: Mark, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Mark a case or bobbin."""
    return log_entry(workshop.note(machine_id, PartMarked(found.part, found.id, found.fault), now, now))


@dataclass(frozen=True)
class PlanQuestion:
    """A bobbin class, how it is stitched, and the quilt: metres, and lines so far apart."""

    bobbin_class: BobbinClass
    stitch_length_mm: float = 3
    sandwich_mm: float = 2
    quilt_width_m: float = 1.5
    quilt_height_m: float = 2
    lines_apart_mm: float = 15


@router.post("/winding-plan")
def plan(machine_id: Id, question: PlanQuestion, workshop: WorkshopNow) -> WindingPlan:
    """Say what is on a bobbin of the thread that is loaded, and how many the quilt takes."""
    thread = workshop.setup(machine_id).bobbin_thread
    if thread is None:
        raise CraftError("Choose the bobbin thread first.", "bobbin_class")
    return winding_plan(
        question.bobbin_class,
        thread,
        question.stitch_length_mm,
        question.sandwich_mm,
        question.quilt_width_m,
        question.quilt_height_m,
        question.lines_apart_mm,
    )


@dataclass(frozen=True)
class LeftQuestion:
    """How it is stitched, the metres stitched since the bobbin was loaded, and the next line in metres."""

    bobbin_class: BobbinClass
    stitched_m: float
    stitch_length_mm: float = 3
    sandwich_mm: float = 2
    next_line_m: float | None = None


@router.post("/bobbin-left")
def left(machine_id: Id, question: LeftQuestion, workshop: WorkshopNow) -> BobbinLeft:
    """Say how far the bobbin that is in still goes."""
    return still_on_the_bobbin(
        workshop,
        machine_id,
        workshop.setup(machine_id),
        question.stitched_m,
        question.stitch_length_mm,
        question.sandwich_mm,
        question.next_line_m,
        question.bobbin_class,
    )
