"""Where to start a new combination: the schools' value, corrected by this machine's own records of near ones.

A Gaussian-process regression over the combination: its mean is the schools' value, its covariance falls with the
distance in thickness and fiber drag above and below, bobbin number, batting and fabric, motion and bobbin work. All
lengths are our own estimates.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from weftonos.core.balance.combination import Combination, Key
from weftonos.core.balance.moved import moved_from
from weftonos.core.balance.posterior import (
    OUTLIER_SHARE,
    SELDOM_ELSEWHERE,
    BalancePrior,
    StitchedBefore,
    center_of,
    scale_unit,
)
from weftonos.core.balance.stitched import (
    LEFT_OVER,
    MACHINE_SPREAD,
    MOST_RECORDS,
    NEVER_SEWN,
    THREAD_SPREAD,
    BalanceRecord,
    SewnBefore,
)
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.differences import reads_otherwise

Array = npt.NDArray[np.float64]

#: How far combinations may lie apart and still tell something of each other.
LENGTHS = {
    "thickness": estimate(0.04, "mm"),
    "drag": estimate(0.05),
    "bobbin": estimate(0.12, "", "of ln(reading)"),
    "loft": estimate(1.2, "steps"),
    "thickness below": estimate(0.06, "mm"),
    "drag below": estimate(0.08),
}
OTHER_MOTION = estimate(0.4, "", "correlation between straight, free-motion and decorative")
OTHER_FABRIC = estimate(0.85, "", "correlation between two kinds of top fabric")
#: Records that weigh less than this in the answer are not named beside it, and so many are at most.
WORTH_NAMING = estimate(0.02)
MOST_NAMED = 6


@dataclass(frozen=True, kw_only=True)
class UsedRecord:
    """A record that was used: its name, setting, weight in the answer, and by how much it missed when left out."""

    name: str
    setting: float
    weight: float
    miss: float


@dataclass(frozen=True, kw_only=True)
class StartingPoint:
    """Where to start, with its spread, the schools' value, the records used, and how far off such guesses were.

    Not ``known`` where nobody can say: on a display whose bobbin is not read, before anything was stitched, and for
    bobbin work. ``usual_low`` to ``usual_high`` is where a knob may stay, ``also`` a second start that is as usual.
    """

    center: float
    spread: float
    school: float | None
    records: tuple[UsedRecord, ...]
    typical_miss: float | None
    school_miss: float | None
    text: str
    anywhere: float = OUTLIER_SHARE.value
    known: bool = True
    usual_low: float | None = None
    usual_high: float | None = None
    also: float | None = None
    before: SewnBefore = NEVER_SEWN
    stitched: StitchedBefore | None = None

    def words(self, scale: TopScale) -> str:
        """Return where to start in the machine's own terms: "3.0", or "3.0 or 5.0" where both are as usual."""
        first = scale.words(scale.snap(self.center))
        return first if self.also is None else f"{first} or {scale.words(self.also)}"

    @property
    def about(self) -> tuple[float, float]:
        """The range in which a knob stands where this start is: as usual, or within its spread."""
        if self.usual_low is not None and self.usual_high is not None:
            return self.usual_low, self.usual_high
        return self.center - self.spread, self.center + self.spread

    @property
    def expected(self) -> BalancePrior | StitchedBefore:
        """What is expected: lines of earlier times where there are any, else the start with its spread."""
        return self.stitched or self.prior

    @property
    def prior(self) -> BalancePrior:
        """The start as a prior for the balance; ``anywhere`` is the share that it may lie anywhere."""
        return BalancePrior(self.center, self.spread, self.anywhere)


def _kernel(a: Combination, b: Combination) -> float:
    distance = ((a.diameter_mm - b.diameter_mm) / LENGTHS["thickness"].value) ** 2
    distance += ((a.drag - b.drag) / LENGTHS["drag"].value) ** 2
    distance += (a.loft.steps_above(b.loft) / LENGTHS["loft"].value) ** 2
    if a.bobbin_mn and b.bobbin_mn:
        distance += (math.log(a.bobbin_mn / b.bobbin_mn) / LENGTHS["bobbin"].value) ** 2
    if a.below_mm is not None and b.below_mm is not None:
        distance += ((a.below_mm - b.below_mm) / LENGTHS["thickness below"].value) ** 2
    if a.below_drag is not None and b.below_drag is not None:
        distance += ((a.below_drag - b.below_drag) / LENGTHS["drag below"].value) ** 2
    sewn = 1.0 if a.motion is b.motion else OTHER_MOTION.value
    fabric = 1.0 if a.weave is b.weave else OTHER_FABRIC.value
    return sewn * (MACHINE_SPREAD.value**2 + THREAD_SPREAD.value**2 * fabric * math.exp(-distance / 2))


def starting_point(
    scale: TopScale, new: Combination, records: Sequence[BalanceRecord], again: Key | None = None
) -> StartingPoint:
    """Predict where a combination balances.

    Looks at this very combination (``again`` is its key) count as looks, upon what the others say; beside that it is
    off from day to day by what is left over between equal combinations. Under other layers or another reading it
    begins where it balanced before, moved as such changes moved others (:mod:`~weftonos.core.balance.moved`). What the
    others say is exact Gaussian-process regression on what each was off the schools' value; the misses are the exact
    leave-one-out errors (Rasmussen & Williams 2006, section 5.4.2). Settings are in the scale's own numbers.
    """
    unit = scale_unit(scale)
    # Bobbin work and ordinary sewing say nothing of each other.
    records = [r for r in records if r.combination.bobbin_work is new.bobbin_work][:MOST_RECORDS]
    same = (r for r in records if again is not None and r.key == again)
    mine = next((r for r in same if not reads_otherwise(r.combination.bobbin_mn, new.bobbin_mn)), None)
    if mine is not None:
        others = _from_near(scale, new, [r for r in records if r is not mine])
        center, spread = center_of(scale, mine.looks, others.prior)
        itself = UsedRecord(name=mine.name, setting=mine.setting, weight=1.0, miss=mine.setting - others.center)
        looked = f"{so_many(len(mine.looks), 'test line')} for these threads before"
        return replace(
            others,
            center=center,
            spread=math.hypot(spread, LEFT_OVER.value * unit),
            records=(itself, *others.records)[:MOST_NAMED],
            text=f"From {looked}. {_beside(scale, others)}".strip(),
            anywhere=mine.before.anywhere,
            before=mine.before,
            stitched=StitchedBefore(
                expected=others.prior,
                looks=mine.looks,
                drift=mine.before.drift * unit,
                anywhere=mine.before.anywhere,
                center=center,
            ),
        )
    found = _from_near(scale, new, records)
    moved = moved_from(scale, new, again, records)
    if moved is None:
        return found
    found = replace(found, text=f"{moved.words(scale)} {found.text}")
    spread = math.hypot(moved.record.spread, moved.spread, LEFT_OVER.value * unit)
    if not moved.changes or spread >= found.spread:
        return found
    return replace(found, center=scale.within(moved.record.setting + moved.by), spread=spread)


def _from_near(scale: TopScale, new: Combination, records: Sequence[BalanceRecord]) -> StartingPoint:
    """Return what records of near combinations say, upon the schools' value."""
    unit = scale_unit(scale)
    own = _kernel(new, new)
    if not records:
        return _without_records(scale, new, math.sqrt(own + LEFT_OVER.value**2) * unit)
    # Where the schools are silent the machine's own middle stands in for them, for every record alike.
    schools = [new.school_setting, *(r.combination.school_setting for r in records)]
    middle = sum(r.setting for r in records) / len(records)
    silent = any(school is None for school in schools)
    base, *bases = [middle if silent or school is None else school for school in schools]
    # Where two starts are as usual, a record is off the nearer one.
    bases = [
        base_of if silent or also is None else min(base_of, also, key=lambda each: abs(r.setting - each))
        for base_of, r in zip(bases, records, strict=True)
        for also in [r.combination.also]
    ]
    gram = np.array([[_kernel(a.combination, b.combination) for b in records] for a in records])
    noise = np.array([LEFT_OVER.value**2 + (r.spread / unit) ** 2 for r in records])
    gram += np.diag(noise)
    off = np.array([(r.setting - school) / unit for r, school in zip(records, bases, strict=True)])
    near = np.array([_kernel(new, r.combination) for r in records])
    inverse = np.linalg.inv(gram)
    weights = inverse @ near
    center = base + float(weights @ off) * unit
    variance = max(own - float(near @ weights), 0.0) + LEFT_OVER.value**2
    misses = (inverse @ off) / np.diag(inverse)
    order = np.argsort(-np.abs(weights))
    used = tuple(
        UsedRecord(
            name=records[i].name, setting=records[i].setting, weight=float(weights[i]), miss=float(misses[i]) * unit
        )
        for i in order[:MOST_NAMED]
        if abs(weights[i]) > WORTH_NAMING.value
    )
    typical = float(np.median(np.abs(misses))) * unit if len(records) > 1 else None
    school_miss = None if silent else float(np.median(np.abs(off))) * unit
    center = scale.within(center)
    count = f"{len(records)} combination{'s' if len(records) > 1 else ''} stitched on this machine"
    schools_say = "" if silent else f" and the usual {scale.words(scale.snap(base))}"
    unread = f" {_UNREAD}" if silent and scale.in_gauge_numbers and not new.bobbin_work else ""
    return StartingPoint(
        center=center,
        # At least the noise-weighted RMS leave-one-out error.
        spread=max(math.sqrt(variance), float(np.sqrt(np.average(misses**2, weights=1 / noise)))) * unit,
        school=None if silent else base,
        records=used,
        typical_miss=typical,
        school_miss=school_miss,
        text=f"From {count}{schools_say}.{unread}",
    )


@dataclass(frozen=True, kw_only=True)
class KeptBefore:
    """What a recipe says of the combination that is on: its setting, its 95 % interval and how many looks it had.

    A card that did not say how it looked is not ``graded``.
    """

    name: str
    setting: float
    low: float | None
    high: float | None
    looks: int
    graded: bool = True


def from_recipe(scale: TopScale, kept: KeptBefore) -> StartingPoint:
    """Return the start that a recipe of this very combination gives: its setting, as sure as its own looks were.

    Beside that it is off from day to day by what is left over between equal combinations.
    """
    unit = scale_unit(scale)
    left_over = LEFT_OVER.value * unit
    own = left_over if kept.graded else THREAD_SPREAD.value * unit
    if kept.low is not None and kept.high is not None:
        own = (kept.high - kept.low) / (2 * Z95.value)
    looks = so_many(kept.looks, "test line") if kept.looks else "one test line"
    if not kept.graded:
        looks = "a card that doesn't say how it looked"
    return StartingPoint(
        center=scale.within(kept.setting),
        spread=math.hypot(own, left_over),
        school=None,
        records=(),
        typical_miss=None,
        school_miss=None,
        text=f"As saved in “{kept.name}”, {scale.words(kept.setting)}, from {looks}.",
        # What it was found from was stitched: it is seldom anywhere else.
        anywhere=SELDOM_ELSEWHERE.value if kept.graded else OUTLIER_SHARE.value,
    )


def _beside(scale: TopScale, others: StartingPoint) -> str:
    """Return what is said beside lines of the same threads: what others say, or what is usual."""
    if others.records:
        return others.text
    return "" if others.school is None else f"The usual setting is {scale.words(scale.snap(others.school))}."


_UNREAD = "A readout starts at the bobbin's own number, which isn't known here."


def _without_records(scale: TopScale, new: Combination, spread: float) -> StartingPoint:
    """Return the schools' value; where they have none, the middle of the scale and no idea of where it lies."""
    known = new.school_setting is not None
    center = scale.low + scale.span / 2 if new.school_setting is None else new.school_setting
    if known:
        both = "" if new.also is None else f" or {scale.words(new.also)}: test both"
        text = f"The usual setting, {scale.words(scale.snap(center))}{both}. No record of this machine yet."
    elif new.bobbin_work:
        text = "Nobody can say where bobbin work starts. Stitch a line at both ends, then halve what is left."
    elif scale.in_gauge_numbers:
        text = f"{_UNREAD} This machine has no record yet. Begin in the middle, and halve what is left."
    else:
        text = "This thread goes below alone: no setting is usual with it on top. Begin in the middle."
    return StartingPoint(
        center=center,
        spread=spread if known else scale.span,
        school=new.school_setting,
        records=(),
        typical_miss=None,
        school_miss=None,
        text=text,
        known=known,
        usual_low=new.usual[0] if new.usual else None,
        usual_high=new.usual[1] if new.usual else None,
        also=new.also,
    )
