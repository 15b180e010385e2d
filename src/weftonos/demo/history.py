"""Two years of the demo workshop before its season: sixty quilts' worth of stitching, breaks and needles.

Hidden in it, for the records to find: titanium needles last 2.2 times as long as steel and wear out (Weibull, shape 2);
rayon breaks thread four times as often as cotton; on the home machine everything breaks half as often again; and quilts
differ (a gamma factor with variance 0.3).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import datetime, timedelta
from random import Random
from typing import Any

from weftonos.core.mend.incident import SEWN_ON

QUILTS, YEARS = 60, 2
#: What is hidden: hours a needle lasts by its finish, their shape, breaks an hour by thread, and of each machine.
LASTS_H, SHAPE = {"steel": 9.0, "titanium": 20.0}, 2.0
BREAKS_AN_HOUR = {"Samphire 50": 0.10, "Glasswort 40": 0.40, "Saltmarsh 40": 0.16, "Driftwood 40": 0.12}
OF_MACHINE = {"Heron": 1.0, "Wren": 1.5}
QUILTS_DIFFER = 0.3
#: Steel is often taken out in good order when its time is up; titanium is mostly used until it pops.
TAKEN_OUT_H = {"steel": 11.0, "titanium": 24.0}
METRES_AN_HOUR = {"Heron": 55.0, "Wren": 38.0}
_SIZE = {"metric": 90, "american": 14, "point": "topstitch"}


def history(machines: Mapping[str, str], threads: Mapping[str, str], until: datetime, seed: int) -> Iterator[Any]:
    """Yield the records of the years before ``until`` as lines, by the UUIDs of machines and threads."""
    chance = Random(f"history {seed}")
    at = until - timedelta(days=365 * YEARS)
    gap = timedelta(days=365 * YEARS - 20) / QUILTS
    needles: dict[str, _Needle] = {}

    def record(machine: str, when: datetime, document: dict[str, Any]) -> dict[str, Any]:
        moment = when.isoformat()
        return {
            "what": "record",
            "uid": f"{chance.getrandbits(128):032x}",
            "version": 1,
            "struck_at": None,
            "machine": machines[machine],
            "kind": document["kind"],
            "at": moment,
            "noted_at": moment,
            "document": document,
            "revisions": [],
        }

    for number in range(QUILTS):
        name = "Heron" if chance.random() < 0.6 else "Wren"
        top = chance.choice(list(BREAKS_AN_HOUR))
        quilt, when = f"Tideline {number + 1}", at + gap * number + timedelta(hours=chance.uniform(0, 30))
        factor = chance.gammavariate(1 / QUILTS_DIFFER, QUILTS_DIFFER)
        hourly = BREAKS_AN_HOUR[top] * OF_MACHINE[name] * factor
        yield record(name, when, {"kind": "top_threaded", "top": [threads[top]]})
        yield record(name, when, {"kind": "bobbin_loaded", "bobbin": threads["Limpet 80"]})
        for _ in range(chance.randint(2, 4)):
            needle = needles.get(name)
            if needle is None:
                needle = needles[name] = _Needle(chance)
                when += timedelta(minutes=5)
                yield record(name, when, {"kind": "needle_fitted", "finish": needle.finish, **_SIZE})
            hours = chance.uniform(0.6, 2.4)
            ends = needle.sewn(hours)
            hours = max(0.1, hours - max(0.0, needle.hours - needle.trouble_at))
            when += timedelta(hours=hours)
            run = {"kind": "run", "minutes": round(hours * 60, 1), "quilt": quilt}
            yield record(name, when, {**run, "metres": round(hours * METRES_AN_HOUR[name], 1)})
            for _ in range(_poisson(chance, hourly * hours)):
                words = {"symptoms": ["clean_snap_of_the_top_thread"], "words": "Clean snap of the top thread"}
                broke = record(name, when, {"kind": "incident", **words, "note": SEWN_ON})
                yield broke
                end = {"kind": "incident_outcome", "incident": broke["uid"], "outcome": "left", "note": SEWN_ON}
                yield record(name, when, end)
            if ends:
                when += timedelta(minutes=2)
                yield record(name, when, {"kind": "needle_retired", "why": ends})
                del needles[name]
            when += timedelta(hours=chance.uniform(14, 30))
    for name in needles:
        yield record(name, at + gap * QUILTS + timedelta(days=5), {"kind": "needle_retired", "why": "due"})


class _Needle:
    """A needle in work: when trouble comes, and when it is taken out before."""

    def __init__(self, chance: Random) -> None:
        self.finish = "titanium" if chance.random() < 0.4 else "steel"
        self.trouble_at = chance.weibullvariate(LASTS_H[self.finish], SHAPE)
        self._taken_out = TAKEN_OUT_H[self.finish] * chance.uniform(0.8, 1.4)
        self._ends = chance.choice(("dull_sound", "dull_sound", "break"))
        self.hours = 0.0

    def sewn(self, hours: float) -> str:
        """Stitch with it; return why it comes out, or nothing."""
        self.hours += hours
        if self.hours >= self.trouble_at:
            return self._ends
        return "due" if self.hours >= self._taken_out else ""


def _poisson(chance: Random, mean: float) -> int:
    """Return a Poisson count by counting waiting times."""
    count, waited = 0, chance.expovariate(1)
    while waited < mean:
        count, waited = count + 1, waited + chance.expovariate(1)
    return count
