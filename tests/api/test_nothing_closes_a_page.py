"""Whatever is deleted, corrected or answered, every page of every machine still opens."""

from __future__ import annotations

from pathlib import Path

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session
from test_call_examples import Player, open_app

from weftonos.store.database import reading
from weftonos.store.models import RecordRow

THINGS = ("threads", "needles", "cases", "bobbins")
OF_A_MACHINE = [
    *("line", "thread", "needle", "needles", "readings", "rack", "balance", "run", "mend", "troubles", "preflight"),
    *("upkeep", "threads-sheet", "evidence/rates", "evidence/planned"),
]
OF_ALL = ("machines", "threads", "recipes", "quilts", "log", "log/unreadable", "workshop/warnings", "exchange/imports")


def closed(client, machines: range) -> list[tuple[str, int, str]]:
    """The pages that do not open."""
    paths = [*OF_ALL, *(f"machines/{machine}/{page}" for machine in machines for page in OF_A_MACHINE)]
    answers = [(path, client.get(f"/api/{path}")) for path in paths]
    return [(path, a.status_code, a.text[:200]) for path, a in answers if a.status_code != 200]


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    """One of everything, by the examples of all calls; nothing deleted, nothing put back."""
    with open_app(Path(tmp_path_factory.mktemp("everything"))) as client:
        aside = ("/undo", "/restore", "/strike", "/retire", "/compute/", "/gauge/", "/exchange/", "/workshop/")
        Player(client).play_all_but(*aside)
        yield client


def test_each_of_everything_is_deleted_and_put_back_and_every_page_opens(client):
    machines = range(1, len(client.get("/api/machines").json()) + 1)
    assert closed(client, machines) == []
    deleted, in_use = 0, 0
    for thing in THINGS:
        number = 0
        while (answer := client.post(f"/api/{thing}/{(number := number + 1)}/strike")).status_code != 404:
            if answer.status_code == 422:
                assert answer.json()["detail"][0]["loc"][-1] == "anyway"
                assert answer.json()["detail"][0]["msg"].startswith("It is in ")
                in_use += 1
                assert client.post(f"/api/{thing}/{number}/strike?anyway=true").status_code == 200
            assert closed(client, machines) == [], (thing, number)
            assert client.post(f"/api/{thing}/{number}/restore").status_code == 200
            deleted += 1
    assert deleted == 7
    assert in_use >= 4


def test_each_record_is_deleted_and_put_back_and_every_page_opens(client):
    with Session(reading(client.app.state.engine)) as session:
        records = session.scalars(select(RecordRow.id).where(RecordRow.struck_at.is_(None))).all()
    assert len(records) > 30
    for record in records:
        assert client.post(f"/api/log/{record}/strike").status_code == 200
        assert closed(client, range(1, 2)) == [], record
        assert client.post(f"/api/log/{record}/restore").status_code == 200


def test_a_case_in_a_machine_that_is_deleted_leaves_the_bobbin_station_open(bench):
    machine, _, bobbin = bench.combination()
    case = bench.post(f"machines/{machine}/cases", {"label": "A", "bobbin_class": "M"})["id"]
    bench.post(f"machines/{machine}/bobbin", {"bobbin": bobbin, "case": case})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 170}] * 3, "case": case})
    assert bench.refused(f"cases/{case}/strike", None) == ("anyway", "It is in Heron now.")
    bench.post(f"cases/{case}/strike?anyway=true")
    station = bench.get(f"machines/{machine}/readings")
    assert station["setup"]["case"]["label"] == "A"
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 200}] * 3, "case": case})


@pytest.mark.parametrize("also", [[], ["skipped_stitches"]])
def test_what_was_answered_no_and_then_picked_is_what_is_seen(bench, also):
    machine, _, _ = bench.combination()
    one_way = "breaks_in_one_travel_direction_only"
    opened = bench.post(f"machines/{machine}/incidents", {"symptoms": ["frays_above_the_eye"]})["id"]
    bench.post(f"incidents/{opened}/answers", {"finding": one_way, "present": False})
    seen = {"symptoms": [one_way, *also]}
    assert bench.client.put(f"/api/incidents/{opened}", json=seen).status_code == 200
    station = bench.get(f"machines/{machine}/mend")
    assert len(station["seen"]) == 1 + len(also)
    field, says = bench.refused(f"incidents/{opened}/answers", {"finding": one_way, "present": False})
    assert (field, "Correct what you see" in says) == ("finding", True)
    bench.post(f"incidents/{opened}/outcome", {"outcome": "left"})
    assert bench.get(f"machines/{machine}/mend")["stage"] == "start"


def test_a_change_that_is_said_later_takes_the_place_of_the_answer_before(bench):
    machine, _, _ = bench.combination()
    opened = bench.post(f"machines/{machine}/incidents", {"symptoms": ["frays_above_the_eye"]})["id"]
    bench.post(f"incidents/{opened}/answers", {"finding": "cleaning", "present": False})
    seen = {"symptoms": ["frays_above_the_eye"], "changed": ["cleaning"]}
    assert bench.client.put(f"/api/incidents/{opened}", json=seen).status_code == 200
    assert [c["changed"] for c in bench.get(f"machines/{machine}/mend")["changes"] if c["id"] == "cleaning"] == [True]
    struck = [entry for entry in bench.get("log")["entries"] if entry["struck_at"]]
    assert [entry["kind"] for entry in struck] == ["incident_answer"], "in sight, and restorable"
