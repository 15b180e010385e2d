"""`make bench`: the measured promises, rerunnable by anybody. Prints one table a subject."""

from __future__ import annotations

import gzip
import re
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from fastapi.testclient import TestClient

from browser import server
from weftonos.api.app import STATIC, create_app
from weftonos.cli import load_demo
from weftonos.settings import Settings

COTTON = {"fibre": "cotton", "construction": "spun", "value": 40, "system": "wt"}
STATIONS = [*(f"machines/1/{s}" for s in ("line", "needle", "readings", "balance")), "threads", "log"]
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
}


def timed(call: Callable[[], object], times: int = 100) -> tuple[float, float]:
    """Median and 95th percentile in milliseconds."""
    call()
    took = []
    for _ in range(times):
        begin = time.perf_counter()
        call()
        took.append((time.perf_counter() - begin) * 1000)
    return statistics.median(took), sorted(took)[int(0.95 * times) - 1]


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
        text = (STATIC / name).read_text(encoding="utf-8")
        wanted += [f"assets/{n}" for n in re.findall(r'(?:from|import)\s*"\./([^"]+\.js)"', text)]
    size = sum(len(gzip.compress((STATIC / n).read_bytes())) for n in found) / 1000
    row("entry and Thread station", f"{size:.0f} kB in {len(found)} files", "< 200 kB", size < 200)


def bench_calls() -> None:
    print("\nServer calls on the demo: median, 95th percentile")
    with tempfile.TemporaryDirectory() as folder:
        load_demo(Path(folder))
        app = create_app(Settings(data_dir=Path(folder)))
        with TestClient(app, base_url="http://127.0.0.1") as client:
            for name, body in COMPUTE.items():
                median, p95 = timed(
                    lambda n=name, b=body: client.post(f"/api/compute/{n}", json=b).raise_for_status()
                )
                row(f"POST compute/{name}", f"{median:.1f} ms, {p95:.1f} ms", "< 20 ms", p95 < 20)
            for path in (
                "machines/1/line",
                "machines/1/needle",
                "machines/1/readings",
                "machines/1/balance",
                "threads",
                "log",
            ):
                median, p95 = timed(lambda p=path: client.get(f"/api/{p}").raise_for_status())
                row(f"GET {path}", f"{median:.1f} ms, {p95:.1f} ms", "< 50 ms", p95 < 50)


def bench_start() -> None:
    print("\nStart of the server to its first answer")
    with tempfile.TemporaryDirectory() as folder:
        load_demo(Path(folder))
        begin = time.perf_counter()
        with server(Path(folder)):
            took = time.perf_counter() - begin
    row("weftonos demo", f"{took:.1f} s", "< 5 s", took < 5)


if __name__ == "__main__":
    bench_first_page()
    bench_calls()
    bench_start()
