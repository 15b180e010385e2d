"""The Log: every record as it reads, newest first, with its revisions; and what can't be read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from weftonos.learned.entries import LogEntry, log_entries
from weftonos.store.reading import LogSearch
from weftonos.store.unreadable import unreadable_rows
from weftonos.store.workshop import Workshop

#: A search reads so many records at once, and so many for one page at most.
READ_AT_ONCE = 200
READ_AT_MOST = 3000


@dataclass(frozen=True)
class LogPage:
    """A page of the log; ``more`` is the id to continue before, or none at the end."""

    entries: Sequence[LogEntry]
    more: int | None


@dataclass(frozen=True, kw_only=True)
class ShownAsWritten:
    """A document that can't be read: in which list, its number there, its kind, why, and its text."""

    table: str
    id: int
    kind: str
    why: str
    text: str


def log_page(workshop: Workshop, search: LogSearch) -> LogPage:
    """Page through the log, newest first.

    What a record says is made from what it names, so words are looked for in what it reads as: so many records are
    read for one page, and a page that found little says where to go on.
    """
    wanted = search.words.casefold().split()
    place, found, read = search.before, list[LogEntry](), 0
    while True:
        page = workshop.log(replace(search, before=place, limit=READ_AT_ONCE if wanted else search.limit))
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
    """List every document that can't be read, as it was written; it takes no part in anything."""
    return [
        ShownAsWritten(table=row.table, id=row.id, kind=row.document.kind, why=row.document.why, text=row.document.text)
        for row in unreadable_rows(workshop.session)
    ]
