"""Where to start a new combination: the schools' value, corrected by this machine's own records of near ones.

A Gaussian-process regression over the combination: its mean is the schools' value, its covariance falls with the
distance in thickness and fiber drag above and below, bobbin number, batting and fabric, motion and bobbin work. All
lengths are our own estimates.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from statistics import median

import numpy as np
import numpy.typing as npt

from weftonos.core.balance.looks import Observation, on_scale
from weftonos.core.balance.posterior import OUTLIER_SHARE, BalancePrior, StitchedBefore, center_of, scale_unit
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich, Weave
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.differences import reading_changed
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.capstan import FRICTION
from weftonos.core.thread.nature import together
from weftonos.core.thread.thread import Bundle, Thread

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
#: In dial numbers: what the schools' value is off by from machine to machine, from thread to thread, and at random.
MACHINE_SPREAD = estimate(0.9, "dial numbers")
THREAD_SPREAD = estimate(0.9, "dial numbers")
LEFT_OVER = estimate(0.35, "dial numbers")
MOST_RECORDS = 60
#: So many of the last looks at a combination say where it balances.
MOST_LOOKS_EACH = 12
#: Records that weigh less than this in the answer are not named beside it, and so many are at most.
WORTH_NAMING = estimate(0.02)
MOST_NAMED = 6
_LOFTS = list(Loft)

#: The threads above, that below and whether it is bobbin work, loft and fabric, motion.
#: A recipe's balance lies anywhere but where it was found in so many cases.
RECIPE_ANYWHERE = estimate(0.05)
#: What is expected of a combination that was on before weighs as much as so many times of its own.
ANYWHERE_WEIGHS = estimate(4, "times")

Key = tuple[object, ...]


@dataclass(frozen=True, kw_only=True)
class Combination:
    """What decides a balance, as far as the predictor looks.

    ``school_setting`` is the schools' value on the machine's scale; ``None`` where no school has one. ``usual`` is the
    range it is expected in, ``also`` a second value that is as usual.
    """

    diameter_mm: float
    drag: float
    bobbin_mn: float | None
    loft: Loft
    motion: Motion
    school_setting: float | None
    usual: tuple[float, float] | None = None
    also: float | None = None
    below_mm: float | None = None
    below_drag: float | None = None
    weave: Weave = Weave.ORDINARY
    bobbin_work: bool = False

    @classmethod
    def of_setup(
        cls, scale: TopScale, setup: Setup, motion: Motion, about_mn: float | None = None
    ) -> Combination | None:
        """Describe the combination of a set-up; ``None`` without a top thread.

        ``about_mn`` is what its bobbin is thought to read where it went unread.
        """
        top = setup.top_bundle
        if top is None:
            return None
        reading = setup.reading.mean_mn if setup.reading else about_mn
        sandwich = setup.sandwich or Sandwich()
        found = cls.of(
            scale=scale,
            top=top,
            bobbin=setup.bobbin_thread,
            bobbin_mn=reading,
            loft=sandwich.loft,
            motion=motion,
        )
        found = replace(found, weave=sandwich.weave, bobbin_work=setup.bobbin_work)
        # A heavy thread in the bobbin, face down: nobody knows where its top begins.
        return replace(found, school_setting=None, usual=None, also=None) if setup.bobbin_work else found

    @classmethod
    def of(
        cls,
        scale: TopScale,
        top: Bundle,
        bobbin: Thread | None,
        bobbin_mn: float | None,
        loft: Loft,
        motion: Motion,
    ) -> Combination:
        """Describe a combination on a machine's own scale."""
        drag = sum(FRICTION[t.fiber].value for t in top.threads) / len(top.threads)
        setting, usual, also = school_setting(scale=scale, top=top, bobbin_mn=bobbin_mn)
        return cls(
            diameter_mm=top.diameter_mm,
            drag=drag,
            bobbin_mn=bobbin_mn,
            loft=loft,
            motion=motion,
            school_setting=setting,
            usual=usual,
            also=also,
            below_mm=bobbin.diameter_mm if bobbin else None,
            below_drag=FRICTION[bobbin.fiber].value if bobbin else None,
        )


@dataclass(frozen=True, kw_only=True)
class SewnBefore:
    """How often a combination was on before, a new bobbin or thread each time, and how often it ended good.

    Of the times after the first, ``off`` counts those whose first line was off, ``plainly_off`` plainly off.
    """

    times: int = 0
    good: int = 0
    off: int = 0
    plainly_off: int = 0

    @property
    def anywhere(self) -> float:
        """The share of cases in which it balances anywhere but where it did, drawn to what is expected."""
        weighs = ANYWHERE_WEIGHS.value
        return (OUTLIER_SHARE.value * weighs + self.plainly_off) / (weighs + self._again)

    @property
    def drift(self) -> float:
        """How far it strays from time to time, in dial numbers: what was good again and again strays less."""
        weighs = ANYWHERE_WEIGHS.value
        return LEFT_OVER.value * math.sqrt((weighs + self.off) / (weighs + self._again))

    @property
    def _again(self) -> int:
        return max(0, self.times - 1)


@dataclass(frozen=True, kw_only=True)
class BalanceRecord:
    """A combination that was stitched: where it balanced, under a name, and the spread of that in the scale's numbers.

    Without a spread the setting is taken as it stands.
    """

    combination: Combination
    setting: float
    name: str
    spread: float = 0.0
    looks: tuple[Observation, ...] = ()
    key: Key | None = None
    before: SewnBefore = SewnBefore()


def key_of(setup: Setup, motion: Motion) -> Key:
    """Return what makes a set-up one combination for the predictor: threads, loft, fabric and motion."""
    lies = setup.sandwich and (setup.sandwich.loft, setup.sandwich.weave)
    below = setup.bobbin and (setup.bobbin.one_thread, setup.bobbin_work)
    return tuple(t.one_thread for t in setup.top), below, lies, motion


def stitched_combinations(scale: TopScale, looks: Iterable[tuple[StitchedLook, Setup]]) -> list[BalanceRecord]:
    """Return where a machine's combinations balanced, from every look at them and their set-ups, newest first.

    Combinations are the same with the same threads, loft, fabric, motion and bobbin reading: the newest look names
    them, and all their looks, whatever was seen, say where they balance, about where they were stitched. One that was
    never seen balanced is known by what it was not.
    """
    newest: dict[tuple[Key, int], tuple[Combination, str]] = {}
    seen: dict[tuple[Key, int], list[Observation]] = {}
    times: dict[tuple[Key, int], dict[object, list[int]]] = {}
    groups: dict[Key, list[float | None]] = {}
    looks = list(looks)
    readings = [setup.reading.mean_mn for _, setup in looks if setup.reading]
    # A bobbin that went unread is taken to have read as this machine's others.
    about_mn = median(readings) if readings else None
    for look, setup in looks:
        threads = key_of(setup, look.motion)
        read = setup.reading.mean_mn if setup.reading else None
        key = threads, _group(groups.setdefault(threads, []), read)
        if key not in newest:
            combination = Combination.of_setup(scale, setup, look.motion, about_mn)
            if combination is None:
                continue
            newest[key] = combination, " + ".join(t.name for t in setup.top)
        times.setdefault(key, {}).setdefault((setup.top_since, setup.bobbin_since), []).append(look.grade)
        if len(seen.setdefault(key, [])) < MOST_LOOKS_EACH:
            seen[key].append(Observation(look.setting, look.grade, look.doubtful))
    found = []
    for key, (combination, name) in list(newest.items())[:MOST_RECORDS]:
        if observations := on_scale(scale, seen[key]):
            looks_at = tuple(observations)
            stitched = sum(look.setting for look in looks_at) / len(looks_at)
            about = BalancePrior(stitched, math.hypot(MACHINE_SPREAD.value, THREAD_SPREAD.value) * scale_unit(scale))
            setting, spread = center_of(scale, looks_at, about)
            found.append(
                BalanceRecord(
                    combination=combination,
                    setting=setting,
                    name=name,
                    spread=spread,
                    looks=looks_at,
                    key=key[0],
                    before=_sewn_before(list(times[key].values())),
                )
            )
    return found


def _sewn_before(times: Sequence[Sequence[int]]) -> SewnBefore:
    """Count how often a combination was on, from the grades of each time; both are newest first."""
    return SewnBefore(
        times=len(times),
        good=sum(grades[0] == 0 for grades in times),
        off=sum(grades[-1] != 0 for grades in times[:-1]),
        plainly_off=sum(abs(grades[-1]) == 2 for grades in times[:-1]),
    )


def _group(readings: list[float | None], read: float | None) -> int:
    """Return which of the readings a look was stitched under; one that is new is added. Unread goes with any."""
    for number, other in enumerate(readings):
        if read is None or other is None or not reading_changed(other, read):
            readings[number] = other if other is not None else read
            return number
    readings.append(read)
    return len(readings) - 1


def _reads_alike(one: Combination, other: Combination) -> bool:
    return not (one.bobbin_mn and other.bobbin_mn and reading_changed(one.bobbin_mn, other.bobbin_mn))


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
    before: SewnBefore = SewnBefore()
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
    def prior(self) -> BalancePrior:
        """The start as a prior for the balance; ``anywhere`` is the share that it may lie anywhere."""
        return BalancePrior(self.center, self.spread, self.anywhere)


#: A display in the gauge's numbers starts at the bobbin's own, give or take this share.
READOUT_USUAL = estimate(0.15)

School = tuple[float | None, tuple[float, float] | None, float | None]


def school_setting(scale: TopScale, top: Bundle, bobbin_mn: float | None) -> School:
    """Return the schools' value on a machine's own scale, the range it is usual in, and a second value as usual.

    All are within the scale's limits, and ``None`` where the schools have none. A readout starts at the bobbin's own
    number, metallic and film below it, and nobody says where it starts before the bobbin is read; a dial starts at its
    usual numbers, a knob at its mark or the turns the thread wants looser. A thread for bobbin work alone has none.
    """
    nature = together(top.threads)
    if nature.bobbin_only:
        return None, None, None
    also = None
    if scale.kind is ScaleKind.READOUT and not scale.in_dial_numbers:
        if bobbin_mn is None:
            return None, None, None
        center = bobbin_mn * nature.start.readout
        low, high = center * (1 - READOUT_USUAL.value), center * (1 + READOUT_USUAL.value)
    elif scale.in_dial_numbers:
        # The numbers of a dial are those of a home machine, turns those of a longarm, whichever head has them.
        (center, low, high), also = nature.start.dial, nature.start.also
        also = also if also is not None and scale.within(also) == also else None
    else:
        center, low, high = nature.start.turns
    return scale.within(center), (scale.within(low), scale.within(high)), also


def _kernel(a: Combination, b: Combination) -> float:
    distance = ((a.diameter_mm - b.diameter_mm) / LENGTHS["thickness"].value) ** 2
    distance += ((a.drag - b.drag) / LENGTHS["drag"].value) ** 2
    distance += ((_LOFTS.index(a.loft) - _LOFTS.index(b.loft)) / LENGTHS["loft"].value) ** 2
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
    off from day to day by what is left over between equal combinations. What the others say is exact Gaussian-process
    regression on what each was off the schools' value; the misses are the exact leave-one-out errors (Rasmussen &
    Williams 2006, section 5.4.2). Settings are in the scale's own numbers.
    """
    unit = scale_unit(scale)
    # Bobbin work and ordinary sewing say nothing of each other.
    records = [r for r in records if r.combination.bobbin_work is new.bobbin_work][:MOST_RECORDS]
    same = (r for r in records if again is not None and r.key == again)
    mine = next((r for r in same if _reads_alike(r.combination, new)), None)
    if mine is not None:
        others = starting_point(scale, new, [r for r in records if r is not mine])
        center, spread = center_of(scale, mine.looks, others.prior)
        itself = UsedRecord(name=mine.name, setting=mine.setting, weight=1.0, miss=mine.setting - others.center)
        looked = f"{so_many(len(mine.looks), 'test line')} for these threads before"
        return replace(
            others,
            center=center,
            spread=math.hypot(spread, LEFT_OVER.value * unit),
            records=(itself, *others.records)[:MOST_NAMED],
            text=f"From {looked}. {others.text}",
            anywhere=mine.before.anywhere,
            before=mine.before,
            stitched=StitchedBefore(
                prior=others.prior,
                looks=mine.looks,
                drift=mine.before.drift * unit,
                anywhere=mine.before.anywhere,
            ),
        )
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
    unread = " Nobody can say where a readout starts before the bobbin is read."
    unread = unread if silent and not new.bobbin_work else ""
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
        anywhere=RECIPE_ANYWHERE.value if kept.graded else OUTLIER_SHARE.value,
    )


def _without_records(scale: TopScale, new: Combination, spread: float) -> StartingPoint:
    """Return the schools' value; where they have none, the middle of the scale and no idea of where it lies."""
    known = new.school_setting is not None
    center = scale.low + scale.span / 2 if new.school_setting is None else new.school_setting
    if known:
        both = "" if new.also is None else f" or {scale.words(new.also)}: test both"
        text = f"The usual setting, {scale.words(scale.snap(center))}{both}. No record of this machine yet."
    elif new.bobbin_work:
        text = "Nobody can say where bobbin work starts. Stitch a line at both ends, then halve what is left."
    else:
        text = (
            "Nobody says where a readout starts before the bobbin is read, and this machine has no record yet. "
            "Read the bobbin first, or begin in the middle and halve what is left."
        )
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
