"""What can go wrong, what it shows, and how it is looked at: the shape of the knowledge, and that it holds together.

The knowledge itself is data (``weftonos/knowledge/troubles.toml``). Nothing here names a cause.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass, field, fields, replace
from enum import StrEnum
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from typing import TypeVar

import numpy as np
import numpy.typing as npt

from weftonos.core.kernel.advice import CAUTIONS, Caution
from weftonos.core.kernel.errors import CraftError, in_words
from weftonos.core.kernel.feature import Feature, Needs, applies

Array = npt.NDArray[np.float64]


class FindingKind(StrEnum):
    """Where a finding comes from: seen, asked, changed since it last ran well, or known from the records."""

    SYMPTOM = "symptom"
    SIGN = "sign"
    CHANGE = "change"
    CONDITION = "condition"


@dataclass(frozen=True, kw_only=True)
class Wording:
    """How something is said where a machine has what it ``needs``; what is left out stays as it is elsewhere."""

    needs: Needs
    name: str | None = None
    text: str | None = None
    check: str | None = None
    how: str | None = None
    cure: str | None = None
    drawing: Drawing | None = None
    opens: Opens | None = None


@dataclass(frozen=True, kw_only=True)
class Finding:
    """Something that speaks for some causes and against others.

    ``usual`` is its chance under a cause that does not mention it. ``ask`` is the question that settles it, in
    ``minutes``, asked only beside the symptoms ``asked_with``. It cannot be together with ``not_with``, and brings
    ``implies`` with it. ``breaks``: it counts as a thread break. ``by_records``: the
    records tell it from threads and needles, so it is not asked. ``needs`` is what a machine has where it can be met,
    ``here`` how it is said on machines of some kinds.
    """

    kind: FindingKind
    name: str
    usual: float
    ask: str = ""
    asked_with: tuple[str, ...] = ()
    minutes: float = 0.1
    not_with: tuple[str, ...] = ()
    implies: tuple[str, ...] = ()
    breaks: bool = False
    by_records: bool = False
    needs: Needs = ()
    here: tuple[Wording, ...] = ()


class Drawing(StrEnum):
    """The picture beside a check."""

    NONE = ""
    PATH = "path"
    CONE = "cone"
    TAILS = "tails"
    SIX_O_CLOCK = "six_o_clock"
    NEEDLE_UP = "needle_up"
    GROOVE = "groove"
    STITCH_TIGHT = "stitch_tight"
    STITCH_LOOSE = "stitch_loose"
    GAUGE = "gauge"
    NINE = "nine"
    CASE_SPRING = "case_spring"
    SWAP = "swap"
    PLATE = "plate"
    FINGER_TEST = "finger_test"
    ROLLER = "roller"
    RAIL_GAP = "rail_gap"


class Opens(StrEnum):
    """Where a cure is done."""

    NOWHERE = ""
    PATH = "path"
    CARE = "care"
    THREAD = "thread"
    NEEDLE_SAME = "needle_same"
    NEEDLE_NEW = "needle_new"
    NEEDLE_UP = "needle_up"
    NEEDLE_DOWN = "needle_down"
    NEEDLE_BALLPOINT = "needle_ballpoint"
    NEEDLE_DRAWER = "needle_drawer"
    BOBBIN = "bobbin"
    RACK = "rack"
    WINDING = "winding"
    BALANCE = "balance"
    UPKEEP = "upkeep"


@dataclass(frozen=True, kw_only=True)
class Cause:
    """A cause with its check (and the minutes of it) and its cure.

    ``weight`` is how common it is; ``chances`` are P(finding | this cause) for the findings it mentions. ``hands``:
    the hand goes near needle, hook or plate. ``point`` is the point of the thread path to draw, ``opens`` where the
    cure is done, ``technician`` that it is not the quilter's to do. ``needs`` is what a machine has where it can be
    the cause, ``here`` how it is said on machines of some kinds. ``timed`` counts one's own checks of it, where the
    minutes are one's own.
    """

    id: str
    name: str
    weight: float
    minutes: float
    check: str
    how: str
    cure: str
    drawing: Drawing
    point: str
    opens: Opens
    chances: Mapping[str, float]
    hands: bool
    cautions: tuple[Caution, ...]
    needs: Needs
    here: tuple[Wording, ...]
    preflight: bool
    technician: bool
    timed: int = 0


@dataclass(frozen=True, kw_only=True)
class Trap:
    """A rule above the ranking: when ``when`` is found, ``first`` is looked at before what it ``holds`` back.

    With ``now`` it comes before everything else. ``beside``: only where one of these is found as well.
    """

    id: str
    text: str
    when: tuple[str, ...]
    first: tuple[str, ...]
    holds: tuple[str, ...]
    unless: tuple[str, ...] = ()
    beside: tuple[str, ...] = ()
    now: bool = False
    here: tuple[Wording, ...] = ()

    def applies(self, present: Iterable[str]) -> bool:
        """Whether it stands, for what is found."""
        found = set(present)
        beside = not self.beside or bool(found.intersection(self.beside))
        return beside and bool(found.intersection(self.when)) and not found.intersection(self.unless)


@dataclass(frozen=True)
class Knowledge:
    """Findings by id, causes in their usual order, and traps."""

    findings: Mapping[str, Finding]
    causes: tuple[Cause, ...]
    traps: tuple[Trap, ...]

    @cached_property
    def index(self) -> Mapping[str, int]:
        """The place of each cause."""
        return {cause.id: number for number, cause in enumerate(self.causes)}

    def mentioning_first(self, causes: Iterable[Cause], seen: Iterable[str]) -> tuple[list[Cause], list[Cause]]:
        """Return the causes that mention one of the findings, and the others, each in the order given."""
        names, told = list(seen), list(causes)
        first = [c for c in told if any(c.chances.get(name, 0) > self.findings[name].usual for name in names)]
        return first, [c for c in told if c not in first]

    @cached_property
    def breaking(self) -> frozenset[str]:
        """The findings that count as a thread break."""
        return frozenset(name for name, finding in self.findings.items() if finding.breaks)

    @cached_property
    def exclusions(self) -> Mapping[str, frozenset[str]]:
        """What each finding cannot be together with; what excludes another is excluded by it."""
        return {
            name: frozenset(finding.not_with) | {other for other, f in self.findings.items() if name in f.not_with}
            for name, finding in self.findings.items()
        }

    @cached_property
    def columns(self) -> Mapping[str, int]:
        """The place of each finding in :attr:`chances`."""
        return {name: number for number, name in enumerate(self.findings)}

    @cached_property
    def chances(self) -> Array:
        """P(finding | cause), causes by findings."""
        return np.array(
            [[c.chances.get(name, f.usual) for name, f in self.findings.items()] for c in self.causes], dtype=float
        )

    @cached_property
    def weights(self) -> Array:
        """How common each cause is, not yet normalized."""
        return np.array([cause.weight for cause in self.causes])

    @cached_property
    def minutes(self) -> Array:
        """The minutes of each cause's check."""
        return np.array([cause.minutes for cause in self.causes])

    def cause(self, name: str, field: str = "cause") -> Cause:
        """Return a cause by id or by its words; raises :class:`CraftError`."""
        known = self.index.get(_slug(name))
        if known is None:
            known = {_slug(c.name): n for n, c in enumerate(self.causes)}.get(_slug(name))
        if known is None:
            raise CraftError(f"“{name}” isn't a cause we know.", field)
        return self.causes[known]

    def finding(self, name: str, kinds: Sequence[FindingKind], field: str) -> str:
        """Return the id of a finding of these kinds by id or by its words; raises :class:`CraftError`."""
        names = {_slug(f.name): id_ for id_, f in self.findings.items() if f.kind in kinds}
        wanted = _slug(name)
        found = wanted if wanted in self.findings else names.get(wanted)
        if found is None or self.findings[found].kind not in kinds:
            listed = [f.name.lower() for f in self.findings.values() if f.kind is kinds[0]]
            raise CraftError(f"“{name}” isn't a {kinds[0].value} we know. We know {in_words(listed, 'and')}.", field)
        return found

    def of_kind(self, *kinds: FindingKind) -> Mapping[str, Finding]:
        """Return the findings of some kinds."""
        return {name: finding for name, finding in self.findings.items() if finding.kind in kinds}

    def at(self, has: Set[Feature], keep: Iterable[str] = ()) -> Knowledge:
        """Return what of it speaks of a machine that has these features, in the words for that machine.

        ``keep`` are findings and causes that were named before it was described otherwise: they stay.
        """
        kept = set(keep)
        here = {name: f for name, f in self.findings.items() if applies(f.needs, has) or name in kept}

        def left(names: Iterable[str]) -> tuple[str, ...]:
            return tuple(name for name in names if name in here)

        findings = {
            name: replace(
                _worded(f, has),
                asked_with=left(f.asked_with),
                not_with=left(f.not_with),
                implies=left(f.implies),
            )
            for name, f in here.items()
        }
        causes = tuple(
            replace(_worded(c, has), chances={name: chance for name, chance in c.chances.items() if name in here})
            for c in self.causes
            if applies(c.needs, has) or c.id in kept
        )
        ids = {cause.id for cause in causes}
        traps = tuple(
            replace(
                _worded(trap, has),
                when=left(trap.when),
                unless=left(trap.unless),
                beside=left(trap.beside),
                first=tuple(name for name in trap.first if name in ids),
                holds=tuple(name for name in trap.holds if name in ids),
            )
            for trap in self.traps
        )
        return Knowledge(findings, causes, traps)


_Said = TypeVar("_Said", Finding, Cause, Trap)


def _worded(said: _Said, has: Set[Feature]) -> _Said:
    """Return it in the words for a machine: those of the first kind that it is of."""
    wording = next((w for w in said.here if applies(w.needs, has)), None)
    if wording is None:
        return said
    own = {f.name for f in fields(said)}
    given = {f.name: getattr(wording, f.name) for f in fields(wording) if f.name != "needs"}
    return replace(said, **{name: text for name, text in given.items() if text is not None and name in own})


def _slug(words: str) -> str:
    return re.sub(r"[^a-z0-9]+", "_", words.lower()).strip("_")


@dataclass(frozen=True, kw_only=True)
class CauseEntry:
    """A cause as it stands on the page: ``shows`` symptoms and signs, ``after`` changes, ``given`` conditions."""

    # A misspelled word of the page is refused by whoever reads it, rather than passed over.
    __pydantic_config__ = {"extra": "forbid"}  # noqa: RUF012

    id: str
    name: str
    common: str
    minutes: float
    check: str
    how: str
    cure: str
    drawing: Drawing = Drawing.NONE
    point: str = ""
    opens: Opens = Opens.NOWHERE
    shows: Mapping[str, str] = field(default_factory=dict)
    after: Mapping[str, str] = field(default_factory=dict)
    given: Mapping[str, str] = field(default_factory=dict)
    hands: bool = False
    cautions: tuple[str, ...] = ()
    needs: Needs = ()
    here: tuple[Wording, ...] = ()
    preflight: bool = False
    technician: bool = False


@dataclass(frozen=True, kw_only=True)
class TroublesPage:
    """The page of troubles: words for chances, findings, causes and traps."""

    standing: str
    common: Mapping[str, float]
    chances: Mapping[str, float]
    finding: Mapping[str, Finding]
    cause: tuple[CauseEntry, ...]
    trap: tuple[Trap, ...]

    def knowledge(self) -> Knowledge:
        """Return the page as knowledge; raises :class:`CraftError` for what does not hold together."""
        for word, share in {**self.chances, **{n: f.usual for n, f in self.finding.items()}}.items():
            if not 0 < share < 1:
                raise CraftError(f"“{word}” has the chance {share:g}, which isn't between 0 and 1.", word)
        causes = tuple(self._cause(entry) for entry in self.cause)
        ids = [cause.id for cause in causes]
        for twice in {i for i in ids if ids.count(i) > 1}:
            raise CraftError(f"The cause “{twice}” stands on the page twice.", twice)
        for name, finding in self.finding.items():
            self._known(name, (*finding.asked_with, *finding.not_with, *finding.implies), self.finding)
        for trap in self.trap:
            self._known(trap.id, (*trap.when, *trap.unless, *trap.beside), self.finding)
            self._known(trap.id, (*trap.first, *trap.holds), ids)
        self._refuse_circles()
        for name, finding in self.finding.items():
            reached = [c.id for c in causes if c.chances.get(name, 0) > finding.usual]
            if finding.kind is FindingKind.SYMPTOM and len(reached) < 2:
                raise CraftError(f"The symptom “{name}” leads to fewer than two causes.", name)
        return Knowledge(self.finding, causes, self.trap)

    def _refuse_circles(self) -> None:
        waits: dict[str, set[str]] = {}
        for trap in self.trap:
            for held in trap.holds:
                waits.setdefault(held, set()).update(trap.first)
        try:
            TopologicalSorter(waits).prepare()
        except CycleError as error:
            circle = ", ".join(error.args[1])
            raise CraftError(f"The traps wait for each other in a circle: {circle}.", "trap") from None

    def _cause(self, entry: CauseEntry) -> Cause:
        for what in ("name", "check", "how", "cure"):
            if not getattr(entry, what).strip():
                raise CraftError(f"The cause “{entry.id}” has no {what}.", entry.id)
        if not 0 < entry.minutes <= 600:
            raise CraftError(f"The check of “{entry.id}” takes {entry.minutes:g} minutes, which can't be.", entry.id)
        if entry.hands and "power_off" not in entry.cautions:
            raise CraftError(f"Hands go near the needle in “{entry.id}”: it needs the caution power_off.", entry.id)
        self._known(entry.id, [entry.common], self.common)
        self._known(entry.id, entry.cautions, CAUTIONS)
        mentioned = {**entry.shows, **entry.after, **entry.given}
        self._known(entry.id, mentioned, self.finding)
        self._known(entry.id, mentioned.values(), self.chances)
        return Cause(
            id=entry.id,
            name=entry.name,
            weight=self.common[entry.common],
            minutes=entry.minutes,
            check=entry.check,
            how=entry.how,
            cure=entry.cure,
            drawing=entry.drawing,
            point=entry.point,
            opens=entry.opens,
            chances={name: self.chances[word] for name, word in mentioned.items()},
            hands=entry.hands,
            cautions=tuple(CAUTIONS[name] for name in entry.cautions),
            needs=entry.needs,
            here=entry.here,
            preflight=entry.preflight,
            technician=entry.technician,
        )

    @staticmethod
    def _known(entry: str, names: Iterable[str], known: Iterable[str]) -> None:
        for name in set(names) - set(known):
            raise CraftError(f"“{entry}” speaks of “{name}”, which the page does not define.", entry)
