"""Answers that take the whole log, kept until something is written."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TypeVar

from weftonos.core.kernel.spoken import said_as
from weftonos.store.database import may_write
from weftonos.store.kept import KeptUntilWritten
from weftonos.store.workshop import Workshop

Made = TypeVar("Made")


class AnswerCache:
    """What the whole log of one workshop says, by a key, read anew only after a write.

    It answers as the log stood when a transaction began: whoever writes asks before.
    """

    def __init__(self) -> None:
        self._kept = KeptUntilWritten()
        self._one = threading.RLock()

    def remember(self, workshop: Workshop, key: object, make: Callable[[], Made]) -> Made:
        """Return what was made under a key while nothing was written, else make it: for each way to say it."""
        key = (key, said_as())
        with self._one:
            kept = self._kept.of(workshop.session)
            if kept is not None and key in kept:
                found: Made = kept[key]
                return found
            made = make()
            # What a transaction sees that may write need not be there for others yet.
            if kept is not None and not may_write(workshop.session):
                kept[key] = made
            return made


#: What stations ask at every look and only a write changes.
_OF_ONE = AnswerCache()


def remembered(workshop: Workshop, key: object, make: Callable[[], Made]) -> Made:
    """Return what this process made under a key since the last write, else make it; nobody changes it afterwards."""
    return _OF_ONE.remember(workshop, key, make)
