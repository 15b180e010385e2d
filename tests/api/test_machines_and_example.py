"""Machines that are retired, and the example beside one's own workshop."""

from __future__ import annotations

import json
import urllib.request

from fastapi.testclient import TestClient

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
    assert "while it is not open to others" in answer.text
