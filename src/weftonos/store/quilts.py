"""Quilts: the names that records hang on, and what was noted on each, on whatever machine."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session, aliased

from weftonos.core.log.run import ClockStarted, Run
from weftonos.core.setup.events import QuiltOn
from weftonos.store.folding import IN_FORCE
from weftonos.store.models import RecordRow
from weftonos.store.order import NEWEST_FIRST, OLDEST_FIRST, counting

#: Records of one quilt that its page is made from.
MOST_OF_ONE = 20_000
_NAMING = (QuiltOn.kind, Run.kind, ClockStarted.kind)


@dataclass(frozen=True)
class QuiltTotals:
    """A quilt with the hours stitched on it, the metres that were noted, and when it was worked on."""

    name: str
    hours: float
    metres: float
    first: datetime
    last: datetime


def on_quilt(name: str) -> ColumnElement[bool]:
    """Return the condition for the records that were made while a quilt was on."""
    naming = aliased(RecordRow)
    named = select(naming.id).where(naming.kind.in_(_NAMING), naming.detail == name, naming.struck_at.is_(None))
    return RecordRow.quilt_id.in_(named)


class Quilts:
    """The quilts of a workshop, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def all(self) -> Sequence[QuiltTotals]:
        """Return every quilt, the one that was worked on last first."""
        naming = aliased(RecordRow)
        query = (
            select(
                naming.detail,
                func.coalesce(func.sum(RecordRow.minutes), 0.0),
                func.coalesce(func.sum(func.json_extract(RecordRow.payload, "$.metres")), 0.0),
                func.min(RecordRow.at),
                func.max(RecordRow.at),
            )
            .join(naming, naming.id == RecordRow.quilt_id)
            .where(
                RecordRow.struck_at.is_(None),
                naming.detail.is_not(None),
                RecordRow.kind.in_(_NAMING),
                func.json_valid(RecordRow.payload) == 1,
            )
            .group_by(naming.detail)
            .order_by(func.max(RecordRow.at).desc())
        )
        return [
            QuiltTotals(name, minutes / 60, metres, first, last)
            for name, minutes, metres, first, last in self._session.execute(query).tuples()
        ]

    def minutes_on(self, machine_id: int, name: str) -> float:
        """Return the stitching minutes on record for a quilt on one machine."""
        query = select(func.coalesce(func.sum(RecordRow.minutes), 0.0)).where(
            *counting(machine_id, Run.kind), on_quilt(name)
        )
        return float(self._session.scalar(query) or 0)

    def records(self, name: str) -> Sequence[Any]:
        """Return what was noted on a quilt and counts, oldest first, with what was in force."""
        query = (
            select(*IN_FORCE, RecordRow.machine_id)
            .where(RecordRow.struck_at.is_(None), on_quilt(name))
            .order_by(*OLDEST_FIRST)
            .limit(MOST_OF_ONE)
        )
        return self._session.execute(query).all()

    def said(self, name: str) -> QuiltOn | None:
        """Return what was said of a quilt last: for whom it is, and the note."""
        query = (
            select(RecordRow.payload)
            .where(RecordRow.kind == QuiltOn.kind, RecordRow.detail == name, RecordRow.struck_at.is_(None))
            .order_by(*NEWEST_FIRST)
            .limit(1)
        )
        found = self._session.scalar(query)
        return found if isinstance(found, QuiltOn) else None
