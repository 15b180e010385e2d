"""What the demo workshop has and what is sewn there: three machines, their cases, needles, bobbins, and quilts."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.bobbin.rack import Backlash, BobbinCase, Winding
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.needle.life import RetireReason
from weftonos.core.needle.needle import NeedleFinish, Point
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.setup.machine import Machine

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
class SewnAs:
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


_S = SewnAs
_TOP, _BALL, _QUILT, _EMB = Point.TOPSTITCH, Point.BALLPOINT, Point.QUILTING, Point.EMBROIDERY
SEWN: tuple[SewnAs, ...] = (
    _S(
        machine="Heron",
        quilt="Spring Tide",
        top=("Samphire 50",),
        bobbin="Oyster 60",
        metric=90,
        point=_BALL,
        bobbin_mn=203,
        balance=195,
    ),
    _S(
        machine="Wren",
        quilt="Wren in Gorse",
        top=("Samphire 50",),
        bobbin="Eelgrass 60",
        metric=80,
        point=_QUILT,
        bobbin_mn=232,
        balance=2.5,
    ),
    _S(
        machine="Plover",
        quilt="Ringed Plover",
        top=("Driftwood 40",),
        bobbin="Samphire 50",
        metric=110,
        point=_BALL,
        bobbin_mn=281,
        balance=0.25,
    ),
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
    _S(
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
