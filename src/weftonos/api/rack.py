"""The rack: cases and bobbins, each case's chart, and their printed labels."""

from __future__ import annotations

from fastapi import APIRouter
from fastapi.responses import Response

from weftonos.api.context import Anyway, Id, Now, OpenedAt, Seen, WorkshopNow
from weftonos.api.paper import Format, on_paper
from weftonos.api.strict import StrictRoute
from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.log.references import Thing
from weftonos.learned.in_use import refuse_in_use
from weftonos.stations import rack as station

router = APIRouter(prefix="/api", tags=["rack"], route_class=StrictRoute)


@router.get("/machines/{machine_id}/rack")
def rack(machine_id: Id, workshop: WorkshopNow) -> station.RackItems:
    """List the cases of a machine, and the bobbins."""
    return station.rack_items(workshop, machine_id)


@router.post("/machines/{machine_id}/cases", status_code=201)
def add_case(machine_id: Id, spec: BobbinCase, workshop: WorkshopNow) -> station.CaseItem:
    """Put a case on the rack."""
    return station.add_case(workshop, machine_id, spec)


@router.put("/cases/{case_id}")
def change_case(case_id: Id, spec: BobbinCase, workshop: WorkshopNow, seen: Seen) -> station.CaseItem:
    """Describe a case anew."""
    return station.change_case(workshop, case_id, spec, seen)


@router.post("/cases/{case_id}/strike")
def strike_case(case_id: Id, workshop: WorkshopNow, now: Now, anyway: Anyway = False) -> int:
    """Strike a case out."""
    if not anyway:
        refuse_in_use(workshop, Thing.CASE, case_id)
    return workshop.rack.strike_case(case_id, now).id


@router.post("/cases/{case_id}/restore")
def restore_case(case_id: Id, workshop: WorkshopNow) -> int:
    """Put a struck case back."""
    return workshop.rack.strike_case(case_id, None).id


@router.post("/bobbins", status_code=201)
def add_bobbin(spec: Bobbin, workshop: WorkshopNow) -> int:
    """Put a bobbin on the rack; returns its id."""
    return station.add_bobbin(workshop, spec)


@router.post("/bobbins/{bobbin_id}/strike")
def strike_bobbin(bobbin_id: Id, workshop: WorkshopNow, now: Now, anyway: Anyway = False) -> int:
    """Strike a bobbin out."""
    if not anyway:
        refuse_in_use(workshop, Thing.BOBBIN, bobbin_id)
    return workshop.rack.strike_bobbin(bobbin_id, now).id


@router.post("/bobbins/{bobbin_id}/restore")
def restore_bobbin(bobbin_id: Id, workshop: WorkshopNow) -> int:
    """Put a struck bobbin back."""
    return workshop.rack.strike_bobbin(bobbin_id, None).id


@router.get("/cases/{case_id}/chart")
def chart(case_id: Id, workshop: WorkshopNow) -> station.CaseChart:
    """Chart a case's readings since its screw was last turned."""
    return station.case_chart(workshop, case_id)


@router.get("/cases/{case_id}/label.{form}", response_class=Response)
def print_label(case_id: Id, form: Format, workshop: WorkshopNow, opened_at: OpenedAt) -> Response:
    """Print a case's label, true to size; with a QR code where a tablet can open its rack."""
    return on_paper(form, station.label_sheet(workshop, case_id, opened_at))


@router.get("/bobbins/{bobbin_id}/card.{form}", response_class=Response)
def print_card(bobbin_id: Id, form: Format, workshop: WorkshopNow) -> Response:
    """Print a bobbin's card, true to size."""
    return on_paper(form, station.card_sheet(workshop, bobbin_id))
