"""Each machine's own bobbin number, learned from the readings under its balanced stitches (common practice).

When the stitch is beautiful, take the case out, read it: that is this machine's number.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean

from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.counting import drawn_spread, student_quantile
from weftonos.core.kernel.standing import Standing, estimate

#: What readings under balanced stitches spread by, as a share, before they show it, and how many readings that weighs.
EXPECTED_SPREAD = estimate(0.04)
EXPECTED_WEIGHS = estimate(4, "readings")
#: The range to be in is never narrower than this share on either side: the gauge repeats to about 3 %.
NARROWEST = estimate(0.05)
#: Else it is so many spreads of the readings on either side.
SPREADS = estimate(2, "spreads")


@dataclass(frozen=True, kw_only=True)
class OwnNumber:
    """The mean of the readings in mN, their spread, a 95 % interval of the mean, and how many they are.

    ``spread_mn`` is that of the readings drawn to what is expected, which one reading alone cannot show.
    """

    mean_mn: float
    spread_mn: float
    low_mn: float
    high_mn: float
    readings: int


def learn_number(balanced_mn: Sequence[float]) -> OwnNumber | None:
    """Return a machine's number from its readings under balanced stitches; ``None`` without any.

    The interval is Student's for the mean of a normal sample, with the expected spread as so many readings more.

    >>> learn_number([200, 204, 202]).readings
    3
    """
    count = len(balanced_mn)
    if not count:
        return None
    mean = fmean(balanced_mn)
    weighs = EXPECTED_WEIGHS.value
    squares = sum((x - mean) ** 2 for x in balanced_mn)
    degrees = weighs + count - 1
    spread = drawn_spread(EXPECTED_SPREAD.value * mean, weighs, squares, count - 1)
    half = float(student_quantile(round(degrees))) * spread / math.sqrt(count)
    return OwnNumber(mean_mn=mean, spread_mn=spread, low_mn=mean - half, high_mn=mean + half, readings=count)


def range_about(mean_mn: float) -> tuple[float, float]:
    """Return the range that a number said by its owner stands for, in mN: the narrowest there is about it."""
    half = NARROWEST.value * mean_mn
    return mean_mn - half, mean_mn + half


def own_target(number: OwnNumber | None) -> BobbinTarget | None:
    """Return the range to be in from a number, from its first balanced stitch-out on; it narrows with more of them.

    Two spreads of a further reading about the mean, at least 5 %.
    """
    if number is None:
        return None
    further = number.spread_mn * math.sqrt(1 + 1 / number.readings)
    half = max(SPREADS.value * further, NARROWEST.value * number.mean_mn)
    outs = "stitch-out" if number.readings == 1 else "stitch-outs"
    return BobbinTarget(
        low=max(1.0, number.mean_mn - half),
        high=number.mean_mn + half,
        origin=f"learned from {number.readings} balanced {outs}",
        standing=Standing.OWN_RECORDS,
    )
