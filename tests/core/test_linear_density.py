"""Thread weights in every system, checked against pint's textile units."""

import math

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from weftonos.core.kernel.errors import CraftError
from weftonos.core.thread.linear_density import FINEST, HEAVIEST, LinearDensity, WeightSystem, strands_are_ambiguous

UNITS = pint.UnitRegistry()
ANY_TEX = st.floats(FINEST.value, HEAVIEST.value)
PER_LENGTH = {WeightSystem.TEX: "tex", WeightSystem.DTEX: "dtex", WeightSystem.DENIER: "denier"}
PER_WEIGHT = {WeightSystem.WT: "number_meter", WeightSystem.NE: "number_english"}


def pint_number(tex: float, system: WeightSystem) -> float:
    """The label number of a thread, worked out by pint alone."""
    if system in PER_LENGTH:
        return UNITS.Quantity(tex, "tex").to(PER_LENGTH[system]).magnitude
    return (1 / UNITS.Quantity(tex, "tex")).to(PER_WEIGHT[system]).magnitude


@given(ANY_TEX, st.sampled_from([*PER_LENGTH, *PER_WEIGHT]))
def test_reading_a_label_agrees_with_pint_over_the_whole_range(tex, system):
    number = pint_number(tex * 0.999 + 0.0011, system)
    expected = tex * 0.999 + 0.0011
    assert LinearDensity.from_label(number, system).tex == pytest.approx(expected, rel=1e-6)


@given(ANY_TEX)
def test_every_way_of_writing_a_weight_agrees_with_pint(tex):
    density = LinearDensity(tex)
    assert density.dtex == pytest.approx(pint_number(tex, WeightSystem.DTEX))
    assert density.denier == pytest.approx(pint_number(tex, WeightSystem.DENIER))
    assert density.wt == pytest.approx(pint_number(tex, WeightSystem.WT))
    assert density.ne == pytest.approx(pint_number(tex, WeightSystem.NE), rel=1e-6)


@given(ANY_TEX, ANY_TEX)
def test_a_higher_wt_is_a_finer_thread_and_a_higher_tex_a_thicker_one(a, b):
    if a < b:
        assert LinearDensity(a).wt > LinearDensity(b).wt
        assert LinearDensity(a).denier < LinearDensity(b).denier


@pytest.mark.parametrize(
    ("value", "system", "strands", "tex"),
    [
        (40, WeightSystem.WT, 3, 25.0),  # "40 wt, 3-ply" names the finished thread (common practice)
        (120, WeightSystem.DENIER, 2, 26.7),  # per strand: 240 denier in all (common practice)
        (50, WeightSystem.NE, 1, 11.8),  # 590.54 / 50
        (120, WeightSystem.TICKET, 1, 25.0),  # 3000 / 120, from memory
        (250, WeightSystem.DTEX, 1, 25.0),
    ],
)
def test_labels_from_common_practice(value, system, strands, tex):
    assert LinearDensity.from_label(value, system, strands).tex == pytest.approx(tex, abs=0.05)


def test_the_user_decides_whether_a_number_is_that_of_one_strand():
    whole = LinearDensity.from_label(20, WeightSystem.TEX, 2)
    each = LinearDensity.from_label(20, WeightSystem.TEX, 2, per_strand=True)
    assert (whole.tex, each.tex) == (20, 40)
    assert LinearDensity.from_label(120, WeightSystem.DENIER, 2, per_strand=False).denier == pytest.approx(120)
    assert strands_are_ambiguous(WeightSystem.TEX, 2)
    assert not strands_are_ambiguous(WeightSystem.WT, 3)


def test_a_slip_of_the_finger_is_answered_with_a_guess():
    with pytest.raises(CraftError, match=r"4000 wt would be 0\.25 tex.*Is it 40 wt\?") as caught:
        LinearDensity.from_label(4000, WeightSystem.WT)
    assert caught.value.field == "value"


@pytest.mark.parametrize("value", [0, -40, math.nan, math.inf, 1e9])
@pytest.mark.parametrize("system", list(WeightSystem))
def test_a_number_no_label_has_is_refused_at_its_field(value, system):
    with pytest.raises(CraftError) as caught:
        LinearDensity.from_label(value, system)
    assert caught.value.field == "value"


def test_a_cotton_ticket_is_not_guessed():
    with pytest.raises(CraftError, match="weigh a measured length"):
        LinearDensity.from_label(120, WeightSystem.TICKET, cotton=True)
