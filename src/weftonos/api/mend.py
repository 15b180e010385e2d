"""The Mend station: from a trouble to its cause."""

from __future__ import annotations

from fastapi import APIRouter
from fastapi.responses import Response

from weftonos.api.context import Done, Id, WorkshopNow, Zone
from weftonos.api.paper import Format, on_paper
from weftonos.api.strict import StrictRoute
from weftonos.exchange.strip import Paper
from weftonos.learned.entries import Noted
from weftonos.stations import mend

router = APIRouter(prefix="/api", tags=["mend"], route_class=StrictRoute)


@router.get("/mend/knowledge")
def known_troubles() -> mend.KnownTroubles:
    """List what can be named in a question about a trouble."""
    return mend.known_troubles()


@router.get("/machines/{machine_id}/mend")
def mend_station(machine_id: Id, workshop: WorkshopNow, own: bool = True, thorough: bool = False) -> mend.MendStation:
    """Say where the search for a trouble stands and what to do next; ``own`` lets the own outcomes count."""
    return mend.mend_station(workshop, machine_id, own=own, thorough=thorough)


@router.post("/machines/{machine_id}/incidents", status_code=201)
def went_wrong(machine_id: Id, seen: mend.SymptomsSeen, workshop: WorkshopNow, now: Done) -> Noted:
    """Open a trouble."""
    return mend.went_wrong(workshop, machine_id, seen, now)


@router.put("/incidents/{incident_id}")
def see_anew(incident_id: Id, seen: mend.SymptomsSeen, workshop: WorkshopNow, now: Done) -> Noted:
    """Correct what is seen and what changed; the checks made so far stay."""
    return mend.see_anew(workshop, incident_id, seen, now)


@router.post("/incidents/{incident_id}/checks", status_code=201)
def note_check(incident_id: Id, checked: mend.CheckMade, workshop: WorkshopNow, now: Done) -> Noted:
    """Note what came of a check."""
    return mend.note_check(workshop, incident_id, checked, now)


@router.post("/incidents/{incident_id}/answers", status_code=201)
def note_answer(incident_id: Id, answered: mend.Answered, workshop: WorkshopNow, now: Done) -> Noted:
    """Note the answer to a question."""
    return mend.note_answer(workshop, incident_id, answered, now)


@router.post("/incidents/{incident_id}/back")
def go_back(incident_id: Id, workshop: WorkshopNow, now: Done) -> Noted:
    """Take the last step back: it is struck out and stays in the log."""
    return mend.go_back(workshop, incident_id, now)


@router.post("/incidents/{incident_id}/outcome", status_code=201)
def note_outcome(incident_id: Id, ended: mend.Ended, workshop: WorkshopNow, now: Done) -> Noted:
    """Close a trouble as cured or left, go on looking, or hand it to the technician; keeps the test look first."""
    return mend.note_outcome(workshop, incident_id, ended, now)


@router.get("/incidents/{incident_id}/report.{form}", response_class=Response)
def report(
    incident_id: Id, form: Format, workshop: WorkshopNow, zone: Zone = "UTC", paper: Paper = Paper.A4
) -> Response:
    """Print what was checked, with the numbers a technician asks for."""
    return on_paper(form, *mend.report_sheet(workshop, incident_id, zone=zone, paper=paper))
