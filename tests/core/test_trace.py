"""Reading recorded pulls, from the stand-in gauge and from curves with a known answer."""

import numpy as np
import pytest
from scipy import signal

from weftonos.core.bobbin.trace import TraceCause, read_trace
from weftonos.core.kernel.errors import CraftError
from weftonos.standins.gauge_simulator import Health, SimulatedGauge
from weftonos.standins.source import SAMPLE_RATE, Sample, open_source, register

SEEDS = 12


def recorded(health: Health, seed: int, pulls: int = 3):
    samples = list(SimulatedGauge(health, seed, pulls=pulls).samples())
    return [s.length_mm for s in samples], [s.tension_mn for s in samples]


def made(wave=0.0, turn=60.0, climb=0.0, noise=0.0, seed=0):
    """One even pull of 700 mm with a wave of a known turn."""
    chance = np.random.default_rng(seed)
    x = np.linspace(0, 700, 400)
    y = 200 * (1 + wave * np.cos(2 * np.pi * x / turn) + climb * x / 500) + chance.normal(0, 200 * noise, len(x))
    return x.tolist(), y.tolist()


@pytest.mark.parametrize("health", list(Health))
def test_the_cause_is_read_from_the_shape(health):
    found = [read_trace(*recorded(health, seed)).cause.value for seed in range(SEEDS)]
    assert found.count(health.value) >= SEEDS - 1, found


def test_pulls_are_found_and_read():
    answer = read_trace(*recorded(Health.SOUND, 4, pulls=4))
    assert len(answer.pulls) == 4
    assert answer.mean_mn == pytest.approx(200, rel=0.03)
    assert answer.swing < 0.05
    assert all(p.low_mn <= p.mean_mn <= p.high_mn for p in answer.pulls)


def test_equal_seeds_give_equal_streams_and_a_hand_keeps_pace():
    gauge = open_source("stand-in", "lint", 5)
    first = [next(s) for s in [gauge.samples()] for _ in range(200)]
    again = [next(s) for s in [open_source("stand-in", "lint", 5).samples()] for _ in range(200)]
    assert first == again
    assert first != [next(s) for s in [open_source("stand-in", "lint", 6).samples()] for _ in range(200)]
    assert first[SAMPLE_RATE].t == pytest.approx(1)


@pytest.mark.parametrize("turn", [30.0, 45.0, 63.0, 80.0])
def test_the_turn_is_found_where_scipy_finds_it(turn):
    x, y = made(wave=0.1, turn=turn, noise=0.01)
    answer = read_trace(x, y)
    assert answer.features.turn_mm == pytest.approx(turn, rel=0.04)
    spacing = x[1] - x[0]
    rate, power = signal.periodogram(np.array(y) - np.mean(y), fs=1 / spacing, nfft=8192)
    assert answer.features.turn_mm == pytest.approx(1 / rate[np.argmax(power)], rel=0.06)
    assert answer.features.wave == pytest.approx(0.1, rel=0.15)
    assert answer.cause is TraceCause.BENT_CASE


def test_a_steady_climb_is_a_bobbin_that_does_not_turn_freely():
    answer = read_trace(*made(climb=0.3, noise=0.01))
    assert answer.cause is TraceCause.TIGHT_BEARING
    assert answer.features.climb == pytest.approx(0.3 / 1.21, rel=0.1)  # over the mean of the pull


def test_an_even_pull_is_sound():
    assert read_trace(*made(noise=0.012)).cause is TraceCause.SOUND


@pytest.mark.parametrize(
    ("length", "tension", "says"),
    [
        ([], [], "no pull"),
        ([0, 1], [200], "same number"),
        (list(range(100)), [0.0] * 100, "no pull"),
        (list(range(100)), [200.0] * 100, "no pull"),  # too short
        ([0.0] * 500, [200.0] * 500, "no pull"),
        ([float(i) for i in range(500)], [float("nan")] * 500, "aren't numbers"),
        ([float(500 - i) for i in range(500)], [200.0] * 500, "never falls"),
        ([float(i) for i in range(500)], [1e9] * 500, "no gauge"),
    ],
)
def test_what_is_no_pull_is_refused(length, tension, says):
    with pytest.raises(CraftError, match=says):
        read_trace(length, tension)


def test_a_device_is_one_class_and_a_name():
    class Still:
        name, about = "still", "A gauge that never moves."

        def samples(self):
            yield Sample(0.0, 0.0, 0.0)

    register("still", lambda condition, seed: Still())
    assert [s.tension_mn for s in open_source("still", "", 1).samples()] == [0.0]
    with pytest.raises(KeyError):
        open_source("none", "", 1)


def test_two_swings_a_pull_are_read_from_the_needle_and_not_from_single_samples():
    """One wild sample is the device's, not the thread's: the pull's lowest and highest leave it out."""
    x, y = made(noise=0.01)
    calm = read_trace(x, y)
    y[200] *= 1.4
    assert read_trace(x, y).swing == pytest.approx(calm.swing, rel=0.1)
