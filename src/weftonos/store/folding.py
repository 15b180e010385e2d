"""The cache of core's fold: each record keeps the numbers of the records in force after it.

It is renewed in the transaction of every write, for as many later records as change, and as a whole when the rules of
the fold are newer than the file.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any

from sqlalchemy import Engine, bindparam, case, func, select, text, update
from sqlalchemy.orm import Session

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, ScrewTurned
from weftonos.core.log.logbook import Unreadable, case_of, cloth_of, detail_of, quilt_of
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Step
from weftonos.core.setup.events import BobbinLoaded, CasePutBack, NeedleFitted
from weftonos.core.setup.fold import ROLES, SETUP_KINDS, Event, InForce, Left, Remembered, after
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.database import reading
from weftonos.store.drawer import thread_columns
from weftonos.store.models import ImportChangeRow, RecordRow, ThreadRow
from weftonos.store.order import NEWEST_FIRST, OLDEST_FIRST, counting, later_than

#: Counted up whenever the fold or the columns beside a document follow other rules than before.
FOLD_VERSION = 6
#: Records that are asked for in one question.
MOST_ASKED = 5000
_NUMBERS = tuple(getattr(RecordRow, f"{role}_id") for role in ROLES)
_LOOKED_FOR = tuple(
    getattr(RecordRow, name) for name in ("cloth_id", "detail", "quilt", "minutes", "length_m", "unreadable")
)

#: What a set-up at a record is made from, without loading the whole row.
IN_FORCE = (RecordRow.id, RecordRow.at, RecordRow.payload, *_NUMBERS)


def events_of(session: Session, numbers: Iterable[int | None]) -> dict[int, Event]:
    """Return records by their numbers, as events."""
    wanted = sorted({number for number in numbers if number})
    found: dict[int, Event] = {}
    # SQLite takes so many variables in one question, and no more.
    for begin in range(0, len(wanted), MOST_ASKED):
        query = select(RecordRow.id, RecordRow.at, RecordRow.payload)
        query = query.where(RecordRow.id.in_(wanted[begin : begin + MOST_ASKED]))
        found |= {id_: Event(id_, at, payload) for id_, at, payload in session.execute(query).tuples()}
    return found


def numbers_of(row: Any) -> dict[str, int | None]:
    """Return the numbers that a record keeps of those in force after it."""
    return {role: getattr(row, f"{role}_id") for role in ROLES}


def refold(session: Session, machine_id: int, changed: int | None, first: datetime, last: datetime) -> int:
    """Renew the records of a machine from ``first`` on, until nothing changes any more; return how many changed.

    Parameters
    ----------
    changed: the record that was written, corrected, struck out or restored; ``None`` renews to the end.
    first, last: the earliest and the latest moment at which it stood or stands.
    """
    renewed = _outdated(session, machine_id, changed, first, last)
    _renew(session, RecordRow, renewed)
    return len(renewed)


def _outdated(
    session: Session, machine_id: int, changed: int | None, first: datetime, last: datetime
) -> dict[int, dict[str, int | None]]:
    """Return the numbers of each record that does not keep those that follow from the log."""
    state = _before(session, machine_id, first)
    # A case that is put back brings what stood long before: nothing is settled until the last of them is passed.
    last_put_back = session.scalar(
        select(func.max(RecordRow.at)).where(*counting(machine_id, CasePutBack.kind), RecordRow.at >= first)
    )
    known = Remembered(kin(session), _cases_left(session, machine_id, first) if last_put_back else {})
    last = max(last, last_put_back or last)
    # Only what can change a set-up is read whole.
    says = case((RecordRow.kind.in_(SETUP_KINDS), RecordRow.payload), else_=None)
    query = (
        select(RecordRow.id, RecordRow.at, RecordRow.struck_at, says.label("says"), *_NUMBERS)
        .where(RecordRow.machine_id == machine_id, RecordRow.at >= first)
        .order_by(*OLDEST_FIRST)
    )
    renewed: dict[int, dict[str, int | None]] = {}
    for row in session.execute(query.execution_options(yield_per=500)):
        # What was struck out says what would follow from it, and leaves no trace.
        follows = known if row.struck_at is None else Remembered(known.kin, dict(known.cases))
        following = after(state, Event(row.id, row.at, row.says), follows)
        now = following.numbers
        same = now == numbers_of(row)
        if not same:
            renewed[row.id] = {f"{role}_id": number for role, number in now.items()}
        if row.struck_at is not None:
            continue
        state = following
        # From here on the same records would follow from the same state.
        if same and changed is not None and row.at > last and changed not in now.values():
            break
    return renewed


def kin(session: Session) -> dict[int, int]:
    """Return, for each thread that is one of several colors of a line, the one that stands for them all."""
    query = select(ThreadRow.id, ThreadRow.spec).where(ThreadRow.line != "")
    first: dict[object, int] = {}
    return {
        id_: first.setdefault(spec.one_thread, id_)
        for id_, spec in session.execute(query.order_by(ThreadRow.id)).tuples()
        if isinstance(spec, DrawerThread)
    }


def _cases_left(session: Session, machine_id: int, first: datetime) -> dict[int, Left]:
    """Return how each case of a machine stood before a moment: in the machine last, and as it was treated since."""
    loads = counting(machine_id, BobbinLoaded.kind)
    cases = session.scalars(
        select(RecordRow.case_id).where(*loads, RecordRow.case_id.is_not(None), RecordRow.at < first).distinct()
    ).all()
    known = Remembered()
    for case_id in cases:
        of_case = select(RecordRow.id).where(*loads, RecordRow.case_id == case_id)
        was_in = (
            select(RecordRow.id, RecordRow.at, RecordRow.loaded_id, RecordRow.reading_id)
            .where(*counting(machine_id), RecordRow.at < first, RecordRow.loaded_id.in_(of_case))
            .order_by(*NEWEST_FIRST)
            .limit(1)
        )
        row = session.execute(was_in).first()
        if case_id is None or row is None:
            continue
        events = events_of(session, (row.loaded_id, row.reading_id))
        if row.loaded_id not in events:
            continue
        known.cases[case_id] = Left(events[row.loaded_id], events.get(row.reading_id))
        treated = (
            select(RecordRow.id, RecordRow.at, RecordRow.payload)
            .where(
                *counting(machine_id),
                RecordRow.case_id == case_id,
                RecordRow.kind.in_((BobbinReading.kind, BobbinLook.kind, ScrewTurned.kind)),
                RecordRow.at < first,
                later_than(Event(row.id, row.at, None)),
            )
            .order_by(*OLDEST_FIRST)
        )
        for id_, at, payload in session.execute(treated).tuples():
            known.outside(case_id, Event(id_, at, payload))
    return known.cases


def renew_machines(session: Session) -> None:
    """Renew every machine's records: threads became one thread, or are so no longer."""
    for machine_id, oldest in _oldest(session):
        refold(session, machine_id, None, oldest, oldest)


def differing(session: Session) -> int:
    """Return how many records keep other numbers or words than follow from the log: 0 in a sound file."""
    said = session.execute(select(RecordRow.id, RecordRow.payload, *_LOOKED_FOR))
    wrong = {row.id for row in said if any(getattr(row, n) != v for n, v in looked_for(row.payload).items())}
    for machine_id, first in _oldest(session):
        wrong |= _outdated(session, machine_id, None, first, first).keys()
    return len(wrong)


def _oldest(session: Session) -> list[tuple[int, datetime]]:
    query = select(RecordRow.machine_id, func.min(RecordRow.at)).group_by(RecordRow.machine_id)
    return list(session.execute(query).tuples())


def _before(session: Session, machine_id: int, first: datetime) -> InForce:
    query = select(*_NUMBERS).where(*counting(machine_id), RecordRow.at < first).order_by(*NEWEST_FIRST).limit(1)
    row = session.execute(query).first()
    if row is None:
        return InForce()
    numbers = numbers_of(row)
    return InForce.of(numbers, events_of(session, numbers.values()))


def _renew(session: Session, table: type[RecordRow | ThreadRow], rows: Mapping[int, Mapping[str, Any]]) -> None:
    """Write columns beside a document, by the row's number; that is no change of the row."""
    if not rows:
        return
    names = list(next(iter(rows.values())))
    changed = update(table.__table__).where(table.__table__.c.id == bindparam("row"))  # type: ignore[arg-type]
    # A parameter may not be called as a column is.
    changed = changed.values({name: bindparam(f"now_{name}") for name in names})
    given = [{"row": id_, **{f"now_{name}": of_row[name] for name in names}} for id_, of_row in rows.items()]
    session.connection().execute(changed, given)
    for row in session.identity_map.values():
        if isinstance(row, table) and row.id in rows:
            session.expire(row, names)


def looked_for(payload: object) -> dict[str, Any]:
    """Return the columns that queries look for, from what a record says."""
    run = payload if isinstance(payload, Run) else None
    return {
        "detail": detail_of(payload),
        "quilt": quilt_of(payload),
        "cloth_id": cloth_of(payload),
        "minutes": run and run.minutes,
        "length_m": run and run.meters,
        "unreadable": isinstance(payload, Unreadable),
    }


def columns_beside(payload: object) -> dict[str, Any]:
    """Return every column that stands beside a record's document."""
    return {
        "packet_id": payload.packet if isinstance(payload, NeedleFitted) else None,
        "case_id": case_of(payload),
        "incident_id": payload.incident if isinstance(payload, Step) else None,
        **looked_for(payload),
    }


def renew_beside(session: Session, import_id: int | None = None) -> None:
    """Renew the columns that queries look for, of all rows or of those that an import wrote over."""
    records, threads = select(RecordRow.id, RecordRow.payload), select(ThreadRow.id, ThreadRow.spec)
    if import_id is not None:
        written_over = select(ImportChangeRow.row).where(ImportChangeRow.import_id == import_id)
        records = records.where(RecordRow.id.in_(written_over.where(ImportChangeRow.place == "record")))
        threads = threads.where(ThreadRow.id.in_(written_over.where(ImportChangeRow.place == "thread")))
    _renew(session, RecordRow, {id_: looked_for(payload) for id_, payload in session.execute(records).tuples()})
    specs = session.execute(threads).tuples()
    _renew(session, ThreadRow, {id_: thread_columns(spec) for id_, spec in specs if isinstance(spec, DrawerThread)})


def renew_all(engine: Engine) -> bool:
    """Renew the whole cache where the file's is older than the rules; say whether it was."""
    with Session(reading(engine)) as session, session.begin():
        if session.scalar(text("PRAGMA user_version")) == FOLD_VERSION:
            return False
    with Session(engine) as session, session.begin():
        renew_beside(session)
        renew_machines(session)
        session.execute(text(f"PRAGMA user_version = {FOLD_VERSION}"))
    return True
