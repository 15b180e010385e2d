"""Practice: rounds that are played, left and judged, an eye that is counted, and a log that knows nothing of it."""

from __future__ import annotations

import io
from datetime import timedelta

import numpy as np
import pytest
from pypdf import PdfReader
from scipy import stats
from statsmodels.stats.proportion import proportion_confint

from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.eye import Eye, GradeRead, Grading, confusions, general_eye, own_eye
from weftonos.core.balance.looks import Observation
from weftonos.core.balance.posterior import BalancePrior
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.knowledge import troubles
from weftonos.learned.practiced import pulls_advised, reading, repeats_within
from weftonos.standins.machine.faults import FAULTS
from weftonos.stations.practice.cloth import begin_cloth
from weftonos.stations.practice.fault import begin_fault
from weftonos.stations.practice.rounds import LEVELS

DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)


def begin(bench, exercise, **more):
    return bench.post("machines/1/practice", {"person": "Ada", "exercise": exercise, **more}, 201)


def move(bench, round_, **made):
    return bench.post(f"practice/{round_['id']}/moves", made)


class TestEye:
    def test_the_interval_of_what_is_read_rightly_is_statsmodels_s(self):
        reads = [GradeRead(0, 0)] * 17 + [GradeRead(0, 1)] * 3 + [GradeRead(1, 1)] * 4
        rows = {row.grade: row for row in confusions(reads)}
        low, high = proportion_confint(17, 20, method="jeffreys")
        assert (rows[0].low, rows[0].high) == pytest.approx((low, high))
        assert (rows[0].looks, rows[0].read, rows[0].right) == (20, (0, 0, 17, 3, 0), 0.85)
        assert (rows[1].high, rows[-2].right, rows[-2].low) == (1.0, None, 0.0)

    def test_few_looks_are_refused_and_many_are_drawn_to_the_general_eye(self):
        with pytest.raises(CraftError, match="too few to know an eye"):
            own_eye([GradeRead(0, 0)] * 59)
        eye = own_eye([GradeRead(1, 0)] * 40 + [GradeRead(0, 0)] * 40)
        table = np.array(eye.chances)
        assert np.allclose(table.sum(axis=1), 1)
        assert np.allclose(table[0], general_eye()[0]), "of what was never seen only the general is known"
        assert 0.5 < table[3, 2] < 40 / 40, "reads +1 as 0, but not quite always"

    def test_an_eye_is_taken_into_account_as_its_table_says(self):
        """Somebody who takes a little loose for balanced: the estimate must not be led astray by it."""
        chance = np.random.default_rng(4)
        table = np.eye(5)
        table[3] = [0, 0, 0.6, 0.4, 0]
        eye = Eye(tuple(map(tuple, table.tolist())), 80)
        with_, without = [], []
        for _ in range(120):
            center = float(chance.normal(4, 1))
            looks = []
            for setting in (2.5, 3.5, 4.5, 5.5):
                latent = -1.5 * (setting - center) + chance.logistic()
                true = int(np.searchsorted([-3, -1, 1, 3], latent)) - 2
                looks.append(Observation(setting, int(chance.choice(5, p=table[true + 2])) - 2))
            prior = BalancePrior(4, 1.5)
            with_.append(estimate_balance(DIAL, prior, looks, grading=Grading(eye=eye)).center - center)
            without.append(estimate_balance(DIAL, prior, looks).center - center)
        assert np.mean(without) < np.mean(with_)
        assert abs(np.mean(with_)) < abs(np.mean(without))
        assert stats.ttest_rel(with_, without).pvalue < 0.01

    def test_it_acts_only_where_it_was_chosen_and_says_so(self, bench):
        bench.combination()
        for setting, grade in ((180, 1), (220, 0)):
            bench.post("machines/1/looks", {"setting": setting, "grade": grade})
        plain = bench.get("machines/1/balance")["estimate"]
        for n in range(8):
            round_ = begin(bench, "cloth", seed=n)
            for _ in range(8):
                round_ = move(bench, round_, choice="0")
        page = bench.get("machines/1/practice?person=Ada")
        assert (page["looks"], page["eye_from"], page["eye_used"]) == (64, 60, False)
        assert sum(row["looks"] for row in page["eye"]) == 64
        assert bench.get("machines/1/balance")["estimate"] == plain
        spec = bench.get("machines")[0]["spec"]
        bench.client.put("/api/machines/1", json={**spec, "reader": "Ada"})
        own = bench.get("machines/1/balance")["estimate"]
        assert "Read with Ada's eye, known from 64 practice lines." in [r["text"] for r in own["reasons"]]
        assert own["high"] - own["low"] > plain["high"] - plain["low"], "an eye that says 0 to everything says little"
        bench.client.put("/api/machines/1", json={**spec, "reader": "Somebody"})
        assert bench.get("machines/1/balance")["estimate"] == plain


class TestRounds:
    def test_reading_the_cloth_tells_the_truth_after_each_and_comes_to_a_score(self, bench):
        bench.combination()
        round_ = begin(bench, "cloth", seed=11)
        assert round_["shown"]["picture"]["svg"].startswith("<svg")
        assert "grade" not in str(round_["shown"]["picture"]["words"])
        right = 0
        for n in range(8):
            assert round_["shown"]["step"] == n + 1
            round_ = move(bench, round_, choice=str(n % 5 - 2))
            right += round_["shown"]["right"]
            assert round_["shown"]["last"]["words"].startswith("22 stitches.")
        assert (round_["over"], round_["shown"]["score"]) == (True, pytest.approx(12.5 * right))
        assert bench.refused(f"practice/{round_['id']}/moves", {"choice": "0"})[1].startswith("This round is over")
        again = begin(bench, "cloth", seed=11, person="Bea")
        assert again["shown"]["picture"] == begin(bench, "cloth", seed=11, person="Cleo")["shown"]["picture"]

    def test_what_an_eye_errs_in_comes_oftener(self):
        errs = [GradeRead(1, 0)] * 20 + [GradeRead(0, 0)] * 20
        often = [item["grade"] for seed in range(25) for item in begin_cloth(seed, 1, confusions(errs))]
        assert often.count(1) > 1.6 * often.count(0)

    def test_a_setting_is_found_in_the_fewest_stitches(self, bench):
        bench.combination()
        round_ = begin(bench, "setting", seed=3, level=1)
        assert round_["shown"]["picture"] is None
        assert bench.refused(f"practice/{round_['id']}/moves", {"setting": 55})[0] == "setting"
        assert bench.refused(f"practice/{round_['id']}/moves", {})[0] == "setting"
        round_ = move(bench, round_, setting=0.5)
        assert "Back: the top thread shows at none" not in round_["shown"]["picture"]["words"]
        round_ = move(bench, round_, choice="leave")
        assert (round_["shown"]["score"], "left at 0.50: top" in round_["shown"]["result"][0]) == (0, True)
        assert "The program on the same machine:" in round_["shown"]["result"][1]
        assert begin(bench, "setting")["level"] == 1, "nothing is easier than the first"
        better = begin(bench, "setting", seed=3, level=1)
        at = float(round_["shown"]["result"][2].split(" at ")[1].rstrip("."))
        better = move(bench, move(bench, better, setting=at), choice="leave")
        assert better["shown"]["score"] == 100
        assert "You: 1 line" in better["shown"]["result"][0]

    def test_even_pulls_are_told_from_uneven_ones(self, bench):
        bench.combination()
        even = [0.35 * n for n in range(12)]
        round_ = begin(bench, "pull", seed=2)
        assert bench.refused(f"practice/{round_['id']}/moves", {"taps": even[:5]})[1].startswith("A pull is 12 taps")
        late = [*even[:11], 60.0]
        assert "broke off" in bench.refused(f"practice/{round_['id']}/moves", {"taps": late})[1]
        for _ in range(5):
            round_ = move(bench, round_, taps=even)
        assert round_["shown"]["score"] == 100
        assert round_["shown"]["result"][0] == "In the band for 100% of the way."
        shaky = begin(bench, "pull", seed=2)
        for n in range(5):
            shaky = move(bench, shaky, taps=[t * (1 + 0.5 * n) for t in even])
            assert ("Faster, into the band." in shaky["shown"]["feedback"]) is (n > 0)
        assert shaky["shown"]["score"] < 50
        page = bench.get("machines/1/practice?person=Ada")
        assert page["pulls"] == pulls_advised(page["repeats"])
        spec = bench.get("machines")[0]["spec"]
        assert bench.get("machines/1/readings")["hand"] == ""
        bench.client.put("/api/machines/1", json={**spec, "reader": "Ada"})
        assert bench.get("machines/1/readings")["hand"] == page["hand_text"]

    def test_pulls_advised_make_a_reading_good_to_five_in_a_hundred(self):
        chance = np.random.default_rng(2)
        for spread in (0.03, 0.05, 0.07):
            means = chance.normal(1, spread, (4000, pulls_advised(spread))).mean(axis=1)
            assert np.mean(abs(means - 1) < 0.05) > 0.94
        assert repeats_within([reading(200, [0.35 * n for n in range(12)])]) is None

    def test_hands_near_the_needle_with_the_power_on_end_the_round(self, bench):
        bench.combination()
        round_ = begin(bench, "fault", seed=4)
        hands = {c.id for c in troubles().causes if c.hands}
        near = next(c["value"] for c in round_["shown"]["choices"] if c["value"] in hands)
        assert bench.refused(f"practice/{round_['id']}/moves", {"choice": "pray"})[0] == "choice"
        dead = move(bench, round_, choice=near)
        assert (dead["over"], dead["shown"]["score"]) == (True, 0)
        assert dead["shown"]["result"][0].startswith("Hands near the needle with the power on")

    def test_a_fault_is_found_by_its_checks_and_proved_by_a_line(self, bench):
        bench.combination()
        made = begin_fault(4, 1)
        round_ = begin(bench, "fault", seed=4, level=1)
        round_ = move(bench, round_, choice="switch")
        assert "Switch the machine on" in bench.refused(f"practice/{round_['id']}/moves", {"choice": "stitch"})[1]
        round_ = move(bench, round_, choice=made["faults"][0])
        assert "found, and mended" in round_["shown"]["feedback"]
        round_ = move(bench, move(bench, round_, choice="switch"), choice="stitch")
        assert round_["over"]
        assert round_["shown"]["score"] == 100
        name = troubles().cause(made["faults"][0]).name.lower()
        assert round_["shown"]["result"][1] == f"It was: {name}."
        assert "The program takes" in round_["shown"]["result"][2]

    @pytest.mark.parametrize("level", range(1, 11))
    def test_every_level_has_a_machine_in_trouble_that_can_be_mended(self, level):
        for seed in range(4):
            made = begin_fault(seed, level)
            assert len(made["faults"]) == (2 if level >= 7 else 1)
            assert set(made["faults"]) <= set(made["offered"])
            assert not any(troubles().cause(name).technician for name in made["faults"])
            assert set(made["faults"]) <= set(FAULTS)

    def test_quick_questions_have_one_right_answer_and_say_why(self, bench):
        bench.combination()
        field, says = bench.refused("machines/1/practice", {"person": "Ada", "exercise": "fault", "level": 11})
        assert (field, "1 to 10" in says or "10" in says) == ("level", True)
        for name, wt, fiber in (("Shingle 30", 30, "cotton"), ("Lavender 100", 100, "silk"), ("Tern 12", 12, "cotton")):
            construction = "multifilament" if fiber == "silk" else "spun"
            label = {"fiber": fiber, "construction": construction, "value": wt, "system": "wt"}
            bench.post("threads", {"name": name, "thread": label, "color": "#203040"})
        round_, asked = begin(bench, "needle", seed=1), ""
        while not round_["over"]:
            asked += round_["shown"]["ask"]
            assert len(round_["shown"]["choices"]) >= 3
            assert bench.refused(f"practice/{round_['id']}/moves", {"choice": "a nail"})[0] == "choice"
            round_ = move(bench, round_, choice=round_["shown"]["choices"][0]["value"])
            assert len(round_["shown"]["feedback"]) > 20
        assert 0 <= round_["shown"]["score"] <= 100
        assert "which needle on" in asked
        assert "Which thread should" in asked

    def test_a_thread_is_asked_for_only_where_the_best_one_has_the_weight(self, bench):
        """In a drawer of heavy threads some wishes have no answer: they are not asked, and the round goes on."""
        bench.combination()
        for n, wt in enumerate((12, 12, 16, 20)):
            label = {"fiber": "cotton", "construction": "spun", "value": wt, "system": "wt"}
            bench.post("threads", {"name": f"Tern {n}", "thread": label, "color": "#203040"})
        why = []
        for seed in range(4):
            round_ = begin(bench, "needle", seed=seed)
            while not round_["over"]:
                asked = round_["shown"]["ask"]
                round_ = move(bench, round_, choice=round_["shown"]["choices"][0]["value"])
                why += [round_["shown"]["feedback"]] if asked.startswith("Which thread") else []
        assert why
        assert all("the weight is right" in each for each in why)

    def test_levels_follow_what_was_done(self, bench):
        bench.combination()
        even = [0.35 * n for n in range(12)]
        round_ = begin(bench, "pull")
        for _ in range(5):
            round_ = move(bench, round_, taps=even)
        assert begin(bench, "pull")["level"] == 2
        made = begin_fault(4, 1)
        round_ = begin(bench, "fault", seed=4)
        for choice in ("switch", made["faults"][0], "switch", "stitch"):
            round_ = move(bench, round_, choice=choice)
        assert begin(bench, "fault")["level"] == 2


class TestApartFromTheLog:
    def test_nothing_of_it_reaches_a_real_machine(self, bench):
        bench.combination()
        before = {path: bench.get(path) for path in ("log?limit=200", "machines/1/line", "machines/1/balance")}
        even = [0.35 * n for n in range(12)]
        for exercise, made in (
            ("cloth", {"choice": "1"}),
            ("setting", {"setting": 5.0}),
            ("pull", {"taps": even}),
            ("fault", {"choice": "switch"}),
        ):
            move(bench, begin(bench, exercise, seed=6, **({"level": 1} if exercise == "setting" else {})), **made)
        assert {path: bench.get(path) for path in before} == before
        assert bench.get("machines/1/evidence")["statements"] == []

    def test_a_round_left_for_a_week_goes_on_where_it_was(self, bench):
        bench.combination()
        round_ = move(bench, begin(bench, "cloth", seed=9), choice="0")
        bench.now += timedelta(days=7)
        assert bench.get(f"practice/{round_['id']}") == round_
        page = bench.get("machines/1/practice?person=Ada")
        assert page["progress"][0]["open"] == round_["id"]
        assert move(bench, round_, choice="1")["shown"]["step"] == 3

    @pytest.mark.parametrize(
        ("asked", "field"),
        [
            ({"seed": "seven"}, "seed"),
            ({"seed": -1}, "seed"),
            ({"seed": 2**40}, "seed"),
            ({"person": " "}, "person"),
            ({"person": "A" * 41}, "person"),
            ({"exercise": "juggling"}, "exercise"),
            ({"level": 0}, "level"),
        ],
    )
    def test_what_cannot_be_begun_is_said(self, bench, asked, field):
        bench.combination()
        assert bench.refused("machines/1/practice", {"person": "Ada", "exercise": "cloth", **asked})[0] == field
        assert bench.get("machines/1/practice")["people"] == []
        assert bench.client.get("/api/practice/77").status_code == 404

    def test_a_name_of_forty_letters_is_taken(self, bench):
        bench.combination()
        bench.post("machines/1/practice", {"person": "A" * 40, "exercise": "cloth"})
        assert bench.get("machines/1/practice")["people"] == ["A" * 40]

    def test_a_sheet_for_a_class_is_its_number(self, bench):
        first, same, other = (bench.client.get(f"/api/practice/sheet.pdf?seed={n}").content for n in (5, 5, 6))

        def words(pdf):
            return " ".join(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages).split())

        assert words(first) == words(same) != words(other)
        assert len(PdfReader(io.BytesIO(first)).pages) == 3
        assert "Read the cloth" in words(first)
        assert "Line 1: " in words(first).split("Answers")[-1]
        assert "Line 1: " not in words(first).split("Answers")[0]
        assert bench.client.get("/api/practice/sheet.pdf?seed=x").status_code == 422


class TestLevels:
    def test_every_exercise_goes_on_to_a_harder_level(self, bench):
        bench.combination()
        for n, weight in enumerate((40, 50, 60, 80, 100)):
            thread = {"fiber": "cotton", "construction": "spun", "value": weight, "system": "wt"}
            bench.post("threads", {"name": f"Tern {n}", "thread": thread})
        for exercise, most in LEVELS.items():
            assert most > 1, exercise
            for level in range(1, most + 1):
                round_ = begin(bench, exercise.value, level=level, seed=5)
                assert (round_["level"], round_["shown"]["step"] is not None) == (level, True)

    def test_an_even_hand_finds_a_narrower_band_next_time(self, bench):
        bench.combination()
        taps = [0.35 * n for n in range(12)]
        bands = []
        for _ in range(2):
            round_ = begin(bench, "pull", seed=3)
            shown = round_["shown"]
            bands.append((round_["level"], shown["high"] / shown["low"]))
            for _ in range(5):
                round_ = move(bench, round_, taps=taps)
            assert round_["shown"]["score"] >= 85
        assert [level for level, _ in bands] == [1, 2]
        assert bands[1][1] < bands[0][1]

    @pytest.mark.parametrize("seed", range(12))
    def test_no_one_answer_passes_a_round(self, seed):
        """Also for somebody who reads both worst grades as the next ones, round after round."""
        worst = [GradeRead(true, true // 2 if abs(true) == 2 else true) for true in (-2, -1, 0, 1, 2)] * 40
        items = begin_cloth(seed, 1, confusions(worst))
        there = [item["grade"] for item in items]
        assert set(there) == {-2, -1, 0, 1, 2}
        assert max(there.count(grade) for grade in there) / len(there) < 0.6
