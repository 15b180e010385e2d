"""What a full bobbin holds: the wound space, a pre-wound's label, and one's own bobbins, by SciPy's interval."""

import pytest
from scipy import stats

from weftonos.core.bobbin.holds import full_bobbin
from weftonos.core.bobbin.thread_use import BobbinClass, wound_length_m
from weftonos.core.kernel.standing import Standing
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread

LIMPET = Thread(fiber=Fiber.POLYESTER, construction=Construction.SPUN, value=80, system=WeightSystem.WT)
GAVE = [118.0, 110.0, 125.0, 121.0, 116.0]


def test_own_bobbins_say_it_with_their_interval():
    found = full_bobbin(BobbinClass.M, LIMPET, gave=GAVE)
    low, high = stats.t.interval(0.95, len(GAVE) - 1, loc=stats.tmean(GAVE), scale=stats.sem(GAVE))
    assert found.thread_m == pytest.approx(stats.tmean(GAVE))
    assert (found.low_m, found.high_m) == (pytest.approx(low, rel=1e-6), pytest.approx(high, rel=1e-6))
    assert "Your last 5 bobbins of this thread gave 118 m on average" in found.says
    assert found.standing is Standing.OWN_RECORDS


def test_a_label_comes_before_the_wound_space_and_one_bobbin_is_too_few():
    wound = full_bobbin(BobbinClass.M, LIMPET, gave=[118.0])
    assert wound.thread_m == wound_length_m(BobbinClass.M, LIMPET)
    assert wound.standing is Standing.ESTIMATE
    stated = full_bobbin(BobbinClass.M, LIMPET, stated_m=105)
    assert (stated.thread_m, "105 m by its label" in stated.says) == (105, True)


def test_what_no_bobbin_can_have_given_is_passed_over():
    found = full_bobbin(BobbinClass.M, LIMPET, gave=[*GAVE, 3.0, 9000.0])
    assert found.bobbins == 5
