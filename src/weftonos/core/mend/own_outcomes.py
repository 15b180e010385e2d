"""The user's own solved troubles: counts laid over the weights of the page of troubles.

How common a cause is becomes the mean of a Dirichlet posterior, the chance of a finding under a cause that of a Beta
posterior, both with the page as the prior. Striking a trouble out of the log takes its counts away again.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.incident import IncidentState, Outcome
from weftonos.core.mend.trouble import FindingKind, Knowledge

#: What the page counts for: as many troubles in all, and as many of each cause for its findings.
PAGE_COUNTS_AS = estimate(40, "troubles")
FINDINGS_COUNT_AS = estimate(6, "troubles of a cause")


@dataclass(frozen=True)
class SolvedTrouble:
    """A cured trouble: its cause, what was found with it, and what was found not to be."""

    cause: str
    present: frozenset[str]
    absent: frozenset[str] = frozenset()


def solved_trouble(state: IncidentState) -> SolvedTrouble | None:
    """Return what a trouble teaches once it is cured and its cause is known."""
    if state.outcome is not Outcome.CURED or not state.cause:
        return None
    return SolvedTrouble(state.cause, state.present, state.absent)


@dataclass(frozen=True, kw_only=True)
class OwnCount:
    """How often a cause was the user's own, and its share of all troubles by the page and with the counts."""

    cause: str
    name: str
    times: int
    page_share: float
    own_share: float


def with_own_outcomes(knowledge: Knowledge, solved: Sequence[SolvedTrouble]) -> Knowledge:
    """Return the knowledge as the user's own solved troubles have corrected it."""
    if not solved:
        return knowledge
    each = knowledge.weights.sum() / PAGE_COUNTS_AS.value
    counted = FINDINGS_COUNT_AS.value
    symptoms = knowledge.of_kind(FindingKind.SYMPTOM)
    conditions = knowledge.of_kind(FindingKind.CONDITION)
    causes = []
    for cause in knowledge.causes:
        mine = [trouble for trouble in solved if trouble.cause == cause.id]
        so = Counter(name for trouble in mine for name in trouble.present)
        not_so = Counter(name for trouble in mine for name in trouble.absent)
        chances = dict(cause.chances)
        for name in (so.keys() | not_so.keys() | symptoms.keys()) - conditions.keys() if mine else ():
            if name not in knowledge.findings:
                continue
            # A symptom that was not picked was not there; a sign or a change may just not have been asked about.
            told = len(mine) if name in symptoms else so[name] + not_so[name]
            page = cause.chances.get(name, knowledge.findings[name].usual)
            chances[name] = (counted * page + so[name]) / (counted + told)
        causes.append(replace(cause, weight=float(cause.weight + each * len(mine)), chances=chances))
    return Knowledge(knowledge.findings, tuple(causes), knowledge.traps)


def own_counts(knowledge: Knowledge, solved: Sequence[SolvedTrouble]) -> tuple[OwnCount, ...]:
    """Return what the user's own troubles change, the most frequent cause first."""
    after = with_own_outcomes(knowledge, solved)
    page, own = knowledge.weights / knowledge.weights.sum(), after.weights / after.weights.sum()
    counts = []
    for number, cause in enumerate(knowledge.causes):
        times = sum(trouble.cause == cause.id for trouble in solved)
        if times:
            counts.append(
                OwnCount(
                    cause=cause.id,
                    name=cause.name,
                    times=times,
                    page_share=float(page[number]),
                    own_share=float(own[number]),
                )
            )
    return tuple(sorted(counts, key=lambda count: -count.times))
