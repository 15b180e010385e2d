"""Practice on the simulated machine: rounds, and what they say of an eye and a hand. Nothing here is a record."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from weftonos.api.context import Id, Now, WorkshopNow, Zone
from weftonos.api.paper import on_paper
from weftonos.api.strict import StrictRoute
from weftonos.core.kernel.errors import CraftError
from weftonos.exchange.strip import Paper
from weftonos.standins.machine.driving import Drive, Driven, drive
from weftonos.standins.machine.machine import Impossible
from weftonos.stations.practice import rounds, sheet
from weftonos.stations.practice.views import PracticeMove

router = APIRouter(prefix="/api", tags=["practice"], route_class=StrictRoute)


@router.get("/machines/{machine_id}/practice")
def practice_page(
    machine_id: Id,
    workshop: WorkshopNow,
    person: Annotated[str, Query(max_length=40, description="Who practices; left out, whoever did last.")] = "",
) -> rounds.PracticePage:
    """Say how somebody's practice stands: each exercise, the eye, the hand."""
    return rounds.practice_page(workshop, machine_id, person)


@router.post("/machines/{machine_id}/practice", status_code=201)
def begin(machine_id: Id, asked: rounds.Begin, workshop: WorkshopNow, now: Now) -> rounds.Round:
    """Begin a round of practice."""
    return rounds.begin(workshop, machine_id, asked, now)


@router.get("/practice/sheet.pdf", response_class=Response)
def class_sheet(
    now: Now,
    seed: Annotated[int, Query(ge=0, le=rounds.LARGEST_SEED, description="Equal seeds are equal sheets.")] = 1,
    zone: Zone = "UTC",
    paper: Paper = Paper.A4,
) -> Response:
    """Print exercises for a class, the answers on a page of their own."""
    return on_paper("pdf", *sheet.class_sheet(seed, now=now, zone=zone, paper=paper))


@router.post("/bench/machine")
def drive_machine(asked: Drive) -> Driven:
    """Drive the simulated machine: its state and what is done to it in, the state after and what came of it out.

    Nothing is kept: who drives it keeps the state and sends it with the next call.
    """
    try:
        return drive(asked)
    except Impossible as impossible:
        raise CraftError(str(impossible), "machine") from None


@router.get("/practice/{round_id}")
def show(round_id: Id, workshop: WorkshopNow) -> rounds.Round:
    """Return a round as it stands."""
    return rounds.show(workshop, round_id)


@router.post("/practice/{round_id}/moves")
def play(round_id: Id, move: PracticeMove, workshop: WorkshopNow, now: Now) -> rounds.Round:
    """Make a move in a round."""
    return rounds.play(workshop, round_id, move, now)
