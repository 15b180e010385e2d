"""What the bobbin's number is for: ordinary thread, metallic and other delicate thread, or bobbin work.

Two schools: one number for every thread, the top does the rest; or looser for delicate thread, so that the top may be
looser too (common practice). Loosened for a purpose is on target, until the purpose ends.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.schools import NumberSchool
from weftonos.core.kernel.standing import Standing, estimate
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.thread import Thread

#: Loosened for delicate thread means down to this share of the ordinary number, and no further without a number typed.
LOOSENED_TO = estimate(0.6)


class Purpose(StrEnum):
    """What a bobbin is set for."""

    ORDINARY = "ordinary"
    DELICATE = "delicate"
    BOBBIN_WORK = "bobbin_work"


PURPOSE_NAMES = {
    Purpose.ORDINARY: "ordinary thread",
    Purpose.DELICATE: "metallic or delicate",
    Purpose.BOBBIN_WORK: "bobbin work",
}


@dataclass(frozen=True, kw_only=True)
class PurposeSet:
    """From now on, until another thread goes on top, the bobbin is set for a purpose; ``target`` is a range typed."""

    purpose: Purpose
    target: BobbinTarget | None = None
    kind: Literal["bobbin_purpose"] = "bobbin_purpose"

    def __post_init__(self) -> None:
        if self.purpose is Purpose.ORDINARY and self.target is not None:
            raise CraftError("The ordinary range stands with the machine or the case. Change it there.", "target")


def purpose_of(
    chosen: PurposeSet | None, school: NumberSchool, top: tuple[Thread, ...], *, bobbin_work: bool
) -> Purpose:
    """Return what the bobbin is for: bobbin work, else what was chosen for this thread, else what the school says."""
    if bobbin_work:
        return Purpose.BOBBIN_WORK
    if chosen is not None:
        return chosen.purpose
    delicate = school is NumberSchool.BY_PURPOSE and any(nature_of(t).delicate for t in top)
    return Purpose.DELICATE if delicate else Purpose.ORDINARY


def purpose_target(
    ordinary: BobbinTarget | None, purpose: Purpose, typed: BobbinTarget | None = None
) -> BobbinTarget | None:
    """Return the range to be in for a purpose; ``None`` where nobody has a number.

    For delicate thread anything from the ordinary range down to three fifths of it is on target: the bobbin is
    loosened only if there is trouble. For bobbin work no number is usual.
    """
    if purpose is Purpose.ORDINARY:
        return ordinary
    if typed is not None:
        origin = f"your own for {PURPOSE_NAMES[purpose]}"
        return BobbinTarget(low=typed.low, high=typed.high, origin=origin, standing=Standing.OWN_RECORDS)
    if purpose is Purpose.BOBBIN_WORK or ordinary is None:
        return None
    return BobbinTarget(
        low=LOOSENED_TO.value * ordinary.middle,
        high=ordinary.high,
        origin="for metallic or delicate thread, from the ordinary number down",
        standing=Standing.ESTIMATE,
    )


def why_no_number(purpose: Purpose, *, ask_throat: bool = False) -> str:
    """Return what is said where a purpose has no target; ``ask_throat`` where the throat would tell."""
    if purpose is Purpose.BOBBIN_WORK:
        return (
            "No tension is usual for bobbin work. Loosen the case until the heavy thread runs off evenly. Then type "
            "the number that looked right as your usual for it."
        )
    if ask_throat:
        return "How deep the throat is tells which reading is usual."
    return "No number is usual for this machine. When the stitch is beautiful, read the case: that's your number."
