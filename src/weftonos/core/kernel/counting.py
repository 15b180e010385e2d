"""How sure a count or a mean is: the exact interval of a rare event, and the width of a normal interval."""

from __future__ import annotations

import math
from dataclasses import dataclass

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.standing import published

#: Standard deviations on either side that hold 95 in 100 of a normal distribution.
Z95 = published(1.959964, "", "standard normal distribution")
#: And that hold 8 in 10, which is called "most likely" on screens and paper.
Z80 = published(1.281552, "", "standard normal distribution")


def likely_of(middle: float, low: float, high: float) -> tuple[float, float]:
    """Return the 80 % interval of a ratio from its 95 % one, on logarithms.

    >>> [round(end, 2) for end in likely_of(2.0, 1.0, 4.0)]
    [1.27, 3.15]
    """
    share = Z80.value / Z95.value
    return middle * (low / middle) ** share, middle * (high / middle) ** share


def count_interval(count: int, level: float = 0.95) -> tuple[float, float]:
    """Return the exact interval of the mean of a Poisson count (Garwood 1936, *Biometrika* 28).

    >>> [round(end, 2) for end in count_interval(3)]
    [0.62, 8.77]
    """
    # SciPy takes longer to load than all the rest; it is fetched when it is needed.
    from scipy.special import gammaincinv

    tail = (1 - level) / 2
    low = float(gammaincinv(count, tail)) if count else 0.0
    return low, float(gammaincinv(count + 1, 1 - tail))


def drawn_share(expected: float, weighs: float, seen: float, of: float) -> float:
    """Return a share, drawn to what is expected, which weighs so many: the mean of a beta distribution.

    >>> drawn_share(0.5, 2, 3, 4)
    0.6666666666666666
    """
    return (weighs * expected + seen) / (weighs + of)


def drawn_spread(expected: float, weighs: float, squares: float, degrees: float) -> float:
    """Return a standard deviation from squares of deviations, drawn to what is expected, which weighs so many values.

    >>> drawn_spread(2.0, 4, 0.0, 0)
    2.0
    """
    return math.sqrt((weighs * expected**2 + squares) / (weighs + degrees))


def student_quantile(freedom: int, level: float = 0.95) -> float:
    """Return how many standard errors on either side hold ``level`` of Student's distribution.

    >>> round(student_quantile(4), 3)
    2.776
    """
    from scipy.special import stdtrit

    return float(stdtrit(freedom, (1 + level) / 2))


@dataclass(frozen=True, kw_only=True)
class BreakRate:
    """Breaks over stitching hours with the exact 95 % interval of the rate per hour; ``None`` without hours."""

    breaks: int
    hours: float
    per_hour: float | None
    low: float | None
    high: float | None
    text: str


def counted(breaks: int, hours: float) -> str:
    """Return a count of breaks in words: ``"2 breaks in 3.5 h"``."""
    return f"{breaks} break{'s' if breaks != 1 else ''} in {figure(hours, 1)} h"


def break_rate(breaks: int, hours: float) -> BreakRate:
    """Return how often thread breaks in a combination."""
    require_between(value=breaks, low=0, high=1e6, what="The number of breaks", field="breaks")
    require_between(value=hours, low=0, high=1e6, what="The stitching time", field="hours", unit="h")
    if not hours:
        return BreakRate(
            breaks=breaks,
            hours=hours,
            per_hour=None,
            low=None,
            high=None,
            text="No stitching time is on record for this combination.",
        )
    low, high = (end / hours for end in count_interval(breaks))
    # Garwood's interval assumes one rate for all quilts, so the text omits it (core.evidence.rates allows for them).
    text = f"{counted(breaks, hours)} in this combination, as counted."
    return BreakRate(breaks=breaks, hours=hours, per_hour=breaks / hours, low=low, high=high, text=text)
