"""A sheet for a class: lines to grade, machines in trouble, needles to pick; the answers apart, all by one seed."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

import numpy as np

from weftonos.core.balance.eye import confusions
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.schools import MachineKind, School
from weftonos.core.kernel.stitch import GRADES
from weftonos.core.needle.pairing import pair_needle
from weftonos.core.thread.linear_density import WeightSystem
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread
from weftonos.exchange.marks import Sheet, Stroke, Text
from weftonos.exchange.paper import day_in_words
from weftonos.exchange.report import Section, report
from weftonos.exchange.strip import PAPERS, Paper
from weftonos.knowledge import troubles
from weftonos.standins.machine.machine import SHOWS, StitchedLine
from weftonos.stations.practice.cloth import begin_cloth, stitched
from weftonos.stations.practice.fault import begin_fault, in_trouble

LINES, TROUBLES = 6, 3
_THREADS = tuple(
    Thread(fiber=fiber, construction=construction, value=wt, system=WeightSystem.WT)
    for fiber, construction, wt in (
        (Fiber.COTTON, Construction.SPUN, 50),
        (Fiber.COTTON, Construction.SPUN, 30),
        (Fiber.POLYESTER, Construction.MULTIFILAMENT, 40),
        (Fiber.SILK, Construction.MULTIFILAMENT, 100),
    )
)
_WIDE, _LEFT = 7.0, 24.0


def _strokes(line: StitchedLine, top: float) -> list[Stroke]:
    """Draw a line's front and back: stitches as strokes, what comes through from the other side as thick short ones."""
    strokes = []
    for front, y in ((True, top), (False, top + 9)):
        for n, depth in enumerate(line.depths):
            x = _LEFT + n * _WIDE
            through = -depth if front else depth
            strokes.append(Stroke(x1=x + 0.7, y1=y, x2=x + _WIDE - 0.7, y2=y, width=0.7 if through < SHOWS else 0.35))
            if through > 0.9 and not front:
                strokes += [
                    Stroke(x1=x, y1=y, x2=x - 0.8, y2=y + 2.6, width=0.5),
                    Stroke(x1=x - 0.8, y1=y + 2.6, x2=x + 0.9, y2=y + 2.6, width=0.5),
                    Stroke(x1=x + 0.9, y1=y + 2.6, x2=x + 0.2, y2=y, width=0.5),
                ]
            elif through > 0.8:
                strokes.append(Stroke(x1=x - 2, y1=y - 0.9, x2=x + 2, y2=y - 0.9, width=0.5))
            elif through > SHOWS:
                strokes.append(Stroke(x1=x, y1=y - 0.6, x2=x, y2=y + 0.6, width=1.3))
    return strokes


def class_sheet(seed: int, *, now: datetime, zone: str, paper: Paper) -> Sequence[Sheet]:
    """Return the exercises on two pages, and the answers on the last."""
    chance = np.random.default_rng([seed, 12])
    date = f"Printed {day_in_words(now, zone)}, sheet {seed}"
    items = begin_cloth(seed, 1, confusions(()))[:LINES]
    strokes: list[Stroke] = [Stroke(x1=18, y1=35, x2=192, y2=35, width=0.4)]
    words = [
        Text(x=18, y=24, text="Read the cloth", size_mm=7, bold=True),
        Text(x=18, y=31, text=f"{date}. Front above, back below. How does each line look?", size_mm=3.6),
    ]
    answers = []
    for n, item in enumerate(items, 1):
        top = 38.0 + 36 * n - 22
        strokes += _strokes(stitched(item), top)
        words.append(Text(x=18, y=top + 1, text=f"{n}", size_mm=4.6, bold=True))
        words.append(Text(x=_LEFT, y=top + 18, text="________________________________________", size_mm=3.6))
        answers.append(f"Line {n}: {GRADES[item['grade']].name}.")
    width, height = PAPERS[paper]
    first = Sheet(width=width, height=height, strokes=tuple(strokes), words=tuple(words))
    knowledge, machines, solved = troubles(), [], []
    for n in range(1, TROUBLES + 1):
        made = begin_fault(int(chance.integers(2**30)), 3 * n)
        seen = in_trouble(made).see(0)
        names = ", ".join(sorted(knowledge.findings[s].name.lower() for s in seen.symptoms))
        before = ", ".join(knowledge.findings[s].name.lower() for s in made["signs"] if s in knowledge.findings)
        machines.append(f"Machine {n}: {names}. {seen.says}{f' Before it: {before}.' if before else ''}")
        causes = [knowledge.cause(name) for name in made["faults"]]
        solved += [f"Machine {n}: {c.name.lower()} ({figure(c.minutes)} min). {c.cure}" for c in causes]
    needles, picked = [("Thread", "At a home machine", "At a longarm")], []
    for thread in _THREADS:
        named = f"{figure(thread.value)} wt {thread.fiber.value}"
        needles.append((named, "________________", "________________"))
        for kind, school in ((MachineKind.HOME, School.HOME), (MachineKind.LONGARM, School.LONGARM)):
            best = pair_needle(kind, school, Bundle((thread,))).recommended
            picked.append(f"{named}, {kind.value}: {best.size} {best.point.value}.")
    foot = (
        "From a simulated machine of our own: practice, and no real machine. Power off before hands go near the needle."
    )
    asked = report(
        "Find the fault, pick the needle",
        date,
        numbers=[("First", "Power off, foot off the pedal. Then the cheapest check that's likely to find it.")],
        sections=[
            Section(head="What is wrong? What would you check, in this order?", lines=machines, rules=3),
            Section(head="Which needle?", table=needles, apart=4),
        ],
        foot=foot,
        paper=paper,
    )
    solutions = {"Lines": answers, "Machines": solved, "Needles, two ways to do it": picked}
    told = report(
        "Answers",
        date,
        sections=[Section(head=head, lines=lines) for head, lines in solutions.items()],
        foot=foot,
        paper=paper,
    )
    return [first, *asked, *told]
