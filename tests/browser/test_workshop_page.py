"""The workshop's page, two screens on one thread, and what is warned of."""

from __future__ import annotations

import json
import sqlite3
import threading
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from browser import server


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("workshop")


@pytest.fixture(scope="module")
def workshop(folder: Path):
    with server(folder) as address:
        yield address


def test_a_copy_is_made_looked_into_put_back_and_that_is_undone(page: Page, workshop: str):
    def readings() -> int:
        return len(page.request.get(f"{workshop}/api/log?kind=bobbin_look&limit=200").json()["entries"])

    before = readings()
    page.goto(f"{workshop}/1/workshop")
    page.get_by_role("button", name="Copy now").click()
    expect(page.locator("[data-answer]")).to_contain_text("Backed up today")
    page.request.post(f"{workshop}/api/machines/1/hand-looks", data={"test": "palm", "feel": "right"})
    assert readings() == before + 1
    page.get_by_role("button", name="Go back to it").click()
    expect(page.get_by_text("records, from")).to_be_visible()
    page.get_by_role("button", name="Put this one back").click()
    expect(page.get_by_role("status").filter(has_text="Put back")).to_be_visible()
    assert readings() == before
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Put it back: what was there")).to_have_count(2)
    assert readings() == before + 1


def test_two_screens_on_one_thread_see_each_other(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("button", name="Edit").first.click()
    title = page.locator("#label-title").inner_text()
    threads = page.request.get(f"{workshop}/api/threads?limit=200").json()["items"]
    thread = next(t for t in threads if title.endswith(t["spec"]["name"]))
    there = {**thread["spec"], "note": "Written on the tablet"}
    page.request.put(f"{workshop}/api/threads/{thread['id']}", data=there)

    page.get_by_label("Note").first.fill("Written here")
    page.get_by_role("button", name="Save correction").click()
    conflict = page.get_by_role("alert").filter(has_text="Nothing was overwritten")
    expect(conflict.get_by_role("row", name="note")).to_contain_text("Written on the tablet")
    expect(conflict.get_by_role("row", name="note")).to_contain_text("Written here")
    expect(conflict.get_by_role("row")).to_have_count(2)
    conflict.get_by_role("button", name="Save mine instead").click()
    expect(page.locator("#label-title")).to_have_count(0)
    threads = page.request.get(f"{workshop}/api/threads?limit=200").json()["items"]
    assert next(t for t in threads if t["id"] == thread["id"])["spec"]["note"] == "Written here"


def test_a_record_in_the_future_is_warned_of_on_every_screen(page: Page, workshop: str, folder: Path):
    with sqlite3.connect(folder / "workshop.db") as file:
        file.execute("UPDATE record SET at = '2099-01-01 10:00:00' WHERE id = (SELECT max(id) FROM record)")
    file.close()
    page.goto(f"{workshop}/1/needle")
    warned = page.get_by_role("complementary", name="Needs attention")
    expect(warned).to_contain_text("One record lies in the future")
    warned.get_by_role("link", name="To the Log").click()
    page.get_by_role("button", name="all machines").click()
    page.get_by_role("button", name="Delete").first.click()
    expect(warned).to_have_count(0)


def test_the_licenses_of_what_ships_are_there(page: Page, workshop: str):
    text = page.request.get(f"{workshop}/third-party.txt").text()
    for name in ("vue 3", "primevue 4", "atkinson-hyperlegible-next", "SIL OPEN FONT LICENSE", "MIT License"):
        assert name.lower() in text.lower(), name


HOSTILE = """<!doctype html><title>A page from elsewhere</title><iframe src="%(at)s/1/thread"></iframe><script>
const at = "%(at)s", tried = {};
async function attempt(name, make) {
  try { const answer = await make(); tried[name] = answer.type === "opaque" ? "opaque" : await answer.text(); }
  catch (error) { tried[name] = "refused"; }
}
const body = JSON.stringify({test: "palm", feel: "right"});
const json = {"content-type": "application/json"};
(async () => {
  await attempt("read", () => fetch(at + "/api/log"));
  await attempt("post", () => fetch(at + "/api/machines/1/hand-looks", {method: "POST", headers: json, body}));
  await attempt("simple post", () => fetch(at + "/api/machines/1/hand-looks", {method: "POST", mode: "no-cors", body}));
  await attempt("restore", () => fetch(at + "/api/workshop/copies", {method: "POST", mode: "no-cors"}));
  tried.socket = await new Promise((done) => {
    const socket = new WebSocket(at.replace("http", "ws") + "/api/gauge/live");
    socket.onmessage = () => done("open"); socket.onerror = () => done("refused");
  });
  document.title = JSON.stringify(tried);
})();
</script>"""


def test_a_page_from_elsewhere_reads_writes_and_hears_nothing(page: Page, workshop: str, tmp_path: Path):
    (tmp_path / "index.html").write_text(HOSTILE % {"at": workshop}, encoding="utf-8")
    before = page.request.get(f"{workshop}/api/log?limit=200").json()["entries"]
    copies = page.request.get(f"{workshop}/api/workshop").json()["copies"]
    handler = partial(SimpleHTTPRequestHandler, directory=str(tmp_path))
    with ThreadingHTTPServer(("127.0.0.1", 0), handler) as elsewhere:
        threading.Thread(target=elsewhere.serve_forever, daemon=True).start()
        page.goto(f"http://127.0.0.1:{elsewhere.server_port}/")
        page.wait_for_function("document.title.startsWith('{')")
        tried = json.loads(page.title())
        elsewhere.shutdown()
    assert set(tried.values()) == {"refused"}, tried
    assert page.request.get(f"{workshop}/api/log?limit=200").json()["entries"] == before
    assert page.request.get(f"{workshop}/api/workshop").json()["copies"] == copies
