"""The small programs of docs/scripting.md, and ``weftonos export`` and ``import``, as people run them."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest
from typer.testing import CliRunner

from browser import server
from weftonos import cli
from weftonos.cli import load_demo
from weftonos.store.safekeeping import look_at

SCRIPTS = Path(__file__).parents[1] / "docs" / "scripts"


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    with server(tmp_path_factory.mktemp("demo")) as address:
        yield address


def run(address: str, script: str, *arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, str(SCRIPTS / script), *arguments]
    return subprocess.run(command, env={**os.environ, "WEFTONOS": address}, capture_output=True, text=True)


def test_a_reading_is_logged(demo):
    done = run(demo, "log_a_reading.py", "Heron", "A", "204", "210", "206")
    assert done.returncode == 0, done.stderr
    assert "207 mN from 3 pulls" in done.stdout
    refused = run(demo, "log_a_reading.py", "Heron", "A", "-4")
    assert refused.returncode == 1
    assert refused.stderr.strip().endswith(".")


def test_what_is_due_is_listed(demo):
    done = run(demo, "whats_due.py")
    assert done.returncode == 0, done.stderr
    assert {"Heron", "Wren"} <= set(re.findall(r"^\w+", done.stdout, re.MULTILINE))
    assert "upkeep: " in done.stdout


def test_every_table_comes_into_a_notebook(demo, tmp_path):
    done = run(demo, "to_a_notebook.py", str(tmp_path))
    assert done.returncode == 0, done.stderr
    assert re.search(r"^run: \d+ rows$", done.stdout, re.MULTILINE)
    assert (tmp_path / "run.pkl").exists()


def test_the_page_names_every_program():
    page = (SCRIPTS.parent / "scripting.md").read_text(encoding="utf-8")
    assert {path.name for path in SCRIPTS.glob("*.py")} == set(re.findall(r"scripts/(\w+\.py)\)", page))


def test_by_command_everything_goes_out_and_comes_in(tmp_path):
    load_demo(tmp_path / "demo")

    def command(*words: str, says: str, code: int = 0) -> None:
        done = CliRunner().invoke(cli.app, [*words])
        assert done.exit_code == code, done.output
        assert says in done.output, done.output

    target = tmp_path / "all.zip"
    command("export", str(target), "--data-dir", str(tmp_path / "demo"), says="Written to")
    assert zipfile.is_zipfile(target)
    command("export", str(target), "--data-dir", str(tmp_path / "demo"), says="exists already", code=73)
    command("import", str(target), "--data-dir", str(tmp_path / "own"), "--yes", says="A whole workshop")
    ours, theirs = (look_at(tmp_path / name / "workshop.db") for name in ("own", "demo"))
    assert (ours.records, ours.threads) == (theirs.records, theirs.threads)
    table = tmp_path / "runs.csv"
    table.write_text("Date,Minutes\n2026-05-03,5\n2026-05-04,x\n", encoding="utf-8")
    own = ["--data-dir", str(tmp_path / "own"), "--machine", "Wren", "--yes"]
    command("import", str(table), *own, "--machine", "Nobody", says="There is no machine “Nobody” here", code=66)
    command("import", str(table), *own, says="row 3: “x” is not a number.", code=73)
    command("import", str(table), *own, "--leave-out", says="Brought in: 1 records")
    assert look_at(tmp_path / "own" / "workshop.db").records == theirs.records + 1
    command("import", str(tmp_path / "none.csv"), *own, says="There is no file", code=66)
    table.write_bytes(b"\x00\x01")
    command("import", str(table), *own, says="n't a table", code=73)
