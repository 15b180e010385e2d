"""Upkeep of a machine: what was done, and how many stitching hours ago."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import LONGEST_NOTE, require_text
from weftonos.core.kernel.standing import Known, estimate
from weftonos.core.thread.thread import Thread, sheds_lint


class UpkeepKind(StrEnum):
    """What is done to keep a machine running."""

    CLEANING = "cleaning"
    DISCS = "discs"
    OILING = "oiling"
    POLISHING = "polishing"
    PART = "part"
    SERVICE = "service"


UPKEEP_NAMES = {
    UpkeepKind.CLEANING: "Hook area cleaned",
    UpkeepKind.DISCS: "Tension discs flossed",
    UpkeepKind.OILING: "Hook oiled",
    UpkeepKind.POLISHING: "A burr polished",
    UpkeepKind.PART: "A part replaced",
    UpkeepKind.SERVICE: "Serviced by a technician",
}
#: Stitching hours after which it is looked at again. The machine's manual decides; these are reminders.
CLEAN_AFTER = estimate(8, "h", "our own. Common practice says only: clean often, more often with cotton")
CLEAN_AFTER_LINT = estimate(4, "h", "half of that, since cotton sheds most lint")
OIL_AFTER = estimate(8, "h", "our own: the machine's manual decides")


@dataclass(frozen=True)
class Upkeep:
    """Something was done to the machine."""

    what: UpkeepKind
    note: str = ""
    kind: Literal["upkeep"] = "upkeep"

    def __post_init__(self) -> None:
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


def clean_after(threads: Iterable[Thread]) -> Known:
    """Return after how many stitching hours to clean, for the threads that are on."""
    return CLEAN_AFTER_LINT if any(sheds_lint(t) for t in threads) else CLEAN_AFTER


@dataclass(frozen=True, kw_only=True)
class UpkeepState:
    """How one kind of upkeep stands: stitching hours since, ``None`` where it is not on record, and whether due."""

    what: UpkeepKind
    name: str
    hours: float | None
    after: float | None
    due: bool
    text: str


def upkeep_state(what: UpkeepKind, hours: float | None, threads: Iterable[Thread]) -> UpkeepState:
    """Return how a kind of upkeep stands after stitching hours.

    >>> upkeep_state(UpkeepKind.OILING, 9, []).due
    True
    """
    limit = {UpkeepKind.CLEANING: clean_after(threads), UpkeepKind.OILING: OIL_AFTER}.get(what)
    after = limit.value if limit else None
    due = hours is not None and after is not None and hours >= after
    if hours is None:
        text = "not on record"
    elif after is None:
        text = f"{figure(hours, 1)} h ago"
    elif due:
        text = f"{figure(hours, 1)} h ago: due"
    else:
        text = f"{figure(hours, 1)} h ago, {figure(after - hours, 1)} h to go"
    return UpkeepState(what=what, name=UPKEEP_NAMES[what], hours=hours, after=after, due=due, text=text)
