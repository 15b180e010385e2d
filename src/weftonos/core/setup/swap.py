"""What the screw wants when a thread goes below that was never read here, by what the fibers of two threads did.

For two threads that were read in a case themselves see ``after_swap``.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from statistics import fmean

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, ScrewTurned
from weftonos.core.bobbin.gauge import REPEATS_WEIGHS, Calmness, on_the_edge
from weftonos.core.bobbin.screw import READING_NOISE, ScrewAdvice, ScrewTurn, TurnDirection, advise_turn
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.counting import drawn_spread
from weftonos.core.kernel.spoken import pull, pull_range
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.thread.thread import FIBER_NAMES, Fiber


@dataclass(frozen=True)
class Swap:
    """A thread of another fiber went below and neither was the screw turned since nor the bobbin read.

    ``last_mn`` is what the other fiber read under this screw, ``logs`` the logarithms of how many times as much this
    one read, each time that they followed each other under one screw. ``sorts`` are the two in words, this one first.
    """

    last_mn: float
    logs: tuple[float, ...]
    sorts: tuple[str, str]


@dataclass(frozen=True, kw_only=True)
class TurnFirst:
    """Turn the screw before the first pull: what it would read, the turn, and why; ``unread``: no pull after it."""

    expected_mn: float
    advice: ScrewAdvice
    text: str
    unread: bool = False

    @property
    def minutes(self) -> int:
        """The minutes of the turn, above 0 in."""
        return self.advice.minutes if self.advice.direction is TurnDirection.TIGHTEN else -self.advice.minutes

    def without_a_pull(self) -> TurnFirst:
        """Return the turn where the bobbin may go unread after it."""
        text = f"{self.text} Once it's turned, there's no need to pull this time."
        return replace(self, advice=self.advice.without_a_pull(), text=text, unread=True)


def followed(
    records: Iterable[object], sort: int, case: int | None, sort_of: Callable[[int], int]
) -> tuple[float, list[float]] | None:
    """Return what the sort of thread before read under this screw, and how many times as much this one did, as logs.

    ``None`` where the last load was no change of sort, or nothing was read under this screw, or the two never followed
    each other. ``records`` are loads, readings, looks and turns of the screw of a machine, oldest first.
    """
    read: dict[int, float] = {}
    pairs: list[tuple[int, int, float]] = []
    now: int | None = None
    fresh = False
    for record in records:
        match record:
            case BobbinLoaded():
                now = sort_of(record.bobbin) if record.ordinary_in(case) else None
                fresh = now is not None
            # Which case is in is not always known: a screw that was turned since is then this one's.
            case ScrewTurned() if case is None or record.case in (None, case):
                read, fresh = {}, False
            case BobbinReading() if now is not None and record.case in (None, case):
                if record.calmness is Calmness.FAULT:
                    continue
                if fresh:
                    pairs += [(other, now, math.log(record.mean_mn / mn)) for other, mn in read.items() if other != now]
                # The newest last, whatever was read of it before.
                read.pop(now, None)
                read[now], fresh = record.mean_mn, False
            case BobbinLook():
                fresh = False
    others = [other for other in read if other != sort]
    if not fresh or now != sort or not others:
        return None
    other = others[-1]
    logs = [d for a, b, d in pairs if (a, b) == (other, sort)] + [-d for a, b, d in pairs if (a, b) == (sort, other)]
    return (read[other], logs) if logs else None


#: Changes between two fibers before they speak for threads that never followed each other here.
FEWEST_OF_FIBERS = estimate(3, "changes")


def swap_of_fibers(
    records: Sequence[object], thread: int, case: int | None, fiber_of: Callable[[int], Fiber | None]
) -> Swap | None:
    """Return the swap by what the fibers of two threads did in this case; ``None`` where that is not known well enough.

    Cotton reads higher than polyester at the same screw (common practice): how much is learned here. Changes that went
    both ways, the one time more and the other less, say nothing.
    """
    fibers = list(Fiber)

    def number(each: int) -> int:
        fiber = fiber_of(each)
        return fibers.index(fiber) if fiber is not None else len(fibers)

    this = number(thread)
    found = followed(records, this, case, number)
    if found is None or len(logs := found[1]) < FEWEST_OF_FIBERS.value or min(logs) < 0 < max(logs):
        return None
    loads = [number(r.bobbin) for r in records if isinstance(r, BobbinLoaded) and r.ordinary_in(case)]
    other = next((each for each in reversed(loads) if each != this), len(fibers))
    if len(fibers) in (this, other):
        return None
    return Swap(found[0], tuple(logs), (FIBER_NAMES[fibers[this]], FIBER_NAMES[fibers[other]]))


def turn_first(swap: Swap, target: BobbinTarget, turns: Sequence[ScrewTurn]) -> TurnFirst | None:
    """Return the turn to make before the first pull; ``None`` where the bobbin may well be in its range as it is."""
    mean, count = fmean(swap.logs), len(swap.logs)
    # Each swap is two readings of three pulls, and so is what is expected now.
    squares = sum((log - mean) ** 2 for log in swap.logs)
    spread = drawn_spread(READING_NOISE.value, REPEATS_WEIGHS.value, squares, count - 1) * math.sqrt(1 + 1 / count)
    expected = swap.last_mn * math.exp(mean)
    if target.low <= expected <= target.high or on_the_edge(expected, expected * spread, target):
        return None
    advice = advise_turn(expected, target.middle, turns)
    more = "more" if mean > 0 else "less"
    this, other = swap.sorts
    apart = sorted(abs(swap.last_mn * math.expm1(log)) for log in (min(swap.logs), max(swap.logs)))
    text = f"{this.capitalize()} read {pull_range(*apart)} {more} than {other} in this case, from {count} changes"
    return TurnFirst(expected_mn=expected, advice=advice, text=f"{text}: about {pull(expected)} as it stands.")
