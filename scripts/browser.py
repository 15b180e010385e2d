"""A running demo server and a headless Chromium, for pictures and for the browser tests."""

from __future__ import annotations

import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

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


@contextmanager
def server(
    data_dir: Path, command: str = "demo", port: int | None = None, wait_for: str = "/api/machines"
) -> Iterator[str]:
    """Run ``weftonos demo`` or ``serve`` on 127.0.0.1 and yield its address; ended by its own process.

    Waits up to two minutes until ``wait_for`` is answered: a busy machine takes its time.
    """
    port = port or free_port()
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
