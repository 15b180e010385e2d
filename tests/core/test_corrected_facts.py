"""Facts of the trade that the program once had wrong, each held once (common practice)."""

from __future__ import annotations

import pytest

from weftonos.core.balance.guard_rail import RailKind, guard_rails
from weftonos.core.balance.tolerance import tolerance_of
from weftonos.core.bobbin.target import usual_target
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.schools import MachineKind, questions
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.needle.fitting import fitting_steps
from weftonos.core.needle.needle import Shank
from weftonos.core.setup.setup import Setup, ThreadTag
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.guide import holes_to_use
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.starting_tension import start_tension
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread
from weftonos.knowledge import troubles


def made(fiber: Fiber, construction: Construction, wt: float = 40) -> Thread:
    return Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)


COTTON = made(Fiber.COTTON, Construction.SPUN)
CLEAR = made(Fiber.POLYESTER, Construction.MONOFILAMENT, 91)
SILK = made(Fiber.SILK, Construction.MULTIFILAMENT, 100)
WRAPPED = made(Fiber.METALLIC, Construction.METALLIC)
FILM = made(Fiber.METALLIC, Construction.FILM)


@pytest.mark.parametrize("top", [[COTTON, COTTON], [made(Fiber.COTTON, Construction.SPUN, 12)]], ids=["two", "12 wt"])
def test_specks_with_a_bundle_or_a_heavy_top_are_top_thread_on_the_back(top):
    accepted = tolerance_of(Bundle.of(top)).accepted
    assert (accepted.lowest, accepted.highest) == (0, 1)
    assert "dots of top thread" in GRADES[1].back
    tight = troubles().cause("top_too_tight").how
    assert "specks of a heavy top or a bundle on the back are normal. Bobbin dots on top are not" in tight


def test_half_past_six_is_a_reading_of_straight_and_no_hair_to_the_right():
    turn = next(step for step in fitting_steps(Shank.ROUND) if "six o'clock" in step)
    assert "straight at the quilter" in turn
    assert "hair" not in turn


@pytest.mark.parametrize(
    ("top", "holes"),
    [([COTTON], 3), ([CLEAR], 1), ([SILK], 1), ([FILM], 1), ([COTTON, COTTON], 2), ([CLEAR, COTTON], 2)],
)
def test_clear_thread_and_silk_take_about_one_guide_hole_and_a_bundle_two(top, holes):
    assert holes_to_use(Bundle.of(top)) == holes


def test_the_bobbin_is_loosened_for_metallic_only_if_there_is_trouble():
    tag = ThreadTag.of(1, DrawerThread(name="Glint", thread=WRAPPED))

    def rail(has: Feature) -> str:
        rails = guard_rails(Setup(top=(tag,)), [], makes_sense=True, has={has})
        return next(r.text for r in rails if r.trap is RailKind.METALLIC)

    def trap(has: Feature) -> str:
        return next(t.text for t in troubles().at({has}).traps if t.id == "metallic")

    assert "If it still breaks, loosen the bobbin too" in rail(Feature.CASE)
    assert "If there is trouble, loosen the bobbin too" in trap(Feature.CASE)
    for text in (rail(Feature.DROP_IN), trap(Feature.DROP_IN)):
        assert "loosen the bobbin's own screw a little, where the manual shows one" in text
        assert "bobbin too" not in text
    assert "loosen" not in nature_of(WRAPPED).below, "what goes below is no matter of trouble"


def test_two_to_three_turns_are_for_flat_film_alone():
    film, wrapped = (start_tension(MachineKind.LONGARM, Bundle.of([t])) for t in (FILM, WRAPPED))
    assert (film.low, film.center, film.high) == (-3, -2.5, -2)
    assert wrapped.center > -1
    assert film.text.startswith("2½ turns looser")
    assert wrapped.text.startswith("Half a turn looser")


def test_the_usual_ranges_are_one_school_s_and_there_is_none_between():
    assert usual_target(MachineKind.LONGARM, 24).origin.startswith("usual for a throat")
    assert (usual_target(MachineKind.LONGARM, 18).low, usual_target(MachineKind.LONGARM, 18).high) == (250, 300)
    assert usual_target(MachineKind.LONGARM, 20) is None
    assert usual_target(MachineKind.HOME, 11) is None


def test_a_washer_goes_with_the_spring_or_in_its_place():
    assert "with it, or instead" in troubles().cause("backlash_spring_worn").cure


def test_too_loose_breaks_as_well_and_a_needle_not_fully_up_breaks_thread():
    snap = "clean_snap_of_the_top_thread"
    for cause in ("top_too_loose", "needle_not_fully_up"):
        assert troubles().cause(cause).chances[snap] > troubles().findings[snap].usual


def test_cotton_below_cotton_is_a_school_with_its_other_side():
    sides = {side.id: side.why for side in questions()["fiber_below"].sides}
    assert "50 wt cotton under cotton" in sides["like"]
    assert "60 wt polyester under polyester" in sides["like"]
    assert set(sides) == {"like", "one"}


def test_a_free_motion_balance_above_the_straight_one_is_no_rule():
    # Nothing of the start asks for the motion: each has a balance of its own, whichever is higher.
    assert start_tension(MachineKind.HOME, Bundle.of([COTTON])).center == 3
