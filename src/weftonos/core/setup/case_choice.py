"""Which case for a bobbin thread, and how far its screw goes from one thread to another.

Many keep a case for each fiber, or turn one screw between two threads by trial (common practice). That the turn between
two threads in one case repeats is ours to show (E): it is learned from bobbins that were right, by gauge or by hand.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from statistics import fmean

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, ScrewTurned
from weftonos.core.bobbin.gauge import Verdict
from weftonos.core.bobbin.rack import BobbinCase
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.spoken import pull, so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.events import BobbinLoaded
from weftonos.core.thread.label import fibers_named
from weftonos.core.thread.thread import FIBER_NAMES, Thread


@dataclass(frozen=True, kw_only=True)
class KnownCase:
    """A case of the rack: what was found on it (or empty), and what it last read in mN, where it was read."""

    id: int
    spec: BobbinCase
    fault: str = ""
    last_mn: float | None = None


@dataclass(frozen=True, kw_only=True)
class CaseAdvice:
    """Which case to take (``case``, or none), and why; ``wrong``: something speaks against the one that is in."""

    case: int | None
    label: str
    text: str
    wrong: bool


def why_not(case: KnownCase, thread: Thread) -> str:
    """Return what speaks against a thread in a case: it is marked, or kept for another fiber; else nothing.

    What it is kept for counts where it names a fiber: "dark colors" is for any.
    """
    if case.fault:
        return f"Case {case.spec.label} is marked: {case.fault}."
    fibers = fibers_named(case.spec.kept_for)
    if fibers and thread.fiber not in fibers:
        return f"Case {case.spec.label} is for {case.spec.kept_for}, and this is {FIBER_NAMES[thread.fiber]}."
    return ""


def case_advice(cases: Sequence[KnownCase], thread: Thread, present: int | None) -> CaseAdvice | None:
    """Return which case to take for a bobbin thread; ``None`` where the one that is in will do, or nothing is known.

    ``present`` is the case the thread is in already, where one is noted.
    """
    now = next((case for case in cases if case.id == present), None)
    against = why_not(now, thread) if now else ""
    if now and not against:
        return None
    kept = [
        case
        for case in cases
        if case.id != present and not case.fault and thread.fiber in fibers_named(case.spec.kept_for)
    ]
    if kept:
        best = next((case for case in kept if case.last_mn), kept[0])
        read = f" It last read {pull(best.last_mn)}." if best.last_mn else ""
        said = f"Case {best.spec.label} is for {best.spec.kept_for}.{read}"
        return CaseAdvice(case=best.id, label=best.spec.label, text=f"{against} {said}".strip(), wrong=bool(against))
    if not against:
        return None
    more = " Use another case." if now and now.fault else ""
    return CaseAdvice(case=None, label="", text=f"{against}{more}", wrong=True)


#: So many changes between two threads in one case, of its last bobbins, make a second case worth its price.
OFTEN, OF_THE_LAST_BOBBINS = estimate(5, "changes"), estimate(30, "bobbins")


def second_case(records: Iterable[object], load: BobbinLoaded, one_thread: Callable[[int], int], minutes: float) -> str:
    """Say that a second case would spare turning for the thread of ``load``; empty where it's seldom turned for.

    ``minutes`` is what a turn takes here with what follows it. Records and ``one_thread`` are those of :func:`walked`.
    """
    loads = [
        one_thread(record.bobbin)
        for record in records
        if isinstance(record, BobbinLoaded) and record.ordinary_in(load.case)
    ][-int(OF_THE_LAST_BOBBINS.value) :]
    new = one_thread(load.bobbin)
    other = next((thread for thread in reversed(loads) if thread != new), new)
    changes = sum({a, b} == {new, other} for a, b in pairwise(loads) if a != b)
    if changes < OFTEN.value:
        return ""
    times, whole = f"{changes} times in {len(loads)} bobbins", round(minutes)
    work = f"about {whole} minutes' work" if whole > 1 else "a minute's work"
    return f"You changed between these two threads {times}, {work} each. A second case set for one of them saves that."


@dataclass(frozen=True, kw_only=True)
class LearnedTurn:
    """The turn of the screw from the thread before to this one: signed minutes, above 0 in, from how many times.

    ``took`` is what it took so far, ``text`` that and what to do; ``unread``: it needn't be felt after the turn.
    """

    minutes: int
    times: int
    took: str
    text: str
    unread: bool = False

    def without_a_look(self) -> LearnedTurn:
        """Return the turn where the bobbin may go unfelt after it."""
        return replace(self, text=f"{self.took} {_turn_it(self.minutes)}. No need to feel it this time.", unread=True)


def _turn_it(minutes: int) -> str:
    return f"Turn it {'in' if minutes > 0 else 'out'} {so_many(abs(minutes), 'minute')}"


@dataclass(kw_only=True)
class CaseSoFar:
    """What a case went through: the turns between its threads, and how it stands.

    ``turns`` are the minutes from one thread that was right to the next that was, ``at_once`` each turn between two
    threads with whether the first look at it said right. ``right`` was last right, ``minutes`` were turned since, over
    so many ``bobbins`` of these ``threads``; ``judged`` and ``turned`` say what was done to what is in, ``now``.
    """

    turns: dict[tuple[int, int], list[float]] = field(default_factory=dict)
    at_once: list[tuple[tuple[int, int], float, bool]] = field(default_factory=list)
    right: int | None = None
    now: int | None = None
    minutes: float = 0.0
    bobbins: int = 0
    threads: set[int] = field(default_factory=set)
    judged: bool = False
    turned: bool = False

    def load(self, thread: int | None) -> None:
        """A bobbin is put in: of a ``thread`` in this case, or another that is nothing to it."""
        self.now, self.judged, self.turned = thread, False, False
        if thread is not None:
            self.bobbins += 1
            self.threads.add(thread)

    def turn(self, minutes: float) -> None:
        """The screw is turned, above 0 in."""
        self.minutes += minutes
        self.turned = True

    def forget(self) -> None:
        """Something was mended on it: how it stands is not known. What one thread takes more than the other is."""
        self.right, self.minutes = None, 0.0

    def look(self, thread: int, *, good: bool) -> None:
        """The bobbin of ``thread`` is read or felt."""
        if self.right not in (None, thread):
            if not self.judged:
                self.at_once.append(((self.right, thread), self.minutes, good))
            if good:
                self.turns.setdefault((self.right, thread), []).append(self.minutes)
        self.judged = True
        if good:
            self.right, self.minutes, self.bobbins, self.threads = thread, 0.0, 0, set()


def walked(records: Iterable[object], case: int | None, one_thread: Callable[[int], int]) -> CaseSoFar:
    """Return what a case went through by loads, readings, looks, and turns of a machine, oldest first.

    A reading in its range is right, and a hang or palm test that said so; ``one_thread`` gives the thread that stands
    for all colors of a line. Whatever else is among the records ends what was known.
    """
    found = CaseSoFar()
    for record in records:
        match record:
            case BobbinLoaded():
                found.load(one_thread(record.bobbin) if record.ordinary_in(case) else None)
            case ScrewTurned() if record.case in (None, case):
                found.turn(record.minutes)
            case BobbinLook() if found.now is not None and record.case in (None, case):
                found.look(found.now, good=record.feel is Feel.RIGHT)
            case BobbinReading() if found.now is not None and record.case in (None, case):
                found.look(found.now, good=record.verdict is Verdict.ON_TARGET)
            case BobbinLook() | BobbinReading() | ScrewTurned():
                pass
            case _:
                found.forget()
    return found


def learned_turns(
    records: Iterable[object], case: int | None, one_thread: Callable[[int], int]
) -> Mapping[tuple[int, int], Sequence[float]]:
    """Return the minutes a case's screw was turned from one thread that was right to the next that was.

    Records and ``one_thread`` are those of :func:`walked`.
    """
    return walked(records, case, one_thread).turns


def learned_turn(records: Iterable[object], load: BobbinLoaded, one_thread: Callable[[int], int]) -> LearnedTurn | None:
    """Return the turn for the bobbin just loaded; ``None`` once it was felt or turned, or where none was learned."""
    case = walked(records, load.case, one_thread)
    now = one_thread(load.bobbin)
    if case.judged or case.turned or case.right is None:
        return None
    if case.right == now and case.minutes and case.threads > {now}:
        took = f"For the thread between, the screw {_went(case.minutes, case.minutes)}, and nobody felt that."
        return _learned(round(-case.minutes), 1, took)
    known = [*case.turns.get((case.right, now), ()), *(-back for back in case.turns.get((now, case.right), ()))]
    if case.minutes or not known:
        return None
    times = len(known)
    last = "The last time" if times == 1 else f"The last {times} times"
    took = f"{last} this thread came after that one, the screw {_went(min(known), max(known))}."
    return _learned(round(fmean(known)), times, took)


def _learned(minutes: int, times: int, took: str) -> LearnedTurn:
    act = f"{_turn_it(minutes)}, then feel it." if minutes else "Leave it, and feel it."
    return LearnedTurn(minutes=minutes, times=times, took=took, text=f"{took} {act}")


def _went(least: float, most: float) -> str:
    if abs(least) < 0.5 and abs(most) < 0.5:
        return "stayed where it was"
    if least * most < 0:
        return f"went anywhere from {figure(abs(least))} minutes out to {figure(abs(most))} in"
    low, high = sorted((abs(least), abs(most)))
    way = "in" if least + most > 0 else "out"
    far = so_many(high, "minute") if low == high else f"{figure(low)} to {figure(high)} minutes"
    return f"went {far} {way}"


def turns_on_label(
    turns: Mapping[tuple[int, int], Sequence[float]], names: Mapping[int, str], most: int = 3
) -> list[str]:
    """Return a case's learned turns as its label says them, best known first: "Plover 60 to Fern 50: 10 min in"."""
    both: dict[tuple[int, int], list[float]] = {}
    for (one, other), minutes in turns.items():
        if (other, one) in both:
            both[other, one] += [-each for each in minutes]
        else:
            both[one, other] = list(minutes)
    ranked = sorted(both.items(), key=lambda pair: -len(pair[1]))
    said = []
    for (one, other), minutes in ranked:
        if one not in names or other not in names:
            continue
        mean = round(fmean(minutes))
        way = "as it is" if mean == 0 else f"{abs(mean)} min {'in' if mean > 0 else 'out'}"
        said.append(f"{names[one]} to {names[other]}: {way}")
    return said[:most]
