"""A hand that knows the truth: it is told balance, faults and worn needle, and pays only for what it does."""

from __future__ import annotations

from season.life import CHANGE_NEEDLE, TURN_KNOB, AtTheMachine
from weftonos.standins.machine.machine import Scale

#: A needle is worn from here on; how long a line the truth is read from, in stitches.
WORN, READ_FROM = 0.9, 120


def _settings(scale: Scale) -> list[float]:
    steps = round((scale.high - scale.low) / scale.step)
    return [scale.snap(scale.low + n * scale.step) for n in range(steps + 1)]


class ByTruth(AtTheMachine):
    """Nobody works so: it is the least that the acts alone take."""

    def set_up(self) -> None:
        """Change a worn needle, and set the top where the stitch is best."""
        if self.machine.worn > WORN:
            self.ledger.tests += CHANGE_NEEDLE
            self.put_needle_in(self.machine.needle.metric, self.machine.needle.point)
        self.wrong_setting()

    def wrong_setting(self) -> None:
        """Set the top where the fewest locks show on either side."""
        was = self.machine.setting

        def shows(setting: float) -> float:
            self.machine.setting = setting
            line = self.machine.stitch(999, READ_FROM)
            return float(line.front + line.back)

        best = min(_settings(self.shop.scale), key=shows)
        self.machine.setting = best
        self.ledger.tests += TURN_KNOB if best != was else 0.0

    def broke(self, look: str) -> None:
        """Sew on."""

    def mend(self, symptoms: set[str], signs: set[str]) -> None:
        """Do what mends each fault that is there, and nothing else."""
        causes = {c.id: c for c in self.knowledge.causes}
        for fault in list(self.machine.faults):
            cause = causes.get(fault)
            if cause is None or cause.technician:
                self.hand_over()
                return
            self.ledger.troubles += cause.minutes
        self.machine.faults = []
        if self.machine.worn > WORN:
            self.ledger.troubles += CHANGE_NEEDLE
            self.put_needle_in(self.machine.needle.metric, self.machine.needle.point)

    def sewn(self, meters: float, broke: str) -> None:
        """Nothing is noted."""
