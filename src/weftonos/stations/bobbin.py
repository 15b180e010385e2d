"""The Bobbin station: readings judged and kept, the screw, the hang test, the swap, the winding plan."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime

from weftonos.core.bobbin.conditions import Effect, effects, taken_otherwise
from weftonos.core.bobbin.control_chart import SESSIONS_DRAWN, control_chart
from weftonos.core.bobbin.events import (
    BobbinLook,
    BobbinReading,
    Feel,
    GaugeChecked,
    HandLook,
    Method,
    Part,
    PartMarked,
    ReadingConditions,
    ScrewTurned,
)
from weftonos.core.bobbin.gauge import POSSIBLE, GaugeAnswer, Pull, Verdict, read_gauge, unit_shown
from weftonos.core.bobbin.own_number import OwnNumber, range_about
from weftonos.core.bobbin.purpose import PURPOSE_NAMES, Purpose, PurposeSet, why_no_number
from weftonos.core.bobbin.target import BobbinTarget, usual_target
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.bobbin.verdict import verdict_in_words
from weftonos.core.bobbin.winding import WindingPlan, winding_plan
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.force import ForceUnit, from_mn, hanging_tension_mn, to_mn
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import NumberSchool
from weftonos.core.kernel.spoken import so_many
from weftonos.core.setup.case_choice import CaseAdvice, LearnedTurn
from weftonos.core.setup.events import BobbinLoaded, CasePutBack
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.may_wait import MayWait, OffByHand
from weftonos.core.setup.setup import Setup
from weftonos.core.setup.swap import TurnFirst
from weftonos.learned.bobbin_left import bobbin_class, holds_of
from weftonos.learned.bobbins import (
    bobbin_waits,
    case_for,
    felt_off,
    turn_before_pulling,
    turn_by_hand,
    worth_a_case,
)
from weftonos.learned.entries import LogEntry, Noted, log_entries, noted
from weftonos.learned.own_records import read_under
from weftonos.learned.practiced import hand_of, hand_words
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class BobbinStation:
    """What is loaded and what for, the range to be in, the machine's own number, the last reading judged.

    ``ordinary`` is the range for ordinary thread, ``target`` that for what the bobbin is set for; where there is none
    ``no_number`` says why. ``go_back`` asks to tighten again what was loosened for a thread that is off. ``conditions``
    is what full or not, flat or held, one fiber or another do to this case's readings, ``hand`` how many pulls whoever
    reads at this machine takes, known from practice. ``waits`` says why this bobbin may go unread, ``felt_off`` what
    to do about it if it felt off, ``turn_first`` how to turn the screw for another thread before the first pull and
    ``turn_by_hand`` the same where it is felt, ``second_case`` what a case of its own would spare, ``other_case`` which
    case is kept for this thread.
    """

    setup: Setup
    unit: ForceUnit | None
    purpose: Purpose
    number_school: NumberSchool
    target: BobbinTarget | None
    ordinary: BobbinTarget | None
    no_number: str
    go_back: str
    usual: BobbinTarget | None
    own: OwnNumber | None
    typed: BobbinTarget | None
    last: GaugeAnswer | None
    taken_otherwise: str
    conditions: Sequence[Effect]
    hand: str
    waits: MayWait | None
    felt_off: OffByHand | None
    turn_first: TurnFirst | None
    turn_by_hand: LearnedTurn | None
    second_case: str
    other_case: CaseAdvice | None
    turned: str
    recent: Sequence[LogEntry]


@dataclass(frozen=True, kw_only=True)
class Pulls:
    """Pulls in the gauge's unit, of which case, by which method, under what, and when if not now.

    ``unit`` left out is the machine's, or what the size of the numbers shows where that is not known yet.
    """

    unit: ForceUnit | None = None
    pulls: list[Pull]
    note: str = ""
    case: int | None = None
    method: Method = Method.GAUGE
    conditions: ReadingConditions = field(default_factory=ReadingConditions)
    at: datetime | None = None


def _unit_of(workshop: Workshop, machine_id: int, pulls: Pulls) -> ForceUnit:
    return pulls.unit or workshop.machine(machine_id).spec.gauge_unit or unit_shown(pulls.pulls)


def _correction(workshop: Workshop, machine_id: int, method: Method) -> float:
    """Return what a pull by this method is multiplied by; a weighed hang test needs no gauge."""
    if method is Method.HANG:
        return 1.0
    newest = workshop.log(LogSearch(machine=machine_id, kinds=[GaugeChecked.kind], limit=1, unstruck=True)).items
    checked = newest[0].payload if newest else None
    return checked.factor if isinstance(checked, GaugeChecked) else 1.0


def _answer(workshop: Workshop, machine_id: int, pulls: Pulls, *, kept: BobbinReading | None = None) -> GaugeAnswer:
    """Judge pulls of a case by target, screw and chart, in one sentence; those ``kept`` are on the chart."""
    if not kept and pulls.case is not None and not workshop.rack.specs([pulls.case]):
        raise CraftError("That bobbin case is not on the rack. Choose another.", "case")
    target = workshop.bobbin_target(machine_id, pulls.case)
    history = workshop.rack.history_in(machine_id, pulls.case)
    unit = _unit_of(workshop, machine_id, pulls)
    correction = kept.correction if kept else _correction(workshop, machine_id, pulls.method)
    answer = read_gauge(unit, pulls.pulls, target, history.turns, correction=correction)
    sessions = [reading.means_mn for _, reading in history.since_screw[-SESSIONS_DRAWN:]]
    if not kept:
        sessions.append([to_mn(pull.mean, unit) * correction for pull in pulls.pulls])
    return replace(answer, text=verdict_in_words(answer, control_chart(sessions)))


def bobbin_station(workshop: Workshop, machine_id: int) -> BobbinStation:
    """Say what the bobbin should read and what it read lately."""
    machine = workshop.machine(machine_id).spec
    setup = workshop.setup(machine_id)
    case = setup.case.id if setup.case else None
    kept, last, otherwise = workshop.present(machine_id).in_force.reading, None, ""
    under = read_under(workshop, case) if case is not None else ()
    if kept and isinstance(reading := kept.payload, BobbinReading):
        last = _answer(
            workshop,
            machine_id,
            Pulls(unit=reading.unit, pulls=list(reading.pulls), case=reading.case),
            kept=reading,
        )
        otherwise = taken_otherwise(reading.conditions, [each.conditions for each in under])
    waits = bobbin_waits(workshop, machine_id, setup)
    first, by_hand = turn_before_pulling(workshop, machine_id, setup), turn_by_hand(workshop, machine_id, setup)
    other = case_for(workshop, machine_id, setup)
    target, purpose = workshop.bobbin_target(machine_id, case), workshop.purpose(machine_id)
    recent = workshop.log(LogSearch(machine=machine_id, kinds=[BobbinReading.kind], limit=8)).items
    return BobbinStation(
        setup=setup,
        unit=machine.gauge_unit,
        purpose=purpose,
        number_school=machine.number_school,
        target=target,
        ordinary=workshop.ordinary_target(machine_id, case),
        no_number=_no_number(machine, purpose) if target is None else "",
        go_back=_go_back(workshop, machine_id, purpose, last),
        usual=usual_target(machine.kind, machine.throat_in),
        own=workshop.own_number(machine_id),
        typed=machine.own_bobbin,
        last=last,
        taken_otherwise=otherwise,
        conditions=effects(under),
        hand=hand_words(machine.reader, hand_of(workshop, machine.reader)) if machine.reader else "",
        waits=waits,
        felt_off=felt_off(workshop, machine_id, setup),
        turn_first=first,
        turn_by_hand=by_hand,
        second_case=worth_a_case(workshop, machine_id) if (first or by_hand) and not (other and other.case) else "",
        other_case=other,
        turned="" if setup.reading or setup.felt or waits else _just_turned(workshop, machine_id),
        recent=log_entries(workshop, recent),
    )


def _no_number(machine: Machine, purpose: Purpose) -> str:
    if Feature.GAUGE not in machine.features:
        return ""
    return why_no_number(purpose, ask_throat=machine.throat_in is None and Feature.LONGARM in machine.features)


#: What ends the state of a screw that was turned and not checked, or begins another bobbin.
_AFTER_A_TURN = (ScrewTurned.kind, BobbinReading.kind, BobbinLook.kind, BobbinLoaded.kind, CasePutBack.kind)


def _just_turned(workshop: Workshop, machine_id: int) -> str:
    """Say which turn waits for its next pull; empty where the last thing done to the bobbin was no turn."""
    newest = workshop.log(LogSearch(machine=machine_id, kinds=_AFTER_A_TURN, limit=1, unstruck=True)).items
    if not newest or not isinstance(turn := newest[0].payload, ScrewTurned):
        return ""
    minutes = abs(turn.minutes)
    way = "tighter" if turn.minutes > 0 else "looser"
    check = "Feel it again" if Feature.BY_HAND in workshop.machine(machine_id).spec.features else "Pull again"
    return f"Turned {so_many(minutes, 'minute')} {way}. {check}."


def _go_back(workshop: Workshop, machine_id: int, purpose: Purpose, last: GaugeAnswer | None) -> str:
    """Return the offer to go back where a bobbin is still loosened for a purpose that has ended."""
    before = workshop.present(machine_id).loosened
    if before is None or not isinstance(was := before.payload, PurposeSet) or was.purpose is purpose:
        return ""
    if purpose is not Purpose.ORDINARY or last is None or last.verdict is not Verdict.LOW:
        return ""
    return f"It was loosened for {PURPOSE_NAMES[was.purpose]}, and that is over: back to the ordinary number."


def set_purpose(workshop: Workshop, machine_id: int, purpose: PurposeSet, now: datetime) -> Noted:
    """Note what the bobbin is set for, until another thread goes on top."""
    workshop.machine(machine_id)
    if not workshop.setup(machine_id).top:
        raise CraftError("Choose the thread on top first: the bobbin is set for it.", "purpose")
    return noted(workshop, workshop.note(machine_id, purpose, now, now))


@dataclass(frozen=True, kw_only=True)
class MyNumber:
    """A machine's own bobbin number as its owner says it, in a unit; without one it is learned or usual again."""

    value: float | None
    unit: ForceUnit = ForceUnit.MN


def take_number(workshop: Workshop, machine_id: int, number: MyNumber) -> BobbinTarget | None:
    """Keep a machine's own number as it is typed or taken from a reading; returns the range it stands for."""
    spec, own = workshop.machine(machine_id).spec, None
    if number.value is not None:
        mean = to_mn(number.value, number.unit)
        lowest, highest = (limit.value for limit in POSSIBLE)
        if not lowest <= mean <= highest:
            raise CraftError(
                f"A bobbin reads between {from_mn(lowest, number.unit):.0f} and {from_mn(highest, number.unit):.0f} "
                f"{number.unit}. Check the number and the unit.",
                "value",
            )
        low, high = range_about(mean)
        own = BobbinTarget(low=low, high=high)
    workshop.change_machine(machine_id, replace(spec, own_bobbin=own))
    return workshop.ordinary_target(machine_id)


@dataclass(frozen=True, kw_only=True)
class CaseBack:
    """The case that is in again, with the bobbin it came out with."""

    case: int


def put_case_back(workshop: Workshop, machine_id: int, back: CaseBack, now: datetime) -> Noted:
    """Note that a case is in again as it came out: its bobbin, what was sewn from it, its reading."""
    return noted(workshop, workshop.note(machine_id, CasePutBack(back.case), now, now))


def judge(workshop: Workshop, machine_id: int, pulls: Pulls) -> GaugeAnswer:
    """Judge pulls for this machine, with what is known of the case's screw, without keeping them."""
    return _answer(workshop, machine_id, pulls)


def keep_reading(workshop: Workshop, machine_id: int, pulls: Pulls, now: datetime) -> Noted:
    """Judge pulls and keep them in the log; a reading in the wrong unit is asked about, not kept.

    The first reading of a gauge also says what it is marked in.
    """
    unit = _unit_of(workshop, machine_id, pulls)
    reading = BobbinReading.of(
        unit,
        tuple(pulls.pulls),
        workshop.bobbin_target(machine_id, pulls.case),
        note=pulls.note,
        case=pulls.case,
        method=pulls.method,
        conditions=pulls.conditions,
        correction=_correction(workshop, machine_id, pulls.method),
    )
    row = workshop.note(machine_id, reading, pulls.at or now, now)
    spec = workshop.machine(machine_id).spec
    if spec.gauge_unit is None and pulls.method is Method.GAUGE:
        workshop.change_machine(machine_id, replace(spec, gauge_unit=unit, has_gauge=True))
    return noted(workshop, row)


@dataclass(frozen=True, kw_only=True)
class KnownWeight:
    """A known weight on the gauge: its grams, and what the gauge showed, in its unit (left out: the machine's)."""

    grams: float
    showed: float
    unit: ForceUnit | None = None


def check_gauge(workshop: Workshop, machine_id: int, weight: KnownWeight, now: datetime) -> Noted:
    """Keep what a known weight showed: readings on this machine are corrected by it from now on."""
    spec = workshop.machine(machine_id).spec
    if Feature.GAUGE not in spec.features:
        raise CraftError("There is no gauge at this machine. If there is one, say so under Workshop.", "showed")
    unit = weight.unit or spec.gauge_unit or unit_shown([Pull(value=weight.showed)])
    checked = GaugeChecked(grams=weight.grams, showed=weight.showed, unit=unit)
    return noted(workshop, workshop.note(machine_id, checked, now, now))


@dataclass(frozen=True, kw_only=True)
class Hanging:
    """The hang test on a kitchen scale: what hangs when the case just creeps, in grams."""

    grams: float
    case: int | None = None


def keep_hang_test(workshop: Workshop, machine_id: int, hanging: Hanging, now: datetime) -> Noted:
    """Keep a weighed hang test as a reading."""
    hanging_tension_mn(hanging.grams)
    pulls = Pulls(unit=ForceUnit.GF, pulls=[Pull(value=hanging.grams)], case=hanging.case, method=Method.HANG)
    return keep_reading(workshop, machine_id, pulls, now)


@dataclass(frozen=True, kw_only=True)
class ByHand:
    """A plain hang or palm test: right, loose or tight."""

    test: HandLook
    feel: Feel
    case: int | None = None


def keep_hand_look(workshop: Workshop, machine_id: int, look: ByHand, now: datetime) -> Noted:
    """Keep a plain hang or palm test as a look."""
    seen = BobbinLook(test=look.test, feel=look.feel, case=look.case)
    return noted(workshop, workshop.note(machine_id, seen, now, now))


@dataclass(frozen=True, kw_only=True)
class Turned:
    """A turn of a case's screw, in minutes; above 0 tightens."""

    minutes: float
    case: int | None = None


def turn_screw(workshop: Workshop, machine_id: int, turned: Turned, now: datetime) -> Noted:
    """Record a turn of the screw; the next reading teaches how this case answers."""
    return noted(workshop, workshop.note(machine_id, ScrewTurned(turned.case, turned.minutes), now, now))


@dataclass(frozen=True, kw_only=True)
class Mark:
    """A fault found on a part of the rack; an empty one says it is sound again."""

    part: Part
    id: int
    fault: str


def mark(workshop: Workshop, machine_id: int, found: Mark, now: datetime) -> Noted:
    """Mark a case or bobbin."""
    marked = PartMarked(part=found.part, id=found.id, fault=found.fault)
    return noted(workshop, workshop.note(machine_id, marked, now, now))


@dataclass(frozen=True, kw_only=True)
class WindingQuestion:
    """A bobbin class, how it is stitched, and the quilt: meters, and lines so far apart.

    What is left out is as it is on the machine.
    """

    bobbin_class: BobbinClass | None = None
    stitch_length_mm: float = 3
    sandwich_mm: float | None = None
    quilt_width_m: float = 1.5
    quilt_height_m: float = 2
    lines_apart_mm: float = 15


def plan(workshop: Workshop, machine_id: int, question: WindingQuestion) -> WindingPlan:
    """Say what is on a bobbin of the thread that is loaded, and how many the quilt takes."""
    workshop.machine(machine_id)
    setup = workshop.setup(machine_id)
    thread = setup.bobbin_thread
    if thread is None:
        raise CraftError("Choose the bobbin thread first.", "bobbin_class")
    size = question.bobbin_class or bobbin_class(workshop, machine_id, setup)
    return winding_plan(
        size=size,
        full_m=holds_of(workshop, machine_id, size, setup).thread_m,
        thread=thread,
        stitch_length_mm=question.stitch_length_mm,
        sandwich_mm=question.sandwich_mm or (setup.sandwich or Sandwich()).thickness_mm,
        quilt_width_m=question.quilt_width_m,
        quilt_height_m=question.quilt_height_m,
        lines_apart_mm=question.lines_apart_mm,
    )
