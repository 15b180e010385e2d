"""The order of the log and what of it counts, said once for every query."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import ColumnElement, ScalarSelect, func

from weftonos.core.setup.fold import Event
from weftonos.store.models import RecordRow

#: Records by time, and by number within one moment.
OLDEST_FIRST = (RecordRow.at, RecordRow.id)
NEWEST_FIRST = (RecordRow.at.desc(), RecordRow.id.desc())


def counting(machine_id: int, kind: str | None = None) -> tuple[ColumnElement[bool], ...]:
    """Return the conditions for the records of a machine that are not struck out, of one kind or of all."""
    mine = (RecordRow.machine_id == machine_id, RecordRow.struck_at.is_(None))
    return mine if kind is None else (*mine, RecordRow.kind == kind)


def later_than(place: Event | RecordRow) -> ColumnElement[bool]:
    """Return the condition for the records after one."""
    return (RecordRow.at > place.at) | ((RecordRow.at == place.at) & (RecordRow.id > place.id))


def earlier_than(place: Event | RecordRow) -> ColumnElement[bool]:
    """Return the condition for the records before one."""
    return (RecordRow.at < place.at) | ((RecordRow.at == place.at) & (RecordRow.id < place.id))


def up_to(place: Event | RecordRow) -> ColumnElement[bool]:
    """Return the condition for a record and those before it."""
    return (RecordRow.at < place.at) | ((RecordRow.at == place.at) & (RecordRow.id <= place.id))


def since_then(first: ScalarSelect[Any]) -> ColumnElement[bool]:
    """Return the condition for the records since a moment that is looked up, or for all of them where there is none.

    Said in one comparison, it is found by the index, however many records lie before.
    """
    return RecordRow.at >= func.coalesce(first, datetime.min.replace(tzinfo=UTC))
