"""What mending has taught: how common causes are and what checks take here; and steps as they are listed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import NamedTuple

from weftonos.core.mend.own_outcomes import with_own_outcomes
from weftonos.core.mend.own_pace import with_own_pace
from weftonos.core.mend.proof import CuresTried, Proof, proof_of_a_cure
from weftonos.core.mend.trouble import Knowledge
from weftonos.knowledge import troubles
from weftonos.learned.at_stake import care_of, minutes_here
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class StepLine:
    """A step of a trouble in one line."""

    id: int
    at: datetime
    kind: str
    text: str


class KnownHere(NamedTuple):
    """The page of troubles as it stands here, how many of the workshop's own it rests on, and how many cures held."""

    knowledge: Knowledge
    solved: int
    cures: CuresTried


def knowledge_of(workshop: Workshop, own: bool = True) -> KnownHere:
    """Return the page of troubles, corrected by the workshop's own if wished."""
    taught = workshop.mending.taught()
    if not own:
        return KnownHere(troubles(), len(taught.solved), CuresTried())
    corrected = with_own_pace(with_own_outcomes(troubles(), taught.solved), taught.timed)
    return KnownHere(corrected, len(taught.solved), taught.cures)


def proof_here(workshop: Workshop, machine_id: int, chance: float) -> Proof:
    """Say whether a cure wants a test line on a machine; where one is always wanted it isn't left out."""
    if workshop.machine(machine_id).spec.schools.takes("test") == "always":
        return Proof(still_wrong=chance, pays=True, says="")
    care = care_of(workshop, workshop.setup(machine_id).quilt)
    return proof_of_a_cure(chance, care, minutes_here(workshop, machine_id).line)
