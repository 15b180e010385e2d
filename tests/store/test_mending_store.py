"""The queries behind Mend on a real file: what last ran well, open troubles, solved ones, breaks, upkeep."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.log.run import Run
from weftonos.core.mend.diagnosis import CheckAnswer
from weftonos.core.mend.incident import Incident, IncidentAnswer, IncidentCheck, IncidentOutcome, Outcome
from weftonos.core.mend.upkeep import Upkeep, UpkeepKind
from weftonos.core.needle.needle import Point
from weftonos.core.setup.events import BobbinLoaded, NeedleFitted, StitchedLook, TopThreaded
from weftonos.core.setup.machine import Machine
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread
from weftonos.learned.open_trouble import open_incident
from weftonos.learned.time_on import time_on
from weftonos.stations.upkeep import breaks_of
from weftonos.store.models import RecordRow
from weftonos.store.opening import open_workshop
from weftonos.store.order import earlier_than, later_than, up_to
from weftonos.store.workshop import Workshop

NOW = datetime(2026, 11, 24, 12, tzinfo=UTC)
SNAP = "clean_snap_of_the_top_thread"


@pytest.fixture
def shop(tmp_path) -> Iterator[Workshop]:
    engine = open_workshop(tmp_path)
    with Session(engine) as session, session.begin():
        workshop = Workshop(session)
        for name in ("Heron", "Plover"):
            workshop.add_machine(
                Machine(
                    nickname=name,
                    kind=MachineKind.LONGARM,
                    scale=TopScale(kind=ScaleKind.READOUT, low=80, high=400, step=5),
                )
            )
        for name, wt in (("Tern 40", 40), ("Knot 80", 80)):
            thread = Thread(
                fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=wt, system=WeightSystem.WT
            )
            workshop.drawer.add_thread(DrawerThread(name=name, thread=thread))
        yield workshop
    engine.dispose()


def test_full_bobbins_that_were_loaded_since_are_counted_up_by_machine(shop):
    note(shop, BobbinLoaded(bobbin=2), 0)
    for hours, machine, fill in ((1, 1, 1.0), (2, 1, 0.5), (3, 2, 1.0)):
        note(shop, BobbinLoaded(bobbin=2, fill=fill), hours, machine)
    since = NOW + timedelta(hours=1)
    assert shop.plans.wound({2: since, 1: since}) == {2: {1: 1.5, 2: 1.0}, 1: {}}


def test_of_one_moment_the_record_noted_later_is_the_later_one(shop):
    first, second, third = (note(shop, Run(minutes=minutes), 1) for minutes in (5, 6, 7))
    note(shop, Run(minutes=8), 0)
    later, earlier, up = (
        list(shop.session.scalars(select(RecordRow.id).where(which(second)).order_by(RecordRow.id)))
        for which in (later_than, earlier_than, up_to)
    )
    assert later == [third.id]
    assert earlier == [first.id, third.id + 1]
    assert up == [first.id, second.id, third.id + 1]


def note(shop: Workshop, payload, hours: float, machine: int = 1):
    at = NOW + timedelta(hours=hours)
    return shop.note(machine, payload, at, max(at, NOW + timedelta(hours=100)))


def mended(shop: Workshop, hours: float, cause: str, outcome: Outcome = Outcome.CURED, machine: int = 1):
    """A trouble with one answer and one check, and how it ended."""
    opened = note(shop, Incident(symptoms=(SNAP,), changed=("needle",)), hours, machine)
    note(shop, IncidentAnswer(incident=opened.id, finding="only_at_speed", present=True), hours + 0.1, machine)
    note(shop, IncidentCheck(incident=opened.id, cause=cause, answer=CheckAnswer.FOUND), hours + 0.2, machine)
    return opened, note(shop, IncidentOutcome(incident=opened.id, outcome=outcome, cause=cause), hours + 0.3, machine)


def last_good(shop: Workshop, machine: int = 1) -> int | None:
    good = shop.present(machine).good
    return good and good.id


def test_it_last_ran_well_at_a_balanced_look_or_a_cure(shop):
    assert last_good(shop) is None
    look = note(shop, StitchedLook(setting=200, grade=0), 1)
    note(shop, StitchedLook(setting=200, grade=-1), 2)
    assert last_good(shop) == look.id
    opened, cure = mended(shop, 3, "heat")
    assert last_good(shop) == cure.id
    assert shop.mending.last_good_before(1, opened) is look, "before the trouble"
    shop.strike(cure.id, NOW)
    assert last_good(shop) == look.id
    shop.correct(look.id, StitchedLook(setting=200, grade=1), look.at, NOW + timedelta(hours=100))
    assert last_good(shop) is None, "it was not balanced after all"
    assert last_good(shop, 2) is None, "another machine"


def test_of_one_moment_what_was_noted_after_a_trouble_was_not_before_it(shop):
    good = note(shop, StitchedLook(setting=200, grade=0), 1)
    opened = note(shop, Incident(symptoms=(SNAP,), words="snap"), 2)
    note(shop, StitchedLook(setting=205, grade=0), 2)
    assert shop.mending.last_good_before(1, opened) is good


def test_an_outcome_that_is_struck_out_opens_the_trouble_again(shop):
    opened, cure = mended(shop, 1, "heat")
    assert open_incident(shop, 1) is None
    shop.strike(cure.id, NOW)
    incident, state = open_incident(shop, 1)
    assert incident == opened.payload
    assert state.answers == {"heat": CheckAnswer.FOUND}
    assert [step.payload.kind for step in shop.present(1).steps] == ["incident_answer", "incident_check"]
    shop.restore(cure.id, NOW)
    shop.strike(opened.id, NOW)
    assert open_incident(shop, 1) is None
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


def breaks(shop: Workshop) -> tuple[int, float]:
    rate = breaks_of(shop, 1)
    return rate.breaks, rate.hours


def test_breaks_are_those_of_the_same_threads_and_needle(shop):
    note(shop, TopThreaded((1,)), 0)
    note(shop, NeedleFitted(metric=90, american=14, point=Point.SHARP), 0.1)
    note(shop, Run(minutes=120), 3)
    mended(shop, 4, "heat")
    note(shop, TopThreaded((2,)), 5)
    note(shop, Run(minutes=60), 7)
    assert breaks(shop) == (0, 1)
    note(shop, TopThreaded((1,)), 8)
    note(shop, NeedleFitted(metric=90, american=14, point=Point.SHARP), 8.1)
    assert breaks(shop) == (1, 2), "a new needle of the same size"
    note(shop, Incident(symptoms=("popping_or_thumping",)), 9)
    assert breaks(shop) == (1, 2), "a thump is no break"


def test_upkeep_counts_the_hours_since_the_last_of_its_kind(shop):
    note(shop, Upkeep(UpkeepKind.SERVICE), 0)
    note(shop, Run(minutes=60), 2)
    note(shop, Upkeep(UpkeepKind.CLEANING), 3)
    note(shop, Run(minutes=30), 4)
    hours = {state.what: state.hours for state in time_on(shop, 1, shop.setup(1)).upkeep}
    assert (hours[UpkeepKind.SERVICE], hours[UpkeepKind.CLEANING], hours[UpkeepKind.OILING]) == (1.5, 0.5, None)
    assert shop.mending.last_services() == {1: NOW}
    assert shop.mending.upkeep_since(1, NOW, None) == (UpkeepKind.CLEANING,)


def test_a_step_belongs_to_a_trouble_of_its_machine(shop):
    opened, _ = mended(shop, 1, "heat")
    with pytest.raises(CraftError, match="isn't a trouble of this machine"):
        note(shop, IncidentCheck(incident=opened.id, cause="heat", answer=CheckAnswer.FOUND), 2, machine=2)
    run = note(shop, Run(minutes=5), 3)
    with pytest.raises(CraftError, match="isn't a trouble"):
        note(shop, IncidentCheck(incident=run.id, cause="heat", answer=CheckAnswer.FOUND), 4)


def test_what_was_used_at_either_end_of_a_time_was_used_in_it(shop):
    note(shop, NeedleFitted(metric=100, american=16, point=Point.TOPSTITCH), 1)
    note(shop, Run(minutes=30, quilt="Knot"), 5)
    note(shop, Run(minutes=30, quilt="Dunlin"), 6)
    hours = [NOW + timedelta(hours=h) for h in (1, 5)]
    assert shop.runs.used_in(1, *hours) == (1, 1)
    assert shop.runs.used_in(1, hours[0] + timedelta(minutes=1), hours[1]) == (0, 1)
