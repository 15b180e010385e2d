"""The exact interval of a count: how sure a rate of rare events is."""

from __future__ import annotations

from dataclasses import dataclass

from scipy.stats import chi2

from weftonos.core.errors import require_between


def count_interval(count: int, level: float = 0.95) -> tuple[float, float]:
    """Return the exact interval of the mean of a Poisson count (Garwood 1936, *Biometrika* 28).

    >>> [round(end, 2) for end in count_interval(3)]
    [0.62, 8.77]
    """
    tail = (1 - level) / 2
    low = float(chi2.ppf(tail, 2 * count) / 2) if count else 0.0
    return low, float(chi2.ppf(1 - tail, 2 * count + 2) / 2)


@dataclass(frozen=True)
class BreakRate:
    """Breaks over stitching hours with the exact 95 % interval of the rate per hour; ``None`` without hours."""

    breaks: int
    hours: float
    per_hour: float | None
    low: float | None
    high: float | None
    text: str


def break_rate(breaks: int, hours: float) -> BreakRate:
    """Return how often thread breaks in a combination."""
    require_between(breaks, 0, 1e6, "The number of breaks", "breaks")
    require_between(hours, 0, 1e6, "The stitching time", "hours", "h")
    if not hours:
        return BreakRate(breaks, hours, None, None, None, "No stitching time is on record for this combination.")
    low, high = (end / hours for end in count_interval(breaks))
    counted = f"{breaks} break{'s' if breaks != 1 else ''} in {hours:.1f} h"
    text = f"{counted}: between {low:.2f} and {high:.2f} an hour, 95 in 100."
    return BreakRate(breaks, hours, breaks / hours, low, high, text)
