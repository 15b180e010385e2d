"""One to four threads through one needle: what they make together, and what goes below."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.advice import Reason
from weftonos.core.kernel.errors import CraftError
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import BOBBIN_SCHOOLS, BobbinSchool, MachineKind, School, Schools
from weftonos.core.kernel.standing import estimate, practice
from weftonos.core.needle.pairing import NeedleChoice, against_bobbin, pair_needle
from weftonos.core.thread.drawer import DrawerThread
from weftonos.core.thread.guide import holes_to_use
from weftonos.core.thread.linear_density import WT_TIMES_TEX
from weftonos.core.thread.nature import nature_of
from weftonos.core.thread.thread import HEAVIEST_THROUGH_A_NEEDLE, THICKER_BELOW_IS_BOBBIN_WORK, Bundle, Fiber, Thread

#: Dedicated bobbin threads, finest and heaviest, and what a bundle of heavy threads is run over.
FINER_BOBBIN = (practice(80, "wt"), practice(60, "wt"))
BUNDLE_BOBBIN = practice(80, "wt")
#: Like to like: this cotton under cotton as heavy and heavier, this polyester under polyester; the finest that does.
LIKE_BELOW = {Fiber.COTTON: practice(50, "wt"), Fiber.POLYESTER: practice(60, "wt")}
#: The silk that goes below clear thread where that is the school.
SILK_BELOW_CLEAR = practice(100, "wt")
LIKE_TO = estimate(60, "wt")
LABEL_ROUNDING = estimate(1.05, "times")


@dataclass(frozen=True, kw_only=True)
class BobbinWeight:
    """Weights to have below, finest and heaviest in wt, what the other school would have, and why."""

    finest_wt: float
    heaviest_wt: float
    text: str
    other: str

    def serves(self, thread: Thread) -> bool:
        """Say whether a thread is of these weights, give or take a label's rounding, and one that goes below."""
        wt = thread.density.wt
        near = self.heaviest_wt / LABEL_ROUNDING.value <= wt <= self.finest_wt * LABEL_ROUNDING.value
        return near and not thread.is_metallic and not thread.is_monofilament


def goes_below(advised: BobbinWeight, top: Bundle, owned: DrawerThread, schools: Schools) -> bool:
    """Say whether a thread of the drawer goes below this top, by its weight and the schools of fiber and clear thread.

    Like to like is cotton under cotton and no cotton under anything else; clear thread goes below clear thread alone,
    where that is the school.
    """
    below, clear = owned.thread, all(t.is_monofilament for t in top.threads)
    if below.is_monofilament:
        return schools.takes("clear_below") == "below_too" and clear
    if clear and schools.takes("clear_below") == "silk":
        return below.fiber is Fiber.SILK and advised.serves(below)
    if schools.takes("fiber_below") == "like":
        cotton = all(t.fiber is Fiber.COTTON for t in top.threads)
        if (below.fiber is Fiber.COTTON) is not cotton:
            return False
    if schools.takes("bobbin") == "same" and top.single and not nature_of(top.threads[0]).below:
        # The same thread is one of the same fiber, not one of its weight alone.
        return below.fiber is top.threads[0].fiber and advised.serves(below)
    return advised.serves(below)


@dataclass(frozen=True, kw_only=True)
class BundleAdvice:
    """Total size, needle, holes of a three-hole guide, and the bobbin."""

    tex: float
    wt: float
    diameter_mm: float
    needle: NeedleChoice
    through_a_needle: bool
    holes: int
    bobbin: BobbinWeight
    reasons: tuple[Reason, ...]


def bobbin_weight(school: BobbinSchool, top: Bundle, schools: Schools | None = None) -> BobbinWeight:
    """Advise what goes below: the same thread, a finer one or one of its kind, and a fine one under a bundle."""
    same_wt = WT_TIMES_TEX.value / top.tex
    finer = (FINER_BOBBIN[0].value, FINER_BOBBIN[1].value)
    if not top.single:
        wt = BUNDLE_BOBBIN.value
        return BobbinWeight(
            finest_wt=wt, heaviest_wt=wt, text=f"An {wt:.0f} wt bobbin thread under a bundle.", other=""
        )
    texts = {
        BobbinSchool.SAME: f"The same thread below, {same_wt:.0f} wt",
        BobbinSchool.FINER: f"A finer one below, {finer[1]:.0f} to {finer[0]:.0f} wt",
    }

    def said(side: BobbinSchool) -> str:
        # What the school names is named already: only why stands behind it.
        return f"{texts[side]}: {BOBBIN_SCHOOLS[side].partition(': ')[2]}"

    nature = nature_of(top.threads[0])
    if top.threads[0].is_monofilament and schools and schools.takes("clear_below") == "silk":
        wt = SILK_BELOW_CLEAR.value
        text = f"{wt:.0f} wt silk below. {schools.side('clear_below').why}"
        return BobbinWeight(finest_wt=wt, heaviest_wt=wt, text=text, other=nature.below)
    if nature.below:
        # What goes below this thread both schools agree on.
        return BobbinWeight(finest_wt=finer[0], heaviest_wt=finer[1], text=nature.below, other="")
    fiber = top.threads[0].fiber
    like = LIKE_BELOW.get(fiber) if schools and schools.takes("fiber_below") == "like" else None
    if like and same_wt <= like.value * LABEL_ROUNDING.value:
        text = f"{like.value:.0f} wt {fiber.value} below. Like to like: the same wear on both sides."
        return BobbinWeight(finest_wt=LIKE_TO.value, heaviest_wt=like.value, text=text, other=said(BobbinSchool.FINER))
    range_wt = (same_wt, same_wt) if school is BobbinSchool.SAME else finer
    other = BobbinSchool.FINER if school is BobbinSchool.SAME else BobbinSchool.SAME
    return BobbinWeight(
        finest_wt=range_wt[0],
        heaviest_wt=range_wt[1],
        text=said(school),
        other=said(other),
    )


def advise_bundle(
    kind: MachineKind,
    school: School,
    bobbin_school: BobbinSchool,
    top: Bundle,
    bobbin: Thread | None,
    sandwich: Sandwich | None = None,
    schools: Schools | None = None,
    tried: int | None = None,
) -> BundleAdvice:
    """Return what threads make together; for one thread alone as well. ``tried``: guide holes found to do."""
    pairing = pair_needle(kind=kind, school=school, top=top, bobbin=bobbin, sandwich=sandwich, schools=schools)
    wanted = ("groove_fit", "too_heavy_for_a_needle", "bundle_path")
    reasons = [r for r in pairing.reasons if r.rule in wanted]
    if bobbin and pairing.through_a_needle:
        reasons.append(against_bobbin(top, bobbin))
    return BundleAdvice(
        tex=top.tex,
        wt=WT_TIMES_TEX.value / top.tex,
        diameter_mm=top.diameter_mm,
        needle=pairing.recommended,
        through_a_needle=pairing.through_a_needle,
        holes=holes_to_use(top, tried),
        bobbin=bobbin_weight(bobbin_school, top, schools),
        reasons=tuple(reasons),
    )


def check_bobbin_work(thread: Thread, top: Bundle | None) -> None:
    """Raise :class:`CraftError` where bobbin work makes no sense: a bobbin thread that is not the heavier one."""
    heavy = thread.density.tex > HEAVIEST_THROUGH_A_NEEDLE.value
    if top and not heavy and thread.density.tex < THICKER_BELOW_IS_BOBBIN_WORK.value * top.tex:
        raise CraftError(
            "For bobbin work the heavy thread you want to see goes in the bobbin. This one has "
            f"{thread.density.tex:.0f} tex, the top {top.tex:.0f} tex.",
            "bobbin_work",
        )
