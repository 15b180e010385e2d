"""A machine: the head, what it takes, and the scales it is read on."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from weftonos.core.bobbin.target import BobbinTarget, usual_target
from weftonos.core.bobbin.thread_use import BobbinClass
from weftonos.core.kernel.errors import CraftError, require_between, require_text
from weftonos.core.kernel.feature import Feature
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
from weftonos.core.thread.guide import FULL_HOLES
from weftonos.core.thread.path import PathPoint, check_path, usual_path


@dataclass(frozen=True, kw_only=True)
class Machine:
    """A machine as its owner describes it. ``throat_in`` is in inches, ``own_bobbin`` a range in mN.

    ``choices`` are the sides taken in what the schools disagree on, by question; left out, the head's default stands.
    ``has_gauge``, ``removable_case``, ``on_frame``, ``regulator`` and ``break_sensor`` are ``None`` where nobody has
    said: then what such a head usually has may be there. ``guide_holes`` are those of the guide before the discs, 0
    where there is none. ``gauge_unit`` is ``None`` until the first reading shows what the gauge is marked in.
    ``retired``: it is no longer in use; its records stay, and nothing new is noted on it. ``reader``: whose practiced
    eye and hand are at this machine; empty where nobody's is to count.
    """

    nickname: str
    kind: MachineKind
    scale: TopScale
    throat_in: float | None = None
    school: School | None = None
    shank: Shank | None = None
    needle_system: str = ""
    gauge_unit: ForceUnit | None = ForceUnit.MN
    own_bobbin: BobbinTarget | None = None
    life_school: LifeSchool = LifeSchool.HOURS
    bobbin_school: BobbinSchool = BobbinSchool.FINER
    path: tuple[PathPoint, ...] | None = None
    number_school: NumberSchool = NumberSchool.ONE
    has_gauge: bool | None = None
    removable_case: bool | None = None
    on_frame: bool | None = None
    regulator: bool | None = None
    break_sensor: bool | None = None
    guide_holes: int | None = None
    retired: bool = False
    choices: Mapping[str, str] = field(default_factory=dict)
    reader: str = ""

    def __post_init__(self) -> None:
        require_text(self.nickname, 40, "The machine's name", "nickname")
        require_text(self.needle_system, 40, "The needle system", "needle_system", empty=True)
        if self.throat_in is not None:
            require_between(value=self.throat_in, low=4, high=60, what="The throat", field="throat_in", unit="in")
        if self.kind is MachineKind.HOME and self.on_frame:
            raise CraftError(
                "A domestic machine sews on a table here. Is it a longarm on a frame? Then choose that.", "on_frame"
            )
        if self.guide_holes is not None:
            require_between(
                value=self.guide_holes, low=0, high=FULL_HOLES, what="The number of guide holes", field="guide_holes"
            )
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
    def features(self) -> frozenset[Feature]:
        """What it has, or may have where nobody has said: what advice may speak of."""
        longarm = self.kind is MachineKind.LONGARM
        frame = longarm and self.on_frame is not False
        case = not self.drops_in
        names = " ".join(point.name.lower() for point in self.thread_path)
        said = {
            Feature.LONGARM: longarm,
            Feature.DOMESTIC: not longarm,
            Feature.FRAME: frame,
            Feature.TABLE: not frame,
            Feature.SIT_DOWN: longarm and not frame,
            Feature.CASE: case,
            Feature.DROP_IN: not case,
            Feature.GAUGE: case and self.has_gauge is not False,
            Feature.BY_HAND: case and self.has_gauge is False,
            Feature.ROUND_SHANK: self.takes_shank is Shank.ROUND,
            Feature.FLAT_SHANK: self.takes_shank is Shank.FLAT,
            Feature.REGULATOR: frame if self.regulator is None else self.regulator,
            Feature.BREAK_SENSOR: frame if self.break_sensor is None else self.break_sensor,
            Feature.HOLE_GUIDE: "hole" in names and "guide" in names,
            Feature.CHECK_SPRING: "check spring" in names,
        }
        return frozenset(feature for feature, there in said.items() if there)

    @property
    def thread_path(self) -> tuple[PathPoint, ...]:
        """The owner's path, else the usual one for the head."""
        return self.path if self.path is not None else usual_path(self.kind, self.guide_holes)

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
