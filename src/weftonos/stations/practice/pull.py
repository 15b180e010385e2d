"""Pull evenly: the stand-in gauge follows the hand, live; how evenly it repeats says how many pulls to take."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise
from statistics import fmean
from typing import Any

import numpy as np

from weftonos.core.bobbin.gauge import CALM_BELOW, calmness_of, evenness
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import so_many
from weftonos.learned.practiced import pulls_advised, reading, repeats_within
from weftonos.standins.hand_on_gauge import judged
from weftonos.stations.practice.views import PracticeMove, Shown, Takes

PULLS, TAPS = 5, 12
#: How wide the band is to either side, and how far pulls may lie apart for nothing, level by level.
_WITHIN, _APART = (0.05, 0.04, 0.03), (0.15, 0.1, 0.08)
LEVELS = len(_WITHIN)
SHORTEST_S, LONGEST_S = 0.03, 5.0


def begin_pull(seed: int, level: int = 1) -> dict[str, Any]:
    """Return the case of a round: its true pull, and how closely it is to be kept to."""
    mean_mn = float(np.random.default_rng([seed, 4]).uniform(150, 230))
    return {"mean_mn": mean_mn, "within": _WITHIN[level - 1], "apart": _APART[level - 1]}


def check_pull(move: PracticeMove) -> None:
    """Raise :class:`CraftError` for taps that are no pull."""
    if len(move.taps) != TAPS:
        raise CraftError(f"A pull is {TAPS} taps. This was {len(move.taps)}.", "taps")
    gaps = _gaps(move.taps)
    if not all(SHORTEST_S <= gap <= LONGEST_S for gap in gaps):
        raise CraftError("Tap on, one after the other, at an easy pace: this one broke off.", "taps")


def _gaps(taps: Sequence[float]) -> list[float]:
    return [after - before for before, after in pairwise(taps)]


def band(item: Mapping[str, Any]) -> tuple[float, float]:
    """Return the band that the reading is to stay in: where the case reads at the pace it is set for."""
    # Rounds of before there were levels do not say how closely.
    within = item.get("within", _WITHIN[0])
    return item["mean_mn"] * (1 - within), item["mean_mn"] * (1 + within)


def in_band(item: Mapping[str, Any], taps: Sequence[float]) -> float:
    """Return the share of a pull in the band."""
    low, high = band(item)
    shown = judged(item["mean_mn"], taps)
    return sum(low <= mn <= high for mn in shown) / len(shown)


def _even(swing: float) -> str:
    return evenness(calmness_of(swing), swing) or "steady"


def show_pull(item: Mapping[str, Any], moves: Sequence[Mapping[str, Any]]) -> Shown:
    """Return what the gauge showed, and at the end how evenly the hand pulled."""
    pulls = [reading(item["mean_mn"], move["taps"]) for move in moves]
    over = len(pulls) >= PULLS
    told = [f"{(low + high) / 2:.0f} mN, {_even((high - low) / (high + low))}" for low, high in pulls]
    feedback, right = "", None
    if pulls:
        low, high = pulls[-1]
        wavers, inside = (high - low) / (high + low), in_band(item, moves[-1]["taps"])
        right = wavers < CALM_BELOW.value and inside >= 0.5
        says = "Too uneven. Find a rhythm and stay with it." if wavers >= CALM_BELOW.value else "Well pulled."
        if inside < 0.5:
            says += f" {'Slower' if low + high > 2 * item['mean_mn'] else 'Faster'}, into the band."
        feedback = f"{told[-1]}. {says}"
    spread = repeats_within(pulls) if over else None
    result, score = [], None
    if spread is not None:
        advised = pulls_advised(spread)
        inside = fmean(in_band(item, move["taps"]) for move in moves)
        # Half for the band, half for pulls that are alike.
        score = 50 * inside + 50 * max(0.0, 1 - spread / item.get("apart", _APART[0]))
        result = [
            f"In the band for {inside:.0%} of the way.",
            f"From pull to pull within {spread:.1%}.",
            f"For a reading good to 5%, take {so_many(advised, 'pull')}.",
        ]
    return Shown(
        ask="The round is over." if over else f"Tap evenly {TAPS} times, in the band: each tap draws a hand's breadth.",
        takes=Takes.NOTHING if over else Takes.TAPS,
        step=min(len(pulls) + 1, PULLS),
        steps=PULLS,
        taps=TAPS,
        told=told,
        feedback=feedback,
        right=right,
        score=score,
        low=band(item)[0],
        high=band(item)[1],
        result=result,
    )
