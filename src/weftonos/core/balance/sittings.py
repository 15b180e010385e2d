"""Test lines of earlier sittings: the same threads may have strayed since, so they count for less than today's."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from itertools import pairwise

from weftonos.core.balance.looks import Observation
from weftonos.core.balance.posterior import SELDOM_ELSEWHERE, Expected, StitchedBefore
from weftonos.core.kernel.standing import estimate

#: After a pause of so long, lines are of another sitting.
PAUSE = estimate(6, "h")
#: So many sittings are told apart; what is older counts as one.
MOST_SITTINGS = 4
_PAUSE = timedelta(hours=PAUSE.value)


def sittings(looks: Sequence[tuple[datetime, Observation]]) -> list[tuple[Observation, ...]]:
    """Return the lines of each sitting, all oldest first.

    >>> evening, next_day = datetime(2026, 11, 1, 20), datetime(2026, 11, 2, 9)
    >>> [len(each) for each in sittings([(evening, Observation(4, 0)), (next_day, Observation(4, -1))])]
    [1, 1]
    """
    ends = [n for n, ((one, _), (other, _)) in enumerate(pairwise(looks), 1) if other - one >= _PAUSE]
    ends = ends[-(MOST_SITTINGS - 1) :]
    found = [look for _, look in looks]
    return [tuple(found[begin:end]) for begin, end in pairwise([0, *ends, len(found)])]


def upon_earlier(expected: Expected, earlier: Sequence[tuple[Observation, ...]], drift: float) -> Expected:
    """Return what is expected at the last sitting, from those before; ``drift`` is from one to the next."""
    for looks in earlier:
        expected = StitchedBefore(
            expected=expected, looks=looks, drift=drift, anywhere=SELDOM_ELSEWHERE.value, center=looks[-1].setting
        )
    return expected
