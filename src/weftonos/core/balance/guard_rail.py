"""The traps the program must never fall for: what stands in the way before a knob is turned (common practice)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.balance.looks import Observation, run_backward
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.starting_tension import IF_TROUBLE


class RailKind(StrEnum):
    """A classic mistake."""

    SUDDEN_NEST = "sudden_nest"
    FLUTTERING_BOBBIN = "fluttering_bobbin"
    JUMPING_GRADES = "jumping_grades"
    BACKWARD = "backward"
    METALLIC = "metallic"
    UNREAD_BOBBIN = "unread_bobbin"


@dataclass(frozen=True)
class GuardRail:
    """What to do first (``act``) and why; ``blocks`` where no setting should be shown before it is done."""

    trap: RailKind
    act: str
    text: str
    blocks: bool


def guard_rails(
    setup: Setup, looks: Sequence[Observation], makes_sense: bool, *, must_read: bool = True
) -> tuple[GuardRail, ...]:
    """Return what stands in the way for a set-up and its looks, the gravest first.

    Without ``must_read`` the bobbin drops in and has no case to read, or may wait for its reading.
    """
    found = []
    if setup.reading and setup.reading.calmness is Calmness.FAULT:
        found.append(
            GuardRail(
                RailKind.FLUTTERING_BOBBIN,
                "Find what flutters",
                "The bobbin flutters, and no top setting can fix that. Look for the fault in the case or the bobbin.",
                True,
            )
        )
    nest = bool(looks) and looks[-1].grade == 2
    if nest and (len(looks) == 1 or looks[-2].grade < 1):
        found.append(
            GuardRail(
                RailKind.SUDDEN_NEST,
                "Seat the top thread",
                "A sudden nest is nearly always a thread outside the discs, and no knob cures that. "
                "Foot up or discs open, seat the thread, tug to prove it, stitch again.",
                True,
            )
        )
    if run_backward(looks):
        found.append(
            GuardRail(
                RailKind.BACKWARD,
                "Check which end is which",
                "This strip reads backward: tighter settings look looser. If you read it from the other end, correct "
                "the test lines in the Log.",
                True,
            )
        )
    elif not makes_sense:
        found.append(
            GuardRail(
                RailKind.JUMPING_GRADES,
                "Check bobbin, discs and case",
                "These test lines jump around. Before you turn, see that the thread is seated and the bobbin pulls "
                "evenly.",
                True,
            )
        )
    if must_read and not setup.reading and not setup.felt:
        found.append(
            GuardRail(
                RailKind.UNREAD_BOBBIN,
                "Read the bobbin",
                "The bobbin hasn't been read. Bobbin and top make the same picture. A gauge tells them apart, an eye "
                "can't.",
                False,
            )
        )
    if any(t.thread.is_metallic for t in setup.top):
        found.append(
            GuardRail(
                RailKind.METALLIC,
                "Start looser on top",
                f"Metallic: start looser on top. {IF_TROUBLE}",
                False,
            )
        )
    return tuple(found)
