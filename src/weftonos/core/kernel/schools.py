"""Where practitioners disagree: the schools, what each picks, and why.

The user chooses a school for each subject; the answer always shows what the other school would say.
"""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cache
from importlib.resources import files

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.standing import Known, estimate


class MachineKind(StrEnum):
    """What the sewing head is."""

    LONGARM = "longarm"
    HOME = "home"


class School(StrEnum):
    """A school of needle choice."""

    HOME = "home"
    LONGARM = "longarm"


@dataclass(frozen=True)
class SizeSchool:
    """How a school picks the size: the fill it aims at, and why."""

    school: School
    aim: Known
    why: str

    @property
    def other(self) -> School:
        """The other school."""
        return School.LONGARM if self.school is School.HOME else School.HOME


class LifeSchool(StrEnum):
    """A school of when to change the needle."""

    HOURS = "hours"
    PROJECT = "project"
    COATED = "coated"
    CONDITION = "condition"
    POINT = "point"


class BobbinSchool(StrEnum):
    """A school of what goes below."""

    SAME = "same"
    FINER = "finer"


class NumberSchool(StrEnum):
    """A school of the bobbin's number."""

    ONE = "one"
    BY_PURPOSE = "by_purpose"


@dataclass(frozen=True)
class Side:
    """One side of a question, with its reason."""

    id: str
    name: str
    why: str


@dataclass(frozen=True, kw_only=True)
class Question:
    """What practitioners disagree on: the sides, and what each kind of head takes unless its owner says otherwise.

    ``field`` names the machine's own place for the answer, where it has one.
    """

    id: str
    asks: str
    sides: tuple[Side, ...]
    default: Mapping[MachineKind, str]
    field: str = ""

    def side(self, name: str) -> Side:
        """Return one side; raises :class:`CraftError` for a side there is not."""
        found = next((side for side in self.sides if side.id == name), None)
        if found is None:
            known = " or ".join(side.id for side in self.sides)
            raise CraftError(f"“{name}” is not an answer to “{self.asks}” Known: {known}.", "choices")
        return found


def read_schools(page: str) -> dict[str, Question]:
    """Return the questions of a page in the form of ``schools.toml``, by their ids.

    Raises :class:`CraftError` for a default that is no side, and for two questions of one name.
    """
    try:
        raw = tomllib.loads(page).get("question", [])
    except tomllib.TOMLDecodeError as error:
        raise CraftError(f"The page of choices is not TOML: {error}.") from None
    found: dict[str, Question] = {}
    for each in raw:
        default = each["default"]
        by_kind = {kind: default if isinstance(default, str) else default[kind.value] for kind in MachineKind}
        question = Question(
            id=each["id"],
            asks=each["asks"],
            sides=tuple(Side(side["id"], side["name"], side["why"]) for side in each["side"]),
            default=by_kind,
            field=each.get("field", ""),
        )
        for side in by_kind.values():
            question.side(side)
        if question.id in found:
            raise CraftError(f"In the page of choices, {question.id}: there are two of it.")
        found[question.id] = question
    return found


@cache
def questions() -> dict[str, Question]:
    """Return the questions of the page that ships with the program, by their ids."""
    return read_schools((files("weftonos") / "knowledge" / "schools.toml").read_text(encoding="utf-8"))


def reasons_of(question: str) -> dict[str, str]:
    """Return the reason of each side of a question."""
    return {side.id: side.why for side in questions()[question].sides}


@dataclass(frozen=True)
class Schools:
    """The sides a machine's owner has chosen, by question; what is not chosen is the default of the head.

    ``by_records`` says of sides that one's own records have settled how they did.
    """

    kind: MachineKind
    chosen: Mapping[str, str] = field(default_factory=dict)
    by_records: Mapping[str, str] = field(default_factory=dict)

    def takes(self, question: str) -> str:
        """Return the side that is taken."""
        return self.chosen.get(question) or questions()[question].default[self.kind]

    def settled(self, question: str, side: str, why: str) -> Schools:
        """Return these with one side taken because one's own records say so."""
        return Schools(self.kind, {**self.chosen, question: side}, {**self.by_records, question: why})

    def said(self, question: str) -> bool:
        """Say whether the owner chose a side, rather than left it to the default."""
        return question in self.chosen

    def side(self, question: str) -> Side:
        """Return the side that is taken, with its reason."""
        return questions()[question].side(self.takes(question))


def check_choices(chosen: Mapping[str, str]) -> None:
    """Raise :class:`CraftError` for a question or a side that the page does not have."""
    for name, side in chosen.items():
        if name not in questions():
            raise CraftError(f"There is no question “{name}” among the choices.", "choices")
        questions()[name].side(side)


SIZE_SCHOOLS = {
    school: SizeSchool(school, aim, reasons_of("size_school")[school.value])
    for school, aim in (
        (School.HOME, estimate(0.50, "", "to match the home machines' chart")),
        (School.LONGARM, estimate(0.42, "", "to match the longarms' chart")),
    )
}
BOBBIN_SCHOOLS = {BobbinSchool(side): why for side, why in reasons_of("bobbin").items()}
