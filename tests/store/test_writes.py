"""The key of a write: kept with what was written, gone with what was not, and let go of in time."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from weftonos.store.models import WriteKeyRow
from weftonos.store.opening import open_workshop
from weftonos.store.writes import KEPT_FOR, AlreadyWrittenError, claim

NOW = datetime(2026, 11, 25, 20, tzinfo=UTC)


@pytest.fixture
def engine(tmp_path):
    found = open_workshop(tmp_path)
    yield found
    found.dispose()


def kept(engine) -> int:
    with Session(engine) as session:
        return session.scalar(select(func.count()).select_from(WriteKeyRow))


def test_a_key_is_claimed_once(engine):
    with Session(engine) as session, session.begin():
        claim(session, "a-first-write", NOW)
    with Session(engine) as session, pytest.raises(AlreadyWrittenError):
        claim(session, "a-first-write", NOW + timedelta(days=1))
    assert kept(engine) == 1


def test_what_was_not_written_leaves_no_key(engine):
    with pytest.raises(ZeroDivisionError), Session(engine) as session, session.begin():
        claim(session, "a-broken-write", NOW)
        _ = 1 / 0
    assert kept(engine) == 0
    with Session(engine) as session, session.begin():
        claim(session, "a-broken-write", NOW)


def test_old_keys_are_let_go_of(engine):
    for number in range(3):
        with Session(engine) as session, session.begin():
            claim(session, f"write number {number}", NOW + number * timedelta(hours=1))
    assert kept(engine) == 3
    with Session(engine) as session, session.begin():
        claim(session, "much later", NOW + KEPT_FOR + timedelta(hours=1, seconds=1))
    assert kept(engine) == 2, "the newest of the old ones and the new one"
