"""Stitching time: hours since a moment, the last runs, and what retired needles have lasted."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from datetime import UTC, datetime
from itertools import pairwise
from typing import Any

from sqlalchemy import ColumnElement, case, func, select
from sqlalchemy.orm import Session

from weftonos.core.evidence.records import NeedlesSoFar, needles_so_far
from weftonos.core.log.run import RUNS_FOR_PACE, Pace, Run, TimedRun, pace_of
from weftonos.core.needle.life import NeedleSpan
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.events import BobbinLoaded, NeedleFitted, NeedleRetired, TopThreaded
from weftonos.core.setup.fold import Event
from weftonos.core.setup.left_out import SewnUnder
from weftonos.store.folding import events_of, kin
from weftonos.store.models import RecordRow
from weftonos.store.order import NEWEST_FIRST, OLDEST_FIRST, counting, later_than

#: How many retired needles of each machine, beside the one that is in, its owner's record of needle life rests on.
NEEDLES_REMEMBERED = 100
#: And on how many runs at most: every screen shows how long the needle has, so that this is asked for with each.
RUNS_OF_NEEDLES = 1000
#: How many of a machine's last runs say how fast it goes, on which quilts, and what the bobbin has sewn.
RUNS_REMEMBERED = 150
#: How many of the last loads say what bobbins gave.
BOBBINS_REMEMBERED = 40
_LONG_AGO = datetime(1, 1, 2, tzinfo=UTC)


class Runs:
    """The runs of machines, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._last: dict[int, Sequence[tuple[datetime, Run]]] = {}
        self._emptied: dict[int, Sequence[tuple[BobbinLoaded, float]]] = {}
        self._needles: dict[int, NeedlesSoFar] = {}

    def stitched_since(self, machine_id: int, moments: Sequence[Event], quilt: str = "") -> Sequence[tuple[float, int]]:
        """Return the stitching hours and the number of quilts since each moment; one query for all.

        ``quilt`` is the one that is on now: it counts before its first run.
        """
        if not moments:
            return []
        sums: list[ColumnElement[Any]] = []
        for moment in moments:
            later = later_than(moment)
            sums.append(func.coalesce(func.sum(case((later, RecordRow.minutes), else_=0.0)), 0.0))
            others = later & RecordRow.quilt.not_in(("", quilt))
            sums.append(func.count(case((others, RecordRow.quilt)).distinct()))
        query = select(*sums).where(
            *counting(machine_id, Run.kind),
            RecordRow.at >= min(moment.at for moment in moments),
        )
        found = self._session.execute(query).one()
        present = 1 if quilt else 0
        return [(float(found[2 * n]) / 60, int(found[2 * n + 1]) + present) for n in range(len(moments))]

    def runs_on(self, machine_id: int, loaded: Event) -> Sequence[TimedRun]:
        """Return the runs that were sewn from one load of a bobbin, newest first, also where it came out meanwhile."""
        query = (
            select(RecordRow.payload)
            .where(*counting(machine_id, Run.kind), later_than(loaded), RecordRow.loaded_id == loaded.id)
            .order_by(*NEWEST_FIRST)
            .limit(RUNS_REMEMBERED)
        )
        runs = self._session.scalars(query)
        return [TimedRun(run.minutes, run.meters) for run in runs if isinstance(run, Run)]

    def emptied(self, machine_id: int) -> Sequence[tuple[BobbinLoaded, float]]:
        """Return the last bobbins that were sewn empty, with the meters stitched on each; those all noted alone."""
        if machine_id not in self._emptied:
            self._emptied[machine_id] = self._read_emptied(machine_id)
        return self._emptied[machine_id]

    def _read_emptied(self, machine_id: int) -> Sequence[tuple[BobbinLoaded, float]]:
        query = (
            select(RecordRow.id, RecordRow.payload)
            .where(*counting(machine_id, BobbinLoaded.kind))
            .order_by(*NEWEST_FIRST)
            .limit(BOBBINS_REMEMBERED)
        )
        loads = self._session.execute(query).tuples().all()
        # Each load says of the one before it whether it was empty.
        empty = {
            before[0]: before[1]
            for after, before in pairwise(loads)
            if isinstance(after[1], BobbinLoaded) and after[1].emptied and isinstance(before[1], BobbinLoaded)
        }
        if not empty:
            return []
        sewn: dict[int, list[float | None]] = {}
        runs = select(RecordRow.loaded_id, RecordRow.payload).where(
            *counting(machine_id, Run.kind), RecordRow.loaded_id.in_(list(empty))
        )
        for loaded, run in self._session.execute(runs).tuples():
            if loaded is not None and isinstance(run, Run):
                sewn.setdefault(loaded, []).append(run.meters)
        told = {number: [m for m in meters if m is not None] for number, meters in sewn.items() if None not in meters}
        return [(empty[number], sum(meters)) for number, meters in told.items()]

    def pace(self, machine_id: int) -> Pace | None:
        """Return the pace of a machine's newest runs whose meters were noted."""
        runs = [TimedRun(run.minutes, run.meters) for _, run in self.last(machine_id) if run.meters is not None]
        return pace_of(runs[:RUNS_FOR_PACE])

    def quilts(self, machine_id: int, most: int = 6) -> Sequence[str]:
        """Return the quilts last worked on, newest first."""
        return list(dict.fromkeys(run.quilt for _, run in self.last(machine_id) if run.quilt))[:most]

    def forget(self) -> None:
        """Read the runs again: something was written."""
        self._last.clear()
        self._emptied.clear()
        self._needles.clear()

    def last(self, machine_id: int) -> Sequence[tuple[datetime, Run]]:
        """Return a machine's last runs, newest first."""
        if machine_id not in self._last:
            query = (
                select(RecordRow.at, RecordRow.payload)
                .where(*counting(machine_id, Run.kind))
                .order_by(*NEWEST_FIRST)
                .limit(RUNS_REMEMBERED)
            )
            rows = self._session.execute(query).tuples()
            self._last[machine_id] = [(at, payload) for at, payload in rows if isinstance(payload, Run)]
        return self._last[machine_id]

    def sewn_under(self, machine_id: int) -> Sequence[SewnUnder]:
        """Return the set-ups that a machine's last runs were sewn with, oldest first."""
        query = (
            select(RecordRow.change_id, RecordRow.top_id, RecordRow.loaded_id, RecordRow.look_id)
            .where(*counting(machine_id, Run.kind), RecordRow.top_id.is_not(None), RecordRow.loaded_id.is_not(None))
            .order_by(*NEWEST_FIRST)
            .limit(RUNS_REMEMBERED)
        )
        runs = self._session.execute(query).tuples().all()
        on, lines = events_of(self._session, {number for run in runs for number in run[1:3]}), kin(self._session)
        sewn: dict[int | None, SewnUnder] = {}
        for change, top, loaded, look in reversed(runs):
            above, below = on[top or 0].payload, on[loaded or 0].payload
            if isinstance(above, TopThreaded) and isinstance(below, BobbinLoaded):
                threads = tuple(lines.get(number, number) for number in (*above.top, below.bobbin))
                tested = look is not None or (change in sewn and sewn[change].tested)
                sewn[change] = SewnUnder(threads, tested)
        return list(sewn.values())

    def used_in(self, machine_id: int, since: datetime, until: datetime) -> tuple[int, int]:
        """Return how many needles were fitted and how many quilts were stitched on in a time."""
        query = select(
            func.count().filter(RecordRow.kind == NeedleFitted.kind),
            func.count(RecordRow.quilt.distinct()).filter(RecordRow.kind == Run.kind, RecordRow.quilt != ""),
        ).where(*counting(machine_id), RecordRow.at >= since, RecordRow.at <= until)
        needles, quilts = self._session.execute(query).one()
        return needles, quilts

    def fitted_all(self, machine_id: int, points: Collection[str]) -> bool:
        """Say whether needles of all these points were ever fitted to a machine."""
        fitted = select(RecordRow.detail).where(*counting(machine_id, NeedleFitted.kind), RecordRow.detail.in_(points))
        return len(self._session.scalars(fitted.distinct().limit(len(points))).all()) == len(points)

    def needle_spans(self, machine_id: int) -> Mapping[NeedleKind, Sequence[NeedleSpan]]:
        """Return hours and end of a machine's last needles by kind, the one that is in among them."""
        spans: dict[NeedleKind, list[NeedleSpan]] = {}
        for use in self.needles(machine_id).uses:
            spans.setdefault(use.kind, []).append(use.span)
        return spans

    def needles(self, machine_id: int) -> NeedlesSoFar:
        """Return a machine's last needles with how they ended, the one that is in, and the part-used ones in slots."""
        if machine_id not in self._needles:
            self._needles[machine_id] = self._read_needles(machine_id)
        return self._needles[machine_id]

    def _read_needles(self, machine_id: int) -> NeedlesSoFar:
        kinds = (NeedleFitted.kind, NeedleRetired.kind, Run.kind)
        oldest = (
            select(RecordRow.at)
            .where(*counting(machine_id, NeedleRetired.kind))
            .order_by(RecordRow.at.desc())
            .offset(NEEDLES_REMEMBERED)
            .limit(1)
            .scalar_subquery()
        )
        longest = (
            select(RecordRow.at)
            .where(*counting(machine_id, Run.kind))
            .order_by(RecordRow.at.desc())
            .offset(RUNS_OF_NEEDLES)
            .limit(1)
            .scalar_subquery()
        )
        first = func.max(func.coalesce(oldest, _LONG_AGO), func.coalesce(longest, _LONG_AGO))
        says = case((RecordRow.kind != Run.kind, RecordRow.payload), else_=None)
        query = (
            select(says, RecordRow.minutes, func.coalesce(RecordRow.quilt, ""))
            .where(*counting(machine_id), RecordRow.kind.in_(kinds), RecordRow.at > first)
            .order_by(*OLDEST_FIRST)
        )
        return needles_so_far("", self._session.execute(query).tuples())
