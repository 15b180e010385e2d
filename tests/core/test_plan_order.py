"""The order of passes: equal to trying every order, and never against what must come first."""

from __future__ import annotations

import random
from itertools import pairwise, permutations

import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.core.plan.minutes import ChangeMinutes, ChangesTake
from weftonos.core.plan.order import OnMachine, change_between, cheapest_order, must_come_first, zones_of
from weftonos.core.plan.passes import ComesFirst, Pass, PassKind, QuiltingDensity, QuiltPlanned

M = ChangesTake()
LOOSE = (PassKind.FILL, PassKind.MOTIF, PassKind.BORDER, PassKind.DITCH, PassKind.OUTLINE)


def a_plan(chance: random.Random, count: int, machines: int = 2) -> tuple[QuiltPlanned, dict[int, OnMachine]]:
    passes = tuple(
        Pass(key=n + 1, what=chance.choice(LOOSE), share=0.05, density=QuiltingDensity.MEDIUM, name=f"pass {n + 1}")
        for n in range(count)
    )
    on = {
        each.key: OnMachine(
            machine=chance.randint(1, machines),
            top=(top := chance.choice([None, 1, 2, 3, 4])),
            top_one=top and top // 2,
            below=(below := chance.choice([None, 7, 8])),
            below_one=below,
            needle=chance.choice([None, "80/12", "90/14", "100/16"]),
            holes=chance.choice([None, 1, 3]),
        )
        for each in passes
    }
    return QuiltPlanned(quilt="Dunlin", passes=passes), on


def cost(way, on, begin, rolls, zones):
    steps = [change_between(on[a], on[b], M).minutes for a, b in pairwise(way)]
    first = change_between(begin, on[way[0]], M).minutes
    over_all = first + sum(steps) + rolls * (len(way) - 1)
    if zones == 1 or len({each.machine for each in on.values()}) > 1:
        return over_all
    back = change_between(on[way[-1]], on[way[0]], M).minutes
    return min(over_all, first + zones * sum(steps) + (zones - 1) * back)


@pytest.mark.parametrize("count", range(2, 8))
def test_no_other_order_costs_less(count):
    chance = random.Random(count)
    for n in range(12 if count < 7 else 4):
        rolled, machines = n % 2 == 1, 1 + n % 3 % 2
        plan, on = a_plan(chance, count, machines)
        zones = chance.randint(1, 6) if rolled else 1
        begin = OnMachine(machine=1, top=1, top_one=0, below=7, below_one=7, needle="90/14")
        found = cheapest_order(plan, on, now=begin, zones=zones, rolled=rolled)
        rules = [(rule.first, rule.then) for rule in must_come_first(plan, list(on))]
        allowed = [way for way in permutations(on) if all(way.index(first) < way.index(then) for first, then in rules)]
        least = min(cost(way, on, begin, M.roll_back if rolled else 0, zones) for way in allowed)
        assert tuple(found.keys) in set(allowed)
        # Zone by zone is chosen where it saves a minute and more.
        assert least <= found.minutes <= least + 1


def test_what_must_come_first_is_said_with_its_reason():
    passes = (
        Pass(key=1, what=PassKind.BINDING),
        Pass(key=2, what=PassKind.FILL),
        Pass(key=3, what=PassKind.DITCH),
        Pass(key=4, what=PassKind.MOTIF),
    )
    plan = QuiltPlanned(quilt="Dunlin", passes=passes)
    on = {each.key: OnMachine(machine=1) for each in passes}
    found = cheapest_order(plan, on)
    assert found.keys == [3, 4, 2, 1]
    assert found.text == "Some passes must come before others. In this order they do."
    assert {rule.why for rule in found.rules} >= {"Stitching in the ditch holds the layers, so it comes first."}


def test_the_owners_own_rule_is_kept_and_outdoes_the_usual_one():
    passes = (Pass(key=1, what=PassKind.FILL), Pass(key=2, what=PassKind.MOTIF))
    mine = ComesFirst(first=1, then=2, why="I mark the motif on the fill.")
    found = cheapest_order(
        QuiltPlanned(quilt="Dunlin", passes=passes, rules=(mine,)), {n: OnMachine(machine=1) for n in (1, 2)}
    )
    assert found.keys == [1, 2]
    assert found.rules == [mine]


def test_rules_in_a_circle_are_refused_at_their_field():
    passes = (Pass(key=1, what=PassKind.FILL), Pass(key=2, what=PassKind.FILL, share=0.1))
    rules = (ComesFirst(first=1, then=2, why="a"), ComesFirst(first=2, then=1, why="b"))
    plan = QuiltPlanned(quilt="Dunlin", passes=passes, rules=rules)
    with pytest.raises(CraftError, match="circle") as refused:
        cheapest_order(plan, {n: OnMachine(machine=1) for n in (1, 2)})
    assert refused.value.field == "rules"


def test_a_color_of_the_same_thread_costs_a_thread_change_and_no_test_line():
    one = OnMachine(machine=1, top=1, top_one="line", below=5, below_one=5, needle="90/14")
    other = OnMachine(machine=1, top=2, top_one="line", below=5, below_one=5, needle="90/14")
    assert change_between(one, other, M).minutes == M.thread
    assert change_between(one, OnMachine(machine=1), M).minutes == 0, "what is not known costs nothing"


def test_minutes_are_those_of_the_handbook():
    """Thread 2, thread and bobbin 4, needle 2, screw with a reading 5, test line 2, rolling back 6, cleaning 5."""
    assert (M.thread, M.thread + M.bobbin, M.needle, M.screw, M.test_line) == (2, 4, 2, 5, 2)
    assert (M.roll_back, M.cleaning) == (6, 5)


def test_alternating_threads_are_put_together():
    passes = tuple(Pass(key=n, what=PassKind.FILL, share=0.1, name=str(n)) for n in range(1, 7))
    on = {n: OnMachine(machine=1, top=n % 2 + 1, top_one=n % 2 + 1) for n in range(1, 7)}
    found = cheapest_order(QuiltPlanned(quilt="Dunlin", passes=passes), on)
    assert found.minutes == 4
    assert found.saves == 4 * 4
    assert found.text == "This order saves 16 minutes against yours."


def test_a_frame_is_sewn_zone_by_zone_where_that_costs_less():
    passes = tuple(Pass(key=n, what=PassKind.FILL, share=0.1) for n in (1, 2, 3))
    plan = QuiltPlanned(quilt="Dunlin", passes=passes, height_m=2)
    alike = {n: OnMachine(machine=1, top=1, top_one=1) for n in (1, 2, 3)}
    found = cheapest_order(plan, alike, zones=7, rolled=True)
    assert (found.zones, found.minutes) == (7, 0)
    apart = {n: OnMachine(machine=1, top=n, top_one=n, needle=n) for n in (1, 2, 3)}
    assert cheapest_order(plan, apart, zones=7, rolled=True).zones == 1
    assert zones_of(2.0, 24) == 6


def test_ten_passes_are_ordered_at_once():
    plan, on = a_plan(random.Random(10), 10)
    assert len(cheapest_order(plan, on, zones=5, rolled=True).keys) == 10


def test_a_pass_that_is_begun_is_sewn_to_its_end_first():
    passes = (Pass(key=1, what=PassKind.FILL), Pass(key=2, what=PassKind.MOTIF), Pass(key=3, what=PassKind.BORDER))
    plan = QuiltPlanned(quilt="Dunlin", passes=passes)
    on = {n: OnMachine(machine=1, top=n, top_one=n) for n in (1, 2, 3)}
    found = cheapest_order(plan, on, begun=1, zones=6, rolled=True)
    assert (found.keys[0], found.zones) == (1, 1)
    assert {rule.then for rule in found.rules} == set()


def test_one_s_own_minutes_count_where_nobody_typed_any():
    passes = (Pass(key=1, what=PassKind.FILL), Pass(key=2, what=PassKind.BORDER))
    on = {1: OnMachine(machine=1, top=1, needle="90/14"), 2: OnMachine(machine=1, top=2, needle="100/16")}
    own = ChangesTake(thread=4, needle=7, test_line=1)
    for typed, minutes in ((ChangeMinutes(), 4 + 7 + 1), (ChangeMinutes(needle=2), 4 + 2 + 1)):
        plan = QuiltPlanned(quilt="Dunlin", passes=passes, minutes=typed)
        assert cheapest_order(plan, on, takes=own).minutes == minutes
    assert cheapest_order(QuiltPlanned(quilt="Dunlin", passes=passes), on).minutes == 2 + 2 + 2, "the usual ones"
