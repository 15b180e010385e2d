"""The Thread station: the drawer, and what goes on top and into the bobbin."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.core.bundle_advice import BundleAdvice, advise_bundle
from weftonos.core.capstan import HolesPull, guide_holes
from weftonos.core.drawer import DrawerThread, is_light
from weftonos.core.handling import ThreadCare, care_for
from weftonos.core.logbook import BobbinLoaded, TopThreaded
from weftonos.core.look_wish import LookAnswer, LookWish, answer_wish
from weftonos.core.setup import Setup
from weftonos.core.thread import Bundle, Fibre
from weftonos.core.thread_path import PathPoint, holes_to_use, path_for
from weftonos.store.drawer import DrawerOrder, DrawerSearch
from weftonos.store.models import ThreadRow

router = APIRouter(prefix="/api", tags=["thread"])


class DrawerQuery(BaseModel):
    """What of the drawer to show; every word of ``text`` must be there."""

    text: str = Field("", max_length=200)
    fibre: Fibre | None = None
    light: bool | None = None
    struck: bool = False
    order: DrawerOrder = DrawerOrder.NAME
    offset: int = Field(0, ge=0, le=1_000_000)
    limit: int = Field(60, ge=1, le=500)


@dataclass(frozen=True)
class ThreadItem:
    """A thread of the drawer with its weight in every system."""

    id: int
    spec: DrawerThread
    label: str
    words: str
    tex: float
    dtex: float
    denier: float
    wt: float
    ne: float
    diameter_mm: float
    light: bool
    struck_at: datetime | None


def thread_item(row: ThreadRow) -> ThreadItem:
    """Return a thread as the interface shows it."""
    spec, density = row.spec, row.spec.thread.density
    return ThreadItem(
        row.id,
        spec,
        spec.label,
        spec.words,
        density.tex,
        density.dtex,
        density.denier,
        density.wt,
        density.ne,
        spec.thread.diameter_mm,
        is_light(spec.colour),
        row.struck_at,
    )


@dataclass(frozen=True)
class DrawerPage:
    """A page of the drawer, and how many threads meet the search in all."""

    items: Sequence[ThreadItem]
    total: int


@router.get("/threads")
def threads(workshop: WorkshopNow, search: Annotated[DrawerQuery, Query()]) -> DrawerPage:
    """Search, filter and sort the drawer."""
    rows, total = workshop.drawer.threads(
        DrawerSearch(
            search.text, search.fibre, search.light, search.struck, search.order, search.offset, search.limit
        )
    )
    return DrawerPage([thread_item(row) for row in rows], total)


@router.post("/threads", status_code=201)
def add_thread(spec: DrawerThread, workshop: WorkshopNow) -> ThreadItem:
    """Put a thread in the drawer from its label."""
    return thread_item(workshop.drawer.add_thread(spec))


@router.put("/threads/{thread_id}")
def change_thread(thread_id: Id, spec: DrawerThread, workshop: WorkshopNow) -> ThreadItem:
    """Correct a thread."""
    return thread_item(workshop.drawer.change_thread(thread_id, spec))


@router.post("/threads/{thread_id}/strike")
def strike_thread(thread_id: Id, workshop: WorkshopNow, now: Now) -> ThreadItem:
    """Strike a thread out of the drawer."""
    return thread_item(workshop.drawer.strike_thread(thread_id, now))


@router.post("/threads/{thread_id}/restore")
def restore_thread(thread_id: Id, workshop: WorkshopNow) -> ThreadItem:
    """Put a struck thread back."""
    return thread_item(workshop.drawer.strike_thread(thread_id, None))


@dataclass(frozen=True)
class TopChoice:
    """Which threads go through the needle, and when if not now."""

    top: list[int]
    at: datetime | None = None


@dataclass(frozen=True)
class BobbinChoice:
    """Which thread is in the bobbin, and when if not now."""

    bobbin: int
    bobbin_work: bool = False
    case: int | None = None
    item: int | None = None
    fill: float = 1.0
    at: datetime | None = None


@router.post("/machines/{machine_id}/top", status_code=201)
def thread_top(machine_id: Id, choice: TopChoice, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Put one to four threads through the needle."""
    return log_entry(workshop.note(machine_id, TopThreaded(tuple(choice.top)), choice.at or now, now))


@router.post("/machines/{machine_id}/bobbin", status_code=201)
def load_bobbin(machine_id: Id, choice: BobbinChoice, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Load a bobbin of this thread."""
    return log_entry(
        workshop.note(
            machine_id,
            BobbinLoaded(choice.bobbin, choice.bobbin_work, choice.case, choice.item, choice.fill),
            choice.at or now,
            now,
        )
    )


@dataclass(frozen=True)
class NamedCare:
    """What to mind with one thread that is on."""

    name: str
    care: ThreadCare


@dataclass(frozen=True)
class ThreadStation:
    """What is on, how to treat it, its way through the machine, and what the guide's holes do."""

    setup: Setup
    care: Sequence[NamedCare]
    advice: BundleAdvice | None
    path: Sequence[PathPoint]
    machine_path: Sequence[PathPoint]
    own_path: bool
    holes: int
    pulls: Sequence[HolesPull]


@router.get("/machines/{machine_id}/thread")
def thread_station(machine_id: Id, workshop: WorkshopNow) -> ThreadStation:
    """Say how to treat what is on, and how it goes through this machine."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    top = setup.top_bundle
    bobbin = setup.bobbin_thread
    care = [NamedCare(t.name, care_for(workshop.drawer.thread(t.id).spec.thread)) for t in setup.top]
    if setup.bobbin and bobbin and setup.bobbin.id not in {t.id for t in setup.top}:
        care.append(NamedCare(setup.bobbin.name, care_for(bobbin)))
    advice = advise_bundle(machine.kind, machine.size_school, machine.bobbin_school, top, bobbin) if top else None
    fibre = top.threads[0].fibre if top else Fibre.COTTON
    return ThreadStation(
        setup,
        care,
        advice,
        path_for(machine.thread_path, top),
        machine.thread_path,
        machine.path is not None,
        holes_to_use(top) if top else 3,
        [guide_holes(fibre, n) for n in range(4)],
    )


@dataclass(frozen=True)
class Together:
    """Threads of the drawer to be considered as one bundle, and the thread below."""

    top: list[int]
    bobbin: int | None = None


@router.post("/machines/{machine_id}/together")
def together(machine_id: Id, choice: Together, workshop: WorkshopNow) -> BundleAdvice:
    """Say what two to four threads make together, before they go on: size, needle, holes, bobbin."""
    machine = workshop.machine(machine_id).spec
    top = Bundle.of([workshop.drawer.usable_thread(i, "top").spec.thread for i in choice.top])
    below = workshop.drawer.usable_thread(choice.bobbin, "bobbin").spec.thread if choice.bobbin else None
    return advise_bundle(machine.kind, machine.size_school, machine.bobbin_school, top, below)


@router.post("/machines/{machine_id}/wish")
def wish(machine_id: Id, question: LookWish, workshop: WorkshopNow) -> LookAnswer:
    """Advise weights, fibres and bobbin for a look, and the drawer's best threads for it."""
    machine = workshop.machine(machine_id).spec
    return answer_wish(question, machine.bobbin_school, workshop.drawer.all_threads())
