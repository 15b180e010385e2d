"""What is recorded of a bobbin case: readings, looks by hand, turns of the screw, faults found."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Literal

from weftonos.core.bobbin.gauge import MOST_PULLS, Calmness, Pull, Verdict, read_gauge, standard_error
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import LONGEST_NOTE, CraftError, require_between, require_text
from weftonos.core.kernel.force import ForceUnit, from_mn, to_mn
from weftonos.core.kernel.spoken import FORCE_SAYS
from weftonos.core.kernel.standing import estimate


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


#: Within this share of the weight a gauge is right: nothing is corrected.
GAUGE_IS_RIGHT = estimate(0.03, "", "what a gauge repeats to")
#: Farther off than by this factor, the weight or the unit is another one.
GAUGE_FARTHEST_OFF = estimate(1.6)


@dataclass(frozen=True, kw_only=True)
class GaugeChecked:
    """A known weight hung on the gauge: its grams, and what the gauge ``showed`` in its ``unit``."""

    grams: float
    showed: float
    unit: ForceUnit
    kind: Literal["gauge_checked"] = "gauge_checked"

    def __post_init__(self) -> None:
        require_between(value=self.grams, low=2, high=200, what="The weight", field="grams", unit="g")
        require_between(value=self.showed, low=0, high=10_000, what="What it showed", field="showed", above_low=True)
        if not 1 / GAUGE_FARTHEST_OFF.value <= self._factor <= GAUGE_FARTHEST_OFF.value:
            should = from_mn(to_mn(self.grams, ForceUnit.GF), self.unit)
            raise CraftError(
                f"{figure(self.grams)} g should show about {figure(should, significant=3)} {FORCE_SAYS[self.unit]}. "
                "Check the number and the unit. A gauge this far off needs repair.",
                "showed",
            )

    @property
    def _factor(self) -> float:
        return to_mn(self.grams, ForceUnit.GF) / to_mn(self.showed, self.unit)

    @property
    def factor(self) -> float:
        """What the gauge's numbers are multiplied by from now on: 1 where it is as good as right."""
        return 1.0 if abs(self._factor - 1) <= GAUGE_IS_RIGHT.value else self._factor

    @property
    def text(self) -> str:
        """What the check says."""
        hung = f"{figure(self.grams)} g showed {figure(self.showed)} {FORCE_SAYS[self.unit]}"
        if self.factor == 1:
            return f"Gauge checked: {hung}. It is right"
        way = "low" if self.factor > 1 else "high"
        return f"Gauge checked: {hung}. It reads {abs(1 / self.factor - 1):.0%} {way}, and readings are corrected"


@dataclass(frozen=True, kw_only=True)
class BobbinReading:
    """The case was pulled on the gauge. Pulls are in ``unit``; mean in mN, swing and verdict as answered then.

    ``correction`` multiplies what a gauge showed that a known weight has found to be off; ``pulls`` stand uncorrected.
    """

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
    correction: float = 1.0
    kind: Literal["bobbin_reading"] = "bobbin_reading"

    def __post_init__(self) -> None:
        if not 1 <= len(self.pulls) <= MOST_PULLS:
            raise CraftError("A reading is one to twenty pulls.", "pulls")
        require_text(self.note, LONGEST_NOTE, "A note", "note", empty=True)
        farthest = GAUGE_FARTHEST_OFF.value
        require_between(
            value=self.correction,
            low=1 / farthest,
            high=farthest,
            what="What a reading is corrected by",
            field="correction",
        )

    @classmethod
    def of(
        cls,
        unit: ForceUnit,
        pulls: tuple[Pull, ...],
        target: BobbinTarget | None,
        *,
        note: str = "",
        case: int | None = None,
        method: Method = Method.GAUGE,
        conditions: ReadingConditions | None = None,
        correction: float = 1.0,
    ) -> BobbinReading:
        """Judge pulls and return the reading to keep; raises :class:`CraftError` for the wrong unit."""
        answer = read_gauge(unit, pulls, target, correction=correction)
        if answer.verdict is Verdict.CHECK_UNIT:
            raise CraftError(answer.text, "unit")
        return cls(
            unit=unit,
            pulls=pulls,
            mean_mn=answer.mean_mn,
            swing=answer.swing,
            calmness=answer.calmness,
            verdict=answer.verdict,
            note=note,
            case=case,
            method=method,
            conditions=conditions or ReadingConditions(),
            correction=correction,
        )

    @property
    def means_mn(self) -> list[float]:
        """The mean of each pull, in mN."""
        return [to_mn(pull.mean, self.unit) * self.correction for pull in self.pulls]

    @property
    def scatter_mn(self) -> float:
        """The standard error of its mean, in mN."""
        return standard_error(self.pulls, self.unit) * self.correction

    def judged(self, target: BobbinTarget | None) -> BobbinReading:
        """Return the same pulls judged anew: mean and verdict follow from them, whatever else is claimed."""
        return BobbinReading.of(
            self.unit,
            self.pulls,
            target,
            note=self.note,
            case=self.case,
            method=self.method,
            conditions=self.conditions,
            correction=self.correction,
        )


class Feel(StrEnum):
    """What a look by hand says of the bobbin."""

    RIGHT = "right"
    LOOSE = "loose"
    TIGHT = "tight"


class HandLook(StrEnum):
    """The two ways without a number."""

    HANG = "hang"
    PALM = "palm"


@dataclass(frozen=True, kw_only=True)
class BobbinLook:
    """The plain hang test or the palm test, as a look and not a number."""

    test: HandLook
    feel: Feel
    case: int | None = None
    kind: Literal["bobbin_look"] = "bobbin_look"


@dataclass(frozen=True)
class ScrewTurned:
    """The screw of a case was turned, in minutes of a clock face; above 0 is clockwise and tightens.

    Without ``case`` it is the one that is in, where cases have no names.
    """

    case: int | None
    minutes: float
    kind: Literal["screw_turned"] = "screw_turned"

    def __post_init__(self) -> None:
        require_between(
            value=abs(self.minutes),
            low=0,
            high=60,
            what="One turn of the screw",
            field="minutes",
            unit="minutes",
            above_low=True,
        )


class Part(StrEnum):
    """A part of the rack that can be at fault."""

    CASE = "case"
    BOBBIN = "bobbin"


@dataclass(frozen=True, kw_only=True)
class PartMarked:
    """A case or a bobbin of the rack was found at fault, or found sound again (an empty ``fault``)."""

    part: Part
    id: int
    fault: str
    kind: Literal["part_marked"] = "part_marked"

    def __post_init__(self) -> None:
        require_text(self.fault, 120, "The fault", "fault", empty=True)
