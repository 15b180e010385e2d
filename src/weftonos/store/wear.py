"""Time on needles: hours since a needle was fitted, and what retired needles have lasted."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from weftonos.core.logbook import Run
from weftonos.core.needle import NeedleFinish
from weftonos.core.needle_life import TROUBLE, NeedleSpan
from weftonos.core.pace import RUNS_FOR_PACE, Pace, TimedRun, pace_of
from weftonos.core.setup import NeedleTag
from weftonos.store.models import MachineRow, RecordRow

#: How many retired needles of each machine its owner's record of needle life rests on.
NEEDLES_REMEMBERED = 100
#: How many of a machine's last runs say how fast it goes, on which quilts, and what the bobbin has sewn.
RUNS_REMEMBERED = 150


class Wear:
    """The needles' time, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._last_runs: dict[int, Sequence[tuple[datetime, Run]]] = {}

    def needle_time(self, machine_id: int, needle: NeedleTag) -> tuple[float, int]:
        """Return stitching hours and number of quilts since a needle was fitted."""
        minutes = func.json_extract(RecordRow.payload, "$.minutes")
        quilt = func.nullif(func.json_extract(RecordRow.payload, "$.quilt"), "")
        total, quilts = self._session.execute(
            select(func.coalesce(func.sum(minutes), 0.0), func.count(quilt.distinct())).where(
                RecordRow.machine_id == machine_id,
                RecordRow.kind == "run",
                RecordRow.struck_at.is_(None),
                RecordRow.at >= needle.fitted_at,
            )
        ).one()
        return total / 60, quilts

    def runs_since(self, machine_id: int, since: datetime) -> Sequence[TimedRun]:
        """Return a machine's runs after a moment, newest first, as far as the last runs go back."""
        return [TimedRun(run.minutes, run.metres) for at, run in self._runs(machine_id) if at > since]

    def pace(self, machine_id: int) -> Pace | None:
        """Return the pace of a machine's newest runs whose metres were noted."""
        runs = [TimedRun(run.minutes, run.metres) for _, run in self._runs(machine_id) if run.metres is not None]
        return pace_of(runs[:RUNS_FOR_PACE])

    def quilts(self, machine_id: int, most: int = 6) -> Sequence[str]:
        """Return the quilts last worked on, newest first."""
        return list(dict.fromkeys(run.quilt for _, run in self._runs(machine_id) if run.quilt))[:most]

    def minutes_on(self, machine_id: int, quilt: str) -> float:
        """Return the stitching minutes on record for a quilt, as far as the last runs go back."""
        return sum(run.minutes for _, run in self._runs(machine_id) if run.quilt == quilt)

    def forget(self) -> None:
        """Read the runs again: something was written."""
        self._last_runs.clear()

    def _runs(self, machine_id: int) -> Sequence[tuple[datetime, Run]]:
        if machine_id not in self._last_runs:
            query = (
                select(RecordRow.at, RecordRow.payload)
                .where(RecordRow.machine_id == machine_id, RecordRow.kind == "run", RecordRow.struck_at.is_(None))
                .order_by(RecordRow.at.desc(), RecordRow.id.desc())
                .limit(RUNS_REMEMBERED)
            )
            rows = self._session.execute(query).tuples()
            self._last_runs[machine_id] = [(at, payload) for at, payload in rows if isinstance(payload, Run)]
        return self._last_runs[machine_id]

    def needle_spans(self) -> Mapping[NeedleFinish, Sequence[NeedleSpan]]:
        """Return hours and end of each machine's last retired needles, by finish."""
        spans: dict[NeedleFinish, list[NeedleSpan]] = {finish: [] for finish in NeedleFinish}
        for machine_id in self._session.scalars(select(MachineRow.id)):
            counting = RecordRow.machine_id == machine_id, RecordRow.struck_at.is_(None)
            oldest = (
                select(RecordRow.at)
                .where(*counting, RecordRow.kind == "needle_retired")
                .order_by(RecordRow.at.desc())
                .offset(NEEDLES_REMEMBERED)
                .limit(1)
            )
            since = self._session.scalar(oldest)
            rows = self._session.execute(
                select(
                    RecordRow.kind,
                    func.json_extract(RecordRow.payload, "$.minutes"),
                    func.json_extract(RecordRow.payload, "$.finish"),
                    func.json_extract(RecordRow.payload, "$.why"),
                )
                .where(
                    *counting,
                    RecordRow.kind.in_(("needle_fitted", "needle_retired", "run")),
                    *([RecordRow.at > since] if since else []),
                )
                .order_by(RecordRow.at, RecordRow.id)
            )
            for finish, span in _spans(rows.tuples()):
                spans[finish].append(span)
        return spans


def _spans(
    rows: Iterable[tuple[str, float | None, str | None, str | None]],
) -> Iterator[tuple[NeedleFinish, NeedleSpan]]:
    finish: NeedleFinish | None = None
    hours = 0.0
    for kind, minutes, made, why in rows:
        if kind == "run":
            hours += (minutes or 0) / 60
        elif kind == "needle_fitted":
            finish, hours = NeedleFinish(made or NeedleFinish.STEEL), 0.0
        elif finish is not None:
            yield finish, NeedleSpan(hours, why in TROUBLE)
            finish = None
