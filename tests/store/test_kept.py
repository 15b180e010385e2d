"""What the questions of a screen share is what the file says: another's write ends it, and a writer has its own."""

from __future__ import annotations

import shutil
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from bench_screens import asked_of
from sqlalchemy import text
from sqlalchemy.orm import Session

from weftonos.cli import load_demo
from weftonos.core.kernel.scale import ScaleKind
from weftonos.core.mend.upkeep import Upkeep, UpkeepKind
from weftonos.core.setup.events import MarkSet
from weftonos.core.setup.fold import Event
from weftonos.store import reading as reading_records
from weftonos.store.database import reading
from weftonos.store.kept import KeptUntilWritten, ReadOnce
from weftonos.store.opening import open_workshop
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 25, 20, tzinfo=UTC)


@pytest.fixture(scope="module")
def example(tmp_path_factory):
    folder = tmp_path_factory.mktemp("example")
    load_demo(folder)
    return folder


@pytest.fixture
def workshops(tmp_path, example):
    for name in ("one", "other"):
        shutil.copytree(example, tmp_path / name)
    engines = [open_workshop(tmp_path / name) for name in ("one", "other")]
    yield engines
    for each in engines:
        each.dispose()


@contextmanager
def to_read(engine) -> Iterator[Workshop]:
    with Session(reading(engine)) as session, session.begin():
        yield Workshop(session)


@contextmanager
def to_write(engine) -> Iterator[Workshop]:
    with Session(engine) as session, session.begin():
        yield Workshop(session)


def clean(engine, minutes: int) -> datetime:
    """Clean the first machine; return when."""
    at = NOW + timedelta(minutes=minutes)
    with to_write(engine) as workshop:
        workshop.note(1, Upkeep(what=UpkeepKind.CLEANING), at, at)
    return at


def cleaned(workshop: Workshop) -> datetime:
    return workshop.present(1).upkeep[UpkeepKind.CLEANING].at


def test_the_second_question_asks_for_nothing_that_the_first_has_read(workshops):
    engine = workshops[0]

    def ask() -> tuple[object, ...]:
        with to_read(engine) as workshop:
            row = workshop.machine(1)
            setup = workshop.setup(1)
            return row.id, row.uid, row.version, row.spec, setup, workshop.marks(1), workshop.bobbin_target(1)

    with asked_of(engine) as asked:
        first = ask()
    assert len(asked) > 3
    with asked_of(engine) as asked:
        assert ask() == first
    assert asked == []


def test_a_write_ends_what_was_kept(workshops):
    engine = workshops[0]
    for minutes in (1, 2):
        at = clean(engine, minutes)
        with to_read(engine) as workshop:
            assert cleaned(workshop) == at
            case = workshop.setup(1).case
            assert case is not None
    with to_write(engine) as workshop:
        was = workshop.rack.case(case.id).spec
        workshop.rack.change_case(case.id, replace(was, label="Another label"))
        row = next(row for row in workshop.machines() if row.spec.scale.kind is ScaleKind.TURNS)
        unmarked, spec = row.id, row.spec
        at = NOW + timedelta(minutes=3)
        workshop.note(unmarked, MarkSet(name="Blue dot", at=0.25), at, at)
        assert workshop.marks(unmarked).moved_since(NOW) == 0.25
    with to_read(engine) as workshop:
        assert workshop.setup(1).case.label == "Another label"
        assert workshop.marks(unmarked).moved_since(NOW) == 0.25
        assert workshop.machine(unmarked).spec == spec


def test_one_that_reads_on_sees_what_it_saw_and_leaves_it_to_nobody(workshops):
    engine = workshops[0]
    before = clean(engine, 1)
    with to_read(engine) as early:
        early.machine(1)
        after = clean(engine, 2)
        with to_read(engine) as late:
            assert cleaned(late) == after
        assert cleaned(early) == before
    with to_read(engine) as workshop:
        assert cleaned(workshop) == after


def test_one_that_reads_on_asks_once_as_well(workshops):
    """An export that takes its time while somebody sews: what it has read it does not read again and again."""
    engine = workshops[0]
    with to_read(engine) as early:
        early.machine(1)
        clean(engine, 1)
        with to_read(engine) as late:
            late.setup(1)
        first = early.setup(1)
        with asked_of(engine) as asked:
            assert early.setup(1) == first
        assert asked == []


def test_an_export_leaves_no_more_than_it_may(workshops, monkeypatch):
    monkeypatch.setattr(reading_records, "MOST_EVENTS", 40)
    with to_read(workshops[0]) as workshop:
        numbers = list(workshop.session.scalars(text("SELECT id FROM record ORDER BY id LIMIT 200")))
        for n in range(0, 200, 10):
            assert workshop.events(numbers[n : n + 10]).keys() == set(numbers[n : n + 10])
        held = ReadOnce(workshop.session).of(Event)
        assert 20 <= len(held) <= 40


def test_a_writer_sees_its_own_and_what_it_takes_back_was_never_there(workshops):
    engine = workshops[0]
    before = clean(engine, 1)
    with to_read(engine) as workshop:
        assert cleaned(workshop) == before
    at = NOW + timedelta(minutes=2)
    with pytest.raises(ZeroDivisionError), to_write(engine) as workshop:
        workshop.note(1, Upkeep(what=UpkeepKind.CLEANING), at, at)
        assert cleaned(workshop) == at
        with to_read(engine) as other:
            assert cleaned(other) == before
        _ = 1 / 0
    with to_read(engine) as workshop:
        assert cleaned(workshop) == before


def test_two_workshops_keep_apart(workshops):
    times = [clean(engine, minutes) for minutes, engine in enumerate(workshops, 1)]
    for _ in range(2):
        for engine, at in zip(workshops, times, strict=True):
            with to_read(engine) as workshop:
                assert cleaned(workshop) == at


def test_beside_a_writer_everybody_shares_what_it_sees_itself(workshops):
    """Five readers and a writer at once: what one finds of another is what stands in its own sight of the file."""
    engine, shared, over = workshops[0], KeptUntilWritten(), threading.Event()

    def look() -> tuple[int, int]:
        looks = others = 0
        while not over.is_set():
            with to_read(engine) as workshop:
                sees = workshop.session.scalar(text("SELECT count(*) FROM record"))
                held = shared.of(workshop.session)
                assert held is None or held.setdefault("records", sees) == sees
                looks, others = looks + 1, others + (held is not None)
        return looks, others

    with ThreadPoolExecutor(5) as hands:
        readers = [hands.submit(look) for _ in range(5)]
        try:
            for minutes in range(150):
                clean(engine, minutes)
        finally:
            over.set()
        looks, others = (sum(each) for each in zip(*(reader.result() for reader in readers), strict=True))
    assert looks > 150
    assert others > looks / 3
