"""What to buy for all planned quilts: threads that run short, needles, and bobbins."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.spoken import so_many
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.plan.cones import Lasts


class ToBuy(StrEnum):
    """What is bought."""

    THREAD = "thread"
    NEEDLES = "needles"


@dataclass(frozen=True, kw_only=True)
class ShoppingItem:
    """One line of the list: what, how many, for which quilts, why, and what it costs where the price is known.

    ``thread`` is the thread of the drawer; ``needle`` and ``point`` are the needles.
    """

    what: ToBuy
    words: str
    count: int
    quilts: Sequence[str]
    why: str
    price: float | None = None
    thread: int | None = None
    needle: NeedleSize | None = None
    point: Point | None = None


@dataclass(frozen=True, kw_only=True)
class ThreadNeed:
    """A thread that plans use: whether it lasts, its name, the price of a cone, and the quilts."""

    thread: int
    name: str
    lasts: Lasts
    price: float | None
    quilts: Sequence[str]


@dataclass(frozen=True, kw_only=True)
class NeedleNeed:
    """Needles of one size and point that plans take, those left in the drawer, and the quilts."""

    needle: NeedleSize
    point: Point
    needed: int
    left: int
    quilts: Sequence[str]


def shopping_list(threads: Sequence[ThreadNeed], needles: Sequence[NeedleNeed]) -> list[ShoppingItem]:
    """Return what is short, threads first; what lasts is no line of it."""
    items = [
        ShoppingItem(
            what=ToBuy.THREAD,
            words=f"{each.name}, {so_many(each.lasts.cones_to_buy, 'cone')}",
            count=each.lasts.cones_to_buy,
            quilts=each.quilts,
            why=each.lasts.text,
            price=each.price * each.lasts.cones_to_buy if each.price is not None else None,
            thread=each.thread,
        )
        for each in threads
        if each.lasts.cones_to_buy
    ]
    items += [
        ShoppingItem(
            what=ToBuy.NEEDLES,
            words=f"{each.needle} {each.point.value}, {so_many(each.needed - each.left, 'needle')}",
            count=each.needed - each.left,
            quilts=each.quilts,
            why=f"{each.needed} needed, {each.left or 'none'} in the drawer.",
            needle=each.needle,
            point=each.point,
        )
        for each in needles
        if each.needed > each.left
    ]
    return items


Kind = tuple[NeedleSize, Point]


def needs_of(uses: Sequence[tuple[str, NeedleSize, Point, int]]) -> Mapping[Kind, tuple[int, list[str]]]:
    """Add up needles by size and point, with the quilts they are for."""
    found: dict[Kind, tuple[int, list[str]]] = {}
    for quilt, size, point, count in uses:
        number, quilts = found.get((size, point), (0, []))
        found[size, point] = (number + count, [*quilts, *([] if quilt in quilts else [quilt])])
    return found
