"""A season at the demo workshop: three machines, quilts named after tides and birds, real troubles in between.

Made by rule from a seed and a last day, so that two runs with the same arguments write the same records. The
settings and grades come from a simple hidden truth per combination, not from the program's own advice.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from itertools import count
from random import Random

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.events import BobbinReading, ScrewTurned
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.bobbin.rack import Bobbin
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.kernel.force import ForceUnit, from_mn
from weftonos.core.kernel.sandwich import Loft, Sandwich
from weftonos.core.log.logbook import Payload
from weftonos.core.log.references import Thing
from weftonos.core.log.run import Run
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.setup.events import (
    BobbinLoaded,
    NeedleFitted,
    NeedleRetired,
    SandwichLaid,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.setup.machine import Machine
from weftonos.demo.drawer import THREADS
from weftonos.demo.history import history
from weftonos.demo.plans import write_plans
from weftonos.demo.sewn import BOBBINS, CASE_OF, CASES, HERON, PACE, PACKETS, PLOVER, SEWN, WREN, SewnAs
from weftonos.demo.troubles import write_troubles
from weftonos.store.archive import names_of
from weftonos.store.workshop import Workshop

_Packets = dict[tuple[int, Point, NeedleFinish, str], int]


def fill(workshop: Workshop, last_day: datetime, seed: int = 1, tell: Callable[[float], None] | None = None) -> None:
    """Write the demo, ending on ``last_day``; ``tell`` hears the share that is done."""
    ids = {spec.nickname: workshop.add_machine(spec).id for spec in (HERON, PLOVER, WREN)}
    drawer = {spec.name: workshop.drawer.add_thread(spec).id for spec in THREADS}
    specs = {spec.nickname: spec for spec in (HERON, PLOVER, WREN)}
    packets = {}
    for packet in PACKETS:
        row = workshop.drawer.add_packet(packet)
        packets[packet.metric, packet.point, packet.finish, packet.system] = row.id
    cases = {}
    for machine, cased in CASES:
        cases[cased.label] = workshop.rack.add_case(ids[machine], cased).id
    for label, thread, winding, fill_share in BOBBINS:
        workshop.rack.add_bobbin(
            Bobbin(label=label, thread=drawer[thread], bobbin_class=BobbinClass.M, fill=fill_share, winding=winding)
        )
    _fill_history(workshop, ids, drawer, last_day, seed)
    chance = Random(seed)
    noon = last_day.replace(hour=12, minute=10, second=0, microsecond=0)
    start = noon - timedelta(days=7 * len(SEWN))
    written: list[tuple[datetime, int, Payload]] = []
    for begin, name, payloads in (
        (start - timedelta(days=9), "Plover", _screw_records(cases["C"], PLOVER, chance)),
        (start - timedelta(days=2), "Heron", _weekly_readings(cases["A"], HERON, chance)),
    ):
        for minutes, payload in payloads:
            written.append((begin + timedelta(minutes=minutes), ids[name], payload))
    at_work: dict[str, tuple[int, datetime]] = {}
    for number, sewn in enumerate(SEWN):
        at = start + timedelta(days=7 * number + chance.randint(0, 2), hours=chance.randint(-4, 4))
        if number >= len(SEWN) - 3:
            at = noon - timedelta(days=len(SEWN) - number + 1)
        level = _tiring_mn((at - start).days + 2) if sewn.machine == "Heron" else sewn.bobbin_mn
        for minutes, payload in _records(
            sewn=sewn,
            machine=specs[sewn.machine],
            drawer=drawer,
            packets=packets,
            case=cases[CASE_OF[sewn.machine]],
            level_mn=level,
            chance=chance,
        ):
            written.append((at + timedelta(minutes=minutes), ids[sewn.machine], payload))
        at_work[sewn.quilt] = ids[sewn.machine], at + timedelta(minutes=62 + sewn.runs[0])
    # In the order of time, as a workshop writes them.
    cloths, begun = count(1), dict[int, int]()
    for number, (moment, machine_id, payload) in enumerate(sorted(written, key=lambda record: record[0])):
        if isinstance(payload, Cloth):
            payload = replace(payload, number=next(cloths))
        elif isinstance(payload, StitchedLook | Recipe):
            payload = replace(payload, cloth=begun.get(machine_id))
        noted = workshop.note(machine_id, payload, moment, max(moment, last_day))
        if isinstance(payload, Cloth):
            begun[machine_id] = noted.id
        elif isinstance(payload, TopThreaded):
            begun.pop(machine_id, None)
        if tell:
            tell(number / (len(written) * 1.3))
    write_troubles(workshop, at_work, last_day)
    write_plans(workshop, at_work, drawer, last_day)


def _fill_history(
    workshop: Workshop, machines: dict[str, int], drawer: dict[str, int], last_day: datetime, seed: int
) -> None:
    """Put in the years before the season, at once: a record by itself would take minutes."""
    names = names_of(workshop.session)
    until = last_day - timedelta(days=7 * (len(SEWN) + 3))
    lines = list(
        history(
            {name: names[Thing.MACHINE][number] for name, number in machines.items()},
            {name: names[Thing.THREAD][number] for name, number in drawer.items()},
            until,
            seed,
        )
    )
    workshop.take_in(lines, last_day)


def _records(
    sewn: SewnAs,
    machine: Machine,
    drawer: dict[str, int],
    packets: _Packets,
    case: int,
    level_mn: float,
    chance: Random,
) -> list[tuple[int, Payload]]:
    size = NeedleSize.of_metric(sewn.metric)
    loft = Loft.LOFTY if "lofty" in sewn.batting else Loft.MEDIUM if "medium" in sewn.batting else Loft.LOW
    sandwich = Sandwich(loft=loft, fabric="quilting cotton", batting=sewn.batting)
    found: list[tuple[int, Payload]] = [
        (0, TopThreaded(tuple(drawer[name] for name in sewn.top))),
        (
            3,
            NeedleFitted(
                metric=size.metric,
                american=size.american,
                point=sewn.point,
                finish=sewn.finish,
                note=f"For {sewn.quilt}",
                system=machine.needle_system,
                packet=packets.get((sewn.metric, sewn.point, sewn.finish, machine.needle_system)),
            ),
        ),
        (8, BobbinLoaded(bobbin=drawer[sewn.bobbin], case=case)),
        (10, SandwichLaid(sandwich)),
        (12, _reading(mean_mn=sewn.bobbin_mn, swing=sewn.swing, machine=machine, case=case, chance=chance)),
    ]
    step = max(machine.scale.step, machine.scale.span / 40)
    offsets = [3, -2, 0] if sewn.kept else [2]
    if sewn.kept:
        # It gets its number when it is noted.
        found.append((18, Cloth(number=1)))
    for number, offset in enumerate(offsets):
        setting = machine.scale.snap(sewn.balance + offset * step)
        miss = (setting - machine.scale.snap(sewn.balance)) / step
        grade = 0 if abs(miss) < 1 else (-1 if miss > 0 else 1) * (2 if abs(miss) >= 3 else 1)
        found.append(
            (20 + 6 * number, StitchedLook(setting=setting, grade=grade, motion=sewn.motion, sandwich=sandwich))
        )
    if sewn.kept:
        found.append(
            (
                45,
                Recipe(
                    name=sewn.quilt,
                    setting=machine.scale.snap(sewn.balance),
                    grade=0,
                    bobbin_mn=_mean(found[4][1]),
                    motion=sewn.motion,
                ),
            )
        )
    minute = 60
    for number, length in enumerate(sewn.runs):
        if number:
            # A fresh bobbin for every sitting, and its tension read.
            found.append((minute, BobbinLoaded(bobbin=drawer[sewn.bobbin], case=case)))
            found.append(
                (minute + 1, _reading(mean_mn=level_mn, swing=sewn.swing, machine=machine, case=case, chance=chance))
            )
        minute += length
        meters = round(length / 60 * PACE[machine.nickname] * chance.uniform(0.85, 1.15))
        found.append((minute, Run(minutes=length, quilt=sewn.quilt, meters=meters)))
        minute += chance.randint(20, 60)
    if sewn.out is not None:
        found.append((minute, NeedleRetired(sewn.out)))
    return found


def _mean(payload: Payload) -> float:
    assert isinstance(payload, BobbinReading)
    return payload.mean_mn


def _reading(mean_mn: float, swing: float, machine: Machine, case: int, chance: Random) -> BobbinReading:
    unit = machine.gauge_unit or ForceUnit.MN
    pulls = []
    for _ in range(3):
        middle = from_mn(mean_mn * chance.gauss(1, 0.014), unit)
        half = middle * swing * chance.uniform(0.8, 1.1)
        pulls.append(Pull(low=round(middle - half, 1), high=round(middle + half, 1)))
    return BobbinReading.of(unit, tuple(pulls), machine.bobbin_target(), case=case)


def _screw_records(case: int, machine: Machine, chance: Random) -> list[tuple[int, Payload]]:
    """A case brought to its number in three turns, weeks ago; its screw answers a little more than usual."""
    found: list[tuple[int, Payload]] = []
    level, day = 236.0, 0
    for minutes in (3, 2, -1):
        found.append((day, _reading(mean_mn=level, swing=0.02, machine=machine, case=case, chance=chance)))
        found.append((day + 2, ScrewTurned(case, minutes)))
        level *= math.exp(0.032 * minutes)
        day += 4
        found.append((day, _reading(mean_mn=level, swing=0.02, machine=machine, case=case, chance=chance)))
        day += 60 * 24
    return found


def _tiring_mn(days: float) -> float:
    """What Heron's case A reads after so many days: its spring begins to tire in the tenth week."""
    return 204 - max(0, days / 6 - 9) * 1.1


def _weekly_readings(case: int, machine: Machine, chance: Random) -> list[tuple[int, Payload]]:
    """A case read every few days, whose spring begins to tire toward the end."""
    found: list[tuple[int, Payload]] = []
    for session in range(16):
        level = _tiring_mn(session * 6) + chance.gauss(0, 0.5)
        found.append(
            (session * 6 * 60 * 24, _reading(mean_mn=level, swing=0.02, machine=machine, case=case, chance=chance))
        )
    return found
