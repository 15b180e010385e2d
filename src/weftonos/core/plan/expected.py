"""What is expected of a plan, with its range: learned from what earlier plans expected and what they really took.

Every expectation is a product, so that its error is a ratio, and its logarithm a sum: this owner's habit, what differs
from kind to kind of pass, what differs from quilt to quilt and from pass to pass. Habit and kinds are the coefficients
of a linear model with a conjugate normal-inverse-gamma prior; the prediction is Student's (Gelman et al., *Bayesian
Data Analysis*, 3rd ed., chapter 14; O'Hagan and Forster, *Bayesian Inference*, chapter 11).
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from weftonos.core.kernel.counting import student_quantile
from weftonos.core.kernel.standing import Known, estimate
from weftonos.core.plan.passes import PassKind

#: The share of cases that a range on screen holds.
MOST_LIKELY = estimate(0.8, "", "“most likely between” is 8 in 10")
#: Half the degrees of freedom that the guess of the variances weighs before anything is known.
_PRIOR_ALPHA = 6.0
#: A real figure that is so many times off was noted wrongly, or belongs to something else.
BELIEVED_RATIO = estimate(5.0)
_KINDS = tuple(PassKind)


@dataclass(frozen=True, kw_only=True)
class Doubt:
    """What a figure is doubted by before anything is known, as standard deviations of its logarithm."""

    habit: Known
    kinds: Known
    quilts: Known
    passes: Known


#: Stitched meters: lines drawn by eye, shares guessed; lines measured; a pattern's own length.
METERS_BY_PICTURE = Doubt(
    habit=estimate(0.20, "", "log-sd: lines by eye"),
    kinds=estimate(0.10, "", "log-sd"),
    quilts=estimate(0.09, "", "log-sd"),
    passes=estimate(0.12, "", "log-sd: shares guessed"),
)
METERS_BY_LINES = Doubt(
    habit=estimate(0.15, "", "log-sd: distance said, share guessed"),
    kinds=estimate(0.10, "", "log-sd"),
    quilts=estimate(0.08, "", "log-sd"),
    passes=estimate(0.12, "", "log-sd: shares guessed"),
)
METERS_KNOWN = Doubt(
    habit=estimate(0.03, "", "log-sd: a pattern's own length"),
    kinds=estimate(0.02, "", "log-sd"),
    quilts=estimate(0.02, "", "log-sd"),
    passes=estimate(0.03, "", "log-sd"),
)
#: Thread for a meter of stitching, and what a bobbin holds.
THREAD_EACH = Doubt(
    habit=estimate(0.15, "", "log-sd: take-up, winding"),
    kinds=estimate(0.03, "", "log-sd"),
    quilts=estimate(0.06, "", "log-sd"),
    passes=estimate(0.05, "", "log-sd"),
)
#: Hours for a meter, by a usual pace, and by one's own runs, which say nothing of the kind of pass.
USUAL_PACE = Doubt(
    habit=estimate(0.38, "", "log-sd: hands differ by half as much again"),
    kinds=estimate(0.15, "", "log-sd"),
    quilts=estimate(0.08, "", "log-sd"),
    passes=estimate(0.06, "", "log-sd"),
)
OWN_PACE = Doubt(
    habit=estimate(0.20, "", "log-sd: the last runs were other passes"),
    kinds=estimate(0.25, "", "log-sd: edge to edge is twice as fast as a fill"),
    quilts=estimate(0.08, "", "log-sd"),
    passes=estimate(0.06, "", "log-sd"),
)


def together(*doubts: Doubt) -> Doubt:
    """Return the doubt of a product."""

    def joined(*values: Known) -> Known:
        return estimate(math.hypot(*(each.value for each in values)))

    return Doubt(
        habit=joined(*(d.habit for d in doubts)),
        kinds=joined(*(d.kinds for d in doubts)),
        quilts=joined(*(d.quilts for d in doubts)),
        passes=joined(*(d.passes for d in doubts)),
    )


#: What share of a figure each kind of pass has; they add up to 1.
Parts = Mapping[PassKind, float]


@dataclass(frozen=True, kw_only=True)
class Told:
    """Real over planned of one pass, or of a whole quilt: the share of each kind in it, and what the count is off by.

    ``counted`` is the relative error of counting (bobbins are counted whole).
    """

    ratio: float
    parts: Parts
    counted: float = 0.0


@dataclass(frozen=True, kw_only=True)
class LearnedFactor:
    """What a plan's figure is multiplied by: the middle, and the ends of the range that holds 8 in 10.

    ``by_kind`` is the middle for each kind of pass.
    """

    low: float
    middle: float
    high: float
    quilts: int
    by_kind: Mapping[PassKind, float]


def learned_factor(doubt: Doubt, quilts: Sequence[Sequence[Told]], parts: Parts) -> LearnedFactor:
    """Return the factor for the next quilt.

    Parameters
    ----------
    quilts: what finished quilts told, each in one or more parts. parts: the share of each kind in the next.

    Examples
    --------
    >>> one = {PassKind.FILL: 1.0}
    >>> factor = learned_factor(THREAD_EACH, [[Told(ratio=1.2, parts=one)]] * 40, one)
    >>> round(factor.middle, 2), factor.high - factor.low < 0.2
    (1.2, True)
    """
    # NumPy is fetched when a plan is asked for.
    import numpy as np

    variance = [doubt.habit.value**2] + [doubt.kinds.value**2] * len(_KINDS)
    precision = np.diag([1 / each for each in variance])
    moment, square, rows, told_of = np.zeros(len(variance)), 0.0, 0, 0
    for quilt in quilts:
        believed = [t for t in quilt if 1 / BELIEVED_RATIO.value < t.ratio < BELIEVED_RATIO.value]
        if not believed:
            continue
        x = np.array([_row(t.parts) for t in believed])
        y = np.log([t.ratio for t in believed])
        noise = np.full((len(y), len(y)), doubt.quilts.value**2)
        noise += np.diag([_alone(doubt, t.parts) + t.counted**2 for t in believed])
        weighed = np.linalg.solve(noise, np.column_stack([x, y]))
        precision += x.T @ weighed[:, :-1]
        moment += x.T @ weighed[:, -1]
        square += float(y @ weighed[:, -1])
        rows, told_of = rows + len(y), told_of + 1
    covariance = np.linalg.inv(precision)
    mean = covariance @ moment
    alpha = _PRIOR_ALPHA + rows / 2
    beta = _PRIOR_ALPHA + (square - float(mean @ moment)) / 2
    x = np.array(_row(parts))
    middle = float(x @ mean)
    spread = float(x @ covariance @ x) + doubt.quilts.value**2 + _alone(doubt, parts)
    half = student_quantile(round(2 * alpha), MOST_LIKELY.value) * math.sqrt(beta / alpha * spread)
    return LearnedFactor(
        low=math.exp(middle - half),
        middle=math.exp(middle),
        high=math.exp(middle + half),
        quilts=told_of,
        by_kind={kind: math.exp(float(mean[0] + mean[1 + n])) for n, kind in enumerate(_KINDS)},
    )


def _row(parts: Parts) -> list[float]:
    return [1.0, *(parts.get(kind, 0.0) for kind in _KINDS)]


def _alone(doubt: Doubt, parts: Parts) -> float:
    """Return the variance of what differs from pass to pass, in a sum of passes."""
    return doubt.passes.value**2 * sum(share**2 for share in parts.values())


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
    def of(cls, figure: float, factor: LearnedFactor, kind: PassKind | None = None) -> Likely:
        """Return a planned figure with its range, that of a pass around the middle of its kind."""
        middle = factor.middle if kind is None else factor.by_kind[kind]
        return cls(
            figure * middle * factor.low / factor.middle, figure * middle, figure * middle * factor.high / factor.middle
        )


NOTHING = Likely(0.0, 0.0, 0.0)
