"""The Bobbin station: readings, the screw, the hang test, the swap, the winding plan."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi import APIRouter

from weftonos.api.context import Done, Id, InDemo, WorkshopNow, WorkshopToRead
from weftonos.api.strict import StrictRoute
from weftonos.core.bobbin.cross_swap import SwapAnswer, cross_swap
from weftonos.core.bobbin.gauge import GaugeAnswer
from weftonos.core.bobbin.purpose import PurposeSet
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.bobbin.winding import BobbinLeft, WindingPlan
from weftonos.core.kernel.errors import CraftError
from weftonos.learned.bobbin_left import LeftQuestion, still_on_the_bobbin
from weftonos.learned.entries import Noted
from weftonos.stations import bobbin

router = APIRouter(prefix="/api/machines/{machine_id}", tags=["bobbin"], route_class=StrictRoute)


@router.get("/readings")
def bobbin_station(machine_id: Id, workshop: WorkshopNow) -> bobbin.BobbinStation:
    """Say what the bobbin should read and what it read lately."""
    return bobbin.bobbin_station(workshop, machine_id)


@router.post("/readings/judge")
def judge(machine_id: Id, pulls: bobbin.Pulls, workshop: WorkshopToRead) -> GaugeAnswer:
    """Judge pulls for this machine, with what is known of the case's screw, without keeping them."""
    return bobbin.judge(workshop, machine_id, pulls)


@router.post("/readings", status_code=201)
def keep_reading(
    machine_id: Id, pulls: bobbin.Pulls, workshop: WorkshopNow, now: Done, in_demo: InDemo, stand_in: bool = False
) -> Noted:
    """Judge pulls and keep them in the log; a reading in the wrong unit is asked about, not kept.

    What the ``stand_in`` of the gauge has read is made up: it is kept in the demo alone.
    """
    if stand_in and not in_demo:
        raise CraftError(
            ("This gauge is a stand-in and its readings are made up, so none is saved in a workshop."), "unit"
        )
    return bobbin.keep_reading(workshop, machine_id, pulls, now)


@router.post("/hang-test", status_code=201)
def keep_hang_test(machine_id: Id, hanging: bobbin.Hanging, workshop: WorkshopNow, now: Done) -> Noted:
    """Keep a weighed hang test as a reading."""
    return bobbin.keep_hang_test(workshop, machine_id, hanging, now)


@router.post("/gauge-check", status_code=201)
def check_gauge(machine_id: Id, weight: bobbin.KnownWeight, workshop: WorkshopNow, now: Done) -> Noted:
    """Keep what a known weight showed on the gauge: readings are corrected by it from now on."""
    return bobbin.check_gauge(workshop, machine_id, weight, now)


@router.post("/hand-looks", status_code=201)
def keep_hand_look(machine_id: Id, look: bobbin.ByHand, workshop: WorkshopNow, now: Done) -> Noted:
    """Keep a plain hang or palm test as a look."""
    return bobbin.keep_hand_look(workshop, machine_id, look, now)


@router.post("/purpose", status_code=201)
def set_purpose(machine_id: Id, purpose: PurposeSet, workshop: WorkshopNow, now: Done) -> Noted:
    """Note what the bobbin is set for, until another thread goes on top."""
    return bobbin.set_purpose(workshop, machine_id, purpose, now)


@router.put("/own-number")
def take_number(machine_id: Id, number: bobbin.MyNumber, workshop: WorkshopNow) -> BobbinTarget | None:
    """Keep the machine's own bobbin number as it is typed, or forget it."""
    return bobbin.take_number(workshop, machine_id, number)


@router.post("/bobbin/put-back", status_code=201)
def put_case_back(machine_id: Id, back: bobbin.CaseBack, workshop: WorkshopNow, now: Done) -> Noted:
    """Note that a case is in again as it came out."""
    return bobbin.put_case_back(workshop, machine_id, back, now)


@router.post("/screw", status_code=201)
def turn_screw(machine_id: Id, turned: bobbin.Turned, workshop: WorkshopNow, now: Done) -> Noted:
    """Record a turn of the screw; the next reading teaches how this case answers."""
    return bobbin.turn_screw(workshop, machine_id, turned, now)


@dataclass(frozen=True, kw_only=True)
class SwapQuestion:
    """Whether each swap still flutters, as far as it was read."""

    same_bobbin_other_case: bool | None = None
    other_bobbin_same_case: bool | None = None


@router.post("/cross-swap")
def swap(machine_id: Id, question: SwapQuestion, workshop: WorkshopToRead) -> SwapAnswer:
    """Say which part flutters, or what to read next."""
    workshop.machine(machine_id)
    return cross_swap(question.same_bobbin_other_case, question.other_bobbin_same_case)


@router.post("/marks", status_code=201)
def mark(machine_id: Id, found: bobbin.Mark, workshop: WorkshopNow, now: Done) -> Noted:
    """Mark a case or bobbin."""
    return bobbin.mark(workshop, machine_id, found, now)


@router.post("/winding-plan")
def plan(machine_id: Id, question: bobbin.WindingQuestion, workshop: WorkshopToRead) -> WindingPlan:
    """Say what is on a bobbin of the thread that is loaded, and how many the quilt takes."""
    return bobbin.plan(workshop, machine_id, question)


@router.post("/bobbin-left")
def left(machine_id: Id, question: LeftQuestion, workshop: WorkshopToRead) -> BobbinLeft:
    """Say how far the bobbin that is in still goes."""
    return still_on_the_bobbin(workshop, machine_id, question)
