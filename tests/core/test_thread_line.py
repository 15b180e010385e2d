"""The line's knots, the top scale, and what a thread in the drawer says of itself."""

from datetime import UTC, datetime, timedelta

import pytest

from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND, Feature
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.stations import Station
from weftonos.core.line.thread_line import KnotState, OpenTrouble, Work, knots
from weftonos.core.log.logbook import check_time
from weftonos.core.mend.upkeep import UpkeepKind, upkeep_state
from weftonos.core.needle.needle import NeedleFinish, Point
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import LookTag, NeedleTag, ReadingTag, Setup, ThreadTag
from weftonos.core.thread.drawer import DrawerThread, ThreadFinish, is_light
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.starting_tension import start_tension
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
DIAL = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.25)
HERON = Machine(nickname="Heron", kind=MachineKind.LONGARM, scale=DIAL, throat_in=24)
SALTMARSH = DrawerThread(
    name="Saltmarsh 40",
    thread=Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=40, system=WeightSystem.WT),
    finish=ThreadFinish.TRILOBAL,
)
LIMPET = DrawerThread(
    name="Limpet 80",
    thread=Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=80, system=WeightSystem.WT),
)


def setup(metric=100, reading=203.0, calmness=Calmness.CALM, grade=0, bobbin=LIMPET) -> Setup:
    return Setup(
        top=(ThreadTag.of(1, SALTMARSH),),
        bobbin=ThreadTag.of(2, bobbin),
        needle=NeedleTag(
            record_id=1,
            metric=metric,
            american={60: 8, 100: 16, 140: 22}[metric],
            point=Point.BALLPOINT,
            finish=NeedleFinish.STEEL,
            fitted_at=NOW,
        ),
        reading=ReadingTag(record_id=2, mean_mn=reading, scatter_mn=3, swing=0.02, calmness=calmness, read_at=NOW),
        look=LookTag(record_id=3, setting=4.25, grade=grade, motion=Motion.FREE_MOTION, stitched_at=NOW),
    )


def states(of: Setup, kept_at=NOW) -> dict[Station, KnotState]:
    line = knots(HERON, of, kept_at, target=HERON.bobbin_target())
    return {k.station: k.state for k in line}


def test_an_empty_machine_has_everything_to_do_but_the_log():
    line = knots(HERON, Setup(), None)
    assert [k.station for k in line] == list(Station)
    to_do = {k.station for k in line if k.state is KnotState.TO_DO}
    assert to_do == set(Station) - {Station.MEND, Station.LOG}


def test_a_balanced_machine_is_ready_with_its_key_facts():
    line = knots(HERON, setup(), NOW, work=Work("Avocet", False, 0.6))
    assert all(k.state is KnotState.READY for k in line)
    assert [k.fact for k in line] == [
        "40 wt trilobal",
        "100/16 ballpoint",
        "203 mN",
        "4.25",
        "Avocet",
        "runs well",
        "saved",
    ]


@pytest.mark.parametrize(
    ("changed", "station", "state"),
    [
        (setup(metric=60), Station.NEEDLE, KnotState.CAUTION),
        (setup(metric=140, bobbin=LIMPET), Station.NEEDLE, KnotState.READY),
        (setup(reading=240), Station.BOBBIN, KnotState.CAUTION),
        (setup(calmness=Calmness.FAULT), Station.BOBBIN, KnotState.TROUBLE),
        (setup(grade=-1), Station.BALANCE, KnotState.CAUTION),
        (setup(grade=2), Station.BALANCE, KnotState.TROUBLE),
    ],
)
def test_a_fault_shows_at_its_place_on_the_line(changed, station, state):
    assert states(changed)[station] is state


def test_a_thicker_bobbin_thread_is_a_caution_and_a_nest_says_seat_first():
    heavy = DrawerThread(
        name="Shingle 30",
        thread=Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=30, system=WeightSystem.WT),
    )
    assert states(setup(bobbin=heavy))[Station.THREAD] is KnotState.CAUTION
    nest = next(k for k in knots(HERON, setup(grade=2), NOW) if k.station is Station.BALANCE)
    assert "Seat the thread" in nest.why


def test_a_balanced_look_that_is_not_kept_is_to_do():
    assert states(setup(), kept_at=None)[Station.LOG] is KnotState.TO_DO
    assert states(setup(), kept_at=NOW - timedelta(days=1))[Station.LOG] is KnotState.TO_DO


FELT = "a bobbin reading (or a hang or palm test that feels right)"


def test_what_a_combination_lacks_is_named_in_working_order():
    longarm = OF_KIND[MachineKind.LONGARM]
    assert Setup().lacking(longarm) == ("a top thread", "a bobbin thread", "the needle", FELT, "a test line")
    assert setup().lacking(longarm) == ()
    assert "a hang or palm test that feels right" in Setup().lacking({Feature.CASE, Feature.BY_HAND})
    without = Setup().lacking({Feature.DROP_IN})
    assert without == ("a top thread", "a bobbin thread", "the needle", "a test line")


@pytest.mark.parametrize(
    ("turns", "words"),
    [(0, "at the mark"), (0.25, "¼ turn in"), (-1.25, "1¼ turns out"), (1, "1 turn in"), (-2.5, "2½ turns out")],
)
def test_an_unmarked_knob_is_read_in_turns(turns, words):
    assert TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25).words(turns) == words


def test_a_setting_is_snapped_and_checked_on_the_machine_s_own_scale():
    assert DIAL.snap(4.3) == 4.25
    assert DIAL.words(4.3) == "4.30"
    assert TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5).words(204.6) == "205"
    with pytest.raises(CraftError, match="from 0 to 10"):
        DIAL.check(11)
    for low, high, step in ((10, 0, 1), (0, 10, 0), (0, 10, 11), (float("nan"), 10, 1)):
        with pytest.raises(CraftError):
            TopScale(kind=ScaleKind.DIAL, low=low, high=high, step=step)


def test_the_schools_start_metallic_loosest_and_fine_cotton_looser_than_polyester():
    # Common practice: fine cotton 2, metallic 1 (0.5 to 2.5), quilting 2 to 5.
    def start(thread):
        return start_tension(MachineKind.HOME, Bundle.of([thread]))

    gold = start(Thread(fiber=Fiber.METALLIC, construction=Construction.METALLIC, value=40, system=WeightSystem.WT))
    fine = start(Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=60, system=WeightSystem.WT))
    quilting = start(SALTMARSH.thread)
    assert (gold.center, gold.low, gold.high) == (1, 0.5, 2.5)
    assert fine.center == 2
    assert (quilting.low, quilting.high) == (2, 5)
    assert start_tension(MachineKind.LONGARM, Bundle.of([SALTMARSH.thread])).kind is ScaleKind.TURNS


def test_a_label_is_shown_as_it_was_typed():
    ebb = DrawerThread(
        name="Ebb",
        thread=Thread(
            fiber=Fiber.POLYESTER,
            construction=Construction.MULTIFILAMENT,
            value=120,
            system=WeightSystem.DENIER,
            strands=2,
        ),
    )
    assert ebb.label == "120 denier × 2"
    assert SALTMARSH.words == "40 wt trilobal"
    assert is_light("#f2efe6")
    assert not is_light("#2b3a4a")


@pytest.mark.parametrize(
    "change", [{"name": " "}, {"name": "x" * 81}, {"color": "red"}, {"plies": 0}, {"name": "\ud800"}]
)
def test_a_thread_that_cannot_be_written_down_is_refused(change):
    with pytest.raises(CraftError):
        DrawerThread(**{"name": "Ebb", "thread": SALTMARSH.thread, **change})


@pytest.mark.parametrize("at", [NOW + timedelta(days=1), datetime(2026, 1, 1), datetime(1900, 1, 1, tzinfo=UTC)])
def test_a_record_belongs_to_a_moment_that_has_been(at):
    with pytest.raises(CraftError):
        check_time(at, NOW)


@pytest.mark.parametrize(
    ("trouble", "hours", "state", "fact"),
    [
        (OpenTrouble("frays", 0, False), 2, KnotState.TROUBLE, "look for it"),
        (OpenTrouble("frays", 3, False), 20, KnotState.TROUBLE, "3 checked"),
        (OpenTrouble("frays", 9, True), 2, KnotState.CAUTION, "with the technician"),
        (None, 9, KnotState.CAUTION, "oil it"),
        (None, 2, KnotState.READY, "runs well"),
    ],
)
def test_the_mend_knot_says_trouble_first_then_upkeep(trouble, hours, state, fact):
    due = [upkeep_state(UpkeepKind.OILING, hours, [])]
    line = knots(HERON, setup(), NOW, None, trouble=trouble, due=due)
    mend = next(k for k in line if k.station is Station.MEND)
    assert (mend.state, mend.fact) == (state, fact)


@pytest.mark.parametrize(
    ("work", "state", "fact"),
    [
        (None, KnotState.TO_DO, "nothing stitched"),
        (Work("Avocet", True, 0.5), KnotState.READY, "clock runs"),
        (Work("Avocet", True, 0.12), KnotState.CAUTION, "bobbin 12%"),
        (Work("Avocet", False, None), KnotState.READY, "Avocet"),
    ],
)
def test_the_run_knot_says_a_nearly_empty_bobbin_first(work, state, fact):
    run = next(k for k in knots(HERON, setup(), NOW, None, work=work) if k.station is Station.RUN)
    assert (run.state, run.fact) == (state, fact)
