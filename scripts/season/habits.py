"""The trade's habits (common practice): a paper chart, a ladder by eye, last settings from memory, cheapest first."""

from __future__ import annotations

from season.life import (
    CHANGE_NEEDLE,
    HANG,
    LADDER_STEP,
    PULL_THREE,
    READ_LADDER,
    TOPS,
    TURN_KNOB,
    TURN_SCREW,
    AtTheMachine,
    Shop,
)
from weftonos.core.balance.looks import by_eye
from weftonos.core.mend.trouble import Cause

#: The chart on the wall: needle by thread, home and longarm; where the top begins on a dial.
CHART = {"Everyday 40": (90, 100), "Cotton 50": (80, 100), "Cotton 30": (100, 110), "Fine 100": (70, 90)}
CHART |= {"Rayon 40": (90, 100), "Gold 40": (90, 110)}
DIAL_CHART = {"Cotton 50": 2.5, "Cotton 30": 2.5, "Gold 40": 1.0, "Fine 100": 4.5}
#: A remembered setting is gone in so many of ten cases, and else off by this much of a dial number.
FORGOTTEN, REMEMBERED_OFF = 0.3, 0.4


class ByHabit(AtTheMachine):
    """Somebody who works as people do, from memory."""

    def __init__(self, season: Shop) -> None:
        super().__init__(season)
        self.memory: dict[tuple[int, int], float] = {}
        self.last_below = -1
        self.breaks_here = 0

    def set_up(self) -> None:
        """The needle by the chart, the bobbin by hand or gauge when its thread changes, the top by ladder or memory."""
        self.breaks_here = 0
        wanted = CHART[TOPS[self.quilt.top].name][self.shop.head == "longarm"]
        # One middle size for most: another only for what is two sizes off.
        if abs(wanted - self.machine.needle.metric) >= (10 if self.shop.careful else 20):
            self.put_needle_in(wanted)
            self.ledger.tests += CHANGE_NEEDLE
        if self.quilt.below != self.last_below:
            self._bobbin()
            self.last_below = self.quilt.below
        self._top()

    def _bobbin(self) -> None:
        for _ in range(4):
            if self.shop.gauge:
                pulls = self.gauge()
                self.ledger.tests += PULL_THREE
                reads = sum(low + high for low, high in pulls) / 6
            else:
                reads = self.hang()
                self.ledger.tests += HANG
            ratio = reads / self.usual_below
            if 0.9 <= ratio <= 1.1 or (not self.shop.gauge and 0.8 <= ratio <= 1.25):
                return
            self.machine.turn_screw(5 if ratio < 1 else -5)
            self.ledger.tests += TURN_SCREW

    def _begin(self) -> float | None:
        """Return the setting that is remembered; ``None`` where there is none, or it is forgotten."""
        kept = self.memory.get((self.quilt.top, self.quilt.below))
        chance = self.luck("memory")
        if kept is None or chance.random() < FORGOTTEN:
            return None
        return kept + float(chance.normal(0, REMEMBERED_OFF)) * self.shop.unit

    def _top(self) -> None:
        begin = self._begin()
        if begin is None and self.shop.careful:
            return self._ladder()
        if begin is None:
            thread = TOPS[self.quilt.top].name
            begin = DIAL_CHART.get(thread, 4.0) if self.shop.head == "home" else self.usual_below
        self._by_steps(begin)
        return None

    def _ladder(self) -> None:
        """Eleven steps, read as a practitioner reads them."""
        scale, unit = self.shop.scale, self.shop.unit
        middle = 5.0 if self.shop.head == "home" else self.usual_below
        steps = sorted({scale.snap(middle + k * unit) for k in range(-5, 6)})
        looks = [(step, self.look(step, LADDER_STEP)) for step in steps]
        self.ledger.tests += READ_LADDER
        self._settle(by_eye(looks))

    def _by_steps(self, setting: float) -> None:
        """Stitch, look, turn toward the better, until it looks right."""
        for _ in range(7):
            grade = self.look(setting)
            if grade == 0:
                break
            setting -= grade * self.shop.unit * (-0.75 if abs(grade) == 1 else -1.0)
            self.ledger.tests += TURN_KNOB
        self._settle(setting)

    def _settle(self, setting: float) -> None:
        self.machine.setting = self.shop.scale.snap(setting)
        self.memory[self.quilt.top, self.quilt.below] = self.machine.setting

    def wrong_setting(self) -> None:
        """Turn toward the better."""
        self._by_steps(self.machine.setting)

    def broke(self, look: str) -> None:
        """Change at a break: the needle, if it frayed or broke before on this quilt."""
        self.breaks_here += 1
        if look == "frays_above_the_eye" or self.breaks_here % 2 == 0:
            self.ledger.troubles += CHANGE_NEEDLE
            needle = self.machine.needle
            self.put_needle_in(needle.metric, needle.point)

    def mend(self, symptoms: set[str], signs: set[str]) -> None:
        """Turn the knob first where it looks like tension; then the checks that people name, cheapest first."""
        before = self.machine.setting
        tension = symptoms & {"loops_or_nest_on_the_back", "bobbin_thread_dots_on_top"}
        if tension:
            up = "loops_or_nest_on_the_back" in symptoms
            for _ in range(2):
                self.machine.setting = self.shop.scale.snap(self.machine.setting + (1 if up else -1) * self.shop.unit)
                self.ledger.troubles += TURN_KNOB
                if not self.still_wrong() & tension:
                    break
            self.machine.setting = before
        left = [c for c in self.knowledge.causes if not c.technician]
        for _ in range(3):
            named, others = self.knowledge.mentioning_first(left, symptoms)
            for cause in [*sorted(named, key=_minutes), *sorted(others, key=_minutes)]:
                self.ledger.troubles += cause.minutes
                if self.check(cause.id):
                    symptoms = self.still_wrong()
                    if not symptoms:
                        return
                    break
                left = [c for c in left if c is not cause]
            else:
                break
        if self.machine.faults:
            self.hand_over()


def _minutes(cause: Cause) -> float:
    return cause.minutes
