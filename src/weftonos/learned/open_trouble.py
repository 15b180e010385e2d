"""The trouble that is open on a machine, if any."""

from __future__ import annotations

from datetime import timedelta

from weftonos.core.mend.incident import LATELY, Incident, IncidentState, Step, incident_state, ruled_out_lately
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop


def open_incident(workshop: Workshop, machine_id: int) -> tuple[Incident, IncidentState] | None:
    """Return what the trouble of a machine that is not over says, and where it stands."""
    present = workshop.present(machine_id)
    if present.incident is None or not isinstance(incident := present.incident.payload, Incident):
        return None
    state = incident_state(incident, [step.payload for step in present.steps if isinstance(step.payload, Step)])
    return None if state.closed else (incident, state)


def looked_at_lately(workshop: Workshop, opened: RecordRow) -> frozenset[str]:
    """Return the causes that were ruled out or mended in the trouble that ended a moment before this one."""
    rows = workshop.mending.ended_before(opened, timedelta(minutes=LATELY.value))
    before = next((row.payload for row in rows if isinstance(row.payload, Incident)), None)
    steps = [row.payload for row in rows if isinstance(row.payload, Step)]
    return ruled_out_lately(before, steps) if before else frozenset()
