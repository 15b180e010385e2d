"""How fast a machine's owner stitches, from runs with their metres, and what that says of runs without."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

#: Runs with metres that a pace rests on at most, the newest.
RUNS_FOR_PACE = 40


@dataclass(frozen=True)
class TimedRun:
    """Minutes of stitching, and metres where they were noted."""

    minutes: float
    metres: float | None = None


@dataclass(frozen=True)
class Pace:
    """Stitched metres an hour, and how many runs that rests on."""

    metres_per_hour: float
    runs: int


def pace_of(runs: Sequence[TimedRun]) -> Pace | None:
    """Return all metres over all hours of the runs that have metres; ``None`` without any.

    >>> pace_of([TimedRun(60, 40), TimedRun(30), TimedRun(60, 60)]).metres_per_hour
    50.0
    """
    measured = [(run.minutes, run.metres) for run in runs if run.metres is not None]
    hours = sum(minutes for minutes, _ in measured) / 60
    return Pace(sum(metres for _, metres in measured) / hours, len(measured)) if hours else None


@dataclass(frozen=True)
class Stitched:
    """Stitched metres, and how many of them are taken from the pace."""

    metres: float
    by_pace: float


def stitched(runs: Sequence[TimedRun], pace: Pace | None) -> Stitched | None:
    """Return the metres of runs, by their pace where none were noted; ``None`` where that is not known either."""
    if pace is None and any(run.metres is None for run in runs):
        return None
    each = pace.metres_per_hour / 60 if pace else 0.0
    guessed = sum(run.minutes * each for run in runs if run.metres is None)
    return Stitched(sum(run.metres or 0 for run in runs) + guessed, guessed)
