"""Documents are read leniently and lifted: nothing that was ever written is lost, and nothing unreadable counts."""

from __future__ import annotations

import json
import shutil
import sqlite3
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session

from weftonos.api.app import create_app
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.logbook import KIND_NAMES, Unreadable
from weftonos.core.log.run import Run
from weftonos.core.plan.minutes import ChangeMinutes
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.fold import SETUP_KINDS, Event, InForce, Remembered, after
from weftonos.runtime.settings import Settings
from weftonos.store import database, opening
from weftonos.store.documents import FORMS, DocumentForm, read_document, write_document
from weftonos.store.reading import LogSearch
from weftonos.store.unreadable import unreadable_rows
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
DATABASES = sorted((Path(__file__).parent / "databases").glob("*.sql"))
DOCUMENTS = json.loads((Path(__file__).parent / "documents.json").read_text(encoding="utf-8"))
PAGES = ("line", "thread", "needle", "needles", "readings", "rack", "balance", "run", "mend", "troubles", "upkeep")


def restored(dump: Path, folder: Path) -> None:
    """Build the file that a dump of an earlier form describes."""
    with sqlite3.connect(folder / database.FILE_NAME) as connection:
        connection.executescript(dump.read_text(encoding="utf-8"))
    connection.close()


@pytest.mark.parametrize("dump", DATABASES, ids=lambda path: path.stem)
def test_a_file_of_every_form_opens_and_every_screen_answers(tmp_path, dump):
    restored(dump, tmp_path)
    with TestClient(create_app(Settings(data_dir=tmp_path)), base_url="http://127.0.0.1") as client:
        entries = client.get("/api/log?limit=200").json()["entries"]
        assert not [e for e in entries if e["unreadable"]]
        assert {e["uid"] for e in entries} == {e["uid"] for e in entries if len(e["uid"]) == 32}
        assert client.get("/api/log/unreadable").json() == []
        for machine in (1, 2):
            for name in PAGES:
                assert client.get(f"/api/machines/{machine}/{name}").status_code == 200, (machine, name)
        assert client.get("/api/recipes").json()["items"][0]["bobbin_words"] == "201 mN"
        setup = client.get("/api/machines/1/line").json()["setup"]
        assert setup["top"][0]["name"] == "Saltmarsh 40"
        assert setup["needle"] is None, "it was retired"
        assert setup["look"]["setting"] == 206, "as corrected"
        look = next(e for e in entries if e["kind"] == "look" and e["payload"]["setting"] == 206)
        assert "205" in look["revisions"][0]["said"]


def test_there_is_a_database_of_every_migration():
    steps = {step.name[:4] for step in (database.MIGRATIONS / "versions").glob("[0-9]*.py")}
    assert {dump.stem for dump in DATABASES} == steps


@pytest.mark.parametrize("entry", DOCUMENTS, ids=lambda e: f"{e['kind']}-{e['version']}")
def test_a_document_of_every_kind_and_version_is_read(entry):
    document = read_document(entry["text"], entry["kind"])
    assert isinstance(document, FORMS[entry["kind"]].shape), document
    again = read_document(write_document(document), entry["kind"])
    assert again == document
    written = json.loads(write_document(document))
    assert written["version"] == FORMS[entry["kind"]].version
    assert entry["kind"] == (written.get("document") or written["kind"])


def test_a_plan_of_the_first_form_holds_the_minutes_that_somebody_typed():
    """It kept all nine; those that are as usual were hardly typed."""
    first = json.loads(next(e["text"] for e in DOCUMENTS if (e["kind"], e["version"]) == ("quilt_planned", 1)))
    assert read_document(json.dumps(first), "quilt_planned").minutes == ChangeMinutes()
    first["minutes"] |= {"thread": 3.5, "roll_back": 0}
    assert read_document(json.dumps(first), "quilt_planned").minutes == ChangeMinutes(thread=3.5, roll_back=0)
    del first["minutes"]
    assert read_document(json.dumps(first), "quilt_planned").minutes == ChangeMinutes()


def test_there_is_a_document_of_every_kind_and_version():
    kept = {(entry["kind"], entry["version"]) for entry in DOCUMENTS}
    assert kept == {(kind, version) for kind, form in FORMS.items() for version in range(1, form.version + 1)}
    assert set(KIND_NAMES) < set(FORMS)


@pytest.mark.parametrize(
    ("kind", "text", "why"),
    [
        ("run", '{"kind":"run","version":99,"minutes":5}', "later Weftonos"),
        ("run", '{"kind":"run","version":"one","minutes":5}', "later Weftonos"),
        ("run", '{"kind":"run","minutes":', "text is broken"),
        ("run", "[1, 2]", "text is broken"),
        ("seance", '{"kind":"seance","version":1}', "does not know this kind"),
        ("run", '{"kind":"run","version":1,"minutes":-5}', "Stitching time of one run is above 0"),
        ("look", '{"kind":"look","version":1,"setting":4,"grade":7}', "judged from"),
        ("look", '{"kind":"look","version":1,"grade":0}', "“setting” can't be used"),
        ("machine", '{"document":"machine","version":1,"nickname":"Heron"}', "can't be used"),
    ],
)
def test_what_cannot_be_read_is_shown_as_it_was_with_a_sentence(kind, text, why):
    document = read_document(text, kind)
    assert isinstance(document, Unreadable)
    assert document.text == text == write_document(document)
    assert why in document.why
    assert document.why.endswith(".")


def test_an_older_version_is_lifted_step_by_step(monkeypatch):
    def name_the_quilt(found):
        return {**found, "quilt": found.pop("on")}

    def to_minutes(found):
        return {**found, "minutes": found.pop("hours") * 60}

    monkeypatch.setitem(FORMS, "run", DocumentForm(Run, version=3, lifts={1: name_the_quilt, 2: to_minutes}))
    read_document.cache_clear()
    assert read_document('{"kind":"run","version":1,"hours":1.5,"on":"Avocet"}', "run") == Run(
        minutes=90, quilt="Avocet"
    )
    assert read_document('{"kind":"run","version":2,"hours":1,"quilt":"Avocet"}', "run").minutes == 60
    lost = read_document('{"kind":"run","version":1,"hours":1}', "run")
    assert isinstance(lost, Unreadable)
    assert "couldn't be updated" in lost.why
    assert json.loads(write_document(Run(minutes=5)))["version"] == 3
    read_document.cache_clear()


@pytest.fixture
def spoiled(tmp_path) -> Path:
    """A workshop in which one document of every list can't be read."""
    restored(DATABASES[-1], tmp_path)
    opening.open_workshop(tmp_path).dispose()
    with sqlite3.connect(tmp_path / database.FILE_NAME) as connection:
        for statement in (
            "UPDATE record SET payload = json_set(payload, '$.grade', 9) WHERE kind = 'look' AND struck_at IS NULL",
            "UPDATE record SET payload = json_set(payload, '$.minutes', -4) WHERE kind = 'run' AND struck_at IS NULL",
            "UPDATE record SET payload = json_set(payload, '$.version', 99) WHERE kind = 'upkeep'",
            "UPDATE record SET payload = '{\"kind\":\"seance\"}', kind = 'seance' WHERE kind = 'preflight'",
            "UPDATE record SET payload = 'not json at all' WHERE kind = 'bobbin_look'",
            "UPDATE thread SET spec = json_set(spec, '$.thread.value', -1) WHERE id = 2",
            "UPDATE needle_packet SET spec = '{}'",
            "UPDATE bobbin_case SET spec = json_set(spec, '$.version', 7)",
            "UPDATE bobbin SET spec = 'gone'",
            "PRAGMA user_version = 0",
        ):
            connection.execute(statement)
    connection.close()
    return tmp_path


def test_unreadable_documents_close_no_screen_and_take_no_part(spoiled):
    with TestClient(create_app(Settings(data_dir=spoiled)), base_url="http://127.0.0.1") as client:
        for name in PAGES:
            answer = client.get(f"/api/machines/1/{name}")
            assert answer.status_code == 200, (name, answer.text)
        setup = client.get("/api/machines/1/line").json()["setup"]
        assert setup["look"] is None
        assert setup["case"] is None
        assert setup["bobbin"]["name"] == "Limpet 80", "what can be read still stands"
        assert client.get("/api/machines/2/line").json()["setup"]["top"] == [], "its thread can't be read"
        shown = client.get("/api/log/unreadable").json()
        assert {row["table"] for row in shown} == {"record", "thread", "needle_packet", "bobbin_case", "bobbin"}
        assert all(row["why"].endswith(".") and row["text"] for row in shown)
        entries = client.get("/api/log?limit=200").json()["entries"]
        marked = [e for e in entries if e["unreadable"]]
        assert len(marked) == sum(row["table"] == "record" for row in shown) >= 6
        for entry in marked:
            assert entry["payload"] is None
            assert entry["written"]
            assert entry["text"].startswith("Shown as it was written.")
        assert len(entries) == 35, "none is lost"
        assert client.post(f"/api/log/{marked[0]['id']}/strike").status_code == 200
        assert client.post(f"/api/log/{marked[0]['id']}/restore").status_code == 200


def test_one_unreadable_thing_is_listed_though_every_record_can_be_read(tmp_path):
    restored(DATABASES[-1], tmp_path)
    opening.open_workshop(tmp_path).dispose()
    with sqlite3.connect(tmp_path / database.FILE_NAME) as connection:
        connection.execute("UPDATE thread SET spec = 'gone' WHERE id = 2")
    connection.close()
    engine = opening.open_workshop(tmp_path)
    with Session(engine) as session:
        assert [(row.table, row.id) for row in unreadable_rows(session)] == [("thread", 2)]
    engine.dispose()


def test_an_unreadable_thread_is_put_right_with_its_line(spoiled):
    engine = opening.open_workshop(spoiled)
    with Session(engine) as session, session.begin():
        shop = Workshop(session)
        good = next(spec for _, spec in shop.drawer.all_threads())
        shop.change_thread(2, replace(good, name="Mended", line="Ebb"))
        assert shop.drawer.thread(2).spec.name == "Mended"
    engine.dispose()


def test_an_unreadable_record_can_be_put_right_and_keeps_its_old_text(spoiled):
    engine = opening.open_workshop(spoiled)
    with Session(engine) as session, session.begin():
        shop = Workshop(session)
        row = next(
            r for r in shop.log(LogSearch(limit=100)).items if r.kind == "look" and isinstance(r.payload, Unreadable)
        )
        number, before = row.id, row.payload.text
        shop.correct(number, StitchedLook(setting=206, grade=0), row.at, NOW)
        assert shop.setup(1).look.setting == 206
    with Session(engine) as session:
        kept = Workshop(session).record(number).revisions[-1].was
        assert isinstance(kept, Unreadable)
        assert kept.text == before
    engine.dispose()


def test_a_thread_whose_text_is_broken_stops_no_write(spoiled):
    with sqlite3.connect(spoiled / database.FILE_NAME) as connection:
        connection.execute("UPDATE thread SET spec = 'not json at all' WHERE id = 3")
    connection.close()
    engine = opening.open_workshop(spoiled)
    with Session(engine) as session, session.begin():
        assert Workshop(session).note(1, Run(minutes=5), NOW, NOW).id
    engine.dispose()


def test_a_machine_that_cannot_be_read_says_so_and_leaves_the_others_alone(spoiled):
    with sqlite3.connect(spoiled / database.FILE_NAME) as connection:
        connection.execute("UPDATE machine SET spec = json_set(spec, '$.scale.high', 0) WHERE id = 1")
    connection.close()
    with TestClient(create_app(Settings(data_dir=spoiled)), base_url="http://127.0.0.1") as client:
        assert [m["id"] for m in client.get("/api/machines").json()] == [2, 3]
        for name in PAGES:
            answer = client.get(f"/api/machines/1/{name}")
            assert answer.status_code == 422, (name, answer.text)
            assert "can't be read" in answer.json()["detail"][0]["msg"]
            assert client.get(f"/api/machines/2/{name}").status_code == 200
        entries = client.get("/api/log?limit=200").json()["entries"]
        assert {e["machine"] for e in entries} == {"machine 1", "Wren", "Plover"}
        assert {item["entry"]["machine_id"] for item in client.get("/api/recipes").json()["items"]} == {2}


def test_a_copy_of_the_cache_from_older_rules_is_renewed_when_the_file_is_opened(tmp_path):
    restored(DATABASES[-1], tmp_path)
    engine = opening.open_workshop(tmp_path)
    with Session(engine) as session:
        before = Workshop(session).setup(1)
    engine.dispose()
    with sqlite3.connect(tmp_path / database.FILE_NAME) as connection:
        connection.execute("UPDATE record SET top_id = NULL, look_id = 1, detail = 'x'")
        connection.execute("PRAGMA user_version = 0")
    connection.close()
    engine = opening.open_workshop(tmp_path)
    with Session(engine) as session:
        assert Workshop(session).setup(1) == before
    engine.dispose()
    shutil.rmtree(tmp_path)


def test_numbers_that_are_none_are_refused_before_they_are_stored(tmp_path):
    engine = opening.open_workshop(tmp_path)
    engine.dispose()
    from weftonos.core.balance.recipe import Recipe

    for bad in ({"bobbin_mn": float("inf")}, {"low": float("nan")}, {"high": 1e300}, {"looks": -1}):
        with pytest.raises(CraftError):
            Recipe(**{"name": "Kept", "setting": 4.0, "grade": 0, "bobbin_mn": 200.0, **bad})


def test_two_rows_never_share_a_uuid_and_a_change_counts_the_version_up(tmp_path):
    restored(DATABASES[0], tmp_path)
    engine = opening.open_workshop(tmp_path)
    with Session(engine) as session, session.begin():
        shop = Workshop(session)
        rows = shop.log(LogSearch(limit=200)).items
        assert len({row.uid for row in rows}) == len(rows)
        run = next(row for row in rows if row.kind == "run" and row.struck_at is None)
        assert run.version == 1
        shop.correct(run.id, Run(minutes=43, quilt="Spring Tide"), run.at, NOW + timedelta(minutes=1))
        assert run.version == 2
        assert shop.note(1, Run(minutes=5), NOW, NOW).version == 1, "the cache is no change of the record"
    engine.dispose()


@pytest.mark.parametrize("entry", DOCUMENTS, ids=lambda e: f"{e['kind']}-{e['version']}")
def test_the_kinds_that_change_a_set_up_are_those_that_the_fold_knows(entry):
    """What is not read for the fold must not matter to it."""
    if entry["kind"] not in KIND_NAMES or entry["kind"] in SETUP_KINDS:
        return
    event = Event(1, datetime(2026, 11, 1, tzinfo=UTC), read_document(entry["text"], entry["kind"]))
    assert after(InForce(), event, Remembered()) == InForce()
