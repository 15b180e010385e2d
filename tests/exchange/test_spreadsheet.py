"""Tables in three locales' habits, read back by pandas and the standard library; nothing runs in a spreadsheet."""

from __future__ import annotations

import csv
import io
import zipfile
from datetime import UTC, date, datetime, timedelta, timezone

import pandas as pd
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from openpyxl import Workbook

from weftonos.core.kernel.errors import CraftError
from weftonos.exchange import spreadsheet
from weftonos.exchange.bounds import MOST_COLUMNS
from weftonos.exchange.spreadsheet import (
    MARK,
    guarded,
    moment_in,
    number_in,
    read_sheet,
    unguarded,
    write_rows,
)
from weftonos.exchange.workbook import WIDEST_SHEET, read_workbook


def test_a_table_of_the_largest_size_is_read_and_one_larger_is_not(monkeypatch):
    content = b"Quilt,Minutes\nAvocet,30\n"
    monkeypatch.setattr(spreadsheet, "LARGEST_TABLE", len(content))
    assert read_sheet(content).rows
    monkeypatch.setattr(spreadsheet, "LARGEST_TABLE", len(content) - 1)
    with pytest.raises(CraftError, match="Split it into several"):
        read_sheet(content)


CELLS = st.text(st.characters(exclude_categories=("Cs", "Cc")), max_size=30)


@given(CELLS)
@example("=1+1")
@example("'=1+1")
@example("-2")
@example("'")
@example("@x")
def test_a_guarded_cell_runs_nothing_and_comes_back(text):
    cell = guarded(text)
    assert unguarded(cell) == text
    if cell and cell[0] in "=@\t\r":
        raise AssertionError(cell)
    if cell[:1] in ("+", "-"):
        float(cell)


@given(st.lists(st.lists(CELLS, min_size=3, max_size=3), min_size=1, max_size=8))
def test_what_is_written_is_read_by_the_standard_library_and_by_pandas(rows):
    out = io.StringIO(newline="")
    write_rows(out, [["a", "b", "c"], *rows])
    plain = list(csv.reader(io.StringIO(out.getvalue(), newline="")))
    assert [[unguarded(cell) for cell in row] for row in plain[1:]] == rows
    frame = pd.read_csv(
        io.BytesIO(MARK + out.getvalue().encode()),
        dtype=str,
        keep_default_na=False,
        encoding="utf-8-sig",
        skip_blank_lines=False,
    )
    assert list(frame.columns) == ["a", "b", "c"]
    assert [[unguarded(cell) for cell in row] for row in frame.to_numpy().tolist()] == rows


ROWS = [
    ("Spindrift", 12.5, date(2026, 5, 3)),
    ("Foam", 1204.75, date(2026, 11, 24)),
    ("Łódź, Żuraw", 0.25, date(2025, 1, 31)),
]
#: How people of three countries write a table: separator, encoding, numbers, days.
LOCALES = {
    "English": (",", "utf-8", lambda n: f"{n}", lambda d: f"{d:%m/%d/%Y}"),
    "German": (";", "utf-8-sig", lambda n: f"{n}".replace(".", ","), lambda d: f"{d.day}.{d.month}.{d.year}"),
    "French": ("\t", "utf-16", lambda n: f"{n}".replace(".", ","), lambda d: f"{d:%d/%m/%Y}"),
}


@pytest.mark.parametrize("locale", LOCALES)
def test_a_table_of_three_locales_is_read_the_same(locale):
    separator, encoding, number, day = LOCALES[locale]
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=separator)
    writer.writerow(["Thread", "Length", "Bought"])
    writer.writerows([name, number(value), day(bought)] for name, value, bought in ROWS)
    check(out.getvalue().encode(encoding))


@pytest.mark.parametrize("locale", LOCALES)
def test_a_spreadsheet_of_three_locales_is_read_the_same(locale):
    """Numbers and days as a spreadsheet keeps them, and as people type them who fight it: as text."""
    _, _, number, day = LOCALES[locale]
    for as_text in (False, True):
        book = Workbook()
        sheet = book.active
        sheet.append(["Thread", "Length", "Bought"])
        for name, value, bought in ROWS:
            sheet.append([name, number(value) if as_text else value, day(bought) if as_text else bought])
        out = io.BytesIO()
        book.save(out)
        check(out.getvalue())


def check(content: bytes) -> None:
    sheet = read_sheet(content)
    assert sheet.columns == ("Thread", "Length", "Bought")
    assert sheet.headed
    found = [
        (
            name,
            number_in(length, decimal_comma=sheet.decimal_comma),
            moment_in(bought, day_first=sheet.day_first is not False).date(),
        )
        for name, length, bought in sheet.rows
    ]
    assert found == ROWS


@pytest.mark.parametrize(
    ("cell", "comma", "value"),
    [
        ("1.204,5", True, 1204.5),
        ("1,204.5", False, 1204.5),
        ("1 204,5", True, 1204.5),
        ("12,5", False, 12.5),
        ("-3", False, -3),
        ("−0.5", False, -0.5),
        ("1.2.3", False, None),
        ("12 apples", False, None),
        ("", False, None),
    ],
)
def test_numbers_as_people_write_them(cell, comma, value):
    assert number_in(cell, decimal_comma=comma) == value


@pytest.mark.parametrize(
    ("cell", "day_first", "moment"),
    [
        ("2026-05-03", True, datetime(2026, 5, 3, 12)),
        ("2026-05-03T14:30:00+02:00", True, datetime(2026, 5, 3, 14, 30, tzinfo=timezone(timedelta(hours=2)))),
        ("2026-05-03 08:15", True, datetime(2026, 5, 3, 8, 15)),
        ("2026-05-03 9:30", True, datetime(2026, 5, 3, 9, 30)),
        ("3.5.26", False, datetime(2026, 5, 3, 12)),
        ("3/5/2026", True, datetime(2026, 5, 3, 12)),
        ("3/5/2026 2:30 pm", False, datetime(2026, 3, 5, 14, 30)),
        ("3/5/2026 9:15 am", False, datetime(2026, 3, 5, 9, 15)),
        ("3/5/2026 12:05 am", False, datetime(2026, 3, 5, 0, 5)),
        ("31/2/2026", True, None),
        ("soon", True, None),
    ],
)
def test_days_as_people_write_them(cell, day_first, moment):
    assert moment_in(cell, day_first=day_first) == moment


def test_a_table_without_names_has_letters():
    sheet = read_sheet(b"Tern,40\nMist,100\n")
    assert not sheet.headed
    assert sheet.columns == ("Column A", "Column B")
    assert len(sheet.rows) == 2


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "no rows"),
        (b"\x00\x01\x02", "n't a table"),
        (b"PK\x03\x04rubbish", "damaged"),
        ((",".join("x" * (MOST_COLUMNS + 1))).encode(), "columns"),
        (b"a,b\n" + b"x" * 9000 + b",1", "letters"),
        (b"\xef\xbb\xbf\xff\xfe\xfd", "turns into something else"),
    ],
)
def test_what_is_no_table_is_said(content, says):
    with pytest.raises(CraftError) as refused:
        read_sheet(content)
    assert says in str(refused.value) or "n't a table" in str(refused.value)


def test_windows_writes_its_own_letters():
    sheet = read_sheet("Name;Länge\nGrün;12,5\n".encode("cp1252"))
    assert sheet.encoding == "windows-1252"
    assert sheet.columns[1] == "Länge"


def test_now_is_a_moment_with_its_zone():
    now = datetime.now(UTC)
    assert moment_in(now.isoformat(), day_first=True) == now


def test_a_table_without_headings_is_read_from_its_first_row():
    rows = b"Heron;12.5\nWren;8\nPlover;3\n"
    table = read_sheet(rows, head=0)
    assert (table.head, table.numbers, len(table.rows)) == (0, [1, 2, 3], 3)
    assert table.columns == ("Column A", "Column B")
    assert read_sheet(rows, head=2).rows == [["Plover", "3"]]


def test_a_sheet_wider_than_any_table_is_refused_before_its_cells_are_looked_at():
    sheet = io.BytesIO()
    with zipfile.ZipFile(sheet, "w") as packed:
        cells = '<c r="A1"/>' * (WIDEST_SHEET + 1)
        packed.writestr("xl/worksheets/sheet1.xml", f'<worksheet><sheetData><row r="1">{cells}</row></sheetData>')
    with pytest.raises(CraftError, match=f"over {WIDEST_SHEET} columns"):
        read_workbook(sheet.getvalue(), None)


def test_a_heading_that_leaves_a_column_without_a_name_is_the_heading_still():
    """Of four columns three have a name; a title above fills one cell."""
    table = read_sheet(
        b"Evenings on the frame,,,\nDay,Minutes,Quilt,\n2026-11-02,40,Dunlin,x\n2026-11-03,55,Dunlin,y\n"
    )
    assert table.head == 2
