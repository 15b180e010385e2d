"""Two kinds side by side: how much longer, how much more often, what else differed, and whether that can be told apart.

The verdict uses a rule that stays valid however often one looks (a mixture e-value, Robbins 1970): where nothing
differs it is wrong at most 5 times in 100, even if one looks every evening. The interval shown is the ordinary one.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from weftonos.core.evidence.survival import covariance_at
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import in_words
from weftonos.core.kernel.standing import estimate

#: The size of a difference that is looked for, as the spread of its logarithm.
DIFFERENCE_LOOKED_FOR = estimate(0.7, "", "a factor of two either way is ordinary among needles and threads")
#: The e-value from which it is said that two differ: one in this many by chance (Ville 1939).
SAID_FROM = 20
#: Troubles or breaks of each kind from which they are compared at all.
FEWEST_EVENTS, FEWEST_OF_BOTH = estimate(1, "of each kind"), estimate(4, "of both together")


@dataclass(frozen=True, kw_only=True)
class Unit:
    """One needle, or one quilt's share of a kind: which kind, what else was so, how long, and how often it failed.

    ``besides`` are other things that may differ: the machine, the thread, the batting. For a needle ``events`` is 0 or
    1; ``quilt`` is where quilts differ.
    """

    kind: str
    amount: float
    events: int
    besides: Mapping[str, str]
    quilt: str = ""


@dataclass(frozen=True, kw_only=True)
class Compared:
    """What two kinds say: the ratio of the first to the second with its 95 % interval, or why that cannot be told.

    ``chance`` is how likely the first is the greater, 0 to 1; ``said`` whether it is more than chance, by the rule that
    stays valid. ``adjusted`` names what was allowed for, ``differed`` what else differed.
    """

    first: str
    second: str
    ratio: float | None = None
    low: float | None = None
    high: float | None = None
    chance: float | None = None
    said: bool = False
    cannot: str = ""
    adjusted: tuple[str, ...] = ()
    differed: tuple[str, ...] = ()
    first_events: int = 0
    second_events: int = 0
    first_amount: float = 0.0
    second_amount: float = 0.0


def e_value(log_ratio: float, variance: float) -> float:
    """Return the evidence that a log ratio is not 0, mixed over differences of the size that is looked for."""
    looked_for = DIFFERENCE_LOOKED_FOR.value**2
    if variance <= 0:
        return 1.0
    share = looked_for / (variance + looked_for)
    return math.sqrt(1 - share) * math.exp(min(700.0, log_ratio**2 * share / (2 * variance)))


def _weigh(units: Sequence[Unit], first: str, second: str) -> tuple[list[Unit], tuple[str, ...], tuple[str, ...], str]:
    """Return the units that can be compared, what is allowed for, what differed, and why nothing can be told."""
    kept = [unit for unit in units if unit.kind in (first, second) and unit.amount > 0]
    by_kind = {kind: [unit for unit in kept if unit.kind == kind] for kind in (first, second)}
    for kind, mine in by_kind.items():
        if not mine:
            return [], (), (), f"Nothing of {kind} is on record."
    adjusted, differed = [], []
    for factor in sorted({name for unit in kept for name in unit.besides}):
        levels = [{unit.besides.get(factor, "") for unit in mine} for mine in by_kind.values()]
        shared = levels[0] & levels[1]
        if levels[0] == levels[1] and len(shared) == 1:
            continue
        if not shared:
            names = in_words(sorted(levels[0]), "and")
            why = f"All of {first} was with {names}, and {second} never, so we can't tell them apart."
            return [], (), (factor,), why
        differed.append(factor)
        within = [unit for unit in kept if unit.besides.get(factor, "") in shared]
        if len(shared) * 3 <= len(within):
            kept = within
            by_kind = {kind: [unit for unit in kept if unit.kind == kind] for kind in (first, second)}
            adjusted.append(factor)
            if not all(by_kind.values()):
                return [], (), (factor,), f"With the same {factor}, only one of them is on record."
    return kept, tuple(adjusted), tuple(differed), ""


def _columns(units: Sequence[Unit], first: str, adjusted: Sequence[str]) -> Any:
    """Return the columns of a regression: the mean, whether it is the first kind, and what is allowed for."""
    import numpy as np

    columns = [np.ones(len(units)), np.array([unit.kind == first for unit in units], float)]
    for factor in adjusted:
        levels = sorted({unit.besides.get(factor, "") for unit in units})
        columns += [np.array([unit.besides.get(factor, "") == level for unit in units], float) for level in levels[1:]]
    return np.column_stack(columns)


Fit = Callable[[Sequence[Unit], Any], tuple[float, float]]


def _compare(units: Sequence[Unit], first: str, second: str, fit: Fit, what: str) -> Compared:
    kept, adjusted, differed, cannot = _weigh(units, first, second)
    counted: dict[str, Any] = {}
    for name, kind in (("first", first), ("second", second)):
        mine = [unit for unit in (kept or units) if unit.kind == kind]
        counted |= {f"{name}_events": sum(u.events for u in mine), f"{name}_amount": sum(u.amount for u in mine)}
    events = counted["first_events"], counted["second_events"]
    if not cannot and (min(events) < FEWEST_EVENTS.value or sum(events) < FEWEST_OF_BOTH.value):
        cannot = f"Too few {what} to tell yet: {events[0]} with {first}, {events[1]} with {second}."
        all_of = tuple(sum(u.events for u in units if u.kind == kind) for kind in (first, second))
        if events != all_of:
            # The page around it counts more: both counts stand side by side.
            cannot = (
                f"Too few {what} to tell yet. There are {all_of[0]} with {first} and {all_of[1]} with {second} in all, "
                f"but only {events[0]} and {events[1]} with the same {in_words(adjusted, 'and')}."
            )
    if cannot:
        return Compared(first=first, second=second, cannot=cannot, differed=differed, **counted)
    log_ratio, variance = fit(kept, _columns(kept, first, adjusted))
    if not math.isfinite(log_ratio) or not 0 < variance < 100:
        return Compared(
            first=first,
            second=second,
            cannot=f"The records of {first} and {second} can't settle it. Too little of what else differed is shared.",
            differed=differed,
            **counted,
        )
    half = Z95.value * math.sqrt(variance)
    return Compared(
        first=first,
        second=second,
        ratio=math.exp(log_ratio),
        low=math.exp(log_ratio - half),
        high=math.exp(log_ratio + half),
        chance=0.5 * (1 + math.erf(log_ratio / math.sqrt(2 * variance))),
        said=e_value(log_ratio, variance) >= SAID_FROM,
        adjusted=adjusted,
        differed=tuple(name for name in differed if name not in adjusted),
        **counted,
    )


def compare_lives(units: Sequence[Unit], first: str, second: str) -> Compared:
    """Return how many times as long the first kind of needle lasts (a Weibull regression of accelerated life)."""
    return _compare(units, first, second, _life_ratio, "troubles")


def _life_ratio(units: Sequence[Unit], columns: Any) -> tuple[float, float]:
    import numpy as np
    from scipy.optimize import minimize

    hours = np.log([max(unit.amount, 1e-6) for unit in units])
    trouble = np.array([unit.events > 0 for unit in units])

    def cost(all_of: Any) -> float:
        log_shape = float(np.clip(all_of[-1], -3, 4))
        z = math.exp(log_shape) * (hours - columns @ all_of[:-1])
        told = trouble.sum() * log_shape + z[trouble].sum() - np.exp(np.minimum(z, 300)).sum()
        return -float(told) + 1e-9 * float(all_of @ all_of)

    def slope(all_of: Any) -> Any:
        log_shape = float(np.clip(all_of[-1], -3, 4))
        shape = math.exp(log_shape)
        z = np.minimum(shape * (hours - columns @ all_of[:-1]), 300)
        by_z = trouble - np.exp(z)
        by_shape = trouble.sum() + z @ by_z if -3 < all_of[-1] < 4 else 0.0
        return -np.append(-shape * (by_z @ columns), by_shape) + 2e-9 * all_of

    start = np.zeros(columns.shape[1] + 1)
    start[0] = math.log(np.exp(hours).sum() / max(1, trouble.sum()))
    found = minimize(cost, start, jac=slope, method="BFGS")
    # Few needles: the variance of maximum likelihood is too small by what was fitted.
    fitted = len(found.x)
    widened = len(units) / max(1, len(units) - fitted)
    return float(found.x[1]), float(covariance_at(cost, found.x)[1][1]) * widened


def compare_rates(units: Sequence[Unit], first: str, second: str) -> Compared:
    """Return how many times as often thread breaks with the first kind, where quilts differ (negative binomial)."""
    return _compare(units, first, second, _rate_ratio, "breaks")


def _rate_ratio(units: Sequence[Unit], columns: Any) -> tuple[float, float]:
    coefficients, covariance, _ = negative_binomial(
        [unit.events for unit in units], columns, [unit.amount for unit in units]
    )
    return float(coefficients[1]), float(covariance[1][1])


def negative_binomial(counts: Sequence[int], columns: Any, amounts: Sequence[float]) -> tuple[Any, Any, float]:
    """Return coefficients, their covariance, and the spread, of a negative binomial regression with a log link.

    By maximum likelihood (Lawless 1987); ``amounts`` are the exposures. The covariance allows for the spread's own
    doubt and, the counts being few, is widened by the counts there are beyond the coefficients.
    """
    import numpy as np
    from scipy.optimize import minimize
    from scipy.special import digamma, gammaln

    y, offset = np.array(counts, float), np.log(np.array(amounts, float))

    def cost(all_of: Any) -> float:
        spread = math.exp(float(np.clip(all_of[-1], -12, 4)))
        size = 1 / spread
        mean = np.exp(np.clip(columns @ all_of[:-1] + offset, -50, 50))
        told = (
            gammaln(y + size)
            - gammaln(size)
            - gammaln(y + 1)
            - size * np.log1p(mean * spread)
            + y * (np.log(mean) - np.log(size + mean))
        )
        return -float(told.sum()) + 1e-9 * float(all_of @ all_of)

    def slope(all_of: Any) -> Any:
        size = math.exp(-float(np.clip(all_of[-1], -12, 4)))
        mean = np.exp(np.clip(columns @ all_of[:-1] + offset, -50, 50))
        by_size = digamma(y + size) - digamma(size) - np.log1p(mean / size) + (mean - y) / (size + mean)
        by_spread = -size * by_size.sum() if -12 < all_of[-1] < 4 else 0.0
        return -np.append((size * (y - mean) / (size + mean)) @ columns, by_spread) + 2e-9 * all_of

    start = np.zeros(columns.shape[1] + 1)
    start[0] = math.log((y.sum() + 0.5) / np.exp(offset).sum())
    start[-1] = -1.0
    found = minimize(cost, start, jac=slope, method="BFGS")
    if found.x[-1] < -9:
        # No spread to speak of: the curvature in it says nothing.
        fixed = found.x[-1]
        covariance = covariance_at(lambda some: cost(np.append(some, fixed)), found.x[:-1])
    else:
        covariance = covariance_at(cost, found.x)[:-1, :-1]
    freedom = max(1.0, len(y) - columns.shape[1])
    return found.x[:-1], covariance * (len(y) / freedom), math.exp(found.x[-1])
