"""Practice by touch and by the keyboard alone: a round of each, told to a screen reader, apart from the log."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, expect

from browser import server
from conftest import axe_violations
from weftonos.knowledge import troubles


def test_rounds_are_played_by_touch_and_by_keyboard(page: Page, tmp_path: Path):
    with server(tmp_path) as address:
        page.goto(f"{address}/1/mend")
        page.get_by_role("link", name="Practice finding a fault").click()
        expect(page.get_by_text("Nothing here goes into the log of a real one")).to_be_visible()
        # What one came for stands first, and who practices alone needs no name.
        expect(page.locator(".begin strong").first).to_have_text("Find the fault")
        page.locator(".begin", has_text="Read the cloth").click()
        expect(page.get_by_role("img", name="22 stitches.")).to_be_visible()
        page.reload()
        page.get_by_role("textbox", name="Your name").fill("Ada")

        page.locator(".begin", has_text="Read the cloth").click()
        picture = page.get_by_role("img", name="22 stitches.")
        expect(picture).to_be_visible()
        assert axe_violations(page) == []
        for _ in range(8):
            step = page.locator(".panel .soft").first.inner_text()
            balanced = page.get_by_role("button", name="balanced")
            # Until the answer is shown the pictures take no other.
            expect(balanced).to_be_enabled()
            balanced.focus()
            page.keyboard.press("Enter")
            expect(page.locator(".panel .soft").first).not_to_have_text(step)
        expect(page.locator("[data-answer]")).to_contain_text("of 100")
        expect(page.get_by_text("of 8 read right")).to_be_visible()
        page.get_by_role("button", name="Back to practice").click()
        expect(page.get_by_role("heading", name="Ada's eye, from 8 practice lines")).to_be_visible()
        expect(page.get_by_text("52 to go")).to_be_visible()

        # Hands near the needle with the power on end the round.
        page.get_by_role("button", name="Find the fault").click()
        near = {cause.name for cause in troubles().causes if cause.hands}
        page.get_by_role("button", name="Switch it off").wait_for()
        offered = page.locator(".choices button").all()
        next(b for b in offered if any(b.inner_text().startswith(name) for name in near)).click()
        expect(page.get_by_text("Hands near the needle with the power on")).to_be_visible()
        page.get_by_role("button", name="Back to practice").click()

        # A pull in an even rhythm, by the keyboard; the page is read again and the round goes on.
        page.get_by_role("button", name="Pull evenly").click()
        tap = page.locator(".tap")
        tap.focus()
        for _ in range(12):
            page.keyboard.press("Enter")
            page.wait_for_timeout(120)
        expect(page.get_by_text("2 of 5")).to_be_visible()
        page.reload()
        page.get_by_role("button", name="Go on with the open round: Pull evenly").click()
        expect(page.get_by_text("2 of 5")).to_be_visible()
        page.get_by_role("button", name="Leave this round for later").click()

        page.get_by_role("button", name="Find the setting").click()
        page.get_by_role("textbox", name="Stitch at").fill("99")
        page.get_by_role("button", name="Stitch", exact=True).click()
        expect(page.get_by_role("alert")).to_be_visible()
        page.get_by_role("textbox", name="Stitch at").fill("3")
        page.get_by_role("button", name="Stitch", exact=True).click()
        expect(page.get_by_role("img", name="22 stitches.")).to_be_visible()
        page.get_by_role("button", name="Leave it at").click()
        expect(page.get_by_text("The program on the same machine")).to_be_visible()

        page.goto(f"{address}/1/log")
        expect(page.get_by_text("Practice")).to_have_count(0)
        printed = page.request.get(f"{address}/api/practice/sheet.pdf?seed=3")
        assert printed.body().startswith(b"%PDF")
