"""The simulated machine driven as a document, in code and over HTTP: by the same laws, and the impossible said."""

from dataclasses import replace

import pytest

from weftonos.standins.machine.driving import Act, Drive, drive
from weftonos.standins.machine.laws import SimCloth, SimNeedle, SimThread
from weftonos.standins.machine.machine import Impossible, Scale, SimulatedMachine

HERON = SimulatedMachine(7)


def test_a_document_drives_the_same_machine_as_a_script_does():
    machine, state = SimulatedMachine(7), HERON
    machine.turn_screw(5)
    state = drive(Drive(machine=state, do=Act.TURN_SCREW, minutes=5)).machine
    for n in range(4):
        ran = drive(Drive(machine=state, do=Act.RUN, meters=90, n=n))
        assert (ran.sewn_m, ran.broke) == machine.run(90, n)
        state = ran.machine
    assert (state.worn, state.lint, state.meters) == (machine.worn, machine.lint, machine.meters)
    assert drive(Drive(machine=state, do=Act.STITCH, n=3)).line == machine.stitch(3)
    assert drive(Drive(machine=state, do=Act.PULL, n=3)).pull_mn == machine.pull(3)
    assert drive(Drive(machine=state, do=Act.SEE, n=3)).seen == machine.see(3)
    inside = drive(Drive(machine=state, do=Act.LOOK_INSIDE)).inside
    assert (inside.above_mn, inside.below_mn) == machine.pulls_now()
    balanced = replace(state, setting=machine.scale.snap(inside.balanced_at))
    assert abs(drive(Drive(machine=balanced, do=Act.LOOK_INSIDE)).inside.depth) < 0.15


def test_a_fault_that_is_put_in_is_found_and_mended():
    outside = replace(HERON, faults=["top_thread_outside_the_discs"])
    assert "loops_or_nest_on_the_back" in drive(Drive(machine=outside, do=Act.SEE)).seen.symptoms
    checked = drive(Drive(machine=outside, do=Act.CHECK, cause="top_thread_outside_the_discs"))
    assert checked.check.found
    assert checked.machine.faults == []


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"setting": 500.0}, "The setting goes from 80 to 400. 500 is outside."),
        ({"scale": Scale(400, 80, 5)}, "two ends and a step"),
        ({"screw": 90.0}, "The screw goes from -60 to 60"),
        ({"fill": float("nan")}, "What is left on the bobbin"),
        ({"holes": 4}, "The guides"),
        ({"lint": -0.1}, "The lint"),
        ({"top": SimThread("cotton", 0, 0.2)}, "The tex on top goes from 1 to 500"),
        ({"below": SimThread("cotton", 20, -1)}, "The thickness below"),
        ({"needle": SimNeedle(16)}, "The needle goes from 50 to 200. 16 is outside."),
        ({"cloth": SimCloth(0)}, "The sandwich"),
        ({"faults": ["gremlins"]}, "isn't a fault this machine can have"),
        ({"seed": -1}, "The seed is a whole number"),
    ],
)
def test_a_machine_edited_into_the_impossible_is_a_sentence(change, says):
    with pytest.raises(Impossible, match=says.replace(".", r"\.")):
        drive(Drive(machine=replace(HERON, **change), do=Act.STITCH))


@pytest.mark.parametrize(
    "wrong",
    [{"n": -1}, {"stitches": 0}, {"hand": 2.0}, {"do": Act.CHECK, "cause": "gremlins"}, {"do": Act.RUN, "meters": 0.0}],
)
def test_a_doing_that_cannot_be_is_a_sentence(wrong):
    with pytest.raises(Impossible):
        drive(Drive(**{"machine": HERON, "do": Act.STITCH} | wrong))


def test_it_is_driven_over_http_and_keeps_nothing(bench):
    before = bench.get("log")
    asked = {"machine": {"seed": 7, "cloth": {"dark": True}}, "do": "stitch", "n": 2}
    found = bench.post("bench/machine", asked)
    assert found["line"]["grade"] == SimulatedMachine(7, cloth=SimCloth(dark=True)).stitch(2).grade
    assert found["picture"].startswith("<svg")
    assert found["words"].startswith("40 stitches.")
    # What comes out goes in again as it is.
    assert bench.post("bench/machine", {**asked, "machine": found["machine"]}) == found
    where, says = bench.refused("bench/machine", {"machine": {"seed": 7, "screw": 900}, "do": "pull"})
    assert (where, says) == ("machine", "The screw goes from -60 to 60. 900 is outside.")
    assert bench.refused("bench/machine", {"machine": {"seed": "seven"}, "do": "pull"})[0] == "seed"
    assert "whole number" in bench.refused("bench/machine", {"machine": {"seed": -7}, "do": "pull"})[1]
    assert bench.get("log") == before
