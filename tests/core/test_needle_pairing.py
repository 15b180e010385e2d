"""Needle pairs, the groove, and both schools' charts."""

import csv
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Loft, Sandwich, Weave
from weftonos.core.kernel.schools import MachineKind, School, Schools
from weftonos.core.kernel.standing import Standing
from weftonos.core.needle.groove_fit import FitState, fit_state, nominal_fill
from weftonos.core.needle.needle import ALL_SIZES, POINTS, SIZE_PAIRS, NeedleSize, Point, is_made
from weftonos.core.needle.pairing import SIZES_IN_USE, pair_needle, step_size
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread

VALUES = Path(__file__).parent.parent / "check_values"


def rows(name: str) -> list[dict[str, str]]:
    lines = (VALUES / name).read_text(encoding="utf-8").splitlines()
    return list(csv.DictReader(line for line in lines if not line.startswith("#")))


def thread(fiber=Fiber.COTTON, construction=Construction.SPUN, wt=40.0) -> Thread:
    return Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)


def paired(*threads: Thread, kind=MachineKind.HOME, school=School.HOME, **more):
    return pair_needle(kind, school, Bundle.of(threads), **more)


def test_the_pairs_are_those_of_the_table_with_their_standing():
    expected = {int(r["metric"]): (int(r["american"]), r["standing"]) for r in rows("needle_pairs.csv")}
    letters = {Standing.COMMON_PRACTICE: "P", Standing.MEMORY: "M"}
    assert {m: (a, letters[s]) for m, (a, s) in SIZE_PAIRS.items()} == expected


@given(st.integers(0, 200), st.integers(0, 40))
def test_only_the_fixed_pairs_are_sizes(metric, american):
    if SIZE_PAIRS.get(metric, (None,))[0] == american:
        assert str(NeedleSize(metric, american)) == f"{metric}/{american}"
    else:
        with pytest.raises(CraftError, match="is not a needle size"):
            NeedleSize(metric, american)


def test_a_mixed_up_pair_is_explained():
    with pytest.raises(CraftError) as caught:
        NeedleSize(80, 16)
    assert str(caught.value) == "80/16 is not a needle size: 80 pairs with 12, 100 with 16."


def test_both_schools_charts_are_reproduced_to_the_neighbor():
    """Every row of the charts (common practice) is met exactly or by the neighboring size."""
    exact = 0
    chart = rows("needle_charts.csv")
    for row in chart:
        kind, school = MachineKind(row["school"]), School(row["school"])
        one = thread(Fiber(row["fiber"]), Construction(row["construction"]), float(row["thread_weight_wt"]))
        size = paired(one, kind=kind, school=school).recommended.size
        low, high = (NeedleSize.of_american(int(row[k])) for k in ("american_low", "american_high"))
        exact += low <= size <= high
        assert step_size(low, -1) <= size <= step_size(high, 1), (row, str(size))
    print(f"needle charts: {exact} of {len(chart)} rows exact, the others the neighbor")
    assert exact >= 0.75 * len(chart)


def test_three_threads_together_take_the_largest_longarm_needle():
    # Common practice: 30, 40 and 50 wt cotton together in a 125/20.
    answer = paired(thread(wt=30), thread(wt=40), thread(wt=50), kind=MachineKind.LONGARM, school=School.LONGARM)
    assert answer.recommended.size == NeedleSize(125, 20)
    assert answer.recommended.point is Point.TOPSTITCH
    assert answer.recommended.state is FitState.RIDES


def test_monofilament_divides_people_and_both_sides_are_shown():
    clear = Thread(fiber=Fiber.POLYESTER, construction=Construction.MONOFILAMENT, value=11, system=WeightSystem.TEX)
    home = paired(clear)
    assert home.recommended.size == NeedleSize(70, 10)
    others = {(c.metric, c.american) for c in home.alternatives}
    assert {(90, 14), (100, 16)} <= others, "no topstitch is sold larger for such a head"
    longarm = paired(clear, kind=MachineKind.LONGARM, school=School.LONGARM)
    assert longarm.recommended.size == NeedleSize(110, 18)
    assert len({c.why for c in home.school_picks}) == 2


def test_metallic_takes_a_large_eye():
    gold = Thread(fiber=Fiber.METALLIC, construction=Construction.METALLIC, value=40, system=WeightSystem.WT)
    best = paired(gold).recommended
    assert (best.size, best.point) == (NeedleSize(90, 14), Point.METALLIC)


def test_a_thread_above_a_hundred_tex_is_not_for_a_needle():
    kelp = paired(thread(wt=8))
    assert not kelp.through_a_needle
    assert any(r.rule == "too_heavy_for_a_needle" for r in kelp.reasons)
    assert paired(thread(wt=12)).through_a_needle  # about the heaviest that goes through a needle


@pytest.mark.parametrize(
    "sandwich",
    [Sandwich(loft=Loft.LOFTY), Sandwich(weave=Weave.CANVAS), Sandwich(adhesive=True)],
)
def test_a_heavy_sandwich_goes_one_size_up_and_says_why(sandwich):
    plain, heavy = paired(thread()), paired(thread(), sandwich=sandwich)
    assert heavy.recommended.size == step_size(plain.recommended.size, 1)
    assert any(r.rule == "sandwich_size_up" and sandwich.heavy_because in r.text for r in heavy.reasons)


def test_the_bobbin_thread_is_weighed_against_the_top():
    finer = paired(thread(wt=40), bobbin=thread(wt=80))
    thicker = paired(thread(wt=60), bobbin=thread(wt=30))
    equal = paired(thread(wt=50), bobbin=thread(wt=50))
    rules = [{r.rule for r in p.reasons} for p in (finer, thicker, equal)]
    assert "bobbin_finer" in rules[0]
    assert "bobbin_not_thicker" in rules[1]
    assert "bobbin_equal" in rules[2]


@given(st.floats(0.05, 0.6), st.sampled_from(list(Point)))
def test_a_larger_needle_never_rubs_more(diameter, point):
    order = [FitState.RUBS, FitState.TIGHT, FitState.RIDES, FitState.SLACK]
    states = [order.index(fit_state(nominal_fill(diameter, size), point)) for size in ALL_SIZES]
    assert states == sorted(states)


def test_the_states_change_where_common_practice_says():
    for point, limit in {Point.QUILTING: 0.62, Point.EMBROIDERY: 0.75, Point.TOPSTITCH: 0.95}.items():
        assert POINTS[point].limit.value == limit
        assert fit_state(limit + 0.001, point) is FitState.RUBS
        assert fit_state(limit - 0.001, point) is FitState.TIGHT
        assert fit_state(0.27, point) is FitState.RIDES
        assert fit_state(0.269, point) is FitState.SLACK


@given(
    st.sampled_from(list(Fiber)),
    st.sampled_from(list(Construction)),
    st.floats(5, 150),
    st.sampled_from(list(MachineKind)),
    st.sampled_from(list(School)),
)
def test_every_thread_gets_a_needle_with_reasons_and_the_power_caution(fiber, construction, tex, kind, school):
    one = Thread(fiber=fiber, construction=construction, value=tex, system=WeightSystem.TEX)
    answer = paired(one, kind=kind, school=school)
    assert len(answer.sizes) == len(ALL_SIZES)
    assert answer.reasons
    assert any("Switch the machine off" in c.text for c in answer.cautions)
    assert {(c.metric, c.point) for c in answer.alternatives}.isdisjoint(
        {(answer.recommended.metric, answer.recommended.point)}
    )


def test_large_needles_ask_for_eye_protection():
    heavy = paired(thread(wt=12), kind=MachineKind.LONGARM, school=School.LONGARM)
    assert any("eye protection" in c.text for c in heavy.cautions)


def test_the_page_that_compares_model_and_charts_is_fresh():
    import needle_table

    assert needle_table.TARGET.read_text(encoding="utf-8") == needle_table.table(), "run scripts/needle_table.py"


@pytest.mark.parametrize("kind", MachineKind)
@pytest.mark.parametrize("weave", Weave)
@pytest.mark.parametrize("loft", Loft)
@pytest.mark.parametrize("wt", [100, 60, 50, 40, 30, 19, 12])
@pytest.mark.parametrize("fiber", [Fiber.COTTON, Fiber.POLYESTER, Fiber.RAYON])
def test_no_needle_is_advised_that_nobody_sells_or_the_head_does_not_use(kind, weave, loft, wt, fiber):
    """Handbook 15.2 (from memory: packets differ) and the sizes in use of 3.1."""
    construction = Construction.SPUN if fiber is Fiber.COTTON else Construction.MULTIFILAMENT
    cloth = Sandwich(weave=weave, loft=loft)
    answer = paired(thread(fiber, construction, wt), kind=kind, school=School(kind.value), sandwich=cloth)
    smallest, largest = SIZES_IN_USE[kind]
    for choice in (answer.recommended, *answer.alternatives):
        assert is_made(kind, choice.size, choice.point), choice
        assert choice.state is not FitState.RUBS
        assert smallest <= choice.size <= largest


def test_twelve_weight_at_home_is_a_topstitch_as_sold_with_what_others_sew_beside_it():
    """Handbook 12.2 and 13: 90/14 topstitch to 100/16, or a 100/16 universal; never larger over batik."""
    for weave in (Weave.ORDINARY, Weave.BATIK):
        answer = paired(thread(Fiber.COTTON, Construction.SPUN, 12), sandwich=Sandwich(weave=weave))
        assert (answer.recommended.size, answer.recommended.point) == (NeedleSize(100, 16), Point.TOPSTITCH)
        others = {(str(c.size), c.point) for c in answer.alternatives}
        assert {("90/14", Point.TOPSTITCH), ("100/16", Point.UNIVERSAL)} <= others
    assert any("isn't sold that large" in reason.text for reason in paired(thread(wt=12)).reasons)


def test_thirty_weight_at_home_takes_a_hundred():
    answer = paired(thread(Fiber.COTTON, Construction.SPUN, 30))
    assert NeedleSize(100, 16) in {answer.recommended.size, *(c.size for c in answer.alternatives)}
    assert answer.recommended.size == NeedleSize(100, 16)


def test_batik_on_a_longarm_takes_a_sharp_by_the_thread_with_the_ballpoint_beside_it():
    answer = paired(
        thread(Fiber.COTTON, Construction.SPUN, 40),
        kind=MachineKind.LONGARM,
        school=School.LONGARM,
        sandwich=Sandwich(weave=Weave.BATIK),
    )
    plain = paired(thread(Fiber.COTTON, Construction.SPUN, 40), kind=MachineKind.LONGARM, school=School.LONGARM)
    assert (answer.recommended.size, answer.recommended.point) == (plain.recommended.size, Point.SHARP)
    assert any(c.point is Point.BALLPOINT for c in answer.alternatives)


@pytest.mark.parametrize("weave", [Weave.KNIT, Weave.FRAGILE])
@pytest.mark.parametrize(("kind", "school"), [(MachineKind.HOME, School.HOME), (MachineKind.LONGARM, School.LONGARM)])
def test_a_knit_and_fragile_fabric_take_a_ballpoint_of_the_thread_s_size(weave, kind, school):
    """Handbook 15: knits and fragile fabrics take a ballpoint."""
    cotton, cloth = thread(Fiber.COTTON, Construction.SPUN, 50), Sandwich(weave=weave)
    plain = paired(cotton, kind=kind, school=school)
    answer = paired(cotton, kind=kind, school=school, sandwich=cloth)
    assert (answer.recommended.size, answer.recommended.point) == (plain.recommended.size, Point.BALLPOINT)
    assert any(reason.rule == "ballpoint_parts" for reason in answer.reasons)
    assert not any(reason.rule == "sandwich_size_up" for reason in answer.reasons)
    # A thread with a point of its own has it over any fabric.
    gold = thread(Fiber.METALLIC, Construction.METALLIC, 40)
    assert paired(gold, kind=kind, school=school, sandwich=cloth).recommended.point is Point.METALLIC


def test_metallic_takes_a_metallic_point_or_a_topstitch_by_choice():
    gold = thread(Fiber.METALLIC, Construction.METALLIC, 40)
    topstitch = Schools(MachineKind.HOME, {"metallic_point": "topstitch"})
    assert paired(gold).recommended.point is Point.METALLIC
    chosen = paired(gold, schools=topstitch).recommended
    assert (chosen.size, chosen.point) == (NeedleSize(90, 14), Point.TOPSTITCH)


def test_one_layer_asks_for_stabilizer_and_heavy_thread_for_larger_stitches():
    twelve = thread(Fiber.COTTON, Construction.SPUN, 12)
    said = {r.rule: r.text for r in paired(twelve, sandwich=Sandwich(layers=1)).reasons}
    assert said["stabilizer"].endswith("Where stitches lie tight, make them longer and wider.")
    thirty = {r.rule: r.text for r in paired(thread(wt=30), sandwich=Sandwich(layers=1)).reasons}
    assert thirty["stabilizer"] == "One layer alone puckers: put stabilizer under it."
    fine = {r.rule: r.text for r in paired(thread(wt=60), sandwich=Sandwich(layers=1)).reasons}
    assert fine["stabilizer"] == "One layer alone puckers: put stabilizer under it."
    assert "stabilizer" not in {r.rule for r in paired(twelve).reasons}
