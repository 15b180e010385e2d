"""What earlier sittings, other layers, other readings and a season of lines say of a balance."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import dblquad
from scipy.special import expit

from weftonos.core.balance.carried import LookUnder, carried_over
from weftonos.core.balance.combination import Combination
from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.eye import Grading
from weftonos.core.balance.looks import Observation
from weftonos.core.balance.moved import MOVES, moved_from
from weftonos.core.balance.posterior import STEEPNESS, BalancePrior, StitchedBefore, grid_of, posterior_of
from weftonos.core.balance.sittings import sittings, upon_earlier
from weftonos.core.balance.starting_point import starting_point
from weftonos.core.balance.steadiness import STEADINESS, _evidence, steadiness_of
from weftonos.core.balance.stitched import LEFT_OVER, BalanceRecord
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Loft, Motion, Weave
from weftonos.core.kernel.scale import ScaleKind, TopScale

DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)
READOUT = TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5)
EVENING = datetime(2026, 11, 1, 20)


def combination(loft=Loft.LOW, weave=Weave.ORDINARY, bobbin_mn=200.0) -> Combination:
    return Combination(
        diameter_mm=0.25,
        drag=0.2,
        bobbin_mn=bobbin_mn,
        loft=loft,
        weave=weave,
        motion=Motion.FREE_MOTION,
        school_setting=4.0,
    )


def record(threads: str, setting: float, spread: float = 0.2, **lies) -> BalanceRecord:
    what = combination(**lies)
    return BalanceRecord(
        combination=what,
        setting=setting,
        name=threads,
        spread=spread,
        looks=(Observation(setting, 0),),
        key=((threads,), ("below", False), (what.loft, what.weave), what.motion),
    )


def key(threads: str, **lies):
    return record(threads, 4.0, **lies).key


class TestSittings:
    def test_a_night_parts_them_and_a_pot_of_tea_does_not(self):
        hours = [0, 0.2, 1.5, 14, 14.1, 40]
        looks = [(EVENING + timedelta(hours=h), Observation(n, 0)) for n, h in enumerate(hours)]
        assert [[look.setting for look in each] for each in sittings(looks)] == [[0, 1, 2], [3, 4], [5]]
        assert sittings([]) == [()]

    def test_more_than_a_few_are_told_apart_no_more(self):
        looks = [(EVENING + timedelta(days=n), Observation(n % 10, 0)) for n in range(30)]
        parted = sittings(looks)
        assert len(parted) == 4
        assert [look for each in parted for look in each] == [look for _, look in looks]

    def test_good_yesterday_and_tight_today_goes_looser_than_if_both_were_of_today(self):
        yesterday, today = (Observation(5, 0),) * 3, [Observation(5, -1)]
        prior = BalancePrior(5, 1.2)
        both = estimate_balance(DIAL, prior, [*yesterday, *today])
        faded = estimate_balance(DIAL, upon_earlier(prior, [yesterday], LEFT_OVER.value), today)
        assert faded.center < both.center
        assert faded.set_to < 5
        assert not faded.sure
        assert "The 3 before count for less." in faded.reasons[0].text

    def test_they_still_say_more_than_nothing(self):
        yesterday = (Observation(5, 0), Observation(6, -1), Observation(4, 1))
        prior = BalancePrior(5, 1.2)
        with_them = estimate_balance(DIAL, upon_earlier(prior, [yesterday], LEFT_OVER.value), [Observation(5, 0)])
        without = estimate_balance(DIAL, prior, [Observation(5, 0)])
        assert with_them.spread < without.spread

    @given(
        st.floats(0.05, 3), st.floats(0, 0.3), st.lists(st.tuples(st.integers(0, 10), st.integers(-2, 2)), max_size=4)
    )
    def test_straying_is_the_whole_matrix_written_out(self, drift, anywhere, graded):
        looks = tuple(Observation(*each) for each in graded)
        before = StitchedBefore(expected=BalancePrior(4, 1), looks=looks, drift=drift, anywhere=anywhere, center=4)
        centers, _, found = posterior_of(DIAL, before, [])
        _, _, known = posterior_of(DIAL, BalancePrior(4, 1), looks)
        apart = np.subtract.outer(centers, centers) / drift
        strays = np.exp(-0.5 * apart**2)
        whole = (1 - anywhere) * (strays / strays.sum(axis=0)) @ known + anywhere * known.sum(axis=0) / len(centers)
        assert found == pytest.approx(whole, abs=1e-6)
        assert found.sum() == pytest.approx(1)


class TestMoved:
    BEFORE = (
        record("Tern", 4.0),
        record("Tern", 4.8, loft=Loft.MEDIUM),
        record("Limpet", 3.0),
        record("Limpet", 3.9, loft=Loft.MEDIUM),
        record("Dunlin", 5.0),
    )

    def test_it_is_least_squares_through_no_move_drawn_to_what_is_expected(self):
        """statsmodels, with what is expected as one more row."""
        found = moved_from(DIAL, combination(loft=Loft.LOFTY), key("Dunlin", loft=Loft.LOFTY), self.BEFORE)
        assert found is not None
        own = 1 / (2 * LEFT_OVER.value**2 + 2 * 0.2**2)
        rows, moved = np.array([1.0, 1.0, 1.0]), np.array([0.8, 0.9, 0.0])
        by_hand = sm.WLS(moved, rows, weights=[own, own, 1 / MOVES["batting"].value ** 2]).fit()
        assert found.by == pytest.approx(2 * by_hand.params[0])
        assert found.spread == pytest.approx(2 * math.sqrt(1 / (2 * own + 1 / MOVES["batting"].value ** 2)))
        assert (found.changes, found.record.name) == (2, "Dunlin")
        assert found.words(DIAL) == (
            "These threads balanced at 5.00 over flatter batting. "
            "Loftier batting should move them about 1 tighter, by 2 such changes here."
        )

    def test_going_back_moves_them_the_other_way(self):
        up = moved_from(DIAL, combination(loft=Loft.MEDIUM), key("Dunlin", loft=Loft.MEDIUM), self.BEFORE)
        back = [*self.BEFORE, record("Knot", 6.0, loft=Loft.MEDIUM)]
        down = moved_from(DIAL, combination(), key("Knot"), back)
        assert up is not None and down is not None
        assert down.by == pytest.approx(-up.by)
        assert "looser" in down.words(DIAL)

    def test_what_never_changed_here_is_said_to_be_not_known(self):
        found = moved_from(DIAL, combination(weave=Weave.BATIK), key("Tern", weave=Weave.BATIK), self.BEFORE)
        assert found is not None
        assert (found.changes, found.by) == (0, 0)
        assert found.words(DIAL).endswith("How far batik moves them isn't known here yet.")

    def test_where_two_things_differ_nothing_is_said(self):
        lies = {"loft": Loft.MEDIUM, "weave": Weave.DENIM}
        assert moved_from(DIAL, combination(**lies), key("Dunlin", **lies), self.BEFORE) is None

    def test_where_nobody_said_what_lay_under_the_needle_nothing_is_said(self):
        unsaid = ((("Dunlin",), ("below", False), None, Motion.FREE_MOTION), combination(loft=Loft.MEDIUM))
        assert moved_from(DIAL, unsaid[1], unsaid[0], self.BEFORE) is None

    def test_a_reading_moves_them_by_its_ratio(self):
        before = [record("Tern", 4.0), record("Tern", 6.0, bobbin_mn=250), record("Knot", 3.0)]
        found = moved_from(DIAL, combination(bobbin_mn=225), key("Knot", bobbin_mn=225), before)
        whole = moved_from(DIAL, combination(bobbin_mn=250), key("Knot", bobbin_mn=250), before)
        assert found is not None and whole is not None
        assert found.by / whole.by == pytest.approx(math.log(225 / 200) / math.log(250 / 200))
        assert 1 < whole.by < 2
        assert "with a looser bobbin. A tighter bobbin should move them" in whole.words(DIAL)

    def test_the_start_is_moved_and_says_so(self):
        lies = {"loft": Loft.LOFTY}
        found = starting_point(DIAL, combination(**lies), self.BEFORE, key("Dunlin", **lies))
        flat = starting_point(DIAL, combination(), self.BEFORE, key("Dunlin"))
        assert found.center > flat.center + 0.8
        assert "should move them about" in found.text
        unknown = starting_point(DIAL, combination(**lies), self.BEFORE[4:], key("Dunlin", **lies))
        assert "isn't known here yet" in unknown.text


class TestSteadiness:
    @staticmethod
    def stitch(chance, steadiness):
        """Walk to one balance, graded by the cumulative logit written out anew."""
        center, steep = chance.uniform(2, 8), chance.choice([s.value for s in STEEPNESS])
        looks = []
        for _ in range(4):
            setting = round(4 * (center + chance.normal(0, 1))) / 4
            latent = steep * (center - setting)
            cumulated = [expit(steadiness * (cut - latent)) for cut in (-3, -1, 1, 3)]
            looks.append(Observation(float(setting), int((chance.random() > np.array(cumulated)).sum()) - 2))
        return tuple(looks)

    def test_lines_tell_steady_stitches_from_others(self):
        chance = np.random.default_rng(5)
        plain, steady = (steadiness_of(DIAL, [self.stitch(chance, true) for _ in range(80)]) for true in (1.0, 2.0))
        assert plain < 1.05
        assert steady > 1.4

    def test_few_lines_leave_it_with_the_model(self):
        assert steadiness_of(DIAL, []) == 1
        assert steadiness_of(DIAL, [(Observation(4, 0),)] * 40) == 1
        assert steadiness_of(DIAL, [(Observation(4, 1), Observation(5, 0))]) < 1.4

    def test_the_evidence_is_the_integral(self):
        """SciPy, over center and each steepness."""
        looks = (Observation(4, 1), Observation(6, -1), Observation(5, 0))
        ends = grid_of(DIAL)[[0, -1]]

        def chance(center, steep, steadiness):
            whole = 1.0
            for look in looks:
                latent = steep * (center - look.setting)
                below = [0, *(expit(steadiness * (cut - latent)) for cut in (-3, -1, 1, 3)), 1]
                whole *= below[look.grade + 3] - below[look.grade + 2]
            return whole

        for n, steadiness in enumerate(STEADINESS):
            means = [
                dblquad(lambda c, _, s=s.value, k=steadiness: chance(c, s, k), 0, 1, *ends, epsabs=1e-7)[0]
                for s in STEEPNESS
            ]
            by_scipy = sum(means) / len(means) / (ends[1] - ends[0])
            assert _evidence(DIAL, looks)[n] == pytest.approx(math.log(by_scipy), abs=0.02)

    def test_a_steady_machine_is_sure_after_fewer_lines(self):
        prior, looks = BalancePrior(4.5, 1.2), [Observation(4, 1), Observation(5, 0)]
        plain = estimate_balance(DIAL, prior, looks)
        steady = estimate_balance(DIAL, prior, looks, grading=Grading(steadiness=2))
        assert steady.good_enough_probability > plain.good_enough_probability
        assert steady.high - steady.low < plain.high - plain.low


class TestAtAnotherReading:
    def test_on_a_readout_they_are_carried_over_by_the_ratio(self):
        looks = [
            LookUnder(200, 0, reading_mn=200),
            LookUnder(215, -1, reading_mn=200),
            LookUnder(185, 1, reading_mn=200),
        ]
        expected, today = carried_over(READOUT, None, looks, 150)
        found = estimate_balance(READOUT, expected, today)
        assert today == []
        assert found.set_to == pytest.approx(150, abs=10)
        assert not found.sure

    def test_elsewhere_as_they_stand_with_doubt(self):
        looks = [LookUnder(4, 0, reading_mn=200), LookUnder(5, -1, reading_mn=200), LookUnder(3, 1, reading_mn=200)]
        carried = estimate_balance(DIAL, *carried_over(DIAL, None, looks, 150))
        counted = estimate_balance(DIAL, *carried_over(DIAL, None, looks, 205))
        assert carried.spread > counted.spread + 0.2
        assert not carried.sure

    def test_one_line_of_today_has_the_last_word(self):
        looks = [LookUnder(4, 0, reading_mn=200)] * 4 + [LookUnder(4, -2, reading_mn=140)]
        found = estimate_balance(DIAL, *carried_over(DIAL, BalancePrior(4, 1), looks, 140))
        assert found.set_to < 4

    def test_without_readings_it_is_as_it_was(self):
        looks = [LookUnder(4, 0), LookUnder(5, -1, reading_mn=200)]
        assert carried_over(DIAL, None, looks, None) == (None, looks)

    def test_a_reading_of_nothing_is_refused(self):
        with pytest.raises(CraftError):
            LookUnder(4, 0, reading_mn=0)
        with pytest.raises(CraftError):
            carried_over(DIAL, None, [], -1)
