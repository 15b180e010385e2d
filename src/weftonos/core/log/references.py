"""Which fields of a document name another thing of the workshop, so that documents can move between workshops."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from enum import StrEnum
from typing import Any

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Part, PartMarked, ScrewTurned
from weftonos.core.log.planned import ComparisonPlanned
from weftonos.core.mend.incident import Incident, IncidentAnswer, IncidentCheck, IncidentOutcome
from weftonos.core.plan.cones import ConeNoted
from weftonos.core.plan.passes import PassStep, QuiltPlanned
from weftonos.core.setup.events import BobbinLoaded, CasePutBack, NeedleFitted, RecipeUsed, StitchedLook, TopThreaded


class Thing(StrEnum):
    """What a workshop holds. Each is described by a document and known by its number here and its UUID everywhere."""

    MACHINE = "machine"
    THREAD = "thread"
    PACKET = "packet"
    CASE = "case"
    BOBBIN = "bobbin"
    RECORD = "record"


#: By kind of document: the fields that hold the number of another thing, or several of them. A point stands between
#: a list and the field of each of its parts.
REFERENCES: Mapping[str, Mapping[str, Thing]] = {
    "bobbin": {"thread": Thing.THREAD},
    TopThreaded.kind: {"top": Thing.THREAD},
    BobbinLoaded.kind: {"bobbin": Thing.THREAD, "case": Thing.CASE, "item": Thing.BOBBIN},
    CasePutBack.kind: {"case": Thing.CASE},
    NeedleFitted.kind: {"packet": Thing.PACKET},
    BobbinReading.kind: {"case": Thing.CASE},
    BobbinLook.kind: {"case": Thing.CASE},
    ScrewTurned.kind: {"case": Thing.CASE},
    StitchedLook.kind: {"cloth": Thing.RECORD},
    Cloth.kind: {"on_top": Thing.THREAD, "below": Thing.THREAD},
    Recipe.kind: {"on_top": Thing.THREAD, "below": Thing.THREAD, "cloth": Thing.RECORD},
    RecipeUsed.kind: {"recipe": Thing.RECORD},
    QuiltPlanned.kind: {
        "passes.top": Thing.THREAD,
        "passes.below": Thing.THREAD,
        "passes.machine": Thing.MACHINE,
    },
    PassStep.kind: {"plan": Thing.RECORD},
    ConeNoted.kind: {"thread": Thing.THREAD},
    ComparisonPlanned.kind: {"first_threads": Thing.THREAD, "second_threads": Thing.THREAD},
    IncidentCheck.kind: {"incident": Thing.RECORD},
    IncidentAnswer.kind: {"incident": Thing.RECORD},
    IncidentOutcome.kind: {"incident": Thing.RECORD},
}
#: The kinds of records that other records name.
NAMED_RECORDS = (Incident.kind, Recipe.kind, Cloth.kind, QuiltPlanned.kind)
_PARTS = {Part.CASE.value: Thing.CASE, Part.BOBBIN.value: Thing.BOBBIN}

Renamed = Callable[[Thing, Any], Any]


def _fields(kind: str, document: Mapping[str, Any]) -> Mapping[str, Thing]:
    if kind == PartMarked.kind and (thing := _PARTS.get(str(document.get("part")))):
        return {"id": thing}
    return REFERENCES.get(kind, {})


def renamed(kind: str, document: Mapping[str, Any], rename: Renamed) -> dict[str, Any]:
    """Return a document, as JSON has it, with every name of another thing put through ``rename``.

    >>> renamed("case_put_back", {"case": 3}, lambda thing, number: f"{thing} {number}")
    {'case': 'case 3'}
    """
    moved = dict(document)
    for field, thing in _fields(kind, document).items():
        listed, _, of_part = field.partition(".")
        named = moved.get(listed)
        if of_part and isinstance(named, list):
            moved[listed] = [
                {**part, of_part: rename(thing, part[of_part])} if _names(part, of_part) else part for part in named
            ]
        elif isinstance(named, list):
            moved[field] = [rename(thing, each) for each in named]
        elif named is not None:
            moved[field] = rename(thing, named)
    return moved


def _names(part: Any, field: str) -> bool:
    return isinstance(part, Mapping) and part.get(field) is not None


def named_in(kind: str, document: Mapping[str, Any]) -> Iterator[tuple[Thing, Any]]:
    """Yield every thing that a document names."""
    for field, thing in _fields(kind, document).items():
        listed, _, of_part = field.partition(".")
        named = document.get(listed)
        for each in named if isinstance(named, list) else [named]:
            if not of_part and each is not None:
                yield thing, each
            elif isinstance(each, Mapping) and each.get(of_part) is not None:
                yield thing, each[of_part]
