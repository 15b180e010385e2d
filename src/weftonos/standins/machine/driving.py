"""The simulated machine as a document: its state and what is done to it go in, and what it comes to goes out."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

from weftonos.standins.machine.faults import FAULTS
from weftonos.standins.machine.machine import (
    STITCHES,
    Broke,
    CheckResult,
    Impossible,
    Seen,
    SimulatedMachine,
    StitchedLine,
)
from weftonos.standins.machine.picture import Colors, draw, words_for


class Act(StrEnum):
    """What can be done to a machine."""

    STITCH = "stitch"
    PULL = "pull"
    RUN = "run"
    SEE = "see"
    CHECK = "check"
    TURN_SCREW = "turn_screw"
    LOOK_INSIDE = "look_inside"


@dataclass(frozen=True, kw_only=True)
class Drive:
    """What is done to a machine, the ``n``-th time: equal states and equal ``n`` have equal luck.

    ``stitches`` are those of a line, ``meters`` of a run, ``minutes`` a turn of the screw in minutes of a clock face,
    ``hand`` how unevenly a hand pulls, as a share, and ``cause`` what is checked.
    """

    machine: SimulatedMachine
    do: Act
    n: int = 0
    stitches: int = STITCHES
    meters: float = 10.0
    minutes: float = 0.0
    hand: float = 0.03
    cause: str = ""


@dataclass(frozen=True)
class Inside:
    """What nobody sees at a machine: the pulls in mN, the mean depth of the lock, and where it is balanced."""

    above_mn: float
    below_mn: float
    depth: float
    balanced_at: float


@dataclass(frozen=True, kw_only=True)
class Driven:
    """The machine after it, and what came of it; what was not asked for is null.

    ``line`` comes with its picture (SVG) and the same in words, ``pull_mn`` is the lowest and the highest reading.
    """

    machine: SimulatedMachine
    line: StitchedLine | None = None
    picture: str | None = None
    words: str | None = None
    pull_mn: tuple[float, float] | None = None
    sewn_m: float | None = None
    broke: Broke | None = None
    seen: Seen | None = None
    check: CheckResult | None = None
    inside: Inside | None = None


def refuse_impossible(machine: SimulatedMachine) -> None:
    """Raise :class:`Impossible` for a state that no machine can be in."""
    for what, value, low, high in (
        ("The setting", machine.setting, machine.scale.low, machine.scale.high),
        ("The screw", machine.screw, -60, 60),
        ("What is left on the bobbin", machine.fill, 0, 1),
        ("The wear of the needle", machine.worn, 0, 5),
        ("The lint", machine.lint, 0, 1),
        ("What is sewn", machine.meters, 0, 1e7),
        ("The speed", machine.speed, 0.05, 4),
        ("The guides", machine.holes, 0, 3),
        ("The tex on top", machine.top.tex, 1, 500),
        ("The tex below", machine.below.tex, 1, 500),
        ("The thickness on top", machine.top.diameter_mm, 0.02, 2),
        ("The thickness below", machine.below.diameter_mm, 0.02, 2),
        ("The needle", machine.needle.metric, 50, 200),
        ("The sandwich", machine.cloth.thickness_mm, 0.1, 30),
        ("The drag of the cloth", machine.cloth.drag, 0.1, 5),
    ):
        if not (math.isfinite(value) and low <= value <= high):
            raise Impossible(f"{what} goes from {low:g} to {high:g}. {value:g} is outside.")


def drive(asked: Drive) -> Driven:
    """Do something to a machine; raises :class:`Impossible` for a machine or a doing that cannot be.

    >>> drive(Drive(machine=SimulatedMachine(7), do=Act.RUN, meters=5)).machine.meters
    5.0
    """
    if not 0 <= asked.n < 2**31 or not 1 <= asked.stitches <= 400 or not 0 <= asked.hand <= 1:
        raise Impossible("n is from 0 up. A line has 1 to 400 stitches. A hand's unevenness goes from 0 to 1.")
    refuse_impossible(asked.machine)
    machine = replace(asked.machine)
    match asked.do:
        case Act.STITCH:
            line = machine.stitch(asked.n, asked.stitches)
            picture = draw(line, machine.cloth, Colors(), machine.seed)
            return Driven(machine=machine, line=line, picture=picture, words=words_for(line))
        case Act.PULL:
            return Driven(machine=machine, pull_mn=machine.pull(asked.n, asked.hand))
        case Act.RUN:
            sewn, broke = machine.run(asked.meters, asked.n)
            return Driven(machine=machine, sewn_m=sewn, broke=broke)
        case Act.SEE:
            return Driven(machine=machine, seen=machine.see(asked.n))
        case Act.CHECK:
            if asked.cause not in FAULTS:
                raise Impossible(f"“{asked.cause}” isn't a check of this machine.")
            found = machine.check(asked.cause, asked.n)
            return Driven(machine=machine, check=found)
        case Act.TURN_SCREW:
            machine.turn_screw(asked.minutes)
            return Driven(machine=machine)
        case Act.LOOK_INSIDE:
            above, below = machine.pulls_now()
            inside = Inside(above, below, machine.depth(), machine.balanced_setting())
            return Driven(machine=machine, inside=inside)
