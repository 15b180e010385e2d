"""Sweep over set-ups: no station may convict what another advised. Run by `make bench`; a seeded part in the tests.

Every thread nature in the weights in use, both heads, every loft and weave, each purpose of the bobbin, each school
switched alone and the rest two by two.
"""

from __future__ import annotations

import random
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from itertools import combinations, product

from weftonos.core.balance.combination import school_setting
from weftonos.core.bobbin.gauge import Pull, Verdict, read_gauge
from weftonos.core.bobbin.purpose import Purpose, purpose_target
from weftonos.core.bobbin.target import usual_target
from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Loft, Sandwich, Weave
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import BobbinSchool, MachineKind, School, questions
from weftonos.core.kernel.stations import Station
from weftonos.core.line.thread_line import KnotState, knots
from weftonos.core.mend.circumstance import Circumstances, conditions
from weftonos.core.mend.diagnosis import Observed
from weftonos.core.mend.preflight import preflight
from weftonos.core.needle.bundle_advice import bobbin_weight
from weftonos.core.needle.fitting import Plausible, RoomTrouble, room_advice
from weftonos.core.needle.groove_fit import FitState
from weftonos.core.needle.needle import NeedleFinish
from weftonos.core.needle.pairing import Pairing, against_bobbin, pair_needle
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import NeedleTag, Setup, ThreadTag
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.starting_tension import start_tension
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread
from weftonos.knowledge import troubles

NOW = datetime(2026, 11, 24, tzinfo=UTC)
_F, _C = Fiber, Construction
#: Each nature in the weights it is sold in, in wt.
IN_USE: tuple[tuple[Fiber, Construction, tuple[float, ...]], ...] = (
    (_F.COTTON, _C.SPUN, (80, 60, 50, 40, 30, 19, 12, 8)),
    (_F.POLYESTER, _C.MULTIFILAMENT, (100, 80, 60, 40, 30)),
    (_F.POLYESTER, _C.SPUN, (50, 40, 30)),
    (_F.COTTON_POLYESTER, _C.CORE_SPUN, (50, 40, 30)),
    (_F.RAYON, _C.MULTIFILAMENT, (40, 30, 12)),
    (_F.SILK, _C.MULTIFILAMENT, (100, 50, 30)),
    (_F.NYLON, _C.TEXTURED, (60,)),
    (_F.POLYESTER, _C.MONOFILAMENT, (120, 91)),
    (_F.NYLON, _C.MONOFILAMENT, (91,)),
    (_F.METALLIC, _C.METALLIC, (40, 30)),
    (_F.METALLIC, _C.FILM, (40,)),
    (_F.WASH_AWAY, _C.SPUN, (50,)),
)
#: The questions whose answer the pairing or the bobbin follows.
SWITCHED = ("point", "size", "dense", "room", "clear_below", "fiber_below", "wound", "quilt_fiber")
SCALES = {
    MachineKind.HOME: TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5),
    MachineKind.LONGARM: TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5),
}


def made(fiber: Fiber, construction: Construction, wt: float) -> Thread:
    return Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)


@dataclass(frozen=True, kw_only=True)
class SetUp:
    """One set-up of the sweep."""

    top: Bundle
    kind: MachineKind
    school: School
    bobbin_school: BobbinSchool
    sandwich: Sandwich
    purpose: Purpose
    chosen: tuple[tuple[str, str], ...]

    @property
    def words(self) -> str:
        """What it is, to be found again."""
        threads = " + ".join(f"{t.value:g} wt {t.fiber.value} {t.construction.value}" for t in self.top.threads)
        return (
            f"{threads}, {self.kind.value}, {self.school.value} school, {self.sandwich.loft.value} "
            f"{self.sandwich.weave.value}, {self.purpose.value}, {dict(self.chosen)}"
        )

    @property
    def machine(self) -> Machine:
        """The machine of it."""
        return Machine(
            nickname="Heron",
            kind=self.kind,
            scale=SCALES[self.kind],
            throat_in=24 if self.kind is MachineKind.LONGARM else None,
            school=self.school,
            bobbin_school=self.bobbin_school,
            choices=dict(self.chosen),
        )


def _school_switches() -> Iterator[tuple[tuple[str, str], ...]]:
    """Yield no switch, each side alone, and the sides two by two."""
    sides = [(name, side.id) for name in SWITCHED for side in questions()[name].sides]
    yield ()
    for side in sides:
        yield (side,)
    for one, other in combinations(sides, 2):
        if one[0] != other[0]:
            yield (one, other)


def set_ups(seed: int = 7, most: int | None = None) -> Iterator[SetUp]:
    """Yield the set-ups of the sweep, or so many of them by chance."""
    tops = [Bundle.of([made(f, c, wt)]) for f, c, weights in IN_USE for wt in weights]
    tops.append(Bundle.of([made(_F.COTTON, _C.SPUN, wt) for wt in (30, 40, 50)]))
    tops.append(Bundle.of([made(_F.POLYESTER, _C.MULTIFILAMENT, 40), made(_F.METALLIC, _C.METALLIC, 40)]))
    switches = list(_school_switches())
    chance = random.Random(seed)
    whole = product(tops, MachineKind, School, BobbinSchool, Loft, Weave, (Purpose.ORDINARY, Purpose.DELICATE))
    # Two switches for each place, the same every time: each switch meets each thread many times over.
    every = (
        SetUp(
            top=top,
            kind=kind,
            school=school,
            bobbin_school=below,
            sandwich=Sandwich(loft=loft, weave=weave),
            purpose=purpose,
            chosen=chosen,
        )
        for top, kind, school, below, loft, weave, purpose in whole
        for chosen in chance.sample(switches, 4)
    )
    if most is None:
        yield from every
    else:
        yield from chance.sample(list(every), most)


@dataclass(frozen=True, kw_only=True)
class Advised:
    """A set-up with what the stations advise for it."""

    given: SetUp
    pairing: Pairing
    setup: Setup

    @classmethod
    def of(cls, given: SetUp) -> Advised:
        """Ask the Needle station, and fit what it says."""
        machine = given.machine
        pairing = pair_needle(given.kind, given.school, given.top, None, given.sandwich, machine.schools)
        best = pairing.recommended
        tags = tuple(
            ThreadTag.of(n, DrawerThread(name=f"thread {n}", thread=t)) for n, t in enumerate(given.top.threads)
        )
        needle = NeedleTag(
            record_id=1,
            metric=best.metric,
            american=best.american,
            point=best.point,
            finish=NeedleFinish.STEEL,
            fitted_at=NOW,
        )
        return cls(given=given, pairing=pairing, setup=Setup(top=tags, needle=needle, sandwich=given.sandwich))

    def below(self, wt: float) -> Thread:
        """A bobbin thread of this weight."""
        return made(_F.POLYESTER, _C.MULTIFILAMENT, wt)


def _fits(a: Advised) -> bool:
    return not a.pairing.through_a_needle or a.pairing.recommended.state in (FitState.RIDES, FitState.TIGHT)


def _line_agrees(a: Advised) -> bool:
    knot = next(k for k in knots(a.given.machine, a.setup, None) if k.station is Station.NEEDLE)
    return knot.state is KnotState.READY


def _mend_agrees(a: Advised) -> bool:
    best = a.pairing.recommended
    known = Circumstances(
        machine_kind=a.given.kind,
        top=a.given.top.threads,
        needle=best.size,
        point=best.point,
        sandwich=a.given.sandwich,
    )
    holds, lacks = conditions(known)
    if a.pairing.through_a_needle and holds & {"thread_rubs", "thread_has_play", "eye_too_small_for_metallic"}:
        return False
    page = troubles().at(OF_KIND[a.given.kind])
    listed = preflight(page, Observed.of(page, holds, lacks))
    against = {"groove_too_small_for_thread", "needle_too_large_for_thread", "point_unsuited_to_direction"}
    return not against.intersection(item.cause for item in listed.items) or not a.pairing.through_a_needle


def _room_agrees(a: Advised) -> bool:
    if not a.pairing.through_a_needle:
        return True
    best = a.pairing.recommended
    snaps = room_advice(RoomTrouble.SNAPS, a.given.top, best.size, best.point)
    return snaps.plausible is not Plausible.LIKELY


def _bobbin_agrees(a: Advised) -> bool:
    if nature_of(a.given.top.threads[0]).bobbin_only:
        return True
    advised = bobbin_weight(a.given.bobbin_school, a.given.top)
    for wt in (advised.finest_wt, advised.heaviest_wt):
        below = a.below(wt)
        if against_bobbin(a.given.top, below).rule == "bobbin_not_thicker":
            return False
        setup = replace(a.setup, bobbin=ThreadTag.of(99, DrawerThread(name="below", thread=below)))
        knot = next(k for k in knots(a.given.machine, setup, None) if k.station is Station.THREAD)
        washes = any(t.fiber is Fiber.WASH_AWAY for t in a.given.top.threads)
        if knot.state is not KnotState.READY and not washes:
            return False
    return True


def _target_agrees(a: Advised) -> bool:
    ordinary = usual_target(a.given.kind, a.given.machine.throat_in)
    target = purpose_target(ordinary, a.given.purpose)
    if target is None:
        return True
    return all(
        read_gauge(ForceUnit.MN, [Pull(value=mn)], target).verdict is Verdict.ON_TARGET
        for mn in (target.low + 1, target.middle, target.high - 1)
    )


def _start_agrees(a: Advised) -> bool:
    start, scale = start_tension(a.given.kind, a.given.top), SCALES[a.given.kind]
    setting, _, _ = school_setting(scale, a.given.top, 200)
    if not a.pairing.through_a_needle:
        return setting is None
    return start.low <= start.center <= start.high and setting is not None and scale.low <= setting <= scale.high


def _instead_agrees(a: Advised) -> bool:
    return not a.pairing.through_a_needle or all(
        choice.state is not FitState.RUBS for choice in a.pairing.alternatives if choice.school is None
    )


def _reasons_agree(a: Advised) -> bool:
    """No reason praises a big eye beside a slim one, and a thread that no needle takes is told nothing of a groove."""
    if not a.pairing.through_a_needle:
        return [r.rule for r in a.pairing.reasons] == ["too_heavy_for_a_needle"]
    big_eye = "big eye" in a.pairing.recommended.why
    return not big_eye or a.pairing.recommended.point.value in ("topstitch", "metallic", "embroidery")


#: The rules, each a sentence and what has to hold.
RULES: dict[str, tuple[str, Callable[[Advised], bool]]] = {
    "fit": ("the recommended needle lies right by our own gauge of fit", _fits),
    "line": ("the thread line is ready with the recommended needle", _line_agrees),
    "mend": ("Mend and the list before a quilt hold nothing against the recommended needle", _mend_agrees),
    "room": ("a snap is never called the fault of the recommended needle's play", _room_agrees),
    "bobbin": ("what goes below by one panel is called wrong by none", _bobbin_agrees),
    "target": ("the gauge calls a purpose's own target on target", _target_agrees),
    "start": ("a start lies inside the range it states, and on the scale", _start_agrees),
    "instead": ("nothing offered instead rubs by our own estimate", _instead_agrees),
    "reasons": ("no reason speaks against the needle it stands beside", _reasons_agree),
}


def sweep(chosen: Iterator[SetUp]) -> tuple[int, list[tuple[str, str]]]:
    """Return how many set-ups were looked at, and each contradiction: the rule, and the set-up in words."""
    count, found = 0, []
    for given in chosen:
        count += 1
        advised = Advised.of(given)
        found += [(rule, given.words) for rule, (_, holds) in RULES.items() if not holds(advised)]
    return count, found


def bench_sweep() -> None:
    begin = time.perf_counter()
    count, found = sweep(set_ups())
    took = time.perf_counter() - begin
    print(f"\nSweep: {count} set-ups, {len(RULES)} rules, {len(found)} contradictions (aim 0), {took:.0f} s")
    for rule, many in Counter(rule for rule, _ in found).most_common():
        print(f"  {many:>6} {RULES[rule][0]}: {next(words for r, words in found if r == rule)}")


if __name__ == "__main__":
    bench_sweep()
