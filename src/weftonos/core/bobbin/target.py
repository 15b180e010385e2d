"""What the gauge should read: usual ranges by throat, until a machine has a number of its own."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import Standing, estimate, practice

#: Throats in inches, and their usual ranges in mN: one school's figures, the scale read as mN from memory. Between and
#: below these throats it has none.
LARGE_THROAT_IN = (practice(22.0, "in"), practice(36.0, "in"))
SMALL_THROAT_IN = (estimate(17.0, "in"), estimate(19.0, "in", "about 18"))
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
                f"The bobbin range runs from {figure(self.low)} to {figure(self.high)} mN. "
                "Its low end must be the smaller.",
                "low",
            )

    @property
    def middle(self) -> float:
        """The number to aim at, in mN."""
        return (self.low + self.high) / 2


def usual_target(kind: MachineKind, throat_in: float | None) -> BobbinTarget | None:
    """Return one school's usual range for a head, or ``None`` where it has none.

    Longarm throats of 22 to 36 inches read 180 to 220, about 18 inches 250 to 300 (common practice; that the scale is
    mN is from memory). Between and below them, and for a home machine, no number is usual.
    """
    if kind is MachineKind.HOME or throat_in is None:
        return None
    for throats, (low, high), about in (
        (LARGE_THROAT_IN, USUAL_LARGE, "22 to 36 in"),
        (SMALL_THROAT_IN, USUAL_SMALL, "about 18 in"),
    ):
        if throats[0].value <= throat_in <= throats[1].value:
            origin = f"usual for a throat of {about}"
            return BobbinTarget(low=low.value, high=high.value, origin=origin)
    return None
