"""The wish for a look, handling, the path, and threads together."""

import pytest

from weftonos.core.figures import figures
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import BobbinSchool, MachineKind, School, Schools
from weftonos.core.kernel.standing import Standing
from weftonos.core.needle.bundle_advice import advise_bundle, bobbin_weight, check_bobbin_work, goes_below
from weftonos.core.needle.needle import NeedleSize
from weftonos.core.needle.pairing import against_bobbin
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread, ThreadFinish
from weftonos.core.thread.guide import holes_to_use
from weftonos.core.thread.handling import Subject, care_for, cautions_for
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.look_wish import LookWish, Wish, answer_wish
from weftonos.core.thread.path import PathPoint, path_for, usual_path
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread


def thread(fiber=Fiber.COTTON, construction=Construction.SPUN, wt=40.0) -> Thread:
    return Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)


FILM = thread(Fiber.METALLIC, Construction.FILM, 53)
CLEAR = thread(Fiber.POLYESTER, Construction.MONOFILAMENT, 91)
DRAWER = [
    (
        1,
        DrawerThread(
            name="dark trilobal 40",
            thread=thread(Fiber.POLYESTER, Construction.MULTIFILAMENT),
            color="#203050",
            finish=ThreadFinish.TRILOBAL,
        ),
    ),
    (2, DrawerThread(name="light cotton 40", thread=thread(), color="#f0ece0")),
    (
        3,
        DrawerThread(
            name="light silk 100", thread=thread(Fiber.SILK, Construction.MULTIFILAMENT, 100), color="#f0ece0"
        ),
    ),
    (
        4,
        DrawerThread(
            name="light polyester 60",
            thread=thread(Fiber.POLYESTER, Construction.MULTIFILAMENT, 60),
            color="#f0ece0",
        ),
    ),
    (5, DrawerThread(name="clear", thread=CLEAR, color="#eef2f4")),
    (6, DrawerThread(name="dark cotton 12", thread=thread(wt=12), color="#203050")),
    (7, DrawerThread(name="wash-away 50", thread=thread(Fiber.WASH_AWAY, wt=50), color="#ffffff")),
]


def best(**wish) -> list[str]:
    return [m.name for m in answer_wish(LookWish(**wish), BobbinSchool.FINER, DRAWER).matches]


def test_each_wish_has_the_weights_of_common_practice():
    weights = {w: answer_wish(LookWish(wish=w), BobbinSchool.SAME, []) for w in Wish}
    assert (weights[Wish.SHOW].finest_wt, weights[Wish.SHOW].heaviest_wt) == (40, 12)
    assert (weights[Wish.MICRO].finest_wt, weights[Wish.MICRO].heaviest_wt) == (100, 60)
    assert (weights[Wish.BLEND].finest_wt, weights[Wish.BLEND].heaviest_wt) == (50, 40)
    assert all(a.reasons for a in weights.values())


def test_the_drawer_is_matched_to_the_wish():
    assert set(best(wish=Wish.SHOW)[:2]) == {"dark cotton 12", "dark trilobal 40"}
    assert best(wish=Wish.SHOW, sheen=True)[0] == "dark trilobal 40"
    assert best(wish=Wish.BLEND)[0] == "light cotton 40"
    assert set(best(wish=Wish.MICRO)[:2]) == {"light polyester 60", "light silk 100"}
    assert "clear" in best(wish=Wish.HIDE)
    assert "clear" not in best(wish=Wish.SHOW)
    assert "light cotton 40" not in best(wish=Wish.SHOW, little_lint=True)
    assert "wash-away 50" not in best(wish=Wish.BLEND)


def test_busy_fabric_wants_body_to_show():
    assert answer_wish(LookWish(wish=Wish.SHOW, busy=True), BobbinSchool.SAME, []).finest_wt == 30


@pytest.mark.parametrize(
    ("one", "says"),
    [
        (CLEAR, "three quarters full"),
        (FILM, "Horizontal pin"),
        (thread(Fiber.METALLIC, Construction.METALLIC), "5 strokes"),
        (thread(Fiber.WASH_AWAY), "sealed bag"),
        (thread(wt=8), "quilt face down"),
        (thread(Fiber.NYLON, Construction.TEXTURED), "iron low"),
        (thread(), "Most lint"),
    ],
)
def test_handling_says_what_common_practice_says(one, says):
    care = care_for(one, set())
    assert any(says in a.text for a in care.advice), [a.text for a in care.advice]
    assert {Subject.WINDING, Subject.STORAGE, Subject.HAND_TEST} <= {a.subject for a in care.advice}


def test_a_thread_is_treated_by_what_the_machine_has():
    def said(*has: Feature) -> str:
        return " ".join(each.text for each in care_for(FILM, set(has)).advice)

    assert "two to three turns looser" in said(Feature.LONGARM)
    assert "turns looser" not in said(Feature.DOMESTIC)
    assert "about 1 on a dial" in said(Feature.DOMESTIC)
    assert ("top guide hole" in said(Feature.HOLE_GUIDE), "guide hole" in said()) == (True, False)
    assert ("bobbin loosened" in said(Feature.CASE), "loosened" in said(Feature.DROP_IN)) == (True, False)


def test_dangerous_threads_carry_their_caution():
    assert "mouth" in cautions_for(thread(Fiber.WASH_AWAY))[0].text
    assert "Iron low" in cautions_for(thread(Fiber.NYLON, Construction.MONOFILAMENT, 90))[0].text
    assert cautions_for(thread()) == ()


def test_the_holes_follow_the_thread():
    # Common practice: three holes, two for a bundle, about one for clear thread and silk, the top one for flat film.
    assert holes_to_use(Bundle.of([thread()])) == 3
    assert holes_to_use(Bundle.of([thread(), thread()])) == 2
    assert holes_to_use(Bundle.of([CLEAR])) == holes_to_use(Bundle.of([thread(Fiber.SILK)])) == 1
    assert holes_to_use(Bundle.of([FILM])) == 1


def test_the_path_is_made_for_the_thread_in_hand():
    film = path_for(usual_path(MachineKind.LONGARM, 3), Bundle.of([FILM]))
    assert "horizontal pin" in film[0].how
    assert "1 hole only" in next(p for p in film if p.name == "Three-hole guide").how
    two = path_for(usual_path(MachineKind.LONGARM, 2), Bundle.of([thread()]))
    assert "all two holes" in next(p for p in two if p.name == "Two-hole guide").how, "no third hole is spoken of"
    assert not any("hole" in f"{p.name} {p.how}" for p in path_for(usual_path(MachineKind.LONGARM), Bundle.of([FILM])))
    three = path_for(usual_path(MachineKind.LONGARM, 3), Bundle.of([thread()] * 3))
    assert "own holder" in three[0].how
    assert "Prove all 3" in next(p for p in three if p.name == "Tension discs").proof
    assert path_for(usual_path(MachineKind.HOME), None) == usual_path(MachineKind.HOME)
    assert any("bounces" in p.proof for p in film if p.name == "Check spring")


def test_an_owner_s_own_path_is_kept_to():
    scale = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=1)
    mine = Machine(nickname="Wren", kind=MachineKind.HOME, scale=scale, path=(PathPoint("Hook", "Round it"),))
    assert [p.name for p in mine.thread_path] == ["Hook"]
    with pytest.raises(CraftError, match="1 to 30 points"):
        Machine(nickname="Wren", kind=MachineKind.HOME, scale=scale, path=())
    with pytest.raises(CraftError):
        PathPoint(" ", "nowhere")


def test_three_threads_together_have_size_needle_holes_and_bobbin():
    top = Bundle.of([thread(wt=30), thread(wt=40), thread(wt=50)])
    advice = advise_bundle(
        kind=MachineKind.LONGARM,
        school=School.LONGARM,
        bobbin_school=BobbinSchool.FINER,
        top=top,
        bobbin=thread(wt=80),
    )
    assert advice.tex == pytest.approx(78.3, abs=0.05)
    assert advice.needle.size == NeedleSize(125, 20)
    assert advice.holes == 2
    assert (advice.bobbin.finest_wt, advice.bobbin.heaviest_wt) == (80, 80)


def test_both_schools_of_the_bobbin_are_told():
    top = Bundle.of([thread()])
    finer, same = (bobbin_weight(s, top) for s in (BobbinSchool.FINER, BobbinSchool.SAME))
    assert (finer.finest_wt, finer.heaviest_wt) == (80, 60)
    assert same.finest_wt == pytest.approx(40)
    assert finer.text == same.other
    fine = bobbin_weight(BobbinSchool.FINER, Bundle.of([thread(wt=100)]))
    assert (fine.finest_wt, fine.heaviest_wt) == (80, 60), "everyday, though it weighs more than the top"
    assert "everyday" in fine.text


def test_bobbin_work_needs_the_heavier_thread_below():
    check_bobbin_work(thread(wt=8), Bundle.of([thread(wt=60)]))
    with pytest.raises(CraftError, match="the heavy thread you want to see"):
        check_bobbin_work(thread(wt=80), Bundle.of([thread(wt=40)]))


def test_every_figure_shown_has_a_standing_and_published_ones_a_source():
    for listed in figures().values():
        for figure in listed:
            assert figure.known.standing in Standing
            if figure.known.standing is Standing.PUBLISHED:
                assert figure.known.source


def test_like_to_like_is_fifty_cotton_under_cotton_and_sixty_polyester_under_polyester():
    """Handbook 13: 50 wt cotton under cotton of 50 wt and heavier, polyester 60 wt under polyester."""
    like = Schools(MachineKind.HOME, {"fiber_below": "like"})
    for wt in (30, 40, 50):
        advised = bobbin_weight(BobbinSchool.FINER, Bundle.of([thread(wt=wt)]), like)
        assert (advised.finest_wt, advised.heaviest_wt) == (60, 50)
        assert advised.serves(thread(wt=50))
        assert not advised.serves(thread(wt=80))
    polyester = thread(Fiber.POLYESTER, Construction.MULTIFILAMENT, 40)
    assert bobbin_weight(BobbinSchool.FINER, Bundle.of([polyester]), like).finest_wt == 60
    # What is finer than that, and whoever has one fine thread for all, is advised as before.
    assert bobbin_weight(BobbinSchool.FINER, Bundle.of([thread(wt=80)]), like).finest_wt == 80
    assert bobbin_weight(BobbinSchool.FINER, Bundle.of([thread(wt=40)]), Schools(MachineKind.HOME)).finest_wt == 80


def test_the_same_thread_is_one_of_its_fiber():
    same = Schools(MachineKind.HOME, {"bobbin": "same"})
    top = Bundle.of([thread(wt=40)])
    advised = bobbin_weight(BobbinSchool.SAME, top, same)
    cotton = DrawerThread(name="Samphire 40", thread=thread(wt=40))
    rayon = DrawerThread(name="Ember", thread=thread(Fiber.RAYON, Construction.MULTIFILAMENT, 40))
    assert goes_below(advised, top, cotton, same)
    assert not goes_below(advised, top, rayon, same)


@pytest.mark.parametrize(
    ("below", "says"),
    [
        (thread(Fiber.WASH_AWAY, wt=60), "dissolves"),
        (thread(Fiber.METALLIC, Construction.METALLIC, 40), "catches in the spring"),
        (CLEAR, "can't be seen"),
        (thread(wt=12), "heavy for a bobbin."),
    ],
)
def test_what_is_hard_to_run_below_is_never_called_easiest_to_balance(below, says):
    top = Bundle.of([below])
    reason = against_bobbin(top, below)
    assert says in reason.text
    assert "easiest" not in reason.text
    assert "easiest" in against_bobbin(Bundle.of([thread(wt=60)]), thread(wt=60)).text
