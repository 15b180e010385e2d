"""The queries behind Mend on a real file: what last ran well, open troubles, solved ones, breaks, upkeep."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy.orm import Session

from weftonos.core.diagnosis import CheckAnswer
from weftonos.core.drawer import DrawerThread
from weftonos.core.errors import CraftError
from weftonos.core.incident import Incident, IncidentAnswer, IncidentCheck, IncidentOutcome, Outcome
from weftonos.core.linear_density import WeightSystem
from weftonos.core.logbook import NeedleFitted, Run, StitchedLook, TopThreaded
from weftonos.core.machine import Machine
from weftonos.core.needle import Point
from weftonos.core.school import MachineKind
from weftonos.core.thread import Construction, Fibre, Thread
from weftonos.core.top_scale import ScaleKind, TopScale
from weftonos.core.upkeep import Upkeep, UpkeepKind
from weftonos.store.database import open_workshop
from weftonos.store.mending import UPKEEP_REMEMBERED
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
SNAP = "clean_snap_of_the_top_thread"


@pytest.fixture
def shop(tmp_path) -> Iterator[Workshop]:
    engine = open_workshop(tmp_path, NOW)
    with Session(engine) as session, session.begin():
        workshop = Workshop(session)
        for name in ("Heron", "Plover"):
            workshop.add_machine(Machine(name, MachineKind.LONGARM, TopScale(ScaleKind.READOUT, 80, 400, 5)))
        for name, wt in (("Tern 40", 40), ("Knot 80", 80)):
            thread = Thread(Fibre.POLYESTER, Construction.MULTIFILAMENT, wt, WeightSystem.WT)
            workshop.drawer.add_thread(DrawerThread(name, thread))
        yield workshop
    engine.dispose()


def note(shop: Workshop, payload, hours: float, machine: int = 1):
    at = NOW + timedelta(hours=hours)
    return shop.note(machine, payload, at, max(at, NOW + timedelta(hours=100)))


def mended(shop: Workshop, hours: float, cause: str, outcome: Outcome = Outcome.CURED, machine: int = 1):
    """A trouble with one answer and one check, and how it ended."""
    opened = note(shop, Incident((SNAP,), ("needle",)), hours, machine)
    note(shop, IncidentAnswer(opened.id, "only_at_speed", True), hours + 0.1, machine)
    note(shop, IncidentCheck(opened.id, cause, CheckAnswer.FOUND), hours + 0.2, machine)
    return opened, note(shop, IncidentOutcome(opened.id, outcome, cause), hours + 0.3, machine)


def test_it_last_ran_well_at_a_balanced_look_or_a_cure(shop):
    assert shop.mending.last_good(1, None) is None
    look = note(shop, StitchedLook(200, 0), 1)
    note(shop, StitchedLook(200, -1), 2)
    assert shop.mending.last_good(1, None) is look
    opened, cure = mended(shop, 3, "heat")
    assert shop.mending.last_good(1, None) is cure
    assert shop.mending.last_good(1, opened) is look, "before the trouble"
    shop.strike(cure.id, NOW)
    assert shop.mending.last_good(1, None) is look
    assert shop.mending.last_good(2, None) is None, "another machine"


def test_an_outcome_that_is_struck_out_opens_the_trouble_again(shop):
    opened, cure = mended(shop, 1, "heat")
    assert shop.mending.open_incident(1) is None
    shop.strike(cure.id, NOW)
    again = shop.mending.open_incident(1)
    assert again.row is opened
    assert again.state.answers == {"heat": CheckAnswer.FOUND}
    assert [step.kind for step in again.steps] == ["incident_answer", "incident_check"]
    shop.restore(cure.id, NOW)
    shop.strike(opened.id, NOW)
    assert shop.mending.open_incident(1) is None
    assert shop.mending.solved() == [], "a trouble that is struck out taught nothing"


@pytest.mark.parametrize("outcome", [Outcome.NOT_CURED, Outcome.TECHNICIAN, Outcome.LEFT])
def test_only_what_was_cured_teaches(shop, outcome):
    mended(shop, 1, "heat", outcome)
    assert shop.mending.solved() == []


def test_what_was_cured_teaches_with_all_that_was_found(shop):
    mended(shop, 1, "heat")
    mended(shop, 2, "case_bent", machine=2)
    heat = next(s for s in shop.mending.solved() if s.cause == "heat")
    assert heat.present == {SNAP, "needle", "only_at_speed"}
    assert {s.cause for s in shop.mending.solved()} == {"heat", "case_bent"}, "of every machine"


def test_steps_of_several_troubles_come_in_one_query(shop):
    first, _ = mended(shop, 1, "heat")
    second, _ = mended(shop, 2, "case_bent")
    paths = shop.mending.paths([first.id, second.id])
    assert [len(steps) for steps in paths.values()] == [3, 3]
    assert shop.mending.steps(second.id) == paths[second.id]
    assert [row.id for row in shop.mending.incidents(1, 1)] == [second.id]


def test_breaks_are_those_of_the_same_threads_and_needle(shop):
    note(shop, TopThreaded((1,)), 0)
    note(shop, NeedleFitted(90, 14, Point.SHARP), 0.1)
    note(shop, Run(120), 3)
    mended(shop, 4, "heat")
    note(shop, TopThreaded((2,)), 5)
    note(shop, Run(60), 7)
    setup = shop.setup(1)
    assert shop.mending.breaks(1, setup, [SNAP]) == (0, 1)
    note(shop, TopThreaded((1,)), 8)
    note(shop, NeedleFitted(90, 14, Point.SHARP), 8.1)
    assert shop.mending.breaks(1, shop.setup(1), [SNAP]) == (1, 2), "a new needle of the same size"
    assert shop.mending.breaks(1, shop.setup(1), ["popping_or_thumping"]) == (0, 2)


def test_upkeep_counts_the_hours_since_the_last_of_its_kind(shop):
    note(shop, Upkeep(UpkeepKind.SERVICE), 0)
    note(shop, Run(60), 2)
    note(shop, Upkeep(UpkeepKind.CLEANING), 3)
    note(shop, Run(30), 4)
    hours = {state.what: state.hours for state in shop.mending.upkeep(1, shop.setup(1))}
    assert (hours[UpkeepKind.SERVICE], hours[UpkeepKind.CLEANING], hours[UpkeepKind.OILING]) == (1.5, 0.5, None)
    assert shop.mending.last_service(1) == NOW
    assert shop.mending.upkeep_since(1, NOW, None) == (UpkeepKind.CLEANING,)
    assert UPKEEP_REMEMBERED >= 100


def test_a_step_belongs_to_a_trouble_of_its_machine(shop):
    opened, _ = mended(shop, 1, "heat")
    with pytest.raises(CraftError, match="no trouble of this machine"):
        note(shop, IncidentCheck(opened.id, "heat", CheckAnswer.FOUND), 2, machine=2)
    run = note(shop, Run(5), 3)
    with pytest.raises(CraftError, match="no trouble"):
        note(shop, IncidentCheck(run.id, "heat", CheckAnswer.FOUND), 4)
