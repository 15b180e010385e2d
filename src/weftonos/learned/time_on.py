"""Stitching time on what is in the machine: the needle, and since each kind of upkeep."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from weftonos.core.mend.upkeep import UpkeepKind, UpkeepState, upkeep_state
from weftonos.core.setup.setup import Setup
from weftonos.learned.at_stake import cleaning_worth
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class TimeOn:
    """Hours and quilts on the needle, how each kind of upkeep stands, and the hours since it last ran well."""

    needle_hours: float
    needle_quilts: int
    upkeep: Sequence[UpkeepState]
    since_good: float

    def hours_since(self, what: UpkeepKind) -> float | None:
        """Return the hours since one kind of upkeep; ``None`` where it is not on record."""
        return next(state.hours for state in self.upkeep if state.what is what)


def time_on(workshop: Workshop, machine_id: int, setup: Setup) -> TimeOn:
    """Return the stitching time on a machine's parts, in one question."""
    present = workshop.present(machine_id)
    moments = list(present.upkeep.values())
    if fitted := present.in_force.fitted if setup.needle else None:
        moments.append(fitted)
    if present.good:
        moments.append(present.good)
    found = list(workshop.runs.stitched_since(machine_id, moments, setup.quilt))
    since_good = found.pop()[0] if present.good else 0.0
    hours, quilts = found.pop() if fitted else (0.0, 0)
    if setup.needle and setup.needle.slot and (used := workshop.runs.needles(machine_id).present):
        # It brought its hours and quilts with it.
        hours, quilts = used.hours, len(used.quilts | ({setup.quilt} - {""}))
    by_kind = dict(zip(present.upkeep, (each for each, _ in found), strict=True))
    threads = [tag.thread for tag in (*setup.top, *([setup.bobbin] if setup.bobbin else []))]
    worth = cleaning_worth(workshop, machine_id, setup.quilt)
    return TimeOn(
        needle_hours=hours,
        needle_quilts=quilts,
        upkeep=[upkeep_state(kind, by_kind.get(kind), threads, worth) for kind in UpkeepKind],
        since_good=since_good,
    )
