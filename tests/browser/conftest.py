"""A real server on a real file, and a real browser."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from urllib.parse import urljoin

import pytest
from playwright.sync_api import Browser, Error, Page, ViewportSize, expect

from browser import chromium, server

#: Milliseconds until what is looked for is given up; long, since a shared machine gives a test a part of itself.
PATIENCE = 40_000
expect.set_options(timeout=PATIENCE)
AT_THE_MACHINE: ViewportSize = {"width": 1280, "height": 800}
AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as running:
        yield running


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The demo's address; tests that write use a machine or a server of their own."""
    with server(tmp_path_factory.mktemp("demo")) as address:
        yield address


@contextmanager
def cleaned(page: Page) -> Iterator[Page]:
    """Lend a page on which nothing is open and nothing is kept, and leave it so; an error on it fails its test.

    A page is lent again and again: a new one costs the machine more than most tests do.
    """
    errors: list[str] = []

    def note(error: Error) -> None:
        errors.append(str(error))

    page.on("pageerror", note)
    try:
        yield page
    finally:
        page.remove_listener("pageerror", note)
        page.unroute_all()
        page.set_viewport_size(AT_THE_MACHINE)
        # What is typed is kept when a page is left: it is left first, and forgotten then, where its server still is.
        try:
            page.goto(urljoin(page.url, "/robots.txt"))
            page.evaluate(
                "() => (localStorage.clear(), sessionStorage.clear(), indexedDB.deleteDatabase('weftonos'), 0)"
            )
        except Error:
            # The browser's own page, which says that there is no server, comes a moment later.
            with suppress(Error):
                page.wait_for_url("chrome-error://**", timeout=5_000)
        page.context.clear_cookies()
    assert not errors


@pytest.fixture(scope="session")
def one_page(browser: Browser) -> Iterator[Page]:
    context = browser.new_context(locale="en-GB", viewport=AT_THE_MACHINE)
    yield context.new_page()
    context.close()


@pytest.fixture
def page(one_page: Page) -> Iterator[Page]:
    with cleaned(one_page) as page:
        yield page


@contextmanager
def held_back(page: Page, url: str) -> Iterator[None]:
    """Leave what a page asks for at ``url`` without an answer for a while, then let it go; it has to ask."""
    page.route(url, lambda _route: None)
    with page.expect_request(url):
        yield
    page.unroute(url)


def axe_violations(page: Page, *only: str) -> list[str]:
    """What axe finds wrong on the page as it is, one line each; by all its rules, or only by these."""
    page.evaluate(AXE.read_text(encoding="utf-8"))
    options = {"resultTypes": ["violations"], **({"runOnly": list(only)} if only else {})}
    found = page.evaluate("(options) => axe.run(document, options)", options)
    return [f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found["violations"]]
