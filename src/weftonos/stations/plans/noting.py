"""Plans noted and changed, the steps of their passes, and what is left on cones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import day_in_words
from weftonos.core.plan.cones import ConeNoted
from weftonos.core.plan.passes import PassStage, PassStep, QuiltPlanned
from weftonos.core.setup.events import QuiltOn
from weftonos.learned.answer_cache import AnswerCache
from weftonos.learned.entries import Noted, noted
from weftonos.learned.quilt_plans import (
    PlanNow,
    plan_now,
)
from weftonos.store.models import RecordRow
from weftonos.store.versions import require_version
from weftonos.store.workshop import Workshop


def plan_quilt(workshop: Workshop, machine_id: int, plan: QuiltPlanned, now: datetime) -> Noted:
    """Plan a quilt on a machine."""
    workshop.machine(machine_id)
    _check_start(plan, None, now)
    if workshop.plans.all(plan.quilt):
        raise CraftError(f"{plan.quilt} is planned already. Change that plan, or choose another name.", "quilt")
    return noted(workshop, workshop.note(machine_id, plan, now, now))


def _check_start(plan: QuiltPlanned, before: QuiltPlanned | None, now: datetime) -> None:
    """Refuse a first evening that has gone by, unless it stood there before."""
    known = before.starts if before else None
    if plan.starts and plan.starts != known and plan.starts < now.date():
        raise CraftError(f"{day_in_words(plan.starts)} has gone by. Choose today or later.", "starts")


def change_plan(workshop: Workshop, plan_id: int, plan: QuiltPlanned, now: datetime, seen: int | None = None) -> Noted:
    """Change a plan; what it said before stays in the log."""
    row = plan_row(workshop, plan_id)
    require_version(row, seen, "This plan", row.payload)
    assert isinstance(row.payload, QuiltPlanned)
    _check_start(plan, row.payload, now)
    return noted(workshop, workshop.correct(plan_id, plan, row.at, now, seen))


def plan_row(workshop: Workshop, plan_id: int) -> RecordRow:
    """Return the record of a plan; raises :class:`CraftError` for another kind of record."""
    row = workshop.record(plan_id)
    if not isinstance(row.payload, QuiltPlanned):
        raise CraftError("That isn't a plan.", "plan")
    return row


@dataclass(frozen=True, kw_only=True)
class NewStep:
    """A pass is begun, so far, done, or left out."""

    key: int
    stage: PassStage
    share: float | None = None


def step(workshop: Workshop, plan_id: int, new: NewStep, now: datetime) -> Sequence[Noted]:
    """Note how far a pass is; begun, its quilt is on its machine."""
    row = plan_row(workshop, plan_id)
    plan = row.payload
    assert isinstance(plan, QuiltPlanned)
    each = plan.of(new.key)
    if each is None:
        raise CraftError("That pass is not in the plan.", "key")
    machine_id = each.machine or row.machine_id
    rows = []
    if new.stage is PassStage.BEGUN and workshop.setup(machine_id).quilt != plan.quilt:
        rows.append(workshop.note(machine_id, QuiltOn(quilt=plan.quilt), now, now))
    said = PassStep(plan=plan_id, key=new.key, stage=new.stage, share=new.share)
    rows.append(workshop.note(machine_id, said, now, now))
    return [noted(workshop, each) for each in rows]


def note_cone(workshop: Workshop, machine_id: int, cone: ConeNoted, now: datetime) -> Noted:
    """Note what is left on a cone, that one ended, or that some were bought."""
    return noted(workshop, workshop.note(machine_id, cone, now, now))


def now_on(workshop: Workshop, kept: AnswerCache, machine_id: int) -> PlanNow | None:
    """Return where the quilt on a machine is in its plan."""
    workshop.machine(machine_id)
    return plan_now(workshop, kept, machine_id, workshop.setup(machine_id))
