"""The season's troubles: what went wrong on which quilt, what was looked at, and what it was; and the upkeep."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from weftonos.core.mend.diagnosis import CheckAnswer
from weftonos.core.mend.incident import Incident, IncidentAnswer, IncidentCheck, IncidentOutcome, Outcome
from weftonos.core.mend.upkeep import Upkeep, UpkeepKind
from weftonos.knowledge import troubles
from weftonos.store.workshop import Workshop


@dataclass(frozen=True, kw_only=True)
class _Trouble:
    """What was seen and what had changed; what was asked, looked at in vain, found, and how it ended."""

    symptoms: tuple[str, ...]
    found: str = ""
    changed: tuple[str, ...] = ()
    in_vain: tuple[str, ...] = ()
    asked: tuple[tuple[str, bool], ...] = ()
    outcome: Outcome | None = Outcome.CURED


_NEST, _FRAYS, _SNAP = "loops_or_nest_on_the_back", "frays_above_the_eye", "clean_snap_of_the_top_thread"
_DISCS, _GUIDE, _DULL = "top_thread_outside_the_discs", "guide_missed_or_wrapped", "needle_dull_burred_bent"

TROUBLES: Mapping[str, _Trouble] = {
    "Spring Tide": _Trouble(symptoms=(_NEST,), found=_DISCS, changed=("re_threading",), asked=(("tie_on", True),)),
    "Wren in Gorse": _Trouble(symptoms=(_FRAYS,), found=_DULL, changed=(), in_vain=(_GUIDE,)),
    "Ringed Plover": _Trouble(
        symptoms=("skipped_stitches",),
        found="needle_not_fully_up",
        changed=("needle",),
        in_vain=("needle_turned_or_backwards",),
    ),
    "Gray Heron": _Trouble(symptoms=(_SNAP,), found="cone_or_spool_catches", changed=("new_cone",)),
    "Low Water": _Trouble(
        symptoms=(_SNAP,),
        found="thread_aged_or_poor",
        changed=(),
        in_vain=("cone_or_spool_catches", _DISCS, "top_too_tight"),
    ),
    "Turnstone": _Trouble(
        symptoms=(_FRAYS, "popping_or_thumping"), found=_DULL, changed=(), in_vain=("groove_too_small_for_thread",)
    ),
    "Ebb and Flow": _Trouble(symptoms=("false_break_alarm",), found=_DISCS, changed=("re_threading",)),
    "Curlew Morning": _Trouble(
        symptoms=("false_break_alarm",), found="tie_off_with_needle_down", changed=(), asked=(("tie_off", True),)
    ),
    "Slack Water": _Trouble(
        symptoms=(_FRAYS,), found="", changed=("top_thread",), in_vain=(_GUIDE, _DULL), outcome=Outcome.LEFT
    ),
    "Sanderling": _Trouble(symptoms=("popping_or_thumping",), found="hook_dry", changed=(), in_vain=(_DULL,)),
    "Neap Tide": _Trouble(symptoms=(_NEST, "uneven_tension"), found=_DISCS, changed=("re_threading",)),
    # Still open, so that the demo has something to mend.
    "Winter Roost": _Trouble(
        symptoms=("gauge_flutters", "uneven_tension"),
        found="",
        changed=("bobbin",),
        in_vain=("bobbin_badly_wound",),
        outcome=None,
    ),
}
UPKEEP: Mapping[str, tuple[UpkeepKind, ...]] = {
    "Wren in Gorse": (UpkeepKind.CLEANING, UpkeepKind.OILING),
    "Gray Heron": (UpkeepKind.CLEANING, UpkeepKind.OILING),
    "Ebb and Flow": (UpkeepKind.CLEANING, UpkeepKind.DISCS),
    "Slack Water": (UpkeepKind.CLEANING, UpkeepKind.OILING),
    "Sanderling": (UpkeepKind.OILING, UpkeepKind.CLEANING),
    "Neap Tide": (UpkeepKind.SERVICE, UpkeepKind.CLEANING, UpkeepKind.OILING),
}


def write_troubles(workshop: Workshop, at_work: Mapping[str, tuple[int, datetime]], last_day: datetime) -> None:
    """Write the season's troubles and upkeep; ``at_work`` is each quilt's machine and a time while it was on it."""
    knowledge = troubles()
    for quilt, (machine, begun) in at_work.items():
        for number, what in enumerate(UPKEEP.get(quilt, ())):
            moment = begun - timedelta(minutes=9 - 3 * number)
            workshop.note(machine, Upkeep(what), moment, max(moment, last_day))
        trouble = TROUBLES.get(quilt)
        if trouble is None:
            continue
        words = ", ".join(knowledge.findings[name].name.lower() for name in trouble.symptoms)
        incident = Incident(symptoms=trouble.symptoms, changed=trouble.changed, unchanged=(), words=words)
        opened = workshop.note(machine, incident, begun, max(begun, last_day)).id
        steps: list[IncidentAnswer | IncidentCheck | IncidentOutcome] = [
            IncidentAnswer(incident=opened, finding=name, present=present, words=knowledge.findings[name].ask)
            for name, present in trouble.asked
        ]
        for cause in (*trouble.in_vain, *([trouble.found] if trouble.found else [])):
            answer = CheckAnswer.FOUND if cause == trouble.found else CheckAnswer.NOT_IT
            steps.append(IncidentCheck(incident=opened, cause=cause, answer=answer, words=knowledge.cause(cause).name))
        if trouble.outcome:
            name = knowledge.cause(trouble.found).name if trouble.found else ""
            steps.append(IncidentOutcome(incident=opened, outcome=trouble.outcome, cause=trouble.found, words=name))
        moment = begun
        for step in steps:
            # Whoever quilts here takes what the page of troubles says a check takes.
            took = knowledge.cause(step.cause).minutes if isinstance(step, IncidentCheck) else 2
            moment += timedelta(minutes=took)
            workshop.note(machine, step, moment, max(moment, last_day))
