"""A machine as it stands, in one question: the records in force, and the newest of each kind asked for."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any

from sqlalchemy import (
    BindParameter,
    ColumnElement,
    CompoundSelect,
    Select,
    bindparam,
    literal,
    select,
    union_all,
)
from sqlalchemy.orm import Session, aliased

from weftonos.core.balance.recipe import Recipe
from weftonos.core.log.run import ClockStarted, Run
from weftonos.core.mend.incident import Incident, IncidentOutcome, Outcome, Step
from weftonos.core.mend.upkeep import Upkeep, UpkeepKind
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.fold import ROLES, Event, InForce
from weftonos.store.folding import numbers_of
from weftonos.store.models import RecordRow

#: How many balanced looks a machine's own bobbin number rests on at most.
LOOKS_REMEMBERED = 40
#: The grade of a balanced look, as it stands in ``detail``.
BALANCED = "0"


@dataclass
class Present:
    """What the log says of a machine now; each is the newest of its kind that counts, or ``None``.

    ``good`` is the newest record under which it ran well, a balanced look or a cured trouble, with ``good_numbers`` of
    the records in force then. ``own_mn`` are the readings under its last balanced looks. ``incident`` is the newest
    trouble, open or over, with its ``steps``.
    """

    in_force: InForce
    recipe: Event | None = None
    run: Event | None = None
    clock: Event | None = None
    incident: Event | None = None
    steps: Sequence[Event] = ()
    good: Event | None = None
    good_numbers: dict[str, int | None] = field(default_factory=dict)
    upkeep: dict[UpkeepKind, Event] = field(default_factory=dict)
    own_mn: Sequence[float] = ()


def read_present(session: Session, machine_id: int) -> Present:
    """Return a machine as it stands."""
    roles: dict[str, list[Any]] = {}
    for row in session.execute(_question(), {"machine": machine_id}):
        roles.setdefault(row.role, []).append(row)

    def newest(role: str) -> Event | None:
        return _event(roles[role][0]) if role in roles else None

    goods = [row for role in ("good look", "good cure") for row in roles.get(role, ())]
    good = max(goods, key=lambda row: (row.at, row.id), default=None)
    steps = [_event(row) for row in roles.get("step", ()) if isinstance(row.payload, Step)]
    return Present(
        in_force=InForce(**{role: newest(f"in force {role}") for role in ROLES}),
        recipe=newest("recipe"),
        run=newest("run"),
        clock=newest("clock"),
        incident=newest("incident"),
        steps=steps,
        good=_event(good) if good is not None else None,
        good_numbers=numbers_of(good) if good is not None else {},
        upkeep={kind: event for kind in UpkeepKind if (event := newest(f"upkeep {kind.value}"))},
        own_mn=[row.payload.mean_mn for row in roles.get("own", ()) if hasattr(row.payload, "mean_mn")],
    )


def _event(row: Any) -> Event:
    return Event(row.id, row.at, row.payload)


@cache
def _question() -> Select[Any]:
    """Return the question, built once, since building takes longer than asking."""
    parts: list[Select[Any]] = []
    last = aliased(RecordRow)
    newest_of_all = (
        select(*(getattr(last, f"{role}_id").label(role) for role in ROLES))
        .where(last.machine_id == _machine(), last.struck_at.is_(None))
        .order_by(last.at.desc(), last.id.desc())
        .limit(1)
        .cte("newest_of_all")
    )
    parts += [_named(f"in force {role}", select(newest_of_all.c[role].label("id"))) for role in ROLES]
    for role, kind in (
        ("recipe", Recipe.kind),
        ("run", Run.kind),
        ("clock", ClockStarted.kind),
        ("incident", Incident.kind),
    ):
        parts.append(_named(role, _newest(kind)))
    parts.append(_named("good look", _newest(StitchedLook.kind, BALANCED)))
    parts.append(_named("good cure", _newest(IncidentOutcome.kind, Outcome.CURED.value)))
    parts += [_named(f"upkeep {kind.value}", _newest(Upkeep.kind, kind.value)) for kind in UpkeepKind]
    looks = _ordered(StitchedLook.kind, BALANCED, "reading_id").limit(LOOKS_REMEMBERED).subquery()
    parts.append(_named("own", select(looks.c.reading_id.label("id")).distinct()))
    step = aliased(RecordRow)
    of_newest = _newest(Incident.kind).scalar_subquery()
    parts.append(_named("step", select(step.id).where(step.incident_id == of_newest, step.struck_at.is_(None))))
    roles = union_all(*parts).subquery()
    return (
        select(roles.c.role, RecordRow.id, RecordRow.at, RecordRow.payload, *_numbers())
        .join(roles, roles.c.id == RecordRow.id)
        .order_by(RecordRow.at, RecordRow.id)
    )


def _machine() -> BindParameter[int]:
    return bindparam("machine")


def _numbers() -> Iterable[ColumnElement[int | None]]:
    return [getattr(RecordRow, f"{role}_id") for role in ROLES]


def _named(role: str, found: Select[Any] | CompoundSelect[Any]) -> Select[Any]:
    inner = found.subquery()
    return select(literal(role).label("role"), inner.c[0].label("id"))


def _ordered(kind: str, detail: str | None = None, column: str = "id") -> Select[Any]:
    row = aliased(RecordRow)
    query = select(getattr(row, column)).where(
        row.machine_id == _machine(), row.kind == kind, row.struck_at.is_(None), getattr(row, column).is_not(None)
    )
    if detail is not None:
        query = query.where(row.detail == detail)
    return query.order_by(row.at.desc(), row.id.desc())


def _newest(kind: str, detail: str | None = None) -> Select[Any]:
    return _ordered(kind, detail).limit(1)
