"""The trade's words for the interface's choices, so that no rule of the craft lives in the browser."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from fastapi import APIRouter

from weftonos.core.bobbin_rack import Backlash, Winding
from weftonos.core.drawer import Form, ThreadFinish
from weftonos.core.figures import FIGURES, Figure, FigureSubject
from weftonos.core.groove_fit import SLACK_BELOW
from weftonos.core.linear_density import SYSTEM_NAMES
from weftonos.core.needle import ALL_SIZES, POINTS, NeedleFinish, Point
from weftonos.core.needle_life import RetireReason
from weftonos.core.sandwich import Loft, Weave
from weftonos.core.stitch import GRADES, GradeFacts
from weftonos.core.thread import CONSTRUCTION_NAMES, FIBRE_NAMES
from weftonos.core.thread_use import BobbinClass

router = APIRouter(prefix="/api/words", tags=["words"])


@dataclass(frozen=True)
class Word:
    """A choice: its value in requests and its name on screen."""

    value: str
    name: str
    note: str = ""


@dataclass(frozen=True)
class PointWord:
    """A point, what it is made for, and the fill above which a thread rubs."""

    value: Point
    name: str
    note: str
    limit: float


@dataclass(frozen=True)
class SizeWord:
    """A needle size as its pair."""

    metric: int
    american: int


@dataclass(frozen=True)
class Words:
    """Every list of choices."""

    fibres: Sequence[Word]
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
    backlashes: Sequence[Word]
    windings: Sequence[Word]
    slack_below: float
    grades: Sequence[GradeFacts]


def _plain(choices: type[StrEnum]) -> list[Word]:
    return [Word(c.value, c.value.replace("_", " ")) for c in choices]


@router.get("/figures")
def figures(subject: FigureSubject) -> tuple[Figure, ...]:
    """Return the figures a subject's answers rest on, with their standing."""
    return FIGURES[subject]


@router.get("")
def words() -> Words:
    """Return the choices and their names."""
    return Words(
        [Word(f.value, name) for f, name in FIBRE_NAMES.items()],
        [Word(c.value, name) for c, name in CONSTRUCTION_NAMES.items()],
        [Word(s.value, name) for s, name in SYSTEM_NAMES.items()],
        _plain(ThreadFinish),
        _plain(Form),
        [PointWord(p, p.value, f"{f.made_for}: {f.note}", f.limit.value) for p, f in POINTS.items()],
        [SizeWord(s.metric, s.american) for s in ALL_SIZES],
        _plain(NeedleFinish),
        _plain(Weave),
        _plain(Loft),
        _plain(RetireReason),
        _plain(BobbinClass),
        _plain(Backlash),
        _plain(Winding),
        SLACK_BELOW.value,
        list(GRADES.values()),
    )
