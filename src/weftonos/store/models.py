"""The tables: machines, the drawer's threads, the logbook and its revisions.

What a row is about is a document that core defines; the columns beside it are what queries look for.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Discriminator
from sqlalchemy import ForeignKey, Index, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

from weftonos.core.bobbin_rack import Bobbin, BobbinCase
from weftonos.core.drawer import DrawerThread
from weftonos.core.logbook import Payload
from weftonos.core.machine import Machine
from weftonos.core.needle_packet import NeedlePacket
from weftonos.core.setup import Setup
from weftonos.store.document import Document, Moment

#: Every kind of record, told apart by its ``kind``.
AnyPayload = Annotated[Payload, Discriminator("kind")]


class Base(DeclarativeBase):
    """Base of all tables."""


class MachineRow(Base):
    """A machine of the workshop."""

    __tablename__ = "machine"

    id: Mapped[int] = mapped_column(primary_key=True)
    spec: Mapped[Machine] = mapped_column(Document(Machine))


class ThreadRow(Base):
    """A thread of the drawer; struck out rather than deleted.

    The columns beside the document are what the drawer is searched and sorted by.
    """

    __tablename__ = "thread"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80), index=True)
    tex: Mapped[float]
    diameter_mm: Mapped[float]
    fibre: Mapped[str] = mapped_column(String(20))
    light: Mapped[bool]
    words: Mapped[str] = mapped_column(Text)
    spec: Mapped[DrawerThread] = mapped_column(Document(DrawerThread))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class PacketRow(Base):
    """A packet of needles; how many are left follows from the log."""

    __tablename__ = "needle_packet"

    id: Mapped[int] = mapped_column(primary_key=True)
    spec: Mapped[NeedlePacket] = mapped_column(Document(NeedlePacket))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class CaseRow(Base):
    """A bobbin case of the rack."""

    __tablename__ = "bobbin_case"

    id: Mapped[int] = mapped_column(primary_key=True)
    machine_id: Mapped[int | None] = mapped_column(ForeignKey("machine.id"))
    spec: Mapped[BobbinCase] = mapped_column(Document(BobbinCase))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class BobbinRow(Base):
    """A bobbin of the rack."""

    __tablename__ = "bobbin"

    id: Mapped[int] = mapped_column(primary_key=True)
    thread_id: Mapped[int] = mapped_column(ForeignKey("thread.id"))
    spec: Mapped[Bobbin] = mapped_column(Document(Bobbin))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)


class RecordRow(Base):
    """One event in the logbook, with the set-up it was made under."""

    __tablename__ = "record"
    __table_args__ = (
        Index("record_at_machine", "machine_id", "kind", "at", "id"),
        Index("record_newest", "at", "id"),
        Index("record_kind_newest", "kind", "at", "id"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    machine_id: Mapped[int] = mapped_column(ForeignKey("machine.id"))
    kind: Mapped[str] = mapped_column(String(30))
    at: Mapped[datetime] = mapped_column(Moment)
    noted_at: Mapped[datetime] = mapped_column(Moment)
    packet_id: Mapped[int | None] = mapped_column(ForeignKey("needle_packet.id"), index=True)
    case_id: Mapped[int | None] = mapped_column(ForeignKey("bobbin_case.id"), index=True)
    incident_id: Mapped[int | None] = mapped_column(ForeignKey("record.id"), index=True)
    payload: Mapped[Payload] = mapped_column(Document(AnyPayload))
    setup: Mapped[Setup] = mapped_column(Document(Setup))
    struck_at: Mapped[datetime | None] = mapped_column(Moment)
    machine: Mapped[MachineRow] = relationship()
    revisions: Mapped[list[RevisionRow]] = relationship(order_by="RevisionRow.id")


class RevisionRow(Base):
    """What a record said before it was corrected, or that it was struck out or restored."""

    __tablename__ = "revision"

    id: Mapped[int] = mapped_column(primary_key=True)
    record_id: Mapped[int] = mapped_column(ForeignKey("record.id"), index=True)
    at: Mapped[datetime] = mapped_column(Moment)
    action: Mapped[str] = mapped_column(String(12))
    was_at: Mapped[datetime | None] = mapped_column(Moment)
    was: Mapped[Payload | None] = mapped_column(Document(AnyPayload))
