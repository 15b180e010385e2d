"""Open formats in and out: CSV as people write it, sheets true to size in both formats."""

import io
import math
import re

import pytest
import segno
from fpdf import FPDF
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from weftonos.core.balance.cloth import LARGEST_NUMBER
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.stitch import GRADES
from weftonos.exchange.labels import bobbin_card, case_label
from weftonos.exchange.lettering import FAMILY, FONTS, fitted, printable, width_mm
from weftonos.exchange.marks import Sheet, Text
from weftonos.exchange.sheet import SheetRow, thread_sheets
from weftonos.exchange.strip import (
    LANE_WIDE,
    PAPERS,
    Paper,
    StripWords,
    ladder_strip,
    recipe_card,
    to_pdf,
    to_svg,
)
from weftonos.exchange.trace_csv import SPEED_MM_S, Along, Trace, look_into, read_columns, write_trace

SEPARATORS = {"comma": ",", "semicolon": ";", "tab": "\t", "space": " "}
NUMBERS = st.lists(
    st.tuples(st.floats(0, 5000).map(lambda v: round(v, 2)), st.floats(0, 900).map(lambda v: round(v, 2))),
    min_size=3,
    max_size=30,
)


@given(NUMBERS)
def test_a_trace_written_is_the_trace_read(points):
    trace = Trace(tuple(x for x, _ in points), tuple(y for _, y in points))
    back = read_columns(
        content=write_trace(trace).encode(), along=0, tension=1, kind=Along.LENGTH_MM, unit=ForceUnit.MN
    )
    first = trace.length_mm[0]
    assert back.length_mm == pytest.approx([x - first for x in trace.length_mm], abs=1e-6)
    assert back.tension_mn == pytest.approx(trace.tension_mn, abs=1e-6)


@given(NUMBERS, st.sampled_from(list(SEPARATORS.values())), st.booleans(), st.booleans())
def test_anybody_s_separator_and_decimal_mark_are_understood(points, separator, decimal_comma, named):
    if decimal_comma and separator == ",":
        return
    mark = "," if decimal_comma else "."
    rows = [f"{x:.2f}{separator}{y:.2f}".replace(".", mark) for x, y in points]
    head = [f"pos{separator}force"] if named else []
    table = look_into("\r\n".join([*head, *rows]).encode())
    assert table.rows == len(points)
    assert (table.along, table.tension) == (0, 1)
    found = read_columns(
        content="\n".join([*head, *rows]).encode(), along=0, tension=1, kind=Along.LENGTH_MM, unit=ForceUnit.CN
    )
    assert found.tension_mn == pytest.approx([10 * y for _, y in points], abs=1e-6)


def test_columns_are_guessed_by_their_names():
    table = look_into(b"n,tension cN,length mm\n1,20,0\n2,21,5\n3,22,9\n")
    assert (table.along, table.tension) == (2, 1)
    assert table.sample[0] == ("1", "20", "0")


def test_five_rows_are_shown_of_a_long_one():
    rows = "".join(f"{n},200\n" for n in range(9))
    table = look_into(f"length,tension\n{rows}".encode())
    assert [row[0] for row in table.sample] == ["0", "1", "2", "3", "4"]
    assert table.rows == 9


def test_comments_blank_lines_and_a_mark_of_order_are_passed_over():
    content = "\ufeff# gauge 7\n\nlength,tension\n0,200\n\n1,201\n".encode()
    assert look_into(content).rows == 2


def test_time_is_taken_as_an_even_pull():
    found = read_columns(
        content=b"t,f\n10,200\n11,202\n12,204\n", along=0, tension=1, kind=Along.TIME_S, unit=ForceUnit.MN
    )
    assert found.length_mm == (0, SPEED_MM_S, 2 * SPEED_MM_S)


@pytest.mark.parametrize("cell", ["", "abc", "NaN", "inf", "1e999", "--3", "=1+1"])
def test_a_cell_that_is_no_number_is_named_with_its_row(cell):
    content = f"length;tension\n1;2\n2;{cell}\n".encode()
    with pytest.raises(CraftError, match="Row 2 holds"):
        read_columns(content=content, along=0, tension=1, kind=Along.LENGTH_MM, unit=ForceUnit.MN)


def test_what_goes_out_holds_nothing_a_spreadsheet_would_run():
    for line in write_trace(Trace((0.0, 1.0), (-3.0, 200.0))).splitlines()[1:]:
        assert re.fullmatch(r"-?[\d.]+,-?[\d.]+", line)


SHEETS = {
    "case label": case_label("A", "polyester", "180 to 220 mN", "Heron"),
    "bobbin card": bobbin_card("L1", "Limpet 80", ("80 wt", "class M", "100% full")),
    "strip on A4": ladder_strip(
        StripWords(
            settings=[str(n) for n in range(11)],
            combination=["Top: Tern 40"],
            cloth="the light half",
            number=41,
            address="http://heron.local:8417/1/balance?part=cloths&cloth=41",
            pictures=[(facts.grade, facts.name) for facts in GRADES.values()],
        ),
        Motion.FREE_MOTION,
        Paper.A4,
    ),
    "strip on letter": ladder_strip(
        StripWords(settings=["1", "2"], combination=[], cloth="the dark half"), Motion.STRAIGHT, Paper.LETTER
    ),
    "recipe card": recipe_card("Neap Tide", [("Top", "Ebb 40"), ("Needle", "110/18")], "Kept 28 October 2026."),
}


LONG = SheetRow(
    name="Saltmarsh variegated with a name longer than its block 40",
    words="120 denier × 2 trilobal, and whatever else a label says of it at length",
    color="#888888",
    needle="100/16 topstitch",
    below="60 to 80 wt",
    start="1¼ turns out",
    start_from="from your records",
    holes="1",
    handling="a net on the spool, slow enough that it stays cool, in the bobbin: wind slowly, 75% full",
)
for size in Paper:
    for number, laid in enumerate(thread_sheets("Heron, 25 November 2026", [LONG] * 25, size)):
        SHEETS[f"threads on {size.value}, sheet {number + 1}"] = laid
SHEETS["an empty drawer"] = thread_sheets("Heron", [], Paper.A4)[0]


@pytest.mark.parametrize("name", SHEETS)
def test_every_sheet_is_true_to_size_and_stays_on_the_paper(name):
    sheet: Sheet = SHEETS[name]
    page = PdfReader(io.BytesIO(to_pdf(sheet))).pages[0]
    size = (float(page.mediabox.width) / 72 * 25.4, float(page.mediabox.height) / 72 * 25.4)
    assert size == pytest.approx((sheet.width, sheet.height), abs=0.05)
    svg = to_svg(sheet)
    assert f'width="{sheet.width}mm" height="{sheet.height}mm"' in svg
    assert svg.count("<line ") == len(sheet.strokes)
    for stroke in sheet.strokes:
        assert all(0 <= v <= sheet.width for v in (stroke.x1, stroke.x2))
        assert all(0 <= v <= sheet.height for v in (stroke.y1, stroke.y2))
    text = page.extract_text()
    for words in sheet.words:
        assert 0 < words.y < sheet.height
        assert printable(words.text) in text
        assert words.x + width_mm(words.text, words.size_mm, bold=words.bold) < sheet.width


def test_the_longest_ladder_fits_both_papers_above_the_check_bars():
    for paper, (_, height) in PAPERS.items():
        says = StripWords(
            settings=[str(n) for n in range(11)],
            combination=["x"] * 7,
            cloth="the light half",
            number=LARGEST_NUMBER,
            address="http://heron.local",
            pictures=[(facts.grade, facts.name) for facts in GRADES.values()],
        )
        sheet = ladder_strip(says, Motion.DECORATIVE, paper)
        tops = [s for s in sheet.strokes if s.y1 == s.y2 and math.isclose(s.x2 - s.x1, LANE_WIDE - 2)]
        assert len(tops) == 3 * 11, "three lanes of eleven steps"
        assert max(s.y2 for s in sheet.strokes) < height - 5
        lanes = [w.text for w in sheet.words if w.text in ("decorative", "free-motion", "straight")]
        assert lanes[0] == "decorative", "the lane that was planned comes first"
        assert {"Used before", "Found now"} <= {w.text for w in sheet.words}


def test_text_from_outside_cannot_break_out_of_the_drawing():
    svg = to_svg(recipe_card('<script>"&', [("Top", "</text><a>")], "&"))
    assert "<script>" not in svg
    assert "</text><a>" not in svg
    assert printable("Größe – 5 × 3 … Łódź “Żuraw”") == "Größe – 5 × 3 … Łódź “Żuraw”"
    assert printable("縫") == "·"
    assert printable("Tr\u1ea7n e\u0302\u0301") == "Trần ế", "an accent by itself goes with its letter"


OTHER_SCRIPTS = ("Trần Thị Hương", "Αθηνά", "Иволга", "Ґанок і Ёлка", "Żółty Łoś")


@pytest.mark.parametrize("name", OTHER_SCRIPTS)
def test_names_in_other_scripts_print(name):
    """Read back out of the PDF by a library that has no part in writing it."""
    sheet = recipe_card(f"{name} 40", [("Top", name), ("Bobbin", "Limpet 80")], name)
    told = "".join(page.extract_text() for page in PdfReader(io.BytesIO(to_pdf(sheet))).pages)
    assert told.count(name) == 3
    assert "?" not in told


def test_a_name_that_no_font_has_is_no_question_mark():
    told = PdfReader(io.BytesIO(to_pdf(recipe_card("שלום 40", [("Top", "שלום")], "")))).pages[0].extract_text()
    assert "?" not in told
    assert "···· 40" in told


@pytest.mark.parametrize("name", ["Kingfisher", "W" * 40, "Żółty " * 12, "A name of eleven letters and more of them"])
def test_long_names_are_set_smaller_or_wrapped_and_never_cut(name):
    for sheet in (
        case_label(name, name, "180 to 220 mN", name),
        bobbin_card(name, name, (name, name)),
        recipe_card(name, [("Top", name), ("Bobbin", name)], name),
    ):
        for words in sheet.words:
            assert words.x + width_mm(words.text, words.size_mm, bold=words.bold) <= sheet.width - 1.5
            assert 0 < words.y < sheet.height
        joined = "".join(words.text for words in sheet.words).replace(" ", "")
        assert joined.count(name.replace(" ", "")) >= 2


def test_widths_are_those_that_the_pdf_library_measures():
    pdf = FPDF(unit="mm")
    for (family, bold), file in FONTS.items():
        pdf.add_font(family, "B" if bold else "", file)
        texts = ("Saltmarsh 40", "Żółty “Łoś” ½", "iiiWWW") if family == FAMILY else ("Иволга", "Αθηνά", "ầịươ")
        for text in texts:
            pdf.set_font(family, "B" if bold else "", 10 / 25.4 * 72)
            assert width_mm(text, 10, bold=bold) == pytest.approx(pdf.get_string_width(text), rel=2e-3)
    assert "".join(t.text for t in fitted(Text(x=0, y=0, text="a" * 99, size_mm=5), 10, tall=9)) == "a" * 99


def test_a_qr_code_is_on_card_and_label_only_where_a_tablet_can_open_it():
    address = "http://heron.local:8741/1/balance?part=recipes"
    wanted = [list(row) for row in segno.make(address, micro=False).matrix_iter(border=2)]
    for without, sheet in (
        (recipe_card("Tern", [("Top", "Ebb 40")], "Kept."), recipe_card("Tern", [("Top", "Ebb 40")], "Kept.", address)),
        (case_label("A", "", "180", "Heron"), case_label("A", "", "180", "Heron", address=address)),
    ):
        code = [stroke for stroke in sheet.strokes if stroke not in without.strokes]
        assert len(sheet.strokes) - len(without.strokes) == len(code)
        module = code[0].width
        left, top = min(s.x1 for s in code), min(s.y1 for s in code)
        drawn = [[0] * len(wanted) for _ in wanted]
        for stroke in code:
            row = round((stroke.y1 - top) / module) + 2
            for column in range(round((stroke.x1 - left) / module), round((stroke.x2 - left) / module)):
                drawn[row][column + 2] = 1
        assert drawn == wanted
        assert max(s.x2 for s in code) < sheet.width - 1


@pytest.mark.parametrize(("grade", "marks"), [(-2, 1), (-1, 1), (0, 0), (1, 1), (2, 1)])
def test_a_card_draws_the_stitch_it_was_kept_with(grade, marks):
    """Loose below or above: the other thread shows on the side it is drawn to, and on that one alone."""
    plain, drawn = recipe_card("Tern", [], "Kept."), recipe_card("Tern", [], "Kept.", grade=grade)
    stitches = drawn.strokes[len(plain.strokes) :]
    rows = {round((s.y1 + s.y2) / 2 / 6) for s in stitches}
    assert len(rows) == 2, "front and back"
    assert {t.text for t in drawn.words} - {t.text for t in plain.words} == {"front", "back"}
    # What comes through is drawn in other strokes than the stitches between the holes.
    other = [s for s in stitches if s.width in (1.5, 0.3)]
    assert bool(other) is bool(marks)
    middle = sum({s.y1 for s in stitches if s.width in (0.5, 0.7)}) / 2
    assert all((s.y1 < middle) is (grade < 0) for s in other)
    assert all(0 < s.x1 < drawn.width - 4 and 0 < s.x2 < drawn.width - 4 for s in stitches)
