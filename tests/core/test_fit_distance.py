"""Fit as one judgment with distance: one best size for a point, and never better again farther away from it."""

import pytest

from weftonos.core.kernel.schools import MachineKind, School
from weftonos.core.needle.fit_distance import (
    FitDistance,
    Judgment,
    best_size,
    fit_distance,
    fit_distances,
    said_of_the_one_in,
)
from weftonos.core.needle.groove_fit import FitState, fit_of
from weftonos.core.needle.needle import ALL_SIZES, COMMON_SIZES, MADE_IN, NeedleSize, Point
from weftonos.core.needle.pairing import pair_needle
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread

WORSE = [Judgment.BEST, Judgment.GOES, Judgment.STRETCHES, Judgment.WONT]
THREADS = [
    *((Fiber.COTTON, Construction.SPUN, wt) for wt in (12, 28, 30, 40, 50, 60, 80)),
    *((Fiber.POLYESTER, Construction.MULTIFILAMENT, wt) for wt in (40, 60, 100)),
    (Fiber.METALLIC, Construction.METALLIC, 40),
    (Fiber.SILK, Construction.MULTIFILAMENT, 100),
    (Fiber.RAYON, Construction.MULTIFILAMENT, 40),
]


def top(fiber: Fiber, construction: Construction, wt: float) -> Bundle:
    return Bundle.of([Thread(fiber=fiber, construction=construction, system=WeightSystem.WT, value=wt)])


def judged(kind: MachineKind, bundle: Bundle, metric: int, point: Point) -> FitDistance:
    pairing = pair_needle(kind, School(kind.value), bundle)
    return fit_distance(kind, pairing, bundle, NeedleSize.of_metric(metric), point)


def in_words(bundle: Bundle, size: NeedleSize, point: Point, *, due: bool = False) -> str:
    advised = pair_needle(MachineKind.HOME, School.HOME, bundle).recommended
    return said_of_the_one_in(
        judged(MachineKind.HOME, bundle, size.metric, point), size, point, advised=advised, due=due
    )


@pytest.mark.parametrize("kind", MachineKind)
@pytest.mark.parametrize("thread", THREADS, ids=str)
@pytest.mark.parametrize("point", Point)
def test_there_is_one_best_size_and_it_is_never_better_again_farther_away(kind, thread, point):
    bundle = top(*thread)
    row = [judged(kind, bundle, size.metric, point) for size in COMMON_SIZES]
    assert sum(each.off == 0 for each in row) == 1
    center = next(n for n, each in enumerate(row) if each.off == 0)
    for side in (row[center:], row[: center + 1][::-1]):
        places = [WORSE.index(each.judgment) for each in side]
        assert places == sorted(places)
    assert sum(each.judgment in (Judgment.BEST, Judgment.GOES) for each in row) <= 3, "few ticks"


@pytest.mark.parametrize(("metric", "judgment", "off"), [(90, "best", 0), (100, "goes", 1), (110, "stretches", 2)])
def test_what_follows_from_the_distance(metric, judgment, off):
    found = judged(MachineKind.HOME, top(Fiber.COTTON, Construction.SPUN, 40), metric, Point.TOPSTITCH)
    assert (found.judgment, found.off) == (judgment, off)
    assert found.made is (metric <= 100)


def test_a_thread_that_stands_proud_wont_do_however_near():
    found = judged(MachineKind.HOME, top(Fiber.COTTON, Construction.SPUN, 12), 80, Point.SHARP)
    assert (found.state, found.judgment) == (FitState.RUBS, Judgment.WONT)


@pytest.mark.parametrize("point", MADE_IN[MachineKind.HOME])
def test_the_best_size_is_one_that_the_point_is_made_in_where_one_of_them_takes_the_thread(point):
    low, high = MADE_IN[MachineKind.HOME][point]
    for thread in THREADS:
        bundle = top(*thread)
        size = best_size(MachineKind.HOME, pair_needle(MachineKind.HOME, School.HOME, bundle), bundle, point)
        largest = fit_of(bundle, NeedleSize.of_metric(high), point).state
        assert low <= size.metric <= high or largest is FitState.RUBS


def test_a_point_that_no_head_of_this_kind_takes_is_not_made():
    cotton = top(Fiber.COTTON, Construction.SPUN, 40)
    assert not judged(MachineKind.LONGARM, cotton, 100, Point.DENIM).made
    assert judged(MachineKind.LONGARM, cotton, 100, Point.BALLPOINT).made


def test_all_at_once_are_each_as_alone():
    cotton = top(Fiber.COTTON, Construction.SPUN, 40)
    pairing = pair_needle(MachineKind.HOME, School.HOME, cotton)
    found = fit_distances(MachineKind.HOME, pairing, cotton)
    assert found[Point.SHARP][80] == judged(MachineKind.HOME, cotton, 80, Point.SHARP)
    assert {len(row) for row in found.values()} == {len(ALL_SIZES)}


def test_in_words():
    cotton = top(Fiber.COTTON, Construction.SPUN, 40)
    assert judged(MachineKind.HOME, cotton, 90, Point.TOPSTITCH).text == "90/14 topstitch is the best for this thread."
    assert judged(MachineKind.HOME, cotton, 110, Point.TOPSTITCH).text == (
        "110/18 topstitch is a stretch: 2 sizes larger than the best, 90/14."
    )


@pytest.mark.parametrize(
    ("metric", "says"),
    [
        (90, "90/14 topstitch is in: the best for this thread."),
        (100, "100/16 topstitch is in: fine to go on. 90/14 fits this thread better."),
        (110, "110/18 topstitch is in: a stretch for this thread. 90/14 fits this thread better."),
        (60, "60/8 topstitch is in: change it. 90/14 fits this thread better."),
    ],
)
def test_what_is_in_and_what_is_advised_stand_together(metric, says):
    bundle, size = top(Fiber.COTTON, Construction.SPUN, 40), NeedleSize.of_metric(metric)
    assert in_words(bundle, size, Point.TOPSTITCH) == says


@pytest.mark.parametrize(
    ("metric", "says"),
    [
        (90, "90/14 topstitch is in: the best for this thread, but due. Change it."),
        (100, "100/16 topstitch is in: due. Change it: 90/14 fits this thread better."),
        (60, "60/8 topstitch is in: change it. 90/14 fits this thread better."),
    ],
)
def test_one_that_is_due_is_not_fine_to_go_on(metric, says):
    bundle, size = top(Fiber.COTTON, Construction.SPUN, 40), NeedleSize.of_metric(metric)
    assert in_words(bundle, size, Point.TOPSTITCH, due=True) == says


@pytest.mark.parametrize(
    ("point", "metric", "due", "says"),
    [
        (Point.METALLIC, 90, False, "90/14 metallic is in: the best for this thread."),
        (Point.TOPSTITCH, 90, False, "90/14 topstitch is in: fine to go on. 90/14 metallic fits this thread better."),
        (Point.TOPSTITCH, 90, True, "90/14 topstitch is in: due. Change it: 90/14 metallic fits this thread better."),
        (Point.TOPSTITCH, 75, False, "75/11 topstitch is in: a stretch for this thread. "),
    ],
)
def test_what_is_in_is_the_best_only_with_the_point_that_is_advised(point, metric, due, says):
    gold = top(Fiber.METALLIC, Construction.METALLIC, 40)
    said = in_words(gold, NeedleSize.of_metric(metric), point, due=due)
    assert said.startswith(says)
    assert said == says or said.endswith("90/14 metallic fits this thread better.")


def test_the_best_size_of_another_point_is_no_more_than_that():
    gold = top(Fiber.METALLIC, Construction.METALLIC, 40)
    says = judged(MachineKind.HOME, gold, 90, Point.TOPSTITCH).text
    assert says == "90/14 is the best topstitch size for this thread."
    assert judged(MachineKind.HOME, gold, 90, Point.METALLIC).text == "90/14 metallic is the best for this thread."
