"""Needles: the fixed pairs of sizes, the points and their grooves, shanks, finishes, systems."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from weftonos.core.kernel.errors import CraftError, in_words
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import Known, Standing, estimate, practice

#: Metric size (blade diameter in hundredths of a millimeter) to its American partner.
SIZE_PAIRS: dict[int, tuple[int, Standing]] = {
    60: (8, Standing.COMMON_PRACTICE),
    65: (9, Standing.COMMON_PRACTICE),
    70: (10, Standing.COMMON_PRACTICE),
    75: (11, Standing.COMMON_PRACTICE),
    80: (12, Standing.COMMON_PRACTICE),
    90: (14, Standing.COMMON_PRACTICE),
    100: (16, Standing.COMMON_PRACTICE),
    110: (18, Standing.COMMON_PRACTICE),
    120: (19, Standing.MEMORY),
    125: (20, Standing.COMMON_PRACTICE),
    130: (21, Standing.MEMORY),
    140: (22, Standing.MEMORY),
}
_METRIC_OF = {american: metric for metric, (american, _) in SIZE_PAIRS.items()}


@dataclass(frozen=True, order=True)
class NeedleSize:
    """A needle size as its fixed pair of numbers.

    >>> str(NeedleSize(80, 12))
    '80/12'
    """

    metric: int
    american: int

    def __post_init__(self) -> None:
        pair = SIZE_PAIRS.get(self.metric)
        if pair and pair[0] == self.american:
            return
        known_metric = [f"{self.metric} pairs with {pair[0]}"] if pair else []
        partner = _METRIC_OF.get(self.american)
        known_american = [f"{partner} with {self.american}"] if partner and pair else []
        if partner and not pair:
            known_american = [f"{partner} pairs with {self.american}"]
        hint = ", ".join(known_metric + known_american) or (
            f"sizes run from 60/8 to 140/22: {', '.join(f'{m}/{a}' for m, (a, _) in SIZE_PAIRS.items())}"
        )
        raise CraftError(f"{self.metric}/{self.american} is not a needle size: {hint}.", "american")

    def __str__(self) -> str:
        return f"{self.metric}/{self.american}"

    @classmethod
    def of_metric(cls, metric: int) -> NeedleSize:
        """Return the pair of a metric size."""
        if metric not in SIZE_PAIRS:
            raise CraftError(
                f"{metric} is not a metric needle size. Known: {in_words(map(str, SIZE_PAIRS))}.", "metric"
            )
        return cls(metric, SIZE_PAIRS[metric][0])

    @classmethod
    def of_american(cls, american: int) -> NeedleSize:
        """Return the pair of an American size."""
        if american not in _METRIC_OF:
            raise CraftError(f"{american} is not an American needle size.", "american")
        return cls(_METRIC_OF[american], american)

    @property
    def blade_mm(self) -> float:
        """Blade diameter in mm."""
        return self.metric / 100

    @property
    def standing(self) -> Standing:
        """How sure the pair is."""
        return SIZE_PAIRS[self.metric][1]


ALL_SIZES: tuple[NeedleSize, ...] = tuple(NeedleSize.of_metric(m) for m in SIZE_PAIRS)
#: The sizes that sizes up and down are counted in.
COMMON_SIZES = tuple(size for size in ALL_SIZES if size.standing is Standing.COMMON_PRACTICE)


#: From so many sizes off the best a needle stretches what it can do, and from so many it won't do.
STRETCHES_FROM = estimate(2, "sizes")
WONT_FROM = estimate(3, "sizes")


def sizes_apart(size: NeedleSize, other: NeedleSize) -> int:
    """Return how many common sizes lie from the other to this one; a size between two counts as the nearer.

    >>> sizes_apart(NeedleSize(110, 18), NeedleSize(90, 14))
    2
    """

    def place(each: NeedleSize) -> int:
        return min(range(len(COMMON_SIZES)), key=lambda n: abs(COMMON_SIZES[n].metric - each.metric))

    return place(size) - place(other)


class Point(StrEnum):
    """The shape of a needle's point, which goes with its groove and eye."""

    UNIVERSAL = "universal"
    SHARP = "sharp"
    QUILTING = "quilting"
    TOPSTITCH = "topstitch"
    EMBROIDERY = "embroidery"
    METALLIC = "metallic"
    BALLPOINT = "ballpoint"
    DENIM = "denim"


#: The sizes a point is made in, smallest and largest, in metric numbers. Packets differ, and the label wins (memory).
#: A longarm's round point stands as universal.
MADE_IN: Mapping[MachineKind, Mapping[Point, tuple[int, int]]] = {
    MachineKind.HOME: {
        Point.UNIVERSAL: (60, 120),
        Point.SHARP: (60, 110),
        Point.QUILTING: (75, 90),
        Point.TOPSTITCH: (70, 100),
        Point.EMBROIDERY: (75, 90),
        Point.METALLIC: (80, 90),
        Point.DENIM: (70, 110),
        Point.BALLPOINT: (65, 100),
    },
    MachineKind.LONGARM: dict.fromkeys(
        (Point.UNIVERSAL, Point.SHARP, Point.BALLPOINT, Point.TOPSTITCH, Point.METALLIC, Point.EMBROIDERY), (80, 140)
    ),
}


def is_made(kind: MachineKind, size: NeedleSize, point: Point) -> bool:
    """Say whether a point is sold in a size for such a head."""
    low, high = MADE_IN[kind].get(point, (0, 0))
    return low <= size.metric <= high


class Tip(StrEnum):
    """How a point ends."""

    FINE = "fine"
    ROUNDED = "rounded"
    BALL = "ball"


@dataclass(frozen=True, kw_only=True)
class PointFacts:
    """What common practice knows of a point; ``limit`` is the fill above which a thread rubs (our estimate).

    ``eye`` is the length of its eye in diameters of the blade.
    """

    point: Point
    made_for: str
    note: str
    limit: Known
    eye: Known
    tip: Tip


_SLIM, _WIDE_EYE, _DEEP = estimate(0.62), estimate(0.75), estimate(0.95)
#: That a topstitch eye is about twice as long is common practice; what it is twice of, we estimate.
_EYE, _LARGER_EYE, _LONG_EYE = (estimate(n, "times the blade's width") for n in (1.6, 2.2, 3.2))

POINTS: dict[Point, PointFacts] = {
    facts.point: facts
    for facts in (
        PointFacts(
            point=Point.UNIVERSAL,
            made_for="everyday",
            note="often not strong enough through three layers",
            limit=_SLIM,
            eye=_EYE,
            tip=Tip.ROUNDED,
        ),
        PointFacts(
            point=Point.SHARP,
            made_for="dense weaves, batik, appliqué",
            note="cuts cleanly, dulls soonest",
            limit=_SLIM,
            eye=_EYE,
            tip=Tip.FINE,
        ),
        PointFacts(
            point=Point.QUILTING,
            made_for="three layers",
            note="slim, stronger point",
            limit=_SLIM,
            eye=_EYE,
            tip=Tip.FINE,
        ),
        PointFacts(
            point=Point.TOPSTITCH,
            made_for="most free-motion and heavier thread",
            note="eye about twice as long, deeper and wider groove, slightly rounded sharp point",
            limit=_DEEP,
            eye=_LONG_EYE,
            tip=Tip.FINE,
        ),
        PointFacts(
            point=Point.EMBROIDERY,
            made_for="free-motion with rayon and trilobal",
            note="larger eye",
            limit=_WIDE_EYE,
            eye=_LARGER_EYE,
            tip=Tip.ROUNDED,
        ),
        PointFacts(
            point=Point.METALLIC,
            made_for="metallic thread",
            note="large eye, extra groove",
            limit=_DEEP,
            eye=_LONG_EYE,
            tip=Tip.ROUNDED,
        ),
        PointFacts(
            point=Point.BALLPOINT,
            made_for="longarm work and knits",
            note="parts the threads, leaves no cut holes, and helps when breaks come in one direction of travel",
            limit=_SLIM,
            eye=_EYE,
            tip=Tip.BALL,
        ),
        PointFacts(
            point=Point.DENIM,
            made_for="very dense layers",
            note="reinforced blade",
            limit=_SLIM,
            eye=_EYE,
            tip=Tip.FINE,
        ),
    )
}


class NeedleFinish(StrEnum):
    """The surface of a needle."""

    STEEL = "steel"
    TITANIUM = "titanium"


#: Metric sizes at which a class ends.
FINE_TO, MIDDLE_TO = 80, 100
#: A titanium-nitride coating lasts this many times as long as bare steel, from and to.
COATED_LASTS = (practice(5, "times"), practice(8, "times"))


class SizeClass(StrEnum):
    """Sizes that wear alike: fine to 80/12, middle to 100/16, large above."""

    FINE = "fine"
    MIDDLE = "middle"
    LARGE = "large"


class OneNeedle(Protocol):
    """Anything that says what needle it is."""

    @property
    def finish(self) -> NeedleFinish:
        """Its finish."""

    @property
    def point(self) -> Point:
        """Its point."""

    @property
    def metric(self) -> int:
        """Its metric size."""


@dataclass(frozen=True, order=True)
class NeedleKind:
    """Needles that may be compared on one machine: of one finish, point and class of size."""

    finish: NeedleFinish
    point: Point
    sizes: SizeClass

    @classmethod
    def of(cls, finish: NeedleFinish, point: Point, metric: int) -> NeedleKind:
        """Return the kind of a needle by its metric size."""
        sizes = SizeClass.FINE if metric <= FINE_TO else SizeClass.MIDDLE if metric <= MIDDLE_TO else SizeClass.LARGE
        return cls(finish, point, sizes)

    @classmethod
    def like(cls, needle: OneNeedle) -> NeedleKind:
        """Return the kind of a needle: one that is in, one that was fitted, one of a packet."""
        return cls.of(needle.finish, needle.point, needle.metric)

    @property
    def words(self) -> str:
        """The kind in short: ``"titanium ballpoint, middle sizes"``."""
        return f"{self.finish.value} {self.point.value}, {self.sizes.value} sizes"


class Shank(StrEnum):
    """The part that is clamped: round on most longarms, flat on home machines."""

    ROUND = "round"
    FLAT = "flat"
