"""Needles in the drawer, and whether one may go into a machine."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point


@dataclass(frozen=True, kw_only=True)
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
        require_between(value=self.bought, low=1, high=1000, what="The number of needles", field="bought")
        require_text(self.system, 40, "The needle system", "system", empty=True)
        if self.price is not None:
            require_between(value=self.price, low=0, high=1000, what="The price of one needle", field="price")

    @property
    def size(self) -> NeedleSize:
        """The size as its pair."""
        return NeedleSize(self.metric, self.american)


#: Families of systems that go together, each by how its names begin; the suffix (H, H-Q, R, MR) only says the point.
#: 15x1 and HAx1 are taken for names of the home family, 135x5 for one of the longarm's (common practice; one view
#: counts HAx1 apart): nothing is crossed out between them, and the manual decides.
FAMILIES = (("130/705", "705", "15x1", "hax1"), ("134", "dpx5", "135x5"), ("hlx5",))


def family_of(system: str) -> str:
    """Return the family that a system belongs to, else its own name without blanks.

    >>> family_of("130/705 H-Q") == family_of("130/705")
    True
    """
    name = "".join(system.lower().replace("×", "x").replace("-", "").split())
    for family in FAMILIES:
        if any(name.startswith(start) and not name[len(start) :][:1].isdigit() for start in family):
            return family[0]
    return name


def _names(system: str) -> set[str]:
    return {family_of(name) for name in system.replace(";", ",").split(",") if name.strip()}


def check_system(machine_takes: str, needle: str, machine: str) -> None:
    """Raise :class:`CraftError` for a needle of another system than the machine takes.

    Names of one family go together, whatever their suffix; a machine that takes several has them with commas between.
    Where either is not on record nothing is refused: the machine's manual decides.
    """
    if why := why_not_this_system(machine_takes, needle, machine):
        raise CraftError(why, "system")


def why_not_this_system(machine_takes: str, needle: str, machine: str) -> str:
    """Return why a needle's system does not fit a machine; empty where it does, or where either is not on record."""
    takes, given = _names(machine_takes), _names(needle)
    if not takes or not given or takes & given:
        return ""
    return (
        f"{machine} takes {machine_takes}. This needle is {needle}. The wrong system skips and loops. Check your "
        "machine's manual."
    )
