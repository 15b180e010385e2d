"""Whether graded looks can come from one balance at all."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from weftonos.core.balance.looks import Observation
from weftonos.core.balance.posterior import log_chance
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate
from weftonos.core.kernel.stitch import GRADES

FEWEST_TO_JUDGE = estimate(4, "looks")


#: Log of the Bayes factor below which a ladder is called nonsense.
NONSENSE_BELOW = estimate(-2.3, "", "natural logarithm; at most 3 of 100 honest test strips fall below")


_GRADES = np.array(sorted(GRADES))


def makes_sense(scale: TopScale, looks: Sequence[Observation]) -> bool:
    """Say whether graded looks can come from one balance, rather than jump about.

    Two explanations are weighed by how likely they make the grades (a Bayes factor): one balance anywhere on the
    scale, or grades that have nothing to do with the setting (each from the same unknown proportions). Fewer than
    four looks are never called nonsense.
    """
    sure = [look for look in looks if not look.doubtful]
    if len(sure) < FEWEST_TO_JUDGE.value:
        return True
    log = np.sum([log_chance(scale, look) for look in sure], axis=0)
    balanced = float(np.logaddexp.reduce(log, axis=None)) - math.log(log.size)
    counts = [sum(look.grade == g for look in sure) for g in _GRADES]
    # Dirichlet-multinomial with one of each grade beforehand.
    unrelated = math.lgamma(5) - math.lgamma(len(sure) + 5) + sum(math.lgamma(n + 1) for n in counts)
    return balanced - unrelated > NONSENSE_BELOW.value
