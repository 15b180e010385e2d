"""Storms: many at once, on a running server. Writers, readers, races for one thing, and floods."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, contextmanager, suppress
from pathlib import Path
from typing import Any

import httpx2
from websockets.sync.client import connect

from browser import calling, free_port, server, wait_until_answered
from weftonos.core.bobbin.trace import MOST_SAMPLES
from weftonos.runtime.running import CARD
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME

COTTON = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}
HOME = {"kind": "home", "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}
NEEDLE = {"metric": 90, "american": 14, "point": "topstitch"}


@contextmanager
def workshop() -> Iterator[tuple[str, Path]]:
    """Run a server on an empty workshop with a machine, two threads and a case."""
    with tempfile.TemporaryDirectory() as name, server(Path(name), command="serve") as address:
        with calling(address) as client:
            client.post("/machines", json={"nickname": "Wren", **HOME}).raise_for_status()
            for thread in ("Tern 40", "Limpet 80"):
                client.post("/threads", json={"name": thread, "thread": COTTON}).raise_for_status()
            client.post("/machines/1/top", json={"top": [1]}).raise_for_status()
            client.post("/machines/1/bobbin", json={"bobbin": 2}).raise_for_status()
        yield address, Path(name)


def _at_once(many: int, do: Callable[[int], Any]) -> list[Any]:
    """Do something ``many`` times at the same moment."""
    gate = threading.Barrier(many)

    def one(number: int) -> Any:
        gate.wait()
        return do(number)

    with ThreadPoolExecutor(many) as pool:
        return list(pool.map(one, range(many)))


def writers(seconds: float, many: int = 16) -> dict[str, object]:
    """Count one record up by ``many`` writers, each with the version it saw, beside new records: nothing is lost."""
    with workshop() as (address, folder):
        run = {"kind": "run", "minutes": 1, "quilt": "", "meters": 1}
        with calling(address) as client:
            number = client.post("/machines/1/runs", json={"minutes": 1, "meters": 1}).json()["id"]
        ends = time.monotonic() + seconds
        counted, conflicts, noted, errors = [0] * many, [0] * many, [0] * many, [0] * many

        def write(mine: int) -> None:
            with calling(address) as client:
                while not (noted[mine] or errors[mine]) or time.monotonic() < ends:
                    entries = client.get("/log", params={"kind": "run", "limit": 200}).json()["entries"]
                    entry = next((e for e in entries if e["id"] == number), None)
                    if entry is not None:
                        said = {**run, "meters": entry["payload"]["meters"] + 1}
                        answer = client.put(
                            f"/log/{number}",
                            json={"payload": said, "at": entry["at"]},
                            headers={"if-match": f'"{entry["version"]}"'},
                        )
                        counted[mine] += answer.status_code == 200
                        conflicts[mine] += answer.status_code == 409
                        errors[mine] += answer.status_code not in (200, 409)
                    answer = client.post("/machines/1/hand-looks", json={"test": "palm", "feel": "right"})
                    noted[mine] += answer.status_code == 201
                    errors[mine] += answer.status_code != 201

        _at_once(many, write)
        with calling(address) as client:
            entries = client.get("/log", params={"kind": "run", "limit": 200}).json()["entries"]
            found = next(e for e in entries if e["id"] == number)["payload"]["meters"]
        wrong = check(folder / FILE_NAME)
    return {
        "changes": sum(counted),
        "refused as changed meanwhile": sum(conflicts),
        "noted": sum(noted),
        "lost updates": sum(counted) + 1 - int(found),
        "errors": sum(errors),
        "wrong": [*wrong.wrong, *([] if wrong.contents.records == sum(noted) + 3 else ["records are lost"])],
    }


ASKED = ("line", "thread", "needle", "readings", "balance", "run", "mend", "rack", "needles")


def clients(seconds: float, many: int = 100) -> dict[str, object]:
    """Ask and note with ``many`` clients at once: no 5xx, and how long the slowest answer took."""
    with workshop() as (address, _):
        ends = time.monotonic() + seconds
        statuses: Counter[int] = Counter()
        slowest, counted = [0.0] * many, threading.Lock()

        def ask(mine: int) -> None:
            number = mine
            with calling(address) as client:
                # Each asks once at least, however long the others make it wait.
                while number == mine or time.monotonic() < ends:
                    number += 1
                    started = time.monotonic()
                    if number % 10 == 0:
                        answer = client.post("/machines/1/looks", json={"setting": 4, "grade": number % 3 - 1})
                    else:
                        answer = client.get(f"/machines/1/{ASKED[number % len(ASKED)]}")
                    slowest[mine] = max(slowest[mine], time.monotonic() - started)
                    with counted:
                        statuses[answer.status_code] += 1

        _at_once(many, ask)
    bad = sum(count for status, count in statuses.items() if status >= 500)
    return {"answers": sum(statuses.values()), "5xx": bad, "slowest s": round(max(slowest), 2)}


def races(many: int = 12) -> dict[str, object]:
    """Twelve kinds of race, each for something there is one of: whose rule was broken."""
    broken: dict[str, str] = {}
    with workshop() as (address, folder), calling(address) as client:

        def rush(name: str, path: str, body: Any, method: str = "POST", most: int = 1, seen: int | None = None) -> None:
            headers = {} if seen is None else {"if-match": f'"{seen}"'}

            def one(number: int) -> int:
                said = body(number) if callable(body) else body
                with calling(address) as own:
                    return own.request(method, path, json=said, headers=headers).status_code

            answers = _at_once(many, one)
            done = sum(status < 300 for status in answers)
            if done > most or any(status >= 500 for status in answers):
                broken[name] = f"{done} of {many} went through, {most} may"

        packet = client.post("/needles", json={**NEEDLE, "bought": 1}).json()
        rush("one needle in a packet", "/machines/1/needle", {**NEEDLE, "packet": packet})
        rush("one machine of a name", "/machines", {"nickname": "Heron", **HOME})
        rush("one case of a label", "/machines/1/cases", {"label": "A", "bobbin_class": "L"})
        rush("one clock", "/machines/1/clock/start", {"quilt": "Redshank"})
        rush("one stop", "/machines/1/clock/stop", None)
        rush("one open trouble", "/machines/1/incidents", {"symptoms": ["frays_above_the_eye"]})
        incident = client.get("/log", params={"kind": "incident"}).json()["entries"][0]["id"]
        rush("one end of a trouble", f"/incidents/{incident}/outcome", {"outcome": "left"})
        thread = {"name": "Tern 41", "thread": COTTON}
        rush("one change of a thread", "/threads/1", lambda n: {**thread, "note": str(n)}, method="PUT", seen=1)
        machine = {"nickname": "Wren", **HOME}
        rush(
            "one change of a machine",
            "/machines/1",
            lambda n: {**machine, "needle_system": f"{n}"},
            method="PUT",
            seen=1,
        )
        case = client.get("/machines/1/rack").json()["cases"][0]["id"]
        rush(
            "one change of a case",
            f"/cases/{case}",
            lambda n: {"label": "A", "bobbin_class": "L", "kept_for": str(n)},
            method="PUT",
            seen=1,
        )
        noted = client.post("/machines/1/looks", json={"setting": 4, "grade": 0}).json()["id"]
        look = client.get(f"/log/{noted}").json()
        rush(
            "one correction",
            f"/log/{look['id']}",
            lambda n: {"payload": {**look["payload"], "note": str(n)}, "at": look["at"]},
            method="PUT",
            seen=look["version"],
        )
        rush("struck once", f"/log/{look['id']}/strike", None, most=many)
        entries = client.get("/log", params={"limit": 200}).json()["entries"]
        struck = next(e for e in entries if e["id"] == look["id"])
        if sum(r["action"] == "struck" for r in struck["revisions"]) != 1:
            broken["struck once"] = "it was struck more than once"
        wrong = check(folder / FILE_NAME).wrong
    return {"races": 12, "broken": broken, "wrong": list(wrong)}


def _mb(pid: int, what: str) -> float:
    """Return the memory of a process: ``VmRSS`` now, ``VmHWM`` at most."""
    for line in Path(f"/proc/{pid}/status").read_text(encoding="utf-8").splitlines():
        if line.startswith(what):
            return int(line.split()[1]) / 1024
    return 0.0


@contextmanager
def bare_server() -> Iterator[tuple[str, int]]:
    """Run a server on an empty workshop; yield its address and process id."""
    with tempfile.TemporaryDirectory() as name:
        port = free_port()
        process = subprocess.Popen(
            [sys.executable, "-m", "weftonos.cli", "serve", "--port", str(port), "--data-dir", name],
            stdout=subprocess.DEVNULL,
        )
        address = f"http://127.0.0.1:{port}"
        try:
            wait_until_answered(f"{address}/api/machines", lambda: process.poll() is None)
            with calling(address) as client:
                client.post("/machines", json={"nickname": "Wren", **HOME}).raise_for_status()
            yield address, process.pid
        finally:
            process.terminate()
            process.wait(20)


#: The pages of a machine that are read again and again.
PAGES = ("line", "thread", "needle", "readings", "rack", "balance", "run", "mend", "troubles", "evidence")


def memory(reads: int = 1000, writes: int = 600) -> dict[str, object]:
    """Read and write on the example for a while: how much memory its server then holds, in MB."""
    with tempfile.TemporaryDirectory() as name, server(Path(name)) as address:
        pid = int(json.loads((Path(name) / CARD).read_text())["pid"])
        with calling(address) as client:
            for number in range(reads):
                page = PAGES[number % len(PAGES)]
                client.get(f"/machines/{number % 3 + 1}/{page}").raise_for_status()
            read = _mb(pid, "VmRSS")
            for number in range(writes):
                client.post(f"/machines/{number % 3 + 1}/runs", json={"minutes": 1}).raise_for_status()
            return {
                "after reads": round(read),
                "after writes": round(_mb(pid, "VmRSS")),
                "at most": round(_mb(pid, "VmHWM")),
            }


def _chunks(byte: bytes, megabytes: int) -> Iterator[bytes]:
    for _ in range(megabytes):
        yield byte * (1024 * 1024)


def _trace(samples: int, step: float) -> bytes:
    length = [round(n * step, 3) for n in range(samples)]
    return json.dumps({"length_mm": length, "tension_mn": [200 + n % 7 for n in range(samples)]}).encode()


#: Until a fresh server has loaded what it loads in the background.
SETTLED_S = 6.0


#: What is thrown at it: a name, an address below /api, a body (or parts of one), and its type.
def _floods() -> Sequence[tuple[str, str, Any, str]]:
    as_json, csv = "application/json", "text/csv"
    ids = b"[" + b",".join(b"%d" % n for n in range(120_000)) + b"]"
    return (
        ("trace of 400 000 samples", "/gauge/trace", _trace(400_000, 0.01), as_json),
        ("trace at the limit", "/gauge/trace", _trace(MOST_SAMPLES, 0.01), as_json),
        ("long trace at the limit", "/gauge/trace", _trace(MOST_SAMPLES, 1), as_json),
        (
            "trace of 800 000 strings",
            "/gauge/trace",
            b'{"length_mm":[' + b'"a",' * 800_000 + b'1],"tension_mn":[]}',
            as_json,
        ),
        ("top with 4 million strings", "/machines/1/top", b'{"top":[' + b'"a",' * 4_000_000 + b"1]}", as_json),
        ("top with 200 000 strings", "/machines/1/top", b'{"top":[' + b'"a",' * 200_000 + b"1]}", as_json),
        ("120 000 ids", "/machines/1/top", b'{"top":' + ids + b"}", as_json),
        ("60 MB in chunks", "/machines/1/top", lambda: _chunks(b" ", 60), as_json),
        ("60 MB of CSV in chunks", "/gauge/csv/columns", lambda: _chunks(b"1,2\n" * 1, 60), csv),
        ("CSV of 5 million rows", "/gauge/csv/columns", b"1,2\n" * 5_000_000, csv),
        ("CSV of one row", "/gauge/csv/columns", b"1," * 9_000_000, csv),
        ("deep brackets", "/machines/1/top", b"[" * 500_000, as_json),
        ("a number of 900 000 digits", "/machines/1/top", b'{"top":[' + b"9" * 900_000 + b"]}", as_json),
        (
            "a name of 900 000 letters",
            "/threads",
            json.dumps({"name": "x" * 900_000, "thread": COTTON}).encode(),
            as_json,
        ),
        (
            "observations",
            "/compute/balance",
            b'{"scale":{"kind":"dial","low":0,"high":10,"step":0.5},"observations":['
            + b",".join([b'{"setting":4,"grade":0}'] * 20_000)
            + b"]}",
            as_json,
        ),
    )


def floods(only: Sequence[str] = (), settled_s: float = SETTLED_S) -> list[dict[str, object]]:
    """Throw each flood at a fresh server: its answer, seconds, memory, and the slowest answer to others."""
    found = []
    for name, path, body, kind in _floods():
        if only and name not in only:
            continue
        with bare_server() as (address, pid):
            before, stop = _mb(pid, "VmHWM"), threading.Event()
            others: list[float] = []

            def ask(address: str = address, stop: threading.Event = stop, others: list[float] = others) -> None:
                with calling(address) as client:
                    while not stop.is_set():
                        started = time.monotonic()
                        client.get("/machines/1/line")
                        others.append(time.monotonic() - started)
                        time.sleep(0.01)

            asking = threading.Thread(target=ask)
            asking.start()
            # Somebody who floods does so while it runs, not while it starts.
            time.sleep(settled_s)
            while not others:
                time.sleep(0.01)
            started = time.monotonic()
            status: object = "closed"
            with httpx2.Client(timeout=300) as client, suppress(httpx2.TransportError):
                content = body() if callable(body) else body
                answer = client.post(f"{address}/api{path}", content=content, headers={"content-type": kind})
                status = answer.status_code
            took = time.monotonic() - started
            stop.set()
            asking.join()
            found.append(
                {
                    "flood": name,
                    "answer": status,
                    "s": round(took, 2),
                    "MB": round(_mb(pid, "VmHWM") - before),
                    "others s": round(max(others), 2),
                }
            )
    return found


def sockets(many: int = 200) -> dict[str, object]:
    """Open ``many`` live gauges: how many are read, and the slowest answer to others meanwhile."""
    patient: dict[str, Any] = {"open_timeout": 60, "close_timeout": 0.2, "ping_interval": None}
    with bare_server() as (address, _):
        reads = 0
        with ExitStack() as open_, calling(address) as client:
            for number in range(many):
                live = open_.enter_context(connect(f"ws{address[4:]}/api/gauge/live?seed={number}", **patient))
                with suppress(Exception):
                    live.recv(timeout=30)
                    reads += 1
            slowest = 0.0
            for _ in range(20):
                started = time.monotonic()
                client.get("/machines/1/line").raise_for_status()
                slowest = max(slowest, time.monotonic() - started)
    return {"sockets": many, "read": reads, "slowest s": round(slowest, 2)}
