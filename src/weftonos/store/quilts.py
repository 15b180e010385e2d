"""Quilts: the names that records hang on, and what was noted on each, on whatever machine."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, and_, func, literal, not_, select, tuple_, union_all
from sqlalchemy.orm import Session, aliased

from weftonos.core.balance.recipe import Recipe
from weftonos.core.log.quilt_spans import Named, Span, quilt_spans
from weftonos.core.log.run import ClockStarted, Run
from weftonos.core.mend.incident import Incident, IncidentAnswer, IncidentCheck, IncidentOutcome
from weftonos.core.setup.events import QuiltOn
from weftonos.core.setup.fold import Place
from weftonos.store.folding import IN_FORCE
from weftonos.store.models import RecordRow
from weftonos.store.order import NEWEST_FIRST, OLDEST_FIRST, counting

#: Records of one quilt that its page is made from.
MOST_OF_ONE = 20_000
#: The kinds of records that say which quilt is on.
NAMING = (QuiltOn.kind, Run.kind, ClockStarted.kind)
#: Troubles belong to the quilt on which they were met.
_OF_TROUBLE = (Incident.kind, IncidentCheck.kind, IncidentAnswer.kind, IncidentOutcome.kind)
#: Times that one quilt was taken up again, at most: SQLite takes so many conditions at once.
MOST_SPANS = 300


@dataclass(frozen=True)
class QuiltTotals:
    """A quilt with the hours stitched on it, the meters that were noted, and when it was worked on."""

    name: str
    hours: float
    meters: float
    first: datetime
    last: datetime


def stitched_on(name: str) -> ColumnElement[bool]:
    """Return the condition for the records that were made while a quilt was on: of stitching and its troubles."""
    naming = aliased(RecordRow)
    named = select(naming.id).where(naming.kind.in_(NAMING), naming.quilt == name, naming.struck_at.is_(None))
    return RecordRow.quilt_id.in_(named)


def on_quilt(session: Session, name: str) -> ColumnElement[bool]:
    """Return the condition for the records that belong to a quilt: what was stitched and went wrong on it, what was set
    up and tested for it, and the recipes that are saved under its name.
    """
    recipe, named = RecordRow.kind == Recipe.kind, RecordRow.quilt
    quilts = select(RecordRow.quilt).where(RecordRow.kind.in_(NAMING), RecordRow.struck_at.is_(None))
    while_on = (*NAMING, *_OF_TROUBLE)
    # Each part by an index of its own: one condition for all would look through the whole log.
    parts = [
        select(RecordRow.id).where(stitched_on(name), RecordRow.kind.in_(while_on)),
        select(RecordRow.id).where(recipe, named == name),
    ]
    spans = [
        select(RecordRow.id).where(
            RecordRow.machine_id == machine_id,
            *([tuple_(RecordRow.at, RecordRow.id) > tuple_(*_literal(span.after))] if span.after else []),
            *([tuple_(RecordRow.at, RecordRow.id) <= tuple_(*_literal(span.until))] if span.until else []),
            RecordRow.kind.not_in(while_on),
            not_(and_(recipe, named != name, named.in_(quilts))),
        )
        for machine_id, spans in _spans(session).items()
        for span in spans
        if span.quilt == name
    ]
    return RecordRow.id.in_(union_all(*parts, *spans[-MOST_SPANS:]))


def _literal(place: Place) -> tuple[ColumnElement[datetime], ColumnElement[int]]:
    return literal(place[0], RecordRow.at.type), literal(place[1])


def _spans(session: Session) -> dict[int, list[Span]]:
    query = (
        select(RecordRow.machine_id, RecordRow.at, RecordRow.id, RecordRow.kind, RecordRow.quilt)
        .where(RecordRow.kind.in_(NAMING), RecordRow.struck_at.is_(None))
        .order_by(RecordRow.machine_id, *OLDEST_FIRST)
    )
    named: dict[int, list[Named]] = {}
    for machine_id, at, number, kind, quilt in session.execute(query).tuples():
        named.setdefault(machine_id, []).append(Named((at, number), quilt or "", kind != QuiltOn.kind))
    return {machine_id: quilt_spans(of_machine) for machine_id, of_machine in named.items()}


class Quilts:
    """The quilts of a workshop, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def all(self) -> Sequence[QuiltTotals]:
        """Return every quilt, the one that was worked on last first."""
        naming = aliased(RecordRow)
        query = (
            select(
                naming.quilt,
                func.coalesce(func.sum(RecordRow.minutes), 0.0),
                func.coalesce(func.sum(RecordRow.length_m), 0.0),
                func.min(RecordRow.at),
                func.max(RecordRow.at),
            )
            .join(naming, naming.id == RecordRow.quilt_id)
            .where(
                RecordRow.struck_at.is_(None),
                naming.quilt.is_not(None),
                RecordRow.kind.in_(NAMING),
                RecordRow.unreadable.is_(False),
            )
            .group_by(naming.quilt)
            .order_by(func.max(RecordRow.at).desc())
        )
        return [
            QuiltTotals(name or "", (minutes or 0) / 60, meters or 0, first, last)
            for name, minutes, meters, first, last in self._session.execute(query).tuples()
        ]

    def minutes_on(self, machine_id: int, name: str) -> float:
        """Return the stitching minutes on record for a quilt on one machine."""
        query = select(func.coalesce(func.sum(RecordRow.minutes), 0.0)).where(
            *counting(machine_id, Run.kind), stitched_on(name)
        )
        return float(self._session.scalar(query) or 0)

    def records(self, name: str) -> Sequence[Any]:
        """Return what was noted on a quilt and counts, oldest first, with what was in force."""
        query = (
            select(*IN_FORCE, RecordRow.machine_id)
            .where(RecordRow.struck_at.is_(None), on_quilt(self._session, name))
            .order_by(*OLDEST_FIRST)
            .limit(MOST_OF_ONE)
        )
        return self._session.execute(query).all()

    def said(self, name: str) -> QuiltOn | None:
        """Return what was said of a quilt last: for whom it is, and the note."""
        query = (
            select(RecordRow.payload)
            .where(RecordRow.kind == QuiltOn.kind, RecordRow.quilt == name, RecordRow.struck_at.is_(None))
            .order_by(*NEWEST_FIRST)
            .limit(1)
        )
        found = self._session.scalar(query)
        return found if isinstance(found, QuiltOn) else None
