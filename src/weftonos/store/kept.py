"""What was read of a workshop's file, kept until something is written to it: the questions of a screen share it."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from sqlalchemy.orm import Session

from weftonos.store.database import may_write, writes_to

Made = TypeVar("Made")


class KeptUntilWritten:
    """What was made of one file, by a key, as a transaction sees the file."""

    def __init__(self) -> None:
        # Both in one, so that whoever looks sees what belongs together.
        self._held: tuple[tuple[str, int], dict[Hashable, Any]] = (("", -1), {})

    def of(self, session: Session) -> dict[Hashable, Any] | None:
        """Return what is kept as a session's transaction sees the file, to look things up and to put them in.

        ``None`` where nothing can be: it began before the last write, or while one was ending.
        """
        state = writes_to(session)
        held, made = self._held
        if state == held:
            return made
        if state is None or (state[0] == held[0] and state[1] < held[1]):
            return None
        fresh: dict[Hashable, Any] = {}
        self._held = state, fresh
        return fresh


#: What sessions that only read have read: machines, threads and cases as described, records, how a machine stands.
_SHARED = KeptUntilWritten()


class ReadOnce:
    """What a session has read, by what it is and its number.

    Sessions that only read share it. One that may write has its own: what it sees need not be there for others yet. So
    has one that still reads what was there before the last write.
    """

    def __init__(self, session: Session) -> None:
        self._session = session
        self._own: dict[Hashable, Any] = {}

    def of(self, what: Hashable) -> dict[int, Any]:
        """Return what was read of one thing, by number."""
        shared = None if may_write(self._session) else _SHARED.of(self._session)
        found: dict[int, Any] = (self._own if shared is None else shared).setdefault(what, {})
        return found

    def whole(self, what: Hashable, read: Callable[[], Made]) -> Made:
        """Return what was read of one thing as a whole; it's read where it was not yet."""
        known = self.of(what)
        if 0 not in known:
            known[0] = read()
        found: Made = known[0]
        return found

    def forget(self) -> None:
        """Read anew: this session has written."""
        self._own.clear()
