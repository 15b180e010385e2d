"""What is expected of a plan, with its range: learned from what earlier plans expected and what they really took.

Every expectation is a product, so that its error is a ratio. The logarithm of real over planned is taken as normal, its
mean (this owner's habit) and its variance (from quilt to quilt) both unknown: the conjugate normal-inverse-gamma prior,
whose prediction is Student's (Gelman et al., *Bayesian Data Analysis*, 3rd ed., section 3.3).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from weftonos.core.kernel.counting import student_quantile
from weftonos.core.kernel.standing import Known, estimate

#: The share of cases that a range on screen holds.
MOST_LIKELY = estimate(0.8, "", "“most likely between” is 8 in 10")
#: Half the degrees of freedom that the guess of the variance weighs before anything is known.
_PRIOR_ALPHA = 3.0
#: A real figure that is so many times off was noted wrongly, or belongs to something else.
BELIEVED_RATIO = estimate(5.0)


@dataclass(frozen=True)
class Doubt:
    """What a figure is doubted by before anything is known: the owner's habit, and quilts of one owner."""

    habit: Known
    quilts: Known


#: Stitched meters: lines drawn by eye, shares guessed.
METERS_BY_PICTURE = Doubt(
    estimate(0.25, "", "log-sd: lines by eye, shares guessed"), estimate(0.13, "", "log-sd from quilt to quilt")
)
METERS_BY_LINES = Doubt(
    estimate(0.15, "", "log-sd: distance said, share guessed"), estimate(0.08, "", "log-sd from quilt to quilt")
)
METERS_KNOWN = Doubt(estimate(0.03, "", "log-sd: a pattern's own length"), estimate(0.02, "", "log-sd"))
#: Thread for a meter of stitching, and what a bobbin holds.
THREAD_EACH = Doubt(estimate(0.15, "", "log-sd: take-up, winding"), estimate(0.06, "", "log-sd from quilt to quilt"))
#: Hours for a meter, by a usual pace and by one's own runs.
USUAL_PACE = Doubt(
    estimate(0.40, "", "log-sd: hands differ by half as much again"), estimate(0.12, "", "log-sd from quilt to quilt")
)
OWN_PACE = Doubt(
    estimate(0.15, "", "log-sd: a pass is not the last runs"), estimate(0.12, "", "log-sd from quilt to quilt")
)


def together(*doubts: Doubt) -> Doubt:
    """Return the doubt of a product."""
    habit = math.sqrt(sum(each.habit.value**2 for each in doubts))
    quilts = math.sqrt(sum(each.quilts.value**2 for each in doubts))
    return Doubt(estimate(habit), estimate(quilts))


@dataclass(frozen=True, kw_only=True)
class LearnedFactor:
    """What a plan's figure is multiplied by: the middle, and the ends of the range that holds 8 in 10."""

    low: float
    middle: float
    high: float
    quilts: int


def learned_factor(doubt: Doubt, ratios: Sequence[float]) -> LearnedFactor:
    """Return the factor for the next quilt, from real over planned of the finished ones.

    >>> factor = learned_factor(THREAD_EACH, [1.2] * 40)
    >>> round(factor.middle, 2), factor.high - factor.low < 0.2
    (1.2, True)
    """
    told = [math.log(r) for r in ratios if 1 / BELIEVED_RATIO.value < r < BELIEVED_RATIO.value]
    n, within = len(told), doubt.quilts.value
    kappa, alpha = (within / doubt.habit.value) ** 2, _PRIOR_ALPHA
    beta = alpha * within**2
    mean = sum(told) / n if n else 0.0
    squares = sum((each - mean) ** 2 for each in told)
    beta += squares / 2 + kappa * n * mean**2 / (2 * (kappa + n))
    middle, weighs, alpha = n * mean / (kappa + n), kappa + n, alpha + n / 2
    scale = math.sqrt(beta * (weighs + 1) / (alpha * weighs))
    half = student_quantile(round(2 * alpha), MOST_LIKELY.value) * scale
    return LearnedFactor(low=math.exp(middle - half), middle=math.exp(middle), high=math.exp(middle + half), quilts=n)


@dataclass(frozen=True)
class Likely:
    """A figure with the range that it is most likely in (8 in 10)."""

    low: float
    likely: float
    high: float

    def __add__(self, other: Likely) -> Likely:
        """Add two figures of one quilt: what makes one of them larger makes the other larger too."""
        return Likely(self.low + other.low, self.likely + other.likely, self.high + other.high)

    def times(self, by: float) -> Likely:
        """Return it so many times."""
        return Likely(self.low * by, self.likely * by, self.high * by)

    @classmethod
    def of(cls, figure: float, factor: LearnedFactor) -> Likely:
        """Return a planned figure with its range."""
        return cls(figure * factor.low, figure * factor.middle, figure * factor.high)


NOTHING = Likely(0.0, 0.0, 0.0)
