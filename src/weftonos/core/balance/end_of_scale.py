"""What to do where the balance lies past the end of the scale: first what drags or does not hold, then the bobbin.

Bobbin thread on the front even at the lowest top setting: the path and its drag first, then the bobbin tighter, in
small turns, read again. Loops on the back even at the highest: the seat in the discs, then the bobbin looser (common
practice for the first of each, our own for the second). The setting is never left at the end as if it were balanced.
"""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass

from weftonos.core.balance.looks import Beyond
from weftonos.core.balance.posterior import scale_unit
from weftonos.core.bobbin.screw import ScrewTurn, advise_turn, learn_response
from weftonos.core.kernel.feature import Feature
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import pull
from weftonos.core.kernel.standing import estimate

#: A turn where nothing says how far: small, and read again.
SMALL_TURN = estimate(5, "minutes")
#: The balance is brought back so far onto the scale, in dial numbers.
BACK_BY = estimate(1, "dial number")
#: The bobbin is moved by no more than this share at once.
MOST_AT_ONCE = estimate(0.2)


@dataclass(frozen=True, kw_only=True)
class EndOfScale:
    """Where the balance lies past the scale: by how much, and what the bobbin reads, in mN, where it is read.

    ``turns`` are those on record of the case's screw; ``fewer_holes`` where this thread may skip guide holes.
    """

    beyond: Beyond
    by: float
    scale: TopScale
    bobbin_mn: float | None
    turns: Sequence[ScrewTurn]
    fewer_holes: bool

    @property
    def place(self) -> float:
        """Where the balance is to come back to."""
        back = BACK_BY.value * scale_unit(self.scale)
        low = self.beyond is Beyond.LOW
        return self.scale.snap(self.scale.low + back if low else self.scale.high - back)


def remedies(end: EndOfScale, has: Set[Feature]) -> tuple[str, ...]:
    """Return what to do, in order, for a machine that has these features."""
    low = end.beyond is Beyond.LOW
    first = "Foot up or discs open: seat the thread in the discs. Tug to prove it, and stitch again."
    if low:
        holes = ", fewer guide holes" if end.fewer_holes and Feature.HOLE_GUIDE in has else ""
        first = f"See what drags on the top before the discs: the spool, a tight net, a wrapped guide{holes}."
    return first, _bobbin(end, has), f"Stitch a line {end.scale.place(end.place)}."


def _bobbin(end: EndOfScale, has: Set[Feature]) -> str:
    low = end.beyond is Beyond.LOW
    way = "tighter" if low else "looser"
    if Feature.DROP_IN in has:
        return f"Still so? Then the bobbin's own screw, a little {way}, where the manual shows one."
    again = "Read it again." if Feature.GAUGE in has else "Feel it again."
    minutes = SMALL_TURN.value
    expected = ""
    if end.bobbin_mn is not None:
        if not end.scale.in_dial_numbers and end.scale.low > 0:
            # In a gauge's numbers top and bobbin go in proportion.
            found = max(end.scale.low - end.by, 1.0) if low else end.scale.high + end.by
            ratio = end.place / found
            aim = end.bobbin_mn * min(1 + MOST_AT_ONCE.value, max(1 - MOST_AT_ONCE.value, ratio))
            minutes = advise_turn(end.bobbin_mn, aim, end.turns).minutes
        signed = minutes if low else -minutes
        expected = f" Expect about {pull(learn_response(end.turns).after(end.bobbin_mn, signed))}."
    return f"Still so? Then the bobbin {way}: turn the case's screw {minutes:.0f} minutes.{expected} {again}"
