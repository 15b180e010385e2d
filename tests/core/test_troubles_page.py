"""The page of troubles: whole by common practice, holding together, and refused with a sentence where it does not."""

import csv
from pathlib import Path

import pytest

from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.advice import POWER_OFF
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND, Feature
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.mend.circumstance import Circumstances, Since, changes, conditions
from weftonos.core.mend.trouble import FindingKind
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread
from weftonos.knowledge import TROUBLES, read_troubles, troubles

PAGE = TROUBLES.read_text(encoding="utf-8")
KNOWN = troubles()
ROWS = list(
    csv.DictReader(
        line
        for line in (Path(__file__).parents[1] / "check_values" / "troubles.csv").read_text().splitlines()
        if not line.startswith("#")
    )
)
#: The symptoms that quilters name (common practice).
SYMPTOMS = [
    "frays above the eye",
    "clean snap of the top thread",
    "bobbin thread breaks",
    "loops or nest on the back",
    "bobbin thread dots on top",
    "nest at the start",
    "skipped stitches",
    "loops only on curves",
    "false break alarm",
    "gauge flutters",
    "tangle round the case after stopping",
    "popping or thumping",
    "breaks in one travel direction only",
    "breaks only mid-frame",
    "tension drifts through a bobbin",
    "needle bends or breaks",
    "thread melts or curls",
    "holes, puckers",
]


def test_every_cause_of_common_practice_is_on_the_page_with_its_minutes_and_symptoms():
    assert len(ROWS) == len(KNOWN.causes) == 39
    for row, cause in zip(ROWS, KNOWN.causes, strict=True):
        assert KNOWN.cause(row["cause"]) is cause
        assert cause.minutes == float(row["minutes"])
        for words in row["shows"].split(";"):
            symptom = KNOWN.finding(words.replace("uneven tension", "uneven_tension"), [FindingKind.SYMPTOM], "")
            assert cause.chances[symptom] >= 0.2, (cause.id, symptom)


@pytest.mark.parametrize("words", SYMPTOMS)
def test_every_symptom_has_its_picture_and_reaches_two_causes_at_least(words):
    name = KNOWN.finding(words, [FindingKind.SYMPTOM], "symptoms")
    finding = KNOWN.findings[name]
    drops_in = {Feature.DOMESTIC, Feature.TABLE, Feature.DROP_IN, Feature.FLAT_SHANK}
    for has in (*OF_KIND.values(), drops_in):
        here = KNOWN.at(has)
        if name in here.findings:
            assert len([c for c in here.causes if c.chances.get(name, 0) > finding.usual]) >= 2
    drawings = Path(__file__).parents[2] / "web" / "src" / "diagrams" / "SymptomPicture.vue"
    assert f"'{name}'" in drawings.read_text(encoding="utf-8") or name == "holes_puckers"


@pytest.mark.parametrize("cause", KNOWN.causes, ids=lambda c: c.id)
def test_every_cause_has_a_check_a_cure_minutes_and_its_caution(cause):
    assert cause.check
    assert cause.how
    assert cause.cure
    assert cause.minutes > 0
    near = any(word in f"{cause.check} {cause.how}".lower() for word in ("power off", "case out", "plate"))
    assert not near or POWER_OFF in cause.cautions
    assert not cause.hands or POWER_OFF in cause.cautions
    assert cause.technician is (cause.id == "hook_timing")


@pytest.mark.parametrize("machine", MachineKind)
def test_no_symptom_of_a_machine_leads_only_to_what_it_does_not_have(machine):
    offered = KNOWN.at(OF_KIND[machine]).of_kind(FindingKind.SYMPTOM)
    assert ("false_break_alarm" in offered) is (machine is MachineKind.LONGARM)
    assert len(offered) == (19 if machine is MachineKind.LONGARM else 17)


def test_a_wording_replaces_only_what_it_says():
    flat = KNOWN.at({Feature.FLAT_SHANK}).cause("needle_turned_or_backwards")
    usual = KNOWN.cause("needle_turned_or_backwards")
    assert "flat" in flat.how
    assert "six o'clock" not in f"{flat.check} {flat.how} {flat.cure}"
    assert (flat.name, flat.minutes, flat.chances) == (usual.name, usual.minutes, usual.chances)


def test_what_was_named_before_stays_after_a_machine_is_described_otherwise():
    home = KNOWN.at(OF_KIND[MachineKind.HOME], keep=["breaks_only_mid_frame", "rails_bow"])
    assert home.findings["breaks_only_mid_frame"].name == "Breaks only mid-frame"
    assert "rails_bow" in home.index
    assert "roller_too_close" not in home.index


def test_what_the_records_know_is_all_on_the_page():
    cotton = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=40, system=WeightSystem.WT)
    gold = Thread(fiber=Fiber.METALLIC, construction=Construction.METALLIC, value=40, system=WeightSystem.WT)
    everything = Circumstances(
        machine_kind=MachineKind.LONGARM,
        top=(cotton, gold),
        bobbin=cotton,
        needle=NeedleSize(100, 16),
        point=Point.TOPSTITCH,
        needle_hours=3,
        needle_minutes=180,
        bobbin_mn=200,
        swing=0.02,
        target=BobbinTarget(low=180, high=220),
        sandwich=Sandwich(),
        grade=0,
        knob_by=0,
        other_system=False,
        sizes_off=0,
        hand_test_failed=False,
        hours_since_cleaning=1,
        hours_since_oiling=1,
    )
    holds, lacks = conditions(everything)
    assert holds | lacks == set(KNOWN.of_kind(FindingKind.CONDITION))
    assert not holds & lacks
    laid = Setup(sandwich=Sandwich())
    for change in changes(laid, laid, Since()):
        assert KNOWN.findings[change.findings[0]].kind is FindingKind.CHANGE
        assert not change.changed


def _without(what: str, instead: str = "", times: int = 1) -> str:
    assert what in PAGE, what
    return PAGE.replace(what, instead, times)


@pytest.mark.parametrize(
    ("page", "says"),
    [
        (_without('check = "Look under the cone"\n'), "check"),
        (_without('cure = "Free it, set', 'cure = "" #'), "has no cure"),
        (_without('cautions = ["power_off"]'), "needs the caution power_off"),
        (_without('"do_not_force"]', '"do_not_forse"]'), "do_not_forse"),
        (_without("minutes = 0.5", "minutes = 0"), "0 minutes"),
        (_without('common = "everyday"', 'common = "daily"'), "daily"),
        (_without('nest_at_the_start = "always"', 'nest_at_start = "always"'), "nest_at_start"),
        (_without('nest_at_the_start = "always"', 'nest_at_the_start = "ever"'), "ever"),
        (_without("mostly = 0.75", "mostly = 1.5"), "between 0 and 1"),
        (_without('id = "heat"', 'id = "case_bent"'), "twice"),
        (_without('loops_only_on_curves = "always", '), "fewer than two causes"),
        (_without('first = ["thread_aged_or_poor"]', 'first = ["top_too_tight"]'), "in a circle"),
        (_without('opens = "path"', 'opens = "garden"'), "opens"),
        (_without("shows = {", "shws = {"), "shws"),
        (_without('first = ["thread_aged_or_poor"]', 'first = ["bobbin_to_tight"]'), "bobbin_to_tight"),
        ("causes = [", "not TOML"),
    ],
)
def test_a_page_that_does_not_hold_together_is_refused_with_a_sentence(page, says):
    with pytest.raises(CraftError, match=says):
        read_troubles(page)


def test_a_new_cause_needs_no_code():
    more = PAGE + (
        '\n[[cause]]\nid = "cat_on_the_quilt"\nname = "Cat on the quilt"\ncommon = "usual"\nminutes = 0.5\n'
        'check = "Look for the cat"\nhow = "Under the quilt, by the rail."\ncure = "Lift it off."\n'
        'shows = { skipped_stitches = "often" }\n'
    )
    knowledge = read_troubles(more)
    assert knowledge.cause("Cat on the quilt").chances == {"skipped_stitches": 0.45}
    assert knowledge.chances.shape == (40, len(KNOWN.findings))


def test_the_readable_pages_are_fresh():
    import knowledge_pages

    for name, text in knowledge_pages.pages().items():
        assert (knowledge_pages.DOCS / name).read_text(encoding="utf-8") == text, "run scripts/knowledge_pages.py"
