"""What your records say: rates of breaking, needle lives, two kinds side by side, and what a comparison would take."""

from __future__ import annotations

import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from itertools import combinations
from math import exp, log

from weftonos.core.evidence.compare import Compared, compare_lives, compare_rates, e_value
from weftonos.core.evidence.plan import needles_of_each, quilts_of_each
from weftonos.core.evidence.rates import Rate, Spread, learn_spread, rate_of
from weftonos.core.evidence.records import (
    OF_NEEDLES,
    Factor,
    NeedleUse,
    Stretch,
    break_units,
    by_level,
    exposures,
    life_units,
)
from weftonos.core.evidence.survival import (
    TROUBLES_FOR_SHAPE,
    ChangeAt,
    CurveStep,
    MeanLife,
    Weibull,
    change_at,
    fit_weibull,
    kaplan_meier,
    restricted_mean,
)
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.planned import ComparisonPlanned, PlanProgress, progress
from weftonos.core.needle.life import HOURS_LIFE
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.setup import Setup
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.report import report
from weftonos.knowledge import troubles
from weftonos.stations.log import LogEntry, log_entry
from weftonos.store.evidence import read_needles, read_stretches, state_of_the_log
from weftonos.store.workshop import Workshop

#: Combinations and lives that are listed, those with the most behind them.
MOST_LISTED = 12
#: Statements on top of the page.
MOST_SAID = 4
#: Kinds of each sort that are compared by themselves, those with the most stitching.
MOST_COMPARED = 4
#: The share of needles that come to trouble is taken as this at least, and breaks on a quilt as well.
LEAST_TROUBLE = 0.05


class Measure(StrEnum):
    """What two kinds are compared by."""

    LIFE = "life"
    BREAKS = "breaks"


@dataclass(frozen=True)
class Evidence:
    """Everything that was read, and how much quilts differ."""

    stretches: Sequence[Stretch]
    needles: Sequence[NeedleUse]
    spread: Spread
    mean: float | None
    rates: Sequence[RateLine]
    lives: Sequence[LifeLine]
    comparisons: Sequence[Comparison]


class Kept:
    """The evidence of one workshop, read anew only when the log is no longer the same."""

    def __init__(self) -> None:
        self._state: object = None
        self._evidence: Evidence | None = None
        self._one = threading.Lock()

    def evidence(self, workshop: Workshop) -> Evidence:
        """Return the evidence as the log stands."""
        with self._one:
            state = state_of_the_log(workshop.session)
            if self._evidence is None or state != self._state:
                self._evidence, self._state = _read(workshop), state
            return self._evidence


def _read(workshop: Workshop) -> Evidence:
    stretches = read_stretches(workshop.session, troubles().breaking)
    groups = [exposures(mine) for mine in by_level(stretches, Factor.TOP_THREAD).values()]
    hours, breaks = sum(s.hours for s in stretches), sum(s.breaks for s in stretches)
    spread, mean = learn_spread(groups), breaks / hours if hours and breaks else None
    needles = read_needles(workshop.session)
    return Evidence(
        stretches=stretches,
        needles=needles,
        spread=spread,
        mean=mean,
        rates=_rates(stretches, spread, mean),
        lives=_lives(needles),
        comparisons=_comparisons(stretches, needles),
    )


@dataclass(frozen=True, kw_only=True)
class TwoKinds:
    """Two kinds to be compared: by how long needles last or by how often thread breaks, in which factor."""

    measure: Measure
    factor: Factor
    first: str
    second: str


@dataclass(frozen=True, kw_only=True)
class RateLine:
    """How often thread breaks with one kind, in words, with its records."""

    level: str
    rate: Rate
    text: str
    records: Sequence[int]


@dataclass(frozen=True, kw_only=True)
class LifeLine:
    """How long one kind of needle lasts: the curve, the mean, what the shape says, and when changing costs least."""

    kind: str
    needles: int
    troubles: int
    hours: float
    curve: Sequence[CurveStep]
    mean: MeanLife | None
    weibull: Weibull | None
    change: ChangeAt | None
    text: str


@dataclass(frozen=True, kw_only=True)
class Comparison:
    """Two kinds side by side, in words."""

    measure: Measure
    factor: Factor
    compared: Compared
    text: str


@dataclass(frozen=True, kw_only=True)
class Statement:
    """One thing the records say of what is on the machine now; ``about`` says where on the page it is opened."""

    about: str
    text: str
    more: str


@dataclass(frozen=True, kw_only=True)
class EvidencePage:
    """What the records say, most of it first; ``levels`` are the kinds that can be compared, by the factor."""

    statements: Sequence[Statement]
    hours: float
    breaks: int
    quilts: int
    needles: int
    spread_text: str
    rates: Sequence[RateLine]
    lives: Sequence[LifeLine]
    comparisons: Sequence[Comparison]
    levels: Mapping[Factor, Sequence[str]]


def evidence_page(workshop: Workshop, machine_id: int, kept: Kept) -> EvidencePage:
    """Return what the records say, for what is on a machine now."""
    machine = workshop.machine(machine_id)
    found, setup = kept.evidence(workshop), workshop.setup(machine_id)
    rates, lives, comparisons = found.rates, found.lives, found.comparisons
    here = _here(setup, machine.spec.nickname)
    hours = sum(s.hours for s in found.stretches)
    return EvidencePage(
        statements=_statements(here, rates, lives, comparisons),
        hours=hours,
        breaks=sum(s.breaks for s in found.stretches),
        quilts=len({s.quilt for s in found.stretches if s.hours}),
        needles=len(found.needles),
        spread_text=_spread_words(found.spread),
        rates=rates[:MOST_LISTED],
        lives=lives[:MOST_LISTED],
        comparisons=comparisons[:MOST_LISTED],
        levels={factor: sorted(by_level(found.stretches, factor)) for factor in Factor},
    )


def _here(setup: Setup, machine: str) -> dict[str, str]:
    top = " + ".join(f"{t.name} ({t.words})" for t in setup.top)
    needle = setup.needle
    kind = NeedleKind.of(needle.finish, needle.point, needle.metric) if needle else None
    return {
        "thread": top,
        "needle": kind.words if kind else "",
        "finish": kind.finish.value if kind else "",
        "point": kind.point.value if kind else "",
        "machine": machine,
    }


def _rates(stretches: Sequence[Stretch], spread: Spread, mean: float | None) -> list[RateLine]:
    lines = []
    for level, mine in by_level(stretches, Factor.TOP_THREAD).items():
        rate = rate_of(exposures(mine), spread, mean)
        if rate is not None:
            records = [number for stretch in mine for number in stretch.records]
            lines.append(RateLine(level=level, rate=rate, text=_rate_words(rate), records=records))
    return sorted(lines, key=lambda line: -line.rate.amount)


def _rate_words(rate: Rate) -> str:
    quilts = f"{rate.quilts} quilt{'s' if rate.quilts != 1 else ''}"
    plain = f"{rate.breaks} in {rate.amount:.1f} h on {quilts}, {rate.plain_low:.2f} to {rate.plain_high:.2f}"
    return (
        f"about {rate.per_unit:.2f} breaks an hour, {rate.low:.2f} to {rate.high:.2f}, quilts differing as yours do "
        f"(plain count: {plain})"
    )


def _spread_words(spread: Spread) -> str:
    """Say how far quilts lie apart: nineteen in twenty within this factor of what is usual."""
    times = exp(Z95.value * spread.mean**0.5)
    return (
        f"Quilts differ: one in twenty breaks thread over {times:.1f} times as often as is usual, or as seldom. "
        "The intervals allow for that; the plain count does not."
    )


def _lives(needles: Sequence[NeedleUse]) -> list[LifeLine]:
    by_kind: dict[str, list[NeedleUse]] = {}
    for use in needles:
        by_kind.setdefault(use.kind.words, []).append(use)
    return sorted((_life(kind, mine) for kind, mine in by_kind.items()), key=lambda line: -line.hours)


def _life(kind: str, mine: Sequence[NeedleUse]) -> LifeLine:
    spans = [use.span for use in mine]
    bad = sum(use.trouble for use in mine)
    mean, weibull = restricted_mean(spans), fit_weibull(spans)
    change = change_at(weibull, needle_minutes=1.0) if weibull and bad >= TROUBLES_FOR_SHAPE.value else None
    count = f"{len(mine)} needle{'s' if len(mine) != 1 else ''}, {sum(u.hours for u in mine):.0f} h, {bad} in trouble"
    if not bad:
        text = f"No trouble yet ({count}): how long they last cannot be told."
    elif bad < TROUBLES_FOR_SHAPE.value or weibull is None:
        text = f"Too few troubles to say more than the curve does ({count})."
    else:
        at = (
            f"changing costs least at {change.hours:.0f} h"
            if change and change.hours
            else "changing before trouble saves nothing"
        )
        within = f"{mean.hours:.1f} h of the first {mean.within_h:.0f} without trouble" if mean else ""
        school = f"the schools say {HOURS_LIFE[0].value:.0f} to {HOURS_LIFE[1].value:.0f} h"
        text = f"{within}; {at}, {school} ({count}). {weibull.words}"
    return LifeLine(
        kind=kind,
        needles=len(mine),
        troubles=bad,
        hours=sum(use.hours for use in mine),
        curve=kaplan_meier(spans),
        mean=mean,
        weibull=weibull,
        change=change,
        text=text,
    )


def _comparisons(stretches: Sequence[Stretch], needles: Sequence[NeedleUse]) -> list[Comparison]:
    """Compare what there is most of, the greater first; those with the most in them on top."""
    pairs: list[TwoKinds] = []
    for factor in (Factor.FINISH, Factor.POINT):
        levels = sorted({use.set_up[factor] for use in needles})
        pairs += _pairs(Measure.LIFE, factor, levels)
    for factor in (Factor.TOP_THREAD, Factor.FINISH, Factor.POINT):
        grouped = by_level(stretches, factor)
        most = sorted(grouped, key=lambda level: -sum(s.hours for s in grouped[level]))[:MOST_COMPARED]
        pairs += _pairs(Measure.BREAKS, factor, most)
    told = []
    for asked in pairs:
        found = _compare(stretches, needles, asked)
        if found.compared.ratio is not None and found.compared.ratio < 1:
            found = _compare(stretches, needles, replace(asked, first=asked.second, second=asked.first))
        if not found.compared.cannot:
            told.append(found)
    return sorted(told, key=lambda each: -_evidence(each.compared))


def _pairs(measure: Measure, factor: Factor, levels: Sequence[str]) -> list[TwoKinds]:
    return [TwoKinds(measure=measure, factor=factor, first=a, second=b) for a, b in combinations(levels, 2)]


def _evidence(compared: Compared) -> float:
    if compared.ratio is None or compared.low is None:
        return 0.0
    deviation = (log(compared.ratio) - log(compared.low)) / Z95.value
    return e_value(log(compared.ratio), deviation**2)


def _compare(stretches: Sequence[Stretch], needles: Sequence[NeedleUse], asked: TwoKinds) -> Comparison:
    if asked.measure is Measure.LIFE:
        compared = compare_lives(life_units(needles, asked.factor), asked.first, asked.second)
    else:
        compared = compare_rates(break_units(stretches, asked.factor), asked.first, asked.second)
    text = _compared_words(asked.measure, compared)
    return Comparison(measure=asked.measure, factor=asked.factor, compared=compared, text=text)


def _compared_words(measure: Measure, found: Compared) -> str:
    if found.ratio is None or found.low is None or found.high is None or found.chance is None:
        return found.cannot
    does = "lasted {} times as long as" if measure is Measure.LIFE else "broke thread {} times as often as"
    more = "longer" if measure is Measure.LIFE else "oftener"
    sure = round(100 * (found.chance if found.ratio >= 1 else 1 - found.chance))
    chance = f"{sure} in 100" if sure < 100 else "over 99 in 100"
    less = more if found.ratio >= 1 else ("shorter" if measure is Measure.LIFE else "more seldom")
    verdict = (
        "That is more than chance, however often you look"
        if found.said
        else "That may still be chance: it is not settled"
    )
    allowed = f" Allowed for: {', '.join(found.adjusted)}." if found.adjusted else ""
    besides = f" Differed besides: {', '.join(found.differed)}." if found.differed else ""
    return (
        f"{found.first.capitalize()} {does.format(f'{found.ratio:.1f}')} {found.second}, {found.low:.1f} to "
        f"{found.high:.1f}; {chance} that it is {less}. {verdict}.{allowed}{besides}"
    )


def _statements(
    here: Mapping[str, str],
    rates: Sequence[RateLine],
    lives: Sequence[LifeLine],
    comparisons: Sequence[Comparison],
) -> list[Statement]:
    said = []
    mine = [each for each in comparisons if {each.compared.first, each.compared.second} & set(here.values())]
    for each in [*(c for c in mine if c.compared.said), *(c for c in comparisons if c.compared.said and c not in mine)]:
        said.append(_of_comparison(each))
    said = said[:2]
    said += [
        Statement(about="rates", text=_rate_in_short(line), more=f"The thread that is on: {line.text}.")
        for line in rates
        if line.level == here["thread"]
    ]
    said += [
        Statement(about="lives", text=f"{line.kind.capitalize()}: {line.text}", more="The needle that is in.")
        for line in lives
        if line.kind == here["needle"]
    ]
    for each in mine:
        if not each.compared.said:
            said.append(_of_comparison(each))
    return said[:MOST_SAID]


def _rate_in_short(line: RateLine) -> str:
    hours = (1 / line.rate.high, 1 / line.rate.per_unit, 1 / line.rate.low)
    return f"{line.level} breaks about once in {hours[1]:.0f} h, {hours[0]:.0f} to {hours[2]:.0f}."


def _of_comparison(each: Comparison) -> Statement:
    """The first sentence in large letters, what it rests on below."""
    short, _, rest = each.text.partition(". ")
    return Statement(about="comparisons", text=f"{short}.", more=rest)


def compare(workshop: Workshop, question: TwoKinds, kept: Kept) -> Comparison:
    """Compare two kinds; what cannot be told apart is said so."""
    if question.measure is Measure.LIFE and question.factor not in OF_NEEDLES:
        raise CraftError("Needle life is compared by finish, point, size or machine.", "factor")
    if question.first == question.second:
        raise CraftError("Choose two that differ.", "second")
    found = kept.evidence(workshop)
    return _compare(found.stretches, found.needles, question)


@dataclass(frozen=True, kw_only=True)
class PlanAnswer:
    """What a comparison would take: so many of each kind, and that in words."""

    of_each: int
    text: str


def plan_comparison(workshop: Workshop, question: TwoKinds, times: float, kept: Kept) -> PlanAnswer:
    """Say how many needles or quilts of each kind it takes to see a difference of ``times``, 8 times in 10."""
    found = kept.evidence(workshop)
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
        number = quilts_of_each(times, max(LEAST_TROUBLE, breaks), found.spread.mean)
        what = f"quilts of each, {question.first} and {question.second} in turn"
    text = f"{number} {what}: then {times:g} times as much would be seen in 8 of 10 such comparisons."
    return PlanAnswer(of_each=number, text=text)


def printed_evidence(workshop: Workshop, machine_id: int, kept: Kept, *, now: datetime, zone: str) -> list[Sheet]:
    """Lay out what the records say, to be kept with a season's papers."""
    page = evidence_page(workshop, machine_id, kept)
    numbers = [
        ("Stitched", f"{page.hours:.0f} h on {page.quilts} quilts"),
        ("Breaks", str(page.breaks)),
        ("Needles", str(page.needles)),
    ]
    sections = [
        ("For what is on the machine", [f"{said.text} {said.more}" for said in page.statements]),
        ("Two kinds side by side", [each.text for each in page.comparisons]),
        ("Breaks an hour, by the thread on top", [f"{line.level}: {line.text}" for line in page.rates]),
        ("How long needles last", [f"{line.kind}: {line.text}" for line in page.lives]),
    ]
    foot = f"From the log of the workshop. {page.spread_text}"
    return report("What the records say", f"Printed {day_in_words(now, zone)}", numbers, sections, foot)


@dataclass(frozen=True, kw_only=True)
class PlannedNow:
    """The comparison that is planned on a machine, how it stands, and what the records say of it so far.

    The answer counts from the moment ``progress.over``: until then it says that the plan has not run its course.
    """

    progress: PlanProgress
    answer: str


def begin_plan(
    workshop: Workshop, machine_id: int, question: TwoKinds, *, times: float, kept: Kept, now: datetime
) -> LogEntry:
    """Note that two kinds are used in turn from now on, as many as it takes to see a difference of ``times``."""
    of_each = plan_comparison(workshop, question, times, kept).of_each
    planned = ComparisonPlanned(
        measure=question.measure.value,
        factor=question.factor.value,
        first=question.first,
        second=question.second,
        of_each=of_each,
    )
    return log_entry(workshop, workshop.note(machine_id, planned, now, now))


def planned_now(workshop: Workshop, machine_id: int) -> PlannedNow | None:
    """Return the newest planned comparison of a machine, if one is on record and not struck out."""
    workshop.machine(machine_id)
    rows = workshop.log(machine_id=machine_id, kinds=[ComparisonPlanned.kind], limit=1, unstruck=True).items
    if not rows or not isinstance(plan := rows[0].payload, ComparisonPlanned) or plan.factor not in set(Factor):
        return None
    since, factor, measure = (machine_id, rows[0].at), Factor(plan.factor), Measure(plan.measure)
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
    stands = progress(plan, rows[0].id, *done)
    asked = TwoKinds(measure=measure, factor=factor, first=plan.first, second=plan.second)
    found = _compare(stretches, needles, asked)
    early = "" if stands.over else "The plan has not run its course, so this may still change. "
    return PlannedNow(progress=stands, answer=f"{early}{found.text}")
