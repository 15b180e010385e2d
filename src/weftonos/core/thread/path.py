"""The way of the thread from cone to eye, point by point, made for the thread in hand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.errors import CraftError, require_text
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.thread.guide import FULL_HOLES, holes_to_use
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.thread import Bundle

MOST_POINTS = 30


@dataclass(frozen=True)
class PathPoint:
    """One point: where the thread goes, how, and what to prove before the next."""

    name: str
    how: str
    proof: str = ""

    def __post_init__(self) -> None:
        require_text(self.name, 80, "The name of a point", "name")
        require_text(self.how, 400, "What to do at a point", "how", empty=True)
        require_text(self.proof, 400, "The proof of a point", "proof", empty=True)


_LONGARM = (
    PathPoint(
        "Cone pin", "Cone straight on its pin, first guide centered above it.", "The cone stands still and free."
    ),
    PathPoint("First guide", "Through it. A tuft of batting here smooths the thread and catches lint."),
    PathPoint("Next guides", "Each of them once, without a twist, as the manual shows."),
    PathPoint(
        "Tension discs",
        "Between the discs, drawn up firmly until it seats.",
        "Open the discs, let the thread lie, let go: the pull is felt at once.",
    ),
    PathPoint("Check spring", "Over it, once.", "It bounces when you pull."),
    PathPoint("Guides to the take-up", "Through them, as the manual shows."),
    PathPoint("Take-up lever", "Back to front, or as the manual shows."),
    PathPoint("Guides to the needle", "Through them, down to the needle bar."),
    PathPoint("Needle eye", "Front to back. Power off."),
    PathPoint("Tail", "Under the foot."),
)
_HOME = (
    PathPoint("Spool pin", "Spool on its pin."),
    PathPoint("Guides", "Presser foot up, through the first guides."),
    PathPoint("Tension discs", "Between the discs, foot still up.", "Foot down: the pull is felt at once."),
    PathPoint("Take-up lever", "Into it, from the side the machine's manual shows."),
    PathPoint("Lower guides", "Through them down to the needle."),
    PathPoint("Needle eye", "Front to back. Power off."),
    PathPoint("Tail", "Under the foot."),
)
_COUNT = {1: "One", 2: "Two", 3: "Three"}


class Guide(StrEnum):
    """The kinds of guide a thread meets, as a screen draws them."""

    PIN = "pin"
    SIDE_PIN = "side_pin"
    EYELET = "eyelet"
    HOOK = "hook"
    SLOT = "slot"
    HOLES_1 = "holes_1"
    HOLES_2 = "holes_2"
    HOLES_3 = "holes_3"
    DISCS = "discs"
    SPRING = "spring"
    LEVER = "lever"
    EYE = "eye"
    TAIL = "tail"


def _hole_guide(holes: int) -> PathPoint:
    how = "Through it." if holes == 1 else f"Back to front like a spiral, through all {_COUNT[holes].lower()} holes."
    return PathPoint(f"{_COUNT[holes]}-hole guide", how, "No loop caught between holes." if holes > 1 else "")


#: Each kind as a point of a path, in neutral words; who has one adds it where it stands on the machine.
GUIDES: Mapping[Guide, PathPoint] = {
    Guide.PIN: PathPoint("Upright pin", "Cone or spool straight on its pin.", "It stands still and free."),
    Guide.SIDE_PIN: PathPoint("Sideways pin", "The spool lies, and the thread comes off its end.", "It runs free."),
    Guide.EYELET: PathPoint("Eyelet", "Through the eye, once.", "No twist around it."),
    Guide.HOOK: PathPoint("Open hook", "Slip the thread behind the hook.", "Pull gently: it stays in."),
    Guide.SLOT: PathPoint("Slot", "Down the slot, foot up.", "The thread lies at its end."),
    **{guide: _hole_guide(n) for n, guide in enumerate((Guide.HOLES_1, Guide.HOLES_2, Guide.HOLES_3), 1)},
    Guide.DISCS: PathPoint("Tension discs", "Between the discs, drawn up firmly until it seats.", "The pull is felt."),
    Guide.SPRING: PathPoint("Check spring", "Over it, once.", "It bounces when you pull."),
    Guide.LEVER: PathPoint("Take-up lever", "Into it, from the side the manual shows.", "It rises with the lever."),
    Guide.EYE: PathPoint("Needle eye", "From the side the manual shows. Power off."),
    Guide.TAIL: PathPoint("Tail", "Under the foot."),
}


def usual_path(kind: MachineKind, holes: int | None = None) -> tuple[PathPoint, ...]:
    """Return the way on such a head in neutral words, with a guide of so many holes before the discs where it has one.

    Guides differ from head to head; the owner's own path replaces it point by point.
    """
    usual = _LONGARM if kind is MachineKind.LONGARM else _HOME
    if not holes:
        return usual
    at = next(n for n, point in enumerate(usual) if point.name == "Tension discs")
    return (*usual[:at], _hole_guide(holes), *usual[at:])


def check_path(points: Sequence[PathPoint]) -> None:
    """Raise :class:`CraftError` for a path that cannot be walked."""
    if not 1 <= len(points) <= MOST_POINTS:
        raise CraftError(f"A thread path has 1 to {MOST_POINTS} points.", "path")


def check_new_path(points: Sequence[PathPoint]) -> None:
    """Raise :class:`CraftError` for a path as it is described now that leads nowhere: it ends at the needle."""
    if not any("needle" in point.name.casefold() for point in points):
        raise CraftError("This path has no needle. Add the needle's eye where it belongs.", "path")


def path_for(points: Sequence[PathPoint], top: Bundle | None, tried: int | None = None) -> tuple[PathPoint, ...]:
    """Return a machine's path made for the thread in hand: which holes, which pin, one after another.

    ``tried`` is the number of guide holes that its owner has found to do.
    """
    if top is None:
        return tuple(points)
    return tuple(_made_for(point, top, tried) for point in points)


def _made_for(point: PathPoint, top: Bundle, tried: int | None) -> PathPoint:
    name = point.name.lower()
    full = next((n for n, word in _COUNT.items() if name.startswith(word.lower())), FULL_HOLES)
    holes = min(holes_to_use(top, tried), full)
    if "hole guide" in name and tried:
        return PathPoint(
            point.name, f"Through {holes} hole{'s' if holes > 1 else ''}, as you found by trial.", point.proof
        )
    if "hole guide" in name and holes < full:
        film = any(nature_of(t).pin == "horizontal" for t in top.threads)
        why = "flat film" if film else "this delicate thread, by trial" if top.single else "a bundle, by trial"
        return PathPoint(point.name, f"Through {holes} hole{'s' if holes > 1 else ''} only, for {why}.", point.proof)
    if "pin" in name or "cone" in name or "spool" in name:
        return PathPoint(point.name, _pin(point.how, top), point.proof)
    if "disc" in name and not top.single:
        return PathPoint(
            point.name,
            "Each thread through the discs, one after another.",
            f"Prove all {len(top.threads)} by hand.",
        )
    return point


def _pin(how: str, top: Bundle) -> str:
    if any(nature_of(t).pin == "horizontal" for t in top.threads):
        return "On a horizontal pin, so that the film rolls off sideways and does not twist."
    if not top.single:
        return f"{how} Each of the {len(top.threads)} threads on its own holder."
    return f"{how} A net on the spool keeps it from spilling." if nature_of(top.threads[0]).net else how
