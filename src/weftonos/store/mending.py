"""Troubles: incidents with their steps, and what the workshop's cured ones have taught."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from typing import Any, NamedTuple

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from weftonos.core.log.run import Run
from weftonos.core.mend.incident import (
    Incident,
    IncidentOutcome,
    IncidentState,
    Outcome,
    Step,
    came_back,
    incident_state,
)
from weftonos.core.mend.own_outcomes import SolvedTrouble, solved_trouble
from weftonos.core.mend.own_pace import TimedCheck, timed_checks
from weftonos.core.mend.proof import CuresTried
from weftonos.core.mend.upkeep import Upkeep, UpkeepKind
from weftonos.core.setup.events import StitchedLook
from weftonos.store.folding import IN_FORCE
from weftonos.store.models import RecordRow
from weftonos.store.order import NEWEST_FIRST, OLDEST_FIRST, counting, since_then, up_to

#: How many of the last cured troubles correct the weights.
TROUBLES_REMEMBERED = 60


class TaughtByTroubles(NamedTuple):
    """What cured troubles taught: their causes, what their checks took, and how many cures held."""

    solved: Sequence[SolvedTrouble]
    timed: Sequence[TimedCheck]
    cures: CuresTried


class Mending:
    """Troubles and upkeep, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def paths(self, incidents: Iterable[int]) -> Mapping[int, Sequence[RecordRow]]:
        """Return the steps of troubles that count, oldest first, by the trouble."""
        paths: dict[int, list[RecordRow]] = {incident: [] for incident in incidents}
        query = (
            select(RecordRow)
            .where(RecordRow.incident_id.in_(list(paths)), RecordRow.struck_at.is_(None))
            .order_by(*OLDEST_FIRST)
        )
        for row in self._session.scalars(query):
            paths[row.incident_id or 0].append(row)
        return paths

    def steps(self, incident_id: int) -> Sequence[RecordRow]:
        """Return the steps of one trouble that count, oldest first."""
        return self.paths([incident_id])[incident_id]

    def ended_before(self, opened: RecordRow, within: timedelta) -> Sequence[RecordRow]:
        """Return the trouble that ended within a time before another was opened, and its steps, oldest first."""
        ended = (
            self._counting(opened.machine_id, IncidentOutcome.kind)
            .with_only_columns(RecordRow.incident_id)
            .where(RecordRow.at.between(opened.at - within, opened.at), RecordRow.incident_id != opened.id)
            .order_by(*NEWEST_FIRST)
            .limit(1)
            .scalar_subquery()
        )
        query = select(RecordRow).where((RecordRow.id == ended) | (RecordRow.incident_id == ended))
        return self._session.scalars(query.where(RecordRow.struck_at.is_(None)).order_by(*OLDEST_FIRST)).all()

    def incidents(self, machine_id: int, limit: int) -> Sequence[RecordRow]:
        """Return the last troubles of a machine, newest first."""
        query = self._counting(machine_id, Incident.kind)
        query = query.order_by(*NEWEST_FIRST).limit(limit)
        return [row for row in self._session.scalars(query) if isinstance(row.payload, Incident)]

    def solved(self) -> Sequence[SolvedTrouble]:
        """Return the last cured troubles of the workshop, with what was found with them."""
        return self.taught().solved

    def taught(self) -> TaughtByTroubles:
        """Return what the last cured troubles of the workshop taught."""
        cured = (
            select(RecordRow.incident_id, RecordRow.at)
            .where(
                RecordRow.kind == IncidentOutcome.kind,
                RecordRow.detail == Outcome.CURED.value,
                RecordRow.incident_id.is_not(None),
                RecordRow.struck_at.is_(None),
            )
            .order_by(*NEWEST_FIRST)
            .limit(TROUBLES_REMEMBERED)
            .subquery()
        )
        ended = select(cured.c.incident_id)
        # What began after one of them may be the same trouble, back again.
        later = (RecordRow.kind == Incident.kind) & (RecordRow.at >= select(func.min(cured.c.at)).scalar_subquery())
        query = (
            select(RecordRow.id, RecordRow.machine_id, RecordRow.incident_id, RecordRow.at, RecordRow.payload)
            .where(RecordRow.id.in_(ended) | RecordRow.incident_id.in_(ended) | later, RecordRow.struck_at.is_(None))
            .order_by(*OLDEST_FIRST)
        )
        begun: dict[int, tuple[int, datetime, Incident]] = {}
        of_machine: dict[int, list[tuple[datetime, Incident]]] = {}
        steps: dict[int, list[tuple[datetime, Step]]] = {}
        for id_, machine, incident, at, payload in self._session.execute(query).tuples():
            if isinstance(payload, Incident):
                begun[id_] = machine, at, payload
                of_machine.setdefault(machine, []).append((at, payload))
            elif incident is not None and isinstance(payload, Step):
                steps.setdefault(incident, []).append((at, payload))
        solved: list[SolvedTrouble] = []
        timed: list[TimedCheck] = []
        held = failed = 0
        for id_, path in steps.items():
            if id_ not in begun:
                continue
            machine, at, first = begun[id_]
            timed += timed_checks([(at, first), *path])
            failed += sum(isinstance(s, IncidentOutcome) and s.outcome is Outcome.NOT_CURED for _, s in path)
            if trouble := solved_trouble(incident_state(first, [step for _, step in path])):
                if came_back(first, path[-1][0], of_machine[machine]):
                    failed += 1
                else:
                    held += 1
                    solved.append(trouble)
        return TaughtByTroubles(solved, timed, CuresTried(held=held, failed=failed))

    def last_runs(self, machine_id: int, runs: int) -> Sequence[Run | Incident | IncidentOutcome | Upkeep]:
        """Return a machine's last ``runs`` runs, and since the oldest of them its troubles, cures and cleanings."""
        oldest = self._counting(machine_id, Run.kind).with_only_columns(RecordRow.at).order_by(*NEWEST_FIRST)
        since = oldest.limit(1).offset(runs - 1).scalar_subquery()
        cured = (RecordRow.kind == IncidentOutcome.kind) & (RecordRow.detail == Outcome.CURED.value)
        cleaned = (RecordRow.kind == Upkeep.kind) & (RecordRow.detail == UpkeepKind.CLEANING.value)
        query = select(RecordRow.payload).where(
            *counting(machine_id),
            RecordRow.kind.in_((Run.kind, Incident.kind)) | cured | cleaned,
            since_then(since),
        )
        told = Run | Incident | IncidentOutcome | Upkeep
        return [payload for payload in self._session.scalars(query) if isinstance(payload, told)]

    def last_good_before(self, machine_id: int, until: RecordRow) -> RecordRow | None:
        """Return the newest record up to another under which a machine ran well: a balanced look, or a cure."""
        found: list[RecordRow] = []
        for kind, detail in ((StitchedLook.kind, "0"), (IncidentOutcome.kind, Outcome.CURED.value)):
            query = self._counting(machine_id, kind).where(
                RecordRow.detail == detail,
                up_to(until),
            )
            found += self._session.scalars(query.order_by(*NEWEST_FIRST).limit(1)).all()
        return max(found, key=lambda row: (row.at, row.id), default=None)

    def upkeep_since(self, machine_id: int, since: datetime, until: datetime | None) -> tuple[UpkeepKind, ...]:
        """Return what upkeep was done after a moment."""
        query = self._counting(machine_id, Upkeep.kind).where(RecordRow.at > since)
        if until is not None:
            query = query.where(RecordRow.at <= until)
        rows = self._session.scalars(query.order_by(RecordRow.at)).all()
        return tuple(row.payload.what for row in rows if isinstance(row.payload, Upkeep))

    def last_services(self) -> Mapping[int, datetime]:
        """Return when each machine was last serviced by a technician."""
        query = select(RecordRow.machine_id, RecordRow.at).where(
            RecordRow.kind == Upkeep.kind, RecordRow.detail == UpkeepKind.SERVICE.value, RecordRow.struck_at.is_(None)
        )
        return dict(self._session.execute(query.order_by(*OLDEST_FIRST)).tuples().all())

    def runs_and_incidents(self, machine_id: int, runs: int) -> Sequence[Any]:
        """Return a machine's last ``runs`` runs, and its troubles since the oldest of them: what was in force, too."""
        query = self._counting(machine_id, Run.kind).with_only_columns(*IN_FORCE).order_by(*NEWEST_FIRST).limit(runs)
        found = list(self._session.execute(query))
        troubles = self._counting(machine_id, Incident.kind).with_only_columns(*IN_FORCE)
        if found:
            troubles = troubles.where(RecordRow.at >= found[-1].at)
        return [*found, *self._session.execute(troubles)]

    @staticmethod
    def _counting(machine_id: int, kind: str) -> Select[RecordRow]:
        return select(RecordRow).where(*counting(machine_id, kind))


def state_of(row: RecordRow, steps: Iterable[RecordRow]) -> IncidentState:
    """Return where a trouble stands after its steps."""
    assert isinstance(row.payload, Incident)
    return incident_state(row.payload, [step.payload for step in steps if isinstance(step.payload, Step)])
