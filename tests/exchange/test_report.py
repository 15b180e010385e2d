"""The technician's sheet: everything on it lies on the paper, in letters that print."""

from io import BytesIO
from itertools import pairwise
from xml.etree import ElementTree

import pytest
from pypdf import PdfReader

from weftonos.exchange.lettering import width_mm
from weftonos.exchange.report import Curve, Section, report
from weftonos.exchange.strip import PAPERS, Paper, to_pdf, to_svg

NUMBERS = [("Machine", "Heron, longarm, throat 24 in"), ("Bobbin reads", "202 mN, swing 3%")]


def sheet(checks: list[str], paper: Paper = Paper.A4):
    sections = [
        Section(head="What is seen", lines=["frays above the eye"]),
        Section(head="Checked", lines=checks),
        Section(head="Upkeep"),
    ]
    return report(
        title="Heron: for the technician",
        date="Noted 25 November 2026",
        numbers=NUMBERS,
        sections=sections,
        foot="The manual decides.",
        paper=paper,
    )


@pytest.mark.parametrize("paper", Paper)
@pytest.mark.parametrize("count", [0, 1, 12, 80])
def test_nothing_runs_off_the_paper_and_nothing_is_left_out(count, paper):
    wide, high = PAPERS[paper]
    said = [f"Check {n}, said at some length so that it has to be broken over lines: not it" * 2 for n in range(count)]
    pages = sheet(said, paper)
    for page in pages:
        assert (page.width, page.height) == (wide, high)
        assert all(0 < w.x < wide and 0 < w.y < high - 5 for w in page.words)
        assert all(w.x + width_mm(w.text, w.size_mm, bold=w.bold) <= wide - 17.9 for w in page.words)
        assert "The manual decides." in [w.text for w in page.words]
    text = " ".join(w.text for page in pages for w in page.words)
    assert all(f"Check {n}," in text for n in range(count))
    assert len(pages) == (1 if count < 20 else 4 if paper is Paper.A4 else 5)


def test_what_is_empty_is_left_out():
    words = [w.text for w in sheet([])[0].words]
    assert "What is seen" in words
    assert {"Checked", "Upkeep"}.isdisjoint(words)
    assert "For" not in [w.text for w in report("Avocet", "today", numbers=[("For", "")])[0].words]


def whose(pages, begins):
    """On which page each text stands that begins so."""
    return {w.text: n for n, page in enumerate(pages) for w in page.words if w.text.startswith(begins)}


@pytest.mark.parametrize("before", range(1, 60, 3))
def test_no_entry_is_parted_and_no_heading_or_last_row_stands_alone(before):
    """Wherever a page ends: an entry of three lines is on one page, a short section and a table's head with rows."""
    long = "Entry of three lines: " + "said at some length, so that it has to be broken over lines " * 4
    pages = report(
        "Everything",
        "today",
        sections=[
            Section(head="First", lines=["short"] * before),
            Section(head="Entries", lines=[f"{n} {long}" for n in range(12)]),
            Section(head="Few", lines=["few a", "few b"]),
            Section(head="Rows", table=[("Thread", "Hours"), *((f"row {n}", str(n)) for n in range(40))]),
        ],
    )
    on = [[n for n, page in enumerate(pages) for w in page.words if w.text.startswith(f"{k} Entry")] for k in range(12)]
    assert all(len(each) == 1 for each in on)
    for page in pages:
        # What follows an entry's first line stands below it on the same page.
        lasts = [w for w in page.words if w.text.startswith("said") or w.text.startswith("over lines")]
        firsts = [w for w in page.words if "Entry of" in w.text]
        assert not lasts or min(w.y for w in lasts) > min(w.y for w in firsts)
    few = whose(pages, ("Few", "few"))
    assert len(set(few.values())) == 1
    rows, heads = whose(pages, "row "), whose(pages, ("Rows", "Thread"))
    assert set(heads.values()) == {rows["row 0"]}
    last = [n for n in rows.values() if n == max(rows.values())]
    assert len(last) >= 2, "no last row alone"


def test_boxes_rules_curves_and_sections_side_by_side_are_drawn():
    curve = Curve(name="steel", steps=[(2.0, 0.8), (5.0, 0.4), (9.0, 0.4)], unit="h")
    (page,) = report(
        "All kinds",
        "today",
        sections=[
            Section(head="Evening 1", lines=["Wind", "Sew"], boxes=True, narrow=True),
            Section(head="Evening 2", lines=["Clean"], boxes=True, narrow=True),
            Section(head="Write", lines=["What is wrong?"], rules=3),
            Section(head="Lives", curves=[curve]),
        ],
    )
    at = {w.text: (w.x, w.y) for w in page.words}
    assert at["Evening 1"][1] == at["Evening 2"][1], "beside each other"
    assert at["Evening 2"][0] - at["Evening 1"][0] > 80
    squares = [s for s in page.strokes if s.width == 0.25 and abs(s.x2 - s.x1) == pytest.approx(3) and s.y1 == s.y2]
    assert len(squares) == 2 * 3
    ruled = [s for s in page.strokes if s.width == 0.2]
    assert [b.y1 - a.y1 for a, b in pairwise(ruled)] == [9, 9]
    # The curve falls at 2 and 5 of 9 hours, from all to 0.8 and to 0.4 of its height.
    steps = [s for s in page.strokes if s.width == 0.6]
    left, right = min(s.x1 for s in steps), max(s.x2 for s in steps)
    falls = [((s.x1 - left) / (right - left) * 9, s.y2 - s.y1) for s in steps if s.x1 == s.x2 and s.y1 != s.y2]
    assert [at for at, _ in falls] == pytest.approx([2, 5])
    assert falls[1][1] / falls[0][1] == pytest.approx(0.4 / 0.2)


def test_both_formats_carry_the_same_words_in_their_own_letters():
    pages = sheet(["Heat: not it", "Groove at six o’clock: cannot tell", "<b> & –", "“Łódź”, Żuraw, ½ turn"])
    text = PdfReader(BytesIO(to_pdf(*pages))).pages[0].extract_text()
    root = ElementTree.fromstring(to_svg(*pages))
    words = [node.text for node in root.iter("{http://www.w3.org/2000/svg}text")]
    for said in ("202 mN, swing 3%", "<b> & –", "“Łódź”, Żuraw, ½ turn", "Groove at six o’clock: cannot tell"):
        assert said in text
        assert said in words
