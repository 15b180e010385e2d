"""What is on the machine: the set-up that every record is made under, and what differs between two."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.bobbin.events import Feel, HandLook
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.bobbin.purpose import PurposeSet
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.setup.events import RecipeUsed
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread


@dataclass(frozen=True, kw_only=True)
class ThreadTag:
    """A thread of the drawer as it is described there now, so that a corrected label reaches every record.

    ``words`` is the thread in short: ``"40 wt trilobal"``.
    """

    id: int
    name: str
    words: str
    fiber: Fiber
    construction: Construction
    tex: float
    diameter_mm: float
    color: str
    line: str = ""
    holes: int | None = None

    @property
    def one_thread(self) -> object:
        """What it has in common with the other colors of its line; its own number where it has none."""
        return (
            (self.line.casefold().strip(), self.fiber, self.construction, round(self.tex, 2)) if self.line else self.id
        )

    @property
    def in_full(self) -> str:
        """Its name and the thread in short."""
        return f"{self.name} ({self.words})"

    @property
    def thread(self) -> Thread:
        """The thread by its weight in tex."""
        return Thread(fiber=self.fiber, construction=self.construction, value=self.tex, system=WeightSystem.TEX)

    @classmethod
    def of(cls, thread_id: int, owned: DrawerThread) -> ThreadTag:
        """Return the tag of a thread of the drawer."""
        thread = owned.thread
        return cls(
            id=thread_id,
            name=owned.name,
            words=owned.words,
            fiber=thread.fiber,
            construction=thread.construction,
            tex=thread.density.tex,
            diameter_mm=thread.diameter_mm,
            color=owned.color,
            line=owned.line,
            holes=owned.holes,
        )


@dataclass(frozen=True, kw_only=True)
class NeedleTag:
    """The needle in the machine; ``record_id`` is the log record of its fitting."""

    record_id: int
    metric: int
    american: int
    point: Point
    finish: NeedleFinish
    fitted_at: datetime
    system: str = ""
    slot: str = ""

    @property
    def size(self) -> NeedleSize:
        """Its size as a pair."""
        return NeedleSize(self.metric, self.american)

    @property
    def words(self) -> str:
        """Size and point: ``"100/16 topstitch"``."""
        return f"{self.size} {self.point.value}"


@dataclass(frozen=True, kw_only=True)
class ReadingTag:
    """The last gauge reading since this bobbin was loaded, in mN; ``scatter_mn`` is the standard error of its mean."""

    record_id: int
    mean_mn: float
    scatter_mn: float
    swing: float | None
    calmness: Calmness
    read_at: datetime


@dataclass(frozen=True, kw_only=True)
class FeltTag:
    """What hang or palm test said of this bobbin, where no gauge has read it: the weaker evidence."""

    record_id: int
    test: HandLook
    feel: Feel
    felt_at: datetime

    @property
    def words(self) -> str:
        """What was felt: ``"right by the palm test"``."""
        return f"{self.feel.value} by the {self.test.value} test"


@dataclass(frozen=True)
class CaseTag:
    """The bobbin case that is in, and how full its bobbin was loaded."""

    id: int
    label: str
    fill: float


@dataclass(frozen=True, kw_only=True)
class LookTag:
    """The last stitched look since threads or needle changed."""

    record_id: int
    setting: float
    grade: int
    motion: Motion
    stitched_at: datetime


@dataclass(frozen=True, kw_only=True)
class KnobTag:
    """Where the top tension stands: the last look or setting; ``None`` where it was left to the machine."""

    setting: float | None
    set_at: datetime


@dataclass(frozen=True)
class MarkTag:
    """Where the mark of an unmarked knob is, as its owner says it, and since when."""

    name: str
    set_at: datetime


@dataclass(frozen=True, kw_only=True)
class Setup:
    """Everything that decides the stitch, as far as it is on record.

    In ``bobbin_work`` the roles are swapped: the thread to be seen lies in the bobbin, the quilt face down. ``fill`` is
    how full the bobbin was loaded, 0 to 1. ``knob`` is where the top tension stands, whatever was sewn last.
    ``recipe`` is the kept combination that was put back, or is being. ``good_enough`` is a grade beside balanced that
    is accepted in this combination (0 for none). ``quilt`` is the quilt that is worked on.
    """

    top: tuple[ThreadTag, ...] = ()
    top_since: datetime | None = None
    bobbin: ThreadTag | None = None
    bobbin_since: datetime | None = None
    needle: NeedleTag | None = None
    reading: ReadingTag | None = None
    felt: FeltTag | None = None
    purpose: PurposeSet | None = None
    knob: KnobTag | None = None
    mark: MarkTag | None = None
    good_enough: int = 0
    look: LookTag | None = None
    sandwich: Sandwich | None = None
    recipe: RecipeUsed | None = None
    quilt: str = ""
    bobbin_work: bool = False
    case: CaseTag | None = None
    fill: float = 1.0

    @property
    def top_bundle(self) -> Bundle | None:
        """What runs through the needle, if anything does."""
        return Bundle.of([t.thread for t in self.top]) if self.top else None

    @property
    def top_in_full(self) -> str:
        """The threads on top by name and in short; empty where none is on record."""
        return " + ".join(tag.in_full for tag in self.top)

    @property
    def face_down(self) -> str:
        """What bobbin work wants said on paper: the sides are exchanged; empty where it is none."""
        return "face down: the back here is the quilt's front" if self.bobbin_work else ""

    @property
    def bobbin_thread(self) -> Thread | None:
        """The thread in the bobbin, if one is loaded."""
        return self.bobbin.thread if self.bobbin else None

    def lacking(self, has: Set[Feature], *, bobbin_settled: bool = False) -> tuple[str, ...]:
        """Return what a combination still lacks before it can be saved, in working order.

        ``has`` is what the machine has. A bobbin that drops in has no case to read or feel: the stitch is all there is.
        So it is for one that may go unread, or whose screw is to be left: it is ``bobbin_settled``.
        """
        lacks = []
        if not self.top:
            lacks.append("a top thread")
        if not self.bobbin:
            lacks.append("a bobbin thread")
        if not self.needle:
            lacks.append("the needle")
        settled = self.reading or bobbin_settled or (self.felt and self.felt.feel is Feel.RIGHT)
        if Feature.CASE in has and not settled:
            by_hand = "a hang or palm test that feels right"
            lacks.append(f"a bobbin reading (or {by_hand})" if Feature.GAUGE in has else by_hand)
        if not self.look:
            lacks.append("a test line")
        return tuple(lacks)


def same_combination(one: Setup, other: Setup) -> bool:
    """Say whether two set-ups are one combination: the same threads above and below, the same needle size and point."""

    def says(setup: Setup) -> tuple[object, ...]:
        needle = (setup.needle.size, setup.needle.point) if setup.needle else None
        return tuple(t.one_thread for t in setup.top), setup.bobbin.one_thread if setup.bobbin else None, needle

    return says(one) == says(other)
