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
from weftonos.exchange.strip import Paper
from weftonos.learned.answer_cache import AnswerCache
from weftonos.learned.entries import Noted
from weftonos.learned.quilt_plans import PlanNow
from weftonos.stations.plans import along, noting, page
from weftonos.stations.plans import shopping as list_to_buy


def _kept(request: Request) -> AnswerCache:
    kept: AnswerCache = request.app.state.plans
    return kept


Kept = Annotated[AnswerCache, Depends(_kept)]
router = APIRouter(prefix="/api", tags=["plans"], route_class=StrictRoute)


@router.get("/plans")
def plans(workshop: WorkshopNow, kept: Kept) -> Sequence[page.PlanItem]:
    """List the plans, newest first."""
    return page.plans(workshop, kept)


@router.post("/machines/{machine_id}/plans", status_code=201)
def plan_quilt(machine_id: Id, plan: QuiltPlanned, workshop: WorkshopNow, now: Done) -> Noted:
    """Plan a quilt in passes."""
    return noting.plan_quilt(workshop, machine_id, plan, now)


@router.get("/machines/{machine_id}/change-minutes")
def change_minutes(machine_id: Id, workshop: WorkshopNow) -> page.ChangesHere:
    """Say what each kind of change takes on a machine, by its records where they tell."""
    return page.changes_of(workshop, machine_id)


@router.get("/plans/{plan_id}")
def plan(plan_id: Id, workshop: WorkshopNow, kept: Kept) -> page.PlanPage:
    """Say what a plan takes, in which order it costs least, its evenings, and how far it is."""
    return page.plan_page(workshop, kept, plan_id)


@router.put("/plans/{plan_id}")
def change_plan(plan_id: Id, plan: QuiltPlanned, workshop: WorkshopNow, now: Done, seen: Seen) -> Noted:
    """Change a plan."""
    return noting.change_plan(workshop, plan_id, plan, now, seen)


@router.post("/plans/{plan_id}/steps", status_code=201)
def step(plan_id: Id, new: noting.NewStep, workshop: WorkshopNow, now: Done) -> Sequence[Noted]:
    """Note that a pass is begun, so far, done, or left out."""
    return noting.step(workshop, plan_id, new, now)


@router.get("/plans/{plan_id}/calendar.ics", response_class=Response)
def calendar(plan_id: Id, workshop: WorkshopNow, kept: Kept, now: Now) -> Response:
    """Give the evenings of a plan as iCalendar."""
    return Response(along.plan_calendar(workshop, kept, plan_id, now), media_type="text/calendar; charset=utf-8")


@router.get("/plans/{plan_id}/plan.pdf", response_class=Response)
def print_plan(plan_id: Id, workshop: WorkshopNow, kept: Kept, paper: Paper = Paper.A4) -> Response:
    """Print a plan as one sheet to hang up."""
    return on_paper("pdf", *along.printed_plan(workshop, kept, plan_id, paper))


@router.get("/machines/{machine_id}/plan")
def now_on(machine_id: Id, workshop: WorkshopNow, kept: Kept) -> PlanNow | None:
    """Say where the quilt on a machine is in its plan, and what the pass asks for."""
    return noting.now_on(workshop, kept, machine_id)


@router.post("/machines/{machine_id}/cones", status_code=201)
def note_cone(machine_id: Id, cone: ConeNoted, workshop: WorkshopNow, now: Done) -> Noted:
    """Note what is left on a cone: weighed, by its length, about so much, ended, or new ones."""
    return noting.note_cone(workshop, machine_id, cone, now)


@router.get("/shopping")
def shopping(workshop: WorkshopNow, kept: Kept) -> Sequence[ShoppingItem]:
    """Say what to buy for all planned quilts."""
    return list_to_buy.shopping(workshop, kept)


@router.post("/machines/{machine_id}/bought", status_code=201)
def tick_off(machine_id: Id, bought: list_to_buy.Bought, workshop: WorkshopNow, now: Done) -> Sequence[ShoppingItem]:
    """Put what was bought into the drawer."""
    return list_to_buy.tick_off(workshop, machine_id, bought, now)
