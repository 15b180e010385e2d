"""How often thread breaks, where quilts differ: a gamma-Poisson model whose spread is learned.

Breaks on one quilt are Poisson about the quilt's own rate, and quilts' rates spread about the mean as a gamma
distribution: the counts are negative binomial. Rate and spread are worked out on grids, so that no sampling is needed;
the spread's own doubt is part of every interval. With little on record a rate is drawn to the workshop's mean.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from weftonos.core.kernel.counting import count_interval, student_quantile
from weftonos.core.kernel.standing import estimate

#: Prior standard deviation of a combination's log rate about the workshop's mean: 0.8 between combinations, the rest
#: for the uncertainty of the mean.
RATES_SPREAD = estimate(1.0, "", "two thirds of combinations between 0.37 and 2.7 times the mean")
#: Largest between-quilt variance on the grid, and its prior scale.
MOST_SPREAD = estimate(4.0, "", "a quilt may break thread many times as often as another")
#: What is expected of the spread weighs as much as so many differences; from so many on it is as good as known.
PRIOR_TELLS, MANY = 4, 10_000
SPREAD_SCALE = estimate(0.5, "", "how much quilts usually differ, before anything is known")
_RATES, _SPREADS = 240, 36


@dataclass(frozen=True, kw_only=True)
class Exposure:
    """What was stitched on one quilt, in hours or in kilometers, and how often the thread broke on it."""

    amount: float
    breaks: int


def mean_of(told: Sequence[Exposure]) -> float | None:
    """Return breaks over what was stitched; ``None`` where there were none, or nothing."""
    amount, breaks = sum(e.amount for e in told), sum(e.breaks for e in told)
    return breaks / amount if amount and breaks else None


@dataclass(frozen=True)
class Spread:
    """How much quilts differ: values of the variance of their factor, and how likely each is.

    ``told`` is from how many differences between quilts that was learned; ``None`` where it is taken as known.
    """

    values: tuple[float, ...]
    weights: tuple[float, ...]
    told: int | None = None

    @property
    def mean(self) -> float:
        """The spread that is expected."""
        return sum(v * w for v, w in zip(self.values, self.weights, strict=True))


@dataclass(frozen=True, kw_only=True)
class Rate:
    """Breaks per unit of what was stitched, with its 95 % interval; beside it the plain count's (Garwood 1936).

    ``likely_low`` to ``likely_high`` is the 80 % interval.
    """

    breaks: int
    amount: float
    quilts: int
    per_unit: float
    low: float
    high: float
    likely_low: float
    likely_high: float
    plain: float
    plain_low: float
    plain_high: float


def _log_pmf(count: Any, mean: Any, spread: Any) -> Any:
    """Return the log probability of a negative binomial count; all arguments broadcast."""
    import numpy as np
    from scipy.special import gammaln

    size = 1 / np.maximum(spread, 1e-9)
    mean = np.maximum(mean, 1e-300)
    return (
        gammaln(count + size)
        - gammaln(size)
        - gammaln(count + 1)
        - size * np.log1p(mean / size)
        + count * (np.log(mean) - np.log(size + mean))
    )


def _spreads() -> Any:
    import numpy as np

    # Even in the standard deviation, which is what one has a feeling for.
    return np.linspace(0.02, MOST_SPREAD.value**0.5, _SPREADS) ** 2


def _rate_grid(groups: Sequence[Exposure]) -> Any:
    import numpy as np

    breaks, amount = sum(e.breaks for e in groups), sum(e.amount for e in groups)
    middle = np.log((breaks + 0.5) / max(amount, 1e-9))
    return np.linspace(middle - 6, middle + 5, _RATES)


def _likelihood(groups: Sequence[Exposure], rates: Any) -> Any:
    """Return the log likelihood of exposures on the grid of spreads × rates."""
    import numpy as np

    counts = np.array([e.breaks for e in groups], float)[:, None, None]
    means = np.array([e.amount for e in groups], float)[:, None, None] * np.exp(rates)[None, None, :]
    return _log_pmf(counts, means, _spreads()[None, :, None]).sum(axis=0)


def learn_spread(groups: Sequence[Sequence[Exposure]]) -> Spread:
    """Return how much quilts differ, from combinations that were each stitched on several; each has its own rate."""
    import numpy as np

    spreads = _spreads()
    deviation = np.sqrt(spreads)
    # Half-Cauchy in the standard deviation (Gelman 2006, Bayesian Analysis 1): it forbids nothing.
    log_weight = -np.log1p((deviation / SPREAD_SCALE.value**0.5) ** 2)
    differences = 0
    for exposures in groups:
        told = [e for e in exposures if e.amount > 0]
        if len(told) < 2:
            continue
        differences += len(told) - 1
        log_weight = log_weight + _log_sum(_likelihood(told, _rate_grid(told)), axis=1)
    weights = np.exp(log_weight - log_weight.max())
    weights /= weights.sum()
    return Spread(tuple(map(float, spreads)), tuple(map(float, weights)), differences)


def _log_sum(values: Any, axis: int) -> Any:
    from scipy.special import logsumexp

    return logsumexp(values, axis=axis)


def _posterior(exposures: Sequence[Exposure], spread: Spread, mean: float | None) -> tuple[Any, Any]:
    """Return the grid of log rates and the weights over spreads × rates."""
    import numpy as np

    rates = _rate_grid(exposures) if mean is None else np.linspace(np.log(mean) - 6, np.log(mean) + 6, _RATES)
    log_weight = np.log(np.maximum(spread.weights, 1e-300))[:, None] + _likelihood(exposures, rates)
    if mean is not None:
        log_weight = log_weight - 0.5 * ((rates - np.log(mean)) / RATES_SPREAD.value)[None, :] ** 2
    weights = np.exp(log_weight - log_weight.max())
    return rates, weights / weights.sum()


def _quantile(values: Any, weights: Any, share: float) -> float:
    import numpy as np

    steps = np.cumsum(weights)
    # Half of each step lies on either side of its value.
    return float(np.interp(share, steps - weights / 2, values))


def rate_of(exposures: Sequence[Exposure], spread: Spread, mean: float | None = None) -> Rate | None:
    """Return how often thread breaks, per unit of the exposures; ``None`` where nothing was stitched.

    ``mean`` is the workshop's own rate, to which little evidence is drawn; without it the counts stand alone.
    """
    import numpy as np

    told = [e for e in exposures if e.amount > 0]
    breaks, amount = sum(e.breaks for e in told), sum(e.amount for e in told)
    if not told or (breaks == 0 and mean is None):
        return None
    rates, weights = _posterior(told, spread, mean)
    over_rates = weights.sum(axis=0)
    plain_low, plain_high = (end / amount for end in count_interval(breaks))
    middle = _quantile(rates, over_rates, 0.5)

    def end(share: float) -> float:
        return float(np.exp(middle + _wider(spread, share) * (_quantile(rates, over_rates, share) - middle)))

    return Rate(
        breaks=breaks,
        amount=amount,
        quilts=len(told),
        per_unit=float(np.exp(middle)),
        low=end(0.025),
        high=end(0.975),
        likely_low=end(0.1),
        likely_high=end(0.9),
        plain=breaks / amount,
        plain_low=plain_low,
        plain_high=plain_high,
    )


def _wider(spread: Spread, share: float) -> float:
    """Return how much wider an end is for few quilts, whose worst are seldom among them: by Student's distribution."""
    if not spread.told:
        return 1.0
    level = abs(2 * share - 1)
    return student_quantile(spread.told + PRIOR_TELLS, level) / student_quantile(MANY, level)


def predicted(exposures: Sequence[Exposure], spread: Spread, coming: Sequence[float]) -> tuple[float, float]:
    """Return within what the mean rate of quilts to come will lie, 95 in 100, their own chance included.

    ``coming`` are what will be stitched on each. The count over all of them is taken as negative binomial with its own
    mean and variance.
    """
    import numpy as np
    from scipy.special import betainc

    rates, weights = _posterior(exposures, spread, None)
    amounts = np.array(coming, float)
    total = np.exp(rates) * amounts.sum()
    spreads = np.array(spread.values)[:, None]
    # One negative binomial with the variance of the sum: spread over all is less where quilts are many.
    overall = spreads * float((amounts**2).sum() / amounts.sum() ** 2)
    size = 1 / overall
    share = size / (size + total[None, :])

    def below(count: int) -> float:
        return float((weights * betainc(size, count + 1, share)).sum())

    def first_from(level: float) -> int:
        low, high = -1, 1
        while below(high) < level:
            low, high = high, high * 2
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (middle, high) if below(middle) < level else (low, middle)
        return high

    low, high = first_from(0.025), first_from(0.975)
    return float(low / amounts.sum()), float(high / amounts.sum())
