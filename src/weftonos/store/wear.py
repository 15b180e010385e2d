"""Time on needles: hours since a needle was fitted, and what retired needles have lasted."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from weftonos.core.needle import NeedleFinish
from weftonos.core.needle_life import TROUBLE, NeedleSpan
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
