"""The core without state, for scripts: ``POST /api/compute/…``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from weftonos.api.strict import BothSpellings
from weftonos.core.balance.carried import LookUnder, carried_over
from weftonos.core.balance.estimate import BalanceEstimate, estimate_balance
from weftonos.core.balance.posterior import BalancePrior
from weftonos.core.bobbin.gauge import GaugeAnswer, Pull, read_gauge
from weftonos.core.bobbin.screw import ScrewTurn
from weftonos.core.bobbin.target import BobbinTarget
from weftonos.core.bobbin.thread_use import BobbinClass, ThreadUse, thread_use
from weftonos.core.evidence.wear import Wear, compare_wear
from weftonos.core.kernel.force import ForceUnit, from_mn, hanging_tension_mn
from weftonos.core.kernel.sandwich import Sandwich
from weftonos.core.kernel.scale import TopScale
from weftonos.core.kernel.schools import MachineKind, School
from weftonos.core.mend.diagnosis import Diagnosis
from weftonos.core.needle.fit_distance import FitDistance, fit_distance
from weftonos.core.needle.needle import NeedleSize, Point
from weftonos.core.needle.pairing import Pairing, pair_needle
from weftonos.core.plan.answer import KnownForPlan, QuiltPlanAnswer, answer_plan
from weftonos.core.plan.passes import QuiltPlanned
from weftonos.core.plan.takes import Learned
from weftonos.core.thread.label import LabelAnswer, read_label
from weftonos.core.thread.linear_density import LinearDensity, WeightSystem, strands_are_ambiguous
from weftonos.core.thread.thread import Bundle, Construction, Fiber, Thread, diameter_mm
from weftonos.core.thread.unlabeled import Measured, count_wraps, weigh
from weftonos.stations.troubleshoot import TroubleQuestion, answer_trouble

router = APIRouter(prefix="/api/compute", tags=["compute"], route_class=BothSpellings)


@dataclass(frozen=True, kw_only=True)
class Label:
    """A label: a number, its system, and how many strands. Fiber and construction together give a diameter.

    ``per_strand`` says whether the number is that of one strand; left out, it is so for denier alone.
    """

    value: float
    system: WeightSystem
    strands: int = 1
    per_strand: bool | None = None
    fiber: Fiber | None = None
    construction: Construction | None = None


@dataclass(frozen=True, kw_only=True)
class Density:
    """Linear density in every system; ``diameter_mm`` where fiber and construction are known.

    ``ask`` is a question the label leaves open, or empty.
    """

    tex: float
    dtex: float
    denier: float
    wt: float
    ne: float
    diameter_mm: float | None
    ask: str = ""


@router.post("/linear-density")
def linear_density(label: Label) -> Density:
    """Convert a thread weight from any system into all of them."""
    density = LinearDensity.from_label(
        label.value, label.system, label.strands, per_strand=label.per_strand, cotton=label.fiber is Fiber.COTTON
    )
    thickness = None
    if label.fiber and label.construction:
        thickness = diameter_mm(density, label.fiber, label.construction)
    ask = ""
    if label.per_strand is None and strands_are_ambiguous(label.system, label.strands):
        ask = "We read this as the weight of the finished thread. Is it the weight of one strand?"
    return Density(
        tex=density.tex,
        dtex=density.dtex,
        denier=density.denier,
        wt=density.wt,
        ne=density.ne,
        diameter_mm=thickness,
        ask=ask,
    )


@dataclass(frozen=True, kw_only=True)
class PairingQuestion:
    """A head, a school, the thread or threads on top, and optionally what lies below and between."""

    machine_kind: MachineKind
    school: School
    top: list[Thread]
    bobbin: Thread | None = None
    sandwich: Sandwich = field(default_factory=Sandwich)


@router.post("/pairing")
def pairing(question: PairingQuestion) -> Pairing:
    """Pair needle size and point with one to four threads."""
    return pair_needle(
        kind=question.machine_kind,
        school=question.school,
        top=Bundle.of(question.top),
        bobbin=question.bobbin,
        sandwich=question.sandwich,
    )


@dataclass(frozen=True, kw_only=True)
class GaugeQuestion:
    """Pulls in the gauge's unit, the range to be in (mN), and turns of this case's screw on record."""

    unit: ForceUnit
    pulls: list[Pull]
    target: BobbinTarget | None = None
    screw_history: list[ScrewTurn] = field(default_factory=list)


@router.post("/gauge")
def gauge(question: GaugeQuestion) -> GaugeAnswer:
    """Judge a bobbin reading and advise a turn of the screw where one is due."""
    return read_gauge(question.unit, question.pulls, question.target, question.screw_history)


@dataclass(frozen=True, kw_only=True)
class HangingWeight:
    """What hangs on the thread when it just creeps: case, bobbin and added weights, in grams."""

    grams: float


@dataclass(frozen=True)
class HangingTension:
    """The tension of a hang test."""

    tension_mn: float
    tension_gf: float


@router.post("/hanging-weight")
def hanging_weight(weight: HangingWeight) -> HangingTension:
    """Turn the weight of a hang test into a tension."""
    tension = hanging_tension_mn(weight.grams)
    return HangingTension(tension, from_mn(tension, ForceUnit.GF))


@dataclass(frozen=True, kw_only=True)
class WeighedLength:
    """A measured length on a scale: grams, meters, and the smallest step of the scale in grams."""

    grams: float
    meters: float
    fiber: Fiber
    construction: Construction
    scale_step_g: float = 0.1


@dataclass(frozen=True, kw_only=True)
class FitQuestion(PairingQuestion):
    """A needle as well: its size and point."""

    metric: int
    american: int
    point: Point


@router.post("/fit")
def fit(question: FitQuestion) -> FitDistance:
    """Judge a needle by how far it is from the best one for what runs through it."""
    top = Bundle.of(question.top)
    paired = pairing(question)
    needle = NeedleSize(question.metric, question.american)
    return fit_distance(question.machine_kind, paired, top, needle, question.point)


@dataclass(frozen=True, kw_only=True)
class LabelText:
    """A label's line as it stands on the spool."""

    line: Annotated[str, Field(max_length=200)]


@router.post("/label")
def label(question: LabelText) -> LabelAnswer:
    """Read a label's line: the thread it names, in every way it can be meant, what was taken, and what to ask."""
    return read_label(question.line)


@router.post("/weighed-length")
def weighed_length(measured: WeighedLength) -> Measured:
    """Find the weight of thread without a label from a weighed length, and how exact it is."""
    return weigh(
        grams=measured.grams,
        meters=measured.meters,
        scale_step_g=measured.scale_step_g,
        fiber=measured.fiber,
        construction=measured.construction,
    )


@dataclass(frozen=True, kw_only=True)
class Wraps:
    """Wraps side by side over a length of ruler, in mm."""

    wraps: float
    ruler_mm: float
    fiber: Fiber
    construction: Construction


@router.post("/wraps")
def wraps(counted: Wraps) -> Measured:
    """Find the weight of thread without a label from counted wraps, and how exact it is."""
    return count_wraps(counted.wraps, counted.ruler_mm, counted.fiber, counted.construction)


# The field is called ``class`` outside, which Python keeps for itself.
class UsedBobbin(BaseModel):
    """The bobbin: its class, how full (0 to 1), and the thread on it."""

    model_config = ConfigDict(populate_by_name=True)

    size: BobbinClass = Field(alias="class")
    fill: float = 1.0
    thread: Thread


@dataclass(frozen=True, kw_only=True)
class ThreadUseQuestion:
    """Stitch length and sandwich in mm, the stitched length in meters, and the bobbin."""

    stitch_length_mm: float
    sandwich_mm: float
    stitched_meters: float
    bobbin: UsedBobbin


@router.post("/thread-use")
def use(question: ThreadUseQuestion) -> ThreadUse:
    """Say what a length of stitching takes of each thread, in bobbins, and how often a spot passes the eye."""
    bobbin = question.bobbin
    return thread_use(
        stitch_length_mm=question.stitch_length_mm,
        sandwich_mm=question.sandwich_mm,
        stitched_meters=question.stitched_meters,
        size=bobbin.size,
        fill=bobbin.fill,
        bobbin_thread=bobbin.thread,
    )


@dataclass(frozen=True, kw_only=True)
class WearQuestion:
    """Stitch length and sandwich in mm now and before, and the top's pull as a share of what it was."""

    stitch_length_mm: float
    sandwich_mm: float
    pull_share: float = 1.0
    stitch_before_mm: float = 3.0
    sandwich_before_mm: float = 2.0


@router.post("/wear")
def wear(question: WearQuestion) -> Wear:
    """Say how one way of stitching rubs the thread against another, by published exponents of yarn."""
    return compare_wear(
        stitch_length_mm=question.stitch_length_mm,
        sandwich_mm=question.sandwich_mm,
        pull_share=question.pull_share,
        stitch_before_mm=question.stitch_before_mm,
        sandwich_before_mm=question.sandwich_before_mm,
    )


@dataclass(frozen=True, kw_only=True)
class BalanceQuestion:
    """A scale, what is expected (or nothing), and graded looks.

    ``reading_mn`` is what the bobbin reads today. Looks that name another reading say only where the balance may lie.
    """

    scale: TopScale
    prior: BalancePrior | None = None
    observations: list[LookUnder] = field(default_factory=list)
    reading_mn: float | None = None


@router.post("/balance")
def balance(question: BalanceQuestion) -> BalanceEstimate:
    """Estimate the balanced setting, with its 95 % interval and the next setting most worth stitching."""
    expected, today = carried_over(question.scale, question.prior, question.observations, question.reading_mn)
    return estimate_balance(question.scale, expected, today)


@router.post("/troubleshoot")
def troubleshoot(question: TroubleQuestion) -> Diagnosis:
    """Rank the causes of a trouble and say what to check next."""
    return answer_trouble(question)


@dataclass(frozen=True, kw_only=True)
class PlanQuestion:
    """A plan, and what is known for it.

    Threads and machines are numbers of the caller's own. ``paces`` are stitched meters an hour by pass, ``bobbins_m``
    meters of thread on a full bobbin by thread below. On a frame the quilt is rolled; ``throat_in`` says how deep.
    """

    plan: QuiltPlanned
    on_frame: bool = False
    throat_in: float | None = None
    paces: Mapping[int, float] = field(default_factory=dict)
    bobbins_m: Mapping[int, float] = field(default_factory=dict)
    learned: Learned = field(default_factory=Learned)


@router.post("/plan")
def plan(question: PlanQuestion) -> QuiltPlanAnswer:
    """Say what a planned quilt takes, with ranges, in which order it costs least, and its evenings."""
    return answer_plan(
        question.plan,
        KnownForPlan(
            on_frame=question.on_frame,
            throat_in=question.throat_in,
            paces=question.paces,
            bobbins_m=question.bobbins_m,
            learned=question.learned,
        ),
    )
