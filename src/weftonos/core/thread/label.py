"""A thread from the one line that stands on its label: "40/2 cotton", "120d x 2 trilobal", "0.1 mm clear".

What a line leaves open is read in more than one way, the likeliest first; what it does not say is taken from what is
usual for that kind of thread and said to be taken so.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError, in_words, require_text
from weftonos.core.kernel.spoken import METERS_PER_YARD, MM_PER_INCH
from weftonos.core.thread.drawer import NO_COLOR, DrawerThread, Form, ThreadFinish
from weftonos.core.thread.label_words import (
    CLEAR_MM,
    CONSTRUCTIONS,
    FIBERS,
    FINISHES,
    FORMS,
    PEARL,
    PEARL_TEX,
    PHRASES,
    USUAL_CONSTRUCTION,
    USUAL_WEIGHTS,
    Material,
    dye_named,
    spelled,
    usual_tex,
)
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

_NUMBER = r"(\d+(?:[.,]\d+)?|[.,]\d+)"
#: A length may have its thousands apart: 5,500 yd, 1.100 m. Not by a plain blank: "40/2 500 m" is 500 m.
_LONG_NUMBER = r"(\d{1,3}(?:[,.\u00a0\u202f]\d{3})+|\d+(?:[.,]\d+)?)"
#: A number begins a word, and is not below 0.
_START = r"(?<![\w.,])(?<!\s-)(?<!^-)"
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
}
#: A count goes by the ply: "Nm 120/2" is two plies of Nm 120.
_BY_PLY = ("nm", "ne", "nec")
_NAMED = "|".join(sorted(_SYSTEM_WORDS, key=len, reverse=True))
_STRANDS = r"(?:\s*(?:/|x|×|\*)\s*(\d{1,2}))?(?!\w)"
_PLY = re.compile(r"\b(\d{1,2})\s*-?\s*(?:ply|plies|fold|strands?)\b")
_AFTER = re.compile(rf"{_START}{_NUMBER}[\s-]*({_NAMED})\b\.?{_STRANDS}")
_BEFORE = re.compile(rf"(?<!\w)({_NAMED}|t)(?:\b|(?=\d))[.:]?[\s-]*{_NUMBER}{_STRANDS}")
_SLASH_NAMED = re.compile(rf"{_START}{_NUMBER}\s*/\s*(\d{{1,2}})\s*({_NAMED})\b\.?")
_SLASH = re.compile(rf"{_START}{_NUMBER}\s*[/-]\s*(\d{{1,2}})(?![\w/])")
_THICK = re.compile(rf"{_START}{_NUMBER}\s*(mm|in|inch|inches|\"|″)(?!\w)")
#: A thickness in thousandths of an inch, as clear thread is sold by: ".004".
_THOUSANDTHS = re.compile(r"(?<![\w.,])0?[.,](00\d{1,2})(?!\w)")
_MAKERS = re.compile(r"(?:(?<!\w)(?:no|nr)\b\.?|#|№)\s*(\d{1,3})(?!\w)")
_BARE = re.compile(rf"{_START}(?<!/)(\d{{1,3}})(?![\w/.,]|\s*(?:kg|g|oz|lb|cm|%|v|w)\b|\s*%|-\w)")
_LONG = re.compile(rf"(?<![\w.,]){_LONG_NUMBER}\s*(m|meters?|metres?|yd|yds|yards?)(?!\w)")
_METRIC = re.compile(r"(?<!\w)nm(?:\b|(?=\d))")
#: Numbers that name a color, a lot or an article.
_NO_WEIGHT = re.compile(r"(?<!\w)(?:colou?r|col|lot|art|article|shade)\b\.?\s*#?\d+|\b\d+-colou?r\b|\b\d+\s*%")
#: Outside these no thread is sold by such a number: a bare one is then a color or an article.
_LEAST_WT, _MOST_WT = 3, 200
_SMALLEST_PLIED = 5


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
    line, put_right = spelled(" ".join(text.lower().split()))
    material, words = _material_named(line)
    length, rest = _length(_NO_WEIGHT.sub(" ", words))
    found = _counts(rest, material)
    if not found.counts and found.mm is None:
        found = _without_a_number(line, found.rest, material)
    like = _like(before, found.counts)
    fiber, construction, taken = _made_of(line, material, found.counts, like)
    said = (*(f"Read {each}" for each in put_right), *found.taken, *taken)
    name = _name(text, found.rest)
    readings = []
    problem: CraftError | None = None
    for count in found.counts or [_thick_as_count(found.mm or 0, fiber, construction)]:
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
            color=dye_named(line) or NO_COLOR,
            finish=next((f for word, f in FINISHES.items() if word in line), ThreadFinish.PLAIN),
            form=next((f for word, f in FORMS.items() if word in line), Form.CONE),
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
                taken=said,
            )
        )
    if not readings and problem:
        raise problem
    if like:
        readings.sort(key=lambda r: _way(r.spec.thread) != _way(like.thread))
    return LabelAnswer(readings=tuple(readings), ask=found.ask if len(readings) > 1 else "")


@lru_cache(256)
def fibers_named(words: str) -> frozenset[Fiber]:
    """Return the fibers that a few words name: what a case is kept for.

    >>> sorted(fibers_named("Silk or rayon, light colors"))
    [<Fiber.RAYON: 'rayon'>, <Fiber.SILK: 'silk'>]
    """
    found, rest = set(), words.casefold()
    for phrase, material in PHRASES:
        if material.fiber and (without := phrase.sub(" ", rest)) != rest:
            found.add(material.fiber)
            rest = without
    return frozenset(found | {fiber for word, fiber in FIBERS.items() if re.search(rf"\b{word}\b", rest)})


def _way(thread: Thread) -> tuple[WeightSystem, bool | None]:
    return thread.system, thread.per_strand


@dataclass(frozen=True, kw_only=True)
class _Found:
    """The ways to read the number, or a thickness in mm; what was taken as usual; the rest of the line; what to ask."""

    counts: Sequence[_Count] = ()
    mm: float | None = None
    rest: str = ""
    taken: tuple[str, ...] = ()
    ask: str = "The number can be read in more than one way. Which is meant?"


def _material_named(line: str) -> tuple[Material, str]:
    """Return fiber and construction where they stand there, and the line without what was understood as a phrase."""
    fiber: Fiber | None = None
    construction: Construction | None = None
    rest = line
    for phrase, material in PHRASES:
        if (without := phrase.sub(" ", rest)) != rest:
            rest = without
            fiber, construction = fiber or material.fiber, construction or material.construction
    named = next((f for word, f in FIBERS.items() if re.search(rf"\b{word}\b", rest)), None)
    made = next((c for word, c in CONSTRUCTIONS.items() if re.search(rf"\b{re.escape(word)}\b", rest)), None)
    return Material(fiber or named, construction or made), rest


def _float(number: str) -> float:
    return float(number.replace(",", "."))


def _counts(line: str, material: Material) -> _Found:
    """Return the ways to read the number where it says what it is, or the two that a bare pair can be."""
    if thick := _THICK.search(line):
        mm = _float(thick[1]) * (1 if thick[2] == "mm" else MM_PER_INCH.value)
        return _Found(mm=mm, rest=_without(line, thick))
    if fine := _THOUSANDTHS.search(line):
        return _Found(mm=float(f"0.{fine[1]}") * MM_PER_INCH.value, rest=_without(line, fine))
    ply = _PLY.search(line)
    rest = _without(line, ply) if ply else line
    plies = int(ply[1]) if ply else 1
    if named := _SLASH_NAMED.search(rest):
        counts = list(_named(_float(named[1]), named[3], int(named[2]), material.fiber))
        return _Found(counts=counts, rest=_without(rest, named))
    for found, value, word in (
        *((m, m[1], m[2]) for m in [_AFTER.search(rest)] if m),
        *((m, m[2], m[1]) for m in [_BEFORE.search(rest)] if m),
    ):
        counts = list(_named(_float(value), word, int(found[3]) if found[3] else plies, material.fiber))
        return _Found(counts=counts, rest=_without(rest, found))
    slash = _SLASH.search(rest)
    if slash and _float(slash[1]) >= _SMALLEST_PLIED and 2 <= int(slash[2]) <= 12:
        return _Found(counts=list(_slash(_float(slash[1]), int(slash[2]), material.fiber)), rest=_without(rest, slash))
    return _Found(rest=rest)


def _without_a_number(line: str, rest: str, material: Material) -> _Found:
    """Read a line whose number names no system, or that has none: by what is usual, said, or by asking."""
    makers, bare = _MAKERS.search(rest), _BARE.search(rest)
    size = makers or bare
    if PEARL.search(line) and size and (pearl := PEARL_TEX.get(int(size[1]))):
        said = f"Pearl cotton size {size[1]} is about {figure(pearl.value)} tex. It goes in the bobbin"
        return _Found(counts=[_about(pearl.value)], rest=_without(rest, size), taken=(said,))
    usual = _usual(material)
    if makers and not usual.taken:
        ask = "“No.” is a maker's own count. Which weight is it?"
        return _Found(counts=list(_makers(float(makers[1]))), rest=_without(rest, makers), ask=ask)
    if bare and _LEAST_WT <= int(bare[1]) <= _MOST_WT and not _is_clear(material):
        number = float(bare[1])
        wt = _Count(number, WeightSystem.WT, words=f"{figure(number)} wt")
        if material != Material() or "bobbin" in line:
            return _Found(
                counts=[wt], rest=_without(rest, bare), taken=(f"{figure(number)} taken as {figure(number)} wt",)
            )
        return _Found(
            counts=[wt, _Count(number, WeightSystem.TEX, words=f"Tex {figure(number)}")], rest=_without(rest, bare)
        )
    if usual.taken:
        return _Found(counts=usual.counts, mm=usual.mm, rest=rest, taken=usual.taken)
    if material.fiber is not None and (weights := USUAL_WEIGHTS.get(material.fiber)):
        counts = [_Count(n, WeightSystem.WT, words=f"{n} wt") for n in weights]
        return _Found(counts=counts, rest=rest, taken=("no weight on the label",), ask="Which weight is it?")
    raise CraftError(
        "There's no weight in this. Write the number with its system, such as 40 wt, 120d x 2, Tex 30, Ne 40/2 "
        "or 0.1 mm. Without a label, weigh a length or count wraps.",
        "label_text",
    )


def _about(tex: float) -> _Count:
    return _Count(tex, WeightSystem.TEX, words=f"about {figure(tex)} tex")


def _is_clear(material: Material) -> bool:
    return material.construction is Construction.MONOFILAMENT


def _usual(material: Material) -> _Found:
    """Return what a nature is where its label gives no weight; nothing where many weights are usual."""
    if _is_clear(material):
        return _Found(mm=CLEAR_MM.value, taken=(f"{figure(CLEAR_MM.value)} mm, as clear thread mostly is",))
    fiber = material.fiber or (Fiber.METALLIC if material.construction is Construction.FILM else None)
    if fiber is None:
        return _Found()
    whole = Material(fiber, material.construction or USUAL_CONSTRUCTION[fiber])
    if (tex := usual_tex(whole)) is None:
        return _Found()
    said = f"about {figure(tex.value)} tex, as such thread mostly is"
    return _Found(counts=[_about(tex.value)], taken=(said,))


def _without(line: str, found: re.Match[str]) -> str:
    return f"{line[: found.start()]} {line[found.end() :]}"


def _named(value: float, word: str, strands: int, fiber: Fiber | None) -> Iterator[_Count]:
    """A number with its system: of one strand for denier and the counts, of the finished thread for wt, else either."""
    system = WeightSystem.TEX if word == "t" else _SYSTEM_WORDS[word]
    name = f"Nm {figure(value)}" if word == "nm" else f"{figure(value)} {SYSTEM_NAMES[system]}"
    if system is WeightSystem.TICKET and fiber is Fiber.COTTON:
        # Tickets of cotton differ from maker to maker.
        metric = round(3000 / value, 2) if value else 0.0
        yield _Count(metric, WeightSystem.TEX, words=f"ticket {figure(value)} as for synthetics, {figure(metric)} tex")
        yield _Count(value, WeightSystem.NE, 3, True, f"ticket {figure(value)} as Ne {figure(value)}/3")
    elif strands == 1:
        yield _Count(value, system, words=name)
    elif system is WeightSystem.DENIER:
        yield _Count(value, system, strands, words=f"{name} × {strands}")
    elif word in _BY_PLY:
        yield _Count(value, system, strands, True, f"{name} each ply, {strands} of them")
    elif system is WeightSystem.WT:
        yield _Count(value, system, strands, words=f"{name}, {strands}-ply")
    else:
        # A weight for a length goes by the finished thread.
        yield _Count(value, system, strands, False, f"{name} the whole thread, {strands}-ply")
        yield _Count(value, system, strands, True, f"{name} each strand, {strands} of them")


def _slash(value: float, strands: int, fiber: Fiber | None) -> Iterator[_Count]:
    """``40/2``: on a quilter's label the finished thread's weight and its plies; in a mill's count each strand's."""
    yield _Count(value, WeightSystem.WT, strands, False, f"{figure(value)} wt, {strands}-ply")
    mill = WeightSystem.NE if fiber in (None, Fiber.COTTON, Fiber.COTTON_POLYESTER) else WeightSystem.WT
    name = SYSTEM_NAMES[mill] if mill is WeightSystem.NE else "Nm"
    yield _Count(value, mill, strands, True, f"{name} {figure(value)} each strand, {strands} of them")


def _makers(value: float) -> Iterator[_Count]:
    """``No. 50``: a maker's own count, mostly near the weight, or a sewing cotton's count of three plies."""
    yield _Count(value, WeightSystem.WT, words=f"{figure(value)} wt")
    yield _Count(value, WeightSystem.NE, 3, True, f"Ne {figure(value)}/3, a sewing cotton's count")


def _thick_as_count(mm: float, fiber: Fiber, construction: Construction) -> _Count:
    if not 0 < mm <= 2:
        raise CraftError(f"{figure(mm)} mm isn't a thread's thickness: 0.05 to 0.6 mm is usual.", "label_text")
    tex = math.pi / 4 * mm**2 * 1000 * FIBER_DENSITY[fiber].value * PACKING[construction].value
    return _Count(round(tex, 2), WeightSystem.TEX, words=f"{figure(mm, significant=3)} mm thick")


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


def _made_of(
    line: str, material: Material, counts: Sequence[_Count], like: DrawerThread | None
) -> tuple[Fiber, Construction, tuple[str, ...]]:
    fiber, construction = material.fiber, material.construction
    taken = []
    if fiber is None and construction is not None and construction is not Construction.SPUN:
        fiber = Fiber.METALLIC if construction is Construction.FILM else Fiber.POLYESTER
        taken.append(f"{FIBER_NAMES[fiber]}, as is usual for this. The label doesn't say")
    elif fiber is None and re.search(r"silk[- ]finish", line):
        fiber = Fiber.COTTON
        taken.append("cotton: “silk finish” is how cotton is finished")
    elif fiber is None and re.search(r"\bbobbins?\b|\bpre-?wounds?\b", line):
        fiber = Fiber.POLYESTER
        taken.append("polyester, as bobbin thread mostly is. The label doesn't say")
    elif fiber is None and like is not None:
        fiber, construction = like.thread.fiber, like.thread.construction
        taken.append(f"{FIBER_NAMES[fiber]}, as with your last such label")
    elif fiber is None:
        by_weight = counts and counts[0].system in (WeightSystem.WT, WeightSystem.NE) and not _METRIC.search(line)
        fiber = Fiber.COTTON if by_weight or construction is Construction.SPUN else Fiber.POLYESTER
        if not counts and construction is None:
            # A bare thickness is how clear thread is sold.
            construction = Construction.MONOFILAMENT
        taken.append(f"{FIBER_NAMES[fiber]}: the line does not say, so look at the cone")
    elif len(others := sorted(FIBER_NAMES[f] for f in fibers_named(line) - {fiber})) and not any(
        phrase.search(line) for phrase, _ in PHRASES
    ):
        # No phrase of the line says how its fibers go together.
        taken.append(f"{FIBER_NAMES[fiber]}, though the label names {in_words(others, 'and')} too")
    if construction is None:
        construction = USUAL_CONSTRUCTION[fiber]
        if fiber is Fiber.POLYESTER:
            # Spun and filament polyester look and fill alike on no label.
            taken.append(f"{CONSTRUCTION_NAMES[construction]}. Choose spun if it's matte like cotton")
    return fiber, construction, tuple(taken)


_SAID = {*FIBERS, *CONSTRUCTIONS, *FINISHES, *FORMS, "variegated", "thread", "ply", "finish", "bobbin", "bobbins"}


def _name(text: str, rest: str) -> str:
    """What is left of the line once all that was understood is taken out, with its own capitals."""
    for word in sorted(_SAID, key=len, reverse=True):
        rest = re.sub(rf"\b{re.escape(word)}\b", " ", rest)
    left = [word.strip(",;:().#") for word in rest.split()]
    left = [word for word in left if re.search(r"\w", word)]
    as_typed = {word.strip(",;:().#").lower(): word.strip(",;:().#") for word in text.split()}
    return " ".join(as_typed.get(word, word) for word in left)[:80]
