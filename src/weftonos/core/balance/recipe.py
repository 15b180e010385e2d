"""A combination worth keeping, what it says today, and why it may want a fresh look."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from weftonos.core.kernel.errors import LONGEST_NOTE, CraftError, require_between, require_text
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.spoken import pull
from weftonos.core.kernel.stitch import check_grade
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.setup.differences import reading_changed
from weftonos.core.setup.setup import NeedleTag, Setup, ThreadTag
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.thread import check_bundle_size


@dataclass(frozen=True, kw_only=True)
class Recipe:
    """A combination worth keeping; threads, needle, sandwich, bobbin number and look stand in the record's set-up.

    ``setting`` is the balance that was found, ``grade`` how a stitch looked there. ``motion`` and ``bobbin_mn`` are
    what they were when it was kept, for the case that nothing stands in the set-up any more; without ``bobbin_mn`` the
    bobbin was judged by hand. ``looks`` is how many graded looks the setting rests on, ``low`` to ``high`` its 95 %
    interval, ``last_look`` the setting last stitched. Without ``last_look`` (form 1) ``setting`` is that of the last
    look itself.

    A combination that was noted elsewhere, on a card or in a spreadsheet, carries what it was kept with: ``on_top``
    and ``below`` the threads by their numbers in the drawer, the needle, the batting.
    """

    name: str
    setting: float
    grade: int
    bobbin_mn: float | None
    motion: Motion = Motion.FREE_MOTION
    note: str = ""
    looks: int = 0
    low: float | None = None
    high: float | None = None
    last_look: float | None = None
    on_top: tuple[int, ...] = ()
    below: int | None = None
    needle: NeedleSize | None = None
    point: Point = Point.TOPSTITCH
    batting: str = ""
    kind: Literal["recipe"] = "recipe"

    def __post_init__(self) -> None:
        require_text(self.name, 80, "A name for the combination", "name")
        check_grade(self.grade)
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)
        if self.bobbin_mn is not None:
            require_between(self.bobbin_mn, 0, 5000, "The bobbin number", "bobbin_mn", unit="mN", above_low=True)
        require_between(self.looks, 0, 10_000, "The number of looks", "looks")
        if self.on_top:
            check_bundle_size(len(self.on_top))
        require_text(self.batting, 120, "The batting", "batting", empty=True)
        for value, field in (
            (self.setting, "setting"),
            (self.low, "low"),
            (self.high, "high"),
            (self.last_look, "last_look"),
        ):
            if value is not None:
                require_between(value, -100_000, 100_000, "A setting", field)

    @property
    def noted_elsewhere(self) -> bool:
        """Whether it carries what it was kept with itself."""
        return bool(self.on_top)


def noted_setup(recipe: Recipe, number: int, at: datetime, threads: Mapping[int, DrawerThread]) -> Setup:
    """Return the set-up that a combination noted elsewhere carries; ``number`` and ``at`` are those of its record."""

    def tag(thread: int) -> tuple[ThreadTag, ...]:
        return (ThreadTag.of(thread, threads[thread]),) if thread in threads else ()

    needle = None
    if recipe.needle:
        needle = NeedleTag(
            record_id=number,
            metric=recipe.needle.metric,
            american=recipe.needle.american,
            point=recipe.point,
            finish=NeedleFinish.STEEL,
            fitted_at=at,
        )
    below = tag(recipe.below) if recipe.below is not None else ()
    return Setup(
        top=tuple(each for thread in recipe.on_top for each in tag(thread)),
        bobbin=below[0] if below else None,
        needle=needle,
        sandwich=Sandwich(batting=recipe.batting) if recipe.batting else None,
    )


@dataclass(frozen=True, kw_only=True)
class KeptFigures:
    """What a kept combination says: the bobbin number and the look it rests on, as they are on record now.

    ``wants`` says what of it is no longer on record.
    """

    setting: float
    grade: int
    motion: Motion
    bobbin_mn: float | None
    bobbin_words: str
    wants: tuple[str, ...]


def kept_figures(recipe: Recipe, setup: Setup, mark_moved: float = 0) -> KeptFigures:
    """Return what a recipe says, read from the set-up it was kept under: a corrected reading corrects it as well.

    ``mark_moved`` is by how much the mark of the knob has moved since: the setting is given on today's mark.
    """
    wants = []
    judged_by_hand = recipe.bobbin_mn is None
    on_record = not recipe.noted_elsewhere
    if on_record and setup.reading is None and not judged_by_hand:
        wants.append("the bobbin reading it was kept with was struck out")
    at_look = recipe.setting if recipe.last_look is None else recipe.last_look
    if on_record and setup.look is None:
        wants.append("the look it was kept with was struck out")
    elif setup.look and (
        setup.look.setting != at_look or (recipe.last_look is None and setup.look.grade != recipe.grade)
    ):
        wants.append("the look it was kept with was corrected since")
    if mark_moved:
        wants.append("the mark of the knob was set anew since; the setting is given on today's")
    # What was found from several looks stands; a single look's setting is the look's own.
    own = setup.look if recipe.last_look is None else None
    bobbin_mn = setup.reading.mean_mn if setup.reading else recipe.bobbin_mn
    by_hand = setup.felt.words if setup.felt else "judged by the stitch"
    return KeptFigures(
        setting=(own.setting if own else recipe.setting) - mark_moved,
        grade=own.grade if own else recipe.grade,
        motion=own.motion if own else recipe.motion,
        bobbin_mn=bobbin_mn,
        bobbin_words=by_hand if bobbin_mn is None else pull(bobbin_mn),
        wants=tuple(wants),
    )


def check_correction(old: Recipe, new: Recipe) -> None:
    """Raise :class:`CraftError` for a correction of what a recipe only repeats."""
    if new.bobbin_mn != old.bobbin_mn:
        raise CraftError("The bobbin number is that of the reading it was kept with. Correct the reading.", "bobbin_mn")
    if (new.setting, new.grade, new.motion) != (old.setting, old.grade, old.motion):
        raise CraftError("Setting and grade are those of the look it was kept with. Correct the look.", "setting")


@dataclass(frozen=True, kw_only=True)
class CaseSince:
    """What became of the case a recipe was kept with: its label, when its screw was last turned, what it read last."""

    label: str
    screw_turned_at: datetime | None
    last_mn: float | None


@dataclass(frozen=True)
class Stale:
    """Why a kept combination wants a fresh look, and since when where that is known."""

    text: str
    since: datetime | None = None


def why_stale(
    kept_at: datetime,
    setup: Setup,
    *,
    present: Sandwich | None,
    serviced_at: datetime | None,
    case: CaseSince | None,
    gone: Iterable[str],
) -> tuple[Stale, ...]:
    """Return what has changed about a recipe's circumstances since it was kept.

    Parameters
    ----------
    kept_at, setup: when it was kept, and the set-up it was kept under.
    present: what lies under the needle now. serviced_at: when the machine was last serviced.
    case: what became of its case. gone: names of its threads that are no longer in the drawer.
    """
    why = []
    laid = setup.sandwich
    if laid and present and (laid.batting, laid.loft) != (present.batting, present.loft):
        why.append(Stale(f"other batting is on the machine ({present.batting or present.loft.value})"))
    if serviced_at and serviced_at > kept_at:
        why.append(Stale("the machine was serviced since", serviced_at))
    if case:
        if case.screw_turned_at and case.screw_turned_at > kept_at:
            why.append(Stale(f"the screw of case {case.label} was turned since", case.screw_turned_at))
        if case.last_mn and setup.reading and reading_changed(setup.reading.mean_mn, case.last_mn):
            why.append(Stale(f"case {case.label} reads {pull(case.last_mn)} now"))
    why += [Stale(f"{name} is no longer in the drawer") for name in gone]
    return tuple(why)
