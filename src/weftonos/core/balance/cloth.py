"""A test cloth: the piece of sandwich with a number on it, its lines by motion, and what each row found."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

from weftonos.core.balance.estimate import BalanceEstimate, estimate_balance
from weftonos.core.balance.looks import BALANCED_ONLY, Observation, on_scale
from weftonos.core.kernel.errors import LONGEST_NOTE, CraftError, require_between, require_text
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.stitch import GRADES, check_grade
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.thread.thread import check_bundle_size

#: The largest number that is written on a cloth, and how many lines go on one.
LARGEST_NUMBER, MOST_LINES = 99_999, 120


@dataclass(frozen=True, kw_only=True)
class ClothLine:
    """One line of a cloth: where the top tension stood, and its grade from -2 to 2."""

    setting: float
    grade: int
    motion: Motion = Motion.FREE_MOTION
    doubtful: bool = False

    def __post_init__(self) -> None:
        check_grade(self.grade)
        require_between(self.setting, -100_000, 100_000, "A setting", "setting")


Line = TypeVar("Line", bound=ClothLine)


@dataclass(frozen=True, kw_only=True)
class Cloth:
    """A test cloth and the number on it; its lines are the test lines that name it.

    A cloth from the box, stitched before its machine's log knew of it, carries what is written on it: ``on_top`` and
    ``below`` the threads by their numbers in the drawer, the needle, the batting, the bobbin's number, and its
    ``lines``. Those are no test lines of the log: nobody knows what else was on the machine then.
    """

    number: int
    note: str = ""
    on_top: tuple[int, ...] = ()
    below: int | None = None
    needle: NeedleSize | None = None
    point: Point | None = None
    batting: str = ""
    bobbin_mn: float | None = None
    lines: tuple[ClothLine, ...] = ()
    kind: Literal["cloth"] = "cloth"

    def __post_init__(self) -> None:
        require_between(self.number, 1, LARGEST_NUMBER, "The number on the cloth", "number")
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)
        require_text(self.batting, 120, "The batting", "batting", empty=True)
        if self.bobbin_mn is not None:
            require_between(self.bobbin_mn, 0, 5000, "The bobbin number", "bobbin_mn", unit="mN", above_low=True)
        if self.on_top:
            check_bundle_size(len(self.on_top))
        elif self.lines:
            raise CraftError("A cloth from the box names its top thread.", "on_top")
        if len(self.lines) > MOST_LINES:
            raise CraftError(f"A cloth has {MOST_LINES} lines at most.", "lines")

    @property
    def noted_elsewhere(self) -> bool:
        """Whether it carries what it was stitched with itself."""
        return bool(self.on_top)


@dataclass(frozen=True, kw_only=True)
class RowFound:
    """What a row of a cloth found: the balance by its lines, or why there is none. ``balanced`` are its good lines."""

    motion: Motion
    setting: float | None
    text: str
    balanced: tuple[float, ...]


def row_seen(scale: TopScale, motion: Motion, lines: Sequence[ClothLine]) -> RowFound:
    """Say which lines of a row looked balanced, or on which side all were; nothing is estimated."""
    good = tuple(sorted({line.setting for line in lines if line.grade in BALANCED_ONLY}))
    if good:
        low, high = (scale.words(end) for end in (good[0], good[-1]))
        text = f"good at {low}" if low == high else f"good from {low} to {high}"
    else:
        loose = [line.grade > 0 for line in lines]
        way = " All were too loose." if all(loose) else " All were too tight." if not any(loose) else ""
        text = f"no line looked balanced.{way}"
    return RowFound(motion=motion, setting=None, text=text, balanced=good)


def row_found(scale: TopScale, motion: Motion, lines: Sequence[ClothLine]) -> RowFound:
    """Say what one row found, by its own lines alone."""
    seen, found = row_seen(scale, motion, lines), row_estimate(scale, lines)
    if found is None:
        return replace(seen, text="no line on this scale")
    if not seen.balanced:
        return seen
    set_to = scale.words(found.set_to)
    width = f", {seen.text}" if len(seen.balanced) > 1 else ""
    return replace(seen, setting=found.set_to, text=f"{set_to}{width}")


def row_estimate(scale: TopScale, lines: Sequence[ClothLine]) -> BalanceEstimate | None:
    """Estimate a row's balance by its own lines; ``None`` where none of them is on the scale."""
    looks = on_scale(scale, [Observation(line.setting, line.grade, line.doubtful) for line in lines])
    return estimate_balance(scale, None, looks) if looks else None


def rows_of(lines: Sequence[Line]) -> Mapping[Motion, Sequence[Line]]:
    """Return a cloth's lines by motion, each from loose to tight."""
    rows = {motion: [line for line in lines if line.motion is motion] for motion in Motion}
    return {motion: sorted(row, key=lambda line: line.setting) for motion, row in rows.items() if row}


def judged_before(lines: Sequence[Line], line: ClothLine) -> Line | None:
    """Return the line that was judged at the same setting in the same motion."""
    return next((b for b in lines if (b.motion, b.setting) == (line.motion, line.setting)), None)


def check_not_twice(scale: TopScale, before: ClothLine | None, line: ClothLine) -> None:
    """Raise :class:`CraftError` where a line was judged before, and differently."""
    if before is not None and before.grade != line.grade:
        was = GRADES[before.grade].name
        raise CraftError(
            f"{scale.words(line.setting)} was judged already: {was}. Is it {GRADES[line.grade].name} instead?",
            "instead",
        )


@dataclass(frozen=True, kw_only=True)
class RowMoved:
    """One motion on two cloths: what each found, and what moved between them."""

    motion: Motion
    first: str
    second: str
    moved: str


def rows_moved(scale: TopScale, first: Mapping[Motion, RowFound], second: Mapping[Motion, RowFound]) -> list[RowMoved]:
    """Compare what two cloths of one scale found, motion by motion."""
    moved = []
    for motion in Motion:
        one, other = first.get(motion), second.get(motion)
        if one is None and other is None:
            continue
        said = ""
        if one and other and one.setting is not None and other.setting is not None:
            by = other.setting - one.setting
            said = "the same" if not by else f"{scale.width_in_words(abs(by))} {'tighter' if by > 0 else 'looser'}"
        moved.append(
            RowMoved(
                motion=motion,
                first=one.text if one else "not stitched",
                second=other.text if other else "not stitched",
                moved=said,
            )
        )
    return moved
