"""A quilt planned in passes: what each is, how much of the quilt it fills, how dense, and what it is sewn with."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from typing import Literal

from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.standing import Known, estimate, memory, practice
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.plan.minutes import ChangeMinutes

#: The most passes of one quilt, and the most rules of its owner's own.
MOST_PASSES, MOST_RULES = 10, 20
#: A quilt whose size nobody has said is a throw.
USUAL_WIDTH, USUAL_HEIGHT = estimate(1.5, "m", "a throw"), estimate(1.8, "m", "a throw")
#: Shares of a quilt are said by eye: so much more than all of it is still all of it.
FILLED_BY_EYE = estimate(0.02, "", "what shares said by eye may add up to beyond the whole")


class PassKind(StrEnum):
    """What one pass over a quilt does."""

    DITCH = "ditch"
    OUTLINE = "outline"
    FILL = "fill"
    MOTIF = "motif"
    EDGE_TO_EDGE = "edge_to_edge"
    BORDER = "border"
    BINDING = "binding"


PASS_NAMES = {
    PassKind.DITCH: "In the ditch",
    PassKind.OUTLINE: "Outline",
    PassKind.FILL: "Background fill",
    PassKind.MOTIF: "Motif",
    PassKind.EDGE_TO_EDGE: "Edge to edge",
    PassKind.BORDER: "Border",
    PassKind.BINDING: "Binding by machine",
}
#: And in short, where there is room for a word.
SHORT_NAMES = {
    PassKind.DITCH: "Ditch",
    PassKind.OUTLINE: "Outline",
    PassKind.FILL: "Fill",
    PassKind.MOTIF: "Motif",
    PassKind.EDGE_TO_EDGE: "Edge to edge",
    PassKind.BORDER: "Border",
    PassKind.BINDING: "Binding",
}
#: The passes that cover cloth, so that together they can cover no more than there is.
COVERING = (PassKind.FILL, PassKind.MOTIF, PassKind.EDGE_TO_EDGE, PassKind.BORDER)


class QuiltingDensity(StrEnum):
    """How far apart the lines of stitching lie, as six pictures show it."""

    OPEN = "open"
    LOOSE = "loose"
    MEDIUM = "medium"
    CLOSE = "close"
    DENSE = "dense"
    MICRO = "micro"


DENSITY_NAMES = {
    QuiltingDensity.OPEN: "Two inches apart",
    QuiltingDensity.LOOSE: "An inch apart",
    QuiltingDensity.MEDIUM: "Half an inch",
    QuiltingDensity.CLOSE: "A quarter inch",
    QuiltingDensity.DENSE: "An eighth",
    QuiltingDensity.MICRO: "Micro",
}
LINES_APART: Mapping[QuiltingDensity, Known] = {
    QuiltingDensity.OPEN: estimate(50, "mm", "what its picture shows"),
    QuiltingDensity.LOOSE: estimate(25, "mm", "what its picture shows"),
    QuiltingDensity.MEDIUM: estimate(12, "mm", "what its picture shows"),
    QuiltingDensity.CLOSE: estimate(6, "mm", "what its picture shows"),
    QuiltingDensity.DENSE: estimate(3, "mm", "what its picture shows"),
    QuiltingDensity.MICRO: estimate(1.5, "mm", "what its picture shows"),
}
#: Sizes that quilts are commonly called by: width and height in m (from memory; makers differ).
QUILT_SIZES: Mapping[str, tuple[Known, Known]] = {
    "Crib": (memory(0.9, "m"), memory(1.3, "m")),
    "Throw": (USUAL_WIDTH, USUAL_HEIGHT),
    "Twin": (memory(1.75, "m"), memory(2.3, "m")),
    "Queen": (memory(2.3, "m"), memory(2.6, "m")),
    "King": (memory(2.75, "m"), memory(2.75, "m")),
}
#: What a pass is where nobody has said.
USUAL_DENSITY: Mapping[PassKind, QuiltingDensity] = {
    PassKind.OUTLINE: QuiltingDensity.OPEN,
    PassKind.FILL: QuiltingDensity.CLOSE,
    PassKind.MOTIF: QuiltingDensity.MEDIUM,
    PassKind.EDGE_TO_EDGE: QuiltingDensity.LOOSE,
    PassKind.BORDER: QuiltingDensity.MEDIUM,
}
USUAL_SHARE: Mapping[PassKind, Known] = {
    PassKind.OUTLINE: estimate(1.0, "", "over the whole quilt"),
    PassKind.FILL: estimate(0.5, "", "half of a quilt is background"),
    PassKind.MOTIF: estimate(0.2, "", "motifs take a fifth"),
    PassKind.EDGE_TO_EDGE: estimate(1.0, "", "over the whole quilt"),
    PassKind.BORDER: estimate(0.2, "", "a border of about a hand on a throw"),
}
USUAL_BLOCK = estimate(0.3, "m", "a block of twelve inches")
BINDING_ROUNDS = estimate(1, "", "one line around the quilt")
#: Quilting is three to three and a half millimeters a stitch (common practice), the binding a little shorter.
USUAL_STITCH, BINDING_STITCH = practice(3.0, "mm"), estimate(2.5, "mm", "piecing is 1.5 to 2, quilting 3")


@dataclass(frozen=True, kw_only=True)
class Pass:
    """One pass over a quilt. ``key`` is its own number in the plan; what is ``None`` gets a usual value.

    ``share`` is of the quilt's area, 0 to 1; ``meters`` the stitched length where a pattern says it. ``block_m`` is the
    side of a block, for stitching in the ditch. ``top`` and ``below`` are threads of the drawer, ``machine`` the
    machine it is sewn on, ``name`` what its owner calls it.
    """

    key: int
    what: PassKind
    name: str = ""
    share: float | None = None
    density: QuiltingDensity | None = None
    lines_apart_mm: float | None = None
    block_m: float | None = None
    meters: float | None = None
    top: int | None = None
    below: int | None = None
    needle: NeedleSize | None = None
    point: Point | None = None
    motion: Motion = Motion.FREE_MOTION
    stitch_mm: float | None = None
    machine: int | None = None

    def __post_init__(self) -> None:
        require_between(self.key, 1, 10_000, "The number of a pass", "key")
        require_text(self.name, 80, "The name of the pass", "name", empty=True)
        for value, low, high, what, at, unit in (
            (self.share, 0, 1, "Its part of the quilt", "share", ""),
            (self.lines_apart_mm, 0.5, 500, "The distance between lines", "lines_apart_mm", "mm"),
            (self.block_m, 0.02, 3, "The side of a block", "block_m", "m"),
            (self.meters, 0, 20_000, "The length of the stitching", "meters", "m"),
            (self.stitch_mm, 0.5, 10, "The stitch length", "stitch_mm", "mm"),
        ):
            if value is not None:
                require_between(value, low, high, what, at, unit=unit, above_low=low == 0)
        if (self.needle is None) != (self.point is None):
            raise CraftError("Give the needle's size and its point, or neither.", "needle")

    @property
    def words(self) -> str:
        """What it is called."""
        return self.name or PASS_NAMES[self.what]

    @property
    def stitch(self) -> float:
        """The stitch length in mm."""
        return self.stitch_mm or (BINDING_STITCH if self.what is PassKind.BINDING else USUAL_STITCH).value

    @property
    def part(self) -> float:
        """The share of the quilt that it goes over, 0 to 1."""
        usual = USUAL_SHARE.get(self.what)
        return 1.0 if usual is None else usual.value if self.share is None else self.share

    @property
    def apart_mm(self) -> float | None:
        """How far apart its lines are, in mm; ``None`` for what has no lines side by side."""
        if self.what not in USUAL_DENSITY:
            return None
        return self.lines_apart_mm or LINES_APART[self.density or USUAL_DENSITY[self.what]].value

    def meters_on(self, width_m: float, height_m: float) -> float:
        """Return the stitched meters on a quilt of this size.

        A fill is its area over the distance of its lines, the ditch every seam of a grid of blocks, the binding once
        around.

        >>> Pass(key=1, what=PassKind.EDGE_TO_EDGE, lines_apart_mm=20).meters_on(1, 2)
        100.0
        """
        if self.meters is not None:
            return self.meters
        if self.what is PassKind.BINDING:
            return BINDING_ROUNDS.value * 2 * (width_m + height_m)
        if (apart := self.apart_mm) is not None:
            return width_m * height_m * self.part / (apart / 1000)
        block = self.block_m or USUAL_BLOCK.value
        across, down = max(1, round(width_m / block)), max(1, round(height_m / block))
        return (across - 1) * height_m + (down - 1) * width_m + 2 * (width_m + height_m)

    @property
    def taken_as_usual(self) -> tuple[str, ...]:
        """What nobody has said of it, so that a usual value stands."""
        if self.meters is not None or self.what is PassKind.BINDING:
            missing: tuple[str, ...] = ()
        elif self.what is PassKind.DITCH:
            missing = () if self.block_m else ("the size of the blocks",)
        else:
            part = () if self.share is not None or USUAL_SHARE[self.what].value == 1 else ("how much of the quilt",)
            missing = (*part, *(() if self.density or self.lines_apart_mm else ("how dense",)))
        return (*missing, *(() if self.top else ("the thread",)))


@dataclass(frozen=True, kw_only=True)
class ComesFirst:
    """A rule of the owner's own: the pass ``first`` is sewn before the pass ``then``, and why."""

    first: int
    then: int
    why: str

    def __post_init__(self) -> None:
        require_text(self.why, 120, "The reason", "why")
        if self.first == self.then:
            raise CraftError("Choose two different passes.", "then")


@dataclass(frozen=True, kw_only=True)
class QuiltPlanned:
    """A quilt is to be sewn in these passes. Its number in the log is the plan's; a change of plan corrects it.

    ``days`` are the weekdays it is sewn on (0 is Monday), ``evening_h`` the hours of one evening.
    """

    quilt: str
    passes: tuple[Pass, ...]
    width_m: float | None = None
    height_m: float | None = None
    sandwich: Sandwich = field(default_factory=Sandwich)
    rules: tuple[ComesFirst, ...] = ()
    evening_h: float | None = None
    days: tuple[int, ...] = ()
    starts: date | None = None
    minutes: ChangeMinutes = field(default_factory=ChangeMinutes)
    note: str = ""
    kind: Literal["quilt_planned"] = "quilt_planned"

    def __post_init__(self) -> None:
        require_text(self.quilt, 80, "The quilt's name", "quilt")
        require_text(self.note, 2000, "A note", "note", empty=True)
        for value, what, at in ((self.width_m, "The width", "width_m"), (self.height_m, "The height", "height_m")):
            if value is not None:
                require_between(value, 0.1, 10, f"{what} of the quilt", at, unit="m")
        if not self.passes:
            raise CraftError("Add a pass: edge to edge, or stitching in the ditch.", "passes")
        if len(self.passes) > MOST_PASSES:
            most = f"A plan has {MOST_PASSES} passes at most."
            raise CraftError(f"{most} Put two that are sewn alike into one.", "passes")
        keys = [each.key for each in self.passes]
        if len(set(keys)) < len(keys):
            raise CraftError("Two passes have the same number.", "passes")
        covered = sum(each.part for each in self.passes if each.what in COVERING and each.meters is None)
        if covered > 1 + FILLED_BY_EYE.value:
            raise CraftError(
                f"These passes fill {covered:.0%} of the quilt. Fills, motifs and borders share its 100%.", "passes"
            )
        if len(self.rules) > MOST_RULES:
            raise CraftError(f"{MOST_RULES} rules are enough for one quilt.", "rules")
        for rule in self.rules:
            if rule.first not in keys or rule.then not in keys:
                raise CraftError("A rule names a pass that is not in the plan.", "rules")
        if self.evening_h is not None:
            require_between(self.evening_h, 0.25, 16, "An evening", "evening_h", unit="h")
        if len(set(self.days)) < len(self.days) or any(not 0 <= day <= 6 for day in self.days):
            raise CraftError("Choose each day of the week once.", "days")
        if self.starts and self.starts.year < 1950:
            raise CraftError("That date is too long ago.", "starts")

    @property
    def threads_named(self) -> tuple[int, ...]:
        """The threads of the drawer that its passes name."""
        named = (number for each in self.passes for number in (each.top, each.below) if number is not None)
        return tuple(dict.fromkeys(named))

    @property
    def width(self) -> float:
        """Its width in meters."""
        return self.width_m or USUAL_WIDTH.value

    @property
    def height(self) -> float:
        """Its height in meters."""
        return self.height_m or USUAL_HEIGHT.value

    def of(self, key: int) -> Pass | None:
        """Return the pass of this number."""
        return next((each for each in self.passes if each.key == key), None)


class PassStage(StrEnum):
    """How far a pass is."""

    BEGUN = "begun"
    DONE = "done"
    DROPPED = "dropped"


@dataclass(frozen=True, kw_only=True)
class PassStep:
    """A pass of a plan was begun, is so far (``share``, 0 to 1), is done, or is left out after all."""

    plan: int
    key: int
    stage: PassStage
    share: float | None = None
    kind: Literal["pass_step"] = "pass_step"

    def __post_init__(self) -> None:
        if self.share is not None:
            require_between(self.share, 0, 1, "How far the pass is", "share")


@dataclass(frozen=True, kw_only=True)
class PassState:
    """How far one pass is: its stage (``None`` before it is begun), and the share its owner gave last."""

    stage: PassStage | None = None
    share: float | None = None

    @property
    def over(self) -> bool:
        """Whether nothing of it is left to sew."""
        return self.stage in (PassStage.DONE, PassStage.DROPPED)


def pass_states(plan: QuiltPlanned, steps: Iterable[PassStep]) -> Mapping[int, PassState]:
    """Return how far each pass is, by its key, from the steps in their order."""
    states = {each.key: PassState() for each in plan.passes}
    for step in steps:
        if step.key in states:
            states[step.key] = PassState(stage=step.stage, share=step.share)
    return states


def pass_on(plan: QuiltPlanned, steps: Sequence[PassStep]) -> Pass | None:
    """Return the pass that was begun last and is not over."""
    states = pass_states(plan, steps)
    begun = [step.key for step in steps if states.get(step.key, PassState()).stage is PassStage.BEGUN]
    return plan.of(begun[-1]) if begun else None
