"""Pulls on a thread: millinewton inside, and the units that gauges and scales are marked in."""

from __future__ import annotations

from enum import StrEnum

from weftonos.core.kernel.errors import require_between
from weftonos.core.kernel.standing import published


class ForceUnit(StrEnum):
    """A unit marked on a gauge."""

    MN = "mN"
    GF = "gf"
    CN = "cN"


#: Millinewton in one gram-force.
MN_PER_GF = published(9.80665, "mN/gf", "standard gravity, BIPM SI brochure")

#: Millinewton in one of each unit.
MN_PER = {ForceUnit.MN: 1.0, ForceUnit.GF: MN_PER_GF.value, ForceUnit.CN: 10.0}


def to_mn(value: float, unit: ForceUnit) -> float:
    """Return a pull in millinewton."""
    return value * MN_PER[unit]


def from_mn(value_mn: float, unit: ForceUnit) -> float:
    """Return a pull given in millinewton in the gauge's unit."""
    return value_mn / MN_PER[unit]


def hanging_tension_mn(grams: float) -> float:
    """Return the thread tension, in mN, at which a hanging case and its weights just creep.

    The hang test is a weighing: the case creeps when the pull equals the weight hanging on it. ``grams`` is
    the weight of case, bobbin and added weights together, above 0 and up to 500.

    Source: standard gravity, BIPM SI brochure.

    >>> round(hanging_tension_mn(20), 1)
    196.1
    """
    require_between(
        value=grams,
        low=0,
        high=500,
        what="The weight of case, bobbin and weights",
        field="grams",
        unit="g",
        above_low=True,
    )
    return grams * MN_PER_GF.value
