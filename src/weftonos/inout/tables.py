"""Records and things as tables for spreadsheets: one row each, a unit in the head, other things by their UUIDs."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from sqlalchemy.orm import Session

from weftonos.core.log.logbook import KIND_NAMES
from weftonos.core.log.references import Thing, renamed
from weftonos.knowledge import columns
from weftonos.learned.entries import LogEntry
from weftonos.store.archive import names_of
from weftonos.store.documents import as_fields, fields_of

#: The tables of things, by what stands in them.
THING_TABLES: Mapping[Thing, str] = {
    Thing.MACHINE: "machines",
    Thing.THREAD: "threads",
    Thing.PACKET: "needles",
    Thing.CASE: "cases",
    Thing.BOBBIN: "bobbins",
}
_FIRST = ("uid", "at", "noted_at", "struck_at", "machine", "quilt_on", "top_thread", "bobbin_thread", "needle")
_LAST = ("corrections", "reads")


def heads(kind: str) -> list[str]:
    """Return the head of a table: of a kind of record, or of a kind of thing."""
    fields = [_head(name) for name in fields_of(kind)]
    if kind in KIND_NAMES:
        return [*_FIRST, *_LAST, *fields]
    return ["uid", "struck_at", *(["machine"] if kind == Thing.CASE else []), *fields]


def _head(name: str) -> str:
    unit = columns().field[name].unit
    return f"{name} ({unit})" if unit else name


def explained(kind: str) -> list[tuple[str, str]]:
    """Return every column of a table with what it holds."""
    known = columns()
    fields = dict(zip(map(_head, fields_of(kind)), fields_of(kind), strict=True))
    said = []
    for head in heads(kind):
        # A field may be called as one of the first columns: a machine's own "at", a thing's "machine".
        of_field = head in fields and (head not in known.first or kind not in KIND_NAMES)
        said.append((head, known.field[fields[head]].says if of_field else known.first[head].says))
    return said


class Tables:
    """Makes the rows of tables; the names of things are looked up once."""

    def __init__(self, session: Session) -> None:
        self._names = names_of(session)

    def record(self, entry: LogEntry) -> list[Any]:
        """Return a record's row."""
        setup = entry.setup
        first = [
            entry.uid,
            entry.at.isoformat(),
            entry.noted_at.isoformat(),
            entry.struck_at.isoformat() if entry.struck_at else "",
            entry.machine,
            setup.quilt,
            setup.top_in_full,
            setup.bobbin.in_full if setup.bobbin else "",
            setup.needle.words if setup.needle else "",
            len(entry.revisions),
            entry.text,
        ]
        return [*first, *self.fields(entry.kind, entry.payload)]

    def fields(self, kind: str, value: object) -> list[Any]:
        """Return the cells of a document's fields; empty ones where it can't be read."""
        document = as_fields(value) if value is not None else None
        if document is None:
            return [""] * len(fields_of(kind))
        moved = renamed(kind, document, lambda thing, number: self._names[thing].get(number, ""))
        return [_cell(name, moved) for name in fields_of(kind)]

    def thing(self, line: Mapping[str, Any], machine: str = "") -> list[Any]:
        """Return a thing's row from its line; one that can't be read has its text in the last cell."""
        kind = line["what"]
        first = [line["uid"], line.get("struck_at") or "", *([machine] if kind == Thing.CASE else [])]
        if "document" not in line:
            return [*first, *[""] * (len(fields_of(kind)) - 1), line["written"]]
        return [*first, *(_cell(name, line["document"]) for name in fields_of(kind))]


def _cell(name: str, document: Mapping[str, Any]) -> Any:
    value: Any = document
    for step in name.split("."):
        value = value.get(step) if isinstance(value, Mapping) else None
    if isinstance(value, list | tuple):
        return "; ".join(_item(each) for each in value)
    if isinstance(value, Mapping):
        return json.dumps(value, ensure_ascii=False) if value else ""
    return value


def _item(value: Any) -> str:
    if not isinstance(value, Mapping):
        return str(value)
    if "low" in value and "value" in value:
        # A pull, as it is typed.
        return f"{value['value']:g}" if value["value"] is not None else f"{value['low']:g}-{value['high']:g}"
    return " ".join(f"{key}={each}" for key, each in value.items() if each is not None)


def by_kind(entries: Iterable[LogEntry]) -> Iterator[tuple[str, Sequence[LogEntry]]]:
    """Yield records by their kind, in the order of the kinds."""
    found: dict[str, list[LogEntry]] = {}
    for entry in entries:
        found.setdefault(entry.kind, []).append(entry)
    for kind in KIND_NAMES:
        if kind in found:
            yield kind, found[kind]


def log_table(session: Session, entries: Iterable[LogEntry]) -> Iterator[list[Any]]:
    """Yield a head and the rows of records of any kinds, what is special to a kind left out."""
    tables = Tables(session)
    first = [*_FIRST, *_LAST]
    yield ["kind", *first]
    for entry in entries:
        yield [entry.kind, *tables.record(entry)[: len(first)]]
