"""The example workshop beside one's own: the demo in a folder and a process of its own."""

from __future__ import annotations

import subprocess
import sys
import threading
import time
from pathlib import Path

from weftonos.runtime import running
from weftonos.store.file_errors import ExitCode, WorkshopFileError

#: Seconds until the example is given up; its page shows how far it is filled, so it need not be full yet.
PATIENCE_S = 30.0


class Example:
    """Start the example when somebody wants to look round in it, and end it with the workshop it was started from."""

    def __init__(self, data_dir: Path) -> None:
        self._folder = data_dir / "example"
        self._process: subprocess.Popen[bytes] | None = None
        self._one = threading.Lock()

    def open(self) -> str:
        """Return the address of the example, started if it is not running; one's own data are not touched."""
        with self._one:
            if self._process is None or self._process.poll() is not None:
                command = [sys.executable, "-m", "weftonos.cli", "demo", "--port", "0", "--data-dir", str(self._folder)]
                self._process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
            given_up = time.monotonic() + PATIENCE_S
            while not (url := running.url_of(self._folder)):
                if time.monotonic() > given_up:
                    raise WorkshopFileError("The example could not be started. Try again later.", ExitCode.CANNOT_MAKE)
                time.sleep(0.05)
            return url

    def end(self) -> None:
        """End the example, if it was started from here."""
        if self._process is not None and self._process.poll() is None:
            self._process.terminate()
            try:
                self._process.wait(10)
            except subprocess.TimeoutExpired:
                self._process.kill()
