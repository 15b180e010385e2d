"""Own number, chart, swap, winding plan, screw coach: against published factors and independent working."""

import csv
import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from weftonos.core.bobbin.control_chart import FACTORS, control_chart
from weftonos.core.bobbin.cross_swap import Fault, cross_swap
from weftonos.core.bobbin.own_number import learn_number, own_target
from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.bobbin.thread_use import BobbinClass, wound_length_m
from weftonos.core.bobbin.winding import bobbin_left, winding_plan
from weftonos.core.kernel.errors import CraftError
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fibre, Thread

VALUES = Path(__file__).parent.parent / "check_values"
LIMPET = Thread(fibre=Fibre.POLYESTER, construction=Construction.MULTIFILAMENT, value=80, system=WeightSystem.WT)
CLEAR = Thread(fibre=Fibre.POLYESTER, construction=Construction.MONOFILAMENT, value=11, system=WeightSystem.TEX)


def test_the_chart_factors_are_the_published_ones():
    # ASTM E2587; Montgomery, Introduction to Statistical Quality Control, appendix (typed from memory).
    lines = (VALUES / "control_chart_constants.csv").read_text(encoding="utf-8").splitlines()
    for row in csv.DictReader(line for line in lines if not line.startswith("#")):
        assert [k.value for k in FACTORS[int(row["n"])]] == [float(row[k]) for k in ("A2", "D4")]
        assert float(row["D3"]) == 0, "ranges have no lower limit"
        assert float(row["A2"]) == pytest.approx(3 / (float(row["d2"]) * math.sqrt(int(row["n"]))), abs=0.001)


@pytest.mark.parametrize("size", [2, 3, 4, 5])
def test_the_factors_agree_with_the_distribution_of_the_range(size):
    """A2 is 3 / (d2 √n), d2 the mean range of a normal sample: by integrating the distribution of the range."""
    x = np.linspace(-9, 9, 20001)
    below = stats.norm.cdf(x)
    mean_range = np.trapezoid(1 - below**size - (1 - below) ** size, x)
    a2, _ = (k.value for k in FACTORS[size])
    assert a2 == pytest.approx(3 / (mean_range * math.sqrt(size)), abs=0.001)


def test_a_worked_chart_of_means_and_ranges():
    """Six sessions of three pulls, worked by hand: grand mean 202, mean range 6, limits A2 and D4 times it."""
    sessions = [[200, 203, 206], [199, 202, 205], [201, 204, 207], [198, 201, 204], [197, 200, 203], [199, 202, 205]]
    chart = control_chart(sessions)
    assert (chart.size, chart.centre, chart.mean_range) == (3, pytest.approx(202), pytest.approx(6))
    assert chart.upper == pytest.approx(202 + 1.023 * 6)
    assert chart.lower == pytest.approx(202 - 1.023 * 6)
    assert chart.range_upper == pytest.approx(2.574 * 6)
    assert chart.says == ("Steady: nothing but the ordinary scatter of pulls.",)


def test_drift_and_outliers_are_said_in_words():
    calm = [[200 + d, 203 + d, 206 + d] for d in (0, 1, -1, 0, 1, -1, 0)]
    assert "outside the limits" in control_chart([*calm, [240, 243, 246]]).says[0]
    falling = [[210 - 1.2 * i, 213 - 1.2 * i, 216 - 1.2 * i] for i in range(7)]
    assert any("steadily falling" in s and "spring wearing" in s for s in control_chart(falling).says)
    wide = control_chart([*calm, [180, 203, 226]])
    assert any("differ too much" in s for s in wide.says)
    shifted = control_chart([[200, 203, 206]] * 9 + [[203, 206, 209]] * 8)
    assert any("8 sessions in a row above" in s for s in shifted.says)


def test_a_chart_waits_for_enough_sessions():
    assert control_chart([]).centre is None
    few = control_chart([[200, 202], [201, 203], [200]])
    assert few.centre is None
    assert few.used == (0, 1)
    assert "3 more sessions" in few.says[0]


def test_in_control_the_chart_rarely_cries_wolf():
    chance = np.random.default_rng(3)
    alarms = sum(p.mean_out for _ in range(200) for p in control_chart(chance.normal(200, 3, (25, 3)).tolist()).points)
    assert alarms / (200 * 25) < 0.012  # three-sigma limits: 0.27 % with known spread, a little more with 25 sessions


def test_the_own_number_has_students_interval():
    """The mean of a normal sample, its variance with a scaled inverse chi-squared of 4 degrees and 4 % beforehand."""
    readings = [201.0, 204.0, 199.0, 203.0, 206.0, 202.0]
    number = learn_number(readings)
    degrees = 4 + len(readings) - 1
    scale = math.sqrt((4 * (0.04 * np.mean(readings)) ** 2 + 5 * np.var(readings, ddof=1)) / degrees)
    expected = stats.t.interval(0.95, degrees, loc=np.mean(readings), scale=scale / math.sqrt(6))
    assert (number.low_mn, number.high_mn) == pytest.approx(expected)
    target = own_target(number)
    assert target.low < 199 < 206 < target.high
    assert "6 balanced" in target.origin


def test_the_first_balanced_stitch_out_counts_and_more_of_them_narrow_it():
    assert learn_number([]) is None
    assert own_target(None) is None
    widths = []
    for count in (1, 2, 3, 5, 10, 30):
        target = own_target(learn_number([210.0] * count))
        assert target.middle == pytest.approx(210)
        widths.append(target.high - target.low)
    assert widths == sorted(widths, reverse=True)
    assert 0.10 < widths[0] / 2 / 210 < 0.13
    assert widths[-1] / 2 / 210 == pytest.approx(0.05), "the gauge repeats no better"
    assert "1 balanced stitch-out" in own_target(learn_number([210.0])).origin


@pytest.mark.parametrize(
    ("other_case", "other_bobbin", "fault"),
    [
        (True, False, Fault.BOBBIN),
        (False, True, Fault.CASE),
        (True, True, Fault.BOTH),
        (False, False, Fault.NEITHER),
        (None, None, Fault.OPEN),
        (True, None, Fault.OPEN),
    ],
)
def test_the_fault_follows_one_of_them(other_case, other_bobbin, fault):
    assert cross_swap(other_case, other_bobbin).fault is fault


def test_monofilament_is_wound_three_quarters_full_and_slowly():
    clear = winding_plan(
        size=BobbinClass.M,
        thread=CLEAR,
        stitch_length_mm=3,
        sandwich_mm=2,
        quilt_width_m=1.5,
        quilt_height_m=2,
        lines_apart_mm=15,
    )
    assert clear.fill == 0.75
    assert "half speed" in clear.how
    assert clear.metres == pytest.approx(0.75 * wound_length_m(BobbinClass.M, CLEAR))
    assert (
        winding_plan(
            size=BobbinClass.M,
            thread=LIMPET,
            stitch_length_mm=3,
            sandwich_mm=2,
            quilt_width_m=1.5,
            quilt_height_m=2,
            lines_apart_mm=15,
        ).fill
        == 1
    )


@given(st.floats(0.5, 3), st.floats(0.5, 3), st.floats(4, 60), st.floats(1.5, 4))
def test_the_bobbins_of_a_plan_hold_the_quilt(width, height, apart, stitch):
    plan = winding_plan(
        size=BobbinClass.M,
        thread=LIMPET,
        stitch_length_mm=stitch,
        sandwich_mm=2,
        quilt_width_m=width,
        quilt_height_m=height,
        lines_apart_mm=apart,
    )
    assert plan.quilt_stitched_m == pytest.approx(width * height / apart * 1000)
    assert (plan.bobbins - 1) * plan.metres < plan.quilt_thread_m <= plan.bobbins * plan.metres * (1 + 1e-9)


def test_a_bobbin_warns_before_a_long_line():
    whole = bobbin_left(size=BobbinClass.L, thread=LIMPET, fill=1, stitched_m=0, stitch_length_mm=3, sandwich_mm=2)
    assert whole.share == 1
    nearly = bobbin_left(
        size=BobbinClass.L,
        thread=LIMPET,
        fill=1,
        stitched_m=whole.stitched_m_left - 3,
        stitch_length_mm=3,
        sandwich_mm=2,
        next_line_m=2.8,
    )
    assert nearly.enough is False
    assert "Change it before the next line" in nearly.text
    assert (
        bobbin_left(
            size=BobbinClass.L,
            thread=LIMPET,
            fill=1,
            stitched_m=10,
            stitch_length_mm=3,
            sandwich_mm=2,
            next_line_m=2.8,
        ).enough
        is True
    )
    assert (
        bobbin_left(
            size=BobbinClass.L, thread=LIMPET, fill=0.5, stitched_m=10_000, stitch_length_mm=3, sandwich_mm=2
        ).stitched_m_left
        == 0
    )


@pytest.mark.parametrize(
    "bad",
    [
        lambda: BobbinCase(label=" "),
        lambda: Bobbin(label="B1", thread=1, fill=0),
        lambda: Bobbin(label="B1", thread=1, fill=1.2),
        lambda: winding_plan(
            size=BobbinClass.M,
            thread=LIMPET,
            stitch_length_mm=3,
            sandwich_mm=2,
            quilt_width_m=0,
            quilt_height_m=2,
            lines_apart_mm=15,
        ),
        lambda: bobbin_left(
            size=BobbinClass.M, thread=LIMPET, fill=1, stitched_m=-1, stitch_length_mm=3, sandwich_mm=2
        ),
    ],
)
def test_what_cannot_stand_on_a_rack_is_refused(bad):
    with pytest.raises(CraftError):
        bad()
