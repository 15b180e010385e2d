"""What the records know about a trouble without asking: conditions of the set-up, and what changed.

The names are those of the page of troubles (``weftonos/knowledge/troubles.toml``).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from weftonos.core.bobbin.gauge import FLUTTERS_ABOVE
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.sandwich import Loft, Sandwich
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import estimate
from weftonos.core.kernel.stitch import check_grade
from weftonos.core.mend.upkeep import UpkeepKind, upkeep_state
from weftonos.core.needle.groove_fit import FitState, fit_of
from weftonos.core.needle.life import HOURS_LIFE
from weftonos.core.needle.needle import STRETCHES_FROM, NeedleSize, Point
from weftonos.core.setup.differences import Changed, differences
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.thread import HEAVY_TEX, VERY_FINE_TEX, Bundle, Construction, Fiber, Thread, sheds_lint

#: From this ratio of linear densities on, a thread is heavier or finer than the one before.
HEAVIER_FROM = estimate(1.1)
#: A needle that has stitched less than this is not dull by wear.
JUST_FITTED = estimate(30, "min")


@dataclass(frozen=True, kw_only=True)
class Circumstances:
    """What is known of a machine in trouble; ``None`` or empty where it is not known.

    Tensions in mN, hours of stitching. ``needle_due`` says that the needle is past its life by the chosen school,
    or far from it; left out, six hours decide. ``needle_minutes`` have been stitched since it was fitted. ``grade`` is
    the last look, -2 to 2. ``knob_by`` is how far the knob stands off the range where this thread starts, above 0 too
    tight, in the machine's own numbers; 0 within it. ``other_system``: the needle that is in is not of the machine's
    system. ``sizes_off``: how many sizes it is from the best, above 0 too large. ``hand_test_failed``: a thread on top
    did not pass its last hand test.
    """

    machine_kind: MachineKind | None = None
    top: tuple[Thread, ...] = ()
    bobbin: Thread | None = None
    needle: NeedleSize | None = None
    point: Point | None = None
    needle_hours: float | None = None
    needle_due: bool | None = None
    needle_minutes: float | None = None
    bobbin_mn: float | None = None
    swing: float | None = None
    target: BobbinTarget | None = None
    sandwich: Sandwich | None = None
    grade: int | None = None
    knob_by: float | None = None
    other_system: bool | None = None
    sizes_off: int | None = None
    hand_test_failed: bool | None = None
    hours_since_cleaning: float | None = None
    hours_since_oiling: float | None = None

    def __post_init__(self) -> None:
        if self.grade is not None:
            check_grade(self.grade)
        for field, unit, most in (
            ("needle_hours", "h", 10_000),
            ("needle_minutes", "min", 600_000),
            ("bobbin_mn", "mN", 10_000),
            ("swing", "", 10),
            ("hours_since_cleaning", "h", 1e5),
            ("hours_since_oiling", "h", 1e5),
        ):
            value = getattr(self, field)
            if value is not None:
                require_between(
                    value=value, low=0, high=most, what=field.replace("_", " ").capitalize(), field=field, unit=unit
                )


def conditions(known: Circumstances) -> tuple[frozenset[str], frozenset[str]]:
    """Return the conditions that hold and those that do not; what is not known is in neither."""
    holds, lacks = set[str](), set[str]()

    def say(name: str, is_so: bool | None) -> None:
        if is_so is not None:
            (holds if is_so else lacks).add(name)

    top, below = known.top, known.bobbin
    if top:

        def on_top(test: Callable[[Thread], bool]) -> bool:
            return any(test(thread) for thread in top)

        say("slick_thread", on_top(_slick))
        say("flat_metallic", on_top(lambda t: t.construction is Construction.FILM))
        say("metallic", on_top(lambda t: t.is_metallic))
        say("clear_thread", on_top(lambda t: t.is_monofilament))
        say("fine_silk", on_top(lambda t: t.fiber is Fiber.SILK and t.density.tex <= VERY_FINE_TEX.value))
        say("heavy_thread_on_top", on_top(lambda t: t.density.tex >= HEAVY_TEX.value))
        say("wash_away_thread", on_top(lambda t: t.fiber is Fiber.WASH_AWAY))
        say("synthetic_thread", on_top(lambda t: t.fiber in (Fiber.POLYESTER, Fiber.NYLON)))
        if known.needle:
            state = fit_of(Bundle.of(top), known.needle, known.point or Point.TOPSTITCH).state
            say("thread_rubs", state is FitState.RUBS)
            say("thread_has_play", state is FitState.SLACK)
        if known.point and on_top(lambda t: nature_of(t).glitters):
            say("eye_too_small_for_metallic", known.point not in (Point.METALLIC, Point.TOPSTITCH, Point.EMBROIDERY))
    threads = (*top, *([below] if below else []))
    if threads:
        say("linty_thread", any(sheds_lint(t) for t in threads))
    if below:
        say("stretchy_bobbin", below.construction in (Construction.MONOFILAMENT, Construction.TEXTURED))
    if known.sandwich:
        # Batting rubs needle and thread warm, whatever the fiber (common practice).
        say("heavy_sandwich", bool(known.sandwich.heavy_because))
        say("warm_batting", known.sandwich.loft is Loft.LOFTY or "poly" in known.sandwich.batting.casefold())
    if known.needle_due is not None or known.needle_hours is not None:
        late = known.needle_due if known.needle_due is not None else (known.needle_hours or 0) > HOURS_LIFE[0].value
        say("hours_over_life", late)
    if known.needle_minutes is not None:
        say("needle_just_fitted", known.needle_minutes < JUST_FITTED.value)
    if known.swing is not None:
        say("bobbin_flutters", known.swing > FLUTTERS_ABOVE.value)
    if known.bobbin_mn is not None and known.target:
        low, high = known.bobbin_mn < known.target.low, known.bobbin_mn > known.target.high
        say("bobbin_reads_low", low)
        say("bobbin_reads_high", high)
        say("bobbin_reads_right", not low and not high)
    if known.grade is not None:
        say("looked_too_tight", known.grade < 0)
        say("looked_too_loose", known.grade > 0)
    say("other_needle_system", known.other_system)
    say("failed_hand_test", known.hand_test_failed)
    if known.sizes_off is not None:
        say("needle_sizes_too_large", known.sizes_off >= STRETCHES_FROM.value)
        say("needle_sizes_too_small", known.sizes_off <= -STRETCHES_FROM.value)
    if known.knob_by is not None:
        say("knob_above_the_start", known.knob_by > 0)
        say("knob_below_the_start", known.knob_by < 0)
    for name, what, hours in (
        ("hours_since_cleaning", UpkeepKind.CLEANING, known.hours_since_cleaning),
        ("hours_since_oiling", UpkeepKind.OILING, known.hours_since_oiling),
    ):
        if hours is not None:
            say(name, upkeep_state(what, hours, threads).due)
    return frozenset(holds), frozenset(lacks)


def _slick(thread: Thread) -> bool:
    smooth = (Construction.MULTIFILAMENT, Construction.MONOFILAMENT, Construction.FILM, Construction.METALLIC)
    return thread.construction in smooth


@dataclass(frozen=True, kw_only=True)
class Since:
    """What else happened since it last ran well: upkeep, the case screw, settings, quilts."""

    upkeep: tuple[UpkeepKind, ...] = ()
    screw_turned: bool = False
    setting_before: str = ""
    setting_now: str = ""
    quilt_before: str = ""
    quilt_now: str = ""


@dataclass(frozen=True, kw_only=True)
class Change:
    """Something the records see: the findings it stands for, in words, before and after, and whether it changed.

    The first finding is the one shown; the others say more of it (a larger needle).
    """

    findings: tuple[str, ...]
    changed: bool
    before: str
    after: str


def changes(before: Setup, after: Setup, since: Since) -> tuple[Change, ...]:
    """Return what the records can tell about each thing that may have changed, in working order."""
    diff = {d.what: (d.before, d.after) for d in differences(before, after)}
    found: list[Change] = []

    def note(findings: tuple[str, ...], changed: bool, old: str = "", new: str = "") -> None:
        found.append(Change(findings=findings, changed=changed, before=old, after=new))

    top = diff.get(Changed.TOP_THREAD)
    note(("top_thread", *_heavier(before, after)) if top else ("top_thread",), top is not None, *(top or ("", "")))
    again = before.top_since is not None and after.top_since is not None and after.top_since > before.top_since
    note(("re_threading",), again or top is not None)
    needle = diff.get(Changed.NEEDLE) or diff.get(Changed.NEW_NEEDLE)
    note(("needle", *_larger(before, after)) if needle else ("needle",), needle is not None, *(needle or ("", "")))
    below = diff.get(Changed.BOBBIN_THREAD)
    other_fiber = before.bobbin and after.bobbin and before.bobbin.fiber is not after.bobbin.fiber
    note(("bobbin_thread", *(("fiber_change",) if other_fiber else ())), below is not None, *(below or ("", "")))
    loaded = before.bobbin_since is not None and after.bobbin_since != before.bobbin_since
    note(("bobbin",), loaded or below is not None)
    case = diff.get(Changed.BOBBIN_CASE)
    note(("bobbin_case",), case is not None, *(case or ("", "")))
    note(("screw_turned",), since.screw_turned)
    moved = bool(since.setting_before and since.setting_now) and since.setting_before != since.setting_now
    note(("setting_moved",), moved, *((since.setting_before, since.setting_now) if moved else ("", "")))
    if before.sandwich and after.sandwich:
        old, new = before.sandwich, after.sandwich
        fabric = (old.fabric, old.weave) != (new.fabric, new.weave)
        note(("fabric",), fabric, *((old.fabric or old.weave.value, new.fabric or new.weave.value) if fabric else ()))
        batting = (old.batting, old.loft) != (new.batting, new.loft)
        note(("batting",), batting, *((old.batting or old.loft, new.batting or new.loft) if batting else ()))
    quilt = bool(since.quilt_now) and since.quilt_now != since.quilt_before
    note(("new_quilt",), quilt, *((since.quilt_before, since.quilt_now) if quilt else ()))
    cleaned = {UpkeepKind.CLEANING, UpkeepKind.DISCS, UpkeepKind.OILING}.intersection(since.upkeep)
    note(("cleaning",), bool(cleaned))
    note(("service",), UpkeepKind.SERVICE in since.upkeep)
    return tuple(found)


def _heavier(before: Setup, after: Setup) -> tuple[str, ...]:
    old, new = sum(t.tex for t in before.top), sum(t.tex for t in after.top)
    if not old or not new:
        return ()
    if new / old >= HEAVIER_FROM.value:
        return ("heavier_thread",)
    return ("finer_thread",) if old / new >= HEAVIER_FROM.value else ()


def _larger(before: Setup, after: Setup) -> tuple[str, ...]:
    if not before.needle or not after.needle or before.needle.metric == after.needle.metric:
        return ()
    return ("larger_needle",) if after.needle.metric > before.needle.metric else ("smaller_needle",)
