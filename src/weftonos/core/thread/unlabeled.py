"""Thread without a label: weigh a measured length, or count wraps over a ruler's length.

Both answers come with how exact they are, from the reading errors alone (first-order propagation).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.spoken import length
from weftonos.core.kernel.standing import estimate
from weftonos.core.thread.linear_density import LinearDensity
from weftonos.core.thread.thread import FIBER_DENSITY, PACKING, Construction, Fiber, diameter_mm

#: Laying wraps side by side: half a wrap at either end, and how tightly they are pushed together.
WRAP_COUNT_ERROR = estimate(0.5, "wraps")
WRAP_CROWDING = estimate(0.06, "", "share by which wraps lie too close or too loose")
LENGTH_ERROR = estimate(0.01, "", "share of a length measured along a tape")
#: From this error on, a longer length is asked for, so long that the error falls to the second.
WEIGHED_FAIRLY = estimate(0.05)
WEIGHED_WELL = estimate(0.03)
ENOUGH_WRAPS = estimate(20, "wraps")
MOST_UNSURE = estimate(0.95, "", "no interval is wider than this share on either side")


@dataclass(frozen=True, kw_only=True)
class Measured:
    """A thread's weight and thickness as measured, with a 95 % interval for tex."""

    tex: float
    tex_low: float
    tex_high: float
    diameter_mm: float
    text: str


def weigh(grams: float, meters: float, scale_step_g: float, fiber: Fiber, construction: Construction) -> Measured:
    """Return tex from the weight of a measured length.

    Parameters
    ----------
    grams: what the length weighs, above 0 and up to 500 g.
    meters: the length, above 0 and up to 5000 m.
    scale_step_g: the smallest step of the scale; its half is the reading error.

    >>> round(weigh(0.5, 20, 0.01, Fiber.COTTON, Construction.SPUN).tex, 1)
    25.0
    """
    require_between(value=grams, low=0, high=500, what="The weight", field="grams", unit="g", above_low=True)
    require_between(value=meters, low=0, high=5000, what="The length", field="meters", unit="m", above_low=True)
    require_between(
        value=scale_step_g,
        low=0,
        high=50,
        what="The step of the scale",
        field="scale_step_g",
        unit="g",
        above_low=True,
    )
    tex = LinearDensity(grams / meters * 1000).tex
    share = math.hypot(scale_step_g / 2 / grams, LENGTH_ERROR.value)
    need = scale_step_g / 2 / WEIGHED_WELL.value / (tex / 1000)
    hint = "" if share < WEIGHED_FAIRLY.value else f" Weigh {length(need)} for about {WEIGHED_WELL.value:.0%}."
    return _measured(tex=tex, share=share, fiber=fiber, construction=construction, hint=hint)


def count_wraps(wraps: float, ruler_mm: float, fiber: Fiber, construction: Construction) -> Measured:
    """Return tex from the number of wraps side by side over a length of ruler.

    The wraps give the diameter, which with fiber density and packing gives the weight; an error of the
    diameter counts twice.

    >>> round(count_wraps(53.5, 10, Fiber.COTTON, Construction.SPUN).tex)
    25
    """
    require_between(value=wraps, low=2, high=2000, what="The number of wraps", field="wraps")
    require_between(value=ruler_mm, low=1, high=500, what="The length of ruler", field="ruler_mm", unit="mm")
    diameter = ruler_mm / wraps
    packed = 1000 * FIBER_DENSITY[fiber].value * PACKING[construction].value
    tex = LinearDensity(math.pi / 4 * diameter**2 * packed).tex
    share = 2 * math.hypot(WRAP_COUNT_ERROR.value / wraps, WRAP_CROWDING.value)
    hint = "" if wraps >= ENOUGH_WRAPS.value else " Count over more of the ruler."
    return _measured(tex=tex, share=share, fiber=fiber, construction=construction, hint=hint)


def _measured(tex: float, share: float, fiber: Fiber, construction: Construction, hint: str) -> Measured:
    half = min(MOST_UNSURE.value, Z95.value * share)
    return Measured(
        tex=tex,
        tex_low=tex * (1 - half),
        tex_high=tex * (1 + half),
        diameter_mm=diameter_mm(LinearDensity(tex), fiber, construction),
        text=f"About {figure(tex, 1)} tex ({1000 / tex:.0f} wt), give or take {half:.0%}.{hint}",
    )
