"""The Bobbin station: readings judged and kept, the screw, the hang test, the swap, the winding plan."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

from weftonos.core.bobbin.events import (
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
from weftonos.core.bobbin.gauge import GaugeAnswer, Pull, read_gauge
from weftonos.core.bobbin.own_number import OwnNumber
from weftonos.core.bobbin.screw import ScrewTurn
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.bobbin.winding import WindingPlan, winding_plan
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit, hanging_tension_mn
from weftonos.core.setup.setup import Setup
from weftonos.stations.log import LogEntry, log_entries, log_entry
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class BobbinStation:
    """What is loaded, the range to be in, the machine's own number, the last reading judged, and those before."""

    setup: Setup
    unit: ForceUnit
    target: BobbinTarget | None
    usual: BobbinTarget | None
    own: OwnNumber | None
    last: GaugeAnswer | None
    recent: Sequence[LogEntry]


@dataclass(frozen=True, kw_only=True)
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


def bobbin_station(workshop: Workshop, machine_id: int) -> BobbinStation:
    """Say what the bobbin should read and what it read lately."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    target = workshop.bobbin_target(machine_id, setup.case.id if setup.case else None)
    kept, last = workshop.present(machine_id).in_force.reading, None
    if kept and isinstance(reading := kept.payload, BobbinReading):
        last = read_gauge(reading.unit, reading.pulls, target, _turns(workshop, reading.case))
    recent = workshop.log(machine_id=machine_id, kind=BobbinReading.kind, limit=8).items
    return BobbinStation(
        setup=setup,
        unit=machine.gauge_unit,
        target=target,
        usual=machine.bobbin_target(),
        own=workshop.own_number(machine_id),
        last=last,
        recent=log_entries(workshop, recent),
    )


def judge(workshop: Workshop, machine_id: int, pulls: Pulls) -> GaugeAnswer:
    """Judge pulls for this machine, with what is known of the case's screw, without keeping them."""
    target = _target(workshop, machine_id, pulls.case)
    return read_gauge(pulls.unit, pulls.pulls, target, _turns(workshop, pulls.case))


def keep_reading(workshop: Workshop, machine_id: int, pulls: Pulls, now: datetime) -> LogEntry:
    """Judge pulls and keep them in the log; a reading in the wrong unit is asked about, not kept."""
    reading = BobbinReading.of(
        pulls.unit,
        tuple(pulls.pulls),
        _target(workshop, machine_id, pulls.case),
        note=pulls.note,
        case=pulls.case,
        method=pulls.method,
        conditions=pulls.conditions,
    )
    return log_entry(workshop, workshop.note(machine_id, reading, pulls.at or now, now))


def _target(workshop: Workshop, machine_id: int, case_id: int | None) -> BobbinTarget | None:
    if case_id is not None:
        workshop.rack.usable_case(case_id)
    return workshop.bobbin_target(machine_id, case_id)


@dataclass(frozen=True)
class Hanging:
    """The hang test on a kitchen scale: what hangs when the case just creeps, in grams."""

    grams: float
    case: int | None = None


def keep_hang_test(workshop: Workshop, machine_id: int, hanging: Hanging, now: datetime) -> LogEntry:
    """Keep a weighed hang test as a reading."""
    hanging_tension_mn(hanging.grams)
    pulls = Pulls(unit=ForceUnit.GF, pulls=[Pull(value=hanging.grams)], case=hanging.case, method=Method.HANG)
    return keep_reading(workshop, machine_id, pulls, now)


@dataclass(frozen=True)
class ByHand:
    """A plain hang or palm test: right, loose or tight."""

    test: HandLook
    feel: Feel
    case: int | None = None


def keep_hand_look(workshop: Workshop, machine_id: int, look: ByHand, now: datetime) -> LogEntry:
    """Keep a plain hang or palm test as a look."""
    seen = BobbinLook(test=look.test, feel=look.feel, case=look.case)
    return log_entry(workshop, workshop.note(machine_id, seen, now, now))


@dataclass(frozen=True)
class Turned:
    """A turn of a case's screw, in minutes; above 0 tightens."""

    case: int
    minutes: float


def turn_screw(workshop: Workshop, machine_id: int, turned: Turned, now: datetime) -> LogEntry:
    """Record a turn of the screw; the next reading teaches how this case answers."""
    return log_entry(workshop, workshop.note(machine_id, ScrewTurned(turned.case, turned.minutes), now, now))


@dataclass(frozen=True)
class Mark:
    """A fault found on a part of the rack; an empty one says it is sound again."""

    part: Part
    id: int
    fault: str


def mark(workshop: Workshop, machine_id: int, found: Mark, now: datetime) -> LogEntry:
    """Mark a case or bobbin."""
    marked = PartMarked(part=found.part, id=found.id, fault=found.fault)
    return log_entry(workshop, workshop.note(machine_id, marked, now, now))


@dataclass(frozen=True, kw_only=True)
class PlanQuestion:
    """A bobbin class, how it is stitched, and the quilt: metres, and lines so far apart."""

    bobbin_class: BobbinClass
    stitch_length_mm: float = 3
    sandwich_mm: float = 2
    quilt_width_m: float = 1.5
    quilt_height_m: float = 2
    lines_apart_mm: float = 15


def plan(workshop: Workshop, machine_id: int, question: PlanQuestion) -> WindingPlan:
    """Say what is on a bobbin of the thread that is loaded, and how many the quilt takes."""
    workshop.machine(machine_id)
    thread = workshop.setup(machine_id).bobbin_thread
    if thread is None:
        raise CraftError("Choose the bobbin thread first.", "bobbin_class")
    return winding_plan(
        size=question.bobbin_class,
        thread=thread,
        stitch_length_mm=question.stitch_length_mm,
        sandwich_mm=question.sandwich_mm,
        quilt_width_m=question.quilt_width_m,
        quilt_height_m=question.quilt_height_m,
        lines_apart_mm=question.lines_apart_mm,
    )
