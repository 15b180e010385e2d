"""How a bobbin stands by looks of a hand, and how often that hand feels it wrong.

Common practice believes the hand. How often it errs is ours to estimate (E): what it felt on bobbins under one screw
tells, for a screw rarely moves by itself.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.bobbin.events import Feel
from weftonos.core.kernel.spoken import number_word
from weftonos.core.kernel.standing import estimate

#: How often a bobbin is another than the one before under one screw.
MOVES = estimate(0.05)
#: How often a hand feels a bobbin wrong, and how many looks that weighs while it is learned.
FELT_WRONG, FELT_WEIGHS = estimate(0.15), estimate(10, "looks")
#: What may be learned of it: a hand that errs half the time tells nothing.
_WRONG = tuple(n / 50 for n in range(1, 25))
#: From this chance of being right on, a bobbin that felt off is felt once more before its screw is turned; and from
#: this one on, the screw is left as it is after the second time.
FEEL_AGAIN_FROM, LEAVE_FROM = estimate(0.3), estimate(0.5)
#: Looks that are told of when a hand is said to feel wrong so often.
TOLD_FROM = estimate(6, "looks")

#: What one bobbin felt like, look by look; nothing where nobody felt it.
Feels = tuple[Feel, ...]


@dataclass(frozen=True, kw_only=True)
class UnderOneScrew:
    """Bobbins under a screw that nobody turned, oldest first, and the chance that the first of them was right."""

    at_first: float
    bobbins: Sequence[Feels]


@dataclass(frozen=True, kw_only=True)
class FeltSoFar:
    """The ``chance`` that the bobbin that is in is right, how often the hand feels ``wrong``, and its ``looks``."""

    chance: float
    wrong: float
    looks: int


class Then(StrEnum):
    """What to do about a bobbin that felt off."""

    FEEL_AGAIN = "feel_again"
    LEAVE = "leave"
    TURN = "turn"


def by_hand(screws: Sequence[UnderOneScrew]) -> FeltSoFar:
    """Return how the bobbin that is in stands, the last of the last of ``screws``, and how often its hand errs.

    How often a hand errs is averaged over what it may be: a beta distribution of ``FELT_WRONG`` that weighs
    ``FELT_WEIGHS`` looks, times how likely all of its looks are then.
    """
    first, second = FELT_WRONG.value * FELT_WEIGHS.value, (1 - FELT_WRONG.value) * FELT_WEIGHS.value
    chance = wrong_by = total = 0.0
    for wrong in _WRONG:
        likely = wrong ** (first - 1) * (1 - wrong) ** (second - 1)
        right = 0.0
        for screw in screws:
            right, told = _forward(screw, wrong)
            likely *= told
        total += likely
        chance += likely * right
        wrong_by += likely * wrong
    looks = sum(len(feels) for screw in screws for feels in screw.bobbins)
    return FeltSoFar(chance=chance / total, wrong=wrong_by / total, looks=looks)


def _forward(screw: UnderOneScrew, wrong: float) -> tuple[float, float]:
    """Return the chance that the last bobbin is right, and how likely all looks are.

    Right or off is a hidden state that changes from one bobbin to the next now and then, and is felt wrong now and then
    (the forward pass of a hidden Markov model; Rabiner 1989, *Proceedings of the IEEE* 77).
    """
    right, likely = screw.at_first, 1.0
    for feels in screw.bobbins:
        right = right * (1 - MOVES.value) + (1 - right) * MOVES.value
        for feel in feels:
            told, other = (1 - wrong, wrong) if feel is Feel.RIGHT else (wrong, 1 - wrong)
            both = right * told + (1 - right) * other
            right, likely = right * told / both, likely * both
    return right, likely


def look_saves(chance: float, wrong: float) -> float:
    """Return the chance that looks by hand put a bobbin right, less the chance that they spoil one that is right.

    A screw is turned where two looks in a row say off.
    """
    return (1 - chance) * (1 - wrong) ** 2 - chance * wrong**2


def after_a_look(stands: FeltSoFar, looks: int) -> Then:
    """Say what to do about a bobbin that felt off at the last of so many ``looks`` at it.

    A hand errs more often than a screw moves by itself: what is likely right is felt once more, and its screw stays as
    it is while that says no more than one more error.
    """
    if stands.chance < FEEL_AGAIN_FROM.value:
        return Then.TURN
    return Then.LEAVE if looks > 1 and stands.chance >= LEAVE_FROM.value else Then.FEEL_AGAIN


def wrong_words(stands: FeltSoFar) -> str:
    """Return how often a hand feels it wrong: anybody's, or one's own once it has felt enough.

    >>> wrong_words(FeltSoFar(chance=0.6, wrong=0.15, looks=1))
    'A hand feels it wrong about one time in seven.'
    >>> wrong_words(FeltSoFar(chance=0.6, wrong=0.3, looks=20))
    'Your hand feels it wrong about one time in three.'
    """
    known = stands.looks >= TOLD_FROM.value
    whose, wrong = ("Your", stands.wrong) if known else ("A", FELT_WRONG.value)
    one_in = number_word(max(2, min(10, math.floor(1 / wrong + 0.5))))
    return f"{whose} hand feels it wrong about one time in {one_in}."
