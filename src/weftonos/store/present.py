"""A machine as it stands, in one question: the records in force, and the newest of each kind asked for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any

from sqlalchemy import Integer, String, TextualSelect, column, text
from sqlalchemy.orm import Session

from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.purpose import Purpose, PurposeSet
from weftonos.core.log.run import ClockStarted, Run
from weftonos.core.mend.incident import Incident, IncidentOutcome, Outcome, Step
from weftonos.core.mend.upkeep import Upkeep, UpkeepKind
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.fold import ROLES, Event, InForce
from weftonos.store.documents import Moment, RecordDocument
from weftonos.store.folding import numbers_of

#: How many balanced looks a machine's own bobbin number rests on at most.
LOOKS_FOR_OWN_NUMBER = 40
#: The grade of a balanced look, as it stands in ``detail``.
BALANCED = "0"


@dataclass(frozen=True, kw_only=True)
class Present:
    """What the log says of a machine now; each is the newest of its kind that counts, or ``None``.

    ``clock_runs`` unless a run that was noted after the newest start of the clock, and stands after it, ended it.
    ``good`` is the newest record under which it ran well, a balanced look or a cured trouble, with ``good_numbers`` of
    the records in force then; ``look_numbers`` are those at the look in force, ``look_reading`` its bobbin's reading.
    ``loosened`` is the last purpose that was set, whether it still holds or not. ``own_mn`` are the readings under its
    last balanced looks. ``incident`` is the newest trouble, open or over, with its ``steps``.
    """

    in_force: InForce
    recipe: Event | None = None
    clock: Event | None = None
    clock_runs: bool = False
    incident: Event | None = None
    steps: Sequence[Event] = ()
    good: Event | None = None
    good_numbers: Mapping[str, int | None] = field(default_factory=dict)
    look_numbers: Mapping[str, int | None] = field(default_factory=dict)
    look_reading: Event | None = None
    upkeep: Mapping[UpkeepKind, Event] = field(default_factory=dict)
    loosened: Event | None = None
    own_mn: Sequence[float] = ()


def read_present(session: Session, machine_id: int) -> Present:
    """Return a machine as it stands."""
    roles: dict[str, list[Any]] = {}
    for row in session.execute(_question(), {"machine": machine_id}):
        roles.setdefault(row.role, []).append(row)

    def newest(role: str) -> Event | None:
        return _event(roles[role][0]) if role in roles else None

    goods = [row for role in ("good_line", "good_cure") for row in roles.get(role, ())]
    good = max(goods, key=lambda row: (row.at, row.id), default=None)
    steps = [_event(row) for row in roles.get("step", ()) if isinstance(row.payload, Step)]
    return Present(
        in_force=InForce(**{role: newest(f"in force {role}") for role in ROLES}),
        recipe=newest("recipe"),
        loosened=newest("loosened"),
        clock=newest("clock"),
        clock_runs="clock" in roles and "clock ended" not in roles,
        incident=newest("incident"),
        steps=steps,
        good=_event(good) if good is not None else None,
        good_numbers=numbers_of(good) if good is not None else {},
        look_numbers=numbers_of(roles["in force look"][0]) if "in force look" in roles else {},
        look_reading=newest("look reading"),
        upkeep={kind: event for kind in UpkeepKind if (event := newest(f"upkeep {kind.value}"))},
        own_mn=[row.payload.mean_mn for row in roles.get("own", ()) if hasattr(row.payload, "mean_mn")],
    )


def _event(row: Any) -> Event:
    return Event(row.id, row.at, row.payload)


@cache
def _question() -> TextualSelect:
    """Return the question as SQL: one row for each role that a record plays, worked out by the indexes alone."""

    def newest(kind: str, detail: str | None = None) -> str:
        also = f" AND detail = '{detail}'" if detail is not None else ""
        return (
            f"SELECT id FROM record WHERE machine_id = :machine AND kind = '{kind}'{also} AND struck_at IS NULL "
            "ORDER BY at DESC, id DESC LIMIT 1"
        )

    parts = [f"SELECT 'in force {role}' AS role, {role}_id AS id FROM newest_of_all" for role in ROLES]
    parts.append(
        "SELECT 'look reading', look.reading_id FROM newest_of_all "
        "JOIN record AS look ON look.id = newest_of_all.look_id"
    )
    looked_for = {
        "recipe": newest(Recipe.kind),
        "loosened": newest(PurposeSet.kind),
        "clock": newest(ClockStarted.kind),
        "clock ended": (
            f"SELECT run.id FROM record AS run JOIN record AS start ON start.id = ({newest(ClockStarted.kind)}) "
            f"WHERE run.machine_id = :machine AND run.kind = '{Run.kind}' AND run.struck_at IS NULL "
            "AND run.at >= start.at AND run.id > start.id LIMIT 1"
        ),
        "incident": newest(Incident.kind),
        "good_line": newest(StitchedLook.kind, BALANCED),
        "good_cure": newest(IncidentOutcome.kind, Outcome.CURED.value),
        **{f"upkeep {kind.value}": newest(Upkeep.kind, kind.value) for kind in UpkeepKind},
        "own": (
            # What was loosened for a purpose says nothing of the ordinary number.
            "SELECT DISTINCT reading_id FROM (SELECT look.reading_id FROM record AS look "
            "LEFT JOIN record AS purpose ON purpose.id = look.purpose_id "
            "LEFT JOIN record AS loaded ON loaded.id = look.loaded_id "
            f"WHERE look.machine_id = :machine AND look.kind = '{StitchedLook.kind}' AND look.detail = '{BALANCED}' "
            f"AND look.struck_at IS NULL AND look.reading_id IS NOT NULL AND loaded.detail IS NULL "
            f"AND coalesce(purpose.detail, '{Purpose.ORDINARY}') = '{Purpose.ORDINARY}' "
            f"ORDER BY look.at DESC, look.id DESC LIMIT {LOOKS_FOR_OWN_NUMBER})"
        ),
        "step": f"SELECT id FROM record WHERE incident_id = ({newest(Incident.kind)}) AND struck_at IS NULL",
    }
    parts += [
        f"SELECT '{role}', id FROM (SELECT NULL AS id WHERE 0 UNION ALL SELECT * FROM ({found}))"
        for role, found in looked_for.items()
    ]
    numbers = ", ".join(f"record.{role}_id" for role in ROLES)
    columns = ", ".join(f"{role}_id" for role in ROLES)
    return text(
        f"WITH newest_of_all AS (SELECT {columns} FROM record WHERE machine_id = :machine AND struck_at IS NULL "
        f"ORDER BY at DESC, id DESC LIMIT 1), roles AS ({' UNION ALL '.join(parts)}) "
        f"SELECT roles.role, record.id, record.at, record.payload, {numbers} "
        "FROM roles JOIN record ON record.id = roles.id ORDER BY record.at, record.id"
    ).columns(
        column("role", String),
        column("id", Integer),
        column("at", Moment),
        column("payload", RecordDocument),
        *(column(f"{role}_id", Integer) for role in ROLES),
    )
