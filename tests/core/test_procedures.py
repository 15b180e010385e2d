"""Procedures, help and words: what common practice asks of each walk, and that the page holds together."""

from __future__ import annotations

import tomllib
from dataclasses import replace

import pint
import pytest
from pydantic import TypeAdapter

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND, Feature
from weftonos.core.kernel.procedures import MOST_SENTENCES, ProceduresPage
from weftonos.core.kernel.schools import MachineKind
from weftonos.knowledge import PROCEDURES, procedures

STATIONS = {"thread", "needle", "bobbin", "balance", "run", "mend", "log", "workshop"}


def walk(name: str, kind: MachineKind):
    return next(w for w in procedures().at(OF_KIND[kind]).walks if w.name == name)


def told(found) -> str:
    return " ".join(f"{step.name} {step.how} {step.proof}" for step in found.steps).lower()


@pytest.mark.parametrize(
    ("name", "kind", "facts"),
    [
        (
            "Set up for free-motion",
            MachineKind.HOME,
            (
                "feed dogs",
                "free-motion foot",
                "plate",
                "0. your hands",
                "stops down",
                "thread up",
                "tiny stitches",
                "even",
            ),
        ),
        (
            "Set up for free-motion",
            MachineKind.LONGARM,
            ("channel locks", "off", "hopping foot", "just clear", "first knuckle", "thread up", "needle up"),
        ),
        ("Tie on another color", MachineKind.HOME, ("cut", "tie", "discs", "slowly", "before the needle", "seat")),
        ("Load a case", MachineKind.LONGARM, ("9", "clockwise", "spring", "pigtail", "running direction")),
        ("Clean", MachineKind.HOME, ("power off", "hook", "spring", "discs")),
        ("Oil", MachineKind.LONGARM, ("manual", "one drop", "wipe", "scrap")),
    ],
)
def test_a_walk_says_what_common_practice_asks(name, kind, facts):
    text = told(walk(name, kind))
    at = [text.find(fact) for fact in facts]
    assert -1 not in at, [fact for fact, place in zip(facts, at, strict=True) if place < 0]


def test_every_walk_with_hands_near_the_needle_says_power_off_and_oil_defers_to_the_manual():
    for found in procedures().walks:
        about = {caution.about for caution in found.cautions}
        assert about & {"needle", "hook"}, found.name
    assert walk("Oil", MachineKind.HOME).steps[0].name == "The manual"
    assert "technician" in {caution.about for caution in walk("Oil", MachineKind.HOME).cautions}


def test_stitch_lengths_are_those_of_common_practice_in_inches_as_well():
    lengths = {s.purpose: (s.low_mm, s.high_mm) for s in procedures().stitches}
    assert lengths["piecing"] == (1.5, 2.0)
    units = pint.UnitRegistry()
    low, high = lengths["quilting"]
    per_inch = [(1 * units.inch / (mm * units.millimeter)).to_base_units().magnitude for mm in (high, low)]
    # Told as about 7 to 8½ to the inch.
    assert [int(per_inch[0]), round(per_inch[1], 1)] == [7, 8.5]
    assert lengths["free-motion: the setting"] == (0, 0)
    here = {has: {s.purpose for s in procedures().at({has}).stitches} for has in (Feature.LONGARM, Feature.DOMESTIC)}
    assert here[Feature.DOMESTIC] - here[Feature.LONGARM] == {"free-motion: the setting"}


def test_every_station_has_help_of_a_few_sentences_and_every_word_is_explained():
    page = procedures()
    assert {h.station for h in page.help} == STATIONS
    terms = {term.term: term.says for term in page.terms}
    for found in page.help:
        assert found.says
        for sentence in found.says:
            assert sentence.endswith(".")
            assert sentence.count(".") <= 2, "short"
        assert set(found.words) <= set(terms)
    assert all(says.endswith(".") and len(says) < 160 for says in terms.values())
    for has in OF_KIND.values():
        assert all(1 <= len(found.says) <= MOST_SENTENCES for found in page.at(has).help)
    assert {"mark", "two ways to do it", "steady"} <= set(terms)


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda page: replace(page, word=page.word[1:]), "is not explained"),
        (lambda page: replace(page, help=[replace(page.help[0], says=("One.",) * 6)]), "more than 5 sentences"),
        (lambda page: replace(page, walk=[replace(page.walk[0], cautions=["luck"])]), "no caution luck"),
    ],
)
def test_a_page_that_does_not_hold_together_is_refused(spoil, says):
    page = TypeAdapter(ProceduresPage).validate_python(tomllib.loads(PROCEDURES.read_text(encoding="utf-8")))
    page.read()
    with pytest.raises(CraftError, match=says):
        spoil(page).read()
