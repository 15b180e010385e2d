"""How records read, what they refuse, and settings in a machine's own terms."""

import math
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from weftonos.core.drawer import DrawerThread, HandTest, HandTestKind
from weftonos.core.errors import CraftError, in_words
from weftonos.core.force import ForceUnit
from weftonos.core.gauge import Pull
from weftonos.core.linear_density import WeightSystem
from weftonos.core.logbook import (
    BobbinLoaded,
    BobbinLook,
    BobbinReading,
    ClockStarted,
    Feel,
    HandLook,
    Method,
    NeedleFitted,
    NeedleRetired,
    Part,
    PartMarked,
    Recipe,
    Run,
    SandwichLaid,
    ScrewTurned,
    StitchedLook,
    TopThreaded,
    describe,
    hours_in_words,
)
from weftonos.core.needle import NeedleFinish, Point
from weftonos.core.needle_life import RetireReason
from weftonos.core.sandwich import Loft, Motion, Sandwich, Weave
from weftonos.core.setup import NeedleTag, Setup
from weftonos.core.thread import Construction, Fibre, Thread
from weftonos.core.top_scale import ScaleKind, TopScale

NOW = datetime(2026, 11, 24, tzinfo=UTC)
DIAL = TopScale(ScaleKind.DIAL, 0, 10, 0.25)
TURNS = TopScale(ScaleKind.TURNS, -4, 4, 0.25)
EBB = DrawerThread("Ebb 40", Thread(Fibre.POLYESTER, Construction.MULTIFILAMENT, 120, WeightSystem.DENIER, 2)).tag(1)
LIMPET = DrawerThread("Limpet 80", Thread(Fibre.POLYESTER, Construction.MULTIFILAMENT, 80, WeightSystem.WT)).tag(2)
SETUP = Setup(top=(EBB,), bobbin=LIMPET, needle=NeedleTag(1, 110, 18, Point.TOPSTITCH, NeedleFinish.STEEL, NOW))


def read(*pulls: Pull, method=Method.GAUGE) -> BobbinReading:
    return BobbinReading.of(ForceUnit.GF, pulls, None, method=method)


@pytest.mark.parametrize(
    ("payload", "text"),
    [
        (TopThreaded((1,)), "On top: Ebb 40 (120 denier × 2 polyester)"),
        (BobbinLoaded(2), "In the bobbin: Limpet 80 (80 wt polyester)"),
        (BobbinLoaded(2, bobbin_work=True), "In the bobbin: Limpet 80 (80 wt polyester), for bobbin work"),
        (NeedleFitted(110, 18, Point.TOPSTITCH, NeedleFinish.TITANIUM), "110/18 topstitch, titanium fitted"),
        (NeedleRetired(RetireReason.DULL_SOUND), "Needle out: dull sound"),
        (Run(85, "Neap Tide"), "1 h 25 min stitched on Neap Tide"),
        (ClockStarted(), "Clock started"),
        (
            SandwichLaid(Sandwich(Weave.BATIK, Loft.LOFTY, batting="wool")),
            "Under the needle: wool (lofty batting and a dense weave)",
        ),
        (SandwichLaid(Sandwich()), "Under the needle: ordinary, medium loft"),
        (read(Pull(value=21)), "206 mN from 1 pull"),
        (read(Pull(low=20, high=22), Pull(low=20, high=22)), "206 mN from 2 pulls, swing 5%"),
        (read(Pull(value=21), method=Method.HANG), "206 mN by the hang test, 21 g"),
        (BobbinLook(HandLook.PALM, Feel.TIGHT), "Palm test: tight"),
        (ScrewTurned(1, -1), "Screw loosened 1 minute"),
        (ScrewTurned(1, 6), "Screw tightened 6 minutes"),
        (PartMarked(Part.CASE, 1, "bent"), "Case of the rack: bent"),
        (PartMarked(Part.BOBBIN, 1, ""), "Bobbin of the rack: sound again"),
        (StitchedLook(4.25, -1, Motion.STRAIGHT, doubtful=True), "4.25, straight: top a little tight, not sure"),
        (
            Recipe("Neap Tide", 4.25, 0, 206.2),
            "Neap Tide: Ebb 40 over Limpet 80, 110/18 topstitch, bobbin 206 mN, top 4.25, balanced",
        ),
    ],
)
def test_a_record_reads_as_a_quilter_would_say_it(payload, text):
    assert describe(payload, SETUP, DIAL) == text


def test_an_unmarked_knob_is_told_in_turns_in_the_log_too():
    assert describe(StitchedLook(-1.25, 1), SETUP, TURNS) == "1¼ turns out, free-motion: top a little loose"


def test_a_record_without_its_set_up_still_reads():
    assert describe(Recipe("Neap Tide", 4, 0, 206), Setup(), DIAL).startswith("Neap Tide:  over –, –")
    assert describe(TopThreaded((1,)), Setup(), DIAL) == "On top: nothing"


@pytest.mark.parametrize(("minutes", "words"), [(0.4, "0 min"), (40, "40 min"), (60, "1 h"), (125, "2 h 5 min")])
def test_times_are_told_in_hours_and_minutes(minutes, words):
    assert hours_in_words(minutes) == words


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: Run(0), "minutes"),
        (lambda: Run(17 * 60), "minutes"),
        (lambda: Run(math.nan), "minutes"),
        (lambda: NeedleFitted(100, 18, Point.SHARP), "american"),
        (lambda: NeedleFitted(100, 16, Point.SHARP, note="x" * 2001), "note"),
        (lambda: StitchedLook(4, 7), "grade"),
        (lambda: Recipe("", 4, 0, 200), "name"),
        (lambda: BobbinLoaded(1, fill=0), "fill"),
        (lambda: ScrewTurned(1, 61), "minutes"),
        (lambda: PartMarked(Part.CASE, 1, "x" * 121), "fault"),
        (lambda: Sandwich(layers=9), "layers"),
        (lambda: Sandwich(backing="x" * 81), "backing"),
        (lambda: HandTest(HandTestKind.STROKES, True, NOW.date(), -1), "strokes"),
        (lambda: read(), "pulls"),
        (lambda: read(Pull(value=2100)), "unit"),
    ],
)
def test_what_cannot_be_recorded_is_refused_at_its_field(make, field):
    with pytest.raises(CraftError) as caught:
        make()
    assert caught.value.field == field
    assert str(caught.value).endswith((".", "?"))


def test_choices_are_told_in_words():
    assert in_words(["cotton"]) == "cotton"
    assert in_words(["cotton", "silk", "wash_away"]) == "cotton, silk or wash away"


@given(st.floats(-4, 4))
def test_a_snapped_setting_can_be_set_and_told(setting):
    snapped = TURNS.snap(setting)
    TURNS.check(snapped)
    assert abs(snapped - setting) <= TURNS.step / 2 + 1e-9
    assert TURNS.snap(snapped) == snapped
    words = TURNS.words(snapped)
    assert words == "at the mark" or words.endswith((" in", " out"))


@given(st.sampled_from([0.05, 0.1, 0.25, 0.5, 1.0]), st.floats(0, 10))
def test_a_dial_shows_as_many_decimals_as_its_step_needs(step, setting):
    dial = TopScale(ScaleKind.DIAL, 0, 10, step)
    snapped = dial.snap(setting)
    assert float(dial.words(snapped)) == pytest.approx(snapped, abs=1e-6)


def test_a_readout_says_its_unit():
    assert TopScale(ScaleKind.READOUT, 80, 400, 5, "cN").words(205) == "205 cN"
    with pytest.raises(CraftError):
        TopScale(ScaleKind.READOUT, 80, 400, 5, "x" * 13)
