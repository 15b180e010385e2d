"""Two years of the demo workshop before its season: sixty quilts stitched on the simulated machine.

Hidden in it, for the records to find: titanium needles wear 0.28 times as fast as steel; the rayon is off an old cone
that has lost half its strength; thread is rubbed by a worn needle, so that most breaks come late in its life; and
quilts differ, since sandwiches drag differently.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from datetime import datetime, timedelta
from random import Random
from typing import Any

from weftonos.core.mend.incident import SEWN_ON
from weftonos.knowledge import troubles
from weftonos.standins.machine.laws import Head, SimCloth, SimNeedle, SimThread
from weftonos.standins.machine.machine import DIAL, READOUT, SimulatedMachine

QUILTS, YEARS = 60, 2
HEADS: dict[str, Head] = {"Heron": "longarm", "Wren": "home"}
THREADS = {
    "Samphire 50": SimThread("cotton", 20, 0.167),
    "Glasswort 40": SimThread("rayon", 25, 0.168, kind="multifilament"),
    "Saltmarsh 40": SimThread("polyester", 25, 0.178, kind="multifilament"),
    "Driftwood 40": SimThread("cotton", 25, 0.186),
}
BELOW = SimThread("polyester", 12.5, 0.126, kind="multifilament")
#: The cone that is old, and the fault that the simulated machine has for it.
OLD_CONE, AGED = "Glasswort 40", "thread_aged_or_poor"
#: How far sandwiches differ in what they drag, as the spread of a logarithm.
DRAGS = 0.3
#: Steel is mostly used until it pops; titanium is often taken out in good order when it has done its hours.
TAKEN_OUT_H = {"steel": 14.0, "titanium": 34.0}
METERS_AN_HOUR = {"Heron": 55.0, "Wren": 38.0}
_SIZE = {"metric": 90, "american": 14, "point": "topstitch"}


def history(machines: Mapping[str, str], threads: Mapping[str, str], until: datetime, seed: int) -> Iterator[Any]:
    """Yield the records of the years before ``until`` as lines, by the UUIDs of machines and threads."""
    chance = Random(f"history {seed}")
    at = until - timedelta(days=365 * YEARS)
    gap = timedelta(days=365 * YEARS - 20) / QUILTS
    needles: dict[str, _Needle] = {}
    stand_ins = {
        name: SimulatedMachine(seed + n, head, READOUT if head == "longarm" else DIAL, below=BELOW)
        for n, (name, head) in enumerate(HEADS.items())
    }

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
        machine = stand_ins[name]
        top = chance.choice(list(THREADS))
        quilt, when = f"Tideline {number + 1}", at + gap * number + timedelta(hours=chance.uniform(0, 30))
        machine.top, machine.cloth = THREADS[top], SimCloth(drag=math.exp(chance.gauss(0, DRAGS)))
        machine.put_in([AGED] if top == OLD_CONE else [])
        machine.setting = machine.scale.snap(machine.balanced_setting())
        yield record(name, when, {"kind": "top_threaded", "top": [threads[top]]})
        yield record(name, when, {"kind": "bobbin_loaded", "bobbin": threads["Limpet 80"]})
        for session in range(chance.randint(2, 4)):
            needle = needles.get(name)
            if needle is None:
                needle = needles[name] = _Needle(chance)
                machine.needle, machine.worn = SimNeedle(90, titanium=needle.finish == "titanium"), 0.0
                when += timedelta(minutes=5)
                yield record(name, when, {"kind": "needle_fitted", "finish": needle.finish, **_SIZE})
            meters = chance.uniform(0.6, 2.4) * METERS_AN_HOUR[name]
            sewn = 0.0
            breaks: list[str] = []
            while sewn < meters - 0.5 and machine.worn < needle.pops_at:
                done, broke = machine.run(meters - sewn, number * 1000 + session * 100 + len(breaks))
                sewn += done
                if broke:
                    breaks.append(broke.look)
            hours = sewn / METERS_AN_HOUR[name]
            needle.hours += hours
            when += timedelta(hours=hours)
            run = {"kind": "run", "minutes": round(hours * 60, 1), "quilt": quilt}
            yield record(name, when, {**run, "meters": round(sewn, 1)})
            for look in breaks:
                words = {"symptoms": [look], "words": troubles().findings[look].name}
                broken = record(name, when, {"kind": "incident", **words, "note": SEWN_ON})
                yield broken
                end = {"kind": "incident_outcome", "incident": broken["uid"], "outcome": "left", "note": SEWN_ON}
                yield record(name, when, end)
            if ends := needle.ends(machine.worn):
                when += timedelta(minutes=2)
                yield record(name, when, {"kind": "needle_retired", "why": ends})
                del needles[name]
            when += timedelta(hours=chance.uniform(14, 30))
    for name in needles:
        yield record(name, at + gap * QUILTS + timedelta(days=5), {"kind": "needle_retired", "why": "due"})


class _Needle:
    """A needle in work: how worn it is when it pops, and when it is taken out before."""

    def __init__(self, chance: Random) -> None:
        self.finish = "titanium" if chance.random() < 0.4 else "steel"
        self.pops_at = math.exp(chance.gauss(-0.1, 0.25))
        self._taken_out = TAKEN_OUT_H[self.finish] * chance.uniform(0.8, 1.4)
        self._why = chance.choice(("dull_sound", "dull_sound", "break"))
        self.hours = 0.0

    def ends(self, worn: float) -> str:
        """Return why it comes out, or nothing."""
        if worn >= self.pops_at:
            return self._why
        return "due" if self.hours >= self._taken_out else ""
