"""Evenings as iCalendar (RFC 5545), so that any calendar takes them in."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta


@dataclass(frozen=True, kw_only=True)
class CalendarEntry:
    """One day with its heading and what is done on it. ``uid`` names it everywhere: brought in again it is the same."""

    uid: str
    day: date
    heading: str
    lines: Sequence[str]


#: A line has so many octets at most; what is longer goes on in the next, after a space.
_LONGEST = 75


def to_ics(entries: Sequence[CalendarEntry], stamp: datetime) -> str:
    """Return the calendar's text; each entry is a whole day."""
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Weftonos//Plan of a quilt//EN"]
    for each in entries:
        lines += [
            "BEGIN:VEVENT",
            f"UID:{_escaped(each.uid)}",
            f"DTSTAMP:{stamp.astimezone(UTC):%Y%m%dT%H%M%SZ}",
            f"DTSTART;VALUE=DATE:{each.day:%Y%m%d}",
            f"DTEND;VALUE=DATE:{each.day + timedelta(days=1):%Y%m%d}",
            f"SUMMARY:{_escaped(each.heading)}",
            f"DESCRIPTION:{_escaped(chr(10).join(each.lines))}",
            "TRANSP:TRANSPARENT",
            "END:VEVENT",
        ]
    lines.append("END:VCALENDAR")
    return "".join(f"{part}\r\n" for line in lines for part in _folded(line))


def _escaped(text: str) -> str:
    for sign in ("\\", ";", ","):
        text = text.replace(sign, f"\\{sign}")
    return text.replace("\n", "\\n")


def _folded(line: str) -> Iterator[str]:
    part, room = "", _LONGEST
    for letter in line:
        size = len(letter.encode())
        if size > room:
            yield part
            part, room = " ", _LONGEST - 1
        part += letter
        room -= size
    yield part
