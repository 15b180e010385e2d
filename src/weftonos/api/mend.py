"""The Mend station: from a trouble to its cause, the check before a quilt, and upkeep."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum

from fastapi import APIRouter
from fastapi.responses import Response

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.api.paper import Format, on_paper
from weftonos.core.advice import TECHNICIAN, Caution
from weftonos.core.circumstance import Change, Circumstances, Since, changes, conditions
from weftonos.core.cure import Cure, cure_for, path_point
from weftonos.core.diagnosis import CheckAnswer, Diagnosis, Evidence, diagnose, refuse_contradictions
from weftonos.core.errors import CraftError
from weftonos.core.incident import (
    SEEN,
    Incident,
    IncidentAnswer,
    IncidentCheck,
    IncidentOutcome,
    IncidentState,
    Outcome,
    Preflight,
    inquiry_of,
)
from weftonos.core.logbook import StitchedLook, describe
from weftonos.core.needle_life import Due
from weftonos.core.own_outcomes import OwnCount, own_counts, with_own_outcomes
from weftonos.core.poisson import BreakRate, break_rate
from weftonos.core.preflight import PreflightList, preflight
from weftonos.core.sandwich import Motion, Sandwich
from weftonos.core.school import LifeSchool
from weftonos.core.setup import Setup
from weftonos.core.trouble import Cause, FindingKind, Knowledge
from weftonos.core.upkeep import Upkeep, UpkeepKind, UpkeepState
from weftonos.exchange.report import technician_report
from weftonos.knowledge import troubles
from weftonos.store.mending import state_of
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop

router = APIRouter(prefix="/api", tags=["mend"])


@dataclass(frozen=True)
class FindingItem:
    """Something that can be picked: a symptom or a change, with what it cannot be together with."""

    id: str
    name: str
    not_with: Sequence[str]


@dataclass(frozen=True)
class ChangeItem:
    """Something that may have changed; ``recorded`` where the records can tell, with before and after in words."""

    id: str
    name: str
    recorded: bool
    changed: bool
    before: str
    after: str


@dataclass(frozen=True)
class LastGood:
    """When it last ran well, how that reads, and the stitching hours since."""

    at: datetime
    text: str
    hours: float


@dataclass(frozen=True)
class Step:
    """A step of a trouble in one line."""

    id: int
    at: datetime
    kind: str
    text: str


def _steps(rows: Iterable[RecordRow]) -> list[Step]:
    return [Step(r.id, r.at, r.kind, describe(r.payload, r.setup, r.machine.spec.scale)) for r in rows]


class Stage(StrEnum):
    """What the hand does now."""

    START = "start"
    LOOK = "look"
    CURE = "cure"
    TECHNICIAN = "technician"


@dataclass(frozen=True)
class MendStation:
    """A machine in trouble or not: what can be picked, where the search stands, and what comes next.

    ``path`` is the thread path for the drawing, ``path_point`` the point of it to look at.
    """

    stage: Stage
    symptoms: Sequence[FindingItem]
    changes: Sequence[ChangeItem]
    last_good: LastGood | None
    incident: LogEntry | None
    seen: Sequence[str]
    known: Sequence[str]
    diagnosis: Diagnosis | None
    cure: Cure | None
    others: Sequence[FindingItem]
    steps: Sequence[Step]
    path: Sequence[str]
    path_point: int | None
    own_used: bool
    own_troubles: int
    setting: float | None
    cautions: Sequence[Caution]
    text: str


def circumstances(workshop: Workshop, machine_id: int, setup: Setup) -> Circumstances:
    """Return what the records know about a machine as it stands."""
    machine = workshop.machine(machine_id).spec
    life = workshop.needle_life(machine_id, setup)
    due = life.due in (Due.DUE, Due.OVERDUE) if life and machine.life_school is not LifeSchool.CONDITION else None
    since = {state.what: state.hours for state in workshop.mending.upkeep(machine_id, setup)}
    return Circumstances(
        machine.kind,
        tuple(t.thread for t in setup.top),
        setup.bobbin_thread,
        setup.needle.size if setup.needle else None,
        setup.needle.point if setup.needle else None,
        life.hours if life else None,
        due,
        setup.reading.mean_mn if setup.reading else None,
        setup.reading.swing if setup.reading else None,
        workshop.bobbin_target(machine_id, setup.case.id if setup.case else None),
        setup.sandwich,
        setup.look.grade if setup.look else None,
        since[UpkeepKind.CLEANING],
        since[UpkeepKind.OILING],
    )


def recorded_changes(
    workshop: Workshop, machine_id: int, setup: Setup, until: RecordRow | None
) -> tuple[LastGood | None, Sequence[Change]]:
    """Return when a machine last ran well before a record (or now), and what the records say changed since."""
    mending = workshop.mending
    good = mending.last_good(machine_id, until)
    if good is None:
        return None, ()
    scale = workshop.machine(machine_id).spec.scale
    before, now = mending.setting(machine_id, good), mending.setting(machine_id, until)
    case = setup.case.id if setup.case else None
    since = Since(
        mending.upkeep_since(machine_id, good.at, until.at if until else None),
        case is not None and workshop.screw_turned_since(case, good.at),
        scale.words(before) if before is not None else "",
        scale.words(now) if now is not None else "",
        mending.quilt(machine_id, good),
        mending.quilt(machine_id, until),
    )
    text = describe(good.payload, good.setup, scale)
    hours = mending.hours_since(machine_id, good.at)
    return LastGood(good.at, text, hours), changes(good.setup, setup, since)


def _items(names: Iterable[str], knowledge: Knowledge) -> list[FindingItem]:
    findings = knowledge.findings
    # What excludes another is excluded by it.
    against = {n: {*findings[n].not_with, *(m for m, f in findings.items() if n in f.not_with)} for n in names}
    return [FindingItem(n, findings[n].name, sorted(others)) for n, others in against.items()]


def _change_items(
    knowledge: Knowledge, recorded: Sequence[Change], row: RecordRow | None, names: Iterable[str]
) -> list[ChangeItem]:
    seen = {change.findings[0]: change for change in recorded}
    told = row.payload if row and isinstance(row.payload, Incident) else None
    more = {name for change in recorded for name in change.findings[1:]}
    items = []
    for name in names:
        change = seen.get(name)
        changed = bool(change and change.changed)
        if told is not None:
            changed = name in told.changed
        if name in more or (change is None and name in _SAID_BY_ANOTHER and not changed):
            continue
        before, after = (change.before, change.after) if change else ("", "")
        items.append(ChangeItem(name, knowledge.findings[name].name, change is not None, changed, before, after))
    return items


#: Worked out from the threads and needles on record rather than asked.
_SAID_BY_ANOTHER = ("heavier_thread", "finer_thread", "larger_needle", "smaller_needle", "fibre_change")


def _knowledge(workshop: Workshop, own: bool) -> tuple[Knowledge, int]:
    solved = workshop.mending.solved()
    return (with_own_outcomes(troubles(), solved) if own else troubles()), len(solved)


@dataclass(frozen=True)
class KnownTroubles:
    """What the page of troubles knows: symptoms and signs, changes, and causes, by id and in words."""

    symptoms: Sequence[FindingItem]
    changes: Sequence[FindingItem]
    causes: Sequence[FindingItem]


@router.get("/mend/knowledge")
def known_troubles() -> KnownTroubles:
    """List what can be named in a question about a trouble."""
    knowledge = troubles()
    return KnownTroubles(
        _items(knowledge.of_kind(*SEEN), knowledge),
        _items(knowledge.of_kind(FindingKind.CHANGE), knowledge),
        [FindingItem(c.id, c.name, ()) for c in knowledge.causes],
    )


@router.get("/machines/{machine_id}/mend")
def mend_station(machine_id: Id, workshop: WorkshopNow, own: bool = True, thorough: bool = False) -> MendStation:
    """Say where the search for a trouble stands and what to do next; ``own`` lets the own outcomes count."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    knowledge, solved = _knowledge(workshop, own)
    opened = workshop.mending.open_incident(machine_id)
    row = opened.row if opened else None
    good, recorded = recorded_changes(workshop, machine_id, row.setup if row else setup, row)
    changed = knowledge.of_kind(FindingKind.CHANGE, machine=machine.kind)
    station = MendStation(
        Stage.START,
        _items(knowledge.of_kind(FindingKind.SYMPTOM, machine=machine.kind), knowledge),
        _change_items(knowledge, recorded, row, changed),
        good,
        None,
        (),
        (),
        None,
        None,
        [FindingItem(c.id, c.name, ()) for c in knowledge.causes if machine.kind in c.machines],
        (),
        [point.name for point in machine.thread_path],
        None,
        own,
        solved,
        workshop.mending.setting(machine_id, None),
        (),
        "What do you see?",
    )
    if opened is None:
        return station
    row, state = opened.row, opened.state
    holds, lacks = conditions(circumstances(workshop, machine_id, setup))
    inquiry = inquiry_of(knowledge, state, machine.kind, Evidence.of(knowledge, holds, lacks), thorough=thorough)
    found = diagnose(knowledge, inquiry)
    stage, cure, cautions = Stage.LOOK, None, found.next.cautions if found.next else ()
    point = path_point(machine.thread_path, found.next.point) if found.next else None
    text = found.text
    if found.found:
        cause = knowledge.cause(found.found)
        stage, cure, cautions = Stage.CURE, cure_for(cause, setup, machine.thread_path), cause.cautions
    elif state.outcome is Outcome.TECHNICIAN or found.next is None:
        stage, cautions = Stage.TECHNICIAN, (TECHNICIAN,)
        text = "With the technician." if state.outcome is Outcome.TECHNICIAN else found.text
    named = knowledge.findings
    return replace(
        station,
        stage=stage,
        incident=log_entry(row),
        seen=[named[n].name for n in sorted(state.present) if n in named and named[n].kind in SEEN],
        known=[named[n].name for n in sorted(inquiry.evidence.present) if named[n].kind is FindingKind.CONDITION],
        diagnosis=found,
        cure=cure,
        steps=_steps(opened.steps),
        path_point=point,
        cautions=cautions,
        text=text,
    )


@dataclass(frozen=True)
class Seen:
    """What is seen, and what changed and did not since it last ran well; by id or in the page's words."""

    symptoms: list[str]
    changed: list[str] = field(default_factory=list)
    unchanged: list[str] = field(default_factory=list)
    note: str = ""


def _incident(workshop: Workshop, machine_id: int, seen: Seen, until: RecordRow | None) -> Incident:
    knowledge = troubles()
    if not seen.symptoms:
        raise CraftError("Say what you see: pick at least one symptom.", "symptoms")
    symptoms = [knowledge.finding(name, SEEN, "symptoms") for name in seen.symptoms]
    changed = [knowledge.finding(name, [FindingKind.CHANGE], "changed") for name in seen.changed]
    unchanged = [knowledge.finding(name, [FindingKind.CHANGE], "unchanged") for name in seen.unchanged]
    refuse_contradictions(knowledge, [*symptoms, *changed], unchanged)
    setup = until.setup if until else workshop.setup(machine_id)
    _, recorded = recorded_changes(workshop, machine_id, setup, until)
    for change in recorded:
        # The records know more of a change than its name: that the new thread is the heavier one.
        if change.findings[0] in changed:
            changed += change.findings[1:]
    words = ", ".join(knowledge.findings[name].name.lower() for name in dict.fromkeys(symptoms))
    return Incident(
        tuple(dict.fromkeys(symptoms)),
        tuple(dict.fromkeys(changed)),
        tuple(dict.fromkeys(unchanged)),
        words,
        seen.note,
    )


@router.post("/machines/{machine_id}/incidents", status_code=201)
def went_wrong(machine_id: Id, seen: Seen, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Open a trouble."""
    opened = workshop.mending.open_incident(machine_id)
    if opened:
        raise CraftError("A trouble of this machine is still open. Finish it or leave it first.", "symptoms")
    return log_entry(workshop.note(machine_id, _incident(workshop, machine_id, seen, None), now, now))


def _opened(workshop: Workshop, incident_id: int) -> tuple[RecordRow, IncidentState]:
    row = workshop.record(incident_id)
    if not isinstance(row.payload, Incident) or row.struck_at is not None:
        raise CraftError("That is no trouble on record.", "incident")
    state = workshop.mending.state(row)
    if state.closed:
        raise CraftError("That trouble is over. Strike its outcome out in the log to take it up again.", "incident")
    return row, state


@router.put("/incidents/{incident_id}")
def see_anew(incident_id: Id, seen: Seen, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Correct what is seen and what changed; the checks made so far stay."""
    row, _ = _opened(workshop, incident_id)
    return log_entry(workshop.correct(row.id, _incident(workshop, row.machine_id, seen, row), row.at, now))


@dataclass(frozen=True)
class Checked:
    """A check and what came of it."""

    cause: str
    answer: CheckAnswer


@router.post("/incidents/{incident_id}/checks", status_code=201)
def note_check(incident_id: Id, checked: Checked, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Note what came of a check."""
    row, state = _opened(workshop, incident_id)
    cause = troubles().cause(checked.cause)
    before = state.answers.get(cause.id)
    if before not in (None, CheckAnswer.SKIPPED):
        raise CraftError("That check is answered already. Go back to answer it anew.", "cause")
    step = IncidentCheck(row.id, cause.id, checked.answer, cause.name)
    return log_entry(workshop.note(row.machine_id, step, now, now))


@dataclass(frozen=True)
class Answered:
    """A question's finding: so, not so, or null for cannot tell."""

    finding: str
    present: bool | None


@router.post("/incidents/{incident_id}/answers", status_code=201)
def note_answer(incident_id: Id, answered: Answered, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Note the answer to a question."""
    row, state = _opened(workshop, incident_id)
    knowledge = troubles()
    name = knowledge.finding(answered.finding, (*SEEN, FindingKind.CHANGE), "finding")
    if answered.present:
        refuse_contradictions(knowledge, {*state.present, name} & set(knowledge.findings))
    finding = knowledge.findings[name]
    step = IncidentAnswer(row.id, name, answered.present, finding.ask or finding.name)
    return log_entry(workshop.note(row.machine_id, step, now, now))


@router.post("/incidents/{incident_id}/back")
def go_back(incident_id: Id, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Take the last step back: it is struck out and stays in the log."""
    row = workshop.record(incident_id)
    steps = workshop.mending.steps(incident_id)
    if not isinstance(row.payload, Incident) or not steps:
        raise CraftError("There is no step to take back.", "incident")
    return log_entry(workshop.strike(steps[-1].id, now))


@dataclass(frozen=True)
class Ended:
    """How a cure or the whole trouble ended; ``setting`` and ``grade`` are of the test look, if one was stitched.

    Without ``motion`` it was sewn as the last look was.
    """

    outcome: Outcome
    cause: str = ""
    setting: float | None = None
    grade: int | None = None
    motion: Motion | None = None
    note: str = ""


@router.post("/incidents/{incident_id}/outcome", status_code=201)
def note_outcome(incident_id: Id, ended: Ended, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Close a trouble as cured or left, go on looking, or hand it to the technician; keeps the test look first."""
    row, state = _opened(workshop, incident_id)
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
        look = StitchedLook(ended.setting, ended.grade, motion, setup.sandwich or Sandwich(), "Test look")
        workshop.note(row.machine_id, look, now, now)
    step = IncidentOutcome(row.id, ended.outcome, cause.id if cause else "", cause.name if cause else "", ended.note)
    return log_entry(workshop.note(row.machine_id, step, now, now))


@router.get("/incidents/{incident_id}/report.{form}", response_class=Response)
def report(incident_id: Id, form: Format, workshop: WorkshopNow) -> Response:
    """Print what was checked, with the numbers a technician asks for."""
    row = workshop.record(incident_id)
    if not isinstance(row.payload, Incident):
        raise CraftError("That is no trouble on record.", "incident")
    machine, setup = row.machine.spec, workshop.setup(row.machine_id)
    scale, knowledge = machine.scale, troubles()
    steps = [step.text for step in _steps(workshop.mending.steps(incident_id))]
    life = workshop.needle_life(row.machine_id, setup)
    setting = workshop.mending.setting(row.machine_id, None)
    reading = setup.reading
    numbers = [
        ("Machine", f"{machine.nickname}, {machine.kind.value}, throat {machine.throat_in or '–'} in"),
        ("Top", " + ".join(f"{t.name} ({t.words})" for t in setup.top) or "not on record"),
        ("Bobbin", f"{setup.bobbin.name} ({setup.bobbin.words})" if setup.bobbin else "not on record"),
        ("Bobbin reads", _reading_words(reading.mean_mn, reading.swing) if reading else "not read"),
        ("Top setting", scale.words(setting) if setting is not None else "not on record"),
        ("Needle", f"{setup.needle.words}, {life.hours:.1f} h" if setup.needle and life else "not on record"),
        ("Needle system", machine.needle_system or "not on record"),
        ("Under the needle", (setup.sandwich and setup.sandwich.batting) or "not on record"),
    ]
    upkeep = [f"{u.name}: {u.text}" for u in workshop.mending.upkeep(row.machine_id, setup)]
    changed = [knowledge.findings[n].name for n in row.payload.changed if n in knowledge.findings]
    sections = (
        ("What is seen", [row.payload.words, *([row.payload.note] if row.payload.note else [])]),
        ("Changed since it last ran well", changed),
        ("Checked, in this order", steps),
        ("Upkeep, in stitching hours", upkeep),
    )
    title = f"{machine.nickname}: for the technician"
    return on_paper(technician_report(title, f"Noted {row.at:%-d %B %Y}", numbers, sections, TECHNICIAN.text), form)


def _reading_words(mean_mn: float, swing: float | None) -> str:
    return f"{mean_mn:.0f} mN" + (f", swing {swing:.0%}" if swing is not None else "")


@dataclass(frozen=True)
class PastTrouble:
    """A trouble that is over or open: how it began, its path, how it ended."""

    id: int
    at: datetime
    words: str
    steps: Sequence[Step]
    outcome: Outcome | None
    cause: str


@dataclass(frozen=True)
class Troubles:
    """A machine's past troubles, what the workshop's own outcomes change, and how often this combination breaks."""

    past: Sequence[PastTrouble]
    own: Sequence[OwnCount]
    solved: int
    rate: BreakRate


@router.get("/machines/{machine_id}/troubles")
def past_troubles(machine_id: Id, workshop: WorkshopNow) -> Troubles:
    """List past troubles with their paths, and what they have taught."""
    knowledge, past = troubles(), []
    rows = workshop.mending.incidents(machine_id, 20)
    paths = workshop.mending.paths(row.id for row in rows)
    for row in rows:
        state = state_of(row, paths[row.id])
        name = knowledge.cause(state.cause).name if state.cause in knowledge.index else state.cause
        words = row.payload.words if isinstance(row.payload, Incident) else ""
        past.append(PastTrouble(row.id, row.at, words, _steps(paths[row.id]), state.outcome, name))
    solved = workshop.mending.solved()
    breaks = [name for name, finding in knowledge.findings.items() if finding.breaks]
    rate = break_rate(*workshop.mending.breaks(machine_id, workshop.setup(machine_id), breaks))
    return Troubles(past, own_counts(knowledge, solved), len(solved), rate)


@router.get("/machines/{machine_id}/preflight")
def preflight_list(machine_id: Id, workshop: WorkshopNow) -> PreflightList:
    """Return the short list before a new quilt, made for what is on the machine."""
    machine, setup = workshop.machine(machine_id).spec, workshop.setup(machine_id)
    knowledge, _ = _knowledge(workshop, True)
    holds, lacks = conditions(circumstances(workshop, machine_id, setup))
    _, recorded = recorded_changes(workshop, machine_id, setup, None)
    changed = {name for change in recorded if change.changed for name in change.findings}
    return preflight(knowledge, Evidence.of(knowledge, holds | changed, lacks), machine.kind)


@dataclass(frozen=True)
class Flown:
    """The checks of the list that were made."""

    done: list[str]


@router.post("/machines/{machine_id}/preflight", status_code=201)
def note_preflight(machine_id: Id, flown: Flown, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Note that the list was gone through."""
    listed = [item.cause for item in preflight_list(machine_id, workshop).items]
    done = tuple(dict.fromkeys(troubles().cause(name, "done").id for name in flown.done))
    if not done:
        raise CraftError("No check is ticked yet.", "done")
    return log_entry(workshop.note(machine_id, Preflight(done, max(len(listed), len(done))), now, now))


@router.get("/machines/{machine_id}/upkeep")
def upkeep(machine_id: Id, workshop: WorkshopNow) -> list[UpkeepState]:
    """Say how upkeep stands, in stitching hours."""
    return list(workshop.mending.upkeep(machine_id, workshop.setup(machine_id)))


@dataclass(frozen=True)
class Kept:
    """What was done, and when if not now."""

    what: UpkeepKind
    note: str = ""
    at: datetime | None = None


@router.post("/machines/{machine_id}/upkeep", status_code=201)
def note_upkeep(machine_id: Id, kept: Kept, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Note upkeep."""
    return log_entry(workshop.note(machine_id, Upkeep(kept.what, kept.note), kept.at or now, now))
