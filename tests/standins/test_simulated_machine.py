"""The simulated machine against common practice, its published formula, and itself."""

from __future__ import annotations

import math
from collections import Counter
from xml.etree import ElementTree

import numpy as np
import pytest
from scipy import stats

from weftonos.knowledge import troubles
from weftonos.standins.machine.faults import FAULTS
from weftonos.standins.machine.laws import SimCloth, SimNeedle, SimThread, capstan, hazards, wear_by_meter
from weftonos.standins.machine.machine import DIAL, READOUT, Impossible, Scale, SimulatedMachine, graded, read_by_eye
from weftonos.standins.machine.picture import Colors, draw, words_for

COTTON, METALLIC = SimThread("cotton", 20, 0.17), SimThread("metallic", 28, 0.20, kind="metallic")
POLYESTER = SimThread("polyester", 20, 0.16)


def home(seed: int, **changes) -> SimulatedMachine:
    machine = SimulatedMachine(seed, "home", DIAL, needle=SimNeedle(90), **changes)
    machine.setting = machine.balanced_setting()
    return machine


def longarm(seed: int, **changes) -> SimulatedMachine:
    machine = SimulatedMachine(seed, **changes)
    machine.setting = machine.balanced_setting()
    return machine


@pytest.mark.parametrize(("angle", "friction"), [(math.pi, 0.2), (2 * math.pi, 0.3), (0.5, 0.15)])
def test_guides_multiply_the_pull_as_the_capstan_does(angle, friction):
    """Euler–Eytelwein, by integrating dT/dθ = µT in small steps."""
    pull = 10.0
    for _ in range(20_000):
        pull += friction * pull * angle / 20_000
    assert capstan(10.0, friction, angle) == pytest.approx(pull, rel=1e-3)


class TestWhatOneSees:
    """Common practice: too tight above shows the bobbin's thread on the front, too loose loops on the back."""

    @pytest.mark.parametrize("seed", range(6))
    def test_tighter_moves_the_lock_to_the_front(self, seed):
        machine = home(seed)
        center = machine.setting
        depths = []
        for off in (-2, -1, 0, 1, 2):
            machine.setting = center + off
            depths.append(machine.depth())
        assert depths == sorted(depths, reverse=True)
        assert abs(depths[2]) < 0.02

    def test_the_same_picture_comes_from_above_and_from_below(self):
        machine = longarm(3)
        machine.setting -= 60
        loose_above = machine.stitch(1)
        machine.setting += 60
        machine.turn_screw(20)
        tight_below = machine.stitch(1)
        assert loose_above.grade > 0
        assert tight_below.grade > 0
        # An eye cannot tell them apart; the gauge can.
        machine.turn_screw(-20)
        before = np.mean(machine.pull(0))
        machine.turn_screw(20)
        assert np.mean(machine.pull(0)) > 1.3 * before

    def test_no_knob_cures_a_thread_outside_the_discs(self):
        for seed in range(8):
            machine = home(seed)
            machine.put_in(["top_thread_outside_the_discs"])
            machine.setting = 10
            assert machine.stitch().grade >= 1
            assert machine.check("top_thread_outside_the_discs").found
            machine.setting = machine.balanced_setting()
            assert machine.stitch().grade == 0

    def test_ladders_are_as_practitioners_read_them(self):
        """Common practice: one or two good steps on a dial, fine cotton near 2 to 4, metallic lower still."""
        good, cotton, metallic, polyester = [], [], [], []
        for seed in range(30):
            machine = home(seed)
            steps = 0
            for setting in range(11):
                machine.setting = float(setting)
                steps += machine.stitch(setting).grade == 0
            good.append(steps)
            cotton.append(home(seed, top=COTTON).setting)
            metallic.append(home(seed, top=METALLIC).setting)
            polyester.append(home(seed, top=POLYESTER).setting)
        assert 1 <= np.median(good) <= 3
        assert 1.5 <= np.median(cotton) <= 4
        assert 0.5 <= np.median(metallic) <= 2.5
        assert np.median(metallic) < np.median(cotton) < np.median(polyester) <= 5

    def test_a_readout_balances_near_the_bobbin_s_number(self):
        ratios = [longarm(seed).setting / longarm(seed).pulls_now()[1] for seed in range(30)]
        assert 0.75 < np.median(ratios) < 1.25

    def test_a_grade_is_what_shows(self):
        assert [graded([d] * 10).grade for d in (0.9, 0.5, 0.0, -0.5, -0.9)] == [2, 0, 0, 0, -2]
        assert graded([0.9] * 2 + [0.0] * 8).grade == 1
        assert graded([-0.9] * 2 + [0.0] * 8).grade == -1


class TestWhatWears:
    def test_out_of_the_groove_frays_and_a_size_up_cures_it(self):
        thick = SimThread("cotton", 50, 0.29)
        common = {"above_mn": 160, "below_mn": 160, "worn": 0.0, "speed": 1.0, "spikes": 0.0, "weak": 1.0}
        small, large = (hazards(thick, COTTON, SimNeedle(metric), SimCloth(), **common).rubbed for metric in (75, 110))
        assert small > 3 * large

    def test_a_fine_thread_in_a_large_needle_snaps(self):
        fine = SimThread("silk", 10, 0.11)
        common = {"above_mn": 150, "below_mn": 150, "worn": 0.0, "speed": 1.0, "spikes": 0.0, "weak": 1.0}
        large, small = (hazards(fine, COTTON, SimNeedle(metric), SimCloth(), **common).snapped for metric in (120, 70))
        assert large > 1.5 * small

    def test_too_loose_breaks_as_well(self):
        common = {"below_mn": 160, "worn": 0.0, "speed": 1.0, "spikes": 0.0, "weak": 1.0}
        rates = [
            hazards(COTTON, COTTON, SimNeedle(90), SimCloth(), above_mn=pull, **common).snapped
            for pull in (20, 160, 900)
        ]
        assert rates[1] < rates[0]
        assert rates[1] < rates[2]

    def test_titanium_lasts_and_a_sharp_does_not(self):
        temper = longarm(1).temper
        wear = {
            n: wear_by_meter(n, SimCloth(), temper)
            for n in (SimNeedle(90), SimNeedle(90, titanium=True), SimNeedle(90, "sharp"))
        }
        steel, titanium, sharp = wear.values()
        assert 2 < steel / titanium < 5
        assert sharp > steel

    def test_breaks_come_as_their_hazard_says(self):
        """Meters to a break are exponential with the hazard of the machine as it stands (Kolmogorov–Smirnov)."""
        meters = []
        for n in range(300):
            machine = longarm(2)
            machine.put_in(["needle_turned_or_backwards"])
            rate = machine.hazards_now().total
            done, broke = machine.run(5000, n)
            assert broke is not None
            meters.append(done)
        assert stats.kstest(meters, "expon", args=(0, 1 / rate)).pvalue > 0.01


class TestFaults:
    def test_each_is_a_cause_of_the_trade_and_shows_itself(self):
        assert set(FAULTS) <= {cause.id for cause in troubles().causes}
        symptoms = set(troubles().findings)
        for name, fault in FAULTS.items():
            seen: Counter[str] = Counter()
            for seed in range(25):
                machine = longarm(seed)
                machine.put_in([name])
                seen.update(machine.see().symptoms)
                assert set(fault.after) <= symptoms
            assert set(seen) <= symptoms
            assert seen, f"{name} is never seen"

    def test_what_common_practice_says_of_each_is_seen_oftener_than_on_a_sound_machine(self):
        told = {
            "top_thread_outside_the_discs": "loops_or_nest_on_the_back",
            "guide_missed_or_wrapped": "clean_snap_of_the_top_thread",
            "off_the_check_spring": "false_break_alarm",
            "needle_turned_or_backwards": "frays_above_the_eye",
            "needle_dull_burred_bent": "popping_or_thumping",
            "bobbin_badly_wound": "gauge_flutters",
            "case_bent": "gauge_flutters",
            "backlash_spring_worn": "tangle_round_the_case_after_stopping",
            "burr_on_plate": "frays_above_the_eye",
            "hook_timing": "skipped_stitches",
            "point_unsuited_to_direction": "breaks_in_one_travel_direction_only",
            "rails_bow": "breaks_only_mid_frame",
            "tail_under_the_wrong_side_of_the_foot": "nest_at_the_start",
            "stretchy_thread_wound_fast": "holes_puckers",
            "bobbin_reversed_or_not_under_spring": "bobbin_thread_dots_on_top",
        }
        for name, symptom in told.items():
            ill = well = 0
            for seed in range(25):
                machine = longarm(seed)
                well += symptom in machine.see().symptoms
                machine.put_in([name])
                ill += symptom in machine.see().symptoms
            assert ill > well + 8, (name, symptom, ill, well)

    def test_a_sound_machine_is_nearly_silent_and_two_faults_show_more_than_one(self):
        assert sum(len(longarm(seed).see().symptoms) for seed in range(40)) < 12
        machine = longarm(4)
        machine.put_in(["case_bent", "backlash_spring_worn"])
        assert machine.see().symptoms >= {"gauge_flutters", "tangle_round_the_case_after_stopping"}
        # Loose below and outside the discs above: the one hides the other's picture.
        machine.put_in(["top_thread_outside_the_discs", "bobbin_reversed_or_not_under_spring"])
        both = machine.depth()
        machine.put_in(["top_thread_outside_the_discs"])
        assert both < machine.depth()

    def test_a_check_mends_what_it_finds_and_nothing_else(self):
        machine = longarm(1)
        machine.put_in(["case_bent", "burr_on_plate"])
        assert not machine.check("hook_dry").found
        assert machine.check("case_bent").found
        assert machine.faults == ["burr_on_plate"]
        assert not machine.check("case_bent").found
        overlooked = 0
        for n in range(1000):
            machine.put_in(["burr_on_plate"])
            overlooked += not machine.check("burr_on_plate", n).found
        assert stats.binomtest(overlooked, 1000, 0.02).pvalue > 0.001


class TestSeeds:
    def test_equal_seeds_are_equal_and_others_are_not(self):
        one, two, other = SimulatedMachine(7), SimulatedMachine(7), SimulatedMachine(8)
        assert one.stitch(3) == two.stitch(3)
        assert one.pull(2) == two.pull(2)
        assert one.run(50, 1) == two.run(50, 1)
        assert one.temper != other.temper
        assert one.stitch(3) != one.stitch(4)

    @pytest.mark.parametrize("seed", [-1, 2**31, 1.5, "seven", True, None])
    def test_a_seed_that_is_none_is_said(self, seed):
        with pytest.raises(Impossible, match="whole number"):
            SimulatedMachine(seed)

    @pytest.mark.parametrize(
        ("changes", "says"),
        [
            ({"faults": ["gremlins"]}, "isn't a fault this machine can have"),
            ({"faults": list(FAULTS)[:5]}, "would be a wreck, not a machine"),
            ({"scale": Scale(5, 5, 1)}, "two ends"),
            ({"head": "loom"}, "longarm or a home machine"),
        ],
    )
    def test_an_impossible_machine_is_said(self, changes, says):
        with pytest.raises(Impossible, match=says):
            SimulatedMachine(1, **changes)

    def test_what_cannot_be_done_is_said(self):
        machine = SimulatedMachine(1)
        with pytest.raises(Impossible, match="screw"):
            machine.turn_screw(200)
        with pytest.raises(Impossible, match="5000"):
            machine.run(0)


class TestPictures:
    @pytest.mark.parametrize("grade", [-2, -1, 0, 1, 2])
    @pytest.mark.parametrize("cloth", [SimCloth(), SimCloth(dark=True), SimCloth(print=True)])
    def test_each_grade_is_drawn_and_told(self, grade, cloth):
        depths = {-2: [-0.95] * 20, -1: [-0.75] * 4 + [-0.4] * 16, 0: [0.1] * 20}
        line = graded(depths.get(grade) or [-d for d in depths[-grade]])
        assert line.grade == grade
        colors = Colors("#112233", "#445566")
        drawn = ElementTree.fromstring(draw(line, cloth, colors, 5))
        assert draw(line, cloth, colors, 5) == draw(line, cloth, colors, 5)
        own = [p.get("stroke") for p in drawn if p.tag.endswith("path")]
        # What comes through: the bobbin's thread among the upper side's, the top's among the lower side's.
        assert (own[:20] != ["#112233"] * 20 or line.front > 0) == (line.front > 0)
        seen = words_for(line)
        assert ("Front: the bobbin thread shows at none" in seen) == (grade >= 0)
        assert ("Back: the top thread shows at none" in seen) == (grade <= 0)
        assert drawn.get("aria-label") == seen

    def test_an_eye_slips_to_the_neighbor_and_more_on_print(self):
        line = graded([0.1] * 20)
        chance = np.random.default_rng(1)
        read = [read_by_eye(line, chance) for _ in range(2000)]
        hard = [read_by_eye(line, chance, hard=True) for _ in range(2000)]
        assert set(read) == {-1, 0, 1}
        assert stats.binomtest(sum(r != 0 for r in read), 2000, 0.07).pvalue > 0.001
        assert sum(r != 0 for r in hard) > 2 * sum(r != 0 for r in read)


def test_readout_and_dial_are_what_machines_have():
    assert READOUT.turned(240) == 0.5
    assert DIAL.snap(4.6) == 4.5
    assert DIAL.snap(99) == 10
