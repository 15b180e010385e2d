"""A combination worth keeping, what it says today, and why it may want a fresh look."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from weftonos.core.balance.cloth import Cloth
from weftonos.core.kernel.errors import LONGEST_NOTE, CraftError, require_between, require_text
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.spoken import pull
from weftonos.core.kernel.stitch import GRADES, check_grade
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.setup.differences import Changed, Difference, differences, reading_changed
from weftonos.core.setup.setup import NeedleTag, Setup, ThreadTag, same_combination
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
    and ``below`` the threads by their numbers in the drawer, the needle, the batting. What a card does not say is
    ``None``: ``grade``, ``motion``, ``point``. ``cloth`` is the record of the test cloth that it was found on.
    """

    name: str
    setting: float
    grade: int | None
    bobbin_mn: float | None
    motion: Motion | None = Motion.FREE_MOTION
    note: str = ""
    looks: int = 0
    low: float | None = None
    high: float | None = None
    last_look: float | None = None
    on_top: tuple[int, ...] = ()
    below: int | None = None
    needle: NeedleSize | None = None
    point: Point | None = None
    batting: str = ""
    cloth: int | None = None
    kind: Literal["recipe"] = "recipe"

    def __post_init__(self) -> None:
        require_text(self.name, 80, "A name for the combination", "name")
        if self.grade is not None:
            check_grade(self.grade)
        elif not self.on_top:
            raise CraftError("Say how the stitch looked there.", "grade")
        if self.motion is None and not self.on_top:
            raise CraftError("Choose the motion it was sewn in.", "motion")
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)
        if self.bobbin_mn is not None:
            require_between(self.bobbin_mn, 0, 5000, "The bobbin number", "bobbin_mn", unit="mN", above_low=True)
        require_between(self.looks, 0, 10_000, "The number of test lines", "looks")
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


def noted_setup(recipe: Recipe | Cloth, number: int, at: datetime, threads: Mapping[int, DrawerThread]) -> Setup:
    """Return the set-up that a recipe or cloth noted elsewhere carries; ``number`` and ``at`` are those of its record.

    A needle of which only the size is known is none of the set-up: :func:`kept_figures` has its size.
    """

    def tag(thread: int) -> tuple[ThreadTag, ...]:
        return (ThreadTag.of(thread, threads[thread]),) if thread in threads else ()

    needle = None
    if recipe.needle and recipe.point:
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

    ``grade`` and ``motion`` are ``None`` where a card did not say them. ``wants`` says what of it is no longer on
    record.
    """

    setting: float
    grade: int | None
    motion: Motion | None
    bobbin_mn: float | None
    bobbin_words: str
    needle_words: str
    wants: tuple[str, ...]

    @property
    def look_words(self) -> str:
        """How a stitch looked there; empty where nobody said."""
        return "" if self.grade is None else GRADES[self.grade].name

    @property
    def motion_words(self) -> str:
        """The motion it was kept for; empty where nobody said."""
        return self.motion.words if self.motion else ""


def kept_figures(recipe: Recipe, setup: Setup, mark_moved: float = 0) -> KeptFigures:
    """Return what a recipe says, read from the set-up it was kept under: a corrected reading corrects it as well.

    ``mark_moved`` is by how much the mark of the knob has moved since: the setting is given on today's mark.
    """
    wants = []
    judged_by_hand = recipe.bobbin_mn is None
    on_record = not recipe.noted_elsewhere
    if on_record and setup.reading is None and not judged_by_hand:
        wants.append("its bobbin reading was deleted")
    at_look = recipe.setting if recipe.last_look is None else recipe.last_look
    if on_record and setup.look is None:
        wants.append("its test line was deleted")
    elif setup.look and (
        setup.look.setting != at_look or (recipe.last_look is None and setup.look.grade != recipe.grade)
    ):
        wants.append("its test line was corrected since")
    if mark_moved:
        wants.append("the knob's mark was reset since, so the setting is given on today's mark")
    # What was found from several looks stands; a single look's setting is the look's own.
    own = setup.look if recipe.last_look is None else None
    bobbin_mn = setup.reading.mean_mn if setup.reading else recipe.bobbin_mn
    by_hand = setup.felt.words if setup.felt else "" if recipe.noted_elsewhere else "judged by the stitch"
    size_alone = str(recipe.needle) if recipe.needle else ""
    return KeptFigures(
        setting=(own.setting if own else recipe.setting) - mark_moved,
        grade=own.grade if own else recipe.grade,
        motion=own.motion if own else recipe.motion,
        bobbin_mn=bobbin_mn,
        bobbin_words=by_hand if bobbin_mn is None else pull(bobbin_mn),
        needle_words=setup.needle.words if setup.needle else size_alone,
        wants=tuple(wants),
    )


def differences_from_card(recipe: Recipe, present: Setup, carried: Setup) -> tuple[Difference, ...]:
    """Return what differs between what is on a machine and a card: only what the card says can differ."""
    said = {
        Changed.TOP_THREAD: True,
        Changed.BOBBIN_THREAD: carried.bobbin is not None,
        Changed.NEEDLE: carried.needle is not None,
    }
    found = [d for d in differences(present, carried) if said.get(d.what)]
    needle = present.needle
    if recipe.needle and recipe.point is None and (needle is None or needle.size != recipe.needle):
        found.append(Difference(Changed.NEEDLE, needle.words if needle else "not on record", str(recipe.needle)))
    lies = present.sandwich.batting if present.sandwich else ""
    if recipe.batting and lies.casefold() != recipe.batting.casefold():
        found.append(Difference(Changed.SANDWICH, lies or "not on record", recipe.batting))
    if recipe.bobbin_mn:
        now = present.reading.mean_mn if present.reading else None
        if now is None or reading_changed(now, recipe.bobbin_mn):
            before = "not read" if now is None else pull(now)
            found.append(Difference(Changed.BOBBIN_READING, before, pull(recipe.bobbin_mn)))
    return tuple(found)


def kept_for(recipe: Recipe, carried: Setup, now: Setup) -> bool:
    """Say whether what is on a machine is what a recipe was kept for; what a card leaves out may be anything."""
    if recipe.noted_elsewhere:
        return all(d.what is Changed.BOBBIN_READING for d in differences_from_card(recipe, now, carried))
    laid, lies = carried.sandwich and carried.sandwich.loft, now.sandwich and now.sandwich.loft
    return same_combination(carried, now) and laid is lies


def check_correction(old: Recipe, new: Recipe) -> None:
    """Raise :class:`CraftError` for a correction of what a recipe only repeats."""
    if new.bobbin_mn != old.bobbin_mn:
        raise CraftError(
            ("The bobbin tension comes from the reading it was saved with. Correct that reading."), "bobbin_mn"
        )
    if (new.setting, new.grade, new.motion) != (old.setting, old.grade, old.motion):
        raise CraftError(
            ("The setting and picture come from the test line it was saved with. Correct that line."), "setting"
        )


@dataclass(frozen=True, kw_only=True)
class CaseSince:
    """What became of the case a recipe was kept with: its label, when its screw was last turned, what it read last.

    A case without a name has no label, and its last reading is left out.
    """

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
    case: CaseSince,
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
        why.append(Stale(f"different batting ({present.batting or present.loft.value})"))
    if serviced_at and serviced_at > kept_at:
        why.append(Stale("the machine was serviced", serviced_at))
    if case.screw_turned_at and case.screw_turned_at > kept_at:
        whose = f"the screw of case {case.label}" if case.label else "the bobbin case's screw"
        why.append(Stale(f"{whose} was turned since", case.screw_turned_at))
    if case.last_mn and setup.reading and reading_changed(setup.reading.mean_mn, case.last_mn):
        why.append(Stale(f"case {case.label} reads {pull(case.last_mn)} now"))
    why += [Stale(f"{name} is no longer in the drawer") for name in gone]
    return tuple(why)
