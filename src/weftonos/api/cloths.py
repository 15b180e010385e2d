"""Test cloths: begun, found by the number on them, judged, corrected, laid side by side, and saved as recipes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Query

from weftonos.api.context import AnyId, Done, Id, Seen, WorkshopNow
from weftonos.api.strict import StrictRoute
from weftonos.core.balance.cloth import LARGEST_NUMBER
from weftonos.core.kernel.sandwich import Motion
from weftonos.learned.entries import Noted
from weftonos.stations import cloths, recipes

router = APIRouter(prefix="/api", tags=["balance"], route_class=StrictRoute)


@router.post("/machines/{machine_id}/cloths", status_code=201)
def begin_cloth(machine_id: Id, cloth: cloths.NewCloth, workshop: WorkshopNow, now: Done) -> Noted:
    """Begin a test cloth under the next number, or note one from the box with what is written on it."""
    return cloths.begin_cloth(workshop, machine_id, cloth, now)


@router.get("/cloths")
def find_cloths(
    workshop: WorkshopNow,
    number: Annotated[int | None, Query(ge=1, le=LARGEST_NUMBER)] = None,
    text: Annotated[str, Query(max_length=200)] = "",
    machine: AnyId = None,
    motion: Motion | None = None,
    before: AnyId = None,
    limit: Annotated[int, Query(ge=1, le=100)] = 30,
) -> cloths.ClothPage:
    """Find test cloths by number, thread, needle, batting, motion, quilt and note, newest first."""
    search = cloths.ClothSearch(number=number, text=text, machine=machine, motion=motion, before=before, limit=limit)
    return cloths.cloth_page(workshop, search)


@router.get("/cloths/{cloth_id}")
def cloth(cloth_id: Id, workshop: WorkshopNow) -> cloths.ClothItem:
    """Return one test cloth: what it was stitched with, its lines by motion, and what each row found."""
    return cloths.cloth_item(workshop, cloth_id)


@router.put("/cloths/{cloth_id}")
def correct_cloth(
    cloth_id: Id, corrected: cloths.ClothCorrected, workshop: WorkshopNow, now: Done, seen: Seen
) -> cloths.ClothItem:
    """Correct the number on a cloth, its note, or its day; its lines move with it."""
    return cloths.correct_cloth(workshop, cloth_id, corrected, now, seen)


@router.post("/cloths/{cloth_id}/lines", status_code=201)
def judge_line(cloth_id: Id, line: cloths.JudgedLine, workshop: WorkshopNow, now: Done) -> cloths.ClothItem:
    """Judge a line of a cloth, on the machine or out of the box."""
    return cloths.judge_line(workshop, cloth_id, line, now)


@router.post("/cloths/{cloth_id}/lines/{record_id}", status_code=201)
def take_line(cloth_id: Id, record_id: Id, workshop: WorkshopNow, now: Done) -> cloths.ClothItem:
    """Move a test line to this cloth, from another or from none."""
    return cloths.take_line(workshop, cloth_id, record_id, now)


@router.post("/cloths/{cloth_id}/recipes", status_code=201)
def keep_rows(cloth_id: Id, keep: recipes.KeepRows, workshop: WorkshopNow, now: Done) -> Sequence[Noted]:
    """Save a recipe for every row of a cloth that has a balanced line."""
    return recipes.keep_rows(workshop, cloth_id, keep, now)


@router.get("/cloths/{cloth_id}/beside/{other_id}")
def side_by_side(cloth_id: Id, other_id: Id, workshop: WorkshopNow) -> cloths.SideBySide:
    """Lay two cloths side by side: what differs, and what moved."""
    return cloths.side_by_side(workshop, cloth_id, other_id)
