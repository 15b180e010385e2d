"""What the gauge should read: usual ranges by throat, until a machine has a number of its own."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.errors import CraftError, require_between
from weftonos.core.school import MachineKind
from weftonos.core.standing import Standing

#: Throat in inches to the usual range in mN: common practice, the scale read as mN from memory.
LARGE_THROAT_FROM_IN = 22.0
USUAL_LARGE = (180.0, 220.0)
USUAL_SMALL = (250.0, 300.0)


@dataclass(frozen=True)
class BobbinTarget:
    """A range in mN, where it comes from, and how far to trust it."""

    low: float
    high: float
    origin: str = ""
    standing: Standing = Standing.COMMON_PRACTICE

    def __post_init__(self) -> None:
        require_between(self.low, 0, 3000, "The low end of the bobbin range", "low", "mN", above_low=True)
        require_between(self.high, 0, 3000, "The high end of the bobbin range", "high", "mN", above_low=True)
        if self.low > self.high:
            raise CraftError(
                f"The bobbin range runs from {self.low:g} to {self.high:g} mN: "
                "its low end must not be above its high end.",
                "low",
            )

    @property
    def middle(self) -> float:
        """The number to aim at, in mN."""
        return (self.low + self.high) / 2


def usual_target(kind: MachineKind, throat_in: float | None) -> BobbinTarget | None:
    """Return the usual range for a head, or ``None`` for a home machine, which has no usual number.

    Longarm throats of 22 to 36 inches read 180 to 220, about 18 inches 250 to 300 (common practice; that the
    scale is mN is from memory).
    """
    if kind is MachineKind.HOME:
        return None
    if throat_in is not None and throat_in < LARGE_THROAT_FROM_IN:
        return BobbinTarget(*USUAL_SMALL, "usual for a throat of about 18 in")
    return BobbinTarget(*USUAL_LARGE, "usual for a throat of 22 to 36 in")
