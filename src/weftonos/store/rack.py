"""The rack: cases and bobbins, and what the log knows of each case."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import Any

from sqlalchemy import ColumnElement, ScalarSelect, String, and_, cast, literal, select, union_all
from sqlalchemy.orm import Session, aliased

from weftonos.core.bobbin.case_history import CaseHistory, case_history
from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Part, PartMarked, ScrewTurned
from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.kernel.errors import CraftError
from weftonos.core.mend.incident import IncidentOutcome
from weftonos.core.setup.case_choice import KnownCase
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.setup.may_wait import REMEMBERED
from weftonos.core.setup.turned import Turns
from weftonos.store.drawer import NotFoundError, row_of
from weftonos.store.folding import kin
from weftonos.store.models import BobbinRow, CaseRow, RecordRow
from weftonos.store.order import NEWEST_FIRST, OLDEST_FIRST, counting, since_then
from weftonos.store.specs import Specs
from weftonos.store.versions import require_version

#: How many of a case's last readings and turns its history goes back.
EVENTS_REMEMBERED = 400
#: The records that the history of a case is made of.
_OF_A_CASE = (BobbinLoaded.kind, BobbinReading.kind, ScrewTurned.kind)


@cache
def _last_mark(part: Part, table: type[CaseRow] | type[BobbinRow], *, payload: bool = False) -> ScalarSelect[Any]:
    """Return the last mark of each part of a table that counts: its number, or its document."""
    mark = aliased(RecordRow)
    return (
        select(mark.payload if payload else mark.id)
        .where(
            mark.kind == PartMarked.kind,
            mark.detail == literal(f"{part.value} ") + cast(table.id, String),
            mark.struck_at.is_(None),
        )
        .order_by(mark.at.desc(), mark.id.desc())
        .limit(1)
        .correlate(table)
        .scalar_subquery()
    )


@dataclass(frozen=True)
class WhichCase:
    """A case by its number, or that of a machine whose case has no name."""

    machine: int
    case: int | None


def _of_case(which: WhichCase) -> ColumnElement[bool]:
    """Return the condition for records of a case, be they of whatever machine it was in."""
    if which.case is not None:
        return RecordRow.case_id == which.case
    return and_(RecordRow.machine_id == which.machine, RecordRow.case_id.is_(None))


class Rack:
    """Cases and bobbins, through one database session; the caller commits."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.specs = Specs(session, CaseRow, BobbinCase)
        self._bobbin_records: dict[int, Sequence[tuple[datetime, object]]] = {}
        self._turns: dict[int, Turns] = {}
        self._kin: Mapping[int, int] | None = None

    def forget(self) -> None:
        """Read the records anew: something was written."""
        self._bobbin_records.clear()
        self._turns.clear()
        self._kin = None

    def cases(self, machine_id: int | None = None) -> Sequence[CaseRow]:
        """Return the cases not struck out: a machine's and those of none, or all."""
        query = select(CaseRow).where(CaseRow.struck_at.is_(None)).order_by(CaseRow.id)
        if machine_id is not None:
            query = query.where((CaseRow.machine_id == machine_id) | CaseRow.machine_id.is_(None))
        return [row for row in self._session.scalars(query) if isinstance(row.spec, BobbinCase)]

    def case(self, case_id: int) -> CaseRow:
        """Return one case; raises :class:`NotFoundError`."""
        row = row_of(self._session, CaseRow, case_id)
        if row is None or not isinstance(row.spec, BobbinCase):
            raise NotFoundError("There is no such bobbin case.")
        return row

    def usable_case(self, case_id: int) -> CaseRow:
        """Return a case that may be used; raises :class:`CraftError` for one that is gone."""
        row = row_of(self._session, CaseRow, case_id)
        if row is None or row.struck_at is not None or not isinstance(row.spec, BobbinCase):
            raise CraftError("That bobbin case is not on the rack. Choose another.", "case")
        return row

    def add_case(self, machine_id: int | None, spec: BobbinCase) -> CaseRow:
        """Put a case on the rack."""
        self._refuse_same_label(spec, None)
        row = CaseRow(machine_id=machine_id, spec=spec)
        self._session.add(row)
        self._session.flush()
        return row

    def change_case(self, case_id: int, spec: BobbinCase, seen: int | None = None) -> CaseRow:
        """Describe a case anew; ``seen`` is the version that whoever describes it has seen."""
        row = self.case(case_id)
        require_version(row, seen, f"Case {row.spec.label}", row.spec)
        self._refuse_same_label(spec, case_id)
        row.spec = spec
        self._session.flush()
        self.specs.forget()
        return row

    def _refuse_same_label(self, spec: BobbinCase, own_id: int | None) -> None:
        if any(row.spec.label == spec.label and row.id != own_id for row in self.cases()):
            raise CraftError(f"There is a case labeled {spec.label} already.", "label")

    def strike_case(self, case_id: int, at: datetime | None) -> CaseRow:
        """Strike a case out, or restore it with ``at=None``."""
        row = self.case(case_id)
        row.struck_at = at
        self._session.flush()
        return row

    def bobbins(self) -> Sequence[BobbinRow]:
        """Return the bobbins not struck out."""
        query = select(BobbinRow).where(BobbinRow.struck_at.is_(None)).order_by(BobbinRow.id)
        return [row for row in self._session.scalars(query) if isinstance(row.spec, Bobbin)]

    def bobbin(self, bobbin_id: int) -> BobbinRow:
        """Return one bobbin; raises :class:`NotFoundError`."""
        row = row_of(self._session, BobbinRow, bobbin_id)
        if row is None or not isinstance(row.spec, Bobbin):
            raise NotFoundError("There is no such bobbin.")
        return row

    def usable_bobbin(self, bobbin_id: int) -> BobbinRow:
        """Return a bobbin that may be used; raises :class:`CraftError` for one that is gone."""
        row = row_of(self._session, BobbinRow, bobbin_id)
        if row is None or row.struck_at is not None or not isinstance(row.spec, Bobbin):
            raise CraftError("That bobbin is not on the rack. Choose another.", "item")
        return row

    def add_bobbin(self, spec: Bobbin) -> BobbinRow:
        """Put a bobbin on the rack."""
        row = BobbinRow(thread_id=spec.thread, spec=spec)
        self._session.add(row)
        self._session.flush()
        return row

    def strike_bobbin(self, bobbin_id: int, at: datetime | None) -> BobbinRow:
        """Strike a bobbin out, or restore it with ``at=None``."""
        row = self.bobbin(bobbin_id)
        row.struck_at = at
        self._session.flush()
        return row

    def known_cases(self, machine_id: int) -> Sequence[KnownCase]:
        """Return the cases of a machine that are not struck out, with what was found on each, not their readings."""
        query = (
            select(CaseRow.id, CaseRow.spec, _last_mark(Part.CASE, CaseRow, payload=True))
            .where(CaseRow.struck_at.is_(None), (CaseRow.machine_id == machine_id) | CaseRow.machine_id.is_(None))
            .order_by(CaseRow.id)
        )
        return [
            KnownCase(id=number, spec=spec, fault=mark.fault if isinstance(mark, PartMarked) else "")
            for number, spec, mark in self._session.execute(query)
            if isinstance(spec, BobbinCase)
        ]

    def faults(self) -> Mapping[tuple[Part, int], str]:
        """Return what was found on each case and bobbin that is marked and not found sound since."""
        newest = [
            select(_last_mark(part, table)).where(table.struck_at.is_(None))
            for part, table in ((Part.CASE, CaseRow), (Part.BOBBIN, BobbinRow))
        ]
        marks = self._session.scalars(select(RecordRow.payload).where(RecordRow.id.in_(union_all(*newest))))
        return {(m.part, m.id): m.fault for m in marks if isinstance(m, PartMarked) and m.fault}

    def histories(
        self, case_ids: Iterable[int], limit: int = EVENTS_REMEMBERED, *kinds: str
    ) -> Mapping[int, CaseHistory]:
        """Return the last readings and turns of cases, by the case; of some ``kinds`` only, where they are said."""
        wanted = sorted(set(case_ids))
        if not wanted:
            return {}
        last = [
            select(
                select(RecordRow.id)
                .where(
                    RecordRow.case_id == case_id,
                    RecordRow.kind.in_(kinds or _OF_A_CASE),
                    RecordRow.struck_at.is_(None),
                )
                .order_by(*NEWEST_FIRST)
                .limit(limit)
                .subquery()
                .c.id
            )
            for case_id in wanted
        ]
        query = (
            select(RecordRow.case_id, RecordRow.at, RecordRow.payload)
            .where(RecordRow.id.in_(union_all(*last)))
            .order_by(*OLDEST_FIRST)
        )
        events: dict[int | None, list[tuple[datetime, object]]] = {case_id: [] for case_id in wanted}
        for case_id, at, payload in self._session.execute(query).tuples():
            events[case_id].append((at, payload))
        return {case_id: case_history(events[case_id]) for case_id in wanted}

    def history(self, case_id: int) -> CaseHistory:
        """Return the last readings and screw turns of one case."""
        return self.histories([case_id])[case_id]

    def history_in(self, machine_id: int, case_id: int | None) -> CaseHistory:
        """Return the last readings and screw turns of a case, or of the one of a machine that has no name."""
        if case_id is not None:
            return self.history(case_id)
        query = (
            select(RecordRow.at, RecordRow.payload)
            .where(*counting(machine_id), RecordRow.case_id.is_(None), RecordRow.kind.in_(_OF_A_CASE))
            .order_by(*NEWEST_FIRST)
            .limit(EVENTS_REMEMBERED)
        )
        return case_history(list(self._session.execute(query).tuples())[::-1])

    def bobbin_records(self, machine_id: int) -> Sequence[object]:
        """Return what a machine's last bobbins were and said, oldest first: loads, readings, looks, turns, outcomes."""
        return [payload for _, payload in self._timed_bobbin_records(machine_id)]

    def screw_turns(self, machine_id: int) -> Turns:
        """Return the turns of the screws among a machine's last bobbins."""
        if machine_id not in self._turns:
            self._turns[machine_id] = Turns.among(self._timed_bobbin_records(machine_id), self.one_thread())
        return self._turns[machine_id]

    def _timed_bobbin_records(self, machine_id: int) -> Sequence[tuple[datetime, object]]:
        if machine_id not in self._bobbin_records:
            self._bobbin_records[machine_id] = self._read_bobbin_records(machine_id)
        return self._bobbin_records[machine_id]

    def _read_bobbin_records(self, machine_id: int) -> Sequence[tuple[datetime, object]]:
        since = (
            select(RecordRow.at)
            .where(*counting(machine_id, BobbinLoaded.kind))
            .order_by(*NEWEST_FIRST)
            .limit(1)
            .offset(REMEMBERED)
            .scalar_subquery()
        )
        kinds = (BobbinLoaded, BobbinReading, BobbinLook, ScrewTurned, IncidentOutcome)
        query = (
            select(RecordRow.at, RecordRow.payload)
            .where(
                *counting(machine_id),
                RecordRow.kind.in_([k.kind for k in kinds]),
                since_then(since),
            )
            .order_by(*OLDEST_FIRST)
        )
        return list(self._session.execute(query).tuples())

    def one_thread(self) -> Callable[[int], int]:
        """Return what gives the thread that stands for all colors of a thread's line."""
        if self._kin is None:
            self._kin = kin(self._session)
        alike = self._kin
        return lambda number: alike.get(number, number)

    def cases_left(self, case_ids: Iterable[int]) -> Mapping[int, BobbinLoaded]:
        """Return the last load of each of these cases that counts: the bobbin that is still in it."""
        last = [
            select(RecordRow.id)
            .where(RecordRow.case_id == case_id, RecordRow.kind == BobbinLoaded.kind, RecordRow.struck_at.is_(None))
            .order_by(*NEWEST_FIRST)
            .limit(1)
            .scalar_subquery()
            for case_id in sorted(set(case_ids))
        ]
        if not last:
            return {}
        loads = self._session.execute(
            select(RecordRow.case_id, RecordRow.payload).where(RecordRow.id.in_(union_all(*map(select, last))))
        )
        return {case_id: load for case_id, load in loads.tuples() if case_id and isinstance(load, BobbinLoaded)}

    def last_turns(self, cases: Iterable[WhichCase]) -> Mapping[WhichCase, datetime]:
        """Return when the screw of each of these cases was last turned."""
        last = {
            which: select(RecordRow.at)
            .where(_of_case(which), RecordRow.kind == ScrewTurned.kind, RecordRow.struck_at.is_(None))
            .order_by(*NEWEST_FIRST)
            .limit(1)
            .scalar_subquery()
            for which in set(cases)
        }
        if not last:
            return {}
        found = self._session.execute(select(*last.values())).one()
        return {which: at for which, at in zip(last, found, strict=True) if at is not None}
