"""Whether a cure is tested on a scrap before one sews on: where a test line is expected to save more than it takes.

What a test saves is the chance that something is still wrong, times what has to be picked out where a look at the
first inches of the quilt finds it. It is still wrong where the cure didn't hold, by how often cures held here, or where
another cause is there as well: what is seen and isn't explained by the one that was found speaks for that. What isn't
tested is never called cured for sure: where it shows again soon, that cure counts as one that failed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from weftonos.core.kernel.care import PICKED_OUT_AT_ONCE, Care
from weftonos.core.kernel.counting import drawn_share
from weftonos.core.kernel.standing import estimate
from weftonos.core.mend.diagnosis import Observed
from weftonos.core.mend.incident import SEEN
from weftonos.core.mend.trouble import FindingKind, Knowledge

#: How often a cure leaves the trouble there, before a workshop's own say, and for how many cures that counts.
FAILS, FAILS_WEIGHS = estimate(0.05), estimate(20, "cures")
#: How often another cause is there as well.
ANOTHER = estimate(0.1)
#: From this chance on nobody sews on without a test, however long a line takes here.
TESTED_FROM = estimate(0.2)


@dataclass(frozen=True, kw_only=True)
class CuresTried:
    """How many cures held here, and how many left the trouble there."""

    held: int = 0
    failed: int = 0

    @property
    def fails(self) -> float:
        """How often a cure fails here."""
        return drawn_share(FAILS.value, FAILS_WEIGHS.value, self.failed, self.held + self.failed)


@dataclass(frozen=True, kw_only=True)
class Proof:
    """Whether a cure wants a test line before one sews on, by the chance that something is still wrong, and why."""

    still_wrong: float
    pays: bool
    says: str


def still_wrong(knowledge: Knowledge, evidence: Observed, found: str, tried: CuresTried) -> float:
    """Return the chance that something is still wrong once a cause was found and mended.

    Of two causes each brings about what it brings about alone (a noisy "or": Pearl 1988, chapter 4).
    """
    # All pictures of symptoms are looked at: one that wasn't picked wasn't there.
    unpicked = knowledge.of_kind(FindingKind.SYMPTOM).keys() - evidence.present
    seen = [(name, True) for name in evidence.present] + [(name, False) for name in evidence.absent | unpicked]
    odds = np.array([0.0 if c.id == found else c.weight for c in knowledge.causes])
    odds = ANOTHER.value / (1 - ANOTHER.value) * odds / odds.sum()
    for name, present in seen:
        finding = knowledge.findings.get(name)
        if finding is None or finding.kind not in SEEN:
            continue
        alone = knowledge.cause(found).chances.get(name, finding.usual)
        # What a cause doesn't speak of comes by itself, and not once more for it.
        more = np.array([c.chances.get(name, 0.0) for c in knowledge.causes])
        both = 1 - (1 - alone) * (1 - more)
        odds *= both / alone if present else (1 - both) / (1 - alone)
    return 1 - (1 - tried.fails) / (1 + float(odds.sum()))


def proof_of_a_cure(chance: float, care: Care, line_min: float) -> Proof:
    """Say whether a test line pays after a cure, at a chance that something is still wrong.

    ``line_min`` is what a test line takes here, in minutes.
    """
    pays = chance >= TESTED_FROM.value or chance * PICKED_OUT_AT_ONCE[care].value > line_min
    often = f"about one cure in {round(1 / chance)} leaves something wrong"
    if not pays:
        says = f"A test line would take longer than it should save: {often}."
    elif chance > 1 / 2:
        says = "Something else seems wrong as well, so test it before you sew on."
    elif care is Care.MATTERS:
        says = "This quilt matters, so test it before you sew on."
    else:
        says = f"{often[0].upper()}{often[1:]}, so test it before you sew on."
    return Proof(still_wrong=chance, pays=pays, says=says)
