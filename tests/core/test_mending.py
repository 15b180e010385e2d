"""What the records know, own outcomes, break rates, upkeep, preflight, cures, and a trouble's steps."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import beta, chi2, dirichlet, poisson

from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.counting import break_rate, count_interval
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.kernel.sandwich import Loft, Sandwich, Weave
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.stations import Station
from weftonos.core.mend.circumstance import Circumstances, Since, changes, conditions
from weftonos.core.mend.cure import cure_for
from weftonos.core.mend.diagnosis import CheckAnswer, Observed, diagnose
from weftonos.core.mend.incident import (
    Incident,
    IncidentAnswer,
    IncidentCheck,
    IncidentOutcome,
    Outcome,
    Preflight,
    incident_state,
    inquiry_of,
)
from weftonos.core.mend.own_outcomes import (
    FINDINGS_COUNT_AS,
    PAGE_COUNTS_AS,
    SolvedTrouble,
    own_counts,
    with_own_outcomes,
)
from weftonos.core.mend.upkeep import UpkeepKind, upkeep_state
from weftonos.core.needle.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.setup.setup import CaseTag, NeedleTag, ReadingTag, Setup, ThreadTag
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.path import usual_path
from weftonos.core.thread.thread import Construction, Fiber, Thread
from weftonos.knowledge import troubles

KNOWN = troubles()
NOON = datetime(2026, 11, 20, 12, tzinfo=UTC)
PATH = usual_path(MachineKind.LONGARM, 3)
LONGARM = KNOWN.at(OF_KIND[MachineKind.LONGARM])


def tag(id_: int, name: str, tex: float, fiber: Fiber = Fiber.POLYESTER) -> ThreadTag:
    construction = Construction.SPUN if fiber is Fiber.COTTON else Construction.MULTIFILAMENT
    thread = Thread(fiber=fiber, construction=construction, value=tex, system=WeightSystem.TEX)
    return ThreadTag(
        id=id_,
        name=name,
        words="",
        fiber=fiber,
        construction=construction,
        tex=tex,
        diameter_mm=thread.diameter_mm,
        color="#000000",
    )


def needle(metric: int, record: int = 1, point: Point = Point.TOPSTITCH) -> NeedleTag:
    return NeedleTag(
        record_id=record,
        metric=metric,
        american=NeedleSize.of_metric(metric).american,
        point=point,
        finish=NeedleFinish.STEEL,
        fitted_at=NOON,
    )


GOOD = Setup(
    top=(tag(1, "Samphire 50", 20),),
    top_since=NOON,
    bobbin=tag(2, "Limpet 80", 12.5),
    bobbin_since=NOON,
    needle=needle(90),
    reading=ReadingTag(record_id=5, mean_mn=200, scatter_mn=3, swing=0.02, calmness=Calmness.CALM, read_at=NOON),
    sandwich=Sandwich(batting="cotton, low", loft=Loft.LOW),
    case=CaseTag(1, "A", 1.0),
)


def changed(after: Setup, since: Since | None = None) -> dict[str, tuple[str, ...]]:
    """What changed, by the first finding: before, after and the other findings."""
    found = changes(GOOD, after, since or Since())
    return {c.findings[0]: (c.before, c.after, *c.findings[1:]) for c in found if c.changed}


class TestWhatChanged:
    def test_nothing(self):
        assert changed(GOOD) == {}
        watched = [c.findings[0] for c in changes(GOOD, GOOD, Since())]
        assert {"needle", "top_thread", "bobbin", "fabric", "batting", "service"} <= set(watched)

    def test_a_heavier_thread_is_new_and_was_threaded(self):
        later = NOON + timedelta(hours=1)
        after = replace(GOOD, top=(tag(3, "Shingle 30", 33.3, Fiber.COTTON),), top_since=later)
        assert changed(after) == {
            "top_thread": ("Samphire 50", "Shingle 30", "heavier_thread"),
            "re_threading": ("", ""),
        }
        finer = replace(GOOD, top=(tag(4, "Sea Lavender 100", 10),), top_since=later)
        assert changed(finer)["top_thread"][-1] == "finer_thread"
        assert changed(replace(GOOD, top_since=later)) == {"re_threading": ("", "")}

    def test_needles_larger_smaller_and_only_new(self):
        assert changed(replace(GOOD, needle=needle(100, 2)))["needle"][-1] == "larger_needle"
        assert changed(replace(GOOD, needle=needle(80, 2)))["needle"][-1] == "smaller_needle"
        assert len(changed(replace(GOOD, needle=needle(90, 2)))["needle"]) == 2

    def test_the_bobbin_its_fiber_its_case_and_its_screw(self):
        later = NOON + timedelta(hours=1)
        cotton = replace(
            GOOD, bobbin=tag(6, "Oyster 60", 16, Fiber.COTTON), bobbin_since=later, case=CaseTag(2, "B", 1)
        )
        says = changed(cotton, Since(screw_turned=True))
        assert says["bobbin_thread"] == ("Limpet 80", "Oyster 60", "fiber_change")
        assert says["bobbin_case"] == ("case A", "case B")
        assert {"bobbin", "screw_turned"} <= says.keys()
        assert changed(replace(GOOD, bobbin_since=later)).keys() == {"bobbin"}

    def test_sandwich_setting_quilt_and_upkeep(self):
        after = replace(GOOD, sandwich=Sandwich(batting="wool", loft=Loft.LOFTY, weave=Weave.BATIK))
        since = Since(
            upkeep=(UpkeepKind.OILING, UpkeepKind.SERVICE),
            screw_turned=False,
            setting_before="200",
            setting_now="220",
            quilt_before="Neap Tide",
            quilt_now="Avocet",
        )
        says = changed(after, since)
        assert says["batting"] == ("cotton, low", "wool")
        assert says["setting_moved"] == ("200", "220")
        assert says["new_quilt"] == ("Neap Tide", "Avocet")
        assert {"fabric", "cleaning", "service"} <= says.keys()


class TestConditions:
    def test_nothing_known_says_nothing(self):
        assert conditions(Circumstances()) == (frozenset(), frozenset())

    @pytest.mark.parametrize(
        ("known", "holds", "lacks"),
        [
            (
                Circumstances(bobbin_mn=240, target=BobbinTarget(low=180, high=220)),
                {"bobbin_reads_high"},
                {"bobbin_reads_right"},
            ),
            (
                Circumstances(bobbin_mn=150, target=BobbinTarget(low=180, high=220)),
                {"bobbin_reads_low"},
                {"bobbin_reads_high"},
            ),
            (Circumstances(bobbin_mn=150), set(), set()),
            (Circumstances(swing=0.16), {"bobbin_flutters"}, set()),
            (Circumstances(needle_hours=7), {"hours_over_life"}, set()),
            (Circumstances(needle_hours=7, needle_due=False), set(), {"hours_over_life"}),
            (Circumstances(grade=-1), {"looked_too_tight"}, {"looked_too_loose"}),
            (Circumstances(knob_by=2), {"knob_above_the_start"}, {"knob_below_the_start"}),
            (Circumstances(knob_by=0), set(), {"knob_above_the_start", "knob_below_the_start"}),
            (Circumstances(sandwich=Sandwich(weave=Weave.DENIM)), {"heavy_sandwich"}, set()),
            (
                Circumstances(hours_since_cleaning=8.5, hours_since_oiling=2),
                {"hours_since_cleaning"},
                {"hours_since_oiling"},
            ),
        ],
    )
    def test_what_the_records_say(self, known, holds, lacks):
        says = conditions(known)
        assert holds <= says[0]
        assert lacks <= says[1]

    @pytest.mark.parametrize(
        ("fiber", "construction", "wt", "holds"),
        [
            (Fiber.COTTON, Construction.SPUN, 12, {"linty_thread", "thread_rubs"}),
            (Fiber.SILK, Construction.MULTIFILAMENT, 100, {"slick_thread", "thread_has_play"}),
            (Fiber.METALLIC, Construction.FILM, 40, {"flat_metallic", "metallic"}),
            (Fiber.NYLON, Construction.MONOFILAMENT, 60, {"synthetic_thread", "slick_thread"}),
        ],
    )
    def test_what_the_thread_on_top_says(self, fiber, construction, wt, holds):
        thread = Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)
        found, _ = conditions(Circumstances(top=(thread,), needle=NeedleSize(125, 20), point=Point.SHARP))
        assert holds <= found

    def test_cotton_is_cleaned_after_half_the_hours(self):
        cotton = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=50, system=WeightSystem.WT)
        assert "hours_since_cleaning" in conditions(Circumstances(top=(cotton,), hours_since_cleaning=5))[0]
        assert "hours_since_cleaning" in conditions(Circumstances(hours_since_cleaning=5))[1]

    @pytest.mark.parametrize(
        ("field", "value"),
        [("needle_hours", -1), ("bobbin_mn", 1e9), ("swing", -0.1), ("hours_since_oiling", -2), ("grade", 3)],
    )
    def test_impossible_numbers_are_refused_at_their_field(self, field, value):
        with pytest.raises(CraftError) as error:
            Circumstances(**{field: value})
        assert error.value.field == field


class TestOwnOutcomes:
    SOLVED = (
        *[SolvedTrouble("heat", frozenset({"thread_melts_or_curls", "speed"}), frozenset({"batting"}))] * 3,
        SolvedTrouble("case_bent", frozenset({"gauge_flutters"})),
    )

    def test_shares_are_the_mean_of_scipys_dirichlet(self):
        page = KNOWN.weights / KNOWN.weights.sum()
        counts = [sum(s.cause == c.id for s in self.SOLVED) for c in KNOWN.causes]
        theirs = dirichlet.mean(PAGE_COUNTS_AS.value * page + counts)
        ours = with_own_outcomes(KNOWN, self.SOLVED).weights
        assert ours / ours.sum() == pytest.approx(theirs)

    def test_chances_are_the_mean_of_scipys_beta(self):
        after = with_own_outcomes(KNOWN, self.SOLVED).cause("heat").chances
        before = KNOWN.cause("heat").chances
        for name, times, told in (
            ("thread_melts_or_curls", 3, 3),
            ("frays_above_the_eye", 0, 3),
            ("speed", 3, 3),
            ("batting", 0, 3),
        ):
            prior = before[name] * FINDINGS_COUNT_AS.value
            assert after[name] == pytest.approx(
                beta.mean(prior + times, FINDINGS_COUNT_AS.value - prior + told - times)
            )
        assert after["synthetic_thread"] == before["synthetic_thread"], "conditions stay those of the page"

    def test_they_move_the_answer_and_are_taken_back_by_leaving_them_out(self):
        state = incident_state(Incident(symptoms=("frays_above_the_eye",)), [])
        inquiry = inquiry_of(LONGARM, state, Observed())
        mine = [SolvedTrouble("burr_on_plate", frozenset({"frays_above_the_eye"}))] * 12
        usual, own = diagnose(KNOWN, inquiry), diagnose(with_own_outcomes(KNOWN, mine), inquiry)
        assert usual.causes[0].cause != "burr_on_plate"
        assert own.causes[0].cause == "burr_on_plate"
        assert with_own_outcomes(KNOWN, []) is KNOWN
        (count,) = own_counts(KNOWN, mine)
        assert (count.times, count.name) == (12, "Burr on the needle plate")
        assert count.own_share > 5 * count.page_share

    def test_a_cause_the_page_no_longer_knows_changes_nothing(self):
        gone = [SolvedTrouble("moths", frozenset({"holes_puckers"})), SolvedTrouble("heat", frozenset({"smoke"}))]
        assert own_counts(KNOWN, gone)[0].cause == "heat"


class TestBreakRate:
    @given(st.integers(0, 200), st.floats(0.1, 500))
    def test_the_interval_is_garwoods_by_scipys_chi_square(self, breaks, hours):
        rate = break_rate(breaks, hours)
        low = chi2.ppf(0.025, 2 * breaks) / 2 / hours if breaks else 0
        assert rate.low == pytest.approx(low)
        assert rate.high == pytest.approx(chi2.ppf(0.975, 2 * breaks + 2) / 2 / hours)
        assert rate.low <= rate.per_hour <= rate.high

    def test_its_ends_leave_two_and_a_half_in_a_hundred_on_either_side(self):
        low, high = count_interval(7)
        assert poisson.sf(6, low) == pytest.approx(0.025)
        assert poisson.cdf(7, high) == pytest.approx(0.025)
        # Garwood 1936, the table for a count of 7.
        assert (round(low, 2), round(high, 2)) == (2.81, 14.42)

    def test_without_hours_there_is_no_rate(self):
        assert break_rate(2, 0).per_hour is None
        with pytest.raises(CraftError, match="stitching time"):
            break_rate(1, -1)


class TestUpkeep:
    def test_upkeep_counts_stitching_hours(self):
        assert upkeep_state(UpkeepKind.CLEANING, 7.9, []).text == "7.9 stitching hours ago, due in 0.1"
        assert upkeep_state(UpkeepKind.CLEANING, 8, []).due
        assert upkeep_state(UpkeepKind.OILING, None, []).text == "not on record"
        assert not upkeep_state(UpkeepKind.SERVICE, 500, []).due

    def test_no_more_is_ticked_than_listed(self):
        with pytest.raises(CraftError, match="More checks are ticked"):
            Preflight(("a", "b"), 1)


class TestCures:
    @pytest.mark.parametrize(
        ("cause", "station", "part", "words"),
        [
            ("groove_too_small_for_thread", Station.NEEDLE, "in", "Size up: fit 100/16 topstitch"),
            ("needle_too_large_for_thread", Station.NEEDLE, "in", "Size down: fit 80/12 topstitch"),
            ("needle_dull_burred_bent", Station.NEEDLE, "in", "Fit a new 90/14 topstitch"),
            ("point_unsuited_to_direction", Station.NEEDLE, "in", "Fit 90/14 ballpoint"),
            ("top_thread_outside_the_discs", Station.THREAD, "path", "The thread path, at tension discs"),
            ("bobbin_too_tight", Station.BOBBIN, "read", "The bobbin station"),
            ("top_too_loose", Station.BALANCE, "find", "Where the balance lies"),
            ("hook_dry", Station.MEND, "upkeep", "Note the upkeep"),
            ("uneven_hand_speed", None, "", ""),
        ],
    )
    def test_a_cause_leads_to_its_station_filled_in(self, cause, station, part, words):
        cure = cure_for(KNOWN.cause(cause), GOOD, PATH)
        assert (cure.station, cure.part, cure.words) == (station, part, words)

    def test_without_a_needle_on_record_it_asks_for_one(self):
        cure = cure_for(KNOWN.cause("heat"), Setup(), PATH)
        assert (cure.words, cure.metric) == ("Note the needle", None)

    def test_every_point_of_the_path_that_is_named_is_on_the_usual_paths(self):
        for cause in KNOWN.causes:
            for machine in MachineKind if cause.point else ():
                assert cure_for(replace(cause, opens="path"), GOOD, usual_path(machine))


class TestSteps:
    INCIDENT = Incident(symptoms=("frays_above_the_eye",), changed=("needle",), unchanged=("top_thread",))

    def test_a_path_is_folded_in_order(self):
        state = incident_state(
            self.INCIDENT,
            [
                IncidentAnswer(incident=1, finding="breaks_only_mid_frame", present=False),
                IncidentAnswer(incident=1, finding="only_at_speed", present=None),
                IncidentCheck(incident=1, cause="heat", answer=CheckAnswer.SKIPPED),
                IncidentCheck(incident=1, cause="heat", answer=CheckAnswer.FOUND),
            ],
        )
        assert state.present == {"frays_above_the_eye", "needle"}
        assert state.absent == {"top_thread", "breaks_only_mid_frame"}
        assert state.asked == {"breaks_only_mid_frame", "only_at_speed"}
        assert state.answers == {"heat": CheckAnswer.FOUND}
        assert not state.closed

    @pytest.mark.parametrize("outcome", Outcome)
    def test_how_it_ends(self, outcome):
        steps = [
            IncidentCheck(incident=1, cause="heat", answer=CheckAnswer.FOUND),
            IncidentOutcome(incident=1, outcome=outcome, cause="heat"),
        ]
        state = incident_state(self.INCIDENT, steps)
        assert state.closed is (outcome in (Outcome.CURED, Outcome.LEFT))
        if outcome is Outcome.NOT_CURED:
            assert state.answers == {"heat": CheckAnswer.NOT_IT}
            assert state.outcome is None

    def test_what_the_page_no_longer_knows_is_left_out(self):
        odd = incident_state(
            Incident(symptoms=("frays_above_the_eye", "smoke")),
            [IncidentCheck(incident=1, cause="moths", answer=CheckAnswer.FOUND)],
        )
        inquiry = inquiry_of(LONGARM, odd, Observed())
        assert diagnose(KNOWN, inquiry).next is not None

    def test_an_answer_takes_the_place_of_what_was_said_before(self):
        asked = [IncidentAnswer(incident=1, finding="needle", present=False)]
        assert incident_state(self.INCIDENT, asked).absent == {"needle", "top_thread"}
