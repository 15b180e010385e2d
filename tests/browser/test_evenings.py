"""Two evenings as a new user spends them on an empty workshop, by touch: on a phone, then on a tablet.

Taps and typed letters from a thread in the hand to a kept recipe are counted; the figures stand in docs/guide.md.
With ``WEFTONOS_KEYBOARD=1`` both are walked by the keyboard alone, which takes minutes; ``make torture`` does so.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, Locator, Page, expect

from browser import server

#: What the way from a thread of the drawer to a kept recipe may take.
MOST_TAPS, MOST_LETTERS = 40, 30


class Hand:
    """A finger on a screen, that counts what it does."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.taps = self.letters = 0

    def tap(self, name: str | re.Pattern[str], role: str = "button", nth: int = 0) -> None:
        self.on(self.page.get_by_role(role, name=name, exact=isinstance(name, str)).nth(nth))

    def on(self, what: Locator) -> None:
        what.tap()
        self.taps += 1

    def write(self, label: str, text: str, exact: bool = False) -> None:
        field = self.page.get_by_label(label, exact=exact).first
        self.on(field)
        field.fill(text)
        self.letters += len(text)

    def station(self, name: str) -> None:
        link = self.page.get_by_role("navigation", name="Stations").get_by_role("link", name=re.compile(f"^{name} "))
        self.on(link)

    def says(self, text: str) -> None:
        expect(self.page.get_by_role("status").filter(has_text=text).first).to_be_visible()

    def look(self, grade: str) -> None:
        self.tap(re.compile(f"^{grade}. Front"))
        expect(self.page.get_by_role("status").filter(has_text="Saved:").first).to_be_visible()
        # A tap too many is no tap: the pictures rest for a moment.
        expect(self.page.get_by_role("button", name=re.compile("^balanced. Front"))).to_be_enabled()

    @contextmanager
    def counted(self) -> Iterator[list[int]]:
        """Yield a list that holds taps and letters once it is over."""
        before, told = (self.taps, self.letters), list[int]()
        yield told
        told += [self.taps - before[0], self.letters - before[1]]


class Keys(Hand):
    """The keyboard alone: Tab until it is there, then Enter."""

    MOST_TABS = 400

    def on(self, what: Locator) -> None:
        self.reach(what)
        self.page.keyboard.press("Enter")
        self.taps += 1

    def write(self, label: str, text: str, exact: bool = False) -> None:
        self.reach(self.page.get_by_label(label, exact=exact).first)
        self.page.keyboard.press("Control+A")
        self.page.keyboard.type(text)
        self.taps += 1
        self.letters += len(text)

    def reach(self, what: Locator) -> None:
        expect(what).to_be_visible()
        expect(what).to_be_enabled()
        is_on = "(it) => it === document.activeElement || it.closest('summary') === document.activeElement"
        for _ in range(self.MOST_TABS):
            if what.evaluate(is_on):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"the keyboard does not get to {what}")


KEYBOARD = bool(os.environ.get("WEFTONOS_KEYBOARD"))


@contextmanager
def finger(browser: Browser, address: str, width: int, height: int) -> Iterator[Hand]:
    context = browser.new_context(
        locale="en-GB", viewport={"width": width, "height": height}, has_touch=not KEYBOARD, is_mobile=not KEYBOARD
    )
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.goto(address)
    yield Keys(page) if KEYBOARD else Hand(page)
    assert not errors
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    context.close()


def add_threads(hand: Hand, *labels: str) -> None:
    hand.tap("Add from a label")
    for n, label in enumerate(labels):
        hand.write("What the label says", label)
        expect(hand.page.locator("[data-answer]").first).to_contain_text("tex")
        hand.tap("Put it in the drawer" if n == len(labels) - 1 else "Save and add another")
        hand.says("is in the drawer")
        if n < len(labels) - 1:
            expect(hand.page.get_by_label("What the label says")).to_have_value("")


def fit_the_needle(hand: Hand) -> None:
    hand.tap("Fit this one")
    hand.tap("Note it as fitted")
    hand.says("fitted")


def keep(hand: Hand, name: str) -> None:
    hand.write("Name, like the quilt", name)
    hand.tap("Save as recipe")
    hand.says("In the recipe book")


def head_is_low(page: Page) -> None:
    assert page.locator("header.thread-line").bounding_box()["height"] <= 96


def test_the_first_evening_at_a_home_machine_without_a_gauge_on_a_phone(browser: Browser, tmp_path: Path):
    with server(tmp_path, command="serve") as address, finger(browser, address, 390, 844) as hand:
        page = hand.page
        for choice in ("a domestic machine", "a dial with numbers", "it drops in", "130/705 H, with a flat side"):
            hand.tap(choice)
        hand.tap("millimeters and meters")
        hand.write("Its name", "Wren")
        hand.tap("That's my machine")
        expect(page.get_by_text("Next, in this order")).to_be_visible()
        head_is_low(page)
        # Six threads from their labels.
        labels = ("Tern 40wt cotton", "Fine 60/2 poly", "Gloss 120d x 2 trilobal", "Below 80wt polyester")
        add_threads(hand, *labels, "Glass 0.1 mm clear", "Bold 12wt cotton")
        with hand.counted() as spent:
            hand.tap("On top: Tern")
            hand.says("On top: Tern")
            # Which needle, and it goes in.
            hand.station("Needle")
            expect(page.locator("[data-answer]")).to_contain_text("90/14")
            fit_the_needle(hand)
            hand.station("Thread")
            hand.tap("In bobbin: Below")
            hand.says("In the bobbin: Below")
            # A test in four looks, kept.
            hand.station("Balance")
            for grade in ("top a little loose", "top a little loose", "top a little tight", "balanced"):
                hand.look(grade)
            keep(hand, "Evening one")
        taps, letters = spent
        print(f"without a gauge: {taps} taps, {letters} letters")
        assert taps <= MOST_TAPS
        assert letters <= MOST_LETTERS
        # The bobbin that drops in is judged by the stitch; nobody is asked for a gauge.
        hand.station("Bobbin")
        expect(page.get_by_text("The stitch is its gauge")).to_be_visible()
        # It shreds; the cause is found and cured.
        hand.station("Run")
        hand.write("Quilt", "First One", exact=True)
        hand.tap("Start the clock")
        expect(page.get_by_text("Stitching on First One")).to_be_visible()
        hand.tap("It went wrong", role="link")
        hand.tap(re.compile("^Frays above the eye"))
        hand.tap("Find the cause")
        for _ in range(25):
            if page.get_by_role("button", name="Found it").is_visible():
                break
            hand.on(page.get_by_role("button", name=re.compile("^(No|Can't tell)$")).first)
            page.wait_for_timeout(400)
        hand.tap("Found it")
        hand.tap("Done, sew on")
        expect(page.get_by_text("What do you see?")).to_be_visible()
        # The evening is closed.
        hand.station("Run")
        hand.tap("Stop the clock")
        hand.says("stitched on First One")
        head_is_low(page)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_the_second_evening_on_a_longarm_with_three_cases_on_a_tablet(browser: Browser, tmp_path: Path):
    with server(tmp_path, command="serve") as address, finger(browser, address, 820, 1180) as hand:
        page = hand.page
        for choice in ("a domestic machine", "a dial with numbers", "it drops in", "I don't know"):
            hand.tap(choice)
        hand.tap("inches and yards")
        hand.write("Its name", "Wren")
        hand.tap("That's my machine")
        add_threads(hand, "Tern 40wt trilobal", "Mist 100wt silk", "Below 80wt polyester", "Under 60wt poly")
        # A 26-inch longarm beside it, with a gauge in grams.
        hand.tap("Workshop", role="link")
        hand.tap("Another machine")
        hand.write("What you call it", "Heron")
        for choice in ("longarm", "on a frame", "digital readout", "a case to take out", "a gauge", "grams (g)"):
            hand.tap(choice)
        hand.write("Throat, inches", "26")
        hand.tap("Save machine")
        page.wait_for_url("**/2/thread")
        hand.station("Bobbin")
        hand.tap("The rack")
        for label in ("A", "B", "C"):
            hand.write("Case label", label)
            hand.tap("Put the case on the rack")
            hand.says(f"Case {label} is on the rack")
        hand.station("Thread")
        with hand.counted() as spent:
            hand.tap("On top: Tern")
            hand.says("On top: Tern")
            hand.tap("In bobbin: Below")
            hand.says("In the bobbin: Below")
            hand.station("Needle")
            fit_the_needle(hand)
            hand.station("Bobbin")
            for pull in ("20.6", "21"):
                hand.write("Pull", pull)
                hand.tap("Add this pull")
            hand.tap("Save reading")
            hand.says("Saved: 20.8 g")
            hand.station("Balance")
            for grade in ("top a little loose", "balanced"):
                hand.look(grade)
            keep(hand, "First quilt")
        taps, letters = spent
        print(f"with a gauge: {taps} taps, {letters} letters")
        assert taps <= MOST_TAPS
        assert letters <= MOST_LETTERS
        hand.station("Run")
        hand.tap("Quilts")
        hand.tap("Another quilt is on")
        hand.write("Its name", "Avocet")
        hand.write("Who it's for", "a raffle")
        hand.tap("It's on the frame")
        hand.says("Quilting Avocet, for a raffle")
        hand.tap("At the machine")
        hand.on(page.get_by_text("Or note the time by hand"))
        hand.write("Minutes stitched", "90")
        hand.write("Stitched, yd, if known", "100")
        hand.tap("Note the minutes")
        hand.says("1 h 30 min stitched on Avocet, 100 yd")
        # A second quilt with another thread, and back to the first by its recipe.
        hand.tap("Quilts")
        hand.tap("Another quilt is on")
        hand.write("Its name", "Redshank")
        hand.tap("It's on the frame")
        hand.says("Quilting Redshank")
        hand.station("Thread")
        hand.tap("On top: Mist")
        hand.says("On top: Mist")
        hand.station("Balance")
        hand.tap("Recipe book")
        hand.tap("Use this today: First quilt")
        expect(page.get_by_label("Putting back First quilt")).to_be_visible()
        hand.station("Thread")
        hand.tap("On top: Tern")
        hand.says("On top: Tern")
        # A bobbin that flutters is a fault, not a number.
        hand.station("Bobbin")
        hand.tap("low and high")
        for low, high in (("14", "28"), ("13", "29")):
            for value in (low, high):
                hand.write("Pull", value)
                hand.tap(re.compile("That's the lowest|Add this pull"))
        expect(page.locator(".gauge-verdict").first).to_contain_text("It flutters")
        hand.tap("Save reading")
        hand.says("Saved")
        # The needle is changed.
        hand.station("Needle")
        fit_the_needle(hand)
        # Card and label are printed, and every record of the first quilt is found.
        hand.station("Balance")
        hand.tap("Recipe book")
        card = page.get_by_role("link", name=re.compile("card", re.IGNORECASE)).first.get_attribute("href")
        hand.station("Bobbin")
        hand.tap("The rack")
        label = page.get_by_role("link", name="Label of case A, PDF").get_attribute("href")
        for path in (card, label):
            assert "units=gf%2Cinch" in path
            assert page.request.get(f"{address}{path}").body().startswith(b"%PDF")
        hand.station("Run")
        hand.tap("Quilts")
        hand.tap(re.compile("^Avocet"))
        expect(page.get_by_text("On it, for a raffle").or_(page.get_by_text("A quilt, for a raffle"))).to_be_visible()
        # What was set up and tested for it is on it, too.
        everything = page.get_by_role("link", name=re.compile(r"^All \d+ records"))
        # What was known of it before is shown until the page has asked anew.
        many = len(page.request.get(f"{address}/api/log?quilt=Avocet&limit=200").json()["entries"])
        assert many > 2
        expect(everything.first).to_contain_text(f"All {many} records")
        hand.tap(re.compile(r"^All \d+ records"), role="link")
        expect(page.locator(".text")).to_have_count(many)
        head_is_low(page)
