"""The logbook: what can be recorded, and how each record reads.

A record is an event at a machine. What is on the machine at a moment is the fold of the records before it
(:mod:`weftonos.core.setup.fold`).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.recipe import Recipe, kept_figures
from weftonos.core.bobbin.events import BobbinLook, BobbinReading, GaugeChecked, Method, Part, PartMarked, ScrewTurned
from weftonos.core.bobbin.gauge import evenness
from weftonos.core.bobbin.purpose import PURPOSE_NAMES, Purpose, PurposeSet
from weftonos.core.kernel.care import CARE_SAYS, Care
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import length, pull, pull_range, so_many, within_a_sentence
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.log.planned import ComparisonPlanned
from weftonos.core.log.run import ClockStarted, Run, WalkDone
from weftonos.core.mend.diagnosis import CheckAnswer
from weftonos.core.mend.incident import (
    CLEARED,
    Incident,
    IncidentAnswer,
    IncidentCheck,
    IncidentOutcome,
    Outcome,
    Preflight,
)
from weftonos.core.mend.upkeep import UPKEEP_NAMES, Upkeep
from weftonos.core.needle.needle import NeedleFinish
from weftonos.core.plan.cones import ConeNoted, ConeSays
from weftonos.core.plan.passes import PassStage, PassStep, QuiltPlanned
from weftonos.core.setup.events import (
    BobbinLoaded,
    CasePutBack,
    GoodEnough,
    KnobSet,
    MarkSet,
    NeedleFitted,
    NeedleRetired,
    QuiltOn,
    RecipeStage,
    RecipeUsed,
    SandwichLaid,
    StitchedLook,
    TopThreaded,
    quilt_named,
)
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread

#: How far a clock may run ahead before a time counts as in the future.
CLOCK_SLACK = timedelta(minutes=5)


Payload = (
    TopThreaded
    | BobbinLoaded
    | CasePutBack
    | NeedleFitted
    | NeedleRetired
    | Run
    | ClockStarted
    | QuiltOn
    | SandwichLaid
    | BobbinReading
    | BobbinLook
    | GaugeChecked
    | PurposeSet
    | ScrewTurned
    | PartMarked
    | StitchedLook
    | KnobSet
    | MarkSet
    | GoodEnough
    | Cloth
    | Recipe
    | RecipeUsed
    | Incident
    | IncidentCheck
    | IncidentAnswer
    | IncidentOutcome
    | Preflight
    | WalkDone
    | Upkeep
    | ComparisonPlanned
    | QuiltPlanned
    | PassStep
    | ConeNoted
)


@dataclass(frozen=True)
class Unreadable:
    """A document that could not be read, as it was written, and why; it takes no part in anything."""

    kind: str
    text: str
    why: str


KIND_NAMES: dict[str, str] = {
    "top_threaded": "Top thread",
    "bobbin_loaded": "Bobbin",
    "case_put_back": "Case put back",
    "needle_fitted": "Needle",
    "needle_retired": "Needle out",
    "run": "Run",
    "clock_started": "Clock",
    "quilt_on": "Quilt",
    "sandwich": "Sandwich",
    "bobbin_reading": "Bobbin reading",
    "bobbin_look": "Bobbin by hand",
    "gauge_checked": "Gauge",
    "bobbin_purpose": "What the bobbin is for",
    "screw_turned": "Screw",
    "part_marked": "Rack",
    "look": "Test line",
    "knob_set": "Top tension set",
    "mark_set": "Mark of the knob",
    "good_enough": "Good enough",
    "cloth": "Test cloth",
    "recipe": "Recipe",
    "recipe_used": "Recipe in use",
    "incident": "Trouble",
    "incident_check": "Check",
    "incident_answer": "Question",
    "incident_outcome": "Outcome",
    "preflight": "Before a quilt",
    "walk_done": "Walk",
    "upkeep": "Upkeep",
    "comparison_planned": "Comparison",
    "quilt_planned": "Plan",
    "pass_step": "Pass of a plan",
    "cone_noted": "Cone",
}


def check_time(at: datetime, now: datetime, field: str = "at") -> None:
    """Raise :class:`CraftError` for a time without zone, in the future, or before there were such records."""
    if at.tzinfo is None:
        raise CraftError("The time needs its zone.", field)
    if at > now + CLOCK_SLACK:
        raise CraftError("That date is in the future. Say when it was done.", field)
    if at.year < 1950:
        raise CraftError("That date is too long ago for this logbook.", field)


def hours_in_words(minutes: float) -> str:
    """Return a time as ``"40 min"`` or ``"1 h 25 min"``."""
    hours, rest = divmod(round(minutes), 60)
    return f"{rest} min" if not hours else f"{hours} h" if not rest else f"{hours} h {rest} min"


def _place(scale: TopScale | None, setting: float) -> str:
    return scale.place(setting) if scale else f"at {figure(setting)}"


_ANSWERS = {
    CheckAnswer.FOUND: "found",
    CheckAnswer.NOT_IT: "not it",
    CheckAnswer.CANNOT_TELL: "can't tell",
    CheckAnswer.SKIPPED: "skipped",
}
_STAGES = {PassStage.BEGUN: "begun", PassStage.DONE: "done", PassStage.DROPPED: "left out"}


def _cone_words(cone: ConeNoted) -> str:
    lot = f", lot {cone.lot}" if cone.lot else ""
    match cone.says:
        case ConeSays.WEIGHED:
            return f"{figure(cone.grams or 0)} g with its cone{lot}"
        case ConeSays.METERS:
            return f"{length(cone.left_m or 0)} left{lot}"
        case ConeSays.SHARE:
            return f"about {cone.share:.0%} of a cone left{lot}"
        case ConeSays.ENDED:
            return f"the cone ended{lot}"
        case ConeSays.NEW:
            return f"{so_many(cone.cones, 'new cone')}{lot}"


_OUTCOMES = {
    Outcome.CURED: "Cured",
    Outcome.NOT_CURED: "Not cured, still looking",
    Outcome.TECHNICIAN: "For the technician",
    Outcome.LEFT: "Left as it is",
}


def detail_of(payload: object) -> str | None:
    """Return the one word by which records of a kind are looked for; ``None`` for kinds that are not.

    It is a look's grade, an outcome, what upkeep was done, a walk, a purpose, a marked part, a needle's point, the
    number on a cloth, the plan of a pass, or the thread on a cone.
    """
    match payload:
        case StitchedLook(grade=grade):
            return str(grade)
        case IncidentOutcome(outcome=outcome):
            return outcome.value
        case Upkeep(what=what):
            return what.value
        case PurposeSet(purpose=purpose):
            return purpose.value
        case BobbinLoaded(bobbin_work=True):
            return Purpose.BOBBIN_WORK.value
        case PartMarked(part=part, id=number):
            return part_key(part, number)
        case NeedleFitted(point=point):
            return point.value
        case WalkDone(walk=walk):
            return walk
        case Cloth(number=number):
            return str(number)
        case PassStep(plan=plan):
            return str(plan)
        case ConeNoted(thread=thread):
            return str(thread)
        case _:
            return None


def cloth_of(payload: object) -> int | None:
    """Return the record of the test cloth that a record belongs to."""
    return payload.cloth if isinstance(payload, StitchedLook | Recipe) else None


def quilt_of(payload: object) -> str | None:
    """Return the name by which a record belongs to a quilt: the quilt it names, or a recipe's own name."""
    match payload:
        case Run() | ClockStarted() | QuiltOn() | QuiltPlanned():
            return quilt_named(payload)
        case Recipe(name=name):
            return name
        case _:
            return None


def part_key(part: Part, number: int) -> str:
    """Return the word by which the marks of a part of the rack are found."""
    return f"{part.value} {number}"


def case_of(payload: object) -> int | None:
    """Return the bobbin case that a record is about."""
    match payload:
        case (
            BobbinLoaded(case=case)
            | CasePutBack(case=case)
            | BobbinReading(case=case)
            | BobbinLook(case=case)
            | ScrewTurned(case=case)
        ):
            return case
        case PartMarked(part=Part.CASE, id=case):
            return case
        case _:
            return None


#: The records whose line says what their set-up holds; every other line is the record's own.
SAID_BY_SET_UP = (CasePutBack, Recipe)


def describe(
    payload: Payload | Unreadable,
    setup: Setup,
    scale: TopScale | None,
    threads: Mapping[int, DrawerThread],
    *,
    recipes: Mapping[int, str] | None = None,
    passes: Mapping[tuple[int, int], str] | None = None,
    labels: Mapping[str, str] | None = None,
) -> str:
    """Return one line that says what was recorded, in the machine's own terms.

    ``setup`` is the set-up after it, ``scale`` the machine's (``None`` where its description can't be read), and
    ``threads`` the threads of the drawer that the record names, ``recipes`` the names of kept combinations, ``passes``
    those of passes by plan and number, ``labels`` those of cases and bobbins (:func:`part_key`).
    """

    def named(number: int) -> str:
        owned = threads.get(number)
        return owned.in_full if owned else f"thread {number}"

    def labeled(case: int | None) -> str:
        label = (labels or {}).get(part_key(Part.CASE, case), "") if case is not None else ""
        return f", case {label}" if label else ""

    def set_at(setting: float) -> str:
        return scale.words(setting) if scale else f"{figure(setting)}"

    match payload:
        case Unreadable():
            return f"Shown as it was written. {payload.why}"
        case TopThreaded():
            return "On top: " + (" + ".join(named(i) for i in payload.top) or "nothing")
        case BobbinLoaded():
            work = ", for bobbin work" if payload.bobbin_work else ""
            full = f", {payload.fill:.0%} full" if payload.fill < 1 else ""
            return f"In the bobbin: {named(payload.bobbin)}{work}{labeled(payload.case)}{full}"
        case CasePutBack():
            which = f"Case {setup.case.label}" if setup.case else "A case"
            return f"{which} is in again, with {setup.bobbin.name if setup.bobbin else 'its bobbin'}"
        case PurposeSet(purpose=purpose, target=target):
            own = f", {pull_range(target.low, target.high)}" if target else ""
            return f"The bobbin is set for {PURPOSE_NAMES[purpose]}{own}"
        case KnobSet(setting=setting):
            return "Top tension left to the machine" if setting is None else f"Top tension set {_place(scale, setting)}"
        case MarkSet(name=name, at=at):
            moved = f", {set_at(at)} of the old one" if at else ""
            return f"The mark is {name}{moved}"
        case GoodEnough(grade=grade):
            return {
                1: "A few specks of the top on the back are good enough here",
                -1: "A few dots on top are good enough here",
                0: "Only a balanced stitch is good enough here",
            }[grade]
        case RecipeUsed(recipe=number, stage=stage):
            name = (recipes or {}).get(number, f"combination {number}")
            return {
                RecipeStage.BEGUN: f"Putting {name} back on the machine",
                RecipeStage.DONE: f"{name} is on the machine again",
                RecipeStage.DROPPED: f"{name} was left off after all",
            }[stage]
        case ComparisonPlanned(first=first, second=second, of_each=number):
            return f"{first} against {second}, {number} {payload.things} of each in turn"
        case NeedleFitted():
            coat = ", titanium" if payload.finish is NeedleFinish.TITANIUM else ""
            out_of = f" from slot {payload.slot}" if payload.slot else ""
            return f"{payload.size} {payload.point.value}{coat} fitted{out_of}"
        case NeedleRetired():
            where = f", into slot {payload.slot}" if payload.slot else ""
            return f"Needle out: {payload.why.value.replace('_', ' ')}{where}"
        case Run():
            meters = f", {length(payload.meters)}" if payload.meters is not None else ""
            quilt = f" on {payload.quilt}" if payload.quilt else ""
            return f"{hours_in_words(payload.minutes)} stitched{quilt}{meters}"
        case ClockStarted():
            return f"Clock started{f' for {payload.quilt}' if payload.quilt else ''}"
        case QuiltOn():
            whom = f", for {payload.for_whom}" if payload.for_whom else ""
            care = "" if payload.care is Care.USUAL else f", {CARE_SAYS[payload.care]}"
            return f"Quilting {payload.quilt}{whom}{care}"
        case SandwichLaid(sandwich=laid):
            heavy = f" ({laid.heavy_because})" if laid.heavy_because else ""
            parts = [p for p in (laid.fabric, laid.batting) if p] or [f"{laid.weave.value}, {laid.loft.value} loft"]
            alone = ", one layer" if laid.layers == 1 else ""
            return f"Under the needle: {' over '.join(parts)}{alone}{heavy}"
        case BobbinReading():
            swing = f", {even}" if (even := evenness(payload.calmness, payload.swing)) else ""
            if payload.method is Method.HANG:
                hung = figure(payload.pulls[0].mean)
                return f"{pull(payload.mean_mn)} by the hang test, {hung} g{labeled(payload.case)}"
            count = len(payload.pulls)
            corrected = f", corrected {payload.correction - 1:+.0%}" if payload.correction != 1 else ""
            return f"{pull(payload.mean_mn)} from {so_many(count, 'pull')}{swing}{corrected}{labeled(payload.case)}"
        case BobbinLook():
            return f"{payload.test.value.capitalize()} test: {payload.feel.value}{labeled(payload.case)}"
        case ScrewTurned(minutes=minutes):
            way = "tightened" if minutes > 0 else "loosened"
            return f"Screw {way} {so_many(abs(minutes), 'minute')}{labeled(payload.case)}"
        case PartMarked():
            label = (labels or {}).get(part_key(payload.part, payload.id), "of the rack")
            return f"{payload.part.value.capitalize()} {label}: {payload.fault or 'sound again'}"
        case StitchedLook():
            doubt = ", not sure" if payload.doubtful else ""
            return f"{set_at(payload.setting)}, {payload.motion.words}: {GRADES[payload.grade].name}{doubt}"
        case Cloth(number=number):
            lines = f", {so_many(len(payload.lines), 'line')}" if payload.lines else ""
            return f"Cloth {number}{', from the box' if payload.noted_elsewhere else ''}{lines}"
        case Incident():
            return f"It went wrong: {payload.words or ', '.join(payload.symptoms)}"
        case IncidentCheck():
            return f"{payload.words or payload.cause}: {_ANSWERS[payload.answer]}"
        case IncidentAnswer():
            said = {True: "yes", False: "no", None: "can't tell"}[payload.present]
            return f"{payload.words or payload.finding}: {said}"
        case IncidentOutcome():
            if payload.outcome is Outcome.LEFT and payload.note == CLEARED:
                return CLEARED
            found = payload.words or payload.cause
            says = _OUTCOMES[payload.outcome] if payload.tested else "Mended and sewn on, not tested"
            return f"{says}{f': {within_a_sentence(found)}' if found else ''}"
        case Preflight():
            return f"{len(payload.done)} of {payload.of} checks made before the quilt"
        case WalkDone(words=words):
            return f"Walked through: {words}"
        case GaugeChecked():
            return payload.text
        case Upkeep():
            return UPKEEP_NAMES[payload.what]
        case QuiltPlanned():
            return f"{payload.quilt} planned in {so_many(len(payload.passes), 'pass', 'passes')}"
        case PassStep():
            name = (passes or {}).get((payload.plan, payload.key), f"pass {payload.key}")
            share = f", {payload.share:.0%} of it" if payload.share is not None else ""
            return f"{name}: {_STAGES[payload.stage]}{share}"
        case ConeNoted():
            return f"{named(payload.thread)}: {_cone_words(payload)}"
        case Recipe():
            kept = kept_figures(payload, setup)
            top = " + ".join(t.name for t in setup.top)
            over = f"{top} over {setup.bobbin.name}" if setup.bobbin else top
            bobbin = f"bobbin {kept.bobbin_words}" if kept.bobbin_words else ""
            figures = (over, kept.needle_words, bobbin, f"top {set_at(kept.setting)}", kept.look_words)
            return f"{payload.name}: {', '.join(filter(None, figures))}"
