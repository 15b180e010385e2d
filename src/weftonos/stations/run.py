"""The Run station: the clock, what is stitched, how far the bobbin still goes, and what to see to first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from weftonos.core.bobbin.holds import Holds
from weftonos.core.bobbin.winding import BobbinLeft, usual_fill
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.logbook import CLOCK_SLACK
from weftonos.core.log.run import ClockStarted, Pace, Run, WalkDone, run_of_clock
from weftonos.core.needle.life import NeedleLife
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.setup import Setup
from weftonos.knowledge import procedures
from weftonos.learned.bobbin_left import StitchingClock, bobbin_class, clock_of, holds_of, on_the_bobbin
from weftonos.learned.entries import Noted, noted
from weftonos.learned.own_records import life_of, minutes_on
from weftonos.learned.time_on import time_on
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class RunStation:
    """The quilt in work, the clock, the bobbin as far as it still goes, the pace, and the needle's hours.

    ``by_pace_m`` of the stitched meters since the bobbin was loaded are taken from the pace. ``bobbin_minutes`` is
    the stitching time the bobbin still holds at that pace. Without ``bobbin``, ``bobbin_unknown`` says what is
    missing.
    """

    clock: StitchingClock | None
    quilt: str
    quilts: Sequence[str]
    quilt_minutes: float
    bobbin: BobbinLeft | None
    bobbin_unknown: str
    bobbin_holds: Holds | None
    bobbin_minutes: float | None
    stitched_m: float | None
    by_pace_m: float
    pace: Pace | None
    needle: NeedleLife | None
    setup: Setup


def run_station(workshop: Workshop, machine_id: int, next_line_m: float | None = None) -> RunStation:
    """Say what is being quilted and how far bobbin and needle still go; whether it lasts for the next line."""
    workshop.machine(machine_id)
    setup, clock = workshop.setup(machine_id), clock_of(workshop, machine_id)
    quilts, pace = workshop.runs.quilts(machine_id), workshop.runs.pace(machine_id)
    bobbin = on_the_bobbin(workshop, machine_id, setup, next_line_m)
    unknown = ""
    if bobbin is None:
        unknown = (
            "Note the length of one run, and your pace says the rest." if setup.bobbin else "No bobbin is on record."
        )
    quilt = clock.quilt if clock else setup.quilt
    return RunStation(
        clock=clock,
        quilt=quilt,
        quilts=list(dict.fromkeys([*([quilt] if quilt else []), *quilts])),
        quilt_minutes=minutes_on(workshop, machine_id, quilt) if quilt else 0,
        bobbin=bobbin.left if bobbin else None,
        bobbin_unknown=unknown,
        bobbin_holds=holds_of(workshop, machine_id, bobbin_class(workshop, machine_id, setup), setup)
        if setup.bobbin
        else None,
        bobbin_minutes=bobbin.left.stitched_m_left / pace.meters_per_hour * 60 if bobbin and pace else None,
        stitched_m=bobbin.sewn.meters if bobbin else None,
        by_pace_m=bobbin.sewn.by_pace if bobbin else 0,
        pace=pace,
        needle=life_of(workshop, machine_id, setup, time_on(workshop, machine_id, setup)),
        setup=setup,
    )


@dataclass(frozen=True, kw_only=True)
class StitchedTime:
    """Minutes stitched, on which quilt, the stitched meters where they are known, and when it ended if not now."""

    minutes: float
    quilt: str = ""
    meters: float | None = None
    at: datetime | None = None


def note_walk(workshop: Workshop, machine_id: int, walk: str, now: datetime) -> Noted:
    """Note that a procedure was walked to its end; raises :class:`CraftError` for one this machine does not have."""
    has = workshop.machine(machine_id).spec.features
    known = next((each for each in procedures().at(has).walks if each.id == walk), None)
    if known is None:
        raise CraftError("This machine has no such walk.", "walk")
    return noted(workshop, workshop.note(machine_id, WalkDone(walk=walk, words=known.name), now, now))


def walks_done(workshop: Workshop, machine_id: int) -> Mapping[str, datetime]:
    """Return when each procedure was last walked on a machine, by its name on the page of procedures."""
    workshop.machine(machine_id)
    return workshop.last_walks(machine_id)


def note_run(workshop: Workshop, machine_id: int, sewn: StitchedTime, now: datetime) -> Noted:
    """Note stitching time by hand."""
    run = Run(minutes=sewn.minutes, quilt=sewn.quilt, meters=sewn.meters)
    return noted(workshop, workshop.note(machine_id, run, sewn.at or now, now))


def start_clock(workshop: Workshop, machine_id: int, start: ClockStarted, now: datetime) -> Noted:
    """Start the stitching clock."""
    workshop.machine(machine_id)
    if clock_of(workshop, machine_id):
        raise CraftError("The clock of this machine is running already.", "clock")
    return noted(workshop, workshop.note(machine_id, start, now, now))


#: A clock that is stopped so soon has counted nothing.
STOPPED_AT_ONCE = timedelta(seconds=3)


def stop_clock(workshop: Workshop, machine_id: int, meters: float | None, now: datetime) -> Noted:
    """Stop the stitching clock; what it counted becomes a run. A start that lies in the future is deleted."""
    workshop.machine(machine_id)
    clock = clock_of(workshop, machine_id)
    if clock is None:
        raise CraftError("The clock of this machine is not running.", "clock")
    if clock.since > now + CLOCK_SLACK:
        # The computer's clock ran ahead when it was started, and nobody knows for how long it has run.
        return noted(workshop, workshop.strike(clock.started, now))
    if now - clock.since < STOPPED_AT_ONCE and meters is None:
        # Started by mistake, or tapped twice: nothing was stitched.
        return noted(workshop, workshop.strike(clock.started, now))
    run = run_of_clock((now - clock.since).total_seconds() / 60, clock.quilt, meters)
    return noted(workshop, workshop.note(machine_id, run, max(now, clock.since), now))


def fresh_bobbin(workshop: Workshop, machine_id: int, now: datetime, *, emptied: bool = False) -> Noted:
    """Load a fresh, full bobbin of the same thread in the same case; its tension wants reading again.

    ``emptied``: the one before was sewn until it was empty.
    """
    workshop.machine(machine_id)
    setup = workshop.setup(machine_id)
    if setup.bobbin is None:
        raise CraftError("Choose the bobbin thread first.", "bobbin")
    case = setup.case.id if setup.case else None
    below = workshop.drawer.specs([setup.bobbin.id]).get(setup.bobbin.id)
    loaded = BobbinLoaded(
        bobbin=setup.bobbin.id,
        bobbin_work=setup.bobbin_work,
        case=case,
        fill=usual_fill(below.thread) if below else 1.0,
        emptied=emptied,
    )
    return noted(workshop, workshop.note(machine_id, loaded, now, now))
