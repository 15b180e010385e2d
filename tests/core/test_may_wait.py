"""Whether a bobbin may go unread: against a prediction interval from statsmodels, and what ends the waiting."""

import math

import numpy as np
import pytest
import statsmodels.api as sm

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, HandLook, ScrewTurned
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.bobbin.own_number import EXPECTED_SPREAD, EXPECTED_WEIGHS
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.care import Care
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.standing import Standing
from weftonos.core.mend.incident import IncidentOutcome, Outcome
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.felt import UnderOneScrew, by_hand
from weftonos.core.setup.may_wait import (
    LEAST_OWN,
    about,
    bobbins_before,
    left_unread,
    may_wait,
    off_by_hand,
)

TARGET = BobbinTarget(low=180, high=220, origin="a throat", standing=Standing.COMMON_PRACTICE)
LOAD = BobbinLoaded(bobbin=2, case=1)
SIX = (198.0, 203.0, 200.0, 196.0, 204.0, 201.0)


def reading(*mn: float, case: int | None = 1) -> BobbinReading:
    pulls = tuple(Pull(value=v) for v in mn) if len(mn) == 1 else (Pull(low=mn[0], high=mn[1]),)
    return BobbinReading.of(ForceUnit.MN, pulls, TARGET, case=case)


def asked(*records: object, thread: int = 2, case: int | None = 1):
    return may_wait(bobbins_before(records, thread, case, lambda number: {5: 2}.get(number, number)), TARGET)


def read(*mn: float) -> list[object]:
    return [record for each in mn for record in (LOAD, reading(each))]


def test_six_that_read_alike_let_the_seventh_wait_and_the_seventh_unread_one_is_read():
    waits = asked(*read(*SIX), LOAD)
    assert waits.text == (
        "The last 6 bobbins of this thread read 196 to 204 mN in this case with the screw as it is: "
        f"{waits.chance:.0%} that this one is in its range. Every seventh is read."
    )
    assert about(waits) == "about 200 mN"
    waited = [asked(*read(*SIX), *[LOAD] * n) is not None for n in range(12)]
    assert waited == [False, *[True] * 6, *[False] * 5]


def test_how_often_one_is_another_than_those_before_it_says_which_is_read_next():
    """Under one screw now and then one read a third more: its reading is asked for sooner than where none ever did."""

    def next_read(*mn: float, care: Care = Care.USUAL) -> str:
        before = bobbins_before([*read(*mn), LOAD], 2, 1, lambda number: number)
        return may_wait(before, TARGET, care).text.rsplit(". ", 1)[1]

    assert next_read(*SIX[:2]) == "Every fifth is read."
    assert next_read(*SIX) == "Every seventh is read."
    assert next_read(*SIX, *SIX, *SIX) == "Every tenth is read."
    assert next_read(*SIX, *SIX, *SIX, care=Care.MATTERS) == "Every fifth is read."
    # A screw that slipped twice in ten bobbins, each time seen and turned back.
    wild = [LOAD, reading(200), LOAD, reading(270), ScrewTurned(case=1, minutes=-12)]
    slips = bobbins_before([*read(*SIX), *wild, *wild, *read(*SIX[:3]), LOAD], 2, 1, lambda number: number)
    assert may_wait(slips, BobbinTarget(low=120, high=280, origin="wide", standing=Standing.ESTIMATE)).text.endswith(
        "Every third is read."
    )


def test_why_one_may_wait_that_is_not_plainly_in_its_range():
    scattered = asked(*read(182, 218, 186, 214, 188, 207), LOAD)
    assert scattered.chance < 0.9
    assert scattered.text.endswith("is in its range. If not, it's probably only a little out. Every seventh is read.")


def test_one_that_may_be_another_is_not_called_a_little_out():
    """After three unread ones it is the bobbins nobody looked at that lower the chance: out by any amount."""
    fourth = asked(*read(*SIX), *[LOAD] * 4)
    assert fourth.chance < 0.9
    assert "a little out" not in fourth.text


def test_its_chance_is_that_of_a_prediction_interval_without_the_hand_s_own_error():
    waits = asked(*read(*SIX), LOAD)
    fitted = sm.OLS(np.array(SIX), np.ones(6)).fit()
    # The expected spread weighs as four values more: squares and degrees of freedom are added.
    freedom = EXPECTED_WEIGHS.value + fitted.df_resid
    drawn = (fitted.ssr + EXPECTED_WEIGHS.value * (EXPECTED_SPREAD.value * np.mean(SIX)) ** 2) / freedom
    # statsmodels' own spread of the mean for the plain sample, scaled to the spread that is drawn to what is expected.
    of_the_mean = fitted.get_prediction([1.0]).se_mean[0] ** 2 * drawn / fitted.scale
    hand = np.mean([(reading(mn).scatter_mn / mn * np.mean(SIX)) ** 2 for mn in SIX])
    spread = math.sqrt(max(drawn - hand, drawn * LEAST_OWN.value**2) + of_the_mean)
    chance = np.random.default_rng(4).standard_t(freedom, 400_000) * spread + np.mean(SIX)
    assert waits.chance == pytest.approx(np.mean((chance > 180) & (chance < 220)), abs=0.002)


@pytest.mark.parametrize("hand", [0.025, 0.07])
@pytest.mark.parametrize("scatter", [0.015, 0.04])
def test_the_chance_is_the_bobbin_s_and_no_further_reading_s(hand, scatter):
    """Bobbins of a world of our own, read by a steady and an unsteady hand: as many are in their range as was said."""
    luck = np.random.default_rng([27, int(1000 * hand), int(1000 * scatter)])
    said, so = [], []
    for _ in range(1500):
        middle = luck.uniform(188, 212)
        bobbins = middle * (1 + luck.normal(0, scatter, 6))
        pulls = [bobbin * (1 + luck.normal(0, hand, 3)) for bobbin in bobbins[:-1]]
        before = [
            record
            for each in pulls
            for record in (LOAD, BobbinReading.of(ForceUnit.MN, tuple(Pull(value=v) for v in each), TARGET, case=1))
        ]
        waits = may_wait(bobbins_before([*before, LOAD], 2, 1, lambda number: number), TARGET, Care.SCRAP)
        if waits is not None:
            said.append(waits.chance)
            so.append(180 < bobbins[-1] < 220)
    assert len(said) > 300
    # Never plainly surer than it is so. Under an unsteady hand it stays a little less sure.
    assert np.mean(so) - 0.1 < np.mean(said) < np.mean(so) + 0.03


@pytest.mark.parametrize(
    ("then", "why"),
    [
        ([ScrewTurned(case=1, minutes=5)], "nothing was read since the screw was turned"),
        ([reading(150.0, 250.0), LOAD], "it fluttered"),
        ([IncidentOutcome(incident=1, outcome=Outcome.CURED, cause="lint_under_case_spring")], "lint came out"),
    ],
)
def test_what_happens_to_the_case_ends_the_waiting(then, why):
    assert asked(*read(*SIX), LOAD, *then) is None, why


def test_only_its_own_thread_in_its_own_case_counts():
    other, elsewhere = BobbinLoaded(bobbin=3, case=1), BobbinLoaded(bobbin=2, case=2)
    assert asked(*read(*SIX), other, thread=3) is None
    assert asked(*read(*SIX), elsewhere, case=2) is None
    assert asked(*read(*SIX), BobbinLoaded(bobbin=5, case=1), thread=5) is not None, "another color of the line"
    # A screw of another case turns nothing here.
    assert asked(*read(*SIX), ScrewTurned(case=2, minutes=5), LOAD) is not None


def test_a_screw_that_was_turned_is_known_again_from_one_reading_and_the_scatter_of_all():
    turned = [*read(*(1.2 * x for x in SIX)), ScrewTurned(case=1, minutes=-5), reading(200), LOAD]
    one = asked(*turned)
    assert one.text.startswith("The last bobbin of this thread read 200 mN in this case with the screw as it is")
    # The level rests on one value: twice the variance that a long run would leave.
    run = asked(*read(*[200.0] * 12), LOAD)
    assert 0.8 < one.chance < run.chance
    # Those before the turn tell of the scatter, not of where the screw stands now.
    assert one.about_mn == 200
    assert asked(*read(*SIX), ScrewTurned(case=1, minutes=5), reading(230), LOAD) is None, "out of its range"


def test_few_or_scattered_readings_or_no_range_say_nothing():
    assert asked(*read(*SIX[:1]), LOAD) is None
    assert asked(*read(160, 240, 165, 235, 160, 240), LOAD) is None
    before = bobbins_before([*read(*SIX), LOAD], 2, 1, lambda number: number)
    assert may_wait(before, None) is None


RIGHT, LOOSE = (BobbinLook(test=HandLook.HANG, feel=feel, case=1) for feel in (Feel.RIGHT, Feel.LOOSE))


def felt(*looks: BobbinLook) -> list[object]:
    return [record for look in looks for record in (LOAD, look)]


def test_by_hand_one_that_felt_right_lets_the_next_ones_wait_until_they_may_have_changed():
    turned = [LOAD, LOOSE, ScrewTurned(case=1, minutes=5), RIGHT]
    assert asked(*turned[:-1], LOAD) is None, "nobody knows how a screw stands that was turned"
    once = asked(*turned, LOAD)
    assert once.text.startswith("The last bobbin of this thread felt right on this screw")
    assert once.text.endswith("Every third is felt.")
    assert asked(*felt(RIGHT), LOAD) is not None
    waits = asked(*felt(RIGHT, RIGHT), LOAD)
    assert waits.text.startswith("The last 2 bobbins of this thread felt right on this screw")
    assert about(waits) == "as the last ones"
    unread = [asked(*felt(RIGHT, RIGHT, RIGHT), *[LOAD] * n) for n in range(1, 6)]
    assert [each.chance for each in unread if each] == sorted((each.chance for each in unread if each), reverse=True)
    assert unread[0] is not None
    assert unread[4] is None
    assert asked(*felt(RIGHT, RIGHT, RIGHT), LOAD, LOOSE, LOAD) is None


@pytest.mark.parametrize("felt_it", [True, False])
def test_it_waits_only_while_a_reading_would_take_longer_than_it_should_save(felt_it):
    records = [*(felt(*[RIGHT] * 4) if felt_it else read(*SIX[:3])), LOAD]
    for n in range(4):
        before = bobbins_before([*records, *[LOAD] * n], 2, 1, lambda number: number)
        for care, minutes in ((Care.MATTERS, 15), (Care.USUAL, 5), (Care.SCRAP, 0.5)):
            waits = may_wait(before, TARGET, care)
            if waits is not None:
                # Two looks that say off turn a screw: what is off and felt so, less what is right and felt wrong.
                stands = by_hand([UnderOneScrew(at_first=0.75, bobbins=[bobbin.feels for bobbin in before])])
                felt_off = (1 - stands.chance) * (1 - stands.wrong) ** 2 - stands.chance * stands.wrong**2
                saves, takes = (felt_off, 0.7) if felt_it else (1 - waits.chance, 1.5)
                assert saves * minutes <= takes
        waiting = [may_wait(before, TARGET, care) is not None for care in (Care.MATTERS, Care.USUAL, Care.SCRAP)]
        assert waiting == sorted(waiting), "the more hangs on a quilt, the sooner it is read"


@pytest.mark.parametrize("readings", [SIX, (188, 192, 185, 190), (176, 183, 180, 178), (181, 219, 185, 215, 180, 220)])
def test_what_a_reading_should_save_is_that_of_drawn_bobbins(readings):
    """A bobbin a little out of its range does a little: against a million drawn from the same distribution."""
    before = bobbins_before([*read(*readings), LOAD], 2, 1, lambda number: number)
    mean, count = np.mean(readings), len(readings)
    freedom = EXPECTED_WEIGHS.value + count - 1
    squares = sum((x / mean - 1) ** 2 for x in readings)
    scatter = math.sqrt((EXPECTED_WEIGHS.value * EXPECTED_SPREAD.value**2 + squares) / freedom)
    hand = np.mean([(reading(mn).scatter_mn / mn) ** 2 for mn in readings])
    own = max(scatter**2 - hand, (LEAST_OWN.value * scatter) ** 2)
    drawn = np.random.default_rng(7).standard_t(freedom, 1_000_000) * mean * math.sqrt(own + scatter**2 / count) + mean
    # A quarter higher moves the balance by a dial number; six in a hundred is what nobody tells apart.
    out = np.maximum.reduce([180 - drawn, drawn - 220, abs(drawn - mean) - 0.06 * mean, np.zeros(len(drawn))])
    saves = np.mean(np.minimum(1, out / (0.25 * mean)))
    in_range = np.mean((drawn > 180) & (drawn < 220))
    for care, minutes in ((Care.MATTERS, 15), (Care.USUAL, 5), (Care.SCRAP, 0.5)):
        if abs(saves * minutes - 1.5) > 0.05 and abs(in_range - 0.5) > 0.01:
            assert (may_wait(before, TARGET, care) is not None) == (saves * minutes < 1.5 and in_range > 0.5)


def test_a_look_by_hand_that_says_otherwise_than_the_one_before_is_repeated_once():
    right, loose = RIGHT, LOOSE

    def again(*records: object) -> str:
        off = off_by_hand(bobbins_before(records, 2, 1, lambda number: number))
        return off.text if off else ""

    assert again(LOAD, right, LOAD, loose) == (
        "The bobbin before it felt right with this screw. Feel it once more before you turn."
    )
    assert again(LOAD, right, LOAD, loose, loose) == "", "felt twice: now it is believed"
    assert again(LOAD, loose, LOAD, loose) == ""
    assert again(LOAD, right, LOAD, right) == ""
    assert again(LOAD, right, ScrewTurned(case=1, minutes=5), loose) == "", "the screw was turned"
    assert again(LOAD, loose) == "A hand feels it wrong about one time in seven. Feel it once more before you turn."
    assert again(LOAD, loose, loose) == ""


def test_one_that_came_after_another_thread_is_not_taken_for_left_unread():
    """Its screw may have been turned as before, and then it may wait: that is not leaving it out."""
    swap = [BobbinLoaded(bobbin=3, case=1), LOAD, ScrewTurned(case=1, minutes=9)]

    def left(*records: object) -> bool:
        return left_unread(bobbins_before(records, 2, 1, lambda number: number), TARGET) is not None

    assert left(*[LOAD] * 12)
    assert not left(*swap * 12, LOAD)
    # Each counts once, whether its screw was turned before it was read or not.
    turned_first = bobbins_before([*read(200), *swap, reading(201), LOAD], 2, 1, lambda number: number)
    assert [bobbin.read_mn for bobbin in turned_first] == [200, 201, None]


def test_a_case_that_was_mended_is_known_again_from_one_reading():
    cured = IncidentOutcome(incident=1, outcome=Outcome.CURED, cause="lint_under_case_spring")
    assert asked(*read(*SIX), cured, LOAD) is None
    again = asked(*read(*SIX), cured, *read(200), LOAD)
    assert again.text.startswith("The last bobbin of this thread read 200 mN in this case with the screw as it is")
    in_between = bobbins_before([*read(200), LOAD, cured, reading(201)], 2, 1, int)
    assert [bobbin.read_mn for bobbin in in_between] == [200, 201], "one bobbin, before and after the cure"
    assert asked(cured, *read(200), LOAD) is None, "what its bobbins scatter by is not known"
    flutters = reading(150.0, 250.0)
    assert asked(*read(*SIX), LOAD, flutters, *read(200), LOAD) is None


def test_by_hand_it_is_learned_how_often_a_turn_comes_out_right_at_once():
    """After a turn that is half a chance before it shows: two turns' weight, and what came of each since."""

    def chance(*turns: BobbinLook) -> float:
        before = [record for look in turns for record in (LOAD, ScrewTurned(case=1, minutes=5), look)]
        found = may_wait(
            bobbins_before([LOAD, RIGHT, *before, LOAD, ScrewTurned(case=1, minutes=-5), RIGHT, LOAD], 2, 1, int),
            TARGET,
            Care.SCRAP,
        )
        return found.chance

    def known(at_first: float, *turns: Feel) -> float:
        screws = [UnderOneScrew(at_first=0.75, bobbins=[(Feel.RIGHT,)])]
        screws += [UnderOneScrew(at_first=at_first, bobbins=[(feel,)]) for feel in turns]
        return by_hand([*screws, UnderOneScrew(at_first=at_first, bobbins=[(Feel.RIGHT,), ()])]).chance

    right, loose = Feel.RIGHT, Feel.LOOSE
    assert chance() == pytest.approx(known(0.5))
    assert chance(RIGHT, RIGHT) == pytest.approx(known((1 + 2) / 4, right, right))
    assert chance(RIGHT, LOOSE) == pytest.approx(known((1 + 1) / 4, right, loose))
    assert chance(LOOSE, LOOSE) == pytest.approx(known(1 / 4, loose, loose))
