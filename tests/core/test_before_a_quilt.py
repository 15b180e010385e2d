"""The list before a quilt: the checks that pay, and no others."""

import math
from dataclasses import replace
from itertools import product

import pytest
from scipy.stats import gamma, poisson

from weftonos.core.kernel.care import Care
from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.mend.diagnosis import Observed
from weftonos.core.mend.incident import Preflight
from weftonos.core.mend.preflight import MOST_CHECKS, PreflightStakes, always_skipped, preflight
from weftonos.core.mend.trouble import Cause, FindingKind
from weftonos.knowledge import troubles

KNOWN = troubles()
LONGARM = KNOWN.at(OF_KIND[MachineKind.LONGARM])


def test_preflight_is_short_and_made_for_the_set_up():
    plain = preflight(LONGARM, Observed())
    assert [item.cause for item in plain.items] == ["top_thread_outside_the_discs"]
    assert 4 <= len(plain.rest) <= 8, "the others that common practice looks at before a quilt"
    assert plain.says == f"{len(plain.rest)} more checks would take longer than they should save."
    worn = Observed.of(KNOWN, ["hours_over_life", "hours_since_oiling", "flat_metallic"])
    listed = {item.cause: item for item in preflight(LONGARM, worn).items}
    assert {"needle_dull_burred_bent", "flat_film_twists_off_the_end"} <= listed.keys()
    stakes = PreflightStakes(care=Care.MATTERS, troubles=3, hours=6.0)
    dry = preflight(LONGARM, Observed.of(KNOWN, ["hours_since_oiling"]), stakes)
    assert "hook_dry" in {item.cause for item in dry.items}
    assert listed["needle_dull_burred_bent"].why == "The needle is past its life"


@pytest.mark.parametrize("care", Care)
@pytest.mark.parametrize("changed", [[], ["needle"], ["needle", "re_threading", "bobbin"]])
def test_no_other_list_is_expected_to_cost_fewer_minutes(care: Care, changed: list[str]):
    """By enumeration of every list of the twelve quickest checks, each with the chance that it saves a trouble."""
    stakes = PreflightStakes(care=care, troubles=3, hours=6.0)
    listed = preflight(LONGARM, Observed.of(KNOWN, changed), stakes)
    # A gamma of two troubles in ten hours, and three more in six: five in sixteen.
    often = gamma(2 + 3, scale=1 / (10 + 6)).mean()
    common = sum(cause.weight for cause in LONGARM.causes)
    some = sorted((c for c in LONGARM.causes if not c.technician), key=lambda c: c.minutes)[:12]

    def chance(cause: Cause) -> float:
        times = math.prod(
            cause.chances.get(name, KNOWN.findings[name].usual) / KNOWN.findings[name].usual for name in changed
        )
        return float(poisson(2 * often * cause.weight / common * times).sf(0))

    costs = [(cause.minutes, {"matters": 40, "usual": 20, "scrap": 8}[care] * chance(cause)) for cause in some]
    best = min(
        product((True, False), repeat=len(some)),
        key=lambda made: sum(both[not made] for both, made in zip(costs, made, strict=True)),
    )
    wanted = {cause.id for cause, made in zip(some, best, strict=True) if made}
    made = {item.cause for item in listed.items} & {cause.id for cause in some}
    assert made <= wanted if len(listed.items) == MOST_CHECKS else made == wanted


def test_a_quilt_that_matters_is_looked_at_more_and_what_waits_is_never_called_sure():
    changed = Observed.of(KNOWN, ["needle", "re_threading"])
    lists = {care: preflight(LONGARM, changed, PreflightStakes(care=care)) for care in Care}
    made = {care: {item.cause for item in listed.items} for care, listed in lists.items()}
    assert made[Care.SCRAP] < made[Care.USUAL] < made[Care.MATTERS]
    assert lists[Care.MATTERS].says.endswith("This quilt matters, so more checks pay.")
    skipped = preflight(LONGARM, Observed(), PreflightStakes(care=Care.SCRAP, hours=30.0))
    assert not skipped.items
    assert skipped.says == (
        "Each check would take longer than it should save. That rules nothing out. "
        "No trouble in 30 hours here. This is scrap, so fewer checks pay."
    )


def test_a_machine_that_gives_trouble_is_looked_at_more():
    counts = [len(preflight(LONGARM, Observed(), PreflightStakes(troubles=n, hours=20.0)).items) for n in (0, 4, 40)]
    assert counts == sorted(set(counts))
    assert PreflightStakes(troubles=1, hours=8.0).words == "One trouble in 8 hours here."
    assert PreflightStakes(troubles=1, hours=4.0).words == "", "too few hours to tell"


def test_preflight_wants_the_power_off_once():
    listed = preflight(LONGARM, Observed.of(KNOWN, ["needle", "re_threading"]))
    off = [item.power_off for item in listed.items]
    assert off == sorted(off, reverse=True), "what wants the power off comes first, together"
    for item in (*listed.items, *listed.rest):
        assert not item.power_off or any("Switch the machine off" in c.text for c in item.cautions), item.cause


def test_a_list_before_a_quilt_is_short_and_asks_for_no_opposites():
    everything = [name for name, f in KNOWN.findings.items() if f.kind is FindingKind.CHANGE]
    everything += ["thread_rubs", "hours_over_life", "linty_thread", "metallic", "heavy_sandwich"]
    listed = preflight(LONGARM, Observed.of(KNOWN, everything))
    causes = [item.cause for item in listed.items]
    assert len(causes) == 8
    assert listed.rest, "the others are one tap away"
    assert not {"groove_too_small_for_thread", "needle_too_large_for_thread"} <= set(causes)
    assert not {"top_too_tight", "top_too_loose"} <= set(causes)
    assert not any(item.power_off for item in listed.items if item.cause in ("top_too_tight", "heat"))
    assert listed.minutes == sum(item.minutes for item in listed.items) < 20


def test_a_home_machine_has_no_rollers_to_look_at():
    causes = {item.cause for item in preflight(KNOWN.at(OF_KIND[MachineKind.HOME]), Observed()).items}
    assert not causes & {"roller_too_close", "sandwich_too_tight", "off_the_check_spring"}


def test_a_check_that_is_skipped_nearly_every_time_is_asked_for_no_more():
    stakes = PreflightStakes(care=Care.MATTERS, troubles=8, hours=20.0)
    usual = preflight(LONGARM, Observed(), stakes)
    first, second, *others = (item.cause for item in usual.items)
    made = Preflight(done=(first, *others), of=len(usual.items), skipped=(second,))
    all_made = Preflight(done=(first, second, *others), of=len(usual.items), skipped=())
    assert always_skipped([made] * 7 + [all_made] * 3) == set(), "seven of ten"
    assert always_skipped([made] * 9) == set(), "too few tell"
    assert always_skipped([replace(made, skipped=())] * 10) == set(), "nobody said what was listed"
    # What was made long ago doesn't count: only the last ten in which it stood.
    other = Preflight(done=others[:1], of=2, skipped=("hook_dry",))
    skips = always_skipped([*[made] * 4, *[other] * 5, *[made] * 6, *[all_made] * 20])
    assert skips == {second}
    spared = preflight(LONGARM, Observed(), stakes, skips)
    assert second not in {item.cause for item in spared.items}
    assert second in {item.cause for item in spared.rest}, "one tap away"
    assert "You skip one check nearly every time, so it isn't listed." in spared.says
    # Where something about the set-up speaks for it, it's asked for all the same.
    worn = Observed.of(KNOWN, ["hours_over_life"])
    needle = "needle_dull_burred_bent"
    assert needle in {item.cause for item in preflight(LONGARM, worn, stakes, {needle}).items}


def test_who_skips_every_check_isn_t_told_that_none_pays():
    stakes = PreflightStakes(care=Care.MATTERS, troubles=8, hours=20.0)
    every = {item.cause for item in preflight(LONGARM, Observed(), stakes).items}
    none = preflight(LONGARM, Observed(), stakes, {cause.id for cause in LONGARM.causes})
    assert not none.items
    assert every <= {item.cause for item in none.rest}
    assert not none.says.startswith("Each check")
    assert f"You skip {len(every)} checks nearly every time, so they aren't listed." in none.says
