"""`make bench`: the measured promises, rerunnable by anybody. Prints one table a subject."""

from __future__ import annotations

import gzip
import re
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from balance_worlds import bench_worlds
from bench_balance import bench_balance, bench_expectation, bench_moved, bench_other_law, bench_starting_point
from bench_bobbin import (
    bench_chart,
    bench_dead_screws,
    bench_live,
    bench_lived_in,
    bench_screw,
    bench_screw_laws,
    bench_traces,
)
from bench_evidence import bench_evidence
from bench_exchange import bench_exchange
from bench_mend import bench_mend, bench_truths
from bench_plans import bench_cover, bench_order
from bench_screens import bench_refold, bench_screens, client_on, timed
from bench_season import bench_season
from sweep import bench_sweep

from browser import free_port, wait_until_answered
from weftonos.cli import load_demo
from weftonos.runtime.pages import STATIC

COTTON = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}
QUESTIONS = {
    "machines/1/wish": {"wish": "blend", "ground": "dark"},
    "machines/1/together": {"top": [1, 2, 3]},
}
COMPUTE = {
    "linear-density": {**COTTON, "strands": 3},
    "pairing": {"machine_kind": "longarm", "school": "longarm", "top": [COTTON, COTTON], "bobbin": COTTON},
    "gauge": {
        "unit": "mN",
        "pulls": [{"low": 160, "high": 166}] * 3,
        "target": {"low": 180, "high": 220},
        "screw_history": [{"minutes": 5, "before_mn": 150, "after_mn": 166}] * 3,
    },
    "hanging-weight": {"grams": 21},
    "troubleshoot": {
        "symptoms": ["frays_above_the_eye", "skipped_stitches"],
        "changed": ["needle", "heavier_thread"],
        "setup": {"machine_kind": "longarm", "top": [COTTON], "bobbin": COTTON, "needle_hours": 7},
        "checked": [{"cause": "guide_missed_or_wrapped", "found": False}],
    },
    "thread-use": {
        "stitch_length_mm": 3,
        "sandwich_mm": 2,
        "stitched_meters": 500,
        "bobbin": {"class": "M", "fill": 1, "thread": COTTON},
    },
}


def row(name: str, measured: str, target: str, met: bool) -> None:
    print(f"  {name:<34} {measured:<34} target {target:<16} {'met' if met else 'NOT MET'}")


def bench_first_page() -> None:
    print("\nFirst page, gzipped script")
    index = (STATIC / "index.html").read_text(encoding="utf-8")
    first = set(re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', index))
    thread_station = {p.relative_to(STATIC).as_posix() for p in STATIC.glob("assets/*.js") if "ThreadView" in p.name}
    wanted, found = list(first | thread_station), set[str]()
    while wanted:
        name = wanted.pop()
        if name in found:
            continue
        found.add(name)
        code = (STATIC / name).read_text(encoding="utf-8")
        wanted += [f"assets/{n}" for n in re.findall(r'(?:from|import)\s*"\./([^"]+\.js)"', code)]
    size = sum(len(gzip.compress((STATIC / n).read_bytes())) for n in found) / 1000
    row("entry and Thread station", f"{size:.0f} kB in {len(found)} files", "< 200 kB", size < 200)


def bench_calls() -> None:
    print("\nThe stateless calls: median, 95th percentile")
    with tempfile.TemporaryDirectory() as folder:
        load_demo(Path(folder))
        with client_on(Path(folder)) as client:
            for name, body in COMPUTE.items():
                median, p95 = timed(partial(client.post, f"/api/compute/{name}", json=body))
                row(f"POST compute/{name}", f"{median:.1f} ms, {p95:.1f} ms", "< 20 ms", p95 < 20)
            for path, body in QUESTIONS.items():
                assert client.post(f"/api/{path}", json=body).status_code == 200, path
                median, p95 = timed(partial(client.post, f"/api/{path}", json=body), 40)
                row(f"POST {path}", f"{median:.1f} ms, {p95:.1f} ms", "< 50 ms", p95 < 50)


def from_the_command(folder: str) -> Iterator[tuple[str, float]]:
    """Start the demo by its command; give what answers, and the seconds since the start."""
    port = free_port()
    command = [sys.executable, "-m", "weftonos.cli", "demo", "--port", str(port), "--data-dir", folder]
    begin = time.perf_counter()
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    try:
        for what, path in (("page", "/"), ("records", "/api/machines/1/line")):
            wait_until_answered(f"http://127.0.0.1:{port}{path}", lambda: process.poll() is None)
            yield what, time.perf_counter() - begin
    finally:
        process.terminate()
        process.wait(20)


def bench_start() -> None:
    print("\nStart of the server, from the command: the page, and the first answer from the records")
    for name, filled, most in (
        ("the demo as it was left", True, 1.5),
        ("the demo filled for the first time", False, 3),
    ):
        with tempfile.TemporaryDirectory() as folder:
            if filled:
                load_demo(Path(folder))
            for what, took in from_the_command(folder):
                row(f"{name}: {what}", f"{took:.1f} s", f"< {most} s", took < most)


def bench_short_season() -> None:
    bench_season(8, 10, Path(tempfile.mkdtemp()) / "season.jsonl")


PARTS = (
    bench_first_page,
    bench_calls,
    bench_cover,
    bench_order,
    bench_screens,
    bench_refold,
    bench_start,
    bench_exchange,
    partial(bench_evidence, 200),
    bench_balance,
    bench_expectation,
    bench_sweep,
    bench_starting_point,
    bench_moved,
    bench_other_law,
    bench_worlds,
    bench_mend,
    bench_truths,
    bench_short_season,
    bench_screw,
    bench_screw_laws,
    bench_lived_in,
    bench_dead_screws,
    bench_chart,
    partial(bench_traces, 600),
    bench_live,
)

if __name__ == "__main__":
    begin = time.perf_counter()
    for part in PARTS:
        since = time.perf_counter()
        part()
        print(f"  ({time.perf_counter() - since:.0f} s)", flush=True)
    took = (time.perf_counter() - begin) / 60
    print()
    row("all of it", f"{took:.1f} min", "< 15 min", took < 15)
