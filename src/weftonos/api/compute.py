"""The core without state, for scripts: ``POST /api/compute/…``."""

from __future__ import annotations

from dataclasses import dataclass, field

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from weftonos.core.balance import BalanceEstimate, BalancePrior, Observation, estimate_balance
from weftonos.core.bobbin_target import BobbinTarget
from weftonos.core.circumstance import Circumstances, conditions
from weftonos.core.diagnosis import CheckAnswer, Diagnosis, Evidence, Inquiry, diagnose, refuse_contradictions
from weftonos.core.errors import CraftError
from weftonos.core.force import ForceUnit, from_mn, hanging_tension_mn
from weftonos.core.gauge import GaugeAnswer, Pull, read_gauge
from weftonos.core.incident import SEEN
from weftonos.core.linear_density import LinearDensity, WeightSystem, strands_are_ambiguous
from weftonos.core.pairing import Pairing, pair_needle
from weftonos.core.sandwich import Sandwich
from weftonos.core.school import MachineKind, School
from weftonos.core.screw import ScrewTurn
from weftonos.core.thread import Bundle, Construction, Fibre, Thread, diameter_mm
from weftonos.core.thread_use import BobbinClass, ThreadUse, thread_use
from weftonos.core.top_scale import TopScale
from weftonos.core.trouble import FindingKind
from weftonos.core.unlabelled import Measured, count_wraps, weigh
from weftonos.knowledge import troubles

router = APIRouter(prefix="/api/compute", tags=["compute"])


@dataclass(frozen=True)
class Label:
    """A label: a number, its system, and how many strands. Fibre and construction together give a diameter.

    ``per_strand`` says whether the number is that of one strand; left out, it is so for denier alone.
    """

    value: float
    system: WeightSystem
    strands: int = 1
    per_strand: bool | None = None
    fibre: Fibre | None = None
    construction: Construction | None = None


@dataclass(frozen=True)
class Density:
    """Linear density in every system; ``diameter_mm`` where fibre and construction are known.

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
        label.value, label.system, label.strands, per_strand=label.per_strand, cotton=label.fibre is Fibre.COTTON
    )
    thickness = None
    if label.fibre and label.construction:
        thickness = diameter_mm(density, label.fibre, label.construction)
    ask = ""
    if label.per_strand is None and strands_are_ambiguous(label.system, label.strands):
        ask = "Taken as the number of the finished thread. Or is it the number of one strand?"
    return Density(density.tex, density.dtex, density.denier, density.wt, density.ne, thickness, ask)


@dataclass(frozen=True)
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
        question.machine_kind, question.school, Bundle.of(question.top), question.bobbin, question.sandwich
    )


@dataclass(frozen=True)
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


@dataclass(frozen=True)
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


@dataclass(frozen=True)
class WeighedLength:
    """A measured length on a scale: grams, metres, and the smallest step of the scale in grams."""

    grams: float
    metres: float
    fibre: Fibre
    construction: Construction
    scale_step_g: float = 0.1


@router.post("/weighed-length")
def weighed_length(measured: WeighedLength) -> Measured:
    """Find the weight of thread without a label from a weighed length, and how exact it is."""
    return weigh(measured.grams, measured.metres, measured.scale_step_g, measured.fibre, measured.construction)


@dataclass(frozen=True)
class Wraps:
    """Wraps side by side over a length of ruler, in mm."""

    wraps: float
    ruler_mm: float
    fibre: Fibre
    construction: Construction


@router.post("/wraps")
def wraps(counted: Wraps) -> Measured:
    """Find the weight of thread without a label from counted wraps, and how exact it is."""
    return count_wraps(counted.wraps, counted.ruler_mm, counted.fibre, counted.construction)


# The field is called ``class`` outside, which Python keeps for itself.
class UsedBobbin(BaseModel):
    """The bobbin: its class, how full (0 to 1), and the thread on it."""

    model_config = ConfigDict(populate_by_name=True)

    size: BobbinClass = Field(alias="class")
    fill: float = 1.0
    thread: Thread


@dataclass(frozen=True)
class ThreadUseQuestion:
    """Stitch length and sandwich in mm, the stitched length in metres, and the bobbin."""

    stitch_length_mm: float
    sandwich_mm: float
    stitched_metres: float
    bobbin: UsedBobbin


@router.post("/thread-use")
def use(question: ThreadUseQuestion) -> ThreadUse:
    """Say what a length of stitching takes of each thread, in bobbins, and how often a spot passes the eye."""
    bobbin = question.bobbin
    return thread_use(
        question.stitch_length_mm,
        question.sandwich_mm,
        question.stitched_metres,
        bobbin.size,
        bobbin.fill,
        bobbin.thread,
    )


@dataclass(frozen=True)
class BalanceQuestion:
    """A scale, what is expected (or nothing), and graded looks."""

    scale: TopScale
    prior: BalancePrior | None = None
    observations: list[Observation] = field(default_factory=list)


@router.post("/balance")
def balance(question: BalanceQuestion) -> BalanceEstimate:
    """Estimate the balanced setting, with its 95 % interval and the next setting most worth stitching."""
    return estimate_balance(question.scale, question.prior, question.observations)


@dataclass(frozen=True)
class CheckedCause:
    """A check that was made: found, not it (false), or null for cannot tell."""

    cause: str
    found: bool | None


@dataclass(frozen=True)
class TroubleQuestion:
    """What is seen and what changed, by id or in words; ``absent`` and ``unchanged`` are known not to be so.

    ``GET /api/mend/knowledge`` lists what can be named. ``thorough`` goes on with the unlikely rest.
    """

    symptoms: list[str]
    changed: list[str] = field(default_factory=list)
    setup: Circumstances | None = None
    checked: list[CheckedCause] = field(default_factory=list)
    absent: list[str] = field(default_factory=list)
    unchanged: list[str] = field(default_factory=list)
    thorough: bool = False


@router.post("/troubleshoot")
def troubleshoot(question: TroubleQuestion) -> Diagnosis:
    """Rank the causes of a trouble and say what to check next."""
    knowledge = troubles()
    present = {knowledge.finding(name, SEEN, "symptoms") for name in question.symptoms}
    present |= {knowledge.finding(name, [FindingKind.CHANGE], "changed") for name in question.changed}
    absent = {knowledge.finding(name, SEEN, "absent") for name in question.absent}
    absent |= {knowledge.finding(name, [FindingKind.CHANGE], "unchanged") for name in question.unchanged}
    refuse_contradictions(knowledge, present, absent)
    answers: dict[str, CheckAnswer] = {}
    for check in question.checked:
        cause = knowledge.cause(check.cause)
        answer = {True: CheckAnswer.FOUND, False: CheckAnswer.NOT_IT, None: CheckAnswer.CANNOT_TELL}[check.found]
        if answers.setdefault(cause.id, answer) is not answer:
            raise CraftError(f"“{cause.name}” is checked twice, with two answers.", "checked")
    known = question.setup or Circumstances()
    holds, lacks = conditions(known)
    evidence = Evidence.of(knowledge, present | holds, absent | lacks)
    return diagnose(knowledge, Inquiry(evidence, known.machine_kind, answers, thorough=question.thorough))
