"""Watching a live gauge: when a pull has begun, and when it is over and can be read."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.standing import estimate

PULL_FROM = estimate(20.0, "mN", "below it the thread hangs slack")
SHORTEST_PULL = estimate(1.0, "s", "a tug is no pull")
REST = estimate(1 / 3, "s", "so long slack, and the pull is over")


@dataclass
class PullWatch:
    """Follows samples as they come; ``rate`` is samples a second."""

    rate: int
    _drawn: int = 0
    _slack: int = 0

    def sees(self, tension_mn: float) -> bool:
        """Take the next sample and say whether a pull has just ended."""
        if tension_mn > PULL_FROM.value:
            self._drawn, self._slack = self._drawn + 1, 0
            return False
        self._slack += 1
        ended = self._drawn > SHORTEST_PULL.value * self.rate and self._slack == int(REST.value * self.rate)
        if ended:
            self._drawn = 0
        return ended
