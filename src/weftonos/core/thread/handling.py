"""How to treat the thread in hand, by the page of threads: winding, speed, heat, storage, hand tests."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel import advice
from weftonos.core.kernel.advice import Caution
from weftonos.core.kernel.feature import Feature, applies
from weftonos.core.thread.nature import Nature, nature_of
from weftonos.core.thread.thread import Thread


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


_CAUTIONS = {"low_iron": advice.LOW_IRON, "never_mouth": advice.NEVER_MOUTH}


def handling(nature: Nature, has: Set[Feature]) -> tuple[Handling, ...]:
    """Return how such a thread is treated on a machine that ``has`` features, the particular before the general."""
    said = [(subject, text) for subject, text, *needs in nature.care if applies(map(Feature, needs), has)]
    return tuple(Handling(Subject(subject), text) for subject, text in said)


def cautions_for(thread: Thread) -> tuple[Caution, ...]:
    """Return the cautions that go with a thread."""
    return tuple(_CAUTIONS[name] for name in nature_of(thread).cautions)


def care_for(thread: Thread, has: Set[Feature]) -> ThreadCare:
    """Return what to mind with a thread on a machine that ``has`` features."""
    return ThreadCare(handling(nature_of(thread), has), cautions_for(thread))
