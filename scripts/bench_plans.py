"""Plans measured: how often reality lies in the stated range, what the order saves, and how long the page takes."""

from __future__ import annotations

import statistics
from itertools import pairwise
from random import Random

from quilt_worlds import Owner, a_plan, facts_of, sew, told

from weftonos.core.plan.minutes import ChangesTake
from weftonos.core.plan.order import OnMachine, change_between, cheapest_order, must_come_first
from weftonos.core.plan.passes import Pass, PassKind, QuiltingDensity, QuiltPlanned
from weftonos.core.plan.sewn import learned_from
from weftonos.core.plan.takes import what_it_takes

EARLIER = (0, 5, 40)
#: A range of 8 in 10 holds so many in 100.
HOLDS = (75, 88)


def bench_cover(quilts: int = 40, *, bound: bool = False) -> None:
    """Plan and sew simulated quilts from 0, 5 and 40 earlier ones; bobbins are held by whole ones."""
    print(f"\nPlans: {quilts} simulated quilts each, how many in 100 lie in the range that is stated")
    for earlier in EARLIER:
        inside = {"meters": 0, "bobbins": 0, "hours": 0, "whole bobbins": 0}
        half = []
        for seed in range(quilts):
            chance = Random(f"{seed} {earlier}")
            owner = Owner.drawn(chance)
            before = [sew(owner, a_plan(chance), chance) for _ in range(earlier)]
            plan = a_plan(chance)
            learned = learned_from(told(owner, before))
            takes = what_it_takes(plan, facts_of(owner, plan, before), learned)
            real = sew(owner, plan, chance)
            assert takes.bobbins is not None
            inside["meters"] += takes.stitched_m.low <= real.meters <= takes.stitched_m.high
            inside["hours"] += takes.hours.low <= real.hours <= takes.hours.high
            inside["bobbins"] += takes.bobbins.low <= real.emptied <= takes.bobbins.high
            inside["whole bobbins"] += int(takes.bobbins.low) <= real.bobbins <= -int(-takes.bobbins.high // 1)
            half.append((takes.hours.high - takes.hours.low) / 2 / takes.hours.likely)
        shares = {what: 100 * count / quilts for what, count in inside.items()}
        width = statistics.median(half)
        met = all(HOLDS[0] <= share <= HOLDS[1] for what, share in shares.items() if "whole" not in what)
        says = ", ".join(f"{what} {share:.0f}" for what, share in shares.items())
        wide = f"hours ±{width:.0%}"
        verdict = ("met" if met else "NOT MET") if bound else "shown"
        print(f"  from {earlier:>2} earlier quilts: {says:<52} {wide:<12} target 75 to 88  {verdict}")
        if earlier == EARLIER[-1]:
            print(f"  {'':<30} target hours ±20%  {'met' if width <= 0.20 else 'NOT MET'}")


def bench_order(plans: int = 500) -> None:
    """Compare our order with the order as typed, by thread from light to dark, and at random."""
    print(f"\nPlans: minutes of changes, on {plans} random plans of 2 to 8 passes")
    kinds = (PassKind.FILL, PassKind.MOTIF, PassKind.BORDER, PassKind.DITCH, PassKind.OUTLINE)
    spent: dict[str, list[float]] = {"ours": [], "as typed": [], "light to dark": [], "at random": []}
    worse = 0
    for seed in range(plans):
        chance = Random(seed)
        count = chance.randint(2, 8)
        passes = tuple(
            Pass(key=n, what=chance.choice(kinds), share=0.05, density=QuiltingDensity.MEDIUM)
            for n in range(1, count + 1)
        )
        plan = QuiltPlanned(quilt="Dunlin", passes=passes)
        on = {}
        for each in passes:
            top, below = chance.randint(1, 4), chance.randint(1, 2)
            on[each.key] = OnMachine(
                machine=1, top=top, top_one=top, below=below, below_one=below, needle=chance.randint(1, 3)
            )
        ours = cheapest_order(plan, on)
        rules = [(rule.first, rule.then) for rule in must_come_first(plan, list(on))]
        ways = {
            "ours": list(ours.keys),
            "as typed": _allowed(list(on), rules),
            "light to dark": _allowed(sorted(on, key=lambda key: on[key].top), rules),  # type: ignore[arg-type,return-value]
            "at random": _allowed(chance.sample(list(on), count), rules),
        }
        usual = ChangesTake()
        for name, way in ways.items():
            spent[name].append(sum(change_between(on[a], on[b], usual).minutes for a, b in pairwise(way)))
        worse += spent["ours"][-1] > min(each[-1] for each in spent.values()) + 1e-9
    for name, minutes in spent.items():
        print(f"  {name:<16} {statistics.fmean(minutes):6.1f} min on the average")
    print(f"  ours is worse than one of them on {worse} plans   target 0  {'met' if not worse else 'NOT MET'}")


def _allowed(way: list[int], rules: list[tuple[int, int]]) -> list[int]:
    """Return an order put right where it sews something before what must come first."""
    left, found = list(way), list[int]()
    while left:
        free = next(key for key in left if not any(then == key and first in left for first, then in rules))
        left.remove(free)
        found.append(free)
    return found


if __name__ == "__main__":
    bench_cover(300, bound=True)
    bench_order()
