"""Every kind of record can be corrected, struck out and restored in sight; the interface's words and sentences."""

import pytest

from weftonos.core.log.logbook import KIND_NAMES

BALL_100 = {"metric": 100, "american": 16, "point": "ballpoint"}


def one_of_each(bench) -> int:
    """A machine with one record of every kind."""
    machine, _, thread = bench.combination()
    case = bench.post(f"machines/{machine}/cases", {"label": "A"})["id"]
    bench.post(f"machines/{machine}/sandwich", {"batting": "wool"})
    bench.post(f"machines/{machine}/needle", BALL_100)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread, "case": case})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 204}], "case": case})
    bench.post(f"machines/{machine}/hand-looks", {"test": "hang", "feel": "loose"})
    bench.post(f"machines/{machine}/screw", {"case": case, "minutes": 2})
    spare = bench.post(f"machines/{machine}/cases", {"label": "B"})["id"]
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread, "case": spare})
    bench.post(f"machines/{machine}/bobbin/put-back", {"case": case})
    bench.post(f"machines/{machine}/purpose", {"purpose": "delicate"})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 205}], "case": case})
    bench.post(f"machines/{machine}/marks", {"part": "case", "id": case, "fault": "bent"})
    bench.post(f"machines/{machine}/cloths", {})
    bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    bench.post(f"machines/{machine}/knob", {"setting": 210})
    bench.post(f"machines/{machine}/good-enough", {"grade": 1})
    both = {"measure": "life", "factor": "finish", "first": "titanium", "second": "steel"}
    bench.post(f"machines/{machine}/evidence/planned?times=4", both)
    recipe = bench.post(f"machines/{machine}/recipes", {"name": "Avocet"})["id"]
    bench.post(f"machines/{machine}/recipes/{recipe}/use")
    bench.post(f"machines/{machine}/clock/start", {"quilt": "Avocet"})
    bench.later(10)
    bench.post(f"machines/{machine}/clock/stop")
    trouble = bench.post(f"machines/{machine}/incidents", {"symptoms": ["skipped_stitches"]})["id"]
    bench.post(f"incidents/{trouble}/answers", {"finding": "only_at_speed", "present": False})
    bench.post(f"incidents/{trouble}/checks", {"cause": "heat", "answer": "cannot_tell"})
    bench.post(f"incidents/{trouble}/outcome", {"outcome": "left"})
    bench.post(f"machines/{machine}/preflight", {"done": ["cone_or_spool_catches"]})
    bench.post(f"machines/{machine}/walks", {"walk": "load_case"})
    bench.post(f"machines/{machine}/gauge-check", {"grams": 20, "showed": 196})
    bench.post(f"machines/{machine}/upkeep", {"what": "oiling"})
    bench.post(f"machines/{machine}/quilt", {"quilt": "Avocet"})
    bench.post(f"machines/{machine}/needle/retire", {"why": "due"})
    passes = [{"key": 1, "what": "ditch", "top": thread}, {"key": 2, "what": "fill", "share": 0.5}]
    plan = bench.post(f"machines/{machine}/plans", {"quilt": "Dunlin", "passes": passes})["id"]
    bench.post(f"plans/{plan}/steps", {"key": 1, "stage": "begun"})
    bench.post(f"machines/{machine}/cones", {"thread": thread, "says": "ended"})
    knob = {"kind": "turns", "low": -4, "high": 4, "step": 0.25}
    plover = bench.post("machines", {"nickname": "Plover", "kind": "longarm", "scale": knob})["id"]
    bench.post(f"machines/{plover}/mark", {"name": "where 40 over 60 balanced", "at": 0.5})
    return machine


CHANGES = {
    "top_threaded": {"top": [2]},
    "bobbin_loaded": {"fill": 0.5},
    "case_put_back": {"case": 1},
    "bobbin_purpose": {"purpose": "ordinary"},
    "knob_set": {"setting": None},
    "good_enough": {"grade": -1},
    "comparison_planned": {"measure": "life", "factor": "finish", "first": "a", "second": "b", "of_each": 4},
    "mark_set": {"name": "half a turn in"},
    "recipe_used": {"stage": "dropped"},
    "needle_fitted": {"metric": 90, "american": 14},
    "needle_retired": {"why": "break"},
    "run": {"minutes": 12},
    "clock_started": {"quilt": "Redshank"},
    "quilt_on": {"for_whom": "the guild"},
    "sandwich": {"sandwich": {"batting": "cotton", "loft": "low"}},
    "bobbin_reading": {"pulls": [{"value": 210}]},
    "bobbin_look": {"feel": "tight"},
    "screw_turned": {"minutes": -3},
    "part_marked": {"fault": "rough"},
    "look": {"grade": -1},
    "cloth": {"note": "washed since"},
    "recipe": {"name": "Avocet II"},
    "incident": {"note": "on the second row"},
    "incident_check": {"answer": "not_it"},
    "incident_answer": {"present": None},
    "incident_outcome": {"outcome": "technician"},
    "preflight": {"of": 12},
    "upkeep": {"what": "cleaning"},
    "walk_done": {"words": "Loaded a case"},
    "gauge_checked": {"showed": 190},
    "quilt_planned": {"height_m": 2.0},
    "pass_step": {"stage": "done"},
    "cone_noted": {"says": "meters", "left_m": 300},
}
BAD = {
    "top_threaded": {"top": [77]},
    "bobbin_loaded": {"fill": 3},
    "case_put_back": {"case": 77},
    "bobbin_purpose": {"purpose": "luck"},
    "knob_set": {"setting": 9999},
    "good_enough": {"grade": 2},
    "comparison_planned": {"of_each": 1},
    "mark_set": {"at": 99},
    "recipe_used": {"recipe": 1},
    "needle_fitted": {"american": 20},
    "needle_retired": {"why": "boredom"},
    "run": {"minutes": -1},
    "clock_started": {"quilt": "x" * 81},
    "quilt_on": {"quilt": ""},
    "sandwich": {"sandwich": {"layers": 0}},
    "bobbin_reading": {"pulls": []},
    "bobbin_look": {"feel": "odd"},
    "screw_turned": {"minutes": 90},
    "part_marked": {"fault": "y" * 121},
    "look": {"setting": 9999},
    "cloth": {"number": 0},
    "recipe": {"name": ""},
    "incident": {"note": "z" * 2001},
    "incident_check": {"incident": 1},
    "incident_answer": {"finding": ""},
    "incident_outcome": {"outcome": "forgotten"},
    "preflight": {"of": 0},
    "upkeep": {"what": "polka"},
    "walk_done": {"words": ""},
    "gauge_checked": {"showed": 1},
    "quilt_planned": {"width_m": 0},
    "pass_step": {"key": 9},
    "cone_noted": {"thread": 77},
}


def test_there_is_a_change_for_every_kind_of_record():
    assert set(CHANGES) == set(BAD) == set(KIND_NAMES)


def test_every_kind_is_corrected_refused_struck_and_restored(bench):
    one_of_each(bench)
    for kind, change in CHANGES.items():
        entry = bench.get(f"log?kind={kind}")["entries"][0]
        assert entry["kind_name"] == KIND_NAMES[kind]
        wrong = {"payload": {**entry["payload"], **BAD[kind]}, "at": entry["at"]}
        assert bench.refused(f"log/{entry['id']}", wrong, "PUT")[1]
        right = {"payload": {**entry["payload"], **change}, "at": entry["at"]}
        answer = bench.client.put(f"/api/log/{entry['id']}", json=right)
        assert answer.status_code == 200, (kind, answer.text)
        corrected = bench.get(f"log/{entry['id']}")
        assert corrected["revisions"][-1]["action"] == "corrected"
        for field, value in change.items():
            found = corrected["payload"][field]
            if isinstance(value, dict):
                assert value.items() <= found.items()
            elif field != "pulls":
                assert found == value
        assert bench.post(f"log/{entry['id']}/strike")["struck_at"]
        assert bench.post(f"log/{entry['id']}/restore")["struck_at"] is None
        again = next(e for e in bench.get(f"log?kind={kind}")["entries"] if e["id"] == entry["id"])
        assert [r["action"] for r in again["revisions"]] == ["corrected", "struck", "restored"]


def test_the_log_can_be_narrowed_to_a_machine(bench):
    machine = one_of_each(bench)
    other = {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}
    wren = bench.post("machines", other)["id"]
    bench.post(f"machines/{wren}/runs", {"minutes": 5})
    assert {e["machine"] for e in bench.get(f"log?machine={machine}&limit=200")["entries"]} == {"Heron"}
    assert len(bench.get(f"log?machine={wren}")["entries"]) == 1
    assert bench.get("log")["entries"][0]["machine"] == "Wren"


def test_the_words_name_every_choice(bench):
    words = bench.get("words")
    assert {w["value"] for w in words["systems"]} == {"tex", "dtex", "denier", "wt", "ne", "ticket", "no"}
    assert len(words["sizes"]) == 12
    assert [g["grade"] for g in words["grades"]] == [-2, -1, 0, 1, 2]
    for group, choices in words.items():
        if isinstance(choices, list):
            assert choices, group
            assert all(c.get("name") or c.get("metric") for c in choices)


@pytest.mark.parametrize(
    ("path", "body", "says"),
    [
        ("compute/gauge", {"unit": "mN", "pulls": "many"}, "doesn't have the form it needs"),
        ("compute/gauge", {"unit": "mN", "pulls": [{"low": 5}]}, "one value, or its lowest and its highest"),
        ("compute/gauge", {"unit": "mN", "pulls": [{"low": 210, "high": 200}]}, "lowest of a pull (210) is above"),
        ("compute/gauge", {"pulls": [{"value": 3}]}, "The unit is missing."),
        ("compute/gauge", {"unit": "mN", "pulls": [{"value": 200}], "target": {"low": 9, "high": 1}}, "low end"),
        ("compute/pairing", {"machine_kind": "tractor", "school": "home", "top": []}, "Known: longarm or home"),
        ("compute/pairing", {"machine_kind": "home", "school": "home", "top": []}, "Choose a top thread first."),
        ("compute/hanging-weight", {}, "The weight is missing."),
        ("compute/hanging-weight", {"grams": "21 g"}, "“21 g” is not a number"),
        ("compute/hanging-weight", [1, 2], "doesn't have the form it needs"),
        ("compute/linear-density", {"value": True, "system": "miles"}, "not a known weight system"),
        ("compute/linear-density", {"value": 40, "system": "wt", "strands": 99}, "from 1 to 12"),
        ("gauge/trace", {"length_mm": [1, "x"], "tension_mn": [1, 2]}, "“x” is not a number"),
        ("gauge/trace.csv", {"length_mm": [1], "tension_mn": []}, "same number of samples"),
    ],
)
def test_bad_input_is_answered_in_plain_words(bench, path, body, says):
    assert says in bench.refused(path, body)[1]


@pytest.mark.parametrize("query", ["limit=0", "limit=201", "before=0", "machine=abc", f"kind={'x' * 31}"])
def test_a_query_out_of_range_is_refused(bench, query):
    assert bench.client.get(f"/api/log?{query}").status_code == 422


def test_an_answer_names_its_rules_and_their_standing(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/needle", BALL_100)
    for path in ("needle", "readings", "balance", "thread"):
        station = bench.get(f"machines/{machine}/{path}")
        source = {"needle": "pairing", "balance": "estimate", "thread": "advice"}.get(path)
        for reason in station[source]["reasons"] if source else []:
            assert reason["rule"]
            assert reason["standing"] in {"published", "common_practice", "own_records", "memory", "estimate"}


def test_a_page_that_holds_the_whole_log_says_that_it_ends_there(bench):
    machine = one_of_each(bench)
    whole = bench.get(f"log?machine={machine}&limit=200")
    count = len(whole["entries"])
    assert whole["more"] is None
    for limit, more in ((count, False), (count - 1, True)):
        page = bench.get(f"log?machine={machine}&limit={limit}")
        assert (len(page["entries"]), page["more"] is not None) == (limit, more)
    # Page by page each record comes once, and in the order of the whole.
    ids, before = [], ""
    while before is not None:
        page = bench.get(f"log?machine={machine}&limit=5{before}")
        ids += [entry["id"] for entry in page["entries"]]
        before = page["more"] and f"&before={page['more']}"
    assert ids == [entry["id"] for entry in whole["entries"]]
