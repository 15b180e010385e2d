"""A trouble at the machine, from the first look to the cure: the records it leaves, and where they lead."""

from __future__ import annotations

from collections.abc import Iterable, Sequence, Set
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Literal

from weftonos.core.kernel.errors import LONGEST_NOTE, CraftError, in_words, require_text
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.diagnosis import CheckAnswer, Inquiry, Observed
from weftonos.core.mend.trouble import FindingKind, Knowledge

MOST_FINDINGS = 100
#: After so many checks that found nothing the pictures are asked about again: a symptom is often misnamed.
LOOK_AGAIN_AFTER = estimate(3, "checks")
#: What is said of a trouble that looks like none of the pictures.
UNPICTURED = "None of these pictures"
#: What is answered by hand about a trouble: seen, or asked.
SEEN = (FindingKind.SYMPTOM, FindingKind.SIGN)


def _short(names: Sequence[str], what: str, field: str) -> None:
    if len(names) > MOST_FINDINGS:
        raise CraftError(f"{what} may be {MOST_FINDINGS} at most.", field)
    for name in names:
        require_text(name, 120, what, field)


@dataclass(frozen=True, kw_only=True)
class Incident:
    """It went wrong: what is seen, and what changed and did not since it last ran well, by the ids of the findings.

    ``words`` is what is seen in words, as the page of troubles had it then. Without symptoms it is none of the
    pictures.
    """

    symptoms: tuple[str, ...]
    changed: tuple[str, ...] = ()
    unchanged: tuple[str, ...] = ()
    words: str = ""
    note: str = ""
    kind: Literal["incident"] = "incident"

    def __post_init__(self) -> None:
        _short(self.symptoms, "What you see", "symptoms")
        _short(self.changed, "What changed", "changed")
        _short(self.unchanged, "What did not change", "unchanged")
        require_text(self.words, LONGEST_NOTE, "What you see", "words", empty=True)
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


@dataclass(frozen=True, kw_only=True)
class IncidentCheck:
    """A check was made; ``words`` names the cause as the page of troubles had it then."""

    incident: int
    cause: str
    answer: CheckAnswer
    words: str = ""
    kind: Literal["incident_check"] = "incident_check"

    def __post_init__(self) -> None:
        require_text(self.cause, 120, "The cause", "cause")
        require_text(self.words, 240, "The cause", "words", empty=True)


@dataclass(frozen=True, kw_only=True)
class IncidentAnswer:
    """A question was answered: so, not so, or (``None``) cannot tell."""

    incident: int
    finding: str
    present: bool | None
    words: str = ""
    kind: Literal["incident_answer"] = "incident_answer"

    def __post_init__(self) -> None:
        require_text(self.finding, 120, "What was asked", "finding")
        require_text(self.words, 240, "What was asked", "words", empty=True)


class Outcome(StrEnum):
    """How a cure or a whole trouble ended. ``NOT_CURED`` goes on looking, ``TECHNICIAN`` waits."""

    CURED = "cured"
    NOT_CURED = "not_cured"
    TECHNICIAN = "technician"
    LEFT = "left"


@dataclass(frozen=True, kw_only=True)
class IncidentOutcome:
    """A cure was tried and tested, or the trouble was handed on or left.

    ``tested``: a test line said so; otherwise the cure was made and one sewed on.
    """

    incident: int
    outcome: Outcome
    cause: str = ""
    words: str = ""
    note: str = ""
    tested: bool = True
    kind: Literal["incident_outcome"] = "incident_outcome"

    def __post_init__(self) -> None:
        require_text(self.cause, 120, "The cause", "cause", empty=True)
        require_text(self.words, 240, "The cause", "words", empty=True)
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


@dataclass(frozen=True)
class Preflight:
    """The short list before a new quilt was gone through: which of its checks were made, and which were passed over.

    ``of`` is how many there were; ``skipped`` names none where nobody said what was on the list.
    """

    done: tuple[str, ...]
    of: int
    skipped: tuple[str, ...] = ()
    kind: Literal["preflight"] = "preflight"

    def __post_init__(self) -> None:
        _short(self.done, "The checks", "done")
        _short(self.skipped, "The checks that were skipped", "skipped")
        if not len(self.done) <= self.of <= MOST_FINDINGS:
            raise CraftError("More checks are ticked than the list has.", "done")


Step = IncidentCheck | IncidentAnswer | IncidentOutcome


@dataclass(frozen=True, kw_only=True)
class IncidentState:
    """Where a trouble stands: what is found, what came of each check, and how it ended if it did.

    ``twice`` names the checks that need no second look: they found nothing two times, or their cure cured nothing.
    ``tested``: a test line followed its cure. ``cleared``: it was gone before a cause was found. ``unpictured``: it was
    opened as none of the pictures. ``look_again``: so many checks found nothing since the pictures were seen, or a cure
    cured nothing, that they are worth another look.
    """

    present: frozenset[str]
    absent: frozenset[str]
    asked: frozenset[str]
    answers: dict[str, CheckAnswer] = field(default_factory=dict)
    twice: frozenset[str] = frozenset()
    outcome: Outcome | None = None
    cause: str = ""
    tested: bool = True
    cleared: bool = False
    unpictured: bool = False
    look_again: bool = False

    @property
    def closed(self) -> bool:
        """Whether it is over."""
        return self.outcome in (Outcome.CURED, Outcome.LEFT)


def incident_state(incident: Incident, steps: Iterable[Step]) -> IncidentState:
    """Return where a trouble stands after its steps, oldest first; a later word takes the place of an earlier one.

    What the trouble itself says is seen was said last: nobody is asked about that, so an answer to it was given before
    what is seen was corrected.
    """
    present = {*incident.symptoms, *incident.changed}
    absent = set(incident.unchanged)
    asked = set[str]()
    answers: dict[str, CheckAnswer] = {}
    twice = set[str]()
    outcome: Outcome | None = None
    cause, tested, cleared = "", True, False
    in_vain, ask_after = 0, int(LOOK_AGAIN_AFTER.value)
    for step in steps:
        # Whatever is not a check in vain begins a new count after the one that asked. Who saw the same again is left
        # alone for twice as long.
        if in_vain == ask_after:
            in_vain, ask_after = 0, 2 * ask_after
        match step:
            case IncidentCheck():
                in_vain += step.answer is CheckAnswer.NOT_IT
                if step.answer is answers.get(step.cause) is CheckAnswer.NOT_IT:
                    twice.add(step.cause)
                answers[step.cause] = step.answer
                if outcome is Outcome.TECHNICIAN:
                    outcome = None
            case IncidentAnswer():
                asked.add(step.finding)
                if step.finding in incident.symptoms:
                    continue
                present.discard(step.finding)
                absent.discard(step.finding)
                if step.present is not None:
                    (present if step.present else absent).add(step.finding)
            case IncidentOutcome():
                outcome, cause, tested = step.outcome, step.cause, step.tested
                cleared = outcome is Outcome.LEFT and step.note == CLEARED
                if outcome is Outcome.NOT_CURED:
                    # Found and cured in vain: nothing that a second look would tell.
                    answers[step.cause] = CheckAnswer.NOT_IT
                    twice.add(step.cause)
                    outcome, cause = None, ""
                    # What is seen after a cure may be something else.
                    in_vain = ask_after
    return IncidentState(
        present=frozenset(present),
        absent=frozenset(absent),
        asked=frozenset(asked),
        answers=answers,
        twice=frozenset(twice),
        outcome=outcome,
        cause=cause,
        tested=tested,
        cleared=cleared,
        unpictured=not incident.symptoms,
        look_again=in_vain == ask_after,
    )


def inquiry_of(
    knowledge: Knowledge,
    state: IncidentState,
    conditions: Observed,
    *,
    thorough: bool = False,
    lately: Set[str] = frozenset(),
) -> Inquiry:
    """Return the search a trouble stands for. What the page of troubles no longer knows is left out.

    ``lately``: causes that were ruled out or mended in the trouble before, a moment ago. Nobody is sent there anew.
    """
    evidence = Observed.of(knowledge, state.present | conditions.present, state.absent | conditions.absent)
    told = {**dict.fromkeys(sorted(lately), CheckAnswer.NOT_IT), **state.answers}
    answers = {name: answer for name, answer in told.items() if name in knowledge.index}
    again = {name for name in lately if state.answers.get(name) is CheckAnswer.NOT_IT}
    return Inquiry(
        evidence=evidence,
        answers=answers,
        asked=state.asked,
        twice=state.twice | again,
        thorough=thorough,
        unpictured=state.unpictured,
    )


#: A trouble that begins so soon after one ended is looked into where that one was left.
LATELY = estimate(30, "min")


def came_back(trouble: Incident, ended: datetime, others: Iterable[tuple[datetime, Incident]]) -> bool:
    """Say whether what was seen of a trouble was seen again soon after it had ended, so that its cure didn't hold.

    ``others`` are the machine's troubles, each with when it began.
    """
    soon = timedelta(minutes=LATELY.value)
    return any(
        ended < at <= ended + soon and set(trouble.symptoms).intersection(other.symptoms) for at, other in others
    )


def ruled_out_lately(before: Incident, steps: Iterable[Step]) -> frozenset[str]:
    """Return the causes that a trouble which ended a moment ago has ruled out, and the one that was mended."""
    state = incident_state(before, steps)
    if not state.closed:
        return frozenset()
    mended = {state.cause} - {""} if state.outcome is Outcome.CURED else set[str]()
    return frozenset(mended.union(name for name, answer in state.answers.items() if answer is CheckAnswer.NOT_IT))


#: What is noted of a break after which one rethreaded and went on, and of a trouble that is gone without a cause.
SEWN_ON, CLEARED = "Rethreaded, sewn on", "It sews well again, no cause found"


def break_noted(symptom: str, knowledge: Knowledge) -> Incident:
    """Return the record of a break after which one went on; raises :class:`CraftError` for what is no break."""
    if symptom not in knowledge.breaking:
        names = in_words([knowledge.findings[name].name for name in sorted(knowledge.breaking)])
        raise CraftError(f"That isn't a break. It's one of: {names}.", "symptom")
    return Incident(symptoms=(symptom,), words=knowledge.findings[symptom].name, note=SEWN_ON)
