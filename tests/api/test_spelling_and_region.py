"""Older spellings are read everywhere, and answered beside today's to programs; days are written by the region."""

from __future__ import annotations

import pytest

COTTON = {"fibre": "cotton", "construction": "spun", "value": 50, "system": "wt"}


def test_a_thread_in_the_older_spelling_is_the_same_thread(bench):
    thread = bench.post("threads", {"name": "Tern 50", "colour": "#2f6f62", "finish": "mercerised", "thread": COTTON})
    assert (thread["spec"]["color"], thread["spec"]["finish"]) == ("#2f6f62", "mercerized")
    assert thread["spec"]["thread"]["fiber"] == "cotton"
    told = bench.post("threads", {"name": "A colour of mine", "note": "colour", "thread": COTTON})
    assert (told["spec"]["name"], told["spec"]["note"]) == ("A colour of mine", "colour"), "what people wrote stays"


def test_a_run_and_a_question_in_the_older_spelling(bench):
    machine, _, _ = bench.combination()
    run = bench.post(f"machines/{machine}/runs", {"minutes": 30, "metres": 40})
    assert bench.get(f"log/{run['id']}")["payload"]["meters"] == 40
    both = [[item["id"] for item in bench.get(f"threads?{name}=silk")["items"]] for name in ("fibre", "fiber")]
    assert both[0] == both[1] != [item["id"] for item in bench.get("threads")["items"]]
    assert bench.get("threads?order=fibre")["items"]


def test_fields_that_nobody_knows_are_refused_in_any_spelling(bench):
    assert bench.refused("threads", {"name": "Tern", "thread": COTTON, "flavour": "mint"})[0] == "flavour"


@pytest.mark.parametrize("name", ["fibre", "fiber"])
def test_programs_may_ask_in_either_and_are_answered_in_both(bench, name):
    label = {"construction": "spun", "value": 50, "system": "wt", name: "cotton"}
    assert bench.client.post("/api/compute/linear-density", json=label).status_code == 200
    body = {"scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}, "observations": [{"setting": 4, "grade": 0}]}
    found = bench.client.post("/api/compute/balance", json=body).json()
    assert found["center"] == found["centre"]
    document = bench.client.get("/api/openapi.json").json()
    answer = document["paths"]["/api/compute/balance"]["post"]["responses"]["200"]["content"]["application/json"]
    assert answer["schema"]["allOf"][1]["properties"]["centre"]["deprecated"]


def test_a_table_with_headings_of_either_spelling_comes_in(bench):
    content = "Name,Label,Fibre,Colour,Metres\nTern,50 wt,cotton,#2f6f62,500\n"
    file = bench.client.post("/api/exchange/files", params={"name": "threads.csv"}, content=content.encode()).json()
    kinds = {kind["kind"]: kind["columns"] for kind in file["table"]["kinds"]}
    matched = {column["field"]: column["column"] for column in kinds["threads"]}
    assert (matched["fiber"], matched["color"], matched["length_m"]) == (2, 3, 4)


@pytest.mark.parametrize(
    ("language", "day"),
    [
        ("en-US,en;q=0.9", "November 24, 2026"),
        ("en-GB", "24 November 2026"),
        ("de-DE,de;q=0.9", "24 November 2026"),
        ("de", "24 November 2026"),
        ("", "November 24, 2026"),
        ("zh-Hans-US", "November 24, 2026"),
    ],
)
def test_paper_writes_days_as_the_reader_s_region_does(bench, language, day):
    machine, _, _ = bench.combination()
    path = f"/api/machines/{machine}/strip.svg?plan=full&motion=free_motion"
    svg = bench.client.get(path, headers={"accept-language": language}).text
    assert day in svg
