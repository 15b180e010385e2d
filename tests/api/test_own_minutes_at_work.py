"""What things take in one's own hands reaches what is asked for: bobbins, needles, cleanings, and checks."""

from __future__ import annotations

import pytest

COTTON = {"fiber": "cotton", "construction": "spun", "value": 60, "system": "wt"}
NEEDLE = {"metric": 100, "american": 16, "point": "topstitch"}


@pytest.fixture
def heron(bench) -> int:
    machine, _, _ = bench.combination()
    bench.post("threads", {"name": "Marram 60", "thread": COTTON})
    return machine


def asks(bench, machine: int, knob: str) -> dict:
    return next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == knob)


def only_beside(bench, machine: int) -> None:
    spec = next(each for each in bench.get("machines") if each["id"] == machine)["spec"]
    bench.client.put(f"/api/machines/{machine}", json={**spec, "choices": {"own_records": "beside"}})


def upkeep(bench, machine: int, what: str) -> dict:
    return next(u for u in bench.get(f"machines/{machine}/upkeep") if u["what"] == what)


def test_whose_readings_take_long_reads_fewer_bobbins(bench, heron):
    """Bobbins that scatter: one who reads in half a minute is asked to, one who takes five minutes isn't."""
    asked = {}
    for minutes in (0.6, 5):
        for mn in (174, 226, 180, 220, 182, 219, 178):
            bench.later(300)
            bench.post(f"machines/{heron}/bobbin", {"bobbin": 2})
            bench.later(minutes)
            pulls = [{"value": mn}, {"value": mn}]
            bench.post(f"machines/{heron}/readings", {"unit": "mN", "pulls": pulls})
        bench.later(300)
        bench.post(f"machines/{heron}/bobbin", {"bobbin": 2})
        asked[minutes] = asks(bench, heron, "bobbin")["state"]
    assert asked == {0.6: "to_do", 5: "ready"}


def test_whose_changes_take_long_changes_needles_later(bench, heron):
    for _ in range(7):
        bench.post(f"machines/{heron}/runs", {"minutes": 30})
        bench.later(6)
        bench.post(f"machines/{heron}/needle", NEEDLE)
        bench.later(300)
    bench.post(f"machines/{heron}/runs", {"minutes": 360})
    life = bench.get(f"machines/{heron}/needle")["life"]
    assert life["due"] != "due"
    assert life["text"].endswith("A change takes you about 6 minutes, so it's due later.")
    only_beside(bench, heron)
    assert bench.get(f"machines/{heron}/needle")["life"]["text"] == "6.0 h on it: due now."


def lint(bench, machine: int) -> None:
    incident = bench.post(f"machines/{machine}/incidents", {"symptoms": ["uneven_tension"]})["id"]
    bench.later(4)
    bench.post(f"incidents/{incident}/checks", {"cause": "lint_under_case_spring", "answer": "found"})
    bench.post(f"incidents/{incident}/outcome", {"outcome": "cured"})


def test_where_lint_makes_trouble_often_the_hook_is_cleaned_sooner(bench, heron):
    for _ in range(6):
        bench.later(300)
        bench.post(f"machines/{heron}/upkeep", {"what": "cleaning"})
        bench.later(300)
        bench.post(f"machines/{heron}/runs", {"minutes": 360, "quilt": "Skerry"})
    quiet = upkeep(bench, heron, "cleaning")
    assert quiet["text"].endswith(". Lint made no trouble in 36 hours.")
    for _ in range(5):
        bench.later(5)
        lint(bench, heron)
    linty = upkeep(bench, heron, "cleaning")
    assert linty["after"] < quiet["after"]
    assert "Lint made trouble 5 times in 36 hours." in linty["text"]
    # It moves with what hangs on the quilt, and not at all where records stand beside the advice.
    bench.post(f"machines/{heron}/quilt", {"quilt": "Skerry", "care": "matters"})
    assert upkeep(bench, heron, "cleaning")["after"] <= linty["after"]
    only_beside(bench, heron)
    beside = upkeep(bench, heron, "cleaning")
    assert "Lint made trouble" not in beside["text"]
    assert "This quilt matters, so clean sooner." in beside["text"]
    # The line says the same.
    bench.post(f"machines/{heron}/runs", {"minutes": 300, "quilt": "Skerry"})
    bench.later(301)
    assert (asks(bench, heron, "mend")["fact"], upkeep(bench, heron, "cleaning")["due"]) == ("clean hook", True)


def test_a_check_is_said_to_take_what_it_took(bench, heron):
    def first() -> dict:
        incident = bench.post(f"machines/{heron}/incidents", {"symptoms": ["skipped_stitches"]})["id"]
        found = [bench.get(f"machines/{heron}/mend{own}")["diagnosis"] for own in ("", "?own=false")]
        bench.post(f"incidents/{incident}/outcome", {"outcome": "left"})
        minutes = [next(c["minutes"] for c in each["causes"] if c["cause"] == "heat") for each in found]
        return dict(zip(("own", "page"), minutes, strict=True))

    assert first()["own"] == first()["page"]
    for _ in range(8):
        bench.later(600)
        incident = bench.post(f"machines/{heron}/incidents", {"symptoms": ["skipped_stitches"]})["id"]
        bench.later(3 * first_minutes(bench, heron))
        bench.post(f"incidents/{incident}/checks", {"cause": "heat", "answer": "found"})
        bench.post(f"incidents/{incident}/outcome", {"outcome": "cured"})
    bench.later(600)
    took = first()
    assert took["own"] >= 2 * took["page"]


def first_minutes(bench, machine: int) -> float:
    causes = bench.get(f"machines/{machine}/mend?own=false")["diagnosis"]["causes"]
    return next(cause["minutes"] for cause in causes if cause["cause"] == "heat")


PASSES = [
    {"key": 1, "what": "fill", "share": 0.5, "needle": {"metric": 90, "american": 14}, "point": "topstitch"},
    {"key": 2, "what": "border", "share": 0.2, "needle": {"metric": 110, "american": 18}, "point": "topstitch"},
]


def changes(bench, plan: int) -> list[float]:
    return [each["change_minutes"] for each in sorted(bench.get(f"plans/{plan}")["passes"], key=lambda e: e["place"])]


def test_a_plan_counts_changes_as_they_are_made_here_unless_somebody_typed_others(bench, heron):
    """A plan kept all nine minutes, so that nobody could tell which were typed."""
    made = bench.post(f"machines/{heron}/plans", {"quilt": "Dunlin", "passes": PASSES})["id"]
    typed = bench.post(f"machines/{heron}/plans", {"quilt": "Knot", "passes": PASSES, "minutes": {"needle": 2}})["id"]
    usual = changes(bench, made)
    assert bench.get(f"machines/{heron}/change-minutes")["own"] == []
    for _ in range(7):
        bench.post(f"machines/{heron}/runs", {"minutes": 30})
        bench.later(6)
        bench.post(f"machines/{heron}/needle", NEEDLE)
        bench.later(300)
    here = bench.get(f"machines/{heron}/change-minutes")
    assert (here["own"], here["minutes"]["needle"], here["minutes"]["thread"]) == (["needle"], 6, 2)
    assert changes(bench, made)[1] == usual[1] + 4, "6 minutes a needle, where it was 2"
    assert changes(bench, typed)[1] == usual[1]
    assert bench.get(f"plans/{made}")["plan"]["minutes"]["needle"] is None
    assert bench.get(f"plans/{typed}")["plan"]["minutes"]["needle"] == 2
    only_beside(bench, heron)
    assert changes(bench, made)[1] == usual[1]
