"""Stitching: runs and the clock, how fast a machine's owner goes, and what that says of runs without meters."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from weftonos.core.kernel.errors import CraftError, require_between, require_text

#: The longest run there is; a clock that counts more was forgotten.
LONGEST_RUN_H = 16
#: Runs with meters that a pace rests on at most, the newest.
RUNS_FOR_PACE = 40


@dataclass(frozen=True, kw_only=True)
class WalkDone:
    """A procedure was walked to its end: its name on the page of procedures, and in ``words`` as it was called."""

    walk: str
    words: str
    kind: Literal["walk_done"] = "walk_done"

    def __post_init__(self) -> None:
        require_text(self.walk, 60, "The walk", "walk")
        require_text(self.words, 120, "The name of the walk", "words")


@dataclass(frozen=True, kw_only=True)
class Run:
    """Stitching time on the machine, in minutes, the quilt it was on, and the stitched meters if they are known."""

    minutes: float
    quilt: str = ""
    meters: float | None = None
    kind: Literal["run"] = "run"

    def __post_init__(self) -> None:
        if self.meters is not None:
            require_between(
                value=self.meters,
                low=0,
                high=5000,
                what="The stitched length of one run",
                field="meters",
                unit="m",
                above_low=True,
            )
        require_between(
            value=self.minutes,
            low=0,
            high=LONGEST_RUN_H * 60,
            what="Stitching time of one run",
            field="minutes",
            unit="min",
            above_low=True,
        )
        require_text(self.quilt, 80, "The quilt's name", "quilt", empty=True)


@dataclass(frozen=True)
class ClockStarted:
    """The stitching clock was started; a later run stops it."""

    quilt: str = ""
    kind: Literal["clock_started"] = "clock_started"

    def __post_init__(self) -> None:
        require_text(self.quilt, 80, "The quilt's name", "quilt", empty=True)


#: A clock stopped at once still was a run.
SHORTEST_RUN_MIN = 0.02


def run_of_clock(minutes: float, quilt: str, meters: float | None) -> Run:
    """Return the run that a stopped clock counted; raises :class:`CraftError` for one that was forgotten."""
    if minutes > LONGEST_RUN_H * 60:
        raise CraftError(
            f"The clock has run for more than {LONGEST_RUN_H} hours, so it was probably forgotten. "
            "Delete its start in the Log and note the stitching time by hand.",
            "clock",
        )
    return Run(minutes=max(minutes, SHORTEST_RUN_MIN), quilt=quilt, meters=meters)


@dataclass(frozen=True)
class TimedRun:
    """Minutes of stitching, and meters where they were noted."""

    minutes: float
    meters: float | None = None


@dataclass(frozen=True)
class Pace:
    """Stitched meters an hour, and how many runs that rests on."""

    meters_per_hour: float
    runs: int


def pace_of(runs: Sequence[TimedRun]) -> Pace | None:
    """Return all meters over all hours of the runs that have meters; ``None`` without any.

    >>> pace_of([TimedRun(60, 40), TimedRun(30), TimedRun(60, 60)]).meters_per_hour
    50.0
    """
    measured = [(run.minutes, run.meters) for run in runs if run.meters is not None]
    hours = sum(minutes for minutes, _ in measured) / 60
    return Pace(sum(meters for _, meters in measured) / hours, len(measured)) if hours else None


@dataclass(frozen=True)
class Stitched:
    """Stitched meters, and how many of them are taken from the pace."""

    meters: float
    by_pace: float


def stitched(runs: Sequence[TimedRun], pace: Pace | None) -> Stitched | None:
    """Return the meters of runs, by their pace where none were noted; ``None`` where that is not known either."""
    if pace is None and any(run.meters is None for run in runs):
        return None
    each = pace.meters_per_hour / 60 if pace else 0.0
    guessed = sum(run.minutes * each for run in runs if run.meters is None)
    return Stitched(sum(run.meters or 0 for run in runs) + guessed, guessed)
