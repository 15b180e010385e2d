"""What was stitched and felt decides: kept settings, a bobbin without a gauge, a recipe put back on the machine."""

from __future__ import annotations

import pytest

DIAL = {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}
COTTON = {"fiber": "cotton", "construction": "spun", "value": 50, "system": "wt"}
STEPS = ((6, 1), (7, 1), (8, 0), (9, 0), (10, -1))


@pytest.fixture
def home(bench):
    """A home machine without a gauge: threads, needle, nothing measured."""
    machine = bench.post("machines", DIAL)["id"]
    for name in ("Saltmarsh 50", "Limpet 60"):
        bench.post("threads", {"name": name, "thread": COTTON})
    bench.post(f"machines/{machine}/top", {"top": [1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2})
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    return machine


def stitch(bench, machine, steps=STEPS):
    for setting, grade in steps:
        bench.later(1)
        bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": grade})


def feel(bench, machine, how, test="palm"):
    bench.later(1)
    bench.post(f"machines/{machine}/hand-looks", {"test": test, "feel": how})


def knot(bench, machine, station):
    return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == station)


def test_a_felt_right_is_enough_to_keep_a_combination_and_is_said_to_be_felt(bench, home):
    stitch(bench, home)
    assert "hang or palm test" in bench.refused(f"machines/{home}/recipes", {"name": "Dunlin"})[1]
    feel(bench, home, "right")
    assert knot(bench, home, "bobbin")["state"] == "ready"
    assert knot(bench, home, "bobbin")["fact"] == "feels right"
    kept = bench.post(f"machines/{home}/recipes", {"name": "Dunlin"})
    assert kept["payload"]["bobbin_mn"] is None
    assert "bobbin right by the palm test" in kept["text"]
    (item,) = bench.get("recipes")["items"]
    assert item["bobbin_words"] == "right by the palm test"
    assert item["stale"] == []
    card = bench.client.get(f"/api/recipes/{kept['id']}/card.svg").text
    assert "right by the palm test" in card


def test_a_felt_loose_asks_for_a_small_turn_and_keeps_nothing(bench, home):
    stitch(bench, home)
    feel(bench, home, "loose", "hang")
    state = knot(bench, home, "bobbin")
    assert (state["state"], state["fact"]) == ("caution", "feels loose")
    assert "Feel it once more before you turn" in state["why"], "a hand errs one time in seven"
    feel(bench, home, "loose", "hang")
    assert "Tighten the screw a little" in knot(bench, home, "bobbin")["why"]
    assert bench.refused(f"machines/{home}/recipes", {"name": "Dunlin"})[0] == "name"
    feel(bench, home, "tight")
    assert "Loosen the screw a little" in knot(bench, home, "bobbin")["why"]


def test_a_number_says_more_than_a_feel_and_a_new_bobbin_forgets_both(bench, home):
    bench.post(f"machines/{home}/readings", {"unit": "mN", "pulls": [{"value": 210}, {"value": 212}]})
    feel(bench, home, "tight")
    setup = bench.get(f"machines/{home}/line")["setup"]
    assert (setup["reading"]["mean_mn"], setup["felt"]) == (211, None)
    bench.later(1)
    bench.post(f"machines/{home}/bobbin", {"bobbin": 2})
    setup = bench.get(f"machines/{home}/line")["setup"]
    assert (setup["reading"], setup["felt"]) == (None, None)
    feel(bench, home, "right")
    felt = bench.get("log?kind=bobbin_look")["entries"][0]["id"]
    assert bench.get(f"machines/{home}/line")["setup"]["felt"]["feel"] == "right"
    bench.post(f"log/{felt}/strike")
    assert bench.get(f"machines/{home}/line")["setup"]["felt"] is None


def test_what_is_kept_is_the_setting_found_and_not_the_last_one_stitched(bench, home):
    feel(bench, home, "right")
    stitch(bench, home)
    station = bench.get(f"machines/{home}/balance")
    assert station["estimate"]["set_to"] == 8.5
    assert station["present_words"] == "10.0"
    kept = bench.post(f"machines/{home}/recipes", {"name": "Dunlin", "note": "on denim"})["payload"]
    assert (kept["setting"], kept["grade"], kept["last_look"], kept["note"]) == (8.5, 0, 10, "on denim")
    assert (knot(bench, home, "balance")["fact"], knot(bench, home, "balance")["state"]) == ("8.5", "ready")
    by_eye = bench.post(f"machines/{home}/recipes", {"name": "By eye", "setting": 8})["payload"]
    assert by_eye["setting"] == 8
    (item, *_) = bench.get("recipes?text=Dunlin")["items"]
    assert item["setting_words"] == "8.5"
    assert "top 8.5, balanced" in item["entry"]["text"]
    look = bench.get("log?kind=look")["entries"][0]
    bench.client.put(f"/api/log/{look['id']}", json={"payload": {**look["payload"], "setting": 9.5}, "at": look["at"]})
    (item, *_) = bench.get("recipes?text=Dunlin")["items"]
    assert [why["text"] for why in item["stale"]] == ["its test line was corrected since"]


def test_what_was_never_balanced_is_asked_about_before_it_is_kept(bench, home):
    feel(bench, home, "right")
    stitch(bench, home, ((3, 1), (4, 1)))
    field, sentence = bench.refused(f"machines/{home}/recipes", {"name": "Dunlin"})
    assert (field, sentence) == ("unbalanced", "No test line was balanced yet. Save it anyway?")
    bench.post(f"machines/{home}/recipes", {"name": "Dunlin", "unbalanced": True})


def test_using_a_recipe_lists_every_move_and_can_be_taken_back(bench, home):
    feel(bench, home, "right")
    stitch(bench, home)
    recipe = bench.post(f"machines/{home}/recipes", {"name": "Dunlin"})["id"]
    bench.later(5)
    bench.post("threads", {"name": "Tern 30", "thread": {**COTTON, "value": 30}})
    bench.post(f"machines/{home}/top", {"top": [3]})
    bench.post(f"machines/{home}/needle", {"metric": 100, "american": 16, "point": "topstitch"})
    stitch(bench, home, ((3, 0),))
    asked = bench.get(f"machines/{home}/recipes/{recipe}/differences")
    whole = {d["what"]: (d["before"], d["after"]) for d in asked["moves"]}
    assert whole["top_thread"] == ("Tern 30", "Saltmarsh 50")
    assert whole["setting"] == ("3.0", "8.5")
    before = bench.get(f"machines/{home}/line")["setup"]
    used = bench.post(f"machines/{home}/recipes/{recipe}/use")
    assert {d["what"] for d in used["moves"]} == {"top_thread", "needle", "setting"}
    assert not any(d["done"] for d in used["moves"]), "nothing moves by itself"
    for number in reversed(used["records"]):
        bench.post(f"log/{number}/strike")
    assert bench.get(f"machines/{home}/line")["setup"] == before


def test_a_recipe_stays_pinned_its_moves_tick_themselves_and_it_is_the_start(bench, home):
    feel(bench, home, "right")
    stitch(bench, home, ((8.0, 1), (8.5, 0), (9.0, -1)))
    recipe = bench.post(f"machines/{home}/recipes", {"name": "Dunlin"})["id"]
    bench.later(5)
    bench.post("threads", {"name": "Tern 30", "thread": {**COTTON, "value": 30}})
    bench.post(f"machines/{home}/top", {"top": [3]})
    stitch(bench, home, ((3, 0),))
    assert bench.get(f"machines/{home}/line")["recipe"] is None
    bench.post(f"machines/{home}/recipes/{recipe}/use")

    def moves():
        pinned = bench.get(f"machines/{home}/line")["recipe"]
        return {move["what"]: move["done"] for move in pinned["moves"]}

    assert moves() == {"top_thread": False, "setting": False}
    bench.later(1)
    bench.post(f"machines/{home}/top", {"top": [1]})
    assert moves() == {"top_thread": True, "setting": False}
    station = bench.get(f"machines/{home}/balance")
    assert station["start"]["text"].startswith("As saved in “Dunlin”, 8.5, from 3 test lines")
    assert station["estimate"]["set_to"] == 8.5
    done = bench.post(f"machines/{home}/recipe-in-use/done")
    assert all(move["done"] for move in done["moves"])
    line = bench.get(f"machines/{home}/line")
    assert (line["recipe"], line["setup"]["knob"]["setting"]) == (None, 8.5)
    assert bench.get(f"machines/{home}/balance")["estimate"]["set_to"] == 8.5, "still the start"
    assert "Dunlin is on the machine again" in [e["text"] for e in bench.get("log")["entries"]]
    for number in reversed(done["records"]):
        bench.post(f"log/{number}/strike")
    assert moves() == {"top_thread": True, "setting": False}
    dropped = bench.post(f"machines/{home}/recipe-in-use/drop")
    assert bench.get(f"machines/{home}/line")["recipe"] is None
    bench.post(f"log/{dropped['records'][0]}/strike")
    assert moves() == {"top_thread": True, "setting": False}
    bench.post(f"machines/{home}/recipe-in-use/drop")
    assert bench.refused(f"machines/{home}/recipe-in-use/done", None)[0] == "recipe"


def test_the_machine_s_own_number_counts_from_the_first_balanced_stitch(bench):
    machine = bench.post("machines", {**DIAL, "kind": "longarm", "throat_in": 20})["id"]
    assert bench.get(f"machines/{machine}/readings")["target"] is None, "no school has a number for 20 inches"
    for name in ("Saltmarsh 50", "Limpet 60"):
        bench.post("threads", {"name": name, "thread": COTTON})
    bench.post(f"machines/{machine}/top", {"top": [1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 210}]})
    bench.later(1)
    bench.post(f"machines/{machine}/looks", {"setting": 4, "grade": 0})
    station = bench.get(f"machines/{machine}/readings")
    assert station["target"]["low"] < 210 < station["target"]["high"]
    assert station["target"]["origin"] == "learned from 1 balanced stitch-out"
    assert station["last"]["verdict"] == "on_target"


def test_what_the_stand_in_of_the_gauge_made_up_is_kept_in_the_demo_alone(bench, home):
    made_up = {"unit": "mN", "pulls": [{"low": 200, "high": 210}], "method": "trace"}
    assert "made up" in bench.refused(f"machines/{home}/readings?stand_in=true", made_up)[1]
    assert bench.get("gauge/sources")[0]["kept"] is False
    bench.post(f"machines/{home}/readings", made_up)
    (bench.data_dir / "demo.txt").write_text("The demo.", encoding="utf-8")
    assert bench.get("gauge/sources")[0]["kept"] is True
    bench.post(f"machines/{home}/readings?stand_in=true", made_up)
