"""A test cloth at the screen: judged, saved row by row, and found again by the number on it, in few taps."""

from __future__ import annotations

import re
from contextlib import suppress
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from browser import server

#: What each of eleven lines looks like, from loose to tight, as the board names it.
SEEN = (["top much too loose"] * 2 + ["top a little loose"] * 2 + ["balanced"] * 2 + ["top a little tight"] * 2) + [
    "top much too tight"
] * 3


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("cloths"))) as address:
        yield address


class Hand:
    """Taps, and counts them; a field that is typed into is one."""

    def __init__(self, page: Page) -> None:
        self.page, self.taps = page, 0

    def tap(self, name: str) -> None:
        self.page.get_by_role("button", name=name, exact=True).first.click()
        self.taps += 1

    def judge(self, cell: Locator) -> None:
        """Tap a cell of the board; where the page moved under the finger, tap it again, as anybody would."""
        for _ in range(3):
            cell.click()
            self.taps += 1
            with suppress(AssertionError):
                expect(cell).to_have_attribute("aria-pressed", "true", timeout=3_000)
                return
        raise AssertionError("three taps on one cell, and it isn't judged")

    def type(self, label: str, text: str) -> None:
        self.page.get_by_label(label).fill(text)
        self.taps += 1


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (390, 844)])
def test_two_rows_of_eleven_lines_and_two_recipes_take_fifty_taps_at_most(page: Page, workshop: str, width, height):
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"{workshop}/1/balance")
    hand = Hand(page)
    page.get_by_role("button", name=re.compile(r"(New cloth:|Start cloth) \d+")).click()
    hand.taps += 1
    cloth = page.get_by_role("link", name=re.compile(r"^cloth \d+"))
    expect(cloth).to_be_visible()
    hand.tap("whole scale")
    board = page.locator(".board")
    for motion in ("free-motion", "decorative"):
        if motion != "free-motion":
            hand.tap(motion)
            expect(page.get_by_text(f"A whole test strip on one cloth, {motion}")).to_be_visible()
        expect(board.locator("thead th")).to_have_count(12)
        for column, look in enumerate(SEEN):
            hand.judge(board.locator("tbody tr", has_text=look).locator(".cell").nth(column))
        expect(board.locator("[aria-pressed='true']")).to_have_count(11)
    hand.tap("Save 22 lines")
    expect(page.get_by_role("status")).to_contain_text("Saved: 22 test lines.")
    cloth.click()
    hand.taps += 1
    expect(page.get_by_role("heading", name=re.compile(r"^Cloth \d+"))).to_be_visible()
    hand.type("Name for the recipes", f"Petrel {width}")
    hand.tap("Save 2 recipes, one a row")
    expect(page.get_by_role("status")).to_contain_text("In the recipe book: 2 recipes.")
    print(f"at {width}: {hand.taps} taps")
    assert hand.taps <= 50
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_cloth_is_found_by_its_number_and_judged_by_keyboard(page: Page, workshop: str):
    page.goto(f"{workshop}/1/balance?part=cloths")
    number = page.locator(".cloths .number").first.inner_text()
    page.get_by_label("Find a cloth").fill(number)
    expect(page.get_by_role("heading", name=f"Cloth {number}", exact=True)).to_be_visible()
    page.get_by_role("button", name="straight", exact=True).click()
    # One stop for the Tab key; arrows walk the board.
    expect(page.locator(".board .cell[tabindex='0']")).to_have_count(1)
    page.locator(".board .cell[tabindex='0']").focus()
    for key in ("ArrowRight", "ArrowRight", "ArrowUp", "Enter"):
        page.keyboard.press(key)
    expect(page.locator(".facts")).to_contain_text("straight")
    expect(page.locator(".facts")).to_contain_text("no line looked balanced. All were too loose.")
    # Judged otherwise, it is asked about; nothing is lost.
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Is it balanced instead?")).to_be_visible()
    page.get_by_role("button", name="Yes, change it").click()
    expect(page.locator(".facts dd").last).not_to_contain_text("no line looked balanced")
    page.get_by_role("button", name="All cloths").click()
    # What was closed stays closed, also when the list is asked for anew.
    expect(page.get_by_label("Find a cloth")).to_have_value("")
    assert page.request.post(f"{workshop}/api/machines/1/runs", data={"minutes": 5}).ok
    page.wait_for_timeout(1000)
    # By decorative, thread and batting: the motion, the words, the cloth.
    page.get_by_role("button", name="decorative", exact=True).click()
    page.get_by_label("Find a cloth").fill("wool")
    expect(page.locator(".cloths button").first).to_contain_text("decorative:")


def test_a_cloth_from_the_box_is_noted_as_it_is_written(page: Page, workshop: str):
    page.goto(f"{workshop}/1/balance?part=cloths")
    page.get_by_role("button", name="A cloth from the box").click()
    page.get_by_label("The number on it").fill("4711")
    page.get_by_label("When it was stitched").fill("2026-03-01T12:00")
    page.get_by_role("combobox", name="Thread on top").fill("Driftwood")
    page.get_by_role("option", name="Driftwood 40").first.click()
    page.get_by_label("Batting").fill("bamboo")
    page.get_by_role("button", name="Note this cloth").click()
    expect(page.get_by_role("heading", name="Cloth 4711", exact=True)).to_be_visible()
    expect(page.get_by_text("Mar, from the box")).to_be_visible()
    page.locator(".board tbody tr", has_text="balanced").locator(".cell").nth(4).click()
    expect(page.locator(".facts")).to_contain_text("1 line")
