"""Whether a cure wants a test line: against a Bayesian network, SciPy's beta, and troubles drawn by another hand."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from pgmpy.factors.discrete import TabularCPD
from pgmpy.inference import VariableElimination
from pgmpy.models import DiscreteBayesianNetwork
from scipy.stats import beta

from weftonos.core.kernel.care import Care
from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.mend.diagnosis import Observed
from weftonos.core.mend.incident import Incident, came_back
from weftonos.core.mend.proof import ANOTHER, CuresTried, proof_of_a_cure, still_wrong
from weftonos.core.mend.trouble import FindingKind, Knowledge
from weftonos.knowledge import troubles

LONGARM = troubles().at(OF_KIND[MachineKind.LONGARM])
NEVER = CuresTried(held=10**9)
SOME = ("top_thread_outside_the_discs", "needle_dull_burred_bent", "hook_dry", "case_bent", "uneven_hand_speed")
FEW = Knowledge(LONGARM.findings, tuple(c for c in LONGARM.causes if c.id in SOME), LONGARM.traps)
SYMPTOMS = sorted(FEW.of_kind(FindingKind.SYMPTOM))


def by_network(found: str, seen: set[str]) -> float:
    """The chance of a second cause, each bringing about what it does by itself."""
    first = FEW.cause(found)
    others = [c for c in FEW.causes if c.id != found]
    share = np.array([c.weight for c in others]) / sum(c.weight for c in others)
    network = DiscreteBayesianNetwork([("second", name) for name in SYMPTOMS])
    prior = [[1 - ANOTHER.value], *([ANOTHER.value * s] for s in share)]
    network.add_cpds(TabularCPD("second", len(prior), prior))
    for name in SYMPTOMS:
        alone = first.chances.get(name, FEW.findings[name].usual)
        told = [alone] + [1 - (1 - alone) * (1 - c.chances.get(name, 0)) for c in others]
        network.add_cpds(TabularCPD(name, 2, [[1 - p for p in told], told], ["second"], [len(prior)]))
    evidence = {name: int(name in seen) for name in SYMPTOMS}
    none = VariableElimination(network).query(["second"], evidence, show_progress=False).values[0]
    return float(1 - none)


@pytest.mark.parametrize("found", SOME)
@pytest.mark.parametrize(
    "seen",
    [
        {"frays_above_the_eye"},
        {"loops_or_nest_on_the_back", "uneven_tension"},
        {"popping_or_thumping", "gauge_flutters", "skipped_stitches"},
    ],
)
def test_what_is_left_unexplained_speaks_for_another_cause_as_a_network_has_it(found, seen):
    seen &= set(SYMPTOMS)
    told = still_wrong(FEW, Observed.of(FEW, seen), found, NEVER)
    implied = set(Observed.of(FEW, seen).present) & set(SYMPTOMS)
    assert told == pytest.approx(by_network(found, implied), abs=1e-6)


@pytest.mark.parametrize(("held", "failed"), [(0, 0), (40, 0), (12, 5)])
def test_how_often_cures_fail_here_is_learned(held, failed):
    assert CuresTried(held=held, failed=failed).fails == pytest.approx(beta(1 + failed, 19 + held).mean())


def test_the_chance_comes_true_for_troubles_that_are_drawn():
    """A hundred kinds of trouble, one in ten with a second cause: of those told a chance, about so many have one."""
    luck = np.random.default_rng(11)
    weights = np.array([c.weight for c in LONGARM.causes])
    told: list[tuple[float, bool]] = []
    names = sorted(LONGARM.of_kind(FindingKind.SYMPTOM))
    for _ in range(3000):
        first = LONGARM.causes[luck.choice(len(weights), p=weights / weights.sum())]
        second = None
        if luck.random() < 0.1:
            rest = [c for c in LONGARM.causes if c is not first]
            shares = np.array([c.weight for c in rest])
            second = rest[luck.choice(len(rest), p=shares / shares.sum())]
        seen = {
            name
            for name in names
            if luck.random() < first.chances.get(name, LONGARM.findings[name].usual)
            or (second is not None and luck.random() < second.chances.get(name, 0))
        }
        if seen:
            told.append((still_wrong(LONGARM, Observed(frozenset(seen)), first.id, NEVER), second is not None))
    chances, truth = np.array([p for p, _ in told]), np.array([t for _, t in told])
    for low, high in ((0, 0.03), (0.03, 0.1), (0.1, 0.3), (0.3, 1.01)):
        some = (chances >= low) & (chances < high)
        error = 3 * np.sqrt(chances[some].mean() / some.sum())
        assert truth[some].mean() == pytest.approx(chances[some].mean(), abs=error), (low, some.sum())


def test_a_line_pays_by_what_hangs_on_the_quilt_and_is_never_called_sure():
    plain = still_wrong(LONGARM, Observed.of(LONGARM, ["frays_above_the_eye"]), "needle_dull_burred_bent", CuresTried())
    assert 0.03 < plain < 0.2
    assert {care: proof_of_a_cure(plain, care, 1).pays for care in Care} == {
        Care.MATTERS: True,
        Care.USUAL: False,
        Care.SCRAP: False,
    }
    assert proof_of_a_cure(0.1, Care.USUAL, 2).says == (
        "A test line would take longer than it should save: about one cure in 10 leaves something wrong."
    )
    assert "This quilt matters" in proof_of_a_cure(0.19, Care.MATTERS, 2).says
    assert not proof_of_a_cure(0.19, Care.MATTERS, 5).pays, "who takes long for a line"
    often = proof_of_a_cure(0.2, Care.SCRAP, 5)
    assert often.pays, "one in five is too many"
    assert often.says == "About one cure in 5 leaves something wrong, so test it before you sew on."
    assert proof_of_a_cure(0.6, Care.MATTERS, 5).says.startswith("Something else seems wrong as well")
    # What the cause that was found doesn't bring about speaks for a test.
    seen = ["frays_above_the_eye", "loops_only_on_curves", "gauge_flutters"]
    more = still_wrong(LONGARM, Observed.of(LONGARM, seen), "needle_dull_burred_bent", CuresTried())
    assert proof_of_a_cure(more, Care.USUAL, 2).pays


def test_a_trouble_that_is_seen_again_soon_came_back():
    noon = datetime(2026, 12, 1, 12, tzinfo=UTC)
    frays = Incident(symptoms=("frays_above_the_eye",))
    skips = replace(frays, symptoms=("skipped_stitches",))

    def again(minutes: float, other: Incident = frays) -> bool:
        return came_back(frays, noon, [(noon + timedelta(minutes=minutes), other)])

    assert again(10)
    assert not again(40), "another evening"
    assert not again(-10), "it was before"
    assert not again(0), "of one moment, it's the trouble itself"
    assert not again(10, skips)
