"""The units in which sentences give pulls and lengths: those of whoever asked. Inside there are mN, m and mm alone.

Whoever answers sets them for one answer (:func:`speaking`); a script or a test that sets nothing gets mN and meters.
"""

from __future__ import annotations

from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date
from enum import StrEnum

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.force import ForceUnit, from_mn
from weftonos.core.kernel.standing import published


class LengthUnits(StrEnum):
    """What lengths are given in."""

    METRIC = "metric"
    INCH = "inch"


METERS_PER_YARD = published(0.9144, "m/yd", "international yard and pound agreement, 1959")
MM_PER_INCH = published(25.4, "mm/in", "international yard and pound agreement, 1959")
#: What a unit is called by itself, and behind a number: quilters say grams.
FORCE_NAMES = {ForceUnit.MN: "mN", ForceUnit.GF: "grams", ForceUnit.CN: "cN"}
FORCE_SAYS = {ForceUnit.MN: "mN", ForceUnit.GF: "g", ForceUnit.CN: "cN"}
#: A gauge in grams or centinewton is read to a tenth.
_DIGITS = {ForceUnit.MN: 0, ForceUnit.GF: 1, ForceUnit.CN: 1}
_FORCE: ContextVar[ForceUnit] = ContextVar("force", default=ForceUnit.MN)
_LENGTHS: ContextVar[LengthUnits] = ContextVar("lengths", default=LengthUnits.METRIC)
_REGION: ContextVar[str] = ContextVar("region", default="US")
#: Where English puts the month before the day (from memory, after the Unicode locale data).
_MONTH_FIRST = frozenset(["US", "CA", "PH", "PR", "GU", "VI", "AS", "MP", "UM", "MH"])


@contextmanager
def speaking(force: ForceUnit, lengths: LengthUnits) -> Iterator[None]:
    """Give pulls and lengths in these units while it lasts."""
    forces, lengthy = _FORCE.set(force), _LENGTHS.set(lengths)
    try:
        yield
    finally:
        _FORCE.reset(forces)
        _LENGTHS.reset(lengthy)


@contextmanager
def speaking_in(region: str) -> Iterator[None]:
    """Write days as they are written in a region (``US``, ``DE``) while it lasts."""
    before = _REGION.set(region)
    try:
        yield
    finally:
        _REGION.reset(before)


def said_as() -> Hashable:
    """Return what sentences depend on: whoever remembers one remembers it for this."""
    return _FORCE.get(), _LENGTHS.get(), _REGION.get(), figure(0.5)


def day_in_words(day: date) -> str:
    """Return a day in words, in the order of whoever asked.

    >>> day_in_words(date(2026, 11, 5))
    'November 5, 2026'
    """
    if _REGION.get() in _MONTH_FIRST:
        return f"{day:%B} {day.day}, {day.year}"
    return f"{day.day} {day:%B %Y}"


def pull_figure(mn: float) -> str:
    """Return a pull without its unit: ``"204"``, in grams ``"20.8"``."""
    unit = _FORCE.get()
    return figure(from_mn(mn, unit), _DIGITS[unit])


def pull(mn: float) -> str:
    """Return a pull with its unit.

    >>> pull(204)
    '204 mN'
    """
    return f"{pull_figure(mn)} {FORCE_SAYS[_FORCE.get()]}"


def pull_range(low_mn: float, high_mn: float) -> str:
    """Return a range of pulls: ``"180 to 220 mN"``."""
    return f"{pull_figure(low_mn)} to {pull(high_mn)}"


def hand() -> str:
    """Return how much is stitched to judge a setting: about a hand's length."""
    return "six inches" if _LENGTHS.get() is LengthUnits.INCH else "a hand's length"


def so_many(count: float, one: str, several: str = "") -> str:
    """Return so many of a thing, in its plural where they are not one.

    >>> so_many(1, "quilt"), so_many(3, "quilt"), so_many(2, "pass", "passes")
    ('1 quilt', '3 quilts', '2 passes')
    """
    return f"{figure(count)} {one if count == 1 else several or f'{one}s'}"


def within_a_sentence(words: str) -> str:
    """Return words that begin a line as they stand within one.

    >>> within_a_sentence("Top too tight")
    'top too tight'
    """
    return words[:1].lower() + words[1:]


def at_the_start(words: str) -> str:
    """Return words that stand within a sentence as they begin one.

    >>> at_the_start("titanium topstitch, on Heron")
    'Titanium topstitch, on Heron'
    """
    return words[:1].upper() + words[1:]


def so_many_troubles(count: int) -> str:
    """Return a count of troubles in words.

    >>> so_many_troubles(0), so_many_troubles(1), so_many_troubles(3)
    ('no trouble', 'one trouble', '3 troubles')
    """
    return {0: "no trouble", 1: "one trouble"}.get(count, f"{count} troubles")


def in_hours(hours: float) -> str:
    """Return hours as people say them: under ten with a decimal where there is one.

    >>> in_hours(1), in_hours(8.57), in_hours(58.2)
    ('1 hour', '8.6 hours', '58 hours')
    """
    figures = _hours(hours)
    return f"{figures} hour{'' if figures == '1' else 's'}"


def hours_range(low: float, high: float) -> str:
    """Return a range of hours as people say it.

    >>> hours_range(6.21, 18.7)
    '6.2 to 19 hours'
    """
    return f"{_hours(low)} to {in_hours(high)}"


def _hours(hours: float) -> str:
    return figure(round(hours, 1 if hours < 10 else 0))


def for_a_hundred(price_a_meter: float) -> str:
    """Return a price for a hundred meters or yards: ``"0.59 for 100 m"``."""
    inches = _LENGTHS.get() is LengthUnits.INCH
    return (
        f"{figure(100 * price_a_meter * (METERS_PER_YARD.value if inches else 1), 2)} for 100 {'yd' if inches else 'm'}"
    )


def length(meters: float) -> str:
    """Return a length of thread or stitching: ``"120 m"`` or ``"131 yd"``."""
    if _LENGTHS.get() is LengthUnits.INCH:
        return f"{meters / METERS_PER_YARD.value:.0f} yd"
    return f"{meters:.0f} m"


_NUMBERS = ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
_ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")


def number_word(number: int) -> str:
    """Return a number from 1 to 10 as a word.

    >>> number_word(7)
    'seven'
    """
    return _NUMBERS[number - 1]


def ordinal(number: int) -> str:
    """Return which one that is, from the first to the tenth.

    >>> ordinal(5)
    'fifth'
    """
    return _ORDINALS[number - 1]
