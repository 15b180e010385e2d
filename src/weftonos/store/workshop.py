"""The workshop's file in the trade's terms: what is written, corrected, struck out, and what is read back."""

from __future__ import annotations

from collections.abc import Container, Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, TypeVar

from sqlalchemy import func, select
from sqlalchemy.orm import Session, selectinload

from weftonos.core.balance.estimate import MOST_LOOKS
from weftonos.core.balance.recipe import Recipe, check_correction, noted_setup
from weftonos.core.bobbin.conditions import ReadUnder
from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Part, PartMarked, ScrewTurned
from weftonos.core.bobbin.own_number import OwnNumber, learn_number, own_target
from weftonos.core.bobbin.purpose import Purpose, purpose_of, purpose_target
from weftonos.core.bobbin.rack import Bobbin
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.scale import ScaleKind
from weftonos.core.kernel.standing import Standing
from weftonos.core.log.logbook import CLOCK_SLACK, UNREADABLE, Payload, Unreadable, case_of, check_time, part_key
from weftonos.core.mend.incident import SEWN_ON, Incident, IncidentAnswer, IncidentCheck, IncidentOutcome, Preflight
from weftonos.core.needle.bundle_advice import check_bobbin_work
from weftonos.core.needle.packet import check_system
from weftonos.core.setup.events import (
    BobbinLoaded,
    CasePutBack,
    KnobSet,
    MarkSet,
    NeedleFitted,
    RecipeUsed,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.setup.fold import ROLES, Event, InForce, setup_of, threads_of
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.bringing import bring_in, forget
from weftonos.store.drawer import Drawer, NotFoundError, row_of
from weftonos.store.folding import IN_FORCE, columns_beside, events_of, numbers_of, refold, renew_machines
from weftonos.store.mending import Mending
from weftonos.store.models import (
    BobbinRow,
    CaseRow,
    MachineRow,
    PacketRow,
    RecordRow,
    RevisionRow,
    ThreadRow,
)
from weftonos.store.order import NEWEST_FIRST, counting, earlier_than
from weftonos.store.paging import Page
from weftonos.store.present import Present, read_present
from weftonos.store.quilts import Quilts, on_quilt
from weftonos.store.rack import EVENTS_REMEMBERED, Rack
from weftonos.store.runs import Runs
from weftonos.store.versions import require_version

#: How many of a machine's last looks say where its combinations balance.
LOOKS_REMEMBERED = 300
#: What of a set-up makes it another combination to stitch.
_STITCHED_WITH = ("top", "loaded", "reading", "sandwich")
#: Whatever set-ups are asked for by.
Key = TypeVar("Key", bound=Hashable)


@dataclass(frozen=True)
class UnreadableRow:
    """A document that cannot be read: in which list, its number there, and what stands in it."""

    table: str
    id: int
    document: Unreadable


@dataclass(frozen=True)
class Marks:
    """When a knob's mark was set anew, and by how many turns it moved each time."""

    moved: Sequence[tuple[datetime, float]]

    def moved_since(self, at: datetime) -> float:
        """Return by how much the mark moved since a moment: that much less is a setting of then on today's mark."""
        return sum(by for when, by in self.moved if when > at)


class Workshop:
    """The records of one workshop, through one database session; the caller commits."""

    def __init__(self, session: Session) -> None:
        self._session = self.session = session
        # Held here, since the session itself lets go of what nobody holds and would read it again.
        self._machines: dict[int, MachineRow] = {}
        # What was read of the log, until something is written.
        self._present: dict[int, Present] = {}
        self._events: dict[int, Event] = {}
        self.drawer = Drawer(session)
        self.rack = Rack(session)
        self.runs = Runs(session)
        self.mending = Mending(session)
        self.quilts = Quilts(session)

    # Machines

    def machines(self) -> Sequence[MachineRow]:
        """Return all machines whose description can be read, in the order they were added."""
        rows = self._session.scalars(select(MachineRow).order_by(MachineRow.id)).all()
        self._machines |= {row.id: row for row in rows}
        return [row for row in rows if isinstance(row.spec, Machine)]

    def machine(self, machine_id: int) -> MachineRow:
        """Return one machine; raises :class:`NotFoundError`, :class:`CraftError` where it cannot be read."""
        row = self._machines.get(machine_id) or self._session.get(MachineRow, machine_id)
        if row is None:
            raise NotFoundError("There is no such machine.")
        self._machines[machine_id] = row
        if isinstance(row.spec, Unreadable):
            raise CraftError(f"This machine's description cannot be read. {row.spec.why}", "machine")
        return row

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

    # The logbook, read

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
        kinds: Sequence[str] = (),
        quilt: str | None = None,
        since: datetime | None = None,
        until: datetime | None = None,
        before: RecordRow | None = None,
        limit: int = 50,
        unstruck: bool = False,
    ) -> Page[RecordRow]:
        """Return records newest first, struck ones included unless only ``unstruck`` ones; ``before`` continues.

        ``kinds``, ``quilt``, ``since`` and ``until`` (exclusive) narrow them; without any, all are returned.
        """
        query = (
            select(RecordRow)
            .options(selectinload(RecordRow.revisions), selectinload(RecordRow.machine))
            .order_by(*NEWEST_FIRST)
            .limit(limit + 1)
        )
        if machine_id is not None:
            query = query.where(RecordRow.machine_id == machine_id)
        if kinds:
            query = query.where(RecordRow.kind.in_(kinds))
        if quilt is not None:
            query = query.where(on_quilt(self._session, quilt))
        if since is not None:
            query = query.where(RecordRow.at >= since)
        if until is not None:
            query = query.where(RecordRow.at < until)
        if unstruck:
            query = query.where(RecordRow.struck_at.is_(None))
        if before is not None:
            query = query.where(earlier_than(before))
        found = self._session.scalars(query).all()
        shown = found[:limit]
        return Page(shown, str(shown[-1].id) if len(found) > limit else None)

    def in_the_future(self, now: datetime) -> int:
        """Return how many counting records lie in the future: a clock ran ahead when they were kept."""
        ahead = select(func.count()).select_from(RecordRow)
        ahead = ahead.where(RecordRow.at > now + CLOCK_SLACK, RecordRow.struck_at.is_(None))
        return self._session.scalar(ahead) or 0

    def said(self, kind: str) -> Iterator[tuple[int, datetime, Payload]]:
        """Yield what every record of a kind that counts says, with its machine and time."""
        query = select(RecordRow.machine_id, RecordRow.at, RecordRow.payload).where(
            RecordRow.kind == kind, RecordRow.struck_at.is_(None)
        )
        for machine_id, at, payload in self._session.execute(query).tuples():
            if not isinstance(payload, Unreadable):
                yield machine_id, at, payload

    def unreadable(self) -> Sequence[UnreadableRow]:
        """Return every document that cannot be read, as it was written."""
        found = []
        columns: Sequence[tuple[Any, Any]] = (
            (MachineRow, MachineRow.spec),
            (ThreadRow, ThreadRow.spec),
            (PacketRow, PacketRow.spec),
            (CaseRow, CaseRow.spec),
            (BobbinRow, BobbinRow.spec),
            (RecordRow, RecordRow.payload),
        )
        for table, column in columns:
            query = select(table.id, column).order_by(table.id)
            if table is RecordRow:
                query = query.where(RecordRow.detail == UNREADABLE)
            for id_, document in self._session.execute(query):
                if isinstance(document, Unreadable):
                    found.append(UnreadableRow(table.__tablename__, id_, document))
        return found

    # The set-up

    def present(self, machine_id: int) -> Present:
        """Return a machine as it stands by the log."""
        if machine_id not in self._present:
            read = self._present[machine_id] = read_present(self._session, machine_id)
            in_force = (getattr(read.in_force, role) for role in ROLES)
            self._events |= {event.id: event for event in in_force if event}
        return self._present[machine_id]

    def setup(self, machine_id: int) -> Setup:
        """Return what is on a machine now."""
        return self._setups({0: self.present(machine_id).in_force})[0]

    def setup_at(self, row: RecordRow) -> Setup:
        """Return what was on its machine when a record was made, that record included."""
        return self.setups_at([row])[row.id]

    def setups_at(self, rows: Iterable[Any]) -> Mapping[int, Setup]:
        """Return what was on the machine at each of these records (or ``IN_FORCE`` of them), by the record."""
        rows = list(rows)
        setups = dict(self.setups_of({row.id: numbers_of(row) for row in rows}))
        noted = [row for row in rows if isinstance(row.payload, Recipe) and row.payload.noted_elsewhere]
        if noted:
            threads = self.threads_named(row.payload for row in noted)
            setups |= {row.id: noted_setup(row.payload, row.id, row.at, threads) for row in noted}
        return setups

    def setups_of(self, numbers: Mapping[Key, Mapping[str, int | None]]) -> Mapping[Key, Setup]:
        """Return the set-ups that records in force make, by any key."""
        events = self.events(number for roles in numbers.values() for number in roles.values())
        return self._setups({key: InForce.of(roles, events) for key, roles in numbers.items()})

    def _setups_by(self, rows: Iterable[Any], roles: Container[str]) -> Mapping[int, Setup]:
        """Return what these roles make of the set-up at each record: what records share is made once."""
        parts = {row.id: {r: n if r in roles else None for r, n in numbers_of(row).items()} for row in rows}
        setups = self.setups_of({tuple(part.values()): part for part in parts.values()})
        return {number: setups[tuple(part.values())] for number, part in parts.items()}

    def setups_now(self, machine_ids: Iterable[int]) -> Mapping[int, Setup]:
        """Return what is on each of these machines now."""
        newest = {
            machine_id: select(RecordRow.id)
            .where(*counting(machine_id))
            .order_by(*NEWEST_FIRST)
            .limit(1)
            .scalar_subquery()
            for machine_id in set(machine_ids)
        }
        rows = self._session.scalars(select(RecordRow).where(RecordRow.id.in_(newest.values()))).all()
        found = {row.machine_id: numbers_of(row) for row in rows}
        return {**dict.fromkeys(newest, Setup()), **self.setups_of(found)}

    def events(self, numbers: Iterable[int | None]) -> Mapping[int, Event]:
        """Return records by their numbers, as events; read once until something is written."""
        wanted = {number for number in numbers if number}
        if unknown := wanted - self._events.keys():
            self._events |= events_of(self._session, unknown)
        return {number: self._events[number] for number in wanted if number in self._events}

    def part_labels(self, payloads: Iterable[object]) -> Mapping[str, str]:
        """Return the labels of the cases and bobbins that records name, by the word for each part."""
        said = list(payloads)
        cases = {number for payload in said if (number := case_of(payload)) is not None}
        bobbins = {p.id for p in said if isinstance(p, PartMarked) and p.part is Part.BOBBIN}
        found = {part_key(Part.CASE, number): spec.label for number, spec in self.rack.specs(cases).items()}
        if bobbins:
            rows = self._session.scalars(select(BobbinRow).where(BobbinRow.id.in_(bobbins)))
            found |= {part_key(Part.BOBBIN, r.id): r.spec.label for r in rows if isinstance(r.spec, Bobbin)}
        return found

    def recipe_names(self, payloads: Iterable[object]) -> Mapping[int, str]:
        """Return the names of the kept combinations that records name."""
        numbers = {payload.recipe for payload in payloads if isinstance(payload, RecipeUsed)}
        return {
            number: event.payload.name
            for number, event in self.events(numbers).items()
            if isinstance(event.payload, Recipe)
        }

    def _setups(self, states: Mapping[Key, InForce]) -> dict[Key, Setup]:
        said = [state.top and state.top.payload for state in states.values()]
        said += [state.loaded and state.loaded.payload for state in states.values()]
        threads = self.drawer.specs({number for payload in said for number in threads_of(payload)})
        cases = self.rack.specs({number for payload in said if (number := case_of(payload)) is not None})
        return {key: setup_of(state, threads, cases) for key, state in states.items()}

    def threads_named(self, payloads: Iterable[object]) -> Mapping[int, DrawerThread]:
        """Return the threads of the drawer that records name, struck out or not."""
        return self.drawer.specs({number for payload in payloads for number in threads_of(payload)})

    # What was learned

    def own_number(self, machine_id: int) -> OwnNumber | None:
        """Return a machine's own bobbin number, from the readings under its last balanced looks."""
        return learn_number(self.present(machine_id).own_mn)

    def purpose(self, machine_id: int) -> Purpose:
        """Return what the bobbin of a machine is set for."""
        setup, machine = self.setup(machine_id), self.machine(machine_id).spec
        top = tuple(tag.thread for tag in setup.top)
        return purpose_of(setup.purpose, machine.number_school, top, bobbin_work=setup.bobbin_work)

    def bobbin_target(self, machine_id: int, case_id: int | None = None) -> BobbinTarget | None:
        """Return the range to be in, for what the bobbin is set for; a case that is out has its ordinary one."""
        ordinary, setup = self.ordinary_target(machine_id, case_id), self.setup(machine_id)
        if case_id is not None and setup.case and setup.case.id != case_id:
            return ordinary
        return purpose_target(ordinary, self.purpose(machine_id), setup.purpose.target if setup.purpose else None)

    def ordinary_target(self, machine_id: int, case_id: int | None = None) -> BobbinTarget | None:
        """Return the range for ordinary thread: the case's own, else the machine's, learned or usual."""
        if case_id is not None and (case := self.rack.specs([case_id]).get(case_id)) and (own := case.target):
            return BobbinTarget(low=own.low, high=own.high, origin="this case's own", standing=Standing.OWN_RECORDS)
        return self.machine(machine_id).spec.bobbin_target(own_target(self.own_number(machine_id)))

    def case_left(self, case_id: int) -> BobbinLoaded | None:
        """Return the last load of a case that counts: the bobbin that is still in it."""
        query = (
            select(RecordRow.payload)
            .where(RecordRow.case_id == case_id, RecordRow.kind == BobbinLoaded.kind, RecordRow.struck_at.is_(None))
            .order_by(*NEWEST_FIRST)
            .limit(1)
        )
        found = self._session.scalar(query)
        return found if isinstance(found, BobbinLoaded) else None

    def readings_under(self, case_id: int) -> Sequence[ReadUnder]:
        """Return the last readings of a case with what each was taken under, oldest first."""
        query = (
            select(*IN_FORCE, RecordRow.kind)
            .where(
                RecordRow.case_id == case_id,
                RecordRow.kind.in_((BobbinReading.kind, ScrewTurned.kind)),
                RecordRow.struck_at.is_(None),
            )
            .order_by(*NEWEST_FIRST)
            .limit(EVENTS_REMEMBERED)
        )
        rows = self._session.execute(query).all()[::-1]
        setups = self._setups_by([row for row in rows if row.kind == BobbinReading.kind], ("loaded",))
        found, turns = [], 0
        for row in rows:
            if isinstance(reading := row.payload, BobbinReading):
                setup = setups[row.id]
                below = setup.bobbin if setup.case and setup.case.id == case_id else None
                fibre = below.fibre if below else None
                found.append(
                    ReadUnder(mean_mn=reading.mean_mn, conditions=reading.conditions, fibre=fibre, turns_before=turns)
                )
            elif isinstance(row.payload, ScrewTurned):
                turns += 1
        return found

    def looks_since_change(self, machine_id: int, motion: Motion) -> Sequence[RecordRow]:
        """Return the looks at the combination that is on, in this motion, oldest first."""
        change = self.present(machine_id).in_force.change
        query = (
            select(RecordRow)
            .options(selectinload(RecordRow.revisions))
            .where(
                *counting(machine_id, StitchedLook.kind),
                RecordRow.change_id.is_not_distinct_from(change.id if change else None),
            )
            .order_by(*NEWEST_FIRST)
        )
        if change is not None:
            query = query.where(RecordRow.at >= change.at)
        found = []
        # The motion stands in the document alone; a combination is looked at a few dozen times at most.
        for row in self._session.scalars(query.execution_options(yield_per=MOST_LOOKS)):
            if isinstance(row.payload, StitchedLook) and row.payload.motion is motion:
                found.append(row)
                if len(found) == MOST_LOOKS:
                    break
        return found[::-1]

    def looks_before(self, machine_id: int, *, another: bool = False) -> Sequence[tuple[StitchedLook, Setup]]:
        """Return the last looks at combinations before the present one, newest first, with their set-ups.

        These hold threads, bobbin, reading and sandwich alone. Before ``another`` one is put on, those at the present
        one are among them.
        """
        change = None if another else self.present(machine_id).in_force.change
        query = (
            select(*IN_FORCE)
            .where(*counting(machine_id, StitchedLook.kind))
            .order_by(*NEWEST_FIRST)
            .limit(LOOKS_REMEMBERED)
        )
        if change is not None:
            query = query.where(RecordRow.at < change.at)
        rows = self._session.execute(query).all()
        setups = self._setups_by(rows, _STITCHED_WITH)
        marked = self.marks(machine_id)
        return [
            (replace(row.payload, setting=row.payload.setting - marked.moved_since(row.at)), setups[row.id])
            for row in rows
            if isinstance(row.payload, StitchedLook)
        ]

    def marks(self, machine_id: int) -> Marks:
        """Return when the mark of a machine's knob was set anew, and by how much it moved."""
        query = select(RecordRow.at, RecordRow.payload).where(*counting(machine_id, MarkSet.kind))
        set_anew = self._session.execute(query).tuples()
        return Marks([(at, payload.at) for at, payload in set_anew if isinstance(payload, MarkSet)])

    # The logbook, written

    def note(self, machine_id: int, payload: Payload, at: datetime, now: datetime) -> RecordRow:
        """Write a record.

        Raises :class:`CraftError` when it does not fit the machine or the drawer; nothing is stored then.
        """
        check_time(at, now)
        self._check(machine_id, self.machine(machine_id).spec, payload, at)
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
            raise CraftError("A correction keeps the kind of record. Strike it out and write a new one.", "kind")
        check_time(at, now)
        self._check(row.machine_id, self.machine(row.machine_id).spec, payload, at, row)
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

    def _forget(self) -> None:
        """Let go of what was read of the log: it says something else now."""
        self._present.clear()
        self._events.clear()
        self.runs.forget()
        self.rack.forget()

    def _check(
        self, machine_id: int, machine: Machine, payload: Payload, at: datetime, row: RecordRow | None = None
    ) -> None:
        """Refuse what does not fit; what an old record said already is not judged again."""
        if row is None and machine.retired:
            raise CraftError(f"{machine.nickname} is retired. Put it back into use under Workshop first.", "machine")
        old = row.payload if row else None
        case_id = case_of(payload)
        if case_id is not None and case_id != case_of(old) and not self._is_in(machine_id, case_id):
            self.rack.usable_case(case_id)
        known = set(threads_of(old))
        match payload:
            case TopThreaded(top=ids):
                for thread_id in ids:
                    self._thread(thread_id, "top", known)
            case BobbinLoaded(bobbin=thread_id, bobbin_work=work):
                below = self._thread(thread_id, "bobbin", known).thread
                before_item = old.item if isinstance(old, BobbinLoaded) else None
                if payload.item is not None and payload.item != before_item:
                    self._check_item(payload.item, thread_id)
                if work:
                    # By what was on top then, not by what is on now.
                    check_bobbin_work(below, self._setup_before(machine_id, at, row).top_bundle)
            case BobbinLook() if old is None and machine.drops_in:
                raise CraftError(
                    f"The bobbin of {machine.nickname} drops in: there is no case to hang or to lay on the palm. "
                    "Judge it by the stitch; if it has a case to take out after all, say so under Workshop.",
                    "test",
                )
            case CasePutBack(case=number) if old is None or case_of(old) != number:
                self._check_put_back(machine_id, number, at)
            case KnobSet(setting=setting) if setting is not None:
                machine.scale.check(setting)
            case MarkSet(name=name, at=moved):
                if machine.scale.kind is not ScaleKind.TURNS:
                    raise CraftError("Only an unmarked knob has a mark; this scale has numbers.", "at")
                machine.scale.check(moved, "at")
                mark = self.setup(machine_id).mark
                if old is None and mark and (mark.name, moved) == (name, 0):
                    raise CraftError("The mark is set there already, under that name.", "name")
            case RecipeUsed(recipe=number):
                kept = row_of(self._session, RecordRow, number)
                if kept is None or kept.kind != Recipe.kind or kept.machine_id != machine_id:
                    raise CraftError("That is no combination kept on this machine.", "recipe")
            case Recipe() if isinstance(old, Recipe):
                check_correction(old, payload)
            case StitchedLook(setting=setting) | Recipe(setting=setting):
                if not isinstance(old, StitchedLook) or old.setting != setting:
                    machine.scale.check(setting)
            case NeedleFitted(packet=packet_id):
                # A needle of another system that is in is a fact: it is recorded, and the line says what is wrong.
                before = old if isinstance(old, NeedleFitted) else None
                if packet_id is not None and not (before and before.packet == packet_id):
                    self._check_packet(machine, packet_id, payload)
            case Preflight(done=()):
                raise CraftError("No check is ticked. Tick one at least, or delete the record.", "done")
            case PartMarked(part=Part.BOBBIN, id=number) if old is None:
                self.rack.usable_bobbin(number)
            case IncidentCheck() | IncidentAnswer() | IncidentOutcome():
                about = row_of(self._session, RecordRow, payload.incident)
                if about is None or about.kind != Incident.kind or about.machine_id != machine_id:
                    raise CraftError("That is no trouble of this machine.", "incident")
            case _:
                pass

    def _is_in(self, machine_id: int, case_id: int) -> bool:
        """Say whether a case is in a machine: one that was deleted there is still read and turned."""
        case = self.setup(machine_id).case
        return case is not None and case.id == case_id

    def _thread(self, thread_id: int, field: str, known: set[int]) -> DrawerThread:
        if thread_id in known and (spec := self.drawer.specs([thread_id]).get(thread_id)):
            return spec
        return self.drawer.usable_thread(thread_id, field)

    def _check_item(self, item: int, thread_id: int) -> None:
        if self.rack.usable_bobbin(item).thread_id != thread_id:
            raise CraftError("That bobbin holds another thread.", "item")

    def _check_put_back(self, machine_id: int, case_id: int, at: datetime) -> None:
        label = self.rack.case(case_id).spec.label
        loaded = select(RecordRow.id).where(
            *counting(machine_id, BobbinLoaded.kind), RecordRow.case_id == case_id, RecordRow.at <= at
        )
        if self._session.scalar(loaded.limit(1)) is None:
            raise CraftError(f"Case {label} was never in this machine with a bobbin. Load one into it first.", "case")
        present = self.setup(machine_id).case
        if present and present.id == case_id:
            raise CraftError(f"Case {label} is in already.", "case")

    def _setup_before(self, machine_id: int, at: datetime, row: RecordRow | None) -> Setup:
        query = select(RecordRow).where(*counting(machine_id), RecordRow.at <= at)
        if row is not None:
            query = query.where(RecordRow.id != row.id)
        last = self._session.scalars(query.order_by(*NEWEST_FIRST).limit(1)).first()
        return self.setup_at(last) if last else Setup()

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


def _index(row: RecordRow, payload: Payload) -> None:
    """Fill the columns beside the document."""
    for name, value in columns_beside(payload).items():
        setattr(row, name, value)
