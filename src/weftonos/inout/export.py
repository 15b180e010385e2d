"""Everything as a file: tables for spreadsheets, all there is as lines, what explains them, and cards on request."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

from sqlalchemy.orm import Session

import weftonos
from weftonos.core.balance.recipe import Recipe
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.logbook import KIND_NAMES
from weftonos.core.log.references import REFERENCES, Thing
from weftonos.exchange.archive import README, SCHEMA, ArchiveLine, ArchiveWriter
from weftonos.exchange.strip import Paper, to_pdf, to_svg
from weftonos.inout.tables import THING_TABLES, Tables, by_kind, explained, heads
from weftonos.learned.entries import log_entries
from weftonos.stations.quilts import printed_quilt
from weftonos.stations.recipes import recipe_sheet
from weftonos.store import archive
from weftonos.store.archive import LINES_AT_ONCE, Told
from weftonos.store.documents import FORMS, schema_of
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

#: Cards and quilt pages that are drawn at most.
MOST_CARDS = 1000


@dataclass(frozen=True, kw_only=True)
class ExportChoice:
    """What goes into the file beside the records: cards and quilt pages, with days in a time zone."""

    pictures: bool = False
    zone: str = "UTC"


def write_everything(
    session: Session, path: Path, wanted: ExportChoice, now: datetime, told: Told
) -> Mapping[str, int]:
    """Write everything there is into one zip; return how many things of each sort it holds.

    ``told`` hears how many records of how many are done; where it raises, nothing is left behind.
    """
    counts = archive.how_many(session)
    total = 2 * sum(counts.values())
    done = 0

    def counted(found: Iterable[Any]) -> Iterator[Any]:
        nonlocal done
        for each in found:
            yield each
            done += 1
            if done % LINES_AT_ONCE == 0:
                told(done, total)

    # Two that write at once, a page and a command, each have a file of their own until it is whole.
    partial = path.with_name(f"{path.name}.{uuid4().hex}.part")
    try:
        with ArchiveWriter(partial) as out:
            out.file(README, _readme(counts).encode())
            out.file(SCHEMA, json.dumps(line_schema(), indent=1).encode())
            out.lines(counted(archive.lines(session)))
            _write_things(session, out, counted)
            _write_records(session, out, counted)
            if wanted.pictures:
                _write_pictures(session, out, wanted.zone, now)
            out.finish(
                {
                    "made_at": now.isoformat(),
                    "program": f"Weftonos {weftonos.__version__}",
                    "counts": {thing.value: count for thing, count in counts.items()},
                }
            )
        partial.replace(path)
    finally:
        partial.unlink(missing_ok=True)
    return {thing.value: count for thing, count in counts.items()}


Counted = Callable[[Iterable[Any]], Iterator[Any]]


def _write_things(session: Session, out: ArchiveWriter, counted: Counted) -> None:
    tables, machines = Tables(session), {}
    for line in counted(archive.things(session)):
        thing = Thing(line["what"])
        if thing is Thing.MACHINE:
            machines[line["uid"]] = line.get("document", {}).get("nickname", line["uid"])
        name = f"csv/{THING_TABLES[thing]}.csv"
        out.table(name, heads(thing.value), [tables.thing(line, machines.get(line.get("machine"), ""))])


def _write_records(session: Session, out: ArchiveWriter, counted: Counted) -> None:
    tables, before = Tables(session), None
    while True:
        # What was read for some records is let go of before the next: years of them need not fit at once.
        workshop = Workshop(session)
        page = workshop.log(LogSearch(before=before, limit=LINES_AT_ONCE))
        if not page.items:
            return
        before = page.items[-1].id
        for kind, entries in by_kind(log_entries(workshop, page.items)):
            out.table(f"csv/{kind}.csv", heads(kind), map(tables.record, counted(entries)))
        session.expunge_all()


def _write_pictures(session: Session, out: ArchiveWriter, zone: str, now: datetime) -> None:
    workshop = Workshop(session)
    recipes = workshop.log(LogSearch(kinds=[Recipe.kind], limit=MOST_CARDS, unstruck=True)).items
    for row in recipes:
        # A card of a machine that can't be read cannot be drawn; its record is among the lines.
        with suppress(CraftError):
            sheet = recipe_sheet(workshop, row.id, zone)
            name = f"cards/{_file_name(getattr(row.payload, 'name', ''))}-{row.uid[:8]}"
            out.file(f"{name}.svg", to_svg(sheet).encode())
            out.file(f"{name}.pdf", to_pdf(sheet))
    for number, quilt in enumerate(workshop.quilts.all()[:MOST_CARDS], 1):
        pages = printed_quilt(workshop, quilt.name, now=now, zone=zone, paper=Paper.A4)
        out.file(f"quilts/{_file_name(quilt.name)}-{number}.pdf", to_pdf(*pages))


def _file_name(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-")[:40] or "unnamed"


def line_schema() -> dict[str, Any]:
    """Return the JSON Schema of a line of ``workshop.jsonl``, the document of each kind included."""
    schema = ArchiveLine.model_json_schema()
    definitions = schema.setdefault("$defs", {})
    documents = {}
    for kind in FORMS:
        found = schema_of(kind)
        for name, inner in found.pop("$defs", {}).items():
            definitions[f"{kind}.{name}"] = _pointed(inner, kind)
        found = _pointed(found, kind)
        for field in _naming(kind):
            listed, _, of_part = field.partition(".")
            properties = found["properties"]
            if of_part:
                # Each part of a list names it.
                part = properties[listed]["items"]["$ref"].rpartition("/")[2]
                properties = definitions[part]["properties"]
            properties[of_part or listed] = {
                "description": "Another thing, by its uid.",
                "anyOf": [{"type": "string"}, {"type": "null"}, {"type": "array", "items": {"type": "string"}}],
            }
        # A document says its form, and a thing's which document it is.
        found["properties"] |= {"version": {"type": "integer"}, "document": {"type": "string"}}
        definitions[kind] = found
        documents[kind] = {"$ref": f"#/$defs/{kind}"}
    things = [kind for kind in FORMS if kind not in KIND_NAMES]
    schema["allOf"] = [
        {
            "if": {"properties": {"what": {"const": kind}}},
            "then": {"properties": {"document": documents[kind]}},
        }
        for kind in things
    ] + [
        {
            "if": {"properties": {"kind": {"const": kind}, "what": {"const": "record"}}, "required": ["kind"]},
            "then": {"properties": {"document": documents[kind]}},
        }
        for kind in KIND_NAMES
    ]
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "weftonos-line-1", **schema}


def _naming(kind: str) -> tuple[str, ...]:
    return ("id",) if kind == "part_marked" else tuple(REFERENCES.get(kind, {}))


def _pointed(schema: Any, kind: str) -> Any:
    """Return a schema whose definitions are found under the kind they belong to."""
    if isinstance(schema, dict):
        return {
            key: value.replace("#/$defs/", f"#/$defs/{kind}.") if key == "$ref" else _pointed(value, kind)
            for key, value in schema.items()
        }
    return [_pointed(each, kind) for each in schema] if isinstance(schema, list) else schema


def _readme(counts: Mapping[Thing, int]) -> str:
    said = [
        "EVERYTHING OF A WEFTONOS WORKSHOP",
        "",
        f"This file holds {archive.in_words(counts)}.",
        "",
        "csv/            tables for a spreadsheet: UTF-8, commas, one row a record, deleted ones included.",
        "                Times are ISO 8601 with their offset. A cell that a spreadsheet would run as a formula",
        "                begins with an apostrophe.",
        "workshop.jsonl  everything, one line a thing or record, with its corrections. This is what “Bring it in”",
        f"                reads. Its form is described in {SCHEMA} (JSON Schema).",
        "manifest.json   every file with its size and SHA-256, and the counts.",
        "cards/, quilts/ where they were asked for: recipe cards and quilt pages, true to size.",
        "",
        "A backup of the workshop's own file goes back as it is, in one step, onto this program. This file is for",
        "other programs, and for joining two workshops.",
    ]
    for kind in (*THING_TABLES, *KIND_NAMES):
        name = THING_TABLES[kind] if isinstance(kind, Thing) else kind
        said += ["", f"csv/{name}.csv" + ("" if isinstance(kind, Thing) else f": {KIND_NAMES[kind]}")]
        said += [f"  {head:<28}{says}" for head, says in explained(str(kind))]
    return "\r\n".join(said) + "\r\n"
