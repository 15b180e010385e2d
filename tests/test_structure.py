"""How the project is built, where a linter of the registries does not look."""

from __future__ import annotations

import ast
import importlib
import pkgutil
import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import get_args

import pytest

import weftonos.api
import weftonos.core
from weftonos.core.figures import figures
from weftonos.core.kernel.force import MN_PER_GF
from weftonos.core.kernel.standing import Known
from weftonos.store.documents import FORMS

ROOT = Path(__file__).parent.parent
SOURCES = sorted((ROOT / "src" / "weftonos").rglob("*.py"))
BROWSER = sorted(
    p for p in (ROOT / "web" / "src").rglob("*") if p.suffix in (".ts", ".vue") and p.name != "schema.d.ts"
)
FLOORS = {"api", "http", "runtime", "inout", "stations", "learned", "store", "exchange"}
OUTSIDE_CORE = [p for p in SOURCES if FLOORS & set(p.parts)] + BROWSER


def named(path: Path) -> str:
    return str(path.relative_to(ROOT))


def core_modules() -> Iterator[str]:
    return (m.name for m in pkgutil.walk_packages(weftonos.core.__path__, "weftonos.core."))


def distinctive_numbers() -> dict[str, str]:
    """Figures of the core with three digits that say something, as they would be written elsewhere."""
    found = {}
    for group in figures().values():
        for figure in group:
            text = f"{figure.known.value:g}"
            if len(re.sub(r"^0\.|[.]|^0+|0+$", "", text)) >= 3:
                found[text] = figure.name
    # Two digits and yet the craft's own: limits of the groove's fit, the 95 in 100 of an interval.
    return {
        **found,
        "9.80665": "mN per gf",
        "9.807": "mN per gf",
        "0.62": "groove",
        "0.27": "groove",
        "1.96": "interval",
    }


@pytest.mark.parametrize("path", OUTSIDE_CORE, ids=named)
def test_no_number_of_the_craft_stands_outside_the_core(path):
    # Colors, sizes on the screen and versions are not the craft's: numbers with a decimal point are looked at.
    code = re.sub(r"#[0-9a-fA-F]{3,8}\b|<path[^>]*>|\bd=\"[^\"]*\"", "", path.read_text(encoding="utf-8"))
    written = set(re.findall(r"(?<![\w.])\d*\.\d+(?![\w.%]|rem|px|em)", code))
    craft = {n: name for n, name in distinctive_numbers().items() if "." in n}
    assert not {n: craft[n] for n in written & craft.keys()}


def test_the_scan_would_find_them():
    assert {"0.62", "0.27", "1.96", "9.80665"} <= distinctive_numbers().keys()
    assert MN_PER_GF.value == pytest.approx(9.80665)


def test_every_number_of_the_core_is_listed_with_its_standing():
    listed = {id(figure.known) for group in figures().values() for figure in group}
    everywhere: dict[int, str] = {}

    def look(value: object, where: str) -> None:
        if isinstance(value, Known):
            everywhere[id(value)] = where
        elif isinstance(value, dict):
            for inner in value.values():
                look(inner, where)
        elif isinstance(value, (tuple, list, frozenset)):
            for inner in value:
                look(inner, where)
        elif is_dataclass(value) and not isinstance(value, type):
            for field in fields(value):
                look(getattr(value, field.name), where)

    for name in core_modules():
        for constant, value in vars(importlib.import_module(name)).items():
            look(value, f"{name}.{constant}")
    assert len(everywhere) > 100
    assert not {where for number, where in everywhere.items() if number not in listed}


def test_a_figure_stands_in_one_place_and_says_where_it_comes_from():
    for group in figures().values():
        for figure in group:
            assert figure.name.strip()
            assert figure.known.standing.value != "published" or figure.known.source, figure.name


@pytest.mark.parametrize("path", [p for p in SOURCES if "migrations" not in p.parts], ids=named)
def test_no_call_has_so_many_places_that_a_swap_is_not_seen(path):
    calls = [n for n in ast.walk(ast.parse(path.read_text(encoding="utf-8"))) if isinstance(n, ast.Call)]
    # What takes any number of like things is no list of places.
    many = {"Literal", "Index", "select", "where", "order_by", "with_only_columns", "columns", "options", "join", "max"}
    many |= {"min", "isinstance", "range", "hypot", "case", "coalesce", "union_all", "Path", "joinpath", "zip", "chain"}

    def name(call: ast.Call) -> str:
        return getattr(call.func, "attr", getattr(call.func, "id", ""))

    found = [f"{name(c)} in line {c.lineno}" for c in calls if len(c.args) > 5 and name(c) not in many]
    assert not found


def test_dataclasses_of_four_fields_are_made_by_keyword():
    for name in core_modules():
        module = importlib.import_module(name)
        for made in vars(module).values():
            if not (isinstance(made, type) and is_dataclass(made) and made.__module__ == name):
                continue
            places = [f for f in fields(made) if f.init and not f.kw_only and f.name != "kind"]
            assert len(places) < 4, made


@pytest.mark.parametrize("path", SOURCES, ids=named)
def test_dates_are_formatted_in_a_way_that_every_system_knows(path):
    assert not re.search(r"%-[a-zA-Z]", path.read_text(encoding="utf-8"))


def test_routes_do_not_call_routes():
    shared = {f"weftonos.api.{name}" for name in ("context", "paper", "problems", "queries", "schemas", "strict")}
    for path in (ROOT / "src/weftonos/api").glob("*.py"):
        if path.stem != "app":
            taken = re.findall(r"^from (weftonos\.api[\w.]*) import", path.read_text(encoding="utf-8"), re.M)
            assert set(taken) <= shared, path


def test_a_rule_is_found_by_its_place():
    packages = {p.name for p in (ROOT / "src/weftonos/core").iterdir() if (p / "__init__.py").exists()}
    order = ("kernel", "thread", "needle", "bobbin", "setup", "balance", "mend", "plan", "log", "line", "evidence")
    assert packages == set(order)
    assert not packages & {"utils", "common", "helpers", "misc"}


def test_a_name_has_one_meaning():
    """No public class stands twice, and no public constant that one module could take from another by mistake."""
    classes: dict[str, list[str]] = {}
    for path in SOURCES:
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
                classes.setdefault(node.name, []).append(named(path))
    assert not {name: places for name, places in classes.items() if len(places) > 1}


def test_no_station_asks_another_and_nothing_lies_loose():
    loose = {p.stem for p in (ROOT / "src/weftonos").glob("*.py")} - {"__init__"}
    assert loose == {"cli"}
    stations = ROOT / "src/weftonos/stations"
    for path in stations.rglob("*.py"):
        # A station is a module, or a package of its own.
        own = path.relative_to(stations).parts[0].removesuffix(".py")
        asked = re.findall(r"^from weftonos\.stations\.(\w+)", path.read_text(encoding="utf-8"), re.M)
        assert set(asked) <= {own}, named(path)


@pytest.mark.parametrize("path", [p for p in SOURCES if "migrations" not in p.parts], ids=named)
def test_no_query_looks_into_a_document(path):
    """Fields are renamed by a lift (``store/documents.py``); a query that names one would find nothing any more."""
    assert not re.search(r"json_(extract|valid|each|set|tree)", path.read_text(encoding="utf-8"))


def test_every_body_is_asked_in_one_way():
    """A body is a record, or a frozen dataclass by keyword beside the act that takes it; never a model of the web."""
    records = {form.shape for form in FORMS.values()}
    seen = 0
    modules = [importlib.import_module(f"weftonos.api.{m.name}") for m in pkgutil.iter_modules(weftonos.api.__path__)]
    for route in [route for module in modules if hasattr(module, "router") for route in module.router.routes]:
        body = getattr(route, "body_field", None)
        for asked in (get_args(body.field_info.annotation) or [body.field_info.annotation]) if body else ():
            if asked in records or asked in (type(None), bytes, str):
                continue
            seen += 1
            assert is_dataclass(asked), asked
            assert asked.__dataclass_params__.frozen, asked
            assert all(each.kw_only for each in fields(asked)), asked
    assert seen > 45
