"""Where the balance lies: a cumulative-logit model of graded looks, enumerated on a grid of center and steepness."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from weftonos.core.balance.eye import PLAIN, Grading
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
#: The same where it was stitched before: the day before, or for a recipe.
SELDOM_ELSEWHERE = estimate(0.05)

#: In spreads: what strays farther is left out.
FARTHEST_STRAY = 5

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


@lru_cache(64)
def steepnesses_of(scale: TopScale) -> Array:
    """Return the steepnesses that are enumerated, per unit of a scale."""
    return np.array([s.value for s in STEEPNESS]) / scale_unit(scale)


def grade_probabilities(
    setting: Array | float, center: Array | float, steepness: Array | float, steadiness: Array | float = 1.0
) -> Array:
    """Return P(g | x, c, s) for the grades -2 … 2 along a new first axis; steepness per unit of the scale.

    ``steadiness`` is that of a :class:`Grading`.
    """
    return np.stack([chance_of(grade, setting, center, steepness, steadiness) for grade in range(-2, 3)])


def chance_of(
    grade: int,
    setting: Array | float,
    center: Array | float,
    steepness: Array | float,
    steadiness: Array | float = 1.0,
) -> Array:
    """Return P(g | x, c, s) of one grade, as :func:`grade_probabilities` has it."""
    latent = -np.asarray(steepness) * (np.asarray(setting) - np.asarray(center))
    # Below the first cut and above the last one lies nothing more.
    cuts = [-math.inf, *(cut.value for cut in CUTS), math.inf]
    below, upper = (
        1 / (1 + np.exp(-np.clip(steadiness * (cut - latent), -700, 700))) for cut in cuts[grade + 2 : grade + 4]
    )
    return np.asarray(upper - below)


@dataclass(frozen=True, kw_only=True)
class StitchedBefore:
    """What the lines of an earlier time say of this very combination, the zone's width as well as its center.

    ``looks`` count upon what was expected then. Since then the center has strayed by ``drift``, in the scale's numbers,
    and lies ``anywhere`` in so many cases. ``center`` is where the next line starts.
    """

    expected: Expected
    looks: tuple[Observation, ...]
    drift: float
    anywhere: float
    center: float

    @property
    def lines(self) -> int:
        """How many lines it rests on, those of still earlier times among them."""
        before = self.expected.lines if isinstance(self.expected, StitchedBefore) else 0
        return len(self.looks) + before


Expected = BalancePrior | StitchedBefore | None


def posterior_of(
    scale: TopScale, expected: Expected, looks: Sequence[Observation], grading: Grading = PLAIN
) -> tuple[Array, Array, Array]:
    """Return the grid of centers, the steepnesses per unit of the scale, and the posterior over both (c, s)."""
    centers, steep = grid_of(scale), steepnesses_of(scale)
    log = np.zeros((len(centers), len(steep)))
    if isinstance(expected, StitchedBefore):
        log += np.log(np.maximum(_strayed(scale, expected, grading), 1e-300))
    elif expected is not None:
        log += np.log(_expected(centers, expected))[:, None]
    for look in looks:
        log += log_chance(scale, look, grading)
    weights = np.exp(log - log.max())
    return centers, steep, weights / weights.sum()


@lru_cache(256)
def log_chance(scale: TopScale, look: Observation, grading: Grading = PLAIN) -> Array:
    """Return the logarithm of how likely a look is at each center and steepness of the grid."""
    place = look.grade + 2
    beside = [p for p in (place - 1, place + 1) if 0 <= p <= 4] if look.doubtful else []
    at = (look.setting, grid_of(scale)[:, None], steepnesses_of(scale)[None, :], grading.steadiness)
    if grading.eye is None:
        chances = {p: chance_of(p - 2, *at) for p in (place, *beside)}
    else:
        chances = dict(enumerate(grading.eye.blur(grade_probabilities(*at))))
    chance = (1 - DOUBT.value * len(beside)) * chances[place]
    for p in beside:
        chance = chance + DOUBT.value * chances[p]
    found: Array = np.log(np.maximum(chance, 1e-300))
    found.flags.writeable = False
    return found


def _strayed(scale: TopScale, before: StitchedBefore, grading: Grading) -> Array:
    """Return what is expected over the grid, since lines were stitched: their posterior, strayed from its centers."""
    centers, _, known = posterior_of(scale, before.expected, before.looks, grading)
    steps = max(before.drift / (centers[1] - centers[0]), 1e-9)
    reach = min(len(centers) - 1, math.ceil(FARTHEST_STRAY * steps))
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / steps) ** 2)
    # Nothing strays off the grid.
    on_grid = slice(reach, reach + len(centers))
    stays = np.convolve(np.ones(len(centers)), kernel)[on_grid]
    strayed = np.stack([np.convolve(of_one / stays, kernel)[on_grid] for of_one in known.T], axis=1)
    expected: Array = (1 - before.anywhere) * strayed + before.anywhere * known.sum(axis=0) / len(centers)
    return expected


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
