"""Where in the sandwich the threads lock, at a setting: a model for drawing, not a measurement."""

from __future__ import annotations

import math
from dataclasses import dataclass

from weftonos.core.balance.posterior import CUTS
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate

#: The lock leaves the middle third of the sandwich about where the grade leaves 0.
DEPTH_PER_LATENT = estimate(1 / 3, "", "of the latent scale of the pictures")


@dataclass(frozen=True)
class LockDepth:
    """Depth of the lock from the front (0) to the back (1), and the grade a stitch would most likely get."""

    depth: float
    grade: int


def lock_depth(setting: float, center: float, steepness: float) -> LockDepth:
    """Return the modeled depth at a setting; tighter than the center draws the lock to the front.

    >>> lock_depth(4, 4, 1.5).depth
    0.5
    """
    latent = -steepness * (setting - center)
    depth = 0.5 + 0.5 * math.tanh(latent * DEPTH_PER_LATENT.value)
    grade = int(math.copysign(sum(abs(latent) > cut.value for cut in CUTS[2:]), latent))
    return LockDepth(depth, grade)


#: A drawing has so many settings at most.
MOST_DRAWN = 60


def drawn_settings(scale: TopScale) -> tuple[float, ...]:
    """Return the settings of a scale to draw the lock at: every step, or evenly fewer."""
    steps = min(MOST_DRAWN, max(1, round(scale.span / scale.step)))
    return tuple(dict.fromkeys(scale.snap(scale.low + i * scale.span / steps) for i in range(steps + 1)))
