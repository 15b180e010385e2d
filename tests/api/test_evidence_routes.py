"""The page of what the records say follows the log, and Tippett's looms come in as runs like anybody's table."""

from __future__ import annotations

import csv
import io
import re
import time
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader

from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.demo import history
from weftonos.settings import Settings

VALUES = Path(__file__).parent.parent / "check_values"


def page(bench, machine=1):
    return bench.get(f"machines/{machine}/evidence")


def bring(bench, table: str, kind: str, **choices):
    file = bench.client.post("/api/exchange/files", content=table.encode()).json()
    wanted = next(k for k in file["table"]["kinds"] if k["kind"] == kind)["columns"]
    columns = {c["field"]: c["column"] for c in wanted if c["column"] is not None}
    for path, body in (("check", {"kind": kind, "columns": columns, **choices}), ("keep", {})):
        job = bench.client.post(f"/api/exchange/files/{file['token']}/{path}", json=body).json()
        while (state := bench.get(f"exchange/jobs/{job['id']}"))["state"] == "running":
            time.sleep(0.01)
        assert state["state"] == "done", state
    return state["brought"]


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    folder = tmp_path_factory.mktemp("demo")
    load_demo(folder)
    with TestClient(create_app(Settings(data_dir=folder)), base_url="http://127.0.0.1") as client:
        yield client.get("/api/machines/1/evidence").json()


def test_looms_come_in_as_runs_and_their_interval_is_wider_than_a_count_s(bench):
    """Each loom one quilt of one hour: nine of one wool at one tension, as one thread's nine quilts."""
    machine, _, _ = bench.combination()
    with (VALUES / "yarn_breaks_tippett_1950.csv").open() as file:
        rows = list(csv.DictReader(line for line in file if not line.startswith("#")))
    looms = [int(row["breaks"]) for row in rows if (row["wool"], row["tension"]) == ("A", "L")]
    bench.now = bench.now.replace(month=11, day=25)
    # After the combination went on: what was on is what they are counted for.
    table = "Date,Minutes,Quilt,Breaks\n" + "".join(
        f"2026-11-24 {10 + n}:00,60,Loom {n},{count}\n" for n, count in enumerate(looms)
    )
    brought = bring(bench, table, "runs", machine=machine)
    assert brought["new"] == {"record": 9 + 2 * sum(looms)}
    found = page(bench, machine)
    assert (found["breaks"], found["quilts"], found["hours"]) == (sum(looms), 9, 9)
    (line,) = found["rates"]
    assert line["level"] == "Saltmarsh 40 (40 wt trilobal)"
    rate = line["rate"]
    assert rate["plain"] == pytest.approx(sum(looms) / 9)
    assert rate["high"] - rate["low"] > 2 * (rate["plain_high"] - rate["plain_low"])
    assert len(line["records"]) == sum(looms)
    # One break struck out, and the answer follows.
    bench.post(f"log/{line['records'][0]}/strike")
    assert page(bench, machine)["breaks"] == sum(looms) - 1
    bench.client.post(f"/api/exchange/imports/{brought['id']}/undo")
    assert page(bench, machine)["rates"] == []


def test_a_break_is_one_record_wherever_it_was_noted(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/runs", {"minutes": 120, "quilt": "Avocet"})
    noted = bench.post(f"machines/{machine}/breaks", {"symptom": "bobbin_thread_breaks"})
    assert noted["text"] == "Bobbin thread breaks, and sewn on."
    bench.post(f"machines/{machine}/incidents", {"symptoms": ["frays_above_the_eye"]})
    assert page(bench, machine)["breaks"] == 2
    field, said = bench.refused(f"machines/{machine}/breaks", {"symptom": "frays_above_the_eye"})
    assert (field, "counted there already" in said) == ("symptom", True)
    for record in reversed(noted["records"]):
        bench.post(f"log/{record}/strike")
    assert page(bench, machine)["breaks"] == 1
    bench.post(f"log/{bench.get('log?kind=incident')['entries'][0]['id']}/strike")
    field, said = bench.refused(f"machines/{machine}/breaks", {"symptom": "skipped_stitches"})
    assert "That is no break" in said


def test_an_empty_log_says_nothing_and_divides_by_nothing(bench):
    machine, _, _ = bench.combination()
    found = page(bench, machine)
    assert (found["statements"], found["rates"], found["lives"], found["comparisons"]) == ([], [], [], [])
    bench.post(f"machines/{machine}/breaks", {"symptom": "bobbin_thread_breaks"})
    assert page(bench, machine)["rates"] == [], "a break without a run"
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "sharp"})
    bench.post(f"machines/{machine}/runs", {"minutes": 45})
    found = page(bench, machine)
    assert len(found["lives"]) == 1
    assert "No trouble yet" in found["lives"][0]["text"]
    both = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel"}
    assert "Nothing of titanium" in bench.post(f"machines/{machine}/evidence/compare", both)["text"]
    assert bench.client.get("/api/machines/99/evidence").status_code == 404


@pytest.mark.parametrize(
    ("change", "field"),
    [({"first": "steel"}, "second"), ({"factor": "batting"}, "factor"), ({"measure": "beauty"}, "measure")],
)
def test_what_cannot_be_compared_is_said(bench, change, field):
    bench.combination()
    both = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel", **change}
    assert bench.refused("machines/1/evidence/compare", both)[0] == field


def test_a_plan_says_how_many_and_refuses_the_impossible(bench):
    bench.combination()
    both = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel"}
    few, many = (bench.post(f"machines/1/evidence/plan?times={times}", both)["of_each"] for times in (3, 1.5))
    assert few < many
    assert bench.refused("machines/1/evidence/plan?times=1.01", both)[0] == "times"


def test_the_records_of_the_demo_find_what_is_hidden_in_it(demo):
    hidden = history.LASTS_H["titanium"] / history.LASTS_H["steel"]
    lasts = next(c for c in demo["comparisons"] if c["measure"] == "life" and c["factor"] == "finish")["compared"]
    assert (lasts["first"], lasts["second"], lasts["said"]) == ("titanium", "steel", True)
    assert lasts["low"] < hidden < lasts["high"]
    rates = {line["level"].split(" (")[0]: line["rate"] for line in demo["rates"]}
    assert rates["Glasswort 40"]["low"] < history.BREAKS_AN_HOUR["Glasswort 40"] * 1.2 < rates["Glasswort 40"]["high"]
    assert rates["Glasswort 40"]["per_unit"] > 2 * rates["Samphire 50"]["per_unit"]
    steel = next(line for line in demo["lives"] if line["kind"].startswith("steel topstitch, middle"))
    assert steel["weibull"]["shape"] > 1
    assert "wear out" in steel["text"]
    assert re.search(r"changing costs least at \d+ h", steel["text"])
    assert len(demo["statements"]) >= 3


def test_a_planned_comparison_says_what_is_next_and_ends_with_its_answer(bench):
    bench.combination()
    both = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel"}
    assert bench.client.get("/api/machines/1/evidence/planned").json() is None
    planned = bench.post("machines/1/evidence/planned?times=9", both)
    assert planned["text"].startswith("titanium against steel, ")
    needed = planned["payload"]["of_each"]
    assert bench.get("machines/1/evidence/planned")["progress"]["text"].startswith(f"Next: titanium, 1 of {needed}")
    for n in range(needed):
        for finish, hours in (("titanium", 12 + n), ("steel", 5 + n)):
            bench.later(60)
            needle = {"metric": 90, "american": 14, "point": "sharp", "finish": finish}
            bench.post("machines/1/needle", needle)
            bench.later(1)
            bench.post("machines/1/runs", {"minutes": 60 * hours / 2})
            bench.post("machines/1/runs", {"minutes": 60 * hours / 2})
            bench.post("machines/1/needle/retire", {"why": "dull_sound"})
            stands = bench.get("machines/1/evidence/planned")
            if not stands["progress"]["over"]:
                assert "has not run its course" in stands["answer"]
    assert stands["progress"]["over"] is True
    assert "The answer is in" in stands["progress"]["text"]
    assert stands["answer"].startswith("Titanium lasted ")
    # Needles of before do not count; struck out, the plan is gone.
    assert stands["progress"]["first_done"] == needed
    bench.post(f"log/{planned['id']}/strike")
    assert bench.client.get("/api/machines/1/evidence/planned").json() is None


def test_a_plan_whose_needle_was_never_bought_waits(bench):
    bench.combination()
    bench.post(
        "machines/1/evidence/planned", {"measure": "breaks", "factor": "top_thread", "first": "a", "second": "b"}
    )
    stands = bench.get("machines/1/evidence/planned")
    assert (stands["progress"]["first_done"], stands["progress"]["over"]) == (0, False)
    assert "Nothing of a is on record" in stands["answer"]


def test_a_season_is_printed(bench):
    bench.combination()
    bench.post("machines/1/runs", {"minutes": 120, "quilt": "Avocet"})
    bench.post("machines/1/breaks", {"symptom": "bobbin_thread_breaks"})
    printed = bench.client.get("/api/machines/1/evidence/summary.pdf")
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(printed.content)).pages)
    assert "Saltmarsh 40 (40 wt trilobal): about" in " ".join(text.split())
    assert "2 h on 1 quilts" in text


def test_a_second_look_reads_nothing_anew_until_something_was_written(bench):
    bench.combination()
    page(bench)
    kept = bench.client.app.state.evidence
    first = kept._evidence
    page(bench)
    assert kept._evidence is first
    bench.post("machines/1/runs", {"minutes": 5})
    page(bench)
    assert kept._evidence is not first
