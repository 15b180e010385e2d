"""The Mend station in the browser: from the pictures to the cure, by pointer and by keyboard."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from test_slice import knot

from browser import server


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("mend"))) as address:
        yield address


def answer(page: Page, name: str) -> None:
    """Give an answer and wait until what comes next is asked."""
    before = page.locator("[data-answer]").inner_text()
    page.get_by_role("button", name=name, exact=True).click()
    expect(page.locator("[data-answer]")).not_to_have_text(before)


def test_it_went_wrong_is_one_tap_from_every_station(page: Page, workshop: str):
    for station in ("thread", "needle", "bobbin", "balance", "log"):
        page.goto(f"{workshop}/1/{station}")
        page.get_by_role("link", name="It went wrong").click()
        expect(page.get_by_text("What do you see?")).to_be_visible()
    page.goto(f"{workshop}/1/mend?part=upkeep")
    page.get_by_role("link", name="It went wrong").click()
    expect(page.get_by_text("What do you see?")).to_be_visible()


def test_a_nest_is_mended_from_picture_to_test_look(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("row", name="Ebb 40").wait_for()
    page.keyboard.press("w")
    expect(page.get_by_text("Ebb 40 → Saltmarsh 40")).to_be_visible()
    expect(page.get_by_label("Re-threading")).to_be_checked()
    find = page.get_by_role("button", name="Find the cause")
    expect(find).to_be_disabled()
    page.get_by_role("button", name="Loops or nest on the back").click()
    page.get_by_text("Something else changed").click()
    page.get_by_label("Speed").check()
    find.click()
    expect(page.locator("[data-answer]")).to_have_text("Seat the thread in the discs")
    expect(page.get_by_text("no knob cures that")).to_be_visible()
    expect(page.get_by_role("img", name="Part the discs")).to_contain_text("Tension discs")
    expect(knot(page, "Mend")).to_contain_text("look for it")

    page.get_by_text("What it may be").click()
    expect(page.get_by_role("row", name="Top thread outside the discs")).to_contain_text("0.5 min")
    answer(page, "Found it")
    page.get_by_role("link", name="The thread path, at tension discs").click()
    expect(page.get_by_text("Point 5 of 11")).to_be_visible()
    page.keyboard.press("6")
    # A test would take longer than it should save; whoever stitches one is asked what came of it.
    expect(page.get_by_text("Then sew on, and check the first few inches.")).to_be_visible()
    expect(page.get_by_role("button", name="Done, sew on")).to_be_visible()
    page.get_by_label("At what setting").fill("205")
    page.get_by_role("button", name="balanced").click()
    expect(page.get_by_text("Is the trouble gone?")).to_be_visible()
    page.get_by_role("button", name="Gone, it runs").click()
    expect(page.get_by_text("What do you see?")).to_be_visible()
    expect(knot(page, "Balance")).to_contain_text("205")
    page.goto(f"{workshop}/1/mend?part=past")
    expect(page.locator(".trouble").first).to_contain_text("Top thread outside the discs")
    page.goto(f"{workshop}/1/log")
    expect(page.get_by_text("Cured: top thread outside the discs").first).to_be_visible()


def test_frayed_and_clean_cannot_both_be_picked_and_questions_tell_apart(page: Page, workshop: str):
    page.goto(f"{workshop}/3/mend")
    frays = page.get_by_role("button", name="Frays above the eye")
    snap = page.get_by_role("button", name="Clean snap of the top thread")
    frays.click()
    snap.click()
    expect(frays).to_have_attribute("aria-pressed", "false")
    expect(page.get_by_text("so not: frays above the eye")).to_be_visible()
    frays.click()
    expect(snap).to_have_attribute("aria-pressed", "false")
    page.get_by_role("button", name="Find the cause").click()
    for _ in range(20):
        asked = page.get_by_role("button", name="No", exact=True)
        heading = page.locator("[data-answer]").inner_text()
        if "size up" in heading:
            break
        if "Is this still" in heading:
            page.get_by_role("button", name="Yes, go on").click()
            continue
        answer(page, "No" if asked.count() else "Not it")
    answer(page, "Found it")
    page.get_by_role("link", name="Size up: fit 100/16 topstitch").click()
    expect(page.get_by_role("combobox", name="Size")).to_contain_text("100/16")
    page.get_by_role("button", name="Note it as fitted").click()
    expect(knot(page, "Needle")).to_contain_text("100/16")
    page.get_by_role("link", name="It went wrong").click()
    page.get_by_role("button", name="Still there").click()
    expect(page.get_by_role("status").get_by_text("Not cured, still looking")).to_be_visible()
    # Something else may show now: that is asked first.
    expect(page.get_by_text("That cure changed nothing")).to_be_visible()
    page.get_by_role("button", name="Yes, go on").click()
    expect(page.get_by_role("button", name="Skip, later")).to_be_visible()


def test_back_skip_correct_and_the_technicians_sheet_by_keyboard(page: Page, workshop: str):
    page.goto(f"{workshop}/2/mend")
    first = page.locator("[data-answer]")
    expect(first).to_have_text("Clean under the spring and around the hook")
    page.get_by_role("button", name="Skip, later").focus()
    page.keyboard.press("Enter")
    expect(first).not_to_have_text("Clean under the spring and around the hook")
    page.get_by_role("button", name="Back").focus()
    page.keyboard.press("Enter")
    expect(first).to_have_text("Clean under the spring and around the hook")
    page.get_by_role("button", name="Correct what I see").click()
    expect(page.get_by_role("button", name="Gauge flutters")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="Uneven, comes and goes").click()
    page.get_by_role("button", name="Go on with this").click()
    expect(first).to_have_text("Try another case")
    # Everything that the two symptoms can be is raised before anybody is sent for.
    for _ in range(20):
        if "this is for the technician" in first.inner_text():
            break
        answer(page, "Can't tell")
    expect(first).to_contain_text("this is for the technician")
    sheet = page.get_by_role("link", name="Print the sheet").get_attribute("href")
    answered = page.request.get(f"{workshop}{sheet}")
    assert answered.headers["content-type"] == "application/pdf"
    page.get_by_text("It was something else").click()
    page.get_by_role("button", name="To the technician").click()
    expect(knot(page, "Mend")).to_contain_text("with the technician")
    page.get_by_role("button", name="Undo").click()
    expect(knot(page, "Mend")).not_to_contain_text("with the technician")


def test_before_a_quilt_and_upkeep(page: Page, workshop: str):
    page.goto(f"{workshop}/3/mend?part=preflight")
    expect(
        page.get_by_text("The needle is past its life").or_(page.get_by_text("Changed: needle")).first
    ).to_be_visible()
    paying = page.get_by_role("checkbox").count()
    page.get_by_role("button", name="Show the rest").click()
    expect(page.get_by_role("checkbox").nth(paying)).to_be_visible()
    page.get_by_role("checkbox").first.check()
    expect(page.locator("[data-answer]")).to_contain_text("1 of")
    page.get_by_role("button", name="Save the checks").click()
    expect(page.get_by_text("checks made before the quilt")).to_be_visible()
    page.goto(f"{workshop}/3/mend?part=upkeep")
    expect(page.locator("[data-answer]")).to_contain_text("Clean it")
    page.get_by_role("button", name="Hook area cleaned: note it").click()
    expect(page.locator("[data-answer]")).not_to_contain_text("Clean it")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("[data-answer]")).to_contain_text("Clean it")


def test_none_of_the_pictures_is_an_answer_and_three_checks_in_vain_ask_again(page: Page, tmp_path: Path):
    with server(tmp_path) as address:
        page.goto(f"{address}/1/mend")
        page.get_by_role("button", name="Frays above the eye").click()
        page.get_by_role("button", name="None of these").click()
        # One or the other.
        expect(page.get_by_role("button", name="Frays above the eye")).to_have_attribute("aria-pressed", "false")
        page.get_by_role("button", name="Find the cause").click()
        expect(page.get_by_text("None of these pictures", exact=True)).to_be_visible()
        asked = page.get_by_text("Is this still what you see?")
        for _ in range(12):
            if asked.count():
                break
            not_it = page.get_by_role("button", name="Not it", exact=True)
            answer(page, "Not it" if not_it.count() else "Can't tell")
        expect(asked).to_be_visible()
        # What is gone by itself is neither cured nor looked for any longer.
        page.get_by_role("button", name="It sews well now").click()
        expect(page.locator(".notice")).to_contain_text("It sews well again, no cause found.")
        expect(page.get_by_text("What do you see?")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(asked).to_be_visible()
        page.get_by_role("button", name="It looks different").click()
        page.get_by_role("button", name="Loops or nest on the back").click()
        page.get_by_role("button", name="Go on with this").click()
        expect(page.get_by_text("Loops or nest on the back").first).to_be_visible()
