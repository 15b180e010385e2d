"""Where to start the top tension for a new combination, from the schools' values."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.scale import ScaleKind
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import Standing
from weftonos.core.thread.nature import together
from weftonos.core.thread.thread import Bundle


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


def start_tension(kind: MachineKind, top: Bundle) -> StartTension:
    """Return the schools' starting point for these threads, by the page of threads.

    A home machine's is a dial number. A longarm's is the bobbin's own number where the top can be read in the
    same unit, and the mark where it cannot: 0 turns, a wrapped metallic a little looser, flat film two to three turns.
    """
    start = together(top.threads).start
    if kind is MachineKind.LONGARM:
        center, low, high = start.turns
        text = f"{_turns(-center)} looser than your ordinary mark."
        if center == 0:
            text = "At your mark. Where the top has a readout, start at the bobbin's number."
        # How little looser a wrapped metallic goes on a knob nobody says: our own estimate.
        known = center == 0 or center <= -1
        standing = Standing.COMMON_PRACTICE if known else Standing.ESTIMATE
        return StartTension(kind=ScaleKind.TURNS, center=center, low=low, high=high, text=text, standing=standing)
    center, low, high = start.dial
    two = "" if start.also is None else f" or {figure(start.also)}"
    both = "" if start.also is None else " Test both."
    return StartTension(
        kind=ScaleKind.DIAL,
        center=center,
        low=low,
        high=high,
        text=f"{figure(center)}{two} on a dial of 0 to 10 ({figure(low)} to {figure(high)} is usual for {start.why})."
        + both,
        standing=Standing.COMMON_PRACTICE,
        also=start.also,
    )


def _turns(turns: float) -> str:
    return "Half a turn" if turns == 0.5 else f"{turns:g} turns".replace(".5", "½")
