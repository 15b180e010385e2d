"""Whether a bobbin of another thread may wait for its reading, once its screw was turned as it was before.

Common practice turns the screw between two threads by trial, and reads each time. That the turn repeats is ours to show
(E): from one reading of a case to the next, what the change of thread does and what each minute of the screw does are
learned together, by a filter of the logarithm of the reading. Where it says that this bobbin is off by less than a
reading costs, the reading may wait. By hand it is how often the same turn felt right at once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise, takewhile
from statistics import fmean

import numpy as np

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, ScrewTurned
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.bobbin.own_number import EXPECTED_WEIGHS
from weftonos.core.bobbin.screw import MOST_MINUTES, RESPONSE_MEAN, RESPONSE_SPREAD, TURNING_ERROR, turn_by
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.care import SLIGHTLY_OFF, Care
from weftonos.core.kernel.counting import Z95, drawn_share, drawn_spread
from weftonos.core.kernel.spoken import pull
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.case_choice import walked
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.felt import FELT_WRONG, look_saves
from weftonos.core.setup.may_wait import (
    MOST_UNREAD,
    RIGHT_AT_FIRST,
    TURNS_WEIGH,
    USUAL_MINUTES,
    WAITS_FROM,
    LookMinutes,
    MayWait,
    expected_off,
)
from weftonos.core.setup.swap import TurnFirst

#: Before it is known, ln(reading) may be anywhere, and that of one thread over another's scatters by so much.
ANYWHERE, THREADS_DIFFER = estimate(10), estimate(0.3)
#: Below this chance to be in its range as it stands, the screw is turned before the first pull.
PLAINLY_OUT = estimate(0.25)
#: What a hand errs in turning, as a variance of ln(reading).
A_HAND_ERRS = (TURNING_ERROR.value * RESPONSE_MEAN.value) ** 2
#: What one bobbin of a thread differs from the next, as a share.
BOBBINS_DIFFER = estimate(0.03)
#: Fewest changes between two threads that were read on both sides, or felt.
FEWEST_CHANGES = estimate(2, "changes")
#: A turn is the same as before where it differs by no more than so much.
SAME_TURN = estimate(2, "minutes")


#: What a case went through, with the thread that was in, if known; ``None`` where something was mended on it.
_Event = tuple[int | None, BobbinLoaded | ScrewTurned | BobbinReading | None]


class Case:
    """What a case reads, as a state that is filtered from one record to the next (Kalman 1960).

    The state is ln(reading) of the thread before, how much more this one reads, and what a minute of the screw does.
    A turn moves the first by the third, and by what the hand errs in turning; a reading sees the first, or the first
    two, by what its pulls scatter and bobbins differ.
    """

    def __init__(self) -> None:
        self.mean = np.array([0.0, 0.0, RESPONSE_MEAN.value])
        self.spread = np.diag([ANYWHERE.value, THREADS_DIFFER.value, RESPONSE_SPREAD.value]) ** 2
        #: Squares of what came otherwise than expected, over what was expected of them; and how many they are.
        self.squares, self.count, self.cured = 0.0, 0, 0

    def turn(self, minutes: float) -> None:
        """The screw is turned, above 0 in."""
        moves = np.eye(3)
        moves[0, 2] = minutes
        self.mean = moves @ self.mean
        self.spread = moves @ self.spread @ moves.T
        self.spread[0, 0] += A_HAND_ERRS

    def mended(self) -> None:
        """Something was mended on it: where it stands is not known, what a thread and a minute do is."""
        self.spread[0, :] = self.spread[:, 0] = 0.0
        self.spread[0, 0] = ANYWHERE.value**2
        self.cured += 1

    def read(self, log: float, error: float, *, new: bool) -> None:
        """A bobbin is read as ``log``, of this thread if it is ``new``, with the ``error`` of its pulls, as a share."""
        sees = np.array([1.0, float(new), 0.0])
        expected = float(sees @ self.spread @ sees) + error**2 + BOBBINS_DIFFER.value**2
        off = log - float(sees @ self.mean)
        gain = self.spread @ sees / expected
        self.mean = self.mean + gain * off
        self.spread = self.spread - np.outer(gain, sees @ self.spread)
        self.squares, self.count = self.squares + off**2 / expected, self.count + 1

    def next_one(self, turned: int = 0) -> tuple[float, float, float]:
        """Return ln(reading) that a further bobbin of this thread has, its spread, and Student's degrees of freedom.

        Before it is read its screw is ``turned`` by so many minutes.
        """
        sees = np.array([1.0, 1.0, turned])
        doubt = float(sees @ self.spread @ sees) + BOBBINS_DIFFER.value**2 + bool(turned) * A_HAND_ERRS
        # The first reading tells where the case stands, as does that after a cure, and the first of the other thread
        # what that does.
        free = max(0, self.count - 2 - self.cured)
        scale = drawn_spread(1, EXPECTED_WEIGHS.value, self.squares, free)
        return float(sees @ self.mean), scale * math.sqrt(doubt), EXPECTED_WEIGHS.value + free


@dataclass(frozen=True, kw_only=True)
class Stands:
    """How the case stands for the bobbin that is in, by earlier ``changes`` of thread.

    ``balanced_at`` is what bobbins of this thread read when they were sewn from, in mN, ``turned`` whether the screw
    was turned since this one was put in, ``unread`` how many bobbins went in since the last reading.
    """

    case: Case
    changes: int
    balanced_at: float
    turned: bool
    unread: int

    def reads(self, target: BobbinTarget, turned: int = 0) -> tuple[float, float, float]:
        """Return what it should read in mN once the screw is ``turned``, its chance to be in range, and how far off.

        How far is in grades of the stitch, as by :func:`expected_off`.
        """
        log, spread, degrees = self.case.next_one(turned)
        mean = math.exp(log)
        return mean, *expected_off(mean, mean * spread, degrees, target, balanced_at=self.balanced_at)

    def _by(self, mean: float) -> str:
        times = f"the last {self.changes} changes" if self.changes > 1 else "the last change"
        return f"Going by {times} between these two threads, it should read about {pull(mean)}"

    def turn_first(self, target: BobbinTarget) -> TurnFirst | None:
        """Return the turn to make before the first pull; ``None`` where it may well be in its range as it is.

        The minutes minimize the expected squared error of ln(reading), at most a quarter turn.
        """
        mean, chance, _ = self.reads(target)
        if self.turned or chance >= PLAINLY_OUT.value:
            return None

        def squared(minutes: int) -> float:
            log, spread, _ = self.case.next_one(minutes)
            return (log - math.log(target.middle)) ** 2 + spread**2

        most = int(MOST_MINUTES.value)
        minutes = min((m for m in range(-most, most + 1) if m), key=squared)
        after, better, _ = self.reads(target, minutes)
        if better <= chance:
            return None
        half = Z95.value * self.case.next_one(minutes)[1]
        advice = turn_by(minutes, after, half)
        return TurnFirst(expected_mn=mean, advice=advice, text=f"{self._by(mean)} as the screw stands.")

    def waits(self, target: BobbinTarget, care: Care, takes: LookMinutes, *, turned: int = 0) -> MayWait | None:
        """Say that it may go unread; ``None`` where a reading is expected to save more than it ``takes``."""
        if self.changes < FEWEST_CHANGES.value or not 1 <= self.unread <= MOST_UNREAD.value:
            return None
        mean, chance, off = self.reads(target, turned)
        if chance < WAITS_FROM.value or off * SLIGHTLY_OFF[care].value > takes.reading:
            return None
        return MayWait(chance, mean, f"{self._by(mean)} now: {chance:.0%} that it's in its range. Every fifth is read.")


def as_it_stands(records: Iterable[object], load: BobbinLoaded, one_thread: Callable[[int], int]) -> Stands | None:
    """Return how the case stands for ``load`` after another thread; ``None`` where none was read in it with this one.

    ``records`` are loads, readings, looks, turns of the screw, and what else ends what was known of the case, oldest
    first; ``one_thread`` gives the thread that stands for all colors of a line.
    """
    new = one_thread(load.bobbin)
    events = _since_a_fault(records, load.case, one_thread)
    read = [(thread, event.mean_mn) for thread, event in events if isinstance(event, BobbinReading)]
    unread = list(takewhile(lambda each: not isinstance(each[1], BobbinReading), reversed(events)))
    bobbins = [thread for thread, event in unread if isinstance(event, BobbinLoaded)]
    other = next((thread for thread, _ in reversed(read) if thread != new), None)
    mine = _as_sewn(events, new)
    if load.bobbin_work or other is None or not mine or not bobbins or bobbins[0] != new:
        return None
    # Only after another thread: a screw that was turned for this one is read, and so is a case that was mended.
    if {*bobbins, read[-1][0]} != {new, other} or any(event is None for _, event in unread):
        return None
    return Stands(
        case=_filtered(events, new, other),
        changes=sum(a != b for a, b in pairwise(thread for thread, _ in read if thread in (new, other))),
        balanced_at=fmean(mine),
        turned=isinstance(unread[0][1], ScrewTurned),
        unread=len(bobbins),
    )


def _since_a_fault(records: Iterable[object], case: int | None, one_thread: Callable[[int], int]) -> list[_Event]:
    """Return what a case went through since it last fluttered."""
    found: list[_Event] = []
    now: int | None = None
    for record in records:
        match record:
            case BobbinLoaded():
                now = one_thread(record.bobbin) if record.ordinary_in(case) else None
                if now is not None:
                    found.append((now, record))
            case ScrewTurned() if record.case in (None, case):
                found.append((now, record))
            case BobbinReading() if record.case in (None, case):
                if record.calmness is Calmness.FAULT:
                    found = []
                elif now is not None:
                    found.append((now, record))
            case BobbinReading() | BobbinLook() | ScrewTurned():
                pass
            case _:
                found.append((now, None))
    return found


def _as_sewn(events: Sequence[_Event], thread: int) -> list[float]:
    """Return what each bobbin of a thread read at last: what it read before its screw was turned isn't sewn with."""
    last: list[float] = []
    fresh = True
    for now, event in events:
        if isinstance(event, BobbinLoaded):
            fresh = True
        elif isinstance(event, BobbinReading) and now == thread:
            last[len(last) if fresh else len(last) - 1 :] = [event.mean_mn]
            fresh = False
    return last


def _filtered(events: Sequence[_Event], new: int, other: int) -> Case:
    case = Case()
    # One hand pulled them all: three pulls alone say little of how steady it is.
    hand = math.sqrt(fmean((e.scatter_mn / e.mean_mn) ** 2 for _, e in events if isinstance(e, BobbinReading)))
    for thread, event in events:
        if isinstance(event, ScrewTurned):
            case.turn(event.minutes)
        elif event is None:
            case.mended()
        elif isinstance(event, BobbinReading) and thread in (new, other):
            case.read(math.log(event.mean_mn), hand, new=thread == new)
    return case


def felt_after_swap(
    records: Iterable[object],
    load: BobbinLoaded,
    one_thread: Callable[[int], int],
    *,
    care: Care = Care.USUAL,
    takes: LookMinutes = USUAL_MINUTES,
) -> MayWait | None:
    """Say whether the bobbin of ``load`` may go unfelt, its screw turned as in earlier changes; ``None`` if it may not.

    Of turns like this one between these two threads, those count that felt right at the first look.
    """
    case, new = walked(records, load.case, one_thread), one_thread(load.bobbin)
    if case.judged or case.now != new or case.right is None or not 1 <= case.bobbins <= MOST_UNREAD.value:
        return None
    other = case.right if case.right != new else next((each for each in case.threads if each != new), None)
    if other is None or not case.threads <= {other, new}:
        return None
    # Back without a look at the thread between, the screw stands as it stood.
    back = case.right == new
    ways = {(other, new): 1, (new, other): -1}
    alike = [
        good
        for pair, minutes, good in case.at_once
        if (way := ways.get(pair)) and (back or abs(way * minutes - case.minutes) <= SAME_TURN.value)
    ]
    if len(alike) < FEWEST_CHANGES.value or (back and abs(case.minutes) > SAME_TURN.value):
        return None
    chance = drawn_share(RIGHT_AT_FIRST.value, TURNS_WEIGH.value, sum(alike), len(alike))
    if look_saves(chance, FELT_WRONG.value) * SLIGHTLY_OFF[care].value > takes.by_hand:
        return None
    said = f"With the screw turned like this, {sum(alike)} of the last {len(alike)} changes felt right"
    return MayWait(chance, None, f"{said}: {chance:.0%} that this one does, too. Every fifth is felt.")
