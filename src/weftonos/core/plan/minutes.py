"""What a change costs at the machine, in minutes: the usual figures, one's own by the records, or those typed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields, replace
from typing import Any

from weftonos.core.balance.worth import TEST_LINE
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.upkeep import CLEANING

#: Usual figures until one's own are known.
THREAD = estimate(2, "min")
BOBBIN = estimate(2, "min", "thread and bobbin together are 4")
NEEDLE = estimate(2, "min", "its thread counts for itself")
SCREW = estimate(5, "min", "with a reading")
ROLL_BACK = estimate(6, "min", "rolling a frame back")
GUIDE_HOLES = estimate(1, "min", "our own")
OTHER_MACHINE = estimate(20, "min", "our own: off the frame, or onto it")


@dataclass(frozen=True, kw_only=True)
class ChangeMinutes:
    """Minutes for each kind of change, as they were typed; ``None`` where nobody did."""

    thread: float | None = None
    bobbin: float | None = None
    needle: float | None = None
    screw: float | None = None
    test_line: float | None = None
    roll_back: float | None = None
    cleaning: float | None = None
    guide_holes: float | None = None
    other_machine: float | None = None

    def __post_init__(self) -> None:
        for each in fields(self):
            if (minutes := getattr(self, each.name)) is not None:
                require_between(minutes, 0, 240, "A change", f"minutes.{each.name}", unit="min")


@dataclass(frozen=True, kw_only=True)
class ChangesTake:
    """What each kind of change takes, in minutes: the usual figures, or one's own."""

    thread: float = THREAD.value
    bobbin: float = BOBBIN.value
    needle: float = NEEDLE.value
    screw: float = SCREW.value
    test_line: float = TEST_LINE.value
    roll_back: float = ROLL_BACK.value
    cleaning: float = CLEANING.value
    guide_holes: float = GUIDE_HOLES.value
    other_machine: float = OTHER_MACHINE.value

    def with_typed(self, typed: ChangeMinutes) -> ChangesTake:
        """Return them with what was typed in its place.

        >>> ChangesTake(needle=4).with_typed(ChangeMinutes(thread=1)).needle
        4
        """
        return replace(self, **{what: minutes for what, minutes in asdict(typed).items() if minutes is not None})


def only_typed(minutes: Mapping[str, Any]) -> dict[str, Any]:
    """Return what was typed of the minutes of a plan that kept all nine: what is as usual was hardly typed.

    >>> only_typed({"thread": 2, "needle": 4})
    {'needle': 4}
    """
    usual = asdict(ChangesTake())
    return {what: each for what, each in minutes.items() if each != usual.get(what)}
