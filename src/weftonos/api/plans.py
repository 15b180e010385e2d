"""Plans of quilts: passes, order, evenings, cones, and the shopping list."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Depends, Request
from fastapi.responses import Response

from weftonos.api.context import Done, Id, Now, Seen, WorkshopNow
from weftonos.api.paper import on_paper
from weftonos.api.strict import StrictRoute
from weftonos.core.plan.cones import ConeNoted
from weftonos.core.plan.passes import QuiltPlanned
from weftonos.core.plan.shopping import ShoppingItem
from weftonos.learned.entries import Noted
from weftonos.learned.quilt_plans import PlanCache, PlanNow
from weftonos.stations import quilt_plans as station


def _kept(request: Request) -> PlanCache:
    kept: PlanCache = request.app.state.plans
    return kept


Kept = Annotated[PlanCache, Depends(_kept)]
router = APIRouter(prefix="/api", tags=["plans"], route_class=StrictRoute)


@router.get("/plans")
def plans(workshop: WorkshopNow, kept: Kept) -> Sequence[station.PlanItem]:
    """List the plans, newest first."""
    return station.plans(workshop, kept)


@router.post("/machines/{machine_id}/plans", status_code=201)
def plan_quilt(machine_id: Id, plan: QuiltPlanned, workshop: WorkshopNow, now: Done) -> Noted:
    """Plan a quilt in passes."""
    return station.plan_quilt(workshop, machine_id, plan, now)


@router.get("/plans/{plan_id}")
def plan(plan_id: Id, workshop: WorkshopNow, kept: Kept) -> station.PlanPage:
    """Say what a plan takes, in which order it costs least, its evenings, and how far it is."""
    return station.plan_page(workshop, kept, plan_id)


@router.put("/plans/{plan_id}")
def change_plan(plan_id: Id, plan: QuiltPlanned, workshop: WorkshopNow, now: Done, seen: Seen) -> Noted:
    """Change a plan."""
    return station.change_plan(workshop, plan_id, plan, now, seen)


@router.post("/plans/{plan_id}/steps", status_code=201)
def step(plan_id: Id, new: station.NewStep, workshop: WorkshopNow, now: Done) -> Sequence[Noted]:
    """Note that a pass is begun, so far, done, or left out."""
    return station.step(workshop, plan_id, new, now)


@router.get("/plans/{plan_id}/calendar.ics", response_class=Response)
def calendar(plan_id: Id, workshop: WorkshopNow, kept: Kept, now: Now) -> Response:
    """Give the evenings of a plan as iCalendar."""
    return Response(station.plan_calendar(workshop, kept, plan_id, now), media_type="text/calendar; charset=utf-8")


@router.get("/plans/{plan_id}/plan.pdf", response_class=Response)
def print_plan(plan_id: Id, workshop: WorkshopNow, kept: Kept) -> Response:
    """Print a plan as one sheet to hang up."""
    return on_paper("pdf", *station.printed_plan(workshop, kept, plan_id))


@router.get("/machines/{machine_id}/plan")
def now_on(machine_id: Id, workshop: WorkshopNow, kept: Kept) -> PlanNow | None:
    """Say where the quilt on a machine is in its plan, and what the pass asks for."""
    return station.now_on(workshop, kept, machine_id)


@router.post("/machines/{machine_id}/cones", status_code=201)
def note_cone(machine_id: Id, cone: ConeNoted, workshop: WorkshopNow, now: Done) -> Noted:
    """Note what is left on a cone: weighed, by its length, about so much, ended, or new ones."""
    return station.note_cone(workshop, machine_id, cone, now)


@router.get("/shopping")
def shopping(workshop: WorkshopNow, kept: Kept) -> Sequence[ShoppingItem]:
    """Say what to buy for all planned quilts."""
    return station.shopping(workshop, kept)


@router.post("/machines/{machine_id}/bought", status_code=201)
def tick_off(
    machine_id: Id, bought: station.Bought, workshop: WorkshopNow, kept: Kept, now: Done
) -> Sequence[ShoppingItem]:
    """Put what was bought into the drawer."""
    return station.tick_off(workshop, kept, machine_id, bought, now)
