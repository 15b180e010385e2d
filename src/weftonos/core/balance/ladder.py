"""The ladder test: which settings to stitch, and on which half of the cloth (common practice)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.balance.posterior import scale_unit
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate

#: A mark at every inch from 0 to 10.
FULL_STEPS = 11
HALF_STEPS = 6
#: A half ladder begins so many dial numbers below where the balance is expected.
HALF_LADDER_BELOW = estimate(2.5, "dial numbers")


class LadderPlan(StrEnum):
    """How a test is laid out."""

    FULL = "full"
    HALF = "half"
    FEWEST = "fewest"


@dataclass(frozen=True, kw_only=True)
class Ladder:
    """A test: its settings in order, and the half of the cloth to sew on."""

    plan: LadderPlan
    settings: tuple[float, ...]
    words: tuple[str, ...]
    cloth: str


def plan_ladder(
    plan: LadderPlan, scale: TopScale, center: float, following: float, thread_is_light: bool | None
) -> Ladder:
    """Lay out a test.

    A full ladder covers the scale in eleven steps, a half ladder six dial numbers about ``center``; fewest steps
    gives the one setting that is most likely, ``following``, and goes on from its grade. Whether the thread is light
    is ``None`` where its color is not known.
    """
    unit = scale_unit(scale)
    if plan is LadderPlan.FEWEST:
        settings: Sequence[float] = (following,)
    elif plan is LadderPlan.FULL:
        settings = [scale.low + i * scale.span / (FULL_STEPS - 1) for i in range(FULL_STEPS)]
    else:
        start = min(
            max(scale.low, center - HALF_LADDER_BELOW.value * unit),
            max(scale.low, scale.high - (HALF_STEPS - 1) * unit),
        )
        settings = [min(scale.high, start + i * unit) for i in range(HALF_STEPS)]
    unique = tuple(dict.fromkeys(scale.snap(s) for s in settings))
    cloth = "the half it shows on"
    if thread_is_light is not None:
        cloth = "the dark half: the thread is light" if thread_is_light else "the light half: the thread is dark"
    return Ladder(plan=plan, settings=unique, words=tuple(scale.words(s) for s in unique), cloth=cloth)
