"""The drawer: threads and packets of needles, searched, added, struck out and restored."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from typing import Any, TypeVar

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.setup.events import TopThreaded
from weftonos.core.thread.drawer import DrawerThread, is_light
from weftonos.core.thread.thread import CONSTRUCTION_NAMES, FIBER_NAMES, Fiber
from weftonos.store.models import PacketRow, RecordRow, ThreadRow
from weftonos.store.order import NEWEST_FIRST, counting
from weftonos.store.paging import Page, beyond, cursor
from weftonos.store.specs import LARGEST_ID as LARGEST_ID
from weftonos.store.specs import Specs
from weftonos.store.versions import require_version

R = TypeVar("R")
#: So many changes of the top thread are looked through for those used last.
TOPS_REMEMBERED = 40


class NotFoundError(LookupError):
    """There is no such machine, thread or record."""


def row_of(session: Session, table: type[R], number: int) -> R | None:
    """Return a row by its number; ``None`` where there is none, also for numbers that no row can have."""
    return session.get(table, number) if 0 < number <= LARGEST_ID else None


class DrawerOrder(StrEnum):
    """What the drawer is sorted by."""

    NAME = "name"
    WEIGHT = "weight"
    THICKNESS = "thickness"
    FIBER = "fiber"


@dataclass(frozen=True, kw_only=True)
class DrawerSearch:
    """What of the drawer to show: words that must all be there, filters, order, and the page (after a cursor)."""

    text: str = ""
    fiber: Fiber | None = None
    light: bool | None = None
    struck: bool = False
    order: DrawerOrder = DrawerOrder.NAME
    after: str | None = None
    limit: int = 60


class Drawer:
    """Threads and needles that are owned, through one database session; the caller commits."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.specs = Specs(session, ThreadRow, DrawerThread)

    # Threads

    def threads(self, search: DrawerSearch | None = None) -> tuple[Page[ThreadRow], int]:
        """Return a page of the drawer's threads that meet a search, and how many meet it in all."""
        search = search or DrawerSearch()
        wanted: list[ColumnElement[bool]] = []
        if not search.struck:
            wanted.append(ThreadRow.struck_at.is_(None))
        if search.fiber is not None:
            wanted.append(ThreadRow.fiber == search.fiber.value)
        if search.light is not None:
            wanted.append(ThreadRow.light == search.light)
        wanted += [ThreadRow.words.contains(word, autoescape=True) for word in search.text.lower().split()]
        name = func.lower(ThreadRow.name)
        by: Any = {
            DrawerOrder.NAME: name,
            DrawerOrder.WEIGHT: ThreadRow.tex,
            DrawerOrder.THICKNESS: ThreadRow.diameter_mm,
            DrawerOrder.FIBER: ThreadRow.fiber,
        }[search.order]
        order = (by, name, ThreadRow.id)
        query = select(ThreadRow, by, name).where(*wanted).order_by(*order).limit(search.limit + 1)
        if search.after:
            query = query.where(beyond(order, search.after))
        found = self._session.execute(query).tuples().all()
        total = self._session.scalar(select(func.count()).select_from(ThreadRow).where(*wanted)) or 0
        shown = found[: search.limit]
        more = cursor((shown[-1][1], shown[-1][2], shown[-1][0].id)) if len(found) > search.limit else None
        # One that can't be read is left out here and shown with all that cannot.
        return Page([row for row, _, _ in shown if isinstance(row.spec, DrawerThread)], more), total

    def on_top_before(self, machine_id: int, but: tuple[int, ...]) -> Sequence[tuple[int, ...]]:
        """Return what was last on top of a machine, newest first, each once and without ``but``."""
        query = (
            select(RecordRow.payload)
            .where(*counting(machine_id, TopThreaded.kind))
            .order_by(*NEWEST_FIRST)
            .limit(TOPS_REMEMBERED)
        )
        on_top = [payload.top for payload in self._session.scalars(query) if isinstance(payload, TopThreaded)]
        return list(dict.fromkeys(top for top in on_top if set(top) != set(but)))

    def still_here(self, numbers: Iterable[int]) -> Mapping[int, DrawerThread]:
        """Return those of some threads that are in the drawer, by their ids."""
        return dict(self._here(ThreadRow.id.in_(set(numbers))))

    def all_threads(self) -> Sequence[tuple[int, DrawerThread]]:
        """Return every thread that is not struck out, with its id."""
        return self._here()

    def _here(self, *wanted: ColumnElement[bool]) -> Sequence[tuple[int, DrawerThread]]:
        query = select(ThreadRow.id, ThreadRow.spec).where(ThreadRow.struck_at.is_(None), *wanted)
        return [(row.id, row.spec) for row in self._session.execute(query) if isinstance(row.spec, DrawerThread)]

    def struck_threads(self, numbers: Iterable[int]) -> set[int]:
        """Return which of these threads are no longer in the drawer."""
        query = select(ThreadRow.id).where(ThreadRow.id.in_(set(numbers)), ThreadRow.struck_at.is_not(None))
        return set(self._session.scalars(query))

    def thread(self, thread_id: int) -> ThreadRow:
        """Return one thread, struck out or not; raises :class:`NotFoundError`."""
        row = self._session.get(ThreadRow, thread_id)
        if row is None:
            raise NotFoundError("There is no such thread in the drawer.")
        return row

    def usable_thread(self, thread_id: int, field: str) -> DrawerThread:
        """Return a thread that may go on a machine; raises :class:`CraftError` for one that is gone."""
        row = row_of(self._session, ThreadRow, thread_id)
        if row is None:
            raise CraftError("That thread is not in the drawer. Choose another.", field)
        if row.struck_at is not None:
            raise CraftError(f"{row.name} was deleted from the drawer. Restore it or choose another.", field)
        if not isinstance(row.spec, DrawerThread):
            raise CraftError(f"What is written about {row.name} can't be read. Choose another.", field)
        return row.spec

    def add_thread(self, spec: DrawerThread) -> ThreadRow:
        """Put a thread in the drawer."""
        row = ThreadRow()
        _describe_thread(row, spec)
        self._session.add(row)
        self._session.flush()
        return row

    def change_thread(self, thread_id: int, spec: DrawerThread, seen: int | None = None) -> ThreadRow:
        """Correct a thread; every record that names it reads so from now on. ``seen`` is the version corrected."""
        row = self.thread(thread_id)
        require_version(row, seen, row.name, row.spec)
        _describe_thread(row, spec)
        self._session.flush()
        self.specs.forget()
        return row

    def strike_thread(self, thread_id: int, at: datetime | None) -> ThreadRow:
        """Strike a thread out of the drawer, or restore it with ``at=None``."""
        row = self.thread(thread_id)
        row.struck_at = at
        self._session.flush()
        return row

    # Needles in the drawer

    def packets(self) -> Sequence[tuple[PacketRow, int]]:
        """Return the packets that are not struck out, each with how many needles are left in it."""
        rows = self._session.scalars(select(PacketRow).where(PacketRow.struck_at.is_(None))).all()
        counted = self._session.execute(
            select(RecordRow.packet_id, func.count())
            .where(RecordRow.packet_id.is_not(None), RecordRow.struck_at.is_(None))
            .group_by(RecordRow.packet_id)
        )
        used: dict[int | None, int] = dict(counted.tuples().all())
        # More may have been taken out than were said to be bought: none is left then.
        left = [
            (row, max(0, row.spec.bought - used.get(row.id, 0))) for row in rows if isinstance(row.spec, NeedlePacket)
        ]
        return sorted(left, key=lambda pair: (pair[0].spec.size, pair[0].spec.point, pair[0].id))

    def packet(self, packet_id: int) -> PacketRow:
        """Return one packet; raises :class:`NotFoundError`."""
        row = row_of(self._session, PacketRow, packet_id)
        if row is None:
            raise NotFoundError("There is no such packet of needles.")
        return row

    def add_packet(self, spec: NeedlePacket) -> PacketRow:
        """Put a packet of needles in the drawer."""
        row = PacketRow(spec=spec)
        self._session.add(row)
        self._session.flush()
        return row

    def strike_packet(self, packet_id: int, at: datetime | None) -> PacketRow:
        """Strike a packet out, or restore it with ``at=None``."""
        row = self.packet(packet_id)
        row.struck_at = at
        self._session.flush()
        return row


def _describe_thread(row: ThreadRow, spec: DrawerThread) -> None:
    row.spec = spec
    for name, value in thread_columns(spec).items():
        setattr(row, name, value)


def thread_columns(spec: DrawerThread) -> dict[str, Any]:
    """Return the columns beside a thread's document, by which the drawer is searched and sorted."""
    thread = spec.thread
    named = (
        spec.name,
        spec.words,
        CONSTRUCTION_NAMES[thread.construction],
        FIBER_NAMES[thread.fiber],
        f"{thread.density.wt:.0f} wt",
        spec.form.value.replace("_", " "),
        spec.note,
    )
    return {
        "name": spec.name,
        "line": spec.line.casefold().strip(),
        "fiber": thread.fiber.value,
        "tex": thread.density.tex,
        "diameter_mm": thread.diameter_mm,
        "light": is_light(spec.color),
        "words": " ".join(named).lower(),
    }
