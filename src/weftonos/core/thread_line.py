"""The thread line: each station's state and its one key fact, for what is on the machine now."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from weftonos.core.bobbin_target import BobbinTarget
from weftonos.core.gauge import Calmness
from weftonos.core.groove_fit import FIT_SAYS, FitState, fit_state, nominal_fill
from weftonos.core.machine import Machine
from weftonos.core.needle_life import Due, NeedleLife
from weftonos.core.pairing import HEAVIEST_THROUGH_A_NEEDLE, THICKER_BELOW_IS_BOBBIN_WORK
from weftonos.core.setup import Setup
from weftonos.core.stitch import GRADES
from weftonos.core.upkeep import UpkeepKind, UpkeepState
from weftonos.core.winding import BOBBIN_LOW


class Station(StrEnum):
    """The stations, in working order."""

    THREAD = "thread"
    NEEDLE = "needle"
    BOBBIN = "bobbin"
    BALANCE = "balance"
    RUN = "run"
    MEND = "mend"
    LOG = "log"


class KnotState(StrEnum):
    """What a knot's shape says."""

    READY = "ready"
    TO_DO = "to_do"
    CAUTION = "caution"
    TROUBLE = "trouble"


@dataclass(frozen=True)
class Knot:
    """One station on the line: its state, the key fact under it, and why it is in that state."""

    station: Station
    state: KnotState
    fact: str
    why: str = ""


@dataclass(frozen=True)
class OpenTrouble:
    """A trouble that is not over: what is seen, and how many checks were made."""

    words: str
    checked: int
    with_technician: bool


@dataclass(frozen=True)
class Work:
    """The quilt in work, whether its clock runs, and the share of the bobbin that is left where that is known."""

    quilt: str
    clock_runs: bool
    bobbin_share: float | None


def knots(
    machine: Machine,
    setup: Setup,
    kept_at: datetime | None,
    bundle_diameter_mm: float | None,
    life: NeedleLife | None = None,
    target: BobbinTarget | None = None,
    trouble: OpenTrouble | None = None,
    due: Sequence[UpkeepState] = (),
    work: Work | None = None,
) -> Sequence[Knot]:
    """Return the line for a machine.

    ``kept_at`` is when this machine's last combination was kept, ``bundle_diameter_mm`` the thickness of what runs
    through the needle, ``life`` how the needle stands by the machine's school, ``target`` the bobbin range to be in,
    ``trouble`` what is not mended yet, ``due`` how upkeep stands, ``work`` what is being quilted.
    """
    return (
        _thread(setup),
        _needle(setup, bundle_diameter_mm, life),
        _bobbin(setup, target),
        _balance(machine, setup),
        _run(work),
        _mend(trouble, due),
        _log(setup, kept_at),
    )


def _thread(setup: Setup) -> Knot:
    if not setup.top:
        return Knot(Station.THREAD, KnotState.TO_DO, "choose a thread", "Nothing is noted on top.")
    fact = setup.top[0].words if len(setup.top) == 1 else f"{len(setup.top)} threads together"
    if not setup.bobbin:
        return Knot(Station.THREAD, KnotState.TO_DO, fact, "Choose the bobbin thread as well.")
    tex = sum(t.tex for t in setup.top)
    if len(setup.top) == 1 and tex > HEAVIEST_THROUGH_A_NEEDLE.value:
        return Knot(Station.THREAD, KnotState.TROUBLE, fact, "Too heavy for any needle: bobbin work or by hand.")
    if setup.bobbin_work:
        return Knot(Station.THREAD, KnotState.READY, f"bobbin work, {setup.bobbin.words}")
    if setup.bobbin.tex > THICKER_BELOW_IS_BOBBIN_WORK.value * tex:
        return Knot(Station.THREAD, KnotState.CAUTION, fact, "The bobbin thread is thicker than the top.")
    return Knot(Station.THREAD, KnotState.READY, fact)


_DUE = {Due.NEARLY: KnotState.CAUTION, Due.DUE: KnotState.CAUTION, Due.OVERDUE: KnotState.TROUBLE}


def _needle(setup: Setup, diameter_mm: float | None, life: NeedleLife | None) -> Knot:
    needle = setup.needle
    if not needle:
        return Knot(Station.NEEDLE, KnotState.TO_DO, "note the needle", "Which needle is in is not on record.")
    fact = f"{needle.size} {needle.point.value}"
    if life and life.hours > 0:
        fact = f"{needle.size}, {life.hours:.1f} h"
    worn = Knot(Station.NEEDLE, KnotState.READY, fact)
    if life and life.due in _DUE:
        says = {Due.NEARLY: "nearly due", Due.DUE: "due", Due.OVERDUE: "overdue"}[life.due]
        worn = Knot(Station.NEEDLE, _DUE[life.due], f"{needle.size}, {says}", life.text)
    if diameter_mm is None:
        return worn
    state = fit_state(nominal_fill(diameter_mm, needle.size), needle.point)
    if state is FitState.RUBS:
        return Knot(Station.NEEDLE, KnotState.TROUBLE, fact, f"The thread {FIT_SAYS[state]}.")
    if state is FitState.SLACK and worn.state is KnotState.READY:
        return Knot(Station.NEEDLE, KnotState.CAUTION, fact, f"The thread {FIT_SAYS[state]}.")
    return worn


def _bobbin(setup: Setup, target: BobbinTarget | None) -> Knot:
    reading = setup.reading
    if not reading:
        why = "This bobbin has not been read." if setup.bobbin else "Choose the bobbin thread first."
        return Knot(Station.BOBBIN, KnotState.TO_DO, "pull the gauge", why)
    fact = f"{reading.mean_mn:.0f} mN"
    if reading.calmness is Calmness.FAULT:
        return Knot(Station.BOBBIN, KnotState.TROUBLE, fact, "It flutters: find the fault before the screw.")
    if target and not target.low <= reading.mean_mn <= target.high:
        side = "low" if reading.mean_mn < target.low else "high"
        return Knot(
            Station.BOBBIN,
            KnotState.CAUTION,
            f"{fact}, {side}",
            f"Target {target.low:.0f} to {target.high:.0f} mN.",
        )
    return Knot(Station.BOBBIN, KnotState.READY, fact)


def _balance(machine: Machine, setup: Setup) -> Knot:
    look = setup.look
    if not look:
        return Knot(Station.BALANCE, KnotState.TO_DO, "stitch a test", "No look since threads or needle changed.")
    fact, name = machine.scale.words(look.setting), GRADES[look.grade].name
    if look.grade == 0:
        return Knot(Station.BALANCE, KnotState.READY, fact)
    state = KnotState.CAUTION if abs(look.grade) == 1 else KnotState.TROUBLE
    seat = " Seat the thread in the discs before you turn anything." if look.grade == 2 else ""
    return Knot(Station.BALANCE, state, fact, f"{name.capitalize()}.{seat}")


def _run(work: Work | None) -> Knot:
    if work is None:
        return Knot(Station.RUN, KnotState.TO_DO, "nothing stitched")
    if work.bobbin_share is not None and work.bobbin_share < BOBBIN_LOW.value:
        return Knot(Station.RUN, KnotState.CAUTION, f"bobbin {work.bobbin_share:.0%}", "The bobbin is nearly empty.")
    if work.clock_runs:
        return Knot(Station.RUN, KnotState.READY, "clock runs")
    return Knot(Station.RUN, KnotState.READY, work.quilt or "ready")


def _mend(trouble: OpenTrouble | None, upkeep: Sequence[UpkeepState]) -> Knot:
    if trouble:
        if trouble.with_technician:
            return Knot(Station.MEND, KnotState.CAUTION, "with the technician", trouble.words)
        checked = f"{trouble.checked} checked" if trouble.checked else "look for it"
        return Knot(Station.MEND, KnotState.TROUBLE, checked, f"{trouble.words}: not mended yet.")
    due = [u for u in upkeep if u.due]
    if due:
        words = {UpkeepKind.CLEANING: "clean it", UpkeepKind.OILING: "oil it"}
        return Knot(Station.MEND, KnotState.CAUTION, words.get(due[0].what, "upkeep due"), due[0].text)
    return Knot(Station.MEND, KnotState.READY, "runs well")


def _log(setup: Setup, kept_at: datetime | None) -> Knot:
    look = setup.look
    if look and look.grade == 0 and (kept_at is None or kept_at < look.stitched_at):
        return Knot(Station.LOG, KnotState.TO_DO, "keep it", "This combination is balanced and not kept yet.")
    if kept_at is None:
        return Knot(Station.LOG, KnotState.READY, "nothing kept yet")
    return Knot(Station.LOG, KnotState.READY, f"kept {kept_at:%-d %b}")
