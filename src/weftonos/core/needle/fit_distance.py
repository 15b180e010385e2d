"""How far a needle is from the best one for a thread: in sizes, with the one word that follows from it.

One size off is taste, two are a cause, three a fault (our estimate). The best size is the one the pairing names, or the
nearest to it that this point takes and is made in.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.spoken import so_many
from weftonos.core.needle.groove_fit import FitState, fit_of
from weftonos.core.needle.needle import (
    ALL_SIZES,
    COMMON_SIZES,
    STRETCHES_FROM,
    WONT_FROM,
    NeedleSize,
    Point,
    is_made,
    sizes_apart,
)
from weftonos.core.needle.pairing import NeedleChoice, Pairing, nearest_made
from weftonos.core.thread.thread import Bundle


class Judgment(StrEnum):
    """What a needle does with a thread, by its distance from the best."""

    BEST = "best"
    GOES = "goes"
    STRETCHES = "stretches"
    WONT = "won't"


@dataclass(frozen=True, kw_only=True)
class FitDistance:
    """A needle against the best of its point: ``off`` in sizes, above 0 too large.

    ``made``: sold in that size for such a head.
    """

    best_metric: int
    best_american: int
    off: int
    judgment: Judgment
    state: FitState
    made: bool
    text: str


def fit_distance(kind: MachineKind, pairing: Pairing, top: Bundle, size: NeedleSize, point: Point) -> FitDistance:
    """Judge a needle by how far it is from the best size of its point for what runs through it.

    A needle whose groove the thread stands proud of won't do, however near it is.
    """
    best = best_size(kind, pairing, top, point)
    return _judged(kind, best, top, size, point, paired=point is pairing.recommended.point)


def fit_distances(kind: MachineKind, pairing: Pairing, top: Bundle) -> Mapping[Point, Mapping[int, FitDistance]]:
    """Judge every size of every point, by the point and the metric size."""
    found = {}
    for point in Point:
        best, paired = best_size(kind, pairing, top, point), point is pairing.recommended.point
        found[point] = {size.metric: _judged(kind, best, top, size, point, paired=paired) for size in ALL_SIZES}
    return found


def _judged(
    kind: MachineKind, best: NeedleSize, top: Bundle, size: NeedleSize, point: Point, *, paired: bool
) -> FitDistance:
    fit, off = fit_of(top, size, point), sizes_apart(size, best)
    if fit.state is FitState.RUBS or abs(off) >= WONT_FROM.value:
        judgment = Judgment.WONT
    elif abs(off) >= STRETCHES_FROM.value:
        judgment = Judgment.STRETCHES
    else:
        judgment = Judgment.GOES if off else Judgment.BEST
    return FitDistance(
        best_metric=best.metric,
        best_american=best.american,
        off=off,
        judgment=judgment,
        state=fit.state,
        made=is_made(kind, size, point),
        text=_text(size, point, best, off, judgment, paired=paired),
    )


def said_of_the_one_in(
    judged: FitDistance, size: NeedleSize, point: Point, *, advised: NeedleChoice, due: bool = False
) -> str:
    """Say of the needle in the machine whether to go on with it, and what would suit the thread better.

    The best is of the point that is ``advised``. One that is ``due`` is not fine to go on, whatever its size.
    """
    judgment, better = judged.judgment, "The thread is too thick for it."
    if judged.off:
        better = f"{judged.best_metric}/{judged.best_american} fits this thread better."
    if point is not advised.point:
        better = f"{advised.size} {advised.point.value} fits this thread better."
        judgment = Judgment.GOES if judgment is Judgment.BEST else judgment
    return (
        f"{size} {point.value} is in: "
        + {
            Judgment.BEST: "the best for this thread, but due. Change it." if due else "the best for this thread.",
            Judgment.GOES: f"due. Change it: {better}" if due else f"fine to go on. {better}",
            Judgment.STRETCHES: f"a stretch for this thread. {better}",
            Judgment.WONT: f"change it. {better}",
        }[judgment]
    )


def best_size(kind: MachineKind, pairing: Pairing, top: Bundle, point: Point) -> NeedleSize:
    """Return the best size of a point: the paired one, or the nearest that the point is made in and does not rub."""
    # Where none that is made takes this thread, the best is one that nobody sells: the point is the wrong one.
    fitting = [size for size in COMMON_SIZES if fit_of(top, size, point).state is not FitState.RUBS]
    fallback = (fitting or COMMON_SIZES[-1:])[0]
    return nearest_made(kind, top, pairing.recommended.size, point) or fallback


def _text(size: NeedleSize, point: Point, best: NeedleSize, off: int, judgment: Judgment, *, paired: bool) -> str:
    needle = f"{size} {point.value}"
    if judgment is Judgment.BEST:
        return (
            f"{needle} is the best for this thread."
            if paired
            else f"{size} is the best {point.value} size for this thread."
        )
    way = "larger" if off > 0 else "smaller"
    sizes = f"{so_many(abs(off), 'size')} {way} than the best, {best}" if off else f"not {best}"
    return {
        Judgment.GOES: f"{needle} will do: {sizes}.",
        Judgment.STRETCHES: f"{needle} is a stretch: {sizes}.",
        Judgment.WONT: f"{needle} won't do: {sizes}." if off else f"{needle} won't do: the thread is too thick for it.",
    }[judgment]
