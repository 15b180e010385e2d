"""What a bobbin is set for, the machine's own number, a case that stays loaded, and work without gauge or case."""

from __future__ import annotations

import pytest

from conftest import HERON, LIMPET

METALLIC = {"fiber": "metallic", "construction": "metallic", "value": 40, "system": "wt"}
BALL_100 = {"metric": 100, "american": 16, "point": "ballpoint"}
DIAL = {"kind": "dial", "low": 0, "high": 10, "step": 0.5}


@pytest.fixture
def heron(bench) -> int:
    """A longarm with two threads (1 on top, 2 below) and case A."""
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/cases", {"label": "A"})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2, "case": 1})
    return machine


def read(bench, machine: int, *mn: float, case: int | None = 1) -> dict:
    bench.later(1)
    body = {"unit": "mN", "pulls": [{"value": v} for v in mn], "case": case}
    return bench.post(f"machines/{machine}/readings", body)


def station(bench, machine: int) -> dict:
    return bench.get(f"machines/{machine}/readings")


def bobbin_knot(bench, machine: int) -> dict:
    return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "bobbin")


def test_a_bobbin_loosened_for_metallic_is_on_target_until_the_thread_is_off(bench, heron):
    bench.post("threads", {"name": "Glint", "thread": METALLIC})
    bench.post(f"machines/{heron}/top", {"top": [3]})
    read(bench, heron, 150, 152)
    assert station(bench, heron)["last"]["verdict"] == "low", "one number for every thread is the default school"
    bench.post(f"machines/{heron}/purpose", {"purpose": "delicate"})
    found = station(bench, heron)
    assert (found["purpose"], found["last"]["verdict"]) == ("delicate", "on_target")
    assert found["ordinary"]["low"] == 180
    assert bobbin_knot(bench, heron)["state"] == "ready"
    bench.later(5)
    bench.post(f"machines/{heron}/top", {"top": [1]})
    after = station(bench, heron)
    assert (after["purpose"], after["last"]["verdict"]) == ("ordinary", "low")
    assert after["go_back"] == (
        "It was loosened for metallic or delicate, and that is over: back to the ordinary number."
    )
    assert after["last"]["advice"]["direction"] == "tighten"


def test_what_was_never_loosened_is_not_to_go_back(bench, heron):
    bench.post(f"machines/{heron}/purpose", {"purpose": "ordinary"})
    read(bench, heron, 150, 152)
    found = station(bench, heron)
    assert (found["purpose"], found["last"]["verdict"], found["go_back"]) == ("ordinary", "low", "")


def test_a_school_that_loosens_by_purpose_does_so_by_itself(bench, heron):
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == heron)
    bench.client.put(f"/api/machines/{heron}", json={**spec, "number_school": "by_purpose"})
    bench.post("threads", {"name": "Glint", "thread": METALLIC})
    bench.post(f"machines/{heron}/top", {"top": [3]})
    read(bench, heron, 150, 152)
    assert station(bench, heron)["last"]["verdict"] == "on_target"
    bench.post(f"machines/{heron}/purpose", {"purpose": "ordinary"})
    assert station(bench, heron)["last"]["verdict"] == "low", "whoever says one number for this thread has it"


def test_bobbin_work_has_no_number_until_one_is_typed(bench, heron):
    bench.post("threads", {"name": "Tideline 8", "thread": {**METALLIC, "value": 8}})
    bench.post(f"machines/{heron}/bobbin", {"bobbin": 3, "bobbin_work": True, "case": 1})
    read(bench, heron, 70, 72)
    found = station(bench, heron)
    assert (found["purpose"], found["target"]) == ("bobbin_work", None)
    assert "No tension is usual for bobbin work" in found["no_number"]
    bench.post(f"machines/{heron}/purpose", {"purpose": "bobbin_work", "target": {"low": 60, "high": 80}})
    assert station(bench, heron)["last"]["verdict"] == "on_target"
    _, says = bench.refused(f"machines/{heron}/purpose", {"purpose": "ordinary", "target": {"low": 60, "high": 80}})
    assert "Change it there" in says


def test_what_was_loosened_teaches_nothing_of_the_ordinary_number(bench, heron):
    bench.post(f"machines/{heron}/needle", BALL_100)
    bench.post(f"machines/{heron}/purpose", {"purpose": "delicate"})
    read(bench, heron, 140, 142)
    bench.later(1)
    bench.post(f"machines/{heron}/looks", {"setting": 140, "grade": 0})
    assert station(bench, heron)["own"] is None
    bench.post(f"machines/{heron}/purpose", {"purpose": "ordinary"})
    read(bench, heron, 204, 206)
    bench.later(1)
    bench.post(f"machines/{heron}/looks", {"setting": 205, "grade": 0})
    assert station(bench, heron)["own"]["mean_mn"] == 205


def test_the_number_is_taken_in_one_tap_or_typed_and_beats_the_usual_range(bench, heron):
    put = bench.client.put
    assert put(f"/api/machines/{heron}/own-number", json={"value": 22, "unit": "gf"}).json()["origin"] == "your own"
    target = station(bench, heron)["target"]
    assert target["low"] < 22 * 9.80665 < target["high"]
    read(bench, heron, 216, 217)
    assert station(bench, heron)["last"]["verdict"] == "on_target"
    wrong = put(f"/api/machines/{heron}/own-number", json={"value": 22, "unit": "mN"})
    assert "between 25 and 1500 mN" in wrong.text
    assert (wrong.status_code, wrong.json()["detail"][0]["loc"][-1]) == (422, "value")
    assert "Check the number and the unit" in wrong.text
    put(f"/api/machines/{heron}/own-number", json={"value": None})
    assert station(bench, heron)["target"]["origin"] == "usual for a throat of 22 to 36 in"


def test_a_case_stays_loaded_and_goes_back_with_one_tap(bench, heron):
    bench.post(f"machines/{heron}/cases", {"label": "B"})
    read(bench, heron, 204, 206)
    bench.post(f"machines/{heron}/runs", {"minutes": 30, "meters": 60})
    left = bench.get(f"machines/{heron}/run")["bobbin"]["share"]
    bench.later(5)
    bench.post(
        "threads",
        {"name": "Cotton 50", "thread": {"fiber": "cotton", "construction": "spun", "value": 50, "system": "wt"}},
    )
    bench.post(f"machines/{heron}/bobbin", {"bobbin": 3, "case": 2})
    read(bench, heron, 215, 217, case=2)
    bench.post(f"machines/{heron}/runs", {"minutes": 30, "meters": 40})
    cases = {c["spec"]["label"]: c for c in bench.get(f"machines/{heron}/rack")["cases"]}
    assert (cases["A"]["holds"], cases["A"]["in_machine"], cases["A"]["can_go_back"]) == ("Limpet 80", False, True)
    assert (cases["B"]["holds"], cases["B"]["in_machine"], cases["B"]["can_go_back"]) == ("Cotton 50", True, False)
    bench.later(5)
    assert bench.post(f"machines/{heron}/bobbin/put-back", {"case": 1})["text"] == "Case A is in again, with Limpet 80"
    setup = bench.get(f"machines/{heron}/line")["setup"]
    assert (setup["bobbin"]["name"], setup["reading"]["mean_mn"]) == ("Limpet 80", 205)
    assert bench.get(f"machines/{heron}/run")["bobbin"]["share"] == left, "an emptied bobbin stays emptied"
    assert bench.refused(f"machines/{heron}/bobbin/put-back", {"case": 1})[1] == "Case A is in already."
    bench.post(f"machines/{heron}/cases", {"label": "C"})
    assert "was never in this machine" in bench.refused(f"machines/{heron}/bobbin/put-back", {"case": 3})[1]
    # Its screw is turned while the other is in: it comes back unread.
    bench.post(f"machines/{heron}/bobbin/put-back", {"case": 2})
    bench.post(f"machines/{heron}/screw", {"case": 1, "minutes": 3})
    bench.later(1)
    bench.post(f"machines/{heron}/bobbin/put-back", {"case": 1})
    assert bench.get(f"machines/{heron}/line")["setup"]["reading"] is None
    assert bobbin_knot(bench, heron)["fact"] == "pull the gauge"


def test_what_corrections_do_to_a_case_that_is_out_reaches_it_when_it_is_in_again(bench, heron):
    bench.post(f"machines/{heron}/cases", {"label": "B"})
    first = read(bench, heron, 204, 206)
    bench.later(5)
    bench.post(f"machines/{heron}/bobbin", {"bobbin": 2, "case": 2})
    bench.later(5)
    bench.post(f"machines/{heron}/bobbin/put-back", {"case": 1})
    bench.post(f"log/{first['id']}/strike")
    assert bench.get(f"machines/{heron}/line")["setup"]["reading"] is None
    bench.post(f"log/{first['id']}/restore")
    assert bench.get(f"machines/{heron}/line")["setup"]["reading"]["mean_mn"] == 205


def test_a_machine_whose_bobbin_drops_in_keeps_a_recipe_and_is_asked_for_no_case(bench):
    wren = {"nickname": "Wren", "kind": "home", "scale": DIAL, "removable_case": False, "has_gauge": False}
    machine = bench.post("machines", wren)["id"]
    for name in ("Tern 50", "Limpet 60"):
        bench.post(
            "threads",
            {"name": name, "thread": {"fiber": "cotton", "construction": "spun", "value": 50, "system": "wt"}},
        )
    bench.post(f"machines/{machine}/top", {"top": [1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2})
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    assert bobbin_knot(bench, machine)["state"] == "ready"
    field, says = bench.refused(f"machines/{machine}/hand-looks", {"test": "hang", "feel": "right"})
    assert (field, "drops in: there is no case to hang" in says) == ("test", True)
    bench.post(f"machines/{machine}/looks", {"setting": 3, "grade": 0})
    assert not bench.get(f"machines/{machine}/balance")["guards"]
    kept = bench.post(f"machines/{machine}/recipes", {"name": "Dunlin"})
    assert "bobbin judged by the stitch" in kept["text"]


def test_a_machine_without_a_gauge_is_asked_to_feel_the_bobbin(bench):
    machine = bench.post("machines", {"nickname": "Wren", "kind": "home", "scale": DIAL, "has_gauge": False})["id"]
    assert bobbin_knot(bench, machine)["fact"] == "load a bobbin"
    thread = bench.post("threads", {"name": "Limpet 80", "thread": LIMPET})["id"]
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread})
    assert bobbin_knot(bench, machine)["fact"] == "feel the bobbin"
    bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": "right"})
    assert bobbin_knot(bench, machine)["fact"] == "feels right"
    assert "reading" not in " ".join(bench.get(f"machines/{machine}/line")["missing"])


def test_a_gauge_says_by_its_first_number_what_it_is_marked_in(bench):
    spec = {**HERON, "has_gauge": True, "gauge_unit": None}
    for name, pulls, unit, mn in (("Knot", [210, 212, 208], "mN", 210), ("Dunlin", [21, 22, 20], "gf", 205.9)):
        machine = bench.post("machines", {**spec, "nickname": name})["id"]
        assert bench.get(f"machines/{machine}/readings")["unit"] is None
        body = {"pulls": [{"value": value} for value in pulls]}
        judged = bench.post(f"machines/{machine}/readings/judge", body)
        assert (judged["unit"], judged["verdict"]) == (unit, "on_target")
        bench.post(f"machines/{machine}/readings", body)
        station = bench.get(f"machines/{machine}/readings")
        assert station["unit"] == unit, "and from then on it is known"
        assert station["last"]["mean_mn"] == pytest.approx(mn, abs=0.1)


def test_a_reading_from_before_a_bobbin_was_said_to_drop_in_says_nothing_of_it(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 400}]})
    assert bobbin_knot(bench, machine)["state"] == "caution"
    item = bench.get("machines")[0]
    bench.client.put(f"/api/machines/{machine}", json={**item["spec"], "removable_case": False})
    knot = bobbin_knot(bench, machine)
    assert (knot["state"], "stitch is its gauge" in knot["why"]) == ("ready", True)


def test_a_felt_turn_without_a_named_case_is_noted_and_asks_for_another_test(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": "loose"})
    assert bobbin_knot(bench, machine)["fact"] == "feels loose"
    bench.later(1)
    assert bench.post(f"machines/{machine}/screw", {"minutes": 5})["text"] == "Screw tightened 5 minutes"
    assert bobbin_knot(bench, machine)["fact"] == "pull the gauge"
    bench.later(1)
    bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": "right"})
    assert bobbin_knot(bench, machine)["state"] == "ready"


def test_what_a_reading_was_taken_under_is_used(bench, heron):
    for flat, mean in ((True, 200), (False, 214), (True, 201), (False, 215), (True, 202), (False, 216), (True, 200)):
        bench.later(1)
        body = {
            "unit": "mN",
            "pulls": [{"value": mean}],
            "case": 1,
            "conditions": {"lying_flat": flat},
        }
        bench.post(f"machines/{heron}/readings", body)
    found = station(bench, heron)
    assert found["conditions"][0]["what"] == "in the hand over lying flat"
    assert found["conditions"][0]["text"].startswith("In the hand reads 1")
    assert found["taken_otherwise"] == ""
    bench.later(1)
    bench.post(
        f"machines/{heron}/readings",
        {"unit": "mN", "pulls": [{"value": 215}], "case": 1, "conditions": {"lying_flat": False}},
    )
    assert station(bench, heron)["taken_otherwise"].startswith("Taken in the hand, unlike most")
