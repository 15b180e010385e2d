"""A break that was noted while stitching: one record of trouble that ended at once, so that it is counted once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.kernel.errors import CraftError
from weftonos.core.mend.incident import SEWN_ON, IncidentOutcome, Outcome, break_noted
from weftonos.knowledge import troubles
from weftonos.learned.open_trouble import open_incident
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class BreakNoted:
    """The records of a break, to be taken back together, and what was noted."""

    records: Sequence[int]
    text: str


def note_break(workshop: Workshop, machine_id: int, symptom: str, now: datetime) -> BreakNoted:
    """Note that thread broke and one went on. It is one trouble that ended at once, so that it is counted once."""
    workshop.machine(machine_id)
    if open_incident(workshop, machine_id):
        raise CraftError("A trouble of this machine is open at Mend: the break is counted there already.", "symptom")
    broke = break_noted(symptom, troubles())
    row = workshop.note(machine_id, broke, now, now)
    end = workshop.note(machine_id, IncidentOutcome(incident=row.id, outcome=Outcome.LEFT, note=SEWN_ON), now, now)
    return BreakNoted(records=(row.id, end.id), text=f"{broke.words}, and sewn on.")
