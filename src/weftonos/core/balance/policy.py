"""Where to stitch next: where the balance most likely is, on the right side of every step that was graded wrong.

What teaches most is often far from there, past a step that was seen wrong: no person stitches that.
"""

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


def setting_to_set(scale: TopScale, centers: Array, marginal: Array, graded: Graded) -> float:
    """Return the setting to set: the middle of the posterior, on the right side of every step that was graded wrong."""
    allowed = marginal if graded.contradict else marginal * np.array([graded.allows(c) for c in centers])
    if allowed.sum() <= 0:
        return scale.high if graded.loose is not None else scale.low
    middle = quantile(centers, np.cumsum(allowed / allowed.sum()), 0.5)
    # The steps beside the nearest one, not the nearest to places beside the middle: halfway those are two steps apart.
    nearest = scale.snap(middle)
    near = [scale.snap(nearest + by * scale.step) for by in (0, 1, -1)]
    fitting = [setting for setting in near if graded.contradict or graded.allows(setting)]
    return fitting[0] if fitting else near[0]


def spread_left(setting: float, centers: Array, steep: Array, joint: Array, steadiness: float = 1.0) -> float:
    """Return the spread of the center that a stitch at this setting is expected to leave."""
    chances = grade_probabilities(setting, centers[:, None], steep[None, :], steadiness)
    by_center = np.einsum("gcs,cs->gc", chances, joint)
    weight = by_center.sum(axis=1)
    first, second = by_center @ centers, by_center @ (centers * centers)
    return math.sqrt(max(0.0, float(np.sum(second - first**2 / np.maximum(weight, 1e-300)))))
