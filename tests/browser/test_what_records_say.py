"""A break in one tap, what the records say of it, two kinds compared, and a plan that says what comes next."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from browser import server


def test_from_a_break_to_a_plan(page: Page, tmp_path: Path):
    with server(tmp_path) as address:
        page.goto(f"{address}/1/log?part=evidence")
        # The first time everything is read and worked out.
        expect(page.locator("[data-answer]")).to_contain_text("Titanium lasts")
        breaks = page.get_by_text(re.compile(r"\d+ h on \d+ quilts, \d+ breaks"))
        before = int(re.search(r"(\d+) breaks", breaks.inner_text())[1])

        # A break is noted at Run, and taken back.
        page.goto(f"{address}/1/run")
        snapped = page.get_by_role("button", name="Thread broke, kept going: top, snapped clean")
        snapped.click()
        said = page.get_by_role("status").filter(has_text="Clean snap of the top thread, and sewn on.")
        expect(said).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_text("Taken back.")).to_be_visible()
        page.get_by_role("button", name="Thread broke, kept going: bobbin thread").click()
        expect(page.get_by_text("Bobbin thread breaks, and sewn on.")).to_be_visible()
        page.goto(f"{address}/1/log?part=evidence")
        expect(breaks).to_contain_text(f"{before + 1} breaks")

        # What a statement rests on is one tap away: the breaks of a thread in the log.
        page.get_by_role("link", name=re.compile(r"\d+ breaks")).first.click()
        expect(page.locator(".text").first).to_be_visible()
        assert "kind=incident" in page.url
        page.go_back()

        # Two kinds, by choice; then what it would take, and the plan.
        page.get_by_role("button", name="Compare them").click()
        expect(page.get_by_role("status").filter(has_text="times as long as")).to_be_visible()
        page.get_by_role("button", name="What would it take").click()
        expect(page.get_by_text(re.compile(r"needles of each, .* in turn"))).to_be_visible()
        page.get_by_role("button", name="Use them in turn from now on").click()
        expect(page.get_by_text(re.compile(r"Next: "))).to_be_visible()
        for station in ("needle", "run"):
            page.goto(f"{address}/1/{station}")
            expect(page.get_by_label("Planned comparison")).to_contain_text("Next: ")
        printed = page.request.get(f"{address}/api/machines/1/evidence/summary.pdf")
        assert printed.body().startswith(b"%PDF")
