"""Where to start a new combination: the schools' value, corrected by this machine's own records of near ones.

A Gaussian-process regression over the combination: its mean is the schools' value, its covariance falls with the
distance in thickness, fibre drag, bobbin number, batting and motion. All lengths are our own estimates.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from weftonos.core.balance.estimate import BalancePrior, scale_unit
from weftonos.core.kernel.sandwich import Loft, Motion
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.capstan import FRICTION
from weftonos.core.thread.starting_tension import METALLIC_TURNS, start_tension
from weftonos.core.thread.thread import Bundle, Thread

Array = npt.NDArray[np.float64]

#: How far combinations may lie apart and still tell something of each other.
LENGTHS = {
    "thickness": estimate(0.04, "mm"),
    "drag": estimate(0.05),
    "bobbin": estimate(0.12, "", "of ln(reading)"),
    "loft": estimate(1.2, "steps"),
}
OTHER_MOTION = estimate(0.4, "", "correlation between straight, free-motion and decorative")
#: In dial numbers: what the schools' value is off by from machine to machine, from thread to thread, and at random.
MACHINE_SPREAD = estimate(0.9, "dial numbers")
THREAD_SPREAD = estimate(0.9, "dial numbers")
LEFT_OVER = estimate(0.35, "dial numbers")
MOST_RECORDS = 60
#: Where a readout starts while the bobbin has not been read, as a share of its scale.
READOUT_WITHOUT_BOBBIN = estimate(0.4)
#: Records that weigh less than this in the answer are not named beside it, and so many are at most.
WORTH_NAMING = estimate(0.02)
MOST_NAMED = 6
_LOFTS = list(Loft)


@dataclass(frozen=True, kw_only=True)
class Combination:
    """What decides a balance, as far as the predictor looks."""

    diameter_mm: float
    drag: float
    bobbin_mn: float | None
    loft: Loft
    motion: Motion
    school_setting: float

    @classmethod
    def of_setup(cls, kind: MachineKind, scale: TopScale, setup: Setup, motion: Motion) -> Combination | None:
        """Describe the combination of a set-up; ``None`` without a top thread."""
        top = setup.top_bundle
        if top is None:
            return None
        reading = setup.reading.mean_mn if setup.reading else None
        loft = setup.sandwich.loft if setup.sandwich else Loft.MEDIUM
        return cls.of(
            kind=kind,
            scale=scale,
            top=top,
            bobbin=setup.bobbin_thread,
            bobbin_mn=reading,
            loft=loft,
            motion=motion,
        )

    @classmethod
    def of(
        cls,
        kind: MachineKind,
        scale: TopScale,
        top: Bundle,
        bobbin: Thread | None,
        bobbin_mn: float | None,
        loft: Loft,
        motion: Motion,
    ) -> Combination:
        """Describe a combination on a machine's own scale."""
        drag = sum(FRICTION[t.fibre].value for t in top.threads) / len(top.threads)
        setting = school_setting(kind=kind, scale=scale, top=top, bobbin=bobbin, bobbin_mn=bobbin_mn)
        return cls(
            diameter_mm=top.diameter_mm,
            drag=drag,
            bobbin_mn=bobbin_mn,
            loft=loft,
            motion=motion,
            school_setting=setting,
        )


@dataclass(frozen=True)
class BalanceRecord:
    """A combination that was balanced, at a setting, under a name."""

    combination: Combination
    setting: float
    name: str


def balanced_combinations(
    kind: MachineKind, scale: TopScale, looks: Iterable[tuple[StitchedLook, Setup]]
) -> list[BalanceRecord]:
    """Return what a machine balanced, from its balanced looks and their set-ups, newest first; each combination once.

    Combinations are the same with the same threads, loft and motion: the newest look stands for them.
    """
    found: dict[tuple[object, ...], BalanceRecord] = {}
    for look, setup in looks:
        loft = setup.sandwich and setup.sandwich.loft
        key = (tuple(t.id for t in setup.top), setup.bobbin and setup.bobbin.id, loft, look.motion)
        if key in found:
            continue
        combination = Combination.of_setup(kind, scale, setup, look.motion)
        if combination is not None:
            name = " + ".join(t.name for t in setup.top)
            found[key] = BalanceRecord(combination=combination, setting=look.setting, name=name)
    return list(found.values())[:MOST_RECORDS]


@dataclass(frozen=True, kw_only=True)
class UsedRecord:
    """A record that was used: its name, setting, weight in the answer, and by how much it missed when left out."""

    name: str
    setting: float
    weight: float
    miss: float


@dataclass(frozen=True, kw_only=True)
class StartingPoint:
    """Where to start, with its spread, the schools' value, the records used, and how far off such guesses were."""

    centre: float
    spread: float
    school: float
    records: tuple[UsedRecord, ...]
    typical_miss: float | None
    school_miss: float | None
    text: str

    @property
    def prior(self) -> BalancePrior:
        """The start as a prior for the balance."""
        return BalancePrior(self.centre, self.spread)


def school_setting(
    kind: MachineKind, scale: TopScale, top: Bundle, bobbin: Thread | None, bobbin_mn: float | None
) -> float:
    """Return the schools' value on a machine's own scale, within its limits.

    A readout starts at the bobbin's own number; a dial at its usual numbers; a knob at its mark.
    """
    start = start_tension(kind, top, bobbin)
    if scale.kind is ScaleKind.READOUT and bobbin_mn is not None:
        setting = bobbin_mn
    elif start.kind is scale.kind:
        setting = start.centre
    elif scale.kind is ScaleKind.TURNS:
        setting = METALLIC_TURNS[0].value if any(t.is_metallic for t in top.threads) else 0.0
    elif scale.kind is ScaleKind.DIAL:
        setting = start_tension(MachineKind.HOME, top, bobbin).centre
    else:
        setting = scale.low + READOUT_WITHOUT_BOBBIN.value * scale.span
    return min(scale.high, max(scale.low, setting))


def _kernel(a: Combination, b: Combination) -> float:
    distance = ((a.diameter_mm - b.diameter_mm) / LENGTHS["thickness"].value) ** 2
    distance += ((a.drag - b.drag) / LENGTHS["drag"].value) ** 2
    distance += ((_LOFTS.index(a.loft) - _LOFTS.index(b.loft)) / LENGTHS["loft"].value) ** 2
    if a.bobbin_mn and b.bobbin_mn:
        distance += (math.log(a.bobbin_mn / b.bobbin_mn) / LENGTHS["bobbin"].value) ** 2
    motion = 1.0 if a.motion is b.motion else OTHER_MOTION.value
    return MACHINE_SPREAD.value**2 * motion + THREAD_SPREAD.value**2 * motion * math.exp(-distance / 2)


def starting_point(scale: TopScale, new: Combination, records: Sequence[BalanceRecord]) -> StartingPoint:
    """Predict where a combination balances.

    Exact Gaussian-process regression on what each record was off the schools' value; the misses are the exact
    leave-one-out errors (Rasmussen & Williams 2006, section 5.4.2). Settings are in the scale's own numbers.
    """
    unit = scale_unit(scale)
    records = records[:MOST_RECORDS]
    own = _kernel(new, new)
    if not records:
        spread = math.sqrt(own + LEFT_OVER.value**2) * unit
        text = f"The schools' value, {scale.words(scale.snap(new.school_setting))}; no record of this machine yet."
        return StartingPoint(
            centre=new.school_setting,
            spread=spread,
            school=new.school_setting,
            records=(),
            typical_miss=None,
            school_miss=None,
            text=text,
        )
    gram = np.array([[_kernel(a.combination, b.combination) for b in records] for a in records])
    gram += LEFT_OVER.value**2 * np.eye(len(records))
    off = np.array([(r.setting - r.combination.school_setting) / unit for r in records])
    near = np.array([_kernel(new, r.combination) for r in records])
    inverse = np.linalg.inv(gram)
    weights = inverse @ near
    centre = new.school_setting + float(weights @ off) * unit
    variance = max(own - float(near @ weights), 0.0) + LEFT_OVER.value**2
    misses = (inverse @ off) / np.diag(inverse)
    order = np.argsort(-np.abs(weights))
    used = tuple(
        UsedRecord(
            name=records[i].name, setting=records[i].setting, weight=float(weights[i]), miss=float(misses[i]) * unit
        )
        for i in order[:MOST_NAMED]
        if abs(weights[i]) > WORTH_NAMING.value
    )
    typical = float(np.median(np.abs(misses))) * unit if len(records) > 1 else None
    school_miss = float(np.median(np.abs(off))) * unit
    centre = min(scale.high, max(scale.low, centre))
    text = (
        f"From {len(records)} balanced combination{'s' if len(records) > 1 else ''} of this machine and the "
        f"schools' {scale.words(scale.snap(new.school_setting))}."
    )
    return StartingPoint(
        centre=centre,
        spread=math.sqrt(variance) * unit,
        school=new.school_setting,
        records=used,
        typical_miss=typical,
        school_miss=school_miss,
        text=text,
    )
