"""When a needle is due, what it costs, how it is fitted, and whether its room explains a break."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from scipy.optimize import brentq
from scipy.stats import weibull_min

from weftonos.core.kernel.care import Care
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.schools import LifeSchool
from weftonos.core.kernel.standing import Standing
from weftonos.core.needle.fitting import Plausible, RoomTrouble, fitting_steps, room_advice
from weftonos.core.needle.life import (
    Due,
    NeedleSpan,
    PointInUse,
    change_pays_at,
    cost_per_hour,
    needle_life,
    own_life,
    own_life_words,
)
from weftonos.core.needle.needle import NeedleFinish, NeedleKind, NeedleSize, Point, Shank, SizeClass
from weftonos.core.needle.packet import NeedlePacket, check_system
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread

STEEL, COATED = NeedleFinish.STEEL, NeedleFinish.TITANIUM


@pytest.mark.parametrize(
    ("school", "finish", "hours", "projects", "due"),
    [
        (LifeSchool.HOURS, STEEL, 2, 1, Due.FRESH),
        (LifeSchool.HOURS, STEEL, 5, 1, Due.NEARLY),
        (LifeSchool.HOURS, STEEL, 6.5, 1, Due.DUE),
        (LifeSchool.HOURS, STEEL, 8.1, 1, Due.OVERDUE),
        (LifeSchool.HOURS, COATED, 8.1, 1, Due.FRESH),  # lasts at least five times as long
        (LifeSchool.HOURS, COATED, 31, 1, Due.DUE),
        (LifeSchool.PROJECT, STEEL, 3, 1, Due.FRESH),
        (LifeSchool.PROJECT, STEEL, 3, 2, Due.DUE),
        (LifeSchool.PROJECT, STEEL, 3, 3, Due.OVERDUE),
        (LifeSchool.PROJECT, COATED, 3, 8, Due.FRESH),
        (LifeSchool.COATED, COATED, 29, 3, Due.FRESH),
        (LifeSchool.COATED, COATED, 40, 3, Due.NEARLY),  # 30 to 72 hours, its sound deciding
        (LifeSchool.COATED, COATED, 73, 3, Due.DUE),
        (LifeSchool.COATED, COATED, 20, 9, Due.DUE),
        (LifeSchool.COATED, STEEL, 6.5, 1, Due.DUE),
        (LifeSchool.CONDITION, STEEL, 300, 40, Due.BY_CONDITION),
    ],
)
def test_the_schools_of_needle_life(school, finish, hours, projects, due):
    # Common practice: 6 to 8 hours; every quilt; about 60 hours or eight projects; by condition.
    life = needle_life(school, finish, hours, projects)
    assert life.due is due
    assert life.text


@given(st.sampled_from(list(LifeSchool)), st.sampled_from(list(NeedleFinish)), st.floats(0, 100), st.floats(0, 100))
def test_more_hours_never_make_a_needle_fresher(school, finish, a, b):
    order = [Due.FRESH, Due.NEARLY, Due.DUE, Due.OVERDUE, Due.BY_CONDITION]
    earlier, later = (needle_life(school, finish, h, 1).due for h in sorted((a, b)))
    assert order.index(earlier) <= order.index(later)


def test_the_own_record_has_the_exact_poisson_interval():
    """Garwood 1936, against SciPy's test of a Poisson rate: 4 troubles in 100 h."""
    spans = [NeedleSpan(10, False)] * 6 + [NeedleSpan(10, True)] * 4
    life = own_life(spans)
    assert (life.needles, life.troubles, life.hours, life.mean_hours) == (10, 4, 100, 25)
    least, most = stats.gamma.ppf(0.025, 4), stats.gamma.ppf(0.975, 5)
    assert life.low_hours == pytest.approx(100 / most)
    assert life.high_hours == pytest.approx(100 / least)
    # P(4 or more | rate at the lower end) and P(4 or fewer | rate at the upper end) are 2.5 % each.
    assert stats.poisson.sf(3, 100 / life.high_hours) == pytest.approx(0.025)
    assert stats.poisson.cdf(4, 100 / life.low_hours) == pytest.approx(0.025)


def test_without_trouble_the_record_says_only_how_long_at_least():
    life = own_life([NeedleSpan(8, False)] * 5)
    assert life.mean_hours is None
    assert life.high_hours is None
    assert 10 < life.low_hours < 12  # 40 h over 3.69, the exact upper limit of no events


def test_cost_per_hour_rests_on_the_own_record_once_there_is_one():
    steel, coated = cost_per_hour(0.9, STEEL), cost_per_hour(3.6, COATED)
    assert steel.per_hour == pytest.approx(0.15)
    assert coated.per_hour == pytest.approx(0.12)
    assert steel.standing is Standing.COMMON_PRACTICE
    own = own_life([NeedleSpan(9, True)] * 3)
    learned = cost_per_hour(0.9, STEEL, own)
    assert learned.per_hour == pytest.approx(0.1)
    assert learned.standing is Standing.OWN_RECORDS
    assert cost_per_hour(0.9, STEEL, own_life([NeedleSpan(9, True)] * 2)).standing is Standing.COMMON_PRACTICE


@pytest.mark.parametrize(
    ("machine", "needle", "goes"),
    [
        ("DPx5", "DPx5", True),
        ("DPx5", "dpx5 ", True),
        ("DPx5, HLx5", "HLx5", True),
        ("DPx5", "HLx5", False),
        ("", "HLx5", True),
        ("DPx5", "", True),
        ("130/705 H", "130/705H", True),
        # Names that are held for one family: the manual decides, and nothing is crossed out.
        ("130/705 H", "15x1", True),
        ("130/705 H", "HAx1", True),
        ("134", "135x5", True),
        ("134 (DPx5)", "135 x 5", True),
        ("130/705 H", "134", False),
    ],
)
def test_a_machine_is_held_to_its_needle_system(machine, needle, goes):
    if goes:
        check_system(machine, needle, "Heron")
        return
    with pytest.raises(CraftError, match="skips and loops") as caught:
        check_system(machine, needle, "Heron")
    assert caught.value.field == "system"


def test_a_packet_holds_needles_that_exist():
    with pytest.raises(CraftError, match="80 pairs with 12"):
        NeedlePacket(metric=80, american=16, point=Point.SHARP, bought=5)
    with pytest.raises(CraftError):
        NeedlePacket(metric=80, american=12, point=Point.SHARP, bought=0)


@pytest.mark.parametrize("shank", list(Shank))
def test_fitting_begins_with_the_power_and_ends_with_the_record(shank):
    steps = fitting_steps(shank)
    assert steps[0].startswith("Machine off")
    assert steps[-1].startswith("Note")
    assert any("six o'clock" in s for s in steps) is (shank is Shank.ROUND)


def cotton(wt: float) -> Bundle:
    return Bundle.of([Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=wt, system=WeightSystem.WT)])


def test_frays_asks_for_more_room_and_snaps_for_less():
    # Common practice: it shreds, larger needle or deeper groove; it snaps clean with a fine thread, smaller needle.
    thick = room_advice(RoomTrouble.FRAYS, cotton(20), NeedleSize(90, 14), Point.QUILTING)
    assert (thick.metric, thick.point, thick.plausible) == (100, Point.TOPSTITCH, Plausible.LIKELY)
    roomy = room_advice(RoomTrouble.FRAYS, cotton(90), NeedleSize(100, 16), Point.TOPSTITCH)
    assert roomy.plausible is Plausible.UNLIKELY
    fine = room_advice(RoomTrouble.SNAPS, cotton(100), NeedleSize(140, 22), Point.TOPSTITCH)
    assert (fine.metric, fine.plausible) == (130, Plausible.LIKELY)
    full = room_advice(RoomTrouble.SNAPS, cotton(35), NeedleSize(100, 16), Point.TOPSTITCH)
    assert full.plausible is Plausible.UNLIKELY
    clear = Thread(fiber=Fiber.POLYESTER, construction=Construction.MONOFILAMENT, value=11, system=WeightSystem.TEX)
    big_eye = room_advice(RoomTrouble.SNAPS, Bundle.of([clear]), NeedleSize(110, 18), Point.TOPSTITCH)
    assert big_eye.plausible is not Plausible.LIKELY, "clear thread has no play to speak of"


def test_a_needle_that_lasts_costs_what_it_lasts_and_few_say_little():
    good = own_life([NeedleSpan(124, False)] * 6)
    cost = cost_per_hour(0.9, STEEL, good)
    assert cost.life_hours == good.low_hours > 100
    assert "744 h with no trouble" in cost.why
    assert "Too few to say more" in own_life_words(good)
    assert own_life_words(own_life([NeedleSpan(10, True)])).endswith("too few to say.")
    assert own_life_words(own_life([NeedleSpan(10, True)] * 3)).startswith("3 needles, 30 h, trouble after 10.0 h")


def test_a_coated_needle_has_one_life_by_each_school():
    # Handbook 3.5: 30 to 72 hours, and what an hour costs goes by the least.
    for school, hours in ((LifeSchool.COATED, 72), (LifeSchool.HOURS, 30), (LifeSchool.POINT, 72)):
        assert needle_life(school, COATED, 1, 1).life_hours == hours
        assert cost_per_hour(3.6, COATED, None, school).life_hours == 30
    assert "let its sound decide" in needle_life(LifeSchool.COATED, COATED, 31, 1).text


@pytest.mark.parametrize(
    ("point", "longarm", "dense", "due_at"),
    [
        (Point.SHARP, False, False, 4.8),
        (Point.SHARP, True, True, 3.0),
        (Point.TOPSTITCH, False, True, 6.0),
        (Point.UNIVERSAL, False, False, 6.0),
        (Point.BALLPOINT, False, False, 6.0),
        (Point.BALLPOINT, True, False, None),
    ],
)
def test_by_its_point_a_sharp_is_due_first_and_a_longarm_ballpoint_by_condition(point, longarm, dense, due_at):
    """Handbook 15.3 (estimates): sharp 0.8 of the hours, 0.5 in batik, longarm ballpoint by condition."""
    wears = PointInUse(point=point, longarm=longarm, dense=dense)
    life = needle_life(LifeSchool.POINT, NeedleFinish.STEEL, 4, 1, wears=wears)
    assert life.life_hours == (due_at and pytest.approx(due_at))
    assert (life.due is Due.BY_CONDITION) is (due_at is None)
    # The other schools ask nothing of the point.
    assert needle_life(LifeSchool.HOURS, NeedleFinish.STEEL, 4, 1, wears=wears).life_hours == 6


@pytest.mark.parametrize("due_h", [3.0, 4.8, 6.0, 30.0])
def test_a_change_pays_where_the_trouble_ahead_costs_more_minutes_than_the_change(due_h):
    # SciPy's Weibull law, at the scale at which a change pays at the usual hour on a usual quilt: 3 of 6.5 minutes.
    def trouble_ahead(hours: float, scale: float) -> float:
        wears = weibull_min(3, scale=scale)
        return 1 - wears.sf(hours + 2) / wears.sf(hours)

    scale = brentq(lambda s: 6.5 * trouble_ahead(due_h, s) - 3, due_h / 4, 40 * due_h)
    for care, minutes in ((Care.MATTERS, 15), (Care.USUAL, 6.5), (Care.SCRAP, 4)):
        at = change_pays_at(due_h, care)
        assert minutes * trouble_ahead(at, scale) == pytest.approx(3, rel=1e-4)


def test_what_hangs_on_a_quilt_moves_the_hour_of_the_change():
    lives = {care: needle_life(LifeSchool.HOURS, STEEL, 5, 1, care=care) for care in Care}
    assert lives[Care.MATTERS].due is Due.OVERDUE
    assert lives[Care.MATTERS].text.endswith("This quilt matters, so the needle is changed sooner.")
    assert lives[Care.USUAL].due is Due.NEARLY
    assert lives[Care.SCRAP].due is Due.FRESH
    assert needle_life(LifeSchool.CONDITION, STEEL, 5, 1, care=Care.MATTERS).due is Due.BY_CONDITION


def test_like_is_compared_with_like():
    kind = NeedleKind.of(STEEL, Point.BALLPOINT, 100)
    assert kind == NeedleKind.of(STEEL, Point.BALLPOINT, 90)
    assert kind.words == "steel ballpoint, middle sizes"
    assert NeedleKind.of(STEEL, Point.BALLPOINT, 110).sizes is SizeClass.LARGE
    assert NeedleKind.of(COATED, Point.BALLPOINT, 100) != kind != NeedleKind.of(STEEL, Point.TOPSTITCH, 100)
