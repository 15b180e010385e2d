"""Rounds of practice: begun, played move by move, ended with a score; and what they say of a person's eye and hand."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from weftonos.core.balance.eye import LOOKS_FOR_OWN_EYE, EyeRow, confusions
from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.learned.practiced import Exercise, hand_of, hand_words, pulls_advised, reads
from weftonos.stations.practice import cloth, fault, pull, quick
from weftonos.stations.practice.views import PracticeMove, Shown
from weftonos.store.models import PracticeRow
from weftonos.store.practice import (
    add_move,
    add_round,
    end_round,
    items_of,
    moves_of,
    people,
    round_of,
    rounds,
)
from weftonos.store.workshop import Workshop

LEVELS = {
    Exercise.CLOTH: cloth.LEVELS,
    Exercise.SETTING: 4,
    Exercise.PULL: pull.LEVELS,
    Exercise.FAULT: fault.LEVELS,
    Exercise.NEEDLE: quick.LEVELS,
}
#: From this score on the next round is a level harder; below the other one easier.
HARDER_FROM, EASIER_BELOW = 85.0, 50.0
LARGEST_SEED = 2**31 - 1


@dataclass(frozen=True, kw_only=True)
class Begin:
    """Who practices what; without level and seed the round goes on from the last one."""

    person: str
    exercise: Exercise
    level: int | None = None
    seed: int | None = None

    def __post_init__(self) -> None:
        require_text(self.person, 40, "Your name", "person")
        if self.seed is not None:
            require_between(value=self.seed, low=0, high=LARGEST_SEED, what="The seed", field="seed")
        if self.level is not None:
            most = LEVELS[self.exercise]
            require_between(value=self.level, low=1, high=most, what="The level", field="level")


@dataclass(frozen=True, kw_only=True)
class Round:
    """A round as it stands."""

    id: int
    person: str
    exercise: Exercise
    seed: int
    level: int
    begun_at: datetime
    over: bool
    shown: Shown


def begin(workshop: Workshop, machine_id: int, asked: Begin, now: datetime) -> Round:
    """Begin a round; a round that is still open is left as it is, and can be taken up again."""
    workshop.machine(machine_id)
    person = asked.person.strip()
    before = rounds(workshop.session, person, asked.exercise.value)
    level = asked.level or _level(asked.exercise, before)
    seed = asked.seed if asked.seed is not None else (int(now.timestamp()) * 31 + len(before)) % LARGEST_SEED
    items: Any
    match asked.exercise:
        case Exercise.CLOTH:
            items = cloth.begin_cloth(seed, level, confusions(reads(workshop, person)))
        case Exercise.SETTING:
            items = cloth.begin_setting(seed, level)
        case Exercise.PULL:
            items = pull.begin_pull(seed, level)
        case Exercise.FAULT:
            items = fault.begin_fault(seed, level)
        case Exercise.NEEDLE:
            items = quick.begin_quick(workshop, machine_id, seed, level)
    row = PracticeRow(
        person=person,
        exercise=asked.exercise.value,
        seed=seed,
        level=level,
        begun_at=now,
        items=json.dumps(items),
        moves="[]",
    )
    return _round(add_round(workshop.session, row), _shown(row))


def _level(exercise: Exercise, before: Sequence[PracticeRow]) -> int:
    """Return the level of the next round: where the last one that was ended leads."""
    last = next((row for row in before if row.score is not None), None)
    if last is None or last.score is None:
        return 1
    step = 1 if last.score >= HARDER_FROM else -1 if last.score < EASIER_BELOW else 0
    return min(LEVELS[exercise], max(1, last.level + step))


def _shown(row: PracticeRow) -> Shown:
    items, moves = items_of(row), moves_of(row)
    match Exercise(row.exercise):
        case Exercise.CLOTH:
            return cloth.show_cloth(items, moves, row.level)
        case Exercise.SETTING:
            return cloth.show_setting(items, moves, row.level)
        case Exercise.PULL:
            return pull.show_pull(items, moves)
        case Exercise.FAULT:
            return fault.show_fault(items, moves)
        case Exercise.NEEDLE:
            return quick.show_quick(items, moves)


def _round(row: PracticeRow, shown: Shown) -> Round:
    return Round(
        id=row.id,
        person=row.person,
        exercise=Exercise(row.exercise),
        seed=row.seed,
        level=row.level,
        begun_at=row.begun_at,
        over=row.ended_at is not None,
        shown=shown,
    )


def show(workshop: Workshop, number: int) -> Round:
    """Return a round as it stands, however long it was left."""
    row = round_of(workshop.session, number)
    return _round(row, _shown(row))


def play(workshop: Workshop, number: int, move: PracticeMove, now: datetime) -> Round:
    """Make a move; one that cannot be is said, and the round stays as it was."""
    row = round_of(workshop.session, number)
    if row.ended_at is not None:
        raise CraftError("This round is over. Start another.", "round")
    items, moves = items_of(row), moves_of(row)
    match Exercise(row.exercise):
        case Exercise.CLOTH:
            if move.choice not in {"-2", "-1", "0", "1", "2"}:
                raise CraftError("Pick one of the five pictures.", "choice")
            kept: dict[str, Any] = {"choice": move.choice}
        case Exercise.SETTING:
            cloth.check_setting(items, move)
            kept = {"choice": move.choice} if move.choice else {"setting": move.setting}
        case Exercise.PULL:
            pull.check_pull(move)
            kept = {"taps": list(move.taps)}
        case Exercise.FAULT:
            fault.check_fault(items, moves, move)
            kept = {"choice": move.choice}
        case Exercise.NEEDLE:
            quick.check_quick(items, moves, move)
            kept = {"choice": move.choice}
    add_move(row, kept)
    shown = _shown(row)
    if shown.score is not None:
        end_round(row, shown.score, now)
    workshop.session.flush()
    return _round(row, shown)


# What the rounds say ----------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class EndedRound:
    """A round that was ended: when, at which level, and how well, 0 to 100."""

    at: datetime
    level: int
    score: float


@dataclass(frozen=True, kw_only=True)
class ExerciseProgress:
    """How somebody does at one exercise, and the round that is still open."""

    exercise: Exercise
    rounds: int
    level: int
    points: Sequence[EndedRound]
    open: int | None


@dataclass(frozen=True, kw_only=True)
class PracticePage:
    """Who practices here, how the one that is asked for does, their eye and their hand.

    ``eye_from`` is how many looks it takes before an eye can be used, ``eye_used`` whether it is on this machine.
    """

    people: Sequence[str]
    person: str
    progress: Sequence[ExerciseProgress]
    eye: Sequence[EyeRow]
    looks: int
    eye_from: int
    eye_used: bool
    repeats: float | None
    pulls: int | None
    hand_text: str


def practice_page(workshop: Workshop, machine_id: int, person: str) -> PracticePage:
    """Return how somebody's practice stands."""
    known = people(workshop.session)
    who = person.strip() or (known[0] if known else "")
    rows = rounds(workshop.session, who) if who else []
    progress = []
    for exercise in Exercise:
        mine = [row for row in rows if row.exercise == exercise.value]
        points = [
            EndedRound(row.ended_at, row.level, row.score)
            for row in reversed(mine)
            if row.ended_at is not None and row.score is not None
        ]
        still = next((row.id for row in mine if row.ended_at is None), None)
        progress.append(
            ExerciseProgress(
                exercise=exercise, rounds=len(points), level=_level(exercise, mine), points=points, open=still
            )
        )
    found = reads(workshop, who)
    repeats = hand_of(workshop, who)
    pulls = pulls_advised(repeats) if repeats is not None else None
    return PracticePage(
        people=known,
        person=who,
        progress=progress,
        eye=confusions(found),
        looks=len(found),
        eye_from=int(LOOKS_FOR_OWN_EYE.value),
        eye_used=bool(who) and workshop.machine(machine_id).spec.reader == who,
        repeats=repeats,
        pulls=pulls,
        hand_text=hand_words(who, repeats),
    )
