"""The demo's plans: one quilt half done by plan, one not begun, and what is left on the cones they are sewn with."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta

from weftonos.core.kernel.sandwich import Loft, Motion, Sandwich
from weftonos.core.plan.cones import ConeNoted, ConeSays
from weftonos.core.plan.passes import Pass, PassKind, PassStage, PassStep, QuiltingDensity, QuiltPlanned
from weftonos.store.workshop import Workshop

#: A wall hanging, being sewn at home.
REDSHANK_M = (1.0, 1.2)
#: A throw, for after it.
DUNLIN_M = (1.5, 1.8)


def write_plans(
    workshop: Workshop, at_work: Mapping[str, tuple[int, datetime]], drawer: Mapping[str, int], last_day: datetime
) -> None:
    """Write the plans; ``at_work`` says on which machine a quilt is, and when its first run ended."""
    wren, first_run = at_work["Redshank"]
    heron, _ = at_work["Avocet"]
    ends = max(first_run + timedelta(hours=12), last_day)

    def note(machine: int, payload: QuiltPlanned | PassStep | ConeNoted, at: datetime) -> int:
        return workshop.note(machine, payload, at, ends).id

    plan = note(wren, _redshank(drawer["Driftwood 40"], drawer["Samphire 50"]), first_run - timedelta(hours=4))
    for key, stage, share, at in (
        (1, PassStage.BEGUN, None, first_run - timedelta(hours=3)),
        (1, PassStage.DONE, None, first_run + timedelta(minutes=1)),
        (2, PassStage.BEGUN, None, first_run + timedelta(minutes=2)),
        (2, PassStage.BEGUN, 0.7, last_day - timedelta(minutes=30)),
    ):
        note(wren, PassStep(plan=plan, key=key, stage=stage, share=share), min(at, last_day))
    note(heron, _dunlin(drawer), last_day - timedelta(hours=20))
    weighed = ConeNoted(thread=drawer["Driftwood 40"], says=ConeSays.WEIGHED, grams=46, empty_g=28)
    third = ConeNoted(thread=drawer["Samphire 50"], says=ConeSays.SHARE, share=0.6)
    # More of these was sewn than one cone holds.
    bought = ConeNoted(thread=drawer["Saltmarsh 40"], says=ConeSays.NEW, cones=2)
    little = ConeNoted(thread=drawer["Glasswort 40"], says=ConeSays.SHARE, share=0.05)
    for cone in (weighed, third, bought, little):
        note(wren, cone, last_day - timedelta(hours=20))


def _redshank(top: int, below: int) -> QuiltPlanned:
    width, height = REDSHANK_M
    return QuiltPlanned(
        quilt="Redshank",
        width_m=width,
        height_m=height,
        sandwich=Sandwich(loft=Loft.LOW),
        passes=(
            Pass(key=1, what=PassKind.DITCH, block_m=0.2, motion=Motion.STRAIGHT, top=top, below=below),
            Pass(key=2, what=PassKind.FILL, share=0.7, density=QuiltingDensity.MEDIUM, top=top, below=below),
            Pass(key=3, what=PassKind.BORDER, share=0.2, density=QuiltingDensity.MEDIUM, top=top, below=below),
            Pass(key=4, what=PassKind.BINDING, motion=Motion.STRAIGHT, top=top, below=below),
        ),
        evening_h=2,
        days=(1, 3),
    )


def _dunlin(drawer: Mapping[str, int]) -> QuiltPlanned:
    width, height = DUNLIN_M
    below = drawer["Eelgrass 60"]
    moss, sand, glass = (drawer[name] for name in ("Saltmarsh 40", "Driftwood 40", "Glasswort 40"))
    return QuiltPlanned(
        quilt="Dunlin",
        width_m=width,
        height_m=height,
        passes=(
            Pass(key=1, what=PassKind.DITCH, block_m=0.3, top=sand, below=below, motion=Motion.STRAIGHT),
            Pass(key=2, what=PassKind.MOTIF, share=0.2, top=glass, below=below),
            Pass(key=3, what=PassKind.BORDER, share=0.2, top=sand, below=below),
            Pass(key=4, what=PassKind.FILL, share=0.6, density=QuiltingDensity.CLOSE, top=moss, below=below),
        ),
        evening_h=2.5,
        days=(1, 3, 5),
    )
