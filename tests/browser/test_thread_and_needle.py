"""The Thread and Needle stations in the browser: bundles, measuring, the path, hours, the drawer of needles."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from test_slice import choose, knot

from browser import server
from conftest import held_back


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("stations"))) as address:
        yield address


def test_three_threads_are_seen_side_by_side_and_put_on_together(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    for name in ("Shingle 30", "Driftwood 40", "Samphire 50"):
        page.get_by_label(f"Choose {name}").check()
    tray = page.get_by_label("Chosen threads")
    expect(tray.get_by_role("img", name="Side by side, to scale")).to_be_visible()
    expect(tray).to_contain_text("78.3 tex")
    expect(tray).to_contain_text("2 guide holes")
    page.get_by_role("button", name="Put these 3 on top").click()
    expect(knot(page, "Thread")).to_contain_text("3 threads together")
    page.get_by_role("button", name="Thread path").click()
    expect(page.locator(".walk")).to_contain_text("own holder")
    page.get_by_role("button", name="Undo").click()
    expect(knot(page, "Thread")).to_contain_text("40 wt trilobal")


def test_heavy_thread_becomes_bobbin_work(page: Page, workshop: str):
    page.goto(f"{workshop}/2/thread")
    page.get_by_label("Choose Kelp 8").check()
    expect(page.get_by_label("Chosen threads")).to_contain_text("Why")
    page.get_by_role("button", name="In the bobbin, showing").click()
    expect(knot(page, "Thread")).to_contain_text("bobbin work")
    expect(page.get_by_label("On the machine")).to_contain_text("quilt face down")
    page.get_by_role("button", name="Undo").click()
    expect(knot(page, "Thread")).not_to_contain_text("bobbin work")


def test_a_thread_without_a_label_is_measured(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("button", name="Add from a label").click()
    page.get_by_text("No label: measure it").click()
    measured = page.locator("details", has=page.get_by_label("Weight, g"))
    choose(page, "Fiber", "cotton", within=measured)
    choose(page, "Construction", "spun", within=measured)
    page.get_by_label("Weight, g").fill("heavy")
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_role("alert")).to_contain_text("“heavy” isn't a number")
    page.get_by_label("Weight, g").fill("0,5")
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_text("About 25.0 tex (40 wt)")).to_be_visible()
    page.get_by_role("button", name="Take 25.0 tex").click()
    page.get_by_label("Name", exact=True).fill("Unknown cone")
    page.get_by_text("Hand tests").click()
    page.get_by_role("button", name="even", exact=True).click()
    page.get_by_role("button", name="Put it in the drawer").click()
    expect(page.get_by_role("row", name="Unknown cone")).to_contain_text("25 tex")


def test_a_label_leaves_no_question_unasked(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("button", name="Add from a label").click()
    page.get_by_role("button", name="Put it in the drawer").click()
    expect(page.get_by_role("alert")).to_contain_text("Write what the label says")
    label, answer = page.get_by_label("What the label says"), page.locator("[data-answer]")
    label.fill("Tex 20/2 polyester")
    expect(answer).to_contain_text("20.0 tex")
    expect(page.get_by_text("Which is meant?")).to_be_visible()
    page.get_by_role("button", name="20 tex each strand").click()
    expect(answer).to_contain_text("40.0 tex")
    label.fill("No. 60")
    expect(page.get_by_text("maker's own count")).to_be_visible()
    expect(page.get_by_role("button", name="60 wt: 16.7 tex")).to_be_visible()
    label.fill("Tex 20/2 polyester")
    page.get_by_role("button", name="20 tex each strand").click()
    page.get_by_role("button", name="Save and add another").click()
    expect(page.get_by_role("row", name="Tex 20/2 polyester")).to_be_visible()
    expect(label).to_have_value("")
    expect(label).to_be_focused()
    label.fill("Tex 30/2 polyester")
    expect(answer).to_contain_text("60.0 tex")
    # What is half typed stays over a change of station and a reload, and is dropped on purpose.
    knot(page, "Needle").click()
    knot(page, "Thread").click()
    page.reload()
    page.get_by_role("button", name="Add from a label").click()
    expect(label).to_have_value("Tex 30/2 polyester")
    page.get_by_role("button", name="Drop it").click()
    expect(label).to_have_value("")
    page.get_by_role("button", name="Leave it").click()
    page.get_by_role("button", name="Another color of Saltmarsh 40").click()
    page.get_by_label("Name", exact=True).fill("Saltmarsh 40 rust")
    page.get_by_role("button", name="Put it in the drawer").click()
    expect(page.get_by_role("row", name="Saltmarsh 40 rust")).to_contain_text("40 wt")


def test_what_do_you_want_to_see(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread?part=look")
    answer = page.locator("[data-answer]")
    expect(answer).to_contain_text("40–12")
    page.get_by_role("button", name="micro fill").click()
    expect(answer).to_contain_text("100–60")
    expect(page.get_by_role("listitem").filter(has_text="Sea Lavender 100")).to_be_visible()


def test_the_path_is_walked_and_made_one_s_own(page: Page, workshop: str):
    page.goto(f"{workshop}/3/thread?part=path")
    answer = page.locator("[data-answer]")
    expect(answer).to_contain_text("Spool pin")
    page.get_by_role("button", name="Done, next").click()
    expect(answer).to_contain_text("Guides")
    page.keyboard.press("Enter")
    expect(answer).to_contain_text("Tension discs")
    page.get_by_role("button", name="This machine's path differs").click()
    page.get_by_label("Point 1", exact=True).fill("")
    page.get_by_role("button", name="Save path").click()
    expect(page.get_by_role("alert")).to_contain_text("is empty")
    page.get_by_label("Point 1", exact=True).fill("Cone stand")
    page.get_by_role("button", name="Save path").click()
    expect(answer).to_contain_text("Cone stand")
    # From the drawings, in order: a guide goes before the needle, and a path without one is asked for it.
    page.get_by_role("button", name="This machine's path differs").click()
    page.get_by_role("button", name="Start over").click()
    for guide in ("Sideways pin", "Tension discs"):
        page.get_by_role("button", name=guide, exact=True).click()
    page.get_by_role("button", name="Save path").click()
    expect(page.get_by_role("alert")).to_contain_text("no needle")
    for guide in ("Needle eye", "Check spring", "Two-hole guide"):
        page.get_by_role("button", name=guide, exact=True).click()
    page.get_by_role("button", name="Up: point 4").click()
    page.get_by_role("button", name="Save path").click()
    expect(page.get_by_role("main").locator("ol li")).to_have_text(
        ["Sideways pin", "Tension discs", "Two-hole guide", "Check spring", "Needle eye"]
    )
    expect(answer).to_contain_text("Sideways pin")


def test_the_school_and_the_sandwich_move_the_answer_in_place(page: Page, workshop: str):
    page.goto(f"{workshop}/1/needle")
    answer = page.locator("[data-answer]")
    expect(answer).to_contain_text("110/18 ballpoint")
    page.get_by_role("button", name="medium", exact=True).click()
    expect(answer).to_contain_text("100/16 ballpoint")
    page.get_by_role("button", name="home machines: fuller groove").click()
    expect(answer).to_contain_text("90/14 topstitch")
    expect(page.get_by_text("The longarm chart would take 100/16")).to_be_visible()
    page.get_by_text("Where these numbers come from").click()
    expect(page.get_by_text("Groove's width against the blade's")).to_be_visible()
    page.get_by_role("button", name="longarms: stiffer needle").click()
    expect(answer).to_contain_text("100/16 ballpoint")


def test_the_clock_runs_and_a_needle_comes_out_with_its_reason(page: Page, workshop: str):
    page.goto(f"{workshop}/3/needle?part=in")
    expect(page.get_by_text("8.6 h on it: overdue")).to_be_visible()
    page.get_by_label("Quilt", exact=True).fill("Redshank II")
    page.get_by_role("button", name="Start the clock").click()
    expect(page.get_by_text("Stitching on Redshank II")).to_be_visible()
    expect(knot(page, "Run")).to_contain_text("clock runs")
    page.reload()
    page.get_by_label("Stitched, m").fill("1,5")
    page.get_by_role("button", name="Stop the clock").click()
    expect(page.get_by_role("status")).to_contain_text("stitched on Redshank II, 2 m")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Stitching on Redshank II")).to_be_visible()
    page.get_by_role("button", name="Stop the clock").click()
    page.get_by_role("button", name="break", exact=True).click()
    expect(page.get_by_text("Count the pieces, all of them")).to_be_visible()
    page.get_by_role("button", name="It's out").click()
    expect(page.get_by_text("No needle on record")).to_be_visible()
    expect(knot(page, "Needle")).to_contain_text("note the needle")
    page.get_by_text("Finish, system, and when").click()
    page.get_by_label("Needle system").fill("HLx5")
    page.get_by_role("button", name="Note it as fitted").click()
    expect(page.get_by_role("alert")).to_contain_text("Wren takes 130/705 H. This needle is HLx5")
    expect(knot(page, "Needle")).to_contain_text("trouble")
    expect(page.locator(".notice")).to_contain_text("90/14 topstitch fitted")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("No needle on record")).to_be_visible()
    page.get_by_label("Needle system").fill("130/705 H-Q")
    expect(page.get_by_text("Out of the packet in the drawer: 4 left")).to_be_visible()
    page.get_by_role("button", name="Note it as fitted").click()
    expect(knot(page, "Needle")).to_contain_text("90/14")


def test_needles_in_the_drawer_compare_by_the_hour(page: Page, workshop: str):
    page.goto(f"{workshop}/3/needle?part=drawer")
    page.get_by_label("How many").fill("5")
    page.get_by_label("Price of one").fill("0,07")
    choose(page, "Size", "75/11")
    page.get_by_role("button", name="Put it in the drawer").click()
    row = page.get_by_role("row", name="75/11 topstitch")
    expect(row).to_contain_text("lowest")
    expect(page.get_by_text("passes the eye about 70 times")).to_be_visible()
    row.get_by_role("button", name="Delete").click()
    expect(row).not_to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(row).to_be_visible()


def test_what_is_typed_while_a_label_is_read_stays(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("button", name="Add from a label").click()
    label = page.get_by_label("What the label says")
    page.get_by_text("More details, or correct what was read").click()
    with held_back(page, "**/api/threads/read-label"):
        label.fill("Dunlin 40 wt cotton")
        page.get_by_label("On it when new, m").fill("4500")
        page.get_by_label("Note", exact=True).fill("from the quay")
    expect(page.get_by_text("40 wt, spun cotton")).to_be_visible()
    label.fill("Dunlin 50 wt cotton")
    expect(page.get_by_text("50 wt, spun cotton")).to_be_visible()
    expect(page.get_by_label("On it when new, m")).to_have_value("4500")
    expect(page.get_by_label("Note", exact=True)).to_have_value("from the quay")
    page.get_by_role("button", name="Leave it").click()


def test_a_refusal_does_not_wait_for_what_is_asked_anew(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("button", name="Add from a label").click()
    page.get_by_label("What the label says").fill("Plover 4000 wt cotton")
    expect(page.get_by_text("Is it 40 wt?")).to_be_visible()
    with held_back(page, "**/api/machines/1/line"):
        page.get_by_role("button", name="Put it in the drawer").click()
        expect(page.get_by_text("Type a number here.")).to_be_visible()


def test_a_label_that_was_changed_while_it_was_on_its_way_is_sent_as_well(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    page.get_by_role("button", name="Add from a label").click()
    label = page.get_by_label("What the label says")
    label.fill("Plover 40 wt cotton")
    expect(page.get_by_text("40 wt, spun cotton")).to_be_visible()
    with held_back(page, "**/api/threads"):
        with page.expect_request("**/api/threads"):
            page.get_by_role("button", name="Put it in the drawer").click()
        label.fill("Plover 120d x 2 cotton")
        expect(page.get_by_text("120 denier × 2, spun cotton")).to_be_visible()
        with page.expect_request("**/api/threads"):
            page.get_by_role("button", name="Put it in the drawer").click()
    expect(page.get_by_role("row", name="Plover").filter(has_text="120 denier × 2")).to_be_visible()
