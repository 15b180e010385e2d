"""Simulated troubles: minutes to the cause by the program's order, against three habits."""

from __future__ import annotations

import math
import statistics
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from random import Random

from weftonos.core.mend.diagnosis import CheckAnswer, Inquiry, Observed, diagnose
from weftonos.core.mend.trouble import Cause, FindingKind, Knowledge
from weftonos.knowledge import troubles

Habit = Callable[[Sequence[Cause], Random], list[Cause]]
HABITS: dict[str, Habit] = {
    "rows that mention it, as listed": lambda rows, _: list(rows),
    "the same rows, cheapest first": lambda rows, _: sorted(rows, key=lambda c: c.minutes),
    "the same rows at random": lambda rows, chance: chance.sample(list(rows), len(rows)),
}


def disturbed(knowledge: Knowledge, chance: Random) -> Knowledge:
    """Return a copy in which every weight and every chance is off by a random factor of up to two, either way."""

    def off(value: float, most: float) -> float:
        return min(most, value * math.exp(chance.uniform(-1, 1) * math.log(2)))

    findings = {name: replace(f, usual=off(f.usual, 0.95)) for name, f in knowledge.findings.items()}
    causes = tuple(
        replace(c, weight=off(c.weight, 99), chances={n: off(p, 0.97) for n, p in c.chances.items()})
        for c in knowledge.causes
    )
    return Knowledge(findings, causes, knowledge.traps)


def happen(truth: Knowledge, chance: Random) -> tuple[Cause, set[str]]:
    """Return a cause and everything that shows with it; a trouble without a symptom is none, and is drawn again."""
    while True:
        # The technician's causes are not found by checks at the machine; no habit gets there either.
        cause = chance.choices(truth.causes, [c.weight if not c.technician else 0 for c in truth.causes])[0]
        found = {n for n, f in truth.findings.items() if chance.random() < cause.chances.get(n, f.usual)}
        symptoms = {n for n in found if truth.findings[n].kind is FindingKind.SYMPTOM}
        clashes = any(found.intersection(truth.findings[n].not_with) for n in found)
        if symptoms and not clashes:
            return cause, found


def by_habit(knowledge: Knowledge, habit: Habit, cause: Cause, found: set[str], chance: Random) -> float:
    """Return the minutes to the cause when the rows that mention a symptom are gone through, then the others."""
    seen = {n for n in found if knowledge.findings[n].kind is FindingKind.SYMPTOM}
    first, others = knowledge.mentioning_first((c for c in knowledge.causes if not c.technician), seen)
    taken = 0.0
    for row in [*habit(first, chance), *habit(others, chance)]:
        taken += row.minutes
        if row.id == cause.id:
            return taken
    raise AssertionError("every cause is a row")


def by_program(knowledge: Knowledge, cause: Cause, found: set[str], kinds: Sequence[FindingKind], ask: bool) -> float:
    """Return the minutes when the program is told the symptoms and the findings of some kinds, and asks questions."""
    told = {n for n in found if knowledge.findings[n].kind in (FindingKind.SYMPTOM, *kinds)}
    absent = {n for n, f in knowledge.findings.items() if f.kind in kinds and n not in told}
    absent -= {m for n in told for m in knowledge.findings[n].implies}
    answers: dict[str, CheckAnswer] = {}
    taken = 0.0
    while True:
        evidence = Observed.of(knowledge, told, absent - Observed.of(knowledge, told).present)
        says = diagnose(knowledge, Inquiry(evidence=evidence, answers=answers, thorough=True))
        if ask and says.question:
            name = says.question.finding
            taken += knowledge.findings[name].minutes
            clash = any(told.intersection(knowledge.findings[name].not_with) for _ in (0,))
            (told if name in found and not clash else absent).add(name)
            continue
        assert says.next is not None, "the cause is still among the checks"
        taken += says.next.minutes
        if says.next.cause == cause.id:
            return taken
        answers[says.next.cause] = CheckAnswer.NOT_IT


RECORDS = (FindingKind.CHANGE, FindingKind.CONDITION)
#: How far a truth's weights and odds lie from the page's: by a factor of up to three, either way.
FARTHEST = 3.0


def another_truth(knowledge: Knowledge, seed: int) -> Knowledge:
    """Return a truth that is not the page's: weights and the odds of each finding off by up to three, log-uniform."""
    chance = Random(f"truth {seed}")

    def factor() -> float:
        return math.exp(chance.uniform(-1, 1) * math.log(FARTHEST))

    def off(share: float) -> float:
        odds = share / (1 - share) * factor()
        return odds / (1 + odds)

    findings = {name: replace(f, usual=off(f.usual)) for name, f in knowledge.findings.items()}
    causes = tuple(
        replace(c, weight=c.weight * factor(), chances={n: off(p) for n, p in c.chances.items()})
        for c in knowledge.causes
    )
    return Knowledge(findings, causes, knowledge.traps)


@dataclass
class Taken:
    """What a search came to: minutes, and whether the technician was called before the cause was looked at."""

    minutes: float
    technician: bool


def search(
    knowledge: Knowledge, wanted: set[str], found: set[str], kinds: Sequence[FindingKind], truth: set[str]
) -> Taken:
    """Search for one of the causes ``wanted`` as a person does who sees ``found`` and whose machine shows ``truth``.

    Where the program calls the technician the rest is gone through, and it is counted that it was called.
    """
    told = {n for n in found if knowledge.findings[n].kind in (FindingKind.SYMPTOM, *kinds)}
    absent = {n for n, f in knowledge.findings.items() if f.kind in kinds and n not in truth}
    answers: dict[str, CheckAnswer] = {}
    taken, technician, thorough = 0.0, False, False
    while True:
        evidence = Observed.of(knowledge, told, absent - Observed.of(knowledge, told).present)
        says = diagnose(knowledge, Inquiry(evidence=evidence, answers=answers, thorough=thorough))
        if says.question:
            name = says.question.finding
            taken += knowledge.findings[name].minutes
            clash = bool(told.intersection(knowledge.findings[name].not_with))
            (told if name in truth and not clash else absent).add(name)
            continue
        if says.next is None:
            technician, thorough = True, True
            continue
        taken += says.next.minutes
        if says.next.cause in wanted:
            return Taken(taken, technician)
        answers[says.next.cause] = CheckAnswer.NOT_IT


def cheapest_first(knowledge: Knowledge, wanted: set[str], seen: set[str]) -> float:
    """Return the minutes to one of the causes by the rows that mention what is seen, the cheapest first."""
    first, others = knowledge.mentioning_first((c for c in knowledge.causes if not c.technician), seen)
    taken = 0.0
    for row in [*sorted(first, key=lambda c: c.minutes), *sorted(others, key=lambda c: c.minutes)]:
        taken += row.minutes
        if row.id in wanted:
            return taken
    raise AssertionError("every cause is a row")


def _seen(knowledge: Knowledge, found: set[str]) -> set[str]:
    return {n for n in found if knowledge.findings[n].kind is FindingKind.SYMPTOM}


def bench_truths(each: int = 100) -> None:
    """Print minutes to the cause on five truths that are not the page's own, against the cheapest first."""
    page = troubles()
    symptoms = sorted(page.of_kind(FindingKind.SYMPTOM))
    print(f"\nMend on five other truths, {each} troubles each: minutes by the program, by the cheapest first")
    for name in ("one fault, records silent", "one fault, records full", "two faults", "one symptom misnamed"):
        ours: list[Taken] = []
        theirs: list[float] = []
        worst: dict[str, list[float]] = {}
        for seed in range(5):
            truth, chance = another_truth(page, seed), Random(f"{name} {seed}")
            for _ in range(each):
                cause, found = happen(truth, chance)
                told, wanted = set(found), {cause.id}
                if name == "two faults":
                    other, more = happen(truth, chance)
                    told, wanted = found | more, {cause.id, other.id}
                if name == "one symptom misnamed":
                    real = chance.choice(sorted(_seen(page, found)))
                    wrong = chance.choice([s for s in symptoms if s not in found])
                    told = (found - {real}) | {wrong}
                kinds = () if name == "one fault, records silent" else RECORDS if "full" in name else ()
                ours.append(search(page, wanted, told, kinds, found))
                theirs.append(cheapest_first(page, wanted, _seen(page, told)))
                worst.setdefault(cause.id, []).append(ours[-1].minutes)
        mean, cheap = statistics.fmean(t.minutes for t in ours), statistics.fmean(theirs)
        slower = sum(o.minutes > t for o, t in zip(ours, theirs, strict=True)) / len(ours)
        called = sum(t.technician for t in ours) / len(ours)
        hard = max(worst, key=lambda c: statistics.fmean(worst[c]) if len(worst[c]) >= 5 else 0)
        print(
            f"  {name:<28} {mean:5.1f}, {cheap:5.1f}: {mean / cheap:.2f}; slower in {slower:.0%}; "
            f"technician {called:.0%}; worst: {hard} {statistics.fmean(worst[hard]):.0f}"
        )


def bench_mend(troubled: int = 1000, seed: int = 6) -> None:
    print(f"\nMinutes to the cause, {troubled} simulated troubles: mean, median")
    knowledge = troubles()
    for name, truth in (("as the knowledge says", knowledge), ("disturbed by a factor of two", None)):
        chance = Random(seed)
        cases = [happen(truth or disturbed(knowledge, chance), chance) for _ in range(troubled)]
        print(f"  {name}")
        means = {}
        for habit, go in HABITS.items():
            took = [by_habit(knowledge, go, c, found, chance) for c, found in cases]
            means[habit] = statistics.fmean(took)
            print(f"    {habit:<44} {means[habit]:5.2f} {statistics.median(took):5.2f}")
        best = min(means.values())
        for words, kinds, ask in (
            ("program, symptoms alone", (), False),
            ("program, symptoms and questions", (), True),
            ("program, with what the records know", RECORDS, False),
            ("program, records and questions", RECORDS, True),
        ):
            took = [by_program(knowledge, c, found, kinds, ask) for c, found in cases]
            mean = statistics.fmean(took)
            print(f"    {words:<44} {mean:5.2f} {statistics.median(took):5.2f}   {mean / best:.0%} of the best habit")


if __name__ == "__main__":
    bench_mend()
    bench_truths()
