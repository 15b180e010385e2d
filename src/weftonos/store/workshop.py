"""The queries: one class over a session that reads and writes the workshop in the trade's terms."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session, selectinload

from weftonos.core.balance import MOST_LOOKS
from weftonos.core.bobbin_target import BobbinTarget
from weftonos.core.bundle_advice import check_bobbin_work
from weftonos.core.errors import CraftError
from weftonos.core.incident import IncidentAnswer, IncidentCheck, IncidentOutcome, Step
from weftonos.core.logbook import (
    BobbinLoaded,
    BobbinLook,
    BobbinReading,
    ClockStarted,
    NeedleFitted,
    Part,
    PartMarked,
    Payload,
    Recipe,
    SandwichLaid,
    ScrewTurned,
    StitchedLook,
    TopThreaded,
    check_time,
)
from weftonos.core.machine import Machine
from weftonos.core.needle_life import NeedleLife, needle_life
from weftonos.core.needle_packet import check_system
from weftonos.core.own_number import OwnNumber, learn_number, own_target
from weftonos.core.sandwich import Motion
from weftonos.core.setup import CaseTag, LookTag, NeedleTag, ReadingTag, Setup, ThreadTag
from weftonos.core.standing import Standing
from weftonos.core.starting_point import MOST_RECORDS, BalanceRecord, Combination
from weftonos.core.thread import Bundle
from weftonos.store.drawer import Drawer, NotFoundError
from weftonos.store.mending import Mending
from weftonos.store.models import MachineRow, RecordRow, RevisionRow
from weftonos.store.newest import begin_of, newest_of
from weftonos.store.rack import Rack
from weftonos.store.wear import Wear

#: How many balanced looks a machine's own bobbin number rests on at most.
LOOKS_REMEMBERED = 40
#: What makes a combination: a record of these kinds begins another.
_COMBINES = ("top_threaded", "bobbin_loaded", "needle_fitted", "sandwich")


class Workshop:
    """The records of one workshop, through one database session; the caller commits."""

    def __init__(self, session: Session) -> None:
        self._session = session
        # Held here, since the session itself lets go of what nobody holds and would read it again.
        self._machines: dict[int, MachineRow] = {}
        # What is on each machine now, worked out once; forgotten at every write.
        self._setups: dict[int, Setup] = {}
        self._changes: dict[int, RecordRow | None] = {}
        self._begun: dict[int, RecordRow] = {}
        self.drawer = Drawer(session)
        self.rack = Rack(session)
        self.wear = Wear(session)
        self.mending = Mending(session)

    # Machines

    def machines(self) -> Sequence[MachineRow]:
        """Return all machines, in the order they were added."""
        return self._session.scalars(select(MachineRow).order_by(MachineRow.id)).all()

    def machine(self, machine_id: int) -> MachineRow:
        """Return one machine; raises :class:`NotFoundError`."""
        row = self._machines.get(machine_id) or self._session.get(MachineRow, machine_id)
        if row is None:
            raise NotFoundError("There is no such machine.")
        self._machines[machine_id] = row
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

    # The clock

    def clock_started(self, machine_id: int) -> tuple[datetime, str] | None:
        """Return since when the stitching clock runs and for which quilt, if it does."""
        started, ran = self._latest(machine_id, ("clock_started", "run"), None)
        if started is None or _newer(ran, started) or not isinstance(started.payload, ClockStarted):
            return None
        return started.at, started.payload.quilt

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
        self._check(machine_id, machine.spec, payload)
        row = RecordRow(machine_id=machine_id, kind=payload.kind, at=at, noted_at=now, payload=payload, setup=Setup())
        _index(row, payload)
        self._session.add(row)
        self._session.flush()
        self._forget()
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
        self._check(row.machine_id, row.machine.spec, payload, row.payload)
        if isinstance(payload, BobbinReading):
            # Mean and verdict follow from the pulls, whatever the correction claims.
            payload = BobbinReading.of(
                payload.unit,
                payload.pulls,
                self.bobbin_target(row.machine_id, payload.case),
                payload.note,
                payload.case,
                payload.method,
                payload.conditions,
            )
        row.revisions.append(RevisionRow(at=now, action="corrected", was_at=row.at, was=row.payload))
        row.payload, row.at = payload, at
        _index(row, payload)
        self._session.flush()
        self._forget()
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
            self._forget()
        return row

    def _forget(self) -> None:
        self._setups.clear()
        self._changes.clear()
        self._begun.clear()
        self.wear.forget()

    def _check(self, machine_id: int, machine: Machine, payload: Payload, old: Payload | None = None) -> None:
        case_id = _case_of(payload)
        if case_id is not None:
            self.rack.usable_case(case_id)
        match payload:
            case TopThreaded(top=ids):
                # The bundle knows how many may go through one needle.
                Bundle.of([self.drawer.usable_thread(i, "top").spec.thread for i in ids])
            case BobbinLoaded(bobbin=thread_id, bobbin_work=work):
                below = self.drawer.usable_thread(thread_id, "bobbin").spec.thread
                if payload.item is not None:
                    self._check_item(payload.item, thread_id)
                if work:
                    check_bobbin_work(below, self.setup(machine_id).top_bundle)
            case StitchedLook(setting=setting) | Recipe(setting=setting):
                machine.scale.check(setting)
            case NeedleFitted(packet=packet_id, system=system):
                check_system(machine.needle_system, system, machine.nickname)
                same = isinstance(old, NeedleFitted) and old.packet == packet_id
                if packet_id is not None and not same:
                    self._check_packet(machine, packet_id, payload)
            case IncidentCheck() | IncidentAnswer() | IncidentOutcome():
                row = self._session.get(RecordRow, payload.incident)
                if row is None or row.kind != "incident" or row.machine_id != machine_id:
                    raise CraftError("That is no trouble of this machine.", "incident")
            case _:
                pass

    def _check_item(self, item: int, thread_id: int) -> None:
        on_rack = {row.id: row for row in self.rack.bobbins()}
        if item not in on_rack:
            raise CraftError("That bobbin is not on the rack. Choose another.", "item")
        if on_rack[item].thread_id != thread_id:
            raise CraftError("That bobbin holds another thread.", "item")

    def _check_packet(self, machine: Machine, packet_id: int, fitted: NeedleFitted) -> None:
        left = {row.id: (row.spec, n) for row, n in self.drawer.packets()}.get(packet_id)
        if left is None:
            raise CraftError("That packet is not in the drawer. Choose another.", "packet")
        packet, count = left
        check_system(machine.needle_system, packet.system, machine.nickname)
        if packet.size != fitted.size or packet.point is not fitted.point:
            raise CraftError(f"The packet holds {packet.size} {packet.point.value}.", "packet")
        if count < 1:
            raise CraftError(f"No {packet.size} {packet.point.value} is left in that packet.", "packet")

    # What is on the machine

    def setup(self, machine_id: int, until: RecordRow | None = None) -> Setup:
        """Return what is on a machine now, or was when ``until`` was made (that record included).

        A reading counts since the bobbin was loaded, a look since threads, needle or sandwich were changed; a fresh
        bobbin of the same thread, or the same thread threaded anew, is no such change.
        """
        if until is not None:
            return self._work_out(machine_id, until)
        if machine_id not in self._setups:
            self._setups[machine_id] = self._work_out(machine_id, None)
        return self._setups[machine_id]

    def _work_out(self, machine_id: int, until: RecordRow | None) -> Setup:
        top, loaded, fitted, retired, laid, reading, look = self._latest(
            machine_id, (*_COMBINES[:3], "needle_retired", "sandwich", "bobbin_reading", "look"), until
        )
        setup = Setup()
        if top and isinstance(top.payload, TopThreaded):
            tags = tuple(self._thread_tag(i) for i in top.payload.top)
            setup = replace(setup, top=tags, top_since=top.at)
        if loaded and isinstance(loaded.payload, BobbinLoaded):
            tag = self._thread_tag(loaded.payload.bobbin)
            work = loaded.payload.bobbin_work
            setup = replace(setup, bobbin=tag, bobbin_since=loaded.at, bobbin_work=work)
            if loaded.payload.case is not None:
                label = self.rack.case(loaded.payload.case).spec.label
                setup = replace(setup, case=CaseTag(loaded.payload.case, label, loaded.payload.fill))
        if fitted and isinstance(fitted.payload, NeedleFitted) and not _newer(retired, fitted):
            p = fitted.payload
            needle = NeedleTag(fitted.id, p.metric, p.american, p.point, p.finish, fitted.at)
            setup = replace(setup, needle=needle)
        if reading and isinstance(reading.payload, BobbinReading) and not _newer(loaded, reading):
            r = reading.payload
            tag_r = ReadingTag(reading.id, r.mean_mn, r.swing, r.calmness, reading.at)
            setup = replace(setup, reading=tag_r)
        if laid and isinstance(laid.payload, SandwichLaid):
            setup = replace(setup, sandwich=laid.payload.sandwich)
        if (
            look
            and isinstance(look.payload, StitchedLook)
            and not self._changed_since(look, top, loaded, fitted, laid)
        ):
            s = look.payload
            setup = replace(setup, look=LookTag(look.id, s.setting, s.grade, s.motion, look.at))
        return setup

    def needle_life(self, machine_id: int, setup: Setup) -> NeedleLife | None:
        """Return how the needle that is in stands by the machine's school."""
        if setup.needle is None:
            return None
        hours, quilts = self.wear.needle_time(machine_id, setup.needle)
        return needle_life(self.machine(machine_id).spec.life_school, setup.needle.finish, hours, quilts)

    def _thread_tag(self, thread_id: int) -> ThreadTag:
        return self.drawer.thread(thread_id).spec.tag(thread_id)

    def own_number(self, machine_id: int) -> OwnNumber | None:
        """Return a machine's own bobbin number, from the readings under its last balanced looks."""
        reading = func.json_extract(RecordRow.setup, "$.reading.record_id")
        rows = self._session.execute(
            select(reading, func.json_extract(RecordRow.setup, "$.reading.mean_mn"))
            .where(
                RecordRow.machine_id == machine_id,
                RecordRow.kind == "look",
                RecordRow.struck_at.is_(None),
                func.json_extract(RecordRow.payload, "$.grade") == 0,
                reading.is_not(None),
            )
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(LOOKS_REMEMBERED)
        )
        # Several looks under one reading are one piece of evidence of the bobbin.
        return learn_number(list(dict(rows.tuples().all()).values()))

    def bobbin_target(self, machine_id: int, case_id: int | None = None) -> BobbinTarget | None:
        """Return the range to be in: the case's own, else the machine's, learned or usual."""
        if case_id is not None and (own := self.rack.usable_case(case_id).spec.target):
            return BobbinTarget(own.low, own.high, "this case's own", Standing.OWN_RECORDS)
        return self.machine(machine_id).spec.bobbin_target(own_target(self.own_number(machine_id)))

    def changed(self, machine_id: int) -> RecordRow | None:
        """Return the last record that changed the combination: threads, needle or sandwich."""
        if machine_id not in self._changes:
            rows = [self._began(row) for row in self._latest(machine_id, _COMBINES, None) if row]
            self._changes[machine_id] = max(rows, key=lambda row: (row.at, row.id), default=None)
        return self._changes[machine_id]

    def _changed_since(self, look: RecordRow, *rows: RecordRow | None) -> bool:
        return any(_newer(row, look) and _newer(self._began(row), look) for row in rows if row)

    def _began(self, row: RecordRow) -> RecordRow:
        """Return the record from which what ``row`` put on has been on without a break."""
        if row.id not in self._begun:
            self._begun[row.id] = self._find_begin(row)
        return self._begun[row.id]

    def _find_begin(self, row: RecordRow) -> RecordRow:
        match row.payload:
            case TopThreaded(top=ids):
                put_on: dict[str, object] = {"top": json.dumps(ids, separators=(",", ":"))}
            case BobbinLoaded(bobbin=thread, bobbin_work=work):
                put_on = {"bobbin": thread, "bobbin_work": work}
            case _:
                return row
        about = {"machine": row.machine_id, "kind": row.kind, "at": row.at, "id": row.id, **put_on}
        found = self._session.scalars(begin_of(tuple(put_on)), about).first()
        return found or row

    def looks_since_change(self, machine_id: int, motion: Motion) -> Sequence[RecordRow]:
        """Return the looks at the combination that is on, in this motion, oldest first."""
        change = self.changed(machine_id)
        query = (
            select(RecordRow)
            .where(
                RecordRow.machine_id == machine_id,
                RecordRow.kind == "look",
                RecordRow.struck_at.is_(None),
                func.json_extract(RecordRow.payload, "$.motion") == motion.value,
            )
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(MOST_LOOKS)
        )
        if change is not None:
            query = query.where(
                (RecordRow.at > change.at) | ((RecordRow.at == change.at) & (RecordRow.id > change.id))
            )
        return self._session.scalars(query).all()[::-1]

    def balanced_records(self, machine_id: int) -> Sequence[BalanceRecord]:
        """Return the combinations this machine balanced before the present one, newest first."""
        machine = self.machine(machine_id).spec
        change = self.changed(machine_id)
        query = (
            select(RecordRow.payload, RecordRow.setup)
            .where(
                RecordRow.machine_id == machine_id,
                RecordRow.kind == "look",
                RecordRow.struck_at.is_(None),
                func.json_extract(RecordRow.payload, "$.grade") == 0,
            )
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(4 * MOST_RECORDS)
        )
        if change is not None:
            query = query.where(RecordRow.at < change.at)
        found: dict[tuple[object, ...], BalanceRecord] = {}
        for payload, setup in self._session.execute(query).tuples():
            if not isinstance(payload, StitchedLook):
                continue
            loft = setup.sandwich and setup.sandwich.loft
            key = (tuple(t.id for t in setup.top), setup.bobbin and setup.bobbin.id, loft, payload.motion)
            if key in found:
                continue
            combination = Combination.of_setup(machine.kind, machine.scale, setup, payload.motion)
            if combination is not None:
                found[key] = BalanceRecord(combination, payload.setting, " + ".join(t.name for t in setup.top))
        return list(found.values())[:MOST_RECORDS]

    def recipes(self, machine_id: int | None, limit: int = 200) -> Sequence[RecordRow]:
        """Return the kept combinations that are not struck out, newest first."""
        rows = self.log(machine_id=machine_id, kind="recipe", limit=limit)
        return [row for row in rows if row.struck_at is None]

    def screw_turned_since(self, case_id: int, since: datetime) -> bool:
        """Say whether the screw of a case was turned after a moment."""
        query = (
            select(RecordRow.id)
            .where(
                RecordRow.case_id == case_id,
                RecordRow.kind == "screw_turned",
                RecordRow.struck_at.is_(None),
                RecordRow.at > since,
            )
            .limit(1)
        )
        return self._session.scalar(query) is not None

    def kept_at(self, machine_id: int) -> datetime | None:
        """Return when this machine's newest combination was kept."""
        (row,) = self._latest(machine_id, ("recipe",), None)
        return row.at if row else None

    def _latest(self, machine_id: int, kinds: Sequence[str], until: RecordRow | None) -> tuple[RecordRow | None, ...]:
        """Return the newest record that counts of each kind, up to ``until``; one query for all."""
        about = {"machine": machine_id, "at": until and until.at, "id": until and until.id}
        rows = self._session.scalars(newest_of(tuple(kinds), until is not None), about)
        found = {row.kind: row for row in rows}
        return tuple(found.get(kind) for kind in kinds)


def _index(row: RecordRow, payload: Payload) -> None:
    """Fill the columns that queries look for."""
    row.packet_id = payload.packet if isinstance(payload, NeedleFitted) else None
    row.case_id = _case_of(payload)
    row.incident_id = payload.incident if isinstance(payload, Step) else None


def _case_of(payload: Payload) -> int | None:
    match payload:
        case BobbinLoaded(case=case) | BobbinReading(case=case) | BobbinLook(case=case) | ScrewTurned(case=case):
            return case
        case PartMarked(part=Part.CASE, id=case):
            return case
        case _:
            return None


def _newer(row: RecordRow | None, than: RecordRow) -> bool:
    return row is not None and (row.at, row.id) > (than.at, than.id)
