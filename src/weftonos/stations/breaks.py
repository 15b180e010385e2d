"""A break that was noted while stitching: counted in one tap, and where it leads.

It is one record of trouble that ended at once, so that it is counted once; looking for its cause opens that record.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import NamedTuple

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.schools import LifeSchool
from weftonos.core.mend.at_a_break import NEEDLE_WORN, SHOWS_WITHIN, SewnOn, sewn_on, why_sew_on
from weftonos.core.mend.diagnosis import NextCheck
from weftonos.core.mend.incident import SEWN_ON, Incident, IncidentOutcome, Outcome, break_noted
from weftonos.core.needle.life import Due, own_life
from weftonos.core.needle.needle import NeedleKind
from weftonos.core.setup.setup import Setup
from weftonos.knowledge import troubles
from weftonos.learned.at_stake import care_of, feeds
from weftonos.learned.entries import Noted, noted
from weftonos.learned.first_move import FirstMove, first_moves
from weftonos.learned.open_trouble import open_incident
from weftonos.learned.own_records import breaks_here, life_of, needle_spans
from weftonos.learned.time_on import TimeOn, time_on
from weftonos.store.workshop import Workshop

#: How thread breaks in one tap.
HOW = ("clean_snap_of_the_top_thread", "frays_above_the_eye", "bobbin_thread_breaks")
#: So many of a machine's last troubles tell what came of breaks.
TROUBLES_THAT_TELL = 60


@dataclass(frozen=True, kw_only=True)
class BreakLead:
    """A way to break, and what to do first about it by what is on; ``None`` where nothing says so.

    ``sew_on`` is why one sews on from a single break; empty where that first move pays.
    """

    symptom: str
    first: NextCheck | None
    sew_on: str


@dataclass(frozen=True, kw_only=True)
class LastBreak:
    """The break that was noted last, if nothing was changed since, and what to do about that one."""

    incident: int
    lead: BreakLead


@dataclass(frozen=True, kw_only=True)
class BreaksStation:
    """What one tap notes and where it leads: how often it breaks here, the needle, the first move for each way."""

    kinds: Sequence[BreakLead]
    often: str
    needle: str
    last: LastBreak | None


def breaks_station(workshop: Workshop, machine_id: int, now: datetime) -> BreaksStation:
    """Say how often thread breaks with what is on, and what to do first about a break."""
    workshop.machine(machine_id)
    setup = workshop.setup(machine_id)
    on = time_on(workshop, machine_id, setup)
    moves = first_moves(workshop, machine_id, setup, on, HOW)
    before = _troubles(workshop, machine_id)
    last = _last(workshop, machine_id, now)
    needle = _needle(workshop, machine_id, setup, on)
    by_condition = workshop.machine(machine_id).spec.life_school is LifeSchool.CONDITION

    def to_change(move: FirstMove) -> bool:
        return move.check.cause == NEEDLE_WORN and (by_condition or bool(needle))

    care = care_of(workshop, setup.quilt)

    def lead(symptom: str, told: SewnOn | None) -> BreakLead:
        move = moves.get(symptom)
        if move is None or told is None or to_change(move):
            return BreakLead(symptom=symptom, first=move.check if move else None, sew_on="")
        sew_on = why_sew_on(move.chance, move.check.minutes, told, care)
        return BreakLead(symptom=symptom, first=move.check, sew_on=sew_on)

    # Whoever taps one of them has the one that was tapped last behind them.
    next_told = _told(workshop, machine_id, before, now)
    return BreaksStation(
        kinds=[lead(symptom, next_told) for symptom in HOW],
        often=breaks_here(workshop, machine_id, setup),
        needle=needle,
        last=last
        and LastBreak(incident=last.id, lead=lead(last.symptom, _told(workshop, machine_id, before[:-1], last.at))),
    )


def _troubles(workshop: Workshop, machine_id: int) -> list[tuple[datetime, Incident]]:
    """Return a machine's last troubles and when they began, oldest first."""
    found = workshop.mending.incidents(machine_id, TROUBLES_THAT_TELL)
    return [(row.at, row.payload) for row in reversed(found) if isinstance(row.payload, Incident)]


def _told(
    workshop: Workshop, machine_id: int, earlier: Sequence[tuple[datetime, Incident]], at: datetime
) -> SewnOn | None:
    """Return what came of the breaks before one; ``None`` for the second within the hour, which is looked into."""
    if earlier and at - earlier[-1][0] <= timedelta(minutes=SHOWS_WITHIN.value):
        return None
    return sewn_on(earlier, at) if feeds(workshop, machine_id) else SewnOn()


def look_into(workshop: Workshop, machine_id: int, incident_id: int, now: datetime) -> Noted:
    """Look for the cause of a break that was noted in one tap: its record is open again, and stays counted once."""
    row = workshop.record(incident_id)
    if row.machine_id != machine_id or not isinstance(row.payload, Incident) or row.payload.note != SEWN_ON:
        raise CraftError("That isn't a break you can note in one tap.", "incident")
    ends = [step for step in workshop.mending.steps(row.id) if isinstance(step.payload, IncidentOutcome)]
    # The note goes first: with it, both records would be deleted together.
    opened = workshop.correct(row.id, replace(row.payload, note=""), row.at, now)
    for end in ends:
        workshop.strike(end.id, now)
    return noted(workshop, opened)


def _needle(workshop: Workshop, machine_id: int, setup: Setup, on: TimeOn) -> str:
    """Return what to ask about the needle at a break: its hours beside those of its like; empty while it is fresh."""
    life = life_of(workshop, machine_id, setup, on)
    if life is None or setup.needle is None or life.due is Due.FRESH:
        return ""
    told = own_life(needle_spans(workshop, machine_id).get(NeedleKind.like(setup.needle), ()))
    own = ""
    if told.troubles and told.high_hours:
        own = f" Yours last {told.low_hours:.0f} to {told.high_hours:.0f}."
    point = setup.needle.point.value
    article = "an" if point[0] in "aeiou" and point != "universal" else "a"
    return f"Change the needle? It's {article} {point} with {figure(life.hours, 1)} hours.{own}"


class _Noted(NamedTuple):
    """A break that was noted: its record, when, and how it broke."""

    id: int
    at: datetime
    symptom: str


def _last(workshop: Workshop, machine_id: int, now: datetime) -> _Noted | None:
    """Return the trouble that was noted last, if it is a break that was sewn on from and nothing was changed since."""
    present = workshop.present(machine_id)
    event, ends = present.incident, [s for s in present.steps if isinstance(s.payload, IncidentOutcome)]
    if event is None or not isinstance(event.payload, Incident) or event.payload.note != SEWN_ON or not ends:
        return None
    force = present.in_force
    changed = [each for each in (force.top, force.loaded, force.fitted, force.knob) if each and each.at > event.at]
    if changed or now - event.at > timedelta(minutes=SHOWS_WITHIN.value):
        return None
    return _Noted(event.id, event.at, event.payload.symptoms[0])


@dataclass(frozen=True, kw_only=True)
class BreakNoted:
    """The records of a break, to be taken back together, the one that may be looked into, and what was noted."""

    records: Sequence[int]
    incident: int
    text: str


def note_break(workshop: Workshop, machine_id: int, symptom: str, now: datetime) -> BreakNoted:
    """Note that thread broke and one went on. It is one trouble that ended at once, so that it is counted once."""
    workshop.machine(machine_id)
    if open_incident(workshop, machine_id):
        raise CraftError("A trouble of this machine is open at Mend: the break is counted there already.", "symptom")
    broke = break_noted(symptom, troubles())
    row = workshop.note(machine_id, broke, now, now)
    end = workshop.note(machine_id, IncidentOutcome(incident=row.id, outcome=Outcome.LEFT, note=SEWN_ON), now, now)
    return BreakNoted(records=(row.id, end.id), incident=row.id, text=f"{broke.words}, and sewn on.")
