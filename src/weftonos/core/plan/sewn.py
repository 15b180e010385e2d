"""What was really sewn of a plan: runs and bobbins of each pass, how far it is, and real against planned."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from weftonos.core.kernel.standing import estimate
from weftonos.core.plan.expected import Told
from weftonos.core.plan.passes import PassKind, PassStage, PassState, PassStep, QuiltPlanned, pass_states
from weftonos.core.plan.takes import COUNTED_WHOLE, HALF_USED, Learned, PassTakes, PlanTakes, parts_of
from weftonos.core.setup.fold import Place

#: Fewer bobbins on a quilt say too little: the part that is left of the last one is too large beside them.
BOBBINS_THAT_TELL = estimate(3, "bobbins")
#: A pass that its owner has not called done is not done, however long it was sewn.
NOT_YET_DONE = estimate(0.95, "", "the most that hours alone say of a pass")


@dataclass(frozen=True, kw_only=True)
class Sewn:
    """What was sewn of a pass: minutes, meters (``None`` where a run did not say), and bobbins.

    ``bobbins`` were sewn from, the one among them that another pass had left; ``loaded`` were new. ``minutes_since``
    were sewn since its owner last said how far it is.
    """

    minutes: float = 0.0
    meters: float | None = 0.0
    bobbins: int = 0
    loaded: int = 0
    minutes_since: float = 0.0


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
                found[what.key] = replace(found[what.key], minutes_since=0.0)
        elif on is not None:
            sewn = found[on]
            if what.bobbin:
                found[on] = replace(sewn, bobbins=sewn.bobbins + 1, loaded=sewn.loaded + 1)
                continue
            meters = None if what.meters is None or sewn.meters is None else sewn.meters + what.meters
            bobbins = sewn.bobbins or 1
            found[on] = replace(
                sewn,
                minutes=sewn.minutes + what.minutes,
                meters=meters,
                bobbins=bobbins,
                minutes_since=sewn.minutes_since + what.minutes,
            )
    return found


def share_sewn(state: PassState, sewn: Sewn, takes: PassTakes) -> float:
    """Return how far a pass is, 0 to 1: as its owner said last and what was sewn since, else by meters or hours."""
    if state.stage is PassStage.DONE:
        return 1.0
    hours, most = takes.hours.likely, NOT_YET_DONE.value
    if state.share is not None:
        return max(state.share, min(most, state.share + sewn.minutes_since / 60 / hours)) if hours else state.share
    if sewn.meters:
        return min(most, sewn.meters / takes.stitched_m.likely)
    return min(most, sewn.minutes / 60 / hours) if hours else 0.0


@dataclass(frozen=True, kw_only=True)
class FinishedPass:
    """What a pass took against what it was planned to take; ``meters`` is ``None`` where nobody measured."""

    what: PassKind
    hours: float
    hours_planned: float
    meters: float | None
    meters_planned: float
    loaded: int
    bobbins_planned: float | None


@dataclass(frozen=True, kw_only=True)
class Finished:
    """A quilt that was finished by plan, by the passes that were done."""

    quilt: str
    hours: float
    passes: Sequence[FinishedPass]


def finished(
    plan: QuiltPlanned, steps: Iterable[PassStep], sewn: Mapping[int, Sewn], takes: PlanTakes
) -> Finished | None:
    """Return real against planned; ``None`` while a pass is left, or where nothing was stitched by plan.

    ``takes`` is what the plan takes at a usual pace, nothing learned from other quilts.
    """
    states, by_key = pass_states(plan, steps), {each.key: each for each in takes.passes}
    done = [each for each in plan.passes if states[each.key].stage is PassStage.DONE]
    # A pass that was sewn without clock or run says nothing of the others either.
    if not done or not all(s.over for s in states.values()) or any(not sewn[each.key].minutes for each in done):
        return None
    return Finished(
        quilt=plan.quilt,
        hours=sum(sewn[each.key].minutes for each in done) / 60,
        passes=[
            FinishedPass(
                what=each.what,
                hours=sewn[each.key].minutes / 60,
                hours_planned=by_key[each.key].hours.likely,
                meters=sewn[each.key].meters or None,
                meters_planned=by_key[each.key].stitched_m.likely,
                loaded=sewn[each.key].loaded,
                bobbins_planned=b.likely if (b := by_key[each.key].bobbins) else None,
            )
            for each in done
        ],
    )


def learned_from(quilts: Sequence[Finished]) -> Learned:
    """Return what finished quilts tell.

    Hours and meters are told pass by pass, bobbins of the whole quilt: the last one is half used on the average.
    """
    return Learned(
        meters=[
            [
                Told(ratio=each.meters / each.meters_planned, parts={each.what: 1.0})
                for each in quilt.passes
                if each.meters and each.meters_planned
            ]
            for quilt in quilts
        ],
        thread=[told for quilt in quilts if (told := _thread_told(quilt))],
        hours=[
            [
                Told(ratio=each.hours / each.hours_planned, parts={each.what: 1.0})
                for each in quilt.passes
                if each.hours_planned
            ]
            for quilt in quilts
        ],
    )


def _thread_told(quilt: Finished) -> list[Told]:
    planned: dict[PassKind, float] = {}
    for each in quilt.passes:
        if each.bobbins_planned is None:
            return []
        planned[each.what] = planned.get(each.what, 0.0) + each.bobbins_planned
    begun = sum(each.loaded for each in quilt.passes)
    if begun < BOBBINS_THAT_TELL.value:
        return []
    used = begun - HALF_USED.value
    return [Told(ratio=used / sum(planned.values()), parts=parts_of(planned), counted=COUNTED_WHOLE.value / used)]
