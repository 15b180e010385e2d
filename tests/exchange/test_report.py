"""The technician's sheet: everything on it lies on the paper, in letters that print."""

from io import BytesIO
from xml.etree import ElementTree

import pytest
from pypdf import PdfReader

from weftonos.exchange.lettering import width_mm
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
def test_nothing_runs_off_the_paper_and_nothing_is_left_out(count):
    said = [f"Check {n}, said at some length so that it has to be broken over lines: not it" * 2 for n in range(count)]
    pages = sheet(said)
    for page in pages:
        assert (page.width, page.height) == (WIDTH, HEIGHT)
        assert all(0 < w.x < WIDTH and 0 < w.y < HEIGHT - 5 for w in page.words)
        assert all(w.x + width_mm(w.text, w.size_mm, bold=w.bold) <= WIDTH - 17.9 for w in page.words)
        assert "The manual decides." in [w.text for w in page.words]
    text = " ".join(w.text for page in pages for w in page.words)
    assert all(f"Check {n}," in text for n in range(count))
    assert len(pages) == (1 if count < 20 else 4)


def test_what_is_empty_says_nothing():
    assert [w.text for w in sheet([])[0].words].count("nothing") == 2


def test_both_formats_carry_the_same_words_in_their_own_letters():
    pages = sheet(["Heat: not it", "Groove at six o’clock: cannot tell", "<b> & –", "“Łódź”, Żuraw, ½ turn"])
    text = PdfReader(BytesIO(to_pdf(*pages))).pages[0].extract_text()
    root = ElementTree.fromstring(to_svg(*pages))
    words = [node.text for node in root.iter("{http://www.w3.org/2000/svg}text")]
    for said in ("202 mN, swing 3%", "<b> & –", "“Łódź”, Żuraw, ½ turn", "Groove at six o’clock: cannot tell"):
        assert said in text
        assert said in words
