"""Everything the log holds for and against, read once and kept until something is written."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from weftonos.core.evidence.rates import Rate, Spread, learn_spread, mean_of, rate_of
from weftonos.core.evidence.records import (
    AGES_H,
    PACES_M_H,
    Factor,
    NeedleUse,
    Per,
    Stretch,
    by_level,
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
from weftonos.core.kernel.counting import likely_of
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.spoken import in_hours, length, so_many
from weftonos.core.needle.life import HOURS_LIFE, HourCost, MeanLife, NeedleSpan, cost_per_hour, own_life
from weftonos.core.needle.needle import NeedleKind
from weftonos.knowledge import troubles
from weftonos.learned.answer_cache import AnswerCache
from weftonos.learned.comparisons import COMPARED_IN, Comparison, by_evidence, comparisons_in
from weftonos.store.evidence import read_needles, read_stretches, thread_names
from weftonos.store.workshop import Workshop

#: Records of breaks that a line names.
RECORDS_NAMED = 200


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


class EvidenceCache(AnswerCache):
    """The evidence of one workshop, read anew only after a write."""

    def evidence(self, workshop: Workshop) -> Evidence:
        """Return the evidence as the log stands."""
        return self.remember(workshop, "evidence", lambda: _read(workshop))


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
    """How long one kind of needle lasts: the curve, the mean, what the shape says, and when changing costs least.

    ``told`` says whether there are enough of them to say more than the curve shows.
    """

    kind: str
    needles: int
    troubles: int
    hours: float
    curve: Sequence[CurveStep]
    told: bool
    mean: MeanLife | None
    weibull: Weibull | None
    change: ChangeAt | None
    cost: HourCost | None
    text: str


def _in_order(factor: Factor, levels: Iterable[str]) -> Sequence[str]:
    """Return classes of a number in its order, names by the alphabet."""
    order = {name: n for ends in (AGES_H, PACES_M_H) for n, name in enumerate(classes(ends))}
    return sorted(levels, key=lambda level: (order.get(level, 0), level))


def _rates(found: Evidence, factor: Factor, per: Per) -> list[RateLine]:
    lines = []
    for level, mine in by_level(found.stretches, factor).items():
        rate = rate_of(exposures(mine, per), found.spreads[per], found.means[per])
        if rate is not None:
            records = sorted((number for stretch in mine for number in stretch.records), reverse=True)[:RECORDS_NAMED]
            lines.append(RateLine(level=level, rate=rate, text=_rate_words(rate, per), records=records))
    if factor in (Factor.NEEDLE_AGE, Factor.PACE):
        order = _in_order(factor, [line.level for line in lines])
        return sorted(lines, key=lambda line: order.index(line.level))
    return sorted(lines, key=lambda line: -line.rate.amount)


def hours_between(rate: Rate) -> tuple[str, str, str, str]:
    """Return the time between two breaks, from and to which it most likely lies, and in what."""
    hours = [1 / each for each in (rate.per_unit, rate.likely_high, rate.likely_low)]
    times, unit = (60, "minutes") if hours[0] < 1 else (1, "hours")
    about, low, high = (f"{each * times:.0f}" for each in hours)
    return about, low, high, unit


def every_so_often(rate: Rate) -> str:
    """Return how often thread breaks: ``"about once every 10 hours (most likely 6 to 16)"``."""
    about, low, high, unit = hours_between(rate)
    return f"about once every {about} {unit} (most likely {low} to {high})"


def rests_on(rate: Rate, per: Per = Per.HOUR) -> str:
    """Return what a rate was counted on: ``"7 breaks in 72 hours on 18 quilts"``."""
    return f"{so_many(rate.breaks, 'break')} in {_amount(rate, per)} on {so_many(rate.quilts, 'quilt')}"


def _amount(rate: Rate, per: Per) -> str:
    return in_hours(rate.amount) if per is Per.HOUR else length(1000 * rate.amount)


def _rate_words(rate: Rate, per: Per) -> str:
    counted_on = f"in {_amount(rate, per)} on {so_many(rate.quilts, 'quilt')}"
    if per is Per.HOUR:
        return f"{every_so_often(rate)}, {counted_on}"
    figures = (rate.per_unit, rate.likely_low, rate.likely_high)
    about, low, high = (f"{figure(each, significant=2)}" if each < 10 else f"{each:.0f}" for each in figures)
    return f"about {about} breaks in {length(1000)} (most likely {low} to {high}), {counted_on}"


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
    count = f"{so_many(len(spans), 'needle')}, {in_hours(sum(s.hours for s in spans))}"
    if not bad:
        text = f"{count}, no trouble. Too soon to say how long they last."
    elif told is None:
        text = f"{count}, {bad} with trouble. Too soon to say more than the curve shows."
    else:
        within = f"Good for {figure(mean.hours, 1)} of the first {in_hours(mean.within_h)}. " if mean else ""
        at = f"Changing costs least at {in_hours(change.hours)}. " if change and change.hours else ""
        usual = f"Usual practice says {HOURS_LIFE[0].value:.0f} to {HOURS_LIFE[1].value:.0f} hours. "
        text = f"{within}{at}{usual}{told.words} {count}, {bad} with trouble."
    if cost and cost.low is not None and cost.high is not None:
        low, high = likely_of(cost.per_hour, cost.low, cost.high)
        about, least, most = (figure(each, 2) for each in (cost.per_hour, low, high))
        text += f" Needles cost about {about} an hour (most likely {least} to {most})."
    return LifeLine(
        kind=f"{kind.words}, on {machine}",
        needles=len(spans),
        troubles=bad,
        hours=sum(span.hours for span in spans),
        curve=kaplan_meier(spans),
        told=bool(bad) and told is not None,
        mean=mean,
        weibull=weibull,
        change=change,
        cost=cost,
        text=text,
    )
