"""What is on a machine is a fold of its log: each record that counts takes the set-up one step further.

Nothing here is stored. The records in force at a moment (:class:`InForce`) decide the set-up; what a record says, and
what the threads and cases it names are, is looked up anew each time, so that a correction reaches everything.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from datetime import datetime
from typing import Self

from weftonos.core.bobbin.events import BobbinLook, BobbinReading
from weftonos.core.bobbin.rack import BobbinCase
from weftonos.core.setup.events import (
    BobbinLoaded,
    NeedleFitted,
    NeedleRetired,
    SandwichLaid,
    StitchedLook,
    TopThreaded,
)
from weftonos.core.setup.setup import CaseTag, FeltTag, LookTag, NeedleTag, ReadingTag, Setup, ThreadTag
from weftonos.core.thread.drawer import DrawerThread

#: The kinds of record that change a set-up; all others leave it as it is.
SETUP_KINDS = (
    "top_threaded",
    "bobbin_loaded",
    "needle_fitted",
    "needle_retired",
    "sandwich",
    "bobbin_reading",
    "bobbin_look",
    "look",
)


@dataclass(frozen=True)
class Event:
    """A record of the log: its number, when it was, and what it says."""

    id: int
    at: datetime
    payload: object

    @property
    def order(self) -> tuple[datetime, int]:
        """Its place in the log: by time, and within one moment as it was written."""
        return self.at, self.id


@dataclass(frozen=True, kw_only=True)
class InForce:
    """The records that decide a set-up at a moment; ``change`` is the one that began the combination."""

    top: Event | None = None
    loaded: Event | None = None
    fitted: Event | None = None
    reading: Event | None = None
    sandwich: Event | None = None
    look: Event | None = None
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
ROLES: tuple[str, ...] = tuple(field.name for field in fields(InForce))


def after(state: InForce, event: Event) -> InForce:
    """Return what is in force after one more record.

    A reading counts since the bobbin was loaded, and a test by hand in its place where there is none; a look counts
    since threads, needle or sandwich were changed. A fresh bobbin of the same thread, the same thread threaded anew,
    and the same sandwich laid again are no such change.
    """
    payload = event.payload
    match payload:
        case TopThreaded():
            same = state.top is not None and state.top.payload == payload
            state = replace(state, top=event)
        case BobbinLoaded():
            before = state.loaded.payload if state.loaded else None
            same = isinstance(before, BobbinLoaded) and before.holds == payload.holds
            state = replace(state, loaded=event, reading=None)
        case NeedleFitted():
            same = False
            state = replace(state, fitted=event)
        case SandwichLaid():
            same = state.sandwich is not None and state.sandwich.payload == payload
            state = replace(state, sandwich=event)
        case NeedleRetired():
            return replace(state, fitted=None)
        case BobbinReading():
            return replace(state, reading=event)
        case BobbinLook():
            # A number says more than a feel, whichever came later.
            read = state.reading is not None and isinstance(state.reading.payload, BobbinReading)
            return state if read else replace(state, reading=event)
        case StitchedLook():
            return replace(state, look=event)
        case _:
            return state
    return state if same else replace(state, look=None, change=event)


def setup_of(state: InForce, threads: Mapping[int, DrawerThread], cases: Mapping[int, BobbinCase]) -> Setup:
    """Return the set-up that the records in force make, with the threads and cases as they are described now.

    A thread or case that is not among them (its description cannot be read) is left out.
    """
    setup = Setup()
    if state.top and isinstance(top := state.top.payload, TopThreaded) and all(i in threads for i in top.top):
        tags = tuple(ThreadTag.of(i, threads[i]) for i in top.top)
        setup = replace(setup, top=tags, top_since=state.top.at)
    if state.loaded and isinstance(loaded := state.loaded.payload, BobbinLoaded):
        if (below := threads.get(loaded.bobbin)) is not None:
            tag = ThreadTag.of(loaded.bobbin, below)
            setup = replace(
                setup, bobbin=tag, bobbin_since=state.loaded.at, bobbin_work=loaded.bobbin_work, fill=loaded.fill
            )
        if loaded.case is not None and (case := cases.get(loaded.case)) is not None:
            setup = replace(setup, case=CaseTag(loaded.case, case.label, loaded.fill))
    if state.fitted and isinstance(fitted := state.fitted.payload, NeedleFitted):
        needle = NeedleTag(
            record_id=state.fitted.id,
            metric=fitted.metric,
            american=fitted.american,
            point=fitted.point,
            finish=fitted.finish,
            fitted_at=state.fitted.at,
        )
        setup = replace(setup, needle=needle)
    if state.reading and isinstance(reading := state.reading.payload, BobbinReading):
        read = ReadingTag(
            record_id=state.reading.id,
            mean_mn=reading.mean_mn,
            swing=reading.swing,
            calmness=reading.calmness,
            read_at=state.reading.at,
        )
        setup = replace(setup, reading=read)
    if state.reading and isinstance(felt := state.reading.payload, BobbinLook):
        tag_felt = FeltTag(record_id=state.reading.id, test=felt.test, feel=felt.feel, felt_at=state.reading.at)
        setup = replace(setup, felt=tag_felt)
    if state.sandwich and isinstance(laid := state.sandwich.payload, SandwichLaid):
        setup = replace(setup, sandwich=laid.sandwich)
    if state.look and isinstance(look := state.look.payload, StitchedLook):
        seen = LookTag(
            record_id=state.look.id,
            setting=look.setting,
            grade=look.grade,
            motion=look.motion,
            stitched_at=state.look.at,
        )
        setup = replace(setup, look=seen)
    return setup


def threads_of(payload: object) -> tuple[int, ...]:
    """Return the threads of the drawer that a record names."""
    match payload:
        case TopThreaded(top=top):
            return top
        case BobbinLoaded(bobbin=bobbin):
            return (bobbin,)
        case _:
            return ()
