"""The balance estimate against independent references, and what it must never say."""

import itertools
import math
from statistics import NormalDist

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy import integrate, optimize
from scipy.special import expit

from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.guard_rail import RailKind, guard_rails
from weftonos.core.balance.ladder import LadderPlan, plan_ladder
from weftonos.core.balance.lock_depth import lock_depth
from weftonos.core.balance.looks import BALANCED_ONLY, Observation, by_eye, nothing_between
from weftonos.core.balance.posterior import STEEPNESS, BalancePrior, grade_probabilities
from weftonos.core.balance.sense import makes_sense
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.setup.setup import Setup

DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)
READOUT = TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5)
TURNS = TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25)
PRIOR = BalancePrior(4, 1.5)
LOOKS = [Observation(2, 2), Observation(4, 1), Observation(5, 0), Observation(7, -1)]


NORMAL = NormalDist(PRIOR.center, PRIOR.spread)
#: The balance may lie beyond the dial by three of its numbers.
LOW, HIGH = -3, 13
WITHIN = NORMAL.cdf(HIGH) - NORMAL.cdf(LOW)


def expected(c: float) -> float:
    """The robust expectation: normal for 85 parts in 100, anywhere on the scale or beyond for the rest."""
    return 0.85 * NORMAL.pdf(c) / WITHIN + 0.15 / (HIGH - LOW)


def logistic_grades(setting: float, center: float, steepness: float) -> list[float]:
    """P(-2 … 2) from SciPy's logistic function: the latent is -s(x - c), the cuts are ±1 and ±3."""
    latent = -steepness * (setting - center)
    edges = [0, *(float(expit(cut - latent)) for cut in (-3, -1, 1, 3)), 1]
    return [b - a for a, b in itertools.pairwise(edges)]


@given(st.floats(0, 10), st.floats(0, 10), st.floats(0.3, 5))
def test_grades_have_the_probabilities_of_a_cumulative_logit(x, c, s):
    assert grade_probabilities(x, c, s) == pytest.approx(logistic_grades(x, c, s), abs=1e-12)


@pytest.mark.parametrize("looks", [LOOKS[:1], LOOKS[:2], LOOKS, [*LOOKS, Observation(4.5, 0), Observation(5.5, -2)]])
def test_the_posterior_agrees_with_scipy_s_quadrature(looks):
    """Prior times likelihood integrated over c by SciPy, summed over the steepness grid."""

    def joint(c: float) -> float:
        total = 0.0
        for s in STEEPNESS:
            total += math.prod(logistic_grades(o.setting, c, s.value)[o.grade + 2] for o in looks)
        return total * expected(c)

    whole = integrate.quad(joint, LOW, HIGH, limit=400)[0]
    mean = integrate.quad(lambda c: c * joint(c), LOW, HIGH, limit=400)[0] / whole
    found = estimate_balance(DIAL, PRIOR, looks)
    assert found.center == pytest.approx(mean, abs=0.01)
    # What lies beyond the dial counts as its end.
    low, high = (LOW if found.low == 0 else found.low), (HIGH if found.high == 10 else found.high)
    inside = integrate.quad(joint, low, high, limit=200)[0] / whole
    # Between 0.95 and, where an end of the dial stands for all beyond it, whatever lies there as well.
    assert 0.93 <= inside <= (0.97 if found.low > 0 and found.high < 10 else 0.99)
    good = sum(
        integrate.quad(
            lambda c, s=s: (
                (abs(s.value * (looks[-1].setting - c)) <= 1)
                * math.prod(logistic_grades(o.setting, c, s.value)[o.grade + 2] for o in looks)
                * expected(c)
            ),
            max(LOW, looks[-1].setting - 1 / s.value),
            min(HIGH, looks[-1].setting + 1 / s.value),
        )[0]
        for s in STEEPNESS
    )
    assert found.good_enough_probability == pytest.approx(good / whole, abs=0.02)


def test_with_much_evidence_it_agrees_with_maximum_likelihood():
    chance = np.random.default_rng(2)
    looks = []
    for x in np.repeat(np.arange(1.0, 8.0), 8):
        p = logistic_grades(x, 4.3, 1.5)
        looks.append(Observation(float(x), int(chance.choice(5, p=np.array(p) / sum(p))) - 2))

    def against(v):
        return -sum(math.log(logistic_grades(o.setting, v[0], math.exp(v[1]))[o.grade + 2]) for o in looks)

    best = optimize.minimize(against, [5, 0], method="Nelder-Mead").x
    found = estimate_balance(DIAL, None, looks)
    assert found.center == pytest.approx(best[0], abs=0.1)
    assert found.low < 4.3 < found.high
    assert found.high - found.low < 1


def random_looks(chance: np.random.Generator, honest: bool) -> list[Observation]:
    """A test strip in any order: of one balance, on the scale or beyond, or of grades that follow nothing."""
    center, looks = float(chance.uniform(-2, 12)), []
    for _ in range(int(chance.integers(1, 9))):
        x = DIAL.snap(float(chance.uniform(0, 10)))
        grade = int(np.clip(round((center - x) / 1.2), -2, 2)) if honest else int(chance.integers(-2, 3))
        looks.append(Observation(x, grade, bool(chance.random() < 0.1)))
    return looks


@pytest.mark.parametrize("honest", [True, False])
def test_no_step_is_asked_past_one_that_was_seen_wrong_on_that_side(honest):
    chance = np.random.default_rng(31)
    contradictions = 0
    for _ in range(400):
        looks = random_looks(chance, honest)
        found = estimate_balance(DIAL, PRIOR if chance.random() < 0.5 else None, looks)
        sure = [o for o in looks if not o.doubtful]
        loose = max((o.setting for o in sure if o.grade > 0), default=-1)
        tight = min((o.setting for o in sure if o.grade < 0), default=11)
        if found.again is not None:
            contradictions += 1
            assert found.again in {o.setting for o in looks}
        elif found.beyond == "low":
            assert (tight, found.next_setting, found.sure, found.act_at) == (0, None, False, 0)
        elif found.beyond == "high":
            assert (loose, found.next_setting, found.sure, found.act_at) == (10, None, False, 10)
        elif tight - loose > 1.5 * DIAL.step:
            assert loose < found.act_at < tight
        else:
            assert found.act_at in (loose, tight), "no step lies between"
    assert (contradictions == 0) is honest


@pytest.mark.parametrize(
    ("scale", "looks", "beyond"),
    [
        (DIAL, [(1, -1), (0.5, -1), (0, -1)], "low"),
        (DIAL, [(3, -2), (2, -2), (1, -1), (0, -1)], "low"),
        (DIAL, [(9, 1), (10, 1)], "high"),
        (READOUT, [(170, -2), (120, -2), (80, -1)], "low"),
        (TURNS, [(2, 1), (4, 2)], "high"),
        (DIAL, [(1, -1)], None),
        (DIAL, [(0, -1), (0, 0), (0, 1)], None),
    ],
)
def test_at_the_end_of_the_scale_it_is_never_said_to_leave_it(scale, looks, beyond):
    found = estimate_balance(scale, None, [Observation(x, g) for x, g in looks])
    assert found.beyond == beyond
    assert found.makes_sense, "nothing could be more consistent"
    if beyond:
        end, is_so = (scale.low, "too tight") if beyond == "low" else (scale.high, "too loose")
        assert found.action == f"Even {scale.place(end)} the top is {is_so}"
        assert not found.sure
        assert found.next_setting is None
        assert found.beyond_by > 0


@pytest.mark.parametrize("scale", [DIAL, READOUT, TURNS])
@pytest.mark.parametrize("looks", [[], [Observation(0.0, 0)], [Observation(0.0, -2)] * 5])
def test_there_is_never_a_number_without_its_interval(scale, looks):
    placed = [Observation(scale.snap((scale.low + scale.high) / 2), o.grade) for o in looks]
    found = estimate_balance(scale, None, placed)
    assert scale.low <= found.low <= found.center <= found.high <= scale.high
    assert scale.low <= found.next_setting <= scale.high
    assert 0 <= found.good_enough_probability <= 1
    assert bool(found.reasons) is bool(looks)
    if not looks:
        assert found.high - found.low > 0.9 * scale.span


def test_a_ladder_all_alike_is_answered_wide_and_one_sided():
    found = estimate_balance(DIAL, None, [Observation(float(x), -2) for x in range(4, 9)])
    assert found.high < 5
    assert found.high - found.low > 1.5
    assert any(r.rule == "one_sided" and "lower" in r.text for r in found.reasons)


def test_doubt_widens_the_answer():
    sure = estimate_balance(DIAL, None, [Observation(3, 1), Observation(6, -1)])
    doubtful = estimate_balance(DIAL, None, [Observation(3, 1, True), Observation(6, -1, True)])
    assert doubtful.spread > sure.spread


def honest_ladder(center: float, steepness: float, seed: int) -> list[Observation]:
    chance = np.random.default_rng(seed)
    chances = [np.array(logistic_grades(x, center, steepness)) for x in range(11)]
    return [Observation(float(x), int(chance.choice(5, p=p / p.sum())) - 2) for x, p in enumerate(chances)]


@pytest.mark.parametrize("steepness", [1.0, 1.5, 2.2])
def test_an_honest_ladder_finds_the_center(steepness):
    """19 times in 20, and never far off: 200 ladders for each width of the zone."""
    centers = [1.5 + 7 * n / 199 for n in range(200)]
    found = [estimate_balance(DIAL, None, honest_ladder(c, steepness, n)) for n, c in enumerate(centers)]
    within = [each.low <= center <= each.high for each, center in zip(found, centers, strict=True)]
    assert sum(within) / 200 >= 0.9
    assert max(abs(each.center - center) for each, center in zip(found, centers, strict=True)) < 3


@pytest.mark.parametrize("steepness", [1.0, 1.5, 2.2])
def test_an_honest_ladder_is_hardly_ever_called_nonsense(steepness):
    ladders = [honest_ladder(1.5 + 7 * n / 99, steepness, n) for n in range(100)]
    assert sum(not makes_sense(DIAL, looks) for looks in ladders) <= 3


def test_grades_that_jump_about_are_recognized():
    chance = np.random.default_rng(1)
    caught = honest = 0
    for _ in range(200):
        grades = chance.integers(-2, 3, 11)
        caught += not makes_sense(DIAL, [Observation(float(x), int(g)) for x, g in enumerate(grades)])
        p = [np.array(logistic_grades(x, 5, 1.0)) for x in range(11)]
        fair = [Observation(float(x), int(chance.choice(5, p=q / q.sum())) - 2) for x, q in enumerate(p)]
        honest += not makes_sense(DIAL, fair)
    assert caught >= 170
    assert honest <= 4
    jumping = [Observation(float(x), g) for x, g in enumerate([-2, 2, -1, 2, -2, 1, 2])]
    found = estimate_balance(DIAL, PRIOR, jumping)
    assert not found.makes_sense
    assert "bobbin" in found.text
    assert makes_sense(DIAL, [Observation(1, -2), Observation(5, 2)])  # too few to judge


@pytest.mark.parametrize(
    "bad",
    [
        lambda: estimate_balance(DIAL, None, [Observation(11, 0)]),
        lambda: Observation(5, 3),
        lambda: BalancePrior(4, 0),
        lambda: BalancePrior(math.nan, 1),
        lambda: BalancePrior(4, math.inf),
        lambda: TopScale(kind=ScaleKind.DIAL, low=10, high=0, step=1),
        lambda: estimate_balance(DIAL, None, [Observation(5, 0)] * 61),
    ],
)
def test_what_cannot_be_estimated_is_refused(bad):
    with pytest.raises(CraftError):
        bad()


def test_four_chosen_steps_beat_eleven_by_eye_in_a_small_simulation():
    """The large one, with both sets of quilters, is `make bench`."""
    chance = np.random.default_rng(5)
    eye, chosen, inside = [], [], []
    for _ in range(120):
        center = float(np.clip(chance.normal(4, 1.5), 0, 10))
        steepness = float(chance.choice([s.value for s in STEEPNESS]))

        def grade(x, c=center, s=steepness):
            p = np.array(logistic_grades(x, c, s))
            return int(chance.choice(5, p=p / p.sum())) - 2

        eye.append(abs(by_eye([(x, grade(x)) for x in range(11)]) - center))
        looks: list[Observation] = []
        for _ in range(4):
            following = estimate_balance(DIAL, PRIOR, looks).next_setting
            looks.append(Observation(following, grade(following)))
        found = estimate_balance(DIAL, PRIOR, looks)
        chosen.append(abs(found.center - center))
        inside.append(found.low <= center <= found.high)
    assert np.median(chosen) < np.median(eye)
    assert np.mean(inside) > 0.88


def test_the_eye_takes_the_middle_between_two_good_steps():
    assert by_eye([(3, 1), (4, 0), (5, 0), (6, -1)]) == 4.5


def test_a_full_ladder_has_eleven_marks_and_a_half_one_six():
    full = plan_ladder(LadderPlan.FULL, DIAL, 4, 4.5, thread_is_light=False)
    assert full.settings == tuple(range(11))
    assert "light half" in full.cloth
    half = plan_ladder(LadderPlan.HALF, READOUT, 205, 210, thread_is_light=True)
    assert len(half.settings) == 6
    assert half.settings[0] < 205 < half.settings[-1]
    assert "dark half" in half.cloth
    assert plan_ladder(plan=LadderPlan.FEWEST, scale=TURNS, center=0, following=0.5, thread_is_light=False).words == (
        "½ turn in",
    )
    edge = plan_ladder(plan=LadderPlan.HALF, scale=DIAL, center=9.8, following=9, thread_is_light=False)
    assert max(edge.settings) == 10


@pytest.mark.parametrize(("low", "high", "step"), [(-4, 4, 0.25), (-2, 2, 0.25), (-3, 5, 0.125), (-6, 6, 0.5)])
@pytest.mark.parametrize("plan", [LadderPlan.FULL, LadderPlan.HALF])
@pytest.mark.parametrize("center", [-1.9, -0.3, 0, 0.4, 1.7])
def test_on_an_unnumbered_knob_the_steps_are_even_and_pass_through_the_mark(low, high, step, plan, center):
    scale = TopScale(kind=ScaleKind.TURNS, low=low, high=high, step=step)
    laid = plan_ladder(plan, scale, center, center, thread_is_light=None).settings
    apart = {round(b - a, 6) for a, b in itertools.pairwise(laid)}
    assert len(apart) == 1 and len(laid) >= 5
    assert low <= min(laid) and max(laid) <= high
    turns = apart.pop()
    assert all(setting / turns == pytest.approx(round(setting / turns)) for setting in laid)
    if plan is LadderPlan.FULL:
        assert 0 in laid and max(laid) - min(laid) >= 0.8 * (high - low)


@given(st.floats(0, 10), st.floats(0, 10), st.floats(0.5, 3))
def test_a_tighter_top_draws_the_lock_to_the_front(a, b, steepness):
    tighter, looser = max(a, b), min(a, b)
    assert lock_depth(tighter, 5, steepness).depth <= lock_depth(looser, 5, steepness).depth
    assert lock_depth(5, 5, steepness).grade == 0
    assert lock_depth(10, 5, 3).grade == -2


CLOTH = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)


def ladder(*steps: tuple[float, int]) -> list[Observation]:
    return [Observation(setting, grade) for setting, grade in steps]


@pytest.mark.parametrize(
    ("prior", "looks", "from_", "to"),
    [
        (BalancePrior(3, 1.4), ladder((5, 1), (6, 1), (7, 1), (8, 0), (9, 0), (10, -1)), 8, 9),
        (BalancePrior(3, 1.4), ladder((5, 1), (6, 1), (7, 1), (8, 0), (9, 0), (10, 0)), 8, 9.5),
        (BalancePrior(9, 0.5), ladder((4, 1), (5, 0), (6, 0), (7, -1)), 5, 6),
        (BalancePrior(9, 0.3), ladder((2, 1), (3, 0), (4, -1)), 2.5, 3.5),
    ],
)
def test_however_sure_the_expectation_was_the_cloth_has_the_last_word(prior, looks, from_, to):
    found = estimate_balance(CLOTH, prior, looks)
    assert from_ <= found.set_to <= to
    assert found.low <= found.by_eye <= found.high
    for look in looks:
        if look.grade == 0:
            assert found.low - 0.25 <= look.setting <= found.high + 0.25, "a good step lies within"


@given(
    st.lists(st.tuples(st.integers(0, 20), st.integers(-2, 2)), min_size=1, max_size=8),
    st.floats(0, 10),
    st.floats(0.3, 3),
)
@example([(0, 1), (2, -1)], 0.0, 0.3125)
@settings(max_examples=60)
def test_no_setting_beyond_a_step_graded_wrong_is_proposed_unless_the_looks_contradict_each_other(
    steps, center, spread
):
    looks = [Observation(half / 2, grade) for half, grade in steps]
    found = estimate_balance(CLOTH, BalancePrior(center, spread), looks)
    loose = [look.setting for look in looks if look.grade > 0]
    tight = [look.setting for look in looks if look.grade < 0]
    if loose and tight and max(loose) >= min(tight):
        assert found.again in {max(loose), min(tight)}
        assert found.next_setting == found.again
        assert found.action == f"Stitch {CLOTH.words(found.again)} again"
        assert not found.sure
        assert any(r.rule == "looks_contradict" for r in found.reasons)
    elif any(
        not ({x} & {*loose, *tight}) for x in np.arange(max(loose, default=-0.5) + 0.5, min(tight, default=10.5), 0.5)
    ):
        assert max(loose, default=-1) < found.set_to < min(tight, default=11)
        assert found.again is None


def test_between_two_steps_with_none_between_the_less_wrong_one_is_set_and_no_more_lines_are_asked_for():
    looks = [Observation(4.25, 1), Observation(5, -2), Observation(4.5, -1)]
    assert nothing_between(DIAL, looks, BALANCED_ONLY) is None, "one more line may tell"
    looks.append(Observation(4.5, -2))
    for grade in (-1, -2, -1):
        # However often the other side is stitched: it was set there again and again, too tight each time.
        assert estimate_balance(DIAL, None, looks).set_to == 4.25
        assert nothing_between(DIAL, looks, BALANCED_ONLY) == 4.25
        looks.append(Observation(4.5, grade))
    assert nothing_between(DIAL, [Observation(4, 1), *looks[1:]], BALANCED_ONLY) is None, "4.25 lies between"


def test_the_action_comes_first_and_stops_when_it_is_sure():
    assert estimate_balance(CLOTH, BalancePrior(3, 1), []).action == "Set 3.0 and stitch a hand's length"
    unsure = estimate_balance(CLOTH, BalancePrior(3, 1.4), ladder((3, 1)))
    assert unsure.action == f"Set {CLOTH.words(unsure.next_setting)} and stitch a hand's length"
    assert not unsure.sure
    narrowed = ladder((4, 1), (5, 0), (6, -1)) * 4
    assert estimate_balance(CLOTH, None, narrowed).action == "Set it and leave it at 5.0"
    assert estimate_balance(CLOTH, None, [*narrowed, Observation(5, 0)]).action == "Leave it at 5.0"


def test_the_eye_s_reading_stands_beside_and_its_difference_is_explained():
    alike = estimate_balance(CLOTH, None, ladder((3, 1), (4, 0), (5, 0), (6, -1)))
    assert (alike.by_eye, alike.eye_says) == (4.5, "")
    other = estimate_balance(CLOTH, None, ladder((2, 2), (3, 1), (4, 0), (7, 0), (8, -2)))
    assert other.by_eye == 5.5
    far = estimate_balance(CLOTH, BalancePrior(3, 1.4), ladder((7, 0), (10, 0)))
    assert far.eye_says.startswith("By eye it is 8.5, the middle of the good steps.")
    assert estimate_balance(CLOTH, None, ladder((3, 1))).by_eye is None


def test_one_look_is_no_ladder_and_a_mark_is_said_once():
    knob = TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25)
    for grade, side in ((1, "higher"), (-1, "lower")):
        says = " ".join(r.text for r in estimate_balance(knob, None, [Observation(0, grade)]).reasons)
        assert "This test line was too" in says
        assert f"The balance lies {side}" in says
        assert "at at" not in says


@pytest.mark.parametrize("scale", [DIAL, READOUT, TURNS])
@pytest.mark.parametrize("doubtful", [False, True])
@pytest.mark.parametrize("before", [0, 6])
def test_a_ladder_read_from_its_other_end_is_called_so_on_every_scale(scale, doubtful, before):
    places = [scale.snap(scale.low + scale.span * n / 5) for n in range(6)]
    middle = scale.snap(scale.low + scale.span / 2)
    earlier = [Observation(middle, 0, doubtful=True)] * before
    backward = [Observation(x, g, doubtful) for x, g in zip(places, (-2, -2, -1, 1, 2, 2), strict=True)]
    found = estimate_balance(scale, None, [*earlier, *backward])
    assert (found.makes_sense, "backward" in found.text) == (False, True)
    assert guard_rails(Setup(), backward, found.makes_sense, has=set())[0].trap is RailKind.BACKWARD
    forward = [Observation(x, -look.grade, doubtful) for x, look in zip(places, backward, strict=True)]
    assert estimate_balance(scale, None, [*earlier, *forward]).makes_sense
