"""A season at the demo workshop: three machines, quilts named after tides and birds, real troubles in between.

Made by rule from a seed and a last day, so that two runs with the same arguments write the same records. The
settings and grades come from a simple hidden truth per combination, not from the program's own advice.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import datetime, timedelta
from random import Random

from weftonos.core.bobbin_rack import Backlash, Bobbin, BobbinCase, Winding
from weftonos.core.force import ForceUnit
from weftonos.core.gauge import Pull
from weftonos.core.logbook import (
    BobbinLoaded,
    BobbinReading,
    NeedleFitted,
    NeedleRetired,
    Payload,
    Recipe,
    Run,
    SandwichLaid,
    ScrewTurned,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.machine import Machine
from weftonos.core.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.needle_life import RetireReason
from weftonos.core.needle_packet import NeedlePacket
from weftonos.core.sandwich import Loft, Motion, Sandwich
from weftonos.core.school import MachineKind
from weftonos.core.thread_use import BobbinClass
from weftonos.core.top_scale import ScaleKind, TopScale
from weftonos.demo.drawer import THREADS
from weftonos.demo.troubles import write_troubles
from weftonos.store.workshop import Workshop

HERON = Machine(
    "Heron",
    MachineKind.LONGARM,
    TopScale(ScaleKind.READOUT, 80, 400, 5),
    throat_in=24,
    needle_system="DPx5",
)
PLOVER = Machine(
    "Plover",
    MachineKind.LONGARM,
    TopScale(ScaleKind.TURNS, -4, 4, 0.25),
    throat_in=18,
    needle_system="HLx5",
    gauge_unit=ForceUnit.GF,
)
WREN = Machine("Wren", MachineKind.HOME, TopScale(ScaleKind.DIAL, 0, 10, 0.5), throat_in=9, needle_system="130/705 H")


@dataclass(frozen=True)
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
    _J("Heron", "Spring Tide", ("Samphire 50",), "Oyster 60", 90, _BALL, 203, 195),
    _J("Wren", "Wren in Gorse", ("Samphire 50",), "Eelgrass 60", 80, _QUILT, 232, 2.5),
    _J("Plover", "Ringed Plover", ("Driftwood 40",), "Samphire 50", 110, _BALL, 281, 0.25),
    _J("Heron", "Grey Heron", ("Saltmarsh 40",), "Limpet 80", 100, _BALL, 198, 210, "wool, lofty"),
    _J(
        "Wren",
        "Low Water",
        ("Sea Lavender 100",),
        "Limpet 80",
        70,
        _TOP,
        224,
        3.0,
        runs=(60, 75),
        out=RetireReason.BREAK,
    ),
    _J(
        "Heron",
        "Turnstone",
        ("Shingle 30",),
        "Oyster 60",
        125,
        _TOP,
        206,
        180,
        "wool, lofty",
        runs=(120, 200),
        out=RetireReason.DULL_SOUND,
    ),
    _J(
        "Plover",
        "Ebb and Flow",
        ("Ebb 40",),
        "Limpet 80",
        100,
        _BALL,
        268,
        -0.5,
        runs=(170, 190),
        out=RetireReason.BREAK,
    ),
    _J("Wren", "Oystercatcher", ("Glasswort 40",), "Eelgrass 60", 90, _EMB, 229, 2.0, motion=Motion.DECORATIVE),
    _J("Heron", "Curlew Morning", ("Saltmarsh 40",), "Eelgrass 60", 100, _BALL, 201, 205, "polyester, medium"),
    _J("Wren", "Slack Water", ("Phosphor gold",), "Limpet 80", 90, Point.METALLIC, 190, 1.0, runs=(45,)),
    _J(
        "Plover",
        "Sanderling",
        ("Samphire 50",),
        "Oyster 60",
        90,
        _BALL,
        274,
        0.0,
        runs=(200, 240, 190),
        out=RetireReason.DULL_SOUND,
    ),
    _J("Heron", "Neap Tide", ("Ebb 40",), "Limpet 80", 110, _TOP, 207, 200, finish=NeedleFinish.TITANIUM),
    _J(
        "Wren",
        "Redshank",
        ("Driftwood 40",),
        "Samphire 50",
        90,
        _TOP,
        236,
        2.5,
        kept=False,
        runs=(150, 205, 160),
        out=None,
    ),
    _J(
        "Plover",
        "Winter Roost",
        ("Saltmarsh 40",),
        "Limpet 80",
        100,
        _BALL,
        262,
        -0.25,
        kept=False,
        swing=0.16,
        runs=(55,),
        out=None,
    ),
    _J(
        "Heron",
        "Avocet",
        ("Saltmarsh 40",),
        "Limpet 80",
        100,
        _BALL,
        204,
        205,
        "wool, lofty",
        kept=False,
        runs=(110, 82),
        out=None,
    ),
)


_STEEL, _COATED = NeedleFinish.STEEL, NeedleFinish.TITANIUM
_Packets = dict[tuple[int, Point, NeedleFinish, str], int]

PACKETS: tuple[NeedlePacket, ...] = (
    NeedlePacket(100, 16, _BALL, 10, _STEEL, "DPx5", 0.9),
    NeedlePacket(90, 14, _BALL, 10, _STEEL, "DPx5", 0.9),
    NeedlePacket(110, 18, _TOP, 5, _COATED, "DPx5", 3.2),
    NeedlePacket(125, 20, _TOP, 5, _STEEL, "DPx5", 1.1),
    NeedlePacket(100, 16, _BALL, 10, _STEEL, "HLx5", 0.8),
    NeedlePacket(110, 18, _BALL, 10, _STEEL, "HLx5", 0.8),
    NeedlePacket(80, 12, _QUILT, 5, _STEEL, "130/705 H", 1.0),
    NeedlePacket(90, 14, _TOP, 5, _STEEL, "130/705 H", 1.2),
    NeedlePacket(90, 14, _TOP, 5, _COATED, "130/705 H", 3.6),
    NeedlePacket(70, 10, _TOP, 5, _STEEL, "130/705 H", 1.2),
)


#: Stitched metres an hour, as the season's owner makes them.
PACE = {"Heron": 36, "Plover": 40, "Wren": 13}
CASES: tuple[tuple[str, BobbinCase], ...] = (
    ("Heron", BobbinCase("A", BobbinClass.M, "polyester")),
    ("Heron", BobbinCase("B", BobbinClass.M, "cotton", Backlash.WASHER)),
    ("Plover", BobbinCase("C", BobbinClass.M, "polyester")),
    ("Plover", BobbinCase("D", BobbinClass.M, "cotton")),
    ("Wren", BobbinCase("E", BobbinClass.CLASS_15, "", Backlash.NONE)),
)
CASE_OF = {"Heron": "A", "Plover": "C", "Wren": "E"}
BOBBINS: tuple[tuple[str, str, Winding, float], ...] = (
    ("L1", "Limpet 80", Winding.PRE_WOUND, 1.0),
    ("L2", "Limpet 80", Winding.PRE_WOUND, 0.6),
    ("O1", "Oyster 60", Winding.EVEN, 1.0),
    ("S1", "Samphire 50", Winding.EVEN, 0.8),
    ("X1", "Brackish clear", Winding.SLOW, 0.75),
)


def fill(workshop: Workshop, last_day: datetime, seed: int = 1) -> None:
    """Write the demo's machines, threads and season of records, ending on ``last_day``."""
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
        workshop.rack.add_bobbin(Bobbin(label, drawer[thread], BobbinClass.M, fill_share, winding))
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
            job, specs[job.machine], drawer, packets, cases[CASE_OF[job.machine]], level, chance
        ):
            written.append((at + timedelta(minutes=minutes), ids[job.machine], payload))
        at_work[job.quilt] = ids[job.machine], at + timedelta(minutes=62 + job.runs[0])
    # In the order of time, as a workshop writes them: each record keeps the set-up known then.
    for moment, machine_id, payload in sorted(written, key=lambda record: record[0]):
        workshop.note(machine_id, payload, moment, max(moment, last_day))
    write_troubles(workshop, at_work, last_day)


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
                size.metric,
                size.american,
                job.point,
                job.finish,
                f"For {job.quilt}",
                machine.needle_system,
                packets.get((job.metric, job.point, job.finish, machine.needle_system)),
            ),
        ),
        (8, BobbinLoaded(drawer[job.bobbin], case=case)),
        (10, SandwichLaid(sandwich)),
        (12, _reading(job.bobbin_mn, job.swing, machine, case, chance)),
    ]
    step = max(machine.scale.step, machine.scale.span / 40)
    offsets = [3, -2, 0] if job.kept else [2]
    for number, offset in enumerate(offsets):
        setting = machine.scale.snap(job.balance + offset * step)
        miss = (setting - machine.scale.snap(job.balance)) / step
        grade = 0 if abs(miss) < 1 else (-1 if miss > 0 else 1) * (2 if abs(miss) >= 3 else 1)
        found.append((20 + 6 * number, StitchedLook(setting, grade, job.motion, sandwich)))
    if job.kept:
        found.append(
            (
                45,
                Recipe(
                    job.quilt,
                    machine.scale.snap(job.balance),
                    0,
                    _mean(found[4][1]),
                    job.motion,
                    f"Batting: {job.batting}.",
                ),
            )
        )
    minute = 60
    for number, length in enumerate(job.runs):
        if number:
            # A fresh bobbin for every sitting, and its tension read.
            found.append((minute, BobbinLoaded(drawer[job.bobbin], case=case)))
            found.append((minute + 1, _reading(level_mn, job.swing, machine, case, chance)))
        minute += length
        metres = round(length / 60 * PACE[machine.nickname] * chance.uniform(0.85, 1.15))
        found.append((minute, Run(length, job.quilt, metres)))
        minute += chance.randint(20, 60)
    if job.out is not None:
        found.append((minute, NeedleRetired(job.out)))
    return found


def _mean(payload: Payload) -> float:
    assert isinstance(payload, BobbinReading)
    return payload.mean_mn


def _reading(mean_mn: float, swing: float, machine: Machine, case: int, chance: Random) -> BobbinReading:
    unit = machine.gauge_unit
    scale = 9.80665 if unit is ForceUnit.GF else 1.0
    pulls = []
    for _ in range(3):
        middle = mean_mn * chance.gauss(1, 0.014) / scale
        half = middle * swing * chance.uniform(0.8, 1.1)
        pulls.append(Pull(low=round(middle - half, 1), high=round(middle + half, 1)))
    return BobbinReading.of(unit, tuple(pulls), machine.bobbin_target(), case=case)


def _screw_records(case: int, machine: Machine, chance: Random) -> list[tuple[int, Payload]]:
    """A case brought to its number in three turns, weeks ago; its screw answers a little more than usual."""
    found: list[tuple[int, Payload]] = []
    level, day = 236.0, 0
    for minutes in (3, 2, -1):
        found.append((day, _reading(level, 0.02, machine, case, chance)))
        found.append((day + 2, ScrewTurned(case, minutes)))
        level *= math.exp(0.032 * minutes)
        day += 4
        found.append((day, _reading(level, 0.02, machine, case, chance)))
        day += 60 * 24
    return found


def _tiring_mn(days: float) -> float:
    """What Heron's case A reads after so many days: its spring begins to tire in the tenth week."""
    return 204 - max(0, days / 6 - 9) * 1.1


def _weekly_readings(case: int, machine: Machine, chance: Random) -> list[tuple[int, Payload]]:
    """A case read every few days, whose spring begins to tire towards the end."""
    found: list[tuple[int, Payload]] = []
    for session in range(16):
        level = _tiring_mn(session * 6) + chance.gauss(0, 0.5)
        found.append((session * 6 * 60 * 24, _reading(level, 0.02, machine, case, chance)))
    return found
