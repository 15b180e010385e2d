"""The Thread and Needle stations over HTTP: drawer, bundles, bobbin work, packets, hours, the clock."""

import io

import pytest
from pypdf import PdfReader

BALL_100 = {"metric": 100, "american": 16, "point": "ballpoint"}
COTTON_40 = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}
PACKET = {**BALL_100, "bought": 2, "system": "DPx5", "price": 0.9}


def life(bench, machine: int) -> dict:
    return bench.get(f"machines/{machine}/needle")["life"]


def test_the_drawer_is_searched_filtered_and_sorted(bench):
    for name, fiber, wt, color in (
        ("Tern", "cotton", 30, "#101010"),
        ("Knot", "silk", 100, "#fafafa"),
        ("Ruff", "cotton", 80, "#fafafa"),
    ):
        thread = {"fiber": fiber, "construction": "spun", "value": wt, "system": "wt"}
        bench.post("threads", {"name": name, "thread": thread, "color": color, "note": "50% off"})

    def names(query: str) -> list[str]:
        return [t["spec"]["name"] for t in bench.get(f"threads?{query}")["items"]]

    assert names("") == ["Knot", "Ruff", "Tern"]
    assert names("order=weight") == ["Knot", "Ruff", "Tern"]
    assert names("order=thickness&fiber=cotton") == ["Ruff", "Tern"]
    assert names("light=true") == ["Knot", "Ruff"]
    assert names("text=cotton%2080") == ["Ruff"]
    assert names("text=0%25") == ["Knot", "Ruff", "Tern"]  # a percent sign is text, not a pattern
    assert names("text=_") == []
    page = bench.get("threads?limit=2")
    assert (len(page["items"]), page["total"]) == (2, 3)
    rest = bench.get(f"threads?limit=2&after={page['more']}")
    assert ([t["spec"]["name"] for t in rest["items"]], rest["more"]) == (["Tern"], None)
    bench.post("threads/1/strike")
    assert names("") == ["Knot", "Ruff"]
    assert names("struck=true") == ["Knot", "Ruff", "Tern"]


def test_hand_tests_and_the_day_of_buying_are_kept(bench):
    thread = {"fiber": "metallic", "construction": "metallic", "value": 40, "system": "wt"}
    tests = [{"kind": "strokes", "good": True, "on": "2026-11-01", "strokes": 6}]
    made = bench.post("threads", {"name": "Gold", "thread": thread, "bought": "2025-03-01", "hand_tests": tests})
    assert made["spec"]["hand_tests"][0]["strokes"] == 6
    assert bench.get("threads")["items"][0]["spec"]["bought"] == "2025-03-01"


def test_a_label_in_no_is_asked_about_not_guessed(bench):
    field, sentence = bench.refused("compute/linear-density", {"value": 50, "system": "no"})
    assert field == "system"
    assert "not wt" in sentence


def test_measuring_without_a_label_over_http(bench):
    kind = {"fiber": "cotton", "construction": "spun"}
    assert bench.post("compute/weighed-length", {**kind, "grams": 2.5, "meters": 100})["tex"] == pytest.approx(25)
    assert bench.post("compute/wraps", {**kind, "wraps": 53.5, "ruler_mm": 10})["tex"] == pytest.approx(25, rel=0.01)
    assert bench.refused("compute/wraps", {**kind, "wraps": "many", "ruler_mm": 10})[0] == "wraps"


def test_a_bundle_goes_on_and_the_line_says_so(bench):
    machine, top, bobbin = bench.combination()
    advice = bench.post(f"machines/{machine}/together", {"top": [top, top, bobbin]})
    assert advice["tex"] == pytest.approx(62.5)
    assert advice["holes"] == 2
    bench.post(f"machines/{machine}/top", {"top": [top, top, bobbin]})
    line = bench.get(f"machines/{machine}/line")
    assert line["knots"][0]["fact"] == "3 threads together"
    station = bench.get(f"machines/{machine}/thread")
    assert "own holder" in station["path"][0]["how"]
    assert station["holes"] == 2


def test_bobbin_work_swaps_the_roles(bench):
    machine, _top, bobbin = bench.combination()
    kelp = {"fiber": "cotton", "construction": "spun", "value": 8, "system": "wt"}
    heavy = bench.post("threads", {"name": "Kelp 8", "thread": kelp})["id"]
    entry = bench.post(f"machines/{machine}/bobbin", {"bobbin": heavy, "bobbin_work": True})
    assert "for bobbin work" in entry["text"]
    knot = bench.get(f"machines/{machine}/line")["knots"][0]
    assert (knot["state"], knot["fact"]) == ("ready", "bobbin work, 8 wt cotton")
    assert bench.refused(f"machines/{machine}/bobbin", {"bobbin": bobbin, "bobbin_work": True})[0] == "bobbin_work"


def test_of_a_thread_that_goes_through_no_needle_the_one_in_is_not_judged(bench):
    machine, _, _ = bench.combination()
    kelp = {"fiber": "cotton", "construction": "spun", "value": 8, "system": "wt"}
    heavy = bench.post("threads", {"name": "Kelp 8", "thread": kelp})["id"]
    bench.post(f"machines/{machine}/needle", {"metric": 100, "american": 16, "point": "sharp"})
    assert bench.get(f"machines/{machine}/needle")["one_in"]
    bench.post(f"machines/{machine}/top", {"top": [heavy]})
    assert bench.get(f"machines/{machine}/needle")["one_in"] == ""


def test_the_sandwich_shifts_the_needle_and_makes_the_look_old(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})
    before = bench.get(f"machines/{machine}/needle")["pairing"]["recommended"]["metric"]
    bench.later(1)
    bench.post(f"machines/{machine}/sandwich", {"loft": "lofty", "batting": "wool"})
    station = bench.get(f"machines/{machine}/needle")
    assert (before, station["pairing"]["recommended"]["metric"]) == (100, 110)
    assert station["setup"]["look"] is None


def test_the_stock_goes_down_and_a_struck_fitting_gives_the_needle_back(bench):
    machine, _, _ = bench.combination()
    packet = bench.post("needles", PACKET)

    def left() -> int:
        return bench.get(f"machines/{machine}/needles")["packets"][0]["left"]

    first = bench.post(f"machines/{machine}/needle", {**BALL_100, "packet": packet})
    bench.post(f"machines/{machine}/needle", {**BALL_100, "packet": packet})
    assert left() == 0
    assert "No 100/16" in bench.refused(f"machines/{machine}/needle", {**BALL_100, "packet": packet})[1]
    corrected = {"payload": {**first["payload"], "note": "second row"}, "at": first["at"]}
    assert bench.client.put(f"/api/log/{first['id']}", json=corrected).status_code == 200
    bench.post(f"log/{first['id']}/strike")
    assert left() == 1
    wrong = {"metric": 90, "american": 14, "point": "sharp", "packet": packet}
    assert bench.refused(f"machines/{machine}/needle", wrong)[0] == "packet"


def test_a_needle_of_another_system_is_refused_with_the_reason(bench):
    machine, _, _ = bench.combination()
    spec = {**bench.get("machines")[0]["spec"], "needle_system": "HLx5"}
    assert bench.client.put(f"/api/machines/{machine}", json=spec).status_code == 200
    packet = bench.post("needles", PACKET)
    field, sentence = bench.refused(f"machines/{machine}/needle", {**BALL_100, "packet": packet})
    assert field == "system"
    assert sentence.startswith("Heron takes HLx5. This needle is DPx5. The wrong system skips and loops.")
    drawer = bench.get(f"machines/{machine}/needles")["packets"][0]
    assert not drawer["fits"]
    assert drawer["cost"]["per_hour"] == pytest.approx(0.15)


def test_hours_count_by_runs_and_show_on_the_line(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/runs", {"minutes": 600, "quilt": "Before"})
    bench.later(1)
    bench.post(f"machines/{machine}/needle", BALL_100)
    bench.later(60)
    assert life(bench, machine)["hours"] == 0
    bench.post(f"machines/{machine}/runs", {"minutes": 192, "quilt": "Avocet"})
    assert life(bench, machine)["hours"] == pytest.approx(3.2)
    knot = bench.get(f"machines/{machine}/line")["knots"][1]
    assert (knot["fact"], knot["state"]) == ("100/16, 3.2 h", "ready")
    run = bench.post(f"machines/{machine}/runs", {"minutes": 300, "quilt": "Avocet"})
    knot = bench.get(f"machines/{machine}/line")["knots"][1]
    assert (knot["fact"], knot["state"]) == ("100/16, overdue", "trouble")
    bench.post(f"log/{run['id']}/strike")
    assert life(bench, machine)["hours"] == pytest.approx(3.2)
    assert bench.refused(f"machines/{machine}/runs", {"minutes": -5})[0] == "minutes"


def test_the_clock_counts_and_survives_a_restart(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/needle", BALL_100)
    bench.post(f"machines/{machine}/clock/start", {"quilt": "Avocet"})
    assert bench.refused(f"machines/{machine}/clock/start", {})[0] == "clock"
    again = type(bench)(bench.data_dir)
    again.now = bench.now
    with again.client:
        again.later(45)
        assert again.get(f"machines/{machine}/run")["clock"]["quilt"] == "Avocet"
        assert again.post(f"machines/{machine}/clock/stop")["text"] == "45 min stitched on Avocet"
        assert life(again, machine)["hours"] == pytest.approx(0.75)
        assert again.refused(f"machines/{machine}/clock/stop", None)[0] == "clock"
        again.post(f"machines/{machine}/clock/start", {})
        again.later(17 * 60)
        assert "forgotten" in again.refused(f"machines/{machine}/clock/stop", None)[1]


def test_a_retired_needle_is_gone_and_teaches_what_needles_last(bench):
    machine, _, _ = bench.combination()
    for why in ("break", "dull_sound", "due", "break"):
        bench.post(f"machines/{machine}/needle", BALL_100)
        bench.later(300)
        bench.post(f"machines/{machine}/runs", {"minutes": 300})
        bench.later(1)
        bench.post(f"machines/{machine}/needle/retire", {"why": why})
    assert bench.get(f"machines/{machine}/line")["setup"]["needle"] is None
    assert bench.refused(f"machines/{machine}/needle/retire", {"why": "due"})[0] == "why"
    own = bench.get(f"machines/{machine}/needles")["own"][0]["life"]
    assert (own["needles"], own["troubles"]) == (4, 3)
    assert own["mean_hours"] == pytest.approx(20 / 3)
    bench.post("needles", PACKET)
    cost = bench.get(f"machines/{machine}/needles")["packets"][0]["cost"]
    assert cost["standing"] == "own_records"


def test_the_thread_use_interface_has_its_fixed_fields(bench):
    bobbin = {
        "class": "M",
        "fill": 0.75,
        "thread": {"fiber": "cotton", "construction": "spun", "value": 60, "system": "wt"},
    }
    question = {"stitch_length_mm": 3, "sandwich_mm": 2, "stitched_meters": 100, "bobbin": bobbin}
    answer = bench.post("compute/thread-use", question)
    assert set(answer) >= {"top_m", "bobbin_m", "bobbins", "stitches_per_bobbin", "eye_passes"}
    assert answer["top_m"] == pytest.approx(175)
    assert bench.refused("compute/thread-use", {**question, "bobbin": {**bobbin, "class": "Z"}})[0] == "class"
    assert bench.refused("compute/thread-use", {**question, "stitch_length_mm": 0})[0] == "stitch_length_mm"


def test_wishes_and_figures_over_http(bench):
    machine, _, _ = bench.combination()
    answer = bench.post(f"machines/{machine}/wish", {"wish": "show", "ground": "light"})
    assert answer["matches"][0]["name"] == "Saltmarsh 40"
    for subject in ("kernel", "thread", "needle", "bobbin", "setup", "balance", "mend"):
        assert all(f["known"]["standing"] for f in bench.get(f"words/figures?subject={subject}"))


def test_a_new_combination_is_a_list_of_moves_that_tick_themselves(bench):
    machine, _, _ = bench.combination()
    gold = {"fiber": "metallic", "construction": "metallic", "value": 40, "system": "wt"}
    glint = bench.post("threads", {"name": "Glint", "thread": gold})["id"]
    plan = bench.post(f"machines/{machine}/plan", {"top": [glint]})
    moves = {m["what"]: m for m in plan["moves"]}
    assert plan["needle"] == "110/18 metallic"
    assert (moves["Top thread"]["before"], moves["Top thread"]["after"]) == ("Saltmarsh 40", "Glint")
    assert moves["Needle"]["note"] == "none in the drawer: to buy"
    assert (moves["Bobbin thread"]["after"], moves["Bobbin thread"]["done"]) == ("Limpet 80", True)
    assert (moves["Guide holes"]["before"], moves["Guide holes"]["after"]) == ("3", "2")
    bench.post(f"machines/{machine}/top", {"top": [glint]})
    bench.post(f"machines/{machine}/needle", {"metric": 110, "american": 18, "point": "metallic"})
    again = {m["what"]: m["done"] for m in bench.post(f"machines/{machine}/plan", {"top": [glint]})["moves"]}
    assert again["Top thread"]
    assert again["Needle"]
    assert again["Guide holes"]
    cotton_8 = {"fiber": "cotton", "construction": "spun", "value": 8, "system": "wt"}
    eight = bench.post("threads", {"name": "Kelp 8", "thread": cotton_8})
    heavy = bench.post(f"machines/{machine}/plan", {"top": [eight["id"]]})
    assert not heavy["through_a_needle"]
    assert "Needle" not in {m["what"] for m in heavy["moves"]}
    assert bench.refused(f"machines/{machine}/plan", {"top": []})[0] == "top"
    assert bench.refused(f"machines/{machine}/plan", {"top": [99]})[0] == "top"


def test_a_combination_planned_begins_where_balance_begins_once_it_is_on(bench):
    machine, top, _ = bench.combination()
    other = bench.post("threads", {"name": "Ebb 40", "thread": COTTON_40})["id"]
    for setting in (260, 280, 270):
        bench.later(5)
        bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": 0, "motion": "free_motion"})
    bench.later(5)
    on = bench.post(f"machines/{machine}/plan", {"top": [top]})
    assert on["moves"][0]["done"]
    assert "no record yet" in on["moves"][-1]["note"], "what is on is not expected from its own looks"
    assert bench.get(f"machines/{machine}/balance")["start"]["text"] in on["moves"][-1]["note"]
    planned = bench.post(f"machines/{machine}/plan", {"top": [other]})["moves"][-1]
    bench.post(f"machines/{machine}/top", {"top": [other]})
    then = bench.get(f"machines/{machine}/balance")
    assert "From 1 combination stitched" in then["start"]["text"], "the one that was on"
    assert then["start"]["text"] in planned["note"]
    assert f"stitch {then['set_to_words']}, give or take" in planned["note"]
    bench.later(5)
    bench.post(f"machines/{machine}/looks", {"setting": 290, "grade": 1, "motion": "free_motion"})
    bench.later(5)
    plan = bench.post(f"machines/{machine}/plan", {"top": [top]})
    first = next(m for m in plan["moves"] if m["what"] == "Top tension")
    assert "lines for these threads before" in first["note"]
    [row] = [r for r in bench.get(f"machines/{machine}/threads-sheet") if r["name"] == "Saltmarsh 40"]
    bench.later(5)
    bench.post(f"machines/{machine}/top", {"top": [top]})
    begins = bench.get(f"machines/{machine}/balance")
    assert begins["start"]["text"] in first["note"]
    assert f"stitch {begins['set_to_words']}, give or take" in first["note"]
    assert row["start"] == plan["start"] == first["after"]


def test_every_thread_of_the_drawer_stands_on_one_page_and_prints(bench):
    machine, _, _ = bench.combination()
    rows = bench.get(f"machines/{machine}/threads-sheet")
    assert [r["name"] for r in rows] == ["Limpet 80", "Saltmarsh 40"], "the finest first"
    for row in rows:
        one = bench.get(f"threads?text={row['name'].split()[0]}")["items"][0]["id"]
        plan = bench.post(f"machines/{machine}/plan", {"top": [one]})
        assert (plan["needle"], plan["start"]) == (row["needle"], row["start"]), "one fact in one place"
    for number in range(30):
        bench.post("threads", {"name": f"Tern {number}", "thread": COTTON_40})
    for paper, width in (("a4", 210.0), ("letter", 215.9)):
        pdf = bench.client.get(f"/api/machines/{machine}/threads-sheet.pdf?paper={paper}").content
        pages = PdfReader(io.BytesIO(pdf)).pages
        assert len(pages) == 2
        assert float(pages[0].mediabox.width) / 72 * 25.4 == pytest.approx(width, abs=0.05)
        text = "".join(page.extract_text() for page in pages)
        assert all(f"Tern {number}" in text for number in range(30))
