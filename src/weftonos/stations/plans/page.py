"""A plan with all it takes: the order that costs least, its evenings, whether its threads last, how far it is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import datetime

from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.spoken import hours_range, in_hours, so_many
from weftonos.core.mend.upkeep import OIL_AFTER, UpkeepKind
from weftonos.core.plan.cones import Lasts, Stock, lasts
from weftonos.core.plan.evenings import CLEAN, OIL, Evening, Every, Hours, ToSew, evenings
from weftonos.core.plan.expected import NOTHING, Likely
from weftonos.core.plan.minutes import ChangesTake
from weftonos.core.plan.order import Ordered, cheapest_order, zones_of
from weftonos.core.plan.passes import PassStage, QuiltPlanned
from weftonos.core.plan.sewn import Finished
from weftonos.core.plan.takes import OnTheWay, on_the_way
from weftonos.core.thread.drawer import DrawerThread
from weftonos.learned.answer_cache import AnswerCache
from weftonos.learned.entries import nickname
from weftonos.learned.quilt_plans import (
    PlanAsIs,
    changes_here,
    on_machine_now,
    plan_rows,
    plans_as_they_are,
    set_up_of,
    stocks,
    what_plans_taught,
)
from weftonos.learned.time_on import time_on
from weftonos.stations.plans.noting import plan_row
from weftonos.stations.plans.shopping import threads_needed
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class PlanItem:
    """A plan in the list: its quilt, its machine, how much of it is sewn, and whether it is over."""

    id: int
    quilt: str
    machine: str
    machine_id: int
    at: datetime
    passes: int
    done: int
    share: float
    over: bool


@dataclass(frozen=True, kw_only=True)
class PassItem:
    """A pass as it is shown: what it takes, how far it is, what it is sewn with, and the change before it.

    ``problem`` says what of it can no longer be had. ``place`` is its place in the order, none once it is over.
    """

    key: int
    words: str
    stage: PassStage | None
    share: float
    place: int | None
    stitched_m: Likely
    thread_m: Likely
    bobbins: Likely | None
    to_wind: int | None
    hours: Likely
    needles: int
    top: str
    top_color: str
    below: str
    needle: str
    machine: str
    change_minutes: float
    change: Sequence[str]
    taken_as_usual: Sequence[str]
    way: OnTheWay | None
    hours_sewn: float
    bobbins_used: int
    problem: str


@dataclass(frozen=True, kw_only=True)
class ThreadOfPlan:
    """A thread that the plan uses: what is needed of it from now on, what is left, and whether it lasts."""

    id: int
    name: str
    color: str
    needs_m: Likely
    stock: Stock | None
    lasts: Lasts
    price: float | None


@dataclass(frozen=True, kw_only=True)
class PlanPage:
    """A plan with everything it is asked for. ``text`` is the answer in a sentence or two."""

    id: int
    version: int
    machine_id: int
    machine: str
    machine_retired: bool
    at: datetime
    plan: QuiltPlanned
    passes: Sequence[PassItem]
    on: int | None
    share: float
    width_m: float
    height_m: float
    hours: Likely
    hours_left: Likely
    bobbins: Likely | None
    bobbins_left: Likely | None
    thread_m: Likely
    stitched_m: Likely
    cleanings: int
    oilings: int
    test_lines: int
    cost: float | None
    rests_on: str
    text: str
    order: Ordered
    evenings: Sequence[Evening]
    threads: Sequence[ThreadOfPlan]
    finished: Finished | None
    finished_says: str


@dataclass(frozen=True, kw_only=True)
class ChangesHere:
    """Minutes of each kind of change where a plan doesn't say; ``own`` names those that the records tell."""

    minutes: ChangesTake
    own: Sequence[str]


def changes_of(workshop: Workshop, machine_id: int) -> ChangesHere:
    """Say what changes take on a machine."""
    found, usual = changes_here(workshop, machine_id), asdict(ChangesTake())
    return ChangesHere(minutes=found, own=[what for what, each in asdict(found).items() if each != usual[what]])


def plans(workshop: Workshop, kept: AnswerCache) -> Sequence[PlanItem]:
    """List the plans, newest first."""
    rows = plan_rows(workshop)
    machines = {row.id: row for row in workshop.machines()}
    found = plans_as_they_are(workshop, kept, rows)
    return [
        PlanItem(
            id=row.id,
            quilt=each.plan.quilt,
            machine=nickname(machines[row.machine_id]),
            machine_id=row.machine_id,
            at=row.at,
            passes=len(each.plan.passes),
            done=sum(state.over for state in each.states.values()),
            share=_share(each),
            over=not each.left,
        )
        for row, each in zip(rows, found, strict=True)
    ]


def _share(found: PlanAsIs) -> float:
    """Return how much of a plan is sewn, by hours; what was left out is no part of it."""
    mine = [each for each in found.takes.passes if found.states[each.key].stage is not PassStage.DROPPED]
    whole = sum(each.hours.likely for each in mine)
    return sum(each.hours.likely * found.shares[each.key] for each in mine) / whole if whole else 1.0


def plan_page(workshop: Workshop, kept: AnswerCache, plan_id: int) -> PlanPage:
    """Say everything of a plan."""
    row = plan_row(workshop, plan_id)
    machine = workshop.machine(row.machine_id).spec
    # What a plan promised rests on the quilts before it.
    learned = what_plans_taught(workshop, kept, row.machine_id, row.at)
    found = plans_as_they_are(workshop, kept, [row], learned)[0]
    plan, left = found.plan, {each.key for each in found.left}
    order = _order(workshop, kept, row, found)
    passes = _pass_items(workshop, row, found, order)
    threads = _threads(workshop, kept, found)
    by_key = {each.key: each for each in found.takes.passes}
    hours_left = sum((by_key[key].hours.times(1 - found.shares[key]) for key in left), NOTHING)
    known = [b.times(1 - found.shares[key]) for key in left if (b := by_key[key].bobbins)]
    bobbins_left = sum(known, NOTHING) if known else None
    nights = _evenings(workshop, row, found, order, passes)
    return PlanPage(
        id=row.id,
        version=row.version,
        machine_id=row.machine_id,
        machine=machine.nickname,
        machine_retired=machine.retired,
        at=row.at,
        plan=plan,
        passes=passes,
        on=found.on.key if found.on else None,
        share=_share(found),
        width_m=plan.width,
        height_m=plan.height,
        hours=found.takes.hours,
        hours_left=hours_left,
        bobbins=found.takes.bobbins,
        bobbins_left=bobbins_left,
        thread_m=found.takes.thread_m,
        stitched_m=found.takes.stitched_m,
        cleanings=sum(CLEAN in each.after for each in nights),
        oilings=sum(OIL in each.after for each in nights),
        test_lines=sum("a test line" in change.what for change in order.changes),
        cost=_cost(threads),
        rests_on=found.takes.rests_on,
        text=_text(found, hours_left, sum(each.bobbins for each in nights)),
        order=order,
        evenings=nights,
        threads=threads,
        finished=found.finished,
        finished_says=_finished_says(found),
    )


def _order(workshop: Workshop, kept: AnswerCache, row: RecordRow, found: PlanAsIs) -> Ordered:
    """Return the order that costs least for what is left; a pass that is begun is sewn to its end first."""
    machine = workshop.machine(row.machine_id).spec
    begun = found.on.key if found.on else None
    setups = set_up_of(workshop, kept, row, found)
    frame = Feature.FRAME in machine.features
    return cheapest_order(
        found.plan,
        {each.key: setups[each.key] for each in found.left},
        takes=changes_here(workshop, row.machine_id),
        now=on_machine_now(workshop, row.machine_id),
        begun=begun,
        zones=zones_of(found.plan.height, machine.throat_in) if frame else 1,
        rolled=frame,
    )


def _text(found: PlanAsIs, hours: Likely, wound: int) -> str:
    if not found.left:
        return "Every pass is done."
    wind = f", {so_many(wound, 'bobbin')}" if wound else ""
    left = "left" if any(found.shares.values()) else "in all"
    return f"{in_hours(hours.likely)}{wind} {left}. Most likely {hours_range(hours.low, hours.high)}."


def _finished_says(found: PlanAsIs) -> str:
    done, takes = found.finished, {each.key: each.hours.likely for each in found.takes.passes}
    if done is None:
        return ""
    off = done.hours / sum(takes[key] for key, s in found.states.items() if s.stage is PassStage.DONE) - 1
    way = "as planned" if abs(off) < 0.05 else f"{abs(off):.0%} {'longer' if off > 0 else 'less'} than planned"
    return f"It took {in_hours(done.hours)}, {way}. The next plan goes by that."


def _pass_items(workshop: Workshop, row: RecordRow, found: PlanAsIs, order: Ordered) -> Sequence[PassItem]:
    plan = found.plan
    specs = workshop.drawer.specs(set(plan.threads_named))
    gone = workshop.drawer.struck_threads(plan.threads_named)
    machines = {each.id: each.spec for each in workshop.machines()}
    places = {key: n for n, key in enumerate(order.keys)}
    items = []
    for each, takes in zip(plan.passes, found.takes.passes, strict=True):
        place, key = places.get(each.key), each.key
        change = order.changes[place] if place is not None else None
        top, below = (specs.get(number) if number else None for number in (each.top, each.below))
        lost = next((specs[n].name for n in (each.top, each.below) if n in gone and n in specs), "")
        used = found.sewn[key]
        machine = machines.get(each.machine or row.machine_id)
        problem = ""
        if place is not None and lost:
            problem = f"{lost} was deleted from the drawer. Restore it or choose another."
        elif place is not None and (machine is None or machine.retired):
            problem = f"{machine.nickname if machine else 'Its machine'} is retired. Choose another machine."
        share = found.shares[key]
        needle = found.needles.get(key)
        items.append(
            PassItem(
                key=key,
                words=each.words,
                stage=found.states[key].stage,
                share=share,
                place=None if place is None else place + 1,
                stitched_m=takes.stitched_m,
                thread_m=takes.thread_m,
                bobbins=takes.bobbins,
                to_wind=takes.to_wind,
                hours=takes.hours,
                needles=takes.needles,
                top=top.name if top else "",
                top_color=top.color if top else "",
                below=below.name if below else "",
                needle=needle.words if needle else "",
                machine=machine.nickname if machine else "",
                change_minutes=change.minutes if change else 0,
                change=change.what if change else (),
                taken_as_usual=takes.taken_as_usual,
                way=on_the_way(takes.bobbins, used.bobbins, share) if takes.bobbins and 0 < share < 1 else None,
                hours_sewn=used.minutes / 60,
                bobbins_used=used.bobbins,
                problem=problem,
            )
        )
    return items


def _threads(workshop: Workshop, kept: AnswerCache, found: PlanAsIs) -> Sequence[ThreadOfPlan]:
    needs = threads_needed(found)
    specs, left = workshop.drawer.specs(set(needs)), stocks(workshop, kept, needs)
    return [
        ThreadOfPlan(
            id=number,
            name=specs[number].name,
            color=specs[number].color,
            needs_m=need,
            stock=left.get(number),
            lasts=lasts(need, left.get(number), specs[number].length_m),
            price=_price(specs[number], need.likely),
        )
        for number, need in needs.items()
        if number in specs
    ]


def _price(owned: DrawerThread, meters: float) -> float | None:
    """Return what so much of a thread costs; ``None`` where its label does not say."""
    if owned.price is None or owned.length_m is None:
        return None
    return owned.price * meters / owned.length_m


def _cost(threads: Sequence[ThreadOfPlan]) -> float | None:
    prices = [each.price for each in threads if each.price is not None]
    return sum(prices) if prices else None


def _evenings(
    workshop: Workshop, row: RecordRow, found: PlanAsIs, order: Ordered, passes: Sequence[PassItem]
) -> list[Evening]:
    plan, items = found.plan, {each.key: each for each in passes}
    setup = workshop.setup(row.machine_id)
    on = time_on(workshop, row.machine_id, setup)
    work = [
        ToSew(
            key=key,
            words=items[key].words,
            hours=items[key].hours.likely * (1 - items[key].share),
            bobbins=b.likely * (1 - items[key].share) if (b := items[key].bobbins) else None,
            change_minutes=items[key].change_minutes,
            change=items[key].change,
            top=items[key].top,
            needle=items[key].needle,
            below=items[key].below,
            done=items[key].share,
            life_h=found.facts[key].life_h,
        )
        for key in order.keys
    ]
    takes = changes_here(workshop, row.machine_id).with_typed(plan.minutes)
    clean = min((found.facts[key].clean_h for key in order.keys), default=OIL_AFTER.value)
    return evenings(
        work,
        each_h=plan.evening_h,
        days=plan.days,
        starts=plan.starts,
        hours=Hours(
            needle=on.needle_hours,
            oil=on.hours_since(UpkeepKind.OILING) or 0,
            clean=on.hours_since(UpkeepKind.CLEANING) or 0,
        ),
        every=Every(oil=OIL_AFTER.value, clean=clean, clean_min=takes.cleaning),
    )
