"""What your records say: rates, needle lives, comparisons and what a comparison would take."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from weftonos.api.context import Done, Id, Now, WorkshopNow, WorkshopToRead, Zone
from weftonos.api.paper import on_paper
from weftonos.api.strict import StrictRoute
from weftonos.core.evidence.records import Factor, Per
from weftonos.exchange.strip import Paper
from weftonos.learned.comparisons import Comparison, TwoKinds
from weftonos.learned.entries import Noted
from weftonos.stations import evidence as station
from weftonos.stations import planned as planning

router = APIRouter(prefix="/api/machines/{machine_id}/evidence", tags=["evidence"], route_class=StrictRoute)


@router.get("")
def evidence(machine_id: Id, workshop: WorkshopNow, request: Request) -> station.EvidencePage:
    """Say what the records say of what is on this machine now: breaks, needle lives, what differs."""
    return station.evidence_page(workshop, machine_id, request.app.state.evidence)


@router.get("/rates")
def rates(
    machine_id: Id, workshop: WorkshopNow, request: Request, by: Factor = Factor.TOP_THREAD, per: Per = Per.HOUR
) -> station.RateList:
    """Say how often thread breaks by anything that was on, an hour or on 1000 m."""
    return station.rate_list(workshop, machine_id, request.app.state.evidence, by, per)


@router.get("/beside/{at}")
def beside(machine_id: Id, at: station.Beside, workshop: WorkshopNow, request: Request) -> list[station.Statement]:
    """Say what the records say beside the advice of a station, of what is on now."""
    return station.said_beside(workshop, machine_id, request.app.state.evidence, at)


@router.get("/summary.pdf", response_class=Response)
def print_evidence(
    machine_id: Id, workshop: WorkshopNow, request: Request, now: Now, zone: Zone = "UTC", paper: Paper = Paper.A4
) -> Response:
    """Print what the records say, to be kept with a season's papers."""
    sheets = station.printed_evidence(workshop, machine_id, request.app.state.evidence, now=now, zone=zone, paper=paper)
    return on_paper("pdf", *sheets)


@router.post("/compare")
def compare(machine_id: Id, question: TwoKinds, workshop: WorkshopToRead, request: Request) -> Comparison:
    """Compare two kinds of needle or thread by the records; what cannot be told apart is said so."""
    workshop.machine(machine_id)
    return planning.compare(workshop, question, request.app.state.evidence)


@router.post("/plan")
def plan(
    machine_id: Id,
    question: TwoKinds,
    workshop: WorkshopToRead,
    request: Request,
    now: Now,
    times: Annotated[float, Query(description="The difference one cares about, as a factor.")] = 2,
) -> planning.PlanAnswer:
    """Say how many needles or quilts of each kind would show a difference of this size, 8 times in 10."""
    workshop.machine(machine_id)
    return planning.plan_comparison(
        workshop, machine_id, question, times=times, kept=request.app.state.evidence, now=now
    )


@router.get("/planned")
def planned(machine_id: Id, workshop: WorkshopNow) -> planning.PlannedNow | None:
    """Say how the planned comparison of this machine stands, what is next, and what its records say; or nothing."""
    return planning.planned_now(workshop, machine_id)


@router.post("/planned", status_code=201)
def begin_plan(
    machine_id: Id,
    question: TwoKinds,
    workshop: WorkshopNow,
    request: Request,
    now: Done,
    times: Annotated[float, Query(description="The difference one cares about, as a factor.")] = 2,
) -> Noted:
    """Use two kinds in turn from now on, until there are enough of each; striking the record out ends it."""
    kept = request.app.state.evidence
    return planning.begin_plan(workshop, machine_id, question, times=times, kept=kept, now=now)
