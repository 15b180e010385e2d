"""Bobbin readings: units, mean, swing, verdict, and the turn of the screw."""

import math

import numpy as np
import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate, stats

from weftonos.core.bobbin.gauge import Calmness, Pull, Verdict, read_gauge, standard_error
from weftonos.core.bobbin.screw import ScrewTurn, TurnDirection, advise_turn, learn_response
from weftonos.core.bobbin.target import BobbinTarget, usual_target
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit, from_mn, hanging_tension_mn, to_mn
from weftonos.core.kernel.schools import MachineKind

UNITS = pint.UnitRegistry()
LARGE = BobbinTarget(low=180, high=220)
PINT_NAMES = {ForceUnit.MN: "millinewton", ForceUnit.GF: "gram_force", ForceUnit.CN: "centinewton"}


def values(*numbers: float) -> list[Pull]:
    return [Pull(value=n) for n in numbers]


@given(st.floats(0.001, 10_000), st.sampled_from(list(ForceUnit)))
def test_gauge_units_agree_with_pint(value, unit):
    expected = UNITS.Quantity(value, PINT_NAMES[unit]).to("millinewton").magnitude
    assert to_mn(value, unit) == pytest.approx(expected)
    assert from_mn(expected, unit) == pytest.approx(value)


@given(st.floats(0.1, 500))
def test_the_hang_test_is_a_weighing(grams):
    # BIPM SI brochure: standard gravity 9.80665 m/s².
    assert hanging_tension_mn(grams) == pytest.approx(UNITS.Quantity(grams, "gram_force").to("mN").magnitude)


@pytest.mark.parametrize("grams", [0, -1, 501, math.nan, math.inf])
def test_an_impossible_weight_is_refused(grams):
    with pytest.raises(CraftError):
        hanging_tension_mn(grams)


@pytest.mark.parametrize(("throat", "low", "high"), [(24, 180, 220), (36, 180, 220), (22, 180, 220), (18, 250, 300)])
def test_the_usual_ranges_by_throat(throat, low, high):
    target = usual_target(MachineKind.LONGARM, throat)
    assert (target.low, target.high) == (low, high)


def test_where_the_school_has_no_number_none_is_made_up():
    assert usual_target(MachineKind.HOME, 9) is None
    for throat in (None, 12, 20, 21.5, 40):
        assert usual_target(MachineKind.LONGARM, throat) is None
    assert "usual for a throat" in usual_target(MachineKind.LONGARM, 26).origin
    answer = read_gauge(ForceUnit.MN, values(230, 232))
    assert answer.verdict is Verdict.NO_TARGET
    assert answer.advice is None


def test_the_mean_of_the_pulls_is_the_reading():
    answer = read_gauge(ForceUnit.GF, values(20, 21, 22), LARGE)
    assert answer.mean_mn == pytest.approx(21 * 9.80665)
    assert answer.mean_gf == pytest.approx(21)
    assert answer.verdict is Verdict.ON_TARGET
    assert answer.repeatability == pytest.approx(stats.variation([20, 21, 22], ddof=1))


def test_out_of_the_range_by_less_than_the_pulls_can_tell_turns_nothing():
    edge = read_gauge(ForceUnit.MN, values(221, 225, 220), LARGE)
    assert (edge.verdict, edge.at_edge, edge.advice) == (Verdict.HIGH, True, None)
    assert edge.text == "High: 2 mN over 220. Less than these pulls can tell: leave the screw, or pull again."
    out = read_gauge(ForceUnit.MN, values(231, 235, 230), LARGE)
    assert (out.at_edge, out.advice.direction) == (False, TurnDirection.LOOSEN)
    # An uneven hand tells less; one pull less than three.
    assert read_gauge(ForceUnit.MN, values(205, 232, 235), LARGE).at_edge
    assert not read_gauge(ForceUnit.MN, values(224, 224, 224), LARGE).at_edge
    assert read_gauge(ForceUnit.MN, values(175), LARGE).at_edge
    assert not read_gauge(ForceUnit.MN, values(175, 175, 175), LARGE).at_edge
    assert not read_gauge(ForceUnit.MN, values(200), LARGE).at_edge


def turned(rate: float, lost: float, *minutes: float) -> list[ScrewTurn]:
    """A screw that answers by ``rate`` a minute and loses so many minutes whenever it is turned back."""
    history, reading, way = [], 200.0, 0.0
    for each in minutes:
        done = math.copysign(max(abs(each) - lost, 0), each) if way * each < 0 else each
        history.append(ScrewTurn(each, reading, reading * math.exp(rate * done)))
        reading, way = history[-1].after_mn, each
    return history


class TestPlay:
    def test_it_is_learned_from_turns_back_and_taken_up_by_the_next(self):
        history = turned(0.02, 5, 8, 8, -12, -6, 12, 6)
        assert learn_response(history).play == pytest.approx(5, abs=0.5)
        assert learn_response(history).mean == pytest.approx(0.02, rel=0.05)
        back, on = advise_turn(240, 200, history), advise_turn(160, 200, history)
        assert back.minutes == round(math.log(1.2) / 0.02 + 5)
        assert on.minutes == round(math.log(1.25) / 0.02)
        assert back.expected_mn == pytest.approx(200, rel=0.02)

    @pytest.mark.parametrize("minutes", [(8, 8, -12), (8, 8, 8, 8), ()])
    def test_one_turn_back_tells_nothing(self, minutes):
        assert learn_response(turned(0.02, 5, *minutes)).play == 0

    def test_a_screw_without_it_has_none(self):
        assert learn_response(turned(0.02, 0, 8, -8, 6, -10)).play == 0

    def test_a_reading_at_the_edge_is_not_left_there(self):
        history = turned(0.02, 5, 8, 8, -12, -6, 12, 6)
        edge = read_gauge(ForceUnit.MN, values(221, 225, 220), LARGE, history)
        assert (edge.at_edge, edge.advice.direction) == (False, TurnDirection.LOOSEN)


def test_the_scatter_of_a_mean_comes_to_the_standard_error():
    assert standard_error(values(200), ForceUnit.MN) == pytest.approx(0.03 * 200)
    pulls = np.random.default_rng(2).normal(20, 1.5, 20)
    own = stats.sem(pulls) * UNITS.Quantity(1, "gram_force").to("mN").magnitude
    # The known scatter weighs four pulls beside twenty.
    assert standard_error(values(*pulls), ForceUnit.GF) == pytest.approx(own, rel=0.15)
    assert standard_error(values(*pulls), ForceUnit.GF) < own


@pytest.mark.parametrize(("half", "calm"), [(9.9, Calmness.CALM), (15, Calmness.WATCH), (20.5, Calmness.FAULT)])
def test_swing_is_half_the_range_over_the_mean(half, calm):
    answer = read_gauge(ForceUnit.MN, [Pull(low=200 - half, high=200 + half)], LARGE)
    assert answer.swing == pytest.approx(half / 200)
    assert answer.calmness is calm


def test_the_most_restless_pull_decides():
    answer = read_gauge(ForceUnit.MN, [Pull(low=199, high=201), Pull(low=170, high=230)], LARGE)
    assert answer.verdict is Verdict.FLUTTERING
    assert answer.advice is None


def test_one_value_says_nothing_about_steadiness():
    answer = read_gauge(ForceUnit.MN, values(200), LARGE)
    assert answer.swing is None
    assert answer.calmness is Calmness.UNKNOWN


@pytest.mark.parametrize(
    ("unit", "reading", "meant"),
    [
        (ForceUnit.MN, 20.4, "grams"),
        (ForceUnit.GF, 204, "mN"),
        (ForceUnit.CN, 200, "mN"),
        (ForceUnit.MN, 2040, None),
    ],
)
def test_a_reading_ten_times_off_asks_for_the_unit(unit, reading, meant):
    answer = read_gauge(unit, values(reading, reading * 1.01), LARGE)
    assert answer.verdict is Verdict.CHECK_UNIT
    assert answer.advice is None
    if meant:
        assert meant in answer.text


@given(st.floats(100, 400), st.floats(0, 0.3))
def test_no_turn_is_ever_advised_on_a_fluttering_reading(mean, swing):
    answer = read_gauge(ForceUnit.MN, [Pull(low=mean * (1 - swing), high=mean * (1 + swing))], LARGE)
    if swing > 0.1001:
        assert answer.verdict is Verdict.FLUTTERING
        assert answer.advice is None
    if answer.advice:
        assert 1 <= answer.advice.minutes <= 15
        assert (answer.advice.direction is TurnDirection.TIGHTEN) == (mean < 180)
        toward = answer.advice.expected_mn - answer.mean_mn
        assert math.copysign(1, toward) == math.copysign(1, 200 - mean)


@pytest.mark.parametrize(
    "make",
    [
        lambda: Pull(value=-1),
        lambda: Pull(value=0),
        lambda: Pull(value=math.nan),
        lambda: Pull(low=210, high=200),
        lambda: Pull(low=200),
        lambda: Pull(value=202, low=199, high=201),
        lambda: Pull(),
        lambda: read_gauge(ForceUnit.MN, []),
        lambda: read_gauge(ForceUnit.MN, values(*[200] * 21)),
        lambda: BobbinTarget(low=220, high=180),
        lambda: ScrewTurn(0, 200, 210),
        lambda: ScrewTurn(5, 0, 210),
    ],
)
def test_what_is_no_reading_is_refused(make):
    with pytest.raises(CraftError):
        make()


def test_the_learned_response_agrees_with_numerical_integration():
    """The conjugate update against SciPy's quadrature of prior times likelihood."""
    history = [ScrewTurn(5, 180, 208), ScrewTurn(-8, 240, 190), ScrewTurn(3, 190, 204)]

    def joint(b: float) -> float:
        noise = 0.03 * math.sqrt(2 / 3)
        likelihood = np.prod(
            [stats.norm.pdf(math.log(t.after_mn / t.before_mn), b * t.minutes, noise) for t in history]
        )
        return float(stats.norm.pdf(b, 0.025, 0.015) * likelihood)

    weight = integrate.quad(joint, -0.05, 0.1)[0]
    mean = integrate.quad(lambda b: b * joint(b), -0.05, 0.1)[0] / weight
    square = integrate.quad(lambda b: b * b * joint(b), -0.05, 0.1)[0] / weight
    learned = learn_response(history)
    assert learned.mean == pytest.approx(mean, rel=1e-4)
    assert learned.spread == pytest.approx(math.sqrt(square - mean**2), rel=1e-3)
    assert learned.turns == 3


def test_an_unknown_case_is_turned_with_more_care_than_a_known_one():
    known = [ScrewTurn(10, 200, 200 * math.exp(0.25))] * 4
    assert advise_turn(160, 200).minutes < advise_turn(160, 200, known).minutes
    far = advise_turn(60, 290, known)
    assert far.minutes == 15  # never more than a quarter turn
    assert far.expected_low_mn < far.expected_mn < far.expected_high_mn
