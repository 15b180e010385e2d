"""Mean-and-range chart of a case: is its tension drifting? (Shewhart; factors ASTM E2587.)"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from statistics import fmean

from weftonos.core.kernel.standing import Known, Standing, estimate, practice

_E2587 = "ASTM E2587; typed from memory, the third decimal of D4 differs between editions"

#: Factors by subgroup size: A2 for the means, D4 for the upper limit of the ranges. Up to six pulls D3 is 0, so that
#: ranges have no lower limit.
FACTORS: dict[int, tuple[Known, Known]] = {
    n: tuple(Known(value=v, unit="", standing=Standing.PUBLISHED, source=_E2587) for v in row)  # type: ignore[misc]
    for n, row in {
        2: (1.880, 3.267),
        3: (1.023, 2.574),
        4: (0.729, 2.282),
        5: (0.577, 2.114),
    }.items()
}
#: Sessions before limits are drawn, and how many are drawn at most.
FEWEST = estimate(5, "sessions")
SESSIONS_DRAWN = 60
#: So many sessions in a row on one side of the centre, or steadily one way, say that something has moved.
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
    """The chart: centre lines and limits in mN (``None`` until there are enough sessions), and what it says."""

    size: int
    points: tuple[ChartPoint, ...]
    used: tuple[int, ...]
    centre: float | None
    lower: float | None
    upper: float | None
    mean_range: float | None
    range_upper: float | None
    says: tuple[str, ...]


def control_chart(sessions: Sequence[Sequence[float]]) -> ControlChart:
    """Return the mean-and-range chart of sessions of pulls (mN), oldest first.

    Sessions of the commonest number of pulls, 2 to 5, are used; ``used`` gives their places in ``sessions``.
    Centre lines are the grand mean and the mean range; limits are A2 and D4 times the mean range.
    """
    sizes = Counter(len(s) for s in sessions if len(s) in FACTORS)
    if not sizes:
        return ControlChart(
            size=0,
            points=(),
            used=(),
            centre=None,
            lower=None,
            upper=None,
            mean_range=None,
            range_upper=None,
            says=("Two or three pulls a session make a chart.",),
        )
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
        return ControlChart(
            size=size,
            points=points,
            used=used,
            centre=None,
            lower=None,
            upper=None,
            mean_range=None,
            range_upper=None,
            says=(says,),
        )
    a2, d4 = FACTORS[size]
    centre, mean_range = fmean(means), fmean(ranges)
    lower, upper = centre - a2.value * mean_range, centre + a2.value * mean_range
    range_upper = d4.value * mean_range
    points = tuple(
        ChartPoint(mean=m, range=r, mean_out=not lower <= m <= upper, range_out=r > range_upper)
        for m, r in zip(means, ranges, strict=True)
    )
    return ControlChart(
        size=size,
        points=points,
        used=used,
        centre=centre,
        lower=lower,
        upper=upper,
        mean_range=mean_range,
        range_upper=range_upper,
        says=_rules(points, centre),
    )


def _rules(points: Sequence[ChartPoint], centre: float) -> tuple[str, ...]:
    says = []
    if any(p.mean_out for p in points):
        last = "The last session is" if points[-1].mean_out else "A session is"
        says.append(f"{last} outside the limits: something changed in the case, the screw or the bobbin.")
    if any(p.range_out for p in points):
        says.append("The pulls of a session differ too much: an unsteady bobbin, lint, or an uneven hand.")
    run_length, trend_length = int(RUN_LENGTH.value), int(TREND_LENGTH.value)
    tail = points[-run_length:]
    if len(tail) == run_length and len({p.mean > centre for p in tail}) == 1:
        side = "above" if tail[-1].mean > centre else "below"
        says.append(f"{run_length} sessions in a row {side} the centre: the spring or the screw has moved.")
    trend = [p.mean for p in points[-trend_length:]]
    steps = [b - a for a, b in pairwise(trend)]
    if len(trend) == trend_length and (all(s < 0 for s in steps) or all(s > 0 for s in steps)):
        way = "falling" if steps[0] < 0 else "rising"
        why = "a spring wearing or a screw creeping loose" if steps[0] < 0 else "lint building up or a screw creeping"
        says.append(f"{trend_length} sessions steadily {way}: {why}.")
    return tuple(says) or ("Steady: nothing but the ordinary scatter of pulls.",)
