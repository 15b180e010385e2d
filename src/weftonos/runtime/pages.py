"""Where the built pages lie, and the page of each station: its modules are named in it, so that they come at once."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path
from typing import Any

STATIC = Path(__file__).parents[1] / "static"
#: What the build says of its files: which module needs which others.
MANIFEST = "manifest.json"
#: The page's ``meta``, and the first event of its stream, that say how the workshop stood: where they agree, nobody
#: wrote in between.
STAND = "stand"


def page_for(static: Path, path: str, stand: str = "") -> str:
    """Return the page for an address, with the modules of its station; raises OSError where none is built.

    Without them a browser learns of a station's modules only once it has read the first script. ``stand`` is how the
    workshop stands: a screen that hears of writes later knows by it whether it missed any.
    """
    manifest = static / MANIFEST
    page = (static / "index.html").read_text(encoding="utf-8")
    said = f'  <meta name="{STAND}" content="{stand}">\n  ' if stand else ""
    if manifest.is_file():
        said += _links(manifest, manifest.stat().st_mtime_ns, _view(path))
    return page.replace("</head>", f"{said}</head>", 1)


def _view(path: str) -> str:
    """Return the source of the view that an address leads to."""
    parts = path.strip("/").split("/")
    if len(parts) == 2 and parts[0].isdigit() and parts[1].isalpha():
        return f"src/stations/{parts[1]}/{parts[1].capitalize()}View.vue"
    return "src/stations/StartView.vue"


@lru_cache(32)
def _links(manifest: Path, written: int, view: str) -> str:
    """Return the links to what a view needs beside the first script; empty for a view that is none."""
    built = json.loads(manifest.read_text(encoding="utf-8"))
    first = _needed(built, "index.html")
    modules = [built[name]["file"] for name in _needed(built, view) if name not in first]
    return "".join(f'  <link rel="modulepreload" crossorigin href="/{module}">\n  ' for module in modules)


def _needed(built: dict[str, Any], entry: str) -> list[str]:
    """Return an entry of the manifest and all it imports, without what it asks for later."""
    found: list[str] = []
    left = [entry]
    while left:
        name = left.pop()
        if name in built and name not in found:
            found.append(name)
            left += built[name].get("imports", [])
    return found
