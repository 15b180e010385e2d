"""Test cloths as they are on record: which one is on the machine, its lines, and what it was stitched with."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import func, select

from weftonos.core.balance.cloth import LARGEST_NUMBER, Cloth, ClothLine
from weftonos.core.kernel.errors import CraftError
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.setup import Setup
from weftonos.store.folding import numbers_of
from weftonos.store.models import RecordRow
from weftonos.store.order import NEWEST_FIRST, counting
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class LineOnCloth:
    """A line of a cloth, and the record that it is; none for a line that the cloth carries itself."""

    line: ClothLine
    record: int | None


def cloth_row(workshop: Workshop, cloth_id: int) -> tuple[RecordRow, Cloth]:
    """Return a cloth's record; raises :class:`CraftError` for another kind of record."""
    row = workshop.record(cloth_id)
    if not isinstance(row.payload, Cloth):
        raise CraftError("That record isn't a test cloth.", "cloth")
    return row, row.payload


def cloth_on(workshop: Workshop, machine_id: int) -> RecordRow | None:
    """Return the cloth that is being stitched: the last one begun since threads, needle or sandwich changed."""
    change = workshop.present(machine_id).in_force.change
    query = select(RecordRow).where(*counting(machine_id, Cloth.kind)).order_by(*NEWEST_FIRST)
    query = query.where(RecordRow.change_id.is_not_distinct_from(change.id if change else None))
    rows = workshop.session.scalars(query.limit(10)).all()
    return next((row for row in rows if isinstance(row.payload, Cloth) and not row.payload.noted_elsewhere), None)


def numbers_on(workshop: Workshop, rows: Sequence[RecordRow]) -> Mapping[int, int]:
    """Return the numbers on the cloths that records belong to, by the cloth's record.

    Asked before their set-ups, it reads what those need in the same query.
    """
    wanted = {row.cloth_id for row in rows if row.cloth_id is not None}
    under = [number for row in rows for number in numbers_of(row).values()]
    events = workshop.events([*wanted, *under]) if wanted else {}
    return {id_: event.payload.number for id_, event in events.items() if isinstance(event.payload, Cloth)}


def next_number(workshop: Workshop) -> int:
    """Return the number after the largest that any cloth has, deleted ones too: none is written twice."""
    # A number is as long as the largest at most: what is longer is larger, and of one length the text decides.
    query = (
        select(RecordRow.detail)
        .where(RecordRow.kind == Cloth.kind, RecordRow.detail.is_not(None))
        .order_by(func.length(RecordRow.detail).desc(), RecordRow.detail.desc())
        .limit(1)
    )
    largest = workshop.session.scalar(query)
    return min(LARGEST_NUMBER, int(largest) + 1) if largest else 1


def lines_on(workshop: Workshop, rows: Sequence[RecordRow]) -> Mapping[int, Sequence[LineOnCloth]]:
    """Return the lines of cloths, by the cloth's record, in the order in which they were noted."""
    found: dict[int, list[LineOnCloth]] = defaultdict(list)
    for row in rows:
        if isinstance(row.payload, Cloth):
            found[row.id] += [LineOnCloth(line=line, record=None) for line in row.payload.lines]
    for look in look_rows(workshop, [row.id for row in rows]):
        if isinstance(stitched := look.payload, StitchedLook):
            line = ClothLine(
                setting=stitched.setting, grade=stitched.grade, motion=stitched.motion, doubtful=stitched.doubtful
            )
            found[look.cloth_id or 0].append(LineOnCloth(line=line, record=look.id))
    return found


def look_rows(workshop: Workshop, cloth_ids: Sequence[int]) -> Sequence[RecordRow]:
    """Return the test lines that name cloths, oldest first; those that were deleted are left out."""
    query = (
        select(RecordRow)
        .where(RecordRow.cloth_id.in_(cloth_ids), RecordRow.kind == StitchedLook.kind, RecordRow.struck_at.is_(None))
        .order_by(RecordRow.at, RecordRow.id)
    )
    return workshop.session.scalars(query).all()


def setups_on(workshop: Workshop, rows: Sequence[RecordRow]) -> Mapping[int, Setup]:
    """Return what cloths were stitched with: as it stood at their last line, or when they were begun."""
    last = {row.id: row for row in rows}
    for look in look_rows(workshop, [row.id for row in rows]):
        if look.cloth_id in last:
            last[look.cloth_id] = look
    setups = workshop.setups_at({row.id: row for row in last.values()}.values())
    return {cloth_id: setups[row.id] for cloth_id, row in last.items()}
