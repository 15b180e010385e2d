"""The recipe book: combinations kept, found again, put back on the machine, and printed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.balance.recipe import CaseSince, Recipe, Stale, kept_figures, why_stale
from weftonos.core.kernel.errors import CraftError, in_words
from weftonos.core.kernel.sandwich import Motion
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.setup.differences import Changed, Difference, differences
from weftonos.core.setup.events import BobbinLoaded, SandwichLaid, TopThreaded
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.strip import Sheet, recipe_card
from weftonos.stations.balance import judge_balance
from weftonos.stations.log import LogEntry, log_entries, log_entry, nickname, scale_of
from weftonos.store.models import RecordRow
from weftonos.store.workshop import Workshop

#: How many kept combinations are read at a time while a search goes through them.
READ_AT_A_TIME = 100


@dataclass(frozen=True)
class Keep:
    """A name for the combination that is on the machine.

    ``setting`` is kept in the place of the one found, where the eye's reading is preferred; ``unbalanced`` keeps it
    though no stitch was balanced yet.
    """

    name: str
    note: str = ""
    setting: float | None = None
    unbalanced: bool = False


def keep_combination(workshop: Workshop, machine_id: int, keep: Keep, now: datetime) -> LogEntry:
    """Keep what is on the machine as one recipe: threads, needle, bobbin number, setting, grade, evidence."""
    workshop.machine(machine_id)
    setup = workshop.setup(machine_id)
    if setup.missing or not setup.look:
        raise CraftError(f"Before this can be kept it needs {in_words(setup.missing, 'and')}.", "name")
    judged = judge_balance(workshop, machine_id, setup.look.motion)
    if not keep.unbalanced and all(look.grade for look in judged.looks):
        raise CraftError("No stitch of it was balanced yet. Keep it all the same?", "unbalanced")
    setting = judged.estimate.set_to if keep.setting is None else keep.setting
    # How it looks there: as it was graded there last, else as it is expected to.
    there = [look.grade for look in judged.looks if look.setting == setting]
    recipe = Recipe(
        name=keep.name,
        setting=setting,
        grade=there[-1] if there else 0,
        last_look=setup.look.setting,
        bobbin_mn=setup.reading.mean_mn if setup.reading else None,
        motion=setup.look.motion,
        note=keep.note,
        looks=len(judged.rows),
        low=judged.estimate.low,
        high=judged.estimate.high,
    )
    return log_entry(workshop, workshop.note(machine_id, recipe, now, now))


@dataclass(frozen=True, kw_only=True)
class RecipeItem:
    """A kept combination in the machine's own terms, and why it may want a fresh look."""

    entry: LogEntry
    setting_words: str
    interval_words: str
    bobbin_words: str
    stale: Sequence[Stale]


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
    found: list[RecordRow] = []
    start = workshop.record(search.before) if search.before else None
    while len(found) <= search.limit:
        page = workshop.log(
            machine_id=search.machine, kind=Recipe.kind, before=start, limit=READ_AT_A_TIME, unstruck=True
        )
        setups = workshop.setups_at(page.items)
        found += [row for row in page.items if _meets(row, setups[row.id], wanted, search.motion)]
        if page.more is None:
            break
        start = page.items[-1]
    shown = found[: search.limit]
    return RecipePage(_items(workshop, shown), shown[-1].id if len(found) > search.limit else None)


def _meets(row: RecordRow, setup: Setup, wanted: Sequence[str], motion: Motion | None) -> bool:
    if not isinstance(row.payload, Recipe) or not isinstance(row.machine.spec, Machine):
        return False
    if motion and kept_figures(row.payload, setup).motion is not motion:
        return False
    names = [row.payload.name, row.payload.note, nickname(row.machine), *(f"{t.name} {t.words}" for t in setup.top)]
    names += [setup.bobbin.name if setup.bobbin else "", setup.sandwich.batting if setup.sandwich else ""]
    return all(word in " ".join(names).lower() for word in wanted)


def _items(workshop: Workshop, rows: Sequence[RecordRow]) -> list[RecipeItem]:
    setups, entries = workshop.setups_at(rows), log_entries(workshop, rows)
    now = workshop.setups_now({row.machine_id for row in rows})
    cases = {case.id: case.label for setup in setups.values() if (case := setup.case)}
    turned, histories = workshop.rack.last_turns(cases), workshop.rack.histories(cases, 1)
    services = workshop.mending.last_services() if rows else {}
    used = {t.id: t.name for s in setups.values() for t in (*s.top, *([s.bobbin] if s.bobbin else []))}
    gone = workshop.drawer.struck_threads(used) if used else set()
    items = []
    for row, entry in zip(rows, entries, strict=True):
        setup, recipe, scale = setups[row.id], row.payload, scale_of(row.machine)
        assert isinstance(recipe, Recipe) and scale is not None
        kept = kept_figures(recipe, setup)
        interval = ""
        if recipe.low is not None and recipe.high is not None:
            interval = f"{scale.words(scale.snap(recipe.low))} to {scale.words(scale.snap(recipe.high))}"
        since = None
        if setup.case:
            readings = histories[setup.case.id].readings
            since = CaseSince(
                label=setup.case.label,
                screw_turned_at=turned.get(setup.case.id),
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
                stale=(*(Stale(text) for text in kept.wants), *stale),
            )
        )
    return items


@dataclass(frozen=True)
class Used:
    """What differs from a recipe: what was put on the machine from it, and what still wants a hand.

    ``done`` is what was noted by itself, ``records`` the records of it, for taking it back.
    """

    item: RecipeItem
    differs: Sequence[Difference]
    done: Sequence[Difference] = ()
    records: Sequence[int] = ()


def _recipe(workshop: Workshop, machine_id: int, recipe_id: int) -> RecordRow:
    workshop.machine(machine_id)
    row = workshop.record(recipe_id)
    if not isinstance(row.payload, Recipe) or row.machine_id != machine_id:
        raise CraftError("That is no combination kept on this machine.", "recipe")
    return row


def recipe_differences(workshop: Workshop, machine_id: int, recipe_id: int) -> Used:
    """List what is on the machine now that differs from a recipe."""
    row = _recipe(workshop, machine_id, recipe_id)
    return Used(_items(workshop, [row])[0], _moves(workshop, machine_id, row))


def _moves(workshop: Workshop, machine_id: int, row: RecordRow) -> Sequence[Difference]:
    """Return what differs from a recipe now, its setting included."""
    present, kept = workshop.setup(machine_id), workshop.setup_at(row)
    assert isinstance(row.payload, Recipe)
    scale, setting = workshop.machine(machine_id).spec.scale, kept_figures(row.payload, kept).setting
    # What the knob shows is what was last stitched, whatever thread that was with.
    stands = workshop.present(machine_id).setting
    found = list(differences(present, kept))
    if stands != setting:
        shown = scale.words(stands) if stands is not None else "not on record"
        found.append(Difference(Changed.SETTING, shown, scale.words(setting)))
    return found


def use_recipe(workshop: Workshop, machine_id: int, recipe_id: int, now: datetime) -> Used:
    """Put a recipe's threads and sandwich on the thread line; case, needle, screw and knob still want a hand."""
    row = _recipe(workshop, machine_id, recipe_id)
    kept, present = workshop.setup_at(row), workshop.setup(machine_id)
    before = _moves(workshop, machine_id, row)
    noted = []
    if kept.top and [t.id for t in kept.top] != [t.id for t in present.top]:
        noted.append(workshop.note(machine_id, TopThreaded(tuple(t.id for t in kept.top)), now, now).id)
    case = kept.case.id if kept.case else None
    other_case = case is not None and (present.case is None or present.case.id != case)
    if kept.bobbin and (present.bobbin is None or present.bobbin.id != kept.bobbin.id or other_case):
        loaded = BobbinLoaded(bobbin=kept.bobbin.id, bobbin_work=kept.bobbin_work, case=case)
        noted.append(workshop.note(machine_id, loaded, now, now).id)
    if kept.sandwich and kept.sandwich != present.sandwich:
        noted.append(workshop.note(machine_id, SandwichLaid(kept.sandwich), now, now).id)
    left = _moves(workshop, machine_id, row)
    still = {move.what for move in left}
    done = [move for move in before if move.what not in still]
    return Used(_items(workshop, [row])[0], left, done, noted)


def recipe_sheet(workshop: Workshop, recipe_id: int, zone: str) -> Sheet:
    """Lay out a recipe's card, true to size."""
    row = workshop.record(recipe_id)
    recipe, setup = row.payload, workshop.setup_at(row)
    if not isinstance(recipe, Recipe):
        raise CraftError("That record is no kept combination.", "recipe")
    machine = workshop.machine(row.machine_id).spec
    kept = kept_figures(recipe, setup)
    lines = [
        ("Machine", machine.nickname),
        ("Top", " + ".join(f"{t.name} ({t.words})" for t in setup.top)),
        ("Bobbin", f"{setup.bobbin.name} ({setup.bobbin.words})" if setup.bobbin else ""),
        ("Bobbin reads", f"{kept.bobbin_words}{f', case {setup.case.label}' if setup.case else ''}"),
        ("Needle", setup.needle.words if setup.needle else ""),
        ("Top tension", f"{machine.scale.words(kept.setting)}, {kept.motion.value.replace('_', '-')}"),
        ("Looked", GRADES[kept.grade].name),
        ("Batting", setup.sandwich.batting if setup.sandwich else ""),
    ]
    return recipe_card(recipe.name, lines, f"Kept {day_in_words(row.at, zone)}. {recipe.note}")
