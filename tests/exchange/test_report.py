"""The technician's sheet: everything on it lies on the paper, in letters that print."""

from io import BytesIO
from xml.etree import ElementTree

import pytest
from pypdf import PdfReader

from weftonos.exchange.report import report
from weftonos.exchange.strip import PAPERS, Paper, to_pdf, to_svg

WIDTH, HEIGHT = PAPERS[Paper.A4]
NUMBERS = [("Machine", "Heron, longarm, throat 24 in"), ("Bobbin reads", "202 mN, swing 3%")]


def sheet(checks: list[str]):
    sections = [("What is seen", ["frays above the eye"]), ("Checked", checks), ("Upkeep", [])]
    return report(
        title="Heron: for the technician",
        date="Noted 25 November 2026",
        numbers=NUMBERS,
        sections=sections,
        foot="The manual decides.",
    )


@pytest.mark.parametrize("count", [0, 1, 12, 80])
def test_nothing_runs_off_the_paper(count):
    laid = sheet(
        [f"Check {n}, said at some length so that it has to be broken over lines: not it" * 2 for n in range(count)]
    )
    assert (laid.width, laid.height) == (WIDTH, HEIGHT)
    assert all(0 < w.x < WIDTH and 0 < w.y < HEIGHT - 8 for w in laid.words)
    foot = max(w.y for w in laid.words)
    assert laid.words[-1].text == "The manual decides."
    assert laid.words[-1].y == foot


def test_what_is_empty_says_nothing():
    assert [w.text for w in sheet([]).words].count("nothing") == 2


def test_both_formats_carry_the_same_words():
    laid = sheet(["Heat: not it", "Groove at six o’clock: cannot tell", "<b> & –"])
    text = PdfReader(BytesIO(to_pdf(laid))).pages[0].extract_text()
    root = ElementTree.fromstring(to_svg(laid))
    words = [node.text for node in root.iter("{http://www.w3.org/2000/svg}text")]
    assert "202 mN, swing 3%" in text
    assert "202 mN, swing 3%" in words
    assert "<b> & –" in words
    assert "<b> & -" in text
