"""The queries on a real file: what is on the machine at a moment, back-dated records, two hands at once."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from sqlalchemy import Engine, text
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from weftonos.core.balance.stitched import stitched_combinations
from weftonos.core.bobbin.events import BobbinReading, ScrewTurned
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.run import Run
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
from weftonos.core.setup.fold import Event
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread
from weftonos.store.drawer import DrawerOrder, DrawerSearch, NotFoundError
from weftonos.store.opening import open_workshop
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
HERON = Machine(
    nickname="Heron",
    kind=MachineKind.LONGARM,
    scale=TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5),
    throat_in=24,
)


def owned(name: str, wt: float) -> DrawerThread:
    return DrawerThread(
        name=name,
        thread=Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=wt, system=WeightSystem.WT),
    )


@pytest.fixture
def engine(tmp_path: Path) -> Iterator[Engine]:
    engine = open_workshop(tmp_path)
    yield engine
    engine.dispose()


@pytest.fixture
def shop(engine: Engine) -> Iterator[Workshop]:
    with Session(engine) as session, session.begin():
        workshop = Workshop(session)
        workshop.add_machine(HERON)
        workshop.drawer.add_thread(owned("Tern 40", 40))
        workshop.drawer.add_thread(owned("Knot 80", 80))
        yield workshop


def at(hours: float) -> datetime:
    return NOW + timedelta(hours=hours)


def note(shop: Workshop, payload, hours: float):
    return shop.note(1, payload, at(hours), at(max(hours, 0)))


def reading(mn: float, case: int | None = None) -> BobbinReading:
    return BobbinReading.of(ForceUnit.MN, (Pull(value=mn), Pull(value=mn)), None, case=case)


def test_a_back_dated_record_takes_its_place_in_time(shop):
    note(shop, NeedleFitted(metric=100, american=16, point=Point.SHARP), 0)
    late = note(shop, NeedleFitted(metric=90, american=14, point=Point.SHARP), -5)
    assert shop.setup(1).needle.metric == 100
    assert shop.setup_at(late).needle.metric == 90
    assert [row.payload.metric for row in shop.log(LogSearch(machine=1)).items] == [100, 90]


def test_records_of_one_moment_count_in_the_order_they_were_written(shop):
    note(shop, NeedleFitted(metric=100, american=16, point=Point.SHARP), 0)
    note(shop, NeedleFitted(metric=80, american=12, point=Point.SHARP), 0)
    assert shop.setup(1).needle.metric == 80


def test_the_set_up_at_a_record_knows_nothing_of_what_came_after(shop):
    first = note(shop, TopThreaded((1,)), 0)
    note(shop, NeedleFitted(metric=100, american=16, point=Point.SHARP), 1)
    note(shop, TopThreaded((2,)), 2)
    assert shop.setup_at(first).needle is None
    assert shop.setup_at(first).top[0].name == "Tern 40"
    assert shop.setup(1).top[0].name == "Knot 80"


@pytest.mark.parametrize(
    "change",
    [
        TopThreaded((2,)),
        BobbinLoaded(bobbin=1),
        NeedleFitted(metric=90, american=14, point=Point.SHARP),
        SandwichLaid(Sandwich(loft=Loft.LOFTY)),
    ],
)
def test_any_change_makes_the_look_old_and_only_a_new_bobbin_the_reading(shop, change):
    for hours, payload in enumerate(
        [TopThreaded((1,)), BobbinLoaded(bobbin=2), reading(204), StitchedLook(setting=205, grade=0)]
    ):
        note(shop, payload, hours)
    assert shop.setup(1).look is not None
    note(shop, change, 5)
    setup = shop.setup(1)
    assert setup.look is None
    assert (setup.reading is None) is isinstance(change, BobbinLoaded)


def test_a_retired_needle_is_no_longer_in_and_a_struck_retirement_brings_it_back(shop):
    note(shop, NeedleFitted(metric=100, american=16, point=Point.SHARP), 0)
    out = note(shop, NeedleRetired(RetireReason.BREAK), 1)
    assert shop.setup(1).needle is None
    shop.strike(out.id, at(2))
    assert shop.setup(1).needle.metric == 100


def test_hours_and_quilts_count_from_the_fitting(shop):
    note(shop, Run(minutes=60, quilt="Before"), -1)
    note(shop, NeedleFitted(metric=100, american=16, point=Point.SHARP), 0)
    for hours, quilt in ((1, "Avocet"), (2, "Avocet"), (3, "Redshank"), (4, "")):
        note(shop, Run(minutes=30, quilt=quilt), hours)
    needle = shop.setup(1).needle
    assert shop.runs.stitched_since(1, [Event(needle.record_id, needle.fitted_at, None)]) == [(2.0, 2)]


def test_what_needles_last_is_told_by_finish(shop):
    for start, finish, why in (
        (0, NeedleFinish.STEEL, RetireReason.BREAK),
        (10, NeedleFinish.TITANIUM, RetireReason.DUE),
    ):
        note(shop, NeedleFitted(metric=100, american=16, point=Point.SHARP, finish=finish), start)
        note(shop, Run(minutes=90), start + 2)
        note(shop, NeedleRetired(why), start + 3)
    note(shop, Run(minutes=600), 20)  # on a needle nobody noted
    spans = shop.runs.needle_spans(1)
    by_finish = {kind.finish: [(s.hours, s.trouble) for s in each] for kind, each in spans.items()}
    assert by_finish == {NeedleFinish.STEEL: [(1.5, True)], NeedleFinish.TITANIUM: [(1.5, False)]}
    assert shop.runs.needle_spans(2) == {}, "another machine's needles are another matter"


def test_a_case_s_history_pairs_turns_with_the_readings_around_them(shop):
    case = shop.rack.add_case(1, BobbinCase(label="A")).id
    steps = [
        reading(150, case),
        ScrewTurned(case, 5),
        reading(170, case),
        ScrewTurned(case, 3),
        ScrewTurned(case, 2),  # two turns without a reading teach nothing
        reading(190, case),
        ScrewTurned(case, -1),
        reading(186, case),
    ]
    for hours, payload in enumerate(steps):
        note(shop, payload, hours)
    history = shop.rack.history(case)
    assert [(t.minutes, t.before_mn, t.after_mn) for t in history.turns] == [(5, 150, 170), (-1, 190, 186)]
    assert len(history.readings) == 4
    assert len(history.since_screw) == 1


def test_a_fluttering_reading_teaches_the_screw_nothing(shop):
    case = shop.rack.add_case(1, BobbinCase(label="A")).id
    restless = BobbinReading.of(ForceUnit.MN, (Pull(low=120, high=220),), None, case=case)
    for hours, payload in enumerate([restless, ScrewTurned(case, 5), reading(190, case)]):
        note(shop, payload, hours)
    assert shop.rack.history(case).turns == []


def test_stitched_combinations_are_remembered_once_each_and_not_the_present_one(shop):
    note(shop, TopThreaded((1,)), 0)
    for hours, setting in ((1, 200), (2, 205)):
        note(shop, StitchedLook(setting=setting, grade=0), hours)
    note(shop, StitchedLook(setting=150, grade=0, motion=Motion.STRAIGHT), 3)
    assert shop.looks_before(1) == []
    note(shop, TopThreaded((2,)), 4)
    records = stitched_combinations(HERON.scale, shop.looks_before(1))
    assert [(r.name, r.combination.motion) for r in records] == [
        ("Tern 40", Motion.STRAIGHT),
        ("Tern 40", Motion.FREE_MOTION),
    ]
    assert [r.setting for r in records] == pytest.approx([150, 202.5], abs=3)


def test_looks_since_the_change_come_oldest_first_and_by_motion(shop):
    note(shop, StitchedLook(setting=100, grade=2), 0)
    note(shop, TopThreaded((1,)), 1)
    for hours, setting in ((2, 190), (3, 210)):
        note(shop, StitchedLook(setting=setting, grade=0), hours)
    note(shop, StitchedLook(setting=150, grade=0, motion=Motion.STRAIGHT), 4)
    assert [r.payload.setting for r in shop.looks_since_change(1, Motion.FREE_MOTION)] == [190, 210]
    assert [r.payload.setting for r in shop.looks_since_change(1, Motion.STRAIGHT)] == [150]


def test_what_is_not_there_is_said_and_nothing_is_stored(shop):
    for missing in (
        lambda: shop.machine(9),
        lambda: shop.record(9),
        lambda: shop.drawer.thread(9),
        lambda: shop.rack.case(9),
    ):
        with pytest.raises(NotFoundError):
            missing()
    for bad in (
        lambda: note(shop, TopThreaded((9,)), 0),
        lambda: note(shop, StitchedLook(setting=900, grade=0), 0),
        lambda: note(shop, NeedleFitted(metric=100, american=16, point=Point.SHARP, packet=4), 0),
        lambda: note(shop, BobbinLoaded(bobbin=1, item=7), 0),
        lambda: note(shop, ScrewTurned(3, 5), 0),
        lambda: shop.note(1, Run(minutes=30), at(48), NOW),
    ):
        with pytest.raises(CraftError):
            bad()
    assert shop.log(LogSearch()).items == []


def test_a_bobbin_holds_the_thread_it_was_wound_with(shop):
    bobbin = shop.rack.add_bobbin(Bobbin(label="B1", thread=2)).id
    note(shop, BobbinLoaded(bobbin=2, item=bobbin), 0)
    with pytest.raises(CraftError, match="another thread"):
        note(shop, BobbinLoaded(bobbin=1, item=bobbin), 1)
    shop.rack.strike_bobbin(bobbin, NOW)
    with pytest.raises(CraftError, match="not on the rack"):
        note(shop, BobbinLoaded(bobbin=2, item=bobbin), 1)


def test_the_drawer_is_paged_and_counted(shop):
    for n in range(130):
        shop.drawer.add_thread(owned(f"Dunlin {n:03}", 20 + n))
    for order in DrawerOrder:
        found, after = [], None
        while True:
            page, total = shop.drawer.threads(DrawerSearch(text="dunlin", order=order, after=after, limit=60))
            found += page.items
            assert total == 130
            if (after := page.more) is None:
                break
        assert len({row.id for row in found}) == len(found) == 130, "each once, to the end"
    with pytest.raises(CraftError, match="Start the list over"):
        shop.drawer.threads(DrawerSearch(after="nowhere"))
    assert len(shop.drawer.all_threads()) == 132


def test_the_file_itself_refuses_a_record_of_no_machine(engine):
    with pytest.raises(IntegrityError), engine.begin() as connection:
        connection.execute(
            text(
                "INSERT INTO record (uid, version, machine_id, kind, at, noted_at, payload) "
                "VALUES ('one', 1, 99, 'run', '2026-01-01', '2026-01-01', '{}')"
            )
        )


def test_two_hands_can_write_at_once(engine):
    with Session(engine) as session, session.begin():
        Workshop(session).add_machine(HERON)
    failures: list[Exception] = []

    def write(quilt: str) -> None:
        try:
            for n in range(15):
                with Session(engine) as session, session.begin():
                    Workshop(session).note(1, Run(minutes=10 + n, quilt=quilt), NOW, NOW)
        except Exception as error:
            failures.append(error)

    hands = [threading.Thread(target=write, args=(f"Quilt {n}",)) for n in range(4)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    assert not failures
    with Session(engine) as session:
        assert len(Workshop(session).log(LogSearch(limit=200)).items) == 60


def test_a_fresh_bobbin_of_the_same_thread_keeps_the_look_and_wants_a_reading(bench):
    machine, top, below = bench.combination()
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 204}]})
    bench.later(5)
    bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    for path, body in (("bobbin/again", None), ("top", {"top": [top]})):
        bench.later(30)
        bench.post(f"machines/{machine}/{path}", body)
        setup = bench.get(f"machines/{machine}/line")["setup"]
        assert setup["look"]["setting"] == 205, "the same combination"
        assert setup["reading"] is None, "every bobbin is read"
        assert len(bench.get(f"machines/{machine}/balance")["looks"]) == 1
    bench.later(5)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": top})
    assert bench.get(f"machines/{machine}/line")["setup"]["look"] is None
    bench.later(5)
    bench.post(f"machines/{machine}/bobbin", {"bobbin": below})
    assert bench.get(f"machines/{machine}/line")["setup"]["look"] is None, "what was between is a change"
    assert bench.get(f"machines/{machine}/balance")["looks"] == []
