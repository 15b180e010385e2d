"""Lines brought into an empty or a filled workshop, by their UUIDs (:mod:`weftonos.store.archive` writes them out).

Lines are read one at a time: years of records need not fit into the memory at once.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import asdict, dataclass, field, replace
from datetime import datetime
from enum import StrEnum
from functools import cached_property
from typing import Any

from sqlalchemy import insert, select, text
from sqlalchemy.orm import Session

from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.logbook import Unreadable
from weftonos.core.log.references import Thing, renamed
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.archive import LINES_AT_ONCE, TABLES, Told, in_iso, lines_of
from weftonos.store.documents import as_stored, in_todays_form, read_document, write_document
from weftonos.store.drawer import thread_columns
from weftonos.store.folding import columns_beside, refold
from weftonos.store.models import ImportChangeRow, ImportRow, MachineRow


class Differing(StrEnum):
    """What becomes of a thing that is here already and reads differently in the file."""

    KEEP = "keep"
    TAKE = "take"


@dataclass(kw_only=True)
class Brought:
    """What an import did, or would do: how many things of each sort are new, the same, or differ; and what was
    named anew since its name is taken here. ``versions`` counts the changes of what it brought, by then.
    """

    new: dict[str, int] = field(default_factory=dict)
    same: dict[str, int] = field(default_factory=dict)
    differing: dict[str, int] = field(default_factory=dict)
    named_anew: list[str] = field(default_factory=list)
    versions: dict[str, int] = field(default_factory=dict)


def _count(counts: dict[str, int], thing: str) -> None:
    counts[thing] = counts.get(thing, 0) + 1


Reading = Callable[[], Iterable[Mapping[str, Any]]]


def bring_in(
    session: Session,
    reading: Reading,
    *,
    name: str,
    now: datetime,
    differing: Differing = Differing.KEEP,
    told: Told | None = None,
    total: int = 0,
) -> tuple[ImportRow, Brought]:
    """Bring lines into a workshop, by their UUIDs; the caller commits, or rolls back for having looked only.

    Parameters
    ----------
    reading: gives the lines, each time anew: things before the records that name them. They are read twice.
    name: of the file, for the list of what was brought in.
    differing: whether what reads differently here is kept, or written over with what it said kept beside it.

    Raises :class:`CraftError` with the line for what cannot be brought in; nothing may be committed then.
    """
    row = ImportRow(at=now, name=name[:200], brought="{}")
    session.add(row)
    session.flush()
    bringing = _Bringing(session, row.id, now, differing)
    bringing.number(reading())
    done = 0
    for batch in _batches(reading()):
        bringing.write(batch)
        done += len(batch)
        if told:
            told(done, total)
    bringing.renew()
    bringing.brought.versions = versions_of(session, row.id)
    row.brought = json.dumps(asdict(bringing.brought))
    session.flush()
    return row, bringing.brought


def versions_of(session: Session, import_id: int) -> dict[str, int]:
    """Return how often what an import brought has been changed, by the sort of thing."""
    counted = {
        thing.value: session.execute(
            text(f"SELECT sum(version) FROM {table} WHERE import_id = :id"), {"id": import_id}
        ).scalar()
        for thing, table in TABLES.items()
    }
    return {thing: count for thing, count in counted.items() if count}


def forget(session: Session, row: ImportRow) -> None:
    """Forget that an import was one: what it brought stays."""
    for table in TABLES.values():
        session.execute(text(f"UPDATE {table} SET import_id = NULL WHERE import_id = :id"), {"id": row.id})
    session.delete(row)
    session.flush()


def _batches(found: Iterable[Mapping[str, Any]]) -> Iterator[list[Mapping[str, Any]]]:
    batch: list[Mapping[str, Any]] = []
    for line in found:
        if batch and (len(batch) == LINES_AT_ONCE or batch[0]["what"] != line["what"]):
            yield batch
            batch = []
        batch.append(line)
    if batch:
        yield batch


def insert_rows(session: Session, table: str, rows: Sequence[Mapping[str, Any]]) -> None:
    """Insert rows of the same columns, their values as the file keeps them."""
    if not rows:
        return
    names = list(rows[0])
    marks = ", ".join("?" for _ in names)
    statement = f"INSERT INTO {table} ({', '.join(names)}) VALUES ({marks})"
    session.connection().exec_driver_sql(statement, [tuple(row.values()) for row in rows])


def set_columns(session: Session, table: str, id_: int, columns: Mapping[str, Any]) -> None:
    """Write over columns of a row, as a change of it: its version counts up."""
    given = ", ".join(f"{name} = ?" for name in columns)
    session.connection().exec_driver_sql(
        f"UPDATE {table} SET {given}, version = version + 1 WHERE id = ?", (*columns.values(), id_)
    )


class _Bringing:
    """One import on its way: the number of every UUID, here or new, and what was done with each line."""

    def __init__(self, session: Session, import_id: int, now: datetime, differing: Differing) -> None:
        self._session = session
        self._import = import_id
        self._now = now
        self._differing = differing
        self.brought = Brought()
        self._ids: dict[Thing, dict[str, int]] = {}
        self._here: dict[Thing, set[str]] = {}
        self._nicknames: set[str] = set()
        self._labels: set[str] = set()
        self._touched: dict[int, datetime] = {}

    def number(self, found: Iterable[Mapping[str, Any]]) -> None:
        """Give every thing that is new a number; raises for a UUID that stands twice."""
        free: dict[Thing, int] = {}
        for thing, table in TABLES.items():
            here = {uid: id_ for id_, uid in self._session.execute(text(f"SELECT id, uid FROM {table}")).tuples()}
            self._ids[thing], self._here[thing] = here, set(here)
            free[thing] = max(here.values(), default=0) + 1
        seen: dict[Thing, set[str]] = {thing: set() for thing in Thing}
        for line in found:
            thing, uid = Thing(line["what"]), line["uid"]
            if uid in seen[thing]:
                raise CraftError(f"The {thing.value} {uid} stands twice in the file.", "file")
            seen[thing].add(uid)
            if uid not in self._ids[thing]:
                self._ids[thing][uid] = free[thing]
                free[thing] += 1
        machines = self._session.scalars(select(MachineRow)).all()
        self._nicknames = {m.spec.nickname for m in machines if isinstance(m.spec, Machine)}
        cases = self._session.execute(text("SELECT spec FROM bobbin_case WHERE struck_at IS NULL")).scalars()
        specs = [read_document(spec, "case") for spec in cases]
        self._labels = {spec.label for spec in specs if isinstance(spec, BobbinCase)}

    def write(self, batch: Sequence[Mapping[str, Any]]) -> None:
        """Write lines of one sort: new ones as new rows, others by what is to become of them."""
        thing = Thing(batch[0]["what"])
        batch = [_in_todays_form(thing, line) for line in batch]
        known = [line["uid"] for line in batch if line["uid"] in self._here[thing]]
        present = {}
        if known:
            present = {line["uid"]: line for line in lines_of(self._session, thing, self._uids, known)}
        rows, revisions = [], []
        for line in batch:
            if (here := present.get(line["uid"])) is None:
                _count(self.brought.new, thing.value)
                columns, corrections = self._columns(thing, line)
                rows.append(columns)
                revisions += corrections
            elif self._reads(thing, here) == self._reads(thing, line := self._called_as_here(thing, here, line)):
                _count(self.brought.same, thing.value)
            else:
                _count(self.brought.differing, thing.value)
                if self._differing is Differing.TAKE:
                    self._overwrite(thing, here, line)
        insert_rows(self._session, TABLES[thing], rows)
        insert_rows(self._session, "revision", revisions)

    def _called_as_here(self, thing: Thing, here: Mapping[str, Any], line: Mapping[str, Any]) -> Mapping[str, Any]:
        """Return a line under the name it was given here, where its own was taken when it first came in."""
        field = {Thing.MACHINE: "nickname", Thing.CASE: "label"}.get(thing)
        if field is None or "document" not in line or "document" not in here:
            return line
        own, given = str(line["document"].get(field, "")), str(here["document"].get(field, ""))
        anew = re.fullmatch(re.escape(own[:34]) + r" \(\d+\)", given)
        taken = self._nicknames if thing is Thing.MACHINE else self._labels
        return {**line, "document": {**line["document"], field: given}} if anew and own in taken else line

    def _reads(self, thing: Thing, line: Mapping[str, Any]) -> dict[str, Any]:
        """Return what of a line makes it say something else; how often a row was changed does not."""
        return {key: value for key, value in self._in_full(thing, line).items() if key != "version"}

    def _in_full(self, thing: Thing, line: Mapping[str, Any]) -> dict[str, Any]:
        """Return a line as this workshop would write it: what a document leaves out stands for what is usual."""
        kind = line["kind"] if thing is Thing.RECORD else thing.value
        full = {**line, **_moments(line), **self._document_in_full(kind, line)}
        if "revisions" in line:
            full["revisions"] = [
                {**said, **_moments(said), **self._document_in_full(kind, said)} for said in line["revisions"]
            ]
        return full

    def _document_in_full(self, kind: str, said: Mapping[str, Any]) -> dict[str, Any]:
        if "document" not in said:
            return {}
        try:
            value = self._read(kind, said["document"])
        except CraftError:
            return {}
        if isinstance(value, Unreadable):
            return {}
        return {"document": renamed(kind, json.loads(write_document(value)), lambda t, number: self._uids[t][number])}

    @cached_property
    def _uids(self) -> Mapping[Thing, Mapping[int, str]]:
        """The UUIDs by number: only an import that meets things that are here already asks for them."""
        return {thing: {id_: uid for uid, id_ in ids.items()} for thing, ids in self._ids.items()}

    def _read(self, kind: str, document: Mapping[str, Any]) -> Any:
        """Read a document of a line with this workshop's numbers; raises :class:`CraftError` where it has none."""
        moved = renamed(kind, document, self._id)
        return read_document(json.dumps(moved, ensure_ascii=False), kind)

    def _id(self, thing: Thing, uid: object) -> int:
        found = self._ids[thing].get(uid) if isinstance(uid, str) else None
        if found is None:
            raise CraftError(
                f"It names a {thing.value} that is neither here nor in the file ({str(uid)[:40]}).", "file"
            )
        return found

    def _document(self, kind: str, line: Mapping[str, Any], which: str) -> tuple[Any, str]:
        """Return a document and its text here; raises :class:`CraftError` where it is not one."""
        if "written" in line:
            written = str(line["written"])
            value = read_document(written, kind)
            if not isinstance(value, Unreadable):
                raise CraftError(f"{which} is given as it was written, though it can be read.", "file")
            return value, written
        try:
            value = self._read(kind, line["document"])
        except CraftError as error:
            raise CraftError(f"{which}: {error}", "file") from error
        if isinstance(value, Unreadable):
            raise CraftError(f"{which} can't be read. {value.why}", "file")
        return value, write_document(value)

    def _columns(
        self, thing: Thing, line: Mapping[str, Any], *, new: bool = True
    ) -> tuple[dict[str, Any], list[dict[str, Any]]]:
        """Return the row that a line makes, and its revisions."""
        uid = line["uid"]
        which = f"The {line['kind'] if thing is Thing.RECORD else thing.value} {uid}"
        row: dict[str, Any] = {
            "id": self._ids[thing][uid],
            "uid": uid,
            "version": line["version"],
            "import_id": self._import,
        }
        if thing is Thing.RECORD:
            return self._record(row, line, which)
        value, written = self._document(thing.value, line, which)
        if new and isinstance(value, Machine | BobbinCase):
            value = self._with_a_free_name(value)
            written = write_document(value)
        row["spec"] = written
        if thing is not Thing.MACHINE:
            row["struck_at"] = _stored(line["struck_at"], which)
        if thing is Thing.THREAD:
            row |= self._of_thread(value, which)
        elif thing is Thing.CASE:
            row["machine_id"] = self._id(Thing.MACHINE, line["machine"]) if line["machine"] else None
        elif thing is Thing.BOBBIN:
            if not isinstance(value, Bobbin):
                raise CraftError(f"{which} can't be read, so its thread isn't known.", "file")
            row["thread_id"] = value.thread
        return row, []

    @staticmethod
    def _of_thread(value: object, which: str) -> dict[str, Any]:
        if not isinstance(value, DrawerThread):
            raise CraftError(f"{which} can't be read, so it can't go into the drawer.", "file")
        return thread_columns(value)

    def _with_a_free_name(self, value: Machine | BobbinCase) -> Machine | BobbinCase:
        taken = self._nicknames if isinstance(value, Machine) else self._labels
        name = value.nickname if isinstance(value, Machine) else value.label
        free, number = name, 2
        while free in taken:
            free, number = f"{name[:34]} ({number})", number + 1
        taken.add(free)
        if free == name:
            return value
        self.brought.named_anew.append(f"{name} is called {free} here, since there is one of that name.")
        return replace(value, nickname=free) if isinstance(value, Machine) else replace(value, label=free)

    def _record(
        self, row: dict[str, Any], line: Mapping[str, Any], which: str
    ) -> tuple[dict[str, Any], list[dict[str, Any]]]:
        kind = line["kind"]
        value, written = self._document(kind, line, which)
        if not isinstance(value, Unreadable) and getattr(value, "kind", "") != kind:
            raise CraftError(f"{which} says that it is another kind of record.", "file")
        row |= {
            "machine_id": self._id(Thing.MACHINE, line["machine"]),
            "kind": kind,
            "at": _stored(line["at"], which),
            "noted_at": _stored(line["noted_at"], which),
            "struck_at": _stored(line["struck_at"], which),
            "payload": written,
            **columns_beside(value),
        }
        self._touch(row["machine_id"], line["at"])
        return row, [self._revision(row["id"], kind, said, which) for said in line["revisions"]]

    def _revision(self, record: int, kind: str, said: Mapping[str, Any], which: str) -> dict[str, Any]:
        has = "document" in said or "written" in said
        return {
            "record_id": record,
            "at": _stored(said["at"], which),
            "action": str(said["action"])[:12],
            "was_at": _stored(said["was_at"], which),
            "was": self._document(kind, said, which)[1] if has else None,
        }

    def _touch(self, machine_id: int, *moments: str) -> None:
        for moment in moments:
            at = datetime.fromisoformat(moment)
            self._touched[machine_id] = min(at, self._touched.get(machine_id, at))

    def _overwrite(self, thing: Thing, here: Mapping[str, Any], line: Mapping[str, Any]) -> None:
        """Write what the file says over a row; what stood there is kept for taking the import back."""
        id_, table = self._ids[thing][line["uid"]], TABLES[thing]
        was = self._session.execute(text(f"SELECT * FROM {table} WHERE id = :id"), {"id": id_}).mappings().one()
        columns, corrections = self._columns(thing, line, new=False)
        kept: dict[str, Any] = {
            name: was[name] for name in columns if name not in ("id", "uid", "version", "import_id")
        }
        if thing is Thing.RECORD:
            kept["revisions"] = self._replace_revisions(id_, here, line, corrections, dict(was))
            self._touch(columns["machine_id"], here["at"])
        self._session.execute(
            insert(ImportChangeRow).values(
                import_id=self._import, place=table, row=id_, was=json.dumps(kept, ensure_ascii=False)
            )
        )
        written = {name: columns[name] for name in kept if name != "revisions"}
        set_columns(self._session, table, id_, written)

    def _replace_revisions(
        self,
        id_: int,
        here: Mapping[str, Any],
        line: Mapping[str, Any],
        corrections: list[dict[str, Any]],
        was: Mapping[str, Any],
    ) -> list[dict[str, Any]]:
        """Put the file's revisions in place; what this workshop said is one of them, if it is not already."""
        query = text("SELECT at, action, was_at, was FROM revision WHERE record_id = :id ORDER BY id")
        before = [dict(row) for row in self._session.execute(query, {"id": id_}).mappings()]
        self._session.execute(text("DELETE FROM revision WHERE record_id = :id"), {"id": id_})
        known = here["revisions"]
        if line["revisions"][: len(known)] != known:
            # Both went on from what they had in common: the words of this workshop stay readable.
            ours = {
                "record_id": id_,
                "at": as_stored(self._now),
                "action": "corrected",
                "was_at": was["at"],
                "was": was["payload"],
            }
            corrections = [*({"record_id": id_, **row} for row in before), *corrections, ours]
        insert_rows(self._session, "revision", corrections)
        return before

    def renew(self) -> None:
        """Let every set-up follow from the log anew."""
        self._session.expire_all()
        for machine_id, first in self._touched.items():
            refold(self._session, machine_id, None, first, first)


def _stored(moment: str | None, what: str) -> str | None:
    """Return a moment as the file has it; raises :class:`CraftError` for what is none."""
    if moment is None:
        return None
    try:
        read = datetime.fromisoformat(moment)
    except (TypeError, ValueError):
        read = None
    if read is None or read.tzinfo is None:
        raise CraftError(f"“{str(moment)[:40]}” isn't a time with its zone ({what}).", "file")
    return as_stored(read)


def _in_todays_form(thing: Thing, line: Mapping[str, Any]) -> Mapping[str, Any]:
    """Return a line with its documents lifted to today's form; what cannot be lifted is refused where it is read."""
    kind = line["kind"] if thing is Thing.RECORD else thing.value

    def lifted(said: Mapping[str, Any]) -> dict[str, Any]:
        with suppress(ValueError):
            if said.get("document") is not None:
                return {**said, "document": in_todays_form(said["document"], kind)}
        return dict(said)

    line = lifted(line)
    return {**line, "revisions": [lifted(said) for said in line["revisions"]]} if line.get("revisions") else line


def _moments(said: Mapping[str, Any]) -> dict[str, str | None]:
    """Return the moments of a line or revision, written as this workshop writes them."""
    return {
        name: in_iso(_stored(said[name], name)) for name in ("at", "noted_at", "struck_at", "was_at") if name in said
    }
