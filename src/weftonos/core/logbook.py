"""The logbook: what can be recorded, and how each record reads.

A record is an event at a machine. What is on the machine now is never stored besides: it is the latest events
that still hold (see :class:`weftonos.core.setup.Setup`).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Literal

from weftonos.core.bobbin_target import BobbinTarget
from weftonos.core.diagnosis import CheckAnswer
from weftonos.core.errors import LONGEST_NOTE, CraftError, require_between, require_text
from weftonos.core.force import ForceUnit
from weftonos.core.gauge import MOST_PULLS, Calmness, Pull, Verdict, read_gauge
from weftonos.core.incident import (
    Incident,
    IncidentAnswer,
    IncidentCheck,
    IncidentOutcome,
    Outcome,
    Preflight,
)
from weftonos.core.needle import NeedleFinish, NeedleSize, Point
from weftonos.core.needle_life import RetireReason
from weftonos.core.sandwich import Motion, Sandwich
from weftonos.core.setup import Setup
from weftonos.core.stitch import GRADES, check_grade
from weftonos.core.top_scale import TopScale
from weftonos.core.upkeep import UPKEEP_NAMES, Upkeep

#: The longest run there is; a clock that counts more was forgotten.
LONGEST_RUN_H = 16
#: How far a clock may run ahead before a time counts as in the future.
CLOCK_SLACK = timedelta(minutes=5)


@dataclass(frozen=True)
class TopThreaded:
    """One to four threads of the drawer went through the needle, by their ids."""

    top: tuple[int, ...]
    kind: Literal["top_threaded"] = "top_threaded"


@dataclass(frozen=True)
class BobbinLoaded:
    """A bobbin of this thread went into the case; for bobbin work it is the thread to be seen.

    ``case`` and ``item`` are the case and the bobbin of the rack where they are known, ``fill`` from 0 to 1.
    """

    bobbin: int
    bobbin_work: bool = False
    case: int | None = None
    item: int | None = None
    fill: float = 1.0
    kind: Literal["bobbin_loaded"] = "bobbin_loaded"

    def __post_init__(self) -> None:
        require_between(self.fill, 0, 1, "How full the bobbin is", "fill", above_low=True)


@dataclass(frozen=True)
class NeedleFitted:
    """A new needle was fitted, of a needle system and out of a packet of the drawer where they are known."""

    metric: int
    american: int
    point: Point
    finish: NeedleFinish = NeedleFinish.STEEL
    note: str = ""
    system: str = ""
    packet: int | None = None
    kind: Literal["needle_fitted"] = "needle_fitted"

    def __post_init__(self) -> None:
        _ = self.size
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)

    @property
    def size(self) -> NeedleSize:
        """The size as its pair."""
        return NeedleSize(self.metric, self.american)


@dataclass(frozen=True)
class NeedleRetired:
    """The needle came out, and why; it is not refitted."""

    why: RetireReason
    note: str = ""
    kind: Literal["needle_retired"] = "needle_retired"

    def __post_init__(self) -> None:
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


@dataclass(frozen=True)
class Run:
    """Stitching time on the machine, in minutes, the quilt it was on, and the stitched metres if they are known."""

    minutes: float
    quilt: str = ""
    metres: float | None = None
    kind: Literal["run"] = "run"

    def __post_init__(self) -> None:
        if self.metres is not None:
            require_between(self.metres, 0, 5000, "The stitched length of one run", "metres", "m", above_low=True)
        require_between(
            self.minutes, 0, LONGEST_RUN_H * 60, "Stitching time of one run", "minutes", "min", above_low=True
        )
        require_text(self.quilt, 80, "The quilt's name", "quilt", empty=True)


@dataclass(frozen=True)
class ClockStarted:
    """The stitching clock was started; a later run stops it."""

    quilt: str = ""
    kind: Literal["clock_started"] = "clock_started"

    def __post_init__(self) -> None:
        require_text(self.quilt, 80, "The quilt's name", "quilt", empty=True)


@dataclass(frozen=True)
class SandwichLaid:
    """What is under the needle: top fabric, batting, adhesive."""

    sandwich: Sandwich
    kind: Literal["sandwich"] = "sandwich"


class Method(StrEnum):
    """How a tension was measured as a number."""

    GAUGE = "gauge"
    HANG = "hang"
    TRACE = "trace"


class Phase(StrEnum):
    """Whether a reading was taken before or after a change of bobbin thread."""

    BEFORE_CHANGE = "before_change"
    AFTER_CHANGE = "after_change"


@dataclass(frozen=True)
class ReadingConditions:
    """What a reading was taken under; ``None`` where it was not noted."""

    full_bobbin: bool | None = None
    lying_flat: bool | None = None
    phase: Phase | None = None


class Feel(StrEnum):
    """What a look by hand says of the bobbin."""

    RIGHT = "right"
    LOOSE = "loose"
    TIGHT = "tight"


class HandLook(StrEnum):
    """The two ways without a number."""

    HANG = "hang"
    PALM = "palm"


@dataclass(frozen=True)
class BobbinLook:
    """The plain hang test or the palm test, as a look and not a number."""

    test: HandLook
    feel: Feel
    case: int | None = None
    kind: Literal["bobbin_look"] = "bobbin_look"


@dataclass(frozen=True)
class ScrewTurned:
    """The screw of a case was turned, in minutes of a clock face; above 0 is clockwise and tightens."""

    case: int
    minutes: float
    kind: Literal["screw_turned"] = "screw_turned"

    def __post_init__(self) -> None:
        require_between(abs(self.minutes), 0, 60, "Minutes of one turn of the screw", "minutes", above_low=True)


class Part(StrEnum):
    """A part of the rack that can be at fault."""

    CASE = "case"
    BOBBIN = "bobbin"


@dataclass(frozen=True)
class PartMarked:
    """A case or a bobbin of the rack was found at fault, or found sound again (an empty ``fault``)."""

    part: Part
    id: int
    fault: str
    kind: Literal["part_marked"] = "part_marked"

    def __post_init__(self) -> None:
        require_text(self.fault, 120, "The fault", "fault", empty=True)


@dataclass(frozen=True)
class BobbinReading:
    """The case was pulled on the gauge. Pulls are in ``unit``; mean in mN, swing and verdict as answered then."""

    unit: ForceUnit
    pulls: tuple[Pull, ...]
    mean_mn: float
    swing: float | None
    calmness: Calmness
    verdict: Verdict
    note: str = ""
    case: int | None = None
    method: Method = Method.GAUGE
    conditions: ReadingConditions = field(default_factory=ReadingConditions)
    kind: Literal["bobbin_reading"] = "bobbin_reading"

    def __post_init__(self) -> None:
        if not 1 <= len(self.pulls) <= MOST_PULLS:
            raise CraftError("A reading is one to twenty pulls.", "pulls")
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)

    @classmethod
    def of(
        cls,
        unit: ForceUnit,
        pulls: tuple[Pull, ...],
        target: BobbinTarget | None,
        note: str = "",
        case: int | None = None,
        method: Method = Method.GAUGE,
        conditions: ReadingConditions | None = None,
    ) -> BobbinReading:
        """Judge pulls and return the reading to keep; raises :class:`CraftError` for the wrong unit."""
        answer = read_gauge(unit, pulls, target)
        if answer.verdict is Verdict.CHECK_UNIT:
            raise CraftError(answer.text, "unit")
        return cls(
            unit,
            pulls,
            answer.mean_mn,
            answer.swing,
            answer.calmness,
            answer.verdict,
            note,
            case,
            method,
            conditions or ReadingConditions(),
        )


@dataclass(frozen=True)
class StitchedLook:
    """A stitched step was looked at: the setting it was sewn at, and its grade from -2 to 2.

    ``doubtful`` where the eye was not sure of the grade.
    """

    setting: float
    grade: int
    motion: Motion = Motion.FREE_MOTION
    sandwich: Sandwich = field(default_factory=Sandwich)
    note: str = ""
    doubtful: bool = False
    kind: Literal["look"] = "look"

    def __post_init__(self) -> None:
        check_grade(self.grade)
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


@dataclass(frozen=True)
class Recipe:
    """A combination worth keeping; threads, needle, bobbin number and sandwich stand in the record's set-up.

    ``looks`` is how many graded looks the setting rests on, ``low`` to ``high`` its 95 % interval.
    """

    name: str
    setting: float
    grade: int
    bobbin_mn: float
    motion: Motion = Motion.FREE_MOTION
    note: str = ""
    looks: int = 0
    low: float | None = None
    high: float | None = None
    kind: Literal["recipe"] = "recipe"

    def __post_init__(self) -> None:
        require_text(self.name, 80, "A name for the combination", "name")
        check_grade(self.grade)
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)


Payload = (
    TopThreaded
    | BobbinLoaded
    | NeedleFitted
    | NeedleRetired
    | Run
    | ClockStarted
    | SandwichLaid
    | BobbinReading
    | BobbinLook
    | ScrewTurned
    | PartMarked
    | StitchedLook
    | Recipe
    | Incident
    | IncidentCheck
    | IncidentAnswer
    | IncidentOutcome
    | Preflight
    | Upkeep
)

KIND_NAMES: dict[str, str] = {
    "top_threaded": "Top thread",
    "bobbin_loaded": "Bobbin",
    "needle_fitted": "Needle",
    "needle_retired": "Needle out",
    "run": "Run",
    "clock_started": "Clock",
    "sandwich": "Sandwich",
    "bobbin_reading": "Bobbin reading",
    "bobbin_look": "Bobbin by hand",
    "screw_turned": "Screw",
    "part_marked": "Rack",
    "look": "Stitched look",
    "recipe": "Kept combination",
    "incident": "Trouble",
    "incident_check": "Check",
    "incident_answer": "Question",
    "incident_outcome": "Outcome",
    "preflight": "Before a quilt",
    "upkeep": "Upkeep",
}


def check_time(at: datetime, now: datetime, field: str = "at") -> None:
    """Raise :class:`CraftError` for a time without zone, in the future, or before there were such records."""
    if at.tzinfo is None:
        raise CraftError("The time needs its zone.", field)
    if at > now + CLOCK_SLACK:
        raise CraftError("That date is in the future. Put in when it was done.", field)
    if at.year < 1950:
        raise CraftError("That date is too long ago for this logbook.", field)


def hours_in_words(minutes: float) -> str:
    """Return a time as ``"40 min"`` or ``"1 h 25 min"``."""
    hours, rest = divmod(round(minutes), 60)
    return f"{rest} min" if not hours else f"{hours} h" if not rest else f"{hours} h {rest} min"


_ANSWERS = {
    CheckAnswer.FOUND: "found",
    CheckAnswer.NOT_IT: "not it",
    CheckAnswer.CANNOT_TELL: "cannot tell",
    CheckAnswer.SKIPPED: "skipped",
}
_OUTCOMES = {
    Outcome.CURED: "Cured",
    Outcome.NOT_CURED: "Not cured, still looking",
    Outcome.TECHNICIAN: "For the technician",
    Outcome.LEFT: "Left as it is",
}


def describe(payload: Payload, setup: Setup, scale: TopScale) -> str:
    """Return one line that says what was recorded, in the machine's own terms."""
    match payload:
        case TopThreaded():
            return "On top: " + (" + ".join(f"{t.name} ({t.words})" for t in setup.top) or "nothing")
        case BobbinLoaded():
            work = ", for bobbin work" if payload.bobbin_work else ""
            return f"In the bobbin: {setup.bobbin.name} ({setup.bobbin.words}){work}" if setup.bobbin else "Bobbin"
        case NeedleFitted():
            coat = ", titanium" if payload.finish is NeedleFinish.TITANIUM else ""
            return f"{payload.size} {payload.point.value}{coat} fitted"
        case NeedleRetired():
            return f"Needle out: {payload.why.value.replace('_', ' ')}"
        case Run():
            metres = f", {payload.metres:.0f} m" if payload.metres is not None else ""
            quilt = f" on {payload.quilt}" if payload.quilt else ""
            return f"{hours_in_words(payload.minutes)} stitched{quilt}{metres}"
        case ClockStarted():
            return f"Clock started{f' for {payload.quilt}' if payload.quilt else ''}"
        case SandwichLaid(sandwich=laid):
            heavy = f" ({laid.heavy_because})" if laid.heavy_because else ""
            parts = [p for p in (laid.fabric, laid.batting) if p] or [f"{laid.weave.value}, {laid.loft.value} loft"]
            return f"Under the needle: {' over '.join(parts)}{heavy}"
        case BobbinReading():
            swing = f", swing {payload.swing:.0%}" if payload.swing is not None else ""
            if payload.method is Method.HANG:
                return f"{payload.mean_mn:.0f} mN by the hang test, {payload.pulls[0].mean:g} g"
            count = len(payload.pulls)
            return f"{payload.mean_mn:.0f} mN from {count} pull{'s' if count > 1 else ''}{swing}"
        case BobbinLook():
            return f"{payload.test.value.capitalize()} test: {payload.feel.value}"
        case ScrewTurned(minutes=minutes):
            way = "tightened" if minutes > 0 else "loosened"
            return f"Screw {way} {abs(minutes):g} minute{'s' if abs(minutes) != 1 else ''}"
        case PartMarked():
            return f"{payload.part.value.capitalize()} of the rack: {payload.fault or 'sound again'}"
        case StitchedLook():
            motion = payload.motion.value.replace("_", "-")
            doubt = ", not sure" if payload.doubtful else ""
            return f"{scale.words(payload.setting)}, {motion}: {GRADES[payload.grade].name}{doubt}"
        case Incident():
            return f"It went wrong: {payload.words or ', '.join(payload.symptoms)}"
        case IncidentCheck():
            return f"{payload.words or payload.cause}: {_ANSWERS[payload.answer]}"
        case IncidentAnswer():
            said = {True: "yes", False: "no", None: "cannot tell"}[payload.present]
            return f"{payload.words or payload.finding}: {said}"
        case IncidentOutcome():
            found = payload.words or payload.cause
            return f"{_OUTCOMES[payload.outcome]}{f': {found[0].lower()}{found[1:]}' if found else ''}"
        case Preflight():
            return f"{len(payload.done)} of {payload.of} checks made before the quilt"
        case Upkeep():
            return UPKEEP_NAMES[payload.what]
        case Recipe():
            top = " + ".join(t.name for t in setup.top)
            below = setup.bobbin.name if setup.bobbin else "–"
            needle = setup.needle.words if setup.needle else "–"
            return (
                f"{payload.name}: {top} over {below}, {needle}, bobbin {payload.bobbin_mn:.0f} mN, "
                f"top {scale.words(payload.setting)}, {GRADES[payload.grade].name}"
            )
