"""What is saved is what the form showed: every form is filled, read as it shows it, saved, and found in the file."""

from __future__ import annotations

import json
import re
import zipfile
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field
from io import BytesIO
from pathlib import Path
from typing import Any

from playwright.sync_api import Locator, Page, expect
from test_slice import choose

from browser import server


def same(shown: str, kept: Any) -> bool:
    """Say whether a field of the file says what its box showed."""
    if isinstance(kept, str):
        return shown.strip() == kept or shown.replace("-", "_") == kept
    return kept is not None and abs(float(shown.replace(",", ".")) - kept) < 0.01


@dataclass(frozen=True)
class Form:
    """A form: where it is, what opens it, what is typed into it, and in which field of the file each box is kept.

    ``kept`` is called with the document that is found in the export; a box is named by its label.
    """

    path: str
    kind: str
    save: str
    typed: Mapping[str, str]
    kept: Mapping[str, Callable[[Any], Any]]
    opens: tuple[str, ...] = ()
    chosen: Mapping[str, str] = field(default_factory=dict)
    taps: tuple[str, ...] = ()


def at(*names: str, times: float = 1) -> Callable[[Any], Any]:
    """Return what reads a field of a document."""

    def read(document: Any) -> Any:
        for name in names:
            document = document.get(name) if isinstance(document, dict) else None
        return document * times if times != 1 and document is not None else document

    return read


FORMS = (
    Form(
        "1/thread",
        "thread",
        "Put it in the drawer",
        {
            "What the label says": "Tern 40 wt cotton",
            "Name": "Tern of the north",
            "On it when new, m": "4500",
            "Price": "12,50",
            "Bought": "2026-05-03",
            "Needle its maker names": "90/14 topstitch",
            "Note": "from the shop by the quay",
        },
        {
            "Name": at("name"),
            "Number on the label": at("thread", "value"),
            "On it when new, m": at("length_m"),
            "Price": at("price"),
            "Bought": at("bought"),
            "Needle its maker names": at("needle_named"),
            "Note": at("note"),
            "Fiber": at("thread", "fiber"),
        },
        ("Add from a label", "More details, or correct what was read"),
        {"Fiber": "silk"},
    ),
    Form(
        "1/needle?part=drawer",
        "packet",
        "Put it in the drawer",
        {"Needle system": "134", "How many": "7", "Price of one": "1.25"},
        {
            "Needle system": at("system"),
            "How many": at("bought"),
            "Price of one": at("price"),
            "Point": at("point"),
            "Finish": at("finish"),
        },
        (),
        {"Point": "embroidery", "Finish": "titanium"},
    ),
    Form(
        "1/needle?part=in",
        "needle_fitted",
        "Note it as fitted",
        {"Needle system": "134"},
        {"Needle system": at("system"), "Point": at("point"), "Finish": at("finish")},
        ("Finish, system, and when",),
        {"Size": "90/14", "Point": "sharp"},
    ),
    Form(
        "1/bobbin?part=rack",
        "case",
        "Put the case on the rack",
        {"Case label": "Q", "For which fiber": "fine silk", "Its own range from": "110", "to, mN": "150"},
        {
            "Case label": at("label"),
            "For which fiber": at("kept_for"),
            "Its own range from": at("target", "low"),
            "to, mN": at("target", "high"),
        },
    ),
    Form(
        "1/bobbin?part=rack",
        "bobbin",
        "Put the bobbin on the rack",
        {"Bobbin label": "Q9", "How full": "60"},
        {"Bobbin label": at("label"), "How full": at("fill", times=100)},
        (),
        {"Thread": "Limpet 80"},
    ),
    Form(
        "1/balance",
        "look",
        "balanced. Front",
        {"Top tension setting": "185"},
        {"Top tension setting": at("setting")},
    ),
    Form(
        "1/balance",
        "recipe",
        "Save as recipe",
        {"Name, like the quilt": "Terns over limpets", "Note": "for the border"},
        {"Name, like the quilt": at("name"), "Note": at("note")},
    ),
    Form(
        "1/balance",
        "sandwich",
        "That's under the needle",
        {"Top fabric": "linen", "Batting": "bamboo", "Backing": "muslin"},
        {
            "Top fabric": at("sandwich", "fabric"),
            "Batting": at("sandwich", "batting"),
            "Backing": at("sandwich", "backing"),
            "Its loft": at("sandwich", "loft"),
        },
        ("The sandwich: wool",),
        {"Its loft": "low"},
    ),
    Form(
        "1/run",
        "run",
        "Note the minutes",
        {"Quilt": "Sandpiper", "Minutes stitched": "42", "Stitched, m": "60,5"},
        {"Quilt": at("quilt"), "Minutes stitched": at("minutes"), "Stitched, m": at("meters")},
        ("Or note the time by hand",),
    ),
    Form(
        "1/run?part=quilts",
        "quilt_on",
        "It's on the frame",
        {"Its name": "Whimbrel", "Who it's for": "a neighbor", "Note": "due in spring"},
        {"Its name": at("quilt"), "Who it's for": at("for_whom"), "Note": at("note")},
        ("Another quilt is on",),
    ),
    Form(
        "1/run?part=plan",
        "quilt_planned",
        "Save the plan",
        {"The quilt's name": "Whimbrel", "Width": "150", "Height": "180,5"},
        {"The quilt's name": at("quilt"), "Width": at("width_m", times=100), "Height": at("height_m", times=100)},
        ("Plan a quilt", "Edge to edge"),
    ),
    Form(
        "1/mend?part=upkeep",
        "upkeep",
        "Hook oiled: note it",
        {"What was found or done": "one drop, wiped off"},
        {"What was found or done": at("note")},
    ),
    Form(
        "1/bobbin",
        "bobbin_reading",
        "Save it as a number",
        {"Case, bobbin and weights": "21,5"},
        {"Case, bobbin and weights": lambda document: document["pulls"][0].get("value")},
        ("Without a gauge",),
    ),
    Form(
        "1/bobbin",
        "bobbin_reading",
        "Save reading",
        {"Pull 1": "204"},
        {"Pull 1": lambda document: document["pulls"][0].get("value")},
    ),
    Form(
        "2/balance",
        "mark_set",
        "The mark is here",
        {"say where": "where the border balanced"},
        {"say where": at("name")},
    ),
    Form(
        "1/workshop",
        "machine",
        "Save changes",
        {"What you call it": "Heron the elder", "Scale from": "90", "Scale to": "390", "Smallest step": "10"},
        {
            "What you call it": at("nickname"),
            "Scale from": at("scale", "low"),
            "Scale to": at("scale", "high"),
            "Smallest step": at("scale", "step"),
        },
        ("Change Heron",),
    ),
)


#: What is posted and only reads.
READS = re.compile(r"/compute/|read-label|/ladder$|/judge$|/exchange/")


@contextmanager
def sent(page: Page) -> Iterator[list[Any]]:
    """Collect what the server answers to writes."""
    answers: list[Any] = []

    def note(response: Any) -> None:
        writes = response.request.method in ("POST", "PUT") and not READS.search(response.url)
        if writes and response.status < 300:
            answers.append(response)

    page.on("response", note)
    yield answers
    page.remove_listener("response", note)


def box(within: Page | Locator, label: str) -> Locator:
    """Return the box of a label that begins so."""
    exact = within.get_by_label(label, exact=True)
    return (exact if exact.count() else within.get_by_label(label)).first


def fill(page: Page, form: Form) -> dict[str, str]:
    """Fill a form and return what it shows, box by box."""
    for opener in form.opens:
        page.get_by_role("button", name=opener).or_(page.locator("summary", has_text=opener)).first.click()
    saves = page.get_by_role("button", name=form.save).first
    within = page.locator("form").filter(has=page.get_by_role("button", name=form.save)).first
    scope: Page | Locator = within if within.count() else page
    for label, text in form.typed.items():
        box(page if form.kind == "run" else scope, label).fill(text)
    for label, option in form.chosen.items():
        if label == "Thread":
            box(scope, label).fill(option)
            page.get_by_role("option").filter(has_text=option).first.click()
        else:
            choose(page, label, option, scope if isinstance(scope, Locator) else None)
    for tap in form.taps:
        page.get_by_role("radio", name=tap).or_(page.get_by_role("button", name=tap)).last.click()
    shown = {}
    for label in form.kept:
        each = box(page if form.kind == "run" else scope, label)
        shown[label] = each.input_value() if each.evaluate("e => 'value' in e") else each.inner_text()
    saves.click()
    return shown


def everything(page: Page, address: str) -> list[Any]:
    """Return the lines of the whole workshop, as a person takes them along."""
    page.request.post(f"{address}/api/exchange/exports", data={})
    answer = page.request.get(f"{address}/api/exchange/exports/everything.zip")
    while answer.status != 200:
        page.wait_for_timeout(100)
        answer = page.request.get(f"{address}/api/exchange/exports/everything.zip")
    lines = zipfile.ZipFile(BytesIO(answer.body())).read("workshop.jsonl").decode().splitlines()
    return [json.loads(line) for line in lines]


def test_what_every_form_shows_is_what_the_file_keeps(page: Page, tmp_path: Path):
    seen: list[tuple[Form, dict[str, str]]] = []
    with server(tmp_path / "demo") as address:
        for form in FORMS:
            page.goto(f"{address}/{form.path}")
            first = form.opens[0] if form.opens else form.save
            button = page.get_by_role("button", name=first).or_(page.locator("summary", has_text=first)).first
            expect(button).to_be_attached()
            with sent(page) as answers:
                shown = fill(page, form)
                for _ in range(80):
                    if not answers:
                        page.wait_for_timeout(50)
            assert answers, (form.kind, page.get_by_role("alert").all_inner_texts())
            seen.append((form, shown))
        lines = everything(page, address)
        log = page.request.get(f"{address}/api/log.csv").text()
    compared, wrong = 0, []
    for form, shown in seen:
        newest = [line["document"] for line in lines if form.kind in (line["what"], line.get("kind"))]
        for label, text in shown.items():
            compared += 1
            if not any(same(text, form.kept[label](document)) for document in newest):
                wrong.append((form.kind, label, text))
    assert not wrong
    assert (len(seen), compared >= 38) == (len(FORMS), True)
    for words in ("Sandpiper", "Whimbrel", "90/14 sharp fitted", "185, free-motion: balanced", "Terns over limpets"):
        assert words in log, words
