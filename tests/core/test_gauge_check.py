"""A known weight on the gauge: readings are corrected by what it showed, and say so."""

import pint
import pytest

from weftonos.core.bobbin.events import BobbinReading, GaugeChecked
from weftonos.core.bobbin.gauge import Pull, Verdict, read_gauge
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit

UNITS = pint.UnitRegistry()
TARGET = BobbinTarget(low=190, high=210)


def weight_in(unit: str, grams: float) -> float:
    return (UNITS.Quantity(grams, "gram") * UNITS.standard_gravity).to(unit).magnitude


@pytest.mark.parametrize(("unit", "name"), [(ForceUnit.MN, "mN"), (ForceUnit.CN, "cN"), (ForceUnit.GF, "gram_force")])
def test_a_gauge_that_shows_nine_tenths_is_corrected_by_ten_ninths(unit, name):
    checked = GaugeChecked(grams=20, showed=0.9 * weight_in(name, 20), unit=unit)
    assert checked.factor == pytest.approx(1 / 0.9)
    assert checked.text.endswith("It reads 10% low, and readings are corrected")


def test_what_a_gauge_repeats_to_is_right():
    assert GaugeChecked(grams=20, showed=1.02 * weight_in("mN", 20), unit=ForceUnit.MN).factor == 1
    assert GaugeChecked(grams=20, showed=1.05 * weight_in("mN", 20), unit=ForceUnit.MN).factor == pytest.approx(
        1 / 1.05
    )


@pytest.mark.parametrize(
    ("grams", "showed", "unit", "field"),
    [(20, 20, ForceUnit.MN, "showed"), (20, 196, ForceUnit.GF, "showed"), (0, 1, ForceUnit.GF, "grams")],
)
def test_another_unit_is_asked_about(grams, showed, unit, field):
    with pytest.raises(CraftError) as refused:
        GaugeChecked(grams=grams, showed=showed, unit=unit)
    assert refused.value.field == field


def test_everything_of_a_reading_is_corrected_and_its_pulls_stand_as_shown():
    pulls = (Pull(value=180), Pull(low=182, high=186), Pull(value=178))
    plain = BobbinReading.of(ForceUnit.MN, pulls, TARGET)
    corrected = BobbinReading.of(ForceUnit.MN, pulls, TARGET, correction=1.1)
    assert (plain.verdict, corrected.verdict) == (Verdict.LOW, Verdict.ON_TARGET)
    assert corrected.mean_mn == pytest.approx(1.1 * plain.mean_mn)
    assert corrected.means_mn == pytest.approx([1.1 * mn for mn in plain.means_mn])
    assert corrected.scatter_mn == pytest.approx(1.1 * plain.scatter_mn)
    assert (corrected.swing, corrected.pulls) == (plain.swing, pulls)
    assert corrected.judged(TARGET) == corrected


def test_it_says_that_it_is_corrected_and_names_the_number_that_was_shown():
    answer = read_gauge(ForceUnit.MN, [Pull(value=180)], TARGET, correction=1.1)
    assert "Corrected by +10%" in " ".join(reason.text for reason in answer.reasons)
    far = read_gauge(ForceUnit.MN, [Pull(value=3000)], None, correction=1.1)
    assert far.text.startswith("3000 ")
