"""A plan cut into evenings, at places where one can stop: between passes, and where a bobbin is empty."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.upkeep import CLEANING
from weftonos.core.plan.order import SCREW_AND

USUAL_EVENING = estimate(2.0, "h")
#: A pass without a bobbin to count by is cut into parts of about so long.
PART = estimate(0.5, "h", "a place to stop comes up")
#: An evening may run over by so much rather than leave a little for the next.
RUNS_OVER = estimate(0.1, "", "of an evening")
#: A plan that takes longer is no plan.
MOST_EVENINGS = 400


@dataclass(frozen=True, kw_only=True)
class ToSew:
    """A pass as it is still to sew: hours, bobbins, the change before it, and what is due on the way.

    What one pass leaves on a bobbin, the next one with the same thread ``below`` sews on.

    ``done`` is the share that is sewn already; ``hours`` and ``bobbins`` are what is left.
    """

    key: int
    words: str
    hours: float
    bobbins: float | None
    change_minutes: float
    change: Sequence[str]
    top: str = ""
    below: str = ""
    needle: str = ""
    done: float = 0.0
    life_h: float | None = None


@dataclass(frozen=True, kw_only=True)
class PartOfPass:
    """What of a pass is sewn in an evening, from which share of it to which, and what is done ``before`` it.

    ``sews`` says so: ``"Motif, up to 64%"``.
    """

    key: int
    words: str
    sews: str
    before: Sequence[str]
    from_share: float
    to_share: float
    hours: float


@dataclass(frozen=True, kw_only=True)
class Evening:
    """One evening: its day, its hours, what to wind before, what is sewn, and what to do at its end.

    ``bobbins`` is how many are wound, 0 too where nobody knows what one holds.
    """

    number: int
    day: date | None
    hours: float
    bobbins: int
    before: Sequence[str]
    passes: Sequence[PartOfPass]
    after: Sequence[str]


#: What is done at the end of an evening.
CLEAN, OIL = "Clean the hook area", "Oil the hook, as the manual says"


@dataclass(frozen=True)
class Hours:
    """Stitching hours on the machine when the plan goes on: on its needle, since it was oiled, since it was cleaned."""

    needle: float = 0.0
    oil: float = 0.0
    clean: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Every:
    """After how many hours it is oiled and cleaned, and the minutes that a cleaning takes."""

    oil: float
    clean: float
    clean_min: float = CLEANING.value


@dataclass(kw_only=True)
class _Open:
    """An evening while it is filled."""

    passes: list[PartOfPass]
    bobbins: dict[str, int] = field(default_factory=dict)
    hours: float = 0.0

    def sew(self, each: ToSew, part: _Part, before: Sequence[str]) -> None:
        """Sew a part: with the one before it of the same pass it is one, unless something is done between."""
        low, hours = part.low, part.hours
        if self.passes and self.passes[-1].key == each.key and not before:
            last = self.passes.pop()
            low, hours, before = last.from_share, last.hours + hours, last.before
        self.passes.append(
            PartOfPass(
                key=each.key,
                words=each.words,
                sews=_stretch(each.words, low, part.high),
                before=before,
                from_share=low,
                to_share=part.high,
                hours=hours,
            )
        )

    @property
    def to_wind(self) -> list[str]:
        """What to wind for it, thread by thread."""
        return [f"Wind {so_many(n, 'bobbin')}{f' of {below}' if below else ''}" for below, n in self.bobbins.items()]


def evenings(
    work: Sequence[ToSew],
    *,
    each_h: float | None = None,
    days: Sequence[int] = (),
    starts: date | None = None,
    hours: Hours | None = None,
    every: Every,
) -> list[Evening]:
    """Cut the work, in its order, into evenings.

    Parameters
    ----------
    each_h: the hours of one evening, the changes among them; a cleaning at its end may make it longer.
    days: the weekdays that are sewn on, 0 is Monday; any day if none is given.
    starts: the first day; without one, evenings have numbers alone.
    """
    room = each_h or USUAL_EVENING.value
    meter = hours or Hours()
    since = {"oil": meter.oil, "clean": meter.clean}
    needle = meter.needle
    found: list[tuple[_Open, list[str]]] = []
    now = _Open(passes=[])

    def close() -> None:
        nonlocal now
        after = []
        for what, words in (("clean", CLEAN), ("oil", OIL)):
            if since[what] >= getattr(every, what):
                after.append(words)
                since[what] = 0.0
                now.hours += every.clean_min / 60 if what == "clean" else 0.0
        found.append((now, after))
        now = _Open(passes=[])

    in_bobbin, below = 0.0, ""
    for each in work:
        change = each.change_minutes / 60
        parts = list(_parts(each, in_bobbin if each.below == below else 0.0))
        in_bobbin, below = parts[-1].left, each.below
        # A change is made on the evening that sews the pass.
        if now.passes and now.hours + change + parts[0].hours > room * (1 + RUNS_OVER.value):
            close()
        before = _to_do(each)
        now.hours += change
        if "needle" in each.change:
            needle = 0.0
        for part in parts:
            spent = part.hours
            if now.passes and now.hours + spent > room * (1 + RUNS_OVER.value):
                close()
            if each.life_h and needle >= each.life_h:
                before.append(f"Fit a new {each.needle or 'needle'}")
                needle = 0.0
            if part.fresh:
                now.bobbins[each.below] = now.bobbins.get(each.below, 0) + 1
            now.hours += spent
            needle += spent
            since["oil"] += spent
            since["clean"] += spent
            now.sew(each, part, before)
            before = []
        if len(found) >= MOST_EVENINGS:
            break
    if now.passes:
        close()
    dates = _days(starts, days)
    return [
        Evening(
            number=number,
            day=next(dates),
            hours=one.hours,
            bobbins=sum(one.bobbins.values()),
            before=one.to_wind,
            passes=one.passes,
            after=after,
        )
        for number, (one, after) in enumerate(found, 1)
    ]


def _stretch(words: str, from_share: float, to_share: float) -> str:
    """Return a pass with how much of it: all, from a share on or up to one."""
    begins, ends = (f"{share:.0%}" for share in (from_share, to_share))
    if (begins, ends) == ("0%", "100%"):
        return words
    if begins == "0%":
        return f"{words}, up to {ends}"
    return f"{words}, from {begins} to {'the end' if ends == '100%' else ends}"


@dataclass(frozen=True, kw_only=True)
class _Part:
    """A part of a pass that is sewn at one go; ``left`` is what of a bobbin is left after it, ``fresh`` a new one."""

    low: float
    high: float
    hours: float
    fresh: bool = False
    left: float = 0.0


def _parts(each: ToSew, in_bobbin: float) -> Iterator[_Part]:
    """Yield the parts a pass is sewn in: each until its bobbin is empty."""
    if each.bobbins is None:
        count = max(1, round(each.hours / PART.value))
        for n in range(count):
            low, high = (each.done + (1 - each.done) * k / count for k in (n, n + 1))
            yield _Part(low=low, high=high, hours=each.hours / count)
        return
    sewn, fresh = 0.0, in_bobbin <= 0
    room = 1.0 if fresh else in_bobbin
    while True:
        ends = min(each.bobbins, sewn + room)
        low, high = (each.done + (1 - each.done) * at / each.bobbins for at in (sewn, ends))
        hours = each.hours * (ends - sewn) / each.bobbins
        yield _Part(low=low, high=high, hours=hours, fresh=fresh, left=sewn + room - ends)
        if ends >= each.bobbins:
            return
        sewn, room, fresh = ends, 1.0, True


_CHANGES: Mapping[str, str] = {
    "the other machine": "Load it on the other machine",
    SCREW_AND[Feature.GAUGE]: "Turn the screw and read the bobbin",
    SCREW_AND[Feature.BY_HAND]: "Turn the screw and test the bobbin by hand",
    "guide holes": "Thread the guide holes for it",
    "a test line": "Sew one test line",
}


def _to_do(each: ToSew) -> list[str]:
    """Return what is done before a pass, a sentence each."""
    found = []
    for what in each.change:
        if what == "thread":
            found.append(f"Put {each.top or 'its thread'} on top")
        elif what == "needle":
            found.append(f"Fit {each.needle or 'its needle'}")
        elif what == "bobbin":
            found.append(f"Put {each.below or 'its thread'} in the bobbin")
        elif words := _CHANGES.get(what):
            found.append(words)
    return found


def _days(starts: date | None, days: Sequence[int]) -> Iterator[date | None]:
    day = starts
    while True:
        if day is None:
            yield None
            continue
        while days and day.weekday() not in days:
            day += timedelta(days=1)
        yield day
        day += timedelta(days=1)
