"""Where live readings come from: one small interface, so that a real device is one file more.

A device is a class with ``name``, ``about`` and ``samples``; register it with :func:`register`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Protocol

#: Samples a second of every source.
SAMPLE_RATE = 50


@dataclass(frozen=True)
class Sample:
    """One sample: seconds since the start, thread pulled in mm, tension in mN."""

    t: float
    length_mm: float
    tension_mn: float


class GaugeSource(Protocol):
    """A gauge that streams."""

    name: str
    about: str

    def samples(self) -> Iterator[Sample]:
        """Yield samples in order of time, ``SAMPLE_RATE`` of them a second, until the source ends."""
        ...


_SOURCES: dict[str, Callable[[str, int], GaugeSource]] = {}


def register(name: str, make: Callable[[str, int], GaugeSource]) -> None:
    """Make a source known: ``make`` takes its condition (a word of its own) and a seed."""
    _SOURCES[name] = make


def open_source(name: str, condition: str, seed: int) -> GaugeSource:
    """Return a source by name; raises :class:`KeyError` for an unknown one."""
    return _SOURCES[name](condition, seed)
