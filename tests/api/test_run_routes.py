"""The Run station over HTTP: meters, pace, and the bobbin as far as it goes."""

import pytest


@pytest.fixture
def machine(bench) -> int:
    machine, _, thread = bench.combination()
    case = bench.post(f"machines/{machine}/cases", {"label": "A", "bobbin_class": "M"})["id"]
    bench.later(5)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": thread, "case": case})
    return machine


def run(bench, machine: int, minutes: float, **more) -> None:
    bench.later(minutes)
    bench.post(f"machines/{machine}/runs", {"minutes": minutes, "quilt": "Avocet", **more})


def test_without_meters_nobody_knows_how_far_the_bobbin_goes(bench, machine):
    run(bench, machine, 30)
    says = bench.get(f"machines/{machine}/run")
    assert says["bobbin"] is None
    assert "Note the length of one run" in says["bobbin_unknown"]
    assert says["quilt_minutes"] == 30


def test_meters_and_the_pace_bring_the_bobbin_down(bench, machine):
    full = bench.get(f"machines/{machine}/run")["bobbin"]
    assert full["share"] == 1
    run(bench, machine, 60, meters=30)
    run(bench, machine, 20)
    says = bench.get(f"machines/{machine}/run?next_line_m=500")
    assert (says["stitched_m"], says["by_pace_m"]) == (40, 10)
    assert says["bobbin"]["stitched_m_left"] == pytest.approx(full["stitched_m_left"] - 40)
    assert says["bobbin"]["enough"] is False
    assert says["bobbin_minutes"] == pytest.approx(says["bobbin"]["stitched_m_left"] / 30 * 60)
    # The same by the computing interface: 3 mm stitches through 2.5 mm of medium loft, a full M bobbin.
    use = {
        "stitch_length_mm": 3,
        "sandwich_mm": 2.5,
        "stitched_meters": 40,
        "bobbin": {
            "class": "M",
            "thread": {"fiber": "polyester", "construction": "multifilament", "value": 80, "system": "wt"},
        },
    }
    assert 1 - bench.post("compute/thread-use", use)["bobbins"] == pytest.approx(says["bobbin"]["share"])
    again = bench.post(f"machines/{machine}/bobbin/again")
    assert again["payload"]["case"] == 1
    assert bench.get(f"machines/{machine}/run")["bobbin"]["share"] == 1


def test_a_nearly_empty_bobbin_is_on_the_line(bench, machine):
    run(bench, machine, 60, meters=120)
    knot = next(k for k in bench.get(f"machines/{machine}/line")["knots"] if k["station"] == "run")
    assert knot["state"] == "caution"
    assert knot["fact"].startswith("bobbin ")


def test_the_clock_takes_meters_and_refuses_nonsense(bench, machine):
    bench.post(f"machines/{machine}/clock/start", {"quilt": "Redshank"})
    bench.later(30)
    assert bench.refused(f"machines/{machine}/clock/stop", {"meters": -3})[0] == "meters"
    stopped = bench.post(f"machines/{machine}/clock/stop", {"meters": 12})
    assert stopped["text"] == "30 min stitched on Redshank, 12 m"
    assert bench.get(f"machines/{machine}/run")["quilts"] == ["Redshank"]
    assert bench.client.get(f"/api/machines/{machine}/run?next_line_m=-1").status_code == 422
