"""One's own records in the advice: when a needle is due, which point, which thread first; and a word beside it.

One question of the schools (``own_records``) says whether they go into the advice or only stand beside it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from weftonos.core.bobbin.conditions import ReadUnder
from weftonos.core.evidence.compare import Compared, Unit, compare_rates
from weftonos.core.evidence.rates import Exposure, Rate, learn_spread, mean_of, rate_of
from weftonos.core.evidence.records import Factor, Stretch, break_units, by_level, exposures
from weftonos.core.evidence.survival import own_change
from weftonos.core.kernel.care import Care
from weftonos.core.kernel.counting import counted
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.schools import MachineKind, Schools
from weftonos.core.kernel.spoken import in_hours, so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.needle.life import NeedleLife, NeedleSpan, OwnChange, PointInUse, needle_life
from weftonos.core.needle.needle import NeedleKind, Point
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.look_wish import Ran
from weftonos.knowledge import troubles
from weftonos.learned.answer_cache import remembered
from weftonos.learned.at_stake import care_of, feeds, minutes_here
from weftonos.learned.time_on import TimeOn
from weftonos.store.evidence import last_of, read_stretches, thread_names
from weftonos.store.workshop import Workshop

#: A machine's last runs and troubles that the advice goes by; older ones are another needle bar and another timing.
RUNS_THAT_ADVISE = 1000
ONE_WAY = "breaks_in_one_travel_direction_only"
#: The points between which the schools' question of the point is settled by records.
POINTS = (Point.BALLPOINT.value, Point.TOPSTITCH.value)


def needle_spans(workshop: Workshop, machine_id: int) -> Mapping[NeedleKind, Sequence[NeedleSpan]]:
    """Return hours and end of a machine's last needles by kind, the one that is in among them."""
    return remembered(workshop, ("spans", machine_id), lambda: workshop.runs.needle_spans(machine_id))


def change_by_records(workshop: Workshop, machine_id: int, setup: Setup) -> OwnChange | None:
    """Return when the machine's own needles of the kind that is in are best changed; ``None`` where too few say."""
    if setup.needle is None:
        return None
    return own_change(needle_spans(workshop, machine_id).get(NeedleKind.like(setup.needle), ()))


def life_of(
    workshop: Workshop, machine_id: int, setup: Setup, on: TimeOn, care: Care | None = None
) -> NeedleLife | None:
    """Return how the needle that is in stands by the machine's school, or by its own records where they advise.

    Without ``care`` it is that of the quilt that is on: it says when a change pays, not how worn a needle is.
    """
    if setup.needle is None:
        return None
    own = change_by_records(workshop, machine_id, setup) if feeds(workshop, machine_id) else None
    machine = workshop.machine(machine_id).spec
    wears = PointInUse(
        point=setup.needle.point,
        longarm=machine.kind is MachineKind.LONGARM,
        dense=bool(setup.sandwich and setup.sandwich.weave.dense),
    )
    return needle_life(
        machine.life_school,
        setup.needle.finish,
        on.needle_hours,
        on.needle_quilts,
        own,
        wears=wears,
        care=care or care_of(workshop, setup.quilt),
        change=minutes_here(workshop, machine_id).needle,
    )


def _recent(workshop: Workshop, machine_id: int) -> Sequence[Stretch]:
    def read() -> Sequence[Stretch]:
        since = last_of(workshop.session, machine_id, RUNS_THAT_ADVISE)
        return read_stretches(workshop.session, troubles().breaking, since)

    return remembered(workshop, ("recent", machine_id), read)


def minutes_on(workshop: Workshop, machine_id: int, quilt: str) -> float:
    """Return the stitching minutes on record for a quilt on one machine."""
    return remembered(workshop, ("on", machine_id, quilt), lambda: workshop.quilts.minutes_on(machine_id, quilt))


def read_under(workshop: Workshop, case_id: int) -> Sequence[ReadUnder]:
    """Return the last readings of a case with what each was taken under, oldest first."""
    return remembered(workshop, ("read under", case_id), lambda: workshop.readings_under(case_id))


def schools_here(workshop: Workshop, machine_id: int) -> Schools:
    """Return the sides that are taken on a machine; the point is that of its own records where they have settled it."""
    schools = workshop.machine(machine_id).spec.schools
    if schools.takes("own_records") != "feed" or not workshop.runs.fitted_all(machine_id, POINTS):
        return schools
    return remembered(workshop, ("schools", machine_id), lambda: _settled(schools, _recent(workshop, machine_id)))


def _settled(schools: Schools, stretches: Sequence[Stretch]) -> Schools:
    for symptom, what in ((ONE_WAY, "broke thread in one direction"), ("", "broke thread")):
        units = break_units(stretches, Factor.POINT, symptom)
        found = _compared(tuple(_hashable(unit) for unit in units))
        if found.said and found.ratio is not None and found.low is not None and found.high is not None:
            worse, better = POINTS if found.ratio > 1 else POINTS[::-1]
            times, low, high = (
                (found.ratio, found.low, found.high)
                if found.ratio > 1
                else (1 / found.ratio, 1 / found.high, 1 / found.low)
            )
            why = (
                f"Your records on this machine: a {worse} {what} {figure(times, 1)} times as often as a {better} "
                f"({figure(low, 1)} to {figure(high, 1)})."
            )
            return schools.settled("point", better, why)
    return schools


#: Below so many hours with other threads nothing is said of what is usual.
TOLD_FROM_H = estimate(2, "h")


def breaks_here(workshop: Workshop, machine_id: int, setup: Setup) -> str:
    """Return how often thread broke with the top thread that is on, beside what is usual; empty without a record.

    What is usual is the rate with every other thread on this machine.
    """
    if not setup.top:
        return ""
    names = thread_names(workshop.session)
    top = " + ".join(names.get(tag.id, "?") for tag in setup.top)
    levels = _by_thread(workshop, machine_id)
    mine = levels.pop(top, [])
    breaks, hours = sum(s.breaks for s in mine), sum(s.hours for s in mine)
    if not breaks or not hours:
        return ""
    others = exposures([each for level in levels.values() for each in level])
    usual = mean_of(others) if sum(each.amount for each in others) >= TOLD_FROM_H.value else None
    beside = f" With other threads one in {in_hours(1 / usual)}." if usual else ""
    return f"{so_many(breaks, 'break')} in {in_hours(hours)} with {top}.{beside}"


@dataclass(frozen=True, kw_only=True)
class RanHere:
    """How one thread ran on a machine while it was on top alone; breaks an hour between ``low`` and ``high``."""

    breaks: int
    hours: float
    low: float | None
    high: float | None
    quilts: Sequence[str]


def ran_here(workshop: Workshop, machine_id: int, thread_id: int) -> RanHere | None:
    """Return how a thread ran on a machine; ``None`` where it was never sewn with. 8 times in 10 within its range."""
    level = thread_names(workshop.session).get(thread_id, "")
    levels = _by_thread(workshop, machine_id)
    mine = levels.get(level, [])
    hours = sum(stretch.hours for stretch in mine)
    if not hours:
        return None
    rate = _rates(tuple(_exposed(levels).items())).get(level)
    return RanHere(
        breaks=sum(stretch.breaks for stretch in mine),
        hours=hours,
        low=rate.likely_low if rate else None,
        high=rate.likely_high if rate else None,
        quilts=list(dict.fromkeys(stretch.quilt for stretch in mine if not stretch.quilt.startswith("on "))),
    )


_Row = tuple[str, float, int, tuple[tuple[str, str], ...], str]


def _hashable(unit: Unit) -> _Row:
    return unit.kind, unit.amount, unit.events, tuple(unit.besides.items()), unit.quilt


@lru_cache(maxsize=32)
def _compared(rows: tuple[_Row, ...]) -> Compared:
    units = [Unit(kind=k, amount=a, events=e, besides=dict(b), quilt=q) for k, a, e, b, q in rows]
    return compare_rates(units, *POINTS)


def threads_that_ran(workshop: Workshop, machine_id: int) -> tuple[Mapping[str, Ran], float]:
    """Return how each thread ran on a machine while it was on top alone, by its name in full, and the mean of all."""
    levels = _by_thread(workshop, machine_id)
    groups = _exposed(levels)
    rates = _rates(tuple(groups.items()))
    ran = {}
    for level, told in groups.items():
        count = counted(sum(e.breaks for e in told), sum(e.amount for e in told))
        per_hour = rates[level].per_unit if level in rates else 0.0
        ran[level] = Ran(per_hour=per_hour, text=f"{count} on this machine")
    return ran, mean_of([each for told in groups.values() for each in told]) or 0.0


def _by_thread(workshop: Workshop, machine_id: int) -> dict[str, list[Stretch]]:
    """Return a machine's last stretches by what was on top, by its name in full."""
    return by_level(_recent(workshop, machine_id), Factor.TOP_THREAD)


def _exposed(levels: Mapping[str, Sequence[Stretch]]) -> dict[str, tuple[Exposure, ...]]:
    """Return what was stitched with each, by the quilt; what was never stitched with is left out."""
    return {level: told for level, mine in levels.items() if (told := tuple(exposures(mine)))}


@lru_cache(maxsize=32)
def _rates(groups: tuple[tuple[str, tuple[Exposure, ...]], ...]) -> Mapping[str, Rate]:
    mean = mean_of([each for _, mine in groups for each in mine])
    spread = learn_spread([mine for _, mine in groups])
    told = {level: rate_of(mine, spread, mean) for level, mine in groups}
    return {level: rate for level, rate in told.items() if rate is not None}
