"""What practice has shown of a person: how the eye reads, and how evenly the hand pulls."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from enum import StrEnum
from statistics import fmean, stdev
from typing import Any

from weftonos.core.balance.eye import LOOKS_FOR_OWN_EYE, Eye, GradeRead, own_eye
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.standing import estimate
from weftonos.standins.hand_on_gauge import judged
from weftonos.store.practice import (
    items_of,
    moves_of,
    rounds,
)
from weftonos.store.workshop import Workshop


class Exercise(StrEnum):
    """What is practiced."""

    CLOTH = "cloth"
    SETTING = "setting"
    PULL = "pull"
    FAULT = "fault"
    NEEDLE = "needle"


#: How closely one wants to know a reading.
WANTED = estimate(0.05, "of the reading", "half of an ordinary range")
FEWEST, MOST = 2, 10


def reading(mean_mn: float, taps: Sequence[float]) -> tuple[float, float]:
    """Return the lowest and the highest that the gauge shows in one pull: a faster hand reads higher."""
    shown = judged(mean_mn, taps)
    return min(shown), max(shown)


def repeats_within(pulls: Sequence[tuple[float, float]]) -> float | None:
    """Return the spread of pulls from one to the next, as a share of their mean; ``None`` for fewer than two."""
    means = [(low + high) / 2 for low, high in pulls]
    return stdev(means) / fmean(means) if len(means) > 1 else None


def pulls_advised(repeatability: float) -> int:
    """Return how many pulls a hand takes to know a reading within 5 %, 95 in 100.

    >>> pulls_advised(0.02), pulls_advised(0.08)
    (2, 10)
    """
    return min(MOST, max(FEWEST, math.ceil((Z95.value * repeatability / WANTED.value) ** 2)))


def reads_of(items: Sequence[Mapping[str, Any]], moves: Sequence[Mapping[str, Any]]) -> list[GradeRead]:
    """Return what was there and what was read in a round."""
    return [GradeRead(item["grade"], int(move["choice"])) for item, move in zip(items, moves, strict=False)]


def reads(workshop: Workshop, person: str) -> list[GradeRead]:
    """Return every look that a person has read in practice."""
    rows = rounds(workshop.session, person, Exercise.CLOTH.value)
    return [read for row in rows for read in reads_of(items_of(row), moves_of(row))]


def eye_of(workshop: Workshop, person: str) -> Eye | None:
    """Return a person's own table of the grades; ``None`` with too few looks of practice."""
    found = reads(workshop, person)
    return own_eye(found) if len(found) >= LOOKS_FOR_OWN_EYE.value else None


def hand_of(workshop: Workshop, person: str) -> float | None:
    """Return how far a hand's pulls lie apart, as a share: the middle of the last rounds."""
    spreads = []
    for row in rounds(workshop.session, person, Exercise.PULL.value)[:5]:
        item = items_of(row)
        found = repeats_within([reading(item["mean_mn"], m["taps"]) for m in moves_of(row)])
        if row.ended_at is not None and found is not None:
            spreads.append(found)
    return sorted(spreads)[len(spreads) // 2] if spreads else None


def hand_words(person: str, repeats: float | None) -> str:
    """Say what a hand's evenness means for a reading; empty where it was never practiced."""
    if repeats is None:
        return ""
    count = pulls_advised(repeats)
    return f"{person}'s pulls lie within {repeats:.0%} of one another: {count} of them make a reading good to 5%."
