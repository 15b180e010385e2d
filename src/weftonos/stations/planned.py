"""Comparing on purpose: what two kinds that one chooses say, what a comparison would take, and one that is planned."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum

from weftonos.core.evidence.plan import (
    SEASON_MONTHS,
    in_months,
    largest_in_a_season,
    months_for,
    needles_of_each,
    quilts_of_each,
)
from weftonos.core.evidence.records import FACTOR_NAMES, OF_NEEDLES, Factor, Per, exposures
from weftonos.core.evidence.survival import fit_weibull
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.planned import ComparisonPlanned, Measure, PlanProgress, progress
from weftonos.core.needle.needle import NeedleFinish, Point, SizeClass
from weftonos.knowledge import troubles
from weftonos.learned.comparisons import Comparison, TwoKinds, compared
from weftonos.learned.entries import Noted, noted
from weftonos.learned.evidence import Evidence, EvidenceCache
from weftonos.store.evidence import read_needles, read_stretches, thread_names
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

#: The share of needles that come to trouble is taken as this at least, and breaks on a quilt as well.
LEAST_TROUBLE = 0.05
#: What says how many needles and quilts a machine takes.
LAST_YEAR, MONTHS_A_YEAR = timedelta(days=365), 12


def compare(workshop: Workshop, question: TwoKinds, kept: EvidenceCache) -> Comparison:
    """Compare two kinds; what cannot be told apart is said so."""
    if question.measure is Measure.LIFE and question.factor not in OF_NEEDLES:
        raise CraftError("Needle life is compared by finish, point, size or machine.", "factor")
    found = _known(workshop, question, kept)
    return compared(found.stretches, found.needles, question)


#: What a needle can be, also where none such was ever fitted.
_KINDS_OF_NEEDLE: dict[Factor, type[StrEnum]] = {
    Factor.FINISH: NeedleFinish,
    Factor.POINT: Point,
    Factor.SIZE: SizeClass,
}
_OF_THREADS = (Factor.TOP_THREAD, Factor.BOBBIN_THREAD)


def _known(workshop: Workshop, question: TwoKinds, kept: EvidenceCache) -> Evidence:
    """Return the evidence; raises :class:`CraftError` for kinds that are one, or that there are not."""
    if question.first == question.second:
        raise CraftError("Choose two that differ.", "second")
    found, factor = kept.evidence(workshop), question.factor
    known = {stretch.set_up[factor] for stretch in found.stretches if factor in stretch.set_up}
    known |= {kind.value for kind in _KINDS_OF_NEEDLE.get(factor, ())}
    if factor is Factor.MACHINE:
        known |= {row.spec.nickname for row in workshop.machines()}
    for field, kind in (("first", question.first), ("second", question.second)):
        if kind not in known and not (factor in _OF_THREADS and _threads_called(found.threads, kind)):
            raise CraftError(f"There is no {FACTOR_NAMES[factor]} “{kind[:60]}” on record here.", field)
    return found


def _threads_called(names: Mapping[int, str], words: str) -> tuple[int, ...]:
    """Return the threads of the drawer that a kind names, one or several through one needle; empty for none."""
    by_name = {name: number for number, name in names.items()}
    if words in by_name:
        return (by_name[words],)
    parts = words.split(" + ")
    return tuple(by_name[part] for part in parts) if all(part in by_name for part in parts) else ()


def _called_now(names: Mapping[int, str], words: str, threads: tuple[int, ...]) -> str:
    """Return what a kind is called now, where it is threads that may have been renamed since."""
    return " + ".join(names[number] for number in threads) if threads and all(n in names for n in threads) else words


@dataclass(frozen=True, kw_only=True)
class PlanAnswer:
    """What a comparison would take: so many of each kind, how long at this machine's pace, and that in words.

    ``season_times`` is the least difference that a season could show, where this one would take longer.
    """

    of_each: int
    text: str
    months: float | None = None
    season_times: float | None = None


def plan_comparison(
    workshop: Workshop, machine_id: int, question: TwoKinds, *, times: float, kept: EvidenceCache, now: datetime
) -> PlanAnswer:
    """Say how many needles or quilts of each kind it takes to see a difference of ``times``, 8 times in 10."""
    found = _known(workshop, question, kept)
    answer = _answer(found, question, times)
    needles, quilts = workshop.runs.used_in(machine_id, now - LAST_YEAR, now)
    a_month = (needles if question.measure is Measure.LIFE else quilts) / MONTHS_A_YEAR
    months = months_for(answer.of_each, a_month)
    if months is None:
        return replace(answer, text=f"{answer.text} How long that takes isn't known yet.")
    text = f"{answer.text} At your pace that takes {in_months(months)}."
    if months <= SEASON_MONTHS.value:
        return replace(answer, text=text, months=months)
    season = largest_in_a_season(a_month, lambda other: _answer(found, question, other).of_each)
    shows = f"A season could show {figure(season)} times." if season else "A season could show no difference."
    return replace(answer, text=f"{text} {shows}", months=months, season_times=season)


def _answer(found: Evidence, question: TwoKinds, times: float) -> PlanAnswer:
    if question.measure is Measure.LIFE:
        weibull = fit_weibull([use.span for use in found.needles])
        shape = weibull.shape if weibull else 1.0
        # One more of each sort than there is, so that a few needles do not say never.
        share = (sum(use.trouble for use in found.needles) + 1) / (len(found.needles) + 2)
        number = needles_of_each(times, shape, max(LEAST_TROUBLE, share))
        what = f"needles of each, {question.first} and {question.second} in turn, each until trouble or its time"
    else:
        told = exposures(found.stretches)
        breaks = sum(e.breaks for e in told) / len(told) if told else 1.0
        number = quilts_of_each(times, max(LEAST_TROUBLE, breaks), found.spreads[Per.HOUR].mean)
        what = f"quilts of each, {question.first} and {question.second} in turn"
    text = f"{number} {what}: then {figure(times)} times as much would be seen in 8 of 10 such comparisons."
    return PlanAnswer(of_each=number, text=text)


@dataclass(frozen=True, kw_only=True)
class PlannedNow:
    """The comparison that is planned on a machine, how it stands, and what the records say of it so far.

    The answer counts from the moment ``progress.over``: until then it says that the plan has not run its course.
    """

    progress: PlanProgress
    answer: str


def begin_plan(
    workshop: Workshop, machine_id: int, question: TwoKinds, *, times: float, kept: EvidenceCache, now: datetime
) -> Noted:
    """Note that two kinds are used in turn from now on, as many as it takes to see a difference of ``times``."""
    # What is read where something is being written is not kept: it is asked for once.
    found = _known(workshop, question, kept)
    first, second = (
        _threads_called(found.threads, kind) if question.factor in _OF_THREADS else ()
        for kind in (question.first, question.second)
    )
    planned = ComparisonPlanned(
        measure=question.measure,
        factor=question.factor.value,
        first=question.first,
        second=question.second,
        of_each=_answer(found, question, times).of_each,
        first_threads=first,
        second_threads=second,
    )
    return noted(workshop, workshop.note(machine_id, planned, now, now))


def planned_now(workshop: Workshop, machine_id: int) -> PlannedNow | None:
    """Return the newest planned comparison of a machine, if one is on record and not struck out."""
    workshop.machine(machine_id)
    rows = workshop.log(LogSearch(machine=machine_id, kinds=[ComparisonPlanned.kind], limit=1, unstruck=True)).items
    if not rows or not isinstance(plan := rows[0].payload, ComparisonPlanned) or plan.factor not in set(Factor):
        return None
    names = thread_names(workshop.session)
    plan = replace(
        plan,
        first=_called_now(names, plan.first, plan.first_threads),
        second=_called_now(names, plan.second, plan.second_threads),
    )
    since, factor, measure = (machine_id, rows[0].at), Factor(plan.factor), plan.measure
    if measure is Measure.LIFE and factor not in OF_NEEDLES:
        return None
    stretches = read_stretches(workshop.session, troubles().breaking, since)
    needles = read_needles(workshop.session, since)
    done = []
    for kind in (plan.first, plan.second):
        if measure is Measure.LIFE:
            done.append(sum(use.set_up[factor] == kind and not use.still_in for use in needles))
        else:
            done.append(len({s.quilt for s in stretches if s.set_up.get(factor) == kind and s.hours}))
    asked = TwoKinds(measure=measure, factor=factor, first=plan.first, second=plan.second)
    found = compared(stretches, needles, asked)
    stands = progress(plan, rows[0].id, *done, told=not found.compared.cannot)
    early = "" if stands.over else "The plan has not run its course, so this may still change. "
    return PlannedNow(progress=stands, answer=f"{early}{found.text}")
