"""What is left on the bobbin that is in, by what was stitched on it and what such a bobbin holds."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from weftonos.core.bobbin.holds import Holds, full_bobbin
from weftonos.core.bobbin.thread_use import BobbinClass, thread_for
from weftonos.core.bobbin.winding import BobbinLeft, bobbin_left
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.line.thread_line import Work
from weftonos.core.log.run import ClockStarted, Stitched, stitched
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread, Form
from weftonos.store.workshop import Workshop

#: A stitch of ordinary quilting, in mm, where nobody says another.
STITCH_MM = 3.0


@dataclass(frozen=True)
class StitchingClock:
    """The stitching clock while it runs, and the record of its start."""

    since: datetime
    quilt: str
    started: int


def clock_of(workshop: Workshop, machine_id: int) -> StitchingClock | None:
    """Return the stitching clock, if it runs: it was started, and no run was noted since."""
    present = workshop.present(machine_id)
    started = present.clock
    if not present.clock_runs or started is None or not isinstance(started.payload, ClockStarted):
        return None
    return StitchingClock(started.at, started.payload.quilt, started.id)


def bobbin_class(workshop: Workshop, machine_id: int, setup: Setup) -> BobbinClass:
    """Return the class of the bobbin that is in: that of its case, else what the head usually takes."""
    case = workshop.rack.specs([setup.case.id]).get(setup.case.id) if setup.case else None
    return case.bobbin_class if case else workshop.machine(machine_id).spec.usual_bobbin


@dataclass(frozen=True, kw_only=True)
class LeftQuestion:
    """How it is stitched, the meters stitched since the bobbin was loaded, and the next line in meters."""

    stitched_m: float
    bobbin_class: BobbinClass | None = None
    stitch_length_mm: float = STITCH_MM
    sandwich_mm: float | None = None
    next_line_m: float | None = None


def holds_of(workshop: Workshop, machine_id: int, size: BobbinClass, setup: Setup) -> Holds:
    """Return what a full bobbin holds of the thread that is in: the one figure that winding and running go by.

    What this owner's last bobbins gave until they were empty says it, else the length on a pre-wound's label, else the
    space it is wound in.
    """
    assert setup.bobbin is not None and setup.bobbin_thread is not None
    found = holds_for(workshop, machine_id, size, setup.bobbin.id, setup.sandwich or Sandwich())
    return found or full_bobbin(size, setup.bobbin_thread)


def holds_for(
    workshop: Workshop, machine_id: int, size: BobbinClass, thread_id: int, sandwich: Sandwich
) -> Holds | None:
    """Return what a full bobbin holds of a thread of the drawer; ``None`` where its label can't be read."""
    emptied = workshop.runs.emptied(machine_id)
    known = workshop.drawer.specs({thread_id, *(load.bobbin for load, _ in emptied)})
    mine = known.get(thread_id)
    if mine is None:
        return None
    gave = [
        thread_for(meters, STITCH_MM, sandwich.thickness_mm) / load.fill
        for load, meters in emptied
        if load.bobbin == thread_id or (mine.line and _one(known.get(load.bobbin)) == _one(mine))
    ]
    stated = mine.length_m if mine.form is Form.PRE_WOUND else None
    return full_bobbin(size, mine.thread, stated_m=stated, gave=gave)


def _one(owned: DrawerThread | None) -> object:
    return owned.one_thread if owned and owned.line else None


def still_on_the_bobbin(workshop: Workshop, machine_id: int, question: LeftQuestion) -> BobbinLeft:
    """Return how far the bobbin that is in still goes; raises :class:`CraftError` when none is loaded."""
    setup = workshop.setup(machine_id)
    if setup.bobbin_thread is None:
        raise CraftError("Choose the bobbin thread first.", "bobbin_class")
    size = question.bobbin_class or bobbin_class(workshop, machine_id, setup)
    return bobbin_left(
        size=size,
        full_m=holds_of(workshop, machine_id, size, setup).thread_m,
        thread=setup.bobbin_thread,
        fill=setup.fill,
        stitched_m=question.stitched_m,
        stitch_length_mm=question.stitch_length_mm,
        sandwich_mm=question.sandwich_mm or (setup.sandwich or Sandwich()).thickness_mm,
        next_line_m=question.next_line_m,
    )


@dataclass(frozen=True)
class _OnBobbin:
    left: BobbinLeft
    sewn: Stitched


def on_the_bobbin(
    workshop: Workshop, machine_id: int, setup: Setup, next_line_m: float | None = None
) -> _OnBobbin | None:
    """Return what is left on the bobbin and what was stitched on it, where both are known."""
    loaded = workshop.present(machine_id).in_force.loaded
    if setup.bobbin is None or loaded is None:
        return None
    runs = workshop.runs.runs_on(machine_id, loaded)
    sewn = stitched(runs, workshop.runs.pace(machine_id))
    if sewn is None:
        return None
    question = LeftQuestion(stitched_m=sewn.meters, next_line_m=next_line_m)
    return _OnBobbin(still_on_the_bobbin(workshop, machine_id, question), sewn)


def work_of(workshop: Workshop, machine_id: int, setup: Setup) -> Work | None:
    """Return what the thread line says of the work in hand."""
    clock = clock_of(workshop, machine_id)
    if not setup.quilt and clock is None:
        return None
    bobbin = on_the_bobbin(workshop, machine_id, setup)
    return Work(clock.quilt if clock else setup.quilt, clock is not None, bobbin.left.share if bobbin else None)
