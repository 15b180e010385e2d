"""The whole workshop as lines, each with its UUID, written out (:mod:`weftonos.store.bringing` brings them in).

A line is a dict as JSON has it. In it other things are named by their UUIDs, so that it means the same everywhere.
Lines are written one at a time: years of records need not fit into the memory at once.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import Any

from sqlalchemy import text
from sqlalchemy.orm import Session

from weftonos.core.log.logbook import Unreadable
from weftonos.core.log.references import NAMED_RECORDS, Thing, renamed
from weftonos.store.documents import in_todays_form, kind_in, read_document

#: How many lines are looked up and written at once.
LINES_AT_ONCE = 500
#: Told how many lines of how many are done; may raise to break off.
Told = Callable[[int, int], None]
TABLES: Mapping[Thing, str] = {
    Thing.MACHINE: "machine",
    Thing.THREAD: "thread",
    Thing.PACKET: "needle_packet",
    Thing.CASE: "bobbin_case",
    Thing.BOBBIN: "bobbin",
    Thing.RECORD: "record",
}


def how_many(session: Session) -> dict[Thing, int]:
    """Return how many things of each sort there are, struck ones included."""
    return {
        thing: session.execute(text(f"SELECT count(*) FROM {table}")).scalar() or 0 for thing, table in TABLES.items()
    }


def in_words(counts: Mapping[str, int] | Mapping[Thing, int]) -> str:
    """Return how many of each sort in a line: ``"3 machines, 60 threads"``; empty for none."""
    return ", ".join(f"{count} {thing}s" for thing, count in counts.items())


def lines(session: Session) -> Iterator[dict[str, Any]]:
    """Yield every thing and then every record of a workshop, each with all that is known of it."""
    yield from _lines(session, TABLES)


def things(session: Session) -> Iterator[dict[str, Any]]:
    """Yield every thing of a workshop, in an order in which none names a later one."""
    yield from _lines(session, [thing for thing in TABLES if thing is not Thing.RECORD])


def _lines(session: Session, sorts: Iterable[Thing]) -> Iterator[dict[str, Any]]:
    names = names_of(session)
    for thing in sorts:
        yield from lines_of(session, thing, names)


def names_of(session: Session) -> dict[Thing, dict[int, str]]:
    """Return the UUIDs by number; of records, those that others name."""
    found: dict[Thing, dict[int, str]] = {}
    for thing, table in TABLES.items():
        kinds = ", ".join(f"'{kind}'" for kind in NAMED_RECORDS)
        only = f" WHERE kind IN ({kinds})" if thing is Thing.RECORD else ""
        found[thing] = dict(session.execute(text(f"SELECT id, uid FROM {table}{only}")).tuples().all())
    return found


def lines_of(
    session: Session, thing: Thing, names: Mapping[Thing, Mapping[int, str]], uids: Sequence[str] | None = None
) -> Iterator[dict[str, Any]]:
    """Yield the lines of one sort, all or those of some UUIDs; ``names`` are the UUIDs by number."""
    table = TABLES[thing]
    only = "" if uids is None else f" WHERE uid IN ({', '.join(f':u{n}' for n in range(len(uids)))})"
    given = {} if uids is None else {f"u{n}": uid for n, uid in enumerate(uids)}
    order = "at, id" if thing is Thing.RECORD else "id"
    rows = session.execute(text(f"SELECT * FROM {table}{only} ORDER BY {order}"), given).mappings()
    revisions = _revisions(session, names, only, given) if thing is Thing.RECORD else {}
    for row in rows.yield_per(LINES_AT_ONCE):
        line: dict[str, Any] = {"what": thing.value, "uid": row["uid"], "version": row["version"]}
        if thing is not Thing.MACHINE:
            line["struck_at"] = in_iso(row["struck_at"])
        if thing is Thing.RECORD:
            line |= {
                "machine": names[Thing.MACHINE][row["machine_id"]],
                "kind": row["kind"],
                "at": in_iso(row["at"]),
                "noted_at": in_iso(row["noted_at"]),
                **_said(row["kind"], row["payload"], names, readable=not row["unreadable"]),
            }
            line["revisions"] = revisions.get(row["id"], [])
        else:
            if thing is Thing.CASE:
                line["machine"] = names[Thing.MACHINE].get(row["machine_id"])
            kind = thing.value
            unread = isinstance(read_document(row["spec"], kind), Unreadable)
            line |= _said(kind, row["spec"], names, readable=not unread)
        yield line


def _revisions(
    session: Session, names: Mapping[Thing, Mapping[int, str]], only: str, given: Mapping[str, str]
) -> dict[int, list[dict[str, Any]]]:
    within = f" WHERE record_id IN (SELECT id FROM record{only})" if only else ""
    found: dict[int, list[dict[str, Any]]] = {}
    query = f"SELECT record_id, at, action, was_at, was FROM revision{within} ORDER BY id"
    for record, at, action, was_at, was in session.execute(text(query), given).tuples():
        said: dict[str, Any] = {"at": in_iso(at), "action": action, "was_at": in_iso(was_at)}
        if was is not None:
            kind = kind_in(was)
            said |= _said(kind, was, names, readable=not isinstance(read_document(was, kind), Unreadable))
        found.setdefault(record, []).append(said)
    return found


def _said(kind: str, document: str, names: Mapping[Thing, Mapping[int, str]], *, readable: bool) -> dict[str, Any]:
    """Return a document with UUIDs; what can't be read goes out as it was written."""
    if not readable:
        return {"written": document}
    return {"document": renamed(kind, in_todays_form(document, kind), lambda thing, number: names[thing].get(number))}


def in_iso(stored: str | None) -> str | None:
    """Return a moment as a line has it, from how the workshop's file has it."""
    return None if stored is None else f"{str(stored).replace(' ', 'T')}+00:00"
