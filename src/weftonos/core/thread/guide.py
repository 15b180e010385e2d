"""How many holes of a longarm's guide a thread goes through."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from weftonos.core.thread.nature import together
from weftonos.core.thread.thread import Bundle

#: The holes of a longarm's guide.
FULL_HOLES = 3


class _Tried(Protocol):
    @property
    def holes(self) -> int | None: ...


def holes_tried(top: Sequence[_Tried]) -> int | None:
    """Return the guide holes that were found to do for what is on top; kept with one thread alone, never a bundle."""
    return top[0].holes if len(top) == 1 else None


def holes_to_use(top: Bundle, tried: int | None = None) -> int:
    """Return how many holes of a three-hole guide this thread or bundle takes.

    ``tried`` is what its owner has found to do; else the page of threads says it: all three for ordinary thread,
    about one for clear thread and silk, two for a bundle, the top one for flat film.
    """
    return tried or together(top.threads).holes
