"""Lines into an empty and a filled workshop: by UUID, never twice, never silently over what is there; taken back."""

from __future__ import annotations

import copy
import random
from datetime import UTC, datetime

import pytest
from bench_exchange import many_lines
from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.run import Run
from weftonos.store import archive
from weftonos.store.bringing import Differing, bring_in, forget
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME
from weftonos.store.opening import open_workshop
from weftonos.store.reading import LogSearch
from weftonos.store.taking_back import imports, undo
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 26, 12, tzinfo=UTC)


@pytest.fixture
def engine(tmp_path):
    engine = open_workshop(tmp_path)
    yield engine
    engine.dispose()
    assert check(tmp_path / FILE_NAME).wrong == []


@pytest.fixture(scope="module")
def made():
    return list(many_lines(120))


def bring(engine, lines, **how):
    with Session(engine) as session, session.begin():
        row, brought = bring_in(session, lambda: iter(lines), name="all.zip", now=NOW, **how)
        return row.id, brought


def held(engine):
    with Session(engine) as session:
        return list(archive.lines(session))


def test_an_empty_workshop_has_none_of_anything(engine):
    with Session(engine) as session:
        assert set(archive.how_many(session).values()) == {0}


def test_what_goes_in_comes_out_the_same_in_whatever_order_it_was(engine, made):
    things = [line for line in made if line["what"] != "record"]
    records = [line for line in made if line["what"] == "record"]
    random.Random(3).shuffle(records)
    _, brought = bring(engine, things + records)
    assert brought.new == {"machine": 1, "thread": 50, "record": 120}
    assert {line["uid"]: line["document"].get("minutes") for line in held(engine)} == {
        line["uid"]: line["document"].get("minutes") for line in made
    }
    with Session(engine) as session:
        newest = max((line for line in made if line["what"] == "record"), key=lambda line: line["at"])
        assert Workshop(session).log(LogSearch(limit=1)).items[0].uid == newest["uid"]


def test_a_second_time_everything_is_the_same(engine, made):
    bring(engine, made)
    before = held(engine)
    _, brought = bring(engine, before)
    assert (brought.new, brought.differing) == ({}, {})
    assert sum(brought.same.values()) == len(before)
    assert held(engine) == before


def test_set_ups_follow_from_what_was_brought_in_between(engine, made):
    """A thread that went on in the middle reaches what was noted after it."""
    bring(engine, [line for line in made if line["what"] != "record" or line["kind"] != "top_threaded"])
    with Session(engine) as session:
        assert Workshop(session).setup(1).top == ()
    bring(engine, made)
    with Session(engine) as session:
        assert len(Workshop(session).setup(1).top) == 1


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda line: line.update(machine="0" * 32), "names a machine that is neither here nor in the file"),
        (lambda line: line["document"].update(minutes=-4), "can't be read"),
        (lambda line: line.update(kind="look"), "can't be read"),
        (lambda line: line.update(at="tomorrow"), "isn't a time"),
        (lambda line: line.update(at="2026-05-03T10:00:00"), "isn't a time"),
        (lambda line: (line.pop("document"), line.update(written='{"kind":"run","minutes":5}')), "can be read"),
    ],
)
def test_one_line_that_is_none_keeps_all_of_it_out(engine, made, spoil, says):
    lines = copy.deepcopy(made)
    spoil(next(line for line in lines if line.get("kind") == "run"))
    with pytest.raises(CraftError) as refused:
        bring(engine, lines)
    assert says in str(refused.value)
    assert held(engine) == []


def test_one_uuid_twice_is_refused(engine, made):
    with pytest.raises(CraftError, match="stands twice"):
        bring(engine, [*made, made[-1]])


def test_both_went_on_and_taking_the_file_s_words_keeps_ours_beside_them(engine, made):
    bring(engine, made)
    run = next(line for line in made if line.get("kind") == "run" and not line["revisions"])
    theirs = copy.deepcopy(run)
    theirs["document"]["minutes"] = 33
    theirs["revisions"] = [
        {"at": NOW.isoformat(), "action": "corrected", "was_at": run["at"], "document": run["document"]}
    ]
    with Session(engine) as session, session.begin():
        shop = Workshop(session)
        row = next(r for r in shop.log(LogSearch(kinds=["run"], limit=200)).items if r.uid == run["uid"])
        shop.correct(row.id, Run(minutes=44, quilt="Ours"), row.at, NOW)
    ours = next(line for line in held(engine) if line["uid"] == run["uid"])
    lines = [line if line["uid"] != run["uid"] else theirs for line in made]
    _, kept = bring(engine, lines)
    assert kept.differing == {"record": 1}
    assert next(line for line in held(engine) if line["uid"] == run["uid"]) == ours
    number, _ = bring(engine, lines, differing=Differing.TAKE)
    found = next(line for line in held(engine) if line["uid"] == run["uid"])
    assert found["document"]["minutes"] == 33
    assert {said["document"]["minutes"] for said in found["revisions"]} >= {44, run["document"]["minutes"]}
    with Session(engine) as session, session.begin():
        undo(session, number, NOW)
    again = next(line for line in held(engine) if line["uid"] == run["uid"])
    assert (again["document"], again["revisions"]) == (ours["document"], ours["revisions"])


def test_an_import_that_is_forgotten_stays(engine, made):
    with Session(engine) as session, session.begin():
        row, _ = bring_in(session, lambda: iter(made), name="", now=NOW)
        forget(session, row)
    with Session(engine) as session:
        assert imports(session) == []
        with pytest.raises(CraftError, match="no such import"):
            undo(session, 1, NOW)
    assert len(held(engine)) == len(made)


def test_what_was_noted_on_a_machine_that_came_in_keeps_it_there(engine, made):
    number, _ = bring(engine, made)
    with Session(engine) as session, session.begin():
        noted = Workshop(session).note(1, Run(minutes=5), NOW, NOW).id
    with Session(engine) as session, session.begin(), pytest.raises(CraftError, match="1 record noted since rests"):
        undo(session, number, NOW)
    with Session(engine) as session, session.begin():
        Workshop(session).strike(noted, NOW)
    # A struck record still stands on its machine, and would hang on nothing.
    with Session(engine) as session, session.begin(), pytest.raises(CraftError, match="So it stays"):
        undo(session, number, NOW)
    assert len(held(engine)) == len(made) + 1
