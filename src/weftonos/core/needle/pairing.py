"""Which needle for this thread: size, point, alternatives, and why."""

from __future__ import annotations

from dataclasses import dataclass, replace

from weftonos.core.kernel import advice
from weftonos.core.kernel.advice import Caution, Reason
from weftonos.core.kernel.decimals import figure
from weftonos.core.kernel.sandwich import Sandwich, Weave
from weftonos.core.kernel.schools import SIZE_SCHOOLS, MachineKind, School, Schools, reasons_of
from weftonos.core.kernel.standing import Standing, estimate, practice
from weftonos.core.needle.groove_fit import FitState, SizeFit, fit_of, fit_state, nominal_fill, size_fit
from weftonos.core.needle.needle import (
    ALL_SIZES,
    COMMON_SIZES,
    POINTS,
    STRETCHES_FROM,
    WONT_FROM,
    NeedleSize,
    Point,
    is_made,
    sizes_apart,
)
from weftonos.core.thread.handling import cautions_for
from weftonos.core.thread.nature import Nature, nature_of, together
from weftonos.core.thread.starting_tension import StartTension, start_tension
from weftonos.core.thread.thread import (
    HEAVIEST_THROUGH_A_NEEDLE,
    HEAVY_TEX,
    THICKER_BELOW_IS_BOBBIN_WORK,
    Bundle,
    Fiber,
    Thread,
)

#: Sizes in use for each kind of head, smallest and largest (common practice).
SIZES_IN_USE = {
    MachineKind.HOME: (NeedleSize(70, 10), NeedleSize(110, 18)),
    MachineKind.LONGARM: (NeedleSize(80, 12), NeedleSize(125, 20)),
}

#: Whose habit a size is, in words.
_CHARTS = {School.HOME: "home-machine chart", School.LONGARM: "longarm chart"}


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
    """The answer of the Needle station; ``by_eye`` says why play in the groove is no matter here, where it is none."""

    tex: float
    diameter_mm: float
    sizes: tuple[SizeFit, ...]
    recommended: NeedleChoice
    alternatives: tuple[NeedleChoice, ...]
    school_picks: tuple[NeedleChoice, ...]
    through_a_needle: bool
    by_eye: str
    start_tension: StartTension
    reasons: tuple[Reason, ...]
    cautions: tuple[Caution, ...]


#: Why a fabric's threads are parted, not pierced (common practice; the stretch point from memory).
PARTS = {
    Weave.KNIT: "A ballpoint parts the loops of a knit and cuts none. Where it skips, try a stretch point.",
    Weave.FRAGILE: "A ballpoint parts the fibers of fragile or old fabric, and leaves no holes after picking out.",
}
#: What is said of a needle that stands in the knowledge as sewn with this thread.
SEWN_SO = "Some sew it that way, and it works well."
#: From this size on a needle is a large one, that can hurt when it shatters (common practice).
LARGE_NEEDLE = NeedleSize(110, 18)
#: Fuller than this, play is no reason for a smaller needle.
SNAPS_BELOW = estimate(0.45)
#: Bobbin over top, in tex, from which the two weigh about the same.
ABOUT_EQUAL = estimate(0.8)
#: What a bobbin thread weighs at most: sold as such from 40 wt down, and 60 wt and finer below very fine thread.
ORDINARY_BOBBIN_TEX = practice(25.5, "tex")
EVERYDAY_BELOW_TEX = practice(17.2, "tex")
#: One middle size for most thread (common practice), and how many sizes away it still serves.
MIDDLE = {MachineKind.HOME: NeedleSize(90, 14), MachineKind.LONGARM: NeedleSize(100, 16)}
MIDDLE_SERVES = estimate(1, "size up or down")


def pair_needle(
    kind: MachineKind,
    school: School,
    top: Bundle,
    bobbin: Thread | None = None,
    sandwich: Sandwich | None = None,
    schools: Schools | None = None,
) -> Pairing:
    """Pair a needle with the thread or threads on top.

    Parameters
    ----------
    kind: the head; sets the sizes in use and the start of the top tension.
    school: whose fill to aim at; the other school's pick is among ``school_picks``.
    top: the thread or bundle through the needle.
    bobbin: the thread below, for the advice on top against bobbin.
    sandwich: what is stitched; lofty, dense or adhesive goes a size up.
    schools: the sides taken in everything else; left out, those of the head.

    Examples
    --------
    >>> from weftonos.core.thread.linear_density import WeightSystem
    >>> from weftonos.core.thread.thread import Construction, Fiber
    >>> cotton = Thread(fiber=Fiber.COTTON, construction=Construction.SPUN, value=40, system=WeightSystem.WT)
    >>> str(pair_needle(MachineKind.HOME, School.HOME, Bundle((cotton,))).recommended.size)
    '90/14'
    """
    sandwich, schools = sandwich or Sandwich(), schools or Schools(kind)
    # The other school's pick is made as that school makes it.
    choices = {s: _choose(kind, s, top, sandwich, schools if s is school else Schools(kind)) for s in School}
    recommended = choices[school]
    other = choices[SIZE_SCHOOLS[school].other]
    through = not (top.single and top.tex > HEAVIEST_THROUGH_A_NEEDLE.value)
    alternatives = [other, *_alternatives(kind, recommended, top, sandwich, schools)]
    seen = {(recommended.metric, recommended.point)}
    unique = []
    for choice in alternatives:
        if (choice.metric, choice.point) not in seen and _can_be_had(kind, top, recommended, choice):
            seen.add((choice.metric, choice.point))
            unique.append(choice)
    return Pairing(
        tex=top.tex,
        diameter_mm=top.diameter_mm,
        sizes=tuple(size_fit(top, size) for size in ALL_SIZES),
        recommended=recommended,
        alternatives=tuple(unique),
        school_picks=tuple(choices[s] for s in School),
        through_a_needle=through,
        by_eye=together(top.threads).by_eye,
        start_tension=start_tension(kind, top),
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
                schools=schools,
            )
        ),
        cautions=tuple(_cautions(top, recommended)),
    )


def _can_be_had(kind: MachineKind, top: Bundle, chosen: NeedleChoice, choice: NeedleChoice) -> bool:
    """Say whether a needle is sold, and is near enough to the best of its point to be offered beside the chosen one."""
    best = nearest_made(kind, top, chosen.size, choice.point)
    # What a school takes by habit is offered however far it lies: people are divided there.
    habits = together(top.threads).needle
    habitual = bool(choice.school and habits[choice.school])
    near = habitual or (best is not None and abs(sizes_apart(choice.size, best)) < WONT_FROM.value)
    return near and is_made(kind, choice.size, choice.point) and choice.state is not FitState.RUBS


def _choice(size: NeedleSize, point: Point, top: Bundle, school: School | None, why: str) -> NeedleChoice:
    fit = fit_of(top, size, point)
    return NeedleChoice(
        metric=size.metric,
        american=size.american,
        point=point,
        nominal_fill=fit.fill,
        state=fit.state,
        school=school,
        why=why,
    )


def _pair_of(text: str) -> NeedleSize:
    metric, american = text.split("/")
    return NeedleSize(int(metric), int(american))


def _habit(nature: Nature, school: School, schools: Schools) -> tuple[NeedleSize, str] | None:
    """Return the size that a school takes by habit, whatever the thickness, and why; ``None`` where it has none."""
    sizes = nature.needle[school]
    if not sizes:
        return None
    if nature.sheen == "clear" and schools.said("room"):
        # Whoever said which room clear thread wants has it, on either head.
        small = schools.takes("room") == "small"
        by_head = nature.needle[School.HOME if small else School(schools.kind.value)]
        return _pair_of(by_head[0] if small or schools.kind is MachineKind.LONGARM else by_head[-1]), schools.side(
            "room"
        ).why
    return _pair_of(sizes[0]), nature.needle_why[school]


def _wanted(
    kind: MachineKind, school: School, top: Bundle, sandwich: Sandwich, schools: Schools
) -> tuple[NeedleSize, str]:
    """Return the size that a school wants for a thread on a head, whatever is sold, and why."""
    why, nature = SIZE_SCHOOLS[school].why, together(top.threads)
    habit = _habit(nature, school, schools)
    if habit is not None:
        # By habit: the sandwich does not make it larger.
        return habit
    size = nearest_size(top.diameter_mm, SIZE_SCHOOLS[school].aim.value, kind)
    middle = MIDDLE[kind]
    if schools.takes("size") == "middle" and abs(sizes_apart(size, middle)) <= MIDDLE_SERVES.value:
        size, why = middle, schools.side("size").why
    if goes_up(sandwich, schools):
        size = min(step_size(size, 1), SIZES_IN_USE[kind][1])
    return size, why


def _choose(kind: MachineKind, school: School, top: Bundle, sandwich: Sandwich, schools: Schools) -> NeedleChoice:
    size, why = _wanted(kind, school, top, sandwich, schools)
    point = _sold_point(kind, top, size, _point_wishes(school, together(top.threads), sandwich, schools))
    made = nearest_made(kind, top, size, point) or size
    return _choice(size=made, point=point, top=top, school=school, why=why)


def nearest_made(kind: MachineKind, top: Bundle, wanted: NeedleSize, point: Point) -> NeedleSize | None:
    """Return the size nearest to the wanted one that a point is sold in and takes the thread in; ``None``: none is.

    Of two as near the smaller: it makes the smaller hole.
    """
    fits = [
        size
        for size in COMMON_SIZES
        if is_made(kind, size, point) and fit_of(top, size, point).state is not FitState.RUBS
    ]
    return min(fits, key=lambda size: (abs(sizes_apart(size, wanted)), size.metric), default=None)


def goes_up(sandwich: Sandwich, schools: Schools) -> bool:
    """Say whether the sandwich takes a needle a size up: not for dense cloth alone where a fine point is the school."""
    if sandwich.weave is Weave.BATIK and schools.takes("dense") == "fine_point":
        return bool(replace(sandwich, weave=Weave.ORDINARY).heavy_because)
    return bool(sandwich.heavy_because)


def nearest_size(diameter_mm: float, aim: float, kind: MachineKind) -> NeedleSize:
    """Return the size in use on this kind of head whose fill is nearest to ``aim``."""
    smallest, largest = SIZES_IN_USE[kind]
    in_use = [s for s in COMMON_SIZES if smallest <= s <= largest]
    return min(in_use, key=lambda s: abs(nominal_fill(diameter_mm, s) - aim))


def step_size(size: NeedleSize, steps: int) -> NeedleSize:
    """Return the size ``steps`` places up (or down, negative) among the pairs of common practice."""
    common = COMMON_SIZES if size in COMMON_SIZES else ALL_SIZES
    place = common.index(size) + steps
    return common[max(0, min(place, len(common) - 1))]


#: What each answer to "which point" wishes for plain thread.
_POINTS = {
    "ballpoint": (Point.BALLPOINT, Point.TOPSTITCH),
    "topstitch": (Point.TOPSTITCH,),
    "by_job": (Point.UNIVERSAL, Point.TOPSTITCH),
}


def _point_wishes(school: School, nature: Nature, sandwich: Sandwich, schools: Schools) -> list[Point]:
    wishes = [Point(name) for name in nature.points[school]]
    if not nature.own_points and schools.said("point"):
        wishes = list(_POINTS[schools.takes("point")])
    by_job = schools.takes("point") == "by_job"
    if sandwich.weave is Weave.BATIK and not nature.own_points and (by_job or schools.takes("dense") == "fine_point"):
        wishes.insert(0, Point.SHARP)
    if sandwich.weave is Weave.DENIM and by_job and not nature.own_points:
        wishes.insert(0, Point.DENIM)
    if sandwich.weave.parted and not nature.own_points:
        wishes.insert(0, Point.BALLPOINT)
    if nature.glitters and schools.takes("metallic_point") == "topstitch":
        wishes.sort(key=lambda point: point is not Point.TOPSTITCH)
    return wishes


def _sold_point(kind: MachineKind, top: Bundle, size: NeedleSize, wishes: list[Point]) -> Point:
    """Return the first of the wished points that is sold in a size, or near it, and takes the thread in."""
    made = {point: found for point in Point if (found := nearest_made(kind, top, size, point)) is not None}
    off = {point: abs(sizes_apart(found, size)) for point, found in made.items()}
    near = [point for point in wishes if point in off and off[point] < STRETCHES_FROM.value]
    # First what passes our estimate, then what somebody sews.
    passing = [p for p in near if fit_state(nominal_fill(top.diameter_mm, made[p]), p) is not FitState.RUBS]
    if passing or near:
        return (passing or near)[0]
    # Then whatever point is nearest; of those the deepest groove there is.
    return min(off, key=lambda point: (off[point], -POINTS[point].limit.value), default=Point.TOPSTITCH)


def _alternatives(
    kind: MachineKind, chosen: NeedleChoice, top: Bundle, sandwich: Sandwich, schools: Schools
) -> list[NeedleChoice]:
    found = []
    smallest, largest = SIZES_IN_USE[kind]
    nature = together(top.threads)
    for school, sizes in nature.needle.items():
        for text in sizes:
            size, why = _pair_of(text), nature.needle_why[school]
            if nature.sheen == "clear":
                # The smallest is taken for its hole, every other for its eye.
                why = reasons_of("room")["small" if text == nature.needle[School.HOME][0] else "big_eye"]
            if smallest <= size <= largest:
                found.append(_choice(size=size, point=chosen.point, top=top, school=school, why=why))
    for needle in nature.sewn:
        text, point_name = needle.split(" ", 1)
        if smallest <= (size := _pair_of(text)) <= largest:
            found.append(_choice(size=size, point=Point(point_name), top=top, school=None, why=SEWN_SO))
    if sandwich.weave is Weave.BATIK:
        other = "fine_point" if schools.takes("dense") == "size_up" else "size_up"
        size = step_size(chosen.size, -1 if other == "fine_point" else 1)
        point = Point.SHARP if other == "fine_point" else chosen.point
        if not nature.own_points:
            found.append(_choice(size=size, point=point, top=top, school=None, why=reasons_of("dense")[other]))
    rooms = [(1, "If it frays: more room in the groove.")]
    if chosen.nominal_fill < SNAPS_BELOW.value and not nature.by_eye:
        rooms.append((-1, "If it snaps clean: less play."))
    for steps, why in rooms:
        size = step_size(chosen.size, steps)
        if size != chosen.size and smallest <= size <= largest:
            found.append(_choice(size=size, point=chosen.point, top=top, school=None, why=why))
    for point in (Point.TOPSTITCH, Point.QUILTING, Point.SHARP, Point.BALLPOINT):
        best = nearest_made(kind, top, chosen.size, point) or chosen.size
        why = f"{POINTS[point].made_for.capitalize()}."
        found.append(_choice(size=best, point=point, top=top, school=None, why=why))
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
    schools: Schools,
) -> list[Reason]:
    what = "The thread" if top.single else f"The {len(top.threads)} threads together"
    reasons = [
        Reason(
            text=f"{what} {'is' if top.single else 'are'} {figure(top.diameter_mm, 2)} mm thick and "
            f"{'fills' if top.single else 'fill'} {chosen.nominal_fill:.0%} of the groove of {chosen.size}: it "
            f"{fit_of(top, chosen.size, chosen.point).says.removesuffix('.')}.",
            rule="groove_fit",
            standing=Standing.ESTIMATE,
            source="made to match both charts",
        ),
        Reason(
            text=f"By the {_CHARTS[school]}. {chosen.why}",
            rule="size_school",
            standing=Standing.COMMON_PRACTICE,
        ),
    ]
    if other.size != chosen.size:
        reasons.append(
            Reason(
                text=f"The {_CHARTS[SIZE_SCHOOLS[school].other]} would take {other.size}. {other.why}",
                rule="other_school",
            )
        )
    wanted, _ = _wanted(kind, school, top, sandwich, schools)
    if goes_up(sandwich, schools) and _habit(together(top.threads), school, schools) is None:
        up = wanted > _wanted(kind, school, top, Sandwich(), schools)[0] and chosen.size == wanted
        reasons.append(
            Reason(
                text=f"One size up for {sandwich.heavy_because}. The larger needle leaves a larger hole."
                if up
                else f"{sandwich.heavy_because.capitalize()} would take a size up: this is the largest that goes.",
                rule="sandwich_size_up",
            )
        )
    elif chosen.size < wanted:
        reasons.append(
            Reason(
                text=f"By its thickness it would take {wanted}. A {chosen.point.value} needle isn't sold that large.",
                rule="size_as_made",
                standing=Standing.MEMORY,
            )
        )
    if sandwich.layers == 1:
        tight = " Where stitches lie tight, make them longer and wider." if top.tex >= HEAVY_TEX.value else ""
        reasons.append(Reason(text=f"One layer alone puckers: put stabilizer under it.{tight}", rule="stabilizer"))
    if sandwich.weave.parted and chosen.point is Point.BALLPOINT:
        reasons.append(Reason(text=PARTS[sandwich.weave], rule="ballpoint_parts"))
    reasons.append(Reason(text=f"{chosen.point.value.capitalize()}: {POINTS[chosen.point].note}.", rule="point"))
    if (why := schools.by_records.get("point")) and chosen.point.value == schools.takes("point"):
        reasons.append(Reason(text=why, rule="own_records"))
    if not through:
        # Nothing of what was said of a groove matters then.
        return [
            Reason(
                text=f"At {top.tex:.0f} tex it goes through no needle: bobbin work, or by hand. Wind it on the bobbin, "
                "and quilt face down.",
                rule="too_heavy_for_a_needle",
            )
        ]
    if not top.single:
        reasons.append(
            Reason(text="Each thread on its own holder, each through the discs one after another.", rule="bundle_path")
        )
    if bobbin:
        reasons.append(against_bobbin(top, bobbin))
    return reasons


def thicker_below(top: Bundle, bobbin: Thread) -> bool:
    """Say whether the bobbin thread is thicker than is usual below this top.

    A very fine top over an ordinary bobbin thread of 60 wt or finer is everyday, whichever of them weighs more.
    """
    tex = bobbin.density.tex
    return tex > THICKER_BELOW_IS_BOBBIN_WORK.value * top.tex and tex > EVERYDAY_BELOW_TEX.value


def against_bobbin(top: Bundle, bobbin: Thread) -> Reason:
    """Return how the bobbin thread stands to the top: finer, equal, everyday below a very fine one, or thicker."""
    tex = bobbin.density.tex
    if thicker_below(top, bobbin):
        decorative = tex > ORDINARY_BOBBIN_TEX.value
        return Reason(
            text=f"The bobbin thread ({tex:.0f} tex) is thicker than the top ({top.tex:.0f} tex). "
            + ("That is bobbin work: quilt face down, or choose a finer one." if decorative else "Choose a finer one."),
            rule="bobbin_not_thicker",
        )
    if tex > THICKER_BELOW_IS_BOBBIN_WORK.value * top.tex:
        return Reason(
            text="An ordinary bobbin thread under a very fine top, though it weighs more: everyday background work.",
            rule="bobbin_everyday",
        )
    if tex > ABOUT_EQUAL.value * top.tex and (why := _hard_below(bobbin)):
        return Reason(
            text=f"Top and bobbin weigh about the same, but {why}. An ordinary bobbin thread balances more easily.",
            rule="bobbin_hard_below",
        )
    if tex > ABOUT_EQUAL.value * top.tex:
        return Reason(text="Top and bobbin weigh about the same: easiest to balance.", rule="bobbin_equal")
    return Reason(
        text="A finer bobbin thread: more of it fits on a bobbin, with less bulk. Test it once.", rule="bobbin_finer"
    )


def _hard_below(bobbin: Thread) -> str:
    """Return why a thread is hard to run in the bobbin; empty for an ordinary one."""
    nature = nature_of(bobbin)
    if bobbin.fiber is Fiber.WASH_AWAY:
        return "wash-away dissolves, and the stitch with it"
    if nature.glitters:
        return "metallic catches in the spring"
    if bobbin.is_monofilament:
        return "a tangle of clear thread can't be seen below"
    return "it's heavy for a bobbin" if bobbin.density.tex > ORDINARY_BOBBIN_TEX.value else ""


def _cautions(top: Bundle, chosen: NeedleChoice) -> list[Caution]:
    cautions = [advice.POWER_OFF, advice.MANUAL_FIRST, advice.OLD_NEEDLES]
    if chosen.size >= LARGE_NEEDLE:
        cautions.append(advice.EYE_PROTECTION)
    for thread in top.threads:
        cautions += [caution for caution in cautions_for(thread) if caution not in cautions]
    return cautions
