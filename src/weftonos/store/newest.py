"""Queries for the newest records of a machine, built once each, since building takes longer than asking."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import cache
from typing import Any

from sqlalchemy import BindParameter, Select, and_, bindparam, func, literal, not_, select, union_all

from weftonos.store.document import Moment
from weftonos.store.models import RecordRow

_LONG_AGO = datetime(1, 1, 2, tzinfo=UTC)


@cache
def begin_of(fields: tuple[str, ...]) -> Select[RecordRow]:
    """Return the query for the first of the unbroken run of records that say the same in these fields."""
    about = (
        RecordRow.machine_id == _bound("machine"),
        RecordRow.kind == _bound("kind"),
        RecordRow.struck_at.is_(None),
    )
    at, id_ = bindparam("at", type_=Moment), _bound("id")
    same = [func.json_extract(RecordRow.payload, f"$.{field}") == _bound(field) for field in fields]
    before = (
        select(RecordRow.at)
        .where(*about, (RecordRow.at < at) | ((RecordRow.at == at) & (RecordRow.id < id_)), not_(and_(*same)))
        .order_by(RecordRow.at.desc(), RecordRow.id.desc())
        .limit(1)
        .scalar_subquery()
    )
    # One bound on the time, so that the index is followed from there and the first row found is the answer.
    since = func.coalesce(before, literal(_LONG_AGO, Moment))
    return select(RecordRow).where(*about, RecordRow.at >= since, *same).order_by(RecordRow.at, RecordRow.id).limit(1)


def _bound(name: str) -> BindParameter[Any]:
    return bindparam(name)


@cache
def newest_of(kinds: tuple[str, ...], up_to: bool) -> Select[RecordRow]:
    """Return the query for the newest record of each kind, up to a record or of all."""
    machine, at, id_ = _bound("machine"), bindparam("at", type_=Moment), _bound("id")
    wanted = []
    for kind in kinds:
        query = (
            select(RecordRow.id)
            .where(RecordRow.machine_id == machine, RecordRow.kind == kind, RecordRow.struck_at.is_(None))
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(1)
        )
        if up_to:
            query = query.where((RecordRow.at < at) | ((RecordRow.at == at) & (RecordRow.id <= id_)))
        wanted.append(select(query.subquery().c.id))
    return select(RecordRow).where(RecordRow.id.in_(union_all(*wanted)))
