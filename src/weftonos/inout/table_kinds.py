"""What the rows of a table can be, what its columns are commonly called, and what a table most likely is."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from dataclasses import field as with_default
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


#: Spellings and short forms of headings, as this page says them.
_SPOKEN = {
    "colour": "color",
    "fibre": "fiber",
    "metres": "meters",
    "metre": "meter",
    "number": "no",
    "#": "no",
    "&": "and",
    "upper": "top",
}


def _plain(head: str) -> str:
    """Return a column's name without its unit and marks, in one spelling.

    >>> _plain("Brand/Name"), _plain("# of breaks"), _plain("Fibre?")
    ('brand name', 'no of breaks', 'fiber')
    """
    words = re.findall(r"[\w.]+|[#&]", re.sub(r"\(.*?\)|\[.*?\]", " ", head.lower()))
    return " ".join(_SPOKEN.get(word := each.strip("."), word) for each in words).strip()


def _wanted(field: str, name: str, called: str = "", *, needed: bool = False) -> Wanted:
    """Return a column; what it is commonly called stands between bars."""
    names = tuple(map(_plain, (field, name, *filter(None, called.split("|")))))
    return Wanted(field=field, name=name, called=names, needed=needed)


_WHEN = _wanted("at", "When", "date|day|datum|date time|noted|on|time")
_CLOCK = _wanted("clock", "Time of day", "clock|time|start|started|begun")
_MACHINE = _wanted("machine", "Machine", "longarm")
_NOTE = _wanted("note", "Note", "notes|comment|remarks")
_UNIT = _wanted("unit", "Unit of the gauge")
COLUMNS: Mapping[TableKind, tuple[Wanted, ...]] = {
    TableKind.THREADS: (
        _wanted("name", "Name", "thread|thread name|title|brand name|brand and name|thread brand|article"),
        _wanted("label", "Label", "label text|label_text|thread label|weight|wt|size", needed=True),
        _wanted("fiber", "Fiber", "material|made of|content|thread.fiber"),
        _wanted("color", "Color", "shade|color name"),
        _wanted("line", "Line", "range"),
        _wanted("length_m", "Length", "meters|meter|yards|yard|yd|yds|yardage"),
        _wanted("price", "Price", "cost|paid"),
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
        _wanted("bought", "How many", "count|quantity|number|no of needles|pieces|pcs|qty|amount|bought"),
        _wanted("price", "Price of one", "price|cost"),
    ),
    TableKind.RUNS: (
        replace(_WHEN, needed=True),
        _wanted("minutes", "Minutes", "min|mins|duration|stitching time|sewing time|time sewn|sewn|sewed|time spent"),
        _wanted("hours", "Hours", "h|hrs|hour"),
        _wanted("meters", "Stitched length", "meters|meter|length|yards|yard|yd|yds|m"),
        _wanted("quilt", "Quilt", "project"),
        _wanted("breaks", "Breaks", "thread breaks|broken|no of breaks"),
        _CLOCK,
        _MACHINE,
    ),
    TableKind.READINGS: (
        replace(_WHEN, needed=True),
        _wanted("pulls", "Pulls", "reading|bobbin tension|tension|mean|mean_mn|value|pull 1|first pull", needed=True),
        *(
            _wanted(f"pulls_{n}", f"Pull {n}", f"reading {n}|tension {n}|{word} pull")
            for n, word in enumerate(("second", "third", "fourth", "fifth", "sixth"), 2)
        ),
        _wanted("case", "Case", "bobbin case"),
        _UNIT,
        _CLOCK,
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
        _CLOCK,
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
    for wanted in COLUMNS[kind]:
        for called in wanted.called:
            hit = next((n for n, head in enumerate(heads) if head == called and n not in taken.values()), None)
            if hit is not None:
                taken.setdefault(wanted.field, hit)
    # Then words within them, the last first: "thread weight" is a weight.
    within = [
        (-head.endswith(called), -len(called), order, column)
        for column, head in enumerate(heads)
        for order, wanted in enumerate(COLUMNS[kind])
        for called in wanted.called
        if f" {called} " in f" {head} "
    ]
    for _, _, order, column in sorted(within):
        field = COLUMNS[kind][order].field
        if field not in taken and column not in taken.values():
            taken[field] = column
    if kind is TableKind.RUNS and "clock" in taken and not {"minutes", "hours"} & taken.keys():
        # A run without a stitching time is none: the time beside its date is that.
        taken["minutes"] = taken.pop("clock")
    return taken


@dataclass(frozen=True, kw_only=True)
class Choices:
    """How a table is to be read: what it holds, which column is what, and what its cells leave open.

    ``machine`` is the number of the machine for rows that name none; ``zone`` the time zone of moments without one.
    ``keep_twins`` saves rows that say the same as one above them. ``answers`` says which reading is meant of labels
    that can be read in several ways, by the label; with ``likeliest`` the first is taken where none is named.
    """

    kind: TableKind
    columns: Mapping[str, int]
    machine: int | None = None
    decimal_comma: bool = False
    day_first: bool = True
    zone: str = "UTC"
    unit: ForceUnit = ForceUnit.MN
    lengths: LengthUnits = LengthUnits.METRIC
    keep_twins: bool = False
    answers: Mapping[str, int] = with_default(default_factory=dict)
    likeliest: bool = False
