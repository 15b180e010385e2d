"""From what is found to the cause in the fewest minutes, under the single-fault model.

One cause is at fault. Findings are independent given the cause, so the odds of a cause are how common it is times the
chance of each finding under it. Checks in descending order of probability per minute then minimize the expected
minutes to the cause (Kadane & Simon 1977; Heckerman, Breese & Rommelse 1995, *Communications of the ACM* 38). A check
passes over what is there now and then: by the same rule, what is likeliest passed over is looked at once more before
what was never likely (Black 1965, *Information and Control* 8). The traps of the trade are precedence rules that stand
above that order.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import combinations

import numpy as np

from weftonos.core.kernel.advice import Caution, Reason
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import within_a_sentence
from weftonos.core.kernel.standing import Standing, estimate
from weftonos.core.mend.trouble import Array, Cause, Drawing, FindingKind, Knowledge, Opens, Trap

#: A question is asked first when it is expected to save this many minutes more than it takes.
WORTH_ASKING = estimate(0.05, "min")
#: A cause that had less than this chance to begin with is not worth a check; when only such are left, it is time for
#: the technician.
UNLIKELY = estimate(0.003)
#: Up to this many pending checks, every combination is evaluated; beyond it, each check alone.
MOST_HELD_TOGETHER = 6
#: False-negative rate of a check. A cause is checked once more where that saves more of the technician's time than the
#: check takes, after this many other checks: nobody looks anew at what they looked at a moment ago.
OVERLOOKED = estimate(0.05)
OTHERS_BETWEEN = estimate(5, "checks")
#: A cause that is there only with a known condition, at this chance, is not there without it.
ONLY_WITH = estimate(0.95)
#: Minimum likelihood ratio at which a finding is named as a reason, and how many are named.
SPEAKS_FROM = estimate(1.5, "times")
MOST_REASONS = 3
ORDER_SOURCE = "Kadane & Simon 1977; Heckerman, Breese & Rommelse 1995, Communications of the ACM 38"


@dataclass(frozen=True)
class Observed:
    """What was found and what was found not to be, by the ids of the findings; everything else is unknown."""

    present: frozenset[str] = frozenset()
    absent: frozenset[str] = frozenset()

    @classmethod
    def of(cls, knowledge: Knowledge, present: Iterable[str], absent: Iterable[str] = ()) -> Observed:
        """Return evidence with what it implies; what is present is not absent as well.

        What the knowledge does not hold is left out: it is of another machine, or no longer on the page.
        """
        found, waiting = set[str](), list(present)
        while waiting:
            name = waiting.pop()
            if name not in found and name in knowledge.findings:
                found.add(name)
                waiting += knowledge.findings[name].implies
        return cls(frozenset(found), frozenset(absent).intersection(knowledge.findings) - found)


def refuse_contradictions(knowledge: Knowledge, present: Iterable[str], absent: Iterable[str] = ()) -> None:
    """Raise :class:`CraftError` for findings that cannot be together."""
    found = set(present)
    for name in sorted(found):
        finding = knowledge.findings[name]
        field = "changed" if finding.kind is FindingKind.CHANGE else "symptoms"
        if name in absent:
            raise CraftError(f"“{finding.name}” is marked both yes and no.", field)
        for other in found.intersection(finding.not_with):
            raise CraftError(
                f"“{finding.name}” and “{knowledge.findings[other].name}” are two different troubles. "
                "A fuzzy end is one, a clean cut the other: choose the one that fits.",
                field,
            )


class CheckAnswer(StrEnum):
    """What came of a check; a skipped one is offered again when the others are done."""

    FOUND = "found"
    NOT_IT = "not_it"
    CANNOT_TELL = "cannot_tell"
    SKIPPED = "skipped"


@dataclass(frozen=True, kw_only=True)
class RankedCause:
    """A cause with its probability, the minutes of its check, and what came of the check so far."""

    cause: str
    name: str
    probability: float
    minutes: float
    answer: CheckAnswer | None = None


@dataclass(frozen=True, kw_only=True)
class NextCheck:
    """The check to make now: what, how, its minutes, the cautions to read first, and what to draw.

    ``again`` when it was made before and found nothing.
    """

    cause: str
    name: str
    check: str
    how: str
    minutes: float
    cautions: tuple[Caution, ...]
    drawing: Drawing = Drawing.NONE
    point: str = ""
    again: bool = False


@dataclass(frozen=True)
class NextQuestion:
    """A question that is worth more than it takes: expected minutes saved, net."""

    finding: str
    question: str
    saves_minutes: float


@dataclass(frozen=True, kw_only=True)
class Diagnosis:
    """Ranked causes, the next check, and the expected minutes to the cause (``None`` when nothing is left).

    ``most_minutes`` are those of every check that was not made yet: each answer takes its own off them.

    ``question`` is worth asking before the check, ``questions`` are all that are open. ``found`` is the cause that
    was found. Without ``next`` and ``found`` nothing is left that the knowledge can offer: it is for the technician.
    """

    causes: tuple[RankedCause, ...]
    next: NextCheck | None
    question: NextQuestion | None
    expected_minutes: float | None
    found: str | None
    reasons: tuple[Reason, ...]
    text: str
    questions: tuple[NextQuestion, ...] = ()
    most_minutes: float | None = None


def posterior(knowledge: Knowledge, evidence: Observed, excluded: Set[str] = frozenset()) -> Array:
    """Return P(cause | evidence) in the knowledge's order; excluded causes have 0, all of them when none is left."""
    odds = np.log(knowledge.weights)
    for names, chances in ((evidence.present, knowledge.chances), (evidence.absent, 1 - knowledge.chances)):
        for name in names:
            odds = odds + np.log(chances[:, knowledge.columns[name]])
    likely = np.exp(odds - odds.max())
    likely[[knowledge.index[name] for name in excluded]] = 0
    total = likely.sum()
    return np.asarray(likely / total if total else likely)


def expected_minutes(probabilities: Sequence[float], minutes: Sequence[float], order: Sequence[int]) -> float:
    """Return the expected minutes until the cause is found when checks are made in this order.

    ``probabilities`` are those of the causes in the order, and need not add up to 1.

    >>> expected_minutes([0.5, 0.5], [1, 3], [0, 1])
    2.5
    """
    taken = total = weight = 0.0
    for i in order:
        taken += minutes[i]
        total += probabilities[i] * taken
        weight += probabilities[i]
    return total / weight if weight else taken


def order_checks(
    probabilities: Sequence[float], minutes: Sequence[float], after: Mapping[int, Set[int]] | None = None
) -> list[int]:
    """Return the order of checks with the fewest expected minutes.

    ``after`` names the checks that have to come before another. Without any, it is the descending order of
    probability per minute. With them, held checks are weighed together with what they wait for, best block first
    (Sidney 1975, *Operations Research* 23; Horn 1972, *SIAM Journal on Applied Mathematics* 23), which is exact where
    each check waits for one other at most.
    """
    waits = {i: set((after or {}).get(i, ())) - {i} for i in range(len(probabilities))}
    left = set(waits)
    order: list[int] = []

    def rate(block: Iterable[int]) -> float:
        whole = list(block)
        return sum(probabilities[j] for j in whole) / sum(minutes[j] for j in whole)

    while left:
        free = [i for i in sorted(left) if not waits[i] & left]
        held = [i for i in sorted(left) if waits[i] & left]
        blocks = [[max(free, key=lambda i: rate([i]))]]
        for size in range(1, len(held) + 1 if len(held) <= MOST_HELD_TOGETHER else 2):
            blocks += [sorted(_with_what_they_wait_for(some, waits, left)) for some in combinations(held, size)]
        # Of blocks alike the smallest, so that nothing comes along that another block could bring as well.
        best = max(blocks, key=lambda block: (rate(block), -len(block)))
        chosen = max((i for i in best if i in free), key=lambda i: rate([i]))
        order.append(chosen)
        left.remove(chosen)
    return order


def _with_what_they_wait_for(some: Iterable[int], waits: Mapping[int, Set[int]], left: Set[int]) -> set[int]:
    whole, waiting = set(some), list(some)
    while waiting:
        more = (waits[waiting.pop()] & left) - whole
        whole |= more
        waiting += more
    return whole


@dataclass(frozen=True, kw_only=True)
class Inquiry:
    """The state of a search: what is known, and what came of each check so far.

    ``twice`` names the checks that need no second look; left out, none is looked at twice. ``thorough`` goes on with
    the unlikely rest. ``unpictured``: what is seen is none of the symptoms, so that only the rest speaks.
    """

    evidence: Observed
    answers: Mapping[str, CheckAnswer] = field(default_factory=dict)
    asked: frozenset[str] = frozenset()
    twice: frozenset[str] | None = None
    thorough: bool = False
    unpictured: bool = False


def diagnose(knowledge: Knowledge, inquiry: Inquiry) -> Diagnosis:
    """Rank the causes and choose the next check.

    Raises :class:`CraftError` when no symptom is given, unless it is said to be none of them.
    """
    present, answers = inquiry.evidence.present, inquiry.answers
    if not inquiry.unpictured and not any(knowledge.findings[name].kind is FindingKind.SYMPTOM for name in present):
        raise CraftError("Say what you see: pick at least one symptom.", "symptoms")
    ruled_out = [name for name, answer in answers.items() if answer is CheckAnswer.NOT_IT]
    start = posterior(knowledge, inquiry.evidence)
    now = _left(knowledge, inquiry, ruled_out)
    found = next((name for name, answer in answers.items() if answer is CheckAnswer.FOUND), None)
    if found:
        now = np.zeros_like(now)
        now[knowledge.index[found]] = 1
    ranked = _ranked(knowledge, now, answers)
    if found:
        text = f"Found: {within_a_sentence(knowledge.cause(found).name)}."
        return Diagnosis(
            causes=ranked, next=None, question=None, expected_minutes=None, found=found, reasons=(), text=text
        )
    traps = [trap for trap in knowledge.traps if trap.applies(present)]
    unchecked = _open(knowledge, answers)
    first = unchecked if inquiry.thorough else _worth_checking(knowledge, unchecked, start, traps, inquiry.evidence)
    lately = ruled_out[-int(OTHERS_BETWEEN.value) :] if first else []
    technician = min((c.minutes for c in knowledge.causes if c.technician), default=0.0)
    looked_at = [knowledge.cause(name) for name in ruled_out if name not in lately]
    waiting = [*first, *(c for c in looked_at if now[knowledge.index[c.id]] * technician > c.minutes)]
    if not waiting:
        return Diagnosis(
            causes=ranked,
            next=None,
            question=None,
            expected_minutes=None,
            found=None,
            reasons=(),
            text=_nothing_left(bool(unchecked), answers),
        )
    likely = [float(now[knowledge.index[c.id]]) for c in waiting]
    minutes = [c.minutes for c in waiting]
    order = order_checks(likely, minutes, _holds(waiting, traps))
    forced = _forced(waiting, traps)
    if forced is not None:
        order.sort(key=lambda i: i != forced)
    expected = expected_minutes(likely, minutes, order)
    chosen = waiting[order[0]]
    again = chosen.id in ruled_out
    questions = _questions(knowledge, inquiry, now, waiting)
    worth = questions and questions[0].saves_minutes > WORTH_ASKING.value
    reasons = _reasons(
        knowledge=knowledge,
        inquiry=inquiry,
        chosen=chosen,
        probability=float(now[knowledge.index[chosen.id]]),
        traps=traps,
        forced=forced is not None,
        again=again,
    )
    check = NextCheck(
        cause=chosen.id,
        name=chosen.name,
        check=chosen.check,
        how=chosen.how,
        minutes=chosen.minutes,
        cautions=chosen.cautions,
        drawing=chosen.drawing,
        point=chosen.point,
        again=again,
    )
    question = questions[0] if worth else None
    return Diagnosis(
        causes=ranked,
        next=check,
        question=question,
        expected_minutes=expected,
        most_minutes=sum(cause.minutes for cause in first or waiting),
        found=None,
        reasons=reasons,
        text=chosen.check,
        questions=questions,
    )


def _left(knowledge: Knowledge, inquiry: Inquiry, ruled_out: Sequence[str]) -> Array:
    """Return the chances of the causes when a check that found nothing may have passed over what was there.

    What needs no second look has none left, and neither has a part that the check itself made new.
    """
    twice = ruled_out if inquiry.twice is None else inquiry.twice
    certain = {n for n in ruled_out if n in twice or knowledge.cause(n).opens is Opens.NEEDLE_NEW}
    left = posterior(knowledge, inquiry.evidence, certain)
    left[[knowledge.index[name] for name in ruled_out]] *= OVERLOOKED.value
    total = left.sum()
    return np.asarray(left / total if total else left)


def _ranked(knowledge: Knowledge, now: Array, answers: Mapping[str, CheckAnswer]) -> tuple[RankedCause, ...]:
    here = [
        RankedCause(cause=c.id, name=c.name, probability=float(p), minutes=c.minutes, answer=answers.get(c.id))
        for c, p in zip(knowledge.causes, now, strict=True)
    ]
    return tuple(sorted(here, key=lambda c: -c.probability))


def _open(knowledge: Knowledge, answers: Mapping[str, CheckAnswer]) -> list[Cause]:
    """Return the causes still to be checked; the skipped ones when no other is left."""
    mine = [c for c in knowledge.causes if not c.technician]
    return [c for c in mine if c.id not in answers] or [c for c in mine if answers.get(c.id) is CheckAnswer.SKIPPED]


def _worth_checking(
    knowledge: Knowledge, unchecked: Sequence[Cause], start: Array, traps: Sequence[Trap], evidence: Observed
) -> list[Cause]:
    """Return the causes that are likely enough, every one that a symptom can have, and those that a trap wants first.

    Nobody is sent to a technician before everything that the symptom can be was looked at, less what can't be there.
    """
    symptoms = [n for n in evidence.present if knowledge.findings[n].kind is FindingKind.SYMPTOM]
    lacks = [n for n in evidence.absent if knowledge.findings[n].kind is FindingKind.CONDITION]

    def can_show(cause: Cause) -> bool:
        if any(cause.chances.get(name, 0) >= ONLY_WITH.value for name in lacks):
            return False
        return any(cause.chances.get(name, 0) > knowledge.findings[name].usual for name in symptoms)

    likely = {c.id for c in unchecked if start[knowledge.index[c.id]] >= UNLIKELY.value or can_show(c)}
    before = {name for trap in traps if likely.intersection(trap.holds) for name in trap.first}
    return [c for c in unchecked if c.id in likely or c.id in before]


def _nothing_left(some: bool, answers: Mapping[str, CheckAnswer]) -> str:
    unsure = sum(answer is CheckAnswer.CANNOT_TELL for answer in answers.values())
    told = f" {unsure} check{'s' if unsure > 1 else ''} couldn't be answered." if unsure else ""
    left = "Nothing likely is left that we know" if some else "Nothing is left that we know"
    return f"{left}: this is for the technician.{told}"


def _holds(waiting: Sequence[Cause], traps: Sequence[Trap]) -> dict[int, set[int]]:
    place = {cause.id: number for number, cause in enumerate(waiting)}
    held: dict[int, set[int]] = {}
    for trap in traps:
        first = {place[name] for name in trap.first if name in place}
        for name in trap.holds:
            if name in place:
                held.setdefault(place[name], set()).update(first - {place[name]})
    return held


def _forced(waiting: Sequence[Cause], traps: Sequence[Trap]) -> int | None:
    place = {cause.id: number for number, cause in enumerate(waiting)}
    return next((place[name] for trap in traps if trap.now for name in trap.first if name in place), None)


def _questions(
    knowledge: Knowledge, inquiry: Inquiry, now: Array, waiting: Sequence[Cause]
) -> tuple[NextQuestion, ...]:
    """Return the questions that are open, those first whose answer is expected to save most minutes."""
    evidence = inquiry.evidence
    columns = [knowledge.index[c.id] for c in waiting]
    minutes = knowledge.minutes[columns]
    likely = now[columns]

    def expected(weights: Array) -> float:
        order = np.argsort(-weights / minutes)
        return float(weights[order] @ np.cumsum(minutes[order]))

    found = []
    for name, finding in knowledge.findings.items():
        known = name in evidence.present or name in evidence.absent or name in inquiry.asked
        if not finding.ask or known or not evidence.present.intersection(finding.asked_with):
            continue
        yes = likely * knowledge.chances[columns, knowledge.columns[name]]
        saves = expected(likely) - expected(yes) - expected(likely - yes) - finding.minutes
        found.append(NextQuestion(name, finding.ask, saves))
    return tuple(sorted(found, key=lambda question: -question.saves_minutes))


#: How a finding is known, where it is so and where it isn't.
_SPEAKS = {
    FindingKind.SYMPTOM: ("what you see", "you don't see it"),
    FindingKind.SIGN: ("what you said", "you said no"),
    FindingKind.CHANGE: ("changed since it last ran well", "not changed since it last ran well"),
    FindingKind.CONDITION: ("known from the records", "your records say no"),
}


def _likely(probability: float) -> str:
    """Return a chance in words; what would read as none at all is said as it is."""
    return f"{probability:.0%} likely" if probability >= 0.01 else "Not likely"


def _reasons(
    *,
    knowledge: Knowledge,
    inquiry: Inquiry,
    chosen: Cause,
    probability: float,
    traps: Sequence[Trap],
    forced: bool,
    again: bool,
) -> tuple[Reason, ...]:
    reasons = []
    if again:
        text = "A check misses about one in twenty. This is still likelier than what's left, so look once more."
        reasons.append(Reason(text=text, rule="looked_at_again", standing=Standing.ESTIMATE))
    for trap in traps:
        if (forced and trap.now) or chosen.id in (*trap.first, *trap.holds):
            reasons.append(Reason(text=trap.text, rule=trap.id))
    minutes = {0.5: "half a minute", 1: "1 minute"}.get(chosen.minutes, f"{figure(chosen.minutes)} minutes")
    own = " as you do it" if chosen.timed else ""
    if not forced:
        reasons.append(
            Reason(
                text=f"{_likely(probability)}, and {minutes} to check{own}: the best odds for the time.",
                rule="chance_per_minute",
                # That this order is the best one is published; how likely each cause is are our own weights.
                standing=Standing.ESTIMATE,
                source=f"our own weights, the order by chance per minute: {ORDER_SOURCE}",
            )
        )
    row = knowledge.index[chosen.id]
    everyone = knowledge.weights / knowledge.weights.sum()
    told = []
    for present, names in ((True, inquiry.evidence.present), (False, inquiry.evidence.absent)):
        for name in names:
            column = knowledge.chances[:, knowledge.columns[name]]
            usual = float(everyone @ column)
            ratio = column[row] / usual if present else (1 - column[row]) / (1 - usual)
            told.append((float(ratio), name, present))
    for ratio, name, present in sorted(told, reverse=True)[:MOST_REASONS]:
        if ratio > SPEAKS_FROM.value:
            finding = knowledge.findings[name]
            reasons.append(
                Reason(
                    text=f"Points to it: {within_a_sentence(finding.name)} ({_SPEAKS[finding.kind][not present]}).",
                    rule="finding",
                    standing=Standing.COMMON_PRACTICE,
                )
            )
    return tuple(reasons)
