"""How far a number or a rule can be trusted: its standing.

Every figure the program computes from is held in exactly one place as a :class:`Known`, which carries the
value together with its unit, its standing and, for a published value, the source.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Standing(StrEnum):
    """Where a fact comes from, from the surest to the least sure."""

    PUBLISHED = "published"
    COMMON_PRACTICE = "common_practice"
    OWN_RECORDS = "own_records"
    MEMORY = "memory"
    ESTIMATE = "estimate"


@dataclass(frozen=True, kw_only=True)
class Known:
    """One figure with what is known about it.

    Parameters
    ----------
    value: the number, in ``unit``.
    unit: an SI or trade unit; empty for a ratio.
    standing: how far to trust it.
    source: the publication, or what the estimate was made to reproduce.
    """

    value: float
    unit: str
    standing: Standing
    source: str = ""


def published(value: float, unit: str, source: str) -> Known:
    """Return a figure from a named publication."""
    return Known(value=value, unit=unit, standing=Standing.PUBLISHED, source=source)


def practice(value: float, unit: str = "") -> Known:
    """Return a figure of common practice."""
    return Known(value=value, unit=unit, standing=Standing.COMMON_PRACTICE, source="common practice")


def memory(value: float, unit: str = "") -> Known:
    """Return a figure given from memory, not verified."""
    return Known(value=value, unit=unit, standing=Standing.MEMORY, source="from memory, not verified")


def estimate(value: float, unit: str = "", why: str = "our own estimate") -> Known:
    """Return a figure of our own, chosen to reproduce common practice."""
    return Known(value=value, unit=unit, standing=Standing.ESTIMATE, source=why)
