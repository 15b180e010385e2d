"""What a screen may cost: queries, the first script, what is loaded at the start. Held here so that it does not creep.

The ceilings stand a little above nothing: who needs more raises them here, where it is seen.
"""

from __future__ import annotations

import gzip
import re
import subprocess
import sys
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import event

import weftonos
from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.runtime.settings import Settings

STATIC = Path(weftonos.__file__).parent / "static"
#: Kilobytes of script, packed, before the first screen can be drawn.
FIRST_SCRIPT_KB = 110
#: Libraries that no first screen needs: they take a second to load, and wait until they are used.
NOT_AT_THE_START = {"scipy", "fpdf", "fontTools", "openpyxl", "PIL", "jsonschema", "hypothesis", "pint"}
#: Queries of the database for each question a screen asks, BEGIN not counted.
LINE, STATION, LIST = 9, 13, 15
QUERIES = {
    "machines/{m}/line": LINE,
    **{f"machines/{{m}}/{s}": STATION for s in ("thread", "needle", "readings", "balance", "run", "mend", "rack")},
    **{f"machines/{{m}}/{s}": STATION for s in ("needles", "troubles", "preflight", "upkeep")},
    **{f"machines/{{m}}/{s}": STATION for s in ("plan",)},
    "plans": STATION,
    "shopping": 25,
    "threads": 6,
    "recipes": LIST,
    "log": 8,
}


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    folder = tmp_path_factory.mktemp("ceilings")
    load_demo(folder)
    app = create_app(Settings(data_dir=folder))
    with TestClient(app, base_url="http://127.0.0.1") as client:
        yield client


def queries(client: TestClient, path: str) -> int:
    """Count the queries of a question that was asked before."""
    asked: list[str] = []

    def count(_connection, _cursor, statement, *_):
        asked.append(statement)

    client.get(f"/api/{path}").raise_for_status()
    engine = client.app.state.engine
    event.listen(engine, "before_cursor_execute", count)
    client.get(f"/api/{path}").raise_for_status()
    event.remove(engine, "before_cursor_execute", count)
    return sum(statement != "BEGIN" for statement in asked)


@pytest.mark.parametrize("path", QUERIES)
def test_queries_of_a_screen(client, path):
    assert max(queries(client, path.format(m=machine)) for machine in (1, 2)) <= QUERIES[path]


def test_no_query_for_each_case_or_machine(client):
    before = {path: queries(client, path.format(m=1)) for path in QUERIES}
    bobbin = client.get("/api/machines/1/line").json()["setup"]["bobbin"]["id"]
    for n in range(20):
        case = client.post("/api/machines/1/cases", json={"label": f"Extra {n}"})
        case.raise_for_status()
        loaded = {"bobbin": bobbin, "case": case.json()["id"]}
        client.post("/api/machines/1/bobbin", json=loaded).raise_for_status()
        pulls = {"unit": "mN", "pulls": [{"value": 200 + n}, {"value": 202 + n}], "case": case.json()["id"]}
        client.post("/api/machines/1/readings", json=pulls).raise_for_status()
    spec = client.get("/api/machines").json()[0]["spec"]
    for n in range(5):
        client.post("/api/machines", json=spec | {"nickname": f"Another {n}"}).raise_for_status()
    after = {path: queries(client, path.format(m=1)) for path in QUERIES}
    assert {path: n for path, n in after.items() if n > before[path] + 1} == {}


def test_first_script():
    page = (STATIC / "index.html").read_text()
    scripts = [STATIC / name for name in re.findall(r'/(assets/[^"]+\.js)"', page)]
    assert scripts, "the page names its scripts"
    packed = sum(len(gzip.compress(script.read_bytes())) for script in scripts)
    assert packed <= FIRST_SCRIPT_KB * 1000


def test_nothing_is_loaded_at_the_start_that_can_wait():
    names = "import sys, weftonos.api.app; print(*{name.split('.')[0] for name in sys.modules})"
    loaded = set(
        subprocess.run([sys.executable, "-c", names], capture_output=True, text=True, check=True).stdout.split()
    )
    assert loaded & NOT_AT_THE_START == set()
