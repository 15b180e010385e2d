"""What the numbers behind a station's answers are called, how they read, and where they come from."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass

from weftonos.core.figures import ENDS, Figure, FigureSubject, figures
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.feature import Feature, applies
from weftonos.core.kernel.spoken import at_the_start, pull, pull_range
from weftonos.core.kernel.standing import Known
from weftonos.core.thread.thread import CONSTRUCTION_NAMES, FIBER_NAMES
from weftonos.knowledge import figure_labels

#: What fibers and makes are called, by the words of a figure's name.
_IN_WORDS = {
    **{make.value: name for make, name in CONSTRUCTION_NAMES.items()},
    **{fiber.value: name for fiber, name in FIBER_NAMES.items()},
    "wash_away_spun": "wash-away",
}


@dataclass(frozen=True, kw_only=True)
class NamedFigure:
    """A figure by the name of its constant, and for a person: what it ``says`` it is, and how it ``reads``.

    Both are empty for settings of the arithmetic; the upper end of a range is told with its lower one.
    """

    name: str
    says: str
    reads: str
    known: Known


def named_figures(subject: FigureSubject, has: Set[Feature]) -> Sequence[NamedFigure]:
    """Return the figures a subject's answers rest on, by their constants, and named where people are shown them.

    What a machine that ``has`` these features can't show is left to programs.
    """
    listed = figures()[subject]
    uppers = {(each.constant, each.key): each.known for each in listed if each.part == ENDS[1]}
    found = []
    for each in listed:
        says = "" if each.part == ENDS[1] else _label(subject, each, has)
        upper = uppers.get((each.constant, each.key)) if each.part == ENDS[0] else None
        reads = _reads(each.constant, each.known, upper) if says else ""
        found.append(NamedFigure(name=each.name, says=says, reads=reads, known=each.known))
    return found


def _label(subject: FigureSubject, each: Figure, has: Set[Feature]) -> str:
    labels, key = figure_labels().labels.get(subject.value, {}), each.key
    if each.part not in ("", *ENDS):
        label = labels.get(f"{each.constant}, {each.part}")
    else:
        label = labels.get(f"{each.constant}: {key}") or labels.get(each.constant)
    if label is None or not applies(label.needs, has):
        return ""
    in_words = _IN_WORDS.get(key.replace(" ", "_")) or (key if len(key) > 2 else key.upper())
    return at_the_start(label.says.format(in_words))


def _reads(constant: str, low: Known, high: Known | None = None) -> str:
    """Return a number with its unit, or a range, as a person reads it: shares in percent, pulls in the unit asked for.

    >>> from weftonos.core.kernel.standing import Standing
    >>> _reads("repeats", Known(value=0.03, unit="of the reading", standing=Standing.ESTIMATE))
    '3% of the reading'
    """
    if low.unit == "mN":
        return pull_range(low.value, high.value) if high else pull(low.value)
    share = low.unit.startswith(("of ", "per ")) or (not low.unit and low.value <= 1)
    if share and constant not in figure_labels().decimals:
        return f"{figure(100 * low.value)}% {low.unit}".strip()
    ends = [figure(each.value) for each in (low, high) if each]
    return f"{' to '.join(ends)} {low.unit or ('times' if low.value > 1 else '')}".strip()
