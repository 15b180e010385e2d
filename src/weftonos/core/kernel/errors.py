"""Input that cannot be used, said so that a quilter knows what to put instead."""

from __future__ import annotations

import math
from collections.abc import Iterable

from weftonos.core.kernel.decimals import figure

LONGEST_NOTE = 2000
#: What no XML (and so no picture of ours) may hold: controls, and the two that are no characters.
_NO_TEXT = frozenset({*map(chr, range(32)), "\ufffe", "\uffff"} - {"\n", "\t"})


class CraftError(ValueError):
    """A value the craft cannot use.

    ``field`` names the field the sentence belongs to, so that an interface can show it in that place.
    """

    def __init__(self, message: str, field: str = "") -> None:
        super().__init__(message)
        self.field = field


def require_between(
    value: float, low: float, high: float, what: str, field: str, *, unit: str = "", above_low: bool = False
) -> None:
    """Raise :class:`CraftError` unless ``low <= value <= high`` (``low < value`` with ``above_low``)."""
    inside = value <= high and (value > low if above_low else value >= low)
    if inside:
        return
    unit = f" {unit}" if unit else ""
    lower = f"{'above' if above_low else 'from'} {figure(low)}"
    try:
        given = f"{figure(value)}{unit}" if math.isfinite(value) else "no real number"
    except OverflowError:
        # A whole number can be larger than any real one.
        given = "far beyond that"
    raise CraftError(f"{what} is {lower} to {figure(high)}{unit}. This is {given}.", field)


def require_text(value: str, longest: int, what: str, field: str, *, empty: bool = False) -> None:
    """Raise :class:`CraftError` for text that is blank, longer than ``longest`` or not plain text."""
    if not empty and not value.strip():
        raise CraftError(f"{what} is empty. Give it a few letters.", field)
    if len(value) > longest:
        raise CraftError(f"{what} can have up to {longest} letters. This has {len(value)}.", field)
    if any(c in _NO_TEXT or 0xD800 <= ord(c) <= 0xDFFF for c in value):
        raise CraftError(f"{what} holds characters that are not text.", field)


def in_words(choices: Iterable[str], last: str = "or") -> str:
    """Return choices as a phrase: ``"cotton, silk or rayon"``; ``last`` stands before the last one."""
    words = [str(choice).replace("_", " ") for choice in choices]
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} {last} {words[-1]}"
