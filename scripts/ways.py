"""The way of a reading, a look and a break through the code, from the route to the row and back: what it passes.

``python scripts/ways.py`` prints for each the functions of ours that run beside the validation and the door, in the
order in which they are first entered, with how many there are, in how many modules, and what is answered.
"""

from __future__ import annotations

import sys
import tempfile
import threading
from pathlib import Path
from types import FrameType
from typing import Any

from fastapi.testclient import TestClient

from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.runtime.settings import Settings

WAYS = {
    "a reading": ("readings", {"unit": "mN", "pulls": [{"value": 201}, {"value": 204}], "case": 1}),
    "a look": ("looks", {"setting": 200, "grade": 0, "motion": "free_motion"}),
    "a break": ("breaks", {"symptom": "clean_snap_of_the_top_thread"}),
}
#: What every request passes: the door and what stands around a route.
AROUND = ("weftonos.http", "weftonos.api.strict", "weftonos.api.context", "weftonos.api.app", "weftonos.api.problems")


class Way:
    """The functions entered, each once, and how many borders of modules were crossed, while it listens."""

    def __init__(self) -> None:
        self.listens = False
        self.stops: dict[tuple[str, str], None] = {}
        self.crossed = 0

    def note(self, frame: FrameType, event: str, _: Any) -> None:
        """Note a call: what a profiler is."""
        if not self.listens or event != "call":
            return
        module, name = frame.f_globals.get("__name__", ""), frame.f_code.co_qualname
        if not module.startswith("weftonos.") or module.startswith(AROUND) or "<" in name:
            return
        back = frame.f_back.f_globals.get("__name__", "") if frame.f_back else ""
        if (module, name) not in self.stops and back.startswith("weftonos.") and back != module:
            self.crossed += 1
        self.stops[module, name] = None


def main() -> None:
    """Print the three ways."""
    folder = Path(tempfile.mkdtemp())
    load_demo(folder)
    way = Way()
    # Routes run in threads that live on: they are listened to from their beginning.
    threading.setprofile(way.note)
    with TestClient(create_app(Settings(data_dir=folder)), base_url="http://127.0.0.1") as client:
        for path, body in WAYS.values():
            # What is read in once is no part of the way.
            client.post(f"/api/machines/1/{path}", json=body)
        for name, (path, body) in WAYS.items():
            way.stops, way.crossed, way.listens = {}, 0, True
            answer = client.post(f"/api/machines/1/{path}", json=body).json()
            way.listens = False
            stops = list(way.stops)
            modules = list(dict.fromkeys(module for module, _ in stops))
            fields = len(answer) if isinstance(answer, dict) else 1
            size = len(str(answer))
            print(
                f"\n{name}: {len(stops)} functions in {len(modules)} modules, {way.crossed} borders crossed, ", end=""
            )
            print(f"answered with {fields} fields, {size} characters")
            if "-v" in sys.argv:
                for module, function in stops:
                    print(f"  {module.removeprefix('weftonos.')}: {function}")


if __name__ == "__main__":
    main()
