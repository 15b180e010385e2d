"""Balance on worlds that do not follow its formulas, against what people do: `python scripts/balance_worlds.py [n]`.

Written apart from the estimator: a setting is good inside a zone of some width, and what is seen beside it follows from
the distance in zones, by a link of its own, with an eye, a knob and an evening that are not perfect.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np

from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.eye import PLAIN, Grading
from weftonos.core.balance.looks import Observation, by_eye
from weftonos.core.balance.posterior import BalancePrior, Expected, StitchedBefore, center_of
from weftonos.core.balance.steadiness import steadiness_of
from weftonos.core.balance.stitched import LEFT_OVER, MOST_LOOKS_EACH, sewn_before
from weftonos.core.kernel.scale import ScaleKind, TopScale

DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)
#: Nobody stitches more lines than these on an evening.
MOST_LINES = 12
EXPECTED_TO = 1.2
#: So many combinations a season holds.
RECORDS = 30


@dataclass(frozen=True)
class World:
    """What is not as the formulas have it: the width of the zone in dial numbers, and what goes wrong."""

    name: str
    zone: float = 0.9
    beyond: float = 0.0
    lenient: float = 0.0
    backlash: float = 0.0
    drift: float = 0.0
    label_off: float = 0.0
    misread: float = 0.05
    scatter: float = 0.25
    linear: bool = False
    uneven: float = 1.0


WORLDS = (
    World("zone 1.9", zone=1.9),
    World("zone 0.9"),
    World("zone 0.4", zone=0.4),
    World("beyond the dial in 1 of 8", beyond=1 / 8),
    World("lenient by half a grade", lenient=0.5),
    World("backlash of half a number", backlash=0.5),
    World("drifts a number an evening", drift=1.0),
    World("labels off by a third, 1 of 8", label_off=1 / 8),
    World("Laplace scatter", scatter=0.5),
    World("linear link", linear=True),
    World("loose seen later than tight", uneven=1.6),
    World("all but the narrow zone", zone=1.4, beyond=1 / 16, lenient=0.25, backlash=0.25, drift=0.5, label_off=1 / 16),
)


class Evening:
    """One combination on a machine: where it balances, and what is seen of a line."""

    def __init__(self, world: World, chance: np.random.Generator) -> None:
        self.world, self.chance, self.lines, self.last = world, chance, 0, 0.0
        self.center = float(np.clip(chance.normal(4, 1.8), 0.3, 9.7))
        self.is_beyond = chance.random() < world.beyond
        off = chance.normal(0, EXPECTED_TO)
        if chance.random() < world.label_off:
            off += chance.choice([-1, 1]) * self.center / 3
        self.expected = float(np.clip(self.center + off, 0.5, 9.5))
        if self.is_beyond:
            self.center = float(chance.choice([-1, 11]) + chance.normal(0, 0.3))
            self.expected = float(np.clip(self.center + chance.normal(0, 2), 0.5, 9.5))

    def true_center(self) -> float:
        return self.center + self.world.drift * min(self.lines, 10) / 10

    def look(self, setting: float) -> int:
        """Stitch a line and judge it."""
        stood = setting
        if self.world.backlash and setting < self.last:
            stood += self.world.backlash / 2
        self.last, self.lines = setting, self.lines + 1
        away = (self.true_center() - stood) / (self.world.zone / 2)
        away = away / self.world.uneven if away > 0 else away
        away += float(self.chance.laplace(0, self.world.scatter))
        if self.world.linear:
            grade = round(away / 2)
        else:
            grade = 0 if abs(away) <= 1 else int(math.copysign(1 if abs(away) <= 3 else 2, away))
        if self.world.lenient and abs(away) <= 1 + 2 * self.world.lenient:
            grade = 0
        if self.chance.random() < self.world.misread:
            grade += int(self.chance.choice([-1, 1]))
        return max(-2, min(2, grade))

    def good(self, setting: float | None, beyond: str = "") -> bool:
        """Say whether what one ends with is right: a setting in the zone, or that the scale ends before it."""
        reach = self.world.zone / 2
        if self.center < DIAL.low - reach or self.center > DIAL.high + reach:
            return beyond == ("low" if self.center < DIAL.low else "high")
        return setting is not None and not beyond and abs(setting - self.true_center()) <= reach


@dataclass
class Outcome:
    """How an evening ended: with what, after how many lines, with which interval, past how many wrong sides."""

    good: bool
    lines: int
    covered: bool | None = None
    wrong_side: int = 0
    looks: tuple[Observation, ...] = ()


def by_program(evening: Evening, grading: Grading = PLAIN, expected: Expected = None) -> Outcome:
    """Stitch what the program says until it is sure."""
    looks: list[Observation] = []
    expected, wrong = expected or BalancePrior(evening.expected, EXPECTED_TO), 0
    while True:
        found = estimate_balance(DIAL, expected, looks, grading=grading)
        done = found.sure or found.beyond is not None or len(looks) == MOST_LINES
        if done:
            covered = found.low <= evening.true_center() <= found.high
            return Outcome(evening.good(found.act_at, found.beyond or ""), len(looks), covered, wrong, tuple(looks))
        step = found.act_at
        loose = max((look.setting for look in looks if look.grade > 0), default=-math.inf)
        tight = min((look.setting for look in looks if look.grade < 0), default=math.inf)
        # A contradiction is named; where the scale has no step between, the better one is stitched again.
        if found.again is None and tight - loose > 1.5 * DIAL.step:
            wrong += not loose < step < tight
        looks.append(Observation(step, evening.look(step)))


@cache
def known_of(world: World, evenings: int = RECORDS) -> Grading:
    """Return what a machine of this world knows of its stitches after so many combinations."""
    told = [by_program(Evening(world, np.random.default_rng([7, n]))).looks for n in range(evenings)]
    return Grading(steadiness=steadiness_of(DIAL, told))


def with_records(evening: Evening) -> Outcome:
    """Stitch what the program says where it has a season of records of the machine."""
    return by_program(evening, known_of(evening.world))


def by_twos(evening: Evening) -> Outcome:
    """Walk by twos from the expected setting, halving at each turn, until one looks good."""
    at, step, way, lines = DIAL.snap(evening.expected), 2.0, 0, 0
    while lines < MOST_LINES:
        lines += 1
        grade = evening.look(at)
        if grade == 0:
            break
        if way and (grade > 0) != (way > 0):
            step = max(DIAL.step, step / 2)
        way = 1 if grade > 0 else -1
        if (at <= DIAL.low and way < 0) or (at >= DIAL.high and way > 0):
            return Outcome(evening.good(None, "low" if way < 0 else "high"), lines)
        at = DIAL.snap(min(DIAL.high, max(DIAL.low, at + way * step)))
    return Outcome(evening.good(at), lines)


def by_ladder(evening: Evening) -> Outcome:
    """Stitch eleven steps, and take the middle of the good ones."""
    steps = [(float(x), evening.look(float(x))) for x in range(11)]
    return Outcome(evening.good(by_eye(steps)), len(steps))


def remembered(evening: Evening) -> Outcome:
    """Set what worked last time for a thread like it, look once, and sew."""
    evening.look(DIAL.snap(evening.expected))
    return Outcome(evening.good(DIAL.snap(evening.expected)), 1)


WAYS: dict[str, Callable[[Evening], Outcome]] = {
    "program": by_program,
    "with records": with_records,
    "by twos": by_twos,
    "ladder": by_ladder,
    "remembered": remembered,
}


#: The ways that are the program's.
OURS = ("program", "with records")


def outcomes(world: World, way: str, evenings: int, seed: int = 31) -> list[Outcome]:
    """Return how the same evenings end one way."""
    return [WAYS[way](Evening(world, np.random.default_rng([seed, n]))) for n in range(evenings)]


def bench_worlds(evenings: int = 60) -> None:
    """Print for each world how often each way ended well, with how many lines, and how often the interval held."""
    print(f"\nBalance on other worlds, {evenings} combinations each: ended well (lines), interval held")
    covers: dict[str, list[float]] = {way: [] for way in OURS}
    wrong = 0
    for world in WORLDS:
        ends = {way: outcomes(world, way, evenings) for way in WAYS}
        share = {way: np.mean([o.good for o in found]) for way, found in ends.items()}
        lines = {way: np.mean([o.lines for o in found]) for way, found in ends.items()}
        best = max(share[way] for way in WAYS if way not in OURS)
        told = ", ".join(f"{way} {share[way]:.0%} ({lines[way]:.1f})" for way in WAYS)
        for way in OURS:
            cover = float(np.mean([o.covered for o in ends[way]]))
            covers[way].append(cover)
            wrong += sum(o.wrong_side for o in ends[way])
            worse = share[way] < best - 0.03 or lines[way] > lines["by twos"] or cover < 0.88
            told += f"; {way} held {cover:.0%}{' WORSE' if worse else ''}"
        print(f"  {world.name:30} {told}")
    held = ", ".join(f"{way} {np.mean(found):.0%}" for way, found in covers.items())
    print(f"  held over all: {held}; steps past one seen wrong on that side: {wrong}")


@dataclass(frozen=True)
class Returning:
    """A combination that is put on again and again: by how much it strays, and how often something else has changed."""

    name: str
    world: World
    stray: float = 0.35
    changed: float = 1 / 15

    def evenings(self, count: int, chance: np.random.Generator) -> list[Evening]:
        """Return its evenings, each with a center of its own about the combination's."""
        first = Evening(self.world, chance)
        found = [first]
        for _ in range(count - 1):
            again = Evening(self.world, chance)
            off = chance.normal(0, self.stray)
            if chance.random() < self.changed:
                off += chance.choice([-1, 1]) * chance.uniform(1, 3)
            again.center, again.is_beyond = float(np.clip(first.center + off, 0.3, 9.7)), False
            found.append(again)
        return found


RETURNING = (
    Returning("again, zone 1.9", World("zone 1.9", zone=1.9)),
    Returning("again, zone 0.9", World("zone 0.9")),
    Returning("again, zone 0.4", World("zone 0.4", zone=0.4), stray=0.15),
    Returning("again, strays a number", World("strays", zone=1.4), stray=1.0),
    Returning("again, seldom strays", World("steady", zone=1.4), stray=0.1, changed=1 / 40),
    Returning("again, linear and lenient", World("linear, lenient", linear=True, lenient=0.5)),
)
#: So many evenings a combination is on; those after the first are counted.
EVENINGS = 5


def expectations(first: Evening, times: Sequence[tuple[Observation, ...]]) -> dict[str, Expected]:
    """Return what is expected after earlier evenings: a setting with its spread, or the zone's width with it."""
    base = BalancePrior(first.expected, EXPECTED_TO)
    if not times:
        return dict.fromkeys(("its setting", "its setting and zone"), base)
    looks = tuple(look for each in times for look in each)[-MOST_LOOKS_EACH:]
    before = sewn_before([[look.grade for look in reversed(each)] for each in reversed(times)])
    center, spread = center_of(DIAL, looks, base)
    strayed = {"drift": before.drift, "anywhere": before.anywhere, "center": center}
    return {
        "its setting": BalancePrior(center, math.hypot(spread, LEFT_OVER.value), before.anywhere),
        "its setting and zone": StitchedBefore(expected=base, looks=looks, **strayed),
    }


def bench_returning(combinations: int = 20) -> None:
    """Print how evenings end on which a combination is on again, by what is carried over from those before."""
    print(f"\nOn again, {combinations} combinations, the evenings after the first: ended well (lines), interval held")
    for again in RETURNING:
        told = []
        for way in expectations(again.evenings(1, np.random.default_rng(0))[0], []):
            ends = []
            for n in range(combinations):
                first, *others = again.evenings(EVENINGS, np.random.default_rng([77, n]))
                times = [by_program(first).looks]
                for evening in others:
                    ends.append(by_program(evening, expected=expectations(first, times)[way]))
                    times.append(ends[-1].looks)
            good, held = (np.mean([getattr(end, what) for end in ends]) for what in ("good", "covered"))
            told.append(f"{way} {good:.0%} ({np.mean([end.lines for end in ends]):.2f}), held {held:.0%}")
        print(f"  {again.name:30} {'; '.join(told)}")


if __name__ == "__main__":
    bench_worlds(int(sys.argv[1]) if len(sys.argv) > 1 else 60)
    bench_returning(int(sys.argv[1]) // 3 if len(sys.argv) > 1 else 20)
