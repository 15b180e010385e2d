"""The simulated machine itself: set it up, stitch, pull, run, check; equal seeds give equal machines and equal luck."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from weftonos.standins.machine.faults import FAULTS, Fault
from weftonos.standins.machine.laws import (
    Hazards,
    Head,
    SimCloth,
    SimNeedle,
    SimThread,
    Temper,
    case_pull,
    hazards,
    lock_depth,
    rubbing,
    top_pull,
    wear_by_meter,
)

#: A lock beyond this depth shows on the surface; so much of a stretch showing is a grade.
SHOWS = 0.70
DOTS_FROM, NEST_FROM = 0.06, 0.55
#: Stitches in one graded stretch, and the length of a stitch in mm.
STITCHES, STITCH_MM = 40, 3.0
#: Radians about the guides of an ordinary path.
WRAPS = {"longarm": 2.4, "home": 2.4}
MOST_FAULTS = 4


class Impossible(ValueError):
    """A machine that cannot be: what is wrong, in a sentence."""


@dataclass(frozen=True)
class Scale:
    """How the top is set: the ends of the knob's way in its own numbers, and its smallest step."""

    low: float
    high: float
    step: float

    def turned(self, setting: float) -> float:
        """Return a setting as a share of the way."""
        return min(1.0, max(0.0, (setting - self.low) / (self.high - self.low)))

    def snap(self, setting: float) -> float:
        """Return the nearest setting there is."""
        return min(self.high, max(self.low, round(setting / self.step) * self.step))


@dataclass(frozen=True)
class StitchedLine:
    """A stitched stretch: the depth of each lock, −1 front to +1 back, what shows of it, and its true grade."""

    depths: tuple[float, ...]
    front: float
    back: float
    grade: int


@dataclass(frozen=True)
class Broke:
    """A break: after how many meters, and how the end looks."""

    after_m: float
    look: str


@dataclass(frozen=True)
class Seen:
    """What somebody sees, hears and feels when a line is stitched: symptoms by the trade's names, and words."""

    symptoms: frozenset[str]
    signs: frozenset[str]
    says: str


@dataclass(frozen=True)
class CheckResult:
    """What a check found."""

    cause: str
    found: bool


READOUT, DIAL = Scale(80, 400, 5), Scale(0, 10, 0.25)
ORDINARY_TOP = SimThread("polyester", 25.0, 0.18)
ORDINARY_BELOW = SimThread("polyester", 12.5, 0.13)
ORDINARY_NEEDLE, ORDINARY_CLOTH = SimNeedle(100), SimCloth()


@dataclass
class SimulatedMachine:
    """A machine with a hidden temper and hidden faults.

    ``head`` and ``scale`` are what its owner knows; ``setting`` where the top stands. ``screw`` is in minutes of a
    clock face from where it was, ``fill`` what is left on the bobbin, ``worn`` and ``lint`` from 0 (new, clean),
    ``meters`` sewn in all, ``speed`` 1 an ordinary one, ``holes`` the guides that the thread goes through, of three.
    All chance comes from ``seed`` and from what is asked, so that the same question in the same state has the same
    answer.
    """

    seed: int
    head: Head = "longarm"
    scale: Scale = READOUT
    top: SimThread = ORDINARY_TOP
    below: SimThread = ORDINARY_BELOW
    needle: SimNeedle = ORDINARY_NEEDLE
    cloth: SimCloth = ORDINARY_CLOTH
    setting: float = 200.0
    screw: float = 0.0
    fill: float = 1.0
    worn: float = 0.0
    lint: float = 0.0
    meters: float = 0.0
    speed: float = 1.0
    holes: int = 3
    faults: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        if not isinstance(self.seed, int) or isinstance(self.seed, bool) or not 0 <= self.seed < 2**31:
            raise Impossible("The seed is a whole number from 0 to 2147483647.")
        if self.head not in WRAPS:
            raise Impossible("The head is a longarm or a home machine.")
        if not self.scale.low < self.scale.high or self.scale.step <= 0:
            raise Impossible("The knob's way must have two ends and a step.")
        self.put_in(self.faults)
        chance = self._chance("temper")
        longarm = self.head == "longarm"

        def spread(low: float, high: float) -> float:
            return float(chance.uniform(low, high))

        self.temper = Temper(
            disc_strength=(900 if longarm else 1000) * float(np.exp(chance.normal(0, 0.14))),
            disc_power=spread(1.05, 1.35) if longarm else spread(1.25, 1.7),
            disc_start=spread(0.02, 0.12) if longarm else spread(0.0, 0.05),
            top_shift=float(chance.normal(0, 0.10)),
            lock_width=spread(0.19, 0.29),
            scatter=spread(0.09, 0.14),
            case_pull=(195 if longarm else 175) * float(np.exp(chance.normal(0, 0.08))),
            screw_law=spread(0.016, 0.042),
            screw_bend=spread(-2e-4, 2e-4),
            spool_drag=spread(14, 26),
            wear=float(np.exp(chance.normal(0, 0.3))),
        )

    def _chance(self, *what: Any) -> np.random.Generator:
        """Return luck that hangs on the seed and on what is asked alone."""
        words = [self.seed, *(int.from_bytes(str(each).encode()[:8].ljust(8), "little") for each in what)]
        return np.random.default_rng(words)

    def put_in(self, faults: Iterable[str]) -> None:
        """Put faults in; raises :class:`Impossible` for one that there is not, and for too many."""
        wanted = list(dict.fromkeys(faults))
        for name in wanted:
            if name not in FAULTS:
                raise Impossible(f"“{name}” isn't a fault this machine can have.")
        if len(wanted) > MOST_FAULTS:
            raise Impossible(f"More than {MOST_FAULTS} faults at a time would be a wreck, not a machine.")
        self.faults = wanted

    # What the state comes to ------------------------------------------------------------------------------------

    def _effects(self) -> Fault:
        """Return all faults as one."""
        mine = [FAULTS[name] for name in self.faults]
        product = {name: math.prod(getattr(f, name) for f in mine) for name in _FACTORS}
        total = {name: sum(getattr(f, name) for f in mine) for name in _SUMS}
        return Fault(**product, **total)

    def pulls_now(self) -> tuple[float, float]:
        """Return the pull above and below, in mN, as they stand."""
        effects = self._effects()
        wraps = WRAPS[self.head] - 0.8 * (3 - self.holes) + effects.wraps
        turned = self.scale.turned(self.setting)
        above = top_pull(self.temper, self.top, turned, wraps=wraps, seat=effects.seat, lint=self.lint)
        below = case_pull(self.temper, self.below, self.screw, self.fill) * effects.below
        return above * effects.above, below * (1 + effects.drift * (1 - self.fill))

    def depth(self) -> float:
        """Return the mean depth of the lock as the machine stands."""
        above, below = self.pulls_now()
        return lock_depth(self.temper, above, below, self.cloth, self.top.diameter_mm / self.below.diameter_mm)

    def balanced_setting(self) -> float:
        """Return where the lock lies in the middle, faults aside; an end of the scale where it never does."""
        low, high = self.scale.low, self.scale.high
        mine, faults = self.setting, self.faults
        self.faults = []
        for _ in range(40):
            self.setting = (low + high) / 2
            low, high = (self.setting, high) if self.depth() > 0 else (low, self.setting)
        found = self.setting
        self.setting, self.faults = mine, faults
        return found

    # What a person does -----------------------------------------------------------------------------------------

    def stitch(self, n: int = 0, stitches: int = STITCHES) -> StitchedLine:
        """Stitch a stretch as the machine stands, the ``n``-th of its kind: equal ``n``, equal luck."""
        chance = self._chance("stitch", n)
        effects = self._effects()
        uneven = self.temper.scatter * effects.wavers * (1 + 0.8 * self.lint)
        # The bobbin turns unevenly and drags the lock along for some stitches; single stitches stray far.
        slow = np.zeros(stitches)
        for k in range(1, stitches):
            slow[k] = 0.75 * slow[k - 1] + chance.normal(0, 0.35 * uneven + effects.flutter * 0.6)
        single = chance.standard_t(4, stitches) * uneven * 0.8
        depths = np.clip(self.depth() + slow + single, -1.0, 1.0)
        return graded(tuple(float(d) for d in depths))

    def pull(self, n: int = 0, hand: float = 0.03) -> tuple[float, float]:
        """Pull the bobbin thread once through a gauge; return the lowest and the highest reading in mN.

        ``hand`` is how unevenly it is pulled, as a share.
        """
        chance = self._chance("pull", n)
        effects = self._effects()
        _, below = self.pulls_now()
        middle = below * float(np.exp(chance.normal(0, hand)))
        swing = abs(float(chance.normal(0.02, 0.008))) + effects.flutter + hand * 0.3
        return middle * (1 - swing), middle * (1 + swing)

    def turn_screw(self, minutes: float) -> None:
        """Turn the screw of the case in (tighter) or out, in minutes of a clock face."""
        if not -60 <= self.screw + minutes <= 60:
            raise Impossible("The screw is at its end. Any further and it falls out or bends the spring.")
        self.screw += minutes

    def hazards_now(self) -> Hazards:
        """Return breaks by the meter as the machine stands."""
        effects = self._effects()
        above, below = self.pulls_now()
        return hazards(
            self.top,
            replace(self.below, tex=self.below.tex * effects.weak_below),
            self.needle,
            self.cloth,
            above_mn=above,
            below_mn=below,
            worn=min(1.5, self.worn) * 0.6 + effects.rub,
            speed=self.speed + effects.heat,
            spikes=effects.spikes,
            weak=effects.weak,
        )

    def run(self, meters: float, n: int = 0) -> tuple[float, Broke | None]:
        """Quilt up to ``meters``; return how far it went and the break that ended it, if any.

        Needle and lint move on with what was stitched. The ``n``-th run of equal seeds has equal luck.
        """
        if not 0 < meters <= 5000:
            raise Impossible("A run is from nothing up to 5000 m.")
        chance = self._chance("run", n)
        each = self.hazards_now()
        goes = float(chance.exponential(1)) / each.total
        done = min(meters, goes)
        self.worn += done * wear_by_meter(self.needle, self.cloth, self.temper)
        self.lint = min(1.0, self.lint + done * (self.top.lint + 0.5 * self.below.lint) / 2600)
        self.meters += done
        if goes > meters:
            return done, None
        looks = ("frays_above_the_eye", "clean_snap_of_the_top_thread", "thread_melts_or_curls", "bobbin_thread_breaks")
        shares = np.array([each.rubbed, each.snapped, each.melted, each.below]) / each.total
        return done, Broke(done, str(chance.choice(looks, p=shares)))

    def see(self, n: int = 0) -> Seen:
        """Stitch a line of some meters and look, listen and feel."""
        chance, effects = self._chance("see", n), self._effects()
        line, each = self.stitch(n, 120), self.hazards_now()
        symptoms: set[str] = set()
        if line.grade >= 2 or (line.grade == 1 and line.back > 0.25):
            symptoms.add("loops_or_nest_on_the_back")
        if line.grade <= -1 and line.front > 0.12:
            symptoms.add("bobbin_thread_dots_on_top")
        if min(line.front, line.back) > 0.04 or effects.wavers > 1.55:
            symptoms.add("uneven_tension")
        rub = rubbing(self.top, self.needle, self.cloth, min(1.5, self.worn) * 0.6 + effects.rub)
        breaks_by = {
            "frays_above_the_eye": max(each.rubbed * 60, (rub - 1.4) * 0.8),
            "clean_snap_of_the_top_thread": each.snapped * 60 + max(0.0, effects.spikes - 0.25) * 1.2,
            "bobbin_thread_breaks": each.below * 80,
            "thread_melts_or_curls": each.melted * 80,
        }
        if effects.one_way or effects.mid_frame:
            # Its breaks come only there, so that they are told as such.
            if effects.one_way > 0.5:
                symptoms.add("breaks_in_one_travel_direction_only")
            if effects.mid_frame > 0.5:
                symptoms.add("breaks_only_mid_frame")
        for name, often in breaks_by.items():
            if chance.random() < min(0.97, often):
                symptoms.add(name)
        ends = ("frays_above_the_eye", "clean_snap_of_the_top_thread")
        if symptoms.issuperset(ends):
            # A fuzzy end and a clean cut are told as the one that comes more often.
            symptoms.discard(min(ends, key=lambda name: breaks_by[name]))
        for name, often in (
            ("skipped_stitches", effects.skip),
            ("false_break_alarm", effects.alarm),
            ("tangle_round_the_case_after_stopping", effects.tangle),
            ("nest_at_the_start", effects.start_nest),
            ("needle_bends_or_breaks", effects.bend),
            ("loops_only_on_curves", effects.curves),
            ("holes_puckers", effects.puckers),
            ("gauge_flutters", min(0.9, effects.flutter * 6)),
            ("tension_drifts_through_a_bobbin", min(0.9, abs(effects.drift) * 2.2)),
        ):
            if chance.random() < often:
                symptoms.add(name)
        worn = self.worn > 0.9
        if worn or "needle_dull_burred_bent" in self.faults:
            symptoms.add("popping_or_thumping")
        if effects.heat and chance.random() < 0.5:
            symptoms.add("popping_or_thumping")
        signs = {after for name in self.faults for after in FAULTS[name].after if chance.random() < 0.75}
        if effects.seat < 0.2:
            signs.add("slack_at_the_needle")
        said = [FAULTS[name].sounds for name in self.faults if FAULTS[name].sounds]
        if worn and "needle_dull_burred_bent" not in self.faults:
            said.append("It pops now and then.")
        return Seen(frozenset(symptoms), frozenset(signs), " ".join(said) or "It sounds as it should.")

    def check(self, cause: str, n: int = 0) -> CheckResult:
        """Make the check of a cause and mend what it finds; one in fifty checks overlooks what is there."""
        chance = self._chance("check", cause, n)
        there = cause in self.faults or (cause == "needle_dull_burred_bent" and self.worn > 0.9)
        found = bool(there and chance.random() > 0.02)
        if cause == "needle_dull_burred_bent":
            # The check is a new needle, whatever was wrong with the old one.
            self.worn = 0.0
        if cause == "discs_packed_with_lint":
            self.lint = 0.0
        if found:
            self.faults = [name for name in self.faults if name != cause]
        return CheckResult(cause, found)

    @property
    def sound(self) -> bool:
        """Whether nothing is wrong with it, the setting aside."""
        return not self.faults and self.worn <= 0.9


_FACTORS = ("seat", "wavers", "above", "below", "weak", "weak_below")
_SUMS = (
    "wraps",
    "spikes",
    "rub",
    "skip",
    "alarm",
    "tangle",
    "start_nest",
    "bend",
    "flutter",
    "one_way",
    "mid_frame",
    "curves",
    "heat",
    "drift",
    "puckers",
)


def graded(depths: Sequence[float]) -> StitchedLine:
    """Return a line with its true grade, by how much of it shows on either side."""
    front = sum(d < -SHOWS for d in depths) / len(depths)
    back = sum(d > SHOWS for d in depths) / len(depths)
    more, sign = (back, 1) if back >= front else (front, -1)
    grade = 0 if more < DOTS_FROM else sign if more < NEST_FROM else 2 * sign
    return StitchedLine(tuple(depths), front, back, grade)


#: How an eye mistakes a grade for its neighbor: on ordinary cloth, and where thread and cloth are alike or printed.
SLIPS, SLIPS_HARD = 0.07, 0.20


def read_by_eye(line: StitchedLine, chance: np.random.Generator, *, hard: bool = False, care: float = 1.0) -> int:
    """Return the grade that somebody reads off a line; a careless eye slips more often."""
    slips = (SLIPS_HARD if hard else SLIPS) * care
    if chance.random() >= slips:
        return line.grade
    return max(-2, min(2, line.grade + int(chance.choice([-1, 1]))))
