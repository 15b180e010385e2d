"""What is noted of a thread is used: the needle its maker names, its hand tests, its rating and price."""

import io
import re

import pytest
from pypdf import PdfReader

from api.test_schools_and_natures import choose

COTTON = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}
HOME = {
    "nickname": "Wren",
    "kind": "home",
    "throat_in": 8,
    "scale": {"kind": "dial", "low": 0, "high": 10, "step": 0.5},
}


@pytest.fixture
def wren(bench):
    return bench.post("machines", HOME)["id"]


def put_on(bench, machine, **more):
    thread = bench.post("threads", {"name": "Samphire 40", "thread": COTTON, **more})["id"]
    bench.post(f"machines/{machine}/top", {"top": [thread]})
    return thread


def maker(bench, machine):
    return bench.get(f"machines/{machine}/needle")["maker"]


def test_the_makers_needle_is_named_with_ours_beside_it(bench, wren):
    put_on(bench, wren)
    assert maker(bench, wren) is None
    ours = bench.get(f"machines/{wren}/needle")["pairing"]["recommended"]
    assert (ours["metric"], ours["point"]) == (90, "topstitch")
    put_on(bench, wren, needle_named="100/16 topstitch")
    named = maker(bench, wren)
    assert (named["metric"], named["point"]) == (100, "topstitch")
    assert named["text"] == (
        "Its maker names 100/16 topstitch. 100/16 topstitch will do: 1 size larger than the best, 90/14. "
        "Ours is 90/14 topstitch."
    )
    put_on(bench, wren, needle_named="90/14 topstitch")
    assert maker(bench, wren)["text"] == "Its maker names 90/14 topstitch. So do we."


@pytest.mark.parametrize("words", ["the large one", "80/16", "topstitch"])
def test_what_can_not_be_read_is_said_as_it_stands(bench, wren, words):
    put_on(bench, wren, needle_named=words)
    named = maker(bench, wren)
    assert named["text"] == f"Its maker names {words}."
    assert named["metric"] is None


def test_the_makers_needle_comes_first_where_that_is_the_choice(bench, wren):
    thread = put_on(bench, wren, needle_named="100/16 topstitch")
    choose(bench, wren, makers_needle="first")
    station = bench.get(f"machines/{wren}/needle")
    best, first = station["pairing"]["recommended"], station["pairing"]["alternatives"][0]
    assert (best["metric"], best["point"]) == (100, "topstitch")
    assert (first["metric"], first["point"]) == (90, "topstitch")
    assert station["maker"] is None
    assert station["pairing"]["reasons"][0]["text"].startswith("Its maker names 100/16 topstitch. The maker knows")
    # The plan and the sheet of the drawer say the same needle, and Mend does not call it a size off.
    plan = bench.post(f"machines/{wren}/plan", {"top": [thread]})
    assert plan["needle"] == "100/16 topstitch"
    # What can't be read, or isn't sold, leaves ours.
    for words in ("the large one", "60/8 ballpoint"):
        put_on(bench, wren, needle_named=words)
        ours = bench.get(f"machines/{wren}/needle")
        assert ours["pairing"]["recommended"]["metric"] == 90, words
        assert ours["maker"]["text"].startswith(f"Its maker names {words}.")


def chance(bench, machine):
    found = bench.get(f"machines/{machine}/mend")["diagnosis"]["causes"]
    return next(cause["probability"] for cause in found if cause["cause"] == "thread_aged_or_poor")


def test_a_failed_hand_test_raises_the_threads_age_and_a_later_good_one_lowers_it(bench, wren):
    def told(*tests):
        put_on(bench, wren, hand_tests=[{"kind": "snap", "good": good, "on": on} for good, on in tests])
        mend = bench.post(f"machines/{wren}/incidents", {"symptoms": ["clean_snap_of_the_top_thread"]})
        found = chance(bench, wren)
        known = bench.get(f"machines/{wren}/mend")["known"]
        bench.post(f"incidents/{mend['id']}/outcome", {"outcome": "left"})
        bench.later(1)
        return found, "the thread failed its last hand test" in known

    untested, _ = told()
    failed, said = told((True, "2026-01-01"), (False, "2026-06-01"))
    passed, unsaid = told((False, "2026-01-01"), (True, "2026-06-01"))
    assert failed > 2 * untested > untested > passed
    assert (said, unsaid) == (True, False)


def test_threads_that_meet_a_wish_alike_stand_by_rating_then_price_and_never_by_the_alphabet(bench, wren):
    ids = {}
    for name, more in (
        ("Avocet", {"rating": 2}),
        ("Bittern", {}),
        ("Dunlin", {"price": 12, "length_m": 1000}),
        ("Egret", {"price": 6, "length_m": 1000}),
        ("Tern", {"rating": 5}),
    ):
        ids[name] = bench.post("threads", {"name": name, "thread": COTTON, "color": "#202020", **more})["id"]
    wish = {"wish": "show", "ground": "light", "busy": False}
    found = bench.post(f"machines/{wren}/wish", wish)["matches"]
    assert [match["name"] for match in found] == ["Tern", "Egret", "Dunlin", "Bittern", "Avocet"]


def card(bench, machine, thread):
    return {line["label"]: line["says"] for line in bench.get(f"machines/{machine}/threads/{thread}/card")["lines"]}


def test_a_threads_card_holds_what_is_known_and_nothing_else(bench, wren):
    plain = put_on(bench, wren)
    assert card(bench, wren, plain) == {"Lint": "sheds it: clean sooner"}
    rich = put_on(
        bench,
        wren,
        needle_named="90/14 topstitch",
        rating=4,
        price=12,
        length_m=1000,
        hand_tests=[
            {"kind": "snap", "good": False, "on": "2026-01-01"},
            {"kind": "snap", "good": True, "on": "2026-06-01"},
            {"kind": "strokes", "good": False, "on": "2026-06-01", "strokes": 3},
        ],
    )
    for quilt in ("Avocet", "Dunlin"):
        bench.later(240)
        bench.post(f"machines/{wren}/runs", {"minutes": 240, "quilt": quilt})
        bench.post(f"machines/{wren}/breaks", {})
    found = card(bench, wren, rich)
    assert found["Its maker names"] == "90/14 topstitch"
    assert found["Your rating"] == "4 of 5"
    assert found["Hand tests"] == "snapped against new, good (June 1, 2026) · stroked, failed (June 1, 2026)"
    assert found["Price"] == "1.20 for 100 m"
    assert re.fullmatch(r"2 breaks in 8 hours, most likely one in [\d.]+ to \d+ hours", found["Breaks here"])
    assert found["Used on"] == "Avocet, Dunlin"
    printed = bench.client.get(f"/api/machines/{wren}/threads/{rich}/card.pdf").content
    text = " ".join(PdfReader(io.BytesIO(printed)).pages[0].extract_text().split())
    assert "Samphire 40" in text and "on Wren" in text
    assert all(says.split(",")[0] in text for says in found.values())


def test_its_settings_stand_on_the_card(bench):
    machine, top, _ = bench.combination()
    bench.post(f"machines/{machine}/needle", {"metric": 100, "american": 16, "point": "topstitch"})
    bench.post(f"machines/{machine}/readings", {"unit": "mN", "pulls": [{"value": 200}] * 2})
    bench.post(f"machines/{machine}/looks", {"setting": 205, "grade": 0})
    bench.post(f"machines/{machine}/recipes", {"name": "Avocet", "setting": 205})
    assert card(bench, machine, top)["Settings"] == "205 over Limpet 80, free-motion (Avocet)"
    assert bench.client.get(f"/api/machines/{machine}/threads/999/card").status_code == 422
