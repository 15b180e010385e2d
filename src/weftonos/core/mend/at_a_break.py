"""Whether one looks for a cause at a break, or rethreads and sews on: a look is to save more than it takes.

Common practice takes a break for a sign, and many sew on from the first. What a look saves is the chance that something
lasting is behind the break, times the chance that it is what is looked at, times what one more break costs. How often
something is behind a break is learned: where one sewed on and nothing more came within the hour, nothing was (E).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise

from weftonos.core.kernel.care import ONE_MORE_BREAK, Care
from weftonos.core.kernel.counting import drawn_share
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.incident import SEWN_ON, Incident

#: How often something that lasts is behind a break, and how many breaks that weighs.
BEHIND, BEHIND_WEIGHS = estimate(0.35), estimate(5, "breaks")
#: What is behind a break shows again within so long; a second break within it is never sewn on from unlooked.
SHOWS_WITHIN = estimate(60, "min")
#: The cause by which whoever changes needles by condition changes one at the first break.
NEEDLE_WORN = "needle_dull_burred_bent"
#: Breaks that were sewn on from before it is said what came of them.
TOLD_FROM = estimate(4, "breaks")


@dataclass(frozen=True, kw_only=True)
class SewnOn:
    """Breaks that were sewn on from, and after how many of them there was trouble again within the hour."""

    breaks: int = 0
    followed: int = 0

    @property
    def behind(self) -> float:
        """How often something is behind a break here."""
        return drawn_share(BEHIND.value, BEHIND_WEIGHS.value, self.followed, self.breaks)


def sewn_on(troubles: Sequence[tuple[datetime, Incident]], until: datetime) -> SewnOn:
    """Count the breaks that were sewn on from in a machine's ``troubles``, oldest first, as is known ``until`` then.

    Of several that came in at one moment, from a table with days alone, nobody knows which followed which.
    """
    soon = timedelta(minutes=SHOWS_WITHIN.value)
    ends = [*troubles, (until, None)]
    known = [
        (then is not None and after - at <= soon)
        for (at, trouble), (after, then) in pairwise(ends)
        if trouble is not None and trouble.note == SEWN_ON and after > at and (then is not None or after - at > soon)
    ]
    return SewnOn(breaks=len(known), followed=sum(known))


def why_sew_on(chance: float, minutes: float, before: SewnOn, care: Care) -> str:
    """Return why one sews on from a break; empty where the first move pays.

    ``chance`` is that of the move's cause where something is behind the break, ``minutes`` what the move takes.
    """
    if before.behind * chance * ONE_MORE_BREAK[care].value > minutes:
        return ""
    longer = "Looking for a cause would take longer than it should save."
    if before.breaks < TOLD_FROM.value:
        return f"One break tells little. {longer}"
    nothing = before.breaks - before.followed
    return f"After {nothing} of the last {before.breaks} breaks on this machine nothing more came. {longer}"
