"""The queries: one class over a session that reads and writes the workshop in the trade's terms."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session, selectinload

from weftonos.core.drawer import DrawerThread
from weftonos.core.errors import CraftError
from weftonos.core.logbook import (
    BobbinLoaded,
    BobbinReading,
    NeedleFitted,
    Payload,
    Recipe,
    StitchedLook,
    TopThreaded,
    check_time,
)
from weftonos.core.machine import Machine
from weftonos.core.setup import LookTag, NeedleTag, ReadingTag, Setup, ThreadTag
from weftonos.core.thread import Bundle
from weftonos.store.models import MachineRow, RecordRow, RevisionRow, ThreadRow

#: SQLite's integers end here.
LARGEST_ID = 2**63 - 1


class NotFoundError(LookupError):
    """There is no such machine, thread or record."""


class Workshop:
    """The records of one workshop, through one database session; the caller commits."""

    def __init__(self, session: Session) -> None:
        self._session = session

    # Machines

    def machines(self) -> Sequence[MachineRow]:
        """Return all machines, in the order they were added."""
        return self._session.scalars(select(MachineRow).order_by(MachineRow.id)).all()

    def machine(self, machine_id: int) -> MachineRow:
        """Return one machine; raises :class:`NotFoundError`."""
        row = self._session.get(MachineRow, machine_id)
        if row is None:
            raise NotFoundError("There is no such machine.")
        return row

    def add_machine(self, spec: Machine) -> MachineRow:
        """Add a machine; its nickname must be new."""
        self._refuse_same_nickname(spec, None)
        row = MachineRow(spec=spec)
        self._session.add(row)
        self._session.flush()
        return row

    def change_machine(self, machine_id: int, spec: Machine) -> MachineRow:
        """Describe a machine anew."""
        row = self.machine(machine_id)
        self._refuse_same_nickname(spec, machine_id)
        row.spec = spec
        self._session.flush()
        return row

    def _refuse_same_nickname(self, spec: Machine, own_id: int | None) -> None:
        if any(m.spec.nickname == spec.nickname and m.id != own_id for m in self.machines()):
            raise CraftError(f"There is a machine called {spec.nickname} already.", "nickname")

    # The drawer

    def threads(self, *, with_struck: bool = False) -> Sequence[ThreadRow]:
        """Return the drawer's threads by name."""
        query = select(ThreadRow).order_by(func.lower(ThreadRow.name), ThreadRow.id)
        if not with_struck:
            query = query.where(ThreadRow.struck_at.is_(None))
        return self._session.scalars(query).all()

    def thread(self, thread_id: int) -> ThreadRow:
        """Return one thread, struck out or not; raises :class:`NotFoundError`."""
        row = self._session.get(ThreadRow, thread_id)
        if row is None:
            raise NotFoundError("There is no such thread in the drawer.")
        return row

    def usable_thread(self, thread_id: int, field: str) -> ThreadRow:
        """Return a thread that may go on a machine; raises :class:`CraftError` for one that is gone."""
        row = self._session.get(ThreadRow, thread_id) if 0 < thread_id <= LARGEST_ID else None
        if row is None:
            raise CraftError("That thread is not in the drawer. Choose another.", field)
        if row.struck_at is not None:
            raise CraftError(
                f"{row.name} was struck out of the drawer meanwhile. Restore it or choose another.", field
            )
        return row

    def add_thread(self, spec: DrawerThread) -> ThreadRow:
        """Put a thread in the drawer."""
        row = ThreadRow(name=spec.name, spec=spec)
        self._session.add(row)
        self._session.flush()
        return row

    def change_thread(self, thread_id: int, spec: DrawerThread) -> ThreadRow:
        """Correct a thread; records already made keep their copy."""
        row = self.thread(thread_id)
        row.name, row.spec = spec.name, spec
        self._session.flush()
        return row

    def strike_thread(self, thread_id: int, at: datetime | None) -> ThreadRow:
        """Strike a thread out of the drawer, or restore it with ``at=None``."""
        row = self.thread(thread_id)
        row.struck_at = at
        self._session.flush()
        return row

    # The logbook

    def record(self, record_id: int) -> RecordRow:
        """Return one record; raises :class:`NotFoundError`."""
        row = self._session.get(RecordRow, record_id)
        if row is None:
            raise NotFoundError("There is no such record in the log.")
        return row

    def log(
        self,
        *,
        machine_id: int | None = None,
        kind: str | None = None,
        before: RecordRow | None = None,
        limit: int = 50,
    ) -> Sequence[RecordRow]:
        """Return records newest first, struck ones included; ``before`` continues a page."""
        query = (
            select(RecordRow)
            .options(selectinload(RecordRow.revisions), selectinload(RecordRow.machine))
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(limit)
        )
        if machine_id is not None:
            query = query.where(RecordRow.machine_id == machine_id)
        if kind is not None:
            query = query.where(RecordRow.kind == kind)
        if before is not None:
            query = query.where(
                (RecordRow.at < before.at) | ((RecordRow.at == before.at) & (RecordRow.id < before.id))
            )
        return self._session.scalars(query).all()

    def note(self, machine_id: int, payload: Payload, at: datetime, now: datetime) -> RecordRow:
        """Write a record with the set-up it was made under.

        Raises :class:`CraftError` when it does not fit the machine or the drawer; nothing is stored then.
        """
        machine = self.machine(machine_id)
        check_time(at, now)
        self._check(machine.spec, payload)
        row = RecordRow(machine_id=machine_id, kind=payload.kind, at=at, noted_at=now, payload=payload, setup=Setup())
        self._session.add(row)
        self._session.flush()
        row.setup = self.setup(machine_id, row)
        self._session.flush()
        self._session.refresh(row)
        return row

    def correct(self, record_id: int, payload: Payload, at: datetime, now: datetime) -> RecordRow:
        """Correct a record; what it said before stays as a revision."""
        row = self.record(record_id)
        if payload.kind != row.kind:
            raise CraftError("A correction keeps the kind of record. Strike it out and write a new one.", "kind")
        check_time(at, now)
        self._check(row.machine.spec, payload)
        if isinstance(payload, BobbinReading):
            # Mean and verdict follow from the pulls, whatever the correction claims.
            payload = BobbinReading.of(payload.unit, payload.pulls, row.machine.spec.bobbin_target, payload.note)
        row.revisions.append(RevisionRow(at=now, action="corrected", was_at=row.at, was=row.payload))
        row.payload, row.at = payload, at
        self._session.flush()
        row.setup = self.setup(row.machine_id, row)
        self._session.flush()
        return row

    def strike(self, record_id: int, now: datetime) -> RecordRow:
        """Strike a record out: it stays in the log and counts no longer."""
        return self._mark(record_id, now, struck=True)

    def restore(self, record_id: int, now: datetime) -> RecordRow:
        """Take the striking out back."""
        return self._mark(record_id, now, struck=False)

    def _mark(self, record_id: int, now: datetime, *, struck: bool) -> RecordRow:
        row = self.record(record_id)
        if (row.struck_at is not None) is not struck:
            row.struck_at = now if struck else None
            row.revisions.append(RevisionRow(at=now, action="struck" if struck else "restored"))
            self._session.flush()
        return row

    def _check(self, machine: Machine, payload: Payload) -> None:
        match payload:
            case TopThreaded(top=ids):
                # The bundle knows how many may go through one needle.
                Bundle.of([self.usable_thread(i, "top").spec.thread for i in ids])
            case BobbinLoaded(bobbin=thread_id):
                self.usable_thread(thread_id, "bobbin")
            case StitchedLook(setting=setting) | Recipe(setting=setting):
                machine.scale.check(setting)
            case NeedleFitted() | BobbinReading():
                pass

    # What is on the machine

    def setup(self, machine_id: int, until: RecordRow | None = None) -> Setup:
        """Return what is on a machine now, or was when ``until`` was made (that record included).

        A reading counts since the bobbin was loaded, a look since threads or needle were changed.
        """
        top = self._latest(machine_id, "top_threaded", until)
        loaded = self._latest(machine_id, "bobbin_loaded", until)
        fitted = self._latest(machine_id, "needle_fitted", until)
        reading = self._latest(machine_id, "bobbin_reading", until)
        look = self._latest(machine_id, "look", until)
        setup = Setup()
        if top and isinstance(top.payload, TopThreaded):
            tags = tuple(self._thread_tag(i) for i in top.payload.top)
            setup = replace(setup, top=tags, top_since=top.at)
        if loaded and isinstance(loaded.payload, BobbinLoaded):
            tag = self._thread_tag(loaded.payload.bobbin)
            setup = replace(setup, bobbin=tag, bobbin_since=loaded.at)
        if fitted and isinstance(fitted.payload, NeedleFitted):
            p = fitted.payload
            needle = NeedleTag(fitted.id, p.metric, p.american, p.point, p.finish, fitted.at)
            setup = replace(setup, needle=needle)
        if reading and isinstance(reading.payload, BobbinReading) and not _newer(loaded, reading):
            r = reading.payload
            tag_r = ReadingTag(reading.id, r.mean_mn, r.swing, r.calmness, reading.at)
            setup = replace(setup, reading=tag_r)
        changed = any(_newer(row, look) for row in (top, loaded, fitted)) if look else True
        if look and isinstance(look.payload, StitchedLook) and not changed:
            s = look.payload
            setup = replace(setup, look=LookTag(look.id, s.setting, s.grade, s.motion, look.at))
        return setup

    def bundle(self, setup: Setup) -> Bundle | None:
        """Return what runs through the needle, if anything does."""
        return Bundle.of([self.thread(t.id).spec.thread for t in setup.top]) if setup.top else None

    def _thread_tag(self, thread_id: int) -> ThreadTag:
        return self.thread(thread_id).spec.tag(thread_id)

    def kept_at(self, machine_id: int) -> datetime | None:
        """Return when this machine's newest combination was kept."""
        row = self._latest(machine_id, "recipe", None)
        return row.at if row else None

    def _latest(self, machine_id: int, kind: str, until: RecordRow | None) -> RecordRow | None:
        query = (
            select(RecordRow)
            .where(RecordRow.machine_id == machine_id, RecordRow.kind == kind, RecordRow.struck_at.is_(None))
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(1)
        )
        if until is not None:
            query = query.where((RecordRow.at < until.at) | ((RecordRow.at == until.at) & (RecordRow.id <= until.id)))
        return self._session.scalars(query).first()


def _newer(row: RecordRow | None, than: RecordRow) -> bool:
    return row is not None and (row.at, row.id) > (than.at, than.id)
