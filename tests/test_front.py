"""The door of the program: pages at once, everything else when the workshop is open; packed and guarded."""

from __future__ import annotations

import asyncio
import json
import re
import socket
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import license_page
import pytest
from fastapi.testclient import TestClient
from starlette.responses import PlainTextResponse

from weftonos.cli import door, load_demo
from weftonos.http.front import Front, page
from weftonos.http.mishaps import Mishaps
from weftonos.runtime import logs
from weftonos.runtime.licenses import as_text, libraries
from weftonos.runtime.pages import STATIC, page_for
from weftonos.runtime.running import listen
from weftonos.runtime.settings import Settings
from weftonos.store.database import FILE_NAME


@pytest.fixture
def static(tmp_path: Path) -> Path:
    folder = tmp_path / "static"
    (folder / "assets").mkdir(parents=True)
    (folder / "index.html").write_text("<!doctype html><title>Weftonos</title>" + "<p>thread</p>" * 200, "utf-8")
    (folder / "assets" / "a-1b2c.js").write_text("const thread = 1;" * 200, encoding="utf-8")
    (folder / "robots.txt").write_text("User-agent: *\n", encoding="utf-8")
    (tmp_path / "secret.txt").write_text("not a page", encoding="utf-8")
    return folder


def test_the_licenses_of_all_that_ships_are_listed():
    """docs/licenses.md is what ``scripts/license_page.py`` writes; each library's text is shown in the program."""
    if not (STATIC / "third-party.txt").exists():
        pytest.skip("the pages are not built")
    assert license_page.PAGE.read_text(encoding="utf-8") == license_page.page()
    needed = {
        line.split("==")[0]
        for line in (license_page.ROOT / "requirements.txt").read_text().splitlines()
        if "==" in line
    }
    listed = {library.name.lower().replace("_", "-") for library in libraries()}
    assert needed <= listed, needed - listed
    assert all(library.license for library in libraries())
    assert "swagger-ui-dist" in license_page.page()
    assert as_text().count("\n" + "=" * 78) == len(libraries())


def test_what_goes_wrong_is_answered_and_written_down_wherever_it_happens(tmp_path, static, capsys):
    async def broken(scope, receive, send):
        if scope["type"] == "lifespan":
            for said in ("startup", "shutdown"):
                await receive()
                await send({"type": f"lifespan.{said}.complete"})
            return
        raise RuntimeError("what somebody typed")

    place = logs.log_to(tmp_path)
    with TestClient(Mishaps(broken), raise_server_exceptions=False) as client:
        answer = client.get("/api/threads")
        assert (answer.status_code, "went wrong" in answer.json()["detail"]) == (500, True)
    written = place.read_text(encoding="utf-8")
    assert "RuntimeError" in written
    assert "what somebody typed" not in written
    assert "a request failed. See" in capsys.readouterr().err


def test_a_name_that_no_file_can_have_is_no_file(static):
    for path in ("/assets/\0", "/assets/a\0.js", "/assets/" + "a" * 5000):
        assert page(static, path).status_code == 404


def test_pages_and_progress_answer_while_the_workshop_is_still_being_opened(static):
    go = threading.Event()

    def build(progress):
        progress.tell("Filling the example workshop", 0.4)
        assert go.wait(10)
        return PlainTextResponse("behind the door")

    with TestClient(Front(build, static)) as client:
        assert "Weftonos" in client.get("/1/needle").text
        said = client.get("/api/ready")
        assert said.json() == {"ready": False, "doing": "Filling the example workshop", "share": 0.4}
        assert said.headers["cache-control"] == "no-store"
        go.set()
        assert client.get("/api/machines").text == "behind the door"
        assert client.get("/api/ready").json()["ready"] is True


def test_a_workshop_that_cannot_be_opened_says_so(static):
    def build(progress):
        raise OSError("the folder is on another planet")

    client = TestClient(Front(build, static))
    with pytest.raises(OSError, match="another planet"), client:
        assert client.get("/").status_code == 200
        answer = client.get("/api/machines")
        assert (answer.status_code, "another planet" in answer.text) == (503, True)


def test_hashed_files_are_kept_a_year_and_the_page_is_asked_for_again(static):
    assert "immutable" in page(static, "/assets/a-1b2c.js").headers["cache-control"]
    assert "max-age=31536000" in page(static, "assets/a-1b2c.js").headers["cache-control"]
    for named in ("/", "/2/bobbin", "/robots.txt"):
        assert page(static, named).headers["cache-control"] == "no-cache"
    for outside in ("/assets/../../secret.txt", "/assets/nothing.js"):
        assert page(static, outside).status_code == 404


def test_a_station_s_page_names_its_own_modules(static):
    head = "<!doctype html><head><title>Weftonos</title></head>"
    (static / "index.html").write_text(head, "utf-8")
    assert page_for(static, "/1/thread") == head, "pages that were built without a manifest are served as they are"
    built = {
        "index.html": {"file": "assets/index.js", "imports": ["_shared.js"]},
        "_shared.js": {"file": "assets/shared.js"},
        "_drawn.js": {"file": "assets/drawn.js", "imports": ["_shared.js"]},
        "src/stations/thread/ThreadView.vue": {"file": "assets/thread.js", "imports": ["index.html", "_drawn.js"]},
        "src/stations/StartView.vue": {"file": "assets/start.js"},
    }
    (static / "manifest.json").write_text(json.dumps(built), encoding="utf-8")
    linked = {path: re.findall('modulepreload" crossorigin href="([^"]+)"', page_for(static, path)) for path in PATHS}
    assert linked == {
        "/": ["/assets/start.js"],
        "/12/thread": ["/assets/thread.js", "/assets/drawn.js"],
        "/1/nothing": [],
        "/../thread": ["/assets/start.js"],
    }
    assert page(static, "/12/thread").headers["cache-control"] == "no-cache"


PATHS = ("/", "/12/thread", "/1/nothing", "/../thread")


def test_what_is_built_names_every_station_s_view():
    for station in ("thread", "needle", "bobbin", "balance", "run", "mend", "log", "workshop", "practice"):
        found = page_for(STATIC, f"/1/{station}")
        assert f"/assets/{station.capitalize()}View-" in found
        assert found.count('rel="stylesheet"') == 1


def test_what_leaves_is_packed_and_guarded(tmp_path):
    load_demo(tmp_path)
    with TestClient(door(Settings(data_dir=tmp_path)), base_url="http://127.0.0.1") as client:
        balance = client.get("/api/machines/1/balance", headers={"accept-encoding": "gzip"})
        assert balance.headers["content-encoding"] == "gzip"
        assert len(balance.content) < 24_000, "what it says fits on a screen"
        assert "default-src 'self'" in client.get("/").headers["content-security-policy"]
        assert client.get("/", headers={"host": "elsewhere.example"}).status_code == 400


def test_a_demo_that_was_broken_off_while_it_was_filled_is_begun_anew(tmp_path, monkeypatch):
    def broken_off(*_args, **_more):
        raise KeyboardInterrupt

    monkeypatch.setattr("weftonos.demo.season.write_troubles", broken_off)
    with pytest.raises(KeyboardInterrupt):
        load_demo(tmp_path)
    assert not (tmp_path / FILE_NAME).exists(), "whole or not at all"
    monkeypatch.undo()
    told: list[float] = []
    load_demo(tmp_path, tell=lambda doing, share: told.append(share))
    assert told == sorted(told), "progress goes one way"
    assert 0 <= told[0] < 0.1
    assert told[-1] < 1
    load_demo(tmp_path, tell=lambda doing, share: told.append(2))
    assert 2 not in told, "once it is filled it is left alone"


def test_each_part_of_an_answer_is_sent_at_once():
    """Else the second part of every answer waits for the first to be acknowledged, 40 ms on most systems."""

    async def at_once() -> int:
        told: asyncio.Future[int] = asyncio.get_running_loop().create_future()

        async def answer(_, writer: asyncio.StreamWriter) -> None:
            its = writer.get_extra_info("socket")
            told.set_result(its.getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY))
            writer.close()

        with listen("127.0.0.1", 0) as listening:
            async with await asyncio.start_server(answer, sock=listening):
                _, asking = await asyncio.open_connection(*listening.getsockname())
                found = await told
                asking.close()
        return found

    # A thread of its own: a browser's loop may run in this one.
    with ThreadPoolExecutor(1) as pool:
        assert pool.submit(asyncio.run, at_once()).result()
