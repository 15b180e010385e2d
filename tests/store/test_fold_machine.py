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

from hypothesis import settings
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
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Incident
from weftonos.core.needle.life import RetireReason
from weftonos.core.needle.needle import Point
from weftonos.core.setup.events import (
    BobbinLoaded,
    CasePutBack,
    GoodEnough,
    KnobSet,
    NeedleFitted,
    NeedleRetired,
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
PAYLOADS = st.one_of(
    st.sampled_from([TopThreaded((1,)), TopThreaded((2,)), TopThreaded((1, 2)), TopThreaded((3,))]),
    st.builds(BobbinLoaded, bobbin=st.sampled_from([1, 2]), case=st.sampled_from([None, 1, 2])),
    st.builds(CasePutBack, CASES),
    st.builds(ScrewTurned, st.sampled_from([None, 1, 2]), minutes=st.just(3.0)),
    st.builds(BobbinLook, test=st.just(HandLook.PALM), feel=st.just(Feel.RIGHT), case=st.sampled_from([None, 1, 2])),
    st.builds(PurposeSet, purpose=st.sampled_from([Purpose.ORDINARY, Purpose.DELICATE])),
    st.builds(KnobSet, st.sampled_from([None, 200.0])),
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
    st.builds(StitchedLook, setting=st.sampled_from([190.0, 210.0]), grade=st.sampled_from([0, 0, 1, -1])),
    st.builds(Run, minutes=st.sampled_from([30.0, 60.0]), quilt=st.sampled_from(["", "Avocet"])),
    st.just(Incident(symptoms=(SNAP,))),
    st.builds(Recipe, name=st.just("Kept"), setting=st.just(200.0), grade=st.just(0), bobbin_mn=st.just(200.0)),
)
MINUTES = st.integers(-600, 0)


class Log(RuleBasedStateMachine):
    """Anything that can be done to a log, and what must hold after it."""

    records = Bundle("records")

    def __init__(self) -> None:
        super().__init__()
        self.folder = Path(tempfile.mkdtemp())
        self.engine = open_workshop(self.folder)
        with Session(self.engine) as session, session.begin():
            shop = Workshop(session)
            shop.add_machine(HERON)
            shop.drawer.add_thread(owned("Tern 40", 40))
            shop.drawer.add_thread(owned("Knot 80", 80))
            shop.drawer.add_thread(owned("Tern 40 teal", 40))
            shop.rack.add_case(1, BobbinCase(label="A"))
            shop.rack.add_case(1, BobbinCase(label="B"))

    def teardown(self) -> None:
        self._a_renewed_cache_answers_the_same()
        self.engine.dispose()
        shutil.rmtree(self.folder)

    @rule(target=records, payload=PAYLOADS, minutes=MINUTES)
    def note(self, payload, minutes):
        with Session(self.engine) as session, session.begin():
            shop, at = Workshop(session), NOW + timedelta(minutes=minutes)
            try:
                return shop.note(1, payload, at, NOW).id
            except CraftError:
                # A case that was never in, or is in already, is not put back.
                assert isinstance(payload, CasePutBack)
                return shop.note(1, Run(minutes=5), at, NOW).id

    @rule(record=records, payload=PAYLOADS, minutes=MINUTES)
    def correct(self, record, payload, minutes):
        with Session(self.engine) as session, session.begin():
            shop = Workshop(session)
            old = shop.record(record).payload
            if isinstance(old, Recipe):
                payload = replace(old, note=f"looked at again {minutes}")
            try:
                shop.correct(record, payload, NOW + timedelta(minutes=minutes), NOW)
            except CraftError:
                assert payload.kind != old.kind or isinstance(payload, CasePutBack)

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


TestLog = Log.TestCase
TestLog.settings = settings(max_examples=12, stateful_step_count=25, deadline=None)
