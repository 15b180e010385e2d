"""Where a machine's combinations balanced, from every look at them, and how far each strays from time to time."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from statistics import median

from weftonos.core.balance.combination import Combination, Key, key_of
from weftonos.core.balance.looks import Observation, on_scale
from weftonos.core.balance.posterior import OUTLIER_SHARE, BalancePrior, center_of, scale_unit
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.standing import estimate
from weftonos.core.setup.differences import reads_otherwise
from weftonos.core.setup.events import StitchedLook
from weftonos.core.setup.setup import Setup

#: In dial numbers: what the schools' value is off by from machine to machine, from thread to thread, and at random.
MACHINE_SPREAD = estimate(0.9, "dial numbers")
THREAD_SPREAD = estimate(0.9, "dial numbers")
LEFT_OVER = estimate(0.35, "dial numbers")
#: What is expected of a combination that was on before weighs as much as so many times of its own.
ANYWHERE_WEIGHS = estimate(4, "times")
#: So many combinations, the newest, say where a machine balances, and so many of the last looks at each.
MOST_RECORDS = 60
MOST_LOOKS_EACH = 12


@dataclass(frozen=True, kw_only=True)
class SewnBefore:
    """How often a combination was on before, a new bobbin or thread each time, and how often it ended good.

    Of the times after the first, ``off`` counts those whose first line was off, ``plainly_off`` plainly off.
    """

    times: int = 0
    good: int = 0
    off: int = 0
    plainly_off: int = 0

    @property
    def anywhere(self) -> float:
        """The share of cases in which it balances anywhere but where it did, drawn to what is expected."""
        weighs = ANYWHERE_WEIGHS.value
        return (OUTLIER_SHARE.value * weighs + self.plainly_off) / (weighs + self._again)

    @property
    def drift(self) -> float:
        """How far it strays from time to time, in dial numbers: what was good again and again strays less."""
        weighs = ANYWHERE_WEIGHS.value
        return LEFT_OVER.value * math.sqrt((weighs + self.off) / (weighs + self._again))

    @property
    def _again(self) -> int:
        return max(0, self.times - 1)


NEVER_SEWN = SewnBefore()


@dataclass(frozen=True, kw_only=True)
class BalanceRecord:
    """A combination that was stitched: where it balanced, under a name, and the spread of that in the scale's numbers.

    Without a spread the setting is taken as it stands.
    """

    combination: Combination
    setting: float
    name: str
    spread: float = 0.0
    looks: tuple[Observation, ...] = ()
    key: Key | None = None
    before: SewnBefore = NEVER_SEWN


def stitched_combinations(scale: TopScale, looks: Iterable[tuple[StitchedLook, Setup]]) -> list[BalanceRecord]:
    """Return where a machine's combinations balanced, from every look at them and their set-ups, newest first.

    Combinations are the same with the same threads, loft, fabric, motion and bobbin reading: the newest look names
    them, and all their looks, whatever was seen, say where they balance, about where they were stitched. One that was
    never seen balanced is known by what it was not.
    """
    newest: dict[tuple[Key, int], tuple[Combination, str]] = {}
    seen: dict[tuple[Key, int], list[Observation]] = {}
    times: dict[tuple[Key, int], dict[object, list[int]]] = {}
    groups: dict[Key, list[float | None]] = {}
    looks = list(looks)
    readings = [setup.reading.mean_mn for _, setup in looks if setup.reading]
    # A bobbin that went unread is taken to have read as this machine's others.
    about_mn = median(readings) if readings else None
    for look, setup in looks:
        threads = key_of(setup, look.motion)
        read = setup.reading.mean_mn if setup.reading else None
        key = threads, _group(groups.setdefault(threads, []), read)
        if key not in newest:
            combination = Combination.of_setup(scale, setup, look.motion, about_mn)
            if combination is None:
                continue
            newest[key] = combination, " + ".join(t.name for t in setup.top)
        times.setdefault(key, {}).setdefault((setup.top_since, setup.bobbin_since), []).append(look.grade)
        if len(seen.setdefault(key, [])) < MOST_LOOKS_EACH:
            seen[key].append(Observation(look.setting, look.grade, look.doubtful))
    found = []
    for key, (combination, name) in list(newest.items())[:MOST_RECORDS]:
        if observations := on_scale(scale, seen[key]):
            looks_at = tuple(observations)
            stitched = sum(look.setting for look in looks_at) / len(looks_at)
            about = BalancePrior(stitched, math.hypot(MACHINE_SPREAD.value, THREAD_SPREAD.value) * scale_unit(scale))
            setting, spread = center_of(scale, looks_at, about)
            found.append(
                BalanceRecord(
                    combination=combination,
                    setting=setting,
                    name=name,
                    spread=spread,
                    looks=looks_at,
                    key=key[0],
                    before=sewn_before(list(times[key].values())),
                )
            )
    return found


def sewn_before(times: Sequence[Sequence[int]]) -> SewnBefore:
    """Count how often a combination was on, from the grades of each time; both are newest first."""
    return SewnBefore(
        times=len(times),
        good=sum(grades[0] == 0 for grades in times),
        off=sum(grades[-1] != 0 for grades in times[:-1]),
        plainly_off=sum(abs(grades[-1]) == 2 for grades in times[:-1]),
    )


def _group(readings: list[float | None], read: float | None) -> int:
    """Return which of the readings a look was stitched under; one that is new is added. Unread goes with any."""
    for number, other in enumerate(readings):
        if not reads_otherwise(other, read):
            readings[number] = other if other is not None else read
            return number
    readings.append(read)
    return len(readings) - 1
