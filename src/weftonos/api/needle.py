"""The Needle station: which needle, the one that is in and its hours, and the needles in the drawer."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from weftonos.api.context import Anyway, Done, Id, Now, WorkshopNow
from weftonos.api.strict import StrictRoute
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.log.references import Thing
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.needle.packet_label import LONGEST_LINE
from weftonos.learned.entries import Noted
from weftonos.learned.in_use import refuse_in_use
from weftonos.stations import needle

router = APIRouter(prefix="/api", tags=["needle"], route_class=StrictRoute)


@router.get("/machines/{machine_id}/needle")
def needle_station(machine_id: Id, workshop: WorkshopNow) -> needle.NeedleStation:
    """Answer which needle, how the one that is in fits, and how long it has been there."""
    return needle.needle_station(workshop, machine_id)


@router.post("/machines/{machine_id}/needle", status_code=201)
def fit_needle(machine_id: Id, fitting: needle.Fitting, workshop: WorkshopNow, now: Done) -> Noted:
    """Record the needle that was fitted."""
    return needle.fit_needle(workshop, machine_id, fitting, now)


@router.post("/machines/{machine_id}/needle/retire", status_code=201)
def retire_needle(machine_id: Id, retiring: needle.Retiring, workshop: WorkshopNow, now: Done) -> Noted:
    """Record that the needle came out."""
    return needle.retire_needle(workshop, machine_id, retiring, now)


@router.post("/machines/{machine_id}/sandwich", status_code=201)
def lay_sandwich(machine_id: Id, sandwich: Sandwich, workshop: WorkshopNow, now: Done) -> Noted:
    """Record what is under the needle."""
    return needle.lay_sandwich(workshop, machine_id, sandwich, now)


@router.get("/machines/{machine_id}/needles")
def needles(machine_id: Id, workshop: WorkshopNow) -> needle.NeedleDrawer:
    """List the needles in the drawer, for this machine."""
    return needle.needle_drawer(workshop, machine_id)


@router.get("/needles/label")
def packet_label(
    workshop: WorkshopNow, line: Annotated[str, Query(max_length=LONGEST_LINE, examples=["130/705 H-M 80/12"])]
) -> needle.PacketHeard:
    """Read what is printed on a packet of needles, and say which machines take it."""
    return needle.packet_heard(workshop, line)


@router.post("/needles", status_code=201)
def add_packet(spec: NeedlePacket, workshop: WorkshopNow) -> int:
    """Put a packet of needles in the drawer; returns its id."""
    return workshop.drawer.add_packet(spec).id


@router.post("/needles/{packet_id}/strike")
def strike_packet(packet_id: Id, workshop: WorkshopNow, now: Now, anyway: Anyway = False) -> int:
    """Strike a packet out of the drawer."""
    if not anyway:
        refuse_in_use(workshop, Thing.PACKET, packet_id)
    return workshop.drawer.strike_packet(packet_id, now).id


@router.post("/needles/{packet_id}/restore")
def restore_packet(packet_id: Id, workshop: WorkshopNow) -> int:
    """Put a struck packet back."""
    return workshop.drawer.strike_packet(packet_id, None).id
