"""What the numbers behind a station's answers are called, how they read, and where they come from."""

from __future__ import annotations

import re
from collections.abc import Sequence, Set
from dataclasses import dataclass

from weftonos.core.figures import FigureSubject, figures
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.feature import Feature, applies
from weftonos.core.kernel.spoken import pull, pull_range
from weftonos.core.kernel.standing import Known
from weftonos.core.thread.thread import CONSTRUCTION_NAMES, FIBER_NAMES
from weftonos.knowledge import figure_labels

#: A figure by its constant, which one of several it is, and which part or end of that.
_NAME = re.compile(r"(?P<constant>[^:,]+)(: (?P<key>[^,]+))?(, (?P<part>.+))?")
_ENDS = ("from", "to")
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
    known = {each.name: each.known for each in listed}
    found = []
    for name, each in known.items():
        says, reads = _label(subject, name, has), ""
        if says and name.endswith("from") and (to := known.get(f"{name.removesuffix('from')}to")):
            reads = _reads(name, each, to)
        elif says and name.endswith(", to"):
            says = ""
        elif says:
            reads = _reads(name, each)
        found.append(NamedFigure(name=name, says=says, reads=reads, known=each))
    return found


def _label(subject: FigureSubject, name: str, has: Set[Feature]) -> str:
    matched = _NAME.fullmatch(name)
    assert matched, name
    constant, key, part = matched["constant"], matched["key"] or "", matched["part"] or ""
    labels = figure_labels().labels.get(subject.value, {})
    if part not in ("", *_ENDS):
        label = labels.get(f"{constant}, {part}")
    else:
        label = labels.get(f"{constant}: {key}") or labels.get(constant)
    if label is None or not applies(label.needs, has):
        return ""
    says = label.says.format(_IN_WORDS.get(key.replace(" ", "_")) or (key if len(key) > 2 else key.upper()))
    return says[:1].upper() + says[1:]


def _reads(name: str, low: Known, high: Known | None = None) -> str:
    """Return a number with its unit, or a range, as a person reads it: shares in percent, pulls in the unit asked for.

    >>> from weftonos.core.kernel.standing import Standing
    >>> _reads("repeats", Known(value=0.03, unit="of the reading", standing=Standing.ESTIMATE))
    '3% of the reading'
    """
    if low.unit == "mN":
        return pull_range(low.value, high.value) if high else pull(low.value)
    share = low.unit.startswith(("of ", "per ")) or (not low.unit and low.value <= 1)
    if share and name.split(":")[0] not in figure_labels().decimals:
        return f"{figure(100 * low.value)}% {low.unit}".strip()
    ends = [figure(each.value) for each in (low, high) if each]
    return f"{' to '.join(ends)} {low.unit or ('times' if low.value > 1 else '')}".strip()
