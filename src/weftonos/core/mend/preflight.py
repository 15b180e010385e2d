"""The short list before a new quilt: the checks of the page of troubles, made for this set-up."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from weftonos.core.kernel.advice import Caution
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.diagnosis import Observed
from weftonos.core.mend.trouble import Cause, FindingKind, Knowledge

#: A check joins the list when the set-up makes its cause so many times as likely as usual.
RAISED = estimate(2.5)
LONGEST_CHECK = estimate(4, "min")
#: So many checks are a list that somebody makes.
MOST_CHECKS = 8
#: Checks that ask for the opposite of each other are never both on the list.
_AGAINST = {
    "groove_too_small_for_thread": "needle_too_large_for_thread",
    "needle_too_large_for_thread": "groove_too_small_for_thread",
    "top_too_tight": "top_too_loose",
    "top_too_loose": "top_too_tight",
    "bobbin_too_tight": "bobbin_too_loose",
    "bobbin_too_loose": "bobbin_too_tight",
}
#: Checks that are made by stitching, whatever the hand does in between.
_STITCHED = (
    *("top_too_tight", "top_too_loose", "heat", "batting_or_fabric_drags", "uneven_hand_speed"),
    "tail_under_the_wrong_side_of_the_foot",
)


@dataclass(frozen=True, kw_only=True)
class PreflightItem:
    """One check of the list, and what about this set-up puts it there."""

    cause: str
    check: str
    how: str
    minutes: float
    why: str
    power_off: bool


@dataclass(frozen=True, kw_only=True)
class PreflightList:
    """The checks in the order of doing: under power off first, together, then at the machine running, then the stitch.

    ``items`` are eight at most, those that the records make likely first of all; ``rest`` is one tap away. ``done`` of
    it were made at ``done_at``, and nothing was changed since: they are not listed again.
    """

    items: tuple[PreflightItem, ...]
    rest: tuple[PreflightItem, ...]
    cautions: tuple[Caution, ...]
    minutes: float
    done: int = 0
    done_at: datetime | None = None


def without(listed: PreflightList, done: Collection[str], at: datetime) -> PreflightList:
    """Return the list without the checks that were made at a time since which nothing changed."""
    items = tuple(item for item in listed.items if item.cause not in done)
    made = len(listed.items) - len(items)
    if not made:
        return listed
    return replace(listed, items=items, minutes=sum(i.minutes for i in items), done=made, done_at=at)


def preflight(knowledge: Knowledge, evidence: Observed) -> PreflightList:
    """Return the checks to make before a quilt is begun.

    Parameters
    ----------
    knowledge: of this machine (:meth:`Knowledge.at`).
    evidence: conditions of the set-up and changes since it last ran well; no symptom.
    """
    listed: list[tuple[Cause, str]] = []
    weight: dict[str, float] = {}
    for cause in knowledge.causes:
        if cause.technician or cause.minutes > LONGEST_CHECK.value:
            continue
        times = _times_as_likely(knowledge, cause, evidence)
        raised = times > RAISED.value
        weight[cause.id] = times * cause.weight / cause.minutes
        speaks = [n for n in evidence.present if cause.chances.get(n, 0) > knowledge.findings[n].usual]
        if cause.preflight or (raised and speaks):
            listed.append((cause, _why(knowledge, speaks) if raised else ""))
    # Those of every quilt and those that the records raise; of two that cancel each other the likelier.
    listed.sort(key=lambda item: (not item[1], -weight[item[0].id]))
    kept: list[tuple[Cause, str]] = []
    left: list[tuple[Cause, str]] = []
    for cause, why in listed:
        against = _AGAINST.get(cause.id)
        cancels = any(other.id == against for other, _ in kept)
        (left if cancels or len(kept) == MOST_CHECKS else kept).append((cause, why))
    kept.sort(key=lambda item: _when(item[0]))
    cautions = dict.fromkeys(caution for cause, _ in kept for caution in cause.cautions)
    items = _items(kept)
    return PreflightList(
        items=items, rest=_items(left), cautions=tuple(cautions), minutes=sum(item.minutes for item in items)
    )


def _when(cause: Cause) -> int:
    """Return when a check is made: with the power off, then threading, then by a stitch."""
    if cause.hands and cause.id not in _STITCHED:
        return 0
    return 2 if cause.id in _STITCHED else 1


def _items(listed: Sequence[tuple[Cause, str]]) -> tuple[PreflightItem, ...]:
    return tuple(
        PreflightItem(
            cause=c.id,
            check=c.check,
            how=c.how,
            minutes=c.minutes,
            why=why,
            power_off=c.hands and c.id not in _STITCHED,
        )
        for c, why in listed
    )


def _why(knowledge: Knowledge, speaks: Sequence[str]) -> str:
    """Return what about the set-up speaks for a check: what changed, and how it is."""
    found = [knowledge.findings[name] for name in sorted(speaks)]
    changed = ", ".join(f.name.lower() for f in found if f.kind is FindingKind.CHANGE)
    known = ", ".join(f.name for f in found if f.kind is not FindingKind.CHANGE)
    return ". ".join(part for part in (f"Changed: {changed}" if changed else "", known[:1].upper() + known[1:]) if part)


def _times_as_likely(knowledge: Knowledge, cause: Cause, evidence: Observed) -> float:
    """Return how many times as likely as usual a cause is, each by itself: nothing has gone wrong yet."""
    ratios = []
    for name, chance in cause.chances.items():
        usual = knowledge.findings[name].usual
        if name in evidence.present:
            ratios.append(chance / usual)
        elif name in evidence.absent:
            ratios.append((1 - chance) / (1 - usual))
    return math.prod(ratios)
