"""The Thread station: the drawer, and what goes on top and into the bobbin."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

from weftonos.core.bobbin.winding import usual_fill
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import Schools
from weftonos.core.needle.bundle_advice import BundleAdvice, advise_bundle
from weftonos.core.setup.case_choice import CaseAdvice
from weftonos.core.setup.events import BobbinLoaded, TopThreaded
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.capstan import HolesPull, guide_holes
from weftonos.core.thread.drawer import DrawerThread, is_light
from weftonos.core.thread.guide import FULL_HOLES, holes_to_use, holes_tried
from weftonos.core.thread.handling import ThreadCare, care_for
from weftonos.core.thread.label import LabelAnswer, read_label
from weftonos.core.thread.look_wish import LookAnswer, LookWish, answer_wish
from weftonos.core.thread.path import PathPoint, path_for
from weftonos.core.thread.thread import Bundle, Fiber, Thread
from weftonos.learned.bobbins import case_for
from weftonos.learned.entries import Noted, noted
from weftonos.learned.own_records import schools_here, threads_that_ran
from weftonos.store.drawer import DrawerSearch
from weftonos.store.models import ThreadRow
from weftonos.store.workshop import Workshop

#: So many of those used last are offered to go back on top.
TOPS_OFFERED = 4


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
        light=is_light(spec.color),
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


@dataclass(frozen=True, kw_only=True)
class TopChoice:
    """Which threads go through the needle, and when if not now."""

    top: list[int]
    at: datetime | None = None


@dataclass(frozen=True, kw_only=True)
class BobbinChoice:
    """Which thread is in the bobbin, and when if not now.

    ``fill`` is how full it is, 0 to 1; left out, as the bobbin of the rack is, else as this thread is usually wound.
    """

    bobbin: int
    bobbin_work: bool = False
    case: int | None = None
    item: int | None = None
    fill: float | None = None
    at: datetime | None = None


def read_label_line(workshop: Workshop, text: str) -> LabelAnswer:
    """Read a label's line; what it leaves open is read as it was chosen last in this workshop."""
    return read_label(text, _newest_first(workshop))


def _newest_first(workshop: Workshop) -> Iterator[DrawerThread]:
    """Yield the drawer's threads; it is read only where a label leaves something open."""
    for _, thread in sorted(workshop.drawer.all_threads(), reverse=True, key=lambda numbered: numbered[0]):
        yield thread


def thread_top(workshop: Workshop, machine_id: int, choice: TopChoice, now: datetime) -> Noted:
    """Put one to four threads through the needle."""
    return noted(workshop, workshop.note(machine_id, TopThreaded(tuple(choice.top)), choice.at or now, now))


def load_bobbin(workshop: Workshop, machine_id: int, choice: BobbinChoice, now: datetime) -> Noted:
    """Load a bobbin of this thread."""
    fill = choice.fill
    if fill is None and choice.item is not None:
        fill = workshop.rack.usable_bobbin(choice.item).spec.fill
    if fill is None:
        fill = usual_fill(workshop.drawer.usable_thread(choice.bobbin, "bobbin").thread)
    loaded = BobbinLoaded(
        bobbin=choice.bobbin,
        bobbin_work=choice.bobbin_work,
        case=choice.case,
        item=choice.item,
        fill=fill,
    )
    return noted(workshop, workshop.note(machine_id, loaded, choice.at or now, now))


@dataclass(frozen=True)
class NamedCare:
    """What to mind with one thread that is on."""

    name: str
    care: ThreadCare


@dataclass(frozen=True, kw_only=True)
class TopBefore:
    """What was on top of this machine: the threads by their ids, and how they are called."""

    top: tuple[int, ...]
    name: str
    color: str


@dataclass(frozen=True, kw_only=True)
class ThreadStation:
    """What is on, how to treat it, its way through the machine, what the guide's holes do, and the case to take.

    ``before`` is what was on top last, newest first, to go back to by one tap. ``top_mm`` is how thick what is on top
    is, several threads as one bundle.
    """

    setup: Setup
    top_mm: float | None
    before: Sequence[TopBefore]
    care: Sequence[NamedCare]
    advice: BundleAdvice | None
    path: Sequence[PathPoint]
    machine_path: Sequence[PathPoint]
    own_path: bool
    holes: int
    tried: int | None
    pulls: Sequence[HolesPull]
    other_case: CaseAdvice | None


def thread_station(workshop: Workshop, machine_id: int) -> ThreadStation:
    """Say how to treat what is on, and how it goes through this machine."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    top, bobbin = setup.top_bundle, setup.bobbin_thread
    owned = workshop.drawer.specs(t.id for t in setup.top)
    care = [NamedCare(t.name, care_for(owned[t.id].thread, machine.features)) for t in setup.top if t.id in owned]
    if setup.bobbin and bobbin and setup.bobbin.id not in {t.id for t in setup.top}:
        care.append(NamedCare(setup.bobbin.name, care_for(bobbin, machine.features)))
    fiber = top.threads[0].fiber if top else Fiber.COTTON
    tried = holes_tried(setup.top)
    return ThreadStation(
        setup=setup,
        top_mm=top.diameter_mm if top else None,
        before=_before(workshop, machine_id, setup),
        care=care,
        advice=_advice(
            machine,
            schools_here(workshop, machine_id),
            top=top,
            bobbin=bobbin,
            sandwich=setup.sandwich,
            tried=tried,
        )
        if top
        else None,
        path=path_for(machine.thread_path, top, tried),
        machine_path=machine.thread_path,
        own_path=machine.path is not None,
        holes=holes_to_use(top, tried) if top else FULL_HOLES,
        tried=tried,
        pulls=[guide_holes(fiber, n) for n in range(FULL_HOLES + 1)] if Feature.HOLE_GUIDE in machine.features else [],
        other_case=case_for(workshop, machine_id, setup),
    )


def _before(workshop: Workshop, machine_id: int, setup: Setup) -> Sequence[TopBefore]:
    tops = workshop.drawer.on_top_before(machine_id, tuple(t.id for t in setup.top))
    owned = workshop.drawer.still_here(number for top in tops for number in top)
    whole = [top for top in tops if owned.keys() >= set(top)]
    return [
        TopBefore(top=top, name=" + ".join(owned[t].name for t in top), color=owned[top[0]].color)
        for top in whole[:TOPS_OFFERED]
    ]


def holes_found(workshop: Workshop, machine_id: int, holes: int | None) -> ThreadItem:
    """Keep how many guide holes do for the thread on top, found by trial; ``None`` goes back to what is usual."""
    setup = workshop.setup(machine_id)
    if len(setup.top) != 1:
        raise CraftError("This is saved for one thread. Put that thread on top alone first.", "holes")
    row = workshop.drawer.thread(setup.top[0].id)
    return thread_item(workshop.change_thread(row.id, replace(row.spec, holes=holes), row.version))


@dataclass(frozen=True, kw_only=True)
class Together:
    """Threads of the drawer to be considered as one bundle, and the thread below."""

    top: list[int] = field(default_factory=list)
    bobbin: int | None = None


def together(workshop: Workshop, machine_id: int, choice: Together) -> BundleAdvice:
    """Say what one to four threads make together, before they go on: size, needle, holes, bobbin."""
    machine = workshop.machine(machine_id).spec
    owned = [workshop.drawer.usable_thread(i, "top") for i in choice.top]
    top = Bundle.of([thread.thread for thread in owned])
    below = workshop.drawer.usable_thread(choice.bobbin, "bobbin").thread if choice.bobbin else None
    schools = schools_here(workshop, machine_id)
    sandwich = workshop.setup(machine_id).sandwich
    return _advice(machine, schools, top=top, bobbin=below, sandwich=sandwich, tried=holes_tried(owned))


def _advice(
    machine: Machine,
    schools: Schools,
    *,
    top: Bundle,
    bobbin: Thread | None,
    sandwich: Sandwich | None,
    tried: int | None,
) -> BundleAdvice:
    return advise_bundle(
        machine.kind,
        machine.size_school,
        machine.bobbin_school,
        top=top,
        bobbin=bobbin,
        sandwich=sandwich,
        schools=schools,
        tried=tried,
    )


def wish(workshop: Workshop, machine_id: int, question: LookWish) -> LookAnswer:
    """Advise weights, fibers and bobbin for a look, and the drawer's best threads for it."""
    machine = workshop.machine(machine_id).spec
    cotton = machine.schools.takes("quilt_fiber") == "cotton"
    drawer = workshop.drawer.all_threads()
    ran, mean = threads_that_ran(workshop, machine_id)
    return answer_wish(
        question,
        machine.bobbin_school,
        drawer,
        cotton_in_cotton=cotton,
        ran={number: ran[thread.in_full] for number, thread in drawer if thread.in_full in ran},
        usual=mean if machine.schools.takes("own_records") == "feed" else None,
    )
