"""The case label and the bobbin card, true to size."""

from __future__ import annotations

from collections.abc import Sequence

from weftonos.exchange.lettering import fitted
from weftonos.exchange.marks import Sheet, Stroke, Text
from weftonos.exchange.qr import qr_strokes

#: A check bar proves the printer's scale.
CHECK_BAR_MM = 30.0


def _card(width: float, height: float, words: Sequence[Text], more: Sequence[Stroke] = ()) -> Sheet:
    bar = height - 4
    edge = 0.2
    frame = (
        Stroke(x1=edge, y1=edge, x2=width - edge, y2=edge, width=0.2),
        Stroke(x1=width - edge, y1=edge, x2=width - edge, y2=height - edge, width=0.2),
        Stroke(x1=width - edge, y1=height - edge, x2=edge, y2=height - edge, width=0.2),
        Stroke(x1=edge, y1=height - edge, x2=edge, y2=edge, width=0.2),
    )
    check = (
        Stroke(x1=3, y1=bar, x2=3 + CHECK_BAR_MM, y2=bar, width=0.2),
        Stroke(x1=3, y1=bar - 1, x2=3, y2=bar + 1, width=0.2),
        Stroke(x1=3 + CHECK_BAR_MM, y1=bar - 1, x2=3 + CHECK_BAR_MM, y2=bar + 1, width=0.2),
    )
    return Sheet(
        width=width,
        height=height,
        strokes=(*frame, *check, *more),
        words=(*words, Text(x=4 + CHECK_BAR_MM, y=bar + 0.8, text="30 mm", size_mm=2.2)),
    )


def case_label(
    label: str, kept_for: str, target: str, machine: str, *, address: str = "", turns: Sequence[str] = ()
) -> Sheet:
    """Return the label of a case, 50 mm wide: what it is called, kept for, its number, and its turns between threads.

    ``address`` stands on it as a QR code. Without turns it is 26 mm tall.
    """
    room = 31 if address else 44
    code = qr_strokes(address, 35.5, 10.5, 13) if address else ()
    said: list[Text] = []
    for n, turn in enumerate(turns):
        said += fitted(Text(x=3, y=23 + 3.6 * n, text=turn, size_mm=2.6), 44)
    return _card(
        50,
        26 + (3.6 * len(turns) + 1 if turns else 0),
        (
            *said,
            *fitted(Text(x=3, y=8, text=label, size_mm=5.5, bold=True), 26),
            *fitted(Text(x=30, y=8, text=machine, size_mm=3.6), 17),
            *fitted(Text(x=3, y=12.4, text=kept_for, size_mm=3.2), room, tall=2.6),
            *fitted(Text(x=3, y=18.6, text=target, size_mm=3.4, bold=True), room),
        ),
        code,
    )


def bobbin_card(label: str, thread: str, facts: Sequence[str]) -> Sheet:
    """Return the card of a bobbin, 60 × 38 mm."""
    words = [
        *fitted(Text(x=3, y=8, text=label, size_mm=5.5, bold=True), 54),
        *fitted(Text(x=3, y=14, text=thread, size_mm=3.6), 54),
    ]
    for n, fact in enumerate(facts):
        words += fitted(Text(x=3, y=19 + 4.4 * n, text=fact, size_mm=3.0), 54)
    return _card(60, 38, words)
