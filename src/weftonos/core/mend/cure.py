"""From a found cause to where it is cured: the station, the part of it, and what is filled in there."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.stations import Station
from weftonos.core.mend.trouble import Cause, Opens
from weftonos.core.needle.fitting import RoomTrouble, room_advice
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.path import PathPoint


@dataclass(frozen=True, kw_only=True)
class Cure:
    """What to do about a cause, and the place for it: ``station`` and its ``part``, ``words`` for the way there.

    ``metric`` and ``point`` are the needle to fit, ``path_point`` the number of the point on the thread path.
    """

    cause: str
    name: str
    text: str
    station: Station | None = None
    part: str = ""
    words: str = ""
    metric: int | None = None
    american: int | None = None
    point: Point | None = None
    path_point: int | None = None


_PLACES = {
    Opens.CARE: (Station.THREAD, "care", "How to handle this thread"),
    Opens.THREAD: (Station.THREAD, "drawer", "Another thread from the drawer"),
    Opens.NEEDLE_DRAWER: (Station.NEEDLE, "drawer", "The needles that fit this machine"),
    Opens.BOBBIN: (Station.BOBBIN, "read", "The bobbin station"),
    Opens.RACK: (Station.BOBBIN, "rack", "Mark it on the rack"),
    Opens.WINDING: (Station.BOBBIN, "wind", "How to wind it"),
    Opens.BALANCE: (Station.BALANCE, "find", "Where the balance lies"),
    Opens.UPKEEP: (Station.MEND, "upkeep", "Note the upkeep"),
}
_FITS = {
    Opens.NEEDLE_SAME: "Fit it again",
    Opens.NEEDLE_NEW: "Fit a new",
    Opens.NEEDLE_UP: "Size up: fit",
    Opens.NEEDLE_DOWN: "Size down: fit",
    Opens.NEEDLE_BALLPOINT: "Fit",
}


#: What stands on the page in the place of a setting that is worked out.
_THE_ESTIMATE = "the estimate at Balance"


def cure_for(cause: Cause, setup: Setup, path: tuple[PathPoint, ...], balance: str = "") -> Cure:
    """Return the cure of a cause on this set-up, with the needle, the path point or the setting it needs worked out.

    ``balance`` is where the top most likely balances, in the machine's own terms; empty where nobody knows.
    """
    if cause.opens in _PLACES:
        station, part, words = _PLACES[cause.opens]
        text = cause.cure.replace(_THE_ESTIMATE, f"{balance}, our best guess") if balance else cause.cure
        return Cure(cause=cause.id, name=cause.name, text=text, station=station, part=part, words=words)
    if cause.opens is Opens.PATH:
        at = path_point(path, cause.point)
        words = "Walk the thread path" if at is None else f"The thread path, at {path[at].name.lower()}"
        return Cure(
            cause=cause.id,
            name=cause.name,
            text=cause.cure,
            station=Station.THREAD,
            part="path",
            words=words,
            path_point=at,
        )
    if cause.opens in _FITS:
        to = _needle(cause.opens, setup)
        if to is None:
            return Cure(
                cause=cause.id,
                name=cause.name,
                text=cause.cure,
                station=Station.NEEDLE,
                part="in",
                words="Note the needle",
            )
        size, point = to
        words = f"{_FITS[cause.opens]}{',' if cause.opens is Opens.NEEDLE_SAME else ''} {size} {point.value}"
        return Cure(
            cause=cause.id,
            name=cause.name,
            text=cause.cure,
            station=Station.NEEDLE,
            part="in",
            words=words,
            metric=size.metric,
            american=size.american,
            point=point,
        )
    return Cure(cause=cause.id, name=cause.name, text=cause.cure)


def path_point(path: tuple[PathPoint, ...], words: str) -> int | None:
    """Return the number of the first point whose name holds the words."""
    found = (n for n, point in enumerate(path) if words and words.lower() in point.name.lower())
    return next(found, None)


def _needle(opens: Opens, setup: Setup) -> tuple[NeedleSize, Point] | None:
    """Return the needle that the cure asks for: one size on for more or less room, else the one that is in."""
    needle, top = setup.needle, setup.top_bundle
    if needle is None:
        return None
    if opens is Opens.NEEDLE_BALLPOINT:
        return needle.size, Point.BALLPOINT
    if top is None or opens not in (Opens.NEEDLE_UP, Opens.NEEDLE_DOWN):
        return needle.size, needle.point
    trouble = RoomTrouble.FRAYS if opens is Opens.NEEDLE_UP else RoomTrouble.SNAPS
    advice = room_advice(trouble, top, needle.size, needle.point)
    return NeedleSize(advice.metric, advice.american), advice.point
