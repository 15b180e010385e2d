"""In and out: a file that was given is looked into, checked row by row, and brought in whole or not at all."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.exchange import archive as archives
from weftonos.exchange.spreadsheet import Table, TopRow, read_sheet
from weftonos.exchange.workbook import SheetName
from weftonos.inout.intake import Intake, Row
from weftonos.inout.table_kinds import COLUMNS, Choices, TableKind, guess, mapping
from weftonos.learned.entries import lines
from weftonos.store.archive import Told
from weftonos.store.bringing import Brought, Differing, bring_in
from weftonos.store.models import ImportRow
from weftonos.store.taking_back import changed_since, imports, undo
from weftonos.store.workshop import Workshop

#: Rows that a first look shows.
ROWS_SHOWN = 5


@dataclass
class Given:
    """A file that was given and not brought in yet: a whole workshop, or a table with what its rows would be."""

    name: str
    archive: archives.Archive | None = None
    sheet: Table | None = None
    rows: Sequence[Row] = ()


@dataclass(frozen=True, kw_only=True)
class ColumnChoice:
    """A column that a kind of table can have, and which of the file's it is likely to be."""

    field: str
    name: str
    needed: bool
    column: int | None


@dataclass(frozen=True, kw_only=True)
class KindChoice:
    """A kind of table, with its columns."""

    kind: TableKind
    columns: Sequence[ColumnChoice]


@dataclass(frozen=True, kw_only=True)
class SeenTable:
    """A table as it was recognized; ``day_first`` is none where no date says which comes first.

    ``head`` is the row of the headings, 0 for none, one of the ``top`` rows of the file. Of a workbook: its sheets, the
    one that was read, how many merged cells were filled down, and the cells whose formula was never worked out.
    """

    columns: Sequence[str]
    sample: Sequence[Sequence[str]]
    rows: int
    head: int
    top: Sequence[TopRow]
    sheets: Sequence[SheetName]
    sheet: str
    filled: int
    uncalculated: Sequence[str]
    both_marks: bool
    separator: str
    encoding: str
    decimal_comma: bool
    day_first: bool | None
    likely: TableKind
    kinds: Sequence[KindChoice]


@dataclass(frozen=True, kw_only=True)
class SeenFile:
    """What a given file is; ``counts`` of a whole workshop, else the table."""

    token: str
    name: str
    made_at: str = ""
    counts: Mapping[str, int] | None = None
    table: SeenTable | None = None


def look_into(path: Path, name: str) -> Given:
    """Look into a file that was given; raises :class:`CraftError` with a sentence for what cannot be used."""
    if archives.is_archive(path):
        return Given(name, archive=archives.look_through(path))
    return Given(name, sheet=read_sheet(path.read_bytes()))


@dataclass(frozen=True, kw_only=True)
class WhereItStands:
    """Which sheet of a workbook holds the table, and which row its headings, 0 for none; found where none is given."""

    sheet: str | None = None
    head: int | None = None


def look_again(path: Path, given: Given, where: WhereItStands) -> Given:
    """Read a table that was given at another place of its file."""
    if given.sheet is None:
        raise CraftError("That file is a whole workshop, not a table.", "file")
    return Given(given.name, sheet=read_sheet(path.read_bytes(), where.sheet, where.head))


def seen(given: Given, token: str) -> SeenFile:
    """Return what a file is, as it is shown."""
    if given.archive is not None:
        return SeenFile(token=token, name=given.name, made_at=given.archive.made_at, counts=given.archive.counts)
    sheet = given.sheet
    assert sheet is not None
    kinds = []
    for kind, wanted in COLUMNS.items():
        found = mapping(sheet, kind)
        kinds.append(
            KindChoice(
                kind=kind,
                columns=[
                    ColumnChoice(field=w.field, name=w.name, needed=w.needed, column=found.get(w.field)) for w in wanted
                ],
            )
        )
    table = SeenTable(
        columns=sheet.columns,
        sample=sheet.rows[:ROWS_SHOWN],
        rows=len(sheet.rows),
        head=sheet.head,
        top=sheet.top,
        sheets=sheet.sheets,
        sheet=sheet.sheet.name if sheet.sheet else "",
        filled=sheet.sheet.filled if sheet.sheet else 0,
        uncalculated=sheet.sheet.uncalculated if sheet.sheet else (),
        both_marks=sheet.both_marks,
        separator=sheet.separator,
        encoding=sheet.encoding,
        decimal_comma=sheet.decimal_comma,
        day_first=sheet.day_first,
        likely=guess(sheet).kind,
        kinds=kinds,
    )
    return SeenFile(token=token, name=given.name, table=table)


@dataclass(frozen=True, kw_only=True)
class CheckedTable:
    """How many rows a table has, how many can be saved, are doubles, have a problem, or are none: totals.

    ``asked`` counts the rows with a problem whose label can be read in several ways, ``twins`` the doubles that say
    the same as another row of the table.
    """

    rows: int
    good: int
    doubles: int
    problems: int
    asides: int
    asked: int
    twins: int


def check_table(workshop: Workshop, given: Given, choices: Choices, now: datetime, told: Told) -> CheckedTable:
    """Judge every row of a table as it would be kept."""
    if given.sheet is None:
        raise CraftError("That file is a whole workshop, not a table.", "file")
    rows = list(Intake(workshop, given.sheet, choices, now).rows(told))
    given.rows = rows
    sorts = Counter(map(_sort, rows))
    return CheckedTable(
        rows=len(rows),
        **{sort.value: sorts[sort] for sort in Sort},
        asked=sum(bool(row.asks) for row in rows),
        twins=sum(bool(row.same_as) for row in rows),
    )


@dataclass(frozen=True, kw_only=True)
class ShownRow:
    """A row of a table: its cells, and how it would be kept, or what is wrong with it and where.

    ``asks`` are the readings of its label.
    """

    number: int
    cells: Sequence[str]
    text: str
    problem: str
    field: str
    double: bool
    same_as: int
    aside: str
    asks: Sequence[str]


class Sort(StrEnum):
    """What becomes of a row: it is saved, here already, none, or has a problem."""

    GOOD = "good"
    DOUBLES = "doubles"
    PROBLEMS = "problems"
    ASIDES = "asides"


def _sort(row: Row) -> Sort:
    if row.aside:
        return Sort.ASIDES
    return Sort.PROBLEMS if row.problem else Sort.DOUBLES if row.double else Sort.GOOD


def shown_rows(given: Given, only: str, after: int, limit: int) -> Sequence[ShownRow]:
    """Return rows that were judged, after a number: all, or only those of one :class:`Sort`."""
    sheet = given.sheet
    found: list[ShownRow] = []
    for position, row in enumerate(given.rows):
        if row.number > after and only in ("all", _sort(row)):
            cells = sheet.rows[position] if sheet else ()
            found.append(
                ShownRow(
                    number=row.number,
                    cells=cells,
                    text=row.text,
                    problem=row.problem,
                    field=row.field,
                    double=row.double,
                    same_as=row.same_as,
                    aside=row.aside,
                    asks=row.asks,
                )
            )
            if len(found) == limit:
                break
    return found


def rows_left(given: Given) -> Iterator[Sequence[str]]:
    """Yield the rows that have a problem as a table to be mended and given again: a head, and the reason of each."""
    if given.sheet is None or not given.rows:
        raise CraftError("No rows of that file have been checked yet.", "file")
    yield "Reason", *given.sheet.columns
    for row, cells in zip(given.rows, given.sheet.rows, strict=True):
        if row.problem:
            yield f"Row {row.number}: {row.problem}", *cells


@dataclass(frozen=True, kw_only=True)
class HowToKeep:
    """``leave_out`` leaves rows with a problem out; ``differing`` says what becomes of things that differ here."""

    leave_out: bool = False
    differing: Differing = Differing.KEEP


@dataclass(frozen=True, kw_only=True)
class BroughtIn:
    """What an import brought: its number for taking it back, and how many things of each sort."""

    id: int
    at: datetime
    name: str
    new: Mapping[str, int] = field(default_factory=dict)
    same: Mapping[str, int] = field(default_factory=dict)
    differing: Mapping[str, int] = field(default_factory=dict)
    named_anew: Sequence[str] = ()
    undone_at: datetime | None = None


def keep(session: Session, given: Given, how: HowToKeep, now: datetime, told: Told) -> BroughtIn:
    """Bring a file in, in the transaction of the session: all of it or, where this raises, nothing."""
    if given.archive is not None:
        archive = given.archive
        total = sum(archive.counts.values())
        row, brought = bring_in(
            session, archive.lines, name=given.name, now=now, differing=how.differing, told=told, total=total
        )
        return _brought_in(row, brought)
    problems = sum(bool(row.problem) for row in given.rows)
    if problems and not how.leave_out:
        says = "One row has a problem. Mend it in the file, or leave it out."
        if problems > 1:
            says = f"{problems} rows have a problem. Mend them in the file, or leave them out."
        raise CraftError(says, "rows")
    lines = [line for row in given.rows if not row.double for line in row.lines]
    if not lines:
        raise CraftError("There is nothing new in it.", "rows")

    def reading() -> Iterator[Mapping[str, Any]]:
        return iter(lines)

    row, brought = bring_in(session, reading, name=given.name, now=now, told=told, total=len(lines))
    return _brought_in(row, brought)


def _brought_in(row: ImportRow, brought: Brought) -> BroughtIn:
    return BroughtIn(
        id=row.id,
        at=row.at,
        name=row.name,
        new=brought.new,
        same=brought.same,
        differing=brought.differing,
        named_anew=brought.named_anew,
        undone_at=row.undone_at,
    )


@dataclass(frozen=True, kw_only=True)
class ChangedSince:
    """What of an import was corrected since and would go with it: records in words, other things counted by sort."""

    records: Sequence[str]
    things: Mapping[str, int]


def import_changed(workshop: Workshop, import_id: int) -> ChangedSince:
    """Say what of an import was corrected since, before it is taken back."""
    since = changed_since(workshop.session, import_id)
    words = lines(workshop, since.records)
    said = [f"{words[row.id]}{', deleted' if row.struck_at else ''}" for row in since.records]
    return ChangedSince(records=said, things=since.things)


def take_back(session: Session, import_id: int, now: datetime, *, anyway: bool = False) -> list[BroughtIn]:
    """Take an import back whole; return the last imports as they stand then."""
    undo(session, import_id, now, anyway=anyway)
    return last_imports(session)


def last_imports(session: Session) -> list[BroughtIn]:
    """Return the last imports, newest first."""
    return [_brought_in(row, Brought(**json.loads(row.brought))) for row in imports(session)]
