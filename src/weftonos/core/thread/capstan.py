"""What a wrap does to the pull: T2 = T1 · exp(mu·theta), the Euler–Eytelwein (capstan) equation."""

from __future__ import annotations

import math
from dataclasses import dataclass

from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.standing import Known, estimate
from weftonos.core.thread.thread import Fiber

_WHY = "between 0.15 and 0.30 by fiber, on polished metal"

#: Friction of thread on polished guides.
FRICTION: dict[Fiber, Known] = {
    Fiber.COTTON: estimate(0.25, "", _WHY),
    Fiber.POLYESTER: estimate(0.20, "", _WHY),
    Fiber.COTTON_POLYESTER: estimate(0.24, "", _WHY),
    Fiber.NYLON: estimate(0.22, "", _WHY),
    Fiber.RAYON: estimate(0.18, "", _WHY),
    Fiber.SILK: estimate(0.17, "", _WHY),
    Fiber.METALLIC: estimate(0.28, "", _WHY),
    Fiber.WASH_AWAY: estimate(0.24, "", _WHY),
    Fiber.WOOL: estimate(0.28, "", _WHY),
    Fiber.LINEN: estimate(0.28, "", _WHY),
    Fiber.BAMBOO: estimate(0.18, "", _WHY),
    Fiber.ARAMID: estimate(0.22, "", _WHY),
}
#: One standard deviation.
FRICTION_SPREAD = estimate(0.05, "", "between threads of a fiber, guides and days")
#: How far thread turns through one hole of a guide wound like a spiral.
HOLE_WRAP_DEGREES = estimate(180.0, "°")


def tension_ratio(mu: float, theta: float) -> float:
    """Return T2/T1 for friction ``mu`` over a wrap of ``theta`` radians.

    >>> round(tension_ratio(0.25, math.pi), 3)
    2.193
    """
    require_between(value=mu, low=0, high=2, what="Friction", field="mu")
    require_between(value=theta, low=0, high=100, what="The angle of wrap", field="theta", unit="rad")
    return math.exp(mu * theta)


@dataclass(frozen=True, kw_only=True)
class HolesPull:
    """The pull after some holes relative to none, with a 95 % interval, and the share left of the full number."""

    holes: int
    ratio: float
    low: float
    high: float
    of_full: float
    text: str


def guide_holes(fiber: Fiber, holes: int, full: int = 3) -> HolesPull:
    """Return what using ``holes`` of a guide's ``full`` holes does to the pull.

    The interval is that of the friction; the wrap is taken as half a turn a hole (estimate).
    """
    require_between(value=full, low=1, high=8, what="The number of guide holes", field="full")
    require_between(value=holes, low=0, high=full, what="The number of holes in use", field="holes")
    theta = math.radians(HOLE_WRAP_DEGREES.value) * holes
    mu, spread = FRICTION[fiber].value, FRICTION_SPREAD.value
    ratio = tension_ratio(mu, theta)
    low, high = (math.exp(max(0.0, mu + z * spread) * theta) for z in (-Z95.value, Z95.value))
    skipped = full - holes
    skipped_theta = math.radians(HOLE_WRAP_DEGREES.value) * skipped
    left = math.exp(-mu * skipped_theta)
    left_low, left_high = (math.exp(-max(0.0, mu + z * spread) * skipped_theta) for z in (Z95.value, -Z95.value))
    if skipped:
        text = (
            f"With {holes} of {full} holes the guide pulls about {left:.0%} as hard as with all {full} "
            f"({left_low:.0%} to {left_high:.0%})."
        )
    else:
        text = (
            f"All {full} holes pull about {ratio:.0f} times as hard as the cone alone ({low:.0f} to {high:.0f}). "
            "That steadies the thread before the discs."
        )
    return HolesPull(holes=holes, ratio=ratio, low=low, high=high, of_full=left, text=text)
