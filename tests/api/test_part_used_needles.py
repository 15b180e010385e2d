"""Part-used needles in numbered slots, and packets typed as they are printed."""

import pytest

from conftest import HERON

FIT = {"metric": 100, "american": 16, "point": "topstitch"}


@pytest.fixture
def heron(bench):
    machine, _, _ = bench.combination()
    return machine


def sew(bench, machine, minutes, quilt=""):
    bench.later(minutes + 5)
    bench.post(f"machines/{machine}/runs", {"minutes": minutes, "quilt": quilt})
    bench.later(1)


def slots(bench, machine):
    return {s["slot"]: (s["needle"], s["hours"]) for s in bench.get(f"machines/{machine}/needles")["slots"]}


def test_a_needle_that_is_still_good_waits_in_its_slot_and_comes_back_with_its_hours(bench, heron):
    bench.post(f"machines/{heron}/needle", FIT)
    sew(bench, heron, 120, "Avocet")
    drawer = bench.get(f"machines/{heron}/needles")
    assert (drawer["slots"], drawer["free_slot"]) == ([], "1")
    out = bench.post(f"machines/{heron}/needle/retire", {"why": "still_good", "slot": "1"})
    assert out["text"] == "Needle out: still good, into slot 1"
    assert slots(bench, heron) == {"1": ("100/16 topstitch", 2.0)}
    assert bench.get(f"machines/{heron}/needles")["free_slot"] == "2"
    bench.later(1)
    bench.post(f"machines/{heron}/needle", {"metric": 90, "american": 14, "point": "sharp"})
    sew(bench, heron, 60, "Dunlin")
    bench.later(1)
    # What is typed of a needle out of a slot is that needle's own.
    again = bench.post(f"machines/{heron}/needle", {"metric": 90, "american": 14, "point": "sharp", "slot": "1"})
    assert again["text"] == "100/16 topstitch fitted from slot 1"
    sew(bench, heron, 30, "Dunlin")
    life = bench.get(f"machines/{heron}/needle")["life"]
    assert (life["hours"], life["projects"]) == (2.5, 2)
    assert slots(bench, heron) == {}
    # One needle, not two: its hours in the record of lives run on.
    own = {each["words"]: each["life"]["hours"] for each in bench.get(f"machines/{heron}/needles")["own"]}
    assert own == {"steel topstitch, middle sizes": 2.5, "steel sharp, middle sizes": 1.0}
    # The fitting was noted by mistake: the needle is in its slot again.
    bench.post(f"log/{again['id']}/strike")
    assert slots(bench, heron)["1"][0] == "100/16 topstitch"


def test_slots_refuse_in_sentences(bench, heron):
    field, says = bench.refused(f"machines/{heron}/needle", {**FIT, "slot": "7"})
    assert (field, says) == ("slot", "No needle of this machine waits in slot 7.")
    bench.post(f"machines/{heron}/needle", FIT)
    sew(bench, heron, 60)
    field, says = bench.refused(f"machines/{heron}/needle/retire", {"why": "break", "slot": "1"})
    assert (field, "sharps box" in says) == ("slot", True)
    bench.post(f"machines/{heron}/needle/retire", {"why": "still_good", "slot": "1"})
    bench.later(1)
    bench.post(f"machines/{heron}/needle", FIT)
    sew(bench, heron, 60)
    field, says = bench.refused(f"machines/{heron}/needle/retire", {"why": "still_good", "slot": "1"})
    assert (field, "Slot 1 holds a 100/16 topstitch already" in says) == ("slot", True)


def test_a_needle_taken_from_a_slot_leaves_the_packets_alone(bench, heron):
    packet = bench.post("needles", {**FIT, "bought": 5, "system": "DPx5"})
    bench.post(f"machines/{heron}/needle", {**FIT, "packet": packet})
    sew(bench, heron, 60)
    bench.post(f"machines/{heron}/needle/retire", {"why": "still_good", "slot": "A"})
    bench.later(1)
    bench.post(f"machines/{heron}/needle", {**FIT, "slot": "A"})
    assert [p["left"] for p in bench.get(f"machines/{heron}/needles")["packets"]] == [4]


def test_a_packet_is_typed_as_it_is_printed_and_every_machine_says_whether_it_takes_it(bench, heron):
    wren = bench.post(
        "machines", {**HERON, "nickname": "Wren", "kind": "home", "throat_in": 8, "needle_system": "130/705"}
    )["id"]
    plover = bench.post("machines", {**HERON, "nickname": "Plover", "needle_system": "134"})["id"]
    heard = bench.get("needles/label?line=130%2F705 H-M 80%2F12")
    assert (heard["read"]["point"], heard["read"]["metric"], heard["read"]["asks"]) == ("sharp", 80, [])
    takes = {taker["machine"]: taker["why_not"] for taker in heard["takers"]}
    assert takes[heron] == takes[wren] == ""
    assert "Plover takes 134" in takes[plover]
    # Names of one family go together.
    heard = bench.get("needles/label?line=DPx5 100")
    assert {t["machine"]: bool(t["why_not"]) for t in heard["takers"]} == {heron: False, wren: True, plover: False}
    assert bench.client.get("/api/needles/label?line=nothing").status_code == 422
