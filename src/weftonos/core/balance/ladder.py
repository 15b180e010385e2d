"""The ladder test: which settings to stitch, and on which half of the cloth (common practice)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.balance.posterior import scale_unit
from weftonos.core.kernel.scale import ScaleKind, TopScale
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

    A full ladder covers the scale in eleven steps, a half ladder six dial numbers about ``center``; on an unnumbered
    knob the steps are even, and one is at the mark. Fewest steps gives the one setting that is most likely,
    ``following``, and goes on from its grade. Whether the thread is light is ``None`` where its color is not known.
    """
    if plan is LadderPlan.FEWEST:
        settings: Sequence[float] = (following,)
    elif scale.kind is ScaleKind.TURNS:
        settings = _through_the_mark(plan, scale, center)
    elif plan is LadderPlan.FULL:
        settings = [scale.low + i * scale.span / (FULL_STEPS - 1) for i in range(FULL_STEPS)]
    else:
        unit = scale_unit(scale)
        start = min(
            max(scale.low, center - HALF_LADDER_BELOW.value * unit),
            max(scale.low, scale.high - (HALF_STEPS - 1) * unit),
        )
        settings = [min(scale.high, start + i * unit) for i in range(HALF_STEPS)]
    unique = tuple(dict.fromkeys(scale.snap(s) for s in settings))
    cloth = "the half where it shows"
    if thread_is_light is not None:
        cloth = "the dark half: the thread is light" if thread_is_light else "the light half: the thread is dark"
    return Ladder(plan=plan, settings=unique, words=tuple(scale.words(s) for s in unique), cloth=cloth)


def _through_the_mark(plan: LadderPlan, scale: TopScale, center: float) -> list[float]:
    """Return the steps on an unnumbered knob: all the same turn apart, and one of them at its mark."""
    unit = scale_unit(scale) / scale.step
    step = scale.step * max(1, math.ceil(unit - 1e-9) if plan is LadderPlan.FULL else round(unit))
    first, last = math.ceil(scale.low / step - 1e-9), math.floor(scale.high / step + 1e-9)
    if plan is LadderPlan.FULL:
        return [n * step for n in range(first, last + 1)]
    below = math.floor((center - HALF_LADDER_BELOW.value * scale_unit(scale)) / step)
    begin = max(first, min(below, last - HALF_STEPS + 1))
    return [n * step for n in range(begin, min(begin + HALF_STEPS, last + 1))]
