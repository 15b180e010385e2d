"""The knob stands where another thread left it: the line, Balance and Mend all say so, with the number."""

from __future__ import annotations

import pytest

SEWN = {"fiber": "polyester", "construction": "multifilament", "value": 60, "system": "wt"}
COTTON = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}
METALLIC = {"fiber": "metallic", "construction": "metallic", "value": 40, "system": "wt"}
WREN = {
    "nickname": "Wren",
    "kind": "home",
    "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5},
    "removable_case": False,
}


@pytest.fixture
def wren(bench) -> int:
    machine = bench.post("machines", WREN)["id"]
    for name, thread in (("Tern 60", SEWN), ("Fescue 40", COTTON), ("Glint 40", METALLIC)):
        bench.post("threads", {"name": name, "thread": thread})
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    put_on(bench, machine, 1)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 1})
    bench.later(1)
    bench.post(f"machines/{machine}/looks", {"setting": 7, "grade": 0})
    return machine


def put_on(bench, machine: int, thread: int) -> None:
    bench.later(5)
    bench.post(f"machines/{machine}/top", {"top": [thread]})


def knot(bench, machine: int) -> dict:
    return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "balance")


def test_the_line_and_balance_say_where_to_turn_until_it_is_done(bench, wren):
    put_on(bench, wren, 2)
    # Its own record moves the start; whatever that is, one number stands everywhere.
    station = bench.get(f"machines/{wren}/balance?motion=free_motion")
    advice = station["knob"]
    assert advice["text"].startswith("The knob is at 7.0. This thread starts at ")
    assert advice["text"] == f"{knot(bench, wren)['why']} {advice['act']}.", "the line says what to turn once"
    assert knot(bench, wren)["fact"] == advice["short"] and advice["short"].startswith("turn down ")
    assert station["start_words"] == advice["to_words"]
    bench.post(f"machines/{wren}/knob", {"kind": "knob_set", "setting": advice["to"]})
    assert knot(bench, wren)["fact"] == "stitch a test"
    assert bench.get(f"machines/{wren}/balance?motion=free_motion")["knob"] is None


def test_a_line_that_was_stitched_says_itself_where_to_turn(bench, wren):
    put_on(bench, wren, 2)
    bench.later(1)
    bench.post(f"machines/{wren}/looks", {"setting": 7, "grade": 0})
    assert bench.get(f"machines/{wren}/balance?motion=free_motion")["knob"] is None
    assert knot(bench, wren)["fact"] == "7.0"


def test_a_snap_is_first_of_all_the_knob_in_numbers(bench):
    machine = bench.post("machines", WREN)["id"]
    top = bench.post("threads", {"name": "Fescue 40", "thread": COTTON})["id"]
    put_on(bench, machine, top)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": top})
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    bench.post(f"machines/{machine}/knob", {"kind": "knob_set", "setting": 6})
    bench.post(f"machines/{machine}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})
    station = bench.get(f"machines/{machine}/mend")
    first = station["diagnosis"]["next"]
    assert first["cause"] == "top_too_tight"
    assert first["check"] == "Turn it down 3 and stitch six inches"
    assert first["how"].startswith("The knob is at 6.0. This thread starts at 3.0. Turn it down 3.")
    assert "the knob is tighter than where this thread starts" in station["known"]
    assert station["diagnosis"]["causes"][0]["probability"] > 0.5


def test_metallic_on_automatic_is_taken_off_it_first(bench, wren):
    put_on(bench, wren, 3)
    bench.post(f"machines/{wren}/knob", {"kind": "knob_set", "setting": None})
    bench.post(f"machines/{wren}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})
    first = bench.get(f"machines/{wren}/mend")["diagnosis"]["next"]
    assert first["cause"] == "top_too_tight"
    assert first["how"].startswith("Top tension is on automatic. This thread starts at ")


def test_the_cure_names_the_number(bench, wren):
    put_on(bench, wren, 2)
    incident = bench.post(f"machines/{wren}/incidents", {"symptoms": ["bobbin_thread_dots_on_top"]})["id"]
    bench.post(f"incidents/{incident}/checks", {"cause": "top_too_tight", "answer": "found"})
    cure = bench.get(f"machines/{wren}/mend")["cure"]
    assert cure["text"].startswith("Loosen to ") and "our best guess" in cure["text"]
    assert "the estimate" not in cure["text"]


def test_heavy_thread_in_the_bobbin_starts_nowhere_and_moves_no_other_start(bench, wren):
    heavy = bench.post("threads", {"name": "Pearl 5", "thread": COTTON | {"value": 5}})["id"]
    put_on(bench, wren, 2)
    bench.post(f"machines/{wren}/bobbin", {"bobbin": heavy, "bobbin_work": True})
    after = {row["name"]: row["start"] for row in bench.get(f"machines/{wren}/threads-sheet")}
    assert all(float(after[name]) < 5 for name in ("Tern 60", "Glint 40")), "not the five to nine of bobbin work"
    assert after["Pearl 5"] == "–"
    station = bench.get(f"machines/{wren}/balance?motion=free_motion")
    assert not station["start"]["known"] and "bobbin work" in station["start"]["text"]


def test_a_knob_that_may_stay_where_it_is_speaks_for_no_cause(bench, wren):
    """At its start it stands neither above nor below it, and Mend's reasons say neither."""
    put_on(bench, wren, 2)
    advice = bench.get(f"machines/{wren}/balance?motion=free_motion")["knob"]
    bench.post(f"machines/{wren}/knob", {"kind": "knob_set", "setting": advice["to"]})
    incident = bench.post(f"machines/{wren}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})["id"]
    said = str(bench.get(f"machines/{wren}/mend")["diagnosis"])
    bench.post(f"incidents/{incident}/outcome", {"outcome": "left"})
    bench.post(f"machines/{wren}/knob", {"kind": "knob_set", "setting": 10})
    bench.post(f"machines/{wren}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})
    above = str(bench.get(f"machines/{wren}/mend")["diagnosis"])
    told = "the knob is tighter than where this thread starts"
    assert (told in said.lower(), told in above.lower()) == (False, True)
