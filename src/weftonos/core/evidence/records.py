"""What the log holds for and against: stitching with its breaks, and needles with how they ended."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.evidence.compare import Unit
from weftonos.core.evidence.rates import Exposure
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
    MACHINE = "machine"
    BATTING = "batting"


FACTOR_NAMES = {
    Factor.TOP_THREAD: "thread",
    Factor.BOBBIN_THREAD: "bobbin thread",
    Factor.FINISH: "needle's finish",
    Factor.POINT: "needle's point",
    Factor.SIZE: "needle size",
    Factor.MACHINE: "machine",
    Factor.BATTING: "batting",
}
#: What of a needle's life may differ besides; the size goes with the thread.
OF_NEEDLES = (Factor.FINISH, Factor.POINT, Factor.SIZE, Factor.MACHINE)


def needle_factors(kind: NeedleKind) -> dict[Factor, str]:
    """Return what a kind of needle is, by the factor."""
    return {Factor.FINISH: kind.finish.value, Factor.POINT: kind.point.value, Factor.SIZE: kind.sizes.value}


@dataclass(frozen=True, kw_only=True)
class Stretch:
    """Stitching on one quilt in one set-up: hours, metres where they are known, and how often the thread broke.

    ``set_up`` says what was on, by the factor; what is not on record is left out. ``records`` are the breaks.
    """

    quilt: str
    set_up: Mapping[Factor, str]
    hours: float
    metres: float
    breaks: int
    records: tuple[int, ...] = ()


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


def needle_uses(machine: str, events: Iterable[tuple[object, float | None]]) -> Iterator[NeedleUse]:
    """Yield every needle of a machine from its records in order: fittings and retirements, and minutes stitched.

    A needle that was followed by another without a word ended somehow: nobody knows how, so its hours count as hours
    without trouble. One that was never stitched with says nothing.
    """
    kind: NeedleKind | None = None
    hours = 0.0
    for event, minutes in events:
        if minutes is not None:
            hours += minutes / 60
        elif isinstance(event, NeedleFitted | NeedleRetired):
            if kind is not None and hours > 0:
                trouble = isinstance(event, NeedleRetired) and event.why in TROUBLE
                yield NeedleUse(kind=kind, machine=machine, hours=hours, trouble=trouble, still_in=False)
            fitted = isinstance(event, NeedleFitted)
            kind = NeedleKind.of(event.finish, event.point, event.metric) if isinstance(event, NeedleFitted) else None
            hours = 0.0 if fitted else hours
    if kind is not None and hours > 0:
        yield NeedleUse(kind=kind, machine=machine, hours=hours, trouble=False, still_in=True)


def exposures(stretches: Iterable[Stretch]) -> list[Exposure]:
    """Return hours and breaks by the quilt."""
    hours: dict[str, float] = defaultdict(float)
    breaks: dict[str, int] = defaultdict(int)
    for stretch in stretches:
        hours[stretch.quilt] += stretch.hours
        breaks[stretch.quilt] += stretch.breaks
    return [Exposure(amount=hours[quilt], breaks=breaks[quilt]) for quilt in hours if hours[quilt] > 0]


def by_level(stretches: Sequence[Stretch], factor: Factor) -> dict[str, list[Stretch]]:
    """Return stretches by what they were with."""
    found: dict[str, list[Stretch]] = {}
    for stretch in stretches:
        if level := stretch.set_up.get(factor):
            found.setdefault(level, []).append(stretch)
    return found


def break_units(stretches: Sequence[Stretch], factor: Factor) -> list[Unit]:
    """Return each quilt's share of each kind, for comparing how often thread breaks; other factors stand beside."""
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
            events=sum(s.breaks for s in mine),
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
