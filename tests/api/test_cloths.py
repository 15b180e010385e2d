"""The test cloth as one thing: begun without a form, judged, moved, corrected, compared, saved, found again."""

from __future__ import annotations

import io
from datetime import timedelta

import pytest
from pypdf import PdfReader

from conftest import HERON, SALTMARSH

FREE, FANCY = "free_motion", "decorative"


@pytest.fixture
def heron(bench) -> int:
    machine = bench.combination()[0]
    bench.post(f"machines/{machine}/needle", {"metric": 100, "american": 16, "point": "topstitch"})
    bench.post(f"machines/{machine}/sandwich", {"batting": "wool", "loft": "lofty"})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 200}] * 2})
    return machine


def ladder(*grades: int, motion: str = FREE, low: int = 185) -> dict:
    return {"motion": motion, "steps": [{"setting": low + 10 * n, "grade": grade} for n, grade in enumerate(grades)]}


def strip(bench, machine: int, *rows: dict):
    return bench.post(f"machines/{machine}/ladders", {"rows": list(rows)})


def cloths(bench):
    return bench.get("cloths")["items"]


def correct(bench, cloth: int, **said):
    return bench.client.put(f"/api/cloths/{cloth}", json=said)


def describe_anew(bench, machine: int, **said):
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == machine)
    assert bench.client.put(f"/api/machines/{machine}", json={**spec, **said}).status_code == 200


def test_a_test_makes_its_cloth_without_a_form_and_holds_every_row(bench, heron):
    strip(bench, heron, ladder(2, 1, 0, -1), ladder(2, 0, -1, -2, motion=FANCY))
    (cloth,) = cloths(bench)
    assert cloth["number"] == 1
    assert cloth["on"] is True
    assert cloth["top"].startswith("Saltmarsh 40")
    assert (cloth["bobbin_reads"], cloth["batting"]) == ("200 mN", "wool")
    assert cloth["needle"] == "100/16 topstitch"
    assert [row["found"]["text"] for row in cloth["rows"]] == ["good at 205", "good at 195"]
    rows = {row["motion"]: row for row in bench.get(f"cloths/{cloth['id']}")["rows"]}
    assert [line["setting"] for line in rows[FREE]["lines"]] == [185, 195, 205, 215]
    assert rows[FREE]["found"]["text"].startswith("205")
    assert rows[FANCY]["found"]["text"].startswith("195")
    # A line judged by itself goes on the same cloth, and so does the next strip.
    bench.post(f"machines/{heron}/looks", {"setting": 200, "grade": 0})
    strip(bench, heron, ladder(0, -2, motion="straight", low=190))
    (cloth,) = cloths(bench)
    assert sum(len(row["lines"]) for row in cloth["rows"]) == 11
    station = bench.get(f"machines/{heron}/balance")
    assert station["cloth"] == {"id": cloth["id"], "number": 1}
    assert station["next_cloth"] == 2


def test_another_needle_is_another_cloth_and_a_new_one_is_one_tap(bench, heron):
    strip(bench, heron, ladder(1, 0))
    bench.later(5)
    bench.post(f"machines/{heron}/cloths", {})
    assert bench.get(f"machines/{heron}/balance")["cloth"]["number"] == 2
    bench.later(200)
    bench.post(f"machines/{heron}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    assert bench.get(f"machines/{heron}/balance")["cloth"] is None
    bench.post(f"machines/{heron}/looks", {"setting": 200, "grade": 0})
    assert sum(len(row["lines"]) for each in cloths(bench) for row in each["rows"]) == 2, "no cloth is forced on a line"
    strip(bench, heron, ladder(1, 0))
    assert [each["number"] for each in cloths(bench)] == [3, 2, 1]


def test_lines_that_were_stitched_before_the_cloth_are_gathered_on_it(bench, heron):
    for setting, grade in ((195, 1), (205, 0)):
        bench.post(f"machines/{heron}/looks", {"setting": setting, "grade": grade})
        bench.later(2)
    made = bench.post(f"machines/{heron}/cloths", {"gather": True})
    cloth = bench.get(f"cloths/{made['id']}")
    assert [line["setting"] for line in cloth["rows"][0]["lines"]] == [195, 205]
    assert cloth["at"] == bench.get("log?kind=look")["entries"][-1]["at"]


def test_a_cloth_is_judged_later_from_the_box_and_counts_for_what_was_on(bench, heron):
    bench.post(f"machines/{heron}/cloths", {"number": 41})
    cloth = cloths(bench)[0]["id"]
    bench.later(600)
    bench.post(f"machines/{heron}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    for setting, grade in ((195, 1), (205, 0), (215, -1)):
        found = bench.post(f"cloths/{cloth}/lines", {"setting": setting, "grade": grade})
    assert found["rows"][0]["found"]["text"].startswith("205")
    assert found["needle"] == "100/16 topstitch", "as it was stitched, not as it is now"
    assert bench.get(f"machines/{heron}/balance")["looks"] == [], "nothing of it counts for the needle that is in now"
    bench.post(f"machines/{heron}/looks", {"setting": 200, "grade": 2})
    kept = bench.post(f"cloths/{cloth}/recipes", {"name": "Avocet"})
    assert [one["text"].startswith("Avocet: Saltmarsh 40") for one in kept] == [True]
    (recipe,) = bench.get("recipes")["items"]
    assert (recipe["cloth"], recipe["cloth_number"]) == (cloth, 41)
    assert recipe["setting_words"] == "205"
    assert recipe["needle_words"] == "100/16 topstitch"
    assert recipe["stale"] == [], "its line stands in its set-up"


def test_a_cloth_from_last_spring_carries_what_is_written_on_it(bench, heron):
    bench.later(60)
    thread = bench.get(f"machines/{heron}/line")["setup"]["top"][0]["id"]
    made = bench.post(
        f"machines/{heron}/cloths",
        {
            "number": 12,
            "at": (bench.now - timedelta(days=200)).isoformat(),
            "on_top": [thread],
            "metric": 110,
            "american": 18,
            "point": "sharp",
            "batting": "bamboo",
            "bobbin_mn": 190,
        },
    )
    for setting, grade in ((195, 1), (205, 0)):
        cloth = bench.post(f"cloths/{made['id']}/lines", {"setting": setting, "grade": grade, "motion": FANCY})
    assert cloth["from_the_box"] is True
    assert (cloth["needle"], cloth["batting"], cloth["bobbin_reads"]) == ("110/18 sharp", "bamboo", "190 mN")
    assert cloth["rows"][0]["found"]["balanced"] == [205]
    # Nobody knows what else was on then: its lines are no test lines of the log.
    assert bench.get("log?kind=look")["entries"] == []
    bench.post(f"cloths/{made['id']}/recipes", {"name": "Spring"})
    (recipe,) = bench.get("recipes?text=bamboo cloth 12")["items"]
    assert (recipe["needle_words"], recipe["cloth_number"]) == ("110/18 sharp", 12)
    assert recipe["bobbin_words"] == "190 mN"


def test_a_recipe_between_two_good_lines_is_balanced_by_what_they_say(bench, heron):
    """Nobody stitched at its setting: it was shown with the picture of another line."""
    thread = bench.get(f"machines/{heron}/line")["setup"]["top"][0]["id"]
    spring = {"number": 12, "at": (bench.now - timedelta(days=200)).isoformat(), "on_top": [thread]}
    made = bench.post(f"machines/{heron}/cloths", spring)
    for setting, grade in ((180, 1), (195, 0), (225, 0), (240, -1)):
        bench.post(f"cloths/{made['id']}/lines", {"setting": setting, "grade": grade, "motion": FANCY})
    bench.post(f"cloths/{made['id']}/recipes", {"name": "Spring"})
    (recipe,) = bench.get("recipes")["items"]
    assert 195 < recipe["entry"]["payload"]["setting"] < 225
    assert recipe["entry"]["payload"]["grade"] == 0


def test_a_line_judged_twice_is_asked_about_and_nothing_is_lost(bench, heron):
    strip(bench, heron, ladder(1, 0))
    cloth = cloths(bench)[0]["id"]
    before = bench.get(f"cloths/{cloth}")
    again = bench.client.post(f"/api/cloths/{cloth}/lines", json={"setting": 195, "grade": -1})
    assert again.status_code == 422
    said = again.json()["detail"][0]
    assert said["loc"][-1] == "instead"
    assert said["msg"].startswith("195 was judged already: balanced.")
    assert bench.get(f"cloths/{cloth}") == before
    bench.post(f"cloths/{cloth}/lines", {"setting": 195, "grade": 0})
    assert len(bench.get(f"cloths/{cloth}")["rows"][0]["lines"]) == 2, "the same once more is the same"
    changed = bench.post(f"cloths/{cloth}/lines", {"setting": 195, "grade": -1, "instead": True})
    assert [line["grade"] for line in changed["rows"][0]["lines"]] == [1, -1]


def test_a_correction_of_the_cloth_moves_its_lines_and_a_line_is_moved_in_one_act(bench, heron):
    strip(bench, heron, ladder(1, 0))
    first = cloths(bench)[0]
    bench.later(30)
    bench.post(f"machines/{heron}/cloths", {})
    bench.post(f"machines/{heron}/looks", {"setting": 225, "grade": -2})
    look = bench.get("log?kind=look")["entries"][0]
    moved = bench.post(f"cloths/{first['id']}/lines/{look['id']}", {})
    assert [line["setting"] for line in moved["rows"][0]["lines"]] == [185, 195, 225]
    assert cloths(bench)[0]["rows"] == []
    earlier = (bench.now - timedelta(hours=3)).isoformat()
    assert correct(bench, first["id"], number=77, note="the dark half", at=earlier).status_code == 200
    ats = {entry["at"] for entry in bench.get("log?kind=look")["entries"]}
    assert len(ats) == 2, "the two of the strip, and the one that was moved"
    assert all(at < (bench.now - timedelta(hours=2)).isoformat() for at in ats)
    assert bench.get(f"cloths/{first['id']}")["number"] == 77
    late = correct(bench, first["id"], number=77, at=(bench.now + timedelta(minutes=4)).isoformat())
    assert late.status_code == 422
    assert "in the future" in late.text


def test_recipes_of_all_rows_are_one_go_and_answer_what_was_best(bench, heron):
    strip(bench, heron, ladder(2, 1, 0, -1), ladder(1, 0, -1, -2, motion=FANCY), ladder(2, 2, motion="straight"))
    cloth = cloths(bench)[0]["id"]
    kept = bench.post(f"cloths/{cloth}/recipes", {"name": "Neap"})
    assert len(kept) == 2, "a row without a good line is no recipe"
    best = bench.get("recipes?motion=decorative&text=wool")["items"]
    assert [(item["entry"]["payload"]["name"], item["cloth_number"]) for item in best] == [("Neap", 1)]
    assert len(bench.get("recipes?text=cloth 1")["items"]) == 2
    assert bench.get(f"cloths/{cloth}")["recipes"] == ["Neap, free-motion", "Neap, decorative"]
    bench.post(f"machines/{heron}/cloths", {})
    bench.post(f"machines/{heron}/looks", {"setting": 200, "grade": 2})
    refused = bench.client.post(f"/api/cloths/{cloths(bench)[0]['id']}/recipes", json={"name": "None"})
    assert refused.status_code == 422
    assert "No line of cloth 2 looked balanced yet" in refused.text


def test_two_cloths_side_by_side_say_what_differs_and_what_moved(bench, heron):
    strip(bench, heron, ladder(2, 1, 0, -1))
    first = cloths(bench)[0]["id"]
    bench.later(200)
    bench.post(f"machines/{heron}/sandwich", {"batting": "cotton", "loft": "low"})
    strip(bench, heron, ladder(1, 0, -1, -1), ladder(0, -1, motion=FANCY))
    second = cloths(bench)[0]["id"]
    beside = bench.get(f"cloths/{first}/beside/{second}")
    assert [beside[each]["id"] for each in ("first", "second")] == [first, second]
    assert [(d["what"], d["before"], d["after"]) for d in beside["differences"]] == [("sandwich", "wool", "cotton")]
    moved = {row["motion"]: row for row in beside["rows"]}
    assert moved[FREE]["moved"] == "10 looser"
    assert moved[FANCY]["first"] == "not stitched"
    same = bench.get(f"cloths/{first}/beside/{first}")
    assert same["says"] == "Nothing on record differs between them."


def test_cloths_are_found_by_number_and_by_what_they_hold(bench, heron):
    strip(bench, heron, ladder(1, 0))
    bench.later(200)
    bench.post(f"machines/{heron}/sandwich", {"batting": "bamboo", "loft": "low"})
    strip(bench, heron, ladder(1, 0, motion=FANCY))
    assert [c["number"] for c in bench.get("cloths?number=2")["items"]] == [2]
    assert [c["number"] for c in bench.get("cloths?motion=decorative&text=bamboo topstitch")["items"]] == [2]
    assert bench.get("cloths?number=99")["items"] == []
    page = bench.get("cloths?limit=1")
    assert [c["number"] for c in bench.get(f"cloths?limit=1&before={page['more']}")["items"]] == [1]


def test_cloths_go_on_where_a_page_was_read_to_its_end(bench, heron, monkeypatch):
    """However many are read at a time, the oldest is found behind the newest."""
    monkeypatch.setattr("weftonos.stations.cloths.READ_AT_A_TIME", 1)
    strip(bench, heron, ladder(1, 0))
    bench.later(200)
    bench.post(f"machines/{heron}/sandwich", {"batting": "bamboo", "loft": "low"})
    strip(bench, heron, ladder(1, 0))
    page = bench.get("cloths?limit=1")
    assert [c["number"] for c in page["items"]] == [2]
    assert [c["number"] for c in bench.get(f"cloths?limit=1&before={page['more']}")["items"]] == [1]


def test_the_strip_has_its_number_and_the_five_pictures(bench, heron):
    made = bench.post(f"machines/{heron}/cloths", {"number": 41})
    printed = bench.client.get(f"/api/machines/{heron}/strip.pdf?cloth={made['id']}&paper=letter").content
    text = " ".join(PdfReader(io.BytesIO(printed)).pages[0].extract_text().split())
    assert "Cloth 41" in text
    assert "Write 41 on the cloth as well." in text
    assert all(name in text for name in ("balanced", "100/16 topstitch", "wool"))


def test_a_cloth_of_threads_that_nobody_named_is_asked_for_them(bench):
    bare = bench.post("machines", HERON)["id"]
    assert bench.refused(f"machines/{bare}/cloths", {"number": 3})[0] == "number"
    thread = bench.post("threads", {"name": "Saltmarsh 40", "thread": SALTMARSH})["id"]
    noted = bench.post(f"machines/{bare}/cloths", {"number": 3, "on_top": [thread]})
    assert bench.get("cloths")["items"][0]["id"] == noted["id"], "it says itself what was on"


def test_bad_input_says_a_sentence_and_loses_nothing(bench, heron):
    assert bench.client.get("/api/cloths/999").status_code in (404, 422)
    look = bench.post(f"machines/{heron}/looks", {"setting": 200, "grade": 0})
    assert "isn't a test cloth" in bench.client.get(f"/api/cloths/{look['id']}").text
    strip(bench, heron, ladder(1, 0))
    cloth = cloths(bench)[0]["id"]
    for body in ({"number": 0}, {"number": 10**6}, {"number": 3, "note": "x" * 3000}):
        assert bench.client.post(f"/api/machines/{heron}/cloths", json=body).status_code == 422, body
    assert bench.client.post(f"/api/cloths/{cloth}/lines", json={"setting": 9000, "grade": 0}).status_code == 422
    # A scale that was described anew leaves old lines off it: said, and nothing is worked out from them.
    scale = next(m["spec"]["scale"] for m in bench.get("machines") if m["id"] == heron)
    describe_anew(bench, heron, scale={"kind": "dial", "low": 0, "high": 10, "step": 0.5})
    found = bench.get(f"cloths/{cloth}")
    assert found["scale_says"].startswith("2 lines are off the scale")
    assert found["rows"][0]["found"]["setting"] is None
    # A retired machine's cloths are still there to read; nothing new goes on them.
    describe_anew(bench, heron, retired=True, scale=scale)
    assert bench.get(f"cloths/{cloth}")["retired"] is True
    refused = bench.client.post(f"/api/cloths/{cloth}/lines", json={"setting": 200, "grade": 0})
    assert refused.status_code == 422
    assert "is retired" in refused.text


def test_a_line_is_corrected_to_a_cloth_of_its_machine_alone_and_stays_on_one_that_was_deleted(bench, heron):
    strip(bench, heron, ladder(1, 0))
    cloth = cloths(bench)[0]["id"]
    line = bench.get(f"log?kind=look&machine={heron}")["entries"][0]

    def corrected(**change):
        body = {"payload": {**line["payload"], **change}, "at": line["at"]}
        return bench.client.put(f"/api/log/{line['id']}", json=body)

    assert "That isn't a test cloth of this machine." in corrected(cloth=line["id"]).text
    bench.post(f"log/{cloth}/strike", {})
    # Its cloth is no longer there; that is no reason to refuse another grade.
    assert corrected(grade=-1).status_code == 200
    assert corrected(cloth=None).status_code == 200


def test_a_deleted_cloth_is_no_longer_found_and_its_lines_stay(bench, heron):
    strip(bench, heron, ladder(1, 0))
    cloth = cloths(bench)[0]["id"]
    bench.post(f"log/{cloth}/strike", {})
    assert cloths(bench) == []
    assert len(bench.get(f"machines/{heron}/balance")["looks"]) == 2
    assert bench.get(f"machines/{heron}/balance")["cloth"] is None
    assert bench.get(f"machines/{heron}/balance")["next_cloth"] == 2, "its number is not written on another"
    bench.post(f"log/{cloth}/restore", {})
    assert cloths(bench)[0]["id"] == cloth


def test_what_was_noted_late_goes_before_the_cloth_as_well(bench, heron):
    bench.later(5)
    bench.post(f"machines/{heron}/cloths", {})
    bench.later(10)
    bench.post(f"machines/{heron}/looks", {"setting": 195, "grade": 1})
    bench.post(f"machines/{heron}/looks", {"setting": 205, "grade": 0})
    bench.later(5)
    bench.post(f"machines/{heron}/needle", {"metric": 90, "american": 14, "point": "topstitch"})
    late = bench.get(f"machines/{heron}/balance")["late"]
    bench.post(f"machines/{heron}/late/{late['record']}", {})
    station = bench.get(f"machines/{heron}/balance")
    assert station["cloth"]["number"] == 1, "the cloth is still the one that is stitched"
    assert bench.get(f"cloths/{station['cloth']['id']}")["needle"] == "90/14 topstitch"


def test_a_quilts_page_names_its_cloths(bench, heron):
    bench.post(f"machines/{heron}/quilt", {"quilt": "Avocet"})
    strip(bench, heron, ladder(1, 0))
    (cloth,) = bench.get("quilt?name=Avocet")["cloths"]
    assert (cloth["number"], cloth["machine"]) == (1, "Heron")
    assert cloths(bench)[0]["quilt"] == "Avocet"
    assert [c["number"] for c in bench.get("cloths?text=avocet")["items"]] == [1]


def test_lines_of_one_cloth_are_not_gathered_on_the_next(bench, heron):
    bench.post(f"machines/{heron}/looks", {"setting": 195, "grade": 1})
    bench.later(1)
    first = bench.post(f"machines/{heron}/cloths", {"gather": True})["id"]
    bench.later(1)
    second = bench.post(f"machines/{heron}/cloths", {"gather": True})["id"]
    lines = {
        cloth: [line["setting"] for row in bench.get(f"cloths/{cloth}")["rows"] for line in row["lines"]]
        for cloth in (first, second)
    }
    assert lines == {first: [195], second: []}
