"""Bringing tables in: which column is what, what each row would be kept as, and what is wrong with it.

Nothing is written here: a table becomes lines, as an archive has them (:mod:`weftonos.store.archive`), and those are
brought in at once or not at all.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

from weftonos.core.balance.recipe import Recipe, noted_setup
from weftonos.core.bobbin.events import BobbinReading
from weftonos.core.kernel.errors import CraftError, in_words, require_between
from weftonos.core.kernel.force import to_mn
from weftonos.core.kernel.spoken import so_many
from weftonos.core.log.logbook import check_time, describe
from weftonos.core.log.references import Thing, renamed
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import SEWN_ON, IncidentOutcome, Outcome, break_noted
from weftonos.core.mend.upkeep import Upkeep
from weftonos.core.needle.needle import NeedleFinish, Point
from weftonos.core.needle.packet import NeedlePacket
from weftonos.core.setup.machine import Machine
from weftonos.core.setup.setup import Setup
from weftonos.core.thread.drawer import DrawerThread, Form
from weftonos.core.thread.label import read_label
from weftonos.core.thread.label_words import dye_named
from weftonos.exchange.paper import zone_named
from weftonos.exchange.spreadsheet import Table
from weftonos.inout.cells import Cells, motion_named, needle_point, needle_size, stitch_grade, upkeep_kind
from weftonos.inout.table_kinds import COLUMNS, Choices, TableKind
from weftonos.knowledge import troubles
from weftonos.store.archive import Told, names_of
from weftonos.store.documents import as_fields, write_document
from weftonos.store.models import MachineRow
from weftonos.store.workshop import Workshop

#: How thread broke where a table only says how often, and how many breaks one run may have.
USUAL_BREAK, MOST_BREAKS = "clean_snap_of_the_top_thread", 200


@dataclass(frozen=True, kw_only=True)
class Row:
    """A row of a table: how it would be kept, or what is wrong with it and in which field.

    ``double`` where it is not saved again: it is here already, or says the same as the row ``same_as`` of this table.
    ``aside`` says why a row is none to be saved: a total. ``asks`` are the readings of a label that can be read in
    several ways. ``lines`` are what is brought in.
    """

    number: int
    text: str = ""
    problem: str = ""
    field: str = ""
    double: bool = False
    same_as: int = 0
    aside: str = ""
    asks: Sequence[str] = ()
    lines: Sequence[Mapping[str, Any]] = ()


class LabelAsksError(CraftError):
    """A label can be read in several ways, and none was chosen; ``readings`` are they, in words."""

    def __init__(self, message: str, readings: Sequence[str]) -> None:
        super().__init__(message, "label")
        self.readings = readings


_TOTAL = re.compile(r"(grand |sub-?)?totals?|sum|average|mean", re.IGNORECASE)


class Intake:
    """Reads the rows of one table against a workshop."""

    def __init__(self, workshop: Workshop, sheet: Table, choices: Choices, now: datetime) -> None:
        for name, column in choices.columns.items():
            if not 0 <= column < len(sheet.columns):
                raise CraftError("There is no such column.", name)
        lacking = [w.name for w in COLUMNS[choices.kind] if w.needed and w.field not in choices.columns]
        if lacking:
            raise CraftError(f"Choose the column of {in_words(lacking, 'and').lower()}.", "columns")
        self._workshop = workshop
        self._sheet = sheet
        self._choices = choices
        self._now = now
        self._zone = zone_named(choices.zone)
        self._machines = {m.spec.nickname.casefold(): m for m in workshop.machines()}
        self._by_id = {m.id: m for m in self._machines.values()}
        self._cases = {c.spec.label.casefold(): c for c in workshop.rack.cases()}
        self._threads = {spec.name.casefold(): (number, spec) for number, spec in workshop.drawer.all_threads()}
        self._owned = [spec for _, spec in self._threads.values()]
        self._uids = names_of(workshop.session)
        self._known = _known(workshop, choices.kind)
        self._seen: dict[tuple[Any, ...], int] = {}
        self._build: Callable[[Cells], tuple[Any, datetime | None, MachineRow | None, str]] = {
            TableKind.THREADS: self._thread,
            TableKind.NEEDLES: self._needles,
            TableKind.RUNS: self._run,
            TableKind.READINGS: self._reading,
            TableKind.RECIPES: self._recipe,
            TableKind.UPKEEP: self._upkeep,
        }[choices.kind]

    def rows(self, told: Told | None = None) -> Iterator[Row]:
        """Yield every row as it would be kept."""
        for done, (number, cells) in enumerate(zip(self._sheet.numbers, self._sheet.rows, strict=True), 1):
            if told and done % 500 == 0:
                told(done, len(self._sheet.rows))
            yield self._row(number, cells)

    def _row(self, number: int, said: Sequence[str]) -> Row:
        if any(_TOTAL.fullmatch(cell.strip(" :")) for cell in said):
            return Row(number=number, aside="A total, left out.")
        if self._sheet.headed and tuple(said) == self._sheet.columns:
            return Row(number=number, aside="The headings once more, left out.")
        cells = Cells(said, self._choices, both_marks=self._sheet.both_marks)
        try:
            value, at, machine, text = self._build(cells)
            breaks = list(self._breaks(cells, at, machine))
        except LabelAsksError as asked:
            return Row(number=number, problem=str(asked), field=asked.field, asks=asked.readings)
        except CraftError as error:
            return Row(number=number, problem=str(error), field=error.field)
        key = _key(value, at, machine.id if machine else None)
        twin = self._seen.setdefault(key, number)
        same_as = 0 if twin == number or self._choices.keep_twins else twin
        return Row(
            number=number,
            text=text,
            double=key in self._known or bool(same_as),
            same_as=same_as,
            lines=[self._line(value, at, machine), *breaks],
        )

    def _breaks(self, cells: Cells, at: datetime | None, machine: MachineRow | None) -> Iterator[Mapping[str, Any]]:
        """Yield the breaks that a run had, each a trouble that ended at once."""
        if self._choices.kind is not TableKind.RUNS or "breaks" not in self._choices.columns:
            return
        knowledge = troubles()
        for _ in range(int(cells.number("breaks") or 0)):
            begun = self._line(break_noted(USUAL_BREAK, knowledge), at, machine)
            end = self._line(IncidentOutcome(incident=0, outcome=Outcome.LEFT, note=SEWN_ON), at, machine)
            yield begun
            yield {**end, "document": {**end["document"], "incident": begun["uid"]}}

    def _line(self, value: Any, at: datetime | None, machine: MachineRow | None) -> Mapping[str, Any]:
        document = json.loads(write_document(value))
        kind = "thread" if isinstance(value, DrawerThread) else "packet" if at is None else value.kind
        document = renamed(kind, document, lambda thing, number: self._uids[thing].get(number))
        line: dict[str, Any] = {"what": kind, "uid": uuid4().hex, "version": 1, "struck_at": None}
        if at is not None and machine is not None:
            moment = at.astimezone(UTC).isoformat()
            line |= {
                "what": Thing.RECORD.value,
                "machine": machine.uid,
                "kind": kind,
                "at": moment,
                "noted_at": self._now.astimezone(UTC).isoformat(),
                "revisions": [],
            }
        return {**line, "document": document}

    # What a row is

    def _thread(self, cells: Cells) -> tuple[DrawerThread, None, None, str]:
        label, fiber = cells.text("label"), cells.text("fiber")
        if not label:
            raise CraftError("No weight given.", "label")
        # A bare number under "weight" is one in wt: what quilters mean by it.
        said = f"{label} wt" if re.fullmatch(r"\d+([.,]\d+)?", label) else label
        if fiber and fiber.lower() not in said.lower():
            said = f"{said} {fiber.replace('_', ' ')}"
        answer = read_label(said, self._owned)
        meant = self._choices.answers.get(label, 0 if self._choices.likeliest or not answer.ask else -1)
        if not 0 <= meant < len(answer.readings):
            raise LabelAsksError(answer.ask, [reading.words for reading in answer.readings])
        read_as = answer.readings[meant]
        spec = read_as.spec
        changes: dict[str, Any] = {"label_text": label[:120]}
        if name := cells.text("name"):
            changes["name"] = name
        if color := cells.text("color"):
            dye = color.lower() if color.startswith("#") else dye_named(color.lower())
            changes |= {"color": dye} if dye else {"note": f"Color: {color}"}
        if note := cells.text("note"):
            changes["note"] = "; ".join(filter(None, (changes.get("note", ""), note)))
        for text in ("line", "needle_named"):
            if said := cells.text(text):
                changes[text] = said
        if (length := cells.length("length_m")) is not None:
            changes["length_m"] = round(length, 2)
        if (price := cells.number("price")) is not None:
            changes["price"] = price
        if (rating := cells.number("rating")) is not None:
            changes["rating"] = int(rating)
        if (bought := cells.moment("bought")) is not None:
            changes["bought"] = bought.date()
        spec = replace(spec, **changes)
        form = ", pre-wound" if spec.form is Form.PRE_WOUND else ""
        asked = f", read as {read_as.words}" if answer.ask else ""
        return spec, None, None, f"{spec.name}: {spec.words}{form}{asked}"

    def _needles(self, cells: Cells) -> tuple[NeedlePacket, None, None, str]:
        size = needle_size(cells.text("size"), "size")
        point = needle_point(cells.text("point"), "point") or Point.UNIVERSAL
        finish = (
            NeedleFinish.TITANIUM
            if re.search(r"titan|gold|coat|tin\b", cells.text("finish").lower())
            else NeedleFinish.STEEL
        )
        count = cells.number("bought")
        packet = NeedlePacket(
            metric=size.metric,
            american=size.american,
            point=point,
            finish=finish,
            bought=10 if count is None else int(count),
            system=cells.text("system"),
            price=cells.number("price"),
        )
        return packet, None, None, f"{packet.bought} × {size} {point.value}, {finish.value}"

    def _run(self, cells: Cells) -> tuple[Run, datetime, MachineRow, str]:
        minutes = cells.minutes()
        if minutes is None:
            raise CraftError("No stitching time given.", "minutes")
        meters = cells.length("meters")
        breaks = cells.number("breaks") or 0
        require_between(value=breaks, low=0, high=MOST_BREAKS, what="The breaks of one run", field="breaks")
        run = Run(minutes=minutes, quilt=cells.text("quilt"), meters=None if meters is None else round(meters, 2))
        value, at, machine, text = self._record(run, cells)
        return value, at, machine, text + (f", {so_many(round(breaks), 'break')}" if breaks else "")

    def _reading(self, cells: Cells) -> tuple[BobbinReading, datetime, MachineRow, str]:
        machine, unit = self._machine(cells), cells.unit("pulls")
        pulls = cells.pulls("pulls")
        case = self._case(cells.text("case"))
        target = self._workshop.bobbin_target(machine.id, case)
        return self._record(BobbinReading.of(unit, pulls, target, note=cells.text("note"), case=case), cells)

    def _recipe(self, cells: Cells) -> tuple[Recipe, datetime, MachineRow, str]:
        machine = self._machine(cells)
        setting = cells.number("setting")
        if setting is None:
            raise CraftError("No top tension given.", "setting")
        machine.spec.scale.check(setting)
        below = cells.text("bobbin_thread")
        reading = cells.number("bobbin_mn")
        needle = cells.text("needle")
        recipe = Recipe(
            name=cells.text("name"),
            setting=setting,
            grade=stitch_grade(cells.text("look"), "look"),
            bobbin_mn=None if reading is None else round(to_mn(reading, cells.unit("bobbin_mn")), 1),
            motion=motion_named(cells.text("motion"), "motion"),
            note=cells.text("note"),
            on_top=tuple(
                self._owned_thread(name, "top_thread") for name in re.split(r"\s*[+;&]\s*", cells.text("top_thread"))
            ),
            below=self._owned_thread(below, "bobbin_thread") if below else None,
            needle=needle_size(needle, "needle") if needle else None,
            point=needle_point(re.sub(r"[\d/ ]+", " ", needle), "needle"),
            batting=cells.text("batting"),
        )
        return self._record(recipe, cells)

    def _upkeep(self, cells: Cells) -> tuple[Upkeep, datetime, MachineRow, str]:
        return self._record(Upkeep(upkeep_kind(cells.text("what")), cells.text("note")), cells)

    def _record(self, value: Any, cells: Cells) -> tuple[Any, datetime, MachineRow, str]:
        machine = self._machine(cells)
        at = cells.moment("at") if "at" in self._choices.columns else None
        if at is None:
            if cells.text("at") or not isinstance(value, Recipe):
                raise CraftError(f"“{cells.text('at')[:30]}” isn't a date. Write it as 2026-05-03.", "at")
            at = self._now
        if at.tzinfo is None:
            at = at.replace(tzinfo=self._zone)
        # A day alone stands for its noon, also today when that is still to come.
        at = min(at, self._now) if cells.only_a_day and at.date() == self._now.astimezone(self._zone).date() else at
        check_time(at, self._now)
        threads = dict(self._threads.values())
        setup = Setup()
        if isinstance(value, Recipe):
            setup = noted_setup(value, 0, at, threads)
        return value, at, machine, describe(value, setup, machine.spec.scale, threads)

    # What a row names

    def _machine(self, cells: Cells) -> MachineRow:
        named = cells.text("machine")
        machine = self._machines.get(named.casefold()) if named else self._by_id.get(self._choices.machine or 0)
        if machine is None or not isinstance(machine.spec, Machine):
            raise CraftError(
                f"There is no machine called {named[:40]}." if named else "Choose the machine for rows that name none.",
                "machine",
            )
        return machine

    def _case(self, label: str) -> int | None:
        if not label:
            return None
        if (case := self._cases.get(label.casefold())) is None:
            raise CraftError(f"There is no case labeled {label[:40]} on the rack.", "case")
        return case.id

    def _owned_thread(self, name: str, field: str) -> int:
        # Our own tables write a thread with its weight behind it.
        found = self._threads.get(name.casefold()) or self._threads.get(re.sub(r"\s*\(.*\)$", "", name).casefold())
        if found is None:
            raise CraftError(f"There is no thread called {name[:60]} in the drawer. Bring the threads in first.", field)
        return found[0]


def _key(value: Any, at: datetime | None, machine: int | None) -> tuple[Any, ...]:
    """Return what makes two rows one: what they say, where, and the minute."""
    said = json.dumps({**as_fields(value), "label_text": "", "hand_tests": ()}, sort_keys=True)
    minute = at.astimezone(UTC).replace(second=0, microsecond=0) if at else None
    return machine, minute, said


_KEPT_AS: Mapping[TableKind, str] = {
    TableKind.RUNS: Run.kind,
    TableKind.READINGS: BobbinReading.kind,
    TableKind.RECIPES: Recipe.kind,
    TableKind.UPKEEP: Upkeep.kind,
}


def _known(workshop: Workshop, kind: TableKind) -> set[tuple[Any, ...]]:
    """Return the keys of what is here already and counts."""
    if kind is TableKind.THREADS:
        return {_key(spec, None, None) for _, spec in workshop.drawer.all_threads()}
    if kind is TableKind.NEEDLES:
        return {_key(row.spec, None, None) for row, _ in workshop.drawer.packets()}
    return {_key(payload, at, machine) for machine, at, payload in workshop.said(_KEPT_AS[kind])}
