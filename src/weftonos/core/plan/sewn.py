"""What was really sewn of a plan: runs and bobbins of each pass, how far it is, and real against planned."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from weftonos.core.kernel.standing import estimate
from weftonos.core.plan.passes import PassStage, PassState, PassStep, QuiltPlanned, pass_states
from weftonos.core.plan.takes import Learned, PassTakes, PlanTakes

#: The order of the log: the moment, and the number within one moment.
Place = tuple[datetime, int]
#: A pass that its owner has not called done is not done, however long it was sewn.
NOT_YET_DONE = estimate(0.95, "", "the most that hours alone say of a pass")


@dataclass(frozen=True, kw_only=True)
class Sewn:
    """What was sewn of a pass: minutes, meters (``None`` where a run did not say), bobbins that were begun."""

    minutes: float = 0.0
    meters: float | None = 0.0
    bobbins: int = 0


@dataclass(frozen=True, kw_only=True)
class Happened:
    """A run (its minutes, its meters where they were noted) or a bobbin that was loaded, at its place in the log."""

    place: Place
    minutes: float = 0.0
    meters: float | None = None
    bobbin: bool = False


def sewn_by_pass(
    plan: QuiltPlanned, steps: Sequence[tuple[Place, PassStep]], happened: Iterable[Happened]
) -> Mapping[int, Sewn]:
    """Return what was sewn of each pass: what happened while it was begun and no other was, by the log's order.

    The bobbin that was in when a pass was begun counts for it, unless one is loaded before anything is stitched.
    """
    found = {each.key: Sewn() for each in plan.passes}
    moments: list[tuple[Place, PassStep | Happened]] = [*steps, *((each.place, each) for each in happened)]
    on: int | None = None
    for _, what in sorted(moments, key=lambda moment: moment[0]):
        if isinstance(what, PassStep):
            if what.key in found:
                on = what.key if what.stage is PassStage.BEGUN else None if what.key == on else on
        elif on is not None:
            sewn = found[on]
            if what.bobbin:
                found[on] = replace(sewn, bobbins=sewn.bobbins + 1)
                continue
            meters = None if what.meters is None or sewn.meters is None else sewn.meters + what.meters
            bobbins = sewn.bobbins or 1
            found[on] = replace(sewn, minutes=sewn.minutes + what.minutes, meters=meters, bobbins=bobbins)
    return found


def share_sewn(state: PassState, sewn: Sewn, takes: PassTakes) -> float:
    """Return how far a pass is, 0 to 1: as its owner said last, else by meters, else by hours."""
    if state.stage is PassStage.DONE:
        return 1.0
    if state.share is not None:
        return state.share
    if sewn.meters:
        return min(NOT_YET_DONE.value, sewn.meters / takes.stitched_m.likely)
    return min(NOT_YET_DONE.value, sewn.minutes / 60 / takes.hours.likely) if takes.hours.likely else 0.0


@dataclass(frozen=True, kw_only=True)
class Finished:
    """A quilt that was finished by plan: what its done passes took against what they were planned to take.

    ``meters`` and ``thread`` are ``None`` where nobody measured; ``planned`` holds for the passes that were done.
    """

    quilt: str
    hours: float
    hours_planned: float
    meters: float | None
    meters_planned: float
    bobbins: int
    bobbins_planned: float | None


def finished(
    plan: QuiltPlanned, steps: Iterable[PassStep], sewn: Mapping[int, Sewn], takes: PlanTakes
) -> Finished | None:
    """Return real against planned; ``None`` while a pass is left, or where nothing was stitched by plan.

    ``takes`` is what the plan takes by the figures alone, nothing learned from other quilts.
    """
    states = pass_states(plan, steps)
    done = [each for each in takes.passes if states[each.key].stage is PassStage.DONE]
    if not all(state.over for state in states.values()) or not done:
        return None
    real = [sewn[each.key] for each in done]
    if any(not each.minutes for each in real):
        # A pass that was sewn without clock or run says nothing of the others either.
        return None
    meters = [each.meters for each in real if each.meters]
    bobbins = [each.bobbins.likely for each in done if each.bobbins is not None]
    return Finished(
        quilt=plan.quilt,
        hours=sum(each.minutes for each in real) / 60,
        hours_planned=sum(each.hours.likely for each in done),
        meters=sum(meters) if len(meters) == len(real) else None,
        meters_planned=sum(each.stitched_m.likely for each in done),
        bobbins=sum(each.bobbins for each in real),
        bobbins_planned=sum(bobbins) if len(bobbins) == len(done) else None,
    )


def learned_from(quilts: Sequence[Finished]) -> Learned:
    """Return real over planned of finished quilts.

    The last bobbin of a pass is half used on the average, so that half a bobbin is taken off each count.
    """
    return Learned(
        meters=[each.meters / each.meters_planned for each in quilts if each.meters],
        thread=[
            max(each.bobbins - 0.5, 0.5) / each.bobbins_planned
            for each in quilts
            if each.bobbins and each.bobbins_planned
        ],
        hours=[each.hours / each.hours_planned for each in quilts if each.hours_planned],
    )
