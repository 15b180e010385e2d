"""Where the top begins on a dial of 0 to 10, by the table of common practice; and a knob that stands off it."""

import pytest

from weftonos.core.balance.combination import Combination
from weftonos.core.balance.knob import knob_advice
from weftonos.core.balance.starting_point import StartingPoint, starting_point
from weftonos.core.kernel.sandwich import Loft, Motion
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread

DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
TURNS = TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25)
READOUT = TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5)


def thread(fiber: str, wt: float, construction: str = "") -> Thread:
    usual = {"cotton": "spun", "metallic": "metallic"}
    made = Construction(construction or usual.get(fiber, "multifilament"))
    return Thread(fiber=Fiber(fiber), construction=made, system=WeightSystem.WT, value=wt)


def start(top: Thread, scale: TopScale = DIAL, bobbin_mn: float | None = 200) -> StartingPoint:
    new = Combination.of(scale, Bundle.of([top]), None, bobbin_mn, Loft.MEDIUM, Motion.FREE_MOTION)
    return starting_point(scale, new, [])


#: The table as it stands in the handbook of the trade: thread, start, a second start, low and high.
TABLE = [
    (("cotton", 28), 3, None, 2, 5),
    (("cotton", 40), 3, None, 2, 5),
    (("rayon", 40), 3, None, 2, 5),
    (("polyester", 40), 3, None, 2, 5),
    (("cotton", 50), 2, None, 1, 3.5),
    (("cotton", 60), 2, None, 1, 3.5),
    (("polyester", 50), 3, 5, 2, 5),
    (("polyester", 60), 3, 5, 2, 5),
    (("polyester", 100), 3, 5, 2, 5),
    (("silk", 100), 3, 5, 2, 5),
    (("polyester", 70, "monofilament"), 2.5, None, 1.5, 3.5),
    (("nylon", 90, "monofilament"), 2.5, None, 1.5, 3.5),
    (("cotton", 12), 3, None, 1.5, 5),
    (("metallic", 40), 1, None, 0.5, 2.5),
    (("metallic", 40, "film"), 1, None, 0.5, 2.5),
]


@pytest.mark.parametrize(("top", "center", "also", "low", "high"), TABLE)
def test_the_table_of_starts(top, center, also, low, high):
    found = start(thread(*top))
    assert (found.center, found.also, found.about, found.known) == (center, also, (low, high), True)
    assert found.words(DIAL) == (f"{center:.1f}" if also is None else f"{center:.1f} or {also:.1f}")


def test_nobody_knows_where_bobbin_work_and_an_unread_display_start():
    assert not start(thread("cotton", 5)).known
    assert not start(thread("cotton", 40), READOUT, None).known
    assert start(thread("cotton", 40), READOUT, 200).center == 200


class TestTheKnob:
    def test_the_issue_s_own_case(self):
        said = knob_advice(DIAL, 5.5, start(thread("cotton", 40)))
        assert said.text == "The knob is at 5.5. This thread starts at 3.0. Turn it down 2.5."
        assert (said.short, said.to, said.by) == ("turn down 2.5", 3, 2.5)

    @pytest.mark.parametrize("at", [2, 3, 4.5, 5])
    def test_a_knob_in_the_usual_range_is_no_finding(self, at):
        assert knob_advice(DIAL, at, start(thread("polyester", 60))) is None

    def test_automatic_is_about_five(self):
        metallic = knob_advice(DIAL, None, start(thread("metallic", 40)))
        assert metallic.text == (
            "Top tension is on automatic. This thread starts at 1.0. Take it off automatic and set 1.0."
        )
        assert metallic.short == "set 1.0"
        assert knob_advice(DIAL, None, start(thread("polyester", 50))) is None
        assert knob_advice(TURNS, None, start(thread("metallic", 40), TURNS)) is None

    def test_turns_and_displays_say_it_their_way(self):
        film = start(thread("metallic", 40, "film"), TURNS)
        assert knob_advice(TURNS, 0, film).text == (
            "The knob is at the mark. This thread starts 2½ turns out. Turn it 2½ turns out."
        )
        shown = knob_advice(READOUT, 300, start(thread("cotton", 40), READOUT))
        assert shown.text == "The display is at 300. This thread starts at 200. Turn it down 100."
        loose = knob_advice(READOUT, 100, start(thread("cotton", 40), READOUT))
        assert (loose.by, loose.short) == (-100, "turn up 100")

    def test_nothing_is_said_where_nobody_knows(self):
        assert knob_advice(DIAL, 9, start(thread("cotton", 5))) is None
        assert knob_advice(DIAL, 9, None) is None
