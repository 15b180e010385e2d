"""What is left on a cone: by its label less what was sewn and wound, or weighed."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

from weftonos.core.kernel.counting import Z80
from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.core.kernel.spoken import length
from weftonos.core.kernel.standing import estimate
from weftonos.core.plan.expected import Likely
from weftonos.core.thread.thread import Thread

#: A kilogram of a thread of 1 tex is a thousand kilometers: meters = grams × 1000 / tex.
_M_PER_G_TEX = 1000
#: A weighed length is doubted by the label's tex and by moisture; a label by what was wound at the mill.
TEX_DOUBT = estimate(0.05, "", "log-sd: tex by the label, moisture")
SCALE_DOUBT = estimate(1.0, "g", "a kitchen scale, twice")
LABEL_DOUBT = estimate(0.02, "", "log-sd of the length on a label")
SHARE_DOUBT = estimate(0.08, "", "of a cone, when its share is said by eye")
USED_DOUBT = estimate(0.12, "", "log-sd of what was sewn and wound")
#: A cone may hold so much more than its label says before something was read wrongly.
MORE_THAN_FULL = estimate(1.16)


class ConeSays(StrEnum):
    """How it is known what is left."""

    WEIGHED = "weighed"
    METERS = "meters"
    SHARE = "share"
    ENDED = "ended"
    NEW = "new"


@dataclass(frozen=True, kw_only=True)
class ConeNoted:
    """What is left of a thread of the drawer was noted.

    ``weighed``: ``grams`` with the cone, ``empty_g`` the cone alone. ``meters``: ``left_m`` is known. ``share``: about
    so much of a cone is left, 0 to 1. ``ended``: nothing is left. ``new``: ``cones`` more were bought, of ``lot``.
    """

    thread: int
    says: ConeSays
    grams: float | None = None
    empty_g: float | None = None
    left_m: float | None = None
    share: float | None = None
    cones: int = 1
    lot: str = ""
    kind: Literal["cone_noted"] = "cone_noted"

    @property
    def threads_named(self) -> tuple[int, ...]:
        """The thread of the drawer that it is about."""
        return (self.thread,)

    def __post_init__(self) -> None:
        require_text(self.lot, 40, "The lot", "lot", empty=True)
        require_between(self.cones, 1, 200, "The number of cones", "cones")
        needs = {ConeSays.WEIGHED: "grams", ConeSays.METERS: "left_m", ConeSays.SHARE: "share"}.get(self.says)
        if needs and getattr(self, needs) is None:
            raise CraftError("Say how much is left.", needs)
        if self.grams is not None:
            require_between(self.grams, 0, 10_000, "The weight", "grams", unit="g")
            require_between(self.empty_g or 0, 0, 1000, "The empty cone", "empty_g", unit="g")
            if self.grams < (self.empty_g or 0):
                raise CraftError("The cone with its thread can't weigh less than the empty cone.", "grams")
        if self.left_m is not None:
            require_between(self.left_m, 0, 100_000, "What is left", "left_m", unit="m")
        if self.share is not None:
            require_between(self.share, 0, 1, "What is left of the cone", "share")


def weighed_m(thread: Thread, grams: float) -> float:
    """Return the length of so many grams of a thread, in m.

    >>> from weftonos.core.thread.linear_density import WeightSystem
    >>> from weftonos.core.thread.thread import Construction, Fiber
    >>> t = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=25, system=WeightSystem.TEX)
    >>> weighed_m(t, 100)
    4000.0
    """
    return grams * _M_PER_G_TEX / thread.density.tex


def check_cone(noted: ConeNoted, thread: Thread, full_m: float | None) -> None:
    """Refuse a cone that is heavier than full, and a share of a cone whose length nobody knows."""
    if noted.says in (ConeSays.SHARE, ConeSays.NEW) and full_m is None:
        raise CraftError("Put the length of a full cone with the thread's label first, or weigh it.", "share")
    left = noted.left_m if noted.grams is None else weighed_m(thread, noted.grams - (noted.empty_g or 0))
    if left is not None and full_m is not None and left > full_m * MORE_THAN_FULL.value:
        raise CraftError(
            f"That would be {length(left)}, and a full cone has {length(full_m)}. Take the empty cone's weight off.",
            "grams" if noted.grams is not None else "left_m",
        )


@dataclass(frozen=True, kw_only=True)
class Stock:
    """What is left of a thread: meters with their range, and how that is known.

    It is ``overdrawn`` where more was sewn than it can have held: another cone is on, and nobody said so.
    """

    left_m: Likely
    says: str
    overdrawn: bool = False


def stock_of(noted: ConeNoted | None, more: int, used_m: float, thread: Thread, full_m: float | None) -> Stock | None:
    """Return what is left; ``None`` where neither label nor scale says.

    Parameters
    ----------
    noted: the last note that says how much was left then; without one, a full cone by its label.
    more: cones bought since. used_m: what was sewn and wound since.
    """
    bought = more * (full_m or 0)
    if noted is None:
        if full_m is None:
            return None
        start, sd, how = full_m, LABEL_DOUBT.value * full_m, "by its label"
    elif noted.says is ConeSays.ENDED:
        start, sd, how = 0.0, 0.0, "since the last one ended"
    elif noted.grams is not None:
        start = weighed_m(thread, noted.grams - (noted.empty_g or 0))
        sd = ((TEX_DOUBT.value * start) ** 2 + weighed_m(thread, SCALE_DOUBT.value) ** 2) ** 0.5
        how = "weighed"
    elif noted.left_m is not None:
        start, sd, how = noted.left_m, LABEL_DOUBT.value * noted.left_m, "as you noted"
    else:
        full = full_m or 0
        start, sd, how = (noted.share or 0) * full, SHARE_DOUBT.value * full, "about, by eye"
    spread = Z80.value * (sd**2 + (LABEL_DOUBT.value * bought) ** 2 + (USED_DOUBT.value * used_m) ** 2) ** 0.5
    left = start + bought - used_m
    ends = Likely(max(0.0, left - spread), max(0.0, left), max(0.0, left + spread))
    since = f", less {length(used_m)} sewn and wound since" if used_m >= 1 else ""
    return Stock(left_m=ends, says=f"{how}{since}", overdrawn=left + spread < 0)


@dataclass(frozen=True, kw_only=True)
class Lasts:
    """Whether a thread lasts for what is planned with it: meters short (below nothing: over), and what to do."""

    short_m: Likely
    enough: bool | None
    cones_to_buy: int
    text: str


def lasts(needs: Likely, stock: Stock | None, full_m: float | None) -> Lasts:
    """Return whether what is left is enough; what is short is what the plan needs less what there is."""
    if stock is None:
        text = f"{length(needs.likely)} needed. What's on the cone isn't known: weigh it, or put its length in."
        return Lasts(short_m=needs, enough=None, cones_to_buy=0, text=text)
    if stock.overdrawn:
        text = f"{length(needs.likely)} needed. More was sewn than that cone held, so another must be on: weigh it."
        return Lasts(short_m=needs, enough=None, cones_to_buy=0, text=text)
    left, middle = stock.left_m, needs.likely - stock.left_m.likely
    # What is needed and what is left err apart from one another.
    up = ((needs.high - needs.likely) ** 2 + (left.likely - left.low) ** 2) ** 0.5
    down = ((needs.likely - needs.low) ** 2 + (left.high - left.likely) ** 2) ** 0.5
    short = Likely(middle - down, middle, middle + up)
    if short.high <= 0:
        return Lasts(short_m=short, enough=True, cones_to_buy=0, text=f"Enough: {length(-middle)} to spare.")
    buy = -int(-short.high // full_m) if full_m else 1
    if middle <= 0:
        text = f"Just enough, most likely. It may run out {length(short.high)} before the end."
        return Lasts(short_m=short, enough=None, cones_to_buy=buy, text=text)
    low = max(0.0, short.low)
    text = f"Runs out about {length(middle)} before the end ({length(low).split()[0]} to {length(short.high)})."
    return Lasts(short_m=short, enough=False, cones_to_buy=buy, text=text)
