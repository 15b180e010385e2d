"""Quilts sewn in a world of its own: hands, eyes, thread and bobbins by laws that the planner does not know.

Written and fixed before the planner's ranges were compared with it; what it shows changes nothing here.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from random import Random

from weftonos.core.bobbin.thread_use import BobbinClass, wound_length_m
from weftonos.core.kernel.sandwich import Loft, Sandwich
from weftonos.core.log.run import RUNS_FOR_PACE, TimedRun, pace_of
from weftonos.core.plan.passes import Pass, PassKind, PassStage, PassStep, QuiltingDensity, QuiltPlanned
from weftonos.core.plan.sewn import Finished, Happened, Sewn, finished, sewn_by_pass
from weftonos.core.plan.takes import PassFacts, usual_pace, what_it_takes
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Construction, Fiber, Thread

BEGIN = datetime(2026, 1, 1, tzinfo=UTC)
THREAD = Thread(fiber=Fiber.POLYESTER, construction=Construction.MULTIFILAMENT, value=60, system=WeightSystem.WT)
KINDS = (PassKind.DITCH, PassKind.OUTLINE, PassKind.MOTIF, PassKind.BORDER, PassKind.FILL, PassKind.EDGE_TO_EDGE)


@dataclass(frozen=True)
class Owner:
    """A quilter as nobody knows her: by how much her eye, her thread, her bobbins and her hands differ from usual."""

    eye: float
    take_up: float
    stitch: float
    bobbin: float
    pace: float
    by_kind: dict[PassKind, float]
    on_frame: bool
    measures: bool

    @classmethod
    def drawn(cls, chance: Random) -> Owner:
        """Draw one."""
        return cls(
            eye=math.exp(chance.gauss(0, 0.22)),
            take_up=chance.uniform(0.02, 0.16),
            stitch=math.exp(chance.gauss(0, 0.06)),
            bobbin=math.exp(chance.gauss(0, 0.10)),
            pace=math.exp(chance.gauss(0, 0.38)),
            by_kind={kind: math.exp(chance.gauss(0, 0.15)) for kind in PassKind},
            on_frame=chance.random() < 0.6,
            measures=chance.random() < 0.5,
        )


@dataclass(frozen=True)
class SewnQuilt:
    """A quilt as it was planned and as it really went."""

    plan: QuiltPlanned
    steps: list[tuple[tuple[datetime, int], PassStep]]
    happened: list[Happened]
    runs: list[TimedRun]
    meters: float
    bobbins: int
    hours: float
    #: Bobbins as they were emptied, the last one by the part that was sewn of it.
    emptied: float


def a_plan(chance: Random) -> QuiltPlanned:
    """Plan a quilt as people do: some passes, by picture mostly."""
    if chance.random() < 0.3:
        kinds = [PassKind.EDGE_TO_EDGE]
    else:
        kinds = sorted(chance.sample(KINDS[:5], chance.randint(1, 4)), key=KINDS.index)
    shares = {PassKind.FILL: chance.uniform(0.3, 0.6), PassKind.MOTIF: 0.2, PassKind.BORDER: 0.2}
    passes = tuple(
        Pass(
            key=n,
            what=kind,
            share=shares.get(kind),
            density=chance.choice(list(QuiltingDensity)[1:5]) if kind not in (PassKind.DITCH,) else None,
            block_m=chance.uniform(0.15, 0.35) if kind is PassKind.DITCH else None,
            top=1,
            below=2,
        )
        for n, kind in enumerate(kinds, 1)
    )
    return QuiltPlanned(
        quilt=f"quilt {chance.random()}",
        passes=passes,
        width_m=chance.uniform(0.9, 2.7),
        height_m=chance.uniform(1.0, 2.8),
        sandwich=Sandwich(loft=chance.choice(list(Loft))),
    )


def sew(owner: Owner, plan: QuiltPlanned, chance: Random) -> SewnQuilt:
    """Sew a quilt: what really happens."""
    today, thick = math.exp(chance.gauss(0, 0.08)), math.exp(chance.gauss(0, 0.10))
    drawn = math.exp(chance.gauss(0, 0.10))
    moment, number = BEGIN, 0
    steps: list[tuple[tuple[datetime, int], PassStep]] = []
    happened: list[Happened] = []
    runs: list[TimedRun] = []
    bobbins, left, full, emptied = 0, 0.0, 1.0, 0.0
    all_meters = all_minutes = 0.0

    def place() -> tuple[datetime, int]:
        nonlocal moment, number
        moment, number = moment + timedelta(minutes=1), number + 1
        return moment, number

    holds = wound_length_m(BobbinClass.M, THREAD) * owner.bobbin
    for each in plan.passes:
        steps.append((place(), PassStep(plan=1, key=each.key, stage=PassStage.BEGUN)))
        by_eye = 1.0 if each.what is PassKind.DITCH else owner.eye * drawn * math.exp(chance.gauss(0, 0.12))
        meters = each.meters_on(plan.width, plan.height) * by_eye
        stitch = each.stitch * owner.stitch
        thread = (stitch + plan.sandwich.thickness_mm * thick) * (1 + owner.take_up) / stitch
        pace = usual_pace(each.what, on_frame=owner.on_frame) * owner.pace * owner.by_kind[each.what] * today
        todo = meters
        while todo > 1e-9:
            if left <= 0.05 * holds:
                bobbins, left = bobbins + 1, holds * math.exp(chance.gauss(0, 0.04))
                full = left
                happened.append(Happened(place=place(), bobbin=True))
            stretch = min(todo, (left - 0.02 * holds) / thread)
            minutes = stretch / (pace * math.exp(chance.gauss(0, 0.10))) * 60
            measured = stretch if owner.measures else None
            happened.append(Happened(place=place(), minutes=minutes, meters=measured))
            runs.append(TimedRun(minutes, measured))
            left -= stretch * thread
            todo -= stretch
            all_meters += stretch
            all_minutes += minutes
            emptied += stretch * thread / full
        steps.append((place(), PassStep(plan=1, key=each.key, stage=PassStage.DONE)))
    return SewnQuilt(plan, steps, happened, runs, all_meters, bobbins, all_minutes / 60, emptied)


def facts_of(owner: Owner, plan: QuiltPlanned, before: list[SewnQuilt]) -> dict[int, PassFacts]:
    """Return what the workshop knows for each pass: a pace by the last runs that have meters."""
    last = [run for quilt in before for run in quilt.runs if run.meters is not None][-RUNS_FOR_PACE:]
    own = pace_of(last)
    return {
        each.key: PassFacts(
            pace_m_h=own.meters_per_hour if own else usual_pace(each.what, on_frame=owner.on_frame),
            pace_is_own=own is not None,
            usual_m_h=usual_pace(each.what, on_frame=owner.on_frame),
            bobbin_m=wound_length_m(BobbinClass.M, THREAD),
            life_h=6,
            clean_h=8,
        )
        for each in plan.passes
    }


def told(owner: Owner, before: list[SewnQuilt]) -> list[Finished]:
    """Return what the finished quilts say, by today's figures."""
    found = []
    for quilt in before:
        sewn: dict[int, Sewn] = dict(sewn_by_pass(quilt.plan, quilt.steps, quilt.happened))
        plain = what_it_takes(quilt.plan, facts_of(owner, quilt.plan, before), at_usual_pace=True)
        if done := finished(quilt.plan, [step for _, step in quilt.steps], sewn, plain):
            found.append(done)
    return found
