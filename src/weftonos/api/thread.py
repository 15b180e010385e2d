"""The Thread station: the drawer, and what goes on top and into the bobbin."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from fastapi import APIRouter

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.core.drawer import DrawerThread, is_light
from weftonos.core.logbook import BobbinLoaded, TopThreaded
from weftonos.store.models import ThreadRow

router = APIRouter(prefix="/api", tags=["thread"])


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


@router.get("/threads")
def threads(workshop: WorkshopNow, struck: bool = False) -> list[ThreadItem]:
    """List the drawer by name; with ``struck`` also what was struck out."""
    return [thread_item(row) for row in workshop.threads(with_struck=struck)]


@router.post("/threads", status_code=201)
def add_thread(spec: DrawerThread, workshop: WorkshopNow) -> ThreadItem:
    """Put a thread in the drawer from its label."""
    return thread_item(workshop.add_thread(spec))


@router.put("/threads/{thread_id}")
def change_thread(thread_id: Id, spec: DrawerThread, workshop: WorkshopNow) -> ThreadItem:
    """Correct a thread."""
    return thread_item(workshop.change_thread(thread_id, spec))


@router.post("/threads/{thread_id}/strike")
def strike_thread(thread_id: Id, workshop: WorkshopNow, now: Now) -> ThreadItem:
    """Strike a thread out of the drawer."""
    return thread_item(workshop.strike_thread(thread_id, now))


@router.post("/threads/{thread_id}/restore")
def restore_thread(thread_id: Id, workshop: WorkshopNow) -> ThreadItem:
    """Put a struck thread back."""
    return thread_item(workshop.strike_thread(thread_id, None))


@dataclass(frozen=True)
class TopChoice:
    """Which threads go through the needle, and when if not now."""

    top: list[int]
    at: datetime | None = None


@dataclass(frozen=True)
class BobbinChoice:
    """Which thread is in the bobbin, and when if not now."""

    bobbin: int
    at: datetime | None = None


@router.post("/machines/{machine_id}/top", status_code=201)
def thread_top(machine_id: Id, choice: TopChoice, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Put one to four threads through the needle."""
    return log_entry(workshop.note(machine_id, TopThreaded(tuple(choice.top)), choice.at or now, now))


@router.post("/machines/{machine_id}/bobbin", status_code=201)
def load_bobbin(machine_id: Id, choice: BobbinChoice, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Load a bobbin of this thread."""
    return log_entry(workshop.note(machine_id, BobbinLoaded(choice.bobbin), choice.at or now, now))
