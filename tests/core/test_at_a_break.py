"""Whether a break is looked into or sewn on from: against drawn workshops, whatever is behind their breaks."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from weftonos.core.kernel.care import Care
from weftonos.core.mend.at_a_break import SewnOn, sewn_on, why_sew_on
from weftonos.core.mend.incident import SEWN_ON, Incident

#: What one more break is worth, in minutes, as usual.
A_BREAK = 15
NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)


def broke(at_min: float, *, note: str = SEWN_ON) -> tuple[datetime, Incident]:
    return NOON + timedelta(minutes=at_min), Incident(symptoms=("frays_above_the_eye",), note=note)


class DrawnBreaks:
    """A machine on which something lasting is behind some breaks; left alone it breaks the thread once more."""

    def __init__(self, seed: int, behind: float, share: float, minutes: float) -> None:
        self.luck = np.random.default_rng([seed, int(1000 * behind), int(1000 * share)])
        self.behind, self.share, self.minutes = behind, share, minutes

    def season(self, looks, breaks: int = 50) -> float:
        """Return the minutes that a season's breaks cost whoever ``looks`` by what was sewn on from so far."""
        cost, followed, sewn = 0.0, 0, 0
        for _ in range(breaks):
            something = self.luck.random() < self.behind
            found = something and self.luck.random() < self.share
            looked = looks(SewnOn(breaks=sewn, followed=followed))
            again = something and not (looked and found)
            cost += self.minutes * looked + A_BREAK * again
            # Whoever made the first move sews on as well: nothing on record tells the two apart.
            sewn, followed = sewn + 1, followed + again
        return cost


@pytest.mark.parametrize("behind", [0.03, 0.15, 0.4, 0.8])
@pytest.mark.parametrize(("share", "minutes"), [(0.6, 0.5), (0.4, 1.0), (0.3, 2.0)])
def test_it_costs_little_more_than_the_better_of_always_and_never(behind, share, minutes):
    def ours(before: SewnOn) -> bool:
        return not why_sew_on(share, minutes, before, Care.USUAL)

    def mean(looks) -> float:
        return float(np.mean([DrawnBreaks(seed, behind, share, minutes).season(looks) for seed in range(80)]))

    better = min(mean(lambda _: True), mean(lambda _: False))
    # What it takes to learn in fifty breaks is counted in.
    assert mean(ours) <= 1.5 * better


def test_the_more_hangs_on_a_quilt_the_sooner_it_is_looked_into():
    looks = [not why_sew_on(0.12, 1.0, SewnOn(), care) for care in (Care.SCRAP, Care.USUAL, Care.MATTERS)]
    assert looks == [False, False, True]
    assert not why_sew_on(0.6, 0.5, SewnOn(), Care.USUAL), "half a minute is soon spent"


def test_breaks_count_that_were_sewn_on_from_and_trouble_within_the_hour():
    troubles = [broke(0), broke(59), broke(200), broke(261), broke(400, note=""), broke(410), broke(600)]
    # 59 and 200 are hours apart; what was looked into, and the last one, whose hour isn't over, tell nothing.
    told = sewn_on(troubles, NOON + timedelta(minutes=640))
    assert told == SewnOn(breaks=5, followed=1)
    assert sewn_on(troubles, NOON + timedelta(minutes=700)) == SewnOn(breaks=6, followed=1)
    assert sewn_on([], NOON) == SewnOn()
    of_a_table = sewn_on([broke(0), broke(0), broke(0), broke(1440)], NOON + timedelta(days=2))
    assert of_a_table == SewnOn(breaks=2), "three of one day, and nobody knows when"
    assert told.behind == pytest.approx((0.35 * 5 + 1) / (5 + 5))


def test_what_is_said():
    longer = "Looking for a cause would take longer than it should save."
    assert why_sew_on(0.4, 3, SewnOn(), Care.USUAL) == f"One break tells little. {longer}"
    known = SewnOn(breaks=9, followed=1)
    said = f"After 8 of the last 9 breaks on this machine nothing more came. {longer}"
    assert why_sew_on(0.4, 3, known, Care.USUAL) == said
