"""How a hand's looks are believed: against every course of hidden states, and hands that were drawn before."""

from itertools import pairwise, product

import numpy as np
import pytest
from scipy import stats

from weftonos.core.bobbin.events import BobbinLook, Feel, HandLook, ScrewTurned
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.felt import Then, UnderOneScrew, by_hand
from weftonos.core.setup.may_wait import bobbins_before, off_by_hand

LOAD = BobbinLoaded(bobbin=2, case=1)
RIGHT, LOOSE, TIGHT = (
    BobbinLook(test=HandLook.HANG, feel=feel, case=1) for feel in (Feel.RIGHT, Feel.LOOSE, Feel.TIGHT)
)


class DrawnCase:
    """A case whose bobbins are right for a long time, and a hand that errs; it knows nothing of the program."""

    def __init__(self, seed: int, errs: float, moves: float = 0.03) -> None:
        self.luck = np.random.default_rng([seed, int(1000 * errs)])
        self.errs, self.moves, self.right = errs, moves, True

    def load(self) -> None:
        if self.luck.random() < self.moves:
            self.right = not self.right

    def feel(self) -> BobbinLook:
        says_right = self.right is not (self.luck.random() < self.errs)
        return RIGHT if says_right else self.luck.choice([LOOSE, TIGHT])

    def turn(self) -> None:
        """It comes out right where it was off, and off where it was right, four times in five."""
        self.right = not self.right if self.luck.random() < 0.8 else self.right


def season(case: DrawnCase, bobbins: int = 40) -> tuple[list[object], int, int]:
    """Feel each bobbin and do what is said: the records, and how often a right and a wrong screw was turned."""
    records: list[object] = []
    spoiled = mended = 0
    for _ in range(bobbins):
        case.load()
        records.append(LOAD)
        for _ in range(6):
            records.append(case.feel())
            off = off_by_hand(bobbins_before(records, 2, 1, int))
            if off is None or off.then is Then.LEAVE:
                break
            if off.then is Then.TURN:
                spoiled, mended = spoiled + case.right, mended + (not case.right)
                case.turn()
                records.append(ScrewTurned(case=1, minutes=5))
    return records, spoiled, mended


def test_the_chance_is_that_of_every_course_of_states_and_every_hand():
    """By adding up all courses, at each of the hands that may be: the prior is SciPy's beta distribution."""
    screws = [
        UnderOneScrew(at_first=0.75, bobbins=[(Feel.LOOSE, Feel.RIGHT), (), (Feel.RIGHT,)]),
        UnderOneScrew(at_first=0.5, bobbins=[(Feel.RIGHT,), (Feel.TIGHT,)]),
    ]
    hands = np.arange(1, 25) / 50
    total = right = wrong = 0.0
    for hand in hands:
        weight, last = stats.beta(1.5, 8.5).pdf(hand), 0.0
        for screw in screws:
            likely = ends_right = 0.0
            for states in product((True, False), repeat=len(screw.bobbins) + 1):
                course = screw.at_first if states[0] else 1 - screw.at_first
                for now, then in pairwise(states):
                    course *= 0.95 if now is then else 0.05
                for state, feels in zip(states[1:], screw.bobbins, strict=True):
                    for feel in feels:
                        course *= 1 - hand if state is (feel is Feel.RIGHT) else hand
                likely += course
                ends_right += course * states[-1]
            weight, last = weight * likely, ends_right / likely
        total, right, wrong = total + weight, right + weight * last, wrong + weight * hand
    found = by_hand(screws)
    assert found.chance == pytest.approx(right / total)
    assert found.wrong == pytest.approx(wrong / total)
    assert found.looks == 5


@pytest.mark.parametrize("errs", [0.03, 0.15, 0.32])
def test_how_often_a_hand_errs_is_learned_from_its_own_looks(errs):
    """Forty drawn cases, with a hand for each: nearer to it than anybody's fifteen in a hundred, or as near."""
    learned = []
    for seed in range(40):
        records, _, _ = season(DrawnCase(seed, errs))
        before = bobbins_before(records, 2, 1, int)
        screws = [
            UnderOneScrew(at_first=0.6, bobbins=[b.feels for b in before if b.turn == turn])
            for turn in {b.turn for b in before}
        ]
        learned.append(by_hand(screws).wrong)
    assert abs(np.mean(learned) - errs) < max(0.05, 0.6 * abs(0.15 - errs))


def test_an_unsteady_hand_spoils_fewer_screws_than_one_that_is_believed_the_second_time():
    """Forty bobbins a case, a hand that errs one time in three. Believed at its second look it would turn far more."""

    def believed(case: DrawnCase) -> int:
        spoiled = 0
        for _ in range(40):
            case.load()
            for _ in range(3):
                if case.feel() is RIGHT or case.feel() is RIGHT:
                    break
                spoiled += case.right
                case.turn()
        return spoiled

    ours = [season(DrawnCase(seed, 0.32)) for seed in range(60)]
    theirs = sum(believed(DrawnCase(seed, 0.32)) for seed in range(60))
    assert sum(spoiled for _, spoiled, _ in ours) < 0.75 * theirs


@pytest.mark.parametrize("errs", [0.03, 0.15])
def test_a_steady_hand_is_still_believed(errs):
    """Of the turns that it makes most are of screws that were off."""
    ours = [season(DrawnCase(seed, errs, moves=0.1)) for seed in range(60)]
    spoiled, mended = (sum(each[n] for each in ours) for n in (1, 2))
    assert mended > 60
    assert mended > (10 if errs < 0.1 else 2) * spoiled


def test_what_is_said_of_a_bobbin_that_felt_off():
    def says(*records: object):
        return off_by_hand(bobbins_before(records, 2, 1, int))

    assert says(LOAD, RIGHT) is None
    assert says(LOAD, LOOSE).text == "A hand feels it wrong about one time in seven. Feel it once more before you turn."
    assert says(LOAD, LOOSE, LOOSE).then is Then.TURN
    unsteady = 8 * [LOAD, TIGHT, RIGHT, LOAD, RIGHT, LOAD, RIGHT]
    left = says(*unsteady, LOAD, LOOSE, LOOSE)
    assert left.then is Then.LEAVE
    assert left.text == (
        "Your hand feels it wrong about one time in four. More likely your hand than the screw. Leave it as it is, and "
        "let the test line decide."
    )
