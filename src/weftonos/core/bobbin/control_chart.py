"""Chart of a case: is its tension drifting?

Means and ranges of the sessions of pulls, after Shewhart. A case reads a little otherwise at each sitting (another
bobbin, another hand, lint) however evenly one sitting is pulled, so the limits of the means rest on two spreads: that
within a sitting, from the mean range, and that between sittings, from what the moving ranges of the means show beyond
it. Ranges keep the limits of ASTM E2587.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import fmean, median

from weftonos.core.kernel.standing import Known, Standing, estimate, practice

_E2587 = "ASTM E2587; typed from memory, the third decimal of D4 differs between editions"

#: Factors by subgroup size: d2, by which the mean range becomes a spread, and D4 for the upper limit of the ranges. Up
#: to six pulls D3 is 0, so that ranges have no lower limit.
FACTORS: dict[int, tuple[Known, Known]] = {
    n: tuple(Known(value=v, unit="", standing=Standing.PUBLISHED, source=_E2587) for v in row)  # type: ignore[misc]
    for n, row in {
        2: (1.128, 3.267),
        3: (1.693, 2.574),
        4: (2.059, 2.282),
        5: (2.326, 2.114),
    }.items()
}
#: Limits lie so many spreads from the center.
LIMITS_AT = Known(value=3, unit="spreads", standing=Standing.PUBLISHED, source="Shewhart's limits")
#: Sessions before limits are drawn, and how many are drawn at most.
FEWEST = estimate(10, "sessions")
SESSIONS_DRAWN = 60
#: So many sessions in a row on one side of the center, or steadily one way, say that something has moved.
RUN_LENGTH = practice(8, "sessions")
TREND_LENGTH = practice(6, "sessions")


@dataclass(frozen=True, kw_only=True)
class ChartPoint:
    """One session of pulls: mean and range in mN, and whether either is out of its limits."""

    mean: float
    range: float
    mean_out: bool
    range_out: bool


@dataclass(frozen=True, kw_only=True)
class ControlChart:
    """The chart: center lines and limits in mN (``None`` until there are enough sessions), and what it says.

    ``within`` is the spread of single pulls in a sitting, ``between`` that of sittings beyond it, both in mN.
    ``drifts`` where the newest session or the last few say that something has moved.
    """

    size: int
    points: tuple[ChartPoint, ...]
    used: tuple[int, ...]
    center: float | None = None
    lower: float | None = None
    upper: float | None = None
    mean_range: float | None = None
    range_upper: float | None = None
    within: float | None = None
    between: float | None = None
    drifts: bool = False
    says: tuple[str, ...]


@dataclass(frozen=True)
class TwoSpreads:
    """The spread of single pulls within a sitting, and of sittings beyond it, in mN."""

    within: float
    between: float

    def of_means(self, size: int) -> float:
        """Return the spread of means of ``size`` pulls, over sittings."""
        return math.hypot(self.between, self.within / math.sqrt(size))


def two_spreads(sessions: Sequence[Sequence[float]]) -> TwoSpreads:
    """Return the two spreads of sessions (two at least) of one size, 2 to 5 pulls, in time order.

    Within: the mean range over d2. The means themselves: their mean moving range over d2 for two, which a slow drift
    or one shift moves little; what that has beyond the pulls' own share is between.
    """
    size = len(sessions[0])
    means = [fmean(s) for s in sessions]
    within = fmean(max(s) - min(s) for s in sessions) / FACTORS[size][0].value
    of_means = fmean(abs(b - a) for a, b in pairwise(means)) / FACTORS[2][0].value
    return TwoSpreads(within, math.sqrt(max(0.0, of_means**2 - within**2 / size)))


def control_chart(sessions: Sequence[Sequence[float]]) -> ControlChart:
    """Return the mean-and-range chart of sessions of pulls (mN), oldest first.

    Sessions of the commonest number of pulls, 2 to 5, are used; ``used`` gives their places in ``sessions``.
    Center lines are the median of the means, which one bad session does not move, and the mean range, of all sessions
    but the last eight (ten at least). Limits of the means lie three spreads of a mean away, within
    and between sittings taken together; that of the ranges is D4 times the mean range.
    """
    sizes = Counter(len(s) for s in sessions if len(s) in FACTORS)
    if not sizes:
        return ControlChart(size=0, points=(), used=(), says=("A chart needs two or three pulls a session.",))
    size = max(sizes, key=lambda n: (sizes[n], n))
    used = tuple(i for i, s in enumerate(sessions) if len(s) == size)
    means = [fmean(sessions[i]) for i in used]
    ranges = [max(sessions[i]) - min(sessions[i]) for i in used]
    if len(used) < FEWEST.value:
        points = tuple(
            ChartPoint(mean=m, range=r, mean_out=False, range_out=False) for m, r in zip(means, ranges, strict=True)
        )
        more = int(FEWEST.value) - len(used)
        says = f"{more} more session{'s' if more > 1 else ''} of {size} pulls, and this shows limits."
        return ControlChart(size=size, points=points, used=used, says=(says,))
    # The last few are judged by those before them, so that what moved does not widen its own limits.
    before = max(int(FEWEST.value), len(used) - int(RUN_LENGTH.value))
    spreads = two_spreads([sessions[i] for i in used[:before]])
    center, mean_range = median(means[:before]), fmean(ranges[:before])
    reach = LIMITS_AT.value * spreads.of_means(size)
    range_upper = FACTORS[size][1].value * mean_range
    points = tuple(
        ChartPoint(mean=m, range=r, mean_out=abs(m - center) > reach, range_out=r > range_upper)
        for m, r in zip(means, ranges, strict=True)
    )
    moved = _moved(points, center)
    unsteady = "The pulls of the last session differ too much: an unsteady bobbin, lint, or an uneven hand."
    return ControlChart(
        size=size,
        points=points,
        used=used,
        center=center,
        lower=center - reach,
        upper=center + reach,
        mean_range=mean_range,
        range_upper=range_upper,
        within=spreads.within,
        between=spreads.between,
        drifts=bool(moved),
        says=(*moved, *((unsteady,) if points[-1].range_out else ()))
        or ("Steady: only the usual scatter from pull to pull.",),
    )


def _moved(points: Sequence[ChartPoint], center: float) -> tuple[str, ...]:
    """Return what the newest sessions say of the case; what was out long ago and is in again says nothing now."""
    says = []
    if points[-1].mean_out:
        says.append("The last session is outside the limits: something changed in the case, the screw or the bobbin.")
    run_length, trend_length = int(RUN_LENGTH.value), int(TREND_LENGTH.value)
    tail = points[-run_length:]
    if len(tail) == run_length and (all(p.mean > center for p in tail) or all(p.mean < center for p in tail)):
        side = "above" if tail[-1].mean > center else "below"
        says.append(f"{run_length} sessions in a row {side} the center: the spring or the screw has moved.")
    trend = [p.mean for p in points[-trend_length:]]
    steps = [b - a for a, b in pairwise(trend)]
    if len(trend) == trend_length and (all(s < 0 for s in steps) or all(s > 0 for s in steps)):
        way = "falling" if steps[0] < 0 else "rising"
        why = "a spring wearing or a screw creeping loose" if steps[0] < 0 else "lint building up or a screw creeping"
        says.append(f"{trend_length} sessions steadily {way}: {why}.")
    return tuple(says)
