"""Which needle for this thread: size, point, alternatives, and why."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel import advice
from weftonos.core.kernel.advice import Caution, Reason
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.schools import SIZE_SCHOOLS, MachineKind, School
from weftonos.core.kernel.standing import Standing, estimate
from weftonos.core.needle.groove_fit import FIT_SAYS, FitState, SizeFit, fit_state, nominal_fill, size_fit
from weftonos.core.needle.needle import ALL_SIZES, POINTS, NeedleSize, Point
from weftonos.core.thread.starting_tension import StartTension, start_tension
from weftonos.core.thread.thread import HEAVIEST_THROUGH_A_NEEDLE, THICKER_BELOW_IS_BOBBIN_WORK, Bundle, Fibre, Thread

#: Sizes in use for each kind of head, smallest and largest (common practice).
SIZES_IN_USE = {
    MachineKind.HOME: (NeedleSize(70, 10), NeedleSize(110, 18)),
    MachineKind.LONGARM: (NeedleSize(80, 12), NeedleSize(125, 20)),
}


@dataclass(frozen=True, kw_only=True)
class NeedleChoice:
    """A size and a point, with how the thread lies in it and who would choose it."""

    metric: int
    american: int
    point: Point
    nominal_fill: float
    state: FitState
    school: School | None = None
    why: str = ""

    @property
    def size(self) -> NeedleSize:
        """The size as its pair."""
        return NeedleSize(self.metric, self.american)


@dataclass(frozen=True, kw_only=True)
class Pairing:
    """The answer of the Needle station."""

    tex: float
    diameter_mm: float
    sizes: tuple[SizeFit, ...]
    recommended: NeedleChoice
    alternatives: tuple[NeedleChoice, ...]
    school_picks: tuple[NeedleChoice, ...]
    through_a_needle: bool
    start_tension: StartTension
    reasons: tuple[Reason, ...]
    cautions: tuple[Caution, ...]


#: Threads whose size the schools pick by habit and not by thickness (common practice; longarm metallic estimate).
_MONOFILAMENT = {
    School.HOME: (NeedleSize(70, 10), NeedleSize(90, 14)),
    School.LONGARM: (NeedleSize(110, 18),),
}
_METALLIC = {School.HOME: NeedleSize(90, 14), School.LONGARM: NeedleSize(110, 18)}
#: From this size on a needle is a large one, that can hurt when it shatters (common practice).
LARGE_NEEDLE = NeedleSize(110, 18)
#: Bobbin over top, in tex, from which the two weigh about the same.
ABOUT_EQUAL = estimate(0.8)
_SMALL_NEEDLE = "A small needle makes a small hole, and the clear thread disappears in it."
_BIG_EYE = "A big eye lets the stretchy thread run freely."


def pair_needle(
    kind: MachineKind,
    school: School,
    top: Bundle,
    bobbin: Thread | None = None,
    sandwich: Sandwich | None = None,
) -> Pairing:
    """Pair a needle with the thread or threads on top.

    Parameters
    ----------
    kind: the head; sets the sizes in use and the start of the top tension.
    school: whose fill to aim at; the other school's pick is among ``school_picks``.
    top: the thread or bundle through the needle.
    bobbin: the thread below, for the advice on top against bobbin.
    sandwich: what is stitched; lofty, dense or adhesive goes a size up.

    Examples
    --------
    >>> from weftonos.core.thread.linear_density import WeightSystem
    >>> from weftonos.core.thread.thread import Construction
    >>> cotton = Thread(Fibre.COTTON, Construction.SPUN, 40, WeightSystem.WT)
    >>> str(pair_needle(MachineKind.HOME, School.HOME, Bundle((cotton,))).recommended.size)
    '90/14'
    """
    sandwich = sandwich or Sandwich()
    choices = {s: _choose(kind, s, top, sandwich) for s in School}
    recommended = choices[school]
    other = choices[SIZE_SCHOOLS[school].other]
    through = not (top.single and top.tex > HEAVIEST_THROUGH_A_NEEDLE.value)
    alternatives = [other, *_alternatives(kind, recommended, top)]
    seen = {(recommended.metric, recommended.point)}
    unique = []
    for choice in alternatives:
        if (choice.metric, choice.point) not in seen:
            seen.add((choice.metric, choice.point))
            unique.append(choice)
    return Pairing(
        tex=top.tex,
        diameter_mm=top.diameter_mm,
        sizes=tuple(size_fit(top.diameter_mm, size) for size in ALL_SIZES),
        recommended=recommended,
        alternatives=tuple(unique),
        school_picks=tuple(choices[s] for s in School),
        through_a_needle=through,
        start_tension=start_tension(kind, top, bobbin),
        reasons=tuple(
            _reasons(
                kind=kind,
                school=school,
                top=top,
                bobbin=bobbin,
                sandwich=sandwich,
                chosen=recommended,
                other=other,
                through=through,
            )
        ),
        cautions=tuple(_cautions(top, recommended)),
    )


def _choice(size: NeedleSize, point: Point, top: Bundle, school: School | None, why: str) -> NeedleChoice:
    fill = nominal_fill(top.diameter_mm, size)
    return NeedleChoice(
        metric=size.metric,
        american=size.american,
        point=point,
        nominal_fill=fill,
        state=fit_state(fill, point),
        school=school,
        why=why,
    )


def _choose(kind: MachineKind, school: School, top: Bundle, sandwich: Sandwich) -> NeedleChoice:
    why = SIZE_SCHOOLS[school].why
    if top.single and top.threads[0].is_monofilament:
        size = _MONOFILAMENT[school][0]
        why = _SMALL_NEEDLE if school is School.HOME else _BIG_EYE
    elif any(t.is_metallic for t in top.threads):
        size = _METALLIC[school]
        why = "Metallic wants a large eye and a deep groove more than a size of its own."
    else:
        size = nearest_size(top.diameter_mm, SIZE_SCHOOLS[school].aim.value, kind)
    if sandwich.heavy_because:
        size = step_size(size, 1)
    return _choice(size=size, point=_point_for(school, top, size), top=top, school=school, why=why)


def nearest_size(diameter_mm: float, aim: float, kind: MachineKind) -> NeedleSize:
    """Return the size in use on this kind of head whose fill is nearest to ``aim``."""
    smallest, largest = SIZES_IN_USE[kind]
    in_use = [s for s in ALL_SIZES if smallest <= s <= largest and s.standing is Standing.COMMON_PRACTICE]
    return min(in_use, key=lambda s: abs(nominal_fill(diameter_mm, s) - aim))


def step_size(size: NeedleSize, steps: int) -> NeedleSize:
    """Return the size ``steps`` places up (or down, negative) among the pairs of common practice."""
    common = [s for s in ALL_SIZES if s.standing is Standing.COMMON_PRACTICE]
    if size not in common:
        common = list(ALL_SIZES)
    place = common.index(size) + steps
    return common[max(0, min(place, len(common) - 1))]


def _point_for(school: School, top: Bundle, size: NeedleSize) -> Point:
    fill = nominal_fill(top.diameter_mm, size)
    wishes: tuple[Point, ...]
    if any(t.is_metallic for t in top.threads):
        wishes = (Point.METALLIC, Point.TOPSTITCH)
    elif not top.single:
        wishes = (Point.TOPSTITCH,)
    elif top.threads[0].fibre is Fibre.RAYON:
        wishes = (Point.EMBROIDERY, Point.TOPSTITCH)
    elif school is School.LONGARM:
        wishes = (Point.BALLPOINT, Point.TOPSTITCH)
    else:
        wishes = (Point.TOPSTITCH,)
    for point in wishes:
        if fit_state(fill, point) is not FitState.RUBS:
            return point
    return wishes[-1]


def _alternatives(kind: MachineKind, chosen: NeedleChoice, top: Bundle) -> list[NeedleChoice]:
    found = []
    smallest, largest = SIZES_IN_USE[kind]
    if top.single and top.threads[0].is_monofilament:
        for school, sizes in _MONOFILAMENT.items():
            for size in sizes:
                why = _SMALL_NEEDLE if size == _MONOFILAMENT[School.HOME][0] else _BIG_EYE
                found.append(_choice(size=size, point=chosen.point, top=top, school=school, why=why))
    for steps, why in ((1, "If it frays: more room in the groove."), (-1, "If it snaps clean: less play.")):
        size = step_size(chosen.size, steps)
        if size != chosen.size and smallest <= size <= largest:
            found.append(_choice(size=size, point=chosen.point, top=top, school=None, why=why))
    for point in (Point.TOPSTITCH, Point.QUILTING, Point.SHARP, Point.BALLPOINT):
        option = _choice(
            size=chosen.size, point=point, top=top, school=None, why=f"{POINTS[point].made_for.capitalize()}."
        )
        if option.state is not FitState.RUBS:
            found.append(option)
    return found


def _reasons(
    *,
    kind: MachineKind,
    school: School,
    top: Bundle,
    bobbin: Thread | None,
    sandwich: Sandwich,
    chosen: NeedleChoice,
    other: NeedleChoice,
    through: bool,
) -> list[Reason]:
    what = "The thread" if top.single else f"The {len(top.threads)} threads together"
    reasons = [
        Reason(
            text=f"{what} {'is' if top.single else 'are'} {top.diameter_mm:.2f} mm thick and "
            f"{'fills' if top.single else 'fill'} {chosen.nominal_fill:.0%} of the groove of {chosen.size}: it "
            f"{FIT_SAYS[chosen.state]}.",
            rule="groove_fit",
            standing=Standing.ESTIMATE,
            source="made to reproduce the charts of both schools",
        ),
        Reason(
            text=f"{school.value.capitalize()} school. {chosen.why}",
            rule="size_school",
            standing=Standing.COMMON_PRACTICE,
        ),
    ]
    if other.size != chosen.size:
        reasons.append(
            Reason(
                text=f"The {SIZE_SCHOOLS[school].other.value} school would take {other.size}. {other.why}",
                rule="other_school",
            )
        )
    if sandwich.heavy_because:
        reasons.append(
            Reason(
                text=f"One size up for {sandwich.heavy_because}; the larger needle leaves a larger hole.",
                rule="sandwich_size_up",
            )
        )
    reasons.append(Reason(text=f"{chosen.point.value.capitalize()}: {POINTS[chosen.point].note}.", rule="point"))
    if not through:
        reasons.append(
            Reason(
                text=f"At {top.tex:.0f} tex this is for bobbin work or the hand: wind it on the bobbin, "
                "loosen the case, quilt face down.",
                rule="too_heavy_for_a_needle",
            )
        )
    if not top.single:
        reasons.append(
            Reason(text="Each thread on its own holder, each through the discs one after another.", rule="bundle_path")
        )
    if bobbin:
        reasons.append(against_bobbin(top, bobbin))
    return reasons


def against_bobbin(top: Bundle, bobbin: Thread) -> Reason:
    """Return how the bobbin thread stands to the top: finer, equal, or bobbin work."""
    ratio = bobbin.density.tex / top.tex
    if ratio > THICKER_BELOW_IS_BOBBIN_WORK.value:
        return Reason(
            text=f"The bobbin thread ({bobbin.density.tex:.0f} tex) is thicker than the top ({top.tex:.0f} tex). "
            "That is bobbin work: quilt face down, or choose a finer one.",
            rule="bobbin_not_thicker",
        )
    if ratio > ABOUT_EQUAL.value:
        return Reason(text="Top and bobbin weigh about the same: easiest to balance.", rule="bobbin_equal")
    return Reason(
        text="A finer bobbin thread: more on a bobbin, less bulk. Test it once, then it is fine.", rule="bobbin_finer"
    )


def _cautions(top: Bundle, chosen: NeedleChoice) -> list[Caution]:
    cautions = [advice.POWER_OFF, advice.MANUAL_FIRST, advice.OLD_NEEDLES]
    if chosen.size >= LARGE_NEEDLE:
        cautions.append(advice.EYE_PROTECTION)
    fibres = {t.fibre for t in top.threads}
    if Fibre.NYLON in fibres:
        cautions.append(advice.LOW_IRON)
    if Fibre.WASH_AWAY in fibres:
        cautions.append(advice.NEVER_MOUTH)
    return cautions
