"""What goes into the advice on a machine: whether its records do, how careful a quilt is, what things take here."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from weftonos.core.kernel.care import Care
from weftonos.core.log.own_minutes import OwnMinutes, minutes_by
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Incident, IncidentOutcome
from weftonos.core.mend.preflight import PreflightStakes
from weftonos.core.mend.upkeep import CleaningWorth, OwnLint, Upkeep
from weftonos.knowledge import troubles
from weftonos.learned.answer_cache import remembered
from weftonos.store.workshop import Workshop

#: So many runs tell how often there is trouble, and how often lint makes it.
RUNS_THAT_TELL = 150
#: By this condition the page of troubles tells the causes that a cleaning prevents.
_LINTY = "hours_since_cleaning"


def feeds(workshop: Workshop, machine_id: int) -> bool:
    """Say whether this machine's owner lets the records go into the advice."""
    return workshop.machine(machine_id).spec.schools.takes("own_records") == "feed"


def care_of(workshop: Workshop, quilt: str) -> Care:
    """Return how careful a quilt wants its maker to be."""
    if not quilt:
        return Care.USUAL
    said = remembered(workshop, ("said of", quilt), lambda: workshop.quilts.said(quilt))
    return said.care if said else Care.USUAL


def minutes_here(workshop: Workshop, machine_id: int) -> OwnMinutes:
    """Return what test lines, bobbins, needles and cleanings take on a machine, by its records where they advise."""
    if not feeds(workshop, machine_id):
        return OwnMinutes()
    return remembered(workshop, ("minutes", machine_id), lambda: minutes_by(workshop.moments(machine_id)))


def cleaning_worth(workshop: Workshop, machine_id: int, quilt: str) -> CleaningWorth:
    """Return what moves the hour at which a machine's hook is cleaned, on a quilt."""
    return CleaningWorth(
        care=care_of(workshop, quilt),
        minutes=minutes_here(workshop, machine_id).cleaning,
        lint=remembered(workshop, ("lint", machine_id), lambda: _lint(_last_runs(workshop, machine_id)))
        if feeds(workshop, machine_id)
        else None,
    )


def preflight_stakes(workshop: Workshop, machine_id: int, quilt: str) -> PreflightStakes:
    """Return what is at stake before a quilt is begun on a machine; troubles that were sewn on from count as well."""
    found = _last_runs(workshop, machine_id) if feeds(workshop, machine_id) else ()
    troubles = sum(isinstance(each, Incident) for each in found)
    return PreflightStakes(care=care_of(workshop, quilt), troubles=troubles, hours=_hours(found))


def _last_runs(workshop: Workshop, machine_id: int) -> Sequence[Run | Incident | IncidentOutcome | Upkeep]:
    return remembered(
        workshop, ("last runs", machine_id), lambda: workshop.mending.last_runs(machine_id, RUNS_THAT_TELL)
    )


def _hours(found: Iterable[object]) -> float:
    return sum(each.minutes for each in found if isinstance(each, Run)) / 60


def _lint(found: Sequence[object]) -> OwnLint | None:
    """Count the troubles with lint over a machine's last runs; ``None`` before it ran."""
    linty = {cause.id for cause in troubles().causes if _LINTY in cause.chances}
    count = sum(isinstance(each, IncidentOutcome) and each.cause in linty for each in found)
    cleanings = sum(isinstance(each, Upkeep) for each in found)
    hours = _hours(found)
    return OwnLint(troubles=count, hours=hours, cleanings=cleanings) if hours else None
