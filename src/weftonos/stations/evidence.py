"""What your records say: how often thread breaks, how long needles last, and what of it goes for what is on now."""

from __future__ import annotations

import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from math import exp

from weftonos.core.evidence.rates import Rate, Spread, learn_spread, rate_of
from weftonos.core.evidence.records import Factor, NeedleUse, Stretch, by_level, exposures
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
from weftonos.core.needle.life import HOURS_LIFE
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.setup import Setup
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.report import report
from weftonos.knowledge import troubles
from weftonos.stations.comparisons import Comparison, comparisons_of
from weftonos.store.evidence import read_needles, read_stretches, state_of_the_log
from weftonos.store.workshop import Workshop

#: Combinations and lives that are listed, those with the most behind them.
MOST_LISTED = 12
#: Statements on top of the page.
MOST_SAID = 4


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
        comparisons=comparisons_of(stretches, needles),
    )


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
    needle = setup.needle
    kind = NeedleKind.of(needle.finish, needle.point, needle.metric) if needle else None
    return {
        "thread": setup.top_in_full,
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
