"""The workshop's file in the trade's terms, written: what is noted, corrected, struck out, and put back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.core.bobbin.events import BobbinReading
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.logbook import Payload, check_time
from weftonos.core.mend.incident import SEWN_ON, IncidentOutcome
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.bringing import bring_in, forget
from weftonos.store.drawer import row_of
from weftonos.store.folding import columns_beside, refold, renew_machines
from weftonos.store.models import (
    MachineRow,
    RecordRow,
    RevisionRow,
    ThreadRow,
)
from weftonos.store.reading import Reading
from weftonos.store.rules import Rules
from weftonos.store.versions import require_version


class Workshop(Reading):
    """The records of one workshop, read and written through one database session; the caller commits."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._rules = Rules(self)

    def add_machine(self, spec: Machine) -> MachineRow:
        """Add a machine; its nickname must be new."""
        self._refuse_same_nickname(spec, None)
        row = MachineRow(spec=spec)
        self._session.add(row)
        self._session.flush()
        return row

    def change_machine(self, machine_id: int, spec: Machine, seen: int | None = None) -> MachineRow:
        """Describe a machine anew; ``seen`` is the version that whoever describes it has seen."""
        row = self.machine(machine_id)
        require_version(row, seen, f"The machine {row.spec.nickname}", row.spec)
        self._refuse_same_nickname(spec, machine_id)
        row.spec = spec
        self._session.flush()
        return row

    def _refuse_same_nickname(self, spec: Machine, own_id: int | None) -> None:
        if any(m.spec.nickname == spec.nickname and m.id != own_id for m in self.machines()):
            raise CraftError(f"There is a machine called {spec.nickname} already.", "nickname")

    def note(self, machine_id: int, payload: Payload, at: datetime, now: datetime) -> RecordRow:
        """Write a record.

        Raises :class:`CraftError` when it does not fit the machine or the drawer; nothing is stored then.
        """
        check_time(at, now)
        self._rules.check(machine_id, self.machine(machine_id).spec, payload, at)
        row = RecordRow(machine_id=machine_id, kind=payload.kind, at=at, noted_at=now, payload=payload)
        _index(row, payload)
        self._session.add(row)
        self._session.flush()
        self._renew(row, at, at)
        return row

    def correct(
        self, record_id: int, payload: Payload, at: datetime, now: datetime, seen: int | None = None
    ) -> RecordRow:
        """Correct a record; what it said before stays as a revision. ``seen`` is the version that is corrected."""
        row = self.record(record_id)
        require_version(row, seen, "This record", row.payload)
        if payload.kind != row.kind:
            raise CraftError("A correction can't change the kind of record. Delete it and write a new one.", "kind")
        check_time(at, now)
        self._rules.check(row.machine_id, self.machine(row.machine_id).spec, payload, at, row)
        if isinstance(payload, BobbinReading):
            # Mean and verdict follow from the pulls, whatever the correction claims.
            payload = payload.judged(self.bobbin_target(row.machine_id, payload.case))
        was_at = row.at
        row.revisions.append(RevisionRow(at=now, action="corrected", was_at=was_at, was=row.payload))
        row.payload, row.at = payload, at
        _index(row, payload)
        self._session.flush()
        self._renew(row, was_at, at)
        return row

    def take_in(self, lines: Sequence[Mapping[str, Any]], now: datetime) -> None:
        """Take many records in at once, as lines (:mod:`weftonos.store.archive`), as if they had been noted one by one.

        Nothing of it is told apart later, so that it cannot be taken back as one.
        """
        row, _ = bring_in(self._session, lambda: iter(lines), name="", now=now)
        forget(self._session, row)
        self._forget()

    def change_thread(self, thread_id: int, spec: DrawerThread, seen: int | None = None) -> ThreadRow:
        """Correct a thread of the drawer; where its line changes, what is one thread is worked out anew."""
        before = self.drawer.thread(thread_id).spec
        row = self.drawer.change_thread(thread_id, spec, seen)
        lines = spec.line, before.line if isinstance(before, DrawerThread) else ""
        if any(lines) and (not isinstance(before, DrawerThread) or before.one_thread != spec.one_thread):
            renew_machines(self._session)
            self._forget()
        return row

    def strike(self, record_id: int, now: datetime) -> RecordRow:
        """Strike a record out: it stays in the log and counts no longer."""
        return self._mark(record_id, now, struck=True)

    def restore(self, record_id: int, now: datetime) -> RecordRow:
        """Take the striking out back."""
        return self._mark(record_id, now, struck=False)

    def _mark(self, record_id: int, now: datetime, *, struck: bool) -> RecordRow:
        row = self.record(record_id)
        for each in (*self._one_with(row), row):
            self._mark_one(each, now, struck=struck)
        return row

    def _one_with(self, row: RecordRow) -> Sequence[RecordRow]:
        """Return the other record of a break after which one went on: both were noted with one tap, as one thing."""
        if getattr(row.payload, "note", "") != SEWN_ON:
            return ()
        if isinstance(row.payload, IncidentOutcome):
            about = row_of(self._session, RecordRow, row.payload.incident)
            return (about,) if about is not None and getattr(about.payload, "note", "") == SEWN_ON else ()
        steps = select(RecordRow).where(RecordRow.incident_id == row.id, RecordRow.kind == IncidentOutcome.kind)
        return [step for step in self._session.scalars(steps) if getattr(step.payload, "note", "") == SEWN_ON]

    def _mark_one(self, row: RecordRow, now: datetime, *, struck: bool) -> None:
        if (row.struck_at is not None) is not struck:
            row.struck_at = now if struck else None
            row.revisions.append(RevisionRow(at=now, action="struck" if struck else "restored"))
            self._session.flush()
            self._renew(row, row.at, row.at)

    def _renew(self, row: RecordRow, *moments: datetime) -> None:
        refold(self._session, row.machine_id, row.id, min(moments), max(moments))
        self._forget()


def _index(row: RecordRow, payload: Payload) -> None:
    """Fill the columns beside the document."""
    for name, value in columns_beside(payload).items():
        setattr(row, name, value)
