"""How long each needle was in: from the records of fitting, stitching and retiring."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from weftonos.core.needle.life import TROUBLE, NeedleSpan
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.events import NeedleFitted, NeedleRetired


def needle_spans(events: Iterable[tuple[object, float | None]]) -> Iterator[tuple[NeedleKind, NeedleSpan]]:
    """Return each retired needle's kind and span, from a machine's records in order.

    ``events`` are fittings, retirements (as payloads) and stitching minutes; a needle that was followed by another
    without a word is taken as still unknown and left out.
    """
    kind: NeedleKind | None = None
    hours = 0.0
    for event, minutes in events:
        if minutes is not None:
            hours += minutes / 60
        elif isinstance(event, NeedleFitted):
            kind, hours = NeedleKind.of(event.finish, event.point, event.metric), 0.0
        elif isinstance(event, NeedleRetired) and kind is not None:
            yield kind, NeedleSpan(hours, event.why in TROUBLE)
            kind = None
