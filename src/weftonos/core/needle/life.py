"""When a needle is due: the schools, the hours on it, the user's own record, and what an hour costs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.care import Care
from weftonos.core.kernel.counting import count_interval
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.own_minutes import own_minutes_move, pays_at
from weftonos.core.kernel.schools import LifeSchool, reasons_of
from weftonos.core.kernel.spoken import so_many_troubles
from weftonos.core.kernel.standing import Standing, estimate, practice
from weftonos.core.needle.needle import COATED_LASTS, NeedleFinish, Point

#: Every six to eight stitching hours; for a coated needle thirty to seventy-two, its sound deciding, or eight projects.
HOURS_LIFE = (practice(6, "h"), practice(8, "h"))
COATED_HOURS = (estimate(30, "h"), estimate(72, "h"))
#: What a sharp has of those hours, as it dulls soonest, and what it has in a dense weave.
SHARP_HAS, SHARP_HAS_IN_DENSE = estimate(0.8, "of the hours"), estimate(0.5, "of the hours")
COATED_PROJECTS = practice(8, "projects")
NEARLY_FROM = estimate(0.8, "of its life")
AGING_FROM = estimate(0.5, "", "share of the life from which a needle may be dull by its age")
LATE_FROM = estimate(1.2, "of its life", "where its life is told as one number")
#: Minutes of a change, and the shape of wear (Weibull).
CHANGE, WEAR_SHAPE = estimate(3, "min", "with its thread"), estimate(3.0)
#: However much hangs on a quilt, a needle sews for this share of its usual life.
LEAST_OF_A_LIFE = estimate(0.25)
#: Minutes that a needle costs which comes to trouble on a quilt of such care.
NEEDLE_TROUBLE = {Care.MATTERS: estimate(15, "min"), Care.USUAL: estimate(6.5, "min"), Care.SCRAP: estimate(4, "min")}
TROUBLES_FOR_OWN = estimate(3, "troubles", "before your own record takes the place of the usual life")


class Due(StrEnum):
    """How a needle stands against its life."""

    FRESH = "fresh"
    NEARLY = "nearly"
    DUE = "due"
    OVERDUE = "overdue"
    BY_CONDITION = "by_condition"


class RetireReason(StrEnum):
    """Why a needle came out."""

    DUE = "due"
    DULL_SOUND = "dull_sound"
    BREAK = "break"
    STILL_GOOD = "still_good"
    OTHER = "other"


#: Retired with these, a needle had come to trouble; with the others it was taken out in good order.
TROUBLE = (RetireReason.DULL_SOUND, RetireReason.BREAK)

LIFE_SCHOOLS = {LifeSchool(side): why for side, why in reasons_of("life").items()}


@dataclass(frozen=True, kw_only=True)
class NeedleLife:
    """Hours and quilts on a needle, its life by the school, and what that says."""

    hours: float
    projects: int
    due: Due
    life_hours: float | None
    life_projects: int | None
    text: str

    @property
    def is_due(self) -> bool:
        """Whether it is past the hour, or the quilt, at which it is to be changed."""
        return self.due in (Due.DUE, Due.OVERDUE)

    @property
    def dull_by_age(self) -> bool | None:
        """Whether its age speaks for a dull point; ``None`` in the second half of its life, and by condition alone."""
        if self.due is Due.BY_CONDITION:
            return None
        if self.is_due:
            return True
        aging = self.life_hours is not None and self.hours >= AGING_FROM.value * self.life_hours
        return None if aging or self.due is Due.NEARLY else False


@dataclass(frozen=True, kw_only=True)
class OwnChange:
    """When the owner's own needles of a kind are best changed: the hour, and how many that rests on.

    ``hours`` is ``None`` where age does not matter to them, so that only their condition decides.
    """

    hours: float | None
    needles: int
    troubles: int

    @property
    def words(self) -> str:
        """What that rests on."""
        return f"by your own {self.needles} needles, {self.troubles} of them in trouble"


@dataclass(frozen=True, kw_only=True)
class PointInUse:
    """Which point wears, on a longarm or not, and whether through a dense weave."""

    point: Point
    longarm: bool = False
    dense: bool = False

    @property
    def share(self) -> float | None:
        """What it has of the usual hours; ``None`` where its condition alone decides."""
        if self.point is Point.BALLPOINT and self.longarm:
            return None
        if self.point is not Point.SHARP:
            return 1.0
        return (SHARP_HAS_IN_DENSE if self.dense else SHARP_HAS).value


def change_pays_at(due_h: float, care: Care, change: float = CHANGE.value) -> float:
    """Return the hour at which a change pays on a quilt of some care, for needles that are usually due at ``due_h``.

    ``change`` is what a change takes here, in minutes.

    >>> change_pays_at(6.0, Care.USUAL)
    6.0
    >>> change_pays_at(6.0, Care.MATTERS) < 4 < 9 < change_pays_at(6.0, Care.SCRAP)
    True
    >>> change_pays_at(6.0, Care.USUAL, change=1.5) < 5 < 6.5 < change_pays_at(6.0, Care.USUAL, change=4) < 8.1
    True
    """
    usually, costs = (CHANGE.value, NEEDLE_TROUBLE[Care.USUAL].value), NEEDLE_TROUBLE[care].value
    by_care = pays_at(due_h, WEAR_SHAPE.value, usually=usually, here=(CHANGE.value, costs))
    at = pays_at(due_h, WEAR_SHAPE.value, usually=usually, here=(change, costs))
    # Whatever it takes, a needle stays within what common practice gives it on such a quilt.
    soonest, latest = (hours.value for hours in HOURS_LIFE)
    at = min(max(at, by_care * soonest / latest), by_care * latest / soonest)
    return max(at, LEAST_OF_A_LIFE.value * due_h)


def needle_life(
    school: LifeSchool,
    finish: NeedleFinish,
    hours: float,
    projects: int,
    own: OwnChange | None = None,
    *,
    wears: PointInUse | None = None,
    care: Care = Care.USUAL,
    change: float = CHANGE.value,
) -> NeedleLife:
    """Return how a needle stands by a school.

    Parameters
    ----------
    school: by hours, by project, coated, by the point, or by condition alone.
    finish: a titanium-nitride coating lasts five to eight times as long; the lower is taken.
    hours: stitching hours on it. projects: quilts it has worked on, the one in work included.
    own: what one's own needles of the kind say, in place of a school that counts hours.
    wears: the point and what it goes through, for the school that goes by them.
    care: how careful the quilt wants its maker to be: it moves the hour at which a change pays.
    change: minutes that a change takes here: so do they.
    """
    coated = finish is NeedleFinish.TITANIUM
    share = wears.share if wears and school is LifeSchool.POINT and not coated else 1.0
    if school not in (LifeSchool.HOURS, LifeSchool.COATED, LifeSchool.POINT):
        own = None
    if school is LifeSchool.CONDITION or (own.hours is None if own else share is None):
        why = f"Age matters little {own.words}. " if own else ""
        text = f"{figure(hours, 1)} h on it. {why}Change it when it pops, thumps or snags, or at the first break."
        return NeedleLife(
            hours=hours, projects=projects, due=Due.BY_CONDITION, life_hours=None, life_projects=None, text=text
        )
    if school is LifeSchool.PROJECT:
        allowed = int(COATED_PROJECTS.value) if coated else 1
        due = Due.FRESH if projects <= allowed else Due.DUE if projects == allowed + 1 else Due.OVERDUE
        text = f"{projects} of {allowed} quilt{'s' if allowed > 1 else ''} on it."
        if due is not Due.FRESH:
            done = projects - 1
            quilts = "its quilt" if allowed == done == 1 else f"{done} quilts"
            text = f"It has done {quilts}, and a new one is on. Fit a new needle."
        return NeedleLife(hours=hours, projects=projects, due=due, life_hours=None, life_projects=allowed, text=text)
    by_sound = False
    if own and own.hours is not None:
        due_at, over = own.hours, False
        nearly, late = NEARLY_FROM.value * due_at, LATE_FROM.value * due_at
    elif by_sound := _goes_by_sound(school, finish):
        nearly, due_at = (h.value for h in COATED_HOURS)
        late, over = LATE_FROM.value * due_at, projects > COATED_PROJECTS.value
    else:
        factor = COATED_LASTS[0].value if coated else share or 1.0
        due_at, late = (h.value * factor for h in HOURS_LIFE)
        nearly, over = NEARLY_FROM.value * due_at, False
    moved = change_pays_at(due_at, care, change) / due_at
    nearly, due_at, late = moved * nearly, moved * due_at, moved * late
    if hours > late:
        due = Due.OVERDUE
    elif hours >= due_at or over:
        due = Due.DUE
    else:
        due = Due.NEARLY if hours >= nearly else Due.FRESH
    words = {
        Due.FRESH: f"{figure(due_at - hours, 1)} h to go",
        Due.NEARLY: f"it may last to {due_at:.0f}, so let its sound decide"
        if by_sound
        else f"nearly due, {figure(due_at - hours, 1)} h to go",
        Due.DUE: "due now",
        Due.OVERDUE: "overdue",
        Due.BY_CONDITION: "",
    }
    return NeedleLife(
        hours=hours,
        projects=projects,
        due=due,
        life_hours=due_at,
        life_projects=None,
        text=f"{figure(hours, 1)} h on it: {words[due]}{f', {own.words}' if own else ''}."
        f"{_CARE_MOVES[care]}{own_minutes_move('change', change, CHANGE.value)}",
    )


_CARE_MOVES = {
    Care.MATTERS: " This quilt matters, so the needle is changed sooner.",
    Care.USUAL: "",
    Care.SCRAP: " This is scrap, so the needle may sew longer.",
}


@dataclass(frozen=True)
class NeedleSpan:
    """One needle's stitching hours from fitting to retirement, and whether it ended in trouble."""

    hours: float
    trouble: bool


@dataclass(frozen=True, kw_only=True)
class OwnLife:
    """Hours to first trouble from the user's own needles, with an exact 95 % interval; ``None`` where unknown."""

    needles: int
    troubles: int
    hours: float
    mean_hours: float | None
    low_hours: float
    high_hours: float | None


def own_life(spans: Sequence[NeedleSpan]) -> OwnLife:
    """Return the mean stitching hours to trouble on record.

    Total hours over troubles, needles retired in good order counting as hours without trouble; the interval is
    the exact one for a Poisson count (Garwood 1936).
    """
    hours = sum(s.hours for s in spans)
    troubles = sum(s.trouble for s in spans)
    least, most = count_interval(troubles)
    return OwnLife(
        needles=len(spans),
        troubles=troubles,
        hours=hours,
        mean_hours=hours / troubles if troubles else None,
        low_hours=hours / most,
        high_hours=hours / least if least else None,
    )


def own_life_words(life: OwnLife) -> str:
    """Return what one's own needles of a kind say; too few troubles say little."""
    needles = f"{life.needles} needle{'s' if life.needles != 1 else ''}, {life.hours:.0f} h"
    if life.mean_hours is None:
        return f"{needles} without trouble: {figure(life.low_hours, 1)} h or more on average. Too few to say more."
    most = f"{life.high_hours:.0f}" if life.high_hours is not None else "more"
    mean, least = figure(life.mean_hours, 1), figure(life.low_hours, 1)
    told = f"{needles}, trouble after {mean} h on average ({least} to {most})"
    return f"{told}." if life.troubles >= TROUBLES_FOR_OWN.value else f"{told}: too few to say."


@dataclass(frozen=True, kw_only=True)
class HourCost:
    """What a needle costs per stitched hour, and what life that rests on.

    ``low`` and ``high`` are the 95 % interval, where the life is one's own.
    """

    per_hour: float
    life_hours: float
    low: float | None = None
    high: float | None = None
    standing: Standing
    why: str


def school_hours(school: LifeSchool, finish: NeedleFinish) -> float:
    """Return the stitching hours that a school gives a needle; by quilt and by condition it is that of the hours."""
    if _goes_by_sound(school, finish):
        return COATED_HOURS[0].value
    return HOURS_LIFE[0].value * (COATED_LASTS[0].value if finish is NeedleFinish.TITANIUM else 1)


def _goes_by_sound(school: LifeSchool, finish: NeedleFinish) -> bool:
    """Say whether a needle's sound decides between two ends: a coated one's, where the school tells it apart."""
    return finish is NeedleFinish.TITANIUM and school in (LifeSchool.COATED, LifeSchool.POINT)


@dataclass(frozen=True, kw_only=True)
class MeanLife:
    """The mean hours without trouble within a time, and its 95 % interval."""

    within_h: float
    hours: float
    low: float
    high: float


def cost_per_hour(
    price: float,
    finish: NeedleFinish,
    own: OwnLife | None = None,
    school: LifeSchool = LifeSchool.HOURS,
    mean: MeanLife | None = None,
) -> HourCost:
    """Return the price of one needle over its life.

    The user's own life where three troubles are on record; where fewer came, what the record shows it lasts at least,
    if that is more than the school says; else the school's. ``mean`` is the mean life of the same needles, by the curve
    of those without trouble.
    """
    require_between(value=price, low=0, high=1000, what="The price of one needle", field="price")
    if own and mean and mean.hours and own.troubles >= TROUBLES_FOR_OWN.value:
        return HourCost(
            per_hour=price / mean.hours,
            life_hours=mean.hours,
            low=price / mean.high,
            high=price / mean.low if mean.low else None,
            standing=Standing.OWN_RECORDS,
            why=f"your own {own.needles} needles: {figure(mean.hours, 1)} h of the first {mean.within_h:.0f} "
            "without trouble",
        )
    if own and own.mean_hours and own.troubles >= TROUBLES_FOR_OWN.value:
        life, standing = own.mean_hours, Standing.OWN_RECORDS
        why = f"your own {own.needles} needles: {figure(life, 1)} h to trouble"
    else:
        life, standing = school_hours(school, finish), Standing.COMMON_PRACTICE
        why = f"{life:.0f} h by your choice of needle life"
        if own and own.needles and own.low_hours > life:
            life, standing = own.low_hours, Standing.OWN_RECORDS
            troubles = so_many_troubles(own.troubles)
            why = f"your own {own.needles} needles: {own.hours:.0f} h with {troubles}, so {life:.0f} h at least"
    return HourCost(per_hour=price / life, life_hours=life, standing=standing, why=why)
