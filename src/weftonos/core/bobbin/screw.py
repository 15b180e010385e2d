"""The case screw: how many minutes of a clock face to turn, and what reading to expect.

The larger of the two screws on the case; clockwise tightens. Turns are counted in minutes of a clock face, 60 to
a turn. The model is linear in the logarithm: each minute turned changes ln(reading) by b. Every case has its own
b, learned by conjugate Bayesian regression through the origin from its before-and-after readings.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.spoken import pull, so_many
from weftonos.core.kernel.standing import estimate, practice

#: Change of ln(reading) per minute of the clock, and one standard deviation between cases.
RESPONSE_MEAN = estimate(0.025, "per minute", "minutes of a clock face")
RESPONSE_SPREAD = estimate(0.015, "per minute", "minutes of a clock face")
#: What a gauge repeats to from pull to pull.
REPEATS = estimate(0.03, "of the reading")
#: Scatter of ln(after/before) from the gauge alone: three pulls a reading, two readings.
READING_NOISE = estimate(REPEATS.value * math.sqrt(2 / 3), "", "three pulls a reading, two readings")
#: A response below this would mean a screw that does nothing.
RESPONSE_FLOOR = estimate(0.003, "per minute")
#: A hand turns a screw to about a minute.
TURNING_ERROR = estimate(1, "minute")
#: A screw does not answer quite alike over its way, nor in both directions: this share of its response stays in doubt.
SLOPE_IN_DOUBT = estimate(0.25, "of the response")
#: The gauge's noise counts as so many turns when the scatter of a case's own turns is learned.
NOISE_WEIGHS = estimate(2, "turns")
#: From so many turns on a screw can be told to answer no more.
TURNS_TO_TELL = estimate(3, "turns")
THEN_PULL = ", then pull again"
MOST_MINUTES = practice(15, "minutes")
#: From so many turns back, and so many minutes lost in each, a screw is known to have play.
TURNS_BACK = estimate(2, "turns back")
PLAY_FROM = estimate(2, "minutes")


class TurnDirection(StrEnum):
    """Which way, seen from the screw side."""

    TIGHTEN = "tighten"
    LOOSEN = "loosen"


@dataclass(frozen=True)
class ScrewTurn:
    """One turn on record: minutes (above 0 tightens) and the readings before and after in mN."""

    minutes: float
    before_mn: float
    after_mn: float

    def __post_init__(self) -> None:
        require_between(
            value=abs(self.minutes),
            low=0,
            high=60,
            what="One turn of the screw",
            field="minutes",
            unit="minutes",
            above_low=True,
        )
        require_between(
            value=self.before_mn,
            low=0,
            high=5000,
            what="The reading before",
            field="before_mn",
            unit="mN",
            above_low=True,
        )
        require_between(
            value=self.after_mn,
            low=0,
            high=5000,
            what="The reading after",
            field="after_mn",
            unit="mN",
            above_low=True,
        )


@dataclass(frozen=True, kw_only=True)
class ScrewResponse:
    """Posterior of b, per minute: mean and standard deviation, and how many turns it rests on.

    ``noise`` is what ln(after/before) scatters beside it. A screw that is turned and changes nothing no longer
    ``answers``. ``play`` is what a turn back loses in minutes before it takes hold, 0 where none is known.
    """

    mean: float
    spread: float
    turns: int
    noise: float = READING_NOISE.value
    answers: bool = True
    play: float = 0.0

    def after(self, mean_mn: float, minutes: float) -> float:
        """Return the reading to expect, in mN, after a turn of so many minutes; above 0 tightens."""
        return mean_mn * math.exp(self.mean * minutes)

    def half(self, minutes: float) -> float:
        """Half of the 95 % interval of ln(reading) after a turn of so many minutes."""
        slope = math.hypot(self.spread, SLOPE_IN_DOUBT.value * self.mean) * abs(minutes)
        return Z95.value * math.hypot(slope, TURNING_ERROR.value * self.mean, self.noise)


@dataclass(frozen=True, kw_only=True)
class ScrewAdvice:
    """Which way, how far, what to expect (mN), with a 95 % interval."""

    direction: TurnDirection
    minutes: int
    expected_mn: float
    expected_low_mn: float
    expected_high_mn: float
    text: str

    def without_a_pull(self) -> ScrewAdvice:
        """Return it where no pull is needed after the turn."""
        return replace(self, text=self.text.replace(THEN_PULL, ""))


def learn_response(history: Sequence[ScrewTurn]) -> ScrewResponse:
    """Return the posterior of a case's response from its recorded turns.

    Normal prior (our estimates), normal noise of known size: the conjugate update of a regression through the
    origin of ln(after/before) on minutes. The noise is then what the turns scatter about it, with the gauge's own
    noise as a prior of two turns.

    >>> learn_response([]).mean
    0.025
    """
    play = _play(history)
    precision = 1 / RESPONSE_SPREAD.value**2
    weighted = RESPONSE_MEAN.value * precision
    noise = 1 / READING_NOISE.value**2
    taken = [(_beyond(minutes, play if back else 0.0), log) for minutes, log, back in _turns(history)]
    for minutes, log in taken:
        precision += minutes**2 * noise
        weighted += minutes * log * noise
    mean = max(weighted / precision, RESPONSE_FLOOR.value)
    off = sum((log - mean * minutes) ** 2 for minutes, log in taken)
    weighs = NOISE_WEIGHS.value
    scatter = (weighs * READING_NOISE.value**2 + off) / (weighs + len(history))
    return ScrewResponse(
        mean=mean,
        spread=precision**-0.5,
        turns=len(history),
        noise=math.sqrt(max(scatter, READING_NOISE.value**2)),
        answers=_answers(history),
        play=play,
    )


def _turns(history: Sequence[ScrewTurn]) -> list[tuple[float, float, bool]]:
    """Return each turn's minutes, what it did to ln(reading), and whether it went back on the one before."""
    before = [0.0, *(turn.minutes for turn in history)]
    return [
        (turn.minutes, math.log(turn.after_mn / turn.before_mn), last * turn.minutes < 0)
        for last, turn in zip(before, history, strict=False)
    ]


def _beyond(minutes: float, play: float) -> float:
    """Return what is left of a turn once the play is taken up."""
    return math.copysign(max(abs(minutes) - play, 0.0), minutes)


def _play(history: Sequence[ScrewTurn]) -> float:
    """Return the play of a screw: what turns back fell short of by the response of those that went on."""
    turns = _turns(history)
    on = [(minutes, log) for minutes, log, back in turns if not back]
    backs = [(minutes, log) for minutes, log, back in turns if back]
    if len(backs) < TURNS_BACK.value:
        return 0.0
    noise = READING_NOISE.value**2
    weighted = sum(minutes * log for minutes, log in on) / noise + RESPONSE_MEAN.value / RESPONSE_SPREAD.value**2
    slope = weighted / (sum(minutes**2 for minutes, _ in on) / noise + 1 / RESPONSE_SPREAD.value**2)
    lost = [
        abs(minutes) - max(math.copysign(log, minutes * log) / max(slope, RESPONSE_FLOOR.value), 0.0)
        for minutes, log in backs
    ]
    mean = sum(lost) / len(lost)
    return mean if mean >= PLAY_FROM.value and min(lost) > 0 else 0.0


def _answers(history: Sequence[ScrewTurn]) -> bool:
    """Say whether the last turns can have changed anything: their own slope, without what screws usually do."""
    last = history[-int(TURNS_TO_TELL.value) :]
    if len(last) < TURNS_TO_TELL.value:
        return True
    far = sum(turn.minutes**2 for turn in last)
    slope = sum(turn.minutes * math.log(turn.after_mn / turn.before_mn) for turn in last) / far
    return slope + Z95.value * READING_NOISE.value / math.sqrt(far) > 2 * RESPONSE_FLOOR.value


def advise_turn(mean_mn: float, aim_mn: float, history: Sequence[ScrewTurn] = ()) -> ScrewAdvice:
    """Return the turn that brings a steady reading to ``aim_mn``, at most a quarter turn.

    The minutes minimize the expected squared error of ln(reading) under the posterior of b, so a case not yet
    known is turned with more care than one with turns on record.
    """
    response = learn_response(history)
    wanted = math.log(aim_mn / mean_mn)
    best = wanted * response.mean / (response.mean**2 + response.spread**2)
    back = bool(history) and history[-1].minutes * wanted < 0
    play = response.play if back else 0.0
    minutes = math.copysign(max(1, min(int(MOST_MINUTES.value), round(abs(best) + play))), wanted)
    signed = _beyond(minutes, play)
    return turn_by(int(minutes), response.after(mean_mn, signed), response.half(signed))


def turn_by(minutes: int, expected_mn: float, half: float) -> ScrewAdvice:
    """Return the advice to turn by ``minutes``, above 0 in; ``half`` is half of the 95 % interval of ln(reading)."""
    direction = TurnDirection.TIGHTEN if minutes > 0 else TurnDirection.LOOSEN
    way = "clockwise" if direction is TurnDirection.TIGHTEN else "anticlockwise"
    return ScrewAdvice(
        direction=direction,
        minutes=abs(minutes),
        expected_mn=expected_mn,
        expected_low_mn=expected_mn * math.exp(-half),
        expected_high_mn=expected_mn * math.exp(half),
        text=f"{direction.value.capitalize()} {so_many(abs(minutes), 'minute')}, {way}. "
        f"Expect about {pull(expected_mn)}{THEN_PULL}.",
    )
