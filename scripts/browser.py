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
def server(data_dir: Path, command: str = "demo", port: int | None = None) -> Iterator[str]:
    """Run ``weftonos demo`` or ``serve`` on 127.0.0.1 and yield its address; ended by its own process."""
    port = port or free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "weftonos.cli", command, "--port", str(port), "--data-dir", str(data_dir)],
        stdout=subprocess.DEVNULL,
    )
    address = f"http://127.0.0.1:{port}"
    try:
        for _ in range(300):
            try:
                urllib.request.urlopen(f"{address}/api/machines", timeout=20).close()
                break
            except OSError:
                # Not up yet, or slow with its first answer on a busy machine.
                if process.poll() is not None:
                    raise RuntimeError("the server ended before it answered") from None
                time.sleep(0.1)
        else:
            raise RuntimeError("the server did not answer")
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
