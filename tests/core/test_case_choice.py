"""Which case for a bobbin thread: what a case is kept for, what was found on it, what the change of thread does."""

import pytest

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, HandLook, ScrewTurned
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.bobbin.rack import BobbinCase
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.setup.case_choice import KnownCase, case_advice, learned_turn, learned_turns, second_case, why_not
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread

COTTON = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, system=WeightSystem.WT, value=50)
FINE = Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, system=WeightSystem.WT, value=80)
SILK = Thread(fiber=Fiber.SILK, construction=Construction.MULTIFILAMENT, system=WeightSystem.WT, value=100)


def case(label: str, kept_for: str, number: int, fault: str = "", last_mn: float | None = None) -> KnownCase:
    return KnownCase(id=number, spec=BobbinCase(label=label, kept_for=kept_for), fault=fault, last_mn=last_mn)


A, B = case("A", "polyester", 1), case("B", "cotton, cream", 2, last_mn=205)
ANY = case("E", "", 3)


class TestWhichCase:
    def test_the_case_kept_for_the_thread_is_named_with_its_last_reading(self):
        said = case_advice([A, B, ANY], COTTON, present=None)
        assert (said.case, said.text) == (2, "Case B is for cotton, cream. It last read 205 mN.")
        assert not said.wrong

    def test_nothing_is_said_where_it_is_in_already_or_nobody_keeps_one_for_it(self):
        assert case_advice([A, B], COTTON, present=2) is None
        assert case_advice([A, ANY], SILK, present=3) is None
        assert case_advice([], SILK, present=None) is None

    def test_a_case_kept_for_another_fiber_is_said_with_the_one_to_take(self):
        said = case_advice([A, B], COTTON, present=1)
        assert said.wrong
        assert said.text == (
            "Case A is for polyester, and this is cotton. Case B is for cotton, cream. It last read 205 mN."
        )
        alone = case_advice([A], COTTON, present=1)
        assert (alone.case, alone.text) == (None, "Case A is for polyester, and this is cotton.")

    def test_a_bent_case_is_never_the_one_to_take(self):
        bent = case("B", "cotton", 2, fault="bent")
        assert case_advice([A, bent], COTTON, present=None) is None
        said = case_advice([A, bent], COTTON, present=2)
        assert (said.wrong, said.case, said.text) == (True, None, "Case B is marked: bent. Use another case.")

    @pytest.mark.parametrize(
        ("kept_for", "thread", "speaks"),
        [
            ("polyester", COTTON, True),
            ("polyester", FINE, False),
            ("dark colors", COTTON, False),
            ("", COTTON, False),
            ("cotton and silk", SILK, False),
            ("Silk, 100 wt", COTTON, True),
        ],
    )
    def test_only_a_fiber_that_is_named_speaks_against(self, kept_for, thread, speaks):
        assert bool(why_not(case("Z", kept_for, 9), thread)) is speaks


TARGET = BobbinTarget(low=190, high=210)


def felt(feel: Feel) -> BobbinLook:
    return BobbinLook(test=HandLook.PALM, feel=feel, case=1)


def load(thread: int, number: int = 1) -> BobbinLoaded:
    return BobbinLoaded(bobbin=thread, case=number)


def turn(minutes: float) -> ScrewTurned:
    return ScrewTurned(case=1, minutes=minutes)


def read(mn: float) -> BobbinReading:
    return BobbinReading.of(ForceUnit.MN, (Pull(value=mn), Pull(value=mn)), TARGET, case=1)


RAYON, POLY = 5, 6
THERE = (load(RAYON), felt(Feel.RIGHT), load(POLY), felt(Feel.LOOSE), turn(5), felt(Feel.LOOSE), turn(5))
BACK = (felt(Feel.RIGHT), load(RAYON), felt(Feel.TIGHT), turn(-12), felt(Feel.RIGHT))


def same(number: int) -> int:
    return number


class TestTurnsByHand:
    def test_two_tests_that_felt_right_say_what_lies_between(self):
        assert learned_turns((*THERE, felt(Feel.RIGHT)), 1, same) == {(RAYON, POLY): [10]}

    def test_the_way_back_teaches_the_same_turn(self):
        learned = learned_turn((*THERE, *BACK, load(POLY)), load(POLY), same)
        assert (learned.minutes, learned.times) == (11, 2)
        assert learned.text == (
            "The last 2 times this thread came after that one, the screw went 10 to 12 minutes in. "
            "Turn it in 11 minutes, then feel it."
        )

    def test_a_reading_in_range_is_right_as_well_and_one_out_of_it_is_not(self):
        records = (load(RAYON), read(200), load(POLY), read(150), turn(8), read(180), turn(2), read(199))
        assert learned_turns(records, 1, same) == {(RAYON, POLY): [10]}

    @pytest.mark.parametrize(
        "records",
        [
            (*THERE,),
            (load(RAYON), felt(Feel.RIGHT), turn(4), load(POLY, 2), felt(Feel.RIGHT)),
            (load(RAYON), felt(Feel.RIGHT), load(POLY)),
        ],
        ids=["not right yet", "in another case", "never felt"],
    )
    def test_nothing_is_learned_of_what_was_not_right(self, records):
        assert learned_turns(records, 1, same) == {}
        assert learned_turn((*records, load(POLY)), load(POLY), same) is None

    def test_a_turn_made_before_the_other_thread_came_counts_and_one_of_another_case_does_not(self):
        records = (
            load(RAYON),
            felt(Feel.RIGHT),
            turn(6),
            ScrewTurned(case=2, minutes=30),
            load(POLY),
            felt(Feel.RIGHT),
        )
        assert learned_turns(records, 1, same) == {(RAYON, POLY): [6]}

    def test_it_is_said_once_and_only_from_a_thread_that_was_right_under_this_screw(self):
        told = (*THERE, felt(Feel.RIGHT), load(RAYON))
        assert learned_turn(told, load(RAYON), same).minutes == -10
        assert learned_turn((*told, turn(-10)), load(RAYON), same) is None
        assert learned_turn((*told, felt(Feel.TIGHT)), load(RAYON), same) is None
        assert learned_turn((load(POLY), *THERE[:1]), load(RAYON), same) is None

    def test_no_turn_is_said_as_none(self):
        records = (load(RAYON), felt(Feel.RIGHT), load(POLY), felt(Feel.RIGHT), load(RAYON))
        learned = learned_turn(records, load(RAYON), same)
        assert (learned.minutes, learned.text) == (
            0,
            "The last time this thread came after that one, the screw stayed where it was. Leave it, and feel it.",
        )


class TestASecondCase:
    LOADS = (BobbinLoaded(bobbin=2, case=1), BobbinLoaded(bobbin=3, case=1))

    def said(self, *loads: BobbinLoaded) -> str:
        return second_case([*loads, self.LOADS[1]], self.LOADS[1], lambda number: {7: 2}.get(number, number), 4.6)

    def test_where_the_screw_is_turned_often_a_second_case_saves_it(self):
        one, other = self.LOADS
        assert self.said(one, other, one, other, one) == (
            "You changed between these two threads 5 times in 6 bobbins, about 5 minutes' work each. "
            "A second case set for one of them saves that."
        )
        # Another color of the line is the same thread.
        assert self.said(BobbinLoaded(bobbin=7, case=1), other, one, other, one)

    def test_seldom_or_in_another_case_or_for_bobbin_work_says_nothing(self):
        one, other = self.LOADS
        assert self.said(one, other, one, *[one] * 28) == ""
        assert self.said(one, other, one, other) == ""
        elsewhere = BobbinLoaded(bobbin=2, case=2)
        assert self.said(elsewhere, other, elsewhere, other, elsewhere) == ""
        work = BobbinLoaded(bobbin=2, case=1, bobbin_work=True)
        assert self.said(work, other, work, other, work) == ""
