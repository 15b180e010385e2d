"""Beside the search for a cause: past troubles and what they taught, the list before a quilt, and upkeep."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime

from weftonos.core.kernel.counting import BreakRate, break_rate
from weftonos.core.kernel.errors import CraftError
from weftonos.core.log.run import Run
from weftonos.core.mend.circumstance import conditions
from weftonos.core.mend.diagnosis import Observed
from weftonos.core.mend.incident import SEWN_ON, Incident, Outcome, Preflight
from weftonos.core.mend.own_outcomes import OwnCount, own_counts
from weftonos.core.mend.preflight import PreflightList, always_skipped, preflight, without
from weftonos.core.mend.upkeep import Upkeep, UpkeepKind, UpkeepState
from weftonos.core.setup.events import (
    BobbinLoaded,
    CasePutBack,
    NeedleFitted,
    NeedleRetired,
    QuiltOn,
    SandwichLaid,
    TopThreaded,
)
from weftonos.core.setup.setup import same_combination
from weftonos.knowledge import troubles
from weftonos.learned.answer_cache import remembered
from weftonos.learned.at_stake import feeds, preflight_stakes
from weftonos.learned.circumstances import circumstances, recorded_changes
from weftonos.learned.entries import Noted, lines, noted
from weftonos.learned.mending import StepLine, knowledge_of
from weftonos.learned.time_on import time_on
from weftonos.store.mending import state_of
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

#: How many of a machine's troubles are listed, how many are looked through for them (a break that was sewn on from is
#: counted and not listed), and how many runs a break rate rests on.
TROUBLES_LISTED, LOOKED_THROUGH = 20, 200
RUNS_FOR_UPKEEP = 150
#: How many of a machine's lists before a quilt are looked through for checks that are always skipped.
LISTS_THAT_TELL = 30


@dataclass(frozen=True, kw_only=True)
class PastTrouble:
    """A trouble that is over or open: how it began, its path, how it ended, and whether its cure was tested.

    ``cleared``: it was gone before a cause was found.
    """

    id: int
    at: datetime
    words: str
    steps: Sequence[StepLine]
    outcome: Outcome | None
    cause: str
    tested: bool
    cleared: bool


@dataclass(frozen=True, kw_only=True)
class Troubles:
    """A machine's past troubles, what the workshop's own outcomes change, and how often this combination breaks."""

    past: Sequence[PastTrouble]
    own: Sequence[OwnCount]
    solved: int
    rate: BreakRate


def past_troubles(workshop: Workshop, machine_id: int) -> Troubles:
    """List past troubles with their paths, and what they have taught."""
    workshop.machine(machine_id)
    knowledge, past = troubles(), []
    found = workshop.mending.incidents(machine_id, LOOKED_THROUGH)
    rows = [row for row in found if getattr(row.payload, "note", "") != SEWN_ON][:TROUBLES_LISTED]
    paths = workshop.mending.paths(row.id for row in rows)
    said = lines(workshop, [step for steps in paths.values() for step in steps])
    for row in rows:
        state = state_of(row, paths[row.id])
        name = knowledge.cause(state.cause).name if state.cause in knowledge.index else state.cause
        words = row.payload.words if isinstance(row.payload, Incident) else ""
        steps = [StepLine(id=s.id, at=s.at, kind=s.kind, text=said[s.id]) for s in paths[row.id]]
        past.append(
            PastTrouble(
                id=row.id,
                at=row.at,
                words=words,
                steps=steps,
                outcome=state.outcome,
                cause=name,
                tested=state.tested,
                cleared=state.cleared,
            )
        )
    solved = workshop.mending.solved()
    rate = breaks_of(workshop, machine_id)
    return Troubles(past=past, own=own_counts(knowledge, solved), solved=len(solved), rate=rate)


def breaks_of(workshop: Workshop, machine_id: int) -> BreakRate:
    """Return how often the combination that is on breaks, from the machine's last runs and the troubles on them."""
    return remembered(workshop, ("breaks", machine_id), lambda: _breaks_of(workshop, machine_id))


def _breaks_of(workshop: Workshop, machine_id: int) -> BreakRate:
    breaking = troubles().breaking
    rows = workshop.mending.runs_and_incidents(machine_id, RUNS_FOR_UPKEEP)
    setups, now = workshop.combinations_at(rows), workshop.setup(machine_id)
    same = [row.payload for row in rows if same_combination(setups[row.id], now)]
    count = sum(isinstance(p, Incident) and not breaking.isdisjoint(p.symptoms) for p in same)
    return break_rate(count, sum(p.minutes for p in same if isinstance(p, Run)) / 60)


#: What makes the list before a quilt anew once it was gone through.
_BEGIN_ANEW = (
    *(TopThreaded.kind, BobbinLoaded.kind, CasePutBack.kind, NeedleFitted.kind, NeedleRetired.kind),
    *(SandwichLaid.kind, QuiltOn.kind, Incident.kind, Upkeep.kind),
)


def preflight_list(workshop: Workshop, machine_id: int) -> PreflightList:
    """Return the short list before a new quilt, made for what is on the machine."""
    machine, setup = workshop.machine(machine_id).spec, workshop.setup(machine_id)
    knowledge = knowledge_of(workshop).knowledge.at(machine.features)
    on = time_on(workshop, machine_id, setup)
    holds, lacks = conditions(circumstances(workshop, machine_id, setup, on))
    _, recorded = recorded_changes(workshop, machine_id, setup, on, None)
    changed = {name for change in recorded if change.changed for name in change.findings}
    stakes = preflight_stakes(workshop, machine_id, setup.quilt)
    search = LogSearch(machine=machine_id, kinds=[Preflight.kind], limit=LISTS_THAT_TELL, unstruck=True)
    made = workshop.log(search).items
    flown = [row.payload for row in made if isinstance(row.payload, Preflight)]
    skipped = always_skipped(flown) if feeds(workshop, machine_id) else frozenset[str]()
    listed = preflight(knowledge, Observed.of(knowledge, holds | changed, lacks), stakes, skipped)
    if not made or not isinstance(made[0].payload, Preflight):
        return listed
    # A stitch on a scrap is part of the list; what goes on, in or under the machine after it begins it anew.
    since = workshop.log(
        LogSearch(machine=machine_id, kinds=_BEGIN_ANEW, since=made[0].at, limit=1, unstruck=True)
    ).items
    return listed if since and since[0].id != made[0].id else without(listed, made[0].payload.done, made[0].at)


@dataclass(frozen=True, kw_only=True)
class Flown:
    """The checks of the list that were made, and those that were listed as the page showed it."""

    done: list[str]
    listed: list[str] = field(default_factory=list)


def note_preflight(workshop: Workshop, machine_id: int, flown: Flown, now: datetime) -> Noted:
    """Note that the list was gone through."""
    done = tuple(dict.fromkeys(troubles().cause(name, "done").id for name in flown.done))
    if not done:
        raise CraftError("No check is ticked yet.", "done")
    shown = dict.fromkeys(troubles().cause(name, "listed").id for name in flown.listed)
    skipped = tuple(name for name in shown if name not in done)
    # Who doesn't say what was listed went by the list as it is.
    of = len(done) + len(skipped) if shown else max(len(preflight_list(workshop, machine_id).items), len(done))
    return noted(workshop, workshop.note(machine_id, Preflight(done, of, skipped), now, now))


def upkeep(workshop: Workshop, machine_id: int) -> Sequence[UpkeepState]:
    """Say how upkeep stands, in stitching hours."""
    workshop.machine(machine_id)
    return time_on(workshop, machine_id, workshop.setup(machine_id)).upkeep


@dataclass(frozen=True, kw_only=True)
class UpkeepDone:
    """What was done, and when if not now."""

    what: UpkeepKind
    note: str = ""
    at: datetime | None = None


def note_upkeep(workshop: Workshop, machine_id: int, kept: UpkeepDone, now: datetime) -> Noted:
    """Note upkeep."""
    return noted(workshop, workshop.note(machine_id, Upkeep(kept.what, kept.note), kept.at or now, now))
