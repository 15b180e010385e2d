"""The workshop's file in the trade's terms, read: machines, the log, what was on a machine, what was learned."""

from __future__ import annotations

from collections.abc import Callable, Container, Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, TypeVar

from sqlalchemy import func, inspect, select
from sqlalchemy.orm import Session, make_transient_to_detached, selectinload

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.estimate import MOST_LOOKS
from weftonos.core.balance.moved import moves_with_the_screw
from weftonos.core.balance.recipe import Recipe, noted_setup
from weftonos.core.bobbin.conditions import ReadUnder
from weftonos.core.bobbin.events import BobbinReading, Part, PartMarked, ScrewTurned
from weftonos.core.bobbin.own_number import OwnNumber, learn_number, own_target
from weftonos.core.bobbin.purpose import Purpose, purpose_of, purpose_target
from weftonos.core.bobbin.rack import Bobbin
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.standing import Standing
from weftonos.core.log.logbook import CLOCK_SLACK, Payload, Unreadable, case_of, part_key
from weftonos.core.log.own_minutes import RecordMoment
from weftonos.core.log.run import WalkDone
from weftonos.core.plan.passes import PassStep, QuiltPlanned
from weftonos.core.setup.events import (
    BobbinLoaded,
    MarkSet,
    RecipeUsed,
    StitchedLook,
)
from weftonos.core.setup.fold import ROLES, Event, InForce, setup_of, threads_of
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.setup.turned import Below
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.drawer import Drawer, NotFoundError
from weftonos.store.folding import IN_FORCE, events_of, numbers_of
from weftonos.store.kept import ReadOnce
from weftonos.store.marks import NEVER_MOVED, Marks, marks_by_machine
from weftonos.store.mending import Mending
from weftonos.store.models import (
    BobbinRow,
    MachineRow,
    RecordRow,
)
from weftonos.store.order import NEWEST_FIRST, counting, earlier_than
from weftonos.store.paging import Page
from weftonos.store.plans import Plans
from weftonos.store.present import Present, read_present
from weftonos.store.quilts import Quilts, on_quilt
from weftonos.store.rack import EVENTS_REMEMBERED, Rack
from weftonos.store.runs import Runs

#: How many of a machine's last looks say where its combinations balance.
LOOKS_REMEMBERED = 300
#: The last records whose moments say what things take.
RECORDS_TIMED = 600
#: So many records are remembered.
MOST_EVENTS = 20_000
#: What of a set-up makes it another combination to stitch.
_STITCHED_WITH = ("top", "loaded", "reading", "sandwich")
#: What makes one combination.
_COMBINED = ("top", "loaded", "fitted")
#: Whatever set-ups are asked for by.
Key = TypeVar("Key", bound=Hashable)


@dataclass(frozen=True, kw_only=True)
class LogSearch:
    """What of the log to show: a machine, kinds, a quilt, days (``until`` is the first left out), words that must all
    be there, the record that the page before ended with, and whether only what counts.
    """

    machine: int | None = None
    kinds: Sequence[str] = ()
    quilt: str | None = None
    since: datetime | None = None
    until: datetime | None = None
    words: str = ""
    before: int | None = None
    limit: int = 50
    unstruck: bool = False


class Reading:
    """What one workshop's records say, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = self.session = session
        # Held here, since the session itself lets go of what nobody holds and would read it again.
        self._machines: dict[int, MachineRow] = {}
        self._read = ReadOnce(session)
        self.drawer = Drawer(session)
        self.rack = Rack(session)
        self.runs = Runs(session)
        self.mending = Mending(session)
        self.quilts = Quilts(session)
        self.plans = Plans(session)

    # Machines

    def machines(self) -> Sequence[MachineRow]:
        """Return all machines whose description can be read, in the order they were added."""
        rows = self._session.scalars(select(MachineRow).order_by(MachineRow.id)).all()
        self._machines |= {row.id: row for row in rows}
        return [row for row in rows if isinstance(row.spec, Machine)]

    def machine(self, machine_id: int) -> MachineRow:
        """Return one machine; raises :class:`NotFoundError`, :class:`CraftError` where it can't be read."""
        row = self._machines.get(machine_id) or self._described(machine_id)
        if row is None:
            raise NotFoundError("There is no such machine.")
        self._machines[machine_id] = row
        if isinstance(row.spec, Unreadable):
            raise CraftError(f"This machine's description can't be read. {row.spec.why}", "machine")
        return row

    def _described(self, machine_id: int) -> MachineRow | None:
        known: dict[int, MachineRow] = self._read.of(MachineRow)
        if machine_id in known:
            return self._session.merge(known[machine_id], load=False)
        if (row := self._session.get(MachineRow, machine_id)) is not None:
            alone = MachineRow(**{column.key: getattr(row, column.key) for column in inspect(MachineRow).column_attrs})
            make_transient_to_detached(alone)
            known[machine_id] = alone
        return row

    # The logbook

    def record(self, record_id: int) -> RecordRow:
        """Return one record; raises :class:`NotFoundError`."""
        row = self._session.get(RecordRow, record_id)
        if row is None:
            raise NotFoundError("There is no such record in the log.")
        return row

    def log(self, search: LogSearch) -> Page[RecordRow]:
        """Return a page of records, newest first; words are looked for where records are put into them."""
        query = (
            select(RecordRow).options(selectinload(RecordRow.revisions)).order_by(*NEWEST_FIRST).limit(search.limit + 1)
        )
        if search.machine is None:
            query = query.options(selectinload(RecordRow.machine))
        else:
            # One machine's records find it in the session: most who ask have it in hand.
            query = query.where(RecordRow.machine_id == search.machine)
        if search.kinds:
            query = query.where(RecordRow.kind.in_(search.kinds))
        if search.quilt is not None:
            query = query.where(on_quilt(self._session, search.quilt))
        if search.since is not None:
            query = query.where(RecordRow.at >= search.since)
        if search.until is not None:
            query = query.where(RecordRow.at < search.until)
        if search.unstruck:
            query = query.where(RecordRow.struck_at.is_(None))
        if search.before is not None:
            query = query.where(earlier_than(self.record(search.before)))
        found = self._session.scalars(query).all()
        shown = found[: search.limit]
        return Page(shown, str(shown[-1].id) if len(found) > search.limit else None)

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

    # What was on a machine

    def present(self, machine_id: int) -> Present:
        """Return a machine as it stands by the log."""
        known: dict[int, Present] = self._read.of(Present)
        if machine_id not in known:
            read = known[machine_id] = read_present(self._session, machine_id)
            in_force = (getattr(read.in_force, role) for role in ROLES)
            self._read.of(Event).update((event.id, event) for event in in_force if event)
        return known[machine_id]

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
        noted = [row for row in rows if isinstance(row.payload, Recipe | Cloth) and row.payload.noted_elsewhere]
        if noted:
            threads = self.threads_named(row.payload for row in noted)
            setups |= {row.id: noted_setup(row.payload, row.id, row.at, threads) for row in noted}
        return setups

    def setups_of(self, numbers: Mapping[Key, Mapping[str, int | None]]) -> Mapping[Key, Setup]:
        """Return the set-ups that records in force make, by any key."""
        events = self.events(number for roles in numbers.values() for number in roles.values())
        return self._setups({key: InForce.of(roles, events) for key, roles in numbers.items()})

    def combinations_at(self, rows: Iterable[Any]) -> Mapping[int, Setup]:
        """Return the threads and needle that were on at each of these records (or ``IN_FORCE`` of them)."""
        return self._setups_by(rows, _COMBINED)

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
        known: dict[int, Event] = self._read.of(Event)
        if unknown := {number for number in wanted if number not in known}:
            found = events_of(self._session, unknown)
            if len(known) + len(found) > MOST_EVENTS:
                # An export goes over all of them.
                known = {number: known[number] for number in wanted if number in known}
            known |= found
        return {number: known[number] for number in wanted if number in known}

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

    def pass_names(self, payloads: Iterable[object]) -> Mapping[tuple[int, int], str]:
        """Return the names of the passes that records name, by plan and number."""
        plans = self.events({payload.plan for payload in payloads if isinstance(payload, PassStep)})
        return {
            (number, each.key): f"{event.payload.quilt}, {each.words}"
            for number, event in plans.items()
            if isinstance(event.payload, QuiltPlanned)
            for each in event.payload.passes
        }

    def _setups(self, states: Mapping[Key, InForce]) -> dict[Key, Setup]:
        said = [state.top and state.top.payload for state in states.values()]
        said += [state.loaded and state.loaded.payload for state in states.values()]
        threads = self.drawer.specs({number for payload in said for number in threads_of(payload)})
        cases = self.rack.specs({number for payload in said if (number := case_of(payload)) is not None})
        return {key: setup_of(state, threads, cases) for key, state in states.items()}

    def last_walks(self, machine_id: int) -> Mapping[str, datetime]:
        """Return when each procedure was last walked on a machine, by its name on the page of procedures."""
        query = (
            select(RecordRow.detail, func.max(RecordRow.at))
            .where(*counting(machine_id, WalkDone.kind))
            .group_by(RecordRow.detail)
        )
        return {walk: at for walk, at in self._session.execute(query).tuples() if walk}

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
                fiber = below.fiber if below else None
                found.append(
                    ReadUnder(mean_mn=reading.mean_mn, conditions=reading.conditions, fiber=fiber, turns_before=turns)
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
        marked, lies = self.marks(machine_id), self.lies_by_hand(machine_id)

        def today(look: StitchedLook, at: datetime, setup: Setup) -> StitchedLook:
            return replace(look, setting=lies(look.setting - marked.moved_since(at), at, setup))

        return [
            (today(row.payload, row.at, setups[row.id]), setups[row.id])
            for row in rows
            if isinstance(row.payload, StitchedLook)
        ]

    def below_now(self, machine_id: int) -> Below | None:
        """Return the case and thread below that are in a machine now; ``None`` where no bobbin was loaded."""
        loaded = self.present(machine_id).in_force.loaded
        load = loaded.payload if loaded else None
        if not isinstance(load, BobbinLoaded):
            return None
        return Below(case=load.case, thread=self.rack.one_thread()(load.bobbin))

    def lies_by_hand(self, machine_id: int) -> Callable[[float, datetime, Setup], float]:
        """Return what says where a setting of then should lie now, by what the screw was turned since.

        Where bobbins are felt no number says how tight one was: the turns do, for the thread and case that are in.
        """
        machine, now = self.machine(machine_id).spec, self.below_now(machine_id)
        if Feature.BY_HAND not in machine.features or now is None:
            return lambda setting, at, setup: setting
        turns, alike, scale = self.rack.screw_turns(machine_id), self.rack.one_thread(), machine.scale

        def lies(setting: float, at: datetime, setup: Setup) -> float:
            if setup.reading or setup.bobbin is None:
                return setting
            then = Below(case=setup.case.id if setup.case else None, thread=alike(setup.bobbin.id))
            minutes = turns.after(at, then) if then == now else 0
            return scale.within(setting + moves_with_the_screw(scale, minutes)) if minutes else setting

        return lies

    def moments(self, machine_id: int) -> Sequence[RecordMoment]:
        """Return when a machine's last records were noted, oldest first."""
        query = select(RecordRow.kind, RecordRow.detail, RecordRow.at).where(*counting(machine_id))
        rows = self._session.execute(query.order_by(*NEWEST_FIRST).limit(RECORDS_TIMED))
        return [RecordMoment(*row) for row in rows.tuples()][::-1]

    def marks(self, machine_id: int) -> Marks:
        """Return when the mark of a machine's knob was set anew, and by how much it moved."""
        # Marks are few, and lists that go over all machines need those of each: all are read at once.
        every = self._read.whole(Marks, lambda: marks_by_machine(self.said(MarkSet.kind)))
        return every.get(machine_id, NEVER_MOVED)

    def _forget(self) -> None:
        """Let go of what was read of the log: it says something else now."""
        self._read.forget()
        self.runs.forget()
        self.rack.forget()
