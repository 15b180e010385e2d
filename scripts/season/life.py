"""What happens to a simulated workshop, the same for both ways of working: quilts, threads, and bad luck."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from season.second_machine import SecondMachine, labeled
from weftonos.core.kernel.feature import OF_KIND, Feature, applies
from weftonos.core.kernel.schools import MachineKind
from weftonos.knowledge import troubles
from weftonos.standins.machine.faults import FAULTS
from weftonos.standins.machine.laws import Head, SimCloth, SimNeedle, SimThread
from weftonos.standins.machine.machine import DIAL, READOUT, Scale, SimulatedMachine, read_by_eye

QUILTS = 30
#: Minutes that a hand takes, the same for both.
STITCH_AND_LOOK, LADDER_STEP, READ_LADDER = 1.0, 0.45, 1.5
PULL_THREE, HANG, TURN_SCREW, TURN_KNOB = 1.5, 0.7, 0.5, 0.2
CHANGE_NEEDLE, RETHREAD, UNPICK_METER, TECHNICIAN = 3.0, 3.0, 3.0, 60.0
#: What is picked out where it is seen on the quilt.
PICKED_OUT = {"loops_or_nest_on_the_back", "skipped_stitches", "bobbin_thread_dots_on_top", "loops_only_on_curves"}
#: What a tap or a number put into the program takes, counted against it.
TAP = 0.1


@dataclass(frozen=True)
class Yarn:
    """A thread of the drawer, as its label says and as the machine feels it."""

    name: str
    label: dict[str, object]
    felt: SimThread


def _yarn(name: str, fiber: str, construction: str, wt: float, diameter: float) -> Yarn:
    kind = "metallic" if fiber == "metallic" else construction
    label = {"fiber": fiber, "construction": construction, "value": wt, "system": "wt"}
    return Yarn(name, label, SimThread(fiber, 1000 / wt, diameter, kind=kind))


TOPS = (
    _yarn("Everyday 40", "polyester", "multifilament", 40, 0.178),
    _yarn("Cotton 50", "cotton", "spun", 50, 0.167),
    _yarn("Cotton 30", "cotton", "spun", 30, 0.216),
    _yarn("Fine 100", "silk", "multifilament", 100, 0.113),
    _yarn("Rayon 40", "rayon", "multifilament", 40, 0.168),
    _yarn("Gold 40", "metallic", "metallic", 40, 0.2),
)
BELOWS = (
    _yarn("Below 80", "polyester", "multifilament", 80, 0.126),
    _yarn("Below cotton 60", "cotton", "spun", 60, 0.153),
)


@dataclass(frozen=True)
class Mishap:
    """Faults that are there from a meter of a quilt on."""

    at_m: float
    faults: tuple[str, ...]


@dataclass(frozen=True)
class Quilt:
    """One quilt: threads, sandwich, meters, and what goes wrong on it."""

    top: int
    below: int
    cloth: SimCloth
    meters: float
    mishaps: tuple[Mishap, ...]


@dataclass(frozen=True)
class Shop:
    """A workshop: its machine, whether it has a gauge, whether its owner is careful, and its season.

    ``second`` is whether its machine is the one with other laws.
    """

    number: int
    head: Head
    gauge: bool
    careful: bool
    quilts: tuple[Quilt, ...]
    second: bool = False

    @property
    def kind(self) -> str:
        """What it is compared with its like by."""
        gauge = "gauge" if self.gauge else "no gauge"
        return f"{self.head}, {gauge}, {'careful' if self.careful else 'careless'}"

    @property
    def scale(self) -> Scale:
        """How its top is set."""
        return READOUT if self.head == "longarm" else DIAL

    @property
    def unit(self) -> float:
        """What counts as one dial number on its scale."""
        return 20.0 if self.head == "longarm" else 1.0


def shop(number: int, quilts: int = QUILTS, *, second: bool = False) -> Shop:
    """Return the ``number``-th workshop with its season; equal numbers are equal."""
    chance = np.random.default_rng([1701, number])
    head: Head = "longarm" if number % 2 else "home"
    names = list(FAULTS)
    weights = np.array([FAULTS[name].common for name in names])
    # Stretchy and slick thread, and the wrong needle, are nobody's accident here; some machines have no such part.
    none_here = {"slick_thread_spills", "wrong_needle_system", "stretchy_thread_wound_fast"}
    none_here |= {c.id for c in troubles().causes if not applies(c.needs, OF_KIND[MachineKind(head)])}
    weights[[n for n, name in enumerate(names) if name in none_here]] = 0
    weights /= weights.sum()
    season = []
    favorites = chance.permutation(len(TOPS))[:4]
    for _ in range(quilts):
        meters = float(chance.uniform(50, 160))
        mishaps = []
        for _ in range(int(chance.poisson(0.55))):
            count = 2 if chance.random() < 0.12 else 1
            faults = tuple(str(f) for f in chance.choice(names, count, replace=False, p=weights))
            mishaps.append(Mishap(float(chance.uniform(0, meters)), faults))
        loft = float(chance.choice([1.5, 2.5, 2.5, 4.0]))
        cloth = SimCloth(loft, float(np.exp(chance.normal(0, 0.15))), dark=bool(chance.random() < 0.3))
        top = int(favorites[int(chance.choice(4, p=[0.45, 0.25, 0.2, 0.1]))])
        below = 1 if chance.random() < 0.15 else 0
        season.append(Quilt(top, below, cloth, meters, tuple(sorted(mishaps, key=lambda m: m.at_m))))
    return Shop(number, head, number // 2 % 2 == 0, number // 4 % 2 == 0, tuple(season), second)


@dataclass
class Ledger:
    """What a season cost."""

    tests: float = 0.0
    troubles: float = 0.0
    breaks: int = 0
    unpicked: float = 0.0
    needles: int = 1
    quilts: int = 0
    balanced: int = 0
    within_one: int = 0
    technician: int = 0

    @property
    def lost(self) -> float:
        """Minutes lost in all."""
        return self.tests + self.troubles


class AtTheMachine:
    """A person at a machine through a season; how they work is a subclass."""

    def __init__(self, season: Shop) -> None:
        self.shop, self.ledger = season, Ledger()
        scale, needle = season.scale, SimNeedle(100 if season.head == "longarm" else 90)
        self.machine: SimulatedMachine | SecondMachine
        if season.second:
            threads = TOPS[0].felt, BELOWS[0].felt
            self.machine = SecondMachine(season.number, season.head, scale, needle=needle, threads=threads)
        else:
            self.machine = SimulatedMachine(season.number, season.head, scale, needle=needle)
        self.machine.setting = scale.snap((scale.low + scale.high) / 2 if season.head == "home" else 200)
        # Without a gauge nobody sees one flutter.
        has = OF_KIND[MachineKind(season.head)] - (frozenset() if season.gauge else {Feature.GAUGE})
        self.knowledge = troubles().at(has)
        #: What such a machine can show: one without a sensor has no false alarm.
        self.shows = set(self.knowledge.findings)
        self.quilt = season.quilts[0]
        self.number = 0
        self._n = 0

    # What the hand can do, and what it takes.

    def luck(self, *what: object) -> np.random.Generator:
        """Return luck that is this person's own, the same for both ways of working at the same place."""
        words = [self.shop.number, self.number, *what]
        return np.random.default_rng([int.from_bytes(str(w).encode()[:8].ljust(8), "little") for w in words])

    def next(self) -> int:
        """Return a number for the next thing that chance has a part in."""
        self._n += 1
        return self.number * 1000 + self._n

    def look(self, setting: float, minutes: float = STITCH_AND_LOOK) -> int:
        """Stitch a step at a setting and read it."""
        self.machine.setting = self.shop.scale.snap(setting)
        self.ledger.tests += minutes
        n = self.next()
        care = 0.7 if self.shop.careful else 1.6
        if isinstance(self.machine, SecondMachine):
            return self.machine.read(self.machine.stitch(n), self.luck(n), hard=self.quilt.cloth.dark, care=care)
        return read_by_eye(self.machine.stitch(n), self.luck(n), hard=self.quilt.cloth.dark, care=care)

    def label(self, number: int, yarn: Yarn) -> dict[str, object]:
        """Return what the label of a thread says, right or not."""
        if not self.shop.second:
            return yarn.label
        return {**yarn.label, "value": labeled(self.shop.number, number, float(str(yarn.label["value"])))}

    def gauge(self) -> list[tuple[float, float]]:
        """Pull three times."""
        hand = 0.025 if self.shop.careful else 0.07
        return [self.machine.pull(self.next(), hand) for _ in range(3)]

    def hang(self) -> float:
        """Feel the pull by hand: the case that hangs, creeps or drops."""
        error = 0.13 if self.shop.careful else 0.22
        return self.machine.pulls_now()[1] * float(np.exp(self.luck(self.next()).normal(0, error)))

    def put_needle_in(self, metric: int, point: str = "topstitch") -> None:
        """Put a new needle in; the minutes of it are its caller's to count, to tests or to troubles."""
        self.machine.needle, self.machine.worn = SimNeedle(metric, point), 0.0
        self.machine.faults = [f for f in self.machine.faults if f != "needle_dull_burred_bent"]
        self.ledger.needles += 1

    def check(self, cause: str) -> bool:
        """Make a check; say whether it found something and mended it, or whether it now runs otherwise."""
        machine = self.machine
        above, below = machine.pulls_now()
        if cause == "needle_dull_burred_bent":
            # A new needle runs where an old one did not, also where nobody saw what was wrong with it.
            self.ledger.needles += 1
            dull = machine.worn > 0.9 or cause in machine.faults
            machine.check(cause, self.next())
            machine.faults = [name for name in machine.faults if name != cause]
            return dull
        depth = machine.depth()
        if cause == "top_too_tight":
            return depth < -0.45 and below > 0.7 * self.usual_below
        if cause == "top_too_loose":
            return depth > 0.45 and below < 1.4 * self.usual_below and above > 40
        if cause in ("bobbin_too_tight", "bobbin_too_loose"):
            ratio = below / self.usual_below
            return ratio > 1.25 if cause == "bobbin_too_tight" else ratio < 0.78
        if cause == "groove_too_small_for_thread":
            if machine.top.diameter_mm > machine.needle.groove_mm:
                machine.needle = SimNeedle(min(125, machine.needle.metric + 10), machine.needle.point)
                self.ledger.needles += 1
                return True
            return False
        if cause == "needle_too_large_for_thread":
            if machine.top.diameter_mm / (machine.needle.metric / 250) < 0.3:
                machine.needle = SimNeedle(max(70, machine.needle.metric - 10), machine.needle.point)
                self.ledger.needles += 1
                return True
            return False
        if cause == "point_unsuited_to_direction" and cause in machine.faults:
            machine.needle = SimNeedle(machine.needle.metric, "ballpoint")
        return machine.check(cause, self.next()).found

    @property
    def usual_below(self) -> float:
        """What the bobbin ought to read here."""
        return 200.0 if self.shop.head == "longarm" else 160.0

    # The season.

    def season(self) -> Ledger:
        """Quilt all quilts."""
        for number, quilt in enumerate(self.shop.quilts):
            self.number, self.quilt, self._n = number, quilt, 0
            self.machine.top, self.machine.below = TOPS[self.quilt.top].felt, BELOWS[self.quilt.below].felt
            self.machine.cloth, self.machine.fill = self.quilt.cloth, 1.0
            self.set_up()
            off = abs(self._true_grade())
            self.ledger.quilts += 1
            self.ledger.balanced += off == 0
            self.ledger.within_one += off <= 1
            self._sew(plainly_wrong=off == 2)
        return self.ledger

    def _true_grade(self) -> int:
        faults, self.machine.faults = self.machine.faults, []
        grade = self.machine.stitch(999, 200).grade
        self.machine.faults = faults
        return grade

    def _sew(self, *, plainly_wrong: bool) -> None:
        sewn, waiting = 0.0, list(self.quilt.mishaps)
        # A setting that is plainly wrong shows after some meters, whoever sews.
        if plainly_wrong:
            self._unpick(float(self.luck("wrong").uniform(1, 4)))
            self.wrong_setting()
        segment = 0
        while sewn < self.quilt.meters - 0.01:
            if waiting and waiting[0].at_m <= sewn + 0.01:
                mishap = waiting.pop(0)
                self.machine.put_in([*self.machine.faults[:2], *mishap.faults])
                self._notice(float(self.luck("notice", len(waiting)).uniform(0.5, 3)))
                continue
            until = min(self.quilt.meters, waiting[0].at_m if waiting else self.quilt.meters, sewn + 40)
            segment += 1
            done, broke = self.machine.run(max(0.01, until - sewn), self.number * 100 + segment)
            sewn += done
            self.machine.fill = max(0.1, 1 - sewn % 90 / 90)
            if broke:
                self.ledger.breaks += 1
                self.ledger.troubles += RETHREAD
                self.sewn(done, broke.look)
                self.broke(broke.look)
            else:
                self.sewn(done, "")
                if not self.machine.sound and segment % 2 == 0:
                    self._notice(0.0)

    def _unpick(self, meters: float) -> None:
        self.ledger.unpicked += meters
        self.ledger.troubles += meters * UNPICK_METER

    def _notice(self, meters: float) -> None:
        """See, after some meters, what is wrong, and mend it."""
        seen = self.machine.see(self.next())
        told = self.shows & seen.symptoms
        if not self.machine.faults:
            told -= {"popping_or_thumping"}
        if not told:
            return
        if told & PICKED_OUT:
            self._unpick(meters)
        self.mend(set(told), set(seen.signs))

    def sewn_on(self) -> set[str]:
        """Sew on after a cure without a test, and say what is still wrong: it's seen after some meters of the quilt."""
        left = self._left()
        if left & PICKED_OUT:
            self._unpick(float(self.luck("sewn on", self._n).uniform(0.5, 3)))
        return left

    def still_wrong(self) -> set[str]:
        """Stitch a test after a cure and say what is still to be seen."""
        self.ledger.troubles += STITCH_AND_LOOK
        return self._left()

    def _left(self) -> set[str]:
        return self.shows & self.machine.see(self.next()).symptoms if self.machine.faults else set()

    def hand_over(self) -> None:
        """Have the technician put it right."""
        self.ledger.technician += 1
        self.ledger.troubles += TECHNICIAN
        self.machine.faults, self.machine.worn, self.machine.lint = [], 0.0, 0.0

    # How one works: the subclasses.

    def set_up(self) -> None:
        """Get ready for a quilt: needle, bobbin, balance."""
        raise NotImplementedError

    def wrong_setting(self) -> None:
        """The setting showed itself to be plainly wrong."""
        raise NotImplementedError

    def broke(self, look: str) -> None:
        """The thread broke and is rethreaded."""
        raise NotImplementedError

    def mend(self, symptoms: set[str], signs: set[str]) -> None:
        """Find out what is wrong."""
        raise NotImplementedError

    def sewn(self, meters: float, broke: str) -> None:
        """So many meters were sewn, and whether a break ended them."""
