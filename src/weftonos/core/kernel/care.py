"""How careful a quilt wants its maker to be: what is asked for before it is sewn, and what is passed over."""

from __future__ import annotations

from enum import StrEnum

from weftonos.core.kernel.standing import estimate


class Care(StrEnum):
    """What hangs on a quilt, as its maker says it once."""

    MATTERS = "matters"
    USUAL = "usual"
    SCRAP = "scrap"


#: How it is said.
CARE_SAYS = {Care.MATTERS: "it matters", Care.USUAL: "as usual", Care.SCRAP: "scrap"}
#: Minutes that a stitch costs which is off by one grade, and stays in, and one that is plainly off and is picked out.
SLIGHTLY_OFF = {Care.MATTERS: estimate(15, "min"), Care.USUAL: estimate(5, "min"), Care.SCRAP: estimate(0.5, "min")}
PLAINLY_OFF = {Care.MATTERS: estimate(60, "min"), Care.USUAL: estimate(25, "min"), Care.SCRAP: estimate(6, "min")}
#: Minutes to pick out what a look at the first inches finds wrong, and to begin again there.
PICKED_OUT_AT_ONCE = {Care.MATTERS: estimate(15, "min"), Care.USUAL: estimate(5, "min"), Care.SCRAP: estimate(1, "min")}
#: Minutes of a trouble that comes while a quilt is sewn: the search, and what is picked out for it.
TROUBLE = {Care.MATTERS: estimate(40, "min"), Care.USUAL: estimate(20, "min"), Care.SCRAP: estimate(8, "min")}
#: Minutes that one more break is worth: to rethread, to pick out to where it holds, to bury the ends, and what shows.
ONE_MORE_BREAK = {Care.MATTERS: estimate(40, "min"), Care.USUAL: estimate(15, "min"), Care.SCRAP: estimate(4, "min")}
