"""What the log knows of a bobbin case: its readings, the turns of its screw, and what each turn taught."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.bobbin.events import BobbinReading, ScrewTurned
from weftonos.core.bobbin.gauge import Calmness
from weftonos.core.bobbin.screw import ScrewTurn


@dataclass(frozen=True)
class CaseHistory:
    """Readings and turns, oldest first, each turn with the readings around it; and the readings since the last turn."""

    readings: Sequence[tuple[datetime, BobbinReading]] = ()
    turns: Sequence[ScrewTurn] = ()
    since_screw: Sequence[tuple[datetime, BobbinReading]] = ()


def case_history(events: Iterable[tuple[datetime, object]]) -> CaseHistory:
    """Return the history of a case from its readings and turns, oldest first; anything else is another bobbin.

    A turn teaches when a calm reading of the same bobbin stands before and after it, with no other turn between.
    """
    readings: list[tuple[datetime, BobbinReading]] = []
    since: list[tuple[datetime, BobbinReading]] = []
    turns: list[ScrewTurn] = []
    before: float | None = None
    turned: float | None = None
    for at, event in events:
        if isinstance(event, ScrewTurned):
            # Two turns without a reading between teach nothing.
            before, turned = (before, event.minutes) if turned is None else (None, None)
            since = []
        elif isinstance(event, BobbinReading):
            readings.append((at, event))
            since.append((at, event))
            if event.calmness is Calmness.FAULT:
                continue
            if turned is not None and before is not None:
                turns.append(ScrewTurn(turned, before, event.mean_mn))
            before, turned = event.mean_mn, None
        else:
            before = turned = None
    return CaseHistory(readings, turns, since)
