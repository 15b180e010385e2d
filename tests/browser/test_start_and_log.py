"""The first machine, the way about, and corrections in the log."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from test_slice import choose, knot

from browser import server


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("log"))) as address:
        yield address


def test_an_empty_workshop_asks_for_the_machine_first(page: Page, tmp_path: Path):
    with server(tmp_path, command="serve") as address:
        page.goto(f"{address}/4/nowhere")
        # Each is drawn as what it is, and what is answered is drawn on it.
        heads = "a domestic machine", "a sit-down longarm in its table", "a longarm on a frame"
        for head in heads:
            expect(page.get_by_role("img", name=head)).to_be_visible()
        portrait = page.locator(".portrait")
        expect(portrait).to_have_count(0)
        for choice in ("a longarm on a frame", "a knob without numbers", "in a case to take out"):
            page.get_by_role("button", name=choice).click()
        expect(portrait).to_have_accessible_name("a longarm on a frame")
        expect(portrait.locator(".knob")).to_have_count(2)
        page.get_by_role("button", name="Back").click()
        page.get_by_role("button", name="in a case to take out").click()
        # What was answered stays when the page is loaded anew.
        page.reload()
        page.get_by_role("button", name="no, by hand").click()
        page.get_by_role("button", name="134 (DPx5), round").click()
        page.get_by_role("button", name="inches and yards").click()
        page.get_by_role("button", name="That's my machine").click()
        expect(page.get_by_role("alert").first).to_contain_text("is empty")
        page.get_by_label("Its name").fill("Sanderling")
        page.get_by_role("button", name="That's my machine").click()
        expect(knot(page, "Bobbin")).to_contain_text("load a bobbin")
        expect(page.get_by_text("Next, in this order")).to_be_visible()
        knot(page, "Balance").click()
        expect(page.locator("[data-answer]").first).to_have_text("Choose a top thread first")
        page.get_by_role("link", name="Go to Thread").click()
        page.get_by_role("link", name="Workshop").click()
        page.get_by_role("button", name="Change Sanderling").click()
        page.get_by_label("Throat, inches").fill("wide")
        page.get_by_label("Turns in, at most").fill("-9")
        page.get_by_role("button", name="Save changes").click()
        expect(page.get_by_role("alert").first).to_contain_text("isn't a number")
        page.get_by_label("Throat, inches").fill("18,5")
        page.get_by_role("button", name="Save changes").click()
        expect(page.get_by_role("alert").first).to_contain_text("its low end must be below its high end")
        page.get_by_label("Turns in, at most").fill("4")
        page.get_by_role("button", name="Save changes").click()
        expect(page.get_by_text("18.5 in longarm").first).to_be_visible()
        page.get_by_role("link", name="Workshop").click()
        page.get_by_role("button", name="Change Sanderling").click()
        page.get_by_role("button", name="it drops in").click()
        page.get_by_role("button", name="Save changes").click()
        expect(page.get_by_text("bobbin drops in")).to_be_visible()
        page.get_by_role("button", name="Another machine").click()
        page.get_by_label("What you call it").fill("Dunlin")
        page.get_by_role("button", name="Save machine").click()
        page.wait_for_url("**/2/thread")
        page.get_by_role("link", name="Workshop").click()
        page.get_by_role("button", name="Retire: Dunlin").click()
        expect(page.get_by_text("retired, domestic machine")).to_be_visible()
        page.locator("body").press("5")
        page.get_by_role("button", name="Start the clock").click()
        expect(page.get_by_role("alert")).to_contain_text("Dunlin is retired")


def test_digits_go_to_the_stations_and_the_machine_is_remembered(page: Page, workshop: str):
    page.goto(f"{workshop}/2/thread")
    expect(knot(page, "Thread")).to_be_visible()
    for digit, station in (("2", "needle"), ("4", "balance"), ("7", "log"), ("1", "thread")):
        page.locator("body").press(digit)
        page.wait_for_url(f"**/2/{station}*")
    page.goto(workshop)
    page.wait_for_url("**/2/thread")
    page.goto(f"{workshop}/2/needle?part=drawer")
    page.get_by_role("button", name="In the machine").click()
    page.wait_for_url("**part=in")


def test_the_evening_is_kept(page: Page, workshop: str):
    page.goto(f"{workshop}/1/log")
    page.get_by_role("button", name="Dark", exact=True).click()
    page.reload()
    expect(page.get_by_role("button", name="Day")).to_be_visible()
    assert page.evaluate("document.documentElement.classList.contains('evening')")
    page.get_by_role("button", name="Day").click()


def test_records_of_every_sort_are_corrected_in_the_log(page: Page, workshop: str):
    page.goto(f"{workshop}/1/log")

    def correct(text: str):
        entry = page.get_by_role("listitem").filter(has_text=text).first
        entry.get_by_role("button", name="Correct").click()
        return page.get_by_role("dialog")

    dialog = correct("100/16 ballpoint fitted")
    choose(page, "Size", "110/18")
    dialog.get_by_role("button", name="Correct it").click()
    expect(page.get_by_text("110/18 ballpoint fitted").first).to_be_visible()
    expect(knot(page, "Needle")).to_contain_text("110/18")

    dialog = correct("1 h 22 min stitched on Avocet")
    dialog.get_by_label("Minutes").fill("none")
    dialog.get_by_role("button", name="Correct it").click()
    expect(dialog.get_by_role("alert")).to_contain_text("“none” isn't a number")
    dialog.get_by_label("Minutes").fill("90")
    dialog.get_by_role("button", name="Correct it").click()
    expect(page.get_by_text("1 h 30 min stitched on Avocet")).to_be_visible()

    dialog = correct("mN from 3 pulls")
    dialog.get_by_label("Pulls in mN").fill("199-209 201 200-208")
    dialog.get_by_role("button", name="Correct it").click()
    expect(page.get_by_text("203 mN from 3 pulls").first).to_be_visible()

    # An old load was not full after all: the record says so, and what is left goes by it.
    page.keyboard.press("Escape")
    before = page.request.get(f"{workshop}/api/machines/1/run").json()["bobbin"]["stitched_m_left"]
    dialog = correct("In the bobbin:")
    dialog.get_by_label("How full").fill("70")
    dialog.get_by_role("button", name="Correct it").click()
    expect(page.get_by_text(re.compile("In the bobbin: .*70% full")).first).to_be_visible()
    after = page.request.get(f"{workshop}/api/machines/1/run").json()["bobbin"]["stitched_m_left"]
    assert after < before

    dialog = correct("220, free-motion: top a little tight")
    dialog.get_by_label("When").fill("2031-01-01T10:00")
    dialog.get_by_role("button", name="Correct it").click()
    expect(dialog.get_by_role("alert").first).to_contain_text("in the future")
    dialog.get_by_role("button", name="Leave it as it was").click()
    expect(page.get_by_text("220, free-motion: top a little tight")).to_be_visible()


def test_the_log_shows_more_and_only_what_is_kept(page: Page, workshop: str):
    page.goto(f"{workshop}/1/log")
    page.get_by_role("button", name="all machines").click()
    expect(page.get_by_text("· Plover").first).to_be_visible()
    expect(page.locator(".text")).to_have_count(40)
    page.get_by_role("button", name="Earlier").click()
    expect(page.locator(".text")).to_have_count(80)
    page.get_by_role("button", name="recipes only").click()
    expect(page.locator("li:not(.recipe) > .what > .text")).to_have_count(0)
    page.get_by_role("button", name="recipes only").click()
    page.locator("body").press("/")
    page.keyboard.type("redshank run")
    expect(page.locator(".text").first).to_contain_text("stitched on Redshank")
    page.get_by_label("Search the log").fill("nothing like this")
    expect(page.get_by_text("Nothing in the log matches.")).to_be_visible()
    page.get_by_role("button", name="Show everything").click()
    expect(page.locator(".text").first).to_be_visible()


def test_two_screens_see_each_other_s_records(page: Page, workshop: str, browser):
    context = browser.new_context(locale="en-GB", viewport={"width": 390, "height": 844})
    other = context.new_page()
    other.goto(f"{workshop}/3/run")
    page.goto(f"{workshop}/3/run")
    page.get_by_label("Quilt", exact=True).fill("Two Screens")
    page.get_by_role("button", name="Start the clock").click()
    # Within two seconds on an idle machine; a busy one takes its time.
    expect(other.get_by_text("Stitching on Two Screens")).to_be_visible()
    other.get_by_role("button", name="Stop the clock").click()
    expect(page.get_by_role("button", name="Start the clock")).to_be_visible()
    context.close()
