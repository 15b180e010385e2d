"""The server around the stations: guard, migrations, demo, generated types."""

import base64
import json
import sqlite3
import subprocess
from datetime import UTC, datetime
from pathlib import Path

import pytest
import typer
from fastapi.testclient import TestClient
from sqlalchemy import inspect
from typer.testing import CliRunner

from weftonos.api.app import create_app
from weftonos.cli import app as command
from weftonos.cli import load_demo
from weftonos.http.passcode import Doorkeeper
from weftonos.runtime.settings import Settings
from weftonos.store import opening
from weftonos.store.models import Base

WEB = Path(__file__).parents[2] / "web"
NOW = datetime(2026, 11, 24, tzinfo=UTC)


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"host": "weftonos.example"}, 400),
        ({"host": "192.168.1.7"}, 400),
        ({"host": "127.0.0.1", "origin": "http://elsewhere.example"}, 403),
        ({"host": "127.0.0.1", "origin": "null"}, 403),
        ({"host": "127.0.0.1:8741", "origin": "http://127.0.0.1:8741"}, 200),
        ({"host": "localhost:8741"}, 200),
        ({"host": "[::1]:8741"}, 200),
        ({"host": "127.0.0.1", "content-length": "99999999999"}, 413),
    ],
)
def test_foreign_hosts_and_pages_are_refused(bench, headers, status):
    assert bench.client.get("/api/machines", headers=headers).status_code == status


def test_on_a_local_network_the_passcode_is_asked_for(tmp_path):
    app = create_app(Settings(data_dir=tmp_path, host="0.0.0.0", passcode="heron"))
    with TestClient(app, base_url="http://192.168.1.7:8741") as client:
        assert client.get("/api/machines").status_code == 401
        wrong = base64.b64encode(b"any:wren").decode()
        assert client.get("/api/machines", headers={"authorization": f"Basic {wrong}"}).status_code == 401
        assert client.get("/api/machines", headers={"authorization": "Basic ???"}).status_code == 401
        right = base64.b64encode(b"any:heron").decode()
        assert client.get("/api/machines", headers={"authorization": f"Basic {right}"}).status_code == 200
        rebound = {"authorization": f"Basic {right}", "host": "rebound.example"}
        assert client.get("/api/machines", headers=rebound).status_code == 400


def test_the_file_is_wal_with_foreign_keys_and_the_models_match_the_migrations(tmp_path):
    engine = opening.open_workshop(tmp_path)
    with engine.connect() as connection:
        assert connection.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"
        assert connection.exec_driver_sql("PRAGMA foreign_keys").scalar() == 1
    found = inspect(engine)
    for table in Base.metadata.sorted_tables:
        columns = {c["name"] for c in found.get_columns(table.name)}
        assert columns == {c.name for c in table.columns}
        indexes = {i["name"] for i in found.get_indexes(table.name)}
        assert indexes == {i.name for i in table.indexes}


def test_the_demo_never_touches_a_real_workshop(tmp_path):
    real, demo = tmp_path / "real", tmp_path / "demo"
    opening.open_workshop(real).dispose()
    with pytest.raises(typer.BadParameter, match="real workshop"):
        load_demo(real)
    load_demo(demo)
    load_demo(demo)  # safe to repeat
    with TestClient(create_app(Settings(data_dir=demo)), base_url="http://127.0.0.1") as client:
        machines = client.get("/api/machines").json()
        assert [m["spec"]["nickname"] for m in machines] == ["Heron", "Plover", "Wren"]
        log = client.get("/api/log?limit=200").json()["entries"]
        assert len(log) > 80
        states = {
            m["spec"]["nickname"]: {
                k["station"]: k["state"] for k in client.get(f"/api/machines/{m['id']}/line").json()["knots"]
            }
            for m in machines
        }
    assert states["Plover"]["bobbin"] == "trouble"
    assert states["Heron"]["needle"] == "ready"


def test_the_workshop_can_be_backed_up_from_the_command_line(tmp_path):
    load_demo(tmp_path / "demo")
    target = tmp_path / "copy.db"
    run = CliRunner().invoke(command, ["backup", str(target), "--data-dir", str(tmp_path / "demo")])
    assert run.exit_code == 0, run.output
    with sqlite3.connect(target) as connection:
        assert connection.execute("SELECT count(*) FROM record").fetchone()[0] > 80
    again = CliRunner().invoke(command, ["backup", str(target), "--data-dir", str(tmp_path / "demo")])
    assert (again.exit_code, "exists already" in again.output) == (73, True)


def test_the_generated_types_are_fresh(tmp_path):
    document = json.dumps(create_app(Settings()).openapi(), indent=1, sort_keys=True) + "\n"
    assert (WEB / "openapi.json").read_text(encoding="utf-8") == document, "run make types"
    fresh = tmp_path / "schema.d.ts"
    command_line = ["npx", "openapi-typescript", "openapi.json", "--default-non-nullable", "false", "-o", str(fresh)]
    subprocess.run(command_line, cwd=WEB, check=True, capture_output=True)
    assert fresh.read_text(encoding="utf-8") == (WEB / "src/api/schema.d.ts").read_text(encoding="utf-8")


def test_a_page_of_another_port_of_this_machine_is_not_let_in(bench):
    """What another program serves on this machine is a stranger's page all the same."""
    for origin, status in (("http://127.0.0.1:9999", 403), ("http://127.0.0.1", 403), ("http://127.0.0.1:8741", 200)):
        headers = {"host": "127.0.0.1:8741", "origin": origin}
        assert bench.client.get("/api/machines", headers=headers).status_code == status, origin


def test_guesses_that_were_not_made_do_not_pile_up():
    now = [0.0]
    keeper = Doorkeeper("right-as-rain", clock=lambda: now[0])
    for _ in range(3):
        # A day in which nobody guesses gives nobody more guesses than an hour's.
        now[0] += 24 * 3600
        made = 0
        while keeper.may_guess("192.0.2.7") and made < 50:
            keeper.is_right("wrong", "192.0.2.7")
            made += 1
        assert made == 10
