"""Thread without a label, wraps round guides, thread used: against independent working."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from weftonos.core.bobbin.thread_use import (
    BOBBIN_SIZES,
    BobbinClass,
    eye_passes,
    thread_per_stitch_mm,
    thread_use,
    wound_length_m,
)
from weftonos.core.kernel.errors import CraftError
from weftonos.core.thread.capstan import FRICTION, guide_holes, tension_ratio
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread
from weftonos.core.thread.unlabeled import count_wraps, weigh

COTTON = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=40, system=WeightSystem.WT)


def test_weighing_a_length_gives_grams_in_a_thousand_meters():
    found = weigh(grams=0.5, meters=20, scale_step_g=0.01, fiber=Fiber.COTTON, construction=Construction.SPUN)
    assert found.tex == pytest.approx(25)
    assert found.tex_low < 25 < found.tex_high
    assert found.diameter_mm == pytest.approx(COTTON.diameter_mm)


def test_a_coarse_scale_says_how_much_to_weigh():
    rough = weigh(grams=0.5, meters=20, scale_step_g=1, fiber=Fiber.COTTON, construction=Construction.SPUN)
    assert rough.tex_high - rough.tex_low > 25
    length = float(rough.text.split("Weigh ")[1].split(" m")[0])
    better = weigh(
        grams=25 * length / 1000, meters=length, scale_step_g=1, fiber=Fiber.COTTON, construction=Construction.SPUN
    )
    assert (better.tex_high - better.tex) / better.tex < 0.08


@given(st.floats(12, 150), st.sampled_from([Fiber.COTTON, Fiber.SILK]), st.sampled_from(list(Construction)))
def test_counting_wraps_of_a_known_thread_gives_its_weight_back(wt, fiber, construction):
    thread = Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)
    found = count_wraps(25 / thread.diameter_mm, 25, fiber, construction)
    assert found.tex == pytest.approx(thread.density.tex)
    assert found.tex_low < thread.density.tex < found.tex_high


def test_the_interval_of_wraps_covers_simulated_counting():
    """Counts off by up to half a wrap at each end and 6 % crowding: 95 % of the answers' intervals hold the truth."""
    chance = np.random.default_rng(7)
    true = COTTON.diameter_mm
    held = 0
    for _ in range(2000):
        counted = 10 / (true * (1 + chance.normal(0, 0.06))) + chance.normal(0, 0.5)
        found = count_wraps(counted, 10, Fiber.COTTON, Construction.SPUN)
        held += found.tex_low <= 25 <= found.tex_high
    assert 0.92 <= held / 2000 <= 0.98


@pytest.mark.parametrize(
    "bad",
    [
        lambda: weigh(grams=0, meters=20, scale_step_g=0.1, fiber=Fiber.COTTON, construction=Construction.SPUN),
        lambda: weigh(grams=1, meters=math.nan, scale_step_g=0.1, fiber=Fiber.COTTON, construction=Construction.SPUN),
        lambda: weigh(grams=400, meters=1, scale_step_g=0.1, fiber=Fiber.COTTON, construction=Construction.SPUN),
        lambda: count_wraps(1, 10, Fiber.COTTON, Construction.SPUN),
        lambda: guide_holes(Fiber.COTTON, 4),
        lambda: tension_ratio(-0.1, 1),
        lambda: thread_per_stitch_mm(0, 2),
        lambda: wound_length_m(BobbinClass.M, COTTON, 1.2),
    ],
)
def test_what_cannot_be_measured_is_refused(bad):
    with pytest.raises(CraftError):
        bad()


@pytest.mark.parametrize(
    ("mu", "turns", "ratio"), [(0.3, 0.5, 2.566), (0.2, 1, 3.514), (0.3, 1, 6.586), (0.5, 1, 23.14)]
)
def test_the_capstan_equation_has_the_textbook_values(mu, turns, ratio):
    # Values of exp(mu·theta) as tabulated for rope round a bollard in statics textbooks (from memory).
    assert tension_ratio(mu, 2 * math.pi * turns) == pytest.approx(ratio, rel=1e-3)


@given(st.floats(0.15, 0.30), st.floats(0.1, 12))
def test_the_capstan_equation_agrees_with_integrating_the_force_balance(mu, theta):
    """dT/dtheta = mu·T, integrated numerically from T = 1."""
    solved = solve_ivp(lambda _, t: mu * t, (0, theta), [1.0], rtol=1e-9, atol=1e-9)
    assert tension_ratio(mu, theta) == pytest.approx(solved.y[0, -1], rel=1e-6)


@pytest.mark.parametrize("fiber", list(Fiber))
def test_each_hole_skipped_lessens_the_pull(fiber):
    pulls = [guide_holes(fiber, n) for n in range(4)]
    assert [p.ratio for p in pulls] == sorted(p.ratio for p in pulls)
    assert pulls[3].of_full == 1
    assert pulls[0].ratio == 1
    assert all(p.low <= p.ratio <= p.high for p in pulls)
    assert pulls[2].of_full == pytest.approx(math.exp(-FRICTION[fiber].value * math.pi))


def test_one_spot_makes_seventy_trips_over_thirty_five_stitches():
    # Common practice: 70 trips through the eye over 35 stitches before a spot is sewn in.
    passes = eye_passes(3, 2)
    assert passes == pytest.approx(70, abs=0.5)
    assert eye_passes(1.5, 2) > passes


@given(st.floats(0.5, 6), st.floats(0.5, 8), st.floats(0, 500), st.floats(0.1, 1))
def test_thread_is_neither_lost_nor_made(stitch, sandwich, meters, fill):
    use = thread_use(
        stitch_length_mm=stitch,
        sandwich_mm=sandwich,
        stitched_meters=meters,
        size=BobbinClass.M,
        fill=fill,
        bobbin_thread=COTTON,
    )
    per_stitch = (stitch + sandwich) * 1.05
    assert use.top_m == use.bobbin_m == pytest.approx(meters / stitch * per_stitch)
    assert use.bobbins * wound_length_m(BobbinClass.M, COTTON, fill) == pytest.approx(use.bobbin_m)
    assert use.stitches_per_bobbin == pytest.approx(
        wound_length_m(BobbinClass.M, COTTON, fill) * 1000 / per_stitch, abs=1
    )


def test_a_bobbin_holds_what_its_volume_holds():
    """The wound volume worked out by summing rings of a tenth of a millimeter."""
    size = BOBBIN_SIZES[BobbinClass.L]
    radii = np.arange(size.core_mm.value / 2, size.outer_mm.value / 2, 0.001) + 0.0005
    volume = float((2 * np.pi * radii * 0.001).sum()) * size.width_mm.value
    expected = 0.75 * volume / (math.pi / 4 * COTTON.diameter_mm**2) / 1000
    assert wound_length_m(BobbinClass.L, COTTON) == pytest.approx(expected, rel=1e-3)
    fine = Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=80, system=WeightSystem.WT)
    assert wound_length_m(BobbinClass.M, fine) > wound_length_m(BobbinClass.L, fine)
