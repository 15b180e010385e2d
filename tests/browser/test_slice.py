"""The seven steps: one combination from thread to a kept, balanced stitch, by pointer and by keyboard alone."""

from __future__ import annotations

import json
import re
from pathlib import Path

from playwright.sync_api import Locator, Page, expect

from browser import free_port, server
from weftonos.runtime.pages import MANIFEST, STATIC


def knot(page: Page, station: str):
    return page.get_by_role("navigation", name="Stations").get_by_role("link", name=re.compile(f"^{station}"))


def choose(page: Page, label: str, option: str, within: Locator | None = None) -> None:
    (within or page).get_by_role("combobox", name=label, exact=True).click()
    page.get_by_role("option", name=option, exact=True).click()


def test_seven_steps_with_a_pointer(page: Page, tmp_path: Path):
    port = free_port()
    with server(tmp_path, port=port) as address:
        page.goto(address)
        # 1. A machine is chosen and the line shows what is on it.
        page.get_by_role("combobox", name="Machine").select_option(label="Wren")
        expect(page.get_by_text("domestic machine")).to_be_visible()
        expect(knot(page, "Needle")).to_contain_text("90/14")

        # 2. A thread from a label in another system; the label as typed is kept.
        page.get_by_role("button", name="Add from a label").click()
        label = page.get_by_label("What the label says")
        label.fill("Tern 4000 wt cotton")
        expect(page.get_by_text("Is it 40 wt?")).to_be_visible()
        page.get_by_role("button", name="Put it in the drawer").click()
        expect(label).to_have_value("Tern 4000 wt cotton")
        label.fill("Tern 120d x 2 cotton")
        expect(page.get_by_text("120 denier × 2, spun cotton")).to_be_visible()
        page.get_by_label("Name", exact=True).fill("Tern 27")
        page.get_by_role("button", name="Put it in the drawer").click()
        row = page.get_by_role("row", name="Tern 27")
        expect(row).to_contain_text("120 denier × 2")
        page.get_by_role("button", name="On top: Tern 27").click()
        page.get_by_role("button", name="In bobbin: Limpet 80").click()
        expect(page.get_by_label("On the machine")).to_contain_text("Tern 27")
        expect(knot(page, "Thread")).to_contain_text("120 denier × 2 cotton")

        # 3. The needle answers at once; the fitted one is noted.
        knot(page, "Needle").click()
        answer = page.locator("[data-answer]")
        expect(answer).to_contain_text("100/16")
        expect(page.get_by_role("img", name="cut across, to scale").last).to_be_visible()
        page.get_by_role("button", name="60/8: fills").click()
        page.get_by_role("list", name="Point").get_by_role("button", name="quilting").click()
        expect(page.get_by_text("stands proud of the groove").first).to_be_visible()
        page.get_by_role("button", name="100/16: fills").click()
        page.get_by_role("list", name="Point").get_by_role("button", name="topstitch").click()
        page.get_by_role("button", name="Fit this one").click()
        page.get_by_role("button", name="Note it as fitted").click()
        expect(page.get_by_role("status")).to_contain_text("100/16 topstitch fitted")

        # 4. Two pulls on the pad answer with mean, gf and swing.
        knot(page, "Bobbin").click()
        for reading in ("228", "232"):
            for digit in reading:
                page.get_by_role("button", name=digit, exact=True).click()
            page.get_by_role("button", name="Add this pull").click()
        expect(answer).to_contain_text("230 mN")
        expect(answer).to_contain_text("23.5 g")
        page.get_by_role("button", name="Save reading").click()
        expect(knot(page, "Bobbin")).to_contain_text("230 mN")

        # 5. A look: the setting, and the grade picked from a picture.
        knot(page, "Balance").click()
        page.get_by_label("Top tension setting").fill("3")
        page.get_by_role("button", name="balanced. Front: clean").click()
        expect(knot(page, "Balance")).to_contain_text("3.0")
        expect(knot(page, "Log")).to_contain_text("save it")

        # 6. The combination is kept; a record is corrected, struck out and restored.
        page.get_by_label("Name, like the quilt").fill("Common Tern")
        page.get_by_role("button", name="Save as recipe").click()
        knot(page, "Log").click()
        recipe = page.get_by_role("listitem").filter(has_text="Common Tern: Tern 27 over Limpet 80, 100/16 topstitch")
        expect(recipe).to_contain_text("bobbin 230 mN, top 3.0, balanced")
        look = page.get_by_role("listitem").filter(has_text="3.0, free-motion: balanced").first
        look.get_by_role("button", name="Correct").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Top tension setting").fill("99")
        dialog.get_by_role("button", name="Correct it").click()
        expect(dialog).to_contain_text("from 0 to 10")
        dialog.get_by_label("Top tension setting").fill("3.5")
        dialog.get_by_role("button", name="Correct it").click()
        look = page.get_by_role("listitem").filter(has_text="3.5, free-motion: balanced").first
        look.locator("summary").click()
        expect(look).to_contain_text("it said “3.0, free-motion: balanced”")
        look.get_by_role("button", name="Delete").click()
        look.get_by_role("button", name="Restore").click()
        expect(look.get_by_role("button", name="Correct")).to_be_visible()

    # 7. Stop and start: everything is there.
    with server(tmp_path, port=port) as address:
        page.goto(f"{address}/3/log")
        expect(page.get_by_text("Common Tern: Tern 27")).to_be_visible()
        expect(knot(page, "Balance")).to_contain_text("3.5")
        assert page.get_by_role("navigation", name="Stations").get_by_role("link").count() == 7


FETCHED = "() => performance.getEntriesByType('resource').map((each) => new URL(each.name).pathname)"


def test_what_is_noted_while_the_server_is_away_goes_out_once_it_is_back(page: Page, tmp_path: Path):
    port = free_port()
    with server(tmp_path, port=port) as address:
        page.goto(f"{address}/1/balance")
        expect(page.get_by_role("button", name="balanced. Front: clean")).to_be_visible()
        # Ahead of time every station's code comes: links work while the server is away.
        built = {f"/{each['file']}" for each in json.loads((STATIC / MANIFEST).read_text("utf-8")).values()}
        while built - set(page.evaluate(FETCHED)):
            page.wait_for_timeout(200)
    page.get_by_role("button", name="balanced. Front: clean").click()
    expect(page.get_by_label("Waits for the server")).to_contain_text("1 not sent yet")
    page.get_by_role("link", name="Workshop").click()
    knot(page, "Run").click()
    expect(page.get_by_role("button", name="At the machine")).to_be_visible()
    with server(tmp_path, port=port) as address:
        expect(page.get_by_label("Waits for the server")).to_have_count(0)
        page.goto(f"{address}/1/log")
        expect(page.locator(".text").first).to_contain_text("free-motion: balanced")


class Keys:
    """A person at the keyboard, without a pointer."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.press = page.keyboard.press
        self.write = page.keyboard.type

    def tab_to(self, name: str) -> None:
        """Press Tab until the control of this accessible name has the focus."""
        for _ in range(150):
            if self.page.evaluate(FOCUSED_NAME).startswith(name):
                return
            # A row of choices is one stop, with arrows inside.
            if self.page.evaluate(AMONG_ARROWS, name):
                self.press("ArrowRight")
            else:
                self.press("Tab")
        raise AssertionError(f"{name} cannot be reached with Tab")

    def fill(self, name: str, text: str) -> None:
        self.tab_to(name)
        self.press("Control+a")
        self.write(text)

    def use(self, name: str) -> None:
        self.tab_to(name)
        self.press("Enter")

    def choose(self, name: str, downs: int) -> None:
        self.tab_to(name)
        self.press("Space")
        self.page.get_by_role("listbox").wait_for()
        self.press("Home")
        for _ in range(downs):
            self.press("ArrowDown")
        self.press("Enter")
        expect(self.page.get_by_role("listbox")).to_have_count(0)


AMONG_ARROWS = """(name) => [...(document.activeElement.closest("[data-arrows]")?.querySelectorAll("button") ?? [])]
  .some((each) => each.textContent.trim().startsWith(name))"""
FOCUSED_NAME = """() => {
  const at = document.activeElement;
  const by = at.getAttribute("aria-labelledby");
  const label = at.labels?.[0]?.querySelector("span") ?? at.labels?.[0];
  return ((by && document.getElementById(by)?.textContent) ?? at.getAttribute("aria-label")
    ?? label?.textContent ?? at.textContent ?? "").trim();
}"""


def test_seven_steps_with_the_keyboard_alone(page: Page, tmp_path: Path):
    port = free_port()
    with server(tmp_path, command="serve", port=port) as address:
        page.goto(address)
        keys = Keys(page)
        # 1. A machine of one's own, on an empty workshop.
        page.get_by_role("heading", name="What do you quilt on?").wait_for()
        for choice in ("a domestic machine", "a dial with numbers", "in a case to take out", "a gauge in mN"):
            keys.use(choice)
        keys.use("I don't know")
        keys.use("millimeters and meters")
        keys.fill("Its name", "Dunlin")
        keys.press("Enter")
        expect(page.get_by_text("The drawer is empty")).to_be_visible()
        # 2. Two threads from labels.
        for name, wt in (("Dunlin 40", "40"), ("Dunlin 80", "80")):
            keys.use("Add from a label")
            keys.fill("What the label says", f"{wt}wt polyester")
            expect(page.get_by_text(f"{wt} wt, multifilament polyester")).to_be_visible()
            keys.fill("Name", name)
            keys.press("Enter")
            expect(page.get_by_role("row", name=name)).to_be_visible()
        keys.use("On top: Dunlin 40")
        expect(knot(page, "Thread")).to_contain_text("40 wt polyester")
        keys.use("In bobbin: Dunlin 80")
        expect(page.get_by_label("On the machine")).to_contain_text("Dunlin 80")
        # 3. The needle: a digit goes to the station.
        keys.press("2")
        expect(page.locator("[data-answer]")).to_contain_text("90/14")
        keys.use("Fit this one")
        keys.use("Note it as fitted")
        expect(knot(page, "Needle")).to_contain_text("90/14")
        # 4. The field has the focus: type a pull, Enter, the next.
        keys.press("3")
        page.locator("input.reading:focus").wait_for()
        for reading in ("228", "231", "abc"):
            expect(page.locator("input.reading:focus")).to_have_value("")
            keys.write(reading)
            keys.press("Enter")
            page.wait_for_timeout(250)
        expect(page.get_by_role("alert")).to_contain_text("“abc” isn't a number")
        expect(page.locator("input.reading")).to_have_value("abc")
        keys.press("Control+a")
        keys.press("Delete")
        keys.use("Save reading")
        expect(knot(page, "Bobbin")).to_contain_text("230 mN")
        # 5. and 6. The look and the keeping of it.
        keys.use("Balance")
        keys.fill("Top tension setting", "2,5")
        keys.use("balanced. Front")
        expect(knot(page, "Balance")).to_contain_text("2.5")
        keys.fill("Name, like the quilt", "Dunlin at Dusk")
        keys.use("Save as recipe")
        expect(knot(page, "Log")).to_contain_text("saved")
        keys.tab_to("Dark")
        keys.press("7")
        # In the log itself: the notice of the keeping may still say it too.
        kept = page.get_by_role("main").get_by_text("Dunlin at Dusk: Dunlin 40 over Dunlin 80")
        expect(kept).to_be_visible()
        keys.use("Delete 2.5, free-motion")
        keys.use("Restore")
        expect(page.get_by_role("button", name="Correct 2.5, free-motion")).to_be_visible()
    # 7. Stop and start.
    with server(tmp_path, command="serve", port=port) as address:
        page.goto(f"{address}/1/log")
        expect(page.get_by_text("Dunlin at Dusk: Dunlin 40 over Dunlin 80")).to_be_visible()
