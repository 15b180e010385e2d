"""The schools of a machine, and what special threads are told at every station."""

from __future__ import annotations

import pytest

COTTON = {"fiber": "cotton", "construction": "spun", "value": 50, "system": "wt"}
CLEAR = {"fiber": "polyester", "construction": "monofilament", "value": 110, "system": "dtex"}
GOLD = {"fiber": "metallic", "construction": "metallic", "value": 40, "system": "wt"}


def own(bench, name: str, thread: dict, **more) -> int:
    return bench.post("threads", {"name": name, "thread": thread, **more})["id"]


def choose(bench, machine: int, **chosen):
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == machine)
    body = {**spec, "choices": {**spec["choices"], **chosen}}
    return bench.client.put(f"/api/machines/{machine}", json=body)


def knot(bench, machine: int, station: str) -> dict:
    return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == station)


@pytest.fixture
def heron(bench) -> int:
    return bench.combination()[0]


def test_every_question_is_served_with_its_sides_and_one_is_taken(bench, heron):
    asked = {q["id"]: q for q in bench.get("words/schools")}
    assert {"point", "size", "dense", "room", "clear_below", "bobbin", "fiber_below", "number", "life"} <= set(asked)
    assert asked["point"]["default"] == {"longarm": "ballpoint", "home": "topstitch"}
    assert asked["life"]["field"] == "life_school"
    top = own(bench, "Samphire 50", COTTON)
    bench.post(f"machines/{heron}/top", {"top": [top]})
    bench.post(f"machines/{heron}/sandwich", {"weave": "batik", "loft": "low"})
    before = bench.get(f"machines/{heron}/needle")["pairing"]["recommended"]
    assert choose(bench, heron, dense="size_up").status_code == 200
    after = bench.get(f"machines/{heron}/needle")["pairing"]["recommended"]
    assert (before["point"], after["point"]) == ("sharp", "ballpoint")
    assert after["metric"] > before["metric"]


def test_a_side_there_is_not_is_refused_with_the_sides_there_are(bench, heron):
    answer = choose(bench, heron, dense="prayer")
    assert answer.status_code == 422
    assert "Known: size_up or fine_point" in answer.text
    assert "no question" in choose(bench, heron, weather="fine").text


def test_the_point_by_the_job_is_universal_for_plain_work(bench, heron):
    top = own(bench, "Samphire 50", COTTON)
    bench.post(f"machines/{heron}/top", {"top": [top]})
    choose(bench, heron, point="by_job")
    assert bench.get(f"machines/{heron}/needle")["pairing"]["recommended"]["point"] == "universal"
    bench.post(f"machines/{heron}/sandwich", {"weave": "batik"})
    assert bench.get(f"machines/{heron}/needle")["pairing"]["recommended"]["point"] == "sharp"


def test_clear_thread_agrees_from_station_to_station(bench, heron):
    clear = own(bench, "Brackish clear", CLEAR)
    bench.post(f"machines/{heron}/top", {"top": [clear]})
    bench.post(f"machines/{heron}/sandwich", {"loft": "lofty"})
    pairing = bench.get(f"machines/{heron}/needle")["pairing"]
    best = pairing["recommended"]
    assert (best["metric"], best["point"], best["state"]) == (110, "topstitch", "rides")
    assert "judged by the cloth" in pairing["by_eye"]
    bench.post(f"machines/{heron}/needle", {"metric": 110, "american": 18, "point": "topstitch"})
    assert knot(bench, heron, "needle")["state"] == "ready"
    assert knot(bench, heron, "thread")["state"] == "ready", "an 80 wt below is everyday"
    station = bench.get(f"machines/{heron}/thread")
    assert station["holes"] == 1
    assert "any fine bobbin thread" in station["advice"]["bobbin"]["text"].lower()
    assert not any("bobbin work" in r["text"] for r in station["advice"]["reasons"])
    trouble = bench.post(f"machines/{heron}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})
    causes = bench.get(f"machines/{heron}/mend")["diagnosis"]["causes"]
    place = [c["cause"] for c in causes].index("needle_too_large_for_thread")
    assert place > 5, "what the program advised itself is not suspected first"
    assert trouble["kind"] == "incident"


def test_metallic_in_a_ballpoint_is_a_caution_and_mend_knows_of_it(bench, heron):
    gold = own(bench, "Phosphor gold", GOLD)
    bench.post(f"machines/{heron}/top", {"top": [gold]})
    bench.post(f"machines/{heron}/needle", {"metric": 100, "american": 16, "point": "ballpoint"})
    found = knot(bench, heron, "needle")
    assert (found["state"], "a metallic or a topstitch point" in found["why"]) == ("caution", True)
    bench.post(f"machines/{heron}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})
    station = bench.get(f"machines/{heron}/mend")
    assert "the needle isn't made for metallic" in " ".join(station["known"]).lower()
    order = [c["cause"] for c in station["diagnosis"]["causes"][:6]]
    assert "top_too_tight" in order
    bench.post(f"machines/{heron}/needle", {"metric": 110, "american": 18, "point": "metallic"})
    assert knot(bench, heron, "needle")["state"] == "ready"


def test_a_needle_fitted_minutes_ago_is_hardly_dull(bench, heron):
    bench.post(f"machines/{heron}/needle", {"metric": 100, "american": 16, "point": "topstitch"})
    bench.later(30)
    bench.post(f"machines/{heron}/runs", {"minutes": 10})
    bench.post(f"machines/{heron}/incidents", {"symptoms": ["frays_above_the_eye"]})
    chance = {c["cause"]: c["probability"] for c in bench.get(f"machines/{heron}/mend")["diagnosis"]["causes"]}
    bench.later(30)
    bench.post(f"machines/{heron}/runs", {"minutes": 900})
    worn = {c["cause"]: c["probability"] for c in bench.get(f"machines/{heron}/mend")["diagnosis"]["causes"]}
    assert chance["needle_dull_burred_bent"] < 0.02 < 0.3 < worn["needle_dull_burred_bent"]


def test_hours_do_not_count_where_condition_is_the_school(bench, heron):
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == heron)
    bench.client.put(f"/api/machines/{heron}", json={**spec, "life_school": "condition"})
    bench.post(f"machines/{heron}/needle", {"metric": 100, "american": 16, "point": "ballpoint"})
    bench.later(60 * 900)
    bench.post(f"machines/{heron}/runs", {"minutes": 600})
    bench.post(f"machines/{heron}/incidents", {"symptoms": ["frays_above_the_eye"]})
    assert "the needle is past its life" not in " ".join(bench.get(f"machines/{heron}/mend")["known"])


def test_wash_away_on_the_machine_is_a_standing_reminder(bench, heron):
    washes = own(bench, "Neap", {**COTTON, "fiber": "wash_away"})
    bench.post(f"machines/{heron}/top", {"top": [washes]})
    found = knot(bench, heron, "thread")
    assert (found["state"], found["fact"]) == ("caution", "wash-away is on")
    bench.post(f"machines/{heron}/top", {"top": [1]})
    assert knot(bench, heron, "thread")["state"] == "ready"


def test_a_home_machine_is_told_nothing_of_a_guide_that_it_has_not(bench):
    scale = {"kind": "dial", "low": 0, "high": 10, "step": 0.5}
    wren = bench.post("machines", {"nickname": "Wren", "kind": "home", "scale": scale})["id"]
    own(bench, "Samphire 50", COTTON)
    bench.post(f"machines/{wren}/top", {"top": [1]})
    assert bench.get(f"machines/{wren}/thread")["pulls"] == []
    plan = bench.post(f"machines/{wren}/plan", {"top": [1]})
    assert plan["holes"] is None
    assert "Guide holes" not in {m["what"] for m in plan["moves"]}


def test_the_wish_is_met_by_what_it_asks_for(bench, heron):
    own(bench, "Phosphor gold", GOLD, color="#f2e6b0")
    own(
        bench,
        "Ebb 40",
        {**COTTON, "fiber": "polyester", "construction": "multifilament", "value": 40},
        color="#f4f0e6",
    )
    own(bench, "Driftwood 40", {**COTTON, "value": 40}, color="#f4f0e6")
    own(bench, "Mudflat 60", {**COTTON, "value": 60}, color="#f4f0e6")
    own(bench, "Unseen 40", {**COTTON, "value": 40})

    def names(**wish) -> list[str]:
        return [m["name"] for m in bench.post(f"machines/{heron}/wish", {"ground": "light", **wish})["matches"]]

    blend = names(wish="blend")
    assert blend[0] == "Driftwood 40", "matte sinks in"
    assert "Phosphor gold" not in blend
    hide = bench.post(f"machines/{heron}/wish", {"wish": "hide", "ground": "light"})
    assert "Phosphor gold" not in [m["name"] for m in hide["matches"]]
    fine = next(m for m in hide["matches"] if m["name"] == "Mudflat 60")
    assert "the weight is right" in fine["reasons"], "60 wt is in 60 to 100"
    assert hide["fibers"][0].startswith("clear")
    assert "trilobal polyester" not in hide["fibers"][:2]
    unseen = next(
        m for m in bench.post(f"machines/{heron}/wish", {"wish": "blend"})["matches"] if m["name"] == "Unseen 40"
    )
    assert "its color is not noted" in unseen["reasons"]


def below(bench, machine: int, top: int) -> dict:
    return next(
        m for m in bench.post(f"machines/{machine}/plan", {"top": [top]})["moves"] if m["what"] == "Bobbin thread"
    )


def test_what_goes_below_follows_the_schools_of_fiber_clear_thread_and_winding(bench):
    scale = {"kind": "dial", "low": 0, "high": 10, "step": 0.5}
    wren = bench.post("machines", {"nickname": "Wren", "kind": "home", "scale": scale})["id"]
    cotton = own(bench, "Driftwood 40", {**COTTON, "value": 40})
    own(bench, "Mudflat 60", {**COTTON, "value": 60})
    own(bench, "Oyster 60", {"fiber": "polyester", "construction": "spun", "value": 60, "system": "wt"})
    own(
        bench, "Whelk 80", {"fiber": "polyester", "construction": "spun", "value": 80, "system": "wt"}, form="pre_wound"
    )
    clear = own(bench, "Brackish clear", CLEAR)
    assert below(bench, wren, cotton)["after"] == "Mudflat 60 or Oyster 60 or Whelk 80"
    choose(bench, wren, wound="pre")
    assert below(bench, wren, cotton)["after"].startswith("Whelk 80")
    choose(bench, wren, fiber_below="like")
    assert below(bench, wren, cotton)["after"] == "Mudflat 60"
    assert "Mudflat" not in below(bench, wren, clear)["after"]
    assert "Brackish clear" not in below(bench, wren, clear)["after"], "above only, unless said otherwise"
    choose(bench, wren, clear_below="below_too")
    assert "Brackish clear" in below(bench, wren, clear)["after"]
    assert "Brackish clear" not in below(bench, wren, cotton)["after"]


def test_cotton_in_cotton_puts_cotton_first(bench, heron):
    own(bench, "Driftwood 40", {**COTTON, "value": 40}, color="#101010")
    own(
        bench,
        "Ebb 40",
        {**COTTON, "fiber": "polyester", "construction": "multifilament", "value": 40},
        color="#101010",
        rating=5,
    )
    wish = {"wish": "show", "sheen": True}
    assert bench.post(f"machines/{heron}/wish", wish)["matches"][0]["name"] == "Ebb 40"
    choose(bench, heron, quilt_fiber="cotton")
    assert bench.post(f"machines/{heron}/wish", wish)["matches"][0]["name"] == "Driftwood 40"


def test_fine_silk_goes_below_clear_thread_where_that_is_the_school(bench, heron):
    own(bench, "Whelk 80", {**COTTON, "fiber": "polyester", "construction": "multifilament", "value": 80})
    own(bench, "Gossamer 100", {**COTTON, "fiber": "silk", "construction": "multifilament", "value": 100})
    clear = own(bench, "Brackish clear", CLEAR)
    assert "Gossamer" not in below(bench, heron, clear)["after"]
    choose(bench, heron, clear_below="silk")
    assert below(bench, heron, clear)["after"] == "Gossamer 100"
    assert below(bench, heron, clear)["note"].startswith("100 wt silk below")
