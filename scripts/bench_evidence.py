"""Simulated workshops: whether intervals hold what they say, and verdicts stay right however often one looks."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import numpy as np
from bench_exchange import NOW, many_lines
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session

from weftonos.api.app import create_app
from weftonos.core.evidence.compare import Unit, compare_lives, compare_rates
from weftonos.core.evidence.plan import needles_of_each, quilts_of_each
from weftonos.core.evidence.rates import Exposure, learn_spread, rate_of
from weftonos.core.evidence.survival import life_told
from weftonos.core.needle.life import NeedleSpan
from weftonos.runtime.settings import Settings
from weftonos.store.bringing import bring_in
from weftonos.store.opening import open_workshop

RUNS = 200


def _workshop(chance: np.random.Generator, spread: float) -> tuple[list[tuple[float, list[Exposure]]], float]:
    """Return eight threads with their true rates and their quilts, 200 runs in all, and the mean rate."""
    rates = np.exp(chance.normal(np.log(0.15), 0.7, 8))
    threads = []
    for rate in rates:
        quilts = []
        for _ in range(RUNS // 8 // 5):
            hours = float(chance.uniform(3, 10))
            factor = chance.gamma(1 / spread, spread) if spread else 1.0
            quilts.append(Exposure(amount=hours, breaks=int(chance.poisson(rate * hours * factor))))
        threads.append((float(rate), quilts))
    breaks = sum(e.breaks for _, mine in threads for e in mine)
    hours = sum(e.amount for _, mine in threads for e in mine)
    return threads, breaks / hours


def cover_of_rates(workshops: int, spread: float) -> tuple[float, float]:
    """Return how often the interval shown, and the plain one, hold a thread's true rate."""
    chance = np.random.default_rng(1)
    ours = plain = tried = 0
    for _ in range(workshops):
        threads, mean = _workshop(chance, spread)
        learned = learn_spread([mine for _, mine in threads])
        for rate, mine in threads:
            found = rate_of(mine, learned, mean if mean else None)
            if found is None:
                continue
            tried += 1
            ours += found.low <= rate <= found.high
            plain += found.plain_low <= rate <= found.plain_high
    return ours / tried, plain / tried


def cover_of_ratios(workshops: int, *, confounded: bool) -> tuple[float, float, int]:
    """Return how often the interval of a needle's ratio holds it, how often one is given, and how many were tried."""
    chance, held, given = np.random.default_rng(2), 0, 0
    for _ in range(workshops):
        units = []
        for kind, lasts in (("titanium", 2.0), ("steel", 1.0)):
            for _ in range(14):
                share = 0.75 if (kind == "titanium") is confounded else 0.25 if confounded else 0.5
                machine = "Heron" if chance.random() < share else "Wren"
                hours = float(8 * lasts * (0.6 if machine == "Wren" else 1) * chance.weibull(1.8))
                out = float(chance.uniform(6, 24))
                units.append(
                    Unit(kind=kind, amount=min(hours, out), events=int(hours < out), besides={"machine": machine})
                )
        found = compare_lives(units, "titanium", "steel")
        if found.low is not None and found.high is not None:
            given += 1
            held += found.low <= 2 <= found.high
    return held / max(1, given), given / workshops, workshops


def wrong_by_peeking(workshops: int) -> float:
    """Return how often two kinds that do not differ are said to, looking after each quilt."""
    chance, wrong = np.random.default_rng(3), 0
    for _ in range(workshops):
        units: list[Unit] = []
        for quilt in range(30):
            for kind in "ab":
                breaks = int(chance.poisson(2 * chance.gamma(1 / 0.3, 0.3)))
                units.append(Unit(kind=kind, amount=1, events=breaks, besides={}, quilt=str(quilt)))
            if quilt >= 3 and compare_rates(units, "a", "b").said:
                wrong += 1
                break
    return wrong / workshops


def said_to_wear(workshops: int, needles: int, shape: float = 1.0) -> float:
    """Return how often needles of a Weibull life are said to wear out."""
    chance, said = np.random.default_rng(5), 0
    for _ in range(workshops):
        life = life_told([NeedleSpan(float(hours), True) for hours in 6 * chance.weibull(shape, needles)])
        said += life is not None and life.wears_out
    return said / workshops


def said_to_wear_at_some_time(workshops: int, needles: int = 25) -> float:
    """Return how often needles that fail at random are said to wear out after any of them."""
    chance, said = np.random.default_rng(6), 0
    for _ in range(workshops):
        spans = [NeedleSpan(float(hours), True) for hours in chance.exponential(6, needles)]
        lives = (life_told(spans[:n]) for n in range(5, needles + 1))
        said += any(life is not None and life.wears_out for life in lives)
    return said / workshops


def seen_as_planned(workshops: int) -> tuple[float, float]:
    """Return how often a planned comparison sees the difference it was planned for: needles, quilts."""
    chance, needles, quilts = np.random.default_rng(4), 0, 0
    of_needles, of_quilts = needles_of_each(2, 1.8), quilts_of_each(2, 2.0, 0.3)
    for _ in range(workshops):
        lives = [
            Unit(kind=kind, amount=float(lasts * chance.weibull(1.8)), events=1, besides={})
            for kind, lasts in (("a", 2.0), ("b", 1.0))
            for _ in range(of_needles)
        ]
        needles += (compare_lives(lives, "a", "b").low or 0) > 1
        counts = [
            Unit(
                kind=kind,
                amount=1,
                events=int(chance.poisson(mean * chance.gamma(1 / 0.3, 0.3))),
                besides={},
                quilt=str(quilt),
            )
            for kind, mean in (("a", 4.0), ("b", 2.0))
            for quilt in range(of_quilts)
        ]
        quilts += (compare_rates(counts, "a", "b").low or 0) > 1
    return needles / workshops, quilts / workshops


def _row(name: str, found: float, low: float, high: float) -> None:
    met = "met" if low <= found <= high else "NOT MET"
    print(f"  {name:<66} {found:6.1%}  aim {low:.0%} to {high:.0%}  {met}")


def bench_evidence(workshops: int = 500) -> None:
    """Print what simulated workshops show, and the times of the page with 100 000 records."""
    print(f"\nWhat the records say: {workshops} simulated workshops of {RUNS} runs")
    for spread in (0.0, 0.3, 1.0):
        ours, plain = cover_of_rates(workshops, spread)
        _row(f"rate held, spread between quilts {spread:g} (plain count {plain:.1%})", ours, 0.93, 1)
    for confounded in (False, True):
        held, given, _ = cover_of_ratios(workshops, confounded=confounded)
        name = f"needle ratio held{', machine mixed in' if confounded else ''} (given in {given:.0%})"
        _row(name, held, 0.93, 1)
    _row("said to differ where nothing does, looking after each quilt", wrong_by_peeking(workshops // 3), 0, 0.05)
    for number in (6, 8, 12, 20):
        _row(f"said to wear out, {number} needles that fail at random", said_to_wear(workshops, number), 0, 0.03)
    _row("the same, looking after each of 25 needles", said_to_wear_at_some_time(workshops // 3), 0, 0.05)
    for shape, number in ((2.0, 10), (2.0, 20), (3.0, 10)):
        share = said_to_wear(workshops, number, shape)
        print(f"  {f'needles that wear (shape {shape:g}) are said to, {number} of them':<66} {share:6.1%}")
    needles, quilts = seen_as_planned(workshops)
    _row("planned difference of needles seen", needles, 0.75, 0.85)
    _row("planned difference of breaks seen", quilts, 0.75, 0.85)
    with tempfile.TemporaryDirectory() as name:
        engine = open_workshop(Path(name))
        with Session(engine) as session, session.begin():
            bring_in(session, lambda: many_lines(100_000), name="made up", now=NOW)
        engine.dispose()
        with TestClient(create_app(Settings(data_dir=Path(name))), base_url="http://127.0.0.1") as client:
            took = []
            for _ in range(4):
                begin = time.perf_counter()
                assert client.get("/api/machines/1/evidence").status_code == 200
                took.append(time.perf_counter() - begin)
    print(f"  the page with 100 000 records: first {took[0]:.1f} s, then {1000 * max(took[1:]):.0f} ms (aim 50 ms)")
