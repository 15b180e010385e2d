"""What things take in one's own hands: against people of our own making, SciPy's laws, and a mixed model."""

from dataclasses import replace
from datetime import datetime, timedelta
from itertools import pairwise

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from scipy.integrate import quad
from scipy.optimize import brentq
from scipy.stats import gamma, weibull_min

from weftonos.core.balance.worth import TEST_LINE
from weftonos.core.kernel.care import TROUBLE, Care
from weftonos.core.kernel.own_minutes import own_minutes, pays_at
from weftonos.core.kernel.schools import LifeSchool
from weftonos.core.log.own_minutes import OwnMinutes, RecordMoment, minutes_by
from weftonos.core.mend.diagnosis import (
    UNLIKELY,
    CheckAnswer,
    Inquiry,
    Observed,
    diagnose,
    expected_minutes,
    order_checks,
    posterior,
)
from weftonos.core.mend.incident import Incident, IncidentAnswer, IncidentCheck
from weftonos.core.mend.own_pace import TimedCheck, timed_checks, with_own_pace
from weftonos.core.mend.trouble import FindingKind, Knowledge
from weftonos.core.mend.upkeep import (
    CLEANING,
    LINT_SHAPE,
    CleaningWorth,
    OwnLint,
    UpkeepKind,
    cleaning_pays_at,
    upkeep_state,
)
from weftonos.core.needle.life import CHANGE, needle_life
from weftonos.core.needle.needle import NeedleFinish
from weftonos.core.setup.may_wait import USUAL_MINUTES
from weftonos.knowledge import troubles

KNOWN = troubles()
NOON = datetime(2026, 11, 20, 12)
FRAYS = Inquiry(evidence=Observed.of(KNOWN, ["frays_above_the_eye"]))


@pytest.mark.parametrize("true", [1.0, 2.0, 5.0])
def test_whose_hands_pause_and_note_in_one_go_is_timed_all_the_same(true):
    luck = np.random.default_rng(7)
    works = true * np.exp(luck.normal(0, 0.25, 40))
    pauses, at_once = luck.uniform(20, 900, 12), luck.uniform(0, 0.2, 12)
    assert own_minutes([*works, *pauses, *at_once], 2) == pytest.approx(true, rel=0.12)
    assert own_minutes([*works[:5], *pauses], 2) == 2, "five say too little"


def moments(*steps: tuple[str, float]) -> list[RecordMoment]:
    """Return records by kind, each so many minutes after the one before."""
    found, at = [], NOON
    for kind, minutes in steps:
        at += timedelta(minutes=minutes)
        name, _, detail = kind.partition(":")
        found.append(RecordMoment(name, detail or None, at))
    return found


def test_another_thread_and_another_bobbin_are_timed_from_the_run_before():
    pass_ends = [("run", 40), ("top_threaded", 5), ("bobbin_loaded", 1), ("run", 30), ("bobbin_loaded", 3.5)]
    found = minutes_by(moments(*pass_ends * 7)).changes(gauge=True)
    assert (found.thread, found.bobbin) == (5, 3.5)
    # A needle that takes what one with its thread takes by common practice was timed all the same.
    assert minutes_by(moments(*[("run", 40), ("needle_fitted", 3)] * 7)).changes(gauge=True).needle == 3
    # After a trouble it takes what the trouble takes.
    trouble = minutes_by(moments(*[("incident", 9), ("top_threaded", 5)] * 7)).changes(gauge=True)
    assert trouble.thread == 2


def test_each_thing_is_timed_by_what_is_noted_before_it():
    evening = [
        *(("bobbin_loaded", 400), ("bobbin_reading", 2.5), ("screw_turned", 3), ("bobbin_reading", 2.5)),
        *(("look", 5), ("knob_set", 0.2), ("look", 2.8), ("run", 90)),
        *(("needle_retired", 4.5), ("needle_fitted", 0), ("run", 60), ("upkeep:cleaning", 8), ("upkeep:oiling", 1)),
    ]
    found = minutes_by(moments(*evening * 7))
    assert (found.line, found.needle, found.cleaning) == (3.0, 4.5, 8)
    assert (found.bobbin.reading, found.bobbin.by_hand) == (2.5, USUAL_MINUTES.by_hand)
    # A plan's changes take the same: a screw five, with a reading that takes one and a half as usual.
    changes = found.changes(gauge=True)
    assert (changes.needle, changes.test_line, changes.cleaning, changes.screw) == (4.5, 3.0, 8, 5 + 2.5 - 1.5)
    assert (changes.thread, changes.bobbin) == (2, 2), "none was timed"
    assert found.changes(gauge=False).screw == 5
    by_hand = minutes_by(moments(*[("bobbin_loaded", 300), ("bobbin_look", 1.2)] * 6)).bobbin
    assert by_hand.by_hand == pytest.approx(1.2)
    # Something else came between: that took its own time.
    other = minutes_by(moments(*[("bobbin_loaded", 300), ("look", 2), ("bobbin_reading", 2.5)] * 9))
    assert other.bobbin == USUAL_MINUTES
    assert minutes_by([]) == OwnMinutes()
    assert (OwnMinutes().line, OwnMinutes().needle) == (TEST_LINE.value, CHANGE.value)


@pytest.mark.parametrize(("shape", "takes", "costs"), [(2.0, 5, 20), (3.0, 3, 6.5), (3.0, 1, 15), (1.5, 9, 12)])
def test_it_pays_where_the_trouble_ahead_costs_what_seeing_to_it_takes(shape, takes, costs):
    def trouble_ahead(hours: float, scale: float) -> float:
        wears = weibull_min(shape, scale=scale)
        return 1 - wears.sf(hours + 2) / wears.sf(hours)

    scale = brentq(lambda s: 20 * trouble_ahead(8, s) - 5, 1, 400)
    at = pays_at(8, shape, usually=(5, 20), here=(takes, costs))
    if 0 < at < 81:
        assert costs * trouble_ahead(at, scale) == pytest.approx(takes, rel=1e-3)


@pytest.mark.parametrize("every", [4, 8])
@pytest.mark.parametrize("often", [0.2, 1.0, 3.0])
def test_cleaning_by_one_s_own_lint_costs_less_an_hour_than_by_the_usual_hours(often, every):
    """A machine of our own: lint comes to trouble by Weibull's law, so many times as often as is usual."""
    ahead = (8 + 2) ** LINT_SHAPE.value - 8**LINT_SHAPE.value
    k = -np.log(1 - CLEANING.value / TROUBLE[Care.USUAL].value) / ahead * often
    luck = np.random.default_rng(3)
    hours, count, cleanings = 0.0, 0, 0
    while hours < 80:
        until = luck.exponential(1 / k) ** (1 / LINT_SHAPE.value)
        count += until < every
        cleanings += 1
        hours += min(until, every)
    at = cleaning_pays_at(8.0, CleaningWorth(lint=OwnLint(troubles=count, hours=hours, cleanings=cleanings)))

    def cost(every: float) -> float:
        lasts = quad(lambda h: np.exp(-k * h**LINT_SHAPE.value), 0, every)[0]
        trouble = 1 - np.exp(-k * every**LINT_SHAPE.value)
        return (CLEANING.value + trouble * TROUBLE[Care.USUAL].value) / lasts

    assert (at > 8) is (often < 1) or often == 1
    assert cost(at) <= cost(8.0) * 1.02


def test_own_lint_is_the_mean_of_a_gamma_distribution():
    ahead = (8 + 2) ** LINT_SHAPE.value - 8**LINT_SHAPE.value
    expected = 5 * -np.log(1 - CLEANING.value / TROUBLE[Care.USUAL].value) / ahead * 8**LINT_SHAPE.value
    rate = gamma(a=2 + 4, scale=1 / (2 + expected)).mean()
    found = cleaning_pays_at(8.0, CleaningWorth(lint=OwnLint(troubles=4, hours=40, cleanings=4)))
    assert found == pytest.approx(8 * rate ** (-1 / LINT_SHAPE.value), rel=1e-6)


def test_who_cleans_often_and_sees_no_lint_is_not_told_to_wait():
    def after(cleanings: int) -> float:
        return cleaning_pays_at(8.0, CleaningWorth(lint=OwnLint(troubles=0, hours=60, cleanings=cleanings)))

    assert 8 < after(40) < after(15) < after(6) == after(0)


def test_what_moves_a_cleaning_is_said():
    says = {care: upkeep_state(UpkeepKind.CLEANING, 6, [], CleaningWorth(care=care)) for care in Care}
    assert [says[care].due for care in Care] == [True, False, False]
    assert says[Care.MATTERS].text == "6.0 stitching hours ago, so it's due. This quilt matters, so clean sooner."
    assert says[Care.USUAL].text == "6.0 stitching hours ago, due in 2.0"
    assert says[Care.SCRAP].text.endswith(". This is scrap, so it may wait longer.")
    lint = upkeep_state(UpkeepKind.CLEANING, 6, [], CleaningWorth(lint=OwnLint(troubles=6, hours=40, cleanings=4)))
    assert lint.text.endswith(" Lint made trouble 6 times in 40 hours.")
    assert lint.after is not None and lint.after < 8
    late = upkeep_state(UpkeepKind.CLEANING, 15, [], CleaningWorth(lint=OwnLint(troubles=0, hours=80, cleanings=9)))
    assert late.text == "15.0 stitching hours ago, so it's due"
    assert late.after is not None and late.after > 9
    quick = upkeep_state(UpkeepKind.CLEANING, 6, [], CleaningWorth(minutes=2))
    assert quick.text.endswith("A cleaning takes you about 2 minutes, so it's due sooner.")
    # However much or little speaks for it, it's looked at between half the usual hours and half as many again.
    ends = [CleaningWorth(care=Care.MATTERS, minutes=1, lint=OwnLint(troubles=40, hours=40, cleanings=4))]
    ends.append(CleaningWorth(care=Care.SCRAP, minutes=20, lint=OwnLint(troubles=0, hours=400, cleanings=9)))
    assert [cleaning_pays_at(8.0, end) for end in ends] == [4, 12]
    # Oil goes by the machine's manual.
    worth = CleaningWorth(care=Care.MATTERS, minutes=1)
    assert upkeep_state(UpkeepKind.OILING, 6, [], worth) == upkeep_state(UpkeepKind.OILING, 6, [])


def test_a_change_that_takes_long_waits_longer_and_says_so():
    slow = needle_life(LifeSchool.HOURS, NeedleFinish.STEEL, 6, 1, change=5)
    assert not slow.is_due
    assert slow.text.endswith("A change takes you about 5 minutes, so it's due later.")
    assert needle_life(LifeSchool.HOURS, NeedleFinish.STEEL, 6.4, 1, change=3.2).text == "6.4 h on it: due now."


def steps(*each: tuple[float, Incident | IncidentCheck | IncidentAnswer]):
    return [(NOON + timedelta(minutes=minutes), step) for minutes, step in each]


def test_a_check_takes_the_time_since_what_was_noted_before_it():
    def check(cause: str, answer: CheckAnswer = CheckAnswer.NOT_IT) -> IncidentCheck:
        return IncidentCheck(incident=1, cause=cause, answer=answer)

    path = steps(
        (0, Incident(symptoms=("frays_above_the_eye",))),
        (2, check("heat")),
        (2.5, IncidentAnswer(incident=1, finding="only_at_speed", present=True)),
        (4, check("burr_on_plate", CheckAnswer.CANNOT_TELL)),
        (9, check("case_bent", CheckAnswer.SKIPPED)),
        (10, check("needle_dull_burred_bent", CheckAnswer.FOUND)),
    )
    assert timed_checks(path) == [
        TimedCheck("heat", 2),
        TimedCheck("burr_on_plate", 1.5),
        TimedCheck("needle_dull_burred_bent", 1),
    ]
    assert timed_checks(path[:1]) == []


def test_what_one_s_hands_take_is_nearer_the_truth_than_the_page_and_near_a_mixed_model():
    """A person of our own: half as long again as the page, each check by its own; and statsmodels' own estimate."""
    luck = np.random.default_rng(11)
    causes = [cause for cause in KNOWN.causes if not cause.technician]
    truth = {cause.id: cause.minutes * 1.5 * np.exp(luck.normal(0, 0.3)) for cause in causes}
    made = luck.choice([cause.id for cause in causes], 300)
    timed = [TimedCheck(name, truth[name] * np.exp(luck.normal(0, 0.35))) for name in made]
    own = with_own_pace(KNOWN, timed)
    often = {name for name in truth if sum(check.cause == name for check in timed) >= 4}
    error = {
        what: np.mean([abs(np.log(known.cause(name).minutes / truth[name])) for name in often])
        for what, known in (("page", KNOWN), ("own", own))
    }
    assert error["own"] < 0.6 * error["page"]
    frame = pd.DataFrame(
        [(check.cause, np.log(check.minutes / KNOWN.cause(check.cause).minutes)) for check in timed], columns=["c", "y"]
    )
    mixed = smf.mixedlm("y ~ 1", frame, groups=frame["c"]).fit()
    theirs = {name: mixed.fe_params.iloc[0] + effect.iloc[0] for name, effect in mixed.random_effects.items()}
    ours = {name: np.log(own.cause(name).minutes / KNOWN.cause(name).minutes) for name in often}
    assert np.corrcoef([theirs[n] for n in sorted(often)], [ours[n] for n in sorted(often)])[0, 1] > 0.8


def test_a_check_that_takes_long_here_comes_later_and_says_whose_minutes_those_are():
    first = diagnose(KNOWN, FRAYS)
    slow = [TimedCheck(first.next.cause, 3.5 * first.next.minutes)] * 12
    after = diagnose(with_own_pace(KNOWN, slow), FRAYS)
    assert after.next.cause != first.next.cause
    again = diagnose(with_own_pace(KNOWN, [TimedCheck(first.next.cause, first.next.minutes)] * 3), FRAYS)
    assert again.next.cause == first.next.cause
    assert "to check as you do it: the best odds for the time." in " ".join(r.text for r in again.reasons)
    assert not any("as you do it" in reason.text for reason in first.reasons)


def test_what_tells_nothing_of_the_minutes_leaves_the_page_as_it_is():
    technician = next(cause for cause in KNOWN.causes if cause.technician)
    nothing = [TimedCheck("heat", 0.01), TimedCheck("heat", 900), TimedCheck("gone_from_the_page", 2)]
    assert with_own_pace(KNOWN, nothing) is KNOWN
    quick = with_own_pace(KNOWN, [TimedCheck(c.id, c.minutes / 2) for c in KNOWN.causes])
    assert quick.cause(technician.id).minutes == technician.minutes
    assert all(cause.minutes % 0.5 == 0 and cause.minutes > 0 for cause in quick.causes)
    assert all(a <= b for a, b in pairwise([quick.minutes.sum(), KNOWN.minutes.sum()]))


def _searched(known: Knowledge, truth: dict[str, float]) -> float:
    """Return the true minutes of a search, over all symptoms, in the order that some minutes give."""
    each = []
    for symptom in KNOWN.of_kind(FindingKind.SYMPTOM):
        likely = posterior(known, Observed.of(known, [symptom]))
        mine = [i for i, c in enumerate(known.causes) if not c.technician and likely[i] > UNLIKELY.value]
        chances = [likely[i] for i in mine]
        order = order_checks(chances, [known.causes[i].minutes for i in mine])
        each.append(expected_minutes(chances, [truth[known.causes[i].id] for i in mine], order))
    return float(np.mean(each))


def test_searches_by_one_s_own_minutes_are_shorter_where_hands_are_not_as_the_page_says():
    """People whose checks take half as long again, or as little; sixty troubles are on record, as the page orders."""
    gaps = []
    for seed in range(4):
        luck = np.random.default_rng(seed)
        truth = {c.id: c.minutes * np.exp(luck.normal(0, 0.5)) for c in KNOWN.causes}
        knows = replace(KNOWN, causes=tuple(replace(c, minutes=truth[c.id]) for c in KNOWN.causes))
        timed = []
        symptoms = list(KNOWN.of_kind(FindingKind.SYMPTOM))
        for _ in range(60):
            likely = posterior(KNOWN, Observed.of(KNOWN, [luck.choice(symptoms)]))
            fault = luck.choice(len(likely), p=likely)
            mine = [i for i, c in enumerate(KNOWN.causes) if not c.technician and likely[i] > UNLIKELY.value]
            for at in order_checks([likely[i] for i in mine], [KNOWN.causes[i].minutes for i in mine]):
                cause = KNOWN.causes[mine[at]].id
                timed.append(TimedCheck(cause, truth[cause] * np.exp(luck.normal(0, 0.3))))
                if mine[at] == fault:
                    break
        gaps.append([_searched(each, truth) for each in (KNOWN, with_own_pace(KNOWN, timed), knows)])
    page, own, knowing = np.mean(gaps, axis=0)
    assert own < page - 0.4 * (page - knowing)
