"""What a plan takes: stitched meters, thread, bobbins, hours, needles, cleaning and oiling, each with its range."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from weftonos.core.bobbin.thread_use import thread_for
from weftonos.core.kernel.counting import Z80
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.plan.expected import (
    METERS_BY_LINES,
    METERS_BY_PICTURE,
    METERS_KNOWN,
    NOTHING,
    OWN_PACE,
    THREAD_EACH,
    USUAL_PACE,
    Doubt,
    LearnedFactor,
    Likely,
    Parts,
    Told,
    learned_factor,
    together,
)
from weftonos.core.plan.passes import Pass, PassKind, QuiltPlanned

#: Usual pace until one's own is known, in stitched meters an hour.
PACE_AT_HOME = estimate(40, "m/h", "free-motion at home")
PACE_ON_FRAME = estimate(80, "m/h", "on a frame")
PACE_PANTOGRAPH = estimate(150, "m/h", "edge to edge with a pantograph")
#: The last bobbin is half used on the average, and anything between none and all of it.
HALF_USED, COUNTED_WHOLE = estimate(0.5, "bobbins"), estimate(0.29, "bobbins", "sd of a whole one's part")
#: How far a pass is, is said by eye.
SHARE_BY_EYE = estimate(0.07, "", "of the pass")


def usual_pace(what: PassKind, *, on_frame: bool) -> float:
    """Return a usual pace in stitched meters an hour."""
    if not on_frame:
        return PACE_AT_HOME.value
    return (PACE_PANTOGRAPH if what is PassKind.EDGE_TO_EDGE else PACE_ON_FRAME).value


@dataclass(frozen=True, kw_only=True)
class PassFacts:
    """What the workshop knows for a pass: paces in stitched m an hour, and meters of thread on a full bobbin.

    ``pace_m_h`` is by the last runs where ``pace_is_own``; ``usual_m_h`` is usual for its kind. ``life_h`` are the
    hours a needle of its kind lasts, ``None`` where its condition decides, ``clean_h`` those until cleaning.
    """

    pace_m_h: float
    pace_is_own: bool
    usual_m_h: float
    bobbin_m: float | None
    life_h: float | None
    clean_h: float


@dataclass(frozen=True, kw_only=True)
class Learned:
    """What the quilts that were finished by plan told: of stitched meters, of bobbin thread, of hours at usual pace."""

    meters: Sequence[Sequence[Told]] = field(default=())
    thread: Sequence[Sequence[Told]] = field(default=())
    hours: Sequence[Sequence[Told]] = field(default=())


@dataclass(frozen=True, kw_only=True)
class PassTakes:
    """What one pass takes. ``thread_m`` is of each thread, above and below; ``bobbins`` are full ones.

    ``needles`` are changes because one is worn out.
    """

    key: int
    words: str
    stitched_m: Likely
    thread_m: Likely
    bobbins: Likely | None
    hours: Likely
    needles: int
    taken_as_usual: Sequence[str]

    @property
    def to_wind(self) -> int | None:
        """How many bobbins to wind for it: enough in 9 of 10 quilts."""
        return None if self.bobbins is None else max(1, math.ceil(self.bobbins.high))


@dataclass(frozen=True, kw_only=True)
class PlanTakes:
    """What a whole plan takes; ``quilts`` says on how many finished quilts the ranges rest.

    ``bobbins`` are those of the passes whose bobbin thread is chosen; ``None`` where none is.
    """

    passes: Sequence[PassTakes]
    stitched_m: Likely
    thread_m: Likely
    bobbins: Likely | None
    hours: Likely
    quilts: int
    rests_on: str


@dataclass(frozen=True)
class Factors:
    """What a plan's figures are multiplied by."""

    meters: LearnedFactor
    thread: LearnedFactor
    hours: LearnedFactor


def _meters_doubt(each: Pass) -> Doubt:
    if each.meters is not None or each.what is PassKind.BINDING:
        return METERS_KNOWN
    return METERS_BY_LINES if each.lines_apart_mm or each.block_m else METERS_BY_PICTURE


def parts_of(amounts: Mapping[PassKind, float]) -> Parts:
    """Return the share of each kind in what is added up."""
    whole = sum(amounts.values())
    return {kind: amount / whole for kind, amount in amounts.items()} if whole else {}


def _by_kind(plan: QuiltPlanned, amount: Callable[[Pass], float]) -> Parts:
    amounts: dict[PassKind, float] = {}
    for each in plan.passes:
        amounts[each.what] = amounts.get(each.what, 0.0) + amount(each)
    return parts_of(amounts)


def factors_of(plan: QuiltPlanned, facts: Mapping[int, PassFacts], learned: Learned) -> Factors:
    """Return what the plan's figures are multiplied by; the pass with the most stitching says how sure they are."""

    def meters_on(each: Pass) -> float:
        return each.meters_on(plan.width, plan.height)

    widest = max(plan.passes, key=meters_on)
    meters = _meters_doubt(widest)
    own = facts[widest.key].pace_is_own and not learned.hours
    by_meters = _by_kind(plan, meters_on)
    by_hours = _by_kind(plan, lambda each: meters_on(each) / facts[each.key].usual_m_h)
    return Factors(
        meters=learned_factor(meters, learned.meters, by_meters),
        thread=learned_factor(together(meters, THREAD_EACH), learned.thread, by_meters),
        hours=learned_factor(together(meters, OWN_PACE if own else USUAL_PACE), learned.hours, by_hours),
    )


def what_it_takes(
    plan: QuiltPlanned, facts: Mapping[int, PassFacts], learned: Learned | None = None, *, at_usual_pace: bool = False
) -> PlanTakes:
    """Return what a plan takes, pass by pass and in all.

    Parameters
    ----------
    facts: what is known for each pass, by its key. learned: what finished quilts told.
    at_usual_pace: whatever one's own runs say, for what finished quilts are held against.
    """
    learned = learned or Learned()
    by, usual = factors_of(plan, facts, learned), at_usual_pace or bool(learned.hours)
    takes = []
    for each in plan.passes:
        known, planned = facts[each.key], each.meters_on(plan.width, plan.height)
        thread = thread_for(planned, each.stitch, plan.sandwich.thickness_mm)
        hours = Likely.of(planned / (known.usual_m_h if usual else known.pace_m_h), by.hours, each.what)
        takes.append(
            PassTakes(
                key=each.key,
                words=each.words,
                stitched_m=Likely.of(planned, by.meters, each.what),
                thread_m=Likely.of(thread, by.thread, each.what),
                bobbins=Likely.of(thread / known.bobbin_m, by.thread, each.what) if known.bobbin_m else None,
                hours=hours,
                needles=int(hours.likely / known.life_h) if known.life_h else 0,
                taken_as_usual=each.taken_as_usual,
            )
        )
    counted = [each.bobbins for each in takes if each.bobbins is not None]
    return PlanTakes(
        passes=takes,
        stitched_m=sum((each.stitched_m for each in takes), NOTHING),
        thread_m=sum((each.thread_m for each in takes), NOTHING),
        bobbins=sum(counted, NOTHING) if counted else None,
        hours=sum((each.hours for each in takes), NOTHING),
        quilts=by.hours.quilts,
        rests_on=_rests_on(plan, facts, by),
    )


def _rests_on(plan: QuiltPlanned, facts: Mapping[int, PassFacts], by: Factors) -> str:
    if by.hours.quilts:
        last = so_many(by.hours.quilts, "planned quilt") if by.hours.quilts > 1 else "planned quilt"
        return f"By what your last {last} really took."
    if all(facts[each.key].pace_is_own for each in plan.passes):
        return "At your own pace. No planned quilt is finished yet, so the range is wide."
    return "At a usual pace, since yours isn't on record yet, so the range is wide."


@dataclass(frozen=True, kw_only=True)
class OnTheWay:
    """How a pass goes: bobbins used so far, how many it will take in all, and how many more than planned."""

    used: float
    planned: float
    in_all: float
    more: int
    text: str


def on_the_way(planned: Likely, begun: int, share: float) -> OnTheWay | None:
    """Return how many bobbins a pass will take in all, by those begun for the share that is sewn.

    The one that is in is half used on the average. What was planned and what was used are weighed by how sure each is:
    the plan by its range, the count by a part of a bobbin and by a share that is said by eye. ``None`` where nothing is
    sewn.
    """
    if share <= 0 or begun <= 0:
        return None
    used = begun - HALF_USED.value
    prior = (math.log(planned.high / planned.low) / (2 * Z80.value)) ** 2
    seen = (COUNTED_WHOLE.value / used) ** 2 + (SHARE_BY_EYE.value / share) ** 2
    ratio = (used / (planned.likely * share)) ** (prior / (prior + seen))
    in_all = used + (1 - share) * planned.likely * ratio
    wound, planned_whole = math.ceil(in_all), math.ceil(planned.likely)
    more = wound - planned_whole
    way = "more" if more > 0 else "fewer"
    ends = f"{abs(more)} {way} than planned: {wound} in all" if more else "as planned"
    text = f"{begun} of {so_many(planned_whole, 'bobbin')} used for {share:.0%}, {ends}."
    return OnTheWay(used=used, planned=planned.likely, in_all=in_all, more=more, text=text)
