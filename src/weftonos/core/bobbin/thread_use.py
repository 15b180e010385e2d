"""How much thread a lockstitch uses, how long a bobbin lasts, and how often a spot passes the eye.

Type 301 lockstitch (ISO 4915) uses, of each thread, about the stitch length plus the sandwich's thickness per
stitch, and an allowance for take-up.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.standing import Known, estimate, memory
from weftonos.core.thread.thread import Thread

ALLOWANCE = estimate(0.05, "", "share added for take-up, starts and stops")
WOUND_PACKING = estimate(0.75, "", "share of the wound space that is thread, machine winding")
#: Thread between take-up lever and cloth: with 3 mm stitches through 2 mm it makes the 70 trips of one marked
#: spot over 35 stitches that are common practice.
EYE_TO_TAKE_UP_MM = estimate(184.0, "mm", "reproduces 70 trips over 35 stitches of about 3 mm")


class BobbinClass(StrEnum):
    """A bobbin's size class."""

    L = "L"
    M = "M"
    CLASS_15 = "15"


@dataclass(frozen=True)
class BobbinSize:
    """Outer diameter, core and width inside the flanges, in mm."""

    outer_mm: Known
    core_mm: Known
    width_mm: Known


BOBBIN_SIZES = {
    BobbinClass.L: BobbinSize(memory(20.3, "mm"), memory(6.5, "mm"), memory(8.0, "mm")),
    BobbinClass.M: BobbinSize(memory(24.5, "mm"), memory(7.5, "mm"), memory(9.2, "mm")),
    BobbinClass.CLASS_15: BobbinSize(memory(19.8, "mm"), memory(7.0, "mm"), memory(10.0, "mm")),
}


def thread_per_stitch_mm(stitch_length_mm: float, sandwich_mm: float) -> float:
    """Return what one stitch uses of each thread, in mm.

    >>> round(thread_per_stitch_mm(3, 2), 2)
    5.25
    """
    require_between(
        value=stitch_length_mm, low=0.2, high=20, what="The stitch length", field="stitch_length_mm", unit="mm"
    )
    require_between(value=sandwich_mm, low=0.1, high=30, what="The sandwich", field="sandwich_mm", unit="mm")
    return (stitch_length_mm + sandwich_mm) * (1 + ALLOWANCE.value)


def thread_for(stitched_m: float, stitch_length_mm: float, sandwich_mm: float) -> float:
    """Return the meters that so much stitching takes of each thread: a lockstitch takes as much of both."""
    return stitched_m / stitch_length_mm * thread_per_stitch_mm(stitch_length_mm, sandwich_mm)


def eye_passes(stitch_length_mm: float, sandwich_mm: float) -> float:
    """Return how many trips through the eye a spot of the top thread makes before it is sewn in.

    Twice the thread between take-up and cloth over the thread used per stitch; shorter stitches mean more.
    """
    return 2 * EYE_TO_TAKE_UP_MM.value / thread_per_stitch_mm(stitch_length_mm, sandwich_mm)


def wound_length_m(size: BobbinClass, thread: Thread, fill: float = 1.0) -> float:
    """Return the meters of thread on a bobbin, ``fill`` being the share of the wound space in use (0 to 1)."""
    require_between(value=fill, low=0, high=1, what="How full the bobbin is", field="fill", above_low=True)
    dimensions = BOBBIN_SIZES[size]
    space = math.pi / 4 * (dimensions.outer_mm.value**2 - dimensions.core_mm.value**2) * dimensions.width_mm.value
    return WOUND_PACKING.value * space * fill / thread.area_mm2 / 1000


@dataclass(frozen=True, kw_only=True)
class ThreadUse:
    """What a length of stitching takes."""

    top_m: float
    bobbin_m: float
    bobbins: float
    stitches_per_bobbin: int
    eye_passes: float


def thread_use(
    stitch_length_mm: float,
    sandwich_mm: float,
    stitched_meters: float,
    size: BobbinClass,
    fill: float,
    bobbin_thread: Thread,
) -> ThreadUse:
    """Return thread, bobbins and eye passes for a stretch of stitching of ``stitched_meters``."""
    require_between(
        value=stitched_meters, low=0, high=100_000, what="The stitched length", field="stitched_meters", unit="m"
    )
    each = thread_per_stitch_mm(stitch_length_mm, sandwich_mm)
    used = thread_for(stitched_meters, stitch_length_mm, sandwich_mm)
    wound = wound_length_m(size, bobbin_thread, fill)
    return ThreadUse(
        top_m=used,
        bobbin_m=used,
        bobbins=used / wound,
        stitches_per_bobbin=int(wound * 1000 / each),
        eye_passes=eye_passes(stitch_length_mm, sandwich_mm),
    )
