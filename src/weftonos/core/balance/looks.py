"""Graded looks, and what their grades say by themselves: before any expectation, and without a model."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import combinations
from statistics import fmean
from typing import Self

from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate
from weftonos.core.kernel.stitch import check_grade


@dataclass(frozen=True)
class Observation:
    """One graded look; ``doubtful`` where the eye was not sure."""

    setting: float
    grade: int
    doubtful: bool = False

    def __post_init__(self) -> None:
        check_grade(self.grade)


@dataclass(frozen=True)
class Accepted:
    """The grades that are good enough, lowest and highest: 0 to 0 unless a few dots or specks are accepted."""

    lowest: int = 0
    highest: int = 0

    def __contains__(self, grade: int) -> bool:
        return self.lowest <= grade <= self.highest

    @classmethod
    def of(cls, *grades: int) -> Self:
        """Return what is accepted beside balanced."""
        return cls(min(0, *grades), max(0, *grades)) if grades else cls()


BALANCED_ONLY = Accepted()


def on_scale(scale: TopScale, looks: Sequence[Observation]) -> list[Observation]:
    """Return the looks whose settings the scale still has."""
    return [look for look in looks if scale.holds(look.setting)]


class Beyond(StrEnum):
    """Past which end of the scale the balance lies."""

    LOW = "low"
    HIGH = "high"


@dataclass(frozen=True)
class Graded:
    """What the grades alone say: the highest step that was too loose, the lowest that was too tight, if any."""

    loose: float | None
    tight: float | None

    @classmethod
    def of(cls, looks: Sequence[Observation], accepted: Accepted = BALANCED_ONLY) -> Graded:
        """Read the grades; doubtful ones bind nobody."""
        sure = [look for look in looks if not look.doubtful]
        loose = max((look.setting for look in sure if look.grade > accepted.highest), default=None)
        tight = min((look.setting for look in sure if look.grade < accepted.lowest), default=None)
        return cls(loose, tight)

    @property
    def contradict(self) -> bool:
        """Whether a step was too loose at or above one that was too tight."""
        return self.loose is not None and self.tight is not None and self.loose >= self.tight

    def beyond(self, scale: TopScale) -> Beyond | None:
        """Say past which end of the scale the balance lies: its last step was graded wrong on that side."""
        if self.contradict:
            return None
        if self.tight is not None and self.tight <= scale.low:
            return Beyond.LOW
        return Beyond.HIGH if self.loose is not None and self.loose >= scale.high else None

    def allows(self, setting: float) -> bool:
        """Say whether a setting lies on the right side of every step that was graded wrong."""
        return (self.loose is None or setting > self.loose) and (self.tight is None or setting < self.tight)


def step_again(looks: Sequence[Observation], graded: Graded) -> float | None:
    """Return the step to stitch again where grades contradict each other: the one noted last."""
    if not graded.contradict:
        return None
    both = {graded.loose, graded.tight}
    return next(look.setting for look in reversed(looks) if look.setting in both and look.grade != 0)


#: Of two neighboring steps, one too loose and one too tight, so many lines tell which is the better one.
LINES_OF_TWO = estimate(3, "looks")


def better_of_two(scale: TopScale, looks: Sequence[Observation], graded: Graded) -> float | None:
    """Return the better of two neighboring steps, one too loose and one too tight: the scale has none between.

    It is the less wrong in the mean of its lines, else the one stitched last; ``None`` where there is a step.
    """
    sides = _two_sides(scale, looks, graded)
    return min(reversed(sides), key=lambda look: _wrong_by(sides, look.setting)).setting if sides else None


def nothing_between(scale: TopScale, looks: Sequence[Observation], accepted: Accepted) -> float | None:
    """Return the better of two such steps where no further line can tell more; ``None`` elsewhere."""
    graded = Graded.of(looks, accepted)
    seen = len(_two_sides(scale, looks, graded))
    return better_of_two(scale, looks, graded) if seen >= LINES_OF_TWO.value else None


def _two_sides(scale: TopScale, looks: Sequence[Observation], graded: Graded) -> list[Observation]:
    """Return the lines of two neighboring steps, one too loose and one too tight; none where a step lies between."""
    if graded.loose is None or graded.tight is None or graded.contradict:
        return []
    if graded.tight - graded.loose > 1.5 * scale.step:
        return []
    return [look for look in looks if look.setting in (graded.loose, graded.tight) and not look.doubtful]


def _wrong_by(looks: Sequence[Observation], setting: float) -> float:
    return fmean(abs(look.grade) for look in looks if look.setting == setting)


#: From so many looks on a ladder can be seen to run backward, and so many of its pairs must.
FEWEST_BACKWARD, BACKWARD_FROM = estimate(4, "looks"), estimate(0.9, "of the pairs that differ")


def run_backward(looks: Sequence[Observation]) -> bool:
    """Say whether looser settings were graded tighter nearly throughout: a ladder read from its other end.

    Doubtful looks count as well: a doubt of one grade does not turn an order round.

    >>> run_backward([Observation(x, g) for x, g in ((1, -2), (2, -1), (3, 1), (4, 2))])
    True
    """
    if len(looks) < FEWEST_BACKWARD.value:
        return False
    apart = [(a, b) for a, b in combinations(looks, 2) if a.setting != b.setting and a.grade != b.grade]
    backward = sum((a.setting < b.setting) == (a.grade < b.grade) for a, b in apart)
    return len(apart) >= FEWEST_BACKWARD.value and backward >= BACKWARD_FROM.value * len(apart)


def graded_twice(looks: Sequence[Observation]) -> float | None:
    """Return a setting that was graded differently, the lowest; ``None`` where there is none."""
    seen: dict[float, set[int]] = {}
    for look in looks:
        seen.setdefault(look.setting, set()).add(look.grade)
    return min((setting for setting, grades in seen.items() if len(grades) > 1), default=None)


def by_eye(looks: Sequence[tuple[float, int]]) -> float:
    """Return a ladder read by eye: the best step, and between several the middle (common practice)."""
    best = min(abs(grade) for _, grade in looks)
    good = [setting for setting, grade in looks if abs(grade) == best]
    return sum(good) / len(good)
