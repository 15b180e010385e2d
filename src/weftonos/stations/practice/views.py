"""What a round of practice shows and takes: one form for all exercises."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum


class Takes(StrEnum):
    """What the hand does next."""

    CHOICE = "choice"
    SETTING = "setting"
    TAPS = "taps"
    NOTHING = "nothing"


@dataclass(frozen=True)
class Choice:
    """Something to tap; ``note`` is what it costs or what it is."""

    value: str
    name: str
    note: str = ""


@dataclass(frozen=True, kw_only=True)
class PracticeMove:
    """What was done: a choice, a setting that was stitched, or the moments of taps in seconds."""

    choice: str = ""
    setting: float | None = None
    taps: tuple[float, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Picture:
    """A drawing as SVG, and the same in words."""

    svg: str
    words: str


@dataclass(frozen=True, kw_only=True)
class Shown:
    """Where a round stands: the question, what is known, what can be done, and what came of the last move.

    ``low`` and ``high`` are the ends of the settings, or the band in mN that a pull is to stay in.
    """

    ask: str
    takes: Takes
    step: int
    steps: int | None
    about: Sequence[str] = ()
    picture: Picture | None = None
    choices: Sequence[Choice] = ()
    told: Sequence[str] = ()
    setting: float | None = None
    low: float | None = None
    high: float | None = None
    by: float | None = None
    taps: int | None = None
    feedback: str = ""
    right: bool | None = None
    last: Picture | None = None
    score: float | None = None
    result: Sequence[str] = field(default_factory=tuple)
