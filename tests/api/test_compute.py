"""The computing interface: fixed names and fields."""

import pytest

COTTON = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt", "strands": 3}


def test_linear_density_in_every_system(bench):
    answer = bench.post("compute/linear-density", {"value": 120, "system": "denier", "strands": 2})
    assert answer["tex"] == pytest.approx(240 / 9)
    assert answer["denier"] == pytest.approx(240)
    assert answer["wt"] == pytest.approx(37.5)
    assert answer["diameter_mm"] is None
    thick = bench.post("compute/linear-density", COTTON)
    assert thick["diameter_mm"] == pytest.approx(0.187, abs=0.001)
    assert "one strand" in bench.post("compute/linear-density", {"value": 20, "system": "tex", "strands": 2})["ask"]


def test_pairing_has_the_fixed_fields(bench):
    question = {"machine_kind": "home", "school": "home", "top": [COTTON], "bobbin": {**COTTON, "value": 60}}
    answer = bench.post("compute/pairing", {**question, "sandwich": {"loft": "lofty"}})
    assert {
        "diameter_mm",
        "tex",
        "sizes",
        "recommended",
        "alternatives",
        "start_tension",
        "reasons",
        "cautions",
    } <= set(answer)
    assert {"metric", "american", "nominal_fill", "states"} <= set(answer["sizes"][0])
    assert set(answer["sizes"][0]["states"].values()) <= {"slack", "rides", "tight", "rubs"}
    best = answer["recommended"]
    assert (best["metric"], best["american"]) == (100, 16)  # 90/14, one up for the loft
    assert bench.post("compute/pairing", question)["recommended"]["metric"] == 90
    assert all(r["rule"] and r["standing"] for r in answer["reasons"])


def test_gauge_advises_a_turn(bench):
    question = {
        "unit": "gf",
        "pulls": [{"low": 16.8, "high": 17.4}, {"value": 17}],
        "target": {"low": 180, "high": 220},
    }
    answer = bench.post("compute/gauge", question)
    assert answer["mean_mn"] == pytest.approx(17.05 * 9.80665)
    assert answer["verdict"] == "low"
    assert answer["advice"]["direction"] == "tighten"
    assert answer["mean_mn"] < answer["advice"]["expected_mn"] <= 220
    history = [{"minutes": 5, "before_mn": 170, "after_mn": 180}] * 3
    slower = bench.post("compute/gauge", {**question, "screw_history": history})
    assert slower["advice"]["minutes"] > answer["advice"]["minutes"]


@pytest.mark.parametrize(
    ("pulls", "verdict"),
    [
        ([{"value": 200}], "on_target"),
        ([{"value": 230}, {"value": 231}], "high"),
        ([{"low": 150, "high": 250}], "fluttering"),
        ([{"value": 20}], "check_unit"),
    ],
)
def test_gauge_verdicts(bench, pulls, verdict):
    answer = bench.post("compute/gauge", {"unit": "mN", "pulls": pulls, "target": {"low": 180, "high": 220}})
    assert answer["verdict"] == verdict
    assert (answer["advice"] is None) == (verdict != "high")


def test_hanging_weight(bench):
    answer = bench.post("compute/hanging-weight", {"grams": 21})
    assert answer["tension_mn"] == pytest.approx(21 * 9.80665)
    assert answer["tension_gf"] == pytest.approx(21)
    assert bench.refused("compute/hanging-weight", {"grams": -3})[0] == "grams"


def test_the_document_describes_the_interface(bench):
    document = bench.get("openapi.json")
    for name in ("linear-density", "pairing", "gauge", "hanging-weight"):
        operation = document["paths"][f"/api/compute/{name}"]["post"]
        assert operation["summary"]
        assert operation["description"]
