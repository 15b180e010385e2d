"""The Balance station and the recipe book."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.responses import Response

from weftonos.api.context import AnyId, Done, Id, Now, OpenedAt, WorkshopNow, WorkshopToRead, Zone
from weftonos.api.paper import Format, on_paper
from weftonos.api.strict import StrictRoute
from weftonos.core.balance.ladder import Ladder, LadderPlan
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.setup.events import GoodEnough, KnobSet, MarkSet
from weftonos.exchange.strip import Paper
from weftonos.learned.entries import Noted
from weftonos.learned.recipe_in_use import InUse
from weftonos.stations import balance, recipes

router = APIRouter(prefix="/api", tags=["balance"], route_class=StrictRoute)


@router.get("/machines/{machine_id}/balance")
def balance_station(
    machine_id: Id, workshop: WorkshopNow, motion: Motion = Motion.FREE_MOTION
) -> balance.BalanceStation:
    """Say where the balance lies, how sure that is, and what to stitch next."""
    return balance.balance_station(workshop, machine_id, motion)


@router.post("/machines/{machine_id}/looks", status_code=201)
def keep_look(machine_id: Id, look: balance.Look, workshop: WorkshopNow, now: Done) -> Noted:
    """Keep a test line with the set-up it was made under."""
    return balance.keep_look(workshop, machine_id, look, now)


@router.post("/machines/{machine_id}/ladders", status_code=201)
def keep_ladder(machine_id: Id, graded: balance.GradedLadder, workshop: WorkshopNow, now: Done) -> Sequence[Noted]:
    """Keep a whole ladder, every step a look, in one go."""
    return balance.keep_ladder(workshop, machine_id, graded, now)


@router.post("/machines/{machine_id}/late/{record_id}", status_code=201)
def move_before_lines(machine_id: Id, record_id: Id, workshop: WorkshopNow, now: Done) -> Noted:
    """Move what was noted late before the test lines that were stitched with it: they count for it then."""
    return balance.move_before_lines(workshop, machine_id, record_id, now)


@router.post("/machines/{machine_id}/knob", status_code=201)
def set_knob(machine_id: Id, knob: KnobSet, workshop: WorkshopNow, now: Done) -> Noted:
    """Note where the top tension stands, or that it is left to the machine, without a stitch."""
    return balance.set_knob(workshop, machine_id, knob, now)


@router.post("/machines/{machine_id}/mark", status_code=201)
def set_mark(machine_id: Id, mark: MarkSet, workshop: WorkshopNow, now: Done) -> Noted:
    """Set the mark of an unmarked knob anew, under a name."""
    return balance.set_mark(workshop, machine_id, mark, now)


@router.post("/machines/{machine_id}/good-enough", status_code=201)
def accept(machine_id: Id, good: GoodEnough, workshop: WorkshopNow, now: Done) -> Noted:
    """Note that a few dots or specks are good enough in the combination that is on; 0 takes it back."""
    return balance.accept(workshop, machine_id, good, now)


@router.post("/machines/{machine_id}/ladder")
def ladder(machine_id: Id, question: balance.LadderQuestion, workshop: WorkshopToRead) -> Ladder:
    """Lay out a test: the settings to stitch, and the half of the cloth."""
    return balance.ladder(workshop, machine_id, question)


@router.get("/machines/{machine_id}/strip.{form}", response_class=Response)
def strip(
    machine_id: Id,
    form: Format,
    workshop: WorkshopNow,
    now: Now,
    opened_at: OpenedAt,
    plan: LadderPlan = LadderPlan.FULL,
    motion: Motion = Motion.FREE_MOTION,
    paper: Paper = Paper.A4,
    cloth: AnyId = None,
    zone: Zone = "UTC",
) -> Response:
    """Print the strip of a ladder test, true to scale; with the number of its cloth where one is begun."""
    question = balance.LadderQuestion(plan=plan, motion=motion)
    print_it = balance.StripPrint(paper=paper, zone=zone, opened_at=opened_at, cloth=cloth)
    return on_paper(form, balance.strip_sheet(workshop, machine_id, question, print_it, now))


@router.post("/machines/{machine_id}/recipes", status_code=201)
def keep_combination(machine_id: Id, keep: recipes.Keep, workshop: WorkshopNow, now: Done) -> Noted:
    """Keep what is on the machine as one recipe: threads, needle, bobbin number, setting, grade, evidence."""
    return recipes.keep_combination(workshop, machine_id, keep, now)


@router.get("/recipes")
def find_recipes(
    workshop: WorkshopNow,
    machine: AnyId = None,
    text: Annotated[str, Query(max_length=200)] = "",
    motion: Motion | None = None,
    before: AnyId = None,
    limit: Annotated[int, Query(ge=1, le=100)] = 30,
) -> recipes.RecipePage:
    """Find kept combinations by name, thread, batting, machine and motion, newest first."""
    search = recipes.RecipeSearch(text=text, machine=machine, motion=motion, before=before, limit=limit)
    return recipes.recipe_page(workshop, search)


@router.get("/machines/{machine_id}/recipes/{recipe_id}/differences")
def recipe_differences(machine_id: Id, recipe_id: Id, workshop: WorkshopNow) -> InUse:
    """List what is on the machine now that differs from a recipe."""
    return recipes.recipe_differences(workshop, machine_id, recipe_id)


@router.post("/machines/{machine_id}/recipes/{recipe_id}/use", status_code=201)
def use_recipe(machine_id: Id, recipe_id: Id, workshop: WorkshopNow, now: Done) -> InUse:
    """Begin to put a kept combination back onto the machine, move by move."""
    return recipes.use_recipe(workshop, machine_id, recipe_id, now)


@router.post("/machines/{machine_id}/recipe-in-use/done", status_code=201)
def finish_recipe(machine_id: Id, workshop: WorkshopNow, now: Done) -> InUse:
    """Note every move that is left of the recipe in use as done."""
    return recipes.finish_recipe(workshop, machine_id, now)


@router.post("/machines/{machine_id}/recipe-in-use/drop", status_code=201)
def drop_recipe(machine_id: Id, workshop: WorkshopNow, now: Done) -> InUse:
    """Leave the recipe in use off after all."""
    return recipes.drop_recipe(workshop, machine_id, now)


@router.get("/recipes/{recipe_id}/card.{form}", response_class=Response)
def print_recipe(
    recipe_id: Id, form: Format, workshop: WorkshopNow, opened_at: OpenedAt, zone: Zone = "UTC"
) -> Response:
    """Print a recipe's card, true to size; with a QR code where a tablet can open it."""
    return on_paper(form, recipes.recipe_sheet(workshop, recipe_id, zone, opened_at))
