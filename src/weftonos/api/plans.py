"""Plans of quilts: passes, order, evenings, cones, and the shopping list."""

from __future__ import annotations

from collections.abc import Sequence

from fastapi import APIRouter
from fastapi.responses import Response

from weftonos.api.context import Done, Id, Now, Seen, WorkshopNow
from weftonos.api.paper import on_paper
from weftonos.api.strict import StrictRoute
from weftonos.core.plan.cones import ConeNoted
from weftonos.core.plan.passes import QuiltPlanned
from weftonos.core.plan.shopping import ShoppingItem
from weftonos.learned.entries import Noted
from weftonos.learned.quilt_plans import PlanNow
from weftonos.stations import quilt_plans as station

router = APIRouter(prefix="/api", tags=["plans"], route_class=StrictRoute)


@router.get("/plans")
def plans(workshop: WorkshopNow) -> Sequence[station.PlanItem]:
    """List the plans, newest first."""
    return station.plans(workshop)


@router.post("/machines/{machine_id}/plans", status_code=201)
def plan_quilt(machine_id: Id, plan: QuiltPlanned, workshop: WorkshopNow, now: Done) -> Noted:
    """Plan a quilt in passes."""
    return station.plan_quilt(workshop, machine_id, plan, now)


@router.get("/plans/{plan_id}")
def plan(plan_id: Id, workshop: WorkshopNow) -> station.PlanPage:
    """Say what a plan takes, in which order it costs least, its evenings, and how far it is."""
    return station.plan_page(workshop, plan_id)


@router.put("/plans/{plan_id}")
def change_plan(plan_id: Id, plan: QuiltPlanned, workshop: WorkshopNow, now: Done, seen: Seen) -> Noted:
    """Change a plan."""
    return station.change_plan(workshop, plan_id, plan, now, seen)


@router.post("/plans/{plan_id}/steps", status_code=201)
def step(plan_id: Id, new: station.NewStep, workshop: WorkshopNow, now: Done) -> Sequence[Noted]:
    """Note that a pass is begun, so far, done, or left out."""
    return station.step(workshop, plan_id, new, now)


@router.get("/plans/{plan_id}/calendar.ics", response_class=Response)
def calendar(plan_id: Id, workshop: WorkshopNow, now: Now) -> Response:
    """Give the evenings of a plan as iCalendar."""
    return Response(station.plan_calendar(workshop, plan_id, now), media_type="text/calendar; charset=utf-8")


@router.get("/plans/{plan_id}/plan.pdf", response_class=Response)
def print_plan(plan_id: Id, workshop: WorkshopNow) -> Response:
    """Print a plan as one sheet to hang up."""
    return on_paper("pdf", *station.printed_plan(workshop, plan_id))


@router.get("/machines/{machine_id}/plan")
def now_on(machine_id: Id, workshop: WorkshopNow) -> PlanNow | None:
    """Say where the quilt on a machine is in its plan, and what the pass asks for."""
    return station.now_on(workshop, machine_id)


@router.post("/machines/{machine_id}/cones", status_code=201)
def note_cone(machine_id: Id, cone: ConeNoted, workshop: WorkshopNow, now: Done) -> Noted:
    """Note what is left on a cone: weighed, by its length, about so much, ended, or new ones."""
    return station.note_cone(workshop, machine_id, cone, now)


@router.get("/shopping")
def shopping(workshop: WorkshopNow) -> Sequence[ShoppingItem]:
    """Say what to buy for all planned quilts."""
    return station.shopping(workshop)


@router.post("/machines/{machine_id}/bought", status_code=201)
def tick_off(machine_id: Id, bought: station.Bought, workshop: WorkshopNow, now: Done) -> Sequence[ShoppingItem]:
    """Put what was bought into the drawer."""
    return station.tick_off(workshop, machine_id, bought, now)
