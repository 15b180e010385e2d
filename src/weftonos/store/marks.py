"""When the mark of a machine's knob was set anew."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.setup.events import MarkSet


@dataclass(frozen=True)
class Marks:
    """When a knob's mark was set anew, and by how many turns it moved each time."""

    moved: Sequence[tuple[datetime, float]]

    def moved_since(self, at: datetime) -> float:
        """Return by how much the mark moved since a moment: that much less is a setting of then on today's mark."""
        return sum(by for when, by in self.moved if when > at)


NEVER_MOVED = Marks(())


def marks_by_machine(said: Iterable[tuple[int, datetime, object]]) -> Mapping[int, Marks]:
    """Return the marks of each machine, from what its records say, with machine and time."""
    moved: dict[int, list[tuple[datetime, float]]] = {}
    for machine, at, payload in said:
        if isinstance(payload, MarkSet):
            moved.setdefault(machine, []).append((at, payload.at))
    return {machine: Marks(each) for machine, each in moved.items()}
