"""What a machine can have that advice speaks of: a frame, a case that comes out, a gauge, a break sensor.

Every cause, check, walk, help sentence and word says what it ``needs``, as data. Whoever advises asks
:func:`applies` and nothing else, so that what cannot be there is never mentioned.
"""

from __future__ import annotations

from collections.abc import Iterable, Set
from enum import StrEnum

from weftonos.core.kernel.schools import MachineKind


class Feature(StrEnum):
    """Something that a machine has, or may have where nobody has said."""

    LONGARM = "longarm"
    DOMESTIC = "domestic"
    #: Rails, rollers, channel locks: the head moves over the quilt.
    FRAME = "frame"
    #: Hands move the quilt under the head: a sit-down longarm, or a domestic machine.
    TABLE = "table"
    #: A longarm head in a table.
    SIT_DOWN = "sit_down"
    #: A bobbin case that comes out, to be read, hung and felt.
    CASE = "case"
    DROP_IN = "drop_in"
    GAUGE = "gauge"
    #: A case that comes out and no gauge to read it with.
    BY_HAND = "by_hand"
    ROUND_SHANK = "round_shank"
    FLAT_SHANK = "flat_shank"
    REGULATOR = "regulator"
    BREAK_SENSOR = "break_sensor"
    #: A guide with several holes before the discs.
    HOLE_GUIDE = "hole_guide"
    CHECK_SPRING = "check_spring"


Needs = tuple[Feature, ...]


def applies(needs: Iterable[Feature], has: Set[Feature]) -> bool:
    """Say whether advice that needs something speaks of a machine that has, or may have, these features."""
    return has >= set(needs)


#: What a machine of each kind may have where nothing more is known of it.
OF_KIND = {
    MachineKind.LONGARM: frozenset(
        {
            *(Feature.LONGARM, Feature.FRAME, Feature.CASE, Feature.GAUGE, Feature.ROUND_SHANK),
            *(Feature.REGULATOR, Feature.BREAK_SENSOR, Feature.HOLE_GUIDE, Feature.CHECK_SPRING),
        }
    ),
    MachineKind.HOME: frozenset({Feature.DOMESTIC, Feature.TABLE, Feature.CASE, Feature.GAUGE, Feature.FLAT_SHANK}),
}
