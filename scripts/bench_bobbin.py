"""Bench of the Bobbin station: the screw coach, the trace reader, live drawing. Called by bench.py."""

from __future__ import annotations

import math
import sys
import tempfile
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
from screw_laws import AIM, GAUGE_NOISE, NEAR, Law, OtherCase

from browser import chromium, server
from weftonos.core.bobbin.control_chart import control_chart
from weftonos.core.bobbin.screw import RESPONSE_MEAN, RESPONSE_SPREAD, ScrewTurn, advise_turn, learn_response
from weftonos.core.bobbin.trace import read_trace
from weftonos.standins.gauge_simulator import Health, SimulatedGauge

CASES = 1000


def bench_chart(cases: int = 200, between: float = 0.03, within: float = 0.015, shift: float = 0.06) -> None:
    """Chart cases that read 3 % otherwise at each sitting: false alarms, and sittings until a shift of 6 % is seen."""
    print(f"\nChart of a case, {cases} cases, {between:.0%} from sitting to sitting, {within:.1%} from pull to pull")
    chance = np.random.default_rng(5)
    alarms = judged = 0
    seen_after = []
    for _ in range(cases):
        level = AIM * (1 + chance.normal(0, between, (40, 1)))
        level[20:] *= 1 + shift
        sessions = (level + chance.normal(0, within * AIM, (40, 3))).tolist()
        for count in range(10, 21):
            alarms += control_chart(sessions[:count]).drifts
            judged += 1
        told = (count - 20 for count in range(21, 41) if control_chart(sessions[:count]).drifts)
        seen_after.append(next(told, 99))
    print(
        f"  false alarms {100 * alarms / judged:.1f} in 100 sittings; a shift of {shift:.0%} is seen after "
        f"{np.median(seen_after):.0f} sittings in the middle, within ten in {np.mean(np.array(seen_after) <= 10):.0%}"
    )


class SimulatedCase:
    """A case whose screw answers with a rate of its own, read on a gauge that is 3 % off at random."""

    def __init__(self, chance: np.random.Generator) -> None:
        self.chance = chance
        self.rate = 0.0
        while self.rate < 0.004:
            self.rate = chance.normal(RESPONSE_MEAN.value, RESPONSE_SPREAD.value)
        self.true = AIM * math.exp(chance.choice([-1, 1]) * chance.uniform(0.08, 0.30))

    def read(self) -> float:
        return float(self.true * math.exp(self.chance.normal(0, GAUGE_NOISE)))

    def turn(self, minutes: float) -> None:
        self.true *= math.exp(self.rate * minutes)

    @property
    def on_target(self) -> bool:
        return abs(self.true / AIM - 1) <= NEAR


def _reads_on_target(reading: float) -> bool:
    return abs(reading / AIM - 1) <= NEAR


def _earlier_turns(case: SimulatedCase, turns: int) -> list[ScrewTurn]:
    start, history = case.true, []
    for n in range(turns):
        before = case.read()
        minutes = (-1) ** n * case.chance.integers(5, 13)
        case.turn(minutes)
        history.append(ScrewTurn(float(minutes), before, case.read()))
    case.true = start
    return history


def coach(case: SimulatedCase, history: list[ScrewTurn], most: int) -> list[bool]:
    """Turn as advised, reading after each turn; whether the case is truly on target after each."""
    found, reading = [], case.read()
    for _ in range(most):
        if not _reads_on_target(reading):
            advice = advise_turn(reading, AIM, history)
            minutes = advice.minutes if advice.direction == "tighten" else -advice.minutes
            case.turn(minutes)
            after = case.read()
            history = [*history, ScrewTurn(minutes, reading, after)]
            reading = after
        found.append(case.on_target)
    return found


def habit(case: SimulatedCase, most: int) -> list[bool]:
    """Five minutes at a time in the right direction, reading after each."""
    found, reading = [], case.read()
    for _ in range(most):
        if not _reads_on_target(reading):
            case.turn(5 if reading < AIM else -5)
            reading = case.read()
        found.append(case.on_target)
    return found


def bench_screw() -> None:
    print(f"\nScrew coach on {CASES} simulated cases, rates around the prior, 3 % noise a pull: truly within ±5 %")

    def shares(run: list[list[bool]]) -> str:
        return ", ".join(f"{np.mean([r[n] for r in run]):.0%}" for n in (0, 1, 3))

    def turns_needed(run: list[list[bool]]) -> float:
        return float(np.mean([next((n + 1 for n, ok in enumerate(r) if ok), len(r) + 1) for r in run]))

    for earlier in (0, 3):
        chance = np.random.default_rng(11)
        run = []
        for _ in range(CASES):
            case = SimulatedCase(chance)
            run.append(coach(case, _earlier_turns(case, earlier), 8))
        share = float(np.mean([r[1] for r in run]))
        goal = "  aim 90 % in two turns: " + ("met" if share >= 0.9 else "NOT MET") if earlier == 3 else ""
        needed = f"turns to target {turns_needed(run):.2f}"
        print(f"  coach, {earlier} earlier turns  after 1, 2, 4 turns: {shares(run)}; {needed}{goal}")
    chance = np.random.default_rng(11)
    run = [habit(SimulatedCase(chance), 8) for _ in range(CASES)]
    print(f"  habit of five minutes   after 1, 2, 4 turns: {shares(run)}; turns to target {turns_needed(run):.2f}")


def bench_screw_laws(cases: int = 400, most: int = 8) -> None:
    """Print for each law: how often the interval of later turns held, turns taken, and how many ended in range."""
    print(f"\nScrew on other laws, {cases} cases each: intervals that held, turns, in range at the end")
    for law in Law:
        chance = np.random.default_rng(29)
        held, told, turns, ended, five, gave_up = 0, 0, 0, 0, 0, 0
        for _ in range(cases):
            case = OtherCase(chance, law)
            history: list[ScrewTurn] = []
            reading = case.read()
            while not _reads_on_target(reading) and len(history) < most:
                if not learn_response(history).answers:
                    gave_up += 1
                    break
                advice = advise_turn(reading, AIM, history)
                minutes = advice.minutes if advice.direction == "tighten" else -advice.minutes
                case.turn(minutes)
                after = case.read()
                if history:
                    told += 1
                    held += advice.expected_low_mn <= after <= advice.expected_high_mn
                history.append(ScrewTurn(minutes, reading, after))
                reading = after
            turns, ended = turns + len(history), ended + case.on_target
            by_habit = OtherCase(chance, law)
            habit_reading = by_habit.read()
            for _ in range(most):
                if _reads_on_target(habit_reading):
                    break
                by_habit.turn(5 if habit_reading < AIM else -5)
                habit_reading = by_habit.read()
            five += by_habit.on_target
        print(
            f"  {law.value:18} held {held / max(told, 1):.0%} of {told}; {turns / cases:.2f} turns; in range "
            f"{ended / cases:.0%}, five minutes at a time {five / cases:.0%}; called dead {gave_up}"
        )


def bench_lived_in(cases: int = 200, episodes: int = 12, most: int = 8) -> None:
    """Print turns and share in range of cases that are turned again and again, where play has had time to show."""
    print(
        f"\nCases turned through {episodes} changes of thread, {cases} each: turns a change, in range, by the last six"
    )
    for law in (Law.EXPONENTIAL, Law.BACKLASH, Law.ALL):
        chance = np.random.default_rng(31)
        turns, ended, judged = 0, 0, 0
        for _ in range(cases):
            case, history = OtherCase(chance, law), list[ScrewTurn]()
            for episode in range(episodes):
                case.change_thread()
                reading, taken = case.read(), 0
                while not _reads_on_target(reading) and taken < most:
                    advice = advise_turn(reading, AIM, history)
                    minutes = advice.minutes if advice.direction == "tighten" else -advice.minutes
                    case.turn(minutes)
                    after = case.read()
                    history.append(ScrewTurn(minutes, reading, after))
                    reading, taken = after, taken + 1
                if episode >= episodes - 6:
                    turns, ended, judged = turns + taken, ended + case.on_target, judged + 1
        print(f"  {law.value:18} {turns / judged:.2f} turns; in range {ended / judged:.0%}")


def bench_dead_screws(cases: int = 200, most: int = 8) -> None:
    """Print how soon a screw that no longer answers is called so: worn, stripped, its spring lifted."""
    chance, after = np.random.default_rng(66), []
    for _ in range(cases):
        case = OtherCase(chance, Law.EXPONENTIAL)
        case.rate = 0.0
        history: list[ScrewTurn] = []
        reading = case.read()
        while len(history) < most and learn_response(history).answers:
            minutes = advise_turn(reading, AIM, history).minutes * (1 if reading < AIM else -1)
            case.turn(minutes)
            now = case.read()
            history.append(ScrewTurn(minutes, reading, now))
            reading = now
        after.append(len(history))
    shares = ", ".join(f"{sum(n <= k for n in after) / cases:.0%} within {k}" for k in (3, 4, 5))
    print(f"  a screw that no longer answers: said {shares} turns; {sum(n == most for n in after)} of {cases} never")


def _read_many(job: tuple[Health, int, int]) -> Counter[str]:
    health, first, last = job
    found: Counter[str] = Counter()
    for seed in range(first, last):
        samples = list(SimulatedGauge(health, seed, pulls=3).samples())
        found[read_trace([s.length_mm for s in samples], [s.tension_mn for s in samples]).cause.value] += 1
    return found


def bench_traces(each: int = 1000) -> None:
    print(f"\nTrace reading: {each} simulated traces of three pulls a fault; rows are played, columns are read")
    names = [h.value for h in Health]
    print("  " + " " * 15 + "".join(f"{n:>15}" for n in names))
    jobs = [(h, first, min(first + 100, each)) for h in Health for first in range(0, each, 100)]
    table = {h: Counter[str]() for h in Health}
    with ProcessPoolExecutor(2) as pool:
        for (health, _, _), found in zip(jobs, pool.map(_read_many, jobs), strict=True):
            table[health] += found
    for health, found in table.items():
        print(f"  {health.value:<15}" + "".join(f"{found[n]:>15}" for n in names))
    worst = min(found[h.value] for h, found in table.items()) / each
    false = 1 - table[Health.SOUND]["sound"] / each
    print(f"  worst row {worst:.1%} correct (aim 95 %: {'met' if worst >= 0.95 else 'NOT MET'}), ", end="")
    print(f"sound called a fault {false:.1%} (aim at most 1 %: {'met' if false <= 0.01 else 'NOT MET'})")


def bench_live(seconds: int = 15, fast_minutes: int = 10) -> None:
    print("\nLive drawing in headless Chromium")
    with tempfile.TemporaryDirectory() as folder, server(Path(folder)) as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/1/bobbin?part=live")
        page.get_by_role("button", name="Start").click()
        page.evaluate(
            """() => { window.gaps = []; let last = performance.now();
            const tick = (now) => { window.gaps.push(now - last); last = now; requestAnimationFrame(tick); };
            requestAnimationFrame(tick); }"""
        )
        time.sleep(seconds)
        gaps = np.array(page.evaluate("window.gaps")[2:])
        late = float(np.mean(gaps > 34))
        print(f"  50 samples a second for {seconds} s: {len(gaps)} frames, {late:.2%} later than two frames")
        page.get_by_role("button", name="Stop").click()
        # Ten minutes of samples, twenty times as fast, on the same page code.
        page.add_init_script(
            "const W = WebSocket; window.WebSocket = function (u) { return new W(u + '&faster=20'); };"
        )
        page.reload()
        client = page.context.new_cdp_session(page)
        page.get_by_role("button", name="Start").click()
        sizes = []
        for _ in range(4):
            time.sleep(fast_minutes * 60 / 20 / 4)
            client.send("HeapProfiler.collectGarbage")
            sizes.append(page.evaluate("performance.memory.usedJSHeapSize") / 1e6)
        heap = ", ".join(f"{s:.1f}" for s in sizes)
        print(f"  heap over {fast_minutes} min of samples (20 times as fast): {heap} MB")


if __name__ == "__main__":
    bench_screw()
    bench_screw_laws()
    bench_lived_in()
    bench_dead_screws()
    bench_traces(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)
    bench_live()
