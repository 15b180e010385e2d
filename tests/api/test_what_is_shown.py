"""What is shown is true, and what is saved is what was shown."""

from __future__ import annotations

import pytest
from typer.testing import CliRunner

from weftonos import cli
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.store.safekeeping import look_at

DIAL = {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}
COTTON = {"fiber": "cotton", "construction": "spun", "value": 12, "system": "wt"}


def ladder(bench, machine, motion, grades):
    steps = [{"setting": setting, "grade": grade} for setting, grade in enumerate(grades)]
    bench.post(f"machines/{machine}/ladders", {"rows": [{"motion": motion, "steps": steps}]})


@pytest.fixture
def cloth(bench):
    """The worked ladders of one cloth: straight reads as 5½, free-motion as 8½ (common practice)."""
    machine = bench.post("machines", DIAL)["id"]
    for name in ("Common Tern", "Limpet"):
        bench.post("threads", {"name": name, "thread": COTTON})
    bench.post(f"machines/{machine}/top", {"top": [1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2})
    bench.post(
        f"machines/{machine}/needle", {"metric": 100, "american": 16, "point": "topstitch", "system": "130/705 H"}
    )
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 200}] * 3})
    bench.post(f"machines/{machine}/sandwich", {"batting": "wool"})
    bench.later(1)
    ladder(bench, machine, "straight", [2, 2, 2, 2, 1, 0, 0, -1, -1, -2, -2])
    bench.later(1)
    ladder(bench, machine, "free_motion", [2, 2, 2, 2, 2, 1, 1, 1, 0, 0, -1])
    return machine


@pytest.mark.parametrize(("motion", "found"), [("straight", 5.5), ("free_motion", 8.5)])
def test_a_recipe_holds_the_motion_and_the_setting_that_its_form_shows(bench, cloth, motion, found):
    shown = bench.get(f"machines/{cloth}/balance?motion={motion}")
    assert shown["estimate"]["set_to"] == found
    assert shown["keep_says"].startswith(f"At {found:g}, the {motion.replace('_', '-')} setting found")
    said = {"name": "Terns", "motion": motion, "setting": found}
    kept = bench.post(f"machines/{cloth}/recipes", said)
    assert (kept["payload"]["setting"], kept["payload"]["motion"]) == (found, motion)
    (item,) = bench.get("recipes")["items"]
    assert (item["setting_words"], item["stale"]) == (f"{found:g}", [])
    assert f"top {found:g}" in item["entry"]["text"]
    assert [i["setting_words"] for i in bench.get(f"recipes?motion={motion}")["items"]] == [f"{found:g}"]
    # Whatever its line says, it is found by.
    for words in ("100/16", "topstitch", "200", f"{found:g}", "wool"):
        assert len(bench.get(f"recipes?text={words}")["items"]) == 1, words


def test_a_guess_is_not_offered_as_a_setting_that_was_found(bench, cloth):
    bench.post(f"machines/{cloth}/top", {"top": [2]})
    bench.post(f"machines/{cloth}/looks", {"setting": 4, "grade": -2, "motion": "straight"})
    assert "our best guess" in bench.get(f"machines/{cloth}/balance?motion=straight")["keep_says"]
    assert "Judge one first" in bench.get(f"machines/{cloth}/balance?motion=decorative")["keep_says"]


def test_a_recipe_puts_its_needle_back_with_its_system(bench, cloth):
    recipe = bench.post(f"machines/{cloth}/recipes", {"name": "Terns"})["id"]
    bench.post(f"machines/{cloth}/needle", {"metric": 70, "american": 10, "point": "sharp", "system": "HLx5"})
    bench.later(1)
    bench.post(f"machines/{cloth}/recipes/{recipe}/use")
    bench.post(f"machines/{cloth}/recipe-in-use/done")
    needle = bench.get(f"machines/{cloth}/line")["setup"]["needle"]
    assert (needle["metric"], needle["system"]) == (100, "130/705 H")


def test_what_is_no_recipe_of_this_machine_is_not_put_back_on_it(bench, cloth):
    recipe = bench.post(f"machines/{cloth}/recipes", {"name": "Terns"})["id"]
    look = bench.get("log?kind=look")["entries"][0]["id"]
    spec = bench.get("machines")[0]["spec"]
    other = bench.post("machines", {**spec, "nickname": "Other"})["id"]
    for machine, number in ((other, recipe), (cloth, look)):
        said = bench.refused(f"machines/{machine}/recipes/{number}/use", None)
        assert said == ("recipe", "That recipe isn't one of this machine's.")
        assert bench.refused(f"machines/{machine}/recipes/{number}/differences", None, "GET") == said


def test_a_break_in_one_tap_is_deleted_and_put_back_in_one(bench, cloth):
    broke = bench.post(f"machines/{cloth}/breaks", {})["records"]
    for record in broke:
        bench.post(f"log/{record}/strike")
        assert bench.get(f"machines/{cloth}/mend")["stage"] == "start", "no trouble is opened"
        struck = {entry["id"] for entry in bench.get("log")["entries"] if entry["struck_at"]}
        assert set(broke) <= struck
        bench.post(f"log/{record}/restore")
        assert not [entry for entry in bench.get("log")["entries"] if entry["struck_at"]]


def test_a_clock_that_is_stopped_at_once_has_counted_nothing(bench, cloth):
    bench.post(f"machines/{cloth}/clock/start", {"quilt": "Avocet", "kind": "clock_started"})
    bench.later(0.02)
    assert bench.post(f"machines/{cloth}/clock/stop")["struck_at"]
    assert bench.get("log?kind=run")["entries"] == []
    assert bench.get(f"machines/{cloth}/run")["clock"] is None
    bench.post(f"machines/{cloth}/clock/start", {"quilt": "Avocet", "kind": "clock_started"})
    bench.later(12)
    assert bench.post(f"machines/{cloth}/clock/stop")["payload"]["minutes"] == 12


def test_what_is_marked_loaded_and_turned_says_which_case(bench, cloth):
    case = bench.post(f"machines/{cloth}/cases", {"label": "B", "bobbin_class": "15"})["id"]
    # The bobbin has another number than the case.
    _, bobbin = (bench.post("bobbins", {"label": n, "thread": 2, "bobbin_class": "15"}) for n in ("B6", "B7"))
    load = bench.post(f"machines/{cloth}/bobbin", {"bobbin": 2, "case": case})
    assert load["text"] == "In the bobbin: Limpet (12 wt cotton), case B"
    assert (
        bench.post(f"machines/{cloth}/screw", {"case": case, "minutes": 5})["text"]
        == "Screw tightened 5 minutes, case B"
    )
    for part, number, label in (("case", case, "Case B"), ("bobbin", bobbin, "Bobbin B7")):
        marked = bench.post(f"machines/{cloth}/marks", {"part": part, "id": number, "fault": "flutters"})
        assert marked["text"] == f"{label}: flutters"


def test_a_reading_is_moved_to_the_case_it_belongs_to(bench, cloth):
    wrong, right = (bench.post(f"machines/{cloth}/cases", {"label": name})["id"] for name in "AB")
    bench.post(f"machines/{cloth}/bobbin", {"bobbin": 2, "case": right})
    entry = bench.post(f"machines/{cloth}/readings", {"unit": "mN", "pulls": [{"value": 240}] * 2, "case": wrong})
    moved = {"payload": {**entry["payload"], "case": right}, "at": entry["at"]}
    assert bench.client.put(f"/api/log/{entry['id']}", json=moved).status_code == 200
    read = {c["spec"]["label"]: c["last_mn"] for c in bench.get(f"machines/{cloth}/rack")["cases"]}
    assert read == {"A": None, "B": 240}


def test_a_list_that_was_gone_through_is_not_asked_again_until_something_changed(bench, cloth):
    listed = bench.get(f"machines/{cloth}/preflight")
    names = [item["cause"] for item in listed["items"]]
    bench.later(1)
    noted = bench.post(f"machines/{cloth}/preflight", {"done": names[:-1]})
    after = bench.get(f"machines/{cloth}/preflight")
    assert ([item["cause"] for item in after["items"]], after["done"]) == (names[-1:], len(names) - 1)
    assert after["done_at"] == noted["at"]
    assert (
        bench.refused(f"log/{noted['id']}", {"payload": {**noted["payload"], "done": []}, "at": noted["at"]}, "PUT")[0]
        == "done"
    )
    bench.later(1)
    bench.post(f"machines/{cloth}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    assert bench.get(f"machines/{cloth}/preflight")["done_at"] is None
    assert not [i for i in listed["items"] if i["power_off"] and "one stitch" in i["how"].lower()]


def test_a_recording_is_kept_with_its_mean(bench, cloth):
    """A worn spring goes slack now and then: the middle of lowest and highest is not what was drawn."""
    drawn = [{"value": 197, "low": 80, "high": 198}] * 3
    kept = bench.post(f"machines/{cloth}/readings", {"unit": "mN", "method": "trace", "pulls": drawn})
    assert kept["payload"]["mean_mn"] == 197
    assert (
        bench.refused(f"machines/{cloth}/readings", {"unit": "mN", "pulls": [{"value": 70, "low": 80, "high": 198}]})[0]
        == "value"
    )


@pytest.mark.parametrize("made_up", [True, False])
def test_what_the_stand_in_drew_says_so_as_a_file_too(bench, made_up):
    head = "length_mm,tension_mn" + (",stand_in" if made_up else "")
    rows = "\n".join(f"{n * 2},{200 + n % 3}{',1' if made_up else ''}" for n in range(400))
    read = bench.client.post(
        "/api/gauge/csv/read?along=0&tension=1", content=f"{head}\n{rows}\n", headers={"content-type": "text/csv"}
    )
    assert read.json()["stand_in"] is made_up


def test_a_bobbin_is_as_full_as_it_is_wound_wherever_that_is_asked(bench, cloth):
    clear = {"fiber": "polyester", "construction": "monofilament", "value": 0.1, "system": "mm"}
    clear = {**clear, "value": 60, "system": "wt"}
    thread = bench.post("threads", {"name": "Foam", "thread": clear})["id"]
    part = bench.post("bobbins", {"label": "A1", "thread": thread, "bobbin_class": "15", "fill": 0.6})
    bench.post(f"machines/{cloth}/bobbin", {"bobbin": thread})
    plan = {"bobbin_class": "15", "quilt_width_m": 2, "quilt_height_m": 2, "lines_apart_mm": 10}
    planned = bench.post(f"machines/{cloth}/winding-plan", plan)
    left = bench.get(f"machines/{cloth}/run")["bobbin"]
    assert planned["fill"] == 0.75
    assert left["share"] == 0.75
    bench.later(1)
    bench.post(f"machines/{cloth}/bobbin", {"bobbin": thread, "item": part})
    assert bench.get(f"machines/{cloth}/run")["bobbin"]["share"] == 0.6


def test_a_packet_never_holds_less_than_nothing(bench, cloth):
    packet = bench.post("needles", {"metric": 90, "american": 14, "point": "sharp", "bought": 1})
    needle = {"metric": 90, "american": 14, "point": "sharp", "packet": packet}
    first = bench.post(f"machines/{cloth}/needle", needle)["id"]
    bench.post(f"log/{first}/strike")
    bench.later(1)
    bench.post(f"machines/{cloth}/needle", needle)
    bench.post(f"log/{first}/restore")
    assert [p["left"] for p in bench.get(f"machines/{cloth}/needles")["packets"] if p["id"] == packet] == [0]


def test_a_workshop_moves_to_a_new_computer_by_a_copy(bench, cloth, tmp_path_factory):
    """As the guide says it: copy here, put it in place there, start there."""
    copy = bench.post("workshop/copies")["name"]
    stick = tmp_path_factory.mktemp("stick") / "copy.db"
    stick.write_bytes(bench.client.get(f"/api/workshop/copies/{copy}/file").content)
    there = tmp_path_factory.mktemp("new") / "weftonos"
    moved = CliRunner().invoke(cli.app, ["restore", str(stick), "--data-dir", str(there), "--yes"])
    assert moved.exit_code == 0, moved.output
    looked = CliRunner().invoke(cli.app, ["check", "--data-dir", str(there)])
    assert "It is sound." in looked.output
    assert look_at(there / "workshop.db").records == look_at(bench.data_dir / "workshop.db").records


def test_a_turned_screw_waits_for_its_pull_on_the_page_also_after_a_reload(bench, cloth):
    def said() -> str:
        return bench.get(f"machines/{cloth}/readings")["turned"]

    assert said() == ""
    turn = bench.post(f"machines/{cloth}/screw", {"minutes": -10})
    assert said() == "Turned 10 minutes looser. Pull again."
    bench.post(f"log/{turn['id']}/strike")
    assert said() == ""
    bench.post(f"log/{turn['id']}/restore")
    bench.post(f"machines/{cloth}/readings", {"unit": "mN", "pulls": [{"value": 190}] * 2})
    assert said() == ""
    bench.post(f"machines/{cloth}/screw", {"minutes": 1})
    assert said() == "Turned 1 minute tighter. Pull again."
    bench.post(f"machines/{cloth}/bobbin", {"bobbin": 1})
    assert said() == ""


def test_a_turn_that_names_no_case_is_one_of_the_case_that_is_in(bench, cloth):
    case = bench.post(f"machines/{cloth}/cases", {"label": "A"})["id"]
    bench.post(f"machines/{cloth}/bobbin", {"bobbin": 2, "case": case})
    bench.post(f"machines/{cloth}/readings", {"unit": "mN", "pulls": [{"value": 240}] * 2, "case": case})
    assert bench.get(f"machines/{cloth}/line")["setup"]["reading"]["mean_mn"] == 240
    bench.post(f"machines/{cloth}/screw", {"minutes": -10})
    assert bench.get(f"machines/{cloth}/line")["setup"]["reading"] is None


@pytest.fixture
def plover(bench):
    """A longarm with an unmarked knob, threaded, read, and balanced half a turn in."""
    knob = {"kind": "turns", "low": -4, "high": 4, "step": 0.25}
    machine = bench.post("machines", {"nickname": "Plover", "kind": "longarm", "scale": knob})["id"]
    for name in ("Common Tern", "Limpet"):
        bench.post("threads", {"name": name, "thread": COTTON})
    case = bench.post(f"machines/{machine}/cases", {"label": "A"})["id"]
    bench.post(f"machines/{machine}/top", {"top": [1]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 2, "case": case})
    bench.post(f"machines/{machine}/needle", {"metric": 100, "american": 16, "point": "topstitch"})
    bench.post(f"machines/{machine}/screw", {"case": case, "minutes": -5})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 200}] * 3, "case": case})
    bench.later(1)
    for setting, grade in ((0, 1), (0.5, 0), (0.75, -1)):
        bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": grade})
        bench.later(1)
    return machine


def test_a_recipe_is_given_on_today_s_mark_its_interval_too_and_so_is_the_start(bench, plover):
    recipe = bench.post(f"machines/{plover}/recipes", {"name": "Terns", "setting": 0.5})["id"]
    (item,) = bench.get("recipes")["items"]
    before = item["interval_words"]
    assert item["setting_words"] == "½ turn in"
    bench.later(1)
    bench.post(f"machines/{plover}/mark", {"name": "new", "at": 0.5})
    (item,) = bench.get("recipes")["items"]
    assert item["setting_words"] == "at the mark"
    low, high = (end["payload"][name] - 0.5 for end in [bench.get(f"log/{recipe}")] for name in ("low", "high"))
    scale = TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25)
    assert item["interval_words"] == f"{scale.words(scale.snap(low))} to {scale.words(scale.snap(high))}" != before
    bench.post(f"machines/{plover}/recipes/{recipe}/use")
    bench.post(f"machines/{plover}/recipe-in-use/done")
    start = bench.get(f"machines/{plover}/balance")["start"]
    assert (start["center"], "at the mark" in start["text"]) == (0, True)


def test_a_screw_that_was_turned_before_a_recipe_was_kept_is_nothing_since(bench, plover):
    bench.post(f"machines/{plover}/recipes", {"name": "Terns"})
    assert bench.get("recipes")["items"][0]["stale"] == []
    bench.later(5)
    case = bench.get(f"machines/{plover}/line")["setup"]["case"]["id"]
    bench.post(f"machines/{plover}/screw", {"case": case, "minutes": 5})
    assert "the screw of case A was turned since" in [why["text"] for why in bench.get("recipes")["items"][0]["stale"]]


def test_what_a_part_filled_bobbin_gave_is_reckoned_up_to_a_full_one(bench, plover):
    def holds(fill: float, meters: float) -> dict:
        for _ in range(3):
            bench.post(f"machines/{plover}/bobbin", {"bobbin": 2, "fill": fill})
            bench.later(1)
            bench.post(f"machines/{plover}/runs", {"minutes": 60, "meters": meters})
            bench.later(61)
            bench.post(f"machines/{plover}/bobbin/again", {"emptied": True})
        return bench.get(f"machines/{plover}/run")["bobbin_holds"]

    half = holds(0.5, 14)
    assert (half["bobbins"], half["standing"]) == (3, "own_records")
    both = holds(1.0, 28)
    assert both["bobbins"] == 6
    assert both["thread_m"] == pytest.approx(half["thread_m"], rel=0.01)


def test_evidence_follows_a_label_that_was_corrected(bench, cloth):
    bench.post(f"machines/{cloth}/runs", {"minutes": 60, "quilt": "Avocet"})
    bench.post(f"machines/{cloth}/breaks", {})

    def levels() -> list[str]:
        return [line["level"] for line in bench.get(f"machines/{cloth}/evidence/rates?by=top_thread")["lines"]]

    assert levels() == ["Common Tern (12 wt cotton)"]
    thread = bench.get("threads")["items"]
    spec = next(item["spec"] for item in thread if item["spec"]["name"] == "Common Tern")
    corrected = {**spec, "name": "Arctic Tern", "thread": {**spec["thread"], "value": 30}}
    assert bench.client.put("/api/threads/1", json=corrected).status_code == 200
    assert levels() == ["Arctic Tern (30 wt cotton)"]
