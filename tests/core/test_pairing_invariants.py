"""What must hold for every thread there is: larger, tighter, heavier in the right direction."""

from hypothesis import assume, given
from hypothesis import strategies as st

from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.looks import Observation
from weftonos.core.balance.posterior import BalancePrior
from weftonos.core.bobbin.screw import ScrewTurn, advise_turn, learn_response
from weftonos.core.kernel.sandwich import Loft, Sandwich, Weave
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import BobbinSchool, MachineKind, School
from weftonos.core.needle.bundle_advice import advise_bundle, bobbin_weight
from weftonos.core.needle.groove_fit import FitState
from weftonos.core.needle.needle import Point
from weftonos.core.needle.pairing import pair_needle, thicker_below
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread
from weftonos.core.thread.unlabeled import weigh

ORDINARY = st.sampled_from([Construction.SPUN, Construction.CORE_SPUN, Construction.MULTIFILAMENT])
FIBERS = st.sampled_from([Fiber.COTTON, Fiber.POLYESTER, Fiber.SILK, Fiber.NYLON])
TEX = st.floats(6, 100)
KINDS = st.sampled_from(list(MachineKind))
SCHOOLS = st.sampled_from(list(School))


def thread(fiber: Fiber, construction: Construction, tex: float) -> Thread:
    return Thread(fiber=fiber, construction=construction, value=tex, system=WeightSystem.TEX)


@given(FIBERS, ORDINARY, TEX, TEX, KINDS, SCHOOLS)
def test_a_heavier_thread_never_gets_a_smaller_needle(fiber, construction, a, b, kind, school):
    light, heavy = (
        pair_needle(kind, school, Bundle.of([thread(fiber, construction, t)])).recommended.size for t in sorted((a, b))
    )
    assert light <= heavy


@given(FIBERS, ORDINARY, TEX, KINDS)
def test_the_longarm_school_never_takes_the_smaller_needle(fiber, construction, tex, kind):
    top = Bundle.of([thread(fiber, construction, tex)])
    home, longarm = (pair_needle(kind, s, top).recommended.size for s in (School.HOME, School.LONGARM))
    assert home <= longarm


@given(FIBERS, ORDINARY, TEX, KINDS, SCHOOLS)
def test_one_thread_more_never_makes_the_bundle_thinner(fiber, construction, tex, kind, school):
    one = thread(fiber, construction, tex)
    sizes = [pair_needle(kind, school, Bundle.of([one] * n)) for n in (1, 2, 3, 4)]
    assert [p.diameter_mm for p in sizes] == sorted(p.diameter_mm for p in sizes)
    assert [p.tex for p in sizes] == sorted(p.tex for p in sizes)
    assert [p.recommended.size for p in sizes] == sorted(p.recommended.size for p in sizes)


@given(FIBERS, ORDINARY, st.floats(8, 60), KINDS, SCHOOLS)
def test_the_recommended_needle_lets_an_ordinary_thread_lie(fiber, construction, tex, kind, school):
    best = pair_needle(kind, school, Bundle.of([thread(fiber, construction, tex)])).recommended
    assert best.state is not FitState.RUBS


@given(FIBERS, ORDINARY, TEX, KINDS, SCHOOLS, st.sampled_from(list(Weave)), st.sampled_from(list(Loft)), st.booleans())
def test_a_sandwich_moves_the_needle_by_one_size_at_most(fiber, construction, tex, kind, school, weave, loft, glue):
    top = Bundle.of([thread(fiber, construction, tex)])
    sandwich = Sandwich(weave=weave, loft=loft, adhesive=glue)
    plain = pair_needle(kind, school, top).recommended.size
    laid = pair_needle(kind, school, top, sandwich=sandwich).recommended.size
    assert plain <= laid
    assert (laid > plain) <= bool(sandwich.heavy_because)


@given(FIBERS, ORDINARY, TEX)
def test_more_room_is_offered_up_and_less_down(fiber, construction, tex):
    answer = pair_needle(MachineKind.LONGARM, School.LONGARM, Bundle.of([thread(fiber, construction, tex)]))
    for choice in answer.alternatives:
        if choice.why.startswith("If it frays"):
            assert choice.size > answer.recommended.size
        if choice.why.startswith("If it snaps"):
            assert choice.size < answer.recommended.size
        assert choice.point in Point


@given(FIBERS, ORDINARY, TEX, st.sampled_from(list(BobbinSchool)))
def test_the_bobbin_thread_advised_is_thicker_than_no_top_but_a_very_fine_one(fiber, construction, tex, school):
    top = Bundle.of([thread(fiber, construction, tex)])
    below = bobbin_weight(school, top)
    assert below.finest_wt >= below.heaviest_wt - 1e-9
    assert 1000 / below.heaviest_wt <= max(tex, 17.2) * 1.0001
    advised = thread(fiber, construction, 1000 / below.heaviest_wt)
    assert not thicker_below(top, advised), "no other panel contradicts it"
    assert (
        advise_bundle(kind=MachineKind.HOME, school=School.HOME, bobbin_school=school, top=top, bobbin=None).bobbin
        == below
    )


@given(st.floats(60, 500), st.floats(100, 300), st.lists(st.floats(1, 14), max_size=4), st.floats(0.01, 0.06))
def test_a_turn_goes_the_right_way_and_never_too_far(reading, aim, minutes, rate):
    assume(abs(reading / aim - 1) > 0.02)
    history = [ScrewTurn(m, 150, 150 * 2.718281828 ** (rate * m)) for m in minutes]
    advice = advise_turn(reading, aim, history)
    assert 1 <= advice.minutes <= 15
    assert (advice.expected_mn > reading) == (aim > reading)
    assert advice.expected_low_mn < advice.expected_mn < advice.expected_high_mn
    assert learn_response([*history, ScrewTurn(5, 150, 160)]).spread < learn_response(history).spread


@given(st.lists(st.tuples(st.floats(0, 10), st.integers(-2, 2)), max_size=8), st.floats(1, 9), st.floats(0.3, 4))
def test_an_estimate_stays_on_the_scale_whatever_was_seen(looks, center, spread):
    dial = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)
    found = estimate_balance(dial, BalancePrior(center, spread), [Observation(x, g) for x, g in looks])
    assert 0 <= found.low <= found.center <= found.high <= 10
    assert 0 <= found.set_to <= 10
    if found.beyond is None:
        assert 0 <= found.next_setting <= 10
        assert found.next_gain <= found.spread + 1e-6
    assert 0 <= found.act_at <= 10
    assert 0 <= found.good_enough_probability <= 1 + 1e-9


@given(st.floats(10, 90), st.floats(5, 200), st.sampled_from([0.01, 0.1, 0.5]))
def test_a_longer_length_is_weighed_more_exactly(tex, meters, step):
    kind = (Fiber.COTTON, Construction.SPUN)
    short = weigh(tex * meters / 1000, meters, step, *kind)
    long = weigh(tex * meters * 4 / 1000, meters * 4, step, *kind)
    assert (long.tex_high - long.tex_low) <= (short.tex_high - short.tex_low) + 1e-9
    assert short.tex_low < tex < short.tex_high
