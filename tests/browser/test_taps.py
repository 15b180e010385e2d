"""How many taps what the hand does most takes, and that one tap takes it back."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from test_slice import knot

from browser import server


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("taps"))) as address:
        yield address


def tap(page: Page, *names: str) -> int:
    for name in names:
        page.get_by_role("button", name=name, exact=True).first.click()
    return len(names)


def test_three_pulls_of_two_figures_take_nine_taps(page: Page, workshop: str):
    page.goto(f"{workshop}/2/bobbin")
    add = "Add this pull"
    taps = tap(page, "2", "6", add, "2", "7", add, "2", "8", "Save reading")
    expect(page.locator(".notice")).to_contain_text("27")
    assert taps == 9
    expect(knot(page, "Bobbin")).to_contain_text("27.0 g")


def test_a_thread_used_before_is_on_top_by_two_taps(page: Page, workshop: str):
    page.goto(f"{workshop}/1/run")
    knot(page, "Thread").click()
    assert 1 + tap(page, "Ebb 40") == 2
    expect(page.locator(".notice")).to_contain_text("Ebb 40")
    # What was on is the first to go back to.
    expect(page.get_by_role("group", name="On top before").get_by_role("button").first).to_have_text("Saltmarsh 40")
    tap(page, "Undo")
    expect(knot(page, "Thread")).to_contain_text("trilobal")


def test_a_deleted_thread_is_not_offered_again(page: Page, workshop: str):
    page.goto(f"{workshop}/1/thread")
    before = page.get_by_role("group", name="On top before")
    expect(before.get_by_role("button", name="Shingle 30")).to_be_visible()
    page.get_by_role("button", name="Edit: Shingle 30").click()
    tap(page, "Delete")
    expect(before.get_by_role("button", name="Shingle 30")).to_be_hidden()
    expect(before.get_by_role("button")).to_have_count(4)
    tap(page, "Undo")


def test_back_to_a_recipe_is_two_taps(page: Page, workshop: str):
    page.goto(f"{workshop}/1/balance")
    taps = tap(page, "Recipe book")
    page.get_by_role("button", name="Use this today").first.click()
    assert taps + 1 == 2
    expect(page.get_by_role("complementary", name="Putting back")).to_be_visible()


def test_the_old_needle_out_and_a_new_one_in_is_one_tap_and_one_undo(page: Page, workshop: str):
    page.goto(f"{workshop}/3/needle?part=in")
    expect(knot(page, "Needle")).to_contain_text("overdue")
    tap(page, "Out, 90/14 topstitch in")
    expect(page.locator(".notice")).to_contain_text("Put it in the sharps box. 90/14 topstitch is in.")
    expect(knot(page, "Needle")).not_to_contain_text("overdue")
    expect(page.get_by_text("Out of the packet in the drawer: 3 left")).to_be_visible()
    tap(page, "Undo")
    expect(knot(page, "Needle")).to_contain_text("overdue")
    expect(page.get_by_text("Out of the packet in the drawer: 4 left")).to_be_visible()
