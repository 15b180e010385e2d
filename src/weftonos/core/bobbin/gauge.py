"""Reading a bobbin gauge: the mean of a few even pulls, how far the needle swings, and what to do next."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import fmean, stdev

from weftonos.core.bobbin.screw import REPEATS, ScrewAdvice, ScrewTurn, advise_turn, learn_response
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.advice import DO_NOT_FORCE, Caution, Reason
from weftonos.core.kernel.counting import drawn_spread
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError, in_words, require_between
from weftonos.core.kernel.force import MN_PER, ForceUnit, from_mn, to_mn
from weftonos.core.kernel.spoken import FORCE_NAMES, FORCE_SAYS, pull, pull_figure, pull_range
from weftonos.core.kernel.standing import Standing, estimate

CALM_BELOW = estimate(0.05, "", "half of highest less lowest, against their mean")
FLUTTERS_ABOVE = estimate(0.10, "", "half of highest less lowest, against their mean")
#: Prior weight, in pulls, of the gauge's known repeatability.
REPEATS_WEIGHS = estimate(4, "pulls")
#: Tolerance, as a share, within which a tenfold difference means the wrong unit.
TEN_TIMES_SLACK = estimate(0.35)
#: Physically possible range of a bobbin case, in mN. Outside it, without a target, the unit is asked about.
POSSIBLE = (estimate(25, "mN"), estimate(1500, "mN"))
MOST_PULLS = 20
#: Less than half a percent is none.
_SHOWN_FROM = 0.005
#: From this number on a gauge shows mN: as grams it would be more than any case holds.
SHOWN_IN_MN_FROM = estimate(60, "")


class Verdict(StrEnum):
    """What a reading says."""

    ON_TARGET = "on_target"
    LOW = "low"
    HIGH = "high"
    FLUTTERING = "fluttering"
    CHECK_UNIT = "check_unit"
    NO_TARGET = "no_target"


class Calmness(StrEnum):
    """How steadily the gauge stood."""

    CALM = "calm"
    WATCH = "watch"
    FAULT = "fault"
    UNKNOWN = "unknown"


#: How it stood, before the share by which a pull differed.
_HOW_EVEN = {Calmness.CALM: "steady within", Calmness.WATCH: "unsteady by", Calmness.FAULT: "jumps by"}


@dataclass(frozen=True)
class Pull:
    """One long, even pull, in the gauge's unit: a single value, its lowest and highest, or all three of a recording.

    Of a recording ``value`` is the mean of all that was drawn, which is not the middle between the lowest and highest.
    """

    value: float | None = None
    low: float | None = None
    high: float | None = None

    def __post_init__(self) -> None:
        if self.value is not None and self.low is None and self.high is None:
            require_between(value=self.value, low=0, high=10_000, what="A pull", field="value", above_low=True)
            return
        if self.low is None or self.high is None:
            raise CraftError("A pull is one value, or its lowest and its highest.", "value")
        require_between(value=self.low, low=0, high=10_000, what="The lowest of a pull", field="low", above_low=True)
        require_between(value=self.high, low=0, high=10_000, what="The highest of a pull", field="high", above_low=True)
        if self.low > self.high:
            raise CraftError(
                f"The lowest of a pull ({figure(self.low)}) is above its highest ({figure(self.high)}).", "low"
            )
        if self.value is not None and not self.low <= self.value <= self.high:
            raise CraftError(
                f"The mean of a pull ({figure(self.value)}) lies between its lowest and its highest.", "value"
            )

    @property
    def mean(self) -> float:
        """Mean of the pull, in the gauge's unit: the middle, where nothing better is known."""
        return self.value if self.value is not None else ((self.low or 0) + (self.high or 0)) / 2

    @property
    def swing(self) -> float | None:
        """Half of what it swings over its middle; ``None`` for a single value."""
        if self.low is None or self.high is None:
            return None
        return (self.high - self.low) / (self.high + self.low)


@dataclass(frozen=True, kw_only=True)
class GaugeAnswer:
    """What the pulls say.

    ``unit`` is what the gauge is marked in, ``repeatability`` the standard deviation between pulls over their mean,
    unknown for one pull. ``at_edge``: it is out of the range by less than these pulls can tell, so that no turn is
    advised.
    """

    unit: ForceUnit
    mean_mn: float
    mean_gf: float
    swing: float | None
    swing_between: bool
    repeatability: float | None
    calmness: Calmness
    verdict: Verdict
    at_edge: bool
    advice: ScrewAdvice | None
    text: str
    reasons: tuple[Reason, ...]
    cautions: tuple[Caution, ...]


def unit_shown(pulls: Sequence[Pull]) -> ForceUnit:
    """Return what a gauge is most likely marked in, by the size of its numbers.

    A case reads about 120 to 350 mN, which is 12 to 36 grams. Grams and cN differ by two in a hundred: grams then.
    """
    return ForceUnit.MN if pulls and fmean(p.mean for p in pulls) >= SHOWN_IN_MN_FROM.value else ForceUnit.GF


def read_gauge(
    unit: ForceUnit,
    pulls: Sequence[Pull],
    target: BobbinTarget | None = None,
    screw_history: Sequence[ScrewTurn] = (),
    *,
    correction: float = 1.0,
) -> GaugeAnswer:
    """Judge one reading of the bobbin case.

    Parameters
    ----------
    unit: what the gauge is marked in.
    pulls: one to twenty pulls in that unit.
    target: the range to be in, in mN; without one the reading is a number and no verdict on it.
    screw_history: turns of this case's screw on record, from which its response is learned.
    correction: what a known weight has shown the gauge's numbers are to be multiplied by.

    The swing is that of the most restless pull; where only single values were noted it is taken between pulls,
    and unknown for one value alone. A fluttering reading never leads to a turn of the screw.
    """
    if not pulls:
        raise CraftError("Pull two or three times and type each reading.", "pulls")
    if len(pulls) > MOST_PULLS:
        raise CraftError(f"{len(pulls)} pulls are more than one reading. Two or three are enough.", "pulls")
    mean_mn = to_mn(fmean(p.mean for p in pulls), unit) * correction
    swing, between = _swing(pulls)
    calmness = calmness_of(swing)
    reasons = [
        Reason(text=f"Mean of {len(pulls)} pull{'s' if len(pulls) > 1 else ''}: {pull(mean_mn)}.", rule="mean_of_pulls")
    ]
    if correction != 1:
        reasons.append(
            Reason(
                text=f"Corrected by {correction - 1:+.0%}: that is what the known weight showed on this gauge.",
                rule="gauge_checked",
                standing=Standing.OWN_RECORDS,
            )
        )
    if len(pulls) == 1:
        reasons.append(
            Reason(text="One pull can mislead. Two or three long, even ones are better.", rule="two_or_three_pulls")
        )
    if _ten_times_off(mean_mn, target) or not POSSIBLE[0].value <= mean_mn <= POSSIBLE[1].value:
        verdict = Verdict.CHECK_UNIT
        shown = f"{figure(from_mn(mean_mn / correction, unit), significant=4)} {FORCE_SAYS[unit]}"
        text = f"{shown} is far from this case. Check the number and the unit."
        meant = _likely_units(unit, mean_mn, target)
        if meant:
            units = in_words(FORCE_NAMES[each] for each in meant)
            text = f"That looks about ten times off. Is the gauge marked in {units}?"
        reasons.append(Reason(text="A reading about ten times off is the wrong unit.", rule="ten_times_check"))
    elif calmness is Calmness.FAULT:
        verdict = Verdict.FLUTTERING
        text = "The reading flutters. Find the fault before you touch the screw."
        reasons.append(
            Reason(
                text=f"Unsteady by {swing:.0%}, above {FLUTTERS_ABOVE.value:.0%}: a bent case, a badly wound bobbin, a "
                "worn backlash spring, or lint. Try the same bobbin in another case, then another bobbin in this "
                "case. The fault follows one of them.",
                rule="flutter_is_a_fault",
            )
        )
    elif target is None:
        verdict = Verdict.NO_TARGET
        text = "No target yet. When a stitch is beautiful, this is the number to come back to."
        reasons.append(Reason(text="There's no usual number here. Find your own.", rule="own_number"))
    elif mean_mn < target.low:
        verdict, text = Verdict.LOW, f"Low: {pull(target.low - mean_mn)} under {pull_figure(target.low)}."
    elif mean_mn > target.high:
        verdict, text = Verdict.HIGH, f"High: {pull(mean_mn - target.high)} over {pull_figure(target.high)}."
    else:
        verdict, text = Verdict.ON_TARGET, "On target. Leave the screw alone."
    if target is not None:
        origin = f" ({target.origin})" if target.origin else ""
        reasons.append(
            Reason(
                text=f"Target {pull_range(target.low, target.high)}{origin}.",
                rule="bobbin_target",
                standing=target.standing,
            )
        )
    if calmness is Calmness.WATCH and verdict is not Verdict.CHECK_UNIT:
        reasons.append(
            Reason(
                text=f"Unsteady by {swing:.0%}. Watch it on the next bobbin.",
                rule="watch_swing",
                standing=Standing.ESTIMATE,
            )
        )
    turn, scatter_mn = None, standard_error(pulls, unit) * correction
    at_edge = verdict in (Verdict.LOW, Verdict.HIGH) and on_the_edge(mean_mn, scatter_mn, target)
    # Where a turn back first takes up play, a reading left at the edge stays there: it is turned to the middle.
    at_edge = at_edge and not learn_response(screw_history).play
    if at_edge:
        text = f"{text} Less than these pulls can tell: leave the screw, or pull again."
        reasons.append(
            Reason(
                text=f"The mean of {len(pulls)} such pulls is good to {pull(scatter_mn)}.",
                rule="edge_of_the_range",
                standing=Standing.ESTIMATE,
            )
        )
    elif target is not None and verdict in (Verdict.LOW, Verdict.HIGH) and not learn_response(screw_history).answers:
        text = f"{text} This screw no longer changes the tension. Check the spring."
        reasons.append(
            Reason(
                text="The last turns on record changed less than the gauge can tell. A worn screw, a stripped thread "
                "or a spring that lifts does that. Try another case.",
                rule="screw_answers_no_more",
                standing=Standing.OWN_RECORDS,
            )
        )
    elif target is not None and verdict in (Verdict.LOW, Verdict.HIGH):
        turn = advise_turn(mean_mn, target.middle, screw_history)
        text = f"{text} {turn.text}"
        known = len(screw_history)
        reasons.append(
            Reason(
                text=f"Learned from {known} turn{'s' if known > 1 else ''} of this case's screw."
                if known
                else "No turn of this case on record yet: a careful first step from the usual response.",
                rule="screw_response",
                standing=Standing.OWN_RECORDS if known else Standing.ESTIMATE,
            )
        )
    return GaugeAnswer(
        unit=unit,
        mean_mn=mean_mn,
        mean_gf=from_mn(mean_mn, ForceUnit.GF),
        swing=swing,
        swing_between=between,
        repeatability=_repeatability(pulls),
        calmness=calmness,
        verdict=verdict,
        at_edge=at_edge,
        advice=turn,
        text=text,
        reasons=tuple(reasons),
        cautions=(DO_NOT_FORCE,) if turn else (),
    )


def standard_error(pulls: Sequence[Pull], unit: ForceUnit) -> float:
    """Return the standard error of the mean in mN: from the pulls, drawn to what a gauge is known to repeat to."""
    means = [to_mn(p.mean, unit) for p in pulls]
    mean, count = fmean(means), len(means)
    shares = sum((x / mean - 1) ** 2 for x in means)
    return mean * drawn_spread(REPEATS.value, REPEATS_WEIGHS.value, shares, count - 1) / math.sqrt(count)


def on_the_edge(mean_mn: float, scatter_mn: float, target: BobbinTarget | None) -> bool:
    """Say whether a reading is out of its range by less than its own standard error."""
    if target is None:
        return False
    return 0 < max(target.low - mean_mn, mean_mn - target.high) <= scatter_mn


def _swing(pulls: Sequence[Pull]) -> tuple[float | None, bool]:
    within = [p.swing for p in pulls if p.swing is not None]
    means = [p.mean for p in pulls]
    if within:
        return max(within), False
    if len(means) < 2:
        return None, False
    return (max(means) - min(means)) / 2 / fmean(means), True


def _repeatability(pulls: Sequence[Pull]) -> float | None:
    means = [p.mean for p in pulls]
    return stdev(means) / fmean(means) if len(means) > 1 else None


def evenness(calmness: Calmness, swing: float | None) -> str:
    """Return how even a pull was; empty where its lowest and highest weren't noted, or were one.

    >>> evenness(Calmness.CALM, 0.023), evenness(Calmness.WATCH, 0.08), evenness(Calmness.UNKNOWN, None)
    ('steady within 2%', 'unsteady by 8%', '')
    """
    if swing is None or swing < _SHOWN_FROM or calmness is Calmness.UNKNOWN:
        return ""
    return f"{_HOW_EVEN[calmness]} {swing:.0%}"


def calmness_of(swing: float | None) -> Calmness:
    """Return how steadily a gauge stood that differed by so much of its mean."""
    if swing is None:
        return Calmness.UNKNOWN
    if swing < CALM_BELOW.value:
        return Calmness.CALM
    return Calmness.WATCH if swing <= FLUTTERS_ABOVE.value else Calmness.FAULT


def _near(mean_mn: float, target: BobbinTarget) -> bool:
    slack = 1 + TEN_TIMES_SLACK.value
    return target.low / slack <= mean_mn <= target.high * slack


def _ten_times_off(mean_mn: float, target: BobbinTarget | None) -> bool:
    if target is None or _near(mean_mn, target):
        return False
    return _near(mean_mn * 10, target) or _near(mean_mn / 10, target)


def _likely_units(unit: ForceUnit, mean_mn: float, target: BobbinTarget | None) -> list[ForceUnit]:
    """Return the units in which the same number would be near the target."""
    number = from_mn(mean_mn, unit)
    return [u for u in ForceUnit if u is not unit and target and _near(number * MN_PER[u], target)]
