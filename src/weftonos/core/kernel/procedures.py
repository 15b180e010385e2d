"""Small procedures walked point by point, help for each station, and the words of the trade: the forms of that page."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass, field, replace

from weftonos.core.kernel.advice import CAUTIONS, Caution
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature, Needs, applies

#: Help of a station is read while the machine waits.
MOST_SENTENCES = 5


@dataclass(frozen=True)
class WalkStep:
    """One point: what, how, and what proves it (or nothing)."""

    name: str
    how: str
    proof: str
    needs: Needs = field(default=(), kw_only=True)


@dataclass(frozen=True, kw_only=True)
class Walk:
    """A procedure, with its cautions; ``upkeep`` is what was done by it, for the log."""

    id: str
    name: str
    needs: Needs
    cautions: tuple[Caution, ...]
    steps: tuple[WalkStep, ...]
    upkeep: str = ""


@dataclass(frozen=True, kw_only=True)
class StitchFor:
    """The stitch length for a purpose, in mm, and what a machine has where it is one of its own."""

    purpose: str
    low_mm: float
    high_mm: float
    needs: Needs = ()


@dataclass(frozen=True, kw_only=True)
class StationHelp:
    """What a station is for in a few sentences, and the words that stand on it.

    ``only`` holds, sentence by sentence, what a machine has where it is said.
    """

    station: str
    says: tuple[str, ...]
    words: tuple[str, ...]
    only: tuple[Feature | None, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Term:
    """A word of the trade, explained.

    ``forms`` are how a sentence says it, where it can be told there from a word of every day ("minutes" can't).
    """

    term: str
    says: str
    forms: tuple[str, ...] = ()
    needs: Needs = ()


@dataclass(frozen=True, kw_only=True)
class ProceduresPage:
    """The page as it is written; ``steps`` are name, how and proof, and what the machine has where the step is made."""

    walk: list[_WalkEntry]
    stitch: list[StitchFor]
    help: list[_HelpEntry]
    word: list[Term]

    def read(self) -> Procedures:
        """Return the page, checked: no word used that is not explained, no help longer than a few sentences."""
        known = {term.term for term in self.word}
        for station in self.help:
            if unknown := set(station.words) - known:
                raise CraftError(f"The help of {station.station} uses {sorted(unknown)[0]}, which is not explained.")
            if len([said for said in station.says if isinstance(said, str)]) > MOST_SENTENCES:
                raise CraftError(f"The help of {station.station} has more than {MOST_SENTENCES} sentences.")
        walks = []
        for entry in self.walk:
            if unknown := set(entry.cautions) - set(CAUTIONS):
                raise CraftError(f"{entry.name}: there is no caution {sorted(unknown)[0]}.")
            walks.append(
                Walk(
                    id=entry.id,
                    name=entry.name,
                    needs=entry.needs,
                    cautions=tuple(CAUTIONS[name] for name in entry.cautions),
                    steps=tuple(WalkStep(*step[:3], needs=step[3:]) for step in entry.steps),
                    upkeep=entry.upkeep,
                )
            )
        terms = tuple(sorted(self.word, key=lambda term: term.term.casefold()))
        helps = tuple(entry.read() for entry in self.help)
        return Procedures(walks=tuple(walks), stitches=tuple(self.stitch), help=helps, terms=terms)


@dataclass(frozen=True, kw_only=True)
class _WalkEntry:
    id: str
    name: str
    cautions: list[str]
    steps: list[tuple[str, str, str] | tuple[str, str, str, Feature]]
    needs: Needs = ()
    upkeep: str = ""


@dataclass(frozen=True, kw_only=True)
class _HelpEntry:
    station: str
    says: list[str | tuple[str, Feature]]
    words: list[str]

    def read(self) -> StationHelp:
        return StationHelp(
            station=self.station,
            says=tuple(said if isinstance(said, str) else said[0] for said in self.says),
            words=tuple(self.words),
            only=tuple(None if isinstance(said, str) else said[1] for said in self.says),
        )


@dataclass(frozen=True, kw_only=True)
class Procedures:
    """Walks, stitch lengths by purpose, help by station, and the words."""

    walks: Sequence[Walk]
    stitches: Sequence[StitchFor]
    help: Sequence[StationHelp]
    terms: Sequence[Term]

    def at(self, has: Set[Feature]) -> Procedures:
        """Return what of it speaks of a machine that has these features."""
        terms = tuple(term for term in self.terms if applies(term.needs, has))
        here = {term.term for term in terms}
        walks = [walk for walk in self.walks if applies(walk.needs, has)]
        return Procedures(
            walks=[replace(w, steps=tuple(s for s in w.steps if applies(s.needs, has))) for w in walks],
            stitches=[each for each in self.stitches if applies(each.needs, has)],
            help=[_help_at(each, has, here) for each in self.help],
            terms=terms,
        )


def _help_at(station: StationHelp, has: Set[Feature], words: Set[str]) -> StationHelp:
    says = tuple(said for said, only in zip(station.says, station.only, strict=True) if only is None or only in has)
    return StationHelp(station=station.station, says=says, words=tuple(w for w in station.words if w in words))
