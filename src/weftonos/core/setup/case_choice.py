"""Which case for a bobbin thread, and how far its screw goes from one thread to another.

Many keep a case for each fiber, or turn one screw between two threads by trial (common practice). That the turn between
two threads in one case repeats is ours to show (E): it is learned from bobbins that were right, by gauge or by hand.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from statistics import fmean

from weftonos.core.bobbin.events import BobbinLook, BobbinReading, Feel, ScrewTurned
from weftonos.core.bobbin.gauge import Verdict
from weftonos.core.bobbin.rack import BobbinCase
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.spoken import pull, so_many
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


@dataclass(frozen=True, kw_only=True)
class LearnedTurn:
    """The turn of the screw from the thread before to this one: signed minutes, above 0 in, from how many times."""

    minutes: int
    times: int
    text: str


def _walked(
    records: Iterable[object], case: int | None, one_thread: Callable[[int], int]
) -> tuple[dict[tuple[int, int], list[float]], int | None, float, bool]:
    """Return the turns between threads, and how the case stands: the thread last right, minutes since, felt since."""
    found: dict[tuple[int, int], list[float]] = {}
    right: int | None = None
    now: int | None = None
    minutes, judged = 0.0, False
    for record in records:
        match record:
            case BobbinLoaded():
                now = one_thread(record.bobbin) if record.case == case and not record.bobbin_work else None
                judged = False
            case ScrewTurned() if record.case in (None, case):
                minutes += record.minutes
            case BobbinLook() | BobbinReading() if now is not None and record.case in (None, case):
                judged = True
                good = (
                    record.feel is Feel.RIGHT if isinstance(record, BobbinLook) else record.verdict is Verdict.ON_TARGET
                )
                if good:
                    if right is not None and right != now:
                        found.setdefault((right, now), []).append(minutes)
                    right, minutes = now, 0.0
    return found, right, minutes, judged


def learned_turns(
    records: Iterable[object], case: int | None, one_thread: Callable[[int], int]
) -> Mapping[tuple[int, int], Sequence[float]]:
    """Return the minutes a case's screw was turned from one thread that was right to the next that was.

    ``records`` are loads, readings, looks and turns of a machine, oldest first. A reading in its range is right, and a
    hang or palm test that said so; ``one_thread`` gives the thread that stands for all colors of a line.
    """
    return _walked(records, case, one_thread)[0]


def learned_turn(records: Iterable[object], load: BobbinLoaded, one_thread: Callable[[int], int]) -> LearnedTurn | None:
    """Return the turn for the bobbin just loaded; ``None`` once it was felt or turned, or where none was learned."""
    turns, right, minutes, judged = _walked(records, load.case, one_thread)
    now = one_thread(load.bobbin)
    if judged or minutes or right is None or right == now:
        return None
    known = [*turns.get((right, now), ()), *(-back for back in turns.get((now, right), ()))]
    if not known:
        return None
    mean, times = round(fmean(known)), len(known)
    when = "the last time" if times == 1 else f"the last {times} times"
    took = _took(min(known), max(known))
    act = f"Turn it {'in' if mean > 0 else 'out'} {so_many(abs(mean), 'minute')}, then feel it." if mean else ""
    return LearnedTurn(
        minutes=mean,
        times=times,
        text=f"From the thread before to this one the screw took {took}, {when}. {act or 'Leave it, and feel it.'}",
    )


def _took(least: float, most: float) -> str:
    if abs(least) < 0.5 and abs(most) < 0.5:
        return "no turn"
    if least * most < 0:
        return f"between {figure(abs(least))} minutes out and {figure(abs(most))} in"
    low, high = sorted((abs(least), abs(most)))
    way = "in" if least + most > 0 else "out"
    return f"{so_many(high, 'minute')} {way}" if low == high else f"{figure(low)} to {figure(high)} minutes {way}"


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
