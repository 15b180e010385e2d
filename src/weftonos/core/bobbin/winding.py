"""The winding plan: what is on a bobbin, how many a quilt takes, how far today's still goes."""

from __future__ import annotations

import math
from dataclasses import dataclass

from weftonos.core.bobbin.thread_use import BobbinClass, thread_for, thread_per_stitch_mm, wound_length_m
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.spoken import length
from weftonos.core.kernel.standing import estimate, practice
from weftonos.core.thread.thread import Thread

#: Monofilament is wound only so full, at half speed at most.
MONOFILAMENT_FILL = practice(0.75)
#: Below this share a bobbin is called nearly empty: a fifth is kept for what the wound length is not known by.
BOBBIN_LOW = estimate(0.2)


@dataclass(frozen=True, kw_only=True)
class WindingPlan:
    """Meters and stitches on one bobbin, what a quilt takes, and how to wind."""

    fill: float
    meters: float
    stitches: int
    stitched_m_per_bobbin: float
    quilt_stitched_m: float
    quilt_thread_m: float
    bobbins: int
    how: str


def usual_fill(thread: Thread) -> float:
    """Return how full a bobbin of a thread is wound, 0 to 1: what stretches is wound less full (common practice)."""
    return MONOFILAMENT_FILL.value if thread.is_monofilament else 1.0


def winding_plan(
    size: BobbinClass,
    thread: Thread,
    stitch_length_mm: float,
    sandwich_mm: float,
    quilt_width_m: float,
    quilt_height_m: float,
    lines_apart_mm: float,
    full_m: float | None = None,
) -> WindingPlan:
    """Return the plan for a quilt quilted over all with lines about ``lines_apart_mm`` apart.

    Stitched meters are the area over the distance of the lines. ``full_m`` is the thread on a full bobbin
    (:mod:`weftonos.core.bobbin.holds`); left out, by the space it is wound in.
    """
    require_between(
        value=quilt_width_m, low=0.1, high=10, what="The width of the quilt", field="quilt_width_m", unit="m"
    )
    require_between(
        value=quilt_height_m, low=0.1, high=10, what="The height of the quilt", field="quilt_height_m", unit="m"
    )
    require_between(
        value=lines_apart_mm, low=1, high=500, what="The distance between lines", field="lines_apart_mm", unit="mm"
    )
    fill = usual_fill(thread)
    each = thread_per_stitch_mm(stitch_length_mm, sandwich_mm)
    meters = wound_length_m(size, thread, fill) if full_m is None else full_m * fill
    per_bobbin = meters * 1000 / each * stitch_length_mm / 1000
    stitched = quilt_width_m * quilt_height_m / (lines_apart_mm / 1000)
    how = (
        "Wind at half speed or less, and only three quarters full. Otherwise it relaxes on the bobbin and breaks."
        if thread.is_monofilament
        else "Wind even and firm, to just under the rim."
    )
    return WindingPlan(
        fill=fill,
        meters=meters,
        stitches=int(meters * 1000 / each),
        stitched_m_per_bobbin=per_bobbin,
        quilt_stitched_m=stitched,
        quilt_thread_m=thread_for(stitched, stitch_length_mm, sandwich_mm),
        bobbins=math.ceil(stitched / per_bobbin),
        how=how,
    )


@dataclass(frozen=True, kw_only=True)
class BobbinLeft:
    """How far the bobbin that is in still goes, in stitched meters, and whether the next line is safe.

    ``share`` is of a full one: what was wound three quarters full begins there.

    ``low`` where it is nearly empty.
    """

    stitched_m_left: float
    share: float
    low: bool
    enough: bool | None
    text: str


def bobbin_left(
    size: BobbinClass,
    thread: Thread,
    fill: float,
    stitched_m: float,
    stitch_length_mm: float,
    sandwich_mm: float,
    next_line_m: float | None = None,
    full_m: float | None = None,
) -> BobbinLeft:
    """Return what is left after ``stitched_m`` of stitching since the bobbin was loaded ``fill`` full.

    ``full_m`` is the thread on a full bobbin; left out, by the space it is wound in.

    A next line is safe with a fifth to spare, for the wound length is known no better.
    """
    require_between(
        value=stitched_m, low=0, high=100_000, what="The length stitched on this bobbin", field="stitched_m", unit="m"
    )
    if next_line_m is not None:
        require_between(value=next_line_m, low=0, high=1000, what="The next line", field="next_line_m", unit="m")
    each = thread_per_stitch_mm(stitch_length_mm, sandwich_mm)
    wound = wound_length_m(size, thread, fill) if full_m is None else full_m * fill
    whole = wound * stitch_length_mm / each
    left = max(0.0, whole - stitched_m)
    enough = None
    share = left / whole * fill
    text = f"About {length(left)} of stitching left, {share:.0%} of a full bobbin."
    if next_line_m is not None:
        enough = left >= (1 + BOBBIN_LOW.value) * next_line_m
        does = "Enough for" if enough else "Change it before"
        text += f" {does} the next line of {length(next_line_m)}."
    return BobbinLeft(stitched_m_left=left, share=share, low=share < BOBBIN_LOW.value, enough=enough, text=text)
