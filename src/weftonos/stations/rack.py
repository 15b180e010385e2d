"""The rack: cases and bobbins, each case's chart, and their printed labels."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.bobbin.conditions import Effect, effects
from weftonos.core.bobbin.control_chart import SESSIONS_DRAWN, ControlChart, control_chart
from weftonos.core.bobbin.events import Part
from weftonos.core.bobbin.gauge import read_gauge
from weftonos.core.bobbin.rack import Bobbin, BobbinCase
from weftonos.core.bobbin.screw import ScrewResponse, learn_response
from weftonos.core.bobbin.verdict import verdict_in_words
from weftonos.core.kernel.spoken import pull_range
from weftonos.core.setup.case_choice import learned_turns, turns_on_label, why_not
from weftonos.core.setup.setup import Setup
from weftonos.exchange.labels import bobbin_card, case_label
from weftonos.exchange.marks import Sheet
from weftonos.learned.bobbins import of_its_case
from weftonos.learned.own_records import read_under
from weftonos.store.models import CaseRow
from weftonos.store.workshop import Workshop

#: How far back a case's screw is learned from for the list.
LISTED_EVENTS = 60


@dataclass(frozen=True, kw_only=True)
class CaseItem:
    """A case: its last reading and age, what is in it, how its screw answers, what was found on it.

    ``in_machine`` where it is sewn from now; ``can_go_back`` where it came out with its bobbin and can go in again.
    """

    id: int
    version: int
    machine_id: int | None
    spec: BobbinCase
    words: str
    fault: str
    last_mn: float | None
    last_at: datetime | None
    holds: str
    in_machine: bool
    can_go_back: bool
    response: ScrewResponse


@dataclass(frozen=True, kw_only=True)
class BobbinItem:
    """A bobbin of the rack, its thread in words, what was found on it, and what speaks against each case for it."""

    id: int
    spec: Bobbin
    thread: str
    color: str
    fault: str
    against: Mapping[int, str]


@dataclass(frozen=True)
class RackItems:
    """A machine's cases, and every bobbin."""

    cases: Sequence[CaseItem]
    bobbins: Sequence[BobbinItem]


def _case_items(
    workshop: Workshop, rows: Sequence[CaseRow], setup: Setup | None, faults: Mapping[tuple[Part, int], str]
) -> list[CaseItem]:
    numbers = [row.id for row in rows]
    histories, left = workshop.rack.histories(numbers, LISTED_EVENTS), workshop.rack.cases_left(numbers)
    threads = workshop.drawer.specs(load.bobbin for load in left.values())

    def item(row: CaseRow) -> CaseItem:
        last = histories[row.id].readings[-1] if histories[row.id].readings else None
        inside = threads.get(left[row.id].bobbin) if row.id in left else None
        fault = faults.get((Part.CASE, row.id), "")
        in_machine = bool(setup and setup.case and setup.case.id == row.id)
        return CaseItem(
            id=row.id,
            version=row.version,
            machine_id=row.machine_id,
            spec=row.spec,
            words=row.spec.words,
            fault=fault,
            last_mn=last[1].mean_mn if last else None,
            last_at=last[0] if last else None,
            holds=inside.name if inside else "",
            in_machine=in_machine,
            can_go_back=row.id in left and setup is not None and not in_machine and not fault,
            response=learn_response(histories[row.id].turns),
        )

    return [item(row) for row in rows]


def rack_items(workshop: Workshop, machine_id: int) -> RackItems:
    """List the cases of a machine, and the bobbins."""
    workshop.machine(machine_id)
    faults, setup = workshop.rack.faults(), workshop.setup(machine_id)
    rows = workshop.rack.cases(machine_id)
    cases = workshop.rack.known_cases(machine_id)
    bobbins = workshop.rack.bobbins()
    threads = workshop.drawer.specs(row.thread_id for row in bobbins)
    items = []
    for row in bobbins:
        thread = threads.get(row.thread_id)
        words = thread.in_full if thread else f"thread {row.thread_id}"
        fault = faults.get((Part.BOBBIN, row.id), "")
        color = thread.color if thread else "#888888"
        against = {c.id: why for c in cases if thread and (why := why_not(c, thread.thread))}
        items.append(BobbinItem(id=row.id, spec=row.spec, thread=words, color=color, fault=fault, against=against))
    return RackItems(_case_items(workshop, rows, setup, faults), items)


def _one_case(workshop: Workshop, row: CaseRow) -> CaseItem:
    setup = workshop.setup(row.machine_id) if row.machine_id else None
    return _case_items(workshop, [row], setup, workshop.rack.faults())[0]


def add_case(workshop: Workshop, machine_id: int, spec: BobbinCase) -> CaseItem:
    """Put a case on the rack."""
    workshop.machine(machine_id)
    return _one_case(workshop, workshop.rack.add_case(machine_id, spec))


def change_case(workshop: Workshop, case_id: int, spec: BobbinCase, seen: int | None = None) -> CaseItem:
    """Describe a case anew."""
    return _one_case(workshop, workshop.rack.change_case(case_id, spec, seen))


def add_bobbin(workshop: Workshop, spec: Bobbin) -> int:
    """Put a bobbin on the rack; returns its id."""
    workshop.drawer.usable_thread(spec.thread, "thread")
    return workshop.rack.add_bobbin(spec).id


@dataclass(frozen=True)
class CaseChart:
    """The mean-and-range chart of a case since its screw was last turned, with the day of each point.

    ``says`` is its last reading and the chart in one sentence; ``conditions`` what ways of reading do to it.
    """

    chart: ControlChart
    days: Sequence[datetime]
    says: str
    conditions: Sequence[Effect]


def case_chart(workshop: Workshop, case_id: int) -> CaseChart:
    """Chart a case's readings since its screw was last turned."""
    row = workshop.rack.case(case_id)
    history = workshop.rack.history(case_id)
    sessions = history.since_screw[-SESSIONS_DRAWN:]
    drawn = control_chart([reading.means_mn for _, reading in sessions])
    says = ""
    if sessions and row.machine_id:
        last = sessions[-1][1]
        target = workshop.bobbin_target(row.machine_id, case_id)
        says = verdict_in_words(
            read_gauge(last.unit, last.pulls, target, history.turns, correction=last.correction), drawn
        )
    return CaseChart(drawn, [sessions[i][0] for i in drawn.used], says, effects(read_under(workshop, case_id)))


def label_sheet(workshop: Workshop, case_id: int, opened_at: str = "") -> Sheet:
    """Lay out a case's label, true to size; ``opened_at`` is where a tablet opens the workshop, if anywhere."""
    row = workshop.rack.case(case_id)
    target = workshop.ordinary_target(row.machine_id, case_id) if row.machine_id and not row.struck_at else None
    machine = workshop.machine(row.machine_id).spec.nickname if row.machine_id else ""
    says = pull_range(target.low, target.high) if target else "your usual tension"
    at = f"{opened_at}{row.machine_id}/bobbin?part=rack" if opened_at and row.machine_id else ""
    return case_label(row.spec.label, row.spec.kept_for, says, machine, address=at, turns=_turns(workshop, row))


def _turns(workshop: Workshop, row: CaseRow) -> list[str]:
    """Return the learned turns between threads in a case, as its label says them."""
    if not row.machine_id:
        return []
    rack = workshop.rack
    turns = learned_turns(of_its_case(workshop, row.machine_id), row.id, rack.one_thread())
    threads = workshop.drawer.specs({number for pair in turns for number in pair})
    return turns_on_label(turns, {number: owned.name for number, owned in threads.items()})


def card_sheet(workshop: Workshop, bobbin_id: int) -> Sheet:
    """Lay out a bobbin's card, true to size."""
    spec = workshop.rack.bobbin(bobbin_id).spec
    thread = workshop.drawer.specs([spec.thread]).get(spec.thread)
    facts = (
        thread.words if thread else "",
        f"class {spec.bobbin_class}, {spec.winding.value.replace('_', '-')}",
        # How it was wound stays true after it was sewn from; how full it is does not.
        f"wound to {spec.fill:.0%}" if spec.fill < 1 else "",
    )
    return bobbin_card(spec.label, thread.name if thread else "", [fact for fact in facts if fact])
