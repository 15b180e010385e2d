"""What do you want to see? From the wished look to weights, fibers, bobbin, and the threads in the drawer."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from weftonos.core.kernel.advice import Reason
from weftonos.core.kernel.schools import BOBBIN_SCHOOLS, BobbinSchool
from weftonos.core.kernel.standing import Known, estimate, practice
from weftonos.core.thread.drawer import NO_COLOR, DrawerThread, ThreadFinish, is_light
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.thread import Fiber, sheds_lint


class Wish(StrEnum):
    """What the stitching should do."""

    SHOW = "show"
    BLEND = "blend"
    HIDE = "hide"
    MICRO = "micro"


class Ground(StrEnum):
    """Whether the fabric is light or dark."""

    LIGHT = "light"
    DARK = "dark"


#: Weights in wt for each look, finest and heaviest (common practice).
WEIGHTS: dict[Wish, tuple[Known, Known]] = {
    Wish.SHOW: (practice(40, "wt"), practice(12, "wt")),
    Wish.BLEND: (practice(50, "wt"), practice(40, "wt")),
    Wish.HIDE: (practice(100, "wt"), practice(60, "wt")),
    Wish.MICRO: (practice(100, "wt"), practice(60, "wt")),
}
#: On busy fabric the finest that still shows.
SHOWS_ON_BUSY = estimate(30, "wt")
#: A thread that meets a wish less than this is not shown.
GOOD_MATCH = estimate(0.5)
#: How the score falls with the ratio by which a weight misses its range: 1 at the edge, 0 at ``OFF_AT_MOST``.
FALLS_BY = estimate(0.6, "of the score for each time the weight")
OFF_AT_MOST = estimate(2.6, "times")
#: Penalty factor for each unmet part of a wish.
LEFT = {
    "clear thread that should show": estimate(0.4),
    "close to the fabric's tone, to show": estimate(0.7),
    "contrast, to blend or hide": estimate(0.7),
    "glitter, to blend or hide": estimate(0.1),
    "shines, to blend or hide": estimate(0.85),
    "the other sheen": estimate(0.6),
    "sheds lint": estimate(0.5),
    "nylon": estimate(0.7),
}
MOST_SHOWN = 8
#: What a thread that nobody rated counts as.
MIDDLE_RATING = estimate(3, "of 5")
_WHY = {
    Wish.SHOW: "To show: 40 wt and thicker. 30 and 19 add body, 12 is about the heaviest that goes through a needle.",
    Wish.BLEND: "General quilting: 40 to 50 wt.",
    Wish.HIDE: "To disappear: 60 to 100 wt.",
    Wish.MICRO: "Micro and background filling: 60 to 100 wt. 100 silk and 60 polyester are the usual ones.",
}


@dataclass(frozen=True, kw_only=True)
class LookWish:
    """The wish, the fabric, and whether lint and sheen are welcome (``None``: no matter)."""

    wish: Wish
    ground: Ground = Ground.LIGHT
    busy: bool = False
    little_lint: bool = False
    sheen: bool | None = None


@dataclass(frozen=True)
class Ran:
    """How often a thread breaks in an hour on this machine, and the count that rests on."""

    per_hour: float
    text: str


@dataclass(frozen=True, kw_only=True)
class Match:
    """A thread of the drawer with how well it meets the wish, 0 to 1, and why or why not."""

    id: int
    name: str
    words: str
    color: str
    score: float
    reasons: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class LookAnswer:
    """Weights in wt (finest, heaviest), fibers, the bobbin, and the drawer's best."""

    finest_wt: float
    heaviest_wt: float
    fibers: tuple[str, ...]
    bobbin: str
    reasons: tuple[Reason, ...]
    matches: tuple[Match, ...]


def answer_wish(
    wish: LookWish,
    school: BobbinSchool,
    drawer: Sequence[tuple[int, DrawerThread]],
    *,
    cotton_in_cotton: bool = False,
    ran: Mapping[int, Ran] | None = None,
    usual: float | None = None,
) -> LookAnswer:
    """Advise weights, fibers and bobbin for a look, and rank the drawer's threads by it.

    With ``cotton_in_cotton`` cotton comes before what meets the wish as well (one school of the quilt's fiber). Of
    threads that meet it alike the one comes first that breaks least on this machine, by ``ran``; what has never been on
    it is taken to break as is ``usual``. Without ``usual`` the records stand beside the answer and order nothing. Then
    its owner's rating tells, and what a meter costs; never the alphabet.
    """
    ran = ran or {}
    finest, heaviest = (known.value for known in WEIGHTS[wish.wish])
    unmet = "Nothing in the drawer fits this well."
    reasons = [Reason(text=_WHY[wish.wish], rule=f"look_{wish.wish.value}")]
    if wish.busy and wish.wish is Wish.SHOW:
        reasons.append(
            Reason(text="Busy fabric swallows thin thread: the heavier end, or a strong contrast.", rule="busy_fabric")
        )
        finest = SHOWS_ON_BUSY.value
    elif wish.busy:
        reasons.append(Reason(text="On busy fabric small faults and ends do not show.", rule="busy_fabric"))
    if wish.wish in (Wish.HIDE, Wish.BLEND):
        side = "clear monofilament or a light thread" if wish.ground is Ground.LIGHT else "smoke or a dark thread"
        reasons.append(Reason(text=f"On {wish.ground.value} fabric: {side} close to its color.", rule="match_ground"))
    if wish.wish is Wish.SHOW:
        other = "dark" if wish.ground is Ground.LIGHT else "light"
        reasons.append(Reason(text=f"On {wish.ground.value} fabric a {other} thread stands out.", rule="contrast"))
    fibers = _fibers(wish)
    if wish.little_lint:
        reasons.append(Reason(text="Filament polyester sheds least, cotton most.", rule="lint"))

    def liked(match: Match) -> float:
        if usual is None:
            return 0.0
        return ran[match.id].per_hour if match.id in ran else usual

    def valued(match: Match) -> tuple[float, float]:
        """Return its owner's rating, the best first, then what a meter costs."""
        owned = owners[match.id]
        per_m = owned.price / owned.length_m if owned.price is not None and owned.length_m else math.inf
        return -(MIDDLE_RATING.value if owned.rating is None else owned.rating), per_m

    owners = dict(drawer)
    judged = (_match(thread_id=i, owned=t, wish=wish, finest=finest, heaviest=heaviest) for i, t in drawer)
    cotton = {i for i, t in drawer if t.thread.fiber is Fiber.COTTON} if cotton_in_cotton else set[int]()
    good = (m for m in judged if m and m.score >= GOOD_MATCH.value)
    best = sorted(good, key=lambda m: (m.id not in cotton and cotton_in_cotton, -m.score, liked(m), valued(m), m.id))
    shown = [_with_record(m, ran.get(m.id)) for m in best[:MOST_SHOWN]]
    if not best:
        reasons.append(Reason(text=unmet, rule="drawer_has_none"))
    return LookAnswer(
        finest_wt=finest,
        heaviest_wt=heaviest,
        fibers=fibers,
        bobbin=BOBBIN_SCHOOLS[school],
        reasons=tuple(reasons),
        matches=tuple(shown),
    )


def _with_record(match: Match, ran: Ran | None) -> Match:
    return match if ran is None else replace(match, reasons=(*match.reasons, ran.text))


def _fibers(wish: LookWish) -> tuple[str, ...]:
    if wish.wish is Wish.MICRO:
        fine = ["fine polyester"] if wish.little_lint else ["silk", "fine polyester", "fine cotton"]
        return tuple(fine)
    matte = ["spun or core-spun polyester"] if wish.little_lint else ["cotton", "spun or core-spun polyester"]
    shining = ["trilobal polyester", "rayon", "silk"]
    if wish.wish is Wish.SHOW:
        # What catches the light shows; what is matte sinks in.
        names = (shining if wish.sheen is not False else []) + (matte if wish.sheen is not True else [])
        return (*names, "metallic") if wish.sheen else tuple(names)
    names = ["silk", "trilobal polyester"] if wish.sheen else matte
    if wish.wish is Wish.HIDE and not wish.sheen:
        clear = "clear polyester monofilament" if wish.ground is Ground.LIGHT else "smoke polyester monofilament"
        names = [clear, "silk and very fine polyester", *names]
    return tuple(names)


def is_glossy(thread: DrawerThread) -> bool:
    """Say whether a thread shines."""
    shines = nature_of(thread.thread).sheen in ("gloss", "soft", "glitter")
    return shines or thread.finish in (ThreadFinish.TRILOBAL, ThreadFinish.GLAZED)


def _match(thread_id: int, owned: DrawerThread, wish: LookWish, finest: float, heaviest: float) -> Match | None:
    thread, score, why = owned.thread, 1.0, []
    # To a tenth: a label of 60 wt is 59.999 by its tex.
    wt = round(thread.density.wt, 1)
    if heaviest <= wt <= finest:
        why.append("the weight is right")
    else:
        off = wt / finest if wt > finest else heaviest / wt
        score *= max(0.0, 1 - FALLS_BY.value * (off - 1)) if off < OFF_AT_MOST.value else 0.0
        why.append("finer than usual for this" if wt > finest else "heavier than usual for this")
    if score < GOOD_MATCH.value:
        # Nothing below raises a score; most of a large drawer ends here.
        return None
    light = is_light(owned.color)
    colored = owned.color != NO_COLOR
    stands_out = colored and light is (wish.ground is Ground.DARK)
    if nature_of(thread).glitters:
        score *= 1.0 if wish.wish is Wish.SHOW else LEFT["glitter, to blend or hide"].value
        why.append("glitters" if wish.wish is Wish.SHOW else "glitters: it blends into nothing")
    elif thread.is_monofilament:
        score *= 1.0 if wish.wish is Wish.HIDE and not stands_out else LEFT["clear thread that should show"].value
        why.append("clear" if light else "smoke")
    elif not colored:
        why.append("its color is not noted")
    elif wish.wish is Wish.SHOW:
        score *= 1.0 if stands_out else LEFT["close to the fabric's tone, to show"].value
        why.append("stands out on this fabric" if stands_out else "close to the fabric's own tone")
    elif stands_out:
        score *= LEFT["contrast, to blend or hide"].value
        why.append("contrasts with the fabric")
    if wish.sheen is not None and is_glossy(owned) is not wish.sheen:
        score *= LEFT["the other sheen"].value
        why.append("shines" if is_glossy(owned) else "is matte")
    if wish.sheen is None and wish.wish in (Wish.HIDE, Wish.BLEND) and is_glossy(owned):
        score *= LEFT["shines, to blend or hide"].value
    if wish.little_lint and sheds_lint(thread):
        score *= LEFT["sheds lint"].value
        why.append("sheds lint")
    if thread.fiber is Fiber.WASH_AWAY:
        score = 0.0
    if thread.fiber is Fiber.NYLON:
        score *= LEFT["nylon"].value
        why.append("nylon yellows and melts: prefer polyester")
    return Match(
        id=thread_id,
        name=owned.name,
        words=owned.words,
        color=owned.color,
        score=round(score, 3),
        reasons=tuple(why),
    )
