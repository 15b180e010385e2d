"""The Bobbin station in the browser: screw, swap, rack, live gauge, recorded pulls, winding."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from test_slice import choose, knot

from browser import free_port, server
from weftonos.standins.gauge_simulator import Health, SimulatedGauge


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory):
    with server(Path(tmp_path_factory.mktemp("bobbin"))) as address:
        yield address


def pull(page: Page, *readings: str) -> None:
    for reading in readings:
        page.locator("input.reading").fill(reading)
        page.keyboard.press("Enter")
        expect(page.locator("input.reading")).to_have_value("")


def test_the_keys_of_the_pad_are_one_stop_and_arrows_go_between_them(page: Page, workshop: str):
    page.goto(f"{workshop}/1/bobbin")
    pad = page.get_by_role("group", name="Number pad")
    pad.get_by_role("button", name="1", exact=True).focus()
    for key, at in (("ArrowRight", "2"), ("ArrowDown", "5"), ("ArrowLeft", "4"), ("ArrowUp", "1")):
        page.keyboard.press(key)
        expect(pad.get_by_role("button", name=at, exact=True)).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator("input.reading")).to_have_value("1")
    page.locator("input.reading").fill("")


def test_the_screw_is_turned_by_minutes_and_learned(page: Page, workshop: str):
    page.goto(f"{workshop}/1/bobbin")
    pull(page, "162", "164")
    expect(page.locator("[data-answer]")).to_contain_text("163 mN")
    expect(page.get_by_role("img", name="The case from its screw side: Tighten")).to_be_visible()
    expect(page.get_by_text("a careful first step")).to_be_visible()
    page.get_by_role("button", name="I turned it").click()
    expect(page.locator(".notice")).to_contain_text("Screw tightened")
    pull(page, "199", "201")
    page.get_by_role("button", name="Save reading").click()
    expect(knot(page, "Bobbin")).to_contain_text("200 mN")
    page.get_by_role("button", name="The rack").click()
    expect(page.get_by_role("row", name="in the machine with Limpet 80")).to_contain_text("learned from 1 turn")


def test_loosened_for_metallic_is_on_target_and_a_number_is_taken(page: Page, workshop: str):
    page.goto(f"{workshop}/3/bobbin")
    pull(page, "150", "152")
    page.get_by_role("button", name="Save reading").click()
    expect(knot(page, "Bobbin")).to_contain_text("151 mN")
    page.get_by_role("button", name="Make 151 mN my usual").click()
    expect(page.get_by_text("Target 143–159 mN")).to_be_visible()
    page.get_by_role("button", name="metallic or delicate").click()
    expect(page.get_by_text("for metallic or delicate thread, from the ordinary number down").first).to_be_visible()
    pull(page, "100", "102")
    expect(page.get_by_text("On target", exact=False).first).to_be_visible()
    page.get_by_role("button", name="Undo").click()


def test_a_flutter_leads_into_the_swap_and_marks_the_part(page: Page, workshop: str):
    page.goto(f"{workshop}/2/bobbin")
    expect(page.get_by_text("It flutters")).to_be_visible()
    expect(page.get_by_role("button", name="I turned it")).to_have_count(0)
    swap = page.get_by_role("group", name="1. The same bobbin in another case")
    swap.get_by_role("button", name="steady").click()
    page.get_by_role("group", name="2. Another bobbin").get_by_role("button", name="still flutters").click()
    expect(page.get_by_text("The flutter stays with the case")).to_be_visible()
    page.get_by_role("button", name="Mark this case").click()
    page.get_by_role("button", name="The rack").click()
    expect(page.get_by_text("✕ flutters")).to_be_visible()
    page.get_by_role("button", name="sound again").click()
    expect(page.get_by_text("✕ flutters")).not_to_be_visible()


def test_without_a_gauge_the_case_is_weighed(page: Page, workshop: str):
    page.goto(f"{workshop}/3/bobbin")
    page.get_by_text("Without a gauge").click()
    page.get_by_label("Case, bobbin and weights").fill("-3")
    page.get_by_role("button", name="Save it as a number").click()
    expect(page.get_by_role("alert")).to_contain_text("above 0")
    page.get_by_label("Case, bobbin and weights").fill("24,5")
    page.get_by_role("button", name="Save it as a number").click()
    expect(knot(page, "Bobbin")).to_contain_text("240 mN")
    page.get_by_role("button", name="right stands up").click()
    expect(page.locator(".notice")).to_contain_text("Palm test: right")


def test_the_rack_grows_and_its_labels_print(page: Page, workshop: str):
    page.goto(f"{workshop}/3/bobbin?part=rack")
    page.get_by_label("Case label").fill("F")
    page.get_by_label("Its own range from").fill("230")
    page.get_by_role("button", name="Put the case on the rack").click()
    expect(page.get_by_role("alert")).to_be_visible()
    page.get_by_label("to, mN").fill("240")
    page.get_by_role("button", name="Put the case on the rack").click()
    expect(page.get_by_role("button", name="F", exact=True)).to_be_visible()
    page.get_by_role("button", name="Into F: S1").click()
    expect(page.locator(".notice")).to_contain_text("case F, 80% full. Read it.")
    link = page.get_by_role("link", name="Label of case F, PDF").get_attribute("href")
    label = page.request.get(f"{workshop}{link}")
    assert label.headers["content-type"] == "application/pdf"
    assert label.body().startswith(b"%PDF")


def test_a_case_s_chart_says_what_it_sees(page: Page, workshop: str):
    page.goto(f"{workshop}/2/bobbin?part=rack")
    expect(page.get_by_role("heading", name="Case C since its screw was turned")).to_be_visible()
    expect(page.get_by_role("img", name="Chart of")).to_be_visible()
    expect(page.get_by_role("row", name="Label of case C")).to_contain_text("learned from 3 turns")


def test_a_live_pull_is_drawn_read_and_kept(page: Page, workshop: str):
    page.goto(f"{workshop}/1/bobbin?part=live")
    choose(page, "The stand-in plays", "tight bearing")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_text("It climbs steadily")).to_be_visible()
    inked = page.evaluate(
        """() => { const c = document.querySelector("canvas");
        const drawn = c.getContext("2d").getImageData(0, 0, c.width, c.height).data;
        return drawn.filter((v, i) => i % 4 === 3 && v).length; }"""
    )
    assert inked > 2000
    page.get_by_role("button", name="Stop").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Save as CSV").click()
    assert Path(download.value.path()).read_text().startswith("length_mm,tension_mn")


def test_a_stream_that_breaks_off_keeps_what_came(page: Page, tmp_path: Path):
    with server(tmp_path, port=free_port()) as address:
        page.goto(f"{address}/1/bobbin?part=live")
        page.get_by_role("button", name="Start").click()
        page.wait_for_timeout(1500)
        expect(page.locator("[data-answer]")).to_have_count(0)
        # In the middle of the first pull the server goes.
    expect(page.locator("main").get_by_role("alert")).to_contain_text("The gauge stopped")
    with page.expect_download() as download:
        page.get_by_role("button", name="Save as CSV").click()
    drawn = Path(download.value.path()).read_text().splitlines()
    assert drawn[0] == "length_mm,tension_mn,stand_in"
    assert len(drawn) > 40


def test_a_pull_that_is_stopped_by_hand_is_read_as_far_as_it_went(page: Page, workshop: str):
    page.goto(f"{workshop}/1/bobbin?part=live")
    page.get_by_role("button", name="Start").click()
    page.wait_for_timeout(4000)
    page.get_by_role("button", name="Stop").click()
    expect(page.locator("[data-answer]")).to_be_visible()
    expect(page.get_by_role("button", name="Save reading")).to_be_enabled()


def test_a_recorded_pull_comes_in_by_its_columns(page: Page, workshop: str, tmp_path: Path):
    page.goto(f"{workshop}/1/bobbin?part=live")
    picture = tmp_path / "picture.csv"
    picture.write_bytes(b"\x89PNG\r\n\x1a\n\x00\x00")
    page.get_by_label("CSV file").set_input_files(picture)
    expect(page.get_by_role("alert")).to_contain_text("a picture")
    samples = list(SimulatedGauge(Health.BENT_CASE, 3, pulls=2).samples())
    rows = "\n".join(f"{s.length_mm:.1f};{s.tension_mn:.1f}".replace(".", ",") for s in samples)
    table = tmp_path / "pull.csv"
    table.write_text("Weg mm;Zug mN\n" + rows, encoding="utf-8")
    page.get_by_label("CSV file").set_input_files(table)
    expect(page.get_by_text(f"{len(samples)} rows")).to_be_visible()
    page.get_by_role("button", name="Read it", exact=True).last.click()
    expect(page.get_by_text("It swings cleanly once a turn")).to_be_visible()


def test_the_winding_plan_counts_bobbins(page: Page, workshop: str):
    page.goto(f"{workshop}/1/bobbin?part=wind")
    expect(page.locator("[data-answer]")).to_contain_text("3 bobbins")
    # As thick as what lies under the needle, until another is put in.
    page.get_by_label("Sandwich").fill("2")
    expect(page.locator("[data-answer]")).to_contain_text("2 bobbins")
    page.get_by_label("Lines apart").fill("5")
    expect(page.locator("[data-answer]")).to_contain_text("5 bobbins")
    page.get_by_label("The next line, m").fill("70")
    expect(page.get_by_text("Change it before the next line.")).to_be_visible()
