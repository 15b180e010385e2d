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
from weftonos.core.kernel.spoken import METERS_PER_YARD, MM_PER_INCH
from weftonos.core.thread.drawer import DrawerThread, Form, ThreadFinish
from weftonos.core.thread.linear_density import SYSTEM_NAMES, WeightSystem
from weftonos.core.thread.thread import (
    CONSTRUCTION_NAMES,
    FIBER_DENSITY,
    FIBER_NAMES,
    PACKING,
    Construction,
    Fiber,
    Thread,
)

LONGEST = 120

#: Words for a fiber; the longer ones are looked for first.
_FIBERS: dict[str, Fiber] = {
    "cotton-wrapped polyester": Fiber.COTTON_POLYESTER,
    "cotton wrapped polyester": Fiber.COTTON_POLYESTER,
    "cotton-wrapped": Fiber.COTTON_POLYESTER,
    "cotton/polyester": Fiber.COTTON_POLYESTER,
    "cotton poly": Fiber.COTTON_POLYESTER,
    "wash-away": Fiber.WASH_AWAY,
    "wash away": Fiber.WASH_AWAY,
    "washaway": Fiber.WASH_AWAY,
    "water soluble": Fiber.WASH_AWAY,
    "polyester": Fiber.POLYESTER,
    "trilobal": Fiber.POLYESTER,
    "metallic": Fiber.METALLIC,
    "viscose": Fiber.RAYON,
    "cotton": Fiber.COTTON,
    "nylon": Fiber.NYLON,
    "rayon": Fiber.RAYON,
    "silk": Fiber.SILK,
    "poly": Fiber.POLYESTER,
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
    "mercerised": ThreadFinish.MERCERIZED,
    "mercerized": ThreadFinish.MERCERIZED,
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
#: What a fiber is made into where its label does not say.
USUAL_CONSTRUCTION: dict[Fiber, Construction] = {
    Fiber.COTTON: Construction.SPUN,
    Fiber.POLYESTER: Construction.MULTIFILAMENT,
    Fiber.COTTON_POLYESTER: Construction.CORE_SPUN,
    Fiber.NYLON: Construction.MULTIFILAMENT,
    Fiber.RAYON: Construction.MULTIFILAMENT,
    Fiber.SILK: Construction.MULTIFILAMENT,
    Fiber.METALLIC: Construction.METALLIC,
    Fiber.WASH_AWAY: Construction.SPUN,
}
_NUMBER = r"(\d+(?:[.,]\d+)?|[.,]\d+)"
#: A length may have its thousands apart: 5,500 yd, 1.100 m. Not by a plain blank: "40/2 500 m" is 500 m.
_LONG_NUMBER = r"(\d{1,3}(?:[,.\u00a0\u202f]\d{3})+|\d+(?:[.,]\d+)?)"
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
_LONG = re.compile(rf"(?<![\w.,]){_LONG_NUMBER}\s*(m|meters?|metres?|yd|yds|yards?)(?!\w)")


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
            "There's no weight in this. Write the number with its system, such as 40 wt, 120d x 2, Tex 30, Ne 40/2 "
            "or 0.1 mm. Without a label, weigh a length or count wraps.",
            "label_text",
        )
    like = _like(before, counts)
    fiber, construction, taken = _material(kind, counts, like)
    name = _name(text, rest)
    readings = []
    problem: CraftError | None = None
    for count in counts or [_thick_as_count(thick or 0, fiber, construction)]:
        try:
            thread = Thread(
                fiber=fiber,
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
                made=f"{CONSTRUCTION_NAMES[construction]} {FIBER_NAMES[fiber]}",
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


def fibers_named(words: str) -> frozenset[Fiber]:
    """Return the fibers that a few words name: what a case is kept for.

    >>> sorted(fibers_named("Silk or rayon, light colors"))
    [<Fiber.RAYON: 'rayon'>, <Fiber.SILK: 'silk'>]
    """
    found, rest = set(), words.casefold()
    for word, fiber in _FIBERS.items():
        if (without := re.sub(rf"\b{re.escape(word)}\b", " ", rest)) != rest:
            found.add(fiber)
            rest = without
    return frozenset(found)


def _way(thread: Thread) -> tuple[WeightSystem, bool | None]:
    return thread.system, thread.per_strand


def _kind(line: str) -> tuple[Fiber | None, Construction | None]:
    """Return fiber and construction where they stand there."""
    fiber = next((f for word, f in _FIBERS.items() if re.search(rf"\b{re.escape(word)}\b", line)), None)
    construction = next((c for word, c in _CONSTRUCTIONS.items() if re.search(rf"\b{re.escape(word)}\b", line)), None)
    if construction is None and "trilobal" in line:
        construction = Construction.MULTIFILAMENT
    return fiber, construction


def _float(number: str) -> float:
    return float(number.replace(",", "."))


def _counts(line: str, fiber: Fiber | None) -> tuple[list[_Count], float | None, str]:
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
        return list(_slash(_float(slash[1]), int(slash[2]), fiber)), None, _without(rest, slash)
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


def _slash(value: float, strands: int, fiber: Fiber | None) -> Iterator[_Count]:
    """``40/2``: on a quilter's label the finished thread's weight and its plies; in a mill's count each strand's."""
    yield _Count(value, WeightSystem.WT, strands, False, f"{value:g} wt, {strands}-ply")
    mill = WeightSystem.NE if fiber in (None, Fiber.COTTON, Fiber.COTTON_POLYESTER) else WeightSystem.WT
    name = SYSTEM_NAMES[mill] if mill is WeightSystem.NE else "Nm"
    yield _Count(value, mill, strands, True, f"{name} {value:g} each strand, {strands} of them")


def _thick_as_count(mm: float, fiber: Fiber, construction: Construction) -> _Count:
    if not 0 < mm <= 2:
        raise CraftError(f"{mm:g} mm is no thread's thickness: 0.05 to 0.6 mm is usual.", "label_text")
    tex = math.pi / 4 * mm**2 * 1000 * FIBER_DENSITY[fiber].value * PACKING[construction].value
    return _Count(round(tex, 2), WeightSystem.TEX, words=f"{mm:.3g} mm thick")


def _length(line: str) -> tuple[float | None, str]:
    found = _LONG.search(line)
    if not found:
        return None, line
    meters = _long(found[1]) * (METERS_PER_YARD.value if found[2].startswith("y") else 1)
    return round(meters), _without(line, found)


def _long(number: str) -> float:
    """Return a length's number: a mark before each three digits parts thousands, since no cone holds 5.500 yards."""
    grouped = re.fullmatch(r"\d{1,3}(?:\D\d{3})+", number)
    return float(re.sub(r"\D", "", number)) if grouped else _float(number)


def _like(before: Iterable[DrawerThread], counts: Sequence[_Count]) -> DrawerThread | None:
    """The newest thread whose label left the same open, if this one leaves something open."""
    if len(counts) < 2:
        return None
    ways = {(c.system, c.per_strand) for c in counts}
    return next((t for t in before if t.label_text and _way(t.thread) in ways), None)


def _material(
    kind: tuple[Fiber | None, Construction | None], counts: Sequence[_Count], like: DrawerThread | None
) -> tuple[Fiber, Construction, tuple[str, ...]]:
    fiber, construction = kind
    taken = []
    if fiber is None and construction is not None:
        fiber = Fiber.METALLIC if construction is Construction.FILM else Fiber.POLYESTER
        taken.append(f"{FIBER_NAMES[fiber]}, as is usual for this. The label doesn't say")
    elif fiber is None and like is not None:
        fiber, construction = like.thread.fiber, like.thread.construction
        taken.append(f"{FIBER_NAMES[fiber]}, as with your last such label")
    elif fiber is None:
        by_weight = counts and counts[0].system in (WeightSystem.WT, WeightSystem.NE)
        fiber = Fiber.COTTON if by_weight else Fiber.POLYESTER
        taken.append(f"{FIBER_NAMES[fiber]}: the line does not say, so look at the cone")
    if construction is None:
        construction = USUAL_CONSTRUCTION[fiber]
        if fiber is Fiber.POLYESTER:
            # Spun and filament polyester look and fill alike on no label.
            taken.append(f"{CONSTRUCTION_NAMES[construction]}. Choose spun if it's matte like cotton")
    return fiber, construction, tuple(taken)


_SAID = {*_FIBERS, *_CONSTRUCTIONS, *_FINISHES, *_FORMS, "variegated", "thread", "ply"}


def _name(text: str, rest: str) -> str:
    """What is left of the line once all that was understood is taken out, with its own capitals."""
    for word in sorted(_SAID, key=len, reverse=True):
        rest = re.sub(rf"\b{re.escape(word)}\b", " ", rest)
    left = [word.strip(",;:()") for word in rest.split()]
    left = [word for word in left if re.search(r"\w", word)]
    as_typed = {word.strip(",;:()").lower(): word.strip(",;:()") for word in text.split()}
    return " ".join(as_typed.get(word, word) for word in left)[:80]
