"""The recipe book: combinations kept, found again, put back on the machine, and printed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from weftonos.core.balance.cloth import Cloth, row_estimate, rows_of
from weftonos.core.balance.recipe import CaseSince, Recipe, Stale, kept_figures, why_stale
from weftonos.core.kernel.errors import CraftError, in_words
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.scale import TopScale
from weftonos.core.log.logbook import Payload
from weftonos.core.setup.differences import Changed
from weftonos.core.setup.events import (
    BobbinLoaded,
    CasePutBack,
    KnobSet,
    NeedleFitted,
    RecipeStage,
    RecipeUsed,
    SandwichLaid,
    TopThreaded,
)
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.strip import recipe_card
from weftonos.learned.balance import judge_balance
from weftonos.learned.bobbins import bobbin_waits, lacking
from weftonos.learned.cloth import OnCloth, cloth_on, cloth_row, numbers_on, on_cloth
from weftonos.learned.entries import LogEntry, Noted, all_noted, log_entries, nickname, noted, scale_of
from weftonos.learned.recipe_in_use import InUse, in_use_of, recipe_in_use, setting_today
from weftonos.store.models import RecordRow
from weftonos.store.rack import WhichCase
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

#: How many kept combinations are read at a time while a search goes through them.
READ_AT_A_TIME = 100


@dataclass(frozen=True, kw_only=True)
class Keep:
    """A name for the combination that is on the machine.

    ``motion`` is the one it is kept for; left out, that of the last look. ``setting`` is the one that was shown; left
    out, the one found. ``unbalanced`` keeps it though no stitch was balanced yet.
    """

    name: str
    note: str = ""
    setting: float | None = None
    motion: Motion | None = None
    unbalanced: bool = False


def keep_combination(workshop: Workshop, machine_id: int, keep: Keep, now: datetime) -> Noted:
    """Keep what is on the machine as one recipe: threads, needle, bobbin number, setting, grade, evidence."""
    workshop.machine(machine_id)
    setup = workshop.setup(machine_id)
    lacks = lacking(workshop, machine_id, setup, bobbin_waits(workshop, machine_id, setup))
    if lacks or not setup.look:
        raise CraftError(f"Before you can save this, it needs {in_words(lacks, 'and')}.", "name")
    motion = keep.motion or setup.look.motion
    judged = judge_balance(workshop, machine_id, motion)
    if not keep.unbalanced and all(look.grade not in judged.accepted for look in judged.looks):
        raise CraftError("No test line was balanced yet. Save it anyway?", "unbalanced")
    setting = judged.estimate.set_to if keep.setting is None else keep.setting
    # How it looks there: as it was graded there last, else as it is expected to.
    there = [look.grade for look in judged.looks if look.setting == setting]
    recipe = Recipe(
        name=keep.name,
        setting=setting,
        grade=there[-1] if there else 0,
        last_look=setup.look.setting,
        bobbin_mn=setup.reading.mean_mn if setup.reading else None,
        motion=motion,
        note=keep.note,
        looks=len(judged.rows),
        low=judged.estimate.low,
        high=judged.estimate.high,
        cloth=on.id if (on := cloth_on(workshop, machine_id)) else None,
    )
    return noted(workshop, workshop.note(machine_id, recipe, now, now))


@dataclass(frozen=True, kw_only=True)
class KeepRows:
    """A name for the recipes of a cloth's rows."""

    name: str
    note: str = ""


def keep_rows(workshop: Workshop, cloth_id: int, keep: KeepRows, now: datetime) -> Sequence[Noted]:
    """Save a recipe for every row of a cloth that has a good line, all in one go.

    The cloth that is being stitched is estimated with all that is known of it, another by its own lines alone.
    """
    row, cloth = cloth_row(workshop, cloth_id)
    on, held = cloth_on(workshop, row.machine_id), on_cloth(workshop, row)
    if on is not None and on.id == row.id:
        good = [motion for motion, found in rows_of(held.lines).items() if any(line.grade == 0 for line in found)]
        _require_good(cloth.number, good)
        kept = [Keep(name=keep.name, note=keep.note, motion=motion) for motion in good]
        return [keep_combination(workshop, row.machine_id, each, now) for each in kept]
    recipes = _from_box(workshop.machine(row.machine_id).spec.scale, row.id, cloth, held, keep)
    _require_good(cloth.number, recipes)
    return all_noted(workshop, [workshop.note(row.machine_id, recipe, held.at, now) for recipe in recipes])


def _require_good(number: int, good: Sequence[object]) -> None:
    if not good:
        raise CraftError(f"No line of cloth {number} looked balanced yet. Judge one first.", "name")


def _from_box(scale: TopScale, number: int, cloth: Cloth, held: OnCloth, keep: KeepRows) -> list[Recipe]:
    """Return the recipes of a cloth that is no longer on the machine, a row with a good line each."""
    setup = held.setup
    reads = setup.reading.mean_mn if setup.reading else cloth.bobbin_mn
    recipes = []
    for motion, lines in rows_of(held.lines).items():
        found = row_estimate(scale, lines)
        if found is None or all(line.grade != 0 for line in lines):
            continue
        there = [line.grade for line in lines if line.setting == found.set_to]
        recipes.append(
            Recipe(
                name=keep.name,
                note=keep.note,
                setting=found.set_to,
                grade=there[-1] if there else 0,
                last_look=setup.look.setting if setup.look else None,
                bobbin_mn=reads,
                motion=motion,
                looks=len(lines),
                low=found.low,
                high=found.high,
                on_top=cloth.on_top,
                below=cloth.below,
                needle=cloth.needle,
                point=cloth.point,
                batting=cloth.batting,
                cloth=number,
            )
        )
    return recipes


@dataclass(frozen=True, kw_only=True)
class RecipeItem:
    """A kept combination in the machine's own terms, and why it may want a fresh look.

    ``cloth`` is the record of the test cloth it was found on, ``cloth_number`` the number on that.
    """

    entry: LogEntry
    setting_words: str
    interval_words: str
    bobbin_words: str
    needle_words: str
    stale: Sequence[Stale]
    cloth: int | None
    cloth_number: int | None


@dataclass(frozen=True)
class RecipePage:
    """A page of the recipe book; ``more`` is the id to continue before, or none at the end."""

    items: Sequence[RecipeItem]
    more: int | None


@dataclass(frozen=True, kw_only=True)
class RecipeSearch:
    """What to find: words that must all be there, the machine, the motion, and the page (before an id)."""

    text: str = ""
    machine: int | None = None
    motion: Motion | None = None
    before: int | None = None
    limit: int = 30


def recipe_page(workshop: Workshop, search: RecipeSearch) -> RecipePage:
    """Find kept combinations by name, thread, batting, machine and motion, newest first, to the end of the book."""
    wanted = search.text.lower().split()
    found: dict[RecordRow, Setup] = {}
    start = search.before
    # Where each one meets the search only those that are shown are read.
    at_a_time = READ_AT_A_TIME if wanted or search.motion else search.limit + 1
    while len(found) <= search.limit:
        page = workshop.log(
            LogSearch(machine=search.machine, kinds=[Recipe.kind], before=start, limit=at_a_time, unstruck=True)
        )
        cloths = numbers_on(workshop, page.items)
        setups = workshop.setups_at(page.items)
        found |= {
            row: setups[row.id]
            for row in page.items
            if _meets(row, setups[row.id], wanted, search.motion, cloths.get(row.cloth_id or 0))
        }
        if page.more is None:
            break
        start = page.items[-1].id
    shown = dict(list(found.items())[: search.limit])
    return RecipePage(_items(workshop, shown), list(shown)[-1].id if len(found) > search.limit else None)


def _meets(row: RecordRow, setup: Setup, wanted: Sequence[str], motion: Motion | None, cloth: int | None) -> bool:
    if not isinstance(row.payload, Recipe) or not isinstance(row.machine.spec, Machine):
        return False
    kept = kept_figures(row.payload, setup)
    if motion and kept.motion is not motion:
        return False
    names = [row.payload.name, row.payload.note, nickname(row.machine), *(f"{t.name} {t.words}" for t in setup.top)]
    names += [setup.bobbin.name if setup.bobbin else "", setup.sandwich.batting if setup.sandwich else ""]
    # Whatever a line of the book says, it is found by.
    names += [kept.needle_words, kept.bobbin_words, row.machine.spec.scale.words(kept.setting)]
    names += [f"cloth {cloth}" if cloth else ""]
    names += [kept.look_words, kept.motion_words, setup.case.label if setup.case else ""]
    return all(word in " ".join(names).lower() for word in wanted)


def _items(workshop: Workshop, found: Mapping[RecordRow, Setup]) -> list[RecipeItem]:
    rows = list(found)
    setups, entries = {row.id: setup for row, setup in found.items()}, log_entries(workshop, rows)
    now = workshop.setups_now({row.machine_id for row in rows})
    cases = {case.id: case.label for setup in setups.values() if (case := setup.case)}
    which = {row.id: WhichCase(row.machine_id, s.case.id if (s := setups[row.id]).case else None) for row in rows}
    turned, histories = workshop.rack.last_turns(which.values()), workshop.rack.histories(cases, 1)
    services = workshop.mending.last_services() if rows else {}
    cloths = numbers_on(workshop, rows)
    used = {t.id: t.name for s in setups.values() for t in (*s.top, *([s.bobbin] if s.bobbin else []))}
    gone = workshop.drawer.struck_threads(used) if used else set()
    items = []
    for row, entry in zip(rows, entries, strict=True):
        setup, recipe, scale = setups[row.id], row.payload, scale_of(row.machine)
        assert isinstance(recipe, Recipe) and scale is not None
        moved = workshop.marks(row.machine_id).moved_since(row.at)
        kept = kept_figures(recipe, setup, moved)
        interval = ""
        if recipe.low is not None and recipe.high is not None:
            low, high = (scale.words(scale.snap(end - moved)) for end in (recipe.low, recipe.high))
            interval = f"{low} to {high}"
        readings = histories[setup.case.id].readings if setup.case else ()
        since = CaseSince(
            label=setup.case.label if setup.case else "",
            screw_turned_at=turned.get(which[row.id]),
            last_mn=readings[-1][1].mean_mn if readings else None,
        )
        threads = [t.id for t in (*setup.top, *([setup.bobbin] if setup.bobbin else []))]
        stale = why_stale(
            row.at,
            setup,
            present=now[row.machine_id].sandwich,
            serviced_at=services.get(row.machine_id),
            case=since,
            gone=[used[number] for number in threads if number in gone],
        )
        items.append(
            RecipeItem(
                entry=entry,
                setting_words=scale.words(kept.setting),
                interval_words=interval,
                bobbin_words=kept.bobbin_words,
                needle_words=kept.needle_words,
                stale=(*(Stale(text) for text in kept.wants), *stale),
                cloth=recipe.cloth if recipe.cloth in cloths else None,
                cloth_number=cloths.get(recipe.cloth or 0),
            )
        )
    return items


def _recipe(workshop: Workshop, machine_id: int, recipe_id: int) -> RecordRow:
    workshop.machine(machine_id)
    row = workshop.record(recipe_id)
    if not isinstance(row.payload, Recipe) or row.machine_id != machine_id:
        raise CraftError("That recipe isn't one of this machine's.", "recipe")
    return row


def recipe_differences(workshop: Workshop, machine_id: int, recipe_id: int) -> InUse:
    """List what is on the machine now that differs from a recipe."""
    return in_use_of(workshop, machine_id, _recipe(workshop, machine_id, recipe_id), workshop.setup(machine_id))


def use_recipe(workshop: Workshop, machine_id: int, recipe_id: int, now: datetime) -> InUse:
    """Begin to put a kept combination back onto the machine: nothing counts as moved until it is."""
    row, before = _recipe(workshop, machine_id, recipe_id), workshop.setup(machine_id)
    begun = workshop.note(machine_id, RecipeUsed(row.id), now, now)
    return in_use_of(workshop, machine_id, row, before, [begun.id])


def finish_recipe(workshop: Workshop, machine_id: int, now: datetime) -> InUse:
    """Note every move that is left as done; a bobbin's number is read, and a needle without a point is fitted."""
    pinned, row = _pinned(workshop, machine_id)
    kept, before = workshop.setup_at(row), workshop.setup(machine_id)
    left = {move.what for move in pinned.moves if not move.done}
    moves: list[Payload] = []
    if Changed.TOP_THREAD in left:
        moves.append(TopThreaded(tuple(t.id for t in kept.top)))
    if kept.bobbin and left & {Changed.BOBBIN_THREAD, Changed.BOBBIN_CASE}:
        moves.append(_bobbin_move(workshop, kept, kept.bobbin.id))
    if kept.needle and left & {Changed.NEEDLE, Changed.NEW_NEEDLE}:
        moves.append(
            NeedleFitted(
                metric=kept.needle.metric,
                american=kept.needle.american,
                point=kept.needle.point,
                finish=kept.needle.finish,
                system=kept.needle.system,
            )
        )
    if kept.sandwich and Changed.SANDWICH in left:
        moves.append(SandwichLaid(kept.sandwich))
    if Changed.SETTING in left:
        moves.append(KnobSet(setting_today(workshop, row)))
    moves.append(RecipeUsed(row.id, RecipeStage.DONE))
    records = [workshop.note(machine_id, move, now, now).id for move in moves]
    return in_use_of(workshop, machine_id, row, before, records)


def _bobbin_move(workshop: Workshop, kept: Setup, thread: int) -> Payload:
    """Return how the bobbin comes in: its case as it was left, where that still holds the thread, else loaded anew."""
    case = kept.case.id if kept.case else None
    if case is not None and (left := workshop.rack.cases_left([case]).get(case)) and left.bobbin == thread:
        return CasePutBack(case)
    return BobbinLoaded(bobbin=thread, bobbin_work=kept.bobbin_work, case=case)


def drop_recipe(workshop: Workshop, machine_id: int, now: datetime) -> InUse:
    """Leave a kept combination off after all; what was moved meanwhile stays as it is on record."""
    pinned, row = _pinned(workshop, machine_id)
    dropped = workshop.note(machine_id, RecipeUsed(row.id, RecipeStage.DROPPED), now, now)
    return replace(pinned, records=[dropped.id])


def _pinned(workshop: Workshop, machine_id: int) -> tuple[InUse, RecordRow]:
    workshop.machine(machine_id)
    pinned = recipe_in_use(workshop, machine_id)
    if pinned is None:
        raise CraftError("No recipe is being put back on this machine.", "recipe")
    return pinned, workshop.record(pinned.recipe)


def recipe_sheet(workshop: Workshop, recipe_id: int, zone: str, opened_at: str = "") -> Sheet:
    """Lay out a recipe's card, true to size; ``opened_at`` is where a tablet opens the workshop, if anywhere."""
    row = workshop.record(recipe_id)
    recipe, setup = row.payload, workshop.setup_at(row)
    if not isinstance(recipe, Recipe):
        raise CraftError("That record isn't a recipe.", "recipe")
    machine = workshop.machine(row.machine_id).spec
    kept = kept_figures(recipe, setup, workshop.marks(row.machine_id).moved_since(row.at))
    in_case = f"case {setup.case.label}" if setup.case else ""
    lines = [
        ("Machine", machine.nickname),
        ("Top", setup.top_in_full),
        ("Bobbin", setup.bobbin.in_full if setup.bobbin else ""),
        ("Bobbin work", setup.face_down),
        ("Bobbin reads", ", ".join(filter(None, (kept.bobbin_words, in_case)))),
        ("Needle", kept.needle_words),
        ("Top tension", ", ".join(filter(None, (machine.scale.words(kept.setting), kept.motion_words)))),
        ("Looked", kept.look_words),
        ("Batting", setup.sandwich.batting if setup.sandwich else ""),
    ]
    at = f"{opened_at}{row.machine_id}/balance?part=recipes" if opened_at else ""
    return recipe_card(recipe.name, lines, f"Saved {day_in_words(row.at, zone)}. {recipe.note}", at, kept.grade)
