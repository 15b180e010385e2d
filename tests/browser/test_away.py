"""The server away: every tab's notes are kept, land when they were done, and can be mended; tabs share a connection."""

from __future__ import annotations

import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Route, expect

from browser import calling, free_port, server
from conftest import AT_THE_MACHINE


@pytest.fixture
def tabs(browser: Browser) -> Iterator[BrowserContext]:
    """One browser, in which several tabs can be opened."""
    context = browser.new_context(locale="en-GB", viewport=AT_THE_MACHINE)
    yield context
    context.close()


def newest(page: Page, address: str, many: int) -> list[Any]:
    entries = page.request.get(f"{address}/api/log?machine=1&limit={many}").json()["entries"]
    return [(entry["kind"], datetime.fromisoformat(entry["at"]), entry) for entry in entries]


def waiting(page: Page) -> Any:
    return page.get_by_label("Waits for the server")


def test_what_two_tabs_note_while_the_server_is_away_lands_once_and_when_it_was_done(tabs, tmp_path: Path):
    port = free_port()
    first, second = tabs.new_page(), tabs.new_page()
    with server(tmp_path, port=port) as address:
        for page in (first, second):
            page.goto(f"{address}/1/run")
            expect(page.get_by_role("button", name="Start the clock")).to_be_visible()
    first.get_by_role("button", name="Thread broke, kept going: top, frayed").click()
    expect(waiting(first)).to_contain_text("Thread broke, kept going: frays above the eye, Heron")
    second.get_by_role("button", name="Start the clock").click()
    for page in (first, second):
        expect(waiting(page)).to_contain_text("2 not sent yet")
    noted = datetime.now(UTC)
    time.sleep(3)
    with server(tmp_path, port=port) as address:
        for page in (first, second):
            expect(waiting(page)).to_have_count(0)
        found = newest(first, address, 4)
        assert sorted(kind for kind, _, _ in found[:3]) == ["clock_started", "incident", "incident_outcome"]
        assert found[3][0] != "incident_outcome", "the break is noted once"
        for _, at, _ in found[:3]:
            assert noted - timedelta(seconds=20) < at < noted + timedelta(seconds=1)


def test_what_is_refused_says_what_it_was_and_is_mended_where_it_stands(page: Page, tmp_path: Path):
    port = free_port()
    with server(tmp_path, port=port) as address:
        page.goto(f"{address}/1/run")
        page.get_by_text("Or note the time by hand").click()
    page.get_by_label("Quilt", exact=True).fill("Avocet")
    page.get_by_label("Minutes stitched").fill("99999")
    page.get_by_role("button", name="Note the minutes").click()
    expect(waiting(page)).to_contain_text("99999 min on Avocet, Heron")
    with server(tmp_path, port=port) as address:
        expect(waiting(page).locator(".why")).to_be_visible()
        # Another machine is not held up.
        page.goto(f"{address}/3/run")
        page.get_by_role("button", name="Thread broke, kept going: top, snapped clean").click()
        expect(page.locator(".notice")).to_contain_text("sewn on")
        page.get_by_role("button", name="Change it").click()
        page.get_by_label("minutes", exact=True).fill("90")
        page.get_by_role("button", name="Send it").click()
        expect(waiting(page)).to_have_count(0)
        ((kind, _, entry),) = newest(page, address, 1)
        assert (kind, entry["payload"]["minutes"], entry["payload"]["quilt"]) == ("run", 90, "Avocet")


def test_a_seventh_tab_appears_and_every_tab_hears_of_a_write(tabs, tmp_path: Path):
    """A browser keeps six connections to one server; each page used to take one for good."""
    with server(tmp_path) as address:
        pages = [tabs.new_page() for _ in range(7)]
        for page in pages:
            page.goto(f"{address}/1/log")
            expect(page.locator(".text").first).to_be_visible()
        assert pages[0].request.post(f"{address}/api/machines/1/quilt", data={"quilt": "Seven tabs"}).ok
        for page in pages:
            expect(page.locator(".text").first).to_contain_text("Seven tabs")
        # The tab that listens for all is closed: another takes over.
        for page in pages[:4]:
            page.close()
        time.sleep(7)
        assert pages[4].request.post(f"{address}/api/machines/1/quilt", data={"quilt": "Three tabs"}).ok
        for page in pages[4:]:
            expect(page.locator(".text").first).to_contain_text("Three tabs")


def test_a_page_asks_once_and_anew_only_where_somebody_wrote_meanwhile(tabs, tmp_path: Path):
    with server(tmp_path) as address, calling(address) as client:

        def quietly(route: Route) -> None:
            # Everything is asked for long before this screen listens, on a busy machine as well.
            time.sleep(6)
            route.continue_()

        def with_a_write(route: Route) -> None:
            time.sleep(6)
            client.post("/machines/1/runs", json={"minutes": 7}).raise_for_status()
            route.continue_()

        for opens, times in ((quietly, 1), (with_a_write, 2)):
            asked: list[str] = []
            page = tabs.new_page()
            page.route("**/api/changes", opens)
            page.on("request", lambda request, asked=asked: asked.append(request.url.removeprefix(address)))
            with page.expect_response("**/api/changes"):
                page.goto(f"{address}/1/run")
            page.wait_for_timeout(1000)

            def stations(asked=asked) -> list[str]:
                return [path for path in asked if path.startswith("/api/machines/1/")]

            # A busy machine asks a little later.
            for _ in range(100):
                if len(stations()) >= times * len(set(stations())):
                    break
                page.wait_for_timeout(100)
            assert len(stations()) == times * len(set(stations())), stations()
            page.close()


def test_deleting_what_is_in_the_machine_is_asked_and_can_be_undone(page: Page, tmp_path: Path):
    with server(tmp_path) as address:
        case = page.request.get(f"{address}/api/machines/2/line").json()["setup"]["case"]["label"]
        page.goto(f"{address}/2/bobbin?part=rack")
        page.get_by_role("button", name=f"Delete case {case}").click()
        expect(page.locator(".notice")).to_contain_text("It is in Plover now.")
        page.locator(".notice").get_by_role("button", name="Delete anyway").click()
        expect(page.get_by_role("button", name=f"Delete case {case}")).to_have_count(0)
        page.goto(f"{address}/2/bobbin")
        expect(page.locator("[data-answer]").first).to_be_visible()
