"""The starting point against scikit-learn, the guard rails, and what differs between two set-ups."""

import math
from dataclasses import replace
from datetime import UTC, datetime

import numpy as np
import pytest
from sklearn.kernel_ridge import KernelRidge
from sklearn.model_selection import LeaveOneOut, cross_val_predict

from weftonos.core.balance.combination import Combination, key_of, school_setting
from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.guard_rail import RailKind, guard_rails, unread_bobbin
from weftonos.core.balance.looks import Observation
from weftonos.core.balance.starting_point import KeptBefore, _kernel, from_recipe, starting_point
from weftonos.core.balance.stitched import LEFT_OVER, BalanceRecord, stitched_combinations
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich, Weave
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.needle.needle import NeedleFinish, Point
from weftonos.core.setup.case_choice import LearnedTurn
from weftonos.core.setup.differences import Changed, differences
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.setup import CaseTag, NeedleTag, ReadingTag, Setup, ThreadTag
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread

NOW = datetime(2026, 11, 24, tzinfo=UTC)
DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)
READOUT = TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5)
TURNS = TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25)
COTTON = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=40, system=WeightSystem.WT)
GOLD = Thread(fiber=Fiber.METALLIC, construction=Construction.METALLIC, value=40, system=WeightSystem.WT)


def combination(wt=40.0, bobbin=200.0, loft=Loft.LOW, motion=Motion.FREE_MOTION, fiber=Fiber.COTTON) -> Combination:
    top = Bundle.of([Thread(fiber=fiber, construction=Construction.SPUN, value=wt, system=WeightSystem.WT)])
    return Combination.of(DIAL, top, None, bobbin, loft, motion)


RECORDS = [
    BalanceRecord(combination=combination(40), setting=3.9, name="forty"),
    BalanceRecord(combination=combination(50, 210), setting=3.4, name="fifty"),
    BalanceRecord(combination=combination(30, 195, Loft.LOFTY), setting=4.6, name="thirty, lofty"),
    BalanceRecord(combination=combination(60, 205, fiber=Fiber.SILK), setting=2.6, name="silk"),
    BalanceRecord(combination=combination(40, 200, motion=Motion.STRAIGHT), setting=1.9, name="forty, straight"),
]


def test_the_regression_and_its_left_out_misses_agree_with_scikit_learn():
    new = combination(45, 202)
    found = starting_point(DIAL, new, RECORDS)
    gram = np.array([[_kernel(a.combination, b.combination) for b in RECORDS] for a in RECORDS])
    off = np.array([r.setting - r.combination.school_setting for r in RECORDS])
    near = np.array([[_kernel(new, r.combination) for r in RECORDS]])
    ridge = KernelRidge(alpha=LEFT_OVER.value**2, kernel="precomputed")
    expected = new.school_setting + ridge.fit(gram, off).predict(near)[0]
    assert found.center == pytest.approx(expected)
    left_out = off - cross_val_predict(ridge, gram, off, cv=LeaveOneOut())
    assert found.typical_miss == pytest.approx(np.median(np.abs(left_out)))
    misses = {r.name: r.miss for r in found.records}
    for record, miss in zip(RECORDS, left_out, strict=True):
        if record.name in misses:
            assert misses[record.name] == pytest.approx(miss)


def test_near_records_weigh_more_and_far_ones_leave_the_spread_wide():
    near = starting_point(DIAL, combination(41, 201), RECORDS)
    assert near.records[0].name == "forty"
    far = starting_point(DIAL, combination(12, 320, Loft.LOFTY, Motion.DECORATIVE), RECORDS)
    assert far.spread > near.spread
    none = starting_point(DIAL, combination(), [])
    assert none.spread > far.spread
    assert none.center == none.school
    assert none.typical_miss is None


def test_every_motion_has_its_own_balance():
    free = starting_point(DIAL, combination(40), RECORDS)
    straight = starting_point(DIAL, combination(40, motion=Motion.STRAIGHT), RECORDS)
    assert free.center - straight.center > 0.8


@pytest.mark.parametrize(
    ("scale", "thread", "bobbin", "setting"),
    [
        (DIAL, COTTON, None, 3.0),
        (DIAL, GOLD, None, 1.0),  # metallic 1, common practice
        (READOUT, COTTON, 204.0, 204.0),  # a readout starts at the bobbin's number
        (TURNS, COTTON, 204.0, 0.0),
        (TURNS, GOLD, 204.0, -0.5),  # wrapped: a little looser than the mark
        (READOUT, COTTON, None, None),  # no school says where it starts unread
    ],
)
def test_the_schools_value_is_in_the_machine_s_own_terms(scale, thread, bobbin, setting):
    assert school_setting(scale, Bundle.of([thread]), bobbin)[0] == setting


def tag(thread_id: int, thread: Thread = COTTON) -> ThreadTag:
    return ThreadTag(
        id=thread_id,
        name=f"T{thread_id}",
        words="40 wt",
        fiber=thread.fiber,
        construction=thread.construction,
        tex=thread.density.tex,
        diameter_mm=0.18,
        color="#224466",
    )


SETUP = Setup(
    top=(tag(1),),
    bobbin=tag(2),
    needle=NeedleTag(record_id=1, metric=100, american=16, point=Point.SHARP, finish=NeedleFinish.STEEL, fitted_at=NOW),
    reading=ReadingTag(record_id=2, mean_mn=200, scatter_mn=3, swing=0.02, calmness=Calmness.CALM, read_at=NOW),
    sandwich=Sandwich(batting="wool"),
    case=CaseTag(1, "A", 1.0),
)


def traps(setup: Setup, grades: list[int], sense: bool = True) -> dict[RailKind, bool]:
    looks = [Observation(4.0 + i, g) for i, g in enumerate(grades)]
    return {
        g.trap: g.blocks for g in guard_rails(setup, looks, sense, has=set(), unread=unread_bobbin({Feature.GAUGE}))
    }


def test_a_bobbin_is_read_or_felt_as_it_can_be_on_its_machine():
    by_hand = unread_bobbin({Feature.BY_HAND})
    assert by_hand.act == "Feel the bobbin"
    assert "gauge" not in by_hand.text
    assert unread_bobbin({Feature.GAUGE}).act == "Read the bobbin"
    turn = LearnedTurn(minutes=-1, times=1, took="", text="As the last time.")
    assert unread_bobbin({Feature.BY_HAND}, turn).act == "Loosen the bobbin's screw 1 minute"
    none = LearnedTurn(minutes=0, times=1, took="", text="Leave it.")
    assert unread_bobbin({Feature.BY_HAND}, none) == by_hand


def test_the_classic_mistakes_are_stood_in_the_way_of():
    assert traps(SETUP, [0]) == {}
    assert traps(SETUP, [2]) == {RailKind.SUDDEN_NEST: True}
    assert traps(SETUP, [0, 2]) == {RailKind.SUDDEN_NEST: True}
    assert traps(SETUP, [1, 2]) == {}  # a ladder that loosens into loops is no sudden nest
    assert traps(SETUP, [0], sense=False) == {RailKind.JUMPING_GRADES: True}
    fluttering = replace(
        SETUP,
        reading=ReadingTag(record_id=2, mean_mn=200, scatter_mn=3, swing=0.2, calmness=Calmness.FAULT, read_at=NOW),
    )
    assert traps(fluttering, [0]) == {RailKind.FLUTTERING_BOBBIN: True}
    assert traps(replace(SETUP, reading=None), [0]) == {RailKind.UNREAD_BOBBIN: False}
    assert traps(replace(SETUP, top=(tag(1, GOLD),)), [0]) == {RailKind.METALLIC: False}


def test_what_differs_between_two_set_ups_is_listed_in_working_order():
    assert differences(SETUP, SETUP) == ()
    after = replace(
        SETUP,
        top=(tag(3),),
        needle=NeedleTag(
            record_id=9, metric=90, american=14, point=Point.SHARP, finish=NeedleFinish.STEEL, fitted_at=NOW
        ),
        reading=ReadingTag(record_id=5, mean_mn=230, scatter_mn=3, swing=0.02, calmness=Calmness.CALM, read_at=NOW),
        sandwich=Sandwich(batting="cotton"),
        case=None,
    )
    found = differences(SETUP, after)
    assert [d.what for d in found] == [
        Changed.TOP_THREAD,
        Changed.BOBBIN_CASE,
        Changed.NEEDLE,
        Changed.SANDWICH,
        Changed.BOBBIN_READING,
    ]
    assert (found[0].before, found[0].after) == ("T1", "T3")
    assert (found[-1].before, found[-1].after) == ("200 mN", "230 mN")
    fresh = replace(
        SETUP,
        needle=NeedleTag(
            record_id=8, metric=100, american=16, point=Point.SHARP, finish=NeedleFinish.STEEL, fitted_at=NOW
        ),
    )
    assert [d.what for d in differences(SETUP, fresh)] == [Changed.NEW_NEEDLE]
    assert [d.after for d in differences(SETUP, Setup())] == ["not on record"] * 5 + ["not read"]


def test_an_unread_readout_starts_from_the_machine_s_own_records_or_says_that_nobody_knows():
    unread = replace(combination(40), bobbin_mn=None, school_setting=None)
    alone = starting_point(READOUT, unread, [])
    assert (alone.center, alone.spread, alone.school) == (240, 320, None)
    assert alone.text.startswith("A readout starts at the bobbin's own number, which isn't known here.")
    kept = [
        BalanceRecord(combination=unread, setting=190.0, name="the same"),
        BalanceRecord(combination=unread, setting=190.0, name="the same again"),
    ]
    found = starting_point(READOUT, unread, kept)
    assert found.center == pytest.approx(190)
    assert (found.school, found.school_miss) == (None, None)
    assert "own number, which isn't known here" in found.text
    assert "schools'" not in found.text


def test_a_start_is_never_surer_than_its_own_misses():
    records = [
        BalanceRecord(combination=combination(weight), setting=setting, name=str(weight))
        for weight, setting in ((40, 9.0), (41, 3.0))
    ]
    found = starting_point(DIAL, combination(40), records)
    assert found.typical_miss > 2
    assert found.spread >= found.typical_miss


def test_bobbin_thread_fabric_and_bobbin_work_belong_to_what_makes_combinations_near():
    top = Bundle.of([COTTON])
    fine = Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=80, system=WeightSystem.WT)
    one = Combination.of(DIAL, top, fine, 200, Loft.LOW, Motion.FREE_MOTION)
    others = {
        "bobbin thread": Combination.of(DIAL, top, COTTON, 200, Loft.LOW, Motion.FREE_MOTION),
        "fabric": replace(one, weave=Weave.BATIK),
    }
    for what, other in others.items():
        assert _kernel(one, other) < 0.97 * _kernel(one, one), what
        assert _kernel(one, other) == _kernel(other, one)
    # A record of bobbin work says nothing of ordinary sewing with the same threads.
    far = BalanceRecord(combination=replace(one, bobbin_work=True), setting=8.0, name="bobbin work")
    near = BalanceRecord(combination=one, setting=8.0, name="the same")
    school = one.school_setting
    moved = [starting_point(DIAL, one, [record]).center - school for record in (far, near)]
    assert moved[0] == 0 < moved[1]


def test_a_recipe_of_this_very_combination_is_the_start_as_sure_as_its_looks():
    kept = KeptBefore(name="Dunlin", setting=8.5, low=8.0, high=9.0, looks=3)
    start = from_recipe(DIAL, kept)
    assert (start.center, start.text) == (8.5, "As saved in “Dunlin”, 8.50, from 3 test lines.")
    assert start.spread == pytest.approx(math.hypot(1.0 / (2 * 1.959964), LEFT_OVER.value))
    unsure = from_recipe(DIAL, replace(kept, low=None, high=None, looks=0))
    assert unsure.spread == pytest.approx(math.sqrt(2) * LEFT_OVER.value)
    assert unsure.text.endswith("from one test line.")


def test_a_start_that_was_seen_too_tight_is_not_proposed_a_third_time():
    """What was stitched and was not good counts as much as what was."""
    motion, setup = Motion.FREE_MOTION, SETUP
    tight = StitchedLook(setting=6, grade=-2, motion=motion)
    better = StitchedLook(setting=5, grade=-1, motion=motion)
    new = Combination.of_setup(DIAL, setup, motion)
    before = starting_point(DIAL, new, [])
    starts = []
    for looks in ([tight], [better, tight], [better, better, tight]):
        records = stitched_combinations(DIAL, [(look, setup) for look in looks])
        starts.append(starting_point(DIAL, new, records, key_of(setup, motion)))
    assert all(start.center < 5 for start in starts)
    assert starts[0].center < before.center
    assert starts[2].text.startswith("From 3 test lines for these threads before. ")


def test_looks_at_this_combination_before_are_a_step_of_bayes_and_a_day_between():
    look = StitchedLook(setting=4, grade=0, motion=Motion.FREE_MOTION)
    new = Combination.of_setup(DIAL, SETUP, look.motion)
    key = key_of(SETUP, look.motion)
    found = starting_point(DIAL, new, stitched_combinations(DIAL, [(look, SETUP)] * 3), key)
    alone = starting_point(DIAL, new, [])
    judged = estimate_balance(DIAL, alone.prior, [Observation(4, 0)] * 3)
    assert found.center == pytest.approx(judged.center, abs=1e-9)
    assert found.spread == pytest.approx(math.hypot(judged.spread, LEFT_OVER.value))


def test_vague_records_say_less_of_how_far_off_starts_were():
    """The root mean square of the left-out misses, each weighed by how well its record is known."""
    known = [(38, 3.0, 0.1), (40, 3.4, 0.1), (43, 2.9, 0.1), (41, 9.0, 6.0)]
    records = [
        BalanceRecord(combination=combination(weight), setting=setting, name=str(weight), spread=spread)
        for weight, setting, spread in known
    ]
    found = starting_point(DIAL, combination(40), records)
    gram = np.array([[_kernel(a.combination, b.combination) for b in records] for a in records])
    noise = np.array([LEFT_OVER.value**2 + spread**2 for _, _, spread in known])
    off = np.array([r.setting - r.combination.school_setting for r in records])
    misses = []
    for n in range(len(records)):
        rest = [k for k in range(len(records)) if k != n]
        weights = np.linalg.solve(gram[np.ix_(rest, rest)] + np.diag(noise[rest]), off[rest])
        misses.append(off[n] - gram[n, rest] @ weights)
    weighed = math.sqrt(np.average(np.square(misses), weights=1 / noise))
    plain = math.sqrt(np.mean(np.square(misses)))
    assert plain > 2 * weighed, "the vague record is far off"
    assert found.spread < 0.75 * plain
    assert found.spread >= weighed - 1e-9
