"""What was noted after test lines were judged, though it may have been in all along: asked, and moved before them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import takewhile

from sqlalchemy import select

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.events import (
    BobbinLoaded,
    NeedleFitted,
    NeedleRetired,
    SandwichLaid,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.setup.fold import Event
from weftonos.store.models import RecordRow
from weftonos.store.order import NEWEST_FIRST, counting, earlier_than
from weftonos.store.workshop import Workshop

#: So long before something is noted lines may have been stitched with it.
LATE_FOR = estimate(120, "min")
#: And so many lines are looked at: a whole cloth.
MOST_LINES = 60
#: What may be noted late, as it is asked about.
_ASKS = {
    NeedleFitted: ("The needle", "Was it in"),
    TopThreaded: ("The top thread", "Was it on"),
    BobbinLoaded: ("The bobbin", "Was it in"),
    SandwichLaid: ("The sandwich", "Was it under the needle"),
}
#: Moved before the first line, each on its own moment.
_APART = timedelta(seconds=1)


@dataclass(frozen=True, kw_only=True)
class LateNoted:
    """A record that stands after test lines it may belong before: its number, how many lines, and the question."""

    record: int
    lines: int
    asks: str


def late_noted(workshop: Workshop, machine_id: int) -> LateNoted | None:
    """Return what began the combination that is on, if lines were judged shortly before and none since."""
    force = workshop.present(machine_id).in_force
    if force.change is None or force.look is not None or type(force.change.payload) not in _ASKS:
        return None
    lines = _lines_before(workshop, machine_id, force.change)
    if not lines:
        return None
    what, was_it = _ASKS[type(force.change.payload)]
    told = so_many(len(lines), "test line")
    them = "it" if len(lines) == 1 else "them"
    asks = f"{what} was noted after {told}. {was_it} when you stitched {them}?"
    return LateNoted(record=force.change.id, lines=len(lines), asks=asks)


def was_in(workshop: Workshop, machine_id: int, record_id: int, now: datetime) -> RecordRow:
    """Move a record before the test lines it was noted after; a needle that came out meanwhile goes before it."""
    row = workshop.record(record_id)
    if row.machine_id != machine_id or row.struck_at is not None or type(row.payload) not in _ASKS:
        raise CraftError("That was never put on this machine.", "record")
    lines = _lines_before(workshop, machine_id, row)
    if not lines:
        raise CraftError("No test lines stand before it anymore. Nothing was moved.", "record")
    first = min([*(line.at for line in lines), *_begun(workshop, lines, row.at)])
    if isinstance(row.payload, NeedleFitted):
        out = select(RecordRow).where(
            *counting(machine_id, NeedleRetired.kind), RecordRow.at >= first, earlier_than(row)
        )
        for retired in workshop.session.scalars(out):
            workshop.correct(retired.id, retired.payload, first - 2 * _APART, now)
    return workshop.correct(row.id, row.payload, first - _APART, now)


def _begun(workshop: Workshop, lines: Sequence[RecordRow], at: datetime) -> Sequence[datetime]:
    """Return when the cloths of these lines were begun: what was in all along was in when its cloth was laid out."""
    cloths = {line.cloth_id for line in lines if line.cloth_id is not None}
    query = select(RecordRow.at).where(RecordRow.id.in_(cloths), RecordRow.at > at - timedelta(minutes=LATE_FOR.value))
    return workshop.session.scalars(query).all() if cloths else ()


def _lines_before(workshop: Workshop, machine_id: int, place: Event | RecordRow) -> Sequence[RecordRow]:
    """Return the test lines of the combination before a record, if they were judged shortly before it."""
    query = (
        select(RecordRow)
        .where(
            *counting(machine_id, StitchedLook.kind),
            earlier_than(place),
            RecordRow.at > place.at - timedelta(minutes=LATE_FOR.value),
        )
        .order_by(*NEWEST_FIRST)
        .limit(MOST_LINES)
    )
    lines = workshop.session.scalars(query).all()

    def on(line: RecordRow) -> tuple[int | None, ...]:
        return line.top_id, line.loaded_id, line.fitted_id, line.sandwich_id

    return list(takewhile(lambda line: on(line) == on(lines[0]), lines))
