"""Upkeep of a machine: what was done, and how many stitching hours ago."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from weftonos.core.kernel.care import TROUBLE, Care
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import LONGEST_NOTE, require_text
from weftonos.core.kernel.own_minutes import SEWN_AHEAD, own_minutes_move, pays_at
from weftonos.core.kernel.spoken import in_hours
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
#: Minutes of a cleaning, and how lint builds up (the shape of Weibull's law).
CLEANING, LINT_SHAPE = estimate(5, "min"), estimate(2.0)
#: What is expected of lint counts for so many troubles beside one's own; however few or many those are, it is looked at
#: again after this share of the usual hours at least, and this many times them at most.
LINT_WEIGHS = estimate(2, "troubles")
LEAST_OF_THE_HOURS, MOST_OF_THE_HOURS = (estimate(n, "of the usual hours") for n in (0.5, 1.5))


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
class OwnLint:
    """How often lint came to trouble on a machine in so many stitching hours, with so many cleanings."""

    troubles: int
    hours: float
    cleanings: int

    @property
    def words(self) -> str:
        """What that rests on."""
        often = {0: "no trouble", 1: "trouble once", 2: "trouble twice"}.get(
            self.troubles, f"trouble {self.troubles} times"
        )
        return f"Lint made {often} in {in_hours(self.hours)}."


@dataclass(frozen=True, kw_only=True)
class CleaningWorth:
    """What moves the hour at which a cleaning pays: what hangs on the quilt, one's own minutes, one's own lint."""

    care: Care = Care.USUAL
    minutes: float = CLEANING.value
    lint: OwnLint | None = None


def cleaning_pays_at(usual_h: float, worth: CleaningWorth) -> float:
    """Return the stitching hour after which a cleaning pays, where it is usually due after ``usual_h``.

    It pays once the chance of trouble with lint in the hours ahead, times its minutes, is more than a cleaning takes.
    The usual hour says how often lint comes to trouble; one's own count over one's own hours corrects that (the mean of
    a gamma distribution, in which what is expected counts for ``LINT_WEIGHS`` troubles).

    >>> cleaning_pays_at(8.0, CleaningWorth())
    8.0
    >>> cleaning_pays_at(8, CleaningWorth(lint=OwnLint(troubles=5, hours=40, cleanings=4))) < 8
    True
    """
    usually = (CLEANING.value, TROUBLE[Care.USUAL].value)
    at = pays_at(usual_h, LINT_SHAPE.value, usually=usually, here=(worth.minutes, TROUBLE[worth.care].value))
    if worth.lint is not None and worth.lint.hours > 0:
        ahead = math.pow(usual_h + SEWN_AHEAD.value, LINT_SHAPE.value) - math.pow(usual_h, LINT_SHAPE.value)
        # Who cleans often sees little lint: so many troubles are expected from one cleaning to the next. Whoever notes
        # none has cleaned all the same.
        span = min(worth.lint.hours / (worth.lint.cleanings + 1), MOST_OF_THE_HOURS.value * usual_h)
        each = -math.log(1 - usually[0] / usually[1]) * math.pow(span, LINT_SHAPE.value) / ahead
        expected = each * worth.lint.hours / span
        often = (LINT_WEIGHS.value + worth.lint.troubles) / (LINT_WEIGHS.value + expected)
        at *= math.pow(often, -1 / LINT_SHAPE.value)
    return min(max(at, LEAST_OF_THE_HOURS.value * usual_h), MOST_OF_THE_HOURS.value * usual_h)


_CARE_MOVES = {
    Care.MATTERS: " This quilt matters, so clean sooner.",
    Care.USUAL: "",
    Care.SCRAP: " This is scrap, so it may wait longer.",
}


def _moved_words(worth: CleaningWorth, at: float, usual_h: float) -> str:
    """Say what moved the hour of a cleaning, after what stands before it; lint where all of it moved it by an hour."""
    own = own_minutes_move("cleaning", worth.minutes, CLEANING.value)
    lint = f" {worth.lint.words}" if worth.lint and abs(at - usual_h) >= 1 else ""
    moved = f"{lint}{_CARE_MOVES[worth.care]}{own}"
    return f".{moved}" if moved else ""


@dataclass(frozen=True, kw_only=True)
class UpkeepState:
    """How one kind of upkeep stands: stitching hours since, ``None`` where it is not on record, and whether due."""

    what: UpkeepKind
    name: str
    hours: float | None
    after: float | None
    due: bool
    text: str


def upkeep_state(
    what: UpkeepKind, hours: float | None, threads: Iterable[Thread], worth: CleaningWorth | None = None
) -> UpkeepState:
    """Return how a kind of upkeep stands after stitching hours; ``worth`` is what moves the hour of a cleaning.

    >>> upkeep_state(UpkeepKind.OILING, 9, []).due
    True
    """
    limit = {UpkeepKind.CLEANING: clean_after(threads), UpkeepKind.OILING: OIL_AFTER}.get(what)
    after, moved = limit.value if limit else None, ""
    if after is not None and what is UpkeepKind.CLEANING and worth is not None:
        usual_h, after = after, cleaning_pays_at(after, worth)
        # What is due is not told why it might have waited.
        if hours is None or hours < after or after <= usual_h:
            moved = _moved_words(worth, after, usual_h)
    due = hours is not None and after is not None and hours >= after
    ago = f"{figure(hours or 0, 1)} stitching hours ago"
    if hours is None:
        text = "not on record"
    elif after is None:
        text = ago
    elif due:
        text = f"{ago}, so it's due{moved}"
    else:
        text = f"{ago}, due in {figure(after - hours, 1)}{moved}"
    return UpkeepState(what=what, name=UPKEEP_NAMES[what], hours=hours, after=after, due=due, text=text)
