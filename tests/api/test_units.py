"""Answers in the units of whoever asks: grams, centinewton, yards; on paper too. By pint, from outside."""

from __future__ import annotations

import io

import pint
import pytest
from pypdf import PdfReader

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
    for units in ("stone", "gf,furlong"):
        answer = bench.client.get(f"/api/machines/{machine}/line", headers={"x-units": units})
        assert (answer.status_code, "mN, gf, cN" in answer.text) == (422, True)
