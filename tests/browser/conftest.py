"""A real server on a real file, and a real browser."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from browser import chromium, server

expect.set_options(timeout=8_000)
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


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    errors: list[str] = []
    page = context.new_page()
    page.on("pageerror", lambda error: errors.append(str(error)))
    yield page
    assert not errors
    context.close()


def axe_violations(page: Page, *only: str) -> list[str]:
    """What axe finds wrong on the page as it is, one line each; by all its rules, or only by these."""
    page.evaluate(AXE.read_text(encoding="utf-8"))
    options = {"resultTypes": ["violations"], **({"runOnly": list(only)} if only else {})}
    found = page.evaluate("(options) => axe.run(document, options)", options)
    return [f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found["violations"]]
