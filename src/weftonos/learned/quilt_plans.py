"""What the records say for a plan: paces, bobbins, needles, cones, how far it is, and what earlier plans took."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.bobbin.thread_use import thread_for
from weftonos.core.evidence.survival import own_change
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.run import Pace
from weftonos.core.mend.upkeep import clean_after, cleaning_pays_at
from weftonos.core.needle.life import PointInUse, needle_life
from weftonos.core.needle.needle import NeedleFinish, NeedleKind, NeedleSize, Point
from weftonos.core.needle.pairing import pair_needle
from weftonos.core.plan.cones import Stock, stock_of
from weftonos.core.plan.minutes import ChangesTake
from weftonos.core.plan.order import SCREW_AND, OnMachine
from weftonos.core.plan.passes import SHORT_NAMES, Pass, PassState, PassStep, QuiltPlanned, pass_on, pass_states
from weftonos.core.plan.sewn import Finished, Happened, Sewn, finished, learned_from, sewn_by_pass, share_sewn
from weftonos.core.plan.takes import Learned, OnTheWay, PassFacts, PlanTakes, on_the_way, usual_pace, what_it_takes
from weftonos.core.setup.fold import Place
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread, Form
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.thread import Bundle
from weftonos.learned.answer_cache import AnswerCache
from weftonos.learned.at_stake import care_of, cleaning_worth, feeds, minutes_here
from weftonos.learned.bobbin_left import STITCH_MM, bobbin_class, holds_for
from weftonos.learned.own_records import needle_spans, schools_here
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop

#: Finished plans that the next one learns from, the newest.
PLANS_THAT_TEACH = 40


@dataclass(frozen=True, kw_only=True)
class NeedleOfPass:
    """The needle of a pass: as its owner chose it, or the one that suits its thread."""

    size: NeedleSize
    point: Point

    @property
    def words(self) -> str:
        """Size and point."""
        return f"{self.size} {self.point.value}"


@dataclass(frozen=True, kw_only=True)
class PlanAsIs:
    """A plan as it stands: how far each pass is, what was sewn of it, and what the whole takes.

    ``takes`` is with what earlier plans taught.
    """

    id: int
    plan: QuiltPlanned
    states: Mapping[int, PassState]
    sewn: Mapping[int, Sewn]
    shares: Mapping[int, float]
    takes: PlanTakes
    facts: Mapping[int, PassFacts]
    needles: Mapping[int, NeedleOfPass]
    on: Pass | None
    finished: Finished | None

    @property
    def left(self) -> Sequence[Pass]:
        """The passes that are not over."""
        return [each for each in self.plan.passes if not self.states[each.key].over]


class _Known:
    """What is read of the workshop once for several plans."""

    def __init__(self, workshop: Workshop, plans: Sequence[QuiltPlanned], kept: AnswerCache) -> None:
        self.workshop, self.kept = workshop, kept
        self.machines = {row.id: row.spec for row in workshop.machines()}
        self.threads = workshop.drawer.specs({number for plan in plans for number in plan.threads_named})
        self._holds: dict[object, float | None] = {}
        self._needles: dict[object, NeedleOfPass | None] = {}
        self._paces: dict[int, Pace | None] = {}
        self._lives: dict[object, float | None] = {}

    def machine_of(self, row: RecordRow, each: Pass) -> int:
        """Return the machine that a pass is sewn on."""
        return each.machine if each.machine in self.machines else row.machine_id

    def holds(self, machine_id: int, plan: QuiltPlanned, thread_id: int) -> float | None:
        """Return the meters on a full bobbin."""
        key = (machine_id, thread_id, plan.sandwich)
        if key not in self._holds:
            size = bobbin_class(self.workshop, machine_id, self.workshop.setup(machine_id))
            found = holds_for(self.workshop, machine_id, size, thread_id, plan.sandwich)
            self._holds[key] = found.thread_m if found else None
        return self._holds[key]

    def pace(self, machine_id: int) -> Pace | None:
        """Return the pace of a machine's last runs."""
        if machine_id not in self._paces:
            self._paces[machine_id] = self.workshop.runs.pace(machine_id)
        return self._paces[machine_id]

    def life_h(self, machine_id: int, needle: NeedleOfPass, plan: QuiltPlanned) -> float | None:
        """Return the hours that a steel needle of this kind lasts; ``None`` where its condition decides."""
        care = care_of(self.workshop, plan.quilt)
        key = (machine_id, needle, plan.sandwich.weave.dense, care)
        if key not in self._lives:
            machine = self.machines[machine_id]
            kind = NeedleKind.of(NeedleFinish.STEEL, needle.point, needle.size.metric)
            spans = needle_spans(self.workshop, machine_id).get(kind, ())
            own = own_change(spans) if feeds(self.workshop, machine_id) else None
            wears = PointInUse(
                point=needle.point, longarm=machine.kind is MachineKind.LONGARM, dense=plan.sandwich.weave.dense
            )
            change = minutes_here(self.workshop, machine_id).needle
            life = needle_life(
                machine.life_school, NeedleFinish.STEEL, 0, 0, own, wears=wears, care=care, change=change
            )
            self._lives[key] = life.life_hours
        return self._lives[key]

    def needle(self, machine_id: int, plan: QuiltPlanned, each: Pass) -> NeedleOfPass | None:
        """Return the needle of a pass."""
        if each.needle and each.point:
            return NeedleOfPass(size=each.needle, point=each.point)
        top = self.threads.get(each.top) if each.top else None
        if top is None:
            return None
        below = self.threads.get(each.below) if each.below else None
        key = (machine_id, each.top, each.below, plan.sandwich)
        if key not in self._needles:
            machine = self.machines[machine_id]
            pairing = pair_needle(
                machine.kind,
                machine.size_school,
                Bundle((top.thread,)),
                bobbin=below.thread if below else None,
                sandwich=plan.sandwich,
                schools=self.kept.remember(
                    self.workshop, ("schools", machine_id), lambda: schools_here(self.workshop, machine_id)
                ),
            )
            best = pairing.recommended
            self._needles[key] = NeedleOfPass(size=best.size, point=best.point) if pairing.through_a_needle else None
        return self._needles[key]


def _facts(known: _Known, row: RecordRow, plan: QuiltPlanned, each: Pass) -> PassFacts:
    machine_id = known.machine_of(row, each)
    machine, own = known.machines[machine_id], known.pace(machine_id)
    usual = usual_pace(each.what, on_frame=Feature.FRAME in machine.features)
    threads = [spec.thread for number in (each.top, each.below) if number and (spec := known.threads.get(number))]
    needle = known.needle(machine_id, plan, each)
    return PassFacts(
        pace_m_h=own.meters_per_hour if own else usual,
        pace_is_own=own is not None,
        usual_m_h=usual,
        bobbin_m=known.holds(machine_id, plan, each.below) if each.below else None,
        life_h=known.life_h(machine_id, needle, plan) if needle else None,
        clean_h=cleaning_pays_at(clean_after(threads).value, cleaning_worth(known.workshop, machine_id, plan.quilt)),
    )


def plan_rows(workshop: Workshop, quilt: str | None = None) -> list[RecordRow]:
    """Return the plans, newest first; one of a machine whose description can't be read is left out."""
    machines = {row.id for row in workshop.machines()}
    return [row for row in workshop.plans.all(quilt) if row.machine_id in machines]


def plans_as_they_are(
    workshop: Workshop, kept: AnswerCache, rows: Sequence[RecordRow], learned: Learned | None = None
) -> list[PlanAsIs]:
    """Return plans with all that the records say of them; a handful of queries for all of them."""
    if learned is None:
        key = ("plans", *((row.id, row.version) for row in rows))
        return kept.remember(workshop, key, lambda: _plans_as_they_are(workshop, kept, rows, None))
    return _plans_as_they_are(workshop, kept, rows, learned)


def _plans_as_they_are(
    workshop: Workshop, kept: AnswerCache, rows: Sequence[RecordRow], learned: Learned | None
) -> list[PlanAsIs]:
    rows = [row for row in rows if isinstance(row.payload, QuiltPlanned)]
    known = _Known(workshop, [row.payload for row in rows if isinstance(row.payload, QuiltPlanned)], kept)
    steps = workshop.plans.steps(row.id for row in rows)
    since: dict[str, datetime] = {}
    for row in rows:
        name = row.payload.quilt if isinstance(row.payload, QuiltPlanned) else ""
        since[name] = min(since.get(name, row.at), row.at)
    happened = workshop.plans.happened(since)
    return [_as_is(known, row, steps[row.id], happened, learned) for row in rows]


def _as_is(
    known: _Known,
    row: RecordRow,
    steps: Sequence[tuple[Place, PassStep]],
    happened: Mapping[str, Sequence[Happened]],
    learned: Learned | None,
) -> PlanAsIs:
    plan = row.payload
    assert isinstance(plan, QuiltPlanned)
    said = [step for _, step in steps]
    facts, needles = known.kept.remember(
        known.workshop,
        ("facts", row.id, row.version),
        lambda: (
            {each.key: _facts(known, row, plan, each) for each in plan.passes},
            {each.key: known.needle(known.machine_of(row, each), plan, each) for each in plan.passes},
        ),
    )
    takes = what_it_takes(plan, facts, learned)
    states = pass_states(plan, said)
    sewn = sewn_by_pass(plan, steps, happened[plan.quilt])
    by_key = {each.key: each for each in takes.passes}
    return PlanAsIs(
        id=row.id,
        plan=plan,
        states=states,
        sewn=sewn,
        shares={key: share_sewn(states[key], sewn[key], by_key[key]) for key in states},
        takes=takes,
        facts=facts,
        needles={key: needle for key, needle in needles.items() if needle},
        on=pass_on(plan, said),
        finished=_finished(plan, said, sewn, facts),
    )


def _finished(
    plan: QuiltPlanned, said: Sequence[PassStep], sewn: Mapping[int, Sewn], facts: Mapping[int, PassFacts]
) -> Finished | None:
    # Most plans are not over: what they would take at a usual pace is not worked out for nothing.
    if not all(state.over for state in pass_states(plan, said).values()):
        return None
    return finished(plan, said, sewn, what_it_takes(plan, facts, at_usual_pace=True))


def what_plans_taught(
    workshop: Workshop, kept: AnswerCache, machine_id: int, before: datetime | None = None
) -> Learned:
    """Return what the last plans that were finished on a machine tell, or those begun ``before`` a moment."""
    key = ("taught", machine_id, before)
    return kept.remember(workshop, key, lambda: _what_plans_taught(workshop, kept, machine_id, before))


def _what_plans_taught(workshop: Workshop, kept: AnswerCache, machine_id: int, before: datetime | None) -> Learned:
    rows = [row for row in plan_rows(workshop) if row.machine_id == machine_id and (not before or row.at < before)]
    done = [each.finished for each in plans_as_they_are(workshop, kept, rows) if each.finished]
    return learned_from(done[:PLANS_THAT_TEACH])


def changes_here(workshop: Workshop, machine_id: int) -> ChangesTake:
    """Return what the changes of a plan take on a machine where the plan doesn't say: one's own, else the usual."""
    gauge = Feature.GAUGE in workshop.machine(machine_id).spec.features
    return minutes_here(workshop, machine_id).changes(gauge=gauge)


def set_up_of(workshop: Workshop, kept: AnswerCache, row: RecordRow, found: PlanAsIs) -> Mapping[int, OnMachine]:
    """Return what each pass is sewn with, by its key."""
    known, one = _Known(workshop, [found.plan], kept), workshop.rack.one_thread()
    setups = {}
    for each in found.plan.passes:
        machine_id = known.machine_of(row, each)
        top, below = (known.threads.get(number) if number else None for number in (each.top, each.below))
        needle = found.needles.get(each.key)
        has = known.machines[machine_id].features
        setups[each.key] = OnMachine(
            machine=machine_id,
            top=each.top if top else None,
            top_one=one(each.top) if each.top and top else None,
            below=each.below if below else None,
            below_one=one(each.below) if each.below and below else None,
            needle=(needle.size, needle.point) if needle else None,
            motion=each.motion,
            holes=(top.holes or nature_of(top.thread).holes) if top and Feature.HOLE_GUIDE in has else None,
            judged=next((how for how in SCREW_AND if how in has), None),
        )
    return setups


def on_machine_now(workshop: Workshop, machine_id: int) -> OnMachine:
    """Return what is on a machine, as a plan counts it."""
    setup = workshop.setup(machine_id)
    top = setup.top[0] if len(setup.top) == 1 else None
    one = workshop.rack.one_thread()
    return OnMachine(
        machine=machine_id,
        top=top.id if top else tuple(tag.id for tag in setup.top) or None,
        top_one=one(top.id) if top else None,
        below=setup.bobbin.id if setup.bobbin else None,
        below_one=one(setup.bobbin.id) if setup.bobbin else None,
        needle=(setup.needle.size, setup.needle.point) if setup.needle else None,
        motion=setup.look.motion if setup.look else Pass.motion,
    )


def stocks(workshop: Workshop, kept: AnswerCache, threads: Iterable[int]) -> Mapping[int, Stock | None]:
    """Return what is left of threads of the drawer."""
    specs = workshop.drawer.specs(set(threads))
    cones = workshop.plans.cones(specs)
    since = {number: cones[number].since for number in specs}
    used = kept.remember(workshop, ("used", *sorted(since.items())), lambda: _used_m(workshop, since))
    return {
        number: stock_of(cones[number].noted, cones[number].more, used[number], spec.thread, spec.length_m)
        for number, spec in specs.items()
    }


def _used_m(workshop: Workshop, since: Mapping[int, datetime]) -> Mapping[int, float]:
    specs = workshop.drawer.specs(set(since))
    sewn, wound = workshop.plans.sewn_on_top(since), workshop.plans.wound(since)
    paces = {machine: workshop.runs.pace(machine) for uses in sewn.values() for machine in {u.machine for u in uses}}
    found = {}
    for number in since:
        meters = 0.0
        for use in sewn[number]:
            pace = paces[use.machine]
            stitched = use.meters + (use.unmeasured_min / 60 * pace.meters_per_hour if pace else 0)
            meters += thread_for(stitched, STITCH_MM, Sandwich().thickness_mm)
        for machine, bobbins in wound[number].items():
            meters += bobbins * (_full(workshop, machine, number, specs[number]) or 0) if number in specs else 0
        found[number] = meters
    return found


def _full(workshop: Workshop, machine_id: int, thread_id: int, spec: DrawerThread) -> float | None:
    if spec.form is Form.PRE_WOUND:
        return spec.length_m
    size = bobbin_class(workshop, machine_id, workshop.setup(machine_id))
    holds = holds_for(workshop, machine_id, size, thread_id, Sandwich())
    return holds.thread_m if holds else None


@dataclass(frozen=True, kw_only=True)
class PlanMove:
    """One thing that the pass that is on asks for and the machine has otherwise: at which station, what, and how."""

    station: str
    text: str


@dataclass(frozen=True, kw_only=True)
class PlanNow:
    """The plan of the quilt that is on: the pass, how far it is, in short, and what is to do for it.

    ``fact`` is for the line: ``"Fill, 41%, bobbin 3 of 7"``. ``way`` says whether the bobbins last as planned.
    """

    plan: int
    quilt: str
    key: int
    words: str
    share: float
    fact: str
    moves: Sequence[PlanMove]
    way: OnTheWay | None


def plan_now(workshop: Workshop, kept: AnswerCache, machine_id: int, setup: Setup) -> PlanNow | None:
    """Return where a machine's quilt is in its plan; ``None`` without a plan, and while none of its passes is begun."""
    if not setup.quilt:
        return None
    rows = plan_rows(workshop, setup.quilt)[:1]
    if not rows:
        return None
    found = plans_as_they_are(workshop, kept, rows)[0]
    on = found.on
    if on is None or (on.machine or rows[0].machine_id) != machine_id:
        return None
    takes = next(each for each in found.takes.passes if each.key == on.key)
    share, sewn = found.shares[on.key], found.sewn[on.key]
    bobbins = f", bobbin {max(1, sewn.bobbins)} of {takes.to_wind}" if takes.to_wind else ""
    way = on_the_way(takes.bobbins, sewn.bobbins, share) if takes.bobbins and found.states[on.key].share else None
    return PlanNow(
        plan=found.id,
        quilt=found.plan.quilt,
        key=on.key,
        words=on.words,
        share=share,
        fact=f"{on.name or SHORT_NAMES[on.what]}, {share:.0%}{bobbins}",
        moves=list(_moves(workshop, setup, on, found.needles.get(on.key))),
        way=way,
    )


def _moves(workshop: Workshop, setup: Setup, on: Pass, needle: NeedleOfPass | None) -> Iterable[PlanMove]:
    threads = workshop.drawer.specs({number for number in (on.top, on.below) if number})
    if on.top in threads and [tag.id for tag in setup.top] != [on.top]:
        yield PlanMove(station="thread", text=f"Put {threads[on.top].name} on top")
    if needle and (setup.needle is None or (setup.needle.size, setup.needle.point) != (needle.size, needle.point)):
        yield PlanMove(station="needle", text=f"Fit {needle.words}")
    if on.below in threads and (setup.bobbin is None or setup.bobbin.id != on.below):
        yield PlanMove(station="bobbin", text=f"Load a bobbin of {threads[on.below].name}")
    if on.top in threads and setup.top and setup.look is None:
        yield PlanMove(station="balance", text="Sew one test line")
