"""By how much the screw of a case was turned since a test line, and whether the line still counts after that.

Where bobbins are felt no number says how tight one was. The turns do, but not each moves the balance: one that felt
off and was turned may have been off by itself, and is back where the ones before it were.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Self

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, ScrewTurned
from weftonos.core.bobbin.screw import RESPONSE_MEAN
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.differences import reading_changed
from weftonos.core.setup.events import BobbinLoaded

#: How often a bobbin that felt off after one that felt right was off by itself, where its screw is turned by what
#: :mod:`.felt` says: misses least over drawn cases that never move by themselves, and ones that do with one bobbin in
#: fifty or in twenty, for hands that err one time in seven and twice as often.
OFF_BY_ITSELF = estimate(0.65)


@dataclass(frozen=True, kw_only=True)
class Below:
    """What a line was stitched with: the ``case``, and the ``thread`` that stands for all colors of its line."""

    case: int | None
    thread: int


@dataclass(frozen=True, kw_only=True)
class TurnByHand:
    """A turn of the screw of a ``case`` by ``minutes``, above 0 in; no case is the one that was in.

    ``off_since`` is when the bobbin was put in that felt off before it, if one did.
    """

    at: datetime
    minutes: float
    case: int | None
    off_since: datetime | None


@dataclass(frozen=True, kw_only=True)
class Felt:
    """How a bobbin felt by hand, and when."""

    at: datetime
    below: Below
    right: bool


@dataclass(frozen=True, kw_only=True)
class Turns:
    """The turns among what a machine's last bobbins were and said, oldest first, how these felt, and since when."""

    since: datetime | None
    turns: Sequence[TurnByHand]
    felt: Sequence[Felt]

    @classmethod
    def among(cls, records: Iterable[tuple[datetime, object]], one_thread: Callable[[int], int]) -> Self:
        """Return the turns among records of bobbins and when they were made, oldest first as these are.

        ``one_thread`` gives the thread that stands for all colors of a line.
        """
        turns: list[TurnByHand] = []
        felt: list[Felt] = []
        first = loaded = off_since = below = None
        for at, record in records:
            first = first or at
            match record:
                case BobbinLoaded(bobbin=bobbin, case=case):
                    loaded, off_since, below = at, None, Below(case=case, thread=one_thread(bobbin))
                case BobbinLook(feel=feel, case=case) if below and case in (None, below.case):
                    felt.append(Felt(at=at, below=below, right=feel is Feel.RIGHT))
                    off_since = None if feel is Feel.RIGHT else loaded
                case BobbinReading():
                    off_since = None
                case ScrewTurned(case=case, minutes=minutes):
                    in_now = below is not None and case in (None, below.case)
                    turns.append(TurnByHand(at=at, minutes=minutes, case=case, off_since=off_since if in_now else None))
                    off_since = None if in_now else off_since
                case _:
                    pass
        return cls(since=first, turns=turns, felt=felt)

    def after(self, at: datetime, below: Below) -> float:
        """Return by how many minutes the screw is expected to stand otherwise than for a line; 0 where nobody knows.

        ``at`` is when it was stitched. A turn on its own bobbin counts in full. One on a later bobbin that felt off,
        where the line's felt right, does so only as often as that bobbin wasn't off by itself.
        """
        if self.since is None or at < self.since:
            return 0.0
        felt = [each.right for each in self.felt if each.at <= at and each.below == below]
        was_right = bool(felt) and felt[-1]
        found = 0.0
        for turn in self.turns:
            if turn.at > at and turn.case in (None, below.case):
                put_back = was_right and turn.off_since is not None and turn.off_since > at
                found += turn.minutes * (1 - OFF_BY_ITSELF.value if put_back else 1)
        return found


@dataclass(frozen=True)
class Tension:
    """What is known of a bobbin's tension: the number of the record that says it, and its reading in mN if it has one.

    Nothing is known where there is no ``record``.
    """

    record: int | None = None
    mn: float | None = None


def as_then(then: Tension, now: Tension, turned: Callable[[], float]) -> bool:
    """Say whether a look counts for what is on: its bobbin read the same, or no screw was turned by as much since.

    ``turned`` is asked for the minutes where no two readings say it. A fresh bobbin of the same thread that is not read
    yet is taken to read as the one before it.
    """
    if then.mn is not None and now.mn is not None:
        return not reading_changed(then.mn, now.mn)
    if then.record is not None and then.record == now.record:
        return True
    return not reading_changed(1, math.exp(RESPONSE_MEAN.value * turned()))
