"""What test lines, bobbins, needles and cleanings take on one machine, by the moments of its records."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from itertools import pairwise
from typing import NamedTuple

from weftonos.core.balance.worth import TEST_LINE
from weftonos.core.bobbin.events import BobbinLook, BobbinReading, ScrewTurned
from weftonos.core.kernel.own_minutes import own_minutes
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Incident, IncidentCheck
from weftonos.core.mend.upkeep import CLEANING, Upkeep, UpkeepKind
from weftonos.core.needle.life import CHANGE
from weftonos.core.plan.minutes import BOBBIN, NEEDLE, SCREW, THREAD, ChangesTake
from weftonos.core.setup.events import BobbinLoaded, NeedleFitted, NeedleRetired, StitchedLook, TopThreaded
from weftonos.core.setup.may_wait import USUAL_MINUTES, LookMinutes


class RecordMoment(NamedTuple):
    """When a record of a kind was noted; ``detail`` is what the store tells records of one kind apart by."""

    kind: str
    detail: str | None
    at: datetime


@dataclass(frozen=True, kw_only=True)
class OwnMinutes:
    """What is done again and again takes so many minutes here: one's own where enough were timed, else the usual.

    Where none were timed a ``needle`` takes what it does with its thread, ``needle_alone`` without.
    """

    line: float = TEST_LINE.value
    bobbin: LookMinutes = field(default_factory=LookMinutes)
    needle: float = CHANGE.value
    cleaning: float = CLEANING.value
    thread: float = THREAD.value
    load: float = BOBBIN.value
    needle_alone: float = NEEDLE.value

    def changes(self, *, gauge: bool) -> ChangesTake:
        """Return what the changes of a plan take; a screw that was turned is read with a ``gauge``, else felt.

        >>> OwnMinutes(thread=4, bobbin=LookMinutes(reading=2.5)).changes(gauge=True).screw
        6.0
        """
        own, usual = (each.reading if gauge else each.by_hand for each in (self.bobbin, USUAL_MINUTES))
        return ChangesTake(
            thread=self.thread,
            bobbin=self.load,
            needle=self.needle_alone,
            screw=SCREW.value + own - usual,
            test_line=self.line,
            cleaning=self.cleaning,
        )


#: After these a bobbin is read or felt, and a needle changed or the hook cleaned. Whatever else was noted in between
#: took its own time. Another thread or bobbin goes on after a run: after a trouble it isn't what takes the time.
_PULLED_AFTER = (BobbinLoaded.kind, ScrewTurned.kind)
_STOPPED_FOR = (Run.kind, Incident.kind, IncidentCheck.kind)


def minutes_by(moments: Sequence[RecordMoment]) -> OwnMinutes:
    """Return what things take by the moments of a machine's last records, oldest first.

    A test line takes the time since the line before it, a bobbin that since it was loaded or its screw was turned, a
    needle and a cleaning that since the run or the trouble that ended for them, another thread or bobbin that since the
    run before it.

    >>> from datetime import timedelta
    >>> lines = [RecordMoment("look", "0", datetime(2026, 1, 5, 9) + timedelta(minutes=1.5 * n)) for n in range(8)]
    >>> minutes_by(lines).line, minutes_by(lines).needle
    (1.5, 3)
    """
    lines = [moment for moment in moments if moment.kind == StitchedLook.kind]
    # A needle that comes out is noted with the one that goes in.
    steps = list(pairwise(moment for moment in moments if moment.kind != NeedleRetired.kind))

    def since(kind: str, after: Collection[str], detail: str | None = None) -> Iterator[float]:
        for before, then in steps:
            if then.kind == kind and before.kind in after and detail in (None, then.detail):
                yield _minutes(before, then)

    needles = list(since(NeedleFitted.kind, _STOPPED_FOR))
    return OwnMinutes(
        line=own_minutes((_minutes(*both) for both in pairwise(lines)), TEST_LINE.value),
        bobbin=LookMinutes(
            reading=own_minutes(since(BobbinReading.kind, _PULLED_AFTER), USUAL_MINUTES.reading),
            by_hand=own_minutes(since(BobbinLook.kind, _PULLED_AFTER), USUAL_MINUTES.by_hand),
        ),
        needle=own_minutes(needles, CHANGE.value),
        needle_alone=own_minutes(needles, NEEDLE.value),
        cleaning=own_minutes(since(Upkeep.kind, _STOPPED_FOR, UpkeepKind.CLEANING.value), CLEANING.value),
        thread=own_minutes(since(TopThreaded.kind, (Run.kind,)), THREAD.value),
        load=own_minutes(since(BobbinLoaded.kind, (Run.kind,)), BOBBIN.value),
    )


def _minutes(before: RecordMoment, then: RecordMoment) -> float:
    return (then.at - before.at).total_seconds() / 60
