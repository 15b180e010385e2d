"""How far a stitch may be off and still be good: a heavy top shows below, micro work above (common practice)."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.balance.looks import Accepted
from weftonos.core.kernel.standing import estimate
from weftonos.core.thread.thread import Bundle

#: From here on a top is heavy: 12 wt is 49 tex.
HEAVY_FROM_TEX = estimate(45.0, "tex")


@dataclass(frozen=True)
class Tolerance:
    """The grades that are good enough in a combination, and why; empty where only a balanced stitch is."""

    accepted: Accepted
    why: str = ""


def tolerance_of(top: Bundle | None, said: int = 0) -> Tolerance:
    """Return what is good enough: what the thread shows anyhow, and what was said of this combination.

    ``said`` is a grade that somebody accepted for this quilt: +1 a few specks of the top on the back, -1 a few dots.
    """
    why = []
    nature = 0
    if top is not None and len(top.threads) > 1:
        nature = 1
        why.append("several threads together show a few specks on the back")
    elif top is not None and top.tex >= HEAVY_FROM_TEX.value:
        nature = 1
        why.append("a heavy top shows a few specks on the back")
    if said and said != nature:
        shows = "specks on the back" if said > 0 else "dots on top"
        why.append(f"you said that a few {shows} are good enough here")
    return Tolerance(Accepted.of(nature, said), " and ".join(why))
