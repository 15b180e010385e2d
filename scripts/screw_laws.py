"""Case screws that do not follow the program's model: the worlds its advice is tried in, written apart from it."""

from __future__ import annotations

import math
from enum import StrEnum

import numpy as np

AIM = 200.0
NEAR = 0.05
#: Three per cent a pull; a reading is the mean of three.
GAUGE_NOISE = 0.03 / math.sqrt(3)


class Law(StrEnum):
    """How a screw answers that is not the model's: what the bench tries beside it."""

    EXPONENTIAL = "exponential"
    LINEAR = "linear spring"
    STICKY = "sticky"
    BACKLASH = "backlash"
    GAUGE_OFF = "gauge 15 % off"
    WORN = "worn, saturating"
    ALL = "all together"


class OtherCase:
    """A case whose screw follows a law: tension in mN, turned by hand to about a minute, read with 3 % a pull."""

    def __init__(self, chance: np.random.Generator, law: Law) -> None:
        self.chance, self.law = chance, law
        self.rate = float(chance.uniform(0.010, 0.045))
        self.lost = float(chance.uniform(3, 6)) if self._has(Law.BACKLASH) else 0.0
        self.gauge = float(chance.uniform(0.85, 1.15)) if self._has(Law.GAUGE_OFF) else 1.0
        self.least, self.most = (0.75 * AIM, 1.3 * AIM) if self._has(Law.WORN) else (20.0, 2000.0)
        self.true = AIM * math.exp(chance.choice([-1, 1]) * chance.uniform(0.08, 0.30)) / self.gauge
        self.true = min(max(self.true, self.least * 1.02), self.most * 0.98)
        self.way = 0.0

    def _has(self, law: Law) -> bool:
        return self.law in (law, Law.ALL)

    def read(self) -> float:
        return float(self.true * self.gauge * math.exp(self.chance.normal(0, GAUGE_NOISE)))

    def change_thread(self) -> None:
        """Another thread goes in: it reads higher or lower under the same screw."""
        self.true *= math.exp(self.chance.choice([-1, 1]) * self.chance.uniform(0.08, 0.30))
        self.true = min(max(self.true, self.least * 1.02), self.most * 0.98)

    def turn(self, minutes: float) -> None:
        done = minutes + self.chance.normal(0, 0.5)
        if self.lost and self.way and math.copysign(1, minutes) != self.way:
            done = math.copysign(max(0.0, abs(done) - self.lost), minutes)
        self.way = math.copysign(1, minutes)
        if self._has(Law.STICKY):
            done *= self.chance.uniform(0.5, 1.2)
        if self._has(Law.LINEAR):
            self.true += self.rate * AIM * done
        else:
            self.true *= math.exp(self.rate * done)
        if self._has(Law.WORN):
            middle, half = (self.most + self.least) / 2, (self.most - self.least) / 2
            self.true = middle + half * math.tanh((self.true - middle) / half)
        self.true = min(max(self.true, self.least), self.most)

    @property
    def on_target(self) -> bool:
        return abs(self.true * self.gauge / AIM - 1) <= NEAR
