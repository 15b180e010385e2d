"""A running demo server and a headless Chromium, for pictures and for the browser tests."""

from __future__ import annotations

import atexit
import multiprocessing
import os
import shutil
import socket
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path

import httpx2
from playwright.sync_api import Browser, sync_playwright

from weftonos.api.stations import Stations
from weftonos.cli import app, load_demo
from weftonos.runtime.running import own_addresses
from weftonos.store.database import FILE_NAME

#: Seconds until a server is given up.
PATIENCE = 120
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@cache
def filled_demo() -> Path:
    """Return a folder with the demo in it, filled once a process: most servers only want it there."""
    folder = Path(tempfile.mkdtemp(prefix="weftonos-demo-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    load_demo(folder)
    return folder


#: Where servers come from: a process that has loaded the program, so that each new one begins at once. What a server
#: loads by and by is loaded there, too: it takes the processor longer than most tests do.
LOADED = multiprocessing.get_context("forkserver")
LOADED.set_forkserver_preload(["weftonos.cli", "weftonos.api.app", "uvicorn", *Stations.loaded_later])


def quietly(*words: str) -> None:
    """Run a command of the program in this process, without what it prints."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    app(words)


def wait_until_answered(url: str, alive: Callable[[], bool]) -> None:
    """Ask until a server answers, two minutes long: a busy machine takes its time."""
    given_up = time.monotonic() + PATIENCE
    while True:
        try:
            urllib.request.urlopen(url, timeout=PATIENCE).close()
            return
        except OSError:
            if not alive():
                raise RuntimeError("the server ended before it answered") from None
            if time.monotonic() > given_up:
                raise RuntimeError("the server did not answer within two minutes") from None
            time.sleep(0.02)


def calling(address: str) -> httpx2.Client:
    """Return a client of a server's calls that waits as long as a busy machine needs."""
    return httpx2.Client(base_url=f"{address}/api", timeout=PATIENCE)


@contextmanager
def server(data_dir: Path, command: str = "demo", port: int | None = None) -> Iterator[str]:
    """Run ``weftonos demo`` or ``serve`` on 127.0.0.1 and yield its address; a process of its own, ended by its number.

    It has answered from the records by then; a demo is filled beforehand.
    """
    port = port or free_port()
    if command == "demo" and not (data_dir / FILE_NAME).exists():
        shutil.copytree(filled_demo(), data_dir, dirs_exist_ok=True)
    words = (command, "--port", str(port), "--data-dir", str(data_dir))
    process = LOADED.Process(target=quietly, args=words, daemon=True)
    process.start()
    address = f"http://127.0.0.1:{port}"
    try:
        wait_until_answered(f"{address}/api/machines", process.is_alive)
        yield address
    finally:
        process.terminate()
        process.join(timeout=20)
        assert process.exitcode is not None, "the server does not end"


@contextmanager
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        # No network at run time: whatever is not this machine is not found.
        here = ", ".join(f"EXCLUDE {address}" for address in ("127.0.0.1", *own_addresses()))
        alone = f"--host-resolver-rules=MAP * ~NOTFOUND, {here}"
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=[*ARGUMENTS, alone])
        yield browser
        browser.close()
