"""Quilts: what hangs on each name, on screen and on paper."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from weftonos.core.balance.cloth import Cloth
from weftonos.core.balance.recipe import Recipe
from weftonos.core.bobbin.events import BobbinReading
from weftonos.core.kernel.care import Care
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.spoken import length, pull, so_many
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.log.run import Run
from weftonos.core.mend.incident import Incident
from weftonos.core.setup.events import BobbinLoaded, NeedleFitted, QuiltOn, StitchedLook
from weftonos.core.setup.setup import Setup
from weftonos.exchange.marks import Sheet
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.report import Section, report
from weftonos.exchange.strip import Paper
from weftonos.knowledge import troubles
from weftonos.learned.entries import Noted, nickname, noted, scale_of
from weftonos.store.drawer import NotFoundError
from weftonos.store.models import MachineRow
from weftonos.store.quilts import QuiltTotals
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class UsedThread:
    """A thread that was on while a quilt was stitched: where, its color, and the hours stitched with it."""

    id: int
    name: str
    words: str
    color: str
    below: bool
    hours: float


@dataclass(frozen=True, kw_only=True)
class UsedSetting:
    """A combination as it was set on a quilt last: machine, threads, needle, top, bobbin, and how it looked."""

    machine: str
    top: str
    bobbin: str
    needle: str
    set_to: str
    bobbin_mn: float | None
    look: str
    at: datetime
    kept: str


@dataclass(frozen=True, kw_only=True)
class UsedCloth:
    """A test cloth that was stitched while a quilt was on: its record, the number on it, and its machine."""

    id: int
    number: int
    machine_id: int
    machine: str


@dataclass(frozen=True, kw_only=True)
class QuiltPage:
    """Everything on record of one quilt."""

    name: str
    for_whom: str
    note: str
    care: Care
    first: datetime
    last: datetime
    machines: Sequence[str]
    hours: float
    meters: float
    runs_without_meters: int
    bobbins: int
    needles: Sequence[str]
    breaks: int
    troubles: int
    readings: int
    threads: Sequence[UsedThread]
    settings: Sequence[UsedSetting]
    cloths: Sequence[UsedCloth]
    notes: Sequence[str]
    records: int


def quilts(workshop: Workshop) -> Sequence[QuiltTotals]:
    """List every quilt, the one that was worked on last first."""
    return workshop.quilts.all()


def put_on(workshop: Workshop, machine_id: int, quilt: QuiltOn, now: datetime) -> Noted:
    """Note which quilt is on the frame, for whom it is, and a note."""
    return noted(workshop, workshop.note(machine_id, quilt, now, now))


@dataclass(frozen=True, kw_only=True)
class CareSaid:
    """How careful the quilt that is on wants its maker to be."""

    care: Care


def set_care(workshop: Workshop, machine_id: int, care: Care, now: datetime) -> Noted:
    """Note how careful the quilt that is on wants its maker to be; what else was said of it stays."""
    quilt = workshop.setup(machine_id).quilt
    if not quilt:
        raise CraftError("No quilt is on this machine. Say under Run which one is.", "care")
    said = workshop.quilts.said(quilt) or QuiltOn(quilt=quilt)
    return noted(workshop, workshop.note(machine_id, replace(said, care=care), now, now))


def quilt_page(workshop: Workshop, name: str) -> QuiltPage:
    """Say everything that is on record of one quilt; raises :class:`NotFoundError` where nothing is."""
    rows = workshop.quilts.records(name)
    if not rows:
        raise NotFoundError(f"There is no quilt called {name[:80]} in the log.")
    setups = workshop.setups_at(rows)
    machines = {row.id: row for row in workshop.machines()}
    breaking = troubles().breaking
    runs = [row for row in rows if isinstance(row.payload, Run)]
    incidents = [row.payload for row in rows if isinstance(row.payload, Incident)]
    said = workshop.quilts.said(name)
    fitted = [row.payload for row in rows if isinstance(row.payload, NeedleFitted)]
    first_needle = setups[rows[0].id].needle
    needles = [first_needle.words] if first_needle else []
    needles += [f"{n.size} {n.point.value}" for n in fitted]
    return QuiltPage(
        name=name,
        for_whom=said.for_whom if said else "",
        note=said.note if said else "",
        care=said.care if said else Care.USUAL,
        first=rows[0].at,
        last=rows[-1].at,
        machines=list(dict.fromkeys(nickname(machines[row.machine_id]) for row in rows if row.machine_id in machines)),
        hours=sum(row.payload.minutes for row in runs) / 60,
        meters=sum(row.payload.meters or 0 for row in runs),
        runs_without_meters=sum(row.payload.meters is None for row in runs),
        bobbins=sum(isinstance(row.payload, BobbinLoaded) for row in rows),
        needles=list(dict.fromkeys(needles)),
        breaks=sum(not breaking.isdisjoint(incident.symptoms) for incident in incidents),
        troubles=len(incidents),
        readings=sum(isinstance(row.payload, BobbinReading) for row in rows),
        threads=_threads([(row.payload.minutes, setups[row.id]) for row in runs]),
        settings=_settings(rows, setups, machines),
        cloths=[
            UsedCloth(
                id=row.id,
                number=row.payload.number,
                machine_id=row.machine_id,
                machine=nickname(machines[row.machine_id]),
            )
            for row in rows
            if isinstance(row.payload, Cloth) and row.machine_id in machines
        ],
        notes=[note for row in rows if (note := getattr(row.payload, "note", ""))],
        records=len(rows),
    )


def _threads(runs: Sequence[tuple[float, Setup]]) -> list[UsedThread]:
    hours: defaultdict[tuple[int, bool], float] = defaultdict(float)
    tags = {}
    for minutes, setup in runs:
        below = [(setup.bobbin, True)] if setup.bobbin else []
        for tag, is_below in [*((t, False) for t in setup.top), *below]:
            hours[tag.id, is_below] += minutes / 60
            tags[tag.id] = tag
    return [
        UsedThread(
            id=number,
            name=tags[number].name,
            words=tags[number].words,
            color=tags[number].color,
            below=below,
            hours=spent,
        )
        for (number, below), spent in sorted(hours.items(), key=lambda item: (item[0][1], -item[1]))
    ]


def _settings(
    rows: Sequence[Any], setups: Mapping[int, Setup], machines: Mapping[int, MachineRow]
) -> list[UsedSetting]:
    """The last look, kept combination or stitching for each machine, threads and needle, newest first."""
    found: dict[object, UsedSetting] = {}
    for row in rows:
        machine, setup, payload = machines.get(row.machine_id), setups[row.id], row.payload
        scale = scale_of(machine) if machine else None
        if machine is None or scale is None:
            continue
        needle = setup.needle.words if setup.needle else ""
        key = (row.machine_id, tuple(t.id for t in setup.top), setup.bobbin and setup.bobbin.id, needle)
        before = found.get(key)
        match payload:
            case StitchedLook() | Recipe():
                set_to = payload.setting
                look = "picture not noted" if payload.grade is None else GRADES[payload.grade].name
            case Run() if before is None and setup.knob and setup.knob.setting is not None:
                # Nothing was tested for this quilt: it was stitched as the top stood.
                set_to, look = setup.knob.setting, "not tested for this quilt"
            case _:
                continue
        kept = payload.name if isinstance(payload, Recipe) else (before.kept if before else "")
        found[key] = UsedSetting(
            machine=nickname(machine),
            top=" + ".join(t.name for t in setup.top),
            bobbin=setup.bobbin.name if setup.bobbin else "",
            needle=needle,
            set_to=scale.words(set_to),
            bobbin_mn=setup.reading.mean_mn if setup.reading else None,
            look=look,
            at=row.at,
            kept=kept,
        )
    return sorted(found.values(), key=lambda each: each.at, reverse=True)


def printed_quilt(workshop: Workshop, name: str, *, now: datetime, zone: str, paper: Paper) -> list[Sheet]:
    """Lay out the page of one quilt."""
    page = quilt_page(workshop, name)
    unmeasured = f", {so_many(page.runs_without_meters, 'run')} not measured" if page.runs_without_meters else ""
    numbers = [
        ("For", page.for_whom),
        ("Worked on", f"{day_in_words(page.first, zone)} to {day_in_words(page.last, zone)}"),
        ("Machine", ", ".join(page.machines)),
        ("Stitched", f"{figure(page.hours, 1)} h, {length(page.meters)}{unmeasured}"),
        ("Bobbins", f"{page.bobbins} loaded" if page.bobbins else ""),
        ("Needles", ", ".join(page.needles)),
        ("Breaks", f"{page.breaks} in {so_many(page.troubles, 'trouble')}" if page.troubles else "none on record"),
    ]
    threads = [f"{t.name}, {t.words}{', below' if t.below else ''}: {figure(t.hours, 1)} h" for t in page.threads]
    settings = [
        f"{s.machine}: {s.top} over {s.bobbin or '–'}, {s.needle or '–'}: top {s.set_to}"
        f"{f', bobbin {pull(s.bobbin_mn)}' if s.bobbin_mn is not None else ''}, {s.look}"
        f"{f' (saved as {s.kept})' if s.kept else ''}"
        for s in page.settings
    ]
    sections = [
        Section(head="Threads", lines=threads),
        Section(head="Settings", lines=settings),
        Section(head="Test cloths", lines=[f"cloth {c.number}, {c.machine}" for c in page.cloths]),
        Section(head="Notes", lines=[text for text in dict.fromkeys((page.note, *page.notes)) if text]),
    ]
    return report(
        name,
        f"Printed {day_in_words(now, zone)}",
        numbers=numbers,
        sections=sections,
        foot="From the log of the workshop.",
        paper=paper,
    )
