"""What to buy for all planned quilts, and what was bought put into the drawer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.kernel.errors import CraftError
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.plan.cones import ConeNoted, ConeSays, lasts
from weftonos.core.plan.expected import NOTHING, Likely
from weftonos.core.plan.shopping import NeedleNeed, ShoppingItem, ThreadNeed, ToBuy, needs_of, shopping_list
from weftonos.learned.answer_cache import AnswerCache
from weftonos.learned.quilt_plans import (
    PlanAsIs,
    plan_rows,
    plans_as_they_are,
    stocks,
)
from weftonos.store.workshop import Workshop


def threads_needed(found: PlanAsIs) -> Mapping[int, Likely]:
    """Return what is still needed of each thread, in m."""
    needs: dict[int, Likely] = {}
    for each, takes in zip(found.plan.passes, found.takes.passes, strict=True):
        if found.states[each.key].over:
            continue
        for number in (each.top, each.below):
            if number is not None:
                needs[number] = needs.get(number, NOTHING) + takes.thread_m.times(1 - found.shares[each.key])
    return needs


def shopping(workshop: Workshop, kept: AnswerCache) -> list[ShoppingItem]:
    """Return what to buy for all planned quilts."""
    found_all = plans_as_they_are(workshop, kept, plan_rows(workshop))
    needs: dict[int, tuple[Likely, list[str]]] = {}
    uses: list[tuple[str, NeedleSize, Point, int]] = []
    for found in (each for each in found_all if each.left):
        for number, need in threads_needed(found).items():
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


def tick_off(workshop: Workshop, machine_id: int, bought: Bought, now: datetime) -> list[ShoppingItem]:
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
    # What is kept knows nothing of what was just written.
    return shopping(workshop, AnswerCache())
