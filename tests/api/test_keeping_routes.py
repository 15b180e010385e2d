"""The workshop's file over HTTP: copies, going back under the running program, warnings; two hands on one row."""

from __future__ import annotations

import threading
import time
from datetime import timedelta

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.exc import OperationalError

from weftonos.api import keeping
from weftonos.api.app import create_app
from weftonos.api.keeping import copy_if_due
from weftonos.api.stations import Stations
from weftonos.runtime.settings import Settings
from weftonos.store import safekeeping
from weftonos.store.database import FILE_NAME
from weftonos.store.workshop import Workshop


def test_a_copy_is_looked_into_and_put_back_and_that_is_undone(bench):
    machine, _, _ = bench.combination()
    first = bench.get("workshop")
    assert first["copies"] == []
    assert first["size"] > 0
    copy = bench.post("workshop/copies")
    bench.later(5)
    bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})
    inside = bench.get(f"workshop/copies/{copy['name']}")
    assert (inside["machines"], inside["threads"], inside["records"]) == (1, 2, 2)

    put_back = bench.post(f"workshop/copies/{copy['name']}/restore")
    assert len(bench.get("log")["entries"]) == 2
    assert bench.get(f"machines/{machine}/line")["setup"]["look"] is None
    assert [c["name"] for c in bench.get("workshop")["replaced"]] == [put_back["replaced"]]
    bench.post(f"workshop/copies/{put_back['replaced']}/restore")
    assert len(bench.get("log")["entries"]) == 3
    assert len(bench.get("workshop")["replaced"]) == 2, "within one moment, and nothing is written over"
    bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    taken = bench.client.get(f"/api/workshop/copies/{copy['name']}/file")
    assert taken.content.startswith(b"SQLite format 3")


def test_going_back_waits_for_those_who_are_inside_and_they_for_it(bench, monkeypatch):
    machine, _, _ = bench.combination()
    copy = bench.post("workshop/copies")["name"]
    inside, closed, swap = [], [], safekeeping.restore

    def slow_swap(*arguments):
        begun = time.monotonic()
        time.sleep(0.3)
        closed.append((begun, time.monotonic()))
        return swap(*arguments)

    def ask() -> None:
        for _ in range(4):
            begun = time.monotonic()
            assert bench.client.get(f"/api/machines/{machine}/line").status_code == 200
            inside.append((begun, time.monotonic()))

    monkeypatch.setattr(safekeeping, "restore", slow_swap)
    askers = [threading.Thread(target=ask) for _ in range(4)]
    for asker in askers:
        asker.start()
    bench.post(f"workshop/copies/{copy}/restore")
    for asker in askers:
        asker.join()
    assert len(inside) == 16
    [(shut, opened)] = closed
    # An answer that was made before may be read a moment later: only who came after the door was shut must wait.
    assert not [times for times in inside if shut <= times[0] and times[1] < opened], "somebody got in meanwhile"


@pytest.mark.parametrize("name", ["workshop-20260101T000000-000000Z.db", "workshop-..-..-etc.db"])
def test_a_copy_that_is_not_there_is_a_404(bench, name):
    for method, path in (("GET", ""), ("GET", "/file"), ("POST", "/restore")):
        answer = bench.client.request(method, f"/api/workshop/copies/{name}{path}")
        assert answer.status_code in (404, 422)


def test_a_damaged_copy_is_refused_and_the_workshop_goes_on(bench):
    bench.combination()
    name = bench.post("workshop/copies")["name"]
    (bench.data_dir / "copies" / name).write_bytes(b"mold" * 300)
    answer = bench.client.post(f"/api/workshop/copies/{name}/restore")
    assert answer.status_code == 422
    assert "isn't a workshop" in answer.json()["detail"]
    assert len(bench.get("log")["entries"]) == 2


def test_today_gets_its_copy_and_what_stands_in_its_way_is_said(bench):
    app = bench.client.app
    assert copy_if_due(app) == ""
    assert len(bench.get("workshop")["copies"]) == 1
    bench.later(60 * 24)
    folder = bench.data_dir / "copies"
    for path in folder.iterdir():
        path.unlink()
    folder.rmdir()
    folder.write_text("a file in the way", encoding="utf-8")
    app.state.copy_trouble = copy_if_due(app)
    try:
        (said,) = bench.get("workshop/warnings")["warnings"]
        assert said.startswith("Today's copy could not be made.")
    finally:
        app.state.copy_trouble = ""


def test_a_clock_that_ran_ahead_is_warned_of_and_closes_nothing(bench):
    machine, _, _ = bench.combination()
    assert bench.get("workshop/warnings") == {"warnings": [], "future": 0}
    today = bench.now
    bench.now = today + timedelta(days=400)
    bench.post(f"machines/{machine}/runs", {"minutes": 30, "quilt": "Redshank"})
    bench.post(f"machines/{machine}/clock/start", {"quilt": "Dunlin"})
    bench.now = today
    warned = bench.get("workshop/warnings")
    assert warned["future"] == 2
    assert "clock ran ahead" in warned["warnings"][0]
    # A start in the future is struck out by its stop: nobody knows for how long it ran.
    assert bench.get(f"machines/{machine}/run")["clock"]["quilt"] == "Dunlin"
    stopped = bench.post(f"machines/{machine}/clock/stop")
    assert stopped["struck_at"] is not None
    assert bench.get(f"machines/{machine}/run")["clock"] is None
    # And the run that still lies there ends no clock that is started now.
    bench.post(f"machines/{machine}/clock/start", {"quilt": "Curlew"})
    assert bench.get(f"machines/{machine}/run")["clock"]["quilt"] == "Curlew"
    bench.later(25)
    run = bench.post(f"machines/{machine}/clock/stop")
    assert run["payload"]["minutes"] == pytest.approx(25)
    assert bench.get(f"machines/{machine}/run")["clock"] is None


def put(bench, path, body, version):
    return bench.client.put(f"/api/{path}", json=body, headers={"if-match": f'"{version}"'})


def test_of_two_hands_the_second_is_told_and_sees_both(bench):
    machine, top, _ = bench.combination()
    thread = next(t for t in bench.get("threads")["items"] if t["id"] == top)
    line = bench.get(f"machines/{machine}/line")["machine"]
    look = bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})
    case = bench.post(f"machines/{machine}/cases", {"label": "A"})
    rows = (
        (f"threads/{top}", thread["version"], lambda note: {**thread["spec"], "note": note}, "note"),
        (f"machines/{machine}", line["version"], lambda note: {**line["spec"], "needle_system": note}, "needle_system"),
        (f"cases/{case['id']}", case["version"], lambda note: {**case["spec"], "kept_for": note}, "kept_for"),
        (
            f"log/{look['id']}",
            look["version"],
            lambda note: {"payload": {**look["payload"], "note": note}, "at": look["at"]},
            "note",
        ),
    )
    for path, version, said, field in rows:
        assert put(bench, path, said("first"), version).status_code == 200, path
        second = put(bench, path, said("second"), version)
        assert second.status_code == 409, path
        told = second.json()
        assert "Nothing was overwritten" in told["detail"]
        assert told["now"][field] == "first"
        assert put(bench, path, said("second"), told["version"]).status_code == 200
        assert put(bench, path, said("script"), "*").status_code == 200, "a script that does not mind"
        assert put(bench, path, said("x"), "three").status_code == 422


@pytest.mark.parametrize(
    ("code", "status", "says"),
    [(13, 507, "disk is full"), (8, 503, "can only be read"), (5, 503, "busy"), (11, 422, "damaged")],
)
def test_a_disk_that_does_not_do_says_so_and_loses_nothing(bench, monkeypatch, code, status, says):
    machine, _, _ = bench.combination()

    def fails(*_arguments, **_more):
        cause = __import__("sqlite3").OperationalError("it does not go")
        cause.sqlite_errorcode = code
        raise OperationalError("INSERT", {}, cause)

    monkeypatch.setattr(Workshop, "note", fails)
    answer = bench.client.post(f"/api/machines/{machine}/looks", json={"setting": 200, "grade": 0})
    assert answer.status_code == status
    assert says in answer.json()["detail"]
    monkeypatch.undo()
    assert len(bench.get("log")["entries"]) == 2
    bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})


def test_the_file_is_told_with_its_place_and_the_addresses(bench):
    found = bench.get("workshop")
    assert found["file"] == str(bench.data_dir / FILE_NAME)
    assert found["log_file"].endswith("weftonos.log")
    assert found["open_to_network"] is False
    assert found["addresses"] == ["http://127.0.0.1:8741/"] or found["addresses"][0].startswith("http://127.0.0.1")
    picture = bench.client.get("/api/workshop/qr.svg")
    assert picture.headers["content-type"].startswith("image/svg")
    assert b"<path" in picture.content


def test_what_the_first_paper_takes_is_loaded_before_anybody_asks(tmp_path, monkeypatch):
    modules = list(Stations.loaded_later)
    assert {"weftonos.api.thread", "weftonos.api.practice", "scipy.optimize", "fpdf"} <= set(modules)
    loaded: list[str] = []
    monkeypatch.setattr(keeping, "LOADED_AFTER_S", 0.0)
    monkeypatch.setattr(keeping, "import_module", loaded.append)
    with TestClient(create_app(Settings(data_dir=tmp_path)), base_url="http://127.0.0.1:8000") as client:
        wait_until = time.monotonic() + 10
        while len(loaded) < len(modules) and time.monotonic() < wait_until:
            client.get("/api/words")
    assert loaded == modules


def test_what_cannot_be_loaded_ahead_of_time_neither_stops_the_rest_nor_the_end(tmp_path, monkeypatch, caplog):
    modules, loaded = list(Stations.loaded_later), list[str]()

    def load(name: str) -> None:
        loaded.append(name)
        if name == "scipy.optimize":
            raise KeyError("scipy")

    monkeypatch.setattr(keeping, "LOADED_AFTER_S", 0.0)
    monkeypatch.setattr(keeping, "import_module", load)
    with TestClient(create_app(Settings(data_dir=tmp_path)), base_url="http://127.0.0.1:8000") as client:
        wait_until = time.monotonic() + 10
        while len(loaded) < len(modules) and time.monotonic() < wait_until:
            client.get("/api/words")
    assert loaded == modules
    assert "scipy.optimize could not be loaded ahead of time" in caplog.text
