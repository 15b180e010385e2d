"""How records read, what they refuse, and settings in a machine's own terms."""

import math
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.events import (
    BobbinLook,
    BobbinReading,
    Feel,
    HandLook,
    Method,
    Part,
    PartMarked,
    ScrewTurned,
)
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.kernel.errors import CraftError, in_words
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich, Weave
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.log.logbook import describe, hours_in_words
from weftonos.core.log.run import ClockStarted, Run
from weftonos.core.needle.life import RetireReason
from weftonos.core.needle.needle import NeedleFinish, Point
from weftonos.core.setup.events import (
    BobbinLoaded,
    NeedleFitted,
    NeedleRetired,
    SandwichLaid,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.setup.setup import NeedleTag, Setup, ThreadTag
from weftonos.core.thread.drawer import DrawerThread, HandTest, HandTestKind
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread

NOW = datetime(2026, 11, 24, tzinfo=UTC)
DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)
TURNS = TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25)
EBB = DrawerThread(
    name="Ebb 40",
    thread=Thread(
        fiber=Fiber.POLYESTER,
        construction=Construction.MULTIFILAMENT,
        value=120,
        system=WeightSystem.DENIER,
        strands=2,
    ),
)
LIMPET = DrawerThread(
    name="Limpet 80",
    thread=Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=80, system=WeightSystem.WT),
)
THREADS = {1: EBB, 2: LIMPET}
SETUP = Setup(
    top=(ThreadTag.of(1, EBB),),
    bobbin=ThreadTag.of(2, LIMPET),
    needle=NeedleTag(
        record_id=1, metric=110, american=18, point=Point.TOPSTITCH, finish=NeedleFinish.STEEL, fitted_at=NOW
    ),
)


def read(*pulls: Pull, method=Method.GAUGE) -> BobbinReading:
    return BobbinReading.of(ForceUnit.GF, pulls, None, method=method)


@pytest.mark.parametrize(
    ("payload", "text"),
    [
        (TopThreaded((1,)), "On top: Ebb 40 (120 denier × 2 polyester)"),
        (BobbinLoaded(bobbin=2), "In the bobbin: Limpet 80 (80 wt polyester)"),
        (BobbinLoaded(bobbin=2, bobbin_work=True), "In the bobbin: Limpet 80 (80 wt polyester), for bobbin work"),
        (
            NeedleFitted(metric=110, american=18, point=Point.TOPSTITCH, finish=NeedleFinish.TITANIUM),
            "110/18 topstitch, titanium fitted",
        ),
        (NeedleRetired(RetireReason.DULL_SOUND), "Needle out: dull sound"),
        (Run(minutes=85, quilt="Neap Tide"), "1 h 25 min stitched on Neap Tide"),
        (ClockStarted(), "Clock started"),
        (
            SandwichLaid(Sandwich(weave=Weave.BATIK, loft=Loft.LOFTY, batting="wool")),
            "Under the needle: wool (lofty batting and a dense weave)",
        ),
        (SandwichLaid(Sandwich()), "Under the needle: ordinary, medium loft"),
        (read(Pull(value=21)), "206 mN from 1 pull"),
        (read(Pull(low=20, high=22), Pull(low=20, high=22)), "206 mN from 2 pulls, steady within 5%"),
        (read(Pull(value=21), method=Method.HANG), "206 mN by the hang test, 21 g"),
        (BobbinLook(test=HandLook.PALM, feel=Feel.TIGHT), "Palm test: tight"),
        (ScrewTurned(1, -1), "Screw loosened 1 minute"),
        (ScrewTurned(1, 6), "Screw tightened 6 minutes"),
        (PartMarked(part=Part.CASE, id=1, fault="bent"), "Case of the rack: bent"),
        (PartMarked(part=Part.BOBBIN, id=1, fault=""), "Bobbin of the rack: sound again"),
        (
            StitchedLook(setting=4.25, grade=-1, motion=Motion.STRAIGHT, doubtful=True),
            "4.25, straight: top a little tight, not sure",
        ),
        (
            Recipe(name="Neap Tide", setting=4.25, grade=0, bobbin_mn=206.2),
            "Neap Tide: Ebb 40 over Limpet 80, 110/18 topstitch, bobbin 206 mN, top 4.25, balanced",
        ),
    ],
)
def test_a_record_reads_as_a_quilter_would_say_it(payload, text):
    assert describe(payload, SETUP, DIAL, THREADS) == text


def test_an_unmarked_knob_is_told_in_turns_in_the_log_too():
    assert (
        describe(StitchedLook(setting=-1.25, grade=1), SETUP, TURNS, THREADS)
        == "1¼ turns out, free-motion: top a little loose"
    )


def test_a_record_without_its_set_up_still_reads():
    assert describe(Recipe(name="Neap Tide", setting=4, grade=0, bobbin_mn=206), Setup(), DIAL, {}).startswith(
        "Neap Tide: bobbin 206 mN"
    )
    assert describe(TopThreaded((1,)), Setup(), DIAL, {}) == "On top: thread 1"


@pytest.mark.parametrize(("minutes", "words"), [(0.4, "0 min"), (40, "40 min"), (60, "1 h"), (125, "2 h 5 min")])
def test_times_are_told_in_hours_and_minutes(minutes, words):
    assert hours_in_words(minutes) == words


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: Run(minutes=0), "minutes"),
        (lambda: Run(minutes=17 * 60), "minutes"),
        (lambda: Run(minutes=math.nan), "minutes"),
        (lambda: NeedleFitted(metric=100, american=18, point=Point.SHARP), "american"),
        (lambda: NeedleFitted(metric=100, american=16, point=Point.SHARP, note="x" * 2001), "note"),
        (lambda: StitchedLook(setting=4, grade=7), "grade"),
        (lambda: Recipe(name="", setting=4, grade=0, bobbin_mn=200), "name"),
        (lambda: BobbinLoaded(bobbin=1, fill=0), "fill"),
        (lambda: ScrewTurned(1, 61), "minutes"),
        (lambda: PartMarked(part=Part.CASE, id=1, fault="x" * 121), "fault"),
        (lambda: Sandwich(layers=9), "layers"),
        (lambda: Sandwich(backing="x" * 81), "backing"),
        (lambda: HandTest(kind=HandTestKind.STROKES, good=True, on=NOW.date(), strokes=-1), "strokes"),
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
    dial = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=step)
    snapped = dial.snap(setting)
    assert float(dial.words(snapped)) == pytest.approx(snapped, abs=1e-6)


def test_a_readout_says_its_unit():
    assert TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5, unit="cN").words(205) == "205 cN"
    with pytest.raises(CraftError):
        TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5, unit="x" * 13)
