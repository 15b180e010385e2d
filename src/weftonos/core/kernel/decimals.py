"""Numbers in sentences, with the decimal mark of whoever asked: a point unless :func:`decimal_comma` says so."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_COMMA: ContextVar[bool] = ContextVar("comma", default=False)


@contextmanager
def decimal_comma(wanted: bool) -> Iterator[None]:
    """Write decimals with a comma (or, with ``False``, a point) while it lasts."""
    before = _COMMA.set(wanted)
    try:
        yield
    finally:
        _COMMA.reset(before)


def figure(value: float, places: int | None = None, *, significant: int = 6) -> str:
    """Return a number for a sentence, with so many decimals or, without them, as short as it is exact.

    >>> figure(8.57, 1), figure(2.50), figure(1 / 3, significant=2)
    ('8.6', '2.5', '0.33')
    """
    text = f"{value:.{significant}g}" if places is None else f"{value:.{places}f}"
    return text.replace(".", ",") if _COMMA.get() else text
