"""The Needle station: which needle, the one that is in and its hours, and the needles in the drawer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import count

from weftonos.core.evidence.survival import restricted_mean
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import LifeSchool
from weftonos.core.needle.fit_distance import FitDistance, fit_distance, fit_distances, said_of_the_one_in
from weftonos.core.needle.fitting import RoomAdvice, RoomTrouble, fitting_steps, room_advice
from weftonos.core.needle.groove_fit import Fit, fit_of
from weftonos.core.needle.life import (
    LIFE_SCHOOLS,
    HourCost,
    NeedleLife,
    OwnLife,
    RetireReason,
    cost_per_hour,
    own_life,
    own_life_words,
)
from weftonos.core.needle.makers_needle import MakersNeedle, led_by_maker, makers_needle
from weftonos.core.needle.needle import NeedleFinish, NeedleKind, Point
from weftonos.core.needle.packet import NeedlePacket, why_not_this_system
from weftonos.core.needle.packet_label import PacketRead, read_packet
from weftonos.core.needle.pairing import Pairing, pair_needle
from weftonos.core.setup.events import LONGEST_SLOT, NeedleFitted, NeedleRetired, SandwichLaid
from weftonos.core.setup.setup import Setup
from weftonos.learned.entries import Noted, noted
from weftonos.learned.own_records import life_of, needle_spans, schools_here
from weftonos.learned.time_on import time_on
from weftonos.store.workshop import Workshop


@dataclass(frozen=True)
class LifeSchoolWord:
    """A school of needle life, in a sentence."""

    value: LifeSchool
    text: str


@dataclass(frozen=True, kw_only=True)
class NeedleStation:
    """The pairing for what is threaded (none without a top thread), and everything about the needle that is in.

    ``one_in`` says whether to go on with the needle that is in; ``maker`` is the needle that the maker of the thread
    names, where it is noted.
    """

    setup: Setup
    pairing: Pairing | None
    fitted_fit: Fit | None
    one_in: str
    distances: Mapping[Point, Mapping[int, FitDistance]]
    other_system: str
    room: Sequence[RoomAdvice]
    life: NeedleLife | None
    life_school: LifeSchool
    life_schools: Sequence[LifeSchoolWord]
    steps: Sequence[str]
    maker: MakersNeedle | None


def needle_station(workshop: Workshop, machine_id: int) -> NeedleStation:
    """Answer which needle, how the one that is in fits, and how long it has been there."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    top = setup.top_bundle
    pairing, fit, one_in, room, maker = None, None, "", [], None
    life = life_of(workshop, machine_id, setup, time_on(workshop, machine_id, setup))
    if top is not None:
        schools, named = schools_here(workshop, machine_id), named_by_maker(workshop, setup)
        ours = pair_needle(
            machine.kind,
            machine.size_school,
            top,
            bobbin=setup.bobbin_thread,
            sandwich=setup.sandwich,
            schools=schools,
        )
        pairing = led_by_maker(machine.kind, ours, top, named, schools)
        # Where the maker's leads, its reason says what ours would be.
        maker = makers_needle(machine.kind, ours, top, named) if pairing is ours else None
    if top is not None and setup.needle:
        fit = fit_of(top, setup.needle.size, setup.needle.point)
        if pairing is not None and pairing.through_a_needle:
            size, point, due = setup.needle.size, setup.needle.point, life is not None and life.is_due
            judged = fit_distance(machine.kind, pairing, top, size, point)
            one_in = said_of_the_one_in(judged, size, point, advised=pairing.recommended, due=due)
        room = [room_advice(t, top, setup.needle.size, setup.needle.point) for t in RoomTrouble]
    return NeedleStation(
        setup=setup,
        pairing=pairing,
        fitted_fit=fit,
        one_in=one_in,
        distances=fit_distances(machine.kind, pairing, top) if top and pairing and pairing.through_a_needle else {},
        other_system=why_not_this_system(machine.needle_system, setup.needle.system, machine.nickname)
        if setup.needle
        else "",
        room=room,
        life=life,
        life_school=machine.life_school,
        life_schools=[LifeSchoolWord(school, text) for school, text in LIFE_SCHOOLS.items()],
        steps=fitting_steps(machine.takes_shank),
        maker=maker,
    )


def named_by_maker(workshop: Workshop, setup: Setup) -> str:
    """Return the needle that the maker of the thread on top names; empty for none, and for several threads."""
    if len(setup.top) != 1:
        return ""
    owned = workshop.drawer.specs([setup.top[0].id]).get(setup.top[0].id)
    return owned.needle_named if owned else ""


@dataclass(frozen=True, kw_only=True)
class Fitting:
    """The needle that was fitted, out of which packet, and when if not now."""

    metric: int
    american: int
    point: Point
    finish: NeedleFinish = NeedleFinish.STEEL
    note: str = ""
    system: str = ""
    packet: int | None = None
    slot: str = ""
    at: datetime | None = None


def fit_needle(workshop: Workshop, machine_id: int, fitting: Fitting, now: datetime) -> Noted:
    """Record the needle that was fitted; out of a packet it has the packet's finish, out of a slot all it was."""
    if fitting.slot:
        return _refit_needle(workshop, machine_id, fitting, now)
    finish = fitting.finish
    if fitting.packet is not None:
        finish = {row.id: row.spec.finish for row, _ in workshop.drawer.packets()}.get(fitting.packet, finish)
    fitted = NeedleFitted(
        metric=fitting.metric,
        american=fitting.american,
        point=fitting.point,
        finish=finish,
        note=fitting.note,
        system=fitting.system,
        packet=fitting.packet,
    )
    return noted(workshop, workshop.note(machine_id, fitted, fitting.at or now, now))


def _refit_needle(workshop: Workshop, machine_id: int, fitting: Fitting, now: datetime) -> Noted:
    workshop.machine(machine_id)
    waiting = workshop.runs.needles(machine_id).slots.get(fitting.slot)
    if waiting is None:
        raise CraftError(f"No needle of this machine waits in slot {fitting.slot}.", "slot")
    again = replace(waiting.fitted, slot=fitting.slot, note=fitting.note, packet=None)
    return noted(workshop, workshop.note(machine_id, again, fitting.at or now, now))


@dataclass(frozen=True, kw_only=True)
class Slotted:
    """A part-used needle that waits in a slot, with its stitched hours."""

    slot: str
    needle: str
    hours: float
    metric: int
    point: Point
    finish: NeedleFinish


def _slotted(workshop: Workshop, machine_id: int) -> list[Slotted]:
    return [
        Slotted(
            slot=slot,
            needle=f"{used.fitted.size} {used.fitted.point.value}",
            hours=used.hours,
            metric=used.fitted.metric,
            point=used.fitted.point,
            finish=used.fitted.finish,
        )
        for slot, used in sorted(workshop.runs.needles(machine_id).slots.items(), key=lambda each: in_order(each[0]))
    ]


def in_order(slot: str) -> tuple[int, str]:
    """Return what slots are sorted by: numbers as numbers, names after them."""
    return (int(slot), "") if slot.isdecimal() else (10**LONGEST_SLOT, slot)


@dataclass(frozen=True, kw_only=True)
class Retiring:
    """Why the needle came out, the slot it waits in if it is still good, and when if not now."""

    why: RetireReason
    note: str = ""
    slot: str = ""
    at: datetime | None = None


def retire_needle(workshop: Workshop, machine_id: int, retiring: Retiring, now: datetime) -> Noted:
    """Record that the needle came out."""
    workshop.machine(machine_id)
    if workshop.setup(machine_id).needle is None:
        raise CraftError("No needle is on record in this machine.", "why")
    taken = workshop.runs.needles(machine_id).slots
    if retiring.slot in taken:
        there = taken[retiring.slot].fitted
        raise CraftError(
            f"Slot {retiring.slot} holds a {there.size} {there.point.value} already. Choose another.", "slot"
        )
    retired = NeedleRetired(retiring.why, retiring.note, retiring.slot)
    return noted(workshop, workshop.note(machine_id, retired, retiring.at or now, now))


def lay_sandwich(workshop: Workshop, machine_id: int, sandwich: Sandwich, now: datetime) -> Noted:
    """Record what is under the needle."""
    return noted(workshop, workshop.note(machine_id, SandwichLaid(sandwich), now, now))


@dataclass(frozen=True, kw_only=True)
class PacketItem:
    """A packet of needles: how many are left, whether this machine takes them, and what an hour of one costs."""

    id: int
    spec: NeedlePacket
    left: int
    fits: bool
    why_not: str
    cost: HourCost | None


@dataclass(frozen=True, kw_only=True)
class Taker:
    """A machine, and why it does not take a packet's needles; empty where it does or nobody knows."""

    machine: int
    nickname: str
    why_not: str


@dataclass(frozen=True)
class PacketHeard:
    """A packet's line as read, and what each machine makes of its system."""

    read: PacketRead
    takers: Sequence[Taker]


def packet_heard(workshop: Workshop, line: str) -> PacketHeard:
    """Read what is printed on a packet, and say which of the workshop's machines take it."""
    read = read_packet(line)
    takers = [
        Taker(
            machine=row.id,
            nickname=row.spec.nickname,
            why_not=why_not_this_system(row.spec.needle_system, read.system, row.spec.nickname),
        )
        for row in workshop.machines()
    ]
    return PacketHeard(read, takers)


@dataclass(frozen=True, kw_only=True)
class OwnKind:
    """What a machine's needles of one kind lasted, and that in words."""

    words: str
    finish: NeedleFinish
    life: OwnLife
    says: str


@dataclass(frozen=True, kw_only=True)
class NeedleDrawer:
    """The needles in the drawer as one machine sees them, and what its own needles lasted, like beside like.

    ``slots`` are its part-used needles, ``free_slot`` the first number that holds none.
    """

    packets: Sequence[PacketItem]
    own: Sequence[OwnKind]
    slots: Sequence[Slotted]
    free_slot: str


def needle_drawer(workshop: Workshop, machine_id: int) -> NeedleDrawer:
    """List the needles in the drawer, for this machine."""
    machine = workshop.machine(machine_id).spec
    spans = needle_spans(workshop, machine_id)
    own = {kind: own_life(mine) for kind, mine in spans.items()}
    items = []
    for row, left in workshop.drawer.packets():
        why_not = why_not_this_system(machine.needle_system, row.spec.system, machine.nickname)
        price = row.spec.price
        kind = NeedleKind.like(row.spec)
        mean = restricted_mean(spans.get(kind, ()))
        cost = (
            cost_per_hour(price, row.spec.finish, own.get(kind), machine.life_school, mean)
            if price is not None
            else None
        )
        items.append(PacketItem(id=row.id, spec=row.spec, left=left, fits=not why_not, why_not=why_not, cost=cost))
    items.sort(key=lambda item: not item.fits)
    lasted = [
        OwnKind(words=kind.words, finish=kind.finish, life=life, says=own_life_words(life))
        for kind, life in sorted(own.items())
    ]
    slots = _slotted(workshop, machine_id)
    taken = {each.slot for each in slots}
    free = next(name for number in count(1) if (name := str(number)) not in taken)
    return NeedleDrawer(packets=items, own=lasted, slots=slots, free_slot=free)
