"""Balance as an estimate: graded stitches at known settings become a balanced setting with an honest interval.

Each look is a grade g in -2…+2 at a setting x; raising the setting lowers the grade. A cumulative-logit model with
centre c (the balanced setting), steepness s and cut points at ±1 and ±3 gives P(g | x, c, s). On a grid of c and s
the posterior is exact enumeration; nothing is sampled.

The expectation is robust: a share of it lies anywhere on the scale, so that the cloth has the last word however sure
the expectation was. The answer never lies beyond a step that was graded wrong on that side.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from weftonos.core.balance.eye import Eye
from weftonos.core.balance.looks import BALANCED_ONLY, Accepted, Graded, Observation, by_eye, run_backward, step_again
from weftonos.core.kernel.advice import Reason
from weftonos.core.kernel.counting import Z95
from weftonos.core.kernel.errors import CraftError, require_between
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.standing import Standing, estimate
from weftonos.core.kernel.stitch import GRADES

Array = npt.NDArray[np.float64]

#: Steepness per dial number, and the cuts between grades on the latent scale.
STEEPNESS = tuple(estimate(s, "per dial number") for s in (0.7, 1.0, 1.5, 2.2, 3.3))
CUTS = tuple(estimate(cut, "latent") for cut in (-3.0, -1.0, 1.0, 3.0))
DIAL_GRID = estimate(0.05, "dial numbers", "grid of the exact enumeration")
GRID_PARTS = estimate(500, "parts of the scale", "grid of the exact enumeration")
#: What counts as one dial number on a scale without them.
DIAL_NUMBERS = estimate(10, "to a scale", "a dial runs from 0 to 10")
#: A grade given with doubt lies this often one to either side.
DOUBT = estimate(0.25)
#: The share of an expectation that lies anywhere on the scale.
ANYWHERE = estimate(0.15)
#: From this chance on that a setting is good enough it is left alone: one that was not stitched, and one that was and
#: looked good, which takes less, since the cloth has said so.
SURE_FROM = estimate(0.8)
SEEN_GOOD_FROM = estimate(0.6, "", "fewer looks, and as many quilts balanced, on the simulated machine")
#: By so much surer must another setting be for a step that looked good to be left.
PLAINLY_SURER = estimate(0.15)
MOST_LOOKS = 60
FEWEST_TO_JUDGE = estimate(4, "looks")
#: Log of the Bayes factor below which a ladder is called nonsense.
NONSENSE_BELOW = estimate(-2.3, "", "natural logarithm; at most 3 in 100 honest ladders fall below")
#: So many points of the posterior are drawn.
DRAWN_POINTS = 120
#: So many settings are weighed for the next stitch.
CANDIDATES = 41
_GRADES = np.array(sorted(GRADES))


@dataclass(frozen=True)
class BalancePrior:
    """What is thought of the centre before stitching: a normal one, in the scale's own numbers.

    It is taken robustly: a share of ``ANYWHERE`` lies evenly over the whole scale.
    """

    centre: float
    spread: float

    def __post_init__(self) -> None:
        require_between(value=self.centre, low=-1e5, high=1e5, what="The expected setting", field="centre")
        require_between(
            value=self.spread,
            low=0,
            high=1e5,
            what="The spread of the expected setting",
            field="spread",
            above_low=True,
        )


@dataclass(frozen=True, kw_only=True)
class BalanceEstimate:
    """The balanced setting with its 95 % interval, how likely the present setting will do, what to stitch next.

    ``density`` is the posterior over ``grid``, for drawing; ``steepness`` its mean, per unit of the scale. ``set_to``
    lies on the right side of every step that was graded wrong. ``by_eye`` is the middle of the good steps, as a ladder
    is read by eye; ``eye_says`` why it differs from the estimate, where it does.
    ``action`` is what to do now, at the setting ``act_at``; ``sure`` when that is to leave it. ``again`` is a step that
    others contradict.
    """

    centre: float
    low: float
    high: float
    spread: float
    set_to: float
    present: float
    good_enough_probability: float
    next_setting: float
    next_gain: float
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


def half_width(spread: float) -> float:
    """Return half of the 95 % interval of a normal distribution with this spread."""
    return Z95.value * spread


def drawn_density(found: BalanceEstimate) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Return the posterior thinned and rounded for a drawing: grid and density, at most ``DRAWN_POINTS`` each."""
    every = max(1, math.ceil(len(found.grid) / DRAWN_POINTS))
    grid = tuple(round(x, 3) for x in found.grid[::every])
    return grid, tuple(float(f"{d:.3g}") for d in found.density[::every])


def scale_unit(scale: TopScale) -> float:
    """Return what counts as one dial number on a scale: 1 on a dial, a tenth of the scale elsewhere."""
    return 1.0 if scale.kind is ScaleKind.DIAL else scale.span / DIAL_NUMBERS.value


@lru_cache(64)
def _grid(scale: TopScale) -> Array:
    step = DIAL_GRID.value if scale.kind is ScaleKind.DIAL else scale.span / GRID_PARTS.value
    count = min(4001, round(scale.span / step) + 1)
    return np.linspace(scale.low, scale.high, count)


def grade_probabilities(setting: Array | float, centre: Array | float, steepness: Array | float) -> Array:
    """Return P(g | x, c, s) for the grades -2 … 2 along a new first axis; steepness per unit of the scale."""
    latent = -np.asarray(steepness) * (np.asarray(setting) - np.asarray(centre))
    below = [1 / (1 + np.exp(-np.clip(cut.value - latent, -700, 700))) for cut in CUTS]
    edges = [np.zeros_like(below[0]), *below, np.ones_like(below[0])]
    return np.stack([upper - lower for lower, upper in pairwise(edges)])


def _posterior(
    scale: TopScale, prior: BalancePrior | None, looks: Sequence[Observation], eye: Eye | None = None
) -> tuple[Array, Array, Array]:
    """Return the grid of centres, the steepnesses per unit of the scale, and the posterior over both (c, s)."""
    centres = _grid(scale)
    steep = np.array([s.value for s in STEEPNESS]) / scale_unit(scale)
    log = np.zeros((len(centres), len(steep)))
    if prior is not None:
        log += np.log(_expected(centres, prior))[:, None]
    for look in looks:
        chances = grade_probabilities(look.setting, centres[:, None], steep[None, :])
        if eye is not None:
            chances = eye.blur(chances)
        place = look.grade + 2
        chance = chances[place]
        if look.doubtful:
            beside = [chances[p] for p in (place - 1, place + 1) if 0 <= p <= 4]
            chance = (1 - DOUBT.value * len(beside)) * chance + DOUBT.value * np.sum(beside, axis=0)
        log += np.log(np.maximum(chance, 1e-300))
    weights = np.exp(log - log.max())
    return centres, steep, weights / weights.sum()


@lru_cache(2048)
def centre_of(
    scale: TopScale, looks: tuple[Observation, ...], prior: BalancePrior | None = None
) -> tuple[float, float]:
    """Return where the balance lies by looks and an expectation, and its standard deviation on the scale.

    >>> dial = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
    >>> mean, spread = centre_of(dial, (Observation(3, 1), Observation(5, -1)))
    >>> round(mean, 1), round(spread, 1)
    (4.0, 1.2)
    """
    centres, _, joint = _posterior(scale, prior, looks)
    return _moments(centres, joint.sum(axis=1))


def _moments(centres: Array, marginal: Array) -> tuple[float, float]:
    """Return mean and standard deviation of a distribution over the grid."""
    mean = float(centres @ marginal)
    return mean, math.sqrt(max(0.0, float(((centres - mean) ** 2) @ marginal)))


def _expected(centres: Array, prior: BalancePrior) -> Array:
    """Return an expectation over the grid: normal for the most part, and a share of it anywhere."""
    exponent = -0.5 * ((centres - prior.centre) / prior.spread) ** 2
    near = np.exp(exponent - exponent.max())
    share = ANYWHERE.value
    expected: Array = (1 - share) * near / near.sum() + share / len(centres)
    return expected


def _set_to(scale: TopScale, centres: Array, marginal: Array, graded: Graded) -> float:
    """Return the setting to set: the middle of the posterior, on the right side of every step that was graded wrong."""
    allowed = marginal if graded.contradict else marginal * np.array([graded.allows(c) for c in centres])
    if allowed.sum() <= 0:
        # Every setting of the scale was graded wrong on its side: its end is the nearest there is.
        return scale.high if graded.loose is not None else scale.low
    middle = _quantile(centres, np.cumsum(allowed / allowed.sum()), 0.5)
    # The steps beside the nearest one, not the nearest to places beside the middle: halfway those are two steps apart.
    nearest = scale.snap(middle)
    near = [scale.snap(nearest + by * scale.step) for by in (0, 1, -1)]
    fitting = [setting for setting in near if graded.contradict or graded.allows(setting)]
    return fitting[0] if fitting else near[0]


def estimate_balance(
    scale: TopScale,
    prior: BalancePrior | None,
    looks: Sequence[Observation],
    accepted: Accepted = BALANCED_ONLY,
    eye: Eye | None = None,
) -> BalanceEstimate:
    """Estimate the balanced setting from graded looks.

    Parameters
    ----------
    scale: the machine's own; settings outside it are refused.
    prior: what was expected, or ``None`` for no idea at all.
    looks: any number of graded looks, also none: then the answer is the prior with its width.
    accepted: the grades that are good enough. They widen what will do; the balance itself stays where it is.
    eye: how often whoever looks takes one grade for another; left out, a look is taken as it was read.

    >>> dial = TopScale(kind=ScaleKind.DIAL, low=0, high=10, step=0.5)
    >>> looks = [Observation(2, 2), Observation(4, 0), Observation(6, -2)]
    >>> 3.5 < estimate_balance(dial, None, looks).centre < 4.5
    True
    """
    if len(looks) > MOST_LOOKS:
        raise CraftError(f"{len(looks)} looks are more than one test. {MOST_LOOKS} are enough.", "observations")
    for look in looks:
        scale.check(look.setting)
    centres, steep, joint = _posterior(scale, prior, looks, eye)
    marginal = joint.sum(axis=1)
    mean, spread = _moments(centres, marginal)
    cumulated = np.cumsum(marginal)
    low, high = (_quantile(centres, cumulated, q) for q in (0.025, 0.975))
    graded = Graded.of(looks, accepted)
    if looks:
        centre, set_to = mean, _set_to(scale, centres, marginal, graded)
    else:
        # Nothing stitched: it begins where it is expected, not in the middle of everywhere.
        centre = mean if prior is None else min(scale.high, max(scale.low, prior.centre))
        set_to = scale.snap(centre)
    low, high = min(low, set_to), max(high, set_to)
    present = looks[-1].setting if looks else set_to

    def good_at(setting: float) -> float:
        latent = steep[None, :] * (centres[:, None] - setting)
        fewest, most = CUTS[accepted.lowest + 1].value, CUTS[accepted.highest + 2].value
        return float((joint * ((fewest <= latent) & (latent <= most))).sum())

    good = good_at(present)
    following, gain = _next_setting(scale=scale, centres=centres, steep=steep, joint=joint, spread=spread)
    again = step_again(looks, graded)
    following = following if again is None else again
    sense = makes_sense(scale, looks) and not run_backward(looks)
    steepness = float(joint.sum(axis=0) @ steep)
    ladder = [(look.setting, look.grade) for look in looks]
    read_by_eye = by_eye(ladder) if any(look.grade == 0 for look in looks) else None
    stays = bool(looks) and looks[-1].grade in accepted and good >= SEEN_GOOD_FROM.value
    sure = bool(looks) and sense and again is None and (stays or good_at(set_to) >= SURE_FROM.value)
    # Where it looked good it is left, unless the middle of what is known is plainly surer: at its edge a step looks
    # good as well, and is not good everywhere.
    surer = good_at(set_to) >= max(SURE_FROM.value, good + PLAINLY_SURER.value)
    leave_at = present if stays and not surer else set_to
    # The first step is where it is expected: it may be good at once.
    stitch_at = following if looks else set_to
    act_at = leave_at if sure else stitch_at
    return BalanceEstimate(
        centre=centre,
        low=low,
        high=high,
        spread=spread,
        set_to=set_to,
        present=present,
        good_enough_probability=good,
        next_setting=following,
        next_gain=gain,
        steepness=steepness,
        makes_sense=sense,
        by_eye=read_by_eye,
        eye_says=_eye_says(scale, read_by_eye, set_to),
        action=_action(scale=scale, looks=looks, at=act_at, sure=sure, again=again),
        act_at=act_at,
        sure=sure,
        again=again,
        text=_text(scale=scale, looks=looks, set_to=set_to, low=low, high=high, sense=sense),
        grid=tuple(float(c) for c in centres),
        density=tuple(float(d) for d in marginal / (centres[1] - centres[0])),
        reasons=tuple(_reasons(scale=scale, prior=prior, looks=looks, graded=graded, following=following, sense=sense)),
    )


def _quantile(centres: Array, cumulated: Array, share: float) -> float:
    return float(centres[min(len(centres) - 1, int(np.searchsorted(cumulated, share)))])


def _candidates(scale: TopScale, centres: Array, marginal: Array) -> Array:
    cumulated = np.cumsum(marginal)
    low, high = (_quantile(centres, cumulated, q) for q in (0.005, 0.995))
    wide = max(high - low, 2 * scale.step)
    # A little beyond the interval on either side, and closely enough that no step of the scale is passed over.
    wanted = np.linspace(low - 0.1 * wide, high + 0.1 * wide, CANDIDATES)
    return np.unique([scale.snap(min(scale.high, max(scale.low, x))) for x in wanted])


def _next_setting(scale: TopScale, centres: Array, steep: Array, joint: Array, spread: float) -> tuple[float, float]:
    """Return the setting whose grade is expected to leave the least variance of c, and the spread it leaves."""
    marginal = joint.sum(axis=1)
    keep = marginal > 1e-7 * marginal.max()
    c, p = centres[keep], joint[keep]
    best, least = scale.snap(float(centres @ marginal)), math.inf
    for x in _candidates(scale, centres, marginal):
        chances = grade_probabilities(x, c[:, None], steep[None, :])
        by_centre = np.einsum("gcs,cs->gc", chances, p)
        weight = by_centre.sum(axis=1)
        first, second = by_centre @ c, by_centre @ (c * c)
        left = float(np.sum(second - first**2 / np.maximum(weight, 1e-300)))
        if left < least - 1e-12:
            best, least = float(x), left
    return best, math.sqrt(max(0.0, least))


def makes_sense(scale: TopScale, looks: Sequence[Observation]) -> bool:
    """Say whether graded looks can come from one balance, rather than jump about.

    Two explanations are weighed by how likely they make the grades (a Bayes factor): one balance anywhere on the
    scale, or grades that have nothing to do with the setting (each from the same unknown proportions). Fewer than
    four looks are never called nonsense.
    """
    sure = [look for look in looks if not look.doubtful]
    if len(sure) < FEWEST_TO_JUDGE.value:
        return True
    centres = _grid(scale)
    steep = np.array([s.value for s in STEEPNESS]) / scale_unit(scale)
    log = np.zeros((len(centres), len(steep)))
    for look in sure:
        chance = grade_probabilities(look.setting, centres[:, None], steep[None, :])[look.grade + 2]
        log += np.log(np.maximum(chance, 1e-300))
    balanced = float(np.logaddexp.reduce(log, axis=None)) - math.log(log.size)
    counts = [sum(look.grade == g for look in sure) for g in _GRADES]
    # Dirichlet-multinomial with one of each grade beforehand.
    unrelated = math.lgamma(5) - math.lgamma(len(sure) + 5) + sum(math.lgamma(n + 1) for n in counts)
    return balanced - unrelated > NONSENSE_BELOW.value


def _eye_says(scale: TopScale, eye: float | None, set_to: float) -> str:
    if eye is None or abs(eye - set_to) <= scale.step / 2:
        return ""
    return (
        f"By eye it is {scale.words(scale.snap(eye))}, the middle of the good steps. The estimate also counts how far "
        "off the other steps were, and where it was expected."
    )


def _action(*, scale: TopScale, looks: Sequence[Observation], at: float, sure: bool, again: float | None) -> str:
    """Say what to do now: leave it there where that is sure, else stitch another step."""
    if sure:
        stands = "Leave it" if looks[-1].setting == at else "Set it and leave it"
        return f"{stands} {scale.place(at)}"
    if again is not None:
        return f"Stitch {scale.words(again)} again"
    return f"Set {scale.words(at)}, stitch a hand's length"


def _text(scale: TopScale, looks: Sequence[Observation], set_to: float, low: float, high: float, sense: bool) -> str:
    if run_backward(looks):
        return "These grades run backward. Check which end of the strip is which before you turn."
    if not sense:
        return "These grades jump about. Look at the bobbin, the seat in the discs and the case before you turn."
    between = f"between {scale.words(scale.snap(low))} and {scale.words(scale.snap(high))}"
    if not looks:
        return f"Start at {scale.words(set_to)}. Nothing stitched yet: anywhere {between}."
    return f"The estimate is {scale.words(set_to)}. It lies {between}, 95 in 100."


def _reasons(
    *,
    scale: TopScale,
    prior: BalancePrior | None,
    looks: Sequence[Observation],
    graded: Graded,
    following: float,
    sense: bool,
) -> list[Reason]:
    reasons = []
    count = len(looks)
    if count:
        reasons.append(
            Reason(
                text=f"From {count} graded look{'s' if count > 1 else ''}"
                f"{' and where it was expected' if prior else ' alone'}.",
                rule="balance_estimate",
                standing=Standing.OWN_RECORDS,
            )
        )
    elif prior:
        reasons.append(
            Reason(
                text="Only where it is expected; nothing stitched yet.",
                rule="balance_prior",
                standing=Standing.ESTIMATE,
            )
        )
    if run_backward(looks):
        text = "Turning tighter cannot make stitches looser: the strip was read from its other end, or the knob turned."
        reasons.append(Reason(text=text, rule="ladder_runs_backward"))
    elif not sense:
        reasons.append(
            Reason(
                text="One balance cannot make these grades: a fluttering bobbin, thread outside the discs, or a "
                "sticking case comes first.",
                rule="ladder_makes_no_sense",
            )
        )
    if count and len({look.grade > 0 for look in looks}) == 1 and all(look.grade for look in looks):
        side = "lower" if looks[0].grade < 0 else "higher"
        seen = "This look was" if count == 1 else f"All {count} looks were"
        than = "" if count == 1 else " than all of them"
        text = f"{seen} too {'tight' if side == 'lower' else 'loose'} on top: the balance lies {side}{than}."
        reasons.append(Reason(text=text, rule="one_sided"))
    if graded.contradict and graded.loose is not None and graded.tight is not None:
        loose, tight = scale.words(graded.loose), scale.words(graded.tight)
        reasons.append(
            Reason(
                text=f"The looks contradict each other: too loose at {loose}, too tight at {tight}. One of them wants "
                "stitching again.",
                rule="looks_contradict",
            )
        )
    if any(look.grade == 2 for look in looks):
        reasons.append(
            Reason(text="A sudden nest is nearly always a thread outside the discs. Seat it first.", rule="seat_first")
        )
    reasons.append(
        Reason(
            text=f"Most would be learned from a stitch {scale.place(following)}.",
            rule="next_step",
            standing=Standing.ESTIMATE,
        )
    )
    return reasons
