"""The numbers that answers rest on, as a person is told them: named, with units, and none of the trade's left out."""

from __future__ import annotations

import re

import pytest

from weftonos.core.kernel.standing import Standing
from weftonos.knowledge import figure_labels

#: The subjects that stations show.
SHOWN = ("thread", "needle", "bobbin", "mend")
#: Tables and definitions of the arithmetic; the throats stand in the names of their ranges.
OF_THE_ARITHMETIC = ("factors", "limits at", "large throat in", "small throat in")


def shown(bench, subject: str) -> dict[str, str]:
    return {f["says"]: f["reads"] for f in bench.get(f"words/figures?subject={subject}") if f["says"]}


def test_a_number_reads_as_a_quilter_says_it(bench):
    needle, bobbin, thread, mend = (shown(bench, subject) for subject in ("needle", "bobbin", "thread", "mend"))
    assert needle["A steel needle's stitching hours"] == "6 to 8 h"
    assert needle["A needle is overdue from"] == "120% of its life"
    assert bobbin["Usual tension, throat of 22 to 36 inches"] == "180 to 220 mN"
    assert bobbin["A minute of the screw changes the reading by"] == "2.5% per minute"
    assert bobbin["Bobbin L, across its core"] == "6.5 mm"
    assert thread["Weights for thread that should hide"] == "100 to 60 wt"
    assert thread["Friction of cotton-wrapped polyester on polished metal"] == "0.24", "a coefficient is no share"
    assert thread["Density of wash-away"] == "1.3 g/cm³"
    assert mend["Clean after stitching with cotton"] == "4 h"
    in_grams = bench.client.get("/api/words/figures?subject=bobbin", headers={"X-Units": "gf"}).json()
    assert {f["says"]: f["reads"] for f in in_grams}["Usual tension, throat of 22 to 36 inches"] == "18.4 to 22.4 g"


@pytest.mark.parametrize("subject", SHOWN)
def test_no_name_of_the_code_is_shown_and_nothing_of_the_trade_is_left_out(bench, subject):
    answer = bench.get(f"words/figures?subject={subject}")
    said = [f["says"] for f in answer if f["says"]]
    assert len(said) == len(set(said)) > 15
    for figure in answer:
        told = figure["says"] or figure["name"].endswith(", to")
        if figure["known"]["standing"] != Standing.ESTIMATE and not figure["name"].startswith(OF_THE_ARITHMETIC):
            assert told, figure
        assert bool(figure["says"]) == bool(figure["reads"])
        assert not re.search(r"[_<>{}]|\d{7}|\b(mm|mn|h|in)\b, |^[a-z]", figure["says"]), figure
    constants = {re.split("[:,]", figure["name"])[0] for figure in answer}
    assert {re.split("[:,]", name)[0] for name in figure_labels().labels[subject]} <= constants, "one that isn't there"


def test_what_a_machine_cannot_show_is_not_told(bench):
    scale = {"kind": "dial", "low": 0, "high": 9, "step": 0.5}
    wren = {"nickname": "Wren", "kind": "home", "removable_case": False, "scale": scale}
    heron, drops_in = bench.combination()[0], bench.post("machines", wren)["id"]
    for subject in ("bobbin", "thread"):
        told = {
            machine: {f["says"] for f in bench.get(f"words/figures?subject={subject}&machine={machine}")} - {""}
            for machine in (heron, drops_in)
        }
        assert told[heron] == set(shown(bench, subject))
        assert told[drops_in] < told[heron]
        words = "gauge|pull|screw|throat|reading|case|guide hole"
        assert not [says for says in told[drops_in] if re.search(rf"\b({words})s?\b", says)]
        assert len(told[drops_in]) > 10
