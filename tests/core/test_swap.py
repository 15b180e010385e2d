"""A thread that was never read here: what the screw wants, by what two fibers read under one screw."""

import math

import numpy as np
import pytest
from scipy import stats

from weftonos.core.bobbin.events import BobbinReading, ScrewTurned
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.bobbin.screw import ScrewTurn, TurnDirection
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.swap import Swap, followed, turn_first

TARGET = BobbinTarget(low=180, high=220)
FINE, COTTON = BobbinLoaded(bobbin=2, case=1), BobbinLoaded(bobbin=3, case=1)
TURN = ScrewTurned(case=1, minutes=-10)


def reading(mn: float, case: int | None = 1) -> BobbinReading:
    return BobbinReading.of(ForceUnit.MN, (Pull(value=mn), Pull(value=mn)), TARGET, case=case)


SORTS = ("cotton", "polyester")


def swap(*records: object, sort: int = 3, case: int | None = 1) -> tuple[float, list[float]] | None:
    return followed(records, sort, case, lambda number: {7: 3}.get(number, number))


BEFORE = (FINE, reading(200), COTTON, reading(270), TURN, reading(205), FINE)


def test_what_the_other_sort_did_then_it_does_now():
    last, logs = swap(*BEFORE, sort=2)
    assert last == pytest.approx(205)
    assert logs == pytest.approx([-math.log(1.35)])
    found = turn_first(Swap(last, tuple(logs), SORTS[::-1]), TARGET, [])
    assert found.expected_mn == pytest.approx(205 / 1.35)
    assert found.advice.direction is TurnDirection.TIGHTEN
    again = swap(*BEFORE, ScrewTurned(case=1, minutes=12), reading(200), COTTON)
    assert turn_first(Swap(again[0], tuple(again[1]), SORTS), TARGET, []).advice.direction is TurnDirection.LOOSEN
    assert swap(*BEFORE, ScrewTurned(case=1, minutes=12), reading(200), BobbinLoaded(bobbin=7, case=1), sort=3) == again


def test_a_case_that_is_known_is_turned_by_what_it_is_known_for():
    stiff = [ScrewTurn(10, 200, 200 * math.exp(0.015 * 10))] * 6
    wanted = Swap(200, (math.log(1.25),) * 3, SORTS)
    assert turn_first(wanted, TARGET, stiff).advice.minutes == pytest.approx(math.log(1.25) / 0.015, abs=1)


@pytest.mark.parametrize(
    ("records", "why"),
    [
        ((FINE, reading(200), COTTON), "never read one after the other"),
        ((*BEFORE, ScrewTurned(case=1, minutes=12), COTTON), "nothing was read under this screw"),
        ((*BEFORE, reading(152), COTTON, ScrewTurned(case=1, minutes=3)), "turned already"),
        ((*BEFORE, reading(152), COTTON, reading(205)), "read already"),
        ((*BEFORE, reading(152), FINE), "the sort before, not this one"),
        ((*BEFORE, reading(152), BobbinLoaded(bobbin=3, case=2)), "another case"),
        ((*BEFORE, reading(152), BobbinLoaded(bobbin=3, case=1, bobbin_work=True)), "bobbin work"),
    ],
)
def test_without_knowing_it_is_pulled_first(records, why):
    assert swap(*records) is None, why


def test_a_fluttering_reading_tells_nothing():
    flutters = BobbinReading.of(ForceUnit.MN, (Pull(low=150, high=400),), TARGET, case=1)
    assert swap(FINE, reading(200), COTTON, flutters, FINE, reading(200), COTTON) is None


def test_threads_that_read_alike_are_pulled_first():
    assert turn_first(Swap(200, (0.02, -0.01), SORTS), TARGET, []) is None
    # Just over the edge, by less than is known.
    assert turn_first(Swap(200, (math.log(1.11),), SORTS), TARGET, []) is None
    assert turn_first(Swap(200, (math.log(1.3),), SORTS), TARGET, []) is not None


def test_how_well_a_swap_is_known_comes_to_a_prediction_of_students():
    # Many swaps that scatter: what a further one may read is known within their own scatter (SciPy's, ddof 1).
    logs = np.random.default_rng(3).normal(math.log(1.15), 0.05, 40)
    reach = 200 * math.exp(logs.mean()) * stats.tstd(logs) * math.sqrt(1 + 1 / 40)
    low = TARGET.low
    inside = BobbinTarget(low=low, high=200 * math.exp(logs.mean()) - 0.9 * reach)
    outside = BobbinTarget(low=low, high=200 * math.exp(logs.mean()) - 1.1 * reach)
    assert turn_first(Swap(200, tuple(logs), SORTS), inside, []) is None
    assert turn_first(Swap(200, tuple(logs), SORTS), outside, []) is not None
