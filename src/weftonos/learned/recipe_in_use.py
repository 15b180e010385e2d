"""The recipe that is being put back onto a machine, and what of it is still to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from weftonos.core.balance.recipe import Recipe, differences_from_card, kept_figures
from weftonos.core.kernel.scale import TopScale
from weftonos.core.setup.differences import Changed, Difference, differences
from weftonos.core.setup.events import (
    RecipeStage,
    RecipeUsed,
)
from weftonos.core.setup.setup import Setup
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class Move:
    """One thing to change on the machine for a kept combination: from, to, and whether it is on record already."""

    what: Changed
    before: str
    after: str
    done: bool = False


@dataclass(frozen=True, kw_only=True)
class InUse:
    """A kept combination that is being put back: its name and setting, and the moves; ``records`` for taking it back.

    The moves tick themselves as they are recorded.
    """

    recipe: int
    name: str
    setting_words: str
    moves: Sequence[Move]
    records: Sequence[int] = ()


def _differs(scale: TopScale, recipe: Recipe, present: Setup, kept: Setup, setting: float) -> dict[Changed, Difference]:
    """Return what differs from a recipe, its setting included."""
    apart = differences_from_card(recipe, present, kept) if recipe.noted_elsewhere else differences(present, kept)
    found = {difference.what: difference for difference in apart}
    # The knob stands where it was last set or stitched, whatever thread that was with.
    if not present.knob or present.knob.setting != setting:
        shown = scale.stands(present.knob.setting) if present.knob else "not on record"
        found[Changed.SETTING] = Difference(Changed.SETTING, shown, scale.words(setting))
    return found


def setting_today(workshop: Workshop, row: RecordRow) -> float:
    """Return a recipe's setting, on today's mark where the knob has one."""
    assert isinstance(row.payload, Recipe)
    moved = workshop.marks(row.machine_id).moved_since(row.at)
    return kept_figures(row.payload, workshop.setup_at(row), moved).setting


def in_use_of(workshop: Workshop, machine_id: int, row: RecordRow, begun: Setup, records: Sequence[int] = ()) -> InUse:
    """Return the moves from what was on when it was begun to a recipe, those done since ticked."""
    recipe, kept, scale = row.payload, workshop.setup_at(row), workshop.machine(machine_id).spec.scale
    assert isinstance(recipe, Recipe)
    setting = setting_today(workshop, row)
    left = _differs(scale, recipe, workshop.setup(machine_id), kept, setting)
    moves = {
        what: Move(what=what, before=d.before, after=d.after, done=True)
        for what, d in _differs(scale, recipe, begun, kept, setting).items()
    }
    moves |= {what: Move(what=what, before=d.before, after=d.after) for what, d in left.items()}
    return InUse(
        recipe=row.id,
        name=recipe.name,
        setting_words=scale.words(setting),
        moves=[moves[what] for what in Changed if what in moves],
        records=records,
    )


def recipe_in_use(workshop: Workshop, machine_id: int) -> InUse | None:
    """Return the kept combination that is being put back onto a machine, if one is."""
    begun = workshop.present(machine_id).in_force.recipe
    if begun is None or not isinstance(used := begun.payload, RecipeUsed) or used.stage is not RecipeStage.BEGUN:
        return None
    row = workshop.record(used.recipe)
    if row.struck_at is not None or not isinstance(row.payload, Recipe):
        return None
    return in_use_of(workshop, machine_id, row, workshop.setup_at(workshop.record(begun.id)))
