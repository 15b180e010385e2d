"""What one more test line is worth: the minutes it takes against the minutes it is expected to save.

Whoever sews on without a line loses minutes where the stitch turns out off: by little, which stays in the quilt, or
plainly, which is picked out. A line is worth what it lowers that expectation by, the lines after it counted in (value
of sample information; Raiffa & Schlaifer 1961). The tree of grades is enumerated, ``LINES_AHEAD`` lines deep, on a
coarse grid of the posterior; each line in it is stitched where least would be lost.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from weftonos.core.balance.eye import PLAIN, Grading, general_eye
from weftonos.core.balance.looks import BALANCED_ONLY, Accepted, Observation
from weftonos.core.balance.posterior import CUTS, Array, Expected, posterior_of
from weftonos.core.balance.stitched import SewnBefore
from weftonos.core.kernel.care import PLAINLY_OFF, SLIGHTLY_OFF, Care
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.standing import estimate

#: Minutes of a test line: stitched, turned over and judged.
TEST_LINE = estimate(2, "min")
LINES_AHEAD = 2
#: The grid of the tree: so many centers, and so many settings that a line may be stitched at.
CENTERS, SETTINGS = 80, 24


@dataclass(frozen=True, kw_only=True)
class Stakes:
    """What is at stake, in minutes: a test line, a stitch that is off by one grade, one that is plainly off.

    ``care`` is how careful the quilt wants its maker to be, which says the last two.
    """

    line: float
    slightly: float
    plainly: float
    care: Care = Care.USUAL

    @classmethod
    def of(cls, care: Care, line: float = TEST_LINE.value) -> Stakes:
        """Return what is at stake on a quilt of this care."""
        return cls(line=line, slightly=SLIGHTLY_OFF[care].value, plainly=PLAINLY_OFF[care].value, care=care)


@dataclass(frozen=True, kw_only=True)
class WorthOfALine:
    """What one more test line takes and is expected to save, in minutes, and how often the stitch is off without it."""

    takes: float
    saves: float
    slightly_off: float
    plainly_off: float

    @property
    def pays(self) -> bool:
        """Whether it is expected to save more than it takes."""
        return self.saves > self.takes


def worth_of_a_line(
    scale: TopScale,
    expected: Expected,
    looks: Sequence[Observation],
    stakes: Stakes,
    *,
    accepted: Accepted = BALANCED_ONLY,
    grading: Grading = PLAIN,
    sewn_at: float | None = None,
) -> WorthOfALine:
    """Return what one more test line is worth, upon what is expected and what was stitched.

    ``sewn_at`` is where it is sewn without a line; left out, where least is lost. ``accepted`` grades cost nothing.
    ``grading`` is whose eye reads the lines, and how steady this machine's stitches are.

    >>> from weftonos.core.kernel.scale import ScaleKind
    >>> dial = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
    >>> worth_of_a_line(dial, None, [], Stakes.of(Care.USUAL)).pays
    True
    """
    centers, steep, joint = _coarse(*posterior_of(scale, expected, looks, grading))
    settings = _settings(scale)
    if sewn_at is not None:
        settings = np.append(settings, sewn_at)
    latent = steep[None, None, :] * (centers[None, :, None] - settings[:, None, None])
    fewest, most = CUTS[accepted.lowest + 1].value, CUTS[accepted.highest + 2].value
    plain = (latent < min(fewest, CUTS[0].value)) | (latent > max(most, CUTS[-1].value))
    slight = ~plain & ((latent < fewest) | (latent > most))
    loss = (stakes.slightly * slight + stakes.plainly * plain).reshape(len(settings), -1)
    # A stitch is what it is, and now and then is taken for its neighbor. The estimate's own chances also hold how the
    # stitches of one setting stray, which makes a line look as if it told less than it does.
    read = np.array(grading.eye.chances) if grading.eye else general_eye()
    is_there = np.digitize(latent, [cut.value for cut in CUTS])
    grades = np.moveaxis(read[is_there], -1, 0).reshape(read.shape[1], len(settings), -1)
    weights = joint.reshape(-1)

    def without(weight: Array) -> tuple[int, float]:
        """Return where least is lost by sewing on, and how much."""
        lost = loss @ weight
        at = int(np.argmin(lost))
        return at, float(lost[at])

    def after_a_line(weight: Array, at: int, ahead: int) -> float:
        return sum(lost(weight * grades[g, at], ahead) for g in range(len(grades)))

    def lost(weight: Array, ahead: int) -> float:
        at, sewn = without(weight)
        if not ahead:
            return sewn
        return min(sewn, stakes.line * float(weight.sum()) + after_a_line(weight, at, ahead - 1))

    at, sewn = without(weights)
    if sewn_at is not None:
        at, sewn = len(settings) - 1, float(loss[-1] @ weights)
    return WorthOfALine(
        takes=stakes.line,
        saves=max(0.0, sewn - after_a_line(weights, at, LINES_AHEAD - 1)),
        slightly_off=float(slight[at].reshape(-1) @ weights),
        plainly_off=float(plain[at].reshape(-1) @ weights),
    )


def _settings(scale: TopScale) -> Array:
    """Return the settings at which a line may be stitched: those of the scale, or every so many of them."""
    every = scale.step * max(1, math.ceil(scale.span / scale.step / SETTINGS))
    return np.arange(scale.low, scale.high + scale.step / 2, every)


def _coarse(centers: Array, steep: Array, joint: Array) -> tuple[Array, Array, Array]:
    """Return a posterior on fewer centers: neighbors are put together."""
    every = math.ceil(len(centers) / CENTERS)
    starts = np.arange(0, len(centers), every)
    weight = np.add.reduceat(joint, starts, axis=0)
    middle = np.add.reduceat(centers, starts) / np.diff([*starts, len(centers)])
    return middle, steep, weight


def untested_words(scale: TopScale, at: float, *, stitched: bool) -> str:
    """Say what to do where no further line is asked for."""
    return f"Leave it {scale.place(at)}" if stitched else f"Set {scale.words(at)} and sew"


def skip_words(worth: WorthOfALine, before: SewnBefore, care: Care, *, stitched: bool = False) -> str:
    """Say in a line why no test line is asked for, or none after the one ``stitched``; empty where one pays."""
    if worth.pays:
        return ""
    if stitched:
        return "That line was good. Another would take longer than it should save."
    if before.times > 1:
        how = "all good" if before.good == before.times else f"{before.good} of them good in the end"
        return f"Skip the test: you've sewn this {so_many(before.times, 'time')}, {how}."
    likely = f"{1 - worth.slightly_off - worth.plainly_off:.0%} likely good"
    return f"Skip the test: it's {likely}{', and this is scrap' if care is Care.SCRAP else ''}."


#: Why no further line is asked for between two neighboring steps.
BETWEEN_SAYS = "It's the better of two settings with nothing between them."


def pays_words(worth: WorthOfALine) -> str:
    """Say in a line that a test line pays; empty where it does not."""
    if not worth.pays:
        return ""
    takes, saves = (so_many(max(1, round(each)), "minute") for each in (worth.takes, worth.saves))
    return f"A test line takes about {takes} and should save about {saves}."
