"""What your records say: rates, needle lives, comparisons and what a comparison would take."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request

from weftonos.api.context import Id, WorkshopNow, WorkshopToRead
from weftonos.stations import evidence as station

router = APIRouter(prefix="/api/machines/{machine_id}/evidence", tags=["evidence"])


@router.get("")
def evidence(machine_id: Id, workshop: WorkshopNow, request: Request) -> station.EvidencePage:
    """Say what the records say of what is on this machine now: breaks, needle lives, what differs."""
    return station.evidence_page(workshop, machine_id, request.app.state.evidence)


@router.post("/compare")
def compare(
    machine_id: Id, question: station.TwoKinds, workshop: WorkshopToRead, request: Request
) -> station.Comparison:
    """Compare two kinds of needle or thread by the records; what cannot be told apart is said so."""
    workshop.machine(machine_id)
    return station.compare(workshop, question, request.app.state.evidence)


@router.post("/plan")
def plan(
    machine_id: Id,
    question: station.TwoKinds,
    workshop: WorkshopToRead,
    request: Request,
    times: Annotated[float, Query(description="The difference one cares about, as a factor.")] = 2,
) -> station.PlanAnswer:
    """Say how many needles or quilts of each kind would show a difference of this size, 8 times in 10."""
    workshop.machine(machine_id)
    return station.plan_comparison(workshop, question, times, request.app.state.evidence)
