"""How to treat the thread in hand: winding, speed, heat, storage, hand tests (common practice)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel import advice
from weftonos.core.kernel.advice import Caution
from weftonos.core.kernel.standing import practice
from weftonos.core.thread.thread import HEAVIEST_THROUGH_A_NEEDLE, Construction, Fibre, Thread

#: A good metallic stands this many strokes before its wrap loosens.
METALLIC_STROKES = practice(5, "strokes")


class Subject(StrEnum):
    """What a piece of handling advice is about."""

    LOOK = "look"
    PATH = "path"
    TENSION = "tension"
    WINDING = "winding"
    SPEED = "speed"
    CLEANING = "cleaning"
    HEAT = "heat"
    STORAGE = "storage"
    HAND_TEST = "hand test"


@dataclass(frozen=True)
class Handling:
    """One piece of advice."""

    subject: Subject
    text: str


@dataclass(frozen=True)
class ThreadCare:
    """Everything to mind with a thread, and the cautions that go with it."""

    advice: tuple[Handling, ...]
    cautions: tuple[Caution, ...]


_Rule = tuple[Callable[[Thread], bool], Subject, str]


def _is(*fibres: Fibre) -> Callable[[Thread], bool]:
    return lambda t: t.fibre in fibres


def _built(*constructions: Construction) -> Callable[[Thread], bool]:
    return lambda t: t.construction in constructions


def _metallic(thread: Thread) -> bool:
    return thread.is_metallic


def _too_heavy(thread: Thread) -> bool:
    return thread.density.tex > HEAVIEST_THROUGH_A_NEEDLE.value


def _any(_thread: Thread) -> bool:
    return True


_RULES: tuple[_Rule, ...] = (
    (_is(Fibre.COTTON), Subject.LOOK, "Matte; sinks into the quilt."),
    (_is(Fibre.RAYON), Subject.LOOK, "High gloss, lower strength; not colourfast: do not wash with light fabric."),
    (_is(Fibre.SILK), Subject.LOOK, "Soft gloss; for very fine background work."),
    (_is(Fibre.NYLON), Subject.LOOK, "Much stretch; yellows, turns brittle, not colourfast."),
    (_built(Construction.MONOFILAMENT), Subject.LOOK, "Clear on light fabric, smoke on dark."),
    (_metallic, Subject.LOOK, "Glitter, delicate; try it on a scrap of the same sandwich first."),
    (_built(Construction.FILM), Subject.PATH, "Horizontal pin, so that it rolls off sideways; one guide hole only."),
    (_built(Construction.MONOFILAMENT), Subject.PATH, "A net on the spool; two guide holes."),
    (_is(Fibre.RAYON, Fibre.NYLON), Subject.PATH, "Slick: a net keeps it from spilling off the spool."),
    (_metallic, Subject.TENSION, "Lowest top tension, fine bobbin thread, and loosen the bobbin too."),
    (_built(Construction.FILM), Subject.TENSION, "Top two to three turns looser than ordinary."),
    (_built(Construction.MULTIFILAMENT), Subject.TENSION, "Stretch can upset the tension: read again after a pause."),
    (
        _too_heavy,
        Subject.TENSION,
        "Bobbin work: wind it on the bobbin, loosen the case, quilt face down; or by hand.",
    ),
    (
        _built(Construction.MONOFILAMENT),
        Subject.WINDING,
        "Wind the bobbin at half speed at most and only three quarters full, or it relaxes on the bobbin and breaks.",
    ),
    (_is(Fibre.NYLON), Subject.WINDING, "Stretchy: wind slowly."),
    (_any, Subject.WINDING, "Even and firm. A badly wound bobbin is not worth saving."),
    (_metallic, Subject.SPEED, "Sew slower than usual."),
    (_built(Construction.MONOFILAMENT), Subject.SPEED, "Slow enough that it does not warm."),
    (_is(Fibre.COTTON), Subject.CLEANING, "Most lint: clean the bobbin area more often."),
    (_is(Fibre.COTTON_POLYESTER), Subject.CLEANING, "Some lint."),
    (_is(Fibre.NYLON), Subject.HEAT, "Poor with heat: iron low. Polyester is the safer choice."),
    (_is(Fibre.WASH_AWAY), Subject.STORAGE, "Dry, in a sealed bag."),
    (_is(Fibre.WASH_AWAY), Subject.LOOK, "Dissolves in water: never in a seam that stays."),
    (_any, Subject.STORAGE, "Away from light and damp; both weaken thread."),
    (_any, Subject.HAND_TEST, "Draw it through the fingers: no lumps, kinks or thin spots."),
    (
        _metallic,
        Subject.HAND_TEST,
        f"Stroke the end several times: a good one stands about {METALLIC_STROKES.value:g} strokes before the wrap "
        "loosens.",
    ),
    (_any, Subject.HAND_TEST, "If it is old, snap it by hand against a new one of its kind."),
)


def care_for(thread: Thread) -> ThreadCare:
    """Return what to mind with a thread."""
    found = tuple(Handling(subject, text) for applies, subject, text in _RULES if applies(thread))
    cautions = []
    if thread.fibre is Fibre.NYLON:
        cautions.append(advice.LOW_IRON)
    if thread.fibre is Fibre.WASH_AWAY:
        cautions.append(advice.NEVER_MOUTH)
    return ThreadCare(found, tuple(cautions))
