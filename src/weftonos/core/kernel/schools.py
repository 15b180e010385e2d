"""Where practitioners disagree: the schools, what each picks, and why.

The user chooses a school for each subject; the answer always shows what the other school would say.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

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


SIZE_SCHOOLS = {
    School.HOME: SizeSchool(
        School.HOME,
        estimate(0.50, "", "to reproduce the home school's chart"),
        "A thread that fills half the groove is held straight, and the hole stays small.",
    ),
    School.LONGARM: SizeSchool(
        School.LONGARM,
        estimate(0.42, "", "to reproduce the longarm school's chart"),
        "The large head flexes and runs fast in every direction: a stiffer needle with more room in the groove.",
    ),
}


class LifeSchool(StrEnum):
    """A school of when to change the needle."""

    HOURS = "hours"
    PROJECT = "project"
    COATED = "coated"
    CONDITION = "condition"


class BobbinSchool(StrEnum):
    """A school of what goes below."""

    SAME = "same"
    FINER = "finer"


BOBBIN_SCHOOLS = {
    BobbinSchool.SAME: "The same thread on both sides: easiest to balance, and it hides small faults.",
    BobbinSchool.FINER: "A finer bobbin thread, 60 to 80 wt: more on a bobbin, less bulk, sinks into the back.",
}


class NumberSchool(StrEnum):
    """A school of the bobbin's number."""

    ONE = "one"
    BY_PURPOSE = "by_purpose"


NUMBER_SCHOOLS = {
    NumberSchool.ONE: "One number for every thread: the top does the rest, and a reading off it is a fault to find.",
    NumberSchool.BY_PURPOSE: "Looser for metallic and other delicate thread, so that the top may be looser too.",
}
