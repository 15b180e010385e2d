"""Every number the answers rest on, with its standing: read from the code, so that none can be left out."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, fields, is_dataclass
from enum import Enum, StrEnum
from functools import cache
from types import ModuleType

from weftonos.core.kernel.standing import Known


class FigureSubject(StrEnum):
    """What a group of figures is about: the packages of the core, in working order."""

    KERNEL = "kernel"
    THREAD = "thread"
    NEEDLE = "needle"
    BOBBIN = "bobbin"
    SETUP = "setup"
    BALANCE = "balance"
    MEND = "mend"
    PLAN = "plan"
    LOG = "log"
    EVIDENCE = "evidence"


#: What two figures in a row are: the ends of a range.
ENDS = ("from", "to")


@dataclass(frozen=True, kw_only=True)
class Figure:
    """A figure by its constant, which ``key`` of several it is, and which ``part`` or end of that."""

    constant: str
    known: Known
    key: str = ""
    part: str = ""

    @property
    def name(self) -> str:
        """Its name in one: ``"weights: show, from"``."""
        return self.constant + (f": {self.key}" if self.key else "") + (f", {self.part}" if self.part else "")


@cache
def figures() -> Mapping[FigureSubject, tuple[Figure, ...]]:
    """Return every :class:`Known` of the core by its subject, named after its constant; each stands once."""
    seen: set[int] = set()
    found = {}
    for subject in FigureSubject:
        package = importlib.import_module(f"weftonos.core.{subject}")
        names = [f"{package.__name__}.{module.name}" for module in pkgutil.iter_modules(package.__path__)]
        modules = [importlib.import_module(name) for name in names]
        listed = []
        for figure in (figure for module in modules for figure in _in_module(module)):
            if id(figure.known) not in seen:
                seen.add(id(figure.known))
                listed.append(figure)
        found[subject] = tuple(listed)
    return found


def _in_module(module: ModuleType) -> Iterator[Figure]:
    # Public constants first: a private one is often the same figure on its way into a public table.
    for name, value in sorted(vars(module).items(), key=lambda item: item[0].startswith("_")):
        if name.strip("_").isupper():
            yield from _within(_words(name), "", "", value)


def _within(constant: str, key: str, part: str, value: object) -> Iterator[Figure]:
    if isinstance(value, Known):
        yield Figure(constant=constant, known=value, key=key, part=part)
    elif isinstance(value, Mapping):
        for each, inner in value.items():
            yield from _within(constant, _words(each), part, inner)
    elif isinstance(value, tuple):
        ends = ENDS if len(value) == len(ENDS) else [str(n) for n in range(1, len(value) + 1)]
        for end, inner in zip(ends, value, strict=True):
            yield from _within(constant, key, end, inner)
    elif is_dataclass(value) and not isinstance(value, type):
        for field in fields(value):
            yield from _within(constant, key, _words(field.name), getattr(value, field.name))


def _words(name: object) -> str:
    if is_dataclass(name) and not isinstance(name, type):
        return " ".join(dict.fromkeys(_words(getattr(name, field.name)) for field in fields(name)))
    plain = name.value if isinstance(name, Enum) else name
    return str(plain).strip("_").lower().replace("_", " ")
