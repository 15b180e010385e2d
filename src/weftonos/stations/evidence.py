"""What your records say: how often thread breaks, how long needles last, and what of it goes for what is on now."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from math import exp

from weftonos.core.evidence.rates import Spread
from weftonos.core.evidence.records import (
    AGES_H,
    FACTOR_NAMES,
    OF_NEEDLES,
    Factor,
    Per,
    class_of,
    under,
)
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.spoken import at_the_start, in_hours, so_many
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.setup import Setup
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.report import Curve, Section, report
from weftonos.exchange.strip import Paper
from weftonos.learned.comparisons import Comparison
from weftonos.learned.evidence import (
    Evidence,
    EvidenceCache,
    LifeLine,
    RateLine,
    every_so_often,
    hours_between,
    rests_on,
)
from weftonos.learned.time_on import time_on
from weftonos.store.workshop import Workshop

#: Combinations and lives that are listed, those with the most behind them.
MOST_LISTED = 12
#: Statements on top of the page.
MOST_SAID = 4


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


def evidence_page(workshop: Workshop, machine_id: int, kept: EvidenceCache) -> EvidencePage:
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


def rate_list(workshop: Workshop, machine_id: int, kept: EvidenceCache, by: Factor, per: Per) -> RateList:
    """Return how often thread breaks, by anything that was on, an hour or on 1000 m."""
    workshop.machine(machine_id)
    return _list(kept.evidence(workshop), by, per)


def _list(found: Evidence, by: Factor, per: Per) -> RateList:
    lines = found.rates(by, per)[:MOST_LISTED]
    unknown = ""
    if not lines:
        what = "with all its meters noted " if per is Per.KILOMETER else ""
        unknown = f"No stitching {what}is on record with the {FACTOR_NAMES[by]} known."
    return RateList(by=by, per=per, lines=lines, unknown=unknown)


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


def _spread_words(spread: Spread) -> str:
    """Say how far quilts lie apart: nineteen in twenty within this factor of what is usual."""
    times = exp(Z95.value * spread.mean**0.5)
    return (
        "Some quilts are much harder on thread than others, so the ranges are wide. One quilt in twenty breaks thread "
        f"over {figure(times, 1)} times as often as usual, or that much less."
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
        Statement(about="rates", text=_rate_in_short(line), more=f"From {rests_on(line.rate)}.")
        for line in rates
        if line.level == here["thread"]
    ]
    said += [
        Statement(
            about="lives",
            text=f"{at_the_start(line.kind)}: {line.text}",
            more="In the machine now.",
        )
        for line in lives
        if line.kind == here["needle"]
    ]
    for each in mine:
        if not each.compared.said:
            said.append(_of_comparison(each))
    return said[:MOST_SAID]


def _rate_in_short(line: RateLine, factor: Factor = Factor.TOP_THREAD) -> str:
    return f"{at_the_start(under(factor, line.level))}, thread breaks {every_so_often(line.rate)}."


def _of_comparison(each: Comparison) -> Statement:
    """The first sentence in large letters, what it rests on below."""
    short, _, rest = each.text.partition(". ")
    return Statement(about="comparisons", text=f"{short}.", more=rest)


def printed_evidence(
    workshop: Workshop, machine_id: int, kept: EvidenceCache, *, now: datetime, zone: str, paper: Paper
) -> list[Sheet]:
    """Lay out what the records say, to be kept with a season's papers."""
    page = evidence_page(workshop, machine_id, kept)
    numbers = [
        ("Stitched", f"{page.hours:.0f} h on {so_many(page.quilts, 'quilt')}"),
        ("Breaks", str(page.breaks)),
        ("Needles", str(page.needles)),
    ]
    here = [f"{said.text} {said.more}" for said in page.statements]
    sections = [
        Section(head="For this combination", lines=here),
        Section(
            head="Two kinds side by side",
            lines=[each.text for each in page.comparisons if not any(each.text in said for said in here)],
        ),
        _of_breaks(page.rates.lines),
        _of_needles(page.lives),
    ]
    return report(
        "What the records say",
        f"Printed {day_in_words(now, zone)}",
        numbers=numbers,
        sections=sections,
        foot=f"From the log of the workshop. {page.spread_text}",
        paper=paper,
    )


def _of_breaks(lines: Sequence[RateLine]) -> Section:
    rows = []
    for line in lines:
        about, low, high, unit = hours_between(line.rate)
        rows.append((line.level, f"{about} {unit}", f"{low} to {high} {unit}", rests_on(line.rate)))
    heads = ("Thread on top", "Once in about", "Most likely", "Counted")
    return Section(
        head="How often thread breaks", table=[heads, *rows] if rows else (), shares=(0.31, 0.13, 0.16, 0.40)
    )


def _of_needles(lives: Sequence[LifeLine]) -> Section:
    rows = [
        (
            line.kind,
            str(line.needles),
            figure(line.hours, 0),
            str(line.troubles) if line.troubles else "none",
            f"{figure(line.mean.hours, 1)} of the first {line.mean.within_h:.0f} h"
            if line.told and line.mean
            else "too soon",
            figure(line.cost.per_hour, 2) if line.cost else "",
        )
        for line in lives
        if line.needles > 1
    ]
    alone = len(lives) - len(rows)
    rest = [f"{so_many(alone, 'more kind')} had one needle: too soon to say anything."] if alone else []
    heads = ("Needle", "Needles", "Hours", "In trouble", "Good for", "Cost an hour")
    changes = [
        f"{line.kind}: changing costs least at {in_hours(line.change.hours)}."
        for line in lives
        if line.change and line.change.hours
    ]
    curves = [
        Curve(name=line.kind, steps=[(step.hours, step.share) for step in line.curve], unit="h")
        for line in lives
        if line.told
    ]
    return Section(
        head="How long needles last",
        lines=[
            *changes,
            *([CURVES_SAY] if curves else []),
            *rest,
        ],
        table=[heads, *rows] if rows else (),
        shares=(0.39, 0.09, 0.07, 0.11, 0.22, 0.12),
        curves=curves[:MOST_DRAWN],
    )


CURVES_SAY = "The curves: how many of a kind are still good after so many hours."
#: Curves on paper, of the kinds that were stitched with most.
MOST_DRAWN = 3


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


def said_beside(workshop: Workshop, machine_id: int, kept: EvidenceCache, station: Beside) -> list[Statement]:
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
            Statement(about="rates", text=_rate_in_short(line, factor), more=f"From {rests_on(line.rate)}.")
            for line in found.rates(factor)
            if line.level == now[factor]
        ]
    if station is Beside.NEEDLE:
        said += [
            Statement(about="lives", text=f"{at_the_start(line.kind)}: {line.text}", more="")
            for line in found.lives
            if line.kind == here["needle"]
        ]
    told = [each for each in found.comparisons(comparisons) if each.compared.said]
    mine = [each for each in told if {each.compared.first, each.compared.second} & {*here.values(), *now.values()}]
    said += [_of_comparison(each) for each in mine]
    return said[:MOST_BESIDE]
