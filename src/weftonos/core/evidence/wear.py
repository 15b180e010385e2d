"""What wears thread: trips through the eye, tension and stitch length as one relative figure.

The exponents are those of worsted yarn under repeated loading (27 runs): cycles to failure fall with the 5.7th power of
the amplitude and the 3.5th of the load and rise with the 5th of the free length. That is wool pulled to and fro in a
tester, not sewing thread in an eye. It says which way and how steeply such wear goes, and nothing of when a thread of
yours breaks; so the figure is only ever one set-up against another.
"""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.bobbin.thread_use import eye_passes
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.standing import published

_YARN = "Box and Cox 1964, J. Royal Statistical Society B 26, 211-246; our least squares on logarithms, R² 0.97"
LOAD_POWER = published(-3.504, "", _YARN)
AMPLITUDE_POWER = published(-5.653, "", _YARN)
LENGTH_POWER = published(4.950, "", _YARN)


@dataclass(frozen=True, kw_only=True)
class Rubbed:
    """What rubs a thread before it is sewn in: trips through the eye, its pull in mN, the free length in mm."""

    trips: float
    pull_mn: float
    free_mm: float = 1.0

    def __post_init__(self) -> None:
        require_between(self.trips, 0, 1000, "The number of trips through the eye", "trips", above_low=True)
        require_between(self.pull_mn, 0, 20_000, "The pull on the thread", "pull_mn", unit="mN", above_low=True)
        require_between(self.free_mm, 0, 10_000, "The free length", "free_mm", unit="mm", above_low=True)


#: What can be said of it, and what cannot.
SAYS = (
    "By the exponents of worsted yarn under repeated loading (published). It says which way wear goes and how "
    "steeply, one way of stitching against another. It can't say when a thread of yours breaks."
)


@dataclass(frozen=True, kw_only=True)
class Wear:
    """How one way of stitching rubs the thread against another: trips through the eye of both, and the ratio."""

    trips: float
    trips_before: float
    relative: float
    text: str
    says: str = SAYS


def compare_wear(
    stitch_length_mm: float, sandwich_mm: float, pull_share: float, stitch_before_mm: float, sandwich_before_mm: float
) -> Wear:
    """Return what a stitch length and a top pull, as a share of what it was, do to the thread.

    >>> compare_wear(3, 2, 1.0, 3, 2).relative
    1.0
    """
    require_between(pull_share, 0.1, 10, "The pull against before", "pull_share")
    trips, before = eye_passes(stitch_length_mm, sandwich_mm), eye_passes(stitch_before_mm, sandwich_before_mm)
    usual = 1000.0
    wear = relative_wear(Rubbed(trips=trips, pull_mn=pull_share * usual), Rubbed(trips=before, pull_mn=usual))
    if wear > 1.05:
        text = f"The thread is worn {figure(wear, 1)} times as much before it is sewn in."
    elif wear < 0.95:
        text = f"The thread is worn less: {figure(wear, 2)} of what it was."
    else:
        text = "The thread is worn about as much as before."
    return Wear(trips=trips, trips_before=before, relative=wear, text=text)


def relative_wear(one: Rubbed, other: Rubbed) -> float:
    """Return how many times as much of its life the first spends before it is sewn in as the second.

    >>> round(relative_wear(Rubbed(trips=70, pull_mn=1100), Rubbed(trips=70, pull_mn=1000)), 2)
    1.4
    """
    lives = (one.pull_mn / other.pull_mn) ** LOAD_POWER.value * (one.free_mm / other.free_mm) ** LENGTH_POWER.value
    return float(one.trips / other.trips / lives)
