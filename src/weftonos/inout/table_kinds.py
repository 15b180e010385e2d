"""What the rows of a table can be, what its columns are commonly called, and what a table most likely is."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.spoken import LengthUnits
from weftonos.exchange.spreadsheet import Table


class TableKind(StrEnum):
    """What the rows of a table can be."""

    THREADS = "threads"
    NEEDLES = "needles"
    RUNS = "runs"
    READINGS = "readings"
    RECIPES = "recipes"
    UPKEEP = "upkeep"


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """A column that a kind of table can have: its field, its name on screen, and what it is commonly called."""

    field: str
    name: str
    called: tuple[str, ...]
    needed: bool = False


def _wanted(field: str, name: str, called: str = "", *, needed: bool = False) -> Wanted:
    """Return a column; what it is commonly called stands between bars."""
    names = (field, name.lower(), *filter(None, called.split("|")))
    return Wanted(field=field, name=name, called=names, needed=needed)


_WHEN = _wanted("at", "When", "date|day|time|datum|date time|noted|on")
_MACHINE = _wanted("machine", "Machine", "longarm")
_NOTE = _wanted("note", "Note", "notes|comment|remarks")
_UNIT = _wanted("unit", "Unit of the gauge")
COLUMNS: Mapping[TableKind, tuple[Wanted, ...]] = {
    TableKind.THREADS: (
        _wanted("name", "Name", "thread|thread name|title"),
        _wanted("label", "Label", "label text|label_text|thread label|weight|wt", needed=True),
        _wanted("fiber", "Fiber", "fibre|material|thread.fiber|thread.fibre"),
        _wanted("color", "Color", "colour"),
        _wanted("line", "Line", "range"),
        _wanted("length_m", "Length", "meters|metres|yards|yd"),
        _wanted("price", "Price", "cost"),
        _wanted("rating", "Rating", "stars"),
        _wanted("bought", "Bought", "purchased|bought on"),
        _wanted("needle_named", "Maker's needle", "needle"),
        _NOTE,
    ),
    TableKind.NEEDLES: (
        _wanted("size", "Size", "needle size|metric", needed=True),
        _wanted("point", "Point", "type|needle type"),
        _wanted("finish", "Finish", "coating"),
        _wanted("system", "Needle system"),
        _wanted("bought", "How many", "count|quantity|number|pieces|qty"),
        _wanted("price", "Price of one", "price|cost"),
    ),
    TableKind.RUNS: (
        replace(_WHEN, needed=True),
        _wanted("minutes", "Minutes", "min|duration|stitching time"),
        _wanted("hours", "Hours", "h"),
        _wanted("meters", "Stitched length", "meters|metres|length|yards|yd|m"),
        _wanted("quilt", "Quilt", "project"),
        _wanted("breaks", "Breaks", "thread breaks|broken"),
        _MACHINE,
    ),
    TableKind.READINGS: (
        replace(_WHEN, needed=True),
        _wanted("pulls", "Pulls", "reading|bobbin tension|tension|mean|mean_mn|value", needed=True),
        _wanted("case", "Case", "bobbin case"),
        _UNIT,
        _MACHINE,
        _NOTE,
    ),
    TableKind.RECIPES: (
        _wanted("name", "Name", "recipe|combination", needed=True),
        _wanted("top_thread", "Top thread", "top|needle thread|upper thread", needed=True),
        _wanted("bobbin_thread", "Bobbin thread", "lower thread"),
        _wanted("setting", "Top tension", "setting|tension|dial", needed=True),
        _wanted("needle", "Needle", "needle size"),
        _wanted("bobbin_mn", "Bobbin reading", "bobbin|bobbin tension|gauge"),
        _UNIT,
        _wanted("motion", "Motion", "how it was sewn"),
        _wanted("look", "Looked", "look|grade|stitch"),
        _wanted("batting", "Batting", "wadding"),
        _WHEN,
        _MACHINE,
        _NOTE,
    ),
    TableKind.UPKEEP: (
        replace(_WHEN, needed=True),
        _wanted("what", "What was done", "work|task|upkeep|maintenance", needed=True),
        _MACHINE,
        _NOTE,
    ),
}


@dataclass(frozen=True, kw_only=True)
class Guess:
    """What a table is likely to hold, and which column holds which field."""

    kind: TableKind
    columns: Mapping[str, int]


def guess(sheet: Table) -> Guess:
    """Return what a table most likely is, by the names of its columns."""
    found = [Guess(kind=kind, columns=mapping(sheet, kind)) for kind in TableKind]

    def fits(one: Guess) -> tuple[float, float]:
        needed = [w.field for w in COLUMNS[one.kind] if w.needed]
        return sum(name in one.columns for name in needed) / len(needed), len(one.columns) / len(COLUMNS[one.kind])

    return max(found, key=fits)


def mapping(sheet: Table, kind: TableKind) -> dict[str, int]:
    """Return which column holds which field of a kind of table, as far as their names say."""
    heads = [_plain(name) for name in sheet.columns]
    taken: dict[str, int] = {}
    if not sheet.headed:
        return taken
    # Names as they are called first, then words within them: "top thread" is no "thread".
    for exact in (True, False):
        for wanted in COLUMNS[kind]:
            for called in wanted.called:
                free = [n for n, head in enumerate(heads) if n not in taken.values()]
                hit = next(
                    (n for n in free if heads[n] == called or (not exact and called in heads[n].split())),
                    None,
                )
                if wanted.field not in taken and hit is not None:
                    taken[wanted.field] = hit
    return taken


def _plain(head: str) -> str:
    """Return a column's name without its unit and marks."""
    return re.sub(r"\s+", " ", re.sub(r"\(.*?\)|[:*#]", " ", head.lower())).strip()


@dataclass(frozen=True, kw_only=True)
class Choices:
    """How a table is to be read: what it holds, which column is what, and what its cells leave open.

    ``machine`` is the number of the machine for rows that name none; ``zone`` the time zone of moments without one.
    """

    kind: TableKind
    columns: Mapping[str, int]
    machine: int | None = None
    decimal_comma: bool = False
    day_first: bool = True
    zone: str = "UTC"
    unit: ForceUnit = ForceUnit.MN
    lengths: LengthUnits = LengthUnits.METRIC
