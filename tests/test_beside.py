"""A second process beside the server: what was acknowledged is there, and the live file is SQLite's alone."""

from __future__ import annotations

import sqlite3
import sys
from contextlib import closing
from pathlib import Path

from torture.beside import HOME, beside, command, killed_server

from browser import calling
from weftonos.store.database import FILE_NAME
from weftonos.store.opening import open_workshop
from weftonos.store.safekeeping import beside as kept_beside
from weftonos.store.safekeeping import form_of

#: What is opened with ``open``, by its path: SQLite's own handles are none of Python's.
opened: list[str] = []
sys.addaudithook(lambda event, args: opened.append(str(args[0])) if event == "open" else None)


def test_nothing_is_lost_after_a_copy_and_a_command_beside_the_server(tmp_path):
    folder = tmp_path / "workshop"
    log = kept_beside(folder / FILE_NAME)[0]
    with killed_server(folder) as address, calling(address) as client:
        client.post("/machines", json=HOME).raise_for_status()
        client.post("/machines/1/runs", json={"minutes": 1}).raise_for_status()
        client.post("/workshop/copies").raise_for_status()
        in_use = log.stat().st_ino
        for words in (("check",), ("export", str(tmp_path / "all.zip")), ("backup",)):
            command(*words, "--data-dir", str(folder))
            for _ in range(5):
                client.post("/machines/1/runs", json={"minutes": 1}).raise_for_status()
            assert log.exists(), f"{words[0]} took the log of changes away"
            assert log.stat().st_ino == in_use
    with closing(sqlite3.connect(folder / FILE_NAME)) as file:
        assert file.execute("SELECT count(*) FROM record").fetchone() == (16,)


def test_writers_and_commands_at_random_lose_nothing():
    found = beside(2)
    assert (found["lost"], found["unlinked"], found["wrong"]) == (0, 0, [])
    assert found["acknowledged"] >= 30


def test_the_live_file_is_never_opened_but_through_sqlite(bench):
    """Closing any other handle would drop the locks that the server holds on it."""
    machine, _, _ = bench.combination()
    opened.clear()
    copy = bench.post("workshop/copies")["name"]
    bench.get("workshop")
    bench.get(f"workshop/copies/{copy}")
    bench.post(f"machines/{machine}/runs", {"minutes": 1})
    bench.post("exchange/exports", {}, 202)
    bench.post(f"workshop/copies/{copy}/restore")
    bench.get("log")
    live = bench.data_dir / FILE_NAME
    mine = {str(path) for path in (live, *kept_beside(live))}
    assert opened, "the audit hears what is opened"
    assert not mine & set(opened)


def test_an_import_beside_the_server_is_on_its_page_at_once(tmp_path):
    folder, table = tmp_path / "workshop", tmp_path / "runs.csv"
    table.write_text("Date,Minutes\n2026-10-01,25\n2026-10-02,soon\n", encoding="utf-8")
    with killed_server(folder) as address, calling(address) as client:
        client.post("/machines", json=HOME).raise_for_status()
        with client.stream("GET", "/changes") as listening:
            heard = listening.iter_lines()
            assert next(heard).startswith("retry")
            command("import", str(table), "--kind", "runs", "--leave-out", "--yes", "--data-dir", str(folder))
            assert next(line for line in heard if line.startswith("data"))
        assert client.get("/log").json()["entries"][0]["payload"]["minutes"] == 25


def test_the_form_is_read_without_a_handle_of_our_own(tmp_path: Path):
    open_workshop(tmp_path).dispose()
    opened.clear()
    form_of(tmp_path / FILE_NAME)
    assert not [path for path in opened if path.endswith(FILE_NAME)]
