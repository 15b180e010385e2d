"""Documents of the workshop's file that can't be read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.core.log.logbook import Unreadable
from weftonos.store.models import BobbinRow, CaseRow, MachineRow, PacketRow, RecordRow, ThreadRow


@dataclass(frozen=True)
class UnreadableRow:
    """A document that can't be read: in which list, its number there, and what stands in it."""

    table: str
    id: int
    document: Unreadable


def unreadable_rows(session: Session) -> Sequence[UnreadableRow]:
    """Return every document that can't be read, as it was written."""
    found = []
    columns: Sequence[tuple[Any, Any]] = (
        (MachineRow, MachineRow.spec),
        (ThreadRow, ThreadRow.spec),
        (PacketRow, PacketRow.spec),
        (CaseRow, CaseRow.spec),
        (BobbinRow, BobbinRow.spec),
        (RecordRow, RecordRow.payload),
    )
    for table, column in columns:
        query = select(table.id, column).order_by(table.id)
        if table is RecordRow:
            query = query.where(RecordRow.unreadable)
        for id_, document in session.execute(query):
            if isinstance(document, Unreadable):
                found.append(UnreadableRow(table.__tablename__, id_, document))
    return found
