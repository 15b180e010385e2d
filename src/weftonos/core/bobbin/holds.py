"""How much thread a full bobbin holds: the one model that winding and running both go by."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean, stdev

from weftonos.core.bobbin.thread_use import BobbinClass, wound_length_m
from weftonos.core.kernel.counting import student_quantile
from weftonos.core.kernel.spoken import length
from weftonos.core.kernel.standing import Standing, estimate
from weftonos.core.thread.thread import Thread

#: From so many bobbins that were sewn empty on, they say more than the wound space does.
BOBBINS_FOR_OWN = estimate(2, "bobbins")
#: What bobbins gave is believed within these shares of the wound space; beyond them something was noted wrongly.
BELIEVED = (estimate(0.3), estimate(2.0))


@dataclass(frozen=True, kw_only=True)
class Holds:
    """Meters of thread on a full bobbin, with a 95 % interval where one's own bobbins say it, and how that is known."""

    thread_m: float
    low_m: float | None
    high_m: float | None
    bobbins: int
    standing: Standing
    says: str


def full_bobbin(
    size: BobbinClass, thread: Thread, *, stated_m: float | None = None, gave: Sequence[float] = ()
) -> Holds:
    """Return what a full bobbin of a class holds of a thread.

    Parameters
    ----------
    stated_m: the length on the label of a pre-wound bobbin, in m; it takes the place of the wound space.
    gave: meters of thread that this owner's last bobbins of it gave until they were empty, each as if it had been full.
    """
    wound = stated_m or wound_length_m(size, thread)
    low, high = (share.value * wound for share in BELIEVED)
    told = [meters for meters in gave if low <= meters <= high]
    if len(told) >= BOBBINS_FOR_OWN.value:
        mean = fmean(told)
        half = student_quantile(len(told) - 1) * stdev(told) / math.sqrt(len(told))
        ends = (max(0.0, mean - half), mean + half)
        says = (
            f"Your last {len(told)} bobbins of this thread gave {length(mean)} on average "
            f"({length(ends[0])} to {length(ends[1])})."
        )
        return Holds(
            thread_m=mean,
            low_m=ends[0],
            high_m=ends[1],
            bobbins=len(told),
            standing=Standing.OWN_RECORDS,
            says=says,
        )
    if stated_m:
        says, standing = f"Pre-wound, {length(stated_m)} by its label.", Standing.COMMON_PRACTICE
    else:
        says, standing = (
            f"About {length(wound)} of thread on a full one, worked out from its size.",
            Standing.ESTIMATE,
        )
    return Holds(thread_m=wound, low_m=None, high_m=None, bobbins=len(told), standing=standing, says=says)
