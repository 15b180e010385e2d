"""Thickness follows from weight, fiber and construction."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from weftonos.core.kernel.errors import CraftError
from weftonos.core.thread.linear_density import LinearDensity, WeightSystem
from weftonos.core.thread.thread import FIBER_DENSITY, PACKING, Bundle, Construction, Fiber, Thread, diameter_mm


def cotton(wt: float) -> Thread:
    return Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=wt, system=WeightSystem.WT)


@given(st.floats(1, 300))
def test_spun_cotton_has_the_diameter_that_peirce_published(ne):
    # Peirce 1937, J. Textile Inst. 28: d (inch) = 1 / (28 · sqrt(Ne)).
    ours = diameter_mm(LinearDensity.from_label(ne, WeightSystem.NE), Fiber.COTTON, Construction.SPUN)
    assert ours == pytest.approx(25.4 / (28 * math.sqrt(ne)), rel=0.002)


def test_equal_weight_is_not_equal_thickness():
    # Common practice: a 30 wt cotton is visibly thicker than a 30 wt rayon.
    rayon = Thread(fiber=Fiber.RAYON, construction=Construction.MULTIFILAMENT, value=30, system=WeightSystem.WT)
    assert cotton(30).diameter_mm > 1.1 * rayon.diameter_mm


def test_three_cottons_together_weigh_what_common_practice_says():
    bundle = Bundle.of([cotton(30), cotton(40), cotton(50)])
    assert bundle.tex == pytest.approx(78.3, abs=0.05)


@given(st.lists(st.floats(15, 100), min_size=2, max_size=4))
def test_a_bundle_packs_at_four_fifths_of_its_outline(weights):
    threads = [cotton(w) for w in weights]
    bundle = Bundle.of(threads)
    inside = sum(math.pi * t.diameter_mm**2 / 4 for t in threads)
    outline = math.pi * bundle.diameter_mm**2 / 4
    assert inside / outline == pytest.approx(0.80)


def test_one_thread_is_its_own_bundle():
    assert Bundle.of([cotton(40)]).diameter_mm == cotton(40).diameter_mm


def test_nothing_and_too_many_threads_are_refused():
    with pytest.raises(CraftError, match="top thread first"):
        Bundle.of([])
    with pytest.raises(CraftError, match="1 to 4"):
        Bundle.of([cotton(50)] * 5)


def test_every_fiber_and_construction_has_its_figure_with_a_standing():
    assert set(FIBER_DENSITY) == set(Fiber)
    assert set(PACKING) == set(Construction)
    for known in [*FIBER_DENSITY.values(), *PACKING.values()]:
        assert known.value > 0
        assert known.source
