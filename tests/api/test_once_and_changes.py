"""A write and its repeats are one write, and every screen hears of it."""

from __future__ import annotations

import json
import threading
import time

import httpx2
import pytest
from torture.storms import workshop

from browser import calling

KEY = "0123456789abcdef"


def keyed(key=KEY):
    return {"idempotency-key": key}


def test_a_repeat_gets_the_answer_of_the_first_and_writes_nothing(bench):
    machine, _, _ = bench.combination()
    path, body = f"/api/machines/{machine}/looks", {"setting": 205, "grade": 0}
    first = bench.client.post(path, json=body, headers=keyed())
    again = [bench.client.post(path, json=body, headers=keyed()) for _ in range(3)]
    assert first.status_code == 201
    assert {answer.json()["id"] for answer in again} == {first.json()["id"]}
    assert len(bench.get("log?kind=look")["entries"]) == 1
    assert bench.client.post(path, json=body, headers=keyed(KEY + "2")).json()["id"] != first.json()["id"]
    other = bench.client.post(f"/api/machines/{machine}/runs", json={"minutes": 5}, headers=keyed())
    assert (other.status_code, "another write" in other.text) == (422, True)
    for wrong in ("short", "x" * 81):
        assert bench.client.post(path, json=body, headers=keyed(wrong)).status_code == 422


def test_what_was_refused_may_be_tried_again_with_its_key(bench):
    machine, _, _ = bench.combination()
    path = f"/api/machines/{machine}/looks"
    assert bench.client.post(path, json={"setting": 9999, "grade": 0}, headers=keyed()).status_code == 422
    assert bench.client.post(path, json={"setting": 205, "grade": 0}, headers=keyed()).status_code == 201


def test_a_repeat_after_a_restart_is_known_by_the_file(bench):
    machine, _, _ = bench.combination()
    path, body = f"/api/machines/{machine}/runs", {"minutes": 5}
    assert bench.client.post(path, json=body, headers=keyed()).status_code == 201
    # The answers that are held go with the process.
    layer = bench.client.app.middleware_stack
    while not hasattr(layer, "_writes"):
        layer = getattr(layer, "_app", None) or layer.app
    layer._writes.clear()
    again = bench.client.post(path, json=body, headers=keyed())
    assert again.status_code == 208
    assert len(bench.get("log?kind=run")["entries"]) == 1


def test_a_repeat_whose_write_went_with_a_restore_is_done_anew(bench):
    machine, _, _ = bench.combination()
    copy = bench.post("workshop/copies")["name"]
    path, body = f"/api/machines/{machine}/runs", {"minutes": 5}
    assert bench.client.post(path, json=body, headers=keyed()).status_code == 201
    bench.post(f"workshop/copies/{copy}/restore")
    assert bench.get("log?kind=run")["entries"] == []
    assert bench.client.post(path, json=body, headers=keyed()).status_code == 201
    assert len(bench.get("log?kind=run")["entries"]) == 1


def test_every_screen_hears_of_a_write_and_whose_it_was():
    heard: list[list[dict]] = [[], []]
    with workshop() as (address, _), calling(address) as client:
        ready = threading.Barrier(3)

        def listen(mine):
            with httpx2.stream("GET", f"{address}/api/changes", timeout=60) as told:
                assert told.headers["content-type"].startswith("text/event-stream")
                lines = told.iter_lines()
                assert next(lines).startswith("retry")
                assert [next(lines), json.loads(next(lines)[6:]).keys()] == ["event: stand", {"stand"}]
                ready.wait()
                for line in lines:
                    if line.startswith("data: "):
                        heard[mine].append(json.loads(line[6:]))
                        if len(heard[mine]) == 20:
                            return

        threads = [threading.Thread(target=listen, args=(n,)) for n in range(2)]
        for thread in threads:
            thread.start()
        ready.wait()
        started = time.monotonic()
        for number in range(20):
            client.post("/machines/1/runs", json={"minutes": 5}, headers=keyed(f"{KEY}-{number}")).raise_for_status()
        wrote = time.monotonic() - started
        for thread in threads:
            thread.join(60)
        took = time.monotonic() - started
    for mine in heard:
        assert [said["key"] for said in mine] == [f"{KEY}-{n}" for n in range(20)]
        assert [said["number"] for said in mine] == list(range(mine[0]["number"], mine[0]["number"] + 20))
    assert took < wrote + 30, "they hear of it while it is written"


@pytest.mark.parametrize(
    ("path", "bodies"),
    [
        ("/api/compute/linear-density", [{"value": value, "system": "wt"} for value in (40, 50)]),
        ("/api/machines/1/wish", [{"wish": wish} for wish in ("show", "hide")]),
    ],
)
def test_a_question_with_a_key_is_no_write(bench, path, bodies):
    bench.combination()
    for body in bodies:
        assert bench.client.post(path, json=body, headers=keyed()).status_code == 200
    found = bench.client.post("/api/compute/linear-density", json={"value": 50, "system": "wt"}, headers=keyed(KEY * 2))
    assert found.json()["tex"] == 20
