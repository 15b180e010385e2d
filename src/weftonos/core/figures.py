"""Every figure the answers rest on, by subject, with its standing: what a screen shows one tap away."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from weftonos.core import (
    capstan,
    diagnosis,
    gauge,
    groove_fit,
    linear_density,
    needle_life,
    own_outcomes,
    screw,
    thread_use,
    unlabelled,
    upkeep,
)
from weftonos.core.force import MN_PER_GF
from weftonos.core.needle import COATED_LASTS, POINTS
from weftonos.core.pairing import HEAVIEST_THROUGH_A_NEEDLE
from weftonos.core.school import SIZE_SCHOOLS
from weftonos.core.standing import Known
from weftonos.core.thread import BUNDLE_PACKING, CONSTRUCTION_NAMES, FIBRE_DENSITY, FIBRE_NAMES, PACKING


class FigureSubject(StrEnum):
    """What a group of figures is about."""

    THREAD = "thread"
    NEEDLE = "needle"
    LIFE = "life"
    PATH = "path"
    BOBBIN = "bobbin"
    USE = "use"
    MEND = "mend"


@dataclass(frozen=True)
class Figure:
    """A figure by its name."""

    name: str
    known: Known


FIGURES: dict[FigureSubject, tuple[Figure, ...]] = {
    FigureSubject.THREAD: (
        Figure("Ne times tex", linear_density.NE_TIMES_TEX),
        Figure("wt times tex", linear_density.WT_TIMES_TEX),
        Figure("synthetic ticket times tex", linear_density.TICKET_TIMES_TEX),
        *(Figure(f"density of {FIBRE_NAMES[f]}", known) for f, known in FIBRE_DENSITY.items()),
        *(Figure(f"packing, {CONSTRUCTION_NAMES[c]}", known) for c, known in PACKING.items()),
        Figure("packing of a bundle", BUNDLE_PACKING),
        Figure("wraps: error of the count", unlabelled.WRAP_COUNT_ERROR),
        Figure("wraps: crowding", unlabelled.WRAP_CROWDING),
    ),
    FigureSubject.NEEDLE: (
        Figure("groove over blade", groove_fit.GROOVE_OF_BLADE),
        Figure("slack below a fill of", groove_fit.SLACK_BELOW),
        *(Figure(f"{p.value} rubs above a fill of", facts.limit) for p, facts in POINTS.items()),
        *(Figure(f"{s.value} school aims at a fill of", school.aim) for s, school in SIZE_SCHOOLS.items()),
        Figure("for bobbin or hand work above", HEAVIEST_THROUGH_A_NEEDLE),
    ),
    FigureSubject.MEND: (
        Figure("clean after, stitching", upkeep.CLEAN_AFTER),
        Figure("clean after, with linty thread", upkeep.CLEAN_AFTER_LINT),
        Figure("oil after, stitching", upkeep.OIL_AFTER),
        Figure("a question comes first when it saves", diagnosis.WORTH_ASKING),
        Figure("not worth a check below a chance of", diagnosis.UNLIKELY),
        Figure("usual shares count as", own_outcomes.PAGE_COUNTS_AS),
        Figure("what shows with a cause counts as", own_outcomes.FINDINGS_COUNT_AS),
    ),
    FigureSubject.LIFE: (
        Figure("steel needle, from", needle_life.HOURS_LIFE[0]),
        Figure("steel needle, to", needle_life.HOURS_LIFE[1]),
        Figure("coated lasts longer by, from", COATED_LASTS[0]),
        Figure("coated lasts longer by, to", COATED_LASTS[1]),
        Figure("coated needle", needle_life.COATED_HOURS),
        Figure("coated needle", needle_life.COATED_PROJECTS),
        Figure("nearly due from a share of", needle_life.NEARLY_FROM),
    ),
    FigureSubject.PATH: (
        *(Figure(f"friction of {FIBRE_NAMES[f]}", known) for f, known in capstan.FRICTION.items()),
        Figure("spread of friction", capstan.FRICTION_SPREAD),
        Figure("wrap of one guide hole", capstan.HOLE_WRAP_DEGREES),
    ),
    FigureSubject.BOBBIN: (
        Figure("one gram-force", MN_PER_GF),
        Figure("calm below a swing of", gauge.CALM_BELOW),
        Figure("flutters above a swing of", gauge.FLUTTERS_ABOVE),
        Figure("screw: response", screw.RESPONSE_MEAN),
        Figure("screw: spread of the response", screw.RESPONSE_SPREAD),
    ),
    FigureSubject.USE: (
        Figure("thread from take-up to cloth", thread_use.EYE_TO_TAKE_UP_MM),
        Figure("allowance per stitch", thread_use.ALLOWANCE),
        Figure("packing of a wound bobbin", thread_use.WOUND_PACKING),
    ),
}
