"""A second process beside the server: copies, checks, exports, backups and imports at random, writers, and a death.

What SQLite keeps beside a file belongs to whoever has it open. The server is killed with its log of changes in use, and
what it acknowledged has to be there at the next start.
"""

from __future__ import annotations

import csv
import os
import random
import signal
import sqlite3
import tempfile
import threading
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from pathlib import Path

import httpx2

from browser import LOADED, calling, free_port, quietly, wait_until_answered
from weftonos.store.checking import check
from weftonos.store.database import FILE_NAME
from weftonos.store.safekeeping import beside as kept_beside

HOME = {"nickname": "Wren", "kind": "home", "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5}}
WRITERS = 3


@contextmanager
def killed_server(folder: Path) -> Iterator[str]:
    """Run a server in a process of its own, and kill it with SIGKILL in the end."""
    port = free_port()
    process = LOADED.Process(
        target=quietly, args=("serve", "--port", str(port), "--data-dir", str(folder)), daemon=True
    )
    process.start()
    address = f"http://127.0.0.1:{port}"
    try:
        wait_until_answered(f"{address}/api/machines", process.is_alive)
        yield address
    finally:
        assert process.pid is not None
        with suppress(ProcessLookupError):
            os.kill(process.pid, signal.SIGKILL)
        process.join()


def command(*words: str) -> None:
    """Run a command in a process of its own, from a process that has loaded the program."""
    process = LOADED.Process(target=quietly, args=words, daemon=True)
    process.start()
    process.join(120)
    assert process.exitcode == 0, f"weftonos {' '.join(words)} ended with {process.exitcode}"


def _commands(folder: Path, elsewhere: Path, chance: random.Random) -> list[Callable[[], object]]:
    """Return what somebody may run in a terminal beside the server."""
    here = ("--data-dir", str(folder))

    def imports() -> None:
        table = elsewhere / f"runs-{chance.random()}.csv"
        with table.open("w", newline="", encoding="utf-8") as out:
            rows = csv.writer(out)
            rows.writerow(["Date", "Minutes"])
            rows.writerow([f"2026-10-{chance.randrange(1, 29):02d}", str(chance.randrange(1, 400) / 4)])
        command("import", str(table), "--kind", "runs", "--leave-out", "--yes", *here)

    def looks_with_sqlite() -> None:
        # Any other program that can read the file; it closes as the last one would.
        with closing(sqlite3.connect(folder / FILE_NAME)) as file:
            file.execute("SELECT count(*) FROM record").fetchone()

    return [
        lambda: command("check", *here),
        lambda: command("backup", *here),
        lambda: command("backup", str(elsewhere / f"copy-{chance.random()}.db"), *here),
        lambda: command("export", str(elsewhere / f"all-{chance.random()}.zip"), *here),
        imports,
        looks_with_sqlite,
    ]


def _write(said: list[str], address: str) -> None:
    """Note one run after the other, until the server is killed while it answers."""
    with calling(address) as client, suppress(httpx2.HTTPError):
        while True:
            answer = client.post("/machines/1/runs", json={"minutes": 1})
            if answer.status_code == 201:
                said.append(answer.json()["uid"])


def beside(rounds: int, seed: int = 1, least: int = 5) -> dict[str, object]:
    """Write over HTTP with commands beside it, kill the server, start again: what was acknowledged is there.

    Also counts how often the log of changes in use was taken away under the server.
    """
    chance = random.Random(seed)
    known: set[str] = set()
    lost, unlinked, ran = 0, 0, 0
    wrong: list[str] = []
    with tempfile.TemporaryDirectory() as name, tempfile.TemporaryDirectory() as other:
        folder, log = Path(name), kept_beside(Path(name) / FILE_NAME)[0]
        commands = _commands(folder, Path(other), chance)
        with killed_server(folder) as address, calling(address) as client:
            client.post("/machines", json=HOME).raise_for_status()
        for _ in range(rounds):
            said: list[list[str]] = [[] for _ in range(WRITERS)]
            with killed_server(folder) as address, calling(address) as client:
                in_use = log.stat().st_ino
                writers = [threading.Thread(target=_write, args=(mine, address)) for mine in said]
                for writer in writers:
                    writer.start()
                for _ in range(chance.randrange(1, 4)):
                    if chance.random() < 0.7:
                        client.post("/workshop/copies").raise_for_status()
                    chance.choice(commands)()
                    ran += 1
                # Some are noted after the last command, whatever it did.
                enough = [len(mine) + least for mine in said]
                while any(len(mine) < wanted for mine, wanted in zip(said, enough, strict=True)):
                    assert any(writer.is_alive() for writer in writers), "the server answers no more"
                unlinked += not log.exists() or log.stat().st_ino != in_use
            for writer in writers:
                writer.join()
            known |= {uid for mine in said for uid in mine}
            wrong += check(folder / FILE_NAME).wrong
            with closing(sqlite3.connect(folder / FILE_NAME)) as file:
                stored = {uid for (uid,) in file.execute("SELECT uid FROM record")}
            lost += len(known - stored)
            known &= stored
    return {
        "rounds": rounds,
        "commands": ran,
        "acknowledged": len(known),
        "lost": lost,
        "unlinked": unlinked,
        "wrong": wrong,
    }
