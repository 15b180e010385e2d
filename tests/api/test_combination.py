"""One combination from thread to a kept, balanced stitch, and what the log makes of it."""

import pytest

NEEDLE = {"metric": 100, "american": 16, "point": "ballpoint"}
PULLS = {"unit": "mN", "pulls": [{"low": 198, "high": 208}, {"low": 199, "high": 209}]}


def kept(bench) -> int:
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/needle", NEEDLE)
    bench.post(f"machines/{machine}/readings", PULLS)
    bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    bench.post(f"machines/{machine}/recipes", {"name": "Avocet"})
    return machine


def states(bench, machine: int) -> dict[str, str]:
    return {k["station"]: k["state"] for k in bench.get(f"machines/{machine}/line")["knots"]}


def test_the_line_fills_station_by_station(bench):
    machine = bench.post(
        "machines", {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}
    )["id"]
    assert set(states(bench, machine).values()) == {"to_do", "ready"}
    bench.combination()
    assert states(bench, 2)["thread"] == "ready"
    bench.post("machines/2/needle", NEEDLE)
    assert states(bench, 2)["needle"] == "ready"
    bench.post("machines/2/readings", PULLS)
    assert states(bench, 2)["bobbin"] == "ready"
    bench.post("machines/2/looks", {"setting": 205, "grade": 0})
    assert states(bench, 2) | {"log": "to_do"} == states(bench, 2)
    bench.post("machines/2/recipes", {"name": "Avocet"})
    bench.post("machines/2/runs", {"minutes": 20, "quilt": "Avocet"})
    assert set(states(bench, 2).values()) == {"ready"}


def test_the_recipe_holds_threads_needle_bobbin_setting_and_grade(bench):
    kept(bench)
    recipe = bench.get("log?kind=recipe")["entries"][0]
    assert recipe["text"] == ("Avocet: Saltmarsh 40 over Limpet 80, 100/16 ballpoint, bobbin 204 mN, top 205, balanced")
    assert recipe["payload"]["bobbin_mn"] == pytest.approx(203.5)
    assert recipe["setup"]["top"][0]["words"] == "40 wt trilobal"
    assert recipe["setup"]["needle"]["metric"] == 100


def test_a_combination_is_not_kept_before_it_was_measured(bench):
    machine, _, _ = bench.combination()
    field, sentence = bench.refused(f"machines/{machine}/recipes", {"name": "Avocet"})
    assert field == "name"
    assert sentence == (
        "Before you can save this, it needs the needle, a bobbin reading (or a hang or palm test that feels right) and "
        "a test line."
    )


def test_a_change_of_thread_or_needle_makes_the_old_look_a_starting_point_only(bench):
    machine = kept(bench)
    bench.later(10)
    bench.post(f"machines/{machine}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    assert bench.get(f"machines/{machine}/line")["setup"]["look"] is None
    assert bench.get(f"machines/{machine}/line")["setup"]["reading"] is not None
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 1})
    assert bench.get(f"machines/{machine}/line")["setup"]["reading"] is None


def test_every_record_keeps_the_setup_it_was_made_under_and_reads_corrected_labels(bench):
    machine = kept(bench)
    bench.later(60)
    bench.post(f"machines/{machine}/top", {"top": [2]})
    tag = bench.get("log?kind=look")["entries"][0]["setup"]["top"][0]
    assert tag["name"] == "Saltmarsh 40", "what came after does not reach back"
    silk = {"fiber": "silk", "construction": "multifilament", "value": 100, "system": "wt"}
    bench.client.put("/api/threads/1", json={"name": "Saltmarsh, by its label", "thread": silk})
    tag = bench.get("log?kind=look")["entries"][0]["setup"]["top"][0]
    assert (tag["name"], tag["fiber"], tag["tex"]) == ("Saltmarsh, by its label", "silk", 10)
    assert "Saltmarsh, by its label (100 wt silk)" in bench.get("log?kind=top_threaded")["entries"][1]["text"]


def test_the_log_is_newest_first_and_pages(bench):
    kept(bench)
    whole = bench.get("log?limit=200")["entries"]
    assert [e["kind"] for e in whole] == [
        "recipe", "look", "bobbin_reading", "needle_fitted", "bobbin_loaded", "top_threaded",
    ]  # fmt: skip
    first = bench.get("log?limit=4")
    second = bench.get(f"log?limit=4&before={first['more']}")
    assert [e["id"] for e in first["entries"] + second["entries"]] == [e["id"] for e in whole]
    assert second["more"] is None


def test_a_correction_shows_what_was_said_before(bench):
    machine = kept(bench)
    look = bench.get("log?kind=look")["entries"][0]
    body = {"payload": {**look["payload"], "setting": 210, "grade": -1}, "at": look["at"]}
    answer = bench.client.put(f"/api/log/{look['id']}", json=body).json()
    assert answer["text"] == "210, free-motion: top a little tight"
    corrected = bench.get(f"log/{look['id']}")
    assert corrected["text"] == "210, free-motion: top a little tight"
    assert corrected["revisions"][0]["action"] == "corrected"
    assert corrected["revisions"][0]["said"] == "205, free-motion: balanced"
    assert states(bench, machine)["balance"] == "caution"


def test_a_corrected_reading_is_judged_anew_whatever_it_claims(bench):
    kept(bench)
    reading = bench.get("log?kind=bobbin_reading")["entries"][0]
    payload = {**reading["payload"], "pulls": [{"value": 240}, {"value": 242}], "mean_mn": 1}
    bench.client.put(f"/api/log/{reading['id']}", json={"payload": payload, "at": reading["at"]})
    corrected = bench.get(f"log/{reading['id']}")
    assert corrected["payload"]["mean_mn"] == 241
    assert corrected["payload"]["verdict"] == "high"


def test_a_struck_record_counts_no_longer_and_comes_back(bench):
    machine = kept(bench)
    look = bench.get("log?kind=look")["entries"][0]
    bench.post(f"log/{look['id']}/strike")
    assert states(bench, machine)["balance"] == "to_do"
    assert bench.get("log?kind=look")["entries"][0]["struck_at"] is not None
    restored = bench.post(f"log/{look['id']}/restore")
    assert [r["action"] for r in restored["revisions"]] == ["struck", "restored"]
    assert states(bench, machine)["balance"] == "ready"
    again = bench.post(f"log/{look['id']}/restore")
    assert len(again["revisions"]) == 2


def test_everything_is_there_after_a_restart(bench):
    from weftonos.store.database import FILE_NAME

    machine = kept(bench)
    before = (bench.get("log"), bench.get("threads"), bench.get(f"machines/{machine}/line"))
    again = type(bench)(bench.data_dir)
    with again.client:
        assert (again.get("log"), again.get("threads"), again.get(f"machines/{machine}/line")) == before
    assert (bench.data_dir / FILE_NAME).exists()


def test_the_needle_station_answers_from_what_is_threaded(bench):
    machine, _, _ = bench.combination()
    station = bench.get(f"machines/{machine}/needle")
    assert (station["pairing"]["recommended"]["metric"], station["fitted_fit"]) == (100, None)
    bench.post(f"machines/{machine}/needle", {"metric": 70, "american": 10, "point": "quilting"})
    assert bench.get(f"machines/{machine}/needle")["fitted_fit"]["state"] == "rubs"


def test_the_bobbin_station_says_what_the_last_reading_means(bench):
    machine, _, _ = bench.combination()
    assert bench.get(f"machines/{machine}/readings")["last"] is None
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"low": 150, "high": 260}]})
    assert bench.get(f"machines/{machine}/readings")["last"]["verdict"] == "fluttering"
    assert states(bench, machine)["bobbin"] == "trouble"


def test_a_machine_can_be_described_anew_with_its_own_number(bench):
    machine, _, _ = bench.combination()
    spec = {**bench.get("machines")[0]["spec"], "own_bobbin": {"low": 150, "high": 160}, "school": "home"}
    changed = bench.client.put(f"/api/machines/{machine}", json=spec).json()
    assert changed["bobbin_target"]["low"] == 150
    assert changed["size_school"] == "home"
    assert bench.refused("machines", spec)[0] == "nickname"


def test_the_sheet_says_how_a_thread_is_handled_where_that_is_not_as_usual(bench):
    """Gold is sewn slowly; of plain polyester nothing is said."""
    machine, plain, _ = bench.combination()
    gold = {"fiber": "metallic", "construction": "metallic", "value": 40, "system": "wt"}
    bench.post("threads", {"name": "Gold 40", "thread": gold})
    heavy = {"fiber": "cotton", "construction": "spun", "value": 8, "system": "wt"}
    bench.post("threads", {"name": "Heavy 8", "thread": heavy})
    rows = {row["name"]: row for row in bench.get(f"machines/{machine}/threads-sheet")}
    assert "slow" in rows["Gold 40"]["handling"].lower()
    starts = [rows[each]["start_from"] for each in ("Gold 40", "Heavy 8")]
    assert starts == ["", ""], "a readout's start that nobody knows, and a thread that goes through no needle"
    name = bench.get(f"threads/{plain}")["spec"]["name"]
    assert "usual" not in rows[name]["handling"]
    assert rows[name]["holes"].isdigit()


def test_clear_polyester_runs_nearly_at_full_speed_on_a_longarm_alone(bench):
    """Both speeds stood on the sheet of every machine, in one breath."""
    longarm, _, _ = bench.combination()
    scale = {"kind": "dial", "low": 0, "high": 9, "step": 0.5}
    home = bench.post("machines", {"nickname": "Wren", "kind": "home", "scale": scale})["id"]
    for fiber in ("polyester", "nylon"):
        clear = {"fiber": fiber, "construction": "monofilament", "value": 110, "system": "dtex"}
        bench.post("threads", {"name": f"Clear {fiber}", "thread": clear})

    def handled(machine: int, fiber: str) -> str:
        sheet = bench.get(f"machines/{machine}/threads-sheet")
        return next(row["handling"] for row in sheet if row["name"] == f"Clear {fiber}")

    wound = "in the bobbin: wind slowly, 75% full"
    slow = f"a net on the spool, slow enough that it stays cool, {wound}"
    assert handled(longarm, "polyester") == f"a net on the spool, near full speed, {wound}"
    assert (handled(home, "polyester"), handled(longarm, "nylon"), handled(home, "nylon")) == (slow, slow, slow)
