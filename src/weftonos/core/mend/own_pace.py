"""How long checks take in one's own hands: the minutes of the page of troubles, corrected by when each was noted."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import pairwise
from statistics import fmean

from weftonos.core.kernel.own_minutes import plausible
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.diagnosis import CheckAnswer
from weftonos.core.mend.incident import Incident, IncidentCheck, Step
from weftonos.core.mend.trouble import Cause, Knowledge

#: What the page says counts for so many checks: of the pace of all of them, and of each against that pace.
PACE_WEIGHS, CHECK_WEIGHS = estimate(6, "checks"), estimate(3, "checks")


@dataclass(frozen=True)
class TimedCheck:
    """A check of a cause that was noted so many minutes after what was noted before it."""

    cause: str
    minutes: float


def timed_checks(steps: Iterable[tuple[datetime, Incident | Step]]) -> list[TimedCheck]:
    """Return the checks of one trouble with their minutes; ``steps`` are its records with their moments, oldest first.

    One that was skipped took nothing.
    """
    return [
        TimedCheck(step.cause, (then - before).total_seconds() / 60)
        for (before, _), (then, step) in pairwise(steps)
        if isinstance(step, IncidentCheck) and step.answer is not CheckAnswer.SKIPPED
    ]


def with_own_pace(knowledge: Knowledge, timed: Sequence[TimedCheck]) -> Knowledge:
    """Return the knowledge with the minutes that checks take in one's own hands.

    Ratios to the page's minutes are averaged as logarithms, in two steps: all checks have one pace, drawn to that of
    the page, and each its own about it (the mean of a normal one with its mean drawn to that of its group; Efron &
    Morris 1975, *Journal of the American Statistical Association* 70). Pauses and what was noted in one go count for
    nothing. The technician's minutes are the technician's.
    """
    ratios: dict[str, list[float]] = {}
    for check in timed:
        if check.cause in knowledge.index and plausible(check.minutes, knowledge.cause(check.cause).minutes):
            ratios.setdefault(check.cause, []).append(math.log(check.minutes / knowledge.cause(check.cause).minutes))
    if not ratios:
        return knowledge
    means = [fmean(each) for each in ratios.values()]
    # Each cause counts once, so that a check that is made again and again does not stand for all.
    pace = sum(means) / (PACE_WEIGHS.value + len(means))

    def own(cause: Cause) -> Cause:
        mine = ratios.get(cause.id, [])
        ratio = math.exp((CHECK_WEIGHS.value * pace + sum(mine)) / (CHECK_WEIGHS.value + len(mine)))
        # Half minutes, as the page has them.
        minutes = max(0.5, round(2 * cause.minutes * ratio) / 2)
        return replace(cause, minutes=minutes, timed=len(mine))

    causes = tuple(cause if cause.technician else own(cause) for cause in knowledge.causes)
    return Knowledge(knowledge.findings, causes, knowledge.traps)
