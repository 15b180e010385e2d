"""The gauge that a hand draws on: what it reads at a pace, and that the stream is what is judged."""

import math
import time
from itertools import pairwise

import pytest

from weftonos.core.bobbin.trace import read_trace
from weftonos.standins.hand_on_gauge import FOLLOWS_SPEED, PACE_S, hand_trace, judged
from weftonos.standins.source import SAMPLE_RATE

EVEN = [PACE_S * n for n in range(12)]


@pytest.mark.parametrize("times", [0.5, 1.0, 2.0])
def test_a_steady_hand_reads_by_the_logarithm_of_its_pace(times):
    taps = [t / times for t in EVEN] + [(EVEN[-1] + PACE_S * n) / times for n in range(1, 20)]
    assert judged(200, taps)[-1] == pytest.approx(200 * (1 + FOLLOWS_SPEED * math.log(times)), rel=0.003)


def test_an_uneven_hand_wavers_and_an_even_one_does_not():
    even = judged(200, EVEN)
    limping = judged(200, [t + 0.12 * (n % 2) for n, t in enumerate(EVEN)])
    assert max(even) - min(even) < 0.05 * 200
    assert max(limping) - min(limping) > 2 * (max(even) - min(even))


def test_a_sample_hangs_on_the_taps_before_it_alone():
    whole = hand_trace(200, EVEN, EVEN[-1])
    early = hand_trace(200, EVEN[:5], EVEN[4])
    assert whole[: len(early)] == early
    assert whole[-1].t == pytest.approx(EVEN[-1], abs=1 / SAMPLE_RATE)
    assert all(a.length_mm < b.length_mm for a, b in pairwise(whole))


def test_the_reader_of_traces_takes_it_for_a_pull():
    taps = [PACE_S * n for n in range(30)]
    trace = hand_trace(200, taps, taps[-1])
    read = read_trace([s.length_mm for s in trace], [s.tension_mn for s in trace])
    assert read.mean_mn == pytest.approx(200, rel=0.03)


def test_it_is_streamed_while_the_hand_draws(bench):
    with bench.client.websocket_connect("ws://127.0.0.1/api/gauge/hand?mean_mn=180") as socket:
        began, samples = time.monotonic(), []
        socket.send_json({"tap": 10.0})
        for n in range(1, 4):
            while time.monotonic() - began < n * 0.2:
                samples += socket.receive_json()["samples"]
            socket.send_json({"tap": 10.0 + n * 0.2})
        while len(samples) < 0.6 * SAMPLE_RATE:
            samples += socket.receive_json()["samples"]
    times = [t for t, _, _ in samples]
    assert times == sorted(set(times)), "no sample twice, none before another"
    assert times[0] == 0
    # Faster than the pace that the case is set for: it reads more than 180 at last.
    assert samples[-1][2] > samples[0][2]


def test_a_tap_of_another_hour_ends_the_stream_at_once(bench):
    with bench.client.websocket_connect("ws://127.0.0.1/api/gauge/hand") as socket:
        socket.send_json({"tap": 0.0})
        socket.send_json({"tap": 3e9})
        begun = time.monotonic()
        while socket.receive()["type"] != "websocket.close":
            assert time.monotonic() - begun < 5


@pytest.mark.parametrize("wrong", [{"tap": "soon"}, {"pat": 1}, {"tap": float("inf")}, [1]])
def test_what_is_no_tap_ends_the_stream_and_nothing_else(bench, wrong):
    with bench.client.websocket_connect("ws://127.0.0.1/api/gauge/hand") as socket:
        socket.send_json(wrong)
        assert socket.receive()["type"] == "websocket.close"
    assert bench.get("machines") == []
