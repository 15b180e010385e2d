"""Reading a recorded pull: tension against pulled length, split into pulls, and what the shape says.

A period of one turn of the bobbin points to bobbin or case, irregular spikes up to lint or a burr, sudden slack to
a worn backlash spring, a steady climb to a bobbin that does not turn freely. All thresholds are our own estimates.

SciPy is loaded where it is used: it takes longer to load than all the rest of the program.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import numpy.typing as npt

from weftonos.core.bobbin.gauge import Pull
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.standing import estimate

Array = npt.NDArray[np.float64]

MOST_SAMPLES = 200_000
PULLS_IN_A_TRACE = 200
#: From so many samples a pull is looked at for closer ones than its shape needs.
MANY_SAMPLES = 20_000
FINEST_MM = estimate(0.25, "mm", "between samples that tell the shape of a pull; closer ones are averaged")
WAVE_OVER_MM = estimate(2000.0, "mm", "of a pull that its wave is told from: over more, no turn stays the same")
#: One turn of the bobbin, in mm of thread: pi times the wound diameter, from nearly empty to full.
TURN_MM = (estimate(20.0, "mm"), estimate(95.0, "mm"))
#: A pull is a stretch of moving thread at least so long.
SHORTEST_PULL_MM = estimate(120.0, "mm")
PERIODIC_FROM = estimate(0.045, "", "height of the wave against the pull")
PERIODIC_SHARE = estimate(0.30, "", "share of the variance in the one-turn wave and its harmonics")
CLEAN_SHARE = estimate(0.80, "", "share of that wave in its ground tone from which it is the case")
SPIKE_FROM = estimate(0.16, "", "height of the tug against the pull")
CLIMB_FROM = estimate(0.12, "", "rise over half a meter of thread")
SLACK_FROM = estimate(0.30, "", "of the mean below the median: the thread went slack")
WAVE_FENCE = estimate(0.30, "", "of the 5 to 95 % range beyond it: a spike, and no part of a wave")
APART_MM = estimate(8.0, "mm", "nearer together it is one spike")
BASELINE_MM = estimate(60.0, "mm", "window of the running median that follows a climb")
SHARP_MM = estimate(7.0, "mm", "window of the running median that leaves spikes out")
CLIMB_OVER_MM = estimate(500.0, "mm", "length that a climb is told over")
MOVING_FROM = estimate(0.15, "", "of the usual step between samples: the thread moves")
TIGHT_BEAT_FROM = estimate(0.20, "", "of the upper quarter of the tension: the thread is drawn")
TURNS_SEEN = estimate(2.5, "turns", "a wave is believed from so many turns in a pull")
GROUND_FROM = estimate(0.25, "", "of the strongest tone, for a period to be the ground tone")
LONGER_FIRST = estimate(0.02, "", "handicap of short periods, so that half a turn is not taken for a turn")
NEEDLE_SHOWS = (estimate(2, "percentile"), estimate(98, "percentile"))
PERIODS_TRIED = 140
PARTS_OF_A_TONE = 4
START_MM = estimate(18.0, "mm", "left out at each end of a pull, where the hand starts and stops")


class TraceCause(StrEnum):
    """What the shape of a trace points to."""

    SOUND = "sound"
    BADLY_WOUND = "badly_wound"
    BENT_CASE = "bent_case"
    LINT = "lint"
    TIGHT_BEARING = "tight_bearing"
    WORN_SPRING = "worn_spring"


CAUSE_SAYS = {
    TraceCause.SOUND: "An even pull. Nothing to find.",
    TraceCause.BADLY_WOUND: "It swings once a turn, each turn a little different: a badly wound bobbin. "
    "Try another bobbin in this case.",
    TraceCause.BENT_CASE: "It swings cleanly once a turn: a bent case or a bobbin out of round. "
    "Try this bobbin in another case.",
    TraceCause.LINT: "Spikes without a rhythm: lint under the spring, or a burr. Clean it and pull again.",
    TraceCause.TIGHT_BEARING: "It climbs steadily: the bobbin does not turn freely. Look at its fit in the case.",
    TraceCause.WORN_SPRING: "Sudden slack: the bobbin spins on. Look at the backlash spring or washer.",
}


@dataclass(frozen=True, kw_only=True)
class TracePull:
    """One pull found in a trace: from and to in mm of pulled length, lowest, highest and mean in mN."""

    start_mm: float
    end_mm: float
    low_mn: float
    high_mn: float
    mean_mn: float

    @property
    def pull(self) -> Pull:
        """The pull as a gauge reading in mN."""
        return Pull(value=self.mean_mn, low=self.low_mn, high=self.high_mn)


@dataclass(frozen=True, kw_only=True)
class TraceFeatures:
    """What was measured on the shape; ratios are over the mean tension."""

    turn_mm: float
    wave: float
    wave_share: float
    clean: float
    spikes_up: int
    spikes_down: int
    climb: float


@dataclass(frozen=True, kw_only=True)
class TraceAnswer:
    """Pulls, mean and swing of a trace, the cause its shape points to, and in words."""

    pulls: tuple[TracePull, ...]
    mean_mn: float
    swing: float
    cause: TraceCause
    features: TraceFeatures
    text: str


def split_pulls(length_mm: Array, tension_mn: Array) -> list[slice]:
    """Return the stretches of a trace in which thread is drawn under tension.

    A pull ends where the thread stands still or the tension falls to nothing.
    """
    from scipy.ndimage import median_filter, uniform_filter1d

    if len(length_mm) < 8:
        return []
    step = np.diff(length_mm, prepend=length_mm[0])
    moving_step = np.median(step[step > 1e-6]) if np.any(step > 1e-6) else 0.0
    window = min(9, len(step))
    smooth_step = uniform_filter1d(step, window)
    level = np.percentile(tension_mn, 75)
    calm = median_filter(tension_mn, size=window)
    active = (
        (smooth_step > MOVING_FROM.value * moving_step) & (calm > TIGHT_BEAT_FROM.value * level) & (moving_step > 0)
    )
    edges = np.flatnonzero(np.diff(active.astype(np.int8), prepend=0, append=0))
    pulls = []
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        if length_mm[end - 1] - length_mm[start] >= SHORTEST_PULL_MM.value:
            pulls.append(slice(int(start), int(end)))
    return pulls


def read_trace(length_mm: Sequence[float], tension_mn: Sequence[float]) -> TraceAnswer:
    """Read a recorded trace.

    Parameters
    ----------
    length_mm: pulled length, never falling, in mm. tension_mn: tension at each, in mN; same number of samples.

    Raises :class:`CraftError` when there is no pull in it.
    """
    x, y = np.asarray(length_mm, dtype=np.float64), np.asarray(tension_mn, dtype=np.float64)
    if len(x) != len(y):
        raise CraftError("Length and tension need the same number of samples.", "tension_mn")
    if len(x) > MOST_SAMPLES:
        raise CraftError(f"A trace may have {MOST_SAMPLES} samples. This has {len(x)}.", "length_mm")
    if not (np.isfinite(x).all() and np.isfinite(y).all()):
        raise CraftError("The trace holds values that aren't numbers.", "tension_mn")
    if len(x) and (np.abs(y).max() > 1e5 or np.abs(x).max() > 1e9):
        raise CraftError("The trace holds values no gauge can give.", "tension_mn")
    if np.any(np.diff(x) < -1e-6):
        raise CraftError("The pulled length of a trace never falls.", "length_mm")
    slices = split_pulls(x, y)
    if not slices:
        raise CraftError("There's no pull in this trace. Pull half a meter, long and even.", "length_mm")
    if len(slices) > PULLS_IN_A_TRACE:
        raise CraftError(f"A trace may hold {PULLS_IN_A_TRACE} pulls. This has {len(slices)}. Cut it up.", "length_mm")
    inner = [_inner(x[s], y[s]) for s in slices]
    pulls = tuple(_pull(part_x, part_y) for part_x, part_y in inner)
    mean = float(np.mean([p.mean_mn for p in pulls]))
    swing = max((p.high_mn - p.low_mn) / 2 / ((p.high_mn + p.low_mn) / 2) for p in pulls)
    features = _features(inner)
    cause = _cause(features)
    return TraceAnswer(pulls=pulls, mean_mn=mean, swing=swing, cause=cause, features=features, text=CAUSE_SAYS[cause])


def _inner(x: Array, y: Array) -> tuple[Array, Array]:
    keep = (x - x[0] >= START_MM.value) & (x[-1] - x >= START_MM.value)
    return x[keep], y[keep]


def _pull(x: Array, y: Array) -> TracePull:
    # The extremes of single samples are noise of the device: the 2nd and 98th percentile stand for the needle.
    low, high = np.percentile(y, [end.value for end in NEEDLE_SHOWS])
    low = max(float(low), 0.1)
    return TracePull(
        start_mm=float(x[0]), end_mm=float(x[-1]), low_mn=low, high_mn=max(float(high), low), mean_mn=float(y.mean())
    )


def _features(pulls: Sequence[tuple[Array, Array]]) -> TraceFeatures:
    from scipy.ndimage import median_filter

    turns, waves, shares, cleans, ups, downs, climbs = [], [], [], [], [], [], []
    for measured_x, measured_y in pulls:
        x, y = _thinned(measured_x, measured_y)
        mean = float(y.mean())
        baseline = median_filter(y, size=max(5, _samples(x, BASELINE_MM.value)), mode="nearest")
        slope = float(np.polyfit(x, baseline, 1)[0])
        climbs.append(slope * CLIMB_OVER_MM.value / mean)
        rest = y - np.polyval(np.polyfit(x, y, 1), x)
        calm = median_filter(rest, size=max(3, _samples(x, SHARP_MM.value)), mode="nearest")
        sharp = (rest - calm) / mean
        ups.append(_count_runs(sharp > SPIKE_FROM.value / 2, x))
        downs.append(_count_runs(_slack(y, mean), x))
        turn, wave, share, clean = _one_turn(x, np.clip(rest, *_fence(rest)), mean)
        turns.append(turn)
        waves.append(wave)
        shares.append(share)
        cleans.append(clean)
    return TraceFeatures(
        turn_mm=float(np.median(turns)),
        wave=float(np.median(waves)),
        wave_share=float(np.median(shares)),
        clean=float(np.median(cleans)),
        spikes_up=int(sum(ups)),
        spikes_down=int(sum(downs)),
        climb=float(np.median(climbs)),
    )


def _thinned(x: Array, y: Array) -> tuple[Array, Array]:
    """Return a pull without samples closer than its shape needs."""
    if len(x) <= MANY_SAMPLES:
        return x, y
    together = max(1, int(FINEST_MM.value * (len(x) - 1) / max(x[-1] - x[0], 1e-9)))
    whole = len(x) // together * together
    averaged = (part[:whole].reshape(-1, together).mean(axis=1) for part in (x, y))
    return next(averaged), next(averaged)


def _samples(x: Array, mm: float) -> int:
    spacing = (x[-1] - x[0]) / max(1, len(x) - 1)
    return int(mm / max(spacing, 1e-9)) | 1


def _fence(rest: Array) -> tuple[float, float]:
    """Bounds beyond which a sample is a spike and no part of a wave."""
    low, high = np.percentile(rest, [5, 95])
    beyond = WAVE_FENCE.value * (high - low)
    return float(low - beyond), float(high + beyond)


def _slack(y: Array, mean: float) -> npt.NDArray[np.bool_]:
    return np.asarray(y < np.median(y) - SLACK_FROM.value * mean)


def _count_runs(mask: npt.NDArray[np.bool_], x: Array) -> int:
    """Count stretches of ``mask`` that lie at least 8 mm apart."""
    places = x[mask]
    return int(len(places) > 0) + int(np.count_nonzero(np.diff(places) > APART_MM.value))


def _one_turn(x: Array, rest: Array, mean: float) -> tuple[float, float, float, float]:
    """Return the likeliest turn in mm, its wave's amplitude over the mean, its share of the variance, its purity."""
    near = x - x[0] <= WAVE_OVER_MM.value
    x, rest = x[near], rest[near]
    longest = min(TURN_MM[1].value, (x[-1] - x[0]) / TURNS_SEEN.value)
    if longest <= TURN_MM[0].value:
        return TURN_MM[0].value, 0.0, 0.0, 0.0
    periods = np.geomspace(TURN_MM[0].value, longest, PERIODS_TRIED)
    from scipy.signal import lombscargle

    waves = 2 * math.pi / periods
    along, swing = x - x[0], rest - rest.mean()
    # Each wave is told by itself; a part of them at a time keeps the memory small.
    parts = [
        lombscargle(along, swing, part, normalize=True)
        for tone in (1, 2, 3)
        for part in np.array_split(tone * waves, PARTS_OF_A_TONE)
    ]
    tones = np.concatenate(parts).reshape(3, -1)
    # A wave with harmonics is found at its ground tone, not at half of it.
    together = tones.sum(axis=0) - LONGER_FIRST.value * np.arange(len(periods))[::-1] / len(periods)
    best = int(np.argmax(np.where(tones[0] > GROUND_FROM.value * tones.max(axis=0), together, -1)))
    ground, whole = float(tones[0, best]), float(tones[:, best].sum())
    amplitude = math.sqrt(2 * max(0.0, min(1.0, whole)) * float(rest.var())) / mean
    return float(periods[best]), amplitude, min(1.0, whole), ground / whole if whole > 0 else 0.0


def _cause(f: TraceFeatures) -> TraceCause:
    if f.spikes_down >= 1:
        return TraceCause.WORN_SPRING
    if f.climb > CLIMB_FROM.value:
        return TraceCause.TIGHT_BEARING
    if f.wave > PERIODIC_FROM.value and f.wave_share > PERIODIC_SHARE.value:
        return TraceCause.BENT_CASE if f.clean > CLEAN_SHARE.value else TraceCause.BADLY_WOUND
    if f.spikes_up >= 2:
        return TraceCause.LINT
    return TraceCause.SOUND
