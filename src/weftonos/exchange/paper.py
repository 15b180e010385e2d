"""How days are written on paper: by the time zone of whoever prints."""

from __future__ import annotations

from datetime import UTC, datetime, tzinfo
from zoneinfo import ZoneInfo

from weftonos.core.kernel.errors import CraftError

LONGEST_ZONE = 60


def zone_named(name: str) -> tzinfo:
    """Return a time zone by its name (``Europe/Lisbon``); raises :class:`CraftError` for one that is not known."""
    if name == "UTC":
        return UTC
    try:
        return ZoneInfo(name)
    except (ValueError, OSError, LookupError):
        raise CraftError(f"“{name[:LONGEST_ZONE]}” is not a time zone I know.", "zone") from None


def day_in_words(at: datetime, zone: str) -> str:
    """Return a day as ``"5 November 2026"``.

    >>> day_in_words(datetime(2026, 11, 4, 23, 30, tzinfo=UTC), "Europe/Berlin")
    '5 November 2026'
    """
    local = at.astimezone(zone_named(zone))
    return f"{local.day} {local:%B %Y}"
