"""Quilts: what hangs on each name."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from weftonos.api.context import Done, Id, Now, WorkshopNow, Zone
from weftonos.api.paper import on_paper
from weftonos.api.strict import StrictRoute
from weftonos.core.setup.events import QuiltOn
from weftonos.exchange.strip import Paper
from weftonos.learned.entries import Noted
from weftonos.stations import quilts as station
from weftonos.store.quilts import QuiltTotals

router = APIRouter(prefix="/api", tags=["quilts"], route_class=StrictRoute)
#: A name may hold any letter, a slash too, so that it stands in the query.
Name = Annotated[str, Query(min_length=1, max_length=80, description="The quilt's name.")]


@router.get("/quilts")
def quilts(workshop: WorkshopNow) -> Sequence[QuiltTotals]:
    """List every quilt, the one that was worked on last first."""
    return station.quilts(workshop)


@router.get("/quilt")
def quilt(name: Name, workshop: WorkshopNow) -> station.QuiltPage:
    """Say everything that is on record of one quilt: threads, settings, hours, meters, breaks, notes."""
    return station.quilt_page(workshop, name)


@router.get("/quilt.pdf", response_class=Response)
def print_quilt(name: Name, workshop: WorkshopNow, now: Now, zone: Zone = "UTC", paper: Paper = Paper.A4) -> Response:
    """Print the page of one quilt."""
    return on_paper("pdf", *station.printed_quilt(workshop, name, now=now, zone=zone, paper=paper))


@router.post("/machines/{machine_id}/quilt", status_code=201)
def put_on(machine_id: Id, quilt_on: QuiltOn, workshop: WorkshopNow, now: Done) -> Noted:
    """Note which quilt is on the frame; what is noted from then on is on it."""
    return station.put_on(workshop, machine_id, quilt_on, now)


@router.post("/machines/{machine_id}/care", status_code=201)
def set_care(machine_id: Id, said: station.CareSaid, workshop: WorkshopNow, now: Done) -> Noted:
    """Note how careful the quilt that is on wants its maker to be: how soon a test pays hangs on it."""
    return station.set_care(workshop, machine_id, said.care, now)
