"""Where the balance lies: a cumulative-logit model of graded looks, enumerated on a grid of center and steepness."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from weftonos.core.balance.eye import Eye
from weftonos.core.balance.looks import Observation
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate

Array = npt.NDArray[np.float64]


#: Steepness per dial number, and the cuts between grades on the latent scale.
STEEPNESS = tuple(estimate(s, "per dial number") for s in (0.7, 1.0, 1.5, 2.2, 3.3, 5.0))


CUTS = tuple(estimate(cut, "latent") for cut in (-3.0, -1.0, 1.0, 3.0))


DIAL_GRID = estimate(0.05, "dial numbers", "grid of the exact enumeration")


GRID_PARTS = estimate(500, "parts of the scale", "grid of the exact enumeration")


#: What counts as one dial number on a scale without them.
DIAL_NUMBERS = estimate(10, "to a scale", "a dial runs from 0 to 10")


#: A grade given with doubt lies this often one to either side.
DOUBT = estimate(0.25)


#: The share of an expectation that lies anywhere, on the scale or beyond.
OUTLIER_SHARE = estimate(0.15)

#: The balance may lie beyond either end of the scale, by so much of it.
BEYOND = estimate(0.3, "of the scale")


@dataclass(frozen=True)
class BalancePrior:
    """What is thought of the center before stitching: a normal one, in the scale's own numbers.

    It is taken robustly: a share of it, ``anywhere``, lies evenly over the whole grid.
    """

    center: float
    spread: float
    anywhere: float = OUTLIER_SHARE.value

    def __post_init__(self) -> None:
        require_between(value=self.center, low=-1e5, high=1e5, what="The expected setting", field="center")
        require_between(
            value=self.spread,
            low=0,
            high=1e5,
            what="How far off the expected setting may be",
            field="spread",
            above_low=True,
        )
        require_between(value=self.anywhere, low=0, high=1, what="The share that lies anywhere", field="anywhere")


def half_width(spread: float) -> float:
    """Return half of the 95 % interval of a normal distribution with this spread."""
    return Z95.value * spread


def scale_unit(scale: TopScale) -> float:
    """Return what counts as one dial number on a scale: 1 on a dial, a tenth of the scale elsewhere."""
    return 1.0 if scale.in_dial_numbers else scale.span / DIAL_NUMBERS.value


@lru_cache(64)
def grid_of(scale: TopScale) -> Array:
    """Return the settings at which the center is enumerated: those of the scale, and beyond its ends."""
    step = DIAL_GRID.value if scale.in_dial_numbers else scale.span / GRID_PARTS.value
    beyond = BEYOND.value * scale.span
    count = min(4001, round((scale.span + 2 * beyond) / step) + 1)
    return np.linspace(scale.low - beyond, scale.high + beyond, count)


def grade_probabilities(setting: Array | float, center: Array | float, steepness: Array | float) -> Array:
    """Return P(g | x, c, s) for the grades -2 … 2 along a new first axis; steepness per unit of the scale."""
    latent = -np.asarray(steepness) * (np.asarray(setting) - np.asarray(center))
    below = [1 / (1 + np.exp(-np.clip(cut.value - latent, -700, 700))) for cut in CUTS]
    edges = [np.zeros_like(below[0]), *below, np.ones_like(below[0])]
    return np.stack([upper - lower for lower, upper in pairwise(edges)])


def posterior_of(
    scale: TopScale, prior: BalancePrior | None, looks: Sequence[Observation], eye: Eye | None = None
) -> tuple[Array, Array, Array]:
    """Return the grid of centers, the steepnesses per unit of the scale, and the posterior over both (c, s)."""
    centers = grid_of(scale)
    steep = np.array([s.value for s in STEEPNESS]) / scale_unit(scale)
    log = np.zeros((len(centers), len(steep)))
    if prior is not None:
        log += np.log(_expected(centers, prior))[:, None]
    for look in looks:
        chances = grade_probabilities(look.setting, centers[:, None], steep[None, :])
        if eye is not None:
            chances = eye.blur(chances)
        place = look.grade + 2
        chance = chances[place]
        if look.doubtful:
            beside = [chances[p] for p in (place - 1, place + 1) if 0 <= p <= 4]
            chance = (1 - DOUBT.value * len(beside)) * chance + DOUBT.value * np.sum(beside, axis=0)
        log += np.log(np.maximum(chance, 1e-300))
    weights = np.exp(log - log.max())
    return centers, steep, weights / weights.sum()


@dataclass(frozen=True, kw_only=True)
class StitchedBefore:
    """What the lines of earlier times say of this very combination, the zone's width as well as its center.

    ``looks`` count upon ``prior``. From one time to the next the center strays by ``drift``, in the scale's numbers,
    and lies ``anywhere`` in so many cases.
    """

    prior: BalancePrior
    looks: tuple[Observation, ...]
    drift: float
    anywhere: float


def expected_of(
    scale: TopScale, before: BalancePrior | StitchedBefore | None, looks: Sequence[Observation], eye: Eye | None = None
) -> tuple[Array, Array, Array]:
    """Return :func:`posterior_of`, also where lines of earlier times are what is expected."""
    if not isinstance(before, StitchedBefore):
        return posterior_of(scale, before, looks, eye)
    centers, steep, known = posterior_of(scale, before.prior, before.looks, eye)
    apart = np.subtract.outer(centers, centers) / max(before.drift, 1e-9)
    strays = np.exp(-0.5 * apart**2)
    known = (strays / strays.sum(axis=0)) @ known
    known = (1 - before.anywhere) * known + before.anywhere * known.sum(axis=0) / len(centers)
    _, _, joint = posterior_of(scale, None, looks, eye)
    joint = joint * known
    return centers, steep, joint / joint.sum()


@lru_cache(2048)
def center_of(
    scale: TopScale, looks: tuple[Observation, ...], prior: BalancePrior | None = None
) -> tuple[float, float]:
    """Return where the balance lies by looks and an expectation, and its standard deviation on the scale.

    >>> dial = TopScale(kind="dial", low=0, high=10, step=0.5)
    >>> mean, spread = center_of(dial, (Observation(3, 1), Observation(5, -1)))
    >>> round(mean, 1)
    4.0
    """
    centers, _, joint = posterior_of(scale, prior, looks)
    return moments(centers, joint.sum(axis=1))


def moments(centers: Array, marginal: Array) -> tuple[float, float]:
    """Return mean and standard deviation of a distribution over the grid."""
    mean = float(centers @ marginal)
    return mean, math.sqrt(max(0.0, float(((centers - mean) ** 2) @ marginal)))


def _expected(centers: Array, prior: BalancePrior) -> Array:
    """Return an expectation over the grid: normal for the most part, and a share of it anywhere."""
    exponent = -0.5 * ((centers - prior.center) / prior.spread) ** 2
    near = np.exp(exponent - exponent.max())
    share = prior.anywhere
    expected: Array = (1 - share) * near / near.sum() + share / len(centers)
    return expected


def quantile(centers: Array, cumulated: Array, share: float) -> float:
    """Return the setting below which this share of the posterior lies."""
    return float(centers[min(len(centers) - 1, int(np.searchsorted(cumulated, share)))])
