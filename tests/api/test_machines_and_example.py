"""Machines that are retired, and the example beside one's own workshop."""

from __future__ import annotations

import json
import urllib.request

import pytest
from fastapi.testclient import TestClient

from conftest import HERON, SALTMARSH
from weftonos.api.app import create_app
from weftonos.runtime.settings import Settings


def test_a_retired_machine_takes_no_new_records_and_keeps_its_old_ones(bench):
    machine, top, bobbin = bench.combination()
    look = bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    item = bench.get("machines")[0]
    put = lambda **change: bench.client.put(  # noqa: E731
        f"/api/machines/{machine}", json={**item["spec"], **change}
    )
    assert put(retired=True).status_code == 200
    for path, body in (
        ("looks", {"setting": 205, "grade": 0}),
        ("runs", {"minutes": 5}),
        ("top", {"top": [top]}),
        ("bobbin", {"bobbin": bobbin}),
        ("clock/start", {}),
        ("incidents", {"symptoms": ["clean_snap_of_the_top_thread"]}),
    ):
        field, says = bench.refused(f"machines/{machine}/{path}", body)
        assert (field, "is retired. Put it back into use under Workshop first" in says) == ("machine", True), path
    # What is on record is read and corrected as before.
    for station in ("line", "thread", "needle", "readings", "balance", "run", "mend"):
        assert bench.client.get(f"/api/machines/{machine}/{station}").status_code == 200
    corrected = bench.client.put(
        f"/api/log/{look['id']}", json={"payload": {**look["payload"], "grade": 1}, "at": look["at"]}
    )
    assert corrected.status_code == 200
    bench.post(f"log/{look['id']}/strike")
    assert put(retired=False).status_code == 200
    bench.post(f"machines/{machine}/runs", {"minutes": 5})


def test_a_machine_that_is_not_there_is_a_404_everywhere(bench):
    for path in ("line", "thread", "needle", "readings", "balance", "run", "mend", "rack"):
        assert bench.client.get(f"/api/machines/77/{path}").status_code == 404, path
    assert bench.client.post("/api/machines/77/runs", json={"minutes": 5}).status_code == 404


def test_the_example_opens_beside_one_s_own_and_ends_with_it(tmp_path):
    app = create_app(Settings(data_dir=tmp_path))
    with TestClient(app, base_url="http://127.0.0.1") as client:
        url = client.post("/api/workshop/example").json()["url"]
        assert client.post("/api/workshop/example").json()["url"] == url, "one example"
        machines = json.loads(urllib.request.urlopen(f"{url}api/machines", timeout=60).read())
        assert len(machines) == 3
        assert client.get("/api/machines").json() == [], "nothing of one's own is touched"
        assert (tmp_path / "example" / "workshop.db").exists()
        process = app.state.example._process
        assert process.poll() is None
    assert process.poll() is not None


def test_the_example_is_not_opened_where_others_can_reach_the_workshop(tmp_path):
    app = create_app(Settings(data_dir=tmp_path, host="0.0.0.0", passcode="heron"))
    with TestClient(app, base_url="http://127.0.0.1", client=("127.0.0.1", 1)) as client:
        answer = client.post("/api/workshop/example")
    assert answer.status_code == 422
    assert "while it's closed to others" in answer.text


def test_a_sit_down_longarm_is_no_frame(bench):
    machine = bench.post("machines", {**HERON, "on_frame": False})
    assert {"longarm", "table", "sit_down"} <= set(machine["features"])
    assert "frame" not in machine["features"]
    symptoms = {s["id"] for s in bench.get(f"machines/{machine['id']}/mend")["symptoms"]}
    assert "breaks_only_mid_frame" not in symptoms
    walks = {w["id"] for w in bench.get(f"words/procedures?machine={machine['id']}")["walks"]}
    assert {"free_motion_sit_down", "pull_gauge"} <= walks
    assert not walks & {"free_motion_longarm", "free_motion_home", "load_drop_in"}


def test_a_trouble_stays_as_it_was_named_when_its_machine_is_described_otherwise(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/incidents", {"symptoms": ["breaks_only_mid_frame"]})
    item = bench.get("machines")[0]
    changed = bench.client.put(f"/api/machines/{machine}", json={**item["spec"], "on_frame": False})
    assert changed.status_code == 200
    station = bench.get(f"machines/{machine}/mend")
    assert station["seen"] == ["Breaks only mid-frame"]
    assert station["diagnosis"]["next"]["cause"] not in {"rails_bow", "roller_too_close", "sandwich_too_tight"}


def test_a_display_of_a_domestic_machine_begins_as_a_dial_does(bench):
    starts = []
    for kind, high in (("dial", 10), ("readout", 9)):
        scale = {"kind": kind, "low": 0, "high": high, "step": 0.5}
        machine = bench.post("machines", {"nickname": kind, "kind": "home", "scale": scale})["id"]
        thread = bench.post("threads", {"name": f"Top {kind}", "thread": SALTMARSH})["id"]
        bench.post(f"machines/{machine}/top", {"top": [thread]})
        starts.append(bench.get(f"machines/{machine}/balance")["estimate"]["set_to"])
    assert starts[0] == starts[1]
    assert 2 <= starts[1] <= 5


@pytest.mark.parametrize(
    ("spec", "field"),
    [
        ({"kind": "home", "on_frame": True}, "on_frame"),
        ({"guide_holes": 9}, "guide_holes"),
        ({"scale": {"kind": "readout", "low": 10, "high": 10, "step": 1}}, "high"),
    ],
)
def test_a_machine_that_cannot_be_is_refused_at_its_field(bench, spec, field):
    assert bench.refused("machines", {**HERON, **spec})[0] == field
