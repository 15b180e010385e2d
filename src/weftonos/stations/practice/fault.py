"""Find the fault: a machine in trouble, checks that cost their minutes, the power off before the hand goes in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.feature import OF_KIND
from weftonos.core.kernel.schools import MachineKind
from weftonos.core.mend.diagnosis import CheckAnswer, Inquiry, Observed, diagnose
from weftonos.core.mend.trouble import Cause, FindingKind
from weftonos.knowledge import troubles
from weftonos.standins.machine.faults import FAULTS
from weftonos.standins.machine.machine import SimulatedMachine
from weftonos.stations.practice.views import Choice, PracticeMove, Shown, Takes

LEVELS = 10
#: Minutes of a test line and of the switch.
STITCH_MIN, SWITCH_MIN = 1.0, 0.1
SWITCH, STITCH, GIVE_UP = "switch", "stitch", "give_up"
CHECKS_IN_A_ROUND = 60


def begin_fault(seed: int, level: int) -> dict[str, Any]:
    """Return a machine in trouble: one everyday fault at first, at last two at once with a false trail."""
    if not 1 <= level <= LEVELS:
        raise CraftError(f"There are levels 1 to {LEVELS}.", "level")
    chance = np.random.default_rng([seed, level, 8])
    technician = {cause.id for cause in troubles().causes if cause.technician}
    names = [name for name in FAULTS if name not in technician]
    power = np.array([FAULTS[name].common for name in names])
    # Rarer faults from level to level.
    weights = power ** (1.5 - 0.25 * level)
    for more in range(200):
        number = (seed + more * 7919) % (2**31)
        count = 2 if level >= 7 else 1
        faults = [str(f) for f in chance.choice(names, count, replace=False, p=weights / weights.sum())]
        seen = in_trouble({"seed": number, "faults": faults}).see(0)
        if seen.symptoms:
            after = {a for other in chance.choice(names, 2) for a in FAULTS[str(other)].after} if level >= 9 else set()
            wide = 8 + 2 * level
            offered = {*faults, *(str(n) for n in chance.choice(names, min(wide, len(names)), replace=False))}
            return {
                "seed": number,
                "faults": faults,
                "signs": sorted({*seen.signs, *after}),
                "offered": sorted(offered),
            }
    raise CraftError("This seed has no machine in trouble. Take another.", "seed")


def in_trouble(item: Mapping[str, Any]) -> SimulatedMachine:
    """Return the machine of a round as it stands at its start: in balance, with its faults."""
    machine = SimulatedMachine(item["seed"])
    machine.setting = machine.scale.snap(machine.balanced_setting())
    machine.put_in(item["faults"])
    return machine


def check_fault(item: Mapping[str, Any], moves: Sequence[Mapping[str, Any]], move: PracticeMove) -> None:
    """Raise :class:`CraftError` for a move that there is not."""
    if move.choice not in {SWITCH, STITCH, GIVE_UP, *item["offered"]}:
        raise CraftError("Choose one of the checks.", "choice")
    if move.choice == STITCH and not _power(moves):
        raise CraftError("Switch the machine on to stitch.", "choice")


def _power(moves: Sequence[Mapping[str, Any]]) -> bool:
    switched = [move for move in moves if move["choice"] == SWITCH]
    return len(switched) % 2 == 0


def show_fault(item: Mapping[str, Any], moves: Sequence[Mapping[str, Any]]) -> Shown:
    """Play the moves and return where it stands."""
    knowledge = troubles()
    machine, on, minutes = in_trouble(item), True, 0.0
    seen = machine.see(0)
    told, feedback, right, ended = [], "", None, ""
    for n, move in enumerate(moves, 1):
        choice = move["choice"]
        if choice == SWITCH:
            on, minutes = not on, minutes + SWITCH_MIN
            feedback, right = f"The power is {'on' if on else 'off'}.", None
        elif choice == STITCH:
            minutes += STITCH_MIN
            seen = machine.see(n)
            feedback, right = _words(seen.symptoms, seen.says), not seen.symptoms
            if machine.sound:
                ended = "mended"
        elif choice == GIVE_UP:
            ended = "given up"
        else:
            cause = knowledge.cause(choice)
            if on and cause.hands:
                ended = "hands"
                break
            minutes += cause.minutes
            found = machine.check(choice, n).found
            right = found
            feedback = f"{cause.name}: {'found, and mended. Stitch a line.' if found else 'not it.'}"
            told.append(f"{cause.name}: {'found' if found else 'not it'}")
    score, result = None, []
    if ended:
        program, habit = by_program(item), by_habit(item)
        names = " and ".join(knowledge.cause(name).name.lower() for name in item["faults"])
        score = 100 * min(1.0, max(0.5, program) / max(0.5, minutes)) if ended == "mended" else 0.0
        how = {
            "mended": f"Mended in {figure(minutes, 1)} minutes.",
            "given up": f"Left after {figure(minutes, 1)} minutes.",
            "hands": "Hands near the needle with the power on: the round ends here. Power off first, always.",
        }[ended]
        result = [
            how,
            f"It was: {names}.",
            f"The program takes {figure(program, 1)} minutes on this machine, cheapest first {figure(habit, 1)}.",
        ]
    checks = [knowledge.cause(name) for name in item["offered"]]
    choices = [
        Choice(SWITCH, f"Switch it {'off' if on else 'on'}", f"{figure(SWITCH_MIN)} min"),
        Choice(STITCH, "Stitch a line and look", f"{figure(STITCH_MIN)} min"),
        *(Choice(c.id, c.name, f"{figure(c.minutes)} min") for c in checks),
        Choice(GIVE_UP, "Leave it"),
    ]
    signs = [knowledge.findings[name].name for name in item["signs"] if name in knowledge.findings]
    known = [f"Seen: {_words(seen.symptoms, seen.says)}", *([f"Before it: {', '.join(signs)}."] if signs else [])]
    return Shown(
        ask="The round is over." if ended else f"The power is {'on' if on else 'off'}. What do you check?",
        takes=Takes.NOTHING if ended else Takes.CHOICE,
        step=len(moves),
        steps=None,
        choices=() if ended else choices,
        about=known,
        told=[f"{figure(minutes, 1)} minutes.", *told],
        feedback=feedback,
        right=right,
        score=score,
        result=result,
    )


def _words(symptoms: frozenset[str], says: str) -> str:
    knowledge = troubles()
    names = ", ".join(sorted(knowledge.findings[name].name.lower() for name in symptoms))
    return f"{names or 'nothing wrong to be seen'}. {says}"


def by_program(item: Mapping[str, Any]) -> float:
    """Return the minutes that the program's own order takes, with the same luck; each find is proved with a line."""
    machine, minutes = in_trouble(item), SWITCH_MIN
    knowledge = troubles().at(OF_KIND[MachineKind.LONGARM])
    seen = machine.see(0).symptoms
    signs = set(item["signs"]) & set(knowledge.findings)
    for _ in range(3):
        answers: dict[str, CheckAnswer] = {}
        twice: frozenset[str] = frozenset()
        for n in range(CHECKS_IN_A_ROUND):
            evidence = Observed.of(knowledge, {*seen, *signs} & set(knowledge.findings))
            inquiry = Inquiry(evidence=evidence, answers=answers, twice=twice, thorough=True)
            says = diagnose(knowledge, inquiry)
            if says.next is None:
                return minutes + 60.0
            minutes += says.next.minutes
            if machine.check(says.next.cause, n).found:
                break
            twice |= {says.next.cause} if says.next.again else set()
            answers[says.next.cause] = CheckAnswer.NOT_IT
        minutes += STITCH_MIN + 2 * SWITCH_MIN
        seen = machine.see(90).symptoms
        if machine.sound or not seen:
            break
    return minutes


def _minutes(cause: Cause) -> float:
    return cause.minutes


def by_habit(item: Mapping[str, Any]) -> float:
    """Return the minutes of the checks that mention what is seen, cheapest first, then of the others."""
    machine, minutes = in_trouble(item), SWITCH_MIN
    knowledge = troubles().at(OF_KIND[MachineKind.LONGARM])
    seen = machine.see(0).symptoms
    names = {n for n in seen if n in knowledge.findings and knowledge.findings[n].kind is FindingKind.SYMPTOM}
    mine = [c for c in knowledge.causes if not c.technician]
    for _ in range(3):
        first, rest = knowledge.mentioning_first(mine, names)
        for n, cause in enumerate([*sorted(first, key=_minutes), *sorted(rest, key=_minutes)]):
            minutes += cause.minutes
            if machine.check(cause.id, n).found:
                break
        minutes += STITCH_MIN + 2 * SWITCH_MIN
        names = set(machine.see(90).symptoms)
        if machine.sound or not names:
            break
    return minutes
