"""The Balance station over HTTP: evidence, guards, ladders and strips, the recipe book."""

import io
import itertools

import pytest
from pypdf import PdfReader

from conftest import HERON, SALTMARSH

BALL_100 = {"metric": 100, "american": 16, "point": "ballpoint"}
DIAL = {"kind": "dial", "low": 0, "high": 10, "step": 0.25}


def ready(bench) -> int:
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/needle", BALL_100)
    bench.post(f"machines/{machine}/sandwich", {"loft": "lofty", "batting": "wool"})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 204}, {"value": 206}]})
    return machine


def look(bench, machine, setting, grade, **more):
    bench.later(1)
    return bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": grade, **more})


def test_a_readout_starts_at_the_bobbin_s_number_and_looks_move_it(bench):
    machine = ready(bench)
    station = bench.get(f"machines/{machine}/balance")
    assert station["start"]["school"] == 205
    assert station["set_to_words"] == "205"
    wide = station["estimate"]["high"] - station["estimate"]["low"]
    look(bench, machine, 240, -2)
    look(bench, machine, 210, 0)
    station = bench.get(f"machines/{machine}/balance")
    assert station["estimate"]["high"] - station["estimate"]["low"] < wide
    assert len(station["looks"]) == 2
    assert 190 <= station["estimate"]["set_to"] <= 215


def test_motions_are_kept_apart_and_a_change_begins_anew(bench):
    machine = ready(bench)
    look(bench, machine, 210, 0)
    look(bench, machine, 160, 0, motion="straight")
    assert len(bench.get(f"machines/{machine}/balance")["looks"]) == 1
    straight = bench.get(f"machines/{machine}/balance?motion=straight")
    assert straight["looks"][0]["payload"]["setting"] == 160
    bench.later(1)
    bench.post(f"machines/{machine}/needle", BALL_100)
    station = bench.get(f"machines/{machine}/balance")
    assert station["looks"] == []
    assert station["start"]["records"][0]["name"] == "Saltmarsh 40"


def test_records_of_this_machine_make_the_next_start_closer(bench):
    machine = ready(bench)
    for setting in (232, 238):
        look(bench, machine, setting, 0)
        bench.later(60)
        bench.post(f"machines/{machine}/top", {"top": [2 if setting == 232 else 1]})
        bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 205}]})
    start = bench.get(f"machines/{machine}/balance")["start"]
    assert start["school"] == 205
    assert start["center"] > 215
    assert start["text"].startswith("From 1 test line for these threads before. From 1 combination stitched")
    assert [r["name"] for r in start["records"]] == ["Saltmarsh 40", "Limpet 80"]


def test_the_guard_rails_stand_in_the_answer(bench):
    machine = ready(bench)
    look(bench, machine, 205, 2)
    guards = bench.get(f"machines/{machine}/balance")["guards"]
    assert guards[0]["trap"] == "sudden_nest"
    assert guards[0]["blocks"]
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"low": 150, "high": 260}]})
    assert bench.get(f"machines/{machine}/balance")["guards"][0]["trap"] == "fluttering_bobbin"


def test_a_ladder_is_planned_in_the_machine_s_own_steps(bench):
    machine = ready(bench)
    full = bench.post(f"machines/{machine}/ladder", {"plan": "full"})
    assert len(full["settings"]) == 11
    assert full["cloth"] == "the half where it shows", "its color is not known"
    fewest = bench.post(f"machines/{machine}/ladder", {"plan": "fewest"})
    assert len(fewest["settings"]) == 1
    assert bench.refused(f"machines/{machine}/ladder", {"plan": "some"})[0] == "plan"


@pytest.mark.parametrize(("paper", "width"), [("a4", 210.0), ("letter", 215.9)])
def test_the_strip_is_true_to_size_in_the_pdf_itself(bench, paper, width):
    machine = ready(bench)
    page = PdfReader(
        io.BytesIO(bench.client.get(f"/api/machines/{machine}/strip.pdf?plan=full&paper={paper}").content)
    ).pages[0]
    assert float(page.mediabox.width) / 72 * 25.4 == pytest.approx(width, abs=0.05)
    drawn = page.get_contents().get_data().decode("latin-1").splitlines()
    lines = [[float(v) for v in (w[0], w[1], w[3], w[4])] for w in (s.split() for s in drawn) if w[2:3] == ["m"]]
    marks = sorted({y1 for x1, y1, x2, y2 in lines if y1 == y2 and x2 - x1 == pytest.approx(15 / 25.4 * 72, abs=0.05)})
    assert len(marks) == 11
    assert [b - a for a, b in itertools.pairwise(marks)] == pytest.approx([23 / 25.4 * 72] * 10, abs=0.02)
    lengths = [x2 - x1 for x1, y1, x2, y2 in lines if y1 == y2]
    for bar in (100 / 25.4 * 72, 4 * 72):
        assert any(length == pytest.approx(bar, abs=0.02) for length in lengths)
    text = page.extract_text()
    assert "Saltmarsh 40" in text
    assert "the half where it shows" in text
    svg = bench.client.get(f"/api/machines/{machine}/strip.svg?paper={paper}").text
    assert f'width="{width}mm"' in svg


def stale(bench) -> list[str]:
    return [why["text"] for why in bench.get("recipes")["items"][0]["stale"]]


def test_the_recipe_book_finds_uses_and_warns(bench):
    machine = ready(bench)
    look(bench, machine, 205, 0)
    kept = bench.post(f"machines/{machine}/recipes", {"name": "Avocet"})
    assert kept["payload"]["looks"] == 1
    assert kept["payload"]["low"] < 205 < kept["payload"]["high"]
    for text, count in (("avocet", 1), ("saltmarsh wool", 1), ("heron trilobal", 1), ("curlew", 0)):
        assert len(bench.get(f"recipes?text={text}")["items"]) == count, text
    assert bench.get("recipes?motion=straight") == {"items": [], "more": None}
    assert bench.get(f"recipes?machine={machine}")["items"][0]["setting_words"] == "205"
    bench.later(30)
    bench.post(f"machines/{machine}/top", {"top": [2]})
    bench.post(f"machines/{machine}/sandwich", {"loft": "low", "batting": "cotton"})
    assert stale(bench) == ["different batting (cotton)"]
    differs = bench.get(f"machines/{machine}/recipes/{kept['id']}/differences")["moves"]
    assert [d["what"] for d in differs] == ["top_thread", "sandwich"]
    bench.later(1)
    bench.post(f"machines/{machine}/recipes/{kept['id']}/use")
    assert bench.get(f"machines/{machine}/line")["recipe"]["name"] == "Avocet"
    bench.post(f"machines/{machine}/recipe-in-use/done")
    assert bench.get(f"machines/{machine}/line")["recipe"] is None
    line = bench.get(f"machines/{machine}/line")["setup"]
    assert line["top"][0]["name"] == "Saltmarsh 40"
    assert line["sandwich"]["batting"] == "wool"
    bench.post("threads/1/strike?anyway=true")
    assert stale(bench) == ["Saltmarsh 40 is no longer in the drawer"]
    assert bench.refused(f"machines/{machine}/recipes/1/use", None)[0] == "recipe"


def test_a_case_re_set_since_makes_a_recipe_want_a_fresh_look(bench):
    machine, _, thread = bench.combination()
    case = bench.post(f"machines/{machine}/cases", {"label": "A"})["id"]
    bench.post(f"machines/{machine}/needle", BALL_100)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread, "case": case})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 205}], "case": case})
    look(bench, machine, 205, 0)
    bench.post(f"machines/{machine}/recipes", {"name": "Avocet"})
    assert stale(bench) == []
    bench.later(5)
    bench.post(f"machines/{machine}/screw", {"case": case, "minutes": 4})
    assert stale(bench) == ["the screw of case A was turned since"]


def test_so_does_the_one_case_of_a_machine_that_has_no_name(bench):
    machine = ready(bench)
    look(bench, machine, 205, 0)
    bench.post(f"machines/{machine}/recipes", {"name": "Avocet"})
    assert stale(bench) == []
    bench.later(5)
    bench.post(f"machines/{machine}/screw", {"minutes": 4})
    assert stale(bench) == ["the bobbin case's screw was turned since"]


def test_the_screw_of_another_machine_is_no_matter_of_a_recipe(bench):
    machine = ready(bench)
    look(bench, machine, 205, 0)
    bench.post(f"machines/{machine}/recipes", {"name": "Avocet"})
    other = bench.post(
        "machines", {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 9, "step": 1}}
    )
    bench.post(f"machines/{other['id']}/bobbin", {"bobbin": 2})
    bench.later(5)
    bench.post(f"machines/{other['id']}/screw", {"minutes": 4})
    assert stale(bench) == []


def test_a_recipe_card_prints(bench):
    machine = ready(bench)
    look(bench, machine, 205, 0)
    kept = bench.post(f"machines/{machine}/recipes", {"name": "Avocet – 2"})
    page = PdfReader(io.BytesIO(bench.client.get(f"/api/recipes/{kept['id']}/card.pdf").content)).pages[0]
    assert float(page.mediabox.width) == pytest.approx(5 * 72, abs=0.05)
    text = page.extract_text()
    assert "Avocet – 2" in text
    assert "205 mN" in text


def test_compute_balance_has_its_fixed_fields(bench):
    looks = [{"setting": 2, "grade": 2}, {"setting": 4, "grade": 0}, {"setting": 6, "grade": -1}]
    question = {"scale": DIAL, "prior": {"center": 4, "spread": 1.5}, "observations": looks}
    answer = bench.post("compute/balance", question)
    assert {"center", "low", "high", "good_enough_probability", "next_setting", "reasons"} <= set(answer)
    assert answer["low"] < 4.2 < answer["high"]
    wide = bench.post("compute/balance", {"scale": DIAL, "prior": None, "observations": []})
    assert wide["high"] - wide["low"] > 9
    for change, field in (
        ({"observations": [{"setting": 12, "grade": 0}]}, "setting"),
        ({"observations": [{"setting": 5, "grade": 5}]}, "grade"),
        ({"scale": {**DIAL, "low": 10, "high": 0}}, "high"),
        ({"prior": {"center": 4, "spread": 0}}, "spread"),
    ):
        assert bench.refused("compute/balance", {**question, **change})[0] == field


def test_compute_balance_carries_over_looks_at_another_reading(bench):
    scale = {"kind": "readout", "low": 80, "high": 400, "step": 5}
    then = [{"setting": 200 + by, "grade": grade, "reading_mn": 200} for by, grade in ((-15, 1), (0, 0), (15, -1))]
    counted = bench.post("compute/balance", {"scale": scale, "observations": then, "reading_mn": 204})
    carried = bench.post("compute/balance", {"scale": scale, "observations": then, "reading_mn": 150})
    assert abs(counted["set_to"] - 200) <= 5
    assert abs(carried["set_to"] - 150) <= 10
    assert carried["spread"] > counted["spread"]
    assert not carried["sure"]
    for wrong in ({"reading_mn": 0}, {"observations": [{"setting": 200, "grade": 0, "reading_mn": -3}]}):
        assert bench.refused("compute/balance", {"scale": scale, "observations": then, **wrong})[0] == "reading_mn"


def read_bobbin(bench, machine: int, mn: float) -> None:
    bench.later(2)
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": mn}, {"value": mn + 1}]})


def stitch(bench, machine: int, *looks: tuple[float, int]) -> dict:
    for setting, grade in looks:
        bench.later(2)
        bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": grade})
    return bench.get(f"machines/{machine}/balance")


@pytest.mark.parametrize("now", [120, 150, 170, 230, 260, 290])
def test_a_setting_found_at_another_bobbin_tension_is_not_called_sure(bench, now):
    machine, _, _ = bench.combination()
    read_bobbin(bench, machine, 200)
    found = stitch(bench, machine, (170, 1), (230, -1), (200, 0), (200, 0))["estimate"]
    assert (found["sure"], found["act_at"]) == (True, 200)
    bench.later(1)
    bench.post(f"machines/{machine}/screw", {"minutes": 5 if now > 200 else -5})
    turned = bench.get(f"machines/{machine}/balance")
    assert not turned["estimate"]["sure"], "turned and not read: nothing is known of it"
    knot = next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "balance")
    assert (knot["state"], knot["fact"]) == ("to_do", "stitch a test")
    read_bobbin(bench, machine, now)
    after = bench.get(f"machines/{machine}/balance")
    assert not after["estimate"]["sure"]
    assert "another bobbin tension" in after["at_another_reading"]
    assert (after["skip_says"], after["pays_says"]) == ("", ""), "stitch one line now, it says"
    # On a display in the gauge's numbers the top follows the bobbin.
    assert abs(after["estimate"]["set_to"] - now) < abs(200 - now)
    again = stitch(bench, machine, (after["estimate"]["set_to"], 0))["estimate"]
    assert again["act_at"] == after["estimate"]["set_to"]


def test_looks_count_again_when_the_bobbin_reads_as_it_did(bench):
    machine, _, _ = bench.combination()
    read_bobbin(bench, machine, 200)
    stitch(bench, machine, (170, 1), (230, -1), (200, 0), (200, 0))
    read_bobbin(bench, machine, 260)
    assert bench.get(f"machines/{machine}/balance")["at_another_reading"]
    read_bobbin(bench, machine, 202)
    station = bench.get(f"machines/{machine}/balance")
    assert (station["at_another_reading"], station["estimate"]["sure"]) == ("", True)
    knot = next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "balance")
    assert (knot["state"], knot["fact"]) == ("ready", "200")


def test_at_the_end_of_the_scale_it_says_what_to_do_with_path_and_bobbin(bench):
    machine, _, _ = bench.combination()
    read_bobbin(bench, machine, 200)
    station = stitch(bench, machine, (120, -2), (80, -1))
    assert station["estimate"]["action"] == "Even at 80 the top is too tight"
    assert station["estimate"]["beyond"] == "low"
    drag, bobbin, line = station["remedies"]
    assert "drags" in drag
    assert "tighter: turn the case's screw" in bobbin
    assert "Read it again" in bobbin
    assert "Stitch a line" in line
    high = stitch(bench, machine, (80, 0), (400, 1), (400, 2), (390, 1))
    assert high["estimate"]["beyond"] in (None, "high")


def test_a_recipe_put_back_is_known_by_what_its_looks_said(bench):
    machine, top, _ = bench.combination()
    bench.client.put(
        f"/api/machines/{machine}",
        json={**HERON, "scale": {"kind": "turns", "low": -4, "high": 4, "step": 0.25}},
    )
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    read_bobbin(bench, machine, 200)
    looks = [(1, -1), (0, 1), (0.5, 0), (0.75, 0), (0.5, 0), (0.25, 1), (0.5, 0)]
    stitch(bench, machine, *looks)
    kept = bench.post(f"machines/{machine}/recipes", {"name": "Knot"})
    other = bench.post("threads", {"name": "Other", "thread": {**SALTMARSH, "value": 60}})["id"]
    bench.later(5)
    bench.post(f"machines/{machine}/top", {"top": [other]})
    bench.later(5)
    bench.post(f"machines/{machine}/recipes/{kept['id']}/use")
    bench.post(f"machines/{machine}/top", {"top": [top]})
    bench.later(1)
    begun = bench.get(f"machines/{machine}/balance")["estimate"]
    assert begun["likely_high"] - begun["likely_low"] <= 1.5
    assert not begun["sure"]
    found = stitch(bench, machine, (0.5, 0))["estimate"]
    assert (found["sure"], found["act_at"]) == (True, 0.5)


def test_where_nobody_knows_the_start_no_number_is_given(bench):
    machine, top, _ = bench.combination()
    start = bench.get(f"machines/{machine}/balance")["start"]
    assert not start["known"]
    plan = bench.post(f"machines/{machine}/plan", {"top": [top]})
    assert plan["start"] == "read the bobbin first"
    assert "give or take" not in str(plan)
    assert {row["start"] for row in bench.get(f"machines/{machine}/threads-sheet")} == {"read the bobbin first"}
    read_bobbin(bench, machine, 200)
    assert bench.post(f"machines/{machine}/plan", {"top": [top]})["start"] == "200"


def lay(bench, machine: int, loft: str) -> None:
    bench.later(2)
    bench.post(f"machines/{machine}/sandwich", {"loft": loft, "batting": loft})


def test_other_batting_says_how_far_it_moved_these_threads_before(bench):
    machine = ready(bench)
    stitch(bench, machine, (205, 0), (215, -1), (195, 1))
    lay(bench, machine, "medium")
    first = bench.get(f"machines/{machine}/balance")["start"]
    assert "These threads balanced at 205 over loftier batting." in first["text"]
    assert "How far flatter batting moves them isn't known here yet." in first["text"]
    stitch(bench, machine, (205, -2), (185, -1), (170, 0), (160, 1))
    lay(bench, machine, "low")
    again = bench.get(f"machines/{machine}/balance")["start"]
    assert "Flatter batting should move them about" in again["text"]
    assert "looser, by 1 such change here" in again["text"]
    assert again["center"] < 175


def test_lines_of_yesterday_count_for_less_than_today_s(bench):
    machine = ready(bench)
    stitch(bench, machine, (205, 0), (205, 0), (205, 0))
    bench.later(60 * 24)
    stitch(bench, machine, (205, -1))
    found = bench.get(f"machines/{machine}/balance")
    assert found["estimate"]["set_to"] < 205
    assert not found["estimate"]["sure"]
    assert len(found["looks"]) == 4
    assert "From 1 test line of this sitting. The 3 before count for less." in {
        reason["text"] for reason in found["estimate"]["reasons"]
    }
