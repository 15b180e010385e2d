"""Where the knob stands against where a thread starts: what to turn before the first stitch."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.balance.starting_point import StartingPoint
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.standing import practice

#: Where the automatic tension of a dial stands: about as a preset for everyday thread.
AUTOMATIC = practice(5, "dial numbers")


@dataclass(frozen=True, kw_only=True)
class KnobAdvice:
    """The knob stands off the start: by how much (``by``, above 0 is too tight), where to set it, and what to say.

    ``short`` is what to do in the few words that the line has room for, ``why`` how it stands, ``text`` both in whole.
    """

    at: float | None
    to: float
    to_words: str
    by: float
    act: str
    short: str
    why: str
    text: str


def knob_advice(scale: TopScale, at: float | None, start: StartingPoint | None) -> KnobAdvice | None:
    """Return what to turn for a knob that stands ``at`` a setting, ``None`` on automatic.

    ``None`` where nobody knows the start, or the knob stands in the range that is usual for it: that is no finding.
    """
    if start is None or not start.known:
        return None
    if at is None and not scale.in_dial_numbers:
        return None
    stands = scale.within(AUTOMATIC.value) if at is None else at
    low, high = start.about
    if low <= stands <= high or abs(stands - start.center) < scale.step:
        return None
    to = scale.snap(start.center)
    by = stands - to
    if at is None:
        short = f"set {scale.words(to)}"
        where, act = "Top tension is on automatic.", f"Take it off automatic and {short}"
    else:
        which = "display" if scale.kind is ScaleKind.READOUT else "knob"
        way = _way(scale, by)
        where, act, short = f"The {which} is {_spot(scale, at)}.", f"Turn it {way}", f"turn {way}"
    why = f"{where} This thread starts {_spot(scale, to)}."
    return KnobAdvice(
        at=at, to=to, to_words=scale.words(to), by=by, act=act, short=short, why=why, text=f"{why} {act}."
    )


def _spot(scale: TopScale, setting: float) -> str:
    return scale.words(setting) if scale.kind is ScaleKind.TURNS else scale.place(setting)


def _way(scale: TopScale, by: float) -> str:
    # Turns are said as a place beside the mark is: so many in or out.
    return (
        scale.words(-by)
        if scale.kind is ScaleKind.TURNS
        else f"{'down' if by > 0 else 'up'} {figure(abs(by), significant=4)}"
    )
