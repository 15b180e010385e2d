"""A correction reaches everything that was learned from the record, and an old record can always be put right."""

import re
from datetime import datetime, timedelta

import pytest

from weftonos.stations import recipes

COTTON = {"fiber": "cotton", "construction": "spun", "value": 50, "system": "wt"}
NEEDLE = {"metric": 100, "american": 16, "point": "ballpoint"}


def correct(bench, record: int, **changes):
    entry = bench.get(f"log/{record}")
    body = {"payload": {**entry["payload"], **changes}, "at": changes.pop("at", entry["at"])}
    body["payload"].pop("at", None)
    answer = bench.client.put(f"/api/log/{record}", json=body)
    assert answer.status_code == 200, answer.text
    return bench.get(f"log/{record}")


def read(bench, machine: int, mn: float, **more) -> int:
    bench.later(1)
    body = {"unit": "mN", "pulls": [{"value": mn}], **more}
    return bench.post(f"machines/{machine}/readings", body)["id"]


def look(bench, machine: int, grade: int = 0, setting: float = 205) -> int:
    bench.later(1)
    return bench.post(f"machines/{machine}/looks", {"setting": setting, "grade": grade})["id"]


def own_number(bench, machine: int) -> dict:
    return bench.get(f"machines/{machine}/readings")["own"]


@pytest.fixture
def five(bench) -> tuple[int, int]:
    """Five balanced looks, the reading under the last typed as 400 instead of 230; the machine and that reading."""
    machine, _, bobbin = bench.combination()
    bench.post(f"machines/{machine}/needle", NEEDLE)
    reading = 0
    for mn in (226, 232, 228, 234, 400):
        bench.later(1)
        bench.post(f"machines/{machine}/bobbin", {"bobbin": bobbin})
        reading = read(bench, machine, mn)
        look(bench, machine)
    return machine, reading


class TestTheOwnNumber:
    def test_follows_a_corrected_reading(self, bench, five):
        machine, reading = five
        wrong = own_number(bench, machine)
        assert (wrong["readings"], wrong["mean_mn"]) == (5, 264)
        correct(bench, reading, pulls=[{"value": 230}])
        right = own_number(bench, machine)
        assert (right["readings"], right["mean_mn"]) == (5, 230)
        target = bench.get(f"machines/{machine}/readings")["target"]
        assert target["low"] > 210
        assert target["high"] < 250

    def test_forgets_a_reading_that_is_struck_out_and_learns_it_again(self, bench, five):
        machine, reading = five
        bench.post(f"log/{reading}/strike?anyway=true")
        assert (own_number(bench, machine)["readings"], own_number(bench, machine)["mean_mn"]) == (4, 230)
        bench.post(f"log/{reading}/restore")
        assert own_number(bench, machine)["mean_mn"] == 264

    def test_forgets_a_look_that_is_struck_out_or_was_not_balanced(self, bench, five):
        machine, _ = five
        newest = bench.get("log?kind=look")["entries"][0]["id"]
        bench.post(f"log/{newest}/strike?anyway=true")
        assert own_number(bench, machine)["readings"] == 4
        bench.post(f"log/{newest}/restore")
        assert own_number(bench, machine)["readings"] == 5
        correct(bench, newest, grade=2)
        assert own_number(bench, machine)["readings"] == 4, "the index of grades is renewed"

    def test_is_not_taught_by_a_bobbin_that_was_changed_before_the_look(self, bench, five):
        machine, reading = five
        at = next(e["at"] for e in bench.get("log")["entries"] if e["id"] == reading)
        between = (datetime.fromisoformat(at) + timedelta(seconds=30)).isoformat()
        bench.post(f"machines/{machine}/bobbin", {"bobbin": 2, "at": between})
        assert own_number(bench, machine)["readings"] == 4


def test_a_back_dated_change_of_thread_reaches_later_looks(bench):
    machine, _, _ = bench.combination()
    bench.post(f"machines/{machine}/needle", NEEDLE)
    bench.later(10)
    then = bench.now.isoformat()
    bench.later(10)
    newest = look(bench, machine)
    other = bench.post("threads", {"name": "Cotton 50", "thread": COTTON})["id"]
    bench.post(f"machines/{machine}/top", {"top": [other], "at": then})
    entry = next(e for e in bench.get("log")["entries"] if e["id"] == newest)
    assert [t["name"] for t in entry["setup"]["top"]] == ["Cotton 50"]


def test_a_corrected_label_reaches_old_records(bench):
    machine, top, _ = bench.combination()
    newest = look(bench, machine)
    label = bench.get("threads?text=Saltmarsh")["items"][0]["spec"]
    label["thread"]["value"] = 30
    assert bench.client.put(f"/api/threads/{top}", json=label).status_code == 200
    entry = next(e for e in bench.get("log")["entries"] if e["id"] == newest)
    assert entry["setup"]["top"][0]["words"].startswith("30 wt")


class TestOldRecords:
    def test_can_be_corrected_though_their_thread_was_struck_out_since(self, bench):
        machine, top, bobbin = bench.combination()
        threaded = bench.get("log?kind=top_threaded")["entries"][0]
        loaded = bench.get("log?kind=bobbin_loaded")["entries"][0]
        other = bench.post("threads", {"name": "Cotton", "thread": COTTON})["id"]
        bench.later(1)
        bench.post(f"machines/{machine}/top", {"top": [other]})
        bench.post(f"machines/{machine}/bobbin", {"bobbin": other})
        for thread in (top, bobbin):
            bench.post(f"threads/{thread}/strike?anyway=true")
        correct(bench, loaded["id"], fill=0.5)
        moved = datetime.fromisoformat(threaded["at"]) - timedelta(minutes=5)
        body = {"payload": threaded["payload"], "at": moved.isoformat()}
        assert bench.client.put(f"/api/log/{threaded['id']}", json=body).status_code == 200
        assert bench.refused(f"machines/{machine}/top", {"top": [top]})[0] == "top", "new work is another matter"

    def test_can_be_corrected_though_their_case_was_struck_out_since(self, bench):
        machine, _, bobbin = bench.combination()
        case = bench.post(f"machines/{machine}/cases", {"label": "A"})["id"]
        bench.later(1)
        bench.post(f"machines/{machine}/bobbin", {"bobbin": bobbin, "case": case})
        reading = read(bench, machine, 400, case=case)
        bench.post(f"cases/{case}/strike?anyway=true")
        assert correct(bench, reading, pulls=[{"value": 230}])["payload"]["mean_mn"] == 230

    def test_back_dated_bobbin_work_is_judged_by_the_top_of_then(self, bench):
        machine, _, bobbin = bench.combination()
        heavy = {"fiber": "cotton", "construction": "spun", "value": 8, "system": "wt"}
        thick = bench.post("threads", {"name": "Perle 8", "thread": heavy})["id"]
        bench.later(30)
        then = bench.now.isoformat()
        bench.later(30)
        # Through the needle goes none that thick, in the bobbin it may.
        light = bench.post("threads", {"name": "Cotton 100", "thread": {**COTTON, "value": 100}})["id"]
        bench.post(f"machines/{machine}/top", {"top": [light]})
        loaded = bench.post(f"machines/{machine}/bobbin", {"bobbin": thick, "bobbin_work": True, "at": then})
        assert loaded["setup"]["top"][0]["name"] == "Saltmarsh 40"
        assert loaded["setup"]["bobbin"]["name"] == "Perle 8"
        assert bobbin != thick


class TestRecipes:
    @pytest.fixture
    def kept(self, bench) -> tuple[int, int, int]:
        machine, _, bobbin = bench.combination()
        case = bench.post(f"machines/{machine}/cases", {"label": "A"})["id"]
        bench.later(1)
        bench.post(f"machines/{machine}/bobbin", {"bobbin": bobbin, "case": case})
        bench.post(f"machines/{machine}/needle", NEEDLE)
        reading = read(bench, machine, 200, case=case)
        look(bench, machine)
        bench.later(1)
        recipe = bench.post(f"machines/{machine}/recipes", {"name": "Avocet"})["id"]
        return machine, recipe, reading

    def test_say_what_the_corrected_reading_says(self, bench, kept):
        _, recipe, reading = kept
        correct(bench, reading, pulls=[{"value": 210}])
        (item,) = bench.get("recipes")["items"]
        assert (item["entry"]["id"], item["bobbin_words"]) == (recipe, "210 mN")

    def test_refuse_a_correction_of_what_they_only_repeat(self, bench, kept):
        _, recipe, _ = kept
        entry = bench.get("log?kind=recipe")["entries"][0]
        for field, value in (("bobbin_mn", 250), ("setting", 300), ("grade", 1)):
            body = {"payload": {**entry["payload"], field: value}, "at": entry["at"]}
            where, why = bench.refused(f"log/{recipe}", body, "PUT")
            assert where == ("bobbin_mn" if field == "bobbin_mn" else "setting")
            assert re.search(r"Correct that (reading|line)", why)

    @pytest.mark.parametrize(("mn", "stale"), [(210, False), (214, True), (190, False), (185, True)])
    def test_notice_when_their_case_reads_more_than_six_in_a_hundred_off(self, bench, kept, mn, stale):
        machine, _, _ = kept
        case = bench.get(f"machines/{machine}/rack")["cases"][0]["id"]
        read(bench, machine, mn, case=case)
        (item,) = bench.get("recipes")["items"]
        assert any(f"case A reads {mn} mN now" in s["text"] for s in item["stale"]) is stale


class TestNoSilentCeiling:
    def test_the_recipe_book_is_read_to_its_end_and_struck_ones_are_not_in_it(self, bench, monkeypatch):
        monkeypatch.setattr(recipes, "READ_AT_A_TIME", 20)
        machine, _, _ = bench.combination()
        bench.post(f"machines/{machine}/needle", NEEDLE)
        read(bench, machine, 204)
        look(bench, machine)
        bench.post(f"machines/{machine}/recipes", {"name": "The very first"})
        last = 0
        for n in range(63):
            bench.later(1)
            last = bench.post(f"machines/{machine}/recipes", {"name": f"Block {n}"})["id"]
        bench.post(f"log/{last}/strike?anyway=true")
        names, path = [], "recipes"
        while path:
            page = bench.get(path)
            names += [r["entry"]["payload"]["name"] for r in page["items"]]
            path = f"recipes?before={page['more']}" if page["more"] else ""
        assert len(names) == len(set(names)) == 63
        assert (names[0], names[-1]) == ("Block 61", "The very first")
        assert [r["entry"]["payload"]["name"] for r in bench.get("recipes?text=very%20first")["items"]] == [
            "The very first"
        ]

    def test_the_log_is_read_to_its_end(self, bench):
        machine, _, _ = bench.combination()
        for n in range(260):
            bench.post(f"machines/{machine}/runs", {"minutes": 1, "quilt": f"Q{n}"})
        seen, before = [], ""
        while True:
            page = bench.get(f"log?limit=200{before}")
            seen += [e["id"] for e in page["entries"]]
            if page["more"] is None:
                break
            before = f"&before={page['more']}"
        assert len(seen) == len(set(seen)) == 262
