"""Fitting a needle, step by step, and the two rules of thumb about its room (common practice)."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.standing import estimate
from weftonos.core.needle.groove_fit import TIGHT_FROM, FitState, fit_of
from weftonos.core.needle.needle import POINTS, NeedleSize, Point, Shank
from weftonos.core.needle.pairing import step_size
from weftonos.core.thread.thread import Bundle


def fitting_steps(shank: Shank) -> tuple[str, ...]:
    """Return the steps for a machine that clamps this shank; power off comes first."""
    turn = (
        "Groove to the front, scarf toward the throat, at six o'clock: straight at the quilter. Some say half past."
        if shank is Shank.ROUND
        else "Flat of the shank to the back, groove to the front."
    )
    keep = (
        ("Keep it aligned with a thin pin through the eye. The old needle's tip works too.",)
        if shank is Shank.ROUND
        else ()
    )
    return (
        "Machine off, foot off the pedal.",
        "Old needle out and into the sharps box.",
        turn,
        "All the way up: look in the sight hole where there is one.",
        *keep,
        "Tighten a quarter turn past finger-tight, no more.",
        "Note date, size and point.",
    )


class RoomTrouble(StrEnum):
    """What the thread does in the needle."""

    FRAYS = "frays"
    SNAPS = "snaps"


class Plausible(StrEnum):
    """Whether the needle's room explains it."""

    LIKELY = "likely"
    POSSIBLE = "possible"
    UNLIKELY = "unlikely"


#: Fills between which room alone hardly explains a break.
FRAYS_POSSIBLE_FROM = estimate(0.70)
SNAPS_POSSIBLE_TO = estimate(0.35)


@dataclass(frozen=True, kw_only=True)
class RoomAdvice:
    """The rule of thumb for a trouble, the needle it leads to, and whether the picture bears it out here."""

    trouble: RoomTrouble
    plausible: Plausible
    metric: int
    american: int
    point: Point
    text: str


def room_advice(trouble: RoomTrouble, top: Bundle, size: NeedleSize, point: Point) -> RoomAdvice:
    """Return what a fraying or snapping thread says about the needle that is in.

    It shreds: a larger needle or a deeper groove. It snaps clean with a fine thread: a smaller needle.
    """
    fit, limit = fit_of(top, size, point), POINTS[point].limit.value
    fill = fit.fill
    if trouble is RoomTrouble.FRAYS:
        to = step_size(size, 1)
        to_point = Point.TOPSTITCH if fill > limit and limit < POINTS[Point.TOPSTITCH].limit.value else point
        share = fill / limit
        plausible = (
            Plausible.LIKELY
            if share > TIGHT_FROM.value
            else Plausible.POSSIBLE
            if share > FRAYS_POSSIBLE_FROM.value
            else Plausible.UNLIKELY
        )
        text = {
            Plausible.LIKELY: f"The thread fills {fill:.0%} and this point takes {limit:.0%}: more room is the cure.",
            Plausible.POSSIBLE: f"{fill:.0%} full: a size up may help. Look for a burr as well.",
            Plausible.UNLIKELY: f"Only {fill:.0%} full: there is room. Look for a dull needle, a burr, the path.",
        }[plausible]
        return RoomAdvice(
            trouble=trouble, plausible=plausible, metric=to.metric, american=to.american, point=to_point, text=text
        )
    to = step_size(size, -1)
    plausible = (
        Plausible.LIKELY
        if fit.state is FitState.SLACK
        else Plausible.POSSIBLE
        if fill < SNAPS_POSSIBLE_TO.value
        else Plausible.UNLIKELY
    )
    text = {
        Plausible.LIKELY: f"Only {fill:.0%} full: the thread has play. A size down holds it.",
        Plausible.POSSIBLE: f"{fill:.0%} full: a size down may help.",
        Plausible.UNLIKELY: f"{fill:.0%} full: it does not have play. Look at the tension, the cone, the path.",
    }[plausible]
    return RoomAdvice(
        trouble=trouble, plausible=plausible, metric=to.metric, american=to.american, point=point, text=text
    )
