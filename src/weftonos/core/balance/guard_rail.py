"""The traps the program must never fall for: what stands in the way before a knob is turned (common practice)."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.balance.looks import Observation, run_backward
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.spoken import so_many
from weftonos.core.setup.case_choice import LearnedTurn
from weftonos.core.setup.setup import Setup
from weftonos.core.setup.swap import TurnFirst


class RailKind(StrEnum):
    """A classic mistake."""

    SUDDEN_NEST = "sudden_nest"
    FLUTTERING_BOBBIN = "fluttering_bobbin"
    JUMPING_GRADES = "jumping_grades"
    BACKWARD = "backward"
    METALLIC = "metallic"
    UNREAD_BOBBIN = "unread_bobbin"


@dataclass(frozen=True, kw_only=True)
class GuardRail:
    """What to do first (``act``) and why; ``blocks`` where no setting should be shown before it is done."""

    trap: RailKind
    act: str
    text: str
    blocks: bool


#: What is said of the bobbin below a metallic: it is loosened only if there is trouble (common practice).
_IF_TROUBLE = "If it still breaks, loosen the bobbin too, so that the top may be looser still."
_IF_TROUBLE_DROPPED_IN = "If it still breaks, loosen the bobbin's own screw a little, where the manual shows one."


def unread_bobbin(features: Set[Feature], turn: TurnFirst | LearnedTurn | None = None) -> GuardRail:
    """Return what to do about a bobbin nobody read or felt: by gauge or hand, after a ``turn`` that is known."""
    act, text = "Read the bobbin", "read. Bobbin and top make the same picture. A gauge tells them apart, an eye can't."
    if Feature.BY_HAND in features:
        act = "Feel the bobbin"
        text = "felt. Bobbin and top make the same picture. The hang or palm test tells them apart, an eye can't."
    text = f"The bobbin hasn't been {text}"
    if turn and turn.minutes:
        way, text = "Tighten" if turn.minutes > 0 else "Loosen", turn.text
        act = f"{way} the bobbin's screw {so_many(abs(turn.minutes), 'minute')}"
    return GuardRail(trap=RailKind.UNREAD_BOBBIN, act=act, text=text, blocks=False)


def guard_rails(
    setup: Setup,
    looks: Sequence[Observation],
    makes_sense: bool,
    *,
    has: Set[Feature],
    unread: GuardRail | None = None,
) -> tuple[GuardRail, ...]:
    """Return what stands in the way for a set-up and its looks on a machine that ``has`` features, the gravest first.

    ``unread`` is what to do about a bobbin that was neither read nor felt; ``None`` where it drops in, or may wait.
    """
    found = []
    if setup.reading and setup.reading.calmness is Calmness.FAULT:
        found.append(
            GuardRail(
                trap=RailKind.FLUTTERING_BOBBIN,
                act="Find what flutters",
                text="The bobbin flutters, and no top setting can fix that. Look for the fault in the case or "
                "the bobbin.",
                blocks=True,
            )
        )
    nest = bool(looks) and looks[-1].grade == 2
    if nest and (len(looks) == 1 or looks[-2].grade < 1):
        found.append(
            GuardRail(
                trap=RailKind.SUDDEN_NEST,
                act="Seat the top thread",
                text="A sudden nest is nearly always a thread outside the discs, and no knob cures that. "
                "Foot up or discs open, seat the thread, tug to prove it, stitch again.",
                blocks=True,
            )
        )
    if run_backward(looks):
        found.append(
            GuardRail(
                trap=RailKind.BACKWARD,
                act="Check which end is which",
                text="This strip reads backward: tighter settings look looser. If you read it from the other end, "
                "correct the test lines in the Log.",
                blocks=True,
            )
        )
    elif not makes_sense:
        found.append(
            GuardRail(
                trap=RailKind.JUMPING_GRADES,
                act="Check bobbin and discs",
                text="These test lines jump around. Before you turn, see that the thread is seated and the bobbin "
                "pulls evenly.",
                blocks=True,
            )
        )
    if unread and not setup.reading and not setup.felt:
        found.append(unread)
    if any(t.thread.is_metallic for t in setup.top):
        below = _IF_TROUBLE_DROPPED_IN if Feature.DROP_IN in has else _IF_TROUBLE
        found.append(
            GuardRail(
                trap=RailKind.METALLIC,
                act="Start looser on top",
                text=f"Metallic: start looser on top. {below}",
                blocks=False,
            )
        )
    return tuple(found)
