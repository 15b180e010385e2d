"""The short list before a new quilt: the checks of the page of troubles that pay, made for this set-up.

A check pays where the chance that its cause comes to trouble before the next chance to look, times the minutes of such
a trouble, is more than the check takes. How likely a cause is to come follows from how often there is trouble here, how
common it is, and how many times as likely the set-up makes it (Bayes' rule, each cause by itself).
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Collection, Sequence, Set
from dataclasses import dataclass, replace
from datetime import datetime

from weftonos.core.kernel.advice import Caution
from weftonos.core.kernel.care import TROUBLE, Care
from weftonos.core.kernel.own_minutes import SEWN_AHEAD
from weftonos.core.kernel.spoken import at_the_start, in_hours, so_many_troubles
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.diagnosis import Observed
from weftonos.core.mend.incident import Preflight
from weftonos.core.mend.trouble import Cause, FindingKind, Knowledge
from weftonos.core.setup.left_out import LEFT_OUT, OF_THE_LAST

#: What speaks for a check is told when the set-up makes its cause so many times as likely as usual.
RAISED = estimate(2.5)
#: How often there is trouble until a machine's own count says, and for how many troubles that counts beside it.
TROUBLES_AN_HOUR, USUAL_WEIGHS = estimate(0.2, "troubles a stitching hour"), estimate(2, "troubles")
#: One's own count is told from so many stitching hours on.
TOLD_FROM_HOURS = 5
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
class PreflightStakes:
    """What is at stake before a quilt: how careful it wants its maker to be, and a machine's troubles in its hours."""

    care: Care = Care.USUAL
    troubles: int = 0
    hours: float = 0.0

    @property
    def an_hour(self) -> float:
        """How often there is trouble here in a stitching hour: the mean of a gamma distribution."""
        usual_h = USUAL_WEIGHS.value / TROUBLES_AN_HOUR.value
        return (USUAL_WEIGHS.value + self.troubles) / (usual_h + self.hours)

    @property
    def words(self) -> str:
        """What moved the list beside the set-up; empty where nothing did."""
        often = so_many_troubles(self.troubles)
        own = f"{often[0].upper()}{often[1:]} in {in_hours(self.hours)} here." if self.hours >= TOLD_FROM_HOURS else ""
        return " ".join(part for part in (own, _CARE_MOVES[self.care]) if part)


_CARE_MOVES = {
    Care.MATTERS: "This quilt matters, so more checks pay.",
    Care.USUAL: "",
    Care.SCRAP: "This is scrap, so fewer checks pay.",
}


@dataclass(frozen=True, kw_only=True)
class PreflightItem:
    """One check of the list, and what about this set-up puts it there."""

    cause: str
    check: str
    how: str
    minutes: float
    why: str
    power_off: bool
    cautions: tuple[Caution, ...]


@dataclass(frozen=True, kw_only=True)
class PreflightList:
    """The checks in the order of doing: under power off first, together, then at the machine running, then the stitch.

    ``items`` pay; they are eight at most, those that save most for a minute. ``rest`` is one tap away, and ``says`` why
    it may wait. ``done`` of them were made at ``done_at``, and nothing was changed since: those are not listed again.
    """

    items: tuple[PreflightItem, ...]
    rest: tuple[PreflightItem, ...]
    minutes: float
    says: str = ""
    done: int = 0
    done_at: datetime | None = None


def without(listed: PreflightList, done: Collection[str], at: datetime) -> PreflightList:
    """Return the list without the checks that were made at a time since which nothing changed."""
    items = tuple(item for item in listed.items if item.cause not in done)
    made = len(listed.items) - len(items)
    if not made:
        return listed
    return replace(listed, items=items, minutes=sum(i.minutes for i in items), done=made, done_at=at)


def always_skipped(flown: Sequence[Preflight]) -> Set[str]:
    """Return the checks that somebody skips nearly every time they are listed.

    Parameters
    ----------
    flown: the lists that were gone through, newest first. Older ones say only what was made.
    """
    made: dict[str, list[bool]] = defaultdict(list)
    for each in flown:
        for cause in each.done:
            made[cause].append(True)
        # Whoever corrects what was made needn't correct the other.
        for cause in set(each.skipped).difference(each.done):
            made[cause].append(False)
    lasts = {cause: each[: int(OF_THE_LAST.value)] for cause, each in made.items()}
    return {c for c, last in lasts.items() if len(last) == OF_THE_LAST.value and last.count(False) >= LEFT_OUT.value}


def preflight(
    knowledge: Knowledge,
    evidence: Observed,
    stakes: PreflightStakes | None = None,
    skipped: Set[str] = frozenset(),
) -> PreflightList:
    """Return the checks to make before a quilt is begun.

    Parameters
    ----------
    knowledge: of this machine (:meth:`Knowledge.at`).
    evidence: conditions of the set-up and changes since it last ran well; no symptom.
    skipped: checks that are always skipped (:func:`always_skipped`): they are listed where the set-up speaks for them.
    """
    stakes = stakes or PreflightStakes()
    expected = stakes.an_hour * SEWN_AHEAD.value / float(knowledge.weights.sum())
    paying: list[tuple[float, Cause, str]] = []
    may_wait: list[tuple[Cause, str]] = []
    unasked: list[tuple[Cause, str]] = []
    for cause in knowledge.causes:
        if cause.technician or cause.minutes > LONGEST_CHECK.value:
            continue
        times = _times_as_likely(knowledge, cause, evidence)
        speaks = [n for n in evidence.present if cause.chances.get(n, 0) > knowledge.findings[n].usual]
        why = _why(knowledge, speaks) if times > RAISED.value else ""
        saves = TROUBLE[stakes.care].value * -math.expm1(-expected * cause.weight * times)
        if saves > cause.minutes and cause.id in skipped and not why:
            unasked.append((cause, why))
        elif saves > cause.minutes:
            paying.append((saves / cause.minutes, cause, why))
        elif cause.preflight or why:
            may_wait.append((cause, why))
    # Of two that cancel each other the one that saves more.
    paying.sort(key=lambda item: -item[0])
    listed: list[tuple[Cause, str]] = []
    left: list[tuple[Cause, str]] = []
    for _, cause, why in paying:
        cancels = any(other.id == _AGAINST.get(cause.id) for other, _ in listed)
        (left if cancels or len(listed) == MOST_CHECKS else listed).append((cause, why))
    listed.sort(key=lambda item: _when(item[0]))
    items = _items(listed)
    return PreflightList(
        items=items,
        rest=_items([*left, *unasked, *may_wait]),
        minutes=sum(item.minutes for item in items),
        says=_says(len(items), 0 if left else len(may_wait), len(unasked), stakes),
    )


def _says(listed: int, may_wait: int, unasked: int, stakes: PreflightStakes) -> str:
    """Say why checks may wait, without calling anything sure, and what moved the list."""
    if not listed and not unasked:
        why = "Each check would take longer than it should save. That rules nothing out."
    else:
        why = {
            0: "",
            1: "One more check would take longer than it should save.",
        }.get(may_wait, f"{may_wait} more checks would take longer than they should save.")
    skips = {
        0: "",
        1: "You skip one check nearly every time, so it isn't listed.",
    }.get(unasked, f"You skip {unasked} checks nearly every time, so they aren't listed.")
    return " ".join(part for part in (why, skips, stakes.words) if part)


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
            cautions=c.cautions,
        )
        for c, why in listed
    )


def _why(knowledge: Knowledge, speaks: Sequence[str]) -> str:
    """Return what about the set-up speaks for a check: what changed, and how it is."""
    found = [knowledge.findings[name] for name in sorted(speaks)]
    changed = ", ".join(f.name.lower() for f in found if f.kind is FindingKind.CHANGE)
    known = ", ".join(f.name for f in found if f.kind is not FindingKind.CHANGE)
    return ". ".join(part for part in (f"Changed: {changed}" if changed else "", at_the_start(known)) if part)


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
