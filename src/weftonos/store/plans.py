"""Plans of quilts: the plans themselves, the steps of their passes, what was sewn on them, and what cones gave."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, aliased

from weftonos.core.log.run import Run
from weftonos.core.plan.cones import ConeNoted, ConeSays
from weftonos.core.plan.passes import PassStep, QuiltPlanned
from weftonos.core.plan.sewn import Happened
from weftonos.core.setup.events import BobbinLoaded, TopThreaded
from weftonos.core.setup.fold import Place
from weftonos.store.models import RecordRow
from weftonos.store.order import NEWEST_FIRST, OLDEST_FIRST
from weftonos.store.quilts import NAMING

#: Plans that are read at most, the newest.
MOST_PLANS = 200
#: Records that name a quilt, at most, the newest: SQLite takes so many values at once.
MOST_NAMING = 20_000
_LONG_AGO = datetime(1, 1, 2, tzinfo=UTC)


@dataclass(frozen=True, kw_only=True)
class Used:
    """A run with a thread on top: the machine, its meters, or its minutes where none were noted."""

    machine: int
    meters: float
    unmeasured_min: float


@dataclass(frozen=True, kw_only=True)
class OnCone:
    """What was noted of a cone: the last note that says how much is left, its time, and cones bought since."""

    noted: ConeNoted | None
    since: datetime
    more: int


class Plans:
    """The plans of a workshop, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def all(self, quilt: str | None = None) -> Sequence[RecordRow]:
        """Return the plans that count, newest first; those of one quilt where it is named."""
        query = (
            select(RecordRow)
            .where(RecordRow.kind == QuiltPlanned.kind, RecordRow.struck_at.is_(None))
            .order_by(*NEWEST_FIRST)
            .limit(MOST_PLANS)
        )
        if quilt is not None:
            query = query.where(RecordRow.quilt == quilt)
        return [row for row in self._session.scalars(query) if isinstance(row.payload, QuiltPlanned)]

    def steps(self, plans: Iterable[int]) -> Mapping[int, Sequence[tuple[Place, PassStep]]]:
        """Return the steps of these plans, oldest first."""
        wanted = list(plans)
        found: dict[int, list[tuple[Place, PassStep]]] = {number: [] for number in wanted}
        query = (
            select(RecordRow.at, RecordRow.id, RecordRow.payload)
            .where(
                RecordRow.kind == PassStep.kind,
                RecordRow.detail.in_([str(number) for number in wanted]),
                RecordRow.struck_at.is_(None),
            )
            .order_by(*OLDEST_FIRST)
        )
        for at, number, step in self._session.execute(query).tuples():
            if isinstance(step, PassStep):
                found[step.plan].append(((at, number), step))
        return found

    def happened(self, quilts: Mapping[str, datetime]) -> Mapping[str, Sequence[Happened]]:
        """Return runs and loaded bobbins on each quilt since a moment, oldest first."""
        found: dict[str, list[Happened]] = {quilt: [] for quilt in quilts}
        if not quilts:
            return found
        naming = aliased(RecordRow)
        # First the few records that name these quilts, then what hangs on each: the whole log is not looked through.
        named = dict(
            self._session.execute(
                select(naming.id, naming.quilt).where(
                    naming.kind.in_(NAMING), naming.quilt.in_(list(quilts)), naming.struck_at.is_(None)
                )
            )
            .tuples()
            .all()
        )
        query = (
            select(
                RecordRow.quilt_id,
                RecordRow.at,
                RecordRow.id,
                RecordRow.minutes,
                RecordRow.length_m,
                RecordRow.kind,
            )
            .where(
                RecordRow.quilt_id.in_(list(named)[-MOST_NAMING:]),
                RecordRow.at >= min(quilts.values()),
                RecordRow.kind.in_((Run.kind, BobbinLoaded.kind)),
                RecordRow.struck_at.is_(None),
                RecordRow.unreadable.is_(False),
            )
            .order_by(*OLDEST_FIRST)
        )
        for naming_id, at, number, minutes, meters, kind in self._session.execute(query).tuples():
            quilt = named[naming_id or 0] or ""
            if at < quilts[quilt]:
                continue
            bobbin = kind == BobbinLoaded.kind
            found[quilt].append(Happened(place=(at, number), minutes=minutes or 0, meters=meters, bobbin=bobbin))
        return found

    def cones(self, threads: Iterable[int]) -> Mapping[int, OnCone]:
        """Return what was noted of the cones of these threads."""
        wanted = [str(number) for number in threads]
        query = (
            select(RecordRow.at, RecordRow.payload)
            .where(RecordRow.kind == ConeNoted.kind, RecordRow.detail.in_(wanted), RecordRow.struck_at.is_(None))
            .order_by(*OLDEST_FIRST)
        )
        found = {int(number): OnCone(noted=None, since=_LONG_AGO, more=0) for number in wanted}
        for at, cone in self._session.execute(query).tuples():
            if not isinstance(cone, ConeNoted):
                continue
            before = found[cone.thread]
            if cone.says is ConeSays.NEW:
                found[cone.thread] = OnCone(noted=before.noted, since=before.since, more=before.more + cone.cones)
            else:
                found[cone.thread] = OnCone(noted=cone, since=at, more=0)
        return found

    def sewn_on_top(self, threads: Mapping[int, datetime]) -> Mapping[int, Sequence[Used]]:
        """Return what was stitched with each thread on top since its moment, by machine."""
        found: dict[int, list[Used]] = {number: [] for number in threads}
        threaded = self._session.execute(
            select(RecordRow.id, RecordRow.payload).where(
                RecordRow.kind == TopThreaded.kind, RecordRow.struck_at.is_(None)
            )
        ).tuples()
        on_top = {
            id_: mine
            for id_, payload in threaded
            if isinstance(payload, TopThreaded) and (mine := threads.keys() & payload.top)
        }
        query = (
            select(
                RecordRow.top_id,
                RecordRow.machine_id,
                RecordRow.at,
                RecordRow.length_m,
                RecordRow.minutes,
            )
            .where(
                RecordRow.kind == Run.kind,
                RecordRow.struck_at.is_(None),
                RecordRow.at >= min(threads.values(), default=_LONG_AGO),
                RecordRow.top_id.is_not(None),
            )
            .order_by(*OLDEST_FIRST)
        )
        for top_id, machine, at, meters, minutes in self._session.execute(query).tuples():
            for number in on_top.get(top_id or 0, ()):
                if at >= threads[number]:
                    unmeasured = (minutes or 0) if meters is None else 0.0
                    found[number].append(Used(machine=machine, meters=meters or 0, unmeasured_min=unmeasured))
        return found

    def wound(self, threads: Mapping[int, datetime]) -> Mapping[int, Mapping[int, float]]:
        """Return the full bobbins of each thread that were loaded since its moment, by machine."""
        found: dict[int, dict[int, float]] = {number: {} for number in threads}
        query = select(RecordRow.at, RecordRow.machine_id, RecordRow.payload).where(
            RecordRow.kind == BobbinLoaded.kind,
            RecordRow.struck_at.is_(None),
            RecordRow.at >= min(threads.values(), default=_LONG_AGO),
        )
        for at, machine, load in self._session.execute(query).tuples():
            if isinstance(load, BobbinLoaded) and (since := threads.get(load.bobbin)) and at >= since:
                mine = found[load.bobbin]
                mine[machine] = mine.get(machine, 0.0) + load.fill
        return found
