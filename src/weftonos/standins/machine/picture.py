"""A stitched line of the simulated machine as a picture: front and back, as dark as the cloth allows, and in words."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from xml.sax.saxutils import quoteattr

import numpy as np

from weftonos.standins.machine.laws import SimCloth
from weftonos.standins.machine.machine import SHOWS, StitchedLine

#: Of the drawing: a stitch, the height of one side, and the gap between them, in its own units.
STITCH, SIDE, GAP = 24.0, 64.0, 10.0
LIGHT, DARK = "#e9e4d8", "#23304a"
PRINTS = ("#b9a58a", "#8fa7a0", "#c9b48f")


@dataclass(frozen=True)
class Colors:
    """What was sewn with: the thread on top and below."""

    top: str = "#7a2f2f"
    below: str = "#2f5d50"


def _side(line: StitchedLine, colors: Colors, chance: np.random.Generator, *, front: bool, y: float) -> Iterator[str]:
    """Draw one side: its own thread from hole to hole, and what comes through of the other one."""
    own, other = (colors.top, colors.below) if front else (colors.below, colors.top)
    middle, x = y + SIDE / 2, 20.0
    for depth in line.depths:
        through = -depth if front else depth
        wide = STITCH * float(1 + chance.normal(0, 0.04))
        a, b = middle + float(chance.normal(0, 0.9)), middle + float(chance.normal(0, 0.9))
        bow = float(chance.normal(0, 1.2))
        # A thread that is pulled flat lies straight and thin; one that yields lies round.
        thick = 7.4 - 2.2 * max(0.0, through)
        yield (
            f'<path d="M{x + 2:.1f} {a:.1f}Q{x + wide / 2:.1f} {(a + b) / 2 + bow:.1f} {x + wide - 2:.1f} {b:.1f}" '
            f'stroke="{own}" stroke-width="{thick:.1f}" stroke-linecap="round" fill="none"/>'
        )
        yield f'<circle cx="{x:.1f}" cy="{a:.1f}" r="2.4" fill="#0006"/>'
        if through > 0.9 and not front:
            high = 11 + 16 * float(chance.random())
            lean = float(chance.normal(0, 5))
            yield (
                f'<path d="M{x - 3:.1f} {a:.1f}C{x - 12 + lean:.1f} {a + high:.1f} {x + 14 + lean:.1f} {a + high:.1f} '
                f'{x + 4:.1f} {a:.1f}" stroke="{other}" stroke-width="5.6" fill="none"/>'
            )
        elif through > 0.8:
            # Far up: it lies along the surface.
            yield (
                f'<path d="M{x - 8:.1f} {a:.1f}H{x + 9:.1f}" stroke="{other}" stroke-width="5.0" '
                'stroke-linecap="round"/>'
            )
        elif through > SHOWS:
            size = 4.2 + 10 * (through - SHOWS)
            yield f'<circle cx="{x:.1f}" cy="{a:.1f}" r="{size:.1f}" fill="{other}"/>'
        x += wide


def words_for(line: StitchedLine) -> str:
    """Say what is to be seen, for somebody who does not see the picture; without the grade."""

    def much(share: float) -> str:
        return (
            "at none of the holes"
            if share < 0.02
            else "at a few holes"
            if share < 0.3
            else "at about every other hole"
            if share < 0.7
            else "nearly everywhere"
        )

    return (
        f"{len(line.depths)} stitches. Front: the bobbin thread shows {much(line.front)}. "
        f"Back: the top thread shows {much(line.back)}."
    )


def draw(line: StitchedLine, cloth: SimCloth, colors: Colors, seed: int) -> str:
    """Return front above back as SVG; equal lines and seeds give equal pictures."""
    chance = np.random.default_rng([seed, 77])
    width = STITCH * (len(line.depths) + 1.6)
    ground = DARK if cloth.dark else LIGHT
    parts = []
    for front, y in ((True, 0.0), (False, SIDE + GAP)):
        parts.append(f'<rect width="{width:.0f}" height="{SIDE:.0f}" y="{y:.0f}" fill="{ground}"/>')
        if cloth.print:
            for _ in range(int(width / 14)):
                cx, cy, r = chance.uniform(0, width), y + chance.uniform(4, SIDE - 4), chance.uniform(3, 11)
                parts.append(
                    f'<circle cx="{cx:.0f}" cy="{cy:.0f}" r="{min(r, cy - y, y + SIDE - cy):.0f}" '
                    f'fill="{PRINTS[int(chance.integers(3))]}"/>'
                )
        parts += _side(line, colors, chance, front=front, y=y)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.0f} {2 * SIDE + GAP:.0f}" role="img" '
        f"aria-label={quoteattr(words_for(line))}>{''.join(parts)}</svg>"
    )
