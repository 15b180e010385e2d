"""How many needles or quilts a comparison needs, so that a difference one cares about is seen 8 times in 10."""

from __future__ import annotations

import math
from collections.abc import Callable

from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import CraftError, require_between
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate, published

#: Standard deviations above which 8 in 10 of a normal distribution lie.
Z80 = published(0.841621, "", "standard normal distribution")
#: The differences that are asked for, from the least.
ASKED_FOR = (1.5, 2.0, 3.0, 4.0, 6.0, 10.0)
WEEKS_A_MONTH = 52 / 12
#: More of each kind than this is no plan.
MOST_OF_EACH = 500


def _check(times: float) -> float:
    require_between(value=times, low=0.1, high=10, what="The difference, as a factor,", field="times")
    if abs(math.log(times)) < math.log(1.1):
        raise CraftError("A difference of less than a tenth is beyond any workshop's records.", "times")
    return math.log(times)


def needles_of_each(times: float, shape: float = 1.0, sees_trouble: float = 1.0) -> int:
    """Return how many needles of each kind to use up, for one that lasts ``times`` as long to be seen.

    ``shape`` is the Weibull shape of their lives; ``sees_trouble`` the share that is used until trouble comes. From the
    variance of a log ratio of Weibull scales with a common shape, 1 / (shape² · troubles) for each kind.
    """
    log_times = _check(times)
    require_between(value=shape, low=0.2, high=10, what="The shape", field="shape")
    require_between(value=sees_trouble, low=0.05, high=1, what="The share that comes to trouble", field="sees_trouble")
    troubles = 2 * (Z95.value + Z80.value) ** 2 / (shape * log_times) ** 2
    return _bounded(troubles / sees_trouble)


def quilts_of_each(times: float, breaks_a_quilt: float, spread: float) -> int:
    """Return how many quilts of each kind to stitch, for ``times`` as many breaks to be seen.

    ``breaks_a_quilt`` is how many there are on a quilt now, ``spread`` the variance of the factor between quilts. From
    the variance of a log rate, (1 / breaks + spread) / quilts for each kind (Signorini 1991; Zhu and Lakkis 2014).
    """
    log_times = _check(times)
    require_between(
        value=breaks_a_quilt, low=0.01, high=1000, what="The number of breaks on a quilt", field="breaks_a_quilt"
    )
    each = 1 / breaks_a_quilt + spread, 1 / (breaks_a_quilt * times) + spread
    return _bounded((Z95.value + Z80.value) ** 2 * sum(each) / log_times**2)


#: A season of quilting.
SEASON_MONTHS = estimate(6, "months")


def months_for(of_each: int, a_month: float) -> float | None:
    """Return how long a comparison takes at so many needles or quilts a month; ``None`` where there are none."""
    return 2 * of_each / a_month if a_month > 0 else None


def largest_in_a_season(a_month: float, of_each: Callable[[float], int]) -> float | None:
    """Return the least factor that a season can show, of those one would ask for; ``None`` where it can show none.

    ``of_each`` says how many of each kind it takes to see a factor.
    """
    for times in ASKED_FOR:
        try:
            needed = of_each(times)
        except CraftError:
            continue
        months = months_for(needed, a_month)
        if months is not None and months <= SEASON_MONTHS.value:
            return times
    return None


def in_months(months: float) -> str:
    """Return a time as people say it: ``"about 3 weeks"``, ``"about 14 months"``, ``"about 3 years"``.

    >>> in_months(0.5), in_months(14.2), in_months(40)
    ('about 2 weeks', 'about 14 months', 'about 3 years')
    """
    if months < 1.5:
        weeks = max(1, round(months * WEEKS_A_MONTH))
        return f"about {so_many(weeks, 'week')}"
    return f"about {round(months)} months" if months < 24 else f"about {round(months / 12)} years"


def _bounded(number: float) -> int:
    needed = math.ceil(number)
    if needed > MOST_OF_EACH:
        raise CraftError(f"That would take {needed} of each kind: look for a larger difference.", "times")
    return max(2, needed)
