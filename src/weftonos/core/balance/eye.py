"""One person's eye: how often it takes one grade for another, counted in practice, and drawn to what is general."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.standing import estimate
from weftonos.core.kernel.stitch import GRADES, check_grade

#: Looks of practice from which a person's own table may be used at all.
LOOKS_FOR_OWN_EYE = estimate(60, "looks", "a dozen of each picture")
#: So many lines of each picture the general table counts for.
GENERAL_COUNTS_AS = estimate(8, "lines of each picture")
#: In general a grade is taken for a neighbor this often; farther off hardly ever.
GENERAL_SLIP, GENERAL_FAR = estimate(0.04, "to each neighbor"), estimate(0.002, "farther off")
_ORDER = sorted(GRADES)


@dataclass(frozen=True)
class GradeRead:
    """A grade that was there, and the one that was read."""

    true: int
    read: int

    def __post_init__(self) -> None:
        check_grade(self.true)
        check_grade(self.read)


@dataclass(frozen=True, kw_only=True)
class EyeRow:
    """What was read where one grade was there: how often each, and the share that was right with its 95 % interval."""

    grade: int
    looks: int
    read: tuple[int, ...]
    right: float | None
    low: float
    high: float


@dataclass(frozen=True)
class Eye:
    """Chances of reading each grade (columns, −2 to +2) where each is there (rows), and the looks that rest on."""

    chances: tuple[tuple[float, ...], ...]
    looks: int

    def blur(self, by_true: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        """Return P(read) from P(true) along the first axis: what this eye makes of it."""
        blurred: npt.NDArray[np.float64] = np.einsum("tr,t...->r...", np.array(self.chances), by_true)
        return blurred


@dataclass(frozen=True, kw_only=True)
class Grading:
    """How the grades of a machine come about: the eye that reads them, and how steady its stitches are.

    Stitches of one setting stray from the model's lock by its own scatter where ``steadiness`` is 1, by half of it at
    2. Without an ``eye`` a look is taken as it was read.
    """

    eye: Eye | None = None
    steadiness: float = 1.0


PLAIN = Grading()


def confusions(reads: Iterable[GradeRead]) -> tuple[EyeRow, ...]:
    """Count what was read for each grade; the interval is Jeffreys' (Brown, Cai and DasGupta 2001)."""
    from scipy.special import betaincinv

    counts = np.zeros((5, 5), int)
    for each in reads:
        counts[each.true + 2, each.read + 2] += 1
    rows = []
    for n, grade in enumerate(_ORDER):
        looks, right = int(counts[n].sum()), int(counts[n, n])
        low = float(betaincinv(right + 0.5, looks - right + 0.5, 0.025)) if right else 0.0
        high = float(betaincinv(right + 0.5, looks - right + 0.5, 0.975)) if right < looks else 1.0
        rows.append(
            EyeRow(
                grade=grade,
                looks=looks,
                read=tuple(int(c) for c in counts[n]),
                right=right / looks if looks else None,
                low=low,
                high=high,
            )
        )
    return tuple(rows)


def general_eye() -> npt.NDArray[np.float64]:
    """Return the table that holds before anything is known of a person."""
    table = np.full((5, 5), GENERAL_FAR.value)
    for n in range(5):
        for beside in (n - 1, n + 1):
            if 0 <= beside < 5:
                table[n, beside] = GENERAL_SLIP.value
        table[n, n] = 1 - table[n].sum() + table[n, n]
    return np.asarray(table)


def own_eye(reads: Sequence[GradeRead]) -> Eye:
    """Return a person's own table, drawn to the general one; raises :class:`CraftError` with too few looks."""
    if len(reads) < LOOKS_FOR_OWN_EYE.value:
        need = int(LOOKS_FOR_OWN_EYE.value)
        raise CraftError(f"{len(reads)} practice lines are too few to know an eye by. It takes {need} on.", "reader")
    counts = np.array([row.read for row in confusions(reads)], float)
    counts += GENERAL_COUNTS_AS.value * general_eye()
    table = counts / counts.sum(axis=1, keepdims=True)
    return Eye(tuple(tuple(map(float, row)) for row in table), len(reads))
