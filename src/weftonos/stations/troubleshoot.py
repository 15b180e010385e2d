"""A trouble as a question without records: what is seen and checked, and what comes next."""

from __future__ import annotations

from dataclasses import dataclass, field

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.mend.circumstance import Circumstances, conditions
from weftonos.core.mend.diagnosis import CheckAnswer, Diagnosis, Inquiry, Observed, diagnose, refuse_contradictions
from weftonos.core.mend.incident import SEEN
from weftonos.core.mend.trouble import FindingKind
from weftonos.knowledge import troubles


@dataclass(frozen=True)
class CheckedCause:
    """A check that was made: found, not it (false), or null for cannot tell."""

    cause: str
    found: bool | None


@dataclass(frozen=True, kw_only=True)
class TroubleQuestion:
    """What is seen and what changed, by id or in words; ``absent`` and ``unchanged`` are known not to be so.

    ``GET /api/mend/knowledge`` lists what can be named. ``thorough`` goes on with the unlikely rest.
    """

    symptoms: list[str]
    changed: list[str] = field(default_factory=list)
    setup: Circumstances | None = None
    checked: list[CheckedCause] = field(default_factory=list)
    absent: list[str] = field(default_factory=list)
    unchanged: list[str] = field(default_factory=list)
    thorough: bool = False


def answer_trouble(question: TroubleQuestion) -> Diagnosis:
    """Rank the causes of a trouble and say what to check next."""
    knowledge = troubles()
    present = {knowledge.finding(name, SEEN, "symptoms") for name in question.symptoms}
    present |= {knowledge.finding(name, [FindingKind.CHANGE], "changed") for name in question.changed}
    absent = {knowledge.finding(name, SEEN, "absent") for name in question.absent}
    absent |= {knowledge.finding(name, [FindingKind.CHANGE], "unchanged") for name in question.unchanged}
    refuse_contradictions(knowledge, present, absent)
    answers: dict[str, CheckAnswer] = {}
    for check in question.checked:
        cause = knowledge.cause(check.cause)
        answer = {True: CheckAnswer.FOUND, False: CheckAnswer.NOT_IT, None: CheckAnswer.CANNOT_TELL}[check.found]
        if answers.setdefault(cause.id, answer) is not answer:
            raise CraftError(f"“{cause.name}” is checked twice, with two answers.", "checked")
    known = question.setup or Circumstances()
    if known.machine_kind:
        knowledge = knowledge.at(OF_KIND[known.machine_kind], keep=present | answers.keys())
    holds, lacks = conditions(known)
    evidence = Observed.of(knowledge, present | holds, absent | lacks)
    return diagnose(knowledge, Inquiry(evidence=evidence, answers=answers, thorough=question.thorough))
