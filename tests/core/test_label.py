"""A label in one line: the weights against ISO 1144 by pint, every way to read it, and what is asked instead."""

from __future__ import annotations

import math

import pint
import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.core.thread.drawer import NO_COLOR, Form, ThreadFinish
from weftonos.core.thread.label import read_label
from weftonos.core.thread.thread import Construction, Fiber

UNITS = pint.UnitRegistry()
#: Grams in a length, by pint: a hank of the cotton count is 840 yards in one pound.
GRAMS_PER_KM = {
    "tex": lambda n: n,
    "wt": lambda n: (UNITS.gram / (n * UNITS.meter)).to("gram / kilometer").magnitude,
    "denier": lambda n: (n * UNITS.gram / (9000 * UNITS.meter)).to("gram / kilometer").magnitude,
    "dtex": lambda n: (n * UNITS.gram / (10 * UNITS.kilometer)).to("gram / kilometer").magnitude,
    "ne": lambda n: (UNITS.pound / (n * 840 * UNITS.yard)).to("gram / kilometer").magnitude,
}


@pytest.mark.parametrize(
    ("line", "system", "number", "strands", "fiber", "construction"),
    [
        ("40wt cotton", "wt", 40, 1, Fiber.COTTON, Construction.SPUN),
        ("Tex 30", "tex", 30, 1, Fiber.POLYESTER, Construction.MULTIFILAMENT),
        ("120d x 2 trilobal", "denier", 120, 2, Fiber.POLYESTER, Construction.MULTIFILAMENT),
        ("120d/2", "denier", 120, 2, Fiber.POLYESTER, Construction.MULTIFILAMENT),
        ("50wt 2ply", "wt", 50, 1, Fiber.COTTON, Construction.SPUN),
        ("Ne 40/2 cotton", "ne", 40, 2, Fiber.COTTON, Construction.SPUN),
        ("dtex 110 clear", "dtex", 110, 1, Fiber.POLYESTER, Construction.MONOFILAMENT),
        ("100 WT silk", "wt", 100, 1, Fiber.SILK, Construction.MULTIFILAMENT),
        ("60 wt core-spun polyester", "wt", 60, 1, Fiber.POLYESTER, Construction.CORE_SPUN),
        ("150d flat film", "denier", 150, 1, Fiber.METALLIC, Construction.FILM),
        ("27,5 tex cotton-wrapped polyester", "tex", 27.5, 1, Fiber.COTTON_POLYESTER, Construction.CORE_SPUN),
    ],
)
def test_a_label_is_read_as_its_system_defines_it(line, system, number, strands, fiber, construction):
    best = read_label(line).readings[0]
    assert best.tex == pytest.approx(GRAMS_PER_KM[system](number) * strands, rel=1e-6)
    assert (best.spec.thread.fiber, best.spec.thread.construction) == (fiber, construction)
    assert best.spec.label_text == line


@pytest.mark.parametrize(("line", "mm"), [("0.1 mm clear", 0.1), ("0,18mm cotton", 0.18), ('0.004" clear', 0.1016)])
def test_a_thickness_becomes_the_thread_that_is_so_thick(line, mm):
    found = read_label(line).readings[0]
    assert found.diameter_mm == pytest.approx(mm, rel=2e-3)
    solid = found.spec.thread.construction is Construction.MONOFILAMENT
    if solid:
        # A solid round filament of polyester, 1.38 g/cm³ (Morton & Hearle).
        assert found.tex == pytest.approx(math.pi / 4 * mm**2 * 1.38 * 1000, rel=2e-3)


def test_what_a_line_leaves_open_is_read_both_ways_and_as_it_was_chosen_last():
    both = read_label("40/2 cotton")
    assert both.ask
    assert [round(r.tex, 1) for r in both.readings] == [25.0, 29.5]
    chosen = both.readings[1].spec
    assert round(read_label("60/2 cotton", [chosen]).readings[0].tex, 1) == round(590.54 / 60 * 2, 1)
    assert round(read_label("60/2", [chosen]).readings[0].tex, 1) == round(590.54 / 60 * 2, 1)
    assert read_label("60 wt", [chosen]).ask == ""


def test_what_is_left_of_a_line_is_its_name_and_the_rest_is_understood():
    spec = read_label("Saltmarsh 40 wt 3-ply cotton, 1000 yd cone, variegated").readings[0].spec
    assert (spec.name, spec.length_m, spec.plies, spec.form, spec.variegated) == ("Saltmarsh", 914, 3, Form.CONE, True)
    assert read_label("40wt mercerized cotton").readings[0].spec.finish is ThreadFinish.MERCERIZED
    assert read_label("40 wt").readings[0].taken, "the fiber is taken, and that is said"


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("hello", "no weight"),
        ("5000 wt", "Is it 50 wt?"),
        ("9 mm cotton", "isn't a thread's thickness"),
        ("", "empty"),
        ("4" * 121, "120 letters"),
    ],
)
def test_what_cannot_be_a_weight_is_asked_about_in_words(line, says):
    with pytest.raises(CraftError, match=says) as found:
        read_label(line)
    assert found.value.field == "label_text"


@pytest.mark.parametrize(
    ("line", "meters"),
    [
        ("40 wt polyester 5,500 yd", 5029),
        ("50 wt cotton 1.100 m", 1100),
        ("40 wt 1,200 m", 1200),
        ("40/2 cotton 500 m", 500),
        ("Tex 30 500 m", 500),
    ],
)
def test_a_length_may_have_its_thousands_apart(line, meters):
    assert read_label(line).readings[0].spec.length_m == meters


@pytest.mark.parametrize(
    ("line", "ask"),
    [("No. 60", "maker's own count"), ("cotton, blue", "Which weight"), ("tkt 120 cotton", "more than one way")],
)
def test_what_says_no_weight_or_one_of_its_maker_s_is_asked(line, ask):
    answer = read_label(line)
    assert ask in answer.ask and len(answer.readings) > 1


@pytest.mark.parametrize(
    ("line", "color"),
    [("40wt trilobal navy", "#1f2a4d"), ("Grey 50 wt cotton", "#7f858c"), ("40 wt royal blue rayon", "#2a4aa0")],
)
def test_a_color_word_is_read_and_two_are_not_guessed_between(line, color):
    assert read_label(line).readings[0].spec.color == color
    assert read_label(f"{line} and red").readings[0].spec.color == NO_COLOR


def test_a_nature_without_a_weight_says_what_it_was_taken_for():
    clear = read_label("invisible").readings[0]
    assert clear.diameter_mm == pytest.approx(0.1, rel=0.01)
    assert "as clear thread mostly is" in clear.taken[0]
    assert read_label("polyestr 40 wt").readings[0].taken[0] == "Read “polyestr” as polyester"
