"""The descriptions of things by their numbers, read once."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Generic, TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.store.kept import ReadOnce
from weftonos.store.models import CaseRow, ThreadRow

#: The largest number that a row of SQLite can have.
LARGEST_ID = 2**63 - 1
T = TypeVar("T")


class Specs(Generic[T]):
    """What is described in one table, by number; each is asked for once until :meth:`forget`."""

    def __init__(self, session: Session, table: type[CaseRow] | type[ThreadRow], shape: type[T]) -> None:
        self._session = session
        self._table = table
        self._shape = shape
        self._read = ReadOnce(session)

    def __call__(self, numbers: Iterable[int]) -> dict[int, T]:
        """Return things by their numbers, struck out or not; what is unknown or can't be read is left out."""
        # No row has another number, and SQLite takes none that is larger.
        wanted = {number for number in numbers if 0 < number <= LARGEST_ID}
        known: dict[int, T | None] = self._read.of(self._table)
        if unknown := {number for number in wanted if number not in known}:
            query = select(self._table.id, self._table.spec).where(self._table.id.in_(unknown))
            found = {id_: spec for id_, spec in self._session.execute(query) if isinstance(spec, self._shape)}
            known |= {number: found.get(number) for number in unknown}
        return {number: spec for number in wanted if (spec := known[number]) is not None}

    def forget(self) -> None:
        """Read anew: something was described anew."""
        self._read.forget()
