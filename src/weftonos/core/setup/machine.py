"""A machine: the head, what it takes, and the scales it is read on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from weftonos.core.bobbin.target import BobbinTarget, usual_target
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.kernel.errors import require_between, require_text
from weftonos.core.kernel.force import ForceUnit
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.schools import (
    BobbinSchool,
    LifeSchool,
    MachineKind,
    NumberSchool,
    School,
    Schools,
    check_choices,
)
from weftonos.core.kernel.standing import Standing
from weftonos.core.needle.needle import Shank
from weftonos.core.thread.path import USUAL_PATH, PathPoint, check_path


@dataclass(frozen=True, kw_only=True)
class Machine:
    """A machine as its owner describes it. ``throat_in`` is in inches, ``own_bobbin`` a range in mN.

    ``choices`` are the sides taken in what the schools disagree on, by question; left out, the head's default stands.
    ``has_gauge`` and ``removable_case`` are ``None`` where nobody has said: then both ways stay open. ``retired``: it
    is no longer in use; its records stay, and nothing new is noted on it. ``reader``: whose practiced eye and hand are
    at this machine; empty where nobody's is to count.
    """

    nickname: str
    kind: MachineKind
    scale: TopScale
    throat_in: float | None = None
    school: School | None = None
    shank: Shank | None = None
    needle_system: str = ""
    gauge_unit: ForceUnit = ForceUnit.MN
    own_bobbin: BobbinTarget | None = None
    life_school: LifeSchool = LifeSchool.HOURS
    bobbin_school: BobbinSchool = BobbinSchool.FINER
    path: tuple[PathPoint, ...] | None = None
    number_school: NumberSchool = NumberSchool.ONE
    has_gauge: bool | None = None
    removable_case: bool | None = None
    retired: bool = False
    choices: Mapping[str, str] = field(default_factory=dict)
    reader: str = ""

    def __post_init__(self) -> None:
        require_text(self.nickname, 40, "The machine's name", "nickname")
        require_text(self.needle_system, 40, "The needle system", "needle_system", empty=True)
        if self.throat_in is not None:
            require_between(value=self.throat_in, low=4, high=60, what="The throat", field="throat_in", unit="in")
        if self.path is not None:
            check_path(self.path)
        check_choices(self.choices)
        require_text(self.reader, 40, "Whose eye it is", "reader", empty=True)

    @property
    def schools(self) -> Schools:
        """The sides its owner has taken, whichever place they stand in."""
        own = {
            "life": self.life_school.value,
            "bobbin": self.bobbin_school.value,
            "number": self.number_school.value,
            "size_school": self.size_school.value,
        }
        return Schools(self.kind, {**self.choices, **own})

    @property
    def size_school(self) -> School:
        """The chosen school of needle size; by default that of the head."""
        return self.school or School(self.kind.value)

    @property
    def thread_path(self) -> tuple[PathPoint, ...]:
        """The owner's path, else the usual one for the head."""
        return self.path if self.path is not None else USUAL_PATH[self.kind]

    @property
    def usual_bobbin(self) -> BobbinClass:
        """The class of bobbin such a head usually takes (common practice)."""
        return BobbinClass.CLASS_15 if self.kind is MachineKind.HOME else BobbinClass.M

    @property
    def drops_in(self) -> bool:
        """Whether the bobbin drops into the machine, so that there is no case to read, hang or feel."""
        return self.removable_case is False

    @property
    def takes_shank(self) -> Shank:
        """The shank it clamps; by default round on a longarm, flat on a home machine."""
        return self.shank or (Shank.ROUND if self.kind is MachineKind.LONGARM else Shank.FLAT)

    def bobbin_target(self, learned: BobbinTarget | None = None) -> BobbinTarget | None:
        """Return the range to be in: the owner's own, else the learned one, else the usual one, else none."""
        if self.own_bobbin:
            return BobbinTarget(
                low=self.own_bobbin.low, high=self.own_bobbin.high, origin="your own", standing=Standing.OWN_RECORDS
            )
        return learned or usual_target(self.kind, self.throat_in)
