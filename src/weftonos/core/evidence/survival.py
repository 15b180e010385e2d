"""How long needles last: those that came to trouble, and those that were taken out in good order or are still in.

Kaplan and Meier's curve with Greenwood's variance on the log-log scale; a Weibull fit, whose shape says whether needles
wear out or fail at random; the mean within a time; and the hour at which changing costs least.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from weftonos.core.kernel.counting import Z95, student_quantile
from weftonos.core.kernel.standing import estimate
from weftonos.core.needle.life import CHANGE, MeanLife, NeedleSpan, OwnChange

#: Troubles from which a shape is said at all.
TROUBLES_FOR_SHAPE = estimate(5, "troubles", "with fewer the shape may be anything")
#: The maximum-likelihood shape of few troubles is too steep, by about this over their number, on its logarithm
#: (Thoman, Bain and Antle 1969, Technometrics 11; the figure from memory and by simulation).
SHAPE_BIAS = estimate(1.4, "", "of the logarithm, over the number of troubles")
#: Standard errors from which a shape is said: of needles that fail at random, looked at after each of 25, at most
#: 5 in 100 are said to wear out at some time.
SHAPE_SAID = estimate(2.7, "standard errors", "by simulation: 1.96 let an eighth through")
#: The steepest shape that is looked for: all in trouble at the same hour.
MOST_SHAPE = estimate(64.0, "", "steeper cannot be told from it")
#: What a trouble on the quilt costs in minutes, and a needle, where nobody has said.
TROUBLE_MINUTES = estimate(20, "min", "a break on the quilt: looking, unpicking, starting again")
NEEDLE_MINUTES = estimate(1, "min", "what a needle costs, in one's own time")


@dataclass(frozen=True, kw_only=True)
class CurveStep:
    """A step of the curve: the hour, the share of needles without trouble from then on, and its 95 % band."""

    hours: float
    share: float
    low: float
    high: float
    at_risk: int


def kaplan_meier(spans: Sequence[NeedleSpan]) -> tuple[CurveStep, ...]:
    """Return the share of needles without trouble, step by step (Kaplan and Meier 1958).

    The band is Greenwood's on the log-log scale (Kalbfleisch and Prentice), so that it stays within 0 and 1.
    """
    steps, share, variance = [CurveStep(hours=0, share=1, low=1, high=1, at_risk=len(spans))], 1.0, 0.0
    for hour in sorted({span.hours for span in spans if span.trouble}):
        at_risk = sum(span.hours >= hour for span in spans)
        troubles = sum(span.trouble and span.hours == hour for span in spans)
        share *= 1 - troubles / at_risk
        if share > 0:
            variance += troubles / (at_risk * (at_risk - troubles))
            half = Z95.value * math.sqrt(variance) / abs(math.log(share))
            low, high = share ** math.exp(half), share ** math.exp(-half)
        else:
            low = high = 0.0
        steps.append(CurveStep(hours=hour, share=share, low=low, high=high, at_risk=at_risk))
    return tuple(steps)


@dataclass(frozen=True, kw_only=True)
class Weibull:
    """A Weibull life: its scale in hours and its shape, with the shape's 95 % interval.

    ``said_low`` and ``said_high`` are what words and advice go by: free of the bias of few troubles, and wide enough to
    be looked at after each needle.
    """

    scale_h: float
    shape: float
    shape_low: float
    shape_high: float
    said_low: float
    said_high: float

    @property
    def wears_out(self) -> bool:
        """Whether they do, beyond doubt: only then is there an hour at which changing pays."""
        return self.said_low > 1

    @property
    def fails_early(self) -> bool:
        """Whether what has lasted goes on lasting, beyond doubt."""
        return self.said_high < 1

    @property
    def words(self) -> str:
        """What the shape says: whether age matters."""
        if self.wears_out:
            return "They wear out: the older, the likelier trouble is in the next hour."
        if self.fails_early:
            return "They fail early or not at all: a needle that has lasted goes on lasting."
        return "Too soon to say whether they wear out or fail at random."


@lru_cache(maxsize=256)
def _weibull(spans: tuple[NeedleSpan, ...]) -> Weibull | None:
    import numpy as np

    troubles = [span.hours for span in spans if span.trouble]
    if len(set(troubles)) < 2:
        return None
    log_hours = np.log([max(span.hours, 1e-6) for span in spans])
    # Near 1, so that no power of it overflows.
    middle = float(log_hours.max())
    x, of_troubles = log_hours - middle, np.log(troubles) - middle

    def slope(shape: float) -> float:
        """The derivative of the likelihood by the shape, with the best scale for it; it falls."""
        powers = np.exp(shape * x)
        return float(1 / shape + of_troubles.mean() - (powers * x).sum() / powers.sum())

    low, high = 1e-3, 1.0
    while slope(high) > 0 and high < MOST_SHAPE.value:
        high *= 2
    for _ in range(60):
        shape = (low + high) / 2
        low, high = (shape, high) if slope(shape) > 0 else (low, shape)
    powers = np.exp(shape * x)
    weights = powers / powers.sum()
    spread = float((weights * x**2).sum() - (weights * x).sum() ** 2)
    # The curvature along the logarithm of the shape, the scale at its best.
    error = 1 / math.sqrt(len(troubles) * (1 + shape**2 * spread))
    count = len(troubles)
    freed = shape * math.exp(-SHAPE_BIAS.value / count)
    # With two troubles nothing can be said of a shape.
    said = SHAPE_SAID.value * error * math.sqrt(count / (count - 2)) if count > 2 else None
    return Weibull(
        scale_h=math.exp(middle + math.log(powers.sum() / len(troubles)) / shape),
        shape=shape,
        shape_low=shape * math.exp(-Z95.value * error),
        shape_high=shape * math.exp(Z95.value * error),
        said_low=freed * math.exp(-said) if said else 0.0,
        said_high=freed * math.exp(said) if said else MOST_SHAPE.value,
    )


def fit_weibull(spans: Sequence[NeedleSpan]) -> Weibull | None:
    """Return the Weibull life by maximum likelihood; ``None`` with fewer than two troubles at different hours.

    The likelihood with the best scale for each shape has its top where one falling function is 0 (Cohen 1965).
    """
    return _weibull(tuple(spans))


def covariance_at(cost: Callable[[Any], float], at: Any) -> Any:
    """Return the inverse of a cost's curvature at its lowest point, by differences."""
    import numpy as np

    n, step = len(at), 1e-4
    curve = np.zeros((n, n))
    for i in range(n):
        for j in range(n):
            total = 0.0
            for a in (1, -1):
                for b in (1, -1):
                    moved = np.array(at, float)
                    moved[i] += a * step
                    moved[j] += b * step
                    total += a * b * cost(moved)
            curve[i, j] = total / (4 * step**2)
    return np.linalg.pinv(curve)


def restricted_mean(spans: Sequence[NeedleSpan], within_h: float | None = None) -> MeanLife | None:
    """Return the mean hours without trouble within ``within_h`` (by default the longest on record).

    The area below Kaplan and Meier's curve; its variance is Greenwood's (Irwin 1949).
    """
    if not spans:
        return None
    within = max(span.hours for span in spans) if within_h is None else within_h
    steps = [step for step in kaplan_meier(spans) if step.hours < within] or [
        CurveStep(hours=0, share=1, low=1, high=1, at_risk=len(spans))
    ]
    ends = [step.hours for step in steps[1:]] + [within]
    areas = [step.share * (end - step.hours) for step, end in zip(steps, ends, strict=True)]
    mean, variance = sum(areas), 0.0
    for number, step in enumerate(steps[1:], 1):
        troubles = sum(span.trouble and span.hours == step.hours for span in spans)
        left = step.at_risk - troubles
        if left:
            variance += sum(areas[number:]) ** 2 * troubles / (step.at_risk * left)
    # Greenwood's variance of few troubles is itself a guess: Student's distribution allows for it.
    half = student_quantile(max(1, sum(span.trouble for span in spans) - 1)) * math.sqrt(variance)
    return MeanLife(within_h=within, hours=mean, low=max(0.0, mean - half), high=min(within, mean + half))


@dataclass(frozen=True, kw_only=True)
class ChangeAt:
    """When changing costs least: the hour (``None``: at the first trouble), and what an hour costs then, in minutes.

    ``at_trouble`` is what an hour costs where one always waits for the trouble.
    """

    hours: float | None
    minutes_per_hour: float
    at_trouble: float


def change_at(
    life: Weibull,
    *,
    needle_minutes: float = NEEDLE_MINUTES.value,
    change_minutes: float = CHANGE.value,
    trouble_minutes: float = TROUBLE_MINUTES.value,
) -> ChangeAt:
    """Return the hour at which changing a needle costs least (age replacement, Barlow and Hunter 1960).

    Parameters
    ----------
    needle_minutes: what a needle costs, in minutes of one's time.
    change_minutes, trouble_minutes: what a change takes, and what a trouble costs beside it.
    """
    import numpy as np

    planned = needle_minutes + change_minutes
    longest = life.scale_h * 5
    hours = np.linspace(longest / 2000, longest, 2000)
    share = np.exp(-((hours / life.scale_h) ** life.shape))
    lasted = np.cumsum(share) * (hours[1] - hours[0])
    cost = (planned + (1 - share) * trouble_minutes) / lasted
    lowest = int(np.argmin(cost))
    mean = life.scale_h * math.gamma(1 + 1 / life.shape)
    waiting = (planned + trouble_minutes) / mean
    if life.shape <= 1 or cost[lowest] >= waiting * 0.999:
        return ChangeAt(hours=None, minutes_per_hour=waiting, at_trouble=waiting)
    return ChangeAt(hours=float(hours[lowest]), minutes_per_hour=float(cost[lowest]), at_trouble=waiting)


def life_told(spans: Sequence[NeedleSpan]) -> Weibull | None:
    """Return the life of these needles where enough of them came to trouble for its shape to be said."""
    return fit_weibull(spans) if sum(span.trouble for span in spans) >= TROUBLES_FOR_SHAPE.value else None


def own_change(spans: Sequence[NeedleSpan]) -> OwnChange | None:
    """Return when one's own needles of a kind are best changed; ``None`` where too few say whether they wear out.

    Where the shape leaves no doubt that they do not, it is left to their condition.
    """
    life = life_told(spans)
    if life is None or not (life.wears_out or life.fails_early):
        return None
    return OwnChange(hours=change_at(life).hours, needles=len(spans), troubles=sum(span.trouble for span in spans))
