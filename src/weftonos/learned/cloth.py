"""Test cloths as they are on record: which one is on the machine, its lines, and what it was stitched with."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

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
class LineOnCloth(ClothLine):
    """A line of a cloth, and the record that it is; none for a line that the cloth carries itself."""

    record: int | None = None


@dataclass(frozen=True, kw_only=True)
class OnCloth:
    """What is on a cloth: its lines in the order in which they were noted, and what it was stitched with.

    ``looks`` are the test lines that name it, oldest first. The set-up is that of the last of them, and ``at`` its
    moment; of a cloth without one, those of when it was begun.
    """

    lines: Sequence[LineOnCloth]
    looks: Sequence[RecordRow]
    setup: Setup
    at: datetime


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


def on_cloths(workshop: Workshop, rows: Sequence[RecordRow]) -> Mapping[int, OnCloth]:
    """Return what is on cloths, by the cloth's record; lines that were deleted are left out."""
    query = (
        select(RecordRow)
        .where(
            RecordRow.cloth_id.in_([row.id for row in rows]),
            RecordRow.kind == StitchedLook.kind,
            RecordRow.struck_at.is_(None),
        )
        .order_by(RecordRow.at, RecordRow.id)
    )
    looks: dict[int | None, list[RecordRow]] = defaultdict(list)
    for look in workshop.session.scalars(query):
        looks[look.cloth_id].append(look)
    last = {row.id: looks[row.id][-1] if looks[row.id] else row for row in rows}
    setups = workshop.setups_at({row.id: row for row in last.values()}.values())
    return {
        row.id: OnCloth(
            lines=[*_carried(row), *_stitched(looks[row.id])],
            looks=looks[row.id],
            setup=setups[last[row.id].id],
            at=last[row.id].at,
        )
        for row in rows
    }


def on_cloth(workshop: Workshop, row: RecordRow) -> OnCloth:
    """Return what is on one cloth."""
    return on_cloths(workshop, [row])[row.id]


def _carried(row: RecordRow) -> Iterator[LineOnCloth]:
    for line in row.payload.lines if isinstance(row.payload, Cloth) else ():
        yield LineOnCloth(setting=line.setting, grade=line.grade, motion=line.motion, doubtful=line.doubtful)


def _stitched(looks: Sequence[RecordRow]) -> Iterator[LineOnCloth]:
    for row in looks:
        if isinstance(look := row.payload, StitchedLook):
            yield LineOnCloth(
                setting=look.setting, grade=look.grade, motion=look.motion, doubtful=look.doubtful, record=row.id
            )
