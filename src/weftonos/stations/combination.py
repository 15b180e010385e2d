"""A new combination as a list of moves, and every thread of the drawer on one page for a machine."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass, replace
from datetime import datetime

from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.posterior import half_width
from weftonos.core.balance.starting_point import StartingPoint
from weftonos.core.balance.stitched import BalanceRecord
from weftonos.core.bobbin.purpose import PURPOSE_NAMES, Purpose, purpose_of
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.schools import Schools
from weftonos.core.needle.bundle_advice import BobbinWeight, bobbin_weight, goes_below
from weftonos.core.needle.makers_needle import led_by_maker
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.needle.packet import why_not_this_system
from weftonos.core.needle.pairing import Pairing, pair_needle, thicker_below
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.may_wait import MayWait
from weftonos.core.setup.setup import Setup, ThreadTag
from weftonos.core.thread.drawer import DrawerThread, Form
from weftonos.core.thread.guide import FULL_HOLES, holes_to_use, holes_tried
from weftonos.core.thread.handling import handling
from weftonos.core.thread.nature import Nature, together
from weftonos.core.thread.thread import Bundle
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.sheet import FROM_RECORDS, USUAL, SheetRow, thread_sheets
from weftonos.exchange.strip import Paper
from weftonos.learned.balance import start_for, stitched_here
from weftonos.learned.bobbins import bobbin_waits
from weftonos.learned.own_records import schools_here
from weftonos.store.workshop import Workshop

#: So many threads of the drawer are named for below.
MOST_BELOW = 3


@dataclass(frozen=True, kw_only=True)
class PlannedMove:
    """One thing to do for a new combination: what, how it is now, how it will be, and whether it is so already."""

    what: str
    before: str
    after: str
    note: str
    done: bool


@dataclass(frozen=True, kw_only=True)
class Plan:
    """What a thread or bundle wants on a machine, and the moves to it from what is on now, in working order."""

    name: str
    words: str
    color: str
    through_a_needle: bool
    needle: str
    below: str
    start: str
    holes: int | None
    handling: Sequence[str]
    moves: Sequence[PlannedMove]


@dataclass(frozen=True, kw_only=True)
class _Asked:
    """A machine and what its advice rests on, read once for many threads."""

    workshop: Workshop
    machine_id: int
    machine: Machine
    setup: Setup
    sandwich: Sandwich | None
    records: Sequence[BalanceRecord]
    waits: MayWait | None
    schools: Schools

    @classmethod
    def of(cls, workshop: Workshop, machine_id: int, sandwich: Sandwich | None) -> _Asked:
        machine, setup = workshop.machine(machine_id).spec, workshop.setup(machine_id)
        return cls(
            workshop=workshop,
            machine_id=machine_id,
            machine=machine,
            setup=setup,
            sandwich=sandwich or setup.sandwich,
            records=stitched_here(workshop, machine_id, another=True),
            waits=bobbin_waits(workshop, machine_id, setup),
            schools=schools_here(workshop, machine_id),
        )

    def pairing(self, owned: Sequence[DrawerThread]) -> Pairing:
        """Which needle for threads of the drawer."""
        top = Bundle.of([thread.thread for thread in owned])
        found = pair_needle(
            kind=self.machine.kind,
            school=self.machine.size_school,
            top=top,
            sandwich=self.sandwich or Sandwich(),
            schools=self.schools,
        )
        return led_by_maker(self.machine.kind, found, top, owned[0].needle_named, self.schools)

    def start(self, top: Sequence[tuple[int, DrawerThread]]) -> StartingPoint:
        """Where the top begins, with the bobbin as it is now: what Balance will say once these threads are on."""
        tags = tuple(ThreadTag.of(number, owned) for number, owned in top)
        planned = replace(self.setup, top=tags, sandwich=self.sandwich)
        if self.setup.bobbin_work and tags != self.setup.top:
            # The heavy thread comes out of the bobbin for it.
            planned = replace(planned, bobbin=None, bobbin_work=False, reading=None, felt=None)
        start = start_for(
            self.workshop,
            self.machine_id,
            setup=planned,
            motion=Motion.FREE_MOTION,
            waits=self.waits,
            # What is on already begins where it began: its own looks since then are not among those before it.
            records=None if planned == self.setup else self.records,
        )
        assert start is not None, "a thread is on top"
        return start

    def start_words(self, start: StartingPoint) -> str:
        """Where the top begins, in the machine's own terms; what to do first where nobody can say."""
        if start.known:
            return start.words(self.machine.scale)
        unread = self.machine.scale.in_gauge_numbers
        return "read the bobbin first" if unread and Feature.GAUGE in self.machine.features else "test both ends"

    def holes(self, top: Sequence[DrawerThread | ThreadTag]) -> int | None:
        """How many guide holes, where the machine has such a guide."""
        if Feature.HOLE_GUIDE not in self.machine.features:
            return None
        return holes_to_use(Bundle.of([t.thread for t in top]), holes_tried(top))

    def below(self, top: Bundle) -> BobbinWeight:
        """What goes below."""
        return bobbin_weight(self.machine.bobbin_school, top, self.schools)


def _handling(nature: Nature, has: Set[Feature]) -> list[str]:
    said = []
    if nature.pin == "horizontal":
        said.append("horizontal pin")
    if nature.net:
        said.append("a net on the spool")
    speed = (Feature.LONGARM in has and nature.speed_longarm) or nature.speed
    if speed != "as usual":
        said.append(speed)
    if nature.fill < 1:
        said.append(f"in the bobbin: wind slowly, {nature.fill:.0%} full")
    if nature.lint == "most":
        said.append("clean more often")
    return said


def plan(workshop: Workshop, machine_id: int, top: Sequence[int], sandwich: Sandwich | None) -> Plan:
    """Plan a combination: one to four threads of the drawer on top, over a sandwich (that under the needle)."""
    asked = _Asked.of(workshop, machine_id, sandwich)
    owned = [workshop.drawer.usable_thread(number, "top") for number in top]
    if not owned:
        raise CraftError("Choose the thread first.", "top")
    bundle, numbered = Bundle.of([thread.thread for thread in owned]), list(zip(top, owned, strict=True))
    nature, pairing = together(bundle.threads), asked.pairing(owned)
    best = pairing.recommended
    needle = f"{best.size} {best.point.value}" if pairing.through_a_needle else "none: bobbin work, or by hand"
    name = " + ".join(thread.name for thread in owned)
    moves = [
        PlannedMove(
            what="Top thread",
            before=" + ".join(t.name for t in asked.setup.top) or "not on record",
            after=name,
            note=", ".join(_handling(nature, asked.machine.features)),
            done=[t.id for t in asked.setup.top] == list(top),
        )
    ]
    if pairing.through_a_needle:
        moves.append(_needle_move(workshop, asked, best.size, best.point))
    moves.append(_bobbin_move(asked, bundle, workshop.drawer.all_threads()))
    purpose = purpose_of(None, asked.machine.number_school, bundle.threads, bobbin_work=not pairing.through_a_needle)
    now = workshop.purpose(machine_id)
    if purpose is not Purpose.ORDINARY or now is not Purpose.ORDINARY:
        moves.append(
            PlannedMove(
                what="The bobbin's number",
                before=PURPOSE_NAMES[now],
                after=PURPOSE_NAMES[purpose],
                note="only if there is trouble" if purpose is Purpose.DELICATE else "",
                done=now is purpose,
            )
        )
    if (holes := asked.holes(owned)) is not None:
        present = asked.holes(asked.setup.top) if asked.setup.top else None
        moves.append(
            PlannedMove(
                what="Guide holes",
                before=str(present) if present else "not on record",
                after=str(holes),
                note="by trial" if holes < FULL_HOLES else "",
                done=present == holes,
            )
        )
    if pairing.through_a_needle:
        moves.append(_start_move(asked, numbered))
    return Plan(
        name=name,
        words=" + ".join(thread.words for thread in owned),
        color=owned[0].color,
        through_a_needle=pairing.through_a_needle,
        needle=needle,
        below=asked.below(bundle).text,
        start=asked.start_words(asked.start(numbered)) if pairing.through_a_needle else "–",
        holes=holes,
        handling=[each.text for each in handling(nature, asked.machine.features)],
        moves=moves,
    )


def _needle_move(workshop: Workshop, asked: _Asked, size: NeedleSize, point: Point) -> PlannedMove:
    needle = asked.setup.needle
    left = sum(
        count
        for row, count in workshop.drawer.packets()
        if row.spec.size == size
        and row.spec.point is point
        and not why_not_this_system(asked.machine.needle_system, row.spec.system, asked.machine.nickname)
    )
    done = needle is not None and (needle.size, needle.point) == (size, point)
    stock = f"{left} in the drawer" if left else "none in the drawer: to buy"
    return PlannedMove(
        what="Needle",
        before=needle.words if needle else "not on record",
        after=f"{size} {point.value}",
        note="" if done else stock,
        done=done,
    )


def _bobbin_move(asked: _Asked, top: Bundle, drawer: Sequence[tuple[int, DrawerThread]]) -> PlannedMove:
    advised, present = asked.below(top), asked.setup.bobbin
    heavy = present is not None and (advised.serves(present.thread) or present.thread.density.wt >= advised.heaviest_wt)
    fits = present is not None and heavy and not thicker_below(top, present.thread)
    schools = asked.schools
    # Pre-wound ones first where that is the school, last where it is not.
    pre = schools.takes("wound") == "pre"
    serving = [t for _, t in drawer if goes_below(advised, top, t, schools)]
    owned = [t.name for t in sorted(serving, key=lambda t: (t.form is Form.PRE_WOUND) is not pre)]
    after = present.name if fits and present else " or ".join(owned[:MOST_BELOW]) or "none in the drawer: to buy"
    return PlannedMove(
        what="Bobbin thread",
        before=present.name if present else "not on record",
        after=after,
        note=advised.text.split(". ")[0] + "." if not fits else "",
        done=fits,
    )


def _start_move(asked: _Asked, top: Sequence[tuple[int, DrawerThread]]) -> PlannedMove:
    scale, start = asked.machine.scale, asked.start(top)
    found = estimate_balance(scale, start.prior, [])
    knob = asked.setup.knob
    first, half = scale.snap(start.center), half_width(start.spread)
    return PlannedMove(
        what="Top tension",
        before=scale.stands(knob.setting) if knob else "not on record",
        after=asked.start_words(start),
        note=f"a start: stitch {scale.words(found.set_to)}, give or take {scale.width_in_words(half)}. {start.text}"
        if start.known
        else start.text,
        done=knob is not None and knob.setting == first,
    )


def sheet_rows(workshop: Workshop, machine_id: int) -> list[SheetRow]:
    """Return every thread of the drawer with what it wants on a machine, the finest first."""
    asked = _Asked.of(workshop, machine_id, None)
    rows = []
    drawer = workshop.drawer.all_threads()
    for number, owned in sorted(drawer, key=lambda t: (t[1].thread.density.tex, t[1].name)):
        top = Bundle.of([owned.thread])
        nature, pairing = together(top.threads), asked.pairing([owned])
        through, best = pairing.through_a_needle, pairing.recommended
        advised = asked.below(top)
        span = f"{advised.heaviest_wt:.0f} to {advised.finest_wt:.0f} wt"
        if abs(advised.finest_wt - advised.heaviest_wt) < 1:
            span = f"{advised.finest_wt:.0f} wt"
        holes, start = asked.holes([owned]), asked.start([(number, owned)])
        rows.append(
            SheetRow(
                name=owned.name,
                words=owned.words,
                color=owned.color,
                needle=f"{best.size} {best.point.value}" if through else "in the bobbin, or by hand",
                below=span if through else "itself",
                start=asked.start_words(start) if through else "–",
                start_from=(FROM_RECORDS if start.records else USUAL) if through and start.known else "",
                holes=str(holes) if through and holes is not None else "–",
                handling=", ".join(_handling(nature, asked.machine.features)),
            )
        )
    return rows


def printed_sheet(workshop: Workshop, machine_id: int, paper: Paper, *, now: datetime, zone: str) -> list[Sheet]:
    """Lay out every thread of the drawer for a machine, to hang beside it."""
    machine = workshop.machine(machine_id).spec
    under = workshop.setup(machine_id).sandwich or Sandwich()
    head = f"{machine.nickname}, {day_in_words(now, zone)}, over {under.batting or f'{under.loft.value} loft'}"
    return thread_sheets(head, sheet_rows(workshop, machine_id), paper)
