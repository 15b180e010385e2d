"""Every main view: accessible, by day and in the evening, at the machine and on a portrait tablet."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect
from screenshots import VIEWS

from conftest import AT_THE_MACHINE, axe_violations, cleaned

SIZES = {"phone": (390, 844), "tablet": (800, 1280), "machine": (1280, 800)}
#: What the browser itself counts as moved under the hand, added up.
SHIFTS = """window.shifted = 0; new PerformanceObserver((list) => list.getEntries().forEach((entry) => {
  if (!entry.hadRecentInput) window.shifted += entry.value; })).observe({ type: "layout-shift", buffered: true });"""


@pytest.fixture(scope="module")
def counting(browser: Browser) -> Iterator[Page]:
    """A page that counts its shifts."""
    context = browser.new_context(locale="en-GB", viewport=AT_THE_MACHINE)
    page = context.new_page()
    page.add_init_script(SHIFTS)
    yield page
    context.close()


@pytest.fixture
def opened(counting: Page, demo: str, view: str) -> Iterator[Page]:
    """A view as if it were opened for the first time."""
    with cleaned(counting) as page:
        page.context.new_cdp_session(page).send("Network.clearBrowserCache")
        page.goto(demo + VIEWS[view])
        yield page


@pytest.mark.parametrize("view", VIEWS)
def test_a_view_is_whole_and_accessible(opened: Page):
    page = opened
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(200)
    assert page.evaluate("window.shifted") <= 0.05
    for size, (width, height) in SIZES.items():
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(50)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, size
        small = page.evaluate(
            """() => [...document.querySelectorAll("button, a, .p-select, input:not([type=checkbox])")]
              .filter((e) => e.offsetParent && Math.min(e.offsetWidth, e.offsetHeight) < 44)
              .map((e) => `${e.textContent} ${e.offsetWidth}×${e.offsetHeight}`)"""
        )
        assert not small, (size, small)
    assert axe_violations(page) == []
    # In the dark nothing changes but the colors.
    page.get_by_role("button", name="Dark", exact=True).click()
    page.wait_for_timeout(300)
    assert axe_violations(page, "color-contrast") == []


def test_the_keys_help_and_the_search(page: Page, demo: str):
    page.goto(f"{demo}/1/thread")
    page.get_by_role("row", name="Ebb 40").wait_for()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Search this station")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).not_to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("rayon 40")
    expect(page.get_by_role("row")).to_have_count(2)
    page.keyboard.press("Control+a")
    page.keyboard.type("nothing like it")
    expect(page.get_by_text("Nothing in the drawer matches")).to_be_visible()


def test_striking_a_thread_out_can_be_undone(page: Page, demo: str):
    page.goto(f"{demo}/1/thread")
    page.get_by_role("button", name="Edit: Tideline 12").click()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("row", name="Tideline 12")).not_to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("row", name="Tideline 12")).to_be_visible()
