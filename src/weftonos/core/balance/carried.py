"""Test lines stitched at another bobbin reading: they say where the balance may lie now, and count for no more."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from weftonos.core.balance.looks import Observation
from weftonos.core.balance.moved import moves_expected
from weftonos.core.balance.posterior import (
    OUTLIER_SHARE,
    BalancePrior,
    Expected,
    StitchedBefore,
    center_of,
    scale_unit,
)
from weftonos.core.balance.stitched import LEFT_OVER
from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.scale import TopScale
from weftonos.core.setup.differences import reads_otherwise


@dataclass(frozen=True)
class LookUnder(Observation):
    """A graded look, and what the bobbin read when it was stitched, in millinewtons; ``None`` for today's reading."""

    reading_mn: float | None = field(default=None, kw_only=True)

    def __post_init__(self) -> None:
        super().__post_init__()
        _check_reading(self.reading_mn)


def _check_reading(reading_mn: float | None) -> None:
    if reading_mn is not None:
        named = {"what": "The bobbin's reading", "field": "reading_mn"}
        require_between(value=reading_mn, low=0, high=1e5, above_low=True, **named)


def carried_over(
    scale: TopScale, prior: BalancePrior | None, looks: Sequence[LookUnder], reading_mn: float | None
) -> tuple[Expected, list[LookUnder]]:
    """Return what is expected today, and the looks that count: those at today's reading.

    Looks at another are carried over by the ratio of the readings where the scale shows the gauge's numbers, elsewhere
    as they stand; both with the doubt of how far such a change moves the balance.
    """
    _check_reading(reading_mn)
    expected: Expected = prior
    today = [look for look in looks if not reads_otherwise(look.reading_mn, reading_mn)]
    for read in dict.fromkeys(look.reading_mn for look in looks if reads_otherwise(look.reading_mn, reading_mn)):
        assert read is not None and reading_mn is not None
        ratio = reading_mn / read
        shown = ratio if scale.in_gauge_numbers else 1.0
        there = tuple(
            Observation(scale.within(look.setting * shown), look.grade, look.doubtful)
            for look in looks
            if look.reading_mn == read
        )
        doubt = moves_expected("bobbin", math.log(ratio)) * scale_unit(scale)
        center, _ = center_of(scale, there, prior)
        expected = StitchedBefore(
            expected=expected,
            looks=there,
            drift=math.hypot(doubt, LEFT_OVER.value * scale_unit(scale)),
            anywhere=OUTLIER_SHARE.value,
            center=center,
        )
    return expected, today
