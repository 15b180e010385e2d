"""`make torture`: everything at full length, half an hour to an hour; arguments choose parts by a word."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from typing import Any

from torture import beside, deaths, files, storms, strangers

PARTS: dict[str, Callable[[], Any]] = {
    "killed while writing, 200 rounds": lambda: deaths.killed_while_writing(200),
    "killed while migrating, every statement": lambda: deaths.killed_while_migrating(1),
    "killed while beginning, 40 rounds": lambda: deaths.killed_while_beginning(40),
    "killed while restoring, every call": lambda: deaths.killed_while_restoring(1),
    "commands beside the server, 100 rounds": lambda: beside.beside(100),
    "calls, 20 000": lambda: strangers.calls(20_000),
    "mutated calls, 20 000": lambda: strangers.mutated(20_000),
    "writers, 16 for 60 s": lambda: storms.writers(60),
    "clients, 100 for 60 s": lambda: storms.clients(60),
    "races, 12 kinds": lambda: storms.races(),
    "floods": lambda: storms.floods(),
    "memory, 1000 reads and 600 writes": lambda: storms.memory(),
    "sockets, 200": lambda: storms.sockets(),
    "full disk, 50 writes": lambda: strangers.full_disk(50),
    "killed while importing, 50 rounds": lambda: deaths.killed_while_importing(50),
    "hostile files, 300": lambda: files.refused_files(300),
    "guesses at the passcode": lambda: strangers.guesses(),
}

if __name__ == "__main__":
    for name, part in PARTS.items():
        if sys.argv[1:] and not any(word in name for word in sys.argv[1:]):
            continue
        started = time.monotonic()
        found = part()
        print(f"\n{name} ({time.monotonic() - started:.0f} s)")
        for row in found if isinstance(found, list) else [found]:
            print("  " + ", ".join(f"{key}: {value}" for key, value in row.items()), flush=True)
