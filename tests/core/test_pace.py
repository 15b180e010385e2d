"""Pace and what a bobbin still holds, worked by hand."""

import pytest

from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Loft, Sandwich
from weftonos.core.log.run import Pace, Run, TimedRun, pace_of, stitched


def test_a_pace_is_all_meters_over_all_hours():
    runs = [TimedRun(90, 45), TimedRun(30, 5), TimedRun(400)]
    assert pace_of(runs) == Pace(25, 2)
    assert pace_of([TimedRun(60)]) is None


def test_runs_without_meters_go_by_the_pace():
    sewn = stitched([TimedRun(60, 20), TimedRun(30)], Pace(40, 3))
    assert (sewn.meters, sewn.by_pace) == (40, 20)
    assert stitched([TimedRun(30)], None) is None
    assert stitched([], None).meters == 0


def test_meters_that_cannot_be_are_refused():
    for meters in (0, -1, 5001, float("nan")):
        with pytest.raises(CraftError) as error:
            Run(minutes=10, quilt="", meters=meters)
        assert error.value.field == "meters"


def test_a_loftier_sandwich_is_thicker():
    low, medium, lofty = (Sandwich(loft=loft).thickness_mm for loft in Loft)
    assert low < medium < lofty
