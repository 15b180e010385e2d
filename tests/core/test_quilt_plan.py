"""What a plan takes, against geometry, published figures and reference libraries; cones, evenings, what to buy."""

from __future__ import annotations

import math
import random
from datetime import UTC, date, datetime, timedelta

import numpy as np
import pint
import pytest
from icalendar import Calendar
from scipy import stats

from weftonos.core.bobbin.thread_use import BobbinClass, thread_for, wound_length_m
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Loft, Sandwich
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.plan.cones import ConeNoted, ConeSays, Stock, check_cone, lasts, stock_of, weighed_m
from weftonos.core.plan.evenings import Every, Hours, ToSew, evenings
from weftonos.core.plan.expected import THREAD_EACH, USUAL_PACE, Likely, Told, learned_factor, together
from weftonos.core.plan.passes import (
    ComesFirst,
    Pass,
    PassKind,
    PassStage,
    PassStep,
    QuiltingDensity,
    QuiltPlanned,
    pass_on,
    pass_states,
)
from weftonos.core.plan.sewn import Happened, Sewn, finished, learned_from, sewn_by_pass, share_sewn
from weftonos.core.plan.shopping import NeedleNeed, ThreadNeed, shopping_list
from weftonos.core.plan.takes import Learned, PassFacts, on_the_way, usual_pace, what_it_takes
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread
from weftonos.exchange.calendar import CalendarEntry, to_ics

COTTON = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=50, system=WeightSystem.WT)
FACTS = PassFacts(pace_m_h=80, pace_is_own=True, usual_m_h=80, bobbin_m=100, life_h=6, clean_h=8)
START = datetime(2026, 11, 1, 18, tzinfo=UTC)


def a_pass(key: int = 1, what: PassKind = PassKind.EDGE_TO_EDGE, **says) -> Pass:
    return Pass(key=key, what=what, **says)


def a_quilt(*passes: Pass, **says) -> QuiltPlanned:
    return QuiltPlanned(**{"quilt": "Dunlin", "passes": passes or (a_pass(),), "width_m": 1.5, "height_m": 2.0, **says})


# Meters


@pytest.mark.parametrize(
    ("one", "meters"),
    [
        (a_pass(lines_apart_mm=25), 120),
        (a_pass(what=PassKind.FILL, share=0.5, density=QuiltingDensity.CLOSE), 250),
        (a_pass(what=PassKind.BINDING), 7),
        (a_pass(meters=432), 432),
        # A grid of five by seven blocks: four and six seams between, and once around.
        (a_pass(what=PassKind.DITCH, block_m=0.3), 4 * 2.0 + 6 * 1.5 + 7),
    ],
)
def test_stitched_meters_are_those_of_the_geometry(one, meters):
    assert one.meters_on(1.5, 2.0) == pytest.approx(meters)


def test_thread_for_a_seam_by_geometry_and_by_the_rule_of_the_garment_trade():
    """Type 301 takes (2 + 2 t/s) of thread for a seam by geometry, and 2.5 to 3 times the seam by the trade's rule.

    The rule is that of thread makers' consumption tables for lockstitch 301 (from memory, not verified), said for two
    layers of shirting. A quilt is thicker: it lies above that rule by what its thickness adds.
    """
    for stitch, thick in ((2.5, 0.5), (3.0, 0.9), (4.0, 1.2)):
        both = 2 * thread_for(100, stitch, thick) / 100
        geometry = 2 + 2 * thick / stitch
        assert both == pytest.approx(geometry * 1.05)
        assert 2.4 <= both <= 3.0
    quilt = 2 * thread_for(100, 3.0, Sandwich(loft=Loft.MEDIUM).thickness_mm) / 100
    assert 3.0 < quilt < 4.0


def test_a_plan_adds_up():
    plan = a_quilt(a_pass(1, lines_apart_mm=25), a_pass(2, PassKind.BINDING, below=3))
    takes = what_it_takes(plan, {1: FACTS, 2: FACTS})
    first, second = takes.passes
    assert takes.stitched_m.likely == pytest.approx(127)
    assert takes.hours.likely == pytest.approx(127 / 80)
    each = (3 + 2.5) / 3 * 1.05
    assert first.thread_m.likely == pytest.approx(120 * each)
    assert first.bobbins.likely == pytest.approx(1.2 * each)
    assert takes.bobbins.likely == pytest.approx(first.bobbins.likely + second.bobbins.likely)
    assert first.to_wind == math.ceil(first.bobbins.high)
    assert what_it_takes(a_quilt(a_pass(lines_apart_mm=3)), {1: FACTS}).passes[0].needles == int(1000 / 80 / 6)


@pytest.mark.parametrize("frame", [True, False])
def test_the_usual_pace_is_that_of_the_handbook(frame):
    assert usual_pace(PassKind.FILL, on_frame=frame) == (80 if frame else 40)
    assert usual_pace(PassKind.EDGE_TO_EDGE, on_frame=frame) == (150 if frame else 40)


# Ranges


def told(*ratios: float, what: PassKind = PassKind.EDGE_TO_EDGE) -> list[list[Told]]:
    return [[Told(ratio=ratio, parts={what: 1.0})] for ratio in ratios]


def test_a_factor_is_the_prediction_of_the_joint_distribution():
    """Against the whole covariance of what was told and what is asked, conditioned as a multivariate Student."""
    chance = random.Random(5)
    doubt, kinds = together(THREAD_EACH, USUAL_PACE), list(PassKind)
    quilts = [
        [Told(ratio=math.exp(chance.gauss(0.2, 0.2)), parts={chance.choice(kinds[:3]): 1.0}) for _ in range(1 + n % 3)]
        for n in range(6)
    ]
    quilts.append([Told(ratio=1.4, parts={kinds[0]: 0.3, kinds[1]: 0.7}, counted=0.1)])
    asked = {kinds[0]: 0.6, kinds[2]: 0.4}
    rows = [(n, t) for n, quilt in enumerate(quilts) for t in quilt] + [(-1, Told(ratio=1.0, parts=asked))]
    habit, kind, quilt, each = (k.value**2 for k in (doubt.habit, doubt.kinds, doubt.quilts, doubt.passes))
    cov = np.zeros((len(rows), len(rows)))
    for i, (one, a) in enumerate(rows):
        for j, (other, b) in enumerate(rows):
            shared = sum(a.parts.get(k, 0) * b.parts.get(k, 0) for k in kinds)
            cov[i, j] = habit + kind * shared + quilt * (one == other)
        cov[i, i] += each * sum(s**2 for s in a.parts.values()) + a.counted**2
    y = np.log([t.ratio for _, t in rows[:-1]])
    known = np.linalg.inv(cov[:-1, :-1])
    middle = cov[-1, :-1] @ known @ y
    nu = 12
    scale = (nu + y @ known @ y) / (nu + len(y)) * (cov[-1, -1] - cov[-1, :-1] @ known @ cov[:-1, -1])
    low, high = stats.t(df=nu + len(y), loc=middle, scale=math.sqrt(scale)).interval(0.8)
    found = learned_factor(doubt, quilts, asked)
    assert (found.low, found.middle, found.high) == pytest.approx((math.exp(low), math.exp(middle), math.exp(high)))


def test_before_anything_is_known_the_range_is_wide_and_says_so():
    unknown = PassFacts(pace_m_h=80, pace_is_own=False, usual_m_h=80, bobbin_m=None, life_h=None, clean_h=8)
    wide, own = (what_it_takes(a_quilt(), {1: facts}) for facts in (unknown, FACTS))
    assert wide.hours.high / wide.hours.low > own.hours.high / own.hours.low > 1.5
    assert "isn't on record" in wide.rests_on
    assert own.rests_on.startswith("At your own pace")
    assert wide.bobbins is None


def test_forty_quilts_narrow_it_and_one_that_was_noted_wrongly_does_not_widen_it():
    ratios = [1.2 * math.exp(0.1 * math.sin(7 * n)) for n in range(40)]
    takes = what_it_takes(a_quilt(), {1: FACTS}, Learned(hours=told(*ratios)))
    assert takes.hours.likely == pytest.approx(1.2 * 120 / 80, rel=0.02)
    assert takes.hours.high / takes.hours.likely < 1.2
    assert takes.rests_on == "By what your last 40 planned quilts really took."
    assert what_it_takes(a_quilt(), {1: FACTS}, Learned(hours=told(*ratios, 900.0))).hours == takes.hours


def test_what_is_slow_for_this_owner_is_slow_and_the_rest_only_a_little():
    slow = Learned(hours=told(*[2.0] * 12, what=PassKind.MOTIF))
    plan = a_quilt(a_pass(1, PassKind.MOTIF, meters=80), a_pass(2, PassKind.DITCH, meters=80))
    motif, ditch = what_it_takes(plan, {1: FACTS, 2: FACTS}, slow).passes
    assert 1.8 < motif.hours.likely < 2.05
    assert 1.3 < ditch.hours.likely < motif.hours.likely


# On the way


def test_more_bobbins_than_planned_are_said_as_they_go():
    way = on_the_way(Likely(5.5, 7.0, 8.9), begun=4, share=0.45)
    assert way.text == "4 of 7 bobbins used for 45%, 1 more than planned: 8 in all."
    assert on_the_way(Likely(5.5, 7.0, 8.9), begun=6, share=0.5).more >= 2
    assert on_the_way(Likely(5.5, 7.0, 8.9), begun=4, share=0.5).text.endswith("as planned.")
    assert on_the_way(Likely(5.5, 7.0, 8.9), begun=0, share=0.0) is None


STEP = {stage: lambda key, s=stage, **says: PassStep(plan=1, key=key, stage=s, **says) for stage in PassStage}
BEGUN, DONE, DROPPED = (STEP[stage] for stage in PassStage)


def at(hours: float) -> datetime:
    return START + timedelta(hours=hours)


def test_runs_and_bobbins_belong_to_the_pass_that_was_begun():
    plan = a_quilt(a_pass(1), a_pass(2, PassKind.BINDING))
    steps = [((at(0), 1), BEGUN(1)), ((at(5), 9), DONE(1)), ((at(6), 10), BEGUN(2))]
    happened = [
        Happened(place=(at(1), 5), bobbin=True),
        Happened(place=(at(2), 5), minutes=60, meters=50),
        Happened(place=(at(3), 5), bobbin=True),
        Happened(place=(at(4), 5), minutes=30, meters=None),
        Happened(place=(at(5.5), 5), minutes=99),
        Happened(place=(at(7), 5), minutes=10, meters=7),
    ]
    sewn = sewn_by_pass(plan, steps, happened)
    assert sewn[1] == Sewn(minutes=90, meters=None, bobbins=2, loaded=2)
    assert sewn[2] == Sewn(minutes=10, meters=7, bobbins=1, minutes_since=10), "the bobbin that was in counts for it"
    said = [step for _, step in steps]
    assert pass_on(plan, said).key == 2
    assert pass_states(plan, said)[1].over


def test_how_far_a_pass_is_goes_by_its_owner_then_by_meters_then_by_hours():
    plan = a_quilt(a_pass(1, meters=100))
    takes = what_it_takes(plan, {1: FACTS}).passes[0]
    state = pass_states(plan, [BEGUN(1)])[1]
    assert share_sewn(state, Sewn(minutes=30, meters=None), takes) == pytest.approx(0.4)
    assert share_sewn(state, Sewn(minutes=30, meters=25), takes) == pytest.approx(0.25)
    assert share_sewn(state, Sewn(minutes=900, meters=None), takes) == 0.95
    said = pass_states(plan, [BEGUN(1, share=0.7)])[1]
    assert share_sewn(said, Sewn(minutes=900), takes) == 0.7
    assert share_sewn(said, Sewn(minutes=900, minutes_since=7.5), takes) == pytest.approx(0.8), "sewn since it was said"
    assert share_sewn(said, Sewn(minutes=900, minutes_since=600), takes) == 0.95
    assert share_sewn(pass_states(plan, [DONE(1)])[1], Sewn(), takes) == 1


def test_a_finished_quilt_teaches_by_what_was_done_of_it():
    plan = a_quilt(a_pass(1, meters=100, below=2), a_pass(2, PassKind.FILL, meters=900))
    takes = what_it_takes(plan, {1: FACTS, 2: FACTS})
    sewn = {1: Sewn(minutes=90, meters=120, bobbins=4, loaded=3), 2: Sewn()}
    assert finished(plan, [BEGUN(1)], sewn, takes) is None
    done = finished(plan, [DONE(1), DROPPED(2)], sewn, takes)
    (one,) = done.passes
    assert (done.hours, one.hours_planned, one.meters_planned) == (1.5, pytest.approx(1.25), 100)
    learned = learned_from([done])
    (hours,), (meters,), (thread,) = learned.hours[0], learned.meters[0], learned.thread[0]
    assert (hours.ratio, meters.ratio) == (pytest.approx(1.2), 1.2)
    assert thread.ratio == pytest.approx(2.5 / takes.passes[0].bobbins.likely)
    two = {**sewn, 1: Sewn(minutes=90, bobbins=2, loaded=2)}
    assert learned_from([finished(plan, [DONE(1), DROPPED(2)], two, takes)]).thread == []
    unclocked = {**sewn, 1: Sewn(bobbins=1)}
    assert finished(plan, [DONE(1), DROPPED(2)], unclocked, takes) is None, "nobody ran the clock"


# Cones


@pytest.mark.parametrize(
    ("value", "system"), [(27, WeightSystem.TEX), (50, WeightSystem.WT), (120, WeightSystem.DENIER)]
)
def test_weight_to_length_against_pint(value, system):
    units = pint.UnitRegistry()
    thread = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=value, system=system)
    density = thread.density.tex * units.gram / units.kilometer
    assert weighed_m(thread, 85) == pytest.approx((85 * units.gram / density).to("m").magnitude)


def a_cone(says: ConeSays, **more) -> ConeNoted:
    return ConeNoted(thread=1, says=says, **more)


def test_what_is_left_on_a_cone():
    by_label = stock_of(None, 0, 1000, COTTON, 5000)
    assert by_label.left_m.likely == 4000
    assert by_label.left_m.low < 4000 < by_label.left_m.high
    weighed = stock_of(a_cone(ConeSays.WEIGHED, grams=80, empty_g=20), 0, 0, COTTON, 5000)
    assert weighed.left_m.likely == pytest.approx(weighed_m(COTTON, 60))
    assert stock_of(a_cone(ConeSays.ENDED), 2, 500, COTTON, 5000).left_m.likely == 9500
    assert stock_of(a_cone(ConeSays.SHARE, share=1 / 3), 0, 0, COTTON, 3000).left_m.likely == pytest.approx(1000)
    assert stock_of(a_cone(ConeSays.METERS, left_m=200), 0, 900, COTTON, 5000).left_m.likely == 0, "never below nothing"
    assert stock_of(None, 0, 0, COTTON, None) is None


def test_whether_it_lasts():
    stock = Stock(left_m=Likely(950, 1000, 1050), says="")
    assert lasts(Likely(300, 400, 500), stock, 5000).text == "Enough: 600 m to spare."
    short = lasts(Likely(1060, 1120, 1180), stock, 5000)
    assert short.enough is False
    assert short.cones_to_buy == 1
    assert short.text.startswith("Runs out about 120 m before the end (42 to 198 m)")
    assert lasts(Likely(900, 990, 1100), stock, 5000).enough is None
    assert lasts(Likely(1, 2, 3), None, None).enough is None


def test_a_cone_that_was_sewn_past_what_it_held_is_another_one():
    """It "ran out 520 m before the end" with a full one on."""
    past = stock_of(None, 0, 6500, COTTON, 5000)
    assert past.overdrawn
    found = lasts(Likely(300, 400, 500), past, 5000)
    assert (found.enough, found.cones_to_buy) == (None, 0)
    assert found.text == "400 m needed. More was sewn than that cone held, so another must be on: weigh it."
    assert stock_of(a_cone(ConeSays.ENDED), 0, 300, COTTON, 5000).overdrawn, "it ended, and somebody sewed on"
    # What is within the doubt of what was sewn is an empty one.
    empty = stock_of(None, 0, 5300, COTTON, 5000)
    assert not empty.overdrawn
    assert lasts(Likely(300, 400, 500), empty, 5000).enough is False
    assert not stock_of(None, 2, 6500, COTTON, 5000).overdrawn, "two more were bought"
    assert not stock_of(a_cone(ConeSays.ENDED), 0, 0, COTTON, 5000).overdrawn


@pytest.mark.parametrize(
    ("says", "field"),
    [
        ({"says": ConeSays.WEIGHED, "grams": 10, "empty_g": 20}, "grams"),
        ({"says": ConeSays.WEIGHED}, "grams"),
        ({"says": ConeSays.METERS, "left_m": -1}, "left_m"),
        ({"says": ConeSays.SHARE, "share": 1.2}, "share"),
        ({"says": ConeSays.NEW, "cones": 0}, "cones"),
    ],
)
def test_a_cone_that_cannot_be_is_refused_at_its_field(says, field):
    with pytest.raises(CraftError) as refused:
        ConeNoted(thread=1, **says)
    assert refused.value.field == field


def test_a_cone_heavier_than_full_is_refused():
    with pytest.raises(CraftError, match="Take the empty cone's weight off"):
        check_cone(a_cone(ConeSays.WEIGHED, grams=400), COTTON, 5000)
    check_cone(a_cone(ConeSays.WEIGHED, grams=60), COTTON, 5000)
    with pytest.raises(CraftError, match="length of a full cone"):
        check_cone(a_cone(ConeSays.SHARE, share=0.3), COTTON, None)


# Plans that cannot be


@pytest.mark.parametrize(
    ("says", "field"),
    [
        ({"width_m": 0}, "width_m"),
        ({"height_m": 0}, "height_m"),
        ({"passes": ()}, "passes"),
        ({"passes": (a_pass(1, share=1), a_pass(2, PassKind.FILL, share=0.4))}, "passes"),
        ({"passes": (a_pass(1), a_pass(1, PassKind.DITCH))}, "passes"),
        ({"passes": tuple(a_pass(n, PassKind.DITCH) for n in range(1, 12))}, "passes"),
        ({"rules": (ComesFirst(first=1, then=9, why="x"),)}, "rules"),
        ({"days": (7,)}, "days"),
        ({"days": (1, 1)}, "days"),
        ({"evening_h": 0}, "evening_h"),
        ({"quilt": " "}, "quilt"),
        ({"starts": date(1900, 1, 1)}, "starts"),
    ],
)
def test_a_plan_that_cannot_be_is_refused_at_its_field(says, field):
    with pytest.raises(CraftError) as refused:
        a_quilt(**says)
    assert refused.value.field == field


def test_too_much_of_a_quilt_is_said_in_per_cent():
    with pytest.raises(CraftError, match=r"fill 140% of the quilt"):
        a_quilt(a_pass(1, share=1), a_pass(2, PassKind.FILL, share=0.4))
    a_quilt(a_pass(1, share=1), a_pass(2, PassKind.DITCH), a_pass(3, PassKind.OUTLINE), a_pass(4, PassKind.BINDING))


def test_what_nobody_said_is_named():
    assert a_pass(what=PassKind.FILL).taken_as_usual == ("how much of the quilt", "how dense", "the thread")
    assert a_pass(what=PassKind.FILL, share=0.3, density=QuiltingDensity.MICRO, top=1).taken_as_usual == ()
    assert a_pass(what=PassKind.DITCH, top=1).taken_as_usual == ("the size of the blocks",)


# Evenings

EVERY = Every(oil=8, clean=8)


def to_sew(key: int = 1, hours: float = 3.0, bobbins: float | None = 3.0, **more) -> ToSew:
    return ToSew(
        key=key, words=f"pass {key}", hours=hours, bobbins=bobbins, **{"change_minutes": 0, "change": (), **more}
    )


def test_evenings_end_where_a_bobbin_is_empty_and_sew_everything():
    found = evenings([to_sew(hours=5, bobbins=4), to_sew(2, hours=1, bobbins=1)], each_h=2.5, every=EVERY)
    assert [len(each.passes) for each in found] == [1, 1, 1]
    assert sum(part.hours for each in found for part in each.passes) == pytest.approx(6)
    assert found[0].passes[0].to_share == pytest.approx(0.5)
    assert all(each.hours <= 2.5 * 1.1 for each in found)
    assert found[0].before == ["Wind 2 bobbins"]


def test_a_bobbin_that_is_left_goes_on_in_the_next_pass():
    two = [to_sew(1, 1, 0.5, below="Oyster"), to_sew(2, 1, 0.5, below="Oyster")]
    assert evenings(two, each_h=4, every=EVERY)[0].before == ["Wind 1 bobbin of Oyster"]
    other = [two[0], to_sew(2, 1, 0.5, below="Eelgrass")]
    assert evenings(other, each_h=4, every=EVERY)[0].before == ["Wind 1 bobbin of Oyster", "Wind 1 bobbin of Eelgrass"]


def test_an_evening_begins_with_its_list_and_ends_with_the_oil():
    change = {"change_minutes": 6, "change": ("thread", "needle", "a test line"), "top": "Driftwood", "needle": "90/14"}
    found = evenings([to_sew(hours=2, bobbins=2, **change)], each_h=3, hours=Hours(oil=7, clean=0), every=EVERY)
    assert found[0].before == ["Wind 2 bobbins"]
    assert found[0].passes[0].before == ["Put Driftwood on top", "Fit 90/14", "Sew one test line"]
    assert found[0].after == ["Oil the hook, as the manual says"]


def test_what_a_pass_needs_is_done_before_it_and_not_before_another():
    """Every change of an evening stood at its beginning: one threaded for the second pass, and sewed the first."""
    change = {"change_minutes": 4, "change": ("thread", "bobbin", "a test line")}
    work = [
        to_sew(1, 1, 1, **change, top="Driftwood", below="Oyster"),
        to_sew(2, 3, 3, **change, top="Glasswort", below="Eelgrass"),
    ]
    first, then = evenings(work, each_h=2.2, every=EVERY)
    assert [(part.key, list(part.before)) for part in first.passes] == [
        (1, ["Put Driftwood on top", "Put Oyster in the bobbin", "Sew one test line"]),
        (2, ["Put Glasswort on top", "Put Eelgrass in the bobbin", "Sew one test line"]),
    ]
    assert first.before == ["Wind 1 bobbin of Oyster", "Wind 1 bobbin of Eelgrass"]
    assert [(part.key, list(part.before)) for part in then.passes] == [(2, [])], "it is on already"
    assert then.before == ["Wind 2 bobbins of Eelgrass"]


def test_a_needle_is_changed_where_it_is_worn_out():
    (found,) = evenings([to_sew(hours=4, bobbins=4, life_h=6.0)], each_h=9, hours=Hours(needle=4), every=EVERY)
    assert [(part.from_share, part.to_share, list(part.before)) for part in found.passes] == [
        (0, 0.5, []),
        (0.5, 1, ["Fit a new needle"]),
    ]


def test_a_cleaning_takes_its_minutes_of_the_evening_it_ends():
    """Its minutes could be typed and were counted nowhere."""
    for minutes in (5, 12):
        every = Every(oil=99, clean=2, clean_min=minutes)
        first, then = evenings([to_sew(hours=4, bobbins=4)], each_h=2, every=every)
        assert first.after == then.after == ["Clean the hook area"]
        assert first.hours == then.hours == pytest.approx(2 + minutes / 60)


def test_evenings_fall_on_the_chosen_days():
    found = evenings([to_sew(hours=9, bobbins=9)], each_h=2, days=(1, 3), starts=date(2026, 12, 2), every=EVERY)
    assert [each.day.isoformat() for each in found[:3]] == ["2026-12-03", "2026-12-08", "2026-12-10"]
    assert {each.day.weekday() for each in found} == {1, 3}
    assert evenings([to_sew()], every=EVERY)[0].day is None


def test_the_calendar_is_read_by_another_program():
    lines = ("Wind 5 bobbins", "Fill; outline, ditch: 0% to 41%", "Größe über 75 Zeichen: " + "é" * 80)
    text = to_ics(
        [CalendarEntry(uid="a-1@weftonos", day=date(2026, 12, 3), heading="Dunlin, fill", lines=lines)], START
    )
    (event,) = Calendar.from_ical(text).walk("VEVENT")
    assert event.decoded("dtstart") == date(2026, 12, 3)
    assert event.decoded("dtend") == date(2026, 12, 4)
    assert str(event["summary"]) == "Dunlin, fill"
    assert str(event["description"]) == "\n".join(lines)
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))


# What to buy


def test_the_list_names_what_is_short_and_nothing_else():
    short = lasts(Likely(900, 1000, 1100), Stock(left_m=Likely(0, 0, 0), says=""), 600)
    enough = lasts(Likely(9, 10, 11), Stock(left_m=Likely(900, 1000, 1100), says=""), 600)
    items = shopping_list(
        [
            ThreadNeed(thread=1, name="Driftwood", lasts=short, price=12, quilts=["Dunlin"]),
            ThreadNeed(thread=2, name="Oyster", lasts=enough, price=None, quilts=["Dunlin"]),
        ],
        [
            NeedleNeed(needle=NeedleSize(90, 14), point=Point.TOPSTITCH, needed=4, left=1, quilts=["Dunlin", "Knot"]),
            NeedleNeed(needle=NeedleSize(80, 12), point=Point.SHARP, needed=2, left=2, quilts=["Knot"]),
        ],
    )
    assert [(item.words, item.count, item.price) for item in items] == [
        ("Driftwood, 2 cones", 2, 24),
        ("90/14 topstitch, 3 needles", 3, None),
    ]


def test_a_quilt_of_ten_bobbins_by_the_wound_space():
    """A throw filled at a quarter inch with 50 wt: the bobbins of the thread-use model."""
    holds = wound_length_m(BobbinClass.M, COTTON)
    facts = PassFacts(pace_m_h=80, pace_is_own=True, usual_m_h=80, bobbin_m=holds, life_h=6, clean_h=8)
    plan = a_quilt(a_pass(1, PassKind.FILL, share=0.9, density=QuiltingDensity.CLOSE, below=1))
    takes = what_it_takes(plan, {1: facts})
    assert takes.bobbins.likely == pytest.approx(3.0 * 0.9 / 0.006 * (3 + 2.5) / 3 * 1.05 / holds)
