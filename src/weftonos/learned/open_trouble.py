"""The trouble that is open on a machine, if any."""

from __future__ import annotations

from weftonos.core.mend.incident import Incident, IncidentState, Step, incident_state
from weftonos.store.workshop import Workshop


def open_incident(workshop: Workshop, machine_id: int) -> tuple[Incident, IncidentState] | None:
    """Return what the trouble of a machine that is not over says, and where it stands."""
    present = workshop.present(machine_id)
    if present.incident is None or not isinstance(incident := present.incident.payload, Incident):
        return None
    state = incident_state(incident, [step.payload for step in present.steps if isinstance(step.payload, Step)])
    return None if state.closed else (incident, state)
