"""A season at the demo workshop: three machines, quilts named after tides and birds, real troubles in between.

Made by rule from a seed and a last day, so that two runs with the same arguments write the same records. The
settings and grades come from a simple hidden truth per combination, not from the program's own advice.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from itertools import count
from random import Random

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.events import BobbinReading, ScrewTurned
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.bobbin.rack import Backlash, Bobbin, BobbinCase, Winding
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.kernel.force import ForceUnit, from_mn
from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.logbook import Payload
from weftonos.core.log.references import Thing
from weftonos.core.log.run import Run
from weftonos.core.needle.life import RetireReason
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.needle.packet import NeedlePacket
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
from weftonos.demo.troubles import write_troubles
from weftonos.store.archive import names_of
from weftonos.store.workshop import Workshop

HERON = Machine(
    nickname="Heron",
    kind=MachineKind.LONGARM,
    scale=TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5),
    throat_in=24,
    needle_system="134 (DPx5)",
    on_frame=True,
    guide_holes=3,
    has_gauge=True,
    removable_case=True,
)
PLOVER = Machine(
    nickname="Plover",
    kind=MachineKind.LONGARM,
    scale=TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25),
    throat_in=18,
    needle_system="134 (DPx5)",
    on_frame=True,
    guide_holes=3,
    has_gauge=True,
    removable_case=True,
    gauge_unit=ForceUnit.GF,
)
WREN = Machine(
    nickname="Wren",
    kind=MachineKind.HOME,
    scale=TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5),
    throat_in=9,
    needle_system="130/705 H",
)


@dataclass(frozen=True, kw_only=True)
class _Job:
    """A stretch of work with one combination: by name, with the truth that the season knows and nobody else."""

    machine: str
    quilt: str
    top: tuple[str, ...]
    bobbin: str
    metric: int
    point: Point
    bobbin_mn: float
    balance: float
    batting: str = "cotton, low"
    motion: Motion = Motion.FREE_MOTION
    finish: NeedleFinish = NeedleFinish.STEEL
    kept: bool = True
    swing: float = 0.025
    runs: tuple[int, ...] = (95, 140, 110)
    out: RetireReason | None = RetireReason.DUE


_J = _Job
_TOP, _BALL, _QUILT, _EMB = Point.TOPSTITCH, Point.BALLPOINT, Point.QUILTING, Point.EMBROIDERY
_JOBS: tuple[_Job, ...] = (
    _J(
        machine="Heron",
        quilt="Spring Tide",
        top=("Samphire 50",),
        bobbin="Oyster 60",
        metric=90,
        point=_BALL,
        bobbin_mn=203,
        balance=195,
    ),
    _J(
        machine="Wren",
        quilt="Wren in Gorse",
        top=("Samphire 50",),
        bobbin="Eelgrass 60",
        metric=80,
        point=_QUILT,
        bobbin_mn=232,
        balance=2.5,
    ),
    _J(
        machine="Plover",
        quilt="Ringed Plover",
        top=("Driftwood 40",),
        bobbin="Samphire 50",
        metric=110,
        point=_BALL,
        bobbin_mn=281,
        balance=0.25,
    ),
    _J(
        machine="Heron",
        quilt="Gray Heron",
        top=("Saltmarsh 40",),
        bobbin="Limpet 80",
        metric=100,
        point=_BALL,
        bobbin_mn=198,
        balance=210,
        batting="wool, lofty",
    ),
    _J(
        machine="Wren",
        quilt="Low Water",
        top=("Sea Lavender 100",),
        bobbin="Limpet 80",
        metric=70,
        point=_TOP,
        bobbin_mn=224,
        balance=3.0,
        runs=(60, 75),
        out=RetireReason.BREAK,
    ),
    _J(
        machine="Heron",
        quilt="Turnstone",
        top=("Shingle 30",),
        bobbin="Oyster 60",
        metric=125,
        point=_TOP,
        bobbin_mn=206,
        balance=180,
        batting="wool, lofty",
        runs=(120, 200),
        out=RetireReason.DULL_SOUND,
    ),
    _J(
        machine="Plover",
        quilt="Ebb and Flow",
        top=("Ebb 40",),
        bobbin="Limpet 80",
        metric=100,
        point=_BALL,
        bobbin_mn=268,
        balance=-0.5,
        runs=(170, 190),
        out=RetireReason.BREAK,
    ),
    _J(
        machine="Wren",
        quilt="Oystercatcher",
        top=("Glasswort 40",),
        bobbin="Eelgrass 60",
        metric=90,
        point=_EMB,
        bobbin_mn=229,
        balance=2.0,
        motion=Motion.DECORATIVE,
    ),
    _J(
        machine="Heron",
        quilt="Curlew Morning",
        top=("Saltmarsh 40",),
        bobbin="Eelgrass 60",
        metric=100,
        point=_BALL,
        bobbin_mn=201,
        balance=205,
        batting="polyester, medium",
    ),
    _J(
        machine="Wren",
        quilt="Slack Water",
        top=("Phosphor gold",),
        bobbin="Limpet 80",
        metric=90,
        point=Point.METALLIC,
        bobbin_mn=190,
        balance=1.0,
        runs=(45,),
    ),
    _J(
        machine="Plover",
        quilt="Sanderling",
        top=("Samphire 50",),
        bobbin="Oyster 60",
        metric=90,
        point=_BALL,
        bobbin_mn=274,
        balance=0.0,
        runs=(200, 240, 190),
        out=RetireReason.DULL_SOUND,
    ),
    _J(
        machine="Heron",
        quilt="Neap Tide",
        top=("Ebb 40",),
        bobbin="Limpet 80",
        metric=110,
        point=_TOP,
        bobbin_mn=207,
        balance=200,
        finish=NeedleFinish.TITANIUM,
    ),
    _J(
        machine="Wren",
        quilt="Redshank",
        top=("Driftwood 40",),
        bobbin="Samphire 50",
        metric=90,
        point=_TOP,
        bobbin_mn=236,
        balance=2.5,
        kept=False,
        runs=(150, 205, 160),
        out=None,
    ),
    _J(
        machine="Plover",
        quilt="Winter Roost",
        top=("Saltmarsh 40",),
        bobbin="Limpet 80",
        metric=100,
        point=_BALL,
        bobbin_mn=262,
        balance=-0.25,
        kept=False,
        swing=0.16,
        runs=(55,),
        out=None,
    ),
    _J(
        machine="Heron",
        quilt="Avocet",
        top=("Saltmarsh 40",),
        bobbin="Limpet 80",
        metric=100,
        point=_BALL,
        bobbin_mn=204,
        balance=205,
        batting="wool, lofty",
        kept=False,
        runs=(110, 82),
        out=None,
    ),
)


_STEEL, _COATED = NeedleFinish.STEEL, NeedleFinish.TITANIUM
_Packets = dict[tuple[int, Point, NeedleFinish, str], int]

PACKETS: tuple[NeedlePacket, ...] = (
    NeedlePacket(metric=100, american=16, point=_BALL, bought=10, finish=_STEEL, system="DPx5", price=0.9),
    NeedlePacket(metric=90, american=14, point=_BALL, bought=10, finish=_STEEL, system="DPx5", price=0.9),
    NeedlePacket(metric=110, american=18, point=_TOP, bought=5, finish=_COATED, system="DPx5", price=3.2),
    NeedlePacket(metric=125, american=20, point=_TOP, bought=5, finish=_STEEL, system="DPx5", price=1.1),
    NeedlePacket(metric=100, american=16, point=_BALL, bought=10, finish=_STEEL, system="HLx5", price=0.8),
    NeedlePacket(metric=110, american=18, point=_BALL, bought=10, finish=_STEEL, system="HLx5", price=0.8),
    NeedlePacket(metric=80, american=12, point=_QUILT, bought=5, finish=_STEEL, system="130/705 H", price=1.0),
    NeedlePacket(metric=90, american=14, point=_TOP, bought=5, finish=_STEEL, system="130/705 H", price=1.2),
    NeedlePacket(metric=90, american=14, point=_TOP, bought=5, finish=_COATED, system="130/705 H", price=3.6),
    NeedlePacket(metric=70, american=10, point=_TOP, bought=5, finish=_STEEL, system="130/705 H", price=1.2),
)


#: Stitched meters an hour, as the season's owner makes them.
PACE = {"Heron": 36, "Plover": 40, "Wren": 13}
CASES: tuple[tuple[str, BobbinCase], ...] = (
    ("Heron", BobbinCase(label="A", bobbin_class=BobbinClass.M, kept_for="polyester")),
    ("Heron", BobbinCase(label="B", bobbin_class=BobbinClass.M, kept_for="cotton", backlash=Backlash.WASHER)),
    ("Plover", BobbinCase(label="C", bobbin_class=BobbinClass.M, kept_for="polyester")),
    ("Plover", BobbinCase(label="D", bobbin_class=BobbinClass.M, kept_for="cotton")),
    ("Wren", BobbinCase(label="E", bobbin_class=BobbinClass.CLASS_15, kept_for="", backlash=Backlash.NONE)),
)
CASE_OF = {"Heron": "A", "Plover": "C", "Wren": "E"}
BOBBINS: tuple[tuple[str, str, Winding, float], ...] = (
    ("L1", "Limpet 80", Winding.PRE_WOUND, 1.0),
    ("L2", "Limpet 80", Winding.PRE_WOUND, 0.6),
    ("O1", "Oyster 60", Winding.EVEN, 1.0),
    ("S1", "Samphire 50", Winding.EVEN, 0.8),
    ("X1", "Brackish clear", Winding.SLOW, 0.75),
)


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
    start = noon - timedelta(days=7 * len(_JOBS))
    written: list[tuple[datetime, int, Payload]] = []
    for begin, name, payloads in (
        (start - timedelta(days=9), "Plover", _screw_records(cases["C"], PLOVER, chance)),
        (start - timedelta(days=2), "Heron", _weekly_readings(cases["A"], HERON, chance)),
    ):
        for minutes, payload in payloads:
            written.append((begin + timedelta(minutes=minutes), ids[name], payload))
    at_work: dict[str, tuple[int, datetime]] = {}
    for number, job in enumerate(_JOBS):
        at = start + timedelta(days=7 * number + chance.randint(0, 2), hours=chance.randint(-4, 4))
        if number >= len(_JOBS) - 3:
            at = noon - timedelta(days=len(_JOBS) - number + 1)
        level = _tiring_mn((at - start).days + 2) if job.machine == "Heron" else job.bobbin_mn
        for minutes, payload in _records(
            job=job,
            machine=specs[job.machine],
            drawer=drawer,
            packets=packets,
            case=cases[CASE_OF[job.machine]],
            level_mn=level,
            chance=chance,
        ):
            written.append((at + timedelta(minutes=minutes), ids[job.machine], payload))
        at_work[job.quilt] = ids[job.machine], at + timedelta(minutes=62 + job.runs[0])
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
    until = last_day - timedelta(days=7 * (len(_JOBS) + 3))
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
    job: _Job,
    machine: Machine,
    drawer: dict[str, int],
    packets: _Packets,
    case: int,
    level_mn: float,
    chance: Random,
) -> list[tuple[int, Payload]]:
    size = NeedleSize.of_metric(job.metric)
    loft = Loft.LOFTY if "lofty" in job.batting else Loft.MEDIUM if "medium" in job.batting else Loft.LOW
    sandwich = Sandwich(loft=loft, fabric="quilting cotton", batting=job.batting)
    found: list[tuple[int, Payload]] = [
        (0, TopThreaded(tuple(drawer[name] for name in job.top))),
        (
            3,
            NeedleFitted(
                metric=size.metric,
                american=size.american,
                point=job.point,
                finish=job.finish,
                note=f"For {job.quilt}",
                system=machine.needle_system,
                packet=packets.get((job.metric, job.point, job.finish, machine.needle_system)),
            ),
        ),
        (8, BobbinLoaded(bobbin=drawer[job.bobbin], case=case)),
        (10, SandwichLaid(sandwich)),
        (12, _reading(mean_mn=job.bobbin_mn, swing=job.swing, machine=machine, case=case, chance=chance)),
    ]
    step = max(machine.scale.step, machine.scale.span / 40)
    offsets = [3, -2, 0] if job.kept else [2]
    if job.kept:
        # It gets its number when it is noted.
        found.append((18, Cloth(number=1)))
    for number, offset in enumerate(offsets):
        setting = machine.scale.snap(job.balance + offset * step)
        miss = (setting - machine.scale.snap(job.balance)) / step
        grade = 0 if abs(miss) < 1 else (-1 if miss > 0 else 1) * (2 if abs(miss) >= 3 else 1)
        found.append(
            (20 + 6 * number, StitchedLook(setting=setting, grade=grade, motion=job.motion, sandwich=sandwich))
        )
    if job.kept:
        found.append(
            (
                45,
                Recipe(
                    name=job.quilt,
                    setting=machine.scale.snap(job.balance),
                    grade=0,
                    bobbin_mn=_mean(found[4][1]),
                    motion=job.motion,
                ),
            )
        )
    minute = 60
    for number, length in enumerate(job.runs):
        if number:
            # A fresh bobbin for every sitting, and its tension read.
            found.append((minute, BobbinLoaded(bobbin=drawer[job.bobbin], case=case)))
            found.append(
                (minute + 1, _reading(mean_mn=level_mn, swing=job.swing, machine=machine, case=case, chance=chance))
            )
        minute += length
        meters = round(length / 60 * PACE[machine.nickname] * chance.uniform(0.85, 1.15))
        found.append((minute, Run(minutes=length, quilt=job.quilt, meters=meters)))
        minute += chance.randint(20, 60)
    if job.out is not None:
        found.append((minute, NeedleRetired(job.out)))
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
