"""Each machine's own bobbin number, learned from the readings under its balanced stitches (common practice).

When the stitch is beautiful, take the case out, read it: that is this machine's number.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean, stdev

from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.counting import student_quantile
from weftonos.core.kernel.standing import Standing, estimate

#: Readings under balanced stitches before the own number takes the place of the usual range.
ENOUGH = estimate(5, "readings")
#: The range to be in is never narrower than this share on either side: the gauge repeats to about 3 %.
NARROWEST = estimate(0.05)
#: Else it is so many spreads of the readings on either side.
SPREADS = estimate(2, "spreads")


@dataclass(frozen=True, kw_only=True)
class OwnNumber:
    """The mean of the readings in mN, their spread, a 95 % interval of the mean, and how many they are."""

    mean_mn: float
    spread_mn: float | None
    low_mn: float | None
    high_mn: float | None
    readings: int
    enough: bool


def learn_number(balanced_mn: Sequence[float]) -> OwnNumber | None:
    """Return a machine's number from its readings under balanced stitches; ``None`` without any.

    The interval is Student's for the mean of a normal sample.

    >>> learn_number([200, 204, 202]).readings
    3
    """
    count = len(balanced_mn)
    if not count:
        return None
    mean = fmean(balanced_mn)
    if count == 1:
        return OwnNumber(mean_mn=mean, spread_mn=None, low_mn=None, high_mn=None, readings=1, enough=False)
    spread = stdev(balanced_mn)
    half = float(student_quantile(count - 1)) * spread / math.sqrt(count)
    return OwnNumber(
        mean_mn=mean,
        spread_mn=spread,
        low_mn=mean - half,
        high_mn=mean + half,
        readings=count,
        enough=count >= ENOUGH.value,
    )


def own_target(number: OwnNumber | None) -> BobbinTarget | None:
    """Return the range to be in from a number that rests on enough readings: two spreads, at least 5 %."""
    if number is None or not number.enough or number.spread_mn is None:
        return None
    half = max(SPREADS.value * number.spread_mn, NARROWEST.value * number.mean_mn)
    return BobbinTarget(
        low=max(1.0, number.mean_mn - half),
        high=number.mean_mn + half,
        origin=f"learned from {number.readings} balanced stitch-outs",
        standing=Standing.OWN_RECORDS,
    )
