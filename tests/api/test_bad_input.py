"""Bad input: a sentence at the field, nothing stored, and never a 5xx."""

import pytest

THREAD = {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}


def label(**change):
    return {"name": "Tern 40", "thread": {**THREAD, **change}}


@pytest.mark.parametrize(
    ("body", "field", "says"),
    [
        (label(value=0), "value", "above 0"),
        (label(value=-40), "value", "above 0"),
        (label(value=4000), "value", "Is it 40 wt?"),
        (label(value="forty"), "value", "“forty” is not a number"),
        (label(fiber="moss"), "fiber", "“moss” is not a known fiber. Known: cotton, polyester"),
        (label(strands=2.5), "strands", "whole number"),
        (label(system="ticket", value=120), "system", "weigh a measured length"),
        ({**label(), "name": "x" * 10_000}, "name", "80 letters. This has 10000"),
        ({**label(), "name": "   "}, "name", "is empty"),
        ({"thread": THREAD}, "name", "The name is missing."),
        ({**label(), "color": "red"}, "color", "#rrggbb"),
    ],
)
def test_a_label_that_cannot_be_is_refused_at_its_field(bench, body, field, says):
    found, sentence = bench.refused("threads", body)
    assert (found, says in sentence) == (field, True), sentence
    assert bench.count() == 0


@pytest.mark.parametrize(
    ("path", "body", "field", "says"),
    [
        ("needle", {"metric": 80, "american": 16, "point": "sharp"}, "american", "80 pairs with 12, 100 with 16"),
        ("needle", {"metric": 100, "american": 16, "point": "spear"}, "point", "not a known point"),
        ("needle", {"metric": 100, "american": 16, "point": "sharp", "at": "2027-01-01T00:00Z"}, "at", "future"),
        ("needle", {"metric": 100, "american": 16, "point": "sharp", "at": "soon"}, "at", "not a date"),
        ("readings", {"unit": "mN", "pulls": [{"value": "abc"}]}, "value", "“abc” is not a number"),
        ("readings", {"unit": "mN", "pulls": []}, "pulls", "Pull two or three times"),
        ("readings", {"unit": "mN", "pulls": [{"value": 20.4}, {"value": 20.6}]}, "unit", "marked in grams or cN"),
        ("readings", {"unit": "lb", "pulls": [{"value": 200}]}, "unit", "Known: mN, gf or cN"),
        ("looks", {"setting": 900, "grade": 0}, "setting", "from 80 to 400"),
        ("looks", {"setting": 200, "grade": 3}, "grade", "from −2 to +2"),
        ("top", {"top": []}, "top", "Choose a top thread first"),
        ("top", {"top": [1, 1, 1, 1, 1]}, "top", "1 to 4"),
        ("top", {"top": [99]}, "top", "not in the drawer"),
        ("bobbin", {"bobbin": 10**30}, "bobbin", "not in the drawer"),
    ],
)
def test_what_cannot_be_done_at_a_machine_is_refused_at_its_field(bench, path, body, field, says):
    machine, _, _ = bench.combination()
    before = bench.count()
    found, sentence = bench.refused(f"machines/{machine}/{path}", body)
    assert (found, says in sentence) == (field, True), sentence
    assert bench.count() == before


def test_a_thread_struck_out_meanwhile_cannot_go_on(bench):
    machine, top, bobbin = bench.combination()
    bench.post(f"threads/{top}/strike?anyway=true")
    bench.post(f"threads/{bobbin}/strike?anyway=true")
    assert bench.refused(f"machines/{machine}/top", {"top": [top]}) == (
        "top",
        "Saltmarsh 40 was deleted from the drawer. Restore it or choose another.",
    )
    assert bench.refused(f"machines/{machine}/bobbin", {"bobbin": bobbin})[0] == "bobbin"
    bench.post(f"threads/{top}/restore")
    bench.post(f"machines/{machine}/top", {"top": [top]})


def test_numbers_that_json_does_not_know_are_refused(bench):
    machine, _, _ = bench.combination()
    for text in (
        '{"setting": NaN, "grade": 0}',
        '{"setting": 1e999, "grade": 0}',
        "{",
        '{"setting": 200, "grade": "',
    ):
        answer = bench.client.post(
            f"/api/machines/{machine}/looks", content=text, headers={"content-type": "application/json"}
        )
        assert answer.status_code in (400, 422)


def test_a_correction_cannot_change_the_kind_or_the_future(bench):
    machine, _, _ = bench.combination()
    entry = bench.post(f"machines/{machine}/looks", {"setting": 200, "grade": 0})
    needle = {"kind": "needle_fitted", "metric": 80, "american": 12, "point": "sharp"}
    assert bench.refused(f"log/{entry['id']}", {"payload": needle, "at": entry["at"]}, "PUT")[0] == "kind"
    late = {"payload": entry["payload"], "at": "2030-01-01T00:00:00Z"}
    assert bench.refused(f"log/{entry['id']}", late, "PUT")[0] == "at"
    odd = {"payload": {"kind": "poem"}, "at": entry["at"]}
    assert "not a kind of record" in bench.refused(f"log/{entry['id']}", odd, "PUT")[1]


def test_a_machine_is_described_anew_with_a_path_that_leads_to_the_needle(bench):
    machine, *_ = bench.combination()
    spec = next(m["spec"] for m in bench.get("machines") if m["id"] == machine)
    pin, eye = {"name": "Pin", "how": "Around it once"}, {"name": "Needle's eye", "how": "From the front"}
    field, says = bench.refused(f"machines/{machine}", {**spec, "path": [pin]}, "PUT")
    assert (field, says) == ("path", "This path has no needle. Add the needle's eye where it belongs.")
    assert bench.client.put(f"/api/machines/{machine}", json={**spec, "path": [pin, eye]}).status_code == 200


@pytest.mark.parametrize("path", ["machines/7/line", "machines/7/needle", "log?before=99", "nowhere"])
def test_what_is_not_there_is_a_404(bench, path):
    assert bench.client.get(f"/api/{path}").status_code == 404


def test_half_a_character_is_refused_with_a_sentence(bench):
    bench.combination()
    for path, body in (
        ("machines/1/incidents", b'{"symptoms": ["\\ud800"]}'),
        (
            "machines/1/evidence/plan",
            b'{"measure": "breaks", "factor": "top_thread", "first": "\\ud800", "second": "b"}',
        ),
        ("bench/machine", b'{"machine": {"seed": 7, "setting": 200, "faults": ["\\uD800"]}, "do": 5}'),
        (
            "threads",
            b'{"name": "\\udc00", "thread": {"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}}',
        ),
        ("compute/gauge", b'{"\\udbff": 1}'),
    ):
        answer = bench.client.post(f"/api/{path}", content=body, headers={"content-type": "application/json"})
        assert (answer.status_code, "alf a character" in answer.json()["detail"][0]["msg"]) == (422, True)
    # A whole one, written in two halves, is one.
    thread = b'{"fiber": "cotton", "construction": "spun", "value": 40, "system": "wt"}'
    body = b'{"name": "Wren \\ud83d\\udc26", "thread": ' + thread + b"}"
    kept = bench.client.post("/api/threads", content=body, headers={"content-type": "application/json"})
    assert kept.status_code == 201, kept.text
    assert kept.json()["spec"]["name"] == "Wren \N{BIRD}"
