"""The Bobbin station: pulls on the gauge, judged and kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from fastapi import APIRouter

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.core.bobbin_target import BobbinTarget
from weftonos.core.force import ForceUnit
from weftonos.core.gauge import GaugeAnswer, Pull, read_gauge
from weftonos.core.logbook import BobbinReading
from weftonos.core.setup import Setup

router = APIRouter(prefix="/api/machines/{machine_id}/readings", tags=["bobbin"])


@dataclass(frozen=True)
class BobbinStation:
    """What is loaded, the range to be in, what the last reading of this bobbin says, and the readings before."""

    setup: Setup
    unit: ForceUnit
    target: BobbinTarget | None
    last: GaugeAnswer | None
    recent: Sequence[LogEntry]


@dataclass(frozen=True)
class Pulls:
    """Pulls in the gauge's unit, and when if not now."""

    unit: ForceUnit
    pulls: list[Pull]
    note: str = ""
    at: datetime | None = None


@router.get("")
def bobbin_station(machine_id: Id, workshop: WorkshopNow) -> BobbinStation:
    """Say what the bobbin should read and what it read lately."""
    machine = workshop.machine(machine_id).spec
    recent = [log_entry(r) for r in workshop.log(machine_id=machine_id, kind="bobbin_reading", limit=8)]
    setup = workshop.setup(machine_id)
    last = None
    if setup.reading and isinstance(kept := workshop.record(setup.reading.record_id).payload, BobbinReading):
        last = read_gauge(kept.unit, kept.pulls, machine.bobbin_target)
    return BobbinStation(setup, machine.gauge_unit, machine.bobbin_target, last, recent)


@router.post("/judge")
def judge(machine_id: Id, pulls: Pulls, workshop: WorkshopNow) -> GaugeAnswer:
    """Judge pulls for this machine without keeping them."""
    return read_gauge(pulls.unit, pulls.pulls, workshop.machine(machine_id).spec.bobbin_target)


@router.post("", status_code=201)
def keep_reading(machine_id: Id, pulls: Pulls, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Judge pulls and keep them in the log; a reading in the wrong unit is asked about, not kept."""
    target = workshop.machine(machine_id).spec.bobbin_target
    reading = BobbinReading.of(pulls.unit, tuple(pulls.pulls), target, pulls.note)
    return log_entry(workshop.note(machine_id, reading, pulls.at or now, now))
