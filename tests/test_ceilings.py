"""What a screen may cost: queries, the first script, what is loaded at the start. Held here so that it does not creep.

The ceilings stand a little above nothing: who needs more raises them here, where it is seen.
"""

from __future__ import annotations

import gzip
import os
import re
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from bench_screens import asked_of
from fastapi.testclient import TestClient
from starlette.websockets import WebSocketDisconnect

import weftonos
from weftonos.api.app import create_app
from weftonos.cli import load_demo
from weftonos.runtime.settings import Settings

STATIC = Path(weftonos.__file__).parent / "static"
#: Kilobytes of script, packed, before the first screen can be drawn.
FIRST_SCRIPT_KB = 100
#: Libraries that no first screen needs: they take a second to load, and wait until they are used.
NOT_AT_THE_START = {"scipy", "fpdf", "fontTools", "openpyxl", "PIL", "jsonschema", "hypothesis", "pint"}
#: Queries of the database for each question a screen asks, BEGIN not counted, when another question of it came before.
LINE, STATION = 5, 8
QUERIES = {
    "machines/{m}/line": LINE,
    **{f"machines/{{m}}/{s}": STATION for s in ("thread", "needle", "readings", "balance", "run", "mend", "rack")},
    **{f"machines/{{m}}/{s}": STATION for s in ("needles", "troubles", "preflight", "upkeep")},
    **{f"machines/{{m}}/{s}": STATION for s in ("plan",)},
    "plans": STATION,
    "shopping": STATION,
    "threads": 3,
    "recipes": STATION,
    "log": 4,
}
#: What the first question after a write reads for the others: the machine, how it stands, threads, cases, records.
SHARED = 6
#: All that the Run page asks after something was noted.
PAGE = ("line", "run", "preflight", "upkeep", "plan", "troubles")


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    folder = tmp_path_factory.mktemp("ceilings")
    load_demo(folder)
    app = create_app(Settings(data_dir=folder))
    with TestClient(app, base_url="http://127.0.0.1") as client:
        yield client


def queries(client: TestClient, path: str) -> int:
    """Count the queries of a question that was asked before."""
    client.get(f"/api/{path}").raise_for_status()
    return queries_at_once(client, path)


def queries_at_once(client: TestClient, path: str) -> int:
    """Count the queries of a question, whatever was asked before."""
    with asked_of(client.app.state.engine) as asked:
        client.get(f"/api/{path}").raise_for_status()
    return len(asked)


@pytest.mark.parametrize("path", QUERIES)
def test_queries_of_a_screen(client, path):
    assert max(queries(client, path.format(m=machine)) for machine in (1, 2)) <= QUERIES[path]


@pytest.mark.parametrize("machine", [1, 2])
def test_queries_after_a_write(client, machine):
    """The first question reads what all of them need; the whole page stays under its questions' ceilings."""
    for path in (f"machines/{machine}/{name}" for name in PAGE):
        client.post("/api/machines/1/upkeep", json={"what": "oiling"}).raise_for_status()
        assert queries_at_once(client, path) <= STATION + SHARED, path
    client.post("/api/machines/1/upkeep", json={"what": "oiling"}).raise_for_status()
    asked = [queries_at_once(client, f"machines/{machine}/{name}") for name in PAGE]
    assert sum(asked) <= LINE + SHARED + STATION * (len(PAGE) - 2)


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


#: The first questions of a page that is opened, and what no router of theirs needs.
FIRST_QUESTIONS = ("machines", "words", "workshop/warnings", "machines/1/line", "machines/1/thread", "threads")
#: Ours that wait as well: the stations that are not the first one, and what is brought in and out.
OURS_LATER = {"weftonos.api.practice", "weftonos.api.exchange", "weftonos.api.mend", "weftonos.inout.exchange"}


def test_nothing_is_loaded_at_the_start_that_can_wait(tmp_path):
    """Also after the first page was answered, but for a quantile of SciPy's; a later station is there when asked."""
    load_demo(tmp_path)
    code = f"""
import sys
from pathlib import Path
from fastapi.testclient import TestClient
from weftonos.api.app import create_app
from weftonos.runtime.settings import Settings
app = create_app(Settings(data_dir=Path({str(tmp_path)!r})))
with TestClient(app, base_url="http://127.0.0.1") as client:
    print(*sys.modules)
    for question in {FIRST_QUESTIONS!r}:
        client.get("/api/" + question).raise_for_status()
    print(*sys.modules)
    client.get("/api/machines/1/mend").raise_for_status()
"""
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    before, after = ({name.split(".")[0] for name in line.split()} | set(line.split()) for line in told.splitlines())
    assert before & (NOT_AT_THE_START | OURS_LATER) == set()
    assert after & (NOT_AT_THE_START - {"scipy"} | OURS_LATER) == set()


def test_one_thread_works_on_a_matrix():
    """More wait for each other where the machine has anything else to do, as one with a browser on it has."""
    code = """
import os
from pathlib import Path
import weftonos
import numpy as np
np.linalg.svd(np.random.default_rng(1).random((400, 400)))
print(len(list(Path("/proc/self/task").iterdir())))
"""
    environment = {name: value for name, value in os.environ.items() if name != "OPENBLAS_NUM_THREADS"}
    told = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True)
    assert told.stdout.strip() == "1"


def test_a_first_question_to_any_station_is_answered_and_unknown_addresses_are_told(tmp_path):
    """Ten at once, of stations that are built when they are asked; nothing is built twice."""
    load_demo(tmp_path)
    app = create_app(Settings(data_dir=tmp_path))
    with TestClient(app, base_url="http://127.0.0.1") as client:
        with client.websocket_connect("ws://127.0.0.1/api/gauge/live?faster=100") as live:
            assert live.receive_json()["samples"]
        with pytest.raises(WebSocketDisconnect), client.websocket_connect("ws://127.0.0.1/api/gauge/dead"):
            pass
    app = create_app(Settings(data_dir=tmp_path))
    asked = ["machines/1/mend", "machines/1/run", "log", "nothing", "machines/1/balance"] * 2
    with TestClient(app, base_url="http://127.0.0.1") as client, ThreadPoolExecutor(10) as hands:
        answers = list(hands.map(lambda path: client.get(f"/api/{path}"), asked))
        assert [answer.status_code for answer in answers] == [200, 200, 200, 404, 200] * 2
        assert answers[3].json()["detail"] == "There is no such address."
        assert client.post("/api/machines/1/nothing").status_code == 404
        assert client.get("/anything").headers["content-type"].startswith("text/html")
    described = create_app(Settings(data_dir=tmp_path)).openapi()["paths"]
    assert {"/api/compute/balance", "/api/machines/{machine_id}/mend", "/api/words"} <= described.keys()
