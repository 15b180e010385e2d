"""Whatever is noted, corrected, struck out, restored or back-dated, everything learned equals a fresh fold of the log.

A Hypothesis state machine on a real SQLite file. The reference is written apart from the program's queries: it reads
the whole log and folds it in Python.
"""

from __future__ import annotations

import shutil
import sqlite3
import tempfile
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import get_args

from hypothesis import find, settings
from hypothesis import strategies as st
from hypothesis.stateful import Bundle, RuleBasedStateMachine, invariant, rule
from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.core.balance.recipe import Recipe, kept_figures
from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, HandLook, ScrewTurned
from weftonos.core.bobbin.gauge import Pull
from weftonos.core.bobbin.own_number import learn_number
from weftonos.core.bobbin.purpose import Purpose, PurposeSet
from weftonos.core.bobbin.rack import BobbinCase
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Loft, Sandwich
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.logbook import Payload
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Incident
from weftonos.core.needle.life import RetireReason
from weftonos.core.needle.needle import Point
from weftonos.core.setup.events import (
    BobbinLoaded,
    CasePutBack,
    GoodEnough,
    KnobSet,
    MarkSet,
    NeedleFitted,
    NeedleRetired,
    QuiltOn,
    RecipeStage,
    RecipeUsed,
    SandwichLaid,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.setup.fold import Event, InForce, Remembered, after, setup_of
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import same_combination
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread
from weftonos.stations.line import line
from weftonos.stations.recipes import RecipeSearch, recipe_page
from weftonos.stations.upkeep import breaks_of
from weftonos.store.database import FILE_NAME
from weftonos.store.models import RecordRow
from weftonos.store.opening import open_workshop
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
SNAP = "clean_snap_of_the_top_thread"
HERON = Machine(
    nickname="Heron",
    kind=MachineKind.LONGARM,
    scale=TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5),
    throat_in=24,
)


def owned(name: str, wt: float, line: str = "") -> DrawerThread:
    thread = Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=wt, system=WeightSystem.WT)
    return DrawerThread(name=name, thread=thread, line=line)


def reading(mn: float, case: int | None) -> BobbinReading:
    return BobbinReading.of(ForceUnit.MN, (Pull(value=mn), Pull(value=mn + 2)), None, case=case)


CASES = st.sampled_from([1, 2])


def payloads(low, middle, high, *own):
    """Return every kind of record that says something of what is on, at three settings of the machine's scale."""
    return st.one_of(
        st.sampled_from([TopThreaded((1,)), TopThreaded((2,)), TopThreaded((1, 2)), TopThreaded((3,))]),
        st.builds(BobbinLoaded, bobbin=st.sampled_from([1, 2]), case=st.sampled_from([None, 1, 2])),
        st.builds(CasePutBack, CASES),
        st.builds(ScrewTurned, st.sampled_from([None, 1, 2]), minutes=st.just(3.0)),
        st.builds(
            BobbinLook, test=st.just(HandLook.PALM), feel=st.just(Feel.RIGHT), case=st.sampled_from([None, 1, 2])
        ),
        st.builds(PurposeSet, purpose=st.sampled_from([Purpose.ORDINARY, Purpose.DELICATE])),
        st.builds(KnobSet, st.sampled_from([None, middle])),
        st.builds(QuiltOn, quilt=st.sampled_from(["Avocet", "Dunlin"])),
        st.builds(RecipeUsed, recipe=st.integers(1, 8), stage=st.sampled_from(list(RecipeStage))),
        st.builds(GoodEnough, st.sampled_from([-1, 0, 1])),
        st.sampled_from(
            [
                NeedleFitted(metric=90, american=14, point=Point.SHARP),
                NeedleFitted(metric=100, american=16, point=Point.BALLPOINT),
            ]
        ),
        st.just(NeedleRetired(RetireReason.DUE)),
        st.builds(SandwichLaid, st.builds(Sandwich, loft=st.sampled_from(list(Loft)))),
        st.builds(reading, st.sampled_from([180.0, 204.0, 230.0, 400.0]), st.sampled_from([None, 1, 2])),
        st.builds(StitchedLook, setting=st.sampled_from([low, high]), grade=st.sampled_from([0, 0, 1, -1])),
        st.builds(Run, minutes=st.sampled_from([30.0, 60.0]), quilt=st.sampled_from(["", "Avocet"])),
        st.just(Incident(symptoms=(SNAP,))),
        st.builds(Recipe, name=st.just("Kept"), setting=st.just(middle), grade=st.just(0), bobbin_mn=st.just(200.0)),
        *own,
    )


MARK = st.builds(
    MarkSet, name=st.sampled_from(["where 40 over 60 balanced", "new spring"]), at=st.sampled_from([-0.5, 0.0])
)
#: What is refused as long as what it speaks of is not there, or is so already.
REFUSABLE = (CasePutBack, RecipeUsed, MarkSet)
MINUTES = st.integers(-600, 0)


class Log(RuleBasedStateMachine):
    """Anything that can be done to a log, and what must hold after it."""

    records = Bundle("records")
    machine = HERON
    payloads = payloads(190.0, 200.0, 210.0)

    def __init__(self) -> None:
        super().__init__()
        self.folder = Path(tempfile.mkdtemp())
        self.engine = open_workshop(self.folder)
        with Session(self.engine) as session, session.begin():
            shop = Workshop(session)
            shop.add_machine(self.machine)
            shop.drawer.add_thread(owned("Tern 40", 40))
            shop.drawer.add_thread(owned("Knot 80", 80))
            shop.drawer.add_thread(owned("Tern 40 teal", 40))
            shop.rack.add_case(1, BobbinCase(label="A"))
            shop.rack.add_case(1, BobbinCase(label="B"))

    def teardown(self) -> None:
        self._a_renewed_cache_answers_the_same()
        self.engine.dispose()
        shutil.rmtree(self.folder)

    @rule(target=records, data=st.data(), minutes=MINUTES)
    def note(self, data, minutes):
        payload = data.draw(self.payloads)
        with Session(self.engine) as session, session.begin():
            shop, at = Workshop(session), NOW + timedelta(minutes=minutes)
            try:
                return shop.note(1, payload, at, NOW).id
            except CraftError:
                assert isinstance(payload, REFUSABLE)
                return shop.note(1, Run(minutes=5), at, NOW).id

    @rule(record=records, data=st.data(), minutes=MINUTES)
    def correct(self, record, data, minutes):
        payload = data.draw(self.payloads)
        with Session(self.engine) as session, session.begin():
            shop = Workshop(session)
            old = shop.record(record).payload
            if isinstance(old, Recipe):
                payload = replace(old, note=f"looked at again {minutes}")
            try:
                shop.correct(record, payload, NOW + timedelta(minutes=minutes), NOW)
            except CraftError:
                assert payload.kind != old.kind or isinstance(payload, REFUSABLE)

    @rule(record=records)
    def strike(self, record):
        with Session(self.engine) as session, session.begin():
            Workshop(session).strike(record, NOW)

    @rule(record=records)
    def restore(self, record):
        with Session(self.engine) as session, session.begin():
            Workshop(session).restore(record, NOW)

    @rule(thread=st.sampled_from([1, 2, 3]), wt=st.sampled_from([30.0, 50.0]), line=st.sampled_from(["", "Tern"]))
    def correct_a_label(self, thread, wt, line):
        with Session(self.engine) as session, session.begin():
            Workshop(session).change_thread(thread, owned(f"Corrected {wt:g}", wt, line))

    @invariant()
    def everything_equals_a_fresh_fold(self):
        with Session(self.engine) as session:
            shop = Workshop(session)
            rows = session.scalars(select(RecordRow).order_by(RecordRow.at, RecordRow.id)).all()
            threads, cases = shop.drawer.specs([1, 2, 3]), shop.rack.specs([1, 2])
            lines = {n: spec.one_thread for n, spec in threads.items() if spec.line}
            kin = {n: min(m for m in lines if lines[m] == lines[n]) for n in lines}
            state, states, held = InForce(), {}, Remembered(kin)
            for row in rows:
                beside = Remembered(kin, dict(held.cases)) if row.struck_at else held
                states[row.id] = after(state, Event(row.id, row.at, row.payload), beside)
                state = state if row.struck_at else states[row.id]
            fresh = {number: setup_of(each, threads, cases) for number, each in states.items()}
            now = setup_of(state, threads, cases)
            counting = [row for row in rows if not row.struck_at]

            assert shop.setups_at(rows) == fresh
            assert shop.setup(1) == now
            assert line(shop, 1).setup == now

            looks = [r for r in counting if isinstance(r.payload, StitchedLook) and r.payload.grade == 0]
            ordinary = [
                s
                for r in looks
                if (s := fresh[r.id]).reading and not (s.purpose and s.purpose.purpose is Purpose.DELICATE)
            ]
            read = {s.reading.record_id: s.reading.mean_mn for s in ordinary[-40:]}
            found, wanted = shop.own_number(1), learn_number(list(read.values()))
            assert (found is None) == (wanted is None)
            if found and wanted:
                assert (found.readings, round(found.mean_mn, 6)) == (wanted.readings, round(wanted.mean_mn, 6))

            items = recipe_page(shop, RecipeSearch(limit=100)).items
            kept = {i.entry.id: i.bobbin_words for i in items}
            assert kept == {
                r.id: kept_figures(r.payload, fresh[r.id]).bobbin_words
                for r in counting
                if isinstance(r.payload, Recipe)
            }

            runs = [r for r in counting if isinstance(r.payload, Run)]
            since = runs[0].at if runs else datetime.min.replace(tzinfo=UTC)
            broke = [r for r in counting if isinstance(r.payload, Incident) and r.at >= since]
            rate = breaks_of(shop, 1)
            assert rate.breaks == sum(same_combination(fresh[r.id], now) for r in broke)
            minutes = sum(r.payload.minutes for r in runs if same_combination(fresh[r.id], now))
            assert abs(rate.hours - minutes / 60) < 1e-9

    def _a_renewed_cache_answers_the_same(self) -> None:
        """Wipe every column that is a cache; opening the file anew brings all of it back."""
        with Session(self.engine) as session:
            before = line(Workshop(session), 1)
        other = self.folder / "wiped"
        other.mkdir()
        with sqlite3.connect(self.folder / FILE_NAME) as old, sqlite3.connect(other / FILE_NAME) as new:
            old.backup(new)
            new.execute(
                "UPDATE record SET top_id = 77, loaded_id = NULL, fitted_id = NULL, reading_id = NULL, "
                "sandwich_id = 5, look_id = NULL, change_id = NULL, detail = NULL, minutes = NULL"
            )
            new.execute("PRAGMA user_version = 0")
        old.close()
        new.close()
        engine = open_workshop(other)
        with Session(engine) as session:
            assert line(Workshop(session), 1) == before
        engine.dispose()


class LogOfTurns(Log):
    """The same on an unmarked knob, whose mark is set anew now and then."""

    machine = replace(HERON, scale=TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25))
    payloads = payloads(-0.5, 0.0, 0.5, MARK)


def test_every_kind_of_record_that_says_what_is_on_is_tried():
    of_no_setup = {"clock_started", "comparison_planned", "incident_check", "incident_answer", "incident_outcome"}
    of_no_setup |= {"preflight", "upkeep", "part_marked", "walk_done", "gauge_checked", "cloth"}
    of_no_setup |= {"quilt_planned", "pass_step", "cone_noted"}
    tried = {kind.kind for kind in get_args(Payload)} - of_no_setup
    drawn = {find(LogOfTurns.payloads, lambda p, k=kind: p.kind == k).kind for kind in tried}
    assert drawn == tried


TestLog = Log.TestCase
TestLogOfTurns = LogOfTurns.TestCase
TestLog.settings = TestLogOfTurns.settings = settings(max_examples=10, stateful_step_count=25, deadline=None)
