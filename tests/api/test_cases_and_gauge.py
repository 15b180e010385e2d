"""A case kept for its thread, a gauge checked with a weight, a walk that was walked: from the file to the advice."""

from __future__ import annotations

import pytest

COTTON = {"fiber": "cotton", "construction": "spun", "value": 50, "system": "wt"}


@pytest.fixture
def two(bench) -> dict[str, int]:
    """A machine with a case for polyester and one for cotton, the cotton one read at 205 mN."""
    machine, _, fine = bench.combination()
    cotton = bench.post("threads", {"name": "Marram 50", "thread": COTTON})["id"]
    a = bench.post(f"machines/{machine}/cases", {"label": "A", "kept_for": "polyester"})["id"]
    b = bench.post(f"machines/{machine}/cases", {"label": "B", "kept_for": "Cotton, cream"})["id"]
    load(bench, machine, cotton, b)
    read(bench, machine, b, 205)
    load(bench, machine, fine, a)
    return {"machine": machine, "fine": fine, "cotton": cotton, "a": a, "b": b}


def load(bench, machine: int, thread: int, case: int | None = None) -> None:
    bench.later(1)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread, "case": case})


def read(bench, machine: int, case: int | None, *mn: float) -> dict:
    bench.later(1)
    pulls = {"unit": "mN", "pulls": [{"value": v} for v in mn], "case": case}
    return bench.post(f"machines/{machine}/readings", pulls)


def test_the_case_for_a_thread_is_named_where_it_was_chosen_and_where_it_is_read(bench, two):
    machine = two["machine"]
    load(bench, machine, two["cotton"])
    for station in ("thread", "readings"):
        said = bench.get(f"machines/{machine}/{station}")["other_case"]
        assert said["text"] == "Case B is for Cotton, cream. It last read 205 mN."
        assert (said["case"], said["wrong"]) == (two["b"], False)
    load(bench, machine, two["cotton"], two["b"])
    assert bench.get(f"machines/{machine}/thread")["other_case"] is None


def test_a_wrong_or_bent_case_is_said_before_it_is_loaded_and_after(bench, two):
    machine = two["machine"]
    bench.post("bobbins", {"label": "C1", "thread": two["cotton"]})

    def against() -> dict[str, str]:
        return bench.get(f"machines/{machine}/rack")["bobbins"][0]["against"]

    def can_go_back() -> dict[int, bool]:
        return {case["id"]: case["can_go_back"] for case in bench.get(f"machines/{machine}/rack")["cases"]}

    assert against() == {str(two["a"]): "Case A is for polyester, and this is cotton."}
    bench.post(f"machines/{machine}/marks", {"part": "case", "id": two["b"], "fault": "bent"})
    assert against()[str(two["b"])] == "Case B is marked: bent."
    assert can_go_back() == {two["a"]: False, two["b"]: False}
    bench.post(f"machines/{machine}/marks", {"part": "case", "id": two["b"], "fault": ""})
    assert can_go_back() == {two["a"]: False, two["b"]: True}, "the one that lies on the rack with a bobbin in it"
    bench.post(f"machines/{machine}/marks", {"part": "case", "id": two["b"], "fault": "bent"})
    load(bench, machine, two["cotton"], two["b"])
    said = bench.get(f"machines/{machine}/readings")["other_case"]
    assert (said["text"], said["case"], said["wrong"]) == ("Case B is marked: bent. Use another case.", None, True)


def test_its_letter_stands_in_every_line_of_the_log(bench, two):
    machine, case = two["machine"], two["a"]
    read(bench, machine, case, 200, 202)
    bench.post(f"machines/{machine}/screw", {"minutes": 3, "case": case})
    bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": "right", "case": case})
    bench.post(f"machines/{machine}/hang-test", {"grams": 20, "case": case})
    said = [entry["text"] for entry in bench.get(f"log?machine={machine}&limit=5")["entries"]]
    assert len(said) == 5 and all(text.endswith(", case A") for text in said)


def test_what_a_fiber_does_in_a_case_is_known_for_a_thread_that_is_new_to_it(bench, two):
    machine, case = two["machine"], two["a"]
    for extra in (30, 32, 34):
        load(bench, machine, two["fine"], case)
        read(bench, machine, case, 200, 200)
        load(bench, machine, two["cotton"], case)
        read(bench, machine, case, 200 + extra, 200 + extra)
    load(bench, machine, two["fine"], case)
    read(bench, machine, case, 200, 200)
    new = bench.post("threads", {"name": "Fescue 40", "thread": COTTON | {"value": 40}})["id"]
    load(bench, machine, new, case)
    said = bench.get(f"machines/{machine}/readings")["turn_first"]["text"]
    assert (
        said == "Cotton read 30 to 34 mN more than polyester in this case, from 6 changes: about 232 mN as it stands."
    )


def test_turns_are_learned_by_hand_and_stand_on_the_label(bench, two):
    machine, case = two["machine"], two["a"]
    spec = bench.get(f"machines/{machine}/line")["machine"]["spec"]
    bench.client.put(f"/api/machines/{machine}", json=spec | {"has_gauge": False}).raise_for_status()
    feel = {"test": "palm", "case": case}
    for _ in range(2):
        load(bench, machine, two["fine"], case)
        bench.post(f"machines/{machine}/hand-looks", feel | {"feel": "right"})
        load(bench, machine, two["cotton"], case)
        bench.post(f"machines/{machine}/screw", {"minutes": -8, "case": case})
        bench.later(1)
        bench.post(f"machines/{machine}/hand-looks", feel | {"feel": "right"})
        bench.post(f"machines/{machine}/screw", {"minutes": 8, "case": case})
    bench.post(f"machines/{machine}/screw", {"minutes": -8, "case": case})
    load(bench, machine, two["fine"], case)
    bench.post(f"machines/{machine}/hand-looks", feel | {"feel": "right"})
    load(bench, machine, two["cotton"], case)
    turn = bench.get(f"machines/{machine}/readings")["turn_by_hand"]
    assert turn["minutes"] < 0
    # It felt right at once each time, so there is no need to feel it.
    assert turn["text"].endswith(" minutes. No need to feel it this time.")
    assert f"loosen {-turn['minutes']} min" in [k["fact"] for k in bench.get(f"machines/{machine}/line")["knots"]]
    assert bench.get(f"machines/{machine}/readings")["waits"] is None
    bench.post(f"machines/{machine}/screw", {"minutes": turn["minutes"], "case": case})
    station = bench.get(f"machines/{machine}/readings")
    assert "changes felt right" in station["waits"]["text"]
    assert station["turned"] == ""
    bench.client.put(
        f"/api/machines/{machine}", json=spec | {"has_gauge": False, "choices": {"read": "every"}}
    ).raise_for_status()
    assert bench.get(f"machines/{machine}/readings")["waits"] is None
    label = bench.client.get(f"/api/cases/{case}/label.svg").text
    assert label.count("<line") < 40, "no code to be seen with a tablet: the workshop is open on this machine alone"
    assert "Limpet 80 to Marram 50" in label and "min out" in label


class TestTheGauge:
    def test_readings_are_corrected_from_then_on_and_no_longer_once_the_check_is_taken_back(self, bench, two):
        machine, case = two["machine"], two["a"]
        assert read(bench, machine, case, 180, 182)["text"] == "181 mN from 2 pulls, steady within 1%, case A"
        checked = bench.post(f"machines/{machine}/gauge-check", {"grams": 20, "showed": 176.5})
        assert checked["text"] == ("Gauge checked: 20 g showed 176.5 mN. It reads 10% low, and readings are corrected")
        again = read(bench, machine, case, 180, 182)["text"]
        assert again == "201 mN from 2 pulls, steady within 1%, corrected +11%, case A"
        station = bench.get(f"machines/{machine}/readings")
        assert station["last"]["mean_mn"] == pytest.approx(201, abs=0.5)
        assert station["setup"]["reading"]["mean_mn"] == pytest.approx(201, abs=0.5)
        judged = bench.post(f"machines/{machine}/readings/judge", {"pulls": [{"value": 181}], "case": case}, 200)
        assert judged["mean_mn"] == pytest.approx(201, abs=0.5)
        hung = bench.post(f"machines/{machine}/hang-test", {"grams": 20, "case": case})
        assert hung["text"].startswith("196 mN by the hang test")
        bench.post(f"log/{checked['id']}/strike")
        assert read(bench, machine, case, 180, 182)["text"] == "181 mN from 2 pulls, steady within 1%, case A"

    def test_a_number_in_another_unit_and_a_machine_without_a_gauge_are_told(self, bench, two):
        machine = two["machine"]
        field, said = bench.refused(f"machines/{machine}/gauge-check", {"grams": 20, "showed": 20})
        assert (field, said) == (
            "showed",
            "20 g should show about 196 mN. Check the number and the unit. A gauge this far off needs repair.",
        )
        spec = bench.get(f"machines/{machine}/line")["machine"]["spec"]
        bench.client.put(f"/api/machines/{machine}", json=spec | {"has_gauge": False}).raise_for_status()
        assert bench.refused(f"machines/{machine}/gauge-check", {"grams": 20, "showed": 196})[0] == "showed"


def test_a_walk_that_was_walked_is_a_record(bench, two):
    machine = two["machine"]
    noted = bench.post(f"machines/{machine}/walks", {"walk": "load_case"})
    assert noted["text"] == "Walked through: Load a case"
    assert list(bench.get(f"machines/{machine}/walks")) == ["load_case"]
    assert bench.refused(f"machines/{machine}/walks", {"walk": "load_drop_in"})[0] == "walk"
    bench.post(f"log/{noted['id']}/strike")
    assert bench.get(f"machines/{machine}/walks") == {}


def test_every_bobbin_is_read_where_that_was_chosen(bench, two):
    machine, case = two["machine"], two["a"]
    for _ in range(6):
        load(bench, machine, two["fine"], case)
        read(bench, machine, case, 200, 201)
    load(bench, machine, two["fine"], case)
    assert bench.get(f"machines/{machine}/readings")["waits"]
    spec = bench.get(f"machines/{machine}/line")["machine"]["spec"]
    bench.client.put(f"/api/machines/{machine}", json=spec | {"choices": {"read": "every"}}).raise_for_status()
    assert bench.get(f"machines/{machine}/readings")["waits"] is None


def test_under_every_quilt_a_needle_is_due_when_the_next_quilt_is_put_on(bench, two):
    machine = two["machine"]
    spec = bench.get(f"machines/{machine}/line")["machine"]["spec"]
    bench.client.put(f"/api/machines/{machine}", json=spec | {"life_school": "project"}).raise_for_status()

    def needle() -> dict:
        return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "needle")

    bench.post(f"machines/{machine}/quilt", {"quilt": "Dunlin"})
    bench.later(1)
    bench.post(f"machines/{machine}/needle", {"metric": 100, "american": 16, "point": "ballpoint"})
    assert needle()["state"] == "ready"
    bench.later(1)
    bench.post(f"machines/{machine}/runs", {"minutes": 90, "quilt": "Dunlin"})
    assert needle()["state"] == "ready"
    bench.later(1)
    bench.post(f"machines/{machine}/quilt", {"quilt": "Avocet"})
    assert needle()["state"] == "caution"
    assert needle()["why"] == "It has done its quilt, and a new one is on. Fit a new needle."
