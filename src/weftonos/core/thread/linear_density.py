"""How heavy a thread is for its length, in every system that stands on labels.

In a length-per-weight system (wt, Ne, ticket) a higher number is a finer thread; in a weight-per-length one
(tex, dtex, denier) a thicker thread. Inside the program there is only tex, grams in 1000 m (ISO 1144).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError, require_between
from weftonos.core.kernel.standing import estimate, memory, published


class WeightSystem(StrEnum):
    """A way of numbering thread on a label."""

    TEX = "tex"
    DTEX = "dtex"
    DENIER = "denier"
    WT = "wt"
    NE = "ne"
    TICKET = "ticket"
    NO = "no"


SYSTEM_NAMES = {
    WeightSystem.TEX: "tex",
    WeightSystem.DTEX: "dtex",
    WeightSystem.DENIER: "denier",
    WeightSystem.WT: "wt",
    WeightSystem.NE: "Ne",
    WeightSystem.TICKET: "ticket",
    WeightSystem.NO: "No.",
}

#: Meters in a hank of 840 yards over kilograms in a pound, as tex: 1000 · 0.45359237 / (840 · 0.9144) · 1000.
NE_TIMES_TEX = published(0.45359237 * 1e6 / (840 * 0.9144), "tex", "ISO 1144; 840-yard hanks in one pound")
WT_TIMES_TEX = published(1000.0, "tex", "ISO 1144; metric count, meters in one gram")
TICKET_TIMES_TEX = memory(3000.0, "tex")
FINEST = estimate(1.0, "tex", "finer than any thread sold for a machine")
HEAVIEST = estimate(1000.0, "tex", "beyond any thread that is stitched or couched")
MOST_STRANDS = 12


@dataclass(frozen=True, order=True)
class LinearDensity:
    """Mass per length of a finished thread, in tex.

    >>> round(LinearDensity.from_label(120, WeightSystem.DENIER, strands=2).tex, 1)
    26.7
    """

    tex: float

    def __post_init__(self) -> None:
        require_between(
            value=self.tex, low=FINEST.value, high=HEAVIEST.value, what="A sewing thread", field="value", unit="tex"
        )

    @property
    def dtex(self) -> float:
        """Grams in 10 000 m."""
        return self.tex * 10

    @property
    def denier(self) -> float:
        """Grams in 9000 m, of the whole thread."""
        return self.tex * 9

    @property
    def wt(self) -> float:
        """Meters in one gram: the quilter's weight number."""
        return WT_TIMES_TEX.value / self.tex

    @property
    def ne(self) -> float:
        """Hanks of 840 yards in one pound."""
        return NE_TIMES_TEX.value / self.tex

    @classmethod
    def from_label(
        cls,
        value: float,
        system: WeightSystem,
        strands: int = 1,
        *,
        per_strand: bool | None = None,
        cotton: bool = False,
    ) -> LinearDensity:
        """Read a label.

        Parameters
        ----------
        value: the number on the label, above 0.
        system: the system it is in.
        strands: plies or filament strands named on the label, 1 to 12.
        per_strand: whether ``value`` is the number of one strand. ``None`` follows the trade: per strand for
            denier, of the finished thread for the others ("40 wt, 3-ply" is 40 wt).
        cotton: cotton tickets follow other rules than synthetic ones and are refused.

        Raises
        ------
        CraftError: with the field ``value``, ``strands`` or ``system``.
        """
        require_between(value=value, low=0, high=1e6, what="The number on the label", field="value", above_low=True)
        require_between(value=strands, low=1, high=MOST_STRANDS, what="The number of strands", field="strands")
        if system is WeightSystem.NO:
            raise CraftError(
                "“No.” is a count of its own, different from maker to maker, and not wt. Look for tex, wt or Ne on "
                "the label. Without one, weigh a measured length or count wraps.",
                "system",
            )
        if system is WeightSystem.TICKET and cotton:
            raise CraftError(
                "Cotton ticket numbers differ from maker to maker. Look for tex or Ne on the label, "
                "or weigh a measured length.",
                "system",
            )
        each = {
            WeightSystem.TEX: lambda v: v,
            WeightSystem.DTEX: lambda v: v / 10,
            WeightSystem.DENIER: lambda v: v / 9,
            WeightSystem.WT: lambda v: WT_TIMES_TEX.value / v,
            WeightSystem.NE: lambda v: NE_TIMES_TEX.value / v,
            WeightSystem.TICKET: lambda v: TICKET_TIMES_TEX.value / v,
        }[system](value)
        multiply = per_strand if per_strand is not None else system is WeightSystem.DENIER
        tex = each * strands if multiply else each
        if not FINEST.value <= tex <= HEAVIEST.value:
            raise CraftError(_out_of_range(value, system, tex), "value")
        return cls(tex)


def strands_are_ambiguous(system: WeightSystem, strands: int) -> bool:
    """Say whether such a label should be asked about: per strand, or of the whole thread?"""
    return strands > 1 and system not in (WeightSystem.WT, WeightSystem.DENIER)


def _out_of_range(value: float, system: WeightSystem, tex: float) -> str:
    side = "finer" if tex < FINEST.value else "heavier"
    sentence = (
        f"{figure(value)} {SYSTEM_NAMES[system]} would be {figure(tex, significant=3)} tex, {side} than any "
        f"sewing thread ({figure(FINEST.value)} to {figure(HEAVIEST.value)} tex)."
    )
    for factor in (10, 100, 0.1, 0.01):
        guess = value / factor
        likely = tex * factor if system in (WeightSystem.WT, WeightSystem.NE, WeightSystem.TICKET) else tex / factor
        if 5 <= likely <= 150:
            return f"{sentence} Is it {figure(guess)} {SYSTEM_NAMES[system]}?"
    return sentence
