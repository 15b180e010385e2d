"""A whole ladder in one go, the knob without a stitch, what is good enough, and the colors of one thread line."""

from __future__ import annotations

import pytest

COTTON = {"fiber": "cotton", "construction": "spun", "value": 50, "system": "wt"}
BALL_100 = {"metric": 100, "american": 16, "point": "ballpoint"}


@pytest.fixture
def wren(bench) -> int:
    """A home machine with a dial, two threads and a needle."""
    scale = {"kind": "dial", "low": 0, "high": 10, "step": 0.5}
    machine = bench.post("machines", {"nickname": "Wren", "kind": "home", "scale": scale})["id"]
    for name in ("Tern 50", "Limpet 60"):
        bench.post("threads", {"name": name, "thread": COTTON})
    bench.post(f"machines/{machine}/top", {"top": [1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2})
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    return machine


def steps(*graded: tuple[float, int]) -> list[dict]:
    return [{"setting": setting, "grade": grade} for setting, grade in graded]


def balance_knot(bench, machine: int) -> dict:
    return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "balance")


def test_a_ladder_is_kept_in_one_go_in_whatever_order_it_was_tapped(bench, wren):
    tapped = steps((4, 0), (2, 2), (6, -2), (3, 1), (3.5, 0), (5, -1))
    kept = bench.post(f"machines/{wren}/ladders", {"rows": [{"steps": tapped}]})
    assert [bench.get(f"log/{e['id']}")["payload"]["setting"] for e in kept] == [2, 3, 3.5, 4, 5, 6]
    found = bench.get(f"machines/{wren}/balance")
    assert len(found["looks"]) == 6
    assert found["estimate"]["by_eye"] == 3.75
    assert 3.5 <= found["estimate"]["set_to"] <= 4
    rows = [{"steps": steps((3, 1), (4, 0), (5, -1)), "motion": "straight"}, {"steps": steps((3, 0), (4, -1))}]
    bench.post(f"machines/{wren}/ladders", {"rows": rows})
    assert len(bench.get(f"machines/{wren}/balance?motion=straight")["looks"]) == 3, "a row of its own"
    assert len(bench.get(f"machines/{wren}/balance")["looks"]) == 8
    assert "a row for each motion" in bench.refused(f"machines/{wren}/ladders", {"rows": [rows[0], rows[0]]})[1]
    assert "a row for each motion" in bench.refused(f"machines/{wren}/ladders", {"rows": []})[1]


@pytest.mark.parametrize(
    ("graded", "says"),
    [
        ([(3, 0)], "A row of a test strip is 2 to 24 judged lines. Save a single one as a test line."),
        ([], "A row of a test strip is 2 to 24 judged lines"),
        ([(3, 0), (4, -1), (3, 1)], "3.0 was judged twice, and differently. Which is it?"),
        ([(3, 0), (40, -1)], "top tension of this machine"),
        ([(n / 4, 0) for n in range(25)], "2 to 24"),
    ],
)
def test_a_bad_ladder_is_refused_whole(bench, wren, graded, says):
    before = bench.count()
    assert (
        says
        in bench.refused(
            f"machines/{wren}/ladders",
            {"rows": [{"steps": steps((1, 1), (2, 0)), "motion": "straight"}, {"steps": steps(*graded)}]},
        )[1]
    )
    assert bench.count() == before


def test_the_same_step_graded_alike_twice_counts_once(bench, wren):
    assert len(bench.post(f"machines/{wren}/ladders", {"rows": [{"steps": steps((3, 1), (4, 0), (3, 1))}]})) == 2


def test_the_knob_is_noted_without_a_stitch_and_what_changed_sees_it(bench, wren):
    bench.post(f"machines/{wren}/looks", {"setting": 3, "grade": 0})
    bench.later(10)
    assert bench.post(f"machines/{wren}/knob", {"setting": 5})["text"] == "Top tension set at 5.0"
    assert bench.get(f"machines/{wren}/balance")["knob_words"] == "5.0"
    changed = {c["id"]: c for c in bench.get(f"machines/{wren}/mend")["changes"]}
    assert (changed["setting_moved"]["before"], changed["setting_moved"]["after"]) == ("3.0", "5.0")
    assert bench.post(f"machines/{wren}/knob", {"setting": None})["text"] == "Top tension left to the machine"
    assert bench.get(f"machines/{wren}/balance")["knob_words"] == "automatic"
    assert bench.refused(f"machines/{wren}/knob", {"setting": 11})[0] == "setting"


def test_good_enough_for_this_quilt_widens_what_will_do(bench, wren):
    bench.post(f"machines/{wren}/ladders", {"rows": [{"steps": steps((3, 1), (4, -1))}]})
    bench.later(1)
    bench.post(f"machines/{wren}/looks", {"setting": 4, "grade": -1})
    assert balance_knot(bench, wren)["state"] == "caution"
    strict = bench.get(f"machines/{wren}/balance")["estimate"]
    bench.post(f"machines/{wren}/good-enough", {"grade": -1})
    station = bench.get(f"machines/{wren}/balance")
    assert station["tolerance"]["why"] == "you said that a few dots on top are good enough here"
    assert station["estimate"]["good_enough_probability"] > strict["good_enough_probability"]
    assert station["estimate"]["center"] == strict["center"], "the balance itself stays where it is"
    knot = balance_knot(bench, wren)
    assert (knot["state"], "good enough" in knot["why"]) == ("ready", True)
    bench.post(f"machines/{wren}/good-enough", {"grade": 0})
    assert balance_knot(bench, wren)["state"] == "caution"
    assert bench.refused(f"machines/{wren}/good-enough", {"grade": 2})[1].startswith("Good enough is a step beside")


def test_a_bundle_and_a_heavy_top_may_show_specks_on_the_back(bench, wren):
    bench.post(f"machines/{wren}/top", {"top": [1, 2]})
    assert bench.get(f"machines/{wren}/balance")["tolerance"] == {
        "accepted": {"lowest": 0, "highest": 1},
        "why": "several threads together show a few specks on the back",
    }
    bench.post("threads", {"name": "Tideline 12", "thread": {**COTTON, "value": 12}})
    bench.post(f"machines/{wren}/top", {"top": [3]})
    assert bench.get(f"machines/{wren}/balance")["tolerance"]["accepted"]["highest"] == 1
    bench.post(f"machines/{wren}/looks", {"setting": 3, "grade": 1})
    assert balance_knot(bench, wren)["state"] == "ready"


def test_the_colors_of_one_line_are_one_thread(bench, wren):
    bench.post(f"machines/{wren}/looks", {"setting": 3, "grade": 0})
    teal = bench.post("threads", {"name": "Tern 50 teal", "thread": COTTON, "line": "Tern"})["id"]
    bench.later(5)
    bench.post(f"machines/{wren}/top", {"top": [teal]})
    assert balance_knot(bench, wren)["fact"] == "stitch a test", "the first color does not say its line yet"
    first = bench.get("threads?text=tern")["items"]
    spec = next(t["spec"] for t in first if t["id"] == 1)
    answer = bench.client.put("/api/threads/1", json={**spec, "line": " tern"})
    assert answer.status_code == 200, answer.text
    assert balance_knot(bench, wren)["fact"] == "3.0", "another color, the same balance"
    bench.client.put("/api/threads/1", json={**spec, "line": ""})
    assert balance_knot(bench, wren)["fact"] == "stitch a test"
    red = bench.post("threads", {"name": "Tern 40", "thread": {**COTTON, "value": 40}, "line": "Tern"})["id"]
    bench.client.put("/api/threads/1", json={**spec, "line": "Tern"})
    bench.later(5)
    bench.post(f"machines/{wren}/top", {"top": [red]})
    assert balance_knot(bench, wren)["fact"] == "stitch a test", "another weight is another thread"


@pytest.fixture
def plover(bench) -> int:
    """A longarm with an unmarked knob."""
    scale = {"kind": "turns", "low": -4, "high": 4, "step": 0.25}
    machine = bench.post("machines", {"nickname": "Plover", "kind": "longarm", "throat_in": 18, "scale": scale})["id"]
    for name in ("Tern 50", "Limpet 60"):
        bench.post("threads", {"name": name, "thread": COTTON})
    bench.post(f"machines/{machine}/top", {"top": [1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2})
    bench.post(f"machines/{machine}/needle", BALL_100)
    return machine


def test_the_mark_of_a_knob_is_named_and_set_anew_and_old_settings_follow(bench, plover):
    bench.post(f"machines/{plover}/hand-looks", {"test": "palm", "feel": "right"})
    bench.post(f"machines/{plover}/looks", {"setting": 1.25, "grade": 0})
    bench.post(f"machines/{plover}/recipes", {"name": "Avocet", "setting": 1.25})
    bench.later(5)
    said = bench.post(f"machines/{plover}/mark", {"name": "where 50 over 60 balanced", "at": 1.25})
    assert said["text"] == "The mark is where 50 over 60 balanced, 1¼ turns in of the old one"
    setup = bench.get(f"machines/{plover}/line")["setup"]
    assert (setup["mark"]["name"], setup["knob"]["setting"]) == ("where 50 over 60 balanced", 0)
    assert balance_knot(bench, plover)["fact"] == "stitch a test", "old settings are numbers of another mark"
    recipe = bench.get("recipes")["items"][0]
    assert recipe["setting_words"] == "at the mark"
    assert any("mark was reset since" in why["text"] for why in recipe["stale"])
    start = bench.get(f"machines/{plover}/balance")["start"]
    assert start["records"][0]["setting"] == pytest.approx(0, abs=0.1)
    assert abs(start["center"]) < 0.5
    again = bench.refused(f"machines/{plover}/mark", {"name": "where 50 over 60 balanced"})
    assert again == ("name", "The mark is set there already, under that name.")
    assert bench.refused(f"machines/{plover}/mark", {"name": "far", "at": 9})[0] == "at"


def test_a_dial_has_no_mark(bench, wren):
    assert "Only an unmarked knob has a mark" in bench.refused(f"machines/{wren}/mark", {"name": "here"})[1]
