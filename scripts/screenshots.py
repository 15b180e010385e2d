"""Refresh docs/screenshots from the demo: one picture of each main view at 1280×800."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from PIL import Image
from playwright.sync_api import Page

from browser import chromium, server

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
#: What somebody has in a spreadsheet, for the picture of bringing it in.
PASTED = (
    "Thread\tWeight\tFiber\tLength\nGlasswrack\t50\tcotton\t1000 m\nBladderwrack\t120d x 2\ttrilobal\t2500 yd\n"
    "Dulse\t\tsilk\t\nSaltmarsh again\t40/3\tpolyester\t5000 m\n"
)
VIEWS = {
    "thread": "/1/thread",
    "bundle": "/1/thread",
    "look": "/1/thread?part=look",
    "combination": "/1/thread?part=new",
    "path": "/1/thread?part=path",
    "sheet": "/1/thread?part=sheet",
    "needle": "/1/needle",
    "needle-in": "/3/needle?part=in",
    "needle-drawer": "/1/needle?part=drawer",
    "bobbin": "/2/bobbin",
    "screw": "/1/bobbin",
    "rack": "/1/bobbin?part=rack",
    "live": "/1/bobbin?part=live",
    "winding": "/1/bobbin?part=wind",
    "balance": "/1/balance",
    "sandwich": "/1/balance?part=cut",
    "cloth": "/1/balance?part=cloths",
    "recipes": "/1/balance?part=recipes",
    "run": "/2/run",
    "quilts": "/1/run?part=quilts",
    "plan": "/3/run?part=plan",
    "plan-begins": "/1/run?part=plan",
    "walks": "/3/run?part=walks",
    "mend": "/1/mend",
    "check": "/2/mend",
    "log": "/1/log",
    "evidence": "/1/log?part=evidence",
    "workshop": "/1/workshop",
    "exchange": "/1/workshop?part=exchange",
    "practice": "/1/practice",
    "fault": "/1/practice?exercise=fault",
}
#: Looked at by the tests and not among the pictures.
NOT_PICTURED = {
    *("bundle", "live", "look", "needle-drawer", "needle-in", "path"),
    *("plan-begins", "quilts", "sandwich", "screw", "sheet", "walks", "winding"),
}


#: A picture of which one color takes so much shows nothing: the page had not appeared yet.
ONE_COLOR = 0.9


def share_of_one_color(picture: Path) -> float:
    """Return how much of a picture its most frequent color takes, shades that the eye takes for one together."""
    with Image.open(picture) as image:
        shades = image.convert("RGB").quantize(32).getcolors() or []
    return max(count for count, _ in shades) / sum(count for count, _ in shades)


def take(page: Page, target: Path) -> None:
    """Take a picture of a page that has appeared; raises ValueError for one that is nearly one color."""
    page.locator(".unsettled").wait_for(state="detached")
    page.wait_for_timeout(200)
    page.screenshot(path=target)
    if (share := share_of_one_color(target)) > ONE_COLOR:
        raise ValueError(f"{target.name} is {share:.0%} one color: nothing to be seen")


def prepare(page: Page, name: str) -> None:
    """Bring a view to where it has something to show."""
    if name == "bundle":
        for thread in ("Shingle 30", "Driftwood 40", "Samphire 50"):
            page.get_by_label(f"Choose {thread}").check()
            page.wait_for_timeout(400)
        page.get_by_label("Chosen threads").scroll_into_view_if_needed()
        page.evaluate("window.scrollTo(0, 0)")
        page.wait_for_timeout(300)
    elif name == "combination":
        page.get_by_role("combobox", name="Which thread?").fill("gold")
        page.get_by_role("option", name="Phosphor gold").click()
        page.locator("[data-answer]").wait_for()
        page.wait_for_timeout(500)
    elif name == "screw":
        for reading in ("162", "164"):
            page.locator("input.reading").fill(reading)
            page.keyboard.press("Enter")
            page.wait_for_timeout(400)
    elif name == "live":
        page.get_by_role("combobox", name="The stand-in plays").click()
        page.get_by_role("option", name="bent case").click()
        page.get_by_role("button", name="Start").click()
        page.locator("[data-answer]").wait_for(timeout=30_000)

    elif name in ("practice", "fault"):
        page.get_by_role("textbox", name="Your name").fill("Ada")
        page.get_by_role("button", name="Read the cloth" if name == "practice" else "Find the fault").click()
        page.get_by_role("button", name="balanced" if name == "practice" else "Switch it off").click()
        # What the move was worth is said above the next one.
        page.locator(".said").wait_for()
    elif name == "cloth":
        page.locator(".cloths button").first.click()
        page.locator(".board .cell[aria-pressed='true']").first.wait_for()
    elif name == "exchange":
        page.get_by_label("Or rows copied").fill(PASTED)
        page.get_by_role("button", name="Look at these rows").click()
        page.get_by_text("can be saved").wait_for()
        page.get_by_role("button", name="all 4").click()
        page.get_by_role("row", name="Saltmarsh again").wait_for()

    elif name == "workshop":
        page.get_by_role("button", name="Copy now").click()
        page.get_by_text("Copied and checked").wait_for()
        page.get_by_role("button", name="Go back to it").first.click()
        page.get_by_text("records, from").wait_for(timeout=10_000)
        # The picture shows where a workshop usually lies, not the folder it was taken in.
        page.evaluate(
            """() => document.querySelectorAll("code").forEach((e) => {
              e.textContent = e.textContent.replace(/^\\/.*\\/(?=[^/]*$)/, "~/.local/share/weftonos/");
            })"""
        )
        page.evaluate("window.scrollTo(0, 0)")


def main(target: Path, only: list[str]) -> None:
    target.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, server(Path(folder)) as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.on("pageerror", lambda error: print("page error:", error))
        page.on("console", lambda message: print("console:", message.text) if message.type == "error" else None)
        for name, path in VIEWS.items():
            if (only and name not in only) or name in NOT_PICTURED:
                continue
            page.goto(address + path)
            page.wait_for_load_state("networkidle")
            page.wait_for_timeout(300)
            prepare(page, name)
            take(page, target / f"{name}.png")
        if not only or "start" in only:
            with tempfile.TemporaryDirectory() as empty, server(Path(empty), command="serve") as first:
                page.goto(first)
                for answer in (
                    "a longarm on a frame",
                    "a number on a display",
                    "in a case to take out",
                    "a gauge in mN",
                ):
                    page.get_by_role("button", name=answer, exact=True).click()
                page.get_by_role("heading", name="Which needles does it take?").wait_for()
                page.wait_for_timeout(700)
                take(page, target / "start.png")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else TARGET, sys.argv[2:])
