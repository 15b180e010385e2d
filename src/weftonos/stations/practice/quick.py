"""Which needle, which thread: quick questions from one's own drawer, with the reason after each answer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from weftonos.core.kernel.errors import CraftError
from weftonos.core.needle.groove_fit import FitState, fit_of
from weftonos.core.needle.needle import ALL_SIZES, NeedleSize, Point
from weftonos.core.needle.pairing import SIZES_IN_USE, pair_needle
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.look_wish import Ground, LookWish, Wish, answer_wish
from weftonos.core.thread.thread import Bundle
from weftonos.learned.own_records import schools_here
from weftonos.stations.practice.views import Choice, PracticeMove, Shown, Takes
from weftonos.store.workshop import Workshop

QUESTIONS = 6
#: How many sizes off a wrong answer is at least, level by level. At the last two threads share the needle.
_OFF = (3, 2, 2)
LEVELS = len(_OFF)
_WISHES = {Wish.SHOW: "show on", Wish.HIDE: "disappear in", Wish.BLEND: "blend into"}


def begin_quick(workshop: Workshop, machine_id: int, seed: int, level: int = 1) -> list[dict[str, Any]]:
    """Make the questions of a round; they keep their words, whatever becomes of the drawer."""
    chance = np.random.default_rng([seed, 6])
    drawer = [(i, t) for i, t in workshop.drawer.all_threads()]
    if not drawer:
        raise CraftError("The drawer is empty: put a few threads in at Thread first.", "exercise")
    machine, schools = workshop.machine(machine_id).spec, schools_here(workshop, machine_id)
    low, _ = SIZES_IN_USE[machine.kind]
    items: list[dict[str, Any]] = []
    for k in range(60):
        if len(items) == QUESTIONS:
            break
        _, owned = drawer[int(chance.integers(len(drawer)))]
        if k % 2 == 0 or len(drawer) < 4:
            top, called = Bundle((owned.thread,)), f"{owned.name}, {owned.words}"
            if level == LEVELS and (beside := _beside(chance, owned, drawer)):
                top, called = (
                    Bundle((owned.thread, beside.thread)),
                    f"{owned.name} with {beside.name}",
                )
            pairing = pair_needle(machine.kind, machine.size_school, top, schools=schools)
            if not pairing.through_a_needle:
                continue
            best = pairing.recommended
            at = ALL_SIZES.index(best.size)
            # The neighbors serve as well: only what is two sizes off is wrong beyond dispute.
            off_by = _OFF[level - 1]
            wrong = [
                s for s in ALL_SIZES if abs(ALL_SIZES.index(s) - at) >= off_by and low.metric - 10 <= s.metric <= 140
            ]
            if len(wrong) < 2:
                continue
            picked = [wrong[int(n)] for n in chance.choice(len(wrong), min(3, len(wrong)), replace=False)]
            names = sorted({str(best.size), *(str(s) for s in picked)}, key=lambda name: int(name.split("/")[0]))
            why = pairing.reasons[0].text
            off = {str(s): _why_not(top, s, best.point) for s in picked}
            items.append(
                {
                    "ask": f"{called}: which needle on {machine.nickname}?",
                    "choices": names,
                    "right": str(best.size),
                    "why": f"{best.size} {best.point.value}. {why}",
                    "off": off,
                }
            )
        else:
            wish = list(_WISHES)[int(chance.integers(len(_WISHES)))]
            ground = Ground.LIGHT if chance.random() < 0.5 else Ground.DARK
            ranked = answer_wish(LookWish(wish=wish, ground=ground), machine.bobbin_school, drawer)
            good = {m.name for m in ranked.matches}
            poor = [t.name for _, t in drawer if t.name not in good]
            if not ranked.matches or "the weight is right" not in ranked.matches[0].reasons or len(poor) < 2:
                continue
            best_match = ranked.matches[0]
            others = [poor[int(n)] for n in chance.choice(len(poor), min(3, len(poor)), replace=False)]
            items.append(
                {
                    "ask": f"Which thread should {_WISHES[wish]} {ground.value} fabric?",
                    "choices": sorted({best_match.name, *others}),
                    "right": best_match.name,
                    "why": f"{best_match.name}: {', '.join(best_match.reasons)}.",
                    "off": {},
                }
            )
        if any(item["ask"] == items[-1]["ask"] for item in items[:-1]):
            items.pop()
    if not items:
        raise CraftError("The drawer is too small for questions: put a few more threads in.", "exercise")
    return items


def _beside(chance: np.random.Generator, owned: DrawerThread, drawer: Sequence[tuple[int, DrawerThread]]) -> Any:
    """Return another thread to share the needle with; ``None`` where the drawer has no other fine one."""
    fine = [t for _, t in drawer if t is not owned and t.thread.density.wt >= 40]
    return fine[int(chance.integers(len(fine)))] if fine and owned.thread.density.wt >= 40 else None


def _why_not(top: Bundle, size: NeedleSize, point: Point) -> str:
    state = fit_of(top, size, point).state
    return {
        FitState.RUBS: "in that one it rubs",
        FitState.SLACK: "in that one it has play",
    }.get(state, "that isn't the one most quilters take")


def check_quick(items: Sequence[Mapping[str, Any]], moves: Sequence[Mapping[str, Any]], move: PracticeMove) -> None:
    """Raise :class:`CraftError` for an answer that was not offered."""
    if move.choice not in items[len(moves)]["choices"]:
        raise CraftError("Choose one of the answers.", "choice")


def show_quick(items: Sequence[Mapping[str, Any]], moves: Sequence[Mapping[str, Any]]) -> Shown:
    """Return the next question, and the reason of the last answer."""
    done = len(moves)
    feedback, right = "", None
    if moves:
        item, choice = items[done - 1], moves[-1]["choice"]
        right = choice == item["right"]
        off = item["off"].get(choice, "")
        feedback = f"{'Right' if right else f'Not {choice}' + (f': {off}' if off else '')}. {item['why']}"
    over = done >= len(items)
    rightly = sum(move["choice"] == item["right"] for item, move in zip(items, moves, strict=False))
    return Shown(
        ask="The round is over." if over else items[done]["ask"],
        takes=Takes.NOTHING if over else Takes.CHOICE,
        step=min(done + 1, len(items)),
        steps=len(items),
        choices=() if over else [Choice(name, name) for name in items[done]["choices"]],
        feedback=feedback,
        right=right,
        score=100 * rightly / len(items) if over else None,
        result=[f"{rightly} of {len(items)} right."] if over else (),
    )
