"""A second simulated machine, with other laws, to try the program where neither it nor the first machine is at home.

It imports nothing of the first one. Its laws were fixed and committed before anything was compared on it, and are not
changed by what a comparison shows:

- the lock's depth is linear in the ratio of the pulls, and shows sooner on the front than on the back;
- locks along the line scatter by Laplace's law;
- the knob's pull grows as an exponential, with half a number of play, and drifts by up to a number over an evening;
- the owner's eye is lenient by half a grade;
- one label in eight is off by a third, and the gauge by up to 15 %;
- needles fail at random, without wearing, in half of the workshops;
- a fault is what it shifts, how unevenly it lets sew, what is seen of it and how it breaks thread.
"""

from __future__ import annotations

import math
import zlib
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np

#: A lock shows on the front beyond the first, on the back beyond the second; so much of a line showing is a grade.
FRONT_SHOWS, BACK_SHOWS = 0.60, 0.78
DOTS_FROM, NEST_FROM = 0.06, 0.55
#: Numbers of a dial: the knob's play, and how far the balance drifts to and fro; meters of an evening.
PLAY, DRIFT, EVENING_M = 0.5, 0.5, 220.0
STITCHES = 40
#: How often the eye takes a grade for its neighbor, and for the next better one besides.
SLIPS, SLIPS_HARD, LENIENT = 0.05, 0.15, 0.5
LABELS_OFF, LABEL_FACTORS, GAUGE_OFF = 1 / 8, (4 / 3, 3 / 4), 0.15


class Thread(Protocol):
    """What is felt of a thread."""

    @property
    def fiber(self) -> str:
        """What it is of."""

    @property
    def diameter_mm(self) -> float:
        """How thick it is."""


class Scale(Protocol):
    """How the top is set."""

    @property
    def low(self) -> float:
        """The loose end of the knob's way."""

    @property
    def high(self) -> float:
        """The tight end."""


@dataclass(frozen=True)
class Shows:
    """What a fault does: it shifts the lock (in numbers of a dial, above 0 looser), makes the line uneven, is seen.

    ``breaks`` are breaks by the meter and how the end looks; ``below`` is a factor of the bobbin's pull, ``flutter``
    what the gauge shows of it, ``seen`` how often each symptom is told, ``after`` what was done before it.
    """

    shift: float = 0.0
    uneven: float = 1.0
    below: float = 1.0
    flutter: float = 0.0
    breaks: tuple[float, str] = (0.0, "")
    seen: dict[str, float] = field(default_factory=dict)
    after: tuple[str, ...] = ()


_FRAYS, _SNAPS, _BELOW = "frays_above_the_eye", "clean_snap_of_the_top_thread", "bobbin_thread_breaks"
FAULTS: dict[str, Shows] = {
    "top_thread_outside_the_discs": Shows(shift=6.0, uneven=1.5, after=("re_threading", "tie_on")),
    "guide_missed_or_wrapped": Shows(-3.0, 1.7, breaks=(0.02, _SNAPS), seen={_SNAPS: 0.5}, after=("re_threading",)),
    "off_the_check_spring": Shows(0.5, 2.0, seen={"false_break_alarm": 0.8}, after=("re_threading",)),
    "cone_or_spool_catches": Shows(-1.0, 2.2, breaks=(0.03, _SNAPS), seen={_SNAPS: 0.8}, after=("new_cone",)),
    "slick_thread_spills": Shows(0.0, 1.6, breaks=(0.02, _SNAPS), seen={_SNAPS: 0.6}),
    "tail_under_the_wrong_side_of_the_foot": Shows(seen={"nest_at_the_start": 0.9}, after=("start_of_a_line",)),
    "needle_turned_or_backwards": Shows(
        uneven=1.3, breaks=(0.03, _FRAYS), seen={_FRAYS: 0.7, "skipped_stitches": 0.5}, after=("needle",)
    ),
    "needle_not_fully_up": Shows(breaks=(0.01, _SNAPS), seen={"skipped_stitches": 0.8, _SNAPS: 0.4}, after=("needle",)),
    "needle_dull_burred_bent": Shows(
        uneven=1.3, breaks=(0.03, _FRAYS), seen={_FRAYS: 0.7, "popping_or_thumping": 0.8}, after=("hit_something",)
    ),
    "wrong_needle_system": Shows(uneven=1.5, seen={"skipped_stitches": 0.9}, after=("needle",)),
    "point_unsuited_to_direction": Shows(
        breaks=(0.015, _FRAYS), seen={"breaks_in_one_travel_direction_only": 0.9, _FRAYS: 0.4}
    ),
    "discs_packed_with_lint": Shows(shift=2.5, uneven=2.0),
    "bobbin_reversed_or_not_under_spring": Shows(below=0.5, uneven=1.8, after=("bobbin",)),
    "bobbin_badly_wound": Shows(
        uneven=1.5,
        flutter=0.15,
        seen={"gauge_flutters": 0.8, "tension_drifts_through_a_bobbin": 0.5},
        after=("bobbin",),
    ),
    "case_bent": Shows(uneven=1.5, flutter=0.2, seen={"gauge_flutters": 0.9}, after=("dropped_case",)),
    "backlash_spring_worn": Shows(seen={"tangle_round_the_case_after_stopping": 0.8}),
    "lint_under_case_spring": Shows(below=0.75, uneven=1.8, flutter=0.1, seen={"gauge_flutters": 0.5}),
    "burr_on_plate": Shows(breaks=(0.025, _FRAYS), seen={_FRAYS: 0.7}, after=("hit_something",)),
    "burr_on_guide_or_hook": Shows(breaks=(0.025, _FRAYS), seen={_FRAYS: 0.6, _SNAPS: 0.2}),
    "hook_timing": Shows(
        seen={"skipped_stitches": 0.8, "breaks_in_one_travel_direction_only": 0.4}, after=("hit_something",)
    ),
    "hook_dry": Shows(breaks=(0.004, "thread_melts_or_curls"), seen={"popping_or_thumping": 0.5}),
    "break_sensor": Shows(seen={"false_break_alarm": 0.9}),
    "tie_off_with_needle_down": Shows(seen={"false_break_alarm": 0.6}, after=("tie_off",)),
    "sandwich_too_tight": Shows(
        breaks=(0.012, _SNAPS), seen={"skipped_stitches": 0.4, _SNAPS: 0.4}, after=("new_quilt",)
    ),
    "roller_too_close": Shows(
        breaks=(0.01, _SNAPS), seen={"needle_bends_or_breaks": 0.5, _SNAPS: 0.3}, after=("advanced_rollers",)
    ),
    "rails_bow": Shows(breaks=(0.012, _SNAPS), seen={"breaks_only_mid_frame": 0.9}),
    "thread_aged_or_poor": Shows(uneven=1.2, breaks=(0.03, _SNAPS), seen={_SNAPS: 0.7}, after=("top_thread",)),
    "stretchy_thread_wound_fast": Shows(breaks=(0.006, _BELOW), seen={"holes_puckers": 0.7}, after=("bobbin",)),
    "uneven_hand_speed": Shows(seen={"loops_only_on_curves": 0.9}),
}


@dataclass(frozen=True)
class Line:
    """A stitched stretch: what shows of it on each side, and its grade."""

    front: float
    back: float
    grade: int


@dataclass(frozen=True)
class Broke:
    """How the end of a break looks."""

    look: str


@dataclass(frozen=True)
class Seen:
    """What is told when a line is stitched: symptoms by the trade's names, and what was done before."""

    symptoms: frozenset[str]
    signs: frozenset[str]


@dataclass(frozen=True)
class Found:
    """Whether a check found something."""

    found: bool


class SecondMachine:
    """A machine of these laws; all chance comes from ``seed`` and from what is asked."""

    def __init__(self, seed: int, head: str, scale: Scale, *, needle: Any, threads: tuple[Thread, Thread]) -> None:
        self.seed, self.head, self.scale, self.needle = seed, head, scale, needle
        self.top, self.below = threads
        self.cloth: Any = None
        self.screw, self.fill, self.worn, self.lint, self.meters = 0.0, 1.0, 0.0, 0.0, 0.0
        self.faults: list[str] = []
        chance = self._chance("temper")
        self.number = (scale.high - scale.low) / 10 if head == "home" else 20.0
        self._curve = float(chance.uniform(0.6, 1.6))
        self._reach = float(chance.uniform(420, 560))
        self._least = float(chance.uniform(30, 60))
        self._case = (190 if head == "longarm" else 170) * float(np.exp(chance.normal(0, 0.08)))
        self._minute = float(chance.uniform(0.015, 0.045))
        self._ratio = float(np.exp(chance.normal(0, 0.1)))
        self._wide = float(chance.uniform(0.07, 0.2))
        self._scatter = float(chance.uniform(0.07, 0.13))
        self._phase = float(chance.uniform(0, 2 * math.pi))
        self.gauge_factor = 1 + float(chance.uniform(-GAUGE_OFF, GAUGE_OFF))
        self.random_needles = bool(chance.random() < 0.5)
        self._life_m = float(np.exp(chance.normal(math.log(330), 0.3)))
        self._set = self._stands = (scale.low + scale.high) / 2

    def _chance(self, *what: Any) -> np.random.Generator:
        return np.random.default_rng([self.seed, 77, *(zlib.crc32(str(each).encode()) for each in what)])

    @property
    def setting(self) -> float:
        """What the knob shows."""
        return self._set

    @setting.setter
    def setting(self, value: float) -> None:
        # The discs follow when the play is taken up.
        half = PLAY / 2 * self.number
        self._set, self._stands = value, max(value - half, min(self._stands, value + half))

    def put_in(self, faults: Iterable[str]) -> None:
        """Put faults in, at most four."""
        self.faults = [name for name in dict.fromkeys(faults) if name in FAULTS][:4]

    # What the state comes to

    def _shift(self) -> float:
        drift = DRIFT * math.sin(self._phase + 2 * math.pi * self.meters / (2 * EVENING_M))
        return sum(FAULTS[name].shift for name in self.faults) + drift

    def pulls_now(self) -> tuple[float, float]:
        """Return the pull above and below, in mN."""
        turned = (self._stands - self.scale.low - self._shift() * self.number) / (self.scale.high - self.scale.low)
        grown = (math.exp(self._curve * min(1.2, max(0.0, turned))) - 1) / (math.exp(self._curve) - 1)
        rough = {"cotton": 1.15, "metallic": 1.3, "silk": 0.85}.get(self.top.fiber, 1.0)
        above = (self._least + self._reach * grown) * rough
        grip = self._case * (1 + self._minute * self.screw) * {"cotton": 1.1}.get(self.below.fiber, 1.0)
        return above, max(5.0, grip) * math.prod(FAULTS[name].below for name in self.faults) * (
            1 + 0.05 * (1 - self.fill)
        )

    def depth(self) -> float:
        """Return where the lock lies, -1 on the front to 1 on the back: linear in the ratio of the pulls."""
        above, below = self.pulls_now()
        thick = self.cloth.thickness_mm / 2.5 if self.cloth else 1.0
        wide = self._wide * (0.7 + 0.3 * thick)
        off = self._ratio * (1 + 0.3 * (self.top.diameter_mm - self.below.diameter_mm)) - above / below
        return max(-1.0, min(1.0, off / (wide * 2)))

    # What a person does

    def stitch(self, n: int = 0, stitches: int = STITCHES) -> Line:
        """Stitch a stretch as the machine stands."""
        uneven = self._scatter * math.prod(FAULTS[name].uneven for name in self.faults)
        depths = self.depth() + self._chance("stitch", n).laplace(0, uneven, stitches)
        front, back = float(np.mean(depths < -FRONT_SHOWS)), float(np.mean(depths > BACK_SHOWS))
        more, side = (back, 1) if back >= front else (front, -1)
        return Line(front, back, 0 if more < DOTS_FROM else side if more < NEST_FROM else 2 * side)

    def read(self, line: Line, chance: np.random.Generator, *, hard: bool, care: float) -> int:
        """Return the grade that its owner reads off: lenient, and now and then the neighbor's."""
        grade = line.grade
        if grade and chance.random() < LENIENT:
            grade -= 1 if grade > 0 else -1
        if chance.random() < (SLIPS_HARD if hard else SLIPS) * care:
            grade += int(chance.choice([-1, 1]))
        return max(-2, min(2, grade))

    def pull(self, n: int = 0, hand: float = 0.03) -> tuple[float, float]:
        """Pull the bobbin thread through the gauge, which is off by its own factor."""
        chance = self._chance("pull", n)
        middle = self.pulls_now()[1] * self.gauge_factor * (1 + float(chance.laplace(0, hand * 0.7)))
        swing = 0.015 + sum(FAULTS[name].flutter for name in self.faults) + hand * 0.3
        return middle * (1 - swing), middle * (1 + swing)

    def turn_screw(self, minutes: float) -> None:
        """Turn the screw in or out, as far as it goes."""
        self.screw = max(-25.0, min(60.0, self.screw + minutes))

    def run(self, meters: float, n: int = 0) -> tuple[float, Broke | None]:
        """Quilt until the thread breaks; the needle wears, or fails at random."""
        chance = self._chance("run", n)
        each = [(0.0012, _SNAPS), *(FAULTS[name].breaks for name in self.faults if FAULTS[name].breaks[0])]
        proud = self.top.diameter_mm > self.needle.groove_mm
        if proud or self.worn > 0.9:
            each.append((0.02 if proud else 0.015, _FRAYS))
        if self.depth() < -0.9:
            each.append((0.01, _SNAPS))
        rate = sum(often for often, _ in each)
        goes = float(chance.exponential(1 / rate))
        done = min(meters, goes)
        self.meters += done
        self.lint = min(1.0, self.lint + done / 3000)
        if not self.random_needles:
            self.worn += done / self._life_m
        elif chance.random() < 1 - math.exp(-done / self._life_m):
            self.worn = 1.0
        if goes > meters:
            return done, None
        return done, Broke(str(chance.choice([look for _, look in each], p=[often / rate for often, _ in each])))

    def see(self, n: int = 0) -> Seen:
        """Stitch a line of some meters and tell what is seen of it."""
        chance, line = self._chance("see", n), self.stitch(n, 120)
        told = set()
        if line.grade == 2 or line.back > 0.25:
            told.add("loops_or_nest_on_the_back")
        if line.front > 0.12:
            told.add("bobbin_thread_dots_on_top")
        if min(line.front, line.back) > 0.04:
            told.add("uneven_tension")
        if self.worn > 0.9:
            told.add("popping_or_thumping")
        for name in self.faults:
            told |= {symptom for symptom, often in FAULTS[name].seen.items() if chance.random() < often}
        if _FRAYS in told:
            # An end is fuzzy or cut clean: one that is both is told as fuzzy.
            told.discard(_SNAPS)
        signs = {sign for name in self.faults for sign in FAULTS[name].after if chance.random() < 0.7}
        return Seen(frozenset(told), frozenset(signs))

    def check(self, cause: str, n: int = 0) -> Found:
        """Make a check and mend what it finds; one in thirty overlooks what is there."""
        needle = cause == "needle_dull_burred_bent"
        there = cause in self.faults or (needle and self.worn > 0.9)
        found = there and self._chance("check", cause, n).random() > 1 / 30
        if needle:
            self.worn = 0.0
        if found:
            self.faults = [name for name in self.faults if name != cause]
        return Found(bool(found))

    @property
    def sound(self) -> bool:
        """Whether nothing is wrong with it, the setting aside."""
        return not self.faults and self.worn <= 0.9


def labeled(seed: int, thread: int, value: float) -> float:
    """Return what a thread's label says of its weight: one in eight is off by a third."""
    chance = np.random.default_rng([seed, thread, 8])
    return round(value * float(chance.choice(LABEL_FACTORS)), 1) if chance.random() < LABELS_OFF else value
