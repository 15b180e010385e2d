"""A quilt planned by taps, sewn by plan, and what the stations say of it meanwhile."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect
from test_slice import knot

from browser import server


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("plan"))) as address:
        yield address


def test_a_form_stays_while_the_plans_come(page: Page, demo: str):
    """A form begun before the list of plans was there lost what was wrong with it, and its end, to the list."""
    waiting: list[Route] = []
    page.route("**/api/plans", lambda route: waiting.append(route))
    page.goto(f"{demo}/1/run?part=plan")
    page.get_by_role("button", name="Plan a quilt", exact=True).click()
    page.get_by_role("button", name="Save the plan").click()
    name = page.get_by_label("The quilt's name").first
    expect(name).to_be_focused()
    with page.expect_response("**/api/plans"):
        for route in waiting:
            route.continue_()
    expect(page.locator(".field-error").first).to_be_visible()
    expect(name).to_be_focused()


def test_a_form_does_not_grow_under_a_tap_when_the_plans_come(page: Page, demo: str):
    """Its button moved down between the press and the release: such a tap is none."""
    waiting: list[Route] = []
    page.route("**/api/plans", lambda route: waiting.append(route))
    page.goto(f"{demo}/1/run?part=plan")
    page.get_by_role("button", name="Plan a quilt", exact=True).click()
    save = page.get_by_role("button", name="Save the plan")
    expect(page.get_by_role("group", name="Its size").get_by_role("button").first).to_be_visible()
    place = save.bounding_box()
    for route in waiting:
        route.continue_()
    # A list that came is offered: its plans can be taken from.
    page.get_by_label("Or take the passes of an earlier plan").click()
    expect(page.get_by_role("option", name="Redshank")).to_be_visible()
    page.keyboard.press("Escape")
    assert save.bounding_box() == place


@pytest.mark.parametrize(("machine", "frame"), [(1, True), (3, False)])
def test_the_form_names_the_changes_there_are_and_what_they_take(page: Page, demo: str, machine: int, frame: bool):
    page.goto(f"{demo}/{machine}/run?part=plan")
    page.get_by_role("button", name="Plan a quilt", exact=True).click()
    for name in ("Outline", "Border"):
        page.get_by_role("group", name="Add a pass").get_by_role("button", name=name).click()
    page.get_by_text("how long changes take you").click()
    for name in ("Another thread", "Test line", "Cleaning"):
        expect(page.get_by_label(name, exact=True)).to_have_attribute("placeholder", re.compile(r"^[\d.]+$"))
    expect(page.get_by_text("By your records: ")).to_contain_text("test line")
    # A domestic machine has no frame to roll back, and no guide with holes.
    for name in ("Rolling a frame back", "Guide holes"):
        expect(page.get_by_label(name)).to_have_count(int(frame))


def test_a_plan_by_taps(page: Page, workshop: str):
    page.goto(f"{workshop}/1/run?part=plan")
    taps = 0

    def tap(name: str) -> None:
        nonlocal taps
        page.get_by_role("button", name=name, exact=True).first.click()
        taps += 1

    tap("Plan a quilt")
    page.get_by_label("The quilt's name").fill("Whimbrel")
    tap("Throw")
    tap("In the ditch")
    tap("Background fill")
    tap("50%")
    tap("A quarter inch")
    tap("Save the plan")
    expect(page.locator(".notice")).to_contain_text("Whimbrel planned in 2 passes")
    expect(page.get_by_role("heading", name="Whimbrel on Heron")).to_be_visible()
    expect(page.locator(".answer")).to_contain_text("left")
    assert taps <= 8
    page.get_by_text("Why", exact=True).click()
    expect(
        page.get_by_text("In the ditch: nobody said the size of the blocks and the thread, so we took the usual.")
    ).to_be_visible()
    # Too much of a quilt is said at its place, and nothing is lost.
    tap("Change the plan")
    tap("Edge to edge")
    tap("Save the change")
    expect(page.get_by_text("These passes fill 150% of the quilt.")).to_be_visible()
    expect(page.get_by_label("The quilt's name")).to_have_value("Whimbrel")
    tap("Leave it")
    expect(page.get_by_role("heading", name="Whimbrel on Heron")).to_be_visible()


def test_the_plan_leads_at_every_station(page: Page, workshop: str):
    page.goto(f"{workshop}/1/run?part=plan")
    page.get_by_role("button", name="Dunlin").click()
    page.get_by_role("button", name="Begin: In the ditch").click()
    expect(page.get_by_text("On now: In the ditch")).to_be_visible()
    moves = page.get_by_role("complementary", name="The plan of Dunlin")
    expect(moves).to_contain_text("Put Driftwood 40 on top")
    expect(knot(page, "Run")).to_contain_text("Ditch, 0%")
    moves.get_by_role("link", name="Put Driftwood 40 on top").click()
    expect(page).to_have_url(f"{workshop}/1/thread")
    expect(moves).to_be_visible()
    page.goto(f"{workshop}/1/run?part=plan")
    page.get_by_role("button", name="50%").click()
    expect(knot(page, "Run")).to_contain_text("Ditch, 50%")
    page.get_by_role("button", name="In the ditch is done").click()
    expect(page.get_by_role("button", name="Begin:")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("On now: In the ditch, 50%")).to_be_visible()


def test_a_cone_is_weighed_and_what_is_bought_is_ticked_off(page: Page, workshop: str):
    page.goto(f"{workshop}/3/run?part=plan")
    page.get_by_role("button", name="Redshank").click()
    cone = page.locator(".cone", has_text="Driftwood 40")
    cone.get_by_role("button", name="Weigh it").click()
    page.get_by_label("Cone with thread, grams").fill("900")
    page.get_by_role("button", name="Save the weight").click()
    expect(page.get_by_role("alert")).to_contain_text("Take the empty cone's weight off.")
    page.get_by_label("Cone with thread, grams").fill("40")
    page.get_by_label("Empty cone, grams").fill("28")
    page.get_by_role("button", name="Save the weight").click()
    expect(cone).to_contain_text("weighed")
    cone.get_by_role("button", name="It ended").click()
    expect(cone).to_contain_text("Runs out about")
    bought = page.get_by_role("button", name="Bought: Driftwood 40, 1 cone")
    bought.click()
    expect(bought).to_be_hidden()
    expect(cone).to_contain_text("Enough")
