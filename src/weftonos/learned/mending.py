"""What mending has taught: how common causes are and what checks take here; and steps as they are listed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from weftonos.core.mend.own_outcomes import with_own_outcomes
from weftonos.core.mend.own_pace import with_own_pace
from weftonos.core.mend.trouble import Knowledge
from weftonos.knowledge import troubles
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class StepLine:
    """A step of a trouble in one line."""

    id: int
    at: datetime
    kind: str
    text: str


def knowledge_of(workshop: Workshop, own: bool = True) -> tuple[Knowledge, int]:
    """Return the page of troubles, corrected by the workshop's own if wished, and how many those are."""
    solved, timed = workshop.mending.taught()
    return (with_own_pace(with_own_outcomes(troubles(), solved), timed) if own else troubles()), len(solved)
