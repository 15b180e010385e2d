"""Does the thread lie in the needle's groove?

A thread thicker than the groove stands proud and is sanded by every pass through fabric and batting: it shreds.
One far thinner has too much play and can snap. The model is our own estimate, made to match both
charts: the groove of a needle is 0.40 of its blade wide, and the nominal fill is thread over groove.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.standing import Standing, estimate
from weftonos.core.needle.needle import POINTS, NeedleSize, Point
from weftonos.core.thread.nature import together
from weftonos.core.thread.thread import Bundle

GROOVE_OF_BLADE = estimate(0.40, "", "groove width over blade diameter, to match both charts")
SLACK_BELOW = estimate(0.27, "", "below it delicate thread snaps")
#: From this share of a point's limit on, the thread still lies in the groove, but only just.
TIGHT_FROM = estimate(0.90, "", "the last tenth before it rubs")


class FitState(StrEnum):
    """How a thread lies in a groove."""

    SLACK = "slack"
    RIDES = "rides"
    TIGHT = "tight"
    RUBS = "rubs"


FIT_SAYS = {
    FitState.SLACK: "has play in the groove by our estimate, and a delicate thread can snap",
    FitState.RIDES: "fits well",
    FitState.TIGHT: "only just fits",
    FitState.RUBS: "stands proud of the groove by our estimate, and would shred",
}


#: The same at a glance.
FIT_VERDICTS = {
    FitState.SLACK: "Loose fit",
    FitState.RIDES: "Good fit",
    FitState.TIGHT: "Snug fit",
    FitState.RUBS: "Too thick",
}


def groove_width_mm(size: NeedleSize) -> float:
    """Return the modeled width of a needle's long groove in mm (estimate)."""
    return GROOVE_OF_BLADE.value * size.blade_mm


def nominal_fill(diameter_mm: float, size: NeedleSize) -> float:
    """Return thread diameter over groove width, without unit.

    >>> round(nominal_fill(0.187, NeedleSize(90, 14)), 2)
    0.52
    """
    return diameter_mm / groove_width_mm(size)


def fit_state(fill: float, point: Point, slack_below: float | None = None) -> FitState:
    """Return how a thread of this nominal fill lies in the groove of this point.

    ``slack_below`` takes the place of the usual fill below which there is play.
    """
    limit = POINTS[point].limit.value
    if fill < (SLACK_BELOW.value if slack_below is None else slack_below):
        return FitState.SLACK
    if fill > limit:
        return FitState.RUBS
    return FitState.TIGHT if fill > TIGHT_FROM.value * limit else FitState.RIDES


@dataclass(frozen=True)
class Fit:
    """How what runs through a needle lies in it: the fill, the state, and that in words with its doubt."""

    fill: float
    state: FitState
    says: str


def fit_of(top: Bundle, size: NeedleSize, point: Point) -> Fit:
    """Return how a thread or bundle lies in a needle: the one judgment that every station shows.

    Our limits are estimates. What somebody sews well is never called wrong, and what is judged by the cloth (clear
    thread, metallic, film, very fine thread) has no play to speak of.
    """
    nature = together(top.threads)
    fill = nominal_fill(top.diameter_mm, size)
    state = fit_state(fill, point, nature.slack_below)
    if state is FitState.SLACK and nature.by_eye:
        return Fit(fill, FitState.RIDES, f"{FIT_SAYS[FitState.RIDES]}. {nature.by_eye}")
    if state is FitState.RUBS and f"{size} {point.value}" in nature.sewn:
        return Fit(
            fill, FitState.TIGHT, "is tight by our estimate of the groove, though some sew it that way, and well"
        )
    return Fit(fill, state, FIT_SAYS[state])


@dataclass(frozen=True, kw_only=True)
class SizeFit:
    """One size with a thread in it: the fill, and how each point takes it."""

    metric: int
    american: int
    nominal_fill: float
    groove_mm: float
    states: dict[Point, FitState]
    standing: Standing


def size_fit(top: Bundle, size: NeedleSize) -> SizeFit:
    """Return the fit of a thread or bundle in one size with every point."""
    fill = nominal_fill(top.diameter_mm, size)
    return SizeFit(
        metric=size.metric,
        american=size.american,
        nominal_fill=fill,
        groove_mm=groove_width_mm(size),
        states={point: fit_of(top, size, point).state for point in Point},
        standing=size.standing,
    )
