"""No station convicts what another advised: a seeded part of the sweep, and the pages of threads and schools."""

from __future__ import annotations

from dataclasses import replace

import pytest
from sweep import IN_USE, RULES, Advised, SetUp, made, set_ups, sweep

from weftonos.core.bobbin.purpose import Purpose
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.kernel.sandwich import Sandwich, Weave
from weftonos.core.kernel.schools import (
    BobbinSchool,
    MachineKind,
    School,
    Schools,
    check_choices,
    questions,
    read_schools,
)
from weftonos.core.mend.diagnosis import CheckAnswer, Inquiry, Observed, diagnose
from weftonos.core.needle.groove_fit import FitState, fit_of
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.needle.packet import family_of
from weftonos.core.needle.pairing import against_bobbin, pair_needle, step_size
from weftonos.core.setup.setup import NeedleTag
from weftonos.core.thread.nature import Natures, nature_of, natures
from weftonos.core.thread.thread import Bundle, Construction, Fiber
from weftonos.knowledge import troubles

CLEAR = made(Fiber.POLYESTER, Construction.MONOFILAMENT, 91)
GOLD = made(Fiber.METALLIC, Construction.METALLIC, 40)
COTTON = {wt: made(Fiber.COTTON, Construction.SPUN, wt) for wt in (8, 12, 30, 40, 50)}


def test_a_seeded_part_of_the_sweep_finds_no_contradiction():
    count, found = sweep(set_ups(seed=20, most=1500))
    assert count == 1500
    assert found == []


def given(top: Bundle, **more) -> SetUp:
    base = {
        "top": top,
        "kind": MachineKind.LONGARM,
        "school": School.LONGARM,
        "bobbin_school": BobbinSchool.FINER,
        "sandwich": Sandwich(),
        "purpose": Purpose.ORDINARY,
        "chosen": (),
    }
    return SetUp(**{**base, **more})


def wrong(advised: Advised, metric: int, american: int, point: Point) -> Advised:
    """The same set-up with another needle recommended and fitted."""
    fit = fit_of(advised.given.top, NeedleSize(metric, american), point)
    best = replace(
        advised.pairing.recommended,
        metric=metric,
        american=american,
        point=point,
        nominal_fill=fit.fill,
        state=fit.state,
    )
    needle = NeedleTag(
        record_id=1,
        metric=metric,
        american=american,
        point=point,
        finish=NeedleFinish.STEEL,
        fitted_at=advised.setup.needle.fitted_at,
    )
    return replace(
        advised,
        pairing=replace(advised.pairing, recommended=best),
        setup=replace(advised.setup, needle=needle),
    )


def test_the_sweep_sees_a_wrong_needle():
    heavy = wrong(Advised.of(given(Bundle.of([COTTON[30]]))), 60, 8, Point.SHARP)
    broken = {rule for rule, (_, holds) in RULES.items() if not holds(heavy)}
    assert {"fit", "line", "mend"} <= broken
    slim = wrong(Advised.of(given(Bundle.of([GOLD]))), 100, 16, Point.BALLPOINT)
    assert {rule for rule, (_, holds) in RULES.items() if not holds(slim)} >= {"line", "mend"}


def test_clear_thread_is_judged_by_the_cloth_and_no_size_is_added_for_lofty_batting():
    for loft in ("low", "lofty"):
        for kind, school, size in (
            (MachineKind.LONGARM, School.LONGARM, NeedleSize(110, 18)),
            (MachineKind.HOME, School.HOME, NeedleSize(70, 10)),
        ):
            found = pair_needle(kind, school, Bundle.of([CLEAR]), sandwich=Sandwich(loft=loft)).recommended
            assert (found.size, found.state) == (size, FitState.RIDES)
    big = pair_needle(MachineKind.LONGARM, School.LONGARM, Bundle.of([CLEAR])).recommended
    assert "big eye" in big.why
    assert big.point is Point.TOPSTITCH, "the point that has one"
    small = Schools(MachineKind.LONGARM, {"room": "small"})
    chosen = pair_needle(MachineKind.LONGARM, School.LONGARM, Bundle.of([CLEAR]), schools=small).recommended
    assert chosen.size == NeedleSize(80, 12), "the smallest that is sold for such a head"


@pytest.mark.parametrize("wt", [60, 80])
@pytest.mark.parametrize("top", [CLEAR, made(Fiber.SILK, Construction.MULTIFILAMENT, 100)], ids=["clear", "silk"])
def test_very_fine_thread_over_an_ordinary_bobbin_is_everyday_and_no_bobbin_work(top, wt):
    below = made(Fiber.POLYESTER, Construction.MULTIFILAMENT, wt)
    assert against_bobbin(Bundle.of([top]), below).rule == "bobbin_everyday"
    decorative = made(Fiber.COTTON, Construction.SPUN, 12)
    assert "bobbin work" in against_bobbin(Bundle.of([top]), decorative).text


def test_what_somebody_sews_well_is_never_called_wrong():
    three = Bundle.of([COTTON[30], COTTON[40], COTTON[50]])
    for top, size, point in (
        (three, NeedleSize(125, 20), Point.SHARP),
        (Bundle.of([COTTON[12]]), NeedleSize(100, 16), Point.UNIVERSAL),
        (Bundle.of([COTTON[12]]), NeedleSize(90, 14), Point.TOPSTITCH),
    ):
        fit = fit_of(top, size, point)
        assert fit.state is FitState.TIGHT
        assert "some sew it that way" in fit.says or "only just" in fit.says
    assert fit_of(three, NeedleSize(90, 14), Point.SHARP).state is FitState.RUBS


def test_a_thread_that_goes_through_no_needle_is_said_so_first():
    found = pair_needle(MachineKind.LONGARM, School.LONGARM, Bundle.of([COTTON[8]]))
    assert not found.through_a_needle
    assert [r.rule for r in found.reasons] == ["too_heavy_for_a_needle"]
    assert not any("snaps clean" in a.why for a in found.alternatives)


def test_batik_takes_a_size_up_or_a_fine_point_and_the_other_side_is_shown():
    batik, top = Sandwich(weave=Weave.BATIK), Bundle.of([COTTON[50]])
    plain = pair_needle(MachineKind.HOME, School.HOME, top).recommended
    larger = Schools(MachineKind.HOME, {"dense": "size_up"})
    up = pair_needle(MachineKind.HOME, School.HOME, top, sandwich=batik, schools=larger)
    sharp = pair_needle(MachineKind.HOME, School.HOME, top, sandwich=batik)
    assert (up.recommended.size, up.recommended.point) == (step_size(plain.size, 1), plain.point)
    assert (sharp.recommended.size, sharp.recommended.point) == (plain.size, Point.SHARP)
    assert any(a.point is Point.SHARP and a.size == plain.size for a in up.alternatives)
    assert any(a.size == step_size(plain.size, 1) for a in sharp.alternatives)


def test_one_middle_size_serves_most_thread_and_not_the_heavy():
    middle = Schools(MachineKind.LONGARM, {"size": "middle"})
    sizes = {
        wt: pair_needle(MachineKind.LONGARM, School.LONGARM, Bundle.of([COTTON[wt]]), schools=middle).recommended.size
        for wt in (50, 40, 12)
    }
    assert sizes[50] == sizes[40] == NeedleSize(100, 16)
    assert sizes[12] > NeedleSize(100, 16)


@pytest.mark.parametrize(
    ("one", "other", "together"),
    [
        ("130/705 H-Q", "130/705 H", True),
        ("130/705", "130 / 705 H", True),
        ("134 R", "DPx5", True),
        ("134 (DPx5)", "134", True),
        ("HLx5", "DPx5", False),
        ("130/705 H", "134", False),
        ("1345", "134", False),
    ],
)
def test_suffixes_of_one_family_go_together(one, other, together):
    assert (family_of(one) == family_of(other)) is together


# The pages


def test_every_thread_in_use_has_a_nature_with_everything_said():
    for fiber, construction, weights in IN_USE:
        for wt in weights:
            nature = nature_of(made(fiber, construction, wt))
            assert nature.names[0] == "Any thread"
            assert nature.points[School.HOME]
            assert 1 <= nature.holes <= 3
            assert {"winding", "storage", "hand test"} <= {subject for subject, *_ in nature.care}
            for name in nature.faults:
                assert troubles().cause(name)
            for pair in nature.sewn:
                size, point = pair.split(" ")
                assert Point(point)
                assert NeedleSize(*map(int, size.split("/")))
    assert nature_of(CLEAR).sheen == "clear"
    assert nature_of(GOLD).glitters
    assert natures().standing


@pytest.mark.parametrize(
    ("page", "says"),
    [
        ("[[nature]", "not TOML"),
        ('[[nature]]\nid = "x"\nname = "X"\nshine = 3', "“shine” is not known"),
        ('[[nature]]\nid = "x"\nname = "X"\nwhen.fiber = ["hemp"]', "no fiber “hemp”"),
        ('[[nature]]\nid = "x"\nname = "X"\ncare = [["look", "Matte.", "wings"]]', "has “wings”, which none has"),
        ('[[nature]]\nid = "x"\nname = "X"\nwhen.color = ["red"]', "“when.color” is not known"),
        ('[[nature]]\nid = "x"\nname = "X"\nsheen = "dull"', "the sheen is one of"),
        ('[[nature]]\nid = "x"', "needs an id and a name"),
        ('[[nature]]\nid = "x"\nname = "X"\n' * 2, "there are two of it"),
    ],
)
def test_a_page_of_threads_that_does_not_hold_together_is_refused(page, says):
    with pytest.raises(CraftError, match=says):
        Natures(page)


def test_every_question_of_the_schools_has_two_sides_with_a_reason_and_a_default():
    for question in questions().values():
        assert len(question.sides) >= 2
        assert all(side.name and side.why.endswith(".") for side in question.sides)
        assert set(question.default) == set(MachineKind)
    longarm = Schools(MachineKind.LONGARM)
    assert (longarm.takes("point"), longarm.side("room").name) == ("ballpoint", "a big eye")
    assert not longarm.said("point")
    check_choices({"dense": "fine_point"})
    with pytest.raises(CraftError, match="is not an answer to"):
        check_choices({"dense": "prayer"})
    with pytest.raises(CraftError, match="no question “weather”"):
        check_choices({"weather": "fine"})
    with pytest.raises(CraftError, match="not TOML"):
        read_schools("[[question]")


# For each symptom what practitioners try, in about this order (common practice).
TRIED = {
    "frays_above_the_eye": [
        {"needle_turned_or_backwards", "needle_not_fully_up"},
        {"needle_dull_burred_bent"},
        {"guide_missed_or_wrapped"},
        {"groove_too_small_for_thread"},
        {"discs_packed_with_lint"},
        {"burr_on_guide_or_hook"},
        {"burr_on_plate"},
        {"heat"},
        {"batting_or_fabric_drags"},
        {"sandwich_too_tight"},
        {"roller_too_close"},
        {"top_too_tight"},
        {"bobbin_too_tight"},
        {"cone_or_spool_catches"},
        {"thread_aged_or_poor"},
    ],
    "clean_snap_of_the_top_thread": [
        {"needle_turned_or_backwards", "needle_not_fully_up"},
        {"top_too_tight"},
        {"top_too_loose"},
        {"cone_or_spool_catches"},
        {"slick_thread_spills"},
        {"needle_dull_burred_bent", "needle_too_large_for_thread"},
        {"guide_missed_or_wrapped"},
        {"thread_aged_or_poor"},
        {"sandwich_too_tight"},
    ],
    "loops_or_nest_on_the_back": [
        {"top_thread_outside_the_discs"},
        {"tail_under_the_wrong_side_of_the_foot"},
        {"top_too_loose"},
        {"discs_packed_with_lint"},
        {"bobbin_reversed_or_not_under_spring"},
    ],
    "bobbin_thread_dots_on_top": [{"top_too_tight"}, {"bobbin_too_loose"}, {"lint_under_case_spring"}],
    "tangle_round_the_case_after_stopping": [{"backlash_spring_worn"}],
    "skipped_stitches": [
        {"needle_turned_or_backwards", "needle_dull_burred_bent", "wrong_needle_system"},
        {"sandwich_too_tight"},
    ],
    "breaks_in_one_travel_direction_only": [{"point_unsuited_to_direction"}],
    "false_break_alarm": [
        {"top_thread_outside_the_discs"},
        {"off_the_check_spring"},
        {"tie_off_with_needle_down"},
        {"break_sensor"},
    ],
}


@pytest.mark.parametrize("symptom", TRIED)
def test_what_practitioners_try_first_comes_early_and_all_of_it_before_the_technician(symptom):
    page, answers, order, left = troubles().at(OF_KIND[MachineKind.LONGARM]), {}, [], []
    while True:
        evidence = Observed.of(page, [symptom])
        says = diagnose(page, Inquiry(evidence=evidence, answers=answers))
        if says.next is None:
            break
        order.append(says.next.cause)
        left.append(says.most_minutes)
        answers[says.next.cause] = CheckAnswer.NOT_IT
    assert left == sorted(left, reverse=True), "what is left to check falls as answers come"
    assert len(set(left)) == len(left)
    row = TRIED[symptom]
    for tried in row[:3]:
        assert tried.intersection(order[:6]), (tried, order[:6])
    for tried in row:
        assert tried <= set(order), (tried - set(order), "is never raised")
