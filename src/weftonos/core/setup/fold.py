"""What is on a machine is a fold of its log: each record that counts takes the set-up one step further.

Nothing here is stored. The records in force at a moment (:class:`InForce`) decide the set-up; what a record says, and
what the threads and cases it names are, is looked up anew each time, so that a correction reaches everything.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from datetime import datetime
from typing import Any, Self

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, ScrewTurned
from weftonos.core.bobbin.purpose import PurposeSet
from weftonos.core.bobbin.rack import BobbinCase
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
from weftonos.core.setup.setup import (
    CaseTag,
    FeltTag,
    KnobTag,
    LookTag,
    MarkTag,
    NeedleTag,
    ReadingTag,
    Setup,
    ThreadTag,
)
from weftonos.core.thread.drawer import DrawerThread

#: What changes what is on a machine, beside the runs and clocks that name a quilt; all else leaves it as it is.
_CHANGING = (
    *(TopThreaded, BobbinLoaded, CasePutBack, NeedleFitted, NeedleRetired, SandwichLaid),
    *(BobbinReading, BobbinLook, PurposeSet, ScrewTurned),
    *(StitchedLook, KnobSet, MarkSet, GoodEnough, RecipeUsed, QuiltOn),
)
SETUP_KINDS = (*(each.kind for each in _CHANGING), "run", "clock_started")


#: A place in the log: the moment, and the number within one moment.
Place = tuple[datetime, int]


@dataclass(frozen=True)
class Event:
    """A record of the log: its number, when it was, and what it says."""

    id: int
    at: datetime
    payload: object

    @property
    def order(self) -> Place:
        """Its place in the log: by time, and within one moment as it was written."""
        return self.at, self.id


@dataclass(frozen=True, kw_only=True)
class InForce:
    """The records that decide a set-up at a moment; ``change`` is the one that began the combination.

    ``knob`` is the last look or setting of the knob, whatever the combination; ``good`` what counts as good enough in
    this one; ``recipe`` the kept combination that was put back, or is being; ``mark`` the last time the knob's mark was
    set; ``quilt`` the last record that named another quilt than the one before.
    """

    top: Event | None = None
    loaded: Event | None = None
    fitted: Event | None = None
    reading: Event | None = None
    purpose: Event | None = None
    sandwich: Event | None = None
    look: Event | None = None
    knob: Event | None = None
    good: Event | None = None
    recipe: Event | None = None
    mark: Event | None = None
    quilt: Event | None = None
    change: Event | None = None

    @property
    def numbers(self) -> dict[str, int | None]:
        """The numbers of the records by their role."""
        return {role: (event.id if (event := getattr(self, role)) else None) for role in ROLES}

    @classmethod
    def of(cls, numbers: Mapping[str, int | None], events: Mapping[int, Event]) -> Self:
        """Return the records in force from their numbers; a record that is not among ``events`` is left out."""
        return cls(**{role: events.get(number) if (number := numbers[role]) else None for role in ROLES})


#: What a record can be in force as.
ROLES: tuple[str, ...] = tuple(role.name for role in fields(InForce))


@dataclass(frozen=True)
class Left:
    """How a case was left when it last came out: the record of its bobbin, and of its reading if it has one."""

    loaded: Event
    reading: Event | None


@dataclass
class Remembered:
    """What the fold looks up beside the records: the colors that are one thread, and how each case was left.

    ``kin`` gives the thread that stands for all colors of its line; one that is not there stands for itself.
    """

    kin: Mapping[int, int] = field(default_factory=dict)
    cases: dict[int, Left] = field(default_factory=dict)

    def one_thread(self, number: int) -> int:
        """Return the thread that stands for a thread's whole line."""
        return self.kin.get(number, number)

    def top(self, event: Event | None) -> tuple[int, ...] | None:
        """Return what a threading runs through the needle, colors aside."""
        return (
            tuple(map(self.one_thread, event.payload.top)) if event and isinstance(event.payload, TopThreaded) else None
        )

    def bobbin(self, event: Event | None) -> tuple[int, bool] | None:
        """Return what makes it another combination: the thread, colors aside, and whether it is bobbin work."""
        if not event or not isinstance(loaded := event.payload, BobbinLoaded):
            return None
        return self.one_thread(loaded.bobbin), loaded.bobbin_work

    def remember(self, state: InForce) -> None:
        """Keep how the case that is in stands now."""
        if (case := _case_in(state)) is not None and state.loaded:
            self.cases[case] = Left(state.loaded, state.reading)

    def outside(self, case: int | None, event: Event) -> None:
        """Keep what was done with a case that is out: it was read, felt, or its screw was turned."""
        if case is None or (left := self.cases.get(case)) is None:
            return
        if isinstance(event.payload, ScrewTurned):
            self.cases[case] = replace(left, reading=None)
        elif _says_more(left.reading, event.payload):
            self.cases[case] = replace(left, reading=event)


def _case_in(state: InForce) -> int | None:
    return state.loaded.payload.case if state.loaded and isinstance(state.loaded.payload, BobbinLoaded) else None


def after(state: InForce, event: Event, held: Remembered) -> InForce:
    """Return what is in force after one more record; ``held`` remembers how cases were left.

    A reading counts since the bobbin was loaded or the screw of its case was turned, and a test by hand in its place
    where there is none; a look counts since threads, needle or sandwich were changed. A fresh bobbin of the same
    thread, the same thread threaded anew or in another color, a case put back with the same thread, and the same
    sandwich laid again are no such change. What the bobbin was set for ends with the thread on top.
    """
    state = _step(state, event, held)
    held.remember(state)
    return state


def _step(state: InForce, event: Event, held: Remembered) -> InForce:
    payload = event.payload
    match payload:
        case TopThreaded():
            same = held.top(state.top) == held.top(event)
            state = replace(state, top=event, purpose=state.purpose if same else None)
        case BobbinLoaded():
            same = held.bobbin(state.loaded) == held.bobbin(event)
            state = replace(state, loaded=event, reading=None)
        case CasePutBack(case=case):
            if (left := held.cases.get(case)) is None or _case_in(state) == case:
                return state
            same = held.bobbin(state.loaded) == held.bobbin(left.loaded)
            state = replace(state, loaded=left.loaded, reading=left.reading)
        case NeedleFitted():
            same = False
            state = replace(state, fitted=event)
        case SandwichLaid():
            same = state.sandwich is not None and state.sandwich.payload == payload
            state = replace(state, sandwich=event)
        case NeedleRetired():
            return replace(state, fitted=None)
        case BobbinReading(case=case) | BobbinLook(case=case) if case is not None and _is_out(state, case):
            # Another case was read than the one that is in: it says nothing of what is sewn from.
            held.outside(case, event)
            return state
        case BobbinReading() | BobbinLook():
            return replace(state, reading=event) if _says_more(state.reading, payload) else state
        case ScrewTurned(case=case):
            # What it read before the turn it reads no longer. A turn that names no case is one of the case that is in.
            held.outside(case, event)
            return replace(state, reading=None) if case in (None, _case_in(state)) else state
        case PurposeSet():
            return replace(state, purpose=event)
        case StitchedLook():
            return replace(state, look=event, knob=event)
        case KnobSet():
            return replace(state, knob=event)
        case MarkSet():
            # Settings before and after are numbers of two scales.
            return replace(state, knob=event, mark=event, look=None, good=None, change=event)
        case GoodEnough(grade=grade):
            return replace(state, good=event if grade else None)
        case QuiltOn():
            return replace(state, quilt=event)
        case RecipeUsed(stage=stage):
            return replace(state, recipe=None if stage is RecipeStage.DROPPED else event)
        case _ if getattr(payload, "kind", "") in SETUP_KINDS:
            # A run or the clock may name another quilt; what was said of one stays while it is stitched on.
            other = quilt_named(payload) not in ("", quilt_named(state.quilt.payload) if state.quilt else "")
            return replace(state, quilt=event) if other else state
        case _:
            return state
    return state if same else replace(state, look=None, good=None, change=event)


def _is_out(state: InForce, case: int) -> bool:
    return (present := _case_in(state)) is not None and present != case


def _says_more(before: Event | None, payload: object) -> bool:
    """Say whether a reading or a test by hand takes the place of another: a number says more than a feel."""
    return isinstance(payload, BobbinReading) or not (before and isinstance(before.payload, BobbinReading))


def setup_of(state: InForce, threads: Mapping[int, DrawerThread], cases: Mapping[int, BobbinCase]) -> Setup:
    """Return the set-up that the records in force make, with the threads and cases as they are described now.

    A thread or case that is not among them (its description can't be read) is left out.
    """
    found: dict[str, Any] = {}
    if state.top and isinstance(top := state.top.payload, TopThreaded) and all(i in threads for i in top.top):
        tags = tuple(ThreadTag.of(i, threads[i]) for i in top.top)
        found |= {"top": tags, "top_since": state.top.at}
    if state.loaded and isinstance(loaded := state.loaded.payload, BobbinLoaded):
        if (below := threads.get(loaded.bobbin)) is not None:
            tag = ThreadTag.of(loaded.bobbin, below)
            found |= {"bobbin": tag, "bobbin_since": state.loaded.at, "fill": loaded.fill}
            found["bobbin_work"] = loaded.bobbin_work
        if loaded.case is not None and (case := cases.get(loaded.case)) is not None:
            found["case"] = CaseTag(loaded.case, case.label, loaded.fill)
    if state.fitted and isinstance(fitted := state.fitted.payload, NeedleFitted):
        needle = NeedleTag(
            record_id=state.fitted.id,
            metric=fitted.metric,
            american=fitted.american,
            point=fitted.point,
            finish=fitted.finish,
            fitted_at=state.fitted.at,
            system=fitted.system,
            slot=fitted.slot,
        )
        found["needle"] = needle
    if state.reading and isinstance(reading := state.reading.payload, BobbinReading):
        read = ReadingTag(
            record_id=state.reading.id,
            mean_mn=reading.mean_mn,
            scatter_mn=reading.scatter_mn,
            swing=reading.swing,
            calmness=reading.calmness,
            read_at=state.reading.at,
        )
        found["reading"] = read
    if state.reading and isinstance(felt := state.reading.payload, BobbinLook):
        tag_felt = FeltTag(record_id=state.reading.id, test=felt.test, feel=felt.feel, felt_at=state.reading.at)
        found["felt"] = tag_felt
    if state.purpose and isinstance(purpose := state.purpose.payload, PurposeSet):
        found["purpose"] = purpose
    if state.sandwich and isinstance(laid := state.sandwich.payload, SandwichLaid):
        found["sandwich"] = laid.sandwich
    if state.look and isinstance(look := state.look.payload, StitchedLook):
        seen = LookTag(
            record_id=state.look.id,
            setting=look.setting,
            grade=look.grade,
            motion=look.motion,
            stitched_at=state.look.at,
        )
        found["look"] = seen
    if state.knob and isinstance(knob := state.knob.payload, StitchedLook | KnobSet):
        found["knob"] = KnobTag(setting=knob.setting, set_at=state.knob.at)
    if state.knob and isinstance(state.knob.payload, MarkSet):
        found["knob"] = KnobTag(setting=0, set_at=state.knob.at)
    if state.mark and isinstance(mark := state.mark.payload, MarkSet):
        found["mark"] = MarkTag(name=mark.name, set_at=state.mark.at)
    if state.good and isinstance(good := state.good.payload, GoodEnough):
        found["good_enough"] = good.grade
    if state.recipe and isinstance(recipe := state.recipe.payload, RecipeUsed):
        found["recipe"] = recipe
    if state.quilt:
        found["quilt"] = quilt_named(state.quilt.payload)
    return Setup(**found)


def threads_of(payload: object) -> tuple[int, ...]:
    """Return the threads of the drawer that a record names."""
    match payload:
        case TopThreaded(top=top):
            return top
        case BobbinLoaded(bobbin=bobbin):
            return (bobbin,)
        case _:
            if (named := getattr(payload, "threads_named", None)) is not None:
                return tuple(named)
            # A combination that was noted elsewhere carries its own.
            below = getattr(payload, "below", None)
            return (*getattr(payload, "on_top", ()), *(() if below is None else (below,)))
