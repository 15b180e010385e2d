"""The needle that a thread's maker names, beside ours or in its place."""

from __future__ import annotations

from dataclasses import dataclass, replace

from weftonos.core.kernel.advice import Reason
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.schools import MachineKind, Schools
from weftonos.core.needle.fit_distance import fit_distance
from weftonos.core.needle.groove_fit import FitState, fit_of
from weftonos.core.needle.needle import NeedleSize, Point, is_made
from weftonos.core.needle.packet_label import read_packet
from weftonos.core.needle.pairing import NeedleChoice, Pairing, nearest_made
from weftonos.core.thread.thread import Bundle

#: What is said of our own choice where the maker's leads.
OURS = "By its thickness and your chart."
#: Reasons for our own size and point: none of them is one for the maker's.
_OF_OURS = ("groove_fit", "size_school", "other_school", "sandwich_size_up", "size_as_made", "point", "own_records")


@dataclass(frozen=True, kw_only=True)
class MakersNeedle:
    """The needle that the thread's maker names, with ours beside it; size and point where they could be read."""

    text: str
    metric: int | None = None
    point: Point | None = None


def makers_needle(kind: MachineKind, pairing: Pairing, top: Bundle, named: str) -> MakersNeedle | None:
    """Return what a thread's maker names, judged beside our own choice; ``None`` where nothing is named."""
    if not named or not top.single or not pairing.through_a_needle:
        return None
    says, ours = f"Its maker names {named}.", pairing.recommended
    size, point = _read(named)
    if size is None:
        return MakersNeedle(text=says, point=point)
    point = point or ours.point
    if (size, point) == (ours.size, ours.point):
        return MakersNeedle(text=f"{says} So do we.", metric=size.metric, point=point)
    judged = fit_distance(kind, pairing, top, size, point).text
    return MakersNeedle(
        text=f"{says} {judged} Ours is {ours.size} {ours.point.value}.", metric=size.metric, point=point
    )


def led_by_maker(kind: MachineKind, pairing: Pairing, top: Bundle, named: str, schools: Schools) -> Pairing:
    """Return a pairing with the maker's needle in front where that is the school, it is sold, and the thread goes in.

    A point without a size takes the size nearest to ours. Ours stands first among the alternatives.
    """
    if not named or not top.single or not pairing.through_a_needle or schools.takes("makers_needle") != "first":
        return pairing
    ours = pairing.recommended
    size, point = _read(named)
    point = point or ours.point
    size = size or nearest_made(kind, top, ours.size, point)
    if size is None or (size, point) == (ours.size, ours.point) or not is_made(kind, size, point):
        return pairing
    fit = fit_of(top, size, point)
    if fit.state is FitState.RUBS:
        return pairing
    why = schools.side("makers_needle").why
    named_one = replace(
        ours, metric=size.metric, american=size.american, point=point, nominal_fill=fit.fill, state=fit.state, why=why
    )
    reason = Reason(
        text=f"Its maker names {named}. {why} By its thickness it would be {ours.size} {ours.point.value}.",
        rule="makers_needle",
    )
    alternatives = [replace(ours, why=OURS), *(a for a in pairing.alternatives if not _same(a, named_one))]
    return replace(
        pairing,
        recommended=named_one,
        alternatives=tuple(alternatives),
        reasons=(reason, *(r for r in pairing.reasons if r.rule not in _OF_OURS)),
    )


def _same(one: NeedleChoice, other: NeedleChoice) -> bool:
    return (one.metric, one.point) == (other.metric, other.point)


def _read(named: str) -> tuple[NeedleSize | None, Point | None]:
    """Return size and point as far as they can be read."""
    try:
        read = read_packet(named)
    except CraftError:
        return None, None
    if read.metric is None or read.american is None:
        return None, read.point
    return NeedleSize(read.metric, read.american), read.point
