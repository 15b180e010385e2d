"""What your records say: how often thread breaks, how long needles last, and what of it goes for what is on now."""

from __future__ import annotations

import threading
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from math import exp

from weftonos.core.evidence.rates import Rate, Spread, learn_spread, mean_of, rate_of
from weftonos.core.evidence.records import (
    AGES_H,
    FACTOR_NAMES,
    OF_NEEDLES,
    PACES_M_H,
    Factor,
    NeedleUse,
    Per,
    Stretch,
    by_level,
    class_of,
    classes,
    exposures,
)
from weftonos.core.evidence.survival import (
    ChangeAt,
    CurveStep,
    Weibull,
    change_at,
    fit_weibull,
    kaplan_meier,
    life_told,
    restricted_mean,
)
from weftonos.core.kernel.counting import Z95
from weftonos.core.needle.life import HOURS_LIFE, HourCost, MeanLife, NeedleSpan, cost_per_hour, own_life
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.setup import Setup
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.report import report
from weftonos.knowledge import troubles
from weftonos.stations.comparisons import COMPARED_IN, Comparison, by_evidence, comparisons_in
from weftonos.stations.time_on import time_on
from weftonos.store.database import may_write, writes_to
from weftonos.store.evidence import read_needles, read_stretches, thread_names
from weftonos.store.workshop import Workshop

#: Combinations and lives that are listed, those with the most behind them.
MOST_LISTED = 12
#: Records of breaks that a line names.
MOST_RECORDS = 200
#: Statements on top of the page.
MOST_SAID = 4


@dataclass(frozen=True)
class Evidence:
    """Everything that was read, and how much quilts differ; the rest is worked out as it is asked for."""

    stretches: Sequence[Stretch]
    needles: Sequence[NeedleUse]
    spreads: Mapping[Per, Spread]
    means: Mapping[Per, float | None]
    lives: Sequence[LifeLine]
    levels: Mapping[Factor, Sequence[str]]
    threads: Mapping[int, str]
    lists: dict[tuple[Factor, Per], Sequence[RateLine]] = field(default_factory=dict)
    compared: dict[Factor, Sequence[Comparison]] = field(default_factory=dict)

    def rates(self, factor: Factor, per: Per = Per.HOUR) -> Sequence[RateLine]:
        """Return how often thread breaks with each kind."""
        if (factor, per) not in self.lists:
            self.lists[factor, per] = _rates(self, factor, per)
        return self.lists[factor, per]

    def comparisons(self, factors: Iterable[Factor] = COMPARED_IN) -> Sequence[Comparison]:
        """Return kinds side by side that differ in these, those with the most in them on top."""
        for factor in factors:
            if factor not in self.compared:
                self.compared[factor] = comparisons_in(factor, self.stretches, self.needles)
        return by_evidence([each for factor in factors for each in self.compared[factor]])


class Kept:
    """The evidence of one workshop, read anew only after a write."""

    def __init__(self) -> None:
        self._state: object = None
        self._evidence: Evidence | None = None
        self._one = threading.Lock()

    def evidence(self, workshop: Workshop) -> Evidence:
        """Return the evidence as the log stands."""
        with self._one:
            state = writes_to(workshop.session)
            if self._evidence is not None and state == self._state:
                return self._evidence
            found = _read(workshop)
            if not may_write(workshop.session):
                self._evidence, self._state = found, state
            return found


def _read(workshop: Workshop) -> Evidence:
    stretches = read_stretches(workshop.session, troubles().breaking)
    threads, needles = by_level(stretches, Factor.TOP_THREAD).values(), read_needles(workshop.session)
    return Evidence(
        stretches=stretches,
        needles=needles,
        spreads={per: learn_spread([exposures(mine, per) for mine in threads]) for per in Per},
        means={per: mean_of(exposures(stretches, per)) for per in Per},
        lives=_lives(workshop, _prices(workshop)),
        levels={factor: list(_in_order(factor, by_level(stretches, factor))) for factor in Factor},
        threads=thread_names(workshop.session),
    )


def _prices(workshop: Workshop) -> Mapping[NeedleKind, float]:
    """Return what a needle of each kind costs, by the packet that was bought last."""
    return {
        NeedleKind.like(row.spec): row.spec.price
        for row, _ in sorted(workshop.drawer.packets(), key=lambda packet: packet[0].id)
        if row.spec.price is not None
    }


@dataclass(frozen=True, kw_only=True)
class RateLine:
    """How often thread breaks with one kind, in words, with the newest records of breaks that it rests on."""

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
    cost: HourCost | None
    text: str


@dataclass(frozen=True, kw_only=True)
class Statement:
    """One thing the records say of what is on the machine now; ``about`` says where on the page it is opened."""

    about: str
    text: str
    more: str


@dataclass(frozen=True)
class FactorWord:
    """What two kinds can differ in, in words; ``of_needles``: lives can be compared by it as well."""

    value: Factor
    name: str
    of_needles: bool


@dataclass(frozen=True, kw_only=True)
class RateList:
    """How often thread breaks with each kind of one sort, and what the counts are per."""

    by: Factor
    per: Per
    lines: Sequence[RateLine]
    unknown: str


@dataclass(frozen=True, kw_only=True)
class EvidencePage:
    """What the records say, most of it first; ``levels`` are the kinds that can be compared, by the factor."""

    statements: Sequence[Statement]
    hours: float
    breaks: int
    quilts: int
    needles: int
    spread_text: str
    rates: RateList
    factors: Sequence[FactorWord]
    lives: Sequence[LifeLine]
    comparisons: Sequence[Comparison]
    levels: Mapping[Factor, Sequence[str]]


def evidence_page(workshop: Workshop, machine_id: int, kept: Kept) -> EvidencePage:
    """Return what the records say, for what is on a machine now."""
    machine = workshop.machine(machine_id)
    found, setup = kept.evidence(workshop), workshop.setup(machine_id)
    rates, lives, comparisons = found.rates(Factor.TOP_THREAD), found.lives, found.comparisons()
    here = _here(found, setup, machine.spec.nickname)
    hours = sum(s.hours for s in found.stretches)
    return EvidencePage(
        statements=_statements(here, rates, lives, comparisons),
        hours=hours,
        breaks=sum(s.breaks for s in found.stretches),
        quilts=len({s.quilt for s in found.stretches if s.hours}),
        needles=len(found.needles),
        spread_text=_spread_words(found.spreads[Per.HOUR]),
        rates=_list(found, Factor.TOP_THREAD, Per.HOUR),
        factors=[FactorWord(factor, name, factor in OF_NEEDLES) for factor, name in FACTOR_NAMES.items()],
        lives=lives[:MOST_LISTED],
        comparisons=comparisons[:MOST_LISTED],
        levels=found.levels,
    )


def rate_list(workshop: Workshop, machine_id: int, kept: Kept, by: Factor, per: Per) -> RateList:
    """Return how often thread breaks, by anything that was on, an hour or on 1000 m."""
    workshop.machine(machine_id)
    return _list(kept.evidence(workshop), by, per)


def _list(found: Evidence, by: Factor, per: Per) -> RateList:
    lines = found.rates(by, per)[:MOST_LISTED]
    unknown = ""
    if not lines:
        what = "with all its metres noted " if per is Per.KILOMETRE else ""
        unknown = f"No stitching {what}is on record with the {FACTOR_NAMES[by]} known."
    return RateList(by=by, per=per, lines=lines, unknown=unknown)


def _in_order(factor: Factor, levels: Iterable[str]) -> Sequence[str]:
    """Return classes of a number in its order, names by the alphabet."""
    order = {name: n for ends in (AGES_H, PACES_M_H) for n, name in enumerate(classes(ends))}
    return sorted(levels, key=lambda level: (order.get(level, 0), level))


def _here(found: Evidence, setup: Setup, machine: str) -> dict[str, str]:
    needle = setup.needle
    kind = NeedleKind.like(needle) if needle else None
    return {
        "thread": " + ".join(found.threads.get(t.id, t.in_full) for t in setup.top),
        "below": found.threads.get(setup.bobbin.id, setup.bobbin.in_full) if setup.bobbin else "",
        "needle": f"{kind.words}, on {machine}" if kind else "",
        "finish": kind.finish.value if kind else "",
        "point": kind.point.value if kind else "",
        "machine": machine,
    }


def _rates(found: Evidence, factor: Factor, per: Per) -> list[RateLine]:
    lines = []
    for level, mine in by_level(found.stretches, factor).items():
        rate = rate_of(exposures(mine, per), found.spreads[per], found.means[per])
        if rate is not None:
            records = sorted((number for stretch in mine for number in stretch.records), reverse=True)[:MOST_RECORDS]
            lines.append(RateLine(level=level, rate=rate, text=_rate_words(rate, per), records=records))
    if factor in (Factor.NEEDLE_AGE, Factor.PACE):
        order = _in_order(factor, [line.level for line in lines])
        return sorted(lines, key=lambda line: order.index(line.level))
    return sorted(lines, key=lambda line: -line.rate.amount)


def _rate_words(rate: Rate, per: Per) -> str:
    quilts = f"{rate.quilts} quilt{'s' if rate.quilts != 1 else ''}"
    amount = f"{rate.amount:.1f} h" if per is Per.HOUR else f"{1000 * rate.amount:.0f} m"
    each = "an hour" if per is Per.HOUR else "on 1000 m"
    plain = f"{rate.breaks} in {amount} on {quilts}, {rate.plain_low:.2f} to {rate.plain_high:.2f}"
    return (
        f"about {rate.per_unit:.2f} breaks {each}, {rate.low:.2f} to {rate.high:.2f}, quilts differing as yours do "
        f"(plain count: {plain})"
    )


def _spread_words(spread: Spread) -> str:
    """Say how far quilts lie apart: nineteen in twenty within this factor of what is usual."""
    times = exp(Z95.value * spread.mean**0.5)
    return (
        f"Quilts differ: one in twenty breaks thread over {times:.1f} times as often as is usual, or as seldom. "
        "The intervals allow for that; the plain count does not."
    )


def _lives(workshop: Workshop, prices: Mapping[NeedleKind, float]) -> list[LifeLine]:
    """Return lives by kind and machine, from the same needles that the Needle station goes by."""
    lines = [
        _life(kind, machine.spec.nickname, spans, prices.get(kind))
        for machine in workshop.machines()
        for kind, spans in workshop.runs.needle_spans(machine.id).items()
    ]
    return sorted(lines, key=lambda line: -line.hours)


def _life(kind: NeedleKind, machine: str, spans: Sequence[NeedleSpan], price: float | None) -> LifeLine:
    bad = sum(span.trouble for span in spans)
    mean, weibull = restricted_mean(spans), fit_weibull(spans)
    told = life_told(spans)
    change = change_at(told) if told and told.wears_out else None
    cost = cost_per_hour(price, kind.finish, own_life(spans), mean=mean) if price is not None else None
    count = (
        f"{len(spans)} needle{'s' if len(spans) != 1 else ''}, {sum(s.hours for s in spans):.0f} h, {bad} in trouble"
    )
    if not bad:
        text = f"No trouble yet ({count}): how long they last cannot be told."
    elif told is None:
        text = f"Too few troubles to say more than the curve does ({count})."
    else:
        at = f"changing costs least at {change.hours:.0f} h, " if change and change.hours else ""
        within = f"{mean.hours:.1f} h of the first {mean.within_h:.0f} without trouble" if mean else ""
        school = f"the schools say {HOURS_LIFE[0].value:.0f} to {HOURS_LIFE[1].value:.0f} h"
        text = f"{within}; {at}{school} ({count}). {told.words}"
    if cost and cost.low is not None and cost.high is not None:
        text += f" An hour costs {cost.per_hour:.2f} in needles, {cost.low:.2f} to {cost.high:.2f}."
    return LifeLine(
        kind=f"{kind.words}, on {machine}",
        needles=len(spans),
        troubles=bad,
        hours=sum(span.hours for span in spans),
        curve=kaplan_meier(spans),
        mean=mean,
        weibull=weibull,
        change=change,
        cost=cost,
        text=text,
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
        Statement(
            about="lives", text=f"{line.kind[:1].upper()}{line.kind[1:]}: {line.text}", more="The needle that is in."
        )
        for line in lives
        if line.kind == here["needle"]
    ]
    for each in mine:
        if not each.compared.said:
            said.append(_of_comparison(each))
    return said[:MOST_SAID]


def _rate_in_short(line: RateLine, factor: Factor = Factor.TOP_THREAD) -> str:
    hours = (1 / line.rate.high, 1 / line.rate.per_unit, 1 / line.rate.low)
    what = f"With {line.level} on the needle thread" if factor is Factor.NEEDLE_AGE else line.level
    return f"{what} breaks about once in {hours[1]:.0f} h, {hours[0]:.0f} to {hours[2]:.0f}."


def _of_comparison(each: Comparison) -> Statement:
    """The first sentence in large letters, what it rests on below."""
    short, _, rest = each.text.partition(". ")
    return Statement(about="comparisons", text=f"{short}.", more=rest)


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
        ("Breaks an hour, by the thread on top", [f"{line.level}: {line.text}" for line in page.rates.lines]),
        ("How long needles last", [f"{line.kind}: {line.text}" for line in page.lives]),
    ]
    foot = f"From the log of the workshop. {page.spread_text}"
    return report("What the records say", f"Printed {day_in_words(now, zone)}", numbers, sections, foot)


class Beside(StrEnum):
    """A station beside whose advice the records have a word."""

    THREAD = "thread"
    NEEDLE = "needle"
    BOBBIN = "bobbin"
    RUN = "run"
    MEND = "mend"


#: What is said of at each station: the factors whose rates are told, and those whose comparisons are.
_TOLD: Mapping[Beside, tuple[tuple[Factor, ...], tuple[Factor, ...]]] = {
    Beside.THREAD: ((Factor.TOP_THREAD,), (Factor.TOP_THREAD,)),
    Beside.NEEDLE: ((), (Factor.FINISH, Factor.POINT)),
    Beside.BOBBIN: ((Factor.BOBBIN_THREAD,), ()),
    Beside.RUN: ((Factor.TOP_THREAD, Factor.NEEDLE_AGE), ()),
    Beside.MEND: ((Factor.TOP_THREAD, Factor.NEEDLE_AGE), ()),
}
#: Words of the records at a station at most: it is not what one came for.
MOST_BESIDE = 3


def said_beside(workshop: Workshop, machine_id: int, kept: Kept, station: Beside) -> list[Statement]:
    """Return what the records say of what is on, of what a station advises on; the page says it at length."""
    machine = workshop.machine(machine_id).spec
    found, setup = kept.evidence(workshop), workshop.setup(machine_id)
    here = _here(found, setup, machine.nickname)
    hours = time_on(workshop, machine_id, setup).needle_hours
    now = {
        Factor.TOP_THREAD: here["thread"],
        Factor.BOBBIN_THREAD: here["below"],
        Factor.NEEDLE_AGE: class_of(hours, AGES_H) if setup.needle else "",
    }
    rates, comparisons = _TOLD[station]
    said = []
    for factor in rates:
        said += [
            Statement(about="rates", text=_rate_in_short(line, factor), more=f"{line.text.capitalize()}.")
            for line in found.rates(factor)
            if line.level == now[factor]
        ]
    if station is Beside.NEEDLE:
        said += [
            Statement(about="lives", text=f"{line.kind[:1].upper()}{line.kind[1:]}: {line.text}", more="")
            for line in found.lives
            if line.kind == here["needle"]
        ]
    told = [each for each in found.comparisons(comparisons) if each.compared.said]
    mine = [each for each in told if {each.compared.first, each.compared.second} & {*here.values(), *now.values()}]
    said += [_of_comparison(each) for each in mine]
    return said[:MOST_BESIDE]
