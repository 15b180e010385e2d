"""Where to start the top tension for a new combination, from the schools' values."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.scale import ScaleKind
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import Standing, estimate, practice
from weftonos.core.thread.thread import Bundle, Construction, Fibre, Thread


@dataclass(frozen=True, kw_only=True)
class StartTension:
    """A start, with the range it is expected in; ``kind`` says what the numbers are numbers of."""

    kind: ScaleKind
    centre: float
    low: float
    high: float
    text: str
    standing: Standing


#: Dial numbers 0–10, preset about 5 for ordinary sewing thread (common practice): centre, low, high.
METALLIC_DIAL = (practice(1.0, "dial"), practice(0.5, "dial"), practice(2.5, "dial"))
FINE_COTTON_DIAL = (practice(2.0, "dial"), practice(1.5, "dial"), practice(3.0, "dial"))
QUILTING_DIAL = (practice(2.75, "dial"), practice(2.0, "dial"), practice(3.5, "dial"))
#: Turns from the mark of an unmarked knob: centre, low, high. Flat film two to three turns looser (common practice), a
#: wrapped metallic a little.
FILM_TURNS = (practice(-2.5, "turns"), practice(-3.0, "turns"), practice(-2.0, "turns"))
WRAPPED_TURNS = (estimate(-0.5, "turns"), estimate(-1.5, "turns"), estimate(0.0, "turns"))
ORDINARY_TURNS = (practice(0.0, "turns"), practice(-1.0, "turns"), practice(1.0, "turns"))
#: What is said of the bobbin below such a thread: it is loosened only if there is trouble (common practice).
IF_TROUBLE = "If it still breaks, loosen the bobbin too, so that the top may be looser still."
#: Cotton up to here counts as fine: 50 wt is 20 tex.
FINE_BELOW_TEX = estimate(21.0, "tex")


def start_tension(kind: MachineKind, top: Bundle, bobbin: Thread | None = None) -> StartTension:
    """Return the schools' starting point for these threads.

    A home machine's is a dial number. A longarm's is the bobbin's own number where the top can be read in the
    same unit, and the mark where it cannot: 0 turns, a wrapped metallic a little looser, flat film two to three turns.
    """
    metallic = any(t.is_metallic for t in top.threads)
    if kind is MachineKind.LONGARM:
        if metallic:
            film = any(t.construction is Construction.FILM for t in top.threads)
            centre, low, high = (known.value for known in (FILM_TURNS if film else WRAPPED_TURNS))
            how = "2½ turns" if film else "Half a turn"
            return StartTension(
                kind=ScaleKind.TURNS,
                centre=centre,
                low=low,
                high=high,
                text=f"{how} looser than your ordinary mark. {IF_TROUBLE}",
                standing=Standing.COMMON_PRACTICE if film else Standing.ESTIMATE,
            )
        return StartTension(
            kind=ScaleKind.TURNS,
            centre=ORDINARY_TURNS[0].value,
            low=ORDINARY_TURNS[1].value,
            high=ORDINARY_TURNS[2].value,
            text="At your mark. Where the top has a readout, start at the bobbin's number.",
            standing=Standing.COMMON_PRACTICE,
        )
    fine_cotton = all(t.fibre is Fibre.COTTON and t.density.tex < FINE_BELOW_TEX.value for t in top.threads)
    start = METALLIC_DIAL if metallic else FINE_COTTON_DIAL if fine_cotton else QUILTING_DIAL
    centre, low, high = (known.value for known in start)
    why = "metallic" if metallic else "fine cotton" if fine_cotton else "quilting thread"
    below = f" {IF_TROUBLE}" if metallic and bobbin else ""
    return StartTension(
        kind=ScaleKind.DIAL,
        centre=centre,
        low=low,
        high=high,
        text=f"{centre:g} on a dial of 0 to 10 ({low:g} to {high:g} is usual for {why}).{below}",
        standing=Standing.COMMON_PRACTICE,
    )
