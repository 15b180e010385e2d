"""What the log holds for and against: stitching with its breaks, and needles with how they ended."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, field, replace
from enum import StrEnum

from weftonos.core.evidence.compare import Unit
from weftonos.core.evidence.rates import Exposure
from weftonos.core.kernel.standing import Known, estimate
from weftonos.core.needle.life import TROUBLE, NeedleSpan
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.events import NeedleFitted, NeedleRetired


class Factor(StrEnum):
    """What two kinds can differ in."""

    TOP_THREAD = "top_thread"
    BOBBIN_THREAD = "bobbin_thread"
    FINISH = "finish"
    POINT = "point"
    SIZE = "size"
    NEEDLE_AGE = "needle_age"
    MACHINE = "machine"
    BATTING = "batting"
    FABRIC = "fabric"
    PACE = "pace"


FACTOR_NAMES = {
    Factor.TOP_THREAD: "thread on top",
    Factor.BOBBIN_THREAD: "bobbin thread",
    Factor.FINISH: "needle's finish",
    Factor.POINT: "needle's point",
    Factor.SIZE: "needle size",
    Factor.NEEDLE_AGE: "hours on the needle",
    Factor.MACHINE: "machine",
    Factor.BATTING: "batting",
    Factor.FABRIC: "fabric",
    Factor.PACE: "pace",
}
#: How it is said under what thread broke: every break counts, so it's never the thread's own, nor the needle's.
_UNDER = {
    Factor.TOP_THREAD: ("with", "{} on top"),
    Factor.BOBBIN_THREAD: ("with", "{} in the bobbin"),
    Factor.FINISH: ("with", "{} needles"),
    Factor.POINT: ("with", "{} points"),
    Factor.SIZE: ("with", "{} sizes"),
    Factor.NEEDLE_AGE: ("with", "{} on the needle"),
    Factor.MACHINE: ("on", "{}"),
    Factor.BATTING: ("with", "{} batting"),
    Factor.FABRIC: ("on", "{}"),
    Factor.PACE: ("at", "{}"),
}


def under(factor: Factor, level: str, *, short: bool = False) -> str:
    """Return under what thread broke, or that in short, where the rest was said before.

    >>> under(Factor.BOBBIN_THREAD, "Limpet 80"), under(Factor.BOBBIN_THREAD, "Oyster 60", short=True)
    ('with Limpet 80 in the bobbin', 'with Oyster 60')
    """
    preposition, says = _UNDER[factor]
    return f"{preposition} {level if short else says.format(level)}"


#: Where one class of hours on a needle, and of meters an hour, ends and the next begins.
AGES_H = tuple(estimate(hours, "h", "each twice the one before") for hours in (2, 4, 8, 16))
PACES_M_H = tuple(estimate(meters, "m/h", "slow, ordinary, fast") for meters in (30, 60))

#: What of a needle's life may differ besides; the size goes with the thread.
OF_NEEDLES = (Factor.FINISH, Factor.POINT, Factor.SIZE, Factor.MACHINE)


def needle_factors(kind: NeedleKind) -> dict[Factor, str]:
    """Return what a kind of needle is, by the factor."""
    return {Factor.FINISH: kind.finish.value, Factor.POINT: kind.point.value, Factor.SIZE: kind.sizes.value}


@dataclass(frozen=True, kw_only=True)
class Stretch:
    """Stitching on one quilt in one set-up: hours, meters where all are known, and how often the thread broke.

    ``set_up`` says what was on, by the factor; what is not on record is left out. ``records`` are the breaks, ``kinds``
    how many of them were of each symptom.
    """

    quilt: str
    set_up: Mapping[Factor, str]
    hours: float
    meters: float | None
    breaks: int
    records: tuple[int, ...] = ()
    kinds: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class NeedleUse:
    """One needle: its kind, the machine it ran in, its hours, and whether it came to trouble; else it is censored."""

    kind: NeedleKind
    machine: str
    hours: float
    trouble: bool
    still_in: bool

    @property
    def span(self) -> NeedleSpan:
        """Its hours and end, for a curve."""
        return NeedleSpan(self.hours, self.trouble)

    @property
    def set_up(self) -> Mapping[Factor, str]:
        """What it was, by the factor."""
        return {**needle_factors(self.kind), Factor.MACHINE: self.machine}


@dataclass(frozen=True, kw_only=True)
class UsedNeedle:
    """A needle with its stitched hours and the quilts it has worked on: in the machine, or part-used in a slot."""

    fitted: NeedleFitted
    hours: float = 0.0
    quilts: frozenset[str] = frozenset()

    def sewn(self, minutes: float, quilts: AbstractSet[str]) -> UsedNeedle:
        """Return it after so many more minutes, on these quilts."""
        return replace(self, hours=self.hours + minutes / 60, quilts=self.quilts | (quilts - {""}))


@dataclass(frozen=True, kw_only=True)
class NeedlesSoFar:
    """Every needle of a machine with how it ended, the one that is in, and the part-used ones by their slot."""

    uses: Sequence[NeedleUse]
    present: UsedNeedle | None
    slots: Mapping[str, UsedNeedle]


def needles_so_far(machine: str, events: Iterable[tuple[object, float | None, str]]) -> NeedlesSoFar:
    """Follow a machine's needles through its records in order: fittings and retirements, and minutes with their quilt.

    A needle that was followed by another without a word ended somehow: nobody knows how, so its hours count as hours
    without trouble. One that waits in a slot and goes back in is one needle. One that was never stitched with says
    nothing.
    """
    uses: list[NeedleUse] = []
    slots: dict[str, UsedNeedle] = {}
    present: UsedNeedle | None = None
    # What the needle that is in has sewn since it was put in: added up here, for there are hundreds of runs.
    minutes_sewn, quilts = 0.0, set[str]()

    def as_it_is() -> UsedNeedle | None:
        return present.sewn(minutes_sewn, quilts) if present else None

    def ended(needle: UsedNeedle | None, *, trouble: bool = False, still_in: bool = False) -> None:
        if needle is not None and needle.hours > 0:
            kind = NeedleKind.like(needle.fitted)
            uses.append(NeedleUse(kind=kind, machine=machine, hours=needle.hours, trouble=trouble, still_in=still_in))

    for event, minutes, quilt in events:
        match event:
            case NeedleFitted():
                ended(as_it_is())
                minutes_sewn, quilts = 0.0, set()
                kept = slots.pop(event.slot, None) if event.slot else None
                present = replace(kept, fitted=event) if kept else UsedNeedle(fitted=event)
            case NeedleRetired():
                if (taken_out := as_it_is()) and event.slot:
                    # Whatever was in the slot has made room without a word.
                    ended(slots.get(event.slot))
                    slots[event.slot] = taken_out
                else:
                    ended(taken_out, trouble=event.why in TROUBLE)
                present = None
            case _ if minutes is not None and present:
                minutes_sewn += minutes
                quilts.add(quilt)
    for needle in slots.values():
        ended(needle)
    present = as_it_is()
    ended(present, still_in=True)
    return NeedlesSoFar(uses=uses, present=present, slots=slots)


def class_of(value: float, ends: Sequence[Known]) -> str:
    """Return the class that a value falls in, in words.

    >>> class_of(5, AGES_H), class_of(1, AGES_H), class_of(70, PACES_M_H)
    ('4 to 8 h', '0 to 2 h', '60 m/h and more')
    """
    begin = 0.0
    for end in ends:
        if value < end.value:
            return f"{begin:g} to {end.value:g} {end.unit}"
        begin = end.value
    return f"{begin:g} {ends[-1].unit} and more"


def classes(ends: Sequence[Known]) -> list[str]:
    """Return all the classes, in order."""
    return [class_of(value, ends) for value in (0.0, *(end.value for end in ends))]


class Per(StrEnum):
    """What breaks are counted per."""

    HOUR = "hour"
    KILOMETER = "kilometer"


def exposures(stretches: Iterable[Stretch], per: Per = Per.HOUR) -> list[Exposure]:
    """Return what was stitched, in hours or in 1000 m where all meters are known, and breaks, by the quilt."""
    amounts: dict[str, float] = defaultdict(float)
    breaks: dict[str, int] = defaultdict(int)
    for stretch in stretches:
        if per is Per.HOUR:
            amounts[stretch.quilt] += stretch.hours
        elif stretch.meters is not None:
            amounts[stretch.quilt] += stretch.meters / 1000
        else:
            continue
        breaks[stretch.quilt] += stretch.breaks
    return [Exposure(amount=amounts[quilt], breaks=breaks[quilt]) for quilt in amounts if amounts[quilt] > 0]


def by_level(stretches: Sequence[Stretch], factor: Factor) -> dict[str, list[Stretch]]:
    """Return stretches by what they were with."""
    found: dict[str, list[Stretch]] = {}
    for stretch in stretches:
        if level := stretch.set_up.get(factor):
            found.setdefault(level, []).append(stretch)
    return found


def break_units(stretches: Sequence[Stretch], factor: Factor, symptom: str = "") -> list[Unit]:
    """Return each quilt's share of each kind, for comparing how often thread breaks; other factors stand beside.

    With ``symptom`` only breaks of that kind count.
    """
    grouped: dict[tuple[str, str, tuple[tuple[str, str], ...]], list[Stretch]] = {}
    for stretch in stretches:
        if not (level := stretch.set_up.get(factor)):
            continue
        besides = tuple(
            (FACTOR_NAMES[other], stretch.set_up[other])
            for other in (Factor.MACHINE, Factor.TOP_THREAD, Factor.BATTING)
            if other is not factor and other in stretch.set_up
        )
        grouped.setdefault((level, stretch.quilt, besides), []).append(stretch)
    return [
        Unit(
            kind=level,
            amount=sum(s.hours for s in mine),
            events=sum(s.kinds.get(symptom, 0) if symptom else s.breaks for s in mine),
            besides=dict(besides),
            quilt=quilt,
        )
        for (level, quilt, besides), mine in grouped.items()
    ]


def life_units(uses: Sequence[NeedleUse], factor: Factor) -> list[Unit]:
    """Return each needle, for comparing how long they last."""
    return [
        Unit(
            kind=use.set_up[factor],
            amount=use.hours,
            events=int(use.trouble),
            besides={FACTOR_NAMES[other]: use.set_up[other] for other in OF_NEEDLES if other is not factor},
        )
        for use in uses
    ]
