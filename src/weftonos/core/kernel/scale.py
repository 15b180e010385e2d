"""The scale a machine's top tension is set on: a numbered dial, turns from a mark, or a readout with a unit."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError, require_between

#: No hand sets a scale finer.
MOST_STEPS = 10_000


#: A display that ends here or below runs like a dial, 0 to 10 or 0 to 9, and not in a gauge's numbers.
LARGEST_DIAL = 20


class ScaleKind(StrEnum):
    """The three kinds of scale."""

    DIAL = "dial"
    TURNS = "turns"
    READOUT = "readout"


@dataclass(frozen=True, kw_only=True)
class TopScale:
    """Limits and smallest step of a machine's top tension.

    ``low`` and ``high`` are in dial numbers, turns from the mark (negative is looser), or readout numbers.

    >>> TopScale(kind=ScaleKind.TURNS, low=-4, high=4, step=0.25).words(0.5)
    '½ turn in'
    """

    kind: ScaleKind
    low: float
    high: float
    step: float
    unit: str = ""

    def __post_init__(self) -> None:
        for value, field in ((self.low, "low"), (self.high, "high"), (self.step, "step")):
            if not math.isfinite(value) or abs(value) > 100_000:
                raise CraftError("A tension scale needs ordinary numbers.", field)
        if self.high <= self.low:
            raise CraftError(
                f"The scale runs from {figure(self.low)} to {figure(self.high)}: "
                "its low end must be below its high end.",
                "high",
            )
        if not self.span / MOST_STEPS <= self.step <= self.span:
            raise CraftError(
                f"The smallest step is above 0 and fits into the scale once to {MOST_STEPS} times.", "step"
            )
        if len(self.unit) > 12:
            raise CraftError("A unit can have up to 12 letters.", "unit")

    @property
    def span(self) -> float:
        """Length of the scale."""
        return self.high - self.low

    @property
    def in_dial_numbers(self) -> bool:
        """Whether its numbers are those of a dial: a domestic machine's display runs so (common practice)."""
        return self.kind is ScaleKind.DIAL or (self.kind is ScaleKind.READOUT and self.high <= LARGEST_DIAL)

    @property
    def in_gauge_numbers(self) -> bool:
        """Whether its numbers are those of the bobbin's gauge: a longarm's display."""
        return self.kind is ScaleKind.READOUT and not self.in_dial_numbers

    def check(self, setting: float, field: str = "setting") -> None:
        """Raise :class:`CraftError` for a setting that is not on the scale."""
        require_between(
            value=setting, low=self.low, high=self.high, what="The top tension of this machine", field=field
        )

    def holds(self, setting: float) -> bool:
        """Say whether a setting lies on the scale."""
        return self.low <= setting <= self.high

    def within(self, setting: float) -> float:
        """Return a setting, or the end of the scale that it lies beyond."""
        return min(self.high, max(self.low, setting))

    def snap(self, setting: float) -> float:
        """Return the nearest setting that can be set on the machine."""
        steps = round((setting - self.low) / self.step)
        return self.within(round(self.low + steps * self.step, 6))

    def width_in_words(self, half: float) -> str:
        """Return half an interval in the machine's own steps: ``"2"``, ``"0.5 turns"``."""
        steps = max(1, round(half / self.step))
        return f"{figure(steps * self.step)}{' turns' if self.kind is ScaleKind.TURNS else ''}"

    def place(self, setting: float) -> str:
        """Return where to stitch, as part of a sentence: ``"at 195"``, ``"at the mark"``."""
        words = self.words(setting)
        return words if words.startswith("at ") else f"at {words}"

    def stands(self, setting: float | None) -> str:
        """Return where a knob stands in words; ``None`` is left to the machine."""
        return "automatic" if setting is None else self.words(setting)

    def words(self, setting: float) -> str:
        """Return a setting in the machine's own terms."""
        if self.kind is ScaleKind.TURNS:
            return turns_in_words(setting)
        digits = max(0, -math.floor(math.log10(self.step) + 1e-9)) if self.step < 1 else 0
        digits = max(digits, 2 if self.step in (0.25, 0.75) else 0)
        text = figure(setting, digits)
        return f"{text} {self.unit}" if self.unit else text


_QUARTERS = {0: "", 1: "¼", 2: "½", 3: "¾"}


def turns_in_words(turns: float) -> str:
    """Return turns of an unmarked knob in quarters: ``"1¼ turns in"``, ``"at the mark"``."""
    quarters = round(abs(turns) * 4)
    if quarters == 0:
        return "at the mark"
    whole, part = divmod(quarters, 4)
    amount = f"{whole or ''}{_QUARTERS[part]}"
    return f"{amount} turn{'s' if quarters > 4 else ''} {'in' if turns > 0 else 'out'}"
