"""Rounds of practice in the workshop's file, apart from the log."""

from __future__ import annotations

import json
from collections.abc import Sequence
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.core.kernel.spelling import in_todays_spelling
from weftonos.store.drawer import NotFoundError
from weftonos.store.models import PracticeRow

#: Rounds of one person that are read at most, the newest.
ROUNDS_REMEMBERED = 400


def add_round(session: Session, row: PracticeRow) -> PracticeRow:
    """Keep a new round."""
    session.add(row)
    session.flush()
    return row


def round_of(session: Session, number: int) -> PracticeRow:
    """Return a round; raises :class:`NotFoundError`."""
    row = session.get(PracticeRow, number)
    if row is None:
        raise NotFoundError(f"There is no round of practice {number}.")
    return row


def rounds(session: Session, person: str | None = None, exercise: str | None = None) -> Sequence[PracticeRow]:
    """Return rounds, newest first."""
    query = select(PracticeRow).order_by(PracticeRow.begun_at.desc(), PracticeRow.id.desc()).limit(ROUNDS_REMEMBERED)
    if person is not None:
        query = query.where(PracticeRow.person == person)
    if exercise is not None:
        query = query.where(PracticeRow.exercise == exercise)
    return session.scalars(query).all()


def people(session: Session) -> Sequence[str]:
    """Return who has practiced, the last first."""
    return list(dict.fromkeys(row.person for row in rounds(session)))


def add_move(row: PracticeRow, move: Any) -> None:
    """Put a move behind the others."""
    row.moves = json.dumps([*moves_of(row), move])


def moves_of(row: PracticeRow) -> list[Any]:
    """Return the moves so far."""
    found: list[Any] = json.loads(row.moves)
    return found


def items_of(row: PracticeRow) -> Any:
    """Return what the round was made of."""
    return in_todays_spelling(json.loads(row.items))


def end_round(row: PracticeRow, score: float, now: datetime) -> None:
    """Close a round with its score, 0 to 100."""
    row.score, row.ended_at = round(score, 1), now
