"""The short list before a new quilt: the checks of the page of troubles, made for this set-up."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from weftonos.core.kernel.advice import Caution
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.diagnosis import Evidence
from weftonos.core.mend.trouble import Cause, FindingKind, Knowledge

#: A check joins the list when the set-up makes its cause so many times as likely as usual.
RAISED = estimate(2.5)
LONGEST_CHECK = estimate(4, "min")


@dataclass(frozen=True, kw_only=True)
class PreflightItem:
    """One check of the list, and what about this set-up puts it there."""

    cause: str
    check: str
    how: str
    minutes: float
    why: str
    power_off: bool


@dataclass(frozen=True)
class PreflightList:
    """The checks in the order of the hand: with the power on first, then all that want it off, together."""

    items: tuple[PreflightItem, ...]
    cautions: tuple[Caution, ...]
    minutes: float


def preflight(knowledge: Knowledge, evidence: Evidence, machine: MachineKind) -> PreflightList:
    """Return the checks to make before a quilt is begun.

    Parameters
    ----------
    evidence: conditions of the set-up and changes since it last ran well; no symptom.
    machine: its kind; what cannot happen there is left out.
    """
    elsewhere = {c.id for c in knowledge.causes if machine not in c.machines}
    listed: list[tuple[Cause, str]] = []
    for cause in knowledge.causes:
        if cause.id in elsewhere or cause.technician or cause.minutes > LONGEST_CHECK.value:
            continue
        raised = _times_as_likely(knowledge, cause, evidence) > RAISED.value
        speaks = [n for n in evidence.present if cause.chances.get(n, 0) > knowledge.findings[n].usual]
        if cause.preflight or (raised and speaks):
            listed.append((cause, _why(knowledge, speaks) if raised else ""))
    # The power goes off once, not between every two checks.
    listed.sort(key=lambda item: item[0].hands)
    items = tuple(
        PreflightItem(cause=c.id, check=c.check, how=c.how, minutes=c.minutes, why=why, power_off=c.hands)
        for c, why in listed
    )
    cautions = dict.fromkeys(caution for cause, _ in listed for caution in cause.cautions)
    return PreflightList(items, tuple(cautions), sum(item.minutes for item in items))


def _why(knowledge: Knowledge, speaks: Sequence[str]) -> str:
    """Return what about the set-up speaks for a check: what changed, and how it is."""
    found = [knowledge.findings[name] for name in sorted(speaks)]
    changed = ", ".join(f.name.lower() for f in found if f.kind is FindingKind.CHANGE)
    known = ", ".join(f.name for f in found if f.kind is not FindingKind.CHANGE)
    return ". ".join(part for part in (f"Changed: {changed}" if changed else "", known[:1].upper() + known[1:]) if part)


def _times_as_likely(knowledge: Knowledge, cause: Cause, evidence: Evidence) -> float:
    """Return how many times as likely as usual a cause is, each by itself: nothing has gone wrong yet."""
    ratios = []
    for name, chance in cause.chances.items():
        usual = knowledge.findings[name].usual
        if name in evidence.present:
            ratios.append(chance / usual)
        elif name in evidence.absent:
            ratios.append((1 - chance) / (1 - usual))
    return math.prod(ratios)
