"""A planned comparison: what is next, and when it has run its course."""

from __future__ import annotations

import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.planned import ComparisonPlanned, progress

PLAN = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel", "of_each": 3}


@pytest.mark.parametrize(
    ("first", "second", "says", "over"),
    [
        (0, 0, "Next: titanium, 1 of 3", False),
        (1, 0, "Next: steel, 1 of 3", False),
        (1, 1, "Next: titanium, 2 of 3", False),
        (3, 1, "Next: steel, 2 of 3", False),
        (3, 3, "The answer is in", True),
        (9, 4, "The answer is in", True),
    ],
)
def test_the_one_that_lags_behind_is_next(first, second, says, over):
    stands = progress(ComparisonPlanned(**PLAN), 7, first, second)
    assert says in stands.text
    assert (stands.over, stands.record) == (over, 7)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"second": "titanium"}, "second"),
        ({"first": " "}, "first"),
        ({"factor": ""}, "factor"),
        ({"of_each": 1}, "of_each"),
        ({"of_each": 501}, "of_each"),
    ],
)
def test_a_plan_that_is_none_is_refused(change, field):
    with pytest.raises(CraftError) as refused:
        ComparisonPlanned(**{**PLAN, **change})
    assert refused.value.field == field


def test_what_is_counted_follows_from_what_is_measured():
    assert ComparisonPlanned(**PLAN).things == "needles"
    assert ComparisonPlanned(**{**PLAN, "measure": "breaks"}).things == "quilts"
