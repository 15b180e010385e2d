"""The trade's words for the interface's choices, so that no rule of the craft lives in the browser."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.bobbin.rack import BACKLASH_NAMES, Winding
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.kernel.force import MN_PER, ForceUnit
from weftonos.core.kernel.sandwich import Loft, Weave
from weftonos.core.kernel.spoken import METERS_PER_YARD, MM_PER_INCH
from weftonos.core.kernel.stitch import GRADES, GradeFacts
from weftonos.core.log.logbook import KIND_NAMES
from weftonos.core.needle.groove_fit import FIT_SAYS, FIT_VERDICTS, SLACK_BELOW, FitState
from weftonos.core.needle.life import RetireReason
from weftonos.core.needle.needle import ALL_SIZES, POINTS, NeedleFinish, Point, Tip
from weftonos.core.plan.passes import (
    COVERING,
    DENSITY_NAMES,
    LINES_APART,
    PASS_NAMES,
    QUILT_SIZES,
    USUAL_DENSITY,
    USUAL_SHARE,
    PassKind,
    QuiltingDensity,
)
from weftonos.core.thread.drawer import Form, ThreadFinish
from weftonos.core.thread.label_words import DYES
from weftonos.core.thread.linear_density import SYSTEM_NAMES
from weftonos.core.thread.path import GUIDES, Guide, PathPoint
from weftonos.core.thread.thread import CONSTRUCTION_NAMES, FIBER_NAMES


@dataclass(frozen=True)
class Word:
    """A choice: its value in requests and its name on screen."""

    value: str
    name: str
    note: str = ""


@dataclass(frozen=True, kw_only=True)
class PointWord:
    """A point, what it is made for, and the fill above which a thread rubs."""

    value: Point
    name: str
    note: str
    limit: float
    eye: float
    tip: Tip


@dataclass(frozen=True)
class SizeWord:
    """A needle size as its pair."""

    metric: int
    american: int


@dataclass(frozen=True, kw_only=True)
class PassWord:
    """A kind of pass: its name, whether it fills a part of the quilt, its usual part, and how dense it usually is."""

    value: PassKind
    name: str
    covers: bool
    share: float | None
    density: QuiltingDensity | None


@dataclass(frozen=True, kw_only=True)
class DensityWord:
    """How far apart lines lie: the name of the picture, and the distance it is drawn for, in mm."""

    value: QuiltingDensity
    name: str
    apart_mm: float


@dataclass(frozen=True, kw_only=True)
class QuiltSizeWord:
    """A size that quilts are called by, in m."""

    name: str
    width_m: float
    height_m: float


@dataclass(frozen=True, kw_only=True)
class Words:
    """Every list of choices."""

    fibers: Sequence[Word]
    constructions: Sequence[Word]
    systems: Sequence[Word]
    finishes: Sequence[Word]
    forms: Sequence[Word]
    points: Sequence[PointWord]
    sizes: Sequence[SizeWord]
    needle_finishes: Sequence[Word]
    weaves: Sequence[Word]
    lofts: Sequence[Word]
    retire_reasons: Sequence[Word]
    bobbin_classes: Sequence[Word]
    record_kinds: Sequence[Word]
    backlashes: Sequence[Word]
    windings: Sequence[Word]
    slack_below: float
    grades: Sequence[GradeFacts]
    mn_per: dict[ForceUnit, float]
    meters_per_yard: float
    mm_per_inch: float
    fit_says: dict[FitState, str]
    fit_verdicts: dict[FitState, str]
    guides: Mapping[Guide, PathPoint]
    dyes: Mapping[str, str]
    passes: Sequence[PassWord]
    densities: Sequence[DensityWord]
    quilt_sizes: Sequence[QuiltSizeWord]


def _plain(choices: type[StrEnum]) -> list[Word]:
    return [Word(c.value, c.value.replace("_", " ")) for c in choices]


def words() -> Words:
    """Return the choices and their names."""
    return Words(
        fibers=[Word(f.value, name) for f, name in FIBER_NAMES.items()],
        constructions=[Word(c.value, name) for c, name in CONSTRUCTION_NAMES.items()],
        systems=[Word(s.value, name) for s, name in SYSTEM_NAMES.items()],
        finishes=_plain(ThreadFinish),
        forms=_plain(Form),
        points=[
            PointWord(
                value=p,
                name=p.value,
                note=f"{f.made_for}: {f.note}",
                limit=f.limit.value,
                eye=f.eye.value,
                tip=f.tip,
            )
            for p, f in POINTS.items()
        ],
        sizes=[SizeWord(s.metric, s.american) for s in ALL_SIZES],
        needle_finishes=_plain(NeedleFinish),
        weaves=_plain(Weave),
        lofts=_plain(Loft),
        retire_reasons=_plain(RetireReason),
        bobbin_classes=_plain(BobbinClass),
        record_kinds=[Word(kind, name) for kind, name in KIND_NAMES.items()],
        backlashes=[Word(b.value, name) for b, name in BACKLASH_NAMES.items()],
        windings=_plain(Winding),
        slack_below=SLACK_BELOW.value,
        grades=list(GRADES.values()),
        mn_per=MN_PER,
        meters_per_yard=METERS_PER_YARD.value,
        mm_per_inch=MM_PER_INCH.value,
        fit_says=FIT_SAYS,
        fit_verdicts=FIT_VERDICTS,
        guides=GUIDES,
        dyes=DYES,
        passes=[
            PassWord(
                value=kind,
                name=name,
                covers=kind in COVERING,
                share=usual.value if (usual := USUAL_SHARE.get(kind)) else None,
                density=USUAL_DENSITY.get(kind),
            )
            for kind, name in PASS_NAMES.items()
        ],
        densities=[
            DensityWord(value=each, name=name, apart_mm=LINES_APART[each].value) for each, name in DENSITY_NAMES.items()
        ],
        quilt_sizes=[
            QuiltSizeWord(name=name, width_m=width.value, height_m=height.value)
            for name, (width, height) in QUILT_SIZES.items()
        ],
    )
