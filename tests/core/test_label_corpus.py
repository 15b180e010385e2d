"""Three hundred and fifty labels as they stand on spools, with what a practitioner would take: `labels.csv`.

They were written from the trade's own facts before the reader was changed; every second line was not looked at while it
was tuned. A label that is read wrongly without asking is worse than one that is refused.
"""

from __future__ import annotations

import csv
from pathlib import Path

import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.core.thread.label import read_label

CORPUS = Path(__file__).parent.parent / "check_values" / "labels.csv"
RIGHT, ASKED, REFUSED, WRONG = "right", "asked", "refused", "silently wrong"


def rows() -> list[dict[str, str]]:
    with CORPUS.open(newline="", encoding="utf-8") as file:
        return list(csv.DictReader(file))


def alike(tex: float, other: str) -> bool:
    return not other or abs(tex / float(other) - 1) < 0.02


def outcome(row: dict[str, str]) -> str:
    """Return how one label came out against what it should."""
    try:
        answer = read_label(row["line"])
    except CraftError:
        return RIGHT if row["outcome"] == "refuse" else REFUSED
    first = answer.readings[0]
    made = (
        not row["fiber"] or first.spec.thread.fiber == row["fiber"],
        not row["construction"] or first.spec.thread.construction == row["construction"],
    )
    told = bool(first.taken) or not row["said"]
    wanted = row["tex"].split("|")
    if row["outcome"] == "read" and not answer.ask:
        return RIGHT if all(made) and alike(first.tex, wanted[0]) and told else WRONG
    if row["outcome"] == "ask" and answer.ask:
        offered = all(any(alike(r.tex, each) for r in answer.readings) for each in wanted)
        return RIGHT if all(made) and offered and told else WRONG
    # A question too many costs a tap; a question too few is an answer nobody gave.
    return ASKED if answer.ask else WRONG


def test_the_corpus_is_large_enough():
    kinds = [row["outcome"] for row in rows()]
    assert len(kinds) >= 300
    assert all(kinds.count(kind) >= 20 for kind in ("read", "ask", "refuse"))


def test_nothing_is_read_wrongly_without_asking():
    assert [row["line"] for row in rows() if outcome(row) == WRONG] == []


def test_only_nonsense_is_refused():
    assert [row["line"] for row in rows() if outcome(row) == REFUSED] == []


@pytest.mark.parametrize("part", [0, 1], ids=["looked at", "held out"])
def test_the_right_outcome_in_ninety_five_of_a_hundred(part):
    outcomes = [outcome(row) for row in rows()[part::2]]
    assert outcomes.count(RIGHT) / len(outcomes) >= 0.95
