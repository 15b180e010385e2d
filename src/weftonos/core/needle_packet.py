"""Needles in the drawer, and whether one may go into a machine."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.errors import CraftError, require_between, require_text
from weftonos.core.needle import NeedleFinish, NeedleSize, Point


@dataclass(frozen=True)
class NeedlePacket:
    """A packet of new needles as bought. ``price`` is that of one needle, in the owner's money."""

    metric: int
    american: int
    point: Point
    bought: int
    finish: NeedleFinish = NeedleFinish.STEEL
    system: str = ""
    price: float | None = None

    def __post_init__(self) -> None:
        _ = self.size
        require_between(self.bought, 1, 1000, "The number of needles", "bought")
        require_text(self.system, 40, "The needle system", "system", empty=True)
        if self.price is not None:
            require_between(self.price, 0, 1000, "The price of one needle", "price")

    @property
    def size(self) -> NeedleSize:
        """The size as its pair."""
        return NeedleSize(self.metric, self.american)


def _names(system: str) -> set[str]:
    return {"".join(name.lower().split()) for name in system.split(",") if name.strip()}


def check_system(machine_takes: str, needle: str, machine: str) -> None:
    """Raise :class:`CraftError` for a needle of another system than the machine takes.

    Systems are compared as the owner wrote them; a machine that takes several has them with commas between. Where
    either is not on record nothing is refused: the machine's manual decides.
    """
    takes, given = _names(machine_takes), _names(needle)
    if takes and given and takes.isdisjoint(given):
        raise CraftError(
            f"{machine} takes {machine_takes}; this needle is {needle}. The wrong system skips and loops. "
            "The machine's manual decides.",
            "system",
        )
