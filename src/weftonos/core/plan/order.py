"""The order of passes that costs least: every change counted in minutes, what must come first first.

Exact, by dynamic programming over the sets of passes that are done (Held and Karp 1962): at most ten passes are 1 024
sets. On a frame, where every pass would roll the quilt back, it is sewn zone by zone if that costs less.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.spoken import MM_PER_INCH, so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.plan.minutes import ChangesTake
from weftonos.core.plan.passes import COVERING, ComesFirst, PassKind, QuiltPlanned

#: How much of its throat a frame sews before it is rolled on.
SEWN_OF_THROAT = estimate(0.6, "", "rollers, take-up and the foot take the rest")
USUAL_THROAT = estimate(20, "in")
#: An order that saves less is as good as the other.
AS_GOOD = estimate(1.0, "min")


@dataclass(frozen=True, kw_only=True)
class OnMachine:
    """What a pass is sewn with. ``None`` is not known, and so costs no change.

    ``top`` and ``below`` are the threads themselves, ``top_one`` and ``below_one`` what all colors of one have in
    common: another color of it is tested as the first was. ``judged`` is how its bobbin is judged once its screw is
    turned: by the gauge, by hand, or, with a bobbin that drops in, ``None``: its screw is left alone.
    """

    machine: int
    top: object = None
    top_one: object = None
    below: object = None
    below_one: object = None
    needle: object = None
    motion: Motion = Motion.FREE_MOTION
    holes: int | None = None
    judged: Feature | None = Feature.GAUGE


@dataclass(frozen=True, kw_only=True)
class PassChange:
    """What is changed between two passes, in words, and the minutes it takes."""

    minutes: float
    what: Sequence[str]


SCREW_AND = {Feature.GAUGE: "screw and a reading", Feature.BY_HAND: "screw and a test by hand"}


def _differs(one: object, other: object) -> bool:
    return one is not None and other is not None and one != other


def change_between(before: OnMachine, after: OnMachine, minutes: ChangesTake) -> PassChange:
    """Return what changes from one pass to the next."""
    found: list[tuple[str, float]] = []
    if before.machine != after.machine:
        found.append(("the other machine", minutes.other_machine))
    if _differs(before.top, after.top):
        found.append(("thread", minutes.thread))
    if _differs(before.below, after.below):
        found.append(("bobbin", minutes.bobbin))
    if _differs(before.below_one, after.below_one) and after.judged:
        found.append((SCREW_AND[after.judged], minutes.screw))
    if _differs(before.needle, after.needle):
        found.append(("needle", minutes.needle))
    if _differs(before.holes, after.holes):
        found.append(("guide holes", minutes.guide_holes))
    combination = (before.top_one, before.below_one, before.needle), (after.top_one, after.below_one, after.needle)
    other = any(_differs(one, two) for one, two in zip(*combination, strict=True)) or before.motion is not after.motion
    if other or before.machine != after.machine:
        found.append(("a test line", minutes.test_line))
    return PassChange(minutes=sum(m for _, m in found), what=[what for what, _ in found])


#: What comes before what, by the kind of pass, and why.
COMES_FIRST = (
    (PassKind.DITCH, "Stitching in the ditch holds the layers, so it comes first."),
    (PassKind.OUTLINE, "Outlines hold the layers before they are filled."),
)


def must_come_first(plan: QuiltPlanned, keys: Sequence[int]) -> Sequence[ComesFirst]:
    """Return every rule between passes that are still to sew: the owner's own before the usual ones.

    Raises :class:`CraftError` for rules that go round in a circle.
    """
    rules = [rule for rule in plan.rules if {rule.first, rule.then} <= set(keys)]
    own = {(rule.first, rule.then) for rule in rules}
    passes = [each for each in plan.passes if each.key in keys]
    for one in passes:
        for other in passes:
            why = _usual_reason(one.what, other.what)
            # Whoever says it the other way round has a reason.
            if why and (other.key, one.key) not in own and (one.key, other.key) not in own:
                rules.append(ComesFirst(first=one.key, then=other.key, why=why))
    left = set(keys)
    while left:
        free = {key for key in left if not any(r.then == key and r.first in left for r in rules)}
        if not free:
            raise CraftError("These rules go in a circle. Take one away.", "rules")
        left -= free
    return rules


def _usual_reason(one: PassKind, other: PassKind) -> str:
    if one is other:
        return ""
    if other is PassKind.BINDING:
        return "The binding goes on when all else is sewn."
    for kind, why in COMES_FIRST:
        if one is kind and other in COVERING:
            return why
    if one is PassKind.MOTIF and other is PassKind.FILL:
        return "The fill goes around the motifs."
    return ""


@dataclass(frozen=True, kw_only=True)
class Ordered:
    """An order of passes with what it costs in minutes of changes.

    ``zones`` is 1 where each pass goes over the whole quilt; more where a frame is sewn zone by zone. ``saves`` are the
    minutes against the order as it was typed.
    """

    keys: Sequence[int]
    minutes: float
    zones: int
    saves: float
    changes: Sequence[PassChange]
    rules: Sequence[ComesFirst]
    text: str


def zones_of(height_m: float, throat_in: float | None) -> int:
    """Return in how many zones a frame sews a quilt of this height."""
    depth = (throat_in or USUAL_THROAT.value) * MM_PER_INCH.value / 1000 * SEWN_OF_THROAT.value
    return max(1, math.ceil(height_m / depth))


def cheapest_order(
    plan: QuiltPlanned,
    on: Mapping[int, OnMachine],
    *,
    takes: ChangesTake | None = None,
    now: OnMachine | None = None,
    begun: int | None = None,
    zones: int = 1,
    rolled: bool = False,
) -> Ordered:
    """Return the order of the passes in ``on`` that costs least.

    Parameters
    ----------
    on: what each pass that is left is sewn with, by its key.
    takes: what changes take where the plan doesn't say; without it the usual figures.
    now: what is on the machine; ``None`` where that costs nothing.
    begun: the pass that is on: it is sewn to its end before any other, and over the whole quilt.
    zones: in how many zones a frame sews the quilt. rolled: whether the quilt is on a frame, so that each further pass
        rolls it back.
    """
    typed = [each.key for each in plan.passes if each.key in on]
    # What had to come before the pass that is on has come, or is too late.
    rules = [rule for rule in must_come_first(plan, typed) if rule.then != begun]
    minutes = (takes or ChangesTake()).with_typed(plan.minutes)
    costs = _Costs(
        between=[[change_between(on[a], on[b], minutes).minutes for b in typed] for a in typed],
        begin=[change_between(now, on[key], minutes).minutes if now else 0.0 for key in typed],
        before=[
            sum(1 << n for n, key in enumerate(typed) if key == begun != other or _comes(rules, key, other))
            for other in typed
        ],
    )
    rolls = minutes.roll_back * max(0, len(typed) - 1) if rolled else 0.0
    total, way = _cheapest(costs, 1)
    total, by_zones = total + rolls, 1
    # Zone by zone each part is left for good, so that a pass on the other machine would load the quilt in each.
    if rolled and zones > 1 and begun is None and len({each.machine for each in on.values()}) == 1:
        in_zones, other = _cheapest(costs, zones)
        if in_zones < total - AS_GOOD.value:
            total, way, by_zones = in_zones, other, zones
    as_typed = _as_typed(typed, costs, rules)
    saves = None if as_typed is None else as_typed + rolls - total
    keys = [typed[n] for n in way]
    steps = ([on[keys[0]] if now is None else now] if keys else []) + [on[key] for key in keys]
    return Ordered(
        keys=keys,
        minutes=total,
        zones=by_zones,
        saves=saves or 0.0,
        changes=[change_between(a, b, minutes) for a, b in pairwise(steps)],
        rules=rules,
        text=_says(saves, by_zones),
    )


def _comes(rules: Sequence[ComesFirst], first: int, then: int) -> bool:
    return any(rule.first == first and rule.then == then for rule in rules)


@dataclass(frozen=True)
class _Costs:
    """Minutes between passes and to begin with each, and for each pass the set of those before it, as bits."""

    between: Sequence[Sequence[float]]
    begin: Sequence[float]
    before: Sequence[int]


def _cheapest(costs: _Costs, zones: int) -> tuple[float, list[int]]:
    """Return the least minutes and the way; with ``zones`` the way is sewn in each, and from its end to its start."""
    count = len(costs.begin)
    if count == 0:
        return 0.0, []
    best: tuple[float, list[int]] = (math.inf, [])
    # What goes round depends on where it began, so that each beginning is looked at by itself.
    firsts = [[n] for n in range(count)] if zones > 1 else [list(range(count))]
    for first in firsts:
        best = min(best, _from(costs, [n for n in first if not costs.before[n]], zones), key=lambda each: each[0])
    return best


def _from(costs: _Costs, firsts: Sequence[int], zones: int) -> tuple[float, list[int]]:
    count = len(costs.begin)
    full = (1 << count) - 1
    least: dict[tuple[int, int], float] = {(1 << n, n): costs.begin[n] for n in firsts}
    came: dict[tuple[int, int], int] = {}
    reached: list[list[tuple[int, int]]] = [[] for _ in range(count + 1)]
    reached[1] = list(least)
    for size in range(1, count):
        fresh: dict[tuple[int, int], float] = {}
        for state in reached[size]:
            done, last = state
            spent, row = least[state], costs.between[last]
            for n in range(count):
                if done >> n & 1 or costs.before[n] & ~done:
                    continue
                after, cost = (done | 1 << n, n), spent + zones * row[n]
                if cost < fresh.get(after, math.inf):
                    fresh[after], came[after] = cost, last
        least |= fresh
        reached[size + 1] = list(fresh)
    ends = [
        (least[full, last] + ((zones - 1) * costs.between[last][firsts[0]] if zones > 1 else 0.0), last)
        for last in range(count)
        if (full, last) in least
    ]
    if not ends:
        return math.inf, []
    total, last = min(ends)
    way, state = [last], (full, last)
    while state in came:
        before = came[state]
        state = (state[0] & ~(1 << state[1]), before)
        way.append(before)
    return total, way[::-1]


def _as_typed(typed: Sequence[int], costs: _Costs, rules: Sequence[ComesFirst]) -> float | None:
    """Return what the order as typed costs; ``None`` where it breaks a rule."""
    places = {key: n for n, key in enumerate(typed)}
    if any(places[rule.first] > places[rule.then] for rule in rules):
        return None
    return (costs.begin[0] if typed else 0.0) + sum(costs.between[n][n + 1] for n in range(len(typed) - 1))


def _says(saves: float | None, zones: int) -> str:
    by = f" Sew it in {so_many(zones, 'zone')}, every pass in each, and roll once." if zones > 1 else ""
    if saves is None:
        return f"Some passes must come before others. In this order they do.{by}"
    if saves < AS_GOOD.value:
        return f"Your order is as good as any.{by}"
    return f"This order saves {so_many(round(saves), 'minute')} against yours.{by}"
