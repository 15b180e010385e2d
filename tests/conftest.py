"""What every test can use: a fresh workshop on a real file, with a clock that the test sets."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from hypothesis import settings
from sqlalchemy import Engine

sys.path.insert(0, str(Path(__file__).parent.parent / "scripts"))

from weftonos.api.app import create_app
from weftonos.runtime.settings import Settings
from weftonos.store import database

# How long an example takes says more of the machine the tests run on than of the code.
settings.register_profile("steady", deadline=None)
settings.load_profile("steady")

#: Files that take longest, together half of the time: they go first, so that no worker ends with one of them alone.
LONGEST = ("torture", "evenings", "slice", "edges", "bobbin_station", "start_and_log", "mend_station", "evidence")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Begin with the longest files."""

    def place(item: pytest.Item) -> int:
        name = item.path.stem.removeprefix("test_")
        return LONGEST.index(name) if name in LONGEST else len(LONGEST)

    items.sort(key=place)


_MIGRATE = database.migrate


@cache
def _empty_workshop() -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "empty.db"
        engine = database.engine_on(path)
        _MIGRATE(engine, "head")
        engine.dispose()
        database.put_in_place(path, path.with_name("whole.db"))
        return path.with_name("whole.db").read_bytes()


def _migrate(engine: Engine, revision: str) -> None:
    """Make an empty workshop of the one that this process made first: its migrations take a sixth of a second."""
    path = Path(engine.url.database or "")
    if revision != "head" or (path.exists() and path.stat().st_size):
        _MIGRATE(engine, revision)
    else:
        path.write_bytes(_empty_workshop())


# Only where a file is new: what is opened is migrated as ever.
database.migrate = _migrate

SALTMARSH = {"fiber": "polyester", "construction": "multifilament", "value": 40, "system": "wt", "strands": 3}
LIMPET = {"fiber": "polyester", "construction": "multifilament", "value": 80, "system": "wt"}
HERON = {
    "nickname": "Heron",
    "kind": "longarm",
    "throat_in": 24,
    "guide_holes": 3,
    "scale": {"kind": "readout", "low": 80, "high": 400, "step": 5},
}


@cache
def one_app() -> FastAPI:
    """One application for all tests of a process, since its routes take seconds to build; each opens its own file."""
    return create_app(Settings())


WROTE = {"id", "uid", "version", "text", "struck"}


class Wrote(dict[str, Any]):
    """What a write answered; what else is asked of its record is read from the log."""

    def __init__(self, answer: Any, bench: Workbench) -> None:
        super().__init__(answer)
        self._bench = bench

    def __missing__(self, name: str) -> Any:
        return self._bench.get(f"log/{self['id']}")[name]


class Workbench:
    """The API of one workshop, with the clock in the test's hand."""

    def __init__(self, data_dir: Path) -> None:
        self.now = datetime(2026, 11, 24, 9, tzinfo=UTC)
        self.data_dir = data_dir
        self.settings = Settings(data_dir=data_dir)
        app = one_app()
        app.state.data_dir, app.state.clock = data_dir, lambda: self.now
        self.client = TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False)

    def later(self, minutes: float) -> None:
        self.now += timedelta(minutes=minutes)

    def get(self, path: str) -> Any:
        answer = self.client.get(f"/api/{path}")
        assert answer.status_code == 200, answer.text
        return answer.json()

    def post(self, path: str, body: Any = None, status: int | None = None) -> Any:
        answer = self.client.post(f"/api/{path}", json=body)
        assert answer.status_code == status if status else answer.status_code in (200, 201), answer.text
        said = answer.json()
        return Wrote(said, self) if isinstance(said, dict) and said.keys() == WROTE else said

    def refused(self, path: str, body: Any, method: str = "POST") -> tuple[str, str]:
        """Send bad input; return the field and the sentence of the first complaint."""
        answer = self.client.request(method, f"/api/{path}", json=body)
        assert answer.status_code == 422, answer.text
        first = answer.json()["detail"][0]
        return str(first["loc"][-1]), first["msg"]

    def count(self) -> int:
        """How many records and threads are stored."""
        return len(self.get("log?limit=200")["entries"]) + self.get("threads?struck=true")["total"]

    def combination(self) -> tuple[int, int, int]:
        """Set a machine up with both threads; return the ids of machine, top and bobbin thread."""
        machine = self.post("machines", HERON)["id"]
        top = self.post("threads", {"name": "Saltmarsh 40", "thread": SALTMARSH, "finish": "trilobal"})["id"]
        bobbin = self.post("threads", {"name": "Limpet 80", "thread": LIMPET})["id"]
        self.post(f"machines/{machine}/top", {"top": [top]})
        self.post(f"machines/{machine}/bobbin", {"bobbin": bobbin})
        return machine, top, bobbin


@pytest.fixture
def bench(tmp_path: Path) -> Iterator[Workbench]:
    workbench = Workbench(tmp_path)
    with workbench.client:
        yield workbench
