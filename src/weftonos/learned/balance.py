"""Where combinations balanced on a machine, where a new one begins, and what the looks at the present one say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from weftonos.core.balance.combination import Combination, key_of
from weftonos.core.balance.estimate import (
    BalanceEstimate,
    estimate_balance,
)
from weftonos.core.balance.eye import Grading
from weftonos.core.balance.knob import KnobAdvice, knob_advice
from weftonos.core.balance.looks import Accepted, Observation, nothing_between
from weftonos.core.balance.posterior import Expected, scale_unit
from weftonos.core.balance.recipe import Recipe, kept_figures, kept_for
from weftonos.core.balance.sittings import sittings, upon_earlier
from weftonos.core.balance.starting_point import KeptBefore, StartingPoint, from_recipe, starting_point
from weftonos.core.balance.steadiness import PLAINLY_STEADY, steadiness_of
from weftonos.core.balance.stitched import NEVER_SEWN, BalanceRecord, stitched_combinations
from weftonos.core.balance.tolerance import tolerance_of
from weftonos.core.balance.worth import (
    BETWEEN_SAYS,
    Stakes,
    pays_words,
    skip_words,
    untested_words,
    worth_of_a_line,
)
from weftonos.core.kernel.advice import Reason
from weftonos.core.kernel.care import Care
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.standing import Standing
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.left_out import left_untested
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.may_wait import MayWait
from weftonos.core.setup.setup import Setup
from weftonos.core.setup.turned import Tension, as_then
from weftonos.learned.answer_cache import remembered
from weftonos.learned.at_stake import care_of, minutes_here
from weftonos.learned.bobbins import bobbin_waits
from weftonos.learned.practiced import eye_of
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class Asking:
    """Why no further test line is asked for, or what one takes and should save; both empty where it is no question."""

    skip: str = ""
    pays: str = ""


@dataclass(frozen=True, kw_only=True)
class Judged:
    """The looks at what is on the machine, where it was expected, and the estimate from both.

    ``waits`` says why its bobbin may go unread, ``knob`` what to turn before the first line. ``otherwise`` looks were
    stitched at another bobbin reading: they say where it begins, and do not count for what is on.
    ``asking`` is whether one more line pays on a quilt of this ``care``.
    """

    otherwise: int
    rows: Sequence[RecordRow]
    looks: Sequence[Observation]
    start: StartingPoint | None
    accepted: Accepted
    estimate: BalanceEstimate
    waits: MayWait | None
    knob: KnobAdvice | None
    care: Care
    asking: Asking


def judge_balance(workshop: Workshop, machine_id: int, motion: Motion) -> Judged:
    """Estimate the balance of what is on a machine, in one motion."""
    machine, setup = workshop.machine(machine_id).spec, workshop.setup(machine_id)
    rows = workshop.looks_since_change(machine_id, motion)
    under = workshop.setups_at(rows)
    seen = [
        (row.at, row.payload, under[row.id], counts_now(workshop, machine_id, under[row.id], setup, row.at))
        for row in rows
        if isinstance(row.payload, StitchedLook)
    ]
    # A scale that was described anew leaves old settings off it; they are no evidence on the new one.
    counting = [
        (at, Observation(look.setting, look.grade, look.doubtful))
        for at, look, _, counts in seen
        if counts and machine.scale.holds(look.setting)
    ]
    looks = [look for _, look in counting]
    otherwise = [(at, look, then) for at, look, then, counts in reversed(seen) if not counts]
    waits = bobbin_waits(workshop, machine_id, setup)
    before = _balanced_otherwise(workshop, machine_id, otherwise) if otherwise else []
    start = start_for(
        workshop,
        machine_id,
        setup=setup,
        motion=motion,
        waits=waits,
        records=[*before, *stitched_here(workshop, machine_id)] if otherwise else None,
    )
    accepted = tolerance_of(setup.top_bundle, setup.good_enough).accepted
    grading = _grading(workshop, machine_id, machine)
    *earlier, today = sittings(counting)
    drift = (start.before if start else NEVER_SEWN).drift * scale_unit(machine.scale)
    expected = upon_earlier(start.prior if start else None, earlier, drift)
    found = estimate_balance(machine.scale, expected, today, accepted, grading)
    found = replace(
        found, reasons=(*found.reasons, *_moved(workshop, machine_id, start), *_read_with(machine, grading))
    )
    care = care_of(workshop, setup.quilt)
    asking = Asking()
    bad = bool(looks) and looks[-1].grade not in accepted
    settled = found.sure or found.again is not None or found.beyond is not None or not found.makes_sense
    if not (settled or otherwise or bad):
        expected = upon_earlier(start.expected, earlier, drift) if start else None
        stakes = Stakes.of(care, minutes_here(workshop, machine_id).line)
        asking = _asking(machine, start, stakes, expected=expected, looks=today, accepted=accepted, grading=grading)
    if asking.pays and not looks:
        asking = _unless_left_out(workshop, machine_id, asking)
    at = found.present if looks else found.set_to
    better = nothing_between(machine.scale, today, accepted)
    if better is not None and not found.sure and machine.schools.takes("test") != "always":
        asking, at = Asking(skip=BETWEEN_SAYS), better
    if asking.skip:
        # What is skipped is never called sure: it may be sewn at, and stands as untested.
        stitched = bool(looks) and at == found.present
        found = replace(found, act_at=at, action=untested_words(machine.scale, at, stitched=stitched))
    return Judged(
        care=care,
        asking=asking,
        otherwise=len(otherwise),
        rows=rows,
        looks=looks,
        start=start,
        accepted=accepted,
        estimate=found,
        waits=waits,
        # Once a line was stitched it says itself where to turn.
        knob=knob_advice(machine.scale, setup.knob.setting, start) if setup.knob and not looks else None,
    )


def _grading(workshop: Workshop, machine_id: int, machine: Machine) -> Grading:
    """Return how the grades of a machine come about, by practice and by its own combinations."""
    eye = eye_of(workshop, machine.reader) if machine.reader else None
    steadiness = remembered(
        workshop,
        ("steadiness", machine_id),
        lambda: steadiness_of(machine.scale, [record.looks for record in stitched_here(workshop, machine_id)]),
    )
    return Grading(eye=eye, steadiness=steadiness)


def _balanced_otherwise(
    workshop: Workshop, machine_id: int, looks: Sequence[tuple[datetime, StitchedLook, Setup]]
) -> Sequence[BalanceRecord]:
    """Return where looks at what is on balanced that were stitched at another bobbin tension, as it should lie now."""
    lies = workshop.lies_by_hand(machine_id)
    moved = [(replace(look, setting=lies(look.setting, at, then)), then) for at, look, then in looks]
    return stitched_combinations(workshop.machine(machine_id).spec.scale, moved)


def _moved(workshop: Workshop, machine_id: int, start: StartingPoint | None) -> list[Reason]:
    """Say that lines were moved by what the screw was turned, where bobbins are felt and it was."""
    by_hand = Feature.BY_HAND in workshop.machine(machine_id).spec.features
    if not (by_hand and start and start.records and workshop.rack.screw_turns(machine_id).turns):
        return []
    text = "Lines from before a turn of the screw count as moved by what it should do."
    return [Reason(text=text, rule="moved_by_the_screw", standing=Standing.ESTIMATE)]


def _read_with(machine: Machine, grading: Grading) -> list[Reason]:
    """Say what the lines were read with that is this person's or this machine's own."""
    says = []
    if grading.eye is not None:
        read = f"Read with {machine.reader}'s eye, known from {grading.eye.looks} practice lines."
        says.append(Reason(text=read, rule="own_eye", standing=Standing.OWN_RECORDS))
    if grading.steadiness >= PLAINLY_STEADY:
        read = "This machine's stitches are steady, so each line counts for more."
        says.append(Reason(text=read, rule="steady_stitches", standing=Standing.OWN_RECORDS))
    return says


def _asking(
    machine: Machine,
    start: StartingPoint | None,
    stakes: Stakes,
    *,
    expected: Expected,
    looks: Sequence[Observation],
    accepted: Accepted,
    grading: Grading,
) -> Asking:
    """Say whether a test line pays; one is always asked for where its owner chose so, or nobody knows the start."""
    if start is None or not start.known or machine.schools.takes("test") == "always":
        return Asking()
    worth = worth_of_a_line(
        machine.scale,
        expected,
        looks,
        stakes,
        accepted=accepted,
        grading=grading,
        # Where the last line was stitched, or where the start says.
        sewn_at=looks[-1].setting if looks else machine.scale.snap(start.center),
    )
    return Asking(skip=skip_words(worth, start.before, stakes.care, stitched=bool(looks)), pays=pays_words(worth))


@dataclass(frozen=True, kw_only=True)
class Unstitched:
    """What is on, before its first test line: where it starts, and why no line is asked for, if none is."""

    start: StartingPoint
    skip: str


def unstitched(workshop: Workshop, machine_id: int, setup: Setup) -> Unstitched | None:
    """Return how what is on stands before its first test line; ``None`` where one was stitched, or nothing is on.

    It is asked in free motion, which most quilting is.
    """
    if not setup.top or setup.bobbin_work or setup.look:
        return None
    return remembered(workshop, ("unstitched", machine_id), lambda: _unstitched(workshop, machine_id, setup))


def _unstitched(workshop: Workshop, machine_id: int, setup: Setup) -> Unstitched | None:
    waits = bobbin_waits(workshop, machine_id, setup)
    start = start_for(workshop, machine_id, setup=setup, motion=Motion.FREE_MOTION, waits=waits)
    if start is None:
        return None
    machine = workshop.machine(machine_id).spec
    accepted = tolerance_of(setup.top_bundle, setup.good_enough).accepted
    grading = _grading(workshop, machine_id, machine)
    stakes = Stakes.of(care_of(workshop, setup.quilt), minutes_here(workshop, machine_id).line)
    asking = _asking(machine, start, stakes, expected=start.expected, looks=[], accepted=accepted, grading=grading)
    if asking.pays:
        asking = _unless_left_out(workshop, machine_id, asking)
    return Unstitched(start=start, skip=asking.skip)


def _unless_left_out(workshop: Workshop, machine_id: int, asking: Asking) -> Asking:
    """Return that no line is asked for where most were left out, and nobody said how they want it."""
    if workshop.machine(machine_id).spec.schools.said("test"):
        return asking
    said = remembered(
        workshop, ("left untested", machine_id), lambda: left_untested(workshop.runs.sewn_under(machine_id))
    )
    return Asking(skip=said) if said else asking


@dataclass(frozen=True, kw_only=True)
class KnobStands:
    """Where the knob stands against where what is on starts: what to turn, or ``None`` where it may stay."""

    advice: KnobAdvice | None
    start: StartingPoint

    @property
    def by(self) -> float:
        """How far it stands off, above 0 too tight; 0 where it may stay."""
        return self.advice.by if self.advice else 0.0


def knob_stands(workshop: Workshop, machine_id: int, setup: Setup) -> KnobStands | None:
    """Return where the knob stands against the start; ``None`` where either is not known, or a line was stitched.

    A test line says itself where to turn.
    """
    before = unstitched(workshop, machine_id, setup) if setup.knob else None
    if setup.knob is None or before is None or not before.start.known:
        return None
    advice = knob_advice(workshop.machine(machine_id).spec.scale, setup.knob.setting, before.start)
    return KnobStands(advice=advice, start=before.start)


def counts_now(workshop: Workshop, machine_id: int, then: Setup, now: Setup, at: datetime) -> bool:
    """Say whether a look that was stitched ``at`` a time under one set-up counts under another: :func:`as_then`."""
    return as_then(_tension(then), _tension(now), lambda: turned_since(workshop, machine_id, at))


def turned_since(workshop: Workshop, machine_id: int, at: datetime) -> float:
    """Return the minutes that the screw under the bobbin that is in was turned by since, above 0 in."""
    below = workshop.below_now(machine_id)
    return workshop.rack.screw_turns(machine_id).after(at, below) if below else 0.0


def _tension(setup: Setup) -> Tension:
    if setup.reading:
        return Tension(setup.reading.record_id, setup.reading.mean_mn)
    return Tension(setup.felt.record_id if setup.felt else None)


def stitched_here(workshop: Workshop, machine_id: int, *, another: bool = False) -> list[BalanceRecord]:
    """Return where the combinations stitched on a machine balanced, before the present one or ``another`` planned."""
    machine = workshop.machine(machine_id).spec
    return remembered(
        workshop,
        ("stitched", machine_id, another),
        lambda: stitched_combinations(machine.scale, workshop.looks_before(machine_id, another=another)),
    )


def start_for(
    workshop: Workshop,
    machine_id: int,
    *,
    setup: Setup,
    motion: Motion,
    waits: MayWait | None,
    records: Sequence[BalanceRecord] | None = None,
) -> StartingPoint | None:
    """Say where a set-up begins, be it on the machine or planned for it; ``None`` without a top thread.

    ``waits`` says why the bobbin that is in may go unread. ``records`` are the combinations to go by; left out, those
    stitched before the present one.
    """
    machine = workshop.machine(machine_id).spec
    if (kept := _kept_before(workshop, setup, motion)) is not None:
        return from_recipe(machine.scale, kept)
    combination = Combination.of_setup(machine.scale, setup, motion, waits.about_mn if waits else None)
    if combination is None:
        return None
    records = stitched_here(workshop, machine_id) if records is None else records
    return starting_point(machine.scale, combination, records, key_of(setup, motion))


def _kept_before(workshop: Workshop, setup: Setup, motion: Motion) -> KeptBefore | None:
    """Return what a recipe that was put back says of what is on now; ``None`` where it says nothing of it."""
    if setup.recipe is None:
        return None
    row = workshop.record(setup.recipe.recipe)
    if row.struck_at is not None or not isinstance(recipe := row.payload, Recipe):
        return None
    then = workshop.setup_at(row)
    moved = workshop.marks(row.machine_id).moved_since(row.at)
    kept = kept_figures(recipe, then, moved)
    # A card that names no motion is taken for the one that is asked about.
    if kept.motion not in (motion, None) or not kept_for(recipe, then, setup):
        return None
    return KeptBefore(
        name=recipe.name,
        setting=kept.setting,
        # Only how wide it is counts.
        low=recipe.low,
        high=recipe.high,
        looks=recipe.looks,
        graded=recipe.grade is not None,
    )
