"""Winding and Run go by one figure, and what the last bobbins gave corrects both."""

import pytest


def test_winding_and_run_agree_and_learn_from_bobbins_that_ran_out(bench):
    machine, _, bobbin = bench.combination()
    bench.post(f"machines/{machine}/bobbin", {"bobbin": bobbin})
    plan = lambda: bench.post(f"machines/{machine}/winding-plan", {})  # noqa: E731
    bench.post(f"machines/{machine}/sandwich", {"loft": "medium"})
    bench.post(f"machines/{machine}/runs", {"minutes": 60, "meters": 50})
    run = bench.get(f"machines/{machine}/run")
    assert run["bobbin_holds"]["thread_m"] == pytest.approx(plan()["meters"])
    assert run["bobbin"]["stitched_m_left"] + 50 == pytest.approx(plan()["stitched_m_per_bobbin"]), (
        "one figure for both"
    )
    first = plan()["meters"]
    for meters in (60, 64):
        bench.later(60)
        bench.post(f"machines/{machine}/bobbin/again", {"emptied": False})
        bench.later(5)
        bench.post(f"machines/{machine}/runs", {"minutes": 60, "meters": meters})
        bench.later(60)
        bench.post(f"machines/{machine}/bobbin/again", {"emptied": True})
    holds = bench.get(f"machines/{machine}/run")["bobbin_holds"]
    assert holds["bobbins"] == 2
    assert holds["thread_m"] < first
    assert plan()["meters"] == pytest.approx(holds["thread_m"])
    assert "Your last 2 bobbins of this thread gave" in holds["says"]
    # A load that is struck out said nothing.
    last = next(e for e in bench.get("log?kind=bobbin_loaded")["entries"] if e["payload"]["emptied"])
    bench.post(f"log/{last['id']}/strike")
    assert bench.get(f"machines/{machine}/run")["bobbin_holds"]["bobbins"] == 1


def test_a_home_machine_winds_its_own_class_and_a_pre_wound_goes_by_its_label(bench):
    home = {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}
    machine = bench.post("machines", home)["id"]
    thread = {"fiber": "polyester", "construction": "multifilament", "value": 80, "system": "wt"}
    wound, pre = (
        bench.post("threads", {"name": name, "thread": thread, **more})["id"]
        for name, more in (("Limpet", {}), ("Limpet pre-wound", {"form": "pre_wound", "length_m": 99}))
    )
    meters = {}
    for name, number in (("wound", wound), ("pre", pre)):
        bench.post(f"machines/{machine}/bobbin", {"bobbin": number})
        meters[name] = bench.post(f"machines/{machine}/winding-plan", {})["meters"]
    assert meters["pre"] == 99
    bench.post(f"machines/{machine}/bobbin", {"bobbin": wound})
    assert meters["wound"] == bench.post(f"machines/{machine}/winding-plan", {"bobbin_class": "15"})["meters"]
