"""In and out on the screen: a table is looked at row by row and kept, taken back, and everything is taken along."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

from openpyxl import Workbook
from playwright.sync_api import Page, expect

from browser import server

TABLE = "Thread;Weight;Fiber\nSpindrift;40;cotton\nFoam;120d x 2;trilobal\nBad;;silk\n<b>Bold</b>;12;cotton\n"


def test_a_table_is_kept_and_taken_back_and_everything_goes_with_me(page: Page, tmp_path: Path):
    table = tmp_path / "mine.csv"
    table.write_text(TABLE, encoding="utf-8")
    with server(tmp_path / "demo") as address:
        page.goto(f"{address}/1/workshop")
        page.get_by_role("button", name="In and out").click()
        page.get_by_role("button", name="Look at these rows").click()
        expect(page.get_by_role("alert")).to_contain_text("Paste the rows here first")
        page.get_by_label("A file").set_input_files(table)
        answer = page.locator("[data-answer]")
        expect(answer).to_contain_text("3 can be saved")
        expect(page.get_by_role("row", name=re.compile("^4 "))).to_contain_text("No weight given.")
        page.get_by_role("button", name="all 4").click()
        expect(page.get_by_role("row", name=re.compile("^5 "))).to_contain_text("<b>Bold</b>: 12 wt cotton")
        page.get_by_role("button", name="Save 3 rows, leave 1 out").click()
        expect(page.get_by_role("status").filter(has_text="Brought in: 3 threads")).to_be_visible()
        page.get_by_role("button", name="Take it back: mine.csv").click()
        expect(page.get_by_text("taken back", exact=True)).to_be_visible()
        # The same rows, pasted; what was chosen is remembered.
        page.get_by_label("Or rows copied").fill(TABLE)
        page.get_by_role("button", name="Look at these rows").click()
        expect(answer).to_contain_text("3 can be saved")
        page.get_by_role("button", name="Leave it").click()
        # Everything as a file, and back again: nothing new in it.
        page.get_by_role("button", name="Write the file").click()
        expect(answer).to_contain_text("Your file is ready")
        with page.expect_download() as waited:
            page.get_by_role("link", name="Save the file").click()
        whole = Path(waited.value.path()).read_bytes()
        assert "workshop.jsonl" in zipfile.ZipFile(io.BytesIO(whole)).namelist()
        (tmp_path / "all.zip").write_bytes(whole)
        page.get_by_label("A file").set_input_files(tmp_path / "all.zip")
        expect(page.get_by_text("A whole workshop: all.zip")).to_be_visible()
        page.get_by_role("button", name="Bring it in").click()
        expect(page.get_by_role("status").filter(has_text="Brought in: nothing new")).to_be_visible()
        # A list as it is filtered.
        page.goto(f"{address}/1/log?quilt=Avocet")
        link = page.get_by_role("link", name="As a table")
        expect(link).to_have_attribute("href", re.compile(r"/api/log\.csv\?quilt=Avocet"))
        with page.expect_download() as waited:
            link.click()
        assert "quilt_on" in Path(waited.value.path()).read_text(encoding="utf-8-sig")
        # What programs can ask, with nothing from elsewhere.
        page.goto(f"{address}/reference")
        # Half a megabyte of script lays out every call of the document: slow beside two other browsers.
        expect(page.locator(".opblock").first).to_be_visible()


def test_a_workbook_as_a_person_has_it_is_understood_and_mended(page: Page, tmp_path: Path):
    book = Workbook()
    threads = book.active
    threads.title = "Threads"
    for row in (
        ["My threads, winter 2026"],
        [],
        ["Brand/Name", "Label", "fibre?", "Shelf"],
        ["Driftwood", "polyester 120/2", "", "A"],
        ["Kelp", "40", "polyester", "C"],
        ["Nobody", "", "silk", "B"],
        ["TOTAL", "", "", 3],
    ):
        threads.append(row)
    hidden = book.create_sheet("Old")
    hidden.append(["Name", "Weight"])
    hidden.append(["Petrel", "60 wt polyester"])
    hidden.sheet_state = "hidden"
    book.save(tmp_path / "mine.xlsx")
    with server(tmp_path / "demo") as address:
        page.goto(f"{address}/1/workshop")
        page.get_by_role("button", name="In and out").click()
        page.get_by_label("A file").set_input_files(tmp_path / "mine.xlsx")
        answer = page.locator("[data-answer]")
        expect(answer).to_contain_text("1 can be saved")
        expect(page.get_by_text("Column not used: Shelf")).to_be_visible()
        expect(page.get_by_text("Not read: “My threads, winter 2026”")).to_be_visible()
        # A label that can be read in two ways is one tap.
        page.get_by_role("button", name="Nm 120 each strand, 2 of them").click()
        expect(answer).to_contain_text("2 can be saved")
        with page.expect_download() as waited:
            page.get_by_role("link", name="Save the rows with a problem").click()
        assert "Row 6: No weight given." in Path(waited.value.path()).read_text(encoding="utf-8-sig")
        # Another sheet, and another row as its headings.
        page.get_by_role("button", name="Old (hidden)").click()
        expect(page.get_by_text("mine.xlsx, 1 row")).to_be_visible()
        page.get_by_role("combobox", name="Column headings").click()
        page.get_by_role("option", name="it has none").click()
        expect(page.get_by_text("mine.xlsx, 2 rows")).to_be_visible()
