"""The rack: cases and bobbins, each case's chart, and their printed labels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from fastapi import APIRouter
from fastapi.responses import Response

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.paper import Format, on_paper
from weftonos.core.bobbin_rack import Bobbin, BobbinCase
from weftonos.core.control_chart import ControlChart, control_chart
from weftonos.core.logbook import Part
from weftonos.core.screw import ScrewResponse, learn_response
from weftonos.exchange.labels import bobbin_card, case_label
from weftonos.store.models import CaseRow
from weftonos.store.rack import pull_means
from weftonos.store.workshop import Workshop

router = APIRouter(prefix="/api", tags=["rack"])


@dataclass(frozen=True)
class CaseItem:
    """A case: its last reading and age, what is in it now, how its screw answers, what was found on it."""

    id: int
    machine_id: int | None
    spec: BobbinCase
    fault: str
    last_mn: float | None
    last_at: datetime | None
    holds: str
    response: ScrewResponse


@dataclass(frozen=True)
class BobbinItem:
    """A bobbin of the rack, its thread in words, and what was found on it."""

    id: int
    spec: Bobbin
    thread: str
    colour: str
    fault: str


@dataclass(frozen=True)
class RackItems:
    """A machine's cases, and every bobbin."""

    cases: Sequence[CaseItem]
    bobbins: Sequence[BobbinItem]


def _case_item(workshop: Workshop, row: CaseRow, machine_id: int | None, fault: str) -> CaseItem:
    history = workshop.rack.history(row.id, 60)
    last = history.readings[-1] if history.readings else None
    setup = workshop.setup(machine_id) if machine_id else None
    holds = setup.bobbin.name if setup and setup.case and setup.case.id == row.id and setup.bobbin else ""
    return CaseItem(
        row.id,
        row.machine_id,
        row.spec,
        fault,
        last[1].mean_mn if last else None,
        last[0] if last else None,
        holds,
        learn_response(history.turns),
    )


@router.get("/machines/{machine_id}/rack")
def rack(machine_id: Id, workshop: WorkshopNow) -> RackItems:
    """List the cases of a machine, and the bobbins."""
    workshop.machine(machine_id)
    faults = workshop.rack.faults()
    cases = [
        _case_item(workshop, row, machine_id, faults.get((Part.CASE, row.id), ""))
        for row in workshop.rack.cases(machine_id)
    ]
    bobbins = []
    for row in workshop.rack.bobbins():
        thread = workshop.drawer.thread(row.thread_id).spec
        words = f"{thread.name} ({thread.words})"
        bobbins.append(BobbinItem(row.id, row.spec, words, thread.colour, faults.get((Part.BOBBIN, row.id), "")))
    return RackItems(cases, bobbins)


@router.post("/machines/{machine_id}/cases", status_code=201)
def add_case(machine_id: Id, spec: BobbinCase, workshop: WorkshopNow) -> CaseItem:
    """Put a case on the rack."""
    workshop.machine(machine_id)
    return _case_item(workshop, workshop.rack.add_case(machine_id, spec), machine_id, "")


@router.put("/cases/{case_id}")
def change_case(case_id: Id, spec: BobbinCase, workshop: WorkshopNow) -> CaseItem:
    """Describe a case anew."""
    row = workshop.rack.change_case(case_id, spec)
    return _case_item(workshop, row, row.machine_id, workshop.rack.faults().get((Part.CASE, case_id), ""))


@router.post("/cases/{case_id}/strike")
def strike_case(case_id: Id, workshop: WorkshopNow, now: Now) -> int:
    """Strike a case out."""
    return workshop.rack.strike_case(case_id, now).id


@router.post("/cases/{case_id}/restore")
def restore_case(case_id: Id, workshop: WorkshopNow) -> int:
    """Put a struck case back."""
    return workshop.rack.strike_case(case_id, None).id


@router.post("/bobbins", status_code=201)
def add_bobbin(spec: Bobbin, workshop: WorkshopNow) -> int:
    """Put a bobbin on the rack; returns its id."""
    workshop.drawer.usable_thread(spec.thread, "thread")
    return workshop.rack.add_bobbin(spec).id


@router.post("/bobbins/{bobbin_id}/strike")
def strike_bobbin(bobbin_id: Id, workshop: WorkshopNow, now: Now) -> int:
    """Strike a bobbin out."""
    return workshop.rack.strike_bobbin(bobbin_id, now).id


@router.post("/bobbins/{bobbin_id}/restore")
def restore_bobbin(bobbin_id: Id, workshop: WorkshopNow) -> int:
    """Put a struck bobbin back."""
    return workshop.rack.strike_bobbin(bobbin_id, None).id


@dataclass(frozen=True)
class CaseChart:
    """The mean-and-range chart of a case since its screw was last turned, with the day of each point."""

    chart: ControlChart
    days: Sequence[datetime]


@router.get("/cases/{case_id}/chart")
def chart(case_id: Id, workshop: WorkshopNow) -> CaseChart:
    """Chart a case's readings since its screw was last turned."""
    workshop.rack.case(case_id)
    sessions = workshop.rack.history(case_id).since_screw[-60:]
    drawn = control_chart([pull_means(reading) for _, reading in sessions])
    return CaseChart(drawn, [sessions[i][0] for i in drawn.used])


@router.get("/cases/{case_id}/label.{form}", response_class=Response)
def print_label(case_id: Id, form: Format, workshop: WorkshopNow) -> Response:
    """Print a case's label, true to size."""
    row = workshop.rack.case(case_id)
    target = workshop.bobbin_target(row.machine_id, case_id) if row.machine_id and not row.struck_at else None
    machine = workshop.machine(row.machine_id).spec.nickname if row.machine_id else ""
    says = f"{target.low:.0f} to {target.high:.0f} mN" if target else "your own number"
    return on_paper(case_label(row.spec.label, row.spec.kept_for, says, machine), form)


@router.get("/bobbins/{bobbin_id}/card.{form}", response_class=Response)
def print_card(bobbin_id: Id, form: Format, workshop: WorkshopNow) -> Response:
    """Print a bobbin's card, true to size."""
    spec = workshop.rack.bobbin(bobbin_id).spec
    thread = workshop.drawer.thread(spec.thread).spec
    facts = (
        thread.words,
        f"class {spec.bobbin_class}, {spec.winding.value.replace('_', '-')}",
        f"{spec.fill:.0%} full",
    )
    return on_paper(bobbin_card(spec.label, thread.name, facts), form)
