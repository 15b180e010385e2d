"""The Thread station: the drawer, and what goes on top and into the bobbin."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response
from pydantic import Field

from weftonos.api.context import Anyway, Done, Id, Now, Seen, WorkshopNow, WorkshopToRead, Zone
from weftonos.api.paper import on_paper
from weftonos.api.queries import DrawerQuery
from weftonos.api.strict import StrictRoute
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.log.references import Thing
from weftonos.core.needle.bundle_advice import BundleAdvice
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.label import LabelAnswer
from weftonos.core.thread.look_wish import LookAnswer, LookWish
from weftonos.exchange.sheet import SheetRow
from weftonos.exchange.strip import Paper
from weftonos.learned.entries import Noted
from weftonos.learned.in_use import refuse_in_use
from weftonos.stations import combination, scorecard, thread

router = APIRouter(prefix="/api", tags=["thread"], route_class=StrictRoute)


@router.get("/threads")
def threads(workshop: WorkshopNow, search: Annotated[DrawerQuery, Query()]) -> thread.DrawerPage:
    """Search, filter and sort the drawer."""
    return thread.drawer_page(workshop, search.search())


@router.post("/threads", status_code=201)
def add_thread(spec: DrawerThread, workshop: WorkshopNow) -> thread.ThreadItem:
    """Put a thread in the drawer from its label."""
    return thread.thread_item(workshop.drawer.add_thread(spec))


@dataclass(frozen=True, kw_only=True)
class LabelLine:
    """A label's line as it is typed: "40/2 cotton"."""

    text: Annotated[str, Field(max_length=200)]


@router.post("/threads/read-label")
def read_label(line: LabelLine, workshop: WorkshopToRead) -> LabelAnswer:
    """Read a label's line: the thread it names, in every way it can be meant, the likeliest first."""
    return thread.read_label_line(workshop, line.text)


@router.get("/machines/{machine_id}/threads/{thread_id}/card")
def thread_card(machine_id: Id, thread_id: Id, workshop: WorkshopNow) -> scorecard.ThreadCard:
    """Say what is known of a thread on a machine, on one card."""
    return scorecard.thread_card(workshop, machine_id, thread_id)


@router.get("/machines/{machine_id}/threads/{thread_id}/card.pdf", response_class=Response)
def thread_card_printed(
    machine_id: Id, thread_id: Id, workshop: WorkshopNow, now: Now, zone: Zone = "UTC", paper: Paper = Paper.A4
) -> Response:
    """Print a thread's card."""
    return on_paper("pdf", *scorecard.card_sheets(workshop, machine_id, thread_id, now=now, zone=zone, paper=paper))


@router.get("/threads/{thread_id}")
def one_thread(thread_id: Id, workshop: WorkshopNow) -> thread.ThreadItem:
    """Return one thread of the drawer, deleted or not."""
    return thread.thread_item(workshop.drawer.thread(thread_id))


@router.put("/threads/{thread_id}")
def change_thread(thread_id: Id, spec: DrawerThread, workshop: WorkshopNow, seen: Seen) -> thread.ThreadItem:
    """Correct a thread: every record that names it reads so from then on. Another lot is a thread of its own."""
    return thread.thread_item(workshop.change_thread(thread_id, spec, seen))


@router.post("/threads/{thread_id}/strike")
def strike_thread(thread_id: Id, workshop: WorkshopNow, now: Now, anyway: Anyway = False) -> thread.ThreadItem:
    """Strike a thread out of the drawer."""
    if not anyway:
        refuse_in_use(workshop, Thing.THREAD, thread_id)
    return thread.thread_item(workshop.drawer.strike_thread(thread_id, now))


@router.post("/threads/{thread_id}/restore")
def restore_thread(thread_id: Id, workshop: WorkshopNow) -> thread.ThreadItem:
    """Put a struck thread back."""
    return thread.thread_item(workshop.drawer.strike_thread(thread_id, None))


@router.post("/machines/{machine_id}/top", status_code=201)
def thread_top(machine_id: Id, choice: thread.TopChoice, workshop: WorkshopNow, now: Done) -> Noted:
    """Put one to four threads through the needle."""
    return thread.thread_top(workshop, machine_id, choice, now)


@router.post("/machines/{machine_id}/bobbin", status_code=201)
def load_bobbin(machine_id: Id, choice: thread.BobbinChoice, workshop: WorkshopNow, now: Done) -> Noted:
    """Load a bobbin of this thread."""
    return thread.load_bobbin(workshop, machine_id, choice, now)


@router.get("/machines/{machine_id}/thread")
def thread_station(machine_id: Id, workshop: WorkshopNow) -> thread.ThreadStation:
    """Say how to treat what is on, and how it goes through this machine."""
    return thread.thread_station(workshop, machine_id)


@dataclass(frozen=True, kw_only=True)
class HolesFound:
    """How many guide holes do for the thread on top; ``null`` for what is usual."""

    holes: int | None = None


@router.put("/machines/{machine_id}/thread/holes")
def holes_found(machine_id: Id, found: HolesFound, workshop: WorkshopNow) -> thread.ThreadItem:
    """Keep how many guide holes do for the thread on top, found by trial."""
    return thread.holes_found(workshop, machine_id, found.holes)


@router.post("/machines/{machine_id}/together")
def together(machine_id: Id, choice: thread.Together, workshop: WorkshopToRead) -> BundleAdvice:
    """Say what two to four threads make together, before they go on: size, needle, holes, bobbin."""
    return thread.together(workshop, machine_id, choice)


@dataclass(frozen=True, kw_only=True)
class CombinationQuestion:
    """The threads to go on top, and what will lie under the needle if not what lies there now."""

    top: Annotated[list[int], Field(max_length=4)]
    sandwich: Sandwich | None = None


@router.post("/machines/{machine_id}/plan")
def plan(machine_id: Id, question: CombinationQuestion, workshop: WorkshopToRead) -> combination.Plan:
    """Plan a new combination: needle, bobbin, guide holes, start of the top, as moves from what is on now."""
    return combination.plan(workshop, machine_id, question.top, question.sandwich)


@router.get("/machines/{machine_id}/threads-sheet")
def threads_sheet(machine_id: Id, workshop: WorkshopNow) -> Sequence[SheetRow]:
    """Return every thread of the drawer with what it wants on this machine."""
    return combination.sheet_rows(workshop, machine_id)


@router.get("/machines/{machine_id}/threads-sheet.pdf", response_class=Response)
def print_threads_sheet(
    machine_id: Id, workshop: WorkshopNow, now: Now, paper: Paper = Paper.A4, zone: Zone = "UTC"
) -> Response:
    """Print every thread of the drawer for this machine, to hang beside it."""
    sheets = combination.printed_sheet(workshop, machine_id, paper, now=now, zone=zone)
    return on_paper("pdf", *sheets)


@router.post("/machines/{machine_id}/wish")
def wish(machine_id: Id, question: LookWish, workshop: WorkshopToRead) -> LookAnswer:
    """Advise weights, fibers and bobbin for a look, and the drawer's best threads for it."""
    return thread.wish(workshop, machine_id, question)
