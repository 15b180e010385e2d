"""A running demo server and a headless Chromium, for pictures and for the browser tests."""

from __future__ import annotations

import atexit
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

from weftonos.cli import load_demo
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
    # No network at run time: whatever is not this machine has no address.
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
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


@contextmanager
def server(
    data_dir: Path, command: str = "demo", port: int | None = None, wait_for: str = "/api/machines"
) -> Iterator[str]:
    """Run ``weftonos demo`` or ``serve`` on 127.0.0.1 and yield its address; ended by its own process.

    Waits up to two minutes until ``wait_for`` is answered: a busy machine takes its time.
    """
    port = port or free_port()
    # Whoever waits for the first page wants to see it being filled.
    if command == "demo" and wait_for.startswith("/api/") and not (data_dir / FILE_NAME).exists():
        shutil.copytree(filled_demo(), data_dir, dirs_exist_ok=True)
    process = subprocess.Popen(
        [sys.executable, "-m", "weftonos.cli", command, "--port", str(port), "--data-dir", str(data_dir)],
        stdout=subprocess.DEVNULL,
    )
    address = f"http://127.0.0.1:{port}"
    given_up = time.monotonic() + PATIENCE
    try:
        while True:
            try:
                urllib.request.urlopen(f"{address}{wait_for}", timeout=PATIENCE).close()
                break
            except OSError:
                if process.poll() is not None:
                    raise RuntimeError("the server ended before it answered") from None
                if time.monotonic() > given_up:
                    raise RuntimeError("the server did not answer within two minutes") from None
                time.sleep(0.02)
        yield address
    finally:
        process.terminate()
        process.wait(timeout=20)


@contextmanager
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        yield browser
        browser.close()
