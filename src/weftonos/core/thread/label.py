"""A thread from the one line that stands on its label: "40/2 cotton", "120d x 2 trilobal", "0.1 mm clear".

What a line leaves open is read in more than one way, the likeliest first; what it does not say is taken from what is
usual for that kind of number and said to be taken so.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from weftonos.core.kernel.errors import CraftError, require_text
from weftonos.core.kernel.spoken import METRES_PER_YARD, MM_PER_INCH
from weftonos.core.thread.drawer import DrawerThread, Form, ThreadFinish
from weftonos.core.thread.linear_density import SYSTEM_NAMES, WeightSystem
from weftonos.core.thread.thread import (
    CONSTRUCTION_NAMES,
    FIBRE_DENSITY,
    FIBRE_NAMES,
    PACKING,
    Construction,
    Fibre,
    Thread,
)

LONGEST = 120

#: Words for a fibre; the longer ones are looked for first.
_FIBRES: dict[str, Fibre] = {
    "cotton-wrapped polyester": Fibre.COTTON_POLYESTER,
    "cotton wrapped polyester": Fibre.COTTON_POLYESTER,
    "cotton-wrapped": Fibre.COTTON_POLYESTER,
    "cotton/polyester": Fibre.COTTON_POLYESTER,
    "cotton poly": Fibre.COTTON_POLYESTER,
    "wash-away": Fibre.WASH_AWAY,
    "wash away": Fibre.WASH_AWAY,
    "washaway": Fibre.WASH_AWAY,
    "water soluble": Fibre.WASH_AWAY,
    "polyester": Fibre.POLYESTER,
    "trilobal": Fibre.POLYESTER,
    "metallic": Fibre.METALLIC,
    "viscose": Fibre.RAYON,
    "cotton": Fibre.COTTON,
    "nylon": Fibre.NYLON,
    "rayon": Fibre.RAYON,
    "silk": Fibre.SILK,
    "poly": Fibre.POLYESTER,
}
_CONSTRUCTIONS: dict[str, Construction] = {
    "multifilament": Construction.MULTIFILAMENT,
    "monofilament": Construction.MONOFILAMENT,
    "invisible": Construction.MONOFILAMENT,
    "flat film": Construction.FILM,
    "core-spun": Construction.CORE_SPUN,
    "core spun": Construction.CORE_SPUN,
    "corespun": Construction.CORE_SPUN,
    "textured": Construction.TEXTURED,
    "filament": Construction.MULTIFILAMENT,
    "woolly": Construction.TEXTURED,
    "clear": Construction.MONOFILAMENT,
    "smoke": Construction.MONOFILAMENT,
    "film": Construction.FILM,
    "spun": Construction.SPUN,
    "mono": Construction.MONOFILAMENT,
}
_FINISHES: dict[str, ThreadFinish] = {
    "mercerised": ThreadFinish.MERCERISED,
    "mercerized": ThreadFinish.MERCERISED,
    "trilobal": ThreadFinish.TRILOBAL,
    "glazed": ThreadFinish.GLAZED,
    "gassed": ThreadFinish.GASSED,
}
_FORMS: dict[str, Form] = {
    "pre-wound": Form.PRE_WOUND,
    "prewound": Form.PRE_WOUND,
    "cone": Form.CONE,
    "spool": Form.CROSS_WOUND_SPOOL,
}
#: What a fibre is made into where its label does not say.
USUAL_CONSTRUCTION: dict[Fibre, Construction] = {
    Fibre.COTTON: Construction.SPUN,
    Fibre.POLYESTER: Construction.MULTIFILAMENT,
    Fibre.COTTON_POLYESTER: Construction.CORE_SPUN,
    Fibre.NYLON: Construction.MULTIFILAMENT,
    Fibre.RAYON: Construction.MULTIFILAMENT,
    Fibre.SILK: Construction.MULTIFILAMENT,
    Fibre.METALLIC: Construction.METALLIC,
    Fibre.WASH_AWAY: Construction.SPUN,
}
_NUMBER = r"(\d+(?:[.,]\d+)?|[.,]\d+)"
_SYSTEM_WORDS: dict[str, WeightSystem] = {
    "wt": WeightSystem.WT,
    "weight": WeightSystem.WT,
    "nm": WeightSystem.WT,
    "ne": WeightSystem.NE,
    "nec": WeightSystem.NE,
    "tex": WeightSystem.TEX,
    "dtex": WeightSystem.DTEX,
    "decitex": WeightSystem.DTEX,
    "denier": WeightSystem.DENIER,
    "den": WeightSystem.DENIER,
    "d": WeightSystem.DENIER,
    "tkt": WeightSystem.TICKET,
    "ticket": WeightSystem.TICKET,
    "no": WeightSystem.NO,
}
_NAMED = "|".join(sorted(_SYSTEM_WORDS, key=len, reverse=True))
_STRANDS = r"(?:\s*(?:/|x|×|\*)\s*(\d{1,2}))?"
_PLY = re.compile(r"\b(\d{1,2})\s*-?\s*(?:ply|plies|fold|strands?)\b")
_AFTER = re.compile(rf"(?<![\w.,]){_NUMBER}\s*({_NAMED})\b\.?{_STRANDS}")
_BEFORE = re.compile(rf"(?<!\w)({_NAMED})\b\.?\s*{_NUMBER}{_STRANDS}")
_SLASH_NAMED = re.compile(rf"(?<![\w.,]){_NUMBER}\s*/\s*(\d{{1,2}})\s*({_NAMED})\b\.?")
_SLASH = re.compile(rf"(?<![\w.,]){_NUMBER}\s*/\s*(\d{{1,2}})(?!\w)")
_THICK = re.compile(rf"(?<![\w.,]){_NUMBER}\s*(mm|in|inch|inches|\"|″)(?!\w)")
_LONG = re.compile(rf"(?<![\w.,]){_NUMBER}\s*(m|metres?|meters?|yd|yds|yards?)(?!\w)")


@dataclass(frozen=True, kw_only=True)
class LabelReading:
    """One way to read a label: the thread, its number and what it is made of in words, and what was taken as usual."""

    spec: DrawerThread
    words: str
    made: str
    tex: float
    diameter_mm: float
    taken: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class LabelAnswer:
    """The ways to read a label, the likeliest first, and the question between them (or empty)."""

    readings: tuple[LabelReading, ...]
    ask: str


class _Count(NamedTuple):
    value: float
    system: WeightSystem
    strands: int = 1
    per_strand: bool | None = None
    words: str = ""


def read_label(text: str, before: Iterable[DrawerThread] = ()) -> LabelAnswer:
    """Read a label's line.

    ``before`` are the threads that are owned, newest first; of two ways to read one the way that was
    chosen last comes first.

    Raises :class:`CraftError`, field ``label_text``, where no weight can be found, or none that can be converted.

    >>> read_label("120d x 2 trilobal").readings[0].words
    '120 denier × 2'
    """
    require_text(text, LONGEST, "The label", "label_text")
    line = " ".join(text.lower().split())
    kind = _kind(line)
    counts, thick, rest = _counts(line, kind[0])
    length, rest = _length(rest)
    if not counts and thick is None:
        raise CraftError(
            "I find no weight in this. Write the number with its system, such as 40 wt, 50wt 2ply, 120d x 2, Tex 30, "
            "Ne 40/2 or 0.1 mm; without a label, weigh a length or count wraps.",
            "label_text",
        )
    like = _like(before, counts)
    fibre, construction, taken = _material(kind, counts, like)
    name = _name(text, rest)
    readings = []
    problem: CraftError | None = None
    for count in counts or [_thick_as_count(thick or 0, fibre, construction)]:
        try:
            thread = Thread(
                fibre=fibre,
                construction=construction,
                value=count.value,
                system=count.system,
                strands=count.strands,
                per_strand=count.per_strand,
            )
        except CraftError as error:
            problem = problem or CraftError(str(error), "label_text")
            continue
        spec = DrawerThread(
            name=name or text.strip()[:80],
            thread=thread,
            finish=next((f for word, f in _FINISHES.items() if word in line), ThreadFinish.PLAIN),
            form=next((f for word, f in _FORMS.items() if word in line), Form.CONE),
            plies=count.strands if count.strands > 1 and count.system is not WeightSystem.DENIER else None,
            label_text=text.strip(),
            length_m=length,
            variegated="variegated" in line,
        )
        readings.append(
            LabelReading(
                spec=spec,
                words=count.words,
                made=f"{CONSTRUCTION_NAMES[construction]} {FIBRE_NAMES[fibre]}",
                tex=thread.density.tex,
                diameter_mm=thread.diameter_mm,
                taken=taken,
            )
        )
    if not readings and problem:
        raise problem
    if like:
        readings.sort(key=lambda r: _way(r.spec.thread) != _way(like.thread))
    ask = "The number can be read in more than one way. Which is meant?" if len(readings) > 1 else ""
    return LabelAnswer(readings=tuple(readings), ask=ask)


def _way(thread: Thread) -> tuple[WeightSystem, bool | None]:
    return thread.system, thread.per_strand


def _kind(line: str) -> tuple[Fibre | None, Construction | None]:
    """Return fibre and construction where they stand there."""
    fibre = next((f for word, f in _FIBRES.items() if re.search(rf"\b{re.escape(word)}\b", line)), None)
    construction = next((c for word, c in _CONSTRUCTIONS.items() if re.search(rf"\b{re.escape(word)}\b", line)), None)
    if construction is None and "trilobal" in line:
        construction = Construction.MULTIFILAMENT
    return fibre, construction


def _float(number: str) -> float:
    return float(number.replace(",", "."))


def _counts(line: str, fibre: Fibre | None) -> tuple[list[_Count], float | None, str]:
    """Return the ways to read the number, or a thickness in mm, and the rest of the line."""
    if thick := _THICK.search(line):
        mm = _float(thick[1]) * (1 if thick[2] == "mm" else MM_PER_INCH.value)
        return [], mm, _without(line, thick)
    ply = _PLY.search(line)
    rest = _without(line, ply) if ply else line
    plies = int(ply[1]) if ply else 1
    if named := _SLASH_NAMED.search(rest):
        system = _SYSTEM_WORDS[named[3]]
        return list(_named(_float(named[1]), system, int(named[2]))), None, _without(rest, named)
    for found, value, system_word in (
        *((m, m[1], m[2]) for m in [_AFTER.search(rest)] if m),
        *((m, m[2], m[1]) for m in [_BEFORE.search(rest)] if m),
    ):
        strands = int(found[3]) if found[3] else plies
        return list(_named(_float(value), _SYSTEM_WORDS[system_word], strands)), None, _without(rest, found)
    if slash := _SLASH.search(rest):
        return list(_slash(_float(slash[1]), int(slash[2]), fibre)), None, _without(rest, slash)
    return [], None, rest


def _without(line: str, found: re.Match[str]) -> str:
    return f"{line[: found.start()]} {line[found.end() :]}"


def _named(value: float, system: WeightSystem, strands: int) -> Iterator[_Count]:
    """A number with its system: of one strand for denier, of the finished thread for wt, either for the others."""
    name = f"{value:g} {SYSTEM_NAMES[system]}"
    if system is WeightSystem.NO:
        # No. is no weight: core's own sentence says what to do.
        yield _Count(value, system, words=name)
    elif strands == 1:
        yield _Count(value, system, words=name)
    elif system is WeightSystem.DENIER:
        yield _Count(value, system, strands, words=f"{name} × {strands}")
    elif system is WeightSystem.WT:
        yield _Count(value, system, strands, words=f"{name}, {strands}-ply")
    else:
        whole = _Count(value, system, strands, False, f"{name} the whole thread, {strands}-ply")
        each = _Count(value, system, strands, True, f"{name} each strand, {strands} of them")
        # A count goes by the strand, a weight for a length by the finished thread.
        yield from (each, whole) if system is WeightSystem.NE else (whole, each)


def _slash(value: float, strands: int, fibre: Fibre | None) -> Iterator[_Count]:
    """``40/2``: on a quilter's label the finished thread's weight and its plies; in a mill's count each strand's."""
    yield _Count(value, WeightSystem.WT, strands, False, f"{value:g} wt, {strands}-ply")
    mill = WeightSystem.NE if fibre in (None, Fibre.COTTON, Fibre.COTTON_POLYESTER) else WeightSystem.WT
    name = SYSTEM_NAMES[mill] if mill is WeightSystem.NE else "Nm"
    yield _Count(value, mill, strands, True, f"{name} {value:g} each strand, {strands} of them")


def _thick_as_count(mm: float, fibre: Fibre, construction: Construction) -> _Count:
    if not 0 < mm <= 2:
        raise CraftError(f"{mm:g} mm is no thread's thickness: 0.05 to 0.6 mm is usual.", "label_text")
    tex = math.pi / 4 * mm**2 * 1000 * FIBRE_DENSITY[fibre].value * PACKING[construction].value
    return _Count(round(tex, 2), WeightSystem.TEX, words=f"{mm:.3g} mm thick")


def _length(line: str) -> tuple[float | None, str]:
    found = _LONG.search(line)
    if not found:
        return None, line
    metres = _float(found[1]) * (METRES_PER_YARD.value if found[2].startswith("y") else 1)
    return round(metres), _without(line, found)


def _like(before: Iterable[DrawerThread], counts: Sequence[_Count]) -> DrawerThread | None:
    """The newest thread whose label left the same open, if this one leaves something open."""
    if len(counts) < 2:
        return None
    ways = {(c.system, c.per_strand) for c in counts}
    return next((t for t in before if t.label_text and _way(t.thread) in ways), None)


def _material(
    kind: tuple[Fibre | None, Construction | None], counts: Sequence[_Count], like: DrawerThread | None
) -> tuple[Fibre, Construction, tuple[str, ...]]:
    fibre, construction = kind
    taken = []
    if fibre is None and construction is not None:
        fibre = Fibre.METALLIC if construction is Construction.FILM else Fibre.POLYESTER
        taken.append(f"{FIBRE_NAMES[fibre]}, as is usual for this; the line does not say")
    elif fibre is None and like is not None:
        fibre, construction = like.thread.fibre, like.thread.construction
        taken.append(f"{FIBRE_NAMES[fibre]}, as with your last such label")
    elif fibre is None:
        by_weight = counts and counts[0].system in (WeightSystem.WT, WeightSystem.NE)
        fibre = Fibre.COTTON if by_weight else Fibre.POLYESTER
        taken.append(f"{FIBRE_NAMES[fibre]}: the line does not say, so look at the cone")
    if construction is None:
        construction = USUAL_CONSTRUCTION[fibre]
        if fibre is Fibre.POLYESTER:
            # Spun and filament polyester look and fill alike on no label.
            taken.append(f"{CONSTRUCTION_NAMES[construction]}; choose spun if it is matte like cotton")
    return fibre, construction, tuple(taken)


_SAID = {*_FIBRES, *_CONSTRUCTIONS, *_FINISHES, *_FORMS, "variegated", "thread", "ply"}


def _name(text: str, rest: str) -> str:
    """What is left of the line once all that was understood is taken out, with its own capitals."""
    for word in sorted(_SAID, key=len, reverse=True):
        rest = re.sub(rf"\b{re.escape(word)}\b", " ", rest)
    left = [word.strip(",;:()") for word in rest.split()]
    left = [word for word in left if re.search(r"\w", word)]
    as_typed = {word.strip(",;:()").lower(): word.strip(",;:()") for word in text.split()}
    return " ".join(as_typed.get(word, word) for word in left)[:80]
