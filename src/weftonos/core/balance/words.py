"""The estimate in words: what to do now, what is known, and why."""

from __future__ import annotations

from collections.abc import Sequence

from weftonos.core.balance.looks import Beyond, Graded, Observation
from weftonos.core.balance.posterior import (
    Expected,
    StitchedBefore,
)
from weftonos.core.kernel.advice import Reason
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.spoken import hand, so_many
from weftonos.core.kernel.standing import Standing


def eye_words(scale: TopScale, eye: float | None, set_to: float) -> str:
    """Say why a ladder reads otherwise by eye; empty where it does not."""
    if eye is None or abs(eye - set_to) <= scale.step / 2:
        return ""
    return (
        f"By eye it is {scale.words(scale.snap(eye))}, the middle of the good steps. The estimate also counts how far "
        "off the other steps were, and where it was expected."
    )


#: What the top is at the end of the scale past which the balance lies.
END_IS = {Beyond.LOW: "too tight", Beyond.HIGH: "too loose"}


def action_words(
    *,
    scale: TopScale,
    looks: Sequence[Observation],
    at: float,
    sure: bool,
    again: float | None,
    beyond: Beyond | None = None,
) -> str:
    """Say what to do now: leave it there where that is sure, else stitch another step; or that the scale ends here."""
    if beyond:
        return f"Even {scale.place(at)} the top is {END_IS[beyond]}"
    if sure:
        stands = "Leave it" if looks[-1].setting == at else "Set it and leave it"
        return f"{stands} {scale.place(at)}"
    if again is not None:
        return f"Stitch {scale.words(again)} again"
    return f"Set {scale.words(at)} and stitch {hand()}"


def estimate_words(
    *,
    scale: TopScale,
    looks: Sequence[Observation],
    set_to: float,
    likely: tuple[float, float],
    sense: bool,
    backward: bool,
    beyond: Beyond | None = None,
) -> str:
    """Say where the balance most likely lies: 8 times in 10 within ``likely``."""
    if backward:
        return "This strip reads backward. Check which end is which before you turn."
    if not sense:
        return "These test lines jump around. Check the bobbin and the seat in the discs before you turn."
    if beyond:
        return f"The balance lies past the end of this scale, at {scale.words(set_to)}. Don't leave it there."
    between = " to ".join(scale.words(scale.snap(end)) for end in likely)
    if not looks:
        return f"Start at {scale.words(set_to)}, most likely {between}. No test line counts yet."
    return f"Best guess {scale.words(set_to)}, most likely {between}."


def _rests_also_on(prior: Expected) -> str:
    if isinstance(prior, StitchedBefore):
        before = "The one before counts" if prior.lines == 1 else f"The {prior.lines} before count"
        return f" of this sitting. {before} for less"
    return " and the setting expected for these threads" if prior else " alone"


def estimate_reasons(
    *,
    scale: TopScale,
    prior: Expected,
    looks: Sequence[Observation],
    graded: Graded,
    sense: bool,
    backward: bool,
    better: float | None,
) -> list[Reason]:
    """Return what the estimate rests on, and what stands in its way."""
    reasons = []
    count = len(looks)
    if count:
        reasons.append(
            Reason(
                text=f"From {so_many(count, 'test line')}{_rests_also_on(prior)}.",
                rule="balance_estimate",
                standing=Standing.OWN_RECORDS,
            )
        )
    elif prior:
        reasons.append(
            Reason(
                text="No test line counts yet. This is only the setting expected for these threads.",
                rule="balance_prior",
                standing=Standing.ESTIMATE,
            )
        )
    if backward:
        text = "Turning tighter can't make stitches looser. The strip was read from its other end, or the knob turned."
        reasons.append(Reason(text=text, rule="ladder_runs_backward"))
    elif not sense:
        reasons.append(
            Reason(
                text=(
                    "One balance can't make these stitches. First look for a bobbin that flutters or sticks, or "
                    "thread outside the discs."
                ),
                rule="ladder_makes_no_sense",
            )
        )
    if count and len({look.grade > 0 for look in looks}) == 1 and all(look.grade for look in looks):
        side = "lower" if looks[0].grade < 0 else "higher"
        seen = "This test line was" if count == 1 else f"All {count} test lines were"
        than = "" if count == 1 else " than all of them"
        text = f"{seen} too {'tight' if side == 'lower' else 'loose'} on top. The balance lies {side}{than}."
        reasons.append(Reason(text=text, rule="one_sided"))
    if better is not None and graded.loose is not None and graded.tight is not None:
        loose, tight = scale.words(graded.loose), scale.words(graded.tight)
        reasons.append(
            Reason(
                text=f"Too loose at {loose}, too tight at {tight}, and no step between. The better one may do.",
                rule="no_step_between",
            )
        )
    if graded.contradict and graded.loose is not None and graded.tight is not None:
        loose, tight = scale.words(graded.loose), scale.words(graded.tight)
        reasons.append(
            Reason(
                text=(
                    f"The test lines contradict each other: too loose at {loose}, too tight at {tight}. Stitch one "
                    "of them again."
                ),
                rule="looks_contradict",
            )
        )
    if any(look.grade == 2 for look in looks):
        reasons.append(
            Reason(text="A sudden nest is nearly always a thread outside the discs. Seat it first.", rule="seat_first")
        )
    return reasons
