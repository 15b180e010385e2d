"""The laws of the simulated machine: pulls above and below, where the lock lies, what breaks thread, what wears.

Forces in mN, lengths as named. Every number here is our own estimate unless a source stands beside it; none of them is
taken from, or used by, the estimators.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

Head = Literal["longarm", "home"]

#: Friction of thread on metal, strength in mN per tex, lint shed by the meter, stretch, and the heat it minds (0 to 1).
FRICTION = {
    "cotton": 0.27,
    "polyester": 0.20,
    "nylon": 0.17,
    "rayon": 0.22,
    "silk": 0.18,
    "wash_away": 0.24,
    "metallic": 0.35,
}
STRENGTH = {
    "cotton": 240.0,
    "polyester": 360.0,
    "nylon": 380.0,
    "rayon": 180.0,
    "silk": 320.0,
    "wash_away": 120.0,
    "metallic": 120.0,
}
LINT = {"cotton": 1.0, "polyester": 0.12, "nylon": 0.1, "rayon": 0.25, "silk": 0.2, "wash_away": 0.2, "metallic": 0.05}
MINDS_HEAT = {"nylon": 1.0, "polyester": 0.4, "metallic": 0.5, "rayon": 0.1, "wash_away": 0.6}


@dataclass(frozen=True)
class SimThread:
    """A thread as the machine feels it. ``slick`` and ``stretchy`` are monofilament's; ``kind`` is free words."""

    fiber: str
    tex: float
    diameter_mm: float
    slick: bool = False
    kind: str = "spun"

    @property
    def friction(self) -> float:
        """Its friction on metal."""
        return FRICTION.get(self.fiber, 0.22) * (0.7 if self.slick else 1.0)

    @property
    def strength_mn(self) -> float:
        """The pull at which it breaks when new."""
        return STRENGTH.get(self.fiber, 250.0) * self.tex

    @property
    def lint(self) -> float:
        """How much it sheds, cotton being 1."""
        shed = LINT.get(self.fiber, 0.2)
        return shed if self.kind in ("spun", "core_spun") else shed * 0.6


@dataclass(frozen=True)
class SimNeedle:
    """A needle: its metric size, the share of the blade that its groove is wide, how it parts cloth, how it lasts."""

    metric: int
    point: str = "topstitch"
    titanium: bool = False

    @property
    def groove_mm(self) -> float:
        """How wide a thread may be before it stands proud of the groove."""
        deep = {"topstitch": 0.34, "metallic": 0.36, "embroidery": 0.29}.get(self.point, 0.245)
        return deep * self.metric / 100


@dataclass(frozen=True)
class SimCloth:
    """A sandwich: thickness under the foot, and how much it drags at needle and thread (1 is ordinary)."""

    thickness_mm: float = 2.5
    drag: float = 1.0
    dark: bool = False
    print: bool = False


@dataclass(frozen=True)
class Temper:
    """What is this machine's own: drawn once, hidden, never the same twice."""

    disc_strength: float
    disc_power: float
    disc_start: float
    top_shift: float
    lock_width: float
    scatter: float
    case_pull: float
    screw_law: float
    screw_bend: float
    spool_drag: float
    wear: float


def capstan(pull: float, friction: float, angle: float) -> float:
    """Return the pull behind a turn about a guide (Euler–Eytelwein): ``pull · exp(friction · angle)``.

    >>> round(capstan(10, 0.2, 3.14159), 2)
    18.74
    """
    return pull * math.exp(friction * angle)


def disc_force(temper: Temper, turned: float, diameter_mm: float) -> float:
    """Return the force of the discs on a thread, the knob being ``turned`` from 0 to 1 of its way.

    A spring that stiffens as it is pressed, and that a thick thread presses further.
    """
    pressed = float(max(0.0, turned + temper.disc_start) ** temper.disc_power)
    return temper.disc_strength * pressed + 220 * max(0.0, diameter_mm - 0.18)


def top_pull(
    temper: Temper, thread: SimThread, turned: float, *, wraps: float, seat: float = 1.0, lint: float = 0.0
) -> float:
    """Return the pull on the top thread at the needle, in mN.

    ``wraps`` is the angle about all guides in radians, ``seat`` how much of the discs' force reaches the thread, and
    ``lint`` from 0 to 1 what lies between them.
    """
    before = capstan(temper.spool_drag, thread.friction, wraps)
    force = disc_force(temper, turned, thread.diameter_mm) * seat * (1 - 0.45 * lint)
    # About a turn round the discs, then two faces that pinch.
    return capstan(before, thread.friction, 1.5) + 2 * thread.friction * force


def case_pull(temper: Temper, thread: SimThread, screw: float, fill: float) -> float:
    """Return the pull of the bobbin thread in mN, the screw ``screw`` minutes in from where it was, ``fill`` left.

    The spring's grip grows faster than evenly; a bobbin that is nearly empty turns harder.
    """
    grip = temper.case_pull * math.exp(temper.screw_law * screw + temper.screw_bend * screw * abs(screw))
    surface = float((thread.friction / 0.22) ** 0.8 * (thread.diameter_mm / 0.18) ** 0.35)
    return grip * surface + 12 * (1.05 - fill) ** 2


def lock_depth(temper: Temper, above: float, below: float, cloth: SimCloth, thicker: float) -> float:
    """Return where the lock lies: −1 on the front, 0 in the middle, +1 on the back.

    The two pulls work against each other through the cloth's friction, so that the lock creeps toward the stronger and
    never beyond the surface. ``thicker`` is by how many times the top thread is the thicker one: it is pushed through.
    """
    stronger_below = math.log(below / above) + temper.top_shift + 0.10 * math.log(thicker)
    width = temper.lock_width * (0.75 + 0.25 * cloth.drag) * (cloth.thickness_mm / 2.5) ** 0.4
    return 2 / math.pi * math.atan(stronger_below / width)


@dataclass(frozen=True)
class Hazards:
    """Breaks of the thread by the meter, by what does it."""

    rubbed: float
    snapped: float
    melted: float
    below: float

    @property
    def total(self) -> float:
        """All of them."""
        return self.rubbed + self.snapped + self.melted + self.below


def rubbing(thread: SimThread, needle: SimNeedle, cloth: SimCloth, worn: float) -> float:
    """Return how hard the thread is rubbed at the eye; 1 is what it bears for long.

    A thread that stands out of the groove is sanded by the cloth, and a burr takes a fiber at each of its trips.
    """
    proud = max(0.0, thread.diameter_mm / needle.groove_mm - 1)
    return (0.35 + 5.0 * proud + 2.2 * worn) * float(cloth.drag**0.7)


def hazards(
    thread: SimThread,
    below: SimThread,
    needle: SimNeedle,
    cloth: SimCloth,
    *,
    above_mn: float,
    below_mn: float,
    worn: float,
    speed: float,
    spikes: float,
    weak: float,
) -> Hazards:
    """Return the breaks by the meter. ``speed`` 1 is ordinary; ``spikes`` how often the thread is jerked; ``weak`` what
    is left of its strength."""
    strength = thread.strength_mn * weak
    rub = rubbing(thread, needle, cloth, worn)
    rubbed = 2.0e-3 * rub**2.2 * (0.6 + 0.4 * speed)
    # A jerk is several times the standing pull; how often one passes the strength falls off exponentially.
    load = above_mn * (3.5 + 2.5 * speed + 9 * spikes) / strength
    play = max(0.0, 0.36 - thread.diameter_mm / (needle.metric / 100 * 0.40)) * (0.3 if thread.slick else 1.0)
    loose = 0.004 * max(0.0, 0.35 - above_mn / max(below_mn, 1.0))
    snapped = 1.2e-4 + 0.06 * math.exp(min(0.0, 4.2 * (load - 1))) * min(1.0, load) + 0.05 * play**2 + loose
    minds = MINDS_HEAT.get(thread.fiber, 0.0)
    melted = 2.0e-3 * minds * max(0.0, speed * cloth.drag - 1.35) ** 2 * (80 / needle.metric)
    lower = 4e-5 + 0.02 * math.exp(min(0.0, 5.0 * (below_mn * 4.0 / below.strength_mn - 1)))
    return Hazards(rubbed=rubbed, snapped=snapped, melted=melted, below=lower)


def wear_by_meter(needle: SimNeedle, cloth: SimCloth, temper: Temper) -> float:
    """Return how much a needle wears by the meter; at 1 it pops and takes thread."""
    fine = {"sharp": 1.5, "ballpoint": 0.75}.get(needle.point, 1.0)
    return temper.wear * fine * cloth.drag * (0.28 if needle.titanium else 1.0) / 420.0
