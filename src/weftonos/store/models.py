"""The tables: machines, threads, needles, cases and bobbins, the logbook and its revisions.

What a row is about is a document that core defines; the columns beside it are what queries look for. Every row has a
UUID, by which workshops can be merged, and a version that counts its changes.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import uuid4

from pydantic import Discriminator
from sqlalchemy import ForeignKey, Index, String, Text, text
from sqlalchemy.orm import DeclarativeBase, Mapped, declared_attr, mapped_column, relationship

from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.log.logbook import Payload
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread
from weftonos.store.documents import Document, Moment, RecordDocument

#: Every kind of record, told apart by its ``kind``.
AnyPayload = Annotated[Payload, Discriminator("kind")]


class Base(DeclarativeBase):
    """Base of all tables."""


class _Row:
    """What every row of the workshop has: a number, a UUID that is its own in every workshop, and a version."""

    id: Mapped[int] = mapped_column(primary_key=True)
    uid: Mapped[str] = mapped_column(String(32), unique=True, index=True, default=lambda: uuid4().hex)
    version: Mapped[int] = mapped_column(default=1)
    import_id: Mapped[int | None]

    @declared_attr.directive
    def __mapper_args__(cls) -> dict[str, object]:
        # Counts the changes of a row: whoever changes it says which one they saw (store/versions.py).
        return {"version_id_col": cls.version}


class MachineRow(_Row, Base):
    """A machine of the workshop."""

    __tablename__ = "machine"

    spec: Mapped[Machine] = mapped_column(Document("machine"))


class ThreadRow(_Row, Base):
    """A thread of the drawer; struck out rather than deleted.

    The columns beside the document are what the drawer is searched and sorted by.
    """

    __tablename__ = "thread"

    name: Mapped[str] = mapped_column(String(80), index=True)
    tex: Mapped[float]
    diameter_mm: Mapped[float]
    line: Mapped[str] = mapped_column(String(80))
    fiber: Mapped[str] = mapped_column(String(20))
    light: Mapped[bool]
    words: Mapped[str] = mapped_column(Text)
    spec: Mapped[DrawerThread] = mapped_column(Document("thread"))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class PacketRow(_Row, Base):
    """A packet of needles; how many are left follows from the log."""

    __tablename__ = "needle_packet"

    spec: Mapped[NeedlePacket] = mapped_column(Document("packet"))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class CaseRow(_Row, Base):
    """A bobbin case of the rack."""

    __tablename__ = "bobbin_case"

    machine_id: Mapped[int | None] = mapped_column(ForeignKey("machine.id"))
    spec: Mapped[BobbinCase] = mapped_column(Document("case"))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class BobbinRow(_Row, Base):
    """A bobbin of the rack."""

    __tablename__ = "bobbin"

    thread_id: Mapped[int] = mapped_column(ForeignKey("thread.id"))
    spec: Mapped[Bobbin] = mapped_column(Document("bobbin"))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class RecordRow(_Row, Base):
    """One event in the logbook.

    The columns from ``packet_id`` to ``unreadable`` repeat what queries look for in the document: ``detail`` is the
    one word by which records of a kind are told apart (a look's grade, a needle's point; :func:`detail_of`), ``quilt``
    the name that a record gives a quilt, or a recipe's own. The numbers from ``top_id`` on are those of the records in
    force after this one. Both are a cache, renewed with every write (:mod:`weftonos.store.folding`).
    """

    __tablename__ = "record"
    __table_args__ = (
        Index("record_at_machine", "machine_id", "kind", "at", "id"),
        Index("record_in_order", "machine_id", "at", "id"),
        Index("record_newest", "at", "id"),
        Index("record_kind_newest", "kind", "at", "id"),
        Index("record_detail", "machine_id", "kind", "detail", "at", "id"),
        Index("record_detail_newest", "kind", "detail", "at", "id"),
        Index("record_of_case", "case_id", "kind", "at", "id"),
        Index("record_of_incident", "incident_id", "at", "id"),
        Index("record_of_cloth", "cloth_id", "at", "id", sqlite_where=text("cloth_id IS NOT NULL")),
        Index("record_of_quilt", "quilt_id", "at", "id"),
        Index("record_named", "kind", "quilt", "at", "id", sqlite_where=text("quilt IS NOT NULL")),
        Index("record_unreadable", "id", sqlite_where=text("unreadable")),
    )

    machine_id: Mapped[int] = mapped_column(ForeignKey("machine.id"))
    kind: Mapped[str] = mapped_column(String(30))
    at: Mapped[datetime] = mapped_column(Moment)
    noted_at: Mapped[datetime] = mapped_column(Moment)
    packet_id: Mapped[int | None] = mapped_column(ForeignKey("needle_packet.id"), index=True)
    case_id: Mapped[int | None] = mapped_column(ForeignKey("bobbin_case.id"))
    incident_id: Mapped[int | None] = mapped_column(ForeignKey("record.id"))
    cloth_id: Mapped[int | None]
    detail: Mapped[str | None] = mapped_column(String(80))
    quilt: Mapped[str | None] = mapped_column(String(80))
    minutes: Mapped[float | None]
    length_m: Mapped[float | None]
    unreadable: Mapped[bool] = mapped_column(default=False)
    payload: Mapped[Payload] = mapped_column(RecordDocument)
    struck_at: Mapped[datetime | None] = mapped_column(Moment)
    top_id: Mapped[int | None]
    loaded_id: Mapped[int | None]
    fitted_id: Mapped[int | None]
    reading_id: Mapped[int | None]
    sandwich_id: Mapped[int | None]
    look_id: Mapped[int | None]
    change_id: Mapped[int | None]
    purpose_id: Mapped[int | None]
    knob_id: Mapped[int | None]
    good_id: Mapped[int | None]
    recipe_id: Mapped[int | None]
    mark_id: Mapped[int | None]
    quilt_id: Mapped[int | None]
    machine: Mapped[MachineRow] = relationship()
    revisions: Mapped[list[RevisionRow]] = relationship(order_by="RevisionRow.id")


class WriteKeyRow(Base):
    """The key of a write that was made, so that its repeat is the same write."""

    __tablename__ = "write_key"

    key: Mapped[str] = mapped_column(String(80), primary_key=True)
    at: Mapped[datetime] = mapped_column(Moment, index=True)


class ImportRow(Base):
    """What was brought in from a file at once, and can be taken back at once."""

    __tablename__ = "import"

    id: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(Moment)
    name: Mapped[str] = mapped_column(String(200))
    brought: Mapped[str] = mapped_column(Text)
    undone_at: Mapped[datetime | None] = mapped_column(Moment)


class ImportChangeRow(Base):
    """What stood in a row before an import wrote over it."""

    __tablename__ = "import_change"

    id: Mapped[int] = mapped_column(primary_key=True)
    import_id: Mapped[int] = mapped_column(ForeignKey("import.id"), index=True)
    place: Mapped[str] = mapped_column(String(20))
    row: Mapped[int]
    was: Mapped[str] = mapped_column(Text)


class PracticeRow(Base):
    """A round of practice: who, what, and the moves so far. It is no record: the log knows nothing of it."""

    __tablename__ = "practice"

    id: Mapped[int] = mapped_column(primary_key=True)
    person: Mapped[str] = mapped_column(String(40), index=True)
    exercise: Mapped[str] = mapped_column(String(20))
    seed: Mapped[int]
    level: Mapped[int]
    begun_at: Mapped[datetime] = mapped_column(Moment)
    ended_at: Mapped[datetime | None] = mapped_column(Moment)
    score: Mapped[float | None]
    items: Mapped[str] = mapped_column(Text)
    moves: Mapped[str] = mapped_column(Text)


class RevisionRow(Base):
    """What a record said before it was corrected, or that it was struck out or restored."""

    __tablename__ = "revision"

    id: Mapped[int] = mapped_column(primary_key=True)
    record_id: Mapped[int] = mapped_column(ForeignKey("record.id"), index=True)
    at: Mapped[datetime] = mapped_column(Moment)
    action: Mapped[str] = mapped_column(String(12))
    was_at: Mapped[datetime | None] = mapped_column(Moment)
    was: Mapped[Payload | None] = mapped_column(RecordDocument)
