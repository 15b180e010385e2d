"""The case label and the bobbin card, true to size."""

from __future__ import annotations

from collections.abc import Sequence

from weftonos.exchange.strip import Sheet, Stroke, Words

#: A check bar proves the printer's scale.
CHECK_BAR_MM = 30.0


def _card(width: float, height: float, words: Sequence[Words]) -> Sheet:
    bar = height - 4
    edge = 0.2
    frame = (
        Stroke(edge, edge, width - edge, edge, 0.2),
        Stroke(width - edge, edge, width - edge, height - edge, 0.2),
        Stroke(width - edge, height - edge, edge, height - edge, 0.2),
        Stroke(edge, height - edge, edge, edge, 0.2),
    )
    check = (
        Stroke(3, bar, 3 + CHECK_BAR_MM, bar, 0.2),
        Stroke(3, bar - 1, 3, bar + 1, 0.2),
        Stroke(3 + CHECK_BAR_MM, bar - 1, 3 + CHECK_BAR_MM, bar + 1, 0.2),
    )
    return Sheet(width, height, frame + check, (*words, Words(4 + CHECK_BAR_MM, bar + 0.8, "30 mm", 2.2)))


def case_label(label: str, kept_for: str, target: str, machine: str) -> Sheet:
    """Return the label of a case, 50 × 26 mm: what it is called, kept for, and its number."""
    return _card(
        50,
        26,
        (
            Words(3, 8, label[:14], 5.5, bold=True),
            Words(30, 8, machine[:12], 3.6),
            Words(3, 13, kept_for[:28], 3.2),
            Words(3, 18, target[:28], 3.4, bold=True),
        ),
    )


def bobbin_card(label: str, thread: str, facts: Sequence[str]) -> Sheet:
    """Return the card of a bobbin, 60 × 38 mm."""
    words = [Words(3, 8, label[:20], 5.5, bold=True), Words(3, 14, thread[:30], 3.6)]
    words += [Words(3, 19 + 4.4 * i, fact[:36], 3.0) for i, fact in enumerate(facts[:3])]
    return _card(60, 38, words)
