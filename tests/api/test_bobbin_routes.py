"""The Bobbin station over HTTP: rack, screw, swap, hang test, chart, plan, traces, CSV, labels."""

import io
import math

import pytest
from pypdf import PdfReader
from starlette.websockets import WebSocketDisconnect

from weftonos.standins.gauge_simulator import Health, SimulatedGauge

BALL_100 = {"metric": 100, "american": 16, "point": "ballpoint"}


def rack(bench) -> tuple[int, int, int]:
    """A machine with a case and a bobbin loaded in it; their ids."""
    machine, _, thread = bench.combination()
    case = bench.post(f"machines/{machine}/cases", {"label": "A", "bobbin_class": "M", "kept_for": "polyester"})["id"]
    bobbin = bench.post("bobbins", {"label": "A1", "thread": thread, "bobbin_class": "M", "winding": "pre_wound"})
    bench.later(1)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread, "case": case, "item": bobbin})
    return machine, case, bobbin


def read(bench, machine, case, *values):
    bench.later(1)
    pulls = [{"value": v} for v in values]
    return bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": pulls, "case": case})


def trace_of(health: Health, seed=3) -> dict:
    samples = list(SimulatedGauge(health, seed, pulls=2).samples())
    return {"length_mm": [s.length_mm for s in samples], "tension_mn": [s.tension_mn for s in samples]}


def test_the_rack_knows_what_each_case_last_read_and_holds(bench):
    machine, case, bobbin = rack(bench)
    read(bench, machine, case, 204, 206)
    items = bench.get(f"machines/{machine}/rack")
    assert items["cases"][0]["last_mn"] == 205
    assert items["cases"][0]["holds"] == "Limpet 80"
    assert items["bobbins"][0]["thread"] == "Limpet 80 (80 wt polyester)"
    assert bench.get(f"machines/{machine}/line")["setup"]["case"]["label"] == "A"
    assert bench.refused(f"machines/{machine}/cases", {"label": "A"})[0] == "label"
    bench.post(f"cases/{case}/strike?anyway=true")
    other = bench.post(f"machines/{machine}/cases", {"label": "B"})["id"]
    bench.post(f"machines/{machine}/screw", {"case": case, "minutes": 3})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": bobbin, "case": other})
    assert bench.refused(f"machines/{machine}/screw", {"case": case, "minutes": 3})[0] == "case", "out, and deleted"
    bench.post(f"cases/{case}/restore")


def test_the_screw_is_learned_from_before_and_after(bench):
    machine, case, _ = rack(bench)
    response = 0.04
    reading = 150.0
    for minutes in (5, 4, -3):
        read(bench, machine, case, reading, reading)
        bench.later(1)
        bench.post(f"machines/{machine}/screw", {"case": case, "minutes": minutes})
        reading *= math.exp(response * minutes)
    read(bench, machine, case, reading)
    learned = bench.get(f"machines/{machine}/rack")["cases"][0]["response"]
    assert learned["turns"] == 3
    assert learned["mean"] == pytest.approx(response, abs=0.004)
    judged = bench.post(f"machines/{machine}/readings/judge", {"unit": "mN", "pulls": [{"value": 160}], "case": case})
    assert judged["advice"]["minutes"] == round(math.log(200 / 160) / response)
    assert "3 turns" in next(r["text"] for r in judged["reasons"] if r["rule"] == "screw_response")


def test_a_case_without_a_name_learns_its_screw_as_well_from_one_bobbin_at_a_time(bench):
    machine, _, _ = bench.combination()
    bench.later(1)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2})

    def pull(*mn: float) -> None:
        bench.later(1)
        bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": v} for v in mn]})

    def judged() -> dict:
        return bench.post(f"machines/{machine}/readings/judge", {"unit": "mN", "pulls": [{"value": 160}] * 3})

    first = judged()["advice"]["minutes"]
    for minutes in (5, -5, 5):
        pull(*[200 * math.exp(0.012 * minutes * (minutes < 0)) if minutes < 0 else 160] * 3)
        bench.later(1)
        bench.post(f"machines/{machine}/screw", {"minutes": minutes})
        pull(*[(160 if minutes > 0 else 200) * math.exp(0.012 * minutes)] * 3)
    # It answers half as much as usual: the turn grows.
    assert judged()["advice"]["minutes"] > 1.3 * first
    turns = judged()["reasons"][-1]["text"]
    # Another bobbin came between reading and reading: what it reads is no answer of the screw.
    bench.later(1)
    bench.post(f"machines/{machine}/screw", {"minutes": 5})
    bench.later(1)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 1})
    pull(300, 300, 300)
    assert judged()["reasons"][-1]["text"] == turns


def test_a_turn_without_a_reading_between_teaches_nothing(bench):
    machine, case, _ = rack(bench)
    read(bench, machine, case, 150)
    for _ in range(2):
        bench.post(f"machines/{machine}/screw", {"case": case, "minutes": 5})
        bench.later(1)
    read(bench, machine, case, 190)
    assert bench.get(f"machines/{machine}/rack")["cases"][0]["response"]["turns"] == 0


def test_a_fluttering_reading_gets_no_turn_and_the_swap_finds_the_part(bench):
    machine, case, bobbin = rack(bench)
    body = {"unit": "mN", "pulls": [{"low": 120, "high": 180}], "case": case}
    assert bench.post(f"machines/{machine}/readings/judge", body)["advice"] is None
    assert bench.post(f"machines/{machine}/cross-swap", {})["fault"] == "open"
    found = bench.post(
        f"machines/{machine}/cross-swap", {"same_bobbin_other_case": True, "other_bobbin_same_case": False}
    )
    assert found["fault"] == "bobbin"
    entry = bench.post(f"machines/{machine}/marks", {"part": "bobbin", "id": bobbin, "fault": "badly wound"})
    label = bench.get(f"machines/{machine}/rack")["bobbins"][0]["spec"]["label"]
    assert label in bench.get("log?kind=part_marked")["entries"][0]["text"]
    assert bench.get(f"machines/{machine}/rack")["bobbins"][0]["fault"] == "badly wound"
    bench.post(f"log/{entry['id']}/strike?anyway=true")
    assert bench.get(f"machines/{machine}/rack")["bobbins"][0]["fault"] == ""


def test_the_hang_test_is_a_reading_and_the_palm_test_a_look(bench):
    machine, case, _ = rack(bench)
    entry = bench.post(f"machines/{machine}/hang-test", {"grams": 21, "case": case})
    assert entry["text"] == "206 mN by the hang test, 21 g, case A"
    look = bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": "right", "case": case})
    assert look["text"] == "Palm test: right, case A"
    assert bench.get(f"machines/{machine}/line")["setup"]["reading"]["mean_mn"] == pytest.approx(21 * 9.80665)
    assert bench.refused(f"machines/{machine}/hang-test", {"grams": -2})[0] == "grams"
    assert bench.refused(f"machines/{machine}/hang-test", {"grams": 210})[0] == "unit"


def test_a_machine_learns_its_own_number_from_balanced_stitches(bench):
    machine, case, _ = rack(bench)
    assert bench.get(f"machines/{machine}/readings")["target"]["low"] == 180
    for value in (231, 228, 233, 230):
        read(bench, machine, case, value)
        bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})
    station = bench.get(f"machines/{machine}/readings")
    assert station["own"]["readings"] == 4
    assert station["target"]["low"] > 205, "the machine's own number beats the usual range"
    read(bench, machine, case, 229)
    bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    bench.post(f"machines/{machine}/looks", {"setting": 210, "grade": 0})  # the same reading counts once
    station = bench.get(f"machines/{machine}/readings")
    assert (station["own"]["readings"], station["own"]["mean_mn"]) == (5, pytest.approx(230.2))
    assert station["target"]["low"] < 228 < 233 < station["target"]["high"]
    assert station["usual"]["low"] == 180
    assert bench.get(f"machines/{machine}/line")["knots"][2]["state"] == "ready"
    spec = {"label": "A", "bobbin_class": "M", "target": {"low": 100, "high": 110}}
    bench.client.put(f"/api/cases/{case}", json=spec)
    assert bench.get(f"machines/{machine}/readings")["target"]["origin"] == "this case's own"


def test_the_chart_begins_anew_after_the_screw(bench):
    machine, case, _ = rack(bench)
    for _ in range(10):
        read(bench, machine, case, 200, 203, 206)
    chart = bench.get(f"cases/{case}/chart")
    assert (len(chart["days"]), chart["chart"]["center"]) == (10, 203)
    assert chart["says"] == bench.get(f"machines/{machine}/readings")["last"]["text"]
    bench.later(1)
    bench.post(f"machines/{machine}/screw", {"case": case, "minutes": 2})
    read(bench, machine, case, 210, 213, 216)
    assert bench.get(f"cases/{case}/chart")["chart"]["center"] is None


def test_conditions_are_kept_with_a_reading(bench):
    machine, case, _ = rack(bench)
    conditions = {"full_bobbin": True, "lying_flat": False, "phase": "before_change"}
    body = {"unit": "mN", "pulls": [{"value": 200}], "case": case, "conditions": conditions}
    assert bench.post(f"machines/{machine}/readings", body)["payload"]["conditions"] == conditions


def test_the_winding_plan_and_what_is_left(bench):
    machine, _, _ = rack(bench)
    plan = bench.post(f"machines/{machine}/winding-plan", {"bobbin_class": "M"})
    assert plan["quilt_stitched_m"] == pytest.approx(200)
    assert plan["bobbins"] >= 1
    left = bench.post(f"machines/{machine}/bobbin-left", {"bobbin_class": "M", "stitched_m": 5, "next_line_m": 2})
    assert left["enough"] is True
    assert bench.refused(f"machines/{machine}/winding-plan", {"bobbin_class": "M", "lines_apart_mm": 0})[0] == (
        "lines_apart_mm"
    )


def test_a_live_stream_brings_samples_and_an_answer_after_each_pull(bench):
    samples, answers = [], []
    with bench.client.websocket_connect(
        "ws://127.0.0.1/api/gauge/live?condition=bent_case&seed=2&faster=100"
    ) as socket:
        while len(answers) < 2:
            message = socket.receive_json()
            samples += message.get("samples", [])
            answers += [message["answer"]] if "answer" in message else []
    assert samples[50][0] == pytest.approx(1, abs=0.05)
    assert answers[-1]["cause"] == "bent_case"
    assert len(answers[-1]["pulls"]) == 2


def test_a_foreign_page_cannot_open_the_stream(bench):
    headers = {"host": "127.0.0.1", "origin": "http://elsewhere.example"}
    live = bench.client.websocket_connect("ws://127.0.0.1/api/gauge/live", headers=headers)
    with pytest.raises(WebSocketDisconnect) as refused, live:
        pass
    assert refused.value.code == 1008, "a policy forbids it (RFC 6455, section 7.4.1)"


def test_a_trace_goes_out_as_csv_and_comes_back(bench):
    trace = trace_of(Health.LINT)
    text = bench.client.post("/api/gauge/trace.csv", json=trace).text
    assert text.splitlines()[0] == "length_mm,tension_mn"
    table = bench.client.post("/api/gauge/csv/columns", content=text.encode()).json()
    assert (table["along"], table["tension"], table["rows"]) == (0, 1, len(trace["length_mm"]))
    back = bench.client.post("/api/gauge/csv/read?along=0&tension=1", content=text.encode()).json()
    assert back["answer"]["cause"] == "lint"
    assert back["answer"]["mean_mn"] == pytest.approx(bench.post("gauge/trace", trace)["mean_mn"], rel=1e-3)


def test_somebody_else_s_csv_with_commas_and_semicolons_is_understood(bench):
    trace = trace_of(Health.SOUND)
    rows = [f"{x / 100:.4f};{y / 9.80665:.3f}".replace(".", ",") for x, y in zip(*trace.values(), strict=True)]
    content = ("﻿Zeit s;Zug gf\n" + "\n".join(rows)).encode("utf-8")
    table = bench.client.post("/api/gauge/csv/columns", content=content).json()
    assert table["columns"] == ["Zeit s", "Zug gf"]
    query = "along=0&tension=1&kind=time_s&unit=gf"
    answer = bench.client.post(f"/api/gauge/csv/read?{query}", content=content).json()["answer"]
    assert answer["mean_mn"] == pytest.approx(200, rel=0.03)


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "empty"),
        (b"  \n\n", "empty"),
        (b"\x89PNG\r\n\x1a\n\x00\x00\x00", "a picture"),
        (b"name;color\nTern;blue\n", "no numbers"),
        (b"hello\nworld\n", "No columns"),
        (b"length,tension\n1,NaN\n2,3\n3,4", "Row 1 holds “NaN”"),
        (b"length,tension\n1,2\n2,\n3,4", "Row 2 holds “”"),
        (b"length,tension\n" + b"1,2\n" * 20, "no pull"),
        (b"1,2\n" * 6_000_000, "over 20 MB"),
    ],
)
def test_a_file_that_is_no_trace_is_refused_with_the_reason(bench, content, says):
    before = bench.count()
    answer = bench.client.post("/api/gauge/csv/read?along=0&tension=1", content=content)
    assert answer.status_code == 422
    assert says in answer.json()["detail"][0]["msg"]
    assert bench.count() == before


def test_columns_that_are_not_there_are_refused(bench):
    content = b"a,b\n1,2\n3,4\n"
    for query, field in (
        ("along=0&tension=7", "tension"),
        ("along=0&tension=0", "tension"),
        ("along=9&tension=1", "along"),
    ):
        answer = bench.client.post(f"/api/gauge/csv/read?{query}", content=content)
        assert answer.json()["detail"][0]["loc"][-1] == field


def test_labels_print_true_to_size(bench):
    _machine, case, bobbin = rack(bench)
    for path, size in ((f"cases/{case}/label", (50, 26)), (f"bobbins/{bobbin}/card", (60, 38))):
        page = PdfReader(io.BytesIO(bench.client.get(f"/api/{path}.pdf").content)).pages[0]
        assert (float(page.mediabox.width) / 72 * 25.4, float(page.mediabox.height) / 72 * 25.4) == pytest.approx(
            size, abs=0.05
        )
        # The check bar is a line of 30 mm in the page itself, in points.
        drawn = page.get_contents().get_data().decode("latin-1")
        lines = [s.split() for s in drawn.splitlines() if " l" in s]
        widths = [abs(float(w[3]) - float(w[0])) for w in lines if len(w) >= 6 and w[2] == "m"]
        assert any(w == pytest.approx(30 / 25.4 * 72, abs=0.05) for w in widths), drawn
        svg = bench.client.get(f"/api/{path}.svg").text
        assert f'width="{size[0]}mm" height="{size[1]}mm"' in svg
    assert "Limpet 80" in page.extract_text()
    assert bench.client.get(f"/api/cases/{case}/label.png").status_code == 422


@pytest.mark.parametrize("number", [-(2**63) - 1, 2**63, 0, 99_999])
def test_a_case_that_there_is_not_is_refused_whatever_its_number(bench, number):
    machine, _, _ = bench.combination()
    for path, body in (
        ("hang-test", {"grams": 21}),
        ("readings", {"unit": "mN", "pulls": [{"value": 200}]}),
        ("screw", {"minutes": 5}),
    ):
        assert bench.refused(f"machines/{machine}/{path}", {**body, "case": number})[0] == "case"
    judged = bench.client.post(
        f"/api/machines/{machine}/readings/judge", json={"unit": "mN", "pulls": [{"value": 200}], "case": number}
    )
    assert judged.status_code < 500
