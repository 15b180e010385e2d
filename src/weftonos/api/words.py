"""The trade's words for the interface's choices, and where the numbers come from."""

from __future__ import annotations

from collections.abc import Sequence

from fastapi import APIRouter

from weftonos.api.context import AnyId, WorkshopNow
from weftonos.api.strict import StrictRoute
from weftonos.core.figures import FigureSubject
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.procedures import Procedures
from weftonos.core.kernel.schools import Question, questions
from weftonos.knowledge import procedures
from weftonos.stations import words as station
from weftonos.stations.figures import NamedFigure, named_figures

router = APIRouter(prefix="/api/words", tags=["words"], route_class=StrictRoute)


@router.get("/figures")
def figures(subject: FigureSubject, workshop: WorkshopNow, machine: AnyId = None) -> Sequence[NamedFigure]:
    """Return the figures a subject's answers rest on, with their standing and what a person calls them.

    With ``machine`` nothing is named that can't be on that machine.
    """
    has = frozenset(Feature) if machine is None else workshop.machine(machine).spec.features
    return named_figures(subject, has)


@router.get("/schools")
def schools() -> Sequence[Question]:
    """Return what practitioners disagree on: each side with its reason, and what each head takes by default."""
    return list(questions().values())


@router.get("/procedures")
def how_to(workshop: WorkshopNow, machine: AnyId = None) -> Procedures:
    """Return small procedures as walks, stitch lengths by purpose, help for each station, and the words explained.

    With ``machine`` only what can be there on that machine.
    """
    return procedures() if machine is None else procedures().at(workshop.machine(machine).spec.features)


@router.get("")
def words() -> station.Words:
    """Return the choices and their names."""
    return station.words()
