"""The Thread station: the drawer, and what goes on top and into the bobbin."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.needle.bundle_advice import BundleAdvice, advise_bundle
from weftonos.core.setup.events import BobbinLoaded, TopThreaded
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.capstan import HolesPull, guide_holes
from weftonos.core.thread.drawer import DrawerThread, is_light
from weftonos.core.thread.handling import ThreadCare, care_for
from weftonos.core.thread.look_wish import LookAnswer, LookWish, answer_wish
from weftonos.core.thread.path import FULL_HOLES, PathPoint, holes_to_use, path_for
from weftonos.core.thread.thread import Bundle, Fibre, Thread
from weftonos.stations.log import LogEntry, log_entry
from weftonos.store.drawer import DrawerSearch
from weftonos.store.models import ThreadRow
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class ThreadItem:
    """A thread of the drawer with its weight in every system."""

    id: int
    uid: str
    version: int
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
        id=row.id,
        uid=row.uid,
        version=row.version,
        spec=spec,
        label=spec.label,
        words=spec.words,
        tex=density.tex,
        dtex=density.dtex,
        denier=density.denier,
        wt=density.wt,
        ne=density.ne,
        diameter_mm=spec.thread.diameter_mm,
        light=is_light(spec.colour),
        struck_at=row.struck_at,
    )


@dataclass(frozen=True, kw_only=True)
class DrawerPage:
    """A page of the drawer, how many threads meet the search in all, and the cursor at which it goes on."""

    items: Sequence[ThreadItem]
    total: int
    more: str | None


def drawer_page(workshop: Workshop, search: DrawerSearch) -> DrawerPage:
    """Search, filter and sort the drawer."""
    page, total = workshop.drawer.threads(search)
    return DrawerPage(items=[thread_item(row) for row in page.items], total=total, more=page.more)


@dataclass(frozen=True)
class TopChoice:
    """Which threads go through the needle, and when if not now."""

    top: list[int]
    at: datetime | None = None


@dataclass(frozen=True, kw_only=True)
class BobbinChoice:
    """Which thread is in the bobbin, and when if not now."""

    bobbin: int
    bobbin_work: bool = False
    case: int | None = None
    item: int | None = None
    fill: float = 1.0
    at: datetime | None = None


def thread_top(workshop: Workshop, machine_id: int, choice: TopChoice, now: datetime) -> LogEntry:
    """Put one to four threads through the needle."""
    return log_entry(workshop, workshop.note(machine_id, TopThreaded(tuple(choice.top)), choice.at or now, now))


def load_bobbin(workshop: Workshop, machine_id: int, choice: BobbinChoice, now: datetime) -> LogEntry:
    """Load a bobbin of this thread."""
    loaded = BobbinLoaded(
        bobbin=choice.bobbin,
        bobbin_work=choice.bobbin_work,
        case=choice.case,
        item=choice.item,
        fill=choice.fill,
    )
    return log_entry(workshop, workshop.note(machine_id, loaded, choice.at or now, now))


@dataclass(frozen=True)
class NamedCare:
    """What to mind with one thread that is on."""

    name: str
    care: ThreadCare


@dataclass(frozen=True, kw_only=True)
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


def thread_station(workshop: Workshop, machine_id: int) -> ThreadStation:
    """Say how to treat what is on, and how it goes through this machine."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    top, bobbin = setup.top_bundle, setup.bobbin_thread
    owned = workshop.drawer.specs(t.id for t in setup.top)
    care = [NamedCare(t.name, care_for(owned[t.id].thread)) for t in setup.top if t.id in owned]
    if setup.bobbin and bobbin and setup.bobbin.id not in {t.id for t in setup.top}:
        care.append(NamedCare(setup.bobbin.name, care_for(bobbin)))
    fibre = top.threads[0].fibre if top else Fibre.COTTON
    return ThreadStation(
        setup=setup,
        care=care,
        advice=_advice(machine, top, bobbin, setup.sandwich) if top else None,
        path=path_for(machine.thread_path, top),
        machine_path=machine.thread_path,
        own_path=machine.path is not None,
        holes=holes_to_use(top) if top else FULL_HOLES,
        # A home machine has no such guide.
        pulls=[guide_holes(fibre, n) for n in range(FULL_HOLES + 1)] if machine.kind is MachineKind.LONGARM else [],
    )


@dataclass(frozen=True)
class Together:
    """Threads of the drawer to be considered as one bundle, and the thread below."""

    top: list[int] = field(default_factory=list)
    bobbin: int | None = None


def together(workshop: Workshop, machine_id: int, choice: Together) -> BundleAdvice:
    """Say what one to four threads make together, before they go on: size, needle, holes, bobbin."""
    machine = workshop.machine(machine_id).spec
    top = Bundle.of([workshop.drawer.usable_thread(i, "top").thread for i in choice.top])
    below = workshop.drawer.usable_thread(choice.bobbin, "bobbin").thread if choice.bobbin else None
    return _advice(machine, top, below, workshop.setup(machine_id).sandwich)


def _advice(machine: Machine, top: Bundle, bobbin: Thread | None, sandwich: Sandwich | None) -> BundleAdvice:
    return advise_bundle(
        machine.kind,
        machine.size_school,
        machine.bobbin_school,
        top=top,
        bobbin=bobbin,
        sandwich=sandwich,
        schools=machine.schools,
    )


def wish(workshop: Workshop, machine_id: int, question: LookWish) -> LookAnswer:
    """Advise weights, fibres and bobbin for a look, and the drawer's best threads for it."""
    machine = workshop.machine(machine_id).spec
    cotton = machine.schools.takes("quilt_fibre") == "cotton"
    return answer_wish(question, machine.bobbin_school, workshop.drawer.all_threads(), cotton_in_cotton=cotton)
