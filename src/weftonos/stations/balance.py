"""The Balance station: the estimate from stitched looks, ladders and their strip."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.end_of_scale import EndOfScale, remedies
from weftonos.core.balance.estimate import BalanceEstimate, drawn_density
from weftonos.core.balance.guard_rail import GuardRail, guard_rails, unread_bobbin
from weftonos.core.balance.knob import KnobAdvice
from weftonos.core.balance.ladder import Ladder, LadderPlan, plan_ladder
from weftonos.core.balance.lock_depth import LockDepth, drawn_settings, lock_depth
from weftonos.core.balance.looks import Observation, graded_twice
from weftonos.core.balance.starting_point import StartingPoint
from weftonos.core.balance.tolerance import Tolerance, tolerance_of
from weftonos.core.kernel.care import Care
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Motion, Sandwich
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import pull, so_many
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.setup.events import GoodEnough, KnobSet, MarkSet, StitchedLook
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import NO_COLOR, is_light
from weftonos.core.thread.nature import together
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.strip import Paper, StripWords, ladder_strip
from weftonos.learned.balance import Judged, judge_balance
from weftonos.learned.bobbins import lacking, turn_known
from weftonos.learned.cloth import cloth_on, cloth_row, next_number
from weftonos.learned.entries import LogEntry, Noted, all_noted, log_entries, noted
from weftonos.learned.late_noted import LateNoted, late_noted, was_in
from weftonos.store.workshop import Workshop


@dataclass(frozen=True)
class CutAt:
    """Where the lock lies at a setting, by the model."""

    setting: float
    words: str
    lock: LockDepth


@dataclass(frozen=True, kw_only=True)
class BalanceStation:
    """The estimate for what is on the machine in one motion, what it rests on, and what stands in the way.

    ``skip_says`` is why no further line is asked for, ``pays_says`` what one takes and should save.
    ``knob`` is what to turn before the first line. ``remedies`` are what to do where the scale ends before the balance;
    ``at_another_reading`` says which test lines do not count, since the bobbin read otherwise. ``late`` is what was
    noted after lines it may belong before. ``cloth`` is the one being stitched, ``next_cloth`` the next one's number.
    """

    setup: Setup
    scale: TopScale
    motion: Motion
    start: StartingPoint | None
    estimate: BalanceEstimate
    set_to_words: str
    start_words: str
    likely_words: str
    surely_words: str
    next_says: str
    present_words: str
    present_says: str
    eye_words: str
    keep_says: str
    skip_says: str
    pays_says: str
    care: Care
    at_another_reading: str
    remedies: Sequence[str]
    guards: Sequence[GuardRail]
    looks: Sequence[LogEntry]
    cut: Sequence[CutAt]
    missing: Sequence[str]
    tolerance: Tolerance
    knob_words: str
    knob: KnobAdvice | None
    late: LateNoted | None
    cloth: ClothOn | None
    next_cloth: int


@dataclass(frozen=True)
class ClothOn:
    """The cloth that is being stitched: its record, and the number on it."""

    id: int
    number: int


def balance_station(workshop: Workshop, machine_id: int, motion: Motion) -> BalanceStation:
    """Say where the balance lies, how sure that is, and what to stitch next."""
    machine, setup = workshop.machine(machine_id).spec, workshop.setup(machine_id)
    scale = machine.scale
    judged = judge_balance(workshop, machine_id, motion)
    found, words = judged.estimate, scale.words
    grid, density = drawn_density(found)
    asked = not machine.drops_in and not judged.waits
    unread = unread_bobbin(machine.features, turn_known(workshop, machine_id, setup)) if asked else None
    on = cloth_on(workshop, machine_id)
    return BalanceStation(
        setup=setup,
        scale=scale,
        motion=motion,
        start=judged.start,
        estimate=replace(found, grid=grid, density=density),
        set_to_words=words(found.set_to),
        start_words=judged.start.words(scale) if judged.start else "",
        likely_words=" to ".join(words(scale.snap(end)) for end in (found.likely_low, found.likely_high)),
        surely_words=" to ".join(words(scale.snap(end)) for end in (found.low, found.high)),
        next_says=_next_says(scale, judged),
        present_words=words(found.present),
        present_says=_present_says(scale, judged),
        eye_words=words(scale.snap(found.by_eye)) if found.by_eye is not None else "",
        keep_says=_keep_says(scale, judged, motion),
        skip_says=judged.asking.skip,
        pays_says=judged.asking.pays,
        care=judged.care,
        at_another_reading=_at_another_reading(judged),
        remedies=_remedies(workshop, machine, setup, found),
        guards=guard_rails(setup, judged.looks, found.makes_sense, has=machine.features, unread=unread),
        looks=log_entries(workshop, judged.rows),
        cut=[CutAt(x, words(x), lock_depth(x, found.center, found.steepness)) for x in drawn_settings(scale)],
        missing=lacking(workshop, machine_id, setup, judged.waits),
        tolerance=tolerance_of(setup.top_bundle, setup.good_enough),
        knob_words=scale.stands(setup.knob.setting) if setup.knob else "",
        knob=judged.knob,
        late=late_noted(workshop, machine_id),
        cloth=ClothOn(on.id, on.payload.number) if on and isinstance(on.payload, Cloth) else None,
        next_cloth=next_number(workshop),
    )


def move_before_lines(workshop: Workshop, machine_id: int, record_id: int, now: datetime) -> Noted:
    """Move what was noted late before the test lines that were stitched with it."""
    workshop.machine(machine_id)
    return noted(workshop, was_in(workshop, machine_id, record_id, now))


def _at_another_reading(judged: Judged) -> str:
    if not judged.otherwise:
        return ""
    lines = so_many(judged.otherwise, "test line")
    were = "was" if judged.otherwise == 1 else "were"
    return f"{lines} {were} stitched at another bobbin tension. That only says where to begin: stitch one line now."


def _remedies(workshop: Workshop, machine: Machine, setup: Setup, found: BalanceEstimate) -> Sequence[str]:
    """Say what to do where the scale ends before the balance; nothing where it does not."""
    if found.beyond is None:
        return ()
    history = workshop.rack.history(setup.case.id) if setup.case else None
    top = setup.top_bundle
    end = EndOfScale(
        beyond=found.beyond,
        by=found.beyond_by,
        scale=machine.scale,
        bobbin_mn=setup.reading.mean_mn if setup.reading else None,
        turns=history.turns if history else (),
        fewer_holes=top is not None and together(top.threads).delicate,
    )
    return remedies(end, machine.features)


def _next_says(scale: TopScale, judged: Judged) -> str:
    """Say why the next step is stitched where it is; empty where it is left alone, or nothing is stitched yet."""
    found = judged.estimate
    if not judged.looks or found.sure or judged.asking.skip or found.beyond:
        return ""
    if found.again is not None:
        return f"Two test lines contradict each other. {scale.words(found.again)} once more tells which is right."
    return f"{scale.words(found.act_at)} is where it most likely lies. A good test line there settles it."


def _present_says(scale: TopScale, judged: Judged) -> str:
    """Say how likely what was stitched last is good enough; a step that did not look good is not spoken well of."""
    found = judged.estimate
    if not judged.looks or judged.looks[-1].grade not in judged.accepted:
        return ""
    return f"{found.good_enough_probability:.0%} likely that {scale.words(found.present)} is good enough already."


def _keep_says(scale: TopScale, judged: Judged, motion: Motion) -> str:
    """Say which setting a recipe would hold, and how far that is to be trusted."""
    found, sewn = judged.estimate, motion.words
    at = scale.words(found.set_to)
    if not judged.looks:
        here = " at this bobbin tension" if judged.otherwise else ""
        return f"No {sewn} line{here} is judged yet. Judge one first."
    if all(look.grade not in judged.accepted for look in judged.looks):
        return f"No {sewn} line looked balanced yet. {at} is our best guess, not a setting that was found."
    last = scale.words(found.present)
    return f"At {at}, the {sewn} setting found{'.' if last == at else f'. You stitched {last} last.'}"


@dataclass(frozen=True, kw_only=True)
class Look:
    """A stitched step: its setting, the grade picked, whether it is doubtful, how it was sewn, when if not now."""

    setting: float
    grade: int
    motion: Motion = Motion.FREE_MOTION
    doubtful: bool = False
    sandwich: Sandwich | None = None
    note: str = ""
    at: datetime | None = None


def keep_look(workshop: Workshop, machine_id: int, look: Look, now: datetime) -> Noted:
    """Keep a test line."""
    workshop.machine(machine_id)
    sandwich = look.sandwich or workshop.setup(machine_id).sandwich or Sandwich()
    # A line of now is one of the cloth that is being stitched; one of an earlier day is of nobody knows which.
    cloth = cloth_on(workshop, machine_id) if look.at is None else None
    stitched = StitchedLook(
        setting=look.setting,
        grade=look.grade,
        motion=look.motion,
        sandwich=sandwich,
        note=look.note,
        doubtful=look.doubtful,
        cloth=cloth.id if cloth else None,
    )
    return noted(workshop, workshop.note(machine_id, stitched, look.at or now, now))


@dataclass(frozen=True, kw_only=True)
class Step:
    """One step of a ladder: its setting, the grade picked, and whether it is doubtful."""

    setting: float
    grade: int
    doubtful: bool = False


@dataclass(frozen=True, kw_only=True)
class GradedRow:
    """One row of a cloth: the steps of one motion, in any order, since they were stitched as one."""

    steps: list[Step]
    motion: Motion = Motion.FREE_MOTION


@dataclass(frozen=True, kw_only=True)
class GradedLadder:
    """A whole ladder, graded in one go: a row for each motion that is on the cloth, and when it was if not now."""

    rows: list[GradedRow]
    at: datetime | None = None


#: Fewer steps of a row are a look, more are a mistake.
FEWEST_STEPS, MOST_STEPS = 2, 24


def _row_looks(scale: TopScale, row: GradedRow, sandwich: Sandwich) -> Sequence[StitchedLook]:
    """Return a row's looks from the loosest to the tightest; raises :class:`CraftError` for one that cannot be."""
    if not FEWEST_STEPS <= len(row.steps) <= MOST_STEPS:
        raise CraftError(
            f"A row of a test strip is {FEWEST_STEPS} to {MOST_STEPS} judged lines. Save a single one as a test line.",
            "steps",
        )
    steps = [Observation(s.setting, s.grade, s.doubtful) for s in sorted(row.steps, key=lambda s: s.setting)]
    if (twice := graded_twice(steps)) is not None:
        raise CraftError(f"{scale.words(twice)} was judged twice, and differently. Which is it?", "steps")
    return [
        StitchedLook(
            setting=step.setting, grade=step.grade, motion=row.motion, sandwich=sandwich, doubtful=step.doubtful
        )
        for step in {step.setting: step for step in steps}.values()
    ]


def keep_ladder(workshop: Workshop, machine_id: int, ladder: GradedLadder, now: datetime) -> Sequence[Noted]:
    """Keep every step of a ladder as a line of the cloth that is stitched, or of one begun with them; all or none.

    A cloth whose lines are taken back stays, and is the one that the next lines go on.
    """
    scale = workshop.machine(machine_id).spec.scale
    motions = [row.motion for row in ladder.rows]
    if not motions or len(set(motions)) < len(motions):
        raise CraftError("A test strip has a row for each motion that was sewn, one at least.", "rows")
    sandwich = workshop.setup(machine_id).sandwich or Sandwich()
    looks = [look for row in ladder.rows for look in _row_looks(scale, row, sandwich)]
    at = ladder.at or now
    cloth = cloth_on(workshop, machine_id) if ladder.at is None else None
    if cloth is None and workshop.setup(machine_id).top:
        cloth = workshop.note(machine_id, Cloth(number=next_number(workshop)), at, now)
    number = cloth.id if cloth else None
    return all_noted(workshop, [workshop.note(machine_id, replace(look, cloth=number), at, now) for look in looks])


def set_mark(workshop: Workshop, machine_id: int, mark: MarkSet, now: datetime) -> Noted:
    """Set the mark of an unmarked knob anew, under a name."""
    return noted(workshop, workshop.note(machine_id, mark, now, now))


def set_knob(workshop: Workshop, machine_id: int, knob: KnobSet, now: datetime) -> Noted:
    """Note where the top tension stands, without a stitch."""
    return noted(workshop, workshop.note(machine_id, knob, now, now))


def accept(workshop: Workshop, machine_id: int, good: GoodEnough, now: datetime) -> Noted:
    """Note that a few dots or specks are good enough in the combination that is on."""
    workshop.machine(machine_id)
    if not workshop.setup(machine_id).top:
        raise CraftError("Choose the thread first: good enough belongs to a combination.", "grade")
    return noted(workshop, workshop.note(machine_id, good, now, now))


@dataclass(frozen=True, kw_only=True)
class LadderQuestion:
    """Which plan of a test, in which motion."""

    plan: LadderPlan
    motion: Motion = Motion.FREE_MOTION


def ladder(workshop: Workshop, machine_id: int, question: LadderQuestion) -> Ladder:
    """Lay out a test: the settings to stitch, and the half of the cloth."""
    scale, top = workshop.machine(machine_id).spec.scale, workshop.setup(machine_id).top
    judged = judge_balance(workshop, machine_id, question.motion)
    # A half ladder lies about where the test began, so that it stays put while it is stitched.
    begin = judged.start.center if judged.start else judged.estimate.center
    return plan_ladder(
        plan=question.plan,
        scale=scale,
        center=begin,
        following=judged.estimate.act_at,
        thread_is_light=is_light(top[0].color) if top and top[0].color != NO_COLOR else None,
    )


@dataclass(frozen=True, kw_only=True)
class StripPrint:
    """How a strip is printed: its paper, the time zone of its day, and where a tablet opens the workshop, if anywhere.

    ``cloth`` is the record of the cloth whose number stands on it.
    """

    paper: Paper
    zone: str
    opened_at: str = ""
    cloth: int | None = None


def strip_sheet(
    workshop: Workshop, machine_id: int, question: LadderQuestion, print_it: StripPrint, now: datetime
) -> Sheet:
    """Lay out the strip of a ladder test, true to scale."""
    laid = ladder(workshop, machine_id, question)
    setup, machine = workshop.setup(machine_id), workshop.machine(machine_id).spec
    lines = [
        f"{machine.nickname}, {day_in_words(now, print_it.zone)}",
        f"Top: {' + '.join(t.name for t in setup.top) or '____'}",
        f"Bobbin: {setup.bobbin.name if setup.bobbin else '____'}",
        f"Bobbin reads: {pull(setup.reading.mean_mn) if setup.reading else '____'}",
        f"Needle: {setup.needle.words if setup.needle else '____'}",
        f"Batting: {(setup.sandwich and setup.sandwich.batting) or '____'}",
        *([f"Bobbin work, {setup.face_down}"] if setup.face_down else []),
    ]
    row = cloth_row(workshop, print_it.cloth) if print_it.cloth is not None else None
    at = f"{print_it.opened_at}{machine_id}/balance?part=cloths&cloth={row[0].id}" if row and print_it.opened_at else ""
    return ladder_strip(
        StripWords(
            settings=laid.words,
            combination=lines,
            cloth=laid.cloth,
            number=row[1].number if row else None,
            address=at,
            pictures=[(facts.grade, facts.name) for facts in GRADES.values()],
        ),
        question.motion,
        print_it.paper,
    )
