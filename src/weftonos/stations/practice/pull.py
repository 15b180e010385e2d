"""Pull evenly: the stand-in gauge follows the hand's rhythm; how evenly it repeats says how many pulls to take."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from itertools import pairwise
from statistics import fmean, stdev
from typing import Any

import numpy as np

from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.standing import estimate
from weftonos.stations.practice.views import PracticeMove, Shown, Takes

PULLS, TAPS = 5, 12
#: How much faster a hand must go for the gauge to read e times as much, as a share; and the pace it is set for.
FOLLOWS_SPEED, PACE_S = estimate(0.22, "of the reading"), estimate(0.35, "s a tap")
#: How closely one wants to know a reading.
WANTED = estimate(0.05, "of the reading", "half of an ordinary range")
FEWEST, MOST = 2, 10
SHORTEST_S, LONGEST_S = 0.03, 5.0


def begin_pull(seed: int) -> dict[str, Any]:
    """Return the case of a round: its true pull."""
    return {"mean_mn": float(np.random.default_rng([seed, 4]).uniform(150, 230))}


def check_pull(move: PracticeMove) -> None:
    """Raise :class:`CraftError` for taps that are no pull."""
    if len(move.taps) != TAPS:
        raise CraftError(f"A pull is {TAPS} taps; this was {len(move.taps)}.", "taps")
    gaps = _gaps(move.taps)
    if not all(SHORTEST_S <= gap <= LONGEST_S for gap in gaps):
        raise CraftError("Tap on, one after the other, at an easy pace: this one broke off.", "taps")


def _gaps(taps: Sequence[float]) -> list[float]:
    return [after - before for before, after in pairwise(taps)]


def reading(mean_mn: float, taps: Sequence[float]) -> tuple[float, float]:
    """Return the lowest and the highest that the gauge shows in one pull: a faster hand reads higher."""
    smooth = np.convolve(_gaps(taps), [1 / 3] * 3, "valid")
    shown = [mean_mn * (1 + FOLLOWS_SPEED.value * math.log(PACE_S.value / gap)) for gap in smooth]
    return min(shown), max(shown)


def repeats_within(pulls: Sequence[tuple[float, float]]) -> float | None:
    """Return the spread of pulls from one to the next, as a share of their mean; ``None`` for fewer than two."""
    means = [(low + high) / 2 for low, high in pulls]
    return stdev(means) / fmean(means) if len(means) > 1 else None


def pulls_advised(repeatability: float) -> int:
    """Return how many pulls a hand takes to know a reading within 5 %, 95 in 100.

    >>> pulls_advised(0.02), pulls_advised(0.08)
    (2, 10)
    """
    return min(MOST, max(FEWEST, math.ceil((Z95.value * repeatability / WANTED.value) ** 2)))


def show_pull(item: Mapping[str, Any], moves: Sequence[Mapping[str, Any]]) -> Shown:
    """Return what the gauge showed, and at the end how evenly the hand pulled."""
    pulls = [reading(item["mean_mn"], move["taps"]) for move in moves]
    over = len(pulls) >= PULLS
    told = [f"{(low + high) / 2:.0f} mN, wavers {(high - low) / (high + low):.0%}" for low, high in pulls]
    feedback, right = "", None
    if pulls:
        low, high = pulls[-1]
        wavers = (high - low) / (high + low)
        right = wavers < 0.05
        feedback = f"{told[-1]}. {'Calm.' if right else 'Too uneven: find a rhythm and keep it.'}"
    spread = repeats_within(pulls) if over else None
    result = []
    if spread is not None:
        advised = pulls_advised(spread)
        result = [
            f"From pull to pull within {spread:.1%}.",
            f"For a reading good to 5 % take {advised} pulls.",
            f"The case pulls {item['mean_mn']:.0f} mN at the pace it is made for.",
        ]
    return Shown(
        ask="The round is over." if over else f"Tap evenly {TAPS} times: each tap draws a hand's breadth of thread.",
        takes=Takes.NOTHING if over else Takes.TAPS,
        step=min(len(pulls) + 1, PULLS),
        steps=PULLS,
        taps=TAPS,
        told=told,
        feedback=feedback,
        right=right,
        score=None if spread is None else 100 * max(0.0, 1 - spread / 0.15),
        result=result,
    )
