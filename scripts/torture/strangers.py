"""Strangers: an hour of guessing at the passcode; a full disk; twenty thousand calls, valid and not."""

from __future__ import annotations

import contextlib
import json
import math
import os
import random
import re
import sqlite3
import subprocess
import tempfile
import time
from collections import Counter
from datetime import timedelta
from importlib import import_module
from pathlib import Path
from typing import Any, cast

import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode
from sqlalchemy import event
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from torture.deaths import NOW, with_a_machine
from weftonos.api.app import create_app
from weftonos.api.examples import CallExample, examples
from weftonos.cli import load_demo
from weftonos.core.log.run import Run
from weftonos.http.passcode import Doorkeeper
from weftonos.runtime.settings import Settings
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME
from weftonos.store.opening import open_workshop
from weftonos.store.workshop import Workshop

HOST = {"host": "127.0.0.1"}
#: What fills the small disk at first, in bytes.
BALLAST = 6_000_000


def guesses(hours: float = 1.0, a_second: int = 50) -> dict[str, object]:
    """Guess at the passcode all the time: how many guesses are looked at, and whether an open session is held up."""
    time = [0.0]
    keeper = Doorkeeper("heron-plover", clock=lambda: time[0])
    session = keeper.let_in()
    looked_at, held_up = 0, 0
    while time[0] < hours * 3600:
        time[0] += 1 / a_second
        # From a thousand addresses, since one has ten guesses.
        address = f"10.0.{looked_at % 4}.{int(time[0] * a_second) % 250}"
        if keeper.may_guess(address):
            looked_at += 1
            keeper.is_right("curlew", address)
        held_up += not keeper.knows(session)
    return {"guesses in an hour": looked_at / hours, "sessions held up": held_up}


def full_disk(writes: int) -> dict[str, object]:
    """Let the disk be full at each of so many writes: the write is refused, and everything before it stays.

    On a small tmpfs where one may be mounted, else by SQLite's own limit of pages.
    """
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        mounted = subprocess.run(
            ["mount", "-t", "tmpfs", "-o", "size=8m", "tmpfs", name], capture_output=True, check=False
        )
        try:
            return _fill_up(folder, writes, small=mounted.returncode == 0)
        finally:
            if mounted.returncode == 0:
                subprocess.run(["umount", "-l", name], check=False)


def _fill_up(folder: Path, writes: int, *, small: bool) -> dict[str, object]:
    with_a_machine(folder)
    engine = open_workshop(folder)
    if not small:
        pages = sqlite3.connect(folder / FILE_NAME).execute("PRAGMA page_count").fetchone()[0]
        event.listen(engine, "connect", lambda raw, _: raw.execute(f"PRAGMA max_page_count = {pages + 60}"))
        engine.dispose()
    ballast, chance = folder / "ballast", random.Random(4)
    if small:
        ballast.write_bytes(bytes(BALLAST))
    kept, refused, number, wrong = 0, 0, 0, list[str]()
    while refused < writes:
        number += 1
        try:
            with Session(engine) as session, session.begin():
                Workshop(session).note(1, Run(minutes=1, quilt="x" * 80), NOW, NOW + timedelta(seconds=number))
            kept += 1
        except OperationalError:
            refused += 1
            if refused % 10 == 1:
                wrong += check(folder / FILE_NAME).wrong
            if small:
                # Somebody makes a little room, and it goes on until that is full as well.
                os.truncate(ballast, max(0, ballast.stat().st_size - chance.randrange(10_000, 160_000)))
    ballast.unlink(missing_ok=True)
    engine.dispose()
    found = check(folder / FILE_NAME)
    return {
        "how": "tmpfs of 8 MB" if small else "limit of pages",
        "kept": kept,
        "refused": refused,
        "lost": kept - found.contents.records,
        "wrong": [*wrong, *found.wrong],
    }


PAGES = ("line", "thread", "needle", "needles", "readings", "rack", "balance", "run", "mend", "preflight", "upkeep")


#: What would start a process of its own, beside the one that is asked.
_NOT_ASKED = ("/api/workshop/example",)


def calls(number: int, every: int = 1, part: int = 1) -> dict[str, object]:
    """Make so many calls from our own description, valid and not, and corrections of every kind of record.

    Of the poisons only each ``every``-th is tried, another one at each place; of the calls that the description has,
    each ``part``-th.
    """
    with tempfile.TemporaryDirectory() as name:
        load_demo(Path(name))
        app = create_app(Settings(data_dir=Path(name)))
        schema = schemathesis.openapi.from_asgi("/api/openapi.json", app, headers=HOST)
        operations: list[Any] = [
            operation
            for found in schema.get_all_operations()
            if (operation := cast(Any, found).ok()).path not in _NOT_ASKED
        ][::part]
        each = max(2, number // (2 * len(operations)))
        statuses: Counter[int] = Counter()
        failures: list[tuple[Any, ...]] = []
        options: dict[str, Any] = {
            "deadline": None,
            "database": None,
            "derandomize": True,
            "suppress_health_check": list(HealthCheck),
        }
        for operation in operations:
            for mode in GenerationMode:

                @given(case=operation.as_strategy(generation_mode=mode))
                @settings(max_examples=each, **options)
                def ask(case: Any) -> None:
                    status = case.call(headers=HOST).status_code
                    statuses[status // 100] += 1
                    if status >= 500 and status not in (503, 507):
                        failures.append((case.method, case.path, case.body, status))

                with contextlib.suppress(Unsatisfiable):
                    ask()
        corrected = correct_everything(app, statuses, failures, every)
        shut: list[tuple[Any, ...]] = []
        with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
            for machine in [m["id"] for m in client.get("/api/machines").json()]:
                for page in PAGES:
                    status = client.get(f"/api/machines/{machine}/{page}").status_code
                    if status != 200:
                        shut.append((machine, page, status))
            for path in ("/api/log?limit=200", "/api/recipes", "/api/threads", "/api/log/unreadable"):
                if client.get(path).status_code != 200:
                    shut.append((path,))
        wrong = check(Path(name) / FILE_NAME).wrong
    return {
        "calls": sum(statuses.values()),
        "by hundred": dict(sorted(statuses.items())),
        "corrections": corrected,
        "5xx": failures[:5],
        "pages that do not open": shut,
        "wrong": list(wrong),
    }


#: What is put in the place of each value of a record.
POISON: tuple[Any, ...] = (
    None,
    True,
    -1,
    0,
    1e308,
    -1e308,
    10**22,
    10**400,
    "",
    "x" * 3000,
    "\ufffe",
    "\x00",
    [],
    {},
    [None],
    "NaN",
    0.1,
)


def correct_everything(app: Any, statuses: Counter[int], failures: list[tuple[Any, ...]], every: int) -> int:
    """Correct one record of each kind with every value poisoned in turn; return how many corrections were tried."""
    tried = places = 0
    with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        kinds: dict[str, Any] = {}
        before = ""
        while True:
            page = client.get(f"/api/log?limit=200{before}").json()
            for entry in page["entries"]:
                if entry["payload"] and not entry["struck_at"]:
                    kinds.setdefault(entry["kind"], entry)
            if page["more"] is None:
                break
            before = f"&before={page['more']}"
        for entry in kinds.values():
            for path in _places(entry["payload"]):
                places += 1
                for poison in POISON[places % every :: every]:
                    said = {"payload": _with(entry["payload"], path, poison), "at": entry["at"]}
                    answer = client.request("PUT", f"/api/log/{entry['id']}", json=said)
                    tried += 1
                    statuses[answer.status_code // 100] += 1
                    if answer.status_code >= 500:
                        failures.append(("PUT", entry["kind"], path, str(poison)[:30], answer.status_code))
            client.put(f"/api/log/{entry['id']}", json={"payload": entry["payload"], "at": entry["at"]})
    return tried


#: Put in by the mutator beside the poisons: the ends of time, and text from everywhere.
_ODD: tuple[Any, ...] = (
    *POISON,
    *(math.nan, math.inf, -math.inf, 2**63, -(2**63) - 1, 1e-320),
    *("0001-01-01T00:00:00Z", "9999-12-31T23:59:59.999999+14:00", "2026-11-24T09:00:00", "2016-12-31T23:59:60Z"),
    *("\u202egnirts", "A\u0301\u0327" * 40, "\U0001f9f5", "\ud800", "१२", "1٫5", "-0", "1e3", " "),
)
#: A call that takes longer holds somebody up; measured on an idle machine.
LONGEST_S = 2.0
#: Long work and what writes whole files is measured for itself.
_NOT_MUTATED = ("/compute/", "/exchange/", "/copies", "/example", "/csv/", "/access/", "/second-place")


def mutated(number: int, seed: int = 1) -> dict[str, object]:
    """Make so many calls that are nearly right: ids of other machines, odd values, fields gone, too many, moments."""
    chance = random.Random(seed)
    statuses: Counter[int] = Counter()
    failures: list[tuple[Any, ...]] = []
    slow: list[tuple[str, float]] = []
    with tempfile.TemporaryDirectory() as name:
        load_demo(Path(name))
        app = create_app(Settings(data_dir=Path(name)))
        with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
            listed = client.get("/api/openapi.json").json()["paths"]
            told = {example.call: example for example in examples()}
            asked = [
                told.get(f"{method.upper()} {path}", CallExample(call=f"{method.upper()} {path}"))
                for path, methods in listed.items()
                for method in methods
                if path != "/api/changes" and not any(part in path for part in _NOT_MUTATED)
            ]
            # What a first paper takes is loaded some seconds after the door opens; these calls come in an evening.
            for module in app.state.stations.loaded_later:
                import_module(module)
            app.state.stations.build()
            for _ in range(number):
                example = chance.choice(asked)
                method, path = example.call.split(" ")
                numbers = {
                    match: chance.choice((1, 2, 3, 4, 7, 60, 900, 99_999)) for match in re.findall(r"{(\w+)}", path)
                }
                address = re.sub(r"{(\w+)}", lambda m: "svg" if m[1] == "form" else str(numbers[m[1]]), path)  # noqa: B023
                body = json.dumps(_mutated(example.body, chance)).encode("utf-8", "replace") if example.body else None
                headers = {"content-type": "application/json"}
                if chance.random() < 0.2:
                    headers["done-at"] = chance.choice(
                        ("2026-11-24T09:30:00Z", "0001-01-01T00:00:00Z", "soon", "9999-12-31T00:00:00Z")
                    )
                begun = time.monotonic()
                status = client.request(
                    method, address, content=body, headers=headers, params=example.query
                ).status_code
                took = time.monotonic() - begun
                statuses[status // 100] += 1
                if status >= 500:
                    failures.append((method, address, str(body)[:200], status))
                if took > LONGEST_S:
                    slow.append((f"{method} {path}", round(took, 1)))
            shut = [
                (machine, page)
                for machine in (1, 2, 3)
                for page in PAGES
                if client.get(f"/api/machines/{machine}/{page}").status_code != 200
            ]
        wrong = check(Path(name) / FILE_NAME).wrong
    found = {"5xx": failures[:5], "over 2 s": slow[:5], "pages that do not open": shut, "wrong": list(wrong)}
    return {"calls": number, "by hundred": dict(sorted(statuses.items())), **found}


def _mutated(body: Any, chance: random.Random) -> Any:
    """Return a body with one to three of its places spoiled."""
    for _ in range(chance.randrange(1, 4)):
        places = _places(body)
        if not places:
            return chance.choice(_ODD)
        place, way = chance.choice(places), chance.random()
        if way < 0.6:
            body = _with(body, place, chance.choice(_ODD))
        elif way < 0.7:
            # An id of something else, or a number a little off.
            body = _with(body, place, chance.choice((1, 2, 3, 5, 19, 60, 400)))
        elif isinstance(body, dict) and way < 0.85:
            body = {key: value for key, value in body.items() if key != place[0]}
        elif isinstance(body, dict):
            body = {**body, chance.choice(("at", "kind", "id", "__class__", "machine")): chance.choice(_ODD)}
    return body


def _places(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    inside = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    return [path] * bool(path) + [place for key, part in inside for place in _places(part, (*path, key))]


def _with(value: Any, path: tuple[Any, ...], poison: Any) -> Any:
    if not path:
        return poison
    copy = dict(value) if isinstance(value, dict) else list(value)
    copy[path[0]] = _with(copy[path[0]], path[1:], poison)
    return copy
