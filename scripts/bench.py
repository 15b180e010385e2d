"""`make bench`: the measured promises, rerunnable by anybody. Prints one table a subject."""

from __future__ import annotations

import gzip
import re
import statistics
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from functools import partial
from pathlib import Path

from bench_balance import bench_balance, bench_starting_point
from bench_bobbin import bench_live, bench_screw, bench_traces
from bench_mend import bench_mend
from fastapi.testclient import TestClient
from sqlalchemy import text
from sqlalchemy.orm import Session

from browser import server
from weftonos.api.app import STATIC, create_app
from weftonos.cli import load_demo
from weftonos.demo.drawer import THREADS
from weftonos.settings import Settings
from weftonos.store.database import open_workshop
from weftonos.store.workshop import Workshop

COTTON = {"fibre": "cotton", "construction": "spun", "value": 40, "system": "wt"}
STATIONS = [
    *(f"machines/1/{s}" for s in ("line", "thread", "needle", "needles", "readings", "balance", "run", "mend")),
    *(f"machines/{m}/{s}" for m, s in ((2, "mend"), (1, "troubles"), (1, "preflight"), (1, "upkeep"))),
    "threads",
    "threads?text=lot%204%20cotton&order=thickness",
    "log",
    "log?machine=1&kind=recipe",
]
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
        "stitched_metres": 500,
        "bobbin": {"class": "M", "fill": 1, "thread": COTTON},
    },
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
        code = (STATIC / name).read_text(encoding="utf-8")
        wanted += [f"assets/{n}" for n in re.findall(r'(?:from|import)\s*"\./([^"]+\.js)"', code)]
    size = sum(len(gzip.compress((STATIC / n).read_bytes())) for n in found) / 1000
    row("entry and Thread station", f"{size:.0f} kB in {len(found)} files", "< 200 kB", size < 200)


def grow(folder: Path, threads: int, records: int) -> None:
    """Grow the demo: more threads, and the season repeated back in time until there are ten years of daily work."""
    engine = open_workshop(folder, datetime.now(UTC))
    with Session(engine) as session, session.begin():
        drawer = Workshop(session).drawer
        for n in range(threads - len(THREADS)):
            like = THREADS[n % len(THREADS)]
            drawer.add_thread(replace(like, name=f"{like.name} lot {n // len(THREADS) + 2}"))
        season = session.scalar(text("SELECT count(*) FROM record")) or 1
        for back in range(1, records // season + 1):
            session.execute(
                text(
                    "INSERT INTO record (id, machine_id, kind, at, noted_at, payload, setup, incident_id) "
                    "SELECT id + :on, machine_id, kind, strftime('%Y-%m-%d %H:%M:%f', at, :shift), "
                    "strftime('%Y-%m-%d %H:%M:%f', noted_at, :shift), CASE WHEN incident_id IS NULL THEN payload "
                    "ELSE json_set(payload, '$.incident', incident_id + :on) END, setup, incident_id + :on "
                    "FROM record WHERE id <= :last ORDER BY id"
                ),
                {"shift": f"-{back * 5} days", "last": season, "on": back * season},
            )
    engine.dispose()


def bench_calls() -> None:
    print("\nServer calls on the demo grown to 2 000 threads and 100 000 records: median, 95th percentile")
    with tempfile.TemporaryDirectory() as folder:
        load_demo(Path(folder))
        grow(Path(folder), 2_000, 100_000)
        app = create_app(Settings(data_dir=Path(folder)))
        with TestClient(app, base_url="http://127.0.0.1") as client:
            for name, body in COMPUTE.items():
                median, p95 = timed(partial(client.post, f"/api/compute/{name}", json=body))
                row(f"POST compute/{name}", f"{median:.1f} ms, {p95:.1f} ms", "< 20 ms", p95 < 20)
            for path in STATIONS:
                assert client.get(f"/api/{path}").status_code == 200, path
                median, p95 = timed(partial(client.get, f"/api/{path}"), 40)
                row(f"GET {path}", f"{median:.1f} ms, {p95:.1f} ms", "< 50 ms", p95 < 50)
            for path, body in QUESTIONS.items():
                assert client.post(f"/api/{path}", json=body).status_code == 200, path
                median, p95 = timed(partial(client.post, f"/api/{path}", json=body), 40)
                row(f"POST {path}", f"{median:.1f} ms, {p95:.1f} ms", "< 50 ms", p95 < 50)


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
    bench_balance()
    bench_starting_point()
    bench_mend()
    bench_screw()
    bench_traces()
    bench_live()
