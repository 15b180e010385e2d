"""Answers in the units of whoever asks: grams, centinewton, yards; on paper too. By pint, from outside."""

from __future__ import annotations

import io
import re

import pint
import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader

from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.runtime.settings import Settings

UNITS = pint.UnitRegistry()


def in_grams(mn):
    return (mn * UNITS.millinewton).to("gram_force").magnitude


@pytest.mark.parametrize(
    ("units", "says"),
    [
        (None, "204 mN"),
        ("mN,metric", "204 mN"),
        ("gf", f"{in_grams(204):.1f} g"),
        ("cN,inch", f"{(204 * UNITS.millinewton).to('centinewton').magnitude:.1f} cN"),
    ],
)
def test_every_sentence_is_in_the_units_asked_for(bench, units, says):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 203}, {"value": 205}]})
    bench.post(f"machines/{machine}/runs", {"minutes": 60, "meters": 91.44})
    headers = {"x-units": units} if units else {}
    ask = lambda path: bench.client.get(f"/api/{path}", headers=headers).json()  # noqa: E731
    knots = {knot["station"]: knot["fact"] for knot in ask(f"machines/{machine}/line")["knots"]}
    assert knots["bobbin"] == says
    log = [entry["text"] for entry in ask("log")["entries"]]
    assert any(text.startswith(says) for text in log)
    assert any(("100 yd" if "inch" in (units or "") else "91 m") in text for text in log)
    again = bench.client.get("/api/log", params={"units": units} if units else {}).json()
    assert [entry["text"] for entry in again["entries"]] == log, "a link says it in its query"
    assert ask(f"machines/{machine}/readings")["setup"]["reading"]["mean_mn"] == 204, "numbers stay mN"


WITH_A_POINT = re.compile(r"\d\.\d")
#: Written by people or for machines: as it was written.
AS_WRITTEN = {"at", "noted_at", "since", "first", "last", "begun"}
SCREENS = [
    *(f"machines/1/{s}" for s in ("line", "thread", "needle", "needles", "readings", "rack", "balance", "run", "mend")),
    *(
        f"machines/{s}"
        for s in ("1/troubles", "1/preflight", "1/upkeep", "1/evidence", "2/line", "2/balance", "3/plan")
    ),
    *("threads", "recipes", "log", "plans", "shopping", "quilts"),
]


def sentences(answer, name=""):
    match answer:
        case dict():
            return [text for key, value in answer.items() for text in sentences(value, key)]
        case list():
            return [text for value in answer for text in sentences(value, name)]
        case str() if name not in AS_WRITTEN:
            return [answer]
    return []


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    folder = tmp_path_factory.mktemp("decimals")
    load_demo(folder)
    with TestClient(create_app(Settings(data_dir=folder)), base_url="http://127.0.0.1") as client:
        yield client


@pytest.mark.parametrize("path", SCREENS)
def test_decimals_have_the_mark_of_whoever_asks(demo, path):
    """Asked with a point first: what was worked out for one reader isn't said to another."""
    asked = lambda units: demo.get(f"/api/{path}", headers={"x-units": units}).raise_for_status()  # noqa: E731
    ask = lambda units: sentences(asked(units).json())  # noqa: E731
    points = [text for text in ask("gf,metric") if WITH_A_POINT.search(text)]
    commas = ask("gf,metric,comma")
    assert [text for text in commas if WITH_A_POINT.search(text)] == []
    for text in points:
        assert WITH_A_POINT.sub(lambda found: found.group().replace(".", ","), text) in commas
    assert ask("gf,metric") == ask("gf,metric,point")


def test_a_thread_is_called_as_its_label_calls_it_by_every_reader(bench):
    thread = {"fiber": "polyester", "construction": "multifilament", "value": 27.5, "system": "tex"}
    bench.post("threads", {"name": "Marram", "thread": thread})
    for units in ("mN,metric,comma", "mN,metric"):
        listed = bench.client.get("/api/threads", headers={"x-units": units}).json()
        assert [thread["words"] for thread in listed["items"]] == ["27.5 tex polyester"]


def test_a_refusal_has_the_mark_of_whoever_asks(bench):
    machine, _, _ = bench.combination()
    look = {"setting": 10.5, "grade": 0}
    says = bench.client.post(f"/api/machines/{machine}/looks", json=look, headers={"x-units": "mN,metric,comma"}).text
    assert "10,5" in says


def test_paper_is_in_the_units_asked_for(bench):
    machine, _, _ = bench.combination()
    target = {"low": 180, "high": 220, "origin": "own", "standing": "own_records"}
    case = bench.post(f"machines/{machine}/cases", {"label": "A", "target": target})["id"]
    pdf = bench.client.get(f"/api/cases/{case}/label.pdf?units=gf").content
    text = PdfReader(io.BytesIO(pdf)).pages[0].extract_text()
    assert f"{in_grams(180):.1f} to {in_grams(220):.1f} g" in text
    assert "mN" not in text


def test_units_nobody_knows_are_refused_with_a_sentence(bench):
    machine, _, _ = bench.combination()
    for units in ("stone", "gf,furlong", "gf,inch,dot", "gf,inch,comma,comma"):
        answer = bench.client.get(f"/api/machines/{machine}/line", headers={"x-units": units})
        assert (answer.status_code, "mN, gf, cN" in answer.text) == (422, True)
