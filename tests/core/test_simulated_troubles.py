"""The benchmark's own arithmetic, and a small run of it: the program is well ahead of every habit."""

from random import Random
from statistics import fmean

import pytest
from bench_mend import HABITS, RECORDS, by_habit, by_program, disturbed, happen

from weftonos.core.mend.trouble import FindingKind
from weftonos.knowledge import troubles

KNOWN = troubles()
NEST = "loops_or_nest_on_the_back"


def test_a_habit_is_counted_as_by_hand():
    # Rows that mention a nest, as listed: the discs at half a minute, the check spring at half, the tail at half.
    tail = KNOWN.cause("tail_under_the_wrong_side_of_the_foot")
    assert by_habit(KNOWN, HABITS["rows that mention it, as listed"], tail, {NEST}, Random(1)) == 1.5
    # Nothing mentions both a nest and a bent case: all rows of the nest are gone through first.
    mention = [c for c in KNOWN.causes if NEST in c.chances]
    bent = KNOWN.cause("case_bent")
    took = by_habit(KNOWN, HABITS["the same rows, cheapest first"], bent, {NEST}, Random(1))
    assert took > sum(c.minutes for c in mention)


def test_what_happens_follows_the_chances():
    chance = Random(3)
    drawn = [happen(KNOWN, chance) for _ in range(1500)]
    discs = [found for cause, found in drawn if cause.id == "top_thread_outside_the_discs"]
    assert len(discs) / len(drawn) == pytest.approx(4 / (KNOWN.weights.sum() - 0.3), abs=0.04)
    assert fmean("out_of_nothing" in found for found in discs) == pytest.approx(0.75, abs=0.12)
    assert all(any(KNOWN.findings[n].kind is FindingKind.SYMPTOM for n in found) for _, found in drawn)
    assert not any(cause.technician for cause, _ in drawn)


def test_the_disturbed_copy_is_off_by_up_to_two():
    other = disturbed(KNOWN, Random(5))
    ratios = other.weights / KNOWN.weights
    assert ratios.min() >= 0.5
    assert ratios.max() <= 2
    assert ratios.std() > 0.2
    assert (other.chances < 1).all()


@pytest.mark.parametrize(("truth", "most"), [(KNOWN, 0.6), (None, 0.7)])
def test_the_program_needs_far_fewer_minutes_than_the_best_habit(truth, most):
    chance = Random(11)
    cases = [happen(truth or disturbed(KNOWN, chance), chance) for _ in range(160)]
    habits = {
        name: fmean(by_habit(KNOWN, habit, cause, found, chance) for cause, found in cases)
        for name, habit in HABITS.items()
    }
    program = fmean(by_program(KNOWN, cause, found, RECORDS, True) for cause, found in cases)
    assert program < most * min(habits.values())
