"""Where to stitch next: what stays on the right side of every step that was graded wrong, and what teaches most."""

from __future__ import annotations

import math

import numpy as np

from weftonos.core.balance.looks import Graded
from weftonos.core.balance.posterior import (
    Array,
    grade_probabilities,
    quantile,
)
from weftonos.core.kernel.scale import TopScale

#: So many settings are weighed for the next stitch.
CANDIDATES = 41


def setting_to_set(scale: TopScale, centers: Array, marginal: Array, graded: Graded) -> float:
    """Return the setting to set: the middle of the posterior, on the right side of every step that was graded wrong."""
    allowed = marginal if graded.contradict else marginal * np.array([graded.allows(c) for c in centers])
    if allowed.sum() <= 0:
        # Every setting of the scale was graded wrong on its side: its end is the nearest there is.
        return scale.high if graded.loose is not None else scale.low
    middle = quantile(centers, np.cumsum(allowed / allowed.sum()), 0.5)
    # The steps beside the nearest one, not the nearest to places beside the middle: halfway those are two steps apart.
    nearest = scale.snap(middle)
    near = [scale.snap(nearest + by * scale.step) for by in (0, 1, -1)]
    fitting = [setting for setting in near if graded.contradict or graded.allows(setting)]
    return fitting[0] if fitting else near[0]


def _candidates(scale: TopScale, centers: Array, marginal: Array) -> Array:
    cumulated = np.cumsum(marginal)
    low, high = (quantile(centers, cumulated, q) for q in (0.005, 0.995))
    wide = max(high - low, 2 * scale.step)
    # A little beyond the interval on either side, and closely enough that no step of the scale is passed over.
    wanted = np.linspace(low - 0.1 * wide, high + 0.1 * wide, CANDIDATES)
    return np.unique([scale.snap(min(scale.high, max(scale.low, x))) for x in wanted])


def next_setting_of(scale: TopScale, centers: Array, steep: Array, joint: Array, spread: float) -> tuple[float, float]:
    """Return the setting whose grade is expected to leave the least variance of c, and the spread it leaves."""
    marginal = joint.sum(axis=1)
    keep = marginal > 1e-7 * marginal.max()
    c, p = centers[keep], joint[keep]
    best, least = scale.snap(float(centers @ marginal)), math.inf
    for x in _candidates(scale, centers, marginal):
        chances = grade_probabilities(x, c[:, None], steep[None, :])
        by_center = np.einsum("gcs,cs->gc", chances, p)
        weight = by_center.sum(axis=1)
        first, second = by_center @ c, by_center @ (c * c)
        left = float(np.sum(second - first**2 / np.maximum(weight, 1e-300)))
        if left < least - 1e-12:
            best, least = float(x), left
    return best, math.sqrt(max(0.0, least))
