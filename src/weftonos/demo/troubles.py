"""The season's troubles: what went wrong on which quilt, what was looked at, and what it was; and the upkeep."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from weftonos.core.diagnosis import CheckAnswer
from weftonos.core.incident import Incident, IncidentAnswer, IncidentCheck, IncidentOutcome, Outcome
from weftonos.core.upkeep import Upkeep, UpkeepKind
from weftonos.knowledge import troubles
from weftonos.store.workshop import Workshop


@dataclass(frozen=True)
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
    "Spring Tide": _Trouble((_NEST,), _DISCS, ("re_threading",), asked=(("tie_on", True),)),
    "Wren in Gorse": _Trouble((_FRAYS,), _DULL, (), (_GUIDE,)),
    "Ringed Plover": _Trouble(
        ("skipped_stitches",), "needle_not_fully_up", ("needle",), ("needle_turned_or_backwards",)
    ),
    "Grey Heron": _Trouble((_SNAP,), "cone_or_spool_catches", ("new_cone",)),
    "Low Water": _Trouble((_SNAP,), "thread_aged_or_poor", (), ("cone_or_spool_catches", _DISCS, "top_too_tight")),
    "Turnstone": _Trouble((_FRAYS, "popping_or_thumping"), _DULL, (), ("groove_too_small_for_thread",)),
    "Ebb and Flow": _Trouble(("false_break_alarm",), _DISCS, ("re_threading",)),
    "Curlew Morning": _Trouble(("false_break_alarm",), "tie_off_with_needle_down", (), asked=(("tie_off", True),)),
    "Slack Water": _Trouble((_FRAYS,), "", ("top_thread",), (_GUIDE, _DULL), outcome=Outcome.LEFT),
    "Sanderling": _Trouble(("popping_or_thumping",), "hook_dry", (), (_DULL,)),
    "Neap Tide": _Trouble((_NEST, "uneven_tension"), _DISCS, ("re_threading",)),
    # Still open, so that the demo has something to mend.
    "Winter Roost": _Trouble(
        ("gauge_flutters", "uneven_tension"), "", ("bobbin",), ("bobbin_badly_wound",), outcome=None
    ),
}
UPKEEP: Mapping[str, tuple[UpkeepKind, ...]] = {
    "Wren in Gorse": (UpkeepKind.CLEANING, UpkeepKind.OILING),
    "Grey Heron": (UpkeepKind.CLEANING, UpkeepKind.OILING),
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
        incident = Incident(trouble.symptoms, trouble.changed, (), words)
        opened = workshop.note(machine, incident, begun, max(begun, last_day)).id
        steps: list[IncidentAnswer | IncidentCheck | IncidentOutcome] = [
            IncidentAnswer(opened, name, present, knowledge.findings[name].ask) for name, present in trouble.asked
        ]
        for cause in (*trouble.in_vain, *([trouble.found] if trouble.found else [])):
            answer = CheckAnswer.FOUND if cause == trouble.found else CheckAnswer.NOT_IT
            steps.append(IncidentCheck(opened, cause, answer, knowledge.cause(cause).name))
        if trouble.outcome:
            name = knowledge.cause(trouble.found).name if trouble.found else ""
            steps.append(IncidentOutcome(opened, trouble.outcome, trouble.found, name))
        moment = begun
        for step in steps:
            moment += timedelta(minutes=2)
            workshop.note(machine, step, moment, max(moment, last_day))
