"""A comparison that is planned: what is used in turn, and of how many of each the answer is awaited."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from weftonos.core.kernel.errors import CraftError, require_between, require_text


class Measure(StrEnum):
    """What two kinds are compared by: how long needles last, or how often thread breaks."""

    LIFE = "life"
    BREAKS = "breaks"


@dataclass(frozen=True, kw_only=True)
class ComparisonPlanned:
    """Two kinds are to be used in turn, to be compared by ``measure``.

    ``factor`` is what they differ in. Threads are known by their numbers, ``first_threads`` and ``second_threads``: a
    plan goes on when one is renamed. It runs until ``of_each`` of both are on record from then on; striking the record
    out ends it before.
    """

    measure: Measure
    factor: str
    first: str
    second: str
    of_each: int
    first_threads: tuple[int, ...] = ()
    second_threads: tuple[int, ...] = ()
    kind: Literal["comparison_planned"] = "comparison_planned"

    def __post_init__(self) -> None:
        require_text(self.factor, 30, "What they differ in", "factor")
        require_text(self.first, 200, "The first kind", "first")
        require_text(self.second, 200, "The second kind", "second")
        if self.first == self.second:
            raise CraftError("Choose two that differ.", "second")
        require_between(value=self.of_each, low=2, high=500, what="The number of each", field="of_each")

    @property
    def things(self) -> str:
        """What is counted."""
        return "needles" if self.measure == Measure.LIFE else "quilts"


@dataclass(frozen=True, kw_only=True)
class PlanProgress:
    """How a planned comparison stands: so many of each so far, which is next, and whether it has run its course."""

    record: int
    first: str
    second: str
    first_done: int
    second_done: int
    of_each: int
    over: bool
    text: str


def progress(
    plan: ComparisonPlanned, record: int, first_done: int, second_done: int, *, told: bool = True
) -> PlanProgress:
    """Return how a plan stands after so many of each; ``told`` says whether what is on record tells anything."""
    over = min(first_done, second_done) >= plan.of_each
    if over:
        ends = "The answer is in." if told else "That's all of them, with too little trouble to tell them apart."
        text = f"{plan.first} against {plan.second}: {plan.of_each} {plan.things} of each are on record. {ends}"
    else:
        behind = plan.first if first_done <= second_done else plan.second
        done = min(first_done, second_done)
        text = f"Next: {behind}, {done + 1} of {plan.of_each}, for {plan.first} against {plan.second}."
    return PlanProgress(
        record=record,
        first=plan.first,
        second=plan.second,
        first_done=first_done,
        second_done=second_done,
        of_each=plan.of_each,
        over=over,
        text=text,
    )
