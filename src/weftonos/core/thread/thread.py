"""A thread as the craft sees it: fiber, construction, weight, and the thickness that follows.

The cross-section follows from linear density, fiber density and how tightly the fibers are packed, so threads
of equal weight differ in thickness: a 30 wt cotton is visibly thicker than a 30 wt rayon.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from weftonos.core.kernel.errors import CraftError, require_between
from weftonos.core.kernel.standing import Known, estimate, memory, practice, published
from weftonos.core.thread.linear_density import LinearDensity, WeightSystem


class Fiber(StrEnum):
    """What a thread is made of."""

    COTTON = "cotton"
    POLYESTER = "polyester"
    COTTON_POLYESTER = "cotton_polyester"
    NYLON = "nylon"
    RAYON = "rayon"
    SILK = "silk"
    METALLIC = "metallic"
    WASH_AWAY = "wash_away"
    WOOL = "wool"
    LINEN = "linen"
    BAMBOO = "bamboo"
    ARAMID = "aramid"


class Construction(StrEnum):
    """How the fibers are held together."""

    SPUN = "spun"
    CORE_SPUN = "core_spun"
    MULTIFILAMENT = "multifilament"
    MONOFILAMENT = "monofilament"
    FILM = "film"
    METALLIC = "metallic"
    TEXTURED = "textured"
    COATED = "coated"


_MH = "Morton & Hearle, Physical Properties of Textile Fibers"

#: Fiber density in g/cm³.
FIBER_DENSITY: dict[Fiber, Known] = {
    Fiber.COTTON: published(1.52, "g/cm³", _MH),
    Fiber.POLYESTER: published(1.38, "g/cm³", _MH),
    Fiber.COTTON_POLYESTER: estimate(1.42, "g/cm³", "a polyester core with about a third of cotton around it"),
    Fiber.NYLON: published(1.14, "g/cm³", _MH),
    Fiber.RAYON: published(1.50, "g/cm³", _MH),
    Fiber.SILK: published(1.34, "g/cm³", _MH),
    Fiber.METALLIC: estimate(1.38, "g/cm³", "taken as its polyester core and film"),
    Fiber.WASH_AWAY: memory(1.30, "g/cm³"),
    Fiber.WOOL: published(1.31, "g/cm³", _MH),
    Fiber.LINEN: published(1.54, "g/cm³", _MH),
    Fiber.BAMBOO: estimate(1.50, "g/cm³", "a viscose: as rayon"),
    Fiber.ARAMID: memory(1.44, "g/cm³"),
}

#: Share of the thread's outline that is fiber.
PACKING: dict[Construction, Known] = {
    Construction.SPUN: published(0.60, "", "with cotton 1.52 gives Peirce 1937, J. Textile Inst. 28"),
    Construction.CORE_SPUN: estimate(0.65),
    Construction.MULTIFILAMENT: estimate(0.75),
    Construction.MONOFILAMENT: published(1.00, "", "a solid filament, by definition"),
    Construction.FILM: published(1.00, "", "a solid film, by definition"),
    Construction.METALLIC: estimate(0.70),
    Construction.TEXTURED: estimate(0.45),
    Construction.COATED: estimate(0.75, "", "filament under its coat"),
}

#: Share of a bundle's outline that its threads fill.
BUNDLE_PACKING = estimate(0.80)
MOST_IN_BUNDLE = 4
#: Very fine thread is 80 wt and finer, heavy thread 12 wt and heavier (common practice; room for a label's rounding).
VERY_FINE_TEX, HEAVY_TEX = practice(12.6, "tex"), practice(82, "tex")
#: A single thread heavier than this is for bobbin or hand work, whatever the needle.
HEAVIEST_THROUGH_A_NEEDLE = practice(100, "tex")
#: Bobbin over top, in tex, above which the bobbin thread counts as the thicker one.
THICKER_BELOW_IS_BOBBIN_WORK = estimate(1.05)

FIBER_NAMES = {
    Fiber.COTTON: "cotton",
    Fiber.POLYESTER: "polyester",
    Fiber.COTTON_POLYESTER: "cotton-wrapped polyester",
    Fiber.NYLON: "nylon",
    Fiber.RAYON: "rayon",
    Fiber.SILK: "silk",
    Fiber.METALLIC: "metallic",
    Fiber.WASH_AWAY: "wash-away",
    Fiber.WOOL: "wool",
    Fiber.LINEN: "linen",
    Fiber.BAMBOO: "bamboo viscose",
    Fiber.ARAMID: "aramid",
}
CONSTRUCTION_NAMES = {
    Construction.SPUN: "spun",
    Construction.CORE_SPUN: "core-spun",
    Construction.MULTIFILAMENT: "multifilament",
    Construction.MONOFILAMENT: "monofilament",
    Construction.FILM: "flat film",
    Construction.METALLIC: "wrapped core",
    Construction.TEXTURED: "textured",
    Construction.COATED: "coated to glow",
}


def diameter_mm(density: LinearDensity, fiber: Fiber, construction: Construction) -> float:
    """Return a thread's diameter in millimeters.

    Source: geometry; the packing of spun cotton reproduces Peirce 1937, d(inch) = 1/(28·√Ne).

    >>> round(diameter_mm(LinearDensity(25), Fiber.COTTON, Construction.SPUN), 3)
    0.187
    """
    return _diameter(_area_mm2(density, fiber, construction))


def _area_mm2(density: LinearDensity, fiber: Fiber, construction: Construction) -> float:
    return density.tex / (1000 * FIBER_DENSITY[fiber].value * PACKING[construction].value)


def _diameter(area_mm2: float) -> float:
    return math.sqrt(4 * area_mm2 / math.pi)


@dataclass(frozen=True, kw_only=True)
class Thread:
    """One thread as its label names it.

    ``value``, ``system`` and ``strands`` are the label as typed; nothing is converted away.

    Raises :class:`CraftError` for a weight no thread has.

    >>> label = {"fiber": Fiber.COTTON, "construction": Construction.SPUN, "value": 40, "system": WeightSystem.WT}
    >>> Thread(**label, strands=3).density.tex
    25.0
    """

    fiber: Fiber
    construction: Construction
    value: float
    system: WeightSystem
    strands: int = 1
    per_strand: bool | None = None

    def __post_init__(self) -> None:
        _ = self.density

    @cached_property
    def density(self) -> LinearDensity:
        """Linear density of the finished thread."""
        return LinearDensity.from_label(
            self.value,
            self.system,
            self.strands,
            per_strand=self.per_strand,
            cotton=self.fiber is Fiber.COTTON,
        )

    @cached_property
    def area_mm2(self) -> float:
        """Cross-section of the thread's outline in mm²."""
        return _area_mm2(self.density, self.fiber, self.construction)

    @cached_property
    def diameter_mm(self) -> float:
        """Diameter in mm."""
        return _diameter(self.area_mm2)

    @property
    def is_metallic(self) -> bool:
        """Whether it needs what metallics need: wrapped core or flat film."""
        return self.fiber is Fiber.METALLIC or self.construction in (Construction.METALLIC, Construction.FILM)

    @property
    def is_monofilament(self) -> bool:
        """Whether it is a single clear filament."""
        return self.construction is Construction.MONOFILAMENT


def sheds_lint(thread: Thread) -> bool:
    """Say whether a thread sheds lint that matters: all cotton, polyester wrapped in it, wool, linen (common practice).

    Spun polyester sheds little, filament least.
    """
    return thread.fiber in (Fiber.COTTON, Fiber.COTTON_POLYESTER, Fiber.WOOL, Fiber.LINEN)


def check_bundle_size(threads: int) -> None:
    """Raise :class:`CraftError` for a number of threads that does not go through one needle."""
    if not threads:
        raise CraftError("Choose a top thread first.", "top")
    require_between(threads, 1, MOST_IN_BUNDLE, "The number of threads through one needle", "top")


@dataclass(frozen=True)
class Bundle:
    """The thread or threads that run through one needle together, 1 to 4.

    Linear densities add and areas add; several threads pack at 0.80 of their outline (our estimate).
    """

    threads: tuple[Thread, ...]

    def __post_init__(self) -> None:
        check_bundle_size(len(self.threads))

    @classmethod
    def of(cls, threads: Sequence[Thread]) -> Bundle:
        """Return a bundle of any sequence of threads."""
        return cls(tuple(threads))

    @property
    def tex(self) -> float:
        """Linear density of all threads together, in tex."""
        return sum(t.density.tex for t in self.threads)

    @property
    def diameter_mm(self) -> float:
        """Diameter of the outline of all threads together, in mm."""
        area = sum(t.area_mm2 for t in self.threads)
        return _diameter(area if len(self.threads) == 1 else area / BUNDLE_PACKING.value)

    @property
    def single(self) -> bool:
        """Whether it is one thread only."""
        return len(self.threads) == 1
