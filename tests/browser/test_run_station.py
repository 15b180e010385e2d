"""The Run station in the browser: how far the bobbin goes, a fresh one, time by hand, what to see to first."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from test_slice import knot

from browser import server


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("run"))) as address:
        yield address


def test_the_bobbin_is_watched_and_changed(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("row", name="Ebb 40").wait_for()
    page.keyboard.press("5")
    expect(page.get_by_text("of stitching left")).to_be_visible()
    page.get_by_label("The next line, m").fill("60")
    expect(page.get_by_text("Change it before the next line.")).to_be_visible()
    page.get_by_label("The next line, m").fill("2,4")
    expect(page.get_by_text("It lasts for the next line.")).to_be_visible()
    page.get_by_role("button", name="It ran out: new bobbin, same thread").click()
    expect(page.get_by_text("100% of a full bobbin")).to_be_visible()
    # The bobbins before it all read alike: this one may wait for its reading.
    expect(knot(page, "Bobbin")).to_contain_text("about 2")
    expect(knot(page, "Balance")).not_to_contain_text("stitch a test")
    page.get_by_role("button", name="Undo").click()
    expect(knot(page, "Bobbin")).to_contain_text("mN")


def test_time_by_hand_brings_the_bobbin_down(page: Page, workshop: str):
    page.goto(f"{workshop}/1/run")
    page.get_by_role("button", name="Turnstone").click()
    page.get_by_text("Or note the time by hand").click()
    page.get_by_label("Minutes stitched").fill("much")
    page.get_by_role("button", name="Note the minutes").click()
    expect(page.get_by_role("alert")).to_contain_text("isn't a number")
    page.get_by_label("Minutes stitched").fill("60")
    page.get_by_label("Stitched, m, if known").fill("30")
    page.get_by_role("button", name="Note the minutes").click()
    expect(page.get_by_role("status")).to_contain_text("1 h stitched on Turnstone, 30 m")
    expect(knot(page, "Run")).to_contain_text("bobbin")


def test_what_is_in_trouble_is_said_before_the_clock_starts(page: Page, workshop: str):
    page.goto(f"{workshop}/2/run")
    expect(page.get_by_text("It flutters: find the fault before the screw")).to_be_visible()
    page.get_by_role("link", name="mend").last.click()
    expect(page.get_by_text("Clean under the spring")).to_be_visible()


def test_a_break_is_one_tap_and_leads_to_its_cause(page: Page, tmp_path: Path):
    with server(tmp_path) as address:
        page.goto(f"{address}/1/run")
        page.get_by_role("button", name="Thread broke, kept going: top, frayed").click()
        expect(page.get_by_text("5 breaks in 48 hours with Saltmarsh 40")).to_be_visible()
        expect(page.get_by_role("heading", name="Thread broke, kept going")).to_be_in_viewport()
        page.reload()
        # It still leads on after a reload, and the same break is looked into: it is counted once.
        page.get_by_role("button", name="Find the cause").click()
        expect(page.get_by_text("Frays above the eye").first).to_be_visible()
        page.goto(f"{address}/1/run")
        expect(page.get_by_text("One tap a break")).to_be_visible()
        breaks = page.request.get(f"{address}/api/machines/1/breaks").json()
        assert breaks["often"].startswith("5 breaks")
