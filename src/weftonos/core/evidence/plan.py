"""How many needles or quilts a comparison needs, so that a difference one cares about is seen 8 times in 10."""

from __future__ import annotations

import math

from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import CraftError, require_between
from weftonos.core.kernel.standing import published

#: Standard deviations above which 8 in 10 of a normal distribution lie.
Z80 = published(0.841621, "", "standard normal distribution")
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
    require_between(value=breaks_a_quilt, low=0.01, high=1000, what="Breaks on a quilt", field="breaks_a_quilt")
    each = 1 / breaks_a_quilt + spread, 1 / (breaks_a_quilt * times) + spread
    return _bounded((Z95.value + Z80.value) ** 2 * sum(each) / log_times**2)


def _bounded(number: float) -> int:
    needed = math.ceil(number)
    if needed > MOST_OF_EACH:
        raise CraftError(f"That would take {needed} of each kind: care for a larger difference.", "times")
    return max(2, needed)
