"""The demo is ours and the same each time; the command and its settings do what the README says."""

import re
from datetime import UTC, datetime
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from screenshots import ONE_COLOR, share_of_one_color
from sqlalchemy.orm import Session
from typer.testing import CliRunner

from weftonos import cli
from weftonos.api.app import create_app
from weftonos.demo import season
from weftonos.demo.drawer import THREADS
from weftonos.runtime.settings import Settings
from weftonos.store.opening import open_workshop
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

ROOT = Path(__file__).parent.parent
NOW = datetime(2026, 11, 24, 15, 30, tzinfo=UTC)


def told(folder: Path, seed: int = 1) -> list[tuple[datetime, str, str]]:
    engine = open_workshop(folder)
    with Session(engine) as session, session.begin():
        workshop = Workshop(session)
        season.fill(workshop, NOW, seed)
        rows = [(row.at, row.kind, repr(row.payload)) for row in workshop.log(LogSearch(limit=1000)).items]
    engine.dispose()
    return rows


def test_equal_seeds_and_days_make_equal_seasons(tmp_path):
    first, second, other = (told(tmp_path / name, seed) for name, seed in (("a", 1), ("b", 1), ("c", 2)))
    assert first == second
    assert first != other
    assert all(at <= NOW for at, _, _ in first)
    assert {kind for _, kind, _ in first} >= {
        "top_threaded",
        "bobbin_loaded",
        "needle_fitted",
        "needle_retired",
        "bobbin_reading",
        "screw_turned",
        "sandwich",
        "look",
        "recipe",
        "run",
    }


def test_the_demo_s_threads_cover_what_common_practice_names():
    fibers = {t.thread.fiber for t in THREADS}
    assert len(fibers) == 8
    assert len({t.name for t in THREADS}) == len(THREADS)
    assert any(t.thread.density.tex > 100 for t in THREADS)  # heavy decorative thread, for bobbin work


def test_no_word_that_does_not_belong_is_in_the_project():
    wrong = re.compile(
        r"tran"
        r"script|video-[0-9]|https?://(?!127\.0\.0\.1|www\.w3\.org|json-schema\.org|schemas\.openxmlformats\.org|[{$])",
        re.I,
    )
    for folder in ("src", "web/src", "docs", "scripts"):
        for path in (ROOT / folder).rglob("*"):
            if path.suffix in {".py", ".vue", ".ts", ".md", ".css"} and "static" not in path.parts:
                found = wrong.search(path.read_text(encoding="utf-8"))
                assert not found, (path, found)


def test_a_data_folder_is_moved_by_option_or_environment(tmp_path, monkeypatch):
    monkeypatch.setenv("WEFTONOS_DATA_DIR", str(tmp_path / "env"))
    assert Settings().data_dir == tmp_path / "env"
    assert cli._settings(None, None, None).data_dir == tmp_path / "env"
    assert cli._settings(None, 9000, tmp_path / "option").data_dir == tmp_path / "option"
    assert cli._settings(None, 9000, None).port == 9000
    monkeypatch.delenv("WEFTONOS_DATA_DIR")
    assert "weftonos" in str(Settings().data_dir)


def test_every_picture_of_the_readme_is_there_and_shows_something():
    root = Path(__file__).parents[1]
    pictures = re.findall(r"\((docs/screenshots/[\w-]+\.png)\)", (root / "README.md").read_text(encoding="utf-8"))
    assert len(pictures) > 10
    for picture in pictures:
        assert share_of_one_color(root / picture) < ONE_COLOR, picture
    assert len(list((root / "docs/screenshots").glob("*.png"))) < 20


@pytest.mark.parametrize(("host", "alone"), [("127.0.0.1", True), ("localhost", True), ("0.0.0.0", False)])
def test_only_the_loopback_needs_no_passcode(monkeypatch, tmp_path, host, alone):
    started = []
    monkeypatch.setattr(cli, "_serve", lambda settings, listening, prepare: started.append(settings))
    run = CliRunner().invoke(cli.app, ["serve", "--host", host, "--port", "0", "--data-dir", str(tmp_path)])
    assert run.exit_code == 0, run.output
    assert started[0].host == host
    assert ("passcode" in run.output) is not alone
    assert (tmp_path / "access.json").exists() is not alone


def test_the_demo_keeps_to_a_folder_of_its_own(monkeypatch, tmp_path):
    monkeypatch.setenv("WEFTONOS_DATA_DIR", str(tmp_path))

    def serve(settings, _listening, prepare):
        # The demo is filled behind the door, while the pages are served already.
        with TestClient(cli.door(settings, prepare), base_url="http://127.0.0.1") as client:
            assert len(client.get("/api/machines").json()) == 3
            assert client.get("/api/ready").json()["ready"] is True

    monkeypatch.setattr(cli, "_serve", serve)
    assert CliRunner().invoke(cli.app, ["demo", "--port", "0"]).exit_code == 0
    assert (tmp_path / "demo" / "workshop.db").exists()
    assert not (tmp_path / "workshop.db").exists()
    assert CliRunner().invoke(cli.app, ["demo", "--fresh", "--port", "0"]).exit_code == 0


def test_pages_are_served_by_the_same_process_and_no_address_of_the_api_is_a_page(tmp_path):
    static = tmp_path / "static"
    (static / "assets").mkdir(parents=True)
    (static / "index.html").write_text("<!doctype html><title>Weftonos</title>", encoding="utf-8")
    (static / "assets" / "a.js").write_text("1", encoding="utf-8")
    app = create_app(Settings(data_dir=tmp_path), static=static)
    with TestClient(app, base_url="http://127.0.0.1") as client:
        for path in ("/", "/1/needle", "/2/bobbin"):
            page = client.get(path)
            assert "Weftonos" in page.text
            assert "default-src 'self'" in page.headers["content-security-policy"]
        assert client.get("/assets/a.js").text == "1"
        assert client.get("/assets/../../workshop.db").status_code in (200, 404)
        assert "SQLite" not in client.get("/assets/%2e%2e/%2e%2e/workshop.db").text
        assert client.get("/api/nothing").status_code == 404
        assert client.delete("/api/machines").status_code in (404, 405)
    unbuilt = create_app(Settings(data_dir=tmp_path), static=tmp_path / "none")
    with TestClient(unbuilt, base_url="http://127.0.0.1") as client:
        assert "make install" in client.get("/").text
