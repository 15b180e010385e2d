"""What something takes in one's own hands, in minutes, by when it was noted; and when it pays to see to a part."""

from __future__ import annotations

import math
from collections.abc import Iterable
from statistics import median

from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate

#: One's own times count from so many on. What took many times as long, or as short, as usual does not: a pause, or
#: several that were noted in one go.
OWN_TIMES, TIMES_THE_USUAL = estimate(6, "times"), estimate(4, "times as long or as short")
#: One's own minutes are told where they are so many times the usual ones, or as much less.
TOLD_FROM = estimate(1.3, "times")
#: The hours that are sewn before the next chance to see to a part.
SEWN_AHEAD = estimate(2, "h")
#: What is seen to costs less than this share of what it may prevent, or it is left to come to trouble.
MOST_OF_A_TROUBLE = 0.9


def plausible(took: float, usual: float) -> bool:
    """Say whether so many minutes may be what something takes that usually takes ``usual``.

    >>> plausible(0.1, 2), plausible(3, 2), plausible(90, 2)
    (False, True, False)
    """
    return usual / TIMES_THE_USUAL.value <= took <= usual * TIMES_THE_USUAL.value


def own_minutes(took: Iterable[float], usual: float) -> float:
    """Return what something takes by one's own times, in minutes: their median, else what is usual.

    >>> own_minutes([2.5, 3, 3, 3.5, 3, 200, 2.5], 2)
    3.0
    >>> own_minutes([2.5, 3], 2)
    2
    """
    counts = [minutes for minutes in took if plausible(minutes, usual)]
    return median(counts) if len(counts) >= OWN_TIMES.value else usual


def pays_at(due_h: float, shape: float, *, usually: tuple[float, float], here: tuple[float, float]) -> float:
    """Return the hour at which it pays to see to a part that is usually due at ``due_h``.

    It pays once the chance of trouble in the hours ahead, times its minutes, is more than seeing to it takes. The hour
    at which that is so usually says how fast the part wears (Weibull's law of a ``shape``); it then says where else.

    Parameters
    ----------
    usually, here: minutes that seeing to it takes, and minutes that a trouble costs.

    >>> pays_at(6.0, 3.0, usually=(3, 6.5), here=(3, 6.5))
    6.0
    """
    ahead = SEWN_AHEAD.value

    def hazard(hours: float) -> float:
        return math.pow(hours + ahead, shape) - math.pow(hours, shape)

    def worth(minutes: tuple[float, float]) -> float:
        takes, costs = minutes
        return -math.log(1 - min(takes / costs, MOST_OF_A_TROUBLE))

    if usually == here:
        return due_h
    wanted = hazard(due_h) * worth(here) / worth(usually)
    low, high = 0.0, 10 * due_h + ahead
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if hazard(middle) < wanted else (low, middle)
    return high


def own_minutes_move(what: str, minutes: float, usual: float) -> str:
    """Say that one's own minutes move when something is due; empty where they are about the usual ones.

    >>> own_minutes_move("change", 5.2, 3)
    " A change takes you about 5 minutes, so it's due later."
    >>> own_minutes_move("change", 2.9, 3)
    ''
    """
    if 1 / TOLD_FROM.value < minutes / usual < TOLD_FROM.value:
        return ""
    takes = so_many(max(1, round(minutes)), "minute")
    return f" A {what} takes you about {takes}, so it's due {'later' if minutes > usual else 'sooner'}."
