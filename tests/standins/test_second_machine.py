"""The second simulated machine keeps to its own laws, by SciPy's distributions, and shares nothing with the first."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest
import season.second_machine as second
from scipy import stats
from season.second_machine import FAULTS, Line, SecondMachine, labeled

from weftonos.knowledge import troubles


@dataclass(frozen=True)
class Felt:
    fiber: str = "polyester"
    diameter_mm: float = 0.18


@dataclass(frozen=True)
class Dial:
    low: float = 0.0
    high: float = 10.0


@dataclass(frozen=True)
class Needle:
    groove_mm: float = 0.3


def machine(seed=1):
    return SecondMachine(seed, "home", Dial(), needle=Needle(), threads=(Felt(), Felt(diameter_mm=0.13)))


def test_it_shares_nothing_with_the_first():
    tree = ast.parse(Path(second.__file__).read_text(encoding="utf-8"))
    modules = {node.module or "" for node in ast.walk(tree) if isinstance(node, ast.ImportFrom)}
    modules |= {each.name for node in ast.walk(tree) if isinstance(node, ast.Import) for each in node.names}
    assert not [name for name in modules if name.startswith(("weftonos", "season"))]


def test_its_faults_are_causes_and_what_is_seen_of_them_has_a_name():
    knowledge = troubles()
    assert set(FAULTS) <= {cause.id for cause in knowledge.causes}
    told = {symptom for fault in FAULTS.values() for symptom in fault.seen}
    assert told | {sign for fault in FAULTS.values() for sign in fault.after} <= set(knowledge.findings)


def at(one, setting):
    """Set from below, so that the play is taken up."""
    one.setting = one.scale.low
    one.setting = setting
    return one


def test_the_lock_is_linear_in_the_ratio_of_the_pulls():
    points = []
    for setting in np.arange(0, 10, 0.1):
        one = at(machine(), setting)
        above, below = one.pulls_now()
        points.append((above / below, one.depth()))
    inside = [(ratio, depth) for ratio, depth in points if abs(depth) < 0.999]
    fit = stats.linregress(*zip(*inside, strict=True))
    assert len(inside) > 5
    assert fit.rvalue == pytest.approx(-1, abs=1e-9)


def test_locks_scatter_by_laplace():
    one = machine()
    one._wide = 1e9
    assert one.depth() == pytest.approx(0, abs=1e-6)
    many = np.concatenate([one._chance("stitch", n).laplace(0, one._scatter, 200) for n in range(20)])
    assert stats.kstest(many, stats.laplace(scale=one._scatter).cdf).pvalue > 0.01
    assert stats.kstest(many, stats.norm(scale=many.std()).cdf).pvalue < 0.001


def test_the_front_shows_sooner_than_the_back():
    one = machine()
    one._scatter = 1e-9
    shown = {}
    for depth in (-0.7, 0.7):
        one.depth = lambda depth=depth: depth
        shown[depth] = one.stitch().grade
    assert shown == {-0.7: -2, 0.7: 0}


def test_the_knob_has_play_and_drifts():
    one = at(machine(), 5.0)
    tight = one.pulls_now()[0]
    one.setting = 4.6
    assert one.pulls_now()[0] == tight, "within the play nothing moves"
    one.setting = 4.0
    assert one.pulls_now()[0] < tight
    shifts = []
    for meters in np.linspace(0, 2 * second.EVENING_M, 50):
        one.meters = meters
        shifts.append(one._shift())
    assert max(shifts) - min(shifts) == pytest.approx(2 * second.DRIFT, rel=0.02)


def test_the_eye_is_lenient_by_half_a_grade():
    one, chance = machine(), np.random.default_rng(3)
    read = [one.read(Line(0.3, 0, -1), chance, hard=False, care=0.0) for _ in range(4000)]
    assert np.mean(read) == pytest.approx(-0.5, abs=0.03)


def test_labels_gauges_and_needles_are_off_as_said():
    off = sum(labeled(seed, thread, 40) != 40 for seed in range(500) for thread in range(8))
    assert stats.binomtest(off, 4000, 1 / 8).pvalue > 0.01
    factors = [machine(seed).gauge_factor for seed in range(400)]
    assert stats.kstest(factors, stats.uniform(0.85, 0.3).cdf).pvalue > 0.01
    random = [seed for seed in range(400) if machine(seed).random_needles]
    assert stats.binomtest(len(random), 400, 0.5).pvalue > 0.01
    lives = []
    for seed in random[:120]:
        one, sewn = at(machine(seed), 5.0), 0.0
        one._life_m = 330.0
        for n in range(4000):
            sewn += one.run(4.0, n)[0]
            if one.worn:
                break
        lives.append(sewn)
    assert stats.kstest(lives, stats.expon(scale=330).cdf).pvalue > 0.01


def test_a_broken_end_is_fuzzy_or_cut_clean():
    one = machine()
    one.faults = ["burr_on_guide_or_hook", "burr_on_plate", "cone_or_spool_catches"]
    seen = [one.see(n).symptoms for n in range(200)]
    ends = {"frays_above_the_eye", "clean_snap_of_the_top_thread"}
    assert not [told for told in seen if told >= ends]
    assert all(any(end in told for told in seen) for end in ends)
