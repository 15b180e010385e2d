"""The Needle station: the pairing for what is threaded, and the needle that is in."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from fastapi import APIRouter

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.core.groove_fit import FitState, fit_state, nominal_fill
from weftonos.core.logbook import NeedleFitted
from weftonos.core.needle import NeedleFinish, Point
from weftonos.core.pairing import Pairing, pair_needle
from weftonos.core.setup import Setup
from weftonos.core.thread import Bundle

router = APIRouter(prefix="/api/machines/{machine_id}/needle", tags=["needle"])


@dataclass(frozen=True)
class FittedFit:
    """How the thread lies in the needle that is in."""

    nominal_fill: float
    state: FitState


@dataclass(frozen=True)
class NeedleStation:
    """The pairing for what is threaded (none without a top thread), and how the fitted needle takes it."""

    setup: Setup
    pairing: Pairing | None
    fitted_fit: FittedFit | None


@router.get("")
def needle_station(machine_id: Id, workshop: WorkshopNow) -> NeedleStation:
    """Answer which needle, and how the one that is in fits."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    top: Bundle | None = workshop.bundle(setup)
    if top is None:
        return NeedleStation(setup, None, None)
    bobbin = workshop.thread(setup.bobbin.id).spec.thread if setup.bobbin else None
    pairing = pair_needle(machine.kind, machine.size_school, top, bobbin)
    fit = None
    if setup.needle:
        fill = nominal_fill(top.diameter_mm, setup.needle.size)
        fit = FittedFit(fill, fit_state(fill, setup.needle.point))
    return NeedleStation(setup, pairing, fit)


@dataclass(frozen=True)
class Fitting:
    """The needle that was fitted, and when if not now."""

    metric: int
    american: int
    point: Point
    finish: NeedleFinish = NeedleFinish.STEEL
    note: str = ""
    at: datetime | None = None


@router.post("", status_code=201)
def fit_needle(machine_id: Id, fitting: Fitting, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Record the needle that was fitted."""
    fitted = NeedleFitted(fitting.metric, fitting.american, fitting.point, fitting.finish, fitting.note)
    return log_entry(workshop.note(machine_id, fitted, fitting.at or now, now))
