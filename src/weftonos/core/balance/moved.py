"""How far other layers or another bobbin reading moved the balance of the same threads, earlier on this machine.

A balance known under other circumstances is carried over by what such changes did before. Each is drawn to no move at
all, as strongly as one of its kind is expected to move it; what is not known yet is said, and moves nothing.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import permutations

from weftonos.core.balance.combination import Combination, Key
from weftonos.core.balance.posterior import scale_unit
from weftonos.core.balance.stitched import LEFT_OVER, BalanceRecord
from weftonos.core.bobbin.screw import RESPONSE_MEAN
from weftonos.core.kernel.sandwich import Weave
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.differences import A_DIAL_NUMBER, reads_otherwise

#: In dial numbers: how far a change of each kind is expected to move the balance, one way or the other.
MOVES = {
    "batting": estimate(0.5, "dial numbers", "a step of loft"),
    "fabric": estimate(0.4, "dial numbers"),
    "bobbin": estimate(1.0, "dial numbers", "a reading higher by a quarter"),
}
FABRICS = {
    Weave.ORDINARY: "plain cotton",
    Weave.BATIK: "batik",
    Weave.CANVAS: "canvas",
    Weave.DENIM: "denim",
    Weave.KNIT: "a knit",
    Weave.FRAGILE: "fragile fabric",
}
#: So much of ln(reading) is a quarter.
_QUARTER = math.log(1 + A_DIAL_NUMBER.value)


@dataclass(frozen=True, kw_only=True)
class Moved:
    """The same threads under other circumstances, and how far such changes moved the balance, in the scale's numbers.

    ``now`` and ``then`` name what differs. ``changes`` is how often it was seen, 0 where it is not known yet.
    """

    record: BalanceRecord
    now: str
    then: str
    by: float
    spread: float
    changes: int

    def words(self, scale: TopScale) -> str:
        """Say where they balanced then, and what such changes did."""
        there = f"These threads balanced {scale.place(scale.snap(self.record.setting))} {self.then}."
        if not self.changes:
            return f"{there} How far {self.now} moves them isn't known here yet."
        so_far = f"by {so_many(self.changes, 'such change')} here"
        if abs(self.by) < scale.step / 2:
            return f"{there} {self.now.capitalize()} should hardly move them, {so_far}."
        far, way = scale.width_in_words(abs(self.by)), "tighter" if self.by > 0 else "looser"
        return f"{there} {self.now.capitalize()} should move them about {far} {way}, {so_far}."


def moves_with_the_screw(scale: TopScale, minutes: float) -> float:
    """Return how far a balance is expected to move where the screw of the case is turned, in the scale's numbers.

    ``minutes`` above 0 tighten it: the top goes tighter with the bobbin, as far as by a reading that is so much higher.
    """
    return math.copysign(moves_expected("bobbin", RESPONSE_MEAN.value * minutes), minutes) * scale_unit(scale)


def moved_from(scale: TopScale, new: Combination, key: Key | None, records: Sequence[BalanceRecord]) -> Moved | None:
    """Return the newest record of the same threads that differs in one circumstance, and how far that moves them."""
    for record in records:
        change = _change((record.key, record.combination), (key, new))
        if change is not None:
            by, spread, seen = _learned(scale, change, records)
            then, now = _words(change.what, record.combination, new)
            return Moved(record=record, now=now, then=then, by=by, spread=spread, changes=seen)
    return None


def moves_expected(what: str, size: float) -> float:
    """Return how far a change of so many steps of loft, or of so much ln(reading), may move it, in dial numbers."""
    return MOVES[what].value * abs(size) / (_QUARTER if what == "bobbin" else 1)


Known = tuple[Key | None, Combination]


@dataclass(frozen=True)
class _Change:
    """What differs and by how much, as :func:`moves_expected` has it; of fabric also from which to which."""

    what: str
    size: float
    fabrics: tuple[Weave, Weave] | None = None

    def like(self, other: _Change) -> bool:
        """Whether one says something of the other: of fabrics, only the same two do."""
        return (self.what, self.fabrics) == (other.what, other.fabrics)


def _change(one: Known, other: Known) -> _Change | None:
    """Return what differs under the same threads and motion.

    ``None`` where it is not one thing alone, or where nobody said what lay under the needle.
    """
    (key_then, then), (key_now, now) = one, other
    if key_then is None or key_now is None:
        return None
    (*threads_then, lay, motion_then), (*threads_now, lies, motion_now) = key_then, key_now
    if (threads_then, motion_then) != (threads_now, motion_now) or (lay is None) is not (lies is None):
        return None
    found = []
    if then.loft is not now.loft:
        found.append(_Change("batting", float(now.loft.steps_above(then.loft))))
    if then.weave is not now.weave:
        found.append(_Change("fabric", 1.0, (then.weave, now.weave)))
    if then.bobbin_mn and now.bobbin_mn and reads_otherwise(then.bobbin_mn, now.bobbin_mn):
        found.append(_Change("bobbin", math.log(now.bobbin_mn / then.bobbin_mn)))
    return found[0] if len(found) == 1 else None


def _pairs(records: Sequence[BalanceRecord], sought: _Change) -> Iterator[tuple[float, float, float]]:
    """Yield each earlier change like this one: its size, how far it moved the balance, and the spread of that.

    Each pair is told once, in the direction that is asked for.
    """
    for then, now in permutations(records, 2):
        change = _change((then.key, then.combination), (now.key, now.combination))
        if change and change.like(sought) and change.size > 0:
            yield change.size, now.setting - then.setting, math.hypot(then.spread, now.spread)


def _learned(scale: TopScale, change: _Change, records: Sequence[BalanceRecord]) -> tuple[float, float, int]:
    """Return how far this change moves the balance, its spread, and how many like it were seen."""
    unit = scale_unit(scale)
    expected = moves_expected(change.what, 1) * unit
    stray = math.sqrt(2) * LEFT_OVER.value * unit
    precision, pull, seen = 1 / expected**2, 0.0, 0
    # A normal slope through no move at all: least squares, drawn to what is expected.
    for each, by, spread in _pairs(records, change):
        weight = 1 / (stray**2 + spread**2)
        precision += weight * each**2
        pull += weight * each * by
        seen += 1
    slope, of_slope = pull / precision, math.sqrt(1 / precision)
    return slope * change.size, of_slope * abs(change.size), seen


def _words(what: str, then: Combination, now: Combination) -> tuple[str, str]:
    """Return in words where they were then, and what they go to."""
    if what == "batting":
        up = now.loft.steps_above(then.loft) > 0
        return ("over flatter batting", "loftier batting") if up else ("over loftier batting", "flatter batting")
    if what == "bobbin":
        assert then.bobbin_mn and now.bobbin_mn
        up = now.bobbin_mn > then.bobbin_mn
        return ("with a looser bobbin", "a tighter bobbin") if up else ("with a tighter bobbin", "a looser bobbin")
    return f"on {FABRICS[then.weave]}", FABRICS[now.weave]
