"""The Run station: the clock, what is stitched, how far the bobbin still goes, and what to see to first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.core.errors import CraftError
from weftonos.core.logbook import LONGEST_RUN_H, BobbinLoaded, ClockStarted, Run
from weftonos.core.needle_life import NeedleLife
from weftonos.core.pace import Pace, Stitched, stitched
from weftonos.core.sandwich import Sandwich
from weftonos.core.school import MachineKind
from weftonos.core.setup import Setup
from weftonos.core.thread_line import Work
from weftonos.core.thread_use import BobbinClass
from weftonos.core.winding import BobbinLeft, bobbin_left
from weftonos.store.workshop import Workshop

router = APIRouter(prefix="/api/machines/{machine_id}", tags=["run"])


@dataclass(frozen=True)
class Clock:
    """The stitching clock while it runs."""

    since: datetime
    quilt: str


@dataclass(frozen=True)
class RunStation:
    """The quilt in work, the clock, the bobbin as far as it still goes, the pace, and the needle's hours.

    ``by_pace_m`` of the stitched metres since the bobbin was loaded are taken from the pace. ``bobbin_minutes`` is
    the stitching time the bobbin still holds at that pace. Without ``bobbin``, ``bobbin_unknown`` says what is
    missing.
    """

    clock: Clock | None
    quilt: str
    quilts: Sequence[str]
    quilt_minutes: float
    bobbin: BobbinLeft | None
    bobbin_unknown: str
    bobbin_minutes: float | None
    stitched_m: float | None
    by_pace_m: float
    pace: Pace | None
    needle: NeedleLife | None
    setup: Setup


def _size(workshop: Workshop, machine_id: int, setup: Setup) -> BobbinClass:
    if setup.case:
        return workshop.rack.case(setup.case.id).spec.bobbin_class
    home = workshop.machine(machine_id).spec.kind is MachineKind.HOME
    return BobbinClass.CLASS_15 if home else BobbinClass.M


def still_on_the_bobbin(
    workshop: Workshop,
    machine_id: int,
    setup: Setup,
    stitched_m: float,
    stitch_length_mm: float = 3,
    sandwich_mm: float | None = None,
    next_line_m: float | None = None,
    size: BobbinClass | None = None,
) -> BobbinLeft:
    """Return how far the bobbin that is in still goes; raises :class:`CraftError` when none is loaded."""
    if setup.bobbin_thread is None:
        raise CraftError("Choose the bobbin thread first.", "bobbin_class")
    return bobbin_left(
        size or _size(workshop, machine_id, setup),
        setup.bobbin_thread,
        setup.case.fill if setup.case else 1.0,
        stitched_m,
        stitch_length_mm,
        sandwich_mm or (setup.sandwich or Sandwich()).thickness_mm,
        next_line_m,
    )


def work_of(workshop: Workshop, machine_id: int, setup: Setup) -> Work | None:
    """Return what the thread line says of the work in hand."""
    quilts, clock = workshop.wear.quilts(machine_id, 1), workshop.clock_started(machine_id)
    if not quilts and clock is None:
        return None
    bobbin = _bobbin(workshop, machine_id, setup, workshop.wear.pace(machine_id))
    return Work(clock[1] if clock else quilts[0], clock is not None, bobbin.left.share if bobbin else None)


@dataclass(frozen=True)
class _OnBobbin:
    left: BobbinLeft
    sewn: Stitched


def _bobbin(
    workshop: Workshop, machine_id: int, setup: Setup, pace: Pace | None, next_line_m: float | None = None
) -> _OnBobbin | None:
    """Return what is left on the bobbin and what was stitched on it, where both are known."""
    if setup.bobbin is None or setup.bobbin_since is None:
        return None
    sewn = stitched(workshop.wear.runs_since(machine_id, setup.bobbin_since), pace)
    if sewn is None:
        return None
    return _OnBobbin(still_on_the_bobbin(workshop, machine_id, setup, sewn.metres, next_line_m=next_line_m), sewn)


@router.get("/run")
def run_station(
    machine_id: Id, workshop: WorkshopNow, next_line_m: Annotated[float | None, Query(ge=0, le=1000)] = None
) -> RunStation:
    """Say what is being quilted and how far bobbin and needle still go; whether it lasts for the next line."""
    setup, clock = workshop.setup(machine_id), workshop.clock_started(machine_id)
    quilts = workshop.wear.quilts(machine_id)
    pace = workshop.wear.pace(machine_id)
    bobbin = _bobbin(workshop, machine_id, setup, pace, next_line_m)
    unknown = ""
    if bobbin is None:
        unknown = (
            "Note the metres of one run, and the pace says the rest." if setup.bobbin else "No bobbin is on record."
        )
    quilt = clock[1] if clock else (quilts[0] if quilts else "")
    return RunStation(
        Clock(*clock) if clock else None,
        quilt,
        quilts,
        workshop.wear.minutes_on(machine_id, quilt) if quilt else 0,
        bobbin.left if bobbin else None,
        unknown,
        bobbin.left.stitched_m_left / pace.metres_per_hour * 60 if bobbin and pace else None,
        bobbin.sewn.metres if bobbin else None,
        bobbin.sewn.by_pace if bobbin else 0,
        pace,
        workshop.needle_life(machine_id, setup),
        setup,
    )


@dataclass(frozen=True)
class StitchedTime:
    """Minutes stitched, on which quilt, the stitched metres where they are known, and when it ended if not now."""

    minutes: float
    quilt: str = ""
    metres: float | None = None
    at: datetime | None = None


@router.post("/runs", status_code=201)
def note_run(machine_id: Id, sewn: StitchedTime, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Note stitching time by hand."""
    run = Run(sewn.minutes, sewn.quilt, sewn.metres)
    return log_entry(workshop.note(machine_id, run, sewn.at or now, now))


@router.post("/clock/start", status_code=201)
def start_clock(machine_id: Id, start: ClockStarted, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Start the stitching clock."""
    if workshop.clock_started(machine_id):
        raise CraftError("The clock of this machine is running already.", "clock")
    return log_entry(workshop.note(machine_id, start, now, now))


@dataclass(frozen=True)
class Stopped:
    """The metres stitched while the clock ran, where they are known."""

    metres: float | None = None


@router.post("/clock/stop", status_code=201)
def stop_clock(machine_id: Id, workshop: WorkshopNow, now: Now, stopped: Stopped | None = None) -> LogEntry:
    """Stop the stitching clock; what it counted becomes a run."""
    clock = workshop.clock_started(machine_id)
    if clock is None:
        raise CraftError("The clock of this machine is not running.", "clock")
    since, quilt = clock
    minutes = (now - since).total_seconds() / 60
    if minutes > LONGEST_RUN_H * 60:
        raise CraftError(
            f"The clock has run for more than {LONGEST_RUN_H} hours, so it was forgotten. Strike its start out in "
            "the log and note the stitching time by hand.",
            "clock",
        )
    run = Run(max(minutes, 0.02), quilt, stopped.metres if stopped else None)
    return log_entry(workshop.note(machine_id, run, now, now))


@router.post("/bobbin/again", status_code=201)
def fresh_bobbin(machine_id: Id, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Load a fresh, full bobbin of the same thread in the same case; its tension wants reading again."""
    setup = workshop.setup(machine_id)
    if setup.bobbin is None:
        raise CraftError("Choose the bobbin thread first.", "bobbin")
    case = setup.case.id if setup.case else None
    return log_entry(workshop.note(machine_id, BobbinLoaded(setup.bobbin.id, setup.bobbin_work, case), now, now))
