"""The season's hands: who knows the truth loses least, and nobody is shown what a machine can't show."""

from __future__ import annotations

import pytest
from season.habits import ByHabit
from season.life import shop
from season.truth import ByTruth

from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.kernel.schools import MachineKind
from weftonos.knowledge import troubles


@pytest.mark.parametrize("second", [False, True])
def test_who_knows_the_truth_loses_less_than_who_works_by_habit(second):
    lost = {"truth": 0.0, "habit": 0.0}
    for number in range(4):
        season = shop(number, 8, second=second)
        truth = ByTruth(season).season()
        lost["truth"] += truth.lost
        lost["habit"] += ByHabit(season).season().lost
        assert truth.quilts == 8
    assert lost["truth"] < 0.5 * lost["habit"]


def test_a_home_machine_shows_no_false_alarm_of_a_sensor_it_lacks():
    assert "false_break_alarm" in troubles().at(OF_KIND[MachineKind.LONGARM]).findings
    home = ByHabit(shop(0, 1))
    home.machine.faults = ["off_the_check_spring"]
    assert "false_break_alarm" not in home.shows
    assert all("false_break_alarm" not in home.still_wrong() for _ in range(20))
