"""Refresh docs/screenshots from the demo: one picture of each main view at 1280×800."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from browser import chromium, server

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
VIEWS = {
    "thread": "/1/thread",
    "bundle": "/1/thread",
    "look": "/1/thread?part=look",
    "care": "/3/thread?part=care",
    "path": "/1/thread?part=path",
    "needle": "/1/needle",
    "needle-in": "/3/needle?part=in",
    "needle-drawer": "/1/needle?part=drawer",
    "bobbin": "/2/bobbin",
    "balance": "/1/balance",
    "log": "/1/log",
}

#: Threads to choose in the drawer before the picture is taken.
CHOSEN = {"bundle": ("Shingle 30", "Driftwood 40", "Samphire 50")}


def main(target: Path, only: list[str]) -> None:
    target.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, server(Path(folder)) as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.on("pageerror", lambda error: print("page error:", error))
        page.on("console", lambda message: message.type == "error" and print("console:", message.text))
        for name, path in VIEWS.items():
            if only and name not in only:
                continue
            page.goto(address + path)
            page.wait_for_load_state("networkidle")
            page.wait_for_timeout(300)
            for thread in CHOSEN.get(name, ()):
                page.get_by_label(f"Choose {thread}").check()
                page.wait_for_timeout(400)
            if name in CHOSEN:
                page.get_by_label("Chosen threads").scroll_into_view_if_needed()
                page.evaluate("window.scrollTo(0, 0)")
                page.wait_for_timeout(300)
            page.screenshot(path=target / f"{name}.png")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else TARGET, sys.argv[2:])
