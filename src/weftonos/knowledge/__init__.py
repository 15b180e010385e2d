"""The trade's knowledge that is kept as data: what goes wrong, what it shows, and what to look at."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import Feature, Needs
from weftonos.core.kernel.procedures import Procedures, ProceduresPage
from weftonos.core.mend.trouble import Knowledge, TroublesPage

TROUBLES = Path(__file__).parent / "troubles.toml"
PROCEDURES = Path(__file__).parent / "procedures.toml"
COLUMNS = Path(__file__).parent / "columns.toml"
FIGURES = Path(__file__).parent / "figures.toml"


def read_troubles(page: str) -> Knowledge:
    """Return the knowledge of troubles from a page in the form of ``troubles.toml``.

    Raises :class:`CraftError` with a sentence that names the entry for anything that does not hold together.
    """
    try:
        document = tomllib.loads(page)
        return TypeAdapter(TroublesPage).validate_python(document).knowledge()
    except tomllib.TOMLDecodeError as error:
        raise CraftError(f"The page of troubles is not TOML: {error}.") from None
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise CraftError(f"In the page of troubles, {where}: {first['msg']}.") from None


@cache
def troubles() -> Knowledge:
    """Return the knowledge of troubles that ships with the program."""
    return read_troubles(TROUBLES.read_text(encoding="utf-8"))


@cache
def procedures() -> Procedures:
    """Return the procedures, help and words that ship with the program."""
    return TypeAdapter(ProceduresPage).validate_python(tomllib.loads(PROCEDURES.read_text(encoding="utf-8"))).read()


@dataclass(frozen=True)
class Column:
    """What a column of an exported table holds, and its unit."""

    says: str
    unit: str = ""


@dataclass(frozen=True)
class Columns:
    """What the columns hold that every record has first, and those of the fields of documents, by their names."""

    first: dict[str, Column]
    field: dict[str, Column]


@cache
def columns() -> Columns:
    """Return what the columns of exported tables hold."""
    return TypeAdapter(Columns).validate_python(tomllib.loads(COLUMNS.read_text(encoding="utf-8")))


@dataclass(frozen=True)
class FigureLabel:
    """What a number is called, and what a machine must have for it to be told."""

    says: str
    needs: Needs = ()


@dataclass(frozen=True)
class FigureLabels:
    """What numbers are called, by subject and constant, and which ones below 1 are no shares."""

    labels: Mapping[str, Mapping[str, FigureLabel]]
    decimals: Sequence[str]


@cache
def figure_labels() -> FigureLabels:
    """Return what the numbers are called that answers rest on."""
    page = tomllib.loads(FIGURES.read_text(encoding="utf-8"))
    decimals = page.pop("decimals")
    labels = {subject: {name: _label(each) for name, each in named.items()} for subject, named in page.items()}
    return FigureLabels(labels, decimals)


def _label(entry: str | Mapping[str, Any]) -> FigureLabel:
    if isinstance(entry, str):
        return FigureLabel(entry)
    return FigureLabel(entry["says"], tuple(map(Feature, entry["needs"])))
