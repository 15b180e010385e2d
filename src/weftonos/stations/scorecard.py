"""What is known of a thread on a machine, on one card: as its maker and its owner judge it, and how it ran here."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from weftonos.core.balance.recipe import Recipe, kept_figures
from weftonos.core.kernel.spoken import day_in_words, for_a_hundred, hours_range, in_hours, so_many
from weftonos.core.thread.drawer import DrawerThread, HandTestKind
from weftonos.core.thread.thread import sheds_lint
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words as printed_day
from weftonos.exchange.report import Section, report
from weftonos.exchange.strip import Paper
from weftonos.learned.own_records import ran_here
from weftonos.store.reading import LogSearch
from weftonos.store.workshop import Workshop

#: How a hand test is called on the card.
_TESTS = {
    HandTestKind.EVEN: "through the fingers",
    HandTestKind.STROKES: "stroked",
    HandTestKind.SNAP: "snapped against new",
}
#: How many settings and quilts a card names, and how many recipes are looked through for them.
MOST_NAMED = 4
READ_RECIPES = 200


@dataclass(frozen=True)
class CardLine:
    """A line of the card: what it is about, and what it says."""

    label: str
    says: str


@dataclass(frozen=True, kw_only=True)
class ThreadCard:
    """A thread's card on one machine; a line for each thing that is known."""

    name: str
    words: str
    lines: Sequence[CardLine]


def thread_card(workshop: Workshop, machine_id: int, thread_id: int) -> ThreadCard:
    """Say what is known of a thread on a machine."""
    workshop.machine(machine_id)
    owned = workshop.drawer.usable_thread(thread_id, "thread")
    settings = " · ".join(_settings(workshop, machine_id, thread_id))
    lines = [*_lines(workshop, machine_id, thread_id), *([CardLine("Settings", settings)] if settings else [])]
    return ThreadCard(name=owned.name, words=owned.words, lines=lines)


def _lines(workshop: Workshop, machine_id: int, thread_id: int) -> list[CardLine]:
    """Return what is known of a thread on a machine, but for where it balanced."""
    owned = workshop.drawer.usable_thread(thread_id, "thread")
    said = {
        "Its maker names": owned.needle_named,
        "Your rating": f"{owned.rating} of 5" if owned.rating else "",
        "Hand tests": " · ".join(_tests(owned)),
        "Lint": "sheds it: clean sooner" if sheds_lint(owned.thread) else "little",
        "Price": for_a_hundred(owned.price / owned.length_m) if owned.price is not None and owned.length_m else "",
    }
    ran = ran_here(workshop, machine_id, thread_id)
    if ran is not None:
        said["Breaks here"] = f"{so_many(ran.breaks, 'break')} in {in_hours(ran.hours)}"
        if ran.low is not None and ran.high is not None:
            said["Breaks here"] += f", most likely one in {hours_range(1 / ran.high, 1 / ran.low)}"
        said["Used on"] = ", ".join(ran.quilts[:MOST_NAMED])
    return [CardLine(label, says) for label, says in said.items() if says]


def card_sheets(
    workshop: Workshop, machine_id: int, thread_id: int, *, now: datetime, zone: str, paper: Paper
) -> list[Sheet]:
    """Lay a thread's card out on paper."""
    owned = workshop.drawer.usable_thread(thread_id, "thread")
    return report(
        title=owned.name,
        date=f"{owned.words}, on {workshop.machine(machine_id).spec.nickname}, {printed_day(now, zone)}",
        numbers=[(line.label, line.says) for line in _lines(workshop, machine_id, thread_id)],
        sections=[Section(head="Where it balanced", lines=list(_settings(workshop, machine_id, thread_id)))],
        foot="Breaks, settings and quilts are those of this machine.",
        paper=paper,
    )


def _tests(owned: DrawerThread) -> Iterator[str]:
    """Yield the last hand test of each kind, in words."""
    for kind, test in sorted(owned.last_tests.items()):
        yield f"{_TESTS[kind]}, {'good' if test.good else 'failed'} ({day_in_words(test.on)})"


def _settings(workshop: Workshop, machine_id: int, thread_id: int) -> Iterator[str]:
    """Yield where this thread balanced, by the recipe book, the newest first."""
    scale = workshop.machine(machine_id).spec.scale
    book = workshop.log(LogSearch(machine=machine_id, kinds=[Recipe.kind], limit=READ_RECIPES, unstruck=True)).items
    setups, marks = workshop.setups_at(book), workshop.marks(machine_id)
    named = 0
    for row in book:
        setup = setups[row.id]
        if named == MOST_NAMED or not isinstance(row.payload, Recipe) or [t.id for t in setup.top] != [thread_id]:
            continue
        named += 1
        kept = kept_figures(row.payload, setup, marks.moved_since(row.at))
        over = f" over {setup.bobbin.name}" if setup.bobbin else ""
        motion = f", {kept.motion_words}" if kept.motion_words else ""
        yield f"{scale.words(kept.setting)}{over}{motion} ({row.payload.name})"
