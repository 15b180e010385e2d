"""The Log: every record as it reads, newest first, with its revisions; and what cannot be read."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.kernel.scale import TopScale
from weftonos.core.log.logbook import KIND_NAMES, Unreadable, describe
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.store.models import AnyPayload, MachineRow, RecordRow
from weftonos.store.workshop import Workshop

#: A search reads so many records at once, and so many for one page at most.
READ_AT_ONCE = 200
READ_AT_MOST = 3000


@dataclass(frozen=True, kw_only=True)
class Revision:
    """What happened to a record, and what it said before."""

    at: datetime
    action: str
    said: str
    was_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class LogEntry:
    """A record as it reads, with the set-up it was made under and its revisions.

    Without ``payload`` it could not be read: ``unreadable`` says why, ``written`` is its text.
    """

    id: int
    uid: str
    version: int
    machine_id: int
    machine: str
    kind: str
    kind_name: str
    at: datetime
    noted_at: datetime
    text: str
    payload: AnyPayload | None
    setup: Setup
    struck_at: datetime | None
    revisions: Sequence[Revision]
    unreadable: str = ""
    written: str = ""


@dataclass(frozen=True)
class LogPage:
    """A page of the log; ``more`` is the id to continue before, or none at the end."""

    entries: Sequence[LogEntry]
    more: int | None


@dataclass(frozen=True, kw_only=True)
class ShownAsWritten:
    """A document that cannot be read: in which list, its number there, its kind, why, and its text."""

    table: str
    id: int
    kind: str
    why: str
    text: str


def log_entries(workshop: Workshop, rows: Sequence[RecordRow]) -> list[LogEntry]:
    """Return records as the interface shows them; a handful of queries, however many there are."""
    setups = workshop.setups_at(rows)
    said = [row.payload for row in rows] + [r.was for row in rows for r in row.revisions if r.was]
    threads, recipes, parts = workshop.threads_named(said), workshop.recipe_names(said), workshop.part_labels(said)
    entries = []
    for row in rows:
        setup, scale = setups[row.id], scale_of(row.machine)
        revisions = [
            Revision(
                at=r.at,
                action=r.action,
                said=describe(r.was, setup, scale, threads, recipes=recipes, labels=parts) if r.was else "",
                was_at=r.was_at,
            )
            for r in row.revisions
        ]
        lost = row.payload if isinstance(row.payload, Unreadable) else None
        entries.append(
            LogEntry(
                id=row.id,
                uid=row.uid,
                version=row.version,
                machine_id=row.machine_id,
                machine=nickname(row.machine),
                kind=row.kind,
                kind_name=KIND_NAMES.get(row.kind, "Unknown kind"),
                at=row.at,
                noted_at=row.noted_at,
                text=describe(row.payload, setup, scale, threads, recipes=recipes, labels=parts),
                payload=None if lost else row.payload,
                setup=setup,
                struck_at=row.struck_at,
                revisions=revisions,
                unreadable=lost.why if lost else "",
                written=lost.text if lost else "",
            )
        )
    return entries


def log_entry(workshop: Workshop, row: RecordRow) -> LogEntry:
    """Return one record as the interface shows it."""
    return log_entries(workshop, [row])[0]


def lines(workshop: Workshop, rows: Iterable[RecordRow]) -> dict[int, str]:
    """Return what each record says in one line, by the record."""
    rows = list(rows)
    said = [row.payload for row in rows]
    setups, threads, recipes = workshop.setups_at(rows), workshop.threads_named(said), workshop.recipe_names(said)
    parts = workshop.part_labels(said)
    return {
        row.id: describe(row.payload, setups[row.id], scale_of(row.machine), threads, recipes=recipes, labels=parts)
        for row in rows
    }


@dataclass(frozen=True, kw_only=True)
class LogSearch:
    """What of the log to show: a machine, kinds, a quilt, days (``until`` is the first left out), words that must all
    be there, and where the page before ended.
    """

    machine: int | None = None
    kinds: Sequence[str] = ()
    quilt: str | None = None
    since: datetime | None = None
    until: datetime | None = None
    words: str = ""
    before: int | None = None
    limit: int = 50


def log_page(workshop: Workshop, search: LogSearch) -> LogPage:
    """Page through the log, newest first.

    What a record says is made from what it names, so words are looked for in what it reads as: so many records are
    read for one page, and a page that found little says where to go on.
    """
    wanted = search.words.casefold().split()
    place, found, read = search.before, list[LogEntry](), 0
    while True:
        start = workshop.record(place) if place else None
        page = workshop.log(
            machine_id=search.machine,
            kinds=search.kinds,
            quilt=search.quilt,
            since=search.since,
            until=search.until,
            before=start,
            limit=READ_AT_ONCE if wanted else search.limit,
        )
        for entry in log_entries(workshop, page.items):
            read += 1
            place = entry.id
            text = _haystack(entry) if wanted else ""
            if all(word in text for word in wanted):
                found.append(entry)
                if len(found) == search.limit:
                    break
        full = len(found) == search.limit
        if full or page.more is None or read >= READ_AT_MOST:
            at_end = page.more is None and (not page.items or place == page.items[-1].id)
            return LogPage(found, None if at_end else place)


def _haystack(entry: LogEntry) -> str:
    setup, note = entry.setup, getattr(entry.payload, "note", "")
    names = [t.name for t in setup.top] + ([setup.bobbin.name] if setup.bobbin else [])
    needle = setup.needle.words if setup.needle else ""
    parts = [entry.text, entry.kind_name, entry.machine, setup.quilt, needle, *names, note, entry.written]
    return " ".join(parts).casefold()


def unreadable(workshop: Workshop) -> list[ShownAsWritten]:
    """List every document that cannot be read, as it was written; it takes no part in anything."""
    return [
        ShownAsWritten(table=row.table, id=row.id, kind=row.document.kind, why=row.document.why, text=row.document.text)
        for row in workshop.unreadable()
    ]


def scale_of(machine: MachineRow) -> TopScale | None:
    """Return the scale a machine is set on; ``None`` where its description cannot be read."""
    return machine.spec.scale if isinstance(machine.spec, Machine) else None


def nickname(machine: MachineRow) -> str:
    """Return a machine's name, or its number where its description cannot be read."""
    return machine.spec.nickname if isinstance(machine.spec, Machine) else f"machine {machine.id}"
