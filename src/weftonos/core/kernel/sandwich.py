"""The quilt sandwich: what the needle goes through."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.errors import require_between, require_text
from weftonos.core.kernel.standing import estimate


class Weave(StrEnum):
    """The top fabric, as the needle feels it."""

    ORDINARY = "ordinary"
    BATIK = "batik"
    CANVAS = "canvas"
    DENIM = "denim"
    KNIT = "knit"
    FRAGILE = "fragile"

    @property
    def dense(self) -> bool:
        """Whether it drags at needle and thread."""
        return self in (Weave.BATIK, Weave.CANVAS, Weave.DENIM)

    @property
    def parted(self) -> bool:
        """Whether its threads should be parted, not pierced: a knit, a fabric that is fragile or old."""
        return self in (Weave.KNIT, Weave.FRAGILE)


class Loft(StrEnum):
    """How thick the batting stands."""

    LOW = "low"
    MEDIUM = "medium"
    LOFTY = "lofty"

    def steps_above(self, other: Loft) -> int:
        """Return by how many steps it stands thicker than another; below 0 where it is flatter."""
        steps = list(Loft)
        return steps.index(self) - steps.index(other)


#: How thick a quilt sandwich is under the foot, by its loft.
THICKNESS = {
    Loft.LOW: estimate(1.5, "mm", "under the foot, better measured"),
    Loft.MEDIUM: estimate(2.5, "mm", "under the foot, better measured"),
    Loft.LOFTY: estimate(4.0, "mm", "under the foot, better measured"),
}


class Motion(StrEnum):
    """How the stitches are made; each has a balance of its own."""

    STRAIGHT = "straight"
    FREE_MOTION = "free_motion"
    DECORATIVE = "decorative"

    @property
    def words(self) -> str:
        """As it is said: ``"free-motion"``."""
        return self.value.replace("_", "-")


@dataclass(frozen=True, kw_only=True)
class Sandwich:
    """Top, batting, backing. ``fabric``, ``batting`` and ``backing`` are free words for the record."""

    weave: Weave = Weave.ORDINARY
    loft: Loft = Loft.MEDIUM
    adhesive: bool = False
    layers: int = 3
    fabric: str = ""
    batting: str = ""
    backing: str = ""

    def __post_init__(self) -> None:
        require_between(value=self.layers, low=1, high=8, what="The number of layers", field="layers")
        require_text(self.fabric, 80, "The fabric", "fabric", empty=True)
        require_text(self.batting, 80, "The batting", "batting", empty=True)
        require_text(self.backing, 80, "The backing", "backing", empty=True)

    @property
    def thickness_mm(self) -> float:
        """How thick it is under the foot, by its loft."""
        return THICKNESS[self.loft].value

    @property
    def heavy_because(self) -> str:
        """Why this sandwich wants a needle one size up; empty when it does not (common practice)."""
        causes = []
        if self.loft is Loft.LOFTY:
            causes.append("lofty batting")
        if self.weave is Weave.BATIK:
            causes.append("a dense weave")
        elif self.weave.dense:
            causes.append(self.weave.value)
        if self.adhesive:
            causes.append("adhesive")
        return " and ".join(causes)
