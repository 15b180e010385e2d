"""A simulated digital gauge: a hand draws thread from a bobbin in a case of selectable health.

It is a small mechanical story and knows nothing of how traces are read: a hand that speeds up, wavers and stops;
a bobbin that turns and grows thinner; thread friction; a sensor with noise of its own. The reader in
``core/trace.py`` works on pulled length, with a periodogram and running medians; here everything happens in time,
turn by turn, with amplitudes, rates and phases drawn anew for each trace.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from enum import StrEnum

import numpy as np

from weftonos.standins.source import SAMPLE_RATE, Sample, register


class Health(StrEnum):
    """What is wrong with the stand-in, if anything."""

    SOUND = "sound"
    BADLY_WOUND = "badly_wound"
    BENT_CASE = "bent_case"
    LINT = "lint"
    TIGHT_BEARING = "tight_bearing"
    WORN_SPRING = "worn_spring"


class SimulatedGauge:
    """A gauge that streams pulls of about 60 cm with pauses between them; equal seeds give equal streams."""

    name = "stand-in"
    about = "A simulated gauge that ships with Weftonos."

    def __init__(self, health: Health, seed: int, mean_mn: float = 200.0, pulls: int | None = None) -> None:
        self._health = health
        self._chance = np.random.default_rng([seed, list(Health).index(health)])
        self._mean = mean_mn
        self._pulls = pulls

    def samples(self) -> Iterator[Sample]:
        """Yield samples; endless unless the number of pulls was given."""
        chance, dt = self._chance, 1 / SAMPLE_RATE
        diameter = chance.uniform(11, 23)
        severity = chance.uniform(0.07, 0.15)
        phase = chance.uniform(0, 2 * math.pi)
        climb = chance.uniform(0.25, 0.5) / 500
        t = length = turned = hand = 0.0
        done = 0
        while self._pulls is None or done < self._pulls:
            for _ in range(int(chance.uniform(0.6, 1.1) * SAMPLE_RATE)):
                yield Sample(t, length, abs(chance.normal(0, 0.6)))
                t += dt
            reach, speed_wish = chance.uniform(520, 760), chance.uniform(65, 115)
            start, speed = length, 0.0
            slack_at = sorted(chance.uniform(90, reach - 60, chance.integers(1, 4)))
            lint_at = sorted(chance.uniform(30, reach - 30, 3 + chance.poisson(3)))
            lint_height = chance.uniform(0.22, 0.55, len(lint_at))
            turn_factor, turn_number = 1.0, -1.0
            while length - start < reach:
                left = reach - (length - start)
                wish = speed_wish * min(1.0, 0.12 + left / 25)
                speed += (wish - speed) * dt / 0.12 + chance.normal(0, 1.2)
                speed = max(speed, 8.0)
                length += speed * dt
                turned += speed * dt / (diameter / 2)
                diameter -= speed * dt * 4e-6
                hand += -hand * dt / 0.4 + chance.normal(0, 0.012 * math.sqrt(2 * dt / 0.4))
                drawn = length - start
                tension = 1 + hand + 0.007 * math.cos(turned + phase)
                if self._health is Health.BENT_CASE:
                    tension += severity * math.cos(turned + 2 * phase)
                elif self._health is Health.BADLY_WOUND:
                    now, within = divmod(turned + phase, 2 * math.pi)
                    if now != turn_number:
                        turn_number, turn_factor = now, chance.lognormal(0, 0.35)
                    # Thread dives under a crossing, holds, and lets go: a ramp once a turn, never twice the same.
                    share = within / (2 * math.pi)
                    tension += 1.7 * severity * turn_factor * (share**2 - 1 / 3)
                elif self._health is Health.LINT:
                    for at, height in zip(lint_at, lint_height, strict=True):
                        if 0 <= drawn - at < 14:
                            tension += height * math.exp(-(drawn - at) / 3.5)
                elif self._health is Health.TIGHT_BEARING:
                    tension += climb * drawn
                elif self._health is Health.WORN_SPRING:
                    for at in slack_at:
                        if 0 <= drawn - at < 16:
                            tension *= 0.35
                        elif 16 <= drawn - at < 24:
                            tension *= 1.12
                grip = min(1.0, drawn / 9, (reach - drawn) / 6 + 0.05)
                noise = chance.normal(0, 0.008)
                yield Sample(t, length, max(0.0, self._mean * (tension * grip + noise)))
                t += dt
            done += 1
        for _ in range(SAMPLE_RATE // 2):
            yield Sample(t, length, abs(chance.normal(0, 0.6)))
            t += dt


register(SimulatedGauge.name, lambda condition, seed: SimulatedGauge(Health(condition), seed))
