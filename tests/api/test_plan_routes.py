"""A quilt planned and sewn by plan over the API: what it takes, what acts tick off, cones, bad input, corrections."""

from __future__ import annotations

import pytest
from icalendar import Calendar

PASSES = [
    {"key": 1, "what": "fill", "share": 0.5, "density": "close"},
    {"key": 2, "what": "ditch", "block_m": 0.3},
    {"key": 3, "what": "binding"},
]


def planned(bench, **says):
    """A machine, a thread in its drawer with a length, and a plan."""
    machine, top, below = bench.combination()
    threads = {"top": top, "below": below}
    passes = [{**each, **threads} for each in PASSES]
    body = {"quilt": "Dunlin", "width_m": 1.5, "height_m": 1.8, "passes": passes, **says}
    return machine, top, below, bench.post(f"machines/{machine}/plans", body)["id"]


def label(bench, thread: int, **says):
    """Correct the label of a thread."""
    spec = bench.get(f"threads/{thread}")["spec"]
    return bench.client.put(f"/api/threads/{thread}", json={**spec, **says})


def sewn(bench, machine: int, minutes: float, meters: float | None = None):
    bench.later(minutes)
    return bench.post(f"machines/{machine}/runs", {"minutes": minutes, "quilt": "Dunlin", "meters": meters})


def test_a_plan_is_answered_whole(bench):
    machine, _, _, plan = planned(bench, evening_h=2, days=[0, 2])
    page = bench.get(f"plans/{plan}")
    assert page["order"]["keys"] == [2, 1, 3]
    assert page["hours"]["low"] < page["hours"]["likely"] < page["hours"]["high"]
    assert page["stitched_m"]["likely"] > 225
    assert {each["top"] for each in page["passes"]} != {""}
    assert all(each["needle"] for each in page["passes"]), "the needle that suits the thread"
    wound = sum(each["bobbins"] for each in page["evenings"])
    assert f", {wound} bobbins in all" in page["text"], "as many as its evenings wind"
    assert page["evenings"][0]["before"][0].startswith("Wind ")
    (item,) = bench.get("plans")
    assert (item["quilt"], item["share"], item["over"]) == ("Dunlin", 0, False)
    assert bench.get(f"machines/{machine}/plan") is None, "nothing is begun"


def test_what_falls_due_on_the_way_is_what_its_evenings_end_with(bench):
    machine, top, below = bench.combination()
    bench.post(f"machines/{machine}/upkeep", {"what": "cleaning"})
    sewn(bench, machine, 470)
    passes = [{"key": 1, "what": "fill", "share": 0.5, "density": "close", "top": top, "below": below}]
    body = {"quilt": "Avocet", "width_m": 1.2, "height_m": 1.2, "passes": passes, "evening_h": 2}
    page = bench.get(f"plans/{bench.post(f'machines/{machine}/plans', body)['id']}")
    ends = [each["after"] for each in page["evenings"]]
    assert ends[0] == ["Clean the hook area"], "it was sewn on for hours before the plan"
    assert page["hours"]["likely"] < 8, "by its own hours nothing would fall due"
    assert page["cleanings"] == sum("Clean the hook area" in after for after in ends)
    assert page["oilings"] == sum("Oil the hook, as the manual says" in after for after in ends)


def test_the_plan_leads_and_is_ticked_off_as_it_is_sewn(bench):
    machine, top, below, plan = planned(bench)
    bench.post(f"plans/{plan}/steps", {"key": 2, "stage": "begun"})
    now = bench.get(f"machines/{machine}/plan")
    assert now["quilt"] == bench.get(f"machines/{machine}/line")["setup"]["quilt"] == "Dunlin"
    assert now["words"] == "In the ditch"
    needle = next(move for move in now["moves"] if move["station"] == "needle")["text"]
    size, point = needle.removeprefix("Fit ").split()
    metric, american = map(int, size.split("/"))
    bench.post(f"machines/{machine}/needle", {"metric": metric, "american": american, "point": point})
    bench.post(f"machines/{machine}/top", {"top": [top]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": below})
    assert {move["station"] for move in bench.get(f"machines/{machine}/plan")["moves"]} <= {"balance"}
    bench.later(1)
    sewn(bench, machine, 60)
    now = bench.get(f"machines/{machine}/plan")
    assert now["share"] > 0
    assert now["fact"].startswith("Ditch, ")
    page = bench.get(f"plans/{plan}")
    assert 0 < page["passes"][1]["share"] < 1
    left = sum(each["hours"]["likely"] * (1 - each["share"]) for each in page["passes"])
    assert page["hours_left"]["likely"] == pytest.approx(left), "half of a pass is half of its hours"
    left = sum(each["bobbins"]["likely"] * (1 - each["share"]) for each in page["passes"])
    assert page["bobbins_left"]["likely"] == pytest.approx(left)
    bench.post(f"plans/{plan}/steps", {"key": 2, "stage": "done"})
    page = bench.get(f"plans/{plan}")
    assert page["passes"][1]["share"] == 1
    assert page["passes"][1]["hours_sewn"] == 1
    assert page["order"]["keys"] == [1, 3]
    assert bench.get(f"machines/{machine}/plan") is None


def test_a_finished_plan_teaches_the_next(bench):
    machine, top, below, plan = planned(bench)
    for key, minutes, meters in ((2, 30, 25), (1, 240, 280), (3, 10, 7)):
        bench.post(f"plans/{plan}/steps", {"key": key, "stage": "begun"})
        bench.later(1)
        sewn(bench, machine, minutes, meters)
        bench.later(1)
        bench.post(f"plans/{plan}/steps", {"key": key, "stage": "done"})
    page = bench.get(f"plans/{plan}")
    assert page["finished"]["hours"] == 280 / 60
    assert sum(each["meters"] for each in page["finished"]["passes"]) == 312
    assert page["finished_says"].startswith("It took 4.7 hours, ")
    assert page["hours_left"]["likely"] == 0
    threads = {"top": top, "below": below}
    body = {"quilt": "Knot", "width_m": 1.5, "height_m": 1.8, "passes": [{**each, **threads} for each in PASSES]}
    knot = bench.get(f"plans/{bench.post(f'machines/{machine}/plans', body)['id']}")
    assert knot["rests_on"] == "By what your last planned quilt really took."
    # A correction of a run reaches the plan and what the next one learned.
    run = next(e for e in bench.get("log?kind=run")["entries"] if e["payload"]["minutes"] == 240)
    corrected = {"payload": {**run["payload"], "minutes": 480}, "at": run["at"]}
    assert bench.client.put(f"/api/log/{run['id']}", json=corrected).status_code == 200
    assert bench.get(f"plans/{plan}")["finished"]["hours"] == 520 / 60
    assert bench.get(f"plans/{knot['id']}")["hours"]["likely"] != knot["hours"]["likely"]


def test_a_cone_knows_what_is_left_of_it(bench):
    machine, top, _, plan = planned(bench)
    thread = next(t for t in bench.get(f"plans/{plan}")["threads"] if t["id"] == top)
    assert thread["stock"] is None
    assert "weigh it" in thread["lasts"]["text"]
    label(bench, top, length_m=400, price=8)

    def of_top():
        return next(t for t in bench.get(f"plans/{plan}")["threads"] if t["id"] == top)

    assert of_top()["stock"]["left_m"]["likely"] == 400
    assert of_top()["lasts"]["enough"] is False
    buy = bench.get("shopping")[0]
    assert buy["what"] == "thread"
    assert buy["count"] >= 1
    assert buy["price"] == 8 * buy["count"]
    bench.post(f"machines/{machine}/bought", {"what": "thread", "thread": top, "count": buy["count"]})
    assert of_top()["lasts"]["enough"] is not False
    assert not [item for item in bench.get("shopping") if item["thread"] == top]
    bench.later(1)
    bench.post(f"machines/{machine}/cones", {"thread": top, "says": "ended"})
    assert of_top()["stock"]["left_m"]["likely"] == 0
    bench.later(1)
    bench.post(f"machines/{machine}/cones", {"thread": top, "says": "meters", "left_m": 300})
    before = of_top()["stock"]["left_m"]["likely"]
    bench.later(1)
    bench.post(f"machines/{machine}/top", {"top": [top]})
    # Nobody knows a pace here yet, so a run without its meters takes nothing from the cone.
    unmeasured = sewn(bench, machine, 60)
    assert of_top()["stock"]["left_m"]["likely"] == before
    bench.post(f"log/{unmeasured['id']}/strike")
    run = sewn(bench, machine, 60, 50)
    used = before - of_top()["stock"]["left_m"]["likely"]
    assert used > 50
    # What was measured takes its meters, and nothing for its minutes.
    again = sewn(bench, machine, 120, 100)
    assert before - of_top()["stock"]["left_m"]["likely"] == pytest.approx(3 * used)
    bench.post(f"log/{again['id']}/strike")
    bench.post(f"log/{run['id']}/strike")
    assert of_top()["stock"]["left_m"]["likely"] == before, "a run that is deleted used nothing"


def test_needles_that_are_bought_are_in_the_drawer(bench):
    machine, _, _, plan = planned(bench)
    item = next(item for item in bench.get("shopping") if item["what"] == "needles")
    hours = sum(each["hours"]["likely"] for each in bench.get(f"plans/{plan}")["passes"])
    assert item["count"] == 1 + int(hours / 6), "six to eight stitching hours each, by common practice"
    bought = {"what": "needles", "count": item["count"], "point": item["point"], "system": "DPx5", **item["needle"]}
    left = bench.post(f"machines/{machine}/bought", bought)
    assert not [each for each in left if each["what"] == "needles"]
    assert bench.client.post(f"/api/machines/{machine}/bought", json={"what": "needles", "count": 2}).status_code == 422


def test_a_plan_that_cannot_be_is_refused_at_its_field_and_nothing_is_stored(bench):
    machine, top, _, plan = planned(bench)
    good = {"quilt": "Knot", "passes": [{"key": 1, "what": "ditch"}]}
    for body, field in (
        ({**good, "width_m": 0, "height_m": 0}, "width_m"),
        (
            {**good, "passes": [{"key": 1, "what": "fill", "share": 0.7}, {"key": 2, "what": "border", "share": 0.7}]},
            "passes",
        ),
        ({**good, "passes": [{"key": 1, "what": "ditch", "top": 99}]}, "passes"),
        ({**good, "passes": [{"key": 1, "what": "ditch", "machine": 99}]}, "passes"),
        ({**good, "starts": "2020-01-01"}, "starts"),
        ({**good, "quilt": "Dunlin"}, "quilt"),
        ({**good, "minutes": {"thread": -1}}, "minutes.thread"),
    ):
        where, says = bench.refused(f"machines/{machine}/plans", body)
        assert where.endswith(field), (where, says)
    assert len(bench.get("plans")) == 1
    label(bench, top, length_m=400)
    where, says = bench.refused(f"machines/{machine}/cones", {"thread": top, "says": "weighed", "grams": 900})
    assert where.endswith("grams")
    assert says.endswith("Take the empty cone's weight off.")
    assert bench.refused(f"plans/{plan}/steps", {"key": 9, "stage": "done"})[1] == "That pass is not in the plan."
    assert bench.refused("plans/1/steps", {"key": 1, "stage": "done"})[1] == "That isn't a plan."


def test_what_is_gone_is_said_at_its_pass(bench):
    machine, top, _, plan = planned(bench)
    bench.post(f"threads/{top}/strike?anyway=true")
    assert "was deleted from the drawer" in bench.get(f"plans/{plan}")["passes"][0]["problem"]
    # The thread that is gone stands in the plan already: changing something else loses nothing.
    page = bench.get(f"plans/{plan}")
    changed = bench.client.put(f"/api/plans/{plan}", json={**page["plan"], "evening_h": 3})
    assert changed.status_code == 200, changed.text
    spec = bench.get("machines")[0]["spec"]
    bench.client.put(f"/api/machines/{machine}", json={**spec, "retired": True})
    page = bench.get(f"plans/{plan}")
    assert page["machine_retired"]


def test_two_screens_do_not_write_over_one_another(bench):
    _, _, _, plan = planned(bench)
    page = bench.get(f"plans/{plan}")
    seen = {"if-match": str(page["version"])}
    assert (
        bench.client.put(f"/api/plans/{plan}", json={**page["plan"], "evening_h": 3}, headers=seen).status_code == 200
    )
    again = bench.client.put(f"/api/plans/{plan}", json={**page["plan"], "evening_h": 4}, headers=seen)
    assert again.status_code == 409


def test_calendar_and_paper(bench):
    _, _, _, plan = planned(bench)
    assert bench.client.get(f"/api/plans/{plan}/calendar.ics").status_code == 422
    page = bench.get(f"plans/{plan}")
    bench.client.put(f"/api/plans/{plan}", json={**page["plan"], "starts": "2999-01-01"})
    text = bench.client.get(f"/api/plans/{plan}/calendar.ics").text
    events = Calendar.from_ical(text).walk("VEVENT")
    assert len(events) == len(bench.get(f"plans/{plan}")["evenings"])
    assert str(events[0]["summary"]).startswith("Dunlin: ")
    assert bench.client.get(f"/api/plans/{plan}/plan.pdf").content.startswith(b"%PDF")


def test_a_pass_in_two_parts_of_an_evening_stands_once_in_the_calendar_s_heading(bench):
    """A needle that is worn out on the way parts a pass, and its heading said it twice."""
    machine, _, _, _ = planned(bench)
    passes = [{"key": 1, "what": "fill", "density": "dense", "top": 1, "below": 2}]
    body = {"quilt": "Avocet", "width_m": 2, "height_m": 2, "passes": passes, "evening_h": 16, "starts": "2999-01-01"}
    plan = bench.post(f"machines/{machine}/plans", body)["id"]
    first = bench.get(f"plans/{plan}")["evenings"][0]["passes"]
    assert [part["key"] for part in first][:2] == [1, 1], "the needle is changed within the pass"
    assert first[1]["before"][0].startswith("Fit a new ")
    text = bench.client.get(f"/api/plans/{plan}/calendar.ics").text
    assert str(Calendar.from_ical(text).walk("VEVENT")[0]["summary"]).count("fill") == 1


def test_a_deleted_plan_is_gone_and_comes_back_with_its_steps(bench):
    machine, _, _, plan = planned(bench)
    bench.post(f"plans/{plan}/steps", {"key": 2, "stage": "begun"})
    bench.post(f"log/{plan}/strike")
    assert bench.get("plans") == []
    assert bench.get(f"machines/{machine}/plan") is None
    assert bench.get("shopping") == []
    bench.post(f"log/{plan}/restore")
    assert bench.get(f"machines/{machine}/plan")["words"] == "In the ditch"


def test_bobbins_of_another_thread_without_a_line_say_nothing_of_this_one(bench):
    """What bobbins gave is known by thread; threads without a line are each their own."""
    machine, top, below = bench.combination()
    bench.post(f"machines/{machine}/bobbin", {"bobbin": below})
    for _ in range(4):
        bench.later(10)
        bench.post(f"machines/{machine}/runs", {"minutes": 30, "meters": 15})
        bench.post(f"machines/{machine}/bobbin/again", {"emptied": True})
    bench.later(1)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": top})
    assert bench.get(f"machines/{machine}/run")["bobbin_holds"]["bobbins"] == 0


def test_a_plan_whose_passes_were_all_left_out_is_over_and_sewn_whole(bench):
    _, _, _, plan = planned(bench)
    for key in (1, 2, 3):
        bench.post(f"plans/{plan}/steps", {"key": key, "stage": "dropped"})
    (item,) = bench.get("plans")
    assert (item["share"], item["over"], item["done"]) == (1, True, 3)


@pytest.mark.parametrize(
    ("machine", "change"),
    [
        ({"has_gauge": True}, "screw and a reading"),
        ({"has_gauge": False}, "screw and a test by hand"),
        ({"removable_case": False}, None),
    ],
)
def test_a_screw_is_turned_as_this_machine_s_bobbin_is_judged(bench, machine, change):
    """A domestic machine whose bobbin drops in was told to turn the screw and read the bobbin."""
    wren = {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 9, "step": 0.5}, **machine}
    number = bench.post("machines", wren)["id"]
    drawer = [
        bench.post(
            "threads",
            {"name": name, "thread": {"fiber": "cotton", "construction": "spun", "value": wt, "system": "wt"}},
        )["id"]
        for name, wt in (("Marram 50", 50), ("Oyster 60", 60), ("Limpet 80", 80))
    ]
    passes = [{**each, "top": drawer[0], "below": below} for each, below in zip(PASSES[:2], drawer[1:], strict=True)]
    page = bench.get(f"plans/{bench.post(f'machines/{number}/plans', {'quilt': 'Dunlin', 'passes': passes})['id']}")
    last = max(page["passes"], key=lambda each: each["place"])
    assert [what for what in last["change"] if "screw" in what] == [change] * bool(change)
    sewn = [part for evening in page["evenings"] for part in evening["passes"]]
    said = [line for part in sewn for line in part["before"] if "screw" in line]
    assert len(said) == bool(change)
    assert all(("read" in line) == bool(machine.get("has_gauge")) for line in said)


def test_a_pass_of_a_plan_that_was_deleted_is_not_begun(bench):
    _, _, _, plan = planned(bench)
    bench.post(f"log/{plan}/strike")
    assert bench.client.post(f"/api/plans/{plan}/steps", json={"key": 1, "stage": "begun"}).status_code in (404, 422)
