"""Names in the older, British spelling: what was written or asked with them is read as today's.

Earlier documents, requests and tables spell ``fibre``, ``colour`` and ``metres``; programs may go on doing so until
1.0.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

#: Field names by their older spelling.
OLDER_NAMES: Mapping[str, str] = {
    "centre": "center",
    "colour": "color",
    "fibre": "fiber",
    "fibre_below": "fiber_below",
    "fibres": "fibers",
    "metres": "meters",
    "metres_per_hour": "meters_per_hour",
    "metres_per_yard": "meters_per_yard",
    "quilt_fibre": "quilt_fiber",
    "runs_without_metres": "runs_without_meters",
    "stitched_metres": "stitched_meters",
}
#: Words that a field may hold, by the field and their older spelling. What people wrote themselves is never respelled.
OLDER_WORDS: Mapping[tuple[str, str], str] = {
    ("changed", "fibre_change"): "fiber_change",
    ("finding", "fibre_change"): "fiber_change",
    ("finish", "mercerised"): "mercerized",
    ("order", "fibre"): "fiber",
    ("per", "kilometre"): "kilometer",
    ("unchanged", "fibre_change"): "fiber_change",
}
_OLDER_OF = {name: older for older, name in OLDER_NAMES.items()}


def in_todays_spelling(said: Any, name: str = "") -> Any:
    """Return what JSON holds with its fields as they are spelled today; ``name`` is the field it stands in.

    >>> in_todays_spelling({"colour": "#2f6f62", "note": "colour", "thread": {"fibre": "silk"}})
    {'color': '#2f6f62', 'note': 'colour', 'thread': {'fiber': 'silk'}}
    """
    if isinstance(said, dict):
        # Who gives both means today's.
        kept = {key: value for key, value in said.items() if OLDER_NAMES.get(key) not in said}
        return {(now := OLDER_NAMES.get(key, key)): in_todays_spelling(value, now) for key, value in kept.items()}
    if isinstance(said, list):
        return [in_todays_spelling(each, name) for each in said]
    return OLDER_WORDS.get((name, said), said) if isinstance(said, str) else said


def in_both_spellings(said: Any) -> Any:
    """Return what JSON holds with each respelled field also under its older name.

    >>> in_both_spellings({"center": 4.0, "low": 3.0})
    {'center': 4.0, 'centre': 4.0, 'low': 3.0}
    """
    if isinstance(said, dict):
        both: dict[str, Any] = {}
        for key, value in said.items():
            both[key] = in_both_spellings(value)
            if key in _OLDER_OF:
                both[_OLDER_OF[key]] = both[key]
        return both
    # A long row of numbers holds no names.
    return [in_both_spellings(each) for each in said] if isinstance(said, list) and _may_name(said) else said


def _may_name(said: list[Any]) -> bool:
    return bool(said) and isinstance(said[0], dict | list)
