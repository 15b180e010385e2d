"""Troubles and upkeep: incidents with their steps, what last ran well, and hours since."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Select, case, func, select
from sqlalchemy.orm import Session, selectinload

from weftonos.core.incident import Incident, IncidentState, Outcome, Step, incident_state
from weftonos.core.logbook import Run, StitchedLook
from weftonos.core.own_outcomes import SolvedTrouble
from weftonos.core.setup import Setup
from weftonos.core.upkeep import Upkeep, UpkeepKind, UpkeepState, upkeep_state
from weftonos.store.models import RecordRow

#: How many of the last cured troubles correct the weights, and how many runs a break rate rests on.
TROUBLES_REMEMBERED = 60
RUNS_REMEMBERED = 150
#: How many records of upkeep are looked through for the last of each kind.
UPKEEP_REMEMBERED = 200


@dataclass(frozen=True)
class OpenIncident:
    """A trouble that is not over: its record, where it stands, and its steps."""

    row: RecordRow
    state: IncidentState
    steps: Sequence[RecordRow]


class Mending:
    """Troubles and upkeep, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def paths(self, incidents: Iterable[int]) -> Mapping[int, Sequence[RecordRow]]:
        """Return the steps of troubles that count, oldest first, by the trouble."""
        paths: dict[int, list[RecordRow]] = {incident: [] for incident in incidents}
        query = (
            select(RecordRow)
            .options(selectinload(RecordRow.revisions), selectinload(RecordRow.machine))
            .where(RecordRow.incident_id.in_(list(paths)), RecordRow.struck_at.is_(None))
            .order_by(RecordRow.at, RecordRow.id)
        )
        for row in self._session.scalars(query):
            paths[row.incident_id or 0].append(row)
        return paths

    def steps(self, incident_id: int) -> Sequence[RecordRow]:
        """Return the steps of one trouble that count, oldest first."""
        return self.paths([incident_id])[incident_id]

    def state(self, row: RecordRow) -> IncidentState:
        """Return where a trouble stands."""
        return state_of(row, self.steps(row.id))

    def open_incident(self, machine_id: int) -> OpenIncident | None:
        """Return the trouble of a machine that is not over, if there is one."""
        for row in self.incidents(machine_id, 1):
            steps = self.steps(row.id)
            state = state_of(row, steps)
            if not state.closed:
                return OpenIncident(row, state, steps)
        return None

    def open_trouble(self, machine_id: int) -> tuple[Incident, IncidentState] | None:
        """Return what the open trouble of a machine says and where it stands, without its records."""
        query = select(RecordRow.id, RecordRow.payload).where(
            RecordRow.machine_id == machine_id, RecordRow.kind == "incident", RecordRow.struck_at.is_(None)
        )
        row = self._session.execute(query.order_by(RecordRow.at.desc(), RecordRow.id.desc()).limit(1)).first()
        if row is None or not isinstance(row.payload, Incident):
            return None
        steps = self._session.scalars(
            select(RecordRow.payload)
            .where(RecordRow.incident_id == row.id, RecordRow.struck_at.is_(None))
            .order_by(RecordRow.at, RecordRow.id)
        )
        state = incident_state(row.payload, [step for step in steps if isinstance(step, Step)])
        return None if state.closed else (row.payload, state)

    def incidents(self, machine_id: int, limit: int) -> Sequence[RecordRow]:
        """Return the last troubles of a machine, newest first."""
        query = self._counting(machine_id, "incident").options(selectinload(RecordRow.revisions))
        query = query.order_by(RecordRow.at.desc(), RecordRow.id.desc()).limit(limit)
        return self._session.scalars(query).all()

    def solved(self) -> Sequence[SolvedTrouble]:
        """Return the last cured troubles of the workshop, with what was found with them."""
        query = (
            select(RecordRow.incident_id)
            .where(
                RecordRow.kind == "incident_outcome",
                RecordRow.incident_id.is_not(None),
                RecordRow.struck_at.is_(None),
                func.json_extract(RecordRow.payload, "$.outcome") == Outcome.CURED.value,
            )
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(TROUBLES_REMEMBERED)
        )
        ended = {incident for incident in self._session.scalars(query) if incident is not None}
        if not ended:
            return []
        steps: dict[int, list[Step]] = {}
        followed = select(RecordRow.incident_id, RecordRow.payload).where(
            RecordRow.incident_id.in_(ended), RecordRow.struck_at.is_(None)
        )
        for incident, payload in self._session.execute(followed.order_by(RecordRow.at, RecordRow.id)).tuples():
            if incident is not None and isinstance(payload, Step):
                steps.setdefault(incident, []).append(payload)
        begun = select(RecordRow.id, RecordRow.payload).where(RecordRow.id.in_(ended), RecordRow.struck_at.is_(None))
        states = (
            incident_state(payload, steps.get(id_, []))
            for id_, payload in self._session.execute(begun).tuples()
            if isinstance(payload, Incident)
        )
        return [SolvedTrouble(s.cause, s.present, s.absent) for s in states if s.outcome is Outcome.CURED and s.cause]

    def last_good(self, machine_id: int, before: RecordRow | None) -> RecordRow | None:
        """Return the newest record under which a machine ran well: a balanced look, or a trouble cured."""
        looks = self._counting(machine_id, "look").where(func.json_extract(RecordRow.payload, "$.grade") == 0)
        cures = self._counting(machine_id, "incident_outcome").where(
            func.json_extract(RecordRow.payload, "$.outcome") == Outcome.CURED.value
        )
        # Asked one after the other, since each then follows the index.
        found = [row for query in (looks, cures) if (row := self._newest(query, before))]
        return max(found, key=lambda row: (row.at, row.id), default=None)

    def setting(self, machine_id: int, before: RecordRow | None) -> float | None:
        """Return the setting of the newest stitched look up to a record."""
        row = self._newest(self._counting(machine_id, "look"), before)
        return row.payload.setting if row and isinstance(row.payload, StitchedLook) else None

    def quilt(self, machine_id: int, before: RecordRow | None) -> str:
        """Return the quilt of the newest run up to a record."""
        row = self._newest(self._counting(machine_id, "run"), before)
        return row.payload.quilt if row and isinstance(row.payload, Run) else ""

    def upkeep_since(self, machine_id: int, since: datetime, until: datetime | None) -> tuple[UpkeepKind, ...]:
        """Return what upkeep was done after a moment."""
        query = self._counting(machine_id, "upkeep").where(RecordRow.at > since)
        if until is not None:
            query = query.where(RecordRow.at <= until)
        rows = self._session.scalars(query.order_by(RecordRow.at)).all()
        return tuple(row.payload.what for row in rows if isinstance(row.payload, Upkeep))

    def last_service(self, machine_id: int) -> datetime | None:
        """Return when a machine was last serviced by a technician."""
        query = self._counting(machine_id, "upkeep").where(
            func.json_extract(RecordRow.payload, "$.what") == UpkeepKind.SERVICE.value
        )
        row = self._newest(query, None)
        return row.at if row else None

    def upkeep(self, machine_id: int, setup: Setup) -> Sequence[UpkeepState]:
        """Return how each kind of upkeep stands, for the threads that are on."""
        recent = self._session.execute(
            select(RecordRow.at, RecordRow.payload)
            .where(RecordRow.machine_id == machine_id, RecordRow.kind == "upkeep", RecordRow.struck_at.is_(None))
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(UPKEEP_REMEMBERED)
        )
        last: dict[UpkeepKind, datetime] = {}
        for at, payload in recent.tuples():
            if isinstance(payload, Upkeep):
                last.setdefault(payload.what, at)
        hours = dict(zip(last, self._hours_since(machine_id, list(last.values())), strict=True))
        threads = [tag.thread for tag in (*setup.top, *([setup.bobbin] if setup.bobbin else []))]
        return [upkeep_state(kind, hours.get(kind), threads) for kind in UpkeepKind]

    def hours_since(self, machine_id: int, since: datetime) -> float:
        """Return the stitching hours on record after a moment."""
        return self._hours_since(machine_id, [since])[0]

    def _hours_since(self, machine_id: int, moments: Sequence[datetime]) -> Sequence[float]:
        if not moments:
            return []
        minutes = func.json_extract(RecordRow.payload, "$.minutes")
        sums = [func.coalesce(func.sum(case((RecordRow.at > at, minutes), else_=0.0)), 0.0) for at in moments]
        query = select(*sums).where(
            RecordRow.machine_id == machine_id,
            RecordRow.kind == "run",
            RecordRow.struck_at.is_(None),
            RecordRow.at > min(moments),
        )
        return [float(total) / 60 for total in self._session.execute(query).one()]

    def breaks(self, machine_id: int, setup: Setup, symptoms: Iterable[str]) -> tuple[int, float]:
        """Return breaks and stitching hours of the combination that is on, from the machine's last runs."""
        runs = self._session.scalars(
            self._counting(machine_id, "run")
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(RUNS_REMEMBERED)
        ).all()
        same = [row.payload.minutes for row in runs if isinstance(row.payload, Run) and _same(row.setup, setup)]
        query = self._counting(machine_id, "incident")
        if runs:
            query = query.where(RecordRow.at >= runs[-1].at)
        broke = set(symptoms)
        incidents = self._session.scalars(query).all()
        count = sum(
            _same(row.setup, setup) and bool(broke.intersection(row.payload.symptoms))
            for row in incidents
            if isinstance(row.payload, Incident)
        )
        return count, sum(same) / 60

    @staticmethod
    def _counting(machine_id: int, kind: str) -> Select[RecordRow]:
        return select(RecordRow).where(
            RecordRow.machine_id == machine_id, RecordRow.kind == kind, RecordRow.struck_at.is_(None)
        )

    def _newest(self, query: Select[RecordRow], before: RecordRow | None) -> RecordRow | None:
        if before is not None:
            query = query.where(
                (RecordRow.at < before.at) | ((RecordRow.at == before.at) & (RecordRow.id <= before.id))
            )
        return self._session.scalars(query.order_by(RecordRow.at.desc(), RecordRow.id.desc()).limit(1)).first()


def state_of(row: RecordRow, steps: Iterable[RecordRow]) -> IncidentState:
    """Return where a trouble stands after its steps."""
    assert isinstance(row.payload, Incident)
    return incident_state(row.payload, [step.payload for step in steps if isinstance(step.payload, Step)])


def _same(one: Setup, other: Setup) -> bool:
    """Whether two set-ups are one combination: the same threads and the same needle size and point."""
    needles = [(s.needle.size, s.needle.point) if s.needle else None for s in (one, other)]
    below = [s.bobbin.id if s.bobbin else None for s in (one, other)]
    return [t.id for t in one.top] == [t.id for t in other.top] and needles[0] == needles[1] and below[0] == below[1]
