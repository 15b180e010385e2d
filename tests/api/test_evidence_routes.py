"""The page of what the records say follows the log, and Tippett's looms come in as runs like anybody's table."""

from __future__ import annotations

import csv
import io
import re
import time
from pathlib import Path
from types import SimpleNamespace

import pytest
from bench_screens import asked_of
from fastapi.testclient import TestClient
from pypdf import PdfReader

from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.core.evidence.compare import Compared
from weftonos.core.evidence.rates import Rate
from weftonos.core.evidence.records import Per
from weftonos.core.kernel.schools import MachineKind, Schools
from weftonos.core.kernel.spoken import length
from weftonos.core.needle.life import NeedleSpan
from weftonos.core.needle.needle import NeedleFinish, NeedleKind, Point
from weftonos.demo import history
from weftonos.learned import own_records
from weftonos.learned.evidence import _life, every_so_often, rests_on
from weftonos.runtime.settings import Settings
from weftonos.standins.machine.laws import SimCloth, SimNeedle, wear_by_meter
from weftonos.standins.machine.machine import SimulatedMachine
from weftonos.stations.evidence import _statements

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
        assert state["state"] == "done", str(state)
    return state["brought"]


@pytest.fixture(scope="module")
def demo_client(tmp_path_factory):
    folder = tmp_path_factory.mktemp("demo")
    load_demo(folder)
    with TestClient(create_app(Settings(data_dir=folder)), base_url="http://127.0.0.1") as client:
        yield client


@pytest.fixture(scope="module")
def demo(demo_client):
    return demo_client.get("/api/machines/1/evidence").json()


def test_two_kinds_say_the_same_whichever_is_named_first(demo_client):
    question = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel"}
    turned = question | {"first": "steel", "second": "titanium"}
    says = [demo_client.post("/api/machines/1/evidence/compare", json=each).json() for each in (question, turned)]
    assert says[0]["text"] == says[1]["text"]
    assert [each["compared"]["ratio"] > 1 for each in says] == [True, False]


def test_looms_come_in_as_runs_and_say_what_is_published_of_them(bench):
    """Two wools as two threads, three tensions as three battings, each loom one quilt of one hour."""
    machine, _, bobbin = bench.combination()
    wools = {name: bench.post("threads", thread(name))["id"] for name in ("Wool A", "Wool B")}
    with (VALUES / "yarn_breaks_tippett_1950.csv").open() as file:
        rows = list(csv.DictReader(line for line in file if not line.startswith("#")))
    bench.now = bench.now.replace(month=11, day=1, hour=8)
    brought, days = [], sorted({(row["wool"], row["tension"]) for row in rows})
    for day, (wool, tension) in enumerate(days, 1):
        bench.now = bench.now.replace(day=day)
        bench.post(f"machines/{machine}/top", {"top": [wools[f"Wool {wool}"]]})
        bench.post(f"machines/{machine}/bobbin", {"bobbin": bobbin})
        bench.post(f"machines/{machine}/sandwich", {"batting": f"tension {tension}"})
        looms = [int(row["breaks"]) for row in rows if (row["wool"], row["tension"]) == (wool, tension)]
        table = "Date,Minutes,Meters,Quilt,Breaks\n" + "".join(
            f"2026-11-{day:02d} {10 + n}:30,60,40,Loom {wool}{tension}{n},{count}\n" for n, count in enumerate(looms)
        )
        bench.now = bench.now.replace(hour=20)
        brought.append(bring(bench, table, "runs", machine=machine))
        bench.now = bench.now.replace(hour=8)
    found = page(bench, machine)
    assert (found["breaks"], found["quilts"], found["hours"]) == (sum(int(row["breaks"]) for row in rows), 54, 54)
    rates = {line["level"].split(" (")[0]: line for line in found["rates"]["lines"]}
    for wool in "AB":
        counts = [int(row["breaks"]) for row in rows if row["wool"] == wool]
        rate = rates[f"Wool {wool}"]["rate"]
        assert rate["plain"] == pytest.approx(sum(counts) / 27)
        assert rate["low"] < rate["plain"] < rate["high"]
        assert rate["high"] - rate["low"] > 1.5 * (rate["plain_high"] - rate["plain_low"])
    # Tension M and H against L, both wools: about 0.74 and 0.60 by a negative binomial with both in it.
    for tension, published in (("M", 0.74), ("H", 0.60)):
        asked = {"measure": "breaks", "factor": "batting", "first": f"tension {tension}", "second": "tension L"}
        told = bench.post(f"machines/{machine}/evidence/compare", asked)["compared"]
        assert told["adjusted"] == ["thread on top"]
        assert told["ratio"] == pytest.approx(published, abs=0.03)
    on_cloth = bench.get(f"machines/{machine}/evidence/rates?by=batting&per=kilometer")
    line = next(line for line in on_cloth["lines"] if line["level"] == "tension L")
    light = [int(row["breaks"]) for row in rows if row["tension"] == "L"]
    assert line["rate"]["plain"] == pytest.approx(sum(light) / 18 / 0.040)
    assert "breaks in 1000 m" in line["text"]
    # One break struck out, and the answer follows; the file taken back, and they are gone.
    bench.post(f"log/{line['records'][0]}/strike")
    assert page(bench, machine)["breaks"] == found["breaks"] - 1
    for each in brought:
        bench.client.post(f"/api/exchange/imports/{each['id']}/undo?anyway=true")
    assert page(bench, machine)["rates"]["lines"] == []


def thread(name):
    return {
        "name": name,
        "thread": {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"},
        "color": "#eeeeee",
    }


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
    assert "That isn't a break" in said


def test_an_empty_log_says_nothing_and_divides_by_nothing(bench):
    machine, _, _ = bench.combination()
    found = page(bench, machine)
    assert (found["statements"], found["rates"]["lines"], found["lives"], found["comparisons"]) == ([], [], [], [])
    bench.post(f"machines/{machine}/breaks", {"symptom": "bobbin_thread_breaks"})
    assert page(bench, machine)["rates"]["lines"] == [], "a break without a run"
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "sharp"})
    bench.post(f"machines/{machine}/runs", {"minutes": 45})
    found = page(bench, machine)
    assert len(found["lives"]) == 1
    assert "no trouble. Too soon to say" in found["lives"][0]["text"]
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


def test_a_plan_says_how_long_it_takes_and_what_a_season_could_show(bench):
    machine, _, _ = bench.combination()
    both = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel"}
    assert bench.post(f"machines/{machine}/evidence/plan", both)["text"].endswith("isn't known yet.")
    for _ in range(12):
        bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
        bench.later(60 * 24 * 20)
    answer = bench.post(f"machines/{machine}/evidence/plan?times=1.5", both)
    assert answer["months"] == pytest.approx(2 * answer["of_each"] / 1, rel=0.1), "a needle a month"
    assert f"takes about {round(answer['months'] / 12)} years." in answer["text"]
    season = answer["season_times"]
    assert season is None or season > 1.5
    large = bench.post(f"machines/{machine}/evidence/plan?times=10", both)
    assert large["months"] < answer["months"]
    assert (large["months"] <= 6) == (large["season_times"] is None and "season" not in large["text"])


def test_the_records_of_the_demo_find_what_is_hidden_in_it(demo):
    steel_wear, titanium_wear = (
        wear_by_meter(SimNeedle(90, titanium=coated), SimCloth(), SimulatedMachine(1).temper)
        for coated in (False, True)
    )
    hidden = steel_wear / titanium_wear
    lasts = next(c for c in demo["comparisons"] if c["measure"] == "life" and c["factor"] == "finish")["compared"]
    assert (lasts["first"], lasts["second"], lasts["said"]) == ("titanium", "steel", True)
    assert lasts["low"] < hidden < lasts["high"]
    rates = {line["level"].split(" (")[0]: line["rate"] for line in demo["rates"]["lines"]}
    # The old cone breaks oftenest; and a worn needle more often than a fresh one.
    assert max(history.THREADS, key=lambda name: rates[name]["per_unit"]) == history.OLD_CONE
    assert rates[history.OLD_CONE]["low"] > rates["Saltmarsh 40"]["per_unit"]
    steel = next(line for line in demo["lives"] if line["kind"] == "steel topstitch, middle sizes, on Heron")
    assert steel["weibull"]["shape"] > 1
    assert "wear out" in steel["text"]
    assert re.search(r"Changing costs least at [\d.]+ hour", steel["text"])
    assert len(demo["statements"]) == 4, "the most that stand on top"
    for each in demo["comparisons"]:
        if (told := each["compared"])["ratio"] is None:
            continue
        # The larger one stands first, so its figures are told the other way around.
        times = max(told["ratio"], 1 / told["ratio"])
        low, high = map(float, re.search(r"most likely ([\d.]+) to ([\d.]+) times", each["text"]).groups())
        assert low <= times + 0.05
        assert times - 0.05 <= high, each["text"]
    per_km = Rate(**next(iter(rates.values())) | {"breaks": 3, "amount": 20.0, "quilts": 2})
    assert rests_on(per_km, Per.KILOMETER) == f"3 breaks in {length(20_000)} on 2 quilts"


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
    assert stands["answer"].startswith("Titanium lasts about ")
    # Needles of before do not count; struck out, the plan is gone.
    assert stands["progress"]["first_done"] == needed
    bench.post(f"log/{planned['id']}/strike")
    assert bench.client.get("/api/machines/1/evidence/planned").json() is None


def test_a_plan_whose_needle_was_never_bought_waits(bench):
    bench.combination()
    both = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel"}
    bench.post("machines/1/evidence/planned", both)
    stands = bench.get("machines/1/evidence/planned")
    assert (stands["progress"]["first_done"], stands["progress"]["over"]) == (0, False)
    assert "Nothing of titanium is on record" in stands["answer"]


TWO_THREADS = {"measure": "breaks", "factor": "top_thread", "second": "Limpet 80 (80 wt polyester)"}


@pytest.mark.parametrize("call", ["planned", "plan", "compare"])
def test_kinds_that_there_are_not_are_refused(bench, call):
    bench.combination()
    field, says = bench.refused(f"machines/1/evidence/{call}", {**TWO_THREADS, "first": "Curlew 12"})
    assert (field, says) == ("first", "There is no thread on top “Curlew 12” on record here.")


def test_a_plan_goes_on_when_its_thread_is_renamed_and_does_not_claim_an_answer(bench):
    machine, top, _ = bench.combination()
    thread = next(item for item in bench.get("threads")["items"] if item["id"] == top)
    bench.post(
        f"machines/{machine}/evidence/planned?times=9",
        {**TWO_THREADS, "first": thread["spec"]["name"] + " (40 wt trilobal)"},
    )
    bench.later(1)
    bench.post(f"machines/{machine}/runs", {"minutes": 60, "quilt": "Avocet"})
    before = bench.get(f"machines/{machine}/evidence/planned")["progress"]
    assert before["first_done"] == 1
    renamed = {**thread["spec"], "name": "Glasswort 40"}
    assert bench.client.put(f"/api/threads/{top}", json=renamed).status_code == 200
    after = bench.get(f"machines/{machine}/evidence/planned")["progress"]
    assert (after["first_done"], after["first"]) == (1, "Glasswort 40 (40 wt trilobal)")
    limpet = next(item["id"] for item in bench.get("threads")["items"] if item["spec"]["name"] == "Limpet 80")
    for number in range(after["of_each"]):
        for on in (top, limpet):
            bench.later(60)
            bench.post(f"machines/{machine}/top", {"top": [on]})
            bench.later(1)
            bench.post(f"machines/{machine}/runs", {"minutes": 60, "quilt": f"Quilt {number} {on}"})
    ended = bench.get(f"machines/{machine}/evidence/planned")["progress"]
    assert ended["over"]
    assert "too little trouble to tell" in ended["text"], "not one break: no answer"


def test_evidence_is_read_anew_after_going_back_and_after_a_price_changed(bench):
    machine, _, _ = bench.combination()
    copy = bench.post("workshop/copies")["name"]
    bench.post(f"machines/{machine}/runs", {"minutes": 60, "quilt": "Avocet"})
    assert bench.get(f"machines/{machine}/evidence")["hours"] == 1
    bench.post(f"workshop/copies/{copy}/restore")
    bench.post(f"machines/{machine}/runs", {"minutes": 120, "quilt": "Avocet"})
    assert bench.get(f"machines/{machine}/evidence")["hours"] == 2, "as many rows as before, and others"


def test_an_evening_past_midnight_in_greenwich_is_one(bench, monkeypatch):
    monkeypatch.setenv("TZ", "America/Chicago")
    time.tzset()
    try:
        machine, _, _ = bench.combination()
        # Seven in the evening and half past eleven at the machine: two days in Greenwich.
        for hour, day in ((23, 23), (5, 24)):
            bench.now = bench.now.replace(month=11, day=day, hour=hour, minute=30)
            bench.post(f"machines/{machine}/runs", {"minutes": 60})
        assert bench.get(f"machines/{machine}/evidence")["quilts"] == 1
    finally:
        monkeypatch.undo()
        time.tzset()


def test_a_day_begins_at_four_in_the_morning(bench, monkeypatch):
    monkeypatch.setenv("TZ", "UTC")
    time.tzset()
    try:
        machine, _, _ = bench.combination()
        for hour, minute, day, days in ((22, 0, 23, 1), (3, 50, 24, 1), (4, 10, 24, 2)):
            bench.now = bench.now.replace(month=11, day=day, hour=hour, minute=minute)
            bench.post(f"machines/{machine}/runs", {"minutes": 5})
            assert bench.get(f"machines/{machine}/evidence")["quilts"] == days, (day, hour)
    finally:
        monkeypatch.undo()
        time.tzset()


def test_a_season_is_printed(bench):
    bench.combination()
    bench.post("machines/1/runs", {"minutes": 120, "quilt": "Avocet"})
    bench.post("machines/1/breaks", {"symptom": "bobbin_thread_breaks"})
    printed = bench.client.get("/api/machines/1/evidence/summary.pdf")
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(printed.content)).pages)
    rows = " ".join(text.split())
    assert "Thread on top Once in about Most likely Counted Saltmarsh 40 (40 wt trilobal)" in rows
    assert "1 break in 2 hours on 1 quilt" in rows
    assert "2 h on 1 quilt" in text
    assert "1 quilts" not in text


def reads_anew(bench) -> bool:
    """Look at the page of evidence; say whether records were read for it."""
    with asked_of(bench.client.app.state.engine) as asked:
        page(bench)
    return any("FROM record" in each for each in asked)


def test_a_second_look_reads_nothing_anew_until_something_was_written(bench):
    bench.combination()
    page(bench)
    assert not reads_anew(bench)
    bench.post("machines/1/runs", {"minutes": 5})
    assert reads_anew(bench)
    assert not reads_anew(bench)


def wear_out(bench, hours=(9.0, 9.5, 10.0, 10.5, 11.0, 10.2)):
    """Six needles of a kind that all popped within two hours of one another."""
    for each in hours:
        bench.later(60)
        bench.post("machines/1/needle", {"metric": 90, "american": 14, "point": "sharp"})
        bench.later(1)
        bench.post("machines/1/runs", {"minutes": 60 * each, "meters": 40 * each})
        bench.post("machines/1/needle/retire", {"why": "dull_sound"})


def test_one_s_own_needles_say_when_one_is_due_unless_they_are_to_stand_beside(bench):
    bench.combination()
    wear_out(bench)
    bench.later(5)
    bench.post("machines/1/needle", {"metric": 90, "american": 14, "point": "sharp"})
    bench.later(1)
    bench.post("machines/1/runs", {"minutes": 60 * 5})
    life = bench.get("machines/1/needle")["life"]
    # By the hours of the schools it would be nearly due; these wear out at nine and later.
    assert (life["due"], 7 < life["life_hours"] < 10) == ("fresh", True)
    assert "by your own 7 needles, 6 of them in trouble" in life["text"]
    knot = next(k for k in bench.get("machines/1/line")["knots"] if k["station"] == "needle")
    assert bench.get("machines/1/run")["needle"] == life
    beside = bench.get("machines/1/evidence/beside/needle")
    assert "Changing costs least at" in beside[0]["text"]
    assert (knot["state"], f"{life['life_hours']:.0f} h" in beside[0]["text"]) == ("ready", True), "one fact"
    spec = bench.get("machines")[0]["spec"]
    bench.client.put("/api/machines/1", json={**spec, "choices": {"own_records": "beside"}})
    life = bench.get("machines/1/needle")["life"]
    assert (life["due"], life["life_hours"]) == ("nearly", 6)
    assert bench.get("machines/1/evidence/beside/needle") == beside
    # A needle struck out of the log: five are left; a second one, and it is the school's again.
    bench.client.put("/api/machines/1", json={**spec, "choices": {"own_records": "feed"}})
    fitted = bench.get("log?kind=needle_retired")["entries"]
    for entry in fitted[:2]:
        bench.post(f"log/{entry['id']}/strike")
    assert bench.get("machines/1/needle")["life"]["life_hours"] == 6


def test_the_point_goes_by_one_s_own_records_where_they_have_settled_it(bench):
    bench.combination()
    for n in range(14):
        for point, breaks in (("topstitch", 4), ("ballpoint", n % 4 == 0)):
            bench.later(60)
            bench.post("machines/1/needle", {"metric": 100, "american": 16, "point": point})
            bench.later(1)
            bench.post("machines/1/runs", {"minutes": 90, "quilt": f"Quilt {n}"})
            for _ in range(breaks):
                bench.post("machines/1/breaks", {"symptom": "clean_snap_of_the_top_thread"})
    pairing = bench.get("machines/1/needle")["pairing"]
    assert pairing["recommended"]["point"] == "ballpoint"
    why = [r["text"] for r in pairing["reasons"] if r["rule"] == "own_records"]
    assert re.match(r"Your records on this machine: a topstitch broke thread \d+\.\d times as often", why[0])
    top = [t["id"] for t in bench.get("machines/1/thread")["setup"]["top"]]
    assert bench.post("machines/1/together", {"top": top})["needle"]["point"] == "ballpoint"
    spec = bench.get("machines")[0]["spec"]
    bench.client.put("/api/machines/1", json={**spec, "choices": {"own_records": "beside", "point": "topstitch"}})
    assert bench.get("machines/1/needle")["pairing"]["recommended"]["point"] == "topstitch"
    assert any(
        "more often" in s["more"] or "as often" in s["text"] for s in bench.get("machines/1/evidence/beside/needle")
    )


def test_breaks_are_listed_by_anything_that_was_on(bench):
    bench.combination()
    bench.post("machines/1/sandwich", {"batting": "wool", "fabric": "batik"})
    wear_out(bench, (1.0, 3.0, 9.0))
    bench.post("machines/1/breaks", {"symptom": "clean_snap_of_the_top_thread"})
    lists = {
        factor["value"]: [
            line["level"] for line in bench.get(f"machines/1/evidence/rates?by={factor['value']}")["lines"]
        ]
        for factor in page(bench)["factors"]
    }
    assert lists["needle_age"] == ["0 to 2 h", "4 to 8 h"], "a run counts where its middle lies"
    assert (lists["batting"], lists["fabric"], lists["pace"]) == (["wool"], ["batik"], ["30 to 60 m/h"])
    assert (lists["point"], lists["finish"]) == (["sharp"], ["steel"])
    assert all(lists.values())
    bench.post("machines/1/runs", {"minutes": 60})
    assert page(bench)["factors"][0] == {"value": "top_thread", "name": "thread on top", "of_needles": False}
    assert bench.client.get("/api/machines/1/evidence/rates?by=moon").status_code == 422
    for station in ("thread", "bobbin", "run", "mend"):
        assert all(
            "breaks about once every" in said["text"] for said in bench.get(f"machines/1/evidence/beside/{station}")
        )


def test_an_hour_s_cost_has_the_interval_of_the_life_it_rests_on(bench):
    bench.combination()
    bench.post("needles", {"metric": 90, "american": 14, "point": "sharp", "bought": 5, "price": 2.0})
    wear_out(bench)
    (line,) = page(bench)["lives"]
    cost, mean = line["cost"], line["mean"]
    assert cost["per_hour"] == pytest.approx(2 / mean["hours"])
    assert (cost["low"], cost["high"]) == pytest.approx((2 / mean["high"], 2 / mean["low"]))
    assert bench.get("machines/1/needles")["packets"][0]["cost"] == cost, "one fact"


def test_two_lots_that_are_called_the_same_are_two_threads(bench):
    machine, _, _ = bench.combination()
    lots = [bench.post("threads", thread("Tern"))["id"] for _ in range(2)]
    for number, (lot, minutes) in enumerate(zip(lots, (60, 120), strict=True)):
        bench.post(f"machines/{machine}/top", {"top": [lot]})
        bench.later(1)
        bench.post(f"machines/{machine}/runs", {"minutes": minutes, "quilt": f"Quilt {number}"})
        bench.post(f"machines/{machine}/breaks", {})
        bench.later(200)
    lines = bench.get(f"machines/{machine}/evidence/rates?by=top_thread")["lines"]
    assert {line["level"]: line["rate"]["amount"] for line in lines} == {
        "Tern (40 wt cotton)": 1,
        "Tern (40 wt cotton), no. 2": 2,
    }


@pytest.mark.parametrize(
    ("per_hour", "says"),
    [
        ((0.1, 0.0625, 1 / 6), "about once every 10 hours (most likely 6 to 16)"),
        ((2, 1, 4), "about once every 30 minutes (most likely 15 to 60)"),
        ((0.7, 0.5, 1), "about once every 1 hours (most likely 1 to 2)"),
    ],
)
def test_time_between_breaks_is_told_in_hours_or_minutes(per_hour, says):
    middle, low, high = per_hour
    rate = SimpleNamespace(per_unit=middle, likely_low=low, likely_high=high)
    assert every_so_often(rate) == says


@pytest.mark.parametrize(("ratio", "worse"), [(1.5, "ballpoint"), (1 / 1.5, "topstitch")])
def test_the_point_that_breaks_less_is_taken_however_little_less(monkeypatch, ratio, worse):
    told = Compared(first="ballpoint", second="topstitch", ratio=ratio, low=ratio / 1.25, high=ratio * 1.25, said=True)
    monkeypatch.setattr(own_records, "_compared", lambda units: told)
    settled = own_records._settled(Schools(MachineKind.LONGARM), ())
    (better,) = {"ballpoint", "topstitch"} - {worse}
    assert settled.takes("point") == better
    assert f"a {worse} broke thread in one direction 1.5 times as often as a {better} (1.2 to 1.9)." in str(settled)


def test_two_comparisons_are_said_at_most_and_first_that_of_what_is_on():
    def pair(first: str, second: str) -> SimpleNamespace:
        compared = Compared(first=first, second=second, said=True)
        return SimpleNamespace(compared=compared, text=f"{first} before {second}. Rest")

    others = [pair("Ebb", "Fern"), pair("Kelp", "Neap")]
    here = {"thread": "Saltmarsh 40", "needle": "", "below": ""}
    said = _statements(here, [], [], [*others, pair("Tern", "Saltmarsh 40")])
    assert [each.text for each in said] == ["Tern before Saltmarsh 40.", "Ebb before Fern."]


def test_a_few_needles_with_trouble_do_not_tell_how_long_they_last():
    kind = NeedleKind.of(NeedleFinish.STEEL, Point.TOPSTITCH, 90)
    few = _life(kind, "Heron", [NeedleSpan(hours=4, trouble=True), NeedleSpan(hours=6, trouble=False)], None)
    assert (few.told, few.troubles) == (False, 1)
    assert "Too soon to say more" in few.text
    assert not _life(kind, "Heron", [NeedleSpan(hours=5, trouble=False)] * 8, None).told
    assert _life(kind, "Heron", [NeedleSpan(hours=4 + n / 4, trouble=True) for n in range(12)], None).told


def test_beside_a_station_a_rate_is_said_once_and_then_what_it_was_counted_on(bench):
    machine, _, _ = bench.combination()
    for n in range(3):
        bench.later(600)
        bench.post(f"machines/{machine}/runs", {"minutes": 300, "quilt": f"Quilt {n}"})
        bench.post(f"machines/{machine}/breaks", {"symptom": "clean_snap_of_the_top_thread"})
    said = bench.get(f"machines/{machine}/evidence/beside/bobbin") + bench.get(
        f"machines/{machine}/evidence/beside/thread"
    )
    rates = [each for each in said if each["about"] == "rates"]
    assert rates
    assert all(each["more"] == "From 3 breaks in 15 hours on 3 quilts." for each in rates)
    assert all("once every" in each["text"] and "once every" not in each["more"] for each in rates)
    # Every break counts: a bobbin thread "broke" as often as the one on top, which was all that broke.
    below, above = (each["text"] for each in rates)
    assert below.startswith("With Limpet 80 (80 wt polyester) in the bobbin, thread breaks about once every ")
    assert above.startswith("With Saltmarsh 40 (40 wt trilobal) on top, thread breaks about once every ")
