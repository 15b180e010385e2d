"""How careful a quilt wants its maker to be: what is asked for before it is sewn, and what is passed over."""

from __future__ import annotations

from enum import StrEnum


class Care(StrEnum):
    """What hangs on a quilt, as its maker says it once."""

    MATTERS = "matters"
    USUAL = "usual"
    SCRAP = "scrap"


#: How it is said.
CARE_SAYS = {Care.MATTERS: "it matters", Care.USUAL: "as usual", Care.SCRAP: "scrap"}
