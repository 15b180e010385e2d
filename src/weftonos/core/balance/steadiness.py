"""How steady the stitches of a machine are: whether equal settings look more alike than the model expects.

The model's scatter is our own estimate. Each combination with a few lines says how likely its grades are under steadier
stitches, wherever its balance lies (the evidence of each steadiness, enumerated); all of a machine's say it together.
What is doubted stays with the model.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

import numpy as np

from weftonos.core.balance.looks import Observation
from weftonos.core.balance.posterior import STEEPNESS, Array, chance_of, grid_of, steepnesses_of
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate

#: How steady stitches may be, and how likely each is before a line was stitched. Steadier ones than these saved no
#: lines on other worlds, and ended well less often.
STEADINESS = {1.0: estimate(0.6), 1.4: estimate(0.25), 2.0: estimate(0.15)}
#: From here on it is said.
PLAINLY_STEADY = 1.3
#: One line says nothing of how it scatters.
FEWEST_LOOKS = 2
#: Every so manieth center is enumerated: nothing here hangs on a small step.
EVERY = 4


def steadiness_of(scale: TopScale, combinations: Iterable[tuple[Observation, ...]]) -> float:
    """Return the expected steadiness of a machine's stitches, from the lines of each combination; 1 without any.

    >>> dial = TopScale(kind="dial", low=0, high=10, step=0.5)
    >>> steadiness_of(dial, [])
    1.0
    """
    steady = np.array(list(STEADINESS))
    log = np.log([share.value for share in STEADINESS.values()])
    told = [_evidence(scale, looks) for looks in combinations if len(looks) >= FEWEST_LOOKS]
    if not told:
        return 1.0
    log = log + np.sum(told, axis=0)
    weight = np.exp(log - log.max())
    return float(steady @ weight / weight.sum())


@lru_cache(1024)
def _evidence(scale: TopScale, looks: tuple[Observation, ...]) -> Array:
    """Return the log evidence of each steadiness; the balance lies anywhere, its zone is of any width."""
    centers = grid_of(scale)[::EVERY, None, None]
    steep = steepnesses_of(scale)[None, :, None]
    steady = np.array(list(STEADINESS))[None, None, :]
    chance = np.ones((len(centers), len(STEEPNESS), len(STEADINESS)))
    for look in looks:
        chance = chance * chance_of(look.grade, look.setting, centers, steep, steady)
    evidence: Array = np.log(np.maximum(chance.mean(axis=(0, 1)), 1e-300))
    return evidence
