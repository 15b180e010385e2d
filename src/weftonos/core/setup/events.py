"""What changes the set-up: threads, bobbin, needle, sandwich, and the stitched look that judges them together."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Literal

from weftonos.core.kernel.care import Care
from weftonos.core.kernel.errors import LONGEST_NOTE, CraftError, require_between, require_text
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.stitch import check_grade
from weftonos.core.needle.life import RetireReason
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.thread.thread import check_bundle_size

#: Letters of the name of a slot for a part-used needle.
LONGEST_SLOT = 20


@dataclass(frozen=True)
class TopThreaded:
    """One to four threads of the drawer went through the needle, by their ids."""

    top: tuple[int, ...]
    kind: Literal["top_threaded"] = "top_threaded"

    def __post_init__(self) -> None:
        check_bundle_size(len(self.top))


@dataclass(frozen=True, kw_only=True)
class BobbinLoaded:
    """A bobbin of this thread went into the case; for bobbin work it is the thread to be seen.

    ``case`` and ``item`` are the case and the bobbin of the rack where they are known, ``fill`` from 0 to 1.
    ``emptied``: the one before was sewn until it was empty, so that what was stitched on it is what it held.
    """

    bobbin: int
    bobbin_work: bool = False
    case: int | None = None
    item: int | None = None
    fill: float = 1.0
    emptied: bool = False
    kind: Literal["bobbin_loaded"] = "bobbin_loaded"

    def __post_init__(self) -> None:
        require_between(value=self.fill, low=0, high=1, what="How full the bobbin is", field="fill", above_low=True)

    def ordinary_in(self, case: int | None) -> bool:
        """Say whether it went into this ``case``, and not for bobbin work: what it reads tells of the screw."""
        return self.case == case and not self.bobbin_work


@dataclass(frozen=True, kw_only=True)
class NeedleFitted:
    """A needle was fitted, of a needle system and out of a packet of the drawer where they are known.

    ``slot``: it is part-used and came out of this slot, with its hours.
    """

    metric: int
    american: int
    point: Point
    finish: NeedleFinish = NeedleFinish.STEEL
    note: str = ""
    system: str = ""
    packet: int | None = None
    slot: str = ""
    kind: Literal["needle_fitted"] = "needle_fitted"

    def __post_init__(self) -> None:
        _ = self.size
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)
        require_text(self.slot, LONGEST_SLOT, "The slot", "slot", empty=True)

    @property
    def size(self) -> NeedleSize:
        """The size as its pair."""
        return NeedleSize(self.metric, self.american)


@dataclass(frozen=True)
class NeedleRetired:
    """The needle came out, and why. One that is still good waits in its ``slot``; any other is not refitted."""

    why: RetireReason
    note: str = ""
    slot: str = ""
    kind: Literal["needle_retired"] = "needle_retired"

    def __post_init__(self) -> None:
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)
        require_text(self.slot, LONGEST_SLOT, "The slot", "slot", empty=True)
        if self.slot and self.why is not RetireReason.STILL_GOOD:
            raise CraftError(
                "Only a needle that is still good goes into a slot. This one goes in the sharps box.", "slot"
            )


@dataclass(frozen=True)
class CasePutBack:
    """A case came back into the machine as it was taken out: its bobbin, what was sewn from it, its reading."""

    case: int
    kind: Literal["case_put_back"] = "case_put_back"


@dataclass(frozen=True)
class KnobSet:
    """The top tension was set, without a stitch: to a setting, or to automatic (``None``)."""

    setting: float | None
    kind: Literal["knob_set"] = "knob_set"


@dataclass(frozen=True, kw_only=True)
class MarkSet:
    """The mark of an unmarked knob was set anew: where ``at`` turns from the old mark stood, 0 stands from now on.

    ``name`` says where that is: "where 40 over 60 balanced on 3 May".
    """

    name: str
    at: float = 0
    kind: Literal["mark_set"] = "mark_set"

    def __post_init__(self) -> None:
        require_text(self.name, 120, "Where the mark is", "name")
        require_between(self.at, -100, 100, "The new mark, in turns from the old one,", "at")


@dataclass(frozen=True)
class GoodEnough:
    """A grade counts as good in this combination: +1 a few specks of the top on the back, -1 a few dots on top.

    A heavy top or a bundle shows the one, micro work over a contrasting bobbin the other (common practice); 0 takes it
    back.
    """

    grade: int
    kind: Literal["good_enough"] = "good_enough"

    def __post_init__(self) -> None:
        if self.grade not in (-1, 0, 1):
            raise CraftError(
                "Good enough is a step beside balanced: a few dots on top, or a few specks below.", "grade"
            )


class RecipeStage(StrEnum):
    """How far a kept combination is on its way back onto the machine."""

    BEGUN = "begun"
    DONE = "done"
    DROPPED = "dropped"


@dataclass(frozen=True)
class RecipeUsed:
    """A kept combination is put back onto the machine, move by move; done or dropped at the end."""

    recipe: int
    stage: RecipeStage = RecipeStage.BEGUN
    kind: Literal["recipe_used"] = "recipe_used"


@dataclass(frozen=True)
class SandwichLaid:
    """What is under the needle: top fabric, batting, adhesive."""

    sandwich: Sandwich
    kind: Literal["sandwich"] = "sandwich"


@dataclass(frozen=True, kw_only=True)
class StitchedLook:
    """A stitched step was looked at: the setting it was sewn at, and its grade from -2 to 2.

    ``doubtful`` where the eye was not sure of the grade, ``cloth`` the record of the test cloth it is a line of.
    """

    setting: float
    grade: int
    motion: Motion = Motion.FREE_MOTION
    sandwich: Sandwich = field(default_factory=Sandwich)
    note: str = ""
    doubtful: bool = False
    cloth: int | None = None
    kind: Literal["look"] = "look"

    def __post_init__(self) -> None:
        check_grade(self.grade)
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


@dataclass(frozen=True, kw_only=True)
class QuiltOn:
    """A quilt is on the frame or under the needle; everything noted from then on is on it, until another is.

    ``care`` is how careful it wants its maker to be.
    """

    quilt: str
    for_whom: str = ""
    note: str = ""
    care: Care = Care.USUAL
    kind: Literal["quilt_on"] = "quilt_on"

    def __post_init__(self) -> None:
        require_text(self.quilt, 80, "The quilt's name", "quilt")
        require_text(self.for_whom, 120, "For whom it is", "for_whom", empty=True)
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


def quilt_named(payload: object) -> str:
    """Return the quilt that a record names (it was put on, a run or the clock names it); empty where it names none."""
    named = getattr(payload, "quilt", "")
    return named if isinstance(named, str) else ""
