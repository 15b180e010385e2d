"""The Balance station: the estimate from stitched looks, ladders and their strip, and the recipe book."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from weftonos.api.context import Id, Now, WorkshopNow
from weftonos.api.log import LogEntry, log_entry
from weftonos.api.paper import Format, on_paper
from weftonos.core.balance import BalanceEstimate, Observation, estimate_balance
from weftonos.core.drawer import is_light
from weftonos.core.errors import CraftError, in_words
from weftonos.core.guard_rail import GuardRail, guard_rails
from weftonos.core.ladder import Ladder, LadderPlan, plan_ladder
from weftonos.core.lock_depth import LockDepth, lock_depth
from weftonos.core.logbook import BobbinLoaded, Recipe, SandwichLaid, StitchedLook, TopThreaded
from weftonos.core.sandwich import Motion, Sandwich
from weftonos.core.setup import Setup
from weftonos.core.setup_diff import READING_CHANGED, Difference, differences
from weftonos.core.starting_point import Combination, StartingPoint, starting_point
from weftonos.core.stitch import GRADES
from weftonos.core.top_scale import ScaleKind, TopScale
from weftonos.exchange.strip import Paper, ladder_strip, recipe_card
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop

router = APIRouter(prefix="/api", tags=["balance"])


@dataclass(frozen=True)
class CutAt:
    """Where the lock lies at a setting, by the model."""

    setting: float
    words: str
    lock: LockDepth


@dataclass(frozen=True)
class BalanceStation:
    """The estimate for what is on the machine in one motion, what it rests on, and what stands in the way."""

    setup: Setup
    scale: TopScale
    motion: Motion
    start: StartingPoint | None
    estimate: BalanceEstimate
    set_to_words: str
    low_words: str
    high_words: str
    next_words: str
    next_leaves: str
    present_words: str
    guards: Sequence[GuardRail]
    looks: Sequence[LogEntry]
    cut: Sequence[CutAt]
    missing: Sequence[str]


def _evidence(rows: Sequence[RecordRow]) -> list[Observation]:
    looks = [row.payload for row in rows]
    return [Observation(p.setting, p.grade, p.doubtful) for p in looks if isinstance(p, StitchedLook)]


def _start(workshop: Workshop, machine_id: int, setup: Setup, motion: Motion) -> StartingPoint | None:
    machine = workshop.machine(machine_id).spec
    combination = Combination.of_setup(machine.kind, machine.scale, setup, motion)
    if combination is None:
        return None
    return starting_point(machine.scale, combination, workshop.balanced_records(machine_id))


def _width(scale: TopScale, half: float) -> str:
    """Return half an interval in the machine's own steps, in words."""
    steps = max(1, round(half / scale.step))
    return f"{steps * scale.step:g}{' turns' if scale.kind is ScaleKind.TURNS else ''}"


def _fitting(scale: TopScale, looks: Sequence[Observation]) -> list[Observation]:
    # A scale that was described anew leaves old settings off it; they are no evidence on the new one.
    return [look for look in looks if scale.low <= look.setting <= scale.high]


@router.get("/machines/{machine_id}/balance")
def balance_station(machine_id: Id, workshop: WorkshopNow, motion: Motion = Motion.FREE_MOTION) -> BalanceStation:
    """Say where the balance lies, how sure that is, and what to stitch next."""
    scale = workshop.machine(machine_id).spec.scale
    setup = workshop.setup(machine_id)
    rows = workshop.looks_since_change(machine_id, motion)
    looks = _fitting(scale, _evidence(rows))
    start = _start(workshop, machine_id, setup, motion)
    found = estimate_balance(scale, start.prior if start else None, looks)
    steps = min(60, max(1, round(scale.span / scale.step)))
    settings = dict.fromkeys(scale.snap(scale.low + i * scale.span / steps) for i in range(steps + 1))
    words = scale.words
    return BalanceStation(
        setup,
        scale,
        motion,
        start,
        found,
        words(found.set_to),
        words(scale.snap(found.low)),
        words(scale.snap(found.high)),
        words(found.next_setting),
        _width(scale, 1.96 * found.next_gain),
        words(found.present),
        guard_rails(setup, looks, found.makes_sense),
        [log_entry(row) for row in rows],
        [CutAt(x, words(x), lock_depth(x, found.centre, found.steepness)) for x in settings],
        setup.missing,
    )


@dataclass(frozen=True)
class Look:
    """A stitched step: its setting, the grade picked, whether it is doubtful, how it was sewn, when if not now."""

    setting: float
    grade: int
    motion: Motion = Motion.FREE_MOTION
    doubtful: bool = False
    sandwich: Sandwich | None = None
    note: str = ""
    at: datetime | None = None


@router.post("/machines/{machine_id}/looks", status_code=201)
def keep_look(machine_id: Id, look: Look, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Keep a stitched look with the set-up it was made under."""
    sandwich = look.sandwich or workshop.setup(machine_id).sandwich or Sandwich()
    stitched = StitchedLook(look.setting, look.grade, look.motion, sandwich, look.note, look.doubtful)
    return log_entry(workshop.note(machine_id, stitched, look.at or now, now))


@dataclass(frozen=True)
class LadderQuestion:
    """Which plan of a test, in which motion."""

    plan: LadderPlan
    motion: Motion = Motion.FREE_MOTION


def _plan(workshop: Workshop, machine_id: int, question: LadderQuestion) -> Ladder:
    station = balance_station(machine_id, workshop, question.motion)
    top = station.setup.top
    light = is_light(top[0].colour) if top else False
    # A half ladder lies about where the test began, so that it stays put while it is stitched.
    begin = station.start.centre if station.start else station.estimate.centre
    return plan_ladder(question.plan, station.scale, begin, station.estimate.next_setting, light)


@router.post("/machines/{machine_id}/ladder")
def ladder(machine_id: Id, question: LadderQuestion, workshop: WorkshopNow) -> Ladder:
    """Lay out a test: the settings to stitch, and the half of the cloth."""
    return _plan(workshop, machine_id, question)


@router.get("/machines/{machine_id}/strip.{form}", response_class=Response)
def strip(
    machine_id: Id,
    form: Format,
    workshop: WorkshopNow,
    now: Now,
    plan: LadderPlan = LadderPlan.FULL,
    motion: Motion = Motion.FREE_MOTION,
    paper: Paper = Paper.A4,
) -> Response:
    """Print the strip of a ladder test, true to scale."""
    laid = _plan(workshop, machine_id, LadderQuestion(plan, motion))
    setup, machine = workshop.setup(machine_id), workshop.machine(machine_id).spec
    lines = [
        f"{machine.nickname}, {now:%-d %B %Y}",
        f"Top: {' + '.join(t.name for t in setup.top) or '____'}",
        f"Bobbin: {setup.bobbin.name if setup.bobbin else '____'}",
        f"Bobbin reads: {f'{setup.reading.mean_mn:.0f} mN' if setup.reading else '____'}",
        f"Needle: {setup.needle.words if setup.needle else '____'}",
        f"Batting: {(setup.sandwich and setup.sandwich.batting) or '____'}",
        f"Motion: {motion.value.replace('_', '-')}",
    ]
    return on_paper(ladder_strip(laid.words, lines, laid.cloth, paper), form)


@dataclass(frozen=True)
class Keep:
    """A name for the combination that is on the machine."""

    name: str
    note: str = ""


@router.post("/machines/{machine_id}/recipes", status_code=201)
def keep_combination(machine_id: Id, keep: Keep, workshop: WorkshopNow, now: Now) -> LogEntry:
    """Keep what is on the machine as one recipe: threads, needle, bobbin number, setting, grade, evidence."""
    setup = workshop.setup(machine_id)
    if setup.missing or not setup.look or not setup.reading:
        needs = in_words(setup.missing).replace(" or ", " and ")
        raise CraftError(f"Before this can be kept it needs {needs}.", "name")
    station = balance_station(machine_id, workshop, setup.look.motion)
    recipe = Recipe(
        keep.name,
        setup.look.setting,
        setup.look.grade,
        setup.reading.mean_mn,
        setup.look.motion,
        keep.note,
        len(station.looks),
        station.estimate.low,
        station.estimate.high,
    )
    return log_entry(workshop.note(machine_id, recipe, now, now))


@dataclass(frozen=True)
class RecipeItem:
    """A kept combination in the machine's own terms, and why it may want a fresh look."""

    entry: LogEntry
    setting_words: str
    interval_words: str
    stale: Sequence[str]


def _stale(workshop: Workshop, row: RecordRow, present: Sandwich | None) -> list[str]:
    """Say what has changed about a recipe's circumstances since it was kept."""
    setup, why = row.setup, []
    if (
        setup.sandwich
        and present
        and (setup.sandwich.batting, setup.sandwich.loft) != (present.batting, present.loft)
    ):
        why.append(f"other batting is on the machine ({present.batting or present.loft.value})")
    serviced = workshop.mending.last_service(row.machine_id)
    if serviced and serviced > row.at:
        why.append(f"the machine was serviced since ({serviced:%-d %b})")
    if setup.case:
        if workshop.screw_turned_since(setup.case.id, row.at):
            why.append(f"the screw of case {setup.case.label} was turned since")
        last = workshop.rack.history(setup.case.id, 30).readings
        if last and setup.reading and abs(last[-1][1].mean_mn / setup.reading.mean_mn - 1) > READING_CHANGED:
            why.append(f"case {setup.case.label} reads {last[-1][1].mean_mn:.0f} mN now")
    for tag in (*setup.top, *([setup.bobbin] if setup.bobbin else [])):
        if workshop.drawer.thread(tag.id).struck_at is not None:
            why.append(f"{tag.name} is no longer in the drawer")
    return why


def _recipe_item(workshop: Workshop, row: RecordRow, present: Setup) -> RecipeItem:
    scale, payload = row.machine.spec.scale, row.payload
    assert isinstance(payload, Recipe)
    interval = ""
    if payload.low is not None and payload.high is not None:
        interval = f"{scale.words(scale.snap(payload.low))} to {scale.words(scale.snap(payload.high))}"
    return RecipeItem(log_entry(row), scale.words(payload.setting), interval, _stale(workshop, row, present.sandwich))


@router.get("/recipes")
def recipes(
    workshop: WorkshopNow,
    machine: Annotated[int | None, Query(ge=1)] = None,
    text: Annotated[str, Query(max_length=200)] = "",
    motion: Motion | None = None,
) -> list[RecipeItem]:
    """Find kept combinations by name, thread, batting, machine and motion, newest first."""
    wanted = text.lower().split()
    found = []
    for row in workshop.recipes(machine):
        payload, setup = row.payload, row.setup
        if not isinstance(payload, Recipe) or (motion and payload.motion is not motion):
            continue
        names = [payload.name, payload.note, row.machine.spec.nickname, *(f"{t.name} {t.words}" for t in setup.top)]
        names += [setup.bobbin.name if setup.bobbin else "", setup.sandwich.batting if setup.sandwich else ""]
        if all(word in " ".join(names).lower() for word in wanted):
            found.append(row)
    shown = found[:60]
    present = {machine_id: workshop.setup(machine_id) for machine_id in {row.machine_id for row in shown}}
    return [_recipe_item(workshop, row, present[row.machine_id]) for row in shown]


@dataclass(frozen=True)
class Used:
    """What was put on the machine from a recipe, and what still differs and wants a hand."""

    item: RecipeItem
    differs: Sequence[Difference]


def _recipe(workshop: Workshop, machine_id: int, recipe_id: int) -> RecordRow:
    row = workshop.record(recipe_id)
    if not isinstance(row.payload, Recipe) or row.machine_id != machine_id:
        raise CraftError("That is no combination kept on this machine.", "recipe")
    return row


@router.get("/machines/{machine_id}/recipes/{recipe_id}/differences")
def recipe_differences(machine_id: Id, recipe_id: Id, workshop: WorkshopNow) -> Used:
    """List what is on the machine now that differs from a recipe."""
    row = _recipe(workshop, machine_id, recipe_id)
    present = workshop.setup(machine_id)
    return Used(_recipe_item(workshop, row, present), differences(present, row.setup))


@router.post("/machines/{machine_id}/recipes/{recipe_id}/use", status_code=201)
def use_recipe(machine_id: Id, recipe_id: Id, workshop: WorkshopNow, now: Now) -> Used:
    """Put a recipe's threads and sandwich on the thread line; needle, screw and knob still want a hand."""
    row = _recipe(workshop, machine_id, recipe_id)
    kept, present = row.setup, workshop.setup(machine_id)
    if [t.id for t in kept.top] != [t.id for t in present.top]:
        workshop.note(machine_id, TopThreaded(tuple(t.id for t in kept.top)), now, now)
    if kept.bobbin and (present.bobbin is None or present.bobbin.id != kept.bobbin.id):
        case = kept.case.id if kept.case else None
        workshop.note(machine_id, BobbinLoaded(kept.bobbin.id, kept.bobbin_work, case), now, now)
    if kept.sandwich and kept.sandwich != present.sandwich:
        workshop.note(machine_id, SandwichLaid(kept.sandwich), now, now)
    after = workshop.setup(machine_id)
    return Used(_recipe_item(workshop, row, after), differences(after, kept))


@router.get("/recipes/{recipe_id}/card.{form}", response_class=Response)
def print_recipe(recipe_id: Id, form: Format, workshop: WorkshopNow) -> Response:
    """Print a recipe's card, true to size."""
    row = workshop.record(recipe_id)
    payload, setup = row.payload, row.setup
    if not isinstance(payload, Recipe):
        raise CraftError("That record is no kept combination.", "recipe")
    scale = row.machine.spec.scale
    lines = [
        ("Machine", row.machine.spec.nickname),
        ("Top", " + ".join(f"{t.name} ({t.words})" for t in setup.top)),
        ("Bobbin", f"{setup.bobbin.name} ({setup.bobbin.words})" if setup.bobbin else ""),
        ("Bobbin reads", f"{payload.bobbin_mn:.0f} mN{f', case {setup.case.label}' if setup.case else ''}"),
        ("Needle", setup.needle.words if setup.needle else ""),
        ("Top tension", f"{scale.words(payload.setting)}, {payload.motion.value.replace('_', '-')}"),
        ("Looked", GRADES[payload.grade].name),
        ("Batting", setup.sandwich.batting if setup.sandwich else ""),
    ]
    return on_paper(recipe_card(payload.name, lines, f"Kept {row.at:%-d %B %Y}. {payload.note}"), form)
