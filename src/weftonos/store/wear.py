"""Time on needles: hours since a needle was fitted, and what retired needles have lasted."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from weftonos.core.logbook import Run
from weftonos.core.needle import NeedleFinish
from weftonos.core.needle_life import TROUBLE, NeedleSpan
from weftonos.core.pace import RUNS_FOR_PACE, TimedRun
from weftonos.core.setup import NeedleTag
from weftonos.store.models import MachineRow, RecordRow

#: How many retired needles of each machine its owner's record of needle life rests on.
NEEDLES_REMEMBERED = 100


class Wear:
    """The needles' time, through one database session."""

    def __init__(self, session: Session) -> None:
        self._session = session

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

    def runs(self, machine_id: int, since: datetime | None = None, limit: int = 400) -> Sequence[TimedRun]:
        """Return a machine's runs, newest first."""
        return [TimedRun(run.minutes, run.metres) for _, run in self._runs(machine_id, since, limit)]

    def measured_runs(self, machine_id: int) -> Sequence[TimedRun]:
        """Return the newest runs whose metres were noted."""
        rows = self._runs(machine_id, None, 4 * RUNS_FOR_PACE)
        return [TimedRun(run.minutes, run.metres) for _, run in rows if run.metres is not None][:RUNS_FOR_PACE]

    def quilts(self, machine_id: int, most: int = 6) -> Sequence[str]:
        """Return the quilts last worked on, newest first."""
        names = (run.quilt for _, run in self._runs(machine_id, None, 60))
        return list(dict.fromkeys(name for name in names if name))[:most]

    def minutes_on(self, machine_id: int, quilt: str) -> float:
        """Return the stitching minutes on record for a quilt, as far as the last runs go back."""
        return sum(run.minutes for _, run in self._runs(machine_id, None, 400) if run.quilt == quilt)

    def _runs(self, machine_id: int, since: datetime | None, limit: int) -> Sequence[tuple[datetime, Run]]:
        query = (
            select(RecordRow.at, RecordRow.payload)
            .where(RecordRow.machine_id == machine_id, RecordRow.kind == "run", RecordRow.struck_at.is_(None))
            .order_by(RecordRow.at.desc(), RecordRow.id.desc())
            .limit(limit)
        )
        if since is not None:
            query = query.where(RecordRow.at > since)
        return [(at, payload) for at, payload in self._session.execute(query).tuples() if isinstance(payload, Run)]

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
