"""What the gauge should read: usual ranges by throat, until a machine has a number of its own."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import Standing, practice

#: Throat in inches to the usual range in mN: common practice, the scale read as mN from memory.
LARGE_THROAT_FROM_IN = practice(22.0, "in")
USUAL_LARGE = (practice(180.0, "mN"), practice(220.0, "mN"))
USUAL_SMALL = (practice(250.0, "mN"), practice(300.0, "mN"))


@dataclass(frozen=True, kw_only=True)
class BobbinTarget:
    """A range in mN, where it comes from, and how far to trust it."""

    low: float
    high: float
    origin: str = ""
    standing: Standing = Standing.COMMON_PRACTICE

    def __post_init__(self) -> None:
        require_between(
            value=self.low,
            low=0,
            high=3000,
            what="The low end of the bobbin range",
            field="low",
            unit="mN",
            above_low=True,
        )
        require_between(
            value=self.high,
            low=0,
            high=3000,
            what="The high end of the bobbin range",
            field="high",
            unit="mN",
            above_low=True,
        )
        require_text(self.origin, 120, "Where the range comes from", "origin", empty=True)
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
    if throat_in is not None and throat_in < LARGE_THROAT_FROM_IN.value:
        (low, high), origin = USUAL_SMALL, "usual for a throat of about 18 in"
    else:
        (low, high), origin = USUAL_LARGE, "usual for a throat of 22 to 36 in"
    return BobbinTarget(low=low.value, high=high.value, origin=origin)
