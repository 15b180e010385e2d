"""What goes into the advice on a machine: whether its records do, how careful a quilt is, what things take here."""

from __future__ import annotations

from weftonos.core.kernel.care import Care
from weftonos.core.log.own_minutes import OwnMinutes, minutes_by
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import IncidentOutcome
from weftonos.core.mend.upkeep import CleaningWorth, OwnLint, Upkeep
from weftonos.knowledge import troubles
from weftonos.learned.answer_cache import remembered
from weftonos.store.workshop import Workshop

#: So many runs tell how often lint makes trouble.
RUNS_FOR_LINT = 150
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
        lint=remembered(workshop, ("lint", machine_id), lambda: _lint(workshop, machine_id))
        if feeds(workshop, machine_id)
        else None,
    )


def _lint(workshop: Workshop, machine_id: int) -> OwnLint | None:
    """Count the troubles with lint over a machine's last runs; ``None`` before it ran."""
    linty = {cause.id for cause in troubles().causes if _LINTY in cause.chances}
    found = workshop.mending.runs_and_lint(machine_id, RUNS_FOR_LINT)
    hours = sum(each.minutes for each in found if isinstance(each, Run)) / 60
    count = sum(each.cause in linty for each in found if isinstance(each, IncidentOutcome))
    cleanings = sum(isinstance(each, Upkeep) for each in found)
    return OwnLint(troubles=count, hours=hours, cleanings=cleanings) if hours else None
