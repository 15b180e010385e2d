"""Plans of quilts: what each takes, the order that costs least, its evenings, what to buy, and where one is in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.spoken import day_in_words, in_hours, length, so_many
from weftonos.core.mend.upkeep import OIL_AFTER, UpkeepKind
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.plan.cones import ConeNoted, ConeSays, Lasts, Stock, lasts
from weftonos.core.plan.evenings import Evening, Every, Hours, ToSew, evenings
from weftonos.core.plan.expected import NOTHING, Likely
from weftonos.core.plan.order import Ordered, cheapest_order, zones_of
from weftonos.core.plan.passes import PassStage, PassStep, QuiltPlanned
from weftonos.core.plan.sewn import Finished
from weftonos.core.plan.shopping import NeedleNeed, ShoppingItem, ThreadNeed, ToBuy, needs_of, shopping_list
from weftonos.core.plan.takes import OnTheWay, on_the_way
from weftonos.core.setup.events import QuiltOn
from weftonos.core.thread.drawer import DrawerThread
from weftonos.exchange.calendar import CalendarEntry, to_ics
from weftonos.exchange.marks import Sheet
from weftonos.exchange.report import report
from weftonos.learned.entries import Noted, nickname, noted
from weftonos.learned.quilt_plans import (
    PlanAsIs,
    PlanCache,
    PlanNow,
    on_machine_now,
    plan_now,
    plan_rows,
    plans_as_they_are,
    set_up_of,
    stocks,
    what_plans_taught,
)
from weftonos.learned.time_on import time_on
from weftonos.store.models import RecordRow
from weftonos.store.versions import require_version
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


def plans(workshop: Workshop, kept: PlanCache) -> Sequence[PlanItem]:
    """List the plans, newest first."""
    rows = plan_rows(workshop)
    machines = {row.id: row for row in workshop.machines()}
    found = plans_as_they_are(workshop, kept, rows)
    return [
        PlanItem(
            id=row.id,
            quilt=each.plan.quilt,
            machine=nickname(machines[row.machine_id]) if row.machine_id in machines else "",
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


def plan_quilt(workshop: Workshop, machine_id: int, plan: QuiltPlanned, now: datetime) -> Noted:
    """Plan a quilt on a machine."""
    workshop.machine(machine_id)
    _check_start(plan, None, now)
    if workshop.plans.all(plan.quilt):
        raise CraftError(f"{plan.quilt} is planned already. Change that plan, or choose another name.", "quilt")
    return noted(workshop, workshop.note(machine_id, plan, now, now))


def _check_start(plan: QuiltPlanned, before: QuiltPlanned | None, now: datetime) -> None:
    """Refuse a first evening that has gone by, unless it stood there before."""
    known = before.starts if before else None
    if plan.starts and plan.starts != known and plan.starts < now.date():
        raise CraftError(f"{day_in_words(plan.starts)} has gone by. Choose today or later.", "starts")


def change_plan(workshop: Workshop, plan_id: int, plan: QuiltPlanned, now: datetime, seen: int | None = None) -> Noted:
    """Change a plan; what it said before stays in the log."""
    row = _row(workshop, plan_id)
    require_version(row, seen, "This plan", row.payload)
    assert isinstance(row.payload, QuiltPlanned)
    _check_start(plan, row.payload, now)
    return noted(workshop, workshop.correct(plan_id, plan, row.at, now, seen))


def _row(workshop: Workshop, plan_id: int) -> RecordRow:
    row = workshop.record(plan_id)
    if not isinstance(row.payload, QuiltPlanned):
        raise CraftError("That is no plan.", "plan")
    return row


@dataclass(frozen=True, kw_only=True)
class NewStep:
    """A pass is begun, so far, done, or left out."""

    key: int
    stage: PassStage
    share: float | None = None


def step(workshop: Workshop, plan_id: int, new: NewStep, now: datetime) -> Sequence[Noted]:
    """Note how far a pass is; begun, its quilt is on its machine."""
    row = _row(workshop, plan_id)
    plan = row.payload
    assert isinstance(plan, QuiltPlanned)
    each = plan.of(new.key)
    if each is None:
        raise CraftError("That pass is not in the plan.", "key")
    machine_id = each.machine or row.machine_id
    rows = []
    if new.stage is PassStage.BEGUN and workshop.setup(machine_id).quilt != plan.quilt:
        rows.append(workshop.note(machine_id, QuiltOn(quilt=plan.quilt), now, now))
    said = PassStep(plan=plan_id, key=new.key, stage=new.stage, share=new.share)
    rows.append(workshop.note(machine_id, said, now, now))
    return [noted(workshop, each) for each in rows]


def note_cone(workshop: Workshop, machine_id: int, cone: ConeNoted, now: datetime) -> Noted:
    """Note what is left on a cone, that one ended, or that some were bought."""
    return noted(workshop, workshop.note(machine_id, cone, now, now))


def now_on(workshop: Workshop, kept: PlanCache, machine_id: int) -> PlanNow | None:
    """Return where the quilt on a machine is in its plan."""
    workshop.machine(machine_id)
    return plan_now(workshop, kept, machine_id, workshop.setup(machine_id))


def plan_page(workshop: Workshop, kept: PlanCache, plan_id: int) -> PlanPage:
    """Say everything of a plan."""
    row = _row(workshop, plan_id)
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
        cleanings=sum(each.cleanings for each in found.takes.passes),
        oilings=sum(each.oilings for each in found.takes.passes),
        test_lines=sum("a test line" in change.what for change in order.changes),
        cost=_cost(threads),
        rests_on=found.takes.rests_on,
        text=_text(found, hours_left, bobbins_left),
        order=order,
        evenings=_evenings(workshop, row, found, order, passes),
        threads=threads,
        finished=found.finished,
        finished_says=_finished_says(found),
    )


def _order(workshop: Workshop, kept: PlanCache, row: RecordRow, found: PlanAsIs) -> Ordered:
    """Return the order that costs least for what is left; a pass that is begun is sewn to its end first."""
    machine = workshop.machine(row.machine_id).spec
    begun = found.on.key if found.on else None
    setups = set_up_of(workshop, kept, row, found)
    frame = Feature.FRAME in machine.features
    return cheapest_order(
        found.plan,
        {each.key: setups[each.key] for each in found.left},
        now=on_machine_now(workshop, row.machine_id),
        begun=begun,
        zones=zones_of(found.plan.height, machine.throat_in) if frame else 1,
        rolled=frame,
    )


def _text(found: PlanAsIs, hours: Likely, bobbins: Likely | None) -> str:
    if not found.left:
        return "Every pass is done."
    wind = f", {so_many(max(1, round(bobbins.likely)), 'bobbin')}" if bobbins else ""
    low, high = in_hours(hours.low).split()[0], in_hours(hours.high)
    left = "left" if any(found.shares.values()) else "in all"
    return f"{in_hours(hours.likely)}{wind} {left}. Most likely {low} to {high}."


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


def _needs(found: PlanAsIs) -> Mapping[int, Likely]:
    """Return what is still needed of each thread, in m."""
    needs: dict[int, Likely] = {}
    for each, takes in zip(found.plan.passes, found.takes.passes, strict=True):
        if found.states[each.key].over:
            continue
        for number in (each.top, each.below):
            if number is not None:
                needs[number] = needs.get(number, NOTHING) + takes.thread_m.times(1 - found.shares[each.key])
    return needs


def _threads(workshop: Workshop, kept: PlanCache, found: PlanAsIs) -> Sequence[ThreadOfPlan]:
    needs = _needs(found)
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
        every=Every(oil=OIL_AFTER.value, clean=clean),
    )


def _unfinished(workshop: Workshop, kept: PlanCache) -> list[PlanAsIs]:
    found = plans_as_they_are(workshop, kept, plan_rows(workshop))
    return [each for each in found if each.left]


def shopping(workshop: Workshop, kept: PlanCache) -> list[ShoppingItem]:
    """Return what to buy for all planned quilts."""
    unfinished = _unfinished(workshop, kept)
    needs: dict[int, tuple[Likely, list[str]]] = {}
    uses: list[tuple[str, NeedleSize, Point, int]] = []
    for found in unfinished:
        for number, need in _needs(found).items():
            before, quilts = needs.get(number, (NOTHING, []))
            needs[number] = (before + need, [*quilts, found.plan.quilt])
        uses += _needles(found)
    specs, left = workshop.drawer.specs(set(needs)), stocks(workshop, kept, needs)
    threads = [
        ThreadNeed(
            thread=number,
            name=specs[number].name,
            lasts=lasts(need, left.get(number), specs[number].length_m),
            price=specs[number].price,
            quilts=quilts,
        )
        for number, (need, quilts) in needs.items()
        if number in specs
    ]
    packets: dict[tuple[NeedleSize, Point], int] = {}
    for packet, count in workshop.drawer.packets():
        kind = (packet.spec.size, packet.spec.point)
        packets[kind] = packets.get(kind, 0) + count
    needles = [
        NeedleNeed(needle=size, point=point, needed=count, left=packets.get((size, point), 0), quilts=quilts)
        for (size, point), (count, quilts) in needs_of(uses).items()
    ]
    return shopping_list(threads, needles)


def _needles(found: PlanAsIs) -> list[tuple[str, NeedleSize, Point, int]]:
    """Return the needles that a plan still takes: one for each kind, and those that wear out on the way."""
    hours: dict[tuple[NeedleSize, Point], tuple[float, float | None]] = {}
    for each, takes in zip(found.plan.passes, found.takes.passes, strict=True):
        needle = found.needles.get(each.key)
        if needle is None or found.states[each.key].over:
            continue
        kind = (needle.size, needle.point)
        before, _ = hours.get(kind, (0.0, None))
        spent = takes.hours.likely * (1 - found.shares[each.key])
        hours[kind] = (before + spent, found.facts[each.key].life_h)
    return [
        (found.plan.quilt, size, point, 1 + int(spent / life) if life else 1)
        for (size, point), (spent, life) in hours.items()
    ]


@dataclass(frozen=True, kw_only=True)
class Bought:
    """A line of the list that was bought: cones of a thread, or needles with the system on their packet."""

    what: ToBuy
    count: int
    thread: int | None = None
    metric: int | None = None
    american: int | None = None
    point: Point | None = None
    lot: str = ""
    system: str = ""


def tick_off(workshop: Workshop, kept: PlanCache, machine_id: int, bought: Bought, now: datetime) -> list[ShoppingItem]:
    """Put what was bought into the drawer; the list is shorter by it."""
    if bought.what is ToBuy.THREAD:
        if bought.thread is None:
            raise CraftError("Say which thread was bought.", "thread")
        cone = ConeNoted(thread=bought.thread, says=ConeSays.NEW, cones=bought.count, lot=bought.lot)
        workshop.note(machine_id, cone, now, now)
    else:
        if not (bought.metric and bought.american and bought.point):
            raise CraftError("Say which needles were bought.", "metric")
        size = NeedleSize(bought.metric, bought.american)
        packet = NeedlePacket(
            metric=size.metric, american=size.american, point=bought.point, bought=bought.count, system=bought.system
        )
        workshop.drawer.add_packet(packet)
    return shopping(workshop, kept)


def plan_calendar(workshop: Workshop, kept: PlanCache, plan_id: int, now: datetime) -> str:
    """Return the evenings as iCalendar; raises :class:`CraftError` where no first evening is set."""
    page = plan_page(workshop, kept, plan_id)
    if page.plan.starts is None:
        raise CraftError("Choose the first evening. Then the calendar has days.", "starts")
    row = workshop.record(plan_id)
    entries = [
        CalendarEntry(
            uid=f"{row.uid}-{each.number}@weftonos",
            day=each.day or date.min,
            heading=f"{page.plan.quilt}: {', '.join(part.words for part in each.passes)}",
            lines=_evening_lines(each),
        )
        for each in page.evenings
    ]
    return to_ics(entries, now)


def _evening_lines(each: Evening) -> list[str]:
    sewing = [f"{part.words}: {part.from_share:.0%} to {part.to_share:.0%}" for part in each.passes]
    return [*each.before, *sewing, *each.after]


def printed_plan(workshop: Workshop, kept: PlanCache, plan_id: int) -> list[Sheet]:
    """Lay out a plan as one sheet to hang up."""
    page = plan_page(workshop, kept, plan_id)
    plan = page.plan
    bobbins = f"{page.bobbins.likely:.0f} ({page.bobbins.low:.0f} to {page.bobbins.high:.0f})" if page.bobbins else "–"
    numbers = [
        ("Machine", page.machine),
        ("Stitching", f"{length(page.stitched_m.likely)}, {page.text}"),
        ("Bobbins", bobbins),
        ("Thread", f"{length(page.thread_m.likely)} above, as much below"),
    ]
    by_key = {each.key: each for each in page.passes}
    order = [
        f"{n}. {by_key[key].words}: {by_key[key].top or 'thread open'} over {by_key[key].below or 'bobbin open'}, "
        f"{by_key[key].needle or 'needle open'}, {in_hours(by_key[key].hours.likely)}"
        for n, key in enumerate(page.order.keys, 1)
    ]
    nights = [
        f"□ {day_in_words(each.day) if each.day else f'Evening {each.number}'}: {'. '.join(_evening_lines(each))}"
        for each in page.evenings
    ]
    threads = [f"{each.name}: {length(each.needs_m.likely)}. {each.lasts.text}" for each in page.threads]
    sections = [("In this order", order), ("Evenings", nights), ("Threads", threads)]
    return report(f"{plan.quilt}, planned", page.rests_on, numbers, sections, page.order.text)
