"""What a machine's own records spare at the bobbin: a reading that may wait, a turn before the pull, a second look."""

from __future__ import annotations

import pytest


@pytest.fixture
def heron(bench) -> int:
    machine, _, _ = bench.combination()
    bench.post(
        "threads",
        {"name": "Marram 60", "thread": {"fiber": "cotton", "construction": "spun", "value": 60, "system": "wt"}},
    )
    return machine


def load(bench, machine: int, thread: int = 2) -> None:
    bench.later(1)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread})


def read(bench, machine: int, *mn: float) -> None:
    bench.later(0.1)
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": v} for v in mn]})


def five(bench, machine: int) -> None:
    for mn in (198, 202, 200, 197, 203):
        load(bench, machine)
        read(bench, machine, mn, mn)
    load(bench, machine)


def knot(bench, machine: int) -> dict:
    return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "bobbin")


def station(bench, machine: int) -> dict:
    return bench.get(f"machines/{machine}/readings")


def guards(bench, machine: int) -> set[str]:
    return {g["trap"] for g in bench.get(f"machines/{machine}/balance?motion=free_motion")["guards"]}


def test_a_bobbin_that_may_wait_is_ready_on_line_bobbin_and_balance_alike(bench, heron):
    load(bench, heron)
    assert (knot(bench, heron)["state"], station(bench, heron)["waits"]) == ("to_do", None)
    assert "unread_bobbin" in guards(bench, heron)
    five(bench, heron)
    waits = station(bench, heron)["waits"]
    assert (knot(bench, heron)["state"], knot(bench, heron)["fact"]) == ("ready", "about 200 mN")
    assert knot(bench, heron)["why"] == waits["text"]
    assert "unread_bobbin" not in guards(bench, heron)
    assert "a bobbin reading" not in " ".join(bench.get(f"machines/{heron}/line")["missing"])


def test_whoever_reads_every_bobbin_is_asked_to(bench, heron):
    five(bench, heron)
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == heron)
    bench.client.put(f"/api/machines/{heron}", json={**spec, "choices": {"own_records": "beside"}})
    assert knot(bench, heron)["state"] == "to_do"
    assert station(bench, heron)["waits"] is None


@pytest.mark.parametrize("cause", ["lint_under_case_spring", "needle_dull_burred_bent"])
def test_a_cure_of_the_case_ends_the_waiting_and_one_of_the_needle_does_not(bench, heron, cause):
    five(bench, heron)
    incident = bench.post(f"machines/{heron}/incidents", {"symptoms": ["uneven_tension"]})["id"]
    bench.post(f"incidents/{incident}/outcome", {"outcome": "cured", "cause": cause})
    assert (knot(bench, heron)["state"] == "ready") is (cause == "needle_dull_burred_bent")


def test_a_corrected_reading_is_what_counts(bench, heron):
    for mn in (201, 199):
        load(bench, heron)
        read(bench, heron, mn, mn)
    load(bench, heron)
    assert knot(bench, heron)["state"] == "ready"
    last = bench.get(f"log?machine={heron}&kind=bobbin_reading")["entries"][0]
    bench.post(f"log/{last['id']}/strike")
    assert knot(bench, heron)["state"] == "to_do", "one reading is too few"


def test_another_thread_is_turned_for_before_the_first_pull(bench, heron):
    load(bench, heron)
    read(bench, heron, 200, 200)
    load(bench, heron, 3)
    assert station(bench, heron)["turn_first"] is None
    read(bench, heron, 270, 270)
    load(bench, heron)
    found = station(bench, heron)["turn_first"]
    # As it read before under this screw: nothing to turn for the thread that it was set for.
    assert found is None
    bench.post(f"machines/{heron}/screw", {"minutes": -12})
    read(bench, heron, 150, 150)
    load(bench, heron, 3)
    assert station(bench, heron)["turn_first"] is None, "202 is in the range"
    bench.post(f"machines/{heron}/screw", {"minutes": 12})
    load(bench, heron)
    read(bench, heron, 201, 201)
    load(bench, heron, 3)
    found = station(bench, heron)["turn_first"]
    assert found["advice"]["direction"] == "loosen"
    assert found["text"] == (
        "Going by the last 2 changes between these two threads, it should read about 269 mN as the screw stands."
    )
    bench.post(f"machines/{heron}/screw", {"minutes": -found["advice"]["minutes"]})
    assert station(bench, heron)["turn_first"] is None


def test_a_screw_turned_as_the_last_times_for_another_thread_lets_the_bobbin_wait(bench, heron):
    turn_to, back = -12, 12
    load(bench, heron)
    read(bench, heron, 200, 200)
    for thread, minutes, mn in ((3, turn_to, 201), (2, back, 199), (3, turn_to, 200), (2, back, 202)):
        load(bench, heron, thread)
        bench.post(f"machines/{heron}/screw", {"minutes": minutes})
        read(bench, heron, mn, mn)
    load(bench, heron, 3)
    found = station(bench, heron)["turn_first"]
    assert found["unread"]
    assert found["text"].endswith("Once it's turned, there's no need to pull this time.")
    assert found["advice"]["text"].endswith(" mN."), "and nothing of a pull"
    # Five changes in seven bobbins, with one case.
    assert station(bench, heron)["second_case"].startswith("You changed between these two threads 5 times in 7 bobbins")
    # The line says it as well: what is known is not asked.
    turn = f"loosen {found['advice']['minutes']} min"
    assert (knot(bench, heron)["state"], knot(bench, heron)["fact"]) == ("to_do", turn)
    assert knot(bench, heron)["why"] == found["text"]
    guard = next(
        g for g in bench.get(f"machines/{heron}/balance?motion=free_motion")["guards"] if g["trap"] == "unread_bobbin"
    )
    assert guard["act"] == f"Loosen the bobbin's screw {found['advice']['minutes']} minutes"
    assert guard["text"] == found["text"]
    bench.post(f"machines/{heron}/screw", {"minutes": turn_to})
    waits = station(bench, heron)["waits"]
    assert waits["text"].startswith("Going by the last 4 changes between these two threads, it should read about 20")
    assert (knot(bench, heron)["state"], station(bench, heron)["turned"]) == ("ready", "")
    assert "unread_bobbin" not in guards(bench, heron)
    # Back again with nothing read: the turn is known all the same.
    load(bench, heron)
    assert station(bench, heron)["turn_first"]["advice"]["direction"] == "tighten"
    # A turn the other way puts it far out, and it is read.
    bench.post(f"machines/{heron}/screw", {"minutes": turn_to})
    assert knot(bench, heron)["state"] == "to_do"


def test_one_look_by_hand_against_the_last_bobbin_is_repeated(bench, heron):
    for feel in ("right", "loose"):
        load(bench, heron)
        bench.post(f"machines/{heron}/hand-looks", {"test": "hang", "feel": feel})
    off = station(bench, heron)["felt_off"]
    assert (off["then"], off["text"]) == ("feel_again", knot(bench, heron)["why"])
    assert "once more before you turn" in knot(bench, heron)["why"]
    bench.post(f"machines/{heron}/hand-looks", {"test": "hang", "feel": "loose"})
    assert station(bench, heron)["felt_off"] == {"then": "turn", "text": ""}
    assert knot(bench, heron)["why"].startswith("Tighten the screw a little")


def test_a_hand_that_is_known_to_err_leaves_the_screw_of_a_case_that_felt_right(bench, heron):
    """Every bobbin felt right, many of them at the second look only: the hand's word is worth less than the screw's."""
    for feels in 8 * [("tight", "right"), ("right",), ("right",)]:
        load(bench, heron)
        for feel in feels:
            bench.post(f"machines/{heron}/hand-looks", {"test": "hang", "feel": feel})
    load(bench, heron)
    for _ in range(2):
        bench.post(f"machines/{heron}/hand-looks", {"test": "hang", "feel": "loose"})
    off, says = station(bench, heron)["felt_off"], knot(bench, heron)
    assert off["then"] == "leave"
    assert off["text"].startswith("Your hand feels it wrong about one time in ")
    assert (says["state"], says["fact"], says["why"]) == ("ready", "feels loose", off["text"])


def test_a_bobbin_that_may_go_unread_holds_up_no_recipe(bench, heron):
    """What the page says needs no reading isn't asked for when the combination is saved."""
    bench.post(f"machines/{heron}/needle", {"metric": 100, "american": 16, "point": "topstitch"})
    keep = {"name": "Avocet"}
    load(bench, heron)
    bench.post(f"machines/{heron}/looks", {"setting": 200, "grade": 0})
    assert "a bobbin reading" in bench.refused(f"machines/{heron}/recipes", keep)[1]
    assert bench.get(f"machines/{heron}/line")["missing"] == bench.get(f"machines/{heron}/balance")["missing"] != []
    for _ in range(3):
        load(bench, heron)
        read(bench, heron, 200, 201)
    load(bench, heron)
    assert station(bench, heron)["waits"]
    bench.post(f"machines/{heron}/looks", {"setting": 200, "grade": 0})
    assert bench.get(f"machines/{heron}/line")["missing"] == bench.get(f"machines/{heron}/balance")["missing"] == []
    saved = bench.post(f"machines/{heron}/recipes", keep)
    assert "bobbin" in saved["text"]
    assert "mN" not in saved["text"], "nothing was read"


def test_a_reading_on_the_edge_is_ready_and_turns_nothing(bench, heron):
    load(bench, heron)
    read(bench, heron, 222, 222, 222)
    assert (knot(bench, heron)["state"], station(bench, heron)["last"]["advice"]) == ("ready", None)
    assert knot(bench, heron)["why"] == "On the edge of 180 to 220 mN: less than the pulls can tell."
    read(bench, heron, 240, 240, 240)
    assert (knot(bench, heron)["state"], station(bench, heron)["last"]["at_edge"]) == ("caution", False)


def test_who_leaves_bobbins_unread_is_asked_no_more_unless_it_was_chosen(bench, heron):
    for _ in range(11):
        load(bench, heron)
    assert (knot(bench, heron)["state"], knot(bench, heron)["fact"]) == ("ready", "not read")
    assert "You left 10 of the last 10 bobbins unchecked" in station(bench, heron)["waits"]["text"]
    assert "unread_bobbin" not in guards(bench, heron)
    # A turn of the screw is asked about all the same.
    bench.later(1)
    bench.post(f"machines/{heron}/screw", {"minutes": 5})
    assert knot(bench, heron)["state"] == "to_do"
    load(bench, heron)
    assert knot(bench, heron)["state"] == "ready"
    spec = bench.get("machines")[0]["spec"]
    bench.client.put(f"/api/machines/{heron}", json={**spec, "choices": {"read": "every"}})
    assert knot(bench, heron)["state"] == "to_do"


def test_who_reads_some_of_them_is_still_asked(bench, heron):
    for n in range(12):
        load(bench, heron)
        if n in (3, 6, 9):
            read(bench, heron, 130 + 20 * n, 130 + 20 * n)
    load(bench, heron)
    assert knot(bench, heron)["state"] == "to_do"
