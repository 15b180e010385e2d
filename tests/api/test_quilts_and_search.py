"""Quilts that records hang on, the log searched to its end, and threads as they are owned."""

from __future__ import annotations

import io
from datetime import datetime, timedelta

from pypdf import PdfReader

COTTON = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}


def test_everything_noted_while_a_quilt_is_on_hangs_on_it(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/quilt", {"quilt": "Avocet", "for_whom": "a raffle", "note": "edge to edge"})
    bench.later(5)
    bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    bench.post(f"machines/{machine}/runs", {"minutes": 90, "meters": 60})
    bench.later(90)
    trouble = {"symptoms": ["clean_snap_of_the_top_thread"]}
    bench.post(f"machines/{machine}/incidents", trouble)
    bench.later(5)
    bench.post(f"machines/{machine}/runs", {"minutes": 30, "quilt": "Avocet"})
    bench.later(30)
    bench.post(f"machines/{machine}/runs", {"minutes": 45, "quilt": "Redshank"})
    page = bench.get("quilt?name=Avocet")
    assert (page["for_whom"], page["note"], page["machines"]) == ("a raffle", "edge to edge", ["Heron"])
    assert (page["hours"], page["meters"], page["runs_without_meters"]) == (2.0, 60, 1)
    assert (page["breaks"], page["troubles"]) == (1, 1)
    ends = [datetime.fromisoformat(page[end]) for end in ("first", "last")]
    assert ends[1] - ends[0] == timedelta(minutes=100), "from its first record to its last"
    assert {t["name"]: (t["below"], t["hours"]) for t in page["threads"]} == {
        "Saltmarsh 40": (False, 2.0),
        "Limpet 80": (True, 2.0),
    }
    assert [t["name"] for t in page["threads"]] == ["Saltmarsh 40", "Limpet 80"]
    assert [s["set_to"] for s in page["settings"]] == ["205"]
    assert {q["name"]: q["hours"] for q in bench.get("quilts")} == {"Avocet": 2.0, "Redshank": 0.75}
    assert bench.get(f"machines/{machine}/run")["quilt"] == "Redshank"

    entries = bench.get("log?quilt=Avocet")["entries"]
    assert len(entries) == page["records"] == 7
    look = next(e for e in entries if e["kind"] == "look")
    started = next(e for e in entries if e["kind"] == "quilt_on")
    bench.post(f"log/{started['id']}/strike")
    assert bench.client.get("/api/quilt?name=Avocet").json()["records"] == 1, "the run alone names it now"
    assert look["id"] not in {e["id"] for e in bench.get("log?quilt=Avocet")["entries"]}
    bench.post(f"log/{started['id']}/restore")
    assert bench.get("quilt?name=Avocet")["records"] == 7

    text = PdfReader(io.BytesIO(bench.client.get("/api/quilt.pdf?name=Avocet").content)).pages[0].extract_text()
    assert "Avocet" in text
    assert "2.0 h, 60 m, 1 run not measured" in text
    assert bench.client.get("/api/quilt?name=Nobody").status_code == 404
    assert bench.refused(f"machines/{machine}/quilt", {"quilt": " "})[0] == "quilt"


def test_the_log_is_searched_by_words_kinds_days_and_quilt_to_its_end(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/quilt", {"quilt": "Sanderling"})
    for number in range(230):
        bench.later(1)
        bench.post(f"machines/{machine}/runs", {"minutes": 5, "meters": 1 + number % 7})
    needle = {"metric": 90, "american": 14, "point": "topstitch", "note": "the blue box"}
    bench.later(1)
    middle = bench.now
    bench.post(f"machines/{machine}/needle", needle)
    for _ in range(5):
        bench.later(1)
        bench.post(f"machines/{machine}/runs", {"minutes": 47})

    def found(query, pages=12):
        entries, more = [], ""
        for _ in range(pages):
            page = bench.get(f"log?limit=50&{query}{more}")
            entries += page["entries"]
            if page["more"] is None:
                return entries
            more = f"&before={page['more']}"
        raise AssertionError("it has no end")

    assert [e["kind"] for e in found("words=BLUE%20box")] == ["needle_fitted"]
    assert len(found("words=47%20min%20sanderling")) == 5
    assert len(found("words=90/14&kind=run")) == 5, "what was in force is found too"
    assert len(found("kind=run&kind=needle_fitted")) == 236
    day = middle.strftime("%Y-%m-%dT%H:%M:%SZ")
    assert len(found(f"since={day}&kind=run")) == 5
    assert len(found(f"until={day}&kind=run")) == 230
    assert found("words=nothingofthekind") == []
    assert bench.client.get("/api/log?since=yesterday").status_code == 422


def test_a_thread_is_kept_as_it_is_owned_and_its_holes_reach_every_station(bench):
    machine, _, _ = bench.combination()
    read = bench.post("threads/read-label", {"text": "Ne 40/2 cotton 500 m"})["readings"][0]["spec"]
    spec = {**read, "name": "Dunlin", "rating": 4, "price": 12.5, "needle_named": "80/12 sharp", "holes": 2}
    kept = bench.post("threads", spec)
    assert (kept["spec"]["length_m"], kept["spec"]["rating"], kept["spec"]["needle_named"]) == (500, 4, "80/12 sharp")
    bench.post(f"machines/{machine}/top", {"top": [kept["id"]]})
    station = bench.get(f"machines/{machine}/thread")
    assert (station["holes"], station["tried"]) == (2, 2)
    assert any("2 holes, as you found by trial" in p["how"] for p in station["path"])
    rows = {row["name"]: row["holes"] for row in bench.get(f"machines/{machine}/threads-sheet")}
    assert (rows["Dunlin"], rows["Saltmarsh 40"]) == ("2", "3")
    done = bench.client.put(f"/api/machines/{machine}/thread/holes", json={"holes": None})
    assert done.status_code == 200
    assert bench.get(f"machines/{machine}/thread")["holes"] == 3
    for field, value in (("rating", 6), ("length_m", 0), ("holes", 4), ("price", -1)):
        assert bench.refused("threads", {**spec, field: value})[0] == field


def test_a_wish_puts_what_has_not_broken_here_before_its_like(bench):
    machine, _, _ = bench.combination()
    same = COTTON
    calm, wild = (bench.post("threads", {"name": n, "thread": same, "color": "#102030"})["id"] for n in "ZA")
    for thread, breaks in ((wild, 2), (calm, 0)):
        bench.post(f"machines/{machine}/top", {"top": [thread]})
        bench.post(f"machines/{machine}/runs", {"minutes": 120})
        for _ in range(breaks):
            bench.later(1)
            begun = bench.post(f"machines/{machine}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})
            bench.post(f"incidents/{begun['id']}/outcome", {"outcome": "left"})
        bench.later(5)
    names = [m["name"] for m in bench.post(f"machines/{machine}/wish", {"wish": "show"})["matches"]]
    assert names.index("Z") < names.index("A")


def test_the_threads_of_a_quilt_are_those_on_top_first_and_the_most_used_of_them(bench):
    machine, top, _ = bench.combination()
    other = bench.post("threads", {"name": "Dunlin 50", "thread": {**COTTON, "value": 50}})["id"]
    for thread, minutes in ((top, 20), (other, 45)):
        bench.post(f"machines/{machine}/top", {"top": [thread]})
        bench.later(minutes)
        bench.post(f"machines/{machine}/runs", {"minutes": minutes, "quilt": "Avocet"})
    used = bench.get("quilt?name=Avocet")["threads"]
    assert [(each["name"], each["below"]) for each in used] == [
        ("Dunlin 50", False),
        ("Saltmarsh 40", False),
        (used[-1]["name"], True),
    ]


def test_holes_stand_on_the_sheet_only_where_a_machine_has_such_a_guide(bench):
    bench.post("threads", {"name": "Dunlin 50", "thread": {**COTTON, "value": 50}})
    home = bench.post(
        "machines", {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 9, "step": 0.5}}
    )["id"]
    assert {row["holes"] for row in bench.get(f"machines/{home}/threads-sheet")} == {"–"}


def test_a_label_is_read_as_the_thread_that_was_put_in_last(bench):
    """Two were read the two ways that a number can be: the newest says which comes first."""
    bench.combination()
    ways = []
    for chosen in (0, 1, 0):
        read = bench.post("threads/read-label", {"text": "40/2 cotton"}, 200)["readings"]
        assert len(read) > 1
        wanted = sorted(read, key=lambda r: str(r["spec"]["thread"]))[chosen]["spec"]
        bench.post("threads", {**wanted, "name": f"Dunlin {len(ways)}"})
        bench.later(1)
        first = bench.post("threads/read-label", {"text": "40/2 cotton"}, 200)["readings"][0]["spec"]["thread"]
        ways.append(first == wanted["thread"])
    assert ways == [True, True, True]


def test_the_line_says_that_the_clock_runs_while_it_does(bench):
    machine, _, _ = bench.combination()

    def run() -> str:
        return next(k["fact"] for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "run")

    bench.post(f"machines/{machine}/clock/start", {"quilt": "Dunlin"})
    assert run() == "clock runs"
    bench.later(10)
    bench.post(f"machines/{machine}/clock/stop", {})
    assert run() != "clock runs"
