"""Two kinds of thread or needle side by side, in words: which lasts longer, which breaks thread more often."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import log

from weftonos.core.evidence.compare import Compared, compare_lives, compare_rates, e_value
from weftonos.core.evidence.records import (
    OF_NEEDLES,
    Factor,
    NeedleUse,
    Stretch,
    break_units,
    by_level,
    life_units,
    under,
)
from weftonos.core.kernel.counting import Z95, likely_of
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import in_words
from weftonos.core.kernel.spoken import at_the_start
from weftonos.core.log.planned import Measure

#: Kinds of each sort that are compared by themselves, those with the most stitching.
MOST_COMPARED = 4


@dataclass(frozen=True, kw_only=True)
class TwoKinds:
    """Two kinds to be compared: by how long needles last or by how often thread breaks, in which factor."""

    measure: Measure
    factor: Factor
    first: str
    second: str


@dataclass(frozen=True, kw_only=True)
class Comparison:
    """Two kinds side by side, in words."""

    measure: Measure
    factor: Factor
    compared: Compared
    text: str


#: What kinds are compared in by themselves.
COMPARED_IN = (Factor.FINISH, Factor.POINT, Factor.TOP_THREAD)


def comparisons_in(factor: Factor, stretches: Sequence[Stretch], needles: Sequence[NeedleUse]) -> list[Comparison]:
    """Compare what there is most of in one factor, the greater first; what cannot be told is left out."""
    pairs: list[TwoKinds] = []
    if factor in OF_NEEDLES:
        pairs += _pairs(Measure.LIFE, factor, sorted({use.set_up[factor] for use in needles}))
    grouped = by_level(stretches, factor)
    most = sorted(grouped, key=lambda level: -sum(s.hours for s in grouped[level]))[:MOST_COMPARED]
    pairs += _pairs(Measure.BREAKS, factor, most)
    told = []
    for asked in pairs:
        found = compared(stretches, needles, asked)
        if found.compared.ratio is not None and found.compared.ratio < 1:
            found = compared(stretches, needles, replace(asked, first=asked.second, second=asked.first))
        if not found.compared.cannot:
            told.append(found)
    return told


def by_evidence(told: Sequence[Comparison]) -> list[Comparison]:
    """Return comparisons with those with the most in them on top."""
    return sorted(told, key=lambda each: -_evidence(each.compared))


def _pairs(measure: Measure, factor: Factor, levels: Sequence[str]) -> list[TwoKinds]:
    return [TwoKinds(measure=measure, factor=factor, first=a, second=b) for a, b in combinations(levels, 2)]


def _evidence(found: Compared) -> float:
    if found.ratio is None or found.low is None:
        return 0.0
    deviation = (log(found.ratio) - log(found.low)) / Z95.value
    return e_value(log(found.ratio), deviation**2)


def compared(stretches: Sequence[Stretch], needles: Sequence[NeedleUse], asked: TwoKinds) -> Comparison:
    """Return two kinds side by side, by these records."""
    if asked.measure is Measure.LIFE:
        found = compare_lives(life_units(needles, asked.factor), asked.first, asked.second)
    else:
        found = compare_rates(break_units(stretches, asked.factor), asked.first, asked.second)
    text = _words(asked, found)
    return Comparison(measure=asked.measure, factor=asked.factor, compared=found, text=text)


def _words(asked: TwoKinds, found: Compared) -> str:
    if found.ratio is None or found.low is None or found.high is None:
        return found.cannot
    ratio, low, high = found.ratio, found.low, found.high
    more, less = found.first, found.second
    if ratio < 1:
        # The larger one first: nobody thinks in 0.4 times.
        more, less, ratio, low, high = less, more, 1 / ratio, 1 / high, 1 / low
    likely = likely_of(ratio, low, high)
    within = f"most likely {figure(likely[0], 1)} to {figure(likely[1], 1)} times"
    if not found.said and likely[0] < 1:
        what = "how long they last" if asked.measure is Measure.LIFE else "how often thread breaks"
        text = f"No difference seen between {more} and {less} in {what} ({within})."
    elif asked.measure is Measure.LIFE:
        text = f"{at_the_start(more)} lasts about {figure(ratio, 1)} times as long as {less} here ({within})."
    else:
        # A thread that is sewn with is the one on top, unless it's said otherwise.
        here = under(asked.factor, more, short=asked.factor is Factor.TOP_THREAD)
        than = under(asked.factor, less, short=True)
        text = f"Thread breaks about {figure(ratio, 1)} times as often {here} as {than} ({within})."
    settled = "That's settled." if found.said else "Too soon to be sure."
    allowed = f" We allowed for {in_words(found.adjusted, 'and')}." if found.adjusted else ""
    besides = f" {in_words(found.differed, 'and').capitalize()} differed too." if found.differed else ""
    return f"{text} {settled}{allowed}{besides}"
