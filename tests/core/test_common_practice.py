"""Facts of common practice that the whole program leans on, stated one by one."""

import pytest

from weftonos.core.bobbin.gauge import CALM_BELOW, FLUTTERS_ABOVE, Pull, Verdict, read_gauge
from weftonos.core.bobbin.screw import MOST_MINUTES, RESPONSE_MEAN, RESPONSE_SPREAD
from weftonos.core.bobbin.target import usual_target
from weftonos.core.bobbin.winding import MONOFILAMENT_FILL
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit, to_mn
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import SIZE_SCHOOLS, MachineKind, School
from weftonos.core.kernel.standing import Standing
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.needle.groove_fit import GROOVE_OF_BLADE, SLACK_BELOW, FitState, fit_state
from weftonos.core.needle.life import COATED_HOURS, COATED_PROJECTS, HOURS_LIFE
from weftonos.core.needle.needle import COATED_LASTS, POINTS, NeedleSize, Point, Shank
from weftonos.core.needle.pairing import SIZES_IN_USE, pair_needle, step_size
from weftonos.core.thread.handling import care_for
from weftonos.core.thread.linear_density import LinearDensity, WeightSystem
from weftonos.core.thread.path import usual_path
from weftonos.core.thread.thread import (
    BUNDLE_PACKING,
    FIBER_DENSITY,
    HEAVIEST_THROUGH_A_NEEDLE,
    PACKING,
    Bundle,
    Construction,
    Fiber,
    Thread,
)


@pytest.mark.parametrize(
    ("fiber", "density", "standing"),
    [
        (Fiber.COTTON, 1.52, Standing.PUBLISHED),
        (Fiber.POLYESTER, 1.38, Standing.PUBLISHED),
        (Fiber.NYLON, 1.14, Standing.PUBLISHED),
        (Fiber.RAYON, 1.50, Standing.PUBLISHED),
        (Fiber.SILK, 1.34, Standing.PUBLISHED),
        (Fiber.WASH_AWAY, 1.30, Standing.MEMORY),
    ],
)
def test_fiber_densities_are_those_of_morton_and_hearle(fiber, density, standing):
    known = FIBER_DENSITY[fiber]
    assert (known.value, known.standing) == (density, standing)
    assert standing is not Standing.PUBLISHED or "Morton & Hearle" in known.source


@pytest.mark.parametrize(
    ("construction", "share"),
    [
        (Construction.SPUN, 0.60),
        (Construction.CORE_SPUN, 0.65),
        (Construction.MULTIFILAMENT, 0.75),
        (Construction.MONOFILAMENT, 1.00),
        (Construction.FILM, 1.00),
        (Construction.METALLIC, 0.70),
        (Construction.TEXTURED, 0.45),
    ],
)
def test_packing_by_construction(construction, share):
    assert PACKING[construction].value == share


def test_the_models_own_numbers_stand_where_they_were_set():
    assert BUNDLE_PACKING.value == 0.80
    assert GROOVE_OF_BLADE.value == 0.40
    assert SLACK_BELOW.value == 0.27
    assert (SIZE_SCHOOLS[School.HOME].aim.value, SIZE_SCHOOLS[School.LONGARM].aim.value) == (0.50, 0.42)
    assert (RESPONSE_MEAN.value, RESPONSE_SPREAD.value) == (0.025, 0.015)
    assert (CALM_BELOW.value, FLUTTERS_ABOVE.value) == (0.05, 0.10)
    for known in (BUNDLE_PACKING, GROOVE_OF_BLADE, SLACK_BELOW, RESPONSE_MEAN, CALM_BELOW):
        assert known.standing is Standing.ESTIMATE


@pytest.mark.parametrize(
    ("point", "limit"),
    [
        (Point.UNIVERSAL, 0.62),
        (Point.SHARP, 0.62),
        (Point.QUILTING, 0.62),
        (Point.BALLPOINT, 0.62),
        (Point.DENIM, 0.62),
        (Point.EMBROIDERY, 0.75),
        (Point.TOPSTITCH, 0.95),
        (Point.METALLIC, 0.95),
    ],
)
def test_each_point_has_its_limit_its_use_and_its_note(point, limit):
    facts = POINTS[point]
    assert facts.limit.value == limit
    assert facts.made_for
    assert facts.note
    assert fit_state(limit, point) is not FitState.RUBS


def test_life_and_coating():
    assert [h.value for h in HOURS_LIFE] == [6, 8]
    assert ([h.value for h in COATED_HOURS], COATED_PROJECTS.value) == ([30, 72], 8)
    assert [c.value for c in COATED_LASTS] == [5, 8]


def test_the_screw_is_never_turned_more_than_a_quarter_without_a_reading():
    assert MOST_MINUTES.value == 15


def test_monofilament_is_wound_three_quarters_full():
    assert MONOFILAMENT_FILL.value == 0.75
    clear = Thread(fiber=Fiber.POLYESTER, construction=Construction.MONOFILAMENT, value=11, system=WeightSystem.TEX)
    assert any("three quarters full" in a.text for a in care_for(clear, set()).advice)


def test_above_a_hundred_tex_is_for_bobbin_or_hand():
    assert HEAVIEST_THROUGH_A_NEEDLE.value == 100
    heavy = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=101, system=WeightSystem.TEX)
    light = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=99, system=WeightSystem.TEX)
    for thread, through in ((heavy, False), (light, True)):
        assert pair_needle(MachineKind.HOME, School.HOME, Bundle.of([thread])).through_a_needle is through


def test_sizes_in_use_by_head():
    assert SIZES_IN_USE[MachineKind.LONGARM] == (NeedleSize(80, 12), NeedleSize(125, 20))
    home_small, home_large = SIZES_IN_USE[MachineKind.HOME]
    assert home_small <= NeedleSize(75, 11) < NeedleSize(90, 14) <= home_large


def test_a_size_up_and_down_stays_among_the_common_pairs():
    assert step_size(NeedleSize(90, 14), 1) == NeedleSize(100, 16)
    assert step_size(NeedleSize(110, 18), 1) == NeedleSize(125, 20)
    assert step_size(NeedleSize(60, 8), -1) == NeedleSize(60, 8)
    assert step_size(NeedleSize(125, 20), 1) == NeedleSize(125, 20)
    assert NeedleSize.of_american(16) == NeedleSize(100, 16)
    with pytest.raises(CraftError):
        NeedleSize.of_american(15)
    with pytest.raises(CraftError):
        NeedleSize.of_metric(85)


@pytest.mark.parametrize(
    ("grade", "front", "back"), [(-2, "lies on the surface", "flat"), (0, "clean", "clean"), (2, "clean", "nest")]
)
def test_minus_is_a_lock_toward_the_front(grade, front, back):
    assert front in GRADES[grade].front
    assert back in GRADES[grade].back


def test_the_longarm_path_runs_from_cone_to_tail_and_the_home_path_lifts_the_foot():
    names = [p.name for p in usual_path(MachineKind.LONGARM, 3)]
    order = ["Cone pin", "Three-hole guide", "Tension discs", "Check spring", "Take-up lever", "Needle eye", "Tail"]
    assert [n for n in names if n in order] == order
    home = {p.name: p for p in usual_path(MachineKind.HOME)}
    assert "foot up" in home["Guides"].how.lower()


@pytest.mark.parametrize(
    ("value", "unit", "mn"), [(20.4, ForceUnit.GF, 200.06), (20, ForceUnit.CN, 200), (200, ForceUnit.MN, 200)]
)
def test_one_pull_in_three_units(value, unit, mn):
    assert to_mn(value, unit) == pytest.approx(mn, abs=0.01)


@pytest.mark.parametrize(
    ("mean", "verdict"), [(179, Verdict.LOW), (180, Verdict.ON_TARGET), (220, Verdict.ON_TARGET), (221, Verdict.HIGH)]
)
def test_the_usual_range_of_a_large_throat_is_closed_at_both_ends(mean, verdict):
    target = usual_target(MachineKind.LONGARM, 26)
    assert read_gauge(ForceUnit.MN, [Pull(value=mean), Pull(value=mean)], target).verdict is verdict


def test_a_quilters_weight_is_meters_in_a_gram():
    assert LinearDensity.from_label(40, WeightSystem.WT).tex == 25
    assert LinearDensity(25).wt == 40


def test_shanks_are_round_on_longarms_and_flat_at_home():
    from weftonos.core.setup.machine import Machine

    scale = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=1)
    assert Machine(nickname="A", kind=MachineKind.LONGARM, scale=scale).takes_shank is Shank.ROUND
    assert Machine(nickname="B", kind=MachineKind.HOME, scale=scale).takes_shank is Shank.FLAT
    assert Machine(nickname="C", kind=MachineKind.HOME, scale=scale, shank=Shank.ROUND).takes_shank is Shank.ROUND


@pytest.mark.parametrize(
    "bad",
    [
        {"nickname": ""},
        {"nickname": "x" * 41},
        {"throat_in": 2},
        {"throat_in": float("nan")},
        {"needle_system": "y" * 41},
    ],
)
def test_a_machine_that_cannot_be_is_refused_at_its_field(bad):
    from weftonos.core.setup.machine import Machine

    given = {
        "nickname": "Tern",
        "kind": MachineKind.HOME,
        "scale": TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=1),
        **bad,
    }
    with pytest.raises(CraftError) as caught:
        Machine(**given)
    assert caught.value.field == next(iter(bad))
