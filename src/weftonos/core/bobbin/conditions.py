"""What a reading was taken under, and what that does to it: estimated from a case's own readings."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from weftonos.core.bobbin.events import Phase, ReadingConditions
from weftonos.core.kernel.counting import student_quantile
from weftonos.core.kernel.spoken import pull_range
from weftonos.core.kernel.standing import estimate
from weftonos.core.thread.thread import FIBER_NAMES, Fiber

#: Readings of each kind before a difference is spoken of.
FEWEST_EACH = estimate(3, "readings")


@dataclass(frozen=True, kw_only=True)
class ReadUnder:
    """A reading of a case: its mean in mN, what it was taken under, the bobbin's fiber, and how often the screw had
    been turned before it: readings across a turn are never compared.
    """

    mean_mn: float
    conditions: ReadingConditions
    fiber: Fiber | None
    turns_before: int


@dataclass(frozen=True, kw_only=True)
class Effect:
    """By how much one way of reading lies over another in this case, in mN, with its 95 % interval."""

    what: str
    low_mn: float
    high_mn: float
    readings: Sequence[int]
    text: str


_Level = Callable[[ReadUnder], str | None]
_FULL = {True: "a full bobbin", False: "a part-used one"}
_FLAT = {True: "lying flat", False: "in the hand"}
_PHASE = {Phase.AFTER_CHANGE: "after a change of thread", Phase.BEFORE_CHANGE: "before one"}
FACTORS: Mapping[str, _Level] = {
    "fiber": lambda r: FIBER_NAMES[r.fiber] if r.fiber else None,
    "full": lambda r: _FULL[r.conditions.full_bobbin] if r.conditions.full_bobbin is not None else None,
    "flat": lambda r: _FLAT[r.conditions.lying_flat] if r.conditions.lying_flat is not None else None,
    "phase": lambda r: _PHASE[r.conditions.phase] if r.conditions.phase else None,
}


def effects(readings: Sequence[ReadUnder]) -> tuple[Effect, ...]:
    """Return what each condition does to a case's readings, once both of its kinds were read often enough.

    Least squares on ln(reading), with a level of its own between any two turns of the screw; Student's interval.
    """
    found = []
    for level in FACTORS.values():
        if (effect := _effect(readings, level)) is not None:
            found.append(effect)
    return tuple(found)


def _effect(readings: Sequence[ReadUnder], level: _Level) -> Effect | None:
    named = [(r, said) for r in readings if (said := level(r)) is not None]
    common = Counter(said for _, said in named).most_common(2)
    if len(common) < 2 or common[1][1] < FEWEST_EACH.value:
        return None
    (one, _), (other, _) = common
    used = [(r, said) for r, said in named if said in (one, other)]
    epochs = sorted({r.turns_before for r, _ in used})
    columns = [[float(said == one) for _, said in used]]
    columns += [[float(r.turns_before == epoch) for r, _ in used] for epoch in epochs]
    design, logs = np.array(columns).T, np.log([r.mean_mn for r, _ in used])
    degrees = len(used) - design.shape[1]
    if degrees < 1 or np.linalg.matrix_rank(design) < design.shape[1]:
        # The two kinds never stood side by side between the same two turns.
        return None
    solved = np.linalg.lstsq(design, logs, rcond=None)[0]
    left = logs - design @ solved
    variance = float(left @ left) / degrees * float(np.linalg.inv(design.T @ design)[0, 0])
    half = float(student_quantile(degrees)) * math.sqrt(variance)
    middle = float(np.exp(logs.mean()))
    shift = float(solved[0])
    if shift < 0:
        one, other, shift = other, one, -shift
    low, high = (middle * math.expm1(shift + by) for by in (-half, half))
    counts = Counter(said for _, said in used)
    subject = one[0].upper() + one[1:]
    text = (
        f"{subject} reads {pull_range(low, high)} over {other} in this case."
        if low > 0
        else f"{subject} against {other}: no difference seen yet in this case ({pull_range(low, high)})."
    )
    return Effect(
        what=f"{one} over {other}", low_mn=low, high_mn=high, readings=(counts[one], counts[other]), text=text
    )


def taken_otherwise(last: ReadingConditions, before: Sequence[ReadingConditions]) -> str:
    """Return in what a reading was taken otherwise than most of its case's; empty where it was not."""
    said = []
    for value, words, earlier in (
        (last.full_bobbin, _FULL, [c.full_bobbin for c in before]),
        (last.lying_flat, _FLAT, [c.lying_flat for c in before]),
    ):
        usual = Counter(v for v in earlier if v is not None).most_common(1)
        if value is not None and usual and usual[0][0] != value:
            said.append(f"with {words[value]}" if words is _FULL else words[value])
    return f"Taken {' and '.join(said)}, unlike most of this case's readings." if said else ""
