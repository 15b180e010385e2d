"""Every field of every kind of document is renamed and lifted, and no screen, export or estimate can tell.

Whoever reads a document's JSON around ``store/documents.py`` finds the old names and is found out here.
"""

from __future__ import annotations

import json
import os
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from io import BytesIO
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import pytest
from bench_screens import grow
from fastapi.testclient import TestClient
from sqlalchemy import create_engine, event
from sqlalchemy.orm import Session
from test_call_examples import Player, open_app
from test_exchange import Door

from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.runtime.settings import Settings
from weftonos.store import database, opening
from weftonos.store.archive import lines
from weftonos.store.bringing import bring_in
from weftonos.store.database import FILE_NAME, reading
from weftonos.store.documents import FORMS, DocumentForm, kind_in, read_document
from weftonos.store.taking_back import undo

OF_A_MACHINE = [
    *("line", "thread", "needle", "needles", "readings", "rack", "balance", "run", "mend", "troubles", "preflight"),
    *("upkeep", "threads-sheet", "evidence", "evidence/rates", "evidence/planned", "evidence/beside/needle"),
    *("evidence/beside/thread", "evidence/beside/run", "strip.svg"),
]
OF_ALL = [
    *("machines", "threads", "recipes", "quilts", "log?limit=200", "log/unreadable", "workshop/warnings"),
    *("exchange/imports", "log.csv", "threads.csv", "recipes.csv", "words", "cases/1/chart", "exchange/schema.json"),
    *("cases/1/label.svg", "recipes?text=a", "log?text=thread"),
]
#: `make bench-long` has a full workshop of 100 000 records upgraded.
RECORDS = int(os.environ.get("WEFTONOS_RECORDS", "0"))
#: A name that no field has, put before every field of an older form.
WAS = "was_"
DOCUMENTS = {"machine": "spec", "thread": "spec", "needle_packet": "spec", "bobbin_case": "spec", "bobbin": "spec"}
KINDS = {"needle_packet": "packet", "bobbin_case": "case"}


class Workshop:
    """A workshop whose time stands still."""

    def __init__(self, folder: Path, now: datetime) -> None:
        self.folder = folder
        self.client = TestClient(create_app(Settings(data_dir=folder), clock=lambda: now), base_url="http://127.0.0.1")

    def __enter__(self) -> Workshop:
        self.client.__enter__()
        return self

    def __exit__(self, *left: Any) -> None:
        self.client.__exit__(*left)

    def shown(self) -> dict[str, str]:
        """Every screen, table and estimate, and every line of the export."""
        machines = range(1, len(self.client.get("/api/machines").json()) + 1)
        # A quilt of ten years takes ten seconds to tell.
        quilts = [quilt["name"] for quilt in self.client.get("/api/quilts").json()][: 4 if RECORDS else None]
        asked = [
            *OF_ALL,
            *(f"machines/{machine}/{page}" for machine in machines for page in OF_A_MACHINE),
            *(f"{page}?name={name}" for name in quilts for page in ("quilt", "quilt.csv")),
        ]
        found = {path: self.client.get(f"/api/{path}") for path in asked}
        refused = {path: answer.text for path, answer in found.items() if answer.status_code != 200}
        assert not refused
        shown = {path: answer.text for path, answer in found.items()}
        shown.pop("exchange/schema.json")
        with ZipFile(BytesIO(Door(self.client, self.folder).everything())) as archive:
            for name in archive.namelist():
                if name.endswith((".csv", ".jsonl")):
                    shown[name] = archive.read(name).decode()
        return shown

    def lines(self) -> list[dict[str, Any]]:
        with Session(reading(self.client.app.state.engine)) as session:  # type: ignore[attr-defined]
            return list(lines(session))


def aged(text: str) -> str:
    """A document as its older form had it: every field by another name."""
    document = json.loads(text)
    head = {"version", "document"} | ({"kind"} if "document" not in document else set())
    return json.dumps({name if name in head else f"{WAS}{name}": value for name, value in document.items()})


def aged_line(line: dict[str, Any]) -> dict[str, Any]:
    """A line of an archive that was written before the lift."""
    said = {name: json.loads(aged(json.dumps(value))) for name, value in line.items() if name == "document"}
    if "revisions" in line:
        said["revisions"] = [aged_line(each) for each in line["revisions"]]
    return {**line, **said}


def lift(found: dict[str, Any]) -> dict[str, Any]:
    return {name.removeprefix(WAS): value for name, value in found.items()}


def as_an_older_form(folder: Path) -> set[str]:
    """Write every document of a workshop in its older form; return which kinds there were."""
    seen = set()
    with sqlite3.connect(folder / FILE_NAME) as connection:
        for table, column in [*DOCUMENTS.items(), ("record", "payload"), ("revision", "was")]:
            rows = connection.execute(f"SELECT id, {column} FROM {table} WHERE {column} IS NOT NULL").fetchall()
            for id_, text in rows:
                connection.execute(f"UPDATE {table} SET {column} = ? WHERE id = ?", (aged(text), id_))
                seen.add(KINDS.get(table, table) if table in DOCUMENTS else kind_in(text))
    connection.close()
    return seen


@pytest.fixture
def a_new_form(monkeypatch):
    def begin() -> None:
        for kind, form in list(FORMS.items()):
            lifts = {**form.lifts, form.version: lift}
            monkeypatch.setitem(FORMS, kind, DocumentForm(form.shape, form.version + 1, lifts))
        read_document.cache_clear()

    yield begin
    read_document.cache_clear()


def lift_line(line: dict[str, Any]) -> dict[str, Any]:
    lifted = {**line, **({"document": lift(line["document"])} if "document" in line else {})}
    return {**lifted, "revisions": [lift_line(each) for each in line["revisions"]]} if "revisions" in line else lifted


def without_versions(found: Any) -> Any:
    if isinstance(found, dict):
        return {name: without_versions(value) for name, value in found.items() if name != "version"}
    return [without_versions(each) for each in found] if isinstance(found, list) else found


@contextmanager
def filled(folder: Path) -> Iterator[TestClient]:
    """A workshop with one of everything."""
    aside = ("/compute/", "/gauge/", "/workshop/", "/strike", "/restore", "_id}/retire", "/undo")
    with open_app(folder) as client:
        Player(client).play_all_but(*aside)
        yield client


def test_nobody_can_tell_that_every_field_was_called_otherwise(tmp_path, a_new_form):
    begun = datetime.now(UTC)
    with filled(tmp_path):
        pass
    now = begun + timedelta(minutes=5)
    with Workshop(tmp_path, now) as workshop:
        before, lines_before = workshop.shown(), workshop.lines()
    seen = as_an_older_form(tmp_path)
    assert set(FORMS) == seen
    a_new_form()
    with Workshop(tmp_path, now) as workshop:
        assert without_versions(workshop.lines()) == without_versions(lines_before)
        after = workshop.shown()
        for path, answer in before.items():
            if path.endswith("jsonl"):
                told = [
                    [without_versions(json.loads(line)) for line in text.splitlines()] for text in (answer, after[path])
                ]
                assert told[0] == told[1], path
            else:
                assert after[path] == answer, path


def as_of(revision: str, full: Path, older: Path) -> None:
    """Write what a full workshop holds as a file of an earlier migration, as far as that one has tables and columns."""
    engine = create_engine(f"sqlite:///{older / FILE_NAME}")
    event.listen(engine, "connect", database._prepare_connection)
    database.migrate(engine, revision)
    engine.dispose()
    with sqlite3.connect(older / FILE_NAME) as file:
        file.execute("ATTACH ? AS full", (str(full / FILE_NAME),))
        columns = lambda schema, table: [row[1] for row in file.execute(f"PRAGMA {schema}.table_info('{table}')")]  # noqa: E731
        tables = [name for (name,) in file.execute("SELECT name FROM main.sqlite_master WHERE type = 'table'")]
        for table in set(tables) - {"alembic_version"}:
            there = set(columns("full", table))
            # A column that is called otherwise since.
            named = {name: "fiber" if name == "fibre" else name for name in columns("main", table)}
            taken = {name: source for name, source in named.items() if source in there}
            names, sources = (", ".join(f'"{each}"' for each in part) for part in (taken, taken.values()))
            file.execute(f'INSERT INTO main."{table}" ({names}) SELECT {sources} FROM full."{table}"')
    file.close()


def contents(folder: Path) -> str:
    """Everything that a workshop's file holds, in whatever order it was put in."""
    with sqlite3.connect(folder / FILE_NAME) as file:
        told = "\n".join(file.iterdump())
    file.close()
    return "\n".join(sorted(line.rstrip(", ") for line in told.splitlines()))


#: Before 0004 documents had no form's number: what those files held is tested by the files themselves.
NUMBERED = ["0004", "0005", "0006", "0007", "0008", "0009"]
#: Imports and practice have tables of their own, which older files had not.
NOT_YET = {"0004": ("exchange/imports",), "0005": ("exchange/imports",), "0006": ("exchange/imports",)}


@pytest.fixture(scope="module")
def full(tmp_path_factory):
    """The example with a trouble, plans and an import, and what every screen and export says of it."""
    folder = tmp_path_factory.mktemp("full")
    load_demo(folder)
    if RECORDS:
        grow(folder, 0, RECORDS)
    now = datetime.now(UTC) + timedelta(minutes=5)
    with Workshop(folder, now) as workshop:
        Door(workshop.client, folder).bring("date,minutes\n2026-11-20 09:00,42\n", "runs")
        shown, held = workshop.shown(), workshop.lines()
    return folder, now, shown, held, {contents(folder): shown}


@pytest.mark.parametrize("revision", NUMBERED)
def test_a_full_workshop_of_an_earlier_migration_shows_and_exports_the_same(tmp_path, full, revision):
    folder, now, before, lines_before, known = full
    as_of(revision, folder, tmp_path)
    with Workshop(tmp_path, now) as workshop:
        assert workshop.lines() == lines_before
        # Files that hold the same show the same: each is asked once.
        file = contents(tmp_path)
        if file not in known:
            known[file] = workshop.shown()
        after = known[file]
    assert len(lines_before) > max(300, RECORDS)
    assert [path for path in before if after[path] != before[path] and path not in NOT_YET.get(revision, ())] == []
    assert list(tmp_path.glob("workshop-before-*.db")), "a copy is left beside it"


def test_an_archive_of_an_older_form_is_the_same_here_and_everything_elsewhere(tmp_path, a_new_form):
    own, other = tmp_path / "own", tmp_path / "other"
    with filled(own) as client, Session(reading(client.app.state.engine)) as session:
        told = [aged_line(line) for line in lines(session)]
    as_an_older_form(own)
    a_new_form()
    now = datetime.now(UTC) + timedelta(minutes=5)
    brought = {}
    for folder in (own, other):
        engine = opening.open_workshop(folder)
        with Session(engine) as session, session.begin():
            row, brought[folder] = bring_in(session, lambda: iter(told), name="all.zip", now=now)
            number = row.id
        with Session(reading(engine)) as session:
            assert without_versions(list(lines(session))) == without_versions([lift_line(line) for line in told])
        with Session(engine) as session, session.begin():
            undo(session, number, now)
        engine.dispose()
    assert not brought[own].new
    assert not brought[own].differing
    assert sum(brought[other].new.values()) == len(told)
