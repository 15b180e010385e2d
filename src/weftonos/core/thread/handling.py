"""How to treat the thread in hand, by the page of threads: winding, speed, heat, storage, hand tests."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel import advice
from weftonos.core.kernel.advice import Caution
from weftonos.core.thread.nature import nature_of
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


def care_for(thread: Thread) -> ThreadCare:
    """Return what to mind with a thread, the particular before the general."""
    nature = nature_of(thread)
    found = tuple(Handling(Subject(subject), text) for subject, text in nature.care)
    return ThreadCare(found, tuple(_CAUTIONS[name] for name in nature.cautions))
