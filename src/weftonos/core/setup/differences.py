"""What differs between two set-ups: the answer to "what changed since it last ran well"."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.spoken import pull
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.setup import Setup

#: A bobbin reading counts as changed from this share on.
READING_CHANGED = estimate(0.06, "", "twice what the gauge itself scatters")
#: A reading higher by so much moves the balance by about a dial number.
A_DIAL_NUMBER = estimate(0.25, "", "a quarter")


def reading_changed(before_mn: float, now_mn: float) -> bool:
    """Say whether two readings differ by more than the gauge scatters."""
    return abs(now_mn / before_mn - 1) > READING_CHANGED.value


def reads_otherwise(one_mn: float | None, other_mn: float | None) -> bool:
    """Say whether two readings are known to differ; an unread bobbin goes with any."""
    return bool(one_mn and other_mn and reading_changed(one_mn, other_mn))


class Changed(StrEnum):
    """What can differ."""

    TOP_THREAD = "top_thread"
    BOBBIN_THREAD = "bobbin_thread"
    BOBBIN_CASE = "bobbin_case"
    BOBBIN_READING = "bobbin_reading"
    NEEDLE = "needle"
    NEW_NEEDLE = "new_needle"
    SANDWICH = "sandwich"
    SETTING = "setting"


@dataclass(frozen=True)
class Difference:
    """One difference, before and after in words."""

    what: Changed
    before: str
    after: str


def differences(before: Setup, after: Setup) -> tuple[Difference, ...]:
    """Return what differs from one set-up to another, in working order."""
    found = []

    def note(what: Changed, old: str, new: str) -> None:
        found.append(Difference(what, old or "not on record", new or "not on record"))

    if [t.id for t in before.top] != [t.id for t in after.top]:
        note(Changed.TOP_THREAD, " + ".join(t.name for t in before.top), " + ".join(t.name for t in after.top))
    if (before.bobbin and before.bobbin.id) != (after.bobbin and after.bobbin.id):
        note(
            Changed.BOBBIN_THREAD,
            before.bobbin.name if before.bobbin else "",
            after.bobbin.name if after.bobbin else "",
        )
    if before.case and (after.case and after.case.id) != before.case.id:
        note(Changed.BOBBIN_CASE, f"case {before.case.label}", f"case {after.case.label}" if after.case else "")
    old_words, new_words = (s.needle.words if s.needle else "" for s in (before, after))
    if old_words != new_words:
        note(Changed.NEEDLE, old_words, new_words)
    elif before.needle and after.needle and before.needle.record_id != after.needle.record_id:
        note(Changed.NEW_NEEDLE, "one of this kind", "another of the same kind")
    if before.sandwich and before.sandwich != after.sandwich:
        note(
            Changed.SANDWICH,
            before.sandwich.batting or f"{before.sandwich.loft.value} loft",
            (after.sandwich.batting or f"{after.sandwich.loft.value} loft") if after.sandwich else "",
        )
    if before.reading:
        now = after.reading.mean_mn if after.reading else None
        if now is None or reading_changed(before.reading.mean_mn, now):
            note(Changed.BOBBIN_READING, pull(before.reading.mean_mn), pull(now) if now else "not read")
    return tuple(found)
