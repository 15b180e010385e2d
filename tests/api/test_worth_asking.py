"""A test line is asked for when it pays, and may always be stitched; what is skipped is never called sure."""

from __future__ import annotations

import pytest

COTTON = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}
DIAL = {"kind": "home", "has_gauge": False, "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}


@pytest.fixture
def wren(bench) -> int:
    """Return a machine with two top threads and one below."""
    machine = bench.post("machines", {"nickname": "Wren", **DIAL})["id"]
    for name, value in (("Tern", 40), ("Rook", 12), ("Limpet", 60)):
        bench.post("threads", {"name": f"{name} {value}", "thread": {**COTTON, "value": value}})
    return machine


def on(bench, machine: int, thread: int) -> None:
    bench.later(600)
    bench.post(f"machines/{machine}/top", {"top": [thread]})
    bench.post(f"machines/{machine}/bobbin", {"bobbin": 3})
    bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": "right"})


def sewn(bench, machine: int, grades: list[int]) -> None:
    """Sew Tern so many times, Rook in between, and put Tern on once more."""
    for grade in grades:
        for thread, setting, looks in ((1, 4, grade), (2, 3, 0)):
            on(bench, machine, thread)
            bench.later(1)
            bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": looks})
    on(bench, machine, 1)


def balance(bench, machine: int) -> dict:
    return bench.get(f"machines/{machine}/balance?motion=free_motion")


def knot(bench, machine: int) -> tuple[str, str]:
    found = next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "balance")
    return found["state"], found["fact"]


def test_what_was_good_every_time_is_not_tested_again_and_is_not_called_sure(bench, wren):
    sewn(bench, wren, [0] * 11)
    found = balance(bench, wren)
    assert found["skip_says"] == "Skip the test: you've sewn this 11 times, all good."
    assert found["estimate"]["action"] == "Set 4.0 and sew"
    assert not found["estimate"]["sure"]
    assert knot(bench, wren) == ("caution", "turn up 1"), "the knob stands where Rook was sewn"
    bench.later(1)
    bench.post(f"machines/{wren}/knob", {"setting": 4})
    assert knot(bench, wren) == ("ready", "4.0, untested")
    # It may always be tested.
    bench.post(f"machines/{wren}/looks", {"setting": 4, "grade": 0})
    assert balance(bench, wren)["estimate"]["sure"]


def test_what_is_new_or_was_plainly_off_is_tested(bench, wren):
    on(bench, wren, 1)
    found = balance(bench, wren)
    assert found["skip_says"] == ""
    assert found["pays_says"].startswith("A test line takes about 2 minutes and should save about ")
    assert knot(bench, wren)[0] == "to_do"
    sewn(bench, wren, [0, 2, 0, -2, 0, 2])
    assert balance(bench, wren)["skip_says"] == ""


def test_who_always_tests_is_always_asked(bench, wren):
    sewn(bench, wren, [0] * 11)
    spec = {"nickname": "Wren", **DIAL, "choices": {"test": "always"}}
    assert bench.client.put(f"/api/machines/{wren}", json=spec).status_code == 200
    assert balance(bench, wren)["skip_says"] == ""
    bench.later(1)
    bench.post(f"machines/{wren}/knob", {"setting": 4})
    assert knot(bench, wren)[0] == "to_do"


def test_a_quilt_that_matters_is_tested_sooner_and_scrap_later(bench, wren):
    bench.post(f"machines/{wren}/quilt", {"quilt": "Avocet", "for_whom": "a raffle"})
    sewn(bench, wren, [0, 0, 0])
    says = {}
    for care in ("matters", "usual", "scrap"):
        bench.later(1)
        bench.post(f"machines/{wren}/care", {"care": care})
        found = balance(bench, wren)
        assert found["care"] == care
        says[care] = found["skip_says"]
    assert says["matters"] == ""
    assert says["scrap"]
    page = bench.get("quilt?name=Avocet")
    assert (page["care"], page["for_whom"]) == ("scrap", "a raffle")
    assert bench.get("log?kind=quilt_on")["entries"][0]["text"] == "Quilting Avocet, for a raffle, scrap"


def test_without_a_quilt_nobody_can_say_how_careful(bench, wren):
    assert bench.refused(f"machines/{wren}/care", {"care": "scrap"}) == (
        "care",
        "No quilt is on this machine. Say under Run which one is.",
    )


def test_a_line_that_looked_wrong_is_followed_by_another(bench, wren):
    sewn(bench, wren, [0] * 11)
    bench.post(f"machines/{wren}/looks", {"setting": 4, "grade": 1})
    found = balance(bench, wren)
    assert found["skip_says"] == ""
    assert found["estimate"]["action"].endswith("stitch a hand's length")


def test_between_two_settings_with_nothing_between_them_no_line_is_asked_for_in_vain(bench, wren):
    on(bench, wren, 1)
    for setting, grade in ((4, 1), (4.5, -2), (4.5, -1), (4.5, -2)):
        bench.later(1)
        bench.post(f"machines/{wren}/looks", {"setting": setting, "grade": grade})
    found = balance(bench, wren)
    assert found["skip_says"] == "It's the better of two settings with nothing between them."
    assert found["estimate"]["action"] == "Set 4.0 and sew"
    assert not found["estimate"]["sure"]
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == wren)
    bench.client.put(f"/api/machines/{wren}", json={**spec, "choices": {"test": "always"}})
    assert balance(bench, wren)["skip_says"] == "", "who always tests is asked to"


def left_out(bench, machine: int, times: int) -> None:
    """Put thread on and sew, without a line."""
    for n in range(times):
        on(bench, machine, 1 + n % 2)
        bench.later(20)
        bench.post(f"machines/{machine}/runs", {"minutes": 20})
    on(bench, machine, 1 + times % 2)


def test_whoever_leaves_most_lines_out_is_asked_no_more_unless_it_was_chosen(bench, wren):
    left_out(bench, wren, 9)
    assert balance(bench, wren)["pays_says"], "nine are too few"
    left_out(bench, wren, 3)
    found = balance(bench, wren)
    assert found["skip_says"] == "You sewed 10 of the last 10 set-ups without a test line, so you aren't asked."
    assert (found["pays_says"], found["estimate"]["sure"]) == ("", False)
    bench.later(1)
    bench.post(f"machines/{wren}/knob", {"setting": found["estimate"]["set_to"]})
    assert knot(bench, wren)[0] == "ready"
    assert knot(bench, wren)[1].endswith("untested")
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == wren)
    bench.client.put(f"/api/machines/{wren}", json={**spec, "choices": {"test": "when_it_pays"}})
    assert balance(bench, wren)["pays_says"], "who wants a line where it pays is told"


def test_whoever_stitched_one_line_is_asked_for_a_second_where_it_pays(bench, wren):
    """Leaving lines out is one thing; having begun one, and it isn't enough, is another."""
    left_out(bench, wren, 12)
    assert balance(bench, wren)["skip_says"]
    bench.later(1)
    bench.post(f"machines/{wren}/quilt", {"quilt": "Skerry", "care": "matters"})
    bench.post(f"machines/{wren}/looks", {"setting": 4, "grade": 0})
    found = balance(bench, wren)
    assert (found["pays_says"] != "", found["skip_says"]) == (True, "")


def test_a_good_line_after_bad_ones_counts_where_it_was_stitched(bench):
    scale = {"kind": "turns", "low": -4, "high": 4, "step": 0.25}
    heron = bench.post("machines", {"nickname": "Heron", "kind": "longarm", "has_gauge": False, "scale": scale})["id"]
    for name, value in (("Tern", 40), ("Rook", 12), ("Limpet", 60)):
        bench.post("threads", {"name": f"{name} {value}", "thread": {**COTTON, "value": value}})
    on(bench, heron, 1)
    for setting, grade in ((0, 2), (0, 1), (0.5, 0)):
        bench.later(1)
        bench.post(f"machines/{heron}/looks", {"setting": setting, "grade": grade})
    found = balance(bench, heron)
    assert (found["estimate"]["sure"], found["pays_says"]) == (False, "")
    assert found["skip_says"] == "That line was good. Another would take longer than it should save."


def turned(bench, machine: int, minutes: float) -> None:
    bench.later(1)
    bench.post(f"machines/{machine}/screw", {"minutes": minutes})
    bench.later(1)
    bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": "right"})


def felt(bench, machine: int, feel: str) -> None:
    bench.later(1)
    bench.post(f"machines/{machine}/hand-looks", {"test": "palm", "feel": feel})


def test_a_screw_that_was_turned_by_hand_moves_where_the_threads_start(bench, wren):
    """A tighter bobbin wants a tighter top: eight minutes are a fifth more pull, most of a number (our estimate)."""
    sewn(bench, wren, [0] * 4)
    was = balance(bench, wren)["start"]["center"]
    turned(bench, wren, 8)
    found = balance(bench, wren)
    assert found["start"]["center"] == pytest.approx(was + 0.9, abs=0.25)
    assert "Lines from before a turn of the screw count as moved by what it should do." in str(found["estimate"])
    turned(bench, wren, -8)
    assert balance(bench, wren)["start"]["center"] == pytest.approx(was, abs=0.05), "out and in again"
    # What another thread below was stitched with is no matter of this one's turns.
    bench.post("threads", {"name": "Rook 50", "thread": {**COTTON, "value": 50}})
    bench.later(5)
    bench.post(f"machines/{wren}/bobbin", {"bobbin": 4})
    before = balance(bench, wren)["start"]["center"]
    turned(bench, wren, 8)
    assert balance(bench, wren)["start"]["center"] == pytest.approx(before, abs=0.05)


def test_a_bobbin_that_felt_off_may_have_been_so_by_itself(bench, wren):
    """Turned back to where it felt right, the threads are hardly expected anywhere else."""
    sewn(bench, wren, [0] * 4)
    was = balance(bench, wren)["start"]["center"]
    for _ in range(2):
        felt(bench, wren, "loose")
    turned(bench, wren, 8)
    assert balance(bench, wren)["start"]["center"] == pytest.approx(was + 0.3, abs=0.12)


def test_a_line_that_is_followed_by_a_turn_by_hand_counts_no_longer(bench, wren):
    on(bench, wren, 1)
    for setting, grade in ((3, 1), (5, -1), (4, 0), (4, 0)):
        bench.later(1)
        bench.post(f"machines/{wren}/looks", {"setting": setting, "grade": grade})
    sure = balance(bench, wren)
    assert (sure["estimate"]["sure"], sure["at_another_reading"], knot(bench, wren)) == (True, "", ("ready", "4.0"))
    felt(bench, wren, "right")
    turned(bench, wren, 1)
    assert balance(bench, wren)["estimate"]["sure"], "felt again, and a minute is within what a hand turns by"
    turned(bench, wren, 7)
    found = balance(bench, wren)
    assert not found["estimate"]["sure"]
    assert found["at_another_reading"].startswith("4 test lines were stitched at another bobbin tension.")
    # Nothing is said as if nothing had been stitched, nor as if this machine had no records.
    assert found["keep_says"] == "No free-motion line at this bobbin tension is judged yet. Judge one first."
    assert found["start"]["text"] == "From 4 test lines for these threads before. The usual setting is 3.0."
    assert "No test line counts yet." in found["estimate"]["reasons"][0]["text"]
    assert knot(bench, wren) == ("to_do", "stitch a test")
    assert found["estimate"]["set_to"] >= 4.5, "a tighter bobbin wants a tighter top"
    turned(bench, wren, -8)
    assert balance(bench, wren)["at_another_reading"] == "", "out and in again"
    # Another bobbin of this thread has the screw as it is now.
    turned(bench, wren, 8)
    on(bench, wren, 1)
    assert balance(bench, wren)["start"]["center"] > 4.4


def test_a_line_before_a_turn_counts_no_longer_where_nobody_read_the_bobbin(bench):
    """With a gauge in the drawer, a bobbin went unread, a line was stitched, and then the screw was turned."""
    machine, _, _ = bench.combination()
    for setting, grade in ((170, 1), (230, -1), (200, 0), (200, 0)):
        bench.later(2)
        bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": grade})
    assert balance(bench, machine)["at_another_reading"] == ""
    bench.later(1)
    bench.post(f"machines/{machine}/screw", {"minutes": 8})
    assert balance(bench, machine)["at_another_reading"].startswith("4 test lines were")
    assert knot(bench, machine) == ("to_do", "stitch a test")


def test_what_was_sewn_without_a_line_on_advice_is_not_held_against_anybody(bench, wren):
    for thread in (1, 2):
        on(bench, wren, thread)
        bench.later(1)
        bench.post(f"machines/{wren}/looks", {"setting": 4, "grade": 0})
        bench.post(f"machines/{wren}/runs", {"minutes": 20})
    left_out(bench, wren, 12)
    assert "aren't asked" not in balance(bench, wren)["skip_says"]


def test_what_hangs_on_a_quilt_moves_the_hour_at_which_a_needle_is_due(bench, wren):
    on(bench, wren, 1)
    bench.post(f"machines/{wren}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    bench.later(1)
    bench.post(f"machines/{wren}/runs", {"minutes": 270, "quilt": "Skerry"})

    def needle() -> tuple[str, str]:
        found = next(k for k in bench.get(f"machines/{wren}/line")["knots"] if k["station"] == "needle")
        return found["state"], bench.get(f"machines/{wren}/needle")["life"]["due"]

    assert needle() == ("ready", "fresh")
    for care, says in (("matters", "overdue"), ("scrap", "fresh"), ("usual", "fresh")):
        bench.later(1)
        bench.post(f"machines/{wren}/quilt", {"quilt": "Skerry", "care": care})
        assert needle()[1] == says
    # How worn it is hangs on nothing: a trouble is looked into alike.
    chances = []
    for care in ("matters", "scrap"):
        bench.later(60)
        bench.post(f"machines/{wren}/quilt", {"quilt": "Skerry", "care": care})
        incident = bench.post(f"machines/{wren}/incidents", {"symptoms": ["frays_above_the_eye"]})["id"]
        causes = bench.get(f"machines/{wren}/mend")["diagnosis"]["causes"]
        chances.append(next(c["probability"] for c in causes if c["cause"] == "needle_dull_burred_bent"))
        bench.post(f"incidents/{incident}/outcome", {"outcome": "left"})
    assert chances[0] == pytest.approx(chances[1])


def test_a_line_takes_what_one_s_own_have_taken(bench, wren):
    on(bench, wren, 1)
    for minutes in (4, 5, 4, 0, 5, 4, 300, 4, 5):
        bench.later(minutes)
        bench.post(f"machines/{wren}/looks", {"setting": 4, "grade": 0})
    on(bench, wren, 2)
    assert balance(bench, wren)["pays_says"].startswith("A test line takes about 4 minutes and should save")


def test_what_did_not_look_good_last_is_not_spoken_well_of(bench, wren):
    on(bench, wren, 1)
    assert balance(bench, wren)["next_says"] == "", "nothing is stitched yet"
    for setting, grade in ((4, 0), (5, -1)):
        bench.later(1)
        bench.post(f"machines/{wren}/looks", {"setting": setting, "grade": grade})
    found = balance(bench, wren)
    assert found["present_says"] == ""
    assert found["next_says"].endswith("is where it most likely lies. A good test line there settles it.")
    bench.later(1)
    bench.post(f"machines/{wren}/looks", {"setting": 4, "grade": 0})
    assert "likely that 4.0 is good enough already" in balance(bench, wren)["present_says"]
