"""What is on the machine: the set-up that every record is made under, and what differs between two."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from weftonos.core.gauge import Calmness
from weftonos.core.linear_density import WeightSystem
from weftonos.core.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.sandwich import Motion, Sandwich
from weftonos.core.thread import Bundle, Construction, Fibre, Thread


@dataclass(frozen=True)
class ThreadTag:
    """A thread of the drawer as it was when it went on: a copy, so that later edits do not rewrite records.

    ``words`` is the thread in short: ``"40 wt trilobal"``.
    """

    id: int
    name: str
    words: str
    fibre: Fibre
    construction: Construction
    tex: float
    diameter_mm: float
    colour: str

    @property
    def thread(self) -> Thread:
        """The thread by its weight in tex."""
        return Thread(self.fibre, self.construction, self.tex, WeightSystem.TEX)


@dataclass(frozen=True)
class NeedleTag:
    """The needle in the machine; ``record_id`` is the log record of its fitting."""

    record_id: int
    metric: int
    american: int
    point: Point
    finish: NeedleFinish
    fitted_at: datetime

    @property
    def size(self) -> NeedleSize:
        """Its size as a pair."""
        return NeedleSize(self.metric, self.american)

    @property
    def words(self) -> str:
        """Size and point: ``"100/16 topstitch"``."""
        return f"{self.size} {self.point.value}"


@dataclass(frozen=True)
class ReadingTag:
    """The last gauge reading since this bobbin was loaded, in mN."""

    record_id: int
    mean_mn: float
    swing: float | None
    calmness: Calmness
    read_at: datetime


@dataclass(frozen=True)
class CaseTag:
    """The bobbin case that is in, and how full its bobbin was loaded."""

    id: int
    label: str
    fill: float


@dataclass(frozen=True)
class LookTag:
    """The last stitched look since threads or needle changed."""

    record_id: int
    setting: float
    grade: int
    motion: Motion
    stitched_at: datetime


@dataclass(frozen=True)
class Setup:
    """Everything that decides the stitch, as far as it is on record.

    In ``bobbin_work`` the roles are swapped: the thread to be seen lies in the bobbin, the quilt face down.
    """

    top: tuple[ThreadTag, ...] = ()
    top_since: datetime | None = None
    bobbin: ThreadTag | None = None
    bobbin_since: datetime | None = None
    needle: NeedleTag | None = None
    reading: ReadingTag | None = None
    look: LookTag | None = None
    sandwich: Sandwich | None = None
    bobbin_work: bool = False
    case: CaseTag | None = None

    @property
    def top_bundle(self) -> Bundle | None:
        """What runs through the needle, if anything does."""
        return Bundle.of([t.thread for t in self.top]) if self.top else None

    @property
    def bobbin_thread(self) -> Thread | None:
        """The thread in the bobbin, if one is loaded."""
        return self.bobbin.thread if self.bobbin else None

    @property
    def missing(self) -> tuple[str, ...]:
        """What a combination still lacks before it can be kept, in working order."""
        lacks = []
        if not self.top:
            lacks.append("a top thread")
        if not self.bobbin:
            lacks.append("a bobbin thread")
        if not self.needle:
            lacks.append("the needle")
        if not self.reading:
            lacks.append("a bobbin reading")
        if not self.look:
            lacks.append("a stitched look")
        return tuple(lacks)
