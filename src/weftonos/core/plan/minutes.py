"""What a change costs at the machine, in minutes: usual figures, or the owner's own."""

from __future__ import annotations

from dataclasses import dataclass, fields

from weftonos.core.balance.worth import TEST_LINE
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.upkeep import CLEANING

#: Usual figures until one's own are known.
THREAD = estimate(2, "min")
BOBBIN = estimate(2, "min", "thread and bobbin together are 4")
NEEDLE = estimate(2, "min")
SCREW = estimate(5, "min", "with a reading")
ROLL_BACK = estimate(6, "min", "rolling a frame back")
GUIDE_HOLES = estimate(1, "min", "our own")
OTHER_MACHINE = estimate(20, "min", "our own: off the frame, or onto it")


@dataclass(frozen=True, kw_only=True)
class ChangeMinutes:
    """Minutes for each kind of change. Left out, the usual ones."""

    thread: float = THREAD.value
    bobbin: float = BOBBIN.value
    needle: float = NEEDLE.value
    screw: float = SCREW.value
    test_line: float = TEST_LINE.value
    roll_back: float = ROLL_BACK.value
    cleaning: float = CLEANING.value
    guide_holes: float = GUIDE_HOLES.value
    other_machine: float = OTHER_MACHINE.value

    def __post_init__(self) -> None:
        for each in fields(self):
            require_between(
                getattr(self, each.name), 0, 240, "The minutes of a change", f"minutes.{each.name}", unit="min"
            )
