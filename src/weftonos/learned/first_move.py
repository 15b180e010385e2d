"""What to do first about a trouble, from what the file knows of the machine: before anybody is asked anything."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from weftonos.core.mend.circumstance import conditions
from weftonos.core.mend.diagnosis import Diagnosis, Inquiry, NextCheck, Observed, diagnose
from weftonos.core.mend.trouble import Drawing
from weftonos.core.setup.setup import Setup
from weftonos.learned.balance import KnobStands, knob_stands
from weftonos.learned.circumstances import circumstances, recorded_changes
from weftonos.learned.mending import knowledge_of
from weftonos.learned.time_on import TimeOn
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class FirstMove:
    """The check that a symptom leads to at once, and the chance of its cause."""

    check: NextCheck
    chance: float


def first_moves(
    workshop: Workshop, machine_id: int, setup: Setup, on: TimeOn, symptoms: Sequence[str]
) -> Mapping[str, FirstMove]:
    """Return what each symptom would lead to at once, by the symptom; none for what can't be there.

    What changed since it last ran well counts, and what did not: a needle that sewed well was put in right.
    """
    knowledge = knowledge_of(workshop).knowledge.at(workshop.machine(machine_id).spec.features)
    holds, lacks = conditions(circumstances(workshop, machine_id, setup, on))
    for change in recorded_changes(workshop, machine_id, setup, on, None)[1]:
        if change.changed:
            holds |= set(change.findings)
        else:
            lacks |= {change.findings[0]}
    stands = knob_stands(workshop, machine_id, setup)
    found = {}
    for symptom in symptoms:
        if symptom not in knowledge.findings:
            continue
        evidence = Observed.of(knowledge, {symptom, *holds}, lacks)
        told = with_the_knob(diagnose(knowledge, Inquiry(evidence=evidence)), stands)
        if (check := told.next) is not None:
            chance = next((c.probability for c in told.causes if c.cause == check.cause), 0.0)
            found[symptom] = FirstMove(check=check, chance=chance)
    return found


def with_the_knob(found: Diagnosis, stands: KnobStands | None) -> Diagnosis:
    """Return a diagnosis whose next check is the turn that the knob's own place calls for, in numbers."""
    check = found.next
    if check is None or stands is None or stands.advice is None:
        return found
    wants = Drawing.STITCH_TIGHT if stands.by > 0 else Drawing.STITCH_LOOSE
    if check.drawing is not wants:
        return found
    act, text = f"{stands.advice.act} and stitch six inches", stands.advice.text
    return replace(found, next=replace(check, check=act, how=f"{text} Stitch six inches, and look."), text=act)
