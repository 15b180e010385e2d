"""What a person leaves out again and again is asked for no more."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

from weftonos.core.kernel.standing import estimate

#: Whoever left so many of the last ones out that were asked for is asked no more, unless it was chosen.
LEFT_OUT, OF_THE_LAST = estimate(8, "times"), estimate(10, "times")


@dataclass(frozen=True)
class SewnUnder:
    """A set-up that was sewn with: which threads it was of, and whether a test line was stitched first."""

    threads: Hashable
    tested: bool


def left_untested(sewn: Sequence[SewnUnder]) -> str:
    """Say that no line is asked for since most were left out; empty where they were stitched, or too few say so.

    ``sewn`` are the set-ups before, oldest first. Threads that had a line before may have been sewn without one on
    advice, so that only those count that had none.
    """
    had_a_line: set[Hashable] = set()
    asked: list[bool] = []
    for each in sewn:
        if each.threads not in had_a_line:
            asked.append(each.tested)
        if each.tested:
            had_a_line.add(each.threads)
    last = asked[-int(OF_THE_LAST.value) :]
    left = sum(not tested for tested in last)
    if len(last) < OF_THE_LAST.value or left < LEFT_OUT.value:
        return ""
    return f"You sewed {left} of the last {len(last)} set-ups without a test line, so you aren't asked."
