"""The Balance station in the browser: an answer in few steps, guard rails, ladders, the cut, the recipe book."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from test_slice import knot

from browser import server
from conftest import held_back


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("balance"))) as address:
        yield address


def stitch(page: Page, setting: str, look: str) -> None:
    page.get_by_label("Top tension setting").fill(setting)
    page.get_by_role("button", name=f"{look}. Front").click()
    expect(page.get_by_role("status")).to_contain_text("Saved:")
    expect(page.get_by_role("button", name="balanced. Front")).to_be_enabled()


def test_looks_narrow_the_answer_and_it_is_kept(page: Page, workshop: str):
    page.goto(f"{workshop}/1/balance")
    answer = page.locator("[data-answer]")
    expect(answer).to_be_visible()
    expect(page.get_by_text("is where it most likely lies. A good test line there settles it.")).to_be_visible()
    stitch(page, "190", "top a little loose")
    page.get_by_label("Top tension setting").fill("205")
    # A tap too many is the same tap.
    page.get_by_role("button", name="balanced. Front").dblclick()
    expect(page.get_by_role("img", name="with 3 lines of yours. Best guess")).to_be_visible()
    expect(page.get_by_text("is good enough already")).to_be_visible()
    expect(page.get_by_text("Such guesses missed by about")).to_be_visible()
    page.get_by_label("Name, like the quilt").fill("Avocet")
    page.get_by_role("button", name="Save as recipe").click()
    page.get_by_role("button", name="Recipe book").click()
    expect(page.get_by_role("button", name="Use this today: Avocet")).to_be_visible()


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (820, 1180), (390, 844)])
def test_answer_and_pictures_are_in_the_first_screen_and_one_tap_saves(page: Page, workshop: str, width, height):
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"{workshop}/1/balance")
    last = page.locator(".look").last
    expect(last).to_be_visible()
    foot = last.evaluate("each => each.getBoundingClientRect().bottom")
    print(f"balance at {width}: the last picture ends at {foot:.0f}")
    assert foot <= height
    page.get_by_role("button", name="top a little loose. Front").click()
    expect(page.get_by_role("status")).to_contain_text("Saved:")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("status")).not_to_contain_text("Saved:")


def test_a_sudden_nest_is_seated_before_any_number_is_shown(page: Page, workshop: str):
    page.goto(f"{workshop}/3/balance")
    stitch(page, "3", "top much too loose")
    expect(page.get_by_text("First this")).to_be_visible()
    expect(page.get_by_text("seat the thread, tug to prove it")).to_be_visible()
    # What to do is the answer; no setting stands beside it.
    expect(page.locator("[data-answer]")).to_have_text("Seat the top thread")
    expect(knot(page, "Balance")).to_contain_text("3.0")
    page.get_by_role("button", name="Thread is seated").click()
    expect(page.locator("[data-answer]")).to_contain_text("stitch")
    page.get_by_role("button", name="Delete 3.0, free-motion: top much too loose").click()
    expect(page.get_by_text("First this")).not_to_be_visible()


def test_a_fluttering_bobbin_comes_before_the_knob(page: Page, workshop: str):
    page.goto(f"{workshop}/2/balance")
    expect(page.get_by_text("The bobbin flutters, and no top setting can fix that")).to_be_visible()
    page.get_by_role("link", name="Go to Bobbin").click()
    expect(page.get_by_text("It flutters")).to_be_visible()


def test_a_whole_ladder_is_graded_and_kept_in_one_go(page: Page, workshop: str):
    page.goto(f"{workshop}/3/balance")
    page.get_by_role("button", name="straight", exact=True).click()
    board = page.get_by_role("region", name="A whole test strip on one cloth, straight")
    columns = board.get_by_role("columnheader")
    expect(columns).to_have_count(7)
    steps = [text.split()[0] for text in columns.all_text_contents()[1:]]
    seen = ["top much too loose", *["top a little loose"] * 2, *["balanced"] * 2, "top a little tight"]
    for setting, look in zip(steps, seen, strict=True):
        board.get_by_role("button", name=f"{setting}: {look}", exact=True).focus()
        page.keyboard.press("Enter")
    board.get_by_role("button", name=f"A step between {steps[3]} and {steps[4]}").click()
    expect(columns).to_have_count(8)
    board.get_by_role("button", name="The whole range tighter").click()
    board.get_by_role("button", name="Save 6 lines").click()
    expect(page.get_by_role("img", name="with 6 lines of yours")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("img", name="with 0 lines of yours")).to_be_visible()
    href = page.get_by_role("link", name="letter").get_attribute("href")
    strip = page.request.get(f"{workshop}{href}")
    assert strip.body().startswith(b"%PDF")


def test_an_answer_of_another_motion_says_so_until_the_right_one_is_there(page: Page, workshop: str):
    page.goto(f"{workshop}/3/balance")
    page.locator("[data-answer]").wait_for()
    says = page.get_by_text("Still for free-motion: straight is on its way.")
    with held_back(page, "**/balance?motion=straight"):
        with page.expect_request("**/balance?motion=straight"):
            page.get_by_role("button", name="straight", exact=True).click()
        expect(says).to_be_visible()
    expect(says).to_have_count(0)


def test_a_ladder_on_its_way_is_not_another_motions(page: Page, workshop: str):
    page.goto(f"{workshop}/3/balance")
    page.locator("section", has_text="A whole test strip on one cloth").get_by_role("columnheader").first.wait_for()
    board = page.get_by_role("region", name="A whole test strip on one cloth, straight")
    with held_back(page, "**/ladder"):
        with page.expect_request("**/ladder"):
            page.get_by_role("button", name="straight", exact=True).click()
        expect(board).to_be_visible()
        expect(board.get_by_role("columnheader")).to_have_count(0)
    columns = board.get_by_role("columnheader")
    expect(columns).to_have_count(7)
    board.get_by_role("button", name=": balanced").nth(1).click()
    board.get_by_role("button", name="whole scale").click()
    expect(columns.nth(8)).to_be_attached()
    expect(board.get_by_role("button", name=": balanced", pressed=True)).to_have_count(1)


def test_the_lock_moves_with_the_slider(page: Page, workshop: str):
    page.goto(f"{workshop}/1/balance?part=cut")
    slider = page.get_by_role("slider")
    slider.focus()
    page.keyboard.press("End")
    expect(page.locator("[data-answer]")).to_contain_text("400")
    expect(page.get_by_text("top much too tight: front")).to_be_visible()
    page.keyboard.press("Home")
    expect(page.get_by_text("top much too loose: front")).to_be_visible()
    expect(page.get_by_text("A picture from the estimate")).to_be_visible()


def test_a_recipe_is_put_back_on_the_machine(page: Page, workshop: str):
    page.goto(f"{workshop}/1/balance?part=recipes")
    page.get_by_label("Search the recipe book").fill("neap")
    expect(page.get_by_role("heading", name="Neap Tide")).to_be_visible()
    expect(page.get_by_role("heading", name="Turnstone")).not_to_be_visible()
    page.get_by_role("button", name="What differs: Neap Tide").click()
    expect(page.get_by_text("Top thread: from Saltmarsh 40 to Ebb 40")).to_be_visible()
    page.get_by_role("button", name="Use this today: Neap Tide").click()
    moves = page.get_by_role("complementary", name="Putting back Neap Tide")
    expect(moves).to_contain_text("Needle: 100/16 ballpoint → 110/18 topstitch")
    expect(moves).to_contain_text("5 to go")
    page.get_by_role("link", name="Thread").click()
    page.get_by_role("button", name="On top: Ebb 40").click()
    expect(moves).to_contain_text("✓done: Top thread: Ebb 40")
    expect(moves).to_contain_text("4 to go")
    moves.get_by_role("button", name="All done").click()
    expect(moves).to_have_count(0)
    expect(knot(page, "Needle")).to_contain_text("110/18")
    page.get_by_role("button", name="Undo").click()
    expect(moves).to_contain_text("4 to go")
    moves.get_by_role("button", name="Leave it off").click()
    expect(moves).to_have_count(0)
    page.get_by_role("link", name="Balance").click()
    page.get_by_role("button", name="Recipe book").click()
    href = page.get_by_role("link", name="Card of Neap Tide").get_attribute("href")
    assert page.request.get(f"{workshop}{href}").body().startswith(b"%PDF")


def test_a_needle_noted_late_takes_the_lines_with_it(page: Page, tmp_path: Path):
    with server(tmp_path) as address:
        api = page.request
        api.post(f"{address}/api/machines/1/looks", data={"setting": 200, "grade": 0})
        needle = {"metric": 100, "american": 16, "point": "topstitch"}
        api.post(f"{address}/api/machines/1/needle", data=needle)
        page.goto(f"{address}/1/balance")
        # The demo has a line of its own just before.
        expect(page.get_by_text("The needle was noted after")).to_be_visible()
        page.get_by_role("button", name="Yes", exact=True).click()
        expect(page.get_by_text("The needle was noted after")).not_to_be_visible()
        expect(page.get_by_role("button", name="Delete 200, free-motion: balanced")).to_be_visible()
