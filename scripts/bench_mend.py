"""Simulated troubles: minutes to the cause by the program's order, against three habits."""

from __future__ import annotations

import math
import statistics
from collections.abc import Callable, Sequence
from dataclasses import replace
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
