"""How long each needle was in: from the records of fitting, stitching and retiring."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from weftonos.core.needle.life import TROUBLE, NeedleSpan
from weftonos.core.needle.needle import NeedleFinish
from weftonos.core.setup.events import NeedleFitted, NeedleRetired


def needle_spans(events: Iterable[tuple[object, float | None]]) -> Iterator[tuple[NeedleFinish, NeedleSpan]]:
    """Return each retired needle's finish and span, from a machine's records in order.

    ``events`` are fittings, retirements (as payloads) and stitching minutes; a needle that was followed by another
    without a word is taken as still unknown and left out.
    """
    finish: NeedleFinish | None = None
    hours = 0.0
    for event, minutes in events:
        if minutes is not None:
            hours += minutes / 60
        elif isinstance(event, NeedleFitted):
            finish, hours = event.finish, 0.0
        elif isinstance(event, NeedleRetired) and finish is not None:
            yield finish, NeedleSpan(hours, event.why in TROUBLE)
            finish = None
