"""Balance as an estimate: graded stitches at known settings become a balanced setting with an honest interval.

Each look is a grade g in -2…+2 at a setting x; raising the setting lowers the grade. A cumulative-logit model with
center c (the balanced setting), steepness s and cut points at ±1 and ±3 gives P(g | x, c, s). On a grid of c and s
the posterior is exact enumeration; nothing is sampled.

The expectation is robust: a share of it lies anywhere on the scale, so that the cloth has the last word however sure
the expectation was. The answer never lies beyond a step that was graded wrong on that side.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from weftonos.core.balance.eye import PLAIN, Grading
from weftonos.core.balance.looks import (
    BALANCED_ONLY,
    Accepted,
    Beyond,
    Graded,
    Observation,
    better_of_two,
    by_eye,
    run_backward,
    step_again,
)
from weftonos.core.balance.policy import setting_to_set, spread_left
from weftonos.core.balance.posterior import (
    CUTS,
    Expected,
    moments,
    posterior_of,
    quantile,
)
from weftonos.core.balance.sense import makes_sense
from weftonos.core.balance.words import action_words, estimate_reasons, estimate_words, eye_words
from weftonos.core.kernel.advice import Reason
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate

#: Minimum probability that a setting is good enough to leave it alone: for one that was not stitched, and for one that
#: was and looked good, which needs less because the cloth has confirmed it.
SURE_FROM = estimate(0.8)
SEEN_GOOD_FROM = estimate(0.6, "", "fewer test lines, and as many quilts balanced, on the simulated machine")
#: Keep a setting judged good unless another is better by at least this probability.
PLAINLY_SURER = estimate(0.15)
MOST_LOOKS = 60
#: Maximum points of the posterior density sent for drawing.
DRAWN_POINTS = 120


@dataclass(frozen=True, kw_only=True)
class BalanceEstimate:
    """The balanced setting with its 95 % interval, how likely the present setting will do, what to stitch next.

    ``likely_low`` to ``likely_high`` is the 80 % interval, which screens and paper call "most likely".
    ``density`` is the posterior over ``grid``, the settings of the scale, for drawing; ``steepness`` its mean, per unit
    of the scale. ``set_to`` lies on the right side of every step that was graded wrong. Where even the last step of the
    scale was wrong on that side the balance lies ``beyond`` that end, by ``beyond_by``: nothing is stitched next, the
    path and the bobbin are seen to. ``by_eye`` is the middle of the good steps, as a ladder is read by eye;
    ``eye_says`` why it differs from the estimate, where it does. ``action`` is what to do now, at the setting
    ``act_at``; ``sure`` when that is to leave it. ``again`` is a step that others contradict.
    """

    center: float
    low: float
    high: float
    likely_low: float
    likely_high: float
    spread: float
    set_to: float
    present: float
    good_enough_probability: float
    next_setting: float | None
    next_gain: float | None
    beyond: Beyond | None
    beyond_by: float
    steepness: float
    makes_sense: bool
    by_eye: float | None
    eye_says: str
    action: str
    act_at: float
    sure: bool
    again: float | None
    text: str
    grid: tuple[float, ...]
    density: tuple[float, ...]
    reasons: tuple[Reason, ...]


def drawn_density(found: BalanceEstimate) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Return the posterior thinned and rounded for a drawing: grid and density, at most ``DRAWN_POINTS`` each."""
    every = max(1, math.ceil(len(found.grid) / DRAWN_POINTS))
    grid = tuple(round(x, 3) for x in found.grid[::every])
    return grid, tuple(float(f"{d:.3g}") for d in found.density[::every])


def estimate_balance(
    scale: TopScale,
    prior: Expected,
    looks: Sequence[Observation],
    accepted: Accepted = BALANCED_ONLY,
    grading: Grading = PLAIN,
) -> BalanceEstimate:
    """Estimate the balanced setting from graded looks.

    Parameters
    ----------
    scale: the machine's own; settings outside it are refused.
    prior: what was expected, lines of earlier times among it, or ``None`` for no idea at all.
    looks: any number of graded looks, also none: then the answer is the prior with its width.
    accepted: the grades that are good enough. They widen what will do; the balance itself stays where it is.
    grading: whose eye reads the lines, and how steady this machine's stitches are.

    >>> from weftonos.core.kernel.scale import ScaleKind
    >>> dial = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
    >>> looks = [Observation(2, 2), Observation(4, 0), Observation(6, -2)]
    >>> 3.5 < estimate_balance(dial, None, looks).center < 4.5
    True
    """
    if len(looks) > MOST_LOOKS:
        raise CraftError(f"{len(looks)} test lines are more than one test. {MOST_LOOKS} are enough.", "observations")
    for look in looks:
        scale.check(look.setting)
    centers, steep, joint = posterior_of(scale, prior, looks, grading)
    marginal = joint.sum(axis=1)
    mean, spread = moments(centers, marginal)
    cumulated = np.cumsum(marginal)
    low, likely_low, likely_high, high = (
        scale.within(quantile(centers, cumulated, q)) for q in (0.025, 0.1, 0.9, 0.975)
    )
    graded = Graded.of(looks, accepted)
    better = better_of_two(scale, looks, graded)
    if looks:
        center = scale.within(mean)
        set_to = setting_to_set(scale, centers, marginal, graded) if better is None else better
    else:
        # Nothing stitched: it begins where it is expected, not in the middle of everywhere.
        center = mean if prior is None else scale.within(prior.center)
        set_to = scale.snap(center)
    low, high = min(low, set_to), max(high, set_to)
    likely_low, likely_high = min(likely_low, set_to), max(likely_high, set_to)
    present = looks[-1].setting if looks else set_to

    def good_at(setting: float) -> float:
        latent = steep[None, :] * (centers[:, None] - setting)
        fewest, most = CUTS[accepted.lowest + 1].value, CUTS[accepted.highest + 2].value
        return float((joint * ((fewest <= latent) & (latent <= most))).sum())

    good = good_at(present)
    again, beyond = step_again(looks, graded), graded.beyond(scale)
    following = None if beyond else set_to if again is None else again
    gain = None if following is None else spread_left(following, centers, steep, joint, grading.steadiness)
    backward = run_backward(looks)
    sense = makes_sense(scale, looks) and not backward
    steepness = float(joint.sum(axis=0) @ steep)
    # What lies beyond the ends is not drawn: nobody can set it.
    shown = (centers > scale.low - 1e-9) & (centers < scale.high + 1e-9)
    ladder = [(look.setting, look.grade) for look in looks]
    read_by_eye = by_eye(ladder) if any(look.grade == 0 for look in looks) else None
    stays = bool(looks) and looks[-1].grade in accepted and good >= SEEN_GOOD_FROM.value
    sure = bool(looks) and sense and again is None and beyond is None and (stays or good_at(set_to) >= SURE_FROM.value)
    # Where it looked good it is left, unless the middle of what is known is plainly surer: at its edge a step looks
    # good as well, and is not good everywhere.
    surer = good_at(set_to) >= max(SURE_FROM.value, good + PLAINLY_SURER.value)
    leave_at = present if stays and not surer else set_to
    act_at = leave_at if sure else set_to if following is None else following
    return BalanceEstimate(
        center=center,
        low=low,
        high=high,
        likely_low=likely_low,
        likely_high=likely_high,
        spread=spread,
        set_to=set_to,
        present=present,
        good_enough_probability=good,
        next_setting=following,
        next_gain=gain,
        beyond=beyond,
        beyond_by=abs(mean - set_to) if beyond else 0.0,
        steepness=steepness,
        makes_sense=sense,
        by_eye=read_by_eye,
        eye_says=eye_words(scale, read_by_eye, set_to),
        action=action_words(scale=scale, looks=looks, at=act_at, sure=sure, again=again, beyond=beyond),
        act_at=act_at,
        sure=sure,
        again=again,
        text=estimate_words(
            scale=scale,
            looks=looks,
            set_to=set_to,
            likely=(likely_low, likely_high),
            sense=sense,
            backward=backward,
            beyond=beyond,
        ),
        grid=tuple(float(c) for c in centers[shown]),
        density=tuple(float(d) for d in marginal[shown] / marginal[shown].sum() / (centers[1] - centers[0])),
        reasons=tuple(
            estimate_reasons(
                scale=scale,
                prior=prior,
                looks=looks,
                graded=graded,
                sense=sense,
                backward=backward,
                better=better,
            )
        ),
    )
