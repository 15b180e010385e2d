"""What a test line is worth: against the whole tree written out by hand, against closed cases, and as it must go."""

from __future__ import annotations

import time
from bisect import bisect_right
from itertools import product

import numpy as np
import pytest

from weftonos.core.balance.eye import general_eye
from weftonos.core.balance.looks import Accepted, Observation
from weftonos.core.balance.posterior import STEEPNESS, BalancePrior, StitchedBefore, grid_of
from weftonos.core.balance.stitched import SewnBefore
from weftonos.core.balance.worth import Stakes, pays_words, skip_words, worth_of_a_line
from weftonos.core.kernel.care import Care
from weftonos.core.kernel.scale import ScaleKind, TopScale

DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
SMALL = TopScale(kind=ScaleKind.DIAL, low=0, high=2, step=0.5)
READOUT = TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5)
STAKES = Stakes(line=2, slightly=3, plainly=15)


def enumerated(scale: TopScale, prior: BalancePrior, lines: int) -> float:
    """Return what a line saves, from every sequence of grades, each policy's minutes added up one world at a time."""
    centers = grid_of(scale)
    near = np.exp(-0.5 * ((centers - prior.center) / prior.spread) ** 2)
    weigh = (1 - prior.anywhere) * near / near.sum() + prior.anywhere / len(centers)
    worlds = [(c, s.value, w / len(STEEPNESS)) for c, w in zip(centers, weigh, strict=True) for s in STEEPNESS]
    settings = np.arange(scale.low, scale.high + 0.01, scale.step)

    def loss(x: float, world: tuple[float, float, float]) -> float:
        latent = abs(world[1] * (world[0] - x))
        return 15.0 if latent > 3 else 3.0 if latent > 1 else 0.0

    def chance(grade: int, x: float, world: tuple[float, float, float]) -> float:
        is_there = bisect_right([-3.0, -1.0, 1.0, 3.0], world[1] * (world[0] - x))
        return float(general_eye()[is_there, grade + 2])

    def best(weights: list[float]) -> tuple[float, float]:
        costs = [sum(w * loss(x, world) for w, world in zip(weights, worlds, strict=True)) for x in settings]
        return float(settings[int(np.argmin(costs))]), min(costs)

    def after(weights: list[float], ahead: int) -> float:
        x, _ = best(weights)
        total = 0.0
        for grade in range(-2, 3):
            then = [w * chance(grade, x, world) for w, world in zip(weights, worlds, strict=True)]
            stop = best(then)[1]
            total += stop if ahead == 1 else min(stop, 2 * sum(then) + after(then, ahead - 1))
        return total

    weights = [w for *_, w in worlds]
    return best(weights)[1] - after(weights, lines)


def test_a_small_tree_written_out_by_hand_gives_the_same_minutes():
    for center, spread in product((0.5, 1.2), (0.4, 1.5)):
        prior = BalancePrior(center, spread)
        wanted = enumerated(SMALL, prior, 2)
        assert worth_of_a_line(SMALL, prior, [], STAKES).saves == pytest.approx(wanted, rel=0.02, abs=0.02)


def test_information_is_never_worth_less_than_nothing_nor_more_than_what_would_be_lost():
    for center, spread, looks in product((1, 5, 9), (0.2, 1, 3), ([], [Observation(5, 0)], [Observation(3, 2)])):
        worth = worth_of_a_line(DIAL, BalancePrior(center, spread), looks, STAKES)
        lost = STAKES.slightly * worth.slightly_off + STAKES.plainly * worth.plainly_off
        assert 0 <= worth.saves <= lost + 1e-9


def test_what_is_known_pays_no_line_and_what_is_not_does():
    known = BalancePrior(4, 0.1, anywhere=0.001)
    assert not worth_of_a_line(DIAL, known, [], STAKES).pays
    assert worth_of_a_line(DIAL, None, [], STAKES).pays
    assert worth_of_a_line(READOUT, None, [], STAKES).pays
    after = [Observation(4, 0), Observation(4, 0), Observation(3, 1), Observation(5, -1)]
    assert not worth_of_a_line(DIAL, None, after, STAKES).pays


def test_a_quilt_that_matters_pays_a_line_before_scrap_does():
    between = BalancePrior(4, 0.6, anywhere=0.0014)
    saves = [
        worth_of_a_line(DIAL, between, [], Stakes.of(care)).saves for care in (Care.SCRAP, Care.USUAL, Care.MATTERS)
    ]
    assert saves == sorted(saves)
    assert worth_of_a_line(DIAL, between, [], Stakes.of(Care.MATTERS)).pays
    assert not worth_of_a_line(DIAL, between, [], Stakes.of(Care.SCRAP)).pays


def test_what_is_good_enough_anyhow_lowers_what_is_at_stake():
    prior = BalancePrior(4, 1.0)
    strict, lenient = (
        worth_of_a_line(DIAL, prior, [], STAKES, accepted=accepted) for accepted in (Accepted(), Accepted(-1, 1))
    )
    assert lenient.saves < strict.saves
    assert lenient.slightly_off == 0


def test_the_more_often_it_was_good_the_less_a_line_is_worth():
    saves = []
    for times in (1, 3, 6, 11):
        before = SewnBefore(times=times, good=times)
        known = StitchedBefore(
            expected=BalancePrior(3, 1.3),
            looks=(Observation(4, 0),) * times,
            drift=before.drift,
            anywhere=before.anywhere,
            center=4,
        )
        worth = worth_of_a_line(DIAL, known, [], STAKES)
        saves.append(worth.saves)
    assert saves == sorted(saves, reverse=True)
    assert worth.slightly_off + worth.plainly_off < 0.15


def test_what_was_off_again_is_thought_to_stray_further():
    steady, restless = SewnBefore(times=12, good=12), SewnBefore(times=12, good=12, off=6, plainly_off=3)
    assert steady.anywhere < 0.05 < restless.anywhere
    assert steady.drift < restless.drift


def test_sewing_on_where_it_is_worse_makes_a_line_worth_more():
    prior = BalancePrior(4, 0.6, anywhere=0.04)
    best = worth_of_a_line(DIAL, prior, [], STAKES)
    assert worth_of_a_line(DIAL, prior, [], STAKES, sewn_at=4).saves == pytest.approx(best.saves, abs=0.3)
    off = worth_of_a_line(DIAL, prior, [], STAKES, sewn_at=6)
    assert off.saves > best.saves + 3
    assert off.plainly_off > best.plainly_off


def test_it_is_said_in_a_line():
    skip = worth_of_a_line(DIAL, BalancePrior(4, 0.1, anywhere=0.001), [], STAKES)
    assert (
        skip_words(skip, SewnBefore(times=11, good=11), Care.USUAL)
        == "Skip the test: you've sewn this 11 times, all good."
    )
    assert "9 of them good" in skip_words(skip, SewnBefore(times=11, good=9), Care.USUAL)
    assert "scrap" in skip_words(skip, SewnBefore(), Care.SCRAP)
    assert pays_words(skip) == ""
    pays = worth_of_a_line(DIAL, None, [], STAKES)
    assert skip_words(pays, SewnBefore(times=11, good=11), Care.USUAL) == ""
    assert pays_words(pays).startswith("A test line takes about 2 minutes and should save about ")


def test_it_is_told_in_a_few_milliseconds():
    took = []
    for n in range(20):
        begin = time.process_time()
        worth_of_a_line(READOUT, BalancePrior(200 + n, 20), [Observation(200, 0)], STAKES)
        took.append(time.process_time() - begin)
    assert sorted(took)[10] < 0.02
