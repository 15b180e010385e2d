"""A name of eighty letters without a blank breaks no page, and a page that is slow says so."""

from __future__ import annotations

import json
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect

from browser import server

LONG = "W" * 80
PAGES = (
    "/1/thread",
    "/1/needle",
    "/1/bobbin",
    "/1/balance",
    "/1/run",
    "/1/run?part=quilts",
    "/1/run?part=plan",
    "/1/mend",
    "/1/log",
    "/1/balance?part=recipes",
)


def post(address: str, path: str, body: object) -> dict:
    request = urllib.request.Request(
        f"{address}/api/{path}", json.dumps(body).encode(), {"content-type": "application/json"}
    )
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.load(answer)


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    """The demo, with a thread and a quilt of long names on the first machine."""
    with server(Path(tmp_path_factory.mktemp("long"))) as address:
        cotton = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}
        thread = post(address, "threads", {"name": LONG, "thread": cotton})["id"]
        post(address, "machines/1/top", {"top": [thread]})
        post(address, "machines/1/bobbin", {"bobbin": thread})
        post(address, "machines/1/quilt", {"quilt": LONG, "for_whom": LONG, "note": LONG})
        passes = [{"key": 1, "what": "fill", "name": LONG, "top": thread, "below": thread}]
        plan = post(address, "machines/1/plans", {"quilt": LONG, "passes": passes})["id"]
        post(address, f"plans/{plan}/steps", {"key": 1, "stage": "begun"})
        yield address


@pytest.mark.parametrize("path", PAGES)
def test_a_name_of_eighty_letters_breaks_no_page(page: Page, workshop: str, path: str):
    page.goto(workshop + path)
    page.wait_for_load_state("networkidle")
    for width in (1280, 390):
        page.set_viewport_size({"width": width, "height": 800})
        page.wait_for_timeout(50)
        wide = page.evaluate("document.documentElement.scrollWidth")
        assert wide <= width, (path, width, wide)


def test_a_page_that_is_slow_says_so_within_half_a_second(page: Page, workshop: str):
    held: list[Route] = []
    page.route("**/api/machines/1/needle", lambda route: held.append(route))
    page.goto(f"{workshop}/1/needle")
    expect(page.get_by_text("One moment, reading the records")).to_be_visible()
    for route in held:
        route.continue_()
    expect(page.get_by_text("One moment, reading the records")).to_be_hidden()


def test_a_name_in_another_script_turns_nothing_round_it(page: Page, workshop: str):
    """What stands after a Hebrew name that ends in a figure stays at its right; what nobody sees is not taken in."""
    silk = {"fiber": "silk", "construction": "spun", "value": 100, "system": "wt"}
    thread = post(workshop, "threads", {"name": "\u202e\u05e9\u05dc\u05d5\u05dd 40\u200b", "thread": silk})
    assert thread["spec"]["name"] == "\u05e9\u05dc\u05d5\u05dd 40"
    post(workshop, "machines/2/top", {"top": [thread["id"]]})
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"{workshop}/2/thread")
    name = page.locator("main strong", has_text="\u05e9\u05dc\u05d5\u05dd").first
    expect(name).to_be_visible()
    assert name.evaluate("each => getComputedStyle(each).unicodeBidi") == "plaintext"
