"""The thread line: each station's state and its one key fact, for what is on the machine now."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from weftonos.core.balance.knob import KnobAdvice
from weftonos.core.balance.recipe import Recipe
from weftonos.core.balance.tolerance import tolerance_of
from weftonos.core.bobbin.events import Feel
from weftonos.core.bobbin.gauge import Calmness, on_the_edge
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.bobbin.winding import BOBBIN_LOW
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.spoken import pull, pull_range
from weftonos.core.kernel.stations import Station
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.mend.upkeep import UpkeepKind, UpkeepState
from weftonos.core.needle.groove_fit import FitState, fit_of
from weftonos.core.needle.life import Due, NeedleLife
from weftonos.core.needle.needle import Point
from weftonos.core.needle.packet import why_not_this_system
from weftonos.core.needle.pairing import thicker_below
from weftonos.core.setup.case_choice import LearnedTurn
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.may_wait import MayWait, OffByHand, about
from weftonos.core.setup.setup import Setup
from weftonos.core.setup.swap import TurnFirst
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.thread import HEAVIEST_THROUGH_A_NEEDLE, Fiber


class KnotState(StrEnum):
    """What a knot's shape says."""

    READY = "ready"
    TO_DO = "to_do"
    CAUTION = "caution"
    TROUBLE = "trouble"


@dataclass(frozen=True, kw_only=True)
class Knot:
    """One station on the line: its state, the key fact under it (of the day ``at``), and why it is so."""

    station: Station
    state: KnotState
    fact: str
    why: str = ""
    at: datetime | None = None


@dataclass(frozen=True)
class OpenTrouble:
    """A trouble that is not over: what is seen, and how many checks were made."""

    words: str
    checked: int
    with_technician: bool


@dataclass(frozen=True)
class Untested:
    """A setting that may be sewn at without a test line, in words, and why."""

    at: str
    why: str


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
    life: NeedleLife | None = None,
    target: BobbinTarget | None = None,
    trouble: OpenTrouble | None = None,
    due: Sequence[UpkeepState] = (),
    work: Work | None = None,
    found: Recipe | None = None,
    waits: MayWait | None = None,
    off: OffByHand | None = None,
    turn: TurnFirst | LearnedTurn | None = None,
    look_counts: bool = True,
    knob: KnobAdvice | None = None,
    untested: Untested | None = None,
) -> Sequence[Knot]:
    """Return the line for a machine.

    ``kept_at`` is when this machine's last combination was kept, ``life`` how the needle stands by the machine's
    school, ``target`` the bobbin range to be in, ``trouble`` what is not mended yet, ``due`` how upkeep stands,
    ``work`` what is being quilted, ``found`` the combination as it was kept since the last look: its setting is the
    balance then. ``waits`` says why the bobbin may go unread, ``off`` what to do about one that felt off, ``turn`` how
    the screw is turned before that. ``look_counts`` unless the last test line was stitched at another bobbin tension;
    ``knob`` is what to turn before the first one, and ``untested`` says why it may be sewn without one.
    """
    return (
        _thread(setup),
        _needle(machine, setup, life),
        _bobbin(machine, setup, target, waits or turn, off),
        _balance(machine, setup, found, knob, untested, look_counts=look_counts),
        _run(work),
        _mend(trouble, due),
        _log(setup, kept_at),
    )


def _thread(setup: Setup) -> Knot:
    if not setup.top:
        return Knot(
            station=Station.THREAD, state=KnotState.TO_DO, fact="choose a thread", why="Nothing is noted on top."
        )
    fact = setup.top[0].words if len(setup.top) == 1 else f"{len(setup.top)} threads together"
    if not setup.bobbin:
        return Knot(station=Station.THREAD, state=KnotState.TO_DO, fact=fact, why="Choose the bobbin thread as well.")
    tex = sum(t.tex for t in setup.top)
    if len(setup.top) == 1 and tex > HEAVIEST_THROUGH_A_NEEDLE.value:
        return Knot(
            station=Station.THREAD,
            state=KnotState.TROUBLE,
            fact=fact,
            why="Too heavy for any needle: bobbin work or by hand.",
        )
    if setup.bobbin_work:
        return Knot(station=Station.THREAD, state=KnotState.READY, fact=f"bobbin work, {setup.bobbin.words}")
    if any(tag.fiber is Fiber.WASH_AWAY for tag in setup.top):
        return Knot(
            station=Station.THREAD,
            state=KnotState.CAUTION,
            fact="wash-away is on",
            why="Take it off as soon as the marking is done. It dissolves in water, and no seam of it holds.",
        )
    bundle, below = setup.top_bundle, setup.bobbin_thread
    if bundle and below and thicker_below(bundle, below):
        return Knot(
            station=Station.THREAD,
            state=KnotState.CAUTION,
            fact=fact,
            why="The bobbin thread is thicker than the top.",
        )
    return Knot(station=Station.THREAD, state=KnotState.READY, fact=fact)


_LARGE_EYES = (Point.METALLIC, Point.TOPSTITCH, Point.EMBROIDERY)
_DUE = {Due.NEARLY: KnotState.CAUTION, Due.DUE: KnotState.CAUTION, Due.OVERDUE: KnotState.TROUBLE}


def _needle(machine: Machine, setup: Setup, life: NeedleLife | None) -> Knot:
    needle = setup.needle
    if not needle:
        return Knot(
            station=Station.NEEDLE,
            state=KnotState.TO_DO,
            fact="note the needle",
            why="Which needle is in is not on record.",
        )
    fact = f"{needle.size} {needle.point.value}"
    if life and life.hours > 0:
        fact = f"{needle.size}, {figure(life.hours, 1)} h"
    worn = Knot(station=Station.NEEDLE, state=KnotState.READY, fact=fact)
    if life and life.due in _DUE:
        says = {Due.NEARLY: "nearly due", Due.DUE: "due", Due.OVERDUE: "overdue"}[life.due]
        worn = Knot(station=Station.NEEDLE, state=_DUE[life.due], fact=f"{needle.size}, {says}", why=life.text)
    if other := why_not_this_system(machine.needle_system, needle.system, machine.nickname):
        return Knot(station=Station.NEEDLE, state=KnotState.TROUBLE, fact=fact, why=other)
    top = setup.top_bundle
    if top is None or (top.single and top.tex > HEAVIEST_THROUGH_A_NEEDLE.value):
        return worn
    fit = fit_of(top, needle.size, needle.point)
    if fit.state is FitState.RUBS:
        return Knot(station=Station.NEEDLE, state=KnotState.CAUTION, fact=fact, why=f"The thread {fit.says}.")
    if fit.state is FitState.SLACK and worn.state is KnotState.READY:
        return Knot(station=Station.NEEDLE, state=KnotState.CAUTION, fact=fact, why=f"The thread {fit.says}.")
    if (
        any(nature_of(t).glitters for t in top.threads)
        and worn.state is KnotState.READY
        and needle.point not in _LARGE_EYES
    ):
        return Knot(
            station=Station.NEEDLE,
            state=KnotState.CAUTION,
            fact=fact,
            why="Metallic needs a large eye and a deep groove: a metallic or a topstitch point.",
        )
    return worn


def _bobbin(
    machine: Machine,
    setup: Setup,
    target: BobbinTarget | None,
    known: MayWait | TurnFirst | LearnedTurn | None,
    off: OffByHand | None,
) -> Knot:
    """Return the bobbin's knot; ``known`` is why one that nobody read may go unread, or how to turn for it first."""
    reading, felt = setup.reading, setup.felt
    if not setup.bobbin and not reading:
        why = "Choose the bobbin thread first."
        return Knot(station=Station.BOBBIN, state=KnotState.TO_DO, fact="load a bobbin", why=why)
    if Feature.DROP_IN in machine.features:
        # Read or felt when it was taken for a case that comes out: it stays in the log, and says nothing of this one.
        why = "The bobbin drops in: the stitch is its gauge."
        fact = setup.bobbin.words if setup.bobbin else "drops in"
        return Knot(station=Station.BOBBIN, state=KnotState.READY, fact=fact, why=why)
    if not reading and felt:
        right = felt.feel is Feel.RIGHT
        way = "Loosen" if felt.feel is Feel.TIGHT else "Tighten"
        turn = f"{way} the screw a little, five minutes of a clock at most, and feel it again."
        return Knot(
            station=Station.BOBBIN,
            state=KnotState.READY if right or (off and off.leaves) else KnotState.CAUTION,
            fact=f"feels {felt.feel.value}",
            why=f"By the {felt.test.value} test." if right else (off and off.text) or turn,
        )
    if not reading and isinstance(known, MayWait):
        return Knot(station=Station.BOBBIN, state=KnotState.READY, fact=about(known), why=known.text)
    if not reading and isinstance(known, TurnFirst | LearnedTurn) and known.minutes:
        way = "tighten" if known.minutes > 0 else "loosen"
        fact = f"{way} {abs(known.minutes)} min"
        return Knot(station=Station.BOBBIN, state=KnotState.TO_DO, fact=fact, why=known.text)
    if not reading:
        by_hand = Feature.BY_HAND in machine.features
        why = f"This bobbin has not been {'felt' if by_hand else 'read'}."
        fact = "feel the bobbin" if by_hand else "pull the gauge"
        return Knot(station=Station.BOBBIN, state=KnotState.TO_DO, fact=fact, why=why)
    fact = pull(reading.mean_mn)
    if reading.calmness is Calmness.FAULT:
        return Knot(
            station=Station.BOBBIN,
            state=KnotState.TROUBLE,
            fact=fact,
            why="It flutters: find the fault before the screw.",
        )
    if target and not target.low <= reading.mean_mn <= target.high:
        side = "low" if reading.mean_mn < target.low else "high"
        if on_the_edge(reading.mean_mn, reading.scatter_mn, target):
            why = f"On the edge of {pull_range(target.low, target.high)}: less than the pulls can tell."
            return Knot(station=Station.BOBBIN, state=KnotState.READY, fact=fact, why=why)
        return Knot(
            station=Station.BOBBIN,
            state=KnotState.CAUTION,
            fact=f"{fact}, {side}",
            why=f"Target {pull_range(target.low, target.high)}.",
        )
    return Knot(station=Station.BOBBIN, state=KnotState.READY, fact=fact)


def _balance(
    machine: Machine,
    setup: Setup,
    found: Recipe | None,
    knob: KnobAdvice | None,
    untested: Untested | None,
    *,
    look_counts: bool,
) -> Knot:
    look = setup.look
    if knob and not look:
        return Knot(station=Station.BALANCE, state=KnotState.CAUTION, fact=knob.short, why=knob.why)
    if look and not look_counts:
        why = "The bobbin's tension has changed since the last test line."
        return Knot(station=Station.BALANCE, state=KnotState.TO_DO, fact="stitch a test", why=why)
    if not look and untested:
        # Never said as if it were found: nothing was stitched.
        fact = f"{untested.at}, untested"
        return Knot(station=Station.BALANCE, state=KnotState.READY, fact=fact, why=untested.why)
    if not look:
        return Knot(
            station=Station.BALANCE,
            state=KnotState.TO_DO,
            fact="stitch a test",
            why="No test line since the threads or needle changed.",
        )
    setting, grade = look.setting, look.grade
    if found is not None and found.grade is not None:
        setting, grade = found.setting, found.grade
    fact, name = machine.scale.words(setting), GRADES[grade].name
    tolerance = tolerance_of(setup.top_bundle, setup.good_enough)
    if grade and grade in tolerance.accepted:
        why = f"{name.capitalize()}, good enough: {tolerance.why}."
        return Knot(station=Station.BALANCE, state=KnotState.READY, fact=fact, why=why)
    if grade == 0:
        return Knot(station=Station.BALANCE, state=KnotState.READY, fact=fact)
    state = KnotState.CAUTION if abs(grade) == 1 else KnotState.TROUBLE
    seat = " Seat the thread in the discs before you turn anything." if grade == 2 else ""
    return Knot(station=Station.BALANCE, state=state, fact=fact, why=f"{name.capitalize()}.{seat}")


def _run(work: Work | None) -> Knot:
    if work is None:
        return Knot(station=Station.RUN, state=KnotState.TO_DO, fact="nothing stitched")
    if work.bobbin_share is not None and work.bobbin_share < BOBBIN_LOW.value:
        return Knot(
            station=Station.RUN,
            state=KnotState.CAUTION,
            fact=f"bobbin {work.bobbin_share:.0%}",
            why="The bobbin is nearly empty.",
        )
    if work.clock_runs:
        return Knot(station=Station.RUN, state=KnotState.READY, fact="clock runs")
    return Knot(station=Station.RUN, state=KnotState.READY, fact=work.quilt or "ready")


def _mend(trouble: OpenTrouble | None, upkeep: Sequence[UpkeepState]) -> Knot:
    if trouble:
        if trouble.with_technician:
            return Knot(station=Station.MEND, state=KnotState.CAUTION, fact="with the technician", why=trouble.words)
        checked = f"{trouble.checked} checked" if trouble.checked else "look for it"
        return Knot(
            station=Station.MEND, state=KnotState.TROUBLE, fact=checked, why=f"Not mended yet: {trouble.words}."
        )
    due = [u for u in upkeep if u.due]
    if due:
        words = {UpkeepKind.CLEANING: "clean hook", UpkeepKind.OILING: "oil it"}
        fact, why = words.get(due[0].what, "upkeep due"), f"{due[0].name} {due[0].text}".removesuffix(".")
        return Knot(station=Station.MEND, state=KnotState.CAUTION, fact=fact, why=f"{why}.")
    return Knot(station=Station.MEND, state=KnotState.READY, fact="runs well")


def _log(setup: Setup, kept_at: datetime | None) -> Knot:
    look = setup.look
    if look and look.grade == 0 and (kept_at is None or kept_at < look.stitched_at):
        return Knot(
            station=Station.LOG,
            state=KnotState.TO_DO,
            fact="save it",
            why="These threads are balanced and not saved yet.",
        )
    if kept_at is None:
        return Knot(station=Station.LOG, state=KnotState.READY, fact="nothing saved yet")
    return Knot(station=Station.LOG, state=KnotState.READY, fact="saved", at=kept_at)
