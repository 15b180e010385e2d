"""Read the cloth, and find the setting: looking at drawn stitch-outs of the simulated machine."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from weftonos.core.balance.estimate import estimate_balance
from weftonos.core.balance.eye import EyeRow
from weftonos.core.balance.looks import Observation
from weftonos.core.balance.posterior import BalancePrior
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.scale import ScaleKind, TopScale
from weftonos.core.kernel.spoken import so_many
from weftonos.core.kernel.stitch import GRADES
from weftonos.learned.practiced import reads_of
from weftonos.standins.machine.laws import SimCloth, SimNeedle, SimThread
from weftonos.standins.machine.machine import DIAL, READOUT, SimulatedMachine, StitchedLine
from weftonos.standins.machine.picture import Colors, draw, words_for
from weftonos.stations.practice.views import Choice, Picture, PracticeMove, Shown, Takes

#: Looks in a round, and stitches that are drawn of a line.
LOOKS, DRAWN = 8, 22
#: What is harder at each level: the cloth, and thread closer to it.
_CLOTHS = (
    (SimCloth(), Colors("#7a2f2f", "#2f5d50")),
    (SimCloth(dark=True), Colors("#e0d2a0", "#9fc3c9")),
    (SimCloth(print=True), Colors("#7a2f2f", "#2f5d50")),
    (SimCloth(), Colors("#b8a98c", "#a89f94")),
    (SimCloth(dark=True), Colors("#4a5a78", "#3d4c66")),
)
LEVELS = len(_CLOTHS)


def _read_on(seed: int) -> SimulatedMachine:
    """Return the machine that lines to read are sewn on."""
    return SimulatedMachine(seed, "home", DIAL, needle=SimNeedle(90))


def _line_of(seed: int, grade: int) -> tuple[int, float]:
    """Return the number and setting of a stretch that has this grade, on the machine of a seed."""
    machine = _read_on(seed)
    center = machine.balanced_setting()
    chance = np.random.default_rng([seed, 5])
    for n in range(600):
        setting = float(np.clip(center - grade * chance.uniform(0.4, 3.2), 0, 10)) if grade else center
        machine.setting = setting
        if machine.stitch(n, DRAWN).grade == grade:
            return n, setting
    raise CraftError("This machine can't sew such a stitch. Start another round.", "seed")


def begin_cloth(seed: int, level: int, before: Sequence[EyeRow]) -> list[dict[str, Any]]:
    """Lay out a round: each grade once, so that no one answer passes, and what was misread more often."""
    chance = np.random.default_rng([seed, level])
    weights = np.array([1 + 4 * (row.looks - row.read[n]) / max(4, row.looks) for n, row in enumerate(before)])
    oftener = chance.choice(sorted(GRADES), LOOKS - len(GRADES), p=weights / weights.sum())
    grades = chance.permutation([*sorted(GRADES), *oftener])
    items = []
    for k, grade in enumerate(grades):
        for more in range(40):
            number = (seed * 97 + k * 13 + more * 1009) % (2**31)
            try:
                n, setting = _line_of(number, int(grade))
            except CraftError:
                continue
            items.append({"seed": number, "n": n, "setting": setting, "grade": int(grade)})
            break
    return items


def stitched(item: Mapping[str, Any]) -> StitchedLine:
    """Return the line of one look of a round."""
    machine = _read_on(item["seed"])
    machine.setting = item["setting"]
    return machine.stitch(item["n"], DRAWN)


def _drawn(line: StitchedLine, level: int, seed: int) -> Picture:
    cloth, colors = _CLOTHS[min(level, LEVELS) - 1]
    return Picture(svg=draw(line, cloth, colors, seed), words=words_for(line))


def show_cloth(items: Sequence[Mapping[str, Any]], moves: Sequence[Mapping[str, Any]], level: int) -> Shown:
    """Return the next line to grade, and the truth of the last one beside it."""
    done = len(moves)
    feedback, right, last = "", None, None
    if moves:
        item, read = items[done - 1], int(moves[-1]["choice"])
        facts, right = GRADES[item["grade"]], read == item["grade"]
        line = stitched(item)
        last = _drawn(line, level, item["seed"])
        where = "Look at the front" if line.front > line.back else "Look at the back" if line.back else "Nothing shows"
        there = f"{facts.name.capitalize()}: front {facts.front}, back {facts.back}."
        feedback = f"{'Right' if right else f'You read “{GRADES[read].name}”'}. {there} {where}."
    over = done >= len(items)
    rightly = sum(read.true == read.read for read in reads_of(items, moves))
    picture = None if over else _drawn(stitched(items[done]), level, items[done]["seed"])
    return Shown(
        ask="How is this line? Front above, back below." if picture else "The round is over.",
        takes=Takes.CHOICE if picture else Takes.NOTHING,
        step=min(done + 1, len(items)),
        steps=len(items),
        picture=picture,
        choices=[Choice(str(g), GRADES[g].name) for g in sorted(GRADES)] if picture else (),
        feedback=feedback,
        right=right,
        last=last,
        score=100 * rightly / len(items) if over else None,
        result=[f"{rightly} of {len(items)} read right."] if over else (),
    )


# Find the setting ------------------------------------------------------------------------------------------------

_STARTS = {"home": (5.0, 3.5, 1.5), "longarm": (200.0, 190.0, 40.0)}
MOST_STITCHES = 15


def begin_setting(seed: int, level: int) -> dict[str, Any]:
    """Return a machine with a hidden balance: a dial first, then a readout, then with fine or heavy thread."""
    chance = np.random.default_rng([seed, level, 3])
    head = "longarm" if level % 2 == 0 else "home"
    fiber = "cotton" if level < 3 else str(chance.choice(["cotton", "polyester", "rayon", "metallic"]))
    return {"seed": seed, "head": head, "fiber": fiber}


def _machine(item: Mapping[str, Any]) -> SimulatedMachine:
    home = item["head"] == "home"
    top = SimThread(item["fiber"], 22.0, 0.175)
    return SimulatedMachine(
        item["seed"], item["head"], DIAL if home else READOUT, top=top, needle=SimNeedle(90 if home else 100)
    )


def _scale(item: Mapping[str, Any]) -> TopScale:
    own = _machine(item).scale
    kind = ScaleKind.DIAL if item["head"] == "home" else ScaleKind.READOUT
    return TopScale(kind=kind, low=own.low, high=own.high, step=own.step)


def check_setting(item: Mapping[str, Any], move: PracticeMove) -> None:
    """Raise :class:`CraftError` for a setting that the machine does not have."""
    if move.choice == "leave":
        return
    if move.setting is None:
        raise CraftError("Say where to stitch, or leave it where it is.", "setting")
    _scale(item).check(move.setting)


def _true_grade(item: Mapping[str, Any], setting: float) -> int:
    machine = _machine(item)
    machine.setting = setting
    return machine.stitch(9999, 300).grade


def by_program(item: Mapping[str, Any]) -> tuple[int, float]:
    """Return how many stitches the program takes on this machine, and where it leaves it."""
    machine, scale = _machine(item), _scale(item)
    _, center, spread = _STARTS[item["head"]]
    looks: list[Observation] = []
    prior = BalancePrior(center, spread)
    found = estimate_balance(scale, prior, looks)
    while not found.sure and len(looks) < MOST_STITCHES:
        machine.setting = scale.snap(found.act_at)
        looks.append(Observation(machine.setting, machine.stitch(len(looks), DRAWN).grade))
        found = estimate_balance(scale, prior, looks)
    return len(looks), scale.snap(found.act_at if found.sure else found.set_to)


def show_setting(item: Mapping[str, Any], moves: Sequence[Mapping[str, Any]], level: int) -> Shown:
    """Return the line as it was stitched at the last setting, or how the round ended."""
    scale = _scale(item)
    sewn = [m for m in moves if m.get("setting") is not None]
    now = sewn[-1]["setting"] if sewn else _STARTS[item["head"]][0]
    left = bool(moves) and (moves[-1].get("choice") == "leave" or len(sewn) >= MOST_STITCHES)
    picture = None
    if sewn:
        machine = _machine(item)
        machine.setting = now
        picture = _drawn(machine.stitch(len(sewn) - 1, DRAWN), level, item["seed"])
    result: list[str] = []
    score = None
    if left:
        steps, theirs = by_program(item)
        mine, its = _true_grade(item, now), _true_grade(item, theirs)
        count = max(1, len(sewn))
        score = 0.0 if mine else 100 * min(1.0, max(1, steps) / count)
        result = [
            f"You: {so_many(len(sewn), 'line')}, left at {scale.words(now)}: {GRADES[mine].name}.",
            f"The program on the same machine: {so_many(steps, 'line')}, left at {scale.words(theirs)}: "
            f"{GRADES[its].name}.",
            f"Its balance lies at {scale.words(scale.snap(_machine(item).balanced_setting()))}.",
        ]
    thread = f"A {item['head']} machine with {item['fiber']}."
    return Shown(
        ask="The round is over." if left else f"{thread} Where is its balance?",
        takes=Takes.NOTHING if left else Takes.SETTING,
        step=len(sewn),
        steps=None,
        picture=picture,
        choices=() if left else [Choice("leave", f"Leave it at {scale.words(now)}")],
        setting=now,
        low=scale.low,
        high=scale.high,
        by=scale.step,
        told=[f"{scale.words(m['setting'])} stitched" for m in sewn],
        score=score,
        result=result,
    )
