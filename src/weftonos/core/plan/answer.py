"""A plan answered without a workshop: what it takes, its order and its evenings, from figures that are given."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from weftonos.core.kernel.errors import require_between
from weftonos.core.mend.upkeep import CLEAN_AFTER, OIL_AFTER
from weftonos.core.needle.life import HOURS_LIFE
from weftonos.core.plan.evenings import Evening, Every, ToSew, evenings
from weftonos.core.plan.minutes import ChangesTake
from weftonos.core.plan.order import OnMachine, Ordered, cheapest_order, zones_of
from weftonos.core.plan.passes import Pass, QuiltPlanned
from weftonos.core.plan.takes import Learned, PassFacts, PlanTakes, usual_pace, what_it_takes


@dataclass(frozen=True, kw_only=True)
class KnownForPlan:
    """What is known for a plan; ``paces`` by pass, ``bobbins_m`` by thread below."""

    on_frame: bool
    throat_in: float | None
    paces: Mapping[int, float]
    bobbins_m: Mapping[int, float]
    learned: Learned

    def __post_init__(self) -> None:
        for pace in self.paces.values():
            require_between(pace, 0, 2000, "A pace", "paces", unit="m/h", above_low=True)
        for meters in self.bobbins_m.values():
            require_between(meters, 0, 5000, "What a bobbin holds", "bobbins_m", unit="m", above_low=True)
        if self.throat_in is not None:
            require_between(self.throat_in, 4, 60, "The throat", "throat_in", unit="in")

    def facts(self, each: Pass) -> PassFacts:
        """Return what is known for a pass."""
        own = self.paces.get(each.key)
        return PassFacts(
            pace_m_h=own or usual_pace(each.what, on_frame=self.on_frame),
            pace_is_own=own is not None,
            usual_m_h=usual_pace(each.what, on_frame=self.on_frame),
            bobbin_m=self.bobbins_m.get(each.below) if each.below else None,
            life_h=HOURS_LIFE[0].value,
            clean_h=CLEAN_AFTER.value,
        )


@dataclass(frozen=True, kw_only=True)
class QuiltPlanAnswer:
    """What a plan takes, the order that costs least, and the evenings it is sewn on."""

    takes: PlanTakes
    order: Ordered
    evenings: Sequence[Evening]


def answer_plan(plan: QuiltPlanned, given: KnownForPlan) -> QuiltPlanAnswer:
    """Answer a plan by what is given."""
    facts = {each.key: given.facts(each) for each in plan.passes}
    takes = what_it_takes(plan, facts, given.learned)
    on = {
        each.key: OnMachine(
            machine=each.machine or 0,
            top=each.top,
            top_one=each.top,
            below=each.below,
            below_one=each.below,
            needle=(each.needle, each.point) if each.needle else None,
            motion=each.motion,
        )
        for each in plan.passes
    }
    zones = zones_of(plan.height, given.throat_in) if given.on_frame else 1
    order = cheapest_order(plan, on, zones=zones, rolled=given.on_frame)
    by_key = {each.key: each for each in takes.passes}
    work = [
        ToSew(
            key=key,
            words=by_key[key].words,
            hours=by_key[key].hours.likely,
            bobbins=b.likely if (b := by_key[key].bobbins) else None,
            change_minutes=change.minutes,
            change=change.what,
            life_h=facts[key].life_h,
        )
        for key, change in zip(order.keys, order.changes, strict=True)
    ]
    cleaning = ChangesTake().with_typed(plan.minutes).cleaning
    every = Every(oil=OIL_AFTER.value, clean=CLEAN_AFTER.value, clean_min=cleaning)
    nights = evenings(work, each_h=plan.evening_h, days=plan.days, starts=plan.starts, every=every)
    return QuiltPlanAnswer(takes=takes, order=order, evenings=nights)
