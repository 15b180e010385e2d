"""The rack: cases and bobbins, and what the log knows of each case."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.core.bobbin_rack import Bobbin, BobbinCase
from weftonos.core.errors import CraftError
from weftonos.core.force import to_mn
from weftonos.core.gauge import Calmness
from weftonos.core.logbook import BobbinReading, Part, PartMarked, ScrewTurned
from weftonos.core.screw import ScrewTurn
from weftonos.store.drawer import LARGEST_ID, NotFoundError
from weftonos.store.models import BobbinRow, CaseRow, RecordRow


@dataclass(frozen=True)
class CaseHistory:
    """What the log knows of a case: readings and turns, oldest first, and the turns with readings around them."""

    readings: Sequence[tuple[datetime, BobbinReading]]
    turns: Sequence[ScrewTurn]
    since_screw: Sequence[tuple[datetime, BobbinReading]]


class Rack:
    """Cases and bobbins, through one database session; the caller commits."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def cases(self, machine_id: int | None = None) -> Sequence[CaseRow]:
        """Return the cases not struck out: a machine's and those of none, or all."""
        query = select(CaseRow).where(CaseRow.struck_at.is_(None)).order_by(CaseRow.id)
        if machine_id is not None:
            query = query.where((CaseRow.machine_id == machine_id) | CaseRow.machine_id.is_(None))
        return self._session.scalars(query).all()

    def case(self, case_id: int) -> CaseRow:
        """Return one case; raises :class:`NotFoundError`."""
        row = self._session.get(CaseRow, case_id) if 0 < case_id <= LARGEST_ID else None
        if row is None:
            raise NotFoundError("There is no such bobbin case.")
        return row

    def usable_case(self, case_id: int) -> CaseRow:
        """Return a case that may be used; raises :class:`CraftError` for one that is gone."""
        row = self._session.get(CaseRow, case_id) if 0 < case_id <= LARGEST_ID else None
        if row is None or row.struck_at is not None:
            raise CraftError("That bobbin case is not on the rack. Choose another.", "case")
        return row

    def add_case(self, machine_id: int | None, spec: BobbinCase) -> CaseRow:
        """Put a case on the rack."""
        if any(row.spec.label == spec.label for row in self.cases()):
            raise CraftError(f"There is a case labelled {spec.label} already.", "label")
        row = CaseRow(machine_id=machine_id, spec=spec)
        self._session.add(row)
        self._session.flush()
        return row

    def change_case(self, case_id: int, spec: BobbinCase) -> CaseRow:
        """Describe a case anew."""
        row = self.case(case_id)
        row.spec = spec
        self._session.flush()
        return row

    def strike_case(self, case_id: int, at: datetime | None) -> CaseRow:
        """Strike a case out, or restore it with ``at=None``."""
        row = self.case(case_id)
        row.struck_at = at
        self._session.flush()
        return row

    def bobbins(self) -> Sequence[BobbinRow]:
        """Return the bobbins not struck out."""
        return self._session.scalars(
            select(BobbinRow).where(BobbinRow.struck_at.is_(None)).order_by(BobbinRow.id)
        ).all()

    def bobbin(self, bobbin_id: int) -> BobbinRow:
        """Return one bobbin; raises :class:`NotFoundError`."""
        row = self._session.get(BobbinRow, bobbin_id) if 0 < bobbin_id <= LARGEST_ID else None
        if row is None:
            raise NotFoundError("There is no such bobbin.")
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

    def faults(self) -> Mapping[tuple[Part, int], str]:
        """Return what was found on each case and bobbin that is marked and not found sound since."""
        query = (
            select(RecordRow.payload)
            .where(RecordRow.kind == "part_marked", RecordRow.struck_at.is_(None))
            .order_by(RecordRow.at, RecordRow.id)
        )
        marks = [p for p in self._session.scalars(query) if isinstance(p, PartMarked)]
        latest = {(mark.part, mark.id): mark.fault for mark in marks}
        return {part: fault for part, fault in latest.items() if fault}

    def history(self, case_id: int, limit: int = 400) -> CaseHistory:
        """Return the last readings and screw turns of a case.

        A turn is learned from when a calm reading stands before and after it, with no other turn between.
        """
        query = (
            select(RecordRow.at, RecordRow.payload)
            .where(
                RecordRow.case_id == case_id,
                RecordRow.kind.in_(("bobbin_reading", "screw_turned")),
                RecordRow.struck_at.is_(None),
            )
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(limit)
        )
        readings: list[tuple[datetime, BobbinReading]] = []
        since: list[tuple[datetime, BobbinReading]] = []
        turns: list[ScrewTurn] = []
        before: float | None = None
        turned: float | None = None
        for at, payload in reversed(self._session.execute(query).tuples().all()):
            if isinstance(payload, ScrewTurned):
                # Two turns without a reading between teach nothing.
                before, turned = (before, payload.minutes) if turned is None else (None, None)
                since = []
            elif isinstance(payload, BobbinReading):
                readings.append((at, payload))
                since.append((at, payload))
                if payload.calmness is Calmness.FAULT:
                    continue
                if turned is not None and before is not None:
                    turns.append(ScrewTurn(turned, before, payload.mean_mn))
                before, turned = payload.mean_mn, None
        return CaseHistory(readings, turns, since)


def pull_means(reading: BobbinReading) -> list[float]:
    """Return the mean of each pull of a reading, in mN."""
    return [to_mn(p.mean, reading.unit) for p in reading.pulls]
