"""A write carries a key of its own, and its repeat is the same write: the key is saved with what was written."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy import delete
from sqlalchemy.orm import Session

from weftonos.store.models import WriteKeyRow

#: So long a repeat is known as one. Nobody sends the same tap again after that.
KEPT_FOR = timedelta(days=14)


class AlreadyWrittenError(Exception):
    """A write with this key was made before; nothing is written again."""


def claim(session: Session, key: str, now: datetime) -> None:
    """Keep a key in the transaction of its write; raises :class:`AlreadyWrittenError` for one that is kept already."""
    if session.get(WriteKeyRow, key) is not None:
        raise AlreadyWrittenError
    session.execute(delete(WriteKeyRow).where(WriteKeyRow.at < now - KEPT_FOR))
    session.add(WriteKeyRow(key=key, at=now))
    session.flush()
