"""A gauge that a hand draws on, tap by tap: each tap draws a hand's breadth of thread, and a faster hand reads higher.

What is streamed while it is drawn and what is judged afterwards is one trace: a sample hangs on the taps before it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from weftonos.standins.source import SAMPLE_RATE, Sample

#: A hand's breadth of thread in mm, and the pace that a case is set for, in seconds a tap.
DRAWN_MM, PACE_S = 80.0, 0.35
#: How much more the gauge reads when the hand goes e times as fast, as a share; how soon the thread follows the hand.
FOLLOWS_SPEED, LAG_S = 0.22, 0.2
#: The taps in which the hand gets going: they are shown and not judged.
GETS_GOING = 2


def hand_trace(mean_mn: float, taps: Sequence[float], until: float) -> list[Sample]:
    """Return what the gauge shows from the first tap to a moment, for taps in seconds, in order.

    >>> len(hand_trace(200, [0.0, 0.35, 0.7], 0.7)) == round(0.7 * SAMPLE_RATE) + 1
    True
    """
    found: list[Sample] = []
    speed, drawn, done = 0.3 / PACE_S, 0.0, 0
    for n in range(math.floor((until - taps[0]) * SAMPLE_RATE + 1e-9) + 1):
        now = taps[0] + n / SAMPLE_RATE
        while done + 1 < len(taps) and taps[done + 1] <= now:
            done += 1
        gap = taps[done] - taps[done - 1] if done else PACE_S
        # A hand that is late has slowed down already.
        wish = 1 / max(gap, now - taps[done], 1e-3)
        speed += (wish - speed) / (LAG_S * SAMPLE_RATE)
        drawn += speed * DRAWN_MM / SAMPLE_RATE
        reads = mean_mn * max(0.0, 1 + FOLLOWS_SPEED * math.log(max(speed, 0.05) * PACE_S))
        found.append(Sample(now - taps[0], drawn, reads))
    return found


def judged(mean_mn: float, taps: Sequence[float]) -> list[float]:
    """Return the tensions of a whole pull that count, in mN: from where the hand has got going to its last tap."""
    begins = taps[GETS_GOING] - taps[0]
    return [sample.tension_mn for sample in hand_trace(mean_mn, taps, taps[-1]) if sample.t >= begins]
