"""Own number, chart, swap, winding plan, screw coach: against published factors and independent working."""

import csv
import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from weftonos.core.bobbin.conditions import ReadUnder, effects, taken_otherwise
from weftonos.core.bobbin.control_chart import FACTORS, control_chart, two_spreads
from weftonos.core.bobbin.cross_swap import FaultIn, cross_swap
from weftonos.core.bobbin.events import ReadingConditions
from weftonos.core.bobbin.gauge import Pull, Verdict, read_gauge
from weftonos.core.bobbin.own_number import learn_number, own_target
from weftonos.core.bobbin.purpose import Purpose, PurposeSet, purpose_of, purpose_target, why_no_number
from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.bobbin.thread_use import BobbinClass, wound_length_m
from weftonos.core.bobbin.verdict import verdict_in_words
from weftonos.core.bobbin.winding import bobbin_left, winding_plan
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.schools import NumberSchool
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread

VALUES = Path(__file__).parent.parent / "check_values"
LIMPET = Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=80, system=WeightSystem.WT)
CLEAR = Thread(fiber=Fiber.POLYESTER, construction=Construction.MONOFILAMENT, value=11, system=WeightSystem.TEX)


def test_the_chart_factors_are_the_published_ones():
    # ASTM E2587; Montgomery, Introduction to Statistical Quality Control, appendix (typed from memory).
    lines = (VALUES / "control_chart_constants.csv").read_text(encoding="utf-8").splitlines()
    for row in csv.DictReader(line for line in lines if not line.startswith("#")):
        assert [k.value for k in FACTORS[int(row["n"])]] == [float(row[k]) for k in ("d2", "D4")]
        assert float(row["D3"]) == 0, "ranges have no lower limit"
        assert float(row["A2"]) == pytest.approx(3 / (float(row["d2"]) * math.sqrt(int(row["n"]))), abs=0.001)


@pytest.mark.parametrize("size", [2, 3, 4, 5])
def test_the_factors_agree_with_the_distribution_of_the_range(size):
    """d2 is the mean range of a normal sample: by integrating the distribution of the range."""
    x = np.linspace(-9, 9, 20001)
    below = stats.norm.cdf(x)
    mean_range = np.trapezoid(1 - below**size - (1 - below) ** size, x)
    assert FACTORS[size][0].value == pytest.approx(mean_range, abs=0.001)


MEANS = (202, 203, 201, 202, 204, 202, 200, 201, 203, 202)


def of_three(*means: float, spread: float = 6.0) -> list[list[float]]:
    return [[m - spread / 2, m, m + spread / 2] for m in means]


def test_a_worked_chart_of_means_and_ranges():
    """Ten sessions of three pulls, worked by hand.

    Grand mean 202, mean range 6. The moving ranges of the means are 1 2 1 2 2 2 1 2 1, their mean 14/9; over 1.128 that
    is a spread of the means of 1.379. The pulls alone give 6 / 1.693 / √3 = 2.046: nothing is left between sittings.
    """
    chart = control_chart(of_three(*MEANS))
    assert (chart.size, chart.center, chart.mean_range) == (3, pytest.approx(202), pytest.approx(6))
    assert (chart.within, chart.between) == (pytest.approx(6 / 1.693), 0)
    assert chart.upper == pytest.approx(202 + 3 * 6 / 1.693 / math.sqrt(3))
    assert chart.lower == pytest.approx(202 - 3 * 6 / 1.693 / math.sqrt(3))
    assert chart.range_upper == pytest.approx(2.574 * 6)
    assert chart.says == ("Steady: only the usual scatter from pull to pull.",)
    evenly = control_chart(of_three(*MEANS, spread=1))
    assert evenly.upper == pytest.approx(202 + 3 * 14 / 9 / 1.128), "the sittings alone set the limits"
    assert evenly.between == pytest.approx(math.sqrt((14 / 9 / 1.128) ** 2 - (1 / 1.693) ** 2 / 3))


def test_drift_and_outliers_are_said_in_words():
    assert "outside the limits" in control_chart(of_three(*MEANS, 240)).says[0]
    falling = of_three(202, 203, 201, 202, *(204 - 0.8 * i for i in range(7)))
    assert any("steadily falling" in s and "spring wearing" in s for s in control_chart(falling).says)
    wide = control_chart([*of_three(*MEANS), [180, 202, 224]])
    assert any("differ too much" in s for s in wide.says)
    assert not wide.drifts, "uneven pulls say nothing of the case"
    shifted = control_chart(of_three(*MEANS, *[206] * 8))
    assert any("8 sessions in a row above" in s for s in shifted.says)
    assert control_chart(of_three(240, *MEANS)).drifts is False, "what was out long ago says nothing now"


def test_a_chart_waits_for_ten_sessions():
    assert control_chart([]).center is None
    few = control_chart([[200, 202], [201, 203], [200]])
    assert few.center is None
    assert few.used == (0, 1)
    assert "8 more sessions" in few.says[0]
    assert control_chart(of_three(*MEANS[:9])).center is None


def test_the_two_spreads_agree_with_a_random_effects_analysis():
    """One-way random effects by restricted maximum likelihood in statsmodels, 12 cases of 40 sittings of 3 pulls."""
    import pandas as pd
    from statsmodels.regression.mixed_linear_model import MixedLM

    chance, ours, theirs = np.random.default_rng(12), [], []
    for _ in range(12):
        sittings = 200 + chance.normal(0, 6, (40, 1)) + chance.normal(0, 3, (40, 3))
        found = two_spreads(sittings.tolist())
        frame = pd.DataFrame({"mn": sittings.ravel(), "sitting": np.repeat(range(40), 3)})
        fitted = MixedLM.from_formula("mn ~ 1", frame, groups="sitting").fit()
        ours.append((found.within, found.between))
        theirs.append((math.sqrt(fitted.scale), math.sqrt(fitted.cov_re.iloc[0, 0])))
    (within, between), (of_pulls, of_sittings) = np.array(ours).T, np.array(theirs).T
    assert np.mean(within) == pytest.approx(np.mean(of_pulls), rel=0.03)
    assert np.mean(between) == pytest.approx(np.mean(of_sittings), rel=0.07)
    assert np.max(np.abs(between / of_sittings - 1)) < 0.3


@pytest.mark.parametrize(("between", "most"), [(0.0, 0.02), (6.0, 0.02)])
def test_in_control_the_last_session_is_rarely_outside(between, most):
    """A case that reads 3 % otherwise at each sitting: the limits of one sitting's pulls would call every fifth out."""
    chance, alarms = np.random.default_rng(3), 0
    for _ in range(1500):
        sittings = 200 + chance.normal(0, between, (25, 1)) + chance.normal(0, 3, (25, 3))
        alarms += control_chart(sittings.tolist()).points[-1].mean_out
    assert alarms / 1500 < most


def test_reading_and_chart_speak_with_one_voice():
    target = BobbinTarget(low=190, high=230)
    chart = control_chart(of_three(*(m + 10 for m in MEANS), 195))
    on = verdict_in_words(read_gauge(ForceUnit.MN, [Pull(value=195)], target), chart)
    assert on.startswith("On target, but this case used to read about 212")
    low = verdict_in_words(read_gauge(ForceUnit.MN, [Pull(value=180)], target), control_chart(of_three(*MEANS, 180)))
    assert low.startswith("Low: 10 mN under 190.")
    assert "something moved" in low
    steady = read_gauge(ForceUnit.MN, [Pull(value=203)], target)
    assert verdict_in_words(steady, control_chart(of_three(*MEANS))) == verdict_in_words(steady, None) == steady.text


def read_under(mean: float, fiber=Fiber.COTTON, turns=0, **conditions) -> ReadUnder:
    return ReadUnder(mean_mn=mean, conditions=ReadingConditions(**conditions), fiber=fiber, turns_before=turns)


def test_what_a_condition_does_agrees_with_least_squares_in_statsmodels():
    import statsmodels.api as sm

    chance = np.random.default_rng(8)
    readings, rows = [], []
    for turns, level in ((0, 200.0), (1, 180.0), (2, 222.0)):
        for fiber in (Fiber.COTTON, Fiber.POLYESTER) * 4:
            mean = level * (1.08 if fiber is Fiber.COTTON else 1) * math.exp(chance.normal(0, 0.01))
            readings.append(read_under(mean, fiber, turns))
            rows.append((math.log(mean), float(fiber is Fiber.COTTON), *(float(turns == t) for t in range(3))))
    (effect,) = effects(readings)
    data = np.array(rows)
    low, high = sm.OLS(data[:, 0], data[:, 1:]).fit().conf_int()[0]
    middle = math.exp(data[:, 0].mean())
    assert (effect.low_mn, effect.high_mn) == pytest.approx((middle * math.expm1(low), middle * math.expm1(high)))
    assert effect.readings == (12, 12)
    assert effect.text.startswith("Cotton reads 1")
    assert "over polyester in this case" in effect.text


def test_a_condition_is_not_spoken_of_before_both_kinds_were_read_side_by_side():
    cotton = [read_under(210 + d) for d in (0, 1, 2)]
    assert effects(cotton) == ()
    assert effects([*cotton, *[read_under(200, Fiber.POLYESTER)] * 2]) == ()
    assert effects([*cotton, *[read_under(200 + d, Fiber.POLYESTER, turns=1) for d in (0, 1, 2)]]) == ()
    alike = effects([*cotton, *[read_under(210.5 + d, Fiber.POLYESTER) for d in (0, 1, 2)]])
    assert "no difference seen yet" in alike[0].text
    (flat,) = effects([read_under(m + 20 * held, lying_flat=not held) for m in (200, 201, 202) for held in (0, 1)])
    assert flat.text.startswith("In the hand reads 1")


def test_a_reading_taken_otherwise_is_said_to_be():
    usual = [ReadingConditions(full_bobbin=True, lying_flat=True)] * 3
    assert taken_otherwise(ReadingConditions(full_bobbin=True, lying_flat=True), usual) == ""
    assert taken_otherwise(ReadingConditions(), usual) == ""
    assert taken_otherwise(ReadingConditions(full_bobbin=False, lying_flat=False), usual) == (
        "Taken with a part-used one and in the hand, unlike most of this case's readings."
    )


ORDINARY = BobbinTarget(low=190, high=210)


def test_loosened_for_a_purpose_is_on_target():
    assert purpose_target(ORDINARY, Purpose.ORDINARY) is ORDINARY
    delicate = purpose_target(ORDINARY, Purpose.DELICATE)
    assert (delicate.low, delicate.high) == (pytest.approx(120), 210)
    assert read_gauge(ForceUnit.MN, [Pull(value=140)], delicate).verdict is Verdict.ON_TARGET
    assert read_gauge(ForceUnit.MN, [Pull(value=140)], ORDINARY).verdict is Verdict.LOW
    assert purpose_target(ORDINARY, Purpose.BOBBIN_WORK) is None
    typed = purpose_target(ORDINARY, Purpose.BOBBIN_WORK, BobbinTarget(low=60, high=80))
    assert (typed.low, typed.origin) == (60, "your own for bobbin work")
    assert purpose_target(None, Purpose.DELICATE) is None
    assert "No tension is usual for bobbin work" in why_no_number(Purpose.BOBBIN_WORK)
    with pytest.raises(CraftError, match="ordinary range stands with the machine"):
        PurposeSet(purpose=Purpose.ORDINARY, target=ORDINARY)


@pytest.mark.parametrize(
    ("chosen", "school", "top", "work", "purpose"),
    [
        (None, NumberSchool.ONE, (LIMPET,), False, Purpose.ORDINARY),
        (None, NumberSchool.ONE, (CLEAR,), False, Purpose.ORDINARY),
        (None, NumberSchool.BY_PURPOSE, (CLEAR,), False, Purpose.DELICATE),
        (None, NumberSchool.BY_PURPOSE, (LIMPET,), False, Purpose.ORDINARY),
        (PurposeSet(purpose=Purpose.ORDINARY), NumberSchool.BY_PURPOSE, (CLEAR,), False, Purpose.ORDINARY),
        (PurposeSet(purpose=Purpose.DELICATE), NumberSchool.ONE, (LIMPET,), False, Purpose.DELICATE),
        (PurposeSet(purpose=Purpose.ORDINARY), NumberSchool.ONE, (LIMPET,), True, Purpose.BOBBIN_WORK),
    ],
)
def test_what_a_bobbin_is_for(chosen, school, top, work, purpose):
    assert purpose_of(chosen, school, top, bobbin_work=work) is purpose


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
        (True, False, FaultIn.BOBBIN),
        (False, True, FaultIn.CASE),
        (True, True, FaultIn.BOTH),
        (False, False, FaultIn.NEITHER),
        (None, None, FaultIn.OPEN),
        (True, None, FaultIn.OPEN),
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
    assert clear.meters == pytest.approx(0.75 * wound_length_m(BobbinClass.M, CLEAR))
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
    assert (plan.bobbins - 1) * plan.meters < plan.quilt_thread_m <= plan.bobbins * plan.meters * (1 + 1e-9)


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
