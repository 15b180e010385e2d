"""Sheets as people write them: titles, hidden and merged parts, totals, doubles, both decimal marks, labels that ask.

Each table was written from what people do in a spreadsheet program, before the reader was changed; the workbooks are
made by openpyxl.
"""

from __future__ import annotations

import csv
import io
from datetime import datetime, timedelta

import pytest
from openpyxl import Workbook
from openpyxl.utils.datetime import to_excel

from api.test_exchange import Door, opened
from weftonos.cli import load_demo
from weftonos.exchange.spreadsheet import read_sheet


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    """The demo, for tests that leave it as it was."""
    folder = tmp_path_factory.mktemp("demo")
    load_demo(folder)
    with opened(folder) as client:
        yield Door(client, folder)


def saved(book: Workbook) -> bytes:
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


class TestTheHead:
    def test_a_title_and_a_note_above_the_headings_are_no_rows(self, demo):
        file = demo.give("My threads, 2026,,\nnot the silks,,\n\nName,Weight,Fibre?\nTern,60,polyester\n")
        table = file["table"]
        assert table["columns"] == ["Name", "Weight", "Fibre?"]
        assert table["head"] == 4
        assert [row["number"] for row in table["top"]] == [1, 2, 4, 5]
        assert table["top"][0]["text"] == "My threads · 2026"
        (row,) = demo.check(file, "threads")
        assert row["number"] == 5
        assert row["text"] == "Tern: 60 wt polyester"

    def test_another_row_is_chosen_as_the_headings(self, demo):
        file = demo.give("Thread,Weight\nName,wt\nTern,60 wt polyester\n")
        assert file["table"]["head"] == 1
        again = demo.client.post(f"/api/exchange/files/{file['token']}/look", json={"head": 2}).json()
        assert again["table"]["columns"] == ["Name", "wt"]
        assert again["token"] == file["token"]
        assert [row["text"] for row in demo.check(again, "threads")] == ["Tern: 60 wt polyester"]
        none = demo.client.post(f"/api/exchange/files/{file['token']}/look", json={"head": 0}).json()
        assert none["table"]["columns"] == ["Column A", "Column B"]
        assert none["table"]["rows"] == 3
        refused = demo.client.post(f"/api/exchange/files/{file['token']}/look", json={"head": 40})
        assert refused.status_code == 422
        assert "no row 40" in refused.json()["detail"][0]["msg"]

    @pytest.mark.parametrize(
        ("heading", "kind", "field"),
        [
            ("fibre?", "threads", "fiber"),
            ("Brand/Name", "threads", "name"),
            ("  COLOUR ", "threads", "color"),
            ("Thread weight (wt)", "threads", "label"),
            ("Length [yds]", "threads", "length_m"),
            ("No. of needles", "needles", "bought"),
            ("Needle-size", "needles", "size"),
            ("Time sewn", "runs", "minutes"),
            ("# of breaks", "runs", "breaks"),
            ("Date done", "upkeep", "at"),
            ("Top thread:", "recipes", "top_thread"),
        ],
    )
    def test_headings_are_read_by_their_words(self, heading, kind, field):
        from weftonos.inout.table_kinds import TableKind, mapping

        table = read_sheet(f'Shelf,"{heading}"\nA,x\n'.encode())
        assert mapping(table, TableKind(kind)).get(field) == 1

    def test_a_time_beside_a_date_is_how_long_or_when(self, demo):
        rows = demo.check(demo.give("Date,Time,Quilt\n2026-05-03,1:15,Gannet\n"), "runs")
        assert rows[0]["text"].startswith("1 h 15 min stitched")
        file = demo.give("Date,Time,Minutes\n2026-05-03,9:40,75\n2026-05-03,10:40,75\n")
        rows = demo.check(file, "runs")
        assert [row["double"] for row in rows] == [False, False]
        assert rows[0]["text"].startswith("1 h 15 min stitched")
        (bad,) = demo.check(demo.give("Date,Time,Minutes\n2026-05-03,ten,75\n"), "runs")
        assert bad["field"] == "clock"


class TestAWorkbook:
    def test_hidden_sheets_come_last_and_any_can_be_chosen(self, demo):
        book = Workbook()
        book.active.title = "Old"
        book.active.append(["Name", "Weight"])
        book.active.append(["Wrong", "12"])
        book.active.sheet_state = "hidden"
        shown = book.create_sheet("Threads")
        shown.append(["Name", "Weight"])
        shown.append(["Tern", "60 wt polyester"])
        runs = book.create_sheet("Evenings")
        runs.append(["Date", "Minutes"])
        runs.append([45717, 90])
        file = demo.give(saved(book), "book.xlsx")
        table = file["table"]
        assert table["sheet"] == "Threads"
        assert [(s["name"], s["hidden"]) for s in table["sheets"]] == [
            ("Threads", False),
            ("Evenings", False),
            ("Old", True),
        ]
        again = demo.client.post(f"/api/exchange/files/{file['token']}/look", json={"sheet": "Evenings"}).json()
        (row,) = demo.check(again, "runs")
        # A day as the spreadsheet counts them, in a cell without a format: openpyxl's own count is the check.
        assert to_excel(datetime(2025, 3, 1)) == 45717
        assert row["problem"] == ""
        assert row["text"] == "1 h 30 min stitched"
        refused = demo.client.post(f"/api/exchange/files/{file['token']}/look", json={"sheet": "Nobody"})
        assert refused.status_code == 422

    def test_merged_cells_are_filled_down_and_said(self, demo):
        book = Workbook()
        sheet = book.active
        sheet.append(["Evenings of spring", None, None])
        sheet.merge_cells("A1:C1")
        sheet.append(["Machine", "Date", "Minutes"])
        for machine, day in (("Heron", 3), (None, 4), ("Wren", 5), (None, 6)):
            sheet.append([machine, datetime(2026, 5, day), timedelta(hours=1, minutes=15)])
        sheet.merge_cells("A3:A4")
        # Down to rows that nobody has written yet.
        sheet.merge_cells("A5:A9")
        file = demo.give(saved(book), "book.xlsx")
        assert file["table"]["filled"] == 2
        assert file["table"]["head"] == 2
        rows = demo.check(file, "runs")
        assert [row["cells"][0] for row in rows] == ["Heron", "Heron", "Wren", "Wren"]
        assert {row["text"] for row in rows} == {"1 h 15 min stitched"}

    def test_a_formula_that_was_never_worked_out_is_said(self, demo):
        book = Workbook()
        book.active.append(["Name", "Weight"])
        book.active.append(["Tern", "=40+20"])
        file = demo.give(saved(book), "book.xlsx")
        assert file["table"]["uncalculated"] == ["B2"]


class TestRowsThatAreNone:
    def test_totals_and_headings_printed_again_are_left_out_and_said(self, demo):
        table = "Date,Minutes,Quilt\n2026-05-03,90,Gannet\nDate,Minutes,Quilt\n2026-05-04,60,Gannet\nTOTAL,150,\n"
        rows = demo.check(demo.give(table), "runs")
        assert [bool(row["aside"]) for row in rows] == [False, True, False, True]
        assert "total" in rows[3]["aside"]
        assert "headings" in rows[1]["aside"]

    def test_rows_that_say_the_same_are_saved_once_unless_all_are_wanted(self, demo):
        table = "Date,Minutes\n2026-05-03,90\n2026-05-03,90\n"
        rows = demo.check(demo.give(table), "runs")
        assert [row["same_as"] for row in rows] == [0, 2]
        rows = demo.check(demo.give(table), "runs", keep_twins=True)
        assert [row["double"] for row in rows] == [False, False]

    def test_rows_left_out_come_as_a_file_to_mend(self, demo):
        file = demo.give("Name,Weight,Shelf\nTern,60 wt polyester,=A1\nNobody,,=B2\n")
        demo.check(file, "threads")
        answer = demo.client.get(f"/api/exchange/files/{file['token']}/left.csv")
        rows = list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))
        assert rows == [
            ["Reason", "Name", "Weight", "Shelf"],
            ["Row 3: No weight given.", "Nobody", "", "'=B2"],
        ]
        mended = answer.content.decode("utf-8-sig").replace("Nobody,,", "Nobody,50 wt cotton,")
        (row,) = demo.check(demo.give(mended), "threads")
        assert row["text"] == "Nobody: 50 wt cotton"


class TestNumbers:
    def test_pulls_in_several_columns_are_one_reading(self, demo):
        file = demo.give("Date,Pull 1,Pull 2,Pull 3\n2026-05-03,204,210,206\n2026-05-04,204,,208\n")
        rows = demo.check(file, "readings")
        assert [row["text"].split(",")[0] for row in rows] == ["207 mN from 3 pulls", "206 mN from 2 pulls"]

    def test_a_decimal_comma_among_points_is_never_two_pulls(self, demo):
        file = demo.give("Date;Tension\n2026-05-03;20.5 g\n2026-05-04;20.7 g\n2026-05-05;20,5 g\n")
        assert file["table"]["decimal_comma"] is False
        assert file["table"]["both_marks"] is True
        rows = demo.check(file, "readings")
        assert rows[2]["problem"].startswith("“20,5")
        rows = demo.check(demo.give("Date;Tension\n2026-05-03;20,21,19 g\n"), "readings", decimal_comma=False)
        assert rows[0]["text"].endswith("3 pulls") or "from 3 pulls" in rows[0]["text"]

    def test_a_number_that_both_marks_can_mean_is_asked(self, demo):
        file = demo.give("Name;Weight;Length\nA;60 wt polyester;12,5\nB;60 wt polyester;12.25\nC;60 wt cotton;1,250\n")
        rows = demo.check(file, "threads")
        assert rows[2]["field"] == "length_m"
        assert "1,250" in rows[2]["problem"]

    def test_small_lengths_stay_as_they_are_written(self, demo):
        file = demo.give("Name;Weight;Length\nScrap;60 wt polyester;1,25 m\n")
        demo.check(file, "threads")
        state = demo.keep(file)
        kept = [line for line in demo.lines() if line["what"] == "thread"][-1]
        demo.client.post(f"/api/exchange/imports/{state['brought']['id']}/undo")
        assert kept["document"]["length_m"] == 1.25

    def test_part_of_a_day_is_no_minute(self, demo):
        (row,) = demo.check(demo.give("Date,Minutes\n2026-05-03,0.052\n"), "runs")
        assert "h:mm" in row["problem"]


class TestLabels:
    def test_a_label_that_can_be_read_in_two_ways_is_asked_once_for_all_its_rows(self, demo):
        table = "Name,Label\nA,polyester 120/2\nB,polyester 120/2\nC,60 wt polyester\n"
        file = demo.give(table)
        rows = demo.check(file, "threads")
        assert len(rows[0]["asks"]) >= 2
        assert rows[0]["problem"] and rows[1]["problem"]
        assert rows[2]["problem"] == ""
        second = demo.check(file, "threads", answers={"polyester 120/2": 1})
        assert [row["problem"] for row in second] == ["", "", ""]
        assert rows[0]["asks"][1] in second[0]["text"]
        likeliest = demo.check(file, "threads", likeliest=True)
        assert rows[0]["asks"][0] in likeliest[0]["text"]
        assert second[0]["text"] != likeliest[0]["text"]

    def test_a_color_in_words_is_a_color(self, demo):
        file = demo.give("Name,Weight,Colour\nA,60 wt polyester,Navy\nB,60 wt polyester,sea mist\n")
        demo.check(file, "threads")
        state = demo.keep(file)
        kept = [line["document"] for line in demo.lines() if line["what"] == "thread"][-2:]
        demo.client.post(f"/api/exchange/imports/{state['brought']['id']}/undo")
        assert kept[0]["color"] == "#1f2a4d"
        assert kept[1]["note"] == "Color: sea mist"
