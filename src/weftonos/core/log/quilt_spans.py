"""Which quilt the records of a machine belong to: what is set up and tested is for the quilt that is stitched next.

A quilt is named when it is put on, by a run, or by the clock, and often only after threads, needle and bobbin for it
were set up. So what was noted after a quilt's last stitching belongs to the next one, where there is one.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import zip_longest

from weftonos.core.setup.fold import Place


@dataclass(frozen=True)
class Named:
    """A record that names a quilt (empty for a run that names none), and whether it was stitched then."""

    place: Place
    quilt: str
    stitched: bool


@dataclass(frozen=True)
class Span:
    """The records of a machine that belong to a quilt: after one place, up to and with another.

    ``None`` is the beginning or the end of the log.
    """

    quilt: str
    after: Place | None
    until: Place | None


@dataclass
class _Stretch:
    quilt: str
    begins: Place
    last_stitched: Place | None = None


def quilt_spans(named: Iterable[Named]) -> list[Span]:
    """Return the spans of a machine's quilts, oldest first; ``named`` are its naming records in the order of the log.

    >>> from datetime import datetime
    >>> monday, tuesday = datetime(2026, 11, 23), datetime(2026, 11, 24)
    >>> spans = quilt_spans([Named((monday, 1), "Avocet", True), Named((tuesday, 7), "Dunlin", True)])
    >>> [(span.quilt, span.until and span.until[1]) for span in spans]
    [('Avocet', 1), ('Dunlin', None)]
    """
    stretches: list[_Stretch] = []
    unnamed: Place | None = None
    for each in named:
        if each.quilt and (not stretches or each.quilt != stretches[-1].quilt):
            stretches.append(_Stretch(each.quilt, each.place))
        if not each.stitched:
            continue
        if stretches:
            stretches[-1].last_stitched = each.place
        else:
            unnamed = each.place
    spans: list[Span] = []
    after = unnamed
    for stretch, following in zip_longest(stretches, stretches[1:]):
        # A quilt that was put on and never stitched keeps what was noted until the next one was named.
        until = None if following is None else stretch.last_stitched or _just_before(following.begins)
        spans.append(Span(stretch.quilt, after, until))
        after = until
    return spans


def _just_before(place: Place) -> Place:
    return place[0], place[1] - 1
