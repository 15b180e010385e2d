"""Which part flutters: the same bobbin in another case, another bobbin in the same case (common practice)."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class FaultIn(StrEnum):
    """Where the fault lies."""

    CASE = "case"
    BOBBIN = "bobbin"
    BOTH = "both"
    NEITHER = "neither"
    OPEN = "open"


@dataclass(frozen=True)
class SwapAnswer:
    """What the two readings say, and what to read next while it is open."""

    fault: FaultIn
    text: str


def cross_swap(same_bobbin_other_case: bool | None, other_bobbin_same_case: bool | None) -> SwapAnswer:
    """Return which part is at fault from whether each swap still flutters; ``None`` is not read yet.

    The fault follows one of them: it stays with the bobbin in a sound case, or with the case under a sound bobbin.
    """
    if same_bobbin_other_case is None:
        return SwapAnswer(FaultIn.OPEN, "Put the same bobbin into another case and pull.")
    if other_bobbin_same_case is None:
        return SwapAnswer(FaultIn.OPEN, "Put another bobbin into the same case and pull.")
    if same_bobbin_other_case and not other_bobbin_same_case:
        return SwapAnswer(
            FaultIn.BOBBIN, "The flutter follows the bobbin: badly wound or out of round. It isn't worth saving."
        )
    if other_bobbin_same_case and not same_bobbin_other_case:
        return SwapAnswer(
            FaultIn.CASE,
            "The flutter stays with the case. Clean under the spring and check the backlash spring or washer. If it "
            "still flutters, the case is bent.",
        )
    if same_bobbin_other_case and other_bobbin_same_case:
        return SwapAnswer(
            FaultIn.BOTH, "Both flutter: look at what they share, the thread and how you pull, then try a third."
        )
    return SwapAnswer(
        FaultIn.NEITHER, "Neither flutters now. Load the first pair again, seat the thread, and pull again."
    )
