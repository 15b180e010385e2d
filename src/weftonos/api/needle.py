"""The Needle station: which needle, the one that is in and its hours, and the needles in the drawer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from fastapi import APIRouter

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.core.errors import CraftError
from weftonos.core.fitting import RoomAdvice, Trouble, fitting_steps, room_advice
from weftonos.core.groove_fit import FitState, fit_state, nominal_fill
from weftonos.core.logbook import NeedleFitted, NeedleRetired, SandwichLaid
from weftonos.core.needle import NeedleFinish, Point
from weftonos.core.needle_life import (
    LIFE_SCHOOLS,
    HourCost,
    NeedleLife,
    OwnLife,
    RetireReason,
    cost_per_hour,
    own_life,
)
from weftonos.core.needle_packet import NeedlePacket, check_system
from weftonos.core.pairing import Pairing, pair_needle
from weftonos.core.sandwich import Sandwich
from weftonos.core.school import LifeSchool
from weftonos.core.setup import Setup

router = APIRouter(prefix="/api", tags=["needle"])


@dataclass(frozen=True)
class FittedFit:
    """How the thread lies in the needle that is in."""

    nominal_fill: float
    state: FitState


@dataclass(frozen=True)
class LifeSchoolWord:
    """A school of needle life, in a sentence."""

    value: LifeSchool
    text: str


@dataclass(frozen=True)
class NeedleStation:
    """The pairing for what is threaded (none without a top thread), and everything about the needle that is in."""

    setup: Setup
    pairing: Pairing | None
    fitted_fit: FittedFit | None
    room: Sequence[RoomAdvice]
    life: NeedleLife | None
    life_school: LifeSchool
    life_schools: Sequence[LifeSchoolWord]
    steps: Sequence[str]


@router.get("/machines/{machine_id}/needle")
def needle_station(machine_id: Id, workshop: WorkshopNow) -> NeedleStation:
    """Answer which needle, how the one that is in fits, and how long it has been there."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    top = setup.top_bundle
    pairing, fit, room = None, None, []
    if top is not None:
        pairing = pair_needle(machine.kind, machine.size_school, top, setup.bobbin_thread, setup.sandwich)
    if top is not None and setup.needle:
        fill = nominal_fill(top.diameter_mm, setup.needle.size)
        fit = FittedFit(fill, fit_state(fill, setup.needle.point))
        room = [room_advice(t, top.diameter_mm, setup.needle.size, setup.needle.point) for t in Trouble]
    return NeedleStation(
        setup,
        pairing,
        fit,
        room,
        workshop.needle_life(machine_id, setup),
        machine.life_school,
        [LifeSchoolWord(school, text) for school, text in LIFE_SCHOOLS.items()],
        fitting_steps(machine.takes_shank),
    )


@dataclass(frozen=True)
class Fitting:
    """The needle that was fitted, out of which packet, and when if not now."""

    metric: int
    american: int
    point: Point
    finish: NeedleFinish = NeedleFinish.STEEL
    note: str = ""
    system: str = ""
    packet: int | None = None
    at: datetime | None = None


@router.post("/machines/{machine_id}/needle", status_code=201)
def fit_needle(machine_id: Id, fitting: Fitting, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Record the needle that was fitted."""
    finish = fitting.finish
    if fitting.packet is not None:
        finish = {row.id: row.spec.finish for row, _ in workshop.drawer.packets()}.get(fitting.packet, finish)
    fitted = NeedleFitted(
        fitting.metric, fitting.american, fitting.point, finish, fitting.note, fitting.system, fitting.packet
    )
    return log_entry(workshop.note(machine_id, fitted, fitting.at or now, now))


@dataclass(frozen=True)
class Retiring:
    """Why the needle came out, and when if not now."""

    why: RetireReason
    note: str = ""
    at: datetime | None = None


@router.post("/machines/{machine_id}/needle/retire", status_code=201)
def retire_needle(machine_id: Id, retiring: Retiring, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Record that the needle came out."""
    if workshop.setup(machine_id).needle is None:
        raise CraftError("No needle is on record in this machine.", "why")
    return log_entry(workshop.note(machine_id, NeedleRetired(retiring.why, retiring.note), retiring.at or now, now))


@router.post("/machines/{machine_id}/sandwich", status_code=201)
def lay_sandwich(machine_id: Id, sandwich: Sandwich, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Record what is under the needle."""
    return log_entry(workshop.note(machine_id, SandwichLaid(sandwich), now, now))


@dataclass(frozen=True)
class PacketItem:
    """A packet of needles: how many are left, whether this machine takes them, and what an hour of one costs."""

    id: int
    spec: NeedlePacket
    left: int
    fits: bool
    why_not: str
    cost: HourCost | None


@dataclass(frozen=True)
class NeedleDrawer:
    """The needles in the drawer as one machine sees them, and the user's own record of needle life by finish."""

    packets: Sequence[PacketItem]
    own: dict[NeedleFinish, OwnLife]


@router.get("/machines/{machine_id}/needles")
def needles(machine_id: Id, workshop: WorkshopNow) -> NeedleDrawer:
    """List the needles in the drawer, for this machine."""
    machine = workshop.machine(machine_id).spec
    own = {finish: own_life(spans) for finish, spans in workshop.wear.needle_spans().items()}
    items = []
    for row, left in workshop.drawer.packets():
        why_not = ""
        try:
            check_system(machine.needle_system, row.spec.system, machine.nickname)
        except CraftError as error:
            why_not = str(error)
        price = row.spec.price
        cost = cost_per_hour(price, row.spec.finish, own[row.spec.finish]) if price is not None else None
        items.append(PacketItem(row.id, row.spec, left, not why_not, why_not, cost))
    items.sort(key=lambda item: not item.fits)
    return NeedleDrawer(items, own)


@router.post("/needles", status_code=201)
def add_packet(spec: NeedlePacket, workshop: WorkshopNow) -> int:
    """Put a packet of needles in the drawer; returns its id."""
    return workshop.drawer.add_packet(spec).id


@router.post("/needles/{packet_id}/strike")
def strike_packet(packet_id: Id, workshop: WorkshopNow, now: Now) -> int:
    """Strike a packet out of the drawer."""
    return workshop.drawer.strike_packet(packet_id, now).id


@router.post("/needles/{packet_id}/restore")
def restore_packet(packet_id: Id, workshop: WorkshopNow) -> int:
    """Put a struck packet back."""
    return workshop.drawer.strike_packet(packet_id, None).id
