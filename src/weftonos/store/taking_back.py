"""Taking an import back whole: what it brought is gone, what it wrote over stands again."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import or_, select, text
from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.references import Thing, named_in
from weftonos.store.archive import TABLES
from weftonos.store.bringing import insert_rows, set_columns, versions_of
from weftonos.store.documents import in_todays_form
from weftonos.store.folding import refold, renew_beside
from weftonos.store.models import Base, ImportChangeRow, ImportRow, MachineRow, RecordRow, RevisionRow

#: Rows of others that the file itself lets hang on nothing that is gone.
_HANGING = text(
    "SELECT (SELECT count(*) FROM record WHERE import_id IS NOT :id AND ("
    "machine_id IN (SELECT id FROM machine WHERE import_id = :id) "
    "OR packet_id IN (SELECT id FROM needle_packet WHERE import_id = :id) "
    "OR case_id IN (SELECT id FROM bobbin_case WHERE import_id = :id) "
    "OR incident_id IN (SELECT id FROM record WHERE import_id = :id))) "
    "+ (SELECT count(*) FROM bobbin WHERE import_id IS NOT :id "
    "AND thread_id IN (SELECT id FROM thread WHERE import_id = :id)) "
    "+ (SELECT count(*) FROM bobbin_case WHERE import_id IS NOT :id "
    "AND machine_id IN (SELECT id FROM machine WHERE import_id = :id))"
)


@dataclass(frozen=True, kw_only=True)
class RestsOnIt:
    """What of an import was changed since it came in: the records, and how many changes of other things by sort."""

    records: Sequence[RecordRow]
    things: Mapping[str, int]

    def __bool__(self) -> bool:
        return bool(self.records or self.things)


def the_import(session: Session, import_id: int) -> ImportRow:
    """Return an import; raises :class:`CraftError`."""
    row = session.get(ImportRow, import_id)
    if row is None:
        raise CraftError("There is no such import.", "import")
    return row


def changed_since(session: Session, import_id: int) -> RestsOnIt:
    """Return what would be lost with an import beside what it brought: the corrections made since."""
    row = the_import(session, import_id)
    over = select(ImportChangeRow.row).where(
        ImportChangeRow.import_id == import_id, ImportChangeRow.place == TABLES[Thing.RECORD]
    )
    corrected = (
        select(RecordRow)
        .where(
            or_(RecordRow.import_id == import_id, RecordRow.id.in_(over)),
            RecordRow.revisions.any(RevisionRow.at > row.at),
        )
        .order_by(RecordRow.at, RecordRow.id)
    )
    before = json.loads(row.brought).get("versions", {})
    now = versions_of(session, import_id)
    things = {thing: now[thing] - count for thing, count in before.items() if now.get(thing, 0) > count}
    things.pop(Thing.RECORD.value, None)
    return RestsOnIt(records=session.scalars(corrected).all(), things=things)


def undo(session: Session, import_id: int, now: datetime, *, anyway: bool = False) -> ImportRow:
    """Take an import back whole: what it brought is gone, what it wrote over stands again.

    Raises :class:`CraftError` where it was taken back already, or where something noted since rests on what it brought;
    also where something of it was corrected since, unless it is to go ``anyway``.
    """
    row = the_import(session, import_id)
    if row.undone_at is not None:
        raise CraftError("It was taken back already.", "import")
    if not anyway and changed_since(session, import_id):
        raise CraftError("Some of it was corrected since, and those corrections would go too.", "anyway")
    mine = {thing: _brought_by(session, table, import_id) for thing, table in TABLES.items()}
    if resting := _resting_on(session, import_id, mine):
        raise CraftError(
            f"{resting} record{'s' if resting > 1 else ''} noted since rest{'s' if resting == 1 else ''} on what it "
            "brought. Delete them in the Log, or leave the import in.",
            "import",
        )
    if hanging := session.execute(_HANGING, {"id": import_id}).scalar():
        raise CraftError(
            f"{hanging} of what was noted since belongs to a machine, case, packet or trouble that it brought. So it "
            "stays. Deleted records count here too.",
            "import",
        )
    touched: dict[int, datetime] = {}
    query = "SELECT machine_id, min(at) FROM record WHERE import_id = :id GROUP BY machine_id"
    for machine_id, at in session.execute(text(query), {"id": import_id}).tuples():
        touched[machine_id] = datetime.fromisoformat(at).replace(tzinfo=UTC)
    _put_back(session, import_id, touched)
    given = {"id": import_id}
    session.execute(
        text("DELETE FROM revision WHERE record_id IN (SELECT id FROM record WHERE import_id = :id)"), given
    )
    # A step before the trouble it belongs to: each names the other's number.
    session.execute(text("UPDATE record SET incident_id = NULL, packet_id = NULL WHERE import_id = :id"), given)
    for table in reversed(list(TABLES.values())):
        session.execute(text(f"DELETE FROM {table} WHERE import_id = :id"), given)
    session.expire_all()
    for machine_id, first in touched.items():
        if session.get(MachineRow, machine_id) is not None:
            refold(session, machine_id, None, first, first)
    row.undone_at = now
    session.flush()
    return row


def _brought_by(session: Session, table: str, import_id: int) -> set[int]:
    return set(session.execute(text(f"SELECT id FROM {table} WHERE import_id = :id"), {"id": import_id}).scalars())


def _resting_on(session: Session, import_id: int, mine: Mapping[Thing, set[int]]) -> int:
    """Return how many other records that count name what an import brought, or were noted on its machines."""
    resting = set()
    others = "FROM record WHERE import_id IS NOT :id AND struck_at IS NULL"
    rows = session.execute(text(f"SELECT id, machine_id, kind, payload {others}"), {"id": import_id})
    things = {thing: numbers for thing, numbers in mine.items() if numbers}
    if not things:
        return 0
    for id_, machine_id, kind, payload in rows.tuples():
        if machine_id in mine[Thing.MACHINE]:
            resting.add(id_)
            continue
        try:
            document = in_todays_form(payload, kind)
        except ValueError:
            continue
        if any(number in things.get(thing, ()) for thing, number in named_in(kind, document)):
            resting.add(id_)
    return len(resting)


def _put_back(session: Session, import_id: int, touched: dict[int, datetime]) -> None:
    changes = session.scalars(
        select(ImportChangeRow).where(ImportChangeRow.import_id == import_id).order_by(ImportChangeRow.id.desc())
    ).all()
    connection = session.connection()
    for change in changes:
        was = json.loads(change.was)
        revisions = was.pop("revisions", None)
        if revisions is not None:
            at = connection.exec_driver_sql("SELECT at, machine_id FROM record WHERE id = ?", (change.row,)).one()
            for moment in (at[0], was["at"]):
                when = datetime.fromisoformat(moment).replace(tzinfo=UTC)
                touched[at[1]] = min(when, touched.get(at[1], when))
            connection.exec_driver_sql("DELETE FROM revision WHERE record_id = ?", (change.row,))
            insert_rows(session, "revision", [{"record_id": change.row, **said} for said in revisions])
        # A column that was added, renamed or dropped since follows from the document.
        here = Base.metadata.tables[change.place].columns
        set_columns(session, change.place, change.row, {name: value for name, value in was.items() if name in here})
    session.expire_all()
    renew_beside(session, import_id)


def imports(session: Session, most: int = 20) -> Sequence[ImportRow]:
    """Return the last imports, newest first."""
    return session.scalars(select(ImportRow).order_by(ImportRow.id.desc()).limit(most)).all()
