"""How days are written on paper: by the time zone and the region of whoever prints."""

from __future__ import annotations

from datetime import UTC, datetime, tzinfo
from zoneinfo import ZoneInfo

from weftonos.core.kernel import spoken
from weftonos.core.kernel.errors import CraftError

LONGEST_ZONE = 60


def zone_named(name: str) -> tzinfo:
    """Return a time zone by its name (``Europe/Lisbon``); raises :class:`CraftError` for one that is not known."""
    if name == "UTC":
        return UTC
    try:
        return ZoneInfo(name)
    except (ValueError, OSError, LookupError):
        raise CraftError(f"“{name[:LONGEST_ZONE]}” isn't a time zone we know.", "zone") from None


def day_in_words(at: datetime, zone: str) -> str:
    """Return the day of a moment in a time zone, in words.

    >>> day_in_words(datetime(2026, 11, 4, 23, 30, tzinfo=UTC), "Europe/Berlin")
    'November 5, 2026'
    """
    return spoken.day_in_words(at.astimezone(zone_named(zone)))
