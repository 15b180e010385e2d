"""Advice as data: reasons that name their rule, and cautions that defer to manual and technician."""

from __future__ import annotations

from dataclasses import dataclass

from weftonos.core.kernel.standing import Standing


@dataclass(frozen=True, kw_only=True)
class Reason:
    """One sentence of an explanation.

    ``rule`` is the stable name of the rule it came from, ``standing`` and ``source`` say how far to trust it.
    """

    text: str
    rule: str
    standing: Standing = Standing.COMMON_PRACTICE
    source: str = ""


@dataclass(frozen=True)
class Caution:
    """Something that can hurt a person or a machine, said where the hand goes near it."""

    text: str
    about: str


POWER_OFF = Caution(
    "Switch the machine off before your hands go near needle, hook or plate. Take your foot off the pedal.",
    "needle",
)
OLD_NEEDLES = Caution("Count the pieces of a broken needle. Old needles go into a closed sharps box.", "needle")
EYE_PROTECTION = Caution("A needle can shatter at speed, a large one above all: wear eye protection.", "needle")
MANUAL_FIRST = Caution(
    "The machine's manual decides which needle system fits. If it disagrees with this page, follow it.",
    "manual",
)
DO_NOT_FORCE = Caution("Don't force a screw. If it won't turn freely, leave it to a technician.", "screw")
LOW_IRON = Caution("Iron low: nylon thread melts under a hot iron.", "heat")
NEVER_MOUTH = Caution("Never wet wash-away thread with the mouth, and never use it in a seam that stays.", "wet")
EMERY_AND_OIL = Caution("Emery and oil only with the power off. Wipe every trace away before you sew.", "hook")
VENTILATE = Caution("Air the room when you spray adhesive.", "air")
TECHNICIAN = Caution(
    "Anything electrical, timing, and machines under warranty: see the manual and a technician. "
    "Local codes come first.",
    "technician",
)

#: The cautions by the names that the page of troubles uses.
CAUTIONS = {
    "power_off": POWER_OFF,
    "old_needles": OLD_NEEDLES,
    "eye_protection": EYE_PROTECTION,
    "manual_first": MANUAL_FIRST,
    "do_not_force": DO_NOT_FORCE,
    "low_iron": LOW_IRON,
    "emery_and_oil": EMERY_AND_OIL,
    "ventilate": VENTILATE,
    "technician": TECHNICIAN,
}
