"""The rack: bobbin cases and bobbins as their owner knows them."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.kernel.errors import require_between, require_text


class Backlash(StrEnum):
    """What keeps the bobbin from spinning on when the machine stops."""

    SPRING = "spring"
    WASHER = "washer"
    BOTH = "both"
    NONE = "none"


#: How a screen says it.
BACKLASH_NAMES = {
    Backlash.SPRING: "backlash spring",
    Backlash.WASHER: "washer",
    Backlash.BOTH: "backlash spring and washer",
    Backlash.NONE: "no backlash spring",
}


class Winding(StrEnum):
    """How a bobbin was wound."""

    PRE_WOUND = "pre_wound"
    EVEN = "even"
    SLOW = "slow"
    UNEVEN = "uneven"


@dataclass(frozen=True, kw_only=True)
class BobbinCase:
    """A bobbin case. ``kept_for`` is the fiber or color it is kept for; ``pigtail``: the thread leaves it by one."""

    label: str
    bobbin_class: BobbinClass = BobbinClass.L
    kept_for: str = ""
    backlash: Backlash = Backlash.SPRING
    target: BobbinTarget | None = None
    pigtail: bool = False

    def __post_init__(self) -> None:
        require_text(self.label, 40, "The case's label", "label")
        require_text(self.kept_for, 60, "What it's for", "kept_for", empty=True)

    @property
    def words(self) -> str:
        """Its class and what it has, as a list of cases says them."""
        return f"class {self.bobbin_class}, {BACKLASH_NAMES[self.backlash]}{', pigtail' if self.pigtail else ''}"


@dataclass(frozen=True, kw_only=True)
class Bobbin:
    """A bobbin: which thread of the drawer, how full (0 to 1), how it was wound."""

    label: str
    thread: int
    bobbin_class: BobbinClass = BobbinClass.L
    fill: float = 1.0
    winding: Winding = Winding.EVEN

    def __post_init__(self) -> None:
        require_text(self.label, 40, "The bobbin's label", "label")
        require_between(value=self.fill, low=0, high=1, what="How full the bobbin is", field="fill", above_low=True)
