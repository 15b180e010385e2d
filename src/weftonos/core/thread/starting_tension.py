"""Where to start the top tension for a new combination, from the schools' values."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.scale import ScaleKind
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import Standing
from weftonos.core.thread.nature import nature_of, together
from weftonos.core.thread.thread import Bundle, Thread


@dataclass(frozen=True, kw_only=True)
class StartTension:
    """A start, with the range it is expected in; ``kind`` says what the numbers are numbers of."""

    kind: ScaleKind
    center: float
    low: float
    high: float
    text: str
    standing: Standing
    also: float | None = None


#: What is said of the bobbin below such a thread: it is loosened only if there is trouble (common practice).
IF_TROUBLE = "If it still breaks, loosen the bobbin too, so that the top may be looser still."
#: The same where the bobbin drops in.
IF_TROUBLE_DROPPED_IN = "If it still breaks, loosen the bobbin's own screw a little, where the manual shows one."


def start_tension(kind: MachineKind, top: Bundle, bobbin: Thread | None = None) -> StartTension:
    """Return the schools' starting point for these threads, by the page of threads.

    A home machine's is a dial number. A longarm's is the bobbin's own number where the top can be read in the
    same unit, and the mark where it cannot: 0 turns, a wrapped metallic a little looser, flat film two to three turns.
    """
    start, glitters = together(top.threads).start, any(nature_of(t).glitters for t in top.threads)
    if kind is MachineKind.LONGARM:
        center, low, high = start.turns
        text = f"{_turns(-center)} looser than your ordinary mark. {IF_TROUBLE}"
        if center == 0:
            text = "At your mark. Where the top has a readout, start at the bobbin's number."
        # How little looser a wrapped metallic goes on a knob nobody says: our own estimate.
        known = center == 0 or center <= -1
        standing = Standing.COMMON_PRACTICE if known else Standing.ESTIMATE
        return StartTension(kind=ScaleKind.TURNS, center=center, low=low, high=high, text=text, standing=standing)
    center, low, high = start.dial
    below = f" {IF_TROUBLE}" if glitters and bobbin else ""
    two = "" if start.also is None else f" or {figure(start.also)}"
    both = "" if start.also is None else " Test both."
    return StartTension(
        kind=ScaleKind.DIAL,
        center=center,
        low=low,
        high=high,
        text=f"{figure(center)}{two} on a dial of 0 to 10 ({figure(low)} to {figure(high)} is usual for {start.why})."
        f"{both}{below}",
        standing=Standing.COMMON_PRACTICE,
        also=start.also,
    )


def _turns(turns: float) -> str:
    return "Half a turn" if turns == 0.5 else f"{turns:g} turns".replace(".5", "½")
