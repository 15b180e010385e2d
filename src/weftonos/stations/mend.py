"""The Mend station: from a trouble to its cause, one check at a time, and how it ended."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum

from weftonos.core.bobbin.gauge import evenness
from weftonos.core.kernel.advice import TECHNICIAN, Caution
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.spoken import pull
from weftonos.core.log.logbook import describe
from weftonos.core.mend.circumstance import Change, conditions
from weftonos.core.mend.cure import Cure, cure_for, path_point
from weftonos.core.mend.diagnosis import CheckAnswer, Diagnosis, Observed, diagnose, refuse_contradictions
from weftonos.core.mend.incident import (
    CLEARED,
    SEEN,
    UNPICTURED,
    Incident,
    IncidentAnswer,
    IncidentCheck,
    IncidentOutcome,
    IncidentState,
    Outcome,
    inquiry_of,
)
from weftonos.core.mend.proof import Proof, still_wrong
from weftonos.core.mend.trouble import Cause, FindingKind, Knowledge, Opens
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.setup import Setup
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.report import Section, report
from weftonos.exchange.strip import Paper
from weftonos.knowledge import troubles
from weftonos.learned.balance import judge_balance, knob_stands
from weftonos.learned.circumstances import LastGood, circumstances, recorded_changes
from weftonos.learned.entries import LogEntry, Noted, lines, log_entry, noted
from weftonos.learned.first_move import with_the_knob
from weftonos.learned.mending import StepLine, knowledge_of, proof_here
from weftonos.learned.open_trouble import looked_at_lately, open_incident
from weftonos.learned.own_records import life_of
from weftonos.learned.time_on import time_on
from weftonos.store.mending import state_of
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop


@dataclass(frozen=True)
class FindingItem:
    """Something that can be picked: a symptom or a change, with what it cannot be together with."""

    id: str
    name: str
    not_with: Sequence[str]


@dataclass(frozen=True, kw_only=True)
class ChangeItem:
    """Something that may have changed; ``recorded`` where the records can tell, with before and after in words."""

    id: str
    name: str
    recorded: bool
    changed: bool
    before: str
    after: str


class MendStage(StrEnum):
    """What the hand does now."""

    START = "start"
    LOOK = "look"
    CURE = "cure"
    TECHNICIAN = "technician"


@dataclass(frozen=True, kw_only=True)
class MendStation:
    """A machine in trouble or not: what can be picked, where the search stands, and what comes next.

    ``path`` is the thread path for the drawing, ``path_point`` the point of it to look at. ``look_again``: several
    checks found nothing, so that what is seen is worth another look. ``lately``: what was checked in the trouble that
    ended a moment ago, and is passed over. ``proof``: whether the cure wants a test line.
    """

    stage: MendStage
    symptoms: Sequence[FindingItem]
    changes: Sequence[ChangeItem]
    last_good: LastGood | None
    incident: LogEntry | None
    seen: Sequence[str]
    known: Sequence[str]
    diagnosis: Diagnosis | None
    cure: Cure | None
    others: Sequence[FindingItem]
    steps: Sequence[StepLine]
    path: Sequence[str]
    path_point: int | None
    own_used: bool
    own_troubles: int
    setting: float | None
    cautions: Sequence[Caution]
    text: str
    look_again: bool = False
    lately: Sequence[str] = ()
    proof: Proof | None = None


def _items(names: Iterable[str], knowledge: Knowledge) -> list[FindingItem]:
    against = knowledge.exclusions
    return [FindingItem(n, knowledge.findings[n].name, sorted(against[n])) for n in names]


def _change_items(
    knowledge: Knowledge, recorded: Sequence[Change], told: Incident | None, names: Iterable[str]
) -> list[ChangeItem]:
    seen = {change.findings[0]: change for change in recorded}
    more = {name for change in recorded for name in change.findings[1:]}
    items = []
    for name in names:
        change, finding = seen.get(name), knowledge.findings[name]
        changed = name in told.changed if told else bool(change and change.changed)
        if name in more or (change is None and finding.by_records and not changed):
            continue
        before, after = (change.before, change.after) if change else ("", "")
        items.append(
            ChangeItem(
                id=name,
                name=finding.name,
                recorded=change is not None,
                changed=changed,
                before=before,
                after=after,
            )
        )
    return items


@dataclass(frozen=True)
class KnownTroubles:
    """What the page of troubles knows: symptoms and signs, changes, and causes, by id and in words."""

    symptoms: Sequence[FindingItem]
    changes: Sequence[FindingItem]
    causes: Sequence[FindingItem]


def known_troubles() -> KnownTroubles:
    """List what can be named in a question about a trouble."""
    knowledge = troubles()
    return KnownTroubles(
        _items(knowledge.of_kind(*SEEN), knowledge),
        _items(knowledge.of_kind(FindingKind.CHANGE), knowledge),
        [FindingItem(c.id, c.name, ()) for c in knowledge.causes],
    )


def mend_station(workshop: Workshop, machine_id: int, *, own: bool = True, thorough: bool = False) -> MendStation:
    """Say where the search for a trouble stands and what to do next; ``own`` lets the own outcomes count."""
    machine, setup = workshop.machine(machine_id).spec, workshop.setup(machine_id)
    present, on = workshop.present(machine_id), time_on(workshop, machine_id, setup)
    known = knowledge_of(workshop, own)
    opened = open_incident(workshop, machine_id)
    # A trouble that was named before the machine was described otherwise is gone after as it was named.
    knowledge = known.knowledge.at(machine.features, keep=(*opened[1].present, *opened[1].answers) if opened else ())
    row = workshop.record(present.incident.id) if opened and present.incident else None
    then = workshop.setup_at(row) if row else setup
    good, recorded = recorded_changes(workshop, machine_id, then, on, row)
    changed = knowledge.of_kind(FindingKind.CHANGE)
    station = MendStation(
        stage=MendStage.START,
        symptoms=_items(knowledge.of_kind(FindingKind.SYMPTOM), knowledge),
        changes=_change_items(knowledge, recorded, opened[0] if opened else None, changed),
        last_good=good,
        incident=None,
        seen=(),
        known=(),
        diagnosis=None,
        cure=None,
        others=[FindingItem(c.id, c.name, ()) for c in knowledge.causes],
        steps=(),
        path=[point.name for point in machine.thread_path],
        path_point=None,
        own_used=own,
        own_troubles=known.solved,
        setting=setup.knob.setting if setup.knob else None,
        cautions=(),
        text="What do you see?",
    )
    if opened is None or row is None:
        return station
    _, state = opened
    holds, lacks = conditions(circumstances(workshop, machine_id, setup, on))
    lately = looked_at_lately(workshop, row)
    inquiry = inquiry_of(knowledge, state, Observed.of(knowledge, holds, lacks), thorough=thorough, lately=lately)
    found = with_the_knob(diagnose(knowledge, inquiry), knob_stands(workshop, machine_id, setup))
    stage, cure, cautions = MendStage.LOOK, None, found.next.cautions if found.next else ()
    text, proof = found.text, None
    if found.found:
        proof = proof_here(workshop, machine_id, still_wrong(knowledge, inquiry.evidence, found.found, known.cures))
        cause = knowledge.cause(found.found)
        balance = _balance_words(workshop, machine_id) if cause.opens is Opens.BALANCE else ""
        stage, cure, cautions = MendStage.CURE, cure_for(cause, setup, machine.thread_path, balance), cause.cautions
    elif state.outcome is Outcome.TECHNICIAN or found.next is None:
        stage, cautions = MendStage.TECHNICIAN, (TECHNICIAN,)
        text = "With the technician." if state.outcome is Outcome.TECHNICIAN else found.text
    named = knowledge.findings
    return replace(
        station,
        stage=stage,
        incident=log_entry(workshop, row),
        seen=[named[n].name for n in sorted(state.present) if n in named and named[n].kind in SEEN] or [UNPICTURED],
        look_again=state.look_again and stage is MendStage.LOOK,
        lately=[c.name for c in knowledge.causes if c.id in lately and c.id not in state.answers],
        known=[named[n].name for n in sorted(inquiry.evidence.present) if named[n].kind is FindingKind.CONDITION],
        diagnosis=found,
        cure=cure,
        proof=proof,
        steps=[
            StepLine(
                id=step.id,
                at=step.at,
                kind=getattr(step.payload, "kind", ""),
                text=describe(step.payload, setup, machine.scale, {}),  # type: ignore[arg-type]
            )
            for step in present.steps
        ],
        path_point=path_point(machine.thread_path, found.next.point) if found.next else None,
        cautions=cautions,
        text=text,
    )


def _balance_words(workshop: Workshop, machine_id: int) -> str:
    """Return where the top most likely balances, in the machine's own terms; empty where nobody knows."""
    judged = judge_balance(workshop, machine_id, Motion.FREE_MOTION)
    if judged.looks:
        return workshop.machine(machine_id).spec.scale.words(judged.estimate.set_to)
    return judged.start.words(workshop.machine(machine_id).spec.scale) if judged.start and judged.start.known else ""


@dataclass(frozen=True, kw_only=True)
class SymptomsSeen:
    """What is seen, and what changed and did not since it last ran well; by id or in the page's words.

    ``none``: it is none of the pictures.
    """

    symptoms: list[str]
    none: bool = False
    changed: list[str] = field(default_factory=list)
    unchanged: list[str] = field(default_factory=list)
    note: str = ""


def _incident(workshop: Workshop, machine_id: int, seen: SymptomsSeen, until: RecordRow | None) -> Incident:
    knowledge = troubles()
    if seen.none and seen.symptoms:
        raise CraftError("It is one of the pictures, or none of them. Choose.", "symptoms")
    if not seen.symptoms and not seen.none:
        raise CraftError("Say what you see: pick at least one symptom.", "symptoms")
    symptoms = [knowledge.finding(name, SEEN, "symptoms") for name in seen.symptoms]
    changed = [knowledge.finding(name, [FindingKind.CHANGE], "changed") for name in seen.changed]
    unchanged = [knowledge.finding(name, [FindingKind.CHANGE], "unchanged") for name in seen.unchanged]
    refuse_contradictions(knowledge, [*symptoms, *changed], unchanged)
    setup = workshop.setup_at(until) if until else workshop.setup(machine_id)
    _, recorded = recorded_changes(workshop, machine_id, setup, time_on(workshop, machine_id, setup), until)
    for change in recorded:
        # The records know more of a change than its name: that the new thread is the heavier one.
        if change.findings[0] in changed:
            changed += change.findings[1:]
    here = knowledge.at(workshop.machine(machine_id).spec.features, keep=symptoms)
    words = ", ".join(here.findings[name].name.lower() for name in dict.fromkeys(symptoms))
    return Incident(
        symptoms=tuple(dict.fromkeys(symptoms)),
        changed=tuple(dict.fromkeys(changed)),
        unchanged=tuple(dict.fromkeys(unchanged)),
        words=words or UNPICTURED.lower(),
        note=seen.note,
    )


def went_wrong(workshop: Workshop, machine_id: int, seen: SymptomsSeen, now: datetime) -> Noted:
    """Open a trouble."""
    workshop.machine(machine_id)
    if open_incident(workshop, machine_id):
        raise CraftError("A trouble of this machine is still open. Finish it or leave it first.", "symptoms")
    return noted(workshop, workshop.note(machine_id, _incident(workshop, machine_id, seen, None), now, now))


def _opened(workshop: Workshop, incident_id: int) -> tuple[RecordRow, IncidentState]:
    row = workshop.record(incident_id)
    if not isinstance(row.payload, Incident) or row.struck_at is not None:
        raise CraftError("That isn't a trouble on record.", "incident")
    state = state_of(row, workshop.mending.steps(row.id))
    if state.closed:
        raise CraftError("That trouble is over. Delete its outcome in the Log to take it up again.", "incident")
    return row, state


def see_anew(workshop: Workshop, incident_id: int, seen: SymptomsSeen, now: datetime) -> Noted:
    """Correct what is seen and what changed; the checks made so far stay."""
    row, _ = _opened(workshop, incident_id)
    incident = _incident(workshop, row.machine_id, seen, row)
    corrected = workshop.correct(row.id, incident, row.at, now)
    so, not_so = {*incident.symptoms, *incident.changed}, {*incident.unchanged}
    for step in workshop.mending.steps(row.id):
        # The later word counts: an answer that it contradicts is taken back, in sight.
        said = step.payload
        if isinstance(said, IncidentAnswer) and said.finding in (not_so if said.present else so):
            workshop.strike(step.id, now)
    return noted(workshop, corrected)


@dataclass(frozen=True, kw_only=True)
class CheckMade:
    """A check and what came of it; ``again`` when it was looked at once more, having found nothing before."""

    cause: str
    answer: CheckAnswer
    again: bool = False


def note_check(workshop: Workshop, incident_id: int, checked: CheckMade, now: datetime) -> Noted:
    """Note what came of a check."""
    row, state = _opened(workshop, incident_id)
    cause = troubles().cause(checked.cause)
    before = state.answers.get(cause.id)
    if before not in (None, CheckAnswer.SKIPPED) and not (checked.again and cause.id not in state.twice):
        raise CraftError("That check is already answered. Go back to answer it again.", "cause")
    step = IncidentCheck(incident=row.id, cause=cause.id, answer=checked.answer, words=cause.name)
    return noted(workshop, workshop.note(row.machine_id, step, now, now))


@dataclass(frozen=True, kw_only=True)
class Answered:
    """A question's finding: so, not so, or null for cannot tell."""

    finding: str
    present: bool | None


def note_answer(workshop: Workshop, incident_id: int, answered: Answered, now: datetime) -> Noted:
    """Note the answer to a question."""
    row, state = _opened(workshop, incident_id)
    knowledge = troubles()
    name = knowledge.finding(answered.finding, (*SEEN, FindingKind.CHANGE), "finding")
    if answered.present:
        refuse_contradictions(knowledge, {*state.present, name} & set(knowledge.findings))
    finding = knowledge.findings[name]
    if isinstance(row.payload, Incident) and name in row.payload.symptoms and not answered.present:
        raise CraftError("You picked that as what you see. Correct what you see instead.", "finding")
    step = IncidentAnswer(incident=row.id, finding=name, present=answered.present, words=finding.ask or finding.name)
    return noted(workshop, workshop.note(row.machine_id, step, now, now))


def go_back(workshop: Workshop, incident_id: int, now: datetime) -> Noted:
    """Take the last step back: it is struck out and stays in the log."""
    row, steps = workshop.record(incident_id), workshop.mending.steps(incident_id)
    if not isinstance(row.payload, Incident) or not steps:
        raise CraftError("There is no step to take back.", "incident")
    return noted(workshop, workshop.strike(steps[-1].id, now))


@dataclass(frozen=True, kw_only=True)
class Ended:
    """How a cure or the whole trouble ended; ``setting`` and ``grade`` are of the test look, if one was stitched.

    Without ``motion`` it was sewn as the last look was. ``tested`` is whether a cure was tested, or just sewn on with;
    ``cleared`` is whether what is left was gone before a cause was found.
    """

    outcome: Outcome
    cause: str = ""
    setting: float | None = None
    grade: int | None = None
    motion: Motion | None = None
    note: str = ""
    tested: bool = True
    cleared: bool = False


def note_outcome(workshop: Workshop, incident_id: int, ended: Ended, now: datetime) -> Noted:
    """Close a trouble as cured or left, go on looking, or hand it to the technician; keeps the test look first."""
    row, state = _opened(workshop, incident_id)
    if ended.cleared and ended.outcome is not Outcome.LEFT:
        raise CraftError("What sews well again by itself wasn't cured: leave it.", "cleared")
    cause: Cause | None = troubles().cause(ended.cause) if ended.cause else None
    if cause is None and ended.outcome in (Outcome.CURED, Outcome.NOT_CURED):
        found = next((name for name, answer in state.answers.items() if answer is CheckAnswer.FOUND), None)
        if found is None:
            raise CraftError("Say which cause it was.", "cause")
        cause = troubles().cause(found)
    if ended.grade is not None:
        if ended.setting is None:
            raise CraftError("Say at what setting the test was sewn, or leave the picture out.", "setting")
        setup = workshop.setup(row.machine_id)
        motion = ended.motion or (setup.look.motion if setup.look else Motion.FREE_MOTION)
        look = StitchedLook(
            setting=ended.setting,
            grade=ended.grade,
            motion=motion,
            sandwich=setup.sandwich or Sandwich(),
            note="Test line",
        )
        workshop.note(row.machine_id, look, now, now)
    step = IncidentOutcome(
        incident=row.id,
        outcome=ended.outcome,
        cause=cause.id if cause else "",
        words=cause.name if cause else "",
        note=CLEARED if ended.cleared else ended.note,
        # Whoever saw that it is still there has tested it, on a scrap or on the quilt.
        tested=ended.tested or ended.grade is not None or ended.outcome is not Outcome.CURED,
    )
    return noted(workshop, workshop.note(row.machine_id, step, now, now))


def report_sheet(workshop: Workshop, incident_id: int, *, zone: str, paper: Paper) -> list[Sheet]:
    """Lay out what was checked, with the numbers a technician asks for."""
    row = workshop.record(incident_id)
    if not isinstance(row.payload, Incident):
        raise CraftError("That isn't a trouble on record.", "incident")
    machine, setup = workshop.machine(row.machine_id).spec, workshop.setup(row.machine_id)
    knowledge, on = troubles(), time_on(workshop, row.machine_id, setup)
    steps = workshop.mending.steps(incident_id)
    said = lines(workshop, steps)
    changed = [knowledge.findings[n].name for n in row.payload.changed if n in knowledge.findings]
    life = life_of(workshop, row.machine_id, setup, on)
    throat = f", throat {figure(machine.throat_in)} in" if machine.throat_in else ""
    numbers = [
        ("Machine", f"{machine.nickname}, {machine.kind.value}{throat}"),
        ("Top", setup.top_in_full or "not on record"),
        ("Bobbin", setup.bobbin.in_full if setup.bobbin else "not on record"),
        ("Bobbin reads", _reading_words(setup)),
        ("Top setting", machine.scale.stands(setup.knob.setting) if setup.knob else "not on record"),
        ("Needle", f"{setup.needle.words}, {figure(life.hours, 1)} h" if setup.needle and life else "not on record"),
        ("Needle system", machine.needle_system or "not on record"),
        ("Under the needle", (setup.sandwich and setup.sandwich.batting) or "not on record"),
    ]
    return report(
        title=f"{machine.nickname}: for the technician",
        date=f"Noted {day_in_words(row.at, zone)}",
        numbers=numbers,
        sections=(
            Section(head="What is seen", lines=[row.payload.words, *([row.payload.note] if row.payload.note else [])]),
            Section(head="Changed since it last ran well", lines=changed or ["nothing"]),
            Section(head="Checked, in this order", lines=[said[step.id] for step in steps] or ["nothing"]),
            Section(head="Upkeep, in stitching hours", lines=[f"{u.name}: {u.text}" for u in on.upkeep]),
        ),
        foot=TECHNICIAN.text,
        paper=paper,
    )


def _reading_words(setup: Setup) -> str:
    if setup.reading is None:
        return "not read"
    even = evenness(setup.reading.calmness, setup.reading.swing)
    swing = f", {even}" if even else ""
    return f"{pull(setup.reading.mean_mn)}{swing}"
