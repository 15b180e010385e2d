"""Each estimator worked out a second time, by another way and in plain Python, and held at its edges.

These are quick and exact, so that a small fault in the arithmetic is noticed (see ``scripts/mutants.py``).
"""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise
from statistics import fmean, median

import numpy as np
import pytest
from scipy.stats import chi2
from scipy.stats import t as student
from screw_laws import AIM, Law, OtherCase

from weftonos.core.balance.combination import Combination, school_setting
from weftonos.core.balance.estimate import MOST_LOOKS, drawn_density, estimate_balance
from weftonos.core.balance.looks import Observation, on_scale
from weftonos.core.balance.posterior import BalancePrior, half_width, scale_unit
from weftonos.core.balance.sense import makes_sense
from weftonos.core.balance.starting_point import starting_point
from weftonos.core.balance.stitched import BalanceRecord, stitched_combinations
from weftonos.core.bobbin.control_chart import control_chart
from weftonos.core.bobbin.gauge import Pull, read_gauge
from weftonos.core.bobbin.own_number import learn_number, own_target
from weftonos.core.bobbin.screw import ScrewTurn, TurnDirection, advise_turn, learn_response
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.advice import EYE_PROTECTION
from weftonos.core.kernel.counting import count_interval, student_quantile
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND, Feature
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich, Weave
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import LifeSchool, MachineKind, School
from weftonos.core.kernel.standing import Standing
from weftonos.core.mend.diagnosis import (
    CheckAnswer,
    Inquiry,
    Observed,
    diagnose,
    expected_minutes,
    order_checks,
    posterior,
    refuse_contradictions,
)
from weftonos.core.mend.trouble import Cause, Drawing, Finding, FindingKind, Knowledge, Opens, Trap
from weftonos.core.needle.life import Due, NeedleSpan, cost_per_hour, needle_life, own_life
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point, is_made
from weftonos.core.needle.pairing import against_bobbin, nearest_size, pair_needle, step_size
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.setup import ReadingTag, Setup, ThreadTag
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread

DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
READOUT = TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5)
TURNS = TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25)


def thread(wt: float, fiber: Fiber = Fiber.COTTON, construction: Construction = Construction.SPUN) -> Thread:
    return Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)


# Balance: the posterior by plain enumeration


class Reference:
    """The model of the balance in nested loops, grade by grade."""

    STEEP = (0.7, 1.0, 1.5, 2.2, 3.3, 5.0)
    CUTS = (-3.0, -1.0, 1.0, 3.0)

    def __init__(self, scale: TopScale, prior: BalancePrior | None, looks: list[Observation]) -> None:
        self.unit = 1.0 if scale.kind is ScaleKind.DIAL else (scale.high - scale.low) / 10
        # The balance may lie beyond the ends, by three tenths of the scale.
        span = scale.high - scale.low
        parts = round(1.6 * span / 0.05) if scale.kind is ScaleKind.DIAL else 800
        self.grid = [scale.low - 0.3 * span + i * 1.6 * span / parts for i in range(parts + 1)]
        self.steep = [s / self.unit for s in self.STEEP]
        joint = {}
        near = {c: math.exp(-0.5 * ((c - prior.center) / prior.spread) ** 2) if prior else 1.0 for c in self.grid}
        everywhere = sum(near.values())
        for c in self.grid:
            for s in self.steep:
                # 85 parts in 100 where it is expected, the rest anywhere.
                weight = 0.85 * near[c] / everywhere + 0.15 / len(self.grid) if prior else 1.0
                for look in looks:
                    weight *= self.seen(look, c, s)
                joint[c, s] = weight
        total = sum(joint.values())
        self.joint = {key: weight / total for key, weight in joint.items()}
        self.marginal = [sum(self.joint[c, s] for s in self.steep) for c in self.grid]
        self.mean = sum(c * p for c, p in zip(self.grid, self.marginal, strict=True))
        self.variance = sum((c - self.mean) ** 2 * p for c, p in zip(self.grid, self.marginal, strict=True))

    def grades(self, x: float, c: float, s: float) -> list[float]:
        below = [1 / (1 + math.exp(-(cut + s * (x - c)))) for cut in self.CUTS]
        return [b - a for a, b in pairwise([0.0, *below, 1.0])]

    def seen(self, look: Observation, c: float, s: float) -> float:
        p = self.grades(look.setting, c, s)
        place = look.grade + 2
        if not look.doubtful:
            return p[place]
        beside = [p[i] for i in (place - 1, place + 1) if 0 <= i < 5]
        return (1 - 0.25 * len(beside)) * p[place] + 0.25 * sum(beside)

    def quantile(self, share: float) -> float:
        total = 0.0
        for c, p in zip(self.grid, self.marginal, strict=True):
            total += p
            if total >= share - 1e-12:
                return c
        return self.grid[-1]

    def set_to(self, scale: TopScale, looks: list[Observation]) -> float:
        """The middle of what the grades allow, on a step that they allow."""
        loose = max((o.setting for o in looks if o.grade > 0 and not o.doubtful), default=-math.inf)
        tight = min((o.setting for o in looks if o.grade < 0 and not o.doubtful), default=math.inf)
        if loose >= tight:
            loose, tight = -math.inf, math.inf
        weights = [p if loose < c < tight else 0.0 for c, p in zip(self.grid, self.marginal, strict=True)]
        total, middle = 0.0, self.grid[0]
        for c, p in zip(self.grid, weights, strict=True):
            total += p
            if total >= 0.5 * sum(weights) - 1e-12:
                middle = c
                break
        for by in (0, scale.step, -scale.step):
            if loose < scale.snap(middle + by) < tight:
                return scale.snap(middle + by)
        return scale.snap(middle)

    def good(self, x: float) -> float:
        return sum(p for (c, s), p in self.joint.items() if abs(s * (x - c)) <= 1)

    def left_after(self, x: float) -> float:
        """The expected variance of the center after a look at ``x``."""
        left = 0.0
        for g in range(5):
            cells = [(c, p * self.grades(x, c, s)[g]) for (c, s), p in self.joint.items()]
            weight = sum(w for _, w in cells)
            if weight > 1e-200:
                mean = sum(c * w for c, w in cells) / weight
                left += sum((c - mean) ** 2 * w for c, w in cells)
        return left


CASES = {
    "dial, three looks": (DIAL, None, [Observation(2, 2), Observation(4, 0), Observation(6, -1)]),
    "dial, expected": (DIAL, BalancePrior(3.0, 0.8), [Observation(2.5, 1), Observation(4, -2)]),
    "dial, doubtful": (DIAL, None, [Observation(3, 1, True), Observation(5, -2, True), Observation(4, 2, True)]),
    "dial, doubtful inside": (DIAL, BalancePrior(5, 2), [Observation(4, -1, True), Observation(2, 0, True)]),
    "readout": (READOUT, BalancePrior(205, 30), [Observation(200, 1), Observation(230, -1)]),
    "turns, none yet": (TURNS, BalancePrior(0.5, 1.0), []),
}


@pytest.mark.parametrize("name", CASES)
def test_the_balance_equals_plain_enumeration(name):
    scale, prior, looks = CASES[name]
    found, wanted = estimate_balance(scale, prior, looks), Reference(scale, prior, looks)
    inside = [scale.low - 1e-9 < c < scale.high + 1e-9 for c in wanted.grid]
    assert found.grid == pytest.approx([c for c, on in zip(wanted.grid, inside, strict=True) if on], abs=1e-9)
    step = wanted.grid[1] - wanted.grid[0]
    shown = [p for p, on in zip(wanted.marginal, inside, strict=True) if on]
    assert [d * step for d in found.density] == pytest.approx([p / sum(shown) for p in shown], abs=1e-9)
    assert found.center == pytest.approx(wanted.mean if looks or not prior else prior.center)
    assert found.spread == pytest.approx(math.sqrt(wanted.variance))
    ends = (max(scale.low, wanted.quantile(0.025)), min(scale.high, wanted.quantile(0.975)))
    assert (found.low, found.high) == pytest.approx(ends)
    assert found.set_to == (wanted.set_to(scale, looks) if looks else scale.snap(found.center))
    assert found.present == (looks[-1].setting if looks else found.set_to)
    # The steepest zone ends on points of the grid: which side of it they fall is a matter of rounding.
    assert found.good_enough_probability == pytest.approx(wanted.good(found.present), rel=0.02)
    steep = sum(s * p for (_, s), p in wanted.joint.items())
    assert found.steepness == pytest.approx(steep)
    assert found.next_gain == pytest.approx(math.sqrt(wanted.left_after(found.next_setting)), rel=1e-4)
    assert found.next_setting == found.set_to, "where it most likely lies, not where most would be learned"


def test_what_is_to_be_stitched_next_lies_about_the_interval():
    looks = [Observation(3.5, 1), Observation(4, 0), Observation(4.5, 0), Observation(5, -1)] * 3
    found = estimate_balance(DIAL, None, looks)
    assert found.high - found.low < 2
    assert found.low - 1 <= found.next_setting <= found.high + 1
    wide = estimate_balance(TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.05), BalancePrior(5, 0.3), [])
    assert 5 - 1.2 < wide.next_setting < 5 + 1.2


def test_one_dial_number_is_a_tenth_of_any_other_scale():
    assert scale_unit(DIAL) == 1
    assert scale_unit(READOUT) == 32
    assert scale_unit(TURNS) == pytest.approx(0.8)


def test_sixty_looks_are_a_test_and_more_are_refused():
    looks = [Observation(4, 0)] * MOST_LOOKS
    assert estimate_balance(DIAL, None, looks).center == pytest.approx(4, abs=0.1)
    with pytest.raises(CraftError, match="61 test lines"):
        estimate_balance(DIAL, None, [*looks, Observation(4, 0)])
    for off in (-0.1, 10.1):
        with pytest.raises(CraftError):
            estimate_balance(DIAL, None, [Observation(off, 0)])


def sense_by_hand(scale: TopScale, looks: list[Observation]) -> float:
    """The logarithm of the Bayes factor: one balance anywhere, against grades that follow no setting."""
    ref = Reference(scale, None, [])
    cells = [(c, s) for c in ref.grid for s in ref.steep]
    like = [math.prod(ref.grades(look.setting, c, s)[look.grade + 2] for look in looks) for c, s in cells]
    one = math.log(sum(like) / len(cells))
    counts = [sum(look.grade == g for look in looks) for g in range(-2, 3)]
    other = math.lgamma(5) - math.lgamma(len(looks) + 5) + sum(math.lgamma(n + 1) for n in counts)
    return one - other


@pytest.mark.parametrize(
    "grades",
    [
        (2, 1, 0, 0, -1, -2),
        (0, 0, 0, 0),
        (2, -2, 2, -2),
        (1, -1, 1, 0, -1, 1),
        (-2, -1, 0, 1, 2),
        (1, -1, 0, 0),
        (0, 1, -1, 0, -1),
        (2, 0, 2, -1, 0),
    ],
)
def test_nonsense_is_a_bayes_factor_below_a_tenth(grades):
    looks = [Observation(float(x + 2), g) for x, g in enumerate(grades)]
    assert makes_sense(DIAL, looks) is (sense_by_hand(DIAL, looks) > -2.3)


def test_nonsense_is_told_at_its_limit_and_not_near_it():
    chance = np.random.default_rng(4)
    factors = []
    for _ in range(40):
        looks = [Observation(float(x + 2), int(g)) for x, g in enumerate(chance.integers(-2, 3, 5))]
        factors.append(sense_by_hand(DIAL, looks))
        assert makes_sense(DIAL, looks) is (factors[-1] > -2.3)
        tenfold = [replace(look, setting=80 + 32 * look.setting) for look in looks]
        assert makes_sense(READOUT, tenfold) is (sense_by_hand(READOUT, tenfold) > -2.3)
    assert sum(-3.3 < f < -2.3 for f in factors) > 2, "or a limit one lower would not be noticed"
    assert sum(-2.3 < f < -1.3 for f in factors) > 2, "nor one higher"


def test_what_is_expected_is_a_number_a_scale_can_have():
    assert BalancePrior(1e5, 1e5).spread == BalancePrior(-1e5, 1e-9).center + 2e5 == 1e5
    for center, spread in ((1e5 + 1, 1), (-1e5 - 1, 1), (3, 0), (3, 1e5 + 1), (math.nan, 1), (3, math.inf)):
        with pytest.raises(CraftError):
            BalancePrior(center, spread)


def test_the_grid_and_what_is_drawn_of_it_have_their_limits():
    def points(high: float) -> tuple[int, int]:
        found = estimate_balance(TopScale(kind=ScaleKind.DIAL, low=0, high=high, step=0.5), None, [])
        return len(found.grid), len(drawn_density(found)[0])

    assert points(6) == (121, 61)
    assert points(3)[0] == points(3)[1], "a short one is drawn whole"
    assert points(300)[0] == 2501, "a longer scale gets a coarser grid"


def test_few_or_doubtful_looks_are_never_called_nonsense():
    jumping = [Observation(2.0, -2), Observation(3.0, 2), Observation(8.0, 2), Observation(9.0, -2)]
    assert makes_sense(DIAL, jumping) is False
    assert makes_sense(DIAL, jumping[:3]) is True
    assert makes_sense(DIAL, [*jumping[:3], replace(jumping[3], doubtful=True)]) is True
    said = estimate_balance(DIAL, None, jumping)
    assert (said.makes_sense, "jump around" in said.text) == (False, True)
    assert "ladder_makes_no_sense" in {r.rule for r in said.reasons}


def test_what_is_said_beside_the_estimate():
    def rules(*looks: Observation, prior: BalancePrior | None = None) -> list[str]:
        return [r.rule for r in estimate_balance(DIAL, prior, looks).reasons]

    assert rules() == []
    assert rules(prior=BalancePrior(3, 1)) == ["balance_prior"]
    assert rules(Observation(4, 0)) == ["balance_estimate"]
    assert rules(Observation(4, 1), Observation(5, 1)) == ["balance_estimate", "one_sided"]
    assert rules(Observation(4, 1), Observation(5, 0)) == ["balance_estimate"]
    assert rules(Observation(4, 2)) == ["balance_estimate", "one_sided", "seat_first"]
    beside = (Observation(4, 1), Observation(4 + DIAL.step, -1))
    assert "no_step_between" in rules(*beside)
    one, two = estimate_balance(DIAL, None, [Observation(4, 0)]), estimate_balance(DIAL, None, [Observation(4, 0)] * 2)
    assert one.reasons[0].text == "From 1 test line alone."
    assert two.reasons[0].text == "From 2 test lines alone."
    low = estimate_balance(DIAL, None, [Observation(4, -1)] * 2)
    assert "lower than all" in low.reasons[1].text
    assert "higher than all" in estimate_balance(DIAL, None, [Observation(4, 1)] * 2).reasons[1].text
    assert estimate_balance(DIAL, None, []).text.startswith("Start at")
    assert one.text.startswith("Best guess ")


def test_a_drawing_is_thin_and_a_scale_described_anew_drops_what_lies_off_it():
    found = estimate_balance(READOUT, None, [Observation(200, 0)])
    grid, density = drawn_density(found)
    assert len(grid) == len(density) <= 120
    assert grid[:2] == pytest.approx((80, 80 + 5 * 0.64), abs=0.001)
    assert sum(density) * (grid[1] - grid[0]) == pytest.approx(1, abs=0.01)
    looks = [Observation(x, 0) for x in (-0.1, 0, 5, 10, 10.1)]
    assert [look.setting for look in on_scale(DIAL, looks)] == [0, 5, 10]
    assert half_width(2) == pytest.approx(2 * 1.959964)


# Starting point: Gaussian-process regression by another way


def made(diameter=0.2, drag=0.2, mn: float | None = 200.0, loft=Loft.LOW, motion=Motion.FREE_MOTION, school=3.0):
    return Combination(diameter_mm=diameter, drag=drag, bobbin_mn=mn, loft=loft, motion=motion, school_setting=school)


RECORDS = [
    BalanceRecord(combination=made(0.21, school=2.8), setting=3.4, name="near"),
    BalanceRecord(combination=made(0.26, 0.25, 230.0, Loft.MEDIUM, school=2.5), setting=3.6, name="thicker"),
    BalanceRecord(combination=made(0.15, 0.17, None, Loft.LOFTY, Motion.STRAIGHT, 2.0), setting=1.6, name="other"),
    BalanceRecord(combination=made(0.2, 0.2, 260.0, school=3.1), setting=2.2, name="tight bobbin"),
]


def covariance(a: Combination, b: Combination) -> float:
    lofts = [Loft.LOW, Loft.MEDIUM, Loft.LOFTY]
    far = ((a.diameter_mm - b.diameter_mm) / 0.04) ** 2 + ((a.drag - b.drag) / 0.05) ** 2
    far += ((lofts.index(a.loft) - lofts.index(b.loft)) / 1.2) ** 2
    if a.bobbin_mn and b.bobbin_mn:
        far += (math.log(a.bobbin_mn / b.bobbin_mn) / 0.12) ** 2
    return 0.9**2 * (1 + math.exp(-far / 2)) * (1.0 if a.motion is b.motion else 0.4)


@pytest.mark.parametrize("scale", [DIAL, READOUT], ids=["dial", "readout"])
def test_the_starting_point_equals_regression_solved_another_way(scale):
    unit = 1 if scale is DIAL else 32
    shift = 0 if scale is DIAL else 150

    def onto(record: BalanceRecord) -> BalanceRecord:
        c = replace(record.combination, school_setting=record.combination.school_setting * unit + shift)
        return replace(record, combination=c, setting=record.setting * unit + shift)

    records, new = [onto(r) for r in RECORDS], made(school=3 * unit + shift)
    k = np.array([[covariance(a.combination, b.combination) for b in records] for a in records])
    noisy = k + 0.35**2 * np.eye(4)
    near = np.array([covariance(new, r.combination) for r in records])
    off = np.array([(r.setting - r.combination.school_setting) / unit for r in records])
    found = starting_point(scale, new, records)
    assert found.center == pytest.approx(new.school_setting + unit * near @ np.linalg.solve(noisy, off))
    variance = covariance(new, new) - near @ np.linalg.solve(noisy, near) + 0.35**2
    misses = []
    for i in range(4):
        rest = [j for j in range(4) if j != i]
        left = noisy[np.ix_(rest, rest)]
        misses.append(unit * (off[i] - k[i, rest] @ np.linalg.solve(left, off[rest])))
    # Never surer than its own misses are large, and here they are.
    missed = math.sqrt(fmean(m * m for m in misses))
    assert missed > unit * math.sqrt(variance)
    assert found.spread == pytest.approx(missed)
    by_name = {r.name: r for r in found.records}
    assert by_name["near"].miss == pytest.approx(misses[0])
    assert by_name["tight bobbin"].miss == pytest.approx(misses[3])
    assert found.typical_miss == pytest.approx(median(abs(m) for m in misses))
    assert found.school_miss == pytest.approx(unit * median(abs(o) for o in off))
    weights = [abs(r.weight) for r in found.records]
    assert weights == sorted(weights, reverse=True)
    assert by_name["near"].weight == pytest.approx(np.linalg.solve(noisy, near)[0])


def test_the_starting_point_without_records_and_with_one():
    alone = starting_point(DIAL, made(), [])
    wide = starting_point(READOUT, made(school=200), [])
    assert wide.spread == pytest.approx(32 * alone.spread)
    assert (alone.center, alone.records, alone.typical_miss) == (3, (), None)
    assert alone.spread == pytest.approx(math.sqrt(0.81 + 0.81 + 0.35**2))
    one = starting_point(DIAL, made(), RECORDS[:1])
    assert one.typical_miss is None
    assert one.school_miss == pytest.approx(0.6)
    assert len(one.records) == 1
    assert "1 combination stitched on" in one.text
    assert "4 combinations stitched on" in starting_point(DIAL, made(), RECORDS).text
    assert one.prior == BalancePrior(one.center, one.spread)


def test_the_starting_point_stays_on_the_scale_and_names_few_records():
    high = BalanceRecord(combination=made(school=2), setting=10, name="far up")
    assert starting_point(DIAL, made(school=9.5), [high]).center == 10
    low = BalanceRecord(combination=made(school=9), setting=0, name="far down")
    assert starting_point(DIAL, made(school=0.5), [low]).center == 0
    many = [replace(RECORDS[0], name=f"r{n}") for n in range(70)]
    found = starting_point(DIAL, made(), many)
    assert "From 60 combinations stitched" in found.text
    few = [replace(RECORDS[0], name=f"r{n}") for n in range(9)]
    assert len(starting_point(DIAL, made(), few).records) == 6
    thin = BalanceRecord(combination=made(0.6, 0.5, 900.0, Loft.LOFTY, Motion.STRAIGHT), setting=3, name="no kin")
    assert "no kin" not in {r.name for r in starting_point(DIAL, made(), [*RECORDS, *RECORDS, thin]).records}
    assert "no kin" not in {r.name for r in starting_point(DIAL, made(), [*RECORDS[:2], thin]).records}
    assert starting_point(DIAL, made(), RECORDS[:2]).typical_miss is not None


def test_the_schools_start_on_every_scale():
    gold = thread(40, Fiber.METALLIC, Construction.METALLIC)
    fifty = thread(50)
    assert school_setting(READOUT, Bundle((fifty,)), 210)[0] == 210
    assert school_setting(READOUT, Bundle((fifty,)), 500)[0] == 400
    assert school_setting(READOUT, Bundle((fifty,)), None)[0] is None
    film = thread(40, Fiber.METALLIC, Construction.FILM)
    assert school_setting(READOUT, Bundle((gold,)), 200)[0] == 180
    assert school_setting(READOUT, Bundle((film,)), 200)[0] == 150
    assert school_setting(READOUT, Bundle((film, fifty, gold)), 200)[0] == 150
    assert school_setting(TURNS, Bundle((film,)), 200)[0] == -2.5
    assert school_setting(TURNS, Bundle((fifty,)), 200)[0] == 0
    assert school_setting(TURNS, Bundle((gold,)), 200)[0] == -0.5
    assert school_setting(TURNS, Bundle((gold,)), None)[0] == -0.5
    assert school_setting(TURNS, Bundle((fifty,)), None)[0] == 0
    assert school_setting(DIAL, Bundle((fifty,)), None)[0] == 2
    assert school_setting(DIAL, Bundle((fifty,)), None)[0] == 2
    short = TopScale(kind=ScaleKind.DIAL, low=3, high=9, step=1)
    assert school_setting(short, Bundle((fifty,)), None)[0] == 3


def test_a_machine_s_stitched_combinations_are_each_known_by_all_their_looks():
    def tag(number: int) -> ThreadTag:
        return ThreadTag(
            id=number,
            name=f"thread {number}",
            words="",
            fiber=Fiber.COTTON,
            construction=Construction.SPUN,
            tex=20,
            diameter_mm=0.2,
            color="#000000",
        )

    def look(setting: float, motion: Motion = Motion.STRAIGHT) -> StitchedLook:
        return StitchedLook(setting=setting, grade=0, motion=motion)

    one = Setup(top=(tag(1),), bobbin=tag(9))
    lofty = replace(one, sandwich=Sandwich(loft=Loft.LOFTY))
    looks = [(look(3), one), (look(4), one), (look(5), lofty), (look(6, Motion.FREE_MOTION), one), (look(7), Setup())]
    found = stitched_combinations(DIAL, [*looks, (look(8), replace(one, bobbin=tag(8)))])
    # Between the two looks that were balanced; a single one about where it was.
    assert [round(r.setting, 1) for r in found] == [3.5, 5.0, 6.0, 8.0]
    assert {r.name for r in found} == {"thread 1"}
    assert found[0].spread < found[1].spread
    tight = [(StitchedLook(setting=6, grade=-2, motion=Motion.STRAIGHT), one)] * 2
    never = stitched_combinations(DIAL, tight)[0]
    assert never.setting < 5, "never balanced, and known by what it was not"
    assert found[1].combination.loft is Loft.LOFTY
    read = replace(
        one, reading=ReadingTag(record_id=1, mean_mn=210, scatter_mn=3, swing=None, calmness="calm", read_at=None)
    )
    assert stitched_combinations(DIAL, [(look(3), read)])[0].combination.bobbin_mn == 210
    bundle = Bundle((thread(50), thread(40, Fiber.POLYESTER)))
    both = Combination.of(
        scale=DIAL,
        top=bundle,
        bobbin=None,
        bobbin_mn=None,
        loft=Loft.LOW,
        motion=Motion.STRAIGHT,
    )
    assert both.drag == pytest.approx((0.25 + 0.20) / 2)


# The screw


TURNED = [ScrewTurn(5, 150, 170), ScrewTurn(-3, 200, 181), ScrewTurn(4, 180, 205)]


def test_the_screw_s_response_is_ridge_regression_through_the_origin():
    noise = 0.03 * math.sqrt(2 / 3)
    x = np.array([t.minutes for t in TURNED])
    y = np.array([math.log(t.after_mn / t.before_mn) for t in TURNED])
    precision = x @ x / noise**2 + 1 / 0.015**2
    found = learn_response(TURNED)
    assert found.mean == pytest.approx((x @ y / noise**2 + 0.025 / 0.015**2) / precision)
    assert found.spread == pytest.approx(precision**-0.5)
    assert found.turns == 3
    backwards = [ScrewTurn(5, 200, 120)] * 3
    assert learn_response(backwards).mean == 0.003, "a screw that did nothing would never be turned home"


@pytest.mark.parametrize(("mean", "aim"), [(160, 200), (230, 200), (199, 200), (201, 200), (60, 200), (900, 200)])
@pytest.mark.parametrize("history", [[], TURNED], ids=["new", "known"])
def test_a_turn_minimizes_the_expected_squared_error(mean, aim, history):
    response, found = learn_response(history), advise_turn(mean, aim, history)
    wanted = math.log(aim / mean)

    def loss(minutes: int) -> float:
        return (wanted - response.mean * minutes) ** 2 + (response.spread * minutes) ** 2

    signed = found.minutes if found.direction is TurnDirection.TIGHTEN else -found.minutes
    assert found.direction is (TurnDirection.TIGHTEN if aim > mean else TurnDirection.LOOSEN)
    assert 1 <= found.minutes <= 15
    side = range(1, 16) if aim > mean else range(-15, 0)
    assert loss(signed) == pytest.approx(min(loss(m) for m in side))
    assert found.expected_mn == pytest.approx(mean * math.exp(response.mean * signed))
    # The slope is in doubt by a quarter beside its own spread, the hand turns to a minute, and the turns scatter.
    noise = 0.03 * math.sqrt(2 / 3)
    off = [math.log(t.after_mn / t.before_mn) - response.mean * t.minutes for t in history]
    scatter = max(noise, math.sqrt((2 * noise**2 + sum(o * o for o in off)) / (2 + len(off))))
    parts = (response.spread * found.minutes, 0.25 * response.mean * found.minutes, response.mean, scatter)
    half = 1.959964 * math.sqrt(sum(part**2 for part in parts))
    assert found.expected_low_mn == pytest.approx(found.expected_mn * math.exp(-half))
    assert found.expected_high_mn == pytest.approx(found.expected_mn * math.exp(half))
    assert ("minutes" in found.text) is (found.minutes > 1)
    assert (" clockwise" in found.text) is (aim > mean)
    assert ("anticlockwise" in found.text) is (aim < mean)


def test_a_screw_that_scatters_says_less_of_the_next_turn():
    steady = [ScrewTurn(m, 200, 200 * math.exp(0.025 * m)) for m in (5, -5, 8)]
    wild = [ScrewTurn(m, 200, 200 * math.exp(0.025 * m + off)) for m, off in ((5, 0.1), (-5, 0.1), (8, -0.12))]
    sure, unsure = (learn_response(history).half(8) for history in (steady, wild))
    assert unsure > 1.3 * sure


@pytest.mark.parametrize(
    ("turns", "answers"),
    [
        ([], True),
        ([ScrewTurn(8, 160, 161), ScrewTurn(12, 161, 159)], True),
        ([ScrewTurn(8, 160, 161), ScrewTurn(12, 161, 159), ScrewTurn(15, 159, 160)], False),
        # Turned one way and back it is 200 again, and has answered all the same.
        ([ScrewTurn(8, 160, 195), ScrewTurn(-8, 195, 160), ScrewTurn(8, 160, 195)], True),
        # A slow one is not a dead one.
        ([ScrewTurn(10, 160, 170), ScrewTurn(10, 170, 181), ScrewTurn(10, 181, 192)], True),
    ],
)
def test_a_screw_that_changes_nothing_is_told_after_three_turns(turns, answers):
    assert learn_response(turns).answers is answers
    said = read_gauge(ForceUnit.MN, [Pull(160), Pull(161)], BobbinTarget(low=190, high=210), turns)
    assert ("no longer changes the tension" in said.text) is not answers
    assert (said.advice is None) is not answers


@pytest.mark.parametrize("law", Law)
def test_what_is_said_after_a_turn_holds_on_screws_that_follow_other_laws(law):
    chance, told = np.random.default_rng(7), []
    for _ in range(120):
        case, history = OtherCase(chance, law), []
        reading = case.read()
        while abs(reading / AIM - 1) > 0.05 and len(history) < 8:
            advice = advise_turn(reading, AIM, history)
            minutes = advice.minutes if advice.direction == "tighten" else -advice.minutes
            case.turn(minutes)
            after = case.read()
            told.append(advice.expected_low_mn <= after <= advice.expected_high_mn)
            history.append(ScrewTurn(minutes, reading, after))
            reading = after
    assert np.mean(told) >= 0.9


def test_a_turn_has_its_limits():
    for bad in ({"minutes": 0}, {"minutes": 61}, {"before_mn": 0}, {"after_mn": 0}, {"after_mn": 5001}):
        with pytest.raises(CraftError):
            ScrewTurn(**{"minutes": 5, "before_mn": 150, "after_mn": 170, **bad})
    assert ScrewTurn(-60, 5000, 5000).minutes == -60
    assert ScrewTurn(0.5, 0.5, 0.5).minutes == 0.5
    for reading in ({"before_mn": 5000.5}, {"after_mn": 5000.5}):
        with pytest.raises(CraftError):
            ScrewTurn(**{"minutes": 5, "before_mn": 150, "after_mn": 170, **reading})


# The machine's own number


def spread_of(read: list[float]) -> float:
    """The readings' variance, with 4 degrees of freedom at 4 % of the mean beforehand."""
    squares = sum((x - fmean(read)) ** 2 for x in read) + 4 * (0.04 * fmean(read)) ** 2
    return math.sqrt(squares / (4 + len(read) - 1))


@pytest.mark.parametrize("count", [1, 2, 5])
def test_an_own_number_is_a_mean_with_student_s_interval(count):
    read = [198.0, 204.0, 201.0, 207.0, 196.0][:count]
    found = learn_number(read)
    half = student.ppf(0.975, 3 + count) * spread_of(read) / math.sqrt(count)
    assert (found.mean_mn, found.spread_mn) == pytest.approx((fmean(read), spread_of(read)))
    assert (found.low_mn, found.high_mn) == pytest.approx((fmean(read) - half, fmean(read) + half))
    assert found.readings == count
    assert learn_number([]) is None


def test_the_learned_range_is_two_spreads_and_never_narrower_than_the_gauge_repeats():
    read = [180.0, 220.0, 200.0, 190.0, 210.0]
    wide = own_target(learn_number(read))
    half = 2 * spread_of(read) * math.sqrt(1.2)
    assert (wide.low, wide.high) == pytest.approx((200 - half, 200 + half))
    narrow = own_target(learn_number([200.0] * 40))
    assert (narrow.low, narrow.high, narrow.standing) == (190, 210, Standing.OWN_RECORDS)
    assert "40 balanced stitch-outs" in narrow.origin
    assert own_target(learn_number([1.0, 2.0, 400.0, 3.0, 2.0])).low == 1
    assert own_target(None) is None


@pytest.mark.parametrize("freedom", [1, 2, 4, 30])
def test_quantiles_and_intervals_agree_with_scipy(freedom):
    assert student_quantile(freedom) == pytest.approx(student.ppf(0.975, freedom))
    assert student_quantile(freedom, 0.9) == pytest.approx(student.ppf(0.95, freedom))
    low, high = count_interval(freedom)
    assert (low, high) == pytest.approx((chi2.ppf(0.025, 2 * freedom) / 2, chi2.ppf(0.975, 2 * freedom + 2) / 2))
    assert count_interval(0) == pytest.approx((0, chi2.ppf(0.975, 2) / 2))


# The chart of a case

FACTORS = {2: (1.128, 3.267), 3: (1.693, 2.574), 4: (2.059, 2.282), 5: (2.326, 2.114)}


@pytest.mark.parametrize("size", FACTORS)
def test_limits_rest_on_both_spreads(size):
    chance = np.random.default_rng(size)
    sessions = [list(chance.normal(200 + chance.normal(0, 5), 4, size)) for _ in range(22)]
    drawn = control_chart([*sessions, [200.0] * 6, [200.0]])
    all_means, all_ranges = [fmean(s) for s in sessions], [max(s) - min(s) for s in sessions]
    # The last eight are judged by the fourteen before them.
    means, ranges = all_means[:14], all_ranges[:14]
    d2, d4 = FACTORS[size]
    moving = fmean(abs(b - a) for a, b in pairwise(means)) / 1.128
    reach = 3 * max(moving, fmean(ranges) / d2 / math.sqrt(size))
    assert (drawn.size, drawn.used) == (size, tuple(range(22)))
    assert (drawn.center, drawn.mean_range) == pytest.approx((median(means), fmean(ranges)))
    assert (drawn.upper - drawn.center, drawn.center - drawn.lower) == pytest.approx((reach, reach))
    assert drawn.range_upper == pytest.approx(d4 * fmean(ranges))
    for point, mean, spread in zip(drawn.points, all_means, all_ranges, strict=True):
        assert (point.mean, point.range) == pytest.approx((mean, spread))
        assert point.mean_out is not (drawn.lower <= mean <= drawn.upper)
        assert point.range_out is (spread > drawn.range_upper)


def pulled(*means: float, spread: float = 6.0) -> list[list[float]]:
    return [[m - spread / 2, m, m + spread / 2] for m in means]


def test_limits_wait_for_ten_sessions_of_one_size():
    nine = control_chart(pulled(200, 201, 199, 200, 200, 201, 199, 200, 200))
    assert nine.center is None
    assert nine.says == ("1 more session of 3 pulls, and this shows limits.",)
    assert control_chart(pulled(200)).says == ("9 more sessions of 3 pulls, and this shows limits.",)
    assert control_chart(pulled(*[200, 201, 199, 200, 200] * 2)).center == pytest.approx(200)
    assert control_chart([[200.0], [1.0] * 6]).size == 0
    tied = control_chart([*pulled(200, 201), [200.0, 202.0], [199.0, 203.0]])
    assert (tied.size, tied.used) == (3, (0, 1))


def test_the_rules_of_the_chart():
    steady = "Steady: only the usual scatter from pull to pull."
    calm = (200, 201, 199, 200)

    def says(*means: float, spread: float = 6.0) -> tuple[str, ...]:
        return control_chart(pulled(*means, spread=spread)).says

    assert says(*calm, *calm, *calm) == (steady,)
    (out,) = says(*calm, *calm, *calm, 230)
    assert out.startswith("The last session is outside")
    assert says(230, *calm, *calm, *calm) == (steady,), "what was out long ago is no news"
    up = says(198, 199, 198, 199, 198, 199, 198, 199, 198, 199, 201, 202, 201, 202, 201, 202, 201, 202)
    assert any("8 sessions in a row above" in s for s in up)
    down = says(202, 201, 202, 201, 202, 201, 202, 201, 202, 201, 199, 198, 199, 198, 199, 198, 199, 198)
    assert any("8 sessions in a row below" in s for s in down)
    seven = says(198, 199, 198, 199, 198, 199, 198, 199, 198, 199, 198, 202, 201, 202, 201, 202, 201, 202)
    assert not any("in a row" in s for s in seven)
    falling = says(*calm, 200, 202.5, 202, 201.5, 201, 200.5, 200)
    assert any("6 sessions steadily falling: a spring wearing" in s for s in falling)
    rising = says(*calm, 202, 199, 199.5, 200, 200.5, 201, 201.5)
    assert any("6 sessions steadily rising: lint" in s for s in rising)
    five = says(*calm, 200, 200, 202, 201.5, 201, 200.5, 200)
    assert not any("steadily" in s for s in five), "five are no trend"
    broken = says(*calm, 200, 202.5, 202, 201.5, 201.5, 200.5, 200)
    assert not any("steadily" in s for s in broken), "one that stays is no step"
    stays = says(*calm, 202, 199, 199.5, 200, 200, 201, 201.5)
    assert not any("steadily" in s for s in stays), "nor upwards"
    restless = control_chart([*pulled(*calm, *calm, *calm), [180.0, 200.0, 220.0]])
    assert any("differ too much" in s for s in restless.says)


# Diagnosis on a page of four causes


def cause(name: str, weight: float, minutes: float, **more) -> Cause:
    base = {
        "id": name,
        "name": f"The {name}",
        "weight": weight,
        "minutes": minutes,
        "check": f"look at the {name}",
        "how": "so",
        "cure": "mend it",
        "drawing": Drawing.NONE,
        "point": "",
        "opens": Opens.NOWHERE,
        "chances": {},
        "hands": False,
        "cautions": (),
        "needs": (),
        "here": (),
        "preflight": False,
        "technician": False,
    }
    return Cause(**{**base, **more})


def finding(kind: FindingKind, usual: float, **more) -> Finding:
    return Finding(**{"kind": kind, "name": f"a {kind.value}", "usual": usual, **more})


PAGE = Knowledge(
    {
        "snap": finding(FindingKind.SYMPTOM, 0.1),
        "loop": finding(FindingKind.SYMPTOM, 0.1, not_with=("snap",)),
        "new": finding(FindingKind.CHANGE, 0.2, implies=("fresh",)),
        "fresh": finding(FindingKind.CONDITION, 0.3),
        "fast": finding(FindingKind.SIGN, 0.3, ask="Only when it runs fast?", asked_with=("snap",), minutes=0.1),
        "dull": finding(FindingKind.SIGN, 0.3, ask="Dull sound?", asked_with=("loop",), needs=(Feature.DOMESTIC,)),
    },
    (
        cause("needle", 4, 2, chances={"snap": 0.75, "new": 0.45, "fast": 0.9}),
        cause("discs", 2, 0.5, chances={"snap": 0.3, "loop": 0.8}),
        cause("hook", 1, 6, chances={"snap": 0.5, "fast": 0.1}, needs=(Feature.LONGARM,)),
        cause("timing", 0.3, 60, chances={"snap": 0.5}, technician=True),
        cause("ghost", 0.01, 1, chances={"snap": 0.1}),
    ),
    (),
)


def by_hand(present: tuple[str, ...], absent: tuple[str, ...] = (), gone: tuple[str, ...] = ()) -> dict[str, float]:
    odds = {}
    for c in PAGE.causes:
        chance = 0.0 if c.id in gone else c.weight
        for name in present:
            chance *= c.chances.get(name, PAGE.findings[name].usual)
        for name in absent:
            chance *= 1 - c.chances.get(name, PAGE.findings[name].usual)
        odds[c.id] = chance
    total = sum(odds.values())
    return {name: chance / total for name, chance in odds.items()}


def ask(present=("snap",), absent=(), **more) -> Inquiry:
    return Inquiry(evidence=Observed.of(PAGE, present, absent), **more)


def test_chances_are_bayes_rule_by_hand():
    found = posterior(PAGE, Observed.of(PAGE, ["snap", "new"], ["fast"]))
    assert dict(zip(PAGE.index, found, strict=True)) == pytest.approx(by_hand(("snap", "new", "fresh"), ("fast",)))
    assert posterior(PAGE, Observed(), frozenset(PAGE.index)).sum() == 0
    without = posterior(PAGE, Observed.of(PAGE, ["snap"]), {"needle"})
    assert dict(zip(PAGE.index, without, strict=True)) == pytest.approx(by_hand(("snap",), gone=("needle",)))


def test_evidence_brings_what_it_implies_and_is_not_absent_as_well():
    both = Observed.of(PAGE, ["new"], ["fresh", "fast"])
    assert (both.present, both.absent) == ({"new", "fresh"}, {"fast"})
    refuse_contradictions(PAGE, ["snap", "new"], ["fast"])
    with pytest.raises(CraftError, match="two different troubles") as error:
        refuse_contradictions(PAGE, ["snap", "loop"])
    assert error.value.field == "symptoms"
    with pytest.raises(CraftError, match="marked both yes and no") as error:
        refuse_contradictions(PAGE, ["new"], ["new"])
    assert error.value.field == "changed"


def test_the_next_check_and_its_minutes_are_those_of_the_best_order():
    says = diagnose(PAGE, ask())
    p = by_hand(("snap",))
    assert {c.cause: c.probability for c in says.causes} == pytest.approx(p)
    assert [c.cause for c in says.causes] == sorted(p, key=lambda name: -p[name])
    # The ghost is too unlikely, and timing is not the quilter's to check.
    likely, minutes = [p["needle"], p["discs"], p["hook"]], [2, 0.5, 6]
    order = sorted(range(3), key=lambda i: -likely[i] / minutes[i])
    taken, total = 0.0, 0.0
    for i in order:
        taken += minutes[i]
        total += likely[i] * taken
    assert says.expected_minutes == pytest.approx(total / sum(likely))
    assert says.next.cause == ("needle", "discs", "hook")[order[0]]
    assert says.next.minutes == minutes[order[0]]
    assert says.text == says.next.check


def test_a_cause_below_one_in_a_hundred_waits_for_the_thorough():
    answers = dict.fromkeys(("needle", "discs", "hook"), CheckAnswer.NOT_IT)
    assert by_hand(("snap",))["ghost"] < 0.01 < by_hand(("snap",))["discs"]
    usual, thorough = diagnose(PAGE, ask(answers=answers)), diagnose(PAGE, ask(answers=answers, thorough=True))
    assert usual.next is None
    assert usual.text == "Nothing likely is left that we know: this is for the technician."
    assert thorough.next.cause == "ghost"
    all_gone = diagnose(PAGE, ask(answers={**answers, "ghost": CheckAnswer.CANNOT_TELL}, thorough=True))
    assert all_gone.text == "Nothing is left that we know: this is for the technician. 1 check couldn't be answered."
    likelier = Knowledge(PAGE.findings, (*PAGE.causes[:4], replace(PAGE.causes[4], weight=0.7)), ())
    p = 0.7 * 0.1 / (4 * 0.75 + 2 * 0.3 + 1 * 0.5 + 0.3 * 0.5 + 0.7 * 0.1)
    assert 0.01 < p < 0.02
    assert diagnose(likelier, ask(answers=answers)).next.cause == "ghost", "just above it is worth a check"


def test_answers_steer_the_search():
    skipped = {"needle": CheckAnswer.SKIPPED, "discs": CheckAnswer.NOT_IT, "hook": CheckAnswer.CANNOT_TELL}
    says = diagnose(PAGE, ask(answers=skipped))
    assert says.next is None, "the ghost is open and unlikely"
    assert diagnose(PAGE, ask(answers={**skipped, "ghost": CheckAnswer.NOT_IT})).next.cause == "needle"
    ranked = {c.cause: c for c in says.causes}
    assert ranked["discs"].probability == 0
    assert ranked["hook"].answer is CheckAnswer.CANNOT_TELL
    assert ranked["hook"].probability > 0, "not to be told is not ruled out"
    found = diagnose(PAGE, ask(answers={"discs": CheckAnswer.FOUND}))
    assert (found.found, found.next, found.causes[0].cause, found.causes[0].probability) == ("discs", None, "discs", 1)
    assert found.text == "Found: the discs."
    home = diagnose(PAGE.at(OF_KIND[MachineKind.HOME]), ask())
    assert "hook" not in {c.cause for c in home.causes}
    assert sum(c.probability for c in home.causes) == pytest.approx(1)
    with pytest.raises(CraftError, match="at least one symptom"):
        diagnose(PAGE, ask(("new",)))


def test_a_question_is_worth_what_it_saves():
    says = diagnose(PAGE, ask())
    p = by_hand(("snap",))
    causes = {"needle": 2, "discs": 0.5, "hook": 6}

    def minutes(weights: dict[str, float]) -> float:
        taken = total = 0.0
        for name in sorted(causes, key=lambda name: -weights[name] / causes[name]):
            taken += causes[name]
            total += weights[name] * taken
        return total

    yes = {n: p[n] * {"needle": 0.9, "discs": 0.3, "hook": 0.1}[n] for n in causes}
    no = {n: p[n] - yes[n] for n in causes}
    saves = minutes({n: p[n] for n in causes}) - minutes(yes) - minutes(no) - 0.1
    (question,) = says.questions
    assert question.finding == "fast"
    assert question.saves_minutes == pytest.approx(saves)
    assert (says.question is not None) is (saves > 0.05)
    for known in ({"present": ("snap", "fast")}, {"absent": ("fast",)}, {"asked": frozenset({"fast"})}):
        assert diagnose(PAGE, ask(**known)).questions == ()
    for kind, asked in ((MachineKind.HOME, ["dull"]), (MachineKind.LONGARM, [])):
        assert [q.finding for q in diagnose(PAGE.at(OF_KIND[kind]), ask(("loop",))).questions] == asked
    dear = replace(PAGE.findings["fast"], minutes=saves + 0.1 - 0.04)
    page = Knowledge({**PAGE.findings, "fast": dear}, PAGE.causes, ())
    assert diagnose(page, ask()).question is None, "saves less than three seconds"
    cheap = replace(dear, minutes=saves + 0.1 - 0.06)
    page = Knowledge({**PAGE.findings, "fast": cheap}, PAGE.causes, ())
    assert diagnose(page, ask()).question.finding == "fast"


def test_reasons_name_what_speaks_for_the_check():
    says = diagnose(PAGE, ask(("snap", "new"), ("fast",)))
    rules = [r.rule for r in says.reasons]
    assert rules[0] == "chance_per_minute"
    assert says.reasons[0].standing is Standing.ESTIMATE
    chosen = next(c for c in PAGE.causes if c.id == says.next.cause)
    weights = [c.weight for c in PAGE.causes]

    def ratio(name: str, present: bool) -> float:
        def chance(c: Cause) -> float:
            found = c.chances.get(name, PAGE.findings[name].usual)
            return found if present else 1 - found

        usual = sum(w * chance(c) for w, c in zip(weights, PAGE.causes, strict=True)) / sum(weights)
        return chance(chosen) / usual

    told = [(n, True) for n in ("snap", "new", "fresh")] + [("fast", False)]
    assert rules.count("finding") == min(3, sum(ratio(n, p) > 1.5 for n, p in told))
    assert (
        f"{says.causes[[c.cause for c in says.causes].index(chosen.id)].probability:.0%} likely" in says.reasons[0].text
    )


def test_what_was_found_not_to_be_speaks_only_for_what_it_makes_likelier():
    says = diagnose(PAGE, ask(("snap",), ("fast",), answers={"discs": CheckAnswer.NOT_IT}))
    assert says.next.cause == "needle"
    assert [r.rule for r in says.reasons] == ["chance_per_minute"], "a needle would be heard when it runs fast"
    only = {"discs": CheckAnswer.NOT_IT, "needle": CheckAnswer.NOT_IT}
    hook = diagnose(PAGE, ask(("snap",), ("fast",), answers=only))
    assert hook.next.cause == "hook"
    assert [r.text for r in hook.reasons][1:] == ["Points to it: a sign (you said no)."]


def test_reasons_are_three_at_most_and_minutes_are_in_words():
    signs = {f"sign{n}": finding(FindingKind.SIGN, 0.05) for n in range(5)}
    plain = {c.id: c.chances for c in PAGE.causes}
    causes = [replace(c, chances={**plain[c.id], **dict.fromkeys(signs, 0.05)}) for c in PAGE.causes[1:]]
    sure = replace(PAGE.causes[0], chances={**plain["needle"], **dict.fromkeys(signs, 0.9)})
    for minutes, words in ((0.5, "half a minute"), (1, "1 minute"), (1.5, "1.5 minutes"), (2, "2 minutes")):
        page = Knowledge({**PAGE.findings, **signs}, (replace(sure, minutes=minutes), *causes), ())
        says = diagnose(page, Inquiry(evidence=Observed.of(page, ["snap", *signs])))
        assert [r.rule for r in says.reasons] == ["chance_per_minute", "finding", "finding", "finding"]
        assert f", and {words} to check" in says.reasons[0].text


def test_the_question_that_saves_most_comes_first():
    more = {
        "dear": finding(FindingKind.SIGN, 0.3, ask="Dear?", asked_with=("snap",), minutes=30),
        "none": finding(FindingKind.SIGN, 0.3, ask="Says nothing?", asked_with=("snap",), minutes=0.2),
    }
    page = Knowledge({**more, **PAGE.findings}, PAGE.causes, ())
    says = diagnose(page, ask())
    assert [q.finding for q in says.questions] == ["fast", "none", "dear"]
    saves = [q.saves_minutes for q in says.questions]
    assert saves == sorted(saves, reverse=True)
    assert (says.question is not None) is (saves[0] > 0.05)


def test_other_traps_are_not_named_beside_the_one_that_forces():
    now = Trap(id="seat", text="Seat it first.", when=("snap",), first=("hook",), holds=("needle",), now=True)
    beside = Trap(id="beside", text="By the way.", when=("snap",), first=("ghost",), holds=("discs",), now=False)
    says = diagnose(Knowledge(PAGE.findings, PAGE.causes, (now, beside)), ask())
    assert [r.rule for r in says.reasons if r.rule in ("seat", "beside")] == ["seat"]


@pytest.mark.parametrize(("held", "together"), [(1, False), (2, False), (3, True), (6, True), (7, False)])
def test_up_to_six_checks_held_by_one_are_weighed_together(held, together):
    # The first check is dear and finds nothing itself; from three held by it on it is worth it before the last one.
    likely, minutes = [0.001, *[0.1] * held, 0.05], [4, *[0.5] * held, 1]
    assert (order_checks(likely, minutes, {n: {0} for n in range(1, held + 1)})[0] == 0) is together


def test_a_trap_stands_above_the_order():
    trap = Trap(id="seat", text="Seat it first.", when=("snap",), first=("hook",), holds=("needle",), now=False)
    page = Knowledge(PAGE.findings, PAGE.causes, (trap,))
    order, answers = [], {}
    while (says := diagnose(page, ask(answers=answers))).next:
        order.append(says.next.cause)
        answers[says.next.cause] = CheckAnswer.NOT_IT
    assert order.index("hook") < order.index("needle")
    at_once = Knowledge(PAGE.findings, PAGE.causes, (replace(trap, now=True),))
    first = diagnose(at_once, ask())
    assert first.next.cause == "hook"
    assert first.reasons[0].rule == "seat"
    assert "chance_per_minute" not in {r.rule for r in first.reasons}
    lifted = Knowledge(PAGE.findings, PAGE.causes, (replace(trap, now=True, unless=("new",)),))
    assert diagnose(lifted, ask(("snap", "new"))).next.cause != "hook"


def test_orders_and_minutes_worked_by_hand():
    assert expected_minutes([0.6, 0.3], [1, 2], [1, 0]) == pytest.approx((0.3 * 2 + 0.6 * 3) / 0.9)
    assert expected_minutes([0.0, 0.0], [1, 2], [0, 1]) == 3
    assert order_checks([0.5, 0.3, 0.2], [5, 1, 1]) == [1, 2, 0]
    assert order_checks([0.5, 0.3, 0.2], [5, 1, 1], {1: {0}, 2: set()}) == [2, 0, 1]
    assert order_checks([0.2, 0.2], [1, 1]) == [0, 1]
    chain = {n + 1: {n} for n in range(8)}
    assert order_checks([0.1] * 9, [1.0] * 9, chain) == list(range(9))


# Pairing and the life of a needle


def test_sizes_step_among_the_pairs_of_common_practice_and_stop_at_the_ends():
    assert step_size(NeedleSize(90, 14), 1) == NeedleSize(100, 16)
    assert step_size(NeedleSize(90, 14), -1) == NeedleSize(80, 12)
    assert step_size(NeedleSize(110, 18), 1) == NeedleSize(125, 20)
    assert step_size(NeedleSize(125, 20), 1) == NeedleSize(125, 20)
    assert step_size(NeedleSize(60, 8), -1) == NeedleSize(60, 8)
    assert step_size(NeedleSize(120, 19), 1) == NeedleSize(125, 20)
    assert nearest_size(0.18, 0.5, MachineKind.HOME) == NeedleSize(90, 14)
    assert nearest_size(0.05, 0.5, MachineKind.HOME) == NeedleSize(70, 10)
    assert nearest_size(0.05, 0.5, MachineKind.LONGARM) == NeedleSize(80, 12)
    assert nearest_size(0.9, 0.5, MachineKind.LONGARM) == NeedleSize(125, 20)
    assert nearest_size(0.9, 0.5, MachineKind.HOME) == NeedleSize(110, 18)


def pair(top: Thread | Bundle, kind=MachineKind.HOME, school: School | None = None, **more):
    bundle = top if isinstance(top, Bundle) else Bundle((top,))
    return pair_needle(kind, school or School(kind.value), bundle, **more)


@pytest.mark.parametrize("sandwich", [Sandwich(loft=Loft.LOFTY), Sandwich(weave=Weave.DENIM), Sandwich(adhesive=True)])
def test_a_heavy_sandwich_goes_one_size_up(sandwich):
    plain, heavy = pair(thread(40)).recommended, pair(thread(40), sandwich=sandwich).recommended
    assert heavy.size == step_size(plain.size, 1)
    rules = {r.rule for r in pair(thread(40), sandwich=sandwich).reasons}
    assert "sandwich_size_up" in rules
    assert "sandwich_size_up" not in {r.rule for r in pair(thread(40)).reasons}


def test_a_single_thread_above_a_hundred_tex_is_for_the_bobbin():
    at_limit, above = thread(10), thread(9.9)
    assert at_limit.density.tex == 100
    assert pair(at_limit).through_a_needle is True
    assert pair(above).through_a_needle is False
    assert "too_heavy_for_a_needle" in {r.rule for r in pair(above).reasons}
    assert pair(Bundle((thread(12), thread(12)))).through_a_needle is True, "together is another matter"


@pytest.mark.parametrize(
    ("below", "rule"),
    [
        (50, "bobbin_equal"),
        (62, "bobbin_equal"),
        (63, "bobbin_finer"),
        (80, "bobbin_finer"),
        (47, "bobbin_not_thicker"),
        (30, "bobbin_not_thicker"),
    ],
)
def test_top_against_bobbin(below, rule):
    assert against_bobbin(Bundle((thread(50),)), thread(below)).rule == rule
    assert rule in {r.rule for r in pair(thread(50), bobbin=thread(below)).reasons}


def test_points_follow_thread_and_school():
    assert pair(thread(40)).recommended.point is Point.TOPSTITCH
    assert pair(thread(40), MachineKind.LONGARM).recommended.point is Point.BALLPOINT
    assert pair(thread(40, Fiber.RAYON)).recommended.point is Point.EMBROIDERY
    assert pair(thread(40, Fiber.METALLIC, Construction.METALLIC)).recommended.point is Point.METALLIC
    assert pair(thread(12), MachineKind.LONGARM).recommended.point is Point.TOPSTITCH, "a ballpoint would rub"
    rayon = Bundle((thread(40, Fiber.RAYON), thread(40)))
    assert pair(rayon).recommended.point is Point.TOPSTITCH, "two threads want the larger eye"
    clear = thread(90, Fiber.POLYESTER, Construction.MONOFILAMENT)
    for not_clear_alone in (Bundle((clear, thread(60))), Bundle((thread(40),))):
        assert not any(a.why.startswith(("A small needle", "A big")) for a in pair(not_clear_alone).alternatives)
    three = Bundle((thread(30), thread(40), thread(50)))
    assert pair(three, MachineKind.LONGARM).recommended.point is Point.TOPSTITCH
    assert pair(three, MachineKind.LONGARM).recommended.size == NeedleSize(125, 20)


def test_what_to_take_instead_is_in_use_and_named_once():
    for top, kind in ((thread(40), MachineKind.HOME), (thread(100, Fiber.SILK), MachineKind.LONGARM)):
        found = pair(top, kind)
        chosen = found.recommended
        named = [(a.metric, a.point) for a in found.alternatives]
        assert len(set(named)) == len(named)
        assert (chosen.metric, chosen.point) not in named
        up, down = step_size(chosen.size, 1), step_size(chosen.size, -1)
        smallest, largest = {MachineKind.HOME: (70, 110), MachineKind.LONGARM: (80, 125)}[kind]
        sold = is_made(kind, up, chosen.point)
        assert ((up.metric, chosen.point) in named) is (up.metric <= largest and up != chosen.size and sold)
        # Less room is offered only where there is any to lose.
        less = chosen.nominal_fill < 0.45 and down.metric >= smallest and down != chosen.size
        assert ((down.metric, chosen.point) in named) is less
        assert all(
            a.state.value != "rubs" for a in found.alternatives if a.school is None and a.metric == chosen.metric
        )
    clear = pair(thread(90, Fiber.POLYESTER, Construction.MONOFILAMENT))
    assert {(a.metric, a.why.split()[1]) for a in clear.alternatives if a.school} >= {(90, "big"), (100, "big")}
    assert clear.recommended.size == NeedleSize(70, 10)
    assert clear.recommended.why.startswith("A small needle")
    other = [r for r in pair(thread(40)).reasons if r.rule == "other_school"]
    assert len(other) == 1
    assert len(pair(thread(40)).school_picks) == 2


def test_cautions_go_with_needle_and_thread():
    def about(top: Thread, kind: MachineKind) -> set[str]:
        return {c.about for c in pair(top, kind).cautions}

    assert EYE_PROTECTION in pair(thread(30), MachineKind.LONGARM).cautions, "110/18 can shatter"
    assert EYE_PROTECTION not in pair(thread(60), MachineKind.HOME).cautions
    assert "heat" in about(thread(40, Fiber.NYLON, Construction.MULTIFILAMENT), MachineKind.HOME)
    assert "wet" in about(thread(50, Fiber.WASH_AWAY), MachineKind.HOME)
    assert "heat" not in about(thread(40), MachineKind.HOME)


STEEL, COATED = NeedleFinish.STEEL, NeedleFinish.TITANIUM


@pytest.mark.parametrize(
    ("school", "finish", "hours", "quilts", "due"),
    [
        (LifeSchool.HOURS, STEEL, 4.79, 1, Due.FRESH),
        (LifeSchool.HOURS, STEEL, 4.81, 9, Due.NEARLY),
        (LifeSchool.HOURS, STEEL, 5.99, 1, Due.NEARLY),
        (LifeSchool.HOURS, STEEL, 6, 1, Due.DUE),
        (LifeSchool.HOURS, STEEL, 8, 1, Due.DUE),
        (LifeSchool.HOURS, STEEL, 8.01, 1, Due.OVERDUE),
        (LifeSchool.HOURS, COATED, 23.99, 1, Due.FRESH),
        (LifeSchool.HOURS, COATED, 24, 1, Due.NEARLY),
        (LifeSchool.HOURS, COATED, 30, 1, Due.DUE),
        (LifeSchool.HOURS, COATED, 40.01, 1, Due.OVERDUE),
        (LifeSchool.PROJECT, STEEL, 99, 1, Due.FRESH),
        (LifeSchool.PROJECT, STEEL, 1, 2, Due.DUE),
        (LifeSchool.PROJECT, STEEL, 1, 3, Due.OVERDUE),
        (LifeSchool.PROJECT, COATED, 1, 8, Due.FRESH),
        (LifeSchool.PROJECT, COATED, 1, 9, Due.DUE),
        (LifeSchool.PROJECT, COATED, 1, 10, Due.OVERDUE),
        (LifeSchool.COATED, COATED, 29.9, 8, Due.FRESH),
        (LifeSchool.COATED, COATED, 30, 1, Due.NEARLY),
        (LifeSchool.COATED, COATED, 71.9, 1, Due.NEARLY),
        (LifeSchool.COATED, COATED, 72, 1, Due.DUE),
        (LifeSchool.COATED, COATED, 10, 9, Due.DUE),
        (LifeSchool.COATED, COATED, 86.5, 1, Due.OVERDUE),
        (LifeSchool.COATED, STEEL, 6, 1, Due.DUE),
        (LifeSchool.COATED, STEEL, 1, 9, Due.FRESH),
        (LifeSchool.CONDITION, STEEL, 500, 9, Due.BY_CONDITION),
    ],
)
def test_a_needle_is_due_at_the_edge_its_school_sets(school, finish, hours, quilts, due):
    found = needle_life(school, finish, hours, quilts)
    assert found.due is due
    assert (found.hours, found.projects) == (hours, quilts)
    aging = due is Due.NEARLY or (due is Due.FRESH and found.life_hours and hours >= found.life_hours / 2)
    assert found.dull_by_age is (None if due is Due.BY_CONDITION or aging else due in (Due.DUE, Due.OVERDUE))
    limit = {LifeSchool.HOURS: 30 if finish is COATED else 6, LifeSchool.COATED: 72 if finish is COATED else 6}
    assert found.life_hours == limit.get(school)
    assert found.life_projects == ((8 if finish is COATED else 1) if school is LifeSchool.PROJECT else None)
    if due in (Due.FRESH, Due.NEARLY) and found.life_hours:
        by_sound = school is LifeSchool.COATED and due is Due.NEARLY
        assert ("let its sound decide" if by_sound else f"{found.life_hours - hours:.1f} h to go") in found.text
    by_quilt = school is LifeSchool.PROJECT
    assert ("quilts" in found.text) is (by_quilt and (finish is COATED or quilts > 2))


def test_own_life_is_hours_over_troubles_with_garwood_s_interval():
    spans = [NeedleSpan(6, True), NeedleSpan(8, False), NeedleSpan(5, True), NeedleSpan(11, True)]
    found = own_life(spans)
    assert (found.needles, found.troubles, found.hours) == (4, 3, 30)
    assert found.mean_hours == 10
    assert found.low_hours == pytest.approx(30 / (chi2.ppf(0.975, 8) / 2))
    assert found.high_hours == pytest.approx(30 / (chi2.ppf(0.025, 6) / 2))
    good = own_life([NeedleSpan(8, False)])
    assert (good.mean_hours, good.high_hours) == (None, None)
    assert good.low_hours == pytest.approx(8 / (chi2.ppf(0.975, 2) / 2))
    assert own_life([]).mean_hours is None


def test_an_hour_costs_the_price_over_the_life():
    assert cost_per_hour(1.2, STEEL).per_hour == pytest.approx(0.2)
    assert cost_per_hour(3.0, COATED).per_hour == pytest.approx(0.1)
    two = own_life([NeedleSpan(10, True)] * 2)
    three = own_life([NeedleSpan(10, True)] * 3)
    assert cost_per_hour(1.2, STEEL, two).standing is Standing.COMMON_PRACTICE
    own = cost_per_hour(1.2, STEEL, three)
    assert (own.standing, own.life_hours, own.per_hour) == (Standing.OWN_RECORDS, 10, pytest.approx(0.12))
    assert cost_per_hour(0, STEEL).per_hour == 0
    for bad in (-0.1, 1000.1, math.nan):
        with pytest.raises(CraftError):
            cost_per_hour(bad, STEEL)
    assert cost_per_hour(1000, STEEL).per_hour > 100
