"""Small procedures walked point by point, help for each station, and the words of the trade: the forms of that page."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from weftonos.core.kernel.advice import CAUTIONS, Caution
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.schools import MachineKind

#: Help of a station is read while the machine waits.
MOST_SENTENCES = 5


@dataclass(frozen=True)
class WalkStep:
    """One point: what, how, and what proves it (or nothing)."""

    name: str
    how: str
    proof: str


@dataclass(frozen=True, kw_only=True)
class Walk:
    """A procedure for a kind of machine, with its cautions; ``upkeep`` is what was done by it, for the log."""

    id: str
    name: str
    machines: tuple[MachineKind, ...]
    cautions: tuple[Caution, ...]
    steps: tuple[WalkStep, ...]
    upkeep: str = ""


@dataclass(frozen=True)
class StitchFor:
    """The stitch length for a purpose, in mm."""

    purpose: str
    low_mm: float
    high_mm: float


@dataclass(frozen=True, kw_only=True)
class StationHelp:
    """What a station is for in a few sentences, and the words that stand on it."""

    station: str
    says: tuple[str, ...]
    words: tuple[str, ...]


@dataclass(frozen=True)
class Term:
    """A word of the trade, explained."""

    term: str
    says: str


@dataclass(frozen=True, kw_only=True)
class ProceduresPage:
    """The page as it is written; ``steps`` are name, how and proof."""

    walk: list[_WalkEntry]
    stitch: list[StitchFor]
    help: list[StationHelp]
    word: list[Term]

    def read(self) -> Procedures:
        """Return the page, checked: no word used that is not explained, no help longer than a few sentences."""
        known = {term.term for term in self.word}
        for station in self.help:
            if unknown := set(station.words) - known:
                raise CraftError(f"The help of {station.station} uses {sorted(unknown)[0]}, which is not explained.")
            if len(station.says) > MOST_SENTENCES:
                raise CraftError(f"The help of {station.station} has more than {MOST_SENTENCES} sentences.")
        walks = []
        for entry in self.walk:
            if unknown := set(entry.cautions) - set(CAUTIONS):
                raise CraftError(f"{entry.name}: there is no caution {sorted(unknown)[0]}.")
            walks.append(
                Walk(
                    id=entry.id,
                    name=entry.name,
                    machines=tuple(entry.machines),
                    cautions=tuple(CAUTIONS[name] for name in entry.cautions),
                    steps=tuple(WalkStep(*step) for step in entry.steps),
                    upkeep=entry.upkeep,
                )
            )
        terms = tuple(sorted(self.word, key=lambda term: term.term.casefold()))
        return Procedures(walks=tuple(walks), stitches=tuple(self.stitch), help=tuple(self.help), terms=terms)


@dataclass(frozen=True, kw_only=True)
class _WalkEntry:
    id: str
    name: str
    machines: list[MachineKind]
    cautions: list[str]
    steps: list[tuple[str, str, str]]
    upkeep: str = ""


@dataclass(frozen=True, kw_only=True)
class Procedures:
    """Walks, stitch lengths by purpose, help by station, and the words."""

    walks: Sequence[Walk]
    stitches: Sequence[StitchFor]
    help: Sequence[StationHelp]
    terms: Sequence[Term]
