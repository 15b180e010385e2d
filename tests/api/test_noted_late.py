"""What is noted after test lines were judged, though it was in all along: asked, and the lines count for it then."""

import pytest


@pytest.fixture
def judged(bench):
    machine, _, _ = bench.combination()
    for n, (setting, grade) in enumerate(((180, -1), (200, 0), (220, 1))):
        bench.later(2 + n)
        bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": grade})
    bench.later(5)
    return machine


NEEDLE = {"metric": 100, "american": 16, "point": "topstitch"}


def balance(bench, machine):
    return bench.get(f"machines/{machine}/balance")


def test_a_needle_noted_late_is_asked_about_and_moved_before_the_lines(bench, judged):
    assert balance(bench, judged)["late"] is None
    fitted = bench.post(f"machines/{judged}/needle", NEEDLE)
    found = balance(bench, judged)
    assert found["looks"] == []
    assert found["late"] == {
        "record": fitted["id"],
        "lines": 3,
        "asks": "The needle was noted after 3 test lines. Was it in when you stitched them?",
    }
    bench.later(1)
    bench.post(f"machines/{judged}/late/{fitted['id']}")
    found = balance(bench, judged)
    assert [look["payload"]["setting"] for look in found["looks"]] == [180, 200, 220]
    assert found["late"] is None
    # The time it was noted at before stands in the log.
    entry = next(e for e in bench.get("log?limit=50")["entries"] if e["id"] == fitted["id"])
    assert entry["revisions"]


def test_the_needle_that_came_out_first_goes_before_it(bench):
    machine, _, _ = bench.combination()
    bench.later(1)
    bench.post(f"machines/{machine}/needle", {**NEEDLE, "metric": 90, "american": 14})
    bench.later(1)
    bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})
    bench.later(1)
    bench.post(f"machines/{machine}/needle/retire", {"why": "due"})
    bench.later(1)
    fitted = bench.post(f"machines/{machine}/needle", NEEDLE)
    bench.later(1)
    bench.post(f"machines/{machine}/late/{fitted['id']}")
    found = balance(bench, machine)
    assert len(found["looks"]) == 1
    assert found["setup"]["needle"]["metric"] == 100


@pytest.mark.parametrize(
    ("path", "body", "asks"),
    [
        ("bobbin", {"bobbin": 1}, "The bobbin was noted after 3 test lines. Was it in when you stitched them?"),
        ("top", {"top": [2]}, "The top thread was noted after 3 test lines. Was it on when you stitched them?"),
        (
            "sandwich",
            {"loft": "lofty", "batting": "wool"},
            "The sandwich was noted after 3 test lines. Was it under the needle when you stitched them?",
        ),
    ],
)
def test_thread_bobbin_and_batting_too(bench, judged, path, body, asks):
    noted = bench.post(f"machines/{judged}/{path}", body)
    late = balance(bench, judged)["late"]
    assert (late["record"], late["asks"]) == (noted["id"], asks)
    bench.later(1)
    bench.post(f"machines/{judged}/late/{noted['id']}")
    assert len(balance(bench, judged)["looks"]) == 3


def test_a_line_judged_since_or_two_hours_settle_it(bench, judged):
    bench.post(f"machines/{judged}/needle", NEEDLE)
    bench.later(1)
    look = bench.post(f"machines/{judged}/looks", {"setting": 190, "grade": 0})
    assert balance(bench, judged)["late"] is None
    bench.post(f"log/{look['id']}/strike")
    assert balance(bench, judged)["late"] is not None
    bench.later(180)
    bench.post(f"machines/{judged}/needle", {**NEEDLE, "metric": 90, "american": 14})
    assert balance(bench, judged)["late"] is None


def test_what_is_no_such_record_is_refused_and_nothing_moves(bench, judged):
    looks = balance(bench, judged)["looks"]
    field, says = bench.refused(f"machines/{judged}/late/{looks[0]['id']}", None)
    assert (field, says) == ("record", "That was never put on this machine.")
    top = bench.get("log?limit=50&kind=top_threaded")["entries"][-1]
    field, says = bench.refused(f"machines/{judged}/late/{top['id']}", None)
    assert "Nothing was moved" in says


def test_bobbin_work_is_said_on_the_strip_and_on_the_card(bench):
    machine, top, _ = bench.combination()
    pearl = {"fiber": "cotton", "construction": "spun", "value": 12, "system": "wt"}
    below = bench.post("threads", {"name": "Kelp 12", "thread": pearl})["id"]
    bench.post(f"machines/{machine}/bobbin", {"bobbin": below, "bobbin_work": True})
    bench.post(f"machines/{machine}/needle", NEEDLE)
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 100}] * 2})
    bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})
    strip = bench.client.get(f"/api/machines/{machine}/strip.svg?plan=half&motion=free_motion&paper=letter").text
    assert "Bobbin work, face down: the back here is the quilt" in strip
    kept = bench.post(f"machines/{machine}/recipes", {"name": "Kelp", "setting": 200, "motion": "free_motion"})
    card = bench.client.get(f"/api/recipes/{kept['id']}/card.svg").text
    assert "face down: the back here is the quilt" in card
    # Nothing of it where the bobbin is an ordinary one.
    bench.post(f"machines/{machine}/bobbin", {"bobbin": top})
    strip = bench.client.get(f"/api/machines/{machine}/strip.svg?plan=half&motion=free_motion&paper=letter").text
    assert "face down" not in strip
