"""Every main view: accessible, by day and in the evening, at the machine and on a portrait tablet."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import datetime
from io import BytesIO
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect
from pypdf import PdfReader
from screenshots import VIEWS
from sentences import ONE_OF_SEVERAL

from conftest import AT_THE_MACHINE, axe_violations, cleaned

SIZES = {"small phone": (320, 640), "phone": (390, 844), "tablet": (800, 1280), "machine": (1280, 800)}
#: Sizes of type on a page, the text in drawings left out, and how many there may be.
TYPE_SIZES = """() => { const found = new Set(), walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let text; (text = walk.nextNode()); ) { const e = text.parentElement;
    if (text.textContent.trim() && e.offsetParent && !e.closest("svg, .sr")) found.add(getComputedStyle(e).fontSize); }
  return [...found].sort(); }"""
MOST_TYPE_SIZES = 6
STROKES = Path(__file__).parent / "strokes.js"
#: Shapes that are the ground of a drawing, or its texture: cloth and its weave, the scale a needle moves over.
GROUNDS = {"cloth", "fabric", "batting", "ground", "weave", "hole", "twist", "rim"}
#: Words in sight before anything is opened; lists, tables and what is chosen from left out.
WORDS = """() => { let words = 0;
  const walk = document.createTreeWalker(document.querySelector("main"), NodeFilter.SHOW_TEXT);
  for (let text; (text = walk.nextNode()); ) { const e = text.parentElement;
    if (e.checkVisibility() && !e.closest("ul, ol, table, select, datalist, svg, .sr"))
      words += (text.textContent.match(/[\\p{L}\\d½¼¾’']+/gu) ?? []).length; }
  return words; }"""
MOST_WORDS = 350
#: As wide as a reader's own settings may make it.
SPACED = """* { line-height: 1.5 !important; letter-spacing: 0.12em !important; word-spacing: 0.16em !important; }
  p { margin-bottom: 2em !important; }"""
#: Buttons, words and figures that are cut at an edge of their own; what is chosen ends in dots, and opens.
CUT = """() => [...document.querySelectorAll("main :is(button, a, th, td, dt, dd, h1, h2, h3, p, label, summary)")]
  .filter((e) => e.checkVisibility() && !e.closest("svg, .sr, .p-select, .p-autocomplete"))
  .filter((e) => { const style = getComputedStyle(e);
    return (style.overflowX !== "visible" && e.scrollWidth > e.clientWidth + 2)
      || (style.overflowY !== "visible" && e.scrollHeight > e.clientHeight + 4); })
  .map((e) => `${e.tagName} ${e.textContent.trim().slice(0, 50)}`)"""
#: What the browser itself counts as moved under the hand, added up.
SHIFTS = """window.shifted = 0; new PerformanceObserver((list) => list.getEntries().forEach((entry) => {
  if (!entry.hadRecentInput) window.shifted += entry.value; })).observe({ type: "layout-shift", buffered: true });"""


@pytest.fixture(scope="module")
def counting(browser: Browser) -> Iterator[Page]:
    """A page that counts its shifts."""
    context = browser.new_context(locale="en-GB", viewport=AT_THE_MACHINE)
    page = context.new_page()
    page.add_init_script(SHIFTS)
    yield page
    context.close()


@pytest.fixture
def opened(counting: Page, demo: str, view: str) -> Iterator[Page]:
    """A view as if it were opened for the first time."""
    with cleaned(counting) as page:
        page.context.new_cdp_session(page).send("Network.clearBrowserCache")
        page.goto(demo + VIEWS[view])
        yield page


@pytest.mark.parametrize("view", VIEWS)
def test_a_view_is_whole_and_accessible(opened: Page):
    page = opened
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(200)
    assert page.evaluate("window.shifted") <= 0.05
    assert ONE_OF_SEVERAL.findall(page.inner_text("main")) == []
    for size, (width, height) in SIZES.items():
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(50)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, size
        small = page.evaluate(
            """() => [...document.querySelectorAll("button, a, .p-select, input:not([type=checkbox])")]
              .filter((e) => e.offsetParent
                && Math.min(e.offsetWidth, e.offsetHeight) < (e.closest("header") && innerWidth < 400 ? 40 : 44))
              .map((e) => `${e.textContent} ${e.offsetWidth}×${e.offsetHeight}`)"""
        )
        assert not small, (size, small)
        assert len(types := page.evaluate(TYPE_SIZES)) <= MOST_TYPE_SIZES, (size, types)
    assert axe_violations(page) == []
    assert faint_strokes(page) == []
    assert page.evaluate(WORDS) <= MOST_WORDS
    # In the dark nothing changes but the colors.
    page.get_by_role("button", name="Dark", exact=True).click()
    page.wait_for_timeout(300)
    assert axe_violations(page, "color-contrast") == []
    assert faint_strokes(page) == []
    nothing_is_cut_spaced_out_and_zoomed(page)


def nothing_is_cut_spaced_out_and_zoomed(page: Page) -> None:
    """Text as wide as a reader may set it (WCAG 2.2, 1.4.12), and a laptop's screen at 200 and 400%: all is there."""
    page.set_viewport_size({"width": 640, "height": 400})
    page.wait_for_timeout(50)
    head = page.evaluate("document.querySelector('header').getBoundingClientRect().height")
    assert head <= 400 / 6, "at most a sixth of what is seen"
    page.add_style_tag(content=SPACED)
    for size, (width, height) in {**SIZES, "zoomed": (640, 400), "zoomed twice": (320, 200)}.items():
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(50)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, size
        assert page.evaluate(CUT) == [], size


def faint_strokes(page: Page) -> list[dict[str, object]]:
    """Return the shapes that carry meaning and are told from their ground by less than 3 to 1."""
    shapes = page.evaluate(STROKES.read_text(encoding="utf-8"))
    return [shape for shape in shapes if shape["contrast"] < 3 and shape["name"] not in GROUNDS]


def test_the_keys_help_and_the_search(page: Page, demo: str):
    page.goto(f"{demo}/1/thread")
    page.get_by_role("row", name="Ebb 40").wait_for()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("Search this station")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).not_to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("rayon 40")
    expect(page.get_by_role("row")).to_have_count(2)
    page.keyboard.press("Control+a")
    page.keyboard.type("nothing like it")
    expect(page.get_by_text("Nothing in the drawer matches")).to_be_visible()


def test_striking_a_thread_out_can_be_undone(page: Page, demo: str):
    page.goto(f"{demo}/1/thread")
    page.get_by_role("button", name="Edit: Tideline 12").click()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_role("row", name="Tideline 12")).not_to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("row", name="Tideline 12")).to_be_visible()


def test_it_is_as_dark_as_the_system_until_somebody_chooses_and_paper_is_light(page: Page, demo: str):
    ground = "getComputedStyle(document.documentElement).backgroundColor"
    page.goto(f"{demo}/1/thread")
    light = page.evaluate(ground)
    page.emulate_media(color_scheme="dark")
    expect(page.get_by_role("button", name="Day", exact=True)).to_be_visible()
    assert page.evaluate(ground) != light
    page.emulate_media(color_scheme="dark", media="print")
    assert page.evaluate(ground) == light
    page.emulate_media(color_scheme="dark", media="screen")
    page.get_by_role("button", name="Day", exact=True).click()
    page.reload()
    expect(page.get_by_role("button", name="Dark", exact=True)).to_be_visible()
    assert page.evaluate(ground) == light
    page.emulate_media(color_scheme="no-preference")


def test_the_ring_of_what_has_the_focus_stands_out_from_every_ground(page: Page, demo: str):
    """By the contrast of the Web Content Accessibility Guidelines 2.2, 1.4.11: 3 to 1."""
    page.goto(f"{demo}/1/thread")
    for scheme in ("light", "dark"):
        page.evaluate("(dark) => document.documentElement.classList.toggle('evening', dark)", scheme == "dark")
        names = ("--ring", "--panel", "--linen", "--indigo", "--indigo-deep", "--cloth", "--amber-wash")
        colors = page.evaluate(
            "(names) => names.map((n) => getComputedStyle(document.documentElement).getPropertyValue(n))", names
        )
        ring, *grounds = (light_of(color.strip()) for color in colors)
        for name, ground in zip(names[1:], grounds, strict=True):
            assert (max(ring, ground) + 0.05) / (min(ring, ground) + 0.05) >= 3, (scheme, name)


def light_of(color: str) -> float:
    """Return a color's relative luminance (WCAG 2.2)."""
    figures = color[1:] if len(color) == 7 else "".join(2 * figure for figure in color[1:])
    parts = [int(figures[at : at + 2], 16) / 255 for at in (0, 2, 4)]
    linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


#: What the hand does at each station, on the demo: the page, what is tapped, and from how wide a screen on it is in the
#: first screen, which is nearly always from a phone.
ACTS = {
    "the last picture to judge by": ("/1/balance", ".look >> nth=-1", 390),
    "save the reading": ("/1/bobbin", "button:has-text('Save reading')", 390),
    "fit this needle": ("/1/needle", "button:has-text('Fit this one')", 390),
    "take the needle out": ("/3/needle?part=in", 'button:has-text("It\'s out")', 390),
    "the old needle out, a new one in": ("/3/needle?part=in", "button:has-text('Out, ')", 390),
    "note a needle as fitted": ("/3/needle?part=in", "button:has-text('Note it as fitted')", 820),
    "start the clock": ("/1/run", "button:has-text('Start the clock')", 390),
    "start the clock, though there is trouble": ("/2/run", "button:has-text('Start the clock')", 390),
    "note a break": ("/2/run", "button[aria-label^='Thread broke, kept going']", 390),
    "add a thread from its label": ("/1/thread", "button:has-text('Add from a label')", 390),
    "a pass is done": ("/3/run?part=plan", "button:has-text('is done')", 390),
    "begin a pass": ("/1/run?part=plan", "button:has-text('Begin')", 390),
    "done, at upkeep": ("/1/mend?part=upkeep", "button:has-text('Done now')", 390),
    "it was fine, at a check": ("/2/mend", "button:has-text('Not it')", 390),
}


#: Presses of Tab from the top of a page to any act of a station.
MOST_STOPS = 25


@pytest.mark.parametrize("act", ACTS)
def test_the_act_of_a_station_is_in_the_first_screen_and_the_keyboard_skips_the_head(page: Page, demo: str, act: str):
    path, what, smallest = ACTS[act]
    page.goto(f"{demo}{path}")
    # One Tab stop stands for all pictures, with arrows inside.
    done, button = page.locator(what).first, page.locator(what.replace(" >> nth=-1", "")).first
    expect(done).to_be_visible()
    page.wait_for_load_state("networkidle")
    for width, height in ((390, 844), (820, 1180), (1280, 800)):
        if width < smallest:
            continue
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(50)
        foot = done.evaluate("each => each.getBoundingClientRect().bottom")
        print(f"{act} at {width}: {foot:.0f}")
        assert foot <= height, (act, width)
    if button.is_disabled():
        page.get_by_label("Pull 1").fill("200")
    expect(button).to_be_enabled()
    # From the top of the page, wherever the hand was: Tab goes on from what was focused last.
    page.evaluate("document.documentElement.tabIndex = -1; document.documentElement.focus()")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    stops = 2
    while stops <= MOST_STOPS and not button.evaluate("each => each === document.activeElement"):
        page.keyboard.press("Tab")
        stops += 1
    print(f"stops to {act}: {stops}")
    assert stops <= MOST_STOPS


@pytest.mark.parametrize("width", [390, 320])
def test_seven_marks_and_the_machine_in_the_hand(page: Page, demo: str, width: int):
    page.set_viewport_size({"width": width, "height": 640})
    page.goto(f"{demo}/1/run")
    head = page.locator("header")
    expect(head.locator("nav a svg")).to_have_count(7)
    box = head.bounding_box()
    assert box is not None
    assert box["height"] <= 104
    for mark in head.locator("nav a").all():
        place = mark.bounding_box()
        assert place is not None
        assert place["x"] >= 0
        assert place["x"] + place["width"] <= width
    expect(head.locator("a.here .name")).to_contain_text("Run")
    expect(head.locator("a.here .name")).to_be_in_viewport()
    name = head.get_by_role("combobox", name="Machine")
    # "Heron" and the arrow beside it.
    assert name.evaluate("each => each.clientWidth") >= 80
    page.set_viewport_size(AT_THE_MACHINE)


def test_decimals_of_a_reader_with_a_comma(demo: str, browser: Browser):
    """No decimal point on what the machine says: by a German browser, on the views with the most figures."""
    context = browser.new_context(locale="de-DE", viewport=AT_THE_MACHINE)
    page = context.new_page()
    shown = ""
    for part in ("1/thread", "1/needle", "2/bobbin", "2/balance", "1/run?part=quilts", "1/run?part=plan"):
        page.goto(f"{demo}/{part}")
        page.wait_for_load_state("networkidle")
        shown += page.inner_text("main")
    context.close()
    assert len(re.findall(r"\d,\d", shown)) > 20
    assert re.findall(r".*\d\.\d{1,2}\b.*", shown) == []


@pytest.mark.parametrize("path", ["1/balance", "2/bobbin", "1/log?part=evidence", "1/run?part=plan", "1/needle"])
def test_a_printed_page_is_the_answer_without_controls(page: Page, demo: str, path: str):
    """Light, also where the screen is dark; its machine and day stand over it; nothing to press or to type into."""
    page.emulate_media(color_scheme="dark")
    page.goto(f"{demo}/{path}")
    expect(page.locator("[data-answer], .answer, h2").first).to_be_visible()
    answers = [text for text in page.locator("[data-answer]").all_inner_texts() if text.strip()]
    page.emulate_media(media="print", color_scheme="dark")
    shown = page.locator("main").inner_text()
    assert all(answer.split("\n")[0] in shown for answer in answers)
    pressed = "button:not(.word button), input, select, textarea, .thread-line"
    assert [each.inner_text() for each in page.locator(pressed).all() if each.is_visible()] == []
    printed = PdfReader(BytesIO(page.pdf())).pages[0].extract_text()
    assert re.search(rf"^(Heron|Plover), {datetime.now():(%b %-d|%-d %b)}$", printed, re.MULTILINE), printed
    ground = page.evaluate("getComputedStyle(document.body).backgroundColor")
    assert ground in ("rgb(255, 255, 255)", "rgba(0, 0, 0, 0)")
    page.emulate_media(media="screen", color_scheme="light")
    expect(page.locator(".print-only")).to_be_hidden()


def test_the_line_is_sewn_in_the_threads_that_are_on(page: Page, demo: str):
    """Each part in the top thread's color over the bobbin's; trouble breaks it, a caution draws the bobbin up."""
    for machine in (1, 2, 3):
        page.goto(f"{demo}/{machine}/run")
        asked = page.request.get(f"{demo}/api/machines/{machine}/line").json()
        colors = {asked["setup"]["top"][0]["color"], asked["setup"]["bobbin"]["color"]}
        expect(page.locator("nav .sewn")).to_have_count(7)
        expect(page.locator("nav .sewn path[stroke]").first).to_be_attached()
        drawn = {knot["station"]: page.locator("nav .sewn").nth(n) for n, knot in enumerate(asked["knots"])}
        for knot in asked["knots"]:
            sewn = drawn[knot["station"]]
            paths = sewn.locator("path").evaluate_all(
                "(all) => all.map((p) => [p.getAttribute('stroke'), p.getAttribute('d')])"
            )
            if knot["state"] == "to_do":
                assert [stroke for stroke, _ in paths] == [None], "holes alone"
                continue
            assert {stroke for stroke, _ in paths if stroke} == colors
            top = next(d for stroke, d in paths if stroke == asked["setup"]["top"][0]["color"])
            # From hole to hole eight times, unless it is broken in the middle.
            assert top.count("Q") == (4 if knot["state"] == "trouble" else 8), knot
            assert any(".01" in d for _, d in paths) == (knot["state"] == "caution"), "dots where it wants a look"


WORDS_EXPLAINED = """[...(CSS.highlights.get('explained') ?? [])].map(
    (word) => [word.toString(), word.getBoundingClientRect().toJSON()])"""


def test_a_word_of_the_trade_is_explained_where_it_stands(page: Page, demo: str):
    page.goto(f"{demo}/1/bobbin")
    expect(page.get_by_role("button", name="Save reading")).to_be_visible()
    for _ in range(100):
        if marked := page.evaluate(WORDS_EXPLAINED):
            break
        page.wait_for_timeout(100)
    told = [word for word, _ in marked]
    assert "mN" in told and len(set(told)) == len(told), "each word once"
    box = dict(marked)["mN"]
    note = page.locator(".term")
    for close in (lambda: page.keyboard.press("Escape"), lambda: page.get_by_role("heading").nth(1).click()):
        page.mouse.click(box["x"] + 3, box["y"] + box["height"] / 2)
        expect(note).to_contain_text("Millinewton, the unit of a pull")
        close()
        expect(note).to_be_empty()
